"""Where a piece ends, to a fraction of a pixel.

Near its coarse rim every pixel is taken for a blend of the piece's colour close by and the ground's: how much of each
is its share (an alpha matte). The outline is where the share is one half, in light, not in the picture's numbers.
"""

from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, replace

import cv2
import numpy as np
from numpy.typing import NDArray
from scipy.ndimage import binary_fill_holes
from skimage.measure import find_contours

from vellumcut.core.trace.find import linear_table
from vellumcut.core.trace.floor import Floor
from vellumcut.core.trace.ground import Mask, disc
from vellumcut.core.trace.rectify import FromAbove, InMm

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


PATTERNED = 0.4
"""Of a ground's own light, by which one in twenty of its places differs from most: a pattern. Weave and clouds stay
under 0.3; boards, flecks and carpets lie above 0.45."""
DYES = (5, 10)
"""Colours that are told apart on a plain ground and on one with a pattern."""


def palette_of(picture: NDArray[np.uint8], known: Mask) -> Palette:
    """A ground's colours in light and in shade; no inks yet."""
    seen = opponent(picture[known > 0][None])[0]
    some = np.ascontiguousarray(seen[:: max(1, len(seen) // 6000)])
    usual = np.median(some, axis=0)
    off = np.sqrt(((some - usual) ** 2).sum(axis=1)) / (usual[0] + 0.05)
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
    grain = _grain(light, mask)

    def full(a: Light) -> Light:
        return np.asarray(cv2.resize(a, size, interpolation=cv2.INTER_LINEAR))

    weight = 1.0 / (spread_p + spread_g + 2 * grain + 2e-5)
    return Colours(full(piece), full(ground), full(weight), full(_lit(low, piece, inner, per)))


LIT = 14.0
"""mm about a pixel in which a shadow's edge may change how bright the piece is."""


def _lit(low: Light, piece: Light, inner: Mask, per: float) -> Light:
    """(h, w, 2) how much darker and lighter than `piece` the piece gets close by."""
    bright = cv2.blur(low[..., 0], (3, 3))
    near = disc(LIT, per)
    dark = cv2.erode(np.where(inner > 0, bright, 9.0).astype(np.float32), near)
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


def _grain(light: Light, mask: Mask) -> Light:
    """(3,) variance of single pixels on the piece: noise."""
    rows, cols = np.flatnonzero(mask.any(1)), np.flatnonzero(mask.any(0))
    y, x = rows[len(rows) // 2], cols[len(cols) // 2]
    patch = light[max(0, y - 300) : y + 300, max(0, x - 300) : x + 300]
    fine = patch - cv2.blur(patch, (3, 3))
    return np.asarray((1.4826 * np.median(np.abs(fine), axis=(0, 1))) ** 2 * 9 / 8, np.float32)


def look_close(
    here: FromAbove, mask: Mask, palette: Palette, band: float = BAND, floor: Floor | None = None
) -> Close:
    """Shares of a piece along its rim. mask: where it roughly lies. palette: what may meet it. band: mm about its rim.
    floor: what lies beneath, if that was photographed."""
    light = opponent(here.picture)
    own = colours(here, light, mask, palette.patterned)
    if floor is not None:
        own = _over(own, opposed(floor.light()), _grain(light, mask))
    wide = _wide(mask, here.per) if palette.patterned else mask
    body = np.asarray(cv2.erode(wide, disc(band, here.per)))
    if floor is not None:
        # Slits that the first look lost are floor well inside the piece.
        body[:] = 0
    rim = (body == 0) & (cv2.dilate(mask, disc(band, here.per)) > 0)
    share, ink = body.astype(np.float32), np.zeros(mask.shape, np.uint8)
    share[rim], ink[rim] = _in_halves(
        light[rim], own.piece[rim], own.ground[rim], own.weight[rim], palette, own.lit[rim], floor is not None
    )
    if palette.patterned:
        # What has the colour of ink but is wider than a pen is the ground's.
        share[cv2.morphologyEx(ink, cv2.MORPH_OPEN, disc(WIDEST, here.per)) > 0] = 0.0
        share[_whiskers(np.asarray(share > 0.5, np.uint8), here.per) > 0] = 0.0
    narrow = max(0.6, SOFT / here.per)
    if floor is None:
        soft = np.asarray(cv2.GaussianBlur(share, (0, 0), narrow))
        return Close(soft, light, palette, here.corner, here.per, 1 - soft, ink.astype(np.float32))
    ink = np.asarray(ink | _darker_than_floor(light, own), np.uint8)
    drawn = ink.astype(np.float32)
    share[_about_ink(ink, here.per) > 0] = 1.0
    share[_whiskers(np.asarray(share > 0.5, np.uint8), here.per) > 0] = 0.0
    lacking = 1 - _by_what_tells(share, own, mask, narrow)
    soft = _by_what_tells(_opened_from_outside(share, mask), own, mask, narrow)
    return opened(Close(soft, light, palette, here.corner, here.per, lacking, drawn, own.ground))


LEAST_LACKING = 0.16
"""Share of the floor in a pixel at which a thin line of it is seen."""
THIN_SLIT = 2.4
"""mm across of a slit that may be lost in a rough look."""
SHORT_SLIT = 6.0
"""mm of the shortest such slit."""


def opened(close: Close) -> Close:
    """A piece with thin straight lines of floor that run in from its rim opened, as far as they can be seen."""
    inside = np.asarray(close.share > 0.5, np.uint8)
    deep = np.asarray(cv2.erode(inside, disc(0.9, close.per)))
    if not deep.any():
        return close
    chance = 1.4826 * float(np.median(np.abs(close.lacking[deep > 0] - np.median(close.lacking[deep > 0]))))
    thin = np.asarray((close.lacking > max(LEAST_LACKING, 4 * chance)) & (deep > 0) & (close.drawn < 0.5), np.uint8)
    rim = np.asarray(cv2.dilate(1 - inside, disc(1.8, close.per)))
    count, label, stats, _ = cv2.connectedComponentsWithStats(thin, connectivity=8)
    share = close.share.copy()
    for k in range(1, count):
        if stats[k, cv2.CC_STAT_AREA] * close.per**2 < 1.0:
            continue
        rows, cols = np.nonzero(label == k)
        if rim[rows, cols].any():
            _carve(share, np.column_stack([cols, rows]).astype(float), inside, close.per)
    return replace(close, share=share)


def _carve(share: Light, points: Array, inside: Mask, per: float) -> None:
    """Open a thin straight line of floor from its inner end out over the rim. Changes the shares."""
    middle = points.mean(axis=0)
    way = np.linalg.svd(points - middle, full_matrices=False)[2][0]
    along, across = (points - middle) @ way, (points - middle) @ (-way[1], way[0])
    if np.ptp(along) * per < SHORT_SLIT or np.ptp(across) * per > THIN_SLIT:
        return
    ends = [middle + way * along.min(), middle + way * along.max()]
    far = cv2.distanceTransform(inside, cv2.DIST_L2, 3)
    h, w = inside.shape
    depth = [far[int(np.clip(e[1], 0, h - 1)), int(np.clip(e[0], 0, w - 1))] for e in ends]
    if max(depth) * per < SHORT_SLIT / 2 or min(depth) * per > SHORT_SLIT / 2:
        return
    inner, outer = (ends[0], ends[1]) if depth[0] > depth[1] else (ends[1], ends[0])
    out = outer + (outer - inner) / np.hypot(*(outer - inner)) * 2.0 / per
    cv2.line(share, np.round(inner).astype(int).tolist(), np.round(out).astype(int).tolist(), 0.0, max(2, round(0.4 / per)))


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


def _over(own: Colours, under: Light, grain: Light) -> Colours:
    """Colours where the floor beneath each pixel is known; where it changes from pixel to pixel it is known less
    well."""
    dx, dy = (cv2.Sobel(under, cv2.CV_32F, a, 1 - a, scale=0.125) for a in (1, 0))
    spread = (MISLAID**2) * (dx**2 + dy**2) + 2 * grain + (0.04 * own.piece[..., :1]) ** 2 + (0.04 * under[..., :1]) ** 2
    return Colours(own.piece, under, np.asarray(1.0 / (spread + 2e-5), np.float32), own.lit)


TELLS = 30.0
"""Spreads squared between piece and floor at which a pixel tells as much as any."""


def _by_what_tells(share: Light, own: Colours, mask: Mask, narrow: float) -> Light:
    """Shares averaged by how much each pixel tells: where floor and piece are alike their neighbours say it, and at
    last the rough mask."""
    tells = np.minimum((own.weight * (own.piece - own.ground) ** 2).sum(axis=2), TELLS) / TELLS
    total, weight = mask.astype(np.float32) * 1e-3, np.full(mask.shape, 1e-3, np.float32)
    for sigma, trust in ((narrow, 1.0), (3 * narrow, 0.05), (9 * narrow, 0.003)):
        there = cv2.GaussianBlur(tells, (0, 0), sigma) * trust
        weight += there
        total += cv2.GaussianBlur(share * tells, (0, 0), sigma) * trust
    return np.asarray(total / weight, np.float32)


THIN = 1.0
"""mm, half of the width of what is too thin to be tape."""


def _whiskers(inside: Mask, per: float) -> Mask:
    """What is thin and stands out farther than a corner does: streaks of a ground that look like the piece."""
    near = disc(THIN, per)
    opened = cv2.morphologyEx(inside, cv2.MORPH_OPEN, near)
    rest = np.asarray(inside & (1 - np.asarray(opened, np.uint8)))
    far = rest & (1 - np.asarray(cv2.dilate(opened, disc(3 * THIN, per)), np.uint8))
    _, label = cv2.connectedComponents(rest, connectivity=8)
    return np.asarray(np.isin(label, np.unique(label[far > 0])) & (rest > 0), np.uint8)


WIDEST = 1.5
"""mm, half of the widest stroke of a pen."""


def _in_halves(
    light: Light, piece: Light, ground: Light, weight: Light, palette: Palette, lit: Light, under: bool
) -> tuple[Light, NDArray[np.bool_]]:
    """As ``blends``, each half of the pixels on a core of its own: it takes longest of all."""
    halves = np.array_split(np.arange(len(light)), 2)
    with ThreadPoolExecutor(2) as cores:
        made = list(
            cores.map(
                lambda k: blends(light[k], piece[k], ground[k], weight[k], palette, lit[k], under=under), halves
            )
        )
    return np.concatenate([m[0] for m in made]), np.concatenate([m[1] for m in made])


ROUGH = 0.5
"""mm a pixel of the looks before the last."""


def settled(here: FromAbove, mask: Mask, palette: Palette, floor: Floor | None = None) -> Mask:
    """The mask after two less close looks: it follows the piece where the first look was far off."""
    rough = here.coarser(max(ROUGH, here.per))
    now = np.asarray(cv2.resize(mask, rough.picture.shape[1::-1], interpolation=cv2.INTER_NEAREST), np.uint8)
    under = floor.coarser(rough) if floor is not None else None
    for _ in range(2):
        close = look_close(rough, now, palette, 1.7 * BAND, under)
        inside = np.asarray(close.share > 0.5, np.uint8)
        count, which, stats, _ = cv2.connectedComponentsWithStats(inside, connectivity=4)
        if count < 2:
            return mask
        now = np.asarray(which == 1 + int(np.argmax(stats[1:, cv2.CC_STAT_AREA])), np.uint8)
        now |= np.asarray(binary_fill_holes(now), np.uint8) & np.asarray(cv2.dilate(now, disc(2.0, rough.per)))
    return np.asarray(cv2.resize(now, mask.shape[::-1], interpolation=cv2.INTER_NEAREST), np.uint8)


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
