"""Cones, cylinders, prisms, elbows, rings, horns and tails: walls between rings."""

import itertools
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray
from scipy.interpolate import CubicSpline

from vellumcut.core.design.solids import Cone, Elbow, Horn, Ring, Tail
from vellumcut.core.solids.building import ROUND, Building, flat_face, ring
from vellumcut.core.solids.shell import Part, Shell

Array = NDArray[np.float64]

MOST_SEGMENTS = 80
"""Of a tail: nobody glues more."""
CLEAR = 1.0
"""mm of air between plates that tuck into each other (est.)."""
HOOP_CLEAR = 0.5
"""mm by which a hoop is smaller than what it stands in (est.)."""


def cone(solid: Cone, foam: float) -> Shell:
    """See ``Cone``. Raises ValueError."""
    lower = ring(solid.lower, solid.lower * solid.deep, solid.sides)
    if solid.upper:
        upper = ring(solid.upper, solid.upper * solid.deep, solid.sides)
        upper[:, 2] = upper[:, 0] * np.tan(np.radians(solid.slant))
        if solid.slant and solid.lower == solid.upper and not solid.lean:
            upper[:, 2] += solid.high
        elif solid.slant:
            upper = _cut_aslant(lower, solid)
        else:
            upper[:, 2] += solid.high
        upper[:, 0] += 0.0 if solid.slant else solid.lean
    else:
        upper = np.array([[solid.lean, 0.0, float(solid.high)]])
    made = Building(solid.inside)
    if solid.sides and not solid.folded:
        _side_by_side(made, lower, upper)
    else:
        made.wall(lower, upper, "wall", solid.pieces)
    if solid.cap in ("lower", "both"):
        made.face(lower[::-1], Part("lower cap"))
    if solid.cap in ("upper", "both") and solid.upper:
        made.face(upper, Part("upper cap"))
    if solid.flange and solid.cap not in ("lower", "both"):
        _flange(made, lower, solid.flange, solid.sides)
    return made.done(1.0 if solid.sides else 10.0)


def _cut_aslant(lower: Array, solid: Cone) -> Array:
    """The upper ring where a plane through the axis's end cuts the cone that runs on."""
    full = ring(solid.upper, solid.upper * solid.deep, solid.sides, solid.high)
    full[:, 0] += solid.lean
    way = full - lower
    tan = np.tan(np.radians(solid.slant))
    middle = np.array([solid.lean, 0.0, solid.high])
    # z - high = tan (x - lean) along each ruling
    share = (solid.high - lower[:, 2] + tan * (lower[:, 0] - middle[0])) / (way[:, 2] - tan * way[:, 0])
    if share.min() <= 0.05:
        raise ValueError("Cut off so much aslant, its upper end would meet the lower one: make it higher")
    return np.asarray(lower + share[:, None] * way)


def _side_by_side(made: Building, lower: Array, upper: Array) -> None:
    n = len(lower)
    for k in range(n):
        j = (k + 1) % n
        top = [upper[0]] if len(upper) == 1 else [upper[j], upper[k]]
        made.face(np.array([lower[k], lower[j], *top]), Part(f"side {k + 1}"))


def _flange(made: Building, lower: Array, wide: float, sides: int) -> None:
    """A flat rim round the lower end, in two halves, its outer face the upper one."""
    out = lower.copy()
    step = np.roll(lower, -1, axis=0) - np.roll(lower, 1, axis=0)
    normal = np.stack([step[:, 1], -step[:, 0]], axis=1)
    normal /= np.linalg.norm(normal, axis=1, keepdims=True)
    grown = wide / np.cos(np.pi / sides) if sides else wide
    out[:, :2] += grown * normal
    half = len(lower) // 2
    for k, (a, b) in enumerate(((0, half), (half, len(lower))), 1):
        at = np.arange(a, b + 1) % len(lower)
        made.face(np.vstack([out[at], lower[at[::-1]]]), Part(f"flange {k}"))


def elbow(solid: Elbow, foam: float) -> Shell:
    """See ``Elbow``: straight tubes cut off by the planes that halve each bend, the first and last half as long."""
    joints = solid.segments - 1
    step = np.radians(solid.turn) / joints
    tangent = solid.radius * np.tan(step / 2)
    section = ring(solid.wide, solid.deep, solid.sides)[:, :2]
    corners, ways = [np.array([0.0, 0.0, 0.0])], [0.0]
    for k in range(joints + 1):
        long = (tangent if k in (0, joints) else 2 * tangent) + (solid.straight if k in (0, joints) else 0.0)
        angle = k * step
        corners.append(corners[-1] + long * np.array([np.sin(angle), 0.0, np.cos(angle)]))
        ways.append(angle)
    rings = []
    for k, corner in enumerate(corners):
        angle = (0.0, *((j + 0.5) * step for j in range(joints)), joints * step)[k]
        grown = 1 / np.cos(step / 2) if 0 < k <= joints else 1.0
        across = np.array([np.cos(angle), 0.0, -np.sin(angle)])
        rings.append(corner + section[:, :1] * grown * across + section[:, 1:] * np.array([0.0, 1.0, 0.0]))
    made = Building(solid.inside)
    for k, (a, b) in enumerate(itertools.pairwise(rings)):
        # Seams lie by turns on both flanks, so that no two meet.
        made.wall(a, b, f"segment {k + 1}", first=(len(a) // 4 if k % 2 else 3 * len(a) // 4))
    return made.done(1.0 if solid.sides else 10.0)


def hoops(centres: Array, ways: Array, wide: Sequence[float], up: Array) -> list[Array]:
    """Round rings (n, 3) square to a line's ways (k, 3), by their widths, mm; one of no width is a point. up: (3,) from
    where they are counted, carried along without twist."""
    out = []
    x = up
    for centre, way, across in zip(centres, ways, wide, strict=True):
        w = way / np.linalg.norm(way)
        x = x - (x @ w) * w
        x = x / np.linalg.norm(x)
        y = np.cross(w, x)
        if across <= 0:
            out.append(centre[None])
            continue
        angle = np.arange(ROUND) * 2 * np.pi / ROUND
        out.append(centre + across / 2 * (np.cos(angle)[:, None] * x + np.sin(angle)[:, None] * y))
    return out


def _tube(made: Building, rings: list[Array]) -> None:
    for k, (a, b) in enumerate(itertools.pairwise(rings)):
        made.wall(a, b, f"segment {k + 1}", first=(len(a) // 4 if k % 2 else 3 * len(a) // 4))


def torus(solid: Ring, foam: float) -> Shell:
    """See ``Ring``: hoops at even steps, a sheet between each two."""
    whole = solid.turn >= 360
    count = solid.segments if whole else solid.segments + 1
    angle = np.arange(count) * np.radians(solid.turn) / solid.segments
    centres = solid.across / 2 * np.stack([np.cos(angle), np.sin(angle), 0 * angle], axis=1)
    ways = np.stack([-np.sin(angle), np.cos(angle), 0 * angle], axis=1)
    rings = []
    for centre, way in zip(centres, ways, strict=True):
        rings += hoops(centre[None], way[None], [solid.thick], centre)
    made = Building(solid.inside)
    _tube(made, [*rings, rings[0]] if whole else rings)
    return made.done()


def horn(solid: Horn, foam: float) -> Shell:
    """See ``Horn``."""
    share = np.linspace(0.0, 1.0, solid.segments + 1)
    fine = np.linspace(0.0, 1.0, 2001)
    angle = np.radians(solid.bend) * fine ** (1 + solid.curl)
    step = solid.long / 2000
    line = np.concatenate([[[0.0, 0.0]], np.cumsum(
        step * np.stack([np.sin((angle[1:] + angle[:-1]) / 2), np.cos((angle[1:] + angle[:-1]) / 2)], axis=1), axis=0
    )])  # fmt: skip
    at = (share * 2000).round().astype(int)
    centres = np.stack([line[at, 0], np.zeros(len(at)), line[at, 1]], axis=1)
    ways = np.stack([np.sin(angle[at]), np.zeros(len(at)), np.cos(angle[at])], axis=1)
    wide = solid.base + (solid.tip - solid.base) * share
    made = Building(solid.inside)
    _tube(made, hoops(centres, ways, wide.tolist(), np.array([0.0, 1.0, 0.0])))
    return made.done()


def middle_line(solid: Tail) -> tuple[Array, Array, Array]:
    """Centres (k, 3) of its hoops, mm, which way the line goes there, and how wide it is, at even steps of about a
    pitch."""
    points = np.array([(p.x, p.y, p.z) for p in solid.points])
    steps = np.linalg.norm(np.diff(points, axis=0), axis=1)
    if steps.min() < 1.0:
        raise ValueError("Two places of its middle line lie on each other")
    at = np.concatenate([[0.0], np.cumsum(steps)])
    curve = CubicSpline(at, points) if len(at) > 2 else None
    fine = np.linspace(0, at[-1], 4001)
    line = curve(fine) if curve is not None else points[0] + (fine / at[-1])[:, None] * (points[1] - points[0])
    far = np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(line, axis=0), axis=1))])
    count = max(1, round(far[-1] / solid.pitch))
    if count > MOST_SEGMENTS:
        raise ValueError(f"That would be {count} hoops, more than {MOST_SEGMENTS}: take them farther apart")
    wanted = np.interp(np.linspace(0, far[-1], count + 1), far, fine)
    centres = np.stack([np.interp(wanted, fine, line[:, k]) for k in range(3)], axis=1)
    slope = np.gradient(line, fine, axis=0)
    ways = np.stack([np.interp(wanted, fine, slope[:, k]) for k in range(3)], axis=1)
    wide = np.interp(wanted, at, [p.wide for p in solid.points])
    return centres, ways / np.linalg.norm(ways, axis=1, keepdims=True), wide


def tail(solid: Tail, foam: float) -> Shell:
    """See ``Tail``. Raises ValueError where it bends tighter than it is wide."""
    centres, ways, wide = middle_line(solid)
    up = np.array([0.0, 0.0, 1.0]) if abs(ways[0][2]) < 0.9 else np.array([0.0, 1.0, 0.0])
    made = Building(solid.inside)
    rings = hoops(centres, ways, wide.tolist(), up)
    for (a, one), (b, two) in itertools.pairwise(zip(rings, ways, strict=True)):
        ahead = ((b - a.mean(axis=0)) @ one).min()
        behind = ((b.mean(axis=0) - a) @ two).min()
        if min(ahead, behind) <= 0.5:
            raise ValueError("It bends so tightly that its hoops run into each other: a longer pitch, or thinner")
    if solid.way == "hoops":
        for k, (centre, way, across) in enumerate(zip(centres, ways, wide, strict=True), 1):
            (outer,) = hoops(centre[None], way[None], [across], up)
            _hoop(made, outer, centre, solid.hoop, f"hoop {k}")
    elif solid.way == "tucked":
        _tucked(made, rings, centres, ways, wide, foam, up)
    else:
        _tube(made, rings)
    return made.done()


def _hoop(made: Building, outer: Array, centre: Array, wide: float, name: str) -> None:
    """A flat ring, cut from the sheet whole."""
    across = float(np.linalg.norm(outer[0] - centre))
    if across <= wide + 2:
        made.face(outer, Part(name))
        return
    inner = centre + (outer - centre) * (1 - wide / across)
    made.add(*flat_face(outer, (inner[::-1],)), Part(name))


def _tucked(
    made: Building, rings: list[Array], centres: Array, ways: Array, wide: Array, foam: float, up: Array
) -> None:
    """Segments whose narrow end lies in the wide end of the next, by a third of their length."""
    room = 2 * (foam + CLEAR)
    for k, (a, b) in enumerate(itertools.pairwise(range(len(rings)))):
        over = (centres[b] - centres[a]) / 3
        across = min(float(wide[b]), float(wide[a])) - room
        if across < 10:
            raise ValueError("It is too thin there to tuck into itself: end it sooner, or glue it as one tube")
        (end,) = hoops((centres[b] + over)[None], ways[b][None], [across], up)
        made.wall(rings[k], end, f"segment {k + 1}", first=len(end) // 4)
