"""A pattern as it is traced and cut: outlines of the full-size faces, grooves with their rims, words beside each
edge."""

import itertools
from collections.abc import Iterator
from dataclasses import replace

import numpy as np
import shapely
from numpy.typing import NDArray

from vellumcut.core.design.foam import Weave
from vellumcut.core.design.making import Making
from vellumcut.core.design.parts import Segments
from vellumcut.core.errors import CraftError
from vellumcut.core.flatten.curves import FlatEdge
from vellumcut.core.flatten.marks import Mark
from vellumcut.core.flatten.panel import FlatLine, FlatPanel
from vellumcut.core.foam.edges import EdgeCut, edge_cuts
from vellumcut.core.foam.grooves import FoldCut, worked_lines
from vellumcut.core.foam.stacks import PlacedLayer
from vellumcut.core.notes import Finding
from vellumcut.core.pattern.drawn import DrawnPanel
from vellumcut.core.pattern.labels import Beside, Label, write_beside
from vellumcut.core.pattern.pattern import OUTERMOST, PiecePattern
from vellumcut.core.pattern.weave import weave_lines, woven

Array = NDArray[np.float64]

CORNER = np.sin(np.radians(15.0))
"""Edges that meet more nearly in line have no corner of their own: both go out by the mean there."""
FARTHEST_CORNER = 4.0
"""A moved corner may lie this many times as far out as its edges; a sharper one is cut off by hand."""
FADES = 10.0
"""Over how much of an edge its end's own move fades, at least, mm."""
WORDS_IN, WORDS_ASIDE = 4.5, 3.5
"""How far inside an edge, and beside a line, the words about it stand, mm: clear of ticks and of a groove's rim."""
FULL_SIZE = "outline: the wider face at each edge"


def as_cut(pattern: PiecePattern) -> PiecePattern:
    """The pattern with every outline moved to the full-size face and every groove drawn. Raises CraftError where a
    bevel would make a panel lie over itself, or a groove would go through. Panels that came flat are cut square, as
    they are: how far they fold is not known."""
    if not pattern.joints:
        return pattern
    cuts: dict[tuple[str, int, int], dict[str, EdgeCut]] = {}
    for side in pattern.joints:
        for rank in {p.layer.number for p in pattern.panels if p.side == side}:
            rows = _rank(pattern, side, rank)
            flats, layers = [p.flat for p in rows], [p.layer for p in rows]
            found = edge_cuts(flats, layers, pattern.joints[side], pattern.design.foam_work)
            for panel, edges in zip(rows, found, strict=True):
                cuts[side, panel.flat.number, panel.layer.number] = edges
    panels = [_cut_panel(p, cuts[p.side, p.flat.number, p.layer.number], pattern) for p in pattern.panels]
    if pattern.design.foam_work.weave:
        panels = _woven(panels, pattern, pattern.design.foam_work.weave)
    return replace(pattern, panels=tuple(panels))


def _woven(panels: list[DrawnPanel], pattern: PiecePattern, weave: Weave) -> list[DrawnPanel]:
    """Panels with the way of their sheet's pattern drawn on the face that is seen."""
    lies = {side: woven(pattern.flats(side, OUTERMOST), weave) for side in pattern.inked}
    out = []
    for p in panels:
        seen = p.layer.number == p.layer.count
        drawn = weave_lines(p.flat, lies[p.side][p.flat.number]) if seen else ()
        out.append(replace(p, flat=replace(p.flat, lines=(*p.flat.lines, *drawn))))
    return out


def _rank(pattern: PiecePattern, side: str, rank: int) -> list[DrawnPanel]:
    """That layer of every panel of a side; of those with fewer, their outermost."""
    return [p for p in pattern.panels if p.side == side and p.layer.number == min(rank, p.layer.count)]


def _cut_panel(panel: DrawnPanel, edges: dict[str, EdgeCut], pattern: PiecePattern) -> DrawnPanel:
    flat = traced(panel.flat, edges)
    if not flat.shape.is_valid and panel.flat.shape.is_valid:
        raise CraftError(
            f"Panel {panel.label.code} would lie over itself once its edges are bevelled: give its sharpest seam "
            "less angle",
            "foam_work.seams",
        )
    cuts = _cut_into(panel, pattern)
    lines, crossed = worked_lines(flat, cuts)
    for finding in (*(f for c in cuts for f in c.findings), *crossed):
        if finding.level == "stop":
            raise CraftError(f"{finding.message} {finding.advice}".strip(), finding.place)
    plates = _plate_names(pattern.design.making)
    lines = [_numbered(_of_layer(x, panel.layer, {c.key for c in cuts}), plates) for x in lines]
    beside = tuple(_beside(flat, edges, lines))
    moved = any(np.any(c.move) for c in edges.values())
    label: Label = replace(panel.label, face=f"{panel.label.face}; {FULL_SIZE}") if moved else panel.label
    return replace(panel, flat=replace(flat, lines=tuple(lines)), label=label, edges=edges, beside=beside)


def _plate_names(making: Making) -> set[str]:
    """What the plates on a base are called: each by its number from the fixed end on."""
    rows = [(d.name, d.shape) for d in making.details]
    return {f"{name} {k}" for name, s in rows if isinstance(s, Segments) for k in range(1, s.count + 1)}


def _numbered(line: FlatLine, plates: set[str]) -> FlatLine:
    """A plate's place on its base says which plate goes there."""
    return replace(line, words=line.name) if line.name in plates else line


def crossings(pattern: PiecePattern) -> list[Finding]:
    """Where grooves of a piece cross."""
    return [f for panel in pattern.panels for f in worked_lines(panel.flat, _cut_into(panel, pattern))[1]]


def _cut_into(panel: DrawnPanel, pattern: PiecePattern) -> list[FoldCut]:
    """The folds and scores that are cut into this sheet of its panel: into the innermost or the outermost by their
    face."""
    first, last = panel.layer.number == 1, panel.layer.number == panel.layer.count
    here = (c for c in pattern.folds.get(panel.side, []) if c.panel == panel.flat.number)
    return [c for c in here if (first if c.face == "inner" else last)]


def _of_layer(line: FlatLine, layer: PlacedLayer, cut_here: set[str]) -> FlatLine:
    """What is cut into another sheet of the stack is a pencil mark on this one."""
    if line.kind == "layer cut" and layer.number < layer.count:
        return replace(line, kind="mark", words="the layer above ends here")
    if line.kind in ("fold", "score") and line.key not in cut_here:
        return replace(line, kind="mark", words=f"{line.kind}, cut into the other face of the stack")
    return line


def traced(flat: FlatPanel, edges: dict[str, EdgeCut]) -> FlatPanel:
    """A panel's outline moved out to its full-size face, edge by edge, corners carried to where the moved edges
    meet."""
    if not any(np.any(c.move) for c in edges.values()):
        return flat
    turn = 1.0 if shapely.LinearRing(flat.outline).is_ccw else -1.0
    moved: dict[str, FlatEdge] = {}
    shifts: dict[str, Array] = {}
    for ring in flat.rings:
        for edge, shift in zip(ring, _shifts(ring, edges, turn), strict=True):
            moved[edge.name], shifts[edge.name] = replace(edge, knots=edge.knots + shift), shift
    own = {e.name: e for e in (*flat.edges, *flat.holes)}
    return replace(
        flat,
        edges=tuple(moved[e.name] for e in flat.edges),
        holes=tuple(moved[e.name] for e in flat.holes),
        marks=tuple(_moved_mark(m, own.get(m.edge), shifts.get(m.edge)) for m in flat.marks),
    )


def _moved_mark(mark: Mark, edge: FlatEdge | None, shift: Array | None) -> Mark:
    if edge is None or shift is None:
        return mark
    by = np.array([np.interp(mark.at, edge.at, shift[:, k]) for k in (0, 1)])
    return replace(mark, lines=mark.lines + by)


def _shifts(ring: list[FlatEdge], edges: dict[str, EdgeCut], turn: float) -> list[Array]:
    """How far every knot of a ring's edges is moved, (n, 2) mm each. turn: 1 where the ring has its foam on the
    left."""
    sets = [_outward(edge, edges.get(edge.name), turn) for edge in ring]
    moves, normals = [s[0] for s in sets], [s[1] for s in sets]
    out = [m[:, None] * n for m, n in zip(moves, normals, strict=True)]
    closed = np.allclose(ring[0].knots[0], ring[-1].knots[-1], atol=1e-3)
    pairs = itertools.pairwise([*range(len(ring)), 0] if closed else range(len(ring)))
    for a, b in pairs:
        corner = _corner(normals[a][-1], moves[a][-1], normals[b][0], moves[b][0])
        out[a] = out[a] + _fading(ring[a], corner - moves[a][-1] * normals[a][-1], at_end=True)
        out[b] = out[b] + _fading(ring[b], corner - moves[b][0] * normals[b][0], at_end=False)
    return out


def _outward(edge: FlatEdge, cut: EdgeCut | None, turn: float) -> tuple[Array, Array]:
    """How far out each knot goes, (n,) mm, and which way, (n, 2) unit."""
    tangent = np.array([edge.place(float(at))[1] for at in edge.at])
    normal = turn * np.stack([tangent[:, 1], -tangent[:, 0]], axis=1)
    move = np.zeros(len(edge.at)) if cut is None else np.interp(edge.at, cut.at, cut.move)
    return move, normal


def _corner(first: Array, one: float, second: Array, two: float) -> Array:
    """Where a corner goes when the edges that meet there go out by ``one`` and ``two`` along their normals."""
    most = max(abs(one), abs(two))
    if most == 0:
        return np.zeros(2)
    if abs(first[0] * second[1] - first[1] * second[0]) < CORNER:
        middle = first + second
        length = float(np.linalg.norm(middle))
        return np.zeros(2) if length < 1e-6 else np.asarray((one + two) / 2 * middle / length)
    shift = np.linalg.solve(np.stack([first, second]), np.array([one, two]))
    return np.asarray(shift * min(1.0, FARTHEST_CORNER * most / float(np.linalg.norm(shift))))


def _fading(edge: FlatEdge, rest: Array, at_end: bool) -> Array:
    """What an edge's end is moved by more than its own knots are, fading away along it, (n, 2) mm."""
    away = edge.cumulative()
    away = away[-1] - away if at_end else away
    length = min(max(FADES, 3 * float(np.linalg.norm(rest))), float(away.max()) / 2)
    share = np.maximum(1 - away / max(length, 1e-9), 0.0) ** 2
    return np.asarray(share[:, None] * rest)


def _beside(flat: FlatPanel, edges: dict[str, EdgeCut], lines: list[FlatLine]) -> Iterator[Beside]:
    """Words along each edge that is not plainly square, just inside it, and along each worked line; legs of a dart say
    it once."""
    inside = 1.0 if shapely.LinearRing(flat.outline).is_ccw else -1.0
    said: set[str] = set()
    for edge in (*flat.edges, *flat.holes):
        cut = edges.get(edge.name)
        if cut is None or not cut.words or (edge.kind == "dart" and cut.joint in said):
            continue
        said.add(cut.joint)
        yield write_beside(edge.points(), inside * WORDS_IN, cut.words)
    for line in lines:
        if line.words:
            yield write_beside(line.points, WORDS_ASIDE, line.words)
