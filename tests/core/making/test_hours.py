"""Hours: summed by hand, alike wherever they are shown, in the bands that makers know, each thing counted once."""

import csv
import io
import json

import pytest
from pypdf import PdfReader

from tests.core.pieces_to_make import CUPS, job_for, planned
from vellumcut.cli.making import _order
from vellumcut.core.design.making import Detail, Making
from vellumcut.core.ink.library.table import starter_design
from vellumcut.core.make.equip import SETUP, SETUP_WORK
from vellumcut.core.make.hours import LEARNED_SPREAD, hours_of
from vellumcut.core.make.order import build_steps
from vellumcut.core.paces import PACES, Tempo
from vellumcut.formats.csv_table import write_csv
from vellumcut.formats.making.bench_sheet import STEP_HEAD, step_rows, write_bench_sheet

TRIMS = Making(
    details=(
        Detail(key="hem", kind="trim", name="hem trim", length=900),
        Detail(key="neck", kind="spanning trim", name="neck trim", length=500),
    )
)
DRESSED = CUPS.model_copy(update={"making": TRIMS})
KINDS = [starter_design(t) for t in ("bracer", "greave", "gorget", "segmented bracer")] + [DRESSED]


@pytest.mark.parametrize(("design", "least", "most"), [(KINDS[0], 6, 10), (DRESSED, 14, 30)], ids=["bracers", "breast"])
def test_hours_lie_where_makers_know_them(design, least, most):
    """A pair of bracers 6 to 10 hours of hands, a breastplate 15 to 30, its wrapping (an hour) not in these."""
    hours = hours_of(build_steps(job_for(design)))
    assert least <= hours.hands / 60 <= most
    assert hours.least < hours.hands < hours.most
    assert 0.15 < hours.setup / hours.hands < 0.4


@pytest.mark.parametrize("design", KINDS, ids=lambda d: d.template)
def test_hours_are_one_sum_wherever_they_are_shown(design):
    piece = planned(design)
    by_hand = sum(s.minutes for s in piece.ordered)
    assert piece.hours.hands == pytest.approx(by_hand)
    assert piece.hours.setup == pytest.approx(sum(s.setup for s in piece.ordered))
    assert piece.hours.most == pytest.approx(sum(s.minutes * PACES[s.work].spread for s in piece.ordered))
    rows = list(csv.DictReader(io.StringIO(write_csv(STEP_HEAD, step_rows(piece)))))
    assert sum(float(r["minutes"]) for r in rows) == pytest.approx(by_hand, abs=0.05 * len(rows))
    page = PdfReader(io.BytesIO(write_bench_sheet([piece], ()))).pages[0].extract_text().replace("\n", " ")
    assert piece.hours.words.split(":")[0] in page

    class Build:
        name, schools, pieces = "Tried", piece.facts.schools, ()

    told = json.loads(json.dumps(_order(Build, [piece])))["pieces"][0]
    assert told["hours"]["minutes"] == pytest.approx(by_hand, abs=0.06)
    assert sum(s["minutes"] for s in told["steps"]) == pytest.approx(by_hand, abs=0.01 * len(rows))


@pytest.mark.parametrize("design", KINDS, ids=lambda d: d.template)
def test_a_step_is_its_work_and_once_what_must_be_got_out(design):
    for step in build_steps(job_for(design)):
        tools = [SETUP[x] for x in {*step.tools, *step.cautions} if x in SETUP]
        assert step.setup == max([*tools, SETUP_WORK.get(step.work, 0.0)]) * step.coats, step.key
        worked = sum(v.amount for v in step.values if v.word == "setting up")
        assert worked == step.setup
        assert ("to get out and clean away" in step.formula) == (step.setup > 0)


def test_elastic_is_counted_once_and_beds_by_their_anchors():
    """Three elastics, sewn to six webbing ends: six seams, six beds, six ends to fix and three closers."""
    job = job_for(starter_design("segmented bracer"))
    steps = {s.key: s for s in build_steps(job)}
    elastics = 3 * job.alike
    amounts = {key: {v.word: v.amount for v in steps[key].values} for key in ("rig", "beds", "close")}
    assert amounts["rig"]["ends to sew"] == 2 * elastics
    assert amounts["beds"]["anchors"] == 2 * elastics
    assert amounts["close"]["ends"] == 2 * elastics
    assert amounts["close"]["other parts"] == elastics


def test_inside_and_rims_are_painted_and_sanded_too():
    job = job_for(starter_design("breastplate"))
    steps = {s.key: s for s in build_steps(job)}
    primer = next(v.amount for v in steps["coat-primer:rest.flexible primer"].measures if v.word == "area")
    assert primer == pytest.approx(2 * job.pattern.face_area, rel=0.02)
    sanded = next(v.amount for v in steps["smooth"].values if "rim" in v.word)
    assert sanded == pytest.approx(3 * job.rim_length * (job.pattern.design.foam + 8), rel=1e-6)


def test_what_was_learned_narrows_the_spread():
    step = next(s for s in build_steps(job_for(KINDS[0], tempo=Tempo({}, {"form": 2.0}))) if s.work == "form")
    hours = hours_of([step])
    assert hours.hands == pytest.approx(2 * step.minutes)
    assert hours.most / hours.hands == pytest.approx(LEARNED_SPREAD)
