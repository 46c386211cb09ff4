"""Heat through a sheet of foam: how long each face is warmed, rested and held, from one-dimensional conduction.

Carslaw and Jaeger, Conduction of Heat in Solids, 3.11; solved by Crank and Nicolson's scheme.
"""

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from vellumcut.core.design.foam import Face
from vellumcut.core.errors import CraftError

Array = NDArray[np.float64]

CONDUCTIVITY, CAPACITY = 0.04, 1900.0
"""W/mK and J/kgK of closed-cell EVA foam (est.)."""
ROOM = 20.0
FORMING = 95.0
"""Middle of the sheet from which it takes a new shape, degrees C (est.)."""
GLOSS = 95.0
"""Face that turns from matt to slightly glossy: its cells close, degrees C (est.)."""
SCORCH = 150.0
"""Face that shines, browns or shrinks, degrees C (est.)."""
FACE_MOST = 138.0
"""What the program lets a face come to: no gun is swept so evenly that less air would do, degrees C (est.)."""
REST_TO = 112.0
"""A rested face may be warmed again from here, degrees C (est.)."""
SETTING, COLD = 75.0, 38.0
"""Middle below which it no longer follows the hand, and below which it keeps what it has, degrees C (est.)."""
STILL_AIR = 10.0
"""W/m2K that a face gives to a quiet room (est.)."""
SHORTEST, SHORT = 1.5, 6.0
"""Seconds: a first pass shorter than the first cannot be held by hand; where one is shorter than the second and the
sheet does not come warm, the air is too fierce."""
NODES = 49
STEP = 0.05
DAMPED = 4 * STEP
"""Seconds for which the scheme is damped at the start, where a face jumps to new air: else the middle swings
(Rannacher, "Finite element solution of diffusion problems with irregular data", 1984)."""
LONGEST = 1200.0
"""Seconds after which a sheet that is not warm never will be."""


@dataclass(frozen=True)
class Air:
    """What a face stands in. degrees: C. gives: W/m2K."""

    degrees: float
    gives: float


QUIET = Air(ROOM, STILL_AIR)


@dataclass(frozen=True)
class Slab:
    """A sheet. thickness: mm. density: kg/m3."""

    thickness: float
    density: float

    @cached_property
    def _cell(self) -> float:
        return self.thickness / 1000 / (NODES - 1)

    def start(self, degrees: float = ROOM) -> Array:
        """Degrees from the inner face to the outer one, (NODES,), all alike."""
        return np.full(NODES, degrees)

    def at_rest(self, inner: Air, outer: Air) -> Array:
        """Degrees through the sheet, (NODES,), that it comes to in this air in the end: a straight line."""
        across = self.thickness / 1000 / CONDUCTIVITY
        flow = (outer.degrees - inner.degrees) / (1 / inner.gives + across + 1 / outer.gives)
        first = inner.degrees + flow / inner.gives
        return np.asarray(np.linspace(first, first + flow * across, NODES))

    def stepper(self, inner: Air, outer: Air, seconds: float = STEP, late: float = 0.5) -> Callable[[Array], Array]:
        """What one step of time does to the degrees through the sheet while its faces stand in this air.

        late: share by which the flow at the step's end counts; 1 is less exact and never swings, for a face held fast.
        """
        cell, heat = self._cell, self.density * CAPACITY
        store = np.full(NODES, heat * cell)
        store[[0, -1]] /= 2
        flow = CONDUCTIVITY / cell
        matrix = np.diag(np.full(NODES, -2 * flow)) + np.diag(np.full(NODES - 1, flow), 1)
        matrix += np.diag(np.full(NODES - 1, flow), -1)
        matrix[0, 0], matrix[-1, -1] = -flow - inner.gives, -flow - outer.gives
        source = np.zeros(NODES)
        source[0], source[-1] = inner.gives * inner.degrees, outer.gives * outer.degrees
        left = np.diag(store / seconds) - late * matrix
        turn = np.linalg.solve(left, np.diag(store / seconds) + (1 - late) * matrix)
        shift = np.linalg.solve(left, source)
        return lambda t: np.asarray(turn @ t + shift)


def middle(t: Array) -> float:
    """Degrees in the middle of a sheet."""
    return float(t[NODES // 2])


@dataclass(frozen=True)
class Phase:
    """What is done for a while. act: heat a face, or rest. face: it is about. face_end, middle_end: degrees of that
    face, and of the sheet's middle, when it ends."""

    act: Literal["heat", "rest"]
    face: Face
    seconds: float
    face_end: float
    middle_end: float


@dataclass(frozen=True)
class HeatPlan:
    """How a sheet is brought to its forming heat. window: seconds in which it follows the hand afterwards. hold:
    seconds till it keeps its shape. hottest: degrees that a face comes to."""

    slab: Slab
    air: Air
    faces: int
    phases: tuple[Phase, ...]
    hottest: float
    window: float
    hold: float

    @property
    def seconds(self) -> float:
        """Until it can be formed."""
        return sum(p.seconds for p in self.phases)

    @property
    def rests(self) -> int:
        """How often the gun is put away in between."""
        return sum(p.act == "rest" for p in self.phases)

    @property
    def words(self) -> str:
        """For the bench."""
        turns = sum(a.face != b.face for a, b in zip(self.phases, self.phases[1:], strict=False))
        rests = f", {self.rests} rests in between" if self.rests > 1 else ", one rest in between" if self.rests else ""
        often = f", turning it over about every {_clock(self.seconds / (turns + 1))}"
        over = often if turns > 2 else ", turning it over twice" if turns == 2 else ", turning it over once" * turns
        return (
            f"{_clock(self.seconds)} under the gun a patch{over}{rests}; shape it within {_clock(self.window)}, hold "
            "it for "
            f"{_clock(self.hold)}."
        )


def _clock(seconds: float) -> str:
    whole = round(seconds)
    return f"{whole} s" if whole < 90 else f"{whole // 60} min {whole % 60:02d} s"


def plan_heat(slab: Slab, air: Air, faces: int = 2) -> HeatPlan:
    """Warm a sheet through without any face coming near scorching, with rests where it is thick.

    air: at the face under the gun, as swept over one patch. faces: 1 from the outer face only, or 2 in turn.
    Raises CraftError where this air never gets its middle warm, or scorches its face before a hand can draw back.
    """
    if air.degrees <= FORMING + 5:
        words = (
            f"Air of {air.degrees:.0f} °C at the foam never warms its middle to {FORMING:.0f} °C: a hotter "
            "setting, or nearer"
        )
        raise CraftError(words, "distance")
    run = _Run(slab, air)
    side: Face = "outer"
    while run.cold:
        took = run.until("heat", side, lambda face: face >= FACE_MOST - 1)
        if run.cold and not run.phases[:-1] and took < SHORTEST:
            words = (
                f"The face would scorch within {SHORTEST:g} seconds: hold the gun farther off, or sweep a larger patch"
            )
            raise CraftError(words, "distance")
        if not run.cold or run.passed >= LONGEST:
            break
        side = side if faces == 1 else "inner" if side == "outer" else "outer"
        run.until("rest", side, lambda face: face <= REST_TO)
    if run.cold:
        fierce = run.phases[0].seconds < SHORT
        way = "hold the gun farther off" if fierce else "warm both faces" if faces == 1 else "use thinner layers"
        raise CraftError(
            f"From {'one face' if faces == 1 else 'both faces'} this gun does not warm {slab.thickness:g} mm through "
            "in "
            f"{LONGEST / 60:.0f} minutes without scorching it: {way}",
            "distance" if fierce else "faces",
        )
    window, hold = cooling(slab, run.t, SETTING), cooling(slab, run.t, COLD)
    return HeatPlan(slab, air, faces, tuple(run.phases), run.hottest, window, hold)


class _Run:
    """A sheet while it is warmed."""

    def __init__(self, slab: Slab, air: Air) -> None:
        self.t, self.passed, self.hottest = slab.start(), 0.0, ROOM
        self.phases: list[Phase] = []
        rest = slab.stepper(QUIET, QUIET)
        self._does: dict[tuple[str, Face], Callable[[Array], Array]] = {
            ("heat", "outer"): slab.stepper(QUIET, air), ("heat", "inner"): slab.stepper(air, QUIET),
            ("rest", "outer"): rest, ("rest", "inner"): rest,
        }  # fmt: skip

    @property
    def cold(self) -> bool:
        return middle(self.t) < FORMING

    def until(self, act: Literal["heat", "rest"], side: Face, enough: Callable[[float], bool]) -> float:
        """Go on so until a face is warm or cool enough, or the middle is; tells how long it took, seconds."""
        at, begun, does = 0 if side == "inner" else -1, self.passed, self._does[act, side]
        while self.cold and self.passed < LONGEST and not enough(float(self.t[at])):
            self.t, self.passed = does(self.t), self.passed + STEP
            self.hottest = max(self.hottest, float(self.t.max()))
        if self.passed > begun:
            self.phases.append(Phase(act, side, self.passed - begun, float(self.t[at]), middle(self.t)))
        return self.passed - begun


def cooling(slab: Slab, t: Array, to: float) -> float:
    """Seconds in a quiet room until the middle of a sheet is no warmer than ``to`` degrees. t: through it now."""
    rest, passed = slab.stepper(QUIET, QUIET, 0.5), 0.0
    while middle(t) > to and passed < LONGEST:
        t, passed = rest(t), passed + 0.5
    return passed


def seconds_until(slab: Slab, air: Air, event: Literal["gloss", "limp"]) -> float:
    """How long one face is held under the gun until it turns glossy, or the sheet hangs limp; LONGEST if never."""
    where, wanted = (-1, GLOSS) if event == "gloss" else (NODES // 2, FORMING)
    if slab.at_rest(QUIET, air)[where] <= wanted:
        return LONGEST
    warm, damped, t, passed = slab.stepper(QUIET, air), slab.stepper(QUIET, air, late=1.0), slab.start(), 0.0
    while passed < LONGEST:
        before = float(t[where])
        t = (damped if passed < DAMPED else warm)(t)
        now = float(t[where])
        if now >= wanted:
            return passed + STEP * (wanted - before) / max(now - before, 1e-9)
        passed += STEP
    return LONGEST
