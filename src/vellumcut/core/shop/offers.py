"""What shops answer: sorted out, held against what is short, and the best of it named."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from math import ceil
from typing import Annotated, Any

from pydantic import Field, StrictBool, StrictInt, ValidationError

from vellumcut.core.body.readings import Decision
from vellumcut.core.shop.supplies import MEANT, Line, Name
from vellumcut.core.units import Number

DEAREST = 1e6
"""A pack for more is a slip of whoever wrote it."""
ODD = 20.0
"""Times dearer or cheaper than the middle one of all shops, from which a price is a slip (est.)."""
Shop = Annotated[str, Field(min_length=1, max_length=80)]


class Offer(Decision):
    """A thing in a shop. pack: how much one holds. price: of a pack. there: packs in stock. days: until it is here.
    late: that shop is often late with it."""

    shop: Shop
    name: Name
    unit: Annotated[str, Field(max_length=12)]
    pack: Annotated[Number, Field(gt=0, le=1e6)]
    price: Annotated[Number, Field(ge=0, le=DEAREST)]
    there: Annotated[StrictInt, Field(ge=0, le=10**9)]
    days: Annotated[StrictInt, Field(ge=0, le=365)] = 0
    late: StrictBool = False


class Quotes(Decision):
    """What shops said last. silent: those that did not answer. odd: what was no offer, in words. asked_at: s since
    1970; 0 while nobody was asked."""

    offers: Annotated[tuple[Offer, ...], Field(max_length=3000)] = ()
    silent: Annotated[tuple[Shop, ...], Field(max_length=40)] = ()
    odd: Annotated[tuple[Annotated[str, Field(max_length=300)], ...], Field(max_length=400)] = ()
    asked_at: Annotated[Number, Field(ge=0)] = 0.0


def heard(answers: Mapping[str, Iterable[Mapping[str, Any]] | None], asked_at: float) -> Quotes:
    """Answers of shops by name, None of those that were silent: what is an offer, and what is none and why."""
    offers: list[Offer] = []
    odd: list[str] = []
    for shop, rows in answers.items():
        for row in rows or ():
            try:
                offers.append(Offer.model_validate({**row, "shop": shop}))
            except (ValidationError, TypeError) as error:
                odd.append(_why(shop, row, error))
    kept = [o for o in offers if not _odd(o, offers)]
    odd += [f"{o.shop}: {o.name} for {o.price:.2f} is far from what others ask" for o in offers if _odd(o, offers)]
    silent = tuple(shop for shop, rows in answers.items() if rows is None)
    return Quotes(offers=tuple(kept[:3000]), silent=silent, odd=tuple(w[:300] for w in odd[:400]), asked_at=asked_at)


def _why(shop: str, row: object, error: ValidationError | TypeError) -> str:
    name = row.get("name", "something") if isinstance(row, Mapping) else "something"
    field = str(error.errors()[0]["loc"][-1]) if isinstance(error, ValidationError) and error.errors()[0]["loc"] else ""
    value = row.get(field) if isinstance(row, Mapping) else None
    words = {"pack": "a pack of", "price": "a price of", "there": "a stock of", "days": "a wait of"}.get(field, field)
    return f"{shop}: {str(name)[:80]} with {words} {str(value)[:40]} is no offer"


def _odd(one: Offer, offers: Sequence[Offer]) -> bool:
    """Whether the middle one of at least three shops asks so much less, or more; of two nobody knows which slipped."""
    prices = sorted(o.price / o.pack for o in offers if (o.name, o.unit) == (one.name, one.unit))
    if len(prices) < 3:
        return False
    middle, own = prices[len(prices) // 2], one.price / one.pack
    return own > ODD * middle > 0 or own * ODD < middle


@dataclass(frozen=True)
class Answer:
    """An offer for what is short. packs: wanted of it; enough: there are so many."""

    offer: Offer
    packs: int
    enough: bool

    @property
    def cost(self) -> float:
        return self.packs * self.offer.price


def answers_for(line: Line, offers: Iterable[Offer]) -> list[Answer]:
    """For what is short, the best first: what is there in full, then what costs least, then what comes soonest."""
    found = []
    for offer in offers:
        if (offer.name, offer.unit) == (line.name, line.unit) and line.short > MEANT:
            packs = ceil(line.short / offer.pack - MEANT)
            found.append(Answer(offer, packs, offer.there >= packs))
    return sorted(found, key=lambda a: (not a.enough, a.cost, a.offer.days, a.offer.shop))
