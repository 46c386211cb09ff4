"""What hangs on no armour, and elastics round the trunk: lengths against hulls and closed forms, ends counted."""

import re

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.spatial import ConvexHull

from tests.bodies import limb, measures, trunk
from tests.core.pieces_to_make import worn
from tests.depth import long, often
from vellumcut.core.body.torso import ARMPIT
from vellumcut.core.design.piece import PieceDesign
from vellumcut.core.ink.library.table import starter_design
from vellumcut.core.rig.anchors import BED
from vellumcut.core.rig.fixing import Fixing
from vellumcut.core.rig.lengths import HOOK_OVERLAP, SEW_ON, TURN_OVER
from vellumcut.core.rig.parts import plan_parts
from vellumcut.core.rig.recipes import RIGS, rigs_for
from vellumcut.core.rig.straps import straps_of_piece
from vellumcut.core.worn.dressing import dressing_order
from vellumcut.core.worn.wear import Parts, packing, pouch_for


def held_by(template: str, way: str, **more) -> PieceDesign:
    design = starter_design(template)
    return design.model_copy(update={"rig": design.rig.model_copy(update={"way": way}), **more})


@long
@given(st.floats(0.85, 1.3), st.floats(0.85, 1.2), st.sampled_from(["rerebrace", "segmented rerebrace"]))
@settings(max_examples=often(6), deadline=None)
def test_an_elastic_round_the_trunk_is_a_loop_that_encloses_it(round_it, arm, template):
    """Seen from above, a line drawn tight round a trunk and back is hardly longer than the hull of the trunk where it
    lies and of its two ends; it cannot be shorter, and runs through nothing."""
    body = measures(limb("upper arm", (0, 110, 190), (280 * arm, 310 * arm, 340 * arm)))
    body = body.model_copy(update={"torso": trunk(bust=940 * round_it, waist=760 * round_it, hip=980 * round_it)})
    costume = worn(held_by(template, "back to itself"), readings=body)
    (piece,) = costume.pieces
    loop = next(s for s in straps_of_piece(costume, piece) if s.key.startswith("round the trunk") and s.side == "left")
    seat, line = costume.seat("torso", "left"), loop.points
    assert line[:, 1].min() < line[-1, 1], "before the chest"
    assert line[:, 1].max() > line[0, 1], "behind the back"
    far = line[line[:, 0].argmin()]
    arm_top = costume.seat("upper arm", "right")
    pit = arm_top.place(arm_top.tube.uv_to_xyz(np.stack([np.linspace(0, 1, 60), np.full(60, 2.0)], axis=1)))
    assert far[2] < pit[:, 2].max(), "under the far arm"
    z = np.interp(np.linspace(0, 1, 40), np.linspace(0, 1, len(line)), line[:, 2])
    levels = np.linspace(ARMPIT - 1.0, ARMPIT, 200)
    at = seat.place(seat.tube.uv_to_xyz(np.stack([np.zeros(200), levels], axis=1)))[:, 2]
    hulls = []
    for v in np.interp([z.min(), np.median(z)], at, levels):
        ring = seat.place(seat.tube.uv_to_xyz(np.stack([np.linspace(0, 1, 241), np.full(241, v)], axis=1)))
        hulls.append(ConvexHull(np.vstack([ring[:, :2], line[[0, -1], :2]])).area)
    shut = float(np.linalg.norm(line[0, :2] - line[-1, :2]))
    assert loop.standing > 0.97 * (min(hulls) - shut)
    assert loop.standing < 1.1 * (max(hulls) - shut)
    assert loop.longest > loop.standing
    assert loop.cut == pytest.approx(loop.longest / (1 + piece.design.rig.stretch) + 2 * SEW_ON + HOOK_OVERLAP, abs=0.1)


BEYOND = {"glove": 30.0, "on the trousers": 35.0, "loops": 45.0, "on the shoe": 28.0}


@pytest.mark.parametrize(("template", "way"), [(t, r.key) for t, rows in RIGS.items() for r in rows if r.key in BEYOND])
def test_a_tab_reaches_as_far_beyond_its_anchor_as_its_row_says_and_is_glued_at_one_end(template, way):
    costume = worn(held_by(template, way))
    (piece,) = costume.pieces
    side = piece.sides[0]
    straps = [s for s in straps_of_piece(costume, piece) if s.side == side]
    tabs = [s for s in straps if s.ends[1].piece == 0]
    assert tabs
    for tab in tabs:
        assert tab.standing == pytest.approx(BEYOND[way], rel=0.25)
        assert tab.longest == tab.standing, "it follows what it hangs on"
        own = 2 * BED if way == "loops" else BED + TURN_OVER
        assert tab.cut == pytest.approx(tab.standing + own, abs=0.01)
    plan = plan_parts(costume, piece, side, straps, None, Fixing())
    webbing = sum(p.count * p.ends for p in plan.parts if re.match("webbing(?! ends)", p.name))
    others = sum(e.piece > 0 for s in straps if s not in tabs and s.material == "webbing" for e in s.ends)
    assert webbing == len(tabs) * (2 if way == "loops" else 1) + others
    (step,) = dressing_order(costume, {1: straps}, {})
    carrier = tabs[0].ends[1].anchor
    assert f"hangs on the {carrier}" in step.how
    opened = packing(costume, {1: straps})[0].apart
    assert any(x.endswith(f"to the {carrier}") for x in opened) == (way != "loops")


@pytest.mark.parametrize("template", ["rerebrace", "segmented rerebrace"])
def test_a_sleeve_pulls_against_another_only_where_there_are_two(template):
    assert "V" in [r.key for r in rigs_for(template, {template}, "both")]
    for side in ("left", "right"):
        assert "V" not in [r.key for r in rigs_for(template, {template}, side)]
        costume = worn(held_by(template, "V", side=side))
        assert costume.rig(costume.pieces[0]).key == RIGS[template][0].key
    costume = worn(held_by(template, "V"))
    (piece,) = costume.pieces
    straps = straps_of_piece(costume, piece)
    across = [s for s in straps if s.key.startswith("across")]
    assert [s.side for s in across] == ["left", "right"]
    middle = [s.points[-1] for s in across]
    assert middle[0] == pytest.approx(middle[1], abs=1.0), "both halves meet at the spine"
    plan = plan_parts(costume, piece, "left", [s for s in straps if s.side == "left"], None, Fixing())
    ends = next(p.count for p in plan.parts if p.name == "webbing ends")
    assert ends == sum(e.piece > 0 for s in straps if s.side == "left" and s.material == "elastic" for e in s.ends)
    (step,) = dressing_order(costume, {1: straps}, {})
    assert step.who == "helper"
    assert step.why.endswith("closes behind the back")


def test_a_spare_lace_is_carried_only_for_what_is_laced():
    design = starter_design("bracer").model_copy(update={"closure": "lacing", "back": "open"})
    for back, carried in (("open", True), ("closed", False)):
        costume = worn(design.model_copy(update={"back": back}))
        pouch = dict(pouch_for(Parts((), costume.pieces)))
        assert ("spare lace" in pouch) is carried, back
