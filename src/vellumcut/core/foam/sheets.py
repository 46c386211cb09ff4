"""The sheet catalogue and what foam will give. Figures marked (est.) are engineering estimates."""

from dataclasses import dataclass
from typing import Annotated

import numpy as np
from pydantic import Field, model_validator

from vellumcut.core.body.readings import Decision
from vellumcut.core.design.foam import FoamKind
from vellumcut.core.errors import CraftError
from vellumcut.core.units import Length

SAME_SHEET = 0.05
"""Thicknesses that differ by less are one sheet, mm."""


@dataclass(frozen=True)
class Sheet:
    """A thickness as sold. inch: what inch users call it. kinds: in which foams it is sold."""

    thickness: float
    inch: str
    kinds: tuple[FoamKind, ...]
    use: str


CATALOGUE: tuple[Sheet, ...] = (
    Sheet(1, "", ("soft", "armour"), "fine detail, scales"),
    Sheet(2, "1/16", ("soft", "armour"), "details; base of segmented limbs"),
    Sheet(3, "1/8", ("soft", "armour"), "borders, light details"),
    Sheet(4, "", ("soft", "armour"), "light curved base, borders"),
    Sheet(5, "", ("soft", "armour"), "curved base"),
    Sheet(6, "1/4", ("soft", "armour"), "curved base, the usual choice for limbs"),
    Sheet(8, "", ("armour", "mat"), "chunky plates"),
    Sheet(10, "3/8", ("armour", "mat"), "chunky, flat, structural"),
    Sheet(12, "1/2", ("armour", "mat"), "structural, flat"),
)

KIND_WORDS: dict[FoamKind, str] = {
    "soft": "soft craft foam, about 45-60 kg/m3 (est.)",
    "armour": "armour-grade foam, about 90-130 kg/m3 (est.)",
    "mat": "floor mat with one textured face",
}


Percent = Annotated[float, Field(gt=0, le=60, allow_inf_nan=False)]


@dataclass(frozen=True)
class Allowance:
    """What a foam gives, per cent: cold, comfortably warm, and at the limit. measured: by this maker, not estimated."""

    cold: float
    stretch: float
    stretch_limit: float
    squeeze: float
    squeeze_limit: float
    measured: bool = False


class FoamGive(Decision):
    """What a scrap of one sheet gave this maker, per cent; it stands for the estimate from then on."""

    kind: FoamKind
    thickness: Annotated[Length, Field(ge=0.5, le=25)]
    cold: Percent
    stretch: Percent
    stretch_limit: Percent
    squeeze: Percent
    squeeze_limit: Percent

    @model_validator(mode="after")
    def _in_order(self) -> "FoamGive":
        if not (self.cold <= self.stretch <= self.stretch_limit and self.squeeze <= self.squeeze_limit):
            raise ValueError("What foam gives cold, warm and at the limit must not fall")
        return self


_AT_6_MM: dict[FoamKind, Allowance] = {
    "armour": Allowance(2.5, 5.0, 10.0, 3.0, 6.0),
    "soft": Allowance(3.0, 6.0, 12.0, 4.0, 8.0),
    "mat": Allowance(2.0, 4.0, 8.0, 2.5, 5.0),
}
"""Comfortable about 5 %, limit about 10 % stretch; about 3 % and 6 % squeeze (est.); lighter foam gives more."""
_THICKNESS, _SHARE = (1.0, 3.0, 6.0, 8.0, 10.0, 12.0), (1.3, 1.15, 1.0, 0.9, 0.85, 0.8)
"""Thin foam warms through evenly and gives more; thick foam is still cold inside when its face is ready (est.)."""


def usual_give(kind: FoamKind, thickness: float) -> Allowance:
    """The estimate for a sheet, by its density and thickness (mm)."""
    share = float(np.interp(thickness, _THICKNESS, _SHARE))
    at = _AT_6_MM[kind]
    return Allowance(
        cold=round(share * at.cold, 1),
        stretch=round(share * at.stretch, 1),
        stretch_limit=round(share * at.stretch_limit, 1),
        squeeze=round(share * at.squeeze, 1),
        squeeze_limit=round(share * at.squeeze_limit, 1),
    )


def give_of(kind: FoamKind, thickness: float, own: tuple[FoamGive, ...] = ()) -> Allowance:
    """What a sheet gives: as this maker measured it, or as estimated."""
    for row in own:
        if row.kind == kind and abs(row.thickness - thickness) < SAME_SHEET:
            return Allowance(row.cold, row.stretch, row.stretch_limit, row.squeeze, row.squeeze_limit, measured=True)
    return usual_give(kind, thickness)


def sheet_of(thickness: float) -> Sheet | None:
    """The catalogue sheet of this thickness, if it is sold."""
    return next((s for s in CATALOGUE if abs(s.thickness - thickness) < SAME_SHEET), None)


def stack_for(thickness: float) -> tuple[float, ...]:
    """Fewest catalogue sheets that stack up to a missing thickness. Raises CraftError when none do."""
    sold = [s.thickness for s in reversed(CATALOGUE)]
    best: tuple[float, ...] = ()
    for first in sold:
        for second in [x for x in sold if x <= first]:
            if abs(first + second - thickness) < SAME_SHEET and not best:
                best = (first, second)
    if not best:
        raise CraftError(f"No one or two sheets make {thickness:g} mm; sheets come in whole millimetres", "design.foam")
    return best
