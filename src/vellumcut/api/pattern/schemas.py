"""What patterns, darts and plans look like over HTTP."""

from typing import Annotated, Literal

from pydantic import Field, StrictBool

from vellumcut.api.schemas import Faces, In, Out, Points
from vellumcut.core.body.segments import Side
from vellumcut.core.design.sheet import Stroke
from vellumcut.core.foam.verdict import State, Verdict
from vellumcut.core.notes import Finding, Note


class EdgeOut(Out):
    name: str
    kind: str
    length: float
    on_body: float
    points: Points


class MarkOut(Out):
    edge: str
    ticks: int
    lines: list[Points]


class SeamOut(Out):
    name: str
    on_body: float
    side_a: float
    side_b: float
    mismatch: float
    kind: str
    free: list[float]
    marks: int


class DartOut(Out):
    """key: of its stroke. intake: width at the mouth, mm. angle, curvature: degrees, of the body None where
    that is not known. left, right: legs, mm."""

    key: str
    name: str
    intake: float
    angle: float
    curvature: float | None
    left: float
    right: float
    tip: list[float]
    mouth: list[float]
    tip_uv: list[float]
    mouth_uv: list[float]


class LabelOut(Out):
    code: str
    lines: list[str]


class LineOut(Out):
    """A line on a panel that bounds nothing. kind: fold, score, trim edge or mark."""

    kind: str
    name: str
    points: Points


class FlatOut(Out):
    """A panel laid flat, in mm, y up. vertices and faces carry ``strain``, signed per cent, for the picture.

    uv: (around, along) of the vertices. free_p95: before its seams were trued.
    """

    edges: list[EdgeOut]
    holes: list[EdgeOut]
    centre: Points
    lines: list[LineOut]
    marks: list[MarkOut]
    seams: list[SeamOut]
    darts: list[DartOut]
    outline_length: float
    area: float
    p95: float
    stretch_p95: float
    squeeze_p95: float
    free_p95: float
    worst: float
    mean: float
    worst_at: list[float]
    vertices: Points
    faces: Faces
    strain: list[float]
    uv: Points


class PanelOut(FlatOut):
    """One drawn panel. place: where it lies on the table, mm."""

    number: int
    side: Side
    twin: bool
    face: str
    label: LabelOut
    place: list[float]
    verdict: Verdict


class AllowanceOut(Out):
    cold: float
    stretch: float
    stretch_limit: float
    squeeze: float
    squeeze_limit: float
    measured: bool


class AsymmetryOut(Out):
    """By how much left and right of the body differ, mm, and where most."""

    most: float
    where: str
    words: str


class InSheetOut(Out):
    """How the piece would lie in another foam."""

    kind: str
    thickness: float
    state: State


class PatternOut(Out):
    """settled: its figures are those of the pattern as it is shown and cut; if not, they may read half a point low, and
    what is laid on it is still to come."""

    name: str
    settled: bool
    panels: list[PanelOut]
    notes: list[Note]
    findings: list[Finding]
    allowance: AllowanceOut
    in_sheets: list[InSheetOut]
    opening: float
    cut_length: float
    area: float
    changed_since: int | None
    asymmetry: AsymmetryOut | None


class CutsIn(In):
    """Strokes tried on the table in place of the piece's own cuts. side: where both sides are drawn apart."""

    cuts: Annotated[tuple[Stroke, ...], Field(max_length=60)]
    side: Side | None = None


class PlanIn(In):
    """no_go: names of the edges that must not be cut. most: how many darts at most. side: as in CutsIn.
    thorough: look for up to a minute."""

    no_go: Annotated[tuple[Annotated[str, Field(max_length=120)], ...], Field(max_length=40)] = ()
    most: Annotated[int, Field(ge=1, le=3, strict=True)] = 2
    side: Side | None = None
    thorough: StrictBool = False


class DartPlanOut(Out):
    """Darts as strokes to add, the edges they open on, and the panel as it would lie with them."""

    cuts: list[Stroke]
    edges: list[str]
    p95: float
    length: float
    seen: float
    flat: FlatOut


class SplitOut(Out):
    kind: Literal["split", "insert"]
    cuts: list[Stroke]
    p95: float
    width: float
    words: str
    flat: FlatOut
    lines: list[Points]


class AdviceOut(Out):
    """kind: none, darts, saddle or short. before: p95 without a dart, per cent; limit: what the foam gives, warm."""

    kind: Literal["none", "darts", "saddle", "short"]
    panel: int
    before: float
    limit: float
    words: str
    plans: list[DartPlanOut]
    splits: list[SplitOut]
