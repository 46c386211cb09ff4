"""What makes a flat panel no pattern: it cannot be cut, or cannot be closed once it is cut."""

from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.validation import explain_validity

from vellumcut.core.flatten.panel import FlatPanel

Array = NDArray[np.float64]

LEGS_APART = 1.5
"""Legs of a dart that differ by more pucker, mm."""
LEGS_APART_UNTRUED = 6.0
"""The same where the maker has turned truing off and eases them by hand, mm."""
NECK = 4.0
"""Foam narrower than this tears before it is glued, mm (est.)."""
LEAST_SIDE = 150.0
"""Each side of a neck is foam worth keeping if it is larger, mm2."""


@dataclass(frozen=True)
class Flaw:
    """words: a sentence without its full stop, for the maker. at: the place on the flat panel, (2,) mm."""

    words: str
    at: tuple[float, float]


def find_flaws(flat: FlatPanel, trued: bool = True) -> tuple[Flaw, ...]:
    """Everything that keeps a panel from being cut and closed, the worst first. trued: its legs were made alike."""
    if not flat.shape.is_valid:
        at = _crossing(flat.shape)
        return (Flaw(f"laid flat it lies over itself at the {_nearest_edge(flat, at)}", at),)
    found = []
    for dart in flat.darts:
        place = (float(dart.mouth[0]), float(dart.mouth[1]))
        apart = abs(dart.left - dart.right)
        if dart.angle <= 0:
            found.append(Flaw(f"the sides of {dart.name} lie over each other: split the panel there instead", place))
        elif apart > (LEGS_APART if trued else LEGS_APART_UNTRUED):
            found.append(Flaw(f"the legs of {dart.name} differ by {apart:.1f} mm and will not close", place))
    neck = _neck(flat.shape)
    if neck is not None:
        edge = _nearest_edge(flat, neck)
        found.append(Flaw(f"it is narrower than {NECK:g} mm beside the {edge} and would tear there", neck))
    return tuple(found)


def _crossing(shape: shapely.Polygon) -> tuple[float, float]:
    words = explain_validity(shape)
    try:
        x, y = words[words.index("[") + 1 : words.index("]")].split()[:2]
        return float(x), float(y)
    except ValueError:
        middle = shape.centroid
        return middle.x, middle.y


def _neck(shape: shapely.Polygon) -> tuple[float, float] | None:
    """Where a panel would fall in two if its edges were taken in by half a neck; None where it would not."""
    inner = shape.buffer(-NECK / 2)
    sides = [g for g in getattr(inner, "geoms", [inner]) if g.area > LEAST_SIDE]
    if len(sides) < 2:
        return None
    one, two = shapely.get_coordinates(shapely.shortest_line(sides[0], sides[1]))
    middle = (one + two) / 2
    return float(middle[0]), float(middle[1])


def _nearest_edge(flat: FlatPanel, at: tuple[float, float]) -> str:
    lines = [shapely.LineString(e.points()) for e in flat.edges]
    return flat.edges[int(np.argmin(shapely.distance(lines, shapely.Point(at))))].name
