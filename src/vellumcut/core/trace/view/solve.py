"""Plane, cards and lens together: the one view in which every card is a flat square of its size.

Least squares on the cards' edges (geometry notes, section 7). Unknown: the plane's homography, the bend of the lens,
where each card lies and how it is turned, and how far all edges look moved towards black. The first card that is seen
lies at the origin.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.optimize import least_squares

from vellumcut.core.trace.view.cards import CELLS, SIDE, edges
from vellumcut.core.trace.view.find import Light, Sighting, across
from vellumcut.core.trace.view.lens import PER, Lens

Array = NDArray[np.float64]

LIKELY = {"k1": 0.12, "k2": 0.03, "cx": 0.012, "cy": 0.012, "spread": 0.006}
"""How far the lens may be from none, as a spread; spread: of edges towards black, in cells. (est.) Pictures that were
cut to size have their lens off the middle: what four cards cannot tell stays near zero, and counts as unsure."""
LENS = 8
SPREAD = LENS + len(LIKELY) - 1
TURN = SPREAD + 1
HEAD = TURN + 1
FIXED = 1e4
"""Weight by which the first card's turn is held where it was put: it says only how the ground is laid on the paper."""


@dataclass(frozen=True, eq=False)
class Stretches:
    """One value for each stretch of a card's edge. card: index. points, normals: (n, 2) in cells. places: (n, 2)
    pixels where it was seen; ways: (n, 2) unit pixels from black to white.
    """

    card: NDArray[np.int64]
    points: Array
    normals: Array
    places: Array
    ways: Array


@dataclass(frozen=True, eq=False)
class View:
    """lens: of the picture. cards: number, x, y, turn of each, mm and radians. spread: (p, p) covariance of unknowns.
    off: for each card, (m,) mm by which its edges miss. blur: pixels.
    """

    size: tuple[int, int]
    numbers: tuple[int, ...]
    unknowns: Array
    covariance: Array
    off: tuple[Array, ...]
    blur: float

    @property
    def lens(self) -> Lens:
        return lens_of(self.size, self.unknowns)

    @property
    def poses(self) -> Array:
        return poses_of(self.unknowns)

    def residual(self, k: int | None = None) -> float:
        """Root mean square by which edges of a card, or of all, miss, mm."""
        values = np.concatenate(self.off) if k is None else self.off[k]
        return float(np.sqrt((values**2).mean())) if len(values) else float("nan")


def lens_of(size: tuple[int, int], unknowns: Array) -> Lens:
    k1, k2, cx, cy = unknowns[LENS:SPREAD]
    return Lens(size, unknowns[:LENS], k1, k2, cx, cy)


def poses_of(unknowns: Array) -> Array:
    """(n, 3) x, y in mm and turn of every card, the first at the origin, turned as it is in the picture."""
    rest = unknowns[HEAD:].reshape(-1, 3) * (PER, PER, 1.0)
    return np.vstack([[0.0, 0.0, unknowns[TURN]], rest])


def on_ground(points: Array, poses: Array, side: float) -> Array:
    """(n, 2) mm of points in cells of cards that lie at poses (n, 3)."""
    c, s = np.cos(poses[:, 2]), np.sin(poses[:, 2])
    x, y = points.T * (side / CELLS)
    return np.column_stack([c * x - s * y, s * x + c * y]) + poses[:, :2]


CORNERS = np.array([[-3.0, -3.0], [3.0, -3.0], [3.0, 3.0], [-3.0, 3.0]])


def solve(light: Light, seen: Sequence[Sighting], side: float = SIDE) -> View:
    """The view of a picture from its cards, two at least. side: mm of the cards' black squares as they were printed."""
    size = (light.shape[1], light.shape[0])
    unknowns = _first_guess(size, seen, side)
    for reach in (0.34, 0.22, 0.22):
        found, blur = _look(light, size, unknowns, len(seen), [s.number for s in seen], side, reach)
        unknowns, covariance, miss = _fit(size, unknowns, found, side)
    off = tuple(miss[found.card == k] for k in range(len(seen)))
    return View(size, tuple(s.number for s in seen), unknowns, covariance, off, blur)


def _first_guess(size: tuple[int, int], seen: Sequence[Sighting], side: float) -> Array:
    """From the corners alone: the largest card gives the plane, the others their places, then all together."""
    half, middle = np.hypot(*size) / 2, (np.array(size) - 1) / 2
    across = seen[0].corners[1] + seen[0].corners[2] - seen[0].corners[0] - seen[0].corners[3]
    turn = float(np.arctan2(across[1], across[0]))
    square = on_ground(CORNERS, np.tile([0.0, 0.0, turn], (4, 1)), side) / PER
    rows = []
    for (x, y), (u, v) in zip(square, (seen[0].corners - middle) / half, strict=True):
        rows += [[x, y, 1, 0, 0, 0, -u * x, -u * y, -u], [0, 0, 0, x, y, 1, -v * x, -v * y, -v]]
    h = np.linalg.svd(np.array(rows))[2][-1]
    start = np.concatenate([h[:8] / h[8], np.zeros(len(LIKELY)), [turn]])
    lens = lens_of(size, start)
    for s in seen[1:]:
        lies = lens.unproject(s.corners)
        a = lies[1] + lies[2] - lies[0] - lies[3]
        start = np.concatenate([start, lies.mean(axis=0) / PER, [np.arctan2(a[1], a[0])]])
    card = np.repeat(np.arange(len(seen)), 4)
    pixels = np.concatenate([s.corners for s in seen])
    points = np.tile(CORNERS, (len(seen), 1))

    def miss(u: Array) -> Array:
        at = lens_of(size, u).project(on_ground(points, poses_of(u)[card], side))
        return np.concatenate([(at - pixels).ravel() / 0.5, _unlikely(u), [FIXED * (u[TURN] - turn)]])

    return np.asarray(least_squares(miss, start, x_scale="jac", loss="soft_l1", f_scale=3.0, max_nfev=60).x)


def _unlikely(u: Array) -> Array:
    out: Array = u[LENS:TURN] / np.array(list(LIKELY.values()))
    return out


def _look(
    light: Light, size: tuple[int, int], u: Array, n: int, numbers: Sequence[int], side: float, reach: float
) -> tuple[Stretches, float]:
    """See where the edges lie that the guess expects. reach: in cells, how far off they are looked for."""
    lens, poses = lens_of(size, u), poses_of(u)
    kept: list[tuple[int, Array, Array, Array, Array]] = []
    widths = []
    for k in range(n):
        e = edges(numbers[k])
        here = np.repeat(poses[k : k + 1], len(e.points), axis=0)
        at = lens.project(on_ground(e.points, here, side))
        beside = lens.project(on_ground(e.points + 0.02 * e.normals, here, side)) - at
        long = np.hypot(*beside.T)
        # Square to the edge as it looks in the picture, not to where its normal goes in perspective.
        along = lens.project(on_ground(e.points + 0.02 * e.normals[:, ::-1] * (1, -1), here, side)) - at
        square = np.column_stack([-along[:, 1], along[:, 0]]) / np.hypot(*along.T)[:, None]
        square *= np.sign((square * beside).sum(axis=1))[:, None]
        seen = across(light, at, square, np.maximum(1.5, long / 0.02 * reach))
        widths.append(seen.width)
        kept += [(k, *row) for row in _by_stretch(e.stretch, e.points, e.normals, at, square, seen.shift)]
    card, points, normals, places, ways = zip(*kept, strict=True) if kept else ([], [], [], [], [])
    blur = float(np.nanmedian(np.concatenate(widths)))
    return Stretches(np.array(card, int), *(np.array(x).reshape(-1, 2) for x in (points, normals, places, ways))), blur


def _by_stretch(
    stretch: NDArray[np.int64], points: Array, normals: Array, at: Array, ways: Array, shift: Array
) -> list[tuple[Array, Array, Array, Array]]:
    out = []
    for k in np.unique(stretch):
        rows = np.flatnonzero((stretch == k) & np.isfinite(shift))
        if len(rows) < 3:
            continue
        moved = float(np.median(shift[rows]))
        way = ways[rows].mean(axis=0)
        way = way / np.hypot(*way)
        out.append((points[rows].mean(axis=0), normals[rows[0]], at[rows].mean(axis=0) + moved * way, way))
    return out


def _fit(size: tuple[int, int], start: Array, found: Stretches, side: float) -> tuple[Array, Array, Array]:
    """Unknowns, their covariance, and what each stretch misses by, mm."""
    count = len(found.card)

    def pixels_off(u: Array) -> Array:
        moved = found.points - u[SPREAD] * found.normals
        at = lens_of(size, u).project(on_ground(moved, poses_of(u)[found.card], side))
        return np.asarray(((at - found.places) * found.ways).sum(axis=1))

    noise, turn = 0.15, float(start[TURN])
    for _ in range(2):

        def miss(u: Array, noise: float = noise) -> Array:
            return np.concatenate([pixels_off(u) / noise, _unlikely(u), [FIXED * (u[TURN] - turn)]])

        done = least_squares(miss, start, x_scale="jac", loss="soft_l1", f_scale=2.5, max_nfev=40)
        start = np.asarray(done.x)
        left = pixels_off(start)
        noise = float(np.clip(1.4826 * np.median(np.abs(left)), 0.02, 2.0))
    jac = np.asarray(done.jac)
    covariance = np.linalg.pinv(jac.T @ jac) * max(1.0, float((miss(start)[:count] ** 2).mean()))
    scale = _mm_per_pixel(size, start, found, side)
    return start, covariance, left * scale


def _mm_per_pixel(size: tuple[int, int], u: Array, found: Stretches, side: float) -> Array:
    poses = poses_of(u)[found.card]
    lens = lens_of(size, u)
    step = lens.project(on_ground(found.points + 0.05 * found.normals, poses, side)) - lens.project(
        on_ground(found.points, poses, side)
    )
    return np.asarray(0.05 * side / CELLS / np.maximum(np.abs((step * found.ways).sum(axis=1)), 1e-9))
