"""What lies on a piece and stiffens it where it is spread to be put on."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

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


def bent_most(rings: Sequence[Opened], thick: float, laid: Array) -> tuple[float, float]:
    """How much the faces of a piece give at most where it is spread, per cent: its foam by itself, and with what lies
    on it. thick: of its foam, laid: on each ring, (n,) mm."""
    alone = max(bent_open(r.foam, r.gap, r.across, thick) for r in rings)
    both = max(bent_open(r.foam, r.gap, r.across, thick + on) for r, on in zip(rings, laid, strict=True))
    return alone, both


def laid_round(piece: InkedPiece, z: Array) -> tuple[Array, list[str]]:
    """Foam that lies on a piece over more than half of the way round at each level, mm, (n,), the thickest there, and
    the names of what it is. z: (n,) mm along."""
    shares: dict[str, Array] = {}
    named: dict[str, tuple[str, float]] = {}
    twin = {p.number for p, twin in zip(piece.panels, piece.twins, strict=True) if twin}
    for part in laid_parts(piece):
        if not (part.strips or part.sheets or part.segments) or part.links or part.detail.shape is None:
            continue
        own = part.detail
        shares[own.key] = shares.get(own.key, np.zeros(len(z))) + _share(part, piece.tube.along(z), twin)
        named[own.key] = (own.name, float(getattr(own.shape, "foam", 0.0)))
    thick, names = np.zeros(len(z)), []
    for key, share in shares.items():
        over = share > COVERS
        if over.any():
            thick = np.where(over, np.maximum(thick, named[key][1]), thick)
            names.append(named[key][0])
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


def stiff_words(names: Sequence[str], alone: float, both: float) -> str:
    """What is to be said of parts that make a piece harder to spread: foam springs cold without them, and not with
    them, or cannot be spread at all. Empty where they make no such difference."""
    if not any(alone <= limit < both for limit in (BEND_COLD, BEND_WARM)):
        return ""
    what = " and ".join(f"“{n}”" for n in names)
    be = "stiffens" if len(names) == 1 else "stiffen"
    return (
        f" {what} {be} it: spread so far its faces give by {min(both, 99):.0f} %, by {alone:.0f} % without. "
        "Part it opposite the opening, or lay it from thinner foam."
    )
