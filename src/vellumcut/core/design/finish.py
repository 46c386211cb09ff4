"""What a maker decides about the finish of a piece: stacks of layers and the zones that they cover."""

from typing import Annotated, Literal

from pydantic import Field, StrictBool

from vellumcut.core.body.readings import Decision
from vellumcut.core.units import Number

LayerName = Literal[
    "scuff",
    "rubbery primer",
    "flexible primer",
    "hard sealer",
    "resin",
    "filler primer",
    "gloss black",
    "mirror chrome",
    "metallic",
    "acrylic",
    "enamel",
    "marker",
    "acrylic wash",
    "oil wash with drier",
    "oil wash",
    "stitches",
    "wax metal",
    "dry brush",
    "decal",
    "vinyl",
    "satin clear",
    "matt clear",
    "gloss clear",
    "flexible clear",
    "transparent colour",
    "hammered metal",
    "shoe polish",
    "floor polish",
    "fabric marker",
    "paint pen",
]
Tool = Literal["brush", "spray", "airbrush", "cloth"]
Substrate = Literal["bare foam", "sealed foam", "thermoplastic", "printed part", "vinyl", "woven sheet"]
Covers = Literal["outside", "inside", "both"]
Weathering = Literal[
    "dark edges", "wash in grooves", "dry brush", "overlap soot", "rust", "wax points", "chips",
]  # fmt: skip
ZoneName = Annotated[str, Field(pattern=r"^[0-9]{1,3}[a-z]{0,2}$")]
Minutes = Annotated[Number, Field(ge=0, le=20160)]
Colour = Annotated[str, Field(pattern=r"^#[0-9a-fA-F]{6}$")]


class FinishLayer(Decision):
    """One layer of a stack. colour: as it is shown; empty where the kind has one of its own. coats: None takes the
    usual.

    recoat, before_next: minutes that the tin says, in place of the estimates. taped: tape is laid on what is beneath
    it, so that this layer ends at a line. tested: a scrap has shown that it bears with what is beneath it.
    """

    kind: LayerName
    name: Annotated[str, Field(max_length=60)] = ""
    colour: Colour | None = None
    coats: Annotated[int, Field(ge=1, le=12, strict=True)] | None = None
    tool: Tool | None = None
    faces: Covers = "outside"
    recoat: Minutes | None = None
    before_next: Minutes | None = None
    taped: StrictBool = False
    tested: StrictBool = False
    note: Annotated[str, Field(max_length=300)] = ""


class Stack(Decision):
    """Layers in the order in which they go on. on: what the first one lies on."""

    name: Annotated[str, Field(min_length=1, max_length=60)]
    on: Substrate = "sealed foam"
    layers: Annotated[tuple[FinishLayer, ...], Field(max_length=24)] = ()
    weathering: Annotated[tuple[Weathering, ...], Field(max_length=7)] = ()


class ZoneFinish(Decision):
    """A stack and the zones it covers; without zones, all that no other one covers. by_hand: its edge is painted to the
    line by hand or masked; None takes what is quicker."""

    stack: Stack
    zones: Annotated[tuple[ZoneName, ...], Field(max_length=120)] = ()
    by_hand: StrictBool | None = None
