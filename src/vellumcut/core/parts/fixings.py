"""What is fixed to a panel from inside or goes through it: anchors of straps, magnets, eyelets and other holes."""

import re
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
import shapely
from numpy.typing import NDArray

from vellumcut.core.flatten.chart import Chart
from vellumcut.core.flatten.mesh import first_chart
from vellumcut.core.ink.lines import InkLine
from vellumcut.core.ink.stage import InkedPiece

Array = NDArray[np.float64]

ANCHOR, BED = "anchor ", ", bed"
_NUMBERED = re.compile(r" \d.*$")
_TICKS = ("opening begins", "opening ends")
"""Marks that only say where something begins."""
LINE = 0.5
"""mm to each side of a mark that is only a line."""


@dataclass(frozen=True, eq=False)
class Fixed:
    """One thing that is fixed to a panel. word: what it is; an anchor by its own name. through: it pierces the foam.
    ground: on the panel's first chart."""

    word: str
    through: bool
    ground: shapely.Geometry


@lru_cache(maxsize=32)
def fixed_on(piece: InkedPiece, at: int) -> tuple[Chart, list[Fixed]]:
    """All that is fixed to a panel, on its chart, which comes with it. Kept: it stays while a hand drags what is laid
    there."""
    chart = first_chart(piece.surface, piece.panels[at])
    lines = piece.fixings[at] if piece.fixings else ()
    return chart, [f for line in lines if (f := _fixed(chart, line)) is not None]


def _fixed(chart: Chart, line: InkLine) -> Fixed | None:
    name = line.name
    if name in _TICKS or (name.startswith(ANCHOR) and not name.endswith(BED)):
        return None  # An anchor's bed is drawn round its cross.
    ground = shapely.convex_hull(shapely.MultiPoint(chart.flat(line.uv))).buffer(LINE)
    if name.startswith(ANCHOR):
        return Fixed(f"the anchor “{name.removeprefix(ANCHOR).removesuffix(BED)}”", False, ground)
    word = _NUMBERED.sub("", name)
    return Fixed(word, word != "magnet", ground)


def clear_of(piece: InkedPiece, at: int, places: Array, half: float) -> NDArray[np.bool_]:
    """Which of some places (n, 2) of (around, along) on a panel lie farther than ``half`` mm from all that is fixed
    there, (n,)."""
    chart, fixed = fixed_on(piece, at)
    if not fixed or not len(places):
        return np.ones(len(places), dtype=bool)
    ground = shapely.union_all([f.ground for f in fixed])
    return np.asarray(shapely.distance(shapely.points(chart.flat(places)), ground) > half)


def told(found: Sequence[str]) -> str:
    """Words for what something lies over: each anchor by its name, holes by their number."""
    out = []
    for word in dict.fromkeys(found):
        n = found.count(word)
        out.append(word if word.startswith("the ") else f"{n} {word}{'s' * (n > 1)}")
    return " and ".join([", ".join(out[:-1]), out[-1]]) if len(out) > 1 else "".join(out)
