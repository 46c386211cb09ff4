"""The dart planner: few short darts that bring a panel under what its foam gives, or why none can.

Mouths along the edge times tips along the ridges of curvature are ranked as slits on one rough mesh and climbed from
there; the best few are cut in properly and climbed again by what they ask of the foam. Pairs are looked for among all
likely mouths: the best pair is seldom the best dart and one beside it. A bulge lets a slit open; where the surface is a
saddle its sides would lie over each other, and a split or an insert is looked for instead.
"""

from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np
from numpy.typing import NDArray
from shapely.geometry import LineString, Point

from vellumcut.core.flatten.ranking import Ranked, Ranking
from vellumcut.core.flatten.trial import Dart, Trial, Tried

Array = NDArray[np.float64]
Report = Callable[[float, str], None]


@dataclass(frozen=True)
class Effort:
    """How far is looked. mouth_step: distance of the edge points tried first, mm; tips: how many; starts: how many of
    the best are climbed from on the rough mesh; pairs: how many mouths are paired; climbs: how many are climbed from
    once they are cut in properly; steps: of those climbs, mm."""

    mouth_step: float
    tips: int
    starts: int
    pairs: int
    climbs: int
    steps: tuple[float, ...]


USUAL = Effort(44.0, 6, 6, 10, 1, (12.0, 6.0))
THOROUGH = Effort(24.0, 20, 20, 20, 6, (16.0, 8.0, 4.0))
MOST_MOUTHS = 64
ROUGH_STEPS = (24.0, 12.0)
"""Steps of a climb on the rough mesh, mm."""
LEAST_PLANNED = 30.0
APART = 40.0
"""Mouths of two darts, or two plans of one dart that are told apart, lie farther apart than this, mm."""
TIPS_APART = 24.0
"""Tips of two darts stay this far from each other, mm."""
STEPS_BACK = (0.0, 25.0, 40.0, 60.0, 85.0)
"""A second dart that comes too near the first stops short of its tip by the first of these that will do, mm."""
CLEAR = 15.0
"""Two darts leave this much foam between them, mm."""
RIM = 15.0
"""No tip is tried nearer to the edge, mm."""
LENGTH_COUNTS = 0.1 / 100
"""A dart 100 mm longer must ask a tenth of a point less."""
MARGIN = 0.92
"""A rough mesh may read a little low: a plan is sure of the limit under this share of it."""


@dataclass(frozen=True, eq=False)
class DartPlan:
    """Darts on the drawing plane with what they do on the rough mesh. cost: less is better. edges: that they open
    on."""

    darts: tuple[Dart, ...]
    tried: Tried
    cost: float
    edges: tuple[str, ...]

    @property
    def length(self) -> float:
        """Of all its darts, mm."""
        return sum(d.length for d in self.darts)

    @property
    def score(self) -> float:
        """What it asks, with a little for its length."""
        return self.tried.p95 + LENGTH_COUNTS * self.length


@dataclass(frozen=True, eq=False)
class Found:
    """singles, pairs: plans, those that ask least first. overlapping: slits whose sides would lie over each other."""

    singles: tuple[DartPlan, ...]
    pairs: tuple[DartPlan, ...]
    overlapping: tuple[Ranked, ...]


def silent(share: float, words: str) -> None:
    """Nobody waits."""


def find_darts(
    trial: Trial,
    limit: float,
    no_go: Iterable[str] = (),
    report: Report = silent,
    most: int = 2,
    effort: Effort = USUAL,
) -> Found:
    """Plans of up to ``most`` darts, whatever they reach. limit: what the foam gives, per cent. no_go: edges to spare.

    Raises CraftError when the panel cannot be laid flat at all.
    """
    search = _Search(trial, limit, tuple(no_go), report, effort)
    singles = search.singles()
    pairs = search.pairs() if most > 1 else []
    return Found(tuple(singles), tuple(pairs), tuple(search.overlapping))


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
    effort: Effort
    alone: list[Ranked] = field(default_factory=list)
    best: list[DartPlan] = field(default_factory=list)
    overlapping: list[Ranked] = field(default_factory=list)
    seen: dict[bytes, Ranked | None] = field(default_factory=dict)

    @cached_property
    def ranking(self) -> Ranking:
        return Ranking(self.trial)

    @cached_property
    def spared(self) -> list[LineString]:
        return [line for name, line in self.trial.edges if name in self.no_go]

    def mouths(self) -> list[Array]:
        """Points along the edges that may be cut, on the left half only when the panel is its own mirror image."""
        out = []
        step = max(self.effort.mouth_step, self.trial.ring.exterior.length / MOST_MOUTHS)
        for name, flat in self.trial.edges:
            count = max(1, round(flat.length / step))
            for k in range(0 if name in self.no_go else count):
                p = np.array(flat.interpolate((k + 0.5) / count, normalized=True).coords[0])
                if not self.trial.mirror or p[0] > APART / 2:
                    out.append(p)
        return out

    def tips(self) -> list[Array]:
        """Places where the surface bulges: its peaks first, then along its ridges, spread over them."""
        places, curved = self.trial.curvature()
        radius = 0.12 * float(np.sqrt(self.trial.ring.area))
        away = np.linalg.norm(places[:, None] - places[None], axis=2)
        gathered = (np.exp(-((away / radius) ** 2)) * curved[None]).sum(axis=1)
        inner = np.array([self.trial.ring.exterior.distance(Point(p)) > RIM for p in places], dtype=bool)
        inner &= (places[:, 0] >= 0) | (not self.trial.mirror)
        worth = np.where(inner, np.maximum(gathered, 0.02 * gathered.max(initial=1e-9)), 0.0)
        if not worth.any():
            centre = self.trial.ring.representative_point()
            return [np.array([centre.x, centre.y])]
        chosen = [int(worth.argmax())]
        while len(chosen) < self.effort.tips:
            spread = worth * np.minimum(away[:, chosen].min(axis=1) / radius, 3.0)
            if away[int(spread.argmax()), chosen].min() < TIPS_APART / 2:
                break
            chosen.append(int(spread.argmax()))
        return [places[k] for k in chosen]

    def singles(self) -> list[DartPlan]:
        tips = self.tips()
        every = [(Dart(m, t),) for m in self.mouths() for t in tips]
        ranked = self._rank([d for d in every if self._can_be(d)], "Dart", 0.02, 0.3)
        self.overlapping = [r for r in ranked if r.angles[0] < 0]
        climbed = self._climbed(self._spread(ranked, self.effort.starts), 0.3, 0.42)
        self.alone = sorted([*climbed, *ranked], key=lambda r: r.energy)
        self.best = self._settled(self._spread(climbed, self.effort.starts), 0.42, 0.55)
        return self.best

    def pairs(self) -> list[DartPlan]:
        """Every two of the likely darts together, and what climbing makes of the best."""
        alone = [r.darts[0] for r in self._spread(self.alone, self.effort.pairs)]
        alone += [p.darts[0] for p in self.best[:2]]
        pairs = [pair for k, a in enumerate(alone) for b in alone[k + 1 :] if (pair := self._pair(a, b))]
        ranked = self._rank(pairs, "Pair", 0.55, 0.68)
        climbed = self._climbed(self._spread(ranked, max(4, self.effort.starts // 2)), 0.68, 0.85)
        return self._settled(self._spread(climbed, self.effort.starts), 0.85, 1.0)

    def _pair(self, a: Dart, b: Dart) -> tuple[Dart, ...] | None:
        """Both, with the second stepped back from the first as far as it takes; None where that cannot be."""
        for back in STEPS_BACK:
            short = Dart(b.mouth, b.tip + back * (b.mouth - b.tip) / max(b.length, 1e-9))
            if np.linalg.norm(short.tip - a.tip) >= TIPS_APART and self._can_be((a, short)):
                return (a, short)
        return None

    def _can_be(self, darts: tuple[Dart, ...]) -> bool:
        """Whether each is long enough, opens where it may and lies inside, and they keep clear of each other."""
        lines = [LineString([d.mouth, d.tip]) for d in darts]
        for k, dart in enumerate(darts):
            if dart.length < LEAST_PLANNED or (self.trial.mirror and min(dart.mouth[0], dart.tip[0]) < 0):
                return False
            line = LineString([dart.mouth + 0.02 * (dart.tip - dart.mouth), dart.tip])
            if not self.trial.ring.contains(line) or any(s.distance(Point(dart.mouth)) < 6.0 for s in self.spared):
                return False
            if any(lines[k].distance(other) < CLEAR for other in lines[k + 1 :]):
                return False
        return True

    def _ranked(self, darts: tuple[Dart, ...]) -> Ranked | None:
        key = np.concatenate([np.append(d.mouth, d.tip) for d in darts]).round(1).tobytes()
        if key not in self.seen:
            self.seen[key] = self.ranking.rank(darts)
        return self.seen[key]

    def _rank(self, sets: list[tuple[Dart, ...]], word: str, start: float, end: float) -> list[Ranked]:
        """Darts that can be cut, those that leave the least energy first."""
        found = []
        for k, darts in enumerate(sets):
            self.report(start + (end - start) * k / len(sets), f"{word} {k + 1} of {len(sets)} tried")
            ranked = self._ranked(darts)
            if ranked is not None:
                found.append(ranked)
        return sorted(found, key=lambda r: r.energy)

    def _spread(self, found: list[Ranked], count: int) -> list[Ranked]:
        """The first few that open, no two of them with nearly the same mouths."""
        out: list[Ranked] = []
        for ranked in found:
            if ranked.opens and all(_apart(ranked.darts, o.darts) for o in out):
                out.append(ranked)
            if len(out) == count:
                break
        return out

    def _climbed(self, begin: list[Ranked], start: float, end: float) -> list[Ranked]:
        """Each moved about on the rough mesh as long as that leaves less energy, best first."""
        out = []
        for n, at in enumerate(begin):
            self.report(start + (end - start) * n / len(begin), f"Moved about: {n + 1} of {len(begin)}")
            here = at
            for step in ROUGH_STEPS:
                for k in range(len(here.darts)):
                    for moved in self._moves(here.darts, k, step):
                        found = self._ranked(moved)
                        if found and found.opens and found.energy < here.energy:
                            here = found
            out.append(here)
        return sorted(out, key=lambda r: r.energy)

    def _moves(self, darts: tuple[Dart, ...], k: int, step: float) -> Iterable[tuple[Dart, ...]]:
        """One dart's mouth moved along the edge, or its tip across and along, by a step in mm, where it may go."""
        dart, exterior = darts[k], self.trial.ring.exterior
        at = exterior.project(Point(dart.mouth))
        for by in (step, -step):
            mouth = np.array(exterior.interpolate((at + by) % exterior.length).coords[0])
            yield from self._allowed(darts, k, Dart(mouth, dart.tip))
        for way in ((step, 0.0), (-step, 0.0), (0.0, step), (0.0, -step)):
            yield from self._allowed(darts, k, Dart(dart.mouth, dart.tip + np.array(way)))

    def _allowed(self, darts: tuple[Dart, ...], k: int, moved: Dart) -> Iterable[tuple[Dart, ...]]:
        every = (*darts[:k], moved, *darts[k + 1 :])
        return (every,) if self._can_be(every) else ()

    def _settled(self, found: list[Ranked], start: float, end: float) -> list[DartPlan]:
        """All cut in properly; the best of them climbed by what they ask. Best first."""
        solved = sorted((p for r in found if (p := self._plan(r.darts))), key=lambda p: p.score)
        best = solved[: self.effort.climbs]
        out = solved[self.effort.climbs :]
        for n, plan in enumerate(best):
            self.report(start + (end - start) * (n + 0.5) / (len(best) + 1), "The best are moved about")
            out.append(self._climb(plan))
        return sorted(out, key=lambda p: p.score)

    def _climb(self, plan: DartPlan) -> DartPlan:
        for step in self.effort.steps:
            for k in range(len(plan.darts)):
                for moved in self._moves(plan.darts, k, step):
                    better = self._plan(moved)
                    if better and better.score < plan.score:
                        plan = better
        return plan

    def _plan(self, darts: tuple[Dart, ...]) -> DartPlan | None:
        tried = self.trial.careful.try_darts(darts)
        if tried is None or not tried.opens:
            return None
        return DartPlan(darts, tried, plan_cost(self.trial, darts, tried.p95, self.limit), self.trial.edges_of(darts))


def plan_cost(trial: Trial, darts: tuple[Dart, ...], p95: float, limit: float) -> float:
    """Strain over the limit counts most; then strain, number, length and how much of it the front shows (est.)."""
    over = max(0.0, p95 / limit - MARGIN)
    length = sum(d.length for d in darts) / float(np.sqrt(trial.ring.area))
    return 8 * over + 0.6 * p95 / limit + 0.35 * len(darts) + 0.5 * length + 0.3 * len(darts) * seen(trial, darts)


def seen(trial: Trial, darts: tuple[Dart, ...]) -> float:
    """1 for darts that begin down the front, 0 for those that begin at the back."""
    mouths = trial.plane.uv(np.stack([d.mouth for d in darts]))[:, 0]
    return float((0.5 + 0.5 * np.cos(2 * np.pi * mouths)).mean())
