"""The dart planner: few short darts that bring a panel under what its foam gives, or why none can.

Greedy with refinement: mouths along the edge times tips at the peaks of curvature are tried on a rough mesh, the best
are solved to the end, moved about, and a second dart is looked for beside them. A bulge lets a slit open; where the
surface is a saddle its sides would lie over each other, and a split or an insert is looked for instead.
"""

from collections.abc import Callable, Iterable
from dataclasses import dataclass, field, replace
from typing import Literal

import numpy as np
from numpy.typing import NDArray
from shapely.geometry import LineString, Point

from vellumcut.core.flatten.splits import Split, propose_inserts, propose_splits
from vellumcut.core.flatten.trial import Dart, Trial, Tried

Array = NDArray[np.float64]
Report = Callable[[float, str], None]

MOUTH_STEP, MOST_MOUTHS = 38.0, 26
"""Distance between the edge points that are tried as mouths, mm; on a long edge farther, so that no maker waits."""
PEAKS = 3
"""How many peaks of curvature are tried as tips."""
SHORT_OF_PEAK = 0.86
"""A dart may also stop short of its peak, at this share of the way: it keeps the point of the bust whole."""
LEAST_PLANNED = 30.0
KEPT = 3
TRIED_WELL = 6
"""How many of those that rank best roughly are solved to the end."""
MOVES = ((1, 0, 0), (-1, 0, 0), (0, 1, 0), (0, -1, 0), (0, 0, 1), (0, 0, -1))
"""Refinement: the mouth along the edge, the tip across and along, in steps."""
MOVE = 12.0
APART = 45.0
"""Mouths of two darts, or two plans of one dart that are told apart, lie farther apart than this, mm."""
STEP_BACK = 24.0
"""Tips of two darts stay this far from each other, mm."""
MARGIN = 0.92
"""A rough mesh may read a little low: a plan is sure of the limit under this share of it."""
NEAR = 0.97
"""Under this share of the limit no other pair of darts is looked for."""
WORTH_SPLITTING = 0.85
"""A split or an insert costs a seam: it must take off more than a dart."""
WORTH = 0.95
"""A dart that leaves more than this share of the strain is not worth its cut."""


@dataclass(frozen=True, eq=False)
class DartPlan:
    """Darts on the drawing plane with what they do on the rough mesh. cost: less is better."""

    darts: tuple[Dart, ...]
    tried: Tried
    cost: float


@dataclass(frozen=True, eq=False)
class Advice:
    """What to do with a panel. kind: none (it lies flat), darts, saddle (split or insert), short (darts are not enough).

    before: p95 without any dart, per cent. splits: cuts that make panels of it.
    """

    kind: Literal["none", "darts", "saddle", "short"]
    before: float
    plans: tuple[DartPlan, ...] = ()
    splits: tuple[Split, ...] = ()


def _silent(share: float, words: str) -> None:
    """Nobody waits."""


def plan_darts(
    trial: Trial, limit: float, no_go: Iterable[str] = (), report: Report = _silent, most: int = 2
) -> Advice:
    """The best plans of up to ``most`` darts that bring p95 under ``limit`` per cent. no_go: names of edges to spare.

    Raises CraftError when the panel cannot be laid flat at all.
    """
    before = trial.undarted
    report(0.05, "How it lies without a dart")
    if before.p95 <= limit:  # a warm stretch is less work than any dart
        return Advice("none", before.p95)
    search = _Search(trial, limit, tuple(no_go), report)
    ones = search.first_darts()
    plans = list(ones)
    if most > 1 and ones and min(p.tried.p95 for p in ones) > MARGIN * limit:
        plans += search.second_darts(sorted(ones, key=lambda p: p.cost)[:2])
    plans = _best(plans, trial)
    reached = any(p.tried.p95 <= limit for p in plans)
    report(0.8, "Where it could be split")
    splits = () if reached else _splits(trial, search, limit)
    if not plans:
        return Advice("saddle" if splits else "short", before.p95, (), splits)
    return Advice("darts" if reached else "short", before.p95, tuple(plans), splits)


def _splits(trial: Trial, search: "_Search", limit: float) -> tuple[Split, ...]:
    found = [*propose_splits(trial), *propose_inserts(trial, search.overlapping)]
    better = [s for s in found if s.p95 < WORTH_SPLITTING * trial.undarted.p95]
    best = sorted(better, key=lambda s: (s.p95 > limit, s.p95))
    kinds: list[Split] = []
    for split in best:
        if sum(k.kind == split.kind for k in kinds) < 2:
            kinds.append(split)
    return tuple(kinds[:KEPT])


def _best(plans: list[DartPlan], trial: Trial) -> list[DartPlan]:
    """The best few, no two of them nearly the same."""
    out: list[DartPlan] = []
    for plan in sorted(plans, key=lambda p: p.cost):
        if plan.tried.p95 > WORTH * trial.undarted.p95:
            continue
        if all(_apart(plan, other) for other in out):
            out.append(plan)
    return out[:KEPT]


def _apart(a: DartPlan, b: DartPlan) -> bool:
    if len(a.darts) != len(b.darts):
        return True
    return any(min(float(np.linalg.norm(d.mouth - e.mouth)) for e in b.darts) > APART for d in a.darts)


@dataclass(eq=False)
class _Search:
    trial: Trial
    limit: float
    no_go: tuple[str, ...]
    report: Report
    overlapping: list[Tried] = field(default_factory=list)

    def mouths(self) -> list[Array]:
        """Points along the edges that may be cut, on the left half only when the panel is its own mirror image."""
        out = []
        step = max(MOUTH_STEP, self.trial.ring.exterior.length / MOST_MOUTHS)
        for line in self.trial.ink.outline:
            if line.name.removesuffix(" (mirrored)") in self.no_go:
                continue
            flat = LineString(self.trial.plane.flat(line.uv))
            count = max(1, round(flat.length / step))
            for k in range(count):
                p = np.array(flat.interpolate((k + 0.5) / count, normalized=True).coords[0])
                if not self.trial.mirror or p[0] > APART / 2:
                    out.append(p)
        return out

    def tips(self) -> list[Array]:
        """Peaks of the curvature that bulges, evened out over a tenth of the panel."""
        places, curved = self.trial.curvature()
        radius = 0.16 * float(np.sqrt(self.trial.ring.area))
        away = np.linalg.norm(places[:, None] - places[None], axis=2)
        gathered = (np.exp(-((away / radius) ** 2)) * curved[None]).sum(axis=1)
        out: list[Array] = []
        for k in np.argsort(-gathered):
            p = places[k]
            if gathered[k] <= 0 or len(out) == PEAKS:
                break
            if self.trial.mirror and p[0] < 0:
                continue
            if self.trial.ring.exterior.distance(Point(p)) < LEAST_PLANNED / 2:
                continue
            if all(np.linalg.norm(p - q) > 1.4 * radius for q in out):
                out.append(p)
        if not out:
            centre = self.trial.ring.representative_point()
            out = [np.array([centre.x, centre.y])]
        return out

    def candidates(self, mouths: list[Array], tips: list[Array]) -> list[Dart]:
        out = []
        for mouth in mouths:
            for tip in tips:
                dart = Dart(mouth, tip)
                if dart.length > LEAST_PLANNED and self._lies_inside(dart):
                    out.append(dart)
        return out

    def _lies_inside(self, dart: Dart) -> bool:
        line = LineString([dart.mouth + 0.02 * (dart.tip - dart.mouth), dart.tip])
        return bool(self.trial.ring.contains(line))

    def screen(self, held: tuple[Dart, ...], candidates: list[Dart], start: float, end: float) -> list[Tried]:
        """Every candidate beside the darts that are held, best first; those whose sides overlap are put aside."""
        found = []
        for k, dart in enumerate(candidates):
            self.report(start + (end - start) * k / len(candidates), f"Dart {k + 1} of {len(candidates)} tried")
            tried = self.trial.try_darts((*held, dart), quick=True)
            if tried is None:
                continue
            if tried.opens:
                found.append(tried)
            elif not held and tried.angles[0] < 0:
                self.overlapping.append(tried)
        return sorted(found, key=lambda t: t.energy)

    def first_darts(self) -> list[DartPlan]:
        mouths, (main, *others) = self.mouths(), self.tips()
        found = self.screen((), self.candidates(mouths, [main]), 0.05, 0.2)
        likely = [t.darts[0].mouth for t in found[: len(mouths) // 3]] or mouths[::2]
        found += self.screen((), self.candidates(likely, others), 0.2, 0.4)
        found.sort(key=lambda t: t.energy)
        return self._refined(self._spread(found, TRIED_WELL), KEPT, 0.4, 0.52)

    def second_darts(self, firsts: list[DartPlan]) -> list[DartPlan]:
        plans: list[DartPlan] = []
        mouths, tips = self.mouths()[::2], self.tips()
        for k, first in enumerate(firsts):
            held = first.darts[:1]
            near = [m for m in mouths if np.linalg.norm(m - held[0].mouth) > APART]
            start = 0.52 + 0.14 * k
            found = self.screen(held, self._beside(held[0], near, tips), start, start + 0.1)
            plans += self._refined(self._spread(found, TRIED_WELL // 2), 1, start + 0.1, start + 0.14)
            if any(p.tried.p95 <= NEAR * self.limit for p in plans):
                break
        return plans

    def _beside(self, held: Dart, mouths: list[Array], tips: list[Array]) -> list[Dart]:
        """Darts clear of one that is there already: stepped back from its tip, or to the other peaks."""
        own = [held.tip + STEP_BACK * (m - held.tip) / np.linalg.norm(m - held.tip) for m in mouths]
        darts = [d for m, t in zip(mouths, own, strict=True) for d in self.candidates([m], [t])]
        return darts + self.candidates(mouths, [t for t in tips if np.linalg.norm(t - held.tip) > STEP_BACK])

    def _spread(self, found: list[Tried], count: int) -> list[Tried]:
        out: list[Tried] = []
        for tried in found:
            if all(np.linalg.norm(tried.darts[-1].mouth - o.darts[-1].mouth) > APART for o in out):
                out.append(tried)
            if len(out) == count:
                break
        return out

    def _refined(self, found: list[Tried], best: int, start: float, end: float) -> list[DartPlan]:
        """The likely ones solved to the end, and the best few of them moved about."""
        solved = [plan for tried in found if (plan := self._plan(tried.darts)) is not None]
        plans = []
        for k, plan in enumerate(sorted(solved, key=lambda p: p.cost)[:best]):
            self.report(start + (end - start) * k / best, "The best are moved about")
            moved = self._moved(plan)
            if len(moved.darts) > 1 and moved.tried.p95 > NEAR * self.limit:
                moved = self._moved(self._turned(moved))
            plans.append(moved)
        return plans

    def _turned(self, plan: DartPlan) -> DartPlan:
        """The same plan with its first dart last, so that it is the one that is moved."""
        darts = (*plan.darts[1:], plan.darts[0])
        return replace(plan, darts=darts, tried=replace(plan.tried, darts=darts))

    def _plan(self, darts: tuple[Dart, ...]) -> DartPlan | None:
        tried = self.trial.try_darts(darts)
        return None if tried is None or not tried.opens else DartPlan(darts, tried, self.cost(tried))

    def _moved(self, plan: DartPlan) -> DartPlan:
        """Hill climbing on the last dart: every move that lowers the cost is kept."""
        exterior = self.trial.ring.exterior
        for along, x, y in MOVES:
            dart = plan.darts[-1]
            at = exterior.project(Point(dart.mouth)) + along * MOVE
            mouth = np.array(exterior.interpolate(at % exterior.length).coords[0]) if along else dart.mouth
            moved = Dart(mouth, dart.tip + MOVE * np.array([x, y]))
            if not self._lies_inside(moved) or self._spared(mouth):
                continue
            better = self._plan((*plan.darts[:-1], moved))
            if better is not None and better.cost < plan.cost:
                plan = better
        short = self._plan((*plan.darts[:-1], _stop_short(plan.darts[-1])))
        return short if short is not None and short.cost < plan.cost else plan

    def _spared(self, mouth: Array) -> bool:
        lines = [line for line in self.trial.ink.outline if line.name.removesuffix(" (mirrored)") in self.no_go]
        flat = [LineString(self.trial.plane.flat(line.uv)) for line in lines]
        return any(f.distance(Point(mouth)) < MOVE / 2 for f in flat)

    def cost(self, tried: Tried) -> float:
        return plan_cost(self.trial, tried.darts, tried.p95, self.limit)


def plan_cost(trial: Trial, darts: tuple[Dart, ...], p95: float, limit: float) -> float:
    """Strain over the limit counts most; then strain, number, length and how much of it the front shows (est.)."""
    over = max(0.0, p95 / limit - MARGIN)
    length = sum(d.length for d in darts) / float(np.sqrt(trial.ring.area))
    return 8 * over + 0.6 * p95 / limit + 0.35 * len(darts) + 0.5 * length + 0.3 * len(darts) * seen(trial, darts)


def seen(trial: Trial, darts: tuple[Dart, ...]) -> float:
    """1 for darts that begin down the front, 0 for those that begin at the back."""
    mouths = trial.plane.uv(np.stack([d.mouth for d in darts]))[:, 0]
    return float((0.5 + 0.5 * np.cos(2 * np.pi * mouths)).mean())


def _stop_short(dart: Dart) -> Dart:
    return Dart(dart.mouth, dart.mouth + SHORT_OF_PEAK * (dart.tip - dart.mouth))
