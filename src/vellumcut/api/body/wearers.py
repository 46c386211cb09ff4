"""Wearers and measurement sets."""

from vellumcut.api import schemas as s
from vellumcut.api.body.schemas import CompletedOut, CsvIn
from vellumcut.api.deps import Csv, Id, Seen, StoreDep, routes
from vellumcut.api.views import complete_view, wearer_view
from vellumcut.core.body.measures import Measurements
from vellumcut.formats.body.measures_csv import HEAD, measure_rows, read_measures
from vellumcut.formats.csv_table import write_csv
from vellumcut.service.body import wearers

router = routes("wearers")


@router.get("/wearers")
def list_wearers(store: StoreDep) -> list[s.WearerOut]:
    return [wearer_view(w) for w in wearers.list_wearers(store)]


@router.post("/wearers", status_code=201)
def add_wearer(store: StoreDep, body: s.WearerIn) -> s.WearerOut:
    return wearer_view(wearers.add_wearer(store, body.name, body.note))


@router.put("/wearers/{wearer}")
def change_wearer(store: StoreDep, wearer: Id, body: s.WearerIn, seen: Seen) -> s.WearerOut:
    return wearer_view(wearers.change_wearer(store, wearer, body.name, body.note, seen))


@router.delete("/wearers/{wearer}", status_code=204)
def remove_wearer(store: StoreDep, wearer: Id) -> None:
    wearers.remove_wearer(store, wearer)


@router.get("/wearers/{wearer}/measurement-sets")
def list_sets(store: StoreDep, wearer: Id) -> list[s.SetOut]:
    return [s.SetOut.model_validate(kept) for kept in wearers.list_sets(store, wearer)]


@router.post("/wearers/{wearer}/measurement-sets", status_code=201)
def add_set(store: StoreDep, wearer: Id, body: Measurements) -> s.SetOut:
    return s.SetOut.model_validate(wearers.add_set(store, wearer, body))


@router.put("/measurement-sets/{number}")
def change_set(store: StoreDep, number: Id, body: Measurements, seen: Seen) -> s.SetOut:
    return s.SetOut.model_validate(wearers.change_set(store, number, body, seen))


@router.delete("/measurement-sets/{number}", status_code=204)
def remove_set(store: StoreDep, number: Id) -> None:
    wearers.remove_set(store, number)


@router.get("/wearers/{wearer}/history")
def history(store: StoreDep, wearer: Id) -> s.HistoryOut:
    measures, changes = wearers.measure_history(store, wearer)
    return s.HistoryOut(measures=[s.HistoryRow.model_validate(m) for m in measures], changes=changes)


@router.get("/wearers/{wearer}/measurements.csv", response_class=Csv)
def measurements_csv(store: StoreDep, wearer: Id) -> Csv:
    return Csv(write_csv(HEAD, measure_rows([kept.readings for kept in wearers.list_sets(store, wearer)])))


@router.post("/wearers/{wearer}/measurements/from-csv", status_code=201)
def measurements_from_csv(store: StoreDep, wearer: Id, body: CsvIn) -> list[s.SetOut]:
    """Bring in sets from a table as ``measurements.csv`` writes it; all of them or none."""
    return [s.SetOut.model_validate(k) for k in wearers.add_sets(store, wearer, read_measures(body.text))]


@router.post("/measurements/completed")
def completed(body: Measurements) -> CompletedOut:
    """A set with what proportion fills in, each guess marked; nothing is kept."""
    return complete_view(body)
