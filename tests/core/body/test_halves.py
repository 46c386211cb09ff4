"""Left and right: half patterns on the fold, and bodies that are not their own mirror image."""

from dataclasses import replace

import numpy as np
import pytest
import shapely
from shapely import affinity

from tests.bodies import TRUNK, WEARER, limb, measures
from vellumcut.core.body.measures import ScanReading
from vellumcut.core.cast.halves import asymmetry, even_halves, worn_tube
from vellumcut.core.cast.stations import build_tube
from vellumcut.core.foam.sheets import CATALOGUE, FoamGive, give_of, usual_give
from vellumcut.core.ink.library.table import starter_design
from vellumcut.core.pattern.fold import is_own_mirror, on_the_fold
from vellumcut.core.pattern.pattern import pattern_piece
from vellumcut.core.pattern.table import BETWEEN, lay_out


def made(template, wearer=WEARER, scanned=None, gives=(), **change):
    design = starter_design(template).model_copy(update=change)
    return pattern_piece(wearer, design, "P", "B", None, scanned or {}, gives)


@pytest.mark.parametrize("template", ["backplate", "breastplate", "bracer", "greave"])
def test_half_on_the_fold_unfolds_to_the_whole(template):
    whole = made(template)
    half = on_the_fold(whole).panels[0]
    flat = half.flat
    fold = flat.edges[-1]
    assert fold.kind == "fold"
    assert "on the fold" in half.label.count
    (x, y), (u, v) = fold.knots[0], fold.knots[-1]
    angle = np.degrees(np.arctan2(u - x, v - y))
    upright = affinity.rotate(flat.shape, angle, origin=(x, y))
    mirrored = affinity.rotate(affinity.scale(upright, xfact=-1, origin=(x, y)), -angle, origin=(x, y))
    unfolded = shapely.union_all([flat.shape.buffer(0.01), mirrored.buffer(0.01)])
    wanted = whole.panels[0].flat.shape
    assert unfolded.symmetric_difference(wanted).area < 0.006 * wanted.area
    assert flat.area == pytest.approx(wanted.area / 2, rel=0.004)
    assert all(flat.shape.buffer(1.0).contains(shapely.Point(m.lines[0, 0])) for m in flat.marks)


def test_what_is_not_alike_is_drawn_whole():
    for template in ("pauldron", "shoulder extension"):
        pattern = made(template)
        assert not any(is_own_mirror(p.flat) for p in pattern.panels)
        assert on_the_fold(pattern).panels == pattern.panels


def lopsided():
    """A trunk as a scan would give it, with the left shoulder blade and hip 10 mm fuller than the right."""
    reading = ScanReading(segment="torso", scan="a.obj", low=(0, 0, 0), high=(0, 0, 500))
    wearer = WEARER.model_copy(update={"scans": (reading,)})
    tube = build_tube(WEARER, "torso", "left")
    grid = tube.grid.copy()
    k = grid.shape[1]
    left = np.sin(2 * np.pi * np.arange(k) / k).clip(0)
    middle = grid.mean(axis=1, keepdims=True) * [0, 1, 0]
    out = grid - middle
    out[..., 2] = 0
    grid += 10.0 * left[None, :, None] * out / np.linalg.norm(out, axis=2, keepdims=True)
    return wearer, {reading.key: replace(tube, grid=grid)}


def test_a_lopsided_trunk_is_told_in_mm_and_can_be_kept_or_evened():
    wearer, scanned = lopsided()
    told = asymmetry(wearer, "torso", scanned)
    assert told.most == pytest.approx(10.0, abs=2.0)
    even = worn_tube(wearer, "torso", "left", "usual", scanned)
    u, v = np.linspace(0, 0.5, 40), 1.4
    left, right = (even.frame(s * u, np.full(40, v))[0] for s in (1, -1))
    plane = (left[:, 0] + right[:, 0]) / 2
    assert np.ptp(plane) < 0.5
    assert np.abs((left - right)[:, 1:]).max() < 0.5
    one = made("breastplate", wearer, scanned, choices={"front": "centre ridge"})
    assert [p.twin for p in one.panels] == [True]
    both = made("breastplate", wearer, scanned, choices={"front": "centre ridge"}, halves="as measured")
    assert [p.twin for p in both.panels] == [False, False]
    areas = sorted(p.flat.area for p in both.panels)
    assert areas[1] / areas[0] > 1.01
    assert areas[0] < one.panels[0].flat.area < areas[1]
    for seam in (s for p in both.panels for s in p.flat.seams):
        assert seam.mismatch < 1.0


def test_a_measured_trunk_has_nothing_to_tell_and_evening_changes_nothing():
    assert asymmetry(WEARER, "torso") is None
    tube = build_tube(WEARER.model_copy(update={"torso": TRUNK}), "torso", "left")
    assert np.abs(even_halves(tube).grid - tube.grid).max() < 0.3


def test_arms_measured_apart_may_share_the_fuller_ones_pattern():
    arms = [
        limb("forearm", (0, 138, 240), (168 + d, 252 + d, 262 + d), side=s) for s, d in (("left", 0), ("right", 12))
    ]
    wearer = measures(*arms)
    told = asymmetry(wearer, "forearm")
    assert told.most == pytest.approx(12.0, abs=0.1)
    assert "right is 12 mm fuller" in told.words
    apart, shared = made("bracer", wearer), made("bracer", wearer, halves="alike")
    assert [p.side for p in apart.panels] == ["left", "right"]
    assert [(p.twin, p.copies) for p in shared.panels] == [(True, 2)]
    assert shared.panels[0].flat.area == pytest.approx(apart.panels[1].flat.area, rel=1e-3)


def test_a_limb_that_nobody_measured_is_not_compared():
    left = limb("forearm", (0, 138, 240), (168, 252, 262), side="left")
    only_left = measures(left).model_copy(update={"torso": TRUNK})
    assert asymmetry(only_left, "forearm") is None


def test_thin_and_light_foam_gives_more_and_a_measured_scrap_stands_for_the_estimate():
    for kind in ("armour", "soft", "mat"):
        sold = [s.thickness for s in CATALOGUE if kind in s.kinds]
        warm = [usual_give(kind, t).stretch for t in sold]
        assert warm == sorted(warm, reverse=True)
    assert usual_give("soft", 4).stretch > usual_give("armour", 4).stretch
    scrap = FoamGive(
        kind="armour", thickness=6, cold=1.0, stretch=1.2, stretch_limit=1.4, squeeze=1.0, squeeze_limit=1.2
    )
    assert give_of("armour", 6, (scrap,)).measured
    assert not give_of("armour", 8, (scrap,)).measured
    before, after = made("greave"), made("greave", gives=(scrap,))
    assert before.panels[0].verdict.state in ("warm", "hard")
    assert after.panels[0].verdict.state == "split"
    assert after.give.stretch_limit == 1.4


def test_panels_keep_their_order_on_the_table_however_they_crowd():
    lames = np.array([[0, 8.0], [2, 37.0], [1, 62.0], [3, 112.0]])
    half = np.array([[98, 35], [110, 29], [119, 32], [100, 73.0]])
    moves = lay_out(lames, -half, half)
    order = np.argsort(moves[:, 1])
    assert order.tolist() == [0, 1, 2, 3]
    low, high = moves - half, moves + half
    for i in range(4):
        for j in range(i + 1, 4):
            assert (np.maximum(low[i], low[j]) - np.minimum(high[i], high[j])).max() > BETWEEN - 0.1


def test_lames_are_numbered_from_the_arm_up():
    heights = [p.flat.uv[:, 1].mean() for p in made("pauldron").panels]
    assert heights == sorted(heights)
