"""All copies of each thing that is laid on a piece, summed once: its steps, its weight and its list read these."""

import itertools
from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from math import ceil

import shapely

from vellumcut.core.body.segments import Side
from vellumcut.core.design.foam import FoamKind
from vellumcut.core.design.making import FROM_FILM, Detail, Making, MotifRing
from vellumcut.core.design.parts import Border, Cuff, Damage, Links, Plate, Row, Scales, Segments
from vellumcut.core.ink.stage import InkedPiece
from vellumcut.core.parts.border import Cut, Strip
from vellumcut.core.parts.laid import LaidPart, laid_parts
from vellumcut.core.parts.links import strips_to_buy
from vellumcut.core.parts.profile import STAYS, profile_words
from vellumcut.core.parts.row import strokes_of
from vellumcut.core.parts.scales import outline_of
from vellumcut.core.pattern.drawn import DrawnPanel
from vellumcut.core.units import format_length

SPARE = 0.1
"""Of what is bought in packs, one in ten more than is needed (est.): parts rule book, section 2."""

LEAST_MITRE = 5
"""Degrees off square below which an end is cut square and fitted."""
MOST_TOLD = 24
"""Rows of scales whose counts are told one by one."""


@dataclass(frozen=True)
class PartSum:
    """length: along strips, along the lines of a row, or of the edges a cuff goes on from, mm. count: how many sit in
    rows. strips: how many are laid, of each cut. area: of foam as it is cut, mm2; volume: that stays, mm3. pitch: least
    and most that came out, mm. short: a strip is narrower somewhere than asked. plates: how many there are, each of so
    many layers; of a cuff, how many parts it is cut in. to_a_row: how many scales or links each row takes, at each
    place. high: of segments, from the lowest to the highest, mm. strokes: of the maker's punch. turned: how many of its
    plates lie as mirror images of their drawing. left_out: of a row, since they would sit on an anchor or a hole.
    mitres: how many ends of its strips are cut off square, at each angle, whole degrees. problems: why some of it
    cannot lie where it should. curves: by how much foam curves under the foot of what stands on it, mm. made: how many
    are made of what stands on it."""

    detail: Detail
    length: float = 0.0
    count: int = 0
    strips: Mapping[Cut, int] | None = None
    area: float = 0.0
    volume: float = 0.0
    pitch: tuple[float, float] = (0.0, 0.0)
    short: bool = False
    plates: int = 0
    layers: int = 0
    to_a_row: tuple[tuple[int, ...], ...] = ()
    high: tuple[float, float] = (0.0, 0.0)
    strokes: int = 0
    turned: int = 0
    left_out: int = 0
    mitres: tuple[tuple[int, int], ...] = ()
    problems: tuple[str, ...] = ()
    curves: float = 0.0
    made: int = 0

    @property
    def glued(self) -> float:
        """One face of all that is cemented, mm2: of scales only what the next row hides."""
        return self.area * (self.detail.shape.covered if isinstance(self.detail.shape, Scales) else 1.0)

    @property
    def sheet(self) -> tuple[FoamKind, float] | None:
        """The kind and thickness of the foam it is cut from; None for what is bought."""
        return foam_of(self.detail)

    @property
    def profile_words(self) -> str:
        """How its strips are brought to their profile; empty where they stay as they are cut."""
        shape, cuts = self.detail.shape, self.strips or {}
        if not isinstance(shape, Border):
            return ""
        return profile_words(shape, bool(cuts.get("curved")), bool(cuts.get("straight")))

    @property
    def packs(self) -> int:
        """To buy, with the spare; 0 where it is not sold in packs."""
        shape = self.detail.shape
        if not isinstance(shape, Row | Scales | Links) or not shape.pack or not self.count:
            return 0
        single = self.link_strips or self.count
        wanted = single + max(1, round(SPARE * single))
        return -(-wanted // shape.pack)

    @property
    def link_strips(self) -> int:
        """Bought strips of links, without spare; 0 where there are none."""
        shape = self.detail.shape
        return strips_to_buy(self.count, shape.strip) if isinstance(shape, Links) else 0

    @property
    def bars(self) -> int:
        """Bought strips of their full length, each joint at an end; 0 where strips are cut from sheet."""
        shape = self.detail.shape
        return ceil(self.length / shape.bought) if isinstance(shape, Border) and shape.bought else 0

    @property
    def words(self) -> str:
        """What there is of it, for the bench; empty where there is nothing."""
        match self.detail.shape:
            case Row() as row:
                told = self._row_words(row)
            case Scales() as scales:
                told = f"{self.count} scales{self._row_list(scales)}.{self._pack_words(scales)}"
            case Links() as links:
                told = self._link_words(links)
            case Cuff() as cuff:
                return self._cuff_words(cuff) if self.plates else ""
            case Damage() as damage:
                off = format_length(damage.inset)
                told = f"{self.count} cuts and dents, each {off} and more off every edge and seam."
            case Segments() as segments:
                told = self._segment_words(segments)
            case Plate() as plate:
                return self._plate_words(plate) if self.plates else ""
            case _:
                return self._strip_words()
        return told if self.count else ""

    def _plate_words(self, plate: Plate) -> str:
        film = "" if foam_of(self.detail) else " from film"
        each = f", each of {self.layers} layers" if self.layers > 1 and not film else ""
        wide, rim = format_length(plate.wide), format_length(plate.rim)
        if plate.opening == "foot":
            rise = format_length(round(self.curves, 1))
            there = "1 stands there" if self.plates == 1 else f"{self.plates} stand there"
            few = f" Only {self.made} of it made so far: say how many on its own page." if self.made else ""
            return (
                f"{there}, its foot {wide} across and drawn on the panel. The foam curves by {rise} under it: make it "
                f"so much longer, and cut its foot to the curve.{few if self.made < self.plates else ''}"
            )
        if plate.opening == "seat":
            return f"{self.plates} rims to cut{each}, {rim} wide round a seat for what is {wide} across."
        opened = f", open inside a rim of {rim}" if plate.opening == "window" else ""
        return f"{self.plates} to cut{film}{each}, {wide} across{opened}."

    def _cuff_words(self, cuff: Cuff) -> str:
        part = "1 part" if self.plates == 1 else f"{self.plates} parts"
        return f"{part} to cut, {format_length(cuff.high)} high, along {format_length(self.length)} of edge in all."

    def _link_words(self, links: Links) -> str:
        bought = f" {self.link_strips} strips of {links.strip}, linked end to end." if self.link_strips else ""
        thick = format_length(links.foam)
        held = f" Its edge between strips of {thick}, glued to each other: {self._strip_words()}" if self.length else ""
        rows = f"{self._row_list(links)}.{self._column_words()}{_cap_words(links)}"
        return f"{self.count} links{rows}{bought}{self._pack_words(links)}{held}"

    def _column_words(self) -> str:
        """Where a row takes more than the one below, where all places take the same."""
        first, *others = self.to_a_row or ((),)
        if any(other != first for other in others):
            return ""
        grown = [(k, b - a) for k, (a, b) in enumerate(itertools.pairwise(first), 2) if b > a]
        told = ", ".join(f"{k} ({more})" if more > 1 else str(k) for k, more in grown)
        return f" Columns added in row{'s' * (len(grown) > 1)} {told}." if grown else ""

    def _strip_words(self) -> str:
        rows = [f"{n} {CUTS[cut]}" for cut, n in (self.strips or {}).items() if n]
        told = f"{', '.join(rows)}; {format_length(self.length)} in all." if rows else ""
        mitres = ", ".join(f"{n} at {lean} degrees" for lean, n in self.mitres if self.bars)
        return told + (f" {self.bars} bought." if self.bars else "") + (f" Mitres: {mitres}." if mitres else "")

    def _row_words(self, row: Row) -> str:
        low, high = (format_length(p) for p in self.pitch)
        apart = low if low == high else f"{low} to {high}"
        if row.prongs:
            struck = f", {self.strokes} strokes of the punch with {row.prongs} prong{'s' * (row.prongs > 1)}"
            over = ", one prong in the last hole" if row.prongs > 1 else ""
            return f"{self.count} punched holes, {apart} from middle to middle{struck}{over}."
        start = "at both ends" if row.ends == "at the ends" else "half of that from each end"
        out = f", {self.left_out} left out over anchors and holes" if self.left_out else ""
        # Bought by the pack they are dear, and often too few.
        dots = " Punched dots of waste foam do instead." if self.packs and self.detail.kind == "rivets" else ""
        told = f"{self.count} in all{out}, {apart} from middle to middle, the first {start}."
        return f"{told}{self._pack_words(row)}{dots}"

    def _segment_words(self, shape: Segments) -> str:
        low, high = (format_length(x) for x in self.high)
        tall = f"{low} high" if low == high else f"{low} to {high} high"
        over = f", each {format_length(shape.overlap)} over the one before it" if shape.overlap else ", edge to edge"
        return f"{self.count} plates, {tall}{over}, from the {' and '.join(shape.lines)} on."

    def _row_list(self, scales: Scales | Links) -> str:
        """How many each row takes, where all its places take the same: what a hand counts out before it glues."""
        first, *others = self.to_a_row or ((),)
        if any(other != first for other in others) or len(first) > MOST_TOLD:
            every = [n for row in self.to_a_row for n in row]
            return f", {min(every)} to {max(every)} to a row"
        from_there = f"row by row from the {' and '.join(scales.lines)}"
        return f", {from_there}: {', '.join(map(str, first))}" + (" on each" if self.count > sum(first) else "")

    def _pack_words(self, shape: Row | Scales | Links) -> str:
        return f" {self.packs} pack{'s' * (self.packs > 1)} of {shape.pack}, one in ten spare." if self.packs else ""


def _cap_words(links: Links) -> str:
    if not links.cap:
        return ""
    lower = format_length(links.cap)
    return f" Its top follows the cap curve, {lower} lower under the arm; let it overlap there in a V."


def stands(detail: Detail) -> bool:
    """Whether it is a piece of its own that stands on this one: nothing is cut for it here."""
    return detail.kind == "joined part" and isinstance(detail.shape, Plate)


def foam_of(detail: Detail) -> tuple[FoamKind, float] | None:
    """The kind and thickness of the foam a detail is cut from; None for what is no foam, or bought."""
    shape = detail.shape
    if shape is None or isinstance(shape, Row | Damage) or detail.kind in FROM_FILM or stands(detail):
        return None
    if (isinstance(shape, Border) and shape.bought) or (isinstance(shape, Links) and not shape.holder):
        return None
    return shape.foam_kind, shape.foam


CUTS: dict[Cut, str] = {"straight": "cut straight", "curved": "cut as a curve", "bought": "cut from bought length"}


def sum_parts(inked: Mapping[Side, InkedPiece], panels: Sequence[DrawnPanel]) -> dict[str, PartSum]:
    """By detail's key, over all sides and copies. panels: all that the piece has, which tell how many there are."""
    base = {(p.side, p.flat.number): p for p in panels if p.layer.number == 1}
    rows: dict[str, list[tuple[LaidPart, int]]] = {}
    turned: dict[str, int] = {}
    for side, piece in inked.items():
        for part in laid_parts(piece):
            own = base.get((side, part.panel))
            copies = part.copies(own.copies) if own else 0
            rows.setdefault(part.detail.key, []).append((part, copies))
            over = copies // 2 if own and own.twin else copies if side == "right" else 0
            turned[part.detail.key] = turned.get(part.detail.key, 0) + over
    return {key: replace(sum_of(found), turned=turned[key]) for key, found in rows.items()}


def _to_a_row(part: LaidPart) -> tuple[int, ...]:
    """How many scales or links each row takes, from the free end up."""
    rows = part.rows or part.links
    return tuple(sum(len(r.at) for r in rows if r.number == k) for k in range(rows[-1].number + 1))


def sum_of(rows: Sequence[tuple[LaidPart, int]]) -> PartSum:
    """One detail, wherever it lies, and how many copies there are of each place; at least one place."""
    detail = rows[0][0].detail
    strips = [(s, n) for part, n in rows for s in part.strips]
    sheets = [(s, n) for part, n in rows for s in part.sheets]
    places = [p for part, _ in rows for p in part.places]
    border = detail.shape if isinstance(detail.shape, Border) else None
    each = float(shapely.Polygon(outline_of(detail.shape)).area) if isinstance(detail.shape, Scales) else 0.0
    area = (
        each * sum(part.count * n for part, n in rows)
        + sum(s.area * n for s, n in strips)
        + sum(s.area * n for s, n in sheets if foam_of(detail))
        + sum(s.area * n for part, n in rows for s in part.segments)
        + sum(c.area * n for part, n in rows for c in part.cuffs)
    )
    share = STAYS[border.profile] if border else 1.0
    foam = 0.0 if detail.shape is None or isinstance(detail.shape, Row | Damage) else detail.shape.foam
    high = [s.high for part, _ in rows for s in part.segments]
    prongs = detail.shape.prongs if isinstance(detail.shape, Row) else 0
    cuts: tuple[Cut, ...] = ("straight", "curved", "bought")
    return PartSum(
        detail,
        sum(part.length * n for part, n in rows),
        sum(part.count * n for part, n in rows),
        {cut: sum(n for s, n in strips if s.cut == cut) for cut in cuts},
        area,
        area * foam * share,
        (min(p.pitch for p in places), max(p.pitch for p in places)) if places else (0.0, 0.0),
        any(s.short for s, _ in strips),
        sum(n for s, n in sheets if s.layer == 1)
        + sum(n * len(part.cuffs) for part, n in rows)
        + (sum(n for _, n in rows) if stands(detail) else 0),
        max((s.layer for s, _ in sheets), default=0),
        tuple(_to_a_row(part) for part, _ in rows if part.rows or part.links),
        (min(high), max(high)) if high else (0.0, 0.0),
        sum(n * strokes_of(len(p.at), prongs) for part, n in rows for p in part.places),
        mitres=tuple(sorted(_mitres(strips).items())),
        left_out=sum(n * p.out for part, n in rows for p in part.places),
        problems=tuple(dict.fromkeys(part.problem for part, _ in rows if part.problem)),
        curves=max(part.curves for part, _ in rows),
    )


def _mitres(strips: Sequence[tuple[Strip, int]]) -> Counter[int]:
    out: Counter[int] = Counter()
    for strip, copies in strips:
        for lean in (round(abs(end)) for end in strip.ends):
            if lean >= LEAST_MITRE:
                out[lean] += copies
    return out


def at_width(detail: Detail, plate: Plate) -> tuple[MotifRing, ...]:
    """A plate's drawing as wide as it is laid, mm."""
    if not detail.motif:
        return ()
    x = [p[0] for ring in detail.motif for p in ring.points]
    scale = plate.wide / max(max(x) - min(x), 1e-9)
    return tuple(MotifRing(points=tuple((a * scale, b * scale) for a, b in ring.points)) for ring in detail.motif)


def as_laid(making: Making, sums: Mapping[str, PartSum]) -> Making:
    """The details with the lengths and counts that they have on the piece, in place of what was typed."""

    def read(detail: Detail) -> Detail:
        own = sums.get(detail.key)
        if own is None:
            return detail
        if isinstance(detail.shape, Plate):
            update = {"count": max(own.plates, 1), "length": 0.0, "edge": "", "motif": at_width(detail, detail.shape)}
            return detail.model_copy(update=update)
        if isinstance(detail.shape, Row | Scales | Links | Segments | Damage) and detail.kind != "stitches":
            return detail.model_copy(update={"count": own.count, "length": 0.0, "edge": ""})
        return detail.model_copy(update={"count": 1, "length": own.length, "edge": ""})

    return making.model_copy(update={"details": tuple(read(d) for d in making.details)}) if sums else making
