"""Every seam and dart of a piece as it is cut: how far it folds, what is bevelled off which face, and why."""

from dataclasses import dataclass
from functools import cached_property
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from vellumcut.core.cast.halves import WHOLE
from vellumcut.core.design.piece import DartEdges
from vellumcut.core.flatten.panel import dart_arc
from vellumcut.core.foam.bevels import SQUARE_BELOW, Bevel, bevels
from vellumcut.core.foam.folds import Fold, read_fold
from vellumcut.core.foam.stacks import thickness_of
from vellumcut.core.foam.verdict import place_words
from vellumcut.core.ink.darts import without_darts
from vellumcut.core.ink.library.table import TEMPLATES
from vellumcut.core.ink.lines import InkLine, opens
from vellumcut.core.ink.stage import InkedPiece
from vellumcut.core.ink.templates import CLOSING
from vellumcut.core.notes import Note, Value

Array = NDArray[np.float64]

DART_SQUARE_BELOW, DART_SQUARE_FOAM = 20.0, 4.0
"""By fold, a dart stays square where it folds less than this, degrees, or the foam is no thicker than this, mm."""
CHANGES = 10.0
"""A fold that changes along its line by more than this is cut with a knife that turns as it goes, degrees (est.)."""
RUNS_OUT = 0.25
"""A dart's bevel is run out to square over this last share of its legs: at its tip the foam is whole."""


@dataclass(frozen=True)
class Joint:
    """Two edges that are glued together.

    name: of the seam or dart. panels, foam: number and thickness, mm, of what meets on each side; the same twice where
    a panel meets itself or its mirror image. arc: what both share; forward: whether ``fold`` runs the way it does.
    ends: words for where the line begins and ends. square: why it stays square whatever its fold is; empty where the
    fold decides. asked: the fold is the maker's own word, not read off the body. mirrored: it has one edge
    here, which meets its own mirror image.
    """

    kind: Literal["seam", "dart"]
    name: str
    panels: tuple[int, int]
    fold: Fold
    foam: tuple[float, float]
    ends: tuple[str, str]
    arc: str = ""
    forward: bool = True
    square: str = ""
    asked: bool = False
    mirrored: bool = False

    @property
    def length(self) -> float:
        """On the armour's middle layer, mm."""
        return float(self.fold.at[-1])

    def bevel_at(self, degrees: float, at: float = 0.0) -> tuple[Bevel, Bevel]:
        """Of both edges where it folds so, ``at`` mm along it."""
        left = (1 - at / max(self.length, 1e-9)) / RUNS_OUT if self.kind == "dart" else 1.0
        return bevels(0.0 if self.square else degrees * float(np.clip(left, 0.0, 1.0)), *self.foam)

    @cached_property
    def bevel(self) -> tuple[Bevel, Bevel]:
        """Of both edges for its mean fold: the one angle for a knife that does not turn."""
        return self.bevel_at(self.fold.mean)

    @cached_property
    def stations(self) -> list[tuple[float, float, tuple[Bevel, Bevel]]]:
        """(mm along it, fold in degrees, both bevels) all along it."""
        rows = zip(self.fold.at.tolist(), self.fold.degrees.tolist(), strict=True)
        return [(at, d, self.bevel_at(d, at)) for at, d in rows]

    @property
    def changes(self) -> bool:
        """Whether one angle does not do all along it."""
        low, high = self.fold.range
        return not self.square and high - low > CHANGES and max(abs(low), abs(high)) >= SQUARE_BELOW

    @property
    def _unlike(self) -> str:
        """What to do where a thick panel meets a thin one."""
        one, two = self.bevel
        if np.isclose(one.off_square, two.off_square):
            return (
                f"too little for one cut through {self.foam[0]:g} and {self.foam[1]:g} mm: take {one.off_square:.0f}° "
                f"off the {one.taken_off} face of both edges, and let the thicker one stand out."
            )
        return (
            f"between {self.foam[0]:g} and {self.foam[1]:g} mm: take {one.off_square:.0f}° off the {one.taken_off} "
            f"face of panel {self.panels[0]} and {two.off_square:.0f}° off the {two.taken_off} face of panel "
            f"{self.panels[1]}, so that both cuts are equally long."
        )

    @property
    def both_ways(self) -> bool:
        """Whether it is a ridge at one place and a valley at another."""
        low, high = self.fold.range
        return not self.square and low <= -SQUARE_BELOW and high >= SQUARE_BELOW

    @property
    def _both_ways(self) -> str:
        ends = [f"{abs(d):.0f}°, {'a ridge' if d > 0 else 'a valley'}" for d in self.fold.degrees[[0, -1]]]
        return (
            f"from {ends[0]}, at its {self.ends[0]} to {ends[1]}, at its {self.ends[1]}: take half of the fold off the "
            "inner face where it is a ridge and off the outer face where it is a valley, turning the knife as you go; "
            f"where it is under {SQUARE_BELOW:.0f}° leave it square."
        )

    @property
    def words(self) -> str:
        """What to do and why, for the maker."""
        fold, one = self.fold.mean, self.bevel[0]
        way = "a ridge" if fold > 0 else "a valley"
        told = "You say that it folds" if self.asked else "It folds"
        if self.square:
            return f"{told} {abs(fold):.0f}°, {way}: leave both edges square, {self.square}."
        if one.off_square == 0 and not self.changes:
            flat = abs(fold) < 0.5
            slight = "It runs smoothly across" if flat else f"{told} {abs(fold):.1f}°, under {SQUARE_BELOW:.0f}°"
            return f"{slight}: leave both edges square."
        out = " Run it out to square towards the tip." if self.kind == "dart" else ""
        if self.foam[0] != self.foam[1]:
            return f"{told} {abs(fold):.0f}°, {way}, {self._unlike}{out}"
        face = f"off the {one.taken_off} face of both edges"
        if self.both_ways:
            return f"{told} {self._both_ways}{out}"
        if self.changes:
            first, last = self.stations[0][2][0].off_square, self.stations[-1][2][0].off_square
            return (
                f"{told} {abs(fold):.0f}° in the mean, {way}: take half of the fold {face}, turning the knife as you "
                "go, "
                f"from {first:.0f}° at its {self.ends[0]} to {last:.0f}° at its {self.ends[1]}.{out}"
            )
        return f"{told} {abs(fold):.0f}°, {way}: take {one.off_square:.0f}° {face}.{out}"


def joint_note(joint: Joint) -> Note | None:
    """How the bevel of its mean fold was made; None where it stays square."""
    (one, _), fold = joint.bevel, abs(joint.fold.mean)
    if one.off_square == 0:
        return None
    alike = joint.foam[0] == joint.foam[1]
    values = (Value("fold", fold, "degrees"), Value("this panel", joint.foam[0]), Value("the other", joint.foam[1]))
    return Note(
        title=f"Bevel of {joint.name}",
        result=Value("off square", one.off_square, "degrees"),
        formula="half of {0}" if alike else "arctan(({2} / {1} - cos {0}) / sin {0})",
        values=values,
        reason="Both cuts must lie on each other: the sheets turn by the fold, and each edge gives way by its share.",
        change="A slighter fold, or your own angle for it; under 8 degrees it stays square.",
        about=f"joint.{joint.name}",
    )


def joints_of(piece: InkedPiece, school: DartEdges) -> list[Joint]:
    """All that is glued on one side of a piece, read off its ink: nothing need be laid flat. school: how darts are
    cut."""
    out = []
    own = {x.name: x.fold for x in piece.design.foam_work.seams}
    for arc, (line, panels) in seam_lines(piece).items():
        uv, ends = _upwards(piece, line.uv)
        name = seam_name(arc, line)
        both = panels[0], panels[-1]
        foam = thickness_of(piece.design, both[0]), thickness_of(piece.design, both[1])
        forward = line.forward == (uv is line.uv)
        fold = _asked(own, name, read_fold(piece.surface, uv))
        told = (both, fold, foam, ends, arc, forward)
        out.append(Joint("seam", name, *told, asked=name in own, mirrored=len(panels) == 1))
    for panel in piece.panels:
        for dart in panel.darts:
            fold = _asked(own, dart.name, read_fold(piece.surface, dart.uv))
            thick = thickness_of(piece.design, panel.number)
            square = square_dart(school, fold.mean, thick)
            slit = ((panel.number, panel.number), fold, (thick, thick), ("mouth", "tip"), dart_arc(dart))
            out.append(Joint("dart", dart.name, *slit, square=square, asked=dart.name in own))
    return out


def seam_lines(piece: InkedPiece) -> dict[str, tuple[InkLine, list[int]]]:
    """Every line that is glued, by what its sides share: as its first panel has it, and the numbers of all that
    meet."""
    out: dict[str, tuple[InkLine, list[int]]] = {}
    for panel in piece.panels:
        whole = without_darts(panel)
        for line in (*whole.outline, *whole.holes):
            if line.kind == "seam" and line.arc and not opens(line.arc):
                out.setdefault(line.arc, (line, []))[1].append(panel.number)
    return out


def seam_name(arc: str, line: InkLine) -> str:
    """What a seam is called, however many parts darts have made of its line."""
    return CLOSING if arc == CLOSING else line.name.split(", ")[0]


def _asked(own: dict[str, float], name: str, read: Fold) -> Fold:
    """The maker's own angle all along the line, where there is one."""
    return Fold(read.at, np.full(len(read.at), own[name])) if name in own else read


def _upwards(piece: InkedPiece, uv: Array) -> tuple[Array, tuple[str, str]]:
    """A line turned so that it runs up the segment, and words for its ends; one that lies level is told by its
    places."""
    rise = float(np.diff(piece.tube.mm(uv[[0, -1], 1]))[0])
    level = float(uv[-1, 0] - uv[0, 0]) * float(np.mean(piece.tube.station_girths))
    if abs(rise) >= abs(level):
        return (uv if rise >= 0 else uv[::-1]), ("lower end", "upper end")
    trunk = TEMPLATES[piece.design.template].part in WHOLE
    places = [place_words((float(u), float(v)), piece.tube.names, trunk).split(", ")[-1] for u, v in uv[[0, -1]]]
    return uv, (f"end at the {places[0]}", f"end at the {places[1]}")


def square_dart(school: DartEdges, fold: float, foam: float) -> str:
    """Why a dart's edges stay square; empty where they are bevelled by their fold. See ``DartEdges`` for the
    schools."""
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
