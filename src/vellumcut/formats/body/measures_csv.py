"""Measurements as a table: written, and read back."""

import csv
import io
from datetime import date
from typing import Any

from vellumcut.core.body.measures import Measurements
from vellumcut.core.body.torso import TORSO_GIRTHS, TORSO_LENGTHS
from vellumcut.core.errors import CraftError

HEAD = ("taken on", "part", "side", "measure", "at mm", "read mm", "tool", "strip mm", "body mm", "depth / width")
MOST_ROWS = 2000
SEPARATORS = (",", ";", "\t")
"""Spreadsheets where a comma is the decimal sign write semicolons between cells."""
TOOLS = ("tape", "foam")


def measure_rows(sets: list[Measurements]) -> list[tuple[Any, ...]]:
    """One row a reading, newest set first, under ``HEAD``."""
    rows: list[tuple[Any, ...]] = []
    for kept in sets:
        day = kept.taken_on
        for limb in kept.limbs:
            for name, r in limb.stations.items():
                rows.append((day, limb.segment, limb.side, name, r.at, r.girth, r.tool, r.strip, r.body_girth, r.ratio))
            if limb.gate is not None:
                rows.append((day, limb.segment, limb.side, "gate", None, limb.gate, "tape", 0.0, limb.gate, None))
        if kept.torso is not None:
            for name, r in kept.torso.girths.items():
                rows.append((day, "torso", "both", name, None, r.girth, r.tool, r.strip, r.body_girth, r.ratio))
            for name, value in kept.torso.lengths.items():
                rows.append((day, "torso", "both", name, None, value, "tape", 0.0, value, None))
    return rows


def read_measures(text: str) -> list[Measurements]:
    """Sets from a table with the columns of ``HEAD`` (body mm may be missing), one set a date, oldest first.

    Lengths may be written as makers do ("9 5/8 in"). Raises CraftError naming the line, or pydantic's
    ValidationError.
    """
    lines = text.lstrip("\ufeff").replace("\r\n", "\n").replace("\r", "\n")
    first = lines.partition("\n")[0]
    table = csv.DictReader(io.StringIO(lines), delimiter=max(SEPARATORS, key=first.count))
    try:
        return _sets_in(table)
    except csv.Error as error:
        raise CraftError(f"The table cannot be read after line {table.line_num}: {error}", "text") from None


def _sets_in(table: "csv.DictReader[str]") -> list[Measurements]:
    found = {name.strip().lower(): name for name in table.fieldnames or []}
    missing = [n for n in ("taken on", "part", "measure", "read mm") if n not in found]
    if missing:
        raise CraftError(f"The table has no column {', '.join(missing)}; its first line must name them", "text")
    sets: dict[str, dict[str, Any]] = {}
    for number, raw in enumerate(table, start=2):
        if number > MOST_ROWS:
            raise CraftError(f"The table has more than {MOST_ROWS} rows", "text")
        row = {key: str(raw.get(own) or "").strip() for key, own in found.items()}
        if any(row.values()):
            _take_row(sets, row, number)
    if not sets:
        raise CraftError("The table holds no readings", "text")
    return [Measurements.model_validate(s) for _, s in sorted(sets.items())]


def _take_row(sets: dict[str, dict[str, Any]], row: dict[str, str], number: int) -> None:
    try:
        day = date.fromisoformat(row["taken on"]).isoformat()
    except ValueError:
        raise CraftError(f'Line {number}: "{row["taken on"][:30]}" is no date like 2026-11-25', "text") from None
    kept = sets.setdefault(day, {"taken_on": day, "limbs": [], "torso": None})
    part, side, measure = row["part"], row.get("side") or "both", row["measure"]
    if part == "torso":
        kept["torso"] = kept["torso"] or {"girths": {}, "lengths": {}}
        _torso_row(kept["torso"], row, measure, number)
        return
    limb = next((x for x in kept["limbs"] if (x["segment"], x["side"]) == (part, side)), None)
    if limb is None:
        limb = {"segment": part, "side": side, "stations": {}}
        kept["limbs"].append(limb)
    if measure == "gate":
        limb["gate"] = row["read mm"]
        return
    limb["stations"][measure] = _reading(row, number)


def _torso_row(torso: dict[str, Any], row: dict[str, str], measure: str, number: int) -> None:
    if measure in TORSO_GIRTHS:
        torso["girths"][measure] = _reading(row, number)
    elif measure in TORSO_LENGTHS:
        torso["lengths"][measure] = row["read mm"]
    else:
        known = ", ".join([*TORSO_GIRTHS, *TORSO_LENGTHS])
        raise CraftError(f'Line {number}: the torso has no measure "{measure[:40]}"; it has {known}', "text")


def _reading(row: dict[str, str], number: int) -> dict[str, Any]:
    reading: dict[str, Any] = {"girth": row["read mm"], "at": row.get("at mm") or 0.0}
    tool = row.get("tool") or "tape"
    if tool not in TOOLS:
        raise CraftError(f'Line {number}: nobody measures with "{tool[:30]}" here; it is {" or ".join(TOOLS)}', "text")
    if tool == "foam":
        reading |= {"tool": "foam", "strip": row.get("strip mm") or 0.0}
    if row.get("depth / width"):
        try:
            reading["ratio"] = float(row["depth / width"].replace(",", "."))
        except ValueError:
            raise CraftError(
                f'Line {number}: "{row["depth / width"][:30]}" is no number of depth over width, such as 0.76', "text"
            ) from None
    return reading
