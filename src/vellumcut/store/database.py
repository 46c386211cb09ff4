"""The database file: opened by one server at a time, copied before it is migrated, written durably."""

import fcntl
import shutil
import sqlite3
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import IO

from alembic import command
from alembic.config import Config
from alembic.runtime.migration import MigrationContext
from alembic.script import ScriptDirectory
from sqlalchemy import Engine, create_engine, event
from sqlalchemy.orm import Session

from vellumcut.store.journal import record_change

MIGRATIONS = Path(__file__).parent / "migrations"
COPIES_KEPT = 5


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
        try:
            folder.mkdir(parents=True, exist_ok=True)
        except OSError as error:
            raise StoreError(f"The data folder {folder} cannot be made: {error.strerror}") from None
        self._lock = _take_lock(folder / "in-use.lock", folder)
        self.path = folder / "vellumcut.sqlite3"
        self.engine = _engine(self.path)
        try:
            _migrate(self.engine, self.path)
        except BaseException:
            self.close()
            raise

    def close(self) -> None:
        self.engine.dispose()
        self._lock.close()

    @contextmanager
    def read(self) -> Iterator[Session]:
        with Session(self.engine) as session:
            yield session

    @contextmanager
    def write(self, words: str = "") -> Iterator[Session]:
        """One change, saved when the block ends. words: what it is called in undo; empty: it cannot be undone."""
        with self._writing, Session(self.engine, expire_on_commit=False) as session, session.begin():
            if words:
                record_change(session, words, time.time())
            yield session


def _engine(path: Path) -> Engine:
    engine = create_engine(f"sqlite:///{path}", connect_args={"timeout": 15})

    @event.listens_for(engine, "connect")
    def prepare(connection: sqlite3.Connection, _: object) -> None:
        for pragma in ("journal_mode=WAL", "synchronous=FULL", "foreign_keys=ON"):
            connection.execute(f"PRAGMA {pragma}")

    return engine


def _take_lock(path: Path, folder: Path) -> IO[str]:
    try:
        handle = path.open("a")
        fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except BlockingIOError:
        raise StoreError(
            f"Another Vellumcut already uses {folder}. Close it first, or choose another folder with VELLUMCUT_DATA"
        ) from None
    except OSError as error:
        raise StoreError(f"The data folder {folder} cannot be written: {error.strerror}") from None
    return handle


def _migrate(engine: Engine, path: Path) -> None:
    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS).replace("%", "%%"))
    newest = ScriptDirectory.from_config(config).get_current_head()
    known = {s.revision for s in ScriptDirectory.from_config(config).walk_revisions()}
    try:
        with engine.connect() as connection:
            current = MigrationContext.configure(connection).get_current_revision()
    except Exception as error:
        raise StoreError(
            f"{path} is not a Vellumcut database or is damaged ({error.__class__.__name__}); it was left as it is"
        ) from None
    if current is not None and current not in known:
        raise StoreError(f"{path} was written by a newer Vellumcut; it was left as it is")
    if current == newest:
        return
    if current is not None:
        _copy_before(path)
    with engine.begin() as connection:
        config.attributes["connection"] = connection
        command.upgrade(config, "head")


def _copy_before(path: Path) -> None:
    """A consistent copy beside the file, the newest COPIES_KEPT of them."""
    copies = path.parent / "before-migration"
    copies.mkdir(exist_ok=True)
    target = copies / f"{time.strftime('%Y%m%d-%H%M%S')}.sqlite3"
    with sqlite3.connect(path) as source, sqlite3.connect(target) as copy:
        source.backup(copy)
    shutil.copystat(path, target)
    for old in sorted(copies.glob("*.sqlite3"))[:-COPIES_KEPT]:
        old.unlink()
