"""The unrolled tube as a drawing plane."""

from dataclasses import dataclass
from typing import Protocol

import numpy as np
from numpy.typing import NDArray
from shapely.geometry import Point

from vellumcut.core.body.tube import TubeSurface

Array = NDArray[np.float64]


class Plane(Protocol):
    """A drawing plane: (around, along) to mm and back; ``turn``: its length once round."""

    @property
    def turn(self) -> float: ...

    def flat(self, uv: Array) -> Array: ...

    def uv(self, flat: Array) -> Array: ...


@dataclass(frozen=True)
class DrawingPlane:
    """x = around * turn, y = mm along; turn: the tube's mean girth, mm."""

    tube: TubeSurface
    turn: float

    def flat(self, uv: Array) -> Array:
        """(n, 2) of (around, along) -> (n, 2) mm."""
        return np.stack([uv[:, 0] * self.turn, self.tube.mm(uv[:, 1])], axis=1)

    def uv(self, flat: Array) -> Array:
        """Inverse of ``flat``."""
        return np.stack([flat[:, 0] / self.turn, self.tube.along(flat[:, 1])], axis=1)

    def place(self, point: Point) -> tuple[float, float]:
        """(around, along) of a point, around in [-0.5, 0.5)."""
        u, v = self.uv(np.array([[point.x, point.y]]))[0]
        return float((u + 0.5) % 1.0 - 0.5), float(v)


def drawing_plane(tube: TubeSurface) -> DrawingPlane:
    """The unrolled plane of a tube, in mm."""
    return DrawingPlane(tube, float(np.mean(tube.station_girths)))
