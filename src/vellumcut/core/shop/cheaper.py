"""Cheaper ways: what each gives up, and what it takes instead (shop rule book, section 4)."""

from collections.abc import Collection, Iterable, Iterator
from dataclasses import dataclass, replace
from math import ceil

from vellumcut.core.shop.use import Use, bought_as


@dataclass(frozen=True)
class Cheaper:
    """words: the way and what it gives up. word: in a thing's name. keeps: share that is still bought as it was.
    instead: name, unit, and how much of it for one that is not bought."""

    word: str
    words: str
    keeps: float = 0.0
    instead: tuple[tuple[str, str, float], ...] = ()


_DOTS = "Dots punched from waste foam: they cost nothing and are painted with the rest, but stand less high."
CHEAPER = (
    Cheaper("rivets", _DOTS),
    Cheaper("studs", _DOTS),
    Cheaper(
        "magnets", "A steel washer for every second magnet: cheaper, and holds less.", 0.5, (("washers", "x", 1.0),)
    ),
    Cheaper("buckles", "From belts and bags of a second-hand shop: cheap, and seldom two alike."),
    Cheaper("rings", "Off the straps of old bags: cheap, and seldom two alike."),
    Cheaper("webbing", "A belt from a second-hand shop, cut up: cheap, and its width is as it comes."),
    Cheaper(
        "metallic colour", "Silver acrylic over gloss black: cheaper, and less of a mirror.", 0.0,
        (("acrylic “silver”", "ml", 1.0), ("acrylic “gloss black”", "ml", 1.0)),
    ),
)  # fmt: skip


def cheaper_way(name: str) -> Cheaper | None:
    """None where none is known."""
    return next((way for way in CHEAPER if way.word in name), None)


def with_cheaper(uses: Iterable[Use], taken: Collection[tuple[str, str]]) -> Iterator[Use]:
    """What steps take where cheaper ways are gone. taken: names and units of things that are not bought as they were;
    what is done is done."""
    for use in uses:
        way = cheaper_way(use.name) if (bought_as(use.name), use.unit) in taken else None
        if way is None or use.done_at is not None:
            yield use
            continue
        kept = use.amount * way.keeps
        kept = float(ceil(kept)) if use.unit == "x" else kept
        yield replace(use, amount=kept)
        for name, unit, ratio in way.instead:
            yield replace(use, name=name, unit=unit, amount=(use.amount - kept) * ratio)
