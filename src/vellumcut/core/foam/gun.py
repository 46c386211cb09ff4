"""The heat gun: what its setting, distance and sweep give the foam, and what scrap tests say of this one."""

from collections.abc import Sequence
from typing import Annotated, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field
from scipy.optimize import minimize_scalar

from vellumcut.core.body.readings import Decision
from vellumcut.core.design.foam import FoamKind, Thickness
from vellumcut.core.errors import CraftError
from vellumcut.core.foam.heat import ROOM, STILL_AIR, Air, HeatPlan, Slab, plan_heat, seconds_until
from vellumcut.core.foam.shelf import ShelfSheet, facts_of_sheet
from vellumcut.core.notes import Note, Value
from vellumcut.core.units import Length, Number

HALVED_AT = 100.0
"""Distance from the nozzle at which its air has lost half of its warmth and push, mm (est.; a free jet)."""
PUSH = 60.0
"""W/m2K right at the nozzle (est.)."""
SPOT = 50.0
"""cm2 that the air of a gun covers at once (est.)."""
MOST_OFF = 5.0
"""A scrap test that asks for more or less than this times the estimate was no test of this gun."""
MOST_APART = 1.8
"""A test whose seconds are so many times off the best gun contradicts the others."""
Array = NDArray[np.float64]

Setting = Literal["low", "high"]
Event = Literal["gloss", "limp"]


class ScrapTest(Decision):
    """One scrap under the gun, one face, held as one warms a piece. event: the face turned glossy, or the scrap hung
    limp. seconds: when it did."""

    kind: FoamKind = "armour"
    thickness: Thickness
    setting: Setting = "high"
    distance: Annotated[Length, Field(ge=20, le=500)] = 100.0
    event: Event = "gloss"
    seconds: Annotated[Number, Field(gt=0, le=900)]


class HeatGun(Decision):
    """low, high: air at the nozzle, degrees C. distance: from the foam, mm. patch: what is swept at one time, cm2.
    tests: scraps that stand for the estimate."""

    low: Annotated[Number, Field(ge=100, le=700)] = 300.0
    high: Annotated[Number, Field(ge=100, le=700)] = 500.0
    setting: Setting = "high"
    distance: Annotated[Length, Field(ge=20, le=500)] = 100.0
    patch: Annotated[Number, Field(ge=20, le=2000)] = 100.0
    tests: Annotated[tuple[ScrapTest, ...], Field(max_length=40)] = ()


def slab_of(kind: FoamKind, thickness: float, shelf: Sequence[ShelfSheet] = ()) -> Slab:
    """A sheet as heat sees it, as dense as the maker's own is, where that was weighed. thickness: mm."""
    return Slab(thickness, facts_of_sheet(kind, thickness, shelf).density)


def _jet(gun: HeatGun, setting: Setting, distance: float, factor: float) -> tuple[float, float, float]:
    """Share of the time the gun is over each place of a patch, W/m2K that its jet gives there, degrees of the jet
    there."""
    nozzle, near = gun.low if setting == "low" else gun.high, 1 / (1 + distance / HALVED_AT)
    return min(1.0, SPOT / gun.patch), PUSH * near * factor, ROOM + (nozzle - ROOM) * near


def air_of(gun: HeatGun, setting: Setting, distance: float, factor: float = 1.0) -> Air:
    """The air a face stands in under a swept gun: warm while the gun is over it, the room's for the rest of the sweep.

    factor: what scrap tests multiply the estimated push by.
    """
    share, push, warm = _jet(gun, setting, distance, factor)
    gives = share * push + (1 - share) * STILL_AIR
    return Air((share * push * warm + (1 - share) * STILL_AIR * ROOM) / gives, gives)


def gun_factor(gun: HeatGun, shelf: Sequence[ShelfSheet] = ()) -> float:
    """By how much this gun's push differs from the estimate: the factor that its scrap tests fit best, 1 without any.

    Least squares over the logarithms of the seconds, so that a slow test counts no more than a quick one.
    Raises CraftError for tests that no factor explains.
    """
    if not gun.tests:
        return 1.0

    def apart(log: float) -> Array:
        told = [
            seconds_until(slab_of(x.kind, x.thickness, shelf), air_of(gun, x.setting, x.distance, np.exp(log)), x.event)
            for x in gun.tests
        ]
        return np.array([np.log(t / x.seconds) for t, x in zip(told, gun.tests, strict=True)])

    span = float(np.log(MOST_OFF))
    found = minimize_scalar(
        lambda log: float((apart(log) ** 2).sum()), bounds=(-span, span), method="bounded", options={"xatol": 0.005}
    )
    if abs(found.x) > 0.98 * span or np.abs(apart(found.x)).max() > np.log(MOST_APART):
        raise CraftError(
            "These scrap tests fit no heat gun: look at the seconds, the distance and the setting of each", "tests"
        )
    return float(np.exp(found.x))


def gun_note(gun: HeatGun, factor: float) -> Note:
    """How the air at the foam was made."""
    share, push, warm = _jet(gun, gun.setting, gun.distance, factor)
    tests = f"{len(gun.tests)} scrap tests say how much" if gun.tests else "no scrap test yet (est.)"
    return Note(
        title="Air at the foam, as swept",
        result=Value("air at the foam, C", air_of(gun, gun.setting, gun.distance, factor).degrees, "degrees"),
        formula="({0} of the time x {1} W/m²K x {2} + {3} x {4} x {5}) / ({0} x {1} + {3} x {4})",
        values=(
            Value("of the time the gun is over it", share, "ratio"), Value("W/m²K from the jet", push, "ratio"),
            Value("of the jet there", warm, "degrees"), Value("of the time it is not", 1 - share, "ratio"),
            Value("W/m²K of the room", STILL_AIR, "ratio"), Value("of the room", ROOM, "degrees"),
        ),
        reason=f"A jet of air loses half its warmth and push over about 100 mm; {tests}.",
        change="Nearer, hotter or a smaller patch warms quicker, and scorches sooner. Test it on a scrap of this foam.",
        about="gun",
    )  # fmt: skip


TRIED: tuple[tuple[Setting, float], ...] = tuple((s, d) for s in ("high", "low") for d in (60.0, 100.0, 150.0, 220.0))
FEW_PHASES = 8
"""A plan of more turns and rests than this is followed by nobody."""


def better_hold(slab: Slab, gun: HeatGun, faces: int, factor: float) -> tuple[Setting, float, HeatPlan] | None:
    """Setting and distance that warm a sheet with few turns, and then soonest; None where none of those tried does."""
    found = []
    for setting, distance in TRIED:
        try:
            plan = plan_heat(slab, air_of(gun, setting, distance, factor), faces)
        except CraftError:
            continue
        found.append((len(plan.phases) > FEW_PHASES, plan.seconds, setting, distance, plan))
    return min(found, key=lambda f: f[:2])[2:] if found else None
