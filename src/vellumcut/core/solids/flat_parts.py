"""Parts of a solid as they lie flat: their edges, their folds, and what meets what."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from vellumcut.core.flatten.strain import StrainSummary
from vellumcut.core.solids.shell import Part

Array = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Side:
    """An edge of a flat part. points: (n, 2) mm, the part to its left. sides: rows of the shell's sides along it. fold:
    (n - 1,) degrees at each step, above zero a ridge. over: how far it goes on past the places that were measured, at
    its start and its end, mm: as walls are thick, edges that meet need not begin at one place."""

    points: Array
    sides: NDArray[np.int64]
    fold: Array
    over: tuple[float, float] = (0.0, 0.0)

    @property
    def length(self) -> float:
        """mm."""
        return float(np.hypot(*np.diff(self.points, axis=0).T).sum())


@dataclass(frozen=True, eq=False)
class Crease:
    """A fold inside a part. points: (n, 2) mm. degrees: above zero a ridge. sides: rows of the shell's sides on it."""

    points: Array
    degrees: float
    sides: frozenset[int]


@dataclass(frozen=True, eq=False)
class FlatPart:
    """One part laid flat. sides: round it, counter-clockwise as its outer face is seen. holes: (k, 2) mm, first not
    repeated. tightest: radius that its middle is bent to, mm; infinite where it stays flat. turn: radians that it
    bends through. strain: what is asked of its foam, None where it is only bent."""

    number: int
    part: Part
    sides: tuple[Side, ...]
    holes: tuple[Array, ...]
    creases: tuple[Crease, ...]
    tightest: float
    turn: float
    strain: StrainSummary | None = None

    @property
    def outline(self) -> Array:
        """(n, 2) mm, first not repeated."""
        return np.vstack([s.points[:-1] for s in self.sides])


@dataclass(frozen=True, eq=False)
class Meeting:
    """Two edges that are glued, each by part and place round it; the second runs against the first. at, degrees: how it
    folds along the first, mm and above zero a ridge."""

    a: tuple[int, int]
    b: tuple[int, int]
    at: Array
    degrees: Array


@dataclass(frozen=True, eq=False)
class Unfolded:
    """All of it."""

    parts: tuple[FlatPart, ...]
    meets: tuple[Meeting, ...]
