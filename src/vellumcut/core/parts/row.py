"""Things at even distances along a line: how many there are and where each sits."""

from dataclasses import dataclass
from math import ceil

import numpy as np
from numpy.typing import NDArray

from vellumcut.core.design.parts import Row
from vellumcut.core.parts.border import line_within
from vellumcut.core.parts.ribbon import Ribbon

Array = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Places:
    """at: (n, 2) mm on the flat neighbourhood. pitch: as it came out, mm. length: of the line they sit on, mm.
    out: how many more there would be, were the row not kept off anchors and holes."""

    at: Array
    pitch: float
    length: float
    out: int = 0


def spaced(length: float, row: Row, closed: bool) -> tuple[list[float], float]:
    """Distances along a line of so many mm, and the pitch that comes out even.

    An open line has length / pitch + 1 of them where they sit at its ends, a closed one length / pitch (parts rule
    book, section 2); with half a pitch at each end an open line has length / pitch too. A punch with prongs keeps its
    own pitch, and what is over is left at both ends.
    """
    if row.prongs and not closed:
        gaps = int(length / row.pitch + 1e-9)
        return [(length - gaps * row.pitch) / 2 + k * row.pitch for k in range(gaps + 1)], row.pitch
    gaps = max(1, round(length / row.pitch))
    pitch = length / gaps
    if closed:
        return [k * pitch for k in range(gaps)], pitch
    if row.ends == "at the ends":
        return [k * pitch for k in range(gaps + 1)], pitch
    return [(k + 0.5) * pitch for k in range(gaps)], pitch


def strokes_of(holes: int, prongs: int) -> int:
    """How often a punch is struck for so many holes in a line: after the first time one prong goes into the last
    hole, to keep the line."""
    if holes < 1 or prongs < 1:
        return 0
    return 1 + max(0, ceil((holes - prongs) / max(prongs - 1, 1)))


def places_of(ribbon: Ribbon, row: Row) -> list[Places]:
    """A row along one run; two of them where it sits on both sides of a line inside a panel."""
    sides = [row.inset, -row.inset] if row.both and ribbon.run.within and row.inset > 0 else [row.inset]
    out = []
    for inset in sides:
        line = line_within(ribbon, inset)
        arc = ribbon.along(line) if len(line) > 1 else np.zeros(1)
        if arc[-1] < 1.0:
            continue
        at, pitch = spaced(float(arc[-1]), row, ribbon.meets_itself(line))
        out.append(Places(np.stack([np.interp(at, arc, line[:, k]) for k in (0, 1)], axis=1), pitch, float(arc[-1])))
    return out
