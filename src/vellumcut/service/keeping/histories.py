"""Everything of one build and its wearer as plain rows, to travel in a bundle, and taken in again under new numbers."""

from collections.abc import Iterator
from dataclasses import asdict
from datetime import date
from typing import Any

from pydantic import BaseModel, TypeAdapter, ValidationError
from sqlalchemy import JSON, Column, select
from sqlalchemy.orm import Session

from vellumcut.core.body.measures import Measurements
from vellumcut.core.cast.scanned.mesh import Stance
from vellumcut.core.design.flat import FlatShape
from vellumcut.core.design.making import Schools
from vellumcut.core.design.piece import PieceDesign
from vellumcut.core.errors import CraftError
from vellumcut.core.nest.kept import KeptCut, KeptPlace, piece_of, renumbered
from vellumcut.core.worn.fit import FitFinding
from vellumcut.core.worn.wear import NotWorn, Wearing
from vellumcut.formats.body.found import Found
from vellumcut.service.merging import tag_of
from vellumcut.service.rows import plain_value
from vellumcut.store.models import (
    Base,
    BenchPicture,
    Build,
    CautionSeen,
    CostumeTick,
    FitSession,
    LogEntry,
    MeasurementSet,
    Piece,
    PieceVersion,
    ReferencePicture,
    Scan,
    SheetLayout,
    StepTick,
    Timer,
    TracedPhotograph,
    Wearer,
)

Rows = dict[str, list[dict[str, Any]]]
ORDER: tuple[type[Base], ...] = (
    Wearer, MeasurementSet, Scan, Build, Piece, PieceVersion, StepTick, CostumeTick, FitSession, ReferencePicture,
    BenchPicture, CautionSeen, Timer, LogEntry, TracedPhotograph, SheetLayout,
)  # fmt: skip
"""Each after what it points at."""
MOST_ROWS = 20_000
HOLDS: dict[tuple[type[Base], str], Any] = {
    (MeasurementSet, "readings"): Measurements,
    (PieceVersion, "readings"): Measurements,
    (PieceVersion, "design"): PieceDesign,
    (Piece, "design"): PieceDesign,
    (FitSession, "findings"): list[FitFinding],
    (TracedPhotograph, "found"): Found,
    (TracedPhotograph, "shapes"): list[FlatShape],
    (Scan, "stance"): Stance,
    (Scan, "warnings"): list[str],
    (ReferencePicture, "size"): tuple[int, int],
    (Build, "schools"): Schools,
    (LogEntry, "worn"): Wearing | NotWorn,
    (StepTick, "figures"): dict[str, str | float | dict[str, float]],
    (CostumeTick, "figures"): dict[str, str | float | dict[str, float]],
    (SheetLayout, "places"): list[KeptPlace],
    (SheetLayout, "cut"): list[KeptCut],
    (ReferencePicture, "placing"): dict[str, float | bool | tuple[float, float]],
}
"""What a column of JSON must be read as."""
ADDED = {
    "build": {"schools"},
    "step_tick": {"answer", "begun_at", "took", "note", "figures"},
    "timer": {"step"},
    "log_entry": {"worn"},
}
"""Columns that bundles of older programs do not have: they are as they usually are."""


def history_of(session: Session, number: int) -> Rows:
    """All rows of a build and its wearer that are not removed, by table."""
    build = session.get_one(Build, number)
    out: Rows = {}
    known = {"wearer": {build.wearer_id}, "build": {number}}
    for kind in ORDER:
        rows = [row for row in _children(session, kind, known) if not getattr(row, "removed", False)]
        known.setdefault(kind.__tablename__, {row.id for row in rows})
        out[kind.__tablename__] = [{c.key: _told(row, c, known) for c in _columns(kind)} for row in rows]
    return out


def _told(row: Any, column: Column[Any], known: dict[str, set[int]]) -> Any:
    """A value as it travels; nothing where a note or a timer points at a piece that was taken out."""
    value = getattr(row, column.key)
    gone = any(value not in known.get(key.column.table.name, ()) for key in column.foreign_keys)
    return None if gone and column.nullable else plain_value(value)


def _children(session: Session, kind: type[Base], known: dict[str, set[int]]) -> Iterator[Any]:
    """Rows of a table that belong to what is known so far; of the first tables the known ones."""
    name = kind.__tablename__
    table: Any = kind
    if name in known:
        yield from session.scalars(select(kind).where(table.id.in_(known[name])))
        return
    for column in _columns(kind):
        for key in column.foreign_keys:
            parent = key.column.table.name
            if column.nullable or parent not in known:
                continue
            yield from session.scalars(select(kind).where(column.in_(known[parent])).order_by(table.id))


def take_in(session: Session, rows: Rows, wearer: int | None = None) -> Build:
    """Add all rows under numbers of their own. wearer: one that is here already and is meant.

    Raises CraftError, naming the row, for what is no history.
    """
    check(rows)
    fresh: dict[tuple[str, int], int] = {}
    builds: list[Build] = []
    for kind in ORDER:
        name = kind.__tablename__
        for n, row in enumerate(rows.get(name, [])):
            values = _values(kind, row, n, fresh)
            if kind is Wearer and wearer is not None:
                fresh[name, row["id"]] = wearer
                continue
            if kind in (MeasurementSet, Scan) and _is_here(session, kind, values):
                continue
            made: Any = kind(**values)
            session.add(made)
            session.flush()
            fresh[name, row["id"]] = made.id
            builds += [made] if kind is Build else []
    if len(builds) != 1:
        raise CraftError(f"The history holds {len(builds)} builds; a bundle is of one", "history")
    return builds[0]


def check(rows: Rows) -> None:
    """Raises CraftError for anything but lists of rows of the known tables."""
    known = {kind.__tablename__ for kind in ORDER}
    if not isinstance(rows, dict) or set(rows) - known or not all(isinstance(r, list) for r in rows.values()):
        raise CraftError("The bundle's history is not one, or is from a newer program", "history")
    if sum(map(len, rows.values())) > MOST_ROWS:
        raise CraftError(f"The bundle's history has more than {MOST_ROWS} rows", "history")


def _is_here(session: Session, kind: type[Base], values: dict[str, Any]) -> bool:
    """Whether the wearer has the very same readings, or the very same scan, already."""
    table, what = (MeasurementSet, "readings") if kind is MeasurementSet else (Scan, "file")
    wanted = select(table).where(table.wearer_id == values["wearer_id"], ~table.removed)
    return tag_of(values[what]) in {tag_of(getattr(x, what)) for x in session.scalars(wanted)}


def _values(kind: type[Base], row: Any, n: int, fresh: dict[tuple[str, int], int]) -> dict[str, Any]:
    where = f"history.{kind.__tablename__}.{n}"
    columns = {c.key: c for c in _columns(kind)}
    if isinstance(row, dict):
        row = {c.key: _usual(c) for c in columns.values() if c.key in ADDED.get(kind.__tablename__, ())} | row
    if not isinstance(row, dict) or set(row) != set(columns) or not isinstance(row["id"], int):
        raise CraftError(f"Row {n + 1} of {kind.__tablename__} is not one that this program writes", where)
    out = {}
    for key, column in columns.items():
        if key == "id":
            continue
        try:
            out[key] = _read(kind, key, column, row[key], fresh)
        except (TypeError, ValueError, KeyError):
            raise CraftError(f"Row {n + 1} of {kind.__tablename__}: its {key} is not right", where) from None
    return out


def _usual(column: Column[Any]) -> Any:
    """What a row has that says nothing of this column."""
    made = getattr(column.default, "arg", None)
    return made(None) if callable(made) else made


def _read(kind: type[Base], key: str, column: Column[Any], value: Any, fresh: dict[tuple[str, int], int]) -> Any:
    """A value as its column wants it. Raises TypeError, ValueError or KeyError."""
    if value is None:
        if not column.nullable:
            raise ValueError
        return None
    for target in column.foreign_keys:
        return fresh[target.column.table.name, value]
    if isinstance(column.type, JSON):
        checked = _checked(HOLDS[kind, key], value)
        return _of_new_pieces(key, checked, fresh) if kind is SheetLayout else checked
    python = column.type.python_type
    if python is date:
        return date.fromisoformat(value)
    if python is float and isinstance(value, int) and not isinstance(value, bool):
        value = float(value)
    if not isinstance(value, python) or (python is int and isinstance(value, bool)):
        raise TypeError
    if isinstance(value, str) and len(value) > (getattr(column.type, "length", None) or 20_000):
        raise ValueError
    return value


def _of_new_pieces(key: str, rows: list[dict[str, Any]], fresh: dict[tuple[str, int], int]) -> list[dict[str, Any]]:
    """Parts on sheets by the numbers their pieces have here; those of pieces that were taken out are left behind."""
    if key == "cut":
        return [row | {"parts": _of_new_pieces("places", row["parts"], fresh)} for row in rows]
    known = [(row, fresh.get(("piece", piece_of(row["key"])))) for row in rows]
    return [row | {"key": renumbered(row["key"], piece)} for row, piece in known if piece is not None]


def _checked(holds: Any, value: Any) -> Any:
    """The same value once it has been read as what it must be."""
    try:
        found = TypeAdapter(holds).validate_python(value)
    except ValidationError:
        raise ValueError from None
    if isinstance(found, BaseModel):
        return found.model_dump(mode="json")
    return asdict(found) if isinstance(found, Stance) else value


def _columns(kind: type[Base]) -> list[Column[Any]]:
    return list(kind.__table__.columns)  # type: ignore[arg-type]
