"""Where along its lines a part is laid: the neighbourhood there, kept while a hand drags it, and its marks."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from vellumcut.core.design.making import Detail
from vellumcut.core.design.parts import lines_along
from vellumcut.core.errors import CraftError
from vellumcut.core.foam.stacks import thickness_of
from vellumcut.core.ink.lines import InkLine
from vellumcut.core.ink.stage import InkedPiece
from vellumcut.core.parts.lines import runs_of, seams_of
from vellumcut.core.parts.ribbon import Ribbon, dense, reach_of, ribbon_of, ribbon_over

Array = NDArray[np.float64]
Marks = tuple[tuple[int, InkLine], ...]

ROUND = 20
"""Corners of a ring that marks where a round thing sits."""


@dataclass(frozen=True, eq=False)
class Place:
    """The k-th run of a detail's lines on the panel ``at``. to_cut: whether its outlines are those that are cut."""

    piece: InkedPiece
    at: int
    detail: Detail
    k: int
    to_cut: bool

    @property
    def number(self) -> int:
        """Of the panel."""
        return self.piece.panels[self.at].number

    def ribbon(self, thick: float, most: float) -> Ribbon:
        """The neighbourhood there. thick: of what is laid, most: how far it goes from its line, mm."""
        lines = lines_along(self.detail.shape)
        return _ribbon(self.piece, self.at, lines, self.k, thick, reach_of(most), self.to_cut)

    def marks(
        self, kind: Literal["mark", "trim edge"], ribbon: Ribbon, rings: Sequence[Array], called: str = ""
    ) -> Marks:
        """Rings (n, 2) mm of the neighbourhood, closed or not, as they show on the panel; many small ones by number."""
        if not len(rings):
            return ()
        lines = [ring if np.allclose(ring[0], ring[-1]) else closed(ring) for ring in rings]
        parts = np.split(ribbon.uv(np.vstack(lines)), np.cumsum([len(x) for x in lines])[:-1])
        name = self.detail.name
        return tuple(
            (self.number, InkLine(kind, f"{name} {n}" if kind == "mark" else name + called, uv))
            for n, uv in enumerate(parts, 1)
        )


@lru_cache(maxsize=32)
def _ribbon(
    piece: InkedPiece, at: int, lines: tuple[str, ...], k: int, thick: float, reach: float, to_cut: bool
) -> Ribbon:
    """The neighbourhood of the k-th run of lines on a panel. thick: of what lies on it, reach: how far from the line,
    mm. Kept, since a hand that drags a width asks for the same one again and again."""
    if not to_cut:
        return replace(_ribbon(piece, at, lines, k, thick, reach, True), to_cut=False)
    panel = piece.panels[at]
    run = runs_of(panel, lines)[k]
    surface = piece.surface.at_depth(thickness_of(piece.design, panel.number) + thick / 2)
    try:
        return ribbon_of(surface, panel, run, reach)
    except CraftError:
        # Cut off beside its line a narrow panel may be thinner than it is itself.
        return ribbon_of(surface, panel, run, 10 * reach)


@lru_cache(maxsize=16)
def seam_ribbon(
    piece: InkedPiece, lines: tuple[str, ...], k: int, thick: float, reach: float, to_cut: bool
) -> tuple[int, Ribbon]:
    """The neighbourhood of the k-th seam of these names, over both its sides; and the panel it was read from."""
    if not to_cut:
        at, ribbon = seam_ribbon(piece, lines, k, thick, reach, True)
        return at, replace(ribbon, to_cut=False)
    at, run = seams_of(piece, lines)[k]
    surface = piece.surface.at_depth(thickness_of(piece.design, piece.panels[at].number) + thick / 2)
    panels = list(zip(piece.panels, piece.twins, strict=True))
    return at, ribbon_over(surface, panels, run, reach)


def rings_at(spots: Sequence[Array], radius: float) -> Sequence[Array]:
    """Round marks at places of the neighbourhood, closed lines of (ROUND + 1, 2) mm each."""
    turn = np.linspace(0.0, 2 * np.pi, ROUND + 1)
    ring = radius * np.stack([np.cos(turn), np.sin(turn)], axis=1)
    return list(np.array(spots)[:, None] + ring) if len(spots) else []


def closed(ring: Array) -> Array:
    """A ring (k, 2) mm, first not repeated, as a line that ends where it began, a point a step."""
    return dense(np.vstack([ring, ring[:1]]))
