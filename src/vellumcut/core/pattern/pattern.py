"""A whole piece from measurements to labelled flat panels: the spine everything else reads."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from vellumcut.core.body.measures import Measurements
from vellumcut.core.body.segments import Side
from vellumcut.core.cast.armour import ArmourSurface
from vellumcut.core.cast.halves import WHOLE, drawn_apart, worn_tube
from vellumcut.core.cast.stations import NO_SCANS, Scanned, guess_findings
from vellumcut.core.design.foam import FoamKind
from vellumcut.core.design.piece import DartEdges, PieceDesign
from vellumcut.core.flatten.flaws import find_flaws
from vellumcut.core.flatten.joining import MISMATCH, MISMATCH_SHARE, join_panels
from vellumcut.core.flatten.mesh import EDIT_SIZE, QUICK_SIZE
from vellumcut.core.flatten.panel import FlatPanel, Seam
from vellumcut.core.flatten.solving import ROUGHLY_HARD, SolvedPanel, solve_panel, solve_shown
from vellumcut.core.foam.bends import PanelBend, kerf_findings, kerf_lines, panel_bends, plan_kerfs
from vellumcut.core.foam.edges import free_edges, unknown_edges
from vellumcut.core.foam.grooves import FoldCut, fold_cuts, stack_findings
from vellumcut.core.foam.joints import Joint, joints_of
from vellumcut.core.foam.sheets import CATALOGUE, Allowance, FoamGive, give_of
from vellumcut.core.foam.stacks import PlacedLayer, hardest_layer, layers_of
from vellumcut.core.foam.verdict import (
    STATES,
    State,
    height_words,
    judge_panel,
    place_words,
    sheet_findings,
    strain_state,
)
from vellumcut.core.ink.library.table import TEMPLATES
from vellumcut.core.ink.lines import PanelInk
from vellumcut.core.ink.regions import InkProblem
from vellumcut.core.ink.stage import InkedPiece, ink_piece
from vellumcut.core.ink.templates import is_inked
from vellumcut.core.notes import Finding, Level, Note
from vellumcut.core.parts.laid import bare, lays_on, part_marks
from vellumcut.core.pattern.drawn import DrawnPanel, is_turned
from vellumcut.core.pattern.labels import label_panel
from vellumcut.core.pattern.laid_on.foam_use import FoamUse, foam_used
from vellumcut.core.pattern.laid_on.panels import beneath, part_panels
from vellumcut.core.pattern.laid_on.sums import PartSum, sum_parts
from vellumcut.core.pattern.pattern_notes import pattern_notes, stand_off_note
from vellumcut.core.pattern.table import BETWEEN, lay_out
from vellumcut.core.pattern.weave import weave_findings
from vellumcut.core.solids.piece import Known
from vellumcut.core.solids.words import solid_notes

OUTERMOST = 99
"""As a layer: the sheet of each panel that is seen."""


@dataclass(frozen=True)
class PiecePattern:
    """Panels of one piece with how each figure was made and what to look at. inked: body, ink and armour surface per
    drawn side.

    give: what its foam gives; gives: what the maker's own scraps gave. told: what was found while the body and the
    ink were read. school: how the build cuts its darts. size: of the meshes it was laid on. known: of a solid, whose
    seams, folds and bends follow from its own shape.
    """

    name: str
    design: PieceDesign
    panels: tuple[DrawnPanel, ...]
    inked: dict[Side, InkedPiece]
    give: Allowance
    told: tuple[Finding, ...] = ()
    gives: tuple[FoamGive, ...] = ()
    school: DartEdges = "by fold"
    size: float | None = EDIT_SIZE
    known: Known | None = None

    @cached_property
    def parts(self) -> tuple[DrawnPanel, ...]:
        """What is cut to be laid on its panels, each beside the one it lies on."""
        parts = [
            part
            for side, piece in self.inked.items()
            for part in part_panels(piece, [p for p in self.panels if p.side == side], self.design)
        ]
        return beneath(parts, self.panels)

    @cached_property
    def laid(self) -> dict[str, PartSum]:
        """All that is laid on it, by detail."""
        return sum_parts(self.inked, self.panels)

    @cached_property
    def foam(self) -> dict[tuple[FoamKind, float], FoamUse]:
        """All that is cut for it, by kind and thickness: what it takes of a sheet, and what stays in the piece."""
        return foam_used(self.panels, self.parts, self.laid.values())

    @property
    def to_cut(self) -> tuple[DrawnPanel, ...]:
        """Its panels and what is laid on them."""
        return (*self.panels, *self.parts)

    @property
    def settled(self) -> bool:
        """Whether it reads as it is shown: not while it was laid quickly and some panel may want its finest mesh, or
        what is laid on it has yet to come."""
        if self.size != QUICK_SIZE:
            return True
        return not lays_on(self.design) and all(p.flat.free_p95 <= ROUGHLY_HARD for p in self.panels)

    def flats(self, side: Side, layer: int = 1) -> list[FlatPanel]:
        """That layer of every panel of a side; of panels with fewer, their outermost."""
        own = [p for p in self.panels if p.side == side]
        return [p.flat for p in own if p.layer.number == min(layer, p.layer.count)]

    @cached_property
    def joints(self) -> dict[Side, list[Joint]]:
        """How each seam and dart of every drawn side is cut."""
        own = {self.panels[0].side: list(self.known.joints)} if self.known else {}
        return own | {side: joints_of(piece, self.school) for side, piece in self.inked.items()}

    @cached_property
    def bends(self) -> dict[Side, list[PanelBend]]:
        """How every panel of each drawn side is bent."""
        own = {self.panels[0].side: list(self.known.bends)} if self.known else {}
        return own | {side: panel_bends(piece) for side, piece in self.inked.items()}

    @cached_property
    def folds(self) -> dict[Side, list[FoldCut]]:
        """How every fold and score line of each drawn side is worked."""
        own = {self.panels[0].side: list(self.known.folds)} if self.known else {}
        return own | {side: fold_cuts(piece) for side, piece in self.inked.items()}

    @property
    def tightest(self) -> float:
        """Smallest radius that the middle of its foam is bent to, mm."""
        return min((abs(b.tightest) for bends in self.bends.values() for b in bends), default=float("inf"))

    @property
    def surfaces(self) -> dict[Side, ArmourSurface]:
        """The armour surface of every drawn side."""
        return {side: piece.surface for side, piece in self.inked.items()}

    @property
    def in_sheets(self) -> dict[tuple[FoamKind, float], State]:
        """How the panel that asks most would lie in each foam that is sold; what it asks hardly changes with it."""
        if not self.inked or any(p.verdict.state == "unknown" for p in self.panels):
            return {}
        strains = [p.flat.summary for p in self.panels]
        return {
            (kind, sheet.thickness): max(
                (strain_state(x, give_of(kind, sheet.thickness, self.gives)) for x in strains), key=STATES.index
            )
            for sheet in CATALOGUE
            for kind in sheet.kinds
        }

    @cached_property
    def notes(self) -> tuple[Note, ...]:
        """How the figures of the piece were made."""
        if self.known:
            return tuple(solid_notes(self.design))
        if not self.inked:
            return ()
        if self.design.flat or is_inked(self.design) or any(p.flat.darts for p in self.panels):
            return (stand_off_note(list(self.surfaces.values())[-1], self.design),)
        apart = len(self.panels) > 1
        rows = (pattern_notes(self.surfaces[p.side], self.design, p.flat, p.side if apart else "") for p in self.panels)
        return tuple(note for row in rows for note in row)

    @cached_property
    def findings(self) -> tuple[Finding, ...]:
        """What to look at, each said once."""
        found = [f for p in self.panels if p.side in self.inked for f in _findings(self.inked[p.side], self.design, p)]
        return tuple(dict.fromkeys([*self.told, *found, *self._of_foam()]))

    def _of_foam(self) -> Iterator[Finding]:
        """What is to be looked at in how its edges, folds and bends are worked."""
        for side, bends in self.bends.items():
            worst_first = sorted(bends, key=lambda b: -b.strain)
            yield from {f.message: f for b in reversed(worst_first) for f in b.findings}.values()
            yield from (f for cut in self.folds[side] for f in cut.findings)
        for side, piece in self.inked.items():
            for bend, panel in zip(self.bends[side], piece.panels, strict=True):
                if bend.kerfed:
                    yield from kerf_findings(plan_kerfs(piece.surface, panel, bend), panel.number)
            work = self.design.foam_work
            if work.seams or work.edges:
                rows = unknown_edges(work, free_edges(self.flats(side)), self.joints[side])
                yield from (Finding("look", words, "foam") for words in rows)
            yield from stack_findings(piece, self.folds[side])
            if work.weave:
                yield from weave_findings(self.flats(side, OUTERMOST), work.weave)

    @property
    def cut_length(self) -> float:
        """Knife path over all copies, mm."""
        return sum(p.flat.outline_length * p.copies for p in self.to_cut)

    @property
    def area(self) -> float:
        """Foam in all copies, mm2."""
        return sum(p.flat.area * p.copies for p in self.panels)

    @property
    def face_area(self) -> float:
        """What is seen from outside over all copies, mm2: the outermost layers alone."""
        return sum(p.flat.area * p.copies for p in self.panels if p.layer.number == p.layer.count)

    @property
    def glued_area(self) -> float:
        """Layers glued on each other over all copies, mm2, one face of each joint."""
        return self.area - self.face_area

    @cached_property
    def joined(self) -> tuple[tuple[str, float, PlacedLayer], ...]:
        """Every seam and dart that is glued: its name, one side of it over all copies, mm, and the sheet it is in."""
        return tuple(
            (s.name, s.on_body * p.copies / (2 if s.mirrored else 1), p.layer)
            for p in self.panels
            for s in p.flat.seams
            if s.kind != "opening"
        )

    @property
    def joined_length(self) -> float:
        """All of them, mm; layers on each other count once."""
        return sum(length for _, length, layer in self.joined if layer.number == 1)

    @property
    def opening_length(self) -> float:
        """Edges that open over all copies, mm, one side of each."""
        return sum(s.on_body * p.copies for p in self.panels for s in p.flat.seams if s.kind == "opening")

    @property
    def copies(self) -> int:
        """Parts to cut."""
        return sum(p.copies for p in self.to_cut)


def drawn_sides(measures: Measurements, design: PieceDesign) -> tuple[tuple[Side, bool], ...]:
    """Which sides get a drawing of their own, and whether the other is its twin.

    Two limbs that share their readings share one pattern, turned over once; limbs measured apart get two.
    A trunk and a neck are one.
    """
    part = TEMPLATES[design.template].part
    if part in WHOLE:
        return (("left", False),)
    if design.side != "both":
        return ((design.side, False),)
    return (("left", False), ("right", False)) if drawn_apart(measures, part, design.halves) else (("left", True),)


def pattern_piece(
    measures: Measurements,
    design: PieceDesign,
    name: str,
    build: str,
    size: float | None,
    scanned: Scanned = NO_SCANS,
    gives: tuple[FoamGive, ...] = (),
    school: DartEdges = "by fold",
    laid: Mapping[Side, InkedPiece] | None = None,
) -> PiecePattern:
    """Measure to pattern. size: mesh in mm (EDIT_SIZE, CUT_SIZE, or QUICK_SIZE, which leaves out what is laid on the
    panels: an outline does not wait for what follows from it). gives: what the maker's own scraps gave.
    school: how the build cuts its darts. laid: the ink of its drawn sides, where it is laid on this body already.

    Raises CraftError in a maker's words.
    """
    hardest = hardest_layer(design)
    give = give_of(hardest.kind, hardest.thickness, gives)
    part = TEMPLATES[design.template].part
    panels: list[DrawnPanel] = []
    inked: dict[Side, InkedPiece] = {}
    told: list[Finding] = []
    for side, twin in drawn_sides(measures, design):
        piece = laid[side] if laid else ink_piece(worn_tube(measures, part, side, design.halves, scanned), design)
        inked[side] = piece = bare(piece) if size == QUICK_SIZE else piece
        told += [_ink_finding(p) for p in piece.problems]
        for flat, layer, mirrored in flatten_layers(piece, size):
            where = place_words(flat.summary.worst_uv, piece.tube.names, part in WHOLE)
            flaws = find_flaws(flat, design.true_seams)
            verdict = judge_panel(flat, give_of(layer.kind, layer.thickness, gives), where, not is_inked(design), flaws)
            label = label_panel(build, name, design, side, flat.number, layer, twin, mirrored)
            copies = (2 if twin else 1) * (2 if mirrored else 1)
            shown = shown_panel(flat, side, design)
            panels.append(DrawnPanel(side, twin or mirrored, copies, label, shown, verdict, layer, flaws))
        told += guess_findings(measures, part, side, scanned)
    panels = _on_table(panels, {side: p.surface for side, p in inked.items()}, design)
    return PiecePattern(name, design, tuple(panels), inked, give, tuple(told), gives, school, size)


def flatten_layers(piece: InkedPiece, size: float | None) -> list[tuple[FlatPanel, PlacedLayer, bool]]:
    """Every layer of every panel of one side laid flat, panel by panel from the inner face out, and whether it has a
    mirror image. size: mesh in mm. Raises CraftError."""
    stacks = [layers_of(piece.design, ink.number) for ink in piece.panels]
    known: dict[bytes, SolvedPanel] = {}
    flats = [flatten_piece(piece, size, known, layer) for layer in range(1, max(map(len, stacks)) + 1)]
    return [
        (flats[k][n], layer, twin)
        for n, (stack, twin) in enumerate(zip(stacks, piece.twins, strict=True))
        for k, layer in enumerate(stack)
    ]


def flatten_piece(
    piece: InkedPiece, size: float | None, known: dict[bytes, SolvedPanel] | None = None, layer: int = 1
) -> list[FlatPanel]:
    """All panels of one side laid flat and joined. size: mesh in mm. known: panels solved at that size, by their ink;
    those that are new are added. layer: which sheet of each, from the inner face; of panels with fewer, their
    outermost.

    Raises CraftError.
    """
    kept = {} if known is None else known
    solved = []
    for at, ink in enumerate(piece.panels):
        stack = layers_of(piece.design, ink.number)
        sheet = stack[min(layer, len(stack)) - 1]
        key = _ink_key(ink) + np.float64(sheet.middle).tobytes()
        if key not in kept:
            surface = piece.surface.at_depth(sheet.middle)
            kept[key] = solve_shown(surface, ink) if size is EDIT_SIZE else solve_panel(surface, ink, size or EDIT_SIZE)
        kerfs = kerf_lines(piece, ink) if sheet.number == 1 else ()
        # Straps are fixed to the inner face.
        fixings = piece.fixings[at] if sheet.number == 1 and piece.fixings else ()
        lying = part_marks(piece, ink.number) if sheet.number == sheet.count else ()
        solved.append(replace(kept[key], ink=replace(ink, inside=(*ink.inside, *kerfs, *fixings, *lying))))
    return join_panels(solved, piece.design.true_seams)


def _ink_key(ink: PanelInk) -> bytes:
    """What a panel's lines are, whatever it is numbered."""
    lines = [x.uv for x in (*ink.outline, *ink.holes)] + [d.uv for d in ink.darts]
    return b"|".join(np.ascontiguousarray(uv).tobytes() for uv in lines)


def _on_table(panels: list[DrawnPanel], surfaces: dict[Side, ArmourSurface], design: PieceDesign) -> list[DrawnPanel]:
    """Panels laid out as they lie on the unrolled body seen from outside; a right limb left of its left one."""
    places: dict[int, tuple[float, float]] = {}
    start = 0.0
    for side in ("right", "left"):
        own = [k for k, p in enumerate(panels) if p.side == side]
        if not own:
            continue
        wanted = []
        for k in own:
            tube = surfaces[side].tube
            around, along = panels[k].flat.uv.mean(axis=0)
            x = around * float(np.mean(tube.station_girths))
            wanted.append([-x if is_turned(side, design) else x, float(tube.mm(along))])
        low, high = (np.array([f(panels[k].flat.outline, axis=0) for k in own]) for f in (np.min, np.max))
        moves = lay_out(np.array(wanted), low, high) + [start, 0.0]
        places |= {k: (float(x), float(y)) for k, (x, y) in zip(own, moves, strict=True)}
        start = float((high + moves)[:, 0].max()) + 2 * BETWEEN
    return [replace(p, place=places[k]) for k, p in enumerate(panels)]


def _ink_finding(problem: InkProblem) -> Finding:
    return Finding("look", problem.message, "ink", "Open the ink and follow the ring drawn round the place.")


def shown_panel(flat: FlatPanel, side: Side, design: PieceDesign) -> FlatPanel:
    """A panel as it is drawn for a side."""
    return replace(flat.mirrored() if is_turned(side, design) else flat, face=design.drawn_face)


def _findings(piece: InkedPiece, design: PieceDesign, panel: DrawnPanel) -> list[Finding]:
    surface, (low, high) = piece.surface, piece.ends
    found = sheet_findings(panel.layer.thickness)
    held = surface.held_back(low, high)
    if held is not None:
        place = height_words(float(surface.tube.along(held[0])), surface.tube.names)
        words = f"A hollow {place} holds the foam {held[1]:.0f} mm closer than asked, or it would fold over."
        found.append(
            Finding("look", words, "design.ease", "Less ease or thinner foam there, or split the piece at the hollow.")
        )
    if panel.verdict.state != "flat":
        level: Level = "say" if panel.verdict.state == "warm" else "look"
        found.append(Finding(level, panel.verdict.sentence, "flatten", panel.verdict.advice))
    for seam in panel.flat.seams:
        if seam.mismatch > max(MISMATCH, MISMATCH_SHARE * seam.on_body):
            found.append(Finding("look", unequal_sides(seam), "flatten"))
    if min(surface.ease) <= 0.0 and design.ease > 0:
        words = "Fitting has taken all the ease away at a station: the foam lies on the base layer."
        found.append(Finding("look", words, "design.ease_at"))
    return found


def unequal_sides(seam: Seam) -> str:
    """What two unequal sides do: glued they pucker, where it opens they only sit askew."""
    if seam.kind == "opening":
        return f"Where it opens, its edges differ by {seam.mismatch:.1f} mm: what closes it sits askew at one end."
    return f"The sides of the {seam.name} seam differ by {seam.mismatch:.1f} mm and will pucker."
