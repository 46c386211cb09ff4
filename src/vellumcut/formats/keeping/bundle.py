"""The bundle: one zip file with a build, the scans it uses and what was drawn from it."""

import io
import json
import zipfile
from collections.abc import Mapping
from dataclasses import dataclass, field
from pathlib import PurePosixPath
from typing import Any

from vellumcut.core.body.measures import Measurements
from vellumcut.core.errors import CraftError
from vellumcut.formats.body.mesh_files import LARGEST_SCAN
from vellumcut.formats.keeping.archive import open_archive
from vellumcut.formats.keeping.build_json import BuildFile, read_build, read_json, write_build

BUILD_NAME = "build.json"
HISTORY_NAME = "history.json"
SCANS, PICTURES = "scans/", "pictures/"
MOST_FILES = 400
LARGEST_BUNDLE = 250_000_000
"""Bytes as it is sent."""
LARGEST_WHOLE = 1_000_000_000
"""Bytes when unpacked."""
MOST_PACKED = 200
"""A file that unpacks to more than this many times its size is a bomb."""


@dataclass(frozen=True)
class Bundle:
    """scans: file name -> content, for every scan that the build's measurements name. history: rows of everything else,
    by table; empty in a bundle that has none. pictures: likewise by name."""

    build: BuildFile
    scans: Mapping[str, bytes]
    history: dict[str, Any] = field(default_factory=dict)
    pictures: Mapping[str, bytes] = field(default_factory=dict)


def pack_bundle(bundle: Bundle, drawn: Mapping[str, bytes]) -> bytes:
    """The bundle's bytes. drawn: other files by path, such as "Bracers/pattern.pdf"."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED, compresslevel=6) as zipped:
        zipped.writestr(BUILD_NAME, write_build(with_scan_paths(bundle.build, SCANS)))
        if bundle.history:
            zipped.writestr(HISTORY_NAME, json.dumps(bundle.history, ensure_ascii=False))
        for folder, files in ((SCANS, bundle.scans), (PICTURES, bundle.pictures)):
            for name, content in files.items():
                zipped.writestr(folder + name, content)
        for path, content in drawn.items():
            zipped.writestr(path, content)
    return out.getvalue()


def unpack_bundle(content: bytes) -> Bundle:
    """Read a bundle. Only the build and the scans it names are taken. Raises CraftError; nothing is half read."""
    with open_archive(io.BytesIO(content), "The file is not a bundle, or is broken") as zipped:
        _check(zipped)
        build = read_build(zipped.read(BUILD_NAME))
        history = read_json(zipped.read(HISTORY_NAME)) if HISTORY_NAME in zipped.namelist() else {}
        scans = {p.removeprefix(SCANS): zipped.read(p) for p in _plain_files(zipped, SCANS)}
        pictures = {p.removeprefix(PICTURES): zipped.read(p) for p in _plain_files(zipped, PICTURES)}
    for reading in build.wearer.measurements.scans:
        if PurePosixPath(reading.scan).name not in scans:
            raise CraftError(f"The bundle names the scan {reading.scan} but does not hold it", "file")
    return Bundle(with_scan_paths(build, ""), scans, history, pictures)


def _plain_files(zipped: zipfile.ZipFile, folder: str) -> list[str]:
    return [n for n in zipped.namelist() if n.startswith(folder) and "/" not in n.removeprefix(folder) and n != folder]


def _check(zipped: zipfile.ZipFile) -> None:
    files = zipped.infolist()
    if BUILD_NAME not in zipped.namelist():
        raise CraftError(f"The file is not a bundle: it holds no {BUILD_NAME}")
    if len(files) > MOST_FILES or sum(f.file_size for f in files) > LARGEST_WHOLE:
        raise CraftError("The bundle unpacks to more than is allowed")
    for file in files:
        path = PurePosixPath(file.filename)
        if path.is_absolute() or ".." in path.parts or "\\" in file.filename:
            raise CraftError("The bundle holds a path that leads out of it")
        if file.file_size > LARGEST_SCAN or file.file_size > MOST_PACKED * max(file.compress_size, 1000):
            raise CraftError("The bundle holds a file that unpacks to far more than its size")


def with_scan_paths(build: BuildFile, folder: str) -> BuildFile:
    """The build with every scan's path put into a folder, or taken out of any."""
    readings = build.wearer.measurements
    scans = tuple(x.model_copy(update={"scan": folder + PurePosixPath(x.scan).name}) for x in readings.scans)
    moved: Measurements = readings.model_copy(update={"scans": scans})
    return build.model_copy(update={"wearer": build.wearer.model_copy(update={"measurements": moved})})
