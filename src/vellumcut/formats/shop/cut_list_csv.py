"""The cut list as a table that any spreadsheet opens."""

from collections.abc import Iterable

from vellumcut.core.shop.cut_list import CutRow
from vellumcut.formats.csv_table import write_csv

HEAD = (
    "label", "part", "side", "foam", "thickness mm", "as drawn", "turned over", "outline mm", "cut out inside mm",
    "bevelled mm", "grooves mm", "area cm2", "by ruler", "tool", "minutes",
)  # fmt: skip


def write_cut_list(rows: Iterable[CutRow]) -> str:
    """One row for each outline; lengths and area of one copy, minutes of all."""
    return write_csv(HEAD, (_cells(row) for row in rows))


def _cells(row: CutRow) -> tuple[object, ...]:
    return (
        row.code, row.name, row.side, row.kind, row.thickness, row.as_drawn, row.turned, row.outline, row.inner,
        row.bevel, row.groove, row.area / 100, row.size, row.tool, row.minutes,
    )  # fmt: skip
