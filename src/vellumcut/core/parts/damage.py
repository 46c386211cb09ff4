"""Battle damage: cuts and dents thrown beside a line, off every edge, seam and fixing."""

from collections.abc import Callable

import numpy as np
import shapely
from numpy.typing import NDArray

from vellumcut.core.design.parts import Damage
from vellumcut.core.parts.border import bands_between
from vellumcut.core.parts.ribbon import Ribbon
from vellumcut.core.parts.scales import ribbon_past

Array = NDArray[np.float64]

TRIES = 80
"""Throws for each before there is no room for it."""
APART = 3.0
"""Least mm between two of them: closer they read as one."""
CUTS = 0.65
"""Share of them that are cuts; the rest are dents (est.)."""
SLIM, BLUNT = 0.06, 0.35
"""How wide a cut and a dent are, of how long they are."""
CORNERS = 14


def damage_of(ribbon: Ribbon, damage: Damage, free: Callable[[Array, float], bool]) -> list[Array]:
    """Closed lines on the flat neighbourhood, (k, 2) mm each; the same for the same seed, fewer where there is no room.
    free: whether a place (2,) on it lies so many mm off all that is fixed there."""
    luck = np.random.default_rng(damage.seed)
    far = damage.inset + damage.wide
    bands = bands_between(ribbon, -far if ribbon.run.within else 0.0, far, ribbon_past(ribbon))
    ground = shapely.intersection(shapely.union_all(bands), ribbon.region.buffer(-damage.inset))
    if ground.is_empty:
        return []
    low_x, low_y, high_x, high_y = ground.bounds
    out: list[Array] = []
    taken: list[shapely.Polygon] = []
    for _ in range(TRIES * damage.count):
        if len(out) == damage.count:
            break
        at = np.array([luck.uniform(low_x, high_x), luck.uniform(low_y, high_y)])
        ring = at + _hit(luck, damage.size)
        shape = shapely.Polygon(ring)
        if not ground.contains(shape) or any(shape.distance(other) < APART for other in taken):
            continue
        if free(at, float(np.hypot(*(ring - at).T).max()) + damage.inset / 2):
            out.append(ring)
            taken.append(shape)
    return out


def _hit(luck: np.random.Generator, size: float) -> Array:
    """One cut or dent round nought, (CORNERS, 2) mm: a cut is slim and pointed, a dent blunt and uneven."""
    turn = np.arange(CORNERS) * 2 * np.pi / CORNERS
    cut = luck.random() < CUTS
    half = size / 2 * luck.uniform(0.6, 1.0) * (1.0 if cut else 0.5)
    across = half * (SLIM if cut else BLUNT + luck.uniform(0.0, 0.3))
    uneven = 1.0 if cut else luck.uniform(0.85, 1.15, CORNERS)
    ring = np.stack([half * np.cos(turn), across * np.sin(turn)], axis=1) * np.reshape(uneven, (-1, 1))
    way = luck.uniform(0, np.pi)
    return np.asarray(ring @ np.array([[np.cos(way), np.sin(way)], [-np.sin(way), np.cos(way)]]))
