"""What a maker decides about plates that lie over each other."""

from typing import Annotated, Literal

from pydantic import Field

from vellumcut.core.body.readings import Decision
from vellumcut.core.units import Length

LapOrder = Literal["edge to edge", "upper over lower", "lower over upper", "from the middle"]
"""Which of two plates lies over its neighbour; from the middle: the middle plate over both."""


class Laps(Decision):
    """How the plates of a piece lie on each other. by: mm that the hidden one reaches under; None: what the movement
    asks."""

    order: LapOrder = "edge to edge"
    by: Annotated[Length, Field(ge=3, le=120)] | None = None
