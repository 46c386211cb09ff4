"""What nobody measured, filled in by proportion from what was, and marked as guessed."""

import statistics
from collections.abc import Mapping
from dataclasses import dataclass

from vellumcut.core.body.measures import LimbReading, Measurements
from vellumcut.core.body.readings import StationReading
from vellumcut.core.body.segments import SEGMENTS, BodyPart, Segment, SegmentName, Side, Station
from vellumcut.core.body.torso import TORSO_GIRTHS
from vellumcut.core.body.tube import TubeSurface
from vellumcut.core.errors import CraftError

_KIN: dict[SegmentName, dict[str, tuple[BodyPart, str, float]]] = {
    "shoulder": {
        "arm": ("upper arm", "biceps", 1.03),
        "cap": ("upper arm", "armpit", 1.04),
        "top": ("upper arm", "armpit", 0.66),
    },
    "knee": {
        "below kneecap": ("lower leg", "knee", 0.98),
        "kneecap": ("lower leg", "knee", 1.07),
        "above kneecap": ("thigh", "above knee", 1.0),
    },
    "neck": {
        "neck base": ("torso", "neck", 1.12),
        "mid neck": ("torso", "neck", 1.01),
        "under chin": ("torso", "neck", 1.03),
    },
}
"""Stations that lie close to another segment's, with the girth's share of that one (est.)."""


@dataclass(frozen=True)
class CompleteLimb:
    """A reading with every station, and the names of those that were guessed. borrowed: no station was measured."""

    reading: LimbReading
    guessed: tuple[str, ...]
    borrowed: bool


def usual_girth(station: Station) -> float:
    """Middle of the ordinary range by ratio, mm."""
    least, most = station.girth
    return float((least * most) ** 0.5)


Tubes = Mapping[str, TubeSurface]
"""Tubes fitted to scans, by the reading's key, such as "lower leg.left"."""


def complete_limb(
    measures: Measurements, segment: SegmentName, side: Side, scanned: Tubes | None = None
) -> CompleteLimb:
    """Every station of a limb, guessed from what a tape or a scan says of the rest of this body.

    Raises CraftError when nothing at all has been measured on it.
    """
    own = measures.limb(segment, side)
    table = SEGMENTS[segment]
    given = dict(own.stations) if own else {}
    if len(given) == len(table.stations) and own:
        return CompleteLimb(own, (), False)
    known = _Known(measures, scanned or {}, side)
    shares = _shares(table, given) or _kin_or_all(known, segment)
    if not shares:
        raise CraftError(f"The {side} {segment} has not been measured yet", f"limbs.{segment}")
    scale = statistics.median(shares)
    stretch = _stretch(table, given)
    stations, guessed = {}, []
    for station in table.stations:
        if station.name in given:
            stations[station.name] = given[station.name]
            continue
        girth = _kin_girth(known, segment, station.name) or usual_girth(station) * scale
        at = _between(table, given, station, stretch)
        stations[station.name] = StationReading(at=round(at, 1), girth=round(girth, 1), ratio=station.ratio)
        guessed.append(station.name)
    reading = LimbReading(
        segment=segment, side=own.side if own else "both", stations=stations, gate=own.gate if own else None
    )
    return CompleteLimb(reading, tuple(guessed), not given)


def _shares(table: Segment, given: dict[str, StationReading]) -> list[float]:
    return [
        given[s.name].body_girth / usual_girth(s) for s in table.stations if s.name in given and given[s.name].girth > 0
    ]


@dataclass(frozen=True)
class _Known:
    """What is known of one side of a body, by tape or by scan."""

    measures: Measurements
    scanned: Tubes
    side: Side

    def girth(self, part: BodyPart, station: str) -> float | None:
        """As a tape reads it, mm."""
        scan = self.measures.scan(part, self.side)
        tube = self.scanned.get(scan.key) if scan else None
        if tube is not None and station in tube.names:
            return float(tube.tape_girth(float(tube.names.index(station))))
        if part == "torso":
            rows = dict(self.measures.torso.girths) if self.measures.torso else {}
            found = next((r for n, r in rows.items() if n == station), None)
        else:
            limb = self.measures.limb(part, self.side)
            found = limb.stations.get(station) if limb else None
        return found.body_girth if found else None

    def shares(self, segment: SegmentName) -> list[float]:
        """How this body's girths compare with the usual ones on a segment."""
        read = ((s, self.girth(segment, s.name)) for s in SEGMENTS[segment].stations)
        return [girth / usual_girth(station) for station, girth in read if girth]

    def torso_scale(self) -> list[float]:
        read = ((self.girth("torso", n), m) for n, m in TORSO_GIRTHS.items())
        found = sorted(girth / m.usual for girth, m in read if girth)
        return found[len(found) // 2 :][:1]


def _kin_or_all(known: _Known, segment: SegmentName) -> list[float]:
    """How this body compares with the usual one: on the limbs next to this one, else anywhere."""
    near = {name for name, _, _ in _KIN.get(segment, {}).values() if name != "torso"}
    kin = [share for name in SEGMENTS if name in near for share in known.shares(name)]
    return kin or [s for name in SEGMENTS for s in known.shares(name)] or known.torso_scale()


def _kin_girth(known: _Known, segment: SegmentName, station: str) -> float | None:
    if segment not in _KIN:
        return None
    other, name, share = _KIN[segment][station]
    girth = known.girth(other, name)
    return girth * share if girth else None


def _stretch(table: Segment, given: dict[str, StationReading]) -> float:
    """How long this limb is beside the usual one, from the distances that were measured."""
    known = [(given[s.name].at, s.at) for s in table.stations if s.name in given]
    if len(known) < 2 or known[-1][1] <= known[0][1]:
        return 1.0
    return (known[-1][0] - known[0][0]) / (known[-1][1] - known[0][1])


def _between(table: Segment, given: dict[str, StationReading], station: Station, stretch: float) -> float:
    """Distance along the limb of a station that was not measured, keeping the order of those that were."""
    anchor = next((s for s in table.stations if s.name in given), None)
    if anchor is None:
        return station.at
    return max(0.0, given[anchor.name].at + (station.at - anchor.at) * stretch)
