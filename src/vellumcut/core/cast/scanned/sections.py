"""Cutting a scanned body into closed rings: where a scalar field over its corners takes a given value."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray
from scipy.ndimage import label
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import connected_components

from vellumcut.core.cast.scanned.mesh import BodyMesh, Faces

Array = NDArray[np.float64]

RING_ANGLES = 180
WIDEST_HOLE = np.radians(70.0)
"""A ring with a larger gap than this, seen from its middle, is not closed by guessing."""
_ROUND = np.linspace(0, 2 * np.pi, RING_ANGLES, endpoint=False)


@dataclass(frozen=True, eq=False)
class Loop:
    """One connected cut. segments: (m, 2, 3) mm. closed: it comes back to where it began: the mesh has no hole
    there."""

    segments: Array
    closed: bool = True

    @cached_property
    def _weights(self) -> Array:
        return np.asarray(np.linalg.norm(self.segments[:, 1] - self.segments[:, 0], axis=1))

    @cached_property
    def length(self) -> float:
        """Length of the cut, mm."""
        return float(self._weights.sum())

    @cached_property
    def middle(self) -> Array:
        """(3,) mm, the mean of its pieces by their length."""
        return np.asarray((self.segments.mean(axis=1) * self._weights[:, None]).sum(axis=0) / max(self.length, 1e-9))


def cut_loops(mesh: BodyMesh, field: Array, level: float) -> list[Loop]:
    """All connected cuts where ``field`` (n,), given at the mesh's corners, is ``level``; longest first."""
    return cut_levels(mesh, field, np.array([level]))[0]


def cut_levels(mesh: BodyMesh, field: Array, levels: Array) -> list[list[Loop]]:
    """As ``cut_loops`` for many rising levels (l,) at once: the mesh is gone through once, not once a level."""
    corner = field[mesh.faces]
    first = np.searchsorted(levels, corner.min(axis=1))
    count = np.searchsorted(levels, corner.max(axis=1)) - first
    own = np.repeat(np.arange(len(count)), count)
    out: list[list[Loop]] = [[] for _ in levels]
    if not len(own):
        return out
    at = first[own] + np.arange(len(own)) - np.repeat(np.cumsum(count) - count, count)
    segments, keys = _cut_faces(mesh, field, own, levels[at])
    _, node = np.unique(keys + at * len(field) ** 2, return_inverse=True)
    a, b = node.reshape(2, -1)
    size = int(node.max()) + 1
    _, part = connected_components(coo_matrix((np.ones(len(a)), (a, b)), (size, size)), directed=False)
    loose = np.zeros(int(part.max()) + 1, dtype=bool)
    loose[part[np.bincount(node.ravel(), minlength=size) != 2]] = True
    order = np.argsort(part[a], kind="stable")
    ends = np.flatnonzero(np.diff(part[a][order])) + 1
    for rows in np.split(order, ends):
        out[int(at[rows[0]])].append(Loop(segments[rows], not loose[part[a[rows[0]]]]))
    return [sorted(loops, key=lambda loop: -loop.length) for loops in out]


def _cut_faces(mesh: BodyMesh, field: Array, own: Faces, level: Array) -> tuple[Array, Faces]:
    """Straight cuts (s, 2, 3) mm through faces ``own`` at a level each, and the edges that they end on, (2, s)."""
    faces = mesh.faces[own]
    above = field[faces] > level[:, None]
    lone = np.where(above.sum(axis=1) == 1, above.argmax(axis=1), (~above).argmax(axis=1))
    row = np.arange(len(faces))
    apex = faces[row, lone]
    ends, keys = [], []
    for other in (faces[row, (lone + 1) % 3], faces[row, (lone + 2) % 3]):
        t = (level - field[apex]) / (field[other] - field[apex])
        ends.append(mesh.vertices[apex] + t[:, None] * (mesh.vertices[other] - mesh.vertices[apex]))
        keys.append(np.minimum(apex, other) * len(field) + np.maximum(apex, other))
    return np.stack(ends, axis=1), np.stack(keys)


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
    """Distance from ``centre`` to the outermost place of a cut at RING_ANGLES angles from ``ahead`` towards ``across``.

    (RING_ANGLES,) mm; NaN in gaps over WIDEST_HOLE. A ray meets the straight pieces of the cut as they are: no arc is
    drawn between their ends, and in a fold of the body the outer side counts, as it does for a tape.
    """
    away = loop.segments - centre
    x, y = away @ across, away @ ahead
    angle = np.arctan2(x, y)
    turn = (angle[:, 1] - angle[:, 0] + np.pi) % (2 * np.pi) - np.pi
    start = np.where(turn >= 0, angle[:, 0], angle[:, 1]) % (2 * np.pi)
    step = 2 * np.pi / RING_ANGLES
    first = np.ceil(start / step - 1e-9).astype(np.int64)
    count = np.maximum(np.floor((start + np.abs(turn)) / step + 1e-9).astype(np.int64) - first + 1, 0)
    own = np.repeat(np.arange(len(x)), count)
    ray = first[own] + np.arange(len(own)) - np.repeat(np.cumsum(count) - count, count)
    sin, cos = np.sin(ray * step)[:, None], np.cos(ray * step)[:, None]
    beside, out = sin * y[own] - cos * x[own], sin * x[own] + cos * y[own]
    between = beside[:, 0] - beside[:, 1]
    share = np.clip(beside[:, 0] / np.where(np.abs(between) > 1e-12, between, 1.0), 0.0, 1.0)
    radius = np.zeros(RING_ANGLES)
    np.maximum.at(radius, ray % RING_ANGLES, out[:, 0] + share * (out[:, 1] - out[:, 0]))
    return _over_small_gaps(radius)


def _over_small_gaps(radius: Array) -> Array:
    """Angles at which nothing was met (0), from both sides of the gap; NaN in gaps over WIDEST_HOLE."""
    gap = radius <= 0
    if not gap.any() or gap.all():
        return np.where(gap, np.nan, radius)
    k = np.arange(len(radius))
    filled = np.where(gap, np.interp(k, k[~gap], radius[~gap], period=len(k)), radius)
    start = int(k[~gap][0])
    runs, _ = label(np.roll(gap, -start))
    width = np.bincount(runs)[np.roll(runs, start)] * (2 * np.pi / len(k))
    return np.asarray(np.where(gap & (width > WIDEST_HOLE), np.nan, filled))


def ring_angles() -> Array:
    """Angles at which rings are read, (RING_ANGLES,) radians from ahead towards the left."""
    return _ROUND


def plane_field(mesh: BodyMesh, origin: Array, axis: Array) -> Array:
    """Distance of every corner along a unit axis from an origin, mm, (n,)."""
    return np.asarray((mesh.vertices - origin) @ axis)


def faces_near(mesh: BodyMesh, field: Array, low: float, high: float) -> BodyMesh:
    """The part of a mesh whose field lies between two values, so that many cuts are quick."""
    corner = field[mesh.faces]
    keep: Faces = mesh.faces[(corner.max(axis=1) >= low) & (corner.min(axis=1) <= high)]
    return BodyMesh(mesh.vertices, keep)
