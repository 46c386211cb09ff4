"""Shapes without a cast, asked of the API: every kind is a piece like any other, to its files and steps."""

import io
import json
import zipfile

import numpy as np
import pytest
import shapely
import trimesh

from tests.api.conftest import READINGS, ended, make_build, post


@pytest.fixture
def build(client):
    return make_build(client)[1]


def shape(client, build, kind, **measures):
    found = next(k for k in client.get("/api/solids").json() if k["kind"] == kind)
    body = {"name": found["word"], "design": {"template": "belt", "solid": found["solid"] | measures}}
    return post(client, f"/api/builds/{build}/pieces", body)


QUICK = {"elbow": {"segments": 3}, "ring": {"segments": 4}, "horn": {"segments": 2}, "tail": {"pitch": 200}}


def test_every_kind_has_panels_steps_foam_finish_and_files(client, build):
    kinds = [k["kind"] for k in client.get("/api/solids").json()]
    assert len(kinds) == 17
    for kind in kinds:
        piece = shape(client, build, kind, **QUICK.get(kind, {}))
        assert piece["trouble"] == "", (kind, piece["trouble"])
        at = f"/api/pieces/{piece['id']}"
        pattern = client.get(f"{at}/pattern").json()
        assert pattern["panels"], kind
        assert all(p["verdict"]["state"] != "unknown" for p in pattern["panels"]), kind
        for page in ("solid", "foam", "steps", "finish", "pattern.svg", "pattern.dxf", "pattern.json", "pattern.pdf"):
            answer = client.get(f"{at}/{page}")
            assert answer.status_code == 200, (kind, page, answer.text[:300])
        seen = client.get(f"{at}/solid").json()
        assert max(seen["triangles"]) < len(seen["positions"]) / 3
        for page in ("cast", "rig"):
            answer = client.get(f"{at}/{page}")
            assert answer.status_code == 422, (kind, page)
            assert "measures" in answer.json()["detail"], answer.text
    cut = client.get(f"/api/builds/{build}/cut-list").json()
    assert all(not p["trouble"] for p in cut["pieces"]), cut["pieces"]
    bench = client.get(f"/api/builds/{build}/bench")
    assert bench.status_code == 200


def test_a_measure_that_cannot_be_is_refused_in_words_and_nothing_is_lost(client, build):
    piece = shape(client, build, "elbow")
    at = f"/api/pieces/{piece['id']}"
    tight = piece["design"] | {"solid": piece["design"]["solid"] | {"radius": 20}}
    answer = client.patch(at, json={"design": tight})
    assert answer.status_code == 422
    assert "tighter than half its own width" in answer.text
    tail = shape(client, build, "tail", way="tucked")
    thick = tail["design"] | {"foam": 20}
    assert client.patch(f"/api/pieces/{tail['id']}", json={"design": thick}).status_code in (200, 422)
    answer = client.get(f"/api/pieces/{tail['id']}/pattern")
    assert answer.status_code == 422
    assert "too thin there to tuck" in answer.json()["detail"]
    assert client.get(f"{at}/pattern").status_code == 200
    client.post("/api/undo")
    assert client.get(f"/api/pieces/{tail['id']}/pattern").status_code == 200


def test_a_part_that_stands_on_a_piece_follows_both(client, build):
    horn = shape(client, build, "horn", segments=2)
    design = client.get("/api/catalogue").json()["templates"]
    bracer = next(t for t in design if t["name"] == "bracer")["design"]
    detail = {"key": "spike", "kind": "joined part", "name": "spike", "of": horn["name"],
              "shape": {"form": "plate", "at": [0.0, 1.0], "opening": "foot"}}  # fmt: skip
    on = post(
        client, f"/api/builds/{build}/pieces", {"name": "B", "design": bracer | {"making": {"details": [detail]}}}
    )
    (row,) = client.get(f"/api/pieces/{on['id']}/laid").json()["rows"]
    assert row["problems"] == []
    assert "2 stand there" in row["words"]
    assert "Only 1 of it made so far" in row["words"]
    meshes = [m for m in client.get(f"/api/builds/{build}/figure").json()["meshes"] if m["piece"] == horn["id"]]
    assert sorted(m["side"] for m in meshes) == ["left", "right"]
    loaded = [r["weight"] for r in client.get(f"/api/pieces/{on['id']}/rig").json()["rests"]]
    pair = horn["design"] | {"solid": horn["design"]["solid"] | {"mirrored": True}}
    assert client.patch(f"/api/pieces/{horn['id']}", json={"design": pair}).status_code == 200
    (row,) = client.get(f"/api/pieces/{on['id']}/laid").json()["rows"]
    assert "made so far" not in row["words"]
    assert [r["weight"] for r in client.get(f"/api/pieces/{on['id']}/rig").json()["rests"]] == pytest.approx(
        loaded, abs=1
    )
    bare = on["design"] | {"making": on["design"]["making"] | {"details": []}}
    assert client.patch(f"/api/pieces/{on['id']}", json={"design": bare}).status_code == 200
    alone = [r["weight"] for r in client.get(f"/api/pieces/{on['id']}/rig").json()["rests"]]
    rows = client.get(f"/api/builds/{build}/weights").json()["pieces"]
    foam = next(r["grams"] for r in rows if r["name"] == horn["name"]) / 2
    # One horn each: its foam, and on it glue and paint that weigh no more than four times as much.
    assert all(foam < a - b < 5 * foam for a, b in zip(loaded, alone, strict=True)), (foam, loaded, alone)
    assert client.patch(f"/api/pieces/{on['id']}", json={"design": on["design"]}).status_code == 200
    before = client.get(f"/api/pieces/{on['id']}/pattern.svg").text
    grown = horn["design"] | {"solid": horn["design"]["solid"] | {"base": 95}}
    assert client.patch(f"/api/pieces/{horn['id']}", json={"design": grown}).status_code == 200
    after = client.get(f"/api/pieces/{on['id']}/pattern.svg").text
    assert before != after
    assert "spike" in after
    assert client.delete(f"/api/pieces/{horn['id']}").status_code in (200, 204)
    assert client.get(f"/api/pieces/{on['id']}/pattern").status_code == 200
    (row,) = client.get(f"/api/pieces/{on['id']}/laid").json()["rows"]
    assert "no piece Horn or tooth" in " ".join(row["problems"])


def test_a_mesh_is_a_piece_that_goes_with_its_bundle(client, build):
    box = trimesh.creation.box((0.4, 0.3, 0.2))
    sent = client.post(
        f"/api/builds/{build}/models?name=chest.glb",
        content=box.export(file_type="glb"), headers={"content-type": "application/octet-stream"},
    )  # fmt: skip
    assert sent.status_code == 201, sent.text
    piece = sent.json()
    assert piece["said"] == []
    assert piece["design"]["solid"]["up"] == "y"
    rows = client.get(f"/api/pieces/{piece['id']}/strains").json()
    assert [r["strain"] for r in rows] == [0] * len(rows) != []
    wrong = client.post(
        f"/api/builds/{build}/models?name=chest.stl", content=b"no mesh at all" * 20,
        headers={"content-type": "application/octet-stream"},
    )  # fmt: skip
    assert wrong.status_code == 422
    assert "STL" in wrong.json()["detail"]
    assert len(client.get("/api/builds").json()[0]["pieces"]) == 2
    job = ended(client, client.post(f"/api/builds/{build}/bundle").json())
    bundle = zipfile.ZipFile(io.BytesIO(client.get(f"/api/jobs/{job['id']}/file").content))
    told = json.loads(bundle.read("build.json"))
    kept = next(p for p in told["pieces"] if p["name"] == "chest")["solid"]
    assert kept["mesh"] == piece["design"]["solid"]["mesh"]


def test_a_panel_of_another_build_is_that_design_drawn_on_this_wearer(client, build):
    """Two wearers, one design: what is borrowed is what the design itself gives there, within a mm all round."""
    first = next(p for b in client.get("/api/builds").json() for p in b["pieces"])
    other = post(client, "/api/wearers", {"name": "Odile"})["id"]
    grown = {**READINGS, "limbs": [
        {**limb, "stations": {k: {**s, "girth": s["girth"] * 1.1} for k, s in limb["stations"].items()}}
        for limb in READINGS["limbs"]
    ]}  # fmt: skip
    post(client, f"/api/wearers/{other}/measurement-sets", grown)
    there = post(client, "/api/builds", {"name": "Odile's", "wearer_id": other})["id"]
    anew = post(client, f"/api/builds/{there}/pieces", {"name": "anew", "design": first["design"]})
    taken = post(client, f"/api/builds/{there}/borrowed", {"piece": first["id"]})
    assert taken["design"]["flat"]["panels"]
    wanted, got = (client.get(f"/api/pieces/{p['id']}/pattern").json()["panels"] for p in (anew, taken))
    one, two = (shapely.Polygon([q for e in rows[0]["edges"] for q in e["points"]]) for rows in (wanted, got))
    two = shapely.affinity.translate(two, *(np.array(one.bounds[:2]) - two.bounds[:2]))
    assert one.hausdorff_distance(two) < 1.0
    old = client.get(f"/api/pieces/{first['id']}/pattern").json()["panels"][0]
    assert abs(old["area"] / wanted[0]["area"] - 1) > 0.03, "it is another body"
    again = post(client, f"/api/builds/{there}/borrowed", {"piece": first["id"], "panels": [1], "into": taken["id"]})
    assert [p["number"] for p in again["design"]["flat"]["panels"]] == [1, 2]
    missing = client.post(f"/api/builds/{there}/borrowed", json={"piece": first["id"], "panels": [9]})
    assert missing.status_code == 422
    assert "in that piece now" in missing.json()["detail"]


def test_a_shape_needs_no_body_and_counts_as_no_other_piece(client):
    """On a wearer who was never measured; beside a costume that has no belt yet; and when another body is kept."""
    wearer = post(client, "/api/wearers", {"name": "Nobody yet"})["id"]
    build = post(client, "/api/builds", {"name": "Bare", "wearer_id": wearer})["id"]
    horn = post(client, f"/api/builds/{build}/pieces", {
        "name": "Horns", "design": {"template": "pauldron", "solid": {"kind": "horn", "segments": 2, "count": 2}},
    })  # fmt: skip
    at = f"/api/pieces/{horn['id']}"
    told = client.get(f"{at}/pattern")
    assert told.status_code == 200, told.text
    panels = told.json()["panels"]
    assert [p["label"]["lines"][1] for p in panels] == ["cut 2"] * 2, "two horns, whatever comes in pairs"
    assert all(p["label"]["code"].startswith("HO ") and len(p["label"]["code"]) == 4 for p in panels)
    steps = client.get(f"{at}/steps").json()["steps"]
    assert steps
    pouch = shape(client, build, "pouch")
    client.post(f"/api/builds/{build}/costume", json={})
    names = [p["design"]["template"] for p in client.get("/api/builds").json()[0]["pieces"] if not p["design"]["solid"]]
    assert "belt" in names or "breastplate" in names
    finish = client.get(f"/api/pieces/{pouch['id']}/finish").text
    assert "bent round the waist" not in finish
    kept = post(client, f"{at}/versions", {"name": "first"})
    assert kept
    assert client.patch(
        at, json={"design": horn["design"] | {"solid": horn["design"]["solid"] | {"base": 90}}}
    ).is_success
    over = client.get(f"{at}/versions/1/overlay")
    if over.is_success:
        assert [(p["code"], p["before"]) for p in over.json()["panels"]] == [("HO 1", "HO 1"), ("HO 2", "HO 2")]
