"""From strokes to panels: what the ink encloses, in what order, and what is wrong with it and where."""

from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import LineString, Point, Polygon
from shapely.geometry.polygon import orient

from vellumcut.core.body.tube import TubeSurface
from vellumcut.core.design.sheet import CUTTING, InkSheet, Stroke, drawn_strokes, stroke_line
from vellumcut.core.ink.darts import LEAST_DART, DartStroke, DartTrouble, add_darts, dart_strokes
from vellumcut.core.ink.inside import inside_lines
from vellumcut.core.ink.lines import MIRRORED, InkLine, Kind, PanelInk
from vellumcut.core.ink.numbering import has_twin, in_rows, on_left
from vellumcut.core.ink.plane import DrawingPlane, drawing_plane
from vellumcut.core.ink.tangle import tangle

Array = NDArray[np.float64]

JOIN = 4.0
"""A stroke's end this near another stroke meets it, mm: a marker's tip is as wide."""
SLIVER = 5.0
"""A panel narrower than this is no panel, mm."""
LEAST_AREA = 200.0
_TINY = 1e-6
GRID = 1e-3
"""Noding rounds to this, mm, so that an end laid on a line is on it."""
WINDOW = -0.3717
"""Of the three turns drawn the one that begins here is read, in turns: at no place where templates put a middle."""
TROUBLE = Literal["gap", "crossing", "sliver", "outside", "ring", "dart"]


@dataclass(frozen=True)
class InkProblem:
    """Something in the ink that does not work. at: (around, along)."""

    kind: TROUBLE
    message: str
    at: tuple[float, float]
    strokes: tuple[str, ...] = ()


@dataclass(frozen=True, eq=False)
class Region:
    """One enclosed panel. number: in order along the segment. twin: its mirror image is there too, and only one is
    drawn.

    ring: (n, 2) in (around, along), counter-clockwise. area: mm2 on the unrolled tube, near that on the body.
    inside: a point within, in (around, along).
    """

    number: int
    ink: PanelInk
    ring: Array
    area: float
    inside: tuple[float, float]
    twin: bool


@dataclass(frozen=True, eq=False)
class InkReading:
    regions: tuple[Region, ...]
    problems: tuple[InkProblem, ...]


@dataclass(frozen=True, eq=False)
class _Line:
    stroke: Stroke
    key: str
    flat: LineString


def read_ink(tube: TubeSurface, sheet: InkSheet, apart: bool = False) -> InkReading:
    """Panels that the sheet's outlines and seams enclose on this tube, and every problem with its place.

    apart: both panels of a mirror pair are drawn, since left and right of this body differ.

    Lines are noded and polygonised on the unrolled tube with one turn repeated to each side, so a panel may
    lie across the back.
    """
    plane = drawing_plane(tube)
    darts = dart_strokes(plane, sheet)
    cutting = _cutting_lines(plane, sheet)
    tangled = tangle([shapely.get_coordinates(g) for g in (*(x.flat for x in cutting), *(x.flat for x in darts))])
    if tangled is not None:
        words, where = tangled
        return InkReading((), (InkProblem("crossing", words, plane.place(Point(where))),))
    lines = _joined(cutting, plane.turn)
    wide = [_shifted(line, k * plane.turn) for k in (-1, 0, 1) for line in lines]
    noded = shapely.union_all([x.flat for x in wide], grid_size=GRID)
    faces, cuts, dangles, _ = shapely.polygonize_full([noded])
    polygons = [p for p in faces.geoms if WINDOW < p.centroid.x / plane.turn <= WINDOW + 1]
    problems = _gaps(plane, lines, dangles, cuts) + _crossings(plane, lines) + _outside(tube, plane, lines)
    kept, slivers = _panels(plane, polygons, sheet)
    problems += slivers
    if lines and not kept and not problems:
        at = plane.place(lines[0].flat.interpolate(0.5, normalized=True))
        problems.append(
            InkProblem(
                "ring",
                "These lines enclose no panel yet: draw on until they close, or add a seam that opens the ring.",
                at,
            )
        )
    regions, troubles = _ordered(plane, kept, wide, noded, sheet, apart, darts)
    problems += [InkProblem("dart", t.message, plane.place(t.at), (t.key,)) for t in troubles]
    problems += _stray_darts(plane, kept, darts)
    return InkReading(tuple(regions), tuple(problems))


def _stray_darts(plane: DrawingPlane, panels: list[Polygon], darts: list[DartStroke]) -> list[InkProblem]:
    """Darts of the maker's own hand that lie on no panel."""
    ground = shapely.union_all(
        [shapely.transform(p, lambda q, k=k: q + [k * plane.turn, 0.0]) for p in panels for k in (-1, 0, 1)]
    )
    out = []
    for dart in darts:
        if panels and dart.flat.intersection(ground).length < LEAST_DART:
            words = f"{dart.name.capitalize()} lies on no panel: draw it from an edge into one."
            out.append(InkProblem("dart", words, plane.place(dart.flat.interpolate(0.5, normalized=True)), (dart.key,)))
    return out


def _cutting_lines(plane: DrawingPlane, sheet: InkSheet) -> list[_Line]:
    out = []
    for stroke, mirrored in drawn_strokes(sheet):
        if stroke.kind in CUTTING:
            flat = plane.flat(stroke_line(stroke))
            if LineString(flat).length > _TINY:
                out.append(_Line(stroke, stroke.key + ("'" if mirrored else ""), LineString(flat)))
    return out


def _shifted(line: _Line, by: float) -> _Line:
    return _Line(line.stroke, line.key, shapely.transform(line.flat, lambda p: p + [by, 0.0]))


def _joined(lines: list[_Line], turn: float) -> list[_Line]:
    """Pull every end that nearly meets another line on to it, so that a hand-drawn corner closes."""
    out = list(lines)
    for k, line in enumerate(lines):
        p = shapely.get_coordinates(line.flat)
        if not line.stroke.closed:
            for end in (0, -1):
                p[end] = _nearest_on(p[end], k, out, turn)
        out[k] = _Line(line.stroke, line.key, LineString(p))
    return out


def _nearest_on(point: Array, own: int, lines: list[_Line], turn: float) -> Array:
    best, nearest = point, JOIN
    bounds = shapely.bounds([x.flat for x in lines])
    for turns in (-1, 0, 1):
        shift = np.array([turns * turn, 0.0])
        here = Point(point + shift)
        outside = np.maximum(bounds[:, :2] - point - shift, point + shift - bounds[:, 2:]).max(axis=1)
        for k in np.flatnonzero(outside < JOIN):
            if k == own:
                continue
            other = lines[k]
            corners = shapely.get_coordinates(other.flat)[[0, -1]]
            away = np.linalg.norm(corners - point - shift, axis=1)
            if away.min() < min(JOIN, nearest + 1e-9):
                best, nearest = corners[away.argmin()] - shift, float(away.min()) * 0.5
                continue
            distance = other.flat.distance(here)
            if _TINY < distance < nearest:
                on = other.flat.interpolate(other.flat.project(here))
                best, nearest = np.array([on.x, on.y]) - shift, distance
    return best


def _gaps(
    plane: DrawingPlane, lines: list[_Line], dangles: shapely.Geometry, cuts: shapely.Geometry
) -> list[InkProblem]:
    """Ends that meet nothing, with how far they are from the nearest line."""
    ends = []
    loose = shapely.union_all([dangles, cuts])
    wide = np.array([_shifted(x, k * plane.turn).flat for x in lines for k in (-1, 0, 1)])
    for n, line in enumerate(lines):
        if line.stroke.closed:
            continue
        p = shapely.get_coordinates(line.flat)
        for end, inner in ((p[0], p[1]), (p[-1], p[-2])):
            if loose.distance(Point((end + inner) / 2)) > 1e-3:
                continue
            others = np.delete(wide, range(3 * n, 3 * n + 3))
            away = float(shapely.distance(others, Point(end)).min(initial=np.inf))
            if away < _TINY:
                continue
            word = line.stroke.name or line.stroke.kind
            far = f"it ends {away:.0f} mm from the next line" if away < 400 else "nothing is near its end"
            ends.append(
                InkProblem("gap", f"{word.capitalize()} does not close: {far}.", plane.place(Point(end)), (line.key,))
            )
    return ends


def _crossings(plane: DrawingPlane, lines: list[_Line]) -> list[InkProblem]:
    """Two cutting lines that run across each other with no join: one of them should end there or be split."""
    found = []
    wide = [_shifted(x, k * plane.turn) for x in lines for k in (-1, 0, 1)]
    tree = shapely.STRtree([x.flat for x in wide])
    for i, a in enumerate(lines):
        crossed = np.sort(tree.query(a.flat, predicate="crosses"))
        for b in (wide[n] for n in crossed if n // 3 > i):
            met = a.flat.intersection(b.flat)
            for point in getattr(met, "geoms", [met]):
                if isinstance(point, Point) and _is_inner(a, point) and _is_inner(b, point):
                    words = f"{_word(a)} and {_word(b)} cross without a join: split one of them here."
                    words = words[0].upper() + words[1:]
                    found.append(InkProblem("crossing", words, plane.place(point), (a.key, b.key)))
    return found


def _word(line: _Line) -> str:
    return line.stroke.name or line.stroke.kind


def _is_inner(line: _Line, point: Point) -> bool:
    p = shapely.get_coordinates(line.flat)
    return line.stroke.closed or bool(np.linalg.norm(p[[0, -1]] - [point.x, point.y], axis=1).min() > JOIN)


def _outside(tube: TubeSurface, plane: DrawingPlane, lines: list[_Line]) -> list[InkProblem]:
    low, high = tube.reach
    out = []
    for line in lines:
        y = shapely.get_coordinates(line.flat)[:, 1]
        past = max(low - y.min(), y.max() - high)
        if past > 1.0:
            at = shapely.get_coordinates(line.flat)[int(y.argmin() if low - y.min() > y.max() - high else y.argmax())]
            words = (
                f"{_word(line).capitalize()} runs {past:.0f} mm past the end of the cast: wrap further, or bring it in."
            )
            out.append(InkProblem("outside", words, plane.place(Point(at)), (line.key,)))
    return out


def _panels(plane: DrawingPlane, polygons: list[Polygon], sheet: InkSheet) -> tuple[list[Polygon], list[InkProblem]]:
    kept, problems = [], []
    windows = [Point(p) for p in plane.flat(np.array(sheet.left_out).reshape(-1, 2))]
    if sheet.symmetric:
        windows += [Point(-p.x, p.y) for p in windows]
    for polygon in polygons:
        if any(
            shapely.transform(polygon, lambda p, k=k: p + [k * plane.turn, 0]).contains(w)
            for w in windows
            for k in (-1, 0, 1)
        ):
            continue
        if polygon.area < LEAST_AREA or polygon.buffer(-SLIVER / 2).is_empty:
            words = f"A sliver under {SLIVER:.0f} mm wide lies between two lines here: move one of them."
            problems.append(InkProblem("sliver", words, plane.place(polygon.representative_point())))
            continue
        kept.append(polygon)
    return kept, problems


def _ordered(
    plane: DrawingPlane,
    polygons: list[Polygon],
    lines: list[_Line],
    noded: shapely.Geometry,
    sheet: InkSheet,
    apart: bool,
    darts: list[DartStroke],
) -> tuple[list[Region], list[DartTrouble]]:
    """Panels numbered along the segment from its low end; of mirror pairs the one on the wearer's left is kept."""
    degree = _degrees(noded)
    tree = shapely.STRtree([x.flat for x in lines])
    rows = []
    for polygon in polygons:
        twin = sheet.symmetric and not apart and has_twin(polygon, plane.turn)
        if twin and not on_left(polygon, plane.turn):
            continue
        rows.append((polygon.centroid.y, abs(polygon.centroid.x), polygon, twin))
    rows = in_rows(rows)
    out: list[Region] = []
    troubles: list[DartTrouble] = []
    for number, (_, _, polygon, twin) in enumerate(rows, start=1):
        turned = orient(polygon)
        outline, *holes = (
            _edges(plane, shapely.get_coordinates(ring)[:-1], lines, tree, degree)
            for ring in (turned.exterior, *turned.interiors)
        )
        inside = polygon.representative_point()
        ink = PanelInk(
            number, tuple(outline), _upright_line(plane, polygon), True, tuple(x for hole in holes for x in hole)
        )
        ink, found = add_darts(plane, ink, darts)
        ink = replace(ink, inside=inside_lines(plane, sheet, polygon))
        troubles += found
        ring = plane.uv(shapely.get_coordinates(turned.exterior))[:-1]
        u, v = plane.uv(np.array([[inside.x, inside.y]]))[0]
        out.append(Region(number, ink, ring, float(polygon.area), (float(u), float(v)), twin))
    return out, troubles


def _degrees(noded: shapely.Geometry) -> dict[tuple[float, float], int]:
    """How many line pieces meet at each corner."""
    out: dict[tuple[float, float], int] = {}
    for piece in shapely.get_parts(noded):
        p = shapely.get_coordinates(piece)
        for k, q in enumerate(p):
            key = _rounded(q)
            out[key] = out.get(key, 0) + (1 if k in (0, len(p) - 1) else 2)
    return out


def _rounded(p: Array) -> tuple[float, float]:
    return round(float(p[0]), 2), round(float(p[1]), 2)


def _edges(
    plane: DrawingPlane, p: Array, lines: list[_Line], tree: shapely.STRtree, degree: dict[tuple[float, float], int]
) -> list[InkLine]:
    """A ring (n, 2) in mm cut where it changes from one stroke to the next, or where a third line meets it."""
    middles = (p + np.roll(p, -1, axis=0)) / 2
    near = tree.query_nearest(shapely.points(middles), all_matches=False)[1]
    n = len(p)
    breaks = [
        k
        for k in range(n)
        if lines[near[k - 1]].key != lines[near[k]].key
        or degree.get(_rounded(p[k]), 2) > 2
        or _is_stroke_corner(lines[near[k]], p[k])
    ] or [int(np.linalg.norm(p - shapely.get_coordinates(lines[near[0]].flat)[0], axis=1).argmin())]
    out: list[InkLine] = []
    counts: dict[str, int] = {}
    breaks = _without_crumbs(p, breaks)
    for start, end in zip(breaks, [*breaks[1:], breaks[0] + n], strict=True):
        line = lines[near[(start + end) // 2 % n]]
        flat = p[np.arange(start, end + 1) % n]
        name = _word(line) + (MIRRORED if line.key.endswith("'") else "")
        counts[name] = counts.get(name, 0) + 1
        kind: Kind = "seam" if line.stroke.kind == "seam" else "outline"
        name = name if counts[name] == 1 else f"{name} {counts[name]}"
        out.append(InkLine(kind, name, plane.uv(flat), _arc(line, flat, plane.turn), _runs_along(line.flat, flat)))
    return out


CRUMB = 1.0
"""A stretch of outline shorter than this is where a line runs a hair past another, no edge of its own, mm."""


def _without_crumbs(p: Array, breaks: list[int]) -> list[int]:
    """Breaks between edges, those left out that begin a stretch too short to be one."""
    n = len(p)
    steps = np.linalg.norm(np.roll(p, -1, axis=0) - p, axis=1)
    kept = [
        start
        for start, end in zip(breaks, [*breaks[1:], breaks[0] + n], strict=True)
        if steps[np.arange(start, end) % n].sum() > CRUMB
    ]
    return kept or breaks[:1]


def _runs_along(line: LineString, stretch: Array) -> bool:
    """Whether a stretch of a line runs the way the line was drawn."""
    at = np.array([line.project(Point(p)) for p in stretch])
    step = np.diff(at)
    return bool(step[np.abs(step) < line.length / 2].sum() > 0)


ARC_GRID = 2.0
"""Two stretches of one stroke have middles farther apart than this, mm; the same stretch seen twice has not."""


def _arc(line: _Line, flat: Array, turn: float) -> str:
    """A name for a stretch of a stroke, the same from both its sides and on its mirror image."""
    middle = LineString(flat).interpolate(0.5, normalized=True)
    x = -middle.x if line.key.endswith("'") else middle.x
    column = round((x % turn) / ARC_GRID) % round(turn / ARC_GRID)
    return f"{line.stroke.key}@{column},{round(middle.y / ARC_GRID)}"


def _is_stroke_corner(line: _Line, point: Array) -> bool:
    """A control point of a straight stroke is a real corner; along a smooth one nothing is."""
    if line.stroke.curve != "straight" or line.stroke.closed:
        return False
    p = shapely.get_coordinates(line.flat)[::1]
    return bool(np.linalg.norm(p[::12] - point, axis=1).min() < 1e-3)


def _upright_line(plane: DrawingPlane, polygon: Polygon) -> InkLine:
    """A line up the segment through the panel's widest place, to stand the flat panel upright by."""
    low, high = polygon.bounds[1], polygon.bounds[3]
    x = 0.0 if polygon.contains(Point(0.0, (low + high) / 2)) else polygon.representative_point().x
    cut = polygon.intersection(LineString([(x, low - 1), (x, high + 1)]))
    longest = max(getattr(cut, "geoms", [cut]), key=lambda g: g.length)
    ends = shapely.get_coordinates(longest)
    y = np.linspace(ends[:, 1].min(), ends[:, 1].max(), 40)
    return InkLine("centre line", "up", plane.uv(np.stack([np.full(40, x), y], axis=1)))
