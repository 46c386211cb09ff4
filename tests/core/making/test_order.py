"""The order of work: every rule of it, alone and on random pieces and costumes, schools and tools."""

import itertools
from dataclasses import replace

import networkx as nx
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from tests.core.pieces_to_make import inked
from tests.depth import often
from vellumcut.core.design.finish import FinishLayer, Stack, ZoneFinish
from vellumcut.core.design.making import Detail, Making, OwnOrder, Schools, SeamSurface
from vellumcut.core.errors import CraftError
from vellumcut.core.finish.recipes import RECIPES
from vellumcut.core.ink.library.table import TEMPLATES
from vellumcut.core.make.costume import ACROSS
from vellumcut.core.make.job import Facts
from vellumcut.core.make.order import step_keys
from vellumcut.core.make.owned import Owned
from vellumcut.core.make.plan import PlannedPiece, costume_links, costume_steps, order_steps, plan_piece
from vellumcut.core.make.precedence import BY_KEY, ORDER_RULES, OrderRule
from vellumcut.core.make.progress import held_back
from vellumcut.core.make.schools import SCHOOLS
from vellumcut.core.make.steps.details import DETAIL_STEPS

FRONTS = ("plain", "cups", "centre ridge")
KINDS = sorted(DETAIL_STEPS)
PRIME = ZoneFinish(
    stack=Stack(name="own", layers=(FinishLayer(kind="rubbery primer"), FinishLayer(kind="acrylic wash")))
)


@st.composite
def pieces(draw) -> Facts:
    """A piece of any template, made in any way, with anything on it."""
    template = draw(st.sampled_from(sorted(TEMPLATES)))
    facts = inked(template, **({"front": draw(st.sampled_from(FRONTS))} if template == "breastplate" else {}))
    schools = Schools(**{k: draw(st.sampled_from(sorted(s.options))) for k, s in SCHOOLS.items()})
    kinds = draw(st.lists(st.sampled_from(KINDS), max_size=5))
    details = tuple(
        Detail(key=f"d{n}", kind=k, name=f"{k} {n}", apart=draw(st.booleans()), covers=draw(st.booleans()))
        for n, k in enumerate(kinds)
    )
    recipes = draw(st.lists(st.sampled_from(RECIPES), max_size=2))
    finishes = tuple(ZoneFinish(stack=r.giving, zones=(str(n),)) for n, r in enumerate(recipes, 1))
    soft = sorted(r.key for r in ORDER_RULES if not r.hard)
    making = Making(
        details=details,
        finishes=(*finishes, *([PRIME] if draw(st.booleans()) else [])),
        set_aside=tuple(draw(st.lists(st.sampled_from(soft), max_size=3, unique=True))),
        seams=tuple(
            SeamSurface(name=n, way=draw(st.sampled_from(("ground", "covered", "design")))) for n in facts.joints
        ),
    )
    owned = Owned(protection=tuple(draw(st.sets(st.sampled_from(("vapour mask", "gloves"))))))
    ways = draw(st.sets(st.sampled_from(("groove", "opened score", "late score", "drum", "crease"))))
    return replace(
        facts,
        schools=schools,
        making=making,
        owned=owned,
        ways=frozenset(ways),
        layered=draw(st.sampled_from((None, "bent", "alike"))),
        thinned=draw(st.booleans()),
    )


def kind(key: str) -> str:
    return key.split(":", maxsplit=1)[0]


def binds(rule: OrderRule, one: str, other: str, facts: Facts) -> bool:
    """Whether a rule puts one step before another, told again from the rule's own words."""
    if kind(one) not in rule.first or kind(other) not in rule.then or one == other:
        return False
    if any(getattr(facts.schools, name) != way for name, way in rule.schools.items()):
        return False
    about, of = (k.split(":", 1)[1] if ":" in k else "" for k in (one, other))
    if rule.same == "about":
        return about == of
    if rule.same == "panel":
        panels = {d.panel for d in facts.darts if d.name == about}
        return any(s.name == of and panels & set(s.panels) for s in facts.seams)
    return True


@settings(max_examples=often(1500), deadline=None, suppress_health_check=list(HealthCheck))
@given(pieces())
def test_every_hard_rule_is_kept_and_no_step_names_what_is_not_there(facts):
    plan = plan_piece(facts)
    assert sorted(plan.keys) == sorted(step_keys(facts))
    at = {key: n for n, key in enumerate(plan.keys)}
    gave = " ".join(plan.gave_way)
    by_kind: dict[str, list[str]] = {}
    for key in plan.keys:
        by_kind.setdefault(kind(key), []).append(key)
    for rule in ORDER_RULES:
        if not rule.hard and (rule.key in facts.making.set_aside or f"“{rule.key}”" in gave):
            continue
        firsts, thens = ([k for x in kinds for k in by_kind.get(x, ())] for kinds in (rule.first, rule.then))
        for one, other in itertools.product(firsts, thens):
            assert not binds(rule, one, other, facts) or at[one] < at[other], rule.key
    assert {r.key for r in plan.set_aside} == {
        k for k in facts.making.set_aside if all(getattr(facts.schools, n) == w for n, w in BY_KEY[k].schools.items())
    }
    seams, darts = {s.name for s in facts.seams}, {d.name for d in facts.darts}
    for key in plan.keys:
        name = key.partition(":")[2]
        assert kind(key) not in ("seam", "cup") or name in seams
        assert kind(key) != "dart" or name in darts
        assert kind(key) != "form" or int(name) in facts.panels
    kinds = {kind(k) for k in plan.keys}
    assert ("close" in kinds) == facts.strapped
    assert not ({"fill", "clay", "cover", "line-design"} & kinds) or facts.glued
    assert ("dam" in kinds) == (facts.schools.liner == "full" or (facts.glued and facts.schools.liner != "none"))
    assert ("bodice" in kinds) == (facts.schools.liner == "bodice")
    assert "clay" not in kinds or facts.shown
    assert "closure-bed" not in kinds or facts.strapped
    assert "clay" not in kinds or facts.schools.glue == "hot glue" or not facts.owned.cements


PUT_ON = {
    "trim", "span-trim", "strip-round", "lay-on", "segments", "collar", "apart-join", "magnet-in", "stitch-paint",
    "stitch-thread", "vinyl", "decal", "ring-cover", "zip-second", "holder", "cell", "mask-metal",
    "pivot", "cord", "support", "pad", "texture", "stencil", "paint-damage",
}  # fmt: skip
PAINTED = ("coat-primer", "coat-colour", "coat-metal", "coat-clear")


@settings(max_examples=often(1500), deadline=None, suppress_health_check=list(HealthCheck))
@given(pieces())
def test_what_is_shaped_is_put_on_and_what_paint_would_spoil_comes_after_it(facts):
    order = plan_piece(facts).keys
    at = {key: n for n, key in enumerate(order)}
    coats = [at[k] for k in order if kind(k) in PAINTED]
    for detail in facts.making.details:
        own = [k for k in order if k.partition(":")[2] == detail.key]
        put_on = [k for k in own if kind(k) in PUT_ON]
        assert put_on, f"{detail.kind}, apart {detail.apart}: {own}"
        assert at[own[-1]] == at[put_on[-1]]
        after = {"zip-first", "zip-slide", "zip-second", "apart-join", "magnet-in", "stitch-thread", "cell"}
        for key in own:
            assert kind(key) not in after or not coats or at[key] > max(coats)
        if detail.kind in ("gem", "sliding plate", "hanging plate"):
            assert [kind(k) for k in put_on] == ["apart-join"]
        if detail.kind == "gem":
            assert "shape-detail" not in map(kind, own)
            assert "apart-paint" not in map(kind, own)
            assert at[f"mask-seat:{detail.key}"] < min(coats, default=len(order))
    own_order = " ".join(f"{x.first} {x.then}" for x in facts.making.own_order)
    for one, then in (("dry-fit", "trim"), ("dust-glue", "trim"), ("cover", "lay-on"), ("cover", "segments")):
        pairs = itertools.product(*([k for k in order if kind(k) == x] for x in (one, then)))
        assert all(at[a] < at[b] for a, b in pairs), (one, then, own_order)
    if facts.schools.liner == "bodice":
        assert at["bodice"] > max(coats, default=0)
        assert order[-1] == "final-fit"


@settings(max_examples=often(1500), deadline=None, suppress_health_check=list(HealthCheck))
@given(st.lists(pieces(), min_size=1, max_size=3))
def test_any_costume_can_be_made_to_its_end(drawn):
    """Whatever is worn together: what pieces wait for closes no circle, and all of it ends in being worn."""
    made = [PlannedPiece(n, f"{n}", f, plan_piece(f), dict.fromkeys(step_keys(f))) for n, f in enumerate(drawn, 1)]
    own = costume_steps(made)
    links = costume_links(made, own)
    there = {(p.id, k) for p in made for k in p.plan.keys} | {(0, s.key) for s in own}
    graph = nx.DiGraph()
    graph.add_nodes_from(there)
    graph.add_edges_from(((p.id, x.first), (p.id, x.then)) for p in made for x in p.plan.links)
    graph.add_edges_from(((x.first_piece, x.first), (x.then_piece, x.then)) for x in links)
    assert set(graph) == there, "no link names a step that is not there"
    assert nx.is_directed_acyclic_graph(graph)
    assert nx.ancestors(graph, (0, "wear")) >= {(p.id, k) for p in made for k in ("cut", "dry-fit", "final-fit")}


# Section 2 of the rule book of making: what comes before what, and whether it may be set aside.
WRITTEN = (
    ("number", "cut-paper", True),
    ("keep-pattern", "clear-away", True),
    ("warm-flat", "trace", False),
    ("trace", "cut", True),
    ("open-score", "cut", False),
    ("open-score", "coat-primer:rest.flexible primer", True),
    ("late-score", "coat-primer:rest.flexible primer", True),
    ("groove", "form:1", True),
    ("form:1", "shut", True),
    ("form:1", "seam:s", False),
    ("form:1", "laminate", True),
    ("stack", "form:1", False),
    ("dry-fit", "seam:s", True),
    ("trim:t", "seam:s", False),
    ("seam:s", "span-trim:t", True),
    ("trim:t", "smooth", False),
    ("thin", "trim:t", True),
    ("shape-detail:t", "lay-on:t", False),
    ("closure-bed:t", "lay-on:t", True),
    ("dart:d", "cup:c", True),
    ("cup:c", "collar:k", False),
    ("cup:c", "sub-fit", True),
    ("sub-fit", "collar:k", True),
    ("collar:k", "surplus", False),
    ("seam:s", "tape-segments:t", True),
    ("tape-segments:t", "segments:t", True),
    ("vinyl:v", "coat-colour:rest.acrylic", True),
    ("cover", "fill", False),
    ("dust-glue", "seam:s", True),
    ("dust-primer", "coat-primer:rest.flexible primer", True),
    ("dust-beds", "close", True),
    ("heat-seal", "bevel", False),
    ("smooth", "reseal", False),
    ("reseal", "coat-primer:rest.flexible primer", True),
    ("reseal", "beds", False),
    ("coat-primer:rest.flexible primer", "dam", False),
    ("dam", "coat-colour:rest.acrylic", False),
    ("dam", "close", False),
    ("lay-on:t", "coat-primer:rest.flexible primer", False),
    ("coat-clear:rest.flexible clear", "apart-join:t", True),
    ("apart-paint:t", "apart-join:t", True),
    ("tabs", "coat-primer:rest.flexible primer", True),
    ("mask-metal:t", "coat-primer:rest.flexible primer", True),
    ("stitch-paint:t", "coat-weather:rest.acrylic wash", True),
    ("coat-clear:rest.flexible clear", "stitch-thread:t", True),
    ("scuff:t", "vinyl:t", True),
    ("scuff:t", "coat-colour:rest.acrylic", True),
    ("age-decal:t", "decal:t", True),
    ("smooth", "texture:t", True),
    ("reseal", "texture:t", True),
    ("texture:t", "coat-primer:rest.flexible primer", True),
    ("cut-stencil:t", "stencil:t", True),
    ("coat-colour:rest.acrylic", "stencil:t", False),
    ("stencil:t", "coat-weather:rest.acrylic wash", False),
    ("stencil:t", "coat-clear:rest.flexible clear", False),
    ("paint-damage:t", "coat-clear:rest.flexible clear", False),
    ("magnet-pocket:t", "magnet-out:t", True),
    ("magnet-out:t", "coat-primer:rest.flexible primer", True),
    ("coat-clear:rest.flexible clear", "magnet-in:t", True),
    ("temp-rig", "test-fit", False),
    ("test-fit", "coat-primer:rest.flexible primer", True),
    ("coat-clear:rest.flexible clear", "close", False),
    ("prop:t", "holder:t", True),
    ("leave-out:t", "ring-cover:t", True),
    ("stiffen:t", "vinyl:t", True),
    ("zip-first:t", "zip-slide:t", True),
    ("zip-slide:t", "zip-second:t", False),
    ("weather:rest.rust", "coat-clear:rest.flexible clear", False),
    ("beds", "dust-beds", True),
)
TWO = Facts("torso", "breastplate", True, (1, 2), (), (), False)


@pytest.mark.parametrize(("one", "other", "hard"), WRITTEN)
def test_each_written_rule_stands_alone(one, other, hard):
    """Two steps and nothing else: the rule itself must order them, whichever is named first, and no other row may."""
    if other == "clear-away":
        (link,) = (x for x in costume_links(*suit("bracer")) if x.then == other)
        assert (link.first, link.then_piece) == (one, 0)
        return
    cup = next(f for f in (inked("breastplate", front="cups"),))
    facts = replace(TWO, darts=cup.darts, seams=cup.seams)
    one, other = (k.replace("dart:d", "dart:cup dart 1").replace("cup:c", "cup:cup") for k in (one, other))
    plan = order_steps([other, one], facts)
    assert plan.keys == (one, other)
    rules = [x for x in plan.links if (x.first, x.then) == (one, other)]
    assert any(x.hard for x in rules) == hard
    assert all(len(x.reason) > 20 for x in rules)
    # Without the rows that say so, nothing says so.
    fewer = [r for r in ORDER_RULES if r.key not in {x.rule for x in rules}]
    assert not order_steps([other, one], facts, fewer).links


def test_schools_turn_the_order_round():
    masked = Schools(rigging="before paint, masked")
    early = replace(TWO, schools=masked)
    assert order_steps(["coat-primer:rest.flexible primer", "close"], early).keys == (
        "close",
        "coat-primer:rest.flexible primer",
    )
    late = replace(TWO, schools=Schools(trims="all after assembly"))
    assert order_steps(["trim:t", "seam:s"], late).keys == ("seam:s", "trim:t")
    assert order_steps(["trim:t", "seam:s"], TWO).keys == ("trim:t", "seam:s")


def test_a_soft_rule_set_aside_is_listed_and_a_hard_one_cannot_be():
    facts = inked("breastplate", front="cups")
    free = replace(facts, making=Making(set_aside=("curve before seams", "taped before glue")))
    plan = plan_piece(free)
    assert [r.key for r in plan.set_aside] == ["curve before seams"]
    at = {k: n for n, k in enumerate(plan.keys)}
    assert at["dry-fit"] < at["cup:cup"], "trying on before glue is hard"


def test_contradictions_are_said_in_words():
    facts = inked("breastplate", front="cups")
    own = Making(own_order=(OwnOrder(first="coat-clear", then="cut"), OwnOrder(first="dart", then="form:2")))
    plan = plan_piece(replace(facts, making=own))
    assert len(plan.trouble) == 1
    assert "“coat-clear:rest.flexible clear” cannot come before “cut”" in plan.trouble[0]
    assert "There is no part yet to work on" in plan.trouble[0], "each rule on the way is told"
    assert any("“curve before seams” gives way to your own order" in w for w in plan.gave_way)
    at = {k: n for n, k in enumerate(plan.keys)}
    assert at["dart:cup dart 1"] < at["form:2"]
    named = plan_piece(replace(facts, making=own), {"cut": "Cut out", "heat-seal": "Seal it"})
    assert "“Cut out” comes before “Seal it” (" in named.trouble[0], "steps are called as the maker knows them"
    itself = plan_piece(replace(facts, making=Making(own_order=(OwnOrder(first="form", then="form:2"),))))
    assert "would come before itself" in itself.trouble[0]
    odd = (*ORDER_RULES, OrderRule("backwards", ("cut",), ("trace",), True, "For once."))
    with pytest.raises(CraftError, match=r"contradicts itself: .*For once"):
        order_steps(["trace", "cut"], TWO, odd)


def suit(*templates: str) -> tuple[list[PlannedPiece], list]:
    made = [
        PlannedPiece(n, t, inked(t), plan_piece(inked(t)), dict.fromkeys(step_keys(inked(t))))
        for n, t in enumerate(templates, 1)
    ]
    return made, costume_steps(made)


def test_pieces_wait_for_pieces():
    made, own = suit("belt", "tasset", "cuisse", "pauldron", "breastplate", "gorget")
    links = {(x.first_piece, x.first, x.then_piece, x.then) for x in costume_links(made, own)}
    assert (1, "test-fit", 2, "test-fit") in links, "hip plates after the belt"
    assert (0, "trousers", 3, "dry-fit") in links, "leg plates after the trousers"
    assert (5, "test-fit", 6, "test-fit") in links, "the gorget over the breastplate"
    assert (5, "test-fit", 4, "test-fit") in links, "shoulders after what they hang on moves"
    assert all((n, "final-fit", 0, "assemble") in links for n in range(1, 7))
    assert (0, "last-weathering", 0, "wear") in links
    assert {r.key for r in ACROSS} >= {"hips after belt", "shoulders after they move"}
    names = {p.id: p.name for p in made}
    titles = {(x.first_piece, x.first): "Test fit" for x in costume_links(made, own)}
    done = {(1, "test-fit"): False, (2, "test-fit"): False}
    (words,) = (b.words for b in held_back(costume_links(made, own), names, titles, done))
    assert words.startswith("belt: Test fit.")
    bare, alone = suit("bracer")
    assert "trousers" not in {s.key for s in alone}
    assert "last-weathering" not in {s.key for s in alone}
    assert bare
