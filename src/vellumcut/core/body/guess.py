"""What nobody measured, filled in by proportion from what was, and marked as guessed."""

import statistics
from dataclasses import dataclass

from vellumcut.core.body.measures import LimbReading, Measurements
from vellumcut.core.body.readings import StationReading
from vellumcut.core.body.segments import SEGMENTS, Segment, SegmentName, Side, Station
from vellumcut.core.errors import CraftError

_KIN: dict[SegmentName, dict[str, tuple[SegmentName, str, float]]] = {
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


def complete_limb(measures: Measurements, segment: SegmentName, side: Side) -> CompleteLimb:
    """Every station of a limb. Raises CraftError when nothing at all has been measured on this body."""
    own = measures.limb(segment, side)
    table = SEGMENTS[segment]
    given = dict(own.stations) if own else {}
    if len(given) == len(table.stations) and own:
        return CompleteLimb(own, (), False)
    shares = _shares(table, given) or _kin_or_all(measures, segment, side)
    if not shares:
        raise CraftError(f"The {side} {segment} has not been measured yet", f"limbs.{segment}")
    scale = statistics.median(shares)
    stretch = _stretch(table, given)
    stations, guessed = {}, []
    for station in table.stations:
        if station.name in given:
            stations[station.name] = given[station.name]
            continue
        girth = _kin_girth(measures, segment, side, station.name) or usual_girth(station) * scale
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


def _kin_or_all(measures: Measurements, segment: SegmentName, side: Side) -> list[float]:
    """How this body compares with the usual one: on the limbs next to this one, else anywhere."""
    near = {name for name, _, _ in _KIN.get(segment, {}).values()}
    rows = [
        (x.segment, _shares(SEGMENTS[x.segment], dict(x.stations))) for x in measures.limbs if x.side in (side, "both")
    ]
    kin = [s for name, shares in rows if name in near for s in shares]
    everywhere = [s for _, shares in rows for s in shares]
    if not everywhere and measures.torso is not None:
        everywhere = [measures.torso.scale()] if measures.torso.girths and measures.torso.scale() > 0 else []
    return kin or everywhere


def _kin_girth(measures: Measurements, segment: SegmentName, side: Side, station: str) -> float | None:
    if segment not in _KIN:
        return None
    other, name, share = _KIN[segment][station]
    reading = measures.limb(other, side)
    return reading.stations[name].body_girth * share if reading and name in reading.stations else None


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
