"""The armour surface: the layers of a foam sheet that stands off the body by base layer, ease and lift."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import ArrayLike, NDArray
from scipy.interpolate import CubicHermiteSpline
from scipy.special import ellipe, ellipeinc

from vellumcut.core.body.tube import TubeSurface, shape_preserving

Array = NDArray[np.float64]

INNER, MIDDLE, OUTER = 0.0, 0.5, 1.0
"""Depth in the sheet: pattern lengths are those of the middle layer, the one that neither stretches nor squeezes."""

HOLLOW_LIMIT = 0.8
"""Offset over hollow radius: at 1 the offset surface folds over itself, so it is held below."""

_HALF_RING = np.linspace(0, np.pi, 257)


@dataclass(frozen=True)
class Flare:
    """A lift at an end edge. at: the edge, mm along. inward: +1 if the piece lies above it, -1 below.

    height: lift at the edge, mm. length: over how much of the piece it fades out, mm.
    """

    at: float
    inward: int
    height: float
    length: float

    def lift(self, mm: Array) -> Array:
        share = np.clip(1 - (mm - self.at) * self.inward / self.length, 0.0, 1.5)
        return np.asarray(self.height * share**2)


@dataclass(frozen=True)
class ArmourSurface:
    """Offset layers of a tube. base: base layer, mm. thickness: foam, mm. ease: air gap per station, mm."""

    tube: TubeSurface
    base: float
    thickness: float
    ease: tuple[float, ...]
    flares: tuple[Flare, ...] = ()

    def ease_at(self, mm: ArrayLike) -> Array:
        inside = np.clip(np.asarray(mm, dtype=float), self.tube.at[0], self.tube.at[-1])
        return np.asarray(self._ease_curve(inside))

    @cached_property
    def _ease_curve(self) -> CubicHermiteSpline:
        return shape_preserving(self.tube.at, self.ease)

    def offset(self, mm: ArrayLike, depth: float = MIDDLE) -> Array:
        """Distance in mm from the body along its normal; held back in hollows that would fold it over."""
        z = np.asarray(mm, dtype=float)
        return np.asarray(np.minimum(self._wanted(z, depth), np.interp(z, *self._hollow_limits)))

    def _wanted(self, z: Array, depth: float) -> Array:
        lift = sum((f.lift(z) for f in self.flares), np.zeros_like(z))
        return np.asarray(self.base + self.ease_at(z) + lift + depth * self.thickness)

    @cached_property
    def _hollow_limits(self) -> tuple[Array, Array]:
        z = np.linspace(self.tube.at[0], self.tube.at[-1], 200)
        slope, bend = self.tube.semi_axes(z, 1), self.tube.semi_axes(z, 2)
        curvature = np.max([b / (1 + s**2) ** 1.5 for s, b in zip(slope, bend, strict=True)], axis=0)
        return z, HOLLOW_LIMIT / np.maximum(curvature, 1e-6)

    def held_back(self) -> list[tuple[float, float]]:
        """Stretches (from, to) in mm along the limb where a hollow keeps the foam from standing off as asked."""
        z, limit = self._hollow_limits
        where = np.flatnonzero(self._wanted(z, OUTER) > limit)
        if len(where) == 0:
            return []
        runs = np.split(where, np.flatnonzero(np.diff(where) > 1) + 1)
        return [(float(z[r[0]]), float(z[r[-1]])) for r in runs]

    def points(self, uv: Array, depth: float = MIDDLE) -> Array:
        """(n, 2) of (around, along) -> (n, 3) in mm on the layer at ``depth``."""
        point, normal = self.tube.frame(uv[:, 0], uv[:, 1])
        return np.asarray(point + self.offset(self.tube.mm(uv[:, 1]), depth)[:, None] * normal)

    def _half_rings(self, mm: Array, depth: float) -> Array:
        """Arc length along the layer from front to back at each of n rings, (n, 257)."""
        point, normal = self.tube.frame_at_angle(_HALF_RING[None, :], mm[:, None])
        ring = point + self.offset(mm, depth)[:, None, None] * normal
        steps = np.linalg.norm(np.diff(ring, axis=1), axis=2)
        return np.concatenate([np.zeros((len(mm), 1)), np.cumsum(steps, axis=1)], axis=1)

    def girth(self, along: ArrayLike, depth: float = MIDDLE) -> Array:
        """Girth of a layer at station coordinates, mm."""
        mm = np.atleast_1d(self.tube.mm(along))
        return 2 * self._half_rings(mm, depth)[:, -1]

    def around_beside_gap(self, along: ArrayLike, gap: float) -> Array:
        """``around`` of the left edge of an opening at the back, ``gap`` mm wide on the middle layer."""
        mm = np.atleast_1d(self.tube.mm(along))
        lengths = self._half_rings(mm, MIDDLE)
        phi = np.array([np.interp(row[-1] - gap / 2, row, _HALF_RING) for row in lengths])
        a, b = self.tube.semi_axes(mm)
        m = 1 - (b / a) ** 2
        return np.asarray(ellipeinc(phi, m) / (4 * ellipe(m)))
