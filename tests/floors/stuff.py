"""What floors and tapes look like: the share of red, green and blue light that they send back."""

from collections.abc import Callable

import cv2
import numpy as np

Albedo = np.ndarray
Luck = np.random.Generator


class Sheet:
    """A stretch of floor of wide x high mm, per pixels a mm."""

    def __init__(self, wide: float, high: float, per: float, luck: Luck) -> None:
        self.wide, self.high, self.per, self.luck = wide, high, per, luck
        self.shape = int(high * per), int(wide * per)

    def full(self, *colour: float) -> Albedo:
        return np.full((*self.shape, 3), colour, np.float32)

    def mottle(self, mm: float, mm_down: float | None = None) -> np.ndarray:
        """Smooth noise of spread 1 whose patches are so large."""
        down = mm_down or mm
        n = max(3, int(self.high / down) + 3), max(3, int(self.wide / mm) + 3)
        small = self.luck.standard_normal(n).astype(np.float32)
        return cv2.resize(small, self.shape[::-1], interpolation=cv2.INTER_LINEAR)

    def grid(self) -> tuple[np.ndarray, np.ndarray]:
        y, x = np.mgrid[: self.shape[0], : self.shape[1]].astype(np.float32)
        return x / self.per, y / self.per


def newspaper(s: Sheet) -> Albedo:
    out = s.full(0.56, 0.55, 0.50)
    p, column, y = s.per, 52.0, 4.0
    while y < s.high:
        heading = s.luck.random() < 0.07
        tall = s.luck.uniform(7, 12) if heading else 2.0
        for left in np.arange(3, s.wide, column):
            if not heading and s.luck.random() < 0.03:
                tone = s.luck.uniform(0.1, 0.4)
                a, b = (int(left * p), int(y * p)), (int((left + column - 6) * p), int((y + 30) * p))
                cv2.rectangle(out, a, b, (tone,) * 3, -1)
                continue
            x = left
            while x < left + column - 6:
                word = s.luck.uniform(2, 9) * (tall / 2 if heading else 1)
                for letter in np.arange(x, min(x + word, left + column - 6), 0.8 * tall):
                    if s.luck.random() < 0.8:
                        top = y + s.luck.uniform(0, 0.4) * tall
                        a = (int(letter * p), int(top * p))
                        b = (int((letter + 0.45 * tall) * p), int((y + 0.9 * tall) * p))
                        cv2.rectangle(out, a, b, (0.09, 0.09, 0.1), -1)
                x += word + 1.2 * tall / 2
        y += tall * 1.7
    return cv2.GaussianBlur(out, (0, 0), 0.4) * (1 + 0.03 * s.mottle(60))[..., None]


def loop_carpet(s: Sheet) -> Albedo:
    base = np.array(s.luck.choice([(0.13, 0.12, 0.11), (0.10, 0.14, 0.20), (0.20, 0.10, 0.07)]), np.float32)
    pile = 1 + 0.28 * s.mottle(1.7) + 0.12 * s.mottle(0.6) + 0.1 * s.mottle(18)
    flecks = (s.mottle(2.2) > 1.5)[..., None]
    return np.where(flecks, base * 2.4, base) * np.clip(pile, 0.25, 2)[..., None]


def planks(s: Sheet) -> Albedo:
    out, p, wide = s.full(0.34, 0.21, 0.11), s.per, s.luck.uniform(60, 120)
    for top in np.arange(-s.luck.uniform(0, wide), s.high, wide):
        rows = slice(max(0, int(top * p)), max(0, int((top + wide) * p)))
        out[rows] *= s.luck.uniform(0.6, 1.2)
        out[max(0, int(top * p)) : max(0, int((top + 1.2) * p))] = 0.02
        for _ in range(2):
            x, y = s.luck.uniform(0, s.wide), top + s.luck.uniform(10, wide - 10)
            cv2.ellipse(out, (int(x * p), int(y * p)), (int(9 * p), int(4 * p)), 0, 0, 360, (0.1, 0.05, 0.02), -1)
    grain = 0.16 * s.mottle(70, 1.1) + 0.1 * s.mottle(160, 5)
    return out * np.clip(1 + grain, 0.3, 2)[..., None]


def stone_tiles(s: Sheet) -> Albedo:
    out, n = s.full(0.42, 0.40, 0.37), s.luck.uniform(90, 170)
    for axis, size in ((0, s.wide), (1, s.high)):
        for at in np.arange(s.luck.uniform(0, n), size, n):
            band = slice(int(at * s.per), int((at + 4) * s.per))
            if axis == 0:
                out[:, band] = 0.16
            else:
                out[band] = 0.16
    return out * (1 + 0.05 * s.mottle(12) + 0.04 * s.mottle(2))[..., None]


def concrete(s: Sheet) -> Albedo:
    out = s.full(0.27, 0.265, 0.255) * (1 + 0.1 * s.mottle(40) + 0.07 * s.mottle(5) + 0.05 * s.mottle(0.7))[..., None]
    out[s.mottle(3) > 2.4] *= 0.4
    return out


def checked_cloth(s: Sheet) -> Albedo:
    x, y = s.grid()
    n = s.luck.uniform(14, 30)
    tone = 0.5 + 0.25 * ((x // n) % 2) + 0.25 * ((y // n) % 2)
    weave = 1 + 0.06 * np.sin(x * 2 * np.pi / 1.1) * np.sin(y * 2 * np.pi / 1.1)
    red = np.array([0.5, 0.08, 0.07], np.float32)
    white = np.array([0.62, 0.6, 0.57], np.float32)
    return (
        (white * (1 - tone[..., None]) + red * tone[..., None])
        * weave[..., None]
        * (1 + 0.03 * s.mottle(90))[..., None]
    )


def cardboard(s: Sheet) -> Albedo:
    x, _ = s.grid()
    flutes = 0.03 * np.sin(x * 2 * np.pi / 7.5)
    return s.full(0.38, 0.26, 0.15) * (1 + flutes + 0.04 * s.mottle(6, 40) + 0.04 * s.mottle(1))[..., None]


def terrazzo(s: Sheet) -> Albedo:
    out = s.full(0.48, 0.46, 0.42)
    for _ in range(int(s.wide * s.high / 60)):
        at = s.luck.uniform(0, (s.wide, s.high)) * s.per
        chip = at + s.luck.uniform(-3.2, 3.2, (6, 2)) * s.per
        tone = s.luck.choice([(0.1, 0.09, 0.09), (0.3, 0.16, 0.1), (0.62, 0.6, 0.55), (0.2, 0.22, 0.2)])
        cv2.fillConvexPoly(out, cv2.convexHull(chip.astype(np.int32)), tuple(tone.tolist()))
    return out


def dark_cloth(s: Sheet) -> Albedo:
    x, y = s.grid()
    tone = s.luck.choice([(0.03, 0.035, 0.05), (0.05, 0.09, 0.06), (0.09, 0.03, 0.035)])
    return s.full(*tone) * (1 + 0.12 * np.sin((x + y) * 2 * np.pi / 1.6) + 0.12 * s.mottle(70))[..., None]


def plain_sheet(s: Sheet) -> Albedo:
    tone = s.luck.choice([(0.16, 0.28, 0.42), (0.15, 0.34, 0.2), (0.45, 0.2, 0.22)])
    return s.full(*tone) * (1 + 0.05 * s.mottle(120, 50) + 0.02 * s.mottle(0.8))[..., None]


def cork(s: Sheet) -> Albedo:
    grain = 1 + 0.2 * s.mottle(3.5) + 0.1 * s.mottle(1.2)
    out = s.full(0.36, 0.22, 0.12) * np.clip(grain, 0.3, 2)[..., None]
    out[s.mottle(2.6) > 1.7] *= 0.45
    return out


def woven_rug(s: Sheet) -> Albedo:
    x, y = s.grid()
    dyes = np.array([(0.3, 0.05, 0.04), (0.05, 0.08, 0.2), (0.5, 0.4, 0.26), (0.08, 0.16, 0.1)], np.float32)
    n = s.luck.uniform(35, 60)
    u, v = np.mod(x, n) / n - 0.5, np.mod(y, 1.4 * n) / (1.4 * n) - 0.5
    ring = np.floor((np.abs(u) + np.abs(v)) * 7).astype(int)
    return dyes[ring % 4] * np.clip(1 + 0.18 * s.mottle(1.1) + 0.06 * s.mottle(30), 0.3, 2)[..., None]


KINDS = (
    newspaper, loop_carpet, planks, stone_tiles, concrete, checked_cloth,
    cardboard, terrazzo, dark_cloth, plain_sheet, cork, woven_rug,
)  # fmt: skip
FLOORS: dict[str, Callable[[Sheet], Albedo]] = {f.__name__: f for f in KINDS}
PLAIN = ("concrete", "cardboard", "dark_cloth", "plain_sheet")
"""Floors without a pattern to speak of."""

TAPES: dict[str, tuple[float, float, float]] = {
    "white tape": (0.74, 0.74, 0.71),
    "silver tape": (0.42, 0.43, 0.45),
    "tan tape": (0.60, 0.42, 0.23),
    "brown paper": (0.33, 0.21, 0.12),
    "black tape": (0.035, 0.035, 0.04),
    "blue tape": (0.06, 0.17, 0.42),
    "yellow tape": (0.66, 0.50, 0.06),
    "pale paper": (0.64, 0.60, 0.50),
}


def too_alike(floor: Albedo, tape: tuple[float, float, float]) -> bool:
    """Whether a tape can hardly be told from a floor by anyone: nearly all of it has that colour."""
    some = floor[::40, ::40].reshape(-1, 3)
    off = np.abs(np.log(some + 0.02) - np.log(np.array(tape) + 0.02)).max(axis=1)
    return bool(np.mean(off < 0.22) > 0.5)
