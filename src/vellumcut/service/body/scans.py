"""Scans: taken in, looked at, and fitted as tubes. Files lie in the data folder's ``scans``, named by their content."""

import time
from collections.abc import AsyncIterator
from dataclasses import replace
from pathlib import Path

import numpy as np
from anyio import to_thread
from sqlalchemy import select

from vellumcut.core.body.measures import Measurements, ScanReading, stations_of
from vellumcut.core.body.segments import ScanSegment, Side
from vellumcut.core.body.tube import TubeSurface
from vellumcut.core.cast.scanned.landmarks import Ends, centre_at, propose_ends
from vellumcut.core.cast.scanned.mend import mended
from vellumcut.core.cast.scanned.mesh import BodyMesh, Stance, turn
from vellumcut.core.cast.scanned.scan import ScanFit, fit_limb, limb_placement
from vellumcut.core.cast.scanned.scan_trunk import fit_trunk
from vellumcut.core.cast.scanned.stance import facing, guess_stance
from vellumcut.core.cast.stations import fit_findings
from vellumcut.core.errors import CraftError
from vellumcut.core.notes import Finding
from vellumcut.formats.body.mesh_files import (
    LARGEST_SCAN,
    ReadMesh,
    check_size,
    mesh_format,
    read_mesh_file,
    write_mesh,
)
from vellumcut.service.kept import Kept
from vellumcut.service.rows import fetch
from vellumcut.store.database import Store
from vellumcut.store.files import Arriving, arriving, file_in
from vellumcut.store.models import Scan, Wearer


def _mesh_key(path: Path) -> str:
    return path.as_posix()


_meshes = Kept(read_mesh_file, _mesh_key, 3, on_disk=False)


def scans_folder(store: Store) -> Path:
    return store.folder / "scans"


async def receive(store: Store, wearer: int, name: str, body: AsyncIterator[bytes]) -> Scan:
    """Keep an upload as this wearer's scan. Raises CraftError; a file that is no body does not stay."""
    with arriving(scans_folder(store), mesh_format(name)) as file:
        async for block in body:
            file.write(block)
            if file.size > LARGEST_SCAN:
                check_size(file.size)
        check_size(file.size)
        file.complete()
        return await to_thread.run_sync(_keep, store, wearer, name, file)


def keep_made(store: Store, wearer: int, name: str, points: np.ndarray, faces: np.ndarray) -> Scan:
    """Keep a mesh that a device gave, as a PLY file."""
    with arriving(scans_folder(store), "ply", write_mesh(points, faces, "ply")) as file:
        return _keep(store, wearer, name, file)


UNSURE_FRONT = (
    "Where the body faces is not sure: trunk and toes do not tell it together. Look whether its front is right."
)


def _keep(store: Store, wearer: int, name: str, file: Arriving) -> Scan:
    mesh = read_mesh_file(file.path)
    stance = guess_stance(mesh.vertices, mesh.faces, "y" if file.path.suffix in (".glb", ".obj") else "z")
    upright = _stood(mesh, stance)
    faced = facing(upright)
    unsure = [UNSURE_FRONT] if faced is not None and not faced.sure else []
    with store.write(f"Bring in the scan {name[:60]}") as session:
        fetch(session, Wearer, wearer)
        row = Scan(
            wearer_id=wearer,
            name=name[:200],
            file=file.name,
            taken_at=time.time(),
            triangles=len(mesh.faces),
            stance=stance.__dict__,
            warnings=[*upright.warnings, *unsure],
        )
        session.add(row)
    kept = scans_folder(store) / file.name
    _meshes.put(mesh, kept)
    upright_mesh.put(upright, kept, stance)
    return row


def list_scans(store: Store, wearer: int) -> list[Scan]:
    with store.read() as session:
        fetch(session, Wearer, wearer)
        wanted = select(Scan).where(Scan.wearer_id == wearer, ~Scan.removed).order_by(Scan.id.desc())
        return list(session.scalars(wanted))


def get_scan(store: Store, number: int) -> Scan:
    with store.read() as session:
        return fetch(session, Scan, number)


def set_stance(store: Store, number: int, stance: Stance) -> Scan:
    turn(np.zeros((1, 3)), stance)
    with store.write("Turn the scan") as session:
        row = fetch(session, Scan, number)
        row.stance = stance.__dict__
    return row


def remove_scan(store: Store, number: int) -> None:
    """Take a scan off the list; its file stays for patterns already made from it."""
    with store.write("Remove the scan") as session:
        fetch(session, Scan, number).removed = True


def _upright_key(path: Path, stance: Stance) -> str:
    return f"{path}|{stance}"


def _upright(path: Path, stance: Stance) -> BodyMesh:
    return _stood(_meshes(path), stance)


def _stood(mesh: ReadMesh, stance: Stance) -> BodyMesh:
    points = turn(mesh.vertices, stance)
    low, high = points.min(axis=0), points.max(axis=0)
    points = points - np.array([(low[0] + high[0]) / 2, 0.0, low[2]])
    return mended(BodyMesh(points, mesh.faces, mesh.warnings))


upright_mesh = Kept(_upright, _upright_key, 3, on_disk=False)
"""A scan's path and stance -> its body in mm, z up, facing -y, feet at 0 and middle at 0. Raises CraftError."""


def reading_stance(reading: ScanReading) -> Stance:
    return Stance(reading.unit, reading.up, reading.front, reading.turned)


def said_of(scan: Scan) -> list[str]:
    """What is to be said of a scan as it is read now, in words."""
    turned = stance_of(scan).turned
    words = f"The body stood turned by {abs(turned):g} degrees about the vertical, and is read turned back."
    return [*scan.warnings, *([words] if turned else [])]


def stance_of(scan: Scan) -> Stance:
    return Stance(**scan.stance)


def mesh_of(store: Store, scan: Scan) -> BodyMesh:
    path = file_in(scans_folder(store), scan.file)
    if path is None:
        raise CraftError(f"The file of the scan {scan.name} is gone from the data folder; bring it in again", "file")
    return upright_mesh(path, stance_of(scan))


def ends_of(store: Store, scan: Scan, segment: ScanSegment, side: Side) -> Ends:
    return propose_ends(mesh_of(store, scan), segment, side)


def middle_of(store: Store, scan: Scan, touched: np.ndarray, way: np.ndarray) -> np.ndarray:
    return centre_at(mesh_of(store, scan), touched, way)


def fit_reading(folder: Path, reading: ScanReading, side: Side | None = None) -> ScanFit:
    """Fit the tube a reading describes; its file is sought in ``folder``. Cached by file content and reading.

    Raises CraftError.
    """
    return _fits(scan_file(folder, reading), reading, side)


def scan_file(folder: Path, reading: ScanReading) -> Path:
    """Where the scan of a reading lies: a mesh file inside ``folder``, whatever a stranger's build file names.

    Raises CraftError.
    """
    mesh_format(reading.scan)
    path = (folder / reading.scan).resolve()
    if not path.is_relative_to(folder.resolve()) or not path.is_file():
        raise CraftError(f"The scan {reading.scan} of the {reading.segment} is not here", f"scans.{reading.key}")
    return path


def scan_files(folder: Path, readings: Measurements) -> dict[str, bytes]:
    """Scans to take along with readings, by file name: those that are here and are read as bodies. Raises CraftError
    for one that is not."""
    out: dict[str, bytes] = {}
    for reading in readings.scans:
        path = scan_file(folder, reading)
        upright_mesh(path, reading_stance(reading))
        out[path.name] = path.read_bytes()
    return out


OFF_ITS_FRONT = 8.0
"""Degrees that a body may face off the front that is set before ends and sides are no more where they are taken to
be."""


def _fit(path: Path, reading: ScanReading, side: Side | None) -> ScanFit:
    mesh = upright_mesh(path, reading_stance(reading))
    made = _fitted(mesh, reading, side)
    faced = facing(mesh)
    if faced is None or abs(faced.degrees) < OFF_ITS_FRONT:
        return made
    words = f"The body faces {abs(faced.degrees):.0f} degrees off the front that is set: turn the scan."
    return replace(made, warnings=(*made.warnings, words))


def _fitted(mesh: BodyMesh, reading: ScanReading, side: Side | None) -> ScanFit:
    low, high, ahead = (np.array(p, dtype=float) for p in (reading.low, reading.high, reading.ahead))
    if reading.segment == "torso":
        return fit_trunk(mesh, low, high, ahead)
    place = limb_placement(low, high, ahead, (side or reading.side) == "right")
    span = float(np.linalg.norm(high - low))
    return fit_limb(mesh, place, span, stations_of(reading.segment), reading.mid)


def _fit_key(path: Path, reading: ScanReading, side: Side | None) -> str:
    facts = path.stat()
    return f"{path}|{facts.st_size}|{facts.st_mtime_ns}|{reading.model_dump_json()}|{side}"


_fits = Kept(_fit, _fit_key, 24)


def scan_findings(folder: Path, readings: Measurements) -> list[Finding]:
    """What is to be said of how the scanned parts of a set follow their scans; of what cannot be fitted, why."""
    out: list[Finding] = []
    for reading in readings.scans:
        try:
            out += fit_findings(reading, fit_reading(folder, reading))
        except CraftError as error:
            out.append(Finding("stop", f"{reading.key.replace('.', ', ')}: {error.message}", f"scans.{reading.key}"))
    return out


def scanned_tubes(folder: Path, readings: Measurements) -> dict[str, TubeSurface]:
    """The tube of every scanned segment of a set. One that cannot be fitted is left out: its pieces say so."""
    out: dict[str, TubeSurface] = {}
    for reading in readings.scans:
        try:
            out[reading.key] = fit_reading(folder, reading).tube
        except CraftError:
            continue
    return out
