"""Drawings in SVG. Nothing it points at is fetched, and what it defines is not expanded."""

import io
import re
import xml.etree.ElementTree as ET
from collections import Counter
from collections.abc import Iterator

import numpy as np
import svgelements
from numpy.typing import NDArray

from vellumcut.core.errors import CraftError
from vellumcut.formats.pattern.drawn_lines import FINE, Drawing, DrawnLine, DrawnWords, Lines
from vellumcut.formats.pattern.layer_words import meaning
from vellumcut.formats.pattern.svg_tree import kind, label_of, layers_of, plain_tree

Array = NDArray[np.float64]
UNITS = {"mm": 1.0, "cm": 10.0, "in": 25.4, "pt": 25.4 / 72, "pc": 25.4 / 6, "q": 0.25}
"""mm. A px is none: programs have drawn 72, 90 and 96 of them to the inch."""
LENGTH = re.compile(r"^\s*([\d.]+(?:e[+-]?\d+)?)\s*(mm|cm|in|pt|pc|q)\s*$", re.IGNORECASE)
MOST_POINTS = 400
"""Of one curved piece of a line."""
NOT_ONE = "The file is not an SVG drawing, or is broken"
LAYER = "vc-layer"
"""Attribute in which each line takes the name of its layer through the parser."""


def read_svg(content: bytes) -> Drawing:
    """Raises CraftError for what is no SVG, defines things for the reader to expand, or unfolds to too much."""
    if re.search(rb"<!ENTITY|<!DOCTYPE[^>]*\[", content, re.IGNORECASE):
        raise CraftError("The SVG file defines entities; save it as plain SVG", "file")
    root = plain_tree(content)
    if kind(root) != "svg":
        raise CraftError(NOT_ONE, "file")
    page = _page(root)
    left = Counter(kind(e) for e in root.iter() if kind(e) in ("image", "foreignObject"))
    _name_layers(root)
    try:
        drawing = svgelements.SVG.parse(io.BytesIO(ET.tostring(root)), ppi=25.4, reify=True)
    except Exception:  # whatever its parser trips over, the maker is told the same
        raise CraftError(NOT_ONE, "file") from None
    lines = Lines()
    words: list[DrawnWords] = []
    for k, element in enumerate(_leaves(drawing)):
        layer = str(element.values.get(LAYER) or "")
        if isinstance(element, svgelements.Text):
            words += _words(element)
        elif isinstance(element, svgelements.Shape):
            if _is_hidden(element):
                left["line that cannot be seen"] += 1
                continue
            name = str(element.values.get("name") or "")
            for points in _flattened(abs(svgelements.Path(element))):
                lines.add(DrawnLine(points * (1, -1), layer, name, k, _is_dashed(element)))
    notes = tuple(f"{n} {'picture' if what == 'image' else what}{'s' * (n > 1)}" for what, n in left.items())
    return Drawing(tuple(lines.rows), tuple(words), 1.0 if page else None, notes, page)


def _page(root: ET.Element) -> tuple[float, float] | None:
    """Width and height of the page, mm, where its numbers are lengths on it; its size is put in plain numbers. Without
    a window on them they are px whatever size the page has."""
    found = [LENGTH.match(root.get(k, "")) for k in ("width", "height")]
    window = [float(v) for v in re.findall(r"[-+0-9.eE]+", root.get("viewBox", ""))]
    if len(window) != 4 or min(window[2:]) <= 0 or not any(found):
        return None
    sizes = [float(f[1]) * UNITS[f[2].lower()] if f else 0.0 for f in found]
    wide, high = sizes[0] or sizes[1] * window[2] / window[3], sizes[1] or sizes[0] * window[3] / window[2]
    root.set("width", repr(wide))
    root.set("height", repr(high))
    return wide, high


def _name_layers(root: ET.Element) -> None:
    """Write to each element what layer it is in: the innermost name that says what its lines are, else the outermost
    that is a name at all."""
    for element, above in layers_of(root):
        names = [n for n in above.split("\n") if n]
        own, classes = label_of(element), element.get("class") or ""
        said = next((n for n in (own, classes, *classes.split(), *reversed(names)) if meaning(n)), None)
        element.set(LAYER, said or next((n for n in names if meaning(n) is None), ""))
        element.set("name", (own or element.get("id") or "") if kind(element) != "g" else "")


def _leaves(group: object) -> Iterator["svgelements.SVGElement"]:
    for item in group:  # type: ignore[attr-defined]
        if isinstance(item, svgelements.Group):
            yield from _leaves(item)
        elif hasattr(item, "values"):
            yield item


def _is_hidden(shape: "svgelements.Shape") -> bool:
    values = shape.values
    bare = str(values.get("stroke", "none")) == "none" and str(values.get("fill", "")) == "none"
    return bare or values.get("visibility") in ("hidden", "collapse")


def _is_dashed(shape: "svgelements.Shape") -> bool:
    dashes = [float(x) for x in re.findall(r"[0-9.]+", str(shape.values.get("stroke-dasharray") or ""))]
    return any(dashes)


def _words(element: "svgelements.Text") -> list[DrawnWords]:
    text = " ".join((element.text or "").split())
    point = element.transform.point_in_matrix_space((float(element.x or 0), float(element.y or 0)))
    if not text or point is None:
        return []
    size = re.match(r"[\d.]+", str(element.values.get("font-size", "")))
    return [DrawnWords((float(point[0]), -float(point[1])), text, float(size[0]) if size else 0.0)]


def _curve(segment: "svgelements.Curve") -> Array:
    """Points of one curve but its first. An arc of n pieces stands off them by its length times its turn / 8 n2; half
    as many again, since a curve's own number does not run evenly along it."""
    rough = np.asarray(segment.npoint(np.linspace(0, 1, 33)))
    steps = np.diff(rough, axis=0)
    steps = steps[np.hypot(*steps.T) > 1e-9]
    way = np.unwrap(np.arctan2(steps[:, 1], steps[:, 0]))
    turn, long = float(np.abs(np.diff(way)).sum()), float(np.hypot(*steps.T).sum())
    count = int(np.clip(np.ceil(1.5 * np.sqrt(long * turn / (8 * FINE))), 2, MOST_POINTS))
    # In fours: a half circle has its farthest points among them, by which a drawing's width is told.
    return np.asarray(segment.npoint(np.linspace(0, 1, 4 * -(-count // 4) + 1)))[1:]


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
                points.append(_curve(segment))
        if points and sum(map(len, points)) > 1:
            line = np.vstack(points)
            keep = np.concatenate([[True], np.hypot(*np.diff(line, axis=0).T) > 1e-6])
            if np.isfinite(line).all():
                yield line[keep]
