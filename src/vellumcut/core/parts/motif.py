"""A motif cut from film: what it covers, how long its cut is, and how a drawing becomes one."""

from collections.abc import Sequence

import numpy as np
import shapely
from numpy.typing import NDArray

from vellumcut.core.design.making import MotifRing
from vellumcut.core.errors import CraftError

Array = NDArray[np.float64]

LEAST = 2.0
"""Smaller than this no knife cuts it out of film, mm2 (est.)."""
FINE = 0.05
"""A motif's line may stand off the drawn one by so much, mm."""
LARGEST = 1500.0
"""Film is not wider, mm."""
MOST_POINTS = 4000


def motif_shape(rings: Sequence[MotifRing]) -> shapely.Geometry:
    """What lies within an odd number of the rings, mm."""
    shape: shapely.Geometry = shapely.Polygon()
    for ring in rings:
        shape = shapely.symmetric_difference(shape, shapely.make_valid(shapely.Polygon(ring.points)))
    return shape


def motif_length(rings: Sequence[MotifRing]) -> float:
    """Length of the cut, mm."""
    return float(sum(shapely.LinearRing(r.points).length for r in rings))


def motif_of(lines: Sequence[Array], wide: float = 0.0) -> tuple[MotifRing, ...]:
    """Closed lines of a drawing, (n, 2) mm, as a motif that begins at nought. wide: mm that they are to be across
    together; 0: as they are. Raises CraftError for one that cannot be cut."""
    if wide and lines:
        x = np.concatenate([p[:, 0] for p in lines])
        lines = [p * (wide / max(float(np.ptp(x)), 1e-9)) for p in lines]
    rings = [np.asarray(shapely.get_coordinates(shapely.LinearRing(x).simplify(FINE)))[:-1] for x in lines]
    rings = [r for r in rings if len(r) > 2 and abs(shapely.Polygon(r).area) >= LEAST]
    if not rings:
        raise CraftError("No closed line in this file can be cut out: close the outlines", "file")
    if wide:  # as wide as was asked once it is thinned: its farthest points may be among those left out
        x = np.vstack(rings)[:, 0]
        rings = [r * (wide / float(np.ptp(x))) for r in rings]
    low, high = (f(np.vstack(rings), axis=0) for f in (np.min, np.max))
    if max(high - low) > LARGEST:
        wide = max(high - low)
        raise CraftError(f"The motif is {wide:.0f} mm across, film {LARGEST:.0f} mm: say how wide it shall be", "wide")
    if sum(len(r) for r in rings) > MOST_POINTS or len(rings) > 400:
        raise CraftError("The motif has too many points or parts: simplify it, or send it in parts", "file")
    return tuple(MotifRing(points=tuple((round(float(x), 3), round(float(y), 3)) for x, y in r - low)) for r in rings)
