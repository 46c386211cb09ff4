"""The dart planner: few short darts that bring a panel under what its foam gives, or why none can.

Mouths along the edge times tips at the peaks of curvature are ranked on one rough mesh, the likely ones cut in properly
and the best of those moved about; where one dart is not enough, so are pairs. A bulge lets a slit open; where the
surface is a saddle its sides would lie over each other, and a split or an insert is looked for instead.
"""

from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from functools import cached_property
from typing import Literal, Protocol, TypeVar

import numpy as np
from numpy.typing import NDArray
from shapely.geometry import LineString, Point

from vellumcut.core.flatten.ranking import Ranked, Ranking
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
SPARE = 2
"""So many plans more are kept until they are proved on the fine mesh."""
LIKELY = 6
"""How many of those that leave the least energy are looked at for what they ask of the foam."""
MOVES = ((1, 0, 0), (-1, 0, 0), (0, 1, 0), (0, -1, 0), (0, 0, 1), (0, 0, -1))
"""Refinement: the mouth along the edge, the tip across and along, in steps."""
STEPS = (12.0, 6.0)
"""In mm; one dart alone is moved by the first only."""
APART = 45.0
"""Mouths of two darts, or two plans of one dart that are told apart, lie farther apart than this, mm."""
STEP_BACK = 24.0
"""Tips of two darts stay this far from each other, mm."""
CLEAR = 15.0
"""Two darts leave this much foam between them, mm."""
MARGIN = 0.92
"""A rough mesh may read a little low: a plan is sure of the limit under this share of it."""
PAIRED = 14
"""How many mouths are paired with each other."""
WORTH_SPLITTING = 0.85
"""A split or an insert costs a seam: it must take off more than a dart."""
WORTH = 0.95
"""A dart that leaves more than this share of the strain is not worth its cut."""


@dataclass(frozen=True, eq=False)
class DartPlan:
    """Darts on the drawing plane with what they do on the rough mesh. cost: less is better. edges: that they open on."""

    darts: tuple[Dart, ...]
    tried: Tried
    cost: float
    edges: tuple[str, ...]


class Plan(Protocol):
    @property
    def cost(self) -> float: ...
    @property
    def edges(self) -> tuple[str, ...]: ...


P = TypeVar("P", bound=Plan)


@dataclass(frozen=True, eq=False)
class Advice:
    """What to do with a panel. kind: none (it lies flat), darts, saddle (split or insert), short (darts are not enough).

    before: p95 without any dart, per cent. splits: cuts that make panels of it, where darts do not reach the limit.
    overlapping: slits whose sides would lie over each other.
    """

    kind: Literal["none", "darts", "saddle", "short"]
    before: float
    plans: tuple[DartPlan, ...] = ()
    splits: tuple[Split, ...] = ()
    overlapping: tuple[Ranked, ...] = ()


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
    if most > 1 and all(p.tried.p95 > MARGIN * limit for p in ones):
        plans += search.second_darts()
    plans = varied(_best(plans, trial), KEPT + SPARE)
    reached = any(p.tried.p95 <= limit for p in plans)
    overlapping = tuple(search.overlapping)
    report(0.8, "Where it could be split")
    splits = () if reached else propose_cuts(trial, overlapping, limit)
    if not plans:
        return Advice("saddle" if splits else "short", before.p95, (), splits, overlapping)
    return Advice("darts" if reached else "short", before.p95, tuple(plans), splits, overlapping)


def propose_cuts(trial: Trial, overlapping: Iterable[Ranked], limit: float) -> tuple[Split, ...]:
    """The best splits and inserts, those under ``limit`` per cent first. overlapping: slits that no dart can be."""
    found = [*propose_splits(trial), *propose_inserts(trial, overlapping)]
    better = [s for s in found if s.p95 < WORTH_SPLITTING * trial.undarted.p95]
    best = sorted(better, key=lambda s: (s.p95 > limit, s.p95))
    kinds: list[Split] = []
    for split in best:
        if sum(k.kind == split.kind for k in kinds) < 2:
            kinds.append(split)
    return tuple(kinds[:KEPT])


def _best(plans: list[DartPlan], trial: Trial) -> list[DartPlan]:
    """Those that are worth their cut, no two of them nearly the same."""
    out: list[DartPlan] = []
    for plan in sorted(plans, key=lambda p: p.cost):
        if plan.tried.p95 > WORTH * trial.undarted.p95:
            continue
        if all(_apart(plan.darts, other.darts) for other in out):
            out.append(plan)
    return out


def varied(plans: Iterable[P], count: int, standing: Callable[[P], int] = lambda _: 0) -> list[P]:
    """The best few: one for each choice of edges that the darts open on, before a second for the same edges.

    standing: counts before the cost, less is better.
    """

    def rank(plan: P) -> tuple[int, float]:
        return standing(plan), plan.cost

    heads: list[P] = []
    others: list[P] = []
    seen = set()
    for plan in sorted(plans, key=rank):
        (others if plan.edges in seen else heads).append(plan)
        seen.add(plan.edges)
    return sorted([*heads, *others][:count], key=rank)


def _apart(a: tuple[Dart, ...], b: tuple[Dart, ...]) -> bool:
    if len(a) != len(b):
        return True
    return any(min(float(np.linalg.norm(d.mouth - e.mouth)) for e in b) > APART for d in a)


@dataclass(eq=False)
class _Search:
    trial: Trial
    limit: float
    no_go: tuple[str, ...]
    report: Report
    ranked: list[Ranked] = field(default_factory=list)
    overlapping: list[Ranked] = field(default_factory=list)

    @cached_property
    def ranking(self) -> Ranking:
        return Ranking(self.trial)

    def mouths(self) -> list[Array]:
        """Points along the edges that may be cut, on the left half only when the panel is its own mirror image."""
        out = []
        step = max(MOUTH_STEP, self.trial.ring.exterior.length / MOST_MOUTHS)
        for name, flat in self.trial.edges:
            if name in self.no_go:
                continue
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

    def first_darts(self) -> list[DartPlan]:
        self.ranked = self._rank([(d,) for d in self.candidates(self.mouths(), self.tips())], "Dart", 0.05, 0.3)
        self.overlapping = [r for r in self.ranked if r.angles[0] < 0]
        opening = [r for r in self.ranked if r.opens]
        likely = self._spread(opening, LIKELY)
        heads = {self.trial.edges_of(r.darts): r for r in reversed(opening)}
        likely += [r for r in heads.values() if r not in likely]
        return self._refined(varied(self._solved(likely), KEPT + 1), STEPS[:1], 0.3, 0.45)

    def second_darts(self) -> list[DartPlan]:
        """Every two of the likely darts together: the best pair is seldom the best dart and one beside it."""
        alone = [r.darts[0] for r in self._spread(self.ranked, PAIRED)]
        pairs = [pair for k, a in enumerate(alone) for b in alone[k + 1 :] if (pair := self._pair(a, b))]
        opening = [r for r in self._rank(pairs, "Pair", 0.45, 0.65) if r.opens]
        return self._refined(self._solved(self._spread(opening, LIKELY))[:2], STEPS, 0.65, 0.8)

    def _pair(self, a: Dart, b: Dart) -> tuple[Dart, ...] | None:
        """Both, with the second stepped back from the first's tip; None where they cross or that leaves too little."""
        if np.linalg.norm(b.tip - a.tip) < STEP_BACK:
            b = Dart(b.mouth, a.tip + STEP_BACK * (b.mouth - a.tip) / np.linalg.norm(b.mouth - a.tip))
        clear = LineString([a.mouth, a.tip]).distance(LineString([b.mouth, b.tip])) > CLEAR
        return (a, b) if clear and b.length > LEAST_PLANNED and self._lies_inside(b) else None

    def _rank(self, sets: list[tuple[Dart, ...]], word: str, start: float, end: float) -> list[Ranked]:
        """Darts that can be cut, those that leave the least energy first."""
        found = []
        for k, darts in enumerate(sets):
            self.report(start + (end - start) * k / len(sets), f"{word} {k + 1} of {len(sets)} tried")
            ranked = self.ranking.rank(darts)
            if ranked is not None:
                found.append(ranked)
        return sorted(found, key=lambda r: r.energy)

    def _spread(self, found: list[Ranked], count: int) -> list[Ranked]:
        """The first few, no two of them with nearly the same mouths."""
        out: list[Ranked] = []
        for ranked in found:
            if all(_apart(ranked.darts, o.darts) for o in out):
                out.append(ranked)
            if len(out) == count:
                break
        return out

    def _solved(self, found: list[Ranked]) -> list[DartPlan]:
        """Those that can be cut in properly, best first."""
        return sorted((p for r in found if (p := self._plan(r.darts))), key=lambda p: p.cost)

    def _refined(self, solved: list[DartPlan], steps: tuple[float, ...], start: float, end: float) -> list[DartPlan]:
        """All of them moved about, the first most."""
        plans = []
        for k, plan in enumerate(solved):
            self.report(start + (end - start) * k / len(solved), "The best are moved about")
            plans.append(self._moved(plan, steps if k == 0 else steps[:1]))
        if plans and len(plans[0].darts) > 1 and plans[0].tried.p95 > MARGIN * self.limit:
            plans[0] = self._moved(plans[0], steps)
        return plans

    def _plan(self, darts: tuple[Dart, ...]) -> DartPlan | None:
        tried = self.trial.try_darts(darts)
        return None if tried is None or not tried.opens else self._as_plan(tried)

    def _as_plan(self, tried: Tried) -> DartPlan:
        cost = plan_cost(self.trial, tried.darts, tried.p95, self.limit)
        return DartPlan(tried.darts, tried, cost, self.trial.edges_of(tried.darts))

    def _moved(self, plan: DartPlan, steps: tuple[float, ...]) -> DartPlan:
        """Hill climbing: every move of one of its darts, by a step in mm, that lowers the cost is kept."""
        for step in steps:
            for k in reversed(range(len(plan.darts))):
                for move in MOVES:
                    moved = self._step(plan.darts[k], step * np.array(move))
                    better = moved and self._plan(_with(plan.darts, k, moved))
                    if better and better.cost < plan.cost:
                        plan = better
        short = self._plan(_with(plan.darts, len(plan.darts) - 1, _stop_short(plan.darts[-1])))
        return short if short is not None and short.cost < plan.cost else plan

    def _step(self, dart: Dart, by: Array) -> Dart | None:
        """The dart with its mouth moved along the edge and its tip across and along; None where it may not go."""
        exterior = self.trial.ring.exterior
        mouth = dart.mouth
        if by[0]:
            at = exterior.project(Point(mouth)) + by[0]
            mouth = np.array(exterior.interpolate(at % exterior.length).coords[0])
        moved = Dart(mouth, dart.tip + by[1:])
        return None if self._spared(mouth) or not self._lies_inside(moved) else moved

    def _spared(self, mouth: Array) -> bool:
        spared = [line for name, line in self.trial.edges if name in self.no_go]
        return any(line.distance(Point(mouth)) < STEPS[-1] for line in spared)


def plan_cost(trial: Trial, darts: tuple[Dart, ...], p95: float, limit: float) -> float:
    """Strain over the limit counts most; then strain, number, length and how much of it the front shows (est.)."""
    over = max(0.0, p95 / limit - MARGIN)
    length = sum(d.length for d in darts) / float(np.sqrt(trial.ring.area))
    return 8 * over + 0.6 * p95 / limit + 0.35 * len(darts) + 0.5 * length + 0.3 * len(darts) * seen(trial, darts)


def seen(trial: Trial, darts: tuple[Dart, ...]) -> float:
    """1 for darts that begin down the front, 0 for those that begin at the back."""
    mouths = trial.plane.uv(np.stack([d.mouth for d in darts]))[:, 0]
    return float((0.5 + 0.5 * np.cos(2 * np.pi * mouths)).mean())


def _with(darts: tuple[Dart, ...], k: int, dart: Dart) -> tuple[Dart, ...]:
    return (*darts[:k], dart, *darts[k + 1 :])


def _stop_short(dart: Dart) -> Dart:
    return Dart(dart.mouth, dart.mouth + SHORT_OF_PEAK * (dart.tip - dart.mouth))
