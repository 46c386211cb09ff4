"""Cutting a scanned body into closed rings: where a scalar field over its corners takes a given value."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import connected_components

from vellumcut.core.cast.mesh import BodyMesh, Faces

Array = NDArray[np.float64]

RING_ANGLES = 180
WIDEST_HOLE = np.radians(70.0)
"""A ring with a larger gap than this, seen from its middle, is not closed by guessing."""
_ROUND = np.linspace(0, 2 * np.pi, RING_ANGLES, endpoint=False)


@dataclass(frozen=True, eq=False)
class Loop:
    """One connected cut. segments: (m, 2, 3) mm."""

    segments: Array

    @property
    def length(self) -> float:
        return float(np.linalg.norm(self.segments[:, 1] - self.segments[:, 0], axis=1).sum())

    @property
    def middle(self) -> Array:
        weight = np.linalg.norm(self.segments[:, 1] - self.segments[:, 0], axis=1)
        return np.asarray((self.segments.mean(axis=1) * weight[:, None]).sum(axis=0) / max(weight.sum(), 1e-9))


def cut_loops(mesh: BodyMesh, field: Array, level: float) -> list[Loop]:
    """All connected cuts where ``field`` (n,), given at the mesh's corners, is ``level``; longest first."""
    above = field[mesh.faces] > level
    count = above.sum(axis=1)
    crossed = (count == 1) | (count == 2)
    if not crossed.any():
        return []
    faces, above = mesh.faces[crossed], above[crossed]
    lone = np.where(above.sum(axis=1) == 1, above.argmax(axis=1), (~above).argmax(axis=1))
    row = np.arange(len(faces))
    apex, one, two = faces[row, lone], faces[row, (lone + 1) % 3], faces[row, (lone + 2) % 3]
    ends, keys = [], []
    for other in (one, two):
        t = (level - field[apex]) / (field[other] - field[apex])
        ends.append(mesh.vertices[apex] + t[:, None] * (mesh.vertices[other] - mesh.vertices[apex]))
        keys.append(np.minimum(apex, other) * len(field) + np.maximum(apex, other))
    segments = np.stack(ends, axis=1)
    _, node = np.unique(np.concatenate(keys), return_inverse=True)
    a, b = node[: len(faces)], node[len(faces) :]
    size = int(node.max()) + 1
    _, label = connected_components(coo_matrix((np.ones(len(a)), (a, b)), (size, size)), directed=False)
    loops = [Loop(segments[label[a] == k]) for k in np.unique(label[a])]
    return sorted(loops, key=lambda loop: -loop.length)


def loop_round(loops: list[Loop], centre: Array, across: Array, ahead: Array) -> Loop | None:
    """The loop that goes round ``centre``, seen in the plane of two unit vectors; the nearest if several do."""
    best, nearest = None, np.inf
    for loop in loops:
        away = loop.segments - centre
        angle = np.arctan2(away @ across, away @ ahead)
        turn = np.abs((np.diff(angle, axis=1) + np.pi) % (2 * np.pi) - np.pi).sum()
        size = float(np.hypot(away @ across, away @ ahead).mean())
        if turn > 2 * np.pi - WIDEST_HOLE and size < nearest:
            best, nearest = loop, size
    return best


def polar_radii(loop: Loop, centre: Array, across: Array, ahead: Array) -> Array:
    """Distance from ``centre`` at RING_ANGLES angles from ``ahead`` towards ``across``; NaN in gaps over WIDEST_HOLE.

    Corners of the cut are joined by straight lines, as the mesh is.
    """
    away = loop.segments.reshape(-1, 3) - centre
    x, y = away @ across, away @ ahead
    angle, radius = np.arctan2(x, y) % (2 * np.pi), np.hypot(x, y)
    order = np.argsort(angle)
    angle, radius = angle[order], radius[order]
    wide = np.concatenate([angle[-3:] - 2 * np.pi, angle, angle[:3] + 2 * np.pi])
    long = np.concatenate([radius[-3:], radius, radius[:3]])
    right = np.clip(np.searchsorted(wide, _ROUND), 1, len(wide) - 1)
    left = right - 1
    gap = wide[right] - wide[left]
    # A chord seen from the centre: interpolate 1/r, which is exact on a straight line for small angles.
    share = np.where(gap > 1e-12, (_ROUND - wide[left]) / np.maximum(gap, 1e-12), 0.0)
    inverse = (1 - share) / np.maximum(long[left], 1e-6) + share / np.maximum(long[right], 1e-6)
    return np.where(gap > WIDEST_HOLE, np.nan, 1 / inverse)


def ring_angles() -> Array:
    return _ROUND


def plane_field(mesh: BodyMesh, origin: Array, axis: Array) -> Array:
    """Distance of every corner along a unit axis from an origin, mm, (n,)."""
    return np.asarray((mesh.vertices - origin) @ axis)


def faces_near(mesh: BodyMesh, field: Array, low: float, high: float) -> BodyMesh:
    """The part of a mesh whose field lies between two values, so that many cuts are quick."""
    corner = field[mesh.faces]
    keep: Faces = mesh.faces[(corner.max(axis=1) >= low) & (corner.min(axis=1) <= high)]
    return BodyMesh(mesh.vertices, keep)
