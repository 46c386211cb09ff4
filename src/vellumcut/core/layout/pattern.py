"""A whole piece from measurements to labelled flat panels: the spine everything else reads."""

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from vellumcut.core.body.measures import Measurements
from vellumcut.core.body.segments import Side
from vellumcut.core.body.tube import TubeSurface
from vellumcut.core.cast.armour import ArmourSurface
from vellumcut.core.cast.halves import WHOLE, drawn_apart, worn_tube
from vellumcut.core.cast.stations import NO_SCANS, Scanned, guess_findings
from vellumcut.core.errors import CraftError
from vellumcut.core.flatten.joining import MISMATCH, MISMATCH_SHARE, join_panels
from vellumcut.core.flatten.panel import FlatPanel
from vellumcut.core.flatten.solving import solve_panel
from vellumcut.core.foam.sheets import CATALOGUE, Allowance, FoamGive, FoamKind, give_of
from vellumcut.core.foam.verdict import (
    STATES,
    State,
    Verdict,
    bend_findings,
    height_words,
    judge_panel,
    place_words,
    sheet_findings,
    strain_state,
)
from vellumcut.core.ink.design import PieceDesign
from vellumcut.core.ink.library.table import TEMPLATES
from vellumcut.core.ink.regions import InkProblem, InkReading, read_ink
from vellumcut.core.ink.templates import armour_surface, edge_places, ink_limb_piece, ink_sheet, is_inked
from vellumcut.core.layout.labels import Label, label_panel
from vellumcut.core.layout.pattern_notes import pattern_notes, stand_off_note
from vellumcut.core.layout.table import BETWEEN, lay_out
from vellumcut.core.notes import Finding, Level, Note


@dataclass(frozen=True)
class DrawnPanel:
    """A flat panel as it will be drawn and cut. twin: half of its copies are the same panel turned over.

    place: how far it is moved to lie on the table with the others, mm.
    """

    side: Side
    twin: bool
    copies: int
    label: Label
    flat: FlatPanel
    verdict: Verdict
    place: tuple[float, float] = (0.0, 0.0)


@dataclass(frozen=True)
class PiecePattern:
    """Panels of one piece with how each figure was made and what to look at. surfaces: per drawn side.

    give: what its foam gives; gives: what the maker's own scraps gave. told: what was found while the body and the
    ink were read.
    """

    name: str
    design: PieceDesign
    panels: tuple[DrawnPanel, ...]
    surfaces: dict[Side, ArmourSurface]
    give: Allowance
    told: tuple[Finding, ...] = ()
    gives: tuple[FoamGive, ...] = ()

    @property
    def in_sheets(self) -> dict[tuple[FoamKind, float], State]:
        """How the panel that asks most would lie in each foam that is sold; what it asks hardly changes with it."""
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
        if is_inked(self.design) or any(p.flat.darts for p in self.panels):
            return (stand_off_note(list(self.surfaces.values())[-1], self.design),)
        apart = len(self.panels) > 1
        rows = (pattern_notes(self.surfaces[p.side], self.design, p.flat, p.side if apart else "") for p in self.panels)
        return tuple(note for row in rows for note in row)

    @cached_property
    def findings(self) -> tuple[Finding, ...]:
        found = [f for p in self.panels for f in _findings(self.surfaces[p.side], self.design, p)]
        return tuple(dict.fromkeys([*self.told, *found]))

    @property
    def cut_length(self) -> float:
        """Knife path over all copies, mm."""
        return sum(p.flat.outline_length * p.copies for p in self.panels)

    @property
    def area(self) -> float:
        """Foam in all copies, mm2."""
        return sum(p.flat.area * p.copies for p in self.panels)

    @property
    def seam_length(self) -> float:
        """Closing edge over all copies, mm (one side of the joint)."""
        return sum(s.on_body * p.copies for p in self.panels for s in p.flat.seams)

    @property
    def copies(self) -> int:
        return sum(p.copies for p in self.panels)


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
) -> PiecePattern:
    """Measure to pattern. size: mesh in mm (EDIT_SIZE or CUT_SIZE). gives: what the maker's own scraps gave.

    Raises CraftError in a maker's words.
    """
    give = give_of(design.foam_kind, design.foam, gives)
    part = TEMPLATES[design.template].part
    panels: list[DrawnPanel] = []
    surfaces: dict[Side, ArmourSurface] = {}
    told: list[Finding] = []
    for side, twin in drawn_sides(measures, design):
        tube = worn_tube(measures, part, side, design.halves, scanned)
        surface = surfaces[side] = armour_surface(tube, design)
        if is_inked(design):
            drawn, problems = _drawn_panels(surface, design, size)
            told += [_ink_finding(p) for p in problems]
        else:
            solved = [solve_panel(surface, ink_limb_piece(surface, design), size)]
            drawn = [(flat, False) for flat in join_panels(solved, design.true_seams)]
        for flat, mirrored in drawn:
            where = place_words(flat.summary.worst_uv, tube.names, part in WHOLE)
            verdict = judge_panel(flat, give, where, not is_inked(design))
            label = label_panel(build, name, design, side, flat.number, twin, mirrored)
            copies = (2 if twin else 1) * (2 if mirrored else 1)
            panels.append(DrawnPanel(side, twin or mirrored, copies, label, shown_panel(flat, side, design), verdict))
        told += guess_findings(measures, part, side)
    panels = _on_table(panels, surfaces, design)
    return PiecePattern(name, design, tuple(panels), surfaces, give, tuple(told), gives)


HARD = 8.0
"""A panel that asks more than this, per cent, is solved on the mesh it is cut from even while it is edited: where so much
is asked a rough mesh reads a point low."""


def read_piece_ink(tube: TubeSurface, design: PieceDesign) -> InkReading:
    """The panels a piece's strokes enclose on this body. Raises CraftError when there are none."""
    reading = read_ink(tube, ink_sheet(tube, design), design.halves == "as measured")
    if not reading.regions:
        why = reading.problems[0].message if reading.problems else "Nothing is inked yet: draw an outline."
        raise CraftError(f"No panel is enclosed yet. {why}", "design.ink")
    return reading


def _drawn_panels(
    surface: ArmourSurface, design: PieceDesign, size: float | None
) -> tuple[list[tuple[FlatPanel, bool]], tuple[InkProblem, ...]]:
    """Flat panels with whether each has a mirror image on the same body, and what is wrong with the ink."""
    reading = read_piece_ink(surface.tube, design)
    solved = [solve_panel(surface, region.ink, size) for region in reading.regions]
    flat = join_panels(solved, design.true_seams)
    return list(zip(flat, (r.twin for r in reading.regions), strict=True)), reading.problems


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


def is_turned(side: Side, design: PieceDesign) -> bool:
    """The tube is modelled as a left limb: a right limb mirrors it, and so does drawing the inner face."""
    return (side == "right") != (design.drawn_face == "inner")


def shown_panel(flat: FlatPanel, side: Side, design: PieceDesign) -> FlatPanel:
    """A panel as it is drawn for a side."""
    return replace(flat.mirrored() if is_turned(side, design) else flat, face=design.drawn_face)


def _findings(surface: ArmourSurface, design: PieceDesign, panel: DrawnPanel) -> list[Finding]:
    low, high = edge_places(surface.tube, design)
    found = bend_findings(surface, low, high) + sheet_findings(design.foam)
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
            found.append(
                Finding(
                    "look",
                    f"The sides of the {seam.name} seam differ by {seam.mismatch:.1f} mm and will pucker.",
                    "flatten",
                )
            )
    if min(surface.ease) <= 0.0 and design.ease > 0:
        found.append(
            Finding(
                "look",
                "Fitting has taken all the ease away at a station: the foam lies on the base layer.",
                "design.ease_at",
            )
        )
    return found
