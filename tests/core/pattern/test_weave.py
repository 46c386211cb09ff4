"""A sheet's pattern carried over seams: read back from the lines that are drawn, on cones, tubes and every template."""

import math
import re

import numpy as np
import pytest
import shapely
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from tests.bodies import WEARER
from tests.core.pattern.test_plates_and_fixings import cone
from tests.depth import mostly, often
from vellumcut.core.design.foam import FoamWork, Weave
from vellumcut.core.design.sheet import InkSheet, Stroke
from vellumcut.core.ink.library.table import TEMPLATES, starter_design
from vellumcut.core.pattern.as_cut import as_cut
from vellumcut.core.pattern.pattern import pattern_piece
from vellumcut.core.pattern.weave import ROW, WAY


def in_two(low=0.15, high=0.85):
    """A closed shell of two panels, drawn by hand."""
    around = [-0.5 + k / 8 for k in range(9)]

    def line(key, kind, *points):
        return Stroke(key=key, kind=kind, name=key, points=points)

    return InkSheet(
        strokes=(
            line("upper", "outline", *((u, high) for u in around)),
            line("lower", "outline", *((u, low) for u in around)),
            line("inner", "seam", (-0.5, low), (-0.5, high)),
            line("outer", "seam", (0.0, low), (0.0, high)),
        )
    )


def drawn(panel) -> dict[str, np.ndarray]:
    return {x.words: x.points for x in panel.flat.lines if x.name == "sheet pattern"}


def read(panel, points) -> np.ndarray:
    """How many mm each place lies beside the drawn column and above the drawn row, by the drawn lines alone."""
    out = []
    for words in (WAY, ROW):
        a, b = drawn(panel)[words]
        way = (b - a) / np.hypot(*(b - a))
        out.append((points - a) @ np.array([way[1], -way[0]]))
    return np.stack(out, axis=1)


def sides(panels, arc, low, high):
    """Both sides of a seam between two shares of its length, paired place by place."""
    rows = []
    for panel in panels:
        for edge in panel.flat.edges:
            if edge.arc == arc:
                points = edge.points(0.5)
                points = points if edge.forward else points[::-1]
                far = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(points, axis=0).T))])
                at = np.linspace(low, high, 9) * far[-1]
                rows.append((panel, np.stack([np.interp(at, far, points[:, k]) for k in (0, 1)], axis=1)))
    return rows


@given(low=st.floats(38, 60), high=st.floats(38, 60), pitch=st.floats(6, 30), turn=st.floats(-60, 60))
@settings(max_examples=often(15), deadline=None)
def test_the_pattern_goes_on_over_the_seam_between_two_panels(low, high, pitch, turn):
    readings, design = cone(low, high, 200.0, back="closed")
    weave = Weave(pitch=pitch, beside=pitch * 1.5, turn=turn)
    design = design.model_copy(update={"ink": in_two(), "foam_work": FoamWork(weave=weave)})
    made = as_cut(pattern_piece(readings, design, "Sleeve", "Build", None))
    own = [p for p in made.panels if p.side == made.panels[0].side]
    assert len(own) == 2
    a, b = drawn(own[0])[WAY]
    lean = math.degrees(math.atan2(-(b - a)[0], (b - a)[1]))
    assert (lean - turn + 90) % 180 - 90 == pytest.approx(0, abs=0.1), "as far from upright as was asked"
    arcs = {e.arc for e in own[0].flat.edges if e.kind == "seam" and e.arc}
    repeats = np.array([pitch * 1.5, pitch])

    def off(arc, low, high):
        (one, here), (other, there) = sides(own, arc, low, high)
        gap = read(one, here) - read(other, there)
        return float(np.abs(gap - np.round(gap / repeats) * repeats).max())

    assert min(off(arc, 0.4, 0.6) for arc in arcs) < 0.3, "laid on from one panel to the next"
    whole = [off(arc, 0.0, 1.0) for arc in arcs]
    assume(all(abs(x - 1.0) > 0.15 for x in whole))
    told = [
        float(re.search(r"up to ([0-9.]+) mm", f.message)[1]) for f in made.findings if "over the seam" in f.message
    ]
    assert sorted(told) == pytest.approx(sorted(x for x in whole if x > 1.0), abs=0.3)


@pytest.mark.parametrize("template", mostly(TEMPLATES, 3))
def test_every_seen_panel_shows_both_lines_and_no_other_sheet_does(template):
    weave = FoamWork(weave=Weave(pitch=12.0))
    made = as_cut(
        pattern_piece(WEARER, starter_design(template).model_copy(update={"foam_work": weave}), "Piece", "Build", None)
    )
    for panel in made.panels:
        lines = drawn(panel)
        assert set(lines) == ({WAY, ROW} if panel.layer.number == panel.layer.count else set())
        for points in lines.values():
            assert panel.flat.shape.buffer(0.5).covers(shapely.LineString(points))
    plain = as_cut(pattern_piece(WEARER, starter_design(template), "Piece", "Build", None))
    assert not any(drawn(p) for p in plain.panels)
