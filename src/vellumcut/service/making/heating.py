"""Heat runs: one sheet under the gun, coached by the degrees that a probe reads; forgotten when the program ends."""

import itertools
import threading
import time
from dataclasses import dataclass, field
from typing import Literal

from vellumcut.core.design.foam import Face, FoamKind
from vellumcut.core.errors import CraftError
from vellumcut.core.foam.coach import Act, Coach
from vellumcut.core.foam.gun import air_of, gun_factor, slab_of
from vellumcut.core.foam.heat import plan_heat
from vellumcut.service import clock
from vellumcut.service.errors import NotFound
from vellumcut.service.keeping.settings import read_gun, read_shelf
from vellumcut.standins.heat_probe import HeatProbe
from vellumcut.store.database import Store

EVERY = 0.25
"""Seconds between two readings of the simulated probe."""
QUIET_AFTER = 1800.0
"""A run that nobody asked about for so long is forgotten, seconds."""
KEPT = 12
ABSURD = (-20.0, 400.0)
"""No face of foam was ever colder or hotter, degrees."""
Probe = Literal["simulated", "own"]


@dataclass(frozen=True)
class RunState:
    """What the coach says now. number: seconds left, foretold. middle: worked out, face: read, degrees. ended:
    stopped."""

    id: int
    act: Act
    side: Face
    words: str
    number: float
    face: float
    middle: float
    hottest: float
    passed: float
    probe: Probe
    ended: bool


@dataclass
class Run:
    """One run. pace: how many seconds of the simulated probe pass in one."""

    id: int
    coach: Coach
    probe: Probe
    pace: float
    asked_at: float
    ended: bool = False
    read_at: float = field(default_factory=clock.now)
    guard: threading.Lock = field(default_factory=threading.Lock)

    def state(self) -> RunState:
        with self.guard:
            self.asked_at, c = clock.now(), self.coach
            return RunState(
                self.id,
                c.act,
                c.face,
                c.words,
                c.number,
                c.read_last,
                c.middle,
                c.hottest,
                c.passed,
                self.probe,
                self.ended,
            )


_runs: dict[int, Run] = {}
_numbers = itertools.count(1)


def start_run(
    store: Store, thickness: float, kind: FoamKind, faces: int, probe: Probe = "simulated", pace: float = 1.0
) -> RunState:
    """Begin to warm a sheet with the workshop's gun. Raises CraftError for a sheet that this gun cannot warm, or when
    too many are warm already."""
    _forget()
    if sum(not r.ended for r in _runs.values()) >= KEPT:
        raise CraftError(f"{KEPT} sheets are under the gun already; stop some")
    gun, shelf = read_gun(store), read_shelf(store).rows
    slab, air = slab_of(kind, thickness, shelf), air_of(gun, gun.setting, gun.distance, gun_factor(gun, shelf))
    plan_heat(slab, air, faces)
    run = Run(next(_numbers), Coach(slab, air, faces), probe, pace, clock.now())
    _runs[run.id] = run
    if probe == "simulated":
        sheet = HeatProbe(slab, air_of(gun, gun.setting, gun.distance))
        threading.Thread(target=_watch, args=(run, sheet), daemon=True, name=f"heat {run.id}").start()
    return run.state()


def _watch(run: Run, sheet: HeatProbe) -> None:
    """Read the simulated probe until the run ends, or nobody looks at it any more."""
    while not run.ended and clock.now() - run.asked_at < QUIET_AFTER:
        time.sleep(EVERY)
        with run.guard:
            seconds = EVERY * run.pace
            run.coach.read(seconds, sheet.look(seconds, run.coach.act, run.coach.face))
            run.ended = run.ended or run.coach.act == "done"
    run.ended = True


def _forget() -> None:
    """Make room: runs that ended go, the oldest first, and those that nobody looks at."""
    for old in [r.id for r in _runs.values() if clock.now() - r.asked_at > QUIET_AFTER]:
        _runs.pop(old).ended = True
    for old in [r.id for r in _runs.values() if r.ended][:-KEPT]:
        del _runs[old]


def run_of(number: int) -> Run:
    """Raises NotFound."""
    run = _runs.get(number)
    if run is None:
        raise NotFound(f"There is no heat run {number} here; runs end with the program")
    return run


def read_face(number: int, degrees: float) -> RunState:
    """A reading of the maker's own probe. Raises CraftError for what no probe reads, or where the simulated one
    reads."""
    run = run_of(number)
    if run.probe != "own":
        raise CraftError("The simulated probe reads this run; start one with a probe of your own", "probe")
    if not ABSURD[0] <= degrees <= ABSURD[1]:
        raise CraftError(f"{degrees:g} °C is no face of foam: {ABSURD[0]:g} to {ABSURD[1]:g}", "degrees")
    with run.guard:
        now = clock.now()
        run.coach.read(now - run.read_at, degrees)
        run.read_at, run.ended = now, run.ended or run.coach.act == "done"
    return run.state()


def tell(number: int, what: Literal["turned", "shaped", "stop"]) -> RunState:
    """What the maker has done. Raises NotFound; CraftError when it is not the moment."""
    run = run_of(number)
    with run.guard:
        act = run.coach.act
        if what == "stop":
            run.ended = True
        elif run.ended:
            raise CraftError("This run has ended; start another", "run")
        elif what == "turned" and act in ("turn", "heat", "rest"):
            run.coach.turned()
        elif what == "shaped" and act == "shape":
            run.coach.shaped()
        else:
            raise CraftError(f"It is not the moment: {run.coach.words.lower()}", "run")
    return run.state()
