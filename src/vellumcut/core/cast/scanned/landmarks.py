"""Where the segments of a scanned body probably are: end points and front, for the maker to move.

Heights of joints come from extrema of girth where there are any, else from usual shares of the height (est.).
"""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from vellumcut.core.body.segments import ScanSegment, Side
from vellumcut.core.cast.scanned.arm import find_arm, front_of, upper_end
from vellumcut.core.cast.scanned.mesh import BodyMesh
from vellumcut.core.cast.scanned.sections import Loop, cut_levels, cut_loops, faces_near, plane_field
from vellumcut.core.errors import CraftError

Array = NDArray[np.float64]

SLICE, LEG_SLICE = 12.0, 8.0
ABOVE_ELBOW = 22.0
"""The upper arm's lowest ring lies this far above the elbow, mm: two fingers."""
KNEE, KNEE_SPREAD = 0.292, 0.02
"""Height of the knee joint as a share of the body's, and how far from it the narrowest ring is looked for (est.)."""
BELOW_KNEE, ABOVE_KNEE = 0.02, 0.016
"""The rings just below and above the kneecap lie this far from the joint, in shares of the height (est.)."""
NARROW = 1.015
"""A ring this near the narrowest is as good as the narrowest."""
_FRONT = (0.0, -1.0, 0.0)


@dataclass(frozen=True)
class Ends:
    """Proposed ends of a segment in the scan's upright mm: low is the hand's, foot's or hip's end."""

    low: tuple[float, float, float]
    high: tuple[float, float, float]
    front: tuple[float, float, float]
    how: str


NOT_UPRIGHT = "No body stands here as the file is read: turn it upright, or set the end points yourself"


def propose_ends(mesh: BodyMesh, segment: ScanSegment, side: Side) -> Ends:
    """A first guess. A mesh that is no whole body is taken to be the segment alone, along its longest way."""
    if not mesh.whole:
        return _alone(mesh)
    if segment == "torso":
        return _trunk(mesh)
    if segment in ("lower leg", "thigh"):
        return _leg(mesh, segment, side)
    return _arm(mesh, segment, side)


def _ends(low: Array, high: Array, how: str, front: Array | tuple[float, ...] = _FRONT) -> Ends:
    a, b = (tuple(round(float(x), 1) for x in p) for p in (low, high))
    return Ends(a, b, tuple(round(float(x), 3) for x in front), how)  # type: ignore[arg-type]


def _alone(mesh: BodyMesh) -> Ends:
    middle = mesh.vertices.mean(axis=0)
    _, _, ways = np.linalg.svd(mesh.vertices - middle, full_matrices=False)
    along = (mesh.vertices - middle) @ ways[0]
    sections = []
    for share in (0.12, 0.88):
        at = along.min() + share * np.ptp(along)
        loops = cut_loops(mesh, along, float(at))
        sections.append((loops[0].length if loops else 0.0, loops[0].middle if loops else middle + at * ways[0]))
    (_, low), (_, high) = sorted(sections, key=lambda s: s[0])
    return _ends(low, high, "the mesh's own length, the thin end first")


def _slices(mesh: BodyMesh, low: float, high: float, step: float = SLICE) -> list[tuple[float, list[Loop]]]:
    field = mesh.vertices[:, 2]
    near = faces_near(mesh, field, low, high)
    levels = np.arange(low, high, step)
    return list(zip(levels.tolist(), cut_levels(near, field, levels), strict=True))


def _crotch(mesh: BodyMesh, base: float) -> float:
    """Lowest height at which one ring spans the midline, between a third and six tenths of the body."""
    for z, loops in _slices(mesh, base + 0.36 * mesh.height, base + 0.6 * mesh.height):
        for loop in loops:
            x = loop.segments[..., 0] - _midline(mesh)
            if x.min() < -30 and x.max() > 30 and loop.length > 500:
                return z
    return base + 0.47 * mesh.height


ONE_SIDED = 25.0
"""mm by which the middle of all that is seen may lie beside the head's: more, and an arm is missing."""


def _midline(mesh: BodyMesh) -> float:
    x, z = mesh.vertices[:, 0], mesh.vertices[:, 2]
    middle = float((x.max() + x.min()) / 2)
    head = x[z > z.max() - 0.1 * mesh.height]
    of_head = float((head.max() + head.min()) / 2)
    return middle if abs(of_head - middle) < ONE_SIDED else of_head


def _trunk(mesh: BodyMesh) -> Ends:
    base, height, middle = float(mesh.vertices[:, 2].min()), mesh.height, _midline(mesh)
    crotch = _crotch(mesh, base)

    def central(z: float, loops: list[Loop]) -> Loop | None:
        near = [x for x in loops if abs(x.middle[0] - middle) < 60 and x.length > 150]
        return max(near, key=lambda x: x.length, default=None)

    def rings(low: float, high: float) -> list[tuple[float, Loop]]:
        found = [(z, r) for z, loops in _slices(mesh, low, high) if (r := central(z, loops))]
        if not found:
            raise CraftError(NOT_UPRIGHT, "scan.low")
        return found

    seat = max(rings(crotch + 0.03 * height, crotch + 0.13 * height), key=lambda item: item[1].length)
    necks = rings(base + 0.8 * height, base + 0.9 * height)
    thin = min(necks, key=lambda item: item[1].length)
    below = [
        (z, r) for z, r in necks[::-1]
        if z <= thin[0] and (r.length > 1.06 * thin[1].length or z <= thin[0] - 0.015 * height)
    ] if thin[0] > base + 0.8 * height + 2 * SLICE else []  # fmt: skip
    base_of_neck = below[0] if below else thin
    return _ends(seat[1].middle, base_of_neck[1].middle, "the fullest seat and the base of the neck")


def _leg(mesh: BodyMesh, segment: ScanSegment, side: Side) -> Ends:
    base, height, middle = float(mesh.vertices[:, 2].min()), mesh.height, _midline(mesh)
    crotch = _crotch(mesh, base)
    sign = 1 if side == "left" else -1
    rows: list[tuple[float, Loop]] = []
    for z, loops in _slices(mesh, base + 0.03 * height, crotch - 6, LEG_SLICE):
        own = [x for x in loops if (x.middle[0] - middle) * sign > 15 and x.length > 120]
        if own:
            rows.append((z, min(own, key=lambda x: abs(x.middle[0] - middle))))
    if len(rows) < 4:
        raise CraftError(NOT_UPRIGHT, "scan.low")
    rise = np.array([r[0] for r in rows]) - base
    girth = np.array([r[1].length for r in rows])

    def narrowest(low: float, high: float, nearest: float) -> int:
        """Of the rings between two shares of the height that are as good as the narrowest, the one nearest to a
        third."""
        band = np.flatnonzero((rise >= low * height) & (rise <= high * height))
        if not len(band):
            raise CraftError(NOT_UPRIGHT, "scan.low")
        slim = band[girth[band] <= NARROW * girth[band].min()]
        return int(slim[np.abs(rise[slim] - nearest * height).argmin()])

    under = KNEE - BELOW_KNEE
    if segment == "lower leg":
        low, high = narrowest(0.045, 0.12, 0.045), narrowest(under - KNEE_SPREAD, under + 0.005, under)
    else:
        low, high = int(np.argmin(np.abs(rise - (KNEE + ABOVE_KNEE) * height))), len(rows) - 2
    words = (
        "the narrowest ankle, and just below the kneecap"
        if segment == "lower leg"
        else "above the kneecap and the crotch"
    )
    return _ends(rows[low][1].middle, rows[high][1].middle, words, _toes(mesh, base, middle, sign))


def _toes(mesh: BodyMesh, base: float, middle: float, sign: int) -> Array:
    """Which way a leg's front points: half as far out as the foot does from heel to toes, since the shin turns out
    less."""
    v = mesh.vertices
    sole = v[(v[:, 2] < base + 0.03 * mesh.height) & ((v[:, 0] - middle) * sign > 0)][:, :2]
    if len(sole) < 8:
        return np.array(_FRONT)
    off = sole - sole.mean(axis=0)
    way = np.linalg.svd(off, full_matrices=False)[2][0]
    way = way if way[1] < 0 else -way
    turn = float(np.clip(np.arctan2(way[0], -way[1]), -0.8, 0.8)) / 2
    return np.array([np.sin(turn), -np.cos(turn), 0.0])


def _arm(mesh: BodyMesh, segment: ScanSegment, side: Side) -> Ends:
    arm = find_arm(mesh, side, _midline(mesh))
    front = front_of(arm, segment, side)
    if segment == "forearm":
        ends = arm.middles[arm.wrist], arm.middles[arm.elbow]
        return _ends(*ends, "the narrowest place above the hand, and where the arm bends", front)
    ends = arm.middles[arm.above_elbow(ABOVE_ELBOW)], upper_end(arm, mesh.height)
    return _ends(*ends, "just above the bend of the arm, and as high as a ring is still the arm alone", front)


def centre_at(mesh: BodyMesh, touched: Array, way: Array) -> Array:
    """Middle of the ring through a place touched on the skin, cut square to a direction, mm (3,)."""
    way = way / max(float(np.linalg.norm(way)), 1e-9)
    loops = cut_loops(mesh, plane_field(mesh, touched, way), 0.0)
    if not loops:
        return touched
    nearest = min(loops, key=lambda x: float(np.linalg.norm(x.segments.mean(axis=1) - touched, axis=1).min()))
    return nearest.middle
