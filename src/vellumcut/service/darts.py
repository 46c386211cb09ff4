"""Darts tried and planned on the table."""

import threading
from collections import OrderedDict
from dataclasses import dataclass

from vellumcut.core.body.segments import Side
from vellumcut.core.cast.armour import ArmourSurface
from vellumcut.core.errors import CraftError
from vellumcut.core.flatten.panel import FlatPanel, draw_panel
from vellumcut.core.flatten.solving import solve_near
from vellumcut.core.flatten.trial import Trial, armour_trial
from vellumcut.core.foam.sheets import give_of
from vellumcut.core.ink.darts import LEAST_DART, add_darts, dart_strokes, without_darts
from vellumcut.core.ink.design import PieceDesign
from vellumcut.core.ink.lines import PanelInk
from vellumcut.core.ink.sheet import InkSheet, Stroke
from vellumcut.core.ink.templates import armour_surface, ink_limb_piece, ink_sheet, is_inked
from vellumcut.core.layout.dart_advice import DartAdvice, advise_darts, shown_advice
from vellumcut.core.layout.pattern import drawn_sides, read_piece_ink, shown_panel
from vellumcut.service.builds import Work
from vellumcut.service.errors import NotFound
from vellumcut.service.jobs import Job, start_job
from vellumcut.service.patterns import drawn_tube

_KEPT = 12
_tables: OrderedDict[str, "_Table"] = OrderedDict()
_guard = threading.Lock()


@dataclass(frozen=True, eq=False)
class _Table:
    """A panel as it lies before any dart, ready for darts to be tried on."""

    side: Side
    surface: ArmourSurface
    ink: PanelInk
    sheet: InkSheet
    design: PieceDesign
    trial: Trial


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
    tube = drawn_tube(work, side)
    surface = armour_surface(tube, design)
    if is_inked(design):
        inks = [r.ink for r in read_piece_ink(tube, design).regions]
    else:
        inks = [ink_limb_piece(surface, design)]
    ink = next((i for i in inks if i.number == number), None)
    if ink is None:
        raise NotFound(f"This piece has no panel {number}")
    made = _Table(side, surface, ink, ink_sheet(tube, design), design, armour_trial(surface, ink, False))
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
    trial = table.trial
    solved = solve_near(trial.surface, trial.first, ink, trial.size, trial.whole)
    return shown_panel(draw_panel(solved), table.side, table.design)


def start_plan(work: Work, number: int, no_go: tuple[str, ...], most: int, side: Side | None = None) -> Job:
    """Plan darts for a panel; the job's result is (the work it was planned for, a DartAdvice). Raises CraftError."""
    table = _table(work, number, side)

    def plan(job: Job) -> tuple[int, DartAdvice]:
        give = give_of(table.design.foam_kind, table.design.foam, work.gives)
        # Names of darts that are there already are not given out again, but for those that make room for the plan.
        own = {c.key for c in work.design.cuts}
        laid = tuple(s for s in table.sheet.strokes if s.key not in own)
        every = table.sheet.model_copy(update={"strokes": laid + work.design.cuts})
        plane = table.trial.plane
        here = add_darts(plane, without_darts(table.ink), dart_strokes(plane, every))[0].darts
        gone = {d.key.removesuffix("'") for d in here}
        every = every.model_copy(update={"strokes": tuple(s for s in every.strokes if s.key not in gone)})
        advice = advise_darts(table.surface, table.ink, every, give, no_go, most, job.report)
        return number, shown_advice(advice, table.side, table.design)

    return start_job(f"Dart plans for panel {number} of {work.name}", plan)
