"""Cuts proved before they are offered: made on the whole piece as it will be made, on the mesh that is cut from."""

from dataclasses import dataclass, field

import numpy as np
import shapely
from numpy.typing import NDArray

from vellumcut.core.body.tube import TubeSurface
from vellumcut.core.design.piece import PieceDesign
from vellumcut.core.design.sheet import Stroke
from vellumcut.core.errors import CraftError
from vellumcut.core.flatten.flaws import find_flaws
from vellumcut.core.flatten.mesh import CUT_SIZE, EDIT_SIZE
from vellumcut.core.flatten.panel import FlatPanel
from vellumcut.core.flatten.solving import SolvedPanel
from vellumcut.core.ink.lines import PanelInk
from vellumcut.core.ink.stage import InkedPiece, ink_piece
from vellumcut.core.pattern.pattern import flatten_piece

Array = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Proof:
    """What becomes of one panel's foam. panels: those that lie where it lay. p95: of the one that asks most, per cent.
    flawed: one of them cannot be cut or closed."""

    panels: tuple[FlatPanel, ...]
    p95: float
    inked: InkedPiece
    flawed: bool = False

    @property
    def worst(self) -> FlatPanel:
        """The panel that asks most of the foam."""
        return max(self.panels, key=lambda p: p.summary.p95)


@dataclass(eq=False)
class Prover:
    """One side of a piece, and the panel of it that cuts are tried on. Panels that no cut changes are solved once."""

    tube: TubeSurface
    design: PieceDesign
    panel: PanelInk
    _fine: dict[bytes, SolvedPanel] = field(default_factory=dict)
    _shown: dict[bytes, SolvedPanel] = field(default_factory=dict)

    def before(self) -> Proof:
        """The panel as it is now, flawed or not. Raises CraftError when it cannot be laid flat at all."""
        inked = ink_piece(self.tube, self.design)
        return self._mine(inked, flatten_piece(inked, CUT_SIZE, self._fine))

    def cut(self, strokes: tuple[Stroke, ...]) -> Proof | None:
        """The piece with more strokes on it, as it is cut; None where it cannot be cut or closed so."""
        return self._made(strokes, CUT_SIZE, self._fine)

    def shown(self, strokes: tuple[Stroke, ...]) -> Proof | None:
        """The same on the mesh of the table, to draw it and to choose by."""
        return self._made(strokes, EDIT_SIZE, self._shown)

    def _made(self, strokes: tuple[Stroke, ...], size: float | None, known: dict[bytes, SolvedPanel]) -> Proof | None:
        try:
            inked = ink_piece(self.tube, self.design.model_copy(update={"cuts": (*self.design.cuts, *strokes)}))
            flats = flatten_piece(inked, size, known)
        except CraftError:
            return None
        proof = self._mine(inked, flats)
        cut = {s.key for s in strokes if s.kind == "dart"}
        here = {d.key.removesuffix("'") for f in proof.panels for d in f.darts}
        return proof if proof.panels and not cut - here and not proof.flawed else None

    def _mine(self, inked: InkedPiece, flats: list[FlatPanel]) -> Proof:
        mine = tuple(f for f, ink in zip(flats, inked.panels, strict=True) if _lies_in(ink, self.panel))
        flawed = any(find_flaws(f, self.design.true_seams) for f in mine)
        return Proof(mine, max((f.summary.p95 for f in mine), default=0.0), inked, flawed)


def _lies_in(part: PanelInk, panel: PanelInk) -> bool:
    """Whether a panel's ink lies on what another's encloses, whole turns apart or not."""
    inside = _polygon(part).representative_point()
    ground = _polygon(panel)
    return any(ground.contains(shapely.Point(inside.x + turn, inside.y)) for turn in (-1, 0, 1))


def _polygon(ink: PanelInk) -> shapely.Polygon:
    """In (around, along)."""
    return shapely.Polygon(np.vstack([line.uv[:-1] for line in ink.outline])).buffer(0)
