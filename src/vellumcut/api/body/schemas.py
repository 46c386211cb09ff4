"""What goes in and out over HTTP about scans, the cast's sheet and the ink on it."""

from typing import Annotated, Literal

from pydantic import Field, StrictBool, StrictInt

from vellumcut.api.schemas import In, Out, Points, RowId
from vellumcut.core.body.measures import Place, Turned
from vellumcut.core.body.readings import Question
from vellumcut.core.body.segments import AxisName, ScanSegment, Side, UnitName
from vellumcut.core.design.piece import TemplateName
from vellumcut.core.design.sheet import InkSheet
from vellumcut.core.notes import Note
from vellumcut.core.units import Length, Number


class ScanOut(Out):
    id: int
    wearer_id: int
    name: str
    file: str
    taken_at: float
    triangles: int
    unit: UnitName
    up: AxisName
    front: AxisName
    turned: float = 0.0
    warnings: list[str]


class StanceIn(In):
    unit: UnitName
    up: AxisName
    front: AxisName
    turned: Turned = 0.0


class ScanMeshOut(Out):
    """A scan upright in mm, thinned to draw: x, y, z triples and triangles. height: of the whole scan, mm."""

    positions: list[float]
    triangles: list[int]
    height: float
    size: list[float]


class EndsIn(In):
    segment: ScanSegment
    side: Side


class EndsOut(Out):
    low: list[float]
    high: list[float]
    front: list[float]
    how: str


class TouchIn(In):
    """A place touched on the scan's skin and the way its limb runs, in the scan's upright mm."""

    at: Place
    way: Place


class MiddleOut(Out):
    at: list[float]


class FitMeasureOut(Out):
    """girth: of the skin where it is cut, into every hollow. tape: as a tape reads it, straight over hollows. mm."""

    station: str
    at: float
    girth: float
    tape: float


class TubeFitOut(Out):
    """A tube fitted to a scan. verdict: how well it follows it. positions, triangles: the tube in the scan's upright
    mm. places, miss: places of the tube and how far the scan lies outside of it there, mm. questions: what is unlikely
    about it."""

    stations: list[FitMeasureOut]
    verdict: str
    mean: float
    p95: float
    worst: float
    warnings: list[str]
    questions: list[Question]
    positions: list[float]
    triangles: list[int]
    rings: list[Points]
    places: list[float]
    miss: list[float]


class ScannerIn(In):
    shape: str = "middling"
    seed: Annotated[StrictInt, Field(ge=0, le=10_000)] = 1


class JobOut(Out):
    id: int
    title: str
    state: Literal["running", "done", "failed", "cancelled"]
    share: float
    words: str
    result: int | None


class SheetStation(Out):
    name: str
    mm: float
    girth: float


class SheetColumn(Out):
    name: str
    points: Points


class CastSheetOut(Out):
    """The unrolled cast: rows by mm along with their girths, and the grid of the same places in three dimensions.

    around runs from -0.5 to 0.5; points and normals are x, y, z triples row by row. After the grid's points come those
    of the holes' rims, at ``rim`` in (around, along). reach: least and most station coordinate the cast goes to.
    """

    part: str
    side: str
    levels: list[float]
    along: list[float]
    girths: list[float]
    around: list[float]
    points: list[float]
    normals: list[float]
    triangles: list[int]
    rim: Points
    stations: list[SheetStation]
    columns: list[SheetColumn]
    holes: list[Points]
    reach: list[float]


class RegionOut(Out):
    number: int
    ring: Points
    area: float
    inside: list[float]
    twin: bool


class InkProblemOut(Out):
    kind: str
    message: str
    at: list[float]
    strokes: list[str]


class InkOut(Out):
    """A piece's ink as it is read: its strokes, the panels they enclose, what is wrong, and the armour to look at.

    own: the maker has drawn on it; until then the template lays it. bare: nothing is enclosed.
    """

    sheet: InkSheet
    own: bool
    regions: list[RegionOut]
    problems: list[InkProblemOut]
    foam_positions: list[float]
    foam_triangles: list[int]


class GuessedStation(Out):
    name: str
    girth: float
    at: float
    guessed: bool


class GuessedLimb(Out):
    segment: str
    side: str
    stations: list[GuessedStation]
    borrowed: bool


class GuessedTorso(Out):
    girths: dict[str, float]
    lengths: dict[str, float]
    guessed: list[str]


class CompletedOut(Out):
    """A set with what proportion fills in. trouble: why the trunk cannot be built, if it cannot."""

    limbs: list[GuessedLimb]
    torso: GuessedTorso | None
    trouble: str


class CsvIn(In):
    text: Annotated[str, Field(max_length=500_000)]


class CostumeIn(In):
    templates: Annotated[tuple[TemplateName, ...], Field(max_length=20)] = ()


class FormIn(In):
    """Girths of a dress form or of a tape double's core at stations, mm."""

    girths: Annotated[dict[str, Annotated[Length, Field(ge=0, le=3000)]], Field(max_length=20)]


class PaddingOut(Out):
    station: str
    form: float
    wearer: float
    thickness: float
    layers: int
    note: Note


class PaddingPlanOut(Out):
    rows: list[PaddingOut]
    stuffing: float
    too_big: list[str]


class PicturePlacing(In):
    """Where a reference picture lies on the sheet. at: its top left corner in (sheet mm right of the middle line, mm
    up).

    scale: mm of sheet for one pixel. opacity: 0 to 1.
    """

    at: Annotated[list[Annotated[Number, Field(ge=-1e5, le=1e5)]], Field(min_length=2, max_length=2)]
    scale: Annotated[Number, Field(gt=0, le=1000)]
    opacity: Annotated[Number, Field(ge=0, le=1)] = 0.5
    shown: StrictBool = True


class PictureOut(Out):
    id: int
    piece_id: RowId
    name: str
    size: list[int]
    placing: PicturePlacing
