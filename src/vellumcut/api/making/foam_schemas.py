"""What a piece's foam and its heating look like over HTTP."""

from typing import Annotated, Literal

from pydantic import Field

from vellumcut.api.schemas import In, Out
from vellumcut.core.body.segments import Side
from vellumcut.core.design.foam import BendWay, EdgeWork, Face, FoamKind, FoldWay, FoldWork, Role, Walls
from vellumcut.core.foam.advice import Instead, SheetAdvice
from vellumcut.core.foam.heat import HeatPlan
from vellumcut.core.notes import Finding, Note
from vellumcut.core.units import Length, Number
from vellumcut.service.making.foam import PieceWeight, SheetUse
from vellumcut.service.making.heat import BetterHold


class JointSide(Out):
    """One edge of a joint. bevel: degrees off square; taken_off: the face that ends up shorter; move: how far outside
    its middle's outline the full-size face is traced, mm."""

    panel: int
    foam: float
    bevel: float
    taken_off: Face
    move: float


class JointStation(Out):
    """at: mm along the joint. fold, bevel: degrees there, the bevels of both edges."""

    at: float
    fold: float
    bevel: list[float]


class JointOut(Out):
    """A seam or dart as it is cut. ends: words for where it begins and ends. fold: degrees, above zero a ridge.
    asked: the maker's own angle."""

    side: Side
    kind: Literal["seam", "dart"]
    name: str
    length: float
    ends: list[str]
    fold: float
    asked: bool
    sides: list[JointSide]
    stations: list[JointStation]
    words: str
    note: Note | None


class FreeEdgeOut(Out):
    """A free edge. work: how it ends, as the maker says or as usual. words, why: the same for reading."""

    name: str
    foam: float
    work: EdgeWork
    own: bool
    words: str
    why: str


class FoldOut(Out):
    """A fold or score line inside a panel, as it is worked; lengths in mm, angles in degrees."""

    side: Side
    key: str
    name: str
    panel: int
    length: float
    foam: float
    way: FoldWay
    angle: float
    angle_from: str
    armour_folds: float
    face: Face
    depth: float
    width: float
    reach: list[float]
    hinge: float
    walls: Walls
    overcut: float
    lines: int
    step: float
    how: str
    why: str
    work: FoldWork
    note: Note | None
    findings: list[Finding]


class LayerOut(Out):
    """low, middle, high: mm out from the panel's inner face."""

    thickness: float
    kind: FoamKind
    low: float
    middle: float
    high: float


class KerfsOut(Out):
    count: int
    depth: float
    width: float
    closes: float
    spacing: float
    words: str


class BendOut(Out):
    """A panel's curve. across, along, tightest: radii, mm, below zero where hollow. strain: of its worst face, per
    cent. slip: how much longer its outermost layer is than its innermost, mm."""

    side: Side
    panel: int
    across: float
    along: float
    tightest: float
    strain: float
    foam: float
    turn: float
    advised: BendWay
    way: BendWay
    words: str
    aid: str
    layers: list[LayerOut]
    slip: float
    note: Note
    kerfs: KerfsOut | None
    instead: list[Instead]


class RoleOut(Out):
    key: Role
    word: str
    least: float
    most: float
    reason: str


class FoamOut(Out):
    """All of a piece's foam. grams: its weight, all copies."""

    joints: list[JointOut]
    edges: list[FreeEdgeOut]
    folds: list[FoldOut]
    bends: list[BendOut]
    sheets: list[SheetUse]
    grams: float
    role: Role
    roles: list[RoleOut]
    advice: SheetAdvice
    findings: list[Finding]


class WeightsOut(Out):
    pieces: list[PieceWeight]
    grams: float


class PieceFoldsOut(Out):
    """The joints of one piece. trouble: why it has none."""

    piece: int
    name: str
    joints: list[JointOut]
    trouble: str


class HeatSheetOut(Out):
    """How one sheet is warmed through, one patch of it. trouble: why this gun cannot. better: another way to hold
    it."""

    thickness: float
    kind: FoamKind
    plan: HeatPlan | None
    words: str
    seconds: float
    trouble: str
    better: BetterHold | None


class HeatOut(Out):
    """factor: by how much the maker's own scrap tests say this gun differs from the estimate."""

    sheets: list[HeatSheetOut]
    factor: float
    patches: float
    scorch: float
    forming: float
    note: Note


class HeatRunIn(In):
    """pace: how fast the simulated probe's time passes."""

    thickness: Annotated[Length, Field(ge=0.5, le=25)]
    kind: FoamKind = "armour"
    faces: Literal[1, 2] = 2
    probe: Literal["simulated", "own"] = "simulated"
    pace: Annotated[Number, Field(ge=1, le=60)] = 1.0


class ReadingIn(In):
    degrees: Number
