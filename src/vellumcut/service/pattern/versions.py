"""Kept versions of pieces: for ever, never changed."""

import time
from dataclasses import replace

from sqlalchemy import Select, select
from sqlalchemy.orm import Session

from vellumcut.core.body.measures import Measurements
from vellumcut.core.design.piece import PieceDesign
from vellumcut.service.body.scans import scanned_tubes, scans_folder
from vellumcut.service.errors import NotFound
from vellumcut.service.keeping.builds import Work, work_in, work_on
from vellumcut.service.rows import fetch
from vellumcut.store.database import Store
from vellumcut.store.models import Piece, PieceVersion


def list_versions(store: Store, piece: int) -> list[PieceVersion]:
    with store.read() as session:
        fetch(session, Piece, piece)
        return list(session.scalars(_of(piece)))


def keep_version(session: Session, work: Work, name: str) -> PieceVersion:
    """Keep the pattern as it is, for ever."""
    number = max((v.number for v in session.scalars(_of(work.piece_id))), default=0) + 1
    version = PieceVersion(
        piece_id=work.piece_id,
        number=number,
        name=name,
        kept_at=time.time(),
        design=work.design.model_dump(mode="json"),
        readings=work.readings.model_dump(mode="json"),
    )
    session.add(version)
    session.flush()
    return version


def keep_now(store: Store, piece: int, name: str) -> PieceVersion:
    with store.write() as session:
        return keep_version(session, work_in(session, piece), name)


def work_at(store: Store, piece: int, number: int | None) -> Work:
    """What a kept pattern was made from, on the measures of then; None: as it is now. Raises NotFound."""
    if number is None:
        return work_on(store, piece)
    with store.read() as session:
        now, kept = work_in(session, piece), _fetch_version(session, piece, number)
    design, readings = _made_from(kept)
    return replace(now, design=design, readings=readings, scanned=scanned_tubes(scans_folder(store), readings))


def put_back(store: Store, piece: int, number: int) -> None:
    """Draw the piece again as it was kept, on the newest measures. Raises NotFound."""
    with store.write(f"Put back version {number}") as session:
        design, _ = _made_from(_fetch_version(session, piece, number))
        fetch(session, Piece, piece).design = design.model_dump(mode="json")


def changed_since(store: Store, work: Work) -> int | None:
    """Number of the newest kept version if the pattern has changed since; None if it has not or none is kept."""
    kept = list_versions(store, work.piece_id)
    same = not kept or _made_from(kept[-1]) == (work.design, work.readings)
    return None if same else kept[-1].number


def _made_from(kept: PieceVersion) -> tuple[PieceDesign, Measurements]:
    return PieceDesign.model_validate(kept.design), Measurements.model_validate(kept.readings)


def _of(piece: int) -> Select[PieceVersion]:
    return select(PieceVersion).where(PieceVersion.piece_id == piece).order_by(PieceVersion.number)


def _fetch_version(session: Session, piece: int, number: int) -> PieceVersion:
    row = fetch(session, Piece, piece)
    kept = session.scalars(_of(piece).where(PieceVersion.number == number)).first()
    if kept is None:
        raise NotFound(f"{row.name} has no version {number}")
    return kept
