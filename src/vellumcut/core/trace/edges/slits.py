"""Darts cut open: notches that narrow to a tip. A coarse look loses them where they get thin; here each is followed."""

from dataclasses import dataclass, replace

import cv2
import numpy as np
import shapely
from numpy.typing import NDArray
from scipy.ndimage import maximum_filter1d

from vellumcut.core.trace.ground import Mask
from vellumcut.core.trace.outline import INK_RIM, SHADES, Close, blends, rims

Array = NDArray[np.float64]

NARROW = 14.0
"""mm across below which an inward corner of an outline is a slit."""
SHORTEST = 7.0
"""mm of the shortest slit."""
SOLID = 0.4
"""Share of the piece in a pixel up to which it is ink where a slit runs on over a patterned ground: half of black ink
on white is a ground's grey."""
AHEAD, ASIDE = 14.0, 3.0
"""mm ahead of a tip, and to its sides, that are looked at each time."""
LEG = 12.0
"""mm of each leg that tell where they meet."""
TO_MOUTH = 0.75
"""Of a notch's depth, up to which its legs are asked for: near its mouth they turn away."""
NARROWS = 0.02
"""mm of width for each mm of length below which legs do not seem to meet."""
WIDEST = 1.2
"""mm of width for each mm of length above which a corner is no slit."""
SIDES = 0.8
"""mm beside its legs that a slit may still be wide."""
ROUNDS = ((6.0, -2.0), (6.0, -1.0), (3.0, 1.5))
"""A slit is followed from afar, where its end is still blunt, and at last from close by: mm that tell how sharply a
corner turns, and mm past where the legs meet that it is followed, since legs bow, and ink or the edge of a tape may run
on from a tip."""


TURN = 3.0
"""mm to both sides of a corner that tell how sharply it turns, as a rule."""


@dataclass(frozen=True, eq=False)
class Notch:
    """A narrow inward corner. tip: mm. way: unit vector, from its mouth to its tip. deep: mm. at: index in the
    outline."""

    tip: Array
    way: Array
    deep: float
    at: int

    def on(self, outline: Array) -> "Notch":
        """It, on an outline that has been drawn anew elsewhere: its place among the points is another."""
        return replace(self, at=int(np.argmin(np.hypot(*(outline - self.tip).T))))


def notches(outline: Array, turn: float = TURN, shortest: float = SHORTEST - 1) -> list[Notch]:
    """Narrow inward corners of an outline, (n, 2) mm. turn: mm to both sides that tell how sharply it turns. shortest:
    mm of what is told from a rough edge."""
    ring = shapely.LinearRing(outline)
    found = (_notch(outline, k) for k in turns(outline, ring.length, ring.is_ccw, turn))
    return [n for n in found if n is not None and n.deep >= shortest]


SHARP = np.radians(75)


def turns(outline: Array, length: float, ccw: bool, turn: float) -> list[int]:
    """Indices where an outline turns back into itself: the sharpest place of each such corner. length: mm of all of it.
    ccw: whether it runs so round its inside; of the contrary, where it runs out to a point is found."""
    k = max(1, round(turn * len(outline) / length))
    before, after = np.roll(outline, k, axis=0) - outline, np.roll(outline, -k, axis=0) - outline
    cross = before[:, 0] * after[:, 1] - before[:, 1] * after[:, 0]
    angle = np.arctan2(np.abs(cross), (before * after).sum(axis=1))
    inward = (cross > 0) if ccw else (cross < 0)
    sharp = np.where(inward, np.clip(SHARP - angle, 0, None), 0.0)
    peaks = (sharp > 1e-3) & (sharp >= maximum_filter1d(sharp, 2 * k + 1, mode="wrap"))
    return [int(p) for p in np.flatnonzero(peaks)]


def _notch(outline: Array, at: int) -> Notch | None:
    legs = legs_between(outline, at, 1.0, LEG)
    if legs is None:
        return None
    along = outline[at] - np.concatenate(legs).mean(axis=0)
    walks = legs_between(outline, at, 0.0, 150.0)
    deep = next((far for far in np.arange(4.0, 140.0, 2.0) if width_of(walks, far) > NARROW), 140.0) if walks else 0.0
    return Notch(outline[at], along / max(1e-9, float(np.hypot(*along))), deep, at)


def legs_between(outline: Array, at: int, start: float, end: float) -> tuple[Array, Array] | None:
    """Points of the outline to both sides of a place, between two distances along it, mm."""
    out = []
    for step in (-1, 1):
        walk = np.take(outline, range(at, at + step * min(len(outline) // 2, 400), step), axis=0, mode="wrap")
        far = np.concatenate([[0], np.cumsum(np.hypot(*np.diff(walk, axis=0).T))])
        leg = walk[(far >= start) & (far <= end)]
        if len(leg) < 4:
            return None
        out.append(leg)
    return out[0], out[1]


@dataclass(frozen=True)
class Legs:
    """Two straight lines along a notch's way: aside = offset + slope x ahead, mm from its tip."""

    slopes: tuple[float, float]
    offsets: tuple[float, float]

    @property
    def opening(self) -> float:
        """mm of width for each mm of length."""
        return abs(self.slopes[0] - self.slopes[1])

    @property
    def meet(self) -> float:
        """mm ahead of the tip at which they meet."""
        return (self.offsets[1] - self.offsets[0]) / (self.slopes[0] - self.slopes[1])

    def between(self, ahead: Array, aside: Array, margin: float) -> NDArray[np.bool_]:
        a, b = (o + s * ahead for s, o in zip(self.slopes, self.offsets, strict=True))
        return np.asarray((aside > np.minimum(a, b) - margin) & (aside < np.maximum(a, b) + margin))


def legs_of(outline: Array, notch: Notch, start: float, end: float, least: float = NARROWS) -> Legs | None:
    """The legs of a notch between two distances from its tip, mm; None where they do not narrow to a tip. least: mm of
    width for each of length that they do."""
    legs = legs_between(outline, notch.at, start, min(end, TO_MOUTH * notch.deep))
    if legs is None:
        return None
    if any(float(np.median((leg - notch.tip) @ notch.way)) > -start / 2 for leg in legs):
        return None
    aside = np.array([-notch.way[1], notch.way[0]])
    (s1, a), (s2, b) = (np.polyfit((leg - notch.tip) @ notch.way, (leg - notch.tip) @ aside, 1) for leg in legs)
    out = Legs((float(s1), float(s2)), (float(a), float(b)))
    return out if least < out.opening < WIDEST else None


def followed(close: Close) -> Close:
    """A piece with its slits followed to their tips."""
    now = replace(close, share=close.share.copy())
    for turn, past in ROUNDS:
        lines = rims(now, 40.0)
        for notch in notches(lines[0], turn) if lines else ():
            legs = legs_of(lines[0], notch, 1.5, LEG) or legs_of(lines[0], notch, 3.0, 2 * LEG)
            if legs is not None and legs.meet < 60:
                _follow(now, notch, legs, legs.meet + past)
    return now


def _follow(close: Close, notch: Notch, legs: Legs, limit: float) -> None:
    """Open a slit ahead of its tip, as far as it shows and its legs allow. Changes the shares."""
    tip, gone = notch.tip, 0.0
    aside = np.array([-notch.way[1], notch.way[0]])
    for _ in range(10):
        window, x, y = _patch(close, tip + notch.way * AHEAD / 2, AHEAD + 10)
        along = (x - tip[0]) * notch.way[0] + (y - tip[1]) * notch.way[1]
        across = (x - tip[0]) * aside[0] + (y - tip[1]) * aside[1]
        share, light = close.share[window], close.light[window]
        strip = (along > -2.0) & (along < min(AHEAD, limit - gone)) & legs.between(along + gone, across, SIDES)
        inside = (share < 0.25) & (along < 0) & (along > -16) & (np.abs(across) < 8)
        beside = (share > 0.9) & (np.abs(across) > ASIDE) & (np.abs(across) < 9) & (along > -6)
        if inside.sum() < 8 or beside.sum() < 20:
            return
        piece, ground = np.median(light[beside], axis=0), np.median(light[inside], axis=0)
        weight = 1 / (light[beside].var(axis=0) + light[inside].var(axis=0) * 0.25 + 2e-5)
        blend = np.ones(share.shape, np.float32)
        half_inked = SOLID if close.palette.patterned else INK_RIM
        below = ground if close.under is None else close.under[window][strip]
        blend[strip], _ = blends(
            light[strip], piece, below, weight, close.palette, rims=half_inked, under=close.under is not None
        )
        blend = cv2.GaussianBlur(blend, (0, 0), 0.7)
        share[strip] = np.minimum(share[strip], blend[strip])
        moved = _reached(share, strip | (share < 0.5), along, across)
        if moved < 0.5:
            return
        tip, gone = tip + notch.way * moved, gone + moved
        if gone >= limit - 0.3:
            return


def _patch(close: Close, middle: Array, reach: float) -> tuple[tuple[slice, slice], Array, Array]:
    h, w = close.share.shape
    a = np.clip(np.floor(close.pixels(middle - reach)).astype(int), 0, (w, h))
    b = np.clip(np.ceil(close.pixels(middle + reach)).astype(int), 0, (w, h))
    cols, rows = np.meshgrid(np.arange(a[0], b[0]), np.arange(a[1], b[1]))
    places = close.corner[:, None, None] + (np.stack([cols, rows]) + 0.5) * close.per
    return (slice(a[1], b[1]), slice(a[0], b[0])), places[0], places[1]


def _reached(share: NDArray[np.float32], where: Mask, along: Array, across: Array) -> float:
    """mm ahead of the tip to which the opening runs on from behind it without a break."""
    opened = np.asarray((share < 0.5) & where & (np.abs(across) < 6), np.uint8)
    _, label = cv2.connectedComponents(opened, connectivity=8)
    behind = np.unique(label[(opened > 0) & (along < 0) & (along > -4)])
    mine = np.isin(label, behind) & (opened > 0) & (along > 0)
    return float(along[mine].max()) if mine.any() else 0.0


PEN = 2.8
"""mm of the widest stroke of a pen."""
INKY = 0.25
"""Of the light that a piece sends back, below which a known floor in its deepest shade may be taken for ink."""
BLUNT = 0.7
"""mm across of what is no tip."""
EVEN = 1.35
"""How much wider a stroke may be at one end than at the other."""
FLARES = 1.4
"""mm by which a stroke's mouth is wider 2 mm on: legs of 40 degrees come apart as fast."""
PINCHED, PINCHED_BY = 0.7, 6
"""What narrows to this share of its width again, within 3 mm, is no slit but what is left of a stroke beside one."""
STUB = 2.0
"""mm of the shortest stroke that is told from a rough edge."""


def without_ink(close: Close, outline: Array) -> Array:
    """The outline without strokes of ink that run into it: notches as wide at their end as at their mouth, over a floor
    that may look like ink."""
    for seen in notches(outline, shortest=STUB):
        notch = seen.on(outline)
        walks = legs_between(outline, notch.at, 0.0, 45.0) if _like_ink(close, notch) else None
        back = None if walks is None else _stroke(walks)
        if walks is None or back is None:
            continue
        near = [int(np.argmin(np.abs(_run(w) - back))) for w in walks]
        gone = np.arange(notch.at - near[0] + 1, notch.at + near[1]) % len(outline)
        outline = np.delete(outline, gone, axis=0)
    return outline


def _stroke(walks: tuple[Array, Array]) -> float | None:
    """mm along both legs of a notch to past a stroke's mouth; None where it opens like a slit."""
    far = np.arange(1.0, 40.0, 0.5)
    width = np.array([width_of(walks, x) for x in far])
    neck = int(np.argmin(width[:PINCHED_BY]))
    pinched = bool(width[neck] < PINCHED * width[0])
    usual = float(width[0]) if pinched else float(np.median(width[:3]))
    if not pinched and not BLUNT < usual < PEN:
        return None
    wide = neck + np.flatnonzero(width[neck:] > min(PEN, EVEN * usual))
    mouth = int(wide[0]) if len(wide) else len(far) - 1
    # At its mouth a stroke flares, by about its own width; a slit is as wide there as its legs have come apart.
    flares = width[min(mouth + 4, len(far) - 1)] - width[mouth] > FLARES
    return float(far[mouth]) + usual if flares or pinched else None


def _like_ink(close: Close, notch: Notch) -> bool:
    if close.under is None:
        return True
    x, y = np.clip(np.round(close.pixels(notch.tip)).astype(int), 0, np.array(close.share.shape[::-1]) - 1)
    beside = (slice(max(0, y - 20), y + 21), slice(max(0, x - 20), x + 21))
    dark = np.quantile(close.under[beside][..., 0], 0.1)
    return bool(SHADES[-1] * dark < INKY * np.quantile(close.light[beside][..., 0], 0.8))


def _run(walk: Array) -> Array:
    return np.concatenate([[0], np.cumsum(np.hypot(*np.diff(walk, axis=0).T))])


def width_of(walks: tuple[Array, Array], far: float) -> float:
    """mm between two legs, so far along each."""
    a, b = (np.array([np.interp(far, _run(w), w[:, j]) for j in (0, 1)]) for w in walks)
    return float(np.hypot(*(a - b)))
