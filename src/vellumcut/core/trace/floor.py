"""The floor beneath the pieces: a photograph of it, taken before they were laid down, laid under the one with them.

Cards lay the one on the other; floor that both show says what the cards leave open, patch by patch (correlation by
Fourier, Kuglin and Hines 1975), smoothed; and how the light has changed, in colour and brightness.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray
from scipy import fft

from vellumcut.core.errors import CraftError
from vellumcut.core.trace.find import linear_table
from vellumcut.core.trace.join import MOVED
from vellumcut.core.trace.rectify import FromAbove, InMm, Picture, card_masks, places_of
from vellumcut.core.trace.rigid import onto
from vellumcut.core.trace.solve import CORNERS, View, on_ground

Array = NDArray[np.float64]
Light = NDArray[np.float32]
Mask = NDArray[np.uint8]

FEWEST_LYING = 3
"""Cards that must lie alike in both photographs."""
WORK = 0.5
"""mm a pixel at which floor is compared with floor."""
DARK = np.float32(0.004)
"""Light that is added before ratios are taken: below it a picture holds noise."""


@dataclass(frozen=True, eq=False)
class Floor(InMm):
    """picture: (h, w, 3) of the floor without the pieces, pixel for pixel beneath the view from above. known: (h, w)
    where the photograph shows it. gain: (k, l, 3) by which its light is to be multiplied, over the same ground,
    coarsely. moved: numbers of cards that lie elsewhere in it.
    """

    picture: Picture
    known: NDArray[np.bool_]
    gain: Light
    corner: Array
    per: float
    moved: tuple[int, ...]

    def light(self, window: tuple[slice, slice] | None = None) -> Light:
        """(h, w, 3) light, red first, that the floor would send back now, in a window of its pixels."""
        rows, cols = window or (slice(0, self.picture.shape[0]), slice(0, self.picture.shape[1]))
        h, w = self.picture.shape[:2]
        k, m = self.gain.shape[:2]
        y = (np.arange(rows.start, rows.stop, dtype=np.float32) + 0.5) * k / h - 0.5
        x = (np.arange(cols.start, cols.stop, dtype=np.float32) + 0.5) * m / w - 0.5
        gain = cv2.remap(self.gain, *np.meshgrid(x, y), cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
        return np.asarray(linear_table()[self.picture[rows, cols]] * gain, np.float32)

    def coarser(self, like: FromAbove) -> "Floor":
        """As fine as another view of the same ground."""
        size = like.picture.shape[1::-1]
        known = cv2.resize(self.known.astype(np.uint8), size, interpolation=cv2.INTER_NEAREST) > 0
        small = np.asarray(cv2.resize(self.picture, size, interpolation=cv2.INTER_AREA), np.uint8)
        return Floor(small, known, self.gain, self.corner, like.per, self.moved)

    def cropped(self, here: FromAbove) -> "Floor":
        """The part of it beneath a crop of the view from above, with that part's gain."""
        a = np.round((here.corner - self.corner) / self.per).astype(int)
        h, w = here.picture.shape[:2]
        window = slice(a[1], a[1] + h), slice(a[0], a[0] + w)
        full = self.picture.shape[1::-1]
        m = np.array(self.gain.shape[1::-1]) / full
        size = max(2, round(w * m[0])), max(2, round(h * m[1]))
        x = (np.arange(size[0], dtype=np.float32) + 0.5) * np.float32(w / size[0] * m[0]) + np.float32(a[0] * m[0] - 0.5)
        y = (np.arange(size[1], dtype=np.float32) + 0.5) * np.float32(h / size[1] * m[1]) + np.float32(a[1] * m[1] - 0.5)
        gain = cv2.remap(self.gain, *np.meshgrid(x, y), cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
        return Floor(self.picture[window], self.known[window], gain, here.corner, here.per, self.moved)


def floor_under(above: FromAbove, view: View, photograph: Picture, bare: View, side: float) -> Floor:
    """The floor beneath a view from above. photograph: of the floor; bare: its view.

    Raises CraftError where too few cards lie alike in both.
    """
    lies, moved = _lies(view, bare, side)
    size = np.array(above.picture.shape[1::-1])
    where = places_of(lambda p: bare.lens.project(lies.back(p)), above.corner, above.per, size)
    seen = _seen(where, bare.size)
    rough = _remapped(photograph, where)
    work = above.coarser(max(WORK, above.per))
    cards = card_masks(work, view.poses, side, 4.0) > 0
    for stride in STRIDES:
        small = np.asarray(cv2.resize(rough, work.picture.shape[1::-1], interpolation=cv2.INTER_AREA), np.uint8)
        both = work.seen & ~cards & (cv2.resize(seen.astype(np.uint8), small.shape[1::-1]) > 0)
        shift = flow(linear_table()[work.picture], linear_table()[small], both, stride)
        pixels = cv2.resize(shift, tuple(size.tolist()), interpolation=cv2.INTER_LINEAR) * np.float32(work.per / above.per)
        x, y = np.meshgrid(np.arange(size[0], dtype=np.float32), np.arange(size[1], dtype=np.float32))
        where = cv2.remap(where, x + pixels[..., 0], y + pixels[..., 1], cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
        del x, y, pixels
        rough = _remapped(photograph, where)
    seen = _seen(where, bare.size)
    return Floor(rough, seen, np.ones((2, 2, 3), np.float32), above.corner, above.per, moved)


def _remapped(photograph: Picture, where: NDArray[np.float32]) -> Picture:
    return np.asarray(
        cv2.remap(photograph, where[..., 0], where[..., 1], cv2.INTER_CUBIC, borderMode=cv2.BORDER_REPLICATE), np.uint8
    )


def _seen(where: NDArray[np.float32], size: tuple[int, int]) -> NDArray[np.bool_]:
    return np.asarray(((where >= 1) & (where <= np.array(size, np.float32) - 2)).all(axis=2))


def _lies(view: View, bare: View, side: float):
    """How the bare floor lies on the other view's, and numbers of cards that were moved in between."""
    own, there = ({n: on_ground(CORNERS, np.tile(p, (4, 1)), side) for n, p in zip(v.numbers, v.poses, strict=True)} for v in (view, bare))
    both, moved = sorted(own.keys() & there.keys()), []
    while len(both) >= FEWEST_LYING:
        a, b = (np.concatenate([where[n] for n in both]) for where in (there, own))
        lies = onto(a, b)
        off = np.hypot(*(lies.place(a) - b).T).reshape(-1, 4).mean(axis=1)
        if off.max() <= MOVED:
            return lies, tuple(moved)
        trials = []
        for n in both:
            rest = [m for m in both if m != n]
            c, d = (np.concatenate([where[m] for m in rest]) for where in (there, own))
            trials.append((float(np.hypot(*(onto(c, d).place(c) - d).T).max()), n))
        moved.append(min(trials)[1])
        both.remove(moved[-1])
    raise CraftError(
        "The two photographs do not show three cards that lie alike in both. Lay the cards first, photograph the floor, "
        "lay the pieces among them without moving a card, and photograph again.",
        "ground",
    )


PATCH, FAR = 64, 7
"""Pixels of a patch, and by which one is looked for."""
STRIDES = 56, 28
"""Pixels between two patches of the first look and of the second."""
ALIKE = 0.55
"""Correlation at which two patches show the same floor."""


def flow(light: Light, bare: Light, both: NDArray[np.bool_], stride: int) -> NDArray[np.float32]:
    """(k, l, 2) pixels by which the bare floor lies off, on an even grid over the picture, smooth: from patches that
    are alike, and from their neighbours where none are."""
    a, b = (_relief(x) * both for x in (light, bare))
    h, w = both.shape
    rows, cols = np.arange(0, max(1, h - PATCH), stride), np.arange(0, max(1, w - PATCH), stride)
    places, shifts, sure = [], [], []
    for y in rows:
        found = _matched(a, b, int(y), cols)
        places += [(x + PATCH / 2, y + PATCH / 2) for x in cols]
        shifts.append(found[0])
        sure.append(found[1])
    return _smoothed(np.array(places, float), np.concatenate(shifts), np.concatenate(sure), (h, w))


def _relief(light: Light) -> Light:
    grey = np.log(light.mean(axis=2) + DARK)
    return np.asarray(grey - cv2.GaussianBlur(grey, (0, 0), 10.0), np.float32)


def _matched(a: Light, b: Light, y: int, cols: NDArray[np.int64]) -> tuple[Array, Array]:
    """Shift (n, 2) and correlation (n,) of a row of patches."""
    window = np.outer(np.hanning(PATCH), np.hanning(PATCH)).astype(np.float32)
    one, other = (np.stack([m[y : y + PATCH, x : x + PATCH] for x in cols]) * window for m in (a, b))
    power = np.sqrt((one**2).sum(axis=(1, 2)) * (other**2).sum(axis=(1, 2)))
    corr = fft.irfft2(fft.rfft2(other) * np.conj(fft.rfft2(one)), s=(PATCH, PATCH))
    near = np.roll(corr, (FAR, FAR), axis=(1, 2))[:, : 2 * FAR + 1, : 2 * FAR + 1]
    at = np.argmax(near[:, 1:-1, 1:-1].reshape(len(cols), -1), axis=1)
    v, u = at // (2 * FAR - 1) + 1, at % (2 * FAR - 1) + 1
    n = np.arange(len(cols))
    top = near[n, v, u]

    def parabola(low: Array, high: Array) -> Array:
        bend = low - 2 * top + high
        return np.where(bend < 0, 0.5 * (low - high) / np.minimum(bend, -1e-12), 0.0)

    x = u - FAR + parabola(near[n, v, u - 1], near[n, v, u + 1])
    down = v - FAR + parabola(near[n, v - 1, u], near[n, v + 1, u])
    return np.column_stack([x, down]), top / np.maximum(power, 1e-6)


SPREAD = 90.0
"""Pixels over which shifts of patches are averaged."""


def _smoothed(places: Array, shifts: Array, sure: Array, size: tuple[int, int]) -> NDArray[np.float32]:
    h, w = size
    good = sure > ALIKE
    grid = (max(2, h // STRIDES[1]), max(2, w // STRIDES[1]))
    gx, gy = np.meshgrid((np.arange(grid[1]) + 0.5) * w / grid[1], (np.arange(grid[0]) + 0.5) * h / grid[0])
    at = np.column_stack([gx.ravel(), gy.ravel()])
    if good.sum() < 12:
        return np.zeros((*grid, 2), np.float32)
    terms = 10 if good.sum() >= 60 else 3
    here, there = _powers(places, size)[:, :terms], _powers(at, size)[:, :terms]
    weight = np.where(good, sure**2, 0.0)
    for _ in range(8):
        root = np.sqrt(weight)[:, None]
        fit = np.linalg.lstsq(here * root, shifts * root, rcond=None)[0]
        off = np.hypot(*(shifts - here @ fit).T)
        scale = max(0.12, 1.4826 * float(np.median(off[good])))
        weight = np.where(good, sure**2, 0.0) * np.clip(1 - (off / (4 * scale)) ** 2, 0, None) ** 2
    rest = np.where(weight[:, None] > 0, shifts - here @ fit, 0.0)
    local = np.zeros((len(at), 2))
    for k in range(0, len(at), 400):
        far = ((at[k : k + 400, None, :] - places[None]) ** 2).sum(axis=2)
        near = np.exp(-far / (2 * SPREAD**2)) * weight
        local[k : k + 400] = near @ rest / (near.sum(axis=1, keepdims=True) + 1.0)
    return (there @ fit + local).reshape(*grid, 2).astype(np.float32)


def _powers(places: Array, size: tuple[int, int]) -> Array:
    x, y = places[:, 0] / size[1] * 2 - 1, places[:, 1] / size[0] * 2 - 1
    one = np.ones_like(x)
    return np.column_stack([one, x, y, x * x, x * y, y * y, x**3, x * x * y, x * y * y, y**3])
