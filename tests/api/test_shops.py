"""Shops that answer well, late, not at all and nonsense; their offers taken, lists brought home, cheaper ways gone."""

import csv
import io
import time

import pypdf
import pytest

from tests.api.conftest import steps_of
from tests.api.test_bench import through
from tests.api.test_foam import redesign
from tests.api.test_supplies import line, supplies
from vellumcut.service.shop import buying


class Someone:
    """A shop of another hand: it answers with whatever it was given."""

    def __init__(self, name, rows, wait=0.0):
        self.name, self.rows, self.wait = name, rows, wait

    def answer(self, wanted, seed):
        time.sleep(self.wait)
        if isinstance(self.rows, Exception):
            raise self.rows
        return self.rows


def cement(**change):
    return {"name": "contact cement", "unit": "ml", "pack": 100, "price": 3.0, "there": 9, "days": 2} | change


@pytest.fixture
def asked(client, build, monkeypatch):
    _, number, piece = build
    monkeypatch.setattr(buying, "WAITS", 0.8)

    def ask(*shops):
        monkeypatch.setattr(buying, "SHOPS", shops)
        answer = client.post(f"/api/builds/{number}/supplies/ask")
        assert answer.status_code == 200, answer.text
        return answer.json()

    return number, piece, ask


def test_a_shop_that_is_silent_or_talks_nonsense_stops_nobody(client, asked):
    number, _, ask = asked
    nonsense = [
        cement(pack=0), cement(price=-4), cement(price=1e9), cement(there=-1), cement(price=None), cement(pack="many"),
        cement(price=float("nan")), cement(days=1000), {"name": "contact cement"}, "rubbish", None, 7,
    ]  # fmt: skip
    begun = time.monotonic()
    told = ask(
        Someone("Good", [cement()]),
        Someone("Sleeper", [cement()], wait=30),
        Someone("Nobody", None),
        Someone("Broken", RuntimeError("line cut")),
        Someone("Nonsense", nonsense),
    )
    assert time.monotonic() - begun < 8
    assert sorted(told["silent"]) == ["Broken", "Nobody", "Sleeper"]
    assert len(told["odd"]) == len(nonsense)
    assert all(words.startswith("Nonsense: ") for words in told["odd"])
    assert "a pack of 0" in told["odd"][0]
    assert [a["shop"] for a in line(told, "contact cement")["answers"]] == ["Good"]
    assert [x["answers"] for x in told["lines"] if x["name"] != "contact cement"] == [[]] * (len(told["lines"]) - 1)
    for slip in (3000, 0.001, 0):
        shops = [Someone(f"Shop {k}", [cement(price=3 + k / 10)]) for k in range(3)]
        dear = ask(*shops, Someone("Slip", [cement(price=slip)]))
        assert [a["shop"] for a in line(dear, "contact cement")["answers"]] == ["Shop 0", "Shop 1", "Shop 2"]
        assert "far from what others ask" in dear["odd"][0]
    gone = client.post(
        f"/api/builds/{number}/supplies/take",
        json={"picks": [{"name": "contact cement", "unit": "ml", "shop": "Slip"}]},
    )
    assert gone.status_code == 422
    assert "ask the shops again" in gone.text
    assert line(supplies(client, number), "contact cement")["cost"] is None


def test_the_best_is_what_is_there_then_what_is_cheap_and_comes_home_in_one_change(client, asked):
    number, _, ask = asked
    need = line(supplies(client, number), "contact cement")
    some = max(1, -(-int(need["short"]) // 100))
    told = ask(
        Someone("Cheap, sold out", [cement(price=1, there=some - 1)]),
        Someone("Dear", [cement(price=9)]),
        Someone("Fair", [cement(price=4), {"name": "low-tack tape", "unit": "m", "pack": 50, "price": 2, "there": 3}]),
    )
    assert [a["shop"] for a in line(told, "contact cement")["answers"]] == ["Fair", "Dear", "Cheap, sold out"]
    path = f"/api/builds/{number}/supplies"
    told = client.post(f"{path}/take", json={"picks": None}).json()
    own = line(told, "contact cement")
    assert (own["shop"], own["pack"], own["price"]) == ("Fair", 100, 4)
    assert own["packs"] * 100 >= need["short"] > (own["packs"] - 1) * 100
    text = "\n".join(p.extract_text() for p in pypdf.PdfReader(io.BytesIO(client.get(f"{path}.pdf").content)).pages)
    assert "Fair, about" in text
    assert f"{own['packs']} x 100 ml contact cement" in text

    table = list(csv.DictReader(io.StringIO(client.get(f"{path}.csv").text)))
    for row in table:
        if row["thing"] == "contact cement":
            row |= {"bought": "x", "paid": "12,50"}
    out = io.StringIO()
    writer = csv.DictWriter(out, table[0].keys(), delimiter=";")
    writer.writeheader()
    writer.writerows([*table, {"thing": "a kite", "unit": "x", "packs": 1, "a pack holds": 1, "bought": "x"}])
    home = client.post(f"{path}/bought.csv", content=out.getvalue().encode()).json()
    assert "a kite is not on this list" in home["odd"]
    assert (line(home, "contact cement")["packs"], home["money"]["spent"]) == (0, 12.5)
    assert client.post("/api/undo").status_code == 200
    assert supplies(client, number)["money"]["spent"] == 0
    for data, words in (
        (b"a,b\n1,2\n", "no column"),
        (b"\xff\xfe\x00", "no table as text"),
        (out.getvalue().replace("12,50", "a lot").encode(), "a lot"),
        (out.getvalue().replace("12,50", "-3").encode(), "-3"),
        (out.getvalue().replace(";x;", ";;").encode(), "is ticked"),
    ):
        wrong = client.post(f"{path}/bought.csv", content=data)
        assert wrong.status_code == 422
        assert words in wrong.text
    rows = [{"name": "contact cement", "unit": "ml", "amount": 100}]
    paid = client.post(f"{path}/bought", json={"rows": rows}).json()
    assert paid["money"]["spent"] == 4
    assert client.post(f"{path}/bought", json={"rows": []}).status_code == 422


def test_a_cheaper_way_is_gone_and_left_and_a_shortage_says_at_which_step_it_begins(client, asked):
    number, piece, _ = asked
    path = f"/api/builds/{number}/supplies"
    assert redesign(client, piece, closure="buckles", layers=[{"thickness": 5}, {"thickness": 2}]).status_code == 200
    told = supplies(client, number)
    webbing = next(x for x in told["lines"] if x["cheaper"])
    way = {"build": number, "name": webbing["name"], "unit": webbing["unit"]}
    gone = client.put(path, json=told["book"] | {"ways": [way]}).json()
    own = line(gone, webbing["name"])
    assert (own["taken"], own["packs"], own["short"]) == (True, 0, 0)
    assert line(client.put(path, json=told["book"]).json(), webbing["name"])["packs"] == webbing["packs"] > 0

    assert client.get(f"/api/builds/{number}/missing").json() == []
    stuff = next(
        x for x in told["lines"] if len({u["step"] for u in x["uses"]}) == len(x["uses"]) > 1 and x["name"] != "marker"
    )
    uses = stuff["uses"]
    there = uses[0]["amount"] + uses[1]["amount"] / 2
    row = {"name": stuff["name"], "unit": stuff["unit"], "counted": there, "counted_at": 1}
    client.put(path, json=told["book"] | {"rows": [row]}).raise_for_status()
    missing = client.get(f"/api/builds/{number}/missing").json()
    assert [m["step"] for m in missing] == [u["step"] for u in uses[1:]]
    assert {(m["number"], *m["things"]) for m in missing} == {(piece, stuff["name"])}
    steps = steps_of(client, piece)
    assert all(steps[m["key"]]["title"] == m["step"] for m in missing)
    first = next(k for k, s in steps.items() if s["title"] == uses[0]["step"])
    through(client, piece, first)
    left = client.get(f"/api/builds/{number}/missing").json()
    assert [m["step"] for m in left] == [
        u["step"] for u in uses[1:] if steps_of(client, piece)[_key(steps, u)]["state"] != "done"
    ]


def _key(steps, use):
    return next(k for k, s in steps.items() if s["title"] == use["step"])
