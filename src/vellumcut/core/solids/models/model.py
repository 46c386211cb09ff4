"""A model as a shell: at its size, parted into panels."""

import itertools
from dataclasses import replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import coo_array
from scipy.sparse.csgraph import dijkstra

from vellumcut.core.design.solids import Model
from vellumcut.core.solids.laid import curved_part
from vellumcut.core.solids.models.cells import Cuts
from vellumcut.core.solids.models.parting import TRIES, facet_panels, is_faceted, parts_named, smooth_panels
from vellumcut.core.solids.models.placed import placed_model
from vellumcut.core.solids.shell import Part, Shell

Array = NDArray[np.float64]

FOLDS = 1.0
"""Degrees from which the facets of a low model meet at a fold."""
GLANCES = 3
"""Ways of parting that are looked at where numbers of panels are only held against each other."""
MORE = 6
"""Where no way of parting it into so many panels lies flat, up to so many more are tried."""
RIDGES = 20.0
"""Degrees from which an edge of a bent model is a fold and no step of its curve."""


def model(solid: Model, foam: float) -> Shell:
    """See ``Model``. Raises ValueError, CraftError."""
    vertices, faces = placed_model(solid)
    whole = Shell(vertices, faces, np.zeros(len(faces), np.int64), (Part("model"),), solid.inside, grown=True)
    drawn = _drawn(whole, solid)
    if is_faceted(whole):
        label, cuts = facet_panels(whole, solid.panels, drawn)
        return Shell(vertices, faces, label, parts_named(label), solid.inside, cuts, sharp=FOLDS)
    return _best(replace(whole, sharp=RIDGES), solid.panels, drawn)


def _drawn(shell: Shell, solid: Model) -> Cuts:
    """Seams that the maker has drawn: along sides of the mesh from place to place, the shortest way."""
    out: set[tuple[int, int]] = set()
    for line in solid.seams:
        places = [int(np.linalg.norm(shell.vertices - np.array(p), axis=1).argmin()) for p in line]
        for a, b in itertools.pairwise(places):
            path = _shortest(shell, a, b)
            out |= {(min(p, q), max(p, q)) for p, q in itertools.pairwise(path)}
    return frozenset(out)


def _shortest(shell: Shell, a: int, b: int) -> list[int]:
    ends = np.unique(np.sort(shell.halves[0], axis=1), axis=0)
    long = np.linalg.norm(shell.vertices[ends[:, 1]] - shell.vertices[ends[:, 0]], axis=1)
    net = coo_array((long, (ends[:, 0], ends[:, 1])), shape=(len(shell.vertices),) * 2)
    far, before = dijkstra(net, directed=False, indices=a, return_predecessors=True)
    if not np.isfinite(far[b]):
        return []
    path = [b]
    while path[-1] != a:
        path.append(int(before[path[-1]]))
    return path


def _best(shell: Shell, panels: int, drawn: Cuts, tries: int = TRIES) -> Shell:
    """Of several ways to part it, the one of fewest panels that asks least of the foam."""
    for count in range(panels, panels + MORE):
        found: list[tuple[float, Shell]] = []
        for parted in smooth_panels(shell, count, drawn, tries):
            try:
                found.append((asked(parted), parted))
            except ValueError:
                continue
        if found:
            return min(found, key=lambda f: (len(f[1].parts), f[0]))[1]
    raise ValueError("The model does not lie flat in so few panels: take more, or draw seams on it")


def asked(shell: Shell) -> float:
    """What a way of parting asks of foam in the mean over its area, per cent. Raises ValueError."""
    total, area = 0.0, 0.0
    corners = shell.vertices[shell.faces]
    for k in range(len(shell.parts)):
        laid, _ = curved_part(shell, np.flatnonzero(shell.part == k), corners)
        total += float((laid.strain.max(axis=1) * laid.rest.area).sum())
        area += float(laid.rest.area.sum())
    return 100 * total / area


@lru_cache(8)
def strain_by_panels(solid: Model, counts: tuple[int, ...]) -> tuple[tuple[int, int, float], ...]:
    """What it asks of foam in the mean for several numbers of panels: panels asked for, panels made, per cent."""
    vertices, faces = placed_model(solid)
    whole = Shell(
        vertices, faces, np.zeros(len(faces), np.int64), (Part("model"),), solid.inside, sharp=RIDGES, grown=True
    )
    drawn = _drawn(whole, solid)
    out = []
    for n in counts:
        if is_faceted(whole):
            label, _ = facet_panels(whole, n, drawn)
            out.append((n, int(label.max()) + 1, 0.0))
            continue
        try:
            parted = _best(whole, n, drawn, GLANCES)
        except ValueError:
            continue
        out.append((n, len(parted.parts), asked(parted)))
    return tuple(out)
