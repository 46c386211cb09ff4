"""From the ground to the picture and back: a plane seen in perspective through a lens that bends straight lines.

Points of the picture are pixels, the middle of the first pixel at (0, 0). Inside, they are measured from the picture's
middle in halves of its diagonal. The bend is Brown's: r' = r (1 + k1 r^2 + k2 r^4) about a middle that may lie off.
"""

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]

PER = 100.0
"""mm on the ground that count as one, so that all unknowns are of one size."""
REACH = 1.7
"""How far from the middle, in half diagonals, the bend is turned back: beyond every corner."""


@dataclass(frozen=True, eq=False)
class Lens:
    """size: w, h pixels. flat: (8,) entries of the plane's homography, row by row, the ninth being 1."""

    size: tuple[int, int]
    flat: Array
    k1: float = 0.0
    k2: float = 0.0
    cx: float = 0.0
    cy: float = 0.0

    @cached_property
    def half(self) -> float:
        return float(np.hypot(*self.size)) / 2

    @cached_property
    def homography(self) -> Array:
        return np.append(self.flat, 1.0).reshape(3, 3)

    def project(self, places: Array) -> Array:
        """(n, 2) pixels of (n, 2) places on the ground, mm."""
        seen = np.column_stack([places / PER, np.ones(len(places))]) @ self.homography.T
        straight = seen[:, :2] / seen[:, 2:] - (self.cx, self.cy)
        r2 = (straight**2).sum(axis=1, keepdims=True)
        bent: Array = straight * (1 + self.k1 * r2 + self.k2 * r2**2) + (self.cx, self.cy)
        out: Array = bent * self.half + self._middle
        return out

    def unproject(self, pixels: Array) -> Array:
        """(n, 2) places on the ground, mm, of (n, 2) pixels."""
        bent = (pixels - self._middle) / self.half - (self.cx, self.cy)
        far = np.hypot(*bent.T)
        straight = np.interp(far, *self._back)
        ratio = np.divide(straight, far, out=np.ones_like(far), where=far > 1e-12)
        at = bent * ratio[:, None] + (self.cx, self.cy)
        back = np.column_stack([at, np.ones(len(at))]) @ np.linalg.inv(self.homography).T
        out: Array = back[:, :2] / back[:, 2:] * PER
        return out

    @property
    def _middle(self) -> Array:
        return (np.array(self.size) - 1) / 2

    @cached_property
    def _back(self) -> tuple[Array, Array]:
        r = np.linspace(0.0, REACH, 6001)
        bent = r * (1 + self.k1 * r**2 + self.k2 * r**4)
        turning = np.flatnonzero(np.diff(bent) <= 0)
        end = int(turning[0]) + 1 if len(turning) else len(r)
        return bent[:end], r[:end]
