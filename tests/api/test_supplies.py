"""Supplies over HTTP: sums of the steps, ticked and bought, for two builds from one shelf."""

import csv
import io
import json
import math
import re

import pytest
from typer.testing import CliRunner

from tests.api.conftest import READINGS, mark, post, steps_of
from tests.api.test_bench import through
from tests.api.test_nest import lay
from vellumcut.cli import app as commands


def supplies(client, number):
    return client.get(f"/api/builds/{number}/supplies").json()


def line(told, name):
    return next(x for x in told["lines"] if x["name"] == name)


def test_the_list_sums_the_steps_and_a_done_step_takes_from_the_shelf(client, build):
    _, number, bracer = build
    told = supplies(client, number)
    cement = line(told, "contact cement")
    wanted = [w for s in steps_of(client, bracer).values() for w in s["materials"] if w.endswith("contact cement")]
    assert sum(float(w.split()[0]) for w in wanted) == pytest.approx(cement["need"], abs=1.0)
    assert told["unlaid"] == ["6 mm armour foam"]
    book = told["book"] | {
        "rows": [{"name": "contact cement", "unit": "ml", "counted": 500, "counted_at": 1, "price": 9}]
    }
    after = client.put(f"/api/builds/{number}/supplies", json=book).json()
    assert (line(after, "contact cement")["packs"], line(after, "contact cement")["have"]) == (0, 500)
    most = max(cement["uses"], key=lambda u: u["amount"])
    key = next(k for k, s in steps_of(client, bracer).items() if s["title"] == most["step"])
    through(client, bracer, key)
    done = {s["title"] for s in steps_of(client, bracer).values() if s["state"] == "done"}
    went = sum(u["amount"] for u in cement["uses"] if u["step"] in done)
    assert went >= most["amount"]
    now = line(supplies(client, number), "contact cement")
    assert now["have"] == pytest.approx(500 - went)
    assert now["need"] == pytest.approx(cement["need"] - went)
    other = post(client, "/api/builds", {"name": "Second", "wearer_id": client.get("/api/wearers").json()[0]["id"]})
    post(client, f"/api/builds/{other['id']}/pieces", {"design": {"template": "bracer"}})
    assert line(supplies(client, other["id"]), "contact cement")["have"] == pytest.approx(500 - went)
    assert mark(client, bracer, key, done=False).status_code == 200
    assert line(supplies(client, number), "contact cement")["have"] == pytest.approx(500 - went + most["amount"])


def test_the_command_writes_the_list(tmp_path):
    build = {
        "format": "vellumcut-build", "version": 1, "name": "One", "pieces": [{"template": "bracer", "side": "both"}],
        "wearer": {"name": "Perrin Vale", "measurements": READINGS},
    }  # fmt: skip
    (tmp_path / "build.json").write_text(json.dumps(build))
    done = CliRunner().invoke(commands, ["supplies", str(tmp_path / "build.json"), "--out", str(tmp_path / "out")])
    assert done.exit_code == 0, done.output
    told = json.loads((tmp_path / "out" / "supplies.json").read_text())["lines"]
    foam = next(x for x in told if x["unit"] == "sheets")
    assert (foam["need"], foam["packs"]) == (1, 1)
    (cement,) = [x for x in told if x["name"] == "contact cement"]
    assert cement["need"] == pytest.approx(sum(u["amount"] for u in cement["uses"]))
    table = list(csv.DictReader((tmp_path / "out" / "supplies.csv").open()))
    assert {r["thing"] for r in table} == {x["name"] for x in told if x["packs"]}


def test_what_is_bought_is_there_and_paid_and_absurd_figures_are_refused_in_words(client, build):
    _, number, _ = build
    path = f"/api/builds/{number}/supplies"
    one = {"name": "low-tack tape", "unit": "m", "amount": 25, "paid": 4.5, "build": number, "at": 100}
    told = client.put(path, json={"bought": [one], "budgets": {str(number): 3}}).json()
    assert line(told, "low-tack tape")["packs"] == 0
    assert told["money"]["spent"] == 4.5
    assert told["money"]["forecast"] > told["money"]["budget"] == 3
    for change in ({"price": -1}, {"price": 1e12}, {"pack": 0}, {"counted": float(10**12)}, {"name": ""}):
        row = {"name": "eyelets", "unit": "x", **change}
        assert client.put(path, json={"rows": [row]}).status_code == 422, change
    assert client.put(path, json={"rows": [{"name": "a", "unit": "x"}] * 2}).status_code == 422
    assert supplies(client, number)["money"]["spent"] == 4.5
    assert client.post("/api/undo").status_code == 200
    assert supplies(client, number)["money"]["spent"] == 0
    table = list(csv.DictReader(io.StringIO(client.get(f"{path}.csv").text)))
    short = [x for x in supplies(client, number)["lines"] if x["packs"]]
    assert {r["thing"] for r in table} == {x["name"] for x in short}
    assert [int(r["packs"]) for r in table] == [
        next(x["packs"] for x in short if x["name"] == r["thing"]) for r in table
    ]


STUFF = ("webbing", "elastic", "lace", "acrylic", "metallic colour", "dry brush")
COSTUMES = (
    [("bracer", {"closure": "lacing", "side": "both"}), ("gorget", {})],
    [("ridged greave", {"side": "both"}), ("greave", {"closure": "buckles", "layers": [{"thickness": 5}] * 2})],
    [("tasset", {"side": "both"}), ("bracer", {"closure": "hook-and-loop", "layers": [{"thickness": 10}]})],
)


@pytest.mark.parametrize("pieces", COSTUMES)
@pytest.mark.usefixtures("build")
def test_every_amount_of_a_costume_is_the_sum_of_its_steps_and_sheets(client, pieces):
    """By another hand: words on the steps' own cards, added up by name; a tenth for what is lost; packs."""
    wearer = client.get("/api/wearers").json()[0]["id"]
    number = post(client, "/api/builds", {"name": "Sums", "wearer_id": wearer})["id"]
    for template, design in pieces:
        post(client, f"/api/builds/{number}/pieces", {"design": {"template": template, **design}})
    made = lay(client, number)
    sums: dict[str, float] = {}
    cards = client.get(f"/api/builds/{number}/bench").json()
    steps = [
        s for p in client.get(f"/api/builds/{number}").json()["pieces"] for s in steps_of(client, p["id"]).values()
    ]
    for words in (w for s in [*steps, *cards["own"]] for w in s.get("materials", [])):
        amount, unit, name = re.fullmatch(r"([0-9.]+) (\S+) (.+)", words).groups()
        if unit == "m2":
            continue
        name = next(
            (f"{k}{name[name.index(' “') :] if '“' in name else ''}" for k in STUFF if name.startswith(k)), name
        )
        sums[name] = max(sums.get(name, 0), 1) if name == "marker" else sums.get(name, 0) + float(amount)
    told = {x["name"]: x for x in supplies(client, number)["lines"]}
    sheets = {n: x for n, x in told.items() if x["unit"] == "sheets"}
    assert sum(x["packs"] for x in sheets.values()) == sum(m["to_buy"] for m in made["materials"]) > 0
    assert set(sums) == set(told) - set(sheets)
    for name, amount in sums.items():
        line_ = told[name]
        # Cards round: to a whole one from ten on, to a tenth below, step by step.
        assert line_["need"] == pytest.approx(amount, rel=0.02, abs=0.06 * len(line_["uses"]) + 0.5 * (amount > 10))
        whole = line_["need"] + line_["spare"]
        assert line_["packs"] * line_["pack"] >= whole - 1e-6 > (line_["packs"] - 1) * line_["pack"]
        assert line_["rest"] == pytest.approx(line_["packs"] * line_["pack"] - line_["need"])
        lost = {"x": math.ceil(line_["need"] / 10 - 1e-9)}.get(line_["unit"], line_["need"] / 10)
        assert line_["spare"] == pytest.approx(0 if name in ("marker", "fresh blade edges") else lost)
