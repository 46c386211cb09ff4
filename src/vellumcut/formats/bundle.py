"""The bundle: one zip file with a build, the scans it uses and what was drawn from it."""

import io
import re
import zipfile
from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import PurePosixPath

from vellumcut.core.body.measures import Measurements
from vellumcut.core.errors import CraftError
from vellumcut.formats.build_json import BuildFile, read_build, write_build
from vellumcut.formats.mesh_files import LARGEST_SCAN, mesh_format

BUILD_NAME = "build.json"
SCANS = "scans/"
MOST_FILES = 400
LARGEST_WHOLE = 1_000_000_000
"""Bytes when unpacked."""
MOST_PACKED = 200
"""A file that unpacks to more than this many times its size is a bomb."""


@dataclass(frozen=True)
class Bundle:
    """scans: file name -> content, for every scan that the build's measurements name."""

    build: BuildFile
    scans: Mapping[str, bytes]


def pack_bundle(build: BuildFile, scans: Mapping[str, bytes], drawn: Mapping[str, bytes]) -> bytes:
    """The bundle's bytes. scans: by file name. drawn: other files by path, such as "Bracers/pattern.pdf"."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED, compresslevel=6) as zipped:
        zipped.writestr(BUILD_NAME, write_build(with_scan_paths(build, SCANS)))
        for name, content in scans.items():
            zipped.writestr(SCANS + name, content)
        for path, content in drawn.items():
            zipped.writestr(path, content)
    return out.getvalue()


def safe_name(title: str) -> str:
    """A piece's title as a folder name that every system takes."""
    return re.sub(r"[^\w -]", "_", title).strip() or "piece"


def unpack_bundle(content: bytes) -> Bundle:
    """Read a bundle. Only the build and the scans it names are taken. Raises CraftError; nothing is half read."""
    try:
        with zipfile.ZipFile(io.BytesIO(content)) as zipped:
            _check(zipped)
            build = read_build(zipped.read(BUILD_NAME))
            wanted = [PurePosixPath(x.scan).name for x in build.wearer.measurements.scans]
            present = set(zipped.namelist())
            scans = {}
            for name in wanted:
                mesh_format(name)
                if SCANS + name not in present:
                    raise CraftError(f"The bundle names the scan {name} but does not hold it")
                scans[name] = zipped.read(SCANS + name)
    except (zipfile.BadZipFile, EOFError, NotImplementedError, RuntimeError):
        raise CraftError("The file is not a bundle, or is broken") from None
    return Bundle(with_scan_paths(build, ""), scans)


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
