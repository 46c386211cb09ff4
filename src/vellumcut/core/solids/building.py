"""Put together a shell from rings and flat faces."""

import itertools
from dataclasses import dataclass, field

import numpy as np
import shapely
from numpy.typing import NDArray
from scipy.spatial import ConvexHull

from vellumcut.core.solids.shell import SHARP, WELD, Part, Shell

Array = NDArray[np.float64]
Faces = NDArray[np.int64]

ROUND = 240
"""Steps of a round ring: at 300 mm across one stands off its arc by 0.01 mm."""


@dataclass
class Building:
    """What was put together so far; ``done`` makes it a shell."""

    inside: bool
    vertices: list[Array] = field(default_factory=list)
    faces: list[Faces] = field(default_factory=list)
    parts: list[Part] = field(default_factory=list)
    cuts: list[tuple[Array, Array]] = field(default_factory=list)
    flush: list[tuple[Array, Array]] = field(default_factory=list)

    def add(self, vertices: Array, faces: Faces, part: Part) -> None:
        """A surface of its own part. vertices: (n, 3) mm; faces: counter-clockwise from outside."""
        self.vertices.append(vertices)
        self.faces.append(faces)
        self.parts.append(part)

    def join(self, vertices: Array, faces: Faces) -> None:
        """More of the part that was added last."""
        self.vertices[-1], before = np.vstack([self.vertices[-1], vertices]), len(self.vertices[-1])
        self.faces[-1] = np.vstack([self.faces[-1], faces + before])

    def wall(self, lower: Array, upper: Array, name: str, pieces: int = 1, first: int = 0) -> None:
        """A wall between two closed rings (n, 3), counter-clockwise as seen from the upper one's side, first not
        repeated, in so many pieces; one piece is cut open from first to first. upper may be one place, (1, 3)."""
        vertices, count = np.vstack([lower, upper]), len(lower)
        faces, starts = _in_turn(ruled(lower, upper), count, first)
        wanted = [(first + round(k * count / pieces)) % count for k in range(pieces)]
        at = [starts.index(w) for w in wanted]
        for k, (a, b) in enumerate(itertools.pairwise([*at, len(faces)])):
            self.add(vertices, faces[a:b], Part(name if pieces == 1 else f"{name} {k + 1}"))
        if pieces == 1:
            self.cuts.append((lower[first], vertices[next(int(v) for v in faces[0][::-1] if v >= count)]))

    def face(self, points: Array, part: Part, holes: tuple[Array, ...] = ()) -> None:
        """A flat face, its outline (n, 3) counter-clockwise as seen from outside."""
        self.add(*flat_face(points, holes), part)

    def join_face(self, points: Array) -> None:
        """A flat face more of the part that was added last."""
        self.join(*flat_face(points))

    def done(self, sharp: float = SHARP) -> Shell:
        """All of it as one shell, places that are the same made one."""
        starts = np.cumsum([0, *(len(v) for v in self.vertices)])
        points = np.vstack(self.vertices)
        all_faces = np.vstack([f + s for f, s in zip(self.faces, starts, strict=False)])
        part = np.concatenate([np.full(len(f), k) for k, f in enumerate(self.faces)])
        keys = (points / WELD).round().astype(np.int64)
        _, first, index = np.unique(keys, axis=0, return_index=True, return_inverse=True)
        all_faces = index.reshape(-1)[all_faces]
        whole = (np.diff(np.sort(all_faces, axis=1), axis=1) > 0).all(axis=1)
        used, own = np.unique(all_faces[whole], return_inverse=True)
        vertices = points[first][used]
        known = {tuple(k): n for n, k in enumerate((vertices / WELD).round().astype(np.int64).tolist())}
        cuts, flush = (frozenset(_pair(known, p, q) for p, q in rows) for rows in (self.cuts, self.flush))
        faces = own.reshape(-1, 3).astype(np.int64)
        return Shell(vertices, faces, part[whole], tuple(self.parts), self.inside, cuts, flush, sharp)


def _pair(known: dict[tuple[int, ...], int], p: Array, q: Array) -> tuple[int, int]:
    a, b = (known[tuple((x / WELD).round().astype(np.int64).tolist())] for x in (p, q))
    return min(a, b), max(a, b)


def flat_face(points: Array, holes: tuple[Array, ...] = ()) -> tuple[Array, Faces]:
    """Triangles of a flat polygon in space, all corners on its outline."""
    normal = np.zeros(3)
    for a, b in itertools.pairwise([*points, points[0]]):
        normal += np.cross(a - points[0], b - points[0])
    normal /= np.linalg.norm(normal)
    x = points[1] - points[0]
    x = x - (x @ normal) * normal
    x /= np.linalg.norm(x)
    frame = np.stack([x, np.cross(normal, x)], axis=1)
    every = np.vstack([points, *holes])
    flat = (every - points[0]) @ frame
    cuts = np.cumsum([len(points), *(len(h) for h in holes)])
    shape = shapely.Polygon(flat[: cuts[0]], [flat[a:b] for a, b in itertools.pairwise(cuts)])
    corners = shapely.get_coordinates(shapely.constrained_delaunay_triangles(shape)).reshape(-1, 4, 2)[:, :3]
    known = {tuple(p): k for k, p in enumerate(flat.round(7).tolist())}
    faces = np.array([[known[tuple(p)] for p in t] for t in corners.round(7).tolist()], np.int64)
    a, b, c = (flat[faces[:, k]] for k in range(3))
    turned = (b - a)[:, 0] * (c - a)[:, 1] - (b - a)[:, 1] * (c - a)[:, 0] < 0
    faces[turned] = faces[turned][:, ::-1]
    return every, faces


def ruled(lower: Array, upper: Array) -> Faces:
    """Triangles of the sheet between two closed rings that bends one way only. Rings that match place by place are
    joined so; others by the hull round both, which is the sheet that lies on both of them."""
    n, m = len(lower), len(upper)
    k = np.arange(n)
    after = (k + 1) % n
    if m == 1:
        return np.stack([k, after, np.full(n, n)], axis=1)
    if n == m and _quads_are_flat(lower, upper):
        return np.concatenate([
            np.stack([k, after, n + after], axis=1), np.stack([k, n + after, n + k], axis=1)
        ])  # fmt: skip
    points = np.vstack([lower, upper])
    hull = ConvexHull(points)
    middle = points.mean(axis=0)
    faces = hull.simplices.astype(np.int64)
    faces = faces[((faces < n).any(axis=1)) & ((faces >= n).any(axis=1))]
    a, b, c = (points[faces[:, j]] for j in range(3))
    inwards = (np.cross(b - a, c - a) * (a - middle)).sum(axis=1) < 0
    faces[inwards] = faces[inwards][:, ::-1]
    if len(faces) != n + m:
        raise ValueError("Two rings lie so askew that no one sheet goes round both")
    return np.asarray(faces, np.int64)


def _quads_are_flat(lower: Array, upper: Array) -> bool:
    a, b = np.roll(lower, -1, axis=0) - lower, np.roll(upper, -1, axis=0) - upper
    up = upper - lower
    volume = np.abs((np.cross(a, b) * up).sum(axis=1))
    size = np.linalg.norm(a, axis=1) * np.linalg.norm(b, axis=1) * np.linalg.norm(up, axis=1)
    return bool((volume <= 1e-6 * np.maximum(size, 1e-12)).all())


def _in_turn(faces: Faces, count: int, first: int) -> tuple[Faces, list[int]]:
    """A wall's triangles one beside the other, from the ruling at a place of the lower ring on, and at which place of
    that ring each of them begins."""
    entered: dict[tuple[int, int], list[int]] = {}
    for face in faces.tolist():
        for k in range(3):
            if face[k] >= count > face[(k + 1) % 3]:
                entered[face[k], face[(k + 1) % 3]] = face
    tops = {u: face for (u, low), face in entered.items() if low == first}
    later = {v for u, face in tops.items() for v in face if v >= count and v != u}
    top = next(u for u in tops if u not in later)
    here = (top, first)
    out: list[list[int]] = []
    starts: list[int] = []
    while len(out) < len(faces):
        face = entered[here]
        out.append(face)
        starts.append(here[1])
        here = next((face[(k + 1) % 3], face[k]) for k in range(3) if face[k] < count <= face[(k + 1) % 3])
    return np.array(out, np.int64), starts


def ring(wide: float, deep: float, sides: int = 0, z: float = 0.0) -> Array:
    """A closed ring (n, 3) round the z axis, counter-clockwise from above: an ellipse, or a polygon of flat sides whose
    flats are so far apart as asked, each its own width."""
    if sides:
        angle = (np.arange(sides) + 0.5) * 2 * np.pi / sides
        grown = 1 / np.cos(np.pi / sides)
    else:
        angle, grown = np.arange(ROUND) * 2 * np.pi / ROUND, 1.0
    return np.stack([
        wide / 2 * grown * np.cos(angle), deep / 2 * grown * np.sin(angle), np.full(len(angle), z)
    ], axis=1)  # fmt: skip
