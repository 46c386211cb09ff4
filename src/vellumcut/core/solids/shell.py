"""A shape in space as a maker asks for it: one face of its foam in small triangles, parted into what is cut in one."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import coo_array
from scipy.sparse.csgraph import connected_components

Array = NDArray[np.float64]
Faces = NDArray[np.int64]

SHARP = 10.0
"""Degrees from which two triangles meet at a fold; less is a step of a curve."""
WELD = 1e-4
"""Places nearer than this are one, mm."""
POINTED = 15.0
"""Degrees from the normal at a place, over which a face beside it tells of a point, as at the tip of a cone."""


@dataclass(frozen=True, eq=False)
class Part:
    """What is cut in one. count: how many alike stand for it. mirrored: cut once more, turned over."""

    name: str
    count: int = 1
    mirrored: bool = False


@dataclass(frozen=True, eq=False)
class Shell:
    """vertices: (n, 3) mm on the face that was measured. faces: (m, 3), counter-clockwise as seen from outside. part:
    (m,) which of ``parts`` each belongs to. cuts: pairs of vertices between which a part is cut. inside: the face that
    was measured is the inner one. flush: free sides, by pairs of vertices, that end as though a wall stood there.
    sharp: degrees from which an edge is a fold. grown: a seam may run over a smooth face, as on a body or a model; else
    every part is a sheet of its own, which bends one way.
    """

    vertices: Array
    faces: Faces
    part: NDArray[np.int64]
    parts: tuple[Part, ...]
    inside: bool = True
    cuts: frozenset[tuple[int, int]] = frozenset()
    flush: frozenset[tuple[int, int]] = frozenset()
    sharp: float = SHARP
    grown: bool = False

    @cached_property
    def normals(self) -> Array:
        """(m, 3) unit, outwards."""
        a, b, c = (self.vertices[self.faces[:, k]] for k in range(3))
        way = np.cross(b - a, c - a)
        return np.asarray(way / np.maximum(np.linalg.norm(way, axis=1, keepdims=True), 1e-30))

    @cached_property
    def halves(self) -> tuple[Faces, Faces]:
        """Every side of every triangle: its vertices (3 m, 2), and the side of another triangle on it, (3 m,), -1 where
        there is none. Side k of face f, from its corner k on, is row 3 f + k. Three faces at an edge raise
        ValueError."""
        ends = np.stack([self.faces, np.roll(self.faces, -1, axis=1)], axis=2).reshape(-1, 2)
        other = np.full(len(ends), -1, np.int64)
        known: dict[tuple[int, int], int] = {}
        for k, (a, b) in enumerate(ends.tolist()):
            if (a, b) in known:
                raise ValueError("Three faces meet at an edge, or two are turned against each other")
            known[a, b] = k
        for (a, b), k in known.items():
            other[k] = known.get((b, a), -1)
        return ends, other

    @cached_property
    def folds(self) -> Array:
        """(3 m,) degrees by which the shape folds at every side, above zero a ridge; 0 at free ones."""
        ends, other = self.halves
        here = np.repeat(self.normals, 3, axis=0)
        there = here[np.maximum(other, 0)]
        along = self.vertices[ends[:, 1]] - self.vertices[ends[:, 0]]
        along = along / np.maximum(np.linalg.norm(along, axis=1, keepdims=True), 1e-30)
        turn = np.arctan2((np.cross(here, there) * along).sum(axis=1), (here * there).sum(axis=1))
        return np.where(other < 0, 0.0, np.degrees(turn))

    @cached_property
    def joined(self) -> NDArray[np.bool_]:
        """(3 m,) whether the foam goes on over a side: the same part, and no cut."""
        ends, other = self.halves
        own = np.repeat(self.part, 3)
        same = (other >= 0) & (own == own[np.maximum(other, 0)])
        if self.cuts:
            low, high = ends.min(axis=1), ends.max(axis=1)
            same &= ~np.array([(int(a), int(b)) in self.cuts for a, b in zip(low, high, strict=True)])
        return np.asarray(same)

    def corner_groups(self, over: NDArray[np.bool_]) -> NDArray[np.int64]:
        """(m, 3): corners of triangles that are one where they go on over the given sides."""
        other = self.halves[1]
        at = np.flatnonzero(over & (other >= 0))
        near, far = at, other[at]
        starts = np.concatenate([near, _next(near)]), np.concatenate([_next(far), far])
        count = 3 * len(self.faces)
        net = coo_array((np.ones(len(starts[0]), np.int8), starts), shape=(count, count))
        return np.asarray(connected_components(net, directed=False)[1].reshape(-1, 3), np.int64)

    def face_groups(self, over: NDArray[np.bool_]) -> NDArray[np.int64]:
        """(m,): triangles that hang together over the given sides."""
        other = self.halves[1]
        at = np.flatnonzero(over & (other >= 0))
        net = coo_array((np.ones(len(at), np.int8), (at // 3, other[at] // 3)), shape=(len(self.faces),) * 2)
        return np.asarray(connected_components(net, directed=False)[1], np.int64)

    def depth_of(self, inner: float, foam: float) -> float:
        """How far outside the measured face a layer lies that is ``inner`` mm out from the inner one."""
        return inner if self.inside else inner - foam

    def offset(self, by: float) -> Array:
        """(m, 3, 3) mm: every triangle's corners so far out. At a fold both sides' layers are carried on until they
        meet; where the face is smooth they move along its normal."""
        own = np.repeat(self.part, 3)
        other = self.halves[1]
        smooth = (np.abs(self.folds) < self.sharp) & (self.grown | (own == own[np.maximum(other, 0)]))
        groups = self.corner_groups(smooth)
        weights = self._angles()[:, :, None] * self.normals[:, None, :]
        ways = np.zeros((int(groups.max()) + 1, 3))
        np.add.at(ways, groups.ravel(), weights.reshape(-1, 3))
        ways /= np.maximum(np.linalg.norm(ways, axis=1, keepdims=True), 1e-30)
        for point in self._points_of_cones(groups, ways):
            ways[point] = _meeting(self.normals[np.flatnonzero((groups == point).any(axis=1))])
        owner = np.zeros(len(ways), np.int64)
        owner[groups.ravel()] = self.faces.ravel()
        rulings = self._rulings(groups, ways, smooth)
        order = np.argsort(owner, kind="stable")
        starts = np.searchsorted(owner[order], np.arange(len(self.vertices) + 1))
        moved = np.zeros_like(ways)
        for v in range(len(self.vertices)):
            here = order[starts[v] : starts[v + 1]]
            for g in here:
                moved[g] = _moved(ways, here, g, rulings[g] * (not self.grown))
        return np.asarray(self.vertices[self.faces] + by * moved[groups])

    def _rulings(self, groups: NDArray[np.int64], ways: Array, smooth: NDArray[np.bool_]) -> Array:
        """Which way a curved sheet runs straight at every corner of its rim, (k, 3) unit: square to its normal, and to
        how that turns along the rim. Nothing where it does not turn."""
        rim = np.flatnonzero(~(smooth & (self.halves[1] >= 0)))
        one, two = groups.ravel()[rim], groups.ravel()[_next(rim)]
        turns = np.zeros_like(ways)
        np.add.at(turns, one, ways[two] - ways[one])
        np.add.at(turns, two, ways[two] - ways[one])
        runs = np.cross(ways, turns)
        long = np.linalg.norm(runs, axis=1, keepdims=True)
        return np.asarray(np.where(long > 1e-6, runs / np.maximum(long, 1e-30), 0.0))

    def _points_of_cones(self, groups: NDArray[np.int64], ways: Array) -> NDArray[np.int64]:
        """Smooth corners whose faces look so far apart that no one normal stands for them."""
        lean = (self.normals[:, None, :] * ways[groups]).sum(axis=2)
        least = np.ones(len(ways))
        np.minimum.at(least, groups.ravel(), lean.ravel())
        return np.flatnonzero(least < np.cos(np.radians(POINTED)))

    def _angles(self) -> Array:
        """(m, 3) radians at every corner."""
        points = self.vertices[self.faces]
        a, b = np.roll(points, -1, axis=1) - points, np.roll(points, 1, axis=1) - points
        cross = np.linalg.norm(np.cross(a, b), axis=2)
        return np.asarray(np.arctan2(cross, (a * b).sum(axis=2)))


def _next(sides: NDArray[np.int64]) -> NDArray[np.int64]:
    """The corner at the end of a side."""
    return sides // 3 * 3 + (sides % 3 + 1) % 3


def _moved(ways: Array, here: NDArray[np.int64], g: int, ruling: Array) -> Array:
    """How far a corner moves for a layer 1 off: along its normal, and along its ruling until it meets its neighbour's
    layer. Slid along the fold instead, a curved wall would be cut askew."""
    others = [ways[k] for k in here if k != g]
    if not others:
        return np.asarray(ways[g])
    across = float(ruling @ others[0])
    if len(others) == 1 and abs(across) > 0.02:
        return np.asarray(ways[g] + (1 - ways[g] @ others[0]) / across * ruling)
    return _meeting(np.array([ways[g], *others]))


def _meeting(ways: Array) -> Array:
    """Where layers that lie 1 off a point along unit normals (k, 3) meet, seen from it: the nearest such place."""
    if len(ways) == 2:
        return np.asarray(ways.sum(axis=0) / (1 + ways[0] @ ways[1]))
    return np.asarray(np.linalg.lstsq(ways, np.ones(len(ways)), rcond=1e-6)[0])
