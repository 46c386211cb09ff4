"""From a dated measurement set to the tube of one part of the body."""

from functools import lru_cache

from vellumcut.core.body.ellipse import EllipticTube
from vellumcut.core.body.guess import Tubes, complete_limb
from vellumcut.core.body.measures import Measurements, ScanReading
from vellumcut.core.body.readings import Question
from vellumcut.core.body.segments import SEGMENTS, BodyPart, ScanSegment, SegmentName, Side
from vellumcut.core.body.torso import TORSO_GIRTHS, TorsoReading, complete_torso
from vellumcut.core.body.tube import TubeSurface
from vellumcut.core.cast.scanned.scan import ScanFit
from vellumcut.core.cast.trunk import build_trunk
from vellumcut.core.cast.trunk_tube import TrunkTube
from vellumcut.core.errors import CraftError
from vellumcut.core.notes import Finding

ROUND = 1.0
"""Depth over width when nobody measured it: girths alone fix the pattern's width, so nothing is guessed."""

Scanned = Tubes
NO_SCANS: Scanned = {}


def build_tube(measures: Measurements, part: BodyPart, side: Side, scanned: Scanned = NO_SCANS) -> TubeSurface:
    """The tube of one part of the body in mm, from its first station upward: off its scan if there is one.

    Raises CraftError.
    """
    scan = measures.scan(part, side)
    if scan is not None:
        if scan.key not in scanned:
            raise CraftError(
                f"The scan {scan.scan} of the {part} is not here, or its ends are set where it gives no tube",
                f"scans.{scan.key}",
            )
        return scanned[scan.key]
    if part == "torso":
        if measures.torso is None:
            raise CraftError("The torso has not been measured yet", "torso")
        return _trunk(measures.torso.model_dump_json())
    return _limb(measures, part, side, scanned)


@lru_cache(maxsize=32)
def _trunk(reading: str) -> TrunkTube:
    """A trunk is found by steps and takes tenths of a second; the same reading gives the same tube."""
    return build_trunk(complete_torso(TorsoReading.model_validate_json(reading)))


def _limb(measures: Measurements, segment: SegmentName, side: Side, scanned: Scanned) -> EllipticTube:
    reading = complete_limb(measures, segment, side, scanned).reading
    names = tuple(s.name for s in SEGMENTS[segment].stations)
    rows = [reading.stations[n] for n in names]
    return EllipticTube(
        names=names,
        at=tuple(r.at - rows[0].at for r in rows),
        girths=tuple(r.body_girth for r in rows),
        ratios=tuple(ROUND if r.ratio is None else r.ratio for r in rows),
    )


def guess_findings(measures: Measurements, part: BodyPart, side: Side, scanned: Scanned = NO_SCANS) -> list[Finding]:
    """Which measures of a part nobody has taken, in words. Raises CraftError."""
    scan = measures.scan(part, side)
    if scan is not None and scan.side not in (side, "both"):
        words = f"The {side} {part} was not measured: the {scan.side} one's scan is turned over for it."
        return [Finding("look", words, f"scans.{scan.key}", "Scan or measure it too: two limbs are seldom alike.")]
    if scan is not None:
        return []
    if part == "torso":
        guessed = complete_torso(measures.torso).guessed if measures.torso else ()
        place = "torso"
    else:
        guessed, place = complete_limb(measures, part, side, scanned).guessed, f"limbs.{part}"
    if not guessed:
        return []
    names = ", ".join(guessed[:5]) + (f" and {len(guessed) - 5} more" if len(guessed) > 5 else "")
    words = f"Guessed by proportion, not measured: {names}."
    return [Finding("look", words, place, "Measure these before foam is cut.")]


def question_scans(measures: Measurements, scanned: Scanned) -> list[Question]:
    """Stations of scanned parts that are on no ordinary body, in words; only what the maker has not confirmed yet."""
    asked = [q for r in measures.scans if r.key in scanned for q in question_tube(r, scanned[r.key])]
    return [q for q in asked if q.key not in measures.confirmed]


def question_tube(reading: ScanReading, tube: TubeSurface) -> list[Question]:
    """The same of one part: an end may sit on the wrong place."""
    place = reading.segment if reading.side == "both" else f"{reading.side} {reading.segment}"
    field = f"scans.{reading.key}"
    asked = []
    for k, name in enumerate(tube.names):
        ordinary, girth = _ordinary(reading.segment, name), float(tube.tape_girth(float(k)))
        if ordinary is None or ordinary[0] <= girth <= ordinary[1]:
            continue
        size = "small" if girth < ordinary[0] else "large"
        words = (
            f"{name.capitalize()} {girth:.0f} mm, off the scan of the {place}, is very {size}: adults are about "
            f"{ordinary[0]:.0f} to {ordinary[1]:.0f} mm. Look where its ends sit, and at the scan's unit."
        )
        asked.append(Question(key=f"{field}.{name}={girth:.0f}", field=field, message=words))
    return asked


def fit_findings(reading: ScanReading, fit: ScanFit) -> list[Finding]:
    """What is to be said of how a part's tube follows its scan."""
    place = reading.segment if reading.side == "both" else f"{reading.side} {reading.segment}"
    field = f"scans.{reading.key}"
    out = [Finding("look", f"{place.capitalize()}: {words}", field) for words in fit.warnings]
    if not fit.follows:
        far = f"{place.capitalize()}: {fit.verdict}; 95 % of it lies within {fit.residual.p95:.1f} mm."
        out.append(Finding("look", far, field, "Look where its ends sit, or scan that part again."))
    return out


def _ordinary(segment: ScanSegment, station: str) -> tuple[float, float] | None:
    """Least and most girth of adults at a station, mm; None where none is told."""
    if segment == "torso":
        return next((m.ordinary for n, m in TORSO_GIRTHS.items() if n == station), None)
    return SEGMENTS[segment].station(station).girth
