"""What anchors carry: equilibrium, the worst that friction allows, what hangs on a belt, what an elastic pulls."""

from dataclasses import replace

import numpy as np
import pytest

from tests.bodies import WEARER
from tests.core.pieces_to_make import worn
from tests.core.rigging.bodies_worn import BODIES, everything
from tests.depth import some
from vellumcut.core.ink.library.table import starter_design
from vellumcut.core.rig.costume import Costume
from vellumcut.core.rig.loads import AT_REST, MOVEMENT, rest_of
from vellumcut.core.rig.straps import straps_of_piece


@pytest.mark.parametrize("body", some(BODIES))
def test_a_piece_at_rest_is_in_equilibrium(body):
    costume = everything(body)
    weighed = Costume(costume.figure, tuple(replace(p, weight=100.0 * p.copies) for p in costume.pieces), costume.kept)
    straps = [s for p in weighed.pieces for s in straps_of_piece(weighed, p)]
    for piece in weighed.pieces:
        for side in piece.sides:
            rest = rest_of(weighed, piece, side, straps)
            assert rest.weight == pytest.approx(100)
            if not rest.holds:
                assert rest.better is not None
                continue
            if rest.swings:
                assert sum(x.resting for x in rest.loads) == pytest.approx(rest.weight + rest.carried, rel=0.01)
                continue
            ends = [e for s in straps for e in s.ends if e.piece == piece.key]
            pulled = np.sum([x.resting * x.pull for x in rest.loads] or [np.zeros(3)], axis=0)
            left = rest.leans[1].sum(axis=0) + pulled - [0, 0, rest.weight + rest.carried]
            assert np.linalg.norm(left) <= AT_REST * (rest.weight + rest.carried) + 1e-6, piece.name
            # Moments too, where nothing hangs on it whose own place would have to be known.
            if rest.carried < 1 and all(any(e.anchor == x.anchor for e in ends) for x in rest.loads):
                at = {(e.anchor, e.side): e.at for e in ends}
                turn = np.cross(rest.leans[0] - rest.middle, rest.leans[1]).sum(axis=0)
                turn += np.sum(
                    [np.cross(at[x.anchor, x.side] - rest.middle, x.resting * x.pull) for x in rest.loads]
                    or [np.zeros(3)],
                    axis=0,
                )
                assert np.linalg.norm(turn) <= AT_REST * rest.weight * 100 + 1e-6, piece.name
            assert all(x.moving == pytest.approx(MOVEMENT * x.grams + x.own) for x in rest.loads)
            assert all(x.grams >= x.resting - 1e-6 for x in rest.loads)


def test_two_cuisses_put_all_that_they_weigh_on_the_belt_and_either_webbing_may_hold_most_of_one():
    costume = worn(starter_design("belt"), starter_design("cuisse"), readings=WEARER)
    belt, cuisse = costume.pieces
    weighed = Costume(costume.figure, (replace(belt, weight=50.0), replace(cuisse, weight=180.0)))
    straps = [s for p in weighed.pieces for s in straps_of_piece(weighed, p)]
    assert rest_of(weighed, weighed.piece(1), "left", straps).carried == pytest.approx(180.0)
    hung = rest_of(weighed, weighed.piece(2), "left", straps)
    webbing = [x for x in hung.loads if "webbing" in x.anchor or "belt" in x.anchor or not x.own]
    assert sum(x.resting for x in webbing) <= 95
    assert sum(x.grams for x in webbing) > 1.2 * sum(x.resting for x in webbing)
    assert max(x.grams for x in webbing) <= 1.01 * max(90.0, *(x.resting for x in webbing))


def test_an_elastic_pulls_by_its_own_tension():
    costume = worn(starter_design("segmented bracer"), readings=WEARER)
    (bracer,) = costume.pieces
    weighed = Costume(costume.figure, (replace(bracer, weight=120.0),))
    straps = straps_of_piece(weighed, weighed.pieces[0])
    rest = rest_of(weighed, weighed.pieces[0], "left", straps)
    assert {x.own for x in rest.loads} == {5.0 * bracer.design.rig.webbing}
    assert all(x.moving == pytest.approx(MOVEMENT * x.grams + x.own) for x in rest.loads)


def test_what_hangs_on_a_belt_is_carried_by_its_closure():
    bare = worn(starter_design("belt"), readings=WEARER)
    laden = worn(starter_design("belt"), starter_design("cuisse"), starter_design("tasset"), readings=WEARER)
    pulls = []
    for costume in (bare, laden):
        weighed = Costume(costume.figure, tuple(replace(p, weight=200.0 * p.copies) for p in costume.pieces))
        straps = [s for p in weighed.pieces for s in straps_of_piece(weighed, p)]
        rest = rest_of(weighed, weighed.piece(1), "left", straps)
        assert rest.holds
        pulls.append((rest.carried, max(x.grams for x in rest.loads)))
    assert pulls[0][0] == 0
    assert pulls[1][0] == pytest.approx(4 * 200)
    assert pulls[1][1] > 2 * pulls[0][1]
