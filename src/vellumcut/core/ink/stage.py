"""One side of a piece with its ink laid: body, sheet, armour surface and panels, each made once and handed on."""

from dataclasses import dataclass, replace
from functools import cached_property

from vellumcut.core.body.tube import TubeSurface
from vellumcut.core.cast.armour import ArmourSurface
from vellumcut.core.design.piece import PieceDesign
from vellumcut.core.design.sheet import InkSheet
from vellumcut.core.errors import CraftError
from vellumcut.core.ink.laps import lapped
from vellumcut.core.ink.library.table import TEMPLATES
from vellumcut.core.ink.lines import InkLine, PanelInk, opened, stroke_of
from vellumcut.core.ink.regions import InkProblem, InkReading, Region, read_ink
from vellumcut.core.ink.templates import armour_surface, edge_places, ink_limb_piece, ink_sheet, is_inked


@dataclass(frozen=True, eq=False)
class InkedPiece:
    """A design laid on a tube. regions: what its strokes enclose; none for a plain shell, whose one panel has no
    strokes.

    panels: their ink, with ``twins`` telling which have a mirror image on the same body. problems: of the ink.
    fixings: marks of what is fixed to each panel, such as anchors; empty where none were laid.
    """

    tube: TubeSurface
    design: PieceDesign
    surface: ArmourSurface
    panels: tuple[PanelInk, ...]
    twins: tuple[bool, ...]
    drawn: InkSheet | None = None
    regions: tuple[Region, ...] = ()
    problems: tuple[InkProblem, ...] = ()
    fixings: tuple[tuple[InkLine, ...], ...] = ()

    @cached_property
    def sheet(self) -> InkSheet:
        """All its strokes; a plain shell's are made from its sizes."""
        return ink_sheet(self.tube, self.design) if self.drawn is None else self.drawn

    @cached_property
    def ends(self) -> tuple[float, float]:
        """Where its lowest and highest edges lie, mm along."""
        return edge_places(self.tube, self.design, self.drawn)


def ink_piece(tube: TubeSurface, design: PieceDesign) -> InkedPiece:
    """Lay a piece's ink on its body. Raises CraftError when it encloses no panel."""
    if not is_inked(design):
        surface = armour_surface(tube, design)
        return InkedPiece(tube, design, surface, (ink_limb_piece(surface, design),), (False,))
    sheet = ink_sheet(tube, design)
    reading = whole_reading(tube, sheet, design)
    regions = reading.regions
    panels = with_open_seams(
        lapped(tube, [r.ink for r in regions], design.laps, TEMPLATES[design.template].part), design
    )
    return InkedPiece(
        tube, design, armour_surface(tube, design, sheet), panels,
        tuple(r.twin for r in regions), sheet, regions, reading.problems,
    )  # fmt: skip


def with_open_seams(panels: tuple[PanelInk, ...], design: PieceDesign) -> tuple[PanelInk, ...]:
    """Panels whose seams that the maker leaves open all along are no seams to be glued."""
    keys = {row.line for row in design.rig.openings if row.whole}

    def line(x: InkLine) -> InkLine:
        return replace(x, arc=opened(x.arc)) if x.kind == "seam" and x.arc and stroke_of(x.arc) in keys else x

    return tuple(replace(p, outline=tuple(line(x) for x in p.outline)) for p in panels) if keys else panels


def read_piece_ink(tube: TubeSurface, design: PieceDesign) -> InkReading:
    """The panels a piece's strokes enclose on this body. Raises CraftError when there are none."""
    return whole_reading(tube, ink_sheet(tube, design), design)


def whole_reading(tube: TubeSurface, sheet: InkSheet, design: PieceDesign) -> InkReading:
    """What a sheet encloses on a tube. Raises CraftError when that is nothing."""
    reading = read_ink(tube, sheet, design.halves == "as measured")
    if not reading.regions:
        why = reading.problems[0].message if reading.problems else "Nothing is inked yet: draw an outline."
        raise CraftError(f"No panel is enclosed yet. {why}", "design.ink")
    return reading
