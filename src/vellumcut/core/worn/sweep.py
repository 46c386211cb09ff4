"""Two shells turned about a joint: at which angle they meet, and what opens on the other side."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.spatial import KDTree

Array = NDArray[np.float64]

ROUGH, FINE = 5.0, 1.0
"""Cells round the axis in which points of both shells are held against each other, mm: first to find where, then at
which angle."""
NEAR = 14.0
"""The fine look takes in what lies so near to the first rough meeting, mm."""
_APART = 1000.0
"""More than any angle: keeps cells apart in one sorted row."""


@dataclass(frozen=True, eq=False)
class Hinge:
    """A joint about which one shell turns. at: (3,) mm. axis: unit (3,); turning is right-handed."""

    at: Array
    axis: Array

    def round(self, points: Array) -> tuple[Array, Array, Array]:
        """Of (n, 3) points: how far along the axis, mm; distance from it, mm; angle round it, radians."""
        e1 = np.cross(self.axis, np.eye(3)[int(np.abs(self.axis).argmin())])
        e1 /= np.linalg.norm(e1)
        e2 = np.cross(self.axis, e1)
        away = points - self.at
        x, y = away @ e1, away @ e2
        return away @ self.axis, np.hypot(x, y), np.arctan2(y, x)

    def turned(self, points: Array, radians: float) -> Array:
        """(n, 3) points after the turn (Rodrigues)."""
        away, k = points - self.at, self.axis
        c, s = np.cos(radians), np.sin(radians)
        return np.asarray(self.at + away * c + np.cross(k, away) * s + np.outer(away @ k, k) * (1 - c))


def free_turn(hinge: Hinge, moving: Array, fixed: Array, cell: float) -> Array:
    """How far each moving point (n,) can turn before it meets a fixed one at its own place round the axis, radians;
    infinite where nothing lies in its way.

    A turn keeps a point's distance from the axis and its place along it, so only points that share both can meet: the
    sweep is a search for the next angle in each cell, exact to a cell.
    """
    (h, r, a), (fh, fr, fa) = hinge.round(moving), hinge.round(fixed)
    width = int(4 * max(float(np.abs(h).max(initial=1)), float(np.abs(fh).max(initial=1))) / cell) + 8
    key = np.floor(h / cell).astype(np.int64) + width // 2 + width * (np.floor(r / cell).astype(np.int64) + 1)
    cells = []
    for di in (-1, 0, 1):
        for dj in (-1, 0, 1):
            cells.append(
                np.floor(fh / cell).astype(np.int64)
                + di
                + width // 2
                + width * (np.floor(fr / cell).astype(np.int64) + 1 + dj)
            )
    fixed_key = np.concatenate(cells)
    angle = np.tile(fa, 9)
    wanted = np.isin(fixed_key, np.unique(key))
    fixed_key, angle = fixed_key[wanted], angle[wanted]
    row = np.concatenate([fixed_key * _APART + angle, fixed_key * _APART + angle + 2 * np.pi])
    row.sort()
    out = np.full(len(moving), np.inf)
    if not len(row):
        return out
    at = np.searchsorted(row, key * _APART + a)
    inside = at < len(row)
    gap = row[np.minimum(at, len(row) - 1)] - (key * _APART + a)
    met = inside & (gap < 2 * np.pi + 1e-6)
    out[met] = gap[met]
    return out


@dataclass(frozen=True, eq=False)
class Meeting:
    """angle: at which the shells meet, radians; infinite: never. at: (3,) mm where, on the moving shell as it stands.
    free: (n,) of every moving point, rough."""

    angle: float
    at: Array
    free: Array


def meet(hinge: Hinge, moving: Array, fixed: Array, reach: float) -> Meeting:
    """Where two shells meet first when one turns. moving, fixed: (n, 3) points spread over them, mm, rims among them
    more closely. reach: how far it is turned at most, radians."""
    rough = free_turn(hinge, moving, fixed, ROUGH)
    first = float(rough.min(initial=np.inf))
    if first > reach:
        return Meeting(np.inf, moving[0] if len(moving) else np.zeros(3), rough)
    least, where = np.inf, moving[int(rough.argmin())]
    # A rough cell is coarse where a shell lies aslant: everything that might be first is looked at finely.
    slack = first + 2 * NEAR / max(20.0, float(hinge.round(where[None])[1][0]))
    tried = rough <= slack
    h, r, _ = hinge.round(moving[tried])
    fh, fr, _ = hinge.round(fixed)
    near = KDTree(np.stack([h, r], axis=1)).query(np.stack([fh, fr], axis=1), distance_upper_bound=2 * FINE)[0] < np.inf
    fine = free_turn(hinge, moving[tried], fixed[near], FINE)
    if len(fine) and np.isfinite(fine.min()):
        least, where = float(fine.min()), moving[tried][int(fine.argmin())]
    return Meeting(least if least <= reach else np.inf, where, rough)


@dataclass(frozen=True, eq=False)
class Opening:
    """What opens on the side that stretches. before, after: widest gap, mm. at: (3,) mm where, standing. arc: mm that
    the rim travels there."""

    before: float
    after: float
    arc: float
    at: Array


def opened(hinge: Hinge, moving_rim: Array, fixed_rim: Array, radians: float) -> Opening | None:
    """The widest place between two facing rims once one has turned: how far what lay nearest has moved away. rims: (n,
    3) mm, those that face each other."""
    if not len(moving_rim) or not len(fixed_rim):
        return None
    standing = KDTree(moving_rim).query(fixed_rim)
    away = np.linalg.norm(hinge.turned(moving_rim, radians)[standing[1]] - fixed_rim, axis=1)
    grown = away - standing[0]
    k = int(grown.argmax())
    if grown[k] <= 0:
        return None
    radius = float(hinge.round(moving_rim[standing[1][k]][None])[1][0])
    return Opening(float(standing[0][k]), float(away[k]), radius * radians, fixed_rim[k])
