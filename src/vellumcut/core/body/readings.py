"""What every reading of a body is made of."""

import math
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from vellumcut.core.units import Length

MOST_GIRTH = 20_000.0
"""Above this a girth is no slip of the tape but nonsense, mm."""

Ratio = Annotated[float, Field(ge=0.3, le=3.0, allow_inf_nan=False)]


class Decision(BaseModel):
    """Base of everything a person decides: strict about unknown fields, never changed in place."""

    model_config = ConfigDict(frozen=True, extra="forbid", json_schema_serialization_defaults_required=True)


class StationReading(Decision):
    """What the tape said at one station.

    at: distance from the limb's first station along the limb, mm. girth: as read, mm.
    tool: a foam strip of ``strip`` mm laid under the tape reads pi*strip too much.
    ratio: depth (front to back) over width; None means not measured, and the limb is taken as round.
    """

    at: Annotated[Length, Field(ge=0, le=2000)] = 0.0
    girth: Annotated[Length, Field(ge=0, le=MOST_GIRTH)]
    tool: Literal["tape", "foam"] = "tape"
    strip: Annotated[Length, Field(ge=0, le=30)] = 0.0
    ratio: Ratio | None = None

    @property
    def body_girth(self) -> float:
        """Girth of the body under the strip, mm: a strip's middle layer lies strip/2 out, so pi*strip longer."""
        return self.girth - (math.pi * self.strip if self.tool == "foam" else 0.0)


class Question(Decision):
    """A reading that is unlikely. key: identity of question and value, to confirm it by."""

    key: str
    field: str
    message: str
