"""From a design to the ink on its body: the armour surface, a plain shell's lines, any piece's strokes."""

import numpy as np
from numpy.typing import NDArray

from vellumcut.core.body.measures import stations_of
from vellumcut.core.body.tube import BEYOND, TubeSurface
from vellumcut.core.cast.armour import MIDDLE, ArmourSurface, Flare
from vellumcut.core.design.piece import EndDesign, PieceDesign, TemplateName, opening
from vellumcut.core.design.sheet import CUTTING, InkSheet, Stroke, StrokeKind, drawn_strokes, stroke_line
from vellumcut.core.errors import CraftError
from vellumcut.core.ink.darts import add_darts, dart_strokes
from vellumcut.core.ink.library.board import Board
from vellumcut.core.ink.library.table import TEMPLATES
from vellumcut.core.ink.lift import stroke_lifts
from vellumcut.core.ink.lines import InkLine, Kind, PanelInk
from vellumcut.core.ink.plane import drawing_plane

Array = NDArray[np.float64]

LEAST_LENGTH = 30.0
"""A limb piece shorter than this is a strap, mm."""
LEAST_WIDTH = 40.0
CLOSING = "closing"
"""The arc that the two edges at the back of a shell share, glued or not."""


def insets(design: PieceDesign) -> tuple[float, float]:
    """Distance of the lower and upper edge from their stations, mm: the maker's, or the template's usual."""
    usual = TEMPLATES[design.template].insets
    low, high = (
        u if end.inset is None else end.inset for end, u in zip((design.lower, design.upper), usual, strict=True)
    )
    return low, high


def armour_surface(tube: TubeSurface, design: PieceDesign, sheet: InkSheet | None = None) -> ArmourSurface:
    """The sheet's layers over this tube: base layer, ease (with what fitting changed), flares and lifted strokes.

    sheet: the piece's strokes where they are laid already.
    """
    unknown = [name for name in design.ease_at if name not in tube.names]
    if unknown:
        raise CraftError(
            f'There is no station "{unknown[0]}" here; there are {", ".join(tube.names)}', "design.ease_at"
        )
    ease = tuple(max(0.0, design.ease + design.ease_at.get(name, 0.0)) for name in tube.names)
    if design.laid is not None:
        return ArmourSurface(tube, design.base_layer, design.foam, ease)
    if is_inked(design):
        lifts = stroke_lifts(tube, ink_sheet(tube, design) if sheet is None else sheet)
        return ArmourSurface(tube, design.base_layer, design.foam, ease, lifts)
    low, high = edge_places(tube, design)
    flares = (
        Flare(low, +1, design.lower.flare, design.lower.flare_length),
        Flare(high, -1, design.upper.flare, design.upper.flare_length),
    )
    return ArmourSurface(tube, design.base_layer, design.foam, ease, tuple(f for f in flares if f.height > 0))


def is_inked(design: PieceDesign) -> bool:
    """Whether the piece is drawn stroke by stroke, and not a plain shell set by its ends and opening.

    A dart leaves a shell what it is; a seam across it makes panels, as strokes do.
    """
    split = any(cut.kind in CUTTING for cut in design.cuts)
    return design.ink is not None or TEMPLATES[design.template].lay is not None or split


def ink_sheet(tube: TubeSurface, design: PieceDesign) -> InkSheet:
    """The piece's strokes: the maker's, or as its template lays them on this body, and its cuts. Raises CraftError."""
    sheet = sheet_without_cuts(tube, design)
    cuts = {c.key: c for c in design.cuts}
    strokes = []
    for stroke in sheet.strokes:
        cut = cuts.pop(stroke.key, None)
        if design.ink is not None or stroke.kind != "dart":
            strokes.append(stroke)
        elif stroke.key not in design.without:
            strokes.append(cut or stroke)
    return sheet.model_copy(update={"strokes": (*strokes, *cuts.values())})


def sheet_without_cuts(tube: TubeSurface, design: PieceDesign) -> InkSheet:
    """The piece's strokes before its own cuts: the maker's, or as its template lays them. Raises CraftError."""
    if design.ink is not None:
        return design.ink
    template = TEMPLATES[design.template]
    if template.lay is None:
        shell = design.model_copy(update={"cuts": ()})
        return _shell_strokes(armour_surface(tube, shell), shell)
    board = Board(tube, _sizes(design), _choices(design))
    return InkSheet(strokes=tuple(template.lay(board)), symmetric=template.symmetric)


def _sizes(design: PieceDesign) -> dict[str, float]:
    table = {s.name: s for s in TEMPLATES[design.template].sizes}
    for name, value in design.sizes.items():
        if name not in table:
            raise CraftError(
                f'There is no size "{name}" here; there are {", ".join(table) or "none"}', f"design.sizes.{name}"
            )
        low, high = table[name].least, table[name].most
        if not low <= value <= high:
            unit = "" if table[name].count else " mm"
            raise CraftError(f"{name.capitalize()} must be {low:g} to {high:g}{unit}", f"design.sizes.{name}")
    return {name: design.sizes.get(name, size.usual) for name, size in table.items()}


def _choices(design: PieceDesign) -> dict[str, str]:
    table = {c.name: c for c in TEMPLATES[design.template].choices}
    for name, value in design.choices.items():
        if name not in table or value not in table[name].options:
            options = ", ".join(table[name].options) if name in table else ", ".join(table) or "none"
            raise CraftError(f'"{value}" is not one of {options}', f"design.choices.{name}")
    return {name: design.choices.get(name, choice.usual) for name, choice in table.items()}


SHELL_POINTS = 5


def _shell_strokes(surface: ArmourSurface, design: PieceDesign) -> InkSheet:
    """A plain shell's lines as strokes with a few points each, for a maker who wants to redraw them."""
    strokes = []
    ink = ink_limb_piece(surface, design)
    for k, edge in enumerate(ink.outline):
        closing = edge.name.startswith("closing")
        count = SHELL_POINTS if closing or design.lower.reach + design.upper.reach == 0 else 3
        pick = edge.uv[np.linspace(0, len(edge.uv) - 1, count).round().astype(int)]
        points = tuple((float(u), float(v)) for u, v in pick.round(5))
        kind: StrokeKind = "seam" if edge.kind == "seam" else "outline"
        strokes.append(Stroke(key=f"edge-{k}", kind=kind, name=edge.name, points=points))
    ends = ink.centre.uv[[0, -1]].round(5)
    strokes.append(
        Stroke(
            key="centre", kind="centre line", name="front centre", points=tuple((float(u), float(v)) for u, v in ends)
        )
    )
    if design.back == "closed":
        strokes = [s for s in strokes if s.name != "closing edge A"]
    return InkSheet(strokes=tuple(strokes))


def edge_places(tube: TubeSurface, design: PieceDesign, sheet: InkSheet | None = None) -> tuple[float, float]:
    """Where the two end edges lie, mm along the limb (tips of points not counted). sheet: as for ``armour_surface``.

    Raises CraftError.
    """
    if is_inked(design):
        strokes = drawn_strokes(ink_sheet(tube, design) if sheet is None else sheet)
        lines = [stroke_line(s)[:, 1] for s, _ in strokes if s.kind in CUTTING]
        if not lines:
            raise CraftError("Nothing is inked yet: draw an outline", "design.ink")
        along = tube.mm(np.concatenate(lines))
        return float(along.min()), float(along.max())
    below, above = insets(design)
    low, high = tube.at[0] + below, tube.at[-1] - above
    if high - low < LEAST_LENGTH:
        raise CraftError(
            f"The ends leave {high - low:.0f} mm of piece on a limb {tube.length:.0f} mm long; "
            f"it needs {LEAST_LENGTH:.0f} mm. Bring an end nearer to its station",
            "design.upper.inset",
        )
    for end, inset, word in ((design.lower, below, "lower"), (design.upper, above, "upper")):
        past = end.reach - inset
        if past > BEYOND:
            raise CraftError(
                f"The {word} point reaches {past:.0f} mm past the last measure; the cast goes on for {BEYOND:.0f} mm",
                f"design.{word}.point",
            )
    return low, high


def ink_limb_piece(surface: ArmourSurface, design: PieceDesign) -> PanelInk:
    """Lay the ink of a limb piece on its cast: two ends, two closing edges at the back, a centre line.

    Lines are in (around, along), counter-clockwise as seen on the outer face. Raises CraftError.
    """
    tube, gap = surface.tube, opening(design)
    low, high = edge_places(tube, design)
    narrowest = float(surface.girth(tube.along(np.linspace(low, high, 24)), MIDDLE).min())
    if narrowest - gap < LEAST_WIDTH:
        raise CraftError(
            f"An opening of {gap:.0f} mm leaves {narrowest - gap:.0f} mm of foam at the narrowest place; "
            f"it needs {LEAST_WIDTH:.0f} mm",
            "design.gap",
        )
    side_mm = np.linspace(low, high, 60)
    side_along = tube.along(side_mm)
    one_side, other_side = surface.beside_gap(side_along, gap)
    right = np.stack([one_side, side_along], axis=1)
    left = np.stack([other_side, side_along], axis=1)[::-1]
    kind: Kind = "seam" if design.back == "closed" else "outline"
    lower = _end_lines(tube, "lower", low, (one_side[0], other_side[0]), design.lower, -1)
    upper = _end_lines(tube, "upper", high, (one_side[-1], other_side[-1]), design.upper, +1)
    edges = (
        *lower,
        InkLine(kind, "closing edge B", right, CLOSING),
        *upper,
        InkLine(kind, "closing edge A", left, CLOSING, False),
    )
    centre_mm = np.linspace(low - design.lower.reach, high + design.upper.reach, 60)
    centre = InkLine("centre line", "front centre", np.stack([np.zeros(60), tube.along(centre_mm)], axis=1))
    plane = drawing_plane(tube)
    darts = dart_strokes(plane, InkSheet(strokes=design.cuts))
    return add_darts(plane, PanelInk(number=1, outline=edges, centre=centre), darts)[0]


def _end_lines(
    tube: TubeSurface, name: str, at: float, corners: tuple[float, float], end: EndDesign, outward: int
) -> list[InkLine]:
    """The lines of one end from corner to corner, in the outline's order (lower end left to right, upper back)."""
    left, right = corners
    around = np.concatenate([np.linspace(right, 0, 41), np.linspace(0, left, 41)[1:]])[::-outward]
    reach = outward * end.reach * (1 - np.abs(around) / np.where(around >= 0, left, -right))
    line = np.stack([around, tube.along(at + reach)], axis=1)
    if end.reach == 0:
        return [InkLine("outline", f"{name} edge", line)]
    return [
        InkLine("outline", f"{name} edge to the tip", line[:41]),
        InkLine("outline", f"{name} edge from the tip", line[40:]),
    ]


def segment_stations(template: TemplateName) -> tuple[str, ...]:
    """Station names of the part a template covers, from its low end."""
    return stations_of(TEMPLATES[template].part)
