"""What foam the maker has and pays: density, sheet size, price, sheets and offcuts in hand; and what pieces weigh."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

from pydantic import Field, StrictBool

from vellumcut.core.body.readings import Decision
from vellumcut.core.design.foam import FoamKind, Thickness
from vellumcut.core.foam.sheets import SAME_SHEET
from vellumcut.core.units import Length, Number

USUAL_DENSITY: dict[FoamKind, float] = {"soft": 55.0, "armour": 110.0, "mat": 90.0}
"""kg/m3 (est.): soft craft foam 45-60, armour grade 90-130; floor mats vary most."""
USUAL_SIZE: dict[FoamKind, tuple[float, float]] = {
    "soft": (300.0, 400.0), "armour": (1000.0, 2000.0), "mat": (600.0, 600.0)
}  # fmt: skip
"""mm (est.): craft sheets, rolls, interlocking mats."""
ONE_FACED: tuple[FoamKind, ...] = ("mat",)
"""Kinds of which one face is textured, so that a part may not be turned over on the sheet."""

Side = Annotated[Length, Field(ge=10, le=20_000)]


class ShelfSheet(Decision):
    """One sheet as this maker has it. density: kg/m3. size: mm. price: of one sheet, in the maker's own money.
    textured: one face has a pattern. sheets: whole ones in hand; offcuts: width and length of each, mm."""

    kind: FoamKind
    thickness: Thickness
    density: Annotated[Number, Field(ge=10, le=500)] | None = None
    size: tuple[Side, Side] | None = None
    price: Annotated[Number, Field(ge=0, le=100_000)] | None = None
    textured: StrictBool | None = None
    sheets: Annotated[int, Field(ge=0, le=1000, strict=True)] = 0
    offcuts: Annotated[tuple[tuple[Side, Side], ...], Field(max_length=40)] = ()


@dataclass(frozen=True)
class SheetFacts:
    """A sheet with every figure known or estimated. in_hand: m2 on the shelf, offcuts too."""

    density: float
    size: tuple[float, float]
    price: float | None
    textured: bool
    in_hand: float

    def grams(self, area: float, thickness: float) -> float:
        """Weight of so much of it, mm2 and mm."""
        return area * thickness * 1e-9 * self.density * 1000

    def cost(self, area: float) -> float | None:
        """Its price by area, mm2; None while no price is written down."""
        return None if self.price is None else self.price * area / (self.size[0] * self.size[1])


def row_of(kind: FoamKind, thickness: float, shelf: Sequence[ShelfSheet]) -> ShelfSheet | None:
    """The maker's own row of a sheet, if there is one. thickness: mm."""
    return next((r for r in shelf if r.kind == kind and abs(r.thickness - thickness) < SAME_SHEET), None)


def facts_of_sheet(kind: FoamKind, thickness: float, shelf: Sequence[ShelfSheet] = ()) -> SheetFacts:
    """What is known of a sheet: the maker's own figures, the usual ones where there are none."""
    row = row_of(kind, thickness, shelf)
    size = (row.size if row else None) or USUAL_SIZE[kind]
    whole = row.sheets * size[0] * size[1] if row else 0.0
    rest = sum(a * b for a, b in row.offcuts) if row else 0.0
    textured = kind in ONE_FACED if row is None or row.textured is None else row.textured
    density = (row.density if row else None) or USUAL_DENSITY[kind]
    return SheetFacts(density, size, row.price if row else None, textured, (whole + rest) / 1e6)
