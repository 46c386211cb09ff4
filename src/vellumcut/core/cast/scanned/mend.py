"""What a scanner left out of a body, or added to it: noise is evened out, large holes are closed.

Noise makes every ring cut through a mesh longer than the body is round: 2 mm of it on triangles of 12 mm adds 40 to
90 mm to girths. A hole where limbs meet the trunk takes the rings apart that tell them from each other.
"""

from dataclasses import replace

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import coo_matrix, csr_matrix, diags
from scipy.sparse.csgraph import connected_components

from vellumcut.core.cast.scanned.mesh import BodyMesh, Faces

Array = NDArray[np.float64]

ROUGH = 0.75
"""mm of noise, one spread, from which a mesh is evened: below, smooth tubes even it out themselves."""
OF_AN_EDGE = 0.05
"""Share of a usual edge by which large triangles lie off a body that bends, and are no noise."""
REACH = 10.0
"""mm over which it is evened."""
SHRINK, SWELL = 0.5, -0.53
"""Steps of Taubin's smoothing, in turn: bumps go, girths stay."""
ROUNDS = 8, 80
"""Fewest and most pairs of steps."""
OFF = 3.0
"""By how many times the noise a limb's girth was off at most, after evening, on made-up bodies."""
LARGE = 60.0
"""mm across a hole from which it is closed: rings bridge smaller ones."""
FLOOR, CROWN, TOP = 0.03, 0.9, 3.0
"""Shares of the height below which a hole is a sole's, and above which it may be the top of the head's; mm below the
highest place within which it is."""
CROWN_LARGE = 35.0
"""mm across a hole in the crown from which it is closed: all heights are shares of the body's."""
HEAD = 0.048
"""Half of how wide a head is on the whole, of the body's height (est.)."""


def mended(mesh: BodyMesh) -> BodyMesh:
    """A body in upright mm without noise and large holes; what was done is among its warnings."""
    weights = _umbrella(mesh)
    rough = _noise(mesh, weights)
    if rough > max(ROUGH, OF_AN_EDGE * _edge(mesh)):
        words = (
            f"The scan is rough by {rough:.1f} mm and is evened out: girths may be off by {OFF * rough:.0f} mm, and by "
            "more where a waist or a bust is looked for. Hold a tape to those."
        )
        mesh = replace(mesh, vertices=_evened(mesh, weights), warnings=(*mesh.warnings, words))
    return _closed(mesh) if mesh.whole else mesh


def _edges(faces: Faces) -> tuple[Faces, NDArray[np.bool_]]:
    """(e, 2) edges, each once, as a triangle of it runs, and whether it has no other."""
    ahead = np.vstack([faces[:, [0, 1]], faces[:, [1, 2]], faces[:, [2, 0]]])
    key = ahead.min(axis=1) * (int(faces.max()) + 1) + ahead.max(axis=1)
    _, first, count = np.unique(key, return_index=True, return_counts=True)
    return ahead[first], count == 1


def _umbrella(mesh: BodyMesh) -> csr_matrix:
    """Weights that take each corner to the mean of its neighbours; on a rim, of those on the rim."""
    edges, rim = _edges(mesh.faces)
    n = len(mesh.vertices)
    on_rim = np.zeros(n, bool)
    on_rim[edges[rim]] = True
    one_way = np.vstack([edges, edges[:, ::-1]])
    kept = ~on_rim[one_way[:, 0]] | np.concatenate([rim, rim])
    rows, columns = one_way[kept].T
    links = coo_matrix((np.ones(len(rows)), (rows, columns)), (n, n)).tocsr()
    return diags(1 / np.maximum(np.asarray(links.sum(axis=1)).ravel(), 1)) @ links


def _noise(mesh: BodyMesh, weights: csr_matrix) -> float:
    """mm, one spread, by which corners lie off a surface that bends evenly, square to it."""
    n = len(mesh.vertices)
    rough = diags(np.ones(n)) - weights
    twice = rough @ rough
    off = twice @ mesh.vertices
    normal = np.zeros((n, 3))
    a, b, c = (mesh.corners[:, k] for k in range(3))
    face = np.cross(b - a, c - a)
    for k in range(3):
        np.add.at(normal, mesh.faces[:, k], face)
    normal /= np.maximum(np.linalg.norm(normal, axis=1), 1e-9)[:, None]
    gain = np.sqrt(np.asarray(twice.multiply(twice).sum(axis=1)).ravel())
    return float(1.4826 * np.median(np.abs((off * normal).sum(axis=1)) / np.maximum(gain, 1e-9)))


def _edge(mesh: BodyMesh) -> float:
    """mm of a usual edge."""
    return float(np.median(np.linalg.norm(mesh.corners[:, 0] - mesh.corners[:, 1], axis=1)))


def _evened(mesh: BodyMesh, weights: csr_matrix) -> Array:
    rounds = int(np.clip(ROUNDS[0] * (REACH / _edge(mesh)) ** 2, *ROUNDS))
    v = mesh.vertices
    for _ in range(rounds):
        for step in (SHRINK, SWELL):
            v = v + step * (weights @ v - v)
    return np.asarray(v)


def _closed(mesh: BodyMesh) -> BodyMesh:
    """With each large hole closed by triangles to its middle; that of a crown is a dome."""
    points, faces, said = [mesh.vertices], [mesh.faces], []
    for rim in _rims(mesh.faces):
        ring = mesh.vertices[rim]
        middle = ring.mean(axis=(0, 1))
        wide = 2 * float(np.linalg.norm(ring[:, 0] - middle, axis=1).mean())
        # Where the crown is missing, nothing is higher than the rim of what is left.
        crown = bool(middle[2] > CROWN * mesh.height and ring[..., 2].max() > mesh.vertices[:, 2].max() - TOP)
        if wide < (CROWN_LARGE if crown else LARGE):
            continue
        if crown:
            middle = middle + np.array([0.0, 0.0, _dome(wide / 2, mesh.height)])
        new = np.full(len(rim), len(mesh.vertices) + len(points) - 1)
        points.append(middle[None])
        faces.append(np.column_stack([rim[:, 1], rim[:, 0], new]))
        if middle[2] > FLOOR * mesh.height:
            said.append((wide, _words(wide, middle, mesh.height, crown)))
    words = tuple(words for _, words in sorted(said, reverse=True)[:3])
    return replace(
        mesh, vertices=np.vstack(points), faces=np.vstack(faces).astype(np.int64), warnings=(*mesh.warnings, *words)
    )


def _dome(wide: float, height: float) -> float:
    """mm by which a crown stands over the rim of a hole in it, half so wide: a ball's."""
    ball = HEAD * height
    return ball - float(np.sqrt(max(0.0, ball**2 - wide**2)))


def _words(wide: float, at: Array, height: float, crown: bool) -> str:
    if crown:
        return f"The top of the head is missing ({wide / 10:.0f} cm across) and is guessed; heights hang on it."
    side = "in the middle" if abs(at[0]) < 0.04 * height else f"on its {'left' if at[0] > 0 else 'right'}"
    return (
        f"A hole of {wide / 10:.0f} cm, {at[2] / 10:.0f} cm up {side}, is closed flat: hold a tape to what is near it."
    )


def _rims(faces: Faces) -> list[Faces]:
    """Edges (k, 2) of each hole, as its triangles run."""
    edges, rim = _edges(faces)
    open_edges = edges[rim]
    if not len(open_edges):
        return []
    used, packed = np.unique(open_edges, return_inverse=True)
    packed = packed.reshape(-1, 2)
    graph = coo_matrix((np.ones(len(packed)), (packed[:, 0], packed[:, 1])), (len(used), len(used)))
    _, label = connected_components(graph, directed=False)
    return [open_edges[label[packed[:, 0]] == k] for k in range(label.max() + 1)]
