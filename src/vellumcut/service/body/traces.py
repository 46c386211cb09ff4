"""Photographs of cast pieces: taken in, traced, and kept with what the maker made of them."""

import math
import tempfile
from collections.abc import AsyncIterator, Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path

from sqlalchemy import select

from vellumcut.core.design.flat import FlatShape
from vellumcut.core.errors import CraftError
from vellumcut.core.trace.floor import FEWEST_LYING
from vellumcut.core.trace.view.cards import SIDE
from vellumcut.core.trace.view.join import FEWEST_SHARED, MOVED
from vellumcut.formats.body.photographs import LARGEST_PHOTOGRAPH, HowTaken, Traced, check_bytes, trace_file
from vellumcut.service import clock
from vellumcut.service.errors import NotFound
from vellumcut.service.jobs import Job, start_job
from vellumcut.service.rows import fetch
from vellumcut.standins.camera import jpeg
from vellumcut.standins.casts import before_it_was_laid, demo_scene, on_newspaper
from vellumcut.store.database import Store
from vellumcut.store.files import SCRATCH, arriving, file_in
from vellumcut.store.models import Build, TracedPhotograph

USUAL_SQUARE = 100.0
"""mm of the test square on the cards' page."""
SAME = 1e-6
"""mm within which two sides of a card are one."""
MOST_PHOTOGRAPHS = 60
"""Of one build."""


def card_side(square: float) -> float:
    """mm of the cards' black squares where the page's test square measures so many mm."""
    return SIDE * square / USUAL_SQUARE


@dataclass(frozen=True)
class Brought:
    """A photograph that is brought in. square: mm of the cards' test square; checked: it was measured. bare: it shows
    the floor alone. over: the number of the photograph of the floor beneath it."""

    name: str
    square: float
    bare: bool = False
    over: int | None = None
    checked: bool = False


async def receive(store: Store, build: int, brought: Brought, body: AsyncIterator[bytes]) -> Job:
    """Take an upload in and trace it; the job's result is the photograph's number. Raises CraftError, NotFound."""
    content = bytearray()
    async for block in body:
        content += block
        if len(content) > LARGEST_PHOTOGRAPH:
            check_bytes(len(content))
    check_bytes(len(content))
    return trace_upload(store, build, brought, bytes(content))


def trace_upload(store: Store, build: int, brought: Brought, content: bytes) -> Job:
    with store.read() as session:
        fetch(session, Build, build)
    how = HowTaken(bare=brought.bare, floor=_floor_photograph(store, build, brought.over))

    def work(job: Job) -> int:
        return _keep(store, build, brought, _traced(store, content, card_side(brought.square), how, job)).id

    return start_job(f"Tracing {brought.name[:60]}", work)


def _floor_photograph(store: Store, build: int, number: int | None) -> Path | None:
    """The file of a photograph of a floor. Raises CraftError, NotFound."""
    if number is None:
        return None
    row = get_trace(store, number)
    if row.build_id != build or not row.found.get("bare"):
        raise CraftError(f"{row.name} is no photograph of the bare floor of this build", "over")
    return _photograph_of(store, row)


def join_traces(store: Store, numbers: Sequence[int]) -> Job:
    """Join photographs of one build that share cards into one; the job's result is its number. Raises CraftError,
    NotFound."""
    rows = [get_trace(store, n) for n in dict.fromkeys(numbers)]
    first = rows[0]
    if len(rows) < 2 or any(r.build_id != first.build_id or r.side != first.side for r in rows):
        raise CraftError("Choose photographs of one build, with cards from one print, to be joined", "traces")
    paths = [_photograph_of(store, r) for r in rows]
    name = " + ".join(r.name for r in rows)

    def work(job: Job) -> int:
        traced = trace_file(paths[0], first.side, job.report, HowTaken(others=paths[1:]))
        checked = all(r.found.get("checked") for r in rows)
        return _keep(store, first.build_id, Brought(name, first.side / card_side(1.0), checked=checked), traced).id

    return start_job(f"Joining {len(rows)} photographs", work)


def _photograph_of(store: Store, row: TracedPhotograph) -> Path:
    path = file_in(traces_folder(store), row.file)
    if path is None:
        raise CraftError(f"The file of {row.name} is gone from the data folder; bring it in again", "file")
    return path


def photograph_made_up_cast(store: Store, build: int, seed: int) -> Job:
    """Photograph a made-up cast with the simulated camera, and trace that. Raises NotFound."""
    with store.read() as session:
        fetch(session, Build, build)

    def work(job: Job) -> int:
        content = jpeg(demo_scene(seed), lambda: job.report(0.01, "The camera looks"))
        traced = _traced(store, content, SIDE, HowTaken(), job)
        return _keep(store, build, Brought(f"Made-up cast {seed}", USUAL_SQUARE, checked=True), traced).id

    return start_job("Photographing a made-up cast", work)


def photograph_made_up_floor(store: Store, build: int, seed: int) -> Job:
    """Photograph a floor of newspaper with the simulated camera, then a made-up cast on it, and trace that by both; the
    job's result is the second's number. Raises NotFound."""
    with store.read() as session:
        fetch(session, Build, build)

    def work(job: Job) -> int:
        scene = on_newspaper(seed)
        bare = jpeg(before_it_was_laid(scene), lambda: job.report(0.01, "The camera looks at the floor"))
        told = Brought(f"Made-up floor {seed}", USUAL_SQUARE, bare=True, checked=True)
        floor = _keep(store, build, told, _traced(store, bare, SIDE, HowTaken(bare=True), job))
        content = jpeg(scene, lambda: job.report(0.02, "The camera looks at the pieces"))
        how = HowTaken(floor=_photograph_of(store, floor))
        return _keep(
            store,
            build,
            Brought(f"Made-up cast {seed} on newspaper", USUAL_SQUARE, checked=True),
            _traced(store, content, SIDE, how, job),
        ).id

    return start_job("Photographing a made-up cast on a floor", work)


def _traced(store: Store, content: bytes, side: float, how: HowTaken, job: Job) -> Traced:
    with tempfile.NamedTemporaryFile(prefix=SCRATCH, dir=store.folder) as file:
        file.write(content)
        file.flush()
        return trace_file(Path(file.name), side, job.report, how)


def _keep(store: Store, build: int, brought: Brought, traced: Traced) -> TracedPhotograph:
    with (
        arriving(traces_folder(store), "jpg", traced.photograph) as file,
        arriving(above_folder(store), "jpg", traced.above) as above,
        _floor_arriving(store, traced) as floor,
        store.write(f"Trace {brought.name[:60]}") as session,
    ):
        fetch(session, Build, build)
        if len(session.scalars(_of(build)).all()) >= MOST_PHOTOGRAPHS:
            raise CraftError(f"A build keeps {MOST_PHOTOGRAPHS} traced photographs; take some away first", "file")
        row = TracedPhotograph(
            build_id=build, name=brought.name[:200], file=file.name, above=above.name, floor=floor,
            taken_at=clock.now(), side=card_side(brought.square), found=traced.data | {"checked": brought.checked},
            shapes=dumped(traced.shapes),
        )  # fmt: skip
        session.add(row)
    return row


@contextmanager
def _floor_arriving(store: Store, traced: Traced) -> Iterator[str]:
    """The name of the floor's own copy, or none: each photograph keeps its own, so that each may be taken away."""
    if not traced.floor:
        yield ""
        return
    with arriving(floors_folder(store), "jpg", traced.floor) as file:
        yield file.name


def dumped(shapes: Sequence[FlatShape]) -> list[dict[str, object]]:
    return [s.model_dump(mode="json") for s in shapes]


def traces_folder(store: Store) -> Path:
    return store.folder / "traces"


def above_folder(store: Store) -> Path:
    return store.folder / "above"


def floors_folder(store: Store) -> Path:
    return store.folder / "floors"


def _of(build: int):  # type: ignore[no-untyped-def]
    wanted = select(TracedPhotograph).where(TracedPhotograph.build_id == build, ~TracedPhotograph.removed)
    return wanted.order_by(TracedPhotograph.id)


def list_traces(store: Store, build: int) -> list[TracedPhotograph]:
    with store.read() as session:
        fetch(session, Build, build)
        return list(session.scalars(_of(build)))


def joins_of(rows: Sequence[TracedPhotograph]) -> dict[int, list[int]]:
    """For each photograph those that show two of its cards or more, lying as they do in it; none for what was
    joined."""
    plain = [r for r in rows if not r.found.get("joined") and not r.found.get("bare")]
    cards = {r.id: _cards(r) for r in plain}
    return {
        r.id: [o.id for o in plain if o.id != r.id and o.side == r.side and _one_ground(cards[r.id], cards[o.id])]
        for r in plain
    }


def floors_of(rows: Sequence[TracedPhotograph]) -> dict[int, int]:
    """For each photograph of pieces the newest one of a bare floor whose cards lie as its own do."""
    cards = {r.id: _cards(r) for r in rows}
    floors = [r for r in rows if r.found.get("bare")]
    found = {}
    for row in (r for r in rows if not r.found.get("bare") and not r.found.get("joined")):
        under = [f.id for f in floors if f.side == row.side and _one_ground(cards[row.id], cards[f.id], FEWEST_LYING)]
        if under:
            found[row.id] = max(under)
    return found


def _one_ground(
    own: dict[int, tuple[float, float]], other: dict[int, tuple[float, float]], fewest: int = FEWEST_SHARED
) -> bool:
    """Whether cards that both show lie as far from each other in both: cards are laid anew for other pieces."""
    shared = sorted(own.keys() & other.keys())
    pairs = [(a, b) for k, a in enumerate(shared) for b in shared[k + 1 :]]
    off = [abs(math.dist(own[a], own[b]) - math.dist(other[a], other[b])) for a, b in pairs]
    return len(shared) >= fewest and max(off) < 2 * MOVED


def _cards(row: TracedPhotograph) -> dict[int, tuple[float, float]]:
    """Where each card lies, mm."""
    return {int(c["number"]): (float(c["at"][0]), float(c["at"][1])) for c in row.found["cards"]}


def get_trace(store: Store, number: int) -> TracedPhotograph:
    with store.read() as session:
        return fetch(session, TracedPhotograph, number)


def shapes_of(row: TracedPhotograph) -> tuple[FlatShape, ...]:
    return tuple(FlatShape.model_validate(x) for x in row.shapes)


def change_shapes(store: Store, number: int, shapes: Sequence[FlatShape], words: str) -> TracedPhotograph:
    """What the maker made of the outlines. words: for undo."""
    with store.write(words) as session:
        row = fetch(session, TracedPhotograph, number)
        row.shapes = dumped(shapes)
    return row


def check_size(store: Store, number: int) -> TracedPhotograph:
    """The maker measured the cards' test square, and it is as this photograph was traced."""
    with store.write("Check the size of the cards") as session:
        row = fetch(session, TracedPhotograph, number)
        row.found = {**row.found, "checked": True}
    return row


def trace_again(store: Store, number: int, square: float, over: int | None = None, checked: bool = False) -> Job:
    """Trace a kept photograph once more. checked: the square was measured. over: the number of the photograph
    of the floor beneath it, if it has none yet. Raises CraftError."""
    row = get_trace(store, number)
    path = _photograph_of(store, row)
    floor = _floor_photograph(store, row.build_id, over) or file_in(floors_folder(store), row.floor)
    how = HowTaken(joined=bool(row.found.get("joined")), floor=floor, bare=bool(row.found.get("bare")))

    def work(job: Job) -> int:
        traced = trace_file(path, card_side(square), job.report, how)
        with (
            arriving(above_folder(store), "jpg", traced.above) as above,
            _floor_arriving(store, traced) as beneath,
            store.write(f"Trace {row.name[:60]}") as session,
        ):
            kept = fetch(session, TracedPhotograph, number)
            kept.above, kept.side, kept.floor = above.name, card_side(square), beneath
            known = checked or (bool(row.found.get("checked")) and abs(kept.side - row.side) < SAME)
            kept.found, kept.shapes = traced.data | {"checked": known}, dumped(traced.shapes)
        return number

    return start_job(f"Tracing {row.name[:60]}", work)


def remove_trace(store: Store, number: int) -> None:
    """Take a photograph off the list; its file stays for undo."""
    with store.write("Take a traced photograph away") as session:
        fetch(session, TracedPhotograph, number).removed = True


def above_file(store: Store, number: int) -> Path:
    path = file_in(above_folder(store), get_trace(store, number).above)
    if path is None:
        raise NotFound("The picture's file is gone from the data folder; trace the photograph again")
    return path
