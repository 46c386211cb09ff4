"""Smooth boundary curves of a flat panel, as a knife should follow them."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray
from scipy.interpolate import BSpline, make_interp_spline

Array = NDArray[np.float64]

DRAW_STEP = 1.0
"""Spacing of points when a curve is drawn as a line, mm; sagitta under 0.005 mm at 25 mm radius."""


@dataclass(frozen=True)
class FlatEdge:
    """One edge of a flat panel from corner to corner.

    knots: (n, 2) mm. at: (n,) arc length on the body's armour surface at the knots, mm.
    along: (n,) station coordinate at the knots. arc: the same for all panels that share this stretch of a seam;
    forward: whether the edge runs the way the arc does.
    """

    name: str
    kind: str
    knots: Array
    at: Array
    along: Array
    arc: str = ""
    forward: bool = True

    @property
    def body_length(self) -> float:
        """Length on the armour surface, mm."""
        return float(self.at[-1])

    @cached_property
    def length(self) -> float:
        """Length on the flat panel, mm."""
        return float(np.linalg.norm(np.diff(self.points(0.25), axis=0), axis=1).sum())

    @cached_property
    def _chord(self) -> Array:
        """Length up to each knot by straight steps, mm: the curve's parameter."""
        steps = np.linalg.norm(np.diff(self.knots, axis=0), axis=1)
        return np.concatenate([[0.0], np.cumsum(steps)])

    @cached_property
    def _curve(self) -> BSpline:
        return make_interp_spline(self._chord, self.knots, min(3, len(self.knots) - 1))

    def points(self, step: float = DRAW_STEP) -> Array:
        """The curve as points about ``step`` mm apart, ends included, (m, 2)."""
        curve = self._curve
        end = float(self._chord[-1])
        return np.asarray(curve(np.linspace(0, end, max(2, int(np.ceil(end / step)) + 1))))

    def cumulative(self) -> Array:
        """Length along the flat curve up to each knot, mm, (n,)."""
        fine = self._curve(np.linspace(self._chord[:-1], self._chord[1:], 9)).transpose(1, 0, 2)
        spans = np.linalg.norm(np.diff(fine, axis=1), axis=2).sum(axis=1)
        return np.concatenate([[0.0], np.cumsum(spans)])

    def beziers(self) -> Array:
        """The same curve exactly, as cubic Bezier pieces, (n - 1, 4, 2) in mm."""
        curve, at = self._curve, self._chord
        step, start, end = np.diff(at)[:, None], curve(at[:-1]), curve(at[1:])
        slope_in, slope_out = curve(at[:-1], 1), curve(at[1:], 1)
        return np.stack([start, start + slope_in * step / 3, end - slope_out * step / 3, end], axis=1)

    def arc_at(self, along: float) -> float:
        """Body arc length at a station coordinate, for an edge that runs along the limb, mm."""
        order = np.argsort(self.along)
        return float(np.interp(along, self.along[order], self.at[order]))

    def place(self, body_arc: float) -> tuple[Array, Array]:
        """Point and unit tangent on the flat curve that lie ``body_arc`` mm along the edge on the body."""
        curve = self._curve
        s = float(np.interp(body_arc, self.at, self._chord))
        tangent = curve(s, 1)
        return np.asarray(curve(s)), np.asarray(tangent / np.linalg.norm(tangent))


def edge_from_vertices(
    name: str, kind: str, flat: Array, at: Array, along: Array, arc: str = "", forward: bool = True
) -> FlatEdge:
    """An edge through solved boundary vertices (n, 2), ends kept, solver noise evened out.

    One pass of a (1, 2, 1)/4 average of second differences moves no vertex by more than a quarter of its
    own deviation from a smooth line, well under the 0.2 mm a knife can follow.
    """
    knots = flat.copy()
    if len(knots) > 4:
        bend = flat[:-2] - 2 * flat[1:-1] + flat[2:]
        smooth = bend.copy()
        smooth[1:-1] = (bend[:-2] + 2 * bend[1:-1] + bend[2:]) / 4
        knots[1:-1] += (bend - smooth) / 4
    return FlatEdge(name, kind, knots, at, along, arc, forward)
