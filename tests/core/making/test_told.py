"""What a step says it takes: minutes by its own formula and by hand, materials by geometry, words by their glue."""

import re

import pytest

from tests.core.making.test_hours import DRESSED
from tests.core.pieces_to_make import CUPS, job_for
from vellumcut.core.design.finish import FinishLayer, Stack, ZoneFinish
from vellumcut.core.design.foam import Layer
from vellumcut.core.design.making import Detail, Making
from vellumcut.core.design.piece import PieceDesign
from vellumcut.core.ink.library.table import starter_design
from vellumcut.core.make.job import Job
from vellumcut.core.make.order import build_steps
from vellumcut.core.make.step import Step
from vellumcut.core.make.steps.surface import seam_minutes
from vellumcut.core.paces import Tempo

FINISH = tuple(
    FinishLayer(kind=k)
    for k in ("hard sealer", "filler primer", "gloss black", "metallic", "oil wash", "dry brush", "satin clear")
)
RICH = Making(
    schools={"liner": "full", "seams": "covered", "stitches": "real thread"},
    finishes=(ZoneFinish(stack=Stack(name="all of it", layers=FINISH)),),
    details=(
        Detail(key="sun", kind="gem", name="sun stone", count=1, size=20),
        Detail(key="thread", kind="stitches", name="edge stitches", length=700),
        Detail(key="grain", kind="texture", name="hide", panels=(1,)),
        Detail(key="skin", kind="vinyl cover", name="skin", panels=(1,)),
    ),
)
DESIGNS: dict[str, PieceDesign] = {
    "dressed": DRESSED,
    "rich": CUPS.model_copy(update={"making": RICH}),
    "hot glue": starter_design("ridged greave").model_copy(update={"making": Making(schools={"glue": "hot glue"})}),
    "segments": starter_design("segmented bracer"),
    "laced": starter_design("bracer").model_copy(update={"closure": "lacing"}),
    "belt": starter_design("belt"),
}


def worked_out(step: Step) -> float:
    """Minutes by what the step's own formula says, read as a maker reads it."""
    total = 0.0
    for term in step.formula.split(" + "):
        bare = re.match(r"^([\d.]+) min", term)
        if bare:
            total += float(bare[1])
            continue
        signs = "".join(re.findall(r"\{\d+\}|(?<= )/(?= )|(?<= )x(?= )", term)).replace("x", "*")
        total += eval(signs.format(*(v.amount for v in step.values)))
    return total


@pytest.mark.parametrize("name", DESIGNS)
def test_minutes_are_what_their_formula_says(name):
    steps = build_steps(job_for(DESIGNS[name]))
    assert len(steps) > 12
    for step in steps:
        assert worked_out(step) == pytest.approx(step.minutes, rel=1e-9), (step.key, step.formula)


def by_key(job: Job) -> dict[str, Step]:
    return {s.key: s for s in build_steps(job)}


def test_steps_of_a_cupped_breastplate_by_hand():
    """Counted on paper from its parts, its try-ons and its details; with what is got out once."""
    steps = by_key(job_for(DESIGNS["rich"]))
    job = job_for(DESIGNS["rich"])
    copies = sum(p.copies for p in job.pattern.panels)
    assert steps["number"].minutes == copies * 4 + steps["number"].setup
    assert steps["sub-fit"].minutes == 8 + steps["sub-fit"].setup
    assert steps["mask-seat:sun"].minutes - steps["mask-seat:sun"].setup == 2
    assert steps["stitch-thread:thread"].minutes - steps["stitch-thread:thread"].setup == pytest.approx(70)
    face = job.pattern.area
    assert steps["dust-primer"].values[0].amount == pytest.approx(2 * face)
    panel = job.panel_area(1)
    texture, vinyl = steps["texture:grain"], steps["vinyl:skin"]
    assert texture.minutes - texture.setup == pytest.approx(panel / 6000)
    assert vinyl.minutes - vinyl.setup == pytest.approx(2 * panel / 12000 + panel / 10000)


@pytest.mark.parametrize(("way", "minutes"), [("covered", 600 / 60), ("design", 600 / 100)])
def test_a_seam_ends_up_in_the_minutes_of_its_way(way, minutes):
    assert seam_minutes(way, 600, Tempo()) == pytest.approx(minutes)
    ground = seam_minutes("ground", 600, Tempo())
    assert ground > 3 * 600 / 120
    assert seam_minutes("ground", 1200, Tempo()) == pytest.approx(2 * ground)


def test_materials_are_as_much_as_their_geometry_asks():
    job = job_for(DRESSED)
    steps = by_key(job)
    rig = {m.name: (m.amount, m.unit) for m in steps["rig"].materials}
    for part in job.rig_parts:
        if part.length:
            amount, unit = rig[part.name]
            assert (unit, amount) == ("m", pytest.approx(job.alike * part.count * part.length / 1000))
    (filler,) = [m for m in steps["fill"].materials if m.name == "flexible filler"]
    length = steps["fill"].values[0].amount / 3
    assert filler.amount == pytest.approx(length / 1000 * 36), "12 ml a metre and coat, three coats"
    stacked = CUPS.model_copy(update={"layers": (Layer(thickness=4), Layer(thickness=4)), "layered": "alike"})
    flat = job_for(stacked)
    (cement,) = [m for m in by_key(flat)["stack"].materials if m.name == "contact cement"]
    assert cement.amount == pytest.approx(2 * flat.pattern.glued_area / 1e6 / 4 * 1000), "4 m2 a litre, both faces"


@pytest.mark.parametrize(("glue", "sealed"), [("contact cement", True), ("hot glue", False)])
def test_bare_webbing_is_sealed_where_cement_holds_it(glue, sealed):
    design = starter_design("breastplate").model_copy(update={"making": Making(schools={"glue": glue})})
    close = by_key(job_for(design))["close"]
    assert ("brush sealer over the strap ends" in close.how) == sealed
