"""A tube as a grid to draw: the unrolled sheet's coordinates and the same places in three dimensions."""

from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from vellumcut.core.body.tube import TubeSurface
from vellumcut.core.cast.trunk_tube import TrunkTube, neck_side

Array = NDArray[np.float64]

PAST_ENDS = 35.0


@dataclass(frozen=True, eq=False)
class TubePicture:
    """levels: (l,) mm along. along: (l,) the same as station coordinates. girths: (l,) mm. around: (k,) from -0.5 to
    0.5.

    points, normals: (l, k, 3). holes: closed curves (n, 2) in (around, along) that are no surface. columns: named
    curves up the body, (n, 2) each.
    """

    levels: Array
    along: Array
    girths: Array
    around: Array
    points: Array
    normals: Array
    holes: tuple[Array, ...]
    columns: dict[str, Array]


def picture_tube(tube: TubeSurface, rows: int = 61, columns: int = 97) -> TubePicture:
    """The tube from a little below its first station to a little above its last."""
    low, high = tube.reach
    ends = max(low, tube.at[0] - PAST_ENDS), min(high, tube.at[-1] + PAST_ENDS)
    levels = np.unique(np.concatenate([np.linspace(*ends, rows), tube.at]))
    along, around = tube.along(levels), np.linspace(-0.5, 0.5, columns)
    points, normals = tube.frame(around[None, :], along[:, None])
    holes: tuple[Array, ...] = ()
    named = {"front": 0.0, "left side": 0.25, "back": 0.5, "right side": -0.25}
    curves = {name: np.stack([np.full(2, u), along[[0, -1]]], axis=1) for name, u in named.items()}
    if isinstance(tube, TrunkTube):
        holes = (tube.armhole, tube.armhole * np.array([-1.0, 1.0]))
        u, v = tube.apex
        path = np.array([[u * 0.95, 0.0], [u, v], [neck_side(tube), 6.0]])
        curves |= {"left bust point": path, "right bust point": path * np.array([-1.0, 1.0])}
    girths = tube.girth(along)
    return TubePicture(levels, along, girths, around, points, normals, holes, curves)


def picture_mesh(picture: TubePicture, tube: TubeSurface) -> tuple[Array, Array, NDArray[np.int64]]:
    """The tube to look at: places (n, 2) in (around, along), points (n, 3) in mm and outward triangles (m, 3).

    The grid's own points come first; after them the rims of its holes, so that an armhole has a clean edge.
    """
    rows, columns = picture.points.shape[:2]
    places = np.stack([np.tile(picture.around, rows), np.repeat(picture.along, columns)], axis=1)
    faces = _grid_faces(rows, columns)
    for hole in picture.holes:
        places, faces = _cut_hole(places, faces, hole)
    rim = places[rows * columns :]
    points = picture.points.reshape(-1, 3)
    return places, np.vstack([points, tube.uv_to_xyz(rim)]) if len(rim) else points, faces


def _grid_faces(rows: int, columns: int) -> NDArray[np.int64]:
    r, c = (g.ravel() for g in np.meshgrid(np.arange(rows - 1), np.arange(columns - 1), indexing="ij"))
    a, b, d, e = r * columns + c, r * columns + c + 1, (r + 1) * columns + c, (r + 1) * columns + c + 1
    return np.vstack([np.stack([a, b, e], axis=1), np.stack([a, e, d], axis=1)])


def _cut_hole(places: Array, faces: NDArray[np.int64], hole: Array) -> tuple[Array, NDArray[np.int64]]:
    """Take out what lies in a hole, and cut the triangles that cross its rim off along it."""
    shape = shapely.Polygon(hole)
    shapely.prepare(shape)
    inside = shapely.contains_xy(shape, places[:, 0], places[:, 1])
    count = inside[faces].sum(axis=1)
    one, two = _inner_first(faces[count == 1], inside), _inner_first(faces[count == 2], ~inside)
    pairs = np.vstack([one[:, [0, 1]], one[:, [0, 2]], two[:, [0, 1]], two[:, [0, 2]]])
    edges, at = np.unique(np.sort(pairs, axis=1), axis=0, return_inverse=True)
    rim = len(places) + at.ravel()
    n, m = len(one), len(two)
    p, q, r, s = rim[:n], rim[n : 2 * n], rim[2 * n : 2 * n + m], rim[2 * n + m :]
    made = [
        np.stack([p, one[:, 1], one[:, 2]], axis=1),
        np.stack([p, one[:, 2], q], axis=1),
        np.stack([two[:, 0], r, s], axis=1),
    ]
    return np.vstack([places, _crossings(places, edges, inside, shape)]), np.vstack([faces[count == 0], *made])


def _inner_first(faces: NDArray[np.int64], lone: NDArray[np.bool_]) -> NDArray[np.int64]:
    """Each triangle turned so that its one corner of the lone kind comes first."""
    start = lone[faces].argmax(axis=1)
    return np.asarray(np.take_along_axis(faces, (start[:, None] + np.arange(3)) % 3, axis=1))


def _crossings(places: Array, edges: NDArray[np.int64], inside: NDArray[np.bool_], shape: shapely.Polygon) -> Array:
    """Where edges from inside to outside meet the rim, by halving."""
    a, b = places[edges[:, 0]], places[edges[:, 1]]
    swap = inside[edges[:, 1]]
    inner, outer = np.where(swap[:, None], b, a), np.where(swap[:, None], a, b)
    for _ in range(30):
        middle = (inner + outer) / 2
        within = shapely.contains_xy(shape, middle[:, 0], middle[:, 1])[:, None]
        inner, outer = np.where(within, middle, inner), np.where(within, outer, middle)
    return np.asarray(outer)
