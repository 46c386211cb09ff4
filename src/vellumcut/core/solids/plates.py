"""Parts that are flat by themselves: plates on a glove, a gauntlet's cuff, a shelf with its fins, a blade with a
core."""

import itertools
from collections.abc import Sequence

import numpy as np
import shapely
from numpy.typing import NDArray
from scipy.interpolate import PchipInterpolator

from vellumcut.core.design.solids import Fin, Finger, Gauntlet, Hand, Pouch, Shelf
from vellumcut.core.solids.building import flat_face
from vellumcut.core.solids.flat_parts import FlatPart, Meeting, Side
from vellumcut.core.solids.shell import Part

Array = NDArray[np.float64]
Faces = NDArray[np.int64]
Picture = tuple[Array, Faces]

HALF_ROUND = 0.5
"""Share of a finger's girth that its plates lie round (est.)."""
CORNER_RADIUS = 6.0
"""mm to which the corners of a finger's plate are rounded (est.)."""
LOOP_WIDE = 25.0
"""Width of a belt loop, mm (est.)."""
LOOP_ROOM = 2.0
"""mm by which a loop is wider than its belt (est.)."""
BELT_THICK = 6.0
"""mm that a loop stands off for the belt in it (est.)."""


def sheet(
    number: int, part: Part, outline: Array, holes: tuple[Array, ...] = (), tightest: float = np.inf, turn: float = 0.0
) -> FlatPart:
    """A part of its outline (n, 2) mm, first not repeated, parted into edges where it turns."""
    if shapely.LinearRing(outline).is_ccw is False:
        outline = outline[::-1]
    steps = np.diff(np.vstack([outline[-1:], outline, outline[:1]]), axis=0)
    way = np.arctan2(steps[:, 1], steps[:, 0])
    turned = np.abs((np.diff(way) + np.pi) % (2 * np.pi) - np.pi)
    at = np.flatnonzero(turned > np.radians(25.0)).tolist() or [0]
    ring = np.roll(outline, -at[0], axis=0)
    stops = [*(a - at[0] for a in at), len(ring)]
    closed = np.vstack([ring, ring[:1]])
    sides = tuple(Side(closed[a : b + 1], np.full(b - a, -1), np.zeros(b - a)) for a, b in itertools.pairwise(stops))
    return FlatPart(number, part, sides, holes, (), tightest, turn)


def rolled(parts: Sequence[FlatPart]) -> tuple[Meeting, ...]:
    """What is rolled all round meets itself along its first and its last edge, smoothly."""
    return tuple(
        Meeting((p.number, 0), (p.number, len(p.sides) - 1), np.array([0.0, p.sides[0].length]), np.zeros(2))
        for p in parts if p.turn >= 2 * np.pi
    )  # fmt: skip


def loops(solid: Pouch, number: int) -> list[FlatPart]:
    """Two loops for the belt: round it, and so much to glue on."""
    if not solid.belt:
        return []
    long = 2 * (solid.belt + LOOP_ROOM) + 2 * BELT_THICK + solid.overlap
    return [sheet(number, Part("belt loop", 2), _rectangle(LOOP_WIDE, long))]


def _rectangle(wide: float, high: float) -> Array:
    return np.array([(0.0, 0.0), (wide, 0.0), (wide, high), (0.0, high)])


def gauntlet(solid: Gauntlet, foam: float) -> tuple[list[FlatPart], Picture]:
    """An upper and an under plate, as wide at every height as half the girth there on the middle of the foam. Its sides
    run hollow from the wrist and round out into the flare."""
    z = np.linspace(0.0, 1.0, 81)
    half = PchipInterpolator([0.0, 0.3, 0.85, 1.0], [
        solid.wrist, solid.wrist + 0.18 * (solid.cuff - solid.wrist),
        solid.cuff, solid.cuff + solid.flare,
    ])(z)  # fmt: skip
    middle = half + np.pi / 2 * (foam if solid.inside else -foam)
    high = z * solid.long
    left, right = (np.stack([s * middle / 2, high], axis=1) for s in (-1.0, 1.0))
    outline = np.vstack([right, left[::-1]])
    radius = float(middle.min() / np.pi)
    under = outline
    parts = []
    if solid.thumb:
        hollow = shapely.Point(float(middle[0]) / 2, 0.0).buffer(solid.thumb, quad_segs=24)
        cut = shapely.Polygon(outline).difference(hollow)
        if cut.geom_type != "Polygon":
            raise ValueError("The hollow for the thumb cuts the plate in two: make it shallower")
        under = np.array(cut.exterior.coords)[:-1]
    parts.append(sheet(1, Part("upper plate"), outline, (), radius, np.pi))
    parts.append(sheet(2, Part("under plate"), under, (), radius, np.pi))
    return parts, _half_tube(half / np.pi, high)


def _half_tube(radii: Array, high: Array) -> Picture:
    """Both halves as they stand round the arm."""
    angle = np.linspace(0, 2 * np.pi, 61)
    r, a = np.meshgrid(radii, angle, indexing="ij")
    points = np.stack([r * np.cos(a), r * np.sin(a), np.broadcast_to(high[:, None], r.shape)], axis=2)
    return points.reshape(-1, 3), _grid(len(radii), len(angle))


def _grid(rows: int, columns: int) -> Faces:
    k = np.arange((rows - 1) * columns).reshape(rows - 1, columns)[:, :-1].ravel()
    return np.concatenate([
        np.stack([k, k + 1, k + columns + 1], axis=1), np.stack([k, k + columns + 1, k + columns], axis=1)
    ])  # fmt: skip


def joint_radius(finger: Finger, foam: float) -> float:
    """From the axis of a finger's joints to the middle of the plate over them, mm: half the finger, and half the
    foam."""
    return finger.girth / (2 * np.pi) + foam / 2


def opens_by(finger: Finger, foam: float) -> float:
    """How far the back of a finger grows at a joint as it bends, mm: radius x angle."""
    return float(joint_radius(finger, foam) * np.radians(finger.bend))


def plate_lengths(finger: Finger, over: float, foam: float) -> list[float]:
    """Of the plate on each bone, from the knuckle on, mm: its bone, and under the one behind it what the joint opens by
    and so much more."""
    return [bone + opens_by(finger, foam) + over for bone in finger.bones]


def hand(solid: Hand, foam: float) -> tuple[list[FlatPart], Picture]:
    """A plate on every bone, each of which lies over the next one's rear end; a plate on the back of the hand. Raises
    ValueError where plates would run into each other with the finger stretched."""
    parts: list[FlatPart] = []
    shapes: list[Picture] = []
    if solid.back_long and solid.back_wide:
        outline = np.array(shapely.box(0, 0, solid.back_wide, solid.back_long).buffer(-10).buffer(10).exterior.coords)
        parts.append(sheet(1, Part("back of the hand"), outline[:-1], (), 2 * solid.back_wide, 0.6))
        shapes.append(_plate(0.0, -solid.back_long, solid.back_long, solid.back_wide, 4.0))
    for k, finger in enumerate(solid.fingers):
        _stays_apart(finger, solid.over, foam)
        wide = finger.girth * HALF_ROUND + np.pi / 2 * foam
        radius, far = joint_radius(finger, foam), 0.0
        x = (k - (len(solid.fingers) - 1) / 2) * 26.0
        lengths = plate_lengths(finger, solid.over, foam)
        for j, (bone, long) in enumerate(zip(finger.bones, lengths, strict=True), 1):
            box = shapely.box(0, 0, wide, long).buffer(-CORNER_RADIUS).buffer(CORNER_RADIUS)
            ring = np.array(box.exterior.coords)[:-1]
            parts.append(sheet(len(parts) + 1, Part(f"{finger.name} {j}"), ring, (), radius, np.pi / 1.2))
            shapes.append(_plate(x, far - (long - bone), long, 2 * radius, radius))
            far += bone
        if finger.claw:
            parts.append(_claw(len(parts) + 1, finger, radius))
    return parts, _together(shapes)


def _stays_apart(finger: Finger, over: float, foam: float) -> None:
    """With the finger stretched a plate reaches so far back over its neighbour that it must not meet the next but
    one."""
    back = opens_by(finger, foam) + over
    for bone in finger.bones[:-1]:
        if back >= bone:
            raise ValueError(
                f"{finger.name.capitalize()}: at the joints {back:.0f} mm have to overlap, more than the bone of "
                f"{bone:g} mm has; take thinner foam, less bend, or one plate for two bones"
            )


def _claw(number: int, finger: Finger, radius: float) -> FlatPart:
    """A sector that is rolled to a cone, half as wide as the finger."""
    base = radius * 0.9
    slant = float(np.hypot(base, finger.claw))
    turn = 2 * np.pi * base / slant
    angle = np.linspace(-turn / 2, turn / 2, 60) + np.pi / 2
    arc = slant * np.stack([np.cos(angle), np.sin(angle)], axis=1)
    return sheet(number, Part(f"{finger.name}, claw"), np.vstack([[(0.0, 0.0)], arc]), (), base, 2 * np.pi)


def _plate(x: float, y: float, long: float, wide: float, high: float) -> Picture:
    """A low half tube along y, for the picture."""
    angle = np.linspace(0.0, np.pi, 17)
    a, along = np.meshgrid(angle, np.linspace(y, y + long, 5), indexing="xy")
    points = np.stack([x + wide / 2 * np.cos(a), along, high * np.sin(a)], axis=2)
    return points.reshape(-1, 3), _grid(5, len(angle))


def _together(shapes: Sequence[Picture]) -> Picture:
    starts = np.cumsum([0, *(len(p) for p, _ in shapes)])
    return np.vstack([p for p, _ in shapes]), np.vstack([f + s for (_, f), s in zip(shapes, starts, strict=False)])


def body_ring(solid: Shelf, steps: int = 360) -> Array:
    """The body's outline at the hips, (n, 2) mm, front towards y: an ellipse of that girth."""
    angle = np.arange(steps) * 2 * np.pi / steps
    unit = np.stack([np.cos(angle), solid.ratio * np.sin(angle)], axis=1)
    around = np.linalg.norm(np.diff(np.vstack([unit, unit[:1]]), axis=0), axis=1).sum()
    return np.asarray(unit * solid.girth / around)


def shelf(solid: Shelf, foam: float) -> tuple[list[FlatPart], Picture]:
    """A flat ring in two halves that begin where it opens, and fins that stand under it, each as deep as the ring is
    where it stands."""
    inner = body_ring(solid)
    step = np.roll(inner, -1, axis=0) - np.roll(inner, 1, axis=0)
    out = np.stack([step[:, 1], -step[:, 0]], axis=1)
    out /= np.linalg.norm(out, axis=1, keepdims=True)
    depth = _depths(solid, np.arctan2(inner[:, 1] / solid.ratio, inner[:, 0]))
    outer = inner + depth[:, None] * out
    start = {"back": 270, "front": 90, "sides": 0}[solid.open_at]
    parts = []
    for k in range(2):
        at = (start + 180 * k + np.arange(181)) % 360
        parts.append(sheet(k + 1, Part(f"ring, half {k + 1}"), np.vstack([outer[at], inner[at[::-1]]])))
    shapes: list[Picture] = [_flat_ring(inner, outer, 0.0)]
    kinds: dict[float, list[float]] = {}
    for k in range(solid.fins):
        place = int((start + (k + 0.5) * 360 / solid.fins) % 360)
        kinds.setdefault(round(float(depth[place]), 1), []).append(place)
        shapes.append(_fin_picture(inner[place], outer[place], solid.drop))
    for wide, places in sorted(kinds.items()):
        bracket = np.array(
            [(0.0, 0.0), (0.0, -solid.drop), (0.25 * wide, -solid.drop), (wide, -0.2 * solid.drop), (wide, 0.0)]
        )
        name = f"fin {wide:g} mm deep"
        parts.append(sheet(len(parts) + 1, Part(name, len(places)), bracket - bracket.min(axis=0)))
    return parts, _together(shapes)


def _depths(solid: Shelf, angle: Array) -> Array:
    """Of the ring all round, mm: as asked in front, at both sides and behind, smooth between."""
    front, back = np.maximum(np.sin(angle), 0) ** 2, np.maximum(-np.sin(angle), 0) ** 2
    return np.asarray(solid.side + (solid.front - solid.side) * front + (solid.back - solid.side) * back)


def _flat_ring(inner: Array, outer: Array, z: float) -> Picture:
    n = len(inner)
    points = np.column_stack([np.vstack([inner, outer]), np.full(2 * n, z)])
    k = np.arange(n)
    after = (k + 1) % n
    return points, np.concatenate([
        np.stack([k, n + k, n + after], axis=1), np.stack([k, n + after, after], axis=1)
    ])  # fmt: skip


def _fin_picture(inner: Array, outer: Array, drop: float) -> Picture:
    points = np.array([(*inner, 0.0), (*inner, -drop), (*outer, 0.0)])
    return points, np.array([(0, 1, 2)], np.int64)


def fin_outline(solid: Fin) -> Array:
    """Of a blade that stands on its base: straight behind, rounded at its tip, mm."""
    tip = max(solid.tip, 0.0)
    corners = [(0.0, 0.0), (solid.base, 0.0), (solid.sweep + solid.base / 2 + tip / 2, solid.long)]
    if tip:
        corners.append((solid.sweep + solid.base / 2 - tip / 2, solid.long))
    shape = shapely.Polygon(corners)
    if not shape.is_valid or shape.area < 50:
        raise ValueError("Its outline crosses itself: less sweep")
    return np.array(shapely.geometry.polygon.orient(shape).exterior.coords)[:-1]


def fin(solid: Fin, foam: float) -> tuple[list[FlatPart], Picture]:
    """Two faces, one the other turned over, and a core that lies so far inside their outline that it can be hidden."""
    outline = fin_outline(solid)
    parts = [sheet(1, Part("face", 1, True), outline)]
    if solid.core:
        core = shapely.Polygon(outline).buffer(-foam, join_style="mitre")
        if core.is_empty or core.geom_type != "Polygon":
            raise ValueError("It is too narrow for a core: let its faces lie on each other (0)")
        ring = np.array(core.exterior.coords)[:-1]
        parts.append(sheet(2, Part(f"core of {solid.core:g} mm"), ring))
    points = np.column_stack([outline[:, 0], np.zeros(len(outline)), outline[:, 1]])
    front, faces = flat_face(points)
    back = front + [0.0, solid.core + 2 * foam, 0.0]
    return parts, _together([(front, faces), (back, faces[:, ::-1])])
