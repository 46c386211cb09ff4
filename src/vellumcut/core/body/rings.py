"""A tube of free-form rings: what a scan, or a torso's measures, are turned into."""

from dataclasses import dataclass, field
from functools import cached_property

import numpy as np
import shapely
from numpy.typing import ArrayLike, NDArray
from scipy.interpolate import NdBSpline, RectBivariateSpline, RegularGridInterpolator

from vellumcut.core.body.tube import RING_POINTS, TubeSurface, lengths
from vellumcut.core.errors import CraftError

Array = NDArray[np.float64]

_PAD = 5
"""Columns repeated past the seam of the ring, so the spline does not know where the ring begins."""


@dataclass(frozen=True, eq=False)
class Sections:
    """Girths as measured on a scan, square to the tube. levels: (m,) mm along. plane: (m,) mm, of the skin as it is
    cut, into every hollow. tape: (m,) mm, of a tape that runs straight over hollows."""

    levels: Array
    plane: Array
    tape: Array

    def known(self, mm: Array) -> "NDArray[np.bool_]":
        """Which distances along, mm, lie where girths were read, (n,)."""
        return np.asarray((mm >= self.levels[0]) & (mm <= self.levels[-1]))


@dataclass(frozen=True, eq=False)
class RingTube(TubeSurface):
    """A bicubic spline through a grid of rings.

    names, at: stations, n, as in TubeSurface. levels: (l,) mm along, increasing, reaching past the end stations.
    grid: (l, k, 3) mm, each ring k points equally spaced by arc length from the front line to the wearer's left.
    sections: girths read off the scan that it was made from, if it was: a smooth tube is a little short of them.
    """

    names: tuple[str, ...]
    at: tuple[float, ...]
    levels: Array
    grid: Array
    sections: Sections | None = field(default=None, kw_only=True)

    def __post_init__(self) -> None:
        if len(self.at) < 2 or np.any(np.diff(self.at) <= 0) or np.any(np.diff(self.levels) <= 0):
            raise CraftError("a tube needs two or more stations at growing distances along the body", "at")
        if not np.isfinite(self.grid).all():
            raise CraftError("The body has a hole here that is too large to close", "at")

    @property
    def reach(self) -> tuple[float, float]:
        """From the lowest level to the highest, mm along."""
        return float(self.levels[0]), float(self.levels[-1])

    @cached_property
    def _splines(self) -> tuple[RectBivariateSpline, ...]:
        k = self.grid.shape[1]
        column = np.arange(-_PAD, k + _PAD + 1)
        wide = self.grid[:, column % k]
        return tuple(RectBivariateSpline(self.levels, column / k, wide[..., c]) for c in range(3))

    @cached_property
    def _spline(self) -> NdBSpline:
        """The three splines as one: at scattered points it is three times as quick."""
        tz, tu, _ = self._splines[0].tck
        weights = [s.tck[2].reshape(len(tz) - 4, len(tu) - 4) for s in self._splines]
        return NdBSpline((tz, tu), np.stack(weights, axis=-1), 3)

    def _at(self, u: Array, z: Array, du: int = 0, dz: int = 0) -> Array:
        return np.asarray(self._spline(np.stack([z, u], axis=-1), nu=(dz, du)))

    def uv_to_xyz(self, uv: Array) -> Array:
        """As ``TubeSurface.uv_to_xyz``: without the normals, which are dear."""
        u, z = uv[:, 0] % 1.0, np.asarray(self.mm(uv[:, 1]))
        inside = np.clip(z, self.levels[0], self.levels[-1])
        point, past = self._at(u, inside), z != inside
        point[past] += self._at(u[past], inside[past], dz=1) * (z - inside)[past, None]
        return point

    def frame(self, around: ArrayLike, along: ArrayLike) -> tuple[Array, Array]:
        """As ``TubeSurface.frame``."""
        u, z = np.broadcast_arrays(np.asarray(around, dtype=float), self.mm(along))
        return self._frame_at(u, z)

    def _frame_at(self, u: Array, z: Array) -> tuple[Array, Array]:
        """Past the last levels the tube goes on straight, as a wrap would."""
        u, inside = u % 1.0, np.clip(z, self.levels[0], self.levels[-1])
        across, up = self._at(u, inside, du=1), self._at(u, inside, dz=1)
        point = self._at(u, inside) + up * (z - inside)[..., None]
        normal = np.cross(across, up)
        return point, normal / np.linalg.norm(normal, axis=-1, keepdims=True)

    def rings(self, mm: Array) -> tuple[Array, Array, Array]:
        """As ``TubeSurface.rings``."""
        around, z = np.linspace(0, 1, RING_POINTS + 1), np.asarray(mm, dtype=float)
        inside = np.clip(z, self.levels[0], self.levels[-1])
        # A spline is many times quicker on a grid than at scattered points; it wants its rows in order.
        order = np.argsort(inside, kind="stable")
        point, across, up = (
            np.stack([s(inside[order], around, dx=dz, dy=du) for s in self._splines], axis=-1)[np.argsort(order)]
            for du, dz in ((0, 0), (1, 0), (0, 1))
        )
        normal = np.cross(across, up)
        normal /= lengths(normal)[..., None]
        point = point + up * (z - inside)[:, None, None]
        return np.broadcast_to(around, point.shape[:2]), point, normal

    def girth(self, along: ArrayLike) -> Array:
        """Plane girth at station coordinates, mm."""
        return self._girths(along)[0]

    def tape_girth(self, along: ArrayLike) -> Array:
        """Tape girth at station coordinates, mm."""
        return self._girths(along)[1]

    def _girths(self, along: ArrayLike) -> tuple[Array, Array]:
        """Plane and tape girths: the scan's where it was measured, else of the tube's own rings."""
        mm = np.atleast_1d(self.mm(along)).ravel()
        _, ring, _ = self.rings(mm)
        plane = lengths(np.diff(ring, axis=1)).sum(axis=1)
        tape = np.array([tape_round(r) for r in ring])
        if self.sections is not None:
            read = self.sections.known(mm)
            plane[read] = np.interp(mm[read], self.sections.levels, self.sections.plane)
            tape[read] = np.interp(mm[read], self.sections.levels, self.sections.tape)
        return plane.reshape(np.shape(along)), tape.reshape(np.shape(along))

    @cached_property
    def _hollows(self) -> RegularGridInterpolator:
        """The stronger principal curvature that bends inward, from the two fundamental forms (do Carmo, 3-3)."""
        u = np.linspace(0, 1, 97)
        z = np.linspace(self.levels[0], self.levels[-1], 80)
        uu, zz = (g.ravel() for g in np.meshgrid(u % 1.0, z))
        _, normal = self._frame_at(uu, zz)
        a, b = self._at(uu, zz, du=1), self._at(uu, zz, dz=1)
        second = [self._at(uu, zz, du=i, dz=j) for i, j in ((2, 0), (1, 1), (0, 2))]
        e, f, g = ((p * q).sum(axis=1) for p, q in ((a, a), (a, b), (b, b)))
        lnn, mnn, nnn = ((s * normal).sum(axis=1) for s in second)
        det = e * g - f * f
        mean = (lnn * g - 2 * mnn * f + nnn * e) / (2 * det)
        gauss = (lnn * nnn - mnn**2) / det
        inward = mean + np.sqrt(np.maximum(mean**2 - gauss, 0.0))
        return RegularGridInterpolator((z, u), np.maximum(inward, 0.0).reshape(len(z), len(u)))

    def hollow(self, uv: Array) -> Array:
        """As ``TubeSurface.hollow``."""
        z = np.clip(self.mm(uv[:, 1]), self.levels[0], self.levels[-1])
        return np.asarray(self._hollows(np.stack([z, uv[:, 0] % 1.0], axis=1)))

    def tightest(self, mm: Array) -> Array:
        """Over an arc of a sixteenth of the ring: foam bridges what is smaller."""
        _, ring, _ = self.rings(mm)
        flat = ring[:, :-1]
        step = RING_POINTS // 32
        a, b = np.roll(flat, step, axis=1), np.roll(flat, -step, axis=1)
        p, q, r = (np.linalg.norm(v, axis=2) for v in (flat - a, b - flat, b - a))
        twice = np.linalg.norm(np.cross(flat - a, b - flat), axis=2)
        return np.asarray((p * q * r / np.maximum(2 * twice, 1e-9)).min(axis=1))

    def half_widths(self, mm: Array) -> tuple[Array, Array]:
        """As ``TubeSurface.half_widths``."""
        _, ring, _ = self.rings(mm)
        size = np.ptp(ring, axis=1) / 2
        return size[:, 0], size[:, 1]


def even_ring(ring: Array, count: int) -> Array:
    """A closed ring (k, 3), first point on the front line, as ``count`` points equally spaced by arc length."""
    return np.asarray(even_rings(ring[None], count)[0])


def even_rings(rings: Array, count: int) -> Array:
    """As ``even_ring``, for many rings (l, k, 3) at once."""
    closed = np.concatenate([rings, rings[:, :1]], axis=1)
    steps = lengths(np.diff(closed, axis=1))
    arc = np.concatenate([np.zeros((len(rings), 1)), np.cumsum(steps, axis=1)], axis=1)
    at = np.linspace(np.zeros(len(rings)), arc[:, -1], count, endpoint=False, axis=1)
    # All rings are searched as one: each lies beyond the one before it.
    beyond = np.arange(len(rings))[:, None] * (2 * arc.max() + 1)
    before = np.searchsorted((arc + beyond).ravel(), (at + beyond).ravel(), side="right").reshape(at.shape) - 1
    k = np.clip(before - np.arange(len(rings))[:, None] * arc.shape[1], 0, arc.shape[1] - 2)
    start, end = np.take_along_axis(arc, k, 1), np.take_along_axis(arc, k + 1, 1)
    share = ((at - start) / np.maximum(end - start, 1e-300))[..., None]
    first, second = (np.take_along_axis(closed, i[..., None], 1) for i in (k, k + 1))
    return np.asarray(first + (second - first) * share)


def grid_normals(grid: Array) -> Array:
    """Outward unit normals of a grid of rings (l, k, 3), from its neighbours round and along."""
    across, up = np.roll(grid, -1, axis=1) - np.roll(grid, 1, axis=1), np.gradient(grid, axis=0)
    normal = np.cross(across, up)
    return np.asarray(normal / np.maximum(np.linalg.norm(normal, axis=-1, keepdims=True), 1e-9))


def tape_round(ring: Array) -> float:
    """Length of a tape round points (k, 2 or 3) of a ring, seen along the tube, mm: it runs straight over hollows."""
    return float(shapely.multipoints(ring[:, :2]).convex_hull.length)
