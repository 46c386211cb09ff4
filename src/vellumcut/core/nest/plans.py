"""Several ways to lay the same parts, side by side: from two searches that share nothing but the parts."""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

from vellumcut.core.nest.fill import Plan, fits
from vellumcut.core.nest.leaves import rest_of
from vellumcut.core.nest.search import MANY, Nest, better_orders, first_plan, merit
from vellumcut.core.nest.shapes import NestPart

Way = Literal["first", "orders", "strip"]
REPORTS = (60, 120, 250, 400)
"""After how many reports of the strip engine its strip is cut into sheets, one strip after the other."""
ROLL = 5.0
"""Times its width from which a sheet is a roll: nothing is cut into sheets, so only the longest search pays."""
PER_PART = 10
"""Reports for each part at most: few parts lie as well as they can soon."""
PASSES: dict[str, int] = {"quick": 8, "usual": 40, "thorough": 150}
"""Passes of the search by order: counted, since seconds differ from machine to machine."""
Effort = Literal["quick", "usual", "thorough"]
STRIPS: dict[str, int] = {"quick": 1, "usual": 2, "thorough": 4}


@dataclass(frozen=True)
class Candidate:
    """A plan, and the way it was found. share: how much of that way's passes is done."""

    plan: Plan
    way: Way
    share: float


def by_orders(nest: Nest, seed: int, effort: Effort) -> Iterator[Candidate]:
    """One from each pass of the search by order; before it a quicker one where the parts are many."""
    if len(nest.parts) > MANY:
        yield Candidate(first_plan(nest), "first", 0.0)
    many = PASSES[effort]
    for k, plan in enumerate(better_orders(nest, seed), 1):
        yield Candidate(plan, "orders", k / many)
        if k >= many:
            return


def by_strip(nest: Nest, seed: int, effort: Effort) -> Iterator[Candidate]:
    """Plans by the strip engine: it wants a process of its own, which is ended with it."""
    from vellumcut.core.nest.strip import strips  # noqa: PLC0415  the engine is loaded where it runs

    most = REPORTS[: STRIPS[effort]]
    if any(s.size[0] >= ROLL * s.size[1] for s in nest.sheets):
        most = (most[-1],) * 2
    reports = [min(r, PER_PART * len(nest.parts)) for r in most]
    for k, plan in enumerate(strips(nest, seed, reports), 1):
        yield Candidate(plan, "strip", k / len(reports))


def better(nest: Nest, one: Plan, other: Plan | None) -> bool:
    """Whether a plan is to be taken before another: by what must be bought, then by the largest useful rest."""
    if other is None:
        return True
    a, b = merit(nest, one), merit(nest, other)
    if a[:2] != b[:2] or abs(a[2] - b[2]) > 0.005:
        return a < b
    return largest_rest(nest, one) > largest_rest(nest, other)


def largest_rest(nest: Nest, plan: Plan) -> float:
    """mm2 of the largest rest that one straight cut parts off."""
    rests = [rest_of(s, plan.on(s.key), nest.rules) for s in nest.sheets if s.key in plan.used]
    return max((r.area for r in rests if r is not None), default=0.0)


def too_large(nest: Nest) -> list[NestPart]:
    """Parts that find no room on any sheet, were it empty."""
    kinds = {s.shape.wkb: s for s in nest.sheets}.values()
    known: dict[int, bool] = {}
    out = []
    for part in nest.parts:
        if id(part.form) not in known:
            known[id(part.form)] = any(fits(part, s, nest.rules) for s in kinds)
        if not known[id(part.form)]:
            out.append(part)
    return out
