"""The floor photographed first: pieces by a third hand's renderer, held against where they were laid, on floors of
every kind; and what is said where the two photographs do not belong to each other. All floors run in
``make accuracy``."""

import numpy as np
import pytest

from tests.depth import long, often, some
from tests.floors.score import TIP, WITHIN, score
from tests.floors.taken import Wanted, take
from vellumcut.core.errors import CraftError
from vellumcut.core.trace.beneath import least_cut
from vellumcut.core.trace.trace import trace_picture
from vellumcut.core.trace.view.rigid import onto

SMALL = 2400
SCENES = [
    Wanted(6, "newspaper", "tan tape", 1, width=SMALL),
    Wanted(33, "stone_tiles", "tan tape", 2, width=SMALL),
    Wanted(8, "planks", "pale paper", 1, width=SMALL),
]


@long
@pytest.mark.parametrize("wanted", some(SCENES), ids=lambda w: w.floor)
def test_pieces_are_told_from_any_floor_that_was_photographed_first(wanted):
    scene = take(wanted)
    trace = trace_picture(scene.picture, bare=scene.ground)
    told = score(scene, trace)
    assert (told.missing, told.invented) == (0, 0)
    assert max(told.rms) < WITHIN[0]
    assert max(told.worst) < WITHIN[1]
    assert not told.silent
    wide = [off for off, angle, _ in told.tips if angle > 6]
    assert not wide or np.median(wide) < TIP


@long
def test_on_a_plain_floor_one_photograph_tells_slits_as_well_and_on_a_patterned_one_it_says_that_it_does_not():
    scene = take(Wanted(7, "plain_sheet", "white tape", 2, width=SMALL))
    told = score(scene, trace_picture(scene.picture))
    assert told.right
    assert not told.silent
    assert max(off for off, _, _ in told.tips) < TIP
    assert not told.said
    alone = trace_picture(take(SCENES[0]).picture)
    assert alone.pieces
    assert all("a ground with a pattern" in " ".join(f.what for f in p.findings) for p in alone.pieces)


@long
def test_a_card_that_was_pushed_in_between_is_left_out_and_floors_of_another_place_are_refused():
    scene = take(Wanted(3, "cork", "white tape", 2, width=2000))
    (number, card), *_ = scene.cards.items()
    pushed = _with_card_pasted_aside(scene, number, card)
    trace = trace_picture(pushed, bare=scene.ground)
    assert any(f"Card {number + 1} lies elsewhere" in f.what for f in trace.findings)
    assert score(scene, trace).missing == 0
    with pytest.raises(CraftError, match="three cards that lie alike"):
        trace_picture(scene.picture, bare=take(Wanted(15, "cork", "tan tape", 1, width=2000)).ground)
    with pytest.raises(CraftError, match="photograph of the floor: I see no card"):
        trace_picture(scene.picture, bare=np.full_like(scene.ground, 120))


def _with_card_pasted_aside(scene, number, card):
    """The picture with one card cut out of it and pasted 14 pixels aside."""
    trace = trace_picture(scene.picture)
    lies = onto(np.array([scene.cards[n][:2] for n in trace.view.numbers]), trace.view.poses[:, :2])
    x, y = np.round(trace.view.lens.project(lies.place(card[None, :2]))[0]).astype(int)
    out, r = scene.picture.copy(), 105
    out[y - r : y + r, x - r + 14 : x + r + 14] = scene.picture[y - r : y + r, x - r : x + r]
    return out


def test_a_cut_is_the_cheapest_there_is():
    """Against every mask of a strip: its cost is the sum of what is left out and the rim's length."""
    luck = np.random.default_rng(4)
    for _ in range(often(30)):
        cost = luck.normal(0, 1, (1, 9)).astype(np.float32)
        edge = luck.uniform(0.1, 1, (1, 9)).astype(np.float32)
        masks = [np.array([(n >> k) & 1 for k in range(9)]) for n in range(512)]

        def price(mask, cost=cost, edge=edge):
            return -(cost[0] * mask).sum() + 1.6 * (edge[0, :-1] * np.abs(np.diff(mask))).sum()

        found = (least_cut(cost, edge, 1.0)[0] > 0.5).astype(int)
        assert price(found) < min(price(m) for m in masks) + 0.02
