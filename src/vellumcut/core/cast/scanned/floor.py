"""A floor or a wall that was scanned with the body: the widest flat part of a mesh, where it is no end of a limb.

Found by planes through three places drawn by lot (Fischler and Bolles, 1981).
"""

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import connected_components
from scipy.spatial import ConvexHull, QhullError

Array = NDArray[np.float64]
Faces = NDArray[np.int64]
Mask = NDArray[np.bool_]

TRIES = 300
THICK = 0.006
"""Of the longest side of the mesh, to both sides of a plane: what a scanner waves by on a floor (est.)."""
LEAST = 0.08
"""Of the whole surface that lies in one plane where there is a floor; a back lies in one by 3 % (est.)."""
WIDER = 2.0
"""Times the ground that the rest of the mesh covers close by, by which a flat part is wider: a limb that was cut off
flat is as wide as its own end."""
CLOSE_BY = 0.04
"""Of the longest side of the mesh, within which the rest is asked how wide it is."""


class Plane(NamedTuple):
    """normal: unit (3,). off: of the plane from the origin along it."""

    normal: Array
    off: float

    def away(self, points: Array) -> Array:
        """(n,) how far points lie off it."""
        return np.asarray(np.abs(points @ self.normal - self.off))

    def across(self, points: Array) -> Array:
        """(n, 2) places on it."""
        ways = np.linalg.svd(self.normal[None])[2][1:]
        return np.asarray(points @ ways.T)


def without_floor(vertices: Array, faces: Faces) -> tuple[Array, Faces] | None:
    """The mesh without its floor and what touches it, and soles that were one with it set down where it was; None where
    there is no floor."""
    found = _floor_of(vertices, faces)
    if found is None:
        return None
    plane, flat = found
    touching = np.isin(faces, np.unique(faces[flat])).any(axis=1)
    rim = np.intersect1d(faces[touching & ~flat], faces[~touching])
    lowered = vertices.copy()
    lowered[rim] -= np.outer(vertices[rim] @ plane.normal - plane.off, plane.normal)
    return lowered, faces[~touching]


def _floor_of(vertices: Array, faces: Faces) -> tuple[Plane, Mask] | None:
    corners = vertices[faces]
    area = np.linalg.norm(np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]), axis=1) / 2
    span = float(np.ptp(vertices, axis=0).max())
    plane = _widest(corners.mean(axis=1), area, THICK * span) if area.any() else None
    if plane is None:
        return None
    lying = np.asarray((plane.away(vertices) < THICK * span)[faces].all(axis=1))
    flat = _largest_of(faces, lying, area)
    if area[flat].sum() < LEAST * area.sum():
        return None
    own = np.unique(faces[flat])
    rest = np.setdiff1d(np.unique(faces[~flat]), own)
    touching = np.unique(faces[np.isin(faces, own).any(axis=1)])
    close = rest[(plane.away(vertices[rest]) < CLOSE_BY * span) | np.isin(rest, touching)]
    if _hull(plane.across(vertices[own])) < WIDER * _hull(plane.across(vertices[close])):
        return None
    return plane, flat


def _widest(middles: Array, area: Array, thick: float) -> Plane | None:
    """The plane with most of the surface about it; None where no three places span one."""
    luck = np.random.default_rng(4)
    some = luck.choice(len(middles), size=min(6000, len(middles)), p=area / area.sum(), replace=True)
    points = middles[some]
    best, most = None, 0
    for a, b, c in points[luck.integers(0, len(points), (TRIES, 3))]:
        normal = np.cross(b - a, c - a)
        long = float(np.linalg.norm(normal))
        if long < 1e-12:
            continue
        plane = Plane(normal / long, float(a @ normal / long))
        count = int((plane.away(points) < thick).sum())
        if count > most:
            best, most = plane, count
    return _settled(best, points, thick) if best else None


def _settled(plane: Plane, points: Array, thick: float) -> Plane:
    """The plane through the middle of what lies about it."""
    for _ in range(3):
        near = points[plane.away(points) < thick]
        middle = near.mean(axis=0)
        normal = np.linalg.svd(near - middle, full_matrices=False)[2][2]
        plane = Plane(normal, float(middle @ normal))
    return plane


def _largest_of(faces: Faces, chosen: Mask, area: Array) -> Mask:
    """(m,) of the chosen triangles, those of the part that hangs together and is largest."""
    kept = faces[chosen]
    size = int(faces.max()) + 1
    ones = np.ones(2 * len(kept), np.int8)
    rows, cols = kept[:, [0, 1]].ravel("F"), kept[:, [1, 2]].ravel("F")
    _, label = connected_components(coo_matrix((ones, (rows, cols)), (size, size)), directed=False)
    own = label[faces[:, 0]]
    sums = np.bincount(own[chosen], weights=area[chosen], minlength=int(label.max()) + 1)
    return np.asarray(chosen & (own == int(sums.argmax())))


def _hull(places: Array) -> float:
    """Area of the convex hull of (n, 2) places; 0 of too few."""
    try:
        return float(ConvexHull(places).volume) if len(places) > 2 else 0.0
    except QhullError:
        return 0.0
