"""What build rules read and write: a job, a step, a rule."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property

from vellumcut.core.body.segments import BodyPart, Side
from vellumcut.core.design.foam import FoldWay, Layered
from vellumcut.core.design.making import Detail, Making, Schools, SeamWay, with_changes
from vellumcut.core.design.piece import PieceDesign, TemplateName
from vellumcut.core.errors import CraftError
from vellumcut.core.finish.recipes import plain_finish
from vellumcut.core.finish.zones import PaintedZone, painted_zones
from vellumcut.core.flatten.came_flat import mate_name
from vellumcut.core.foam.grooves import FoldCut, fold_lines
from vellumcut.core.foam.heat import HeatPlan
from vellumcut.core.foam.joints import Joint, seam_lines, seam_name
from vellumcut.core.foam.stacks import layers_of
from vellumcut.core.ink.library.table import TEMPLATES, twinned
from vellumcut.core.ink.lines import line_word
from vellumcut.core.ink.stage import InkedPiece
from vellumcut.core.make.glue import CementRoom
from vellumcut.core.make.glue_choice import GlueChoice, JointKind, Surface, choose_glue
from vellumcut.core.make.owned import Owned
from vellumcut.core.make.step import Step
from vellumcut.core.paces import Tempo
from vellumcut.core.pattern.laid_on.sums import as_laid
from vellumcut.core.pattern.pattern import PiecePattern
from vellumcut.core.rig.anchors import BED
from vellumcut.core.rig.closures.behind import ZIP_STRIPS
from vellumcut.core.rig.closures.eyelets import EYELET_INSET
from vellumcut.core.rig.closures.magnets import magnets_of
from vellumcut.core.rig.closures.openings import openings_of
from vellumcut.core.rig.laid import LaidPiece
from vellumcut.core.rig.part import StrapPart
from vellumcut.core.rig.parts import RigPlan
from vellumcut.core.solids.piece import flat_of, known_of


@dataclass(frozen=True)
class SeamFact:
    """A seam that is glued. cup: one of its panels is a cup that it runs all round. stays_open: between which mm from
    its lower end it is not."""

    name: str
    panels: tuple[int, ...]
    cup: bool = False
    stays_open: tuple[float, float] | None = None


@dataclass(frozen=True)
class DartFact:
    name: str
    panel: int


@dataclass(frozen=True)
class Facts:
    """What a piece has, so that no step speaks of what it has not. part: of the body. template: None for a solid.
    drawn: not a plain limb shell.

    panels: their numbers. seams, darts: to glue. strapped: straps or a closure hold it.
    ways: how its folds and scores are worked. kerfed: some panel is bent by kerfs. layered: some panel has layers, and
    they are cut to the school of that name. thinned: some free edge is. paired: a left and a right are cut.
    making, schools, owned: as the maker decided. over: names of pieces that it lies on.
    """

    part: BodyPart
    template: TemplateName | None
    drawn: bool
    panels: tuple[int, ...]
    seams: tuple[SeamFact, ...]
    darts: tuple[DartFact, ...]
    strapped: bool
    ways: frozenset[FoldWay] = frozenset()
    kerfed: bool = False
    layered: Layered | None = None
    thinned: bool = False
    paired: bool = False
    making: Making = field(default_factory=Making)
    schools: Schools = field(default_factory=Schools)
    owned: Owned = field(default_factory=Owned)
    over: tuple[str, ...] = ()

    @property
    def joins(self) -> bool:
        """Whether it has seams to glue."""
        return bool(self.seams)

    @property
    def grooved(self) -> bool:
        """Whether anything is cut into it from one face before it is formed."""
        return self.kerfed or bool(self.ways & {"groove", "drum", "set back"})

    @property
    def glued(self) -> bool:
        """Whether anything is glued edge to edge."""
        return bool(self.seams or self.darts)

    @property
    def cups(self) -> tuple[SeamFact, ...]:
        return tuple(s for s in self.seams if s.cup)

    def surface(self, name: str) -> SeamWay:
        """How a seam or dart ends up."""
        own = next((s.way for s in self.making.seams if s.name == name and s.way), None)
        return own or self.schools.seams

    @property
    def joints(self) -> tuple[str, ...]:
        """Names of all seams and darts, each once."""
        return tuple(dict.fromkeys([s.name for s in self.seams] + [d.name for d in self.darts]))

    @property
    def shown(self) -> tuple[str, ...]:
        """Seams and darts that no strip covers."""
        return tuple(n for n in self.joints if self.surface(n) != "covered")

    def surfaced(self, way: SeamWay) -> tuple[str, ...]:
        """Names of seams and darts that end up so."""
        return tuple(n for n in self.joints if self.surface(n) == way)


def _with_magnets(piece: InkedPiece) -> Making:
    """What goes on a piece, its rows of magnets among it: they bring the steps that any magnets bring."""
    making = piece.design.making
    rows = magnets_of(LaidPiece(piece)) if piece.design.rig.magnets else []
    more = (
        Detail(
            key=f"rig-magnets-{k}",
            kind="magnet",
            name=f"magnets along the {x.row.edge}",
            count=x.magnets,
            size=x.row.size,
        )
        for k, x in enumerate(rows, 1)
        if x.magnets
    )
    return making.model_copy(update={"details": (*making.details, *more)}) if rows else making


def facts_of(piece: InkedPiece, schools: Schools | None = None, owned: Owned | None = None) -> Facts:
    """Read off a piece's ink; needs no flat panel. schools: of the build, before what the piece does otherwise."""
    design, drawn = piece.design, piece.drawn is not None
    whole = flat_facts(design, schools, owned) if design.came_flat else None
    if whole is not None and {p.number for p in piece.panels} != set(whole.panels):
        return whole  # Some of its panels lie nowhere: what is made of all of them is read off the table.
    ways = frozenset(work.way for _, _, work in fold_lines(piece))
    stacked = any(len(layers_of(design, ink.number)) > 1 for ink in piece.panels)
    darts = tuple(dict.fromkeys(DartFact(d.name, ink.number) for ink in piece.panels for d in ink.darts))
    return Facts(
        part=TEMPLATES[design.template].part,
        template=design.worn_as,
        drawn=drawn,
        panels=tuple(ink.number for ink in piece.panels),
        seams=_seam_facts(piece) if drawn or design.back == "closed" else (),
        darts=darts,
        strapped=drawn or design.back == "open",
        ways=ways,
        kerfed=any(x.bend == "kerf" for x in design.foam_work.panels),
        layered=design.layered if stacked else None,
        thinned=any(e.shape == "thinned" for e in design.foam_work.edges),
        paired=twinned(design) or any(piece.twins),
        making=_with_magnets(piece),
        schools=with_changes(schools or Schools(), design.making.schools),
        owned=owned or Owned(),
        over=design.over,
    )


def flat_facts(design: PieceDesign, schools: Schools | None = None, owned: Owned | None = None) -> Facts:
    """Read off panels that came flat, or off a solid. Raises CraftError."""
    work, solid = flat_of(design), design.solid is not None
    if work is None:
        raise CraftError("This piece has no panels that came flat", "design.flat")
    stacked = any(len(layers_of(design, p.number)) > 1 for p in work.panels)
    seams = tuple(
        SeamFact(mate_name(k, m), tuple(dict.fromkeys((m.a.panel, m.b.panel)))) for k, m in enumerate(work.mates)
    )
    return Facts(
        part=TEMPLATES[design.template].part,
        template=design.worn_as,
        drawn=True,
        panels=tuple(p.number for p in work.panels),
        seams=seams,
        darts=tuple(DartFact(f"dart {k}", p.number) for p in work.panels for k in range(1, len(p.darts) + 1)),
        strapped=not solid,
        ways=frozenset(c.work.way for c in known_of(design).folds) if solid else frozenset(),
        layered=design.layered if stacked else None,
        paired=twinned(design) or any(p.mirrored for p in work.panels),
        making=design.making,
        schools=with_changes(schools or Schools(), design.making.schools),
        owned=owned or Owned(),
        over=design.over,
    )


def _seam_facts(piece: InkedPiece) -> tuple[SeamFact, ...]:
    """Seams by name; those of one name are one."""
    round_holes = {line.arc for ink in piece.panels for line in ink.holes if line.kind == "seam"}
    slits = {x.name: (x.low, x.high) for x in openings_of(LaidPiece(piece)) if not x.row.whole}
    out: dict[str, SeamFact] = {}
    for arc, (line, panels) in seam_lines(piece).items():
        name = seam_name(arc, line)
        known = out.get(name)
        numbers = tuple(dict.fromkeys([*(known.panels if known else ()), *panels]))
        out[name] = SeamFact(name, numbers, arc in round_holes or bool(known and known.cup), slits.get(name))
    return tuple(out.values())


@dataclass(frozen=True)
class Job:
    """What the rules read. Lengths in mm over all copies, area in mm2 of one face. heat: how its thickest sheet is
    warmed through, None where the gun cannot; patch: what is warmed at one time, cm2."""

    pattern: PiecePattern
    rigs: tuple[RigPlan, ...]
    heat: HeatPlan | None = None
    patch: float = 100.0
    room: CementRoom = field(default_factory=CementRoom)
    schools: Schools = field(default_factory=Schools)
    owned: Owned = field(default_factory=Owned)
    tempo: Tempo = field(default_factory=Tempo)

    @cached_property
    def facts(self) -> Facts:
        """What the piece has, read off its ink."""
        if self.pattern.design.came_flat and not self.pattern.inked:
            return flat_facts(self.pattern.design, self.schools, self.owned)
        facts = facts_of(next(iter(self.pattern.inked.values())), self.schools, self.owned)
        return replace(facts, making=as_laid(facts.making, self.pattern.laid))

    @cached_property
    def painted(self) -> list[PaintedZone]:
        """Its finishes and the zones they cover."""
        return painted_zones(
            self.pattern, self.facts.making, plain_finish(self.facts.making, self.facts.schools), self.tempo
        )

    def glue(self, kind: JointKind, surface: Surface = "foam", name: str = "") -> GlueChoice:
        """The glue for a joint. name: of a seam that may have one of its own."""
        own = next((s.glue for s in self.facts.making.seams if s.name == name), None)
        return choose_glue(kind, surface, self.facts.schools, self.facts.owned, self.room, own)

    def joint_length(self, *names: str) -> float:
        """Of seams and darts of these names over all copies, mm, one side of each; layers on each other count once."""
        return sum(mm for name, mm, layer in self.pattern.joined if name in names and layer.number == 1)

    def joint_area(self, *names: str) -> float:
        """One face of each of them, mm2: every layer by its own thickness."""
        return sum(mm * layer.thickness for name, mm, layer in self.pattern.joined if name in names)

    @cached_property
    def free_edges(self) -> dict[str, float]:
        """Free edges by name, both halves of a mirrored one together, mm over all copies."""
        out: dict[str, float] = {}
        for p in self.pattern.panels:
            for e in p.flat.edges if p.layer.number == 1 else ():
                if e.kind not in ("seam", "dart"):
                    out[line_word(e.name)] = out.get(line_word(e.name), 0.0) + e.length * p.copies
        return out

    def edge_length(self, name: str) -> float:
        """Of free edges of that name, mm; 0 where there is none."""
        return self.free_edges.get(line_word(name), 0.0)

    def detail_length(self, detail: Detail) -> float:
        """Of a strip or an edge, mm: the edge's own, where it is fixed to one."""
        return self.edge_length(detail.edge) or detail.length * detail.count

    def panel_area(self, number: int) -> float:
        """Of all copies of a panel's inner sheet, mm2."""
        return sum(
            p.flat.area * p.copies for p in self.pattern.panels if (p.flat.number, p.layer.number) == (number, 1)
        )

    def panel_copies(self, number: int) -> int:
        """How many of a panel are cut, all layers of it counted once."""
        return sum(p.copies for p in self.pattern.panels if (p.flat.number, p.layer.number) == (number, 1))

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
        return sum(x.length * p.copies for p in self.pattern.panels for x in p.flat.lines if x.kind == "kerf")

    @property
    def patches(self) -> float:
        """How many times a patch is warmed to go over the whole piece."""
        return max(1.0, self.pattern.area / 100 / self.patch)

    @property
    def rim_length(self) -> float:
        """Edges that stay free, both faces' corners to round; layers on each other have one."""
        rims = sum(p.flat.outline_length * p.copies for p in self.pattern.panels if p.layer.number == 1)
        return max(0.0, rims - 2 * self.pattern.joined_length)

    @cached_property
    def rig_parts(self) -> tuple[StrapPart, ...]:
        """What holds one copy, of each rig."""
        return tuple(p for rig in self.rigs for p in rig.parts)

    @property
    def strap_ends(self) -> int:
        """How many strap ends are anchored to its foam, on all copies: its own, and those of what hangs on it."""
        return sum(rig.anchors for rig in self.rigs) * self.alike

    @property
    def alike(self) -> int:
        """Copies that each rig stands for: two where one drawing is worn left and right."""
        return 2 if twinned(self.pattern.design) and len(self.rigs) == 1 else 1

    @property
    def backed_length(self) -> float:
        """Closing edges with a strip cemented inside them: lacing and zips pull along the whole edge."""
        backed = self.facts.schools.eyelets == "backed"
        laced = sum(2 * (max(p.at) + EYELET_INSET) for p in self.rig_parts if backed and p.set_by == "punch" and p.at)
        zipped = sum(p.length * p.count for p in self.rig_parts if p.name == ZIP_STRIPS)
        return (laced + zipped) * self.alike

    @property
    def patch_area(self) -> float:
        """Foam under anchors and backing strips, mm2."""
        return self.strap_ends * BED * self.pattern.design.rig.webbing + self.backed_length * 2 * EYELET_INSET


@dataclass(frozen=True)
class Rule:
    """One kind of step. about: what there is one step for each of, such as panels' numbers; ("",) is the whole piece,
    nothing means that the piece needs no such step. make: the step itself, from the piece's geometry."""

    kind: str
    make: Callable[[Job, str], Step]
    about: Callable[[Facts], Sequence[str]] = lambda facts: ("",)


def once(applies: Callable[[Facts], bool]) -> Callable[[Facts], Sequence[str]]:
    """One step for the whole piece, where it applies."""
    return lambda facts: ("",) if applies(facts) else ()


def key_of(kind: str, about: str) -> str:
    return f"{kind}:{about}" if about else kind
