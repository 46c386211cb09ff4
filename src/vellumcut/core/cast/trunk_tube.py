"""A trunk as a tube: its bust points, what a tape reads on it, and the armhole that is laid on it."""

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray
from scipy.interpolate import LinearNDInterpolator
from scipy.optimize import brentq

from vellumcut.core.body.rings import RingTube
from vellumcut.core.body.torso import ARMPIT, BUST, NECK, SHOULDER, WAIST
from vellumcut.core.errors import CraftError

Array = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class TrunkTube(RingTube):
    """A trunk. apex: (around, along) of the left bust point. armhole: (k, 2) closed curve round the left armhole."""

    apex: tuple[float, float]
    armhole: Array


BESIDE_TAPE = 20.0
"""The sheet is looked at so far beside a tape, mm: triangles between its points are a quarter of that."""


def tape_lengths(tube: TrunkTube) -> Array:
    """Back length, front length and bust point drop as a tape on the tube reads them, mm, (3,)."""
    back, front = (
        tube.polyline_length(np.array([[u, WAIST], [u, BUST], [u, ARMPIT], [u, SHOULDER], [u, NECK]]), 30)
        for u in (0.5, 0.0)
    )
    side, bust = tube.uv_to_xyz(np.array([(neck_side(tube), NECK), tube.apex]))
    path = side + np.linspace(0, 1, 25)[:, None] * (bust - side)
    columns, rows = tube.grid.shape[1] * 3 // 10, tube.levels > tube.at[BUST] - 40
    sheet = tube.grid[rows, :columns].reshape(-1, 3)
    sheet = sheet[_beside(sheet[:, [0, 2]], side[[0, 2]], bust[[0, 2]]) < BESIDE_TAPE]
    path[1:-1, 1] = LinearNDInterpolator(sheet[:, [0, 2]], sheet[:, 1])(path[1:-1][:, [0, 2]])
    path = path[np.isfinite(path).all(axis=1)]
    drop = np.linalg.norm(np.diff(path, axis=0), axis=1).sum()
    return np.array([back, front, float(drop)])


def _beside(points: Array, a: Array, b: Array) -> Array:
    """How far points (n, 2) lie from the line between two, mm, (n,)."""
    along = np.clip((points - a) @ (b - a) / ((b - a) @ (b - a)), 0.0, 1.0)
    return np.asarray(np.hypot(*(points - a - along[:, None] * (b - a)).T))


def neck_side(tube: RingTube) -> float:
    """``around`` of the side of the neck, at the top of the shoulder line: where the ring is widest."""
    return _widest(tube, NECK)


def shoulder_point(tube: RingTube) -> float:
    """``around`` of the left shoulder point on the shoulder's ring."""
    return _widest(tube, SHOULDER)


def _widest(tube: RingTube, station: int) -> float:
    u = np.linspace(0.1, 0.4, 301)
    return float(u[int(tube.uv_to_xyz(np.stack([u, np.full(301, float(station))], axis=1))[:, 0].argmax())])


ARMHOLE_POINTS = 72
WIDTHS, BOTTOMS = (0.012, 0.14), (ARMPIT - 0.6, ARMPIT + 0.55)
"""Half width of an armhole in shares of the ring, and how low it may begin, as a station coordinate."""


def with_armhole(tube: TrunkTube, girth: float) -> TrunkTube:
    """Lay the armhole as an oval from the shoulder point to the armpit, as wide as its girth asks.

    Where the widest or narrowest oval does not give it, the underarm moves down or up.
    """
    top = shoulder_point(tube)

    def oval(width: float, bottom: float) -> Array:
        phi = np.linspace(0, 2 * np.pi, ARMHOLE_POINTS + 1)
        middle, half = (SHOULDER + bottom) / 2, (SHOULDER - bottom) / 2
        return np.stack([top + width * np.sin(phi), middle + half * np.cos(phi)], axis=1)

    def solve(low: float, high: float, make: Callable[[float], Array]) -> Array:
        def miss(at: float) -> float:
            return tube.polyline_length(make(at), 3) - girth

        return make(float(brentq(miss, low, high, xtol=1e-8)) if miss(low) < 0 < miss(high) else high)

    narrow, broad = (tube.polyline_length(oval(w, ARMPIT), 3) for w in WIDTHS)
    if girth < narrow:
        curve = solve(-BOTTOMS[1], -ARMPIT, lambda b: oval(WIDTHS[0], -b))
    elif girth > broad:
        curve = solve(-ARMPIT, -BOTTOMS[0], lambda b: oval(WIDTHS[1], -b))
    else:
        curve = solve(*WIDTHS, lambda w: oval(w, ARMPIT))
    if abs(tube.polyline_length(curve, 3) - girth) > 1.0:
        raise CraftError(
            f"An armhole of {girth:.0f} mm does not fit these shoulders: check it with shoulder and armpit lengths",
            "torso.armhole",
        )
    return replace(tube, armhole=curve)
