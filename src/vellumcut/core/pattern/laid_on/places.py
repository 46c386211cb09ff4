"""Where what is laid on a piece shows on its flat panels, for the table on the screen.

A pattern that leaves the program draws the same lines through its own mesh (``flatten.panel``); this is for what is
tried under the hand, before it is part of any pattern.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from vellumcut.core.parts.laid import LaidPart
from vellumcut.core.pattern.drawn import DrawnPanel

Array = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Shown:
    """Lines on one drawn panel, (k, 2) mm each. code: the panel's."""

    code: str
    rings: tuple[Array, ...]


def shown_on(panels: Sequence[DrawnPanel], parts: Sequence[LaidPart]) -> list[Shown]:
    """What of these parts shows on the outermost sheet of each panel of one side."""
    return lines_on(panels, [(on, line.uv) for p in parts for on, line in p.marks])


def lines_on(panels: Sequence[DrawnPanel], lines: Sequence[tuple[int, Array]]) -> list[Shown]:
    """Lines of (around, along), each with the panel it is on, as they show on the outermost sheet of each of one
    side."""
    out = []
    for panel in panels:
        own = [uv for on, uv in lines if on == panel.flat.number]
        if own and panel.layer.number == panel.layer.count:
            carried = panel.flat.carry(np.vstack(own))
            ends = np.cumsum([len(x) for x in own])[:-1]
            out.append(Shown(panel.label.code, tuple(np.split(carried, ends))))
    return out
