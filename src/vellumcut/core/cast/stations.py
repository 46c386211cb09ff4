"""From a dated measurement set to the tube of one part of the body."""

from collections.abc import Mapping
from functools import lru_cache

from vellumcut.core.body.ellipse import EllipticTube
from vellumcut.core.body.guess import complete_limb
from vellumcut.core.body.measures import Measurements
from vellumcut.core.body.segments import SEGMENTS, BodyPart, SegmentName, Side
from vellumcut.core.body.torso import TorsoReading, complete_torso
from vellumcut.core.body.tube import TubeSurface
from vellumcut.core.cast.trunk import TrunkTube, build_trunk
from vellumcut.core.errors import CraftError
from vellumcut.core.notes import Finding

ROUND = 1.0
"""Depth over width when nobody measured it: girths alone fix the pattern's width, so nothing is guessed."""

Scanned = Mapping[str, TubeSurface]
"""Tubes fitted to scans, by the reading's key, such as "lower leg.left"."""
NO_SCANS: Scanned = {}


def build_tube(measures: Measurements, part: BodyPart, side: Side, scanned: Scanned = NO_SCANS) -> TubeSurface:
    """The tube of one part of the body in mm, from its first station upward: off its scan if there is one.

    Raises CraftError.
    """
    scan = measures.scan(part, side)
    if scan is not None:
        if scan.key not in scanned:
            raise CraftError(f"The scan {scan.scan} of the {part} is not here", f"scans.{scan.key}")
        return scanned[scan.key]
    if part == "torso":
        if measures.torso is None:
            raise CraftError("The torso has not been measured yet", "torso")
        return _trunk(measures.torso.model_dump_json())
    return _limb(measures, part, side)


@lru_cache(maxsize=32)
def _trunk(reading: str) -> TrunkTube:
    """A trunk is found by steps and takes tenths of a second; the same reading gives the same tube."""
    return build_trunk(complete_torso(TorsoReading.model_validate_json(reading)))


def _limb(measures: Measurements, segment: SegmentName, side: Side) -> EllipticTube:
    reading = complete_limb(measures, segment, side).reading
    names = tuple(s.name for s in SEGMENTS[segment].stations)
    rows = [reading.stations[n] for n in names]
    return EllipticTube(
        names=names,
        at=tuple(r.at - rows[0].at for r in rows),
        girths=tuple(r.body_girth for r in rows),
        ratios=tuple(ROUND if r.ratio is None else r.ratio for r in rows),
    )


def guess_findings(measures: Measurements, part: BodyPart, side: Side) -> list[Finding]:
    """Which measures of a part nobody has taken, in words. Raises CraftError."""
    if measures.scan(part, side) is not None:
        return []
    if part == "torso":
        guessed = complete_torso(measures.torso).guessed if measures.torso else ()
        place = "torso"
    else:
        guessed, place = complete_limb(measures, part, side).guessed, f"limbs.{part}"
    if not guessed:
        return []
    names = ", ".join(guessed[:5]) + (f" and {len(guessed) - 5} more" if len(guessed) > 5 else "")
    words = f"Guessed by proportion, not measured: {names}."
    return [Finding("look", words, place, "Measure these before foam is cut.")]
