"""What goes over the wire about traced photographs."""

from typing import Annotated, Literal

from pydantic import BaseModel, Field

from vellumcut.core.ink.design import TemplateName
from vellumcut.core.ink.flatwork import FlatKind, FlatShape, Place
from vellumcut.core.units import Length

Pair = Place
Square = Annotated[float, Field(ge=50, le=200)]
"""What the test square on the page of cards measures, mm."""


class FoundFinding(BaseModel):
    weight: Literal["look", "stop"]
    what: str
    do: str


class FoundCard(BaseModel):
    """off_mm: how far its edges miss a flat square of its size."""

    number: int
    at: Pair
    turn: float
    off_mm: float


class FoundSlit(BaseModel):
    tip: Pair
    deep_mm: float
    angle_deg: float


class FoundError(BaseModel):
    """How far off the outline may be: on the whole, and anywhere."""

    rms: float
    worst: float
    of_view: float
    of_edge: float


class FoundPiece(BaseModel):
    number: int
    area_mm2: float
    slits: list[FoundSlit]
    error_mm: FoundError
    unsure: list[list[Pair]]
    findings: list[FoundFinding]


class AboveOut(BaseModel):
    """The picture from above: mm of its top left corner, x right, y down."""

    corner: Pair
    mm_per_pixel: float


class TraceBrief(BaseModel):
    id: int
    build_id: int
    name: str
    taken_at: float
    pieces: int


class TraceOut(TraceBrief):
    """shapes: pieces as the maker left them, mm in the picture from above, y up."""

    square: float
    above: AboveOut
    cards: list[FoundCard]
    cards_left_out: list[int]
    residual_mm: float
    findings: list[FoundFinding]
    found: list[FoundPiece]
    shapes: list[FlatShape]


Act = Literal[
    "move", "corner", "straighten", "smooth", "symmetric", "cut", "join", "kind", "turn", "segments", "drop", "name"
]


class ActIn(BaseModel):
    """One correction. number: of the shape. at, to: places, mm, y up. edge, line: which of its edges or lines. other: a
    second shape. kind: of a line. degrees: against the clock. words: a name, or the half that is kept.
    """

    act: Act
    number: Annotated[int, Field(ge=1, le=200)]
    at: Pair = (0.0, 0.0)
    to: Pair = (0.0, 0.0)
    edge: Annotated[int, Field(ge=0, le=200)] = 0
    line: Annotated[int, Field(ge=0, le=200)] = 0
    other: Annotated[int, Field(ge=1, le=200)] = 1
    kind: FlatKind = "mark"
    degrees: Annotated[float, Field(ge=-360, le=360)] = 0.0
    words: Annotated[str, Field(max_length=80)] = ""


class AgainIn(BaseModel):
    """inside: places that lie on pieces, mm in the picture from above, y down."""

    square: Square = 100.0
    inside: Annotated[list[Pair], Field(max_length=60)] = []


class CameraIn(BaseModel):
    seed: Annotated[int, Field(ge=0, le=10_000)] = 1


class PanelsIn(BaseModel):
    """Which shapes become panels, and of which piece: one that is there, or a new one of that name and kind. grow: they were
    taken off the skin, where it measures ``girth`` mm round."""

    shapes: Annotated[list[int], Field(min_length=1, max_length=200)]
    piece: Annotated[int, Field(ge=1)] | None = None
    name: Annotated[str, Field(min_length=1, max_length=120)] = "Traced piece"
    template: TemplateName = "breastplate"
    grow: bool = False
    girth: Annotated[Length, Field(ge=50, le=2500)] | None = None
