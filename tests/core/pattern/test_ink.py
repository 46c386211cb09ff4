"""Ink on the body: curves, regions, what is wrong with them, and that nothing of it is lost on the way."""

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.bodies import CALF, FOREARM, THIGH, UPPER_ARM, WEARER, measures, trunk
from tests.core.body.test_trunk import EXTREMES
from tests.depth import often
from vellumcut.core.body.ellipse import EllipticTube
from vellumcut.core.cast.body_form import plan_padding
from vellumcut.core.cast.stations import build_tube
from vellumcut.core.design.sheet import InkSheet, Stroke, mirror_sheet, mirror_stroke, stroke_line
from vellumcut.core.errors import CraftError
from vellumcut.core.ink.library.table import TEMPLATES, starter_design
from vellumcut.core.ink.regions import read_ink
from vellumcut.core.ink.templates import armour_surface, ink_sheet
from vellumcut.core.pattern.pattern import pattern_piece

TUBE = EllipticTube(("low", "mid", "high"), (0.0, 150.0, 300.0), (300.0, 300.0, 300.0), (1.0, 1.0, 1.0))
DRAWN = [name for name, t in TEMPLATES.items() if t.lay is not None]


def stroke(key, *points, kind="outline", curve="straight", **more) -> Stroke:
    return Stroke(key=key, kind=kind, points=points, curve=curve, **more)


def box(left=-0.1, right=0.1, low=0.5, high=1.5) -> tuple[Stroke, ...]:
    a, b, c, d = (left, low), (right, low), (right, high), (left, high)
    return stroke("low", a, b), stroke("right", b, c), stroke("high", c, d), stroke("left", d, a)


def read(*strokes, **more):
    return read_ink(TUBE, InkSheet(strokes=strokes, **more))


def test_a_box_is_one_panel_of_its_true_size():
    made = read(*box())
    assert not made.problems
    (region,) = made.regions
    assert region.area == pytest.approx(0.2 * 300 * 150, rel=1e-6)
    assert [e.name for e in region.ink.outline] == ["outline", "outline 2", "outline 3", "outline 4"] or len(
        region.ink.outline
    ) == 4
    assert shapely.LinearRing(region.ring).is_ccw


def test_a_seam_divides_it_and_both_sides_share_the_seam():
    made = read(*box(), stroke("cut", (0.0, 0.5), (0.0, 1.5), kind="seam"))
    assert [r.area for r in made.regions] == pytest.approx([4500, 4500], rel=1e-6)
    arcs = [{e.arc for e in r.ink.outline if e.kind == "seam"} for r in made.regions]
    assert arcs[0] == arcs[1] != set()


def test_a_panel_may_lie_across_the_back():
    a, b, c, d = (0.4, 0.5), (0.6, 0.5), (0.6, 1.5), (0.4, 1.5)
    made = read(stroke("1", a, b), stroke("2", b, c), stroke("3", c, d), stroke("4", d, a))
    assert [r.area for r in made.regions] == pytest.approx([9000], rel=1e-6)


def test_a_closed_stroke_inside_is_a_panel_of_its_own_or_a_window():
    hole = stroke("eye", (-0.03, 0.9), (0.03, 0.9), (0.0, 1.1), closed=True)
    assert len(read(*box(), hole).regions) == 2
    assert len(read(*box(), hole, left_out=((0.0, 0.97),)).regions) == 1


def test_panels_are_numbered_from_the_low_end():
    bands = [stroke(f"b{k}", (-0.1, v), (0.1, v)) for k, v in enumerate((0.6, 1.4, 1.0))]
    made = read(*box(), *bands)
    heights = [r.inside[1] for r in made.regions]
    assert [r.number for r in made.regions] == [1, 2, 3, 4]
    assert heights == sorted(heights)


@pytest.mark.parametrize(
    ("strokes", "kind", "words", "at"),
    [
        ((*box()[:3], stroke("left", (-0.1, 1.5), (-0.1, 0.7))), "gap", "does not close", (-0.1, 0.7)),
        ((*box(), stroke("x", (-0.15, 1.0), (0.15, 1.0), kind="seam")), "crossing", "cross without a join", (0.1, 1.0)),
        ((*box(), stroke("s", (-0.1, 0.52), (0.1, 0.52), kind="seam")), "sliver", "sliver under 5 mm", (0.0, 0.51)),
        ((*box(high=2.9),), "outside", "past the end of the cast", (0.1, 2.9)),
    ],
)
def test_what_does_not_work_is_pointed_at_in_place(strokes, kind, words, at):
    found = [p for p in read(*strokes).problems if p.kind == kind]
    assert found
    assert all(words in p.message for p in found)
    near = min(np.hypot((p.at[0] - at[0]) * 300, (p.at[1] - at[1]) * 150) for p in found)
    assert near < 20


def test_hand_drawn_corners_that_nearly_meet_are_joined():
    wobble = 2.5 / 300
    a, _b, c, d = box()
    loose = stroke("right", (0.1 + wobble, 0.5), (0.1 - wobble, 1.5))
    made = read(a, loose, c, d)
    assert len(made.regions) == 1
    assert not made.problems


coordinate = st.tuples(st.floats(-1.4, 1.4), st.floats(-1, 4))


@settings(max_examples=often(40), deadline=None)
@given(st.lists(coordinate, min_size=2, max_size=9), st.booleans(), st.sampled_from(["smooth", "straight"]))
def test_a_stroke_runs_through_its_points_and_mirrored_twice_is_itself(points, closed, curve):
    made = Stroke(key="a", kind="seam", points=tuple(points), curve=curve, closed=closed)
    line = stroke_line(made)
    for p in points:
        assert np.abs(line - p).sum(axis=1).min() < 1e-9
    assert mirror_stroke(mirror_stroke(made)) == made
    sheet = InkSheet(strokes=(made,), left_out=(points[0],))
    assert mirror_sheet(mirror_sheet(sheet)) == sheet
    assert np.array_equal(stroke_line(mirror_stroke(made)), line * [-1, 1])
    assert InkSheet.model_validate_json(sheet.model_dump_json()) == sheet


@pytest.mark.parametrize("body", ["usual", *EXTREMES])
@pytest.mark.parametrize("template", DRAWN)
def test_every_template_closes_on_every_body_with_every_choice(template, body):
    wearer = WEARER if body == "usual" else WEARER.model_copy(update={"torso": EXTREMES[body]})
    part = TEMPLATES[template].part
    if body != "usual" and part != "torso":
        factor = {"full bust on small ribs": 1.0, "heavy, round back": 1.3, "slight": 0.8, "broad and lean": 1.12}[body]
        wearer = measures(*(_scaled(x, factor) for x in (FOREARM, CALF, UPPER_ARM, THIGH)))
    tube = build_tube(wearer, part, "left")
    options = [{}] + [{c.name: o} for c in TEMPLATES[template].choices for o in c.options]
    for choices in options:
        design = starter_design(template).model_copy(update={"choices": choices})
        made = read_ink(tube, ink_sheet(tube, design))
        assert made.regions, choices
        assert [p.message for p in made.problems if p.kind != "outside"] == []


def _scaled(reading, factor):
    rows = {n: r.model_copy(update={"girth": r.girth * factor}) for n, r in reading.stations.items()}
    return reading.model_copy(update={"stations": rows})


def test_new_measures_move_the_ink_with_its_landmarks():
    slim, wide = (
        WEARER.model_copy(update={"torso": trunk(bust=b, underbust=b * 0.88, waist=b * 0.82, hip=b * 1.05)})
        for b in (860, 1080)
    )
    tubes = [build_tube(w, "torso", "left") for w in (slim, wide)]
    design = starter_design("breastplate")
    sheet = ink_sheet(tubes[0], design)
    readings = [read_ink(t, sheet) for t in tubes]
    assert [len(r.regions) for r in readings] == [1, 1]
    hem = next(s for s in sheet.strokes if s.key == "hem").points[0][1]
    for tube in tubes:
        assert float(tube.mm(1.0)) - float(tube.mm(hem)) > 0
        side = np.array([[0.25, 1.0], [0.25, 3.0]])
        assert abs(tube.uv_to_xyz(side)[:, 1]).max() < 60
    assert readings[1].regions[0].area / readings[0].regions[0].area == pytest.approx(1080 / 860, rel=0.12)


def test_kept_ink_gives_the_same_panels_as_the_template_that_laid_it():
    for template in ("breastplate", "pauldron", "segmented bracer"):
        design = starter_design(template)
        tube = build_tube(WEARER, TEMPLATES[template].part, "left")
        kept = design.model_copy(update={"ink": ink_sheet(tube, design)})
        again = type(kept).model_validate_json(kept.model_dump_json())
        panels = [pattern_piece(WEARER, d, "a", "b", None).panels for d in (design, again)]
        for one, two in zip(*panels, strict=True):
            assert np.array_equal(one.flat.outline, two.flat.outline)
            assert one.label == two.label


def test_a_shell_redrawn_as_strokes_keeps_its_panel():
    design = starter_design("bracer")
    tube = build_tube(WEARER, "forearm", "left")
    drawn = design.model_copy(update={"ink": ink_sheet(tube, design)})
    plain, inked = (pattern_piece(WEARER, d, "a", "b", None).panels[0].flat for d in (design, drawn))
    assert inked.area == pytest.approx(plain.area, rel=0.01)
    assert inked.outline_length == pytest.approx(plain.outline_length, rel=0.01)


def test_lift_stands_off_on_its_line_and_fades_beside_it():
    ridge = stroke("r", (0.0, 0.2), (0.0, 1.8), kind="fold", lift=20, lift_width=40)
    design = starter_design("segmented bracer").model_copy(update={"ink": InkSheet(strokes=(*box(), ridge))})
    surface = armour_surface(TUBE, design)
    plain = surface.base + surface.ease[0] + surface.thickness / 2
    offset = (
        surface.offset(np.array([[0.0, 1.0], [10 / 300, 1.0], [20 / 300, 1.0], [41 / 300, 1.0], [0.5, 1.0]])) - plain
    )
    assert offset[0] == pytest.approx(20, abs=0.05)
    assert 20 > offset[1] > offset[2] > 0
    assert offset[3:] == pytest.approx([0, 0], abs=1e-9)


def test_sizes_and_choices_out_of_range_are_refused_by_name():
    tube = build_tube(WEARER, "torso", "left")
    for change, words in (
        ({"sizes": {"hem point": 900}}, "Hem point must be 0 to 120 mm"),
        ({"sizes": {"nose": 3}}, 'no size "nose"'),
        ({"choices": {"front": "spikes"}}, "is not one of plain"),
    ):
        with pytest.raises(CraftError, match=words):
            ink_sheet(tube, starter_design("breastplate").model_copy(update=change))


def test_a_dress_form_is_padded_by_the_circle():
    plan = plan_padding(TUBE, {"low": 250.0, "mid": 300.0, "high": 320.0})
    assert [r.thickness for r in plan.rows] == pytest.approx([50 / (2 * np.pi), 0, -20 / (2 * np.pi)], abs=1e-6)
    assert plan.too_big == ("high",)
    rings = (300**2 - 250**2) / (4 * np.pi)
    assert plan.stuffing == pytest.approx(150 * rings / 2 / 1e6, rel=1e-6)
    for row in plan.rows:
        assert row.note.formula.format(*(v.amount for v in row.note.values))
