"""Undo and redo: every change keeps the rows it touched as they were and as they became."""

from collections.abc import Iterator
from contextvars import ContextVar
from datetime import date
from typing import Any

from sqlalchemy import Table, delete, event, insert, inspect, select, update
from sqlalchemy.orm import Session

from vellumcut.store.models import Base, Change

KEPT = 500
"""Changes that can be undone; older ones stay done."""


KEPT_FOR_EVER = {"piece_version"}
"""Rows that undo leaves alone: the regret heard most is not having kept the pattern."""

current_tab: ContextVar[str] = ContextVar("current_tab", default="")
"""The window that the request at hand came from."""


def record_change(session: Session, words: str, at: float) -> None:
    """Write one Change for all rows this session touches until it commits. A new act ends what could be redone."""
    rows: list[dict[str, Any]] = []

    @event.listens_for(session, "after_flush")
    def gather(session: Session, _: object) -> None:
        for item in session.new:
            if item.__tablename__ in KEPT_FOR_EVER:
                continue
            rows.append(_row(item, _now(item) | item.ABSENT, _now(item)))
        for item in session.dirty:
            before, after = _before(item), _now(item)
            if before != after:
                rows.append(_row(item, before, after))

    @event.listens_for(session, "before_commit")
    def keep(session: Session) -> None:
        session.flush()
        if rows:
            session.execute(delete(Change).where(Change.undone))
            session.execute(
                insert(Change).values(made_at=at, words=words[:200], rows=rows, undone=False, tab=current_tab.get())
            )
            oldest = select(Change.id).order_by(Change.id.desc()).offset(KEPT)
            session.execute(delete(Change).where(Change.id.in_(oldest)))


def _row(item: Any, before: dict[str, Any], after: dict[str, Any]) -> dict[str, Any]:
    return {"table": item.__tablename__, "id": item.id, "before": before, "after": after}


def _plain(value: Any) -> Any:
    return {"date": value.isoformat()} if isinstance(value, date) else value


def _now(item: Any) -> dict[str, Any]:
    return {c.key: _plain(getattr(item, c.key)) for c in inspect(item).mapper.column_attrs}


def _before(item: Any) -> dict[str, Any]:
    state, out = inspect(item), {}
    for column in state.mapper.column_attrs:
        history = state.attrs[column.key].history
        out[column.key] = _plain(history.deleted[0] if history.deleted else getattr(item, column.key))
    return out


def forget_changes(session: Session) -> None:
    """Nothing before this can be undone: what stands is the beginning."""
    session.execute(delete(Change))


def next_changes(session: Session) -> tuple[Change | None, Change | None]:
    """What undo and redo would do next."""
    undo = session.scalars(select(Change).where(~Change.undone).order_by(Change.id.desc()).limit(1)).first()
    redo = session.scalars(select(Change).where(Change.undone).order_by(Change.id).limit(1)).first()
    return undo, redo


def states_of(session: Session, table: str, number: int) -> Iterator[dict[str, Any]]:
    """How a row stood, newest first, as far back as changes are kept; dates as text."""
    for rows in session.scalars(select(Change.rows).order_by(Change.id.desc())):
        for row in reversed(rows):
            if (row["table"], row["id"]) == (table, number):
                yield from ({k: _read(v) for k, v in row[when].items()} for when in ("after", "before"))


def _read(value: Any) -> Any:
    return value["date"] if isinstance(value, dict) and set(value) == {"date"} else value


def apply_change(session: Session, change: Change, undo: bool) -> None:
    """Put the rows of a change back as they were (undo) or as they became (redo)."""
    for row in reversed(change.rows) if undo else change.rows:
        table: Table = Base.metadata.tables[row["table"]]
        wanted = row["before"] if undo else row["after"]
        session.execute(update(table).where(table.c.id == row["id"]).values(**_typed(wanted)))
    change.undone = undo


def _typed(values: dict[str, Any]) -> dict[str, Any]:
    def back(value: Any) -> Any:
        return date.fromisoformat(value["date"]) if isinstance(value, dict) and set(value) == {"date"} else value

    return {key: back(value) for key, value in values.items()}
