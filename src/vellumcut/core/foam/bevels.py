"""How two edges of foam are cut so that they meet at an angle without a gap. Source: geometry of the mitre."""

from dataclasses import dataclass
from typing import Literal

import numpy as np

SQUARE_BELOW = 8.0
"""Fold under which an edge stays square, degrees (est.): glue takes it up, and a bevel so slight is never cut true."""
Face = Literal["inner", "outer"]


@dataclass(frozen=True)
class Bevel:
    """One edge. off_square: how far its cut leans, degrees; below zero where it leans under the other's edge.

    taken_off: the face that ends up shorter. move: how far the outline of the middle layer is moved out to be that of
    the full-size face, which is the one to trace, mm.
    """

    off_square: float
    taken_off: Face
    move: float


def bevels(fold: float, first: float, second: float) -> tuple[Bevel, Bevel]:
    """Both edges of a joint. fold: degrees, above zero for a ridge. first, second: thickness of each sheet, mm.

    The cut runs from where the full-size faces meet to where the other faces meet. A ridge is taken off the inner face,
    a valley off the outer one. Equal sheets take half the fold each.
    """
    face: Face = "inner" if fold > 0 else "outer"
    if abs(fold) < SQUARE_BELOW:
        return Bevel(0.0, face, 0.0), Bevel(0.0, face, 0.0)
    turn = np.radians(abs(fold))
    one = float(np.arctan((second / first - np.cos(turn)) / np.sin(turn)))
    two = float(turn) - one
    return _bevel(one, face, first), _bevel(two, face, second)


def _bevel(angle: float, face: Face, thickness: float) -> Bevel:
    return Bevel(float(np.degrees(angle)), face, float(thickness / 2 * np.tan(angle)))
