"""What is laid on a piece along its lines: which line, how far in, how wide or how far apart."""

from typing import Annotated, Literal

from pydantic import Field, StrictBool

from vellumcut.core.body.readings import Decision
from vellumcut.core.design.foam import FoamKind
from vellumcut.core.units import Length

LineName = Annotated[str, Field(min_length=1, max_length=120)]
Lines = Annotated[tuple[LineName, ...], Field(min_length=1, max_length=12)]
Profile = Literal["flat", "rounded", "half-round", "triangular"]
Corners = Literal["by its bend", "mitred", "one piece"]


class Border(Decision):
    """A strip along lines of a piece. lines: names of edges and inked lines; those that follow each other on a panel
    are one way. inset: from the line to the strip's near edge, mm; of a line inside a panel, to the strip's middle.
    width: across, foam: thick, mm. bought: how long one bought piece is, mm; 0: cut from sheet.
    """

    form: Literal["border"] = "border"
    lines: Lines
    inset: Annotated[Length, Field(ge=0, le=300)] = 0.0
    width: Annotated[Length, Field(ge=3, le=200)] = 12.0
    foam: Annotated[Length, Field(ge=1, le=25)] = 4.0
    foam_kind: FoamKind = "armour"
    profile: Profile = "flat"
    corners: Corners = "by its bend"
    bought: Annotated[Length, Field(ge=0, le=20000)] = 0.0


class Row(Decision):
    """Things at even distances along lines of a piece. inset: from the line, mm. pitch: wanted from middle to middle,
    mm; it is stretched to come out even. ends: where the first and last sit. both: on both sides of a line that is
    inked inside a panel. pack: how many are sold together; 0: not bought in packs.
    """

    form: Literal["row"] = "row"
    lines: Lines
    inset: Annotated[Length, Field(ge=0, le=300)] = 8.0
    pitch: Annotated[Length, Field(ge=2, le=500)] = 25.0
    ends: Literal["half a pitch", "at the ends"] = "half a pitch"
    both: StrictBool = False
    pack: Annotated[int, Field(ge=0, le=10000, strict=True)] = 0


PartShape = Annotated[Border | Row, Field(discriminator="form")]
