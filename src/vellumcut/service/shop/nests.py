"""Parts of a build laid on the sheets there are and those to buy: searched, kept, moved by hand, cut."""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Literal

import shapely

from vellumcut.core.design.foam import FoamKind
from vellumcut.core.errors import CraftError
from vellumcut.core.flatten.mesh import CUT_SIZE
from vellumcut.core.foam.shelf import ShelfSheet, facts_of_sheet, row_of
from vellumcut.core.nest.cut_parts import CopyOfPart, copies_of
from vellumcut.core.nest.fill import Plan, Rules
from vellumcut.core.nest.leaves import Trouble, density, first_cuts, knife_order, rest_of, troubles
from vellumcut.core.nest.plans import Candidate, Effort, better, too_large
from vellumcut.core.nest.search import Nest
from vellumcut.core.nest.shapes import NestSheet, Placed
from vellumcut.core.units import format_length
from vellumcut.service.keeping.builds import Work
from vellumcut.service.kept import Kept
from vellumcut.service.pattern.patterns import cutting_pattern, pattern_key
from vellumcut.service.shop.nest_worker import plan_told, searching

MOST_NEW = 40
"""Sheets of one foam that would be bought at most."""
LOOKS_EVERY = 0.2
Tool = Literal["knife", "scissors", "cutter"]
CLEARANCE: dict[Tool, float] = {"knife": 3.0, "scissors": 5.0, "cutter": 1.5}
"""mm between two parts (est.; shop rule book, section 2): a cutter's kerf is 1 mm."""


@dataclass(frozen=True)
class Material:
    """One kind of foam. copies: all that is cut from it."""

    kind: FoamKind
    thickness: float
    copies: tuple[CopyOfPart, ...]
    sheets: tuple[NestSheet, ...]
    one_faced: bool
    price: float | None

    @property
    def key(self) -> str:
        return f"{self.kind} {self.thickness:g}"

    def nest(self, rules: Rules, held: Sequence[Placed] = ()) -> Nest:
        """What is to be laid where parts are locked already."""
        there = {p.part.key for p in held}
        return Nest(tuple(c.part for c in self.copies if c.key not in there), self.sheets, rules, tuple(held))


@dataclass(frozen=True)
class SheetPlan:
    """One sheet with its parts. rest: what one straight cut leaves of it."""

    sheet: NestSheet
    placed: tuple[Placed, ...]
    rules: Rules

    @cached_property
    def rest(self) -> shapely.Polygon | None:
        return rest_of(self.sheet, self.placed, self.rules)

    @property
    def cuts(self) -> list[float]:
        return first_cuts(self.sheet, self.placed)

    @property
    def order(self) -> list[Placed]:
        return knife_order(self.placed)

    @property
    def dense(self) -> float:
        return density(self.placed, self.sheet, self.rest)


@dataclass(frozen=True)
class MaterialPlan:
    """A material as it is laid. too_large: keys of parts that no sheet has room for."""

    material: Material
    plan: Plan
    rules: Rules
    too_large: tuple[str, ...] = ()

    @cached_property
    def sheets(self) -> list[SheetPlan]:
        return [
            SheetPlan(s, tuple(self.plan.on(s.key)), self.rules) for s in self.material.sheets if self.plan.on(s.key)
        ]

    @cached_property
    def troubles(self) -> list[Trouble]:
        return list(troubles(self.material.sheets, self.plan, self.rules))

    @property
    def to_buy(self) -> int:
        return sum(not s.sheet.owned for s in self.sheets)


def _copies(work: Work) -> tuple[CopyOfPart, ...]:
    return tuple(copies_of(cutting_pattern(work), str(work.piece_id), work.shelf))


def _copies_key(work: Work) -> str:
    faces = [(r.kind, r.thickness, r.textured) for r in work.shelf]
    return f"{pattern_key(work, CUT_SIZE)}|{faces}|{work.piece_id}"


_kept = Kept(_copies, _copies_key, 60)


@dataclass(frozen=True)
class CostumeParts:
    """All that is cut for a build by material; why pieces are missing from it."""

    materials: tuple[Material, ...]
    missing: tuple[tuple[str, str], ...] = field(default=())


def parts_of(works: Sequence[Work]) -> CostumeParts:
    """Everything that is cut for a build, by material, the most foam first."""
    groups: dict[tuple[FoamKind, float], list[CopyOfPart]] = {}
    missing = []
    for work in works:
        try:
            for copy in _kept(work):
                groups.setdefault((copy.kind, copy.thickness), []).append(copy)
        except CraftError as error:
            missing.append((work.name, error.message))
    shelf = works[0].shelf if works else ()
    made = [_material(kind, thick, own, shelf) for (kind, thick), own in groups.items()]
    return CostumeParts(tuple(sorted(made, key=lambda m: -sum(c.form.area for c in m.copies))), tuple(missing))


def _material(kind: FoamKind, thick: float, copies: Sequence[CopyOfPart], shelf: Sequence[ShelfSheet]) -> Material:
    facts = facts_of_sheet(kind, thick, shelf)
    sheets = tuple(_sheets(kind, thick, shelf, facts.size))
    return Material(kind, thick, tuple(copies), sheets, facts.textured, facts.price)


def whole_sheet(k: int) -> str:
    """Key of a whole sheet in hand, counted from nought."""
    return f"sheet {k + 1}"


def _sheets(
    kind: FoamKind, thick: float, shelf: Sequence[ShelfSheet], size: tuple[float, float]
) -> Iterator[NestSheet]:
    """Offcuts, the smallest first, whole sheets in hand, then those that would be bought; all with their long side
    along."""
    row = row_of(kind, thick, shelf)
    seen: dict[str, int] = {}
    for one, other in sorted(row.offcuts, key=lambda o: (o[0] * o[1], o)) if row else []:
        word = f"offcut {max(one, other):g} x {min(one, other):g}"
        seen[word] = seen.get(word, 0) + 1
        shape = shapely.box(0, 0, max(one, other), min(one, other))
        yield NestSheet(f"{word} no. {seen[word]}", shape, offcut=True)
    long, short = max(size), min(size)
    for k in range(row.sheets if row else 0):
        yield NestSheet(whole_sheet(k), shapely.box(0, 0, long, short))
    for k in range(MOST_NEW):
        yield NestSheet(f"new {k + 1}", shapely.box(0, 0, long, short), owned=False)


def laid(
    material: Material, rules: Rules, effort: Effort, seed: int, held: Sequence[Placed] = (),
    heard: Callable[[MaterialPlan | None, float], None] = lambda plan, share: None,
) -> MaterialPlan:  # fmt: skip
    """One material laid by both searches, the best of them. heard: called several times a second with the best so far
    and how much is done; may raise to stop it. Raises CraftError."""
    nest = material.nest(rules, held)
    large = tuple(sorted(p.key for p in too_large(nest)))
    nest = replace(nest, parts=tuple(p for p in nest.parts if p.key not in large))
    best: dict[str, Candidate] = {}
    done: dict[str, float] = {}
    taken: MaterialPlan | None = None
    with searching(nest, seed, effort) as search:
        while search.running:
            said = search.next(LOOKS_EVERY)
            if said is not None and said[1] is not None:
                way, told = said
                best[way] = plan_told(nest, told)  # type: ignore[arg-type]
                done[way] = best[way].share
                taken = MaterialPlan(material, _best(nest, best).plan, rules, large)
            elif said is not None:
                done[said[0]] = 1.0
            heard(taken, min(done.values()) if len(done) == 2 else 0.0)
    if taken is None:
        raise CraftError(f"{foam_words(material)}: no plan came of it; try again", "nest")
    return taken


def _best(nest: Nest, best: dict[str, Candidate]) -> Candidate:
    """The same whichever came first."""
    taken: Candidate | None = None
    for way in sorted(best):
        if better(nest, best[way].plan, taken.plan if taken else None):
            taken = best[way]
    assert taken is not None
    return taken


def foam_words(material: Material) -> str:
    return f"{format_length(material.thickness)} {material.kind} foam"


def so_far(material: Material, plan: MaterialPlan | None) -> str:
    """How far a search is, in words."""
    if plan is None:
        return f"{foam_words(material)}: first answer"
    many = len(plan.plan.used)
    return f"{foam_words(material)}: {many} {'sheet' if many == 1 else 'sheets'} so far"
