"""Ink too tangled to be read: told before anything is built from it, so that a stranger's file cannot hold the
program."""

from collections.abc import Sequence

import numpy as np
import shapely
from numpy.typing import NDArray

Array = NDArray[np.float64]

MOST_LINES = 240
"""Lines of a sheet, mirrored ones counted; a whole costume's board has some forty."""
MOST_POINTS = 40_000
"""Of all lines as they are drawn, a dozen to each point of the maker's."""
MOST_CROSSINGS = 600
_AT_ONCE = 500


def tangle(lines: Sequence[Array]) -> tuple[str, Array] | None:
    """Why polylines (n, 2) mm cannot be read, in words, and where; None for ink as people draw it.

    Crossings are counted piece by piece and no further than to the limit, so that this costs little whatever is drawn.
    """
    if len(lines) > MOST_LINES:
        return f"The sheet has {len(lines)} lines; at most {MOST_LINES} are read: take some out.", lines[0][0]
    if sum(map(len, lines)) > MOST_POINTS:
        return "The lines have more points than can be read: take some out.", lines[0][0]
    if not lines:
        return None
    pieces = np.concatenate([np.stack([line[:-1], line[1:]], axis=1) for line in lines])
    drawn = shapely.linestrings(pieces)
    tree = shapely.STRtree(drawn)
    found = 0
    for start in range(0, len(drawn), _AT_ONCE):
        a, b = tree.query(drawn[start : start + _AT_ONCE], predicate="crosses")
        apart = b > a + start
        found += int(apart.sum())
        if found > MOST_CROSSINGS:
            at = pieces[start + a[apart][-1]].mean(axis=0)
            return f"The lines cross each other more than {MOST_CROSSINGS} times: take some out.", at
    return None
