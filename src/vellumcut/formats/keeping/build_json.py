"""BUILD.json: a build as a text file, written by hand or by the program. See docs/formats.md."""

import itertools
import json
from pathlib import Path
from typing import Annotated, Any, Literal

from pydantic import Field

from vellumcut.core.body.measures import Measurements, check_possible
from vellumcut.core.body.readings import Decision
from vellumcut.core.design.making import Schools
from vellumcut.core.design.piece import DartEdges, PieceDesign
from vellumcut.core.errors import CraftError
from vellumcut.core.foam.sheets import FoamGive
from vellumcut.core.ink.library.table import TEMPLATES
from vellumcut.core.words import SEEN

LARGEST_FILE = 5_000_000
"""Bytes; a build written by hand is a few thousand."""

Name = Annotated[str, Field(min_length=1, max_length=120), SEEN]


class BuildWearer(Decision):
    name: Name = "Wearer"
    measurements: Measurements


class BuildPiece(PieceDesign):
    """A piece by its template and options; every field but ``template`` has a usual value."""

    name: Annotated[str, Field(max_length=120), SEEN] = ""

    @property
    def title(self) -> str:
        return self.name or TEMPLATES[self.template].word

    @property
    def design(self) -> PieceDesign:
        return PieceDesign.model_validate(self.model_dump(exclude={"name"}))


class BuildFile(Decision):
    """The whole file. format and version say what it is, so a newer program can still read it.

    foam_gives: what the maker's own scraps of foam gave, so that the verdicts go with the build. schools: how it is
    made.
    """

    format: Literal["vellumcut-build"] = "vellumcut-build"
    version: Literal[1] = 1
    name: Name
    wearer: BuildWearer
    pieces: Annotated[tuple[BuildPiece, ...], Field(max_length=200)] = ()
    dart_edges: DartEdges = "by fold"
    foam_gives: Annotated[tuple[FoamGive, ...], Field(max_length=60)] = ()
    schools: Schools = Schools()


def read_build(text: str | bytes) -> BuildFile:
    """Read and check a BUILD.json. Raises CraftError or pydantic's ValidationError; nothing is half read."""
    if len(text) > LARGEST_FILE:
        raise CraftError(f"The file is larger than {LARGEST_FILE // 1_000_000} MB; a build file is a few kilobytes")
    build = BuildFile.model_validate(read_json(text))
    check_possible(build.wearer.measurements)
    return _told_apart(build)


def _told_apart(build: BuildFile) -> BuildFile:
    """Pieces of one name are numbered, as the program numbers them: until step 3 two could have one."""
    taken: set[str] = set()
    pieces = []
    for piece in build.pieces:
        numbered = (piece.title if n == 1 else f"{piece.title} {n}" for n in itertools.count(1))
        name = next(x for x in numbered if x not in taken)
        taken.add(name)
        pieces.append(piece if name == piece.title else piece.model_copy(update={"name": name}))
    return build.model_copy(update={"pieces": tuple(pieces)})


def read_json(text: str | bytes) -> Any:
    """JSON with finite numbers. Raises CraftError."""

    def refuse(word: str) -> None:
        raise CraftError(f"{word} is not a number that can be cut; write a finite one")

    try:
        return json.loads(text, parse_constant=refuse)
    except UnicodeDecodeError:
        raise CraftError("The file is not text; a build is JSON in UTF-8") from None
    except RecursionError:
        raise CraftError("The file nests its brackets too deeply to be a build") from None
    except json.JSONDecodeError as error:
        raise CraftError(
            f"The file is not valid JSON: {error.msg.lower()} in line {error.lineno}, column {error.colno}"
        ) from None
    except CraftError:
        raise
    except ValueError:
        raise CraftError("The file holds a number of thousands of digits; no measure is that long") from None


def read_build_file(path: Path) -> BuildFile:
    """As ``read_build``, from a path. Raises CraftError when it cannot be opened."""
    try:
        if not path.is_file():
            raise CraftError(f"{path} is not a file" if path.exists() else f"{path} cannot be read: there is none")
        with path.open("rb") as file:
            return read_build(file.read(LARGEST_FILE + 1))
    except OSError as error:
        raise CraftError(f"{path} cannot be read: {(error.strerror or 'unknown reason').lower()}") from None


def write_build(build: BuildFile) -> str:
    """The build as JSON text, readable by hand."""
    return json.dumps(build.model_dump(mode="json", exclude_defaults=False), indent=2, ensure_ascii=False) + "\n"


def build_schema() -> dict[str, Any]:
    """JSON Schema of the file, as ``vellumcut schema`` prints it."""
    return BuildFile.model_json_schema()
