"""Patterns in PDF at full size: strokes and words of each page, and pages of one drawing laid beside each other.

Pages that say where they belong ("page B2 of 3 across, 2 down", as ours do) are laid there. Of others each page is a
drawing of its own, or is laid where the maker says.
"""

import io
import re
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
import pypdf
import shapely
from numpy.typing import NDArray
from pypdf.errors import PyPdfError
from scipy.spatial import cKDTree

from vellumcut.core.errors import CraftError
from vellumcut.core.layout.pages import MARGIN, OVERLAP
from vellumcut.formats.drawn_lines import MOST_LINES, Drawing, DrawnLine, DrawnWords
from vellumcut.formats.svg import DASHES

Array = NDArray[np.float64]
POINT = 25.4 / 72
MOST_PAGES = 200
APART = 60.0
"""mm between drawings of different panels."""
PLACE = re.compile(r"(.+?)\s+page ([A-Z]+)(\d+)\s+of (\d+) across, (\d+) down")
CUT_WIDTH = 0.3
"""mm: in our own pages what is cut is drawn wider than that, all else thinner."""
NO_MARKS = (0.22, 0.28)
THINNEST = 0.17
"""Widths, mm, that our own pages draw what is no line of the panel with: the label's arrow, and crosses to tape by."""
HALF = 0.02
"""mm by which the same line differs on two pages."""
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


def read_pdf(content: bytes) -> Drawing:
    """All pages of a pattern. Raises CraftError for what is no PDF, has no lines, or is locked."""
    try:
        reader = pypdf.PdfReader(io.BytesIO(content))
        if reader.is_encrypted:
            raise CraftError("The PDF is locked; save it without a password", "file")
        if len(reader.pages) > MOST_PAGES:
            raise CraftError(f"The PDF has over {MOST_PAGES} pages", "file")
        pages = [read_page(p) for p in reader.pages]
    except CraftError:
        raise
    except (PyPdfError, OSError, ValueError, KeyError, IndexError, TypeError, AttributeError, RecursionError):
        raise CraftError("The file is not a PDF, or is broken", "file") from None
    if not any(p.strokes for p in pages):
        raise CraftError("The PDF holds pictures but no lines: trace its print with a photograph instead", "file")
    placed = [_placed(p) for p in pages]
    if any(placed):
        return _joined(pages, placed)
    lines: list[DrawnLine] = []
    words: list[DrawnWords] = []
    x = 0.0
    for page in pages:
        lines += [DrawnLine(p + (x, 0.0), _layer(dash), "", len(lines)) for p, _, dash in page.strokes]
        words += [DrawnWords((w.at[0] + x, w.at[1]), w.words, w.height) for w in page.words]
        x += page.size[0] + APART
    return Drawing(tuple(lines), tuple(words), 1.0)


def _placed(page: Page) -> tuple[str, int, int, int, int] | None:
    """Panel, column, row, columns and rows of a page that says so."""
    for w in page.words:
        found = PLACE.search(w.words)
        if found:
            column = 0
            for letter in found[2]:
                column = column * 26 + ord(letter) - 64
            return found[1].strip(), column - 1, int(found[3]) - 1, int(found[4]), int(found[5])
    return None


def _joined(pages: Sequence[Page], placed: Sequence[tuple[str, int, int, int, int] | None]) -> Drawing:
    """Our own pages: each panel's laid together as they are taped, panels side by side."""
    lines: list[DrawnLine] = []
    words: list[DrawnWords] = []
    x = 0.0
    for panel in dict.fromkeys(p[0] for p in placed if p):
        cut: list[Array] = []
        rest: dict[str, list[Array]] = {}
        right = 0.0
        for page, place in zip(pages, placed, strict=True):
            if place is None or place[0] != panel:
                continue
            tile = np.array(page.size) - 2 * MARGIN
            step = tile - OVERLAP
            low = np.array([x + place[1] * step[0], (place[4] - 1 - place[2]) * step[1]]) - MARGIN
            zone = _zone(place, step, x)
            right = max(right, float(low[0] + page.size[0]))
            for points, width, dash in page.strokes:
                if NO_MARKS[0] < width < NO_MARKS[1] or width < THINNEST:
                    continue
                if width > CUT_WIDTH:
                    cut += _within(points + low, zone)
                elif _inside(points, tile):
                    rest.setdefault(_layer(dash) or "seam marks", []).extend(_within(points + low, zone))
            words += [
                DrawnWords((w.at[0] + low[0], w.at[1] + low[1]), w.words, w.height)
                for w in page.words
                if not PLACE.search(w.words)
            ]
        lines += [DrawnLine(p, "cut", panel, len(lines)) for p in _as_one(cut)]
        for layer, parts in rest.items():
            lines += [DrawnLine(p, layer, "", -1) for p in _as_one(parts)]
        x = right + APART
    return Drawing(tuple(lines), tuple(words), 1.0)


def _inside(points: Array, tile: Array) -> bool:
    """Whether a stroke lies in the page's window: crosses and words for taping do not."""
    return bool((points > MARGIN - 0.05).all() and (points < MARGIN + tile + 0.05).all())


def _zone(place: tuple[str, int, int, int, int], step: Array, x: float) -> shapely.Polygon:
    """The part of a drawing that is taken from one page: to the middle of what it shares with its neighbours."""
    _, column, row, columns, rows = place
    up = rows - 1 - row
    far = 1e5
    left = -far if column == 0 else column * step[0] + OVERLAP / 2
    right = far if column == columns - 1 else (column + 1) * step[0] + OVERLAP / 2
    low = -far if up == 0 else up * step[1] + OVERLAP / 2
    high = far if up == rows - 1 else (up + 1) * step[1] + OVERLAP / 2
    return shapely.box(x + left, low, x + right, high)


def _within(points: Array, zone: shapely.Polygon) -> list[Array]:
    line = shapely.LineString(points)
    kept = shapely.intersection(line, zone)
    beside = shapely.intersection(line, zone.buffer(HALF))
    if beside.length > kept.length + 1.0:  # it runs along the border: it is on both pages, and dropped on one later
        kept = beside
    kept = shapely.line_merge(kept)
    parts = shapely.get_parts(kept)
    return [np.asarray(shapely.get_coordinates(g)) for g in parts if g.geom_type == "LineString" and g.length > HALF]


def _as_one(parts: list[Array]) -> list[Array]:
    """Strokes of several pages, joined where they meet at a border between two."""
    if len(parts) < 2:
        return parts
    seen: list[shapely.LineString] = []
    for part in parts:
        line = shapely.LineString(part)
        if not any(line.equals_exact(x, 2 * HALF) for x in seen):
            seen.append(line)
    parts = [np.array(shapely.get_coordinates(x)) for x in seen]
    ends = np.vstack([p[[0, -1]] for p in parts])
    for one, other in sorted(cKDTree(ends).query_pairs(3 * HALF)):
        parts[other // 2][-(other % 2)] = parts[one // 2][-(one % 2)]
    merged = shapely.line_merge(shapely.MultiLineString(parts))
    return [np.asarray(shapely.get_coordinates(g)) for g in shapely.get_parts(merged)]


def _layer(dash: tuple[float, ...]) -> str:
    rounded = tuple(round(x, 1) for x in dash)
    return KINDS.get(rounded, "" if not dash else "mark")


def read_page(page: "pypdf.PageObject") -> Page:
    """Strokes and words of a page, mm from its lower left corner."""
    box = page.mediabox
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
    pen = _Pen()
    for operands, operator in pypdf.generic.ContentStream(contents, page.pdf).operations:
        pen.take(operator, operands)
        if len(pen.found) > MOST_LINES:
            raise CraftError(f"The PDF has over {MOST_LINES:,} lines: save the pattern's alone", "file")
    return pen.found


class _Pen:
    """Follows a page's drawing: matrix, width, dash, and the path that is being made (ISO 32000, 8.5)."""

    def __init__(self) -> None:
        self.matrix: Array = np.eye(3)
        self.width = 1.0
        self.dash: tuple[float, ...] = ()
        self.stack: list[tuple[Array, float, tuple[float, ...]]] = []
        self.path: list[list[Array]] = []
        self.found: list[tuple[Array, float, tuple[float, ...]]] = []

    def take(self, operator: bytes, operands: Sequence[Any]) -> None:
        name = operator.decode("latin-1")
        if name == "q":
            self.stack.append((self.matrix, self.width, self.dash))
        elif name == "Q" and self.stack:
            self.matrix, self.width, self.dash = self.stack.pop()
        elif name == "d":
            self.dash = tuple(float(x) * self._scale for x in operands[0])
        elif name in ("cm", "w", "m", "l", "c", "v", "y", "re"):
            self._draw(name, [float(x) for x in operands])
        elif name == "h":
            self._close()
        elif name in ("S", "s", "B", "B*", "b", "b*"):
            if name in ("s", "b", "b*"):
                self._close()
            self.found += [(np.array(p), self.width * self._scale, self.dash) for p in self.path if len(p) > 1]
            self.path = []
        elif name in ("n", "f", "F", "f*"):
            self.path = []

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
