"""How one set of places lies on another: moved and turned, never stretched."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Rigid:
    """turn: (2, 2), shift: (2,) mm: a place p comes to lie at p @ turn + shift."""

    turn: Array
    shift: Array

    def place(self, points: Array) -> Array:
        return np.asarray(points @ self.turn + self.shift)

    def back(self, points: Array) -> Array:
        return np.asarray((points - self.shift) @ self.turn.T)


STILL = Rigid(np.eye(2), np.zeros(2))


def onto(places: Array, others: Array) -> Rigid:
    """What lays places on others as well as it can (Kabsch 1976). Both (n, 2), point by point."""
    middle, there = places.mean(axis=0), others.mean(axis=0)
    u, _, vt = np.linalg.svd((places - middle).T @ (others - there))
    turn = u @ np.diag([1.0, np.linalg.det(u @ vt)]) @ vt
    return Rigid(turn, there - middle @ turn)
