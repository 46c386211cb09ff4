"""What the bench and the finish send and take."""

from typing import Annotated, Literal

from pydantic import Field, StrictBool

from vellumcut.api.schemas import In, Out
from vellumcut.core.design.finish import Stack, Weathering
from vellumcut.core.design.making import Making, MotifRing, Schools
from vellumcut.core.finish.rules import StackFinding
from vellumcut.core.make.step import Inspection, Place, Stage, Subject
from vellumcut.core.make.steps.surface import SeamCost
from vellumcut.core.notes import Finding, Value


class StepLink(Out):
    """A step that comes before. hard: it cannot be set aside."""

    key: str
    title: str
    rule: str
    hard: bool
    reason: str


class StepOut(Out):
    """A step as it stands. minutes: hands on, as this maker works; estimate: before anything learned; setup: of
    them, getting out and cleaning away. until: seconds
    till it can go on. depth: how many steps must come before it. longest: it is on the longest way. materials: in
    words."""

    key: str
    kind: str
    title: str
    how: str
    minutes: float
    estimate: float
    setup: float
    wait: float
    formula: str
    values: list[Value]
    materials: list[str]
    cautions: list[str]
    reason: str
    timer: str
    work: str
    stage: Stage
    about: Subject
    place: Place
    tools: list[str]
    protection: list[str]
    coats: int
    between: float
    inspection: Inspection | None
    checks: list[str]
    state: Literal["done", "ready", "waiting", "blocked", "mend"]
    until: float
    before: list[StepLink]
    coats_done: int
    checks_done: list[int]
    lacks: list[str]
    done_at: float | None
    begun_at: float | None
    took: float | None
    answer: str
    note: str
    depth: int
    longest: bool


class RuleOut(Out):
    key: str
    reason: str
    hard: bool


class LearnedOut(Out):
    """How this maker works against the estimate, in words."""

    work: str
    words: str
    factor: float


class PhotographOut(Out):
    id: int
    step: str
    words: str
    taken_at: float


class HoursOut(Out):
    """Minutes of hands; setup: of that, getting out and cleaning away. least, most: as other makers take. words: all of
    it in sentences."""

    hands: float
    setup: float
    least: float
    most: float
    words: str


class BenchOut(Out):
    """One piece at the bench. hours: of the work left; whole: minutes of the longest way with every wait. soft: rules
    that may be set aside; set_aside: those that are. materials: of all steps together, in words. wrong, gave_way,
    trouble: sentences."""

    piece_id: int
    name: str
    steps: list[StepOut]
    hours: HoursOut
    whole: float
    wrong: list[str]
    gave_way: list[str]
    trouble: list[str]
    soft: list[RuleOut]
    set_aside: list[RuleOut]
    schools: Schools
    learned: list[LearnedOut]
    photographs: list[PhotographOut]
    seams: list[SeamCost]
    edges: list[str]
    materials: list[str]


class BoundOut(Out):
    piece: int
    key: str
    words: str


class BatchItem(Out):
    piece: int
    key: str


class BatchOut(Out):
    title: str
    place: str
    items: list[BatchItem]
    minutes: float


class UnmadeOut(Out):
    piece: int
    name: str
    trouble: str


class CostumeBenchOut(Out):
    pieces: list[BenchOut]
    hours: HoursOut
    own: list[StepOut]
    bound: list[BoundOut]
    batches: list[BatchOut]
    unmade: list[UnmadeOut]


class MarkIn(In):
    """See ``service.bench.Mark``."""

    key: Annotated[str, Field(min_length=1, max_length=160)]
    done: StrictBool | None = None
    answer: Literal["", "yes", "no", "mended"] = ""
    begin: StrictBool = False
    part: Annotated[str, Field(pattern=r"^(c?[0-9]{1,3})?$")] = ""
    part_done: StrictBool = True
    took: Annotated[float, Field(gt=0, le=6000, allow_inf_nan=False)] | None = None
    note: Annotated[str, Field(max_length=4000)] | None = None


class SchoolOut(Out):
    key: str
    word: str
    options: dict[str, str]


class PaceOut(Out):
    """A class of work. usual, own: mm or m2 a minute, or minutes a piece. learned: its share of the estimate, and from
    how many steps."""

    key: str
    words: str
    per: Literal["mm", "m2", "piece"]
    usual: float
    own: float | None
    learned: float | None
    timed: int


class MotifOut(Out):
    """rings: closed lines, mm, y up. wide, high: mm. area: mm2 within an odd number of them. length: of the cut, mm."""

    rings: list[MotifRing]
    wide: float
    high: float
    area: float
    length: float


class DetailKindOut(Out):
    key: str
    steps: list[str]


class LayerKindOut(Out):
    key: str
    word: str
    group: str
    coats: list[int]
    recoat: float
    settle: float
    tape: float | None
    flex: int
    gloss: int
    tools: list[str]
    colour: str


class RecipeOut(Out):
    """own: the maker's. rigid, giving: stacks for where nothing bends, and where it does."""

    key: str
    what: str
    rigid: Stack
    giving: Stack
    own: bool


class WeatheringOut(Out):
    key: Weathering
    word: str
    place: str
    how: str
    stop: str


class CraftOut(Out):
    """Tables of making: schools, details, layers, recipes, weathering; what is told apart in a workshop."""

    schools: list[SchoolOut]
    details: list[DetailKindOut]
    layers: list[LayerKindOut]
    recipes: list[RecipeOut]
    weatherings: list[WeatheringOut]
    protection: list[str]
    kit: list[str]


class CoatOut(Out):
    """One layer as it is drawn: its words, colour, gloss (0 to 3) and waits, minutes."""

    at: int
    kind: str
    word: str
    colour: str
    gloss: int
    coats: int
    recoat: float
    settle: float
    tool: str
    ml: float


class ZoneOut(Out):
    """A zone on its flat panel. rings: outline, then holes, mm, y up. finish: which of the piece's finishes, from 0."""

    name: str
    panel: int
    side: str
    area: float
    rings: list[list[list[float]]]
    finish: int
    bends: str


class FinishZoneOut(Out):
    """A finish where it lies. at: its place among the piece's own finishes; -1 is what nobody has decided about. area:
    mm2; mask: mm. masked, by_hand: minutes either way."""

    at: int
    name: str
    stack: Stack
    zones: list[str]
    area: float
    mask: float
    masked: float
    by_hand: float
    hand: bool
    bends: str
    coats: list[CoatOut]
    findings: list[StackFinding]


class FinishOut(Out):
    """A piece's finish. order: in which finishes are painted. cards: scraps to prepare. findings: of its zones."""

    piece_id: int
    making: Making
    finishes: list[FinishZoneOut]
    zones: list[ZoneOut]
    findings: list[Finding]
    cards: list[str]
    masks: list[str]
    mask_length: float
