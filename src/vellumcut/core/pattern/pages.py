"""Cutting a full-size drawing into printable pages that are taped together again."""

from dataclasses import dataclass
from typing import Literal

import numpy as np
import shapely
from numpy.typing import NDArray

from vellumcut.core.errors import CraftError

Array = NDArray[np.float64]
PaperName = Literal["A4", "A3", "Letter", "Tabloid"]

PAPERS: dict[PaperName, tuple[float, float]] = {
    "A4": (210.0, 297.0),
    "A3": (297.0, 420.0),
    "Letter": (215.9, 279.4),
    "Tabloid": (279.4, 431.8),
}
MARGIN = 12.0
"""Paper no printer can be trusted to print on, each side, mm."""
OVERLAP = 12.0
"""Shared strip between neighbouring pages, to glue or tape on, mm."""
TEST_SQUARE = {"mm": 100.0, "in": 101.6}
SCALE_TOLERANCE = 0.005
"""A test square off by more than this share spoils the pattern: 2 mm on a forearm's girth."""
SCALE_RANGE = (0.5, 2.0)


@dataclass(frozen=True)
class Tile:
    """One page of a drawing. name: such as "B2" (column letter, row number from the top). x, y: lower left, mm."""

    name: str
    column: int
    row: int
    x: float
    y: float


@dataclass(frozen=True)
class PagePlan:
    """Pages of one drawing. paper: width and height as turned, mm. tile: drawing shown on each page, mm.

    step: distance between neighbouring tiles, mm. origin: lower left of the whole grid, mm.
    scale: printed mm per drawing mm that undoes the printer's error.
    """

    paper: tuple[float, float]
    tile: tuple[float, float]
    step: tuple[float, float]
    columns: int
    rows: int
    origin: tuple[float, float]
    tiles: tuple[Tile, ...]
    scale: float


def plan_pages(outline: Array, paper: PaperName, scale: float = 1.0) -> PagePlan:
    """Lay pages over a drawing (k, 2 points of its closed outline, mm), the turn that needs fewest of them.

    Pages that no part of the panel touches are left out. Raises CraftError for a scale no printer has.
    """
    if not SCALE_RANGE[0] <= scale <= SCALE_RANGE[1]:
        raise CraftError(f"A print correction of {scale:.3f} is outside {SCALE_RANGE[0]} to {SCALE_RANGE[1]}", "scale")
    short, long = PAPERS[paper]
    plans = [_plan_turned(outline, size, scale) for size in ((short, long), (long, short))]
    return min(plans, key=lambda plan: len(plan.tiles))


def _plan_turned(outline: Array, paper: tuple[float, float], scale: float) -> PagePlan:
    tile = ((paper[0] - 2 * MARGIN) / scale, (paper[1] - 2 * MARGIN) / scale)
    step = (tile[0] - OVERLAP, tile[1] - OVERLAP)
    low, high = outline.min(axis=0) - 2.0, outline.max(axis=0) + 2.0
    columns, rows = (max(1, int(np.ceil((high[k] - low[k] - OVERLAP) / step[k]))) for k in (0, 1))
    covered = (columns * step[0] + OVERLAP, rows * step[1] + OVERLAP)
    start = (low + high) / 2 - np.array(covered) / 2
    shape = shapely.Polygon(outline)
    tiles = []
    for row in range(rows):
        for column in range(columns):
            x, y = start[0] + column * step[0], start[1] + (rows - 1 - row) * step[1]
            if shape.intersects(shapely.box(x, y, x + tile[0], y + tile[1])):
                tiles.append(Tile(f"{chr(65 + column)}{row + 1}", column, row, float(x), float(y)))
    return PagePlan(paper, tile, step, columns, rows, (float(start[0]), float(start[1])), tuple(tiles), scale)


@dataclass(frozen=True)
class ScaleCheck:
    """What the printed test square says. correction: factor that makes the next print true."""

    measured: float
    wanted: float
    off_percent: float
    good: bool
    correction: float
    sentence: str


def check_scale(measured: float, unit: str = "mm") -> ScaleCheck:
    """Judge the printed test square. measured: mm. Raises CraftError when it is no such square."""
    wanted = TEST_SQUARE[unit]
    share = measured / wanted
    if not SCALE_RANGE[0] <= share <= SCALE_RANGE[1]:
        raise CraftError(
            f"The square is drawn {wanted:g} mm wide; {measured:g} mm is too far off to be it. Measure it again",
            "measured",
        )
    off = (share - 1) * 100
    good = abs(share - 1) <= SCALE_TOLERANCE
    size = "true" if good else f"{abs(off):.1f} % too {'large' if off > 0 else 'small'}"
    advice = "Cut from it." if good else "Print without scaling, or let the next print be corrected."
    return ScaleCheck(measured, wanted, off, good, 1.0 if good else 1 / share, f"This print is {size}. {advice}")
