"""Ink, scans, pictures and bundles through the API, on a real database and real files."""

import io
import json
import random

import numpy as np
import pytest
from PIL import Image

from tests.api.conftest import READINGS, ended, post
from tests.depth import long, often
from vellumcut.formats.body.mesh_files import write_mesh
from vellumcut.standins.made_up_body import BodyShape, made_up_body


def add(client, build, template: str) -> int:
    design = next(t["design"] for t in client.get("/api/catalogue").json()["templates"] if t["name"] == template)
    return post(client, f"/api/builds/{build[1]}/pieces", {"design": design})["id"]


def wobble(sheet: dict, luck: random.Random) -> dict:
    """One edit a hand might make."""
    out = json.loads(json.dumps(sheet))
    strokes = out["strokes"]
    line = luck.choice(strokes)
    act = luck.randrange(5)
    if act == 0:
        line["points"][luck.randrange(len(line["points"]))][1] += luck.uniform(-0.2, 0.2)
    elif act == 1:
        a, b = line["points"][:2]
        line["points"].insert(1, [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2])
    elif act == 2 and len(strokes) > 3:
        strokes.remove(line)
    elif act == 3:
        line |= {"lift": luck.uniform(0, 40), "kind": luck.choice(["outline", "seam", "fold"])}
    else:
        strokes.append(line | {"key": f"new-{luck.randrange(10**9)}", "points": [[-u, v] for u, v in line["points"]]})
    return out


@long
def test_two_hundred_edits_and_undos_come_back_to_the_start_exactly(client, build):
    piece = add(client, build, "breastplate")
    start = client.get(f"/api/pieces/{piece}/ink").json()
    first = client.patch(f"/api/pieces/{piece}", json={"design": design_with(client, piece, start["sheet"])}).json()
    luck, sheets = random.Random(11), [first["design"]["ink"]]
    while len(sheets) <= often(200):
        wanted = wobble(sheets[-1], luck)
        if wanted == sheets[-1]:
            continue
        answer = client.patch(f"/api/pieces/{piece}", json={"design": first["design"] | {"ink": wanted}})
        assert answer.status_code == 200, answer.text
        sheets.append(answer.json()["design"]["ink"])
    for wanted in sheets[-2::-1]:
        assert client.post("/api/undo").status_code == 200
        assert piece_of(client, build, piece)["design"]["ink"] == wanted
    assert piece_of(client, build, piece) == first
    for _ in range(often(200)):
        client.post("/api/redo")
    assert piece_of(client, build, piece)["design"]["ink"] == sheets[-1]


def design_with(client, piece: int, sheet: dict) -> dict:
    design = next(t["design"] for t in client.get("/api/catalogue").json()["templates"] if t["name"] == "breastplate")
    return design | {"ink": sheet}


def piece_of(client, build, number: int) -> dict:
    return next(p for p in client.get(f"/api/builds/{build[1]}").json()["pieces"] if p["id"] == number)


def test_strokes_can_be_tried_without_being_kept(client, build):
    piece = add(client, build, "breastplate")
    sheet = client.get(f"/api/pieces/{piece}/ink").json()["sheet"]
    seam = {"key": "cut", "kind": "seam", "points": [[0.0, 1.5], [0.25, 1.5]]}
    tried = post(client, f"/api/pieces/{piece}/ink/try", sheet | {"strokes": [*sheet["strokes"], seam]}, 200)
    assert len(tried["regions"]) == 2
    assert len(tried["foam_triangles"]) > 300
    assert client.get(f"/api/pieces/{piece}/ink").json()["own"] is False
    refused = client.post(f"/api/pieces/{piece}/ink/try", json=sheet | {"strokes": [seam | {"points": [[0, 1]]}]})
    assert refused.status_code == 422
    assert "points" in refused.json()["fields"][0]["field"]


def test_a_costume_is_laid_in_one_go_and_taken_away_by_one_undo(client, build):
    before = client.get(f"/api/builds/{build[1]}").json()["pieces"]
    made = post(client, f"/api/builds/{build[1]}/costume", {})
    assert len(made["pieces"]) == len(before) + 10
    assert [p["trouble"] for p in made["pieces"]] == [""] * len(made["pieces"])
    client.post("/api/undo")
    assert client.get(f"/api/builds/{build[1]}").json()["pieces"] == before


@pytest.fixture(scope="module")
def scan_file() -> bytes:
    points, faces = made_up_body(BodyShape(height=1740, girth=1.02), 12.0)
    return write_mesh(np.stack([points[:, 0], points[:, 2], -points[:, 1]], axis=1) / 1000, faces, "ply")


@long
def test_a_scan_becomes_a_pattern_and_travels_in_a_bundle(client, build, scan_file):
    wearer, number, _ = build
    scan = client.post(f"/api/wearers/{wearer}/scans?name=me.ply", content=scan_file).json()
    assert (scan["unit"], scan["up"], scan["front"]) == ("m", "y", "z")
    assert client.get(f"/api/scans/{scan['id']}/mesh").json()["height"] == pytest.approx(1765, abs=25)
    ends = post(client, f"/api/scans/{scan['id']}/ends", {"segment": "lower leg", "side": "left"}, 200)
    reading = {"segment": "lower leg", "side": "both", "scan": scan["file"], "unit": "m", "up": "y", "front": "z"}
    reading |= {"low": ends["low"], "high": ends["high"], "ahead": ends["front"]}
    fit = post(client, "/api/scans/fit", reading, 200)
    assert fit["p95"] < 1.0
    assert len(fit["miss"]) * 3 == len(fit["places"])
    kept = client.get(f"/api/wearers/{wearer}/measurement-sets").json()[0]
    put = client.put(f"/api/measurement-sets/{kept['id']}", json=kept["readings"] | {"scans": [reading]})
    assert put.status_code == 200, put.text
    piece = add(client, build, "ridged greave")
    sheet = client.get(f"/api/pieces/{piece}/sheet").json()
    assert [s["girth"] for s in sheet["stations"]] == pytest.approx([s["girth"] for s in fit["stations"]], abs=0.01)
    outline = client.get(f"/api/pieces/{piece}/pattern").json()["panels"][0]["outline_length"]
    bundle = packed(client, number)
    again = client.post("/api/builds/from-bundle", content=bundle)
    assert again.status_code == 201, again.text
    twin = next(p for p in again.json()["pieces"] if p["design"]["template"] == "ridged greave")
    assert client.get(f"/api/pieces/{twin['id']}/pattern").json()["panels"][0]["outline_length"] == outline


def packed(client, number: int) -> bytes:
    job = post(client, f"/api/builds/{number}/bundle", status=202)
    job = ended(client, job)
    assert job["state"] == "done", job
    return client.get(f"/api/jobs/{job['id']}/file").content


@long
def test_the_simulated_scanner_streams_and_can_be_stopped(client, build):
    wearer = build[0]
    job = post(client, f"/api/wearers/{wearer}/scanner", {"shape": "tall and lean", "seed": 4}, 202)
    assert client.delete(f"/api/jobs/{job['id']}").status_code == 202
    assert ended(client, job)["state"] == "cancelled"
    assert client.get(f"/api/wearers/{wearer}/scans").json() == []
    done = ended(client, post(client, f"/api/wearers/{wearer}/scanner", {"shape": "tall and lean", "seed": 4}, 202))
    (scan,) = client.get(f"/api/wearers/{wearer}/scans").json()
    assert scan["id"] == done["result"]
    assert any("holes" in w for w in scan["warnings"])
    assert "knows no" in client.post(f"/api/wearers/{wearer}/scanner", json={"shape": "dragon"}).json()["detail"]


def test_files_that_are_no_bodies_leave_nothing_behind(client, build, store, scan_file):
    wearer = build[0]
    address = f"/api/wearers/{wearer}/scans?name="
    for name, content, words in (
        ("notes.ply", b"girths on the other page", "not a PLY mesh"),
        ("body.exe", scan_file, "is no mesh file"),
        ("empty.stl", b"", "is empty"),
        ("half.ply", scan_file[: len(scan_file) // 2], "or is broken"),
    ):
        answer = client.post(address + name, content=content)
        assert answer.status_code == 422, name
        assert words in answer.json()["detail"]
    assert client.post(address + "big.obj", headers={"content-length": "1000000000"}, content=b"").status_code == 413
    assert list((store.folder / "scans").iterdir()) == []
    assert client.get(f"/api/wearers/{wearer}/scans").json() == []


def test_a_picture_is_laid_scaled_and_taken_back(client, build):
    piece = build[2]
    out = io.BytesIO()
    Image.new("RGB", (3000, 1500), "#d9b779").save(out, "PNG")
    laid = client.post(f"/api/pieces/{piece}/picture?name=sketch.png", content=out.getvalue()).json()
    assert laid["size"] == [2400, 1200]
    placed = laid["placing"] | {"scale": 0.5, "opacity": 0.3}
    assert client.put(f"/api/pictures/{laid['id']}", json=placed).json()["placing"]["scale"] == 0.5
    assert client.get(f"/api/pictures/{laid['id']}/file").headers["content-type"] == "image/jpeg"
    refused = client.post(f"/api/pieces/{piece}/picture?name=a.png", content=b"<svg onload=alert(1)>")
    assert "not a JPEG, PNG or WebP" in refused.json()["detail"]
    client.post("/api/undo")
    client.post("/api/undo")
    assert client.get(f"/api/pieces/{piece}/picture").json() is None


def test_measures_come_in_as_a_table_all_or_none(client, build):
    wearer = build[0]
    table = client.get(f"/api/wearers/{wearer}/measurements.csv").text
    made = client.post(
        f"/api/wearers/{wearer}/measurements/from-csv", json={"text": table.replace("2026-11-02", "2026-11-09")}
    )
    assert made.status_code == 201, made.text
    assert made.json()[0]["readings"] == READINGS | {"taken_on": "2026-11-09"}
    bad = table.replace("252", "-5")
    assert client.post(f"/api/wearers/{wearer}/measurements/from-csv", json={"text": bad}).status_code == 422
    assert len(client.get(f"/api/wearers/{wearer}/measurement-sets").json()) == 2


def test_guesses_are_given_and_marked(client):
    body = {"taken_on": "2026-11-20", "torso": {"girths": {"bust": {"girth": "38 in"}}}}
    full = post(client, "/api/measurements/completed", body, 200)
    assert full["trouble"] == ""
    assert full["torso"]["girths"]["bust"] == pytest.approx(965.2)
    assert "waist" in full["torso"]["guessed"]
    assert "bust" not in full["torso"]["guessed"]
    assert all(limb["borrowed"] for limb in full["limbs"])


def test_padding_a_form_is_the_circles_sum(client, build):
    plan = post(client, f"/api/pieces/{build[2]}/padding", {"girths": {"belly": "20 cm"}}, 200)
    assert plan["rows"][0]["thickness"] == pytest.approx((252 + 2 * np.pi * 1.5 - 200) / (2 * np.pi), abs=0.01)
