"""Where panels lie on the table: as they lie on the body, near their neighbours, none over another."""

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]

BETWEEN = 30.0
"""Room left between two panels, mm."""
ROUNDS = 400


def lay_out(wanted: Array, low: Array, high: Array) -> Array:
    """Moves (n, 2) mm that bring panels near their wanted middles (n, 2) without one lying over another.

    low, high: corners of each panel's own box, (n, 2) mm. Boxes that overlap push each other apart the shorter way,
    a little at a time, so that what was left stays left and what was above stays above.
    """
    half, middle = (high - low) / 2, (high + low) / 2
    at = wanted.astype(float).copy()
    for _ in range(ROUNDS):
        pushed = False
        for i in range(len(at)):
            for j in range(i + 1, len(at)):
                pushed |= _push(at, half, wanted, i, j)
        if not pushed:
            break
    at -= (at - half).min(axis=0)
    return np.asarray(at - middle)


def _push(at: Array, half: Array, wanted: Array, i: int, j: int) -> bool:
    """Push two panels apart, each the way it lies of the other on the body, however far others have pushed it since."""
    way_of = np.where(wanted[j] >= wanted[i], 1.0, -1.0)
    over = half[i] + half[j] + BETWEEN - (at[j] - at[i]) * way_of
    if over.min() <= 1e-6:
        return False
    axis = int(np.argmin(over))
    way = way_of[axis]
    at[i, axis] -= way * (over[axis] / 2 + 1e-3)
    at[j, axis] += way * (over[axis] / 2 + 1e-3)
    return True
