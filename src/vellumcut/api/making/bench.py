"""Steps, cautions and timers."""

from typing import Annotated

from fastapi import Query, Request
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import FileResponse, Response

from vellumcut.api import schemas as s
from vellumcut.api.deps import Csv, Id, StoreDep, routes, takes_file
from vellumcut.api.files import download
from vellumcut.api.making import schemas as m
from vellumcut.api.making.bench_views import costume_view, piece_bench
from vellumcut.core.caution.cautions import CAUTIONS, STANDING_WORDS
from vellumcut.core.make.glue import CementRoom, cement_window
from vellumcut.core.notes import Note
from vellumcut.core.words import SEEN
from vellumcut.formats.csv_table import write_csv
from vellumcut.formats.making.bench_sheet import STEP_HEAD, step_rows, write_bench_sheet
from vellumcut.service.keeping import settings
from vellumcut.service.making import bench, photographs, plans
from vellumcut.service.pattern import pictures

router = routes("bench")


@router.get("/pieces/{piece}/steps")
def steps(store: StoreDep, piece: Id) -> m.BenchOut:
    return piece_bench(store, plans.bench_of(store, piece))


@router.put("/pieces/{piece}/steps")
def mark_step(store: StoreDep, piece: Id, body: m.MarkIn) -> m.BenchOut:
    """Tick, answer, begin or note one step. A hard rule or an open question refuses it."""
    bench.mark_step(store, piece, body.key, bench.Mark(**body.model_dump(exclude={"key"})))
    return steps(store, piece)


@router.get("/builds/{build}/bench")
def costume(store: StoreDep, build: Id) -> m.CostumeBenchOut:
    return costume_view(store, plans.costume_bench(store, build))


@router.put("/builds/{build}/bench")
def mark_costume(store: StoreDep, build: Id, body: m.MarkIn) -> m.CostumeBenchOut:
    bench.mark_costume(store, build, body.key, bench.Mark(**body.model_dump(exclude={"key"})))
    return costume(store, build)


@router.get("/pieces/{piece}/steps.csv", response_class=Csv)
def steps_csv(store: StoreDep, piece: Id) -> Csv:
    found = plans.bench_of(store, piece)
    done = {k: x.done for k, x in found.states.items()}
    return Csv(write_csv(STEP_HEAD, step_rows(found.piece, done)))


@router.get("/pieces/{piece}/bench-sheet.pdf", response_class=Response)
def sheet(store: StoreDep, piece: Id) -> Response:
    """One page to print, with boxes to tick."""
    found = plans.bench_of(store, piece)
    done = {k for k, x in found.states.items() if x.done}
    made = write_bench_sheet([found.piece], done, settings.read_settings(store).paper)
    return download(made, f"{found.piece.name} bench sheet", "pdf", "application/pdf")


@router.get("/builds/{build}/bench-sheets.pdf", response_class=Response)
def sheets(store: StoreDep, build: Id) -> Response:
    """A page for each piece of the costume."""
    found = plans.costume_bench(store, build)
    made = write_bench_sheet([b.piece for b in found.pieces], set(), settings.read_settings(store).paper)
    return download(made, "bench sheets", "pdf", "application/pdf")


@router.post("/pieces/{piece}/photographs", status_code=201, openapi_extra=takes_file(pictures.LARGEST_PICTURE))
async def add_photograph(
    store: StoreDep,
    piece: Id,
    request: Request,
    step: Annotated[str, Query(max_length=160)] = "",
    words: Annotated[str, Query(max_length=200), SEEN] = "",
) -> m.PhotographOut:
    """A photograph of a step; without a step, one of the reference: which version, which side."""
    content = await pictures.read_upload(request.stream())
    made = await run_in_threadpool(photographs.add_photograph, store, piece, step, words, content)
    return m.PhotographOut.model_validate(made)


@router.put("/photographs/{photograph}")
def name_photograph(store: StoreDep, photograph: Id, body: s.WordsIn) -> m.PhotographOut:
    return m.PhotographOut.model_validate(photographs.change_words(store, photograph, body.words))


@router.delete("/photographs/{photograph}", status_code=204)
def remove_photograph(store: StoreDep, photograph: Id) -> None:
    photographs.remove_photograph(store, photograph)


@router.get("/photographs/{photograph}/file", response_class=FileResponse)
def photograph_file(store: StoreDep, photograph: Id) -> FileResponse:
    return FileResponse(photographs.photograph_file(store, photograph), media_type="image/jpeg")


@router.get("/builds/{build}/cautions")
def cautions(store: StoreDep, build: Id) -> s.CautionsOut:
    seen = bench.cautions_seen(store, build)
    rows = [s.CautionOut(key=c.key, title=c.title, rules=list(c.rules), seen=c.key in seen) for c in CAUTIONS.values()]
    return s.CautionsOut(standing=STANDING_WORDS, cautions=rows)


@router.put("/builds/{build}/cautions/{key}")
def see_caution(store: StoreDep, build: Id, key: str) -> s.CautionsOut:
    bench.see_caution(store, build, key)
    return cautions(store, build)


@router.get("/timers")
def timers(store: StoreDep) -> list[s.TimerOut]:
    return [s.TimerOut.model_validate(t) for t in bench.list_timers(store)]


@router.get("/cement-window")
def cement(coat: str = "normal", degrees: float = 20.0, product: float | None = None) -> Note:
    room = CementRoom.model_validate({"coat": coat, "degrees": degrees, "product": product})
    return cement_window(room).note


@router.post("/timers/cement", status_code=201)
def start_cement(store: StoreDep, body: s.CementTimerIn) -> s.TimerOut:
    room = CementRoom(coat=body.coat, degrees=body.degrees, product=body.product)
    return s.TimerOut.model_validate(bench.start_cement(store, body.piece_id, room, body.step)[0])


@router.post("/timers/wrap", status_code=201)
def start_wrap(store: StoreDep, body: s.WrapTimerIn) -> s.TimerOut:
    return s.TimerOut.model_validate(bench.start_wrap(store, body.piece_id, body.label))


@router.post("/timers/{timer}/heard")
def hear(store: StoreDep, timer: Id) -> s.TimerOut:
    return s.TimerOut.model_validate(bench.hear_timer(store, timer))


@router.post("/timers/{timer}/stop")
def stop(store: StoreDep, timer: Id) -> s.TimerOut:
    return s.TimerOut.model_validate(bench.stop_timer(store, timer))
