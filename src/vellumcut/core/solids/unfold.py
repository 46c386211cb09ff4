"""A shape in space laid flat part by part: outlines of one layer of its foam, what meets what, and how it folds there.

Every part is made of flat facets, or of a curved sheet that bends one way only and is unrolled triangle by triangle.
Nothing is strained: all corners of the triangles lie on the part's own edges.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np
import shapely
from numpy.typing import NDArray

from vellumcut.core.solids.shell import Part, Shell

Array = NDArray[np.float64]
Hinge = Callable[[int, float], float]
"""At which mm out from the inner face a fold turns: by one of the shell's sides on it, and by its degrees."""

CORNER = 8.0
"""Degrees by which an outline turns at a corner."""
STRAINED = 0.05
"""mm that two faces may lie apart where they hang together."""
LEVEL = 0.02
"""Degrees within which faces lie in one plane."""
RISES = 0.15
"""mm that a part rises in space for a mm on the table, at least, to be told which way is up."""
SAME = 1e-6
"""mm between places that are one."""


@dataclass(frozen=True, eq=False)
class Side:
    """An edge of a flat part. points: (n, 2) mm, the part to its left. sides: rows of the shell's sides along it. fold:
    (n - 1,) degrees at each step, above zero a ridge. over: how far it goes on past the places that were measured, at
    its start and its end, mm: as walls are thick, edges that meet need not begin at one place."""

    points: Array
    sides: NDArray[np.int64]
    fold: Array
    over: tuple[float, float] = (0.0, 0.0)

    @property
    def length(self) -> float:
        """mm."""
        return float(np.hypot(*np.diff(self.points, axis=0).T).sum())


@dataclass(frozen=True, eq=False)
class Crease:
    """A fold inside a part. points: (n, 2) mm. degrees: above zero a ridge. sides: rows of the shell's sides on it."""

    points: Array
    degrees: float
    sides: frozenset[int]


@dataclass(frozen=True, eq=False)
class FlatPart:
    """One part laid flat. sides: round it, counter-clockwise as its outer face is seen. holes: (k, 2) mm, first not
    repeated. tightest: radius that its middle is bent to, mm; infinite where it stays flat. turn: radians that it
    bends through."""

    number: int
    part: Part
    sides: tuple[Side, ...]
    holes: tuple[Array, ...]
    creases: tuple[Crease, ...]
    tightest: float
    turn: float

    @property
    def outline(self) -> Array:
        """(n, 2) mm, first not repeated."""
        return np.vstack([s.points[:-1] for s in self.sides])


@dataclass(frozen=True, eq=False)
class Meeting:
    """Two edges that are glued, each by part and place round it; the second runs against the first. at, degrees: how it
    folds along the first, mm and above zero a ridge."""

    a: tuple[int, int]
    b: tuple[int, int]
    at: Array
    degrees: Array


@dataclass(frozen=True, eq=False)
class Unfolded:
    """All of it."""

    parts: tuple[FlatPart, ...]
    meets: tuple[Meeting, ...]


def unfold(shell: Shell, foam: float, layer: float, hinge: Hinge) -> Unfolded:
    """Lay a shell flat. foam: of its walls, mm. layer: the one that is cut, mm out from the inner face. hinge: where
    folds turn. Raises ValueError for a part that does not lie flat."""
    corners = shell.offset(shell.depth_of(layer, foam))
    welded = shell.corner_groups(shell.joined)
    parts, loops, flats = [], [], []
    measured: dict[int, Array] = {}
    for k, part in enumerate(shell.parts):
        mine = np.flatnonzero(shell.part == k)
        placed, creases = _laid(shell, mine, corners, (foam, layer), hinge)
        placed, creases = _upright(shell, mine, placed, creases)
        rings = [(ring, _outline(ring, placed)) for ring in _rings(shell, mine, welded)]
        rings.sort(key=lambda r: -abs(_area(r[1])))
        loops.append(rings[0][0])
        flats.append(rings[0][1])
        measured.update({s: placed[s][2:] for s in rings[0][0]})
        parts.append((k + 1, part, tuple(r[1] for r in rings[1:]), creases, *_bent(shell, mine, foam)))
    runs = _runs(shell, loops, flats)
    made = tuple(
        FlatPart(n, part, tuple(_side(shell, loop, flat, run, measured) for run in own), *rest)
        for (n, part, *rest), loop, flat, own in zip(parts, loops, flats, runs, strict=True)
    )
    return Unfolded(made, tuple(_meetings(shell, made)))


def _side(shell: Shell, loop: Sequence[int], flat: Array, run: tuple[int, int], measured: dict[int, Array]) -> Side:
    """run: from which to which place of the loop. measured: where the ends of its sides were measured, (2, 2) mm."""
    at = np.arange(run[0], run[1] + 1) % len(loop)
    sides, points = np.array([loop[k] for k in at[:-1]]), flat[at]
    first, last = (_unit(points[1] - points[0]), _unit(points[-1] - points[-2]))
    over = (
        float((measured[int(sides[0])][0] - points[0]) @ first),
        float((points[-1] - measured[int(sides[-1])][1]) @ last),
    )
    return Side(points, sides, shell.folds[sides], over)


def _unit(way: Array) -> Array:
    return np.asarray(way / max(float(np.hypot(*way)), 1e-12))


def _outline(ring: Sequence[int], placed: dict[int, Array]) -> Array:
    """(n, 2) mm: where every side of a ring begins. Sides of two facets, which a fold parts, meet where both are
    carried on to."""
    out = []
    for before, here in zip([ring[-1], *ring[:-1]], ring, strict=True):
        (a, b), (c, d) = placed[before][:2], placed[here][:2]
        one, two = b - a, d - c
        cross = float(one[0] * two[1] - one[1] * two[0])
        if np.hypot(*(b - c)) < SAME or abs(np.arctan2(cross, one @ two)) < np.radians(CORNER):
            out.append((b + c) / 2)
            continue
        share = float((c - a)[0] * two[1] - (c - a)[1] * two[0]) / cross
        out.append(a + share * one)
    return np.array(out)


def _laid(
    shell: Shell, mine: NDArray[np.int64], corners: Array, depths: tuple[float, float], hinge: Hinge
) -> tuple[dict[int, Array], tuple[Crease, ...]]:
    """Where both ends of each of a part's sides lie flat, and where they were measured, (4, 2) mm; and its creases."""
    smooth = shell.joined & (np.abs(shell.folds) < shell.sharp)
    groups = shell.face_groups(smooth)
    facets = [mine[groups[mine] == g] for g in np.unique(groups[mine])]
    if all(_is_flat(shell, f) for f in facets):
        named, cells = zip(*(_facet(shell, f, depths, hinge) for f in facets), strict=True)
    elif len(facets) == 1:
        facets = [np.array([f]) for f in mine]
        cells = [_triangle(corners[f]) for f in mine]
        named = cells
    else:
        raise ValueError("A part is both curved and folded")
    return _placed(shell, facets, cells, named)


def _is_flat(shell: Shell, faces: NDArray[np.int64]) -> bool:
    return bool((shell.normals[faces] @ shell.normals[faces[0]]).min() > np.cos(np.radians(LEVEL)))


def _triangle(points: Array) -> Array:
    """(1, 3, 2) mm: a triangle (3, 3) laid down as it is seen from outside."""
    x = points[1] - points[0]
    long = float(np.linalg.norm(x))
    x = x / max(long, 1e-30)
    c = points[2] - points[0]
    along = float(c @ x)
    high = float(np.sqrt(max(c @ c - along**2, 0.0)))
    return np.array([[[0.0, 0.0], [long, 0.0], [along, high]]])


def _facet(shell: Shell, faces: NDArray[np.int64], depths: tuple[float, float], hinge: Hinge) -> tuple[Array, Array]:
    """(k, 3, 2) mm: the triangles of a flat facet as measured, and at the depth that is cut, each of its edges where its
    neighbour meets it: a seam's at that depth, a fold's where it turns."""
    foam, layer = depths
    normal = shell.normals[faces[0]]
    x = shell.vertices[shell.faces[faces[0], 1]] - shell.vertices[shell.faces[faces[0], 0]]
    x = x / np.linalg.norm(x)
    frame = np.stack([x, np.cross(normal, x)], axis=1)
    flat = shell.vertices[shell.faces[faces]] @ frame
    rows = (faces[:, None] * 3 + np.arange(3)).ravel()
    other = shell.halves[1][rows]
    rim = rows[~np.isin(other, rows)]
    shift = {int(s): _pushed(shell, int(s), foam, layer, hinge) for s in rim}
    ends = shell.halves[0]
    lines: dict[int, list[tuple[Array, float]]] = {}
    for s in rim:
        a, b = (shell.vertices[v] @ frame for v in ends[s])
        way = (b - a) / max(float(np.hypot(*(b - a))), 1e-30)
        out = np.array([way[1], -way[0]])
        for v in ends[s]:
            lines.setdefault(int(v), []).append((out, shift[int(s)]))
    moves = {v: _corner(own) for v, own in lines.items()}
    moved = np.array([[moves.get(int(v), np.zeros(2)) for v in shell.faces[f]] for f in faces])
    return flat, np.asarray(flat + moved)


def _pushed(shell: Shell, side: int, foam: float, layer: float, hinge: Hinge) -> float:
    """How far out a facet's edge lies, mm, from where it was measured."""
    fold = float(shell.folds[side])
    if shell.halves[1][side] < 0:
        return shell.depth_of(layer, foam) if tuple(sorted(shell.halves[0][side].tolist())) in shell.flush else 0.0
    depth = hinge(side, fold) if shell.joined[side] else layer
    return shell.depth_of(depth, foam) * float(np.tan(np.radians(fold) / 2))


def _corner(lines: list[tuple[Array, float]]) -> Array:
    """Where lines that were moved out by so much meet, seen from where they met; of steps of a curve, half way."""
    ways, by = np.array([w for w, _ in lines]), np.array([d for _, d in lines])
    middle = ways.mean(axis=0)
    if len(lines) == 2 and np.hypot(*middle) > np.cos(np.radians(CORNER / 2)):
        return np.asarray(middle / (middle @ middle) * by.mean())
    return np.asarray(np.linalg.lstsq(ways, by, rcond=1e-4)[0])


def _placed(
    shell: Shell, cells: Sequence[NDArray[np.int64]], flats: Sequence[Array], named: Sequence[Array]
) -> tuple[dict[int, Array], tuple[Crease, ...]]:
    """All cells of a part beside each other. Cells: faces that are laid as one, with their own flat corners. named:
    where those were measured."""
    cell_of = {int(f): (k, n) for k, faces in enumerate(cells) for n, f in enumerate(faces)}
    other, joined = shell.halves[1].tolist(), shell.joined.tolist()
    sharp = (np.abs(shell.folds) >= shell.sharp).tolist()
    places, was = ([_plane(x) for x in rows] for rows in (flats, named))
    done = {0: (1 + 0j, 0j)}
    out: dict[int, tuple[complex, ...]] = {}
    creases: dict[tuple[int, int], list[int]] = {}
    queue = [0]
    for here in queue:
        turn, move = done[here]
        for n, f in enumerate(cells[here]):
            here_at, here_was = places[here][n], was[here][n]
            for c in range(3):
                side, ends = 3 * int(f) + c, (c, (c + 1) % 3)
                out[side] = tuple(x[k] * turn + move for x in (here_at, here_was) for k in ends)
                to, m = cell_of[other[side] // 3] if joined[side] else (here, 0)
                if to == here:
                    continue
                if sharp[side] and (to, here) not in creases:
                    creases.setdefault((here, to), []).append(side)
                if to not in done:
                    k = other[side] % 3
                    done[to] = _onto((places[to][m][(k + 1) % 3], places[to][m][k]), out[side])
                    queue.append(to)
    if len(done) < len(cells):
        raise ValueError("A part does not hang together")
    if max((_apart(out[s], out[other[s]]) for s in out if joined[s]), default=0.0) > STRAINED:
        raise ValueError("A part does not lie flat without strain: cut it once more")
    ends = {s: np.array([(z.real, z.imag) for z in four]) for s, four in out.items()}
    return ends, tuple(_crease(shell, rows, ends) for rows in creases.values())


def _plane(points: Array) -> list[list[complex]]:
    """Flat points (k, 3, 2) as numbers of the plane."""
    return [[complex(*p) for p in t] for t in points.tolist()]


def _upright(
    shell: Shell, mine: NDArray[np.int64], placed: dict[int, Array], creases: tuple[Crease, ...]
) -> tuple[dict[int, Array], tuple[Crease, ...]]:
    """A part turned so that it goes up the table as it goes up in space; one that lies level, with its long side
    across."""
    rows = (mine[:, None] * 3 + np.arange(3)).ravel()
    flat = np.array([placed[int(s)][0] for s in rows])
    high = shell.vertices[shell.halves[0][rows, 0], 2]
    around = flat - flat.mean(axis=0)
    up = np.linalg.lstsq(around, high - high.mean(), rcond=None)[0]
    level = np.hypot(*up) < RISES
    if not _bends(shell, rows).any():
        rim = [placed[int(s)] for s in rows if not shell.joined[s]]
        up = _squared(np.zeros(2) if level else up, np.array([p[1] - p[0] for p in rim]))
    elif level:
        box = np.array(shapely.minimum_rotated_rectangle(shapely.MultiPoint(flat)).exterior.coords)
        long = max(np.diff(box, axis=0), key=lambda w: float(np.hypot(*w)))
        up = np.array([-long[1], long[0]])
    x, y = up / np.hypot(*up)
    turn = np.array([[y, x], [-x, y]])
    return (
        {s: p @ turn for s, p in placed.items()},
        tuple(replace(c, points=c.points @ turn) for c in creases),
    )


def _bends(shell: Shell, rows: NDArray[np.int64]) -> NDArray[np.bool_]:
    """Which sides are steps of a curve."""
    fold = np.abs(shell.folds[rows])
    return np.asarray(shell.joined[rows] & (fold > LEVEL) & (fold < shell.sharp))


def _squared(up: Array, sides: Array) -> Array:
    """A way up as the longest of a part's sides runs, or square to it, whichever is nearer."""
    long = sides[int(np.hypot(*sides.T).argmax())]
    ways = [np.array([-long[1], long[0]]), long, -long, np.array([long[1], -long[0]])]
    return max(ways, key=lambda w: float(w @ up))


def _apart(one: tuple[complex, ...], other: tuple[complex, ...]) -> float:
    """How far a side, seen from both of its faces, lies from itself, mm across it."""
    way = one[1] - one[0]
    gap = (one[0] + one[1] - other[0] - other[1]) / 2
    return abs((gap * way.conjugate()).imag) / max(abs(way), 1e-9)


def _onto(far: tuple[complex, complex], near: tuple[complex, ...]) -> tuple[complex, complex]:
    """The turn and the move that bring a line onto another, middle on middle."""
    turn = (near[1] - near[0]) / (far[1] - far[0])
    turn /= abs(turn)
    return turn, (near[0] + near[1]) / 2 - turn * (far[0] + far[1]) / 2


def _crease(shell: Shell, rows: list[int], placed: dict[int, Array]) -> Crease:
    """Steps of one fold as one line."""
    points = np.vstack([placed[s][:2] for s in rows])
    way = points - points.mean(axis=0)
    along = way @ np.linalg.svd(way, full_matrices=False)[2][0]
    sides = frozenset(x for s in rows for x in (s, int(shell.halves[1][s])))
    ends = points[[int(along.argmin()), int(along.argmax())]]
    return Crease(ends, float(np.mean(shell.folds[rows])), sides)


def _rings(shell: Shell, mine: NDArray[np.int64], welded: NDArray[np.int64]) -> list[list[int]]:
    """Closed rows of a part's free and glued sides."""
    keys = welded.ravel()
    rows = [s for s in (mine[:, None] * 3 + np.arange(3)).ravel().tolist() if not shell.joined[s]]
    starts = {int(keys[s]): s for s in rows}
    if len(starts) < len(rows):
        raise ValueError("A part touches itself at a point")
    rings: list[list[int]] = []
    while starts:
        ring = [starts.pop(next(iter(starts)))]
        while (after := starts.pop(int(keys[_end(ring[-1])]), None)) is not None:
            ring.append(after)
        rings.append(ring)
    return rings


def _end(side: int) -> int:
    """The corner at which a side ends."""
    return side // 3 * 3 + (side % 3 + 1) % 3


def _area(ring: Array) -> float:
    x, y = ring.T
    return float((x * np.roll(y, -1) - np.roll(x, -1) * y).sum()) / 2


def _runs(shell: Shell, rings: list[list[int]], flats: list[Array]) -> list[list[tuple[int, int]]]:
    """Every part's outer ring parted at its corners, so that what is glued to one edge is one edge itself: from which to
    which place."""
    ends, other = shell.halves
    where = {s: (p, k) for p, ring in enumerate(rings) for k, s in enumerate(ring)}
    breaks = [
        {k for k in range(len(ring)) if _is_corner(flat, k) or _parts_here(other, rings, p, k, where)}
        for p, (ring, flat) in enumerate(zip(rings, flats, strict=True))
    ]
    changed = True
    while changed:
        changed = False
        for p, ring in enumerate(rings):
            if not breaks[p]:
                breaks[p].add(int(np.argmin(ends[ring, 0])))
                changed = True
            for k in list(breaks[p]):
                # A seam that parts here parts on its other side, too.
                for s, step in ((ring[k], 1), (ring[k - 1], 0)):
                    if (mate := where.get(int(other[s]))) is not None:
                        q, at = mate[0], (mate[1] + step) % len(rings[mate[0]])
                        changed |= at not in breaks[q]
                        breaks[q].add(at)
    at = [sorted(own) for own in breaks]
    return [list(zip(a, [*a[1:], a[0] + len(ring)], strict=True)) for a, ring in zip(at, rings, strict=True)]


def _is_corner(flat: Array, k: int) -> bool:
    one, two = flat[k] - flat[k - 1], flat[(k + 1) % len(flat)] - flat[k]
    turn = np.degrees(np.arctan2(one[0] * two[1] - one[1] * two[0], one @ two))
    return bool(abs(turn) > CORNER)


def _parts_here(
    other: NDArray[np.int64], rings: list[list[int]], p: int, k: int, where: dict[int, tuple[int, int]]
) -> bool:
    """Whether an outline has another neighbour from a place on."""
    a, b = (where.get(int(other[rings[p][j]])) for j in (k - 1, k))
    if a is None or b is None:
        return a is not b
    return a[0] != b[0] or (b[1] + 1) % len(rings[b[0]]) != a[1]


def _meetings(shell: Shell, parts: Sequence[FlatPart]) -> list[Meeting]:
    other = shell.halves[1]
    by_first = {int(s.sides[0]): (p.number, k) for p in parts for k, s in enumerate(p.sides)}
    out, done = [], set()
    for p in parts:
        for k, side in enumerate(p.sides):
            last = int(other[side.sides[-1]])
            here, there = (p.number, k), by_first.get(last)
            if there is None or here in done:
                continue
            done |= {here, there}
            if here[0] == there[0] and there[1] == len(p.sides) - 1 and k == 0 and len(p.sides) > 2:
                side, here, there = p.sides[there[1]], there, here  # from the mouth of a slit to its tip
            at = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(side.points, axis=0).T))])
            middle = (at[1:] + at[:-1]) / 2
            fold = np.interp(at, middle, side.fold)
            out.append(Meeting(here, there, at, fold))
    return out


def _bent(shell: Shell, mine: NDArray[np.int64], foam: float) -> tuple[float, float]:
    """Radius of the tightest bend of a part's middle, mm, and radians that it turns by bending."""
    rows = (mine[:, None] * 3 + np.arange(3)).ravel()
    ends, other = shell.halves
    steps = rows[shell.joined[rows] & (np.abs(shell.folds[rows]) < shell.sharp) & (rows < other[rows])]
    fold = np.radians(shell.folds[steps])
    bent = np.abs(fold) > 1e-4
    if not bent.any():
        return float("inf"), 0.0
    points = shell.vertices[shell.faces]
    area = np.linalg.norm(np.cross(points[:, 1] - points[:, 0], points[:, 2] - points[:, 0]), axis=1) / 2
    steps, fold = steps[bent], fold[bent]
    long = np.linalg.norm(shell.vertices[ends[steps, 1]] - shell.vertices[ends[steps, 0]], axis=1)
    wide = (area[steps // 3] + area[other[steps] // 3]) / np.maximum(long, 1e-9)
    curve = fold / np.maximum(wide, 1e-9)
    order = np.argsort(np.abs(curve))
    share = np.cumsum((wide * long)[order])
    worst = curve[order[int(np.searchsorted(share, 0.97 * share[-1]))]]
    middle = shell.depth_of(foam / 2, foam)
    return float(1 / worst + middle), float(np.abs(fold).sum())
