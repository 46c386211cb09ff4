"""Bumps and bites along an edge that nobody cut: a dark joint of boards beside dark tape, a light fleck beside white,
a stroke of ink that ends at the rim. An edge that runs straight into such a place and straight on behind it was cut
straight, as long as what is seen there does not say otherwise.
"""

from dataclasses import dataclass

import cv2
import numpy as np
import shapely
from numpy.typing import NDArray
from scipy.ndimage import map_coordinates

from vellumcut.core.trace.ground import NOWHERE, disc
from vellumcut.core.trace.outline import Close, inked

Array = NDArray[np.float64]

SPANS = np.arange(3.0, 19.0)
"""mm of the outline that a bump may take."""
WIDEST = 12.0
"""mm straight across it."""
OUT = 0.6, 4.5
"""mm by which it leaves the edge: less is rough cutting, more is a flap or a slit."""
BESIDE = 5.0
"""mm of edge to both sides that tell how it runs on."""
STRAIGHT = 0.22
"""mm, one spread, that an edge may leave a straight line there."""
IN_LINE = float(np.cos(np.radians(14.0)))
"""Of the angle between what runs in, what runs on and the line between: an edge may be curved."""
AWAY = 1.3
"""mm from the edge at which the piece's own colour is read."""
CLEARLY = 2.5
"""How much nearer to the piece's colour than to any of the ground's a place is that is seen to be piece."""
FAR = 0.25
"""Of the way from the piece's colour to the floor's close by, that it must be from all of the ground's colours too."""
SELDOM, MOST = 0.004, 20_000
"""Share of the floor that has a colour which is one of its own: a joint, a fleck; and how many places of it are
asked."""
GRID = 0.25
"""mm between places that are looked at in a bump."""
DRAWN = 0.3
"""Share of ink in a bite that was cut by it alone."""


def without_bumps(close: Close, outline: Array, told: shapely.Geometry = NOWHERE) -> Array:
    """The outline, (n, 2) mm evenly spaced, without what ground and ink add to its edges or bite off. told: where a
    hand has said what is piece and what floor: that stays."""
    step = float(np.hypot(*np.diff(outline, axis=0, append=outline[:1]).T).mean())
    whole = shapely.Polygon(outline)
    found = sorted(_bumps(outline, step), key=lambda b: -b.out)
    floor = _floor(close) if found else np.zeros((0, 3))
    parts: list[_Bump] = []
    for bump in found:
        apart = all(_clear(bump, other, len(outline)) for other in parts)
        if apart and not told.intersects(_between(outline, bump)) and not _is_seen(close, outline, whole, floor, bump):
            parts.append(bump)
    return _straightened(outline, parts) if parts else outline


@dataclass(frozen=True, eq=False)
class _Bump:
    """first, last: points of the outline where it begins and ends. out: mm by which it leaves the edge; of two as far
    out the shorter one counts."""

    first: int
    last: int
    out: float


def _bumps(outline: Array, step: float) -> list[_Bump]:
    """Every place that may be a bump."""
    n, k = len(outline), max(4, round(BESIDE / step))
    ways, rough = _sides(outline, k)
    found = []
    for span in SPANS:
        m = max(2, round(span / step))
        if m + 2 * k >= n:
            break
        first = np.arange(n)
        last = (first + m) % n
        across = outline[last] - outline[first]
        wide = np.maximum(np.hypot(*across.T), 1e-9)
        across /= wide[:, None]
        # What runs in ends at the first point; what runs on begins at the last, k points further.
        ahead, on = ways[first], ways[(last + k) % n]
        straight = np.maximum(rough[first], rough[(last + k) % n]) < STRAIGHT
        in_line = np.minimum((ahead * on).sum(1), np.minimum((ahead * across).sum(1), (on * across).sum(1))) > IN_LINE
        # Most stretches are seen to be straight by three of their points.
        three = np.stack([np.roll(outline, -round(share * m), axis=0) for share in (0.25, 0.5, 0.75)], axis=1)
        three = three - outline[:, None]
        bent = np.abs(three[..., 0] * across[:, None, 1] - three[..., 1] * across[:, None, 0]).max(axis=1) > OUT[0] / 3
        for a in np.flatnonzero(straight & in_line & bent & (wide < WIDEST)):
            part = np.take(outline, np.arange(a, a + m + 1), axis=0, mode="wrap") - outline[a]
            out = float(np.abs(part[:, 0] * across[a, 1] - part[:, 1] * across[a, 0]).max())
            if OUT[0] < out < OUT[1]:
                found.append(_Bump(int(a), int(last[a]), out - 0.02 * span))
    return found


def _sides(outline: Array, k: int) -> tuple[Array, Array]:
    """(n, 2) which way the k points up to each run, and (n,) mm by which they leave a straight line."""
    n = len(outline)
    turned = outline[(np.arange(n)[:, None] + np.arange(-k, 1)[None, :]) % n]
    middle = turned - turned.mean(axis=1, keepdims=True)
    square = np.einsum("nki,nkj->nij", middle, middle) / (k + 1)
    values, axes = np.linalg.eigh(square)
    ways = axes[:, :, 1]
    ways = ways * np.sign((ways * (turned[:, -1] - turned[:, 0])).sum(axis=1))[:, None]
    return ways, np.sqrt(np.maximum(values[:, 0], 0))


def _clear(one: _Bump, other: _Bump, n: int) -> bool:
    """Whether two stretches of the outline share nothing."""
    gap, back = (other.first - one.first) % n, (one.first - other.first) % n
    return gap > (one.last - one.first) % n and back > (other.last - other.first) % n


def _floor(close: Close) -> Array:
    """(n, 3) colours that are seen about the piece, some way from it."""
    near = disc(2 * AWAY, close.per)
    out = cv2.erode(np.asarray(close.share < 0.5, np.uint8), near) > 0
    return np.asarray(close.light[out][:: max(1, int(out.sum()) // MOST)], float)


def _is_seen(close: Close, outline: Array, whole: shapely.Polygon, floor: Array, bump: _Bump) -> bool:
    """Whether a bump is clearly piece, or a bite clearly floor. floor: (n, 3) its colours."""
    first, last = bump.first, bump.last
    added = _between(outline, bump)
    if added.is_empty:
        return False  # there and back on one line: nothing is in it
    inside = _inside(added)
    juts = bool(whole.contains(added.representative_point()))
    here = np.median(_at(close, close.light, inside), axis=1)
    own, beside = _beside(close, outline, whole, first, last)
    as_piece = [own, *(inked(np.asarray(own, np.float32), ink).astype(float) for ink in close.palette.inks)]
    to_piece = min(_apart(here, c) for c in as_piece)
    to_ground = float(np.quantile(np.sqrt(((floor - here) ** 2).sum(axis=1)), SELDOM)) if len(floor) else np.inf
    if juts:
        return to_ground > max(CLEARLY * to_piece, FAR * _apart(own, beside))
    wide = float(np.hypot(*(outline[last] - outline[first])))
    if bump.out > wide:
        return True  # as narrow as that is the mouth of a slit
    if not close.palette.patterned:
        # A slit whose mouth alone is seen looks like the piece as well.
        return float(_at(close, close.drawn[..., None], inside).mean()) < DRAWN
    return to_ground < CLEARLY * to_piece


def _between(outline: Array, bump: _Bump) -> shapely.Polygon:
    """What lies between a bump and the straight line over it."""
    count = (bump.last - bump.first) % len(outline)
    part = np.take(outline, np.arange(bump.first, bump.first + count + 1), axis=0, mode="wrap")
    parts = shapely.get_parts(shapely.Polygon(part).buffer(0))
    return max(parts, key=lambda p: p.area, default=shapely.Polygon())


def _inside(area: shapely.Polygon) -> Array:
    """(n, 2) places in an area, mm, off its rim where it is wide enough."""
    core = next(a for a in (area.buffer(-0.4), area.buffer(-0.15), area) if not a.is_empty)
    low, high = np.array(core.bounds).reshape(2, 2)
    grid = np.stack(np.meshgrid(*(np.arange(a, b + GRID, GRID) for a, b in zip(low, high, strict=True))), axis=-1)
    points = grid.reshape(-1, 2)
    points = points[shapely.contains(core, shapely.points(points))]
    return points if len(points) else np.array([area.representative_point().coords[0]])


def _apart(one: Array, other: Array) -> float:
    """How far apart two colours are."""
    return float(np.sqrt(((one - other) ** 2).sum()))


def _beside(close: Close, outline: Array, whole: shapely.Polygon, first: int, last: int) -> tuple[Array, Array]:
    """(3,) the colours of piece and floor to both sides of the edge by a bump."""
    k = 12
    at = np.concatenate([np.arange(first - k, first - 2), np.arange(last + 3, last + k + 1)])
    points, before, after = (np.take(outline, at + step, axis=0, mode="wrap") for step in (0, -1, 1))
    along = after - before
    aside = AWAY * np.column_stack([-along[:, 1], along[:, 0]]) / np.maximum(np.hypot(*along.T), 1e-9)[:, None]
    both = np.vstack([points + aside, points - aside])
    inside = shapely.contains(whole, shapely.points(both))
    sides = (both[where] if where.any() else points for where in (inside, ~inside))
    piece, floor = (np.median(_at(close, close.light, side), axis=1) for side in sides)
    return np.asarray(piece), np.asarray(floor)


def _at(close: Close, light: NDArray[np.float32], points: Array) -> Array:
    """(k, n) what is seen at places, mm."""
    where = close.pixels(points)[:, ::-1].T
    return np.array([map_coordinates(light[..., c], where, order=1, mode="nearest") for c in range(light.shape[2])])


def _straightened(outline: Array, parts: list[_Bump]) -> Array:
    """The outline with bumps drawn straight from end to end."""
    n = len(outline)
    gone = np.zeros(n, bool)
    for bump in parts:
        gone[(bump.first + 1 + np.arange((bump.last - bump.first) % n - 1)) % n] = True
    return outline[~gone]
