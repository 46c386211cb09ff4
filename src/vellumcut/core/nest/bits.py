"""Where a part finds room, on a grid of which every cell is one bit.

A whole sheet is one long number: columns one after the other, each with a cell on top that is never free, so that no
run of cells goes on into the next column. A part is a list of runs, one or more a column; it has room where all of
its runs find free cells, and that is asked of all places at once by shifting the number (trial: a tenth of the time of
Fourier transforms, and nothing to install).
"""

from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray

CELL = 4.0
"""mm: half of it is lost at most beside a part, before it is pushed close."""


@dataclass(frozen=True)
class Runs:
    """Cells inside an outline. corner: where its grid begins, mm. runs: column, lowest cell, number of cells; the
    longest first, since they tell soonest that there is no room. size: columns and cells up."""

    corner: tuple[float, float]
    runs: tuple[tuple[int, int, int], ...]
    size: tuple[int, int]


def runs_of(shape: shapely.Polygon) -> Runs:
    """Cells whose middle is inside an outline, on a grid that begins at its lower left corner."""
    left, low, right, high = shape.bounds
    wide, tall = max(1, int(np.ceil((right - left) / CELL))), max(1, int(np.ceil((high - low) / CELL)))
    middles = left + (np.arange(wide) + 0.5) * CELL
    out = []
    for column, ys in enumerate(_crossings(shape, middles)):
        ends = np.ceil((ys - low) / CELL - 0.5).astype(int)
        out += [(column, int(a), int(b - a)) for a, b in zip(ends[::2], ends[1::2], strict=False) if b > a]
    middle = (0, min(tall - 1, int(tall / 2)), 1)
    found = sorted(out, key=lambda r: -r[2]) or [middle]
    return Runs((left, low), tuple(found), (wide, tall))


def _crossings(shape: shapely.Polygon, xs: NDArray[np.floating[Any]]) -> list[NDArray[np.float64]]:
    """Heights at which upright lines cross an outline and its holes, upward."""
    rings = [shapely.get_coordinates(r) for r in (shape.exterior, *shape.interiors)]
    a, b = np.vstack([r[:-1] for r in rings]), np.vstack([r[1:] for r in rings])
    over = (a[:, 0] <= xs[:, None]) != (b[:, 0] <= xs[:, None])
    with np.errstate(divide="ignore", invalid="ignore"):
        ys = a[:, 1] + (xs[:, None] - a[:, 0]) * (b[:, 1] - a[:, 1]) / (b[:, 0] - a[:, 0])
    return [np.sort(y[o]) for y, o in zip(ys, over, strict=True)]


@lru_cache(maxsize=256)
def _empty(room: shapely.Polygon) -> tuple[tuple[float, float], tuple[int, int], int]:
    """Corner, size and free cells of a sheet on which nothing lies: the same sheet is begun in every pass."""
    own = runs_of(room)
    free = 0
    for column, start, long in own.runs:
        free |= ((1 << long) - 1) << (column * (own.size[1] + 1) + start)
    return own.corner, own.size, free


class Grid:
    """Free cells of one sheet."""

    def __init__(self, room: shapely.Polygon) -> None:
        self.corner, self.size, self.free = _empty(room)
        self.tall = self.size[1] + 1

    def room_for(self, part: Runs, before: int) -> int:
        """Places of a part's lowest left cell as bits, its last column before a column."""
        wide, tall = part.size
        last = min(before, self.size[0]) - wide
        if last < 0 or tall > self.size[1]:
            return 0
        free = self.free & ((1 << ((last + wide) * self.tall)) - 1)
        powers, here = [free], (1 << ((last + 1) * self.tall)) - 1
        for column, start, long in part.runs:
            order = long.bit_length() - 1
            while len(powers) <= order:
                powers.append(powers[-1] & (powers[-1] >> (1 << (len(powers) - 1))))
            at = column * self.tall + start
            whole = powers[order] >> at
            here &= whole
            if long != 1 << order:
                here &= powers[order] >> (at + long - (1 << order))
            if not here:
                return 0
        return here

    def places(self, bits: int) -> Iterator[tuple[int, int]]:
        """Places as column and cell, leftmost first: a few of each column, of a few columns."""
        tried, column, in_column = 0, -1, 0
        while bits and tried < TRIED:
            low = (bits & -bits).bit_length() - 1
            here, cell = divmod(low, self.tall)
            in_column = in_column + 1 if here == column else 0
            column = here
            yield column, cell
            tried += 1
            bits &= bits - 1
            if in_column + 1 >= IN_COLUMN:
                bits = self.after(bits, column + 1)

    def after(self, bits: int, column: int) -> int:
        """Places from a column on."""
        return (bits >> (column * self.tall)) << (column * self.tall)

    def take(self, shape: shapely.Polygon) -> None:
        """Its cells are free no more."""
        left, _, right, _ = shape.bounds
        first = max(0, int(np.floor((left - self.corner[0]) / CELL)))
        last = min(self.size[0], int(np.ceil((right - self.corner[0]) / CELL)) + 1)
        middles = self.corner[0] + (np.arange(first, last) + 0.5) * CELL
        for column, ys in enumerate(_crossings(shape, middles), start=first):
            ends = np.clip(np.ceil((ys - self.corner[1]) / CELL - 0.5).astype(int), 0, self.size[1])
            for a, b in zip(ends[::2], ends[1::2], strict=False):
                if b > a:
                    self.free &= ~(((1 << int(b - a)) - 1) << (column * self.tall + int(a)))


TRIED, IN_COLUMN = 12, 3
"""Places that are held against the true outlines before the next turn is tried, and of one column: the grid is a little
too kind."""
