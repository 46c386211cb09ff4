"""Where a piece runs out to a sharp point: blur draws the line of half light short of it, by millimetres where its
sides meet at 20 degrees. By how much follows from how blurred its sides are; a line that ends short by more than that
is rounded in truth, and stays.
"""

import numpy as np
import shapely
from numpy.typing import NDArray
from scipy.ndimage import map_coordinates
from scipy.special import erfinv

from vellumcut.core.trace.edges.slits import TURN, legs_between, turns
from vellumcut.core.trace.outline import Close

Array = NDArray[np.float64]

SIDE = 2.5, 10.0
"""mm from where the line turns, along both sides, that tell where they meet."""
STRAIGHT = 0.12
"""mm that a side may leave a straight line."""
ANGLES = 6.0, 65.0
"""Degrees between sides that make a sharp point. Blunter ones lose less than their edge is sure to."""
BEYOND = 4.0
"""mm at most by which a line is drawn on."""
SHORT = 0.65
"""Of the blur's width, over the sine of half the angle, by which half light falls short of a sharp point: 0.67 for a
needle, 0.55 for a square corner."""
ROUNDED = 1.9, 0.3
"""By how much more than that, times and mm, a line ends short where a point is rounded in truth."""
ACROSS = 0.35
"""mm to both sides of an edge that tell how blurred it is."""


def to_points(close: Close, outline: Array) -> Array:
    """The outline, (n, 2) mm evenly spaced, with its sharp points drawn to where their sides meet."""
    ring = shapely.LinearRing(outline)
    drawn, kept = outline.copy(), np.ones(len(outline), bool)
    for at in turns(outline, ring.length, not ring.is_ccw, TURN):
        point = _point(close, outline, at)
        if point is not None:
            kept &= _along(outline, at) > 0.8 * SIDE[0]
            drawn[at], kept[at] = point, True
    return drawn[kept]


def _point(close: Close, outline: Array, at: int) -> Array | None:
    """Where the sides beside a place of the outline meet, as far as blur hides it; None where they are not straight, or
    it is no sharp point."""
    sides = legs_between(outline, at, *SIDE)
    lines = [_straight(side, outline[at]) for side in sides] if sides is not None else [None]
    if sides is None or lines[0] is None or lines[1] is None:
        return None
    (a, u), (b, v) = lines[0], lines[1]
    half = float(np.arccos(np.clip(u @ v, -1, 1))) / 2
    if not ANGLES[0] < 2 * np.degrees(half) < ANGLES[1]:
        return None
    far, _ = np.linalg.solve(np.column_stack([u, -v]), b - a)
    way = (u + v) / np.hypot(*(u + v))
    ahead = float((a + far * u - outline[at]) @ way)
    short = SHORT * _blur(close, sides) / np.sin(half)
    if not 0 < ahead < min(BEYOND, ROUNDED[0] * short + ROUNDED[1]):
        return None
    return np.asarray(outline[at] + min(ahead, short) * way)


def _straight(side: Array, end: Array) -> tuple[Array, Array] | None:
    """A place on a straight side, and the way along it to its end; None where it is not straight."""
    middle = side.mean(axis=0)
    _, spread, ways = np.linalg.svd(side - middle, full_matrices=False)
    if spread[1] / np.sqrt(len(side)) > STRAIGHT:
        return None
    return middle, ways[0] * np.sign((end - middle) @ ways[0])


def _blur(close: Close, sides: tuple[Array, Array]) -> float:
    """mm, one sigma, over which the edge is smeared beside a point."""
    steps = []
    for side in sides:
        along = side[-1] - side[0]
        aside = ACROSS * np.array([-along[1], along[0]]) / np.hypot(*along)
        low, high = (
            map_coordinates(close.share, close.pixels(side + sign * aside)[:, ::-1].T, order=1) for sign in (-1, 1)
        )
        steps.append(float(np.median(np.abs(high - low))))
    return ACROSS / float(np.sqrt(2) * erfinv(np.clip(np.mean(steps), 0.2, 0.98)))


def _along(outline: Array, at: int) -> Array:
    """(n,) mm along the outline from one of its points, the shorter way round."""
    turned = np.roll(outline, -at, axis=0)
    run = np.concatenate([[0], np.cumsum(np.hypot(*np.diff(turned, axis=0, append=turned[:1]).T))])
    return np.roll(np.minimum(run[:-1], run[-1] - run[:-1]), at)
