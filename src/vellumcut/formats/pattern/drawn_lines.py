"""Lines and words out of a drawing, whatever file it came in, as panels: closed lines bound them, open ones lie on
them."""

from collections.abc import Sequence
from dataclasses import dataclass, field, replace

import numpy as np
import shapely
from numpy.typing import NDArray

from vellumcut.core.design.flat import FlatKind, FlatShape, FlatStroke, FlatText, places
from vellumcut.core.errors import CraftError

Array = NDArray[np.float64]

SNAP = 0.02
"""mm within which ends of lines are one point."""
SMALLEST = 400.0
"""mm2 of the smallest panel: a label's arrow or a hole's ring is none."""
FINE = 0.01
"""mm by which a curve may stand off the line that it is read as."""
CORNER = np.radians(20)
MOST_LINES = 20_000
LAYERS: dict[str, FlatKind] = {
    "fold": "fold",
    "score": "score",
    "trim edge": "trim edge",
    "layer cut": "layer cut",
    "paint line": "paint line",
    "centre line": "centre line",
    "seam marks": "mark",
    "mark": "mark",
}
"""Names of layers that say what their lines are; those of our own files among them. Any other is a mark."""
NO_LINES = ("label",)
"""Layers that hold words only."""
BOUNDS = ("cut", "outline", "panel", "pattern", "0", "")
"""Layers whose lines may bound a panel, if the drawing has a layer called "cut" at all: then no others do."""


@dataclass(frozen=True, eq=False)
class DrawnLine:
    """points: (n, 2) mm, y up. layer: what it is called there. name: of the line. group: lines drawn as one."""

    points: Array
    layer: str = ""
    name: str = ""
    group: int = 0

    @property
    def closed(self) -> bool:
        return len(self.points) > 3 and float(np.hypot(*(self.points[0] - self.points[-1]))) < SNAP


@dataclass(frozen=True)
class DrawnWords:
    at: tuple[float, float]
    words: str
    height: float = 0.0


@dataclass(frozen=True, eq=False)
class Drawing:
    """unit: what the file says its numbers are, in mm each; None where it says nothing."""

    lines: tuple[DrawnLine, ...]
    words: tuple[DrawnWords, ...]
    unit: float | None
    notes: tuple[str, ...] = field(default=())


def so_wide(drawing: Drawing, wide: float) -> Drawing:
    """A drawing at the size at which all its lines together are so many mm across, whatever it says of itself."""
    x = np.concatenate([line.points[:, 0] for line in drawing.lines]) if drawing.lines else np.zeros(1)
    scale = wide / max(float(np.ptp(x)), 1e-9)
    lines = tuple(replace(line, points=line.points * scale) for line in drawing.lines)
    words = tuple(DrawnWords((w.at[0] * scale, w.at[1] * scale), w.words, w.height * scale) for w in drawing.words)
    return Drawing(lines, words, 1.0, drawing.notes)


def panels_of(drawing: Drawing, unit: float = 1.0) -> tuple[FlatShape, ...]:
    """Every panel of a drawing, numbered from the left. unit: mm of one of its numbers, where it does not say.

    Raises CraftError where nothing in it is closed.
    """
    scale = unit if drawing.unit is None else 1.0
    lines = [DrawnLine(x.points * scale, x.layer, x.name, x.group) for x in drawing.lines]
    told = any(x.layer == "cut" for x in lines)
    bounds = [x for x in lines if (x.layer == "cut" if told else x.layer.lower() not in (*LAYERS, *NO_LINES))]
    rings = _rings(bounds)
    outer, holes = _nested(rings)
    if not outer:
        raise CraftError(
            "No closed line in this file bounds a panel. Close the outlines, or join the pages first", "file"
        )
    drawn = shapely.MultiLineString([np.vstack([p, p[:1]]) for p, _ in rings]) if rings else shapely.MultiLineString()
    used = {id(x) for x in bounds if x.closed or told or drawn.buffer(2 * SNAP).covers(shapely.LineString(x.points))}
    rest = [x for x in lines if id(x) not in used and x.layer.lower() not in NO_LINES]
    order = sorted(range(len(outer)), key=lambda k: float(outer[k].bounds[0]))
    return tuple(_shape(n, outer[k], holes[k], rest, drawing.words, scale) for n, k in enumerate(order, 1))


def closed_lines(drawing: Drawing, unit: float = 1.0) -> list[Array]:
    """Every closed line of a drawing, (n, 2) mm, those drawn in several strokes among them. unit: mm of one of its
    numbers, where it does not say."""
    scale = unit if drawing.unit is None else 1.0
    return [p for p, _ in _rings([replace(x, points=x.points * scale) for x in drawing.lines])]


def _rings(lines: Sequence[DrawnLine]) -> list[tuple[Array, int]]:
    """Closed lines, those among them that are drawn in several strokes, with the group each was drawn in."""
    out = [(x.points[:-1], x.group) for x in lines if x.closed]
    loose = [x.points for x in lines if not x.closed and len(x.points) > 1]
    if loose:
        snapped = [np.vstack([_snap(p[:1]), p[1:-1], _snap(p[-1:])]) for p in loose]
        merged = shapely.line_merge(shapely.MultiLineString(snapped))
        for k, part in enumerate(shapely.get_parts(merged)):
            if part.is_ring:
                out.append((shapely.get_coordinates(part)[:-1], -1 - k))
    return [(p, g) for p, g in out if len(p) > 2]


def _snap(point: Array) -> Array:
    return np.asarray(np.round(point / SNAP) * SNAP)


def _nested(rings: list[tuple[Array, int]]) -> tuple[list[shapely.Polygon], list[list[Array]]]:
    """Outlines, and for each the closed lines inside it: what is cut out."""
    shapes = [(shapely.Polygon(p).buffer(0), p, g) for p, g in rings]
    shapes = [s for s in shapes if s[0].geom_type == "Polygon" and s[0].area > 1.0]
    shapes.sort(key=lambda s: -float(s[0].area))
    outer: list[shapely.Polygon] = []
    holes: list[list[Array]] = []
    for area, points, _ in shapes:
        inside = next(
            (k for k, o in enumerate(outer) if o.contains(area.representative_point()) and o.area > area.area * 1.02),
            None,
        )
        same = any(o.equals_exact(area, 0.1) for o in outer)
        if same:
            continue
        if inside is not None:
            holes[inside].append(points)
        elif area.area >= SMALLEST:
            outer.append(shapely.Polygon(points))
            holes.append([])
    return outer, holes


def _shape(
    number: int,
    area: shapely.Polygon,
    holes: list[Array],
    lines: Sequence[DrawnLine],
    words: Sequence[DrawnWords],
    scale: float,
) -> FlatShape:
    ring = shapely.get_coordinates(shapely.orient_polygons(area).exterior)[:-1]
    near = area.buffer(1.0)
    strokes = [
        FlatStroke(kind=LAYERS.get(x.layer.lower(), "mark"), name=x.name[:80], points=places(_thin(x.points)))
        for x in lines
        if near.contains(shapely.Point(x.points[len(x.points) // 2]))
    ]
    texts = [w for w in words if area.contains(shapely.Point(np.array(w.at) * scale))]
    title = max(texts, key=lambda w: w.height).words if texts else ""
    return FlatShape(
        number=number,
        name=title[:80],
        outline=places(ring),
        holes=tuple(places(h) for h in holes),
        corners=_corners(ring),
        lines=tuple(strokes[:200]),
        texts=tuple(FlatText(at=places(np.array([w.at]) * scale)[0], words=w.words[:80]) for w in texts[:200]),
    )


def _thin(points: Array) -> Array:
    return np.asarray(shapely.get_coordinates(shapely.LineString(points).simplify(FINE)))


def _corners(ring: Array) -> tuple[int, ...]:
    """Points where a line turns at once, not little by little as a curve does."""
    before, after = ring - np.roll(ring, 1, axis=0), np.roll(ring, -1, axis=0) - ring
    cross = before[:, 0] * after[:, 1] - before[:, 1] * after[:, 0]
    turn = np.abs(np.arctan2(cross, (before * after).sum(axis=1)))
    found = np.flatnonzero(turn > CORNER)
    return tuple(int(k) for k in found[:200]) if len(found) else (0,)
