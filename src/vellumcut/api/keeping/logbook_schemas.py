"""What log entries and fittings look like over HTTP."""

from typing import Annotated

from pydantic import Field, field_validator

from vellumcut.api.schemas import In, Out, RowId
from vellumcut.core.notes import Note
from vellumcut.core.worn.fit import FitFinding
from vellumcut.core.worn.wear import Wearing


class LogIn(In):
    text: Annotated[str, Field(min_length=1, max_length=10_000)]
    piece_id: RowId | None = None
    worn: Wearing | None = None


class LogOut(Out):
    id: int
    build_id: int
    piece_id: int | None
    written_at: float
    text: str
    worn: Wearing | None = None

    @field_validator("worn", mode="before")
    @classmethod
    def _none_where_empty(cls, value: object) -> object:
        return value or None


class FitIn(In):
    findings: Annotated[tuple[FitFinding, ...], Field(min_length=1, max_length=20)]
    note: Annotated[str, Field(max_length=2000)] = ""


class FitOut(Out):
    id: int
    piece_id: int
    fitted_at: float
    findings: list[FitFinding]
    note: str
    accepted_version: int | None
    notes: list[Note]
