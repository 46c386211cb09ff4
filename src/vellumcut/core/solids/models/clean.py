"""A model from a mesh file: one clean surface, or a sentence why there is none."""

import base64
import struct
import zlib

import igl
import numpy as np
from numpy.typing import NDArray
from scipy.sparse import coo_array
from scipy.sparse.csgraph import connected_components

from vellumcut.core.errors import CraftError

Array = NDArray[np.float64]
Faces = NDArray[np.int64]

MOST_FACES = 2400
"""A model is kept with so many triangles at most: foam has no finer shape."""
CLUSTERED = 120_000
"""More than these are first joined in a grid: what thins a mesh well is too slow for them."""
LEAST_FACES = 4
SMALL_HOLE = 0.5
"""Of its largest size, round a hole, up to which it is closed (est.)."""
LOOSE = 0.02
"""Share of the whole face under which a loose part is dirt (est.)."""


def clean_model(vertices: Array, faces: Faces) -> tuple[Array, Faces, tuple[str, ...]]:
    """Weld, turn the right way out, keep the largest part, thin out. vertices: (n, 3) in the file's own numbers.

    Returns vertices, faces, and what was found in words. Raises CraftError where no surface is left.
    """
    if len(faces) == 0:
        raise CraftError("The file holds no triangles; a cloud of points must be meshed first", "file")
    if not np.isfinite(vertices).all():
        raise CraftError("The file holds corners that are not finite numbers", "file")
    used = np.zeros(len(vertices), bool)
    used[faces] = True
    span = float(np.ptp(vertices[used], axis=0).max())
    if span <= 0:
        raise CraftError("All of the model lies in one point", "file")
    said: list[str] = []
    vertices, faces = _fewer(*_welded(vertices, faces, span, 1e-6), span, said)
    vertices, faces = _one_surface(vertices, faces, span, said)
    if len(faces) > MOST_FACES:
        before = len(faces)
        vertices, faces = _thinned(vertices, faces)
        said.append(f"Kept with {len(faces):,} of its {before:,} triangles.")
    rims = int(igl.boundary_facets(faces)[0].shape[0])
    if rims:
        said.append(f"It is open: {rims} edges of it are free.")
    return vertices, faces, tuple(said)


def _fewer(vertices: Array, faces: Faces, span: float, said: list[str]) -> tuple[Array, Faces]:
    """Joined in a grid, where there are too many to be thinned out well. said: what is done is added."""
    if len(faces) <= CLUSTERED:
        return vertices, faces
    said.append(f"The model has {len(faces):,} triangles and was thinned out.")
    coarse, fewer = vertices, faces
    for cell in (1 / 400, 1 / 250, 1 / 160):
        coarse, fewer = _welded(vertices, faces, span, cell)
        if len(fewer) <= CLUSTERED:
            break
    return coarse, fewer


def _one_surface(vertices: Array, faces: Faces, span: float, said: list[str]) -> tuple[Array, Faces]:
    """The largest surface, its small holes closed, all of it the right way out. said: what is done is added."""
    once = _each_once(faces)
    if len(once) < len(faces):
        said.append(f"{len(faces) - len(once)} triangles lay on others and are left out.")
    faces, parted = _manifold(vertices, once)
    if parted:
        said.append(f"{parted} triangles met at edges of three or more and are left out.")
    vertices, faces, more = _largest(vertices, faces)
    said += more
    if len(faces) < LEAST_FACES:
        raise CraftError("Too little of the model hangs together to be a surface", "file")
    faces, turned = _outwards(vertices, faces)
    if turned:
        said.append("Some triangles faced the other way and were turned.")
    closed = 0
    for _ in range(4):  # holes that touch at a corner are closed one after the other
        vertices, faces, now = _closed(vertices, faces, span)
        if not now:
            break
        closed += now
    if closed:
        said.append(f"{closed} holes were closed." if closed > 1 else "A hole was closed.")
    return vertices, faces


def _welded(vertices: Array, faces: Faces, span: float, share: float) -> tuple[Array, Faces]:
    """Corners within a share of the model's size made one, and triangles that vanish left out."""
    low = vertices.min(axis=0)
    cell = ((vertices - low) / (span * share)).round().astype(np.int64)
    _, first, same = np.unique(cell @ np.array([1 << 42, 1 << 21, 1]), return_index=True, return_inverse=True)
    faces = same.ravel()[faces]
    whole = (faces[:, 0] != faces[:, 1]) & (faces[:, 1] != faces[:, 2]) & (faces[:, 2] != faces[:, 0])
    points = vertices[first]
    if share > 1e-5:  # a cell's corner is its mean, not whichever came first
        count = np.bincount(same.ravel())
        points = np.stack([np.bincount(same.ravel(), vertices[:, k]) / count for k in range(3)], axis=1)
    return points, faces[whole].astype(np.int64)


def _each_once(faces: Faces) -> Faces:
    _, first = np.unique(np.sort(faces, axis=1), axis=0, return_index=True)
    return faces[np.sort(first)]


def _manifold(vertices: Array, faces: Faces) -> tuple[Faces, int]:
    """Without what stands off at edges where more than two triangles meet, and the smallest of what does not."""
    a, b, c = (vertices[faces[:, k]] for k in range(3))
    area = np.linalg.norm(np.cross(b - a, c - a), axis=1)
    keep = np.ones(len(faces), bool)
    for _ in range(6):
        rows = np.flatnonzero(keep)
        ends = np.sort(np.stack([faces[rows], np.roll(faces[rows], -1, axis=1)], axis=2).reshape(-1, 2), axis=1)
        _, which, count = np.unique(ends, axis=0, return_inverse=True, return_counts=True)
        owner = np.repeat(rows, 3)
        crowded = np.flatnonzero(count[which.ravel()] > 2)
        if not len(crowded):
            break
        loose = np.bincount(owner, count[which.ravel()] == 1, len(faces))  # a fin has free sides, a wall has none
        order = crowded[np.lexsort((area[owner[crowded]], -loose[owner[crowded]], which.ravel()[crowded]))]
        edges = which.ravel()[order]
        smallest = order[np.concatenate([[True], edges[1:] != edges[:-1]])]
        keep[owner[smallest]] = False
    return faces[keep], int((~keep).sum())


def _largest(vertices: Array, faces: Faces) -> tuple[Array, Faces, list[str]]:
    ends = np.sort(np.stack([faces, np.roll(faces, -1, axis=1)], axis=2).reshape(-1, 2), axis=1)
    owner = np.repeat(np.arange(len(faces)), 3)
    order = np.lexsort((ends[:, 1], ends[:, 0]))
    same = (ends[order][1:] == ends[order][:-1]).all(axis=1)
    pairs = owner[order][:-1][same], owner[order][1:][same]
    net = coo_array((np.ones(len(pairs[0]), np.int8), pairs), shape=(len(faces),) * 2)
    _, label = connected_components(net, directed=False)
    a, b, c = (vertices[faces[:, k]] for k in range(3))
    area = np.bincount(label, np.linalg.norm(np.cross(b - a, c - a), axis=1))
    keep = label == int(area.argmax())
    others = int((area > LOOSE * area.sum()).sum()) - 1
    said = []
    if others > 0:
        said.append(f"The file holds {others + 1} shells; the largest is kept. Send the others in files of their own.")
    elif len(area) > 1:
        said.append(f"{len(area) - 1} loose bits are left out.")
    used, own = np.unique(faces[keep], return_inverse=True)
    return vertices[used], own.reshape(-1, 3).astype(np.int64), said


def _outwards(vertices: Array, faces: Faces) -> tuple[Faces, bool]:
    """All triangles the same way, outwards: where it is open, away from its own middle."""
    turned, _ = igl.bfs_orient(faces)
    turned = np.asarray(turned, np.int64)
    middle = vertices.mean(axis=0)
    a, b, c = (vertices[turned[:, k]] - middle for k in range(3))
    if float((a * np.cross(b, c)).sum()) < 0:
        turned = turned[:, ::-1]
    way = np.sort(faces, axis=1) != faces
    other = np.sort(turned, axis=1) != turned
    return np.ascontiguousarray(turned), bool((way != other).any())


def _closed(vertices: Array, faces: Faces, span: float) -> tuple[Array, Faces, int]:
    """With small holes closed by triangles round their middle. Larger openings are taken to be meant."""
    ends = np.stack([faces, np.roll(faces, -1, axis=1)], axis=2).reshape(-1, 2)
    there = {(int(a), int(b)) for a, b in ends}
    free = {int(b): int(a) for a, b in there if (b, a) not in there}
    points, more, count = [vertices], [], len(vertices)
    closed = 0
    while free:
        start, here = free.popitem()
        ring = [start]
        while here != start and here in free:
            ring.append(here)
            here = free.pop(here)
        around = np.linalg.norm(np.diff(vertices[[*ring, start]], axis=0), axis=1).sum()
        if here != start or len(ring) < 3 or around > SMALL_HOLE * span:
            continue
        points.append(vertices[ring].mean(axis=0)[None])
        more += [(a, b, count) for a, b in zip(ring, [*ring[1:], ring[0]], strict=True)]
        count += 1
        closed += 1
    if not closed:
        return vertices, faces, 0
    return np.vstack(points), np.vstack([faces, np.array(more, np.int64)]), closed


def _thinned(vertices: Array, faces: Faces) -> tuple[Array, Faces]:
    thin = igl.qslim(np.asfortranarray(vertices), np.asfortranarray(faces.astype(np.int32)), MOST_FACES)
    points, fewer = np.array(thin[0]), np.array(thin[1], np.int64)
    if len(fewer) < LEAST_FACES:
        thin = igl.decimate(np.asfortranarray(vertices), np.asfortranarray(faces.astype(np.int32)), MOST_FACES)
        points, fewer = np.array(thin[0]), np.array(thin[1], np.int64)
    if len(fewer) < LEAST_FACES:
        raise CraftError("The model is too fine and too broken to be thinned out: export it with fewer triangles",
                         "file")  # fmt: skip
    kept = _each_once(fewer)
    kept, _ = _manifold(points, kept)
    points, kept, _ = _largest(points, kept)
    return points, _outwards(points, kept)[0]


def pack(vertices: Array, faces: Faces) -> str:
    """A mesh as the text that a piece keeps."""
    head = struct.pack("<II", len(vertices), len(faces))
    body = head + vertices.astype("<f4").tobytes() + faces.astype("<u2").tobytes()
    return base64.b64encode(zlib.compress(body, 9)).decode("ascii")


def unpack(text: str) -> tuple[Array, Faces]:
    """The mesh again. Raises CraftError for a text that is none."""
    try:
        body = zlib.decompressobj().decompress(base64.b64decode(text, validate=True), 4_000_000)
        n, m = struct.unpack("<II", body[:8])
        if len(body) != 8 + 12 * n + 6 * m or not 3 <= n <= 65535 or not LEAST_FACES <= m <= MOST_FACES:
            raise ValueError
        points = np.frombuffer(body, "<f4", 3 * n, 8).reshape(-1, 3).astype(np.float64)
        faces = np.frombuffer(body, "<u2", 3 * m, 8 + 12 * n).reshape(-1, 3).astype(np.int64)
    except (ValueError, struct.error, zlib.error):
        raise CraftError("The model is not one that this program packed", "design.solid.mesh") from None
    if faces.max() >= n or not np.isfinite(points).all():
        raise CraftError("The model is not one that this program packed", "design.solid.mesh")
    return points, faces
