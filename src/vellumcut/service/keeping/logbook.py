"""The logbook: entries, and fittings that become new patterns."""

import time

from sqlalchemy import select

from vellumcut.core.errors import CraftError
from vellumcut.core.ink.templates import segment_stations
from vellumcut.core.worn.fit import FitFinding, apply_fit
from vellumcut.core.worn.wear import Wearing
from vellumcut.service.keeping.builds import work_in
from vellumcut.service.pattern.versions import keep_version
from vellumcut.service.rows import design_of, fetch
from vellumcut.store.database import Store
from vellumcut.store.models import Build, FitSession, LogEntry, Piece


def list_entries(store: Store, build: int) -> list[LogEntry]:
    """Newest first."""
    with store.read() as session:
        fetch(session, Build, build)
        wanted = select(LogEntry).where(LogEntry.build_id == build, ~LogEntry.removed)
        return list(session.scalars(wanted.order_by(LogEntry.written_at.desc(), LogEntry.id.desc())))


def write_entry(
    store: Store, build: int, text: str, piece: int | None = None, at: float | None = None, worn: Wearing | None = None
) -> LogEntry:
    """worn: what a day in the costume was like. Raises CraftError for a piece of another build."""
    with store.write("Write in the logbook") as session:
        fetch(session, Build, build)
        if piece is not None and fetch(session, Piece, piece).build_id != build:
            raise CraftError("That piece belongs to another build", "piece_id")
        entry = LogEntry(build_id=build, piece_id=piece, text=text, written_at=time.time() if at is None else at)
        entry.worn = worn.model_dump(mode="json") if worn else {}
        session.add(entry)
    return entry


def remove_entry(store: Store, number: int) -> None:
    with store.write("Remove a log entry") as session:
        fetch(session, LogEntry, number).removed = True


def list_fits(store: Store, piece: int) -> list[FitSession]:
    """Newest first."""
    with store.read() as session:
        fetch(session, Piece, piece)
        wanted = select(FitSession).where(FitSession.piece_id == piece, ~FitSession.removed)
        return list(session.scalars(wanted.order_by(FitSession.id.desc())))


def note_fit(store: Store, piece: int, findings: tuple[FitFinding, ...], note: str) -> FitSession:
    """Write down a fitting. Raises CraftError for a station the piece has not."""
    with store.write("Write down a fitting") as session:
        row = fetch(session, Piece, piece)
        stations = [f.station for f in findings]
        if len(set(stations)) != len(stations):
            raise CraftError("A station is given twice in this fitting", "findings")
        known = segment_stations(design_of(row).template)
        if unknown := [s for s in stations if s not in known]:
            raise CraftError(f'There is no station "{unknown[0]}" here; there are {", ".join(known)}', "findings")
        fit = FitSession(
            piece_id=piece,
            fitted_at=time.time(),
            findings=[f.model_dump(mode="json") for f in findings],
            note=note,
            accepted_version=None,
        )
        session.add(fit)
    return fit


def accept_fit(store: Store, number: int) -> FitSession:
    """Let a fitting change the ease: the old pattern is kept as a version, the new one too.

    Raises CraftError when it was accepted before or finds nothing to change.
    """
    with store.write("Let the fitting change the pattern") as session:
        fit = fetch(session, FitSession, number)
        if fit.accepted_version is not None:
            raise CraftError(f"This fitting is already in version {fit.accepted_version}")
        findings = tuple(FitFinding.model_validate(f) for f in fit.findings)
        work = work_in(session, fit.piece_id)
        design = apply_fit(work.design, findings)
        if design == work.design:
            raise CraftError("Everything fits: nothing to change")
        keep_version(session, work, "Before the fitting")
        piece = fetch(session, Piece, fit.piece_id)
        piece.design = design.model_dump(mode="json")
        session.flush()
        fit.accepted_version = keep_version(session, work_in(session, fit.piece_id), "After the fitting").number
    return fit
