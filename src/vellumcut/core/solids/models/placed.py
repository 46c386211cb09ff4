"""A model brought to its size: the part of it that is wanted, scaled to a height and a girth of the wearer."""

import numpy as np
import shapely
from numpy.typing import NDArray

from vellumcut.core.design.solids import Model
from vellumcut.core.solids.models.clean import unpack
from vellumcut.core.solids.models.demo import demo_model

Array = NDArray[np.float64]
Faces = NDArray[np.int64]


def placed_model(solid: Model) -> tuple[Array, Faces]:
    """The part between two heights, as tall and as far round as asked, mm, z up. Raises ValueError, CraftError."""
    vertices, faces = unpack(solid.mesh) if solid.mesh else demo_model()
    if solid.up == "y":
        vertices = vertices @ np.array([[1.0, 0, 0], [0, 0, 1.0], [0, -1.0, 0]])
    elif solid.up == "x":
        vertices = vertices @ np.array([[0, 0, 1.0], [0, 1.0, 0], [-1.0, 0, 0]])
    low, high = vertices[:, 2].min(), vertices[:, 2].max()
    if high - low <= 0:
        raise ValueError("The model has no height that way up: choose another way up")
    if solid.low > 0 or solid.high < 1:
        for share, way in ((solid.low, 1.0), (solid.high, -1.0)):
            if 0 < share < 1:
                vertices, faces = sliced(vertices, faces, low + share * (high - low), way)
        if len(faces) < 4:
            raise ValueError("Nothing of the model lies between these heights")
    vertices = vertices - [*vertices[:, :2].mean(axis=0), vertices[:, 2].min()]
    tall = float(np.ptp(vertices[:, 2]))
    along = solid.tall / tall
    across = along
    if solid.girth:
        around = girth_at(vertices, faces, solid.girth_at * tall)
        if around <= 0:
            raise ValueError("The model has no girth at that height: choose another place to measure it")
        across = solid.girth / around
    return vertices * [across, across, along], faces


def girth_at(vertices: Array, faces: Faces, z: float) -> float:
    """Length of a string pulled tight round a mesh at a height; 0 where it has nothing there."""
    points = vertices[faces]
    high = points[:, :, 2] - z
    crossed = (high.min(axis=1) < 0) & (high.max(axis=1) >= 0)
    places = []
    for tri, h in zip(points[crossed], high[crossed], strict=True):
        for a, b in ((0, 1), (1, 2), (2, 0)):
            if (h[a] < 0) != (h[b] < 0):
                places.append(tri[a, :2] + (tri[b, :2] - tri[a, :2]) * h[a] / (h[a] - h[b]))
    if len(places) < 3:
        return 0.0
    return float(shapely.MultiPoint(np.array(places)).convex_hull.length)


def sliced(vertices: Array, faces: Faces, z: float, way: float) -> tuple[Array, Faces]:
    """What of a mesh lies above a height (way 1) or below it (-1), cut clean."""
    side = way * (vertices[:, 2] - z)
    side = np.where(np.abs(side) < 1e-9 * max(1.0, float(np.ptp(vertices[:, 2]))), 0.0, side)
    points = [vertices]
    made: dict[tuple[int, int], int] = {}
    out: list[tuple[int, int, int]] = []
    count = len(vertices)

    def between(a: int, b: int) -> int:
        nonlocal count
        key = (min(a, b), max(a, b))
        if key not in made:
            share = side[a] / (side[a] - side[b])
            points.append((vertices[a] + share * (vertices[b] - vertices[a]))[None])
            made[key], count = count, count + 1
        return made[key]

    for face in faces.tolist():
        ring: list[int] = []
        for a, b in zip(face, [*face[1:], face[0]], strict=True):
            if side[a] >= 0:
                ring.append(a)
            if side[a] * side[b] < 0:
                ring.append(between(a, b))
        if len(ring) >= 3 and max(side[v] if v < len(side) else 0.0 for v in ring) > 0:
            out += [(ring[0], ring[k], ring[k + 1]) for k in range(1, len(ring) - 1)]
    every = np.vstack(points)
    kept = np.array(out, np.int64).reshape(-1, 3)
    used, own = np.unique(kept, return_inverse=True)
    return every[used], own.reshape(-1, 3).astype(np.int64)
