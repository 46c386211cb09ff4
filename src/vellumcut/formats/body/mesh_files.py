"""Triangle meshes in open formats: OBJ, STL, PLY and GLB, read in a process of its own with bounds, and written."""

import json
from dataclasses import dataclass
from pathlib import Path
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from vellumcut.core.errors import CraftError
from vellumcut.formats.workers import Bounds, worked

Array = NDArray[np.float64]
Faces = NDArray[np.int64]

MeshFormat = Literal["obj", "stl", "ply", "glb"]
MESH_FORMATS: tuple[MeshFormat, ...] = ("obj", "stl", "ply", "glb")
LARGEST_SCAN = 250_000_000
"""Bytes."""
MOST_TRIANGLES = 1_000_000
BOUNDS = Bounds(seconds=20, patience=90, memory=4_000_000_000)
"""A busy machine may give the process a small part of itself, and the file is not to blame."""
MESH = "mesh.npz"


@dataclass(frozen=True, eq=False)
class ReadMesh:
    """vertices: (n, 3) in the file's own numbers. faces: (m, 3). warnings: what was found, in words."""

    vertices: Array
    faces: Faces
    warnings: tuple[str, ...]


def mesh_format(name: str) -> MeshFormat:
    """The format a file name tells. Raises CraftError."""
    ending = name.rsplit(".", 1)[-1].lower() if "." in name else ""
    for known in MESH_FORMATS:
        if ending == known:
            return known
    raise CraftError(f'"{name[-60:]}" is no mesh file: send an OBJ, STL, PLY or GLB', "file")


def read_mesh_file(path: Path, what: Literal["scan", "model"] = "scan") -> ReadMesh:
    """Read and clean a scan or a model in a worker process with a limit on time and memory. Raises CraftError in plain
    words."""
    mesh_format(path.name)
    try:
        size = path.stat().st_size if path.is_file() else 0
    except OSError as error:
        raise CraftError(
            f"{path.name} cannot be read: {(error.strerror or 'unknown reason').lower()}", "file"
        ) from None
    check_size(size)
    with (
        worked("vellumcut.formats.body.mesh_worker", BOUNDS, path, what, "file") as folder,
        np.load(folder / MESH) as data,
    ):
        return ReadMesh(data["vertices"], data["faces"], tuple(json.loads(str(data["warnings"]))))


def check_size(size: int) -> None:
    """Raises CraftError when a file is too large or empty."""
    if size > LARGEST_SCAN:
        raise CraftError(
            f"The file is larger than {LARGEST_SCAN // 1_000_000} MB; export the scan with fewer triangles", "file"
        )
    if size == 0:
        raise CraftError("The file is empty", "file")


def write_mesh(vertices: Array, faces: Faces, kind: MeshFormat) -> bytes:
    """A mesh as a file's bytes; (n, 3) mm and (m, 3). GLB is in metres with y up, as its standard says."""
    import trimesh  # noqa: PLC0415 - slow to load, and only wanted here

    points = vertices
    if kind == "glb":
        points = np.stack([vertices[:, 0], vertices[:, 2], -vertices[:, 1]], axis=1) / 1000.0
    made = trimesh.Trimesh(points, faces, process=False).export(file_type=kind)
    return made.encode() if isinstance(made, str) else bytes(made)
