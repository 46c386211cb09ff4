"""By how much the armour surface is folded along a seam or a dart."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from vellumcut.core.cast.armour import ArmourSurface

Array = NDArray[np.float64]

STATION = 12.0
"""Steps along a line at which its fold is read, mm."""


@dataclass(frozen=True)
class Fold:
    """The fold along a line. at: (n,) mm along it. degrees: (n,) above zero where it is a ridge, below where a
    valley."""

    at: Array
    degrees: Array

    @property
    def mean(self) -> float:
        """Over its length, degrees."""
        if self.at[-1] <= 0:
            return float(self.degrees.mean())
        return float(np.trapezoid(self.degrees, self.at) / self.at[-1])

    @property
    def range(self) -> tuple[float, float]:
        """Least and most, degrees."""
        return float(self.degrees.min()), float(self.degrees.max())


def read_fold(surface: ArmourSurface, uv: Array) -> Fold:
    """Angle between the sheets on both sides of a line, by the way each goes beside it, over one thickness of the foam.

    uv: (n, 2) of (around, along).
    """
    wide = surface.thickness
    scale = np.array([float(np.mean(surface.tube.station_girths)), 1.0])
    flat = np.stack([uv[:, 0], surface.tube.mm(uv[:, 1])], axis=1) * scale
    steps = np.linalg.norm(np.diff(surface.points(uv), axis=0), axis=1)
    length = np.concatenate([[0.0], np.cumsum(steps)])
    at = np.linspace(0.0, length[-1], max(3, round(length[-1] / STATION) + 1))
    here = np.stack([np.interp(at, length, flat[:, k]) for k in (0, 1)], axis=1)
    along = np.gradient(here, axis=0)
    along /= np.linalg.norm(along, axis=1, keepdims=True)
    across = np.stack([-along[:, 1], along[:, 0]], axis=1)

    def on(places: Array) -> Array:
        return surface.points(np.stack([places[:, 0] / scale[0], surface.tube.along(places[:, 1])], axis=1))

    near = 0.1 * wide
    left, right = (_unit(on(here + s * wide * across) - on(here + s * near * across)) for s in (1.0, -1.0))
    way = _unit(on(here + 0.5 * along) - on(here - 0.5 * along))
    left, right = (_unit(x - (x * way).sum(axis=1, keepdims=True) * way) for x in (left, right))
    _, outward = surface.tube.frame(here[:, 0] / scale[0], surface.tube.along(here[:, 1]))
    # Where both sheets go inwards from the line it is a ridge.
    sign = -np.sign(((left + right) * outward).sum(axis=1))
    between = np.arccos(np.clip((left * right).sum(axis=1), -1.0, 1.0))
    return Fold(at, sign * (180.0 - np.degrees(between)))


def _unit(x: Array) -> Array:
    return np.asarray(x / np.linalg.norm(x, axis=1, keepdims=True))
