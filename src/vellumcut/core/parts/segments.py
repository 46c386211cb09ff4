"""Plates side by side over all of a panel, which is their base: bands from a fixed end on, each at its own depth."""

from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from vellumcut.core.design.parts import Segments
from vellumcut.core.errors import CraftError
from vellumcut.core.parts.border import band_between, offset_line
from vellumcut.core.parts.ribbon import Ribbon, dense
from vellumcut.core.parts.scales import ribbon_past

Array = NDArray[np.float64]

LEAST_HIGH = 5.0
"""mm of a plate below which it is no plate but a trim."""
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
    """All plates of one run, from the fixed end on. Raises CraftError where they would be too narrow."""
    step = _depth(ribbon) / segments.count
    if step < LEAST_HIGH or step <= segments.overlap:
        raise CraftError(f"{segments.count} plates would be {step:.0f} mm apart: lay fewer of them", "making.details")
    out = []
    for k in range(segments.count):
        near = k * step - (segments.overlap if k else 0.0)
        far = (k + 1) * step + (1.0 if k == segments.count - 1 else 0.0)
        band = band_between(ribbon, near, far, ribbon_past(ribbon))
        if band.area < LEAST_AREA:
            continue
        under = (k + 1) * step - segments.overlap if segments.overlap and k < segments.count - 1 else 0.0
        seen = band_between(ribbon, near, under, ribbon_past(ribbon)) if under else band
        rings = tuple(np.asarray(shapely.get_coordinates(r))[:-1] for r in (seen.exterior, *seen.interiors))
        outline, covered = ribbon.by_itself_with(band, _line_in(ribbon, band, under))
        out.append(Segment(k + 1, outline, rings, covered, min(far, (k + 1) * step) - near))
    return out


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
