"""Plates with an outline of their own: an emblem, a crest of several layers, laid at the depth of what lies beneath."""

from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import affinity

from vellumcut.core.body.tube import TubeSurface
from vellumcut.core.design.making import MotifRing
from vellumcut.core.design.parts import Plate
from vellumcut.core.errors import CraftError
from vellumcut.core.flatten.outlines import corners_in
from vellumcut.core.parts.lines import Run
from vellumcut.core.parts.motif import motif_shape
from vellumcut.core.parts.ribbon import Ribbon
from vellumcut.core.units import format_length

Array = NDArray[np.float64]

UPWARD = 6.0
"""mm of the body's own line through a plate's middle that tells which way is up."""
KNIFE, FINE, SHARP, JUMPS = 0.25, 1.0, 60.0, 12
"""A line that turns by so many degrees more often than so, between steps finer than 1 mm, is drawn again within 0.25 mm
(est.)."""
SEAT_GAP = 0.5
"""mm all round between a gem and its rim, so that it goes in after paint (est.)."""
LEAST_AREA = 20.0
"""mm2 of a layer below which nothing is left to cut."""


@dataclass(frozen=True, eq=False)
class Sheet:
    """One layer of a plate. outlines: of its parts, each as rings (k, 2) mm, holes after the outer; upright, as it is
    cut. footprints: the same on the flat neighbourhood. length: of the cut, mm. over: mm2 of it that lie on no foam."""

    layer: int
    outlines: tuple[tuple[Array, ...], ...]
    footprints: tuple[tuple[Array, ...], ...]
    area: float
    length: float
    over: float


def upright(tube: TubeSurface, plate: Plate) -> Run:
    """A short line up the body through a plate's middle, to read its neighbourhood by."""
    u, v = plate.at
    mm = float(tube.mm(np.array([v]))[0])
    low, high = tube.along(np.clip(np.array([mm - UPWARD, mm + UPWARD]), *tube.reach))
    return Run("its middle", np.array([[u, low], [u, v], [u, high]]), False, True)


def reach_of_plate(plate: Plate, rings: tuple[MotifRing, ...]) -> float:
    """How far a plate goes from its middle at most, mm."""
    shape = _scaled(plate, rings)
    return float(shapely.hausdorff_distance(shape.envelope, shapely.Point(0, 0)))


def sheets_of(ribbon: Ribbon, plate: Plate, rings: tuple[MotifRing, ...]) -> list[Sheet]:
    """The layers of a plate from the lowest up; a layer of which nothing is left ends them. Raises CraftError."""
    shape = _scaled(plate, rings)
    middle = ribbon.line[len(ribbon.line) // 2]
    way = ribbon.line[-1] - ribbon.line[0]
    lean = float(np.degrees(np.arctan2(-way[0], way[1]))) + plate.turn
    out = []
    for layer in range(plate.layers):
        own = shape.buffer(-layer * plate.step, join_style="mitre") if layer else shape
        parts = [g for g in shapely.get_parts(own) if g.geom_type == "Polygon" and g.area > LEAST_AREA]
        if not parts:
            break
        there = [affinity.translate(affinity.rotate(p, lean, origin=(0, 0)), *middle) for p in parts]
        over = sum(float(p.difference(ribbon.region).area) for p in there)
        length = sum(float(p.length) for p in parts)
        area = sum(float(p.area) for p in parts)
        out.append(Sheet(layer + 1, tuple(map(_rings, parts)), tuple(map(_rings, there)), area, length, over))
    if not out:
        raise CraftError("Nothing of this drawing is large enough to be cut from foam: make it wider", "making.details")
    return out


def _scaled(plate: Plate, rings: tuple[MotifRing, ...]) -> shapely.Geometry:
    """The motif as wide as the plate, its middle at nought; opened, where the plate has a window or a seat."""
    shape = motif_shape(rings)
    low_x, low_y, high_x, high_y = shape.bounds
    moved = affinity.translate(shape, -(low_x + high_x) / 2, -(low_y + high_y) / 2)
    scale = plate.wide / max(high_x - low_x, 1e-9)
    scaled = affinity.scale(moved, scale, scale, origin=(0, 0))
    return _opened(scaled.simplify(KNIFE) if _to_and_fro(scaled) else scaled, plate)


def _opened(shape: shapely.Geometry, plate: Plate) -> shapely.Geometry:
    """With its window cut out, or, for a seat, what lies round it. Raises CraftError where nothing would be open."""
    if plate.opening == "window":
        window = shape.buffer(-plate.rim, join_style="mitre")
        if window.area < LEAST_AREA:
            raise CraftError(
                f"A rim of {format_length(plate.rim)} leaves no window: make it narrower", "making.details"
            )
        return shape.difference(window)
    if plate.opening == "seat":
        drawn = shapely.union_all(
            [shapely.Polygon(g.exterior) for g in shapely.get_parts(shape) if g.geom_type == "Polygon"]
        )
        return drawn.buffer(plate.rim, join_style="mitre").difference(drawn.buffer(SEAT_GAP, join_style="mitre"))
    return shape


def _to_and_fro(shape: shapely.Geometry) -> bool:
    """Whether its lines jump to and fro more finely than a knife follows, as what was traced from a picture does."""
    jumps = 0
    for part in shapely.get_parts(shape):
        for ring in _rings(part) if part.geom_type == "Polygon" else ():
            steps = np.hypot(*np.diff(np.vstack([ring[-1:], ring, ring[:1]]), axis=0).T)
            sharp = corners_in(ring, SHARP)
            jumps += int((np.maximum(steps[:-1], steps[1:])[sharp] < FINE).sum())
    return jumps > JUMPS


def _rings(part: shapely.Polygon) -> tuple[Array, ...]:
    return tuple(np.asarray(shapely.get_coordinates(r))[:-1] for r in (part.exterior, *part.interiors))
