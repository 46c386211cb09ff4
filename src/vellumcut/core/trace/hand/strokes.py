"""A maker rubs over what is piece, or over what is floor, and the outline follows close by.

Near a stroke each place is called what its colour and grain are more like: the piece's and the stroke's own, or the
floor's. Far from it what was found stays. Where one ends and the other begins is settled by a cut of least length, and
then looked at closely, as any outline is.
"""

from collections.abc import Mapping
from dataclasses import dataclass, replace

import cv2
import numpy as np
import shapely
import shapely.ops
from numpy.typing import NDArray

from vellumcut.core.errors import CraftError
from vellumcut.core.trace.edges.bumps import without_bumps
from vellumcut.core.trace.edges.slits import Notch, followed, notches, without_ink
from vellumcut.core.trace.edges.tips import Tip, to_tips
from vellumcut.core.trace.ground import disc
from vellumcut.core.trace.hand.look import Look, area_in, area_of, drawn, ground_colours, no_rags, part_of
from vellumcut.core.trace.hand.stroke import Ground, Stroke
from vellumcut.core.trace.ink import inks_on
from vellumcut.core.trace.outline import SOFT, Palette, colours, look_close, rims
from vellumcut.core.trace.over import by_what_tells
from vellumcut.core.trace.piece import evenly
from vellumcut.core.trace.view.rectify import FromAbove

Array = NDArray[np.float64]

SURE_OF = 0.4
"""Of a stroke's width, its middle, that is what it says whatever is seen there: a hand is no knife."""
FINE = 0.5
"""mm a pixel at which a rim is drawn anew before it is looked at closely."""
MOST_PIXELS = 120_000
"""Of that, so that a stroke is answered within a second."""
SMALLEST = 150.0
"""mm2 of what is kept as a piece."""
LIKE = 0.7
"""How much more a line must look like the piece than like floor to be a joint of two pieces that touch, and no gap."""


@dataclass(frozen=True, eq=False)
class Rubbed:
    """What a stroke made of outlines. gone: numbers of those it touched. made: what they are now, the number it goes on
    as, or none, beside each. tips: of slits that were found there. palette: what the ground looks like. parted: along
    the stroke itself, since nothing is seen between."""

    gone: tuple[int, ...]
    made: tuple[tuple[int | None, shapely.Polygon], ...]
    tips: tuple[Tip, ...]
    palette: Palette
    parted: bool = False


def rubbed(ground: Ground, areas: Mapping[int, shapely.Polygon], stroke: Stroke) -> Rubbed:
    """What a stroke makes of outlines, mm, y down. Raises CraftError where it says nothing new."""
    least = min(1.0, 0.1 * stroke.area.area)
    touched = [n for n, area in areas.items() if area.intersection(stroke.area).area > least]
    if stroke.piece:
        return _piece_rubbed(ground, areas, touched, stroke)
    if not touched:
        raise CraftError("No outline runs there: what has no line round it is floor already", "points")
    kept: list[tuple[int | None, shapely.Polygon]] = []
    tips: list[Tip] = []
    parted = False
    for n in touched:
        made = _followed(ground, areas[n], [a for m, a in areas.items() if m != n], stroke)
        parts = _parts(made.area)
        kept += zip(_numbers({n: areas[n]}, parts), parts, strict=True)
        tips += made.tips
        parted |= made.parted
    return Rubbed(tuple(touched), tuple(kept), tuple(tips), made.palette, parted)


def _piece_rubbed(ground: Ground, areas: Mapping[int, shapely.Polygon], touched: list[int], stroke: Stroke) -> Rubbed:
    own = shapely.union_all([areas[n] for n in touched])
    made = _followed(ground, own, [area for n, area in areas.items() if n not in touched], stroke)
    parts = [p for p in _parts(made.area) if p.intersects(own if touched else stroke.area)]
    beside = min(areas, key=lambda n: areas[n].distance(stroke.area), default=None)
    if not parts and beside is not None and 0 < areas[beside].distance(stroke.area) < stroke.held / 2:
        # What was cut off from a piece by a line or a shine lies beside it.
        return _piece_rubbed(ground, areas, [beside], _reaching(stroke, areas[beside]))
    if not parts:
        raise CraftError("No edge of a piece is found round that; rub over more of it", "points")
    numbers = _numbers({n: areas[n] for n in touched}, parts)
    return Rubbed(tuple(touched), tuple(zip(numbers, parts, strict=True)), made.tips, made.palette)


def _reaching(stroke: Stroke, area: shapely.Polygon) -> Stroke:
    """A stroke that was drawn on to the piece that lies beside it."""
    far = shapely.distance(shapely.points(stroke.points[[0, -1]]), area)
    points = stroke.points if far[1] < far[0] else stroke.points[::-1]
    near, on = (np.array(p.coords[0]) for p in shapely.ops.nearest_points(shapely.Point(points[-1]), area))
    way = (on - near) / max(1e-9, float(np.hypot(*(on - near))))
    return replace(stroke, points=np.vstack([points, on + way]))


@dataclass(frozen=True, eq=False)
class _Made:
    area: shapely.Geometry
    tips: tuple[Tip, ...]
    palette: Palette
    parted: bool = False


def _followed(ground: Ground, own: shapely.Geometry, others: list[shapely.Polygon], stroke: Stroke) -> _Made:
    """What was called a piece, as it is after a stroke."""
    look = Look.about(ground, own, others, stroke, ground_colours(ground, own, others, stroke))
    joint = _joint(look, own, stroke)
    if joint is not None:
        return _Made(joint, (), look.palette, parted=True)
    mask = look.cut()
    where = look.changed(mask)
    low, high = np.array(where.bounds).reshape(2, 2) + np.array([[-14.0], [14.0]])
    part = part_of(ground.above, low, high)
    fine_enough = max(FINE, part.per, float(np.sqrt(np.prod(high - low) / MOST_PIXELS)))
    near = Look.at(part.coarser(fine_enough), ground, area_of(mask, look.view), others, stroke, look.palette, np.inf)
    fine, tips = _closely(near, part)
    # What is rubbed in takes nothing away, and what is rubbed out adds nothing.
    area = own.union(fine.intersection(where)) if stroke.piece else own.difference(where.difference(fine))
    area = area.buffer(0.02).buffer(-0.02)
    return _Made(area, tuple(t for t in tips if where.contains(shapely.Point(t.at))), look.palette)


def _closely(look: Look, part: FromAbove) -> tuple[shapely.Geometry, list[Tip]]:
    """A rough mask, drawn to a fraction of a pixel, and the tips of slits. part: as fine as the picture is."""
    size = part.picture.shape[1::-1]
    rough = np.asarray(cv2.resize(look.closer().astype(np.float32), size, interpolation=cv2.INTER_LINEAR))
    mask = np.asarray(rough > 0.5, np.uint8)
    if not mask.any():
        return shapely.Polygon(), []
    close = look_close(part, mask, replace(look.palette, inks=inks_on(part, mask)))
    own = colours(part, close.light, mask, patterned=False)
    share = by_what_tells(close.share, own, rough, max(0.6, SOFT / part.per))
    # Ink far from both rim and stroke is no hole.
    hand = drawn(part, look.stroke.area.buffer(1.5))
    share = np.maximum(share, np.asarray(cv2.erode(mask, disc(2.5, part.per)), np.uint8) & (1 - hand))
    share[cv2.resize(look.ink, size, interpolation=cv2.INTER_NEAREST) > 0] = 1.0
    share[drawn(part, look.stroke.line.buffer(SURE_OF * look.stroke.wide / 2)) > 0] = 1.0 if look.stroke.piece else 0.0
    close = replace(close, share=np.asarray(share, np.float32))
    no_rags(np.asarray(share > 0.5, np.uint8))
    if look.stroke.piece:
        close = followed(close)
    rings: list[Array] = []
    tips: list[Tip] = []
    for line in rims(close, 8.0):
        # Where the hand says floor it is no ink, and its slit ends where the hand ends.
        ring, found = (
            to_tips(close, without_ink(close, line)) if look.stroke.piece else (line, _tips_by_hand(line, part.per))
        )
        rings.append(without_bumps(close, evenly(ring), look.stroke.area))
        tips += found
    return area_in(rings), tips


def _tips_by_hand(ring: Array, per: float) -> list[Tip]:
    """Tips of slits where an outline has them. per: mm a pixel, of which a hand misses two or three."""
    return [Tip(n.tip, n.way, max(1.0, 3 * per), _opening(ring, n)) for n in notches(ring)]


def _opening(ring: Array, notch: Notch) -> float:
    """Degrees between both sides of a notch, as wide as they are some way from its tip."""
    line = shapely.LinearRing(ring)
    start, far = line.project(shapely.Point(ring[notch.at])), 0.6 * notch.deep
    a, b = (np.array(line.interpolate((start + w * far) % line.length).coords[0]) for w in (-1, 1))
    return float(np.degrees(2 * np.arctan(np.hypot(*(a - b)) / 2 / far)))


def _joint(look: Look, own: shapely.Geometry, stroke: Stroke) -> shapely.Geometry | None:
    """Two pieces that touch: a stroke of floor right across what looks like piece all along parts them by its line."""
    if stroke.piece or len(stroke.points) < 2:
        return None
    parts = _parts(own.difference(stroke.line.buffer(0.005)))
    if len(parts) < 2 or len(parts) <= len(_parts(own)):
        return None
    beneath = drawn(look.view, stroke.line.buffer(look.view.per).intersection(own))
    like = look.likeness(look.own, told=False)[beneath > 0]
    return shapely.MultiPolygon(parts) if len(like) and float(np.quantile(like, 0.3)) > LIKE else None


def _parts(area: shapely.Geometry) -> list[shapely.Polygon]:
    parts = [p for p in shapely.get_parts(area) if p.geom_type == "Polygon" and p.area > SMALLEST]
    return sorted(parts, key=lambda p: -p.area)


def _numbers(before: Mapping[int, shapely.Polygon], parts: list[shapely.Polygon]) -> list[int | None]:
    """Each part goes on as what it has most of, if no larger one does."""
    left = dict(before)
    out: list[int | None] = []
    for part in parts:
        best = max(left, key=lambda n: left[n].intersection(part).area, default=None)
        if best is not None and left[best].intersection(part).area <= 0:
            best = None
        out.append(best)
        if best is not None:
            del left[best]
    return out
