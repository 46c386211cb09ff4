"""Ink lines on the cast, and the panels they enclose."""

from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

Kind = Literal[
    "outline", "seam", "centre line", "fold", "score", "trim edge", "layer cut", "paint line", "mark", "dart", "kerf"
]
CLOSURE = "closure"
"""Key of the stroke along which a template's piece opens: both its sides are made alike, and it is never glued."""


_OPENED = f"{CLOSURE}:"


def opens(arc: str) -> bool:
    """Whether what shares an arc is a line that opens, not a seam."""
    return arc.partition("@")[0] == CLOSURE or arc.startswith(_OPENED)


def opened(arc: str) -> str:
    """The arc of a seam that its maker leaves open."""
    return arc if opens(arc) else _OPENED + arc


def stroke_of(arc: str) -> str:
    """Key of the stroke that an arc is a stretch of."""
    return arc.removeprefix(_OPENED).partition("@")[0].removesuffix("'")


MIRRORED = " (mirrored)"
"""What the name of a line's mirror image ends with."""


def line_word(name: str) -> str:
    """What a line is called, whichever half and part of it is meant."""
    return name.split(", ", maxsplit=1)[0].removesuffix(MIRRORED)


@dataclass(frozen=True)
class InkLine:
    """A drawn line. uv: (n, 2) points in (around, along), dense enough to follow straight between them.

    arc: the same for all panels that share this stretch of a line, mirror images too; empty where nothing is shared.
    forward: whether it runs the way the arc does. key: of the stroke it was drawn with, for a line that bounds nothing.
    """

    kind: Kind
    name: str
    uv: NDArray[np.float64]
    arc: str = ""
    forward: bool = True
    key: str = ""


@dataclass(frozen=True)
class DartInk:
    """A slit that opens when the panel is laid flat. uv: (n, 2) from its mouth on the outline to its tip.

    after: number of the outline's line that ends at the mouth. key: of its stroke.
    """

    key: str
    name: str
    uv: NDArray[np.float64]
    after: int


@dataclass(frozen=True)
class PanelInk:
    """One panel's ink. outline: lines end to end, counter-clockwise on the outer face; each join is a corner.

    holes: closed lines round what is cut out of it, clockwise. darts: slits from the outline in.
    drawn: made of free strokes, not a plain shell round a limb. inside: lines on it that bound nothing.
    """

    number: int
    outline: tuple[InkLine, ...]
    centre: InkLine
    drawn: bool = False
    holes: tuple[InkLine, ...] = ()
    darts: tuple[DartInk, ...] = ()
    inside: tuple[InkLine, ...] = ()
