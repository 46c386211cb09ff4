"""The arm of a scanned body: its middle line from hand to shoulder, its joints, and which side of it is its front.

Sections are taken from the trunk's side outward, so that each holds the whole limb: measured from the finger tips, a
section is a finger before it is a hand.
"""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.ndimage import gaussian_filter1d
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import dijkstra

from vellumcut.core.body.rings import tape_round
from vellumcut.core.body.segments import Side
from vellumcut.core.cast.scanned.mesh import BodyMesh
from vellumcut.core.cast.scanned.sections import Loop, cut_levels, cut_loops, plane_field
from vellumcut.core.errors import CraftError

Array = NDArray[np.float64]

STEP = 10.0
"""Distance of the sections along the skin, mm."""
KNUCKLES = 0.06
"""Distance of the knuckles from the finger tips as a share of the body's height, a little less than usual (est.)."""
MID_FOREARM = 0.185
"""Of the middle of the forearm, likewise."""
FOREARM, FOREARM_SPREAD = 0.14, 0.012
"""Wrist to elbow as a share of the body's height, and how much bodies differ in it (est.)."""
BEND_SURE = 4.0
"""How far an arm's middle line may wander from two straight bones, mm: how sure its bend is of the elbow's place."""
BENT = np.radians(12.0)
"""An elbow bent by less does not tell which side its crease is."""
TRUNK = 1.45
"""A section this much longer than the slimmest upper arm has met the trunk."""
HAND_GROWS = 1.1
"""Past the wrist the hand is this much larger round."""
UPPER_ARM = (0.08, 0.16)
"""The highest ring of an arm lies between these shares of the height above the elbow (est.)."""
UPPER_SPARE = 5.0
"""The highest ring is taken this far below where the trunk begins, mm: the fit may cut a little differently."""
THICKEST = 0.27
"""Of the body's height that a forearm is round at most on the whole; what is thicker is no arm alone (est.)."""
NOT_CLEAR = "No arm stands clear of the body here: set its end points yourself"
REACH = 130.0
"""No section of an arm reaches further from its middle, mm."""


@dataclass(frozen=True, eq=False)
class Arm:
    """limb: its part of the mesh. middles: (n, 3) mm from the hand to the shoulder. at: (n,) mm along them. girths:
    (n,) mm, a tape's, square to the
    arm. wrist, elbow: indices. hand: (k, 3) corners of the hand."""

    limb: BodyMesh
    middles: Array
    at: Array
    girths: Array
    wrist: int
    elbow: int
    hand: Array

    def way(self, low: int, high: int) -> Array:
        """Unit vector from one section's middle to another's."""
        way = self.middles[high] - self.middles[low]
        return np.asarray(way / np.linalg.norm(way))

    def above_elbow(self, mm: float) -> int:
        """Index of the section nearest to ``mm`` above the elbow."""
        return int(np.argmin(np.abs(self.at - self.at[self.elbow] - mm)))


def find_arm(mesh: BodyMesh, side: Side, middle: float) -> Arm:
    """Follow one arm of a whole body. middle: x of the midline, mm. Raises CraftError when there is none to follow."""
    skin = _from_midline(mesh, middle)
    tip = _finger_tip(mesh, skin, middle, 1 if side == "left" else -1)
    limb, away = _one_side(mesh, skin, tip, middle)
    start = mesh.vertices[tip], float(skin[tip]) - KNUCKLES * mesh.height
    rough = _rough_middles(limb, away, *start, mesh.height)
    if len(rough) < 12:
        raise CraftError(NOT_CLEAR, "scan.low")
    middles, girths = _square_sections(limb, gaussian_filter1d(rough, 2.0, axis=0, mode="nearest"))
    at = np.concatenate([[0], np.cumsum(np.linalg.norm(np.diff(middles, axis=0), axis=1))])
    wrist = _wrist(girths, at, mesh.height)
    elbow = _elbow(middles, at, wrist, mesh.height)
    if float(np.median(girths[wrist : elbow + 1])) > THICKEST * mesh.height:
        raise CraftError(NOT_CLEAR, "scan.low")
    return Arm(limb, middles, at, girths, wrist, elbow, _hand(limb, middles, wrist, mesh.height))


def _one_side(mesh: BodyMesh, away: Array, tip: int, middle: float) -> tuple[BodyMesh, Array]:
    """The part of the mesh that can be this arm, so that many cuts are quick, and its distances from the midline."""
    v = mesh.vertices
    sign = 1 if v[tip, 0] > middle else -1
    inside = ((v[:, 0] - middle) * sign > 0) & (away > 0.02 * mesh.height) & np.isfinite(away)
    inside &= v[:, 2] > v[:, 2].min() + 0.3 * mesh.height
    faces = mesh.faces[inside[mesh.faces].all(axis=1)]
    used, packed = np.unique(faces, return_inverse=True)
    return BodyMesh(v[used], packed.reshape(-1, 3).astype(np.int64)), away[used]


def _from_midline(mesh: BodyMesh, middle: float) -> Array:
    """Distance of every corner over the skin from the trunk's midline, front and back, mm; infinite where apart."""
    v = mesh.vertices
    ends = np.sort(np.vstack([mesh.faces[:, [0, 1]], mesh.faces[:, [1, 2]], mesh.faces[:, [2, 0]]]))
    one, other = np.divmod(np.unique(ends[:, 0] * len(v) + ends[:, 1]), len(v))
    graph = coo_matrix((np.linalg.norm(v[one] - v[other], axis=1), (one, other)), (len(v), len(v))).tocsr()
    rise = (v[:, 2] - v[:, 2].min()) / mesh.height
    off = np.abs(v[:, 0] - middle)
    near = max(20.0, float(np.sort(off)[min(40, len(off) - 1)]))
    sources = np.flatnonzero((off <= near) & (rise > 0.52) & (rise < 0.8))
    if not len(sources):
        raise CraftError("The scan has no trunk to find the arms from: set the end points yourself", "scan.low")
    return np.asarray(dijkstra(graph, directed=False, indices=sources, min_only=True))


def _finger_tip(mesh: BodyMesh, away: Array, middle: float, sign: int) -> int:
    v = mesh.vertices
    rise = (v[:, 2] - v[:, 2].min()) / mesh.height
    own = np.flatnonzero(
        (rise > 0.3) & (rise < 1.2) & ((v[:, 0] - middle) * sign > 0.08 * mesh.height) & np.isfinite(away)
    )
    if not len(own):
        raise CraftError("The scan shows no arm on this side: set the end points yourself", "scan.low")
    return int(own[away[own].argmax()])


def _rough_middles(limb: BodyMesh, away: Array, tip: Array, knuckles: float, height: float) -> Array:
    """Middles of the rings of equal distance from the trunk, from the knuckles inward to where the arm ends, (n, 3)."""
    out: list[Array] = []
    slim = np.inf
    centre = tip
    rings = cut_levels(limb, away, np.arange(knuckles, away.min(), -STEP)[::-1])
    for ring in rings[::-1]:
        loops = [x for x in ring if np.linalg.norm(x.middle - centre) < REACH]
        if not loops:
            break
        loop = max(loops, key=lambda x: x.length)
        if len(out) > 0.22 * height / STEP:
            if loop.length > TRUNK * slim:
                break
            slim = min(slim, loop.length)
        centre = loop.middle
        out.append(centre)
    return np.array(out).reshape(-1, 3)


def _square_sections(mesh: BodyMesh, middles: Array) -> tuple[Array, Array]:
    """Middles and tape girths of cuts square to the arm, twice over: the second cut is square to what the first
    found."""
    for _ in range(2):
        way = np.gradient(gaussian_filter1d(middles, 3.0, axis=0, mode="nearest"), axis=0)
        loops = [section_at(mesh, p, w) for p, w in zip(middles, way, strict=True)]
        found = np.array([p if x is None else x.middle for p, x in zip(middles, loops, strict=True)])
        middles = gaussian_filter1d(found, 1.5, axis=0, mode="nearest")
    girths = [np.nan if x is None else _tape(x, w) for x, w in zip(loops, way, strict=True)]
    known = np.isfinite(girths)
    if known.sum() < 10:
        raise CraftError("The arm is too broken to be followed: set its end points yourself", "scan.low")
    k = np.arange(len(girths))
    return middles, np.interp(k, k[known], np.asarray(girths)[known])


def section_at(mesh: BodyMesh, place: Array, way: Array) -> Loop | None:
    """The cut square to ``way`` whose middle lies nearest to a place inside a limb."""
    way = way / max(float(np.linalg.norm(way)), 1e-9)
    near = np.linalg.norm(mesh.vertices - place, axis=1) < REACH
    local = BodyMesh(mesh.vertices, mesh.faces[near[mesh.faces].any(axis=1)])
    loops = [x for x in cut_loops(local, plane_field(local, place, way), 0.0) if x.length > 60]
    return min(loops, key=lambda x: float(np.linalg.norm(x.middle - place)), default=None)


def _tape(loop: Loop, way: Array) -> float:
    """Girth that a tape reads round a cut square to ``way``, mm."""
    way = way / max(float(np.linalg.norm(way)), 1e-9)
    across = np.cross(way, np.eye(3)[int(np.abs(way).argmin())])
    across /= np.linalg.norm(across)
    points = loop.segments.reshape(-1, 3)
    return tape_round(np.stack([points @ across, points @ np.cross(way, across)], axis=1))


def _wrist(girths: Array, at: Array, height: float) -> int:
    """From the middle of the forearm towards the hand, the narrowest section before the hand makes it grow."""
    even = gaussian_filter1d(girths, 1.0, mode="nearest")
    begin = int(np.argmin(np.abs(at - (MID_FOREARM - KNUCKLES) * height)))
    best = begin
    for k in range(begin, -1, -1):
        if even[k] <= even[best]:
            best = k
        elif even[k] > HAND_GROWS * even[best]:
            break
    return best


def _elbow(middles: Array, at: Array, wrist: int, height: float) -> int:
    """Where two straight bones fit the middle line best, held near the usual length of a forearm."""
    length = at - at[wrist]
    tried = np.flatnonzero((length > 0.09 * height) & (length < 0.19 * height))
    if not len(tried):
        raise CraftError("The arm is too short to tell its elbow: set the end points yourself", "scan.high")
    last = int(np.argmin(np.abs(length - 0.27 * height)))

    def misfit(k: int) -> float:
        off = [_off_line(middles[wrist : k + 1]), _off_line(middles[k : last + 1])]
        wander = float(np.sqrt(np.mean(np.concatenate(off) ** 2)))
        return float((3 * wander / BEND_SURE) ** 2 + ((length[k] / height - FOREARM) / FOREARM_SPREAD) ** 2)

    return min((int(k) for k in tried), key=misfit)


def _off_line(points: Array) -> Array:
    """Distances of points (n, 3) from the straight line between the first and the last, mm."""
    way = points[-1] - points[0]
    length = float(np.linalg.norm(way))
    if length < 1e-6:
        return np.zeros(len(points))
    return np.asarray(np.linalg.norm(np.cross(points - points[0], way / length), axis=1))


def _hand(limb: BodyMesh, middles: Array, wrist: int, height: float) -> Array:
    """Corners past the wrist, (k, 3)."""
    v = limb.vertices
    way = middles[wrist] - middles[min(wrist + 6, len(middles) - 1)]
    way /= np.linalg.norm(way)
    near = np.linalg.norm(v - middles[wrist], axis=1) < 0.14 * height
    return np.asarray(v[near & ((v - middles[wrist]) @ way > 5.0)])


def upper_end(arm: Arm, height: float) -> Array:
    """Middle of the highest ring that is still the arm alone, square to the upper arm, mm (3,)."""
    top = len(arm.middles) - 1
    start, way = arm.middles[arm.elbow], arm.way(arm.elbow, max(arm.elbow + 4, round(0.7 * top + 0.3 * arm.elbow)))
    low, high = UPPER_ARM
    free, lengths = start + low * height * way, [np.inf, np.inf]
    for d in np.arange(low * height, high * height, 4.0):
        loop = section_at(arm.limb, free + 4.0 * way, way)
        if loop is None or loop.length > 1.12 * lengths[-2]:
            break
        if loop.closed:
            lengths.append(loop.length)
        free = loop.middle - ((loop.middle - start) @ way - d) * way
    return np.asarray(free - UPPER_SPARE * way)


def front_of(arm: Arm, segment: str, side: Side) -> Array:
    """Which way an arm's front points, (3,): see docs/decisions/0019.

    Of the upper arm it is the side that the elbow folds to. Of the forearm it is the back of the hand, so that an
    opening opposite to it lies inside, on the palm's side, where the eye does not go.
    """
    upper, fore = arm.way(len(arm.middles) - 1, arm.elbow), arm.way(arm.elbow, arm.wrist)
    outward = np.array([1.0 if side == "left" else -1.0, 0.0, 0.0])
    ahead = np.array([0.0, -1.0, 0.0])
    crease = fore - (fore @ upper) * upper if segment == "upper arm" else (upper @ fore) * fore - upper
    bent = float(np.arccos(np.clip(upper @ fore, -1, 1))) > BENT
    if segment == "upper arm":
        return _unit(crease) if bent else _across(ahead, upper)
    back = _back_of_hand(arm, fore, outward)
    if back is not None:
        return back
    return _across(np.cross(crease, fore) * outward[0], fore) if bent else _across(outward, fore)


def _back_of_hand(arm: Arm, fore: Array, outward: Array) -> Array | None:
    """Square to the hand's plane, away from the body; None where the hand is a fist or was not seen."""
    if len(arm.hand) < 30:
        return None
    spread = arm.hand - arm.hand.mean(axis=0)
    spread = spread - (spread @ fore)[:, None] * fore
    values, ways = np.linalg.eigh(spread.T @ spread)
    wide, thin = values[2], values[1]
    if wide < 1.7 * thin:
        return None
    thick = _across(ways[:, 1], fore)
    # Hands hang with their backs out, are held with them up, or are shown with them ahead.
    shown = outward + np.array([0.0, -0.5, 0.6])
    return np.asarray(thick * (1.0 if thick @ shown >= 0 else -1.0))


def _across(way: Array, axis: Array) -> Array:
    return _unit(way - (way @ axis) * axis)


def _unit(way: Array) -> Array:
    return np.asarray(way / max(float(np.linalg.norm(way)), 1e-9))
