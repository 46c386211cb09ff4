"""Meshes, bundles and the schema."""

import json
from collections.abc import Iterator
from pathlib import Path

from vellumcut.cli.words import clear_words, formats_in, piece_names, put
from vellumcut.formats.body.measures_csv import HEAD, measure_rows
from vellumcut.formats.body.mesh_files import MESH_FORMATS, write_mesh
from vellumcut.formats.body.shapes import SHAPES
from vellumcut.formats.csv_table import write_csv
from vellumcut.formats.keeping.build_json import build_schema, read_build_file
from vellumcut.formats.keeping.bundle import Bundle, pack_bundle
from vellumcut.formats.names import safe_names
from vellumcut.formats.pattern.sheet_svg import write_sheet
from vellumcut.service.body.scans import scan_files
from vellumcut.service.keeping.builds import Work
from vellumcut.service.keeping.bundles import drawn_files
from vellumcut.service.pattern.ink import shape_of, tube_of, view_ink
from vellumcut.service.pattern.patterns import work_from_file


def schema() -> None:
    print(json.dumps(build_schema(), indent=2))


def cast(file: Path, out: Path, piece: str | None, format: str) -> None:
    with clear_words():
        wanted = formats_in(format, (*MESH_FORMATS, "svg"))
        build = read_build_file(file)
        table = write_csv(HEAD, measure_rows([build.wearer.measurements]))
        print(put(out / "measurements.csv", table.encode()))
        stems = safe_names(p.title for p in build.pieces)
        for name in piece_names(build, piece):
            work = work_from_file(build, name, file.parent)
            for path, content in _cast_files(work, out, stems[name], wanted):
                print(put(path, content))


def _cast_files(work: Work, out: Path, stem: str, wanted: list[str]) -> Iterator[tuple[Path, bytes]]:
    view = view_ink(work)
    if "svg" in wanted:
        yield out / f"{stem} sheet.svg", write_sheet(tube_of(work), view.sheet, view.reading, work.name).encode()
    for kind in MESH_FORMATS:
        if kind in wanted:
            for what in SHAPES:
                yield out / f"{stem} {what}.{kind}", write_mesh(*shape_of(work, what), kind)


def bundle(file: Path, out: Path) -> None:
    with clear_words():
        build = read_build_file(file)
        drawn: dict[str, bytes] = {}
        folders = safe_names(p.title for p in build.pieces)
        for name in piece_names(build, None):
            drawn |= drawn_files(work_from_file(build, name, file.parent), folders[name])
        scans = scan_files(file.parent, build.wearer.measurements)
        print(put(out, pack_bundle(Bundle(build, scans), drawn)))
