"""A whole piece from measurements to labelled flat panels: the spine everything else reads."""

from dataclasses import dataclass, replace

from vellumcut.core.body.measures import Measurements
from vellumcut.core.body.segments import SegmentName, Side
from vellumcut.core.cast.armour import ArmourSurface
from vellumcut.core.cast.stations import build_tube
from vellumcut.core.flatten.panel import FlatPanel, flatten_panel
from vellumcut.core.foam.verdict import Verdict, bend_findings, judge_strain, sheet_findings
from vellumcut.core.ink.design import PieceDesign
from vellumcut.core.ink.templates import TEMPLATES, armour_surface, edge_places, ink_limb_piece
from vellumcut.core.layout.labels import Label, label_panel
from vellumcut.core.layout.pattern_notes import pattern_notes
from vellumcut.core.notes import Finding, Level, Note


@dataclass(frozen=True)
class DrawnPanel:
    """A flat panel as it will be drawn and cut. twin: the other side is the same panel turned over."""

    side: Side
    twin: bool
    label: Label
    flat: FlatPanel
    verdict: Verdict

    @property
    def copies(self) -> int:
        return 2 if self.twin else 1


@dataclass(frozen=True)
class PiecePattern:
    """Panels of one piece with how each figure was made and what to look at. surfaces: per drawn side."""

    name: str
    design: PieceDesign
    panels: tuple[DrawnPanel, ...]
    surfaces: dict[Side, ArmourSurface]
    notes: tuple[Note, ...]
    findings: tuple[Finding, ...]

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
    """
    if design.side != "both":
        return ((design.side, False),)
    segment: SegmentName = TEMPLATES[design.template].segment
    if measures.limb(segment, "left") == measures.limb(segment, "right"):
        return (("left", True),)
    return (("left", False), ("right", False))


def pattern_piece(
    measures: Measurements, design: PieceDesign, name: str, build: str, size: float | None
) -> PiecePattern:
    """Measure to pattern. size: mesh in mm (EDIT_SIZE or CUT_SIZE). Raises CraftError in a maker's words."""
    template = TEMPLATES[design.template]
    panels, surfaces = [], {}
    for side, twin in drawn_sides(measures, design):
        tube = build_tube(measures, template.segment, side)
        surface = armour_surface(tube, design)
        flat = flatten_panel(surface, ink_limb_piece(surface, design), size)
        verdict = judge_strain(flat.summary, design.foam_kind, tube.names)
        shown = _shown(flat, side, design)
        label = label_panel(build, name, design, side, flat.number, twin)
        panels.append(DrawnPanel(side, twin, label, shown, verdict))
        surfaces[side] = surface
    notes = [
        n for p in panels for n in pattern_notes(surfaces[p.side], design, p.flat, p.side if len(panels) > 1 else "")
    ]
    findings = [f for p in panels for f in _findings(surfaces[p.side], design, p)]
    return PiecePattern(name, design, tuple(panels), surfaces, tuple(notes), tuple(dict.fromkeys(findings)))


def _shown(flat: FlatPanel, side: Side, design: PieceDesign) -> FlatPanel:
    """The tube is modelled as a left limb: a right limb mirrors it, and so does drawing the inner face."""
    turned = flat.mirrored() if (side == "right") != (design.drawn_face == "inner") else flat
    return replace(turned, face=design.drawn_face)


def _findings(surface: ArmourSurface, design: PieceDesign, panel: DrawnPanel) -> list[Finding]:
    low, high = edge_places(surface.tube, design)
    found = bend_findings(surface, low, high) + sheet_findings(design.foam)
    for start, end in surface.held_back():
        words = (
            f"A hollow between {start:.0f} and {end:.0f} mm holds the foam closer than asked, or it would fold over."
        )
        found.append(
            Finding("look", words, "design.ease", "Less ease or thinner foam there, or split the piece at the hollow.")
        )
    if panel.verdict.state != "flat":
        level: Level = "say" if panel.verdict.state == "warm" else "look"
        found.append(Finding(level, panel.verdict.sentence, "flatten", panel.verdict.advice))
    for seam in panel.flat.seams:
        if seam.mismatch > max(1.5, 0.005 * seam.on_body):
            found.append(
                Finding("look", f"The closing edges differ by {seam.mismatch:.1f} mm and will pucker.", "flatten")
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
