"""The list of what a build still takes, from its steps, its sheets and the workshop's shelf."""

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass

from sqlalchemy import select
from sqlalchemy.orm import Session

from vellumcut.core.errors import CraftError
from vellumcut.core.make.job import Job
from vellumcut.core.make.step import Step
from vellumcut.core.paces import Tempo
from vellumcut.core.shop.supplies import Line, Money, OnShelf, SupplyBook, money_of, supply_lines
from vellumcut.core.shop.use import Use
from vellumcut.service.keeping import builds
from vellumcut.service.keeping.builds import Work
from vellumcut.service.keeping.settings import read_supplies, write_supplies
from vellumcut.service.making.plans import CostumeBench, costume_bench, job_of, planned
from vellumcut.service.rows import fetch
from vellumcut.service.shop.layouts import Layout, layout_of
from vellumcut.service.shop.nests import MaterialPlan, foam_words
from vellumcut.store.database import Store
from vellumcut.store.models import Build, CostumeTick, Piece, StepTick


@dataclass(frozen=True)
class Supplies:
    """unlaid: foams whose parts are on no sheet yet. unmade: pieces that cannot be planned yet, and why."""

    build: str
    lines: list[Line]
    money: Money
    book: SupplyBook
    unlaid: list[str]
    unmade: list[tuple[str, str]]


def supplies_of(store: Store, build: int) -> Supplies:
    """Raises NotFound."""
    with store.read() as session:
        name = fetch(session, Build, build).name
        others = [n for n in _begun(session) if n != build]
    bench, layout, book = costume_bench(store, build), layout_of(store, build), read_supplies(store)
    uses = [*_of_steps(bench), *_of_sheets(m.plan for m in layout.materials if m.plan is not None)]
    elsewhere = [u for n in others if book.rows or book.bought for u in _of_steps(costume_bench(store, n)) if u.done_at]
    lines = supply_lines(uses, _with_prices(book, layout), elsewhere, build)
    unlaid = [foam_words(m.material) for m in layout.materials if m.plan is None and not m.cut]
    unmade = [(piece, why) for _, piece, why in bench.unmade]
    return Supplies(name, lines, money_of(lines, book, build), book, unlaid, unmade)


def missing_of(store: Store, build: int) -> list[tuple[Use, list[str]]]:
    """Steps for which too little is there, each by one of its uses, with what is missing; only of things that somebody
    has counted or bought, since of others nobody knows. Raises NotFound."""
    book = read_supplies(store)
    if not book.bought and not any(r.counted_at for r in book.rows):
        return []
    told: dict[tuple[int, str], tuple[Use, list[str]]] = {}
    for line in supplies_of(store, build).lines:
        for use in line.waiting if line.kept_count else ():
            told.setdefault((use.number, use.key), (use, []))[1].append(line.name)
    return list(told.values())


def _begun(session: Session) -> list[int]:
    """Builds of which a step is done: only these have taken anything."""
    pieces = select(Piece.build_id).join(StepTick).where(StepTick.done_at.is_not(None))
    own = select(CostumeTick.build_id).where(CostumeTick.done_at.is_not(None))
    begun = Build.id.in_(pieces) | Build.id.in_(own)
    return list(session.scalars(select(Build.id).where(~Build.removed, begun).order_by(Build.id)))


def uses_of_works(works: Sequence[Work], plans: Sequence[MaterialPlan]) -> Iterator[Use]:
    """What a costume takes that nothing is done of yet. plans: its sheets. Raises CraftError where a piece has no
    pattern."""
    tempo = Tempo()
    for work in works:
        yield from _of_piece(planned(work, tempo).ordered, job_of(work, tempo), work.name, {})
    yield from _of_sheets(plans)


def _of_steps(bench: CostumeBench) -> Iterator[Use]:
    """What steps take, but for foam: that is told by sheets."""
    for piece in bench.pieces:
        done = {key: state.tick.done_at for key, state in piece.states.items()}
        yield from _of_piece(piece.piece.ordered, piece.job, piece.piece.name, done, piece.piece.id)
    for step, state in bench.own:
        yield from _of_step(step, "the costume", state.tick.done_at)


def _of_piece(
    steps: Sequence[Step], job: Job, name: str, done: Mapping[str, float | None], number: int = 0
) -> Iterator[Use]:
    for step in steps:
        yield from _of_step(step, name, done.get(step.key), number)
    laying = {step.of: step for step in steps if step.kind == "lay-on"}
    for key, own in job.pattern.laid.items():
        if own.packs and key in laying:
            step = laying[key]
            at = done.get(step.key)
            yield Use(own.detail.name, "packs", float(own.packs), name, step.title, at, step.key, number)
        elif own.packs:
            yield Use(own.detail.name, "packs", float(own.packs), name, own.detail.name)


def _of_step(step: Step, piece: str, done_at: float | None, number: int = 0) -> Iterator[Use]:
    for m in step.materials:
        if m.unit != "m2":
            yield Use(m.name, m.unit, m.amount, piece, step.title, done_at, step.key, number)


def _of_sheets(plans: Iterable[MaterialPlan]) -> Iterator[Use]:
    """Sheets that parts lie on and that are not there."""
    for plan in plans:
        for sheet in (s for s in plan.sheets if not s.sheet.owned):
            many = f"{len(sheet.placed)} part{'s' * (len(sheet.placed) > 1)}"
            yield Use(foam_words(plan.material), "sheets", 1.0, many, sheet.sheet.key)


def _with_prices(book: SupplyBook, layout: Layout) -> SupplyBook:
    """Sheets cost what the foam shelf says."""
    rows = [OnShelf(name=foam_words(m.material), unit="sheets", price=m.material.price) for m in layout.materials]
    return book.model_copy(update={"rows": (*book.rows, *rows)})


def change_supplies(store: Store, build: int, book: SupplyBook) -> Supplies:
    """Raises NotFound, CraftError when a thing is there twice."""
    keys = [(r.name, r.unit) for r in book.rows]
    if len(set(keys)) < len(keys):
        raise CraftError("Each thing has one row: change it", "rows")
    builds.works_on(store, build)
    write_supplies(store, book)
    return supplies_of(store, build)
