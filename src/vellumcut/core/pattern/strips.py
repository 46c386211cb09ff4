"""Strips that mend a panel which the body has outgrown, as panels to cut: labelled, marked, upright."""

from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from vellumcut.core.flatten.curves import FlatEdge
from vellumcut.core.flatten.marks import mark_edge
from vellumcut.core.flatten.panel import FlatPanel
from vellumcut.core.flatten.strain import StrainSummary
from vellumcut.core.foam.verdict import Verdict
from vellumcut.core.pattern.drawn import DrawnPanel
from vellumcut.core.pattern.pattern import PiecePattern
from vellumcut.core.pattern.regrade import PanelChange

Array = NDArray[np.float64]

CORNER = np.radians(35)
"""An outline that turns by more between two of its points has a corner there."""
UNSTRAINED = StrainSummary(0.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0, (0.0, 0.0), False)


def strips_pattern(new: PiecePattern, changes: list[PanelChange]) -> PiecePattern | None:
    """The strips of a re-graded piece as a pattern of their own; None when no panel wants one."""
    panels = [
        _strip_panel(change, panel)
        for change, panel in zip(changes, new.panels, strict=True)
        if change.state == "strip" and change.strip is not None
    ]
    if not panels:
        return None
    return replace(new, name=f"{new.name}, strips", panels=tuple(panels), inked={})


def _strip_panel(change: PanelChange, panel: DrawnPanel) -> DrawnPanel:
    assert change.strip is not None
    edges = _edges(change.strip)
    longest = max(edges, key=lambda e: e.length)
    low, high = change.strip.min(axis=0), change.strip.max(axis=0)
    middle = (low[0] + high[0]) / 2
    flat = FlatPanel(
        number=panel.flat.number,
        face=panel.flat.face,
        edges=edges,
        centre=np.array([[middle, low[1]], [middle, high[1]]]),
        marks=tuple(mark_edge(longest, [longest.body_length / 2], [1])),
        seams=(),
        summary=UNSTRAINED,
        vertices=np.zeros((0, 2)),
        faces=np.zeros((0, 3), dtype=np.int32),
        strain=np.zeros(0),
    )
    label = replace(
        panel.label, code=f"{panel.label.code} strip", piece=f"{panel.label.piece}, along the {change.edge}"
    )
    return replace(panel, flat=flat, label=label, verdict=Verdict("flat", "A strip", change.words))


def _edges(ring: Array) -> tuple[FlatEdge, ...]:
    """A ring of points (n, 2) counter-clockwise, parted at its corners into smooth edges."""
    area = np.sum(ring[:, 0] * np.roll(ring[:, 1], -1) - ring[:, 1] * np.roll(ring[:, 0], -1))
    ring = ring if area > 0 else ring[::-1]
    way = np.roll(ring, -1, axis=0) - ring
    angle = np.arctan2(way[:, 1], way[:, 0])
    turn = np.abs((angle - np.roll(angle, 1) + np.pi) % (2 * np.pi) - np.pi)
    corners = np.flatnonzero(turn > CORNER)
    corners = corners if len(corners) > 1 else np.array([0, len(ring) // 2])
    out = []
    for k, start in enumerate(corners):
        end = corners[(k + 1) % len(corners)]
        index = np.arange(start, end + 1 if end > start else end + len(ring) + 1) % len(ring)
        knots = _even(ring[index])
        step = np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(knots, axis=0), axis=1))])
        out.append(FlatEdge(f"strip edge {k + 1}", "outline", knots, step, step))
    return tuple(out)


def _even(points: Array, step: float = 8.0) -> Array:
    """The same line with its points evenly spaced, ends kept: points of two sources may lie all but together."""
    arc = np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(points, axis=0), axis=1))])
    at = np.linspace(0, arc[-1], max(4, round(float(arc[-1]) / step) + 1))
    return np.stack([np.interp(at, arc, points[:, k]) for k in (0, 1)], axis=1)
