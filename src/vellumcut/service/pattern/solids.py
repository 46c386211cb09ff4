"""Solids as pieces of a costume: how they look."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from vellumcut.core.errors import CraftError
from vellumcut.core.solids.piece import made_solid
from vellumcut.service.keeping.builds import Work

EDGE = 12.0
"""Degrees from which an edge is drawn."""


@dataclass(frozen=True, eq=False)
class SolidView:
    """vertices: (n, 3) mm, of the face that was measured. part: (m,) panel of each face, 0 where that is not told.
    edges: (k, 2, 3) mm, its seams and folds. size: mm in all three ways."""

    vertices: NDArray[np.float64]
    faces: NDArray[np.int64]
    part: NDArray[np.int64]
    edges: NDArray[np.float64]
    size: tuple[float, float, float]


def view_solid(work: Work) -> SolidView:
    """A piece as the solid it is. Raises CraftError where it is none, or cannot be made."""
    if work.design.solid is None:
        raise CraftError("This piece is drawn on the body, or its panels came flat", "design.solid")
    made = made_solid(work.design)
    x, y, z = np.ptp(made.vertices, axis=0).tolist()
    return SolidView(made.vertices, made.faces, made.part, _edges(made.vertices, made.faces, made.part), (x, y, z))


def _edges(vertices: NDArray[np.float64], faces: NDArray[np.int64], part: NDArray[np.int64]) -> NDArray[np.float64]:
    """Sides of faces that are free, between parts, or fold."""
    a, b, c = (vertices[faces[:, k]] for k in range(3))
    way = np.cross(b - a, c - a)
    way /= np.maximum(np.linalg.norm(way, axis=1, keepdims=True), 1e-30)
    ends = np.sort(np.stack([faces, np.roll(faces, -1, axis=1)], axis=2).reshape(-1, 2), axis=1)
    owner = np.repeat(np.arange(len(faces)), 3)
    sides, count = np.unique(ends, axis=0, return_counts=True)
    order = np.lexsort((ends[:, 1], ends[:, 0]))
    last = owner[order][np.cumsum(count) - 1]
    one = owner[order][np.cumsum(count) - count]
    bent = (way[one] * way[last]).sum(axis=1) < np.cos(np.radians(EDGE))
    seen = (count == 1) | bent | (part[one] != part[last])
    return np.asarray(vertices[sides[seen]])
