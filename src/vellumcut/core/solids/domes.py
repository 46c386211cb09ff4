"""Domes and balls: gores from pole to rim that bend one way only, or rings one over the other."""

import itertools

import numpy as np
from numpy.typing import NDArray

from vellumcut.core.design.solids import Dome
from vellumcut.core.solids.building import Building, ring
from vellumcut.core.solids.shell import Part, Shell

Array = NDArray[np.float64]

STEPS = 90
"""Of a gore from rim to pole."""


def dome(solid: Dome, foam: float) -> Shell:
    """See ``Dome``. What is measured inside holds a ball of that width: its flats touch it; what is measured outside
    fits into one: its edges touch it."""
    return _gores(solid) if solid.way == "gores" else _rings(solid)


def stands_off(solid: Dome) -> float:
    """How far its edges stand off the ball inside it, or its flats lie under the one round it, mm."""
    half = np.pi / solid.parts if solid.way == "gores" else _step(solid) / 2
    radius = solid.wide / 2
    return float(radius / np.cos(half) - radius if solid.inside else radius - radius * np.cos(half))


def _gores(solid: Dome) -> Shell:
    """Round the pole each gore is a part of a cylinder that lies across it."""
    made, n = Building(solid.inside), solid.parts
    apothem = solid.wide / 2 * (1.0 if solid.inside else np.cos(np.pi / n))
    low = -np.pi / 2 if solid.whole else 0.0
    polar = np.linspace(low, np.pi / 2, (2 if solid.whole else 1) * STEPS + 1)
    across, high = apothem * np.cos(polar), solid.wide / 2 * np.sin(polar)
    for k in range(n):
        left, right = ((k + s) * 2 * np.pi / n for s in (-0.5, 0.5))
        grown = 1 / np.cos(np.pi / n)
        sides = [
            np.stack([across * grown * np.cos(a), across * grown * np.sin(a), high], axis=1) for a in (left, right)
        ]
        faces = []
        count = len(polar)
        for j in range(count - 1):
            faces += [(j, count + j, count + j + 1), (j, count + j + 1, j + 1)]
        made.add(np.vstack(sides), np.array(faces, np.int64), Part(f"gore {k + 1}"))
    return made.done()


def _step(solid: Dome) -> float:
    return (np.pi if solid.whole else np.pi / 2) / solid.parts


def _rings(solid: Dome) -> Shell:
    made, step = Building(solid.inside), _step(solid)
    radius = solid.wide / 2 / (np.cos(step / 2) if solid.inside else 1.0)
    polar = np.linspace(-np.pi / 2 if solid.whole else 0.0, np.pi / 2, solid.parts + 1)
    rings = []
    for p in polar:
        across = 2 * radius * np.cos(p)
        z = radius * float(np.sin(p))
        rings.append(np.array([[0.0, 0.0, z]]) if across < 1e-6 else ring(across, across, z=z))
    for k, (a, b) in enumerate(itertools.pairwise(rings), 1):
        if len(a) == 1:
            made.wall(b[::-1], a, f"ring {k}", first=len(b) - 1 - len(b) // 2)
        else:
            made.wall(a, b, f"ring {k}", first=(len(a) // 2 if k % 2 else 0))
    return made.done()
