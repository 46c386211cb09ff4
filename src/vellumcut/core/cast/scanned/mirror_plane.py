"""The plane between left and right of a scanned trunk, found where the body itself turns: down its middle.

Balancing the widths of left and right would hide what they differ by. Breastbone, belly, spine and seat each stand out
most, or lie deepest, on the middle line, and stay there when one side is larger than the other, unless it is larger
close beside the middle: then they are not alike to both sides, and do not count. The middle between the legs, and that
of the neck, say where it is when nothing else does.
"""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from vellumcut.core.cast.scanned.mesh import BodyMesh
from vellumcut.core.cast.scanned.sections import Loop, cut_levels, faces_near, loop_round

Array = NDArray[np.float64]

STEP = 15.0
HALF_BAND = 26.0
"""How far to each side of the middle the profile is read, mm."""
LEAST_BEND = 1 / 900.0
"""A profile flatter than this does not tell its middle, 1/mm."""
MOST_BEND = 1 / 60.0
"""A profile that bends more is no surer of its middle, 1/mm."""
LONGER = 1.25
"""A ring tells which way is across if it is this much longer that way (its second moments)."""
STEEP = 2.5
"""A profile steeper than this has fallen through a hole of the scan."""
KNEES, NECK = (-0.75, -0.45), (0.98, 1.2)
"""Between these heights over the hip, as shares of the neck's, legs and neck are looked at (est.)."""
LIMB_GIRTH = 200.0, 620.0
"""mm round a leg below the thigh, or a neck."""
LIMB_SAYS = 1 / 250.0
"""What lies in the middle between two legs, or of a neck, tells as much as a profile that bends so, 1/mm (est.): legs
stand and heads turn as they like, but are not drawn aside by a side of the trunk that is larger."""
MOST_OFF, MOST_YAW, MOST_TILT = 30.0, np.radians(12.0), 0.06
ROUNDS = 3
ALIKE = 0.25
"""Both sides of a turning point differ by less than this share of what they fall together."""
_BESIDE = np.array([0.3, 0.5, 0.7])
_MIDDLE = 13
_ACROSS = np.linspace(-1, 1, 2 * _MIDDLE + 1)
_LEFT, _AHEAD = np.array([1.0, 0.0, 0.0]), np.array([0.0, -1.0, 0.0])


@dataclass(frozen=True)
class MirrorPlane:
    """x = at + tilt * z + yaw * y, in mm of the trunk's upright axes."""

    at: float = 0.0
    tilt: float = 0.0
    yaw: float = 0.0

    def x(self, y: float, z: float) -> float:
        """Where the plane lies at y and z, mm."""
        return self.at + self.tilt * z + self.yaw * y


def mirror_plane(mesh: BodyMesh, low: float, high: float) -> MirrorPlane:
    """Fit the plane between two levels of a mesh in upright axes, mm; each level and side has a say, none outweighs."""
    field = mesh.vertices[:, 2]
    near = faces_near(mesh, field, low, high)
    levels = np.arange(low, high, STEP)
    cuts = zip(levels.tolist(), cut_levels(near, field, levels), strict=True)
    found = [(z, loop) for z, loops in cuts if (loop := loop_round(loops, np.array([0.0, 0.0, z]), _LEFT, _AHEAD))]
    yaw = _yaw([loop for _, loop in found])
    turn = np.array([[np.cos(yaw), -np.sin(yaw), 0.0], [np.sin(yaw), np.cos(yaw), 0.0], [0.0, 0.0, 1.0]])
    loops = [(z, Loop(loop.segments @ turn.T, loop.closed)) for z, loop in found]
    limbs = [(float((turn @ middle)[0]), 0.0, float(middle[2]), LIMB_SAYS**2) for middle in _limbs(mesh, high)]
    plane = MirrorPlane()
    for _ in range(ROUNDS):
        rows = [*(row for z, loop in loops for row in _turns(loop, z, plane)), *limbs]
        if len(rows) < 8:
            break
        plane = _fit(np.array(rows))
    return MirrorPlane(plane.at / np.cos(yaw), plane.tilt / np.cos(yaw), np.tan(yaw))


def _limbs(mesh: BodyMesh, high: float) -> list[Array]:
    """Middles between both legs at levels about the knees, and of the neck, (3,) mm each; where they are seen."""
    field, out = mesh.vertices[:, 2], []
    for (low, top), count in ((KNEES, 2), (NECK, 1)):
        levels = np.arange(low * high, top * high, STEP)
        near = faces_near(mesh, field, low * high, top * high)
        for z, loops in zip(levels.tolist(), cut_levels(near, field, levels), strict=True):
            round_ = [x for x in loops if x.closed and LIMB_GIRTH[0] < x.length < LIMB_GIRTH[1]]
            limbs = sorted(round_, key=lambda x: abs(x.middle[0]))[:count]
            if len(limbs) == count and (count == 1 or limbs[0].middle[0] * limbs[1].middle[0] < 0):
                out.append(np.array([*np.mean([x.middle[:2] for x in limbs], axis=0), z]))
    return out


def _yaw(loops: list[Loop]) -> float:
    """How far the trunk is turned about its height, radians: the long axis of its rings lies across, whatever one side
    is larger than the other by. The turning points could not tell it: on a flat front they wander as it turns."""
    angles = []
    for loop in loops:
        middle = loop.segments.mean(axis=1)[:, :2]
        weight = np.linalg.norm(np.diff(loop.segments, axis=1)[:, 0], axis=1)
        away = middle - np.average(middle, axis=0, weights=weight)
        (xx, xy), (_, yy) = (away * weight[:, None]).T @ away
        if xx > LONGER * yy:
            angles.append(-0.5 * np.arctan2(2 * xy, xx - yy))
    return float(np.clip(np.median(angles), -MOST_YAW, MOST_YAW)) if angles else 0.0


def _turns(loop: Loop, z: float, plane: MirrorPlane) -> list[tuple[float, float, float, float]]:
    """(x, y, z, weight) of where the profile turns in front and behind."""
    t = _ACROSS * HALF_BAND
    a, b = loop.segments[:, 0], loop.segments[:, 1]
    out = []
    for side in (np.min, np.max):
        x = t + plane.x(0.0, z)
        share = (x[:, None] - a[:, 0]) / np.where(np.abs(b[:, 0] - a[:, 0]) < 1e-9, np.inf, b[:, 0] - a[:, 0])
        met = (share >= 0) & (share <= 1) & (np.abs(b[:, 0] - a[:, 0]) > 1e-9)
        if not met.any(axis=1).all():
            continue
        y = np.where(met, a[:, 1] + share * (b[:, 1] - a[:, 1]), np.nan)
        profile = side(np.where(met, y, -np.inf if side is np.max else np.inf), axis=1)
        if np.abs(np.diff(profile)).max() > STEEP * (x[1] - x[0]):
            continue
        curve = np.polyfit(_ACROSS, profile, 4)
        slope, bend = curve[3] / HALF_BAND, 2 * curve[2] / HALF_BAND**2
        if abs(bend) > LEAST_BEND and abs(slope / bend) < HALF_BAND and _even(curve, -slope / bend / HALF_BAND):
            sure = min(abs(bend), MOST_BEND) ** 2
            out.append((float(x[_MIDDLE] - slope / bend), float(profile[_MIDDLE]), z, sure))
    return out


def _even(curve: Array, top: float) -> bool:
    """Whether a profile falls, or rises, alike to both sides of where it turns: where one side is larger it does not,
    and turns beside the middle."""
    left, right = (np.polyval(curve, top + sign * _BESIDE) - np.polyval(curve, top) for sign in (-1, 1))
    return bool(np.abs(left - right).max() < ALIKE * np.abs(left + right).max())


def _fit(rows: Array) -> MirrorPlane:
    """By least absolute distances, so that an arm or a hole beside the middle does not draw it."""
    x, _, z, weight = rows.T
    centre = float(z.mean())
    system = np.stack([np.ones(len(x)), (z - centre) / 300], axis=1)
    # A lean is told by the ends only: a weak pull holds it at nothing where the body does not tell.
    pull = np.diag([0.0, 1.0]) * 0.02 * weight.sum()
    found = np.zeros(2)
    for _ in range(25):
        w = weight / np.maximum(np.abs(system @ found - x), 0.05)
        found = np.linalg.solve((system * w[:, None]).T @ system + pull, (system * w[:, None]).T @ x)
    tilt = float(np.clip(found[1] / 300, -MOST_TILT, MOST_TILT))
    return MirrorPlane(float(np.clip(found[0], -MOST_OFF, MOST_OFF)) - tilt * centre, tilt)
