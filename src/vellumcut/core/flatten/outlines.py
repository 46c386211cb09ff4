"""A flat panel's edges from plain rings of points: as they were drawn, never rounded at a bend."""

import numpy as np
import shapely
from numpy.typing import NDArray

from vellumcut.core.flatten.curves import FlatEdge

Array = NDArray[np.float64]

KEEPS = 0.02
"""mm within which a smooth curve keeps to the straight steps that a file draws."""


def as_drawn(points: Array) -> Array:
    """Points of a line (n, 2) with more of them beside every bend, mm: so that a smooth curve through them keeps to the
    straight steps between, as they were drawn, and swings at no place where short steps follow a long one.

    A curve stands off a step by about its length times the turn at its end / 8; and it swings where a step is much
    longer than the one beside it.
    """
    points = points[np.concatenate([[True], np.hypot(*np.diff(points, axis=0).T) > 1e-6])]
    steps = np.diff(points, axis=0)
    long, way = np.hypot(*steps.T), np.arctan2(steps[:, 1], steps[:, 0])
    closed = len(points) > 3 and np.allclose(points[0], points[-1])
    turn = np.abs((np.diff(way, prepend=way[-1], append=way[0]) + np.pi) % (2 * np.pi) - np.pi)
    if not closed:
        turn[[0, -1]] = 0.0
    beside = np.concatenate([long[-1:], long, long[:1]]) if closed else np.concatenate([long[:1], long, long[-1:]])
    out = [points[:1]]
    for k, step in enumerate(steps):
        ends = ((turn[k], beside[k]), (turn[k + 1], beside[k + 2]))
        first, last = (_beside(float(long[k]), float(t), float(other)) for t, other in ends)
        share = np.unique([*first, *(1.0 - x for x in last), 1.0])
        out.append(points[k] + share[:, None] * step)
    return np.concatenate(out)


def _beside(long: float, turn: float, other: float) -> list[float]:
    """Where more points lie on a step beside a bend, as shares of it: each twice as far as the one before, to its
    middle. other: the step on the bend's other side, mm."""
    near = min(8 * KEEPS / max(turn, 1e-9), 2 * other) if turn > 1e-6 else np.inf
    return [near * (2**k - 1) / long for k in range(1, 40) if near * (2**k - 1) <= long / 2 and long > near]


def corners_in(ring: Array, degrees: float) -> NDArray[np.intp]:
    """Which points of a closed line (k, 2), first not repeated, turn by more than so many degrees."""
    ways = np.diff(np.vstack([ring[-1:], ring, ring[:1]]), axis=0)
    angles = np.arctan2(ways[:, 1], ways[:, 0])
    turn = np.degrees((np.diff(angles) + np.pi) % (2 * np.pi) - np.pi)
    return np.flatnonzero(np.abs(turn) > degrees)


def ring_edge(name: str, points: Array) -> FlatEdge:
    """A closed line (k, 2) mm, its last point its first, as one edge."""
    at = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(points, axis=0).T))])
    return FlatEdge(name, "outline", points, at, np.linspace(0.0, 1.0, len(points)))


def triangles_in(outline: Array, holes: list[Array]) -> tuple[Array, NDArray[np.int32]]:
    """Triangles to draw it with. A ring that crosses itself has none."""
    shape = shapely.Polygon(outline, holes)
    if not shape.is_valid:
        return outline, np.zeros((0, 3), np.int32)
    triangles = shapely.get_coordinates(shapely.constrained_delaunay_triangles(shape)).reshape(-1, 4, 2)[:, :3]
    points, index = np.unique(triangles.reshape(-1, 2).round(6), axis=0, return_inverse=True)
    return points, np.asarray(index.reshape(-1, 3), np.int32)


def upright(outline: Array) -> Array:
    """A centre line (2, 2) mm that stands in the middle of an outline."""
    x = float(outline[:, 0].mean())
    return np.array([[x, float(outline[:, 1].min())], [x, float(outline[:, 1].max())]])
