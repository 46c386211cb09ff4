"""Zones of a piece, bounded by its ink: how large each is, and how long the line is at which its finish ends."""

from dataclasses import dataclass, field

import numpy as np
import shapely
from numpy.typing import NDArray

from vellumcut.core.design.finish import LayerName, ZoneFinish
from vellumcut.core.design.making import Making
from vellumcut.core.finish.layers import coats_of
from vellumcut.core.flatten.panel import FlatPanel
from vellumcut.core.ink.lines import stroke_of
from vellumcut.core.notes import Finding
from vellumcut.core.paces import Tempo
from vellumcut.core.pattern.drawn import DrawnPanel
from vellumcut.core.pattern.pattern import PiecePattern
from vellumcut.core.rig.anchors import rig_of_design
from vellumcut.core.rig.closures.openings import openings_of
from vellumcut.core.rig.laid import LaidPiece

Array = NDArray[np.float64]

Part = tuple[str, shapely.Polygon]

BOUNDS = ("paint line", "trim edge", "layer cut")
"""Kinds of ink that part a panel into zones."""
REACH = 4.0
"""A line that ends this near an edge, mm, is drawn through to it."""
LEAST_LINE = 0.5
"""Zones that share less than this, mm, only touch."""
LEAST_ZONE = 25.0
"""A region smaller than this, mm2, is a slip of the pen."""
LEAST_WIDE = 1.0
"""A region that is nowhere wider, mm, is one too."""
LEAST_SLIP = 0.01
"""What is smaller is a rounding, mm2."""
BENDING = {"belt": "a belt is bent round the waist", "bandolier": "a bandolier is bent over the shoulder"}
BY_HAND: tuple[LayerName, ...] = ("acrylic", "metallic", "enamel", "gloss black")
"""What can be painted to a line by hand instead."""
THIN_COATS = 2
"""Coats by hand for one by spray: many thin ones."""


@dataclass(frozen=True)
class Zone:
    """Part of a panel. name: the panel's number, and a letter where ink parts it. shape: on the flat panel, mm.

    copies: how many there are. bounds: (mm over all copies, other zone's name) along every line another zone lies at.
    """

    name: str
    panel: int
    side: str
    shape: shapely.Polygon
    copies: int
    bounds: tuple[tuple[float, str], ...] = field(default=())

    @property
    def area(self) -> float:
        """Of all copies, mm2."""
        return float(self.shape.area) * self.copies


def zones_of(pattern: PiecePattern) -> list[Zone]:
    """All zones of the outer faces, each with its neighbours."""
    outer = [p for p in pattern.panels if p.layer.number == p.layer.count]
    made = {id(p): _parts(p.flat) for p in outer}
    shared = _shared(outer, made)
    out = []
    for p in outer:
        for name, shape in made[id(p)]:
            within = [(_along(shape, other) * p.copies, key) for key, other in made[id(p)] if key != name]
            bounds = (*((mm, key) for mm, key in within if mm > LEAST_LINE), *shared.get((p.side, name), []))
            out.append(Zone(name, p.flat.number, p.side, shape, p.copies, bounds))
    return out


def _parts(flat: FlatPanel) -> list[Part]:
    """The panel's regions from the top down, named."""
    lines = [_through(x.points, flat.shape) for x in flat.lines if x.kind in BOUNDS]
    if not lines:
        return [(str(flat.number), flat.shape)]
    net = shapely.unary_union([flat.shape.boundary, *lines])
    pieces = shapely.get_parts(shapely.polygonize(shapely.get_parts(net)))
    inside = [q for q in pieces if _is_zone(q) and flat.shape.contains(q.representative_point())]
    if len(inside) < 2:
        return [(str(flat.number), flat.shape)]
    inside = _with_slips(inside, flat.shape)
    inside.sort(key=lambda q: (-q.centroid.y, q.centroid.x))
    return [(f"{flat.number}{_letters(k)}", q) for k, q in enumerate(inside)]


def _is_zone(region: shapely.Polygon) -> bool:
    """Whether it is no slip: two lines that lie on each other leave one as long as they are."""
    return region.area > LEAST_ZONE and not region.buffer(-LEAST_WIDE / 2).is_empty


def _with_slips(zones: list[shapely.Polygon], whole: shapely.Polygon) -> list[shapely.Polygon]:
    """Zones with what is too small to be one put to its neighbour, so that they make up the whole face."""
    out = list(zones)
    slips = (q for q in shapely.get_parts(whole.difference(shapely.unary_union(zones))) if q.area > LEAST_SLIP)
    for slip in slips:
        at = max(range(len(out)), key=lambda k: float(out[k].boundary.intersection(slip.buffer(1e-6)).length))
        joined = shapely.unary_union([out[at], slip.buffer(1e-6)]).intersection(whole)
        if joined.geom_type == "Polygon":
            out[at] = joined
    return out


def _letters(k: int) -> str:
    return chr(97 + k) if k < 26 else chr(96 + k // 26) + chr(97 + k % 26)


def _through(points: Array, shape: shapely.Polygon) -> shapely.LineString:
    """A line drawn a little past an edge that it nearly reaches."""
    line = np.asarray(points)
    ends = []
    for end, before in ((line[0], line[1]), (line[-1], line[-2])):
        step = end - before
        near = shape.boundary.distance(shapely.Point(end)) < REACH
        ends.append(end + step / max(float(np.linalg.norm(step)), 1e-9) * 2 * REACH * near)
    return shapely.LineString(np.vstack([ends[0], line, ends[1]]))


def _along(one: shapely.Polygon, other: shapely.Polygon) -> float:
    """Length of the line that two regions share, mm."""
    return float(shapely.intersection(one.boundary, other.boundary.buffer(0.05)).length)


def _shared(outer: list[DrawnPanel], made: dict[int, list[Part]]) -> dict[tuple[str, str], list[tuple[float, str]]]:
    """Along every seam, which zones of other panels each zone lies at, and how long, over all copies."""
    along: dict[tuple[str, str], dict[str, float]] = {}
    panel = {name: p.flat.number for p in outer for name, _ in made[id(p)]}
    for p in outer:
        for edge in (*p.flat.edges, *p.flat.holes):
            if not edge.arc or edge.kind != "seam":
                continue
            line = shapely.LineString(edge.points())
            own = along.setdefault((p.side, edge.arc), {})
            for name, shape in made[id(p)]:
                own[name] = own.get(name, 0.0) + float(line.intersection(shape.buffer(0.1)).length) * p.copies
    out: dict[tuple[str, str], list[tuple[float, str]]] = {}
    for (side, _), lengths in along.items():
        for name, mm in lengths.items():
            others = {k: v for k, v in lengths.items() if panel[k] != panel[name] and v > LEAST_LINE}
            whole = sum(others.values())
            out.setdefault((side, name), []).extend((min(mm * v / whole, v), k) for k, v in others.items())
    return out


def bending(pattern: PiecePattern) -> dict[int, str]:
    """Panels that bend in wear, and why: those that are opened to be put on, and straps."""
    design = pattern.design
    if design.worn_as in BENDING:
        return {p.flat.number: BENDING[design.worn_as] for p in pattern.panels}
    opened = "it is bent open each time it is put on"
    laid = {side: LaidPiece(inked) for side, inked in pattern.inked.items()}
    sprung = {side for side, piece in laid.items() if rig_of_design(design, ()).across and not piece.shut_behind}
    beside = {n for piece in laid.values() for n in _beside_openings(piece)}
    return {
        p.flat.number: opened
        for p in pattern.panels
        if p.side in sprung or p.flat.number in beside or any(s.kind == "opening" for s in p.flat.seams)
    }


def _beside_openings(laid: LaidPiece) -> set[int]:
    """Numbers of the panels beside a seam that opens in part or as a whole."""
    lines = {plan.row.line for plan in openings_of(laid)}
    return {p.number for p in laid.inked.panels if any(x.arc and stroke_of(x.arc) in lines for x in p.outline)}


@dataclass(frozen=True)
class PaintedZone:
    """One finish and what it covers. area: mm2 of the outer face, all copies. mask: mm of line at which it ends.

    masked, by_hand: minutes either way; hand: which of them it is. bends: why any of its zones bends.
    """

    finish: ZoneFinish
    zones: tuple[Zone, ...]
    area: float
    mask: float
    masked: float
    by_hand: float
    hand: bool
    bends: str


def painted_zones(pattern: PiecePattern, making: Making, plain: ZoneFinish, tempo: Tempo) -> list[PaintedZone]:
    """Every finish of a piece with its zones, in the order in which they are painted: the shortest mask last.

    A panel's number names all its zones that no finish names more closely: what was painted whole stays painted when
    a border or a line parts it later.
    """
    zones = zones_of(pattern)
    bends = bending(pattern)
    named = {z: n for n, f in enumerate(making.finishes) for z in f.zones}
    rest = next((n for n, f in enumerate(making.finishes) if not f.zones), -1)
    finishes = dict(enumerate(making.finishes)) | ({-1: plain} if rest == -1 else {})
    of = {z.name: named.get(z.name, named.get(str(z.panel), rest)) for z in zones}
    out = []
    for n, finish in finishes.items():
        own = tuple(z for z in zones if of[z.name] == n)
        if not own:
            continue
        mask = sum(mm for z in own for mm, other in z.bounds if of.get(other, n) != n)
        out.append(_painted(finish, own, mask, bends, tempo))
    return sorted(out, key=lambda p: -p.mask) if len(out) > 1 else out


def _painted(
    finish: ZoneFinish, own: tuple[Zone, ...], mask: float, bends: dict[int, str], tempo: Tempo
) -> PaintedZone:
    area = sum(z.area for z in own)
    colours = [c for c in coats_of(finish.stack) if c.kind.key in BY_HAND]
    coats = max(1, sum(c.coats for c in colours))
    masked = tempo.minutes("mask", mask) + sum(c.coats * tempo.minutes(c.work, area) for c in colours)
    hand = tempo.minutes("cut in", mask * coats) + THIN_COATS * coats * tempo.minutes("hand paint", area)
    chosen = hand < masked if finish.by_hand is None else finish.by_hand
    why = next((bends[z.panel] for z in own if z.panel in bends), "")
    return PaintedZone(finish, own, area, mask, masked, hand, mask > 0 and chosen, why)


def zone_findings(pattern: PiecePattern, making: Making) -> list[Finding]:
    """Zones that are named and are not there, and lines that part nothing."""
    there = {name for z in zones_of(pattern) for name in (z.name, str(z.panel))}
    lost = [z for f in making.finishes for z in f.zones if z not in there]
    out = [Finding("look", f"Zone {z} has a finish, but the ink bounds no such zone now.", "finish") for z in lost]
    for p in pattern.panels:
        lines = [x for x in p.flat.lines if x.kind == "paint line"]
        if lines and p.layer.number == p.layer.count and len(_parts(p.flat)) == 1:
            words = f"The paint line on panel {p.flat.number} ends inside it and parts nothing."
            out.append(Finding("look", words, "finish", "Draw it from edge to edge, or close it."))
    return list(dict.fromkeys(out))
