"""The cast's model: a tube round one body segment, whatever it was made from."""

from abc import ABC, abstractmethod
from collections.abc import Sequence
from functools import cached_property

import numpy as np
from numpy.typing import ArrayLike, NDArray
from scipy.spatial import KDTree

from vellumcut.core.body.splines import linear_through

Array = NDArray[np.float64]

BEYOND = 80.0
"""How far past its end stations a tube may be used, mm: a cast always goes past the wanted edge."""
LEAST_SEMI_AXIS = 5.0
RING_POINTS = 512
_NEAR = 1e-4
"""Step of a numeric derivative in (around, along)."""
_STEP_BACK = 0.12
"""Longest step of the search for the closest point: never past the next valley of the body."""


def lengths(vectors: Array) -> Array:
    """Lengths of vectors (..., 3), (...): several times as quick as a norm along a short last axis."""
    return np.asarray(np.sqrt(np.einsum("...c,...c->...", vectors, vectors)))


class TubeSurface(ABC):
    """Map (around, along) -> (x, y, z) in mm; z up along the segment, front at -y, wearer's left at +x.

    names: station names, n. at: their distances along the segment in mm, n, increasing.
    ``along`` is the station coordinate 0..n-1, ``around`` runs by arc length from the front line, 1 a whole
    turn towards the wearer's left.
    """

    names: tuple[str, ...]
    at: tuple[float, ...]

    @property
    def length(self) -> float:
        """Distance from the first station to the last, mm."""
        return self.at[-1] - self.at[0]

    @property
    def reach(self) -> tuple[float, float]:
        """How far the tube may be used, mm along: the cast goes past its end stations."""
        return self.at[0] - BEYOND, self.at[-1] + BEYOND

    def mm(self, along: ArrayLike) -> Array:
        """Station coordinate -> distance along the limb in mm, any shape; straight lines past the ends."""
        return linear_through(np.arange(len(self.at), dtype=float), np.array(self.at), along)

    def along(self, mm: ArrayLike) -> Array:
        """Distance along the limb in mm -> station coordinate, any shape."""
        return linear_through(np.array(self.at), np.arange(len(self.at), dtype=float), mm)

    @abstractmethod
    def frame(self, around: ArrayLike, along: ArrayLike) -> tuple[Array, Array]:
        """Points and outward unit normals, each (..., 3), for broadcast ``around`` and ``along``."""

    @abstractmethod
    def rings(self, mm: Array) -> tuple[Array, Array, Array]:
        """Closed rings at n distances: ``around`` (n, k) from 0 to 1, points and normals (n, k, 3)."""

    @abstractmethod
    def hollow(self, uv: Array) -> Array:
        """Curvature of the body's hollows at (n, 2) of (around, along), 1/mm, (n,); 0 where it bulges."""

    @abstractmethod
    def tightest(self, mm: Array) -> Array:
        """Smallest radius of each of n rings, mm."""

    @abstractmethod
    def half_widths(self, mm: Array) -> tuple[Array, Array]:
        """Half width and half depth of each of n rings, mm."""

    @abstractmethod
    def girth(self, along: ArrayLike) -> Array:
        """Girth of the body cut at a station coordinate, into every hollow, mm."""

    def tape_girth(self, along: ArrayLike) -> Array:
        """Girth that a tape reads there, mm: it runs straight over hollows. An oval has none."""
        return self.girth(along)

    @cached_property
    def station_girths(self) -> Sequence[float]:
        """Girth at every station, mm, (n,)."""
        return [float(g) for g in self.girth(np.arange(len(self.at), dtype=float))]

    def uv_to_xyz(self, uv: Array) -> Array:
        """(n, 2) of (around, along) -> (n, 3) in mm."""
        return self.frame(uv[:, 0], uv[:, 1])[0]

    def closest_uv(self, points: Array) -> Array:
        """(n, 3) in mm -> (n, 2): the (around, along) of the nearest surface points; around in [0, 1).

        Gauss-Newton from the nearest point of a grid; places past the last level stay at it.
        """
        points = np.atleast_2d(points)
        low, high = (float(v) for v in self.along(np.array(self.reach)))
        ring, levels = np.linspace(0, 1, 128, endpoint=False), np.linspace(low, high, 120)
        u, v = (g.ravel() for g in np.meshgrid(ring, levels))
        grid = np.stack([u, v], axis=1)
        uv: Array = grid[KDTree(self.uv_to_xyz(grid)).query(points)[1]]
        for _ in range(6):
            here = self.uv_to_xyz(uv)
            du = (self.uv_to_xyz(uv + [_NEAR, 0.0]) - here) / _NEAR
            dv = (self.uv_to_xyz(uv - [0.0, _NEAR]) - here) / -_NEAR
            miss = points - here
            a, b, c = ((p * q).sum(axis=1) for p, q in ((du, du), (du, dv), (dv, dv)))
            right = np.stack([(du * miss).sum(axis=1), (dv * miss).sum(axis=1)], axis=1)
            det = np.maximum(a * c - b * b, 1e-9)
            step = np.stack([c * right[:, 0] - b * right[:, 1], a * right[:, 1] - b * right[:, 0]], axis=1)
            uv = uv + np.clip(step / det[:, None], -_STEP_BACK, _STEP_BACK)
            uv[:, 1] = np.clip(uv[:, 1], low, high)
        uv[:, 0] %= 1.0
        return uv

    def polyline_length(self, uv: Array, per_piece: int = 24) -> float:
        """Length on the surface of a polyline (n, 2) in (around, along), mm."""
        t = np.linspace(0, len(uv) - 1, (len(uv) - 1) * per_piece + 1)
        fine = np.stack([np.interp(t, np.arange(len(uv)), uv[:, k]) for k in (0, 1)], axis=1)
        return float(np.linalg.norm(np.diff(self.uv_to_xyz(fine), axis=0), axis=1).sum())

    def area(self, low: float = 0.0, high: float | None = None) -> float:
        """Area in mm2 between two station coordinates: the triangles of a fine grid of rings."""
        top = float(len(self.at) - 1) if high is None else high
        _, ring, _ = self.rings(np.linspace(float(self.mm(low)), float(self.mm(top)), 129))
        a, b = np.diff(ring[:-1], axis=1), ring[1:, :-1] - ring[:-1, :-1]
        c, d = -np.diff(ring[1:], axis=1), ring[:-1, 1:] - ring[1:, 1:]
        cells = np.linalg.norm(np.cross(a, b), axis=2) + np.linalg.norm(np.cross(c, d), axis=2)
        return float(cells.sum() / 2)
