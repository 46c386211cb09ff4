"""Lists as CSV that any spreadsheet opens."""

import csv
import io
from collections.abc import Iterable, Sequence

_FORMULA_STARTS = ("=", "+", "-", "@", "\t", "\r")


def write_csv(head: Sequence[str], rows: Iterable[Sequence[object]]) -> str:
    """Comma separated, quoted where needed. Text that a spreadsheet would run as a formula gets a leading quote."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(head)
    for row in rows:
        writer.writerow([_safe(cell) for cell in row])
    return out.getvalue()


def _safe(cell: object) -> object:
    if isinstance(cell, float):
        return round(cell, 2)
    if isinstance(cell, str) and cell.startswith(_FORMULA_STARTS):
        return "'" + cell
    return "" if cell is None else cell
