"""Measurement readings, what is impossible about them, and what deserves a question."""

import itertools
import math
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from vellumcut.core.body.segments import SEGMENTS, Segment, SegmentName, Side
from vellumcut.core.errors import CraftError
from vellumcut.core.notes import Finding
from vellumcut.core.units import Day, Length

MOST_GIRTH = 20_000.0
"""Above this a girth is no slip of the tape but nonsense, mm."""

Ratio = Annotated[float, Field(ge=0.3, le=3.0, allow_inf_nan=False)]


class Decision(BaseModel):
    """Base of everything a person decides: strict about unknown fields, never changed in place."""

    model_config = ConfigDict(frozen=True, extra="forbid", json_schema_serialization_defaults_required=True)


class StationReading(Decision):
    """What the tape said at one station.

    at: distance from the limb's first station along the limb, mm. girth: as read, mm.
    tool: a foam strip of ``strip`` mm laid under the tape reads pi*strip too much.
    ratio: depth (front to back) over width; None means not measured, and the limb is taken as round.
    """

    at: Annotated[Length, Field(ge=0, le=2000)] = 0.0
    girth: Annotated[Length, Field(ge=0, le=MOST_GIRTH)]
    tool: Literal["tape", "foam"] = "tape"
    strip: Annotated[Length, Field(ge=0, le=30)] = 0.0
    ratio: Ratio | None = None

    @property
    def body_girth(self) -> float:
        """Girth of the body under the strip, mm: a strip's middle layer lies strip/2 out, so pi*strip longer."""
        return self.girth - (math.pi * self.strip if self.tool == "foam" else 0.0)


class LimbReading(Decision):
    """The stations of one limb; ``side`` "both" is shared by left and right. gate: hand or heel girth, mm."""

    segment: SegmentName
    side: Literal["left", "right", "both"] = "both"
    stations: dict[str, StationReading]
    gate: Annotated[Length, Field(ge=0, le=MOST_GIRTH)] | None = None

    @property
    def key(self) -> str:
        return f"{self.segment}.{self.side}"


class Measurements(Decision):
    """One dated set. confirmed: identities of questions the maker has answered with "it is right"."""

    taken_on: Day
    limbs: tuple[LimbReading, ...] = ()
    confirmed: tuple[str, ...] = ()
    note: Annotated[str, Field(max_length=2000)] = ""

    def limb(self, segment: SegmentName, side: Side) -> LimbReading | None:
        """The reading that holds for this side: its own if there is one, else the shared one."""
        own = [x for x in self.limbs if x.segment == segment and x.side == side]
        shared = [x for x in self.limbs if x.segment == segment and x.side == "both"]
        return next(iter(own + shared), None)


class Question(Decision):
    """A reading that is unlikely. key: identity of question and value, to confirm it by."""

    key: str
    field: str
    message: str


def check_possible(measures: Measurements) -> None:
    """Refuse what cannot be on any body. Raises CraftError naming the field."""
    seen: set[str] = set()
    for limb in measures.limbs:
        if limb.key in seen:
            raise CraftError(f"{limb.segment} is given twice for {limb.side}; keep one", f"limbs.{limb.key}")
        seen.add(limb.key)
        _check_limb(limb, SEGMENTS[limb.segment])


def _check_limb(limb: LimbReading, segment: Segment) -> None:
    known = [s.name for s in segment.stations]
    for name, reading in limb.stations.items():
        if name not in known:
            raise CraftError(
                f'{segment.word} has no station "{name}"; it has {", ".join(known)}', f"limbs.{limb.key}.{name}"
            )
        if reading.body_girth < 0:
            raise CraftError(
                f"{name}: a {reading.strip:g} mm strip alone reads {math.pi * reading.strip:.0f} mm, more than the girth given",
                f"limbs.{limb.key}.{name}.girth",
            )
    given = [(n, limb.stations[n].at) for n in known if n in limb.stations]
    for (low, low_at), (high, high_at) in itertools.pairwise(given):
        if high_at <= low_at:
            raise CraftError(
                f"{high} is measured at {high_at:g} mm but lies beyond {low} at {low_at:g} mm; distances grow along the limb",
                f"limbs.{limb.key}.{high}.at",
            )


def question_measures(measures: Measurements) -> list[Question]:
    """Everything unlikely in a set that the maker has not confirmed yet, in words."""
    asked = [q for limb in measures.limbs for q in _limb_questions(limb, SEGMENTS[limb.segment])]
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
    found: list[tuple[float, Finding]] = []
    for limb in new.limbs:
        before = next((x for x in old.limbs if x.key == limb.key), None)
        for name, reading in limb.stations.items():
            earlier = before.stations.get(name) if before else None
            if earlier is None:
                continue
            delta = reading.body_girth - earlier.body_girth
            if abs(delta) >= 1.0:
                words = f"{name.capitalize()} {'grew' if delta > 0 else 'shrank'} by {abs(delta):.0f} mm"
                found.append((abs(delta), Finding("say", words, f"limbs.{limb.key}.{name}.girth")))
    return [f for _, f in sorted(found, key=lambda item: -item[0])]
