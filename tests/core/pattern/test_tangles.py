"""Ink that a stranger's file may hold: read within a bound, or refused in a sentence with its place."""

import time

import numpy as np
import pytest

from tests.bodies import WEARER
from vellumcut.core.cast.stations import build_tube
from vellumcut.core.design.sheet import InkSheet, Stroke
from vellumcut.core.ink.library.table import starter_design
from vellumcut.core.ink.regions import read_ink
from vellumcut.core.ink.templates import ink_sheet

TUBE = build_tube(WEARER, "torso", "left")
LONGEST = 5.0
"""s; what was found took 10 s, 38 s and no end at all."""


def scrawl(strokes: int, points: int, kind: str = "seam") -> InkSheet:
    luck = np.random.default_rng(strokes)
    return InkSheet(
        strokes=tuple(
            Stroke(
                key=f"s{k}",
                kind=kind,
                points=[(float(u), float(v)) for u, v in luck.uniform((-0.5, 0.2), (0.5, 3.5), (points, 2))],
            )
            for k in range(strokes)
        )
    )


@pytest.mark.parametrize(("strokes", "points"), [(3, 60), (20, 20), (200, 40)])
@pytest.mark.parametrize("kind", ["seam", "dart"])
def test_a_tangle_is_refused_with_its_place_before_it_costs_anything(strokes, points, kind):
    sheet = scrawl(strokes, points, kind)
    start = time.process_time()
    reading = read_ink(TUBE, sheet)
    assert time.process_time() - start < LONGEST
    assert reading.regions == ()
    (problem,) = reading.problems
    assert "take some out" in problem.message
    assert 0.0 < problem.at[1] < 4.0


@pytest.mark.parametrize("across", [2, 5])
def test_a_net_that_a_maker_could_draw_is_read_whole(across):
    """Hems, sides and ribs that cross: every mesh of it is a panel."""
    sheet = ink_sheet(TUBE, starter_design("breastplate"))
    ribs = [
        Stroke(key=f"rib-{k}", kind="seam", points=[(0.02, v), (0.11, v)], curve="straight")
        for k, v in enumerate(np.linspace(1.1, 1.9, across))
    ]
    before = len(read_ink(TUBE, sheet).regions)
    reading = read_ink(TUBE, sheet.model_copy(update={"strokes": (*sheet.strokes, *ribs)}))
    assert len(reading.regions) >= before
    assert not any("take some out" in p.message for p in reading.problems)


@pytest.mark.parametrize("count", [240, 241])
def test_the_bound_on_lines_is_where_it_is_said_to_be(count):
    lines = [
        Stroke(key=f"s{k}", kind="seam", points=[(-0.4, 0.3 + 0.012 * k), (-0.35, 0.3 + 0.012 * k)])
        for k in range(count)
    ]
    told = [p.message for p in read_ink(TUBE, InkSheet(strokes=tuple(lines))).problems]
    assert any("at most 240" in m for m in told) is (count > 240)
