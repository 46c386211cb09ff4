"""A part that curves both ways, laid flat with the least strain, its rim as long as it is on the model."""

from dataclasses import dataclass, replace

import igl
import numpy as np
import shapely
from numpy.typing import NDArray
from scipy.sparse import coo_array, diags_array
from scipy.sparse.linalg import spsolve

from vellumcut.core.errors import CraftError
from vellumcut.core.flatten.solve import Hold, RestShape, face_strain, flatten_mesh, hold_lengths, rest_shape
from vellumcut.core.flatten.strain import StrainSummary, summarise

Array = NDArray[np.float64]
Faces = NDArray[np.int64]

ROUNDS = 6
CLOSE = 0.05
"""mm that a whole rim may be off."""


@dataclass(frozen=True, eq=False)
class Strained:
    """flat: (n, 2) mm. rest: its faces' true shapes."""

    flat: Array
    rest: RestShape

    @property
    def strain(self) -> Array:
        """(m, 2) stretch and squeeze, shares."""
        return face_strain(self.rest.jacobians(self.flat))

    @property
    def summary(self) -> StrainSummary:
        """Its figures, per cent."""
        return summarise(self.strain, self.rest.area, np.zeros((len(self.rest.faces), 2)))

    def rim_held(self, pairs: NDArray[np.int64], wanted: Array) -> "Strained":
        """With sides of its rim (k, 2) as long as wanted, mm, as nearly as it lies flat so."""
        flat, asked = self.flat, wanted.copy()
        for _ in range(ROUNDS):
            try:
                flat = hold_lengths(flat, self.rest, Hold(pairs.astype(np.int32), asked))
            except CraftError:
                break  # the edges are made equal on the table, then
            short = wanted - np.hypot(*(flat[pairs[:, 1]] - flat[pairs[:, 0]]).T)
            if np.abs(short).sum() < CLOSE:
                break
            asked = np.maximum(asked + short, 0.2 * wanted)  # what a hold falls short by is asked for on top
        return replace(self, flat=flat)


def lay_strained(xyz: Array, faces: Faces) -> Strained:
    """Lay a disc flat. xyz: (n, 3) mm. faces: (m, 3). Raises ValueError where it will not lie."""
    p = xyz[faces]
    lengths = np.stack([np.linalg.norm(p[:, (k + 2) % 3] - p[:, (k + 1) % 3], axis=1) for k in range(3)], axis=1)
    rest, loop = rest_shape(faces.astype(np.int32), lengths), np.asarray(igl.boundary_loop(faces))
    try:
        flat = flatten_mesh(xyz, rest, _start(xyz, faces, loop, rest), far=True)
    except CraftError as error:
        raise ValueError("A panel will not lie flat: take more panels") from error
    if not shapely.Polygon(flat[loop]).is_valid:
        raise ValueError("A panel lies over itself: take more panels")
    return Strained(flat, rest)


def _start(xyz: Array, faces: Faces, loop: NDArray[np.int64], rest: RestShape) -> Array:
    """On a disc of its own area, no face flipped (Tutte's embedding with equal weights)."""
    steps = np.linalg.norm(np.roll(xyz[loop], -1, axis=0) - xyz[loop], axis=1)
    angle = 2 * np.pi * np.concatenate([[0.0], np.cumsum(steps)[:-1]]) / steps.sum()
    radius = float(np.sqrt(rest.area.sum() / np.pi))
    rim = radius * np.stack([np.cos(angle), np.sin(angle)], axis=1)
    return _tutte(len(xyz), faces, loop, rim)


def _tutte(count: int, faces: Faces, loop: NDArray[np.int64], rim: Array) -> Array:

    ends = np.stack([faces, np.roll(faces, -1, axis=1)], axis=2).reshape(-1, 2)
    ends = np.unique(np.sort(ends, axis=1), axis=0)
    rows, columns = np.concatenate([ends, ends[:, ::-1]]).T
    net = coo_array((np.ones(len(rows)), (rows, columns)), shape=(count, count)).tocsr()
    whole = (diags_array(np.asarray(net.sum(axis=1)).ravel()) - net).tocsr()
    inner = np.setdiff1d(np.arange(count), loop)
    out = np.zeros((count, 2))
    out[loop] = rim
    if len(inner):
        out[inner] = spsolve(whole[inner][:, inner].tocsc(), -(whole[inner][:, loop] @ rim)).reshape(len(inner), 2)
    return out
