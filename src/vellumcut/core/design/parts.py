"""What is laid on a piece: along which of its lines, how far in and how wide, or where on its face."""

from typing import Annotated, Literal

from pydantic import Field, StrictBool, model_validator

from vellumcut.core.body.readings import Decision
from vellumcut.core.design.foam import FoamKind
from vellumcut.core.design.sheet import Point
from vellumcut.core.units import Length, Number

LineName = Annotated[str, Field(min_length=1, max_length=120)]
Lines = Annotated[tuple[LineName, ...], Field(min_length=1, max_length=12)]
Profile = Literal["flat", "rounded", "half-round", "triangular"]
Corners = Literal["mitred", "one piece"]
NARROWEST = 3.0
"""mm: nobody cuts a narrower strip (est.)."""


class Border(Decision):
    """A strip along lines of a piece. lines: names of edges and inked lines; those that follow each other on a panel
    are one way. inset: from the line to the strip's near edge, mm; of a line inside a panel, to the strip's middle.
    width: across, foam: thick, mm. bought: how long one bought piece is, mm; 0: cut from sheet.
    """

    form: Literal["border"] = "border"
    lines: Lines
    inset: Annotated[Length, Field(ge=0, le=300)] = 0.0
    width: Annotated[Length, Field(ge=NARROWEST, le=200)] = 12.0
    foam: Annotated[Length, Field(ge=1, le=25)] = 4.0
    foam_kind: FoamKind = "armour"
    profile: Profile = "flat"
    corners: Corners = "mitred"
    bought: Annotated[Length, Field(ge=0, le=20000)] = 0.0


class Row(Decision):
    """Things at even distances along lines of a piece. inset: from the line, mm. pitch: wanted from middle to middle,
    mm; it is stretched to come out even. ends: where the first and last sit. both: on both sides of a line that is
    inked inside a panel. prongs: of the maker's punch, whose pitch is not stretched; 0: none. clear: those that would
    sit on an anchor, a magnet or a hole are left out. pack: how many are sold together; 0: not bought in packs.
    """

    form: Literal["row"] = "row"
    lines: Lines
    inset: Annotated[Length, Field(ge=0, le=300)] = 8.0
    pitch: Annotated[Length, Field(ge=2, le=500)] = 25.0
    ends: Literal["half a pitch", "at the ends"] = "half a pitch"
    both: StrictBool = False
    prongs: Annotated[int, Field(ge=0, le=12, strict=True)] = 0
    clear: StrictBool = False
    pack: Annotated[int, Field(ge=0, le=10000, strict=True)] = 0


class Plate(Decision):
    """A plate with the outline of the detail's motif, or several of them on each other. at: where its middle lies,
    (around, along); also: of more that are alike. wide: across, mm; turn: degrees to its left from upright; foam: each
    layer, mm. layers: how many; step: by how much each is smaller all round than the one beneath, mm. opening: what is
    cut out of it: a window that leaves a rim so wide inside the outline, or the seat of something whose outline was
    drawn, with a rim so wide round it. rim: mm. foot: nothing is cut; it is drawn where something stands.
    """

    form: Literal["plate"] = "plate"
    at: Point
    also: Annotated[tuple[Point, ...], Field(max_length=23)] = ()
    wide: Annotated[Length, Field(ge=5, le=1500)] = 60.0
    turn: Annotated[Number, Field(ge=-180, le=180)] = 0.0
    foam: Annotated[Length, Field(ge=1, le=25)] = 4.0
    foam_kind: FoamKind = "armour"
    layers: Annotated[int, Field(ge=1, le=6, strict=True)] = 1
    step: Annotated[Length, Field(ge=0, le=60)] = 5.0
    opening: Literal["none", "window", "seat", "foot"] = "none"
    rim: Annotated[Length, Field(ge=3, le=200)] = 10.0

    @property
    def places(self) -> tuple[Point, ...]:
        """Of all of them."""
        return (self.at, *self.also)


CLOSEST_ROWS = 4.0
"""mm: nearer than that nobody lays scales (est.)."""


class Scales(Decision):
    """Rows of scales over each other, from a free end up. lines: the free end. wide, high: of one scale, mm; covered:
    what share of its height the next row lies over. inset: of the first row's free edge from the line, mm. rows: how
    many; 0: as many as there is foam for. outline: of one. pack: as of a row.
    """

    form: Literal["scales"] = "scales"
    lines: Lines
    inset: Annotated[Length, Field(ge=0, le=300)] = 0.0
    wide: Annotated[Length, Field(ge=6, le=200)] = 30.0
    high: Annotated[Length, Field(ge=6, le=200)] = 36.0
    covered: Annotated[Number, Field(ge=0.1, le=0.8)] = 0.4
    rows: Annotated[int, Field(ge=0, le=200, strict=True)] = 0
    outline: Literal["round", "pointed", "square"] = "round"
    foam: Annotated[Length, Field(ge=1, le=12)] = 2.0
    foam_kind: FoamKind = "armour"
    pack: Annotated[int, Field(ge=0, le=10000, strict=True)] = 0

    @property
    def step(self) -> float:
        """From one row to the next, mm."""
        return float(self.high * (1 - self.covered))

    @model_validator(mode="after")
    def _apart(self) -> "Scales":
        if self.step < CLOSEST_ROWS:
            raise ValueError(
                f"Rows of scales would lie {self.step:.1f} mm apart: make them higher, or cover less of them"
            )
        return self


class Links(Decision):
    """Linked rings over a tapering area. lines: the free end. wide, high: from one column and row to the next, mm.
    inset: of the first row's edge from the line, mm. rows: how many; 0: as many as there is room for. strip: how many
    links are on a bought strip, one row high; 0: not bought in strips. pack: how many strips, or else links, are sold
    together. edge: width of the strips between which the free end is held, one on each face, mm; 0: none. foam: of
    these, mm. cap: of a sleeve, how much lower it ends under the arm than at the shoulder point, mm.
    """

    form: Literal["links"] = "links"
    lines: Lines
    inset: Annotated[Length, Field(ge=0, le=300)] = 0.0
    wide: Annotated[Length, Field(ge=4, le=200)] = 16.0
    high: Annotated[Length, Field(ge=4, le=200)] = 16.0
    rows: Annotated[int, Field(ge=0, le=400, strict=True)] = 0
    strip: Annotated[int, Field(ge=0, le=2000, strict=True)] = 20
    pack: Annotated[int, Field(ge=0, le=10000, strict=True)] = 0
    edge: Annotated[Length, Field(ge=0, le=100)] = 15.0
    cap: Annotated[Length, Field(ge=0, le=250)] = 0.0
    foam: Annotated[Length, Field(ge=1, le=12)] = 2.0
    foam_kind: FoamKind = "armour"

    @property
    def holder(self) -> Border | None:
        """Each of the two strips that hold its free end; None where it has none."""
        if self.edge < NARROWEST:
            return None
        return Border(lines=self.lines, width=self.edge, foam=self.foam, foam_kind=self.foam_kind)


class Cuff(Decision):
    """A collar or a cuff that goes on from an edge. high: how far, mm. flare: degrees by which it leaves the way of the
    wall, outwards above nought. over: how much longer it is cut at each open end, to be fitted there, mm.
    """

    form: Literal["cuff"] = "cuff"
    lines: Lines
    high: Annotated[Length, Field(ge=5, le=400)] = 40.0
    flare: Annotated[Number, Field(ge=-80, le=120)] = 20.0
    over: Annotated[Length, Field(ge=0, le=60)] = 10.0
    foam: Annotated[Length, Field(ge=1, le=25)] = 6.0
    foam_kind: FoamKind = "armour"


class Segments(Decision):
    """Plates side by side over all of a panel, the piece being their base. lines: the fixed end, from which they are
    glued on. count: how many to a panel; overlap: how far each lies over the one before it, mm; 0: they meet.
    """

    form: Literal["segments"] = "segments"
    lines: Lines
    count: Annotated[int, Field(ge=2, le=40, strict=True)] = 5
    overlap: Annotated[Length, Field(ge=0, le=100)] = 0.0
    foam: Annotated[Length, Field(ge=1, le=25)] = 2.0
    foam_kind: FoamKind = "armour"


class Damage(Decision):
    """Cuts and dents thrown beside a line. lines: where they would be hit. inset: least way from every edge, seam and
    fixing, mm; wide: of the band beside the line in which they lie, mm. count: how many; size: of the longest, mm.
    seed: another one throws them anew.
    """

    form: Literal["damage"] = "damage"
    lines: Lines
    inset: Annotated[Length, Field(ge=0, le=300)] = 6.0
    wide: Annotated[Length, Field(ge=10, le=400)] = 60.0
    count: Annotated[int, Field(ge=1, le=80, strict=True)] = 8
    size: Annotated[Length, Field(ge=4, le=80)] = 20.0
    seed: Annotated[int, Field(ge=0, le=9999, strict=True)] = 0


PartShape = Annotated[Border | Row | Plate | Scales | Links | Cuff | Segments | Damage, Field(discriminator="form")]


def lines_along(shape: PartShape | None) -> tuple[str, ...]:
    """Names of the lines that a shape runs along; a plate lies where it was put."""
    return () if shape is None or isinstance(shape, Plate) else shape.lines
