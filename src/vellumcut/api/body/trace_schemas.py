"""What goes over the wire about traced photographs."""

from typing import Annotated, Literal

from pydantic import Field, StrictBool, StrictInt

from vellumcut.api.schemas import In, Out
from vellumcut.core.design.flat import FlatKind, FlatShape, Place
from vellumcut.core.design.piece import TemplateName
from vellumcut.core.units import Length, Number
from vellumcut.core.words import SEEN
from vellumcut.formats.body.found import AboveOut, FoundCard, FoundFinding, FoundPiece

Pair = Place
Square = Annotated[Number, Field(ge=50, le=200)]
"""What the test square on the page of cards measures, mm."""


class TraceBrief(Out):
    """bare: it shows the floor and its cards alone. over_floor: the floor beneath its pieces was photographed too."""

    id: int
    build_id: int
    name: str
    taken_at: float
    pieces: int
    bare: bool
    over_floor: bool


class TraceListed(TraceBrief):
    """joins: photographs that it can be joined with, since they show two of its cards or more. floor: the photograph of
    the bare floor that it was taken on, as far as cards tell."""

    joins: list[int]
    floor: int | None


class TraceOut(TraceBrief):
    """shapes: pieces as the maker left them, mm in the picture from above, y up. square: mm of the cards' test square;
    unmeasured: what is to be said of it, until a maker has measured it."""

    square: float
    unmeasured: FoundFinding | None
    above: AboveOut
    cards: list[FoundCard]
    cards_left_out: list[int]
    residual_mm: float
    findings: list[FoundFinding]
    found: list[FoundPiece]
    shapes: list[FlatShape]


Act = Literal[
    "move",
    "corner",
    "straighten",
    "smooth",
    "symmetric",
    "unfold",
    "pair",
    "cut",
    "join",
    "kind",
    "turn",
    "segments",
    "drop",
    "name",
    "object",
]


class ActIn(In):
    """One correction. number: of the shape. at, to: places, mm, y up. edge, line: which of its edges or lines. other: a
    second shape. kind: of a line. degrees: against the clock. words: a name, or the half that is kept.
    """

    act: Act
    number: Annotated[StrictInt, Field(ge=1, le=200)]
    at: Pair = (0.0, 0.0)
    to: Pair = (0.0, 0.0)
    edge: Annotated[StrictInt, Field(ge=0, le=200)] = 0
    line: Annotated[StrictInt, Field(ge=0, le=200)] = 0
    other: Annotated[StrictInt, Field(ge=1, le=200)] = 1
    kind: FlatKind = "mark"
    degrees: Annotated[Number, Field(ge=-360, le=360)] = 0.0
    words: Annotated[str, Field(max_length=80), SEEN] = ""


class StrokeIn(In):
    """A stroke over the picture: what it says lies there. points: mm, y up. wide: mm."""

    what: Literal["piece", "floor"]
    points: Annotated[list[Pair], Field(min_length=1, max_length=400)]
    wide: Annotated[Number, Field(ge=0.3, le=30)]


class AgainIn(In):
    """over: the photograph of the floor beneath. checked: the square was measured."""

    square: Square = 100.0
    checked: StrictBool = False
    over: Annotated[StrictInt, Field(ge=1)] | None = None


class ObjectOut(Out):
    """A thing to be fitted, off a photograph. outline: mm, y up. long, wide: mm of the least rectangle round it; round:
    mm about its outline; off: mm that it may be off."""

    name: str
    trace: int
    number: int
    outline: list[Place]
    long: float
    wide: float
    round: float
    off: float


class JoinIn(In):
    """Numbers of photographs that share two cards or more."""

    traces: Annotated[list[StrictInt], Field(min_length=2, max_length=6)]


class CameraIn(In):
    """floor_first: on newspaper, which is photographed before the cast is laid on it."""

    seed: Annotated[StrictInt, Field(ge=0, le=10_000)] = 1
    floor_first: StrictBool = False


class PanelsIn(In):
    """Which shapes become panels, and of which piece: one that is there, or a new one of that name and kind. grow: they
    were taken off the skin, at ``station``, where it measures ``girth`` mm round; the wearer's own measure where that
    is not said."""

    shapes: Annotated[list[StrictInt], Field(min_length=1, max_length=200)]
    piece: Annotated[StrictInt, Field(ge=1)] | None = None
    name: Annotated[str, Field(min_length=1, max_length=120), SEEN] = "Traced piece"
    template: TemplateName = "breastplate"
    grow: StrictBool = False
    girth: Annotated[Length, Field(ge=50, le=2500)] | None = None
    station: Annotated[str, Field(max_length=80)] = ""
