"""Reads one mesh file and ends: run as a process of its own, so a broken or huge file cannot harm the server."""

import json
import re
import struct
import sys
from pathlib import Path

import igl
import numpy as np

from vellumcut.core.cast.scanned.mesh import LEAST_FACES, clean_mesh
from vellumcut.core.errors import CraftError
from vellumcut.core.solids.models.clean import clean_model
from vellumcut.formats.body.mesh_files import BOUNDS, MESH, MOST_TRIANGLES, MeshFormat, mesh_format
from vellumcut.formats.workers import BAD_INPUT

LONGEST_HEAD = 20_000_000
"""Of a GLB's description, bytes."""
DEEPEST = 200
LAST = 1000
"""Bytes at the end of an STL in text, in which it says that it ends."""
WORDS = {"obj": "an OBJ", "stl": "an STL", "ply": "a PLY", "glb": "a GLB"}


def main(source: Path, folder: Path, what: str) -> int:
    BOUNDS.hold()
    clean = clean_model if what == "model" else clean_mesh
    kind = mesh_format(source.name)
    try:
        _check_count(source, kind)
        vertices, faces, warnings = clean(*_load(source, kind))
    except CraftError as error:
        print(error.message, file=sys.stderr)
        return BAD_INPUT
    except MemoryError:
        print("The file needs more memory than is allowed; send one with fewer triangles", file=sys.stderr)
        return BAD_INPUT
    except Exception:  # whatever a parser trips over, the maker is told the same
        print(f"The file is not {WORDS[kind]} mesh, or is broken", file=sys.stderr)
        return BAD_INPUT
    np.savez(folder / MESH, vertices=vertices, faces=faces, warnings=np.array(json.dumps(warnings)))
    return 0


def _check_count(source: Path, kind: MeshFormat) -> None:
    """Count triangles before anything is built from them. Raises CraftError."""
    count = {"stl": _stl_count, "ply": _ply_count, "obj": _obj_count, "glb": _glb_count}[kind](source)
    if count > MOST_TRIANGLES:
        raise CraftError(
            f"The mesh has {count:,} triangles; at most {MOST_TRIANGLES:,} are read. Export it with fewer: 50,000 "
            "are plenty"
        )


def _stl_count(source: Path) -> int:
    with source.open("rb") as file:
        head = file.read(84)
        if len(head) == 84 and source.stat().st_size == 84 + 50 * struct.unpack("<I", head[80:])[0]:
            return int(struct.unpack("<I", head[80:])[0])
        file.seek(max(0, source.stat().st_size - LAST))
        if not head.lower().lstrip().startswith(b"solid") or b"endsolid" not in file.read().lower():
            raise CraftError("The file is not an STL mesh, or it is cut short")
        file.seek(0)
        return sum(block.lower().count(b"endfacet") for block in iter(lambda: file.read(1 << 20), b""))


def _ply_count(source: Path) -> int:
    with source.open("rb") as file:
        if file.readline(200).strip() != b"ply":
            raise CraftError("The file is not a PLY mesh, whatever its name says")
        for _ in range(200):
            line = file.readline(400)
            if line.startswith(b"element face"):
                return int(line.split()[2])
            if line.startswith(b"end_header") or not line:
                break
    raise CraftError("The PLY file holds no triangles; a cloud of points must be meshed first")


def _obj_count(source: Path) -> int:
    with source.open("rb") as file:
        start = file.read(4096)
        if b"\x00" in start:
            raise CraftError("The file is not an OBJ mesh, whatever its name says")
        file.seek(0)
        faces = corners = 0
        for line in file:
            if line.startswith(b"f "):
                faces += max(1, len(line.split()) - 3)
            else:
                corners += line.startswith(b"v ")
        return max(faces, corners // 3)


def _glb_count(source: Path) -> int:
    """Triangles as they are placed: a node that is shown many times, or shows itself, is counted as often."""
    with source.open("rb") as file:
        head = file.read(20)
        if len(head) < 20 or head[:4] != b"glTF":
            raise CraftError("The file is not a GLB mesh, whatever its name says")
        told = json.loads(file.read(min(struct.unpack("<I", head[12:16])[0], LONGEST_HEAD)))
    counts = [a.get("count", 0) for a in told.get("accessors", [])]
    meshes: list[int] = [
        sum(counts[p.get("indices", p.get("attributes", {}).get("POSITION", 0))] // 3 for p in m["primitives"])
        for m in told.get("meshes", [])
    ]
    nodes = told.get("nodes", [])
    placed: dict[int, int] = {}

    def below(node: int, above: tuple[int, ...]) -> int:
        if node in above or len(above) > DEEPEST:
            raise CraftError("The GLB file places a part inside itself; export it again")
        if node not in placed:
            own = nodes[node]
            inner = sum(below(child, (*above, node)) for child in own.get("children", []))
            placed[node] = inner + (meshes[own["mesh"]] if "mesh" in own else 0)
        return placed[node]

    roots = {n for scene in told.get("scenes", []) for n in scene.get("nodes", [])} or set(range(len(nodes)))
    return max(sum(meshes), sum(below(n, ()) for n in roots))


def _load(source: Path, kind: MeshFormat) -> tuple[np.ndarray, np.ndarray]:
    """An OBJ by the plain reader, which is loaded in a third of the time; what it does not read, and other formats, by
    the thorough one, which also notices a binary file that was cut short."""
    if kind == "obj":
        try:
            vertices, faces = igl.read_triangle_mesh(str(source))[:2]
        except RuntimeError:
            faces = np.zeros((0, 3))
        if faces.ndim == 2 and len(faces) >= LEAST_FACES and faces.shape[1] == 3:
            return np.asarray(vertices, dtype=np.float64)[:, :3], _checked(np.asarray(faces, dtype=np.int64))
    return _load_stl(source) if kind == "stl" else _load_any(source, kind)


CORNER = re.compile(rb"vertex([^\n]*)")
BLOCK = 4_000_000
TRIANGLE = np.dtype([("normal", "<f4", 3), ("corners", "<f4", (3, 3)), ("more", "<u2")])


def _load_stl(source: Path) -> tuple[np.ndarray, np.ndarray]:
    """Binary, if its length is the one that its count asks for, else as text, block by block: the thorough reader
    takes two gigabytes for a million triangles of text."""
    with source.open("rb") as file:
        count = int.from_bytes(file.read(84)[80:], "little")
        if source.stat().st_size == 84 + TRIANGLE.itemsize * count:
            corners = np.fromfile(file, TRIANGLE)["corners"].astype(np.float64)
        else:
            file.seek(0)
            blocks = (CORNER.findall((text + file.readline()).lower()) for text in iter(lambda: file.read(BLOCK), b""))
            corners = np.concatenate([np.fromstring(b" ".join(rows).decode("ascii"), sep=" ") for rows in blocks])
    vertices = corners.reshape(-1, 3)
    return vertices, _checked(np.arange(len(vertices), dtype=np.int64).reshape(-1, 3))


def _load_any(source: Path, kind: MeshFormat) -> tuple[np.ndarray, np.ndarray]:
    import trimesh  # noqa: PLC0415 - takes a second to load, and few files want it

    made = trimesh.load(source, file_type=kind, force="mesh", process=False, skip_materials=True)
    faces = np.asarray(getattr(made, "faces", np.zeros((0, 3))), dtype=np.int64)
    return np.asarray(getattr(made, "vertices", np.zeros((0, 3))), dtype=np.float64), _checked(faces)


def _checked(faces: np.ndarray) -> np.ndarray:
    if len(faces) > MOST_TRIANGLES:
        raise CraftError(f"The mesh has {len(faces):,} triangles; at most {MOST_TRIANGLES:,} are read")
    return faces


if __name__ == "__main__":
    sys.exit(main(Path(sys.argv[1]), Path(sys.argv[2]), sys.argv[3]))
