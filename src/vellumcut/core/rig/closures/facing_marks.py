"""Holes and ends of what closes free edges on each other, as they lie on the pattern of both."""

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from vellumcut.core.body.segments import Side
from vellumcut.core.design.rig import EdgeClosing, OpeningKind, OpeningRow
from vellumcut.core.errors import CraftError
from vellumcut.core.ink.lines import InkLine
from vellumcut.core.rig.closures.eyelets import step_across
from vellumcut.core.rig.closures.facing import Facing, PlacedEdge, facings_in, mate_of
from vellumcut.core.rig.closures.openings import CLOSINGS, beside_marks, panel_ground, places_along
from vellumcut.core.rig.costume import Costume, Worn
from vellumcut.core.rig.laid import LaidPiece

Array = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Place:
    """Something on an edge of a piece, at a point (2,) of its plane; way: on along the edge. holes: something is set
    there; else it only begins or ends."""

    kind: OpeningKind
    words: str
    at: Array
    way: Array
    holes: bool


def facing_marks(costume: Costume, piece: Worn, side: Side) -> list[tuple[InkLine, ...]]:
    """For every panel of a piece: rings where its edges are pierced for what closes them, on the piece itself or on
    another, and a tick where that begins and ends."""
    laid = piece.on(side)
    places = list(places_of(costume, piece, side))
    return [
        tuple(
            mark
            for p in places
            for mark in beside_marks(laid, ground, p.at, _steps_across(laid, p), p.kind, p.words, p.holes)
        )
        for ground in (panel_ground(laid, panel) for panel in laid.inked.panels)
    ]


def _steps_across(laid: LaidPiece, place: Place) -> Iterator[Array]:
    """The steps to either side of an edge that are 1 mm of foam half way to what is set there: at the edge itself they
    may be a tenth longer or shorter, where the foam stands far off the body."""
    at_edge, half = step_across(laid, place.at, place.way), CLOSINGS[place.kind].beside / 2
    for sign in (1.0, -1.0):
        yield sign * step_across(laid, place.at + sign * half * at_edge, place.way)


def places_of(costume: Costume, piece: Worn, side: Side) -> Iterator[Place]:
    """On the edges of a piece by its own rows, and by those of other pieces that close on it. What cannot close has
    none: its plan says why."""
    rows = [(p, s, row) for p in costume.pieces for s in _sides_of(p, piece, side) for row in p.design.rig.closings]
    for owner, worn_on, row in rows:
        try:
            mate = mate_of(costume, owner, worn_on, row)
            found = [f for f in facings_in(costume, owner, worn_on, row) if not f.problem(row)]
        except CraftError:
            continue
        both = mate is owner and row.other == row.edge  # then each of the pair is found by itself
        for facing in found:
            if owner is piece and not facing.edge.turned:
                yield from _on_its_edge(row, facing)
            if mate is piece and not both:
                yield from _on_the_other(row, facing)


def _sides_of(owner: Worn, piece: Worn, side: Side) -> tuple[Side, ...]:
    """On which sides of the body what an owner closes pierces this drawing of a piece: of two alike, one tells."""
    if owner.on(side).whole:
        return (side,)
    there = tuple(s for s in owner.sides if piece.on(s) is piece.on(side))
    return there if piece.on(side).whole else there[:1]


def _set_along(row: EdgeClosing, facing: Facing) -> Iterator[tuple[str, float, bool]]:
    """Words, mm along the edge and whether it is pierced there."""
    opening = OpeningRow(line="edge", kind=row.kind, low=row.low, high=row.high)
    low, high, at = places_along(opening, facing.length)
    begins = float(facing.edge.arc[facing.first])
    if CLOSINGS[row.kind].beside:
        yield from ((f"{row.kind} {k}", begins + x, True) for k, x in enumerate(at, 1))
    if low > 1:
        yield f"{row.kind} begins", begins + low, False
    if high < facing.length - 1:
        yield f"{row.kind} ends", begins + high, False


def _on_its_edge(row: EdgeClosing, facing: Facing) -> Iterator[Place]:
    edge = facing.edge
    for words, mm, holes in _set_along(row, facing):
        before, here, ahead = (_at(edge.flat, edge.arc, x) for x in (mm - 1.0, mm, mm + 1.0))
        yield Place(row.kind, words, here, ahead - before, holes)


def _on_the_other(row: EdgeClosing, facing: Facing) -> Iterator[Place]:
    """Across from each place of the first edge."""
    for words, mm, holes in _set_along(row, facing):
        here = _at(facing.edge.line, facing.edge.arc, mm)
        edge, k = _nearest_to(here, facing.others)
        if edge.turned:
            continue
        ahead = min(k + 1, len(edge.flat) - 1)
        yield Place(row.kind, words, edge.flat[k], edge.flat[ahead] - edge.flat[ahead - 1], holes)


def _nearest_to(here: Array, edges: tuple[PlacedEdge, ...]) -> tuple[PlacedEdge, int]:
    away = [np.linalg.norm(e.line - here, axis=1) for e in edges]
    best = min(range(len(edges)), key=lambda n: float(away[n].min()))
    return edges[best], int(away[best].argmin())


def _at(points: Array, arc: Array, mm: float) -> Array:
    return np.array([np.interp(mm, arc, points[:, c]) for c in range(points.shape[1])])
