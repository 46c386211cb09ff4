"""What a maker decides about how a piece is held on."""

from typing import Annotated, Literal

from pydantic import Field, StrictBool

from vellumcut.core.body.readings import Decision
from vellumcut.core.design.sheet import Point
from vellumcut.core.units import Length, Number

AnchorName = Annotated[str, Field(min_length=1, max_length=60)]
Seat = Literal["slot", "front pocket", "back pocket", "sandwich", "underlap strip"]


class MagnetRow(Decision):
    """A line of magnets along a free edge of a piece, or along a line inked inside a panel. edge: its name. size: of
    one magnet, across; thick, mm. seat: None takes the advised one. washers: steel washers opposite. load: what they
    must hold, g; None: the piece's own weight."""

    edge: Annotated[str, Field(min_length=1, max_length=120)]
    size: Annotated[Length, Field(ge=2, le=40)] = 10.0
    thick: Annotated[Length, Field(ge=1, le=10)] = 3.0
    seat: Seat | None = None
    washers: StrictBool = False
    load: Annotated[Number, Field(ge=1, le=20000)] | None = None


OpeningKind = Literal["lacing", "hook-and-loop", "buckles", "zip", "snaps", "magnets", "ratchet"]


class OpeningRow(Decision):
    """A seam of the piece that opens instead of being glued; its edges meet. line: key of its stroke. low, high:
    between which places it opens, mm from its lower end; high: None up to its upper end."""

    line: Annotated[str, Field(min_length=1, max_length=60)]
    kind: OpeningKind = "hook-and-loop"
    low: Annotated[Length, Field(ge=0, le=3000)] = 0.0
    high: Annotated[Length, Field(ge=0, le=3000)] | None = None

    @property
    def whole(self) -> bool:
        """Whether none of the seam is glued."""
        return self.low <= 0 and self.high is None


class EdgeClosing(Decision):
    """A free edge of the piece that closes on another free edge, or on a part of it, with straps beside. piece: name of
    the piece that has the other edge; empty: the same one. low, high: between which places of the stretch where they
    face each other, mm from its lower end; high: None up to its upper end."""

    edge: Annotated[str, Field(min_length=1, max_length=120)]
    other: Annotated[str, Field(min_length=1, max_length=120)]
    piece: Annotated[str, Field(max_length=120)] = ""
    kind: OpeningKind = "hook-and-loop"
    low: Annotated[Length, Field(ge=0, le=3000)] = 0.0
    high: Annotated[Length, Field(ge=0, le=3000)] | None = None


class RigDesign(Decision):
    """How the piece is held on. webbing: strap width, mm. stretch: elastic's working stretch, a share of its rest
    length.

    way: key of its rig; empty takes the usual one. moved: anchors that do not sit where the rig puts them, in
    (around, along); of a pair the wearer's left one, the other is its mirror image.
    """

    run: Literal["across", "round"] = "across"
    webbing: Annotated[Length, Field(ge=5, le=60)] = 25.0
    stretch: Annotated[float, Field(ge=0.05, le=1.0, allow_inf_nan=False)] = 0.3
    way: Annotated[str, Field(max_length=60)] = ""
    moved: Annotated[dict[AnchorName, Point], Field(max_length=60)] = Field(default_factory=dict)
    magnets: Annotated[tuple[MagnetRow, ...], Field(max_length=12)] = ()
    openings: Annotated[tuple[OpeningRow, ...], Field(max_length=12)] = ()
    closings: Annotated[tuple[EdgeClosing, ...], Field(max_length=8)] = ()
