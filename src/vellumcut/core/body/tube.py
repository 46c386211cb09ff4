"""The cast's model: a tube round one body segment, elliptical rings smoothly joined through its stations."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import ArrayLike, NDArray
from scipy.interpolate import CubicHermiteSpline, CubicSpline
from scipy.optimize import minimize
from scipy.special import ellipe, ellipeinc

from vellumcut.core.errors import CraftError

Array = NDArray[np.float64]

BEYOND = 80.0
"""How far past its end stations a tube may be used, mm: a cast always goes past the wanted edge."""
LEAST_SEMI_AXIS = 5.0
NEWTON_DONE = 1e-5
"""Radians; the error after such a step is of the order of its square, under a nanometre on a limb."""


@dataclass(frozen=True)
class TubeSurface:
    """Map (around, along) -> (x, y, z) in mm; z up along the limb, front at -y, wearer's left at +x.

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

    @property
    def length(self) -> float:
        """Distance from the first station to the last, mm."""
        return self.at[-1] - self.at[0]

    def mm(self, along: ArrayLike) -> Array:
        """Station coordinate -> distance along the limb in mm, any shape; straight lines past the ends."""
        return _linear(np.arange(len(self.at), dtype=float), np.array(self.at), along)

    def along(self, mm: ArrayLike) -> Array:
        """Distance along the limb in mm -> station coordinate, any shape."""
        return _linear(np.array(self.at), np.arange(len(self.at), dtype=float), mm)

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
        phi, z = np.broadcast_arrays(np.asarray(phi, dtype=float), np.asarray(mm, dtype=float))
        a, b = self.semi_axes(z)
        da, db = self.semi_axes(z, 1)
        sin, cos = np.sin(phi), np.cos(phi)
        point = np.stack([a * sin, -b * cos, z], axis=-1)
        normal = np.stack([b * sin, -a * cos, -(a * db * cos**2 + b * da * sin**2)], axis=-1)
        return point, normal / np.linalg.norm(normal, axis=-1, keepdims=True)

    def uv_to_xyz(self, uv: Array) -> Array:
        """(n, 2) of (around, along) -> (n, 3) in mm."""
        return self.frame(uv[:, 0], uv[:, 1])[0]

    def closest_uv(self, points: Array) -> Array:
        """(n, 3) in mm -> (n, 2): the (around, along) of the nearest surface points; around in [0, 1)."""
        return np.array([self._closest(p) for p in np.atleast_2d(points)])

    def _closest(self, point: Array) -> Array:
        ring = np.linspace(0, 1, 48, endpoint=False)
        levels = np.linspace(0, len(self.at) - 1, 40)
        u, v = (g.ravel() for g in np.meshgrid(ring, levels))
        grid = self.frame(u, v)[0]
        start = int(np.argmin(((grid - point) ** 2).sum(axis=1)))

        def miss(x: Array) -> float:
            return float(((self.frame(x[0], x[1])[0] - point) ** 2).sum())

        box = [(u[start] - 0.05, u[start] + 0.05), (0, len(self.at) - 1)]
        best = minimize(miss, np.array([u[start], v[start]]), bounds=box, method="L-BFGS-B", options={"ftol": 1e-15})
        return np.array([best.x[0] % 1.0, best.x[1]])

    def polyline_length(self, uv: Array, per_piece: int = 24) -> float:
        """Length on the surface of a polyline (n, 2) in (around, along), mm."""
        t = np.linspace(0, len(uv) - 1, (len(uv) - 1) * per_piece + 1)
        fine = np.stack([np.interp(t, np.arange(len(uv)), uv[:, k]) for k in (0, 1)], axis=1)
        return float(np.linalg.norm(np.diff(self.uv_to_xyz(fine), axis=0), axis=1).sum())

    def area(self, low: float = 0.0, high: float | None = None, share: float = 1.0) -> float:
        """Area in mm2 between two station coordinates over a share of the girth, by Simpson over rings."""
        top = float(len(self.at) - 1) if high is None else high
        z = np.linspace(float(self.mm(low)), float(self.mm(top)), 65)
        phi = np.linspace(0, 2 * np.pi, 128, endpoint=False)[:, None]
        a, b = self.semi_axes(z)
        da, db = self.semi_axes(z, 1)
        sin, cos = np.sin(phi), np.cos(phi)
        cell = np.sqrt((b * sin) ** 2 + (a * cos) ** 2 + (a * db * cos**2 + b * da * sin**2) ** 2)
        per_ring = cell.mean(axis=0) * 2 * np.pi
        weights = np.ones(65)
        weights[1:-1:2], weights[2:-1:2] = 4, 2
        return float((per_ring * weights).sum() * (z[1] - z[0]) / 3 * share)


PAST_A_TURN = 0.01
"""About how far a curve may go past a station that is its largest or smallest, as a share of the value there.

A tape seldom sits exactly on the fullest place; holding the slope to zero there makes a false, harder bulge.
"""


def shape_preserving(x: ArrayLike, y: ArrayLike) -> CubicHermiteSpline:
    """Cubic through the points that makes no hill the points do not have (but for PAST_A_TURN).

    Slopes of the smooth (twice differentiable) spline, held to three times the smaller neighbouring chord:
    Fritsch and Carlson, "Monotone piecewise cubic interpolation", 1980. At a turn a slope s over the next
    step h overshoots by about 4/27*s*h, which bounds s there.
    """
    x, y = np.asarray(x, dtype=float), np.asarray(y, dtype=float)
    step = np.diff(x)
    chord = np.diff(y) / step
    before, after = np.concatenate([chord[:1], chord]), np.concatenate([chord, chord[-1:]])
    slope = CubicSpline(x, y)(x, 1)
    turn = before * after <= 0
    longest = np.maximum(np.concatenate([step[:1], step]), np.concatenate([step, step[-1:]]))
    at_turn = np.where(before * after < 0, PAST_A_TURN * np.abs(y) * 27 / 4 / longest, 0.0)
    most = np.where(turn, at_turn, 3 * np.minimum(np.abs(before), np.abs(after)))
    held = np.clip(slope, -most, most)
    return CubicHermiteSpline(x, y, np.where(~turn & (held * before < 0), 0.0, held))


def _linear(x: Array, y: Array, at: ArrayLike) -> Array:
    q = np.asarray(at, dtype=float)
    i = np.clip(np.searchsorted(x, q, side="right") - 1, 0, len(x) - 2)
    return np.asarray(y[i] + (y[i + 1] - y[i]) * (q - x[i]) / (x[i + 1] - x[i]))
