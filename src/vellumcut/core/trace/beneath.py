"""Pieces told from the floor that lies beneath them, which is known.

A place is floor where it has the colour and the grain of the floor that was photographed, in more light or less; else
something lies on it. Where one ends and the other begins is settled by a cut of least length (Chan, Esedoglu and
Nikolova 2006, solved after Chambolle and Pock 2011); what a piece looks like is learned from the first cut.
"""

from dataclasses import dataclass, replace

import cv2
import numpy as np
from numpy.typing import NDArray

from vellumcut.core.trace.floor import DARK, Floor
from vellumcut.core.trace.ground import Mask, disc, is_card, known_ground, mean_of, parts_of
from vellumcut.core.trace.view.find import linear_table
from vellumcut.core.trace.view.rectify import FromAbove

Array = NDArray[np.float64]
Light = NDArray[np.float32]

COARSE = 1.0
"""mm a pixel of the first look."""
FLOOR_MOST, PIECE_MOST = 9.0, 4.5
"""What it costs at most to call a place floor, or piece: beyond, it is neither, such as ink."""
ROUNDS = 3
DARKEST, LIGHTEST = 0.3, 2.2
"""How much darker or lighter a moved shadow makes a floor."""
SHADED = 1.6
"""What it costs to call a place floor in another light than its neighbours."""
LENGTH = 1.6
"""What a mm of rim costs, against the costs of a square mm."""


@dataclass(frozen=True, eq=False)
class Seen:
    """Both views at the first look's scale. light, bare: (h, w, 3). free: (h, w) where something may lie."""

    coarse: FromAbove
    light: Light
    bare: Light
    known: Mask
    free: NDArray[np.bool_]


def pieces_above(
    above: FromAbove,
    floor: Floor,
    poses: Array,
    side: float,
    scale: float = COARSE,
) -> tuple[FromAbove, Mask, list[Mask], Floor]:
    """A coarse view, where that is floor for sure, a mask for each piece, largest first, and the floor in the light
    that falls on it now. scale: mm a pixel of the view."""
    coarse = above.coarser(max(scale, above.per))
    under = floor.coarser(coarse)
    known, barred = known_ground(coarse, poses, side)
    free = (barred == 0) & under.known
    seen = Seen(coarse, linear_table()[coarse.picture], linear_table()[under.picture], known & under.known, free)
    tint = _tint(seen)
    shade = np.ones(known.shape, np.float32)
    grain = _grain(above, floor, coarse.picture.shape[1::-1])
    cost = np.full(known.shape, 3.0, np.float32)
    reached = _reached(seen, tint)
    for k in range(ROUNDS):
        away = _floor_cost(seen, tint, shade, grain, reached)
        free_cost = np.where(seen.free, away - cost, -FLOOR_MOST)
        mask = cheapest(np.asarray(free_cost, np.float32), _edges(seen, tint, shade), coarse.per, last=k == ROUNDS - 1)
        cost = _piece_cost(seen, mask)
        shade = _shade(seen, tint, mask, reached)
    gain = cv2.resize(tint * shade[..., None], None, fx=0.5, fy=0.5, interpolation=cv2.INTER_AREA)
    masks = [m for m in parts_of(mask, coarse.per) if not is_card(coarse, m, side)]
    return coarse, known, sorted(masks, key=lambda m: -int(m.sum())), replace(floor, gain=np.asarray(gain, np.float32))


def _tint(seen: Seen) -> Light:
    """(h, w, 3) by which the floor's light has changed, as a smooth surface over the picture: most of it agrees."""
    ratio = np.log((seen.light + DARK) / (seen.bare + DARK))
    ratio = cv2.blur(ratio, (7, 7))
    h, w = seen.known.shape
    y, x = np.mgrid[:h, :w].astype(np.float32)
    x, y = x / w * 2 - 1, y / h * 2 - 1
    terms = np.stack([np.ones_like(x), x, y, x * x, x * y, y * y], axis=-1)
    pick = np.zeros_like(seen.free)
    pick[::4, ::4] = seen.free[::4, ::4]
    a, b = terms[pick].astype(float), ratio[pick].astype(float)
    weight = np.where(seen.known[pick] > 0, 1.0, 0.02)
    for _ in range(12):
        root = np.sqrt(weight)[:, None]
        fit = np.linalg.lstsq(a * root, b * root, rcond=None)[0]
        off = np.sqrt(((b - a @ fit) ** 2).sum(axis=1))
        scale = max(0.04, 2.0 * float(np.median(off[seen.known[pick] > 0])))
        weight = np.clip(1 - (off / (2.5 * scale)) ** 2, 0, None) ** 2 + 1e-6
    return np.asarray(np.exp(terms @ fit.astype(np.float32)), np.float32)


def _residual(seen: Seen, tint: Light, shade: Light) -> tuple[Light, Light]:
    """(h, w) how far each place is off the floor in its best light, in spreads squared, and that light against the
    shade it is in."""
    expected = seen.bare * tint * shade[..., None]
    spread = (0.05 * np.maximum(seen.light, expected)) ** 2 + 2e-5
    gain = (seen.light * expected / spread).sum(axis=2) / (expected**2 / spread).sum(axis=2)
    low, high = DARKEST / shade, LIGHTEST / shade
    held = np.clip(gain, np.minimum(low, 1.0), np.maximum(high, 1.0))
    miss = ((seen.light - held[..., None] * expected) ** 2 / spread).sum(axis=2)
    return np.asarray(miss, np.float32), np.asarray(held, np.float32)


SOFTEST = 0.1
"""Change of light, -log, for a mm: a shadow's edge is softer, a piece's is sharper."""
BEYOND_AN_EDGE = 5.0
"""What it costs to call a place floor in another light where a sharp edge lies between it and the known floor."""


def _reached(seen: Seen, tint: Light) -> NDArray[np.bool_]:
    """(h, w) places that light changes softly to from where floor is for sure."""
    ratio = np.log((seen.light.sum(axis=2) + DARK) / ((seen.bare * tint).sum(axis=2) + DARK))
    soft = cv2.GaussianBlur(ratio.astype(np.float32), (0, 0), 0.8)
    steep = np.hypot(*(cv2.Sobel(soft, cv2.CV_32F, a, 1 - a, scale=0.125) for a in (1, 0))) / seen.coarse.per
    limit = max(SOFTEST, 4 * float(np.median(steep[seen.known > 0])) if (seen.known > 0).any() else 0.0)
    # Eroded, so that it does not run in where an edge is seen badly for a mm or two.
    smooth = np.asarray(cv2.erode(np.asarray(steep < limit, np.uint8), np.ones((3, 3), np.uint8)))
    _, label = cv2.connectedComponents(smooth, connectivity=4)
    open_floor = np.isin(label, np.unique(label[(seen.known > 0) & (smooth > 0)])) & (smooth > 0)
    return np.asarray(cv2.dilate(open_floor.astype(np.uint8), np.ones((3, 3), np.uint8)) > 0)


def _floor_cost(seen: Seen, tint: Light, shade: Light, grain: Light, reached: NDArray[np.bool_]) -> Light:
    miss, gain = _residual(seen, tint, shade)
    miss = cv2.blur(miss, (3, 3))
    other_light = np.where(reached, SHADED, BEYOND_AN_EDGE) * np.clip(
        (np.abs(np.log(cv2.blur(gain, (3, 3)))) - 0.06) / 0.15, 0, 1
    )
    return np.asarray(np.clip(0.5 * miss + other_light + grain, 0, FLOOR_MOST), np.float32)


GRAIN = 0.5
"""mm a pixel at which grain is compared."""
WINDOW = 6.0
"""mm about a place whose grain is looked at."""


def _grain(above: FromAbove, floor: Floor, size: tuple[int, int]) -> Light:
    """(h, w) what it costs to call a place floor by its grain: dear where the floor has one and it is not seen, and
    less than nothing where it is."""
    view = above.coarser(max(GRAIN, above.per))
    bare = cv2.resize(floor.picture, view.picture.shape[1::-1], interpolation=cv2.INTER_AREA)
    a, b = (_fine(linear_table()[p], view.per) for p in (view.picture, np.asarray(bare)))
    n = (round(WINDOW / view.per) | 1,) * 2
    own, differ = cv2.blur(b * b, n), cv2.blur((a - b) ** 2, n)
    noise = float(np.quantile(differ, 0.2))
    z = differ / (1.6 * noise + 0.2 * own)
    strength = own / (own + noise)
    cost = np.clip(1.3 * (z - 1), -1.2, 5.0) * strength
    # A window that is half on a piece says neither.
    small = np.asarray(cv2.resize(cost, size, interpolation=cv2.INTER_AREA), np.float32)
    near = np.ones((5, 5), np.uint8)
    return np.asarray(cv2.erode(np.maximum(small, 0), near) + cv2.dilate(np.minimum(small, 0), near))


def _fine(light: Light, per: float) -> Light:
    grey = np.log(light.mean(axis=2) + DARK)
    return np.asarray(grey - cv2.GaussianBlur(grey, (0, 0), 2.0 / per), np.float32)


def _piece_cost(seen: Seen, mask: Mask) -> Light:
    """(h, w) what it costs to call a place piece, by the colour of pieces close by."""
    core = np.asarray(cv2.erode(mask, disc(2.0, seen.coarse.per)))
    if not core.any():
        core = mask
    if not core.any():
        return np.full(mask.shape, 3.0, np.float32)
    near = mean_of(seen.light, core, (round(40 / seen.coarse.per) | 1,) * 2)
    all_over = np.median(seen.light[core > 0], axis=0)
    there = cv2.blur(core.astype(np.float32), (round(40 / seen.coarse.per) | 1,) * 2)[..., None] > 0.01
    own = np.where(there, near, all_over)
    spread = (0.07 * np.maximum(seen.light, own)) ** 2 + 2e-5
    gain = np.clip((seen.light * own / spread).sum(axis=2) / (own**2 / spread).sum(axis=2), 0.55, 1.5)
    miss = ((seen.light - gain[..., None] * own) ** 2 / spread).sum(axis=2)
    return np.asarray(np.clip(0.5 * miss + 0.8, 0, PIECE_MOST), np.float32)


def _shade(seen: Seen, tint: Light, mask: Mask, reached: NDArray[np.bool_]) -> Light:
    """(h, w) how much darker or lighter than the smooth surface the floor is, close by; under a piece, as round it."""
    free = np.asarray(seen.free & reached & (cv2.dilate(mask, disc(1.5, seen.coarse.per)) == 0), np.uint8)
    ratio = np.log((seen.light + DARK).sum(axis=2) / ((seen.bare * tint) + DARK).sum(axis=2))
    ratio = np.clip(ratio, np.log(DARKEST), np.log(LIGHTEST)).astype(np.float32)
    out = np.zeros(mask.shape, np.float32)
    for sigma in (60.0, 12.0, 3.0):
        weight = cv2.GaussianBlur(free.astype(np.float32), (0, 0), sigma / seen.coarse.per)
        local = cv2.GaussianBlur(ratio * free, (0, 0), sigma / seen.coarse.per) / np.maximum(weight, 1e-4)
        trust = np.clip(weight / 0.3, 0, 1)
        out = out * (1 - trust) + local * trust
    return np.asarray(np.exp(out), np.float32)


def _edges(seen: Seen, tint: Light, shade: Light) -> Light:
    """(h, w) what a rim costs at a place, 0 to 1: little where there is an edge that the floor does not have."""
    own = np.sqrt(seen.light + 0.01) - np.sqrt(seen.bare * tint * shade[..., None] + 0.01)
    dx, dy = cv2.Sobel(own, cv2.CV_32F, 1, 0, scale=0.125), cv2.Sobel(own, cv2.CV_32F, 0, 1, scale=0.125)
    steep = np.sqrt((dx**2 + dy**2).sum(axis=2))
    return np.asarray(0.08 + 0.92 * np.exp(-((steep / 0.02) ** 2)), np.float32)


def cheapest(cost: Light, edge: Light, per: float, last: bool) -> Mask:
    """The cheapest mask, found on a grid half as fine first, and but for the last round only there."""
    size = cost.shape[::-1]
    half = [np.asarray(cv2.resize(a, None, fx=0.5, fy=0.5, interpolation=cv2.INTER_AREA)) for a in (cost, edge)]
    found = np.asarray(cv2.resize(least_cut(half[0], half[1], 2 * per), size, interpolation=cv2.INTER_LINEAR))
    return np.asarray((least_cut(cost, edge, per, found) if last else found) > 0.5, np.uint8)


STEPS = 100


def least_cut(cost: Light, edge: Light, per: float, start: Light | None = None, steps: int = STEPS) -> Light:
    """(h, w) 1 inside the mask that is cheapest, 0 outside: `cost` for each square mm that is left out of it, and
    `edge` for each mm of its rim. start, steps: of the search."""
    u = (cost > 0).astype(np.float32) if start is None else start.copy()
    bar, weight = u.copy(), np.float32(LENGTH / per) * edge
    px, py = np.zeros_like(u), np.zeros_like(u)
    low, step, drive = -weight, np.float32(0.35), np.float32(0.35) * cost
    new, div = np.empty_like(u), np.empty_like(u)
    for _ in range(steps):
        px[:, :-1] += step * (bar[:, 1:] - bar[:, :-1])
        py[:-1] += step * (bar[1:] - bar[:-1])
        np.clip(px, low, weight, out=px)
        np.clip(py, low, weight, out=py)
        np.add(px, py, out=div)
        div[:, 1:] -= px[:, :-1]
        div[1:] -= py[:-1]
        div *= step
        np.add(u, div, out=new)
        new += drive
        np.clip(new, 0, 1, out=new)
        np.subtract(new, u, out=bar)
        bar += new
        u, new = new, u
    return u
