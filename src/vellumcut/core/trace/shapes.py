"""From traced pieces to panels: corners found, y up, points evenly spaced along each edge."""

from collections.abc import Mapping, Sequence

import numpy as np
import shapely
from numpy.typing import NDArray
from scipy.ndimage import gaussian_filter1d

from vellumcut.core.design.flat import FlatKind, FlatShape, FlatStroke, places
from vellumcut.core.trace.ink import InkLine
from vellumcut.core.trace.piece import TracedPiece

Array = NDArray[np.float64]

KINDS: dict[str, FlatKind] = {"black": "mark", "red": "seam", "blue": "fold", "green": "centre line"}
"""What each colour of ink stands for until the maker says otherwise."""
CORNER = np.radians(24)
"""How much an outline turns within a few mm at what is called a corner."""
WITHIN = 4.0
SPACED = 3.0
"""mm between points of an edge: a curve through them follows a smooth edge to hundredths."""
DENSE = 0.5


def shape_of(piece: TracedPiece, number: int, name: str = "", kinds: Mapping[str, FlatKind] = KINDS) -> FlatShape:
    """A traced piece as a panel, where it lies in the picture from above: mm, y up."""
    outline, corners, tips = with_corners(_dense(_up(piece.outline)), [_up(s.tip[None])[0] for s in piece.slits])
    holes = tuple(places(_thin(_ccw(_up(h)))) for h in piece.holes)
    off = round(piece.sure.rms, 3)
    return FlatShape(
        number=number,
        name=name,
        outline=places(outline),
        corners=corners,
        darts=tips,
        lines=strokes_of(piece.ink, kinds),
        holes=holes,
        off=off,
    )


def strokes_of(ink: Sequence[InkLine], kinds: Mapping[str, FlatKind] = KINDS) -> tuple[FlatStroke, ...]:
    """Ink on a piece as lines on its panel."""
    return tuple(
        FlatStroke(kind=kinds.get(x.colour, "mark"), name=x.colour, points=places(_thin(_up(x.points)))) for x in ink
    )


def _up(points: Array) -> Array:
    return np.asarray(points * (1.0, -1.0))


def _ccw(ring: Array) -> Array:
    x, y = ring.T
    return ring if float((x * np.roll(y, -1) - np.roll(x, -1) * y).sum()) > 0 else ring[::-1]


def _thin(points: Array) -> Array:
    return np.asarray(shapely.get_coordinates(shapely.LineString(points).simplify(0.05)))


def _dense(outline: Array) -> Array:
    """Counter-clockwise, a point each half millimetre."""
    ring = shapely.LinearRing(_ccw(outline))
    return along(ring, np.arange(0.0, ring.length, DENSE))


def along(line: shapely.Geometry, far: Array) -> Array:
    return np.asarray(shapely.get_coordinates(shapely.line_interpolate_point(line, far)))


def turning(dense: Array) -> Array:
    """How much a closed line, points evenly spaced, turns round each point, radians."""
    k = round(WITHIN / DENSE)
    before, after = dense - np.roll(dense, k, axis=0), np.roll(dense, -k, axis=0) - dense
    cross = before[:, 0] * after[:, 1] - before[:, 1] * after[:, 0]
    return np.asarray(np.abs(np.arctan2(cross, (before * after).sum(axis=1))))


def with_corners(dense: Array, tips: list[Array]) -> tuple[Array, tuple[int, ...], tuple[int, ...]]:
    """An outline with evenly spaced points between its corners, their places in it, and those of tips of darts."""
    turn = turning(dense)
    calm = int(np.argmin(turn))
    from scipy.signal import find_peaks  # noqa: PLC0415 - takes a second to load, and is only wanted here

    peaks, _ = find_peaks(np.roll(turn, -calm), height=CORNER, distance=round(1.5 * WITHIN / DENSE))
    at = {int((p + calm) % len(dense)) for p in peaks}
    exact = {int(np.argmin(np.hypot(*(dense - t).T))): t for t in tips}
    sharp = {k: corner for k in at if (corner := _meeting(dense, k)) is not None}
    at = {k for k in at if all(min(abs(k - j), len(dense) - abs(k - j)) * DENSE > WITHIN for j in exact)} | set(exact)
    starts = sorted(at) or [0]
    points: list[Array] = []
    corners, darts = [], []
    for k, start in enumerate(starts):
        end = starts[(k + 1) % len(starts)]
        span = np.take(
            dense, range(start, end + 1 if end > start else end + len(dense) + 1), axis=0, mode="wrap"
        ).copy()
        for j, where in ((0, start), (-1, end)):
            span[j] = exact.get(where, sharp.get(where, span[j]))
        corners.append(sum(len(p) for p in points))
        if start in exact:
            darts.append(corners[-1])
        points.append(_evenly(span)[:-1])
    return np.vstack(points), tuple(corners), tuple(darts)


def _meeting(dense: Array, at: int) -> Array | None:
    """Where both sides of a corner, drawn on straight, meet: steps of the outline cut it off. None where they run
    alike, or meet elsewhere: a rounded corner."""
    sides = []
    for way in (-1, 1):
        index = (at + way * np.arange(round(1.0 / DENSE), round(6.0 / DENSE))) % len(dense)
        part = dense[index]
        middle = part.mean(axis=0)
        sides.append((middle, np.linalg.svd(part - middle)[2][0]))
    (p, u), (q, v) = sides
    cross = u[0] * v[1] - u[1] * v[0]
    if abs(cross) < 0.2:
        return None
    corner: Array = p + u * (((q - p)[0] * v[1] - (q - p)[1] * v[0]) / cross)
    return corner if np.hypot(*(corner - dense[at])) < 1.2 else None


def _evenly(span: Array) -> Array:
    """An edge with its wander smoothed, ends kept, and evenly spaced points."""
    smooth = gaussian_filter1d(span, 1.0 / DENSE, axis=0, mode="nearest") if len(span) > 12 else span.copy()
    # The filter draws ends inwards: they fade back to what was seen.
    t = np.minimum(np.arange(len(span)), np.arange(len(span))[::-1]) * DENSE / 3.0
    keep = np.clip(1 - t, 0, 1)[:, None]
    line = shapely.LineString(smooth * (1 - keep) + span * keep)
    return along(line, np.linspace(0, line.length, max(2, round(line.length / SPACED) + 1)))


def lies_on(shape: FlatShape, outline: Sequence[Sequence[float]]) -> bool:
    """Whether most of a shape lies on what was found there, mm, y down: it is that piece, or was cut or parted from
    it."""
    own = shapely.Polygon(shape.outline).buffer(0)
    whole = shapely.Polygon([(x, -y) for x, y in outline]).buffer(0) if len(outline) > 2 else shapely.Polygon()
    return float(own.intersection(whole).area) > 0.5 * float(own.area)


def measures(shape: FlatShape) -> tuple[float, float, float]:
    """mm of a shape: long and wide of the least rectangle round it, and round its outline."""
    area = shapely.Polygon(shape.outline)
    box = shapely.get_coordinates(shapely.minimum_rotated_rectangle(area).exterior)
    sides = sorted(float(np.hypot(*(box[k + 1] - box[k]))) for k in (0, 1))
    return round(sides[1], 1), round(sides[0], 1), round(float(area.length), 1)
