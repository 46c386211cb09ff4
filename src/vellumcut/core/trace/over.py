"""A piece seen closely over a floor that is known pixel by pixel.

Each pixel is a blend of the piece's colour close by and of what lies beneath it; where the two are alike it tells
little, and its neighbours say more. The whole piece is looked at, not its rim alone: slits that a rough look lost are
thin lines of floor that run in from outside.
"""

from dataclasses import replace

import cv2
import numpy as np
from numpy.typing import NDArray

from vellumcut.core.trace.floor import Floor
from vellumcut.core.trace.ground import Mask, disc
from vellumcut.core.trace.outline import (
    SOFT,
    Close,
    Colours,
    Light,
    Palette,
    colours,
    grain_of,
    opponent,
    opposed,
    shares,
    whiskers,
)
from vellumcut.core.trace.view.rectify import FromAbove

Array = NDArray[np.float64]


def look_over(here: FromAbove, mask: Mask, palette: Palette, floor: Floor, band: float) -> Close:
    """Shares of a piece in all of it and round it. mask: where it roughly lies. floor: what lies beneath, as fine as
    `here`. band: mm about its rim."""
    light = opponent(here.picture)
    own = _over(colours(here, light, mask, False), opposed(floor.light()), grain_of(light, mask), floor.unknown)
    near = cv2.dilate(mask, disc(band, here.per)) > 0
    share, ink = shares(light, own, palette, near, np.zeros_like(mask), under=True)
    ink = np.asarray(ink | _darker_than_floor(light, own), np.uint8)
    # Beside a slit as well, but not out on the open floor.
    wide = cv2.morphologyEx(
        np.asarray((share < 0.5) & (ink == 0), np.uint8), cv2.MORPH_OPEN, disc(OPEN_FLOOR, here.per)
    )
    share[(_about_ink(ink, here.per) > 0) & (wide == 0)] = 1.0
    share[whiskers(np.asarray(share > 0.5, np.uint8), here.per) > 0] = 0.0
    narrow = max(0.6, SOFT / here.per)
    lacking = 1 - by_what_tells(share, own, mask, narrow)
    soft = by_what_tells(_opened_from_outside(share, mask), own, mask, narrow)
    close = Close(soft, light, palette, here.corner, here.per, lacking, ink.astype(np.float32), own.ground)
    return opened(close)


LEAST_LACKING = 0.16
"""Share of the floor in a pixel at which a thin line of it is seen."""
THIN_SLIT = 2.4
"""mm across of a slit that may be lost in a rough look."""
TAPERS = 1.3
"""How much wider a slit is toward its mouth than toward its tip; a stroke of ink is not."""
RIM_BAND = 1.5
"""mm inside its rim where a piece blends with the floor."""
SHORT_SLIT = 5.0
"""mm of the shortest such slit."""


def opened(close: Close) -> Close:
    """A piece with thin straight lines of floor that run in from its rim opened, as far as they can be seen."""
    inside = np.asarray(close.share > 0.5, np.uint8)
    deep = np.asarray(cv2.erode(inside, disc(RIM_BAND, close.per)))
    if not deep.any():
        return close
    chance = 1.4826 * float(np.median(np.abs(close.lacking[deep > 0] - np.median(close.lacking[deep > 0]))))
    lines = cv2.morphologyEx(np.clip(close.lacking, 0, 1), cv2.MORPH_TOPHAT, disc(THIN_SLIT, close.per))
    thin = np.asarray((lines > max(LEAST_LACKING, 4 * chance)) & (deep > 0) & (close.drawn < 0.5), np.uint8)
    rim = np.asarray(cv2.dilate(1 - inside, disc(RIM_BAND + 1.0, close.per)))
    count, label, stats, _ = cv2.connectedComponentsWithStats(thin, connectivity=8)
    share = close.share.copy()
    far = np.asarray(cv2.distanceTransform(inside, cv2.DIST_L2, 3))
    for k in range(1, count):
        if stats[k, cv2.CC_STAT_AREA] * close.per**2 < 1.0:
            continue
        rows, cols = np.nonzero(label == k)
        if rim[rows, cols].any():
            points = np.column_stack([cols, rows]).astype(float)
            _carve(share, points, close.lacking[rows, cols], far, close.per)
    return replace(close, share=share)


def _carve(share: Light, points: Array, lacking: Light, far: Light, per: float) -> None:
    """Open a thin straight line of floor, wider at its mouth than inside, from its inner end out over the rim. Changes
    the shares. points: (n, 2) pixels; lacking: (n,) of the piece in each.
    far: pixels from the rim."""
    middle = points.mean(axis=0)
    way = np.linalg.svd(points - middle, full_matrices=False)[2][0]
    along, across = (points - middle) @ way, (points - middle) @ (-way[1], way[0])
    if np.ptp(along) * per < SHORT_SLIT or 2 * np.quantile(np.abs(across), 0.95) * per > THIN_SLIT:
        return
    ends = [middle + way * along.min(), middle + way * along.max()]
    h, w = far.shape
    depth = [far[int(np.clip(e[1], 0, h - 1)), int(np.clip(e[0], 0, w - 1))] for e in ends]
    if max(depth) * per < SHORT_SLIT / 2 or min(depth) * per > SHORT_SLIT / 2:
        return
    inner, outer = (ends[0], ends[1]) if depth[0] > depth[1] else (ends[1], ends[0])
    far_in = (points - outer) @ (inner - outer) / float(((inner - outer) ** 2).sum())
    if lacking[far_in < 0.35].sum() < TAPERS * lacking[far_in > 0.65].sum():
        return
    out = outer + (outer - inner) / np.hypot(*(outer - inner)) * 2.0 / per
    # As thin as it holds together, or a slit would end as bluntly as a stroke of ink does.
    a, b = (np.round(e).astype(int).tolist() for e in (inner, out))
    cv2.line(share, a, b, 0.0, 1, cv2.LINE_4)


OPEN_FLOOR = 1.6
"""mm, half of how wide floor is that no slit shows."""
DARKER = 0.45, 0.5
"""Of the floor's light, and of the piece's, below which a pixel on the piece is ink: no slit shades its floor so."""


def _darker_than_floor(light: Light, own: Colours) -> Mask:
    bright = light[..., 0]
    return np.asarray((bright < DARKER[0] * own.ground[..., 0]) & (bright < DARKER[1] * own.piece[..., 0]), np.uint8)


STROKE_RIM = 0.9
"""mm about a stroke in which ink and piece blend to what the floor's colour may be."""


def _about_ink(ink: Mask, per: float) -> Mask:
    strokes = cv2.morphologyEx(ink, cv2.MORPH_OPEN, np.ones((2, 2), np.uint8))
    return np.asarray(cv2.dilate(strokes, disc(STROKE_RIM, per)), np.uint8)


def _opened_from_outside(share: Light, mask: Mask) -> Light:
    """Shares with floor only where it runs in from outside, or where the rough mask has a hole."""
    floor = np.asarray(share < 0.6, np.uint8)
    _, label = cv2.connectedComponents(floor, connectivity=8)
    outside = np.unique(label[(mask == 0) & (floor > 0)])
    alone = (floor > 0) & ~np.isin(label, outside)
    return np.asarray(np.where(alone, 1.0, share), np.float32)


MISLAID = 0.3
"""Pixels by which the floor beneath may lie off."""


def _over(own: Colours, under: Light, grain: Light, unknown: tuple[float, float, float]) -> Colours:
    """Colours where the floor beneath each pixel is known; where it changes from pixel to pixel it is known less well.
    unknown: variance of its light that is not known."""
    dx, dy = (cv2.Sobel(under, cv2.CV_32F, a, 1 - a, scale=0.125) for a in (1, 0))
    spread = (
        (MISLAID**2) * (dx**2 + dy**2) + 2 * grain + (0.04 * own.piece[..., :1]) ** 2 + (0.04 * under[..., :1]) ** 2
    )
    return Colours(
        own.piece, under, np.asarray(1.0 / (spread + np.array(unknown, np.float32) + 2e-5), np.float32), own.lit
    )


TELLS = 30.0
"""Spreads squared between piece and floor at which a pixel tells as much as any."""


def by_what_tells(share: Light, own: Colours, mask: Mask, narrow: float) -> Light:
    """Shares averaged by how much each pixel tells: where floor and piece are alike their neighbours say it, and at
    last the rough mask."""
    tells = np.minimum((own.weight * (own.piece - own.ground) ** 2).sum(axis=2), TELLS) / TELLS
    total, weight = np.zeros(mask.shape, np.float32), np.zeros(mask.shape, np.float32)
    for sigma, trust in ((narrow, 1.0), (3 * narrow, 0.05), (9 * narrow, 0.003)):
        # Only as far as what is nearer does not tell: a wide average rounds corners off.
        wanted = trust * np.clip(1 - weight, 0, 1)
        weight += wanted * cv2.GaussianBlur(tells, (0, 0), sigma)
        total += wanted * cv2.GaussianBlur(share * tells, (0, 0), sigma)
    left = 1e-3 * np.clip(1 - weight, 0, 1) + 1e-6
    return np.asarray((total + left * mask) / (weight + left), np.float32)
