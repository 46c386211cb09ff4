"""Boxes, stars, pouches and what is made round the outline of a thing: flat faces, and walls along an outline."""

import itertools
from collections.abc import Sequence
from typing import Literal

import numpy as np
import shapely
from numpy.typing import NDArray

from vellumcut.core.design.solids import Box, Holder, Pouch, SoleEdge, Star, ToeCap
from vellumcut.core.solids.building import Building
from vellumcut.core.solids.shell import SHARP, Part, Shell

Array = NDArray[np.float64]

FOLDED = 1.0
"""Degrees from which flat faces meet at a fold where nothing is curved."""
OVER_FRONT = 1.0
"""mm of air between a flap and the front that it hangs over (est.)."""
WHOLE_TURN = 340.0
"""Degrees that a sheet may lie round a point of itself, so that its slit can be cut and bevelled (est.)."""
HELD = 1.0
"""mm of air over each face of a thing in its holder (est.)."""
STEPS = 120
"""Of half an ellipse."""


def box(solid: Box, foam: float) -> Shell:
    """See ``Box``."""
    x, y, z = solid.wide / 2, solid.deep / 2, float(solid.high)
    a, b, c, d = ((-x, -y, 0.0), (x, -y, 0.0), (x, y, 0.0), (-x, y, 0.0))
    e, f, g, h = ((*p[:2], z) for p in (a, b, c, d))
    faces: dict[str, tuple[tuple[float, ...], ...]] = {
        "bottom": (a, d, c, b), "front": (a, b, f, e), "right": (b, c, g, f), "back": (c, d, h, g),
        "left": (d, a, e, h),
    }  # fmt: skip
    if solid.top == "closed":
        faces["top"] = (e, f, g, h)
    return _of_faces(solid.inside, faces, "box" if solid.folded else "", _box_cuts(a, b, c, d, e, f, g, h))


def _box_cuts(*p: tuple[float, ...]) -> list[tuple[tuple[float, ...], tuple[float, ...]]]:
    """Where a folded box is cut open: its upright corners, and three sides of its lid."""
    a, b, c, d, e, f, g, h = p
    return [(a, e), (b, f), (c, g), (d, h), (e, f), (f, g), (h, e)]


def _of_faces(
    inside: bool,
    faces: dict[str, tuple[tuple[float, ...], ...]],
    whole: str,
    cuts: Sequence[tuple[tuple[float, ...], tuple[float, ...]]],
) -> Shell:
    """whole: the name of the one sheet that all are folded from; empty: each is a part."""
    made = Building(inside)
    for k, (name, corners) in enumerate(faces.items()):
        points = np.array(corners)
        if whole and k:
            made.join_face(points)
        else:
            made.face(points, Part(whole or name))
    if whole:
        made.cuts += [(np.array(p), np.array(q)) for p, q in cuts]
    return made.done(FOLDED)


def star(solid: Star, foam: float) -> Shell:
    """See ``Star``: one sheet of twice as many triangles about its middle, cut open along one hollow; where these are
    too many to lie round a point, a kite for each of its points."""
    n = 2 * solid.points
    angle = np.pi / 2 + np.arange(n) * np.pi / solid.points
    far = np.where(np.arange(n) % 2 == 0, solid.outer, solid.inner)
    rim = np.stack([far * np.cos(angle), far * np.sin(angle), np.zeros(n)], axis=1)
    made = Building(solid.inside)
    top = np.array([[0.0, 0.0, float(solid.high)]])
    ways = (rim - top) / np.linalg.norm(rim - top, axis=1, keepdims=True)
    turn = float(np.degrees(np.arccos((ways * np.roll(ways, -1, axis=0)).sum(axis=1))).sum())
    one = turn < WHOLE_TURN
    made.wall(rim, top, "star" if one else "point", 1 if one else solid.points, first=1)
    return made.done(FOLDED)


def pouch(solid: Pouch, foam: float) -> Shell:
    """See ``Pouch``: a front, a strip round three sides, and a back that goes on as the flap."""
    w, d, h = ((m + 2 * solid.ease) for m in (solid.wide, solid.deep, solid.high))
    h -= solid.ease  # it stands on the bottom and is open above
    x, out, low = w / 2, foam + OVER_FRONT, h - solid.flap
    made = Building(solid.inside)
    made.face(np.array([(-x, 0, 0), (x, 0, 0), (x, 0, h), (-x, 0, h)]), Part("front"))
    made.face(np.array([(-x, d, 0), (-x, 0, 0), (-x, 0, h), (-x, d, h)]), Part("strip round the sides"))
    made.join_face(np.array([(-x, 0, 0), (-x, d, 0), (x, d, 0), (x, 0, 0)]))
    made.join_face(np.array([(x, 0, 0), (x, d, 0), (x, d, h), (x, 0, h)]))
    back = np.array([(x, d, 0), (-x, d, 0), (-x, d, h), (x, d, h)])
    made.face(back, Part("back and flap" if solid.flap else "back"))
    if solid.flap:
        lid = np.array([(x, d, h), (-x, d, h), (-x, -out, h), (x, -out, h)])
        lip = np.array([(x, -out, h), (-x, -out, h), (-x, -out, low), (x, -out, low)])
        made.join_face(lid)
        made.join_face(lip)
        made.flush += [(f[a], f[b]) for f in (lid, lip) for a, b in ((1, 2), (3, 0))]
    return made.done(FOLDED)


def blade_outline(wide: float, high: float) -> Array:
    """Of a thing whose own outline is not given: straight sides and a pointed end below, its mouth upwards."""
    x = wide / 2
    side = np.linspace(0.0, 1.0, 40)
    low = high * 0.35
    left = np.stack([-x * np.sin(side * np.pi / 2), low * (1 - np.cos(side * np.pi / 2))], axis=1)
    right = left[::-1] * (-1, 1)
    return np.vstack([[(x, high)], [(-x, high)], left[::-1], right[1:][::-1]])


def holder(solid: Holder, foam: float) -> Shell:
    """See ``Holder``: two faces of the thing's outline, and a strip between them that leaves the mouth open. Raises
    ValueError where the outline is none."""
    outline = np.array(solid.outline) if solid.outline else blade_outline(solid.wide, solid.high)
    # A corner that is round outside by less than the foam is thick cannot be bent: it is a corner there.
    round_or_not: Literal["round", "mitre"] = "round" if solid.inside else "mitre"
    room = shapely.Polygon(outline).buffer(0).buffer(solid.ease, quad_segs=24, join_style=round_or_not)
    if room.geom_type != "Polygon" or room.is_empty:
        raise ValueError("The outline crosses itself or is none")
    top = shapely.Polygon(outline).bounds[3] - solid.mouth
    low = room.bounds
    kept = room.intersection(shapely.box(low[0] - 1, low[1] - 1, low[2] + 1, top))
    if kept.geom_type != "Polygon" or kept.is_empty or kept.interiors:
        raise ValueError("With so much left free above, the thing is not held in one place")
    ring = np.array(shapely.geometry.polygon.orient(kept.simplify(0.02)).exterior.coords)[:-1]
    start = next((k for k in range(len(ring)) if _level(ring, k - 1, top) and not _level(ring, k, top)), None)
    if start is None:
        raise ValueError("It has no mouth: nothing of the outline lies level above")
    ring = np.roll(ring, -start, axis=0)
    count = next(k for k in range(1, len(ring) + 1) if _level(ring, k % len(ring), top))
    # Stands upright: x across, z up, y from back (deep) to front (0).
    front, back = (
        np.stack([ring[:, 0], np.full(len(ring), y), ring[:, 1]], axis=1) for y in (0.0, solid.deep + 2 * HELD)
    )
    made = Building(solid.inside)
    made.face(front, Part("front"))
    made.face(back[::-1], Part("back"))
    _strips(made, front[: count + 1], back[: count + 1], "strip between")
    return made.done()


def _level(ring: Array, k: int, top: float) -> bool:
    a, b = ring[k], ring[(k + 1) % len(ring)]
    return bool(min(a[1], b[1]) > top - 0.05)


def _strips(made: Building, near: Array, far: Array, name: str) -> None:
    """A wall between two lines (n, 3) beside each other, parted where they turn sharply."""
    way = np.diff(near, axis=0)
    way = way / np.linalg.norm(way, axis=1, keepdims=True)
    turn = np.degrees(np.arccos(np.clip((way[1:] * way[:-1]).sum(axis=1), -1, 1)))
    stops = [0, *(np.flatnonzero(turn >= SHARP) + 1).tolist(), len(near) - 1]
    for k, (a, b) in enumerate(itertools.pairwise(stops), 1):
        n = b - a + 1
        points = np.vstack([near[a : b + 1], far[a : b + 1]])
        faces = [f for j in range(n - 1) for f in ((j, n + j, n + j + 1), (j, n + j + 1, j + 1))]
        made.add(points, np.array(faces, np.int64), Part(name if len(stops) == 2 else f"{name} {k}"))


def toe_cap(solid: ToeCap, foam: float) -> Shell:
    """See ``ToeCap``: a wall that stands round the toes, and a top that rises to the instep."""
    angle = np.linspace(0.0, np.pi, 2 * STEPS + 1)
    power = 1.0 / (1.0 + 1.5 * solid.blunt)
    c, s = np.cos(angle), np.sin(angle)
    x = solid.wide / 2 * np.sign(c) * np.abs(c) ** power
    y = solid.long * np.abs(s) ** power
    plan = np.stack([x, y], axis=1)
    plan = plan[np.concatenate([[True], np.linalg.norm(np.diff(plan, axis=0), axis=1) > 1e-3])]
    line = shapely.LineString(plan)
    plan = np.array([line.interpolate(t, normalized=True).coords[0] for t in np.linspace(0, 1, 2 * STEPS + 1)])
    z = solid.instep + (solid.toe - solid.instep) * plan[:, 1] / solid.long
    foot = np.column_stack([plan, np.zeros(len(plan))])
    head = np.column_stack([plan, z])
    made = Building(solid.inside)
    n = len(plan)
    faces = [f for j in range(n - 1) for f in ((j, j + 1, n + j + 1), (j, n + j + 1, n + j))]
    made.add(np.vstack([foot, head]), np.array(faces, np.int64), Part("wall round the toes"))
    made.face(head, Part("top"))
    return made.done()


def sole_outline(solid: SoleEdge) -> Array:
    """Of a sole that was not traced: an arc at the toes and one at the heel, joined by their tangents, mm."""
    a, b = solid.ball / 2, solid.heel / 2
    if a + b >= solid.long:
        raise ValueError("A sole is longer than it is wide at ball and heel together")
    hull = shapely.MultiPoint([(0.0, b), (0.0, solid.long - a)])
    heel, ball = (shapely.Point(p.coords[0]).buffer(r, quad_segs=90) for p, r in zip(hull.geoms, (b, a), strict=True))
    return np.array(shapely.geometry.polygon.orient(shapely.convex_hull(heel.union(ball))).exterior.coords)[:-1]


def sole_edge(solid: SoleEdge, foam: float) -> Shell:
    """See ``SoleEdge``: one strip that closes behind the heel. Raises ValueError."""
    outline = np.array(solid.outline) if solid.outline else sole_outline(solid)
    shape = shapely.Polygon(outline)
    if not shape.is_valid or shape.area < 100:
        raise ValueError("The outline crosses itself or is none")
    ring = np.array(shapely.geometry.polygon.orient(shape.simplify(0.02).segmentize(4.0)).exterior.coords)[:-1]
    heel = int(ring[:, 1].argmin())
    ring = np.roll(ring, -heel, axis=0)
    foot = np.column_stack([ring, np.zeros(len(ring))])
    made = Building(solid.inside)
    made.wall(foot, foot + [0.0, 0.0, solid.high], "edge of the sole")
    return made.done(60.0)
