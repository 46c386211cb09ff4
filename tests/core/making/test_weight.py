"""What a piece weighs as it is worn: each share summed by hand, from areas, coats, lengths and counts."""

import math

import pytest

from tests.core.pieces_to_make import CUPS, job_for
from vellumcut.core.design.finish import FinishLayer, Stack, ZoneFinish
from vellumcut.core.design.making import Detail, Making
from vellumcut.core.finish.layers import LAYERS
from vellumcut.core.foam.shelf import ShelfSheet
from vellumcut.core.ink.library.table import starter_design
from vellumcut.core.make.order import build_steps
from vellumcut.core.make.weight import weigh

KINDS = [starter_design(t) for t in ("bracer", "greave", "pauldron", "belt")] + [CUPS]
PLAIN = {"flexible primer": (3, 2), "acrylic": (2, 2), "flexible clear": (2, 1)}
"""Coats and faces of what nobody has decided about."""


@pytest.mark.parametrize("design", KINDS, ids=lambda d: d.template)
def test_each_share_is_the_sum_made_by_hand(design):
    job = job_for(design)
    made = weigh(job)
    volume = sum(p.flat.area * p.copies * p.layer.thickness for p in job.pattern.panels)
    assert made.foam == pytest.approx(volume * 1e-6 * 90, rel=0.4), "armour foam: 90 kg/m3 and a little more"
    face = sum(p.flat.area * p.copies for p in job.pattern.panels if p.layer.number == p.layer.count) / 1e6
    paint = sum(face * coats * faces / LAYERS[k].cover * 1200 * 0.45 for k, (coats, faces) in PLAIN.items())
    assert made.paint == pytest.approx(paint, rel=0.01)
    cement = sum(m.amount for s in build_steps(job) for m in s.materials if m.name == "contact cement")
    filler = sum(m.amount for s in build_steps(job) for m in s.materials if m.name == "flexible filler")
    assert made.glue == pytest.approx(0.2 * cement + 0.7 * filler)
    assert made.details == 0
    webbing = sum(p.count * p.length for p in job.rig_parts if p.name.startswith("webbing")) / 1000 * 14
    assert made.rig >= webbing * job.alike
    assert made.total == pytest.approx(made.foam + made.paint + made.glue + made.rig)
    assert f"{made.total:.0f} g" in made.words


def test_what_lies_on_it_and_what_is_carried_is_weighed():
    details = (
        Detail(key="a", kind="buckle", name="buckle", count=2),
        Detail(key="b", kind="holder", name="pouch with a phone", weight=230),
        Detail(key="c", kind="gem", name="gem", size=40),
        Detail(key="d", kind="magnet", name="magnets", count=4, size=12),
        Detail(key="e", kind="vinyl cover", name="vinyl"),
        Detail(key="f", kind="trim", name="trim", length=1000),
    )
    job = job_for(starter_design("belt").model_copy(update={"making": Making(details=details)}))
    gem = 4 / 3 * math.pi * 2**3 / 2 * 1.2
    magnets = 4 * math.pi * 0.6**2 * 0.3 * 7.5
    vinyl = job.pattern.area / 1e6 * 350
    made = weigh(job)
    trim = made.details - (2 * 25 + 230 + gem + magnets + vinyl)
    assert 5 < trim < 12, "a metre of 20 x 4 mm foam"
    assert made.paint == 0, "vinyl is not painted"


def test_the_makers_own_sheet_and_finish_count():
    bare = ZoneFinish(stack=Stack(name="bare", layers=(FinishLayer(kind="rubbery primer", faces="both"),)))
    design = starter_design("bracer").model_copy(update={"making": Making(finishes=(bare,))})
    usual = weigh(job_for(design))
    heavy = weigh(job_for(design), (ShelfSheet(kind="armour", thickness=6, density=180),))
    assert heavy.foam > 1.3 * usual.foam
    assert usual.paint < weigh(job_for(starter_design("bracer"))).paint
