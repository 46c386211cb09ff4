"""What was found in a photograph, as it is kept: ``trace_json`` writes it, and a bundle's is read as it."""

from typing import Literal

from pydantic import BaseModel, ConfigDict

from vellumcut.core.design.flat import Place


class FoundFinding(BaseModel):
    """lasts: it holds for a piece whatever a stroke puts right at one place of it."""

    weight: Literal["look", "stop"]
    what: str
    do: str
    lasts: bool = False


class FoundCard(BaseModel):
    """off_mm: how far its edges miss a flat square of its size."""

    number: int
    at: Place
    turn: float
    off_mm: float


class FoundSlit(BaseModel):
    """off_mm: how far along it its tip may be off."""

    tip: Place
    deep_mm: float
    angle_deg: float
    off_mm: float = 0.0


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
    unsure: list[list[Place]]
    findings: list[FoundFinding]


class AboveOut(BaseModel):
    """The picture from above: mm of its top left corner, x right, y down. shown: closed lines round what the photograph
    shows of the ground; none from earlier versions: all of it."""

    corner: Place
    mm_per_pixel: float
    shown: list[list[Place]] = []


class KeptPiece(FoundPiece):
    """outline: mm, y down. Its holes and ink are written beside it, and are read nowhere."""

    model_config = ConfigDict(extra="allow")
    outline: list[Place]


class Found(BaseModel):
    """All that is kept of a photograph. checked: the size of its cards was measured. bare: of the floor alone,
    before anything was laid on it. of_view_mm: what the view adds to how far places among its cards may be off."""

    model_config = ConfigDict(extra="allow")
    above: AboveOut
    cards: list[FoundCard]
    cards_left_out: list[int]
    residual_mm: float
    of_view_mm: float = 0.5
    findings: list[FoundFinding]
    pieces: list[KeptPiece]
    joined: bool = False
    checked: bool = False
    bare: bool = False
