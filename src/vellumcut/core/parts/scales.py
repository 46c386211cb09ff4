"""Scales over a tapering area: how many each row takes, and where each sits."""

from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from vellumcut.core.design.parts import Scales
from vellumcut.core.errors import CraftError
from vellumcut.core.parts.border import offset_line
from vellumcut.core.parts.ribbon import Ribbon, dense

Array = NDArray[np.float64]

LEAST_ROW = 0.5
"""A row that is shorter than this share of a scale takes none."""
MOST_ROWS = 200
NO_END = "it begins at an edge or a seam, from which it covers the panel: a line inside has foam on both sides"
MOST = 2000
"""Scales on a panel: more are weeks of work, and a mistyped size."""


@dataclass(frozen=True, eq=False)
class ScaleRow:
    """One row, or what of it lies on one side of a gap. number: from the free end, the first 0. at: (n, 2) middles of
    the scales on the flat neighbourhood, way: (n, 2) unit, the way the row runs there. pitch: as it came out, mm.
    length: of the row, mm."""

    number: int
    at: Array
    way: Array
    pitch: float
    length: float


def rows_of(ribbon: Ribbon, scales: Scales) -> list[ScaleRow]:
    """Rows from the free end up, each as long as there is foam, so that a sleeve that grows takes more to a row; every
    second one is shifted by half a scale (parts rule book, section 2)."""
    if ribbon.run.within:
        raise CraftError(NO_END, "making.details")
    out: list[ScaleRow] = []
    for k in range(scales.rows or MOST_ROWS):
        # Read half way up its scales: a row whose upper halves lie on no foam has nothing to be glued to.
        lines = lines_across(ribbon, scales.inset + k * scales.step + scales.high / 2)
        found = [r for points in lines if (r := _row(ribbon, scales, points, k)) is not None]
        if not found:
            break
        out += found
        if sum(len(r.at) for r in out) > MOST:
            raise CraftError(
                f"More than {MOST:,} scales on one panel: make them larger, or cover less", "making.details"
            )
    return out


def ribbon_past(ribbon: Ribbon) -> float:
    """How far a row may reach past the ends of its line, mm: a panel that widens upwards takes more there."""
    low_x, low_y, high_x, high_y = ribbon.region.bounds
    return 0.0 if ribbon.run.closed else float(np.hypot(high_x - low_x, high_y - low_y))


def lines_across(ribbon: Ribbon, by: float) -> list[Array]:
    """Where a row so many mm from the line lies on foam, (n, 2) mm each with a point a step; more than one round a
    hollow."""
    line = offset_line(ribbon, by, past=ribbon_past(ribbon))
    here = shapely.get_parts(shapely.intersection(line, ribbon.region.buffer(1e-6)))
    return [dense(np.asarray(g.coords)) for g in here if g.geom_type == "LineString" and not g.is_empty]


def _row(ribbon: Ribbon, scales: Scales, points: Array, k: int) -> ScaleRow | None:
    arc = ribbon.along(points)
    length = float(arc[-1])
    if length < LEAST_ROW * scales.wide:
        return None
    count = max(1, round(length / scales.wide))
    pitch = length / count
    shift = 0.5 if k % 2 else 0.0
    # Shifted, an open row begins and ends with half a scale; round a closed sleeve these two are one.
    at = (np.arange(count + (1 if shift and not ribbon.meets_itself(points) else 0)) + 0.5 - shift) * pitch
    spots, before, after = (
        np.stack([np.interp(np.clip(x, 0, length), arc, points[:, c]) for c in (0, 1)], axis=1)
        for x in (at, at - 1.0, at + 1.0)
    )
    way = after - before
    return ScaleRow(k, spots, way / np.maximum(np.hypot(*way.T), 1e-9)[:, None], pitch, length)


def outline_of(scales: Scales) -> Array:
    """One scale, (k, 2) mm: its free edge down at nought, upright."""
    w, h = scales.wide / 2, scales.high
    if scales.outline == "square":
        return np.array([[-w, 0.0], [w, 0.0], [w, h], [-w, h]])
    if scales.outline == "pointed":
        return np.array([[0.0, 0.0], [w, 0.4 * h], [w, h], [-w, h], [-w, 0.4 * h]])
    deep = min(w, 0.6 * h)
    turn = np.linspace(np.pi, 2 * np.pi, 25)
    foot = np.stack([w * np.cos(turn), deep + deep * np.sin(turn)], axis=1)
    return np.vstack([foot, [[w, h], [-w, h]]])


def placed_outlines(scales: Scales, row: ScaleRow) -> list[Array]:
    """Every scale of a row where it comes to lie, (k, 2) mm each: what is left over at a row's ends is cut off."""
    own = outline_of(scales) - [0.0, scales.high / 2]
    side = np.stack([-row.way[:, 1], row.way[:, 0]], axis=1)
    return [at + own[:, :1] * way + own[:, 1:] * up for at, way, up in zip(row.at, row.way, side, strict=True)]
