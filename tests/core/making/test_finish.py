"""Zones of a finish, their masks and the files of these, measured."""

import io
import math

import ezdxf
import numpy as np
import pypdf
import pytest
import shapely
import svgelements

from tests.bodies import WEARER, bare
from tests.core.making.test_stacks import stack
from tests.formats.test_patterns_read_back import strokes
from vellumcut.core.design.finish import ZoneFinish
from vellumcut.core.design.making import Detail, Making
from vellumcut.core.design.sheet import Stroke
from vellumcut.core.errors import CraftError
from vellumcut.core.finish.layers import coats_of
from vellumcut.core.finish.masks import Mask, circle, cut_length, laid_out, mask_sheet
from vellumcut.core.finish.recipes import PLAIN
from vellumcut.core.finish.zones import bending, painted_zones, zone_findings, zones_of
from vellumcut.core.ink.library.table import starter_design
from vellumcut.core.ink.templates import ink_sheet
from vellumcut.core.paces import Tempo
from vellumcut.core.pattern.pattern import pattern_piece
from vellumcut.formats.making.masks import write_mask_dxf, write_mask_pdf, write_mask_svg


def lined(*strokes: Stroke, template="bracer"):
    """A piece with lines of paint on it, flattened."""
    design = bare(template, back="open") if template == "bracer" else starter_design(template)
    plain = pattern_piece(WEARER, design, "Piece", "Build", 8.0)
    side = plain.panels[0].side
    sheet = ink_sheet(plain.inked[side].tube, design)
    inked = sheet.model_copy(update={"strokes": (*sheet.strokes, *strokes)})
    return pattern_piece(WEARER, design.model_copy(update={"ink": inked}), "Piece", "Build", 8.0)


ACROSS = Stroke(
    key="band", kind="paint line", name="band", points=((-0.6, 1.0), (0.0, 1.0), (0.6, 1.0)), curve="straight"
)
RING = Stroke(
    key="ring", kind="paint line", name="ring", closed=True,
    points=tuple((0.08 * math.sin(t), 1.0 + 0.2 * math.cos(t)) for t in np.linspace(0, 2 * math.pi, 9)[:-1]),
)  # fmt: skip
GOLD = ZoneFinish(stack=stack("pri acr met:name=gold:taped=yes sat"), zones=("1b",))


def test_ink_parts_a_panel_into_zones_that_fill_it():
    pattern = lined(ACROSS, RING)
    zones = zones_of(pattern)
    (flat,) = (p.flat for p in pattern.panels)
    assert len(zones) == 4, [z.name for z in zones]
    assert sum(z.shape.area for z in zones) == pytest.approx(flat.area, rel=1e-4)
    for one in zones:
        for other in zones:
            assert one is other or one.shape.intersection(other.shape).area < 0.5
    assert [z.name for z in zones] == ["1a", "1b", "1c", "1d"]
    plain = zones_of(pattern_piece(WEARER, starter_design("bracer"), "Piece", "Build", 8.0))
    assert [z.name for z in plain] == ["1"]


def test_a_finish_ends_at_as_much_line_as_is_drawn():
    pattern = lined(ACROSS)
    lines = [x.points for x in pattern.panels[0].flat.lines if x.kind == "paint line"]
    drawn = sum(shapely.LineString(x).length for x in lines)
    making = Making(finishes=(GOLD.model_copy(update={"zones": ("1a",)}),))
    first, second = painted_zones(pattern, making, ZoneFinish(stack=PLAIN), Tempo())
    assert [first.mask, second.mask] == pytest.approx([drawn * pattern.copies] * 2, rel=0.03)
    assert first.area + second.area == pytest.approx(pattern.face_area, rel=1e-4)
    # Many thin edges are quicker by hand: the same area with a long line, and a large area with a short one.
    slow = painted_zones(pattern, making, ZoneFinish(stack=PLAIN), Tempo({"mask": 5.0}))
    fast = painted_zones(pattern, making, ZoneFinish(stack=PLAIN), Tempo({"mask": 5000.0, "hand paint": 0.0005}))
    assert next(p for p in slow if p.finish.zones).hand
    assert not next(p for p in fast if p.finish.zones).hand
    forced = Making(finishes=(GOLD.model_copy(update={"zones": ("1a",), "by_hand": False}),))
    assert not next(
        p for p in painted_zones(pattern, forced, ZoneFinish(stack=PLAIN), Tempo({"mask": 5.0})) if p.finish.zones
    ).hand


def test_panels_in_two_finishes_meet_at_their_seam():
    design = starter_design("breastplate").model_copy(update={"choices": {"front": "cups"}})
    pattern = pattern_piece(WEARER, design, "Piece", "Build", 12.0)
    making = Making(finishes=(GOLD.model_copy(update={"zones": ("1",)}),))
    cup = next(s for p in pattern.panels for s in p.flat.seams if s.name == "cup")
    copies = next(p.copies for p in pattern.panels if p.flat.number == 1)
    for p in painted_zones(pattern, making, ZoneFinish(stack=PLAIN), Tempo()):
        assert p.mask == pytest.approx(cup.on_body * copies, rel=0.03)
    assert bending(pattern) == {}
    assert bending(lined(ACROSS))[1].startswith("it is bent open")


def test_what_was_painted_whole_stays_painted_when_a_line_parts_it():
    pattern = lined(ACROSS, RING)
    blue = ZoneFinish(stack=stack("pri acr:name=blue sat"), zones=("1b",))
    making = Making(finishes=(GOLD.model_copy(update={"zones": ("1",)}), blue))
    covered = {
        p.finish.zones: {z.name for z in p.zones}
        for p in painted_zones(pattern, making, ZoneFinish(stack=PLAIN), Tempo())
    }
    assert covered == {("1",): {"1a", "1c", "1d"}, ("1b",): {"1b"}}
    assert zone_findings(pattern, making) == []


def test_what_tape_is_laid_on_waits_its_tape_time():
    plain, taped = coats_of(stack("pri acr acr flex")), coats_of(stack("pri acr acr:taped=yes flex"))
    assert [c.settle for c in plain] == [240, 60, 60, 240]
    assert [c.settle for c in taped] == [240, 720, 60, 240]
    assert coats_of(stack("pri acr:before_next=30 acr:taped=yes flex"))[1].settle == 30, (
        "the maker's own tin is believed"
    )


def test_what_bounds_nothing_is_said():
    stub = Stroke(key="stub", kind="paint line", name="stub", points=((-0.1, 1.0), (0.1, 1.0)), curve="straight")
    (found,) = zone_findings(lined(stub), Making())
    assert "ends inside it and parts nothing" in found.message
    (lost,) = zone_findings(lined(ACROSS), Making(finishes=(GOLD.model_copy(update={"zones": ("9z",)}),)))
    assert "Zone 9z" in lost.message


def masks() -> list[Mask]:
    pattern = lined(ACROSS)
    making = Making(
        finishes=(GOLD.model_copy(update={"zones": ("1a",), "by_hand": False}),),
        details=(Detail(key="r", kind="rivets", name="rivets", count=5, size=12.0),),
    )
    return mask_sheet(
        painted_zones(pattern, making, ZoneFinish(stack=PLAIN, by_hand=True), Tempo()), making, pattern.laid
    )


def test_mask_sheets_read_back_hold_the_zone_and_the_rivets():
    made = masks()
    zone, rivets = made
    assert (zone.count, zone.turned, rivets.count) == (2, 1, 5)
    true = shapely.Polygon(zone.rings[0]).area
    assert shapely.Polygon(circle(12.0)).area == pytest.approx(math.pi * 36, rel=1e-9)
    svg = svgelements.SVG.parse(io.StringIO(write_mask_svg(made, "Bracers & co")), ppi=25.4)
    paths = [e for e in svg.elements() if isinstance(e, svgelements.Path)]
    assert len(paths) == 7
    areas = sorted(shapely.Polygon([(p.x, p.y) for p in path.as_points()]).area for path in paths)
    assert areas[-2:] == pytest.approx([true, true], rel=1e-4)
    assert areas[:5] == pytest.approx([math.pi * 36] * 5, rel=1e-3)
    drawing = ezdxf.read(io.StringIO(write_mask_dxf(made).decode())).modelspace()
    rings = [shapely.Polygon(list(x.vertices())) for x in drawing.query('LWPOLYLINE[layer=="cut"]')]
    assert sorted(r.area for r in rings) == pytest.approx(areas, rel=1e-4)
    assert all(one is two or not one.intersects(two) for one in rings for two in rings), "none lies on another"
    left, right = sorted(rings, key=lambda r: r.area)[-2:]
    turned = shapely.affinity.scale(left, -1, 1, origin=(0, 0))
    move = np.array(right.bounds[:2]) - np.array(turned.bounds[:2])
    assert shapely.affinity.translate(turned, *move).symmetric_difference(right).area < 1.0, (
        "one is the other turned over"
    )
    assert cut_length(made) == pytest.approx(sum(r.exterior.length for r in rings))
    reader = pypdf.PdfReader(io.BytesIO(write_mask_pdf(made, "Bracers", "A4", 1.0)))
    assert "Test square" in reader.pages[0].extract_text()
    assert "5 x rivets, 12 mm across" in reader.pages[0].extract_text()
    lines, _ = strokes(reader.pages[-1])
    points = np.vstack([np.array(x) for _, x in lines])
    assert np.ptp(points, axis=0) == pytest.approx([12.0, 12.0], abs=0.05)
    assert laid_out([]) == []
    with pytest.raises(CraftError, match="has no masks"):
        write_mask_svg([], "nothing")
