"""The cutter by another hand: its code read with a pattern of letters and replayed here, held against the DXF of the
same sheet as ezdxf reads it; then the machine's own word for it."""

import io
import re

import ezdxf
import numpy as np
import pytest
import shapely
from ezdxf.path import make_path

from tests.api.conftest import post
from tests.api.test_foam import redesign
from tests.api.test_nest import lay, shelf_of
from tests.formats.habits import svg

ORDER = re.compile(r"^(MOVE|LINE|DOWN|UP|TOOL|PAUSE|SHEET|UNIT|END|;)\s*(.*)$")


def strokes_of(code):
    """Each setting down of a tool: tool, part by the last remark, points, depths of its stretches."""
    tool = part = None
    at, down, out = (0.0, 0.0), None, []
    for line in code.splitlines():
        word, rest = ORDER.match(line).groups()
        if word == ";":
            part = rest
        elif word == "TOOL":
            assert down is None
            tool = rest
        elif word == "DOWN":
            if down is None:
                out.append((tool, part, [at], []))
            down = float(rest)
        elif word == "UP":
            down = None
        elif word in ("MOVE", "LINE"):
            at = tuple(map(float, rest.split()))
            assert (word == "LINE") == (down is not None)
            if word == "LINE":
                out[-1][2].append(at)
                out[-1][3].append(down)
    assert at == (0.0, 0.0)
    assert down is None
    return [(t, p, np.array(points), np.array(depths)) for t, p, points, depths in out]


def patterns_of(dxf):
    """Closed curves that are cut, from the DXF of a sheet: outlines of parts, and of what is cut out of them."""
    space = ezdxf.read(io.StringIO(dxf.replace("\r\n", "\n"))).modelspace()
    paths = [make_path(e) for e in space.query('*[layer=="cut"]')]
    lines = [shapely.LineString([(p.x, p.y) for p in path.flattening(0.002)]) for path in paths]
    faces = shapely.get_parts(shapely.polygonize([shapely.unary_union(shapely.set_precision(lines, 1e-4))]))
    return [shapely.Polygon(f.exterior) for f in faces]


@pytest.fixture
def on_sheets(client, build):
    _, number, bracer = build
    assert redesign(client, bracer, side="both", layers=[{"thickness": 6}]).status_code == 200
    for template in ("ridged greave", "gorget"):
        post(client, f"/api/builds/{number}/pieces", {"design": {"template": template, "layers": [{"thickness": 6}]}})
    plate = svg('<g id="Cut"><path d="M0 0H300V260H0Z"/></g><g id="Vents"><circle cx="150" cy="130" r="100"/></g>')
    sent = client.post(
        f"/api/builds/{number}/pattern-files", params={"name": "Ring.svg", "layers": "Vents=holes"}, content=plate
    )
    assert sent.status_code == 201, sent.text
    six = next(m for m in lay(client, number, tool="cutter")["materials"] if m["key"] == "armour 6")
    return f"/api/builds/{number}/nest/armour 6", six["sheets"]


def asked(client, way, what, sheet, **more):
    return client.get(f"{way}/{what}", params={"sheet": sheet["key"], **more})


def test_code_cuts_the_pattern_and_nothing_else(client, on_sheets):
    way, sheets = on_sheets
    inner = 0
    for sheet in sheets:
        runs = strokes_of(asked(client, way, "knife", sheet).text)
        rings = patterns_of(asked(client, way, "sheet", sheet, form="dxf").text)
        edge = shapely.Polygon(sheet["outline"]).buffer(0.01)
        lines = shapely.unary_union([r.boundary for r in rings]).buffer(0.05)
        parts = shapely.unary_union([shapely.Polygon(p["outline"], p["holes"]) for p in sheet["parts"]]).buffer(-0.3)
        knife = [r for r in runs if r[0] == "KNIFE"]
        over = 0.0
        for _, _, points, _ in knife:
            run = shapely.LineString(points)
            assert edge.covers(run)
            assert run.intersection(parts).length < 0.01
            past = run.difference(lines).length
            assert past < 6 * np.tan(np.radians(20)) + 0.1
            over += past
        assert over > 5  # corners are run over
        cut = shapely.unary_union([shapely.LineString(r[2]) for r in knife])
        fine = shapely.points(np.vstack([shapely.get_coordinates(r.boundary.segmentize(0.2)) for r in rings]))
        assert shapely.distance(fine, cut).max() < 0.05
        first_knife = next(k for k, r in enumerate(runs) if r[0] == "KNIFE")
        assert all(r[0] == "KNIFE" for r in runs[first_knife:])
        assert all(r[3].max() == pytest.approx(6) for r in knife)
        inner += _inner_before_outer(knife, rings)
    assert inner


def _inner_before_outer(knife, rings):
    """By the moment at which the last of a closed curve is cut."""
    when = {}
    for k, ring in enumerate(rings):
        near = ring.boundary.buffer(0.06)
        when[k] = max(n for n, r in enumerate(knife) if shapely.LineString(r[2]).intersection(near).length > 3)
    pairs = [(a, b) for a in when for b in when if a != b and rings[b].buffer(-0.1).contains(rings[a])]
    assert all(when[a] < when[b] for a, b in pairs)
    return len(pairs)


def test_the_machine_measures_what_it_cut_and_can_be_stopped_and_run_dry(client, on_sheets):
    way, sheets = on_sheets
    sheet = sheets[0]
    whole = asked(client, way, "play", sheet).json()
    assert not whole["stopped"]
    assert [p["right"] for p in whole["parts"]] == [True] * len(sheet["parts"])
    assert 0 < max(p["worst"] for p in whole["parts"]) < 0.05
    assert whole["left_by_hand"] <= whole["corners"]
    half = asked(client, way, "play", sheet, until=whole["seconds"] * 0.85).json()
    free = [p for p in half["parts"] if p["worst"] is not None]
    assert half["stopped"]
    assert 0 < len(free) < len(sheet["parts"])
    assert half["seconds"] < whole["seconds"]
    dry = asked(client, way, "play", sheet, dry=True).json()
    assert not dry["parts"]
    assert max(e[3] for e in dry["events"]) == -1
    assert dry["seconds"] == pytest.approx(whole["seconds"])


def test_thick_foam_goes_in_passes_and_what_is_in_the_way_is_said(client, on_sheets):
    way, sheets = on_sheets
    usual = client.get("/api/cutter").json()
    client.put("/api/cutter", json=usual | {"deepest": "2 mm", "tabs_below": 1000}).raise_for_status()
    runs = [r for r in strokes_of(asked(client, way, "knife", sheets[0]).text) if r[0] == "KNIFE"]
    assert {round(float(r[3].max()), 2) for r in runs} == {2.0, 4.0, 6.0}
    assert {round(float(r[3].min()), 2) for r in runs} == {2.0, 4.0, 5.0, 6.0}  # 5: over a tab
    played = asked(client, way, "play", sheets[0]).json()
    assert all(p["right"] for p in played["parts"])
    assert played["tabs"] == len(sheets[0]["parts"])
    part = sheets[0]["parts"][0]
    low = np.array(part["outline"]).min(0)
    clamp = {"x": low[0], "y": low[1], "width": 40, "height": 40}
    client.put("/api/cutter", json=usual | {"clamps": [clamp]}).raise_for_status()
    refused = asked(client, way, "play", sheets[0])
    assert refused.status_code == 422
    assert "under the clamp" in refused.text
    client.put("/api/cutter", json=usual | {"width": 900}).raise_for_status()
    assert "the bed takes 900" in asked(client, way, "knife", sheets[0]).text
    for wrong in (
        {"blade": 90},
        {"deepest": 0},
        {"width": -3},
        {"clamps": [{"x": 0, "y": 0, "width": 0, "height": 1}]},
    ):
        assert client.put("/api/cutter", json=usual | wrong).status_code == 422
    assert client.get("/api/cutter").json()["width"] == 900
    client.post("/api/undo")
    assert client.get("/api/cutter").json()["clamps"]
    assert shelf_of(client) == (0, [])
