"""What there is to do: the steps of a piece and of a costume, ordered, and how far each of them is."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, replace

from sqlalchemy import select
from sqlalchemy.orm import Session

from vellumcut.core.errors import CraftError
from vellumcut.core.make.hours import Hours, hours_of
from vellumcut.core.make.job import Job
from vellumcut.core.make.lost import lost_names
from vellumcut.core.make.order import build_steps, step_keys
from vellumcut.core.make.plan import CostumeLink, PlannedPiece, costume_links, costume_steps, plan_piece
from vellumcut.core.make.progress import (
    Batch,
    Bound,
    State,
    StepState,
    Tick,
    batches_of,
    became_wrong,
    carried,
    held_back,
    states_of,
)
from vellumcut.core.make.step import Step
from vellumcut.core.paces import Tempo, Timed, learned_from
from vellumcut.service import clock
from vellumcut.service.keeping import builds
from vellumcut.service.keeping.builds import Work
from vellumcut.service.keeping.settings import paces_in
from vellumcut.service.kept import Kept
from vellumcut.service.making.heat import heat_of
from vellumcut.service.pattern.patterns import ink_ahead, pattern_of, piece_facts
from vellumcut.service.rigging.rigs import plans_of
from vellumcut.store.database import Store
from vellumcut.store.models import CostumeTick, StepTick


@dataclass(frozen=True)
class PieceBench:
    """One piece as it stands. wrong: what was done and is not so any more, in words."""

    piece: PlannedPiece
    job: Job
    states: dict[str, StepState]
    wrong: tuple[str, ...]
    tempo: Tempo

    @property
    def left(self) -> list[Step]:
        """Steps that are not done."""
        return [s for s in self.piece.ordered if not self.states[s.key].done]

    @property
    def hours(self) -> Hours:
        """Of the work left."""
        return hours_of(self.left)


@dataclass(frozen=True)
class CostumeBench:
    """All pieces of a build and its own steps. unmade: pieces that cannot be made, and why. bound: what waits for
    another piece. own: the costume's steps with how each stands."""

    pieces: tuple[PieceBench, ...]
    unmade: tuple[tuple[int, str, str], ...]
    own: tuple[tuple[Step, StepState], ...]
    bound: tuple[Bound, ...]
    batches: tuple[Batch, ...]

    @property
    def hours(self) -> Hours:
        """Of all work left, the costume's own steps with it."""
        return hours_of([*(s for b in self.pieces for s in b.left), *(s for s, state in self.own if not state.done)])


def tempo_of(store: Store) -> Tempo:
    """How this maker works: paces that were typed, and what all timed steps have taught."""
    with store.read() as session:
        return Tempo(paces_in(session).rows, learned_from(timed_in(session)))


def timed_in(session: Session) -> list[Timed]:
    """Every step that was timed, of all builds."""
    rows = session.scalars(select(StepTick).where(StepTick.took.is_not(None), StepTick.done_at.is_not(None)))
    out = []
    for row in rows:
        work, estimate = row.figures.get("work"), row.figures.get("estimate")
        if work and estimate and row.took:
            out.append(Timed(work, float(estimate), row.took))
    return out


def timed_counts(store: Store) -> dict[str, int]:
    """How many steps of each class of work were timed."""
    with store.read() as session:
        return dict(Counter(t.work for t in timed_in(session)))


def _job(work: Work, tempo: Tempo) -> Job:
    pattern, rigs = pattern_of(work), plans_of(work)
    heat = next((x.plan for x in heat_of(work, pattern) if x.plan), None)
    made = {"schools": work.schools, "owned": work.owned, "tempo": tempo}
    return Job(pattern, tuple(rigs), heat, work.gun.patch, **made)  # type: ignore[arg-type]


def tempo_key(tempo: Tempo) -> str:
    """What minutes are told from."""
    return f"{sorted(tempo.own.items())}{sorted(tempo.learned.items())}"


def _key(work: Work, tempo: Tempo) -> str:
    made_from = (*work.gives, *work.shelf, work.gun, work.schools, work.owned)
    paces = tempo_key(tempo)
    names = f"{work.piece_id}|{work.name}|{work.build}|{work.dart_edges}"
    return "|".join([work.costume_key, work.key, names, paces, *(x.model_dump_json() for x in made_from)])


job_of = Kept(_job, _key, 24)
"""All that steps are made from. Raises CraftError when the piece has no pattern."""


def _plan(work: Work, tempo: Tempo) -> PlannedPiece:
    job = job_of(work, tempo)
    steps = {s.key: s for s in build_steps(job)}
    titles = {key: step.title for key, step in steps.items()}
    plan = plan_piece(job.facts, titles)
    plan = replace(plan, trouble=(*plan.trouble, *lost_names(job)))
    return PlannedPiece(work.piece_id, work.name, job.facts, plan, steps)


planned = Kept(_plan, _key)
"""The steps of a piece in the order of work. Raises CraftError when it has no pattern or its order contradicts
itself."""


def ticks_in(rows: Sequence[StepTick | CostumeTick]) -> dict[str, Tick]:
    """Ticks by the key of their step, with those of its coats and checks among them."""
    parts: dict[str, dict[str, float]] = {}
    for row in rows:
        key, _, part = row.step.partition("#")
        if part and row.done_at is not None:
            parts.setdefault(key, {})[part] = row.done_at
    whole = {row.step: row for row in rows if "#" not in row.step}
    out = {}
    for key, row in whole.items():
        values = row.figures.get("values", {})
        told = (row.done_at, row.answer, row.begun_at, row.took, row.note)
        title = str(row.figures.get("title", ""))
        out[key] = Tick(key, *told, title=title, figures=values, parts=parts.pop(key, {}))
    out |= {key: Tick(key, parts=own) for key, own in parts.items()}
    return out


def piece_ticks(store: Store, piece: int) -> dict[str, Tick]:
    with store.read() as session:
        return ticks_in(session.scalars(select(StepTick).where(StepTick.piece_id == piece)).all())


def progress_of(store: Store, work: Work) -> float:
    """Share of a piece's steps that are done. Raises CraftError when its ink cannot be laid; flattens nothing."""
    mine = carried(step_keys(piece_facts(work)), piece_ticks(store, work.piece_id))
    return sum(t.done_at is not None for t in mine.values()) / len(mine)


def bench_of(store: Store, piece: int) -> PieceBench:
    """One piece as it stands now. Raises CraftError when it has no pattern."""
    return _bench(store, builds.work_on(store, piece), tempo_of(store))


def _bench(store: Store, work: Work, tempo: Tempo) -> PieceBench:
    made = planned(work, tempo)
    ticks = piece_ticks(store, work.piece_id)
    states = states_of(made, ticks, work.owned, clock.now())
    return PieceBench(made, job_of(work, tempo), states, tuple(became_wrong(made, ticks)), tempo)


def costume_bench(store: Store, build: int) -> CostumeBench:
    """A whole build as it stands now."""
    works = builds.works_on(store, build)
    with store.read() as session:
        own_ticks = ticks_in(session.scalars(select(CostumeTick).where(CostumeTick.build_id == build)).all())
    tempo = tempo_of(store)
    ink_ahead(works)
    planned.ahead([(work, tempo) for work in works])
    made: list[PieceBench] = []
    unmade = []
    for work in works:
        try:
            made.append(_bench(store, work, tempo))
        except CraftError as error:
            unmade.append((work.piece_id, work.name, error.message))
    planned_pieces = [b.piece for b in made]
    own = costume_steps(planned_pieces)
    links = costume_links(planned_pieces, own)
    bound = _bound(made, own, own_ticks, links)
    rows = tuple((s, _own_state(s, own_ticks, {b.key for b in bound if b.piece == 0})) for s in own)
    held = {(b.piece, b.key) for b in bound}
    ready = [
        (b.piece.id, s)
        for b in made
        for s in b.piece.ordered
        if b.states[s.key].state == "ready" and (b.piece.id, s.key) not in held and not b.states[s.key].lacks
    ]
    return CostumeBench(tuple(made), tuple(unmade), rows, tuple(bound), tuple(batches_of(ready)))


def _bound(made: list[PieceBench], own: list[Step], ticks: dict[str, Tick], links: list[CostumeLink]) -> list[Bound]:
    names = {b.piece.id: b.piece.name for b in made}
    titles = {(b.piece.id, s.key): s.title for b in made for s in b.piece.ordered} | {(0, s.key): s.title for s in own}
    done = {(b.piece.id, k): s.done for b in made for k, s in b.states.items()}
    done |= {(0, s.key): (ticks.get(s.key) or Tick(s.key)).done_at is not None for s in own}
    return held_back(links, names, titles, done)


def _own_state(step: Step, ticks: dict[str, Tick], held: set[str]) -> StepState:
    tick = carried([step.key], ticks)[step.key]
    state: State = "blocked" if step.key in held else "ready"
    if tick.done_at is not None or tick.answer == "no":
        state = "mend" if tick.done_at is None else "done"
    return StepState(step.key, state, tick)
