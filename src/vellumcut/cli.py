"""The command line: the same work without a browser."""

import json
import os
import socket
import sys
import tempfile
import threading
import webbrowser
from collections.abc import Iterator
from contextlib import contextmanager
from enum import StrEnum
from pathlib import Path
from typing import Annotated

import typer
import uvicorn
from pydantic import ValidationError

from vellumcut.api.app import create_app
from vellumcut.core.body.measures import question_measures
from vellumcut.core.cast.stations import question_scans
from vellumcut.core.errors import CraftError
from vellumcut.core.layout.fold import on_the_fold
from vellumcut.core.layout.pages import PaperName
from vellumcut.core.layout.pattern import PiecePattern
from vellumcut.demo.scenario import load_demo
from vellumcut.formats.build_json import BuildFile, build_schema, read_build_file
from vellumcut.formats.bundle import pack_bundle, safe_name
from vellumcut.formats.card import write_card
from vellumcut.formats.csv_table import write_csv
from vellumcut.formats.dxf import write_dxf
from vellumcut.formats.measures_csv import HEAD, measure_rows
from vellumcut.formats.mesh_files import MESH_FORMATS, write_mesh
from vellumcut.formats.pattern_json import pattern_data
from vellumcut.formats.pdf import write_pdf
from vellumcut.formats.problems import plain_problems
from vellumcut.formats.shapes import SHAPES
from vellumcut.formats.sheet_svg import write_sheet
from vellumcut.formats.svg import write_svg
from vellumcut.service.builds import Work
from vellumcut.service.bundles import drawn_files
from vellumcut.service.ink import shape_of, tube_of, view_ink
from vellumcut.service.patterns import cutting_pattern, pattern_of, work_from_file
from vellumcut.service.regrade import regrade_piece
from vellumcut.service.scans import scanned_tubes
from vellumcut.store.database import Store, StoreError

FIRST_PORT, LAST_PORT = 8765, 8865
BAD_INPUT = 2
PATTERN_FORMATS = ("svg", "dxf", "pdf", "card", "json")

app = typer.Typer(add_completion=False, no_args_is_help=True, help="From body to flat panels, to armour that fits.")
FileArgument = Annotated[Path, typer.Argument(metavar="BUILD.json", help="A build file; see docs/formats.md.")]
PortOption = Annotated[
    int | None, typer.Option(help=f"Port on 127.0.0.1; default the first free one from {FIRST_PORT}.")
]


class Paper(StrEnum):
    A4 = "A4"
    A3 = "A3"
    LETTER = "Letter"
    TABLOID = "Tabloid"


@contextmanager
def _clear_words() -> Iterator[None]:
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


def _data_folder() -> Path:
    if chosen := os.environ.get("VELLUMCUT_DATA"):
        return Path(chosen)
    return Path(os.environ.get("XDG_DATA_HOME") or Path.home() / ".local" / "share") / "vellumcut"


def _free_port() -> int:
    for port in range(FIRST_PORT, LAST_PORT):
        with socket.socket() as probe:
            probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
            try:
                probe.bind(("127.0.0.1", port))
            except OSError:
                continue
            return port
    raise StoreError(f"No port from {FIRST_PORT} to {LAST_PORT} is free; choose one with --port")


def _run(store: Store, port: int | None) -> None:
    chosen = port or _free_port()
    address = f"http://127.0.0.1:{chosen}/"
    print(f"Vellumcut is at {address}  (data in {store.folder}; Ctrl+C ends it)", flush=True)
    if os.environ.get("DISPLAY") or os.environ.get("WAYLAND_DISPLAY"):
        threading.Timer(1.0, webbrowser.open, [address]).start()
    try:
        uvicorn.run(create_app(store), host="127.0.0.1", port=chosen, log_level="warning")
    finally:
        store.close()


@app.command()
def serve(port: PortOption = None) -> None:
    """Open the workshop in the browser, with your own data."""
    with _clear_words():
        _run(Store(_data_folder()), port)


@app.command()
def demo(
    port: PortOption = None,
    data: Annotated[Path | None, typer.Option(help="New folder for the demo's data; default a temporary one.")] = None,
) -> None:
    """Open the workshop with a made-up costume in a new data folder."""
    with _clear_words():
        if data is not None and data.exists() and any(data.iterdir()):
            raise CraftError(f"{data} is not empty; the demo wants a new folder")
        store = Store(data or Path(tempfile.mkdtemp(prefix="vellumcut-demo-")))
        load_demo(store)
        _run(store, port)


@app.command()
def schema() -> None:
    """Print the JSON Schema of a build file."""
    print(json.dumps(build_schema(), indent=2))


@app.command()
def check(file: FileArgument) -> None:
    """Say what is wrong, unlikely or worth a look in a build file."""
    with _clear_words():
        build = read_build_file(file)
        readings = build.wearer.measurements
        asked = [*question_measures(readings), *question_scans(readings, scanned_tubes(file.parent, readings))]
        for question in asked:
            print(f"look: {question.message}")
        stopped = False
        for piece in build.pieces:
            try:
                found = pattern_of(work_from_file(build, piece.title, file.parent)).findings
            except CraftError as error:
                stopped = True
                print(f"stop: {piece.title}: {error.message}")
                continue
            for finding in found:
                print(f"{finding.level}: {piece.title}: {finding.message.removesuffix('.')}. {finding.advice}".rstrip())
        if stopped:
            raise typer.Exit(BAD_INPUT)
        print(f"{build.name}: {len(build.pieces)} pieces can be made.")


@app.command()
def pattern(
    file: FileArgument,
    out: Annotated[Path, typer.Option(help="Folder for the files; made if missing.")],
    piece: Annotated[str | None, typer.Option(help="Name of one piece; default all.")] = None,
    format: Annotated[
        str, typer.Option(help="Any of svg, dxf, pdf, card, json, with commas between.")
    ] = "svg,pdf,json",
    paper: Annotated[Paper, typer.Option(help="Paper of the PDF.")] = Paper.A4,
    fold: Annotated[bool, typer.Option(help="Draw half of what is alike left and right, to cut on the fold.")] = False,
) -> None:
    """Write the patterns of a build file."""
    with _clear_words():
        wanted = _formats(format, PATTERN_FORMATS)
        build = read_build_file(file)
        for name in _piece_names(build, piece):
            made = cutting_pattern(work_from_file(build, name, file.parent))
            for path in _write(on_the_fold(made) if fold else made, out, wanted, paper.value):
                print(path)


@app.command()
def regrade(
    old: Annotated[Path, typer.Argument(metavar="OLD.json", help="The build file that the suit was cut from.")],
    new: Annotated[Path, typer.Argument(metavar="NEW.json", help="The same build on newer measures.")],
    out: Annotated[Path, typer.Option(help="Folder for the strips; made if missing.")],
    paper: Annotated[Paper, typer.Option(help="Paper of the PDF.")] = Paper.A4,
) -> None:
    """Say piece by piece what still fits, and write the strips that mend what does not."""
    with _clear_words():
        before, now = read_build_file(old), read_build_file(new)
        cut = {p.title for p in before.pieces}
        for name in _piece_names(now, None):
            if name not in cut:
                print(f"{name}: it is new: cut it.")
                continue
            pair = work_from_file(before, name, old.parent), work_from_file(now, name, new.parent)
            change = regrade_piece(pair)
            for words in [change.trouble] if change.trouble else [f"{c.code}: {c.words}" for c in change.panels]:
                print(f"{name}: {words}")
            if change.strips is not None:
                for path in _write(change.strips, out, ["svg", "pdf"], paper.value):
                    print(path)


@app.command()
def cast(
    file: FileArgument,
    out: Annotated[Path, typer.Option(help="Folder for the files; made if missing.")],
    piece: Annotated[str | None, typer.Option(help="Name of one piece; default all.")] = None,
    format: Annotated[str, typer.Option(help="Any of obj, stl, ply, glb, svg, with commas between.")] = "obj,svg",
) -> None:
    """Write each piece's body, armour and ink as meshes, its ink sheet as SVG, and the measurements as CSV."""
    with _clear_words():
        wanted = _formats(format, (*MESH_FORMATS, "svg"))
        build = read_build_file(file)
        table = write_csv(HEAD, measure_rows([build.wearer.measurements]))
        print(_put(out / "measurements.csv", table.encode()))
        for name in _piece_names(build, piece):
            work = work_from_file(build, name, file.parent)
            for path, content in _cast_files(work, out, wanted):
                print(_put(path, content))


def _cast_files(work: Work, out: Path, wanted: list[str]) -> Iterator[tuple[Path, bytes]]:
    stem = safe_name(work.name)
    view = view_ink(work)
    if "svg" in wanted:
        yield out / f"{stem} sheet.svg", write_sheet(tube_of(work), view.sheet, view.reading, work.name).encode()
    for kind in MESH_FORMATS:
        if kind in wanted:
            for what in SHAPES:
                yield out / f"{stem} {what}.{kind}", write_mesh(*shape_of(work, what), kind)


@app.command()
def bundle(
    file: FileArgument,
    out: Annotated[Path, typer.Option(help="The bundle to write, ending in .vellumcut.zip.")],
) -> None:
    """Pack a build file with its scans and everything drawn of it."""
    with _clear_words():
        build = read_build_file(file)
        drawn: dict[str, bytes] = {}
        for name in _piece_names(build, None):
            drawn |= drawn_files(work_from_file(build, name, file.parent))
        scans = {}
        for reading in build.wearer.measurements.scans:
            path = file.parent / reading.scan
            if not path.is_file():
                raise CraftError(f"The scan {reading.scan} is not beside the build", "scans")
            scans[path.name] = path.read_bytes()
        print(_put(out, pack_bundle(build, scans, drawn)))


def _put(path: Path, content: bytes) -> Path:
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_bytes(content)
    except OSError as error:
        raise CraftError(f"{path} cannot be written: {(error.strerror or 'unknown reason').lower()}", "out") from None
    return path


def _formats(text: str, known: tuple[str, ...]) -> list[str]:
    wanted = [word.strip() for word in text.split(",") if word.strip()]
    if not wanted or any(word not in known for word in wanted):
        raise CraftError(f'"{text}" is not a list of {", ".join(known)}', "format")
    return wanted


def _piece_names(build: BuildFile, piece: str | None) -> list[str]:
    names = [p.title for p in build.pieces]
    if piece is not None and piece not in names:
        raise CraftError(f'There is no piece "{piece}"; there are {", ".join(names) or "none"}', "piece")
    if not names:
        raise CraftError("The build has no pieces yet", "pieces")
    return [piece] if piece is not None else names


def _write(made: PiecePattern, out: Path, wanted: list[str], paper: PaperName) -> Iterator[Path]:
    stem = safe_name(made.name)
    for ending in wanted:
        if ending == "svg":
            content = write_svg(made).encode()
        elif ending == "pdf":
            content = write_pdf(made, paper)
        elif ending == "dxf":
            content = write_dxf(made)
        elif ending == "card":
            content = write_card(made, paper)
        else:
            content = json.dumps(pattern_data(made), indent=1, ensure_ascii=False).encode()
        yield _put(out / (f"{stem} card.pdf" if ending == "card" else f"{stem}.{ending}"), content)


def main() -> None:
    app()


if __name__ == "__main__":
    main()
