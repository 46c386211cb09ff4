"""Ranking darts: each tried as a slit along the edges of one rough mesh, without meshing the panel anew.

What a slit lets out hangs on where it begins and ends, hardly on how straight it is, so this ranks many darts in the
time that few are cut properly in.
"""

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_matrix
from scipy.sparse.csgraph import dijkstra

from vellumcut.core.flatten.slit import cut_open, opening_angle
from vellumcut.core.flatten.solve import UNDISTORTED, RestShape, flips, open_roughly, symmetric_dirichlet
from vellumcut.core.flatten.trial import Dart, Trial, all_open

Array = NDArray[np.float64]
Index = NDArray[np.int32]

STRAIGHT = 6.0
"""How much dearer an edge becomes for each of its lengths that it lies off the dart's line."""


@dataclass(frozen=True, eq=False)
class Ranked:
    """What some darts do, roughly. energy: of distortion, 0 when none. angles: that they open by, radians."""

    darts: tuple[Dart, ...]
    energy: float
    angles: tuple[float, ...]
    opens: bool


@dataclass(frozen=True, eq=False)
class Ranking:
    """One rough mesh of a panel to slit. Its places are on the trial's drawing plane, mm."""

    trial: Trial

    @cached_property
    def _places(self) -> Array:
        return self.trial.plane.flat(self.trial.undarted.solved.mesh.uv)

    @cached_property
    def _rim(self) -> Index:
        return np.unique(np.concatenate(self.trial.undarted.solved.mesh.loops))

    @cached_property
    def _outer(self) -> Index:
        mesh = self.trial.undarted.solved.mesh
        return np.unique(np.concatenate(mesh.loops[: len(self.trial.ink.outline)]))

    @cached_property
    def _edges(self) -> tuple[Index, Array]:
        """Edges (k, 2) inside the panel, both ways, and their lengths, mm."""
        faces = self.trial.undarted.solved.mesh.rest.faces
        ends = np.concatenate([faces[:, [0, 1]], faces[:, [1, 2]], faces[:, [2, 0]]])
        ends = np.unique(np.concatenate([ends, ends[:, ::-1]]), axis=0)
        ends = ends[~np.isin(ends, self._rim).all(axis=1)]
        return ends, np.linalg.norm(self._places[ends[:, 0]] - self._places[ends[:, 1]], axis=1)

    def rank(self, darts: tuple[Dart, ...]) -> Ranked | None:
        """Slit along all of them; None when the mesh has no way for one."""
        both = [d for dart in darts for d in ((dart, dart.mirrored()) if self.trial.mirror else (dart,))]
        solved = self.trial.undarted.solved
        faces, origin, taken = solved.mesh.rest.faces, np.arange(len(solved.flat)), self._rim
        legs: list[tuple[Index, Index]] = []
        for dart in both:
            path = self._path(dart, taken)
            if path is None:
                return None
            faces, doubles = cut_open(faces, path, len(origin))
            origin, taken = np.concatenate([origin, path[:-1]]), np.concatenate([taken, path])
            legs.append((path, np.append(doubles, path[-1]).astype(np.int32)))
        old = solved.mesh.rest
        rest = RestShape(faces, old.corners, old.area, old.inverse)
        flat = open_roughly(rest, solved.flat[origin])
        if flips(flat, rest):
            return None
        angles = tuple(opening_angle(flat[a], flat[b]) for a, b in legs)
        opens = all_open([(flat[a], flat[b]) for a, b in legs])
        return Ranked(darts, symmetric_dirichlet(flat, rest) - UNDISTORTED, angles, opens)

    def _path(self, dart: Dart, taken: Index) -> Index | None:
        """Vertices from the edge to near the tip, close to the dart's line and clear of what is cut already."""
        free = np.setdiff1d(np.arange(len(self._places)), taken)
        mouths = np.setdiff1d(self._outer, taken[len(self._rim) :])
        if not len(free) or not len(mouths):
            return None
        mouth = int(mouths[np.argmin(np.linalg.norm(self._places[mouths] - dart.mouth, axis=1))])
        tip = int(free[np.argmin(np.linalg.norm(self._places[free] - dart.tip, axis=1))])
        ends, length = self._edges
        usable = np.isin(ends[:, 1], free) & (np.isin(ends[:, 0], free) | (ends[:, 0] == mouth))
        ends, length = ends[usable], length[usable]
        way = (dart.tip - dart.mouth) / max(dart.length, 1e-9)
        middle = self._places[ends].mean(axis=1) - dart.mouth
        off = np.abs(middle[:, 0] * way[1] - middle[:, 1] * way[0])
        graph = csr_matrix((length * (1 + STRAIGHT * off / self.trial.size), ends.T), (len(self._places),) * 2)
        before = dijkstra(graph, indices=mouth, return_predecessors=True)[1]
        path = [tip]
        while path[-1] != mouth:
            if before[path[-1]] < 0:
                return None
            path.append(int(before[path[-1]]))
        return np.array(path[::-1], dtype=np.int32)
