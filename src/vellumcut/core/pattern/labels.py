"""The label every part carries, so that no part is ever without a name, a side or a count."""

from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from vellumcut.core.body.segments import Side
from vellumcut.core.design.piece import PieceDesign
from vellumcut.core.flatten.panel import FlatPanel
from vellumcut.core.foam.stacks import PlacedLayer
from vellumcut.core.ink.library.table import TEMPLATES
from vellumcut.core.solids.words import CODES
from vellumcut.core.units import format_length

Array = NDArray[np.float64]


@dataclass(frozen=True)
class Label:
    """What is written on a panel. code: short mark such as "BC 1 L". count: how many to cut, in words."""

    build: str
    piece: str
    code: str
    side: str
    foam: str
    count: str
    face: str

    @property
    def lines(self) -> tuple[str, ...]:
        """The lines of text, from the top."""
        return (self.piece, self.count, self.foam, self.face, self.build)


@dataclass(frozen=True)
class Beside:
    """Words about an edge or a line, written along it. at: their middle, mm. turn: degrees, never upside down."""

    at: tuple[float, float]
    turn: float
    words: str


def write_beside(line: Array, aside: float, words: str) -> Beside:
    """Words along the middle of a line (n, 2), so many mm to the left of the way it runs."""
    k = len(line) // 2
    way = line[min(k + 1, len(line) - 1)] - line[max(k - 1, 0)]
    way = way / max(float(np.linalg.norm(way)), 1e-9)
    x, y = line[k] + aside * np.array([-way[1], way[0]])
    turn = float(np.degrees(np.arctan2(way[1], way[0])))
    return Beside((float(x), float(y)), (turn + 90.0) % 180.0 - 90.0, words)


def label_panel(
    build: str, piece: str, design: PieceDesign, side: Side, number: int, layer: PlacedLayer, twin: bool,
    mirrored: bool = False,
) -> Label:  # fmt: skip
    """side: of the drawn panel. layer: which of its sheets. twin: the other limb's is this pattern turned over.
    mirrored: so is a second panel
    on the same body."""
    template = TEMPLATES[design.template]
    single = design.solid is not None or template.part in ("torso", "neck")
    short = template.code if design.solid is None else CODES[design.solid.kind]
    other = "right" if side == "left" else "left"
    if twin and mirrored:
        count = "cut 2 as drawn + 2, pattern turned over"
    elif twin:
        count = f"cut 1 {side} + 1 {other}, pattern turned over"
    elif mirrored:
        count = "cut 1 + 1, pattern turned over"
    else:
        count = "cut 1" if single else f"cut 1, {side}"
    return Label(
        build=build,
        piece=piece,
        code=f"{short} {number}{layer.letter}" + ("" if single else f" {side[0].upper()}"),
        side=side,
        foam=f"{format_length(layer.thickness)} {layer.kind} foam" + (f", {layer.words}" if layer.words else ""),
        count=count,
        face=f"{design.drawn_face} face drawn",
    )


ABOVE, BELOW, BEFORE = 10.5, 30.5, 17.5
"""How far a label reaches above and below the foot of its mark, and its arrow before it, mm."""
LETTER, LARGE = 1.8, 6.0
"""Mean width of a letter in its small lines and in its code, mm."""
SCALES = (1.0, 0.85, 0.7, 0.6, 0.5, 0.42, 0.35)
"""Shares of its usual size; below the last nobody reads it."""
ASIDE = 8.0
"""How far right of the middle it begins on a panel with room, mm."""
TRIES = 15
"""Places tried along and across a part for each size."""


@dataclass(frozen=True)
class LabelPlace:
    """Where the foot of a label's mark stands on a panel, mm, and at what share of its usual size."""

    at: tuple[float, float]
    scale: float


def label_place(flat: FlatPanel, label: Label) -> LabelPlace:
    """In the middle of a panel; on a part that is too small for that, where it holds the largest words, so that none
    lie over its edges."""
    low, high = flat.outline.min(axis=0), flat.outline.max(axis=0)
    usual = (low + high) / 2 + [ASIDE, 0.0]
    whole = shapely.make_valid(flat.shape)
    shapely.prepare(whole)
    grid = np.stack(np.meshgrid(*(np.linspace(low[k], high[k], TRIES) for k in (0, 1))), axis=-1).reshape(-1, 2)
    spots = np.vstack([usual, grid[np.argsort(np.hypot(*(grid - usual).T))]])
    wide = max(LETTER * max(map(len, label.lines)), LARGE * len(label.code))
    for scale in SCALES:
        before, after = spots - np.array([BEFORE, BELOW]) * scale, spots + np.array([wide, ABOVE]) * scale
        held = shapely.contains(whole, shapely.box(*before.T, *after.T))
        if held.any():
            x, y = spots[int(np.argmax(held))]
            return LabelPlace((float(x), float(y)), scale)
    return LabelPlace((float(usual[0]), float(usual[1])), SCALES[-1])
