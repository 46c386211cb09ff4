"""What a costume still takes, over HTTP."""

from typing import Annotated

from fastapi import Query, Request, Response
from pydantic import Field

from vellumcut.api.deps import Id, StoreDep, routes
from vellumcut.api.files import download
from vellumcut.api.schemas import In, Out
from vellumcut.api.uploads import read_upload
from vellumcut.core.pattern.pages import PaperName
from vellumcut.core.shop.supplies import Amount, Group, Name, SupplyBook
from vellumcut.formats.shop.bought_csv import BackRow, read_bought_csv
from vellumcut.formats.shop.shopping_list import write_shopping_list
from vellumcut.formats.shop.supplies_csv import write_supplies_csv
from vellumcut.service.shop import buying, supplies
from vellumcut.store.database import Store

router = routes("supplies")
LARGEST_LIST = 1_000_000
"""Bytes of a list that comes back."""


class UseOut(Out):
    amount: float
    piece: str
    step: str


class AnswerOut(Out):
    """What a shop offers for what is short. days: until it is here. late: it often is. enough: there are so many."""

    shop: str
    packs: int
    pack: float
    cost: float
    days: int
    late: bool
    enough: bool
    there: int


class SupplyOut(Out):
    """need: of steps not done. spare: what is usually lost. have: there now. packs: to buy. pack_is_ours: the pack's
    size is an estimate. cost: None while it has no price. rest: left over in the end. stops: what waits without it.
    cheaper: another way and what it gives up; taken: it is gone. answers: of shops, the best first."""

    name: str
    unit: str
    group: Group
    need: float
    spare: float
    have: float
    short: float
    pack: float
    pack_is_ours: bool
    packs: int
    price: float | None
    cost: float | None
    rest: float
    shop: str
    formula: str
    cheaper: str
    taken: bool
    stops: str
    uses: list[UseOut]
    answers: list[AnswerOut] = Field(default_factory=list)


class MoneyOut(Out):
    spent: float
    to_spend: float
    unpriced: int
    budget: float | None
    forecast: float


class UnmadeOut(Out):
    piece: str
    why: str


class SuppliesOut(Out):
    """unlaid: foams whose parts lie on no sheet yet, so that no sheet of them is on the list. asked_at: when shops were
    asked last, s since 1970, 0 for never; silent: those that did not answer; odd: what was no offer, and what could not
    be taken in, in words."""

    build: str
    lines: list[SupplyOut]
    money: MoneyOut
    book: SupplyBook
    unlaid: list[str]
    unmade: list[UnmadeOut]
    asked_at: float
    silent: list[str]
    odd: list[str]


class PickIn(In):
    name: Name
    unit: Annotated[str, Field(max_length=12)]
    shop: Annotated[str, Field(max_length=80)]


class TakeIn(In):
    """picks: which offers; None for the best of everything that there is enough of."""

    picks: Annotated[tuple[PickIn, ...], Field(max_length=500)] | None = None


class CameIn(In):
    """amount: of all packs. paid: for all; None for what the list says."""

    name: Name
    unit: Annotated[str, Field(max_length=12)]
    amount: Amount
    paid: Amount | None = None


class HomeIn(In):
    rows: Annotated[tuple[CameIn, ...], Field(max_length=500)]


class MissingStepOut(Out):
    """A step for which too little is there. number: of its piece, 0 for the costume. key: the step's."""

    number: int
    key: str
    piece: str
    step: str
    things: list[str]


@router.get("/builds/{build}/supplies")
def read_supplies(store: StoreDep, build: Id) -> SuppliesOut:
    """The list, summed from the steps that are not done and from the sheets."""
    return _view(store, supplies.supplies_of(store, build))


@router.put("/builds/{build}/supplies")
def change_supplies(store: StoreDep, build: Id, body: SupplyBook) -> SuppliesOut:
    """The workshop's shelf, purchases and budgets; and the list as it then stands."""
    return _view(store, supplies.change_supplies(store, build, body))


@router.get("/builds/{build}/supplies.csv", response_class=Response)
def supplies_csv(store: StoreDep, build: Id) -> Response:
    """What to buy, shop by shop."""
    made = supplies.supplies_of(store, build)
    return download(write_supplies_csv(made.lines).encode(), f"{made.build} to buy", "csv", "text/csv")


@router.get("/builds/{build}/supplies.pdf", response_class=Response)
def shopping_list(store: StoreDep, build: Id, paper: PaperName = "A4") -> Response:
    """What to buy on paper, shop by shop, with boxes to tick."""
    made = supplies.supplies_of(store, build)
    paper_list = write_shopping_list(made.build, made.lines, made.book.money, paper)
    return download(paper_list, f"{made.build} to buy", "pdf", "application/pdf")


@router.post("/builds/{build}/supplies/ask")
def ask_shops(store: StoreDep, build: Id, seed: Annotated[int | None, Query(ge=0, le=10**6)] = None) -> SuppliesOut:
    """Ask the shops after all that is short. seed: of their moods; those of this moment where none is given."""
    return _view(store, buying.ask_shops(store, build, seed))


@router.post("/builds/{build}/supplies/take")
def take_offers(store: StoreDep, build: Id, body: TakeIn) -> SuppliesOut:
    """Buy where it was offered: pack, price and shop come onto the list."""
    picks = None if body.picks is None else [(p.name, p.unit, p.shop) for p in body.picks]
    return _view(store, buying.take_offers(store, build, picks))


@router.post("/builds/{build}/supplies/bought")
def bring_home(store: StoreDep, build: Id, body: HomeIn) -> SuppliesOut:
    """What was bought is there, and paid, in one change."""
    rows = [BackRow(r.name, r.unit, r.amount, r.paid) for r in body.rows]
    made, odd = buying.bring_home(store, build, rows)
    return _view(store, made, odd)


@router.post(
    "/builds/{build}/supplies/bought.csv",
    openapi_extra={"requestBody": {"content": {"text/csv": {"schema": {"type": "string"}}}}},
)
async def bring_home_csv(store: StoreDep, build: Id, request: Request) -> SuppliesOut:
    """The list as it came back from the shops: what is ticked in the column “bought” is there."""
    return await read_upload(store, request, lambda path: _came_back(store, build, path.read_bytes()), LARGEST_LIST)


@router.get("/builds/{build}/missing")
def missing(store: StoreDep, build: Id) -> list[MissingStepOut]:
    """Steps for which too little is there, of things that somebody has counted or bought."""
    return [
        MissingStepOut(number=use.number, key=use.key, piece=use.piece, step=use.step, things=things)
        for use, things in supplies.missing_of(store, build)
    ]


def _came_back(store: Store, build: int, data: bytes) -> SuppliesOut:
    made, odd = buying.bring_home(store, build, read_bought_csv(data))
    return _view(store, made, odd)


def _view(store: Store, made: supplies.Supplies, odd: list[str] | None = None) -> SuppliesOut:
    offered = buying.offered(store, made)
    quotes = offered.quotes
    lines = []
    for line in made.lines:
        answers = [
            AnswerOut(
                shop=a.offer.shop, packs=a.packs, pack=a.offer.pack, cost=a.cost, days=a.offer.days, late=a.offer.late,
                enough=a.enough, there=a.offer.there,
            )
            for a in offered.answers.get((line.name, line.unit), [])
        ]  # fmt: skip
        lines.append(SupplyOut.model_validate(line).model_copy(update={"answers": answers}))
    return SuppliesOut(
        build=made.build,
        lines=lines,
        money=MoneyOut.model_validate(made.money),
        book=made.book,
        unlaid=made.unlaid,
        unmade=[UnmadeOut(piece=piece, why=why) for piece, why in made.unmade],
        asked_at=quotes.asked_at,
        silent=list(quotes.silent),
        odd=[*quotes.odd, *(odd or [])],
    )
