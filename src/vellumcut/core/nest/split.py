"""Where a part that is larger than every sheet is split: a straight line on the flat part, inked on the body as a seam
(shop rule book, section 2)."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import ops

from vellumcut.core.design.sheet import Stroke
from vellumcut.core.flatten.mesh import face_middles, on_faces
from vellumcut.core.flatten.panel import FlatPanel

Array = NDArray[np.float64]

SHARES = (0.5, 0.45, 0.55, 0.4, 0.6, 0.35, 0.65)
"""Where along a part it is tried, from its middle outward."""
TURNS = (0.0, 90.0, 45.0, -45.0)
"""Degrees of the line from straight across the part."""
POINTS = 4
"""Control points of the seam: it follows the line on the flat part as the body bends under it."""
LEAST = 1500.0
"""mm2: what is smaller is a scrap."""
NEAR = 0.02
"""Around: what is so near to the middle of a symmetric piece lies on it."""
MIDDLES = (0.0, 0.5, -0.5)
"""Lines of the body, as around, at which a symmetric piece is its own mirror image."""


@dataclass(frozen=True)
class Split:
    """line: (k, 2) mm on the flat part. uv: (k, 2) the same on the body, as around and along. fits: both parts then
    find room; else the larger one is at least smaller. length: of the seam, mm."""

    line: Array
    uv: Array
    fits: bool
    length: float

    def stroke(self, key: str) -> Stroke:
        points = tuple((float(u), float(v)) for u, v in self.uv.round(6))
        return Stroke(key=key, kind="seam", name=key.replace("-", " "), points=points, curve="smooth")


def splits_of(flat: FlatPanel, finds_room: Callable[[shapely.Polygon], bool], symmetric: bool) -> list[Split]:
    """Lines that part it in two, best first: those after which both find room, and of these the shortest seam.
    symmetric: its ink is its own mirror image, so that a line over the middle has its mirror image there, too."""
    found = []
    for line in _lines(flat.shape):
        parts = [g for g in ops.split(flat.shape, _longer(line)).geoms if isinstance(g, shapely.Polygon)]
        if len(parts) != 2 or min(p.area for p in parts) < LEAST:
            continue
        uv = _on_body(flat, np.asarray(line.interpolate(np.linspace(0, 1, 40), normalized=True)))
        made = _half(uv) if symmetric else uv
        if made is not None:
            both = all(finds_room(p) for p in parts)
            largest = max(p.area for p in parts)
            found.append(
                (not both, 0.0 if both else largest, line.length, Split(_few(line), _thin(made), both, line.length))
            )
    return [s for *_, s in sorted(found, key=lambda f: f[:3])]


def _lines(shape: shapely.Polygon) -> Iterator[shapely.LineString]:
    corners = shapely.get_coordinates(shapely.minimum_rotated_rectangle(shape))[:4]
    sides = [corners[1] - corners[0], corners[3] - corners[0]]
    long = max(sides, key=lambda s: float(np.linalg.norm(s)))
    for turn in TURNS:
        a = np.radians(turn)
        along = np.array([[np.cos(a), -np.sin(a)], [np.sin(a), np.cos(a)]]) @ long / np.linalg.norm(long)
        way = np.array([-along[1], along[0]])
        reach = corners @ along
        for share in SHARES:
            middle = corners.mean(axis=0)
            middle = middle + (reach.min() + share * np.ptp(reach) - middle @ along) * along
            found = shapely.LineString([middle - 5000 * way, middle + 5000 * way]).intersection(shape)
            if isinstance(found, shapely.LineString) and found.length > 20:
                yield found


def _longer(line: shapely.LineString) -> shapely.LineString:
    a, b = shapely.get_coordinates(line)[[0, -1]]
    return shapely.LineString([a - (b - a) * 1e-3, b + (b - a) * 1e-3])


def _few(line: shapely.LineString) -> Array:
    a, b = shapely.get_coordinates(line)[[0, -1]]
    return np.asarray(np.linspace(a, b, POINTS))


def _thin(uv: Array) -> Array:
    return np.asarray(uv[np.linspace(0, len(uv) - 1, POINTS).round().astype(int)])


def _on_body(flat: FlatPanel, places: NDArray[np.object_]) -> Array:
    points = shapely.get_coordinates(places)
    at, weights = on_faces(flat.vertices, flat.faces, points, face_middles(flat.vertices, flat.faces))
    return np.asarray(np.einsum("nk,nkd->nd", weights, flat.uv[flat.faces[at]]))


def _half(uv: Array) -> Array | None:
    """What is drawn of a line on a symmetric piece: of one that crosses the middle a half, which has its mirror image;
    one that runs along it or ends on it is put there. None for one that crosses it more than once."""
    for middle in MIDDLES:
        off = uv[:, 0] - middle
        if np.abs(off).max() < NEAR:
            return np.asarray(np.c_[np.full(len(uv), middle), uv[:, 1]])
        near = np.abs(off) < NEAR
        if off.min() < -NEAR and off.max() > NEAR:
            crossings = np.flatnonzero(np.sign(off[:-1]) * np.sign(off[1:]) < 0)
            if len(crossings) != 1:
                return None
            k = int(crossings[0])
            share = off[k] / (off[k] - off[k + 1])
            cross = np.array([middle, uv[k, 1] + share * (uv[k + 1, 1] - uv[k, 1])])
            return np.asarray(np.vstack([uv[: k + 1], cross]))
        if near[0] or near[-1]:
            far = uv[~near]
            end = uv[0 if near[0] else -1] * [0, 1] + [middle, 0]
            return np.asarray(np.vstack([end, far] if near[0] else [far, end]))
    return uv
