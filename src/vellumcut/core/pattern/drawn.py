"""A flat panel as it is drawn and cut: with its label, its sheet and what is known of it."""

from dataclasses import dataclass, field

from vellumcut.core.body.segments import Side
from vellumcut.core.design.piece import PieceDesign
from vellumcut.core.flatten.flaws import Flaw
from vellumcut.core.flatten.panel import FlatPanel
from vellumcut.core.foam.edges import EdgeCut
from vellumcut.core.foam.stacks import PlacedLayer
from vellumcut.core.foam.verdict import Verdict
from vellumcut.core.pattern.labels import Beside, Label


@dataclass(frozen=True)
class DrawnPanel:
    """A flat panel as it will be drawn and cut. twin: half of its copies are the same panel turned over.

    flaws: why it cannot be cut or closed. place: how far it is moved to lie on the table with the others, mm.
    layer: which sheet of the panel's stack it is. edges: how each edge is cut, by name, and beside: words about edges
    and lines; both empty until the panel is made ready to leave (``as_cut``). by_measure: its size in words, where it
    is cut by ruler and needs no full-size pages; empty where it is traced.
    """

    side: Side
    twin: bool
    copies: int
    label: Label
    flat: FlatPanel
    verdict: Verdict
    layer: PlacedLayer
    flaws: tuple[Flaw, ...] = ()
    place: tuple[float, float] = (0.0, 0.0)
    by_measure: str = ""
    edges: dict[str, EdgeCut] = field(default_factory=dict)
    beside: tuple[Beside, ...] = ()

    @property
    def turned_copies(self) -> int:
        """How many of its copies are cut with the pattern turned over; what is cut by ruler has no hand."""
        return self.copies // 2 if self.twin and not self.by_measure else 0


def is_turned(side: Side, design: PieceDesign) -> bool:
    """The tube is modelled as a left limb: a right limb mirrors it, and so does drawing the inner face."""
    return (side == "right") != (design.drawn_face == "inner")
