"""From a dated measurement set to the tube of one limb."""

from vellumcut.core.body.ellipse import EllipticTube
from vellumcut.core.body.measures import LimbReading, Measurements
from vellumcut.core.body.segments import SEGMENTS, SegmentName, Side
from vellumcut.core.errors import CraftError

ROUND = 1.0
"""Depth over width when nobody measured it: girths alone fix the pattern's width, so nothing is guessed."""


def limb_reading(measures: Measurements, segment: SegmentName, side: Side) -> LimbReading:
    """The complete reading of a limb. Raises CraftError naming the first station that is missing."""
    reading = measures.limb(segment, side)
    if reading is None:
        raise CraftError(f"The {side} {segment} has not been measured yet", f"limbs.{segment}")
    for station in SEGMENTS[segment].stations:
        if station.name not in reading.stations:
            raise CraftError(
                f"The {station.name} of the {side} {segment} is missing", f"limbs.{reading.key}.{station.name}"
            )
    return reading


def build_tube(measures: Measurements, segment: SegmentName, side: Side) -> EllipticTube:
    """The tube of one limb in mm, from its first station upward. Raises CraftError."""
    reading = limb_reading(measures, segment, side)
    names = tuple(s.name for s in SEGMENTS[segment].stations)
    rows = [reading.stations[n] for n in names]
    return EllipticTube(
        names=names,
        at=tuple(r.at - rows[0].at for r in rows),
        girths=tuple(r.body_girth for r in rows),
        ratios=tuple(ROUND if r.ratio is None else r.ratio for r in rows),
    )
