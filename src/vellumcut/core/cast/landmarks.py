"""Where the segments of a scanned body probably are: end points and front, for the maker to move.

Heights of joints come from extrema of girth where there are any, else from usual shares of the height (est.).
"""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import dijkstra

from vellumcut.core.body.segments import ScanSegment, Side
from vellumcut.core.cast.mesh import BODY_HEIGHT, BodyMesh
from vellumcut.core.cast.sections import Loop, cut_loops, faces_near, plane_field

Array = NDArray[np.float64]

SLICE = 12.0
_FRONT = (0.0, -1.0, 0.0)


@dataclass(frozen=True)
class Ends:
    """Proposed ends of a segment in the scan's upright mm: low is the hand's, foot's or hip's end."""

    low: tuple[float, float, float]
    high: tuple[float, float, float]
    front: tuple[float, float, float]
    how: str


def propose_ends(mesh: BodyMesh, segment: ScanSegment, side: Side) -> Ends:
    """A first guess. A mesh that is no whole body is taken to be the segment alone, along its longest way."""
    if not BODY_HEIGHT[0] * 0.9 <= mesh.height <= BODY_HEIGHT[1] * 1.05:
        return _alone(mesh)
    if segment == "torso":
        return _trunk(mesh)
    if segment in ("lower leg", "thigh"):
        return _leg(mesh, segment, side)
    return _arm(mesh, segment, side)


def _ends(low: Array, high: Array, how: str) -> Ends:
    a, b = (tuple(round(float(x), 1) for x in p) for p in (low, high))
    return Ends(a, b, _FRONT, how)  # type: ignore[arg-type]


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


def _slices(mesh: BodyMesh, low: float, high: float) -> list[tuple[float, list[Loop]]]:
    field = mesh.vertices[:, 2]
    near = faces_near(mesh, field, low, high)
    return [(float(z), cut_loops(near, field, float(z))) for z in np.arange(low, high, SLICE)]


def _crotch(mesh: BodyMesh, base: float) -> float:
    """Lowest height at which one ring spans the midline, between a third and six tenths of the body."""
    for z, loops in _slices(mesh, base + 0.36 * mesh.height, base + 0.6 * mesh.height):
        for loop in loops:
            x = loop.segments[..., 0] - _midline(mesh)
            if x.min() < -30 and x.max() > 30 and loop.length > 500:
                return z
    return base + 0.47 * mesh.height


def _midline(mesh: BodyMesh) -> float:
    return float((mesh.vertices[:, 0].max() + mesh.vertices[:, 0].min()) / 2)


def _trunk(mesh: BodyMesh) -> Ends:
    base, height, middle = float(mesh.vertices[:, 2].min()), mesh.height, _midline(mesh)
    crotch = _crotch(mesh, base)

    def central(z: float, loops: list[Loop]) -> Loop | None:
        near = [x for x in loops if abs(x.middle[0] - middle) < 60 and x.length > 150]
        return max(near, key=lambda x: x.length, default=None)

    rows = [(z, central(z, loops)) for z, loops in _slices(mesh, crotch + 0.03 * height, crotch + 0.13 * height)]
    seat = max(((z, r) for z, r in rows if r), key=lambda item: item[1].length)
    necks = [(z, central(z, loops)) for z, loops in _slices(mesh, base + 0.8 * height, base + 0.9 * height)]
    thin = min(((z, r) for z, r in necks if r), key=lambda item: item[1].length)
    base_of_neck = next(
        (z, r) for z, r in sorted(((z, r) for z, r in necks if r), key=lambda item: -item[0])
        if z <= thin[0] and (r.length > 1.06 * thin[1].length or z <= thin[0] - 0.015 * height)
    ) if thin[0] > necks[0][0] + 2 * SLICE else thin  # fmt: skip
    return _ends(seat[1].middle, base_of_neck[1].middle, "the fullest seat and the base of the neck")


def _leg(mesh: BodyMesh, segment: ScanSegment, side: Side) -> Ends:
    base, height, middle = float(mesh.vertices[:, 2].min()), mesh.height, _midline(mesh)
    crotch = _crotch(mesh, base)
    sign = 1 if side == "left" else -1
    rows: list[tuple[float, Loop]] = []
    for z, loops in _slices(mesh, base + 0.03 * height, crotch - 6):
        own = [x for x in loops if (x.middle[0] - middle) * sign > 15 and x.length > 120]
        if own:
            rows.append((z, min(own, key=lambda x: abs(x.middle[0] - middle))))
    rise = np.array([r[0] for r in rows]) - base
    girth = np.array([r[1].length for r in rows])

    def extreme(low: float, high: float, way: int) -> int:
        band = np.flatnonzero((rise >= low * height) & (rise <= high * height))
        return int(band[(way * girth[band]).argmax()])

    ankle, calf = extreme(0.045, 0.12, -1), extreme(0.13, 0.25, +1)
    knee = extreme(float(rise[calf]) / height + 0.02, 0.295, -1)
    at = {"lower leg": (ankle, knee)}
    above = int(np.argmin(np.abs(rise - (rise[knee] + 0.06 * height))))
    at["thigh"] = (above, len(rows) - 2)
    low, high = at[segment]
    return _ends(
        rows[low][1].middle,
        rows[high][1].middle,
        "the narrowest ankle and below the knee, or knee and crotch, by girth",
    )


def _arm(mesh: BodyMesh, segment: ScanSegment, side: Side) -> Ends:
    """Along the arm by distance over the skin from the finger tips, cut square to the way it runs."""
    base, height, middle = float(mesh.vertices[:, 2].min()), mesh.height, _midline(mesh)
    reach = _from_finger_tips(mesh, base, height, middle, 1 if side == "left" else -1)
    steps = np.arange(0.02 * height, 0.5 * height, SLICE)
    path = []
    for d in steps:
        band = np.abs(reach - d) < SLICE
        path.append(mesh.vertices[band].mean(axis=0))
    path_points = np.array(path)
    girth = np.array([_square_girth(mesh, path_points, k) for k in range(len(steps))])

    def extreme(low: float, high: float, sign: int) -> int:
        band = np.flatnonzero((steps >= low * height) & (steps <= high * height))
        return int(band[(sign * girth[band]).argmax()])

    wrist = extreme(0.085, 0.14, -1)
    belly = extreme(steps[wrist] / height + 0.03, 0.215, +1)
    crease = extreme(steps[belly] / height + 0.015, 0.285, -1)
    joined = [k for k in range(crease + 3, len(steps)) if girth[k] > 1.5 * girth[crease]]
    armpit = min((joined[0] if joined else len(steps) - 1) - 2, int(np.argmin(np.abs(steps - 0.43 * height))))
    ends = {"forearm": (wrist, crease), "upper arm": (min(crease + 3, armpit - 6), armpit)}[segment]
    hand, elbow = (_centre_of_cut(mesh, path_points, k) for k in ends)
    return _ends(hand, elbow, "the narrowest wrist and the elbow, or elbow and armpit, by girth")


def centre_at(mesh: BodyMesh, touched: Array, way: Array) -> Array:
    """Middle of the ring through a place touched on the skin, cut square to a direction, mm (3,)."""
    way = way / max(float(np.linalg.norm(way)), 1e-9)
    loops = cut_loops(mesh, plane_field(mesh, touched, way), 0.0)
    if not loops:
        return touched
    nearest = min(loops, key=lambda x: float(np.linalg.norm(x.segments.mean(axis=1) - touched, axis=1).min()))
    return nearest.middle


def _from_finger_tips(mesh: BodyMesh, base: float, height: float, middle: float, sign: int) -> Array:
    v = mesh.vertices
    edges = np.vstack([mesh.faces[:, [0, 1]], mesh.faces[:, [1, 2]], mesh.faces[:, [2, 0]]])
    length = np.linalg.norm(v[edges[:, 0]] - v[edges[:, 1]], axis=1)
    graph = coo_matrix((length, (edges[:, 0], edges[:, 1])), (len(v), len(v))).tocsr()
    chest = np.argmin(np.abs(v[:, 2] - base - 0.72 * height) + np.abs(v[:, 0] - middle) + np.maximum(v[:, 1], 0))
    from_chest = dijkstra(graph, directed=False, indices=int(chest))
    from_chest[~np.isfinite(from_chest)] = 0.0
    arm = (
        (v[:, 2] > base + 0.3 * height) & (v[:, 2] < base + 0.98 * height) & ((v[:, 0] - middle) * sign > 0.12 * height)
    )
    if not arm.any():
        arm = (v[:, 0] - middle) * sign > 0
    tip = int(np.flatnonzero(arm)[from_chest[arm].argmax()])
    return np.asarray(dijkstra(graph, directed=False, indices=tip, limit=0.55 * height))


def _cut_at(mesh: BodyMesh, path: Array, k: int) -> Loop | None:
    way = path[min(k + 3, len(path) - 1)] - path[max(k - 3, 0)]
    way /= max(float(np.linalg.norm(way)), 1e-9)
    near = np.linalg.norm(mesh.vertices - path[k], axis=1) < 160
    local = BodyMesh(mesh.vertices, mesh.faces[near[mesh.faces].any(axis=1)])
    loops = cut_loops(local, plane_field(local, path[k], way), 0.0)
    return min(loops, key=lambda x: float(np.linalg.norm(x.middle - path[k])), default=None)


def _square_girth(mesh: BodyMesh, path: Array, k: int) -> float:
    loop = _cut_at(mesh, path, k)
    return loop.length if loop else np.inf


def _centre_of_cut(mesh: BodyMesh, path: Array, k: int) -> Array:
    loop = _cut_at(mesh, path, k)
    return loop.middle if loop else path[k]
