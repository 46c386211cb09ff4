"""The armour surface: the layers of a foam sheet that stands off the body by base layer, ease and lift."""

from dataclasses import dataclass, replace
from functools import cached_property
from typing import Protocol

import numpy as np
from numpy.typing import ArrayLike, NDArray
from scipy.interpolate import CubicHermiteSpline, RectBivariateSpline
from scipy.ndimage import gaussian_filter, grey_dilation

from vellumcut.core.body.splines import shape_preserving
from vellumcut.core.body.tube import TubeSurface, lengths

Array = NDArray[np.float64]

INNER, MIDDLE, OUTER = 0.0, 0.5, 1.0
"""Depth in the sheet: pattern lengths are those of the middle layer, the one that neither stretches nor squeezes."""

HOLLOW_LIMIT = 0.8
"""Offset over hollow radius: at 1 the offset surface folds over itself, so it is held below."""


GIVE_STEP, GIVE_COLUMNS = 5.0, 96
GIVE_WAY = 16.0
"""Over how much of its surroundings a hollow's hold is spread, mm (est.): about what 6 mm foam does by itself."""
FELT = 1.0
"""Foam that is held closer by less is not told of, mm."""


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
    """Offset layers of a tube. base: base layer, mm. thickness: foam, mm. ease: air gap per station, mm.
    middle: depth of the layer whose lengths count, as a share of the thickness."""

    tube: TubeSurface
    base: float
    thickness: float
    ease: tuple[float, ...]
    lifts: tuple[Lift, ...] = ()
    middle: float = MIDDLE

    def at_depth(self, mm: float) -> "ArmourSurface":
        """The same sheet seen at a layer whose middle lies so far out from the inner face, mm: its lengths are that
        layer's. May lie past the outer face, where one panel is thicker than the rest."""
        layer = replace(self, middle=mm / self.thickness)
        # What a hollow holds back is the same for every layer of a sheet, and dear.
        layer.__dict__["_held"], layer.__dict__["_ease_curve"] = self._held, self._ease_curve
        return layer

    def ease_at(self, mm: ArrayLike) -> Array:
        """Air gap at distances along the segment, mm."""
        inside = np.clip(np.asarray(mm, dtype=float), self.tube.at[0], self.tube.at[-1])
        return np.asarray(self._ease_curve(inside))

    @cached_property
    def _ease_curve(self) -> CubicHermiteSpline:
        return shape_preserving(self.tube.at, self.ease)

    def offset(self, uv: Array, depth: float | None = None) -> Array:
        """Distance in mm from the body along its normal at (n, 2) of (around, along), (n,).

        Held back in and round hollows that would fold it over, the whole sheet alike.
        """
        wanted = self._wanted(uv, self.middle if depth is None else depth)
        return wanted if self._held is None else np.asarray(wanted - self.held(uv))

    def held(self, uv: Array) -> Array:
        """How much closer than asked a hollow holds the sheet at (n, 2) of (around, along), mm, (n,)."""
        if self._held is None:
            return np.zeros(len(uv))
        mm = np.clip(self.tube.mm(uv[:, 1]), *self.tube.reach)
        return np.asarray(np.maximum(self._held.ev(mm, uv[:, 0] % 1.0), 0.0))

    @cached_property
    def _held(self) -> RectBivariateSpline | None:
        """The hold of every hollow, spread over its surroundings: a sheet gives way in a slope, it has no pits.

        Each hollow's need is first widened, then evened out, so that what is held never falls far short of it.
        """
        z = np.linspace(*self.tube.reach, max(12, round(np.ptp(self.tube.reach) / GIVE_STEP)))
        around = np.arange(GIVE_COLUMNS) / GIVE_COLUMNS
        v, u = (g.ravel() for g in np.meshgrid(self.tube.along(z), around, indexing="ij"))
        uv = np.stack([u, v], axis=1)
        limit = HOLLOW_LIMIT / np.maximum(self.tube.hollow(uv), 1e-6)
        over = np.maximum(self._wanted(uv, MIDDLE) - limit, 0.0).reshape(len(z), GIVE_COLUMNS)
        if over.max() <= 0:
            return None
        cells = GIVE_WAY / np.array([z[1] - z[0], float(np.mean(self.tube.station_girths)) / GIVE_COLUMNS])
        size = [int(2 * round(c) + 1) for c in cells]
        wide = grey_dilation(over, size, mode=("nearest", "wrap"))
        even = gaussian_filter(wide, cells / 2, mode=("nearest", "wrap"))
        column = np.arange(-3, GIVE_COLUMNS + 4)
        return RectBivariateSpline(z, column / GIVE_COLUMNS, even[:, column % GIVE_COLUMNS])

    def offset_at(self, mm: ArrayLike, depth: float | None = None, around: float = 0.0) -> Array:
        """As ``offset``, on one column at distances along the segment in mm."""
        z = np.atleast_1d(np.asarray(mm, dtype=float))
        return self.offset(np.stack([np.full(len(z), around), self.tube.along(z)], axis=1), depth)

    def _wanted(self, uv: Array, depth: float) -> Array:
        z = self.tube.mm(uv[:, 1])
        lift = sum((f.lift(uv, z) for f in self.lifts), np.zeros(len(uv)))
        return np.asarray(self.base + self.ease_at(z) + lift + depth * self.thickness)

    def held_back(self, low: float, high: float) -> tuple[float, float] | None:
        """Where between two distances along the limb, mm, a hollow keeps the foam most from standing off as asked, and
        by how much, mm; None where it does so by less than FELT."""
        z, around = np.linspace(low, high, 100), np.linspace(0, 1, 48, endpoint=False)
        v, u = (g.ravel() for g in np.meshgrid(self.tube.along(z), around, indexing="ij"))
        held = self.held(np.stack([u, v], axis=1)).reshape(len(z), len(around)).max(axis=1)
        at = int(held.argmax())
        return (float(z[at]), float(held[at])) if held[at] > FELT else None

    def points(self, uv: Array, depth: float | None = None) -> Array:
        """(n, 2) of (around, along) -> (n, 3) in mm on the layer at ``depth``; None: on the one whose lengths count."""
        point, normal = self.tube.frame(uv[:, 0], uv[:, 1])
        return np.asarray(point + self.offset(uv, depth)[:, None] * normal)

    def _rings(self, mm: Array, depth: float | None) -> tuple[Array, Array]:
        """Rings of a layer at n distances: ``around`` and arc length along the layer, each (n, k)."""
        around, point, normal = self.tube.rings(mm)
        along = np.broadcast_to(self.tube.along(mm)[:, None], around.shape)
        uv = np.stack([around.ravel(), along.ravel()], axis=1)
        ring = point + self.offset(uv, depth).reshape(around.shape)[..., None] * normal
        steps = lengths(np.diff(ring, axis=1))
        return around, np.concatenate([np.zeros((len(mm), 1)), np.cumsum(steps, axis=1)], axis=1)

    def girth(self, along: ArrayLike, depth: float | None = None) -> Array:
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
