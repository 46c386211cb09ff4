"""Every seam and dart of a piece as it is cut: how far it folds, what is bevelled off which face, and why."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from vellumcut.core.cast.halves import WHOLE
from vellumcut.core.flatten.panel import FlatPanel
from vellumcut.core.foam.bevels import SQUARE_BELOW, Bevel, bevels
from vellumcut.core.foam.folds import Fold, read_fold
from vellumcut.core.foam.verdict import place_words
from vellumcut.core.ink.darts import without_darts
from vellumcut.core.ink.design import DartEdges
from vellumcut.core.ink.library.table import TEMPLATES
from vellumcut.core.ink.stage import InkedPiece

Array = NDArray[np.float64]

DART_SQUARE_BELOW, DART_SQUARE_FOAM = 20.0, 4.0
"""By fold, a dart stays square where it folds less than this, degrees, or the foam is no thicker than this, mm."""
CHANGES = 10.0
"""A fold that changes along its line by more than this is cut with a knife that turns as it goes, degrees (est.)."""


@dataclass(frozen=True)
class Joint:
    """Two edges that are glued together, both of sheets ``foam`` mm thick.

    name: of the seam or dart. panels: numbers of those that meet, one where a panel meets itself or its mirror image.
    ends: words for where the line begins and ends. square: why it stays square whatever its fold is; empty where the
    fold decides.
    """

    kind: Literal["seam", "dart"]
    name: str
    panels: tuple[int, ...]
    fold: Fold
    foam: float
    ends: tuple[str, str]
    square: str = ""

    @property
    def length(self) -> float:
        """On the armour's middle layer, mm."""
        return float(self.fold.at[-1])

    def bevel_at(self, degrees: float) -> Bevel:
        """Of each of its edges where it folds so."""
        return bevels(0.0 if self.square else degrees, self.foam, self.foam)[0]

    @cached_property
    def bevel(self) -> Bevel:
        """Of each edge for its mean fold: the one angle for a knife that does not turn."""
        return self.bevel_at(self.fold.mean)

    @property
    def changes(self) -> bool:
        """Whether one angle does not do all along it."""
        low, high = self.fold.range
        return not self.square and high - low > CHANGES and max(abs(low), abs(high)) >= SQUARE_BELOW

    @property
    def words(self) -> str:
        """What to do and why, for the maker."""
        fold, bevel = self.fold.mean, self.bevel
        way = "a ridge" if fold > 0 else "a valley"
        if self.square:
            return f"It folds {abs(fold):.0f}°, {way}: leave both edges square, {self.square}."
        if bevel.off_square == 0 and not self.changes:
            return f"It folds {abs(fold):.0f}°, under {SQUARE_BELOW:.0f}°: leave both edges square."
        face = f"off the {bevel.taken_off} face of both edges"
        if self.changes:
            first, last = (self.bevel_at(float(self.fold.degrees[k])).off_square for k in (0, -1))
            return (
                f"It folds {abs(fold):.0f}° in the mean, {way}: take half of the fold {face}, turning the knife as you go, "
                f"from {first:.0f}° at its {self.ends[0]} to {last:.0f}° at its {self.ends[1]}."
            )
        return f"It folds {abs(fold):.0f}°, {way}: take {bevel.off_square:.0f}° {face}."


def joints_of(piece: InkedPiece, flats: Sequence[FlatPanel], school: DartEdges) -> list[Joint]:
    """All that is glued on one side of a piece. flats: its panels laid flat. school: how darts are cut."""
    foam, out = piece.design.foam, []
    whole = [without_darts(p) for p in piece.panels]
    lines = {x.arc: x.uv for p in whole for x in (*p.outline, *p.holes) if x.arc}
    for flat in flats:
        for seam in flat.seams:
            if seam.kind != "opening" and seam.arc in lines:
                numbers = (p.number for p in whole if any(x.arc == seam.arc for x in (*p.outline, *p.holes)))
                uv, ends = _upwards(piece, lines[seam.arc])
                out.append(Joint("seam", seam.name, tuple(numbers), read_fold(piece.surface, uv), foam, ends))
    for panel in piece.panels:
        for dart in panel.darts:
            fold = read_fold(piece.surface, dart.uv)
            square = square_dart(school, fold.mean, foam)
            out.append(Joint("dart", dart.name, (panel.number,), fold, foam, ("mouth", "tip"), square))
    return out


def _upwards(piece: InkedPiece, uv: Array) -> tuple[Array, tuple[str, str]]:
    """A line turned so that it runs up the segment, and words for its ends; one that lies level is told by its places."""
    rise = float(np.diff(piece.tube.mm(uv[[0, -1], 1]))[0])
    level = float(uv[-1, 0] - uv[0, 0]) * float(np.mean(piece.tube.station_girths))
    if abs(rise) >= abs(level):
        return (uv if rise >= 0 else uv[::-1]), ("lower end", "upper end")
    trunk = TEMPLATES[piece.design.template].part in WHOLE
    places = [place_words((float(u), float(v)), piece.tube.names, trunk).split(", ")[-1] for u, v in uv[[0, -1]]]
    return uv, (f"end at the {places[0]}", f"end at the {places[1]}")


def square_dart(school: DartEdges, fold: float, foam: float) -> str:
    """Why a dart's edges stay square; empty where they are bevelled by their fold. See ``DartEdges`` for the schools."""
    if school == "square":
        return "as this build does with darts: the foam is formed after they are closed"
    if school == "bevelled":
        return ""
    if foam <= DART_SQUARE_FOAM:
        return f"a dart in {foam:g} mm foam needs no bevel"
    return (
        f"a dart that folds under {DART_SQUARE_BELOW:.0f}° only puckers when bevelled"
        if abs(fold) < DART_SQUARE_BELOW
        else ""
    )
