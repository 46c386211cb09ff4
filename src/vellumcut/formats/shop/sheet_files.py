"""A sheet with its parts as it leaves: SVG and DXF by layer with all that is drawn on the parts."""

from collections.abc import Sequence

import numpy as np
import shapely
from numpy.typing import NDArray

from vellumcut.core.nest.shapes import NestSheet, Placed
from vellumcut.core.pattern.drawn import DrawnPanel
from vellumcut.formats.pattern.dxf import dxf_of
from vellumcut.formats.pattern.svg import svg_of

Array = NDArray[np.float64]


def write_sheet_svg(name: str, sheet: NestSheet, parts: Sequence[DrawnPanel]) -> str:
    """In true size, the sheet's own edge on a layer of its own; mm from its corner, y down as SVG wants it."""
    return svg_of(name, parts, *_frame(sheet, len(parts)), edge=_edge(sheet))


def write_sheet_dxf(sheet: NestSheet, parts: Sequence[DrawnPanel]) -> bytes:
    """As the SVG, y up."""
    moves, _ = _frame(sheet, len(parts))
    return dxf_of(parts, moves, edge=_edge(sheet))


def _frame(sheet: NestSheet, many: int) -> tuple[Array, tuple[float, float]]:
    left, low, right, high = sheet.shape.bounds
    return np.tile([-left, -low], (many, 1)), (right - left, high - low)


def _edge(sheet: NestSheet) -> Array:
    left, low, _, _ = sheet.shape.bounds
    return np.asarray(shapely.get_coordinates(sheet.shape.exterior) - [left, low])


def sheet_data(key: str, sheets: Sequence[tuple[NestSheet, Sequence[Placed]]]) -> dict[str, object]:
    """Where each part lies, as JSON: turned about its own origin by degrees, then moved, mm; outlines as they lie."""
    return {
        "material": key,
        "sheets": [
            {
                "key": sheet.key,
                "size": list(sheet.size),
                "owned": sheet.owned,
                "offcut": sheet.offcut,
                "parts": [
                    {
                        "key": p.part.key,
                        "turn": p.turn,
                        "x": round(p.x, 3),
                        "y": round(p.y, 3),
                        "outline": [[round(float(x), 3), round(float(y), 3)] for x, y in p.shape.exterior.coords],
                    }
                    for p in placed
                ],
            }
            for sheet, placed in sheets
        ],
    }
