"""What to buy as a table that any spreadsheet opens, shop by shop."""

from collections.abc import Sequence

from vellumcut.core.shop.supplies import Line, by_shop
from vellumcut.formats.csv_table import write_csv

HEAD = (
    "shop",
    "thing",
    "packs",
    "a pack holds",
    "unit",
    "need",
    "spare",
    "there",
    "price of a pack",
    "cost",
    "first for",
    "bought",
    "paid",
)


def write_supplies_csv(lines: Sequence[Line]) -> str:
    """One row for each thing that is short, those with a shop first; two columns to tick and to write what was paid."""
    return write_csv(
        HEAD,
        (
            (x.shop, x.name, x.packs, x.pack, x.unit, x.need, x.spare, x.have, x.price, x.cost, x.stops, "", "")
            for own in by_shop(lines).values()
            for x in own
        ),
    )
