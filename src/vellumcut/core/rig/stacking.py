"""Which pieces a piece lies over on the body though it is patterned at their height."""

import numpy as np
import shapely

from vellumcut.core.rig.costume import Costume, Worn
from vellumcut.core.rig.laid import LaidPiece
from vellumcut.core.rig.recipes import LIES_OVER

GRID, MEETS = 6.0, 1200.0
"""Places are tried so far apart, mm; less than so much of it over another piece is an edge that meets, mm2 (est.)."""


def unsaid_beneath(costume: Costume, piece: Worn) -> list[Worn]:
    """Pieces of lower rank that it covers and is not patterned over: there two sheets would have to be in one place."""
    said = _said(costume, piece)
    return [x for x in costume.pieces if _may_lie_under(x, piece) and x.name not in said and _shared(piece, x) > MEETS]


def _may_lie_under(one: Worn, piece: Worn) -> bool:
    same_part = one.key != piece.key and one.part == piece.part
    return same_part and LIES_OVER[one.design.template] < LIES_OVER[piece.design.template]


def _said(costume: Costume, piece: Worn) -> set[str]:
    """Names of all it is patterned over, and of what those are."""
    out: set[str] = set()
    wanted = list(piece.design.over)
    while wanted:
        name = wanted.pop()
        if name not in out:
            out.add(name)
            wanted += [x for mate in costume.pieces if mate.name == name for x in mate.design.over]
    return out


def _shared(piece: Worn, other: Worn) -> float:
    """Area of a piece that lies over another on one side of the body, mm2 of its plane."""
    sides = [s for s in piece.sides if s in other.sides]
    return max((_over(piece.on(s), other.on(s)) for s in sides), default=0.0)


def _over(laid: LaidPiece, other: LaidPiece) -> float:
    low_x, low, high_x, high = laid.area.bounds
    x, y = (g.ravel() for g in np.meshgrid(np.arange(low_x, high_x, GRID), np.arange(low, high, GRID)))
    shapely.prepare(laid.area)
    inside = shapely.contains_xy(laid.area, x, y)
    return float(other.covers(laid.plane.uv(np.stack([x[inside], y[inside]], axis=1))).sum()) * GRID**2
