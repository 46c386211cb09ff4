"""What build rules read and write: a job, a step, a rule."""

from collections.abc import Callable
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np

from vellumcut.core.body.segments import BodyPart, Side
from vellumcut.core.foam.grooves import FoldCut, fold_lines
from vellumcut.core.foam.heat import HeatPlan
from vellumcut.core.foam.joints import Joint
from vellumcut.core.foam.stacks import layers_of
from vellumcut.core.ink.foamwork import FoldWay, Layered
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
    ways: how its folds and scores are worked. kerfed: some panel is bent by kerfs. layered: some panel has layers, and
    they are cut to the school of that name.
    """

    part: BodyPart
    drawn: bool
    joins: bool
    darts: bool
    strapped: bool
    ways: frozenset[FoldWay] = frozenset()
    kerfed: bool = False
    layered: Layered | None = None

    @property
    def grooved(self) -> bool:
        """Whether anything is cut into it from one face before it is formed."""
        return self.kerfed or bool(self.ways & {"groove", "drum", "set back"})

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
    ways = frozenset(work.way for _, _, work in fold_lines(piece))
    kerfed = any(x.bend == "kerf" for x in design.foam_work.panels)
    stacked = any(len(layers_of(design, ink.number)) > 1 for ink in piece.panels)
    strapped = not drawn and design.back == "open"
    layered = design.layered if stacked else None
    return Facts(TEMPLATES[design.template].part, drawn, joins, darts, strapped, ways, kerfed, layered)


@dataclass(frozen=True)
class Job:
    """What the rules read. Lengths in mm over all copies, area in mm2 of one face. heat: how its thickest sheet is warmed
    through, None where the gun cannot; patch: what is warmed at one time, cm2."""

    pattern: PiecePattern
    rigs: tuple[RigPlan, ...]
    heat: HeatPlan | None = None
    patch: float = 100.0
    room: CementRoom = field(default_factory=CementRoom)

    @cached_property
    def facts(self) -> Facts:
        """What the piece has, read off its ink."""
        return facts_of(next(iter(self.pattern.inked.values())))

    def _copies(self, side: Side, panel: int) -> int:
        """How many of a panel are cut, all layers of it counted once."""
        rows = (p for p in self.pattern.panels if (p.side, p.flat.number, p.layer.number) == (side, panel, 1))
        return sum(p.copies for p in rows)

    @property
    def bevelled(self) -> list[tuple[Joint, float]]:
        """Joints whose edges are bevelled, and how much edge that is over all copies, mm."""
        return [
            (j, j.length * sum(self._copies(side, n) for n in (j.panels[:1] if j.mirrored else j.panels)))
            for side, joints in self.pattern.joints.items()
            for j in joints
            if any(b.off_square for _, _, both in j.stations for b in both)
        ]

    def folded(self, *ways: FoldWay) -> list[tuple[FoldCut, float]]:
        """Fold and score lines that are worked so, and their length over all copies, mm."""
        return [
            (c, c.length * c.lines * self._copies(side, c.panel))
            for side, cuts in self.pattern.folds.items()
            for c in cuts
            if c.work.way in ways
        ]

    @property
    def kerf_length(self) -> float:
        """Kerfs as they are drawn, over all copies, mm."""
        return sum(
            float(np.linalg.norm(np.diff(x.points, axis=0), axis=1).sum()) * p.copies
            for p in self.pattern.panels for x in p.flat.lines if x.kind == "kerf"
        )  # fmt: skip

    @property
    def patches(self) -> float:
        """How many times a patch is warmed to go over the whole piece."""
        return max(1.0, self.pattern.area / 100 / self.patch)

    @property
    def rim_length(self) -> float:
        """Edges that stay free, both faces' corners to round; layers on each other have one."""
        rims = sum(p.flat.outline_length * p.copies for p in self.pattern.panels if p.layer.number == 1)
        return max(0.0, rims - 2 * self.pattern.joined_length)

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
