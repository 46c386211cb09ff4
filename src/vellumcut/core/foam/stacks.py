"""Sheets laid over each other: which layers a panel has, how deep each lies, and what the two schools of gluing ask."""

from collections.abc import Sequence
from dataclasses import dataclass

from vellumcut.core.design.foam import FoamKind
from vellumcut.core.design.piece import PieceDesign

LETTERS = "abcdef"


@dataclass(frozen=True)
class PlacedLayer:
    """One sheet of a panel. number: from the inner face, 1 first; count: of the panel's layers. low, high: its faces,
    middle: the layer whose lengths it is cut to, mm out from the panel's inner face. through: between which faces its
    edges are cut: its own, or those of the whole stack where layers cut alike are glued flat and cut as one."""

    number: int
    count: int
    thickness: float
    kind: FoamKind
    low: float
    middle: float
    through: tuple[float, float]

    @property
    def high(self) -> float:
        """Its outer face, mm out."""
        return self.low + self.thickness

    @property
    def letter(self) -> str:
        """What it is called on its label; empty where it is the only one."""
        return LETTERS[self.number - 1] if self.count > 1 else ""

    @property
    def words(self) -> str:
        """Where it lies in its stack."""
        if self.count == 1:
            return ""
        place = "inner" if self.number == 1 else "outer" if self.number == self.count else "middle"
        return f"layer {self.letter} of {self.count}, {place}"


def layers_of(design: PieceDesign, panel: int) -> tuple[PlacedLayer, ...]:
    """The sheets of a panel by its number, from the inner face out; 0 is the piece as a whole."""
    own = design.foam_work.panel(panel)
    rows = (own.layers if own else ()) or design.layers
    sheets = [(x.thickness, x.kind) for x in rows] or [(design.foam, design.foam_kind)]
    return placed(sheets, design.layered == "alike")


def placed(sheets: Sequence[tuple[float, FoamKind]], alike: bool) -> tuple[PlacedLayer, ...]:
    """Sheets of so many mm and kind laid on each other, from the inner face out. alike: see ``Layered``."""
    whole, low, out = sum(t for t, _ in sheets), 0.0, []
    for k, (thickness, kind) in enumerate(sheets, 1):
        high = low + thickness
        through = (0.0, whole) if alike else (low, high)
        out.append(PlacedLayer(k, len(sheets), thickness, kind, low, sum(through) / 2, through))
        low = high
    return tuple(out)


def hardest_layer(design: PieceDesign) -> PlacedLayer:
    """The thickest sheet of a piece, by which it is judged what its foam gives."""
    return max(layers_of(design, 0), key=lambda x: x.thickness)


def thickness_of(design: PieceDesign, panel: int) -> float:
    """All layers of a panel, mm."""
    return layers_of(design, panel)[-1].high


def slip(angle: float, layers: tuple[PlacedLayer, ...]) -> float:
    """How much longer the outermost layer is than the innermost over a bend of ``angle`` radians, mm.

    Each keeps its own middle's length, and these lie on arcs of one centre.
    """
    return angle * (layers[-1].middle - layers[0].middle)


def asked_of_faces(layers: tuple[PlacedLayer, ...], alike: bool, radius: float) -> float:
    """What the worst face must give round a bend, per cent: t/(2R) of the thickest layer, or of the whole stack where
    all are cut alike and curved together. radius: to the middle of the stack, mm."""
    whole = layers[-1].high
    inner = max(radius - whole / 2, 0.0)  # tighter than that, the inner face would be folded on itself
    if alike:
        return whole / (2 * inner + whole) * 100
    return max(x.thickness / (2 * (inner + x.middle)) for x in layers) * 100
