"""Trims and rows with a shape: from the lines of a piece to steps, weight and the files that leave."""

import csv
import io
import itertools
import json
import math

import ezdxf
import ezdxf.path
import numpy as np
import pypdf
import pytest
import shapely
from typer.testing import CliRunner

from tests.api.conftest import READINGS, post, steps_of
from tests.api.test_bench import redesign
from tests.formats.test_patterns_read_back import strokes
from vellumcut.cli import app as commands

TRIM = {
    "key": "hem", "kind": "trim", "name": "hem trim",
    "shape": {"form": "border", "lines": ["hem"], "inset": 4, "width": 14, "foam": 5},
}  # fmt: skip
RIVETS = {
    "key": "rivets", "kind": "rivets", "name": "rivets", "size": 7,
    "shape": {"form": "row", "lines": ["neckline"], "inset": 10, "pitch": 22, "pack": 50},
}  # fmt: skip


@pytest.fixture
def chest(client, build) -> int:
    _, made, _ = build
    number = post(client, f"/api/builds/{made}/pieces", {"design": {"template": "breastplate"}})["id"]
    redesign(client, number, template="breastplate", making={"details": [TRIM, RIVETS]})
    return number


def laid(client, piece: int) -> dict[str, dict]:
    answer = client.get(f"/api/pieces/{piece}/laid")
    assert answer.status_code == 200, answer.text
    return {row["key"]: row for row in answer.json()["rows"]}


def test_what_is_laid_reads_the_same_everywhere(client, chest):
    rows = laid(client, chest)
    trim, rivets = rows["hem"], rows["rivets"]
    steps = steps_of(client, chest)
    assert f"{rivets['count']} x rivets" in steps["lay-on:rivets"]["title"]
    told = next(v["amount"] for v in steps["trim:hem"]["values"] if v["word"] == "of strip")
    assert told == pytest.approx(trim["length"], abs=0.01)
    assert rivets["packs"] == -(-(rivets["count"] + round(rivets["count"] / 10)) // 50)
    assert min(trim["minutes"], trim["grams"]) > 0
    shown = client.get(f"/api/pieces/{chest}/pattern").json()["panels"][0]["lines"]
    assert len([x for x in shown if x["name"].startswith("rivets")]) == rivets["count"]
    assert [x["name"] for x in shown if x["kind"] == "trim edge"] == ["hem trim"]


def whole_details(client, piece: int) -> list[dict]:
    builds = client.get("/api/builds").json()
    return next(p for b in builds for p in b["pieces"] if p["id"] == piece)["design"]["making"]["details"]


def test_it_stays_where_it_belongs(client, build, chest):
    """New measures, another foam, a dart in the line it runs along: the strip is still the hem's, and as long."""
    wearer, _, _ = build
    was = laid(client, chest)
    girths = READINGS["torso"]["girths"]
    wider = {n: {**r, "girth": r["girth"] * 1.06} for n, r in girths.items()}
    post(client, f"/api/wearers/{wearer}/measurement-sets", {**READINGS, "taken_on": "2026-11-20",
        "torso": {**READINGS["torso"], "girths": wider}})  # fmt: skip
    now = laid(client, chest)
    assert now["hem"]["length"] == pytest.approx(1.06 * was["hem"]["length"], rel=0.03)
    assert len(now["hem"]["shown"]) == len(was["hem"]["shown"]) == 1
    redesign(client, chest, template="breastplate", foam=10, making={"details": [TRIM, RIVETS]})
    thick = laid(client, chest)
    assert now["hem"]["length"] < thick["hem"]["length"] < 1.05 * now["hem"]["length"]
    cut = {"key": "dart-1", "kind": "dart", "name": "dart 1", "curve": "straight",
        "points": [[0.06, 0.55], [0.06, 1.6]]}  # fmt: skip
    redesign(client, chest, template="breastplate", foam=10, cuts=[cut], making={"details": [TRIM, RIVETS]})
    darted = laid(client, chest)
    assert darted["hem"]["length"] == pytest.approx(thick["hem"]["length"], rel=0.005)
    assert [d["key"] for d in whole_details(client, chest)] == ["hem", "rivets"]
    redesign(client, chest, template="breastplate", foam=10, cuts=[cut], making={"details": [RIVETS]})
    assert list(laid(client, chest)) == ["rivets"]
    lines = client.get(f"/api/pieces/{chest}/pattern").json()["panels"][0]["lines"]
    assert not [x for x in lines if x["kind"] == "trim edge"]


@pytest.mark.parametrize(("detail", "words"), [
    ({**TRIM, "kind": "gem"}, "is a trim or"),
    ({**TRIM, "shape": {**TRIM["shape"], "lines": []}}, "at least 1 item"),
    ({**TRIM, "shape": {**TRIM["shape"], "width": 0}}, "must be at least 3"),
    ({"key": "e", "kind": "emblem", "name": "e", "shape": {"form": "plate", "at": [0.1, 3.0]}}, "needs its outline"),
    ({**TRIM, "shape": {"form": "cape"}}, "form"),
    ({**TRIM, "kind": "scales", "shape": {"form": "scales", "lines": ["hem"], "high": 8, "covered": 0.8}},
        "1.6 mm apart"),
])  # fmt: skip
def test_a_shape_that_cannot_be_is_refused_and_nothing_is_lost(client, chest, detail, words):
    body = {"design": {"template": "breastplate", "making": {"details": [detail]}}}
    answer = client.patch(f"/api/pieces/{chest}", json=body)
    assert answer.status_code == 422
    assert words in answer.text
    assert [d["key"] for d in whole_details(client, chest)] == ["hem", "rivets"]


def test_a_line_that_is_gone_is_said(client, chest):
    lost = {**TRIM, "shape": {**TRIM["shape"], "lines": ["crenellation"]}}
    redesign(client, chest, template="breastplate", making={"details": [lost]})
    told = client.get(f"/api/pieces/{chest}/steps").json()
    assert any("crenellation" in words for words in told["trouble"])
    assert client.get(f"/api/pieces/{chest}/laid").status_code == 200
    tried = client.post(f"/api/pieces/{chest}/laid/try", json={"detail": lost})
    assert tried.status_code == 422
    assert "no line called crenellation" in tried.json()["detail"]


def test_the_cut_list_holds_every_part_once(client, build, chest, tmp_path):
    _, made, bracer = build
    listed = client.get(f"/api/builds/{made}/cut-list").json()
    rows = {p["piece"]: p["rows"] for p in listed["pieces"]}
    assert {r["code"].split()[0] for r in rows[bracer]} == {"BC"}
    assert [r["name"] for r in rows[chest]] == ["Breastplate", "Breastplate: hem trim"]
    assert sum(s["parts"] for s in listed["sheets"]) == sum(r["count"] for own in rows.values() for r in own)
    sheet = next(s for s in listed["sheets"] if s["thickness"] == 5)
    (trim,) = [r for r in rows[chest] if "trim" in r["name"]]
    assert sheet["area"] == pytest.approx(trim["area"] * trim["count"])
    assert listed["lefts"] == []
    table = list(csv.DictReader(io.StringIO(client.get(f"/api/builds/{made}/cut-list.csv").text)))
    assert [r["label"] for r in table] == [r["code"] for own in rows.values() for r in own]
    pages = pypdf.PdfReader(io.BytesIO(client.get(f"/api/builds/{made}/cut-list.pdf").content)).pages
    text = "\n".join(p.extract_text() for p in pages)
    assert all(f"{r['code']}: {r['name']}" in text for own in rows.values() for r in own)
    boxes = [r for page in pages for r in strokes(page)[1]]
    assert len(boxes) == sum(r["count"] if r["count"] <= 6 else 1 for own in rows.values() for r in own)
    redesign(client, bracer, template="bracer", closure="lacing", foam_kind="mat")
    (words,) = client.get(f"/api/builds/{made}/cut-list").json()["lefts"]
    assert "one good face" in words


def test_parts_leave_by_the_command_line(tmp_path):
    pieces = [{"template": "breastplate", "name": "Chest", "making": {"details": [TRIM, RIVETS]}}]
    build = {"format": "vellumcut-build", "version": 1, "name": "Moth-knight", "pieces": pieces,
        "wearer": {"name": "Perrin Vale", "measurements": READINGS}}  # fmt: skip
    path = tmp_path / "build.json"
    path.write_text(json.dumps(build))
    done = CliRunner().invoke(commands, ["parts", str(path), "--out", str(tmp_path / "out")])
    assert done.exit_code == 0, done.output
    told = json.loads((tmp_path / "out" / "parts.json").read_text())
    by_key = {row["key"]: row for row in told["laid"]["Chest"]}
    (row,) = [r for r in told["rows"] if r["name"] == "Chest: hem trim"]
    assert row["area"] == pytest.approx(by_key["hem"]["area"], rel=0.01)
    drawing = ezdxf.readfile(tmp_path / "out" / "Chest parts.dxf")
    rings = [p for e in drawing.modelspace() if e.dxf.layer == "cut" for p in [ezdxf.path.make_path(e)]]
    points = np.vstack([[(v.x, v.y) for v in p.flattening(0.05)] for p in rings])
    assert shapely.MultiPoint(points).convex_hull.bounds[2] > 200
    length = sum(sum(a.distance(b) for a, b in itertools.pairwise(p.flattening(0.02))) for p in rings)
    assert length == pytest.approx(row["outline"], rel=0.002)
    assert (tmp_path / "out" / "cut list.csv").is_file()


def test_an_emblem_is_printed_at_three_sizes(client, chest):
    motif = [{"points": [[0, 0], [40, 0], [40, 10], [20, 40], [0, 10]]}]
    crest = {"key": "crest", "kind": "emblem", "name": "crest", "motif": motif,
        "shape": {"form": "plate", "at": [0.08, 3.0], "wide": 50, "layers": 2}}  # fmt: skip
    redesign(client, chest, template="breastplate", making={"details": [crest, TRIM]})
    answer = client.get(f"/api/pieces/{chest}/laid/crest/sizes.pdf")
    assert answer.status_code == 200, answer.text
    pages = pypdf.PdfReader(io.BytesIO(answer.content)).pages
    words = " ".join(page.extract_text() for page in pages)
    assert all(f"{wide} mm across" in words for wide in (40, 50, 62.5))
    assert client.get(f"/api/pieces/{chest}/laid/hem/sizes.pdf").status_code == 422
    assert client.get(f"/api/pieces/{chest}/laid/none/sizes.pdf").status_code == 422
    row = laid(client, chest)["crest"]
    assert row["problems"] == []
    assert len(row["worn"]) > 1, "in slices, each nearly flat: a plate that is bent is no chord of the body"
    for ring in row["worn"]:
        assert math.dist(ring[0], ring[-1]) < 0.01
        assert max(math.dist(p[:2], q[:2]) for p in ring for q in ring) < 40


def test_the_finish_reads_what_is_laid(client, chest):
    """A strip is a zone of its own, masked along its outline; as many circles as there are rivets."""
    told = client.get(f"/api/pieces/{chest}/finish").json()
    rivets = laid(client, chest)["rivets"]
    (circles,) = [m for m in told["masks"] if "rivets" in m]
    assert circles.startswith(f"{rivets['count']} x ")
    zones = {z["name"]: z["area"] for z in told["zones"]}
    assert list(zones) == ["1a", "1b", "1c"], "the chest, the strip, and the rim that is left below it"
    panel = client.get(f"/api/pieces/{chest}/pattern").json()["panels"][0]
    assert sum(zones.values()) == pytest.approx(panel["area"], rel=1e-6)
    strip = next(x for x in panel["lines"] if x["name"] == "hem trim")["points"]
    assert zones["1b"] == pytest.approx(shapely.Polygon(strip).area, rel=0.01)
