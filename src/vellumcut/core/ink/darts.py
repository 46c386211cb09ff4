"""Darts of a panel: where each opens on its edge, and what is wrong with one."""

from dataclasses import dataclass, replace

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import LineString, Point, Polygon

from vellumcut.core.design.sheet import InkSheet, drawn_strokes, stroke_line
from vellumcut.core.ink.lines import DartInk, PanelInk
from vellumcut.core.ink.plane import Plane

Array = NDArray[np.float64]

REACH = 4.0
"""A dart's mouth this near an edge opens on it, mm: a marker's tip is as wide."""
LEAST_DART = 15.0
"""A slit shorter than this is a nick, mm."""
LEAST_LAND = 8.0
"""A tip nearer than this to an edge would cut the panel through, mm."""
AT_CORNER = 5.0
"""A mouth this near a corner opens at the corner, mm."""


@dataclass(frozen=True, eq=False)
class DartStroke:
    """A dart as drawn. flat: its line on the drawing plane, mm. key: of its stroke, with a tick if it is mirrored."""

    key: str
    name: str
    flat: LineString


def dart_strokes(plane: Plane, sheet: InkSheet) -> list[DartStroke]:
    """Every dart on a sheet, mirror images too."""
    return [
        DartStroke(s.key + ("'" if image else ""), s.name or "dart", LineString(plane.flat(stroke_line(s))))
        for s, image in drawn_strokes(sheet)
        if s.kind == "dart"
    ]


@dataclass(frozen=True)
class DartTrouble:
    """Why a dart cannot be cut. at: mm on the drawing plane."""

    key: str
    message: str
    at: Point


def add_darts(plane: Plane, ink: PanelInk, darts: list[DartStroke]) -> tuple[PanelInk, list[DartTrouble]]:
    """The panel with those of the darts that lie on it: its outline parted at each mouth, and the slits from there
    in."""
    ring = Polygon(np.vstack([plane.flat(line.uv)[:-1] for line in ink.outline]))
    ring = Polygon(ring.exterior, [plane.flat(line.uv)[:-1] for line in ink.holes])
    troubles: list[DartTrouble] = []
    for dart in sorted(darts, key=lambda d: d.key):
        for turns in (-1, 0, 1):
            line = shapely.transform(dart.flat, lambda p, k=turns: p + [k * plane.turn, 0.0])
            inside = _longest(line.intersection(ring))
            if inside is None or inside.length < LEAST_DART:
                continue
            trouble = _trouble(dart, inside, ring, plane, ink)
            if trouble:
                troubles.append(trouble)
                continue
            ink = _open(plane, ink, dart, _from_mouth(inside, ring))
    return ink, troubles


def without_darts(ink: PanelInk) -> PanelInk:
    """The same panel before any dart is cut: lines that mouths had parted are whole again."""
    lines = list(ink.outline)
    for after in sorted({d.after for d in ink.darts}, reverse=True):
        first, following = lines[after], (after + 1) % len(lines)
        second = lines[following]
        if len(lines) > 1 and (first.name, first.arc, first.forward) == (second.name, second.arc, second.forward):
            lines[after] = replace(first, uv=np.vstack([first.uv[:-1], second.uv]))
            del lines[following]
    return replace(ink, outline=tuple(lines), darts=())


def _longest(found: shapely.Geometry) -> LineString | None:
    lines = [g for g in getattr(found, "geoms", [found]) if isinstance(g, LineString) and not g.is_empty]
    return max(lines, key=lambda g: g.length) if lines else None


def _from_mouth(line: LineString, ring: Polygon) -> Array:
    p: Array = shapely.get_coordinates(line)
    away = [ring.exterior.distance(Point(q)) for q in (p[0], p[-1])]
    return p if away[0] <= away[1] else p[::-1]


def _trouble(dart: DartStroke, line: LineString, ring: Polygon, plane: Plane, ink: PanelInk) -> DartTrouble | None:
    p = _from_mouth(line, ring)
    mouth, tip = Point(p[0]), Point(p[-1])
    word = (dart.name or "The dart").capitalize()
    if ring.exterior.distance(mouth) > REACH:
        return DartTrouble(dart.key, f"{word} reaches no edge: drag its mouth to one.", mouth)
    if ring.boundary.distance(tip) < LEAST_LAND:
        return DartTrouble(dart.key, f"{word} runs from edge to edge: make it a seam, or stop it short.", tip)
    others = [LineString(plane.flat(d.uv)) for d in ink.darts]
    if any(o.distance(line) < LEAST_LAND for o in others):
        return DartTrouble(dart.key, f"{word} meets another dart: keep them apart, or make one of them a seam.", tip)
    return None


def _open(plane: Plane, ink: PanelInk, dart: DartStroke, p: Array) -> PanelInk:
    """Part the outline at the dart's mouth; the line before it ends there."""
    lines = [LineString(plane.flat(line.uv)) for line in ink.outline]
    nearest = int(np.argmin([line.distance(Point(p[0])) for line in lines]))
    line, whole = lines[nearest], ink.outline[nearest]
    at = line.project(Point(p[0]))
    outline, after = list(ink.outline), nearest
    if at < AT_CORNER:
        mouth, after = shapely.get_coordinates(line)[0], nearest - 1
    elif at > line.length - AT_CORNER:
        mouth = shapely.get_coordinates(line)[-1]
    else:
        mouth = shapely.get_coordinates(line.interpolate(at))[0]
        q = shapely.get_coordinates(line)
        far = np.concatenate([[0], np.cumsum(np.linalg.norm(np.diff(q, axis=0), axis=1))])
        first = np.vstack([q[far < at - 1e-6], mouth])
        second = np.vstack([mouth, q[far > at + 1e-6]])
        outline[nearest : nearest + 1] = [
            replace(whole, uv=plane.uv(first)),
            replace(whole, uv=plane.uv(second)),
        ]
    after %= len(outline)
    grown = len(outline) - len(ink.outline)
    kept = tuple(replace(d, after=d.after + grown) if d.after >= nearest else d for d in ink.darts)
    uv = plane.uv(np.vstack([mouth, p[1:]]))
    return replace(ink, outline=tuple(outline), darts=(*kept, DartInk(dart.key, dart.name, uv, after)))
