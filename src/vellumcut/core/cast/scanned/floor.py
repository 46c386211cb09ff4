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

TRIES, AT_ONCE, SOME = 4000, 250, 2000
"""Planes that are tried, so many at once, on so many places: a floor that is a tenth of the surface is met by four."""
MOST = 3
"""A floor and two walls of a corner."""
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


def without_floors(vertices: Array, faces: Faces) -> tuple[Array, Faces]:
    """The mesh without floors and walls and what touches them, and soles that were one with a floor set down where it
    was."""
    for _ in range(MOST):
        found = _floor_of(vertices, faces)
        if found is None:
            break
        plane, flat, touching = found
        rim = np.intersect1d(faces[touching & ~flat], faces[~touching])
        vertices = vertices.copy()
        vertices[rim] -= np.outer(vertices[rim] @ plane.normal - plane.off, plane.normal)
        faces = faces[~touching]
    return vertices, faces


def _floor_of(vertices: Array, faces: Faces) -> tuple[Plane, Mask, Mask] | None:
    """Its plane, its triangles, and those with all that touch it; None where there is no floor."""
    if not len(faces):
        return None
    corners = vertices[faces]
    area = np.linalg.norm(np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]), axis=1) / 2
    span = float(np.ptp(corners.reshape(-1, 3), axis=0).max())
    plane = _widest(corners.mean(axis=1), area, THICK * span) if area.any() else None
    if plane is None:
        return None
    lying = np.asarray((plane.away(vertices) < THICK * span)[faces].all(axis=1))
    flat = _largest_of(faces, lying, area)
    if area[flat].sum() < LEAST * area.sum():
        return None
    own = np.unique(faces[flat])
    touching = np.asarray(np.isin(faces, own).any(axis=1))
    rest = np.setdiff1d(faces, own)
    close = rest[(plane.away(vertices[rest]) < CLOSE_BY * span) | np.isin(rest, faces[touching])]
    if _hull(plane.across(vertices[own])) < WIDER * _hull(plane.across(vertices[close])):
        return None
    return plane, flat, touching


def _widest(middles: Array, area: Array, thick: float) -> Plane | None:
    """The plane with most of the surface about it; None where no three places span one."""
    luck = np.random.default_rng(4)
    points = middles[luck.choice(len(middles), size=SOME, p=area / area.sum())]
    a, b, c = points[luck.integers(0, SOME, (3, TRIES))]
    normals = np.cross(b - a, c - a)
    long = np.linalg.norm(normals, axis=1)
    normals = normals / np.maximum(long, 1e-12)[:, None]
    offs = (a * normals).sum(axis=1)
    parts = np.split(np.arange(TRIES), TRIES // AT_ONCE)
    about = np.concatenate([(np.abs(points @ normals[k].T - offs[k]) < thick).sum(axis=0) for k in parts])
    best = int(np.where(long > 1e-9, about, -1).argmax())
    return _settled(Plane(normals[best], float(offs[best])), points, thick) if long[best] > 1e-9 else None


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
