"""What build rules read and write: a job, a step, a rule."""

from collections.abc import Callable
from dataclasses import dataclass, field

from vellumcut.core.ink.design import PieceDesign
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
class Job:
    """What the rules read. Lengths in mm over all copies, area in mm2 of one face."""

    pattern: PiecePattern
    rigs: tuple[RigPlan, ...]
    tightest: float
    room: CementRoom = field(default_factory=CementRoom)

    @property
    def closed(self) -> bool:
        return self.pattern.design.back == "closed"

    @property
    def rim_length(self) -> float:
        """Edges that stay free, both faces' corners to round."""
        return self.pattern.cut_length - (2 * self.pattern.seam_length if self.closed else 0.0)

    @property
    def strap_ends(self) -> int:
        return sum(p.count for rig in self.rigs for p in rig.parts if "webbing" in p.name)

    @property
    def backed_length(self) -> float:
        """Closing edges with a strip cemented inside them: lacing and zips pull along the whole edge."""
        return (
            2 * self.pattern.seam_length
            if self.pattern.design.closure in ("lacing", "zip") and not self.closed
            else 0.0
        )

    @property
    def patch_area(self) -> float:
        """Foam under anchors and backing strips, mm2."""
        return self.strap_ends * ANCHOR * self.pattern.design.rig.webbing + self.backed_length * 2 * EYELET_INSET


@dataclass(frozen=True)
class Rule:
    """One step's rule. applies: to which designs; make: the step itself, from the piece's geometry."""

    key: str
    make: Callable[[Job], Step]
    applies: Callable[[PieceDesign], bool] = lambda design: True
