"""The order of work: every rule of it, on random costumes and schools; what steps measure; how far a piece is."""

import itertools
import random

import networkx as nx
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from tests.bodies import SHELLS, WEARER
from vellumcut.core.cast.halves import worn_tube
from vellumcut.core.caution.cautions import CAUTIONS
from vellumcut.core.errors import CraftError
from vellumcut.core.finish.recipes import RECIPES
from vellumcut.core.ink.finishwork import FinishLayer, Stack, ZoneFinish
from vellumcut.core.ink.foamwork import EdgeWork, FoamWork, Layer
from vellumcut.core.ink.library.table import TEMPLATES, starter_design
from vellumcut.core.ink.makework import Detail, Making, OwnOrder, Schools, SeamSurface
from vellumcut.core.ink.stage import ink_piece
from vellumcut.core.layout.pattern import drawn_sides, pattern_piece
from vellumcut.core.make.costume import ACROSS
from vellumcut.core.make.details import DETAIL_STEPS
from vellumcut.core.make.glue import CementRoom
from vellumcut.core.make.glue_choice import choose_glue
from vellumcut.core.make.job import Facts, Job, facts_of
from vellumcut.core.make.order import build_steps, step_keys
from vellumcut.core.make.owned import Owned
from vellumcut.core.make.plan import Plan, PlannedPiece, costume_links, costume_steps, order_steps, plan_piece
from vellumcut.core.make.precedence import BY_KEY, ORDER_RULES, OrderRule
from vellumcut.core.make.progress import Tick, batches_of, became_wrong, carried, held_back, states_of
from vellumcut.core.make.schools import SCHOOLS
from vellumcut.core.paces import PACES, Tempo, Timed, learned_from
from vellumcut.core.rig.straps import plan_rig

BASE: dict[str, Facts] = {}


def inked(template: str, **choices) -> Facts:
    """What a piece of this template has on the usual body."""
    key = f"{template}{sorted(choices.items())}"
    if key not in BASE:
        design = starter_design(template).model_copy(update={"choices": choices})
        side, _ = drawn_sides(WEARER, design)[0]
        BASE[key] = facts_of(ink_piece(worn_tube(WEARER, TEMPLATES[template].part, side, design.halves, {}), design))
    return BASE[key]


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
    return Facts(**{
        **facts.__dict__, "schools": schools, "making": making, "owned": owned,
        "ways": frozenset(draw(st.sets(st.sampled_from(("groove", "opened score", "late score", "drum", "crease"))))),
        "layered": draw(st.sampled_from((None, "bent", "alike"))), "thinned": draw(st.booleans()),
    })  # fmt: skip


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


@settings(max_examples=500, deadline=None, suppress_health_check=list(HealthCheck))
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
    assert not ({"dam", "fill", "clay", "cover", "line-design"} & kinds) or facts.glued
    assert "clay" not in kinds or facts.schools.glue == "hot glue" or not facts.owned.cements


@settings(max_examples=500, deadline=None, suppress_health_check=list(HealthCheck))
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
    ("number", "cut-paper", True), ("keep-pattern", "clear-away", True), ("warm-flat", "trace", False),
    ("trace", "cut", True), ("open-score", "cut", False), ("open-score", "coat-primer:rest.flexible primer", True),
    ("late-score", "coat-primer:rest.flexible primer", True), ("groove", "form:1", True), ("form:1", "shut", True),
    ("form:1", "seam:s", False), ("form:1", "laminate", True), ("stack", "form:1", False), ("dry-fit", "seam:s", True),
    ("trim:t", "seam:s", False), ("seam:s", "span-trim:t", True), ("trim:t", "smooth", False),
    ("thin", "trim:t", True), ("shape-detail:t", "lay-on:t", False), ("closure-bed:t", "lay-on:t", True),
    ("dart:d", "cup:c", True), ("cup:c", "collar:k", False), ("cup:c", "sub-fit", True), ("sub-fit", "collar:k", True),
    ("collar:k", "surplus", False),
    ("seam:s", "tape-segments:t", True), ("tape-segments:t", "segments:t", True),
    ("vinyl:v", "coat-colour:rest.acrylic", True), ("cover", "fill", False), ("dust-glue", "seam:s", True),
    ("dust-primer", "coat-primer:rest.flexible primer", True), ("dust-beds", "close", True), ("heat-seal", "bevel", False),
    ("smooth", "reseal", False), ("reseal", "coat-primer:rest.flexible primer", True), ("reseal", "beds", False),
    ("coat-primer:rest.flexible primer", "dam", False), ("dam", "coat-colour:rest.acrylic", False), ("dam", "close", False),
    ("lay-on:t", "coat-primer:rest.flexible primer", False), ("coat-clear:rest.flexible clear", "apart-join:t", True), ("apart-paint:t", "apart-join:t", True),
    ("tabs", "coat-primer:rest.flexible primer", True), ("mask-metal:t", "coat-primer:rest.flexible primer", True), ("stitch-paint:t", "coat-weather:rest.acrylic wash", True),
    ("coat-clear:rest.flexible clear", "stitch-thread:t", True), ("scuff:t", "vinyl:t", True), ("scuff:t", "coat-colour:rest.acrylic", True),
    ("age-decal:t", "decal:t", True), ("magnet-pocket:t", "magnet-out:t", True), ("magnet-out:t", "coat-primer:rest.flexible primer", True),
    ("coat-clear:rest.flexible clear", "magnet-in:t", True), ("temp-rig", "test-fit", False), ("test-fit", "coat-primer:rest.flexible primer", True),
    ("coat-clear:rest.flexible clear", "close", False), ("prop:t", "holder:t", True), ("leave-out:t", "ring-cover:t", True),
    ("stiffen:t", "vinyl:t", True), ("zip-first:t", "zip-slide:t", True), ("zip-slide:t", "zip-second:t", False),
    ("weather:rest.rust", "coat-clear:rest.flexible clear", False), ("beds", "dust-beds", True),
)  # fmt: skip
TWO = Facts("torso", "breastplate", True, (1, 2), (), (), False)


@pytest.mark.parametrize(("one", "other", "hard"), WRITTEN)
def test_each_written_rule_stands_alone(one, other, hard):
    """Two steps and nothing else: the rule itself must order them, whichever is named first, and no other row may."""
    if other == "clear-away":
        (link,) = (x for x in costume_links(*suit("bracer")) if x.then == other)
        assert (link.first, link.then_piece) == (one, 0)
        return
    cup = next(f for f in (inked("breastplate", front="cups"),))
    facts = Facts(**{**TWO.__dict__, "darts": cup.darts, "seams": cup.seams})
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
    early = Facts(**{**TWO.__dict__, "schools": masked})
    assert order_steps(["coat-primer:rest.flexible primer", "close"], early).keys == (
        "close",
        "coat-primer:rest.flexible primer",
    )
    late = Facts(**{**TWO.__dict__, "schools": Schools(trims="all after assembly")})
    assert order_steps(["trim:t", "seam:s"], late).keys == ("seam:s", "trim:t")
    assert order_steps(["trim:t", "seam:s"], TWO).keys == ("trim:t", "seam:s")


def test_a_soft_rule_set_aside_is_listed_and_a_hard_one_cannot_be():
    facts = inked("breastplate", front="cups")
    free = Facts(**{**facts.__dict__, "making": Making(set_aside=("curve before seams", "taped before glue"))})
    plan = plan_piece(free)
    assert [r.key for r in plan.set_aside] == ["curve before seams"]
    at = {k: n for n, k in enumerate(plan.keys)}
    assert at["dry-fit"] < at["cup:cup"], "trying on before glue is hard"


def test_contradictions_are_said_in_words():
    facts = inked("breastplate", front="cups")
    own = Making(own_order=(OwnOrder(first="coat-clear", then="cut"), OwnOrder(first="dart", then="form:2")))
    plan = plan_piece(Facts(**{**facts.__dict__, "making": own}))
    assert len(plan.trouble) == 1
    assert "“coat-clear” cannot come before “cut”" in plan.trouble[0]
    assert "There is no part yet to work on" in plan.trouble[0], "each rule on the way is told"
    assert any("“curve before seams” gives way to your own order" in w for w in plan.gave_way)
    at = {k: n for n, k in enumerate(plan.keys)}
    assert at["dart:cup dart 1"] < at["form:2"]
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


def job_for(design, **more) -> Job:
    pattern = pattern_piece(WEARER, design, "Piece", "Build", 12.0)
    side = pattern.panels[0].side
    return Job(pattern, (plan_rig(pattern.surfaces[side], design, side),), **more)


@pytest.mark.parametrize("template", sorted(TEMPLATES))
def test_steps_measure_what_the_pattern_measures(template):
    luck = random.Random(template)
    for _ in range(2):
        schools = {k: luck.choice(sorted(s.options)) for k, s in SCHOOLS.items()}
        edges = (EdgeWork(name="no such edge", shape="thinned"),) if luck.random() < 0.3 else ()
        change = {
            "making": Making(schools=schools), "foam_work": FoamWork(edges=edges),
            "choices": {"front": "cups"} if template == "breastplate" else {},
            "layers": (Layer(thickness=3), Layer(thickness=3)) if luck.random() < 0.3 else (),
        }  # fmt: skip
        if template in SHELLS:
            change["back"] = luck.choice(("open", "closed"))
        job = job_for(starter_design(template).model_copy(update=change))
        check_measures(job, {s.key: s for s in build_steps(job)})


def check_measures(job: Job, steps: dict) -> None:
    pattern, facts = job.pattern, job.facts
    assert list(steps) == step_keys(facts)
    on_body = [
        (s.name, s.on_body * p.copies / (2 if s.mirrored else 1)) for p in pattern.panels if p.layer.number == 1
        for s in p.flat.seams if s.kind != "opening"
    ]  # fmt: skip
    assert set(facts.joints) == {name for name, _ in on_body}
    for name in facts.joints:
        step = next(s for k, s in steps.items() if k in (f"seam:{name}", f"cup:{name}", f"dart:{name}"))
        by_hand = sum(mm for n, mm in on_body if n == name)
        assert {v.word: v.amount for v in step.measures}["edge"] == pytest.approx(by_hand)
        assert step.values[0].amount == pytest.approx(2 * by_hand)
    ground = sum(mm for n, mm in on_body if n in facts.surfaced("ground"))
    assert sum(v.amount for v in steps["smooth"].measures) == pytest.approx(ground)
    assert steps["cut"].values[0].amount == pytest.approx(sum(p.flat.outline_length * p.copies for p in pattern.panels))
    face = sum(p.flat.area * p.copies for p in pattern.panels if p.layer.number == p.layer.count)
    coats = [s for k, s in steps.items() if k.startswith("coat-")]
    assert coats
    for step in coats:
        assert {v.word: v.amount for v in step.measures}["area"] / face in (pytest.approx(1), pytest.approx(2))
    assert sum(steps[f"form:{n}"].measures[0].amount for n in facts.panels) == pytest.approx(
        sum(p.flat.area * p.copies for p in pattern.panels if p.layer.number == 1)
    )
    check_words(facts, steps)


def check_words(facts: Facts, steps: dict) -> None:
    told = [(s, s.inspection.question if s.inspection else "") for s in steps.values()]
    everything = " ".join(f"{s.title} {s.how} {s.formula.format(*(v.amount for v in s.values))} {q}" for s, q in told)
    assert "{" not in everything
    # A rim step tells of seams only where there are some; the closing seam only where it is glued.
    assert ("seam" in everything.lower()) == bool(facts.seams or facts.darts)
    assert ("dart" in everything.lower()) == bool(facts.darts)
    assert "trim's edge" not in everything
    assert ("closing" in everything) == (
        facts.template in SHELLS and (facts.joins or (facts.strapped and "inside the closing" in everything))
    )
    for step in steps.values():
        assert step.minutes >= 0
        assert len(step.reason) > 20
        assert set(step.cautions) <= set(CAUTIONS)
        assert all(v.amount > 0 for v in step.values), step.key
        assert step.work in PACES


def test_times_follow_paces_typed_and_learned():
    job = job_for(starter_design("bracer"))
    cut = next(s for s in build_steps(job) if s.key == "cut")
    assert cut.minutes == pytest.approx(job.pattern.cut_length / 300)
    timed = [Timed("cut", 10, took) for took in (6, 5, 7, 6, 40)]
    assert learned_from(timed[:4]) == {}, "four are luck"
    learned = learned_from(timed)
    assert learned == {"cut": pytest.approx(0.6)}, "one long break does not spoil it"
    quick = next(s for s in build_steps(job_for(starter_design("bracer"), tempo=Tempo({}, learned))) if s.key == "cut")
    assert quick.minutes == pytest.approx(cut.minutes)
    assert quick.hands_on == pytest.approx(0.6 * cut.minutes)
    typed = next(
        s
        for s in build_steps(job_for(starter_design("bracer"), tempo=Tempo({"cut": 150.0}, learned)))
        if s.key == "cut"
    )
    assert typed.hands_on == pytest.approx(2 * cut.minutes), "a pace that was typed is believed"


def test_glue_follows_joint_load_gap_and_what_the_maker_owns():
    room, schools, all_of_it = CementRoom(), Schools(), Owned()
    seam = choose_glue("butt seam", "foam", schools, all_of_it, room)
    assert (seam.glue, seam.coats, seam.clamp) == ("contact cement", 1, 0)
    anchor = choose_glue("anchor", "cloth", schools, all_of_it, room)
    assert (anchor.coats, anchor.clamp) == (3, 720)
    assert choose_glue("vinyl", "vinyl", schools, all_of_it, room).ready == pytest.approx(2 * seam.ready)
    assert choose_glue("butt seam", "foam", schools, all_of_it, room, gap=3.0).glue == "hot glue"
    assert choose_glue("small part", "foam", schools, all_of_it, room).glue == "instant glue"
    bare = Owned(protection=("gloves",))
    poor = choose_glue("butt seam", "foam", schools, bare, room)
    assert (poor.glue, poor.fill, poor.ready) == ("hot glue", True, 0)
    assert "no vapour mask" in poor.reason
    assert "sew it" in choose_glue("anchor", "cloth", schools, bare, room).warning
    assert "cracks" in choose_glue("dart", "foam", schools, all_of_it, room, own="instant glue").warning
    keys = step_keys(Facts(**{**inked("breastplate", front="cups").__dict__, "owned": bare}))
    assert "clay" in keys
    assert "fill" not in keys


def planned(design, **more) -> PlannedPiece:
    job = job_for(design, **more)
    return PlannedPiece(1, "Piece", job.facts, plan_piece(job.facts), {s.key: s for s in build_steps(job)})


CUPS = starter_design("breastplate").model_copy(update={"choices": {"front": "cups"}})


def test_what_can_be_done_now_what_waits_and_what_is_blocked():
    piece, now = planned(CUPS), 1_000_000.0
    states = states_of(piece, {}, Owned(), now)
    ready = [k for k, s in states.items() if s.state == "ready"]
    assert ready[0] == "number"
    assert not {"cut", "cup:cup", "test-fit", "coat-primer:rest.flexible primer"} & set(ready)
    assert next(x.first for x in states["cup:cup"].blocked_by if x.hard) in (
        "dry-fit",
        "dust-glue",
        "dart:cup dart 1",
        "dart:cup dart 2",
    )
    done = {
        k: Tick(k, now - 60, title=k)
        for k in piece.plan.keys
        if piece.depth[k] < piece.depth["coat-colour:rest.acrylic"]
    }
    waits = states_of(piece, done, Owned(), now)["coat-colour:rest.acrylic"]
    assert waits.state == "waiting"
    assert waits.until == pytest.approx(4 * 3600 - 60)
    set_back = states_of(piece, done, Owned(), now - 7200)["coat-colour:rest.acrylic"]
    assert set_back.until == pytest.approx(4 * 3600), "a clock that was set back ends no wait early"
    one = {**done, "coat-colour:rest.acrylic": Tick("coat-colour:rest.acrylic", parts={"1": now - 10})}
    second = states_of(piece, one, Owned(), now + 4 * 3600)["coat-colour:rest.acrylic"]
    assert (second.coats_done, second.state) == (1, "ready")
    assert states_of(piece, one, Owned(), now)["coat-colour:rest.acrylic"].until == pytest.approx(4 * 3600 - 60)
    asked = {"number": Tick("number", answer="no")}
    assert states_of(piece, asked, Owned(), now)["number"].state == "mend"
    sprayed = CUPS.model_copy(update={"making": Making(schools={"primer": "sprayed"})})
    poor = Owned(kit=("heat gun",), dry_days=False)
    lacks = states_of(planned(sprayed), {}, poor, now)["coat-primer:rest.rubbery primer"].lacks
    assert "spray cans" in lacks
    assert "a booth or a dry day" in lacks


def test_done_stays_done_and_what_became_wrong_is_pointed_out():
    collar = Detail(key="collar", kind="collar", name="collar", length=300.0)
    first = planned(CUPS.model_copy(update={"making": Making(details=(collar,))}))
    ticks = {
        s.key: Tick(s.key, 5.0, title=s.title, figures={v.word: v.amount for v in s.measures}) for s in first.ordered
    }
    assert became_wrong(first, ticks) == []
    longer = planned(CUPS.model_copy(update={"making": Making(details=(collar.model_copy(update={"length": 306.0}),))}))
    assert "“Glue the collar” was done; its edge is 6 mm longer now." in became_wrong(longer, ticks)
    assert all("collar" in w for w in became_wrong(longer, ticks))
    assert all(s.done for s in states_of(longer, ticks, Owned(), 9e9).values())
    gone = planned(CUPS)
    assert any("no such step any more" in w and "collar" in w for w in became_wrong(gone, ticks))
    plain = planned(starter_design("breastplate"))
    assert any("Set in the cup" in w for w in became_wrong(plain, ticks))


def test_what_is_fixed_to_an_edge_is_as_long_as_the_edge():
    """Both halves of it, whether the panel is drawn whole or as a half that is cut twice."""
    for choices in ({"front": "cups"}, {"front": "centre ridge"}):
        design = starter_design("breastplate").model_copy(update={"choices": choices})
        job = job_for(
            design.model_copy(
                update={"making": Making(details=(Detail(key="c", kind="collar", name="collar", edge="neckline"),))}
            )
        )
        around = sum(
            e.length * p.copies for p in job.pattern.panels for e in p.flat.edges if e.name.startswith("neckline")
        )
        step = next(s for s in build_steps(job) if s.key == "collar:c")
        assert {v.word: v.amount for v in step.measures}["edge"] == pytest.approx(around)
        assert 200 < around < 400


def test_ticks_of_older_builds_mean_what_they_meant():
    old = {k: Tick(k, 7.0) for k in ("trace", "cut", "heat-seal", "bevel", "form", "dry-fit", "glue", "close")}
    mine = carried(step_keys(inked("breastplate", front="cups")), old)
    done = {k for k, t in mine.items() if t.done_at == 7.0}
    assert done == {
        "number", "cut-paper", "warm-flat", "trace", "cut", "keep-pattern", "heat-seal", "bevel", "form:1", "form:2",
        "dry-fit", "dust-glue", "dart:cup dart 1", "dart:cup dart 2", "cup:cup", "sub-fit", "surplus",
    }  # fmt: skip
    new = {"cut": Tick("cut", 7.0, title="Cut out")}
    assert carried(["keep-pattern"], new)["keep-pattern"].done_at is None, "a new tick means itself alone"


def test_parts_of_several_pieces_go_in_one_session():
    primer = planned(CUPS.model_copy(update={"making": Making(schools={"primer": "sprayed"})})).steps[
        "coat-primer:rest.rubbery primer"
    ]
    cut = planned(CUPS).steps["cut"]
    spray, cutting = batches_of([(1, primer), (2, primer), (1, cut), (2, cut), (3, cut)])
    assert spray.title == "One spray session"
    assert spray.items == ((1, primer.key), (2, primer.key))
    assert cutting.minutes == pytest.approx(3 * cut.minutes)
    assert batches_of([(1, cut)]) == []


def test_the_longest_way_is_as_long_as_its_steps_and_waits():
    piece = planned(CUPS)
    whole, path = piece.longest
    assert path[-1] == "final-fit"
    spans = {s.key: s.hands_on + (s.coats - 1) * s.between + s.wait for s in piece.ordered}
    assert whole == pytest.approx(sum(spans[k] for k in path))
    assert whole > max(spans.values())
    assert isinstance(piece.plan, Plan)
