"""How a scan is to be read, guessed for the maker to confirm: its unit, which way is up, and where the body faces. That
is read off the body itself: a scanner's axes know nothing of how the wearer stood.

A trunk is wider than it is deep, so the long way of its rings lies across it; toes tell which end of the other way is
the front.
"""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from vellumcut.core.body.segments import AxisName, UnitName
from vellumcut.core.cast.scanned.mesh import BODY_HEIGHT, LIMB_SIZE, UNIT_MM, BodyMesh, Faces, Stance, rotation, turn
from vellumcut.core.cast.scanned.sections import Loop, cut_levels, faces_near

Array = NDArray[np.float64]

TRUNK = 0.5, 0.74
"""Heights between which rings are the trunk's, as shares of the body's: from the hips to below the armpits (est.)."""
STEP = 14.0
LONGER = 1.15
"""A ring says which way lies across from where it is this much longer that way (its second moments)."""
SOLE, ANKLE = 0.025, (0.05, 0.09)
"""Heights of what stands on the floor, and of the ankles above it, as shares of the body's (est.)."""
TOES = 0.008
"""How far toes stand out in front of the ankles at least, as a share of the body's height (est.)."""
ASTRAY = np.radians(50.0)
"""Between where toes point and where the trunk faces, above which one of them was misread."""
TURNED = 5.0
"""Degrees that a body may be turned from its scan's axes before that is told: less is how people stand."""


AXES: tuple[AxisName, ...] = ("x", "y", "z", "-x", "-y", "-z")
USUAL_FRONT: dict[str, AxisName] = {"x": "-y", "y": "z", "z": "-y"}
"""By which axis is up."""
EQUAL_SIDES = 0.15
"""Share by which a body may be as wide as it is tall, arms out: then the usual axis is up."""


def guess_stance(vertices: Array, faces: Faces, usual_up: AxisName = "z") -> Stance:
    """Read unit, up, front and turn off a scan's own numbers, (n, 3) and (m, 3)."""
    size = np.ptp(vertices, axis=0)
    up = _guess_up(vertices, size, usual_up)
    unit = guess_unit(float(size.max()))
    any_front: AxisName = "x" if up[-1] != "x" else "y"
    upright = Stance(unit, up, any_front)
    return _facing_stance(BodyMesh(turn(vertices, upright), faces), upright)


def guess_unit(longest: float) -> UnitName:
    """The unit that makes the longest side a body's height, or failing that a limb's length."""
    for low, high in (BODY_HEIGHT, LIMB_SIZE):
        for unit, mm in UNIT_MM.items():
            if low <= longest * mm <= high:
                return unit
    return "mm"


def _guess_up(vertices: Array, size: Array, usual: AxisName) -> AxisName:
    order = np.argsort(-size)
    axis = int(order[0])
    likely = "xyz".index(usual[-1])
    if size[order[1]] > size[order[0]] * (1 - EQUAL_SIDES) and likely in order[:2]:
        axis = likely
    along = vertices[:, axis]
    low, high = along.min() + 0.03 * size[axis], along.max() - 0.03 * size[axis]
    others = [k for k in range(3) if k != axis]
    foot, head = (np.ptp(vertices[m][:, others], axis=0).max() for m in (along < low, along > high))
    return AXES[axis if foot >= head else axis + 3]


def _facing_stance(mesh: BodyMesh, upright: Stance) -> Stance:
    """The stance of a mesh that was turned upright: the axis nearest to where its body faces, and what is left."""
    up, usual = upright.up, USUAL_FRONT[upright.up[-1]]
    found, toes = facing(mesh), _toes(mesh)
    if found is None and toes is None:
        return Stance(upright.unit, up, usual)
    degrees = found.degrees if found is not None else _degrees(np.asarray(toes))
    ahead = np.array([np.sin(np.radians(degrees)), -np.cos(np.radians(degrees)), 0.0]) @ rotation(upright)
    k = int(np.argmax(np.abs(ahead)))
    front = AXES[k] if ahead[k] > 0 else AXES[k + 3]
    past = _degrees(rotation(Stance("mm", up, front)) @ ahead)
    told = found is not None and abs(past) > TURNED
    return Stance(upright.unit, up, front, float(round(past)) if told else 0.0)


@dataclass(frozen=True)
class Facing:
    """degrees: counterclockwise from above, from -y to where the body faces. sure: trunk and toes agree on it."""

    degrees: float
    sure: bool


def facing(mesh: BodyMesh) -> Facing | None:
    """Which way a body in upright mm faces; None where neither trunk nor toes say it, or it is no whole body."""
    if not mesh.whole:
        return None
    across, toes = _across(mesh), _toes(mesh)
    if across is None:
        return None if toes is None else Facing(_degrees(toes), False)
    ahead = np.array([across[1], -across[0]])
    if toes is None:
        return Facing(_degrees(ahead if ahead[1] <= 0 else -ahead), False)
    ahead = ahead if ahead @ toes >= 0 else -ahead
    agree = np.arccos(np.clip(ahead @ toes / np.hypot(*toes), -1, 1)) < ASTRAY
    return Facing(_degrees(ahead), bool(agree))


def _degrees(ahead: Array) -> float:
    return float(np.degrees(np.arctan2(ahead[0], -ahead[1])))


def _across(mesh: BodyMesh) -> Array | None:
    """Unit vector along which the trunk is wide."""
    field = mesh.vertices[:, 2] - mesh.vertices[:, 2].min()
    low, high = (share * mesh.height for share in TRUNK)
    levels = np.arange(low, high, STEP)
    doubled = np.zeros(2)
    for loops in cut_levels(faces_near(mesh, field, low - STEP, high + STEP), field, levels):
        largest = max(loops, key=lambda x: x.length, default=None)
        # A ring that runs through a hole of the scan is longer where the hole is not.
        if largest is not None and largest.closed:
            doubled += _long_way(largest)
    if np.hypot(*doubled) < 1e-6:
        return None
    angle = np.arctan2(doubled[1], doubled[0]) / 2
    return np.array([np.cos(angle), np.sin(angle)])


def _long_way(loop: Loop) -> Array:
    """(2,) doubled angle of the way in which a ring is longest, as long as it is sure; 0 of a round one."""
    middle = loop.segments.mean(axis=1)[:, :2]
    weight = np.linalg.norm(np.diff(loop.segments, axis=1)[:, 0], axis=1)
    away = middle - np.average(middle, axis=0, weights=weight)
    moments = (away * weight[:, None]).T @ away
    (short, long), ways = np.linalg.eigh(moments)
    if long < LONGER * short:
        return np.zeros(2)
    angle = 2 * np.arctan2(ways[1, 1], ways[0, 1])
    return np.array([np.cos(angle), np.sin(angle)]) * float(long / short - 1)


def _toes(mesh: BodyMesh) -> Array | None:
    """(2,) mm from the ankles to the middle of what stands on the floor; None where toes are not seen."""
    v, z = mesh.vertices, mesh.vertices[:, 2] - mesh.vertices[:, 2].min()
    sole = v[z < SOLE * mesh.height, :2]
    ankle = v[(z > ANKLE[0] * mesh.height) & (z < ANKLE[1] * mesh.height), :2]
    if len(sole) < 4 or len(ankle) < 4:
        return None
    way = _box_middle(sole) - _box_middle(ankle)
    return way if np.hypot(*way) > TOES * mesh.height else None


def _box_middle(points: Array) -> Array:
    return np.asarray((points.min(axis=0) + points.max(axis=0)) / 2)
