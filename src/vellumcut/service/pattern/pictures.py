"""Reference pictures laid under a piece's ink."""

import io
import struct
from collections.abc import AsyncIterator
from pathlib import Path

from PIL import Image, UnidentifiedImageError
from sqlalchemy import select

from vellumcut.core.errors import CraftError
from vellumcut.service.errors import NotFound
from vellumcut.service.rows import fetch
from vellumcut.store.database import Store
from vellumcut.store.files import arriving, file_in
from vellumcut.store.models import Json, Piece, ReferencePicture

LARGEST_PICTURE = 20_000_000
"""Bytes."""
MOST_PIXELS = 50_000_000
MOST_STRETCHED = 20
WIDEST_KEPT = 2400
"""Pixels; a reference is looked at, not measured finer than a marker's tip."""


def pictures_folder(store: Store) -> Path:
    return store.folder / "pictures"


async def read_upload(body: AsyncIterator[bytes]) -> bytes:
    """The whole upload. Raises CraftError when it is too large."""
    content = bytearray()
    async for block in body:
        content += block
        if len(content) > LARGEST_PICTURE:
            raise CraftError(f"The picture is larger than {LARGEST_PICTURE // 1_000_000} MB", "file")
    return bytes(content)


def keep_picture(store: Store, piece: int, name: str, content: bytes) -> ReferencePicture:
    """Lay a JPEG, PNG or WebP under a piece's ink, in place of the one before. Raises CraftError."""
    image = open_picture(content)
    if max(image.size) > WIDEST_KEPT:
        image.thumbnail((WIDEST_KEPT, WIDEST_KEPT))
    out = io.BytesIO()
    image.convert("RGB").save(out, "JPEG", quality=88)
    scale = 500.0 / image.size[1]
    content = out.getvalue()
    with (
        arriving(pictures_folder(store), "jpg", content) as file,
        store.write("Lay a picture under the ink") as session,
    ):
        fetch(session, Piece, piece)
        for old in session.scalars(
            select(ReferencePicture).where(ReferencePicture.piece_id == piece, ~ReferencePicture.removed)
        ):
            old.removed = True
        row = ReferencePicture(
            piece_id=piece,
            name=name[:200],
            file=file.name,
            size=list(image.size),
            placing={"at": [-image.size[0] * scale / 2, 500.0], "scale": scale, "opacity": 0.5, "shown": True},
        )
        session.add(row)
    return row


def open_picture(content: bytes) -> Image.Image:
    """A JPEG, PNG or WebP within bounds. Raises CraftError."""
    try:
        image = Image.open(io.BytesIO(content), formats=("JPEG", "PNG", "WEBP"))
        if image.size[0] * image.size[1] > MOST_PIXELS:
            raise CraftError(f"The picture has over {MOST_PIXELS // 1_000_000} million pixels", "file")
        if max(image.size) > MOST_STRETCHED * min(image.size):
            raise CraftError(f"The picture is over {MOST_STRETCHED} times as long as it is wide: crop it first", "file")
        image.load()
    except CraftError:
        raise
    except (
        UnidentifiedImageError,
        OSError,
        ValueError,
        SyntaxError,
        EOFError,
        struct.error,
        Image.DecompressionBombError,
    ):
        raise CraftError("The file is not a JPEG, PNG or WebP picture, or is broken", "file") from None
    return image


def picture_of(store: Store, piece: int) -> ReferencePicture | None:
    with store.read() as session:
        fetch(session, Piece, piece)
        wanted = select(ReferencePicture).where(ReferencePicture.piece_id == piece, ~ReferencePicture.removed)
        return session.scalars(wanted.order_by(ReferencePicture.id.desc())).first()


def place_picture(store: Store, number: int, placing: Json) -> ReferencePicture:
    with store.write("Move the picture") as session:
        row = fetch(session, ReferencePicture, number)
        row.placing = placing
    return row


def remove_picture(store: Store, number: int) -> None:
    with store.write("Take the picture away") as session:
        fetch(session, ReferencePicture, number).removed = True


def picture_file(store: Store, number: int) -> Path:
    with store.read() as session:
        path = file_in(pictures_folder(store), fetch(session, ReferencePicture, number).file)
    if path is None:
        raise NotFound("The picture's file is gone from the data folder; take the picture away or lay it again")
    return path
