"""Bundles: a whole build packed to take away, and brought in again."""

import hashlib
from pathlib import Path

from vellumcut.core.errors import CraftError
from vellumcut.formats.bundle import pack_bundle, safe_name, unpack_bundle
from vellumcut.formats.csv_table import write_csv
from vellumcut.formats.measures_csv import HEAD, measure_rows
from vellumcut.formats.mesh_files import read_mesh_file, write_mesh
from vellumcut.formats.pdf import write_pdf
from vellumcut.formats.shapes import SHAPES
from vellumcut.formats.sheet_svg import write_sheet
from vellumcut.formats.svg import write_svg
from vellumcut.service import builds, ink
from vellumcut.service.jobs import Job, start_job
from vellumcut.service.patterns import cutting_pattern
from vellumcut.service.scans import scans_folder
from vellumcut.store.database import Store
from vellumcut.store.models import Build


def drawn_files(work: builds.Work) -> dict[str, bytes]:
    """What is drawn of one piece: its pattern as PDF and SVG, its ink sheet, the cast, armour and ink as meshes."""
    folder = safe_name(work.name)
    pattern = cutting_pattern(work)
    view = ink.view_ink(work)
    sheet = write_sheet(ink.tube_of(work), view.sheet, view.reading, work.name)
    out = {
        f"{folder}/pattern.pdf": write_pdf(pattern, "A4", "mm", 1.0),
        f"{folder}/pattern.svg": write_svg(pattern).encode(),
        f"{folder}/sheet.svg": sheet.encode(),
    }
    for what in SHAPES:
        out[f"{folder}/{what}.obj"] = write_mesh(*ink.shape_of(work, what), "obj")
    return out


def pack_build(store: Store, number: int) -> Job:
    """Pack a build as a job; the job's file is the bundle."""
    build = builds.export_build(store, number)
    pieces = next(p for b, _, p in builds.list_builds(store) if b.id == number)

    def work(job: Job) -> int:
        drawn = {"measurements.csv": write_csv(HEAD, measure_rows([build.wearer.measurements])).encode()}
        for k, piece in enumerate(pieces):
            job.report(k / (len(pieces) + 1), f"Drawing {piece.name}")
            try:
                drawn |= drawn_files(builds.work_on(store, piece.id))
            except CraftError as error:
                drawn[f"{safe_name(piece.name)}/no pattern.txt"] = error.message.encode()
        job.report(len(pieces) / (len(pieces) + 1), "Packing")
        folder = scans_folder(store)
        names = {x.scan for x in build.wearer.measurements.scans}
        scans = {n: (folder / n).read_bytes() for n in names if (folder / n).is_file()}
        job.file = pack_bundle(build, scans, drawn)
        return number

    return start_job(f"Packing {build.name}", work)


def bring_in(store: Store, content: bytes) -> Build:
    """A build from a bundle, with its scans; all of it or nothing. Raises CraftError."""
    bundle = unpack_bundle(content)
    folder = scans_folder(store)
    kept: dict[str, str] = {}
    for name, scan in bundle.scans.items():
        path = folder / f"{hashlib.sha256(scan).hexdigest()[:24]}.{name.rsplit('.', 1)[-1].lower()}"
        if not path.exists():
            path.write_bytes(scan)
            _must_be_mesh(path)
        kept[name] = path.name
    readings = bundle.build.wearer.measurements
    scans = tuple(x.model_copy(update={"scan": kept[x.scan]}) for x in readings.scans)
    wearer = bundle.build.wearer.model_copy(update={"measurements": readings.model_copy(update={"scans": scans})})
    return builds.import_build(store, bundle.build.model_copy(update={"wearer": wearer}))


def _must_be_mesh(path: Path) -> None:
    try:
        read_mesh_file(path)
    except CraftError:
        path.unlink(missing_ok=True)
        raise
