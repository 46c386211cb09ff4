"""Everything laid along the lines of one drawn side of a piece: strips to cut, places of rows, and the lines that are
drawn for them on the panel beneath."""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from vellumcut.core.design.making import Detail
from vellumcut.core.design.parts import Border, Row
from vellumcut.core.errors import CraftError
from vellumcut.core.foam.stacks import thickness_of
from vellumcut.core.ink.lines import InkLine
from vellumcut.core.ink.stage import InkedPiece
from vellumcut.core.parts.border import Strip, strips_of
from vellumcut.core.parts.lines import runs_of
from vellumcut.core.parts.ribbon import Ribbon, reach_of, ribbon_of
from vellumcut.core.parts.row import Places, places_of

Array = NDArray[np.float64]

SMALL = 8.0
"""Across, mm, of round things whose size nobody said."""
ROUND = 20
"""Corners of a ring that marks where a round thing sits."""


@dataclass(frozen=True, eq=False)
class LaidPart:
    """One detail along one run of a panel. strips: to cut, of a border. places: of a row. marks: where it comes to lie,
    (around, along), for the panel's outermost sheet. problem: why it cannot lie there; empty where it can."""

    detail: Detail
    panel: int
    strips: tuple[Strip, ...] = ()
    places: tuple[Places, ...] = ()
    marks: tuple[InkLine, ...] = ()
    problem: str = ""

    @property
    def length(self) -> float:
        """Of its strips along their middle, or of the lines a row sits on, mm."""
        return sum(s.length for s in self.strips) + sum(p.length for p in self.places)

    @property
    def count(self) -> int:
        """How many sit in a row."""
        return sum(len(p.at) for p in self.places)


@lru_cache(maxsize=48)
def laid_parts(piece: InkedPiece) -> tuple[LaidPart, ...]:
    """What is laid on the panels of a piece; once for its pattern, its steps and its weight."""
    return tuple(part for d in piece.design.making.details for part in lay_part(piece, d))


def lay_part(piece: InkedPiece, detail: Detail) -> tuple[LaidPart, ...]:
    """One detail laid on a piece, whether or not the piece has it yet, panel by panel; nothing where it has no
    shape."""
    if detail.shape is None:
        return ()
    rows = (
        _on_run(piece, at, detail, k)
        for at, panel in enumerate(piece.panels)
        if not detail.panels or panel.number in detail.panels
        for k in range(len(runs_of(panel, detail.shape.lines)))
    )
    return tuple(rows)


def part_marks(piece: InkedPiece, panel: int) -> tuple[InkLine, ...]:
    """Lines that show on a panel where its parts come to lie."""
    if not any(d.shape for d in piece.design.making.details):
        return ()
    return tuple(m for p in laid_parts(piece) if p.panel == panel for m in p.marks)


def _on_run(piece: InkedPiece, at: int, detail: Detail, k: int) -> LaidPart:
    number = piece.panels[at].number
    try:
        if isinstance(detail.shape, Border):
            return _border(piece, at, detail, detail.shape, k)
        if isinstance(detail.shape, Row):
            return _row(piece, at, detail, detail.shape, k)
    except CraftError as error:
        return LaidPart(detail, number, problem=error.message)
    return LaidPart(detail, number)


@lru_cache(maxsize=96)
def _ribbon(piece: InkedPiece, at: int, lines: tuple[str, ...], k: int, thick: float, reach: float) -> Ribbon:
    """The neighbourhood of the k-th run of lines on a panel. thick: of what lies on it, reach: how far from the line,
    mm. Kept, since a hand that drags a width asks for the same one again and again."""
    panel = piece.panels[at]
    run = runs_of(panel, lines)[k]
    surface = piece.surface.at_depth(thickness_of(piece.design, panel.number) + thick / 2)
    try:
        return ribbon_of(surface, panel, run, reach)
    except CraftError:
        # Cut off beside its line a narrow panel may be thinner than it is itself.
        return ribbon_of(surface, panel, run, 10 * reach)


def _border(piece: InkedPiece, at: int, detail: Detail, border: Border, k: int) -> LaidPart:
    ribbon = _ribbon(piece, at, border.lines, k, border.foam, reach_of(border.inset + border.width))
    strips = tuple(strips_of(ribbon, border))
    marks = tuple(InkLine("trim edge", detail.name, ribbon.uv(_closed(ring))) for s in strips for ring in s.footprint)
    problem = "" if strips else f"{detail.name}: there is no room for it beside the {ribbon.run.name}"
    return LaidPart(detail, piece.panels[at].number, strips, marks=marks, problem=problem)


def _row(piece: InkedPiece, at: int, detail: Detail, row: Row, k: int) -> LaidPart:
    ribbon = _ribbon(piece, at, row.lines, k, 0.0, reach_of(row.inset + (detail.size or SMALL) / 2))
    places = tuple(places_of(ribbon, row))
    turn = np.linspace(0.0, 2 * np.pi, ROUND + 1)
    ring = (detail.size or SMALL) / 2 * np.stack([np.cos(turn), np.sin(turn)], axis=1)
    spots = [at for p in places for at in p.at]
    around = ribbon.uv((np.array(spots)[:, None] + ring).reshape(-1, 2)) if spots else np.zeros((0, 2))
    rings = around.reshape(-1, ROUND + 1, 2)
    marks = tuple(InkLine("mark", f"{detail.name} {k}", uv) for k, uv in enumerate(rings, 1))
    return LaidPart(detail, piece.panels[at].number, places=places, marks=marks)


def _closed(ring: Array) -> Array:
    return np.vstack([ring, ring[:1]])
