"""Drawings in SVG. Nothing it points at is fetched, and what it defines is not expanded."""

import io
import re
from collections.abc import Iterator

import numpy as np
import svgelements
from numpy.typing import NDArray

from vellumcut.core.errors import CraftError
from vellumcut.formats.pattern.drawn_lines import FINE, MOST_LINES, Drawing, DrawnLine, DrawnWords

Array = NDArray[np.float64]
TELLS_UNIT = re.compile(r"^\s*[\d.eE+-]+\s*(mm|cm|in|pt|pc|q)\s*$", re.IGNORECASE)
MOST_POINTS = 400
"""Of one curved piece of a line."""


def read_svg(content: bytes) -> Drawing:
    """Raises CraftError for what is no SVG, or defines things for the reader to expand."""
    if re.search(rb"<!ENTITY|<!DOCTYPE[^>]*\[", content, re.IGNORECASE):
        raise CraftError("The SVG file defines entities; save it as plain SVG", "file")
    try:
        drawing = svgelements.SVG.parse(io.BytesIO(content), ppi=25.4, reify=True)
    except Exception:  # whatever its parser trips over, the maker is told the same
        raise CraftError("The file is not an SVG drawing, or is broken", "file") from None
    if not isinstance(drawing, svgelements.SVG):
        raise CraftError("The file is not an SVG drawing, or is broken", "file")
    width = str(drawing.values.get("attributes", {}).get("width", drawing.values.get("width", "")))
    lines, words = [], []
    for k, (element, layer) in enumerate(_elements(drawing, "")):
        if isinstance(element, svgelements.Text):
            if (text := (element.text or "").strip()) and (at := _text_at(element)):
                words.append(
                    DrawnWords(at, text, float(element.values.get("font-size", 0) or 0) if _number(element) else 0.0)
                )
        elif isinstance(element, svgelements.Shape):
            name = str(element.values.get("id") or "")
            lines += [DrawnLine(p * (1, -1), layer, name, k) for p in _flattened(abs(svgelements.Path(element)))]
        if len(lines) > MOST_LINES:
            raise CraftError(f"The drawing has over {MOST_LINES:,} lines: save the pattern's alone", "file")
    return Drawing(tuple(lines), tuple(words), 1.0 if TELLS_UNIT.match(width) else None)


def _number(element: "svgelements.Text") -> bool:
    return bool(re.match(r"^[\d.]+$", str(element.values.get("font-size", ""))))


def _elements(group: object, layer: str) -> Iterator[tuple[object, str]]:
    for item in group:  # type: ignore[attr-defined]
        if isinstance(item, svgelements.Group):
            own = item.values.get("attributes", {})
            name = own.get("class") or own.get("id") or layer
            yield from _elements(item, str(name))
        elif not isinstance(item, svgelements.Image):
            own = item.values.get("attributes", {}) if hasattr(item, "values") else {}
            yield item, str(layer or own.get("class") or "")


def _text_at(text: "svgelements.Text") -> tuple[float, float] | None:
    point = text.transform.point_in_matrix_space((float(text.x or 0), float(text.y or 0)))
    return (float(point[0]), -float(point[1])) if point is not None else None


def _flattened(path: "svgelements.Path") -> Iterator[Array]:
    """Each stroke of a path as points; curves within hundredths of a mm."""
    for stroke in path.as_subpaths():
        points: list[Array] = []
        for segment in svgelements.Path(stroke):
            if isinstance(segment, svgelements.Move):
                points = [np.array([[segment.end.x, segment.end.y]])]
            elif isinstance(segment, (svgelements.Line, svgelements.Close)):
                if segment.end is not None:
                    points.append(np.array([[segment.end.x, segment.end.y]]))
            else:
                ends = np.array([[segment.start.x, segment.start.y], [segment.end.x, segment.end.y]])
                long = max(float(np.hypot(*(ends[1] - ends[0]))), float(segment.length(error=0.1)))
                count = int(np.clip(np.ceil(np.sqrt(long / FINE) / 2.5), 2, MOST_POINTS))
                points.append(np.asarray(segment.npoint(np.linspace(0, 1, count + 1)))[1:])
        if points and sum(map(len, points)) > 1:
            line = np.vstack(points)
            keep = np.concatenate([[True], np.hypot(*np.diff(line, axis=0).T) > 1e-6])
            if np.isfinite(line).all():
                yield line[keep]
