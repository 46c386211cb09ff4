"""An edge moved in or out by so many mm, as ink: what movement asks of a piece."""

import re

import numpy as np
from numpy.typing import NDArray

from vellumcut.core.design.piece import EndDesign, PieceDesign, opening
from vellumcut.core.design.sheet import InkSheet, Stroke, stroke_line
from vellumcut.core.errors import CraftError
from vellumcut.core.ink.templates import insets, is_inked, sheet_without_cuts
from vellumcut.core.rig.laid import LaidPiece

Array = NDArray[np.float64]

MEETS = 4.0
"""A line that ends so near to an edge ends on it, mm, and goes with it."""
MOST = 160.0
"""An edge is moved by this much at most, mm."""


def edge_base(name: str) -> str:
    """What an edge's stroke is called, whichever half or stretch of it is meant."""
    return re.sub(r"( \(mirrored\))?( \d+)?( to the tip| from the tip)?$", "", name)


def trimmed(laid: LaidPiece, edge: str, mm: float) -> PieceDesign:
    """The design with one edge moved in by ``mm``; below nothing it is moved out. Raises CraftError for an edge it has
    not."""
    if not -MOST <= mm <= MOST:
        raise CraftError(f"An edge can be moved by up to {MOST:.0f} mm", "mm")
    if laid.design.flat is not None:
        raise CraftError("Its panels came flat: trim that edge on the pattern before it is cut", "edge")
    if not is_inked(laid.design):
        return _shell_trimmed(laid.design, edge, mm)
    sheet = sheet_without_cuts(laid.inked.tube, laid.design)
    name = edge_base(edge)
    hit = [s for s in sheet.strokes if s.kind == "outline" and s.name in (name, edge)]
    if not hit:
        known = ", ".join(dict.fromkeys(s.name for s in sheet.strokes if s.kind == "outline"))
        raise CraftError(f'The piece has no edge "{edge}"; it has {known}', "edge")
    strokes = list(sheet.strokes)
    for stroke in hit:
        step = _inward(laid, stroke) * mm
        line = laid.plane.flat(stroke_line(stroke))
        strokes = [_moved(laid, s, stroke.key, line, step) for s in strokes]
    return laid.design.model_copy(update={"ink": _kept(sheet, strokes)})


def _kept(sheet: InkSheet, strokes: list[Stroke]) -> InkSheet:
    return sheet.model_copy(update={"strokes": tuple(strokes)})


def _shell_trimmed(design: PieceDesign, edge: str, mm: float) -> PieceDesign:
    low, high = insets(design)
    if edge.startswith("lower"):
        return design.model_copy(update={"lower": _end(design.lower, low + mm)})
    if edge.startswith("upper"):
        return design.model_copy(update={"upper": _end(design.upper, high + mm)})
    if edge.startswith("closing") and design.back == "open":
        return design.model_copy(update={"gap": max(0.0, opening(design) + 2 * mm)})
    raise CraftError(f'The piece has no free edge "{edge}"; it has a lower and an upper edge', "edge")


def _end(end: EndDesign, inset: float) -> EndDesign:
    return EndDesign.model_validate({**end.model_dump(), "inset": round(inset, 2)})


INSIDE = 5.0
"""How far from an edge it is looked on which side the piece lies, mm."""


def _inward(laid: LaidPiece, stroke: Stroke) -> Array:
    """Unit step on the plane, along the limb or round it, from an edge into the piece."""
    line = laid.plane.flat(stroke_line(stroke))[1:-1]
    spread = np.ptp(line, axis=0)
    step = np.array([0.0, 1.0]) if spread[0] >= spread[1] else np.array([1.0, 0.0])
    ahead, behind = (laid.covers(laid.plane.uv(line + sign * INSIDE * step)).sum() for sign in (1, -1))
    return step if ahead >= behind else -step


def _moved(laid: LaidPiece, stroke: Stroke, edge: str, line: Array, step: Array) -> Stroke:
    """The edge itself moved whole; of a line that ends on it, that end."""
    flat = laid.plane.flat(np.array(stroke.points))
    if stroke.key == edge:
        flat = flat + step
    elif stroke.kind in ("outline", "seam", "dart", "fold", "score"):
        for end in (0, -1):
            if np.linalg.norm(line - flat[end], axis=1).min() < MEETS and not stroke.closed:
                flat[end] = flat[end] + step
    places = laid.plane.uv(flat)
    return stroke.model_copy(update={"points": tuple((round(float(u), 5), round(float(v), 5)) for u, v in places)})
