"""Where the anchors of a piece sit: those of its own rig, and those at which other pieces hang on it."""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import LineString
from shapely.geometry.base import BaseGeometry

from vellumcut.core.body.segments import Side
from vellumcut.core.cast.armour import MIDDLE
from vellumcut.core.cast.halves import WHOLE
from vellumcut.core.design.piece import PieceDesign, TemplateName
from vellumcut.core.ink.library.table import TEMPLATES
from vellumcut.core.ink.lines import CLOSURE, InkLine, PanelInk
from vellumcut.core.rig.laid import LaidPiece, ring_of
from vellumcut.core.rig.recipes import chosen_rig
from vellumcut.core.rig.rows import AnchorKind, AnchorRow, Landing, Rig, Spot, StrapRow

Array = NDArray[np.float64]

STRAP_EVERY = 90.0
"""Straps closer than this hold a shell without gaping between them, mm (est.)."""
FROM_EDGE = 25.0
"""Centre of the first and last strap from the ends, so they sit near the edge that would lift, mm."""
ACROSS_INSET = 22.0
"""An anchor beside an opening lies this far from it, mm: half its bed and an edge to glue (est.)."""
RIGHT = " (right)"
"""Told of the right one of a pair."""
BED = 60.0
"""Length of an anchor's bed, mm: a palm's width of cement (est.)."""
BUILT: tuple[str, ...] = ("none", "hook-and-loop", "buckles")
"""Closures of a limb shell that are straps; a lace and a zip lie along the edges."""


@dataclass(frozen=True)
class Mate:
    """Another piece of the costume, as far as rigs ask. key: its number in the build."""

    key: int
    template: TemplateName
    way: str
    side: str


@dataclass(frozen=True)
class Anchor:
    """uv: (around, along) on its piece. own: of the piece's own rig; else what hangs on it there. mirrored: the right
    one of a pair on a piece of both sides."""

    key: str
    words: str
    uv: tuple[float, float]
    kind: AnchorKind = "webbing"
    own: bool = True
    mirrored: bool = False

    @property
    def name(self) -> str:
        """Key, and which of a pair."""
        return self.key + RIGHT if self.mirrored else self.key


def rig_of_design(design: PieceDesign, company: Iterable[Mate]) -> Rig:
    """The rig that holds a piece in its costume."""
    own = Mate(0, design.template, design.rig.way, design.side)
    there = {m.template for m in worn_with(own, company)} | {own.template}
    return chosen_rig(own.template, own.way, there, own.side)


def worn_with(piece: Mate, company: Iterable[Mate]) -> list[Mate]:
    """Of a costume's pieces those that are worn on a side on which this one is: a right thigh and a left knee are not
    tied together. What lies on the trunk is with all."""

    def sides(mate: Mate) -> set[str]:
        whole = mate.side == "both" or TEMPLATES[mate.template].part in WHOLE
        return {"left", "right"} if whole else {mate.side}

    return [m for m in company if sides(m) & sides(piece)]


def strap_places(length: float) -> list[float]:
    """Strap centres above the lower edge, mm: near both ends, and no gap over STRAP_EVERY."""
    inset = min(FROM_EDGE, length / 4)
    count = max(2, int(np.ceil((length - 2 * inset) / STRAP_EVERY)) + 1)
    return [float(p) for p in np.linspace(inset, length - inset, count)]


def across_rows(laid: LaidPiece) -> tuple[tuple[AnchorRow, ...], tuple[StrapRow, ...]]:
    """Straps across the opening of a shell that is drawn shut by straps, from below."""
    design = laid.design
    if laid.shut_behind or design.closure not in BUILT:
        return (), ()
    _, floor, _, roof = laid.area.bounds
    # The point of a pointed end lies in front: straps sit along the closing edges.
    low, high = laid.inked.ends if laid.inked.drawn is None else (floor, roof)
    anchors: list[AnchorRow] = []
    straps = []
    material, fastening = {
        "none": ("elastic", "hook-and-loop"),
        "hook-and-loop": ("webbing", "hook-and-loop"),
        "buckles": ("webbing", "side-release buckle"),
    }[design.closure]
    for k, at in enumerate(strap_places(high - low), 1):
        y = (low + at - floor) / (roof - floor)
        rows = [AnchorRow(f"opening {k}, {end}", Spot(x, y, ACROSS_INSET)) for end, x in (("B", 1.0), ("A", -1.0))]
        anchors += rows
        round_ = design.rig.run == "round"
        straps.append(
            StrapRow(
                f"opening {k}",
                f"strap {k} {'all round' if round_ else 'across the opening'}",
                rows[0].key,
                rows[0 if round_ else 1].key,
                material,  # type: ignore[arg-type]
                fastening,  # type: ignore[arg-type]
                "round" if round_ else "back",
                lifts=k == 1,
            )
        )
    return tuple(anchors), tuple(straps)


def rows_of(laid: LaidPiece, rig: Rig) -> tuple[tuple[AnchorRow, ...], tuple[StrapRow, ...]]:
    """Anchors and straps of a piece's own rig."""
    anchors, straps = rig.anchors, rig.straps
    if rig.across:
        more, across = across_rows(laid)
        anchors, straps = (*anchors, *more), (*straps, *across)
    if at_its_line(laid):
        # A lace or a zip along the line where it opens takes the place of the tab over that.
        straps = tuple(s for s in straps if s.key != "closure")
        kept = {x for s in straps for x in (s.start, s.end)}
        anchors = tuple(a for a in anchors if a.key in kept)
    return anchors, straps


def _at_a_line(laid: LaidPiece) -> tuple[float, float] | None:
    """Length of the line along which a drawn piece opens edge to edge, mm, and the gap there: none."""
    own = opening_line(laid)
    if not own:
        return None
    steps = [np.diff(laid.inked.surface.points(uv, MIDDLE), axis=0) for uv in own]
    return sum(float(np.linalg.norm(x, axis=1).sum()) for x in steps), 0.0


def opening_line(laid: LaidPiece) -> list[Array]:
    """Stretches of the line along which a drawn piece opens edge to edge, from below, each (n, 2) upward; none where
    there is no such line."""
    if laid.inked.drawn is None:
        return []
    own = {x.arc: x.uv for p in laid.inked.panels for x in p.outline if x.arc.partition("@")[0] == CLOSURE}
    upward = [uv if uv[0, 1] <= uv[-1, 1] else uv[::-1] for uv in own.values()]
    return sorted(upward, key=lambda uv: float(uv[0, 1]))


def at_its_line(laid: LaidPiece) -> bool:
    """Whether a lace or a zip closes a drawn piece along the line where it opens."""
    return laid.design.closure not in BUILT and _at_a_line(laid) is not None


def closing_edge(laid: LaidPiece) -> tuple[float, float] | None:
    """Length of the edges that can be closed on each other, mm, and how far they are apart: along the line where a
    drawn piece opens, or behind. None where it is shut all round, and for a plain shell, whose ends tell."""
    if laid.inked.drawn is None:
        return None
    line = _at_a_line(laid)
    gap = None if line else laid.gap_behind
    return line or (None if gap is None else (gap[1] - gap[0], gap[2]))


def landing_of(landing: Landing, company: Iterable[Mate]) -> tuple[Mate, Spot] | None:
    """The piece that a strap ends on, and where; None: on a belt or vest worn beneath, if anywhere."""
    rows = list(company)
    for template, spot in landing.spots:
        found = next((m for m in rows if m.template == template), None)
        if found is not None:
            return found, spot
    return None


def landed_rows(template: TemplateName, key: int, company: Iterable[Mate]) -> list[AnchorRow]:
    """Anchors at which other pieces hang on this one."""
    rows = list(company)
    out = []
    for mate in rows:
        if mate.key == key:
            continue
        near = worn_with(mate, rows)
        for strap in chosen_rig(mate.template, mate.way, {m.template for m in near}, mate.side).straps:
            found = landing_of(strap.end, near) if isinstance(strap.end, Landing) else None
            if found is not None and found[0].key == key and found[0].template == template:
                out.append(AnchorRow(f"{mate.template}: {strap.key}", found[1], pair=True))
    return out


def anchors_of(laid: LaidPiece, company: Iterable[Mate], key: int = 0) -> list[Anchor]:
    """All anchors of one drawn side of a piece. company: every piece of the costume, this one among them as ``key``."""
    mates = list(company)
    own, _ = rows_of(laid, rig_of_design(laid.design, mates))
    landed = landed_rows(laid.design.template, key, mates)
    out = []
    for row, mine in [(r, True) for r in own] + [(r, False) for r in landed]:
        pair = row.pair and laid.whole
        uv = laid.design.rig.moved.get(row.key) or tuple(laid.spot(row.spot.x, row.spot.y, row.spot.inset, pair))
        place = (float(uv[0]), float(uv[1]))
        out.append(Anchor(row.key, row.key, place, row.kind, mine))
        if pair and laid.covers(np.array([[-place[0], place[1]]]))[0]:
            out.append(Anchor(row.key, row.key, (-place[0], place[1]), row.kind, mine, True))
    return out


def laced_span(laid: LaidPiece) -> tuple[float, float] | None:
    """Lower and upper end of the closing edges of a shell that a lace or a zip closes, mm along; None for any other
    piece."""
    design = laid.design
    plain = laid.inked.drawn is None and not laid.whole
    return laid.inked.ends if plain and design.back == "open" and design.closure in ("lacing", "zip") else None


def stretch_at(laid: LaidPiece, along: float) -> float:
    """mm of the plane for one of the foam round the body at a station coordinate; near enough for a mark."""
    tube, surface = laid.inked.tube, laid.inked.surface
    mm = float(tube.mm(along))
    off = surface.base + float(surface.ease_at(mm)) + surface.middle * surface.thickness
    return laid.plane.turn / (float(np.interp(mm, tube.at, tube.station_girths)) + 2 * np.pi * off)


CROSS = 7.0
"""Half length of the arms of an anchor's cross, mm."""


def anchor_marks(
    laid: LaidPiece, anchors: Iterable[Anchor], panel: PanelInk, twin: bool = False
) -> tuple[InkLine, ...]:
    """Marks of the anchors that lie on a panel: a cross where the pull begins and the outline of the bed. twin: the
    panel is also cut turned over; what lies on that copy alone is marked too, and said so."""
    ground = shapely.make_valid(shapely.Polygon(laid.plane.flat(ring_of(panel)))).buffer(-1.0)
    placed: list[Array] = []
    out: list[InkLine] = []
    for turned in (False, True) if twin else (False,):
        for anchor in anchors:
            at = laid.plane.flat(np.array([anchor.uv]) * [-1.0 if turned else 1.0, 1.0])[0]
            here = place_on(laid, ground, at)
            if here is None or any(np.linalg.norm(here - p) < SAME_PLACE for p in placed):
                continue
            placed.append(here)
            words = f"anchor {anchor.name}" + (", on the part turned over" if turned else "")
            out += _cross_and_bed(laid, ground, here, anchor.uv[1], words)
    return tuple(out)


SAME_PLACE = 3.0
"""Marks so near to each other are one, mm."""


def place_on(laid: LaidPiece, ground: BaseGeometry, at: Array) -> Array | None:
    """A place on the plane, turned round the body until it lies on a panel."""
    tries = [at + [k * laid.plane.turn, 0.0] for k in (-1, 0, 1)]
    return next((p for p in tries if shapely.contains_xy(ground, *p)), None)


def _cross_and_bed(laid: LaidPiece, ground: BaseGeometry, here: Array, along: float, words: str) -> Iterator[InkLine]:
    stretch = stretch_at(laid, along)
    wide, tall = BED / 2 * stretch, laid.design.rig.webbing / 2
    bed = LineString([here + [x * wide, y * tall] for x, y in ((-1, -1), (1, -1), (1, 1), (-1, 1), (-1, -1))])
    arms = [LineString([here - d, here + d]) for d in (np.array([CROSS * stretch, 0.0]), np.array([0.0, CROSS]))]
    for shape, part in ((arms[0], ""), (arms[1], ""), (bed, ", bed")):
        for seen in shapely.get_parts(shape.intersection(ground)):
            if seen.geom_type == "LineString" and seen.length > 2:
                dense = shapely.get_coordinates(shapely.segmentize(seen, 4.0))
                yield InkLine("mark", words + part, laid.plane.uv(dense))


def sides_of(design: PieceDesign) -> tuple[Side, ...]:
    """The sides of the body that a limb piece is worn on."""
    return ("left", "right") if design.side == "both" else (design.side,)
