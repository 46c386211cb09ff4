"""Where a piece ends, to a fraction of a pixel.

Near its coarse rim every pixel is taken for a blend of the piece's colour close by and the ground's: how much of each
is its share (an alpha matte). The outline is where the share is one half, in light, not in the picture's numbers.
"""

from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray
from skimage.measure import find_contours

from vellumcut.core.trace.ground import Mask, disc
from vellumcut.core.trace.view.find import linear_table
from vellumcut.core.trace.view.rectify import FromAbove, InMm

Array = NDArray[np.float64]
Light = NDArray[np.float32]

BAND = 3.0
"""mm to both sides of the coarse rim that are looked at."""
KEEP = 2.0
"""mm from the rim at which a colour is taken to be the piece's, or the ground's, own."""
NEAR = 5.0
"""mm over which colours are averaged."""
SOFT = 0.22
"""mm over which shares are averaged before the outline is drawn."""


@dataclass(frozen=True, eq=False)
class Palette:
    """Colours that may meet a piece's own. grounds: (k, 3) as `opponent` has them. inks: (j, 3) share of red, green and
    blue light that ink on this piece sends back, against the piece itself. patterned: the ground has colours of many
    kinds, so what is unlike all that is known is ground too; on a plain one it is the piece, soiled."""

    grounds: Light
    inks: Light
    patterned: bool = False


@dataclass(frozen=True, eq=False)
class Close(InMm):
    """A piece seen closely. share: (h, w) of the piece in each pixel. corner: mm; per: mm a pixel. light: (h, w, 3).
    palette: what may meet it. lacking: (h, w) of the piece in each pixel, where that
    does not run in from outside too. drawn: (h, w) 1 where there is ink. under: (h, w, 3)
    the floor beneath it, if that is known.
    """

    share: Light
    light: Light
    palette: Palette
    corner: Array
    per: float
    lacking: Light
    drawn: Light
    under: Light | None = None


def opponent(picture: NDArray[np.uint8]) -> Light:
    """As `opposed`, of a picture."""
    return opposed(linear_table()[picture])


def opposed(light: Light) -> Light:
    """(h, w, 3) light as brightness, red against green, and blue against both: linear, so that blends stay blends."""
    r, g, b = light[..., 0], light[..., 1], light[..., 2]
    return np.asarray(np.stack([(r + g + b) / 3, r - g, (r + g) / 2 - b], axis=-1), np.float32)


def crop(above: FromAbove, coarse: FromAbove, mask: Mask, margin: float = 9.0) -> tuple[FromAbove, Mask]:
    """The part of the view from above round a piece, and its coarse mask at that fineness."""
    rows, cols = np.flatnonzero(mask.any(1)), np.flatnonzero(mask.any(0))
    low = coarse.mm(np.array([cols[0], rows[0]])) - margin
    high = coarse.mm(np.array([cols[-1], rows[-1]])) + margin
    a = np.maximum(0, np.floor(above.pixels(low))).astype(int)
    b = np.minimum(np.array(above.picture.shape[1::-1]), np.ceil(above.pixels(high))).astype(int)
    window = (slice(a[1], b[1]), slice(a[0], b[0]))
    here = FromAbove(above.picture[window], above.seen[window], above.corner + a * above.per, above.per)
    x, y = np.meshgrid(np.arange(b[0] - a[0]), np.arange(b[1] - a[1]))
    at = coarse.pixels(here.mm(np.stack([x, y], axis=-1))).astype(np.float32)
    fine = cv2.remap(mask.astype(np.float32), at[..., 0], at[..., 1], cv2.INTER_LINEAR)
    return here, np.asarray(fine > 0.5, np.uint8)


INK = 5.0
"""Spreads off every blend of piece and ground at which a pixel is something else: ink on the piece, as a rule."""


SHADES = (1.0, 0.82, 0.65, 0.5)
"""How bright a ground is in the light, beside a piece and in a shadow."""


LIT_EVENLY = 90.0
"""mm over which light changes little, and patterns repeat or change."""
PATTERNED = 0.17
"""Of a ground's own light, by which one in twenty of its places differs from what is usual close by: a pattern. Weave,
concrete, cardboard and clouds stay under 0.13; carpets, boards, cork, flecks, tiles and print lie above 0.22."""
DYES = (5, 10)
"""Colours that are told apart on a plain ground and on one with a pattern."""


def palette_of(coarse: FromAbove, known: Mask) -> Palette:
    """A ground's colours in light and in shade; no inks yet."""
    light = opponent(coarse.picture)
    seen = light[known > 0]
    some = np.ascontiguousarray(seen[:: max(1, len(seen) // 6000)])
    # Against what is usual close by: a lamp and a shadow are no pattern.
    usual, _ = _near(light, known, (round(LIT_EVENLY / coarse.per) | 1,) * 2)
    far = np.sqrt(((light - usual) ** 2).sum(axis=2))[known > 0]
    off = far / (usual[..., 0][known > 0] + 0.05)
    patterned = bool(np.quantile(off, 0.95) > PATTERNED)
    cv2.setRNGSeed(5)
    stop = (cv2.TERM_CRITERIA_EPS + cv2.TERM_CRITERIA_MAX_ITER, 20, 1e-4)
    _, _, middles = cv2.kmeans(some, min(DYES[patterned], len(some)), None, stop, 2, cv2.KMEANS_PP_CENTERS)
    grounds = np.asarray(np.concatenate([shade * middles for shade in SHADES]), np.float32)
    return Palette(grounds, np.zeros((0, 3), np.float32), patterned)


OPPONENT = np.array([[1 / 3, 1 / 3, 1 / 3], [1, -1, 0], [0.5, 0.5, -1]], np.float32)
"""Red, green and blue to what `opponent` gives."""


def inked(piece: Light, ink: Light) -> Light:
    """What ink looks like on a piece of that colour, both as `opponent` has them."""
    back: Light = np.linalg.inv(OPPONENT).astype(np.float32)
    return np.asarray(((piece @ back.T) * ink) @ OPPONENT.T)


INK_RIM = 0.75
"""Share of the piece in a pixel at the rim of a stroke."""
EVENLY_LIT = np.ones(2, np.float32)


def blends(
    light: Light,
    piece: Light,
    ground: Light,
    weight: Light,
    palette: Palette,
    lit: Light = EVENLY_LIT,
    rims: float = INK_RIM,
    under: bool = False,
) -> tuple[Light, NDArray[np.bool_]]:
    """(n,) share of the piece in each pixel, and where that is ink on it. light, piece, ground, weight: (n, 3), or (3,)
    for all. lit: (n, 2) or (2,), how much darker and lighter the piece is close by than `piece`. rims: share of the
    piece up to which a pixel may be half ink. under: ground is what lies beneath each pixel, and there is no other.

    The ground close by is tried first; where no blend with it fits, the ground's other colours; where ink on the piece
    fits better, it is ink, and counts as the piece. What nothing fits counts as `Palette.patterned` has it.
    """
    share, off = _blend(light, piece, ground, weight)
    ink = np.zeros(len(share), bool)
    # On a plain ground what lies beyond the piece's colour, seen from the ground's, is a seam of its tape.
    unclear = np.flatnonzero((off > INK / 4) & ((share < 0.9) | palette.patterned))
    if len(unclear):
        piece, weight = (np.broadcast_to(a, light.shape)[unclear] for a in (piece, weight))
        best, least = share[unclear], off[unclear]
        shaded = _off_shades(light[unclear], piece, weight, lit if lit.ndim == 1 else lit[unclear])
        best, least = np.where(shaded < least, 1.0, best), np.minimum(shaded, least)
        below = np.broadcast_to(ground, light.shape)[unclear]
        for colour in [shade * below for shade in SHADES[1:]] if under else palette.grounds:
            other, miss = _blend(light[unclear], piece, colour, weight)
            better = (miss < least - 1.0) & (other < 0.9)
            best, least = np.where(better, other, best), np.where(better, miss, least)
        drawn = np.zeros(len(unclear), bool)
        for colour in palette.inks:
            other, miss = _blend(light[unclear], piece, inked(piece, colour), weight)
            on_it = (miss < least - 0.5) & (other < rims) & (other > -0.5) & ((least > 0.6 * INK) | (not under))
            drawn, least = drawn | on_it, np.where(on_it, miss, least)
        strange = (least > INK) & ~drawn
        drawn |= strange & (not palette.patterned)
        share[unclear] = np.where(strange, 0.0, best)
        ink[unclear] = drawn
        share[ink] = 1.0
    return np.asarray(np.clip(share, -0.5, 1.5), np.float32), ink


def _blend(light: Light, piece: Light, ground: Light, weight: Light) -> tuple[Light, Light]:
    step = piece - ground
    share = (weight * step * (light - ground)).sum(axis=-1) / np.maximum((weight * step**2).sum(axis=-1), 1e-6)
    held = np.clip(share, -0.15, 1.1)
    off = np.sqrt((weight * (light - ground - held[..., None] * step) ** 2).sum(axis=-1))
    return np.asarray(share), np.asarray(off)


def _off_shades(light: Light, piece: Light, weight: Light, lit: Light) -> Light:
    """(n,) how far each pixel is off the piece's colour in the light or shade that there is of it close by."""
    gain = (weight * light * piece).sum(axis=-1) / np.maximum((weight * piece**2).sum(axis=-1), 1e-6)
    held = np.clip(gain, lit[..., 0], lit[..., 1])
    return np.asarray(np.sqrt((weight * (light - held[..., None] * piece) ** 2).sum(axis=-1)))


@dataclass(frozen=True, eq=False)
class Colours:
    """Of piece and ground close to each pixel, (h, w, 3), and one over the spread of both, squared. lit: (h, w, 2) how
    much darker and lighter the piece is close by."""

    piece: Light
    ground: Light
    weight: Light
    lit: Light


BLOCK = 1.0
"""mm over which colours are gathered: they change slowly."""


BODY = 8.0
"""mm, half of how wide a part of a mask must be to be asked for its colour where the ground has a pattern: what hangs
on the rim may be the ground's."""


HALO = 0.05
"""Of a piece's own light, by which telephones brighten or darken it along an edge to make it look sharp. (est.)"""


def colours(here: FromAbove, light: Light, mask: Mask, patterned: bool) -> Colours:
    """What piece and ground look like on either side of a mask's rim."""
    size = mask.shape[::-1]
    small = tuple(max(4, round(n * here.per / BLOCK)) for n in size)
    per = here.per * size[0] / small[0]
    low = np.asarray(cv2.resize(light, small, interpolation=cv2.INTER_AREA), np.float32)
    rough = np.asarray(cv2.resize(mask, small, interpolation=cv2.INTER_NEAREST), np.uint8)
    body = _wide(rough, per) if patterned else rough
    inner = np.asarray(cv2.erode(body, disc(KEEP, per)))
    outer = 1 - np.asarray(cv2.dilate(rough, disc(KEEP, per)))
    outer &= np.asarray(cv2.dilate(rough, disc(KEEP + NEAR, per)))
    window = (round(2 * NEAR / per) | 1,) * 2
    piece, spread_p = _plain(low, inner, window)
    ground, spread_g = _plain(low, outer, window)
    if patterned:
        # Its colours are told apart by the palette; taken for spread, they would hide each other.
        spread_g = np.minimum(spread_g, 2 * spread_p) + (HALO * piece[..., :1]) ** 2
    grain = grain_of(light, mask)

    def full(a: Light) -> Light:
        return np.asarray(cv2.resize(a, size, interpolation=cv2.INTER_LINEAR))

    weight = 1.0 / (spread_p + spread_g + 2 * grain + 2e-5)
    return Colours(full(piece), full(ground), full(weight), full(_lit(low, piece, inner, per)))


STROKE = 2.0
"""mm, half of what is too wide for a stroke, with its blur."""
LIT = 14.0
"""mm about a pixel in which a shadow's edge may change how bright the piece is."""


def _lit(low: Light, piece: Light, inner: Mask, per: float) -> Light:
    """(h, w, 2) how much darker and lighter than `piece` the piece gets close by."""
    bright = cv2.blur(low[..., 0], (3, 3))
    near = disc(LIT, per)
    # A stroke of ink is no shade: dark lines are closed first.
    shaded = np.where(inner > 0, bright, 9.0).astype(np.float32)
    dark = cv2.erode(cv2.morphologyEx(shaded, cv2.MORPH_CLOSE, disc(STROKE, per)), near)
    light = cv2.dilate(np.where(inner > 0, bright, 0.0).astype(np.float32), near)
    usual = np.maximum(piece[..., 0], 0.01)
    return np.asarray(np.stack([np.minimum(1, dark / usual), np.maximum(1, light / usual)], axis=-1), np.float32)


def _wide(mask: Mask, per: float) -> Mask:
    """The wide parts of a mask, found on a coarse one for speed."""
    size = mask.shape[::-1]
    small = tuple(max(4, round(n * per / BLOCK)) for n in size)
    low = cv2.resize(mask, small, interpolation=cv2.INTER_NEAREST)
    opened = cv2.morphologyEx(low, cv2.MORPH_OPEN, disc(BODY, size[0] * per / small[0]))
    return np.asarray(cv2.resize(opened, size, interpolation=cv2.INTER_NEAREST)) & mask


def _plain(light: Light, mask: Mask, window: tuple[int, int]) -> tuple[Light, Light]:
    """As `_near`, without what stands out: ink on the piece, or blocks that hold some of both."""
    mean, spread = _near(light, mask, window)
    if not mask.any():
        return mean, spread
    off = ((light - mean) ** 2).sum(axis=2)
    return _near(light, mask & np.asarray(off < 9 * float(np.median(off[mask > 0])) + 1e-5, np.uint8), window)


def grain_of(light: Light, mask: Mask) -> Light:
    """(3,) variance of single pixels on the piece: noise."""
    rows, cols = np.flatnonzero(mask.any(1)), np.flatnonzero(mask.any(0))
    y, x = rows[len(rows) // 2], cols[len(cols) // 2]
    patch = light[max(0, y - 300) : y + 300, max(0, x - 300) : x + 300]
    fine = patch - cv2.blur(patch, (3, 3))
    return np.asarray((1.4826 * np.median(np.abs(fine), axis=(0, 1))) ** 2 * 9 / 8, np.float32)


def look_close(here: FromAbove, mask: Mask, palette: Palette, band: float = BAND) -> Close:
    """Shares of a piece along its rim. mask: where it roughly lies. palette: what may meet it. band: mm about its
    rim."""
    light = opponent(here.picture)
    own = colours(here, light, mask, palette.patterned)
    wide = _wide(mask, here.per) if palette.patterned else mask
    body = np.asarray(cv2.erode(wide, disc(band, here.per)))
    rim = (body == 0) & (cv2.dilate(mask, disc(band, here.per)) > 0)
    share, ink = shares(light, own, palette, rim, body)
    if palette.patterned:
        # What has the colour of ink but is wider than a pen is the ground's.
        share[cv2.morphologyEx(ink, cv2.MORPH_OPEN, disc(WIDEST, here.per)) > 0] = 0.0
        share[whiskers(np.asarray(share > 0.5, np.uint8), here.per) > 0] = 0.0
    soft = np.asarray(cv2.GaussianBlur(share, (0, 0), max(0.6, SOFT / here.per)))
    return Close(soft, light, palette, here.corner, here.per, 1 - soft, ink.astype(np.float32))


THIN = 1.0
"""mm, half of the width of what is too thin to be tape."""


def whiskers(inside: Mask, per: float) -> Mask:
    """What is thin and stands out farther than a corner does: streaks of a ground that look like the piece."""
    near = disc(THIN, per)
    opened = cv2.morphologyEx(inside, cv2.MORPH_OPEN, near)
    rest = np.asarray(inside & (1 - np.asarray(opened, np.uint8)))
    far = rest & (1 - np.asarray(cv2.dilate(opened, disc(3 * THIN, per)), np.uint8))
    _, label = cv2.connectedComponents(rest, connectivity=8)
    return np.asarray(np.isin(label, np.unique(label[far > 0])) & (rest > 0), np.uint8)


WIDEST = 1.5
"""mm, half of the widest stroke of a pen."""


def shares(
    light: Light, own: Colours, palette: Palette, rim: NDArray[np.bool_], body: Mask, under: bool = False
) -> tuple[Light, Mask]:
    """(h, w) shares as ``blends`` has them where they are asked for, and `body` elsewhere, and where ink is. Each half
    of the pixels has a core of its own: it takes longest of all."""
    asked = light[rim], own.piece[rim], own.ground[rim], own.weight[rim], own.lit[rim]
    halves = np.array_split(np.arange(len(asked[0])), 2)

    def half(k: NDArray[np.int64]) -> tuple[Light, NDArray[np.bool_]]:
        seen, piece, ground, weight, lit = (a[k] for a in asked)
        return blends(seen, piece, ground, weight, palette, lit, under=under)

    with ThreadPoolExecutor(2) as cores:
        made = list(cores.map(half, halves))
    share, ink = body.astype(np.float32), np.zeros(body.shape, np.uint8)
    share[rim], ink[rim] = np.concatenate([m[0] for m in made]), np.concatenate([m[1] for m in made])
    return share, ink


def _near(light: Light, mask: Mask, window: tuple[int, int]) -> tuple[Light, Light]:
    """Mean colour of what a mask holds close by, and its variance, for each pixel; where it holds nothing, farther
    off."""
    weight = cv2.boxFilter(mask.astype(np.float32), -1, window)
    mean = cv2.boxFilter(light * mask[..., None], -1, window)
    square = cv2.boxFilter(light**2 * mask[..., None], -1, window)
    far = tuple(4 * n + 1 for n in window)
    weight_far = cv2.boxFilter(mask.astype(np.float32), -1, far)
    some = np.float32(0.02)
    use = np.clip(some - weight, 0, None) / some
    total = weight + use * weight_far + np.float32(1e-6)
    mean = (mean + (use[..., None] * cv2.boxFilter(light * mask[..., None], -1, far))) / total[..., None]
    square = (square + (use[..., None] * cv2.boxFilter(light**2 * mask[..., None], -1, far))) / total[..., None]
    return np.asarray(mean), np.asarray(np.clip(square - mean**2, 0, None))


def rims(close: Close, smallest: float) -> list[Array]:
    """Closed lines of half share, (n, 2) mm, the longest first. smallest: mm of the shortest."""
    padded = np.pad(close.share, 1)
    lines = [close.mm(c[:, ::-1] - 1) for c in find_contours(padded, 0.5)]
    closed = [c[:-1] for c in lines if len(c) > 8 and np.allclose(c[0], c[-1])]
    lengths = [float(np.hypot(*np.diff(c, axis=0).T).sum()) for c in closed]
    order = np.argsort(lengths)[::-1]
    return [closed[k] for k in order if lengths[k] >= smallest]
