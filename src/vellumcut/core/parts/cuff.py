"""Cuffs and collars that go on from an edge: a ruled strip, cut open and laid flat without any strain.

The edge that stands out is longer than the one that is glued, and the ends are cut at the wall's own angle (parts rule
book, section 2); both follow from the wall's way off the edge at every place of it.
"""

import itertools
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from vellumcut.core.design.parts import Cuff
from vellumcut.core.errors import CraftError
from vellumcut.core.flatten.mesh import Surface
from vellumcut.core.parts.border import corner_at, corners_of
from vellumcut.core.parts.ribbon import STEP, Ribbon

Array = NDArray[np.float64]

ASIDE = 6.0
"""mm from the edge at which it is seen on which side the panel lies."""
EVEN = 4
"""Points to each side over which the edge's way is evened out: a mesh is no smoother."""
MOST_PARTS = 6
"""A flange that goes more than once round its own middle is cut in parts."""
SHARPEST = 0.25
"""Cosine of half a corner's turn below which no mitre of a sheet meets."""


@dataclass(frozen=True, eq=False)
class CuffPart:
    """One strip of it. outline: (k, 2) mm, flat, first not repeated. foot, head: (n, 3) mm on the wearer, the edge that
    is glued and the one that stands out. near: how much of the edge it takes, mm."""

    outline: Array
    foot: Array
    head: Array

    @property
    def near(self) -> float:
        return float(np.linalg.norm(np.diff(self.foot, axis=0), axis=1).sum())

    @property
    def area(self) -> float:
        """mm2 of foam."""
        return float(shapely.Polygon(self.outline).area)


@dataclass(frozen=True, eq=False)
class _Side:
    """A stretch of edge without corners. foot: (n, 3) mm; along, ways: (n, 3) unit, that of the edge and that of the
    cuff, square to it."""

    foot: Array
    along: Array
    ways: Array


@dataclass(frozen=True)
class _End:
    """How a strip ends: drawn on by so many mm, then cut off along a line that leans by so much a mm of height; None:
    square."""

    on: float = 0.0
    lean: float | None = None


def cuffs_of(ribbon: Ribbon, cuff: Cuff, above: Surface) -> list[CuffPart]:
    """The strips of a cuff along one run, cut apart at its corners with their ends at half the corner's angle. above:
    a layer of the same sheet farther out. Raises CraftError where the edge is too tight for it."""
    if ribbon.run.within:
        raise CraftError("it goes on from an edge: a line inside has foam on both sides", "making.details")
    line, corners = ribbon.line.copy(), corners_of(ribbon.line, ribbon.run.closed)
    for k in corners:
        line[k] = corner_at(ribbon.line, k, ribbon.run.closed)[0]
    round_it = ribbon.run.closed or ribbon.meets_itself(line)
    if ribbon.run.closed and corners:
        line, corners = np.vstack([line[corners[0] : -1], line[: corners[0] + 1]]), [k - corners[0] for k in corners]
    stops = sorted({0, *corners, len(line) - 1})
    loop = round_it and len(stops) == 2
    sides = [
        _side(ribbon, cuff, above, line[a : b + 1], loop) for a, b in itertools.pairwise(stops) if b - a > 2 * EVEN
    ]
    meets = [_leans(a, b) for a, b in itertools.pairwise([*sides, *(sides[:1] if ribbon.run.closed else [])])]
    out = []
    for k, side in enumerate(sides):
        start, end = (_End(0.0 if round_it else cuff.over) for _ in "ab")
        if (ribbon.run.closed and corners) or k:
            start = _mitre(cuff, meets[k - 1][1])
        if (ribbon.run.closed and corners) or k < len(sides) - 1:
            end = _mitre(cuff, meets[k][0])
        out += _flat_parts(side, cuff.high, start, end)
    return out


def _side(ribbon: Ribbon, cuff: Cuff, above: Surface, line: Array, loop: bool) -> _Side:
    """A stretch of the edge with the way in which the cuff leaves it. line: (n, 2) mm on the flat neighbourhood."""
    uv = ribbon.uv(line)
    foot = ribbon.surface.points(uv)
    out = above.points(uv) - foot
    along = _unit(_differences(foot, loop))
    normal = _unit(out - (out * along).sum(axis=1, keepdims=True) * along)
    way = _differences(line, False)
    inside = line + ASIDE * _unit(np.stack([-way[:, 1], way[:, 0]], axis=1))
    away = np.cross(along, normal)
    beyond = foot - ribbon.surface.points(ribbon.uv(inside))
    away = away * np.sign(np.median((away * beyond).sum(axis=1)))
    turn = np.radians(cuff.flare)
    return _Side(foot, along, _unit(np.cos(turn) * away + np.sin(turn) * normal))


def _differences(points: Array, loop: bool) -> Array:
    """From so many points before each to so many after it; round a loop past its ends."""
    n = len(points) - 1
    at = np.arange(n + 1)
    if loop:
        return np.asarray(points[(at + EVEN) % n] - points[(at - EVEN) % n])
    return np.asarray(points[np.minimum(at + EVEN, n)] - points[np.maximum(at - EVEN, 0)])


def _leans(one: _Side, other: _Side) -> tuple[float, float]:
    """How far the ends of two strips lean, each along its own way, so that they meet where these two sides do."""
    square = _unit((one.along[-1] + other.along[0])[None])[0]
    rows = ((one.along[-1], one.ways[-1]), (other.along[0], other.ways[0]))
    if min(float(along @ square) for along, _ in rows) < SHARPEST:
        raise CraftError(
            "a corner of this edge is too sharp for it: lay it along each side by itself", "making.details"
        )
    first, second = (-float(way @ square) / float(along @ square) for along, way in rows)
    return first, second


def _mitre(cuff: Cuff, lean: float) -> _End:
    return _End(abs(lean) * cuff.high + STEP, lean)


def _flat_parts(side: _Side, high: float, start: _End, end: _End) -> list[CuffPart]:
    """A strip in as few parts as lie flat without covering each other."""
    foot, head = side.foot, side.foot + high * side.ways
    for parts in range(1, MOST_PARTS + 1):
        stops = np.linspace(0, len(foot) - 1, parts + 1).round().astype(int)
        rows = [
            _part(foot[a : b + 1], head[a : b + 1], _End() if a else start, end if b == stops[-1] else _End())
            for a, b in itertools.pairwise(stops)
        ]
        if all(shapely.Polygon(r.outline).is_valid for r in rows):
            return rows
    raise CraftError("this edge is too uneven for a cuff so high: make it lower", "making.details")


def _part(foot: Array, head: Array, start: _End, end: _End) -> CuffPart:
    flat_foot, flat_head = _unrolled(foot, head)
    one, other = (_unit(flat_foot[[k]] - flat_foot[[k + s]])[0] for k, s in ((0, 1), (-1, -1)))
    outline = np.vstack([
        flat_foot[:1] + start.on * one, flat_foot, flat_foot[-1:] + end.on * other,
        flat_head[-1:] + end.on * other, flat_head[::-1], flat_head[:1] + start.on * one,
    ])  # fmt: skip
    shape = shapely.Polygon(outline[_apart(outline)])
    for corner, way, turned in ((flat_foot[0], -one, start), (flat_foot[-1], other, end)):
        if turned.lean is not None:
            shape = _cut_off(shape, corner, way, turned.lean, way is other)
    return CuffPart(np.asarray(shapely.get_coordinates(shape.exterior))[:-1], foot, head)


def _apart(outline: Array) -> NDArray[np.bool_]:
    """Which points of a ring do not lie on the one before them."""
    return np.asarray(np.hypot(*(outline - np.roll(outline, 1, axis=0)).T) > 1e-9)


def _cut_off(shape: shapely.Polygon, corner: Array, along: Array, lean: float, at_end: bool) -> shapely.Polygon:
    """What of a strip lies before a line through a corner of its foot, or, at its start, behind it."""
    reach = 2 * float(np.hypot(*np.ptp(shapely.get_coordinates(shape), axis=0)))
    up = np.array([-along[1], along[0]]) + lean * along
    up = up / np.hypot(*up)
    aside = np.array([-up[1], up[0]]) * (1.0 if at_end else -1.0)
    corners = [corner - reach * up, corner + reach * up, corner + reach * (up + aside), corner + reach * (aside - up)]
    kept = shape.intersection(shapely.Polygon(corners))
    return max(shapely.get_parts(kept), key=lambda g: g.area)


def _unrolled(foot: Array, head: Array) -> tuple[Array, Array]:
    """Both edges of a ruled strip, (n, 2) mm each, the head above: triangle by triangle, each with its own lengths, so
    that nothing is strained."""
    low, high = [np.zeros(2)], [np.array([0.0, float(np.linalg.norm(head[0] - foot[0]))])]
    for k in range(1, len(foot)):
        if k % 2:
            high.append(_apex(low[-1], high[-1], foot[k - 1], head[k - 1], head[k]))
            low.append(_apex(low[-1], high[-1], foot[k - 1], head[k], foot[k]))
        else:
            low.append(_apex(low[-1], high[-1], foot[k - 1], head[k - 1], foot[k]))
            high.append(_apex(low[-1], high[-1], foot[k], head[k - 1], head[k]))
    return np.array(low), np.array(high)


def _apex(flat_a: Array, flat_b: Array, a: Array, b: Array, c: Array) -> Array:
    """Where the third corner of a triangle comes to lie to the right of two that lie flat already."""
    base, to_it = b - a, c - a
    long = float(np.linalg.norm(base))
    x = float(to_it @ base) / long
    y = float(np.sqrt(max(float(to_it @ to_it) - x * x, 0.0)))
    way = (flat_b - flat_a) / np.hypot(*(flat_b - flat_a))
    return np.asarray(flat_a + x * way + y * np.array([way[1], -way[0]]))


def _unit(ways: Array) -> Array:
    return np.asarray(ways / np.maximum(np.linalg.norm(ways, axis=1, keepdims=True), 1e-12))
