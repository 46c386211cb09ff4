"""Flat parts read back by hand, so that they can be closed up again without the program's own help."""

import itertools

import numpy as np
from scipy.optimize import least_squares

from tests.depth import often
from vellumcut.core.design.piece import PieceDesign

WITHIN = 0.3
SIZES = often(50, 12)


def made(solid, foam, **more):
    return PieceDesign(template="belt", solid=solid, foam=foam, **more)


def edges_of(shape):
    ring = np.array(shape.outline)
    corners = [*shape.corners, shape.corners[0] + len(ring)]
    return [np.take(ring, range(a, b + 1), axis=0, mode="wrap") for a, b in itertools.pairwise(corners)]


def length(line):
    return float(np.hypot(*np.diff(line, axis=0).T).sum())


def by_seam(work, shape):
    """The edges at which a panel is glued to itself, and the rims between them, each from seam to seam."""
    edges = edges_of(shape)
    own = [k for m in work.mates if m.a.panel == m.b.panel == shape.number for k in (m.a.edge, m.b.edge)]
    a, b = sorted(own)
    rims = [edges[a + 1 : b], [*edges[b + 1 :], *edges[:a]]]
    return [edges[a], edges[b]], [np.vstack([rows[0][:1], *(e[1:] for e in rows)]) if rows else None for rows in rims]


def circle(points):
    """Middle and radius of the circle through points, by least squares."""
    start = [*points.mean(axis=0), np.ptp(points)]
    found = least_squares(lambda c: np.hypot(*(points - c[:2]).T) - c[2], start, x_scale="jac", xtol=1e-14, ftol=1e-14)
    return found.x[:2], abs(found.x[2])


def draws(seed):
    rng = np.random.default_rng(seed)
    for _ in range(SIZES):
        yield rng, float(rng.choice([2.0, 3.5, 6.0, 10.0, 12.0])), bool(rng.integers(2))


def side(inside, foam):
    """From the middle of a wall to the face that was measured, outwards."""
    return -foam / 2 if inside else foam / 2
