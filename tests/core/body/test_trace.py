"""Photographs traced: against the truth they were rendered from, on grounds plain and patterned, and refused where they
cannot be trusted. One hundred scenes of each kind run in ``make bench``."""

from dataclasses import replace

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.casts import Kept, off_by, on_ground, picture_of
from tests.depth import deep, long, often, some
from tests.other_pictures import strange
from vellumcut.core.errors import CraftError
from vellumcut.core.trace.shapes import shape_of
from vellumcut.core.trace.trace import trace_picture
from vellumcut.core.trace.view.join import joined, shown
from vellumcut.core.trace.view.lens import Lens
from vellumcut.core.trace.view.rigid import onto
from vellumcut.standins.camera import LaidCard, Scene, Shot, pixels_of
from vellumcut.standins.casts import cast_piece, demo_scene, scene

SMALL = {"size": (3000, 2250)}
SCENES = {
    "cloth": Kept(scene(5, "cloth", "tape", cards=4)),
    "boards in a shadow": Kept(
        replace(
            scene(13, "boards", "tape", cards=5), shadow=np.array([[-60, -500], [50, -500], [110, 500], [-20, 500.0]])
        )
    ),
    "white on pale cloth": Kept(scene(3, "pale", "white", cards=4)),
    "white on a carpet": Kept(scene(5, "carpet", "white", cards=6)),
    "edges blurred in the screen's curve": Kept(scene(9, "cloth", "tape", cards=4, linear=False)),
}
DEMO = Kept(demo_scene(1))


@long
@pytest.mark.parametrize("name", some(SCENES))
def test_an_outline_is_where_it_was_and_its_error_is_told(name):
    kept = SCENES[name]
    trace = kept.trace
    assert len(trace.pieces) == 1
    piece = trace.pieces[0]
    rms, worst = off_by(piece.outline, on_ground(kept.scene, trace, kept.scene.pieces[0].outline))
    assert rms < 0.5
    assert worst < (3.0 if "carpet" in name else 1.5)
    assert piece.sure.rms > rms / 2
    assert piece.sure.worst > worst / 2
    assert piece.sure.rms < 0.5, "an error that is told far too large helps nobody"
    assert len(piece.slits) == 2


@long
def test_lens_and_ground_come_out_as_they_were():
    """Places far from every card, as the camera saw them: the view that was solved lays them where they are."""
    kept = SCENES["cloth"]
    trace, shot = kept.trace, kept.scene.shot
    angle = np.linspace(0, 2 * np.pi, 60)
    truth = np.column_stack([180 * np.cos(angle), 130 * np.sin(angle)])
    seen = trace.view.lens.unproject(pixels_of(shot, truth))
    assert np.abs(onto(seen, truth).place(seen) - truth).max() < 0.1
    assert trace.view.lens.k1 == pytest.approx(shot.distortion, abs=0.01)


@given(
    st.floats(-0.09, 0.09),
    st.floats(-0.02, 0.02),
    st.floats(-0.01, 0.01),
    st.lists(st.floats(-0.12, 0.12), min_size=2, max_size=2),
)
@settings(max_examples=often(40), deadline=None)
def test_the_way_to_the_picture_and_back_is_one(k1, k2, off, tilt):
    lens = Lens((4000, 3000), np.array([0.3, 0.02, 0.0, -0.02, 0.3, 0.0, *tilt]), k1, k2, off, -off)
    places = np.random.default_rng(3).uniform(-200, 200, (200, 2))
    assert np.abs(lens.unproject(lens.project(places)) - places).max() < 0.01


@long
def test_ink_is_found_by_colour_where_it_was_drawn():
    kept = SCENES["cloth"]
    found = kept.trace.pieces[0].ink
    for colour, line in kept.scene.pieces[0].ink:
        truth = shapely.LineString(on_ground(kept.scene, kept.trace, line))
        near = [shapely.hausdorff_distance(shapely.LineString(s.points), truth) for s in found if s.colour == colour]
        assert near, f"no {colour} line was found"
        assert min(near) < 1.5
    assert len(found) == 3, "edges of tape are no ink"


@long
def test_two_pieces_become_panels_with_corners_and_a_dart():
    shapes = [shape_of(p, k) for k, p in enumerate(DEMO.trace.pieces, 1)]
    assert [len(s.corners) for s in shapes] == [8, 4]
    assert [len(s.darts) for s in shapes] == [1, 0]
    outline = np.array(shapes[0].outline)
    tip = outline[shapes[0].darts[0]]
    assert min(np.hypot(*(outline - tip).T)[np.arange(len(outline)) != shapes[0].darts[0]]) > 0.5
    assert {x.name for s in shapes for x in s.lines} == {"blue", "red", "black"}


def without(kept, count):
    return replace(kept, cards=list(kept.cards)[:count])


def with_card(kept, k, **change):
    return replace(kept, cards=[replace(c, **change) if j == k else c for j, c in enumerate(kept.cards)])


PLAIN = scene(2, "cloth", "tape", cards=4, slits=0, **SMALL)


@pytest.mark.parametrize(
    ("bad", "words"),
    some(
        [
            (without(PLAIN, 3), "three cards"),
            (without(PLAIN, 0), "no card"),
            (with_card(PLAIN, 1, lifted=4.0), "does not lie flat"),
            (with_card(PLAIN, 2, size=0.94), "size of the others"),
        ]
    ),
    ids=["three cards", "none", "a bent card", "a card of another size"],
)
def test_a_picture_without_four_good_cards_is_refused_with_what_to_do(bad, words):
    with pytest.raises(CraftError) as refused:
        trace_picture(picture_of(bad))
    assert words in refused.value.message
    assert "photograph again" in refused.value.message


@deep
def test_of_six_cards_one_that_is_bent_is_left_out_and_the_rest_measure_on():
    bad = with_card(scene(2, "cloth", "tape", cards=6, slits=0, **SMALL), 0, lifted=5.0)
    trace = trace_picture(picture_of(bad))
    assert trace.dropped == (bad.cards[0].number,)
    rms, worst = off_by(trace.pieces[0].outline, on_ground(bad, trace, bad.pieces[0].outline))
    assert rms < 0.5
    assert worst < 1.5


def shone_on(kept):
    at = kept.pieces[0].outline[40]
    return replace(kept, glare=(float(at[0]), float(at[1]), 22.0))


def moved_out(kept):
    piece = kept.pieces[0]
    return replace(kept, pieces=[replace(piece, outline=piece.outline + (kept.shot.over * 0.42, 0.0), ink=())])


@long
@pytest.mark.parametrize(
    "bad",
    some([PLAIN.with_shot(blur=6.0), shone_on(PLAIN), moved_out(PLAIN)]),
    ids=["blurred", "a shine over the edge", "out of the picture"],
)
def test_what_cannot_be_trusted_is_never_silent(bad):
    try:
        trace = trace_picture(picture_of(bad))
    except CraftError:
        return
    found = [*trace.findings, *(f for p in trace.pieces for f in p.findings)]
    assert any(f.weight == "stop" for f in found)
    assert all(f.do for f in found)


@long
@pytest.mark.parametrize(
    "other",
    some(
        [
            (("linen", "white", 1, False),),
            (("herringbone", "duct", 1, False),),
            (("rug", "white", 2, False),),
            (("tiles", "tan", 1, True),),
        ]
    ),
)
def test_photographs_of_another_make_are_read_as_well(other):
    """On pale linen, on a pattern as bright as the piece, on a rug, and with a shadow's hard edge across it."""
    made = strange(*other, size=(2800, 2100))
    trace = trace_picture(made.picture)
    (piece,) = trace.pieces
    rms, worst = off_by(piece.outline, made.on(trace))
    assert rms < 0.35
    assert rms < 2 * piece.sure.rms
    assert worst < 2 * piece.sure.worst


@deep
def test_a_piece_larger_than_a_picture_is_whole_where_two_share_cards_and_a_moved_card_is_refused():
    luck = np.random.default_rng(3)
    piece = cast_piece(5, 760.0, 260.0, 3)
    spots = [(-400, -190), (-395, 185), (-60, -195), (10, 190), (60, -190), (-90, 200), (400, -180), (395, 190)]
    cards = [LaidCard(k, x, y, float(luck.uniform(0, 6))) for k, (x, y) in enumerate(spots)]
    whole = Scene([piece], cards, "cloth", Shot(tilt=0.2, way=0.5, over=700.0, size=(2000, 1500)), seed=5)
    left, right = (picture_of(whole.with_shot(aim=(x, 0.0), tilt=t)) for x, t in ((-215.0, 0.2), (215.0, 0.3)))
    picture = joined([left, right])
    trace = trace_picture(picture, shown=shown(picture))
    (found,) = trace.pieces
    rms, worst = off_by(found.outline, on_ground(whole, trace, piece.outline))
    assert rms < 0.2
    assert worst < 1.5
    assert rms < 2 * found.sure.rms
    assert not found.findings
    (cut,) = trace_picture(left).pieces
    assert "stop" in [f.weight for f in cut.findings], "alone, each shows it cut off"
    with pytest.raises(CraftError, match="Photograph 2: The picture is not sharp"):
        joined([left, picture_of(whole.with_shot(aim=(215.0, 0.0), blur=4.0))])
    pushed = replace(whole, cards=[replace(c, x=c.x + 3.0) if c.number == 3 else c for c in cards])
    with pytest.raises(CraftError, match="moved"):
        joined([left, picture_of(pushed.with_shot(aim=(215.0, 0.0)))])
    strange = replace(whole, cards=[replace(cards[k], number=8 + n) for n, k in enumerate((0, 1, 2, 5))])
    with pytest.raises(CraftError, match="shares no card"):
        joined([left, picture_of(strange.with_shot(aim=(-215.0, 0.0)))])
