"""Darts tried and planned on the table."""

import threading
from collections import OrderedDict
from dataclasses import dataclass

from vellumcut.core.body.segments import Side
from vellumcut.core.design.piece import PieceDesign
from vellumcut.core.design.sheet import InkSheet, Stroke
from vellumcut.core.errors import CraftError
from vellumcut.core.flatten.panel import FlatPanel, draw_panel
from vellumcut.core.flatten.trial import Trial, armour_trial
from vellumcut.core.foam.sheets import give_of
from vellumcut.core.foam.stacks import hardest_layer
from vellumcut.core.ink.darts import LEAST_DART, add_darts, dart_strokes, without_darts
from vellumcut.core.ink.lines import PanelInk
from vellumcut.core.ink.stage import InkedPiece, ink_piece
from vellumcut.core.pattern.dart_advice import DartAdvice, Wish, advise_darts, shown_advice
from vellumcut.core.pattern.pattern import drawn_sides, shown_panel
from vellumcut.core.pattern.proof import Prover
from vellumcut.service.errors import NotFound
from vellumcut.service.jobs import Job, start_job
from vellumcut.service.keeping.builds import Work
from vellumcut.service.pattern.patterns import drawn_tube

_KEPT = 12
_tables: OrderedDict[str, "_Table"] = OrderedDict()
_guard = threading.Lock()


@dataclass(frozen=True, eq=False)
class _Table:
    """A panel as it lies before any dart, ready for darts to be tried on."""

    side: Side
    inked: InkedPiece
    ink: PanelInk
    trial: Trial

    @property
    def sheet(self) -> InkSheet:
        return self.inked.sheet

    @property
    def design(self) -> PieceDesign:
        return self.inked.design


def _table(work: Work, number: int, side: Side | None) -> _Table:
    """side: of the body that the panel is drawn for, where both sides are drawn apart. Raises CraftError, NotFound."""
    whole = [c for c in work.design.cuts if c.kind != "dart"]
    design = work.design.model_copy(update={"cuts": tuple(whole)})
    sides = [drawn for drawn, _ in drawn_sides(work.readings, design)]
    if side is not None and side not in sides:
        raise NotFound(f"This piece has no panel {number} on the {side}")
    side = side or sides[0]
    key = f"{number}|{side}|{design.model_dump_json()}|{work.readings.model_dump_json()}"
    with _guard:
        if key in _tables:
            _tables.move_to_end(key)
            return _tables[key]
    inked = ink_piece(drawn_tube(work, side), design)
    ink = next((i for i in inked.panels if i.number == number), None)
    if ink is None:
        raise NotFound(f"This piece has no panel {number}")
    made = _Table(side, inked, ink, armour_trial(inked.surface, ink, False))
    with _guard:
        _tables[key] = made
        while len(_tables) > _KEPT:
            _tables.popitem(last=False)
    return made


def try_cuts(work: Work, number: int, cuts: tuple[Stroke, ...], side: Side | None = None) -> FlatPanel:
    """One panel with other darts than all it has, on a coarse mesh, quickly: untrued and without its marks.

    Raises CraftError where a dart cannot be cut.
    """
    table = _table(work, number, side)
    plane = table.trial.plane
    kept = tuple(s for s in table.sheet.strokes if s.kind != "dart")
    sheet = table.sheet.model_copy(update={"strokes": kept + cuts})
    drawn = dart_strokes(plane, sheet)
    ink, troubles = add_darts(plane, without_darts(table.ink), drawn)
    if troubles:
        raise CraftError(troubles[0].message, "cuts")
    for dart in drawn:
        if dart.flat.length < LEAST_DART:
            raise CraftError(f"{dart.name.capitalize()} is shorter than {LEAST_DART:g} mm: draw it farther in", "cuts")
    return shown_panel(draw_panel(table.trial.solve(ink)), table.side, table.design)


def start_plan(
    work: Work, number: int, no_go: tuple[str, ...], most: int, side: Side | None = None, thorough: bool = False
) -> Job:
    """Plan darts for a panel; the job's result is (its number, a DartAdvice). Raises CraftError."""
    table = _table(work, number, side)

    def plan(job: Job) -> tuple[int, DartAdvice]:
        hardest = hardest_layer(table.design)
        give = give_of(hardest.kind, hardest.thickness, work.gives)
        prover = Prover(table.inked.tube, _without_its_darts(work.design, table), without_darts(table.ink))
        advice = advise_darts(prover, Wish(give, no_go, most, thorough), job.report)
        return number, shown_advice(advice, table.side, table.design)

    return start_job(f"Dart plans for panel {number} of {work.name}", plan)


def _without_its_darts(design: PieceDesign, table: _Table) -> PieceDesign:
    """The design with a panel's own darts taken out, wherever they come from: they make room for the plan."""
    own = {c.key for c in design.cuts}
    laid = tuple(s for s in table.sheet.strokes if s.key not in own)
    every = table.sheet.model_copy(update={"strokes": (*laid, *design.cuts)})
    plane = table.trial.plane
    here = add_darts(plane, without_darts(table.ink), dart_strokes(plane, every))[0].darts
    gone = {d.key.removesuffix("'") for d in here}
    kept = tuple(c for c in design.cuts if c.key not in gone)
    if design.ink is not None:
        strokes = tuple(s for s in design.ink.strokes if s.key not in gone)
        return design.model_copy(update={"cuts": kept, "ink": design.ink.model_copy(update={"strokes": strokes})})
    return design.model_copy(update={"cuts": kept, "without": (*design.without, *sorted(gone - own))})
