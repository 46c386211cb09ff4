"""Plates side by side over all of a panel, which is their base: bands from a fixed end on, each at its own depth."""

from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from vellumcut.core.design.parts import Segments
from vellumcut.core.errors import CraftError
from vellumcut.core.parts.border import bands_between, offset_line
from vellumcut.core.parts.ribbon import Ribbon, dense
from vellumcut.core.parts.scales import NO_END, ribbon_past

Array = NDArray[np.float64]

LEAST_HIGH = 5.0
"""mm of a plate below which it is no plate but a trim."""
SLIVER = 0.05
"""Half the width, mm, of what is only left over between two cuts."""
LEAST_AREA = 20.0
"""mm2 of a band below which nothing is left to cut."""


@dataclass(frozen=True, eq=False)
class Segment:
    """One plate. number: from the fixed end. outline: rings (k, 2) mm as it is cut, holes after the outer; footprint:
    what of it is seen, on the flat neighbourhood. covered: (n, 2) on its outline, the line up to which the next plate
    lies over it; empty where none does. high: from edge to edge, mm."""

    number: int
    outline: tuple[Array, ...]
    footprint: tuple[Array, ...]
    covered: Array
    high: float

    @property
    def area(self) -> float:
        """Of foam in it, mm2."""
        return float(shapely.Polygon(self.outline[0], self.outline[1:]).area)


def segments_of(ribbon: Ribbon, segments: Segments) -> list[Segment]:
    """All plates of one run, from the fixed end on; where a hollow of the outline parts a band, each part is a plate
    of its own. Raises CraftError where they would be too narrow, or have no end to begin at."""
    if ribbon.run.within:
        raise CraftError(NO_END, "making.details")
    step = _depth(ribbon) / segments.count
    if step < LEAST_HIGH or step <= segments.overlap:
        raise CraftError(f"{segments.count} plates would be {step:.0f} mm apart: lay fewer of them", "making.details")
    out = []
    for k in range(segments.count):
        last = k == segments.count - 1
        near, far = k * step - (segments.overlap if k else 0.0), (k + 1) * step
        hidden = far - segments.overlap if segments.overlap and not last else 0.0
        plate = _band(ribbon, near, far + last) if k else _first(ribbon, step, segments.count)
        seen = plate.difference(_band(ribbon, hidden, far + 1.0)) if hidden else plate
        for part in _parts(plate):
            own = [g for g in _parts(seen) if g.intersection(part).area > g.area / 2]
            outline, covered = ribbon.by_itself_with(part, _line_in(ribbon, part, hidden))
            out.append(Segment(k + 1, outline, tuple(r for g in own for r in _rings(g)), covered, far - near))
    return out


def _band(ribbon: Ribbon, near: float, far: float) -> shapely.Geometry:
    return shapely.union_all(bands_between(ribbon, near, far, ribbon_past(ribbon)))


def _first(ribbon: Ribbon, step: float, count: int) -> shapely.Geometry:
    """The foam up to the second plate, what lies behind the ends of its line among it."""
    others = [_band(ribbon, k * step, (k + 1) * step + 1.0) for k in range(1, count)]
    return ribbon.region.difference(shapely.union_all(others))


def _parts(shape: shapely.Geometry) -> list[shapely.Polygon]:
    rows = shapely.get_parts(shape.buffer(-SLIVER, join_style="mitre").buffer(SLIVER, join_style="mitre"))
    return [g for g in rows if g.geom_type == "Polygon" and g.area > LEAST_AREA]


def _rings(part: shapely.Polygon) -> list[Array]:
    return [np.asarray(shapely.get_coordinates(r))[:-1] for r in (part.exterior, *part.interiors)]


def _depth(ribbon: Ribbon) -> float:
    """How far the panel goes on from the line at most, mm."""
    line = offset_line(ribbon, 0.0, past=ribbon_past(ribbon))
    corners = shapely.points(shapely.get_coordinates(ribbon.region.exterior))
    return float(shapely.distance(corners, line).max())


def _line_in(ribbon: Ribbon, band: shapely.Polygon, by: float) -> Array:
    """The line moved by so many mm as far as it lies on a band, (n, 2); empty for nought."""
    if not by:
        return np.zeros((0, 2))
    here = shapely.intersection(offset_line(ribbon, by, past=ribbon_past(ribbon)), band)
    rows = [g for g in shapely.get_parts(here) if g.geom_type == "LineString" and not g.is_empty]
    return dense(np.asarray(max(rows, key=lambda g: g.length).coords)) if rows else np.zeros((0, 2))
