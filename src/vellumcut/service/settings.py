"""Choices for the whole workshop, and undo."""

from typing import Annotated, Literal

from pydantic import Field, StrictBool
from sqlalchemy import select

from vellumcut.core.body.readings import Decision
from vellumcut.core.layout.pages import SCALE_RANGE, PaperName
from vellumcut.service.errors import NotFound
from vellumcut.store.database import Store
from vellumcut.store.journal import apply_change, forget_changes, next_changes
from vellumcut.store.models import Setting

PrintScale = Annotated[float, Field(ge=SCALE_RANGE[0], le=SCALE_RANGE[1], allow_inf_nan=False)]


class Settings(Decision):
    """print_scale: correction that the test square asked for; 1 prints as drawn."""

    unit: Literal["mm", "in"] = "mm"
    paper: PaperName = "A4"
    print_scale: PrintScale = 1.0
    night: StrictBool = False


def read_settings(store: Store) -> Settings:
    with store.read() as session:
        row = session.scalars(select(Setting).where(Setting.name == "workshop")).first()
        return Settings.model_validate(row.value) if row else Settings()


def write_settings(store: Store, settings: Settings) -> Settings:
    with store.write() as session:
        row = session.scalars(select(Setting).where(Setting.name == "workshop")).first()
        if row is None:
            row = Setting(name="workshop", value={})
            session.add(row)
        row.value = settings.model_dump(mode="json")
    return settings


def undo_words(store: Store) -> tuple[str, str]:
    """What undo and redo would do; empty when there is nothing."""
    with store.read() as session:
        undo, redo = next_changes(session)
        return undo.words if undo else "", redo.words if redo else ""


def begin_here(store: Store) -> None:
    """Make what stands now the beginning of undo."""
    with store.write() as session:
        forget_changes(session)


def step_history(store: Store, undo: bool) -> str:
    """Undo or redo one change; returns its words. Raises NotFound when there is nothing."""
    with store.write() as session:
        change = next_changes(session)[0 if undo else 1]
        if change is None:
            raise NotFound(f"There is nothing to {'undo' if undo else 'redo'}")
        apply_change(session, change, undo)
        return change.words
