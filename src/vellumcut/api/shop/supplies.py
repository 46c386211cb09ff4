"""What a costume still takes, over HTTP."""

from fastapi import Response

from vellumcut.api.deps import Id, StoreDep, routes
from vellumcut.api.files import download
from vellumcut.api.schemas import Out
from vellumcut.core.shop.supplies import Group, SupplyBook
from vellumcut.formats.shop.supplies_csv import write_supplies_csv
from vellumcut.service.shop import supplies

router = routes("supplies")


class UseOut(Out):
    amount: float
    piece: str
    step: str


class SupplyOut(Out):
    """need: of steps not done. spare: what is usually lost. have: there now. packs: to buy. pack_is_ours: the pack's
    size is an estimate. cost: None while it has no price. rest: left over in the end. stops: what waits without it."""

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
    stops: str
    uses: list[UseOut]


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
    """unlaid: foams whose parts lie on no sheet yet, so that no sheet of them is on the list."""

    build: str
    lines: list[SupplyOut]
    money: MoneyOut
    book: SupplyBook
    unlaid: list[str]
    unmade: list[UnmadeOut]


@router.get("/builds/{build}/supplies")
def read_supplies(store: StoreDep, build: Id) -> SuppliesOut:
    """The list, summed from the steps that are not done and from the sheets."""
    return _view(supplies.supplies_of(store, build))


@router.put("/builds/{build}/supplies")
def change_supplies(store: StoreDep, build: Id, body: SupplyBook) -> SuppliesOut:
    """The workshop's shelf, purchases and budgets; and the list as it then stands."""
    return _view(supplies.change_supplies(store, build, body))


@router.get("/builds/{build}/supplies.csv", response_class=Response)
def supplies_csv(store: StoreDep, build: Id) -> Response:
    """What to buy, shop by shop."""
    made = supplies.supplies_of(store, build)
    return download(write_supplies_csv(made.lines).encode(), f"{made.build} to buy", "csv", "text/csv")


def _view(made: supplies.Supplies) -> SuppliesOut:
    return SuppliesOut(
        build=made.build,
        lines=[SupplyOut.model_validate(line) for line in made.lines],
        money=MoneyOut.model_validate(made.money),
        book=made.book,
        unlaid=made.unlaid,
        unmade=[UnmadeOut(piece=piece, why=why) for piece, why in made.unmade],
    )
