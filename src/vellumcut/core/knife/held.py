"""Parts that were cut, held against their pattern."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely

from vellumcut.core.pattern.drawn import DrawnPanel

ALLOWED = 0.05
"""mm that a cut part may be off its pattern (issue of the step)."""
CLOSE = 0.1
"""mm between points of the pattern that is held against."""
LOOK = 0.5
"""mm between places at which they are compared."""


@dataclass(frozen=True)
class HeldPart:
    """worst: mm from pattern to cut and back, where they are farthest apart; None where it was not cut free."""

    key: str
    worst: float | None

    @property
    def right(self) -> bool:
        return self.worst is not None and self.worst <= ALLOWED


def held_against(
    cut: Sequence[shapely.Polygon], parts: Sequence[tuple[str, DrawnPanel]], move: tuple[float, float]
) -> list[HeldPart]:
    """Each part of a sheet against what the machine cut there. move: of the sheet's own corner onto the bed's."""
    tree = shapely.STRtree(list(cut))
    return [HeldPart(key, _worst(_placed(panel, move), cut, tree)) for key, panel in parts]


def _placed(panel: DrawnPanel, move: tuple[float, float]) -> shapely.Polygon:
    """By its curves, finer than the knife follows them."""
    rings = [np.vstack([e.points(CLOSE) for e in ring]) + np.array(move) for ring in panel.flat.rings]
    return shapely.Polygon(rings[0], rings[1:])


def _worst(wanted: shapely.Polygon, cut: Sequence[shapely.Polygon], tree: shapely.STRtree) -> float | None:
    there = tree.query(wanted.representative_point(), predicate="within")
    if not len(there):
        return None
    found = min((cut[k] for k in there), key=lambda c: abs(c.area - wanted.area))
    return max(_farthest(wanted, found), _farthest(found, wanted))


def _farthest(one: shapely.Polygon, other: shapely.Polygon) -> float:
    points = shapely.points(shapely.get_coordinates(one.boundary.segmentize(LOOK)))
    return float(shapely.distance(points, other.boundary).max())
