"""Copies of the database that are taken by themselves: once a day, and before it is changed as a whole."""

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
    target = copies / f"{why.replace(' ', '-')} {time.strftime('%Y-%m-%d %H%M%S')}.sqlite3"
    part = target.with_suffix(".part")
    try:
        snapshot(database, part)
        shutil.copymode(database, part)
        part.replace(target)
    finally:
        part.unlink(missing_ok=True)
    for old in sorted(copies.glob(f"{target.name.split(' ')[0]} *.sqlite3"))[:-KEPT]:
        old.unlink()
    return target


def snapshot(database: Path, target: Path) -> None:
    """The database as it is at one moment, without its side files; a server may be writing it."""
    target.unlink(missing_ok=True)
    source, copy = sqlite3.connect(f"file:{database}?mode=ro", uri=True), sqlite3.connect(target)
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
