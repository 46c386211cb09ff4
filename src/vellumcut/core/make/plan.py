"""The order of work: a graph of steps by the rules of precedence, and what it says of contradictions."""

import itertools
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property

import networkx as nx

from vellumcut.core.design.making import OwnOrder
from vellumcut.core.errors import CraftError
from vellumcut.core.make.costume import ACROSS, COSTUME, LAST_WEATHERING, last_weathering
from vellumcut.core.make.hours import Hours, hours_of
from vellumcut.core.make.job import Facts
from vellumcut.core.make.order import step_keys
from vellumcut.core.make.precedence import ORDER_RULES, OrderRule
from vellumcut.core.make.step import Step
from vellumcut.core.make.steps.painting import finish_list, finish_name, group_of, laid_layers


@dataclass(frozen=True)
class Link:
    """first before then. hard: it cannot be set aside."""

    first: str
    then: str
    rule: str
    hard: bool
    reason: str


@dataclass(frozen=True)
class Plan:
    """Steps of one piece in the order of work. set_aside: soft rules that the maker does not keep. gave_way: soft rules
    that contradict what stands above them, in words. trouble: own rules that cannot be kept, and names that mean
    nothing now, in words."""

    keys: tuple[str, ...]
    links: tuple[Link, ...]
    set_aside: tuple[OrderRule, ...] = ()
    gave_way: tuple[str, ...] = ()
    trouble: tuple[str, ...] = ()
    before: dict[str, tuple[Link, ...]] = field(default_factory=dict)


Titles = Mapping[str, str]
"""What steps are called, by their keys."""


def plan_piece(facts: Facts, titles: Titles | None = None) -> Plan:
    """The order of one piece's steps. Raises CraftError when hard rules contradict each other."""
    return order_steps(step_keys(facts), facts, titles=titles)


def order_steps(
    keys: Sequence[str], facts: Facts, rules: Sequence[OrderRule] = ORDER_RULES, titles: Titles | None = None
) -> Plan:
    """Order some steps. rules: of precedence. Raises CraftError when hard rules contradict each other."""
    called = titles or {}
    graph: nx.DiGraph[str] = nx.DiGraph()
    graph.add_nodes_from(keys)
    kept = [r for r in rules if r.holds(facts.schools) and (r.hard or r.key not in facts.making.set_aside)]
    aside = tuple(r for r in rules if not r.hard and r.key in facts.making.set_aside and r.holds(facts.schools))
    links: list[Link] = list(_layer_links(keys, facts))
    links += [x for rule in kept if rule.hard for x in _links(rule, keys, facts)]
    graph.add_edges_from((x.first, x.then) for x in links)
    if not nx.is_directed_acyclic_graph(graph):
        raise CraftError(f"The order contradicts itself: {_circle(graph, links, called)}", "making")
    trouble, own = _own_links(graph, keys, facts.making.own_order, links, called)
    links += own
    gave_way = []
    for rule in (r for r in kept if not r.hard):
        refused = False
        for link in _links(rule, keys, facts):
            if nx.has_path(graph, link.then, link.first):
                refused = True
                continue
            graph.add_edge(link.first, link.then)
            links.append(link)
        if refused:
            above = "your own order" if own else "rules that stand above it"
            gave_way.append(f"“{rule.key}” gives way to {above}. {rule.reason}")
    place = {key: k for k, key in enumerate(_canonical(keys))}
    order = tuple(nx.lexicographical_topological_sort(graph, key=lambda k: place[k]))
    before: dict[str, tuple[Link, ...]] = {}
    for link in links:
        before[link.then] = (*before.get(link.then, ()), link)
    return Plan(order, tuple(links), aside, tuple(gave_way), tuple(trouble), before)


def _canonical(keys: Sequence[str]) -> list[str]:
    """Steps as they would come by their kind alone: from the first rules to the last."""
    return sorted(keys, key=lambda k: STAND.get(_kind(k), 99))


STAND: dict[str, int] = {
    kind: k
    for k, kind in enumerate((
        "number", "cut-paper", "warm-flat", "trace", "open-score", "cut", "keep-pattern", "heat-seal", "stack",
            "bevel", "thin",
        "groove", "form", "late-score", "laminate", "shut", "leave-out", "profile-detail", "shape-detail",
            "trim", "dry-fit",
            "dust-glue", "dart",
        "cup", "sub-fit", "seam", "collar", "surplus", "clay", "cover", "span-trim", "strip-round", "lay-on",
        "tape-segments",
            "segments",
        "closure-bed", "stiffen", "scuff", "vinyl", "ring-cover", "magnet-pocket", "prop", "fit-foot", "smooth", "fill",
        "line-design", "burn", "reseal", "texture", "holder", "temp-rig", "test-fit",
            "rig",
        "mask-metal", "mask-seat", "magnet-out", "tabs", "dust-primer", "coat-prepare", "coat-primer", "dam",
        "coat-smooth",
            "coat-colour",
        "coat-metal", "stitch-paint", "cut-stencil", "stencil", "age-decal", "decal", "coat-weather", "weather",
            "paint-damage", "apart-paint", "touch-up",
            "coat-clear",
        "beds", "dust-beds", "close", "apart-join", "magnet-in", "stitch-thread", "cell", "zip-first", "zip-slide",
        "zip-second", "bodice", "final-fit",
    ))
}  # fmt: skip
"""Which of several steps that could be done is named first."""


def _kind(key: str) -> str:
    return key.partition(":")[0]


def _links(rule: OrderRule, keys: Sequence[str], facts: Facts) -> Iterator[Link]:
    firsts = [k for k in keys if _kind(k) in rule.first]
    thens = [k for k in keys if _kind(k) in rule.then]
    for one, other in itertools.product(firsts, thens):
        if one != other and _bound(rule, one, other, facts):
            yield Link(one, other, rule.key, rule.hard, rule.reason)


def _bound(rule: OrderRule, one: str, other: str, facts: Facts) -> bool:
    if rule.same == "piece":
        return True
    first, then = one.partition(":")[2], other.partition(":")[2]
    if rule.same == "about":
        return first == then
    panels = {d.panel for d in facts.darts if d.name == first}
    return any(s.name == then and panels & set(s.panels) for s in facts.seams)


def _layer_links(keys: Sequence[str], facts: Facts) -> Iterator[Link]:
    """Each layer of a stack after the one beneath it."""
    there = set(keys)
    rows: dict[str, list[str]] = {}
    for about, (finish, number) in laid_layers(facts).items():
        rows.setdefault(finish_name(finish), []).append(f"coat-{group_of(finish, number)}:{about}")
    for stack in rows.values():
        for one, other in itertools.pairwise(r for r in stack if r in there):
            yield Link(one, other, "layer on layer", True, "A layer goes on what lies beneath it, when that is dry.")


OWN_ORDER = "your own order"


def _own_links(
    graph: "nx.DiGraph[str]", keys: Sequence[str], own: Sequence[OwnOrder], links: list[Link], called: Titles
) -> tuple[list[str], list[Link]]:
    """The maker's own rules: those that contradict hard rules are said in words and not kept."""
    trouble: list[str] = []
    kept: list[Link] = []
    for rule in own:
        firsts = [k for k in keys if rule.first in (k, _kind(k))]
        thens = [k for k in keys if rule.then in (k, _kind(k))]
        against = ((one, other) for one in firsts for other in thens if one == other or nx.has_path(graph, other, one))
        if (found := next(against, None)) is not None:
            path = nx.shortest_path(graph, found[1], found[0])
            one, other = (called.get(k, k) for k in found)
            trouble.append(f"“{one}” cannot come before “{other}”: {_chain(path, [*links, *kept], called)}")
            continue
        kept += [Link(one, other, OWN_ORDER, False, "You set it so.") for one in firsts for other in thens]
        graph.add_edges_from((x.first, x.then) for x in kept)
    return trouble, kept


def _chain(path: Sequence[str], links: Sequence[Link], called: Titles) -> str:
    """Why a path stands, rule by rule."""
    reasons = {(x.first, x.then): x for x in links}
    said = [
        f"“{called.get(a, a)}” comes before “{called.get(b, b)}” ({reasons[a, b].reason.rstrip('.')})"
        for a, b in itertools.pairwise(path)
    ]
    return "; ".join(said) + "." if said else "it would come before itself."


def _circle(graph: "nx.DiGraph[str]", links: Sequence[Link], called: Titles) -> str:
    steps = [a for a, *_ in nx.find_cycle(graph)]
    return _chain([*steps, steps[0]], links, called)


@dataclass(frozen=True)
class PlannedPiece:
    """A piece's steps, made and ordered. id: of the piece; name: as it is called."""

    id: int
    name: str
    facts: Facts
    plan: Plan
    steps: dict[str, Step]

    @cached_property
    def ordered(self) -> tuple[Step, ...]:
        return tuple(self.steps[k] for k in self.plan.keys)

    @cached_property
    def hours(self) -> Hours:
        """Of all its steps."""
        return hours_of(self.ordered)

    @cached_property
    def longest(self) -> tuple[float, tuple[str, ...]]:
        """Minutes from the first to the last step with every wait, and the steps on the way."""
        graph: nx.DiGraph[str] = nx.DiGraph()
        graph.add_nodes_from(self.plan.keys)
        for x in self.plan.links:
            graph.add_edge(x.first, x.then, weight=span(self.steps[x.first]))
        path = nx.dag_longest_path(graph)
        return sum(span(self.steps[k]) for k in path), tuple(path)

    @cached_property
    def depth(self) -> dict[str, int]:
        """How many steps must come before each, along the longest way."""
        out: dict[str, int] = {}
        for key in self.plan.keys:
            out[key] = 1 + max((out[x.first] for x in self.plan.before.get(key, ())), default=-1)
        return out

    def needed(self, key: str) -> tuple[Link, ...]:
        """The links into a step that no other one implies, hard ones first."""
        links = {x.first: x for x in sorted(self.plan.before.get(key, ()), key=lambda x: x.hard)}
        implied = {y.first for x in links for y in self.plan.before.get(x, ())}
        return tuple(sorted((x for k, x in links.items() if k not in implied), key=lambda x: not x.hard))


def span(step: Step) -> float:
    """Minutes from beginning a step to what may follow: hands on, between coats, and the wait after."""
    return step.hands_on + (step.coats - 1) * step.between + step.wait


@dataclass(frozen=True)
class CostumeLink:
    """A step of one piece, or of the costume (piece 0), before a step of another."""

    first_piece: int
    first: str
    then_piece: int
    then: str
    reason: str


def costume_steps(pieces: Sequence[PlannedPiece]) -> list[Step]:
    """Steps of the whole costume, in their order."""
    templates = [p.facts.template for p in pieces if p.facts.template]
    steps = [c.step for c in COSTUME if pieces and c.applies(templates)]
    last = {p.name: [f.stack.layers[-1].kind for f in finish_list(p.facts) if f.stack.layers] for p in pieces}
    mirrors = [name for name, kinds in last.items() if "mirror chrome" in kinds]
    return [last_weathering(s, mirrors, len(pieces)) if s.key == LAST_WEATHERING else s for s in steps]


OVER = (
    ("cut", "trace", "its pattern is that thick farther out, so what is beneath is settled first."),
    ("dry-fit", "dry-fit", "it is fitted on what that turned out to be."),
)
"""What of a piece comes before what of one that lies on it, and why."""


def _on_each_other(pieces: Sequence[PlannedPiece]) -> Iterator[CostumeLink]:
    """What lies under is closed before what lies over it is cut; what stands on a piece is made before it is glued
    there."""
    named = {p.name: p for p in pieces}
    for p in pieces:
        for name in p.facts.over:
            lower = named.get(name)
            for first, then, told in OVER:
                if lower is not None and first in lower.steps and then in p.steps:
                    yield CostumeLink(lower.id, first, p.id, then, f"{p.name} lies on {name}: {told}")
        for detail in p.facts.making.details:
            other, foot = named.get(detail.of), f"fit-foot:{detail.key}"
            if other is not None and "dry-fit" in other.steps and foot in p.steps:
                told = f"{detail.of} is closed before it is stood on {p.name}."
                yield CostumeLink(other.id, "dry-fit", p.id, foot, told)


def costume_links(pieces: Sequence[PlannedPiece], own: Sequence[Step]) -> list[CostumeLink]:
    """What binds pieces to each other and to the costume's own steps. Soft, but for what the costume ends in."""
    out = []
    for rule in ACROSS:
        for one, other in itertools.product(pieces, pieces):
            if one.id == other.id or one.facts.template not in rule.first or other.facts.template not in rule.then:
                continue
            if rule.first_kind in one.steps and rule.then_kind in other.steps:
                out.append(CostumeLink(one.id, rule.first_kind, other.id, rule.then_kind, rule.reason))
    out += _on_each_other(pieces)
    have = {s.key for s in own}
    for p in pieces:
        if "trousers" in have and p.facts.template and p.facts.part in ("thigh", "knee", "lower leg", "foot"):
            out.append(
                CostumeLink(
                    0, "trousers", p.id, "dry-fit", "Leg plates fitted over bare legs do not close over trousers."
                )
            )
        out.append(
            CostumeLink(p.id, "keep-pattern", 0, "clear-away", "A pattern that is not put by is gone with the paper.")
        )
        out.append(CostumeLink(p.id, "final-fit", 0, "assemble", "A piece that is not done is not assembled."))
    ends = [k for k in ("assemble", "last-weathering", "wear") if k in have]
    out += [CostumeLink(0, a, 0, b, "One after the other, on the whole costume.") for a, b in itertools.pairwise(ends)]
    return out
