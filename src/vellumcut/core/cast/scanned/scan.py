"""From a scanned body to the tube of one limb or trunk, with what the tube misses of it."""

from dataclasses import dataclass

import igl
import numpy as np
import shapely
from numpy.typing import NDArray
from scipy.ndimage import gaussian_filter1d

from vellumcut.core.body.rings import RingTube, Sections, even_ring, tape_round
from vellumcut.core.cast.scanned.mesh import BodyMesh, Faces
from vellumcut.core.cast.scanned.sections import Loop, cut_levels, faces_near, loop_round, polar_radii, ring_angles
from vellumcut.core.cast.smoothing import smooth_within
from vellumcut.core.errors import CraftError

Array = NDArray[np.float64]

COLUMNS = 160
LEVEL_STEP = 4.0
"""Distance between rings, mm."""
PAST_THE_ENDS = 80.0
SWELL = 1.12
"""A ring this much longer than its neighbour 8 mm before is no more the limb: it has met the trunk or the other leg."""
STEP_OUT = 1.01
"""Where rings have met another part, the limb's own radius may still grow by this factor a level."""
LEAST_OF_RING = 0.35
"""Share of a ring that must have been seen for the rest to be guessed."""
SMOOTH, SMOOTH_BUDGET = (10.0, 8.0, 6.5, 5.0, 4.0), 0.35
"""How far a limb's tube is evened, mm, first that fits; and by how much that may move it, mm (see smoothing)."""
LEAST_SPAN, MOST_SPAN = 60.0, 900.0
CENTRE_SMOOTH = 6.0
"""Levels over which the limb's spine is evened, so the front line does not wander with the mesh."""


NARROW = 25.0
"""A cast lies over hollows of a smaller radius across the limb, mm (est.)."""
LET_OUT, TAPE_LEAST = 0.6, 1.01
"""A smoothed ring is let out by this much at most, mm, and no further than this share of what a tape reads."""
RESIDUAL_STEP, RESIDUAL_COLUMNS = 5.0, 120
"""Spacing of the places where the fit is measured: mm along, and how many round."""
LEAST_OF_HOLE, ASLANT = 1.5, 0.7
"""A place further from the scan than this, mm, and seen from it this aslant (cosine) lies over a hole of the scan."""


FOLLOWS = 1.0, 2.5
"""mm within which 95 % of a tube lie that follows its scan, and that follows it roughly (est.)."""


@dataclass(frozen=True, eq=False)
class Residual:
    """How far the tube lies from its scan, mm: (n, 3) places on it in its own axes, (n,) distances, above 0 where the
    scan lies outside."""

    places: Array
    miss: Array

    @property
    def mean(self) -> float:
        """Mean distance, mm."""
        return float(np.abs(self.miss).mean())

    @property
    def p95(self) -> float:
        """95 % of the places lie nearer, mm."""
        return float(np.quantile(np.abs(self.miss), 0.95))

    @property
    def worst(self) -> float:
        """Largest distance, mm."""
        return float(np.abs(self.miss).max())


@dataclass(frozen=True, eq=False)
class Placement:
    """Where a tube sits in the scan: origin (3,) mm and axes (3, 3), rows left, back, up. mirrored: a right limb,
    modelled as a left one."""

    origin: Array
    axes: Array
    mirrored: bool

    def to_tube(self, points: Array) -> Array:
        """(n, 3) mm of the scan -> of the tube."""
        local = (points - self.origin) @ self.axes.T
        return local * np.array([-1.0, 1.0, 1.0]) if self.mirrored else local

    def to_scan(self, points: Array) -> Array:
        """(n, 3) mm of the tube -> of the scan."""
        local = points * np.array([-1.0, 1.0, 1.0]) if self.mirrored else points
        return np.asarray(local @ self.axes + self.origin)


@dataclass(frozen=True, eq=False)
class ScanFit:
    tube: RingTube
    place: Placement
    residual: Residual
    warnings: tuple[str, ...] = ()

    @property
    def verdict(self) -> str:
        """How well the tube follows the scan, in words."""
        rough = "" if self.residual.p95 < FOLLOWS[0] else " roughly"
        return f"The tube follows the scan{rough}" if self.follows else "The tube does not follow the scan here"

    @property
    def follows(self) -> bool:
        """Whether a pattern may be drawn on it."""
        return self.residual.p95 < FOLLOWS[1]


def limb_placement(low: Array, high: Array, front: Array, mirrored: bool) -> Placement:
    """Axes of a limb from its two end points and a direction that is its front. Raises CraftError."""
    axis = high - low
    span = float(np.linalg.norm(axis))
    if not LEAST_SPAN <= span <= MOST_SPAN:
        raise CraftError(
            f"The two end points are {span:.0f} mm apart; they must be {LEAST_SPAN:.0f} to {MOST_SPAN:.0f} mm apart",
            "scan.high",
        )
    up = axis / span
    back = -(front - (front @ up) * up)
    if np.linalg.norm(back) < 0.1 * max(float(np.linalg.norm(front)), 1e-9):
        raise CraftError("The front points along the limb; point it across", "scan.front")
    back /= np.linalg.norm(back)
    return Placement(low, np.stack([np.cross(back, up), back, up]), mirrored)


def fit_limb(
    mesh: BodyMesh, place: Placement, span: float, names: tuple[str, ...], mid: float | None = None
) -> ScanFit:
    """The tube of a limb between its end points.

    span: distance of the end points, mm. names: three stations. mid: distance of the middle one from the first,
    mm; None puts it at the fullest ring between them. Raises CraftError when the cut rings do not close.
    """
    local = BodyMesh(place.to_tube(mesh.vertices), mesh.faces)
    field = local.vertices[:, 2]
    near = faces_near(local, field, -PAST_THE_ENDS - LEVEL_STEP, span + PAST_THE_ENDS + LEVEL_STEP)
    levels = np.linspace(0.0, span, max(8, round(span / LEVEL_STEP)) + 1)
    loops, joined = _limb_loops(near, field, levels)
    centres = _even_centres(loops, joined, levels)
    radii = np.stack([_radii(loop, c) for loop, c in zip(loops, centres, strict=True)])
    radii = _leave_what_joins(radii, joined)
    sections = measured_sections(levels, loops, ~np.array(joined))
    before = [] if joined[0] else _extend(near, field, levels[0], -1, loops[0], centres[0])
    after = [] if joined[-1] else _extend(near, field, levels[-1], +1, loops[-1], centres[-1])
    levels = np.concatenate([[z for z, _, _ in before[::-1]], levels, [z for z, _, _ in after]])
    centres = np.vstack([*(c for _, c, _ in before[::-1]), centres, *(c for _, c, _ in after)])
    radii = np.vstack([*(r for _, _, r in before[::-1]), radii, *(r for _, _, r in after)])
    radii = bridged(fill_gaps(radii), NARROW)
    grid = smooth_within(levels, rings_from_radii(centres, radii), SMOOTH, SMOOTH_BUDGET)
    grid = with_girths(levels, grid, sections)
    girth = np.array([np.linalg.norm(np.diff(np.vstack([g, g[:1]]), axis=0), axis=1).sum() for g in grid])
    inside = (levels > 0.15 * span) & (levels < 0.85 * span)
    fullest = float(levels[inside][int(girth[inside].argmax())]) if mid is None else mid
    if not 0 < fullest < span:
        raise CraftError("The middle station must lie between the two ends", "scan.mid")
    tube = RingTube(names, (0.0, fullest, span), levels, grid, sections=sections)
    free = levels[len(before) : len(before) + len(joined)][~np.array(joined)]
    warnings = (
        ()
        if not any(joined)
        else (
            f"The limb meets another part of the body from {_where(free, span)}; "
            "the tube goes on there in its own shape.",
        )
    )
    return ScanFit(
        tube,
        place,
        residual_of(tube, local, float(free.min()), float(free.max())),
        warnings,
    )


def measured_sections(levels: Array, loops: list[Loop], free: NDArray[np.bool_]) -> Sections | None:
    """Girths of the cuts themselves at the levels where the part is free of others; None where too few are whole."""
    whole = free & np.array([loop.closed for loop in loops])
    if whole.sum() < 2:
        return None
    used = [loop for loop, kept in zip(loops, whole, strict=True) if kept]
    tape = [tape_round(loop.segments.reshape(-1, 3)) for loop in used]
    return Sections(levels[whole], np.array([loop.length for loop in used]), np.array(tape))


def with_girths(levels: Array, grid: Array, sections: Sections | None) -> Array:
    """Rings (l, k, 3) let out to the girth that was measured there: what smoothing has taken off is given back, as far
    as it is no hollow that foam lies over anyhow."""
    if sections is None:
        return grid
    own = np.linalg.norm(np.roll(grid, -1, axis=1) - grid, axis=2).sum(axis=1)
    want = np.interp(levels, sections.levels, np.minimum(sections.plane, sections.tape * TAPE_LEAST))
    out = np.where(sections.known(levels), np.clip((want - own) / (2 * np.pi), 0.0, LET_OUT), 0.0)
    even = gaussian_filter1d(out, CENTRE_SMOOTH, mode="nearest")[:, None, None]
    middle = grid.mean(axis=1, keepdims=True)
    away = (grid - middle) * np.array([1.0, 1.0, 0.0])
    return np.asarray(grid + even * away / np.maximum(np.linalg.norm(away, axis=2).mean(axis=1), 1e-9)[:, None, None])


def _where(free: Array, span: float) -> str:
    return f"{free.max():.0f} mm up" if free.max() < span - LEVEL_STEP else f"{free.min():.0f} mm down"


def _limb_loops(mesh: BodyMesh, field: Array, levels: Array) -> tuple[list[Loop], list[bool]]:
    """The ring of the limb at each level, followed from the middle out to both ends.

    Also whether the ring has met another part of the body there (the trunk, the other leg).
    """
    x, ahead = np.array([1.0, 0.0, 0.0]), np.array([0.0, -1.0, 0.0])
    found: dict[int, Loop] = {}
    joined = [False] * len(levels)
    cuts = cut_levels(mesh, field, levels)
    begin = _freest(cuts, levels)
    for way in (range(begin, len(levels)), range(begin, -1, -1)):
        centre, length, met, since = np.zeros(3), np.inf, False, 0
        for k in way:
            loops = cuts[k]
            loop = loop_round(loops, centre, x, ahead) or _pieced(loops, centre, length)
            if loop is None:
                raise CraftError(
                    f"The scan has no closed ring {levels[k]:.0f} mm from the first end point: "
                    "move the end points on to the limb, or scan that part again",
                    "scan.low",
                )
            since += 1
            met = met or (loop.closed and loop.length > (1 + (SWELL - 1) * (1 + since // 2)) * length)
            found[k], joined[k] = loop, met
            if not met:
                # A ring with a hole in it is shorter than the limb is round: it tells no length to go by.
                centre = loop.middle
                length, since = (loop.length, 0) if loop.closed else (length, since)
    return [found[k] for k in range(len(levels))], joined


def _freest(cuts: list[list[Loop]], levels: Array) -> int:
    """The level to begin at: of a few, where the ring is smallest, so that it is surely the limb alone."""
    probes = [round(share * (len(levels) - 1)) for share in (0.1, 0.3, 0.5, 0.7, 0.9)]
    x, ahead = np.array([1.0, 0.0, 0.0]), np.array([0.0, -1.0, 0.0])
    sizes = {}
    for k in probes:
        loop = loop_round(cuts[k], np.array([0, 0, levels[k]]), x, ahead)
        sizes[k] = loop.length if loop else np.inf
    return min(probes, key=lambda k: sizes[k])


def _leave_what_joins(radii: Array, joined: list[bool]) -> Array:
    """Where the ring has met another part, keep to the last free ring on the joined side."""
    kept = radii.copy()
    free = joined.index(False)
    for way in (range(free + 1, len(joined)), range(free - 1, -1, -1)):
        step = way.step
        for k in way:
            if joined[k]:
                last = kept[k - step]
                kept[k] = np.where(np.isnan(kept[k]), last, np.minimum(kept[k], last * STEP_OUT))
    return kept


def _pieced(loops: list[Loop], centre: Array, length: float) -> Loop | None:
    """A ring with holes in it: all its arcs together. length: of the ring before; infinite at the first."""

    def away(loop: Loop) -> float:
        return float(np.hypot(*(loop.middle - centre)[:2]))

    usual = length if np.isfinite(length) else min((x.length for x in loops if away(x) < 120), default=np.inf)
    arcs = [x for x in loops if away(x) < 0.3 * usual and x.length < 1.3 * usual]
    found = Loop(np.concatenate([x.segments for x in arcs])) if arcs else None
    return found if found and found.length > LEAST_OF_RING * usual else None


def _even_centres(loops: list[Loop], joined: list[bool], levels: Array) -> Array:
    middles = np.stack([loop.middle for loop in loops])
    free = ~np.array(joined)
    for c in range(2):
        middles[:, c] = np.interp(levels, levels[free], middles[free, c])
    even = gaussian_filter1d(middles, CENTRE_SMOOTH, axis=0, mode="nearest")
    even[:, 2] = levels
    return np.asarray(even)


def _radii(loop: Loop, centre: Array) -> Array:
    return polar_radii(loop, centre, np.array([1.0, 0.0, 0.0]), np.array([0.0, -1.0, 0.0]))


def _extend(
    mesh: BodyMesh, field: Array, start: float, way: int, loop: Loop, centre: Array
) -> list[tuple[float, Array, Array]]:
    """Rings past an end while the limb goes on: (level, centre, radii) each, for edges drawn past the stations."""
    out: list[tuple[float, Array, Array]] = []
    lengths = [loop.length]
    levels = start + way * LEVEL_STEP * np.arange(1.0, int(PAST_THE_ENDS / LEVEL_STEP) + 1)
    cuts = cut_levels(mesh, field, levels[::way])[::way]
    for z, loops in zip(levels.tolist(), cuts, strict=True):
        found = loop_round(loops, centre, np.array([1.0, 0.0, 0.0]), np.array([0.0, -1.0, 0.0]))
        if found is None or not 1 / SWELL < found.length / lengths[-2:][0] < SWELL:
            break
        centre = 0.85 * centre + 0.15 * found.middle
        centre[2] = z
        out.append((z, centre, _radii(found, centre)))
        lengths.append(found.length)
    return out


def fill_gaps(radii: Array) -> Array:
    """Close what the scan missed: across each ring between the gap's edges, over the turn. (l, k) -> (l, k)."""
    filled = radii.copy()
    k = np.arange(radii.shape[1])
    for ring in filled:
        missing = np.isnan(ring)
        if missing.all():
            raise CraftError("The scan has a hole all round the limb here; scan that part again", "scan.low")
        if missing.any():
            ring[missing] = np.interp(k[missing], k[~missing], ring[~missing], period=len(k))
    return filled


def bridged(radii: Array, narrow: float) -> Array:
    """Radii (l, angles) with hollows tighter than a radius ``narrow``, mm, lain over: a cast runs over them, and so
    does foam. The closing of each ring by a disc."""
    way = np.stack([np.sin(ring_angles()), np.cos(ring_angles())], axis=1)
    rings = shapely.polygons(radii[..., None] * way)
    closed = shapely.buffer(shapely.buffer(rings, narrow, quad_segs=12), -narrow, quad_segs=12)
    out = radii.copy()
    for k, ring in enumerate(closed):
        points = shapely.get_coordinates(shapely.get_exterior_ring(ring))
        edge = Loop(np.stack([points[:-1], points[1:]], axis=1))
        out[k] = polar_radii(edge, np.zeros(2), np.array([1.0, 0.0]), np.array([0.0, 1.0]))
    return np.maximum(out, radii)


def rings_from_radii(centres: Array, radii: Array) -> Array:
    """Centres (l, 3) and radii (l, angles) in horizontal rings -> grid (l, COLUMNS, 3), even by arc length."""
    angle = ring_angles()
    way = np.stack([np.sin(angle), -np.cos(angle), np.zeros_like(angle)], axis=1)
    return np.stack([even_ring(c + r[:, None] * way, COLUMNS) for c, r in zip(centres, radii, strict=True)])


def residual_of(tube: RingTube, mesh: BodyMesh, low: float, high: float, most: float = 40.0) -> Residual:
    """Distances of the tube from the scan between two levels, as they lie on the foam's side: from places spread evenly
    over the tube to the nearest place of the surface. Where the scan has a hole nothing is told."""
    levels = np.linspace(low, high, max(8, round((high - low) / RESIDUAL_STEP)))
    around = np.linspace(0, 1, RESIDUAL_COLUMNS, endpoint=False)
    u, v = (g.ravel() for g in np.meshgrid(around, tube.along(levels)))
    places, normal = tube.frame(u, v)
    near = faces_near(mesh, mesh.vertices[:, 2], low - most, high + most)
    if not len(near.faces):
        raise CraftError("The scan has no surface between the two end points", "scan.low")
    _, face, closest = igl.point_mesh_squared_distance(places, near.vertices, near.faces)
    away = closest - places
    miss = np.sign((away * normal).sum(axis=1)) * np.linalg.norm(away, axis=1)
    known = (np.abs(miss) < most) & ~_beside_a_hole(near, away, face)
    if not known.any():
        raise CraftError("The scan has no surface between the two end points", "scan.low")
    return Residual(places[known], miss[known])


def _beside_a_hole(mesh: BodyMesh, away: Array, face: Faces) -> NDArray[np.bool_]:
    """Places whose nearest place of the mesh lies aside of them, not below: they look into a hole."""
    a, b, c = (mesh.vertices[mesh.faces[face, k]] for k in range(3))
    square = np.cross(b - a, c - a)
    square /= np.maximum(np.linalg.norm(square, axis=1, keepdims=True), 1e-12)
    far = np.linalg.norm(away, axis=1)
    return np.asarray((far > LEAST_OF_HOLE) & (np.abs((away * square).sum(axis=1)) < ASLANT * far))
