"""Flattening against surfaces whose answer is known exactly, and what must hold on any body."""

import math

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.bodies import CALF, FOREARM, SHELLS, WEARER, bare, limb, measures
from tests.depth import often
from vellumcut.core.design.piece import EndDesign, PieceDesign
from vellumcut.core.errors import CraftError
from vellumcut.core.flatten.marks import mark_places
from vellumcut.core.flatten.mesh import CUT_SIZE, EDIT_SIZE
from vellumcut.core.foam.verdict import STATES, place_words
from vellumcut.core.ink.library.table import TEMPLATES, starter_design
from vellumcut.core.pattern.as_cut import as_cut
from vellumcut.core.pattern.pattern import pattern_piece


def flat_of(readings, design, size=CUT_SIZE):
    return pattern_piece(readings, design, "Piece", "Build", size).panels[0].flat


def circle_through(points):
    """Centre, radius and largest miss of the best circle through points."""
    system = np.column_stack([2 * points, np.ones(len(points))])
    x, y, c = np.linalg.lstsq(system, (points**2).sum(axis=1), rcond=None)[0]
    radius = math.sqrt(c + x * x + y * y)
    return np.array([x, y]), radius, np.abs(np.linalg.norm(points - [x, y], axis=1) - radius).max()


@pytest.mark.parametrize("ratio", [1.0, 0.7])
@pytest.mark.parametrize("gap", [0.0, 20.0])
def test_a_cylinder_unrolls_to_a_strip_of_the_foams_middle(ratio, gap):
    """Radius 45, base layer 1.5, ease 3, foam 6: 2 pi (45 + 1.5 + 3 + 3) less the gap, for any oval (Steiner)."""
    around = 2 * math.pi * 45
    readings = measures(limb("forearm", (0, 100, 200), (around,) * 3, (ratio,) * 3))
    flat = flat_of(readings, bare(base_layer=1.5, ease=3, foam=6, back="open", closure="lacing", gap=gap))
    wanted = 2 * math.pi * (45 + 1.5 + 3 + 3) - gap
    for name in ("lower edge", "upper edge"):
        assert flat.edge(name).length == pytest.approx(wanted, abs=0.1)
    for name in ("closing edge A", "closing edge B"):
        assert flat.edge(name).length == pytest.approx(200, abs=0.05)
    assert flat.summary.worst < 0.05


@pytest.mark.parametrize(("low", "high", "tall"), [(40, 55, 250), (60, 42, 180), (35, 50, 120)])
def test_a_cone_unrolls_to_its_sector(low, high, tall):
    radii = [low + (high - low) * share for share in (0, 0.45, 1)]
    readings = measures(limb("forearm", (0, 0.45 * tall, tall), tuple(2 * math.pi * r for r in radii)))
    flat = flat_of(readings, bare(base_layer=1.5, ease=3, foam=6, back="closed"))
    slope = math.atan((high - low) / tall)
    out = 1.5 + 3 + 3
    angles = []
    for name, radius in (("lower edge", low), ("upper edge", high)):
        points = flat.edge(name).points()
        centre, found, miss = circle_through(points)
        assert found == pytest.approx(abs(radius / math.sin(slope) + out / math.tan(slope)), abs=0.2)
        assert miss < 0.02
        a, b = points[0] - centre, points[-1] - centre
        angles.append(math.degrees(math.acos(a @ b / np.linalg.norm(a) / np.linalg.norm(b))))
    assert angles == pytest.approx([360 * abs(math.sin(slope))] * 2, abs=0.05)


def test_an_ordinary_forearm_lies_flat_in_one_panel():
    panel = pattern_piece(measures(FOREARM), starter_design("bracer"), "Bracer", "", CUT_SIZE).panels[0]
    assert panel.flat.summary.p95 < 2.5
    assert panel.verdict.sentence == "Lies flat"


def test_a_full_calf_is_said_in_words():
    pattern = pattern_piece(measures(CALF), starter_design("greave"), "Greave", "", CUT_SIZE)
    panel = pattern.panels[0]
    assert 3.0 < panel.flat.summary.p95 < 6.0
    summary = panel.flat.summary
    assert summary.squeeze_p95 / pattern.give.squeeze > summary.stretch_p95 / pattern.give.stretch
    assert panel.verdict.sentence == f"Warm squeeze of {summary.squeeze_p95:.1f} %, near what foam gives"
    assert "at the ankle" in panel.verdict.advice
    assert "A shorter piece" in panel.verdict.advice
    assert "dart" in panel.verdict.advice
    assert panel.verdict.sentence in [f.message for f in pattern.findings]


@pytest.mark.parametrize("template", SHELLS)
def test_coarse_and_fine_meshes_agree(template):
    coarse, fine = (flat_of(WEARER, starter_design(template), size) for size in (EDIT_SIZE, CUT_SIZE))
    assert coarse.outline_length == pytest.approx(fine.outline_length, abs=0.8)
    apart = shapely.hausdorff_distance(shapely.LinearRing(coarse.outline), shapely.LinearRing(fine.outline))
    assert apart < 1.0
    assert coarse.summary.p95 == pytest.approx(fine.summary.p95, abs=0.35)


wide = st.floats(min_value=0.88, max_value=1.14)
end = st.builds(
    EndDesign,
    shape=st.sampled_from(["straight", "pointed"]),
    point=st.floats(min_value=5, max_value=40),
    flare=st.floats(min_value=0, max_value=3),
)


@settings(max_examples=often(20), deadline=None)
@given(
    st.sampled_from(SHELLS),
    st.tuples(wide, wide, wide),
    end,
    end,
    st.sampled_from([2, 5, 10]),
    st.floats(min_value=0, max_value=60),
)
def test_on_any_body_the_panel_is_whole(template, factors, lower, upper, foam, gap):
    """No flips, no overlap, seams alike, marks in pairs, mirrored twice is itself."""
    segment = TEMPLATES[template].part
    base = WEARER.limb(segment, "left")
    rows = list(base.stations.values())
    body = limb(segment, tuple(r.at for r in rows), tuple(r.girth * f for r, f in zip(rows, factors, strict=True)))
    flat = flat_of(
        measures(body), PieceDesign(template=template, lower=lower, upper=upper, foam=foam, gap=gap), EDIT_SIZE
    )
    a, b, c = (flat.vertices[flat.faces[:, k]] for k in range(3))
    assert np.all((b - a)[:, 0] * (c - a)[:, 1] - (b - a)[:, 1] * (c - a)[:, 0] > 0)
    assert shapely.Polygon(flat.outline).is_valid
    assert flat.seams[0].side_a == pytest.approx(flat.seams[0].side_b, abs=0.5)
    ticks = {side: [m.ticks for m in flat.marks if m.edge == f"closing edge {side}"] for side in "AB"}
    assert ticks["A"] == ticks["B"]
    twice = flat.mirrored().mirrored()
    assert np.allclose(twice.outline, flat.outline, atol=1e-9)
    assert np.array_equal(twice.faces, flat.faces)
    assert flat.mirrored().area == pytest.approx(flat.area)
    assert abs(flat.centre[0, 0] - flat.centre[-1, 0]) < 0.05


def test_beziers_and_points_are_the_same_curve():
    edge = flat_of(WEARER, starter_design("bracer")).edge("upper edge")
    t = np.linspace(0, 1, 20)[:, None]
    for p0, p1, p2, p3 in edge.beziers():
        curve = (1 - t) ** 3 * p0 + 3 * (1 - t) ** 2 * t * p1 + 3 * (1 - t) * t**2 * p2 + t**3 * p3
        assert shapely.hausdorff_distance(shapely.LineString(edge.points(0.2)), shapely.LineString(curve)) >= 0
        near = shapely.distance(shapely.LineString(edge.points(0.05)), shapely.points(curve))
        assert near.max() < 0.001


@given(st.floats(min_value=30, max_value=700))
def test_marks_stand_50_to_80_mm_apart_with_one_in_the_middle(length):
    places = mark_places(length)
    assert any(p == pytest.approx(length / 2) for p in places)
    assert all(0 < p < length for p in places)
    gaps = np.diff(places)
    assert np.all((gaps >= 49.99) & (gaps <= 80.01))
    assert places[0] <= 80.01


def test_the_same_input_gives_the_same_pattern():
    first, second = (flat_of(WEARER, starter_design("greave"), EDIT_SIZE) for _ in range(2))
    assert np.abs(first.outline - second.outline).max() < 0.01


def test_the_left_and_right_of_a_lopsided_wearer_get_their_own_panels():
    left = limb("forearm", (0, 138, 240), (172, 262, 268), side="left")
    right = limb("forearm", (0, 138, 240), (168, 250, 262), side="right")
    pattern = pattern_piece(measures(left, right), starter_design("bracer"), "Bracers", "", EDIT_SIZE)
    assert [(p.side, p.twin, p.label.count) for p in pattern.panels] == [
        ("left", False, "cut 1, left"),
        ("right", False, "cut 1, right"),
    ]
    widths = [p.flat.edge("lower edge").length for p in pattern.panels]
    assert 4 < widths[0] - widths[1] < 12


def test_the_drawn_face_is_honoured_and_labelled():
    outer, inner = (
        pattern_piece(
            WEARER, starter_design("bracer").model_copy(update={"drawn_face": face}), "Bracers", "Moth", EDIT_SIZE
        ).panels[0]
        for face in ("outer", "inner")
    )
    assert "inner face drawn" in inner.label.lines
    assert np.allclose(inner.flat.mirrored().outline, outer.flat.outline)
    assert outer.label.code == "BC 1 L"
    assert "cut 1 left + 1 right, pattern turned over" in outer.label.lines


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"upper": EndDesign(inset=230)}, "it needs 30 mm"),
        ({"upper": EndDesign(shape="pointed", point=120, inset=0)}, "the cast goes on for 80 mm"),
        ({"gap": 200.0, "back": "open"}, "at the narrowest place"),
        ({"ease_at": {"knee": 2.0}}, 'no station "knee"'),
    ],
)
def test_designs_that_cannot_be_made_say_why(change, words):
    with pytest.raises(CraftError, match=words):
        flat_of(WEARER, starter_design("bracer").model_copy(update=change), EDIT_SIZE)


def test_a_deep_hollow_holds_the_foam_back_and_says_where():
    waisted = measures(limb("forearm", (0, 60, 120), (400, 200, 400)))
    pattern = pattern_piece(waisted, bare(ease=40, foam=10, gap=30), "Odd", "", EDIT_SIZE)
    assert any("hollow at the belly holds" in f.message for f in pattern.findings)


def test_thick_foam_on_a_slim_wrist_is_pointed_out():
    found = pattern_piece(
        WEARER, starter_design("bracer").model_copy(update={"foam": 12.0}), "B", "", EDIT_SIZE
    ).findings
    assert any("too thick for the tightest curve" in f.message or "bends tightly" in f.message for f in found)
    odd = pattern_piece(WEARER, starter_design("bracer").model_copy(update={"foam": 7.0}), "B", "", EDIT_SIZE).findings
    assert any("stack" in f.message for f in odd)


def test_places_are_told_in_words():
    names = ("wrist", "belly", "elbow")
    assert place_words((0.5, 1.5), names) == "between belly and elbow, back"
    assert place_words((-0.25, 0.05), names) == "at the wrist, inside"
    assert place_words((0.25, 1.95), names) == "at the elbow, outside"
    trunk = [place_words((u, 0.0), ("hip", "waist"), True) for u in (0.0, 0.1, -0.1, 0.25, 0.75, 0.6, 0.5)]
    between = "at the hip, between front and side"
    assert trunk[:3] == ["at the hip, front", between, between]
    assert trunk[3:] == [
        "at the hip, side",
        "at the hip, side",
        "at the hip, between back and side",
        "at the hip, back",
    ]


@pytest.mark.parametrize(
    ("template", "choices", "sizes", "words"),
    [
        ("gorget", {}, {"flare": 34.0}, "A saddle: split it or let in a wedge"),
        ("breastplate", {"front": "centre ridge"}, {}, "Needs darts or a split"),
        ("tasset", {}, {}, "Lies flat"),
    ],
)
def test_a_verdict_tells_a_saddle_from_a_bulge(template, choices, sizes, words):
    plain = starter_design(template)
    design = plain.model_copy(update={"choices": {**plain.choices, **choices}, "sizes": {**plain.sizes, **sizes}})
    (panel,) = pattern_piece(WEARER, design, "P", "B", EDIT_SIZE).panels
    assert panel.verdict.sentence.startswith(words)
    assert "opening" not in panel.verdict.advice  # that is a plain limb shell's way out


def test_the_table_of_sheets_and_the_verdict_agree():
    pattern = pattern_piece(measures(CALF), starter_design("greave"), "G", "", EDIT_SIZE)
    (panel,) = pattern.panels
    assert pattern.in_sheets["armour", 6.0] == panel.verdict.state
    order = [STATES.index(pattern.in_sheets["armour", t]) for t in (1.0, 6.0, 12.0)]
    assert order == sorted(order)
    assert STATES.index(pattern.in_sheets["soft", 1.0]) < order[1]


def test_every_width_note_shows_a_formula_that_gives_its_result():
    pattern = pattern_piece(WEARER, starter_design("bracer"), "B", "", CUT_SIZE)
    widths = [n for n in pattern.notes if n.title.startswith("Width")]
    assert len(widths) == 3
    for note in widths:
        girth, out, lean, gap = (v.amount for v in note.values)
        assert girth + 2 * math.pi * out * lean - gap == pytest.approx(note.result.amount, abs=0.6)
        assert note.measured.amount == pytest.approx(note.result.amount, rel=0.03)


@pytest.mark.parametrize("slope", [0.0, 0.08])
@pytest.mark.parametrize(("radius", "thick"), [(22, 2), (22, 12), (45, 6), (80, 2), (80, 12)])
def test_a_closed_strip_is_as_long_as_the_middle_of_its_foam_is_round(radius, thick, slope):
    """As it is cut, on a cylinder and a cone, where the back is glued shut: 2 pi (r + gaps + t/2), the cone's gaps
    taken along its slanted normal (closed form); no bevel moves the outline."""
    stations, gaps = (0, 100, 240), 1.0 + 3.0 + thick / 2
    girths = tuple(2 * math.pi * (radius + slope * z) for z in stations)
    round_ = measures(limb("forearm", stations, girths, (1.0,) * 3))
    design = bare("bracer", foam=thick, base_layer=1.0, side="left", back="closed")
    cut = as_cut(pattern_piece(round_, design, "P", "B", CUT_SIZE))
    (panel,) = cut.panels
    (joint,) = cut.joints["left"]
    assert joint.bevel[0].off_square == 0
    out = gaps / np.sqrt(1 + slope**2)
    edges = {e.name: e for e in panel.flat.edges}
    for edge, z in (("lower edge", 0.0), ("upper edge", 240.0)):
        assert edges[edge].length == pytest.approx(2 * math.pi * (radius + slope * z + out), abs=0.01)
