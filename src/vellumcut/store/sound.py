"""Whether a database from elsewhere is as our migrations make it: its tables, and the kind of every value in them."""

import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from sqlalchemy import JSON, Engine, select, text
from sqlalchemy.exc import SQLAlchemyError
from sqlalchemy.orm import Session

from vellumcut.store.copies import snapshot
from vellumcut.store.database import DATABASE, engine_of, upgrade
from vellumcut.store.models import Base


@contextmanager
def upgraded(database: Path) -> Iterator[Engine]:
    """A copy of a database, brought up to date; gone afterwards. Raises SQLAlchemyError and others for one that cannot
    be."""
    with tempfile.TemporaryDirectory(dir=database.parent) as folder:
        copy = Path(folder) / DATABASE
        if database.exists():
            snapshot(database, copy)
        engine = engine_of(copy)
        try:
            upgrade(engine)
            yield engine
        finally:
            engine.dispose()


def strange_table(engine: Engine, folder: Path) -> str:
    """The first table, index, view or trigger that is not as the migrations make it, in words; empty where all are.
    folder: for what is made to hold it against."""
    with upgraded(folder / "none.sqlite3") as fresh:
        wanted, found = _objects(fresh), _objects(engine)
    for name in sorted(set(wanted) | set(found)):
        if wanted.get(name) != found.get(name):
            return f"{name[0]} {name[1]}"
    with engine.connect() as connection:
        loose = connection.execute(text("PRAGMA foreign_key_check")).first()
    return f"table {loose[0]}" if loose else ""


def _objects(engine: Engine) -> dict[tuple[str, str], Any]:
    """Everything that a database defines by kind and name, tables with their columns."""
    out: dict[tuple[str, str], Any] = {}
    with engine.connect() as connection:
        rows = connection.execute(text("SELECT type, name, tbl_name FROM sqlite_master")).all()
        for kind, name, of in rows:
            if name.startswith("sqlite_"):
                continue
            columns = connection.execute(
                text('SELECT name, type, "notnull", pk FROM pragma_table_info(:t)'), {"t": name}
            )
            out[kind, name] = sorted(map(tuple, columns)) if kind == "table" else of
    return out


def rows_of(engine: Engine) -> Iterator[tuple[str, Any]]:
    """Every row with its table's name. Raises ValueError, naming the table, for one that holds what it must not."""
    with Session(engine) as session:
        for mapper in sorted(Base.registry.mappers, key=lambda m: m.class_.__tablename__):
            name = str(mapper.class_.__tablename__)
            try:
                for row in session.scalars(select(mapper.class_)):
                    _check_values(mapper.class_, row)
                    yield name, row
            except (SQLAlchemyError, ValueError, TypeError) as error:
                raise ValueError(name) from error


def _check_values(kind: Any, row: Any) -> None:
    for column in kind.__table__.columns:
        value = getattr(row, column.key)
        if (value is None and column.nullable) or isinstance(column.type, JSON):
            continue
        wanted = column.type.python_type
        if not isinstance(value, (int, float) if wanted is float else wanted):
            raise ValueError(column.key)
