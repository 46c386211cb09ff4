"""What was found in a photograph, as JSON: millimetres on the ground, x right, y down as in the picture from above."""

from dataclasses import asdict
from typing import Any

import cv2
import numpy as np
import shapely
from numpy.typing import NDArray

from vellumcut.core.trace.piece import TracedPiece
from vellumcut.core.trace.sure import view_error
from vellumcut.core.trace.trace import Trace
from vellumcut.core.trace.view.judge import Finding
from vellumcut.core.trace.view.rectify import FromAbove

Array = NDArray[np.float64]
SCHEMA = 1


def trace_data(trace: Trace, size: tuple[int, ...], per: float) -> dict[str, Any]:
    """size: pixels of the photograph. per: mm a pixel of the view from above as it is kept."""
    view = trace.view
    cards = [
        {"number": n + 1, "at": _pair(p[:2]), "turn": round(float(p[2]), 5), "off_mm": round(view.residual(k), 3)}
        for k, (n, p) in enumerate(zip(view.numbers, view.poses, strict=True))
    ]
    return {
        "schema": SCHEMA,
        "photograph": {"width": int(size[0]), "height": int(size[1]), "blur_px": round(view.blur, 2)},
        "above": {"corner": _pair(trace.above.corner), "mm_per_pixel": round(per, 5), "shown": _shown(trace.above)},
        "of_view_mm": round(view_error(view, view.poses[:, :2]), 3),
        "card_mm": round(trace.side, 3),
        "cards": cards,
        "cards_left_out": [n + 1 for n in trace.dropped],
        "residual_mm": round(view.residual(), 4),
        "findings": [_finding(f) for f in trace.findings],
        "pieces": [piece_data(p, k) for k, p in enumerate(trace.pieces, 1)],
    }


def _shown(above: FromAbove) -> list[list[list[float]]]:
    """Closed lines round what the photograph shows, mm."""
    found, _ = cv2.findContours(above.seen.astype(np.uint8), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_SIMPLE)
    return [_line(above.mm(ring[:, 0]), above.per, closed=True) for ring in found if len(ring) > 3]


def piece_data(piece: TracedPiece, number: int) -> dict[str, Any]:
    return {
        "number": number,
        "area_mm2": round(piece.area, 1),
        "outline": _line(piece.outline, 0.02, closed=True),
        "holes": [_line(h, 0.02, closed=True) for h in piece.holes],
        "slits": [
            {
                "tip": _pair(s.tip),
                "deep_mm": round(s.deep, 1),
                "angle_deg": round(s.angle, 2),
                "off_mm": round(s.off, 1),
            }
            for s in piece.slits
        ],
        "ink": [
            {
                "colour": s.colour,
                "width_mm": round(s.width, 2),
                "length_mm": round(s.length, 1),
                "points": _line(s.points, 0.05),
            }
            for s in piece.ink
        ],
        "error_mm": {
            "rms": round(piece.sure.rms, 3),
            "worst": round(piece.sure.worst, 2),
            "of_view": round(piece.sure.view, 3),
            "of_edge": round(piece.sure.edge, 3),
        },
        "unsure": [_stretch(piece.outline, a, b) for a, b in piece.sure.unsure],
        "findings": [_finding(f) for f in piece.findings],
    }


def _finding(finding: Finding) -> dict[str, Any]:
    return asdict(finding)


def _pair(point: Array) -> list[float]:
    return [round(float(point[0]), 3), round(float(point[1]), 3)]


def _line(points: Array, within: float, closed: bool = False) -> list[list[float]]:
    """A line with points left out that lie within so many mm of it."""
    line = shapely.LinearRing(points) if closed else shapely.LineString(points)
    kept = shapely.get_coordinates(line.simplify(within))
    return [_pair(p) for p in (kept[:-1] if closed else kept)]


def _stretch(outline: Array, first: int, last: int) -> list[list[float]]:
    count = (last - first) % len(outline) + 1
    return _line(np.take(outline, range(first, first + max(2, count)), axis=0, mode="wrap"), 0.1)
