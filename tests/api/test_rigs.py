"""Rigs over HTTP: anchors that stay where they were put, marks that leave with the pattern, cuts that movement asks
for."""

import io
import json

import ezdxf
import numpy as np
import pypdf
import pytest
from fastapi.testclient import TestClient

from tests.api.conftest import ended, post, steps_of
from tests.api.test_bench import redesign
from tests.depth import long
from vellumcut.api.app import create_app
from vellumcut.store.database import Store

ALL = (
    "breastplate",
    "backplate",
    "gorget",
    "pauldron",
    "shoulder extension",
    "segmented rerebrace",
    "segmented bracer",
    "faulds",
    "belt",
    "bandolier",
    "tasset",
    "cuisse",
    "poleyn",
    "ridged greave",
    "sabaton cap",
)


@pytest.fixture
def costume(client, build):
    """A breastplate with a backplate, beside the bracers; gives (build id, piece ids)."""
    _, made, bracer = build
    pieces = {
        t: post(client, f"/api/builds/{made}/pieces", {"design": {"template": t, "back": "closed"}})["id"]
        for t in ("breastplate", "backplate")
    }
    return made, pieces | {"bracer": bracer}


def rig(client, piece: int) -> dict:
    answer = client.get(f"/api/pieces/{piece}/rig")
    assert answer.status_code == 200, answer.text
    return answer.json()


def anchor(client, piece: int, name: str) -> dict:
    return next(a for a in rig(client, piece)["anchors"] if a["name"] == name)


def marked(client, piece: int, name: str, side: str = "left") -> np.ndarray:
    """Middles of an anchor's crosses on the flat pattern, mm."""
    made = client.get(f"/api/pieces/{piece}/pattern").json()
    lines = [x["points"] for p in made["panels"] for x in p["lines"] if x["name"] == f"anchor {name}"]
    assert lines, name
    return np.array([np.mean(x, axis=0) for x in lines]).mean(axis=0)


def drop(client, piece: int, name: str, by, side: str = "left"):
    at = np.array(anchor(client, piece, name)["at"]) + by
    return client.put(f"/api/pieces/{piece}/anchors", json={"name": name, "side": side, "at": at.tolist()})


@long
def test_an_anchor_that_was_dragged_stays_through_everything(client, costume, tmp_path):
    made, pieces = costume
    chest = pieces["breastplate"]
    before, mark_before = anchor(client, chest, "side, lower"), marked(client, chest, "side, lower")
    strap = next(s for s in rig(client, chest)["straps"] if s["key"].startswith("side, lower|side, lower"))
    assert drop(client, chest, "side, lower", [0, 0, 40]).status_code == 200
    moved, mark_after = anchor(client, chest, "side, lower"), marked(client, chest, "side, lower")
    assert moved["moved"]
    assert moved["at"][2] - before["at"][2] == pytest.approx(40, abs=4)
    assert mark_after[1] - mark_before[1] == pytest.approx(40, abs=4)
    right = anchor(client, chest, "side, lower (right)")
    assert np.array(right["at"]) * [-1, 1, 1] == pytest.approx(moved["at"], abs=0.1)
    longer = next(s for s in rig(client, chest)["straps"] if s["key"] == strap["key"])
    assert longer["cut"] != pytest.approx(strap["cut"], abs=1)

    client.post("/api/undo")
    assert anchor(client, chest, "side, lower")["at"] == pytest.approx(before["at"], abs=0.01)
    client.post("/api/redo")
    assert anchor(client, chest, "side, lower")["at"] == pytest.approx(moved["at"], abs=0.01)

    version = post(client, f"/api/pieces/{chest}/versions", {"name": "anchored"})[-1]
    client.put(f"/api/pieces/{chest}/anchors", json={"name": "side, lower", "at": None})
    assert not anchor(client, chest, "side, lower")["moved"]
    kept = client.get(f"/api/pieces/{chest}/pattern.json", params={"version": version["number"]}).json()
    assert any("anchor side, lower" in json.dumps(p) for p in kept["panels"])
    client.post(f"/api/pieces/{chest}/versions/{version['number']}/put-back")
    assert anchor(client, chest, "side, lower")["at"] == pytest.approx(moved["at"], abs=0.01)

    file = client.get(f"/api/builds/{made}/build.json").content
    with TestClient(create_app(Store(tmp_path / "friend")), base_url="http://127.0.0.1:8765") as friend:
        brought = friend.post(
            "/api/builds/from-file", content=file, headers={"content-type": "application/json"}
        ).json()
        there = next(p["id"] for p in brought["pieces"] if p["design"]["template"] == "breastplate")
        assert anchor(friend, there, "side, lower")["at"] == pytest.approx(moved["at"], abs=0.05)


@long
def test_marks_grow_with_the_wearer(client, build, costume):
    wearer, _, _ = build
    _, pieces = costume
    chest = pieces["breastplate"]
    drop(client, chest, "shoulder", [0, 0, -30])
    before = anchor(client, chest, "shoulder")
    sets = client.get(f"/api/wearers/{wearer}/measurement-sets").json()
    readings = sets[-1]["readings"]
    for girth in readings["torso"]["girths"].values():
        girth["girth"] *= 1.06
    post(client, f"/api/wearers/{wearer}/measurement-sets", {**readings, "taken_on": "2026-11-20"})
    after = anchor(client, chest, "shoulder")
    assert after["uv"] == pytest.approx(before["uv"], abs=1e-4)
    assert after["at"] != pytest.approx(before["at"], abs=0.5)
    assert marked(client, chest, "shoulder") is not None


def test_marks_are_found_in_every_format_where_the_screen_has_them(client, costume):
    _, pieces = costume
    chest = pieces["breastplate"]
    made = client.get(f"/api/pieces/{chest}/pattern.json").json()
    names = json.dumps(made)
    for words in ("anchor shoulder", "anchor side, upper", "anchor side, lower"):
        assert words in names
    drawing = ezdxf.read(io.StringIO(client.get(f"/api/pieces/{chest}/pattern.dxf").text)).modelspace()
    marks = [np.array(list(x.vertices()))[:, :2] for x in drawing.query('LWPOLYLINE[layer=="mark"]')]
    told = [np.array(x["points"]) for p in made["panels"] for x in p["lines"] if x["name"].startswith("anchor")]
    assert len(marks) >= len(told) > 5
    for line in told:
        length = np.linalg.norm(np.diff(line, axis=0), axis=1).sum()
        drawn = [np.linalg.norm(np.diff(m, axis=0), axis=1).sum() for m in marks]
        assert min(abs(d - length) for d in drawn) < 0.1
    assert (
        client.get(f"/api/pieces/{chest}/pattern.svg").text.count("anchor") > 0
        or "mark" in client.get(f"/api/pieces/{chest}/pattern.svg").text
    )
    eyelets = client.get(f"/api/pieces/{pieces['bracer']}/pattern.json").json()
    rings = [np.array(x["points"]) for p in eyelets["panels"] for x in p["lines"] if x["name"].startswith("eyelet")]
    parts = {p["name"]: p["count"] for p in rig(client, pieces["bracer"])["plans"][0]["parts"]}
    assert len(rings) == parts["eyelets"]
    assert all(np.ptp(r, axis=0) == pytest.approx([5, 5], abs=0.6) for r in rings)


@long
def test_magnets_are_planned_marked_and_refused_in_words(client, costume):
    _, pieces = costume
    chest = pieces["breastplate"]
    design = client.get("/api/builds").json()[0]["pieces"][1]["design"]
    design["rig"]["magnets"] = [{"edge": "hem", "size": "12 mm", "load": 900}]
    assert client.patch(f"/api/pieces/{chest}", json={"design": design}).status_code == 200
    (plan,) = rig(client, chest)["magnets"]
    made = client.get(f"/api/pieces/{chest}/pattern.json").json()
    rings = [x["name"] for p in made["panels"] for x in p["lines"] if x["name"].startswith("magnet")]
    assert len(rings) == plan["couples"]
    assert rings[0].endswith("N outward")
    assert rings[1].endswith("S outward")
    for row, words in (
        ({"edge": "rim of the moon"}, 'no line "rim of the moon"'),
        ({"edge": "hem", "thick": 9, "seat": "slot"}, "does not go into the edge"),
    ):
        design["rig"]["magnets"] = [row, {"edge": "hem", "size": "12 mm", "load": 900}]
        assert client.patch(f"/api/pieces/{chest}", json={"design": design}).status_code == 200
        refused, good = rig(client, chest)["magnets"]
        assert words in refused["problem"]
        assert (refused["magnets"], good["problem"], good["couples"]) == (0, "", plan["couples"])
        made = client.get(f"/api/pieces/{chest}/pattern.json")
        assert made.status_code == 200, "a row that cannot be made leaves the pattern standing"


def test_edges_of_two_pieces_close_and_go_on_closing_under_a_new_name(client, build):
    _, made, _ = build
    front, back = (post(client, f"/api/builds/{made}/pieces", {"design": {"template": t}})["id"]
        for t in ("breastplate", "backplate"))  # fmt: skip
    row = {"edge": "side edge", "other": "side edge", "piece": "backplate", "kind": "zip", "high": "150 mm"}
    name = next(p["name"] for p in client.get("/api/builds").json()[0]["pieces"] if p["id"] == back)
    design = {"template": "breastplate", "rig": {"closings": [{**row, "piece": name}]}}
    assert client.patch(f"/api/pieces/{front}", json={"design": design}).status_code == 200
    told = rig(client, front)
    (plan,) = told["facings"]
    assert (plan["problem"], plan["low"], plan["high"], plan["alike"]) == ("", 0, 150, 2)
    assert [p["count"] for p in told["plans"][0]["parts"] if "zip" in p["name"]] == [2]
    assert {"piece": name, "edges": plan_edges(told, name)} in told["edges"]
    step = client.get(f"/api/pieces/{front}/steps").json()
    close = next(s for s in step["steps"] if s["key"] == "close")
    assert "zip" in json.dumps(close)
    assert client.patch(f"/api/pieces/{back}", json={"name": "Tortoise"}).status_code == 200
    (plan,) = rig(client, front)["facings"]
    assert (plan["problem"], "Tortoise" in plan["words"]) == ("", True)
    client.post("/api/undo")
    (plan,) = rig(client, front)["facings"]
    assert (plan["problem"], "Tortoise" in plan["words"]) == ("", False)


def plan_edges(told: dict, name: str) -> list[str]:
    return next(e["edges"] for e in told["edges"] if e["piece"] == name)


def test_a_costume_that_cannot_sit_is_mended_by_one_cut_and_undone(client, build):
    _, made, _ = build
    pieces = {
        t: post(client, f"/api/builds/{made}/pieces", {"design": {"template": t, **more}})["id"]
        for t, more in (("faulds", {"back": "closed", "foam": 10}), ("cuisse", {"foam": 8, "gap": 150}))
    }
    answer = client.get(f"/api/builds/{made}/movements/left hip").json()
    bind = next(b for b in answer["binds"] if b["kind"] == "binds")
    assert (bind["moving"], bind["fixed"], bind["posture"]) == (pieces["cuisse"], pieces["faulds"], "sit")
    (trim,) = bind["trims"]
    was = client.get("/api/builds").json()[0]["pieces"]
    post(client, f"/api/pieces/{trim['piece']}/trims", {"edge": trim["edge"], "mm": trim["mm"]}, 200)
    after = client.get(f"/api/builds/{made}/movements/left hip").json()
    assert not [b for b in after["binds"] if b["kind"] == "binds"]
    client.post("/api/undo")
    assert [p["design"] for p in client.get("/api/builds").json()[0]["pieces"]] == [p["design"] for p in was]
    wrong = client.get(f"/api/builds/{made}/movements/left wing").json()
    assert 'no joint "left wing"' in wrong["detail"]


def test_sheets_and_cards_say_what_the_screen_says(client, costume):
    made, pieces = costume
    text = "".join(
        p.extract_text()
        for p in pypdf.PdfReader(io.BytesIO(client.get(f"/api/pieces/{pieces['breastplate']}/rig.pdf").content)).pages
    )
    shown = rig(client, pieces["breastplate"])
    for part in shown["plans"][0]["parts"]:
        assert f"{part['count']} x" in text
        if part["length"]:
            assert f"{part['length']:.0f} mm" in text
    card = pypdf.PdfReader(io.BytesIO(client.get(f"/api/builds/{made}/dressing.pdf").content))
    words = "".join(p.extract_text() for p in card.pages)
    steps = client.get(f"/api/builds/{made}/figure").json()["dressing"]
    assert [s["name"] for s in steps] == sorted((s["name"] for s in steps), key=words.index)
    assert (
        client.get(f"/api/pieces/{pieces['breastplate']}/rig.csv").text.count("\n")
        == len(shown["plans"][0]["parts"]) + 1
    )
    assert (
        client.put(f"/api/pieces/{pieces['bracer']}/anchors", json={"name": "nose"})
        .json()["detail"]
        .startswith("Bracer has no anchor")
    )


def test_a_belt_over_the_faulds_is_longer_and_moves_with_them(client, build):
    _, made, _ = build
    faulds, belt = (
        post(client, f"/api/builds/{made}/pieces", {"design": {"template": t, "back": "closed"}})["id"]
        for t in ("faulds", "belt")
    )
    low = {"template": "belt", "back": "closed", "sizes": {"width": 160}}

    def outline(**more) -> float:
        answer = client.patch(f"/api/pieces/{belt}", json={"design": {**low, **more}})
        assert answer.status_code == 200, answer.text
        made = client.get(f"/api/pieces/{belt}/pattern").json()
        return sum(p["outline_length"] for p in made["panels"])

    alone, over = outline(), outline(over=["Faulds shelf"])
    assert over > alone + 20
    client.patch(f"/api/pieces/{faulds}", json={"design": {"template": "faulds", "back": "closed", "foam": 12}})
    thicker = outline(over=["Faulds shelf"])
    assert thicker > over + 10
    client.patch(f"/api/pieces/{faulds}", json={"name": "Drowned shelf"})
    assert next(p for p in client.get("/api/builds").json()[0]["pieces"] if p["id"] == belt)["design"]["over"] == [
        "Drowned shelf"
    ]
    client.patch(f"/api/pieces/{faulds}", json={"design": {"template": "faulds", "back": "closed", "over": ["Belt"]}})
    refused = client.get(f"/api/pieces/{belt}/pattern").json()
    assert "cannot each lie over the other" in refused["detail"]
    assert outline(padding={"waist": 10}) > alone + 60


def test_a_day_in_it_is_written_mended_and_travels(client, costume, tmp_path):
    made, _ = costume
    worn = {"hours": 5.5, "weather": "hot", "hurt": "left collar bone", "happened": ["seam opened", "too tight"]}
    entry = post(client, f"/api/builds/{made}/log-entries", {"text": "Lanternmoot", "worn": worn})
    assert entry["worn"]["hours"] == 5.5
    assert "left collar bone" in client.get(f"/api/builds/{made}/log.csv").text
    assert client.post(f"/api/builds/{made}/log-entries", json={"text": "x", "worn": {"hours": 0}}).status_code == 422
    wear = client.get(f"/api/builds/{made}/wear").json()
    mishaps = {r["mishap"] for r in wear["repairs"]}
    assert {"strap torn off", "buckle broken", "lace broken"} <= mishaps
    assert not {"magnet out", "chrome chipped"} & mishaps, "the costume has neither"
    for repair in wear["repairs"]:
        assert set(repair["pouch"]) <= {c["thing"] for c in wear["pouch"]}
    assert any("Backplate" in x for p in wear["packing"] for x in p["apart"])
    job = client.post(f"/api/builds/{made}/bundle").json()
    assert ended(client, job)["state"] == "done"
    bundle = client.get(f"/api/jobs/{job['id']}/file").content
    with TestClient(create_app(Store(tmp_path / "friend")), base_url="http://127.0.0.1:8765") as friend:
        there = friend.post(
            "/api/builds/from-bundle", content=bundle, headers={"content-type": "application/zip"}
        ).json()
        assert friend.get(f"/api/builds/{there['id']}/log-entries").json()[0]["worn"] == entry["worn"]


def test_weights_are_area_times_thickness_times_density(client, costume):
    _, pieces = costume
    chest = pieces["breastplate"]
    client.put("/api/foam-shelf", json={"rows": [{"kind": "armour", "thickness": 6, "density": 100}]})
    made = client.get(f"/api/pieces/{chest}/pattern").json()
    by_hand = made["area"] * 6 * 100 * 1e-6
    weight = rig(client, chest)["weight"]
    assert weight["foam"] == pytest.approx(by_hand, rel=1e-3)
    assert weight["total"] == pytest.approx(sum(weight[k] for k in ("foam", "paint", "glue", "details", "rig")))
    (rest,) = rig(client, chest)["rests"]
    assert rest["weight"] == pytest.approx(weight["total"]), "loads are of all that is worn"
    assert rest["left"] <= 0.01


@long
def test_a_whole_costume_is_shown_and_dressed(client, build):
    _, made, _ = build
    post(client, f"/api/builds/{made}/costume", {"templates": ALL})
    shown = client.get(f"/api/builds/{made}/figure").json()
    numbers = {p["id"] for p in client.get("/api/builds").json()[0]["pieces"]}
    assert {m["piece"] for m in shown["meshes"]} == numbers | {0}
    assert {s["piece"] for s in shown["dressing"]} == numbers
    for mesh in shown["meshes"]:
        assert max(mesh["triangles"]) < len(mesh["positions"]) / 3
    rank = [
        next(p["design"]["template"] for p in client.get("/api/builds").json()[0]["pieces"] if p["id"] == s["piece"])
        for s in shown["dressing"]
    ]
    assert rank.index("cuisse") < rank.index("tasset") < rank.index("pauldron") < rank.index("bandolier")
    assert all(rig(client, n)["anchors"] or rig(client, n)["plans"][0]["parts"] for n in numbers)


@long
@pytest.mark.parametrize(
    ("schools", "owned", "said", "never"),
    [
        ({}, {}, "3 coats of contact cement on the cloth", "hot glue"),
        ({"glue": "hot glue"}, {}, "hot glue on a mesh of scores", "contact cement"),
        ({}, {"protection": ["gloves"]}, "hot glue on a mesh of scores", "contact cement"),
        ({"elastic": "glued under a strip"}, {}, "under a strip of 2 mm foam", "sewn to webbing"),
    ],
)
def test_bench_and_rig_fix_a_strap_in_the_same_words(client, build, schools, owned, said, never):
    """One place says how an anchor is glued, when it is pulled at, and what becomes of elastic."""
    *_, piece = build
    if owned:
        known = client.get("/api/owned").json()
        client.put("/api/owned", json=known | owned).raise_for_status()
    redesign(client, piece, template="segmented bracer", making={"schools": schools})
    (rig,) = client.get(f"/api/pieces/{piece}/rig").json()["plans"]
    told = json.dumps(rig)
    bench = steps_of(client, piece)["close"]["how"]
    assert said.lower() in told.lower()
    assert never not in told
    glues = {p["glue"].partition(": ")[2] for p in rig["parts"] if "inside: " in p["glue"]}
    if glues:
        (how,) = glues
        assert how.lower() in bench.lower()
    assert "Pull test when it is fixed, after the clear coat" in told
    masked = {"schools": schools | {"rigging": "before paint, masked"}}
    redesign(client, piece, template="segmented bracer", making=masked)
    assert "Pull test before paint" in client.get(f"/api/pieces/{piece}/rig").text
