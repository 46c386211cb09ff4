"""Foam, shelf, gun and heat runs over HTTP: behaviour, and what is refused in words."""

import time

import pytest

from tests.api.conftest import post, steps_of
from vellumcut.core.caution.cautions import CAUTIONS
from vellumcut.service.making import heating


def foam(client, piece):
    answer = client.get(f"/api/pieces/{piece}/foam")
    assert answer.status_code == 200, answer.text
    return answer.json()


def redesign(client, piece, **changes):
    now = client.get("/api/builds").json()[0]["pieces"]
    design = next(p["design"] for p in now if p["id"] == piece)
    return client.patch(f"/api/pieces/{piece}", json={"design": design | changes})


def test_layers_change_the_pattern_its_weight_and_the_bench(client, build):
    _, number, piece = build
    before = foam(client, piece)
    assert redesign(client, piece, layers=[{"thickness": "3 mm"}, {"thickness": 3, "kind": "soft"}]).status_code == 200
    after = foam(client, piece)
    assert [(s["thickness"], s["kind"]) for s in after["sheets"]] == [(3.0, "soft"), (3.0, "armour")]
    assert after["grams"] < before["grams"]
    pattern = client.get(f"/api/pieces/{piece}/pattern").json()
    assert [p["label"]["code"] for p in pattern["panels"]] == ["BC 1a L", "BC 1b L"]
    steps = steps_of(client, piece)
    assert "laminate" in steps
    costume = client.get(f"/api/builds/{number}/weights").json()
    assert costume["grams"] == pytest.approx(after["grams"])
    assert costume["pieces"][0]["trouble"] == ""
    client.post("/api/undo")
    assert foam(client, piece)["grams"] == pytest.approx(before["grams"])


def test_the_costumes_folds_are_told_without_laying_anything_flat(client, build, monkeypatch):
    _, number, _ = build
    ridge = {"template": "breastplate", "choices": {"front": "centre ridge"}}
    plate = post(client, f"/api/builds/{number}/pieces", {"design": ridge})["id"]
    monkeypatch.setattr("vellumcut.core.pattern.pattern.flatten_piece", None)
    rows = {r["piece"]: r for r in client.get(f"/api/builds/{number}/folds").json()}
    assert [j["name"] for j in rows[plate]["joints"]] == ["centre ridge"]
    table = client.get(f"/api/builds/{number}/folds.csv").text.splitlines()
    assert len(table) == 2
    cells = table[1].split(",")
    told = rows[plate]["joints"][0]
    assert float(cells[5]) == pytest.approx(told["fold"], abs=0.1)
    assert cells[7] == "inner"


def test_a_hard_panel_is_there_at_once_and_settles_to_what_is_cut(client, build):
    _, number, bracer = build
    plate = post(client, f"/api/builds/{number}/pieces", {"design": {"template": "breastplate"}})["id"]

    def read(piece, quick):
        made = client.get(f"/api/pieces/{piece}/pattern", params={"quick": quick}).json()
        return made["settled"], made["panels"][0]["p95"], made["panels"][0]["edges"]

    early, whole = read(plate, True), read(plate, False)
    assert (early[0], whole[0]) == (False, True)
    assert early[1] < whole[1] < early[1] + 1.0
    assert read(plate, True) == whole
    easy = read(bracer, True)
    assert easy[0]
    assert read(bracer, False) == easy


def test_an_outline_does_not_wait_for_what_is_laid_on_it(client, build, monkeypatch):
    _, _, bracer = build
    shape = {"form": "row", "lines": ["lower edge"], "inset": 10, "pitch": 20}
    row = {"key": "studs", "name": "studs", "kind": "rivets", "size": 7, "shape": shape}
    redesign(client, bracer, making={"details": [row]})

    def read(quick):
        made = client.get(f"/api/pieces/{bracer}/pattern", params={"quick": quick}).json()
        (panel,) = made["panels"]
        return made["settled"], sum(x["name"].startswith("studs") for x in panel["lines"]), panel["edges"]

    with monkeypatch.context() as patch:
        patch.setattr("vellumcut.core.parts.laid.lay_part", None)
        early = read(True)
    whole = read(False)
    assert (early[0], early[1], whole[0]) == (False, 0, True)
    assert whole[1] > 4
    assert early[2] == whole[2]
    assert read(True) == whole


def test_foam_that_cannot_be_is_refused_with_its_field(client, build):
    _, _, piece = build
    for change, words in (
        ({"layers": [{"thickness": 20}, {"thickness": 20}]}, "at most 25 mm"),
        ({"layers": [{"thickness": 0.1}]}, "must be at least 0.5"),
        ({"foam_work": {"seams": [{"name": "a", "fold": 200}]}}, "must be at most 150"),
        ({"foam_work": {"folds": [{"key": "k", "way": "saw"}]}}, "groove"),
        ({"foam_work": {"panels": [{"panel": 1}, {"panel": 1}]}}, "worked twice"),
    ):
        answer = redesign(client, piece, **change)
        assert answer.status_code == 422, change
        assert words in answer.text, answer.text
    twice = {"rows": [{"kind": "soft", "thickness": 2}, {"kind": "soft", "thickness": 2}]}
    assert client.put("/api/foam-shelf", json=twice).status_code == 422


def test_the_shelf_prices_and_weighs(client, build):
    _, _, piece = build
    row = {
        "kind": "armour",
        "thickness": 6,
        "density": 120,
        "price": 40,
        "size": [1000, 1000],
        "sheets": 1,
        "offcuts": [[500, "30 cm"]],
    }
    assert client.put("/api/foam-shelf", json={"rows": [row]}).status_code == 200
    (sheet,) = foam(client, piece)["sheets"]
    assert sheet["grams"] == pytest.approx(sheet["area"] * 6 / 1000 * 120 * 1000)
    assert sheet["money"] == pytest.approx(sheet["area"] * 40)
    assert sheet["in_hand"] == pytest.approx(1.15)


def test_scrap_tests_change_the_minutes_and_nonsense_is_refused(client, build):
    _, _, piece = build
    heat = client.get(f"/api/pieces/{piece}/heat").json()
    gun = client.get("/api/heat-gun").json()
    tests = [{"thickness": t, "seconds": s} for t, s in ((4, 26), (6, 27))]
    assert client.put("/api/heat-gun", json=gun | {"tests": tests}).status_code == 200
    learned = client.get(f"/api/pieces/{piece}/heat").json()
    assert learned["factor"] < 1 == heat["factor"]
    assert learned["sheets"][0]["seconds"] > heat["sheets"][0]["seconds"]
    form = steps_of(client, piece)["form:1"]
    assert learned["sheets"][0]["words"] in form["how"]
    absurd = [{"thickness": 3, "seconds": s} for s in (5, 90)]
    refused = client.put("/api/heat-gun", json=gun | {"tests": absurd})
    assert refused.status_code == 422
    assert "fit no heat gun" in refused.text
    assert client.get("/api/heat-gun").json()["tests"] == learned_tests(client)
    cold = client.put("/api/heat-gun", json=gun | {"setting": "low", "distance": 400}).json()
    assert cold["distance"] == 400
    assert "hotter setting" in client.get(f"/api/pieces/{piece}/heat").json()["sheets"][0]["trouble"]


def learned_tests(client):
    return client.get("/api/heat-gun").json()["tests"]


def test_denser_foam_and_layers_curved_together_take_longer(client, build):
    """Twice the density, twice the heat to bring in; two sheets glued flat are one thick sheet under the gun."""
    _, _, piece = build

    def sheets():
        return client.get(f"/api/pieces/{piece}/heat").json()["sheets"]

    (usual,) = sheets()
    heavy = {"rows": [{"kind": "armour", "thickness": 6, "density": 220}]}
    assert client.put("/api/foam-shelf", json=heavy).status_code == 200
    (dense,) = sheets()
    assert dense["seconds"] == pytest.approx(2 * usual["seconds"], rel=0.05)
    assert dense["plan"]["slab"]["density"] == 220
    redesign(client, piece, layers=[{"thickness": 4}, {"thickness": 4}], layered="bent")
    assert [s["thickness"] for s in sheets()] == [4.0]
    redesign(client, piece, layered="alike")
    assert [s["thickness"] for s in sheets()] == [8.0]
    keys = list(steps_of(client, piece))
    assert keys.index("stack") < keys.index("bevel") < keys.index("form:1")


def test_a_run_with_the_makers_own_probe(client, build, monkeypatch):
    """Readings rise to the face's limit: turn; the other face is cold: heat on; then it can be shaped and held till
    cold."""
    now = [1000.0]
    monkeypatch.setattr(heating.clock, "now", lambda: now[0])
    run = post(client, "/api/heat-runs", {"thickness": 4, "probe": "own"})
    assert (run["act"], run["side"], run["ended"]) == ("heat", "outer", False)

    def read(degrees, seconds=1.0):
        now[0] += seconds
        return post(client, f"/api/heat-runs/{run['id']}/readings", {"degrees": degrees}, 200)

    for k in range(30):
        state = read(min(20 + 5 * k, 140))
    assert state["act"] == "turn"
    early = client.post(f"/api/heat-runs/{run['id']}/shaped")
    assert early.status_code == 422
    assert "not the moment" in early.text
    turned = post(client, f"/api/heat-runs/{run['id']}/turned", status=200)
    assert (turned["act"], turned["side"]) == ("heat", "inner")
    for k in range(80):
        state = read(min(60 + 3 * k, 130))
        if state["act"] == "shape":
            break
    assert state["act"] == "shape"
    assert 0 < state["number"] < 120
    post(client, f"/api/heat-runs/{run['id']}/shaped", status=200)
    for _ in range(40):
        state = read(30, 5.0)
    assert (state["act"], state["ended"]) == ("done", True)
    assert client.post(f"/api/heat-runs/{run['id']}/readings", json={"degrees": 5000}).status_code == 422
    assert client.get("/api/heat-runs/999999").status_code == 404


def test_a_run_with_the_simulated_probe_goes_on_by_itself_and_stops(client, build):
    run = post(client, "/api/heat-runs", {"thickness": 6, "pace": 30})
    for _ in range(60):
        time.sleep(0.25)
        state = client.get(f"/api/heat-runs/{run['id']}").json()
        if state["act"] != "heat":
            break
    assert state["act"] == "turn"
    assert 120 < state["hottest"] < 150
    refused = client.post(f"/api/heat-runs/{run['id']}/readings", json={"degrees": 50})
    assert refused.status_code == 422
    assert "simulated probe" in refused.text
    assert post(client, f"/api/heat-runs/{run['id']}/stop", status=200)["ended"]
    assert client.post(f"/api/heat-runs/{run['id']}/turned").status_code == 422


def test_cautions_on_cutting_heat_and_glue_stand_at_their_steps(client, build):
    """Blades, guns, burnt foam, cement, dust, hot glue: each at every step it bears on, and all can be read again."""
    _, number, piece = build
    work = {"folds": [{"key": "f", "way": "groove", "angle": 40}]}
    ink = {"strokes": [*outline(client, piece), fold_line()]}
    assert redesign(client, piece, ink=ink, foam_work=work).status_code == 200, "the ink is laid"
    at = {k: set(s["cautions"]) for k, s in steps_of(client, piece).items()}
    assert {"blades"} <= at["cut"] & at["groove"]
    assert {"blades", "dust"} <= at["bevel"]
    assert "heat" in at["heat-seal"]
    assert {"heat", "burning"} <= at["form:1"]
    assert {"solvents"} <= at["shut"]
    assert "dust" in at["smooth"]
    assert "heat" in at["reseal"]
    assert "wearing" in at["test-fit"]
    client.put("/api/owned", json={"protection": ["gloves"]})
    assert {"hot glue"} <= set(steps_of(client, piece)["shut"]["cautions"]), "without a mask it is hot glue"
    client.put("/api/owned", json={})
    sprayed = {"stack": {"name": "chrome", "layers": [{"kind": "rubbery primer"}, {"kind": "enamel"}]}}
    assert redesign(client, piece, making={"finishes": [sprayed]}).status_code == 200
    coats = {k: set(s["cautions"]) for k, s in steps_of(client, piece).items() if k.startswith("coat")}
    assert len(coats) == 2
    assert all("solvents" in c for c in coats.values())
    told = client.get(f"/api/builds/{number}/cautions").json()["cautions"]
    assert {c["key"] for c in told} == set(CAUTIONS)
    client.put(f"/api/builds/{number}/cautions/burning")
    again = next(c for c in client.get(f"/api/builds/{number}/cautions").json()["cautions"] if c["key"] == "burning")
    assert again["seen"]
    assert any("toxic" in rule for rule in again["rules"])


def test_a_groove_that_goes_through_leaves_in_no_format(client, build):
    _, _, piece = build
    deep = {"folds": [{"key": "f", "depth": 7, "angle": 30}]}
    assert (
        redesign(client, piece, ink={"strokes": [*outline(client, piece), fold_line()]}, foam_work=deep).status_code
        == 200
    )
    for ending in ("pdf", "svg", "dxf", "json"):
        refused = client.get(f"/api/pieces/{piece}/pattern.{ending}")
        assert refused.status_code == 422
        assert "would be cut through" in refused.json()["detail"]
    redesign(client, piece, foam_work={"folds": [{"key": "f", "depth": 4, "angle": 30}]})
    assert client.get(f"/api/pieces/{piece}/pattern.dxf").status_code == 200


def outline(client, piece):
    return client.get(f"/api/pieces/{piece}/ink").json()["sheet"]["strokes"]


def fold_line():
    return {"key": "f", "kind": "fold", "points": [[0.05, 0.6], [0.05, 1.4]]}
