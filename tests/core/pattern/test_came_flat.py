"""Panels that came flat: matched, corrected, made larger, fitted."""

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.bodies import WEARER
from tests.depth import long, often
from vellumcut.core.cast.halves import worn_tube
from vellumcut.core.design.flat import FlatEdgeKey, FlatLie, FlatMate, FlatShape, FlatStroke, FlatWork, places
from vellumcut.core.design.piece import PieceDesign, opening
from vellumcut.core.errors import CraftError
from vellumcut.core.flatten.came_flat import growth, matched
from vellumcut.core.flatten.outlines import as_drawn
from vellumcut.core.ink.library.table import starter_design
from vellumcut.core.make.job import flat_facts
from vellumcut.core.pattern.fit_flat import check_fit, disagreements, fitted, three_sizes
from vellumcut.core.pattern.flat_pattern import flat_pattern, match_flat
from vellumcut.core.trace.hand import corrections as c


def box(number=1, wide=200.0, high=150.0, every=5.0, dart=False, **more) -> FlatShape:
    """A rectangle with points along its sides; dart: one cut into its lower edge."""
    ring = [(0.0, 0.0), (wide, 0.0), (wide, high), (0.0, high)]
    if dart:
        ring[1:1] = [(wide / 2 - 12, 0.0), (wide / 2, 70.0), (wide / 2 + 14, 0.0)]
    dense = shapely.get_coordinates(shapely.segmentize(shapely.LinearRing(ring), every))[:-1]
    at = [int(np.argmin(np.hypot(*(dense - p).T))) for p in ring]
    darts = (at[2],) if dart else ()
    return FlatShape(number=number, outline=places(dense), corners=tuple(at), darts=darts, **more)


def mate(a, b, true=True) -> FlatMate:
    return FlatMate(a=FlatEdgeKey(panel=a[0], edge=a[1]), b=FlatEdgeKey(panel=b[0], edge=b[1]), true=true)


@given(st.floats(120, 300), st.floats(-9, 9), st.floats(-7, 7))
@settings(max_examples=often(25), deadline=None)
def test_edges_that_meet_are_made_equal_and_the_change_is_told(high, more, other):
    work = FlatWork(
        panels=(box(1, 200, high), box(2, 160, high + more), box(3, 140, high + other)),
        mates=(mate((1, 1), (2, 3)), mate((2, 1), (3, 3))),
    )
    made = matched(work)
    for told, apart in zip(made.mates, (abs(more), abs(more - other)), strict=True):
        assert told.apart == pytest.approx(apart, abs=0.01)
        assert abs(told.now[0] - told.now[1]) < 0.1
        assert told.moved < 10
    untouched = matched(
        FlatWork(panels=work.panels, mates=tuple(m.model_copy(update={"true": False}) for m in work.mates))
    )
    for number, edged in untouched.panels.items():
        assert np.allclose(np.vstack([e[:-1] for e in edged.edges]), np.array(work.panels[number - 1].outline))


def test_legs_of_a_dart_are_made_equal_and_its_tip_stays():
    made = matched(FlatWork(panels=(box(dart=True),)))
    ((_, tip, came, now),) = made.legs
    assert abs(came[0] - came[1]) > 0.2
    assert abs(now[0] - now[1]) < 0.05
    assert np.allclose(made.panels[1].edges[tip][0], (100.0, 70.0))


def test_every_dart_and_every_seam_of_flat_panels_is_known_to_the_order_of_work():
    work = FlatWork(panels=(box(1, dart=True), box(2)), mates=(mate((1, 4), (2, 3)),))
    facts = flat_facts(PieceDesign(template="bracer", flat=work))
    assert [(d.name, d.panel) for d in facts.darts] == [("dart 1", 1)]
    assert [(s.name, s.panels) for s in facts.seams] == [("seam A", (1, 2))]
    made = flat_pattern(PieceDesign(template="bracer", side="left", flat=work), "P", "B")
    glued = {name: mm for name, mm, _ in made.joined}
    (dart,) = made.panels[0].flat.darts
    # What is glued goes by the name that the order of work knows.
    assert glued["dart 1"] == pytest.approx((dart.left + dart.right) / 2)
    assert glued["seam A"] == pytest.approx(150, abs=1)


def test_a_pattern_off_the_skin_is_widened_for_foam():
    """A closed tube of 6 mm foam, 1.5 mm of base layer and 3 mm of ease over a girth of 250 mm wants 2 pi (r + 7.5)."""
    assert 250 * growth(250, 1.5, 3.0, 3.0) == pytest.approx(250 + 2 * np.pi * 7.5)
    work = FlatWork(panels=(box(wide=250),), grow=True, girth=250)
    made = flat_pattern(PieceDesign(template="bracer", foam=6, base_layer=1.5, ease=3, flat=work), "B", "b")
    assert np.ptp(made.panels[0].flat.outline[:, 0]) == pytest.approx(250 + 2 * np.pi * 7.5, abs=0.1)
    assert np.ptp(made.panels[0].flat.outline[:, 1]) == pytest.approx(150, abs=0.1)
    assert made.panels[0].verdict.state == "unknown"


def test_a_panel_on_paper_at_three_sizes_keeps_its_shape():
    work = FlatWork(panels=(box(2, 200, 150, dart=True, name="side", copies=2),), source="file")
    design = PieceDesign(template="bracer", flat=work)
    made = flat_pattern(three_sizes(design, 2, 0.05), "B", "b")
    for panel, factor in zip(made.panels, (0.95, 1.0, 1.05), strict=True):
        assert np.ptp(panel.flat.outline, axis=0) == pytest.approx((200 * factor, 150 * factor), abs=0.4)
        assert f"{factor * 100:.0f} %" in panel.label.piece
        assert len(panel.flat.darts) == 1
    with pytest.raises(CraftError):
        three_sizes(design, 9, 0.05)


def test_ticks_of_a_seam_lie_at_the_same_places_on_both_edges():
    work = FlatWork(panels=(box(1, 200, 180), box(2, 160, 186)), mates=(mate((1, 1), (2, 3)),))
    one, two = (p.flat for p in flat_pattern(PieceDesign(template="breastplate", flat=work), "B", "b").panels)
    up, other = (sorted((float(m.lines[:, 0, 1].mean()), m.ticks) for m in p.marks) for p in (one, two))
    assert [n for _, n in up] == [n for _, n in other]
    assert len(up) >= 2
    assert np.diff([y for y, _ in up]) == pytest.approx(np.diff([y for y, _ in other]), abs=0.1)


def test_a_maker_puts_an_outline_right():
    shape = box()
    moved = c.move_corner(shape, np.array([200.0, 150.0]), np.array([206.0, 150.0]))
    assert shapely.Polygon(moved.outline).area == pytest.approx(200 * 150 + 6 * 150 / 2, rel=0.01)
    assert len(c.toggle_corner(shape, np.array([100.0, 0.0])).corners) == 5
    assert len(c.toggle_corner(shape, np.array([200.0, 0.0])).corners) == 3
    wavy = np.array(shape.outline)
    wavy[1:20, 1] += 0.6 * np.sin(np.arange(19) * 2.0)
    rough = shape.model_copy(update={"outline": places(wavy)})
    assert np.abs(np.array(c.straighten(rough, 0).outline)[:40, 1]).max() < 1e-6
    assert np.abs(np.array(c.smooth(rough, 0).outline)[3:18, 1]).max() < 0.35
    one, two = c.cut(shape, np.array([[60.0, -5.0], [60.0, 160.0]]), 2)
    assert shapely.Polygon(one.outline).area + shapely.Polygon(two.outline).area == pytest.approx(200 * 150, rel=0.01)
    again = c.join(one, two)
    assert shapely.Polygon(again.outline).area == pytest.approx(200 * 150, rel=0.02)
    with pytest.raises(CraftError, match="edge to edge"):
        c.cut(shape, np.array([[60.0, 40.0], [60.0, 90.0]]), 2)


def test_a_half_is_made_symmetric_about_its_centre_line():
    ring = np.array([[0, 0], [110, 0], [104, 80], [90, 150], [0, 150.0]])
    dense = shapely.get_coordinates(shapely.segmentize(shapely.LinearRing(ring), 4.0))[:-1]
    line = FlatStroke(kind="centre line", points=((50.0, 0.0), (50.0, 150.0)))
    made = c.symmetric(FlatShape(number=1, outline=places(dense), corners=(0,), lines=(line,)), "right")
    area = shapely.Polygon(made.outline)
    mirrored = shapely.transform(area, lambda p: np.column_stack([100 - p[:, 0], p[:, 1]]))
    assert shapely.hausdorff_distance(area, mirrored) < 0.5
    assert area.area == pytest.approx(
        2 * shapely.Polygon(ring).intersection(shapely.box(50, 0, 200, 150)).area, rel=0.01
    )


def test_segment_lines_part_a_base_without_cutting_it():
    lines = tuple(FlatStroke(kind="segment", points=((3.0, y), (197.0, y + 4))) for y in (40.0, 90.0))
    base = box().model_copy(update={"lines": lines})
    parts = c.segments(base, 2)
    assert [p.number for p in parts] == [2, 3, 4]
    assert sum(shapely.Polygon(p.outline).area for p in parts) == pytest.approx(200 * 150, rel=0.01)
    heights = [np.mean(p.outline, axis=0)[1] for p in parts]
    assert heights == sorted(heights)


@given(st.floats(0.8, 1.25))
@settings(max_examples=often(10), deadline=None)
def test_a_pattern_of_another_body_is_made_to_go_round_this_one(scale):
    tube = worn_tube(WEARER, "forearm", "left", "usual")
    design = PieceDesign(template="bracer", back="closed", foam=5, base_layer=2, ease=3)
    ups = np.linspace(0, 200, 41)
    widths = scale * np.interp(ups, [0, 110, 200], [190, 265, 280])
    ring = np.vstack([np.column_stack([150 + widths / 2, ups]), np.column_stack([150 - widths / 2, ups])[::-1]])
    work = FlatWork(panels=(FlatShape(number=1, outline=places(ring), corners=(0, 40, 41, 81)),), source="file")
    made = check_fit(design.model_copy(update={"flat": work}), tube, [1])
    fits = fitted(work, [1], made)
    after = check_fit(design.model_copy(update={"flat": fits}), tube, [1])
    assert max(abs(r.was - r.wants) for r in after.rows) < 1.5
    row = next(r for r in made.rows if r.word != "between")
    assert row.wants == pytest.approx(row.body + 2 * np.pi * 7.5)


def gore(number: int, x: float, high: float, below: float, above: float, bulge: float, dips: tuple[float, float]):
    """A panel as it is drawn with few points: sides straight, or bowed by an arc of few; ends level, or dipping."""
    y = np.array([0.0, high]) if not bulge else np.linspace(0, high, 9)
    wide = np.interp(y, [0, high], [below, above]) + bulge * np.sin(np.pi * y / high)
    right, left = np.column_stack([wide / 2, y]), np.column_stack([-wide / 2, y])[::-1]
    span = np.linspace(-1, 1, 15)[1:-1]
    hem = np.column_stack([span * below / 2, -dips[0] * (1 - span**2)]) if dips[0] else np.zeros((0, 2))
    top = np.column_stack([-span * above / 2, high + dips[1] * (1 - span**2)]) if dips[1] else np.zeros((0, 2))
    ring = np.vstack([hem, right, top, left])
    at = (len(hem), len(hem) + len(right) - 1, len(hem) + len(right) + len(top), len(ring) - 1)
    line = FlatStroke(kind="fold", points=((0.0, 5.0), (0.0, high - 5.0)))
    return FlatShape(number=number, outline=places(ring + (x, 0)), corners=at, lines=(line,)), at


@given(
    st.integers(1, 4),
    st.floats(0.95, 1.3),
    st.sampled_from((0.0, 6.0, -5.0)),
    st.sampled_from(((0, 0), (8, 0), (5, 9))),
    st.booleans(),
)
@settings(max_examples=often(50), deadline=None)
def test_what_is_cut_goes_round_at_every_station_and_between(count, scale, bulge, dips, closed):
    """Few panels or many, their sides told by two points or some: the cut edges themselves, at their ends as well."""
    tube = worn_tube(WEARER, "forearm", "left", "usual")
    high = float(tube.at[-1] - tube.at[0])
    made = [
        gore(k + 1, 400.0 * k, high, scale * 180 / count, scale * 255 / count, bulge / count, dips)
        for k in range(count)
    ]
    mates = tuple(
        FlatMate(a=FlatEdgeKey(panel=k + 1, edge=0), b=FlatEdgeKey(panel=(k + 1) % count + 1, edge=2))
        for k in range(count if closed and count > 1 else count - 1)
    )
    work = FlatWork(panels=tuple(s for s, _ in made), source="file", mates=mates)
    own = {"back": "closed" if closed else "open", "foam": 5, "base_layer": 2, "ease": 3}
    design = PieceDesign(template="bracer", flat=work, **own)
    numbers = list(range(1, count + 1))
    fit = check_fit(design, tube, numbers)
    fits = design.model_copy(update={"flat": fitted(work, numbers, fit)})
    gap = opening(fits)
    cut = flat_pattern(fits, "Piece", "Build").panels
    names = dict(zip((float(z - tube.at[0]) for z in tube.at), tube.names, strict=True))
    for up in (*names, *np.linspace(1, high - 1, 23)):
        wide = 0.0
        for panel, (_, at) in zip(cut, made, strict=True):
            right, _, left, _ = (e.points(0.2) for e in panel.flat.edges)
            # A hem that dips begins the pattern; there its sides are not, and nothing is to be read off them.
            if not max(right[0, 1], left[-1, 1]) - 0.01 <= up <= min(right[-1, 1], left[0, 1]) + 0.01:
                wide = np.nan
                break
            wide += float(np.interp(up, right[:, 1], right[:, 0]) - np.interp(up, left[::-1, 1], left[::-1, 0]))
            assert len(at) == len(panel.flat.edges)
        wanted = float(tube.girth(tube.along(tube.at[0] + up))) + 2 * np.pi * 7.5 - gap
        assert np.isnan(wide) or wide == pytest.approx(wanted, abs=0.5), names.get(up, up)
        assert not np.isnan(wide) or any(dips), "level ends are read, too"
    assert {r.word for r in fit.rows} >= set(tube.names)
    for told in match_flat(fits).mates:
        assert told.now[0] == pytest.approx(told.now[1], abs=0.1)
    assert check_fit(fits, tube, numbers).off < 0.5


def test_a_panel_that_was_laid_down_stays_there_when_it_is_made_to_fit():
    tube = worn_tube(WEARER, "forearm", "left", "usual", {})
    lies = tuple(FlatLie(panel=n, at=(0.0, 0.0), around=0.1, along=0.5, up=20) for n in (1, 2))
    work = FlatWork(panels=(box(1, 200, 240), box(2, 60, 60)), source="file", lies=lies)
    fit = check_fit(PieceDesign(template="bracer", flat=work), tube, [1])
    made = fitted(work, [1], fit)
    assert abs(made.panels[0].outline[0][0]) > 5, "its corner moved"
    assert made.lies[0].at == pytest.approx(made.panels[0].outline[0])
    assert made.lies[1] == lies[1]


def test_what_is_punched_keeps_its_size_and_what_is_cut_out_grows_with_its_panel():
    """A rivet's hole and a window, in a pattern made to fit and in one taken off the skin and made larger."""
    rivet, window = (shapely.Point(60, y).buffer(r, 16) for y, r in ((40, 2.5), (110, 30)))
    holes = tuple(places(shapely.get_coordinates(h.exterior)[:-1]) for h in (rivet, window))
    shape = box().model_copy(update={"holes": holes})
    tube = worn_tube(WEARER, "forearm", "left", "usual")
    design = PieceDesign(template="bracer", flat=FlatWork(panels=(shape,), source="file"))
    fit = check_fit(design, tube, [1])
    (fits,) = fitted(design.flat, [1], fit).panels
    grown = matched(design.flat, 1.2).panels[1].holes
    for made in (fits.holes, grown):
        small, large = (np.ptp(np.array(h), axis=0) for h in made)
        assert np.allclose(small, [5, 5], atol=0.01)
        assert large[0] > 62
        assert large[1] == pytest.approx(60, abs=0.01)
    (x, y) = np.mean(fits.holes[0], axis=0)
    factor = np.interp(40, fit.ups, fit.factors)
    assert (x, y) == (pytest.approx(100 + (60 - 100) * factor, abs=0.1), pytest.approx(40, abs=0.01))


def test_a_cast_that_disagrees_with_the_tape_is_asked_about():
    """A cast that is 12 mm too narrow at the belly, and true at both ends."""
    tube = worn_tube(WEARER, "forearm", "left", "usual")
    ups = np.linspace(0.5, tube.length - 0.5, 49)
    girths = tube.girth(tube.along(tube.at[0] + ups))
    girths = girths - 12 * np.exp(-(((ups - (tube.at[1] - tube.at[0])) / 30) ** 2))
    ring = np.vstack([np.column_stack([150 + girths / 2, ups]), np.column_stack([150 - girths / 2, ups])[::-1]])
    work = FlatWork(panels=(FlatShape(number=1, outline=places(ring), corners=(0, 48, 49, 97)),))
    design = PieceDesign(template="bracer", back="closed", flat=work)
    (question,) = disagreements(work, check_fit(design, tube, [1]))
    assert "belly" in question
    assert "12 mm less" in question or "11 mm less" in question
    assert disagreements(work.model_copy(update={"source": "file"}), check_fit(design, tube, [1])) == []


def test_a_pattern_that_is_no_round_is_refused():
    tube = worn_tube(WEARER, "forearm", "left", "usual")
    design = PieceDesign(template="bracer", flat=FlatWork(panels=(box(wide=90),)))
    with pytest.raises(CraftError, match="make the round together"):
        check_fit(design, tube, [1])


def test_a_point_that_a_file_draws_twice_is_one():
    points = np.array([[0.0, 0.0], [0.0, 0.0], [40.0, 0.0], [40.0, 0.0], [41.0, 0.2], [80.0, 30.0], [80.0, 30.0]])
    made = as_drawn(points)
    assert np.hypot(*np.diff(made, axis=0).T).min() > 1e-3
    assert shapely.hausdorff_distance(shapely.LineString(made), shapely.LineString(points)) < 1e-9


CORNERED = st.lists(st.floats(8, 60), min_size=3, max_size=9)


@long
@settings(max_examples=often(20), deadline=None)
@given(CORNERED, st.floats(3, 30), st.integers(2, 12), st.floats(0, 2 * np.pi))
def test_what_a_file_draws_straight_is_cut_straight_and_what_it_draws_round_stays_round(radii, r, slots, turned):
    """Lobes of every width, rounded by arcs of short steps that follow long ones, with slots cut out: the curve that
    a knife follows against the drawn steps themselves."""
    ways = np.linspace(0, 2 * np.pi, len(radii), endpoint=False) + turned
    lobes = [
        shapely.Point(200 * np.cos(a), 200 * np.sin(a)).buffer(x + r, 24) for a, x in zip(ways, radii, strict=True)
    ]
    drawn = shapely.orient_polygons(shapely.convex_hull(shapely.MultiPolygon(lobes)).buffer(-r, 16, join_style="mitre"))
    ring = shapely.get_coordinates(drawn.exterior)[:-1]
    slot = shapely.box(-slots, -3, slots, 3)
    shape = FlatShape(
        number=1, outline=places(ring), holes=(places(shapely.get_coordinates(slot.exterior)[:-1]),), corners=(0,)
    )
    design = starter_design("bracer").model_copy(update={"flat": FlatWork(panels=(shape,), source="file")})
    (panel,) = flat_pattern(design, "Piece", "Build").panels
    low = ring.min(axis=0)
    for edges, truth in ((panel.flat.edges, drawn.exterior), (panel.flat.holes, slot.exterior)):
        cut = shapely.LinearRing(np.vstack([e.points(0.1)[:-1] for e in edges]) + low)
        assert shapely.hausdorff_distance(cut, truth, densify=0.01) < 0.06
    assert len(panel.flat.faces) > 0
