"""From the trunk's measures to one smooth tube from hip to neck base, with armholes.

Below the armpits the rings are level superellipses scaled to their girth, with bust fullness as two smooth bumps;
above, every column runs from the chest over the shoulder to the neck, so the shoulder slope is part of the tube.
"""

import itertools
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
from numpy.typing import ArrayLike, NDArray
from scipy.ndimage import gaussian_filter1d
from scipy.optimize import brentq

from vellumcut.core.body.rings import even_rings
from vellumcut.core.body.splines import shape_preserving
from vellumcut.core.body.torso import (
    ARMPIT,
    BUST,
    FLAT_CHEST,
    TORSO_STATIONS,
    UNDERBUST,
    Posture,
    TorsoSizes,
)  # fmt: skip
from vellumcut.core.body.tube import lengths
from vellumcut.core.cast.trunk_tube import TrunkTube, tape_lengths, with_armhole
from vellumcut.core.errors import CraftError

Array = NDArray[np.float64]

COLUMNS = 160
LEVEL_STEP = 8.0
BELOW_HIP, UNDER_THE_SEAT = 120.0, 0.955
"""How far the tube goes on below the hip, mm, and its width there in shares of the hip's (est.)."""
TOP_ROWS = 14
ROUNDS = 10
CLOSE_ENOUGH, LENGTH_TOLERANCE = 0.6, 3.0
"""mm."""
ARMPIT_SHARES = (1.0, 0.92, 0.85, 1.08, 0.78)
"""How far a guessed armpit height may give way to lengths that were measured, tried in turn."""
_T = np.linspace(0, 2 * np.pi, 720, endpoint=False)
"""Parameter of every ring: 0 at the front, a quarter turn at the wearer's left."""
_SIN, _COS = np.sin(_T), np.cos(_T)


@dataclass(frozen=True)
class _Heights:
    """z in mm over the waist."""

    bust: float
    nape: float
    pit: float


def build_trunk(sizes: TorsoSizes) -> TrunkTube:
    """The tube of a trunk, every girth met, lengths found by stepping the heights until the tape would agree.

    The last few are kept: every screen asks for the same trunk. Raises CraftError when the measures contradict each
    other.
    """
    rows = (tuple(sorted(d.items())) for d in (sizes.girths, sizes.lengths))
    return _built(*rows, sizes.posture, sizes.guessed)


@lru_cache(maxsize=16)
def _built(
    girths: tuple[tuple[str, float], ...],
    lengths: tuple[tuple[str, float], ...],
    posture: Posture,
    guessed: tuple[str, ...],
) -> TrunkTube:
    sizes = TorsoSizes(dict(girths), dict(lengths), posture, guessed)
    shares = ARMPIT_SHARES if "waist to armpit" in sizes.guessed else (1.0,)
    for share in shares:
        armpit = sizes.lengths["waist to armpit"] * share
        tried = replace(sizes, lengths={**sizes.lengths, "waist to armpit": armpit})
        tube, off = _step_to(tried)
        if not _unmet(sizes, off):
            return with_armhole(tube, sizes.girths["armhole"])
    name, miss = _unmet(sizes, off)[0]
    raise CraftError(
        f"The {name} of {sizes.lengths[name]:.0f} mm does not go with the other lengths "
        f"({abs(miss):.0f} mm too {'long' if miss > 0 else 'short'}): measure it and the waist to armpit again",
        f"torso.{name}",
    )


def _step_to(sizes: TorsoSizes) -> tuple[TrunkTube, Array]:
    """Step the heights of bust, nape and throat until the tape agrees; the tube and what is still missing, mm."""
    want = sizes.lengths
    wanted = np.array([want["back length"], want["front length"], want["bust point drop"]])
    heights = _Heights(want["waist to armpit"] - 35, want["back length"] - 8, want["front length"] - 15)
    for _ in range(ROUNDS):
        tube = _shape(sizes, heights)
        off = wanted - tape_lengths(tube)
        if np.abs(off).max() < CLOSE_ENOUGH:
            break
        moved = _possible(sizes, _Heights(heights.bust - 0.9 * off[2], heights.nape + off[0], heights.pit + off[1]))
        if moved == heights:
            break
        heights = moved
    return tube, off


def _unmet(sizes: TorsoSizes, off: Array) -> list[tuple[str, float]]:
    """Measured lengths that no height of neck or bust gives; a guessed one gives way."""
    names = ("back length", "front length", "bust point drop")
    return [(n, m) for n, m in zip(names, off, strict=True) if abs(m) > LENGTH_TOLERANCE and n not in sizes.guessed]


def _possible(sizes: TorsoSizes, heights: _Heights) -> _Heights:
    """Hold the heights in the order of a body: waist, bust, armpit, pit of the throat, nape."""
    armpit, lowest = sizes.lengths["waist to armpit"], 60.0
    bust = float(np.clip(heights.bust, lowest, max(armpit - 12.0, lowest + 1)))
    pit = max(heights.pit, armpit + 25)
    return _Heights(bust, max(heights.nape, pit), pit)


def _shape(sizes: TorsoSizes, heights: _Heights) -> TrunkTube:
    g, length = sizes.girths, sizes.lengths
    armpit = length["waist to armpit"]
    at = np.array([-length["waist to hip"], 0.0, heights.bust - _under_drop(sizes, heights), heights.bust, armpit])
    half, ratio, centre, power = _level_shapes(sizes)
    z = np.concatenate([
        np.linspace(at[0] - BELOW_HIP, at[0], round(BELOW_HIP / LEVEL_STEP), endpoint=False),
        *(np.linspace(a, b, max(3, round((b - a) / LEVEL_STEP)), endpoint=False) for a, b in itertools.pairwise(at)),
        [armpit],
    ])  # fmt: skip
    seat = np.array([at[0] - BELOW_HIP, *at])
    shape = [
        shape_preserving(seat, np.array([values[0] * less, *values]))(z)
        for values, less in ((half, UNDER_THE_SEAT), (ratio, 1.0), (centre, 1.0), (power, 1.0))
    ]
    plain = _superellipse(*(values[:, None] for values in (*shape, z)))
    bumps = _bumps(plain, sizes, at)
    row = int(np.argmin(np.abs(z - heights.bust)))
    trunk = plain + _fullness(plain[row], bumps[row], g["bust"]) * bumps
    top, steps = _top(trunk, sizes, heights)
    levels = np.concatenate([z, armpit + steps]) - at[0]
    grid = even_rings(np.concatenate([trunk, top]), COLUMNS)
    grid[..., 2] -= at[0]
    stations = (*(at - at[0]), levels[-TOP_ROWS - 1], levels[-1])
    apex = _apex_column(grid[row], length["bust points apart"])
    return TrunkTube(TORSO_STATIONS, tuple(map(float, stations)), levels, grid, (apex, float(BUST)), np.zeros((0, 2)))


def _full(sizes: TorsoSizes) -> float:
    """Girth that the bust has beyond a flat chest on these ribs, mm."""
    return max(0.0, sizes.girths["bust"] - FLAT_CHEST * sizes.girths["underbust"])


def _under_drop(sizes: TorsoSizes, heights: _Heights) -> float:
    """How far the underbust lies below the bust, mm: more on a tall or a full body (est.)."""
    return min(18 + 0.21 * heights.bust + 0.12 * _full(sizes), 0.6 * heights.bust)


def _level_shapes(sizes: TorsoSizes) -> tuple[Array, Array, Array, Array]:
    """At hip, waist, underbust, bust and armpit: half width, depth over width, middle's y, squareness.

    Ratios are usual cross-sections (est.); a belly grows forward, a round back moves the chest back.
    """
    g = sizes.girths
    full = _full(sizes)
    belly = float(np.clip(g["waist"] / g["underbust"] - 0.97, 0.0, 0.35))
    lean = {"straight": -8.0, "usual": 0.0, "round": 16.0}[sizes.posture]
    ratio = np.array([0.74 + 0.15 * belly, 0.74 + 0.55 * belly, 0.75 + 0.2 * belly, 0.73, 0.66])
    power = np.array([2.25, 2.2, 2.3, 2.4, 2.5])
    chest = g["bust"] if full == 0 else FLAT_CHEST * g["underbust"] + 0.12 * full
    girth = np.array([g["hip"], g["waist"], g["underbust"], chest, 0.0])
    half = np.array([_half_width(p, r, q) for p, r, q in zip(girth, ratio, power, strict=True)])
    half[ARMPIT] = 0.5 * (0.405 * sizes.lengths["shoulder width"] + 0.93 * half[BUST])
    ratio[ARMPIT] = 0.9 * half[BUST] * ratio[BUST] / half[ARMPIT]
    forward = np.array([0.25, 0.55, 0.35, 0.0, 0.0]) * belly * half
    centre = np.array([15.0, -7.0 + 0.2 * lean, -1.0 + 0.5 * lean, 5.0 + 0.9 * lean, 12.0 + lean]) - forward
    return half, ratio, centre, power


def _superellipse(half: ArrayLike, ratio: ArrayLike, middle: ArrayLike, power: ArrayLike, z: ArrayLike) -> Array:
    """Rings (..., 720, 3) in mm of half widths, depths over width, middles, squareness and heights, each (..., 1) or
    one."""
    half, ratio, middle, power, z = (np.asarray(x, dtype=float) for x in (half, ratio, middle, power, z))
    x = half * np.sign(_SIN) * np.abs(_SIN) ** (2 / power)
    y = middle - half * ratio * np.sign(_COS) * np.abs(_COS) ** (2 / power)
    return np.stack([x, y, np.broadcast_to(z, x.shape)], axis=-1)


def _half_width(girth: float, ratio: float, power: float) -> float:
    return girth / ring_length(_superellipse(1.0, ratio, 0.0, power, 0.0))


def ring_length(ring: Array) -> float:
    """Length of a closed ring (k, 3), mm."""
    return float(lengths(np.diff(np.vstack([ring, ring[:1]]), axis=0)).sum())


BRIDGE = 16.0
"""Tape laid over a hollow narrower than about twice this does not follow it, mm (est.)."""
INNER, OUTER = 0.66, 0.66
"""How far a breast reaches from its point to the middle and to the side, in shares of the points' distance (est.)."""


def _bumps(plain: Array, sizes: TorsoSizes, at: Array) -> Array:
    """Unit displacement of bust fullness on every ring (l, 720, 3): smooth, forward and a little outward."""
    apart = sizes.lengths["bust points apart"]
    below, above = at[BUST] - at[UNDERBUST], 1.2 * (at[BUST] - at[UNDERBUST]) + 60.0
    rise = plain[..., 2] - at[BUST]
    dz = np.where(rise < 0, rise / below, rise / above)
    aside = np.abs(_round_the_front(plain)) - apart / 2
    dx = np.where(aside < 0, aside / (INNER * apart), aside / (OUTER * apart))
    one, across = (_mound(np.hypot(d, dz)) for d in (dx, (aside + apart) / (INNER * apart)))
    # A soft maximum, evened out: between the two a taped cast bridges, and neither bulges nor creases.
    ahead = (one**2 + across**2) ** 0.5
    outward = 0.3 * np.sign(plain[..., 0]) * (one - across)
    bumps = np.stack([outward, -ahead, np.zeros_like(ahead)], axis=-1)
    rows = ahead.any(axis=1)
    spread = BRIDGE * len(_T) / sizes.girths["bust"]
    bumps[rows] = gaussian_filter1d(bumps[rows], spread, axis=1, mode="wrap")
    return bumps


def _mound(r: Array) -> Array:
    """A rounded mound of height and radius 1, running out flat: without a ledge at the underbust."""
    out, near = np.zeros_like(r), r < 1
    out[near] = (1 - r[near] ** 2.2) ** 1.9
    return out


def _round_the_front(rings: Array) -> Array:
    """Distance of every ring point from the ring's front middle, along the ring, mm, negative on the wearer's right."""
    step = lengths(np.diff(rings, axis=1, append=rings[:, :1]))
    along = np.cumsum(step, axis=1) - step
    length = step.sum(axis=1, keepdims=True)
    return np.asarray(np.where(along > length / 2, along - length, along))


FULLEST = 260.0
"""No bust stands out further from the ribs, mm."""


def _fullness(plain: Array, bump: Array, girth: float) -> float:
    """How far the bumps must stand out for the ring to be ``girth`` round, mm: the girth only grows."""

    def over(out: float) -> float:
        return ring_length(plain + out * bump) - girth

    if over(0.0) >= -1e-6:
        return 0.0
    if over(FULLEST) < 0:
        raise CraftError("The bust is too full for these ribs: check bust and underbust", "torso.bust")
    return float(brentq(over, 0.0, FULLEST, xtol=1e-12))


def _apex_column(ring: Array, apart: float) -> float:
    """``around`` where an even ring is half ``apart`` left of the middle, in front."""
    front = ring[: len(ring) // 4, 0]
    return float(np.interp(apart / 2, front, np.arange(len(front)) / len(ring)))


def _top(trunk: Array, sizes: TorsoSizes, heights: _Heights) -> tuple[Array, Array]:
    """Rings from the armpit over the shoulder to the neck: (2 * TOP_ROWS, 720, 3) and their mean distance up, mm."""
    chest, below = trunk[-1], trunk[-2]
    neck = _neck_ring(chest, sizes, heights)
    shoulder = _shoulder_ring(chest, neck, sizes)
    start = _unit(chest - below)
    first, second = shoulder - chest, neck - shoulder
    a, b = (np.linalg.norm(v, axis=1, keepdims=True) for v in (first, second))
    middle = _unit(first / a * b + second / b * a)
    end = _unit(0.75 * second / b + np.array([0.0, 0.0, 0.5]))
    share = np.arange(1, TOP_ROWS + 1)[:, None, None] / TOP_ROWS
    rows = [
        _hermite(chest, shoulder, start * a, middle * a, share),
        _hermite(shoulder, neck, middle * b, end * b, share),
    ]
    up = share[:, 0, 0]
    steps = np.concatenate([up * a.mean(), a.mean() + up * b.mean()])
    return np.concatenate(rows), steps


def _unit(v: Array) -> Array:
    return np.asarray(v / np.maximum(np.linalg.norm(v, axis=-1, keepdims=True), 1e-9))


def _hermite(p: Array, q: Array, dp: Array, dq: Array, t: Array) -> Array:
    return np.asarray(
        (2 * t**3 - 3 * t**2 + 1) * p + (t**3 - 2 * t**2 + t) * dp + (3 * t**2 - 2 * t**3) * q + (t**3 - t**2) * dq
    )


def _neck_ring(chest: Array, sizes: TorsoSizes, heights: _Heights) -> Array:
    """A leaning oval: low at the pit of the throat, high at the nape, exactly the neck's girth round."""
    lean = {"straight": 6.0, "usual": 0.0, "round": -14.0}[sizes.posture]
    middle = float(chest[:, 1].mean()) + 14.0 + lean
    rise = ((1 - np.cos(_T)) / 2) ** 0.8
    z = heights.pit + (heights.nape - heights.pit) * rise
    half = sizes.girths["neck"] / (2 * np.pi)
    for _ in range(30):
        ring = np.stack([half * _SIN, middle - 1.06 * half * _COS, z], axis=1)
        more = sizes.girths["neck"] / ring_length(ring)
        if abs(more - 1) < 1e-15:
            break
        half *= more
    return ring


def _shoulder_ring(chest: Array, neck: Array, sizes: TorsoSizes) -> Array:
    """A closed curve through both shoulder points, across the upper chest and over the shoulder blades."""
    wide = sizes.lengths["shoulder width"] / 2
    side = np.abs(np.sin(_T))
    top = neck[len(_T) // 4, 2] - sizes.lengths["shoulder drop"]
    low = chest[:, 2] + 0.52 * (neck[:, 2] - chest[:, 2])
    z = low + (top - low) * side**1.7
    between = 0.54 * chest[:, 1] + 0.46 * neck[:, 1]
    back = np.clip(-np.cos(_T), 0, None) ** 1.5
    middle = 0.5 * (chest[:, 1].mean() + neck[:, 1].mean()) + 2.0
    y = middle + (between - middle) * (0.62 + 0.38 * np.cos(_T) ** 2) + 8.0 * back
    y = y - 5.0 * np.clip(np.cos(_T), 0, None) ** 2
    x = wide * np.sign(np.sin(_T)) * side**0.85
    return np.stack([x, y, z], axis=1)
