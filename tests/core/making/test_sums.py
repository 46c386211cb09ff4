"""Amounts of work and material, each summed by hand here from what the pattern measures."""

import pytest

from tests.core.pieces_to_make import CUPS, job_for
from vellumcut.core.design.finish import FinishLayer
from vellumcut.core.design.flat import FlatShape, FlatWork
from vellumcut.core.design.making import Detail, Making, MotifRing
from vellumcut.core.design.piece import PieceDesign
from vellumcut.core.finish.layers import LAYERS, PlacedCoat
from vellumcut.core.ink.library.table import starter_design
from vellumcut.core.make.job import Job, flat_facts
from vellumcut.core.make.order import build_steps
from vellumcut.core.make.plan import PlannedPiece, costume_steps, plan_piece
from vellumcut.core.make.step import Step
from vellumcut.core.make.steps.painting import sanding_rounds

SQUARE = ((0.0, 0.0), (30.0, 0.0), (30.0, 20.0), (0.0, 20.0))


def steps_with(design: PieceDesign, making: Making) -> tuple[Job, dict[str, Step]]:
    job = job_for(design.model_copy(update={"making": making}))
    return job, {s.key: s for s in build_steps(job)}


def test_a_strip_over_seams_is_as_long_as_they_are_and_glued_15_mm_wide_on_both_faces():
    job, steps = steps_with(CUPS, Making(schools={"seams": "covered"}))
    assert job.facts.joints
    seams = sum(mm for name, mm, layer in job.pattern.joined if layer.number == 1)
    strip, glue = steps["cover"].materials
    assert strip.amount == pytest.approx(1.1 * seams / 1000)
    assert glue == job.glue("trim").material(30 * seams, seams)


def test_what_is_painted_through_a_stencil_is_its_open_area_and_a_cut_one_its_edge():
    ring = MotifRing(points=SQUARE)
    painted = Detail(key="s", kind="stencil", name="mark", count=3, motif=(ring,))
    _, steps = steps_with(starter_design("bracer"), Making(details=(painted,)))
    figures = {v.word: v.amount for key, s in steps.items() if key.endswith(":s") for v in s.values}
    assert figures["of cut"] == pytest.approx(3 * 100.0)
    assert figures["painted through it"] == pytest.approx(3 * 600.0)
    assert figures["laid and taken off"] == 3


@pytest.mark.parametrize(("coats", "rounds"), [(1, 1), (2, 1), (3, 2), (4, 3), (7, 3)])
def test_a_sealer_is_sanded_wet_between_its_last_coats_three_times_at_most(coats, rounds):
    for name, kind in LAYERS.items():
        placed = PlacedCoat(1, FinishLayer(kind=name, coats=coats), kind)
        assert sanding_rounds(placed) == (rounds if kind.sand else 0)


def test_the_costume_has_its_own_steps_and_minutes():
    def made(*templates: str) -> dict[str, float]:
        pieces = []
        for k, t in enumerate(templates):
            job = job_for(starter_design(t))
            pieces.append(PlannedPiece(k, t, job.facts, plan_piece(job.facts), {}))
        return {s.key: s.minutes for s in costume_steps(pieces)}

    arms, legs = made("bracer"), made("bracer", "greave")
    assert arms == {"clear-away": 10, "assemble": 40, "wear": 45}
    assert legs == {"trousers": 5, "last-weathering": 40} | arms
    assert made() == {}


@pytest.mark.parametrize(
    ("template", "side", "mirrored", "paired"),
    [
        ("bracer", "both", False, True),
        ("bracer", "left", False, False),
        ("bracer", "left", True, True),
        ("breastplate", "both", False, False),
        ("breastplate", "both", True, True),
    ],
)
def test_panels_that_came_flat_are_a_pair_where_both_arms_or_both_halves_are_cut(template, side, mirrored, paired):
    panel = FlatShape(number=1, outline=SQUARE, corners=(0, 1, 2, 3), mirrored=mirrored)
    design = PieceDesign(template=template, side=side, flat=FlatWork(source="file", panels=(panel,)))
    assert flat_facts(design).paired is paired
