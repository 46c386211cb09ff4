"""What steps measure, how long they take, what they are glued with and what must be at hand."""

import random
import re
from collections import defaultdict
from dataclasses import replace

import pytest

from tests.bodies import SHELLS
from tests.core.pieces_to_make import CUPS, inked, job_for
from tests.depth import mostly
from vellumcut.core.caution.cautions import CAUTIONS
from vellumcut.core.design.finish import FinishLayer, Stack, ZoneFinish
from vellumcut.core.design.foam import EdgeWork, FoamWork, Layer
from vellumcut.core.design.making import Detail, Making, Schools, SeamSurface
from vellumcut.core.design.rig import OpeningRow, RigDesign
from vellumcut.core.ink.library.table import TEMPLATES, starter_design
from vellumcut.core.make.equip import SETUP, SETUP_WORK
from vellumcut.core.make.glue import CementRoom
from vellumcut.core.make.glue_choice import choose_glue
from vellumcut.core.make.job import Facts, Job
from vellumcut.core.make.lost import lost_names
from vellumcut.core.make.order import build_steps, step_keys
from vellumcut.core.make.owned import Owned
from vellumcut.core.make.plan import plan_piece
from vellumcut.core.make.quantities import in_all
from vellumcut.core.make.schools import SCHOOLS
from vellumcut.core.paces import PACES, Tempo, Timed, learned_from


@pytest.mark.parametrize("template", mostly(sorted(TEMPLATES), 6))
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
    assert steps["cut"].values[0].amount == pytest.approx(sum(p.flat.outline_length * p.copies for p in pattern.to_cut))
    face = sum(p.flat.area * p.copies for p in pattern.panels if p.layer.number == p.layer.count)
    coats = [s for k, s in steps.items() if k.startswith("coat-")]
    assert coats
    for step in coats:
        assert {v.word: v.amount for v in step.measures}["area"] / face in (pytest.approx(1), pytest.approx(2))
    assert sum(steps[f"form:{n}"].measures[0].amount for n in facts.panels) == pytest.approx(
        sum(p.flat.area * p.copies for p in pattern.panels if p.layer.number == 1)
    )
    check_materials(job, steps)
    check_words(facts, steps)


def check_materials(job: Job, steps: dict) -> None:
    """What is cut for the rig, and every sheet, is wanted once and no more."""
    wanted: dict[str, float] = defaultdict(float)
    for step in steps.values():
        for m in step.materials:
            wanted[m.name] += m.amount
    parts: dict[str, float] = defaultdict(float)
    for part in job.rig_parts:
        parts[part.name] += job.alike * part.count * (part.length / 1000 if part.length else 1)
    for name, amount in parts.items():
        assert wanted[name] == pytest.approx(amount), name
    foam = sum(amount for name, amount in wanted.items() if name.endswith(" foam"))
    cut = sum(p.flat.area * p.copies for p in job.pattern.to_cut) / 1e6
    assert foam == pytest.approx(1.25 * cut), "each sheet once, with its waste"


def check_words(facts: Facts, steps: dict) -> None:
    told = [(s, s.inspection.question if s.inspection else "") for s in steps.values()]
    everything = " ".join(f"{s.title} {s.how} {s.formula.format(*(v.amount for v in s.values))} {q}" for s, q in told)
    assert "{" not in everything
    # A rim step tells of seams only where there are some; the closing seam only where it is glued.
    assert ("seam" in everything.lower()) == bool(facts.seams or facts.darts)
    assert ("dart" in everything.lower()) == bool(facts.darts)
    trims = facts.making.detail_list("trim", "spanning trim", "strip round")
    assert ("trim's edge" in everything) == bool(trims)
    assert ("closing" in everything) == (
        facts.template in SHELLS
        and (facts.joins or (facts.strapped and re.search("inside (the|both) closing edges", everything) is not None))
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
    assert cut.minutes == pytest.approx(job.pattern.cut_length / 180 + SETUP["blades"])
    timed = [Timed("cut", 10, took) for took in (6, 5, 7, 6, 40)]
    assert learned_from(timed[:4]) == {}, "four are luck"
    learned = learned_from(timed)
    assert learned == {"cut": pytest.approx(0.6)}, "one long break does not spoil it"
    quick = next(s for s in build_steps(job_for(starter_design("bracer"), tempo=Tempo({}, learned))) if s.key == "cut")
    assert quick.minutes == pytest.approx(cut.minutes)
    assert quick.hands_on == pytest.approx(0.6 * cut.minutes)
    typed = next(
        s for s in build_steps(job_for(starter_design("bracer"), tempo=Tempo({"cut": 90.0}, learned))) if s.key == "cut"
    )
    assert typed.hands_on - typed.setup == pytest.approx(2 * (cut.minutes - cut.setup)), (
        "a pace that was typed is believed"
    )


def test_glue_follows_joint_load_and_what_the_maker_owns():
    room, schools, all_of_it = CementRoom(), Schools(), Owned()
    seam = choose_glue("butt seam", "foam", schools, all_of_it, room)
    assert (seam.glue, seam.coats, seam.clamp) == ("contact cement", 1, 0)
    anchor = choose_glue("anchor", "cloth", schools, all_of_it, room)
    assert (anchor.coats, anchor.clamp) == (3, 720)
    assert choose_glue("vinyl", "vinyl", schools, all_of_it, room).ready == pytest.approx(2 * seam.ready)
    assert (seam.how, anchor.how) == (
        "One coat of contact cement on both faces; wait till they are dry to the touch.",
        "3 coats of contact cement on both faces; wait till they are dry to the touch.",
    )
    small = choose_glue("small part", "foam", schools, all_of_it, room)
    assert (small.glue, small.how) == ("instant glue", "Instant glue, one hand's length at a time.")
    hot = choose_glue("magnet", "foam", schools, all_of_it, room)
    assert (hot.glue, hot.how.split(",")[0], hot.material(9e9, 500).amount) == ("hot glue", "Hot glue in thin lines", 7)
    assert choose_glue("magnet", "cloth", schools, all_of_it, room).warning.startswith("Hot glue holds poorly on cloth")
    assert choose_glue("small part", "cloth", schools, all_of_it, room).warning == ""
    bare = Owned(protection=("gloves",))
    poor = choose_glue("butt seam", "foam", schools, bare, room)
    assert (poor.glue, poor.fill, poor.ready) == ("hot glue", True, 0)
    assert "no vapour mask" in poor.reason
    assert "sew it" in choose_glue("anchor", "cloth", schools, bare, room).warning
    assert "cracks" in choose_glue("dart", "foam", schools, all_of_it, room, own="instant glue").warning
    keys = step_keys(replace(inked("breastplate", front="cups"), owned=bare))
    assert "clay" in keys
    assert "fill" not in keys


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


def test_what_must_be_at_hand_is_told_by_cautions_glue_and_place():
    """Each caution asks for its protection; cement for air; a can for a booth; nothing is asked for twice."""
    steps = {s.key: s for s in build_steps(job_for(CUPS))}
    assert steps["smooth"].protection == ("particle mask", "goggles")
    assert steps["heat-seal"].tools == ("heat gun",)
    cup = steps["cup:cup"]
    assert (cup.tools, cup.place) == (("contact cement",), "ventilated")
    assert set(cup.protection) == {"vapour mask", "gloves"}
    assert (steps["cut"].tools, steps["cut"].protection, steps["cut"].place) == ((), (), "indoors")
    sprayed = CUPS.model_copy(update={"making": Making(schools={"primer": "sprayed", "damage": "burnt"})})
    steps = {s.key: s for s in build_steps(job_for(sprayed))}
    primer = steps["coat-primer:rest.rubbery primer"]
    assert (primer.place, primer.tools) == ("outdoors", ("spray cans",))
    assert primer.protection == ("vapour mask", "gloves")
    assert (steps["burn"].place, steps["burn"].protection) == ("outdoors", ("vapour mask", "gloves"))
    for step in steps.values():
        for rows in (step.tools, step.protection):
            assert len(set(rows)) == len(rows)
    bare = {s.key: s for s in build_steps(job_for(CUPS, owned=Owned(protection=("gloves",), kit=("hot-glue gun",))))}
    assert bare["cup:cup"].tools == ("hot-glue gun",)
    assert "Sand the seam flush with a block" in bare["smooth"].how, "without a rotary tool it is sanded by hand"


def test_what_lies_flush_gets_a_seat_first():
    hem = Detail(key="hem", kind="trim", name="wave border", edge="hem", flush=True)
    job = job_for(CUPS.model_copy(update={"making": Making(details=(hem,))}))
    steps = {s.key: s for s in build_steps(job)}
    assert "hem: down by the thickness of the wave border" in steps["thin"].how
    assert steps["thin"].values[0].amount == pytest.approx(job.edge_length("hem"))
    keys = plan_piece(job.facts).keys
    assert keys.index("thin") < keys.index("trim:hem")
    thinned = FoamWork(edges=(EdgeWork(name="hem", shape="thinned"),))
    once = job_for(CUPS.model_copy(update={"making": Making(details=(hem,)), "foam_work": thinned}))
    step = next(s for s in build_steps(once) if s.key == "thin")
    assert step.values[0].amount == pytest.approx(job.edge_length("hem")), "an edge is thinned once"
    plain = Making(details=(hem.model_copy(update={"flush": False}),))
    assert "thin" not in step_keys(job_for(CUPS.model_copy(update={"making": plain})).facts)


def test_an_anchor_takes_cement_for_cloth_and_bed():
    """Three coats on the cloth, two on its bed, one face of foam under every anchor."""
    job = job_for(starter_design("bracer").model_copy(update={"closure": "buckles"}))
    close = next(s for s in build_steps(job) if s.key == "close")
    (cement,) = (m for m in close.materials if m.name == "contact cement")
    assert cement.amount == pytest.approx(max(1.0, 5 * job.patch_area / 1e6 / 4 * 1000))


def test_what_is_used_up_is_added_over_all_steps():
    steps = build_steps(job_for(CUPS))
    whole = {m.name: m.amount for m in in_all(s.materials for s in steps)}
    by_hand = sum(m.amount for s in steps for m in s.materials if m.name == "contact cement")
    assert whole["contact cement"] == pytest.approx(by_hand)
    assert whole["marker"] == 1, "wanted twice, bought once"


MIRROR = (("hard sealer", 5), ("filler primer", 1), ("gloss black", 3), ("mirror chrome", 3))


def test_slow_tasks_are_told_by_their_length_and_by_area_times_rounds():
    """4 m of thread by hand: 25 stitches of 4 mm in ten minutes. Five coats of sealer are sanded wet three times."""
    thread = Detail(key="t", kind="stitches", name="edge stitches", length=4000)
    mirror = ZoneFinish(stack=Stack(name="mirror", layers=tuple(FinishLayer(kind=k, coats=n) for k, n in MIRROR)))
    design = starter_design("bracer").model_copy(
        update={"making": Making(details=(thread,), schools={"stitches": "real thread"}, finishes=(mirror,))}
    )
    job = job_for(design)
    steps = {s.key: s for s in build_steps(job)}
    assert steps["stitch-thread:t"].minutes == pytest.approx(4000 / 4 / 25 * 10 + SETUP_WORK["stitch"])
    sealer = steps["coat-smooth:rest.hard sealer"]
    area = next(v.amount for v in sealer.measures if v.word == "area") / 1e6
    assert sealer.minutes == pytest.approx(5 * area / 0.012 + 3 * area / 0.004 + 5 * SETUP_WORK["coat"], rel=0.01)
    assert "Sand it wet, 3 times" in sealer.how


def test_a_magnet_floods_its_pocket_with_hot_glue_whatever_the_school():
    magnet = Detail(key="m", kind="magnet", name="plate magnets", count=4, size=12)
    for glue, wanted in (("by joint", "hot glue"), ("contact cement", "hot glue"), ("instant glue", "instant glue")):
        making = Making(details=(magnet,), schools={"glue": glue})
        steps = {s.key: s for s in build_steps(job_for(starter_design("bracer").model_copy(update={"making": making})))}
        assert [m.name for m in steps["magnet-in:m"].materials] == [wanted]
        assert "halo" in steps["magnet-out:m"].reason


def test_covered_seams_get_no_clay_and_a_bodice_is_sewn_after_paint():
    def steps_with(**schools):
        made = job_for(CUPS.model_copy(update={"making": Making(schools=schools)}))
        return {s.key: s for s in build_steps(made)}, plan_piece(made.facts).keys

    covered, _ = steps_with(glue="hot glue", seams="covered")
    assert "clay" not in covered
    assert "cover" in covered
    ground, _ = steps_with(glue="hot glue", seams="ground")
    assert "every seam" in ground["clay"].how
    sewn, order = steps_with(liner="bodice")
    assert order.index("bodice") > max(k for k, key in enumerate(order) if key.startswith("coat-"))
    assert sewn["bodice"].minutes > 60
    lined = job_for(starter_design("bracer").model_copy(update={"making": Making(schools={"liner": "full"})}))
    (full,) = [s for s in build_steps(lined) if s.key == "dam"]
    assert "joints" not in full.title + full.how
    assert full.materials[0].amount == pytest.approx(lined.pattern.face_area / 1e6 * 1.2)


def test_names_that_mean_nothing_now_are_said():
    making = Making(
        details=(
            Detail(key="a", kind="trim", name="hem border", edge="no such hem"),
            Detail(key="b", kind="layer", name="badge", panels=(7,)),
            Detail(key="c", kind="trim", name="true border", edge="hem"),
        ),
        seams=(SeamSurface(name="closing edge B", way="covered"), SeamSurface(name="cup", way="covered")),
    )
    rig = RigDesign(openings=(OpeningRow(line="gone", kind="zip"),))
    edges = FoamWork(edges=(EdgeWork(name="no such edge", shape="thinned"),))
    job = job_for(CUPS.model_copy(update={"making": making, "rig": rig, "foam_work": edges}))
    told = lost_names(job)
    for words in ("hem border", "panel 7", "closing edge B", "“no such edge”", "opening by zip"):
        assert sum(words in x for x in told) == 1, told
    assert not any("true border" in x for x in told)
    assert job.facts.joints, "a seam that is there is not said"
    assert not any(name in x for x in told for name in job.facts.joints if name != "closing edge B")
    assert lost_names(job_for(CUPS)) == ()
