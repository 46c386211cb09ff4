"""The armour surface: the layers of a foam sheet that stands off the body by base layer, ease and lift."""

from dataclasses import dataclass
from functools import cached_property
from typing import Protocol

import numpy as np
from numpy.typing import ArrayLike, NDArray
from scipy.interpolate import CubicHermiteSpline

from vellumcut.core.body.splines import shape_preserving
from vellumcut.core.body.tube import TubeSurface

Array = NDArray[np.float64]

INNER, MIDDLE, OUTER = 0.0, 0.5, 1.0
"""Depth in the sheet: pattern lengths are those of the middle layer, the one that neither stretches nor squeezes."""

HOLLOW_LIMIT = 0.8
"""Offset over hollow radius: at 1 the offset surface folds over itself, so it is held below."""


class Lift(Protocol):
    """Something that makes the armour stand off where the body does not."""

    def lift(self, uv: Array, mm: Array) -> Array: ...


@dataclass(frozen=True)
class Flare:
    """A lift at an end edge. at: the edge, mm along. inward: +1 if the piece lies above it, -1 below.

    height: lift at the edge, mm. length: over how much of the piece it fades out, mm.
    """

    at: float
    inward: int
    height: float
    length: float

    def lift(self, uv: Array, mm: Array) -> Array:
        """Lift in mm, (n,), at places given both as (around, along) and by mm along."""
        share = np.clip(1 - (mm - self.at) * self.inward / self.length, 0.0, 1.5)
        return np.asarray(self.height * share**2)


@dataclass(frozen=True)
class ArmourSurface:
    """Offset layers of a tube. base: base layer, mm. thickness: foam, mm. ease: air gap per station, mm."""

    tube: TubeSurface
    base: float
    thickness: float
    ease: tuple[float, ...]
    lifts: tuple[Lift, ...] = ()

    def ease_at(self, mm: ArrayLike) -> Array:
        inside = np.clip(np.asarray(mm, dtype=float), self.tube.at[0], self.tube.at[-1])
        return np.asarray(self._ease_curve(inside))

    @cached_property
    def _ease_curve(self) -> CubicHermiteSpline:
        return shape_preserving(self.tube.at, self.ease)

    def offset(self, uv: Array, depth: float = MIDDLE) -> Array:
        """Distance in mm from the body along its normal at (n, 2) of (around, along), (n,).

        Held back in hollows that would fold it over.
        """
        return np.asarray(np.minimum(self._wanted(uv, depth), HOLLOW_LIMIT / np.maximum(self.tube.hollow(uv), 1e-6)))

    def offset_at(self, mm: ArrayLike, depth: float = MIDDLE, around: float = 0.0) -> Array:
        """As ``offset``, on one column at distances along the segment in mm."""
        z = np.atleast_1d(np.asarray(mm, dtype=float))
        return self.offset(np.stack([np.full(len(z), around), self.tube.along(z)], axis=1), depth)

    def _wanted(self, uv: Array, depth: float) -> Array:
        z = self.tube.mm(uv[:, 1])
        lift = sum((f.lift(uv, z) for f in self.lifts), np.zeros(len(uv)))
        return np.asarray(self.base + self.ease_at(z) + lift + depth * self.thickness)

    def held_back(self) -> list[tuple[float, float]]:
        """Stretches (from, to) in mm along the limb where a hollow keeps the foam from standing off as asked."""
        z = np.linspace(self.tube.at[0], self.tube.at[-1], 200)
        around = np.linspace(0, 1, 24, endpoint=False)
        u, v = (g.ravel() for g in np.meshgrid(around, self.tube.along(z)))
        uv = np.stack([u, v], axis=1)
        held = (self.offset(uv, OUTER) < self._wanted(uv, OUTER) - 1e-9).reshape(len(z), len(around))
        where = np.flatnonzero(held.any(axis=1))
        if len(where) == 0:
            return []
        runs = np.split(where, np.flatnonzero(np.diff(where) > 1) + 1)
        return [(float(z[r[0]]), float(z[r[-1]])) for r in runs]

    def points(self, uv: Array, depth: float = MIDDLE) -> Array:
        """(n, 2) of (around, along) -> (n, 3) in mm on the layer at ``depth``."""
        point, normal = self.tube.frame(uv[:, 0], uv[:, 1])
        return np.asarray(point + self.offset(uv, depth)[:, None] * normal)

    def _rings(self, mm: Array, depth: float) -> tuple[Array, Array]:
        """Rings of a layer at n distances: ``around`` and arc length along the layer, each (n, k)."""
        around, point, normal = self.tube.rings(mm)
        along = np.broadcast_to(self.tube.along(mm)[:, None], around.shape)
        uv = np.stack([around.ravel(), along.ravel()], axis=1)
        ring = point + self.offset(uv, depth).reshape(around.shape)[..., None] * normal
        steps = np.linalg.norm(np.diff(ring, axis=1), axis=2)
        return around, np.concatenate([np.zeros((len(mm), 1)), np.cumsum(steps, axis=1)], axis=1)

    def girth(self, along: ArrayLike, depth: float = MIDDLE) -> Array:
        """Girth of a layer at station coordinates, mm."""
        return self._rings(np.atleast_1d(self.tube.mm(along)), depth)[1][:, -1]

    def beside_gap(self, along: ArrayLike, gap: float) -> tuple[Array, Array]:
        """``around`` of both edges of an opening at the back, ``gap`` mm wide on the middle layer.

        Each (n,): the first on the wearer's left, under 0.5; the second on the right, from -0.5 up.
        """
        around, arc = self._rings(np.atleast_1d(self.tube.mm(along)), MIDDLE)
        left, right = [], []
        for u, s in zip(around, arc, strict=True):
            back = np.interp(0.5, u, s)
            left.append(np.interp(back - gap / 2, s, u))
            right.append(np.interp(back + gap / 2, s, u) - 1.0)
        return np.array(left), np.array(right)
