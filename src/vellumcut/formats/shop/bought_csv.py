"""A list that comes back from the shops: what is ticked on it, and what was paid."""

import csv
import io
import math
from dataclasses import dataclass

from vellumcut.core.errors import CraftError

MOST = 2000
TICKS = ("x", "X", "1", "yes", "y", "✓", "✔")


@dataclass(frozen=True)
class BackRow:
    """A thing that is ticked. amount: of all its packs. paid: None where nothing is written."""

    name: str
    unit: str
    amount: float
    paid: float | None


def read_bought_csv(data: bytes) -> list[BackRow]:
    """Rows that are ticked in the column “bought”. Raises CraftError with the line for what cannot be read."""
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise CraftError("This is no table as text: save it as CSV, UTF-8", "file") from None
    first = text.partition("\n")[0]
    rows = csv.DictReader(io.StringIO(text, newline=""), delimiter=";" if first.count(";") > first.count(",") else ",")
    missing = [
        c for c in ("thing", "unit", "packs", "a pack holds", "bought", "paid") if c not in (rows.fieldnames or ())
    ]
    if missing:
        raise CraftError(f"The table has no column “{missing[0]}”: tick the list that Supplies wrote", "file")
    out = []
    for line, row in enumerate(rows, 2):
        if line > MOST:
            raise CraftError(f"The table has more than {MOST} lines", "file")
        if (row["bought"] or "").strip() in TICKS:
            paid = (row["paid"] or "").strip()
            amount = _number(row["packs"], line, "packs") * _number(row["a pack holds"], line, "a pack holds")
            name = (row["thing"] or "").strip().removeprefix("'")
            out.append(
                BackRow(name, (row["unit"] or "").strip(), amount, _number(paid, line, "paid") if paid else None)
            )
    return out


def _number(text: str | None, line: int, column: str) -> float:
    try:
        n = float((text or "").strip().replace(",", "."))
    except ValueError:
        n = math.nan
    if not 0 <= n <= 1e9:
        raise CraftError(f"Line {line}: “{(text or '').strip()[:30]}” under “{column}” is no amount", "file")
    return n
