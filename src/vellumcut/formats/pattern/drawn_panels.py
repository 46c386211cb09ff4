"""A drawing as panels: closed lines bound them or are cut out of them, open ones lie on them.

What a layer's name does not say is asked, and what is left out is listed: a hole that was none is cut before it is
seen.
"""

from collections import Counter
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np
import shapely
from numpy.typing import NDArray

from vellumcut.core.design.flat import FlatKind, FlatShape, FlatStroke, FlatText, places
from vellumcut.core.errors import CraftError
from vellumcut.core.words import seen
from vellumcut.formats.pattern.drawn_lines import FINE, Drawing, DrawnLine, DrawnWords, Ring, in_mm, rings_of
from vellumcut.formats.pattern.layer_words import ANSWERED, Answer, Meaning, meaning, plain

Array = NDArray[np.float64]

SMALLEST = 400.0
"""mm2 of the smallest panel: a label's arrow or a hole's ring is none."""
CORNER = np.radians(20)
MOST_PANELS, MOST_CROSSED = 200, 1500
"""Panels of a pattern, and points of a line that is mended where it crosses itself."""
CROSSINGS = 40
"""A line that crosses itself more often is no outline that slipped."""
SLIPPED = 0.98
"""Of what a crossing line encloses, that its largest part holds, where it only slipped."""
MOST_HOLES, MOST_STROKES, MOST_POINTS, MOST_OF_A_LINE = 400, 200, 4000, 2000
"""Holes, lines and outline points of one panel, and points of a line or a hole, as they are kept."""
OWN_WORDS = "label"
"""The layer in which our own files write: its arrow is no part of the pattern, and nobody misses it."""
FRAME = "the rectangle round everything"
PAPERS = ((210, 297), (297, 420), (420, 594), (594, 841), (841, 1189), (215.9, 279.4), (279.4, 431.8), (215.9, 355.6))
"""Sizes of sheets, mm."""


@dataclass(frozen=True)
class Panels:
    """left: what of the file is not in them, in words."""

    shapes: tuple[FlatShape, ...]
    left: tuple[str, ...]


@dataclass
class _Bound:
    """A panel in the making. area: inside its outline."""

    ring: Ring
    area: shapely.Polygon
    holes: list[Ring] = field(default_factory=list)


class _Sorted:
    """Lines by what their layers mean. answers: what the maker said, by the layer's plain name."""

    def __init__(self, lines: Sequence[DrawnLine], answers: Mapping[str, Answer]) -> None:
        self._said: dict[str, Meaning] = {plain(k): ANSWERED[v] for k, v in answers.items()}
        self.left: Counter[str] = Counter()
        self.of = {id(x): self._meaning(x) for x in lines}
        self.named = any(m == "cut" for m in self.of.values())
        self.lines = [x for x in lines if self.of[id(x)] not in ("out", "words")]
        for x in lines:
            if self.of[id(x)] in ("out", "words") and plain(x.layer) != OWN_WORDS:
                self.left[f"in “{_shown(x.layer)}”"] += 1

    def _meaning(self, line: DrawnLine) -> Meaning | None:
        means = self._said.get(plain(line.layer), meaning(line.layer))
        return "fold" if line.dashed and means in ("cut", "hole", "", None) else means

    def said(self, name: str) -> Meaning | None:
        """What the maker said of a name, if anything."""
        return self._said.get(plain(name))

    def may_bound(self) -> list[DrawnLine]:
        return [x for x in self.lines if self.of[id(x)] in ("cut", "hole", "", None)]

    def means(self, ring: Ring) -> Meaning | None:
        return self.of[id(ring.lines[0])]


def panels_of(drawing: Drawing, unit: float = 1.0, answers: Mapping[str, Answer] | None = None) -> Panels:
    """Every panel of a drawing, numbered from the left. unit: mm of one of its numbers, where it does not say.
    answers: what layers hold whose names do not say it.

    Raises CraftError where nothing in it is closed, or a layer has to be asked after: then its field is ``layers.`` and
    that layer's name.
    """
    drawing = in_mm(drawing, unit)
    by_layer = _Sorted(drawing.lines, answers or {})
    rings = sorted(_whole(rings_of(by_layer.may_bound()), by_layer.left), key=lambda b: -float(b.area.area))
    bounds = _nested(_unframed(rings, drawing, by_layer), by_layer)
    if not bounds:
        left = "; ".join((*drawing.notes, *_listed(by_layer.left)))
        words = "No closed line in this file bounds a panel. Close the outlines, or join the pages first"
        raise CraftError(f"{words}. Left out: {left}" if left else words, "file")
    used = {id(x) for b in rings for x in b.ring.lines}
    rest = [x for x in by_layer.lines if id(x) not in used]
    bounds.sort(key=lambda b: float(b.area.bounds[0]))
    on = [_on_it(b, rest) for b in bounds]
    shapes = tuple(
        _shape(n, b, own, by_layer, drawing.words) for n, (b, own) in enumerate(zip(bounds, on, strict=True), 1)
    )
    by_layer.left["on no panel"] += len(rest) - len({id(x) for own in on for x in own})
    by_layer.left[f"past the {MOST_STROKES} on one panel"] += sum(max(0, len(own) - MOST_STROKES) for own in on)
    return Panels(shapes, (*drawing.notes, *_listed(by_layer.left)))


def _shown(name: str) -> str:
    """A layer's name as it is said."""
    return str(seen(name))[:60] or "no name"


def _on_it(bound: _Bound, lines: Sequence[DrawnLine]) -> list[DrawnLine]:
    """Lines that lie on a panel, by their middles."""
    near = bound.area.buffer(1.0)
    shapely.prepare(near)
    return [x for x in lines if near.contains(shapely.Point(x.points[len(x.points) // 2]))]


def _listed(left: Counter[str]) -> Iterator[str]:
    for where, n in left.items():
        if n:
            yield f"{n} line{'s' * (n > 1)} {where}"


def _whole(rings: Sequence[Ring], left: Counter[str]) -> Iterator[_Bound]:
    """Rings that enclose something; those that only slipped across themselves are mended."""
    for ring in rings:
        area = shapely.Polygon(ring.points)
        whole = area if area.is_valid else _mended(ring.points, area)
        if whole is None:
            left["crossing over and over"] += len(ring.lines)
        elif whole.area > 1.0:
            yield _Bound(Ring(shapely.get_coordinates(whole.exterior)[:-1], ring.lines), whole)


def _mended(points: Array, area: shapely.Polygon) -> shapely.Polygon | None:
    if len(points) > MOST_CROSSED or _crossings(points) > CROSSINGS:
        return None
    parts = [p for p in shapely.get_parts(shapely.make_valid(area)) if p.geom_type == "Polygon"]
    parts = [q for p in parts for q in (shapely.get_parts(p) if p.geom_type == "MultiPolygon" else [p])]
    best = max(parts, key=lambda p: p.area, default=None)
    return best if best is not None and best.area > SLIPPED * sum(p.area for p in parts) else None


def _crossings(points: Array) -> int:
    ends = np.stack([points, np.roll(points, -1, axis=0)], axis=1)
    sides = shapely.linestrings(ends)
    return len(shapely.STRtree(sides).query(sides, "crosses").T) // 2


def _unframed(rings: list[_Bound], drawing: Drawing, by_layer: _Sorted) -> list[_Bound]:
    """Without the frame of the sheet. Raises CraftError where a rectangle round all may be that or a panel."""
    if len(rings) < 2 or by_layer.means(rings[0].ring) == "hole":
        return rings
    first, *rest = rings
    if not _is_rectangle(first) or not all(first.area.contains(b.area) for b in rest):
        return rings
    said = by_layer.said(FRAME)
    wide, high = (float(x) for x in np.ptp(first.ring.points, axis=0))
    apart = all(plain(b.ring.layer) != plain(first.ring.layer) for b in rest)
    panels = [b for b in rest if b.area.area >= SMALLEST and by_layer.means(b.ring) != "hole"]
    sheet = _is_sheet(wide, high, drawing.page)
    if said is None and not (sheet or len(panels) > 1):
        return rings
    if said is None and not (sheet and apart):
        raise _ask(FRAME, f"is {wide:.0f} x {high:.0f} mm: leave it out as the frame of a sheet, or is it a panel?")
    if said not in ("out", None):
        return rings
    by_layer.left[f"round everything, {wide:.0f} x {high:.0f} mm"] += len(first.ring.lines)
    return rest


def _is_rectangle(bound: _Bound) -> bool:
    box = shapely.box(*bound.area.bounds)
    return bool(bound.area.area > 0.999 * box.area)


def _is_sheet(wide: float, high: float, page: tuple[float, float] | None) -> bool:
    sizes = [*PAPERS, *((page,) if page else ())]
    return any(abs(min(wide, high) - min(s)) < 1 and abs(max(wide, high) - max(s)) < 1 for s in sizes)


def _ask(layer: str, words: str) -> CraftError:
    return CraftError(f"“{_shown(layer)}” {words}", f"layers.{_shown(layer)}")


def _nested(rings: Sequence[_Bound], by_layer: _Sorted) -> list[_Bound]:
    """Panels with what is cut out of them. rings: largest first. Raises CraftError where that has to be asked."""
    bounds: list[_Bound] = []
    for found in rings:
        means, area = by_layer.means(found.ring), found.area
        spot = area.representative_point()
        around = next((b for b in reversed(bounds) if b.area.contains(spot) and b.area.area > 1.02 * area.area), None)
        if any(b.area.equals_exact(area, 0.1) for b in bounds):
            by_layer.left["drawn twice"] += len(found.ring.lines)
        elif around is None or _in_a_hole(around, spot):
            _add(bounds, found, means, by_layer)
        elif means == "hole" or _goes_with(around, found, means, by_layer):
            around.holes.append(found.ring)
        else:
            n = sum(plain(b.ring.layer) == plain(found.ring.layer) for b in rings)
            raise _ask(found.ring.layer, f"has {_lines(n)} inside panels: cut out, folded, or only drawn on?")
    return bounds


def _in_a_hole(bound: _Bound, spot: shapely.Point) -> bool:
    """Whether something lies in what is cut out of a panel: a part that is cut from its waste."""
    return any(shapely.Polygon(h.points).contains(spot) for h in bound.holes)


def _add(bounds: list[_Bound], found: _Bound, means: Meaning | None, by_layer: _Sorted) -> None:
    if means == "hole":
        by_layer.left["to be cut out, in no panel"] += len(found.ring.lines)
    elif found.area.area < SMALLEST:
        by_layer.left[f"round less than {SMALLEST / 100:.0f} cm2"] += len(found.ring.lines)
    elif means != "cut" and by_layer.named:
        raise _ask(found.ring.layer, "has closed lines beside the layer that is cut: panels too, or to be left out?")
    elif len(bounds) == MOST_PANELS:
        raise CraftError(f"The drawing has over {MOST_PANELS} panels: save the pattern's alone", "file")
    else:
        bounds.append(found)


def _goes_with(around: _Bound, found: _Bound, means: Meaning | None, by_layer: _Sorted) -> bool:
    """Whether what lies in a panel is drawn as its outline is: then it is cut as that is."""
    return means == "cut" or plain(found.ring.layer) == plain(around.ring.layer) or (
        means == "" and by_layer.means(around.ring) == ""
    )  # fmt: skip


def _lines(n: int) -> str:
    return "a closed line" if n == 1 else f"{n} closed lines"


def _shape(
    number: int, bound: _Bound, lines: Sequence[DrawnLine], by_layer: _Sorted, words: Sequence[DrawnWords]
) -> FlatShape:
    """lines: those on it. Raises CraftError for more than a panel has."""
    if len(bound.holes) > MOST_HOLES:
        raise CraftError(f"A panel has over {MOST_HOLES} holes: save the pattern without them, and punch them", "file")
    area = bound.area
    whole = shapely.get_coordinates(shapely.orient_polygons(area).exterior)
    ring = (whole if len(whole) <= MOST_POINTS else _thin(whole, MOST_POINTS))[:-1]
    strokes = [
        FlatStroke(kind=_kind(by_layer.of[id(x)]), name=x.name[:80], points=places(_thin(x.points)))
        for x in lines[:MOST_STROKES]
    ]
    texts = [w for w in words if area.contains(shapely.Point(w.at))]
    title = max(texts, key=lambda w: w.height).words if texts else ""
    return FlatShape(
        number=number,
        name=title[:80],
        outline=places(ring),
        holes=tuple(places(_ring_of(h)) for h in bound.holes),
        corners=_corners(ring),
        lines=tuple(strokes),
        texts=tuple(FlatText(at=places(np.array([w.at]))[0], words=w.words[:80]) for w in texts[:200]),
    )


def _kind(means: Meaning | None) -> FlatKind:
    return "mark" if means in ("cut", "hole", "words", "out", "", None) else means  # type: ignore[return-value]


def _ring_of(hole: Ring) -> Array:
    points = hole.points
    return points if len(points) <= MOST_OF_A_LINE else _thin(np.vstack([points, points[:1]]))[:-1]


def _thin(points: Array, most: int = MOST_OF_A_LINE) -> Array:
    """A line of no more points than it is kept with. Raises CraftError for one that cannot be told by them."""
    for off in (FINE, 2 * FINE, 4 * FINE):
        made = np.asarray(shapely.get_coordinates(shapely.LineString(points).simplify(off)))
        if len(made) <= most:
            return made
    raise CraftError(f"A line of the drawing has over {most:,} points: simplify it, and save it again", "file")


def _corners(ring: Array) -> tuple[int, ...]:
    """Points where a line turns at once, not little by little as a curve does."""
    before, after = ring - np.roll(ring, 1, axis=0), np.roll(ring, -1, axis=0) - ring
    cross = before[:, 0] * after[:, 1] - before[:, 1] * after[:, 0]
    turn = np.abs(np.arctan2(cross, (before * after).sum(axis=1)))
    found = np.flatnonzero(turn > CORNER)
    return tuple(int(k) for k in found[:200]) if len(found) else (0,)
