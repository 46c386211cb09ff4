"""Dart plans for a panel of a piece: searched roughly, proved as they will be cut, and put in a maker's words."""

from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, replace
from typing import Literal, TypeVar

import numpy as np
import shapely
from numpy.typing import NDArray

from vellumcut.core.body.segments import Side
from vellumcut.core.design.piece import PieceDesign
from vellumcut.core.design.sheet import InkSheet, Stroke
from vellumcut.core.flatten.panel import FlatPanel
from vellumcut.core.flatten.planner import THOROUGH, USUAL, DartPlan, Effort, Found, Report, find_darts, plan_cost, seen
from vellumcut.core.flatten.splits import WORTH_SPLITTING, Split, propose_cuts
from vellumcut.core.flatten.trial import Trial, armour_trial
from vellumcut.core.foam.sheets import Allowance
from vellumcut.core.ink.darts import without_darts
from vellumcut.core.ink.lines import PanelInk
from vellumcut.core.pattern.advice_words import plan_words, split_words
from vellumcut.core.pattern.drawn import is_turned
from vellumcut.core.pattern.pattern import shown_panel
from vellumcut.core.pattern.proof import Proof, Prover

Array = NDArray[np.float64]

SEARCHING = 0.75
"""Share of the time of a round that its search takes; its plans are proved in the rest."""
SHOWN = 3
"""So many plans are shown side by side, and as many splits."""
TABLED, MOST_TABLED = 2, 6
"""So many of the search's best of each number of darts are laid on the table before the few that are proved; and so
many are tried for that."""
WORTH = 0.95
"""A dart that leaves more than this share of the strain is not worth its cut."""
SURE = 0.985
"""A plan that asks more than this share of what the foam gives comes after one that does not."""


@dataclass(frozen=True, eq=False)
class ProvedPlan:
    """A dart plan as strokes to add, and the panel as it lies with them. p95: as it is cut, per cent.

    seen: 1 for all in front, 0 for none. cost: what they are ranked by, less is better. edges: that they open on.
    """

    cuts: tuple[Stroke, ...]
    flat: FlatPanel
    p95: float
    squeeze: float
    length: float
    seen: float
    cost: float
    edges: tuple[str, ...]


@dataclass(frozen=True, eq=False)
class ProvedSplit:
    """A split or an insert as seams to add, and darts with them. p95: of the part that asks most, as it is cut, per
    cent.

    lines: on the panel as it lies now, mm.
    """

    kind: Literal["split", "insert"]
    cuts: tuple[Stroke, ...]
    p95: float
    width: float
    words: str
    flat: FlatPanel
    lines: tuple[Array, ...]


Kind = Literal["none", "darts", "saddle", "short"]


@dataclass(frozen=True, eq=False)
class DartAdvice:
    """What to do with a panel, with the figures behind it. before: p95 without a dart; limit: what its foam gives.

    kind: none (it lies flat), darts, saddle (split or insert), short (darts are not enough).
    """

    kind: Kind
    before: float
    limit: float
    words: str
    plans: tuple[ProvedPlan, ...]
    splits: tuple[ProvedSplit, ...]


@dataclass(frozen=True)
class Wish:
    """What the maker asked for. no_go: names of edges to spare. most: darts at most. thorough: look for up to a
    minute."""

    give: Allowance
    no_go: tuple[str, ...] = ()
    most: int = 2
    thorough: bool = False

    def rounds(self, whole: float) -> tuple[tuple[Effort, float, float], ...]:
        """How far the search looks, and between which shares of all work. A thorough one begins with the usual, so that
        it is never the worse for looking elsewhere. whole: the share that both take."""
        if not self.thorough:
            return ((USUAL, 0.0, whole),)
        return (USUAL, 0.0, whole / 3), (THOROUGH, whole / 3, whole)


def silent(share: float, words: str) -> None:
    """Nobody waits."""


def advise_darts(prover: Prover, wish: Wish, report: Report = silent) -> DartAdvice:
    """Plan darts for one panel of a piece that has none there yet. Raises CraftError.

    Every plan, split and wedge in the answer is proved: cut so, the panels can be cut and closed, and the worst of them
    asks what is told.
    """
    give = wish.give
    before = prover.before()
    if before.p95 <= give.stretch and not before.flawed:
        return DartAdvice("none", before.p95, give.stretch, plan_words("none", before.panels[0], (), (), give), (), ())
    sheet = before.inked.sheet
    mirror = _is_own_mirror(prover.panel, sheet)
    trial = armour_trial(before.inked.surface, without_darts(prover.panel), mirror)
    names = {s.key for s in sheet.strokes}
    most = max(1, wish.most // 2) if mirror else wish.most
    plans: tuple[ProvedPlan, ...] = ()
    for effort, start, end in wish.rounds(0.7 if mirror else 0.9):
        turn = start + SEARCHING * (end - start)
        found = find_darts(trial, give.stretch, wish.no_go, _part_of(report, start, turn), most, effort)
        proving = _part_of(report, turn, end)
        more = _proved_plans(prover, trial, found, before, names, give.stretch, proving)
        plans = _best_of((*plans, *more), give.stretch)
    reached = any(p.p95 <= give.stretch for p in plans)
    splits: tuple[ProvedSplit, ...] = ()
    if not reached:
        report(0.7 if mirror else 0.9, "Where it could be split")
        splits = _proved_splits(prover, propose_cuts(trial, found.overlapping), before, names)
        halves = down_the_middle(prover, trial, wish, _part_of(report, 0.72, 1.0)) if mirror else ()
        splits = tuple(sorted((*halves, *splits), key=lambda s: s.p95))[:SHOWN]
    kind: Kind = "darts" if reached else "saddle" if splits and not plans else "short"
    words = plan_words(kind, before.panels[0], plans, splits, give)
    return DartAdvice(kind, before.p95, give.stretch, words, plans, splits)


@dataclass(frozen=True, eq=False)
class _Tabled:
    """A plan laid on the table's mesh. cost: by what it asks there."""

    plan: DartPlan
    cuts: tuple[Stroke, ...]
    shown: Proof
    cost: float


def _proved_plans(
    prover: Prover, trial: Trial, found: Found, before: Proof, names: set[str], limit: float, report: Report
) -> tuple[ProvedPlan, ...]:
    """The best single dart, the best pair and the cheapest other way, each as it is cut; the best first.

    The best of the search are laid on the table's mesh and chosen by that; a choice that does not hold makes room for
    the next.
    """
    singles, pairs = (_tabled(prover, trial, plans, before, names, limit) for plans in (found.singles, found.pairs))
    report(0.4, "The chosen are proved as they will be cut")
    out: list[ProvedPlan] = []
    left = [*singles, *pairs]
    while left and len(out) < SHOWN:
        chosen = _next_choices(left, {p.edges for p in out}, {len(p.cuts) for p in out})[: SHOWN - len(out)]
        left = [t for t in left if t not in chosen]
        proved = _together(lambda t: _proved(prover, trial, t, limit), chosen)
        out += [p for p in proved if p is not None and p.p95 < WORTH * before.p95]
        report(0.4 + 0.2 * len(out), "The chosen are proved as they will be cut")
    return tuple(out)


def _best_of(plans: Sequence[ProvedPlan], limit: float) -> tuple[ProvedPlan, ...]:
    """Of each number of darts the plan that asks least, then the cheapest; the best first."""
    counts = {len(p.cuts) for p in plans}
    least = [min((p for p in plans if len(p.cuts) == n), key=lambda p: p.p95) for n in sorted(counts)]
    rest = sorted((p for p in plans if p not in least), key=lambda p: (standing(p.p95, limit), p.cost))
    kept = [*least, *rest][:SHOWN]
    return tuple(sorted(kept, key=lambda p: (standing(p.p95, limit), p.cost)))


def _next_choices(left: list[_Tabled], edges: set[tuple[str, ...]], counts: set[int]) -> list[_Tabled]:
    """Of each number of darts not shown yet the one that asks least; then the cheapest, on other edges first."""
    least = [
        min((t for t in left if len(t.plan.darts) == n), key=lambda t: t.shown.p95)
        for n in sorted({len(t.plan.darts) for t in left} - counts)
    ]
    used = edges | {t.plan.edges for t in least}
    rest = sorted((t for t in left if t not in least), key=lambda t: (t.plan.edges in used, t.cost))
    return [*least, *rest[:1]] if least else rest[:1]


def _tabled(
    prover: Prover, trial: Trial, plans: tuple[DartPlan, ...], before: Proof, names: set[str], limit: float
) -> list[_Tabled]:
    """Of plans in the order of what they ask, the first few that can be laid on the table and are worth their cut."""
    out: list[_Tabled] = []
    tried = 0
    for plan in plans:
        # Past the first few only what opens on other edges: a maker chooses where a dart may be seen.
        if len(out) >= TABLED and plan.edges in {t.plan.edges for t in out}:
            continue
        tried += 1
        cuts = _strokes(trial, plan, names)
        shown = prover.shown(cuts)
        if shown is not None and shown.p95 < WORTH * before.p95:
            out.append(_Tabled(plan, cuts, shown, plan_cost(trial, plan.darts, shown.p95, limit)))
        if len(out) > TABLED or tried == MOST_TABLED:
            break
    return out


def _proved(prover: Prover, trial: Trial, tabled: _Tabled, limit: float) -> ProvedPlan | None:
    done = prover.cut(tabled.cuts)
    if done is None:
        return None
    plan = tabled.plan
    cost = plan_cost(trial, plan.darts, done.p95, limit)
    squeeze = done.worst.summary.squeeze_p95
    return ProvedPlan(
        tabled.cuts, tabled.shown.worst, done.p95, squeeze, plan.length, seen(trial, plan.darts), cost, plan.edges
    )


T = TypeVar("T")
R = TypeVar("R")


def _together(work: Callable[[T], R], items: Sequence[T]) -> list[R]:
    """Two at a time: solving large systems leaves room for a second thread."""
    with ThreadPoolExecutor(2) as pool:
        return list(pool.map(work, items))


def standing(p95: float, limit: float) -> int:
    """0 for a plan that surely holds, 1 for one that just holds, 2 for one that does not."""
    return (p95 > SURE * limit) + (p95 > limit)


def shown_advice(advice: DartAdvice, side: Side, design: PieceDesign) -> DartAdvice:
    """The same with its pictures as the panel is drawn for a side."""
    turned = is_turned(side, design)
    plans = tuple(replace(p, flat=shown_panel(p.flat, side, design)) for p in advice.plans)
    splits = tuple(
        replace(
            s,
            flat=shown_panel(s.flat, side, design),
            lines=tuple(s.flat.flip(line) if turned else line for line in s.lines),
        )
        for s in advice.splits
    )
    return replace(advice, plans=plans, splits=splits)


def _part_of(report: Report, start: float, end: float) -> Report:
    return lambda share, words: report(start + (end - start) * share, words)


def _proved_splits(prover: Prover, found: tuple[Split, ...], before: Proof, names: set[str]) -> tuple[ProvedSplit, ...]:
    every = [tuple(_fresh(split.kind, names, k) for k in range(len(split.lines))) for split in found]
    cuts = [
        tuple(_seam(k, uv) for k, uv in zip(keys, s.lines, strict=True)) for keys, s in zip(every, found, strict=True)
    ]
    out: list[ProvedSplit] = []
    for split, strokes, done in zip(found, cuts, _together(prover.cut, cuts), strict=True):
        if done is None or len(done.panels) < 2 or done.p95 > WORTH_SPLITTING * before.p95:
            continue
        lines = tuple(_on_flat(before.panels[0], uv) for uv in split.lines)
        words = split_words(split.kind, done.p95, split.width)
        out.append(ProvedSplit(split.kind, strokes, done.p95, split.width, words, before.panels[0], lines))
    return tuple(out)


def down_the_middle(prover: Prover, trial: Trial, wish: Wish, report: Report) -> tuple[ProvedSplit, ...]:
    """A seam down the middle of a panel that is its own mirror image, with the darts that each half then takes."""
    left, _, right, _ = trial.ring.bounds
    # A back lies about the spine, half a turn from the front line.
    middle = 0.0 if left < 0.0 < right else (left + right) / 2
    chord = shapely.LineString([[middle, -1e5], [middle, 1e5]]).intersection(trial.ring)
    if chord.geom_type != "LineString" or chord.is_empty:
        return ()
    ends = trial.plane.uv(np.asarray(shapely.get_coordinates(chord)))
    sheet = prover.before().inked.sheet
    seam = _seam(_fresh("split", {s.key for s in sheet.strokes}, 0), ends, "centre split")
    parted = prover.cut((seam,))
    if parted is None:
        return ()
    # Of two halves alike the ink has one: the left, which lies beyond the middle in front and before it behind.
    sides = (shapely.box(middle + 1.0, -1e5, 1e5, 1e5), shapely.box(-1e5, -1e5, middle - 1.0, 1e5))
    inside = [shapely.intersection(trial.ring, side).representative_point() for side in sides]
    at = shapely.points(trial.plane.uv(np.array([[p.x, p.y] for p in inside])))
    halves = [r.ink for r in parted.inked.regions if shapely.Polygon(r.ring).contains(at).any()]
    if not halves:
        return ()
    design = prover.design.model_copy(update={"cuts": (*prover.design.cuts, seam)})
    spared = replace(wish, no_go=(*wish.no_go, seam.name))
    half = advise_darts(Prover(prover.tube, design, without_darts(halves[0])), spared, report)
    best = half.plans[0] if half.plans else None
    darts = best.cuts if best else ()
    done = prover.cut((seam, *darts))
    if done is None:
        return ()
    count = f" with {'one dart' if len(darts) == 1 else f'{len(darts)} darts'}" if darts else ""
    words = f"Split it down the middle: each half{count} then asks {done.p95:.1f} %."
    flat = best.flat if best else parted.worst
    return (ProvedSplit("split", (seam, *darts), done.p95, 0.0, words, flat, ()),)


def _is_own_mirror(ink: PanelInk, sheet: InkSheet) -> bool:
    """Whether the panel lies across the middle of a symmetric piece, so that its darts come in pairs."""
    return sheet.symmetric and any(line.name.endswith("(mirrored)") for line in ink.outline)


def _strokes(trial: Trial, plan: DartPlan, names: set[str]) -> tuple[Stroke, ...]:
    out = []
    for number, dart in enumerate(plan.darts):
        key = _fresh("dart", names, number)
        points = _points(trial.plane.uv(np.stack([dart.mouth, dart.tip])))
        out.append(Stroke(key=key, kind="dart", name=_name(key), points=points, curve="straight"))
    return tuple(out)


def _seam(key: str, uv: Array, name: str = "") -> Stroke:
    return Stroke(key=key, kind="seam", name=name or _name(key), points=_points(uv), curve="straight")


def _name(key: str) -> str:
    return key.replace("-", " ")


def _points(uv: Array) -> tuple[tuple[float, float], ...]:
    return tuple((float(u), float(v)) for u, v in uv.round(6))


def _fresh(word: str, names: set[str], number: int) -> str:
    free = (f"{word}-{n}" for n in range(1, 10_000) if f"{word}-{n}" not in names)
    for _ in range(number):
        next(free)
    return next(free)


def _on_flat(flat: FlatPanel, uv: Array) -> Array:
    """Where a line on the body lies on the flat panel, by the nearest of its vertices; near enough for a picture."""
    t = np.linspace(0, len(uv) - 1, 24)
    fine = np.stack([np.interp(t, np.arange(len(uv)), uv[:, k]) for k in (0, 1)], axis=1)
    away = np.linalg.norm((flat.uv[None] - fine[:, None]) * np.array([4.0, 1.0]), axis=2)
    near = np.argsort(away, axis=1)[:, :3]
    weight = 1 / (np.take_along_axis(away, near, axis=1) + 1e-6)
    return np.asarray((flat.vertices[near] * (weight / weight.sum(axis=1, keepdims=True))[..., None]).sum(axis=1))
