"""A tube as a grid to draw: the unrolled sheet's coordinates and the same places in three dimensions."""

from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray
from scipy.spatial import Delaunay

from vellumcut.core.body.tube import TubeSurface
from vellumcut.core.cast.trunk import TrunkTube, neck_side

Array = NDArray[np.float64]

PAST_ENDS = 35.0


@dataclass(frozen=True, eq=False)
class TubePicture:
    """levels: (l,) mm along. along: (l,) the same as station coordinates. girths: (l,) mm. around: (k,) from -0.5 to 0.5.

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
    u, v = np.tile(picture.around, rows), np.repeat(picture.along, columns)
    places = np.vstack([np.stack([u, v], axis=1), *(h[:-1] for h in picture.holes)])
    points = np.vstack([picture.points.reshape(-1, 3), *(tube.uv_to_xyz(h[:-1]) for h in picture.holes)])
    faces = _grid_faces(rows, columns)
    for k, hole in enumerate(picture.holes):
        first = rows * columns + sum(len(h) - 1 for h in picture.holes[:k])
        faces = _cut_hole(faces, places, hole, first)
    return places, points, faces


def _grid_faces(rows: int, columns: int) -> NDArray[np.int64]:
    r, c = (g.ravel() for g in np.meshgrid(np.arange(rows - 1), np.arange(columns - 1), indexing="ij"))
    a, b, d, e = r * columns + c, r * columns + c + 1, (r + 1) * columns + c, (r + 1) * columns + c + 1
    return np.vstack([np.stack([a, b, e], axis=1), np.stack([a, e, d], axis=1)])


def _cut_hole(faces: NDArray[np.int64], places: Array, hole: Array, first: int) -> NDArray[np.int64]:
    """Take out the triangles that touch a hole and close the ring between them and its rim."""
    shape = shapely.Polygon(hole)
    inside = shapely.contains_xy(shape.buffer(1e-9), places[:first, 0], places[:first, 1])
    touched = np.concatenate([inside, np.zeros(len(places) - first, dtype=bool)])[faces].any(axis=1)
    ring = np.unique(faces[touched])
    corners = np.concatenate(
        [ring[~np.append(inside, np.zeros(len(places) - first, dtype=bool))[ring]], first + np.arange(len(hole) - 1)]
    )
    scale = np.array([10.0, 1.0])
    made = corners[Delaunay(places[corners] * scale).simplices]
    middle = places[made].mean(axis=1)
    outer = shapely.union_all(shapely.polygons(places[faces[touched]]))
    kept = shapely.contains_xy(outer, middle[:, 0], middle[:, 1]) & ~shapely.contains_xy(
        shape, middle[:, 0], middle[:, 1]
    )
    made = made[kept]
    a, b, c = (places[made[:, k]] for k in range(3))
    flipped = (b[:, 0] - a[:, 0]) * (c[:, 1] - a[:, 1]) < (b[:, 1] - a[:, 1]) * (c[:, 0] - a[:, 0])
    made[flipped] = made[flipped][:, ::-1]
    return np.vstack([faces[~touched], made])
