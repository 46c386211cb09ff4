"""Backup and restore."""

from pathlib import Path

from vellumcut.cli.words import clear_words, data_folder
from vellumcut.core.errors import CraftError
from vellumcut.service.keeping import backups
from vellumcut.store.database import Store


def backup(file: Path, data: Path | None) -> None:
    with clear_words():
        if file.exists():
            raise CraftError(f"{file} is there already; choose another name")
        print(backups.write_backup(data or data_folder(), file))


def restore(file: Path, data: Path | None) -> None:
    with clear_words():
        store = Store(data or data_folder())
        try:
            backups.restore(store, file)
        finally:
            store.close()
        print(f"{store.folder} is as it was when {file.name} was made; what was there before is in its copies")
