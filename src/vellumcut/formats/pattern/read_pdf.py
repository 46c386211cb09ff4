"""Patterns in PDF at full size: strokes and words of each page, and pages of one drawing laid beside each other.

Pages that say where they belong ("page B2 of 3 across, 2 down", as ours do) are laid there. Others are laid by their
crosses, or where the maker says; else each page is a drawing of its own.
"""

import io
import re
from collections.abc import Sequence

import numpy as np
import pypdf
import shapely
from numpy.typing import NDArray
from pypdf.errors import PyPdfError

from vellumcut.core.errors import CraftError
from vellumcut.core.pattern.pages import MARGIN, OVERLAP
from vellumcut.formats.pattern.drawn_lines import Drawing, DrawnLine, DrawnWords
from vellumcut.formats.pattern.lay_pages import Place, as_one, drawn, guessed, laid
from vellumcut.formats.pdf_page import Page, layer_of, read_page

Array = NDArray[np.float64]
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


def read_pages(content: bytes) -> list[Page]:
    """Pages of a pattern, in order. Raises CraftError for what is no PDF, has no lines, or is locked."""
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
    return pages


def is_ours(pages: Sequence[Page]) -> bool:
    """Whether pages say themselves where they belong."""
    return any(_placed(p) for p in pages)


def read_pdf(content: bytes, places: Sequence[Place] = ()) -> Drawing:
    """A pattern's pages as one drawing. places: where the maker laid each page, mm; none: see above. Raises
    CraftError."""
    pages = read_pages(content)
    placed = [_placed(p) for p in pages]
    if any(placed):
        return _joined(pages, placed)
    if places and len(places) != len(pages):
        raise CraftError(f"The PDF has {len(pages)} pages, and {len(places)} were laid", "places")
    if lie := places or guessed(pages):
        return laid(pages, lie)
    lines: list[DrawnLine] = []
    words: list[DrawnWords] = []
    x = 0.0
    for page in pages:
        strokes = drawn(page) if len(pages) > 1 else page.strokes
        lines += [DrawnLine(p + (x, 0.0), layer_of(dash), "", len(lines)) for p, _, dash in strokes]
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
                    rest.setdefault(layer_of(dash) or "seam marks", []).extend(_within(points + low, zone))
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
    """Strokes of several pages, those that both show once, joined where they meet at a border between two."""
    seen: list[shapely.LineString] = []
    for part in parts:
        line = shapely.LineString(part)
        if not any(line.equals_exact(x, 2 * HALF) for x in seen):
            seen.append(line)
    return as_one([np.array(shapely.get_coordinates(x)) for x in seen], 3 * HALF)
