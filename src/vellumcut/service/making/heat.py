"""How a piece's sheets are warmed with the maker's own gun and foam."""

from dataclasses import dataclass
from functools import lru_cache

from vellumcut.core.design.foam import FoamKind
from vellumcut.core.errors import CraftError
from vellumcut.core.foam.gun import HeatGun, Setting, air_of, better_hold, gun_factor, slab_of
from vellumcut.core.foam.heat import HeatPlan, plan_heat
from vellumcut.core.foam.shelf import ShelfSheet
from vellumcut.core.pattern.pattern import PiecePattern
from vellumcut.service.keeping.builds import Work

EASY = 5
"""A plan of no more turns and rests needs no better one."""
SOONER = 0.9
"""What takes no less than this share of the time is no better."""
Shelf = tuple[ShelfSheet, ...]


@dataclass(frozen=True)
class SheetHeat:
    """A sheet of a piece under the gun as it is held. thickness: mm. trouble: why it cannot be warmed so."""

    thickness: float
    kind: FoamKind
    plan: HeatPlan | None
    trouble: str


def heat_of(work: Work, pattern: PiecePattern) -> list[SheetHeat]:
    """How every sheet that is formed is warmed through, the thickest first. Layers that are curved together are one."""
    sheets: set[tuple[float, FoamKind]] = set()
    for panel in pattern.panels:
        low, high = panel.layer.through
        sheets.add((high - low, panel.layer.kind))
    return [SheetHeat(*sheet, *heat_plan(work.gun, work.shelf, *sheet)) for sheet in sorted(sheets, reverse=True)]


@lru_cache(maxsize=128)
def heat_plan(
    gun: HeatGun, shelf: Shelf, thickness: float, kind: FoamKind, faces: int = 2
) -> tuple[HeatPlan | None, str]:
    """How a sheet is warmed through as the gun is held; or why it cannot be."""
    try:
        air = air_of(gun, gun.setting, gun.distance, gun_factor(gun, shelf))
        return plan_heat(slab_of(kind, thickness, shelf), air, faces), ""
    except CraftError as error:
        return None, error.message


@dataclass(frozen=True)
class BetterHold:
    """A setting and distance, mm, that take fewer turns, or less time."""

    setting: Setting
    distance: float
    words: str


def better_for(work: Work, sheet: SheetHeat) -> BetterHold | None:
    """A better way to hold the gun over a sheet; None where there is none, or none is needed."""
    plan = sheet.plan
    if plan is not None and len(plan.phases) <= EASY:
        return None
    slab = slab_of(sheet.kind, sheet.thickness, work.shelf)
    found = better_hold(slab, work.gun, 2, gun_factor(work.gun, work.shelf))
    if found is None:
        return None
    setting, distance, better = found
    if plan is not None and better.seconds > SOONER * plan.seconds and len(better.phases) >= len(plan.phases):
        return None
    return BetterHold(setting, distance, better.words)
