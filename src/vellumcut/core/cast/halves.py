"""Left and right: by how much a body is not its own mirror image, and one half for both where that is wanted.

Bodies are not symmetric. A pattern drafted as one half and turned over is the usual way; the difference is shown in
mm, and the maker chooses.
"""

from dataclasses import dataclass, replace
from typing import overload

import numpy as np
from numpy.typing import NDArray
from scipy.spatial import KDTree

from vellumcut.core.body.measures import Measurements
from vellumcut.core.body.rings import RingTube, grid_normals
from vellumcut.core.body.segments import BodyPart, Side
from vellumcut.core.body.torso import BUST
from vellumcut.core.body.tube import TubeSurface
from vellumcut.core.cast.stations import NO_SCANS, Scanned, build_tube
from vellumcut.core.cast.trunk_tube import TrunkTube
from vellumcut.core.design.piece import Halves
from vellumcut.core.errors import CraftError

Array = NDArray[np.float64]

WHOLE: tuple[BodyPart, ...] = ("torso", "neck")
"""Parts that are one tube for both sides of the body."""

SIDES: tuple[Side, Side] = ("left", "right")
READABLE = 0.5
"""Smallest difference that rounds to a millimetre: below it no place is named."""
ALIKE = "Left and right are alike to the millimetre."


@dataclass(frozen=True)
class Asymmetry:
    """most: largest difference between left and right, mm. where: the station. words: for the maker."""

    most: float
    where: str
    words: str


def worn_tube(
    measures: Measurements, part: BodyPart, side: Side, halves: Halves, scanned: Scanned = NO_SCANS
) -> TubeSurface:
    """The tube a piece is drawn on: the body's own, or made alike left and right. Raises CraftError."""
    tube = build_tube(measures, part, side, scanned)
    if halves == "as measured":
        return tube
    if part in WHOLE:
        return even_halves(tube) if isinstance(tube, RingTube) and measures.scan(part, side) else tube
    if halves == "alike" and _apart(measures, part):
        other = build_tube(measures, part, "right" if side == "left" else "left", scanned)
        # One pattern must go on both: it is drawn on the fuller limb.
        return max((tube, other), key=lambda t: float(np.sum(t.station_girths)))
    return tube


def drawn_apart(measures: Measurements, part: BodyPart, halves: Halves) -> bool:
    """Whether left and right each get a drawing of their own."""
    if part in WHOLE:
        return halves == "as measured"
    return halves != "alike" and _apart(measures, part)


def _apart(measures: Measurements, part: BodyPart) -> bool:
    if part == "torso":
        return False
    same = measures.limb(part, "left") == measures.limb(part, "right")
    return not same or measures.scan(part, "left") != measures.scan(part, "right")


def _known(measures: Measurements, part: BodyPart, side: Side) -> bool:
    """Whether somebody took this limb's measures, or its scan: a guessed limb tells nothing of the body."""
    return measures.scan(part, side) is not None or (part != "torso" and measures.limb(part, side) is not None)


@overload
def even_halves(tube: TrunkTube) -> TrunkTube: ...
@overload
def even_halves(tube: RingTube) -> RingTube: ...
def even_halves(tube: RingTube) -> RingTube:
    """The mean of a tube and its mirror image: its left half is its right half turned over."""
    return replace(tube, grid=(tube.grid + _mirrored(tube)) / 2)


def _mirrored(tube: RingTube) -> Array:
    """Rings (l, k, 3) reflected in the plane between left and right, through the front line and the spine, read between
    the end stations."""
    grid, count = tube.grid, tube.grid.shape[1]
    inside = (tube.levels >= tube.at[0]) & (tube.levels <= tube.at[-1])
    middle = np.polyfit(tube.levels[inside], grid[inside, 0, 0], 1)
    turned = grid[:, -np.arange(count) % count].copy()
    turned[..., 0] = 2 * np.polyval(middle, tube.levels)[:, None] - turned[..., 0]
    return np.asarray(turned)


def asymmetry(measures: Measurements, part: BodyPart, scanned: Scanned = NO_SCANS) -> Asymmetry | None:
    """How far left and right differ; None where only one was measured, or one reading stands for both."""
    try:
        if part in WHOLE:
            tube = build_tube(measures, part, "left", scanned)
            return asymmetry_of_trunk(tube) if isinstance(tube, RingTube) and measures.scan(part, "left") else None
        if not _apart(measures, part) or not all(_known(measures, part, side) for side in SIDES):
            return None
        left, right = (build_tube(measures, part, side, scanned) for side in SIDES)
    except CraftError:
        return None
    off = np.asarray(left.station_girths) - np.asarray(right.station_girths)
    at = int(np.abs(off).argmax())
    fuller, other = ("left", "right") if off[at] > 0 else ("right", "left")
    most = float(abs(off[at]))
    words = f"The {fuller} is {most:.0f} mm fuller than the {other}, most at the {left.names[at]}."
    return Asymmetry(most, left.names[at], words if most >= READABLE else ALIKE)


def asymmetry_of_trunk(tube: RingTube) -> Asymmetry:
    """Distances between the surface and its mirror image, square to the surface, from the hip to the bust: above it the
    arms hide what would be compared.

    Each place of the image is held against the nearest of the surface: the fuller half is also longer round, so the
    same share of the ring is not the same place of the body.
    """
    inside = (tube.levels >= tube.at[0]) & (tube.levels <= tube.at[min(BUST, len(tube.at) - 1)])
    grid = tube.grid[inside]
    normal = grid_normals(grid)
    image = _mirrored(tube)[inside]
    nearest = KDTree(grid.reshape(-1, 3)).query(image.reshape(-1, 3))[1]
    away = image.reshape(-1, 3) - grid.reshape(-1, 3)[nearest]
    off = np.abs((away * normal.reshape(-1, 3)[nearest]).sum(axis=-1)).reshape(grid.shape[:2])
    row = np.percentile(off, 95, axis=1)
    at = int(row.argmax())
    where = tube.names[int(np.abs(np.asarray(tube.at) - tube.levels[inside][at]).argmin())]
    most = float(row[at])
    words = f"Left and right of the body differ by up to {most:.0f} mm, most near the {where}."
    return Asymmetry(most, where, words if most >= READABLE else ALIKE)
