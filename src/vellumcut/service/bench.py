"""The bench: ticks, cautions and timers that outlive reloads and restarts."""

from dataclasses import dataclass

from sqlalchemy import select

from vellumcut.core.cast import wrap
from vellumcut.core.caution.cautions import CAUTIONS
from vellumcut.core.errors import CraftError
from vellumcut.core.make import glue
from vellumcut.core.make.glue import CementRoom, cement_window
from vellumcut.core.notes import Note
from vellumcut.service import clock
from vellumcut.service.errors import NotFound
from vellumcut.service.rows import fetch
from vellumcut.store.database import Store
from vellumcut.store.models import Build, CautionSeen, Piece, StepTick, Timer

LONGEST_SHOWN = 24 * 3600.0
"""A timer that closed longer ago than this, seconds, is history and no longer shown."""


@dataclass(frozen=True)
class TimerState:
    """state: running, ready, closing, closed or stopped. Seconds from now; negative when past."""

    id: int
    kind: str
    build_id: int
    piece_id: int | None
    label: str
    state: str
    ready_in: float
    closes_in: float
    passed: float
    whole: float
    rings: bool


def ticks_of(store: Store, piece: int) -> dict[str, float]:
    """Done steps and when they were ticked, seconds since 1970."""
    with store.read() as session:
        rows = session.scalars(select(StepTick).where(StepTick.piece_id == piece))
        return {row.step: row.done_at for row in rows if row.done_at is not None}


def tick_step(store: Store, piece: int, step: str, done: bool) -> None:
    with store.write(f"{'Tick' if done else 'Untick'} {step}") as session:
        fetch(session, Piece, piece)
        row = session.scalars(select(StepTick).where(StepTick.piece_id == piece, StepTick.step == step)).first()
        if row is None:
            row = StepTick(piece_id=piece, step=step, done_at=None)
            session.add(row)
        row.done_at = clock.now() if done else None


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


def start_cement(store: Store, piece: int, room: CementRoom) -> tuple[TimerState, Note]:
    """Start the cement window of a piece. Raises CraftError until the solvents caution has been read."""
    window = cement_window(room)
    with store.read() as session:
        row = fetch(session, Piece, piece)
    _must_have_seen(store, row.build_id, "solvents")
    label = f"Cement on {row.name}"
    warn = window.closes - min(glue.WARN_BEFORE, (window.closes - window.ready) / 2)
    return _start(store, "cement", row.build_id, piece, label, window.ready, warn, window.closes), window.note


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
    store: Store, kind: str, build: int, piece: int, label: str, ready: float, warn: float, closes: float
) -> TimerState:
    with store.write() as session:
        timer = Timer(
            kind=kind,
            build_id=build,
            piece_id=piece,
            label=label[:200],
            started_at=clock.now(),
            ready_after=ready,
            warn_after=warn,
            closes_after=closes,
            stopped_at=None,
        )
        session.add(timer)
    return timer_state(timer, clock.now())


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
        label=timer.label,
        state=state,
        ready_in=timer.ready_after - passed,
        closes_in=timer.closes_after - passed,
        passed=passed,
        whole=timer.closes_after,
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
    return timer_state(timer, clock.now())


def stop_timer(store: Store, number: int) -> TimerState:
    with store.write() as session:
        timer = fetch(session, Timer, number)
        if timer.stopped_at is None:
            timer.stopped_at = clock.now()
    return timer_state(timer, clock.now())
