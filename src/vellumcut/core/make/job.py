"""What build rules read and write: a job, a step, a rule."""

from collections.abc import Callable
from dataclasses import dataclass, field
from functools import cached_property

from vellumcut.core.body.segments import BodyPart
from vellumcut.core.ink.library.table import TEMPLATES
from vellumcut.core.ink.lines import opens
from vellumcut.core.ink.stage import InkedPiece
from vellumcut.core.layout.pattern import PiecePattern
from vellumcut.core.make.glue import CementRoom
from vellumcut.core.make.quantities import Material
from vellumcut.core.notes import Value
from vellumcut.core.rig.straps import ANCHOR, EYELET_INSET, RigPlan


@dataclass(frozen=True)
class Step:
    """One thing to do. minutes: hands on; wait: before the next step. formula: how minutes were made."""

    key: str
    title: str
    how: str
    minutes: float
    wait: float
    formula: str
    values: tuple[Value, ...]
    materials: tuple[Material, ...]
    cautions: tuple[str, ...]
    reason: str
    timer: str = ""


@dataclass(frozen=True)
class Facts:
    """What a piece has, so that no step speaks of what it has not. part: of the body. drawn: not a plain limb shell.

    joins: seams to glue. darts: to close. strapped: it opens at the back and its straps are worked out.
    """

    part: BodyPart
    drawn: bool
    joins: bool
    darts: bool
    strapped: bool

    @property
    def glued(self) -> bool:
        """Whether anything is glued edge to edge."""
        return self.joins or self.darts


def facts_of(piece: InkedPiece) -> Facts:
    """Read off a piece's ink; needs no flat panel."""
    design, drawn = piece.design, piece.drawn is not None
    sides = [x.arc for ink in piece.panels for x in (*ink.outline, *ink.holes) if x.kind == "seam" and not opens(x.arc)]
    joins = bool(sides) if drawn else design.back == "closed"
    darts = any(ink.darts for ink in piece.panels)
    return Facts(TEMPLATES[design.template].part, drawn, joins, darts, not drawn and design.back == "open")


@dataclass(frozen=True)
class Job:
    """What the rules read. Lengths in mm over all copies, area in mm2 of one face."""

    pattern: PiecePattern
    rigs: tuple[RigPlan, ...]
    tightest: float
    room: CementRoom = field(default_factory=CementRoom)

    @cached_property
    def facts(self) -> Facts:
        """What the piece has, read off its ink."""
        return facts_of(next(iter(self.pattern.inked.values())))

    @property
    def rim_length(self) -> float:
        """Edges that stay free, both faces' corners to round."""
        return max(0.0, self.pattern.cut_length - 2 * self.pattern.joined_length)

    @property
    def strap_ends(self) -> int:
        """How many webbing ends are anchored."""
        return sum(p.count for rig in self.rigs for p in rig.parts if "webbing" in p.name)

    @property
    def backed_length(self) -> float:
        """Closing edges with a strip cemented inside them: lacing and zips pull along the whole edge."""
        laced = self.pattern.design.closure in ("lacing", "zip") and self.facts.strapped
        return 2 * self.pattern.opening_length if laced else 0.0

    @property
    def patch_area(self) -> float:
        """Foam under anchors and backing strips, mm2."""
        return self.strap_ends * ANCHOR * self.pattern.design.rig.webbing + self.backed_length * 2 * EYELET_INSET


@dataclass(frozen=True)
class Rule:
    """One step's rule. applies: to which designs; make: the step itself, from the piece's geometry."""

    key: str
    make: Callable[[Job], Step]
    applies: Callable[[Facts], bool] = lambda facts: True
