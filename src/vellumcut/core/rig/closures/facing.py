"""Free edges that close on each other: of one piece, or of two that are worn side by side."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
import shapely
from numpy.typing import NDArray
from scipy.spatial import KDTree

from vellumcut.core.body.segments import Side
from vellumcut.core.cast.armour import MIDDLE
from vellumcut.core.design.rig import EdgeClosing, OpeningKind, OpeningRow
from vellumcut.core.errors import CraftError
from vellumcut.core.ink.lines import MIRRORED
from vellumcut.core.rig.closures.openings import CLOSINGS, SHORTEST, Closed, places_along, where_it_lies
from vellumcut.core.rig.costume import Costume, Worn
from vellumcut.core.rig.laid import LaidPiece
from vellumcut.core.rig.part import StrapPart

Array = NDArray[np.float64]
Index = NDArray[np.int_]

SPANS: dict[OpeningKind, float] = {
    "lacing": 160.0, "hook-and-loop": 25.0, "buckles": 200.0, "zip": 20.0, "snaps": 25.0, "magnets": 15.0,
    "ratchet": 200.0,
}  # fmt: skip
"""How far apart edges may be that each closes, mm (est.): what sits on an underlap reaches over half of it."""
STEP = 2.0
"""Edges are looked at with a point every so many mm."""
SLANTS = 4.0
"""Edges face each other as long as they are not farther apart than so many times their nearest, mm (est.)."""
PAST = 5.0
"""So far past the end of the other edge there is nothing any more to close on, mm (est.: the rim that is left beside a
hole)."""
FACED = 0.6
"""Of two edges that face each other, the other is at least so much as long there (est.): a rim that turns back round
an end would have its holes on each other."""


@dataclass(frozen=True)
class FacingPlan:
    """length: of the stretch in which the edges face each other, mm along this piece's; low, high: of it that closes,
    from its lower end. gap: between the edges there, at most, mm. alike: on how many sides of a piece of both halves.
    at: mm along it where something is set. mate: number of the other piece, 0 if both edges are of one. hides: where it
    lies, in words; alone: whether its wearer works it there. problem: why it cannot be; then it has no parts."""

    row: EdgeClosing
    length: float = 0.0
    low: float = 0.0
    high: float = 0.0
    gap: float = 0.0
    alike: int = 1
    at: tuple[float, ...] = ()
    parts: tuple[StrapPart, ...] = ()
    advice: tuple[str, ...] = ()
    mate: int = 0
    hides: str = ""
    alone: bool = True
    problem: str = ""

    @property
    def words(self) -> str:
        """Which edges close, and by what."""
        return f"{self.row.kind} from the {self.row.edge} to {other_words(self.row)}"

    def words_on_the_other(self, name: str) -> str:
        """As ``words``, told on the other piece. name: of this one."""
        return f"{self.row.kind} from the {self.row.other} to the {self.row.edge} of {name}"


def other_words(row: EdgeClosing) -> str:
    """The other edge, with its piece where that is another."""
    if row.piece:
        return f"the {row.other} of {row.piece}"
    return "its like on the other side" if row.other == row.edge else f"the {row.other}"


def edges_of(laid: LaidPiece) -> dict[str, list[tuple[Array, bool]]]:
    """Free edges by name, those of both halves under one: each (n, 2) of (around, along), and whether its panel is cut
    turned over as well."""
    out: dict[str, list[tuple[Array, bool]]] = {}
    for panel, twin in zip(laid.inked.panels, laid.inked.twins, strict=True):
        for line in panel.outline:
            if line.kind == "outline":
                out.setdefault(line.name.removesuffix(MIRRORED), []).append((line.uv, twin))
    return out


def facings_of(costume: Costume, piece: Worn, side: Side) -> list[FacingPlan]:
    """Every pair of edges that a maker closes on each other, on one side of a piece."""
    return [_plan(costume, piece, side, row) for row in piece.design.rig.closings]


def _plan(costume: Costume, piece: Worn, side: Side, row: EdgeClosing) -> FacingPlan:
    try:
        return _made(costume, piece, side, row)
    except CraftError as error:
        return FacingPlan(row, problem=error.message)


@dataclass(frozen=True, eq=False)
class Facing:
    """An edge where it faces the other. edge: of the piece. others: what it may close on. first, last: points of the
    edge between which it does. nearest, gap: how near and how far apart they are there, mm. across: length of what it
    faces, mm."""

    edge: "PlacedEdge"
    others: tuple["PlacedEdge", ...]
    first: int
    last: int
    nearest: float
    gap: float
    across: float

    def problem(self, row: EdgeClosing) -> str:
        """Why it cannot close, or nothing."""
        both, limit = f"The {row.edge} and {other_words(row)}", SPANS[row.kind]
        faced = min(self.length, self.across)
        if faced <= STEP:
            return f"{both} do not face each other"
        if self.gap > limit:
            return (
                f"{both} are {self.nearest:.0f} to {self.gap:.0f} mm apart where they face each other; {row.kind} "
                f"closes up to {limit:.0f} mm"
            )
        if faced < SHORTEST or faced < FACED * self.length:
            return f"{both} face each other along {faced:.0f} mm only"
        return ""

    @property
    def length(self) -> float:
        """Of the stretch, mm."""
        return float(self.edge.arc[self.last] - self.edge.arc[self.first])


@dataclass(frozen=True, eq=False)
class PlacedEdge:
    """An edge upward, with a point every STEP. flat: (n, 2) of them on the plane of its piece; line: (n, 3) on the
    figure, mm. turned: it is that of a panel that is cut turned over."""

    flat: Array
    line: Array
    turned: bool

    @cached_property
    def arc(self) -> Array:
        """mm from its lower end to each point."""
        return np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(self.line, axis=0), axis=1))])


def facings_in(costume: Costume, piece: Worn, side: Side, row: EdgeClosing) -> list[Facing]:
    """Every edge of a row's name that has something to close on. Raises CraftError where there is no such edge."""
    mate = mate_of(costume, piece, side, row)
    own, its = edges_of(piece.on(side)).get(row.edge, []), edges_of(mate.on(side)).get(row.other, [])
    if not own or not its:
        lost = row.edge if not own else f"{row.other} of {mate.name}"
        raise CraftError(f"There is no free edge “{lost}”", "closings")
    mine = _placed(costume, piece, side, own)
    same = mate is piece and row.other == row.edge
    theirs = mine if same else _placed(costume, mate, side, its)
    out = []
    for one in mine:
        others = tuple(x for x in theirs if x is not one)
        if others:
            away, which, at = _nearest(one.line, [x.line for x in others])
            first, last = _facing(away, _past(one.line, others, which, at))
            there = slice(first, last + 1)
            across = _length_of(others, which[there], at[there])
            out.append(Facing(one, others, first, last, float(away[there].min()), float(away[there].max()), across))
    if not out:
        raise CraftError(f"The {row.edge} has nothing to close on", "closings")
    return out


def _made(costume: Costume, piece: Worn, side: Side, row: EdgeClosing) -> FacingPlan:
    """Raises CraftError where the edges cannot close."""
    found = facings_in(costume, piece, side, row)
    best = max(found, key=lambda f: f.last - f.first)
    if problem := best.problem(row):
        raise CraftError(problem, "closings")
    mate = mate_of(costume, piece, side, row)
    same = mate is piece and row.other == row.edge
    laid = piece.on(side)
    uv = laid.plane.uv(best.edge.flat)
    hides, alone = where_it_lies(laid, _between(uv) if same else uv, CLOSINGS[row.kind])
    made = _closed(row, best.length, best.gap, max(1, len(found) // 2 if same else len(found)))
    return replace(made, mate=0 if mate is piece else mate.key, hides=hides, alone=alone)


def mate_of(costume: Costume, piece: Worn, side: Side, row: EdgeClosing) -> Worn:
    """The piece that has the other edge. Raises CraftError where none is worn beside this one."""
    mate = next((p for p in costume.pieces if p.name == row.piece), None) if row.piece else piece
    if mate is None:
        raise CraftError(f"{row.piece} is not in the costume any more", "closings")
    if not (mate.on(side).whole or side in mate.sides):
        raise CraftError(f"{mate.name} is not worn on the {side}", "closings")
    if any(costume.seat(p.part, side) is None for p in (piece, mate)):
        raise CraftError(f"{piece.name} and {mate.name} have no place on the figure: measure the wearer", "closings")
    return mate


def _placed(costume: Costume, piece: Worn, side: Side, edges: Sequence[tuple[Array, bool]]) -> list[PlacedEdge]:
    """Edges on the figure; after that of a panel that is cut turned over as well, its mirror image."""
    laid, seat = piece.on(side), costume.seat(piece.part, side)
    out = []
    for uv, turned in _both_ways(edges):
        flat = shapely.get_coordinates(shapely.segmentize(shapely.LineString(laid.plane.flat(uv)), STEP))
        line = seat.place(laid.inked.surface.points(laid.plane.uv(flat), MIDDLE))  # type: ignore[union-attr]
        up = slice(None) if line[0, 2] <= line[-1, 2] else slice(None, None, -1)
        out.append(PlacedEdge(flat[up], line[up], turned))
    return out


def _both_ways(edges: Sequence[tuple[Array, bool]]) -> Iterator[tuple[Array, bool]]:
    for uv, twin in edges:
        yield uv, False
        if twin:
            yield uv * [-1.0, 1.0], True


def _between(uv: Array) -> Array:
    """The line midway between an edge and its like on the other side: in front, or behind."""
    return np.column_stack([np.full(len(uv), 0.5 if abs(float(uv[:, 0].mean())) > 0.25 else 0.0), uv[:, 1]])


def _nearest(line: Array, others: Sequence[Array]) -> tuple[Array, Index, Index]:
    """From each point of an edge to the nearest of others, mm; which of them has it, and which of its points it is."""
    away, at = np.transpose([KDTree(other).query(line) for other in others], (1, 0, 2))
    best = away.argmin(axis=0)
    each = best, np.arange(len(line))
    return away[each], best, at[each].astype(int)


def _past(line: Array, others: Sequence[PlacedEdge], which: Index, at: Index) -> NDArray[np.bool_]:
    """Of each point, whether it lies past the end of the edge that it is nearest to."""
    out = np.zeros(len(line), bool)
    for k, other in enumerate(others):
        for end, before in ((0, 1), (len(other.line) - 1, len(other.line) - 2)):
            on = other.line[end] - other.line[before]
            out |= (which == k) & (at == end) & ((line - other.line[end]) @ on > PAST * np.linalg.norm(on))
    return out


def _length_of(edges: Sequence[PlacedEdge], which: Index, at: Index) -> float:
    """From the first to the last of some points of edges, mm of all together."""
    arcs = [x.arc[at[which == k]] for k, x in enumerate(edges)]
    return sum(float(np.ptp(arc)) for arc in arcs if len(arc))


def _facing(away: Array, past: NDArray[np.bool_]) -> tuple[int, int]:
    """First and last point of the longest stretch that faces the other edge."""
    nearest = float(away[~past].min(initial=np.inf))
    near = ~past & (away <= max(SLANTS * nearest, nearest + 20.0))
    starts = np.flatnonzero(near & ~np.concatenate([[False], near[:-1]]))
    ends = np.flatnonzero(near & ~np.concatenate([near[1:], [False]]))
    if not len(starts):
        return int(away.argmin()), int(away.argmin())
    longest = int((ends - starts).argmax())
    return int(starts[longest]), int(ends[longest])


def _closed(row: EdgeClosing, length: float, gap: float, alike: int) -> FacingPlan:
    opening = OpeningRow(line="edge", kind=row.kind, low=row.low, high=row.high)
    low, high, at = places_along(opening, length)
    closing = CLOSINGS[row.kind]
    where = f"between the {row.edge} and {other_words(row)}"
    if not row.piece and row.other == row.edge:
        where = f"between left and right {row.edge}"
    made = Closed(opening, closing, high - low, at, where, alike, gap)
    advice = (f"{closing.how[0].upper()}{closing.how[1:]}.", *_reach(row, gap))
    return FacingPlan(row, length, low, high, gap, alike, at, (*made.by_kind(), *made.underlap()), advice)


def _reach(row: EdgeClosing, gap: float) -> Iterator[str]:
    """Said where the edges do not meet."""
    if gap > 2.0:
        yield f"Standing, the edges are up to {gap:.0f} mm apart: it draws them together, or bridges them."
    if row.piece:
        yield f"What it takes is cut and set with this piece; its other half goes on {row.piece}."
