"""Panels that were laid on the body, as ink: what rig, figure, folds and movement read of any piece."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field, replace

import numpy as np
from numpy.typing import NDArray

from vellumcut.core.body.segments import Side
from vellumcut.core.body.tube import TubeSurface
from vellumcut.core.cast.halves import WHOLE
from vellumcut.core.design.flat import FlatWork
from vellumcut.core.design.piece import PieceDesign
from vellumcut.core.design.sheet import InkSheet, Stroke
from vellumcut.core.flatten.came_flat import EdgedShape, matched, mate_name
from vellumcut.core.ink.library.table import TEMPLATES
from vellumcut.core.ink.lines import DartInk, InkLine, Kind, PanelInk
from vellumcut.core.ink.stage import InkedPiece, with_open_seams
from vellumcut.core.ink.templates import armour_surface
from vellumcut.core.laying.laid import LaidPanel, lay_panels

Array = NDArray[np.float64]

STROKE_POINTS = 48
"""A stroke of ink keeps so many points at most: an edge is drawn straight between them."""
LEG_POINTS = 24


@dataclass(frozen=True, eq=False)
class LaidFlat(InkedPiece):
    """A piece whose panels came flat, on its wearer. laid: those panels, by number."""

    laid: Mapping[int, LaidPanel] = field(default_factory=dict)


def lay_flat(tube: TubeSurface, design: PieceDesign, work: FlatWork, side: Side, factor: float) -> LaidFlat:
    """A piece of panels that were laid down, on its body. factor: how many times as wide they are made than they came.

    Raises CraftError where they do not lie there.
    """
    surface = armour_surface(tube, design)
    turned = side == "right" and TEMPLATES[design.template].part not in WHOLE
    laid = lay_panels(matched(work, factor), work.mates, work.lies, surface, turned)
    inks = {n: panel_ink(p, work) for n, p in sorted(laid.items())}
    twins = tuple(p.panel.edged.shape.mirrored for _, p in sorted(laid.items()))
    sheet = InkSheet.model_construct(
        strokes=tuple({s.key: s for ink in inks.values() for s in _strokes(ink)}.values()), symmetric=False, left_out=()
    )
    panels = with_open_seams(tuple(inks.values()), design)
    return LaidFlat(tube, design, surface, panels, twins, sheet, laid=laid)


def mate_key(k: int) -> str:
    """What both edges of a piece's k-th seam share."""
    return f"came-{k}"


def dart_key(number: int, k: int) -> str:
    """Of the k-th dart of a panel, counted from 1."""
    return f"came-{number}-dart-{k}"


def line_key(number: int, k: int) -> str:
    """Of the k-th line inside a panel."""
    return f"came-{number}-line-{k}"


def edge_seam(work: FlatWork, number: int, edge: int) -> tuple[int, bool] | None:
    """Which seam an edge is glued in, and whether it runs the way the seam does; None where it is free."""
    for k, mate in enumerate(work.mates):
        for key, forward in ((mate.a, True), (mate.b, False)):
            if (key.panel, key.edge) == (number, edge):
                return k, forward
    return None


def panel_ink(laid: LaidPanel, work: FlatWork) -> PanelInk:
    """One laid panel's lines in (around, along)."""
    edged, number = laid.panel.edged, laid.number
    lines: list[InkLine] = []
    darts: list[DartInk] = []
    for k in _in_turn(edged, laid.panel.turned):
        tip = _tip_of(edged, k)
        if tip is None:
            lines.append(_edge(laid, work, k))
        elif not darts or darts[-1].key != dart_key(number, edged.tips.index(tip) + 1):
            darts.append(_dart(laid, tip, len(lines) - 1))
    lines = _meeting(lines, darts)
    strokes = zip(edged.shape.lines, edged.lines, strict=True)
    inside = [
        InkLine(_inner(s.kind), s.name or s.kind, laid.on_body(p), key=line_key(number, k))
        for k, (s, p) in enumerate(strokes)
        if s.kind != "centre line"
    ]
    holes = tuple(
        InkLine("outline", f"hole {k}", laid.on_body(np.vstack([h, h[:1]]))[:: 1 if laid.panel.turned else -1])
        for k, h in enumerate(edged.holes, 1)
    )
    return PanelInk(number, tuple(lines), _centre(laid), True, holes, tuple(darts), tuple(inside))


def _inner(kind: str) -> Kind:
    """How a line is read that parts nothing here."""
    return "mark" if kind in ("segment", "seam") else kind  # type: ignore[return-value]


def _in_turn(edged: EdgedShape, turned: bool) -> list[int]:
    """Edges counter-clockwise on the body, from one that is no dart's leg."""
    count = len(edged.edges)
    ring = [count - 1 - k if turned else k for k in range(count)]
    first = next((n for n, k in enumerate(ring) if _tip_of(edged, k) is None), 0)
    return ring[first:] + ring[:first]


def _tip_of(edged: EdgedShape, edge: int) -> int | None:
    """The tip that an edge runs to or from as a dart's leg: the number of the edge that begins there."""
    after = (edge + 1) % len(edged.edges)
    return edge if edge in edged.tips else after if after in edged.tips else None


def _edge(laid: LaidPanel, work: FlatWork, k: int) -> InkLine:
    uv = laid.edge(k)
    seam = edge_seam(work, laid.number, k)
    kind: Kind = "outline" if seam is None else "seam"
    name = f"edge {k + 1}" if seam is None else mate_name(seam[0], work.mates[seam[0]])
    arc, forward = ("", True) if seam is None else (mate_key(seam[0]), seam[1])
    if laid.panel.turned:
        uv, forward = uv[::-1], not forward
    return InkLine(kind, name, uv, arc, forward, f"came-{laid.number}-edge-{k}")


def _dart(laid: LaidPanel, tip: int, after: int) -> DartInk:
    """A closed dart: the middle of its legs, which lie on each other."""
    edged = laid.panel.edged
    legs = (laid.edge((tip - 1) % len(edged.edges)), laid.edge(tip)[::-1])
    share = np.linspace(0.0, 1.0, LEG_POINTS)
    both = [
        np.stack([np.interp(share * (len(x) - 1), np.arange(len(x)), x[:, c]) for c in (0, 1)], axis=1) for x in legs
    ]
    k = edged.tips.index(tip) + 1
    return DartInk(dart_key(laid.number, k), f"dart {k}", (both[0] + both[1]) / 2, after)


def _meeting(lines: list[InkLine], darts: list[DartInk]) -> list[InkLine]:
    """Lines that end at a dart's mouth, ending at the very place."""
    uv = [line.uv.copy() for line in lines]
    for dart in darts:
        uv[dart.after][-1] = uv[(dart.after + 1) % len(uv)][0] = dart.uv[0]
    return [replace(line, uv=own) for line, own in zip(lines, uv, strict=True)]


def _centre(laid: LaidPanel) -> InkLine:
    """The line that stands it upright: the maker's, or straight up its middle."""
    shape, lines = laid.panel.edged.shape, laid.panel.edged.lines
    own = next((p for s, p in zip(shape.lines, lines, strict=True) if s.kind == "centre line"), None)
    if own is not None:
        return InkLine("centre line", "up", laid.on_body(own))
    low, high = laid.places.min(axis=0), laid.places.max(axis=0)
    up = np.linspace(low[1], high[1], 40)
    return InkLine("centre line", "up", np.stack([np.full(40, (low[0] + high[0]) / 2), up], axis=1))


def _strokes(ink: PanelInk) -> Iterator[Stroke]:
    """Its outline as strokes: what openings, trims and ends are told by."""
    for line in ink.outline:
        at = np.unique(np.linspace(0, len(line.uv) - 1, min(STROKE_POINTS, len(line.uv))).round().astype(int))
        points = tuple((float(u), float(v)) for u, v in line.uv[at])
        key, kind = (line.arc, "seam") if line.arc else (line.key, "outline")
        yield Stroke.model_construct(
            key=key, kind=kind, name=line.name, points=points, curve="straight", closed=False, lift=0.0, lift_width=40.0
        )
