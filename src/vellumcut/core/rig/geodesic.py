"""Shortest lines: on one surface between two places, and taut through the air over several."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.interpolate import CubicSpline
from scipy.linalg import solveh_banded
from scipy.spatial import KDTree

Array = NDArray[np.float64]

NODES = 49
FINE = 12
"""A line is measured on so many points between two of its nodes, along a smooth curve through them."""
ROUNDS = 60
DONE = 1e-3
"""Longest step of a node, mm, after which a line is no longer moved."""
_NEAR = 0.05
"""Step of a numeric derivative on the drawing plane, mm."""
_LONGEST = 25.0
"""No node moves further in one round, mm."""

Place = Callable[[Array], Array]
"""(n, 2) mm on a drawing plane -> (n, 3) mm in space."""


@dataclass(frozen=True, eq=False)
class Path:
    """flat: (n, 2) mm on the drawing plane; empty for a line through the air. points: (n, 3) mm. length: mm."""

    flat: Array
    points: Array
    length: float


def polyline_length(points: Array) -> float:
    """Length of (n, 3) points joined, mm."""
    return float(np.linalg.norm(np.diff(points, axis=0), axis=1).sum())


def shortest_on(place: Place, start: Array, end: Array, through: Sequence[Array] = (), nodes: int = NODES) -> Path:
    """The geodesic between two places (2,) of a drawing plane, mm, that a line through some others relaxes into.

    Gauss-Newton on the energy of a chain of nodes: its least is a geodesic run at even speed (do Carmo, Riemannian
    Geometry, 9-2). It finds the shortest line of its kind: which way round a body is told by ``through``.
    """
    way = np.array([start, *through, end], dtype=float)
    flat = _spread(place, way, nodes)
    energy = _energy(place, flat)
    for _ in range(ROUNDS):
        step = _newton_step(place, flat)
        most = float(np.abs(step).max(initial=0.0))
        if most > _LONGEST:
            step *= _LONGEST / most
        before = energy
        for _ in range(6):
            moved = flat.copy()
            moved[1:-1] += step
            energy = _energy(place, moved)
            if energy <= before:
                break
            step *= 0.5
        flat = moved
        if most < DONE:
            break
    fine = CubicSpline(np.arange(nodes), flat)(np.linspace(0, nodes - 1, (nodes - 1) * FINE + 1))
    points = place(fine)
    return Path(flat, place(flat), polyline_length(points))


def _spread(place: Place, way: Array, nodes: int) -> Array:
    """Nodes along a rough line, equally far apart in space."""
    t = np.linspace(0, len(way) - 1, 400)
    rough = np.stack([np.interp(t, np.arange(len(way)), way[:, k]) for k in (0, 1)], axis=1)
    arc = np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(place(rough), axis=0), axis=1))])
    at = np.linspace(0, arc[-1], nodes)
    return np.stack([np.interp(at, arc, rough[:, k]) for k in (0, 1)], axis=1)


def _energy(place: Place, flat: Array) -> float:
    return float((np.diff(place(flat), axis=0) ** 2).sum())


def _newton_step(place: Place, flat: Array) -> Array:
    """Step of the inner nodes, (n - 2, 2): the normal equations of a chain are banded, blocks of two."""
    n = len(flat) - 2
    beside = flat[1:-1] + np.array([[[_NEAR, 0.0]], [[-_NEAR, 0.0]], [[0.0, _NEAR]], [[0.0, -_NEAR]]])
    every = place(np.vstack([flat, *beside]))  # at once: a body is asked for few places as slowly as for many
    here, (u, less_u, v, less_v) = every[: n + 2], every[n + 2 :].reshape(4, n, 3)
    slope = np.stack([u - less_u, v - less_v], axis=1) / (2 * _NEAR)
    pull = here[:-2] + here[2:] - 2 * here[1:-1]
    right = np.einsum("nak,nk->na", slope, pull).ravel()
    own = 2 * np.einsum("nak,nbk->nab", slope, slope)
    next_ = -np.einsum("nak,nbk->nab", slope[:-1], slope[1:])
    band = np.zeros((4, 2 * n))
    band[0, 0::2], band[0, 1::2] = own[:, 0, 0] * (1 + 1e-9), own[:, 1, 1] * (1 + 1e-9)
    band[1, 0::2] = own[:, 1, 0]
    band[1, 1:-1:2] = next_[:, 1, 0]
    band[2, 0:-2:2], band[2, 1:-1:2] = next_[:, 0, 0], next_[:, 1, 1]
    band[3, 0:-2:2] = next_[:, 0, 1]
    return np.asarray(solveh_banded(band, right, lower=True).reshape(n, 2))


@dataclass(frozen=True, eq=False)
class Solid:
    """Something a line cannot run through: (n, 3) points of its face, mm, and its outward unit normals."""

    points: Array
    normals: Array

    @property
    def tree(self) -> KDTree:
        """For the nearest of its points."""
        if "_tree" not in self.__dict__:
            self.__dict__["_tree"] = KDTree(self.points)
        tree: KDTree = self.__dict__["_tree"]
        return tree

    def push_out(self, p: Array, reach: float) -> Array:
        """Points (n, 3) moved out of it, by its nearest face within ``reach`` mm."""
        away, near = self.tree.query(p, distance_upper_bound=reach)
        hit = np.isfinite(away)
        out = p.copy()
        at = near[hit]
        depth = ((p[hit] - self.points[at]) * self.normals[at]).sum(axis=1)
        out[hit] -= np.minimum(depth, 0.0)[:, None] * self.normals[at]
        return np.asarray(out)


REACH = 120.0
"""A line this deep in a body is not pushed out of it: it would not know which way, mm."""
PULLS = 90
LEVELS = (7, 13, 25, 49)
"""A line is drawn tight with few nodes first: what is far apart evens out in few pulls only where nodes are few."""
ROUND = (61, 61, 61, 121)
"""One that goes round a body all the way would slip through it with few nodes: it begins near to where it ends."""


def taut_over(
    start: Array, end: Array, solids: Sequence[Solid], through: Sequence[Array] = (), levels: Sequence[int] = LEVELS
) -> Path:
    """A line drawn tight through the air between two points (3,), mm, round what lies between them. through: what it
    begins with between them; levels: with how many nodes it is drawn tight, one after the other.

    By turns each node is drawn to the middle of its neighbours and pushed out of what it has run into.
    """
    points = np.array([start, *through, end], dtype=float)
    for nodes in levels:
        points = _evenly(points, nodes)
        length = np.inf
        for k in range(PULLS):
            points[1:-1] = (
                0.5 * (points[:-2] + points[2:])
                if k % 2 == 0
                else 0.5 * points[1:-1] + 0.25 * (points[:-2] + points[2:])
            )
            for solid in solids:
                points[1:-1] = solid.push_out(points[1:-1], REACH)
            if k % 15 == 14:
                points = _evenly(points, nodes)
                now = polyline_length(points)
                if abs(length - now) < 0.01:
                    break
                length = now
    return Path(np.zeros((0, 2)), points, polyline_length(points))


def _evenly(points: Array, nodes: int) -> Array:
    """A line (n, 3) with so many nodes, equally far apart."""
    arc = np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(points, axis=0), axis=1))])
    even = np.linspace(0, arc[-1], nodes)
    return np.stack([np.interp(even, arc, points[:, c]) for c in range(3)], axis=1)
