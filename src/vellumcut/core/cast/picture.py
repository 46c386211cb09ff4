"""A tube as a grid to draw: the unrolled sheet's coordinates and the same places in three dimensions."""

from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

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


def grid_triangles(picture: TubePicture) -> NDArray[np.int64]:
    """Triangles (m, 3) of the grid's points, outward, without those inside a hole."""
    rows, columns = picture.points.shape[:2]
    r, c = (g.ravel() for g in np.meshgrid(np.arange(rows - 1), np.arange(columns - 1), indexing="ij"))
    a, b, d, e = r * columns + c, r * columns + c + 1, (r + 1) * columns + c, (r + 1) * columns + c + 1
    faces = np.vstack([np.stack([a, b, e], axis=1), np.stack([a, e, d], axis=1)])
    for hole in picture.holes:
        u = np.tile(picture.around, rows)
        v = np.repeat(picture.along, columns)
        shape = shapely.Polygon(hole)
        inside = shapely.contains_xy(shape, u[faces].mean(axis=1), v[faces].mean(axis=1))
        faces = faces[~inside]
    return faces
