"""What lies on a piece and stiffens it where it is spread to be put on."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from vellumcut.core.design.making import FROM_FILM
from vellumcut.core.design.parts import Border, Plate, Segments
from vellumcut.core.foam.bends import BEND_COLD, BEND_WARM
from vellumcut.core.ink.stage import InkedPiece
from vellumcut.core.parts.laid import LaidPart, laid_parts
from vellumcut.core.worn.spread import bent_open

Array = NDArray[np.float64]

COVERS = 0.5
"""Of the way round: a part that goes farther leaves the foam no place to bend beside it (est.)."""


@dataclass(frozen=True)
class Opened:
    """A ring at one level as it is spread, all mm. foam: length of its middle; gap: its opening; across: what has to
    pass."""

    foam: float
    gap: float
    across: float


@dataclass(frozen=True)
class Bent:
    """How much the faces of a piece give at most where it is spread, per cent: its foam by itself, and with what lies
    on it. name: of what lies where that is most; empty where nothing does."""

    alone: float
    both: float
    name: str

    @property
    def words(self) -> str:
        """What is to be said of a part that makes a piece harder to spread: foam springs cold without it and not with
        it, or cannot be spread at all. Empty where it makes no such difference."""
        if not any(self.alone <= limit < self.both for limit in (BEND_COLD, BEND_WARM)):
            return ""
        return (
            f" “{self.name}” stiffens it: spread so far its faces give by {min(self.both, 99):.0f} %, by "
            f"{self.alone:.0f} % without. Part it opposite the opening, or lay it from thinner foam."
        )


def bent_most(piece: InkedPiece, z: Array, rings: Sequence[Opened]) -> Bent:
    """z: (n,) mm along, where the n rings are."""
    thick = piece.design.foam
    laid, names = laid_round(piece, z)
    alone = max(bent_open(r.foam, r.gap, r.across, thick) for r in rings)
    both = [bent_open(r.foam, r.gap, r.across, thick + on) for r, on in zip(rings, laid, strict=True)]
    k = int(np.argmax(both))
    return Bent(alone, both[k], names[k])


def laid_round(piece: InkedPiece, z: Array) -> tuple[Array, list[str]]:
    """Foam that lies on a piece over more than half of the way round at each level, mm, (n,), the thickest there, and
    what it is called, empty where there is none. z: (n,) mm along."""
    shares: dict[str, Array] = {}
    known: dict[str, tuple[str, float]] = {}
    twin = {p.number for p, twin in zip(piece.panels, piece.twins, strict=True) if twin}
    for part in laid_parts(piece):
        own = part.detail
        if isinstance(own.shape, Border | Plate | Segments) and own.kind not in FROM_FILM:
            shares[own.key] = shares.get(own.key, np.zeros(len(z))) + _share(part, piece.tube.along(z), twin)
            known[own.key] = (own.name, own.shape.foam)
    thick, names = np.zeros(len(z)), [""] * len(z)
    for key, share in shares.items():
        name, foam = known[key]
        for k in np.flatnonzero((share > COVERS) & (foam > thick)):
            thick[k], names[k] = foam, name
    return thick, names


def _share(part: LaidPart, v: Array, twin: set[int]) -> Array:
    """Of the way round that a part covers at each height, (n,); v: along, (n,)."""
    out = np.zeros(len(v))
    for mirrored in (1, 2):
        rings = [line.uv for on, line in part.marks if len(line.uv) > 3 and (2 if on in twin else 1) == mirrored]
        if not rings:
            continue
        ground = shapely.symmetric_difference_all([shapely.Polygon(r).buffer(0) for r in rings])
        low, _, high, _ = ground.bounds
        ends = np.stack([np.stack([np.full(len(v), x), v], axis=1) for x in (low - 1, high + 1)], axis=1)
        out += mirrored * shapely.length(shapely.intersection(ground, shapely.linestrings(ends)))
    return out
