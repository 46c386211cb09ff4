"""Wearers and measurement sets."""

from fastapi import APIRouter

from vellumcut.api import schemas as s
from vellumcut.api.deps import Csv, Id, StoreDep
from vellumcut.core.body.measures import Measurements
from vellumcut.formats.csv_table import write_csv
from vellumcut.service import wearers

router = APIRouter(tags=["wearers"])


@router.get("/wearers")
def list_wearers(store: StoreDep) -> list[s.WearerOut]:
    return [s.WearerOut.model_validate(w) for w in wearers.list_wearers(store)]


@router.post("/wearers", status_code=201)
def add_wearer(store: StoreDep, body: s.WearerIn) -> s.WearerOut:
    return s.WearerOut.model_validate(wearers.add_wearer(store, body.name, body.note))


@router.put("/wearers/{wearer}")
def change_wearer(store: StoreDep, wearer: Id, body: s.WearerIn) -> s.WearerOut:
    return s.WearerOut.model_validate(wearers.change_wearer(store, wearer, body.name, body.note))


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
def change_set(store: StoreDep, number: Id, body: Measurements) -> s.SetOut:
    return s.SetOut.model_validate(wearers.change_set(store, number, body))


@router.delete("/measurement-sets/{number}", status_code=204)
def remove_set(store: StoreDep, number: Id) -> None:
    wearers.remove_set(store, number)


@router.get("/wearers/{wearer}/history")
def history(store: StoreDep, wearer: Id) -> s.HistoryOut:
    measures, changes = wearers.measure_history(store, wearer)
    return s.HistoryOut(measures=[s.HistoryRow.model_validate(m) for m in measures], changes=changes)


@router.get("/wearers/{wearer}/measurements.csv", response_class=Csv)
def measurements_csv(store: StoreDep, wearer: Id) -> Csv:
    rows = [
        (kept.readings.taken_on, limb.segment, limb.side, name, r.at, r.girth, r.tool, r.strip, r.body_girth, r.ratio)
        for kept in wearers.list_sets(store, wearer)
        for limb in kept.readings.limbs
        for name, r in limb.stations.items()
    ]
    head = (
        "taken on",
        "limb",
        "side",
        "station",
        "at mm",
        "read mm",
        "tool",
        "strip mm",
        "body girth mm",
        "depth / width",
    )
    return Csv(write_csv(head, rows))
