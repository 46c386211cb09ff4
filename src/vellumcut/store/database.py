"""The database file: opened by one server at a time, copied before it is migrated and once a day, written durably."""

import logging
import os
import sqlite3
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path

from sqlalchemy import URL, Connection, Engine, create_engine, event, select, text
from sqlalchemy.exc import DBAPIError
from sqlalchemy.orm import Session

from vellumcut.store.copies import copy_database, has_copy_of_today
from vellumcut.store.files import clear_scratch, sweep
from vellumcut.store.journal import record_change
from vellumcut.store.lock import take_lock
from vellumcut.store.models import BenchPicture, ReferencePicture, Scan, TracedPhotograph

log = logging.getLogger("vellumcut")
MIGRATIONS = Path(__file__).parent / "migrations"
DATABASE = "vellumcut.sqlite3"
FOLDERS = {
    "scans": Scan.file, "pictures": ReferencePicture.file, "photographs": BenchPicture.file,
    "traces": TracedPhotograph.file, "above": TracedPhotograph.above,
    "floors": TracedPhotograph.floor,
}  # fmt: skip
"""Folders of files beside the database, and the column that names their files."""


class StoreError(Exception):
    """The data folder cannot be used, in a sentence a maker understands."""


class Store:
    """One open data folder.

    Reads may run side by side; writes go one at a time and are on the disk when ``write`` returns
    (write-ahead log, synchronous FULL), so a crash loses nothing that was acknowledged.
    """

    def __init__(self, folder: Path) -> None:
        """Open or create the folder. Raises StoreError when it is in use, unreadable or from a newer version."""
        self.folder = folder
        self._writing = threading.Lock()
        self._copied_on = ""
        try:
            for path in (folder, *(folder / name for name in FOLDERS)):
                path.mkdir(parents=True, exist_ok=True)
        except OSError as error:
            raise StoreError(f"The data folder {folder} cannot be made: {error.strerror}") from None
        self._unlock = _take_lock(folder)
        self.path = folder / DATABASE
        self.engine = engine_of(self.path)
        try:
            _migrate(self.engine, self.path)
            self._sweep()
            self._opened = os.stat(self.path).st_ino
        except BaseException:
            self._let_go()
            raise

    def close(self) -> None:
        """Everything is in the main file when this returns, so that it can be copied alone."""
        try:
            with self.engine.connect() as connection:
                connection.execute(text("PRAGMA wal_checkpoint(TRUNCATE)"))
        except DBAPIError:
            pass  # a file that was damaged or taken away is left as it is
        self._let_go()

    def _let_go(self) -> None:
        self.engine.dispose()
        self._unlock()

    @contextmanager
    def read(self) -> Iterator[Session]:
        with Session(self.engine) as session:
            yield session

    @contextmanager
    def write(self, words: str = "") -> Iterator[Session]:
        """One change, saved when the block ends. words: what it is called in undo; empty: it cannot be undone.

        Raises StoreError when the database file has been taken away or the disk is full.
        """
        with self._writing:
            self._must_be_there()
            self._copy_daily()
            try:
                with Session(self.engine, expire_on_commit=False) as session, session.begin():
                    if words:
                        record_change(session, words, time.time())
                    yield session
            except DBAPIError as error:
                raise _plain(error) from error

    def _copy_daily(self) -> None:
        """A copy that cannot be made, as on a full disk, must not keep a maker from writing."""
        if self._copied_on == time.strftime("%Y-%m-%d"):
            return
        try:
            if not has_copy_of_today(self.folder):
                copy_database(self.path, self.folder, "daily")
            self._copied_on = time.strftime("%Y-%m-%d")
        except (OSError, sqlite3.Error) as error:
            log.warning("No copy of the day could be taken: %s", error)

    @contextmanager
    def exchange(self) -> Iterator[None]:
        """Nothing is read or written meanwhile by this store; the database file may be another one afterwards."""
        with self._writing:
            self.engine.dispose()
            yield
            self.engine.dispose()
            _migrate(self.engine, self.path)
            self._opened = os.stat(self.path).st_ino

    def _must_be_there(self) -> None:
        try:
            same = os.stat(self.path).st_ino == self._opened
        except OSError:
            same = False
        if not same:
            raise StoreError(
                f"{self.path} was moved or deleted while Vellumcut runs; nothing more is written. Put it back, or "
                "end Vellumcut and start it again"
            )

    def _sweep(self) -> None:
        clear_scratch(self.folder)
        with self.read() as session:
            for name, column in FOLDERS.items():
                sweep(self.folder / name, set(session.scalars(select(column))))


def _plain(error: DBAPIError) -> Exception:
    if "full" in str(error.orig):
        return StoreError("The disk is full: nothing was changed. Make room and do it again")
    return error


def engine_of(path: Path) -> Engine:
    """How a database file is opened, here and where one is checked."""
    engine = create_engine(URL.create("sqlite", database=str(path)), connect_args={"timeout": 15})

    @event.listens_for(engine, "connect")
    def prepare(connection: sqlite3.Connection, _: object) -> None:
        for pragma in ("journal_mode=WAL", "synchronous=FULL", "foreign_keys=ON"):
            connection.execute(f"PRAGMA {pragma}")

    return engine


def _take_lock(folder: Path) -> Callable[[], None]:
    try:
        return take_lock(folder)
    except BlockingIOError:
        raise StoreError(
            f"Another Vellumcut already uses {folder}. Close it first, or choose another folder with VELLUMCUT_DATA"
        ) from None
    except OSError as error:
        raise StoreError(f"The data folder {folder} cannot be written: {error.strerror}") from None


def _revisions() -> list[str]:
    """Of every migration, in their order: each is named by its own."""
    return sorted(path.name.partition("_")[0] for path in (MIGRATIONS / "versions").glob("[0-9]*_*.py"))


def known_revision(revision: str) -> bool:
    """Whether a database of this revision can be opened here."""
    return revision in _revisions()


def _migrate(engine: Engine, path: Path) -> None:
    try:
        with engine.connect() as connection:
            current = _revision_of(connection)
    except Exception as error:
        raise StoreError(
            f"{path} is not a Vellumcut database or is damaged ({error.__class__.__name__}); it was left as it is"
        ) from None
    if current is not None and not known_revision(current):
        raise StoreError(f"{path} was written by a newer Vellumcut; it was left as it is")
    if current == _revisions()[-1]:
        return
    if current is not None:
        copy_database(path, path.parent, "before an update")
    upgrade(engine)


def _revision_of(connection: Connection) -> str | None:
    """None: nothing is in the file yet."""
    known = connection.execute(text("SELECT 1 FROM sqlite_master WHERE name = 'alembic_version'")).first()
    row = connection.execute(text("SELECT version_num FROM alembic_version")).first() if known else None
    return str(row[0]) if row else None


def upgrade(engine: Engine) -> None:
    """Bring a database up to date by its migrations."""
    from alembic import command  # noqa: PLC0415 - slow to load, and seldom wanted
    from alembic.config import Config  # noqa: PLC0415

    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS).replace("%", "%%"))
    with engine.begin() as connection:
        config.attributes["connection"] = connection
        command.upgrade(config, "head")
