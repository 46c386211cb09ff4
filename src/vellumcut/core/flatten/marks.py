"""Registration marks: matching ticks on both sides of a seam, so its edges meet where they should."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from vellumcut.core.flatten.curves import FlatEdge

Array = NDArray[np.float64]

SPACING = 65.0
CLOSEST, FARTHEST = 50.0, 80.0
"""Wanted, least and most distance between marks, mm."""
FROM_END = 20.0
"""Distance of the outermost marks from the corners, where a tick would be cut away, mm."""
TICK, TICK_GAP = 6.0, 2.5
"""Length of a tick into the panel and distance between ticks of one mark, mm."""


@dataclass(frozen=True)
class Mark:
    """A registration mark. at: mm along the edge on the body. ticks: 1-3. lines: (ticks, 2, 2) mm, flat."""

    edge: str
    at: float
    ticks: int
    lines: Array


def mark_places(length: float) -> list[float]:
    """Distances along a seam of ``length`` mm: always its middle, then every 50-80 mm to both ends."""
    middle = length / 2
    room = middle - FROM_END
    count = round(room / SPACING)
    if count == 0:
        return [middle]
    spacing = min(max(room / count, CLOSEST), FARTHEST)
    return [middle + k * spacing for k in range(-count, count + 1)]


def mark_edge(edge: FlatEdge, places: list[float], ticks: list[int]) -> list[Mark]:
    """Marks at body distances along an edge that runs counter-clockwise (inside on its left)."""
    return [Mark(edge.name, at, n, _tick_lines(edge, at, n)) for at, n in zip(places, ticks, strict=True)]


def _tick_lines(edge: FlatEdge, at: float, ticks: int) -> Array:
    lines = []
    for k in range(ticks):
        point, tangent = edge.place(at + (k - (ticks - 1) / 2) * TICK_GAP)
        inward = np.array([-tangent[1], tangent[0]])
        lines.append([point, point + TICK * inward])
    return np.array(lines)


def mark_seam(length: float) -> tuple[list[float], list[int]]:
    """Places along a seam of ``length`` mm on the body, and how many ticks each mark has.

    Ticks go one, two, three in turn from the seam's beginning, so no two neighbours can be swapped.
    """
    places = mark_places(length)
    return places, [1 + k % 3 for k in range(len(places))]
