"""The made-up model that ships: a forearm guard with a keel, its elbow end flared to a point."""

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
Faces = NDArray[np.int64]

TALL = 230.0
ROWS, COLUMNS = 24, 56


def demo_model() -> tuple[Array, Faces]:
    """vertices: (n, 3) mm, z up from the wrist. faces: (m, 3), outwards; open at both ends and along its back."""
    along = np.linspace(0, 1, ROWS + 1)
    around = np.linspace(-2.6, 2.6, COLUMNS + 1)
    v, u = np.meshgrid(along, around, indexing="ij")
    radius = 31 + 17 * v**0.8 + 14 * np.maximum(v - 0.82, 0) / 0.18
    keel = 9 * np.exp(-((u / 0.16) ** 2)) * (0.35 + 0.65 * v)
    z = TALL * v + 26 * np.maximum(v - 0.7, 0) / 0.3 * np.cos(u / 2) ** 2
    points = np.stack([(radius + keel) * np.sin(u), -0.92 * (radius + keel) * np.cos(u), z], axis=2)
    k = np.arange(ROWS * (COLUMNS + 1)).reshape(ROWS, -1)[:, :-1].ravel()
    wide = COLUMNS + 1
    faces = np.concatenate([np.stack([k, k + 1, k + wide + 1], 1), np.stack([k, k + wide + 1, k + wide], 1)])
    return points.reshape(-1, 3), faces.astype(np.int64)
