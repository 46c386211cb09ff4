"""What every command shares: one clear sentence for bad input, and files written safely."""

import os
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import typer
from platformdirs import user_data_path
from pydantic import ValidationError

from vellumcut.core.errors import CraftError
from vellumcut.formats.keeping.build_json import BuildFile
from vellumcut.formats.problems import plain_problems
from vellumcut.store.database import StoreError

BAD_INPUT = 2


@contextmanager
def clear_words() -> Iterator[None]:
    """Bad input ends with one clear sentence a problem and exit code 2."""
    try:
        yield
    except (CraftError, ValidationError) as error:
        for problem in plain_problems(error):
            where = f"{problem.field}: " if problem.field and problem.field not in problem.message else ""
            print(f"{where}{problem.message}", file=sys.stderr)
        raise typer.Exit(BAD_INPUT) from None
    except StoreError as error:
        print(error, file=sys.stderr)
        raise typer.Exit(BAD_INPUT) from None


def data_folder() -> Path:
    """The workshop's own data folder."""
    if chosen := os.environ.get("VELLUMCUT_DATA"):
        return Path(chosen)
    return user_data_path("vellumcut", appauthor=False)


def put(path: Path, content: bytes) -> Path:
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_bytes(content)
    except OSError as error:
        raise CraftError(f"{path} cannot be written: {(error.strerror or 'unknown reason').lower()}", "out") from None
    return path


def formats_in(text: str, known: tuple[str, ...]) -> list[str]:
    wanted = [word.strip() for word in text.split(",") if word.strip()]
    if not wanted or any(word not in known for word in wanted):
        raise CraftError(f'"{text}" is not a list of {", ".join(known)}', "format")
    return wanted


def piece_names(build: BuildFile, piece: str | None) -> list[str]:
    names = [p.title for p in build.pieces]
    if piece is not None and piece not in names:
        raise CraftError(f'There is no piece "{piece}"; there are {", ".join(names) or "none"}', "piece")
    if not names:
        raise CraftError("The build has no pieces yet", "pieces")
    return [piece] if piece is not None else names
