"""Patterns as DXF in millimetres: splines on named layers, for cutters and drawing programs."""

import io
from collections.abc import Sequence

import numpy as np
from ezdxf import units
from ezdxf.document import Drawing
from ezdxf.enums import TextEntityAlignment
from ezdxf.filemanagement import new
from ezdxf.layouts.layout import Modelspace
from ezdxf.path import Path, render_splines_and_polylines
from numpy.typing import NDArray

from vellumcut.core.flatten.curves import FlatEdge
from vellumcut.core.pattern.drawn import DrawnPanel
from vellumcut.core.pattern.labels import label_place
from vellumcut.core.pattern.pattern import PiecePattern
from vellumcut.formats.pattern.svg import LAYERS, LINES, SHEET_EDGE, side_by_side

Array = NDArray[np.float64]

_CUT, _MARKS, _CENTRE, _LABEL = "cut", "seam marks", "centre line", "label"


def write_dxf(pattern: PiecePattern) -> bytes:
    """All that is cut of a piece side by side, y up, 1 unit = 1 mm; layers as in the SVG."""
    return dxf_of(pattern.to_cut, side_by_side(pattern)[0])


def dxf_of(panels: Sequence[DrawnPanel], moves: Array, edge: Array | None = None) -> bytes:
    """Panels, each moved by so much, (n, 2) mm. edge: of the sheet they lie on, (k, 2) mm."""
    document = new("R2010", setup=["linetypes"])
    document.units = units.MM
    document.header["$MEASUREMENT"] = 1
    for name in LAYERS if edge is None else (*LAYERS, SHEET_EDGE):
        document.layers.add(name, linetype="DASHED" if name in (_CENTRE, *LINES) else "CONTINUOUS")
    space = document.modelspace()
    for panel, move in zip(panels, moves, strict=True):
        _draw_panel(space, panel, move)
    if edge is not None:
        space.add_lwpolyline(edge, dxfattribs={"layer": SHEET_EDGE})
    return _bytes(document)


def _draw_panel(space: Modelspace, panel: DrawnPanel, move: Array) -> None:
    flat = panel.flat
    for ring in flat.cut_rings:
        render_splines_and_polylines(space, [_path(ring, move)], dxfattribs={"layer": _CUT})
    for line in (line for mark in flat.marks for line in mark.lines):
        space.add_line(line[0] + move, line[1] + move, dxfattribs={"layer": _MARKS})
    space.add_lwpolyline(flat.centre + move, dxfattribs={"layer": _CENTRE})
    for inner in flat.lines:
        space.add_lwpolyline(inner.points + move, dxfattribs={"layer": inner.kind})
    for beside in panel.beside:
        text = space.add_text(beside.words, height=2.5, rotation=beside.turn, dxfattribs={"layer": _LABEL})
        text.set_placement(
            (beside.at[0] + float(move[0]), beside.at[1] + float(move[1])), align=TextEntityAlignment.MIDDLE_CENTER
        )
    place = label_place(flat, panel.label)
    at, s = np.array(place.at) + move, place.scale
    for k, words in enumerate((panel.label.code, *panel.label.lines)):
        text = space.add_text(words, height=(7.0 if k == 0 else 3.0) * s, dxfattribs={"layer": _LABEL})
        text.set_placement((float(at[0]), float(at[1]) - 5.0 * k * s))


def _path(ring: list[FlatEdge], move: Array) -> Path:
    """One curve through the Bezier pieces of its edges, closed if they are."""
    pieces = np.concatenate([e.beziers() for e in ring]) + move
    path = Path(tuple(pieces[0, 0]))
    for _, first, second, end in pieces:
        path.curve4_to(tuple(end), tuple(first), tuple(second))
    if np.allclose(pieces[0, 0], pieces[-1, -1]):
        path.close()
    return path


def _bytes(document: Drawing) -> bytes:
    out = io.StringIO()
    document.write(out)
    return out.getvalue().encode("utf-8")
