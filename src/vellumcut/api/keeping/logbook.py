"""Logbook entries and fit sessions."""

from datetime import datetime

from vellumcut.api.deps import Csv, Id, StoreDep, routes
from vellumcut.api.keeping import logbook_schemas as s
from vellumcut.core.worn.fit import FitFinding, fit_note
from vellumcut.formats.csv_table import write_csv
from vellumcut.service.keeping import builds, logbook
from vellumcut.store.database import Store
from vellumcut.store.models import FitSession

router = routes("logbook")


@router.get("/builds/{build}/log-entries")
def entries(store: StoreDep, build: Id) -> list[s.LogOut]:
    return [s.LogOut.model_validate(e) for e in logbook.list_entries(store, build)]


@router.post("/builds/{build}/log-entries", status_code=201)
def write(store: StoreDep, build: Id, body: s.LogIn) -> s.LogOut:
    return s.LogOut.model_validate(logbook.write_entry(store, build, body.text, body.piece_id, worn=body.worn))


@router.delete("/log-entries/{entry}", status_code=204)
def remove(store: StoreDep, entry: Id) -> None:
    logbook.remove_entry(store, entry)


@router.get("/builds/{build}/log.csv", response_class=Csv)
def log_csv(store: StoreDep, build: Id) -> Csv:
    rows = [
        (
            datetime.fromtimestamp(e.written_at).isoformat(" ", "minutes"),
            e.text,
            *(e.worn.get(x, "") for x in ("hours", "weather", "hurt", "came_off", "broke")),
            "; ".join(e.worn.get("happened", ())),
        )
        for e in logbook.list_entries(store, build)
    ]
    return Csv(
        write_csv(("written at", "entry", "hours worn", "weather", "hurt", "came off", "broke", "mishaps"), rows)
    )


def _fit(store: Store, fit: FitSession) -> s.FitOut:
    findings = [FitFinding.model_validate(f) for f in fit.findings]
    design = builds.work_on(store, fit.piece_id).design
    pending = fit.accepted_version is None
    return s.FitOut(
        id=fit.id,
        piece_id=fit.piece_id,
        fitted_at=fit.fitted_at,
        findings=findings,
        note=fit.note,
        accepted_version=fit.accepted_version,
        notes=[fit_note(design, f) for f in findings if f.feel != "good"] if pending else [],
    )


@router.get("/pieces/{piece}/fit-sessions")
def fits(store: StoreDep, piece: Id) -> list[s.FitOut]:
    return [_fit(store, fit) for fit in logbook.list_fits(store, piece)]


@router.post("/pieces/{piece}/fit-sessions", status_code=201)
def note_fit(store: StoreDep, piece: Id, body: s.FitIn) -> s.FitOut:
    return _fit(store, logbook.note_fit(store, piece, body.findings, body.note))


@router.post("/fit-sessions/{fit}/accept")
def accept(store: StoreDep, fit: Id) -> s.FitOut:
    return _fit(store, logbook.accept_fit(store, fit))
