"""Where a model is cut into panels: along its folds, into facets that hang together, or where least strain is asked."""

from collections.abc import Iterator
from dataclasses import replace

import numpy as np
import shapely
from numpy.typing import NDArray
from scipy.sparse import coo_array
from scipy.sparse.csgraph import connected_components, dijkstra

from vellumcut.core.foam.grooves import TOO_SHARP
from vellumcut.core.solids.models.cells import Cuts, away, cut_cells
from vellumcut.core.solids.shell import Part, Shell

Array = NDArray[np.float64]
Faces = NDArray[np.int64]
Labels = NDArray[np.int64]

FLAT = 0.5
"""Degrees within which neighbours are one flat facet."""
MOST_FACETS = 150
"""A model of so many flat facets at most is folded along them; one of more is bent."""
CREASED = 35.0
"""Degrees from which an edge of a bent model is a seam before any other is."""
TRIES = 8
"""Ways of parting a smooth model that are held against each other."""
ROUNDS = 8
HALF_WAY = 0.6
"""Share of the farthest that any face lies from a rim, from which it lies half way between rims."""
MOST_HALVED = 40


def facets_of(shell: Shell) -> Labels:
    """(m,) which flat facet every triangle belongs to."""
    return shell.face_groups(np.abs(shell.folds) < FLAT)


def is_faceted(shell: Shell) -> bool:
    """Whether it is low: so few flat facets that it is folded along them."""
    return int(facets_of(shell).max()) + 1 <= MOST_FACETS


def facet_panels(shell: Shell, panels: int, drawn: Cuts) -> tuple[Labels, Cuts]:
    """Facets joined edge to edge while they lie flat beside each other, longest edges first, till so few panels are
    left: (m,) panel of each triangle, and sides along which a panel is cut in itself. drawn: sides that are seams."""
    facet = facets_of(shell)
    ends, other = shell.halves
    flats = {int(f): _flat_facet(shell, np.flatnonzero(facet == f)) for f in np.unique(facet)}
    shared: dict[tuple[int, int], list[int]] = {}
    for s in np.flatnonzero(other >= 0).tolist():
        a, b = int(facet[s // 3]), int(facet[other[s] // 3])
        if a < b and (min(ends[s]), max(ends[s])) not in drawn:
            shared.setdefault((a, b), []).append(s)
    long = np.linalg.norm(shell.vertices[ends[:, 1]] - shell.vertices[ends[:, 0]], axis=1)
    order = sorted(
        (pair for pair, sides in shared.items() if abs(shell.folds[sides[0]]) <= TOO_SHARP),
        key=lambda p: -float(long[shared[p]].sum()),
    )
    group = {f: f for f in flats}
    laid = {f: ({f: (np.eye(2), np.zeros(2))}, p) for f, (p, _) in flats.items()}
    joined: set[tuple[int, int]] = set()
    for a, b in order:
        if len(laid) <= panels:
            break
        one, two = group[a], group[b]
        if one == two:
            continue
        merged = _beside(shell, flats, laid[one], laid[two], (a, b), shared[a, b][0])
        if merged is None:
            continue
        joined.add((a, b))
        laid[one] = merged
        del laid[two]
        for f in [f for f, g in group.items() if g == two]:
            group[f] = one
    number = {g: k for k, g in enumerate(sorted(set(group.values())))}
    label = np.array([number[group[int(f)]] for f in facet])
    cuts = frozenset(
        (int(min(ends[s])), int(max(ends[s])))
        for pair, sides in shared.items() if pair not in joined and group[pair[0]] == group[pair[1]] for s in sides
    )  # fmt: skip
    return label, cuts | drawn


Layout = tuple[dict[int, tuple[Array, Array]], shapely.Geometry]


def _flat_facet(shell: Shell, faces: NDArray[np.int64]) -> tuple[shapely.Polygon, Array]:
    """A facet in its own plane, and the frame (3, 2) that lays it there."""
    normal = shell.normals[faces[0]]
    x = shell.vertices[shell.faces[faces[0], 1]] - shell.vertices[shell.faces[faces[0], 0]]
    x = x / np.linalg.norm(x)
    frame = np.stack([x, np.cross(normal, x)], axis=1)
    shape = shapely.union_all([shapely.Polygon(shell.vertices[shell.faces[f]] @ frame) for f in faces])
    return shape, frame


def _beside(
    shell: Shell, flats: dict[int, tuple[shapely.Polygon, Array]], one: Layout, two: Layout, pair: tuple[int, int],
    side: int,
) -> Layout | None:  # fmt: skip
    """Both layouts as one, hinged at a side; None where they would lie over each other."""
    a, b = pair if pair[0] in one[0] else (pair[1], pair[0])
    ends = shell.vertices[shell.halves[0][side]]
    near, far = (ends @ flats[f][1] @ lay[0][f][0].T + lay[0][f][1] for f, lay in ((a, one), (b, two)))
    p, q = near[1] - near[0], far[1] - far[0]
    angle = np.arctan2(p[1], p[0]) - np.arctan2(q[1], q[0])
    turn = np.array([[np.cos(angle), -np.sin(angle)], [np.sin(angle), np.cos(angle)]])
    move = near.mean(axis=0) - turn @ far.mean(axis=0)
    placed = shapely.transform(two[1], lambda xy: xy @ turn.T + move)
    if one[1].intersection(placed).area > 1e-6 * min(one[1].area, placed.area):
        return None
    rest = {f: (turn @ t, turn @ m + move) for f, (t, m) in two[0].items()}
    return one[0] | rest, shapely.union_all([one[1], placed.buffer(1e-7)])


def smooth_panels(shell: Shell, panels: int, drawn: Cuts, tries: int = TRIES) -> Iterator[Shell]:
    """Several ways of parting a smooth model into at least so many panels, each a disc, with seams as smooth lines.
    drawn: sides that are seams."""
    ends, other = shell.halves
    low, high = ends.min(axis=1), ends.max(axis=1)
    wall = np.array([(int(a), int(b)) in drawn for a, b in zip(low, high, strict=True)]) | (
        np.abs(shell.folds) >= CREASED
    )
    first = shell.face_groups(~wall)
    middle = shell.vertices[shell.faces].mean(axis=1)
    sides = np.flatnonzero((other >= 0) & ~wall)
    one, two = sides // 3, other[sides] // 3
    step = np.linalg.norm(middle[one] - middle[two], axis=1) * (1 + np.abs(shell.folds[sides]) / 20)
    net = coo_array((step + 1e-9, (one, two)), shape=(len(middle),) * 2).tocsr()
    a, b = (shell.vertices[shell.faces[:, k]] - shell.vertices[shell.faces[:, 0]] for k in (1, 2))
    area = np.linalg.norm(np.cross(a, b), axis=1)
    for seed in range(tries):
        seeds = _lloyd(net, first, area, max(panels, int(first.max()) + 1), np.random.default_rng(seed))
        yield _discs(shell, *cut_cells(shell.vertices, shell.faces, first, seeds, drawn))


def _discs(shell: Shell, vertices: Array, faces: Faces, label: Labels, drawn: Cuts) -> Shell:
    """Panels that hang together and have one rim each: one that goes round like a tube, and is not cut open by a seam
    of the maker's, is halved."""
    for _ in range(MOST_HALVED):
        made = Shell(vertices, faces, label, (), shell.inside, drawn, frozenset(), shell.sharp, True)
        label = np.unique(made.face_groups(made.joined), return_inverse=True)[1].astype(np.int64)
        welded = made.corner_groups(made.joined)
        bad = next((k for k in range(int(label.max()) + 1) if not _is_disc(welded[label == k])), None)
        if bad is None:
            return replace(made, part=label, parts=parts_named(label))
        own = np.flatnonzero(label == bad)
        start, end = _opposite(vertices, faces[own])
        others = [int(np.flatnonzero(label == k)[0]) for k in range(int(label.max()) + 1) if k != bad]
        seeds = [*others, int(own[start]), int(own[end])]
        vertices, faces, label, drawn = cut_cells(vertices, faces, label, seeds, drawn)
    raise ValueError("The model is too tangled to be parted: draw seams on it, or choose a part of it")


def _opposite(vertices: Array, faces: Faces) -> tuple[int, int]:
    """Two faces of a panel that goes round, half way between its rims and as far from each other as that lets them be:
    cut between them, each half has one rim."""
    used, own = np.unique(faces, return_inverse=True)
    own, points = own.reshape(-1, 3).astype(np.int64), vertices[used]
    ends = np.sort(np.stack([own, np.roll(own, -1, axis=1)], axis=2).reshape(-1, 2), axis=1)
    sides, count = np.unique(ends, axis=0, return_counts=True)
    rim = np.unique(sides[count == 1])
    inside = away(points, own, rim)[own].mean(axis=1) if len(rim) else np.ones(len(own))
    start = int(inside.argmax())
    far = away(points, own, np.unique(own[start]))[own].mean(axis=1)
    return start, int(np.where(inside >= HALF_WAY * inside.max(), far, -1.0).argmax())


def _lloyd(net: coo_array, first: Labels, area: Array, panels: int, rng: np.random.Generator) -> list[int]:
    """Faces spread over the model, each moved to the middle of what lies nearest to it."""
    count = int(first.max()) + 1
    seeds = [int(rng.choice(np.flatnonzero(first == g))) for g in range(count)]
    while len(seeds) < panels:
        far = dijkstra(net, indices=seeds, min_only=True)
        far = np.where(np.isfinite(far), far, 0) * area
        seeds.append(int(rng.choice(len(far), p=far / far.sum())))
    for _ in range(ROUNDS):
        _, _, source = dijkstra(net, indices=seeds, min_only=True, return_predecessors=True)
        order = {s: k for k, s in enumerate(seeds)}
        label = np.array([order.get(int(s), -1) for s in source])
        label[seeds] = range(len(seeds))
        moved = []
        for k, seed in enumerate(seeds):
            own = np.flatnonzero(label == k)
            away = dijkstra(net, indices=_rim(net, label, own), min_only=True)[own] if len(own) > 1 else np.zeros(1)
            away = np.where(np.isfinite(away), away, -1.0)
            moved.append(int(own[int(away.argmax())]) if len(own) else seed)
        if moved == seeds:
            break
        seeds = moved
    return seeds


def _rim(net: coo_array, label: Labels, own: NDArray[np.int64]) -> NDArray[np.int64]:
    """Faces of a panel beside another; all where it has no other beside it."""
    rows = net[own]
    near = np.repeat(own, np.diff(rows.indptr))
    beside = np.unique(near[label[rows.indices] != label[near]])
    return beside if len(beside) else own[:1]


def _is_disc(faces: Faces) -> bool:
    ends = np.sort(np.stack([faces, np.roll(faces, -1, axis=1)], axis=2).reshape(-1, 2), axis=1)
    edges, count = np.unique(ends, axis=0, return_counts=True)
    rim = edges[count == 1]
    if not len(rim) or len(np.unique(rim)) != len(rim):
        return False
    vertices, index = np.unique(rim, return_inverse=True)
    index = index.reshape(-1, 2)
    net = coo_array((np.ones(len(rim), np.int8), (index[:, 0], index[:, 1])), shape=(len(vertices),) * 2)
    loops = connected_components(net, directed=False)[0]
    return loops == 1 and len(np.unique(faces)) - len(edges) + len(faces) == 1


def parts_named(label: Labels) -> tuple[Part, ...]:
    """A part for every panel."""
    return tuple(Part(f"panel {k + 1}") for k in range(int(label.max()) + 1))
