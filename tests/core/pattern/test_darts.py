"""Darts, splits and seams on surfaces whose answer is known, and on bodies."""

from dataclasses import replace

import numpy as np
import pytest
import shapely
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from scipy.stats import spearmanr
from shapely.geometry import LineString, Point

from tests.bodies import EXTREMES, WEARER, trunk
from tests.core.pattern.surfaces import Ball, Cone, Flatly, Torus, box, disc, panel, slit
from tests.depth import deep, long, often, some
from vellumcut.core.cast.stations import build_tube
from vellumcut.core.design.sheet import Stroke
from vellumcut.core.flatten.flaws import find_flaws
from vellumcut.core.flatten.joining import join_panels
from vellumcut.core.flatten.mesh import CUT_SIZE
from vellumcut.core.flatten.panel import FlatDart, draw_panel
from vellumcut.core.flatten.planner import find_darts
from vellumcut.core.flatten.ranking import Ranking
from vellumcut.core.flatten.solving import solve_near, solve_panel, solve_rough
from vellumcut.core.flatten.splits import propose_cuts
from vellumcut.core.flatten.trial import Dart, Trial, armour_trial
from vellumcut.core.foam.sheets import usual_give
from vellumcut.core.ink.darts import DartStroke, add_darts, without_darts
from vellumcut.core.ink.library.table import starter_design
from vellumcut.core.ink.lines import InkLine
from vellumcut.core.ink.regions import read_ink
from vellumcut.core.ink.stage import read_piece_ink
from vellumcut.core.ink.templates import armour_surface, ink_limb_piece, ink_sheet
from vellumcut.core.pattern.dart_advice import Wish, advise_darts, shown_advice
from vellumcut.core.pattern.pattern import pattern_piece
from vellumcut.core.pattern.proof import Prover

PLANE = Flatly()
GIVE = usual_give("armour", 6.0)


def flat(surface, ink, size):
    return solve_near(surface, PLANE, ink, size, solve_rough(surface, PLANE, ink))


@pytest.mark.parametrize("half", [60, 72])
def test_a_cone_slit_to_its_apex_opens_by_its_angle_deficit(half):
    cone = Cone(np.radians(half))
    solved = flat(cone, slit(disc(150), [150.0, 0.0], [0.0, 0.0]), 8.0)
    (dart,) = draw_panel(solved).darts
    assert dart.angle == pytest.approx(cone.deficit, abs=0.1)
    assert (dart.left, dart.right) == pytest.approx((150.0, 150.0), abs=0.3)
    assert solved.summary().p95 < 0.1
    # The flat disc is a sector: its area is the cone's, and the slit is a wedge of exactly the missing angle.
    assert draw_panel(solved).area == pytest.approx(np.pi * 150**2 * (1 - cone.deficit / 360), rel=0.003)


@pytest.mark.parametrize(("half", "tip"), [(70, 30), (60, 40), (75, 60)])
def test_a_rounded_cone_opens_by_the_curvature_under_the_slit(half, tip):
    cone = Cone(np.radians(half), tip)
    (dart,) = draw_panel(flat(cone, slit(disc(150), [150.0, 0.0], [0.0, 0.0]), 8.0)).darts
    assert dart.angle == pytest.approx(dart.curvature, rel=0.03)
    past = -tip * (np.pi / 2 - np.radians(half))
    (dart,) = draw_panel(flat(cone, slit(disc(150), [150.0, 0.0], [past, 0.0]), 6.0)).darts
    assert dart.angle == pytest.approx(cone.deficit, rel=0.03)


def gore(radius, count, k):
    lat = np.linspace(0, np.radians(84), 60)
    low, high = (2 * np.pi * (k + s) / count for s in (0, 1))
    up = np.stack([np.full(60, high * radius), lat * radius], axis=1)
    across = np.stack([np.linspace(low, high, 40) * radius, np.zeros(40)], axis=1)
    top = np.stack([np.linspace(high, low, 12) * radius, np.full(12, lat[-1] * radius)], axis=1)
    down = np.stack([np.full(60, low * radius), lat[::-1] * radius], axis=1)
    names = ("equator", "east", "pole", "west")
    made = panel(tuple(InkLine("outline", n, uv) for n, uv in zip(names, (across, up, top, down), strict=True)))
    middle = (low + high) / 2 * radius
    centre = InkLine("centre line", "up", np.stack([np.full(20, middle + 0.3), np.linspace(2, 60, 20)], axis=1))
    return type(made)(1, made.outline, centre, True)


def test_gores_of_a_hemisphere_come_out_equal():
    ball = Ball(120.0)
    made = [draw_panel(flat(ball, gore(120.0, 6, k), 8.0)) for k in range(3)]
    sides = [(g.edge("east").length, g.edge("west").length, g.area) for g in made]
    assert np.ptp([s for east, west, _ in sides for s in (east, west)]) < 0.5
    assert np.ptp([area for *_, area in sides]) / sides[0][2] < 0.003
    assert sides[0][0] == pytest.approx(np.radians(84) * 120, rel=0.03)


@pytest.mark.parametrize(
    ("big", "small", "size"), [(140, 60, (150, 110)), (110, 40, (200, 100)), (180, 50, (120, 120))]
)
def test_a_saddle_is_never_darted_but_split_or_let_in(big, small, size):
    trial = Trial(Torus(big, small), PLANE, PLANE, box(*size))
    found = find_darts(trial, 3.0)
    assert found.singles == found.pairs == ()
    splits = propose_cuts(trial, found.overlapping)
    assert min(s.p95 for s in splits) < 0.85 * trial.undarted.p95


@long
def test_the_bulging_side_of_the_same_torus_takes_darts_that_open():
    trial = Trial(Torus(90, 60, inside=False), PLANE, PLANE, box(150, 110))
    found = find_darts(trial, 4.0)
    assert found.singles
    assert found.pairs
    assert found.pairs[0].tried.p95 < found.singles[0].tried.p95 < 0.75 * trial.careful.undarted.p95
    for plan in (*found.singles, *found.pairs):
        assert min(plan.tried.angles) > np.radians(2)


def test_a_slit_never_raises_the_energy_and_the_same_input_gives_the_same_pattern():
    trial = Trial(Ball(110.0), PLANE, PLANE, box(170, 150))
    for tip in ([0.0, 0.0], [20.0, 10.0]):
        for mouth in ([85.0, 3.0], [10.0, -75.0], [-85.0, 30.0]):
            tried = trial.try_darts((Dart(np.array(mouth), np.array(tip)),))
            assert tried.energy < trial.undarted.energy
    ink = trial.with_darts((Dart(np.array([85.0, 3.0]), np.array([0.0, 0.0])),))
    first, second = (flat(Ball(110.0), ink, 10.0).flat for _ in range(2))
    assert np.abs(first - second).max() < 0.01


def half_breastplate(**girths):
    wearer = WEARER.model_copy(update={"torso": trunk(**girths)})
    design = starter_design("breastplate").model_copy(update={"choices": {"front": "centre ridge"}})
    tube = build_tube(wearer, "torso", "left")
    return (
        wearer,
        design,
        armour_surface(tube, design),
        ink_sheet(tube, design),
        read_piece_ink(tube, design).regions[0],
    )


def advised(half, no_go=(), most=2, heard=None):
    """What is planned for the panel of ``half_breastplate``."""
    _, design, surface, _, region = half
    report = (lambda share, _: heard.append(share)) if heard is not None else lambda *_: None
    return advise_darts(Prover(surface.tube, design, region.ink), Wish(GIVE, no_go, most), report)


@long
@pytest.mark.parametrize("body", some(EXTREMES))
def test_a_plan_asks_of_the_cut_panel_what_it_promises(body):
    half = half_breastplate(**EXTREMES[body])
    wearer, design, *_ = half
    heard = []
    advice = advised(half, heard=heard)
    assert heard == sorted(heard)
    if advice.before <= GIVE.stretch:
        assert (advice.kind, advice.plans) == ("none", ())
        assert "No dart" in advice.words
        return
    assert advice.kind == "darts"
    assert f"to {advice.plans[0].p95:.1f} %" in advice.words
    # One dart and two are both offered, with what each asks.
    assert {len(p.cuts) for p in advice.plans} == {1, 2}
    for plan in advice.plans:
        (kept,) = pattern_piece(wearer, design.model_copy(update={"cuts": plan.cuts}), "P", "B", CUT_SIZE).panels
        assert kept.flat.summary.p95 == pytest.approx(plan.p95, abs=1e-6)
        assert kept.flaws == ()
        assert kept.flat.summary.p95 == pytest.approx(plan.flat.summary.p95, abs=0.5)
        assert [d.key for d in kept.flat.darts] == [c.key for c in plan.cuts]
        assert all(abs(d.left - d.right) < 0.5 and d.angle > 0 for d in kept.flat.darts)
    assert advice.plans[0].p95 < GIVE.stretch


@deep
@pytest.mark.parametrize("body", ["full"])
def test_no_dart_on_a_grid_does_half_a_point_better_than_the_best_that_is_planned(body):
    """An exhaustive look at single darts, 36 mm apart in tip and 60 in mouth, the likely ones laid as shown."""
    half = half_breastplate(**EXTREMES[body])
    _, design, surface, _, region = half
    advice = advised(half, most=1)
    trial = armour_trial(surface, region.ink, False)
    ring, inner = trial.ring, trial.ring.buffer(-15)
    low, high = np.array(inner.bounds[:2]), np.array(inner.bounds[2:])
    tips = [np.array([x, y]) for x in np.arange(low[0], high[0], 36) for y in np.arange(low[1], high[1], 36)]
    tips = [t for t in tips if inner.contains(Point(t))]
    mouths = [np.array(ring.exterior.interpolate(d).coords[0]) for d in np.arange(0, ring.exterior.length, 60)]
    ranking = Ranking(trial)
    darts = [(Dart(m, t),) for m in mouths for t in tips if ring.covers(LineString([m, t]))]
    ranked = [r for d in darts if (r := ranking.rank(d))]
    likely = sorted((r for r in ranked if r.opens), key=lambda r: r.energy)[:12]
    prover = Prover(surface.tube, design, region.ink)
    found = []
    for rank in likely:
        ends = trial.plane.uv(np.stack([rank.darts[0].mouth, rank.darts[0].tip])).round(6)
        shown = prover.shown((Stroke(key="dart-1", kind="dart", name="d", points=ends.tolist(), curve="straight"),))
        found += [shown.p95] if shown else []
    assert found
    best = min((p.p95 for p in advice.plans), default=advice.before)
    assert best < min(found) + 0.5


def test_what_a_dart_shows_under_the_hand_is_what_it_is_cut_as():
    *_, surface, _, region = half_breastplate(**EXTREMES["full"])
    trial = armour_trial(surface, region.ink, False)
    (armhole,) = [line for line in region.ink.outline if line.name == "armhole"]
    mouth = trial.plane.flat(armhole.uv)[len(armhole.uv) // 2]
    bust = trial.plane.flat(trial.whole.mesh.uv)[np.argmin(trial.whole.mesh.xyz[:, 1])]
    for share in (0.6, 0.8, 1.0):
        ink = trial.with_darts((Dart(mouth, mouth + share * (bust - mouth)),))
        tried = draw_panel(trial.solve(ink))
        cut = draw_panel(solve_near(surface, trial.first, ink, CUT_SIZE, trial.whole))
        assert tried.darts[0].intake == pytest.approx(cut.darts[0].intake, rel=0.12)
        assert tried.summary.p95 == pytest.approx(cut.summary.p95, rel=0.2)


def test_the_best_darts_rank_among_the_likely_ones():
    *_, surface, _, region = half_breastplate(**EXTREMES["full"])
    trial = armour_trial(surface, region.ink, False)
    ranking, ring = Ranking(trial), trial.ring.exterior
    bust = trial.plane.flat(trial.whole.mesh.uv)[np.argmin(trial.whole.mesh.xyz[:, 1])]
    mouths = [np.array(ring.interpolate(k / 16, normalized=True).coords[0]) for k in range(16)]
    both = [(ranking.rank(d), trial.try_darts(d)) for d in ((Dart(m, bust),) for m in mouths)]
    both = [(a.energy, b.energy) for a, b in both if a and b]
    assert len(both) > 9
    assert min(b for _, b in both) == min(b for _, b in sorted(both)[:6])
    assert spearmanr(*zip(*both, strict=True)).statistic > 0.6


@deep
def test_a_whole_front_that_darts_cannot_close_is_split_and_asks_what_was_promised():
    wearer = WEARER.model_copy(update={"torso": trunk(bust=1230, underbust=930, waist=860, hip=1080, neck=390)})
    design = starter_design("breastplate").model_copy(update={"choices": {"front": "plain"}})
    tube = build_tube(wearer, "torso", "left")
    (region,) = read_piece_ink(tube, design).regions
    heard = []
    prover = Prover(tube, design, region.ink)
    advice = advise_darts(prover, Wish(GIVE, most=1), lambda share, _: heard.append(share))
    assert heard == sorted(heard)
    assert advice.kind == "short"
    split = advice.splits[0]
    assert split.p95 == min(s.p95 for s in advice.splits) < 0.5 * advice.before
    assert split.words in advice.words
    for split in advice.splits:
        kept = pattern_piece(wearer, design.model_copy(update={"cuts": split.cuts}), "P", "B", CUT_SIZE)
        assert max(p.flat.summary.p95 for p in kept.panels) == pytest.approx(split.p95, abs=1e-6)
        assert not any(p.flaws for p in kept.panels)


@long
def test_a_pair_from_the_hem_closes_a_full_bust():
    """A bust of 1,000 over 850: one pair of darts is enough, and the planner finds one."""
    wearer = WEARER.model_copy(update={"torso": trunk(bust=1000, underbust=850, waist=760, hip=980, neck=370)})
    design = starter_design("breastplate").model_copy(update={"choices": {"front": "plain"}})
    tube = build_tube(wearer, "torso", "left")
    (region,) = read_piece_ink(tube, design).regions
    advice = advise_darts(Prover(tube, design, region.ink), Wish(GIVE))
    assert advice.kind == "darts"
    assert len(advice.plans[0].cuts) == 1
    assert advice.plans[0].p95 < 4.8


@long
def test_an_edge_that_a_plan_names_is_the_one_that_its_dart_opens_on():
    half = half_breastplate(**EXTREMES["usual"])
    advice = advised(half, most=1)
    assert len({p.edges for p in advice.plans}) > 1
    lines = {line.name: line.uv for line in half[-1].ink.outline}
    for plan in advice.plans:
        mouth = np.array(plan.cuts[0].points[0])
        away = {name: np.abs(uv - mouth).sum(axis=1).min() for name, uv in lines.items()}
        assert min(away, key=away.get) == plan.edges[0]


@long
def test_a_right_limbs_advice_is_drawn_as_its_pattern_is():
    half = half_breastplate(**EXTREMES["full"])
    design, advice = half[1], advised(half, most=1)
    right = shown_advice(advice, "right", design)
    for seen, plan in zip(right.plans, advice.plans, strict=True):
        assert np.allclose(seen.flat.flip(seen.flat.vertices), plan.flat.vertices)
        assert seen.flat.summary == plan.flat.summary
    inner = shown_advice(advice, "right", design.model_copy(update={"drawn_face": "inner"}))
    assert np.allclose(inner.plans[0].flat.vertices, advice.plans[0].flat.vertices)


@long
def test_edges_that_are_spared_are_not_cut():
    half = half_breastplate(**EXTREMES["usual"])
    advice = advised(half, ("side edge", "hem", "centre ridge", "shoulder edge", "neckline"), 1)
    armhole = next(s for s in half[3].strokes if s.key == "armhole")
    assert advice.plans
    low, high = (f(v for _, v in armhole.points) for f in (min, max))
    assert all(low - 0.05 < plan.cuts[0].points[0][1] < high + 0.05 for plan in advice.plans)


def test_what_cannot_be_cut_or_closed_is_told_with_its_place():
    wearer, design, *_ = half_breastplate(**EXTREMES["full"])
    across = [
        Stroke(key=f"dart-{k}", kind="dart", name=f"dart {k}", points=points, curve="straight")
        for k, points in enumerate([((0.13, 0.62), (0.16, 2.9)), ((0.24, 1.2), (0.1, 2.0))])
    ]
    flawed = pattern_piece(wearer, design.model_copy(update={"cuts": tuple(across)}), "P", "B", CUT_SIZE)
    for drawn in flawed.panels:
        whole = shapely.Polygon(drawn.flat.outline).buffer(-2).geom_type == "Polygon"
        assert whole or drawn.flaws
        assert not drawn.flaws or drawn.verdict.sentence.startswith("Cannot be cut so")
    flat = pattern_piece(wearer, design, "P", "B", None).panels[0].flat
    bow = replace(flat, edges=(replace(flat.edges[0], knots=flat.edges[0].knots[::-1]), *flat.edges[1:]))
    (crossed,) = find_flaws(bow)
    assert "lies over itself" in crossed.words
    shorter = FlatDart("d", "dart 1", 30.0, 10.0, 9.0, 100.0, 107.2, np.zeros(2), np.zeros(2), np.zeros(2), np.zeros(2))
    (apart,) = find_flaws(replace(flat, darts=(shorter,)))
    assert "differ by 7.2 mm" in apart.words
    assert find_flaws(flat) == ()


@deep
def test_darts_that_a_template_lays_are_moved_taken_out_and_planned_anew():
    wearer = WEARER.model_copy(update={"torso": trunk(**EXTREMES["full"])})
    design = starter_design("breastplate").model_copy(update={"choices": {"front": "cups"}})
    tube = build_tube(wearer, "torso", "left")
    sheet = ink_sheet(tube, design)
    laid = {s.key: s for s in sheet.strokes if s.kind == "dart"}
    assert set(laid) == {"cup-dart-1", "cup-dart-2"}
    first = laid["cup-dart-1"]
    tip = tuple(np.mean(first.points, axis=0).round(4))
    moved = first.model_copy(update={"points": (first.points[0], tip)})

    def cup(**change):
        return pattern_piece(wearer, design.model_copy(update=change), "P", "B", None).panels[0].flat

    darts = {d.key: d for d in cup(cuts=(moved,)).darts}
    assert set(darts) == set(laid)
    assert darts["cup-dart-1"].tip_uv == pytest.approx(tip, abs=1e-3)
    assert darts["cup-dart-2"].tip_uv == pytest.approx(laid["cup-dart-2"].points[-1], abs=1e-3)
    assert [d.key for d in cup(without=("cup-dart-1",)).darts] == ["cup-dart-2"]
    # The plan starts from the cup without any dart, its rim whole again, and replaces what the template laid.
    without = design.model_copy(update={"without": tuple(laid)})
    region = read_piece_ink(tube, without).regions[0]
    advice = advise_darts(Prover(tube, without, region.ink), Wish(GIVE, most=1))
    bare = cup(without=tuple(laid))
    assert bare.darts == ()
    assert advice.before == pytest.approx(bare.summary.p95, abs=0.5)
    assert advice.kind == "darts"
    planned = cup(without=tuple(laid), cuts=advice.plans[0].cuts)
    assert planned.summary.p95 == pytest.approx(advice.plans[0].p95, abs=0.5)


@pytest.mark.parametrize(
    ("points", "words"),
    [
        (((0.1, 2.5), (0.12, 3.0)), "reaches no edge"),
        (((0.0, 2.6), (0.27, 2.7)), "runs from edge to edge"),
        (((0.4, 2.0), (0.45, 2.5)), "lies on no panel"),
    ],
)
def test_a_dart_that_cannot_be_cut_is_said_in_place(points, words):
    *_, surface, sheet, _ = half_breastplate(**EXTREMES["usual"])
    stroke = Stroke(key="d", kind="dart", name="dart", points=points)
    reading = read_ink(surface.tube, sheet.model_copy(update={"strokes": (*sheet.strokes, stroke)}))
    assert any(words in p.message and p.kind == "dart" for p in reading.problems)
    assert all(not r.ink.darts for r in reading.regions)


def test_a_dart_in_a_plain_shell_leaves_it_a_shell():
    design = starter_design("greave")
    tube = build_tube(WEARER, "lower leg", "left")
    top = ink_limb_piece(armour_surface(tube, design), design).outline[2].uv
    mouth = tuple(float(x) for x in top[len(top) // 3])
    stroke = Stroke(key="dart-1", kind="dart", name="dart", points=(mouth, (mouth[0], 1.1)), curve="straight")
    surface = armour_surface(tube, design)
    darted = design.model_copy(update={"cuts": (stroke,)})
    before, after = (join_panels([solve_panel(surface, ink_limb_piece(surface, d), None)])[0] for d in (design, darted))
    (dart,) = after.darts
    assert abs(dart.left - dart.right) < 0.5
    assert after.summary.p95 <= before.summary.p95 + 0.2
    assert {s.kind for s in after.seams} >= {"dart"}


HALF = half_breastplate(**EXTREMES["usual"])


@settings(deadline=None, max_examples=often(25))
@given(st.lists(st.tuples(st.floats(0.02, 0.98), st.floats(0.25, 0.6)), min_size=1, max_size=3))
def test_taking_all_darts_out_gives_the_outline_back(places):
    """Darts from anywhere on the edge towards the middle: parted lines become whole again, point for point."""
    *_, surface, _, region = HALF
    plane = armour_trial(surface, region.ink, False).plane
    ring = np.vstack([plane.flat(line.uv)[:-1] for line in region.ink.outline])
    edge, middle = LineString(np.vstack([ring, ring[:1]])), ring.mean(axis=0)
    drawn = []
    for k, (at, share) in enumerate(places):
        mouth = np.array(edge.interpolate(at, normalized=True).coords[0])
        drawn.append(DartStroke(f"d{k}", "dart", LineString([mouth, mouth + share * (middle - mouth)])))
    ink, _ = add_darts(plane, region.ink, drawn)
    assume(ink.darts)
    assert len(ink.outline) >= len(region.ink.outline)
    back = without_darts(ink)
    assert back.darts == ()
    assert [line.name for line in back.outline] == [line.name for line in region.ink.outline]
    for pair in zip(region.ink.outline, back.outline, strict=True):
        then, line = (LineString(plane.flat(x.uv)) for x in pair)
        assert line.length == pytest.approx(then.length, abs=0.05)
        assert line.hausdorff_distance(then) < 0.05
