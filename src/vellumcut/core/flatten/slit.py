"""Cutting a mesh open along a path, and the curvature that a slit lets out."""

import numpy as np
from numpy.typing import NDArray
from shapely.geometry import LineString

from vellumcut.core.flatten.solve import RestShape

Array = NDArray[np.float64]
Index = NDArray[np.int32]


def cut_open(faces: Index, path: Index, count: int) -> tuple[Index, Index]:
    """Slit a mesh along an edge path from a vertex of its rim to one inside.

    faces: (m, 3) counter-clockwise. path: vertices from the mouth to the tip. count: vertices so far.
    Returns the faces with every vertex of the path but the tip doubled on the right of the way in, and the numbers
    of the doubles (``count`` and up), mouth first.
    """
    cut = faces.copy()
    doubles = np.arange(count, count + len(path) - 1, dtype=np.int32)
    for k, double in enumerate(doubles):
        vertex = path[k]
        walls = {int(path[j]) for j in (k - 1, k + 1) if j >= 0}
        fan = np.flatnonzero((faces == vertex).any(axis=1))
        right = _beside(faces, fan, int(vertex), int(path[k + 1]), walls)
        cut[right] = np.where(cut[right] == vertex, double, cut[right])
    return cut, doubles


def _beside(faces: Index, fan: NDArray[np.intp], vertex: int, ahead: int, walls: set[int]) -> list[int]:
    """Faces round ``vertex`` on the right of the edge to ``ahead``, as far as the next wall."""
    following = {}
    for f in fan:
        _, b, c = (int(x) for x in np.roll(faces[f], -int(np.flatnonzero(faces[f] == vertex)[0])))
        following[c] = (int(f), b)
    out, spoke = [], ahead
    while spoke in following:
        face, spoke = following[spoke]
        out.append(face)
        if spoke in walls:
            break
    return out


def angle_deficit(rest: RestShape, count: int, rim: Index) -> Array:
    """Gaussian curvature gathered at each vertex, radians, (count,); none on the rim.

    The discrete theorem of Gauss and Bonnet: two pi less the angles that meet there.
    """
    turned = np.stack([rest.corners[:, (k + 1) % 3] - rest.corners[:, k] for k in range(3)], axis=1)
    total = np.zeros(count)
    for k in range(3):
        a, b = turned[:, k], -turned[:, (k + 2) % 3]
        angle = np.arctan2(np.abs(a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0]), (a * b).sum(axis=1))
        np.add.at(total, rest.faces[:, k], angle)
    deficit = 2 * np.pi - total
    deficit[rim] = 0.0
    deficit[np.bincount(rest.faces.ravel(), minlength=count) == 0] = 0.0
    return np.asarray(deficit)


def opening_angle(left: Array, right: Array) -> float:
    """Angle between two legs of a flat slit, radians; below zero where they lie over each other.

    left, right: (n, 2) mm from mouth to tip, the left one before the slit as the outline runs. Taken on the outer
    half of the legs, where they are straight.
    """
    half = max(2, (len(left) + 1) // 2)
    a, b = (_way(leg[:half]) for leg in (left, right))
    return float(np.arctan2(a[0] * b[1] - a[1] * b[0], a @ b))


def gapes(left: Array, right: Array) -> bool:
    """Whether the legs of a flat slit, (n, 2) mm from mouth to tip, cross nowhere: past a bulge they lie over each
    other although the mouth opens."""
    return bool(LineString(np.vstack([left, right[-2::-1]])).is_simple)


def _way(points: Array) -> Array:
    """Direction out of the tip along nearly straight points given from the mouth in."""
    away = points - points.mean(axis=0)
    way = np.linalg.svd(away, full_matrices=False)[2][0]
    return np.asarray(way * np.sign(way @ (points[0] - points[-1])))
