"""Re-grading: a body that has changed, the same ink, and what of the foam already cut can be kept."""

from dataclasses import dataclass
from typing import Literal

import numpy as np
import shapely
from numpy.typing import NDArray
from scipy.optimize import linear_sum_assignment
from shapely.geometry import LineString, Polygon

from vellumcut.core.flatten.curves import FlatEdge
from vellumcut.core.flatten.panel import FlatPanel
from vellumcut.core.pattern.drawn import DrawnPanel
from vellumcut.core.pattern.pattern import PiecePattern

Array = NDArray[np.float64]

FITS = 3.0
"""A panel that is off by no more than this anywhere still fits: foam is sanded and eased by as much, mm (est.)."""
WIDEST_STRIP = 45.0
"""A strip wider than this is a panel of its own: cut the panel again, mm (est.)."""
PER_EDGE, SPACED = 24, 4.0
"""Points of an edge that are fitted, and how far apart those of the line they slide on are, mm."""
ROUNDS = 12
NEARNESS = (4.0, 1.0, 100.0, 30.0)
"""How much a turn around, a station along, the other side and another layer count when a panel's counterpart is looked
for."""

State = Literal["fits", "strip", "trim", "again"]


@dataclass(frozen=True, eq=False)
class PanelChange:
    """What became of one panel. before: code of what it was; empty when it is new. apart: largest distance between old
    and new outline, mm.

    edge: along which a strip is added or trimmed off. width: least, mean and most of it, mm.
    old, new: outlines (n, 2) mm, the old one laid on the new. strip: outline of what is to be added or taken off.
    """

    code: str
    before: str
    state: State
    words: str
    apart: float
    edge: str
    width: tuple[float, float, float]
    old: Array
    new: Array
    strip: Array | None


def compare_patterns(old: PiecePattern, new: PiecePattern) -> list[PanelChange]:
    """Panel by panel, what still fits, what a strip along one edge would mend, and what must be cut again."""
    was = _numbered(old.panels, new.panels) if new.design.came_flat else _counterparts(old.panels, new.panels)
    return [_compare(old.panels[was[k]] if k in was else None, panel) for k, panel in enumerate(new.panels)]


def _numbered(old: tuple[DrawnPanel, ...], new: tuple[DrawnPanel, ...]) -> dict[int, int]:
    """As ``_counterparts``, of panels that came flat: they lie nowhere on the body, and keep their numbers."""
    there = {(p.flat.number, p.side, p.layer.number): k for k, p in enumerate(old)}
    return {k: there[key] for k, p in enumerate(new) if (key := (p.flat.number, p.side, p.layer.number)) in there}


def _counterparts(old: tuple[DrawnPanel, ...], new: tuple[DrawnPanel, ...]) -> dict[int, int]:
    """Which old panel (value) each new one (key) was: those that lie on the same place of the body. A cut that was
    added gives panels other numbers."""
    here, there = (
        np.array([[*p.flat.uv.mean(axis=0), p.side == "left", p.layer.number] for p in panels]) for panels in (new, old)
    )
    away = np.abs(here[:, None] - there[None])
    away[..., 0] = np.minimum(away[..., 0] % 1.0, -away[..., 0] % 1.0)  # around the body and back
    away *= NEARNESS
    rows, columns = linear_sum_assignment(away.sum(axis=2))
    return {int(r): int(c) for r, c in zip(rows, columns, strict=True) if new[r].side == old[c].side}


def _compare(old: DrawnPanel | None, new: DrawnPanel) -> PanelChange:
    code, outline = new.label.code, new.flat.outline
    if old is None:
        return PanelChange(code, "", "again", "It is new: cut it.", 0.0, "", (0.0, 0.0, 0.0), outline, outline, None)
    before = old.label.code
    whole = _moved(old.flat.outline, _fit(old.flat, new.flat, ""))
    rings = (shapely.LinearRing(ring).simplify(0.05) for ring in (whole, outline))
    apart = float(shapely.hausdorff_distance(*rings))
    if apart <= FITS:
        words = f"Still fits: off by {apart:.1f} mm at most."
        return PanelChange(code, before, "fits", words, apart, "", (0.0, 0.0, 0.0), whole, outline, None)
    mends = [
        m
        for e in (new.flat.edges if apart < WIDEST_STRIP + FITS else ())
        if e.kind != "dart"
        for m in [_mend(old.flat, new.flat, e.name, apart, (code, before))]
        if m
    ]
    if mends:
        return min(mends, key=lambda m: m.width[2] - m.width[0])
    words = f"Cut it again: it is off by {apart:.0f} mm, and no one strip mends that."
    return PanelChange(code, before, "again", words, apart, "", (0.0, 0.0, 0.0), whole, outline, None)


def _mend(old: FlatPanel, new: FlatPanel, edge: str, apart: float, codes: tuple[str, str]) -> PanelChange | None:
    """Whether all but one edge still fits, so that only a strip along that edge is wanting or over."""
    names = {e.name for e in old.edges}
    if edge not in names or len(new.edges) < 3:
        return None
    fit = _fit(old, new, edge)
    laid = _moved(old.outline, fit)
    still = np.eye(2), np.zeros(2)
    short = _off(_points(old, fit, edge), new.outline)
    over = _off(_points(new, still, edge), laid)
    if min(short, over) > FITS:
        return None
    before, after = _polygon(laid), _polygon(new.outline)
    wanted = new.edge(edge).points(4.0)
    old_edge = LineString(_moved(old.edge(edge).points(2.0), fit))
    sign = np.where(shapely.contains_xy(before.buffer(1e-6), wanted[:, 0], wanted[:, 1]), -1.0, 1.0)
    width = sign * shapely.distance(old_edge, shapely.points(wanted))
    inner = width[2:-2] if len(width) > 6 else width
    low, mean, high = float(inner.min()), float(inner.mean()), float(inner.max())
    if max(abs(low), abs(high)) > WIDEST_STRIP or (low < -FITS and high > FITS):
        return None
    off = max(short, over, abs(low), abs(high))
    if off <= FITS:  # laid so, no edge is off by more than fits
        words = f"Still fits: off by {off:.1f} mm at most."
        return PanelChange(*codes, "fits", words, off, "", (0.0, 0.0, 0.0), laid, new.outline, None)
    grown = mean > 0
    piece = _largest((after - before if grown else before - after).buffer(0), old_edge)
    state: State = "strip" if grown else "trim"
    span = (
        f"{mean:.0f} mm"
        if high - low < 2
        else f"{abs(low if grown else high):.0f} to {abs(high if grown else low):.0f} mm"
    )
    words = f"Glue a strip of {span} along the {edge}." if grown else f"Trim {span.lstrip('-')} off the {edge}."
    return PanelChange(*codes, state, words, apart, edge, (low, mean, high), laid, new.outline, piece)


def _off(points: Array, outline: Array) -> float:
    """How far the farthest of the points lies from an outline, mm."""
    rim = LineString(np.vstack([outline, outline[:1]]))
    return float(np.max(shapely.distance(rim, shapely.points(points))))


def _polygon(points: Array) -> Polygon:
    return Polygon(points).buffer(0)


def _largest(found: shapely.Geometry, edge: LineString) -> Array | None:
    parts = [p for p in getattr(found, "geoms", [found]) if isinstance(p, Polygon) and p.area > 20]
    if not parts:
        return None
    best = max(parts, key=lambda p: p.area / (1 + p.distance(edge)))
    return np.asarray(shapely.get_coordinates(best.exterior))[:-1]


Fit = tuple[Array, Array]


def _moved(points: Array, fit: Fit) -> Array:
    return np.asarray(points @ fit[0].T + fit[1])


def _points(flat: FlatPanel, fit: Fit, leave: str) -> Array:
    """Points along every edge but one."""
    return _moved(np.vstack([_sampled(e) for e in flat.edges if e.name != leave]), fit)


def _sampled(edge: FlatEdge) -> Array:
    """Points evenly along an edge, ends included, (PER_EDGE, 2)."""
    p = edge.points(2.0)
    return np.asarray(p[np.linspace(0, len(p) - 1, PER_EDGE).round().astype(int)])


def _fit(old: FlatPanel, new: FlatPanel, leave: str) -> Fit:
    """The rigid move that lays the old panel best on the new one, one edge left out of the fit.

    Points slide along the new outline (iterative closest points, Besl and McKay, 1992), since edges beside the one
    left out grow longer.
    """
    turn, shift = np.eye(2), _start(old, new, leave)
    rim = {e.name: LineString(e.points(SPACED)) for e in new.edges if e.name != leave}
    edges = [e for e in old.edges if e.name in rim]
    source = np.vstack([_sampled(e) for e in edges])
    lines = np.repeat([rim[e.name] for e in edges], PER_EDGE)
    for _ in range(ROUNDS):
        here = shapely.points(source @ turn.T + shift)
        on = shapely.line_interpolate_point(lines, shapely.line_locate_point(lines, here))
        turn, shift = _rigid(source, shapely.get_coordinates(on))
    return turn, shift


def _start(old: FlatPanel, new: FlatPanel, leave: str) -> Array:
    """A first move: the middles of the edges that are fitted, together."""
    both = [(e, f) for e in old.edges for f in new.edges if e.name == f.name != leave]
    if not both:
        return np.asarray(new.outline.mean(axis=0) - old.outline.mean(axis=0))
    return np.asarray(np.mean([f.points().mean(axis=0) - e.points().mean(axis=0) for e, f in both], axis=0))


def _rigid(source: Array, target: Array) -> Fit:
    """Best turn and shift from one set of points to another (Kabsch, 1976)."""
    a, b = source.mean(axis=0), target.mean(axis=0)
    u, _, v = np.linalg.svd((source - a).T @ (target - b))
    turn = (u @ np.diag([1.0, float(np.sign(np.linalg.det(u @ v)))]) @ v).T
    return turn, np.asarray(b - turn @ a)
