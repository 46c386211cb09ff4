"""The simplest tube: elliptical rings across a straight axis, smoothly joined through its stations."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import ArrayLike, NDArray
from scipy.interpolate import CubicHermiteSpline
from scipy.special import ellipe, ellipeinc

from vellumcut.core.body.splines import shape_preserving
from vellumcut.core.body.tube import LEAST_SEMI_AXIS, RING_POINTS, TubeSurface
from vellumcut.core.errors import CraftError

Array = NDArray[np.float64]

NEWTON_DONE = 1e-5
"""Radians; the error after such a step is of the order of its square, under a nanometre on a limb."""


@dataclass(frozen=True)
class EllipticTube(TubeSurface):
    """Tube whose rings are ellipses, met exactly.

    names: station names, n. at: their distances along the limb in mm, n, increasing.
    girths: mm, n. ratios: depth over width, n.
    ``along`` is the station coordinate 0..n-1, ``around`` in [0, 1) runs by arc length from the front
    line towards the wearer's left. Each ring is an ellipse scaled to the exact girth: perimeter
    4*a*E(1 - (b/a)^2) with E the complete elliptic integral of the second kind (DLMF 19.9.9).
    """

    names: tuple[str, ...]
    at: tuple[float, ...]
    girths: tuple[float, ...]
    ratios: tuple[float, ...]

    def __post_init__(self) -> None:
        for name, girth in zip(self.names, self.girths, strict=True):
            if girth < 2 * np.pi * LEAST_SEMI_AXIS:
                raise CraftError(f"{name}: a girth of {girth:.0f} mm is too small to wrap foam round", f"{name}.girth")
        if len(self.at) < 2 or np.any(np.diff(self.at) <= 0):
            raise CraftError("a tube needs two or more stations at growing distances along the limb", "at")

    @cached_property
    def _semi_axes(self) -> tuple[CubicHermiteSpline, CubicHermiteSpline]:
        ratio = np.array(self.ratios)
        width = np.array(self.girths) / (4 * ellipe(1 - ratio**2))
        return shape_preserving(self.at, width), shape_preserving(self.at, width * ratio)

    def semi_axes(self, mm: ArrayLike, derivative: int = 0) -> tuple[Array, Array]:
        """Half width and half depth of the ring at ``mm``, or their derivatives along the limb.

        Past the ends they go on straight with the end's slope, never under LEAST_SEMI_AXIS.
        """
        z = np.asarray(mm, dtype=float)
        inside = np.clip(z, self.at[0], self.at[-1])
        out = []
        for curve in self._semi_axes:
            value, slope = curve(inside), curve(inside, 1)
            line = value + slope * (z - inside)
            floor = line < LEAST_SEMI_AXIS
            if derivative == 0:
                out.append(np.where(floor, LEAST_SEMI_AXIS, line))
            elif derivative == 1:
                out.append(np.where(floor, 0.0, slope))
            else:
                out.append(np.where(z == inside, curve(inside, derivative), 0.0))
        return out[0], out[1]

    def girth(self, along: ArrayLike) -> Array:
        """Girth of the ring at a station coordinate, mm."""
        a, b = self.semi_axes(self.mm(along))
        return np.asarray(4 * a * ellipe(1 - (b / a) ** 2))

    def ring_angle(self, around: ArrayLike, mm: ArrayLike) -> Array:
        """Ellipse parameter (radians, 0 at the front) whose arc length is the share ``around`` of the ring."""
        a, b = self.semi_axes(mm)
        m = 1 - (b / a) ** 2
        target = np.asarray(around, dtype=float) * 4 * ellipe(m)
        even = np.asarray(around, dtype=float) * 2 * np.pi
        phi = even - m / 8 * np.sin(2 * even) / (1 - m / 4)
        for _ in range(8):
            step = (ellipeinc(phi, m) - target) / np.sqrt(1 - m * np.sin(phi) ** 2)
            phi = phi - step
            if np.abs(step).max(initial=0.0) < NEWTON_DONE:
                break
        return np.asarray(phi)

    def frame(self, around: ArrayLike, along: ArrayLike) -> tuple[Array, Array]:
        """Points and outward unit normals, each (..., 3), for broadcast ``around`` and ``along``."""
        around, z = np.broadcast_arrays(np.asarray(around, dtype=float), self.mm(along))
        return self.frame_at_angle(self.ring_angle(around, z), z)

    def frame_at_angle(self, phi: ArrayLike, mm: ArrayLike) -> tuple[Array, Array]:
        """As ``frame``, for ellipse parameters (radians) and distances along the limb (mm)."""
        z = np.asarray(mm, dtype=float)
        # Read once a ring, not once a point of it: the curves are what takes time.
        a, b = self.semi_axes(z)
        da, db = self.semi_axes(z, 1)
        sin, cos = np.sin(phi), np.cos(phi)
        point = np.stack(np.broadcast_arrays(a * sin, -b * cos, z), axis=-1)
        x, y, up = b * sin, -a * cos, -(a * db * cos**2 + b * da * sin**2)
        length = np.sqrt(x * x + y * y + up * up)
        return point, np.stack([x / length, y / length, up / length], axis=-1)

    def rings(self, mm: Array) -> tuple[Array, Array, Array]:
        """As ``TubeSurface.rings``. Arc lengths are dear: a quarter of them is read, the rest is its mirror image."""
        phi = np.linspace(0, 2 * np.pi, RING_POINTS + 1)
        z = np.asarray(mm, dtype=float)[:, None]
        a, b = self.semi_axes(z)
        m = 1 - (b / a) ** 2
        first = ellipeinc(phi[None, : RING_POINTS // 4 + 1], m) / (4 * ellipe(m))
        half = np.concatenate([first, 0.5 - first[:, -2::-1]], axis=1)
        return np.concatenate([half, 1 - half[:, -2::-1]], axis=1), *self.frame_at_angle(phi[None, :], z)

    @cached_property
    def _hollows(self) -> tuple[Array, Array]:
        z = np.linspace(self.at[0], self.at[-1], 200)
        slope, bend = self.semi_axes(z, 1), self.semi_axes(z, 2)
        curvature = np.max([b / (1 + s**2) ** 1.5 for s, b in zip(slope, bend, strict=True)], axis=0)
        return z, np.maximum(curvature, 0.0)

    def hollow(self, uv: Array) -> Array:
        """As ``TubeSurface.hollow``: where the profile bends inward along the limb."""
        return np.interp(self.mm(uv[:, 1]), *self._hollows)

    def tightest(self, mm: Array) -> Array:
        """As ``TubeSurface.tightest``: at the ends of the long axis."""
        a, b = self.semi_axes(mm)
        return np.asarray(np.minimum(b**2 / a, a**2 / b))

    def half_widths(self, mm: Array) -> tuple[Array, Array]:
        """As ``TubeSurface.half_widths``."""
        return self.semi_axes(mm)
