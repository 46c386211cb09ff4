"""From a scanned body to the tube of its trunk: level rings to the armpits, a fan of cones over the shoulders."""

import numpy as np
from numpy.typing import NDArray
from scipy.ndimage import binary_dilation, gaussian_filter, gaussian_filter1d

from vellumcut.core.body.rings import even_ring
from vellumcut.core.body.torso import TORSO_STATIONS
from vellumcut.core.cast.scanned.besides import said_of_trunk
from vellumcut.core.cast.scanned.mesh import BodyMesh
from vellumcut.core.cast.scanned.mirror_plane import mirror_plane
from vellumcut.core.cast.scanned.scan import (
    CENTRE_SMOOTH,
    LEVEL_STEP,
    SWELL,
    Placement,
    ScanFit,
    bridged,
    fill_gaps,
    measured_sections,
    residual_of,
    rings_from_radii,
    with_girths,
)  # fmt: skip
from vellumcut.core.cast.scanned.sections import (
    Loop,
    cut_levels,
    cut_loops,
    faces_near,
    loop_round,
    polar_radii,
    ring_angles,
)
from vellumcut.core.cast.smoothing import smooth_within
from vellumcut.core.cast.trunk import COLUMNS, ring_length
from vellumcut.core.cast.trunk_tube import TrunkTube, shoulder_point, with_armhole
from vellumcut.core.errors import CraftError

Array = NDArray[np.float64]

BELOW_HIP = 80.0
ONE_THIGH = 0.85
"""A ring this much shorter than the one above it, below the hip, is one thigh: the trunk has ended."""
USUAL_ARMPIT, LEAST_ARMPIT = 0.76, 0.75
"""Height of the armpits over the hip as a share of the neck's (est.)."""
ARMPITS = (0.38, 0.91)
"""Between these shares they are looked for."""
LEAST_TRUNK, MOST_TRUNK = 300.0, 900.0
NECK_LEAN = np.radians(26.0)
"""The neck's base leans forward by this (est.): the pit of the throat lies lower than the nape."""
NECK_STEP, NECK_STEPS = 6.0, 9
SHOULDERS_IN = 1.3
"""A cut this much longer than the neck a little higher up has run through the shoulders (est.)."""
SHOULDERS_OVER_CHEST = 1.22
"""Shoulder points stand this much wider than the chest between the armpits (est.); beyond it a scan shows the arm."""
SHOULDER_CONE = np.radians(38.0)
"""Elevation at which the fan meets the shoulder point (est.)."""
CONES = np.radians(np.arange(2.0, 74.0, 3.0))
TOP_ROWS = 24
NARROW = 40.0
"""A cast lies over hollows of a smaller radius across the trunk, mm (est.): the cleft of the seat, the groove of the
spine."""
SMOOTH, SMOOTH_BUDGET = (20.0, 16.0, 13.0, 10.0, 8.0, 6.0), 0.8
"""As for a limb's tube: a trunk has no detail as fine."""
_LEFT, _AHEAD = np.array([1.0, 0.0, 0.0]), np.array([0.0, -1.0, 0.0])


def trunk_placement(low: Array, high: Array, front: Array) -> Placement:
    """Upright axes through the hip's middle. Raises CraftError when the ends are no trunk's."""
    rise = float(high[2] - low[2])
    if not LEAST_TRUNK <= rise <= MOST_TRUNK:
        raise CraftError(
            f"The neck lies {rise:.0f} mm over the hip; a trunk is {LEAST_TRUNK:.0f} to {MOST_TRUNK:.0f} mm tall",
            "scan.high",
        )
    back = -np.array([front[0], front[1], 0.0])
    if np.linalg.norm(back) < 1e-6:
        raise CraftError("The front points up; point it forward", "scan.front")
    back /= np.linalg.norm(back)
    up = np.array([0.0, 0.0, 1.0])
    return Placement(np.array([low[0], low[1], low[2]]), np.stack([np.cross(back, up), back, up]), False)


def fit_trunk(mesh: BodyMesh, low: Array, high: Array, front: Array, armhole: float | None = None) -> ScanFit:
    """The tube of a trunk from the middle of the hip (low) to the middle of the neck base (high), mm.

    armhole: its girth, mm; None takes what proportion gives. Raises CraftError.
    """
    place, tilt = _between_the_halves(mesh, trunk_placement(low, high, front), high)
    local = BodyMesh(place.to_tube(mesh.vertices), mesh.faces)
    neck = _clear_of_shoulders(local, place.to_tube(high[None])[0])
    neck = np.array([tilt * neck[2], neck[1], neck[2]])
    field = local.vertices[:, 2]
    levels = np.arange(-BELOW_HIP, neck[2], LEVEL_STEP)
    loops, first = _trunk_loops(faces_near(local, field, -BELOW_HIP - 5, neck[2] + 5), field, levels)
    levels = levels[first:]
    free = _free_of_arms(levels, loops, float(neck[2]))
    said = said_of_trunk(local, levels, loops, free, float(neck[2]))
    keep = levels <= max(levels[free], LEAST_ARMPIT * neck[2])
    centres = _even_centres(loops[: free + 1], levels, tilt)
    radii = np.stack([polar_radii(loops[k], centres[k], _LEFT, _AHEAD) for k in np.flatnonzero(keep)])
    radii = bridged(fill_gaps(_without_arm_roots(radii, free)), NARROW)
    trunk = rings_from_radii(centres[keep], radii)
    levels = levels[keep]
    top, steps, shoulder = _top(local, centres[keep][-1], radii[-1], neck)
    all_levels = np.concatenate([levels, levels[-1] + steps])
    grid = np.stack([even_ring(r, COLUMNS) for r in [*trunk, *top]])
    whole = np.arange(len(loops)) <= free
    sections = measured_sections(levels, loops[: len(levels)], whole[: len(levels)])
    grid = with_girths(all_levels, smooth_within(all_levels, grid, SMOOTH, SMOOTH_BUDGET), sections)
    where = _stations(levels, trunk)
    at = (0.0, *where, float(levels[-1]), float(all_levels[len(levels) + shoulder]), float(all_levels[-1]))
    row = int(np.argmin(np.abs(levels - where[2])))
    tube = TrunkTube(TORSO_STATIONS, at, all_levels, grid, (_apex(grid[row]), 3.0), np.zeros((0, 2)), sections=sections)
    tube = with_armhole(tube, armhole or _usual_armhole(tube))
    return ScanFit(tube, place, residual_of(tube, local, 0.0, where[2]), said)


def _between_the_halves(mesh: BodyMesh, place: Placement, high: Array) -> tuple[Placement, float]:
    """The same axes moved and turned on to the plane between left and right, and how far that leans, mm a mm up."""
    local = BodyMesh(place.to_tube(mesh.vertices), mesh.faces)
    plane = mirror_plane(local, 0.0, float(place.to_tube(high[None])[0][2]))
    turn = np.array([[1.0, -plane.yaw, 0.0], [plane.yaw, 1.0, 0.0], [0.0, 0.0, np.hypot(1.0, plane.yaw)]])
    axes = turn / np.hypot(1.0, plane.yaw) @ place.axes
    return Placement(place.origin + plane.at * place.axes[0], axes, False), plane.tilt


def _trunk_loops(mesh: BodyMesh, field: Array, levels: Array) -> tuple[list[Loop], int]:
    """The ring of the trunk at each level, and the first level that has one: below the crotch there are two thighs."""
    begin = len(levels) // 2
    cuts = cut_levels(mesh, field, levels)
    found: dict[int, Loop] = {}
    for way in (range(begin, len(levels)), range(begin, -1, -1)):
        centre, length = np.zeros(3), 0.0
        for k in way:
            loops = cuts[k]
            loop = loop_round(loops, centre, _LEFT, _AHEAD) or (loops[0] if loops else None)
            if way.step < 0 and levels[k] < 0 and (loop is None or loop.length < ONE_THIGH * length):
                break
            if loop is None:
                raise CraftError(f"The scan ends {levels[k]:.0f} mm from the hip", "scan.high")
            found[k] = loop
            centre, length = np.array([0.0, loop.middle[1], levels[k]]), loop.length
    first = min(found)
    return [found[k] for k in range(first, len(levels))], first


def _free_of_arms(levels: Array, loops: list[Loop], neck: float) -> int:
    """Index of the last level below the arms: where the ring suddenly takes the arms in, or three quarters up.

    It is told by the width, which a hole in the scan hardly changes.
    """
    step = round(8.0 / LEVEL_STEP)
    width = np.array([np.ptp(loop.segments[..., 0]) for loop in loops])
    for k in np.flatnonzero((levels > ARMPITS[0] * neck) & (levels < ARMPITS[1] * neck)):
        if width[k + step] > SWELL * width[max(0, k - 5 * step) : k + 1].max():
            return int(k) - 1
    return int(np.searchsorted(levels, USUAL_ARMPIT * neck))


def _without_arm_roots(radii: Array, free: int) -> Array:
    """Rings over the place where thick arms meet the trunk: what bulges past the last free ring there is arm."""
    most = radii[free] * 1.03
    most[~(np.abs(np.sin(ring_angles())) > 0.55)] = np.inf
    out = radii.copy()
    out[free + 1 :] = np.where(out[free + 1 :] > most, np.nan, out[free + 1 :])
    return out


def _even_centres(loops: list[Loop], levels: Array, tilt: float) -> Array:
    """Middles of the free rings on the plane between left and right, evened; above them the last one's goes on."""
    box = np.stack([(x.segments.min(axis=(0, 1)) + x.segments.max(axis=(0, 1))) / 2 for x in loops])
    box = np.vstack([box, np.repeat(box[-1:], len(levels) - len(box), axis=0)])
    centres = gaussian_filter1d(box, CENTRE_SMOOTH, axis=0, mode="nearest")
    centres[:, 0], centres[:, 2] = tilt * levels, levels
    return np.asarray(centres)


def _stations(levels: Array, rings: Array) -> tuple[float, float, float]:
    """Waist, underbust and bust over the hip, mm: the narrowest ring, and where the chest stands out most."""
    top = float(levels[-1])
    girth = np.array([ring_length(r) for r in rings])
    band = (levels > 0.25 * top) & (levels < 0.68 * top)
    at = int(np.flatnonzero(band)[girth[band].argmin()])
    edge = at in (np.flatnonzero(band)[0], np.flatnonzero(band)[-1])
    waist = 0.5 * top if edge else float(levels[at])
    ahead = rings[:, :, 1].min(axis=1)
    chest = (levels > waist + 0.35 * (top - waist)) & (levels < top - 10)
    bust = float(levels[chest][_stands_out(ahead[chest])])
    return waist, bust - min(18 + 0.25 * (bust - waist), 0.6 * (bust - waist)), bust


def _stands_out(ahead: Array) -> int:
    """Index of the most prominent forward bulge; on a flat chest, of what lies farthest before the chord."""
    from scipy.signal import find_peaks  # noqa: PLC0415 - takes a second to load, and is only wanted here

    peaks, facts = find_peaks(-ahead, prominence=1.5)
    if len(peaks):
        return int(peaks[facts["prominences"].argmax()])
    return int((ahead - np.linspace(ahead[0], ahead[-1], len(ahead))).argmin())


def _apex(ring: Array) -> float:
    front = ring[: len(ring) // 5]
    return float(front[:, 1].argmin() / len(ring)) if front[:, 1].argmin() > 2 else 0.09


def _usual_armhole(tube: TrunkTube) -> float:
    ends = tube.frame(np.full(2, shoulder_point(tube)), np.array([4.0, 5.0]))[0]
    return float(3.4 * np.linalg.norm(ends[1] - ends[0]))


def _top(mesh: BodyMesh, centre: Array, chest: Array, neck: Array) -> tuple[Array, Array, int]:
    """Rows from the armpit to the neck base (rows, angles, 3), their mean distance up, mm, and the shoulder's row."""
    base = _neck_ring(mesh, neck)
    angle = ring_angles()
    away = mesh.vertices - centre
    elevation = np.arctan2(away[:, 2], np.hypot(away[:, 0], away[:, 1]))
    table = [chest]
    near = faces_near(mesh, away[:, 2], -20.0, float(neck[2] - centre[2]) + 120)
    for cone, loops in zip(CONES, cut_levels(near, elevation, CONES), strict=True):
        loop = loop_round(loops, centre, _LEFT, _AHEAD)
        radius = polar_radii(loop, centre, _LEFT, _AHEAD) if loop else np.full(len(angle), np.nan)
        table.append(np.where(radius > _reach(chest, angle, float(cone)), np.nan, radius))
    radii = _behind_arms(np.stack(table))
    ends = _at_angles(base - centre, angle)
    last = np.arctan2(ends[:, 2], np.hypot(ends[:, 0], ends[:, 1]))
    share = np.arange(1, TOP_ROWS + 1) / TOP_ROWS
    cones = np.concatenate([[0.0], CONES])
    rows = np.zeros((TOP_ROWS, len(angle), 3))
    for j in range(len(angle)):
        e = share * last[j]
        r = np.interp(e, cones, radii[:, j])
        blend = share**6
        r = r * (1 - blend) + np.hypot(ends[j, 0], ends[j, 1]) * blend
        rows[:, j] = centre + np.stack([r * np.sin(angle[j]), -r * np.cos(angle[j]), r * np.tan(e)], axis=1)
    start = centre + np.stack([chest * np.sin(angle), -chest * np.cos(angle), np.zeros_like(angle)], axis=1)
    steps = np.cumsum(np.linalg.norm(np.diff(np.vstack([start[None], rows]), axis=0), axis=2).mean(axis=1))
    wide = rows[:, len(angle) // 4, 0]
    shoulder = int(np.flatnonzero(wide >= 0.97 * wide.max())[-1])
    return rows, steps, min(max(shoulder, 3), TOP_ROWS - 4)


def _reach(chest: Array, angle: Array, cone: float) -> Array:
    """Farthest a ray may see before it looks along an arm, by angle, mm: a little more the steeper it looks."""
    half = float(np.interp(np.pi / 2, angle, chest))
    shoulder = half * (1.02 + (SHOULDERS_OVER_CHEST - 1.02) * min(1.0, cone / SHOULDER_CONE))
    side = np.abs(np.sin(angle)) ** 3
    return np.asarray((1 - side) * 1.3 * chest + side * shoulder)


def _behind_arms(radii: Array) -> Array:
    """Fill what arms hide, and what lies next to it: up each column between what was seen below and above."""
    hidden = np.isnan(radii)
    wide = np.tile(hidden, 3)
    hidden = (
        binary_dilation(wide, np.ones((3, 5)))[:, radii.shape[1] : 2 * radii.shape[1]]
        & (np.arange(len(radii)) > 0)[:, None]
    )
    filled = radii.copy()
    row = np.arange(len(radii))
    for j in np.flatnonzero(hidden.any(axis=0)):
        seen = ~hidden[:, j]
        filled[:, j] = np.interp(row, row[seen], radii[seen, j])
    soft = gaussian_filter(filled, 1.5, mode=("nearest", "wrap"))
    share = gaussian_filter(hidden.astype(float), 2.0, mode=("nearest", "wrap"))
    share[0] = 0.0
    return np.asarray(filled * (1 - share) + soft * share)


_LEAN_UP = np.array([0.0, -np.sin(NECK_LEAN), np.cos(NECK_LEAN)])
_LEAN_AHEAD = np.array([0.0, -np.cos(NECK_LEAN), -np.sin(NECK_LEAN)])


def _leaning_loop(mesh: BodyMesh, neck: Array) -> Loop | None:
    return loop_round(cut_loops(mesh, (mesh.vertices - neck) @ _LEAN_UP, 0.0), neck, _LEFT, _LEAN_AHEAD)


def _clear_of_shoulders(mesh: BodyMesh, neck: Array) -> Array:
    """The neck's middle moved up to where a leaning cut no longer takes in the shoulders, as it does where they are
    high or the point was set low."""
    near = faces_near(mesh, mesh.vertices[:, 2], float(neck[2]) - 150, float(neck[2]) + 150)
    steps = [neck + k * NECK_STEP * np.array([0.0, 0.0, 1.0]) for k in range(NECK_STEPS + 1)]
    girths = np.array([loop.length if (loop := _leaning_loop(near, p)) else np.inf for p in steps])
    ahead = np.append(girths[2:], girths[-1:].repeat(2))
    clear = np.flatnonzero((girths < SHOULDERS_IN * ahead) & (girths < SHOULDERS_IN * girths.min()))
    return steps[int(clear[0])] if len(clear) and np.isfinite(girths.min()) else neck


def _neck_ring(mesh: BodyMesh, neck: Array) -> Array:
    ahead, loop = _LEAN_AHEAD, _leaning_loop(mesh, neck)
    if loop is None:
        raise CraftError("The scan has no closed ring at the neck's base; move the upper end point", "scan.high")
    angle = ring_angles()
    radius = fill_gaps(polar_radii(loop, neck, _LEFT, ahead)[None])[0]
    return np.asarray(neck + radius[:, None] * (np.sin(angle)[:, None] * _LEFT + np.cos(angle)[:, None] * ahead))


def _at_angles(ring: Array, angle: Array) -> Array:
    """A ring's points (k, 3) about 0 read at angles in plan."""
    own = np.arctan2(ring[:, 0], -ring[:, 1]) % (2 * np.pi)
    order = np.argsort(own)
    return np.stack([np.interp(angle, own[order], ring[order, c], period=2 * np.pi) for c in range(3)], axis=1)
