"""Seams that open: what closes each, where along it, and what that takes."""

from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from vellumcut.core.cast.armour import MIDDLE
from vellumcut.core.design.rig import OpeningKind, OpeningRow
from vellumcut.core.design.sheet import Stroke, stroke_line
from vellumcut.core.ink.lines import CLOSURE, InkLine, PanelInk, stroke_of
from vellumcut.core.ink.templates import CLOSING
from vellumcut.core.notes import Note, Value
from vellumcut.core.paces import Work
from vellumcut.core.rig.anchors import BED, place_on, stretch_at
from vellumcut.core.rig.closures.eyelets import EYELET, true_rings
from vellumcut.core.rig.laid import LaidPiece, ring_of
from vellumcut.core.rig.lengths import TAIL, TURN_OVER
from vellumcut.core.rig.part import ANCHORED, LACE_END, StrapPart

Array = NDArray[np.float64]

SHORTEST = 30.0
"""A stretch shorter than this opens nothing, mm."""
FLAP = 40.0
"""An underlap strip is so wide that both halves of a closure sit on it with an edge to glue, mm (est.)."""


@dataclass(frozen=True)
class Closing:
    """How a kind of closure is set. every: mm apart at most; 0: it runs all along. from_end: the first from its end,
    mm. beside: how far from each edge its holes sit, mm; 0: no holes. strip: whether it needs an underlap strip. how:
    it is fixed; alone: whether the wearer opens it without seeing it."""

    every: float
    from_end: float
    beside: float
    strip: bool
    how: str
    alone: bool


CLOSINGS: dict[OpeningKind, Closing] = {
    "lacing": Closing(25, 12, 12, False, "eyelets through a strip of fabric inside both edges, never bare foam", False),
    "hook-and-loop": Closing(0, 0, 0, True, "stitched to the strip all round; soft side on the foam that lies over it",
        True),
    "buckles": Closing(90, 25, 0, False, "straps sewn to the buckles, their ends cemented inside the foam", True),
    "zip": Closing(0, 0, 0, False, "sewn to two strips of 2 mm foam, the strips cemented inside the edges, zip "
        "closed while you do", True),
    "snaps": Closing(60, 15, 12, True,
        "heads through foam and a square of cloth, sockets through the strip; a washer of vinyl behind each", True),
    "magnets": Closing(60, 20, 10, True,
        "in pockets of the edge and of the strip, poles by turns so that it shuts one way only", True),
    "ratchet": Closing(120, 35, 0, False,
        "ladder strap riveted on one side, ratchet on the other, washers under all rivets", True),
}  # fmt: skip
"""Spacing and beds (est.)."""


@dataclass(frozen=True)
class OpeningPlan:
    """name: of the seam. length: of the seam, mm; low, high: between which mm of it, from its lower end, it opens. at:
    mm along it where something is set. hides: where it lies, in words. alone: whether its wearer works it there."""

    row: OpeningRow
    name: str
    length: float
    low: float
    high: float
    at: tuple[float, ...]
    hides: str
    alone: bool
    parts: tuple[StrapPart, ...]
    advice: tuple[str, ...]

    @property
    def words(self) -> str:
        """Which stretch of the seam it is."""
        part = "all along" if self.row.whole else "in part"
        return f"{self.row.kind} {part} the {self.name}"


def seams_to_open(laid: LaidPiece) -> dict[str, Stroke]:
    """Strokes along which a piece can open, by key: seams that bound two panels, or a panel twice. The line along which
    a template opens in any case is its rig's."""
    drawn = laid.inked.drawn
    if drawn is None:
        return {}
    shared = {stroke_of(x.arc) for p in laid.inked.panels for x in p.outline if x.kind == "seam" and x.arc}
    return {s.key: s for s in drawn.strokes if s.kind == "seam" and s.key in shared and s.key != CLOSURE}


def why_none_opens(laid: LaidPiece) -> str:
    """Why a piece has no seam to open, in words; nothing where it has one."""
    if seams_to_open(laid):
        return ""
    seams = {stroke_of(x.arc) for p in laid.inked.panels for x in p.outline if x.kind == "seam" and x.arc}
    if CLOSURE in seams:
        return "Its one seam is where it opens in any case: what holds that shut is among its straps."
    if CLOSING in seams:
        return "Its one seam is glued and makes it a tube. Left open behind, it closes there instead."
    return "It has no seam. Ink one where it has to open."


def seam_length(laid: LaidPiece, stroke: Stroke) -> float:
    """Of a seam on the middle layer, mm."""
    return float(_arc(laid, _upward(stroke))[-1])


def seam_ends(laid: LaidPiece, plan: "OpeningPlan") -> tuple[float, float]:
    """Where an opening begins and ends, mm along the body."""
    line = _upward(seams_to_open(laid)[plan.row.line])
    arc = _arc(laid, line)
    level = laid.plane.flat(line)[:, 1]
    low, high = (float(np.interp(x, arc, level)) for x in (plan.low, plan.high))
    return low, high


def openings_of(laid: LaidPiece) -> list[OpeningPlan]:
    """What closes each seam that opens. A row whose seam is not in the ink any more is passed over."""
    seams = seams_to_open(laid)
    return [_plan(laid, row, seams[row.line]) for row in laid.design.rig.openings if row.line in seams]


def _upward(stroke: Stroke) -> Array:
    line = stroke_line(stroke)
    return line if line[0, 1] <= line[-1, 1] else line[::-1]


def _arc(laid: LaidPiece, line: Array) -> Array:
    points = laid.inked.surface.points(line, MIDDLE)
    return np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(points, axis=0), axis=1))])


def _plan(laid: LaidPiece, row: OpeningRow, stroke: Stroke) -> OpeningPlan:
    line = _upward(stroke)
    length = float(_arc(laid, line)[-1])
    low, high, at = places_along(row, length)
    run = high - low
    closing = CLOSINGS[row.kind]
    twin = any(t and any(stroke_of(x.arc) == stroke.key for x in p.outline) for p,
        t in zip(laid.inked.panels, laid.inked.twins, strict=True))  # fmt: skip
    copies = 2 if twin and abs(float(np.mean(line[:, 0]))) > 0.02 else 1
    name = stroke.name or "seam"
    parts = tuple(_parts(laid, row, closing, run, at, name, copies))
    hides, alone = where_it_lies(laid, line, closing)
    advice = [f"{closing.how[0].upper()}{closing.how[1:]}."]
    rest = [w for w, there in ((f"below {low:.0f} mm", low > 1), (f"above {high:.0f} mm", high < length - 1)) if there]
    if rest:
        advice.append(
            f"Glue the seam {' and '.join(rest)}; a cloth patch behind where it opens, or it tears on from there."
        )
    advice.append(f"It lies {hides}" + (", and the wearer reaches it alone." if alone else ": somebody has to help, "
        "or leave a cord on it."))  # fmt: skip
    return OpeningPlan(row, name, length, low, high, at, hides, alone, parts, tuple(advice))


def places_along(row: OpeningRow, length: float) -> tuple[float, float, tuple[float, ...]]:
    """Between which mm of a line of a length it opens, and where along it something is set."""
    low, high = _stretch(row, length)
    return low, high, tuple(low + x for x in _spots(CLOSINGS[row.kind], high - low))


def _stretch(row: OpeningRow, length: float) -> tuple[float, float]:
    """From where to where a seam opens, mm. What is too short, on this body or as typed, is opened as far as lets
    something in."""
    high = length if row.high is None else min(row.high, length)
    high = max(high, min(SHORTEST, length))
    return max(0.0, min(row.low, high - SHORTEST)), high


def _spots(closing: Closing, run: float) -> list[float]:
    """mm from the opening's lower end where something is set; none for what runs all along."""
    if not closing.every:
        return []
    if run < 3 * closing.from_end:
        return [run / 2]
    inset = closing.from_end
    count = max(2, int(np.ceil((run - 2 * inset) / closing.every)) + 1)
    return [float(x) for x in np.linspace(inset, run - inset, count)]


def _parts(laid: LaidPiece, row: OpeningRow, closing: Closing, run: float, at: Sequence[float], name: str,
    copies: int) -> list[StrapPart]:  # fmt: skip
    """What is cut and counted for one opening."""
    made = Closed(row, closing, run, tuple(at), f"for the {name}", copies)
    return [*made.by_kind(), *made.underlap()]


@dataclass(frozen=True)
class Closed:
    """One opening with what closes it. run: mm. at: where along it, mm. where: in words. copies: of the piece. gap: mm
    from edge to edge."""

    row: OpeningRow
    closing: Closing
    run: float
    at: tuple[float, ...]
    where: str
    copies: int
    gap: float = 0.0

    def by_kind(self) -> list[StrapPart]:
        few = "They pull hard and let go with one press; one near each end."
        many = f"At most {self.closing.every:.0f} mm apart nothing gapes between."
        ways: dict[str, Callable[[], list[StrapPart]]] = {
            "lacing": self._lacing,
            "hook-and-loop": self._hook_and_loop,
            "buckles": self._buckles,
            "zip": self._zip,
            "ratchet": lambda: [self._pieces("ratchets with ladder straps", len(self.at), few)],
            "snaps": lambda: [self._pieces("snaps, four parts each", len(self.at), many)],
        }
        others = lambda: [self._pieces("couples of magnets", len(self.at), many)]  # noqa: E731  a row like the others
        return ways.get(self.row.kind, others)()

    def underlap(self) -> list[StrapPart]:
        if not self.closing.strip:
            return []
        why = "What closes an edge needs something under it to close on."
        what = f"underlap strip of 2 mm foam, {FLAP:.0f} mm wide,"
        return [self._along(what, 1, why, "cemented inside one edge, half its width showing")]

    def _cut(self, what: str, number: int, length: float, formula: str, values: tuple[Value, ...], why: str,
        glue: str = "none", sewn: int = 0) -> StrapPart:  # fmt: skip
        note = Note(what.capitalize(), Value("cut length", length), formula, values, why, about="strap")
        count, ends = number * self.copies, 2 if glue == ANCHORED else 0
        set_by: Work | None = None if glue in ("none", ANCHORED) else "fasten"
        return StrapPart(f"{what} {self.where}", count, length, (), note, self.closing.how, glue, ends, sewn, set_by)

    def _along(self, what: str, number: int, why: str, glue: str = "none", sewn: int = 0) -> StrapPart:
        """As long as the opening."""
        return self._cut(what, number, self.run, "{0} opening", (Value("opening", self.run),), why, glue, sewn)

    def _pieces(self, what: str, number: int, why: str, set_by: Work | None = "fasten") -> StrapPart:
        count = len(self.at)
        values = (
            Value("places", count, "count"),
            Value("each", number / max(count, 1), "count"),
            Value("alike", self.copies, "count"),
        )
        whole = Value(what, number * self.copies, "count")
        note = Note(what.capitalize(), whole, "{0} places x {1} each x {2} alike", values, why, about="strap")
        how = self.closing.how
        return StrapPart(f"{what} {self.where}", number * self.copies, 0.0, (), note, how, "none", set_by=set_by)

    def _lacing(self) -> list[StrapPart]:
        apart = self.at[1] - self.at[0] if len(self.at) > 1 else 0.0
        count, across = len(self.at), self.gap + 2 * self.closing.beside
        diagonal = float(np.hypot(across, apart))
        values = (
            Value("rows", count - 1, "count"),
            Value("diagonal", diagonal),
            Value("across", across),
            Value("ends", LACE_END),
        )
        lace = 2 * (count - 1) * diagonal + across + 2 * LACE_END
        formula = "2 x {0} rows x {1} diagonal + {2} first row + 2 x {3} to tie"
        evenly = f"At most {self.closing.every:.0f} mm apart they draw a foam edge in evenly."
        return [
            self._pieces("eyelets", 2 * count, evenly, "punch"),
            self._cut("lace", 1, lace, formula, values, "Crossed lacing crosses every gap twice."),
        ]

    def _hook_and_loop(self) -> list[StrapPart]:
        why = "All along: a closure that is held in places gapes between them."
        return [self._along("hook-and-loop, 25 mm wide,", 1, why, sewn=2)]

    def _buckles(self) -> list[StrapPart]:
        values = (Value("anchor", BED), Value("turned over", TURN_OVER), Value("tail", TAIL), Value("gap", self.gap))
        strap = 2 * BED + 2 * TURN_OVER + TAIL + self.gap
        formula = "2 x {0} anchors + 2 x {1} turned over + {2} tail" + (" + {3} gap" if self.gap else "")
        why = "One near each end, where it would gape."
        return [
            self._cut("webbing", len(self.at), strap, formula, values, why, ANCHORED, 2),
            self._pieces("side-release buckles", len(self.at), "One for each strap.", None),
        ]

    def _zip(self) -> list[StrapPart]:
        kind = "open-ended zip" if self.row.whole else "zip, closed at its end"
        short = "As long as the opening or shorter; an open-ended one is shortened at the top only."
        first = "A zip is sewn to thin foam first, and the foam is cemented."
        strips = "strips of 2 mm foam, 20 mm wide,"
        return [
            self._along(kind, 1, short, sewn=2),
            self._along(strips, 2, first, "cement the strips inside the edges"),
        ]


def where_it_lies(laid: LaidPiece, line: Array, closing: Closing) -> tuple[str, bool]:
    """Where a line (n, 2) of (around, along) that opens lies, in words, and whether its wearer reaches and works it."""
    off = abs((float(np.mean(line[:, 0])) + 0.5) % 1.0 - 0.5)
    if off > 0.36:
        return "behind, where the eye does not go", closing.alone and not laid.whole
    if off > 0.14:
        return ("at the side, under the arm" if laid.whole else "at the side"), closing.alone
    # In front it is seen, and two hands draw even a lace; on an arm there is one.
    seen = closing.alone or not laid.one_handed
    return "in front, where it shows: a band or flap over it hides it", seen


def opening_marks(laid: LaidPiece, plan: OpeningPlan, panel: PanelInk) -> tuple[InkLine, ...]:
    """On a panel beside the seam: a ring for every hole, and a tick where the opening begins and ends."""
    if not any(stroke_of(x.arc) == plan.row.line for x in panel.outline):
        return ()
    line = _upward(seams_to_open(laid)[plan.row.line])
    arc, flat = _arc(laid, line), laid.plane.flat(line)
    ground = panel_ground(laid, panel)
    holes = (
        [(x, f"{plan.row.kind} {k}", True) for k, x in enumerate(plan.at, 1)] if CLOSINGS[plan.row.kind].beside else []
    )
    ends = [(plan.low, "opening begins", False), (plan.high, "opening ends", False)]
    out: list[InkLine] = []
    for mm, words, pierced in [*holes, *(e for e in ends if not plan.row.whole and 1 < e[0] < plan.length - 1)]:
        here, across = _beside(laid, arc, flat, mm)
        out += beside_marks(laid, ground, here, (across, -across), plan.row.kind, words, pierced)
    return tuple(out)


def panel_ground(laid: LaidPiece, panel: PanelInk) -> shapely.Geometry:
    """Where marks of a panel may lie, on the plane: 1 mm inside its edges."""
    return shapely.make_valid(shapely.Polygon(laid.plane.flat(ring_of(panel)))).buffer(-1.0)


def beside_marks(
    laid: LaidPiece, ground: shapely.Geometry, here: Array, across: Iterable[Array], kind: OpeningKind, words: str,
        pierced: bool
) -> Iterator[InkLine]:  # fmt: skip
    """A ring on either side of an edge, where the foam is pierced for what closes it, or else a dash; only what lies
    on the panel. here: (2,) of the edge on the plane. across: the steps to its sides that are 1 mm of foam."""
    for step in across:
        spot = place_on(laid, ground, here + (CLOSINGS[kind].beside if pierced else 8.0) * step)
        if spot is None:
            continue
        dash = np.array([spot - 6 * step, spot + 6 * step])
        shape = true_rings(laid, spot[None], EYELET)[0] if pierced else dash
        yield InkLine("mark", words, laid.plane.uv(shape))


def _beside(laid: LaidPiece, arc: Array, flat: Array, mm: float) -> tuple[Array, Array]:
    """A place on a seam, (2,) mm on the plane, and the step across it there that is 1 mm of the foam."""

    def at(x: float) -> Array:
        return np.array([np.interp(x, arc, flat[:, k]) for k in (0, 1)])

    stretch = np.array([stretch_at(laid, float(laid.plane.uv(at(mm)[None])[0, 1])), 1.0])
    way = (at(mm + 1) - at(mm - 1)) / stretch
    way = way / max(float(np.linalg.norm(way)), 1e-9)
    return at(mm), np.array([-way[1], way[0]]) * stretch
