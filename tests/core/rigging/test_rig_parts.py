"""Parts of a rig, each against plain geometry."""

from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.pieces_to_make import rig_for, worn
from tests.depth import often
from vellumcut.core.ink.library.table import starter_design
from vellumcut.core.rig.loads import _drawn_shut

TO_TIE = 350.0
"""Lace at each end, mm."""


def laced(template: str, **more):
    return starter_design(template).model_copy(update={"closure": "lacing", **more})


@settings(max_examples=often(30), deadline=None)
@given(template=st.sampled_from(["bracer", "cuisse", "greave"]), gap=st.floats(15.0, 60.0))
def test_a_lace_is_as_long_as_the_way_that_it_runs(template, gap):
    """Walked from hole to hole: crossed at every gap from both sides, once across at the first row, and two ends."""
    parts = {p.name: p for p in rig_for(laced(template, gap=gap)).parts}
    holes, lace = parts["eyelets"].at, parts["lace"]
    (apart,) = {round(b - a, 6) for a, b in pairwise(holes)}
    count, diagonal, across, ends = (v.amount for v in lace.note.values)
    assert (count, ends) == (len(holes) - 1, TO_TIE)
    assert diagonal == pytest.approx(np.hypot(apart, across))
    left, right = ([(x, y) for y in holes] for x in (0.0, across))
    strands = [np.array([(left, right)[(k + turn) % 2][k] for k in range(len(holes))]) for turn in (0, 1)]
    walked = sum(float(np.linalg.norm(np.diff(s, axis=0), axis=1).sum()) for s in strands) + across + 2 * TO_TIE
    assert lace.length == lace.note.result.amount == pytest.approx(walked)
    assert parts["eyelets"].count == 2 * len(holes)


@pytest.mark.parametrize("template", ["bracer", "cuisse", "greave"])
def test_what_draws_a_shell_shut_pulls_its_edges_at_each_other(template):
    costume = worn(laced(template, gap=30.0))
    pulls = _drawn_shut(costume, costume.piece(1), "left")
    assert len(pulls) == 3
    levels = [one.at[2] for one, _ in pulls]
    assert levels == sorted(levels) or levels == sorted(levels, reverse=True)
    for one, other in pulls:
        between = other.at - one.at
        assert 30.0 - 6 < np.linalg.norm(between) < 30.0 + 2 * 6 + 6, "a little inside both edges"
        assert one.pull == pytest.approx(between / np.linalg.norm(between))
        assert other.pull == pytest.approx(-one.pull)
        assert {one.anchor, other.anchor} == {"closing edge A", "closing edge B"}


def test_a_foot_stands_on_the_ground_before_its_ankle():
    costume = worn(starter_design("sabaton cap"))
    for side in ("left", "right"):
        seat, ankle = costume.seat("foot", side), costume.figure.joints[f"{side} ankle"].at
        tube, around = seat.tube, np.linspace(0, 1, 72, endpoint=False)
        at = [
            seat.place(tube.frame(around, np.full(72, float(tube.along(m))))[0])
            for m in np.linspace(tube.at[0], tube.at[-1], 5)
        ]
        heel, toes = at[-1], at[0]
        assert heel[:, 2].min() == pytest.approx(costume.figure.ground, abs=0.5)
        assert min(ring[:, 2].min() for ring in at) >= costume.figure.ground - 0.5
        assert heel[:, 1].mean() == pytest.approx(ankle[1] - 20.0, abs=0.5), "the instep begins before the ankle"
        assert heel[:, 1].mean() - toes[:, 1].mean() == pytest.approx(tube.at[-1] - tube.at[0])
        assert heel[:, 0].mean() == pytest.approx(ankle[0], abs=1.0)
