"""Measurement readings, what is impossible about them, and what deserves a question."""

import itertools
import math
from typing import Annotated, Literal

from pydantic import AfterValidator, Field

from vellumcut.core.body.readings import MOST_GIRTH, Decision, Question, StationReading
from vellumcut.core.body.segments import SEGMENTS, AxisName, BodyPart, ScanSegment, Segment, SegmentName, Side, UnitName
from vellumcut.core.body.torso import TORSO_STATIONS, TorsoReading, check_torso, question_torso
from vellumcut.core.errors import CraftError
from vellumcut.core.notes import Finding
from vellumcut.core.units import Day, Length, Number


class LimbReading(Decision):
    """The stations of one limb; ``side`` "both" is shared by left and right. gate: hand or heel girth, mm."""

    segment: SegmentName
    side: Literal["left", "right", "both"] = "both"
    stations: dict[str, StationReading]
    gate: Annotated[Length, Field(ge=0, le=MOST_GIRTH)] | None = None

    @property
    def key(self) -> str:
        """Segment and side, such as "forearm.left"."""
        return f"{self.segment}.{self.side}"


Place = Annotated[tuple[Annotated[Number, Field(ge=-5000, le=5000)], ...], Field(min_length=3, max_length=3)]
"""x, y, z in mm."""


SCAN_KINDS = ("obj", "stl", "ply", "glb")


def _beside(name: str) -> str:
    """A path in the same folder or one below it: a stranger's build file must not name what is no scan of the build."""
    parts = name.split("/")
    odd = any(ord(c) < 32 or c in "\\:" for c in name) or any(p in ("", ".", "..") for p in parts)
    if odd or name.rsplit(".", 1)[-1].lower() not in SCAN_KINDS:
        raise ValueError(f'"{name[-60:]}" is no mesh file beside the build: name an OBJ, STL, PLY or GLB there')
    return name


ScanName = Annotated[str, Field(max_length=200), AfterValidator(_beside)]


Turned = Annotated[float, Field(ge=-180, le=180)]
"""Degrees about the vertical."""


class ScanReading(Decision):
    """A segment read off a scan instead of a tape.

    scan: the scan's file name (in a build file, its path beside the build). unit, up, front: how the file's own
    numbers are to be read. turned: degrees by which the body faces past that front, counterclockwise from above. low,
    high: the segment's end points and ahead: a direction that is its front, in mm, z up, wearer facing -y, feet at 0.
    mid: where the middle station lies from the first, mm; None: the fullest place.
    """

    segment: ScanSegment
    side: Literal["left", "right", "both"] = "both"
    scan: ScanName
    unit: UnitName = "mm"
    up: AxisName = "z"
    front: AxisName = "-y"
    turned: Turned = 0.0
    low: Place
    high: Place
    ahead: Place = (0.0, -1.0, 0.0)
    mid: Annotated[Length, Field(gt=0, le=1000)] | None = None

    @property
    def key(self) -> str:
        """Segment and side, such as "forearm.left"."""
        return f"{self.segment}.{self.side}"


class Measurements(Decision):
    """One dated set. confirmed: identities of questions the maker has answered with "it is right".

    scans: segments whose tube comes from a scan; they go before tape readings of the same segment.
    """

    taken_on: Day
    limbs: tuple[LimbReading, ...] = ()
    torso: TorsoReading | None = None
    scans: Annotated[tuple[ScanReading, ...], Field(max_length=20)] = ()
    confirmed: tuple[str, ...] = ()
    note: Annotated[str, Field(max_length=2000)] = ""

    def limb(self, segment: SegmentName, side: Side) -> LimbReading | None:
        """The reading that holds for this side: its own if there is one, else the shared one."""
        own = [x for x in self.limbs if x.segment == segment and x.side == side]
        shared = [x for x in self.limbs if x.segment == segment and x.side == "both"]
        return next(iter(own + shared), None)

    def scan(self, part: BodyPart, side: Side) -> ScanReading | None:
        """The scan that holds for this side of a part, if there is one: its own, a shared one, or that of the other
        side, turned over, where nobody measured this one."""
        found = sorted((x for x in self.scans if x.segment == part), key=lambda x: (x.side != side, x.side != "both"))
        first = next(iter(found), None)
        if first is None or first.side in (side, "both"):
            return first
        return first if part == "torso" or self.limb(part, side) is None else None


def check_possible(measures: Measurements) -> None:
    """Refuse what cannot be on any body. Raises CraftError naming the field."""
    seen: set[str] = set()
    for limb in measures.limbs:
        if limb.key in seen:
            raise CraftError(f"{limb.segment} is given twice for {limb.side}; keep one", f"limbs.{limb.key}")
        seen.add(limb.key)
        _check_limb(limb, SEGMENTS[limb.segment])
    if measures.torso is not None:
        check_torso(measures.torso)
    scanned = [x.key for x in measures.scans]
    for key in scanned:
        if scanned.count(key) > 1:
            raise CraftError(f"{key.replace('.', ', ')} is read off two scans; keep one", f"scans.{key}")


def _check_limb(limb: LimbReading, segment: Segment) -> None:
    known = [s.name for s in segment.stations]
    for name, reading in limb.stations.items():
        if name not in known:
            raise CraftError(
                f'{segment.word} has no station "{name}"; it has {", ".join(known)}', f"limbs.{limb.key}.{name}"
            )
        if reading.body_girth < 0:
            raise CraftError(
                f"{name}: a {reading.strip:g} mm strip alone reads {math.pi * reading.strip:.0f} mm, more than the "
                "girth given",
                f"limbs.{limb.key}.{name}.girth",
            )
    given = [(n, limb.stations[n].at) for n in known if n in limb.stations]
    for (low, low_at), (high, high_at) in itertools.pairwise(given):
        if high_at <= low_at:
            raise CraftError(
                f"{high} is measured at {high_at:g} mm but lies beyond {low} at {low_at:g} mm; distances grow along "
                "the limb",
                f"limbs.{limb.key}.{high}.at",
            )


def question_measures(measures: Measurements) -> list[Question]:
    """Everything unlikely in a set that the maker has not confirmed yet, in words."""
    asked = [q for limb in measures.limbs for q in _limb_questions(limb, SEGMENTS[limb.segment])]
    asked += question_torso(measures.torso) if measures.torso else []
    return [q for q in asked if q.key not in measures.confirmed]


def _limb_questions(limb: LimbReading, segment: Segment) -> list[Question]:
    out = []
    for station in segment.stations:
        reading = limb.stations.get(station.name)
        if reading is not None:
            out += _range_question(limb, f"{station.name}.girth", station.name, reading.body_girth, station.girth)
    if limb.gate is not None and segment.gate is not None:
        out += _range_question(limb, "gate", segment.gate.name, limb.gate, segment.gate.girth)
    first, last = (limb.stations.get(segment.stations[i].name) for i in (0, -1))
    if first and last and first.body_girth >= last.body_girth:
        names = segment.stations[0].name, segment.stations[-1].name
        out.append(
            Question(
                key=f"{limb.key}.taper={first.girth:g}/{last.girth:g}",
                field=f"limbs.{limb.key}.{names[0]}.girth",
                message=f"The {names[0]} ({first.body_girth:.0f} mm) is not smaller than the {names[1]} "
                f"({last.body_girth:.0f} mm). Were the two swapped?",
            )
        )
    return out


def _range_question(
    limb: LimbReading, path: str, word: str, girth: float, ordinary: tuple[float, float]
) -> list[Question]:
    least, most = ordinary
    if least <= girth <= most:
        return []
    size = "small" if girth < least else "large"
    field = f"limbs.{limb.key}.{path}"
    message = (
        f"{word.capitalize()} {girth:.0f} mm is very {size}: adults are about {least:.0f} to {most:.0f} mm. "
        "Read the tape again, and the unit."
    )
    return [Question(key=f"{limb.key}.{path}={girth:g}", field=field, message=message)]


def changes_since(old: Measurements, new: Measurements) -> list[Finding]:
    """What changed from an earlier set to a later one, a sentence each, largest first."""
    before = _girths(old)
    found: list[tuple[float, Finding]] = []
    for (field, name), girth in _girths(new).items():
        delta = girth - before.get((field, name), girth)
        if abs(delta) >= 1.0:
            words = f"{name.capitalize()} {'grew' if delta > 0 else 'shrank'} by {abs(delta):.0f} mm"
            found.append((abs(delta), Finding("say", words, field)))
    return [f for _, f in sorted(found, key=lambda item: -item[0])]


def _girths(measures: Measurements) -> dict[tuple[str, str], float]:
    """Body girths of a set by field and name, mm."""
    out = {
        (f"limbs.{limb.key}.{name}.girth", name): reading.body_girth
        for limb in measures.limbs
        for name, reading in limb.stations.items()
    }
    torso = measures.torso.girths if measures.torso else {}
    return out | {(f"torso.{name}", str(name)): reading.body_girth for name, reading in torso.items()}


def stations_of(part: BodyPart) -> tuple[str, ...]:
    """Station names of a part of the body, from its low end."""
    return TORSO_STATIONS if part == "torso" else tuple(s.name for s in SEGMENTS[part].stations)
