"""Ink lines on the cast, and the panels they enclose."""

from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

Kind = Literal["outline", "seam", "centre line"]


@dataclass(frozen=True)
class InkLine:
    """A drawn line. uv: (n, 2) points in (around, along), dense enough to follow straight between them.

    arc: the same for both panels that share this stretch of a line; empty where nothing can be shared.
    """

    kind: Kind
    name: str
    uv: NDArray[np.float64]
    arc: str = ""


@dataclass(frozen=True)
class PanelInk:
    """One panel's ink. outline: lines end to end, counter-clockwise on the outer face; each join is a corner.

    drawn: made of free strokes, not a plain shell round a limb.
    """

    number: int
    outline: tuple[InkLine, ...]
    centre: InkLine
    drawn: bool = False
