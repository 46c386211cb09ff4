"""What a costume still takes, against what is there: need, have, packs to buy, money (shop rule book, section 4).

Every amount is summed from steps that are not done; what is there is what was counted and bought, less what the steps
done since have taken. Nothing is typed twice, so nothing is counted twice.
"""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from math import ceil
from typing import Annotated, Literal

from pydantic import Field

from vellumcut.core.body.readings import Decision
from vellumcut.core.make.quantities import TOOLS
from vellumcut.core.shop.cheaper import cheaper_way, with_cheaper
from vellumcut.core.shop.use import Use, bought_as
from vellumcut.core.units import Number

Group = Literal["foam", "glue and filler", "coats", "straps", "small parts", "tape and blades"]
GROUPS: tuple[Group, ...] = ("foam", "glue and filler", "coats", "straps", "small parts", "tape and blades")
SPARE = 0.1
"""Of liquids and cut lengths, and one in ten of small parts: what is usually lost (est.)."""
NO_SPARE = ("fresh blade edges", *TOOLS, "sheets", "packs")
"""A sheet is whole, an edge is worn when it is worn, and packs are counted with one in ten spare already."""
USUAL_PACKS: dict[str, float] = {
    "contact cement": 750, "flexible primer": 500, "primer": 400, "clear": 250, "acrylic": 60, "metallic colour": 60,
    "dry brush": 60, "filler": 250, "instant glue": 20, "webbing": 5, "elastic": 3, "lace": 5,
    "eyelets": 100, "buckles": 4, "rings": 10, "hook-and-loop": 10, "blade edges": 10, "tape": 25, "marker": 1,
    "cloth": 1, "magnets": 10, "washers": 20, "wash": 60, "snaps": 10,
}  # fmt: skip
"""How much a pack of it usually holds (est.), by a word in its name, in the unit it is counted in."""
MEANT = 1e-9

Name = Annotated[str, Field(min_length=1, max_length=120)]
Amount = Annotated[Number, Field(ge=0, le=1e9)]


class OnShelf(Decision):
    """One thing as this maker has it. counted: how much there was when it was counted, at a moment (s since 1970).
    pack: how much a pack holds. price: of a pack, in the maker's own money. shop: where it is bought."""

    name: Name
    unit: Annotated[str, Field(max_length=12)]
    counted: Amount = 0.0
    counted_at: Annotated[Number, Field(ge=0)] = 0.0
    pack: Annotated[Number, Field(gt=0, le=1e6)] | None = None
    price: Amount | None = None
    shop: Annotated[str, Field(max_length=80)] = ""


class Bought(Decision):
    """Packs that were bought for a build. amount: how much in all. paid: for all of it."""

    name: Name
    unit: Annotated[str, Field(max_length=12)]
    amount: Amount
    paid: Amount = 0.0
    build: Annotated[int, Field(ge=0, strict=True)] = 0
    at: Annotated[Number, Field(ge=0)] = 0.0


class TakenWay(Decision):
    """A thing of a build for which the cheaper way is gone."""

    build: Annotated[int, Field(ge=0, strict=True)]
    name: Name
    unit: Annotated[str, Field(max_length=12)]


class SupplyBook(Decision):
    """The workshop's own: rows of what is there, what was bought, what a build may cost, by its number, and where it
    goes a cheaper way."""

    rows: Annotated[tuple[OnShelf, ...], Field(max_length=500)] = ()
    bought: Annotated[tuple[Bought, ...], Field(max_length=5000)] = ()
    budgets: Annotated[dict[str, Amount], Field(max_length=200)] = Field(default_factory=dict)
    money: Annotated[str, Field(max_length=8)] = ""
    ways: Annotated[tuple[TakenWay, ...], Field(max_length=2000)] = ()


@dataclass(frozen=True)
class Line:
    """A thing on the list. need: of steps not done, with spare what is usually lost. have: counted and bought, less
    used. packs: to buy. cost: of these; None while it has no price. uses: what the need sums. taken: the cheaper way is
    gone. kept_count: somebody counted or bought it, so that what is there is known."""

    name: str
    unit: str
    group: Group
    need: float
    spare: float
    have: float
    pack: float
    pack_is_ours: bool
    price: float | None
    shop: str
    uses: tuple[Use, ...] = field(repr=False)
    taken: bool = False
    kept_count: bool = False

    @property
    def short(self) -> float:
        """What is missing, spare included."""
        return max(0.0, self.need + self.spare - self.have)

    @property
    def packs(self) -> int:
        return ceil(self.short / self.pack - MEANT) if self.short > MEANT else 0

    @property
    def rest(self) -> float:
        """What is left over in the end."""
        return self.have + self.packs * self.pack - self.need

    @property
    def cost(self) -> float | None:
        return None if self.price is None and self.packs else self.packs * (self.price or 0.0)

    @property
    def cheaper(self) -> str:
        """The cheaper way and what it gives up; empty where none is known."""
        way = cheaper_way(self.name)
        return way.words if way else ""

    @property
    def stops(self) -> str:
        """What waits if it is missing: the first step that takes more than there is."""
        first = next(iter(self.waiting), None)
        return f"{first.piece}: {first.step}" if first else ""

    @property
    def waiting(self) -> list[Use]:
        """Steps for which too little is there, once those before them have taken theirs."""
        out, left = [], self.have
        for use in self.uses:
            left = left if self.name in TOOLS else left - use.amount
            if use.amount > MEANT and (left < -MEANT or (self.name in TOOLS and left < use.amount)):
                out.append(use)
        return out

    @property
    def formula(self) -> str:
        """How the figure came about."""
        spare = f" + {told(self.spare)} spare" if self.spare else ""
        return f"{told(self.need)}{spare} - {told(self.have)} there = {told(self.short)} {self.unit}"


def told(amount: float) -> str:
    return f"{amount:.0f}" if amount >= 10 or amount == int(amount) else f"{amount:.2g}"


def group_of(name: str, unit: str) -> Group:
    """Where it stands on the list."""
    if unit == "sheets":
        return "foam"
    if any(w in name for w in ("glue", "cement", "filler", "clay")):
        return "glue and filler"
    if unit == "ml":
        return "coats"
    if any(w in name for w in ("webbing", "elastic", "lace", "cloth", "strap")):
        return "straps"
    return "tape and blades" if any(w in name for w in ("tape", "blade", "marker", "sand")) else "small parts"


def usual_pack(name: str, unit: str) -> float:
    """How much of it is bought at once, where the maker has not said."""
    if unit == "sheets":
        return 1.0
    return next((pack for word, pack in USUAL_PACKS.items() if word in name), 1.0)


def spare_of(name: str, unit: str, need: float) -> float:
    """What is usually lost of it: of counted things whole ones."""
    if not need or name in NO_SPARE or unit in NO_SPARE:
        return 0.0
    return float(ceil(need * SPARE - MEANT)) if unit == "x" else need * SPARE


def supply_lines(uses: Iterable[Use], book: SupplyBook, others: Iterable[Use] = (), build: int = 0) -> list[Line]:
    """The list of a build, by its number. uses: of all its steps, done or not. others: of steps done for other builds,
    which took from the same shelf."""
    own: dict[tuple[str, str], list[Use]] = {}
    taken = {(w.name, w.unit) for w in book.ways if w.build == build and cheaper_way(w.name) is not None}
    for use in with_cheaper(uses, taken):
        own.setdefault((bought_as(use.name), use.unit), []).append(use)
    spent: dict[tuple[str, str], list[Use]] = {key: list(rows) for key, rows in own.items()}
    for use in others:
        spent.setdefault((bought_as(use.name), use.unit), []).append(use)
    rows = {(r.name, r.unit): r for r in book.rows}
    lines = [
        replace(_line(key, wanted, rows.get(key), spent[key], book.bought), taken=key in taken)
        for key, wanted in own.items()
    ]
    return sorted(lines, key=lambda x: (GROUPS.index(x.group), x.name))


def _line(
    key: tuple[str, str], wanted: Sequence[Use], row: OnShelf | None, spent: Sequence[Use], bought: Sequence[Bought]
) -> Line:
    name, unit = key
    open_uses = tuple(u for u in wanted if u.done_at is None)
    amounts = [u.amount for u in open_uses]
    need = max(amounts, default=0.0) if name in TOOLS else sum(amounts)
    pack = row.pack if row is not None and row.pack is not None else usual_pack(name, unit)
    return Line(
        name, unit, group_of(name, unit), need, spare_of(name, unit, need), there(key, row, spent, bought), pack,
        row is None or row.pack is None, row.price if row else None, row.shop if row else "", open_uses,
        kept_count=unit != "sheets"
        and ((row is not None and row.counted_at > 0) or any((b.name, b.unit) == key for b in bought)),
    )  # fmt: skip


def there(key: tuple[str, str], row: OnShelf | None, spent: Iterable[Use], bought: Iterable[Bought]) -> float:
    """What is there now: counted, and bought since, less what steps done since have taken; tools are not used up.
    Of sheets only those that are missing are on the list at all."""
    if key[1] == "sheets":
        return 0.0
    since = row.counted_at if row else 0.0
    came = sum(b.amount for b in bought if (b.name, b.unit) == key and b.at >= since)
    if row is None and not came:
        return 0.0
    first = since if row else min(b.at for b in bought if (b.name, b.unit) == key)
    done = [u.amount for u in spent if u.done_at is not None and u.done_at > first]
    went = 0.0 if key[0] in TOOLS else sum(done)
    return max(0.0, (row.counted if row else 0.0) + came - went)


@dataclass(frozen=True)
class Money:
    """spent: for this build. to_spend: on what has a price. unpriced: how many lines have none. budget: what it may
    cost; None while nobody said."""

    spent: float
    to_spend: float
    unpriced: int
    budget: float | None

    @property
    def forecast(self) -> float:
        return self.spent + self.to_spend


def money_of(lines: Sequence[Line], book: SupplyBook, build: int) -> Money:
    costs = [line.cost for line in lines if line.packs]
    spent = sum(b.paid for b in book.bought if b.build == build)
    return Money(spent, sum(c for c in costs if c is not None), costs.count(None), book.budgets.get(str(build)))


def by_shop(lines: Sequence[Line]) -> Mapping[str, list[Line]]:
    """What is bought, shop by shop; what has none comes last."""
    shops: dict[str, list[Line]] = {}
    for line in sorted((x for x in lines if x.packs), key=lambda x: (not x.shop, x.shop)):
        shops.setdefault(line.shop, []).append(line)
    return shops
