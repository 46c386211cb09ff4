"""By how much the armour surface is folded along a seam or a dart."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from vellumcut.core.body.tube import TubeSurface
from vellumcut.core.cast.armour import ArmourSurface

Array = NDArray[np.float64]

STATION = 12.0
"""Steps along a line at which its fold is read, mm."""
NEAR = 0.5
"""Both sides of a line are looked at from this distance on, mm."""
TO_THE_LINE = (4.375, -5.25, 1.875)
"""Lagrange weights that carry readings at 1.5, 2.5 and 3.5 times NEAR on to the line."""


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
    """The jump of the sheets' direction at a line: what is left of their turning when both sides come up to it.

    uv: (n, 2) of (around, along). Plain curvature is no fold: a bent sheet's square edges are radial and meet flush.
    So the turning is read at three distances from the line, the nearest past where a drawn line and the crest under it
    may differ, and carried on to the line itself (quadratic extrapolation; geometry.md, section 6).
    """
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

    way = _unit(on(here + 0.5 * along) - on(here - 0.5 * along))
    sides = [[on(here + side * NEAR * k * across) for k in (1, 2, 3, 4)] for side in (1.0, -1.0)]
    _, outward = _at(surface.tube, here, scale)
    inward = -_unit(_square_to(outward, way))
    beside = np.cross(way, inward)
    # In a valley the layers of both sides run through each other: the skin says which way is left.
    skin = [_at(surface.tube, here + side * NEAR * across, scale)[0] for side in (1.0, -1.0)]
    beside *= np.sign(((skin[0] - skin[1]) * beside).sum(axis=1, keepdims=True))

    def fall(side: int, k: int) -> Array:
        """By how much the k-th chord of a side goes inwards, away from the line, degrees, (n,)."""
        chord = _square_to(sides[side][k + 1] - sides[side][k], way)
        away = (chord * beside).sum(axis=1) * (1 - 2 * side)
        return np.asarray(np.degrees(np.arctan2((chord * inward).sum(axis=1), away)))

    turns = [fall(0, k) + fall(1, k) for k in range(len(TO_THE_LINE))]
    return Fold(at, np.asarray(sum(w * t for w, t in zip(TO_THE_LINE, turns, strict=True))))


def _at(tube: TubeSurface, flat: Array, scale: Array) -> tuple[Array, Array]:
    """Points of the skin and its normals at (n, 2) of (around, mm along), each scaled."""
    return tube.frame(flat[:, 0] / scale[0], tube.along(flat[:, 1]))


def _square_to(x: Array, way: Array) -> Array:
    """What of vectors (n, 3) is at right angles to unit vectors (n, 3)."""
    return np.asarray(x - (x * way).sum(axis=1, keepdims=True) * way)


def _unit(x: Array) -> Array:
    return np.asarray(x / np.linalg.norm(x, axis=1, keepdims=True))
