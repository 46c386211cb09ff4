"""How far off a traced piece may be, in mm, told before anything is known of the truth.

Three things add up: what the cards leave open of the view (by trying views that fit them as well), how rough the
outline is against a smoothed one, and where piece and ground look too alike for an edge to be seen.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray
from scipy.ndimage import gaussian_filter1d, map_coordinates, median_filter, uniform_filter1d

from vellumcut.core.trace.outline import Close
from vellumcut.core.trace.view.rigid import onto
from vellumcut.core.trace.view.solve import View, lens_of

Array = NDArray[np.float64]

OF_A_PIXEL, OVER_A_FLOOR = 0.15, 0.35
"""Pixels by which an edge is misread on the whole: over a floor that is known, contact shadows and what lies off by a
fraction of a pixel tell on all of it."""
TRIALS = 24
LEAST = 0.06
"""mm that nothing is better than: how flat paper and tape lie, and how true a printer is. (est.)"""
CARDS_LIE = 0.02
"""mm by which edges of a card on a floor miss, at best; the view is held to be no better known than that. (est.)"""
FAINT = 5.0
"""Spreads between piece and ground below which their edge is not seen."""
HIDDEN = (0.7, 8.0)
"""mm on the whole and anywhere that an outline may be off where a pattern hides part of it: what hides an edge hides
the tip of a slit, or a motif that hangs on the piece, just as well. Rendered cream paper on cream carpet was off by up
to 1.4 and 16."""
STRANGE = 8.0
"""Spreads by which the inside of an edge has another tint than the piece close by: it may be the ground's."""
LEAST_TIP = 2.4
"""mm by which the tip of a slit may be off along it: its last mm are thinner than a pixel, and tape or ink may run
on."""
RUN = 4.0
"""mm of an unsure stretch that is worth telling: shorter ones are where ink crosses the edge."""


@dataclass(frozen=True, eq=False)
class Sureness:
    """rms, worst: mm that the outline may be off, on the whole and anywhere. view, edge: what cards and edge add to it.
    unsure: (k, 2) index of stretches of the outline, first and last, that could not be seen well.
    """

    rms: float
    worst: float
    view: float
    edge: float
    unsure: tuple[tuple[int, int], ...] = ()


def sureness(from_view: float, close: Close, outline: Array, tips: Sequence[float] = ()) -> Sureness:
    """How sure an outline is, (n, 2) mm evenly spaced. from_view: mm that the view adds to it. tips: mm that the
    tip of each of its slits may be off along it."""
    rough = roughness(outline)
    runs, lengths = unseen(close, outline)
    edge = float(np.hypot(rough, (OF_A_PIXEL if close.under is None else OVER_A_FLOOR) * close.per))
    bulges = [_bulge(outline, run) for run in runs]
    whole = max(1.0, _length(outline))
    doubt = sum(far / whole * max(far / 6, 0.7 * out) ** 2 for far, out in zip(lengths, bulges, strict=True))
    # A slit that ends d too early leaves out two legs of d, which lie d / 2 off on the whole.
    doubt += sum(2 * d / whole * d**2 / 3 for d in tips)
    rms = float(np.sqrt(LEAST**2 + from_view**2 + edge**2 + doubt))
    at_tips = max((LEAST_TIP + d for d in tips), default=0.0)
    hidden = max((max(far / 2, 1.2 * out) for far, out in zip(lengths, bulges, strict=True)), default=0.0)
    worst = max(3.0 * rms + 0.35, at_tips, hidden)
    if runs and close.palette.patterned:
        rms, worst = max(rms, HIDDEN[0]), max(worst, HIDDEN[1])
    return Sureness(rms, worst, from_view, edge, tuple(runs))


def _bulge(outline: Array, run: tuple[int, int]) -> float:
    """mm by which a stretch leaves the straight line over it: what is not seen may as well lie there."""
    first, last = run[0], run[1] if run[1] >= run[0] else run[1] + len(outline)
    points = np.take(outline, np.arange(first - 3, last + 4), axis=0, mode="wrap")
    return float(shapely.distance(shapely.LineString(points[[0, -1]]), shapely.points(points)).max())


def view_error(view: View, outline: Array) -> float:
    """Root mean square by which a shape changes among views that fit the cards as well as the one that was found, mm.
    How it lies is not counted: a pattern may be laid anywhere.
    """
    some = outline[:: max(1, len(outline) // 160)]
    seen = view.lens.project(some)
    values, ways = np.linalg.eigh(view.covariance)
    factor = max(1.0, CARDS_LIE / max(view.residual(), 1e-4))
    luck = np.random.default_rng(11)
    square = []
    for _ in range(TRIALS):
        tried = view.unknowns + factor * (ways * np.sqrt(np.maximum(values, 0))) @ luck.normal(size=len(values))
        moved = lens_of(view.size, tried).unproject(seen)
        square.append(float(((onto(moved, some).place(moved) - some) ** 2).sum(axis=1).mean()))
    return float(np.sqrt(np.mean(square)))


def roughness(outline: Array) -> float:
    """mm by which an outline wanders about itself, smoothed over 4 mm; corners, where it turns, do not count."""
    step = _length(outline) / max(1, len(outline))
    smooth = gaussian_filter1d(outline, 2.0 / step, axis=0, mode="wrap")
    off = np.hypot(*(outline - smooth).T)
    return float(1.4826 * np.median(off))


def _length(outline: Array) -> float:
    return float(np.hypot(*np.diff(outline, axis=0, append=outline[:1]).T).sum())


def unseen(close: Close, outline: Array) -> tuple[list[tuple[int, int]], list[float]]:
    """Stretches of an outline where light does not change enough from inside to outside, and their lengths, mm."""
    step = _length(outline) / max(1, len(outline))
    along = np.roll(outline, -2, axis=0) - np.roll(outline, 2, axis=0)
    along /= np.maximum(np.hypot(*along.T), 1e-9)[:, None]
    out_of = np.column_stack([along[:, 1], -along[:, 0]]) * np.sign(_area(outline))
    sides = []
    for sign in (-1.0, 1.0):
        at = [close.pixels(outline + sign * far * out_of) for far in (0.7, 1.1, 1.5)]
        seen = [
            [map_coordinates(close.light[..., k], p[:, ::-1].T, order=1, mode="nearest") for k in range(3)] for p in at
        ]
        sides.append(np.mean(seen, axis=0).T)
    inside, outside = sides
    # A shadow across the piece must not count as spread: what is usual is what is usual close by.
    usual = median_filter(inside, size=(max(3, round(30.0 / step)), 1), mode="wrap")
    spread = 1.4826 * np.median(np.abs(inside - usual), axis=0) * 0.25 + 0.004
    differ = np.sqrt((((inside - outside) / spread) ** 2).sum(axis=1))
    gain = np.clip((inside * usual).sum(axis=1) / np.maximum((usual**2).sum(axis=1), 1e-6), 0.3, 3.0)
    strange = np.sqrt((((inside - gain[:, None] * usual) / spread) ** 2).sum(axis=1)) > STRANGE
    shaded = _in_shade(close, outside, usual, spread)
    bright = _shines(close, outline, out_of)
    # Between the legs of a slit there is no room to look outside.
    room = ~shapely.contains(shapely.Polygon(outline).buffer(0.3), shapely.points(outline + 1.5 * out_of))
    faint = (
        uniform_filter1d(
            ((differ < FAINT) | strange | shaded | bright).astype(float) * room, max(1, round(2.0 / step)), mode="wrap"
        )
        > 0.5
    )
    return _runs(faint, step)


def _in_shade(close: Close, outside: Array, usual: Array, spread: Array) -> NDArray[np.bool_]:
    """Where what lies outside an edge is the piece's own colour in another light, and none of the ground's: the edge is
    a shadow's."""
    gain = np.clip((outside * usual).sum(axis=1) / np.maximum((usual**2).sum(axis=1), 1e-6), 0.2, 3.0)
    as_piece = np.sqrt((((outside - gain[:, None] * usual) / spread) ** 2).sum(axis=1))
    as_ground = np.min(
        [np.sqrt((((outside - colour) / spread) ** 2).sum(axis=1)) for colour in close.palette.grounds], axis=0
    )
    return np.asarray((as_piece < 0.6 * FAINT) & (as_ground > 3 * FAINT))


SHINE = 0.93
"""Light above which a picture holds no colour any more."""


def _shines(close: Close, outline: Array, out_of: Array) -> NDArray[np.bool_]:
    """Where a shine lies over the rim: light at its brightest where this side of the rim is mostly darker. What looks
    like an edge there is the shine's own."""
    found = np.zeros(len(outline), bool)
    for sign in (-1.0, 1.0):
        most = np.zeros(len(outline))
        for far in (0.8, 2.5, 5.0, 8.0):
            p = close.pixels(outline + sign * far * out_of)
            most = np.maximum(most, map_coordinates(close.light[..., 0], p[:, ::-1].T, order=1, mode="nearest"))
        found |= (most > SHINE) & (float(np.median(most)) < SHINE - 0.1)
    return found


def _area(outline: Array) -> float:
    x, y = outline.T
    return float((x * np.roll(y, -1) - np.roll(x, -1) * y).sum() / 2)


def _runs(flags: NDArray[np.bool_], step: float) -> tuple[list[tuple[int, int]], list[float]]:
    """First and last index of stretches that are flagged and long enough, round the end too."""
    if flags.all():
        return [(0, len(flags) - 1)], [len(flags) * step]
    start = int(np.argmin(flags))
    turned = np.roll(flags, -start).astype(int)
    change = np.flatnonzero(np.diff(np.concatenate([[0], turned, [0]])))
    pairs = [(int(a), int(b)) for a, b in change.reshape(-1, 2) if (b - a) * step >= RUN]
    n = len(flags)
    return [((a + start) % n, (b - 1 + start) % n) for a, b in pairs], [(b - a) * step for a, b in pairs]
