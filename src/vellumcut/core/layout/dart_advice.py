"""Dart plans for a panel of a piece: planned roughly, proved on the mesh that is shown, and put in a maker's words."""

from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
import shapely
from numpy.typing import NDArray

from vellumcut.core.body.segments import Side
from vellumcut.core.cast.armour import ArmourSurface
from vellumcut.core.errors import CraftError
from vellumcut.core.flatten.joining import join_panels
from vellumcut.core.flatten.mesh import EDIT_SIZE
from vellumcut.core.flatten.panel import FlatPanel
from vellumcut.core.flatten.planner import (
    KEPT,
    Advice,
    DartPlan,
    Report,
    plan_cost,
    plan_darts,
    propose_cuts,
    seen,
    varied,
)
from vellumcut.core.flatten.solving import solve_near
from vellumcut.core.flatten.splits import Split
from vellumcut.core.flatten.trial import Trial, armour_trial
from vellumcut.core.foam.sheets import Allowance
from vellumcut.core.ink.design import PieceDesign
from vellumcut.core.ink.lines import PanelInk
from vellumcut.core.ink.regions import read_ink
from vellumcut.core.ink.sheet import InkSheet, Stroke
from vellumcut.core.layout.pattern import is_turned, shown_panel

Array = NDArray[np.float64]

SURE = 0.985
"""A plan that asks more than this share of what the foam gives comes after one that does not: once its legs and seams
are trued with the panels beside it, it may ask a little more."""


@dataclass(frozen=True, eq=False)
class ProvedPlan:
    """A dart plan as strokes to add, and the panel as it lies with them. seen: 1 for all in front, 0 for none.
    cost: what they are ranked by, less is better. edges: names of those that they open on.
    """

    cuts: tuple[Stroke, ...]
    flat: FlatPanel
    length: float
    seen: float
    cost: float
    edges: tuple[str, ...]


@dataclass(frozen=True, eq=False)
class ProvedSplit:
    """A split or an insert as seams to add. p95: over the parts, per cent. lines: on the panel as it lies now, mm."""

    kind: Literal["split", "insert"]
    cuts: tuple[Stroke, ...]
    p95: float
    width: float
    words: str
    flat: FlatPanel
    lines: tuple[Array, ...]


@dataclass(frozen=True, eq=False)
class DartAdvice:
    """What to do with a panel, with the figures behind it. before: p95 without a dart; limit: what its foam gives."""

    kind: Literal["none", "darts", "saddle", "short"]
    before: float
    limit: float
    words: str
    plans: tuple[ProvedPlan, ...]
    splits: tuple[ProvedSplit, ...]


def advise_darts(
    surface: ArmourSurface,
    ink: PanelInk,
    sheet: InkSheet,
    give: Allowance,
    no_go: tuple[str, ...],
    most: int,
    report: Report,
) -> DartAdvice:
    """Plan darts for one panel. sheet: all ink of the piece, for fresh names. Raises CraftError.

    A plan is kept only if the panel as it will be shown asks less of the foam with it than without, does not lie
    over itself and its legs are alike.
    """
    trial = armour_trial(surface, ink, _is_own_mirror(ink, sheet))
    before = _laid(trial, trial.bare)
    asked = before.summary.p95
    if asked <= give.stretch:
        words = f"No dart is wanted: it asks {asked:.1f} %, and this foam gives {give.stretch:g} % warm."
        return DartAdvice("none", asked, give.stretch, words + _squeezed(before, give), (), ())
    whole = _part_of(report, 0.0, 0.55) if trial.mirror else report
    names = {s.key for s in sheet.strokes}
    advice, proved = _planned_and_proved(trial, before, give, no_go, most, names, whole)
    splits = tuple(_split_strokes(s, names, before) for s in advice.splits)
    kind = _kind(advice, proved, give)
    if kind == "short" and trial.mirror:
        halves = _down_the_middle(trial, surface, sheet, give, no_go, most, _part_of(report, 0.55, 1.0))
        splits = (*halves, *(s for s in splits if not halves or s.p95 < halves[0].p95))
    words = _words(kind, proved, splits, before, give)
    return DartAdvice(kind, asked, give.stretch, words, tuple(proved), splits)


def _planned_and_proved(
    trial: Trial,
    before: FlatPanel,
    give: Allowance,
    no_go: tuple[str, ...],
    most: int,
    names: set[str],
    report: Report,
) -> tuple[Advice, list[ProvedPlan]]:
    """Plans that hold on the mesh that is shown, best first, with what was planned roughly.

    The rough mesh reads a little low: it is held to as much less, and to less again where that was not enough.
    """
    limit = give.stretch * min(1.0, trial.undarted.p95 / before.summary.p95)
    for part in (_part_of(report, 0.0, 0.6), _part_of(report, 0.6, 1.0)):
        advice = plan_darts(trial, limit, no_go, part, max(1, most // 2) if trial.mirror else most)
        part(0.88, "The best are laid flat finely")
        both = [(p, done) for p in advice.plans if (done := _proved(trial, p, before, names, give.stretch))]
        reached = any(done.flat.summary.p95 <= give.stretch for _, done in both)
        if reached or advice.kind != "darts" or not both:
            break
        limit *= min(1.0, *(p.tried.p95 / done.flat.summary.p95 for p, done in both))
    if advice.kind == "darts" and not reached:
        advice = replace(advice, splits=propose_cuts(trial, advice.overlapping, limit))
    proved = varied((done for _, done in both), KEPT, lambda p: standing(p.flat.summary.p95, give.stretch))
    return advice, proved


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


def _down_the_middle(
    trial: Trial,
    surface: ArmourSurface,
    sheet: InkSheet,
    give: Allowance,
    no_go: tuple[str, ...],
    most: int,
    report: Report,
) -> tuple[ProvedSplit, ...]:
    """A seam down the middle of a panel that is its own mirror image, with the darts that each half then takes."""
    chord = shapely.LineString([[0.0, -1e5], [0.0, 1e5]]).intersection(trial.ring)
    if chord.geom_type != "LineString":
        return ()
    key = _fresh("split", {s.key for s in sheet.strokes}, 0)
    ends = trial.plane.uv(np.asarray(shapely.get_coordinates(chord)))
    seam = Stroke(key=key, kind="seam", name="centre split", points=_points(ends), curve="straight")
    parted = sheet.model_copy(update={"strokes": (*sheet.strokes, seam)})
    inside = shapely.intersection(trial.ring, shapely.box(1.0, -1e5, 1e5, 1e5)).representative_point()
    at = trial.plane.uv(np.array([[inside.x, inside.y]]))[0]
    halves = [r for r in read_ink(surface.tube, parted).regions if shapely.Polygon(r.ring).contains(shapely.Point(at))]
    if not halves:
        return ()
    half = advise_darts(surface, halves[0].ink, parted, give, (*no_go, seam.name), most, report)
    best = half.plans[0] if half.plans else None
    p95 = best.flat.summary.p95 if best else half.before
    flat = best.flat if best else _laid(armour_trial(surface, halves[0].ink, False), halves[0].ink)
    count = len(best.cuts) if best else 0
    darts = f" with {'one dart' if count == 1 else f'{count} darts'}" if count else ""
    words = f"Split it down the middle: each half{darts} then asks {p95:.1f} %."
    return (ProvedSplit("split", (seam, *(best.cuts if best else ())), p95, 0.0, words, flat, ()),)


def _is_own_mirror(ink: PanelInk, sheet: InkSheet) -> bool:
    """Whether the panel lies across the middle of a symmetric piece, so that its darts come in pairs."""
    return sheet.symmetric and any(line.name.endswith("(mirrored)") for line in ink.outline)


def _laid(trial: Trial, ink: PanelInk) -> FlatPanel:
    return join_panels([solve_near(trial.surface, trial.first, ink, EDIT_SIZE, trial.whole)])[0]


def _proved(trial: Trial, plan: DartPlan, before: FlatPanel, names: set[str], limit: float) -> ProvedPlan | None:
    cuts = tuple(_dart_stroke(trial, k, names, plan) for k in range(len(plan.darts)))
    ink = trial.with_darts(plan.darts)
    if ink is None:
        return None
    keys = [key for c in cuts for key in ((c.key, f"{c.key}'") if trial.mirror else (c.key,))]
    named = tuple(
        replace(d, key=key, name=_name(key.removesuffix("'"))) for d in ink.darts for key in [keys[int(d.key[1:])]]
    )
    try:
        flat = _laid(trial, replace(ink, darts=named))
    except CraftError:
        return None
    alike = all(abs(d.left - d.right) < 0.5 for d in flat.darts)
    opens = all(d.angle > 0 for d in flat.darts)
    if not (alike and opens) or flat.overlaps or flat.summary.p95 >= before.summary.p95:
        return None
    length = sum(d.length for d in plan.darts)
    cost = plan_cost(trial, plan.darts, flat.summary.p95, limit)
    return ProvedPlan(cuts, flat, length, seen(trial, plan.darts), cost, plan.edges)


def _dart_stroke(trial: Trial, number: int, names: set[str], plan: DartPlan) -> Stroke:
    dart = plan.darts[number]
    uv = trial.plane.uv(np.stack([dart.mouth, dart.tip]))
    key = _fresh("dart", names, number)
    return Stroke(key=key, kind="dart", name=_name(key), points=_points(uv), curve="straight")


def _name(key: str) -> str:
    return key.replace("-", " ")


def _points(uv: Array) -> tuple[tuple[float, float], ...]:
    return tuple((float(u), float(v)) for u, v in uv.round(6))


def _fresh(word: str, names: set[str], number: int) -> str:
    free = (f"{word}-{n}" for n in range(1, 10_000) if f"{word}-{n}" not in names)
    for _ in range(number):
        next(free)
    return next(free)


def _split_strokes(split: Split, names: set[str], before: FlatPanel) -> ProvedSplit:
    word = "split" if split.kind == "split" else "insert"
    keys = [_fresh(word, names, k) for k in range(len(split.lines))]
    cuts = tuple(
        Stroke(key=key, kind="seam", name=_name(key), points=_points(uv), curve="straight")
        for key, uv in zip(keys, split.lines, strict=True)
    )
    if split.kind == "split":
        words = f"Split along one line: the parts then ask {split.p95:.1f} %."
    else:
        words = (
            f"Slash it and let in a wedge {split.width:.0f} mm wide at the edge: the parts then ask {split.p95:.1f} %."
        )
    lines = tuple(_on_flat(before, uv) for uv in split.lines)
    return ProvedSplit(split.kind, cuts, split.p95, split.width, words, before, lines)


def _on_flat(flat: FlatPanel, uv: Array) -> Array:
    """Where a line on the body lies on the flat panel, by the nearest of its vertices; near enough for a picture."""
    t = np.linspace(0, len(uv) - 1, 24)
    fine = np.stack([np.interp(t, np.arange(len(uv)), uv[:, k]) for k in (0, 1)], axis=1)
    away = np.linalg.norm((flat.uv[None] - fine[:, None]) * np.array([4.0, 1.0]), axis=2)
    near = np.argsort(away, axis=1)[:, :3]
    weight = 1 / (np.take_along_axis(away, near, axis=1) + 1e-6)
    return np.asarray((flat.vertices[near] * (weight / weight.sum(axis=1, keepdims=True))[..., None]).sum(axis=1))


def _kind(advice: Advice, proved: list[ProvedPlan], give: Allowance) -> Literal["darts", "saddle", "short"]:
    if any(p.flat.summary.p95 <= give.stretch for p in proved):
        return "darts"
    return "saddle" if not proved and advice.splits else "short"


def _words(
    kind: str, proved: list[ProvedPlan], splits: tuple[ProvedSplit, ...], before: FlatPanel, give: Allowance
) -> str:
    asked = f"It asks {before.summary.p95:.1f} %"
    if kind == "darts":
        best = proved[0].flat
        count = "one dart brings" if len(best.darts) == 1 else f"{len(best.darts)} darts bring"
        reached = f"{count} it to {best.summary.p95:.1f} %.{_squeezed(best, give)}"
        return f"{asked} and this foam gives {give.stretch:g} %: {reached}"
    if kind == "saddle":
        return (
            f"{asked}, but the surface is a saddle: a dart's sides would lie over each other. "
            "Split it, or slash it and let in a wedge."
        )
    least = min((p.flat.summary.p95 for p in proved), default=before.summary.p95)
    reached = f"darts bring it to {least:.1f} %, and that is not enough" if proved else "no dart helps enough"
    return f"{asked}, more than the {give.stretch:g} % this foam gives: {reached}. {_instead(least, splits, give)}"


def _instead(least: float, splits: tuple[ProvedSplit, ...], give: Allowance) -> str:
    """What to do where darts are not enough. least: what is asked with the best of them, per cent."""
    cup = "Build the bulge as a cup of its own, or use softer or thinner foam."
    split = splits[0] if splits and splits[0].p95 < least else None
    if split and split.p95 <= give.stretch:
        return split.words
    if min(least, split.p95 if split else least) <= give.stretch_limit:
        way = f"{split.words} " if split else ""
        return f"{way}Foam gives up to {give.stretch_limit:g} % if it is warmed well and pressed over a form. {cup}"
    return f"{split.words} {cup}" if split else cup


def _squeezed(flat: FlatPanel, give: Allowance) -> str:
    """Foam is squeezed less gladly than it is stretched: what is under the one limit may be over the other."""
    if flat.summary.squeeze_p95 <= give.squeeze:
        return ""
    return (
        f" It is squeezed by {flat.summary.squeeze_p95:.1f} %, more than the comfortable {give.squeeze:g} %: "
        "warm it well and press it over a form, or draw a dart by hand."
    )
