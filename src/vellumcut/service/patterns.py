"""Patterns, recomputed from what was decided and cached by what they were made from."""

from pathlib import Path

from vellumcut.core.body.segments import Side
from vellumcut.core.body.tube import TubeSurface
from vellumcut.core.cast.armour import ArmourSurface
from vellumcut.core.cast.halves import worn_tube
from vellumcut.core.cast.stations import build_tube
from vellumcut.core.cast.wrap import WrapTube, plan_wrap
from vellumcut.core.errors import CraftError
from vellumcut.core.flatten.mesh import CUT_SIZE, EDIT_SIZE, QUICK_SIZE
from vellumcut.core.ink.design import PieceDesign
from vellumcut.core.ink.library.table import TEMPLATES
from vellumcut.core.ink.stage import InkedPiece, ink_piece
from vellumcut.core.ink.templates import armour_surface
from vellumcut.core.layout.as_cut import as_cut
from vellumcut.core.layout.pattern import PiecePattern, drawn_sides, pattern_piece
from vellumcut.core.make.job import Facts, facts_of
from vellumcut.core.rig.donning import Donning, check_donning
from vellumcut.core.rig.straps import RigPlan, plan_rig
from vellumcut.formats.build_json import BuildFile
from vellumcut.service.builds import Work
from vellumcut.service.once import Once
from vellumcut.service.scans import scanned_tubes

_patterns: Once[PiecePattern] = Once(24)
_inked: Once[dict[Side, InkedPiece]] = Once(24)
_facts: Once[Facts | CraftError] = Once(256)


def pattern_of(work: Work, size: float | None = EDIT_SIZE) -> PiecePattern:
    """The pattern of a piece. Raises CraftError in a maker's words."""
    return _patterns.get(
        _key(work, size),
        lambda: pattern_piece(
            work.readings,
            work.design,
            work.name,
            work.build,
            size,
            work.scanned,
            work.gives,
            work.dart_edges,
            laid_ink(work),
        ),
    )


def quick_pattern(work: Work) -> PiecePattern:
    """As ``pattern_of``, and sooner where a panel is hard: then it is not settled and may read up to half a point low.

    Raises CraftError.
    """
    if shown := _patterns.known(_key(work, EDIT_SIZE)):
        return shown
    quick = pattern_of(work, QUICK_SIZE)
    if quick.settled:
        _patterns.put(_key(work, EDIT_SIZE), quick)
    return quick


def _key(work: Work, size: float | None) -> str:
    made_from = (work.design, work.readings, *work.gives)
    return "|".join([str(size), work.name, work.build, work.dart_edges, *(x.model_dump_json() for x in made_from)])


def cutting_pattern(work: Work) -> PiecePattern:
    """As ``pattern_of``, on the fine mesh that is cut from, every outline that of the full-size face.

    Raises CraftError for a panel that cannot be cut or closed, or a groove that would go through: it leaves the program as
    no pattern.
    """
    made = pattern_of(work, CUT_SIZE)
    for panel in made.panels:
        if panel.flaws:
            words = "; ".join(f.words for f in panel.flaws)
            raise CraftError(f"Panel {panel.label.code} cannot be cut: {words}", "panels")
    return as_cut(made)


def laid_ink(work: Work) -> dict[Side, InkedPiece]:
    """The ink of every drawn side of a piece, laid once for its facts and its pattern. Raises CraftError."""
    key = work.design.model_dump_json() + work.readings.model_dump_json()
    sides = drawn_sides(work.readings, work.design)
    return _inked.get(key, lambda: {side: ink_piece(drawn_tube(work, side), work.design) for side, _ in sides})


def piece_facts(work: Work) -> Facts:
    """What a piece has on this body. Flattens nothing. Raises CraftError when its ink cannot be laid."""

    def read() -> Facts | CraftError:
        try:
            return facts_of(next(iter(laid_ink(work).values())), work.schools, work.owned)
        except CraftError as error:
            return error

    made_from = (work.design, work.readings, work.schools, work.owned)
    found = _facts.get("|".join(x.model_dump_json() for x in made_from), read)
    if isinstance(found, CraftError):
        raise CraftError(found.message, found.field)
    return found


def straps_of(work: Work) -> list[RigPlan]:
    return [plan_rig(surface, work.design, side) for side, surface in pattern_of(work).surfaces.items()]


def rig_of(work: Work) -> tuple[list[RigPlan], list[Donning]]:
    """Its straps, and whether it can be put on."""
    surfaces = pattern_of(work).surfaces.items()
    return straps_of(work), [check_donning(work.readings, work.design, surface, side) for side, surface in surfaces]


def drawn_tube(work: Work, side: Side) -> TubeSurface:
    """The tube that this side of the piece is drawn on. Raises CraftError."""
    return worn_tube(work.readings, TEMPLATES[work.design.template].part, side, work.design.halves, work.scanned)


def casts_of(work: Work) -> list[tuple[ArmourSurface, PieceDesign, Side]]:
    """The armour surface over each side's cast. Raises CraftError."""
    out: list[tuple[ArmourSurface, PieceDesign, Side]] = []
    for side, twin in drawn_sides(work.readings, work.design):
        surface = armour_surface(drawn_tube(work, side), work.design)
        out.append((surface, work.design, side))
        if twin:
            out.append((surface, work.design, "right"))
    return out


def wrap_of(work: Work) -> list[WrapTube]:
    part = TEMPLATES[work.design.template].part
    out = []
    for side, twin in drawn_sides(work.readings, work.design):
        tube = build_tube(work.readings, part, side, work.scanned)
        out += [plan_wrap(tube, part, s) for s in ([side, "right"] if twin else [side])]
    return out


def work_from_file(build: BuildFile, name: str, folder: Path) -> Work:
    """A piece of a build file as work, for the command line. folder: where the file lies, with its scans."""
    piece = next(p for p in build.pieces if p.title == name)
    readings = build.wearer.measurements
    scanned = scanned_tubes(folder, readings)
    return Work(0, 0, name, build.name, piece.design, readings, scanned, build.foam_gives, schools=build.schools)
