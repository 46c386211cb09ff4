"""Steps, cautions, timers and rigging."""

from fastapi import APIRouter

from vellumcut.api import schemas as s
from vellumcut.api.deps import Csv, Id, StoreDep
from vellumcut.core.caution.cautions import CAUTIONS, STANDING_WORDS
from vellumcut.core.make.glue import CementRoom, cement_window
from vellumcut.core.notes import Note
from vellumcut.core.rig.donning import Donning
from vellumcut.core.rig.straps import RigPlan
from vellumcut.formats.csv_table import write_csv
from vellumcut.service import bench, builds, patterns
from vellumcut.service.errors import NotFound
from vellumcut.store.database import Store

router = APIRouter(tags=["bench"])


class RigOut(s.Out):
    plans: list[RigPlan]
    donning: list[Donning]


def _steps(store: Store, piece: int) -> list[s.StepOut]:
    steps = patterns.steps_of(builds.work_on(store, piece))
    done = bench.ticks_of(store, piece)
    return [s.StepOut(step=x, materials=[m.words for m in x.materials], done_at=done.get(x.key)) for x in steps]


@router.get("/pieces/{piece}/steps")
def steps(store: StoreDep, piece: Id) -> list[s.StepOut]:
    return _steps(store, piece)


@router.put("/pieces/{piece}/steps/{key}")
def tick(store: StoreDep, piece: Id, key: str, body: s.TickIn) -> list[s.StepOut]:
    if key not in {x.step.key for x in _steps(store, piece)}:
        raise NotFound(f'This piece has no step "{key[:40]}"')
    bench.tick_step(store, piece, key, body.done)
    return _steps(store, piece)


@router.get("/pieces/{piece}/steps.csv", response_class=Csv)
def steps_csv(store: StoreDep, piece: Id) -> Csv:
    rows = [
        (x.step.title, x.step.minutes, x.step.wait, "; ".join(x.materials), x.step.reason, "yes" if x.done_at else "")
        for x in _steps(store, piece)
    ]
    head = ("step", "hands-on minutes", "waiting minutes", "materials", "why", "done")
    return Csv(write_csv(head, rows))


@router.get("/pieces/{piece}/rig")
def rig(store: StoreDep, piece: Id) -> RigOut:
    plans, donning = patterns.rig_of(builds.work_on(store, piece))
    return RigOut(plans=plans, donning=donning)


@router.get("/pieces/{piece}/rig.csv", response_class=Csv)
def rig_csv(store: StoreDep, piece: Id) -> Csv:
    plans, _ = patterns.rig_of(builds.work_on(store, piece))
    rows = [
        (plan.side, p.name, p.count, p.length, "; ".join(f"{a:.0f}" for a in p.at), p.stitches, p.glue)
        for plan in plans
        for p in plan.parts
    ]
    head = ("side", "part", "count", "cut length mm", "mm above lower edge", "stitches", "glue")
    return Csv(write_csv(head, rows))


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
    return s.TimerOut.model_validate(bench.start_cement(store, body.piece_id, room)[0])


@router.post("/timers/wrap", status_code=201)
def start_wrap(store: StoreDep, body: s.WrapTimerIn) -> s.TimerOut:
    return s.TimerOut.model_validate(bench.start_wrap(store, body.piece_id, body.label))


@router.post("/timers/{timer}/heard")
def hear(store: StoreDep, timer: Id) -> s.TimerOut:
    return s.TimerOut.model_validate(bench.hear_timer(store, timer))


@router.post("/timers/{timer}/stop")
def stop(store: StoreDep, timer: Id) -> s.TimerOut:
    return s.TimerOut.model_validate(bench.stop_timer(store, timer))
