"""Lines that lie inside a panel and bound nothing: folds, scores, edges of trims, marks. They go with it to the
pattern."""

import numpy as np
import shapely
from shapely.geometry import LineString, Polygon

from vellumcut.core.design.sheet import INSIDE, InkSheet, drawn_strokes, stroke_line
from vellumcut.core.ink.lines import MIRRORED, InkLine
from vellumcut.core.ink.plane import DrawingPlane

SHORTEST = 3.0
"""What of a line reaches into a panel by less is where a hand ran over its edge, mm."""


def inside_lines(plane: DrawingPlane, sheet: InkSheet, polygon: Polygon) -> tuple[InkLine, ...]:
    """What of the sheet's inner strokes lies on a panel. polygon: the panel on the drawing plane, mm."""
    out = []
    for stroke, mirrored in drawn_strokes(sheet):
        if stroke.kind not in INSIDE:
            continue
        flat = plane.flat(stroke_line(stroke))
        name = (stroke.name or stroke.kind) + (MIRRORED if mirrored else "")
        for turns in (-1, 0, 1):
            seen = LineString(flat + [turns * plane.turn, 0.0]).intersection(polygon)
            for part in shapely.get_parts(shapely.line_merge(seen)):
                if part.geom_type == "LineString" and part.length > SHORTEST:
                    dense = shapely.get_coordinates(shapely.segmentize(part, SHORTEST))
                    out.append(InkLine(stroke.kind, name, plane.uv(np.asarray(dense)), key=stroke.key))
    return tuple(out)
