"""The label every part carries, so that no part is ever without a name, a side or a count."""

from dataclasses import dataclass

from vellumcut.core.ink.design import PieceDesign
from vellumcut.core.ink.templates import TEMPLATES
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
        return (self.piece, self.count, self.foam, self.face, self.build)


def label_panel(build: str, piece: str, design: PieceDesign, side: str, number: int, twin: bool) -> Label:
    """side: of the drawn panel. twin: whether the other side is this pattern turned over."""
    other = "right" if side == "left" else "left"
    count = f"cut 1 {side} + 1 {other}, pattern turned over" if twin else f"cut 1, {side}"
    return Label(
        build=build,
        piece=piece,
        code=f"{TEMPLATES[design.template].code} {number} {side[0].upper()}",
        side=side,
        foam=f"{format_length(design.foam)} {design.foam_kind} foam",
        count=count,
        face=f"{design.drawn_face} face drawn",
    )
