"""From a rough mask to one that follows its piece, by less close looks; pieces that it took for one come apart."""

from collections.abc import Callable

import cv2
import numpy as np

from vellumcut.core.trace.ground import SMALLEST, Mask, disc, filled
from vellumcut.core.trace.outline import BAND, Close
from vellumcut.core.trace.view.rectify import FromAbove

ROUGH = 0.5
"""mm a pixel of the looks before the last."""


Look = Callable[[FromAbove, Mask, float], Close]
"""A close look at a piece: of a view, its rough mask there, and mm about its rim."""


def settled(here: FromAbove, mask: Mask, look: Look) -> list[Mask]:
    """The mask after two less close looks: it follows the piece where the first look was far off. More than one where
    the first look took pieces that lie close to each other for one."""
    rough = here.coarser(max(ROUGH, here.per))
    now = np.asarray(cv2.resize(mask, rough.picture.shape[1::-1], interpolation=cv2.INTER_NEAREST), np.uint8)
    for _ in range(2):
        inside = np.asarray(look(rough, now, 1.7 * BAND).share > 0.5, np.uint8)
        count, which, stats, _ = cv2.connectedComponentsWithStats(inside, connectivity=4)
        if count < 2:
            return [mask]
        areas = stats[1:, cv2.CC_STAT_AREA]
        large = areas >= max(SMALLEST / rough.per**2, LEAST_PART * int(areas.max()))
        parts = [np.asarray(which == k, np.uint8) for k in 1 + np.flatnonzero(large | (areas == areas.max()))]
        parts = [p | _small_holes(p, rough.per) for p in parts]
        now = np.asarray(np.any(parts, axis=0), np.uint8)
    return [np.asarray(cv2.resize(p, mask.shape[::-1], interpolation=cv2.INTER_NEAREST), np.uint8) for p in parts]


LEAST_PART = 0.08
"""Of the largest, below which what comes off a piece in a closer look is a spot of the ground."""


def _small_holes(mask: Mask, per: float) -> Mask:
    return filled(mask) & np.asarray(cv2.dilate(mask, disc(2.0, per)), np.uint8)
