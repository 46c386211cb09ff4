"""Where what is laid on a piece lies over something else that is laid there."""

import itertools
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np
import shapely

from vellumcut.core.flatten.mesh import first_chart
from vellumcut.core.ink.stage import InkedPiece
from vellumcut.core.parts.laid import LaidPart

OVER = 12.0
"""mm2 that two parts may share unsaid: the rounding of their outlines."""


@dataclass(frozen=True)
class Crossing:
    """Two details whose parts lie over each other on a panel, by key and name. area: mm2 that they share."""

    one: str
    other: str
    names: tuple[str, str]
    panel: int
    area: float

    @property
    def words(self) -> str:
        return f"{self.names[0]} and {self.names[1]} lie over each other on panel {self.panel}"


def crossings_of(piece: InkedPiece, parts: Sequence[LaidPart]) -> list[Crossing]:
    """Strips and plates that share ground. A row may sit on a strip, and anything on scales: that is how they are
    worn."""
    out: list[Crossing] = []
    for panel in piece.panels:
        chart = first_chart(piece.surface, panel)
        rows = [
            (part, shapely.Polygon(chart.flat(line.uv)).buffer(0))
            for part in parts
            if part.strips or part.sheets
            for on, line in part.marks
            if on == panel.number and len(line.uv) > 2
        ]
        out += _shared(rows, panel.number)
    return out


def _shared(rows: list[tuple[LaidPart, shapely.Geometry]], panel: int) -> Iterator[Crossing]:
    found: dict[tuple[str, str], float] = {}
    names: dict[str, str] = {}
    for (a, one), (b, other) in itertools.combinations(rows, 2):
        if a.detail.key != b.detail.key and one.intersects(other):
            key = (a.detail.key, b.detail.key)
            found[key] = found.get(key, 0.0) + float(np.asarray(one.intersection(other).area))
            names |= {a.detail.key: a.detail.name, b.detail.key: b.detail.name}
    for (one_key, other_key), area in found.items():
        if area > OVER:
            yield Crossing(one_key, other_key, (names[one_key], names[other_key]), panel, area)
