"""First unrollings to start from: a cone's flat sector for a plain shell, straightened rings for any other panel."""

from dataclasses import dataclass
from typing import Protocol

import numpy as np
from numpy.typing import NDArray

from vellumcut.core.cast.armour import ArmourSurface

Array = NDArray[np.float64]

LEAST_TAPER = 1e-5
"""Below this change of girth per mm the limb unrolls like a cylinder (a sector of very long radius)."""


@dataclass(frozen=True)
class SectorChart:
    """(around, along) <-> flat mm. A cone maps to its exact sector, anything else near enough to start from.

    levels: mm along the limb, n. slant: arc length of the layer's profile there, n. taper: girth per slant mm.
    radius: sector radius at slant 0.
    """

    surface: ArmourSurface
    levels: Array
    slant: Array
    taper: float
    radius: float

    def flat(self, uv: Array) -> Array:
        """(n, 2) of (around, along) -> (n, 2) in mm."""
        rho = self.radius + np.interp(self.surface.tube.mm(uv[:, 1]), self.levels, self.slant)
        theta = uv[:, 0] * self.taper
        return np.stack([rho * np.sin(theta), rho * np.cos(theta) - self.radius], axis=1)

    def uv(self, flat: Array) -> Array:
        """Inverse of ``flat``."""
        y = (flat[:, 1] + self.radius) * np.sign(self.taper)
        x = flat[:, 0] * np.sign(self.taper)
        slant = np.hypot(x, y) * np.sign(self.taper) - self.radius
        mm = np.interp(slant, self.slant, self.levels)
        return np.stack([np.arctan2(x, y) / self.taper, self.surface.tube.along(mm)], axis=1)


@dataclass(frozen=True)
class UnrolledChart:
    """(around, along) <-> flat mm, every ring laid straight: any panel of any tube, near enough to start from.

    levels: mm along, n. girths: of the layer there, lifts left out, mm, n. middle: the ``around`` that lies at x = 0.
    """

    surface: ArmourSurface
    levels: Array
    girths: Array
    middle: float

    def flat(self, uv: Array) -> Array:
        """(n, 2) of (around, along) -> (n, 2) in mm."""
        mm = self.surface.tube.mm(uv[:, 1])
        return np.stack([(uv[:, 0] - self.middle) * np.interp(mm, self.levels, self.girths), mm], axis=1)

    def uv(self, flat: Array) -> Array:
        """Inverse of ``flat``."""
        around = flat[:, 0] / np.interp(flat[:, 1], self.levels, self.girths) + self.middle
        return np.stack([around, self.surface.tube.along(flat[:, 1])], axis=1)


class Chart(Protocol):
    """Any first unrolling."""

    def flat(self, uv: Array) -> Array: ...

    def uv(self, flat: Array) -> Array: ...


def unroll(surface: ArmourSurface, uv: Array) -> UnrolledChart:
    """The unrolled chart of a panel whose outline runs through (n, 2) of (around, along)."""
    mm = surface.tube.mm(uv[:, 1])
    levels = np.linspace(mm.min() - 1.0, mm.max() + 1.0, 13)
    stand_off = surface.base + min(surface.ease) + surface.thickness / 2
    girths = surface.tube.girth(surface.tube.along(levels)) + 2 * np.pi * stand_off
    return UnrolledChart(surface, levels, girths, float((uv[:, 0].min() + uv[:, 0].max()) / 2))


def fit_chart(surface: ArmourSurface, low: float, high: float) -> SectorChart:
    """Fit a sector to the layer between two distances along the limb, mm, by least squares on its girths."""
    levels = np.linspace(low - 1.0, high + 1.0, 64)
    along = surface.tube.along(levels)
    girth = surface.girth(along)
    front, back = (surface.points(np.stack([np.full(64, u), along], axis=1)) for u in (0.0, 0.5))
    steps = [np.linalg.norm(np.diff(p, axis=0), axis=1) for p in (front, back)]
    slant = np.concatenate([[0], np.cumsum(np.mean(steps, axis=0))])
    taper, at_zero = np.polyfit(slant, girth, 1)
    if abs(taper) < LEAST_TAPER:
        taper = LEAST_TAPER
    return SectorChart(surface, levels, slant, float(taper), float(at_zero / taper))
