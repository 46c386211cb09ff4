"""Photographs at the bench: of a step, or of the reference a piece is made after. Kept small, and without where and
when."""

import io
from pathlib import Path

from PIL import ImageOps
from sqlalchemy import select

from vellumcut.core.errors import CraftError
from vellumcut.service import clock
from vellumcut.service.errors import NotFound
from vellumcut.service.pattern.pictures import open_picture
from vellumcut.service.rows import fetch
from vellumcut.store.database import Store
from vellumcut.store.files import arriving, file_in
from vellumcut.store.models import BenchPicture, Piece

WIDEST = 1600
"""Pixels: more than a phone shows, a tenth of what it takes."""
MOST = 200
"""Photographs of one piece."""


def photographs_folder(store: Store) -> Path:
    return store.folder / "photographs"


def add_photograph(store: Store, piece: int, step: str, words: str, content: bytes) -> BenchPicture:
    """Keep a JPEG, PNG or WebP, turned as it was taken and rid of all that a camera writes beside it. Raises
    CraftError."""
    image = ImageOps.exif_transpose(open_picture(content))
    image.thumbnail((WIDEST, WIDEST))
    out = io.BytesIO()
    image.convert("RGB").save(out, "JPEG", quality=85)
    with (
        arriving(photographs_folder(store), "jpg", out.getvalue()) as file,
        store.write("Add a photograph") as session,
    ):
        fetch(session, Piece, piece)
        if len(session.scalars(_of(piece)).all()) >= MOST:
            raise CraftError(f"A piece keeps {MOST} photographs; take some away first", "file")
        row = BenchPicture(piece_id=piece, step=step[:160], words=words[:200], file=file.name, taken_at=clock.now())
        session.add(row)
    return row


def _of(piece: int):  # type: ignore[no-untyped-def]
    return select(BenchPicture).where(BenchPicture.piece_id == piece, ~BenchPicture.removed).order_by(BenchPicture.id)


def photographs_of(store: Store, piece: int) -> list[BenchPicture]:
    with store.read() as session:
        fetch(session, Piece, piece)
        return list(session.scalars(_of(piece)))


def change_words(store: Store, number: int, words: str) -> BenchPicture:
    with store.write("Name a photograph") as session:
        row = fetch(session, BenchPicture, number)
        row.words = words[:200]
    return row


def remove_photograph(store: Store, number: int) -> None:
    with store.write("Take a photograph away") as session:
        fetch(session, BenchPicture, number).removed = True


def photograph_file(store: Store, number: int) -> Path:
    with store.read() as session:
        path = file_in(photographs_folder(store), fetch(session, BenchPicture, number).file)
    if path is None:
        raise NotFound("The photograph's file is gone from the data folder; take it away or add it again")
    return path
