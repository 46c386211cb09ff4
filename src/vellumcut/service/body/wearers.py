"""Wearers and their dated measurements."""

from dataclasses import dataclass
from datetime import date

from sqlalchemy import select
from sqlalchemy.orm import Session

from vellumcut.core.body.measures import Measurements, changes_since, check_possible, question_measures
from vellumcut.core.body.readings import StationReading
from vellumcut.core.cast.stations import question_scans
from vellumcut.core.errors import CraftError
from vellumcut.core.notes import Finding
from vellumcut.service.body.scans import scanned_tubes, scans_folder
from vellumcut.service.errors import Unsure
from vellumcut.service.merging import beside_others, tag_of_row
from vellumcut.service.rows import fetch, readings_of
from vellumcut.store.database import Store
from vellumcut.store.models import Build, MeasurementSet, Wearer


@dataclass(frozen=True)
class KeptSet:
    id: int
    wearer_id: int
    readings: Measurements
    tag: str


@dataclass(frozen=True)
class MeasureHistory:
    """One measure over the years: dates and body girths in mm, oldest first."""

    key: str
    segment: str
    side: str
    station: str
    dates: list[date]
    girths: list[float]


def list_wearers(store: Store) -> list[Wearer]:
    with store.read() as session:
        return list(session.scalars(select(Wearer).where(~Wearer.removed).order_by(Wearer.name)))


def add_wearer(store: Store, name: str, note: str = "") -> Wearer:
    with store.write(f"Add {name}") as session:
        wearer = Wearer(name=name, note=note)
        session.add(wearer)
    return wearer


def change_wearer(store: Store, number: int, name: str, note: str, seen: str | None = None) -> Wearer:
    """seen: see ``beside_others``. Raises Overtaken."""
    with store.write(f"Change {name}") as session:
        wearer = fetch(session, Wearer, number)
        kept = beside_others(session, wearer, {"name": name, "note": note}, seen)
        wearer.name, wearer.note = kept["name"], kept["note"]
    return wearer


def remove_wearer(store: Store, number: int) -> None:
    """Raises CraftError while a build is for this wearer."""
    with store.write("Remove wearer") as session:
        wearer = fetch(session, Wearer, number)
        if session.scalars(select(Build).where(Build.wearer_id == number, ~Build.removed)).first():
            raise CraftError(f"{wearer.name} has builds; remove those first")
        wearer.removed = True


def list_sets(store: Store, wearer: int) -> list[KeptSet]:
    """All sets of a wearer, newest first."""
    with store.read() as session:
        fetch(session, Wearer, wearer)
        return [KeptSet(row.id, wearer, readings_of(row), tag_of_row(row)) for row in _sets(session, wearer)]


def _sets(session: Session, wearer: int) -> list[MeasurementSet]:
    wanted = select(MeasurementSet).where(MeasurementSet.wearer_id == wearer, ~MeasurementSet.removed)
    return list(session.scalars(wanted.order_by(MeasurementSet.taken_on.desc(), MeasurementSet.id.desc())))


def newest_readings(session: Session, wearer: int) -> Measurements:
    """The set that patterns are made from. Raises CraftError when nothing has been measured."""
    rows = _sets(session, wearer)
    if not rows:
        raise CraftError("Nobody has been measured for this build yet", "measurements")
    return readings_of(rows[0])


def _check(store: Store, readings: Measurements) -> None:
    check_possible(readings)
    questions = question_measures(readings)
    if readings.scans:
        questions += question_scans(readings, scanned_tubes(scans_folder(store), readings))
    if questions:
        raise Unsure(questions)


def add_sets(store: Store, wearer: int, sets: list[Measurements]) -> list[KeptSet]:
    """Several sets at once, all or none. Raises CraftError for the impossible, Unsure for the unlikely."""
    for readings in sets:
        _check(store, readings)
    with store.write("Bring in measurements") as session:
        fetch(session, Wearer, wearer)
        rows = [MeasurementSet(wearer_id=wearer, taken_on=r.taken_on, readings=r.model_dump(mode="json")) for r in sets]
        session.add_all(rows)
    return [KeptSet(row.id, wearer, r, tag_of_row(row)) for row, r in zip(rows, sets, strict=True)]


def add_set(store: Store, wearer: int, readings: Measurements) -> KeptSet:
    """Raises CraftError for the impossible, Unsure for the unlikely that is not confirmed."""
    _check(store, readings)
    with store.write(f"Measure on {readings.taken_on:%d %b %Y}") as session:
        fetch(session, Wearer, wearer)
        row = MeasurementSet(wearer_id=wearer, taken_on=readings.taken_on, readings=readings.model_dump(mode="json"))
        session.add(row)
    return KeptSet(row.id, wearer, readings, tag_of_row(row))


def change_set(store: Store, number: int, readings: Measurements, seen: str | None = None) -> KeptSet:
    """As ``add_set``, for a set that is there already. seen: see ``beside_others``. Raises Overtaken."""
    _check(store, readings)
    with store.write("Change a measure") as session:
        row = fetch(session, MeasurementSet, number)
        kept = beside_others(session, row, {"readings": readings.model_dump(mode="json")}, seen)
        readings = Measurements.model_validate(kept["readings"])
        check_possible(readings)
        row.taken_on, row.readings = readings.taken_on, readings.model_dump(mode="json")
    return KeptSet(number, row.wearer_id, readings, tag_of_row(row))


def remove_set(store: Store, number: int) -> None:
    with store.write("Remove a measurement set") as session:
        fetch(session, MeasurementSet, number).removed = True


def measure_history(store: Store, wearer: int) -> tuple[list[MeasureHistory], list[Finding]]:
    """Every girth over all sets, and what changed between the last two."""
    sets = [kept.readings for kept in list_sets(store, wearer)][::-1]
    rows: dict[str, MeasureHistory] = {}
    for readings in sets:
        read: list[tuple[str, str, str, str, StationReading]] = [
            (x.key, x.segment, x.side, n, r) for x in readings.limbs for n, r in x.stations.items()
        ]
        if readings.torso is not None:
            read += [("torso.both", "torso", "both", n, r) for n, r in readings.torso.girths.items()]
        for part, segment, side, station, reading in read:
            key = f"{part}.{station}"
            row = rows.setdefault(key, MeasureHistory(key, segment, side, station, [], []))
            row.dates.append(readings.taken_on)
            row.girths.append(reading.body_girth)
    return list(rows.values()), changes_since(sets[-2], sets[-1]) if len(sets) > 1 else []
