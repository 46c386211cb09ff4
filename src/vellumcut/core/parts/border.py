"""Strips along a line: their outline at their own depth, how their corners are cut, and what is cut straight."""

from dataclasses import dataclass
from typing import Literal

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.ops import split

from vellumcut.core.design.parts import Border
from vellumcut.core.parts.ribbon import CORNER, Ribbon, dense

Array = NDArray[np.float64]
Cut = Literal["straight", "curved", "bought"]

LIES_ON_EDGE = 8.0
"""A strip of 2 mm lies on edge round a bend of this many times its own width and more (est.; parts rule book,
section 2); a tighter one is cut as a curve."""
LOOK = 3.0
"""mm before and behind a place between which a line is looked at for a corner."""
LACKS = 0.97
"""Share of its full area under which a strip is narrower somewhere than asked; its ends, cut at any angle, take
none."""
PAST = 1.25
"""How much longer a mitre's cut is than the band is wide there: a corner is found to a mm or two."""
ALONG_ITS_LINE = 0.1
"""mm aside within which something lies on its line itself."""
LEAST_AREA = 2.0
"""mm2 of a strip below which nothing is left to cut."""


@dataclass(frozen=True, eq=False)
class Strip:
    """One strip to cut. outline: rings (k, 2) mm, first not repeated, as it is cut, holes after it; footprint: the same
    on the flat neighbourhood, where it comes to lie. length: along its middle, mm; tightest: the least radius of its
    middle in its own plane, mm. short: it is narrower somewhere than asked, since the panel ends there. ends: how far
    those of a straight or a bought one lean off square, degrees, above zero with the left corner farther on."""

    outline: tuple[Array, ...]
    footprint: tuple[Array, ...]
    cut: Cut
    length: float
    tightest: float
    short: bool
    ends: tuple[float, float] = (0.0, 0.0)

    @property
    def area(self) -> float:
        """Of foam in it as it is cut, mm2."""
        return float(shapely.Polygon(self.outline[0], self.outline[1:]).area)


def strips_of(ribbon: Ribbon, border: Border) -> list[Strip]:
    """A border along one run. Every strip's corners are cut at half their angle, unless they are cut in one piece."""
    whole = _band(ribbon, border)
    if whole.area < LEAST_AREA:
        return []
    middle = offset_line(ribbon, _inward(ribbon, border), past=_past(border))
    parts = [whole]
    if border.corners != "one piece" and not ribbon.run.closed:
        for cutter in _mitres(ribbon, border):
            parts = [p for part in parts for p in shapely.get_parts(split(part, cutter)) if p.area > LEAST_AREA]
    elif border.corners != "one piece":
        parts = _opened(ribbon, border, whole)
    rows = [_strip(ribbon, p, middle, border) for p in parts]
    return [s for s in rows if s is not None]


def _band(ribbon: Ribbon, border: Border) -> shapely.Polygon:
    """All that lies between inset and inset + width of the line, as far as there is foam."""
    near, far = border.inset, border.inset + border.width
    if ribbon.run.within:
        near, far = border.inset - border.width / 2, border.inset + border.width / 2
    return max(bands_between(ribbon, near, far, _past(border)), key=lambda g: g.area, default=shapely.Polygon())


def bands_between(ribbon: Ribbon, near: float, far: float, past: float) -> list[shapely.Polygon]:
    """The foam that lies between two distances from the line, mm: more than one part where a hollow of the outline
    reaches in. past: how far it is drawn past the ends of an open line, mm."""
    if ribbon.run.closed:
        ring = shapely.Polygon(ribbon.line)
        sign = -1.0 if shapely.LinearRing(ribbon.line).is_ccw else 1.0
        sides = [ring.buffer(sign * d, join_style="mitre", mitre_limit=4.0) for d in (near, far)]
        band = sides[0].symmetric_difference(sides[1])
    else:
        path = offset_line(ribbon, (near + far) / 2, past=past)
        band = path.buffer((far - near) / 2, join_style="mitre", cap_style="flat", mitre_limit=4.0)
    here = shapely.intersection(band, ribbon.region)
    return [g for g in shapely.get_parts(here) if g.geom_type == "Polygon"]


def _inward(ribbon: Ribbon, border: Border) -> float:
    """From the line to the strip's middle, mm."""
    return border.inset + (0.0 if ribbon.run.within else border.width / 2)


def _past(border: Border) -> float:
    """How far a strip is drawn past its line's ends, mm: the panel beside them may widen, and it is cut off there."""
    return 2 * (border.inset + border.width)


def offset_line(ribbon: Ribbon, by: float, past: float = 0.0) -> shapely.LineString:
    """The line moved to its left, mm, its ends lengthened by ``past``."""
    if ribbon.run.closed:
        sign = -1.0 if shapely.LinearRing(ribbon.line).is_ccw else 1.0
        moved = shapely.Polygon(ribbon.line).buffer(sign * by, join_style="mitre", mitre_limit=4.0)
        if moved.geom_type != "Polygon":
            moved = max(moved.geoms, key=lambda g: g.area)
        return shapely.LineString(moved.exterior.coords)
    line = ribbon.line
    if past:
        ends = [line[0] - line[min(3, len(line) - 1)], line[-1] - line[-min(4, len(line))]]
        ends = [e / max(float(np.hypot(*e)), 1e-9) * past for e in ends]
        line = np.vstack([line[0] + ends[0], line, line[-1] + ends[1]])
    path = shapely.LineString(line)
    if abs(by) < 1e-9:
        return path
    moved = path.offset_curve(by, join_style="mitre", mitre_limit=4.0)
    return moved if moved.geom_type == "LineString" else max(moved.geoms, key=lambda g: g.length)


def line_within(ribbon: Ribbon, by: float) -> Array:
    """As ``offset_line``, from where the panel begins to where it ends, (n, 2) with a point a step."""
    if ribbon.run.closed or abs(by) < ALONG_ITS_LINE:
        return dense(np.asarray(offset_line(ribbon, by).coords))
    here = shapely.intersection(offset_line(ribbon, by, past=4 * abs(by)), ribbon.region)
    rows = [g for g in shapely.get_parts(here) if g.geom_type == "LineString" and not g.is_empty]
    return dense(np.asarray(max(rows, key=lambda g: g.length).coords)) if rows else np.zeros((0, 2))


def corners_of(line: Array, closed: bool = False) -> list[int]:
    """Which points of a line with a point a millimetre are corners, the sharpest of any that lie close together."""
    own = line[:-1] if closed else line
    around = np.vstack([own[-8:], own, own[:9]]) if closed else line
    far = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(around, axis=0).T))])
    first = 8 if closed else 0
    at = far[first : first + len(own)]
    before, after = (np.stack([np.interp(at + d, far, around[:, c]) for c in (0, 1)], axis=1) for d in (-LOOK, LOOK))
    a, b = own - before, after - own
    turns = np.abs(np.degrees(np.arctan2(a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0], (a * b).sum(axis=1))))
    turns[(at < LOOK) | (at > far[-1] - LOOK)] = 0.0
    found: list[int] = []
    for k in np.argsort(-turns):
        if turns[k] < CORNER:
            break
        gaps = np.abs(at[k] - at[found])
        if closed:
            gaps = np.minimum(gaps, at[-1] - at[0] - gaps)
        if (gaps > 2 * LOOK).all():
            found.append(int(k))
    return sorted(found)


def _cutter(ribbon: Ribbon, k: int, reach: float) -> shapely.LineString:
    """The line that halves the corner at point k, long enough to cut the band there and no farther."""
    here, a, b = corner_at(ribbon.line, k, ribbon.run.closed)
    way = np.array([-(a + b)[1], (a + b)[0]])
    way = way / np.hypot(*way)
    stretch = PAST * reach / max(float(np.sqrt((1 + a @ b) / 2)), 0.2) + 2.0
    return shapely.LineString([here - way * stretch, here + way * stretch])


def corner_at(line: Array, k: int, closed: bool) -> tuple[Array, Array, Array]:
    """Where the corner near point k of a line lies, mm, and the ways of the line before and after it, unit."""
    n = len(line) - 1 if closed else len(line)
    before, after = (
        line[np.clip(k + np.array(far), 0, n - 1) if not closed else (k + np.array(far)) % n]
        for far in ((-9, -3), (3, 9))
    )
    a, b = (side[1] - side[0] for side in (before, after))
    a, b = a / np.hypot(*a), b / np.hypot(*b)
    # A point of the line lies up to a step beside the corner itself: that is where both sides meet.
    return before[1] + a * np.linalg.solve(np.stack([a, -b], axis=1), after[0] - before[1])[0], a, b


def _mitres(ribbon: Ribbon, border: Border) -> list[shapely.LineString]:
    far = border.inset + border.width
    return [_cutter(ribbon, k, far) for k in corners_of(ribbon.line)]


def _opened(ribbon: Ribbon, border: Border, whole: shapely.Polygon) -> list[shapely.Polygon]:
    """A band that runs all round, cut at its corners; without any it is one ring."""
    corners = corners_of(ribbon.line, True)
    if not corners:
        return [whole]
    far = border.inset + border.width
    slits = shapely.unary_union([_cutter(ribbon, k, far).buffer(1e-4, cap_style="flat") for k in corners])
    return [g for g in shapely.get_parts(whole.difference(slits)) if g.area > LEAST_AREA]


def _strip(ribbon: Ribbon, part: shapely.Polygon, middle: shapely.LineString, border: Border) -> Strip | None:
    inner = shapely.intersection(middle, part)
    if inner.geom_type != "LineString":
        inner = shapely.line_merge(inner) if inner.geom_type == "MultiLineString" else inner
    if inner.geom_type == "MultiLineString":
        inner = max(inner.geoms, key=lambda g: g.length)
    if inner.geom_type != "LineString" or inner.length < 1.0:
        return None
    rings = tuple(np.asarray(shapely.get_coordinates(r))[:-1] for r in (part.exterior, *part.interiors))
    points = dense(np.asarray(inner.coords))
    tightest, length = _tightest(points), float(ribbon.along(points)[-1])
    told = (length, tightest, part.area < LACKS * length * border.width)
    first, last = (_lean(points, part, border.width, at_end) for at_end in (False, True)) if len(rings) == 1 else (0, 0)
    one, other = (float(np.degrees(np.arctan(2 * lean / border.width))) for lean in (first, last))
    if border.bought:
        return Strip((_bar(length, border.width),), rings, "bought", *told, (one, other))
    if len(rings) == 1 and tightest >= LIES_ON_EDGE * border.width:
        straight = _straightened(length, border.width, first, last)
        return Strip((straight,), rings, "straight", *told, (one, other))
    return Strip(ribbon.by_itself(part), rings, "curved", *told)


def _tightest(points: Array) -> float:
    """Least radius of a line, read over 2 x LOOK, mm."""
    arc = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(points, axis=0).T))])
    if arc[-1] < 4 * LOOK:
        return float("inf")
    at = np.arange(0.0, arc[-1], LOOK)
    even = np.stack([np.interp(at, arc, points[:, k]) for k in (0, 1)], axis=1)
    ways = np.diff(even, axis=0)
    turn = np.abs((np.diff(np.arctan2(ways[:, 1], ways[:, 0])) + np.pi) % (2 * np.pi) - np.pi)
    # The first and last step may be cut short by a mitre.
    turn = turn[1:-1] if len(turn) > 4 else turn
    # A single step's turn is the noise of a mesh; two in a row are a bend.
    two = (turn[:-1] + turn[1:]) / 2 if len(turn) > 1 else turn
    return float(LOOK / max(float(two.max(initial=0.0)), 1e-9))


def _bar(length: float, width: float) -> Array:
    return np.array([[0.0, 0.0], [length, 0.0], [length, width], [0.0, width]])


def _straightened(length: float, width: float, first: float, last: float) -> Array:
    """A strip as it is cut straight, mm: as long as its middle, each end at the angle that it has on the piece. first,
    last: how far the left corner of each end lies past its middle, mm."""
    half = width / 2
    return np.array([[-first, -half], [length - last, -half], [length + last, half], [first, half]])


def _lean(middle: Array, part: shapely.Polygon, width: float, at_end: bool) -> float:
    """How far an end's left corner lies past its middle, mm: where rays along the strip's left half and right half
    leave it."""
    line = middle[::-1] if at_end else middle
    way = line[min(3, len(line) - 1)] - line[0]
    way = way / np.hypot(*way)
    side = np.array([-way[1], way[0]]) * (-1.0 if at_end else 1.0)
    reach = 0.45 * width
    past = []
    for sign in (1.0, -1.0):
        start = line[0] + sign * side * reach
        ray = shapely.LineString([start - way * width, start + way * 1.5 * width])
        hit = shapely.intersection(ray, part)
        points = np.asarray(shapely.get_coordinates(hit))
        past.append(0.0 if not len(points) else float(((points - line[0]) @ way).min()))
    slope = (past[0] - past[1]) / 2 / 0.9
    return float(-slope if at_end else slope)
