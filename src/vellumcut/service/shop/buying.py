"""Shops asked, their offers taken, and what was bought brought home."""

import threading
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any

from vellumcut.core.errors import CraftError
from vellumcut.core.shop.offers import Answer, Quotes, answers_for, heard
from vellumcut.core.shop.supplies import Bought, OnShelf, SupplyBook
from vellumcut.formats.shop.bought_csv import BackRow
from vellumcut.service import clock
from vellumcut.service.keeping.settings import change_supplies_in, read_quotes, write_quotes
from vellumcut.service.shop.supplies import Supplies, supplies_of
from vellumcut.standins.shops import SHOPS
from vellumcut.store.database import Store

WAITS = 4.0
"""Seconds in which a shop has to answer; the others are heard all the same."""


@dataclass(frozen=True)
class Offered:
    """quotes: as shops said them last. answers: by name and unit of a thing that is short, the best first."""

    quotes: Quotes
    answers: dict[tuple[str, str], list[Answer]]


def offered(store: Store, made: Supplies) -> Offered:
    quotes = read_quotes(store)
    return Offered(quotes, {(x.name, x.unit): answers_for(x, quotes.offers) for x in made.lines if x.packs})


def ask_shops(store: Store, build: int, seed: int | None = None) -> Supplies:
    """Ask every shop after all that is short; one that is silent holds up nobody. seed: of their moods; None for
    those of this moment. Raises NotFound."""
    made = supplies_of(store, build)
    wanted = [(x.name, x.unit) for x in made.lines if x.packs and x.unit != "sheets"]
    now = clock.now()
    mood = int(now) if seed is None else seed
    asked = {shop.name: _Asked(lambda shop=shop: shop.answer(wanted, mood)) for shop in SHOPS}  # type: ignore[misc]
    until = threading.Event()
    bell = threading.Timer(WAITS, until.set)
    bell.daemon = True
    bell.start()
    write_quotes(store, heard({name: one.within(until) for name, one in asked.items()}, now))
    return made


class _Asked:
    """A question to a shop, asked at once in a thread of its own that nobody has to wait for."""

    def __init__(self, ask: Callable[[], list[dict[str, Any]] | None]) -> None:
        self.answer: list[dict[str, Any]] | None = None
        self.thread = threading.Thread(target=self._run, args=(ask,), daemon=True)
        self.thread.start()

    def _run(self, ask: Callable[[], list[dict[str, Any]] | None]) -> None:
        try:
            self.answer = ask()
        except Exception:
            self.answer = None

    def within(self, until: threading.Event) -> list[dict[str, Any]] | None:
        while self.thread.is_alive() and not until.is_set():
            self.thread.join(0.05)
        return None if self.thread.is_alive() else self.answer


def take_offers(store: Store, build: int, picks: Sequence[tuple[str, str, str]] | None) -> Supplies:
    """Buy where it was offered: pack, price and shop come onto the list. picks: name, unit and shop; None takes the
    best that there is enough of for everything. Raises NotFound, CraftError for an offer that nobody made."""
    made = supplies_of(store, build)
    answers = offered(store, made).answers
    chosen: list[Answer] = []
    if picks is None:
        chosen = [own[0] for own in answers.values() if own and own[0].enough]
    for name, unit, shop in picks or ():
        found = next((a for a in answers.get((name, unit), []) if a.offer.shop == shop), None)
        if found is None:
            raise CraftError(f"{shop} offers no {name} any more: ask the shops again", "shop")
        chosen.append(found)
    lines = {(x.name, x.unit): x for x in made.lines}

    def change(book: SupplyBook) -> SupplyBook:
        rows = {(r.name, r.unit): r for r in book.rows}
        for one in chosen:
            o = one.offer
            old = rows.get((o.name, o.unit)) or _row(o.name, o.unit, lines[o.name, o.unit].have)
            rows[o.name, o.unit] = old.model_copy(update={"pack": o.pack, "price": o.price, "shop": o.shop})
        return book.model_copy(update={"rows": tuple(rows.values())})

    change_supplies_in(store, "Take offers of shops", change)
    return supplies_of(store, build)


def _row(name: str, unit: str, have: float) -> OnShelf:
    return OnShelf(name=name, unit=unit, counted=have, counted_at=clock.now() if have else 0.0)


def bring_home(store: Store, build: int, rows: Sequence[BackRow]) -> tuple[Supplies, list[str]]:
    """What was bought is there, all in one change; things of the table that are not on the list, in words. Raises
    NotFound, CraftError where nothing is ticked."""
    made = supplies_of(store, build)
    lines = {(x.name, x.unit): x for x in made.lines}
    known = [r for r in rows if (r.name, r.unit) in lines]
    odd = [f"{r.name} is not on this list" for r in rows if (r.name, r.unit) not in lines]
    if not known:
        raise CraftError("Nothing of this list is ticked as bought", "rows")
    now = clock.now()
    came = []
    for r in known:
        price = lines[r.name, r.unit].price or 0.0
        paid = r.paid if r.paid is not None else price * r.amount / lines[r.name, r.unit].pack
        came.append(Bought(name=r.name, unit=r.unit, amount=r.amount, paid=paid, build=build, at=now))
    many = f"{len(came)} thing{'s' * (len(came) > 1)}"
    change_supplies_in(
        store, f"Bring home {many}", lambda book: book.model_copy(update={"bought": (*book.bought, *came)})
    )
    return supplies_of(store, build), odd
