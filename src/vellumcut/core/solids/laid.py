"""One part of a shell laid flat: facets hinged at their folds, a sheet that bends unrolled triangle by triangle, a
model's panel that curves both ways with the least strain.
"""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import replace

import numpy as np
import shapely
from numpy.typing import NDArray

from vellumcut.core.flatten.strain import StrainSummary
from vellumcut.core.foam.bevels import SQUARE_BELOW
from vellumcut.core.solids.flat_parts import Crease
from vellumcut.core.solids.models.strained import Strained, lay_strained
from vellumcut.core.solids.shell import Shell

Array = NDArray[np.float64]
Laid = tuple[dict[int, Array], tuple[Crease, ...], StrainSummary | None]
"""Where both ends of each of a part's sides lie flat, and where they were measured, (4, 2) mm; its creases; what is
asked of its foam, nothing where it is only bent."""
Hinge = Callable[[int, float], float]
"""At which mm out from the inner face a fold turns: by one of the shell's sides on it, and by its degrees."""

CORNER = 8.0
"""Degrees by which an outline turns at a corner."""
STRAINED = 0.05
"""mm that two faces may lie apart where they hang together."""
FOLDED = SQUARE_BELOW
"""Degrees from which a fold is worked; less is taken by the foam as it is bent."""
LEVEL = 0.02
"""Degrees within which faces lie in one plane."""
RISES = 0.15
"""mm that a part rises in space for a mm on the table, at least, to be told which way is up."""
SAME = 1e-6
"""mm between places that are one."""


def laid_part(shell: Shell, mine: NDArray[np.int64], corners: Array, depths: tuple[float, float], hinge: Hinge) -> Laid:
    """mine: its faces. corners: (m, 3, 3) mm, of all faces at the layer that is cut. depths: of the whole foam, and of
    that layer, mm. Raises ValueError where it does not lie flat."""
    smooth = shell.joined & (np.abs(shell.folds) < shell.sharp)
    groups = shell.face_groups(smooth)
    facets = [mine[groups[mine] == g] for g in np.unique(groups[mine])]
    if all(_is_flat(shell, f) for f in facets):
        named, cells = zip(*(_facet(shell, f, depths, hinge) for f in facets), strict=True)
        placed, creases = _placed(shell, facets, cells, named)
    elif len(facets) == 1:
        cells = tuple(_triangle(corners[f]) for f in mine)
        placed, creases = _placed(shell, [np.array([f]) for f in mine], cells, cells)
    else:
        raise ValueError("A part is both curved and folded")
    return (*upright(shell, mine, placed, creases), None)


def curved_part(shell: Shell, mine: NDArray[np.int64], corners: Array) -> tuple[Strained, NDArray[np.int64]]:
    """A panel of a model laid flat by itself, and which of its places each corner of its faces is, (k, 3). Raises
    ValueError."""
    keys, own = np.unique(shell.corner_groups(shell.joined)[mine], return_inverse=True)
    faces = own.reshape(-1, 3).astype(np.int64)
    count = np.bincount(faces.ravel(), minlength=len(keys))
    every = corners[mine].reshape(-1, 3)
    xyz = np.stack([np.bincount(faces.ravel(), every[:, k], len(keys)) / count for k in range(3)], axis=1)
    return lay_strained(xyz, faces), faces


def curved_laid(shell: Shell, mine: NDArray[np.int64], laid: Strained, faces: NDArray[np.int64]) -> Laid:
    """The same as every other part is told."""
    out: dict[int, Array] = {}
    for n, f in enumerate(mine.tolist()):
        for c in range(3):
            ends = laid.flat[faces[n, [c, (c + 1) % 3]]]
            out[3 * f + c] = np.vstack([ends, ends])
    return (*upright(shell, mine, out, tuple(_chains(shell, mine, out))), laid.summary)


def _chains(shell: Shell, mine: NDArray[np.int64], placed: dict[int, Array]) -> Iterator[Crease]:
    """Folds inside a curved panel, side after side as they go on from each other."""
    other = shell.halves[1]
    rows = (mine[:, None] * 3 + np.arange(3)).ravel()
    folds = [int(s) for s in rows if shell.joined[s] and s < other[s] and abs(shell.folds[s]) >= shell.sharp]
    ends = shell.halves[0]
    left = {s: (int(ends[s, 0]), int(ends[s, 1])) for s in folds}
    while left:
        s, (a, b) = left.popitem()
        chain, sides = [placed[s][0], placed[s][1]], [s]
        for at, front in ((b, False), (a, True)):
            here = at
            while (on := next((t for t, e in left.items() if here in e), None)) is not None:
                p, q = left.pop(on)
                sides.append(on)
                here, point = (q, placed[on][1]) if p == here else (p, placed[on][0])
                chain.insert(0, point) if front else chain.append(point)
        degrees = float(np.mean(shell.folds[sides]))
        yield Crease(np.array(chain), degrees, frozenset(x for t in sides for x in (t, int(other[t]))))


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
    """(k, 3, 2) mm: the triangles of a flat facet as measured, and at the depth that is cut, each of its edges where
    its neighbour meets it: a seam's at that depth, a fold's where it turns."""
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
    depth = hinge(side, fold) if shell.joined[side] and abs(fold) >= FOLDED else layer
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
    folded = (np.abs(shell.folds) >= max(shell.sharp, FOLDED)).tolist()
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
                if folded[side] and (to, here) not in creases:
                    creases.setdefault((here, to), []).append(side)
                if to not in done:
                    k = other[side] % 3
                    done[to] = _onto((places[to][m][(k + 1) % 3], places[to][m][k]), out[side])
                    queue.append(to)
    if len(done) < len(cells):
        raise ValueError("A part does not hang together")
    if max((_apart(out[s], out[other[s]]) for s in out if joined[s]), default=0.0) > STRAINED:
        raise ValueError("A part does not lie flat without strain: cut it once more")
    flat = {s: np.array([(z.real, z.imag) for z in four]) for s, four in out.items()}
    return flat, tuple(_crease(shell, rows, flat) for rows in creases.values())


def _plane(points: Array) -> list[list[complex]]:
    """Flat points (k, 3, 2) as numbers of the plane."""
    return [[complex(*p) for p in t] for t in points.tolist()]


def upright(
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
