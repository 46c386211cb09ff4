"""All of a data folder in one archive, and back: consistent while the server writes, checked before anything
changes."""

import hashlib
import json
import logging
import os
import re
import shutil
import sqlite3
import tempfile
import time
import zipfile
from pathlib import Path

from pydantic import TypeAdapter
from sqlalchemy import Engine

from vellumcut.core.errors import CraftError
from vellumcut.formats.keeping.archive import open_archive
from vellumcut.service.errors import NotFound
from vellumcut.service.keeping.histories import HOLDS
from vellumcut.store.copies import FOLDER, copy_database, list_copies, read_only, snapshot
from vellumcut.store.database import DATABASE, FOLDERS, Store, known_revision
from vellumcut.store.files import SCRATCH
from vellumcut.store.sound import rows_of, strange_table, upgraded

MANIFEST = "manifest.json"
FORMAT = "vellumcut-backup"
LARGEST_BACKUP = 8_000_000_000
"""Bytes as it is sent."""
_BLOCK = 1 << 20
ADAPTERS = {where: TypeAdapter(held) for where, held in HOLDS.items()}
log = logging.getLogger("vellumcut")


def write_backup(folder: Path, target: Path) -> Path:
    """Everything of every build in one file. folder: a data folder, which a server may be using. Raises CraftError."""
    database = folder / DATABASE
    if not database.is_file():
        raise CraftError(f"{folder} is no data folder of Vellumcut: there is no {DATABASE} in it", "folder")
    part = target.with_name(f".{target.name}.part")
    try:
        with tempfile.TemporaryDirectory(prefix=SCRATCH) as scratch:
            copied = Path(scratch) / DATABASE
            snapshot(database, copied)
            # A file is there before its row is: what the copied rows name was whole by then.
            files = {DATABASE: copied} | {
                f"{name}/{p.name}": p for name in FOLDERS for p in sorted((folder / name).glob("[!i]*.*"))
            }
            with zipfile.ZipFile(part, "w", zipfile.ZIP_DEFLATED, compresslevel=3) as zipped:
                sums = {name: _add(zipped, name, path) for name, path in files.items()}
                told = {"format": FORMAT, "version": 1, "made_at": time.time(), "files": sums}
                zipped.writestr(MANIFEST, json.dumps(told, indent=1))
        with part.open("rb") as file:
            os.fsync(file.fileno())
        part.replace(target)
    except (OSError, sqlite3.Error) as error:
        why = getattr(error, "strerror", None) or str(error)
        raise CraftError(f"{target} cannot be written: {why.lower()}", "file") from None
    finally:
        part.unlink(missing_ok=True)
    return target


def _add(zipped: zipfile.ZipFile, name: str, path: Path) -> str:
    digest = hashlib.sha256()
    with path.open("rb") as file, zipped.open(name, "w", force_zip64=True) as entry:
        while block := file.read(_BLOCK):
            digest.update(block)
            entry.write(block)
    return digest.hexdigest()


def restore(store: Store, archive: Path) -> None:
    """Put a backup in the place of what is here, which is copied first. Raises CraftError; then nothing has changed."""
    with tempfile.TemporaryDirectory(prefix=SCRATCH, dir=store.folder) as scratch:
        unpacked = Path(scratch)
        _unpack(archive, unpacked)
        check_database(unpacked / DATABASE)
        for name in FOLDERS:
            for path in (unpacked / name).glob("*"):
                path.replace(store.folder / name / path.name)
        _exchange(store, unpacked / DATABASE)


def restore_copy(store: Store, name: str) -> None:
    """Go back to one of the copies that were taken by themselves. Raises NotFound."""
    if name not in {c.name for c in list_copies(store.folder)}:
        raise NotFound("There is no such copy here")
    with tempfile.TemporaryDirectory(prefix=SCRATCH, dir=store.folder) as scratch:
        taken = Path(scratch) / DATABASE
        shutil.copy2(store.folder / FOLDER / name, taken)
        check_database(taken)
        _exchange(store, taken)


def _exchange(store: Store, database: Path) -> None:
    with store.exchange():
        copy_database(store.path, store.folder, "before a restore")
        for side in ("-wal", "-shm"):
            Path(f"{store.path}{side}").unlink(missing_ok=True)
        database.replace(store.path)


def _unpack(archive: Path, into: Path) -> None:
    if not archive.is_file():
        raise CraftError(f"{archive} is not a file; nothing was changed", "file")
    with open_archive(archive, "The file is not a backup, or is damaged; nothing was changed") as zipped:
        for name, wanted in _manifest(zipped, into).items():
            _take_out(zipped, name, into / name, wanted)


def _manifest(zipped: zipfile.ZipFile, into: Path) -> dict[str, str]:
    told = json.loads(zipped.read(MANIFEST))
    if not isinstance(told, dict) or told.get("format") != FORMAT or told.get("version") != 1:
        raise CraftError("The file is not a backup that this program can read; nothing was changed")
    sums, size = told.get("files"), sum(f.file_size for f in zipped.infolist())
    if not isinstance(sums, dict) or DATABASE not in sums:
        raise CraftError("The backup holds no data; nothing was changed")
    if size > (free := shutil.disk_usage(into).free):
        raise CraftError(f"The backup wants {size / 1e6:.0f} MB and the disk has {free / 1e6:.0f}; nothing was changed")
    for name in sums:
        if name != DATABASE and not (re.fullmatch(r"(\w+)/\w[\w.-]*", name) and name.split("/")[0] in FOLDERS):
            raise CraftError("The backup holds a file that does not belong into it; nothing was changed")
    return sums


def _take_out(zipped: zipfile.ZipFile, name: str, target: Path, wanted: str) -> None:
    digest = hashlib.sha256()
    target.parent.mkdir(exist_ok=True)
    with zipped.open(name) as entry, target.open("wb") as file:
        while block := entry.read(_BLOCK):
            digest.update(block)
            file.write(block)
        file.flush()
        os.fsync(file.fileno())
    if digest.hexdigest() != wanted:
        raise CraftError(f"The backup is damaged at {name}; nothing was changed")


def check_database(path: Path) -> None:
    """Raises CraftError for a file that is no whole database of this program, or one of a newer program."""
    try:
        database = read_only(path)
        try:
            whole = database.execute("PRAGMA integrity_check").fetchone()[0]
            (revision,) = database.execute("SELECT version_num FROM alembic_version").fetchone()
        finally:
            database.close()
    except (sqlite3.Error, TypeError):
        raise CraftError("The backup's database is damaged; nothing was changed") from None
    if whole != "ok":
        raise CraftError("The backup's database is damaged; nothing was changed")
    if not known_revision(revision):
        raise CraftError("The backup was made by a newer Vellumcut; nothing was changed")
    try:
        with upgraded(path) as engine:
            if strange := strange_table(engine, path.parent):
                raise CraftError(f"The backup's database is not as Vellumcut makes it ({strange}); nothing was changed")
            _check_rows(engine)
    except CraftError:
        raise
    except Exception as error:  # whatever a migration trips over, the maker is told the same
        log.info("A backup was refused: %s", error)
        raise CraftError("The backup's database is damaged; nothing was changed") from None


def _check_rows(engine: Engine) -> None:
    """Raises CraftError for a row that the program could not read afterwards."""
    try:
        for name, row in rows_of(engine):
            for (kind, column), held in ADAPTERS.items():
                if isinstance(row, kind):
                    held.validate_python(getattr(row, column))
            if name == "change" and not all(isinstance(r, dict) for r in row.rows):
                raise ValueError(name)
    except ValueError as error:
        where = str(error) if len(str(error)) < 40 else name
        words = f"The backup holds a row of “{where}” that cannot be read; nothing was changed"
        raise CraftError(words) from None
