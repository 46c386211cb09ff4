"""Small parts of the foam room, each against plain arithmetic of its own."""

import itertools
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.depth import often
from vellumcut.core.design.foam import FoldWork
from vellumcut.core.flatten.strain import StrainSummary
from vellumcut.core.foam.bends import KERF_LAND, Kerfs, kerf_count, kerf_findings, split_of, way_for
from vellumcut.core.foam.folds import Fold
from vellumcut.core.foam.grooves import FoldCut
from vellumcut.core.foam.heat import (
    CAPACITY,
    CONDUCTIVITY,
    QUIET,
    ROOM,
    STEP,
    Air,
    Slab,
    cooling,
    middle,
    plan_heat,
    seconds_until,
)
from vellumcut.core.foam.sheets import CATALOGUE, usual_give
from vellumcut.core.foam.verdict import height_words, place_words, strain_state

EXAMPLES = settings(max_examples=often(60), deadline=None)
SHEETS = st.builds(Slab, st.sampled_from((2.0, 4.0, 6.0, 10.0)), st.floats(60, 150))
GUNS = st.builds(Air, st.floats(220, 420), st.floats(20, 60))


@EXAMPLES
@given(SHEETS, GUNS, GUNS)
def test_what_a_sheet_comes_to_in_the_end_lets_as_much_in_as_out(slab, inner, outer):
    t = slab.at_rest(inner, outer)
    lead = CONDUCTIVITY / (slab.thickness / 1000)
    through = lead * (t[-1] - t[0])
    assert inner.gives * (t[0] - inner.degrees) == pytest.approx(through, abs=1e-6)
    assert outer.gives * (outer.degrees - t[-1]) == pytest.approx(through, abs=1e-6)
    assert np.allclose(np.diff(t), np.diff(t)[0])
    step = slab.stepper(inner, outer, 5.0)
    assert np.allclose(step(t), t, atol=1e-6), "in that state nothing moves"


@EXAMPLES
@given(SHEETS, GUNS)
def test_the_heat_that_a_sheet_takes_up_is_what_its_face_lets_in(slab, gun):
    """Energy: of what flows in at the faces in a short time nothing is lost, nothing is won."""
    step, t, took = slab.stepper(QUIET, gun, 0.02, late=1.0), slab.start(), 0.0
    weight = np.full(len(t), slab.density * CAPACITY * slab.thickness / 1000 / (len(t) - 1))
    weight[[0, -1]] /= 2
    before = float(weight @ t)
    for _ in range(50):
        t = step(t)
        took += 0.02 * (gun.gives * (gun.degrees - t[-1]) + QUIET.gives * (QUIET.degrees - t[0]))
    assert float(weight @ t) - before == pytest.approx(took, rel=1e-6)


@pytest.mark.parametrize(
    ("thickness", "density", "air", "faces"),
    [(3.0, 90.0, 190, 1), (6.0, 110.0, 210, 2), (10.0, 100.0, 230, 2), (4.0, 140.0, 240, 2)],
)
def test_a_plan_counts_each_of_its_seconds(thickness, density, air, faces):
    slab = Slab(thickness, density)
    plan = plan_heat(slab, Air(air, 30), faces)
    assert plan.seconds == pytest.approx(sum(p.seconds for p in plan.phases))
    assert all(p.seconds > 0 for p in plan.phases)
    warmed = [p for p in plan.phases if p.act == "heat"]
    assert {p.face for p in warmed} == ({"outer", "inner"} if len(warmed) > 1 and faces == 2 else {warmed[0].face})
    assert plan.hottest >= max(p.face_end for p in plan.phases) - 1e-9
    # Told again by walking the plan: each phase ends where it says, from a sheet as cold as the room.
    t = slab.start()
    assert np.all(t == ROOM)
    for p in plan.phases:
        airs = {"outer": (QUIET, plan.air), "inner": (plan.air, QUIET)}[p.face] if p.act == "heat" else (QUIET, QUIET)
        step = slab.stepper(*airs)
        for _ in range(round(p.seconds / STEP)):
            t = step(t)
        assert float(t[0 if p.face == "inner" else -1]) == pytest.approx(p.face_end, abs=0.01)
        assert middle(t) == pytest.approx(p.middle_end, abs=0.01)


def test_a_sheet_cools_as_one_lump_where_it_is_thin():
    """Thin against what still air takes away (Biot number under 0.02): Newton's law with both faces."""
    slab, gives = Slab(2.0, 100.0), QUIET.gives
    t = slab.start(120.0)
    lump = slab.density * CAPACITY * 0.002 / (2 * gives)
    inside = 1 + gives * 0.001 / (2 * CONDUCTIVITY)  # the middle lags behind the faces by so much
    wanted = lump * np.log((120.0 - ROOM) / (60.0 - ROOM)) * inside
    assert cooling(slab, t, 60.0) == pytest.approx(wanted, rel=0.06)
    assert seconds_until(slab, Air(ROOM + 10, 40), "gloss") == 1200.0, "so mild an air never does it"


@pytest.mark.parametrize("kind", ["armour", "soft", "mat"])
def test_a_split_is_of_two_sheets_that_are_sold_and_as_alike_as_can_be(kind):
    sold = [s.thickness for s in CATALOGUE if kind in s.kinds or kind == "mat"]
    for thickness in (*range(2, 21), 2.5, 7.5):
        made = split_of(float(thickness), kind)
        pairs = [(a, b) for a, b in itertools.product(sold, sold) if a + b == thickness and a >= b]
        assert bool(made) == bool(pairs)
        if made:
            assert made in pairs
            assert made[0] - made[1] == min(a - b for a, b in pairs)


def test_the_mildest_way_that_bears_a_strain_is_taken():
    assert [way_for(x, 6.0) for x in (0.0, 3.0, 3.1, 10.0, 10.1, 20.0)] == [
        "cold",
        "cold",
        "warm",
        "warm",
        "past",
        "past",
    ]
    assert way_for(20.1, 6.0) == way_for(40.0, 6.0) == "laminate"
    assert way_for(40.1, 6.0) == way_for(25.0, 1.0) == "kerf"


@EXAMPLES
@given(st.floats(2, 9), st.floats(0.5, 3), st.floats(0.05, 3))
def test_kerfs_close_over_the_whole_turn(depth, width, turn):
    count, exact = kerf_count(depth, width, turn)
    assert count * exact == pytest.approx(depth * turn)
    others = [abs(depth * turn / n - width) for n in (count - 1, count + 1) if n > 0]
    assert count == 1 or all(abs(count - depth * turn / width) <= 0.5 + 1e-9 for _ in others)


def test_kerfs_that_leave_too_little_between_them_are_said():
    layout = Kerfs(5, 4.0, 1.5, 0.9, 1.5 + KERF_LAND, ())
    assert kerf_findings(layout, 2) == ()
    assert kerf_findings(replace(layout, spacing=30.0), 2) == ()
    (finding,) = kerf_findings(replace(layout, spacing=1.5 + KERF_LAND - 0.2), 2)
    assert f"panel 2 leave only {KERF_LAND - 0.2:.1f} mm" in finding.message


def fold(angle: float, **work) -> FoldCut:
    return FoldCut("f", "fold", 1, 100.0, Fold(np.zeros(2), np.zeros(2)), 8.0, FoldWork(key="f", angle=angle, **work))


@EXAMPLES
@given(st.floats(5, 80), st.floats(1, 6), st.floats(0, 2))
def test_a_grooves_walls_meet_when_it_is_closed(angle, depth, overcut):
    both = fold(angle, way="groove", depth=depth, overcut=overcut)
    one = fold(-angle, way="groove", depth=depth, overcut=overcut, walls="one upright")
    half = np.radians(angle) / 2
    # A wall that leans by half the fold stands upright over the hinge when it is turned by it.
    assert both.width - overcut == pytest.approx(2 * depth * np.sin(half) / np.cos(half))
    assert both.reach[0] == both.reach[1]
    assert one.reach[0] == 0
    assert one.width - overcut == pytest.approx(depth * np.tan(np.radians(angle)))
    assert (both.face, one.face) == ("inner", "outer")
    assert both.hinge + depth == 8.0
    assert fold(angle, way="groove", depth=depth, count=2).lines == 3


def test_a_fold_is_told_beside_its_line():
    ridge, valley = fold(40, way="crease"), fold(-40, way="crease")
    assert (ridge.short, valley.short) == ("crease 40°, ridge", "crease 40°, valley")
    assert (ridge.depth, ridge.width, ridge.folds) == (0.0, 0.0, True)
    drum = fold(40, way="drum", depth=3.0)
    chord = 2 * np.sqrt((drum.work.drum / 2) ** 2 - (drum.work.drum / 2 - min(3.0, drum.work.drum / 2)) ** 2)
    assert drum.width == pytest.approx(chord)
    assert "3" in drum.short
    assert "inner face" in drum.short
    assert not fold(0.3, way="groove").folds


STATIONS = ("ankle", "calf", "knee")


def test_a_place_is_told_by_the_nearest_station_and_the_side():
    told = {x: height_words(x, STATIONS) for x in (-0.3, 0.0, 0.14, 0.16, 0.84, 0.86, 1.0, 1.14, 1.5, 1.9, 2.0, 2.6)}
    between = ("between ankle and calf", "between calf and knee")
    assert [told[x] for x in (-0.3, 0.0, 0.14)] == ["at the ankle"] * 3
    assert [told[x] for x in (0.16, 0.84)] == [between[0]] * 2
    assert [told[x] for x in (0.86, 1.0, 1.14)] == ["at the calf"] * 3
    assert told[1.5] == between[1]
    assert [told[x] for x in (1.9, 2.0, 2.6)] == ["at the knee"] * 3
    sides = [place_words((k / 8, 0.0), STATIONS).partition(", ")[2] for k in range(8)]
    assert len(set(sides)) >= 4
    assert place_words((0.999, 0.0), STATIONS).endswith(sides[0])
    assert place_words((0.01 + 3 / 8, 0.0), STATIONS).endswith(sides[3])


def test_a_panel_lies_flat_warm_hard_or_not_by_what_its_foam_gives():
    give = usual_give("armour", 6.0)
    over = 0.01

    def state(p95: float, stretch: float, squeeze: float) -> str:
        return strain_state(StrainSummary(p95, p95, p95, p95, stretch, squeeze, 0, (0.0, 0.0), True), give)

    assert state(give.cold, 0, 0) == "flat"
    assert state(give.cold + over, give.stretch, give.squeeze) == "warm"
    assert state(9, give.stretch + over, give.squeeze) == "hard"
    assert state(9, give.stretch, give.squeeze + over) == "hard"
    assert state(9, give.stretch_limit, give.squeeze_limit) == "hard"
    assert state(9, give.stretch_limit + over, 0) == "split"
    assert state(9, 0, give.squeeze_limit + over) == "split"
