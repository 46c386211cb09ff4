"""Pattern files from elsewhere: SVG, DXF and PDF, read in a process of its own as panels."""

import json
import math
import re
from collections.abc import Iterable
from dataclasses import dataclass
from pathlib import Path
from typing import Any, Literal, get_args

from vellumcut.core.design.flat import FlatShape
from vellumcut.core.design.making import MotifRing
from vellumcut.core.errors import CraftError
from vellumcut.formats.pattern.layer_words import Answer
from vellumcut.formats.workers import Bounds, worked

FileKind = Literal["svg", "dxf", "pdf"]
LARGEST_PATTERN = 40_000_000
"""Bytes."""
BOUNDS = Bounds(seconds=20, patience=90, memory=1_000_000_000)
UNITS: dict[str, float] = {"mm": 1.0, "cm": 10.0, "in": 25.4, "pt": 25.4 / 72, "px": 25.4 / 96}
"""What a file's numbers may be, in mm."""


ASKED = re.compile(r"“([^”]*)” (?:has|is) ")
"""Begins the question what a layer holds."""
NO_UNIT = "The file does not say whether its numbers are millimetres or inches: choose, then check a length"


@dataclass(frozen=True)
class PatternFile:
    """shapes: panels, mm, y up. told: whether the file itself says what its numbers are. left: what of it is not in
    them, in words."""

    shapes: tuple[FlatShape, ...]
    told: bool
    left: tuple[str, ...] = ()


def file_kind(name: str) -> FileKind:
    """The format a file name tells. Raises CraftError."""
    ending = name.rsplit(".", 1)[-1].lower() if "." in name else ""
    for known in get_args(FileKind):
        if ending == known:
            return known  # type: ignore[no-any-return]
    raise CraftError(f'"{name[-60:]}" is no pattern file: send an SVG, DXF or PDF', "file")


@dataclass(frozen=True)
class HowToRead:
    """What the maker knows of a file. unit: a key of UNITS, for one that does not say. wide: mm that all its lines
    together are across, as a tape says; 0 where that is not known. places: mm by which each page of a PDF is moved.
    layers: names of layers, or FRAME, and what each holds.
    """

    unit: str = ""
    wide: float = 0.0
    places: tuple[tuple[float, float], ...] = ()
    layers: tuple[tuple[str, Answer], ...] = ()


def said_places(pages: Iterable[str]) -> tuple[tuple[float, float], ...]:
    """mm by which each page is moved, "x,y" each. Raises CraftError for what is none."""
    moves = []
    for page in pages:
        try:
            x, y = (float(mm) for mm in page.split(","))
        except ValueError:
            x = y = math.nan
        if not (math.isfinite(x) and math.isfinite(y)):
            raise CraftError("Say for each page how far it is moved, in mm: x,y", "places")
        moves.append((x, y))
    return tuple(moves)


def read_pages_of(path: Path) -> dict[str, Any]:
    """Pages of a PDF that are to be laid together, as the worker writes them. Raises CraftError in plain words."""
    _check_size(path)
    told = _told("pdf", HowToRead(), pages=True)
    with worked("vellumcut.formats.pattern.pattern_worker", BOUNDS, path, told, "pattern file") as folder:
        pages: dict[str, Any] = json.loads((folder / "pages.json").read_text())
        return pages


def _told(kind: FileKind, how: HowToRead, pages: bool = False, motif: bool = False) -> str:
    told = {
        "kind": kind,
        "unit": UNITS.get(how.unit, 0.0),
        "wide": how.wide,
        "places": how.places,
        "layers": how.layers,
    }
    return json.dumps({**told, "pages": pages, "motif": motif})


def _check_size(path: Path) -> None:
    size = path.stat().st_size if path.is_file() else 0
    if size == 0:
        raise CraftError("The file is empty", "file")
    if size > LARGEST_PATTERN:
        raise CraftError(f"The file is larger than {LARGEST_PATTERN // 1_000_000} MB", "file")


def read_pattern_file(path: Path, name: str, how: HowToRead = HowToRead()) -> PatternFile:
    """Panels of a pattern file. Raises CraftError in plain words."""
    made = _read(path, name, how, "pattern.json")
    shapes = tuple(FlatShape.model_validate(x) for x in made["shapes"])
    return PatternFile(shapes, made["unit"] is not None, tuple(made["left"]))


def read_motif(path: Path, name: str, how: HowToRead = HowToRead()) -> tuple[MotifRing, ...]:
    """Closed lines of a drawing, mm, to be cut from film. Raises CraftError in plain words."""
    return tuple(MotifRing.model_validate(x) for x in _read(path, name, how, MOTIF))


MOTIF = "motif.json"


def _read(path: Path, name: str, how: HowToRead, wanted: str) -> Any:
    """What the worker writes of a file. Raises CraftError."""
    told = _told(file_kind(name), how, motif=wanted == MOTIF)
    _check_size(path)
    try:
        with worked("vellumcut.formats.pattern.pattern_worker", BOUNDS, path, told, "pattern file") as folder:
            return json.loads((folder / wanted).read_text())
    except CraftError as error:
        asked = ASKED.match(error.message)
        field = f"layers.{asked[1]}" if asked else "unit" if error.message == NO_UNIT else error.field
        raise CraftError(error.message, field) from None
