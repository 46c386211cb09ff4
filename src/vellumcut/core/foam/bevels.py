"""How two edges of foam are cut so that they meet at an angle without a gap. Source: geometry of the mitre."""

from dataclasses import dataclass

import numpy as np

from vellumcut.core.design.foam import Face

SQUARE_BELOW = 8.0
"""Fold under which an edge stays square, degrees (est.): glue takes it up, and a bevel so slight is never cut true."""
STEEPEST = 60.0
"""No blade takes a bevel leaner than this true, degrees (est.)."""


@dataclass(frozen=True)
class Bevel:
    """One edge. off_square: how far its cut leans, degrees. taken_off: the face that ends up shorter; the other is the
    full-size one, and the one to trace. fold: of the joint, degrees."""

    off_square: float
    taken_off: Face
    fold: float

    def move(self, low: float, middle: float, high: float) -> float:
        """How far outside the outline of its middle a sheet's full-size face is traced, mm; below zero it lies inside.

        low, high: the sheet's faces, middle: the layer its outline is of, mm out from the inner face of the panel.
        The cut runs from where the inner faces of both panels meet, leaning by the bevel; the outline of each depth was
        laid on the plane that halves the fold, which for panels of unlike thickness is not the cut.
        """
        if self.off_square == 0:
            return 0.0
        lean, halved = np.tan(np.radians(self.off_square)), np.tan(np.radians(self.fold / 2))
        reached = high * lean if self.taken_off == "inner" else -low * lean
        return float(reached - middle * halved)


def bevels(fold: float, first: float, second: float) -> tuple[Bevel, Bevel]:
    """Both edges of a joint. fold: degrees, above zero for a ridge. first, second: thickness of each panel, mm.

    The cut runs from where the outer faces meet to where the inner faces meet. A ridge is taken off the inner face, a
    valley off the outer one; where one panel is much thicker than the other, its cut may lean the other way. Equal
    panels take half the fold each, and so do unlike ones that fold too little for a cut from face to face: there the
    thicker one stands out on the far face.
    """
    if abs(fold) < SQUARE_BELOW:
        face: Face = "inner" if fold > 0 else "outer"
        return Bevel(0.0, face, fold), Bevel(0.0, face, fold)
    turn = np.radians(abs(fold))
    one = float(np.arctan((second / first - np.cos(turn)) / np.sin(turn)))
    if max(abs(one), abs(turn - one)) > np.radians(STEEPEST):
        one = float(turn) / 2
    return _leaning(one, fold), _leaning(float(turn) - one, fold)


def _leaning(angle: float, fold: float) -> Bevel:
    """angle: radians by which the cut leans in under the face that stays full."""
    return Bevel(float(np.degrees(abs(angle))), "inner" if (angle > 0) == (fold > 0) else "outer", fold)
