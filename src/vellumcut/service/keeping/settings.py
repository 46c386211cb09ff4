"""Choices for the whole workshop, and undo."""

import itertools
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Annotated, Literal, TypeVar

from pydantic import Field, StrictBool
from sqlalchemy import select
from sqlalchemy.orm import Session

from vellumcut.core.body.readings import Decision
from vellumcut.core.errors import CraftError
from vellumcut.core.finish.recipes import RecipeBook
from vellumcut.core.foam.gun import HeatGun, gun_factor
from vellumcut.core.foam.sheets import FoamGive
from vellumcut.core.foam.shelf import ShelfSheet
from vellumcut.core.knife.setup import CutterSetup
from vellumcut.core.make.owned import Owned
from vellumcut.core.paces import OwnPaces
from vellumcut.core.pattern.pages import SCALE_RANGE, PaperName
from vellumcut.core.shop.offers import Quotes
from vellumcut.core.shop.supplies import Bought, SupplyBook
from vellumcut.service.errors import NotFound, Overtaken
from vellumcut.store.database import Store
from vellumcut.store.journal import apply_change, current_tab, forget_changes, next_changes
from vellumcut.store.models import Setting

Choice = TypeVar("Choice", bound=Decision)
PrintScale = Annotated[float, Field(ge=SCALE_RANGE[0], le=SCALE_RANGE[1], allow_inf_nan=False)]


WORKSHOP, FOAM_GIVES, FOAM_SHELF, HEAT_GUN = "workshop", "foam gives", "foam shelf", "heat gun"
OWNED, PACES, RECIPES, SUPPLIES, CUTTER, QUOTES = "owned", "paces", "recipes", "supplies", "cutter", "quotes"


class Settings(Decision):
    """print_scale: correction that the test square asked for; 1 prints as drawn."""

    unit: Literal["mm", "in"] = "mm"
    paper: PaperName = "A4"
    print_scale: PrintScale = 1.0
    night: StrictBool = False


def read_settings(store: Store) -> Settings:
    with store.read() as session:
        return _read(session, WORKSHOP, Settings)


def write_settings(store: Store, settings: Settings) -> Settings:
    with store.write() as session:
        _write(session, WORKSHOP, settings)
    return settings


def _row(session: Session, name: str) -> Setting | None:
    return session.scalars(select(Setting).where(Setting.name == name)).first()


def _read(session: Session, name: str, kind: type[Choice]) -> Choice:
    """What was chosen under a name; as it usually is where nothing was."""
    row = _row(session, name)
    return kind.model_validate(row.value) if row else kind()


def _write(session: Session, name: str, value: Decision) -> None:
    row = _row(session, name)
    if row is None:
        row = Setting(name=name, value={})
        session.add(row)
    row.value = value.model_dump(mode="json")


class FoamGives(Decision):
    """What the maker's own scraps gave, sheet by sheet; every other sheet is estimated."""

    rows: Annotated[tuple[FoamGive, ...], Field(max_length=60)] = ()


def gives_in(session: Session) -> tuple[FoamGive, ...]:
    return _read(session, FOAM_GIVES, FoamGives).rows


def add_gives(session: Session, gives: tuple[FoamGive, ...]) -> list[str]:
    """Take in what another maker's scraps gave, sheets measured here left as they are; what was done, in words."""
    own = gives_in(session)
    known = {(g.kind, g.thickness) for g in own}
    fresh = tuple(g for g in gives if (g.kind, g.thickness) not in known)
    if fresh:
        _write(session, FOAM_GIVES, FoamGives(rows=(*own, *fresh)))
    told = [f"What foam gives was taken over for {len(fresh)} sheets."] if fresh else []
    return [*told, "Sheets that you have measured stay as you measured them."] if len(fresh) < len(gives) else told


def _each_once(rows: Sequence[FoamGive | ShelfSheet]) -> None:
    """Raises CraftError when a sheet is there twice."""
    sheets = [(r.kind, r.thickness) for r in rows]
    if len(set(sheets)) < len(sheets):
        raise CraftError("Each sheet has one row: change it", "rows")


def read_gives(store: Store) -> FoamGives:
    with store.read() as session:
        return FoamGives(rows=gives_in(session))


def write_gives(store: Store, gives: FoamGives) -> FoamGives:
    """Raises CraftError when a sheet is there twice."""
    _each_once(gives.rows)
    with store.write("Change what foam gives") as session:
        _write(session, FOAM_GIVES, gives)
    return gives


class FoamShelf(Decision):
    """The sheets the maker has, pays for and weighed; every other figure is usual."""

    rows: Annotated[tuple[ShelfSheet, ...], Field(max_length=60)] = ()


def shelf_in(session: Session) -> tuple[ShelfSheet, ...]:
    return _read(session, FOAM_SHELF, FoamShelf).rows


def read_shelf(store: Store) -> FoamShelf:
    with store.read() as session:
        return FoamShelf(rows=shelf_in(session))


def write_shelf(store: Store, shelf: FoamShelf) -> FoamShelf:
    """Raises CraftError when a sheet is there twice."""
    _each_once(shelf.rows)
    with store.write("Change the foam shelf") as session:
        _write(session, FOAM_SHELF, shelf)
    return shelf


def change_shelf_in(session: Session, change: Callable[[Sequence[ShelfSheet]], tuple[ShelfSheet, ...]]) -> None:
    """The shelf as a change makes it, with what else that change writes."""
    _write(session, FOAM_SHELF, FoamShelf(rows=change(shelf_in(session))))


def read_supplies(store: Store) -> SupplyBook:
    with store.read() as session:
        return _read(session, SUPPLIES, SupplyBook)


def add_bought_in(session: Session, one: Bought) -> None:
    """A purchase, with what else that change writes."""
    book = _read(session, SUPPLIES, SupplyBook)
    _write(session, SUPPLIES, book.model_copy(update={"bought": (*book.bought, one)}))


def write_supplies(store: Store, book: SupplyBook) -> SupplyBook:
    with store.write("Change the supplies") as session:
        _write(session, SUPPLIES, book)
    return book


def read_quotes(store: Store) -> Quotes:
    with store.read() as session:
        return _read(session, QUOTES, Quotes)


def write_quotes(store: Store, quotes: Quotes) -> Quotes:
    """What shops said is no change of the maker's: undo passes over it."""
    with store.write() as session:
        _write(session, QUOTES, quotes)
    return quotes


def change_supplies_in(store: Store, words: str, change: Callable[[SupplyBook], SupplyBook]) -> None:
    with store.write(words) as session:
        _write(session, SUPPLIES, change(_read(session, SUPPLIES, SupplyBook)))


def read_cutter(store: Store) -> CutterSetup:
    with store.read() as session:
        return _read(session, CUTTER, CutterSetup)


def write_cutter(store: Store, cutter: CutterSetup) -> CutterSetup:
    with store.write("Change the cutter") as session:
        _write(session, CUTTER, cutter)
    return cutter


def gun_in(session: Session) -> HeatGun:
    return _read(session, HEAT_GUN, HeatGun)


def read_gun(store: Store) -> HeatGun:
    with store.read() as session:
        return gun_in(session)


def write_gun(store: Store, gun: HeatGun) -> HeatGun:
    """Raises CraftError for scrap tests that fit no gun."""
    with store.write("Change the heat gun") as session:
        gun_factor(gun, shelf_in(session))
        _write(session, HEAT_GUN, gun)
    return gun


def owned_in(session: Session) -> Owned:
    return _read(session, OWNED, Owned)


def read_owned(store: Store) -> Owned:
    with store.read() as session:
        return owned_in(session)


def write_owned(store: Store, owned: Owned) -> Owned:
    with store.write("Change what is in the workshop") as session:
        _write(session, OWNED, owned)
    return owned


def paces_in(session: Session) -> OwnPaces:
    return _read(session, PACES, OwnPaces)


def write_paces(store: Store, paces: OwnPaces) -> OwnPaces:
    with store.write("Change how fast you work") as session:
        _write(session, PACES, paces)
    return paces


def read_recipes(store: Store) -> RecipeBook:
    with store.read() as session:
        return _read(session, RECIPES, RecipeBook)


def write_recipes(store: Store, book: RecipeBook) -> RecipeBook:
    """Raises CraftError when two recipes have one name."""
    names = [s.name for s in book.stacks]
    if len(set(names)) < len(names):
        raise CraftError("Two recipes have one name; give each its own", "stacks")
    with store.write("Change the recipes") as session:
        _write(session, RECIPES, book)
    return book


def add_recipes(store: Store, book: RecipeBook) -> RecipeBook:
    """Another maker's recipes beside the own ones; one whose name is taken by another stack is numbered."""
    with store.write("Bring in recipes") as session:
        own = list(_read(session, RECIPES, RecipeBook).stacks)
        for stack in book.stacks:
            if any(x.model_copy(update={"name": stack.name}) == stack for x in own):
                continue
            names = {x.name for x in own}
            numbered = (stack.name if n == 1 else f"{stack.name[:55]} {n}" for n in itertools.count(1))
            own.append(stack.model_copy(update={"name": next(n for n in numbered if n not in names)}))
        kept = RecipeBook(stacks=tuple(own))
        _write(session, RECIPES, kept)
    return kept


@dataclass(frozen=True)
class NextChange:
    """What undo or redo would do; words are empty and id is 0 when there is nothing. elsewhere: it was made in another
    window, or before this one was opened."""

    id: int = 0
    words: str = ""
    elsewhere: bool = False


def undo_words(store: Store) -> tuple[NextChange, NextChange]:
    """The next undo and the next redo."""
    with store.read() as session:
        undo, redo = (
            NextChange(c.id, c.words, c.tab != current_tab.get()) if c else NextChange() for c in next_changes(session)
        )
        return undo, redo


def begin_here(store: Store) -> None:
    """Make what stands now the beginning of undo."""
    with store.write() as session:
        forget_changes(session)


def step_history(store: Store, undo: bool, wanted: int | None = None) -> str:
    """Undo or redo one change; returns its words. wanted: the change that is meant; None is the next whichever it is.

    Raises NotFound when there is nothing, Overtaken when another change has come between.
    """
    with store.write() as session:
        change = next_changes(session)[0 if undo else 1]
        if change is None:
            raise NotFound(f"There is nothing to {'undo' if undo else 'redo'}")
        if wanted not in (None, change.id):
            raise Overtaken(change.words)
        apply_change(session, change, undo)
        return change.words
