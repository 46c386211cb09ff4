"""Pieces to be made, for the tests of steps and their order."""

from tests.bodies import WEARER
from vellumcut.core.cast.halves import worn_tube
from vellumcut.core.design.making import Schools, with_changes
from vellumcut.core.design.piece import PieceDesign
from vellumcut.core.ink.library.table import TEMPLATES, starter_design
from vellumcut.core.ink.stage import ink_piece
from vellumcut.core.make.glue_choice import fixing_for
from vellumcut.core.make.job import Facts, Job, facts_of
from vellumcut.core.make.order import build_steps
from vellumcut.core.make.owned import Owned
from vellumcut.core.make.plan import PlannedPiece, plan_piece
from vellumcut.core.pattern.pattern import drawn_sides, pattern_piece
from vellumcut.core.rig.costume import Costume, Worn
from vellumcut.core.rig.figure import figure_of
from vellumcut.core.rig.parts import RigPlan, plan_parts
from vellumcut.core.rig.straps import straps_of_piece

BASE: dict[str, Facts] = {}


def inked(template: str, **choices) -> Facts:
    """What a piece of this template has on the usual body."""
    key = f"{template}{sorted(choices.items())}"
    if key not in BASE:
        design = starter_design(template).model_copy(update={"choices": choices})
        side, _ = drawn_sides(WEARER, design)[0]
        BASE[key] = facts_of(ink_piece(worn_tube(WEARER, TEMPLATES[template].part, side, design.halves, {}), design))
    return BASE[key]


def worn(*designs: PieceDesign, readings=WEARER) -> Costume:
    """A costume of these pieces, numbered from 1."""
    pieces = []
    for key, design in enumerate(designs, 1):
        part = TEMPLATES[design.template].part
        sides = drawn_sides(readings, design)
        laid = {side: ink_piece(worn_tube(readings, part, side, design.halves, {}), design) for side, _ in sides}
        pieces.append(Worn(key, design.template, design, laid))
    return Costume(figure_of(readings), tuple(pieces))


def rig_for(design: PieceDesign, readings=WEARER) -> RigPlan:
    """What holds one copy of a lone piece."""
    costume = worn(design, readings=readings)
    (piece,) = costume.pieces
    side = piece.sides[0]
    fixing = fixing_for(with_changes(Schools(), design.making.schools), Owned())
    straps = [s for s in straps_of_piece(costume, piece) if s.side == side]
    return plan_parts(costume, piece, side, straps, None, fixing)


def job_for(design: PieceDesign, **more) -> Job:
    pattern = pattern_piece(WEARER, design, "Piece", "Build", 12.0)
    return Job(pattern, (rig_for(design),), **more)


def planned(design: PieceDesign, **more) -> PlannedPiece:
    job = job_for(design, **more)
    return PlannedPiece(1, "Piece", job.facts, plan_piece(job.facts), {s.key: s for s in build_steps(job)})


CUPS = starter_design("breastplate").model_copy(update={"choices": {"front": "cups"}})
