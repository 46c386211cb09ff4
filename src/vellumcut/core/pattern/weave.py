"""The pattern of a one-faced sheet carried from panel to panel over their seams: which way it runs on each, and where
its rows lie, so that it goes on across a seam (parts rule book, section 2)."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from vellumcut.core.design.foam import Weave
from vellumcut.core.flatten.curves import FlatEdge
from vellumcut.core.flatten.panel import FlatLine, FlatPanel
from vellumcut.core.notes import Finding
from vellumcut.core.units import format_length

Array = NDArray[np.float64]

SAMPLES = 9
MEETS = 1.0
"""mm by which a pattern may be off over a seam unsaid (est.): the seam itself is as wide."""
SQUARE = 3.0
"""Degrees from along or across a mirrored seam within which a pattern meets its mirror image straight (est.)."""
WAY, ROW = "the sheet's pattern runs along this", "a row of the sheet's pattern lies here"


@dataclass(frozen=True, eq=False)
class Woven:
    """How the pattern lies on one panel: at: a place where a row and a column cross, mm; way: unit, along a column."""

    at: Array
    way: Array

    def read(self, points: Array) -> Array:
        """Places (n, 2) mm across and along the pattern, mm."""
        across = np.array([self.way[1], -self.way[0]])
        return np.stack([(points - self.at) @ across, (points - self.at) @ self.way], axis=1)


@dataclass(frozen=True, eq=False)
class _Pair:
    """Two edges that are sewn or glued to each other, and the panels they are on."""

    name: str
    panels: tuple[int, int]
    edges: tuple[FlatEdge, FlatEdge]


def woven(flats: Sequence[FlatPanel], weave: Weave) -> dict[int, Woven]:
    """By panel's number, from its first panel on over the longest seams. flats: the seen sheet of one side's panels."""
    out: dict[int, Woven] = {}
    pairs = sorted(_pairs(flats), key=lambda p: -p.edges[0].body_length)
    for start in sorted(flats, key=lambda p: p.number != weave.first):
        if start.number not in out:  # no seam leads there from what is laid already
            out[start.number] = Woven(_middle(start), _unit(np.radians(weave.turn)))
        while step := next((p for p in pairs if len({n in out for n in p.panels}) == 2), None):
            k = 0 if step.panels[0] in out else 1
            out[step.panels[1 - k]] = _carried(out[step.panels[k]], step.edges[k], step.edges[1 - k])
    return {p.number: _centred(out[p.number], p, weave) for p in flats}


def weave_lines(panel: FlatPanel, lies: Woven) -> tuple[FlatLine, ...]:
    """What is drawn on a panel: the way of the pattern, and one of its rows."""
    across = np.array([lies.way[1], -lies.way[0]])
    reach = 2 * float(np.hypot(*np.ptp(panel.outline, axis=0)))
    out = []
    for way, words in ((lies.way, WAY), (across, ROW)):
        cut = shapely.LineString([lies.at - reach * way, lies.at + reach * way]).intersection(panel.shape)
        parts = [g for g in shapely.get_parts(cut) if g.geom_type == "LineString"]
        if parts:
            points = np.asarray(max(parts, key=lambda g: g.length).coords)
            out.append(FlatLine("mark", "sheet pattern", points, words=words))
    return tuple(out)


def weave_findings(flats: Sequence[FlatPanel], weave: Weave) -> Iterator[Finding]:
    """What the pattern does at each seam."""
    lies = woven(flats, weave)
    for pair in _pairs(flats):
        off = _off(lies[pair.panels[0]], lies[pair.panels[1]], pair.edges, weave)
        if off > MEETS:
            told = f"The sheet's pattern is off by up to {format_length(off)} over the seam “{pair.name}”"
            yield Finding("look", told + ".", "foam", "Begin it from a panel beside that seam, or turn it.")
    for panel in flats:
        for edge in panel.edges:
            lean = _lean(lies[panel.number], edge)
            mirrored = any(s.mirrored and s.arc and s.arc == edge.arc and s.kind == "seam" for s in panel.seams)
            if mirrored and lean > SQUARE:
                told = f"At “{edge.name}” the sheet's pattern meets its mirror image in a V of {2 * lean:.0f} degrees."
                yield Finding("look", told, "foam", "Let it run along that seam, or across it.")


def _pairs(flats: Sequence[FlatPanel]) -> list[_Pair]:
    met: dict[str, list[tuple[int, FlatEdge]]] = {}
    for panel in flats:
        for edge in (e for e in panel.edges if e.kind == "seam" and e.arc):
            met.setdefault(edge.arc, []).append((panel.number, edge))
    rows = [tuple(own) for own in met.values() if len(own) == 2]
    return [_Pair(a[1].name, (a[0], b[0]), (a[1], b[1])) for a, b in rows]


def _at(edge: FlatEdge, share: float) -> tuple[Array, Array]:
    """A place on an edge and its way there, both as its arc runs."""
    along = share if edge.forward else 1 - share
    point, way = edge.place(along * edge.body_length)
    return np.asarray(point), np.asarray(way) * (1.0 if edge.forward else -1.0)


def _carried(known: Woven, one: FlatEdge, other: FlatEdge) -> Woven:
    """The pattern as it goes on past the middle of a seam: both panels moved together there."""
    (p, a), (q, b) = _at(one, 0.5), _at(other, 0.5)
    cos, sin = float(a @ b), float(a[0] * b[1] - a[1] * b[0])
    turn = np.array([[cos, -sin], [sin, cos]]) / np.hypot(cos, sin)
    return Woven(q + turn @ (known.at - p), turn @ known.way)


def _centred(lies: Woven, panel: FlatPanel, weave: Weave) -> Woven:
    """The same pattern told from its crossing nearest to the panel's middle."""
    middle = _middle(panel)
    across = np.array([lies.way[1], -lies.way[0]])
    steps = np.round(lies.read(middle[None])[0] / [weave.apart, weave.pitch])
    return Woven(lies.at + steps[0] * weave.apart * across + steps[1] * weave.pitch * lies.way, lies.way)


def _middle(panel: FlatPanel) -> Array:
    return np.asarray(panel.shape.representative_point().coords[0])


def _off(one: Woven, other: Woven, edges: tuple[FlatEdge, FlatEdge], weave: Weave) -> float:
    """How far rows or columns lie beside those of the other side at most along a seam, mm."""
    shares = np.linspace(0.0, 1.0, SAMPLES)
    here, there = (
        lies.read(np.array([_at(edge, s)[0] for s in shares])) for lies, edge in zip((one, other), edges, strict=True)
    )
    repeats = np.array([weave.apart, weave.pitch])
    gap = here - there
    return float(np.abs(gap - np.round(gap / repeats) * repeats).max())


def _lean(lies: Woven, edge: FlatEdge) -> float:
    """Degrees by which an edge runs neither along nor across the pattern, in its middle."""
    _, way = _at(edge, 0.5)
    turned = abs(np.degrees(np.arctan2(way[0] * lies.way[1] - way[1] * lies.way[0], way @ lies.way))) % 90
    return float(min(turned, 90 - turned))


def _unit(turn: float) -> Array:
    """So far to the left of upright, radians."""
    return np.array([-np.sin(turn), np.cos(turn)])
