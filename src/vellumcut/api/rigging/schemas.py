"""What rigs, the figure and its movements look like over HTTP. Places are mm on the standing figure."""

from typing import Annotated, Literal

from pydantic import Field

from vellumcut.api.schemas import In, Out
from vellumcut.core.body.segments import Side
from vellumcut.core.design.rig import EdgeClosing
from vellumcut.core.notes import Finding, Note
from vellumcut.core.rig.part import StrapPart
from vellumcut.core.rig.parts import RigPlan
from vellumcut.core.units import Number
from vellumcut.core.worn.donning import Donning
from vellumcut.core.worn.dressing import DressingStep
from vellumcut.core.worn.wear import Packed

Place3 = Annotated[tuple[Annotated[Number, Field(ge=-5000, le=5000)], ...], Field(min_length=3, max_length=3)]


class WayOut(Out):
    """A rig that could hold the piece here."""

    key: str
    words: str
    why: str


class AnchorOut(Out):
    """piece: of whom. own: of this piece's own rig. grams: with movement. hook: mm2. uv: (around, along) on its
    piece."""

    piece: int
    key: str
    name: str
    side: Side
    kind: str
    own: bool
    moved: bool
    at: list[float]
    uv: list[float]
    grams: float | None
    hook: float | None
    rivets: int | None


class StrapOut(Out):
    key: str
    words: str
    side: Side
    piece: int
    material: str
    fastening: str
    points: list[list[float]]
    standing: float
    longest: float
    posture: str
    cut: float
    adjust: float
    note: Note


class RestOut(Out):
    """weight, carried: g. left: what nothing takes up, a share. better: where one more anchor would hold it."""

    side: Side
    weight: float
    carried: float
    left: float
    swings: float
    better: list[float] | None
    words: str


class MagnetOut(Out):
    """alike: how many such lines the piece has. at: mm along one. strip: length and width, mm. problem: why the row
    cannot be made; then it has no magnets."""

    edge: str
    seat: str
    couples: int
    magnets: int
    washers: int
    at: list[float]
    poles: list[str]
    strip: list[float] | None
    note: Note
    advice: list[str]
    problem: str
    alike: int


class OpeningOut(Out):
    """line: key of the seam's stroke. length: of the seam, mm; low, high: of it that open, mm from its lower end. at:
    mm along it
    where something is set."""

    line: str
    name: str
    kind: str
    words: str
    length: float
    low: float
    high: float
    at: list[float]
    hides: str
    parts: list[StrapPart]
    advice: list[str]


class FacingOut(Out):
    """Two free edges that close on each other. row: as the maker chose it. words: which, and by what. length: of the
    stretch where they face each other, mm; low, high: of it that closes. gap: between them there, at most, mm. alike:
    how often the piece has it. problem: why it cannot be."""

    row: EdgeClosing
    words: str
    length: float
    low: float
    high: float
    gap: float
    alike: int
    at: list[float]
    parts: list[StrapPart]
    advice: list[str]
    problem: str


class EdgesOut(Out):
    """Free edges of a piece. piece: its name; empty: the piece that is asked for."""

    piece: str
    edges: list[str]


class OpenableSeamOut(Out):
    """A seam that can be made to open. length: mm."""

    line: str
    name: str
    length: float


class WeightOut(Out):
    """Grams of all copies, as the piece is worn; words: all of it in a sentence."""

    foam: float
    paint: float
    glue: float
    details: float
    rig: float
    total: float
    words: str


class RigOut(Out):
    """plans: parts for one copy, a drawn side each. copies: how many are worn. beneath: names of pieces that it covers
    and is not patterned over. closings: what can close it beside its straps; nothing where nothing can. no_seams: why
    no seam of it can open; empty where one can."""

    plans: list[RigPlan]
    donning: list[Donning]
    weight: WeightOut
    closure: str
    closings: list[str]
    way: str
    ways: list[WayOut]
    anchors: list[AnchorOut]
    straps: list[StrapOut]
    rests: list[RestOut]
    notes: list[Note]
    findings: list[Finding]
    magnets: list[MagnetOut]
    openings: list[OpeningOut]
    seams: list[OpenableSeamOut]
    no_seams: str
    beneath: list[str]
    plates: list[str]
    asked_overlap: float
    magnet_lines: list[str]
    facings: list[FacingOut]
    edges: list[EdgesOut]
    copies: int


class AnchorIn(In):
    """at: where it was dropped on the figure, mm; None puts it back where the rig has it."""

    name: Annotated[str, Field(min_length=1, max_length=80)]
    side: Side = "left"
    at: Place3 | None = None


class MeshOut(Out):
    """positions: x, y, z by turns, mm. piece: its number; 0 for the body."""

    region: str
    piece: int
    side: Side
    positions: list[float]
    triangles: list[int]


class MotionOut(Out):
    key: str
    words: str
    axis: list[float]
    reach: float


class RepairOut(Out):
    mishap: str
    steps: list[str]
    pouch: list[str]


class CarryOut(Out):
    """A thing of the repair pouch, and which mishaps it is for."""

    thing: str
    why: list[str]


class WearOut(Out):
    repairs: list[RepairOut]
    pouch: list[CarryOut]
    packing: list[Packed]


class TurnOut(Out):
    joint: str
    motion: str
    degrees: float


class FigureJoint(Out):
    """moves: regions and the share of the angle they follow. rank: how far from the trunk's middle."""

    key: str
    words: str
    at: list[float]
    motions: list[MotionOut]
    moves: dict[str, float]
    rank: int


class FigureOut(Out):
    """ground: its z, mm. missing: parts nobody measured. straps: of every piece."""

    meshes: list[MeshOut]
    joints: list[FigureJoint]
    postures: dict[str, list[TurnOut]]
    missing: list[str]
    ground: float
    straps: list[StrapOut]
    dressing: list[DressingStep]


class TrimOut(Out):
    """mm off one edge of a piece, so that a joint turns as far as asked; below nothing to be added."""

    piece: int
    name: str
    edge: str
    mm: float


class BindOut(Out):
    """angle: degrees at which two pieces meet; None where they do not. wanted: what a posture asks. kind: what it
    means. by: what stands on the moving and on the fixed piece and meets there, or nothing."""

    motion: str
    words: str
    kind: Literal["binds", "touches", "opens", "reaches", "free"]
    moving: int
    fixed: int
    angle: float | None
    reach: float
    wanted: float
    posture: str
    at: list[float]
    opening: float | None
    overlap: float | None
    trims: list[TrimOut]
    by: list[str]


class StandsOut(Out):
    """on: ground or chair. mm: by how much too low. at: mm on the standing figure."""

    on: str
    piece: int
    name: str
    edge: str
    mm: float
    at: list[float]
    trims: list[TrimOut]


class MovementOut(Out):
    """binds: every pair at one joint, those to look at first. stands: what stands on the ground or on a chair."""

    joint: str
    binds: list[BindOut]
    stands: list[StandsOut]
    leaves_out: str


class TrimIn(In):
    """An edge moved in by ``mm``; below nothing, out."""

    edge: Annotated[str, Field(min_length=1, max_length=120)]
    mm: Annotated[Number, Field(ge=-160, le=160)]
