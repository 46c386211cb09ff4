"""A page of a PDF: its strokes and words, in mm."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
import pypdf
import shapely
from numpy.typing import NDArray

from vellumcut.core.errors import CraftError
from vellumcut.formats.pattern.dashes import DASHES
from vellumcut.formats.pattern.drawn_lines import MOST_LINES, DrawnWords

Array = NDArray[np.float64]
POINT = 25.4 / 72
KINDS = {tuple(float(x) for x in dash.split()): kind for kind, dash in DASHES.items()} | {(6.0, 2.0): "centre line"}


@dataclass(frozen=True, eq=False)
class Page:
    """strokes: points in mm, width in mm, dash in mm. words: with places. size: mm."""

    strokes: tuple[tuple[Array, float, tuple[float, ...]], ...]
    words: tuple[DrawnWords, ...]
    size: tuple[float, float]

    @property
    def text(self) -> str:
        return "\n".join(w.words for w in self.words)


def layer_of(dash: tuple[float, ...]) -> str:
    """The kind of line that a dash stands for in our own files; in any other it is a fold."""
    rounded = tuple(round(x, 1) for x in dash)
    return KINDS.get(rounded, "" if not any(dash) else "fold")


def read_page(page: "pypdf.PageObject") -> Page:
    """Strokes and words of a page, mm from its lower left corner."""
    box = page.cropbox
    words: list[DrawnWords] = []
    unit = float(page.get("/UserUnit", 1.0)) * POINT
    corner = np.array([float(box.left), float(box.bottom)])

    def visit(text: str, cm: list[float], tm: list[float], _: object, size: float) -> None:
        if text.strip():
            at = np.array([tm[4], tm[5], 1.0]) @ np.array([[cm[0], cm[1]], [cm[2], cm[3]], [cm[4], cm[5]]])
            x, y = (at - corner) * unit
            words.append(DrawnWords((float(x), float(y)), text.strip(), float(size or 0) * unit))

    page.extract_text(visitor_text=visit)
    strokes = tuple(((p - corner) * unit, w * unit, tuple(d * unit for d in dash)) for p, w, dash in _strokes(page))
    return Page(strokes, tuple(words), (float(box.width) * unit, float(box.height) * unit))


def _strokes(page: "pypdf.PageObject") -> list[tuple[Array, float, tuple[float, ...]]]:
    contents = page.get_contents()
    if contents is None:
        return []
    box = page.cropbox
    pen = _Pen(shapely.box(float(box.left), float(box.bottom), float(box.right), float(box.top)))
    _draw_all(pen, pypdf.generic.ContentStream(contents, page.pdf), page.get("/Resources"), page.pdf, 0)
    return pen.found


DEEPEST = 8
"""Drawings within drawings: more is a trap."""


def _draw_all(pen: "_Pen", stream: "pypdf.generic.ContentStream", resources: Any, pdf: Any, depth: int) -> None:
    """A page's drawing, and the drawings that it holds by name (ISO 32000, 8.10)."""
    for operands, operator in stream.operations:
        if operator == b"Do":
            held = (resources or {}).get("/XObject", {}).get(operands[0])
            form = held.get_object() if held is not None else None
            if depth < DEEPEST and form is not None and form.get("/Subtype") == "/Form":
                pen.take(b"q", [])
                pen.take(b"cm", form.get("/Matrix", [1, 0, 0, 1, 0, 0]))
                x, y, right, top = (float(v) for v in form["/BBox"])
                for step, own in ((b"re", [x, y, right - x, top - y]), (b"W", []), (b"n", [])):
                    pen.take(step, own)
                inner = pypdf.generic.ContentStream(form, pdf)
                _draw_all(pen, inner, form.get("/Resources", resources), pdf, depth + 1)
                pen.take(b"Q", [])
        else:
            pen.take(operator, operands)
        if len(pen.found) > MOST_LINES:
            raise CraftError(f"The PDF has over {MOST_LINES:,} lines: save the pattern's alone", "file")


class _Pen:
    """Follows a page's drawing: matrix, width, dash, what is shown, and the path that is being made (ISO 32000, 8.5).
    shown: what the page shows at all; a pattern on many pages is often drawn whole on each and cut off by this.
    """

    def __init__(self, shown: shapely.Polygon) -> None:
        self.matrix: Array = np.eye(3)
        self.width = 1.0
        self.dash: tuple[float, ...] = ()
        self.shown: shapely.Geometry = shown
        self.cuts = False
        self.stack: list[tuple[Array, float, tuple[float, ...], shapely.Geometry]] = []
        self.path: list[list[Array]] = []
        self.found: list[tuple[Array, float, tuple[float, ...]]] = []

    def take(self, operator: bytes, operands: Sequence[Any]) -> None:
        name = operator.decode("latin-1")
        if name == "q":
            self.stack.append((self.matrix, self.width, self.dash, self.shown))
        elif name == "Q" and self.stack:
            self.matrix, self.width, self.dash, self.shown = self.stack.pop()
        elif name == "d":
            self.dash = tuple(float(x) * self._scale for x in operands[0])
        elif name in ("cm", "w", "m", "l", "c", "v", "y", "re"):
            self._draw(name, [float(x) for x in operands])
        elif name == "h":
            self._close()
        elif name in ("S", "s", "B", "B*", "b", "b*"):
            if name in ("s", "b", "b*"):
                self._close()
            self._stroke()
            self._end()
        elif name in ("n", "f", "F", "f*"):
            self._end()
        elif name in ("W", "W*"):
            self.cuts = True

    def _stroke(self) -> None:
        for points in (np.array(p) for p in self.path if len(p) > 1):
            line = shapely.LineString(points)
            if self.shown.covers(line):
                rows = [points]
            else:
                seen = shapely.intersection(line, self.shown)
                merged = shapely.line_merge(seen) if seen.geom_type == "MultiLineString" else seen
                rows = [
                    shapely.get_coordinates(g)
                    for g in shapely.get_parts(merged)
                    if g.geom_type == "LineString" and g.length
                ]
            self.found += [(p, self.width * self._scale, self.dash) for p in rows]

    def _end(self) -> None:
        """The path is done with; if it was to cut off what comes, it does from now on."""
        if self.cuts:
            window = shapely.union_all([shapely.Polygon(p).buffer(0) for p in self.path if len(p) > 3])
            self.shown = shapely.intersection(self.shown, window)
        self.cuts, self.path = False, []

    @property
    def _scale(self) -> float:
        return float(np.sqrt(abs(np.linalg.det(self.matrix[:2, :2]))))

    def _at(self, x: float, y: float) -> Array:
        out: Array = (np.array([x, y, 1.0]) @ self.matrix)[:2]
        return out

    def _draw(self, name: str, v: list[float]) -> None:
        if name == "cm":
            a, b, c, d, e, f = v
            self.matrix = np.array([[a, b, 0], [c, d, 0], [e, f, 1]]) @ self.matrix
        elif name == "w":
            self.width = v[0]
        elif name == "m":
            self.path.append([self._at(*v)])
        elif name == "re":
            x, y, w, h = v
            self.path.append([self._at(*p) for p in ((x, y), (x + w, y), (x + w, y + h), (x, y + h), (x, y))])
        elif self.path and name == "l":
            self.path[-1].append(self._at(*v))
        elif self.path:
            self._curve(name, v)

    def _curve(self, name: str, v: list[float]) -> None:
        start = self.path[-1][-1]
        ends = [self._at(*v[k : k + 2]) for k in range(0, len(v), 2)]
        a, b, end = ends if name == "c" else (start, *ends) if name == "v" else (ends[0], ends[1], ends[1])
        t = np.linspace(0, 1, 33)[1:, None]
        curve = (1 - t) ** 3 * start + 3 * t * (1 - t) ** 2 * a + 3 * t**2 * (1 - t) * b + t**3 * end
        self.path[-1] += list(curve)

    def _close(self) -> None:
        if self.path and len(self.path[-1]) > 1:
            self.path[-1].append(self.path[-1][0])
