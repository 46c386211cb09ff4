"""Rows by their number, or a plain refusal."""

from datetime import date
from typing import Any, TypeVar

from sqlalchemy.orm import Session

from vellumcut.core.body.measures import Measurements
from vellumcut.core.design.piece import PieceDesign
from vellumcut.service.errors import NotFound
from vellumcut.store.models import MeasurementSet, Piece

Row = TypeVar("Row")


def fetch(session: Session, kind: type[Row], number: int) -> Row:
    """The row, unless it was never there or has been removed. Raises NotFound."""
    row: Any = session.get(kind, number)
    if row is None or getattr(row, "removed", False):
        raise NotFound(f"There is no {kind.__name__.lower()} {number} here")
    return row  # type: ignore[no-any-return]


def plain_value(value: Any) -> Any:
    """A column's value as JSON holds it: a date as text."""
    return value.isoformat() if isinstance(value, date) else value


def readings_of(row: MeasurementSet) -> Measurements:
    return Measurements.model_validate(row.readings)


def design_of(row: Piece) -> PieceDesign:
    return PieceDesign.model_validate(row.design)
