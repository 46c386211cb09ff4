"""Patterns, recomputed from what was decided and cached by what they were made from."""

from dataclasses import dataclass, replace
from pathlib import Path

from vellumcut.core.body.segments import Side
from vellumcut.core.body.tube import TubeSurface
from vellumcut.core.cast.armour import ArmourSurface
from vellumcut.core.cast.dressed import dressed, padded
from vellumcut.core.cast.halves import WHOLE, worn_tube
from vellumcut.core.cast.stations import build_tube
from vellumcut.core.cast.wrap import WrapTube, plan_wrap
from vellumcut.core.design.piece import PieceDesign
from vellumcut.core.errors import CraftError
from vellumcut.core.flatten.mesh import CUT_SIZE, EDIT_SIZE, QUICK_SIZE
from vellumcut.core.ink.library.table import TEMPLATES
from vellumcut.core.ink.lines import PanelInk
from vellumcut.core.ink.stage import InkedPiece, ink_piece
from vellumcut.core.ink.templates import armour_surface
from vellumcut.core.laying.inked import LaidFlat, lay_flat
from vellumcut.core.make.job import Facts, facts_of, flat_facts
from vellumcut.core.pattern.as_cut import as_cut
from vellumcut.core.pattern.flat_pattern import flat_factor, flat_pattern
from vellumcut.core.pattern.pattern import PiecePattern, drawn_sides, pattern_piece
from vellumcut.core.pattern.solid_pattern import solid_pattern
from vellumcut.core.rig.anchors import Mate, anchor_marks, anchors_of, landed_rows, rig_of_design
from vellumcut.core.rig.closures.behind import closed_by
from vellumcut.core.rig.closures.eyelets import eyelet_marks
from vellumcut.core.rig.closures.facing_marks import facing_marks
from vellumcut.core.rig.closures.magnet_lines import magnet_marks
from vellumcut.core.rig.closures.magnets import magnets_of
from vellumcut.core.rig.closures.openings import opening_marks, openings_of
from vellumcut.core.rig.costume import Costume, Worn
from vellumcut.core.rig.figure import figure_of
from vellumcut.core.rig.laid import LaidPiece
from vellumcut.core.rig.outside import lies_over
from vellumcut.formats.keeping.build_json import BuildFile
from vellumcut.service.body.scans import scanned_tubes
from vellumcut.service.keeping import builds
from vellumcut.service.keeping.builds import Work
from vellumcut.service.kept import Kept


def _lay(work: Work, size: float | None) -> PiecePattern:
    if work.design.solid is not None:
        return solid_pattern(work.design, work.name, work.build, work.gives, work.dart_edges)
    if work.design.flat is not None:
        laid, why = _laid_down(work)
        school = work.dart_edges
        return flat_pattern(work.design, work.name, work.build, work.gives, school, girth_now(work), laid, why)
    made_from = (work.readings, work.design, work.name, work.build, size, work.scanned, work.gives, work.dart_edges)
    return pattern_piece(*made_from, laid_ink(work))


def _laid_down(work: Work) -> tuple[dict[Side, LaidFlat], str]:
    """Panels that came flat on the wearer, and why they do not lie there: they can be cut all the same."""
    if work.design.laid is None:
        return {}, ""
    try:
        return {side: piece for side, piece in laid_ink(work).items() if isinstance(piece, LaidFlat)}, ""
    except CraftError as error:
        return {}, error.message


def pattern_key(work: Work, size: float | None) -> str:
    """What a pattern laid on meshes of a size is made from."""
    gives = "".join(x.model_dump_json() for x in work.gives)
    return "|".join([str(size), hanging(work), work.name, work.build, work.dart_edges, work.key, gives])


_patterns = Kept(_lay, pattern_key, 24)


def pattern_of(work: Work, size: float | None = EDIT_SIZE) -> PiecePattern:
    """The pattern of a piece. Raises CraftError in a maker's words."""
    return _patterns(work, None if work.design.came_flat else size)


def quick_pattern(work: Work) -> PiecePattern:
    """As ``pattern_of``, and sooner where a panel is hard or something is laid on it: then it is not settled, may read
    up to half a point low, and what is laid on it is left out.

    Raises CraftError.
    """
    if shown := _patterns.known(work, EDIT_SIZE):
        return shown
    quick = pattern_of(work, QUICK_SIZE)
    if quick.settled:
        _patterns.put(quick, work, EDIT_SIZE)
    return quick


def cutting_pattern(work: Work) -> PiecePattern:
    """As ``pattern_of``, on the fine mesh that is cut from, every outline that of the full-size face.

    Raises CraftError for a panel that cannot be cut or closed, or a groove that would go through: it leaves the program
    as no pattern.
    """
    made = pattern_of(work, CUT_SIZE)
    for panel in made.panels:
        if panel.flaws:
            words = "; ".join(f.words for f in panel.flaws)
            raise CraftError(f"Panel {panel.label.code} cannot be cut: {words}", "panels")
    return as_cut(made)


def _lay_ink(work: Work) -> dict[Side, InkedPiece]:
    _drawn_on_a_body(work)
    costume = _joined(work)
    return {side: _lay_side(work, side, costume) for side, _ in drawn_sides(work.readings, work.design)}


def _drawn_on_a_body(work: Work) -> None:
    """Raises CraftError for a solid."""
    if work.design.solid is not None:
        raise CraftError(f"{work.name} is made from its own measures: it is drawn on no body", "design.solid")


def _ink_alone(work: Work) -> dict[Side, InkedPiece]:
    return {side: inked_on(drawn_tube(work, side), work, side) for side, _ in drawn_sides(work.readings, work.design)}


_ink = Kept(_ink_alone, lambda work: work.key + "/".join(_beneath(work)), 24, on_disk=False)
"""The ink of every drawn side of a piece, with nothing set into it."""


def _joined(work: Work) -> Costume | None:
    """The piece and those whose edges close on its own, before anything is set into them; None where nothing closes on
    an edge. What cannot be laid is left out."""
    joined = _joined_by(work)
    if not joined:
        return None
    worn = []
    for each in joined:
        try:
            worn.append(Worn(each.piece_id, each.name, each.design, _ink(each)))
        except CraftError:
            continue
    try:
        return Costume(figure_of(work.readings, work.scanned), tuple(worn))
    except CraftError:
        return None  # The rig says what is not known; a pattern is cut all the same.


def _joined_by(work: Work) -> list[Work]:
    """The piece and the others whose edges close on its own; none where nothing closes on an edge."""
    own = {row.piece or work.name for row in work.design.rig.closings}
    others = [
        replace(work, piece_id=m.piece_id, name=m.name, design=m.design)
        for m in work.costume
        if m.piece_id != work.piece_id
        and (m.name in own or any(row.piece == work.name for row in m.design.rig.closings))
    ]
    return [work, *others] if own or others else []


def inked_on(tube: TubeSurface, work: Work, side: Side) -> InkedPiece:
    """A piece on a body: its ink, or its panels that came flat where they were laid there. Raises CraftError."""
    flat = work.design.laid
    if flat is None:
        return ink_piece(tube, work.design)
    return lay_flat(tube, work.design, flat, side, flat_factor(work.design, girth_now(work)))


def _lay_side(work: Work, side: Side, costume: Costume | None) -> InkedPiece:
    piece = _ink(work)[side]
    laid = LaidPiece(piece)
    anchors = anchors_of(laid, mates_of(work), work.piece_id)
    magnets, openings = magnets_of(laid), openings_of(laid)
    laced = closed_by(laid) == "lacing"
    closings = facing_marks(costume, costume.piece(work.piece_id), side) if costume else [()] * len(piece.panels)
    fixings = (
        (
            *anchor_marks(laid, anchors, p, twin),
            *(eyelet_marks(laid, p) if laced else ()),
            *(m for x in magnets for m in magnet_marks(laid, x.row.edge, x.row.size, x.at, x.poles, p)),
            *(m for x in openings for m in opening_marks(laid, x, p)),
            *closed,
        )
        for p, twin, closed in zip(piece.panels, piece.twins, closings, strict=True)
    )
    return replace(piece, fixings=tuple(fixings))


laid_ink = Kept(_lay_ink, lambda work: hanging(work) + work.key, 24)
"""The ink of every drawn side of a piece, laid once for its facts and its pattern. Raises CraftError."""


def ink_ahead(works: list[Work]) -> None:
    """Lay the ink of many pieces, those of the trunk first: then one of two processes builds the trunk, which takes
    longest."""
    first = sorted(works, key=lambda w: TEMPLATES[w.design.template].part not in WHOLE)
    laid_ink.ahead([(work,) for work in first])


def mates_of(work: Work) -> tuple[Mate, ...]:
    """The costume as rigs see it, this piece as it is worked on."""
    rows = [(m.piece_id, work.design if m.piece_id == work.piece_id else m.design) for m in work.costume]
    rows = [row for row in rows if row[1].solid is None]
    return tuple(Mate(key, d.template, d.rig.way, d.side) for key, d in rows or [(work.piece_id, work.design)])


def hanging(work: Work) -> str:
    """Which rig holds the piece, what hangs on it, what lies beneath it and what closes on its edges: what other pieces
    change about its pattern."""
    if work.design.solid is not None:
        return ""
    mates = mates_of(work)
    landed = landed_rows(work.design.template, work.piece_id, mates)
    joined = [(x.name, x.design.model_dump_json(), _beneath(x)) for x in _joined_by(work)[1:]]
    return f"{rig_of_design(work.design, mates).key}/{sorted(x.key for x in landed)}/{_beneath(work)}/{joined}"


def _read_facts(work: Work) -> Facts | CraftError:
    try:
        if work.design.came_flat and work.design.laid is None:
            return flat_facts(work.design, work.schools, work.owned)
        return facts_of(next(iter(laid_ink(work).values())), work.schools, work.owned)
    except CraftError as error:
        return error


def _facts_key(work: Work) -> str:
    return "|".join([hanging(work), work.key, work.schools.model_dump_json(), work.owned.model_dump_json()])


_facts = Kept(_read_facts, _facts_key)


def piece_facts(work: Work) -> Facts:
    """What a piece has on this body. Flattens nothing. Raises CraftError when its ink cannot be laid."""
    found = _facts(work)
    if isinstance(found, CraftError):
        raise CraftError(found.message, found.field)
    return found


def drawn_tube(work: Work, side: Side) -> TubeSurface:
    """The tube that this side of the piece is drawn on: the body's, or with padding and the pieces that it lies over on
    it. Raises CraftError."""
    _drawn_on_a_body(work)
    tube = worn_tube(work.readings, TEMPLATES[work.design.template].part, side, work.design.halves, work.scanned)
    if work.design.padding:
        tube = dressed(tube, padded(tube, work.design.padding))
    beneath = [laid_ink(x) for x in lain_over(work)]
    if beneath:
        pieces = tuple(LaidPiece(x.get(side) or next(iter(x.values()))) for x in beneath)
        tube = dressed(tube, lies_over(tube, pieces, work.design.base_layer))
    return tube


def girth_now(work: Work) -> float | None:
    """mm round the wearer today where panels that came flat were taken; None where that is not known."""
    flat = work.design.flat
    if flat is None or not flat.station:
        return None
    try:
        return dict(station_girths(work)).get(flat.station)
    except CraftError:
        return None  # Panels can be cut for a body that was not measured.


def station_girths(work: Work) -> list[tuple[str, float]]:
    """Stations of the part of the body that a piece lies on, from its lower end, and mm round each. Raises
    CraftError."""
    side, _ = drawn_sides(work.readings, work.design)[0]
    tube = worn_tube(work.readings, TEMPLATES[work.design.template].part, side, work.design.halves, work.scanned)
    return list(zip(tube.names, (float(g) for g in tube.station_girths), strict=True))


def lain_over(work: Work, above: tuple[str, ...] = ()) -> list[Work]:
    """The pieces that this one lies over, as work. Raises CraftError for one that is not there, lies on another part of
    the body, or lies over this one itself."""
    out = []
    for name in work.design.over:
        mate = next((m for m in work.costume if m.name == name), None)
        if mate is None:
            raise CraftError(f"{work.name} lies over {name}, which is not in the costume", "design.over")
        if TEMPLATES[mate.design.template].part != TEMPLATES[work.design.template].part:
            raise CraftError(
                f"{work.name} cannot lie over {name}: they are on different parts of the body", "design.over"
            )
        if name in (*above, work.name):
            raise CraftError(f"{work.name} and {name} cannot each lie over the other", "design.over")
        beneath = replace(work, piece_id=mate.piece_id, name=name, design=mate.design)
        lain_over(beneath, (*above, work.name))
        out.append(beneath)
    return out


def _beneath(work: Work) -> list[str]:
    """What the pieces beneath are made from."""
    try:
        return [x for each in lain_over(work) for x in (each.design.model_dump_json(), *_beneath(each))]
    except CraftError as error:
        return [error.message]


@dataclass(frozen=True, eq=False)
class ShownCast:
    """The armour surface over a cast. laid: panels that came flat and were laid there, and whether each has a mirror
    image."""

    surface: ArmourSurface
    design: PieceDesign
    side: Side
    laid: tuple[tuple[PanelInk, bool], ...] = ()


def _cast(work: Work) -> list[ShownCast]:
    _drawn_on_a_body(work)
    out, down = [], _laid_down(work)[0]
    for side, twin in drawn_sides(work.readings, work.design):
        surface = armour_surface(drawn_tube(work, side), work.design)
        laid = tuple(zip(down[side].panels, down[side].twins, strict=True)) if side in down else ()
        out += [ShownCast(surface, work.design, s, laid) for s in ([side, "right"] if twin else [side])]
    return out


casts_of = Kept(_cast, lambda work: hanging(work) + work.key, 8, on_disk=False)
"""The cast of each side, and the armour over it. Raises CraftError."""


def wrap_of(work: Work) -> list[WrapTube]:
    _drawn_on_a_body(work)
    part = TEMPLATES[work.design.template].part
    out = []
    for side, twin in drawn_sides(work.readings, work.design):
        tube = build_tube(work.readings, part, side, work.scanned)
        out += [plan_wrap(tube, part, s) for s in ([side, "right"] if twin else [side])]
    return out


def work_from_file(build: BuildFile, name: str, folder: Path) -> Work:
    """A piece of a build file as work, for the command line. folder: where the file lies, with its scans."""
    readings = build.wearer.measurements
    scanned = scanned_tubes(folder, readings)
    costume = builds.joined([builds.Mate(k, p.title, p.design) for k, p in enumerate(build.pieces, 1)])
    key, design = next((m.piece_id, m.design) for m in costume if m.name == name)
    drawn = (design, readings, scanned, build.foam_gives)
    return Work(key, 0, name, build.name, *drawn, schools=build.schools, costume=costume)
