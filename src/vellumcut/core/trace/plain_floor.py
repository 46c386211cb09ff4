"""A plain floor beneath the pieces, drawn on from what is seen of it round them: where a floor has no pattern, one
photograph tells nearly as much as two."""

from collections.abc import Sequence

import cv2
import numpy as np
from numpy.typing import NDArray

from vellumcut.core.trace.floor import Floor
from vellumcut.core.trace.ground import Mask, disc
from vellumcut.core.trace.outline import Light, opposed
from vellumcut.core.trace.view.find import linear_table
from vellumcut.core.trace.view.rectify import FromAbove, card_masks

CLEAR = 4.0
"""mm about a piece and a card in which floor may lie in their shadow, or be a sliver of them."""
REACHES = 120.0, 40.0, 12.0
"""mm over which floor is averaged, the nearer the better."""
STRANGE = 40.0
"""Spreads squared, of three channels, by which a place leaves the floor's average that is something else."""
ENOUGH = 0.05
"""Share of floor within reach at which its average counts in full."""


def floor_between(
    above: FromAbove, coarse: FromAbove, masks: Sequence[Mask], poses: NDArray[np.float64], side: float
) -> Floor:
    """The floor beneath a view from above, from what is seen between the pieces' rough masks and the cards."""
    light = linear_table()[coarse.picture]
    taken = card_masks(coarse, poses, side, CLEAR) > 0
    for mask in masks:
        taken |= cv2.dilate(mask, disc(CLEAR, coarse.per)) > 0
    free = np.asarray(coarse.seen & ~taken, np.float32)
    for _ in range(2):
        floor = _averaged(light, free, coarse.per)
        off = opposed(light) - opposed(floor)
        rough = (1.4826 * np.median(np.abs(off[free > 0]), axis=0)) ** 2 if (free > 0).any() else np.zeros(3)
        # A piece that was missed is no floor.
        strange = cv2.blur((off**2 / (rough + 1e-5)).sum(axis=2), (5, 5)) > STRANGE
        free = np.asarray((free > 0) & (cv2.dilate(strange.astype(np.uint8), disc(CLEAR, coarse.per)) == 0), np.float32)
    white = np.full_like(above.picture, 255)
    return Floor(
        white, above.seen, floor, above.corner, above.per, unknown=(float(rough[0]), float(rough[1]), float(rough[2]))
    )


def _averaged(light: Light, free: Light, per: float) -> Light:
    shown = light * free[..., None]
    out = np.broadcast_to(shown.sum(axis=(0, 1)) / max(1.0, float(free.sum())), light.shape).astype(np.float32)
    for reach in REACHES:
        n = (max(3, round(reach / per)) | 1,) * 2
        share = cv2.blur(free, n)[..., None]
        trust = np.clip(share / ENOUGH, 0, 1)
        out = out * (1 - trust) + cv2.blur(shown, n) / np.maximum(share, 1e-4) * trust
    return np.asarray(cv2.GaussianBlur(out, (0, 0), 3.0 / per), np.float32)


def unlike(coarse: FromAbove, masks: Sequence[Mask], known: Sequence[Mask]) -> list[Mask]:
    """Masks of the same view at another scale, at this one's, that lie apart from those that are known."""
    size = coarse.picture.shape[1::-1]
    found = [np.asarray(cv2.resize(m, size, interpolation=cv2.INTER_NEAREST), np.uint8) for m in masks]
    return [m for m in found if not any((m & k).any() for k in known)]
