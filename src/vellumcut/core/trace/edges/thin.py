"""Slits that no outline shows: all along the edge of a piece, lines that run into it are asked how much they lack of
the piece against what lies beside them. What stands far out of what chance does there is a slit where it narrows to a
tip, and is asked about where it does not; how far chance goes says what could not be seen at all.
"""

from dataclasses import dataclass, replace

import cv2
import numpy as np
import shapely
from numpy.typing import NDArray
from scipy.ndimage import distance_transform_edt

from vellumcut.core.trace.edges.slits import Legs, Notch
from vellumcut.core.trace.edges.tips import Slit, Tip, tip_of
from vellumcut.core.trace.ground import Mask
from vellumcut.core.trace.outline import Close

Array = NDArray[np.float64]

APART = 1.0
"""mm between places of the edge that are asked."""
TURNS = np.radians(np.arange(-50, 51, 5))
"""How a slit may lie to the edge, from straight in."""
DEEP = np.arange(3.0, 12.0, 0.4)
"""mm into the piece."""
ON_IT, BESIDE = 0.3, 1.9
"""mm aside that count as the line's own, and as beside it."""
SMEARED = 1.2
"""mm of width for all that a line lacks: its light is smeared to its sides."""
STANDS_OUT = 5.5
"""Spreads of chance beyond which a line is no chance."""
WIDE_ENOUGH = 0.12
"""mm of what is worth asking about."""
PAST = 3.0
"""mm past its mouth that a slit is cut, so that no sliver is left."""
OWN = 6.0
"""mm about slits and ink that are known, within which nothing is asked."""
ANGLES = 0.8, 9.0
"""Degrees between the legs of what is a slit; an outline shows wider ones, and strokes of ink do not open."""
LOOSE = 8.0
"""mm that a tip may be off at most, or it is asked about."""


@dataclass(frozen=True, eq=False)
class Thin:
    """outline: (n, 2) mm, with slits cut in that it did not show; slits: those. asked: (k, 2) mm, places of the edge
    from which something like a slit runs in. least: mm across, of the narrowest slit that would have been seen."""

    outline: Array
    slits: tuple[Slit, ...]
    asked: Array
    least: float


def with_thin(close: Close, outline: Array, known: shapely.Geometry) -> Thin:
    """An outline, (n, 2) mm evenly spaced, y down, with the slits in it that it did not show. known: slits and ink,
    mm."""
    lacking, inside = _lacking(close, outline)
    at, ways, least = _begun(close, outline, known, lacking, inside)
    seen = replace(close, lacking=lacking)
    slits, asked = [], []
    for place, way in zip(at, ways, strict=True):
        tip = tip_of(seen, Notch(place + DEEP[len(DEEP) // 2] * way, way, 0.0, 0), Legs((0.0, 0.0), (0.0, 0.0)))
        cut = _cut_in(outline, place, tip) if tip is not None and _is_slit(tip, place) else None
        if tip is None or cut is None:
            asked.append(place)
        else:
            outline = cut
            slits.append(Slit(tip.at, float(np.hypot(*(tip.at - place))), tip.angle, tip.off))
    return Thin(outline, tuple(slits), np.array(asked).reshape(-1, 2), least)


def _is_slit(tip: Tip, mouth: Array) -> bool:
    deep = float((tip.at - mouth) @ tip.way)
    return ANGLES[0] < tip.angle < ANGLES[1] and tip.off < LOOSE and deep > DEEP[0]


def _cut_in(outline: Array, mouth: Array, tip: Tip) -> Array | None:
    """The outline with a slit cut out of it; None where that leaves no one piece."""
    long = float((tip.at - mouth) @ tip.way) + PAST
    aside = long * np.tan(np.radians(tip.angle) / 2) * np.array([-tip.way[1], tip.way[0]])
    end = tip.at - long * tip.way
    left = shapely.Polygon(outline).buffer(0).difference(shapely.Polygon([tip.at, end + aside, end - aside]))
    if left.geom_type != "Polygon" or left.interiors:
        return None
    return np.asarray(shapely.get_coordinates(left.exterior)[:-1])


def _begun(
    close: Close, outline: Array, known: shapely.Geometry, lacking: NDArray[np.float32], inside: NDArray[np.float32]
) -> tuple[Array, Array, float]:
    """Places of the edge from which something like a slit runs in, (k, 2) mm, which way, (k, 2), and mm across of what
    would have been seen."""
    every = max(1, round(APART * len(outline) / shapely.LinearRing(outline).length))
    at = outline[::every]
    along = (np.roll(outline, -3, axis=0) - np.roll(outline, 3, axis=0))[::every]
    into = np.column_stack([-along[:, 1], along[:, 0]]) * (1 if shapely.LinearRing(outline).is_ccw else -1)
    into /= np.maximum(np.hypot(*into.T), 1e-9)[:, None]
    cos, sin = np.cos(TURNS), np.sin(TURNS)
    ways = into[:, None] * cos[:, None] + np.column_stack([-into[:, 1], into[:, 0]])[:, None] * sin[:, None]
    sides = np.stack([-ways[..., 1], ways[..., 0]], axis=-1)
    lines = at[:, None, None] + DEEP[:, None] * ways[:, :, None]

    def seen(of: NDArray[np.float32], aside: float) -> Array:
        p = close.pixels(lines + aside * sides[:, :, None]).astype(np.float32)
        flat = p.reshape(len(at), -1, 2)
        return np.asarray(cv2.remap(of, flat[..., 0], flat[..., 1], cv2.INTER_LINEAR)).reshape(p.shape[:-1])

    own = np.mean([seen(lacking, a) for a in (-ON_IT, 0.0, ON_IT)], axis=0).mean(axis=-1)
    beside = np.array([seen(lacking, a).mean(axis=-1) for a in (-BESIDE, BESIDE)])
    there = np.min([seen(inside, a) for a in (-BESIDE, BESIDE)], axis=0).min(axis=-1) > 0.9
    width = SMEARED * 2 * ON_IT * (own - beside.max(axis=0))
    chance = SMEARED * 2 * ON_IT * np.diff(beside, axis=0)[0][there]
    spread = float(1.4826 * np.median(np.abs(chance))) if len(chance) else np.inf
    far = shapely.distance(shapely.points(at), known) > OWN if not known.is_empty else np.ones(len(at), bool)
    best = np.where(there & far[:, None], width, -1.0)
    least = max(WIDE_ENOUGH, STANDS_OUT * spread)
    some = _peaks(at, best.max(axis=1), least)
    return at[some], ways[some, best[some].argmax(axis=1)], least


def _peaks(at: Array, width: Array, least: float) -> list[int]:
    out: list[int] = []
    for k in np.argsort(-width):
        if width[k] < least:
            break
        if all(np.hypot(*(at[k] - at[j])) > 2 * OWN for j in out):
            out.append(int(k))
    return out


def _lacking(close: Close, outline: Array) -> tuple[NDArray[np.float32], NDArray[np.float32]]:
    """(h, w) of the piece in each pixel of it, by its colour alone, and where the piece is."""
    # What chance makes of single pixels near the rim is no hole.
    inside = np.zeros(close.share.shape, np.uint8)
    cv2.fillPoly(inside, [np.round(close.pixels(outline)).astype(np.int32)], 1)
    per = close.per
    core = np.asarray(cv2.erode(inside, np.ones((2 * round(1.0 / per) + 1,) * 2, np.uint8)))
    piece = _round(close.light, core, 8.0 / per)
    if close.under is not None:
        ground = close.under
    else:
        outside = np.asarray(close.share < 0.1, np.uint8)
        _, (y, x) = distance_transform_edt(1 - outside, return_indices=True)
        ground = _round(close.light, outside, 6.0 / per)[y, x]
    step = piece - ground
    size = np.maximum((step**2).sum(axis=-1), 1e-5)
    share = ((piece - close.light) * step).sum(axis=-1) / size
    return np.clip(share, -0.5, 1.2).astype(np.float32), inside.astype(np.float32)


def _round(light: NDArray[np.float32], where: Mask, reach: float) -> NDArray[np.float32]:
    window = (2 * round(reach) + 1,) * 2
    weight = cv2.boxFilter(where.astype(np.float32), -1, window)
    return np.asarray(cv2.boxFilter(light * where[..., None], -1, window) / np.maximum(weight, 1e-3)[..., None])
