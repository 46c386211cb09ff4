"""Copies of the database that are taken by themselves: once a day, and before it is changed as a whole."""

import itertools
import shutil
import sqlite3
import time
from dataclasses import dataclass
from pathlib import Path
from typing import Literal

FOLDER = "copies"
KEPT = 7
"""Of each kind."""
Why = Literal["daily", "before an update", "before a restore"]


@dataclass(frozen=True)
class Copy:
    """why: what it was taken for. taken_at: seconds since 1970. size: bytes."""

    name: str
    why: str
    taken_at: float
    size: int


def copy_database(database: Path, folder: Path, why: Why) -> Path:
    """A consistent copy beside the file, taken while it is in use; the newest KEPT of its kind stay."""
    copies = folder / FOLDER
    copies.mkdir(exist_ok=True)
    stem = f"{why.replace(' ', '-')} {time.strftime('%Y-%m-%d %H%M%S')}"
    names = (f"{stem}{f' {n}' if n else ''}.sqlite3" for n in itertools.count())
    target = next(path for name in names if not (path := copies / name).exists())
    part = target.with_suffix(".part")
    try:
        snapshot(database, part)
        shutil.copymode(database, part)
        part.replace(target)
    finally:
        part.unlink(missing_ok=True)
    alike = [p for p in copies.glob(f"{target.name.split(' ')[0]} *.sqlite3") if p != target]
    # By when they were made: a clock that was set back gives the newest the earliest name.
    for old in sorted(alike, key=lambda p: p.stat().st_mtime)[: max(0, len(alike) + 1 - KEPT)]:
        old.unlink()
    return target


def read_only(database: Path) -> sqlite3.Connection:
    """A connection that changes nothing, whatever signs are in the path."""
    return sqlite3.connect(f"{database.absolute().as_uri()}?mode=ro", uri=True)


def snapshot(database: Path, target: Path) -> None:
    """The database as it is at one moment, without its side files; a server may be writing it."""
    target.unlink(missing_ok=True)
    source, copy = read_only(database), sqlite3.connect(target)
    try:
        source.backup(copy)
        copy.execute("PRAGMA journal_mode=DELETE")
    finally:
        copy.close()
        source.close()


def has_copy_of_today(folder: Path) -> bool:
    return any((folder / FOLDER).glob(f"daily {time.strftime('%Y-%m-%d')} *.sqlite3"))


def list_copies(folder: Path) -> list[Copy]:
    """Newest first."""
    found = [(path, path.stat()) for path in (folder / FOLDER).glob("*.sqlite3")]
    rows = [Copy(p.name, p.name.split(" ")[0].replace("-", " "), f.st_mtime, f.st_size) for p, f in found]
    return sorted(rows, key=lambda c: -c.taken_at)
