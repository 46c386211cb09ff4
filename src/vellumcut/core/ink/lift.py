"""Lift: how ink lines make the armour stand off where the body does not."""

from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from vellumcut.core.body.tube import TubeSurface
from vellumcut.core.cast.armour import Lift
from vellumcut.core.design.sheet import InkSheet, drawn_strokes, stroke_line

Array = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class StrokeLift:
    """Lift of one stroke. line: in unrolled mm. It is ``height`` on the line and fades to nothing ``width`` mm off,
    straight at first, so a ridge keeps its crest, and smoothly at its foot."""

    line: shapely.LineString
    height: float
    width: float
    turn: float
    """Length of one turn in unrolled mm, so a line near the back is felt from both sides."""

    def lift(self, uv: Array, mm: Array) -> Array:
        """Lift in mm, (n,), at places given as (around, along) and by mm along."""
        left, low, right, high = self.line.bounds
        middle = (left + right) / 2
        x = (uv[:, 0] * self.turn - middle + self.turn / 2) % self.turn + middle - self.turn / 2
        away = np.full(len(uv), self.width)
        near = (mm > low - self.width) & (mm < high + self.width)
        near &= (x > left - self.width) & (x < right + self.width)
        away[near] = shapely.distance(self.line, shapely.points(x[near], mm[near]))
        share = np.clip(1 - away / self.width, 0.0, 1.0)
        return np.asarray(self.height * share**2 * (1 + 0.5 * (1 - share)))


def stroke_lifts(tube: TubeSurface, sheet: InkSheet) -> tuple[Lift, ...]:
    """Every lifted stroke of a sheet, mirror images too. Distances are taken on the unrolled tube."""
    turn = float(np.mean(tube.station_girths))
    out = []
    for stroke, _ in drawn_strokes(sheet):
        if stroke.lift > 0:
            line = stroke_line(stroke)
            flat = np.stack([line[:, 0] * turn, tube.mm(line[:, 1])], axis=1)
            out.append(StrokeLift(shapely.LineString(flat), stroke.lift, stroke.lift_width, turn))
    return tuple(out)
