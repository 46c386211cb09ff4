"""What goes in and out over HTTP, where it is not a core type already."""

from datetime import date
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, SkipValidation

from vellumcut.core.body.measures import Measurements
from vellumcut.core.body.readings import Question
from vellumcut.core.design.making import Schools
from vellumcut.core.design.piece import DartEdges, PieceDesign
from vellumcut.core.notes import Finding
from vellumcut.core.units import Day, Length
from vellumcut.core.words import SEEN


class In(BaseModel):
    model_config = ConfigDict(extra="forbid")


class Out(BaseModel):
    model_config = ConfigDict(from_attributes=True, json_schema_serialization_defaults_required=True)


Title = Annotated[str, Field(min_length=1, max_length=120), SEEN]
RowId = Annotated[int, Field(ge=1, le=2**62)]


class ProblemField(Out):
    field: str
    message: str


class ProblemOut(Out):
    """RFC 9457 problem details, with a sentence for each field and any questions to confirm."""

    type: str = "about:blank"
    title: str
    status: int
    detail: str
    fields: list[ProblemField] = []
    questions: list[Question] = []


class WearerIn(In):
    name: Title
    note: Annotated[str, Field(max_length=2000)] = ""


class WearerOut(Out):
    """tag: how it stands, to be sent back as If-Match with a change of it."""

    id: int
    name: str
    note: str
    tag: str


class SetOut(Out):
    id: int
    wearer_id: int
    readings: Measurements
    tag: str


class HistoryRow(Out):
    key: str
    segment: str
    side: str
    station: str
    dates: list[date]
    girths: list[float]


class HistoryOut(Out):
    measures: list[HistoryRow]
    changes: list[Finding]


class BuildIn(In):
    """schools: nothing leaves them as they are."""

    name: Title
    wearer_id: RowId
    event_name: Annotated[str, Field(max_length=120), SEEN] = ""
    event_on: Day | None = None
    dart_edges: DartEdges = "by fold"
    schools: Schools | None = None


class PieceIn(In):
    name: Annotated[str, Field(max_length=120), SEEN] = ""
    design: PieceDesign


class PieceChange(In):
    name: Title | None = None
    design: PieceDesign | None = None


class PieceOut(Out):
    """progress: share of its steps that are done; None while it has no pattern. trouble: why it has none."""

    id: int
    build_id: int
    name: str
    design: PieceDesign
    segment: str
    stations: list[str]
    usual_insets: list[float]
    progress: float | None
    trouble: str
    tag: str


class BuildOut(Out):
    id: int
    name: str
    wearer_id: int
    wearer: str
    event_name: str
    event_on: date | None
    dart_edges: DartEdges
    schools: Schools
    pieces: list[PieceOut]
    tag: str


class BroughtIn(BuildOut):
    """told: what was here already, and what was made of it."""

    told: list[str]


Points = SkipValidation[list[list[float]]]
"""Places of our own making, thousands of them: looked through one by one they would slow every answer."""
Faces = SkipValidation[list[list[int]]]
"""As Points: corners by number."""


class RingOut(Out):
    """A station on the cast: its ring of points and what it measures, mm."""

    name: str
    girth: float
    at: float
    points: list[list[float]]


class CastOut(Out):
    """The body's tube and the foam over it as meshes: positions (x, y, z triples, mm), (around, along) and triangles.

    places: (around, along) of the tube's vertices. foam_panels: of each foam triangle, its panel's number.
    """

    side: str
    positions: list[float]
    tape: list[float]
    triangles: list[int]
    rings: list[RingOut]
    foam_positions: list[float]
    foam_triangles: list[int]
    foam_panels: list[int]
    places: Points
    length: float


class TileOut(Out):
    name: str
    column: int
    row: int
    x: float
    y: float


class PagePlanOut(Out):
    code: str
    paper: list[float]
    tile: list[float]
    columns: int
    rows: int
    origin: list[float]
    tiles: list[TileOut]
    outline: Points


class PagesOut(Out):
    """folds: whether some panel is its own mirror image and can be cut on the fold."""

    pages: int
    plans: list[PagePlanOut]
    square: float
    folds: bool


class ScaleIn(In):
    measured: Length
    unit: Literal["mm", "in"] = "mm"


class ScaleOut(Out):
    measured: float
    wanted: float
    off_percent: float
    good: bool
    correction: float
    sentence: str


class WordsIn(In):
    words: Annotated[str, Field(max_length=200)]


class CautionOut(Out):
    key: str
    title: str
    rules: list[str]
    seen: bool


class CautionsOut(Out):
    standing: str
    cautions: list[CautionOut]


class TimerOut(Out):
    id: int
    kind: str
    build_id: int
    piece_id: int | None
    step: str
    label: str
    state: Literal["running", "ready", "closing", "closed", "stopped"]
    ready_in: float
    closes_in: float
    passed: float
    whole: float
    rings: bool


class WrapTimerIn(In):
    piece_id: RowId
    label: Title


class CementTimerIn(In):
    piece_id: RowId
    step: Annotated[str, Field(max_length=160)] = ""
    coat: Literal["thin", "normal", "heavy"] = "normal"
    degrees: Annotated[float, Field(allow_inf_nan=False)] = 20.0
    product: Annotated[float, Field(allow_inf_nan=False)] | None = None


class VersionIn(In):
    name: Title


class VersionOut(Out):
    number: int
    name: str
    kept_at: float
    foam: float
    ease: float
    ease_at: dict[str, float]


class OverlaidOut(Out):
    """A panel as it was and as it is, best laid on each other, as they lie on the table; farthest apart in mm.

    before: its code then; empty, as ``old`` is, where it is new.
    """

    code: str
    before: str
    old: Points
    new: Points
    apart: float


class OverlayOut(Out):
    """A kept pattern over another. apart: largest distance over all panels, mm. gone: panels that are no more."""

    number: int
    name: str
    panels: list[OverlaidOut]
    gone: list[str]
    apart: float


class SheetOut(Out):
    thickness: float
    inch: str
    kinds: list[str]
    use: str


class StationOut(Out):
    name: str
    how: str
    girth: list[float]
    at: float
    ratio: float


class SegmentOut(Out):
    name: str
    word: str
    stations: list[StationOut]
    gate: str
    gate_how: str


class SizeOut(Out):
    name: str
    usual: float
    least: float
    most: float
    how: str
    count: bool
    when: tuple[str, tuple[str, ...]] | None


class ChoiceOut(Out):
    name: str
    options: list[str]
    how: str


class TemplateOut(Out):
    """drawn: it is laid as strokes and sized by ``sizes`` and ``choices``; else a plain shell with ends and opening."""

    name: str
    word: str
    segment: str
    drawn: bool
    sizes: list[SizeOut]
    choices: list[ChoiceOut]
    design: PieceDesign


class MeasureOut(Out):
    name: str
    how: str
    ordinary: list[float]
    usual: float


class GiveOut(Out):
    """What a sheet gives, per cent, as estimated."""

    kind: str
    thickness: float
    cold: float
    stretch: float
    stretch_limit: float
    squeeze: float
    squeeze_limit: float


class CatalogueOut(Out):
    """The tables of the craft that forms are made from."""

    segments: list[SegmentOut]
    torso_girths: list[MeasureOut]
    torso_lengths: list[MeasureOut]
    stroke_kinds: dict[str, str]
    templates: list[TemplateOut]
    sheets: list[SheetOut]
    foam_kinds: dict[str, str]
    gives: list[GiveOut]
    usual_gap: dict[str, float]
    papers: dict[str, list[float]]
    version: str
