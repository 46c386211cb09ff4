"""The bench: ticks, cautions and timers that outlive reloads and restarts."""

from collections.abc import Mapping
from dataclasses import dataclass, replace

from sqlalchemy import select
from sqlalchemy.orm import Session

from vellumcut.core.cast import wrap
from vellumcut.core.caution.cautions import CAUTIONS
from vellumcut.core.errors import CraftError
from vellumcut.core.make import glue
from vellumcut.core.make.glue import CementRoom, cement_window
from vellumcut.core.make.progress import StepState
from vellumcut.core.make.step import Step
from vellumcut.core.notes import Note
from vellumcut.service import clock
from vellumcut.service.errors import NotFound
from vellumcut.service.making import plans
from vellumcut.service.rows import fetch
from vellumcut.store.database import Store
from vellumcut.store.models import Build, CautionSeen, CostumeTick, Piece, StepTick, Timer

LONGEST_SHOWN = 24 * 3600.0
"""A timer that closed longer ago than this, seconds, is history and no longer shown."""


@dataclass(frozen=True)
class TimerState:
    """state: running, ready, closing, closed or stopped. Seconds from now; negative when past."""

    id: int
    kind: str
    build_id: int
    piece_id: int | None
    step: str
    label: str
    state: str
    ready_in: float
    closes_in: float
    passed: float
    whole: float
    rings: bool


@dataclass(frozen=True)
class Mark:
    """What a maker says of a step. done: it is, or it is not after all; None leaves that. answer: yes, no, or mended.
    begin: the clock of its hands-on time starts. part: one coat ("1") or one check ("c1"); part_done: whether it is.
    took: minutes, in place of the clock's. note: what they would do otherwise."""

    done: bool | None = None
    answer: str = ""
    begin: bool = False
    part: str = ""
    part_done: bool = True
    took: float | None = None
    note: str | None = None


def mark_step(store: Store, piece: int, key: str, mark: Mark) -> None:
    """Keep what was done about a step of a piece. Raises NotFound, and CraftError where a hard rule stands against
    it."""
    bench = plans.bench_of(store, piece)
    step = bench.piece.steps.get(key)
    if step is None:
        raise NotFound(f'This piece has no step "{key[:60]}"')
    state = bench.states[key]
    _check(step, state, mark, bench.piece.steps)
    with store.write(_words(step, mark)) as session:
        row = fetch(session, Piece, piece)
        rows = _Rows(session, StepTick, {"piece_id": piece})
        where = f"{step.title} · {row.name}"
        _apply(rows, step, state, mark)
        _wait_timer(session, row.build_id, piece, step, state, mark, where)


def mark_costume(store: Store, build: int, key: str, mark: Mark) -> None:
    """As ``mark_step``, for a step of the whole costume."""
    bench = plans.costume_bench(store, build)
    found = next(((s, state) for s, state in bench.own if s.key == key), None)
    if found is None:
        raise NotFound(f'The costume has no step "{key[:60]}"')
    step, state = found
    _check(step, state, mark, {})
    with store.write(_words(step, mark)) as session:
        fetch(session, Build, build)
        _apply(_Rows(session, CostumeTick, {"build_id": build}), step, state, mark)


def _words(step: Step, mark: Mark) -> str:
    if mark.note is not None:
        return f"Note on {step.title}"
    if mark.part:
        return f"{'Tick' if mark.part_done else 'Untick'} a part of {step.title}"
    if mark.done is None:
        return f"{'Begin' if mark.begin else 'Answer'} {step.title}"
    return f"{'Tick' if mark.done else 'Untick'} {step.title}"


def _check(step: Step, state: StepState, mark: Mark, steps: Mapping[str, Step]) -> None:
    """Raises CraftError when a hard rule, an open question or an unticked check stands against it."""
    forward = mark.done or (mark.part.isdigit() and mark.part_done)
    if not forward:
        return
    for link in state.blocked_by:
        if link.hard and link.first in steps:
            raise CraftError(f"“{steps[link.first].title}” comes first. {link.reason}", "steps")
    if mark.part:
        return
    left = [c for k, c in enumerate(step.checks, 1) if f"c{k}" not in state.tick.parts]
    if left:
        raise CraftError(f"Hold the reference beside it, and tick what matches first: {left[0]}", "steps")
    if step.inspection and mark.answer != "yes":
        raise CraftError(f"Answer first: {step.inspection.question}", "steps")


class _Rows:
    """Rows of ticks of one piece or one costume, made when they are first wanted."""

    def __init__(self, session: Session, kind: type[StepTick] | type[CostumeTick], owner: dict[str, int]) -> None:
        self.session, self.kind, self.owner = session, kind, owner

    def row(self, step: str, done_at: float | None = None) -> StepTick | CostumeTick:
        """done_at: when it was done, where no row of its own says so yet: an older program's tick did."""
        wanted = select(self.kind).filter_by(step=step, **self.owner)
        found: StepTick | CostumeTick | None = self.session.scalars(wanted).first()  # type: ignore[assignment]
        if found is None:
            found = self.kind(step=step, done_at=done_at, **self.owner)
            self.session.add(found)
        return found


def _apply(rows: _Rows, step: Step, state: StepState, mark: Mark) -> None:
    now = clock.now()
    if mark.part:
        rows.row(f"{step.key}#{mark.part}").done_at = now if mark.part_done else None
    row = rows.row(step.key, state.tick.done_at)
    if mark.note is not None:
        row.note = mark.note[:4000]
    if mark.begin:
        row.begun_at = now
    if mark.answer:
        row.answer = "" if mark.answer == "mended" else mark.answer
    done = False if mark.answer == "no" else _by_coats(step, state, mark)
    if done:
        _done(row, step, mark, now)
    elif done is False:
        row.done_at = row.took = None
        row.figures = {"title": step.title}
        for k in coats_ticked(state) if mark.done is False else ():
            rows.row(f"{step.key}#{k}").done_at = None


def coats_ticked(state: StepState) -> set[str]:
    """Numbers of the coats that are on."""
    return {k for k in state.tick.parts if k.isdigit()}


def _by_coats(step: Step, state: StepState, mark: Mark) -> bool | None:
    """Whether the step is done by this mark; None leaves it. The last coat is the step, but where a question is
    open."""
    if not mark.part.isdigit():
        return mark.done
    coats = coats_ticked(state)
    last = len(coats | {mark.part} if mark.part_done else coats - {mark.part}) >= step.coats
    if last:
        return True if step.inspection is None else None
    return False if state.done else None


def _done(row: StepTick | CostumeTick, step: Step, mark: Mark, now: float) -> None:
    row.done_at = now
    row.took = mark.took
    if mark.took is None and row.begun_at is not None:
        row.took = max(0.1, (now - row.begun_at) / 60)
    row.begun_at = None
    row.figures = {
        "title": step.title,
        "work": step.work,
        "estimate": step.minutes,
        "values": {v.word: v.amount for v in step.measures},
    }


SHORTEST_TIMED = 10.0
"""A wait shorter than this, minutes, needs no bell."""
NEVER = 10 * 365 * 86400.0
"""A wait is over and does not close, seconds."""


def _wait_timer(session: Session, build: int, piece: int, step: Step, state: StepState, mark: Mark, where: str) -> None:
    """Start the bell of a coat or of the wait after a step; stop it when the step is not done after all."""
    for timer in session.scalars(
        select(Timer).where(Timer.piece_id == piece, Timer.step == step.key, Timer.stopped_at.is_(None))
    ):
        if mark.done is not None or mark.part or mark.answer == "no":
            timer.stopped_at = clock.now()
    coats = len(coats_ticked(state) - {mark.part}) + bool(mark.part.isdigit() and mark.part_done)
    if mark.part.isdigit() and mark.part_done and coats < step.coats:
        wait, label = step.between, f"Coat {coats} of {step.coats}: {where}"
    elif mark.done or (mark.part.isdigit() and mark.part_done):
        wait, label = step.wait, where
    else:
        return
    if wait >= SHORTEST_TIMED:
        session.add(_row("wait", build, piece, label, wait * 60, NEVER, NEVER, step.key))


def cautions_seen(store: Store, build: int) -> set[str]:
    with store.read() as session:
        fetch(session, Build, build)
        return set(session.scalars(select(CautionSeen.caution).where(CautionSeen.build_id == build)))


def see_caution(store: Store, build: int, caution: str) -> None:
    """Acknowledge a caution for a build; doing so twice changes nothing."""
    if caution not in CAUTIONS:
        raise NotFound(f'There is no caution "{caution}"')
    with store.write() as session:
        fetch(session, Build, build)
        seen = session.scalars(
            select(CautionSeen).where(CautionSeen.build_id == build, CautionSeen.caution == caution)
        ).first()
        if seen is None:
            session.add(CautionSeen(build_id=build, caution=caution, seen_at=clock.now()))


def start_cement(store: Store, piece: int, room: CementRoom, step: str = "") -> tuple[TimerState, Note]:
    """Start the cement window of a piece, or of one of its steps. Raises CraftError until the caution has been read."""
    window = cement_window(room)
    with store.read() as session:
        row = fetch(session, Piece, piece)
    _must_have_seen(store, row.build_id, "solvents")
    label = f"Cement on {row.name}"
    if step:
        made = plans.bench_of(store, piece).piece.steps.get(step)
        if made is None:
            raise NotFound(f'This piece has no step "{step[:60]}"')
        ready = window.ready * made.slower
        window = replace(window, ready=ready, closes=ready + window.closes - window.ready)
    warn = window.closes - min(glue.WARN_BEFORE, (window.closes - window.ready) / 2)
    return _start(store, "cement", row.build_id, piece, label, window.ready, warn, window.closes, step), window.note


def start_wrap(store: Store, piece: int, label: str) -> TimerState:
    """Start the wearing time of a wrapped tube. Raises CraftError until the wrapping caution has been read."""
    with store.read() as session:
        row = fetch(session, Piece, piece)
    _must_have_seen(store, row.build_id, "wrapping")
    limit = wrap.WEARING_LIMIT
    return _start(store, "wrap", row.build_id, piece, label, limit, limit - wrap.WARN_BEFORE, limit)


def _must_have_seen(store: Store, build: int, caution: str) -> None:
    if caution not in cautions_seen(store, build):
        raise CraftError(f'Read and acknowledge the caution "{CAUTIONS[caution].title}" first', "caution")


def _start(
    store: Store,
    kind: str,
    build: int,
    piece: int,
    label: str,
    ready: float,
    warn: float,
    closes: float,
    step: str = "",
) -> TimerState:
    with store.write() as session:
        timer = _row(kind, build, piece, label, ready, warn, closes, step)
        session.add(timer)
    return timer_state(timer, clock.now())


def _row(kind: str, build: int, piece: int, label: str, ready: float, warn: float, closes: float, step: str) -> Timer:
    return Timer(
        kind=kind,
        build_id=build,
        piece_id=piece,
        label=label[:200],
        started_at=clock.now(),
        ready_after=ready,
        warn_after=warn,
        closes_after=closes,
        stopped_at=None,
        step=step,
    )


def timer_state(timer: Timer, now: float) -> TimerState:
    """What a timer says at a moment. It rings once for each state worth hearing, until that was heard."""
    # Started by a clock that was set back since, and the program begun anew: nothing has passed yet that is known.
    passed = max(0.0, (timer.stopped_at or now) - timer.started_at)
    if timer.stopped_at is not None:
        state = "stopped"
    elif passed >= timer.closes_after:
        state = "closed"
    elif passed >= timer.warn_after:
        state = "closing"
    elif passed >= timer.ready_after:
        state = "ready"
    else:
        state = "running"
    rings = state in ("ready", "closing", "closed") and timer.heard != state
    return TimerState(
        id=timer.id,
        kind=timer.kind,
        build_id=timer.build_id,
        piece_id=timer.piece_id,
        step=timer.step,
        label=timer.label,
        state=state,
        ready_in=timer.ready_after - passed,
        closes_in=timer.closes_after - passed,
        passed=passed,
        whole=timer.ready_after if timer.kind == "wait" else timer.closes_after,
        rings=rings,
    )


def list_timers(store: Store) -> list[TimerState]:
    """Timers that run or have just ended, oldest first."""
    now = clock.now()
    with store.read() as session:
        rows = list(session.scalars(select(Timer).where(Timer.stopped_at.is_(None)).order_by(Timer.id)))
    states = [timer_state(row, now) for row in rows]
    return [s for s in states if s.closes_in > -LONGEST_SHOWN]


def hear_timer(store: Store, number: int) -> TimerState:
    """The maker heard the bell: it stays quiet until the next thing worth hearing."""
    with store.write() as session:
        timer = fetch(session, Timer, number)
        timer.heard = timer_state(timer, clock.now()).state
        if timer.kind == "wait" and timer.heard == "ready":
            timer.stopped_at = clock.now()
    return timer_state(timer, clock.now())


def stop_timer(store: Store, number: int) -> TimerState:
    with store.write() as session:
        timer = fetch(session, Timer, number)
        if timer.stopped_at is None:
            timer.stopped_at = clock.now()
    return timer_state(timer, clock.now())
