"""The maker's cutter: its bed, its blade and what its clamps hold."""

from typing import Annotated

import numpy as np
from pydantic import Field

from vellumcut.core.body.readings import Decision
from vellumcut.core.units import Length, Number

Side = Annotated[Length, Field(gt=0, le=10_000)]
Offset = Annotated[Length, Field(ge=0, le=10_000)]


class Clamp(Decision):
    """What the machine may not run into: its lower left corner on the bed and its sides, mm."""

    x: Offset
    y: Offset
    width: Side
    height: Side


class CutterSetup(Decision):
    """width, height: of the bed, mm. blade: degrees its edge leans from upright. deepest: mm in one pass. tabs_below:
    cm2 under which a part is held by tabs, so that it is not carried off. All are estimates until the maker's own."""

    width: Annotated[Length, Field(ge=50, le=10_000)] = 2100.0
    height: Annotated[Length, Field(ge=50, le=10_000)] = 1100.0
    blade: Annotated[Number, Field(ge=0, le=60)] = 20.0
    deepest: Annotated[Length, Field(ge=0.5, le=50)] = 6.0
    tabs_below: Annotated[Number, Field(ge=0, le=1000)] = 20.0
    clamps: Annotated[tuple[Clamp, ...], Field(max_length=20)] = ()

    def over_cut(self, thickness: float) -> float:
        """mm a blade has to run past a corner before its tip has cut it at the bottom (shop rule book, section 3)."""
        return float(thickness * np.tan(np.radians(self.blade)))

    def passes(self, thickness: float) -> list[float]:
        """Depth of each pass, mm, in equal steps."""
        many = max(1, int(np.ceil(thickness / self.deepest - 1e-9)))
        return [thickness * (k + 1) / many for k in range(many)]
