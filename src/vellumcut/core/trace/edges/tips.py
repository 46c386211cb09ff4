"""Where a slit ends: what its pixels lack of the piece, added up across it, is its width, however much the picture is
blurred. Against its length that is a straight line that comes to nothing at the tip: a hinge is fitted to it, and how
loosely it fits says how far the tip may be off.

Rows that ink crosses say nothing, and are left out: a slit is followed across a stroke.
"""

from dataclasses import dataclass, replace

import cv2
import numpy as np
import shapely
from numpy.typing import NDArray
from scipy.ndimage import uniform_filter1d

from vellumcut.core.trace.edges.slits import NARROWS, Legs, Notch, legs_between, legs_of, notches, width_of
from vellumcut.core.trace.outline import Close

Array = NDArray[np.float64]

STEP = 0.2
"""mm between rows."""
BEHIND, AHEAD = 25.0, 80.0
"""mm behind and ahead of where the outline turns that are looked at."""
ACROSS = 4.5
"""mm to both sides of its axis: the slit, and the piece beside it, which tells how much of nothing looks like some."""
HALF = 0.9
"""mm to both sides of the axis that are added up, where a slit is narrow."""
WIDE = 2.2
"""mm of the width up to which legs are straight."""
SEEN = 0.6
"""mm across at which an opening is seen by anyone: its tip cannot be farther off than where it is so wide."""
NOISY = 4.0
"""Spreads of noise in a width at which an opening is seen by anyone, where that is more."""
GONE = 0.1
"""mm of width, over 2.5 mm of length, at which a slit is taken to have ended."""


@dataclass(frozen=True, eq=False)
class Tip:
    """at: mm. way: unit vector from the mouth. off: mm along the slit that it may be off. angle: degrees between its
    legs there."""

    at: Array
    way: Array
    off: float
    angle: float


@dataclass(frozen=True, eq=False)
class Slit:
    """A dart cut open. tip: mm. deep: mm from there to the middle of its mouth. angle: degrees between its legs. off:
    mm along it that its tip may be off."""

    tip: Array
    deep: float
    angle: float
    off: float


def tip_of(close: Close, notch: Notch, legs: Legs) -> Tip | None:
    """Where a slit ends; None where nothing says it."""
    aside = np.array([-notch.way[1], notch.way[0]])
    middle, slope = sum(legs.offsets) / 2, sum(legs.slopes) / 2
    found = None
    for _ in range(4):
        way = notch.way + slope * aside
        way = way / np.hypot(*way)
        origin = notch.tip + aside * middle
        rows = _rows(close, origin, way)
        if rows is None:
            return None
        hinge = _hinge(rows)
        if hinge is None:
            return found
        found = Tip(origin + way * hinge.end, way, hinge.off, float(np.degrees(2 * np.arctan(hinge.opening / 2))))
        shift, turn = _axis(rows, hinge)
        middle, slope = middle + shift, slope + turn
    return found


@dataclass(frozen=True, eq=False)
class _Rows:
    """along: (n,) mm. width: (n,) mm that is lacking; noise: mm of it that is chance. off: (n,) mm from the axis to the
    middle of what is lacking. says: (n,) whether a row says anything."""

    along: Array
    width: Array
    noise: float
    off: Array
    says: NDArray[np.bool_]


def _rows(close: Close, origin: Array, way: Array) -> _Rows | None:
    along = np.arange(-BEHIND, AHEAD, STEP)
    across = np.arange(-ACROSS, ACROSS + 0.01, 0.1)
    aside = np.array([-way[1], way[0]])
    at = close.pixels(origin + along[:, None, None] * way + across[:, None] * aside).astype(np.float32)
    lacking = cv2.remap(close.lacking, at[..., 0], at[..., 1], cv2.INTER_LINEAR, borderValue=1.0)
    drawn = cv2.remap(close.drawn, at[..., 0], at[..., 1], cv2.INTER_LINEAR, borderValue=0.0)
    slit, beside = np.abs(across) < HALF, (np.abs(across) > 1.6) & (np.abs(across) < 1.6 + HALF)
    ends = np.flatnonzero((lacking[:, beside].mean(axis=1) > 0.25) & (along > 1.0))
    last = int(ends[0]) if len(ends) else len(along)
    # Behind, where it is wider than what is added up, the legs are known already.
    narrow = (lacking[:, np.abs(np.abs(across) - HALF) < 0.15].mean(axis=1) < 0.3) | (along > 0)
    says = (drawn[:, slit].max(axis=1) < 0.2) & narrow & (np.arange(len(along)) < last)
    if says.sum() < 20:
        return None
    width = lacking[:, slit].sum(axis=1) * 0.1
    nothing = np.median(lacking[says][:, beside].mean(axis=1)) * slit.sum() * 0.1
    sides = [lacking[says][:, beside & (np.sign(across) == s)].sum(axis=1) * 0.1 for s in (-1, 1)]
    noise = max(0.02, float(np.median([1.4826 * np.median(np.abs(x - np.median(x))) for x in sides])) * 1.4)
    weight = np.clip(lacking[:, slit] - 0.05, 0, None)
    off = (weight * across[slit]).sum(axis=1) / np.maximum(weight.sum(axis=1), 1e-6)
    return _Rows(along, width - nothing, noise, off, says)


@dataclass(frozen=True)
class _Hinge:
    """end: mm along. opening: mm of width for each of length. off: mm that the end may be off."""

    end: float
    opening: float
    off: float


def _hinge(rows: _Rows) -> _Hinge | None:
    soft = uniform_filter1d(np.where(rows.says, rows.width, 0.0), round(2.5 / STEP)) / np.maximum(
        uniform_filter1d(rows.says.astype(float), round(2.5 / STEP)), 0.05
    )
    known = uniform_filter1d(rows.says.astype(float), round(2.5 / STEP)) > 0.3
    gone = np.flatnonzero(known & (soft < max(GONE, 2 * rows.noise / 3)) & (rows.along > -12))
    end = float(rows.along[gone[0]]) if len(gone) else float(rows.along[-1])
    use = rows.says & (rows.along < end + 12) & (rows.along > end - 28) & (rows.width < WIDE)
    if use.sum() < 25 or (use & (rows.along < end)).sum() < 10:
        return None
    t, w = rows.along[use], np.clip(rows.width[use], -0.3, None)
    ends = np.arange(end - 12, end + 12, 0.1)
    arms = np.clip(ends[:, None] - t, 0, None)
    opening = (arms * w).sum(axis=1) / np.maximum((arms**2).sum(axis=1), 1e-9)
    miss = np.minimum(np.abs(w - opening[:, None] * arms), 4 * rows.noise)
    cost = (miss**2).sum(axis=1)
    best = int(np.argmin(cost))
    spread = max(rows.noise**2, float(cost[best]) / len(t))
    # Rows lie closer than the picture's pixels and its blur: one in four is news.
    near = ends[cost < cost[best] + 4 * 4 * spread]
    if opening[best] < 0.008:
        return None
    off = float(max(near[-1] - ends[best], ends[best] - near[0]))
    return _Hinge(
        float(ends[best]), float(opening[best]), min(off, max(SEEN, NOISY * rows.noise) / float(opening[best]))
    )


def _axis(rows: _Rows, hinge: _Hinge) -> tuple[float, float]:
    """mm aside, and mm aside for each along, by which the middle of the slit leaves the axis."""
    use = rows.says & (rows.along < hinge.end - 0.5) & (rows.along > hinge.end - 25) & (rows.width > 3 * rows.noise)
    if use.sum() < 15:
        return 0.0, 0.0
    slope, start = np.polyfit(rows.along[use], rows.off[use], 1, w=np.sqrt(rows.width[use]))
    return float(start), float(np.clip(slope, -0.2, 0.2))


BESIDE = 2.5
"""mm from its axis beyond which nothing is a slit's own."""
KEPT = 0.5
"""mm from its axis beyond which a slit's own legs are kept; nearer they are drawn straight to the tip."""


def drawn_to(outline: Array, notch: Notch, tip: Tip) -> Array:
    """The outline with a slit's last stretch drawn straight to its tip."""
    aside = np.array([-tip.way[1], tip.way[0]])
    count = len(outline)
    gone = []
    for step in (-1, 1):
        for k in range(min(count // 2, 600)):
            at = outline[(notch.at + step * k) % count] - tip.at
            behind, beside = -float(at @ tip.way), abs(float(at @ aside))
            if beside > BESIDE or (behind > 1.0 and beside > KEPT * min(1.0, behind / 4)):
                break
            gone.append((notch.at + step * k) % count)
    order = np.roll(np.arange(count), -notch.at)
    rest = order[~np.isin(order, gone)]
    return np.vstack([outline[rest], tip.at])


def to_tips(close: Close, outline: Array) -> tuple[Array, list[Tip]]:
    """The outline with each slit drawn on to where it ends, and those ends."""
    tips = []
    for seen in notches(outline):
        notch = seen.on(outline)
        tip = _first_tip(close, outline, notch)
        if tip is None:
            continue
        drawn = drawn_to(outline, notch, tip)
        if shapely.LinearRing(drawn).is_simple or not shapely.LinearRing(outline).is_simple:
            outline = drawn
        else:
            tip = Tip(notch.tip, notch.way, tip.off + float(np.hypot(*(tip.at - notch.tip))), tip.angle)
        tips.append(tip)
    return outline, [_no_surer(tip, outline) for tip in tips]


STRETCHES = (1.2, 9.0), (2.0, 24.0), (5.0, 30.0)
"""mm from where an outline turns that tell which way a slit runs: close by, and farther back where what is close by is
rough."""


CONTRARY, ALIKE = 0.35, 1.25
"""Of the angle between a slit's legs, by how much less it may open near its tip, where its legs are as good as straight
all along (openings alike): else what is seen beyond them is a shade of the piece."""


def _first_tip(close: Close, outline: Array, notch: Notch) -> Tip | None:
    ways = [x for first, last in STRETCHES if (x := legs_of(outline, notch, first, last, 0.0)) is not None]
    tips = [tip for x in ways if (tip := tip_of(close, notch, x)) is not None]
    legs = [x for x in ways if x.opening > NARROWS]
    opens = [float(np.degrees(2 * np.arctan(x.opening / 2))) for x in legs]
    straight = len(opens) == len(STRETCHES) and max(opens) < ALIKE * min(opens)
    if straight and all(tip.angle < CONTRARY * min(opens) for tip in tips):
        tips = []
    seen = (tip for tip in tips if tip.angle < WIDEST_ANGLE and _inside(outline, notch, tip))
    return next(seen, None) or _where_they_meet(outline, notch, legs)


UNSEEN = 3.0
"""mm past where a slit's line ends, at most, that its legs are drawn on where nothing else says how far it goes."""


def _where_they_meet(outline: Array, notch: Notch, legs: list[Legs]) -> Tip | None:
    """The tip of a slit whose end says nothing, from its legs alone; None of what is no slit."""
    walks = legs_between(outline, notch.at, 0.0, 0.8 * notch.deep)
    if not legs and (walks is None or notch.deep < LONG or width_of(walks, LONG) > THIN):
        return None
    opening = legs[0].opening if legs else THIN / LONG
    ahead = float(np.clip(legs[0].meet, 0.0, UNSEEN)) if legs else 0.0
    angle = float(np.degrees(2 * np.arctan(opening / 2)))
    if angle > WIDEST_ANGLE:
        return None
    left = abs(legs[0].meet - ahead) if legs else SEEN / opening
    return Tip(notch.tip + ahead * notch.way, notch.way, min(left + 0.5, SEEN / opening), angle)


LONG, THIN = 10.0, 2.0
"""mm of length over which a notch is no wider than that where it is a slit, though its legs do not seem to meet."""


def _inside(outline: Array, notch: Notch, tip: Tip) -> bool:
    """Whether a tip lies in the piece, and the way to it from where its slit is seen does not leave it."""
    way = shapely.LineString([notch.tip + 2.0 * notch.way, tip.at])
    ahead = float((tip.at - notch.tip) @ notch.way)
    return ahead < 2.0 or bool(shapely.Polygon(outline).buffer(0).contains(way))


WIDEST_ANGLE = 60.0
"""Degrees between two legs above which a corner is no slit."""
UNKNOWN = 0.075
"""mm of width that nothing tells: a slit of 1.5 degrees is so wide 3 mm before its tip, and below that is asked about.
Held against 108 slits on plain floors, whose tips were off by up to 2.3 mm at 1.1 to 2 degrees where their hinge
told 0.6."""
SHALLOWEST = 7.0
"""mm of the shallowest slit."""
BOW = 0.6, 0.03
"""mm, and mm for each mm of length, that a leg may bow; where it leaves a straight line farther, the slit's mouth
is."""


def slits_of(outline: Array, tips: list[Tip]) -> tuple[Slit, ...]:
    """The slits of a finished outline, (n, 2) mm evenly spaced, deep to their mouths."""
    out = []
    for tip in tips:
        deep = float(np.hypot(*(mouth_of(outline, tip.at) - tip.at)))
        if deep >= SHALLOWEST:
            out.append(Slit(tip.at, deep, _between_legs(outline, tip.at), tip.off))
    return tuple(out)


def _between_legs(outline: Array, tip: Array) -> float:
    """Degrees between the whole legs of a slit that ends at a point of an outline: what is added up across it near its
    tip loses a part of wide ones."""
    a, b = _mouth(outline, tip) - tip
    return float(np.degrees(abs(np.arctan2(a[0] * b[1] - a[1] * b[0], a @ b))))


def _no_surer(tip: Tip, outline: Array) -> Tip:
    """A tip as it was read, no surer than the width of its slit allows."""
    opening = 2 * float(np.tan(np.radians(_between_legs(outline, tip.at)) / 2))
    return replace(tip, off=max(tip.off, min(SHALLOWEST, UNKNOWN / max(opening, 1e-6))))


def mouth_of(outline: Array, tip: Array) -> Array:
    """The middle of where a slit opens that ends at a point of an outline, mm."""
    return np.asarray(_mouth(outline, tip).mean(axis=0))


def _mouth(outline: Array, tip: Array) -> Array:
    """(2, 2) mm, where the legs of a slit end that meet at a point of an outline."""
    k = int(np.argmin(np.hypot(*(outline - tip).T)))
    return np.array([_leg_end(outline, k, -1), _leg_end(outline, k, 1)])


def _leg_end(outline: Array, k: int, step: int) -> Array:
    """Where a leg that starts at a point of an outline stops being straight."""
    leg = np.take(outline, k + step * np.arange(min(len(outline) // 2, 400)), axis=0, mode="wrap")
    for n in range(8, len(leg), 2):
        chord = leg[n] - leg[0]
        long = float(np.hypot(*chord))
        off = np.abs((leg[:n] - leg[0]) @ np.array([-chord[1], chord[0]])) / max(long, 1e-9)
        if off.max() > BOW[0] + BOW[1] * long:
            # The corner itself is where it leaves the chord farthest.
            return np.asarray(leg[int(np.argmax(off))])
    return np.asarray(leg[-1])
