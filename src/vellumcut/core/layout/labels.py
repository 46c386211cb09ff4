"""The label every part carries, so that no part is ever without a name, a side or a count."""

from dataclasses import dataclass

from vellumcut.core.body.segments import Side
from vellumcut.core.foam.stacks import PlacedLayer
from vellumcut.core.ink.design import PieceDesign
from vellumcut.core.ink.library.table import TEMPLATES
from vellumcut.core.units import format_length


@dataclass(frozen=True)
class Label:
    """What is written on a panel. code: short mark such as "BC 1 L". count: how many to cut, in words."""

    build: str
    piece: str
    code: str
    side: str
    foam: str
    count: str
    face: str

    @property
    def lines(self) -> tuple[str, ...]:
        """The lines of text, from the top."""
        return (self.piece, self.count, self.foam, self.face, self.build)


def label_panel(
    build: str, piece: str, design: PieceDesign, side: Side, number: int, layer: PlacedLayer, twin: bool,
    mirrored: bool = False,
) -> Label:  # fmt: skip
    """side: of the drawn panel. layer: which of its sheets. twin: the other limb's is this pattern turned over. mirrored: so is a second panel
    on the same body."""
    template = TEMPLATES[design.template]
    single = template.part in ("torso", "neck")
    other = "right" if side == "left" else "left"
    if twin and mirrored:
        count = "cut 2 as drawn + 2, pattern turned over"
    elif twin:
        count = f"cut 1 {side} + 1 {other}, pattern turned over"
    elif mirrored:
        count = "cut 1 + 1, pattern turned over"
    else:
        count = "cut 1" if single else f"cut 1, {side}"
    return Label(
        build=build,
        piece=piece,
        code=f"{template.code} {number}{layer.letter}" + ("" if single else f" {side[0].upper()}"),
        side=side,
        foam=f"{format_length(layer.thickness)} {layer.kind} foam" + (f", {layer.words}" if layer.words else ""),
        count=count,
        face=f"{design.drawn_face} face drawn",
    )
