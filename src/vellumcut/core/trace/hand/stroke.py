"""A stroke of a maker's finger over the picture of a floor."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np
import shapely
from numpy.typing import NDArray

from vellumcut.core.trace.ground import NOWHERE
from vellumcut.core.trace.view.rectify import FromAbove

Array = NDArray[np.float64]

FREE, HELD = (2.0, 1.5), (6.0, 7.0)
"""mm, and widths of the stroke, from it within which what was found before counts for little, and beyond which it
stays: a thin stroke, drawn close by, is about what is close by."""


@dataclass(frozen=True, eq=False)
class Stroke:
    """points: (n, 2) mm, y down. wide: mm. piece: it says what is piece; else what is floor."""

    points: Array
    wide: float
    piece: bool

    @property
    def free(self) -> float:
        return FREE[0] + FREE[1] * self.wide

    @property
    def held(self) -> float:
        return HELD[0] + HELD[1] * self.wide

    @cached_property
    def line(self) -> shapely.Geometry:
        return shapely.LineString(self.points) if len(self.points) > 1 else shapely.Point(self.points[0])

    @cached_property
    def area(self) -> shapely.Polygon:
        return self.line.buffer(max(self.wide, 1.0) / 2)


@dataclass(frozen=True, eq=False)
class Ground:
    """What is known of a photograph. poses: (k, 3) mm and radians of its cards; side: mm of their black squares. ink:
    where lines were drawn on pieces, mm. bare: its floor was photographed first."""

    above: FromAbove
    poses: Array
    side: float
    ink: shapely.Geometry = NOWHERE
    bare: bool = False
