"""Scans: taken in, looked at, and fitted as tubes. Files lie in the data folder's ``scans``, named by their content."""

import hashlib
import os
import threading
import time
from collections import OrderedDict
from collections.abc import AsyncIterator
from pathlib import Path

import numpy as np
from sqlalchemy import select

from vellumcut.core.body.measures import Measurements, ScanReading, stations_of
from vellumcut.core.body.segments import ScanSegment, Side
from vellumcut.core.body.tube import TubeSurface
from vellumcut.core.cast.landmarks import Ends, centre_at, propose_ends
from vellumcut.core.cast.mesh import BodyMesh, Stance, guess_stance, turn
from vellumcut.core.cast.scan import ScanFit, fit_limb, limb_placement
from vellumcut.core.cast.scan_trunk import fit_trunk
from vellumcut.core.errors import CraftError
from vellumcut.formats.mesh_files import LARGEST_SCAN, ReadMesh, check_size, mesh_format, read_mesh_file, write_mesh
from vellumcut.service.rows import fetch
from vellumcut.store.database import Store
from vellumcut.store.models import Scan, Wearer

_KEPT_MESHES, _KEPT_FITS = 3, 24
_meshes: OrderedDict[str, ReadMesh] = OrderedDict()
_fits: OrderedDict[str, ScanFit] = OrderedDict()
_guard = threading.Lock()


def scans_folder(store: Store) -> Path:
    folder = store.folder / "scans"
    folder.mkdir(exist_ok=True)
    return folder


async def receive(store: Store, name: str, body: AsyncIterator[bytes]) -> Path:
    """Write an upload to the scans folder under the name of its content. Raises CraftError; a part file never stays."""
    kind = mesh_format(name)
    folder = scans_folder(store)
    part = folder / f"incoming-{os.getpid()}-{time.monotonic_ns()}.{kind}"
    digest, size = hashlib.sha256(), 0
    try:
        with part.open("wb") as file:
            async for block in body:
                size += len(block)
                if size > LARGEST_SCAN:
                    check_size(size)
                digest.update(block)
                file.write(block)
            file.flush()
            os.fsync(file.fileno())
        check_size(size)
        final = folder / f"{digest.hexdigest()[:24]}.{kind}"
        part.replace(final)
        return final
    finally:
        part.unlink(missing_ok=True)


def keep_scan(store: Store, wearer: int, name: str, path: Path) -> Scan:
    """Read a received file and keep it as this wearer's scan. A file that is no body is thrown away again."""
    try:
        mesh = _mesh(path)
        stance = guess_stance(mesh.vertices, mesh.faces, "y" if path.suffix in (".glb", ".obj") else "z")
    except CraftError:
        if not _is_used(store, path.name):
            path.unlink(missing_ok=True)
        raise
    with store.write(f"Bring in the scan {name[:60]}") as session:
        fetch(session, Wearer, wearer)
        row = Scan(
            wearer_id=wearer,
            name=name[:200],
            file=path.name,
            taken_at=time.time(),
            triangles=len(mesh.faces),
            stance=stance.__dict__,
            warnings=list(mesh.warnings),
        )
        session.add(row)
    return row


def keep_made(store: Store, wearer: int, name: str, points: np.ndarray, faces: np.ndarray) -> Scan:
    """Keep a mesh that a device gave, as a PLY file."""
    content = write_mesh(points, faces, "ply")
    path = scans_folder(store) / f"{hashlib.sha256(content).hexdigest()[:24]}.ply"
    path.write_bytes(content)
    return keep_scan(store, wearer, name, path)


def _is_used(store: Store, file: str) -> bool:
    with store.read() as session:
        return session.scalars(select(Scan).where(Scan.file == file)).first() is not None


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


def _mesh(path: Path) -> ReadMesh:
    key = str(path)
    with _guard:
        if key in _meshes:
            _meshes.move_to_end(key)
            return _meshes[key]
    made = read_mesh_file(path)
    with _guard:
        _meshes[key] = made
        while len(_meshes) > _KEPT_MESHES:
            _meshes.popitem(last=False)
    return made


def upright_mesh(path: Path, stance: Stance) -> BodyMesh:
    """A scan in mm, z up, facing -y, feet at 0 and middle at 0. Raises CraftError."""
    mesh = _mesh(path)
    points = turn(mesh.vertices, stance)
    low, high = points.min(axis=0), points.max(axis=0)
    points = points - np.array([(low[0] + high[0]) / 2, 0.0, low[2]])
    return BodyMesh(points, mesh.faces, mesh.warnings)


def stance_of(scan: Scan) -> Stance:
    return Stance(**scan.stance)


def mesh_of(store: Store, scan: Scan) -> BodyMesh:
    return upright_mesh(scans_folder(store) / scan.file, stance_of(scan))


def ends_of(store: Store, scan: Scan, segment: ScanSegment, side: Side) -> Ends:
    return propose_ends(mesh_of(store, scan), segment, side)


def middle_of(store: Store, scan: Scan, touched: np.ndarray, way: np.ndarray) -> np.ndarray:
    return centre_at(mesh_of(store, scan), touched, way)


def fit_reading(folder: Path, reading: ScanReading, side: Side | None = None) -> ScanFit:
    """Fit the tube a reading describes; its file is sought in ``folder``. Cached by file content and reading.

    Raises CraftError.
    """
    path = (folder / reading.scan).resolve()
    if not path.is_relative_to(folder.resolve()) or not os.path.isfile(path):
        raise CraftError(f"The scan {reading.scan} of the {reading.segment} is not here", f"scans.{reading.key}")
    facts = path.stat()
    key = f"{path}|{facts.st_size}|{facts.st_mtime_ns}|{reading.model_dump_json()}|{side}"
    with _guard:
        if key in _fits:
            _fits.move_to_end(key)
            return _fits[key]
    made = _fit(upright_mesh(path, Stance(reading.unit, reading.up, reading.front)), reading, side)
    with _guard:
        _fits[key] = made
        while len(_fits) > _KEPT_FITS:
            _fits.popitem(last=False)
    return made


def _fit(mesh: BodyMesh, reading: ScanReading, side: Side | None) -> ScanFit:
    low, high, ahead = (np.array(p, dtype=float) for p in (reading.low, reading.high, reading.ahead))
    if reading.segment == "torso":
        return fit_trunk(mesh, low, high, ahead)
    place = limb_placement(low, high, ahead, (side or reading.side) == "right")
    span = float(np.linalg.norm(high - low))
    return fit_limb(mesh, place, span, stations_of(reading.segment), reading.mid)


def scanned_tubes(folder: Path, readings: Measurements) -> dict[str, TubeSurface]:
    """The tube of every scanned segment of a set. One that cannot be fitted is left out: its pieces say so."""
    out: dict[str, TubeSurface] = {}
    for reading in readings.scans:
        try:
            out[reading.key] = fit_reading(folder, reading).tube
        except CraftError:
            continue
    return out
