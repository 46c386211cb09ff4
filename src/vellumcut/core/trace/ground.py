"""Tell pieces from the ground they lie on.

Three ways, since grounds differ. By colour: what lies along the picture's rim and round the cards is ground, what looks
unlike it is a piece, and a graph cut (GrabCut: Rother, Kolmogorov and Blake 2004) settles where one ends. By edges:
from the rim the ground is flooded as far as it meets an edge sharper than any of its own; a soft shadow does not stop
it. By calm: on a ground with a pattern a wide place that has none is a piece, whatever its colour. Of all three, for
each place, the piece is taken whose rim stands out better.
"""

from concurrent.futures import ThreadPoolExecutor

import cv2
import numpy as np
import shapely
from numpy.typing import NDArray
from scipy.ndimage import gaussian_filter

from vellumcut.core.trace.view.cards import CARD, SIDE
from vellumcut.core.trace.view.find import linear_table
from vellumcut.core.trace.view.rectify import FromAbove, card_masks

Array = NDArray[np.float64]
Mask = NDArray[np.uint8]
NOWHERE = shapely.Polygon()

COARSE = 1.5
"""mm a pixel of the first look."""
RIM = 12.0
"""mm inside the picture's edge, and round each card, that are held to be ground."""
SMALLEST = 500.0
"""mm2 of the smallest piece: a coin and a half."""
THINNEST = 4.0
"""mm from the edge to the middle of the thinnest piece."""
BINS = (16, 48, 48)


def disc(mm: float, per: float) -> Mask:
    n = max(1, round(2 * mm / per)) | 1
    return np.asarray(cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (n, n)), np.uint8)


def known_ground(coarse: FromAbove, poses: Array, side: float) -> tuple[Mask, Mask]:
    """Where ground is for sure, and where nothing is looked for: cards and what the photograph does not show."""
    cards = card_masks(coarse, poses, side, 3.0)
    near = card_masks(coarse, poses, side, 3.0 + RIM)
    seen = coarse.seen.astype(np.uint8)
    inner = cv2.erode(np.pad(seen, 1), disc(RIM, coarse.per))[1:-1, 1:-1]
    rim = (seen > 0) & (inner == 0)
    barred = np.asarray((cards > 0) | (seen == 0), np.uint8)
    return np.asarray((rim | (near > 0)) & (barred == 0), np.uint8), barred


def surprise(lab: NDArray[np.uint8], known: Mask) -> NDArray[np.float32]:
    """How unlike the known ground each pixel's colour is: -log of its share there."""
    cell = lab.astype(int) // np.array([16, 6, 6])
    index = (np.minimum(cell[..., 0], 15) * 48 + cell[..., 1]) * 48 + cell[..., 2]
    counts = np.bincount(index[known > 0], minlength=int(np.prod(BINS))).astype(np.float32)
    share = gaussian_filter(counts.reshape(BINS), 1.0).reshape(-1) / max(1.0, float(counts.sum()))
    return np.asarray(-np.log(share[index] + 1e-6), np.float32)


def pieces_on(above: FromAbove, poses: Array, side: float) -> tuple[FromAbove, Mask, list[Mask]]:
    """A coarse view, where that is ground for sure, and, for each piece, its mask, largest first."""
    coarse = above.coarser(max(COARSE, above.per))
    known, barred = known_ground(coarse, poses, side)
    with ThreadPoolExecutor(1) as other_core:
        colours = other_core.submit(by_colour, coarse, known, barred)
        edged, calm = by_edges(coarse, known, barred), by_calm(coarse, known, barred)
        look = _Look(coarse, known)
        found = colours.result()
    likely = parts_of(found, coarse.per) + parts_of(edged, coarse.per) + calm
    lying = [m for m in likely if not _under_a_card(coarse, m, poses)]
    standing = [(look.stands_out(m), m) for m in lying]
    kept: list[Mask] = []
    for _, mask in sorted((s for s in standing if s[0] > 0.5), key=lambda s: -s[0] * float(s[1].sum()) ** 0.25):
        if all((mask & k).sum() < 0.1 * min(mask.sum(), k.sum()) for k in kept):
            kept.append(mask)
    kept = [_trimmed(coarse, m) for m in _over_shadows(coarse, [m for m in kept if not is_card(coarse, m, side)])]
    return coarse, known, sorted(kept, key=lambda m: -int(m.sum()))


def by_colour(coarse: FromAbove, known: Mask, barred: Mask) -> Mask:
    lab = np.asarray(cv2.cvtColor(coarse.picture, cv2.COLOR_RGB2LAB))
    unlike = cv2.blur(surprise(lab, known), (9, 9))
    usual = unlike[known > 0]
    limit = max(float(np.quantile(usual, 0.98)), float(np.median(usual)) + 1.0)
    likely = np.asarray((unlike > limit) & (barred == 0) & (known == 0), np.uint8)
    likely = np.asarray(cv2.morphologyEx(likely, cv2.MORPH_OPEN, disc(4.5, coarse.per)))
    for _ in range(2):
        if not likely.any():
            return likely
        likely = _cut(lab, likely, known, barred)
        # Learn what a piece looks like from its body only: a spot of carpet that hangs on its edge is let go.
        core = np.asarray(cv2.morphologyEx(likely, cv2.MORPH_OPEN, disc(13.0, coarse.per)))
        body = likely
        likely = core
    return _cut(lab, core, known, barred) if core.any() else body


def _cut(lab: NDArray[np.uint8], likely: Mask, known: Mask, barred: Mask) -> Mask:
    mask = np.where(likely > 0, cv2.GC_PR_FGD, cv2.GC_PR_BGD).astype(np.uint8)
    mask[(known > 0) | (barred > 0)] = cv2.GC_BGD
    cv2.setRNGSeed(7)
    cv2.grabCut(lab, mask, None, np.zeros((1, 65)), np.zeros((1, 65)), 2, cv2.GC_INIT_WITH_MASK)
    return np.asarray((mask == cv2.GC_FGD) | (mask == cv2.GC_PR_FGD), np.uint8)


def steepness(coarse: FromAbove) -> NDArray[np.float32]:
    """The steepest change of colour at each pixel."""
    lab = cv2.cvtColor(coarse.picture.astype(np.float32) / 255.0, cv2.COLOR_RGB2LAB)
    soft = cv2.GaussianBlur(lab, (0, 0), 0.7)
    dx, dy = cv2.Sobel(soft, cv2.CV_32F, 1, 0), cv2.Sobel(soft, cv2.CV_32F, 0, 1)
    return np.asarray(np.sqrt((dx**2 + dy**2).sum(axis=2)), np.float32)


def by_edges(coarse: FromAbove, known: Mask, barred: Mask) -> Mask:
    steep = steepness(coarse)
    limit = 1.25 * float(np.quantile(steep[known > 0], 0.995))
    walls = np.asarray(cv2.dilate((steep > limit).astype(np.uint8), np.ones((3, 3), np.uint8)))
    walls[(barred > 0) | (known > 0)] = 0
    open_ground = np.asarray(walls == 0, np.uint8)
    _, label = cv2.connectedComponents(open_ground, connectivity=4)
    ground = np.isin(label, np.unique(label[(known > 0) | (barred > 0)])) & (open_ground > 0)
    inside = filled(np.asarray(~ground, np.uint8)) > 0
    inside &= barred == 0
    thin = cv2.morphologyEx(inside.astype(np.uint8), cv2.MORPH_OPEN, disc(3.0, coarse.per))
    return np.asarray(cv2.erode(thin, np.ones((3, 3), np.uint8)))


CALM = (0.5, 0.75, 0.9)
"""Shares of a ground's places that are steeper: levels below which a place counts as calm."""
WIDE, WIDER = 15.0, 1.3
"""mm, half of how wide a calm place must be; and how many times as wide as those of the ground, which may be tiles."""
RESTLESS, LEAST_RESTLESS = 2.0, 3.0
"""How many times as steep as a calm place a ground is, and how steep at least, in steps of colour a pixel, or calm
tells nothing: plain cloth, at 1, has calm places of its own; boards have 3 to 8, carpets 40."""
ACROSS, LONG = 13.0, 25.0
"""mm between two parts of one piece that a shadow's edge runs between, and how long it runs at least."""


def by_calm(coarse: FromAbove, known: Mask, barred: Mask) -> list[Mask]:
    """Wide calm places that do not run out into the ground; those that only a shadow's edge parts are one."""
    steep = steepness(coarse)
    restless = float(np.median(steep[known > 0]))
    out: list[Mask] = []
    if restless < LEAST_RESTLESS:
        return out
    for share in CALM:
        calm = np.asarray((steep < np.quantile(steep[known > 0], 1 - share)) & (barred == 0), np.uint8)
        calm = np.asarray(cv2.morphologyEx(calm, cv2.MORPH_CLOSE, disc(1.5, coarse.per)))
        calm = np.asarray(cv2.morphologyEx(calm, cv2.MORPH_OPEN, disc(3.0, coarse.per)))
        _, label = cv2.connectedComponents(calm, connectivity=4)
        far = cv2.distanceTransform(calm, cv2.DIST_L2, 3) * coarse.per
        ground = np.unique(label[known > 0])
        enough = max(WIDE, WIDER * float(far[np.isin(label, ground)].max()))
        wide = set(np.unique(label[far > enough]).tolist()) - {0}
        parts = [p for k in sorted(wide) for p in parts_of(np.asarray(label == k, np.uint8), coarse.per)]
        parts = [p for p in parts if float(np.median(steep[p > 0])) * RESTLESS < restless]
        out += _over_shadows(coarse, parts)
    return out


def _over_shadows(coarse: FromAbove, parts: list[Mask]) -> list[Mask]:
    light = linear_table()[coarse.picture]
    joined = list(parts)
    k = 0
    while k < len(joined):
        other = next((j for j in range(k + 1, len(joined)) if _one_piece(coarse, light, joined[k], joined[j])), None)
        if other is None:
            k += 1
            continue
        gap = cv2.dilate(_gap(coarse, joined[k], joined[other]), disc(3.0, coarse.per))
        both = joined[k] | joined.pop(other)
        # Only there: a slit elsewhere is not to be closed.
        joined[k] = both | (np.asarray(cv2.morphologyEx(both, cv2.MORPH_CLOSE, disc(ACROSS, coarse.per))) & gap)
    return joined


def _gap(coarse: FromAbove, a: Mask, b: Mask) -> Mask:
    near = disc(ACROSS, coarse.per)
    between: Mask = np.asarray(cv2.dilate(a, near)) & np.asarray(cv2.dilate(b, near)) & (1 - (a | b))
    return between


def _one_piece(coarse: FromAbove, light: NDArray[np.float32], a: Mask, b: Mask) -> bool:
    """Whether two parts lie along each other, have one tint, and so has what is between them: only light parts them."""
    between = _gap(coarse, a, b)
    if between.sum() * coarse.per**2 < ACROSS * LONG:
        return False
    sides = [np.asarray(cv2.dilate(between, disc(8.0, coarse.per))) & own for own in (a, b)]
    if not all(s.any() for s in sides):
        return False
    tints = [np.median(light[m > 0], axis=0) for m in (*sides, between)]
    unit = [t / max(1e-6, float(np.linalg.norm(t))) for t in tints]
    bright = [float(t.sum()) for t in tints]
    alike = min(float(unit[0] @ unit[1]), float(unit[0] @ unit[2])) > SAME_TINT
    dark, light_side = sorted(bright[:2])
    return alike and light_side > SHADOW * dark and dark * 0.9 < bright[2] < light_side * 1.1


SAME_TINT = 0.998
"""Cosine between the light of two places above which they are of one tint: 3.6 degrees. A shadow outdoors is a little
bluer than the sun; indoors tints stay within 2. (est.)"""


SHADOW = 1.2
"""How much lighter the lit side of a shadow's edge is at least."""


def filled(mask: Mask) -> Mask:
    """A mask, 0 and 1, with all that it shuts in."""
    outside = np.pad(mask, 1)
    cv2.floodFill(outside, None, (0, 0), 2, flags=4)
    return np.asarray(outside[1:-1, 1:-1] != 2, np.uint8)


def _under_a_card(coarse: FromAbove, mask: Mask, poses: Array) -> bool:
    """Whether a card lies on it: then it is ground in another light."""
    at = np.round(coarse.pixels(poses[:, :2])).astype(int)
    whole = filled(mask)
    return bool(whole[np.clip(at[:, 1], 0, len(mask) - 1), np.clip(at[:, 0], 0, mask.shape[1] - 1)].any())


def is_card(coarse: FromAbove, mask: Mask, side: float) -> bool:
    """Whether it is a card that could not be read, with a shadow or a shine over it: a square of its size, black and
    white."""
    edge = side * CARD / SIDE
    rim, _ = cv2.findContours(mask, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    _, size, _ = cv2.minAreaRect(max(rim, key=len))
    long, short = (float(s) * coarse.per for s in (max(size), min(size)))
    if not (0.6 * side < short and long < 1.2 * edge):
        return False
    seen = np.sort(linear_table()[coarse.picture[filled(mask) > 0]].mean(axis=1))
    return bool(seen[len(seen) // 4] < 0.35 * seen[9 * len(seen) // 10])


def parts_of(mask: Mask, per: float) -> list[Mask]:
    """Connected parts of a mask that are large enough to be pieces, holes closed that are too small to be meant."""
    count, label, stats, _ = cv2.connectedComponentsWithStats(mask, connectivity=4)
    out = []
    for k in range(1, count):
        if stats[k, cv2.CC_STAT_AREA] * per**2 >= SMALLEST:
            own = np.asarray(label == k, np.uint8)
            holes = filled(own) - own
            n, which, held, _ = cv2.connectedComponentsWithStats(holes, connectivity=4)
            small = [j for j in range(1, n) if held[j, cv2.CC_STAT_AREA] * per**2 < SMALLEST / 2]
            own[np.isin(which, small)] = 1
            # A stroke of ink alone is no piece.
            if cv2.distanceTransform(own, cv2.DIST_L2, 3).max() * per > THINNEST:
                out.append(own)
    return out


def _about(mask: Mask, margin: float, per: float) -> tuple[slice, slice]:
    """The part of a picture round a mask: many pieces would else each be looked at in all of it."""
    rows, cols = np.flatnonzero(mask.any(axis=1)), np.flatnonzero(mask.any(axis=0))
    n = round(margin / per)
    return slice(max(0, int(rows[0]) - n), int(rows[-1]) + n + 1), slice(
        max(0, int(cols[0]) - n), int(cols[-1]) + n + 1
    )


class _Look:
    """What tells a piece's rim from a shadow's or a pattern's, worked out once for a picture."""

    def __init__(self, coarse: FromAbove, known: Mask) -> None:
        self.per = coarse.per
        self.lab = cv2.cvtColor(coarse.picture.astype(np.float32) / 255.0, cv2.COLOR_RGB2LAB)
        self.steep = cv2.dilate(steepness(coarse), np.ones((3, 3), np.uint8))
        self.own = float(np.median(self.steep[known > 0]))
        self.unlike = surprise(np.asarray(cv2.cvtColor(coarse.picture, cv2.COLOR_RGB2LAB)), known)

    def stands_out(self, mask: Mask) -> float:
        """Share of a mask's rim, 0 to 1, where its two sides differ: by a step in colour that is steeper than the
        ground's own, or by colours that the ground does not have. A shadow has neither.
        """
        here = _about(mask, 16.0, self.per)
        mask, lab, steep = mask[here], self.lab[here], self.steep[here]
        near = disc(3.5, self.per)
        outer = np.asarray(cv2.dilate(mask, near)) & (1 - mask)
        inner = mask & (1 - np.asarray(cv2.erode(mask, near)))
        window = (round(8 / self.per) | 1,) * 2
        far = np.sqrt(((mean_of(lab, inner, window) - mean_of(lab, outer, window)) ** 2).sum(axis=2))
        small = np.ones((3, 3), np.uint8)
        rim = (cv2.dilate(mask, small) > 0) & (cv2.erode(mask, small) == 0)
        if not rim.any():
            return 0.0
        unlike = self.unlike[here][..., None]
        new = (
            (mean_of(unlike, inner, window) - mean_of(unlike, outer, window))[..., 0] if outer.any() else unlike[..., 0]
        )
        rough = steep[..., None]
        calm = mean_of(rough, inner, window)[..., 0] * CALMER < mean_of(rough, outer, window)[..., 0]
        return float((((far > 3.0) & ((steep > max(2.5 * self.own, 4.0)) | (new > 1.0))) | calm)[rim].mean())


CALMER = 2.5
"""How much rougher the outside of a rim is than its inside for its piece to stand out by that."""


def mean_of(lab: NDArray[np.float32], mask: Mask, window: tuple[int, int]) -> NDArray[np.float32]:
    weight = cv2.blur(mask.astype(np.float32), window)
    total = cv2.blur(lab * mask[..., None], window).reshape(lab.shape)
    return np.asarray(total / np.maximum(weight, 1e-4)[..., None], np.float32)


FOREIGN = 6.0
"""Spreads from a piece's own tint at which a spot is not the piece."""
SHADED = (0.3, 2.5)
"""How much darker a shadow makes a piece, and how much lighter a shine does: its tint stays the same."""


def _trimmed(coarse: FromAbove, mask: Mask) -> Mask:
    """A mask without spots of the ground's pattern that hang on it: those that reach in from outside and have another
    tint than the piece round them. How bright they are does not count, or a shadow across the piece would be cut off.
    """
    here = _about(mask, 40.0, coarse.per)
    whole = np.zeros_like(mask)
    whole[here] = _trimmed_here(linear_table()[coarse.picture[here]], mask[here], coarse.per)
    return whole


def _trimmed_here(light: NDArray[np.float32], mask: Mask, per: float) -> Mask:
    wide = (round(60 / per) | 1,) * 2
    own = mask
    for _ in range(2):
        piece = mean_of(light, own, wide)
        long = (piece**2).sum(axis=2)
        gain = np.clip((light * piece).sum(axis=2) / np.maximum(long, 1e-6), *SHADED)
        off = np.sqrt(((light - gain[..., None] * piece) ** 2).sum(axis=2)) / np.sqrt(np.maximum(long, 1e-6))
        spread = 1.4826 * float(np.median(off[own > 0])) + 0.004
        own = np.asarray((off < 3 * spread) & (mask > 0), np.uint8)
    foreign = np.asarray((off > FOREIGN * spread) & (mask > 0), np.uint8)
    foreign = np.asarray(cv2.morphologyEx(foreign, cv2.MORPH_OPEN, np.ones((3, 3), np.uint8)))
    _, label = cv2.connectedComponents(foreign, connectivity=4)
    beyond = cv2.dilate(1 - mask, np.ones((3, 3), np.uint8)) > 0
    hanging = np.unique(label[beyond & (foreign > 0)])
    left = np.asarray((mask > 0) & ~(np.isin(label, hanging) & (foreign > 0)), np.uint8)
    count, which, stats, _ = cv2.connectedComponentsWithStats(left, connectivity=4)
    return left if count < 2 else np.asarray(which == 1 + int(np.argmax(stats[1:, cv2.CC_STAT_AREA])), np.uint8)
