"""Better orders of laying parts down, pass by pass: the same seed gives the same answers, whatever the clock says."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field

import numpy as np

from vellumcut.core.nest.fill import Plan, Rules, Table, fill, size_of, tables_of
from vellumcut.core.nest.shapes import Form, NestPart, NestSheet, Placed

MANY = 80
"""Parts from which on the first answer tries fewer turns: it has to be there within two seconds."""
QUICK_TURNS = 2
HEAVIER = 1.08
"""By how much a part counts more after a pass in which it came to lie on the last sheet (trial: shop rule book 7)."""
NOISE = (0.01, 0.3)
"""Least and most by which sizes are shaken from pass to pass."""
BACK = 0.3
"""How often a pass that found nothing better goes back to the best order as it was."""


@dataclass(frozen=True)
class Nest:
    """What is to be laid. sheets: those there are, offcuts first, then those that would be bought. held: parts where
    the maker locked them; they are not among the parts."""

    parts: tuple[NestPart, ...]
    sheets: tuple[NestSheet, ...]
    rules: Rules = field(default_factory=Rules)
    held: tuple[Placed, ...] = ()

    def tables(self) -> list[Table]:
        return tables_of(self.sheets, self.rules, self.held)


def merit(nest: Nest, plan: Plan) -> tuple[int, int, float]:
    """The less the better: parts that found no room, sheets to buy, whole sheets with the share of the last that is
    used."""
    whole = [s for s in nest.sheets if not s.offcut and s.key in plan.used]
    new = sum(not s.owned for s in whole)
    ends = [plan.used[s.key] / s.size[0] for s in whole]
    return len(plan.left), new, len(ends) - 1 + min(ends) if ends else 0.0


def first_order(parts: Sequence[NestPart]) -> list[NestPart]:
    return sorted(parts, key=lambda p: (-size_of(p.form), p.key))


def first_plan(nest: Nest) -> Plan:
    """At once."""
    order = first_order(nest.parts)
    if len(order) <= MANY:
        return fill(order, nest.tables())
    few = {id(p.form): Form(p.form.shape, p.form.turns[:QUICK_TURNS]) for p in order}
    quick = [NestPart(p.key, few[id(p.form)]) for p in order]
    whole = {p.key: p for p in order}
    made = fill(quick, nest.tables())
    placed = tuple(p if p.locked else Placed(whole[p.part.key], p.sheet, p.turn, p.x, p.y) for p in made.placed)
    return Plan(placed, made.used, tuple(whole[p.key] for p in made.left))


def better_orders(nest: Nest, seed: int) -> Iterator[Plan]:
    """A plan from each pass, for ever: the best order so far, shaken, in which what came last weighs more."""
    lot = np.random.default_rng(seed)
    kept = {p.key: size_of(p.form) for p in nest.parts}
    best: tuple[int, int, float] | None = None
    pushed = dict(kept)
    while True:
        noise = float(np.exp(lot.uniform(*np.log(NOISE)))) if best else 0.0
        order = {k: w * float(np.exp(lot.normal(0, noise))) for k, w in pushed.items()}
        plan = fill(sorted(nest.parts, key=lambda p: (-order[p.key], p.key)), nest.tables())
        found = merit(nest, plan)
        if best is None or found <= best:
            best, kept = found, order
            pushed = {k: w * (HEAVIER if k in _last(nest, plan) else 1.0) for k, w in kept.items()}
        elif lot.random() < BACK:
            pushed = dict(kept)
        yield plan


def _last(nest: Nest, plan: Plan) -> set[str]:
    """Parts on the sheet that is used least, and those that reach farthest on it."""
    keys = {p.key for p in plan.left}
    whole = [s.key for s in nest.sheets if not s.offcut and s.key in plan.used]
    if whole:
        least = min(whole, key=lambda k: plan.used[k])
        lying = sorted(plan.on(least), key=lambda p: -p.shape.bounds[2])
        far = lying if len(whole) > 1 else lying[: max(1, len(lying) // 6)]
        keys |= {p.part.key for p in far}
    return keys
