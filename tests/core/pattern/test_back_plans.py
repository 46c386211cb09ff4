"""Plans for a back, which lies about the spine and not about the front line; and what a longer look finds."""

from dataclasses import replace

import pytest

from tests.bodies import WEARER, trunk
from tests.core.pattern.test_darts import EXTREMES, GIVE, half_breastplate
from tests.depth import deep
from vellumcut.core.cast.stations import build_tube
from vellumcut.core.flatten.trial import armour_trial
from vellumcut.core.ink.darts import without_darts
from vellumcut.core.ink.library.table import starter_design
from vellumcut.core.ink.stage import read_piece_ink
from vellumcut.core.ink.templates import armour_surface
from vellumcut.core.pattern.dart_advice import Wish, advise_darts, down_the_middle
from vellumcut.core.pattern.proof import Prover


def whole_back(**girths):
    """A back that is its own mirror image, about the spine: no part of it lies at the front line."""
    wearer = WEARER.model_copy(update={"torso": trunk(**girths)})
    design = starter_design("backplate")
    tube = build_tube(wearer, "torso", "left")
    (region,) = read_piece_ink(tube, design).regions
    return design, tube, region.ink


def test_a_back_may_be_split_down_the_spine():
    design, tube, ink = whole_back(**EXTREMES["full"])
    trial = armour_trial(armour_surface(tube, design), without_darts(ink), True)
    assert trial.ring.bounds[0] > 0
    wish = Wish(replace(GIVE, stretch=50.0, squeeze=50.0))
    ((split,),) = [down_the_middle(Prover(tube, design, ink), trial, wish, lambda *_: None)]
    (seam,) = split.cuts
    assert {round(u, 3) for u, _ in seam.points} == {0.5}
    assert split.words.startswith("Split it down the middle")


@deep
@pytest.mark.parametrize("limit", [2.2, 3.4, 4.4])
def test_looking_longer_never_finds_worse_and_no_plan_of_a_back_fails(limit):
    give = replace(GIVE, stretch=limit, squeeze=limit)
    design, tube, ink = whole_back(bust=1086, underbust=834, waist=752, hip=1016, neck=353)
    _, ridged, surface, _, region = half_breastplate(**EXTREMES["slight"])
    for prover in (Prover(tube, design, ink), Prover(surface.tube, ridged, region.ink)):
        usual, longer = (advise_darts(prover, Wish(give, (), 2, thorough)) for thorough in (False, True))
        for count in {len(p.cuts) for p in usual.plans}:
            best = [min(p.p95 for p in a.plans if len(p.cuts) == count) for a in (usual, longer)]
            assert best[1] <= best[0] + 1e-6
