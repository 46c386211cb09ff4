"""The list of supplies against sums made by hand and a plain ledger."""

import math

import numpy as np
import pytest

from vellumcut.core.shop.supplies import (
    Bought,
    OnShelf,
    SupplyBook,
    by_shop,
    group_of,
    money_of,
    supply_lines,
)
from vellumcut.core.shop.use import Use


def one(lines, name):
    (line,) = [x for x in lines if x.name == name]
    return line


def test_need_spare_packs_and_rest_of_a_list_made_by_hand():
    uses = [
        Use("contact cement", "ml", 100, "Chest", "close"),
        Use("contact cement", "ml", 60, "Back", "close"),
        Use("webbing to the back", "m", 4.0, "Chest", "rig"),
        Use("webbing, across the opening", "m", 2.0, "Back", "rig"),
        Use("eyelets", "x", 24, "Bracers", "rig"),
        Use("acrylic “red”", "ml", 55, "Chest", "paint"),
        Use("acrylic “black”", "ml", 10, "Chest", "paint"),
        Use("fresh blade edges", "x", 3, "Chest", "cut"),
        Use("marker", "x", 1, "Chest", "trace"),
        Use("marker", "x", 1, "Back", "trace"),
        Use("rivets", "packs", 2, "Chest", "lay on"),
    ]
    shelf = (
        OnShelf(name="contact cement", unit="ml", counted=30, counted_at=5, pack=50, price=4, shop="Harbour"),
        OnShelf(name="eyelets", unit="x", counted=27, counted_at=5),
        OnShelf(name="webbing", unit="m", pack=2.5, price=3),
    )
    lines = supply_lines(uses, SupplyBook(rows=shelf))
    cement = one(lines, "contact cement")
    assert (cement.need, cement.spare, cement.have, cement.packs) == (160, 16, 30, 3)
    assert cement.rest == 30 + 150 - 160
    assert cement.cost == 12
    assert cement.stops == "Chest: close"
    assert one(lines, "webbing").need == 6
    assert one(lines, "webbing").packs == math.ceil(6.6 / 2.5)
    assert (one(lines, "eyelets").spare, one(lines, "eyelets").packs) == (3, 0)
    assert one(lines, "acrylic “red”").packs == math.ceil(60.5 / 60)
    assert one(lines, "acrylic “black”").packs == 1
    assert (one(lines, "fresh blade edges").spare, one(lines, "marker").need, one(lines, "rivets").packs) == (0, 1, 2)
    assert "waste foam" in one(lines, "rivets").cheaper
    money = money_of(lines, SupplyBook(budgets={"3": 50}), 3)
    assert (money.to_spend, money.budget) == (12 + 9, 50)
    assert money.unpriced == sum(x.packs > 0 and x.price is None for x in lines)
    assert list(by_shop(lines)) == ["Harbour", ""]
    assert len({x.name for x in lines}) == len(lines)
    assert group_of("low-tack tape", "m") == "tape and blades"


@pytest.mark.parametrize("seed", range(50))
def test_what_is_there_is_a_plain_ledger(seed):
    """Counting, buying and doing steps of two builds in any order: what is there is what a till would say."""
    lot = np.random.default_rng(seed)
    now, till, counted_at, counted = 10.0, 0.0, None, 0.0
    bought: list[Bought] = []
    steps = [[float(lot.integers(1, 40)), None] for _ in range(8)]
    for _ in range(14):
        now += 1
        act = lot.choice(["count", "buy", "do", "undo"])
        if act == "count":
            counted = till = float(lot.integers(0, 400))
            counted_at = now
        elif act == "buy" and counted_at is not None:
            amount = float(lot.integers(50, 200))
            bought.append(Bought(name="glue", unit="g", amount=amount, build=1, at=now))
            till += amount
        elif act == "do" and (free := [s for s in steps if s[1] is None]):
            free[0][1] = now
            till = max(0.0, till - free[0][0]) if counted_at is not None else 0.0
        elif act == "undo" and (done := [s for s in steps if s[1] is not None and s[1] > (counted_at or math.inf)]):
            till += done[-1][0]
            done[-1][1] = None
        if till <= 0 and counted_at is not None:
            return
        rows = () if counted_at is None else (OnShelf(name="glue", unit="g", counted=counted, counted_at=counted_at),)
        book = SupplyBook(rows=rows, bought=tuple(bought))
        uses = [Use("glue", "g", a, "P", f"s{k}", at) for k, (a, at) in enumerate(steps)]
        (line,) = supply_lines(uses[:4], book, [u for u in uses[4:] if u.done_at])
        assert line.have == pytest.approx(till)
        assert line.need == sum(a for a, at in steps[:4] if at is None)
        assert line.packs * line.pack >= line.need + line.spare - line.have - 1e-6
