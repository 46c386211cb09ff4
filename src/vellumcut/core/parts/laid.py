"""Everything laid along the lines of one drawn side of a piece: strips to cut, places of rows, and the lines that are
drawn for them on the panel beneath."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache, partial
from typing import Any, Literal

import numpy as np
import shapely
from numpy.typing import NDArray

from vellumcut.core.cast.armour import OUTER
from vellumcut.core.design.making import Detail
from vellumcut.core.design.parts import Border, Cuff, Damage, Links, Plate, Row, Scales, Segments
from vellumcut.core.design.piece import PieceDesign
from vellumcut.core.errors import CraftError
from vellumcut.core.foam.stacks import thickness_of
from vellumcut.core.ink.library.table import TEMPLATES
from vellumcut.core.ink.lines import InkLine
from vellumcut.core.ink.stage import InkedPiece
from vellumcut.core.parts.border import Strip, strips_of
from vellumcut.core.parts.cuff import ASIDE, CuffPart, cuffs_of
from vellumcut.core.parts.damage import damage_of
from vellumcut.core.parts.fixings import clear_of
from vellumcut.core.parts.lines import runs_of, seams_of
from vellumcut.core.parts.links import LinkRow, link_rows, under_cap
from vellumcut.core.parts.place import Place, closed, rings_at, seam_ribbon
from vellumcut.core.parts.plate import Sheet, reach_of_plate, sheets_of, upright
from vellumcut.core.parts.ribbon import Ribbon, panel_under, reach_of, ribbon_of, ribbon_over, within_panel
from vellumcut.core.parts.row import Places, places_of
from vellumcut.core.parts.scales import ScaleRow, placed_outlines, rows_of
from vellumcut.core.parts.segments import Segment, segments_of
from vellumcut.core.units import format_length

Array = NDArray[np.float64]

SPANNING = ("spanning trim", "strip round")
"""Kinds that go over a seam once it is closed: one strip for both its sides."""
SMALL = 8.0
"""Across, mm, of round things whose size nobody said."""
WHOLE_PANEL = 4000.0
"""mm from a line within which all of its panel lies."""
ON_THE_LINE = 0.5
"""mm from the body's mirror line within which a plate is meant to lie on it."""
LOST = 25.0
"""mm2 that may reach past the foam unsaid: the rounding of two outlines."""
_UNSEEN = {"wide": 60.0, "turn": 0.0, "layers": 1, "step": 5.0}
"""What of a plate does not bear on its neighbourhood, so that turning it asks for no new one."""
SLICE = 1 / 32
"""Of the way round the body that is nearly flat, for what is drawn on it."""
ROUND = 20
"""Corners of a ring that marks where a round thing sits."""


@dataclass(frozen=True, eq=False)
class LaidPart:
    """One detail along one run of a panel. strips: to cut, of a border. places: of a row. sheets: layers of a plate.
    rows: of scales. links: rows of linked rings. cuffs: strips that go on from an edge, and lie on no panel. segments:
    plates over all of the panel. hits: of damage, closed lines on the flat neighbourhood. marks: where it comes to lie,
    (around, along), with the panel each shows on, for its outermost sheet. halved: over a seam that is its own mirror
    image, so that there is one for two copies of its panel. problem: why it cannot lie there; empty where it can.
    curves: by how much the foam curves under the foot of what stands on it, mm."""

    detail: Detail
    panel: int
    halved: bool = False
    strips: tuple[Strip, ...] = ()
    places: tuple[Places, ...] = ()
    sheets: tuple[Sheet, ...] = ()
    rows: tuple[ScaleRow, ...] = ()
    links: tuple[LinkRow, ...] = ()
    cuffs: tuple[CuffPart, ...] = ()
    segments: tuple[Segment, ...] = ()
    hits: tuple[Array, ...] = ()
    marks: tuple[tuple[int, InkLine], ...] = ()
    problem: str = ""
    curves: float = 0.0

    def copies(self, panels: int) -> int:
        """How many there are of it, where there are so many of its panel."""
        return panels // 2 if self.halved else panels

    @property
    def length(self) -> float:
        """Of its strips along their middle, or of the lines a row sits on, mm."""
        return sum(s.length for s in self.strips) + sum(p.length for p in self.places) + sum(c.near for c in self.cuffs)

    def worn(self, piece: InkedPiece) -> list[Array]:
        """Its marks on the outer face of the piece as it is worn, those of mirror images among them, (n, 3) mm each."""
        twin = {p.number for p, twin in zip(piece.panels, piece.twins, strict=True) if twin}
        halves = [[line.uv for _, line in self.marks], [line.uv * [-1, 1] for on, line in self.marks if on in twin]]
        if self.segments or self.sheets or (self.strips and not self.links):
            halves = [_slices(rings) for rings in halves if rings]
        uv = [ring for rings in halves for ring in rings]
        at = next((k for k, p in enumerate(piece.panels) if p.number == self.panel), 0)
        signs = (1.0, -1.0) if piece.twins[at] else (1.0,)
        stand = [np.vstack([c.foot, c.head[::-1], c.foot[:1]]) * [s, 1.0, 1.0] for c in self.cuffs for s in signs]
        if not uv:
            return stand
        return [*stand, *np.split(piece.surface.points(np.vstack(uv), OUTER), np.cumsum([len(x) for x in uv])[:-1])]

    @property
    def count(self) -> int:
        """How many sit in its rows, or are laid side by side."""
        in_rows = [len(p.at) for p in self.places] + [len(r.at) for r in self.rows] + [len(r.at) for r in self.links]
        return sum(in_rows) + len(self.segments) + len(self.hits)


def laid_parts(piece: InkedPiece) -> tuple[LaidPart, ...]:
    """What is laid on the panels of a piece; once for its pattern, its steps and its weight."""
    return _laid(piece) if lays_on(piece.design) else ()


def lays_on(design: PieceDesign) -> bool:
    """Whether anything with a shape is laid on the panels of a piece."""
    return any(d.shape for d in design.making.details)


def bare(piece: InkedPiece) -> InkedPiece:
    """A piece without what is laid on it."""
    if not lays_on(piece.design):
        return piece
    making = piece.design.making.model_copy(update={"details": ()})
    return replace(piece, design=piece.design.model_copy(update={"making": making}))


@lru_cache(maxsize=32)
def _laid(piece: InkedPiece) -> tuple[LaidPart, ...]:
    return tuple(part for d in piece.design.making.details for part in lay_part(piece, d))


def lay_part(piece: InkedPiece, detail: Detail, to_cut: bool = True) -> tuple[LaidPart, ...]:
    """One detail laid on a piece, whether or not the piece has it yet, panel by panel; nothing where it has no shape.
    to_cut: its outlines are those that are cut; else, for a hand that drags it, as they lie on the piece."""
    shape = detail.shape
    if shape is None:
        return ()
    if isinstance(shape, Plate):
        plates = (shape.model_copy(update={"at": at, "also": ()}) for at in shape.places)
        return tuple(_or_why(detail, piece.panels[0].number, partial(_placed, piece, detail, one)) for one in plates)
    if isinstance(shape, Border) and detail.kind in SPANNING and (seams := seams_of(piece, shape.lines)):
        return tuple(
            _or_why(detail, piece.panels[at].number, partial(_over_seam, piece, detail, shape, k, to_cut))
            for k, (at, _) in enumerate(seams)
        )
    return tuple(
        _or_why(detail, panel.number, partial(_on_run, Place(piece, at, detail, k, to_cut)))
        for at, panel in enumerate(piece.panels)
        if not detail.panels or panel.number in detail.panels
        for k in range(len(runs_of(panel, shape.lines)))
    )


def _or_why(detail: Detail, panel: int, lay: Callable[[], LaidPart]) -> LaidPart:
    """A part as it lies, or why it cannot: what lies on a piece never keeps the piece itself from being cut."""
    try:
        return lay()
    except CraftError as error:
        why = error.message
    except (shapely.errors.ShapelyError, ValueError, np.linalg.LinAlgError):
        why = "this place could not be worked out: try another width, or fewer lines at once"
    return LaidPart(detail, panel, problem=f"{detail.name}: {why[0].lower()}{why[1:]}")


def part_marks(piece: InkedPiece, panel: int) -> tuple[InkLine, ...]:
    """Lines that show on a panel where its parts come to lie."""
    return tuple(line for p in laid_parts(piece) for on, line in p.marks if on == panel)


def _on_run(place: Place) -> LaidPart:
    return _BY_FORM[type(place.detail.shape)](place, place.detail.shape)


def _over_seam(piece: InkedPiece, detail: Detail, border: Border, k: int, to_cut: bool) -> LaidPart:
    """A strip over both sides of a seam, one strip whatever panels lie beneath it."""
    reach = reach_of(border.inset + border.width / 2)
    at, ribbon = seam_ribbon(piece, border.lines, k, border.foam, reach, to_cut)
    strips = tuple(strips_of(ribbon, border))
    rings = [ribbon.uv(closed(ring)) for s in strips for ring in s.footprint]
    marks = _on_panels(piece, detail.name, rings)
    own_image = piece.twins[at] and bool(np.abs(ribbon.run.uv[:, 0]).max() < 1e-6)
    return LaidPart(detail, piece.panels[at].number, own_image, strips, marks=marks)


@lru_cache(maxsize=16)
def _spot(piece: InkedPiece, plate: Plate, reach: float) -> tuple[int, bool, Ribbon]:
    """The neighbourhood of a plate, which panel is under its middle, and whether it lies on the body's own mirror line:
    there is one of it then, whatever is turned over."""
    under = panel_under(piece.surface, piece.panels, plate.at)
    if under is None:
        raise CraftError("There is no foam under its middle: move it onto a panel", "making.details")
    at = under[0]
    number = piece.panels[at].number
    surface = piece.surface.at_depth(thickness_of(piece.design, number) + plate.foam / 2)
    aside = abs(plate.at[0]) * float(surface.tube.girth(np.array([plate.at[1]]))[0])
    own_image = piece.twins[at] and aside < ON_THE_LINE
    here = plate.model_copy(update={"at": (0.0, plate.at[1])}) if own_image else plate
    panels = list(zip(piece.panels, piece.twins, strict=True))
    return at, own_image, ribbon_over(surface, panels, upright(piece.tube, here), reach)


def _placed(piece: InkedPiece, detail: Detail, plate: Plate) -> LaidPart:
    """A plate where it was put; put on the mirror image of a panel, it lies on the panel itself as its own image: there
    is one on both."""
    if not detail.motif:
        raise CraftError(f"There is no piece {detail.of} in the costume that could stand here", "making.details")
    under = panel_under(piece.surface, piece.panels, plate.at)
    if under is not None and under[1] and piece.twins[under[0]]:
        plate = plate.model_copy(update={"at": (-plate.at[0], plate.at[1]), "turn": -plate.turn})
    reach = reach_of(reach_of_plate(plate, detail.motif))
    at, own_image, ribbon = _spot(piece, plate.model_copy(update=_UNSEEN), reach)
    sheets = tuple(sheets_of(ribbon, plate, detail.motif))
    rings = [ribbon.uv(closed(ring)) for part in sheets[0].footprints for ring in part]
    if plate.opening == "foot":
        return _standing(piece, detail, at, own_image, sheets[0], rings)
    marks = _on_panels(piece, detail.name, rings)
    wrong = []
    if sheets[0].over > LOST:
        wrong.append(f"reaches {sheets[0].over / 100:.1f} cm2 past the foam: move it, or make it smaller")
    if len(sheets) < plate.layers:
        wrong.append(f"has room for {len(sheets)} of its {plate.layers} layers: make it wider, or each less smaller")
    problem = f"{detail.name} {'; it '.join(wrong)}" if wrong else ""
    return LaidPart(detail, piece.panels[at].number, own_image, sheets=sheets, marks=marks, problem=problem)


def _standing(
    piece: InkedPiece, detail: Detail, at: int, own_image: bool, foot: Sheet, rings: Sequence[Array]
) -> LaidPart:
    """Where a part stands, and how much the foam curves under its foot: nothing of it is cut here."""
    points = piece.surface.points(np.vstack(rings), OUTER)
    away = points - points.mean(axis=0)
    off = away @ np.linalg.svd(away, full_matrices=False)[2][2]
    problem = ""
    if foot.over > LOST:
        problem = f"{detail.name} stands {foot.over / 100:.1f} cm2 past the foam: move it, or make its foot smaller"
    marks = _on_panels(piece, detail.name, rings, "mark")
    return LaidPart(detail, piece.panels[at].number, own_image, marks=marks, problem=problem, curves=float(np.ptp(off)))


def _on_panels(
    piece: InkedPiece, name: str, rings: Sequence[Array], kind: Literal["mark", "trim edge"] = "trim edge"
) -> tuple[tuple[int, InkLine], ...]:
    """Closed lines on the body where they show on each panel."""
    return tuple(
        (panel.number, InkLine(kind, name, uv))
        for panel in piece.panels
        for ring in rings
        for uv in within_panel(piece.surface, panel, ring)
    )


def _border(place: Place, border: Border) -> LaidPart:
    ribbon = place.ribbon(border.foam, border.inset + border.width)
    strips = tuple(strips_of(ribbon, border))
    marks = place.marks("trim edge", ribbon, [ring for s in strips for ring in s.footprint])
    problem = "" if strips else f"{place.detail.name}: there is no room for it beside the {ribbon.run.name}"
    return LaidPart(place.detail, place.number, strips=strips, marks=marks, problem=problem)


def _row(place: Place, row: Row) -> LaidPart:
    detail, half = place.detail, (place.detail.size or SMALL) / 2
    ribbon = place.ribbon(0.0, row.inset + half)
    places = tuple(places_of(ribbon, row))
    if row.clear:
        places = tuple(_cleared(place, ribbon, p, half) for p in places)
    marks = place.marks("mark", ribbon, rings_at([at for p in places for at in p.at], half))
    problem = _row_problem(detail, row, ribbon, places)
    return LaidPart(detail, place.number, places=places, marks=marks, problem=problem)


def _cleared(place: Place, ribbon: Ribbon, places: Places, half: float) -> Places:
    """A row without what would sit on something that is fixed to the panel."""
    free = clear_of(place.piece, place.at, ribbon.uv(places.at), half)
    return replace(places, at=places.at[free], out=int((~free).sum()))


def _row_problem(detail: Detail, row: Row, ribbon: Ribbon, places: tuple[Places, ...]) -> str:
    if not places:
        return f"{detail.name}: there is no room for it beside the {ribbon.run.name}"
    half = (detail.size or SMALL) / 2
    if detail.kind in ("rivets", "gem") and not ribbon.run.within and row.inset < half:
        return f"{detail.name}: too near the {ribbon.run.name}, set it {format_length(half)} in at least"
    return ""


def _scaled(place: Place, scales: Scales) -> LaidPart:
    """Scales over all of a panel, from one of its lines up."""
    ribbon = place.ribbon(scales.foam, WHOLE_PANEL)
    rows = tuple(rows_of(ribbon, scales))
    marks = place.marks("mark", ribbon, [x for row in rows for x in placed_outlines(scales, row)])
    return LaidPart(place.detail, place.number, rows=rows, marks=marks)


def _linked(place: Place, links: Links) -> LaidPart:
    """Linked rings over all of a panel, and the two strips between which their free end is held."""
    ribbon = place.ribbon(0.0, WHOLE_PANEL)
    rows = tuple(link_rows(ribbon, links))
    if links.cap:
        rows = _capped(place, ribbon, rows, links.cap)
    marks = place.marks("mark", ribbon, rings_at([at for r in rows for at in r.at], 0.4 * min(links.wide, links.high)))
    strips: tuple[Strip, ...] = ()
    if links.holder:
        near = place.ribbon(links.foam, links.edge)
        strips = tuple(s for s in strips_of(near, links.holder) for _ in ("outside", "inside"))
    problem = "" if rows else f"{place.detail.name}: there is no room for a row of it here"
    return LaidPart(place.detail, place.number, links=rows, strips=strips, marks=marks, problem=problem)


def _capped(place: Place, ribbon: Ribbon, rows: tuple[LinkRow, ...], cap: float) -> tuple[LinkRow, ...]:
    """Rows of a sleeve without what would lie over its cap curve."""
    piece = place.piece
    if TEMPLATES[piece.design.template].part != "upper arm":
        raise CraftError("a cap curve is that of a sleeve: this piece goes up to no shoulder", "making.details")
    top = max(float(piece.tube.mm(line.uv[:, 1]).max()) for line in piece.panels[place.at].outline)
    out = []
    for row in rows:
        uv = ribbon.uv(row.at)
        kept = under_cap(uv, piece.tube.mm(uv[:, 1]), top, cap)
        if kept.any():
            out.append(replace(row, at=row.at[kept], closed=row.closed and bool(kept.all())))
    return tuple(out)


def _cuffed(place: Place, cuff: Cuff) -> LaidPart:
    """A cuff on the end of a panel: both glued middle to middle."""
    piece, panel = place.piece, place.piece.panels[place.at]
    ribbon = ribbon_of(piece.surface, panel, runs_of(panel, cuff.lines)[place.k], reach_of(ASIDE))
    above = piece.surface.at_depth(2 * piece.surface.thickness)
    return LaidPart(place.detail, panel.number, cuffs=tuple(cuffs_of(ribbon, cuff, above)))


def _segmented(place: Place, segments: Segments) -> LaidPart:
    """Plates over all of a panel, from one of its lines on."""
    ribbon = place.ribbon(segments.foam, WHOLE_PANEL)
    plates = tuple(segments_of(ribbon, segments))
    marks = [m for p in plates for m in place.marks("trim edge", ribbon, p.footprint, f" {p.number}")]
    return LaidPart(place.detail, place.number, segments=plates, marks=tuple(marks))


def _damaged(place: Place, damage: Damage) -> LaidPart:
    ribbon = place.ribbon(0.0, damage.inset + damage.wide)

    def free(spot: Array, half: float) -> bool:
        return bool(clear_of(place.piece, place.at, ribbon.uv(spot[None]), half)[0])

    hits = tuple(damage_of(ribbon, damage, free))
    short = f"{place.detail.name}: there is room for {len(hits)} of its {damage.count} here"
    problem = short if len(hits) < damage.count else ""
    return LaidPart(place.detail, place.number, hits=hits, marks=place.marks("mark", ribbon, hits), problem=problem)


def _slices(rings: Sequence[Array]) -> list[Array]:
    """Closed lines of (around, along) that may run all round the body, in parts each of which is nearly flat and has no
    hole."""
    whole = shapely.symmetric_difference_all([shapely.Polygon(r).buffer(0) for r in rings if len(r) > 3])
    if whole.is_empty:
        return []
    low, floor, high, roof = whole.bounds
    holes = [h for g in shapely.get_parts(whole) if g.geom_type == "Polygon" for h in g.interiors]
    through = [(h.bounds[0] + h.bounds[2]) / 2 for h in holes]
    cuts = np.unique([*np.arange(np.floor(low / SLICE), np.ceil(high / SLICE) + 1) * SLICE, *through])
    parts = shapely.intersection(whole, shapely.box(cuts[:-1], floor - 1, cuts[1:], roof + 1))
    rows = (g for g in shapely.get_parts(shapely.get_parts(parts)) if g.geom_type == "Polygon" and g.area > 0)
    return [shapely.get_coordinates(g.exterior) for g in rows]


_BY_FORM: Mapping[type, Callable[[Place, Any], LaidPart]] = {
    Border: _border,
    Row: _row,
    Scales: _scaled,
    Links: _linked,
    Cuff: _cuffed,
    Segments: _segmented,
    Damage: _damaged,
}
"""How each thing is laid along a run of its lines."""
