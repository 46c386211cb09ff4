"""Sheets over HTTP: laid, moved, cut, undone; the stock against a plain ledger; what leaves read back and measured."""

import io
import json
import re
import time

import ezdxf
import numpy as np
import pypdf
import pytest
from fastapi.testclient import TestClient
from scipy.spatial import cKDTree
from svgelements import SVG, Path
from typer.testing import CliRunner

from tests.api.conftest import READINGS, ended, post
from tests.api.test_foam import redesign
from tests.api.test_ink_and_scans import packed
from tests.api.test_keeping import BINARY
from tests.depth import DEEP
from tests.formats.test_patterns_read_back import strokes
from vellumcut.api.app import create_app
from vellumcut.cli import app as commands
from vellumcut.service.keeping import builds
from vellumcut.service.shop.nests import parts_of
from vellumcut.store.database import Store

MAT = [{"thickness": 10, "kind": "mat"}]


def lay(client, number, **body):
    job = client.post(f"/api/builds/{number}/nest", json={"effort": "quick", **body})
    assert job.status_code == 202, job.text
    done = ended(client, job.json())
    assert done["state"] == "done", done
    return client.get(f"/api/builds/{number}/nest").json()


def shelf_of(client, kind="armour", thickness=6.0):
    rows = client.get("/api/foam-shelf").json()["rows"]
    row = next((r for r in rows if r["kind"] == kind and r["thickness"] == thickness), None)
    return (row["sheets"], sorted(sorted(o) for o in row["offcuts"])) if row else (0, [])


@pytest.fixture
def laid(client, build):
    _, number, bracer = build
    shelf = {"rows": [{"kind": "armour", "thickness": 6, "size": [1000, 500], "sheets": 2, "offcuts": [[300, 320]]}]}
    assert client.put("/api/foam-shelf", json=shelf).status_code == 200
    assert redesign(client, bracer, side="both", layers=[{"thickness": 6}]).status_code == 200
    for template in ("ridged greave", "tasset"):
        post(client, f"/api/builds/{number}/pieces", {"design": {"template": template, "layers": [{"thickness": 6}]}})
    return number, lay(client, number)


def test_parts_lie_on_offcuts_and_sheets_in_hand_and_leave_as_files(client, laid):
    number, made = laid
    (six,) = [m for m in made["materials"] if m["key"] == "armour 6"]
    assert not six["troubles"]
    assert not six["left"]
    assert six["to_buy"] == 0
    assert sum(len(s["parts"]) for s in six["sheets"]) == six["count"] == six["whole"]
    again = lay(client, number)
    assert [m["sheets"] for m in again["materials"]] == [m["sheets"] for m in made["materials"]]
    for sheet in six["sheets"]:
        path = f"/api/builds/{number}/nest/armour 6/sheet"
        cut = client.get(path, params={"sheet": sheet["key"], "form": "dxf"})
        document = ezdxf.read(io.StringIO(cut.text))
        assert not document.audit().errors
        space = document.modelspace()
        edge = np.array([p[:2] for p in space.query('LWPOLYLINE[layer=="sheet edge"]').first.get_points()])
        lines = [np.array([(p.x, p.y) for p in e.flattening(0.01)]) for e in space.query('SPLINE[layer=="cut"]')]
        shown = np.vstack([np.array(p["outline"]) for p in sheet["parts"]])
        every = np.vstack(lines)
        assert cKDTree(every).query(shown)[0].max() < 1.0
        assert (every.min(0) > edge.min(0) + 2.9).all()
        assert (every.max(0) < edge.max(0) - 2.9).all()
        svg = SVG.parse(io.StringIO(client.get(path, params={"sheet": sheet["key"]}).text), ppi=25.4)
        outlines = [e for e in svg.elements() if isinstance(e, Path) and str(e.id or "").endswith("outline")]
        assert len(outlines) == len(sheet["parts"])
        low, high = (
            np.array([e.bbox() for e in outlines])[:, :2].min(0),
            np.array([e.bbox() for e in outlines])[:, 2:].max(0),
        )
        assert high - low == pytest.approx(np.ptp(every, axis=0), abs=0.1)


def test_the_plan_to_hang_up_is_the_sheets_reduced(client, laid):
    number, made = laid
    six = next(m for m in made["materials"] if m["key"] == "armour 6")
    pages = pypdf.PdfReader(io.BytesIO(client.get(f"/api/builds/{number}/nest.pdf").content)).pages
    assert len(pages) == sum(len(m["sheets"]) for m in made["materials"])
    for page, sheet in zip(pages, six["sheets"], strict=False):
        text = page.extract_text()
        assert sheet["key"] in text
        assert all(p["code"] in text for p in sheet["parts"])
        scale = 1 / float(re.search(r"drawn 1 to ([0-9.]+)\.", text)[1])
        edge, *rings = [points for _, points in strokes(page)[0] if len(points) > 3]
        assert np.ptp(edge, axis=0) == pytest.approx(np.ptp(np.array(sheet["outline"]), axis=0) * scale, rel=0.01)
        drawn = np.array(sorted(np.ptp(r, axis=0).tolist() for r in rings))
        wanted = np.array(sorted((np.ptp(np.array(p["outline"]), axis=0) * scale).tolist() for p in sheet["parts"]))
        assert drawn == pytest.approx(wanted, rel=0.02, abs=0.1)
        by_key = {p["key"]: k for k, p in enumerate(sheet["parts"])}
        assert sorted(by_key) == sorted(sheet["order"])


def test_a_part_is_moved_and_kept_where_it_is_and_what_is_wrong_is_told(client, laid):
    number, made = laid
    six = next(m for m in made["materials"] if m["key"] == "armour 6")
    sheet = six["sheets"][-1]
    part, other = sheet["parts"][0], sheet["parts"][-1]
    path = f"/api/builds/{number}/nest/armour 6/part"
    onto = {name: other[name] for name in ("turn", "x", "y")}
    onto |= {"key": part["key"], "sheet": sheet["key"], "locked": True}
    if part["key"] == other["key"]:
        onto |= {"x": -5000.0}
    told = client.put(path, json=onto).json()
    assert any(part["key"] in t["parts"] for t in told["troubles"])
    refused = client.post(f"/api/builds/{number}/nest/armour 6/cut", params={"sheet": sheet["key"]})
    assert refused.status_code == 422
    assert "move one first" in refused.text
    free = {**onto, "sheet": "new 3", "turn": 0.0, "x": 0.0, "y": 0.0}
    alone = client.put(path, json=free).json()
    found = next(p for s in alone["sheets"] for p in s["parts"] if p["key"] == part["key"])
    low = np.array(found["outline"]).min(0)
    client.put(path, json={**free, "x": 50 - float(low[0]), "y": 60 - float(low[1])})
    after = next(m for m in lay(client, number)["materials"] if m["key"] == "armour 6")
    there = {s["key"]: [p["key"] for p in s["parts"]] for s in after["sheets"]}
    assert part["key"] in there["new 3"]
    assert client.put(path, json={**free, "key": "nobody"}).status_code == 404
    assert client.put(path, json={**free, "sheet": "new 900"}).status_code == 404
    assert client.put(path, json={**free, "x": 1e9}).status_code == 422


def test_what_was_found_when_it_is_stopped_is_kept(client, build):
    _, number, _ = build
    job = client.post(f"/api/builds/{number}/nest", json={"effort": "thorough"}).json()
    last = time.monotonic() + 60
    while not client.get(f"/api/nests/{job['id']}").json() and time.monotonic() < last:
        time.sleep(0.05)
    assert client.delete(f"/api/jobs/{job['id']}").status_code < 300
    assert ended(client, job)["state"] == "cancelled"
    (six,) = client.get(f"/api/builds/{number}/nest").json()["materials"]
    assert sum(len(s["parts"]) for s in six["sheets"]) == six["count"]


def test_sheets_travel_with_their_build(client, laid, tmp_path):
    number, made = laid
    client.post(f"/api/builds/{number}/nest/armour 6/cut", params={"sheet": made["materials"][0]["sheets"][0]["key"]})
    before = client.get(f"/api/builds/{number}/nest").json()
    other = Store(tmp_path / "other")
    with TestClient(create_app(other), base_url="http://127.0.0.1:8765") as there:
        there.put("/api/foam-shelf", json=client.get("/api/foam-shelf").json())
        post(there, "/api/wearers", {"name": "Somebody before"})
        came = there.post("/api/builds/from-bundle", content=packed(client, number), headers=BINARY).json()
        after = there.get(f"/api/builds/{came['id']}/nest").json()
    other.close()

    def places(told):
        return [[(p["code"], p["turn"], p["x"], p["y"]) for p in s["parts"]] for s in told["materials"][0]["sheets"]]

    assert places(after) == places(before)
    assert [len(c["parts"]) for c in after["materials"][0]["cut"]] == [len(before["materials"][0]["cut"][0]["parts"])]


def test_the_command_writes_each_sheet(tmp_path):
    build = {
        "format": "vellumcut-build", "version": 1, "name": "Two",
        "wearer": {"name": "Perrin Vale", "measurements": READINGS},
        "pieces": [{"template": "bracer", "side": "both"}, {"template": "tasset", "side": "both", "name": "Hips"}],
    }  # fmt: skip
    (tmp_path / "build.json").write_text(json.dumps(build))
    command = ["nest", str(tmp_path / "build.json"), "--out", str(tmp_path / "out"), "--effort", "quick"]
    done = CliRunner().invoke(commands, command)
    assert done.exit_code == 0, done.output
    told = json.loads((tmp_path / "out" / "nest.json").read_text())
    parts = [p for m in told["materials"] for s in m["sheets"] for p in s["parts"]]
    assert {p["key"].split("/")[0] for p in parts} == {"1", "2"}
    assert {"a1", "t1"} == {p["key"].split("/")[2] for p in parts}
    for m in told["materials"]:
        for s in m["sheets"]:
            drawing = ezdxf.readfile(tmp_path / "out" / f"{m['material']} mm {s['key']}.dxf")
            assert len(drawing.modelspace().query('SPLINE[layer=="cut"]')) >= len(s["parts"])


def test_a_sheet_that_is_bought_is_there_with_its_parts_and_paid(client, laid):
    number, _ = laid
    shelf = client.get("/api/foam-shelf").json()
    shelf["rows"][0] |= {"sheets": 0, "offcuts": [], "price": 7.5, "size": [600, 420]}
    client.put("/api/foam-shelf", json=shelf)
    (six,) = lay(client, number)["materials"]
    assert six["to_buy"] > 1
    told = client.get(f"/api/builds/{number}/supplies").json()
    foam = next(x for x in told["lines"] if x["unit"] == "sheets")
    assert (foam["packs"], foam["cost"]) == (six["to_buy"], six["to_buy"] * 7.5)
    client.post(f"/api/builds/{number}/nest/armour 6/bought", params={"sheets": 1})
    (after,) = client.get(f"/api/builds/{number}/nest").json()["materials"]
    assert after["to_buy"] == six["to_buy"] - 1
    assert [s["owned"] for s in after["sheets"]] == [True] + [False] * after["to_buy"]
    assert [[p["key"] for p in s["parts"]] for s in after["sheets"]] == [
        [p["key"] for p in s["parts"]] for s in six["sheets"]
    ]
    assert shelf_of(client) == (1, [])
    now = client.get(f"/api/builds/{number}/supplies").json()
    assert now["money"]["spent"] == 7.5
    assert next(x for x in now["lines"] if x["unit"] == "sheets")["packs"] == after["to_buy"]
    client.post("/api/undo")
    assert shelf_of(client) == (0, [])
    assert client.get(f"/api/builds/{number}/supplies").json()["money"]["spent"] == 0


@pytest.mark.parametrize("seed", range(50 if DEEP else 3))
def test_stock_is_a_plain_ledger_whatever_is_cut_undone_and_bought(client, laid, seed):
    number, _ = laid
    lot = np.random.default_rng(seed)
    ledger = [shelf_of(client)]
    kept = None
    for _ in range(8):
        now = next((m for m in client.get(f"/api/builds/{number}/nest").json()["materials"]), None)
        sheets = now["sheets"] if now else []
        act = lot.choice(["cut", "undo", "buy", "keep", "restore"])
        if act == "cut" and sheets:
            one = sheets[lot.integers(len(sheets))]
            answer = client.post(f"/api/builds/{number}/nest/armour 6/cut", params={"sheet": one["key"]})
            assert answer.status_code == 200, answer.text
            whole, rests = ledger[-1]
            if one["offcut"]:
                sides = sorted(np.ptp(np.array(one["outline"]), axis=0).tolist())
                rests = [r for k, r in enumerate(rests) if k != rests.index(sides)]
            elif one["owned"]:
                whole -= 1
            if one["rest"]:
                left, low, right, high = one["rest"]
                rests = sorted([*rests, sorted([round(right - left, 1), round(high - low, 1)])])
            ledger.append((whole, rests))
        elif act == "undo" and len(ledger) > 1:
            assert client.post("/api/undo").status_code == 200
            ledger.pop()
        elif act == "buy":
            shelf = client.get("/api/foam-shelf").json()
            shelf["rows"][0]["sheets"] += 1
            assert client.put("/api/foam-shelf", json=shelf).status_code == 200
            ledger.append((ledger[-1][0] + 1, ledger[-1][1]))
        elif act == "keep":
            kept = client.get("/api/backup").content, list(ledger)
        elif act == "restore" and kept:
            assert client.post("/api/backup/restore", content=kept[0], headers=BINARY).status_code == 204
            ledger = list(kept[1])
        assert shelf_of(client) == ledger[-1]
        now = client.get(f"/api/builds/{number}/nest").json()["materials"]
        done = sum(len(c["parts"]) for m in now for c in m["cut"])
        assert sum(m["count"] for m in now) + done == sum(m["whole"] for m in now)


def test_on_a_sheet_with_one_good_face_no_part_is_the_wrong_hand(client, build, store):
    _, number, bracer = build
    post(client, f"/api/builds/{number}/pieces", {"design": {"template": "tasset", "layers": MAT}})
    for face in ("outer", "inner"):
        assert redesign(client, bracer, side="both", layers=MAT, drawn_face=face).status_code == 200
        (material,) = parts_of(builds.works_on(store, number)).materials
        assert material.one_faced
        for copy in material.copies:
            drawn = client.get(f"/api/pieces/{copy.key.split('/')[0]}/pattern").json()["panels"]
            like = next(p for p in drawn if copy.key.split("/")[1] == p["label"]["code"])
            hand = {"left": 1, "right": -1}.get(like["side"], 1) * (-1 if "/t" in copy.key else 1)
            wants = hand * {"left": 1, "right": -1}.get(like["side"], 1) * (-1 if like["face"] == "outer" else 1)
            ring = np.vstack([np.array(e["points"])[:-1] for e in like["edges"]])
            assert turning_alike(ring * [wants, 1], np.array(copy.form.shape.exterior.coords)[:-1]), copy.key


def turning_alike(a, b):
    """Whether two outlines are one moved on the table, not turned over: the third moments of shape tell hands apart."""

    def hand(ring):
        p = ring - ring.mean(0)
        axis = np.linalg.svd(p, full_matrices=False)[2]
        if np.linalg.det(axis) < 0:
            axis[1] *= -1
        q = p @ axis.T
        return np.sign((q[:, 0] ** 3).mean() * (q[:, 1] ** 3).mean())

    return hand(a) == hand(b)
