"""Every copy of everything that is cut for a costume, as parts to lay on sheets (shop rule book, sections 1 and 2)."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from vellumcut.core.design.foam import FoamKind
from vellumcut.core.foam.shelf import ShelfSheet, facts_of_sheet
from vellumcut.core.nest.shapes import FREE_TURNS, Form, NestPart, Placed, sound
from vellumcut.core.pattern.drawn import DrawnPanel
from vellumcut.core.pattern.pattern import PiecePattern
from vellumcut.core.pattern.weave import WAY

Array = NDArray[np.float64]

SQUARE_TURNS = (0.0, 90.0, 180.0, 270.0)
"""Degrees in which a part may lie on a textured sheet whose pattern nobody carried over the seams: it stays straight
to the sheet."""
OTHER = {"left": "right", "right": "left"}


@dataclass(frozen=True)
class CopyOfPart:
    """One copy of one outline. key: piece, code, and which copy: a for as drawn, t for turned over. turned: it is the
    pattern turned over. panel: as it lies before it is turned on its sheet."""

    key: str
    piece: str
    code: str
    side: str
    kind: FoamKind
    thickness: float
    turned: bool
    panel: DrawnPanel
    form: Form

    @property
    def part(self) -> NestPart:
        return NestPart(self.key, self.form)


def copies_of(pattern: PiecePattern, piece: str, shelf: Sequence[ShelfSheet] = ()) -> Iterator[CopyOfPart]:
    """All that is cut for a piece, from a pattern that is ready to leave. piece: a word that no other piece has.

    A sheet with one good face is drawn on from behind: there a panel whose outer face is drawn lies turned over, and
    the sheet itself never is.
    """
    seen: dict[str, int] = {}
    for panel in pattern.to_cut:
        name = panel.label.code
        seen[name] = seen.get(name, 0) + 1
        code = name if seen[name] == 1 else f"{name}.{seen[name]}"
        behind = one_faced(panel, shelf) and panel.flat.face == "outer"
        lying = {over: _lying(panel, over, behind, shelf) for over in {False, panel.turned_copies > 0}}
        for n in range(panel.copies):
            over = n >= panel.copies - panel.turned_copies
            made = lying[over]
            if made is None:
                continue
            drawn, form = made
            at = n + 1 - (panel.copies - panel.turned_copies if over else 0)
            kind, thick = panel.layer.kind, panel.layer.thickness
            key = f"{piece}/{code}/{'t' if over else 'a'}{at}"
            yield CopyOfPart(
                key, pattern.name, drawn.label.code, drawn.label.side, kind, thick, over != behind, drawn, form
            )


def one_faced(panel: DrawnPanel, shelf: Sequence[ShelfSheet]) -> bool:
    """Whether its sheet has one good face."""
    return facts_of_sheet(panel.layer.kind, panel.layer.thickness, shelf).textured


def _lying(panel: DrawnPanel, over: bool, behind: bool, shelf: Sequence[ShelfSheet]) -> tuple[DrawnPanel, Form] | None:
    flat = panel.flat.mirrored() if over != behind else panel.flat
    shape = sound(flat.shape)
    if shape is None:
        return None
    label = panel.label
    if over and label.side in OTHER and label.code.endswith(f" {label.side[0].upper()}"):
        side = OTHER[label.side]
        label = replace(label, side=side, code=f"{label.code[:-1]}{side[0].upper()}")
    label = replace(
        label,
        count="pattern turned over" if over else "pattern as drawn",
        face="traced on the back of the sheet" if behind else label.face,
    )
    turns: tuple[float, ...] = FREE_TURNS
    if one_faced(panel, shelf):
        way = next((x.points for x in flat.lines if x.words == WAY), None)
        turns = SQUARE_TURNS if way is None else (_along(way),)
    return replace(panel, flat=flat, label=label, beside=() if over != behind else panel.beside), Form(shape, turns)


def _along(way: Array) -> float:
    """Degrees that lay a line along its sheet."""
    step = way[-1] - way[0]
    return float(-np.degrees(np.arctan2(step[1], step[0])) % 360)


def laid_on_sheet(copy: CopyOfPart, placed: Placed) -> DrawnPanel:
    """A copy with all that is drawn on it, where it lies on its sheet, mm from the sheet's own corner."""
    turn = np.radians(placed.turn)
    turning = np.array([[np.cos(turn), np.sin(turn)], [-np.sin(turn), np.cos(turn)]])
    by = np.array([placed.x, placed.y])

    def way(points: Array) -> Array:
        return np.asarray(points @ turning + by)

    beside = tuple(
        replace(b, at=_pair(way(np.array(b.at))), turn=(b.turn + placed.turn + 90.0) % 180.0 - 90.0)
        for b in copy.panel.beside
    )
    return replace(copy.panel, flat=copy.panel.flat.carried_by(way), beside=beside, place=(0.0, 0.0))


def _pair(at: Array) -> tuple[float, float]:
    return float(at[0]), float(at[1])
