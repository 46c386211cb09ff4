"""Bundles: a whole build with its history packed to take away, and brought in again."""

from collections.abc import Callable
from contextlib import ExitStack
from pathlib import Path
from typing import Any

from pydantic import ValidationError
from sqlalchemy import select
from sqlalchemy.orm import Session

from vellumcut.core.body.measures import Measurements
from vellumcut.core.design.piece import PieceDesign
from vellumcut.core.errors import CraftError
from vellumcut.core.paces import Tempo
from vellumcut.formats.body.measures_csv import HEAD, measure_rows
from vellumcut.formats.body.mesh_files import mesh_format, read_mesh_file, write_mesh
from vellumcut.formats.body.shapes import SHAPES
from vellumcut.formats.csv_table import write_csv
from vellumcut.formats.keeping.build_json import BuildFile
from vellumcut.formats.keeping.bundle import Bundle, pack_bundle, unpack_bundle
from vellumcut.formats.making.bench_sheet import STEP_HEAD, step_rows, write_bench_sheet
from vellumcut.formats.making.finish_card import write_finish_card
from vellumcut.formats.names import safe_names
from vellumcut.formats.pattern.pdf import write_pdf
from vellumcut.formats.pattern.sheet_svg import write_sheet
from vellumcut.formats.pattern.svg import write_svg
from vellumcut.formats.rigging.rig_sheet import PART_HEAD, part_rows, write_rig_sheet
from vellumcut.service.body.scans import scan_files, scans_folder
from vellumcut.service.body.traces import above_folder, floors_folder, traces_folder
from vellumcut.service.jobs import Job, start_job
from vellumcut.service.keeping import builds
from vellumcut.service.keeping.histories import Rows, check, history_of, take_in
from vellumcut.service.keeping.settings import add_gives
from vellumcut.service.making.photographs import photographs_folder
from vellumcut.service.making.plans import job_of, planned
from vellumcut.service.merging import tag_of
from vellumcut.service.pattern import ink
from vellumcut.service.pattern.patterns import cutting_pattern
from vellumcut.service.pattern.pictures import open_picture, pictures_folder
from vellumcut.service.rigging.rigs import plans_of, rig_page
from vellumcut.service.rows import fetch
from vellumcut.store.database import Store
from vellumcut.store.files import arriving, file_in
from vellumcut.store.models import Build, MeasurementSet, Wearer


def drawn_files(work: builds.Work, folder: str) -> dict[str, bytes]:
    """What is drawn of one piece, under a folder: pattern as PDF and SVG, ink sheet, cast, armour and ink as meshes."""
    pattern = cutting_pattern(work)
    view = ink.view_ink(work)
    sheet = write_sheet(ink.tube_of(work), view.sheet, view.reading, work.name)
    out = {
        f"{folder}/pattern.pdf": write_pdf(pattern, "A4", "mm", 1.0),
        f"{folder}/pattern.svg": write_svg(pattern).encode(),
        f"{folder}/sheet.svg": sheet.encode(),
        **_papers(work, folder),
    }
    for what in SHAPES:
        out[f"{folder}/{what}.obj"] = write_mesh(*ink.shape_of(work, what), "obj")
    return out


def _papers(work: builds.Work, folder: str) -> dict[str, bytes]:
    """What is read at the bench: steps as a table, a sheet with boxes, the finish."""
    piece, job = planned(work, Tempo()), job_of(work, Tempo())
    plans = plans_of(work)
    return {
        f"{folder}/rig.csv": write_csv(PART_HEAD, part_rows(plans)).encode(),
        f"{folder}/rig.pdf": write_rig_sheet([rig_page(work)]),
        f"{folder}/steps.csv": write_csv(STEP_HEAD, step_rows(piece)).encode(),
        f"{folder}/bench sheet.pdf": write_bench_sheet([piece], ()),
        f"{folder}/finish.pdf": write_finish_card(work.name, job.painted),
    }


def pack_build(store: Store, number: int) -> Job:
    """Pack a build as a job; the job's file is the bundle."""
    with store.read() as session:
        fetch(session, Build, number)
        history = history_of(session, number)
    build = builds.export_build(store, number)
    pieces = next(p for b, _, p in builds.list_builds(store) if b.id == number)
    folders = safe_names(p.name for p in pieces)

    def work(job: Job) -> int:
        sets = [Measurements.model_validate(r["readings"]) for r in history["measurement_set"]]
        drawn = {"measurements.csv": write_csv(HEAD, measure_rows(sets)).encode()}
        for k, piece in enumerate(pieces):
            job.report(k / (len(pieces) + 1), f"Drawing {piece.name}")
            try:
                drawn |= drawn_files(builds.work_on(store, piece.id), folders[piece.name])
            except CraftError as error:
                drawn[f"{folders[piece.name]}/no pattern.txt"] = error.message.encode()
        job.report(len(pieces) / (len(pieces) + 1), "Packing")
        job.file = pack_bundle(Bundle(build, *_files_of(store, history)), drawn)
        return number

    return start_job(f"Packing {build.name}", work)


def _files_of(store: Store, history: Rows) -> tuple[dict[str, bytes], Rows, dict[str, bytes]]:
    """Scans and pictures that rows name, as far as they are here, beside the rows."""
    scans: dict[str, bytes] = {}
    for row in (*history["measurement_set"], *history["piece_version"]):
        scans |= scan_files(scans_folder(store), Measurements.model_validate(row["readings"]))
    pictures = _present(pictures_folder(store), history["reference_picture"])
    pictures |= _present(photographs_folder(store), history["bench_picture"])
    traced = [_present(traces_folder(store), history["traced_photograph"])]
    traced.append(_present(above_folder(store), history["traced_photograph"], "above"))
    traced.append(_present(floors_folder(store), history["traced_photograph"], "floor"))
    whole = [r for r in history["traced_photograph"] if r["file"] in traced[0] and r["above"] in traced[1]]
    history = history | {"traced_photograph": whole}  # one whose file is gone could not be taken in again
    pictures |= {name: content for files in traced for name, content in files.items()}
    return _present(scans_folder(store), history["scan"]) | scans, history, pictures


def _present(folder: Path, rows: list[dict[str, Any]], column: str = "file") -> dict[str, bytes]:
    return {r[column]: path.read_bytes() for r in rows if (path := file_in(folder, r[column])) is not None}


PICTURES: tuple[tuple[str, str, Callable[[Store], Path]], ...] = (
    ("bench_picture", "file", photographs_folder),
    ("traced_photograph", "file", traces_folder),
    ("traced_photograph", "above", above_folder),
    ("traced_photograph", "floor", floors_folder),
    ("reference_picture", "file", pictures_folder),
)
"""Which rows name pictures, in which column, and the folder those are kept in."""


def _folder_of(store: Store, history: Rows, name: str) -> Path:
    """Where a bundle's picture belongs, by the row that names it."""
    for table, column, folder in PICTURES:
        if any(isinstance(r, dict) and r.get(column) == name for r in history.get(table, [])):
            return folder(store)
    return pictures_folder(store)


def bring_in(store: Store, content: bytes) -> tuple[Build, list[str]]:
    """A build from a bundle with its scans and its history, and what was here already; all of it or nothing.

    Raises CraftError.
    """
    bundle = unpack_bundle(content)
    with ExitStack() as stack:
        kept: dict[str, str] = {}
        for name, scan in bundle.scans.items():
            file = stack.enter_context(arriving(scans_folder(store), mesh_format(name), scan))
            read_mesh_file(file.path)
            kept[name] = file.name
        for name, picture in bundle.pictures.items():
            open_picture(picture)
            folder = _folder_of(store, bundle.history, name)
            kept[name] = stack.enter_context(arriving(folder, "jpg", picture)).name
        build, history = _renamed_build(bundle.build, kept), _renamed(bundle.history, kept)
        _must_hold_its_files(history, set(kept.values()))
        with store.write(f"Bring in {build.name}") as session:
            return _taken_in(session, build, history)


def _must_hold_its_files(history: Rows, brought: set[str]) -> None:
    """Raises CraftError for a row of a file that did not come with it: no other file here is meant, or given."""
    check(history)
    named = (("scan", "file"), *((table, column) for table, column, _ in PICTURES if table != "bench_picture"))
    for table, column in named:
        for row in history.get(table, []):
            if column == "floor" and isinstance(row, dict) and not row.get(column):
                continue  # few photographs have one of the bare floor
            if not isinstance(row, dict) or row.get(column) not in brought:
                raise CraftError("The bundle's history names a file that the bundle does not hold", "history")


def bring_in_file(store: Store, build: BuildFile) -> tuple[Build, list[str]]:
    """As ``bring_in``, from a build file alone."""
    with store.write(f"Bring in {build.name}") as session:
        return _taken_in(session, build, {})


def _taken_in(session: Session, build: BuildFile, history: Rows) -> tuple[Build, list[str]]:
    told = add_gives(session, build.foam_gives)
    sets = [build.wearer.measurements.model_dump(mode="json")]
    sets += [r["readings"] for r in history.get("measurement_set", []) if isinstance(r, dict) and "readings" in r]
    wearer = _known_wearer(session, build.wearer.name, {tag_of(s) for s in sets})
    if wearer is not None:
        told.append(f"{wearer.name} is here already; the build is theirs.")
    if any(b.name == build.name for b in session.scalars(select(Build).where(~Build.removed))):
        told.append(f"A build called {build.name} is here already; this one stands beside it.")
    if history and not _agree(build, history):
        told.append("The history in the bundle tells of another state than its build file; the file was taken.")
        history = {}
    owner = wearer.id if wearer else None
    return take_in(session, history, owner) if history else builds.add_from_file(session, build, owner), told


def _known_wearer(session: Session, name: str, tags: set[str]) -> Wearer | None:
    """One of this name who has at least one of these sets of readings."""
    for wearer in session.scalars(select(Wearer).where(Wearer.name == name, ~Wearer.removed)):
        own = session.scalars(
            select(MeasurementSet).where(MeasurementSet.wearer_id == wearer.id, ~MeasurementSet.removed)
        )
        if tags & {tag_of(x.readings) for x in own}:
            return wearer
    return None


def _agree(build: BuildFile, history: Rows) -> bool:
    """Whether the history ends in what the build file holds, so that a file changed by hand is believed."""
    try:
        names = {r["name"] for r in history["build"]}
        pieces = sorted(history["piece"], key=lambda r: (r["position"], r["id"]))
        # Read, not compared as written: an older program wrote fewer fields.
        told = {r["name"]: PieceDesign.model_validate(r["design"]) for r in pieces}
        readings = [Measurements.model_validate(r["readings"]) for r in history["measurement_set"]]
    except (KeyError, TypeError, ValidationError):
        return False
    drawn = {p.title: p.design for p in build.pieces}
    return names == {build.name} and told == drawn and build.wearer.measurements in readings


def _renamed_build(build: BuildFile, kept: dict[str, str]) -> BuildFile:
    readings = build.wearer.measurements
    moved = Measurements.model_validate(_renamed(readings.model_dump(mode="json"), kept))
    return build.model_copy(update={"wearer": build.wearer.model_copy(update={"measurements": moved})})


def _renamed(value: Any, kept: dict[str, str]) -> Any:
    """JSON with every file's name as it is kept here: in readings and in rows of files."""
    if isinstance(value, dict):
        return {
            k: kept.get(v, v) if k in ("scan", "file", "above") and isinstance(v, str) else _renamed(v, kept)
            for k, v in value.items()
        }
    return [_renamed(v, kept) for v in value] if isinstance(value, list) else value
