"""Lines and words out of a drawing, whatever file it came in, and the closed lines among them."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
import shapely
from numpy.typing import NDArray

from vellumcut.core.errors import CraftError

Array = NDArray[np.float64]

JOINT = 0.05
"""mm within which ends of lines are one point."""
FINE = 0.01
"""mm by which a curve may stand off the line that it is read as."""
MOST_LINES, MOST_POINTS = 20_000, 1_000_000


@dataclass(frozen=True, eq=False)
class DrawnLine:
    """points: (n, 2) mm, y up. layer: what it is called there. name: of the line. group: lines drawn as one. dashed: as
    folds are."""

    points: Array
    layer: str = ""
    name: str = ""
    group: int = 0
    dashed: bool = False

    @property
    def closed(self) -> bool:
        return len(self.points) > 3 and float(np.hypot(*(self.points[0] - self.points[-1]))) < JOINT


@dataclass(frozen=True)
class DrawnWords:
    at: tuple[float, float]
    words: str
    height: float = 0.0


@dataclass(frozen=True, eq=False)
class Drawing:
    """unit: what the file says its numbers are, in mm each; None where it says nothing. notes: what its reader left
    out. page: its size, mm, where it has one."""

    lines: tuple[DrawnLine, ...]
    words: tuple[DrawnWords, ...]
    unit: float | None
    notes: tuple[str, ...] = ()
    page: tuple[float, float] | None = None


@dataclass(frozen=True, eq=False)
class Ring:
    """A closed line. points: (n, 2) mm, the first not repeated. lines: those that it is drawn in."""

    points: Array
    lines: tuple[DrawnLine, ...]

    @property
    def layer(self) -> str:
        return self.lines[0].layer


class Lines:
    """Lines as a file is read: no more of them than a pattern has, so that nothing is made of a bomb."""

    def __init__(self) -> None:
        self.rows: list[DrawnLine] = []
        self._points = 0

    def add(self, line: DrawnLine) -> None:
        """Raises CraftError for one too many."""
        self.rows.append(line)
        self._points += len(line.points)
        if len(self.rows) > MOST_LINES:
            raise CraftError(f"The drawing has over {MOST_LINES:,} lines: save the pattern's alone", "file")
        if self._points > MOST_POINTS:
            raise CraftError(f"The drawing has over {MOST_POINTS:,} points: save the pattern's alone", "file")


def so_wide(drawing: Drawing, wide: float) -> Drawing:
    """A drawing at the size at which all its lines together are so many mm across, whatever it says of itself."""
    x = np.concatenate([line.points[:, 0] for line in drawing.lines]) if drawing.lines else np.zeros(1)
    return replace(scaled(drawing, wide / max(float(np.ptp(x)), 1e-9)), unit=1.0)


def in_mm(drawing: Drawing, unit: float) -> Drawing:
    """unit: mm of one of its numbers, where it does not say."""
    return drawing if drawing.unit is not None else scaled(drawing, unit)


def scaled(drawing: Drawing, scale: float) -> Drawing:
    """All of a drawing larger by so many times."""
    lines = tuple(replace(line, points=line.points * scale) for line in drawing.lines)
    words = tuple(DrawnWords((w.at[0] * scale, w.at[1] * scale), w.words, w.height * scale) for w in drawing.words)
    page = None if drawing.page is None else (drawing.page[0] * scale, drawing.page[1] * scale)
    return replace(drawing, lines=lines, words=words, page=page)


def closed_lines(drawing: Drawing, unit: float = 1.0) -> list[Array]:
    """Every closed line of a drawing, (n, 2) mm, those drawn in several strokes among them. unit: mm of one of its
    numbers, where it does not say."""
    return [ring.points for ring in rings_of(in_mm(drawing, unit).lines)]


def rings_of(lines: Sequence[DrawnLine]) -> list[Ring]:
    """Closed lines; open ones that meet at their ends are one, those of a layer with each other."""
    out = [Ring(x.points[:-1], (x,)) for x in lines if x.closed]
    loose: dict[str, list[DrawnLine]] = {}
    for x in lines:
        if not x.closed and len(x.points) > 1:
            loose.setdefault(x.layer, []).append(x)
    for rows in loose.values():
        out += _joined(rows)
    return [ring for ring in out if len(ring.points) > 2]


def _joined(lines: Sequence[DrawnLine]) -> list[Ring]:
    """Rings of lines whose ends lie within JOINT of each other."""
    at = _met(np.concatenate([np.stack([x.points[0], x.points[-1]]) for x in lines])).reshape(-1, 2, 2)
    strokes = [np.vstack([a, x.points[1:-1], b]) for x, (a, b) in zip(lines, at, strict=True)]
    kept = [k for k, s in enumerate(strokes) if shapely.LineString(s).length > JOINT]
    if not kept:
        return []
    merged = shapely.get_parts(shapely.line_merge(shapely.MultiLineString([strokes[k] for k in kept])))
    rings = [part for part in merged if part.is_ring]
    within = shapely.STRtree([shapely.Point(_halfway(strokes[k])) for k in kept])
    return [
        Ring(
            shapely.get_coordinates(ring)[:-1],
            tuple(lines[kept[int(k)]] for k in sorted(within.query(ring, "dwithin", 1e-6))) or (lines[kept[0]],),
        )
        for ring in rings
    ]


def _met(ends: Array) -> Array:
    """Ends of lines (n, 2), those within JOINT of each other on one point."""
    spots = shapely.points(ends)
    joint = np.arange(len(ends))
    # Each takes the least number among those beside it, till none changes: no joint has more than a few ends.
    a, b = shapely.STRtree(spots).query(spots, "dwithin", JOINT)
    while True:
        least = joint.copy()
        np.minimum.at(least, a, joint[b])
        if (least == joint).all():
            break
        joint = least
    count = np.bincount(joint, minlength=len(ends))
    sums = np.stack([np.bincount(joint, ends[:, c], len(ends)) for c in (0, 1)], axis=1)
    return np.asarray(sums[joint] / count[joint][:, None])


def _halfway(stroke: Array) -> Array:
    k = (len(stroke) - 1) // 2
    return np.asarray((stroke[k] + stroke[k + 1]) / 2)
