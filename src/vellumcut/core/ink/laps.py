"""Plates that lie over each other: the hidden edge is lengthened, and the line to which the upper plate reaches is
marked."""

from collections.abc import Iterator, Sequence
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from vellumcut.core.body.segments import BodyPart
from vellumcut.core.body.tube import TubeSurface
from vellumcut.core.design.laps import LapOrder, Laps
from vellumcut.core.ink.lines import InkLine, PanelInk
from vellumcut.core.ink.plane import DrawingPlane, drawing_plane

Array = NDArray[np.float64]

MARGIN = 15.0
"""Overlap left when the joint has turned as far as it goes, mm (est.)."""
TURNS: dict[BodyPart, float] = {
    "shoulder": 60.0,
    "foot": 40.0,
    "knee": 90.0,
    "forearm": 10.0,
    "upper arm": 10.0,
    "torso": 30.0,
    "thigh": 10.0,
}
"""How far a part bends along the plates that cover it, degrees (est.); shared among their joints."""
TACK_IN = 8.0
"""Tacks sit so far inside the hidden stretch, mm."""


def plate_edges(panels: Sequence[PanelInk]) -> list[tuple[str, int, int]]:
    """Edges at which two plates meet without glue: the edge's name, and the places of the lower and the upper plate."""
    at: dict[str, list[tuple[int, str, float]]] = {}
    for k, panel in enumerate(panels):
        for line in panel.outline:
            if line.kind == "outline" and line.arc:
                at.setdefault(line.arc, []).append(
                    (k, line.name, float(np.mean([x.uv[:, 1].mean() for x in panel.outline])))
                )
    out = []
    for rows in at.values():
        if len(rows) == 2 and rows[0][0] != rows[1][0]:
            (low, name, _), (high, _, _) = sorted(rows, key=lambda r: r[2])
            out.append((name, low, high))
    return out


def asked_overlap(tube: TubeSurface, part: BodyPart, joints: int) -> float:
    """mm that one plate reaches under the next so that nothing shows between them: the arc it opens and a margin."""
    radius = float(np.mean(tube.station_girths)) / (2 * np.pi)
    return float(radius * np.radians(TURNS.get(part, 10.0)) / max(1, joints) + MARGIN)


def lapped(tube: TubeSurface, panels: Sequence[PanelInk], laps: Laps, part: BodyPart) -> tuple[PanelInk, ...]:
    """The panels with every hidden edge lengthened, and on it the line to which the plate above reaches."""
    edges = plate_edges(panels)
    if laps.order == "edge to edge" or not edges:
        return tuple(panels)
    by = asked_overlap(tube, part, len(edges)) if laps.by is None else laps.by
    out, plane = list(panels), drawing_plane(tube)
    for place, (name, low, high) in enumerate(sorted(edges, key=lambda e: e[1])):
        hidden = low if _upper_lies_over(laps.order, place, len(edges)) else high
        out[hidden] = _lengthened(plane, out[hidden], name, by if hidden == low else -by)
    return tuple(out)


def _upper_lies_over(order: LapOrder, place: int, count: int) -> bool:
    if order == "from the middle":
        return place < count / 2
    return order == "upper over lower"


def _lengthened(plane: DrawingPlane, panel: PanelInk, name: str, by: float) -> PanelInk:
    """One edge moved out along the limb by ``by`` mm, its neighbours grown to meet it."""
    lines = list(panel.outline)
    k = next((n for n, x in enumerate(lines) if x.name == name and x.arc), None)
    if k is None:
        return panel
    old = lines[k]
    flat = plane.flat(old.uv)
    moved = plane.uv(flat + [0.0, by])
    before, after = (k - 1) % len(lines), (k + 1) % len(lines)
    lines[k] = replace(old, uv=moved, arc="", name=f"{name}, hidden")
    lines[before] = replace(lines[before], uv=np.vstack([lines[before].uv, moved[:1]]), arc="")
    lines[after] = replace(lines[after], uv=np.vstack([moved[-1:], lines[after].uv]), arc="")
    marks = (InkLine("mark", f"{name}: the next plate reaches here", old.uv), *_tacks(plane, flat, name, by))
    return replace(panel, outline=tuple(lines), inside=(*panel.inside, *marks))


def _tacks(plane: DrawingPlane, flat: Array, name: str, by: float) -> Iterator[InkLine]:
    """Crosses where the hidden stretch is tacked to webbing: at both ends and in the middle."""
    step = np.sign(by) * min(TACK_IN, abs(by) / 2)
    for share in (0.12, 0.5, 0.88):
        at = flat[round(share * (len(flat) - 1))] + [0.0, step]
        for arm in (np.array([4.0, 0.0]), np.array([0.0, 4.0])):
            yield InkLine("mark", f"tack at {name}", plane.uv(np.array([at - arm, at + arm])))
