"""Half patterns: a panel that is its own mirror image, drawn to be cut on the fold of the paper."""

import itertools
from collections.abc import Iterator
from dataclasses import replace

import numpy as np
import shapely
from numpy.typing import NDArray

from vellumcut.core.flatten.curves import FlatEdge
from vellumcut.core.flatten.panel import FOLD, FlatLine, FlatPanel
from vellumcut.core.foam.edges import EdgeCut
from vellumcut.core.pattern.drawn import DrawnPanel
from vellumcut.core.pattern.pattern import PiecePattern

Array = NDArray[np.float64]

ALIKE = 1.5
"""Halves that differ by no more are one drawing: paper is folded no truer than that, mm (est.)."""
ON_THE_FOLD = "cut on the fold: the dashed line is no edge"
_END = 1e-6


def on_the_fold(pattern: PiecePattern) -> PiecePattern:
    """The same pattern with half of every panel that is its own mirror image; the others as they are."""
    return replace(pattern, panels=tuple(_halved(p) for p in pattern.panels))


def is_own_mirror(flat: FlatPanel) -> bool:
    """Whether the left half of a flat panel lies on its right half when folded along the centre line."""
    if flat.holes or flat.overlaps:
        return False
    ring = shapely.LinearRing(flat.outline)
    if not ring.intersects(shapely.LineString(flat.centre[[0, -1]])):
        return False
    away, along = _split(flat.outline, flat)
    turned = _joined(-away, along, flat)
    return float(shapely.hausdorff_distance(ring, shapely.LinearRing(turned))) < ALIKE


def _halved(panel: DrawnPanel) -> DrawnPanel:
    flat = panel.flat
    if not is_own_mirror(flat):
        return panel
    parts = _half_edges(flat)
    pieces = [edge for edge, _ in parts]
    if not pieces:
        return panel
    start, end = pieces[-1].knots[-1], pieces[0].knots[0]
    line = np.linspace(start, end, 8)
    steps = np.linspace(0.0, float(np.linalg.norm(end - start)), 8)
    fold = FlatEdge(FOLD, FOLD, line, steps, np.linspace(pieces[-1].along[-1], pieces[0].along[0], 8))
    kept = tuple(m for m in flat.marks if _split(m.lines[:, 0], flat)[0].mean() > -_END)
    half = replace(flat, edges=(*pieces, fold), marks=kept, centre=line)
    half = replace(half, lines=tuple(_within(half.shape, flat.lines)))
    label = replace(panel.label, count=f"{panel.label.count}, {ON_THE_FOLD}")
    edges = {
        e.name: _cut_from(panel.edges[e.name], start, e.body_length) for e, start in parts if e.name in panel.edges
    }
    beside = tuple(b for b in panel.beside if half.shape.contains(shapely.Point(b.at)))
    return replace(panel, flat=half, label=label, edges=edges, beside=beside)


def _cut_from(cut: EdgeCut, start: float, length: float) -> EdgeCut:
    """How a stretch of an edge is cut that begins ``start`` mm along it."""
    at = np.unique(np.concatenate([[0.0], np.clip(cut.at - start, 0.0, length), [length]]))
    figures = {k: np.interp(at + start, cut.at, getattr(cut, k)) for k in ("fold", "lean", "move")}
    return replace(cut, at=at, **figures)


def _within(shape: shapely.Polygon, lines: tuple[FlatLine, ...]) -> Iterator[FlatLine]:
    for line in lines:
        seen = shapely.LineString(line.points).intersection(shape.buffer(_END))
        for part in shapely.get_parts(shapely.line_merge(seen)):
            if part.geom_type == "LineString":
                yield replace(line, points=shapely.get_coordinates(part))


def _axis(flat: FlatPanel) -> tuple[Array, Array]:
    way = flat.centre[-1] - flat.centre[0]
    return flat.centre[0], way / np.linalg.norm(way)


def _split(points: Array, flat: FlatPanel) -> tuple[Array, Array]:
    """How far points lie right of the centre line and how far along it, mm, (n,) each."""
    start, way = _axis(flat)
    off = points - start
    return off @ np.array([way[1], -way[0]]), off @ way


def _joined(away: Array, along: Array, flat: FlatPanel) -> Array:
    start, way = _axis(flat)
    return np.asarray(start + away[:, None] * np.array([way[1], -way[0]]) + along[:, None] * way)


def _half_edges(flat: FlatPanel) -> list[tuple[FlatEdge, float]]:
    """Edges right of the centre line in their order, those that cross it cut there, and where along the whole edge each
    begins, mm; they run from fold to fold."""
    runs: list[list[tuple[FlatEdge, float]]] = [[]]
    for edge in flat.edges:
        for part, begins, ends_on_line in _right_parts(edge, flat):
            runs[-1].append((part, begins))
            if ends_on_line:
                runs.append([])
    if len(runs) != 2:
        return []  # it crosses its centre line more often: no one fold will do
    return runs[1] + runs[0]


def _right_parts(edge: FlatEdge, flat: FlatPanel) -> list[tuple[FlatEdge, float, bool]]:
    """What of an edge lies right of the line, where each part begins, and whether it ends on the line, leaving the
    half."""
    away, _ = _split(edge.knots, flat)
    away = np.where(np.abs(away) < _END, 0.0, away)
    right = away > 0
    crossings = [k for k in range(len(away) - 1) if right[k] != right[k + 1]]
    cuts = [0.0, *(k + away[k] / (away[k] - away[k + 1]) for k in crossings), float(len(away) - 1)]
    out = []
    for low, high in itertools.pairwise(cuts):
        middle = np.interp((low + high) / 2, np.arange(len(away)), away)
        if middle <= 0 or high - low < _END:
            continue
        leaves = high < len(away) - 1 or (away[-1] <= 0)
        begins = float(np.interp(low, np.arange(len(edge.at)), edge.at))
        out.append((_stretch(edge, low, high), begins, bool(leaves)))
    return out


def _stretch(edge: FlatEdge, low: float, high: float) -> FlatEdge:
    """An edge between two places given in knots."""
    index = np.arange(len(edge.at))
    at = np.unique(np.concatenate([[low], index[(index > low) & (index < high)], [high]]))
    if len(at) < 4:
        at = np.linspace(low, high, 4)
    knots = np.stack([np.interp(at, index, edge.knots[:, k]) for k in (0, 1)], axis=1)
    body = np.interp(at, index, edge.at)
    return replace(edge, knots=knots, at=body - body[0], along=np.interp(at, index, edge.along))
