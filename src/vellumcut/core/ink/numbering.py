"""In which order panels are numbered: along the segment from its low end, side by side from the middle out."""

import shapely
from shapely.geometry import Polygon

ROW = 25.0
"""Panels whose middles are within this height of the row's lowest are side by side, mm: numbered from the middle
out."""


def in_rows(rows: list[tuple[float, float, Polygon, bool]]) -> list[tuple[float, float, Polygon, bool]]:
    """Panels in order along the segment from its low end, row by row."""
    out: list[tuple[float, float, Polygon, bool]] = []
    row: list[tuple[float, float, Polygon, bool]] = []
    for entry in sorted(rows, key=lambda r: r[0]):
        if row and (entry[0] - row[0][0] > ROW or any(_one_over_the_other(entry[2], r[2]) for r in row)):
            out += sorted(row, key=lambda r: r[1])
            row = []
        row.append(entry)
    return out + sorted(row, key=lambda r: r[1])


def _one_over_the_other(a: Polygon, b: Polygon) -> bool:
    """Whether two panels share most of their width: lames lie over each other, however low they are."""
    (a_low, _, a_high, _), (b_low, _, b_high, _) = a.bounds, b.bounds
    return bool(min(a_high, b_high) - max(a_low, b_low) > 0.5 * min(a_high - a_low, b_high - b_low))


def on_left(polygon: Polygon, turn: float) -> bool:
    """Whether a panel lies on the wearer's left."""
    return bool(0 < float(polygon.centroid.x / turn) % 1.0 < 0.5)


def has_twin(polygon: Polygon, turn: float) -> bool:
    """Whether another panel is this one's mirror image; a panel across the middle is its own and has none."""
    image = shapely.transform(polygon, lambda p: p * [-1.0, 1.0])
    for k in (-1, 0, 1):
        moved = shapely.transform(image, lambda p, k=k: p + [k * turn, 0.0])
        if moved.intersection(polygon).area > 0.5 * polygon.area:
            return False
    return True
