"""Pages of a stranger's pattern laid together: by the crosses that they are to be taped by, or where the maker says.

Lines that two pages both show are kept once; where one page's line ends and another's goes on, they become one.
"""

from collections.abc import Sequence

import numpy as np
import shapely
from numpy.typing import NDArray
from scipy.spatial import cKDTree

from vellumcut.formats.pattern.drawn_lines import Drawing, DrawnLine, DrawnWords
from vellumcut.formats.pdf_page import Page, layer_of

Array = NDArray[np.float64]
Place = tuple[float, float]

CROSS = (3.0, 30.0)
"""mm of the arms' length of a cross."""
SAME = 0.35
"""mm within which two pages show one line: printers and hands are no truer."""
FRAME = 0.8
"""Of a page's width and height: a rectangle that is larger is the page's frame, no panel."""
MEET = 1.5
"""mm within which lines that end at pages' borders count as one when crosses are tried."""


def crosses(page: Page) -> Array:
    """(n, 2) mm, middles of the crosses on a page."""
    return np.array([c for c, _ in _crosses(page)]).reshape(-1, 2)


def _crosses(page: Page) -> list[tuple[Array, tuple[int, int]]]:
    bars = [
        (k, p)
        for k, (p, _, _) in enumerate(page.strokes)
        if len(p) == 2 and CROSS[0] < np.hypot(*(p[1] - p[0])) < CROSS[1]
    ]
    if len(bars) < 2:
        return []
    middles = np.array([p.mean(axis=0) for _, p in bars])
    out = []
    for n, m in sorted(cKDTree(middles).query_pairs(0.3)):
        (j, a), (k, b) = bars[n], bars[m]
        way, other = a[1] - a[0], b[1] - b[0]
        if abs(float(way @ other)) < 0.05 * float(np.hypot(*way) * np.hypot(*other)):
            out.append((middles[n], (j, k)))
    return out


def drawn(page: Page) -> list[tuple[Array, float, tuple[float, ...]]]:
    """A page's strokes without its frame and its crosses."""
    bars = {k for _, pair in _crosses(page) for k in pair}
    size = np.array(page.size)
    return [
        s
        for k, s in enumerate(page.strokes)
        if k not in bars and not (len(s[0]) in (4, 5) and (np.ptp(s[0], axis=0) > FRAME * size).all())
    ]


def guessed(pages: Sequence[Page]) -> list[Place] | None:
    """Where each page belongs, mm, if crosses and the lines that run over say so: row by row from the top left. None
    where they do not."""
    marks = [crosses(p) for p in pages]
    if len(pages) < 2 or any(len(m) < 2 for m in marks):
        return None
    tried = [t for t in (_in_rows(marks, columns) for columns in range(1, len(pages) + 1)) if t is not None]
    lines = [[s[0] for s in drawn(p)] for p in pages]
    scored = [(_lines_that_meet(lines, t), t) for t in tried]
    best = max(scored, key=lambda s: s[0], default=(0, None))
    return best[1] if best[0] >= len(pages) - 1 else None


def _in_rows(marks: Sequence[Array], columns: int) -> list[Place] | None:
    """Pages laid row by row so that crosses lie on each other; None where they cannot."""
    out: list[Array] = []
    for k, own in enumerate(marks):
        if k == 0:
            out.append(np.zeros(2))
            continue
        before, axis = (k - 1, 0) if k % columns else (k - columns, 1)
        moved = _onto(marks[before], own, axis)
        if moved is None:
            return None
        out.append(out[before] + moved)
    return [(float(p[0]), float(p[1])) for p in out]


def _onto(there: Array, own: Array, axis: int) -> Array | None:
    """What moves a page so that its near crosses lie on the far ones of the page before: to the right, or down."""
    sign = 1 if axis == 0 else -1
    far = there[sign * (there[:, axis] - there[:, axis].mean()) > 0]
    near = own[sign * (own[:, axis] - own[:, axis].mean()) < 0]
    if len(far) != len(near) or not len(far):
        return None
    order = 1 - axis
    apart = far[np.argsort(far[:, order])] - near[np.argsort(near[:, order])]
    return None if np.ptp(apart, axis=0).max() > 1.0 else np.asarray(apart.mean(axis=0))


def _lines_that_meet(pages: Sequence[Sequence[Array]], places: Sequence[Place]) -> int:
    """How many ends of lines of one page lie on a line of another."""
    lines = [shapely.LineString(p + np.array(at)) for own, at in zip(pages, places, strict=True) for p in own]
    page = np.repeat(np.arange(len(pages)), [len(own) for own in pages])
    loose = [k for k, line in enumerate(lines) if not line.is_ring]
    ends = shapely.points([lines[k].coords[j] for k in loose for j in (0, -1)])
    end, line = shapely.STRtree(lines).query(ends, predicate="dwithin", distance=MEET)
    return len(np.unique(end[page[line] != page[np.repeat(loose, 2)][end]]))


def laid(pages: Sequence[Page], places: Sequence[Place]) -> Drawing:
    """All pages as one drawing. places: mm by which each is moved."""
    parts: dict[str, list[Array]] = {}
    for page, at in zip(pages, places, strict=True):
        own: dict[str, list[Array]] = {}
        for points, _, dash in drawn(page):
            own.setdefault(layer_of(dash), []).append(points + np.array(at))
        for layer, rows in own.items():
            before = parts.setdefault(layer, [])
            known = shapely.MultiLineString(before).buffer(SAME) if before else shapely.Polygon()
            before += [g for p in rows for g in _beyond(p, known)]
    lines = [
        DrawnLine(p, layer, "", k) for layer, rows in parts.items() for k, p in enumerate(as_one(rows, 2.5 * SAME))
    ]
    words = [
        DrawnWords((w.at[0] + at[0], w.at[1] + at[1]), w.words, w.height)
        for page, at in zip(pages, places, strict=True)
        for w in page.words
    ]
    return Drawing(tuple(lines), tuple(words), 1.0)


def _beyond(points: Array, known: shapely.Polygon) -> list[Array]:
    """What of a line is not known yet."""
    rest = shapely.difference(shapely.LineString(points), known)
    merged = shapely.line_merge(rest) if rest.geom_type == "MultiLineString" else rest
    kept = [g for g in shapely.get_parts(merged) if g.geom_type == "LineString" and g.length > 2 * SAME]
    return [np.asarray(shapely.get_coordinates(g)) for g in kept]


def as_one(parts: list[Array], within: float) -> list[Array]:
    """Lines joined where their ends lie so near to each other, mm."""
    if len(parts) < 2:
        return parts
    parts = [p.copy() for p in parts]
    ends = np.vstack([p[[0, -1]] for p in parts])
    for one, other in sorted(cKDTree(ends).query_pairs(within)):
        parts[other // 2][-(other % 2)] = parts[one // 2][-(one % 2)]
    merged = shapely.line_merge(shapely.MultiLineString(parts))
    return [np.asarray(shapely.get_coordinates(g)) for g in shapely.get_parts(merged)]
