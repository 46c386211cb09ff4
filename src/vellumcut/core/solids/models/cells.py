"""Panels round seeds on a smooth model: each is what lies nearest to its seed along the surface, and where two of them
meet the triangles are cut, so that a seam is a smooth line."""

from collections.abc import Sequence

import igl
import numpy as np
from numpy.typing import NDArray
from scipy.sparse import coo_array
from scipy.sparse.csgraph import dijkstra

Array = NDArray[np.float64]
Faces = NDArray[np.int64]
Labels = NDArray[np.int64]

NEAREST = 0.08
"""Share of a side that a seam keeps off its ends: nearer, it would leave a splinter."""


Cuts = frozenset[tuple[int, int]]
"""Sides along which a panel is cut, by their vertices, the lower first."""


def cut_cells(
    vertices: Array, faces: Faces, region: Labels, seeds: Sequence[int], drawn: Cuts
) -> tuple[Array, Faces, Labels, Cuts]:
    """vertices: (n, 3) mm. faces: (m, 3). region: (m,) stretches between seams that are given. seeds: one or more faces
    in each. drawn: sides that stay seams.

    Returns the mesh with triangles cut along new seams, the panel of each, and the sides that were drawn as they are
    now: one that a new seam crosses has become two.
    """
    owner = np.full((len(faces), 3), -1, np.int64)
    split: dict[tuple[int, int], int] = {}
    points = [vertices]
    count = len(vertices)
    for r in range(int(region.max()) + 1):
        mine = np.flatnonzero(region == r)
        used, own = np.unique(faces[mine], return_inverse=True)
        own = own.reshape(-1, 3)
        here = [k for k, s in enumerate(seeds) if region[s] == r]
        far = np.stack([away(vertices[used], own, np.unique(own[mine == seeds[k]])) for k in here])
        nearest = np.array(here)[far.argmin(axis=0)]
        owner[mine] = nearest[own]
        ends = np.unique(np.sort(np.stack([own, np.roll(own, -1, axis=1)], axis=2).reshape(-1, 2), axis=1), axis=0)
        for a, b in ends[nearest[ends[:, 0]] != nearest[ends[:, 1]]].tolist():
            key = (int(used[a]), int(used[b]))
            if key in split:
                continue
            p, q = here.index(int(nearest[a])), here.index(int(nearest[b]))
            one, two = far[q, a] - far[p, a], far[p, b] - far[q, b]
            share = float(np.clip(one / max(one + two, 1e-12), NEAREST, 1 - NEAREST))
            points.append((vertices[key[0]] * (1 - share) + vertices[key[1]] * share)[None])
            split[key], count = count, count + 1
    out: list[tuple[int, int, int]] = []
    label: list[int] = []
    for face, own_labels in zip(faces.tolist(), owner.tolist(), strict=True):
        middles = [split.get((min(a, b), max(a, b))) for a, b in zip(face, [*face[1:], face[0]], strict=True)]
        centre = None
        if len(set(own_labels)) == 3:
            points.append(vertices[face].mean(axis=0)[None])
            centre, count = count, count + 1
        for polygon, panel in _pieces(face, own_labels, middles, centre):
            out += [(polygon[0], polygon[k], polygon[k + 1]) for k in range(1, len(polygon) - 1)]
            label += [panel] * (len(polygon) - 2)
    kept = frozenset(
        half for a, b in drawn for half in (((a, split[a, b]), (b, split[a, b])) if (a, b) in split else ((a, b),))
    )
    return np.vstack(points), np.array(out, np.int64), np.array(label, np.int64), kept


def away(points: Array, faces: Faces, start: NDArray[np.int64]) -> Array:
    """How far every place lies from the seed along the surface, mm (the heat method: Crane, Weischedel, Wardetzky,
    "Geodesics in heat", 2013)."""
    data = igl.HeatGeodesicsData()
    try:
        igl.heat_geodesics_precompute(points, faces, data)
        far = np.asarray(igl.heat_geodesics_solve(data, start)).ravel()
    except RuntimeError:  # a triangle of it has no area
        far = np.full(len(points), np.nan)
    if np.isfinite(far).all():
        return np.asarray(far - far[start].min())
    ends = np.unique(np.sort(np.stack([faces, np.roll(faces, -1, axis=1)], axis=2).reshape(-1, 2), axis=1), axis=0)
    long = np.linalg.norm(points[ends[:, 1]] - points[ends[:, 0]], axis=1) + 1e-12
    net = coo_array((long, (ends[:, 0], ends[:, 1])), shape=(len(points),) * 2)
    return np.asarray(dijkstra(net, directed=False, indices=start, min_only=True))


def _pieces(
    face: list[int], labels: list[int], middles: list[int | None], centre: int | None
) -> list[tuple[list[int], int]]:
    """A triangle's parts as polygons, each with its panel; middles: where its sides are parted, from each corner on."""
    if centre is not None:
        out = []
        for k in range(3):
            before, after = middles[k - 1], middles[k]
            assert before is not None
            assert after is not None
            out.append(([face[k], after, centre, before], labels[k]))
        return out
    ring: list[tuple[int, int | None]] = []
    for k in range(3):
        ring.append((face[k], labels[k]))
        if middles[k] is not None:
            same = labels[k] == labels[(k + 1) % 3]
            ring.append((middles[k], labels[k] if same else None))  # type: ignore[arg-type]
    if len(set(labels)) == 1:
        # From a place on a side, if there is one, so that no triangle has all three on one line.
        at = next((k for k in range(len(ring)) if k and ring[k][0] not in face), 0)
        return [([v for v, _ in ring[at:] + ring[:at]], labels[0])]
    out = []
    start = next(k for k, (_, label) in enumerate(ring) if label is None)
    ring = ring[start:] + ring[:start]
    stop = next(k for k, (_, label) in enumerate(ring) if k and label is None)
    for part in (ring[: stop + 1], [*ring[stop:], ring[0]]):
        panel = next(label for _, label in part[1:-1] if label is not None)
        out.append(([v for v, _ in part], panel))
    return out
