"""The floor beneath the pieces: a photograph of it, taken before they were laid down, laid under the one with them.

Cards lay the one on the other; floor that both show says what the cards leave open, patch by patch (correlation by
Fourier, Kuglin and Hines 1975), smoothed; and how the light has changed, in colour and brightness.
"""

from dataclasses import dataclass, replace

import cv2
import numpy as np
from numpy.typing import NDArray
from scipy import fft

from vellumcut.core.errors import CraftError
from vellumcut.core.trace.view.find import linear_table
from vellumcut.core.trace.view.join import MOVED
from vellumcut.core.trace.view.rectify import FromAbove, InMm, Picture, card_masks, places_of
from vellumcut.core.trace.view.rigid import Rigid, onto
from vellumcut.core.trace.view.solve import CORNERS, View, on_ground

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
    coarsely. moved: numbers of cards that lie elsewhere in it. unknown: (3,) variance of its light, as `opposed` has
    it, that the picture does not hold.
    """

    picture: Picture
    known: NDArray[np.bool_]
    gain: Light
    corner: Array
    per: float
    moved: tuple[int, ...] = ()
    unknown: tuple[float, float, float] = (0.0, 0.0, 0.0)

    def light(self) -> Light:
        """(h, w, 3) light, red first, that the floor would send back now."""
        gain = cv2.resize(self.gain, self.picture.shape[1::-1], interpolation=cv2.INTER_LINEAR)
        return np.asarray(linear_table()[self.picture] * gain, np.float32)

    def coarser(self, like: FromAbove) -> "Floor":
        """As fine as another view of the same ground."""
        if like.picture.shape == self.picture.shape:
            return self
        size = like.picture.shape[1::-1]
        known = cv2.resize(self.known.astype(np.uint8), size, interpolation=cv2.INTER_NEAREST) > 0
        small = np.asarray(cv2.resize(self.picture, size, interpolation=cv2.INTER_AREA), np.uint8)
        return replace(self, picture=small, known=known, per=like.per)

    def cropped(self, here: FromAbove) -> "Floor":
        """The part of it beneath a crop of the view from above, with that part's gain."""
        a = np.round((here.corner - self.corner) / self.per).astype(int)
        h, w = here.picture.shape[:2]
        window = slice(a[1], a[1] + h), slice(a[0], a[0] + w)
        finer = np.array(self.gain.shape[1::-1]) / self.picture.shape[1::-1]
        size = np.maximum(2, np.round((w, h) * finer)).astype(int)
        steps = [(np.arange(n, dtype=np.float32) + 0.5) / n for n in size]
        x, y = ((s * n + first) * f - 0.5 for s, n, first, f in zip(steps, (w, h), a, finer, strict=True))
        across, down = np.meshgrid(x.astype(np.float32), y.astype(np.float32))
        gain = cv2.remap(self.gain, across, down, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
        return replace(
            self, picture=self.picture[window], known=self.known[window], gain=gain, corner=here.corner, per=here.per
        )


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
        pixels = cv2.resize(shift, tuple(size.tolist()), interpolation=cv2.INTER_LINEAR) * np.float32(
            work.per / above.per
        )
        x, y = np.meshgrid(np.arange(size[0], dtype=np.float32), np.arange(size[1], dtype=np.float32))
        where = cv2.remap(
            where, x + pixels[..., 0], y + pixels[..., 1], cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE
        )
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


def _lies(view: View, bare: View, side: float) -> tuple[Rigid, tuple[int, ...]]:
    """How the bare floor lies on the other view's, and numbers of cards that were moved in between."""
    own, there = (
        {n: on_ground(CORNERS, np.tile(p, (4, 1)), side) for n, p in zip(v.numbers, v.poses, strict=True)}
        for v in (view, bare)
    )
    both, moved = sorted(own.keys() & there.keys()), list[int]()
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
        "The two photographs do not show three cards that lie alike in both. Lay the cards first, photograph the "
        "floor, lay the pieces among them without moving a card, and photograph again.",
        "ground",
    )


PATCH, FAR = 64, 7
"""Pixels of a patch, and by which one is looked for."""
STRIDES = 56, 28
"""Pixels between two patches of the first look and of the second."""
ALIKE = 0.55
"""Correlation at which two patches show the same floor."""


def flow(light: Light, bare: Light, both: NDArray[np.bool_], stride: int) -> NDArray[np.float32]:
    """(h, w, 2) pixels by which the bare floor lies off, smooth: from patches that are alike, and from their neighbours
    where none are."""
    a, b = (_relief(x) * both for x in (light, bare))
    h, w = both.shape
    rows, cols = (np.arange(0, max(1, n - PATCH), stride) for n in (h, w))
    found = [_matched(a, b, int(y), cols) for y in rows]
    shifts, sure = np.array([f[0] for f in found]), np.array([f[1] for f in found])
    return _smoothed(shifts, sure, stride, (h, w))


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
FEW, MANY = 12, 60
"""Patches that are alike below which nothing is moved, and above which a curved surface is fitted, not a plane."""


def _smoothed(shifts: Array, sure: Array, stride: int, size: tuple[int, int]) -> NDArray[np.float32]:
    """(h, w, 2) shifts of a grid of patches, (k, l, 2), over the picture: a surface that most agree on, and what is
    left of it close by."""
    good = sure > ALIKE
    if good.sum() < FEW:
        return np.zeros((*size, 2), np.float32)
    rows, cols = (np.arange(n) * stride + PATCH / 2 for n in sure.shape)
    across, down = np.meshgrid(cols, rows)
    here = _powers(across, down, size)[..., : 10 if good.sum() >= MANY else 3]
    weight = np.where(good, sure**2, 0.0)
    for _ in range(8):
        root = np.sqrt(weight)[good][:, None]
        fit = np.linalg.lstsq(here[good] * root, shifts[good] * root, rcond=None)[0]
        off = np.hypot(*np.moveaxis(shifts - here @ fit, -1, 0))
        scale = max(0.12, 1.4826 * float(np.median(off[good])))
        weight = np.where(good, sure**2, 0.0) * np.clip(1 - (off / (4 * scale)) ** 2, 0, None) ** 2
    rest = np.where(weight[..., None] > 0, shifts - here @ fit, 0.0) * weight[..., None]
    wide = SPREAD / stride
    near = cv2.GaussianBlur(weight, (0, 0), wide) * 2 * np.pi * wide**2
    local = cv2.GaussianBlur(rest, (0, 0), wide) * 2 * np.pi * wide**2 / (near + 1.0)[..., None]
    # On the patches' grid, drawn out over the picture: the surface is smooth between them.
    y, x = np.mgrid[: size[0] : 8, : size[1] : 8].astype(np.float32)
    u, v = (x - PATCH / 2) / stride, (y - PATCH / 2) / stride
    coarse = cv2.remap(local.astype(np.float32), u, v, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
    coarse = coarse + (_powers(x, y, size)[..., : here.shape[-1]] @ fit).astype(np.float32)
    return np.asarray(cv2.resize(coarse, size[::-1], interpolation=cv2.INTER_LINEAR))


def _powers(x: Array, y: Array, size: tuple[int, int]) -> Array:
    """(..., 10) terms of a surface of third degree, the first three of a plane."""
    u, v = x / size[1] * 2 - 1, y / size[0] * 2 - 1
    return np.stack([np.ones_like(u), u, v, u * u, u * v, v * v, u**3, u * u * v, u * v * v, v**3], axis=-1)
