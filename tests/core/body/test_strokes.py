"""A maker rubs over the picture: outlines that were spoiled on purpose, and pieces that were missed, come right again
on floors of the third renderer."""

from dataclasses import replace
from functools import cache

import numpy as np
import pytest
import shapely

from tests.casts import off_by, on_ground, picture_of
from tests.depth import long, some
from tests.floors.hand import down, lacks
from tests.floors.score import apart, darts_of
from tests.floors.taken import Wanted, take
from vellumcut.core.design.flat import FlatShape
from vellumcut.core.errors import CraftError
from vellumcut.core.trace.hand.corrections import redrawn
from vellumcut.core.trace.hand.look import no_rags
from vellumcut.core.trace.hand.rub import FLIP, After, Before, rub
from vellumcut.core.trace.hand.stroke import Ground, Stroke
from vellumcut.core.trace.said import ON_A_PATTERN, PARTED
from vellumcut.core.trace.shapes import shape_of
from vellumcut.core.trace.trace import trace_picture
from vellumcut.standins.casts import scene

WITHIN = 0.5, 1.5
"""mm on the whole and anywhere that a mended outline may be off."""


class Floor:
    """A scene that is traced once. truth: its pieces, mm, y down, in the order of its shapes."""

    def __init__(self, wanted: Wanted) -> None:
        taken = take(wanted)
        trace = trace_picture(taken.picture)
        self.ground = Ground(trace.above, trace.view.poses, trace.side)
        self.shapes = [shape_of(p, k) for k, p in enumerate(trace.pieces, 1)]
        self.before = {k: Before(p.sure.view, p.slits, p.findings) for k, p in enumerate(trace.pieces, 1)}
        lying = [shapely.Polygon(taken.place(trace, c.area.exterior.coords)) for c in taken.cuts]
        self.truth = [max(lying, key=lambda t: t.intersection(area_of(s)).area) for s in self.shapes]
        self.darts = [d for c in taken.cuts for d in darts_of(taken, trace, c)]

    def rub(self, shapes: list[FlatShape], points: object, wide: float, piece: bool) -> After:
        return rub(self.ground, shapes, Stroke(np.array(points, float), wide, piece), self.before, 0.1)


@cache
def floor(name: str) -> Floor:
    return Floor(Wanted(19, name, {"plain_sheet": "tan tape", "terrazzo": "blue tape"}[name], 3, width=1600))


def area_of(shape: FlatShape) -> shapely.Polygon:
    return shapely.Polygon(np.array(shape.outline) * FLIP)


def spoiled(shape: FlatShape, area: shapely.Geometry) -> FlatShape:
    return redrawn(shape, shapely.orient_polygons(shapely.transform(area, lambda p: p * FLIP)))


def is_right(shape: FlatShape, truth: shapely.Polygon, floor: Floor) -> bool:
    rms, worst = apart(np.array(shape.outline) * FLIP, truth, floor.darts)
    print(f"piece {shape.number}: {rms:.2f} and {worst:.2f} mm off")
    return rms < WITHIN[0] and worst < WITHIN[1]


def long_way(area: shapely.Geometry) -> np.ndarray:
    """A stroke through the middle of an area, as a hand draws it."""
    box = shapely.get_coordinates(shapely.minimum_rotated_rectangle(area))
    ends = [(box[0] + box[3]) / 2, (box[1] + box[2]) / 2]
    if np.hypot(*(box[1] - box[0])) < np.hypot(*(box[3] - box[0])):
        ends = [(box[0] + box[1]) / 2, (box[2] + box[3]) / 2]
    return np.linspace(*ends, 7)[1:-1]


@long
@pytest.mark.parametrize("name", some(["terrazzo", "plain_sheet"]))
@pytest.mark.parametrize("inwards", [True, False])
def test_a_bite_or_a_bulge_is_rubbed_away_and_nothing_else_moves(name, inwards):
    """At three places of the rim, by lot: a round piece of it is lost, or a round piece of floor is taken in."""
    f, luck = floor(name), np.random.default_rng(4)
    shape = max(f.shapes, key=lambda s: area_of(s).area)
    truth, number = f.truth[f.shapes.index(shape)], shape.number
    assert is_right(shape, truth, f)
    for _ in range(3):
        at = np.array(area_of(shape).exterior.interpolate(luck.uniform(), normalized=True).coords[0])
        wrong = shapely.Point(at).buffer(luck.uniform(7, 14))
        area = area_of(shape).difference(wrong) if inwards else area_of(shape).union(wrong)
        bad = spoiled(shape, max(shapely.get_parts(area), key=lambda p: p.area))
        assert not is_right(bad, truth, f)
        lost = truth.difference(area_of(bad)) if inwards else area_of(bad).difference(truth)
        lost = max(shapely.get_parts(lost.buffer(-0.5)), key=lambda p: p.area)
        others = [s for s in f.shapes if s.number != number]
        after = f.rub([*others, bad], long_way(lost), 5.0, piece=inwards)
        (mended,) = (s for s in after.shapes if s.number == number)
        assert is_right(mended, truth, f), apart(np.array(mended.outline) * FLIP, truth, f.darts)
        was, now = (area_of(bad), area_of(mended)) if inwards else (area_of(mended), area_of(bad))
        assert was.difference(now).buffer(-0.5).is_empty, "rubbed in, nothing goes; rubbed out, nothing comes"
        assert [s for s in after.shapes if s.number != number] == others
        assert 0 < after.seen[number].sure.rms < 1.0
        # One place was put right: the rest still lies on flecks, which one photograph does not tell from a piece.
        assert (ON_A_PATTERN in after.seen[number].findings) == (name == "terrazzo")


def test_a_missed_piece_is_found_and_pieces_run_together_are_parted():
    """The one whose slits were read too short is taken away, and comes with all of them by one stroke and one down each
    slit."""
    f = floor("terrazzo")
    (first,) = (s for s, t in zip(f.shapes, f.truth, strict=True) if not is_right(s, t, f))
    rest = [s for s in f.shapes if s.number != first.number]
    truth = {s.number: t for s, t in zip(f.shapes, f.truth, strict=True)}
    after = f.rub(rest, long_way(truth[first.number]), 9.0, piece=True)
    (found,) = set(after.seen) - {s.number for s in rest}
    assert ON_A_PATTERN in after.seen[found].findings, "what a stroke finds lies on the same floor"
    known = rub(replace(f.ground, bare=True), rest, Stroke(long_way(truth[first.number]), 9.0, True), {}, 0.1)
    assert ON_A_PATTERN not in known.seen[found].findings, "not where the floor was photographed first"
    luck, shapes = np.random.default_rng(2), list(after.shapes)
    for dart in f.darts:
        if lacks(dart, [area_of(s) for s in shapes if s.number == found]):
            shapes = list(rub(f.ground, shapes, down(dart, luck), f.before, 0.1).shapes)
    assert is_right(next(s for s in shapes if s.number == found), truth[first.number], f)
    first = next(s for s in shapes if s.number == found)
    second = min((s for s in rest), key=lambda s: area_of(s).distance(area_of(first)))
    line = shapely.shortest_line(area_of(first), area_of(second))
    way = np.diff(np.array(line.coords), axis=0)[0] / line.length
    bridge = line.buffer(6.0)
    one = spoiled(first, shapely.union_all([area_of(first), bridge, area_of(second)]))
    middle, across = np.array(line.interpolate(0.5, normalized=True).coords[0]), np.array([-way[1], way[0]])
    others = [s for s in rest if s is not second]
    stroke = middle + across * np.linspace(-11, 11, 6)[:, None]
    after = f.rub([one, *others], stroke, min(6.0, 0.5 * line.length), piece=False)
    parts = [s for s in after.shapes if s not in others]
    assert len(parts) == 2
    assert first.number in [s.number for s in parts]
    for s in parts:
        assert is_right(s, max(f.truth, key=lambda t: t.intersection(area_of(s)).area), f)


@long
def test_two_that_touch_are_parted_by_a_line_across_and_joined_by_a_stroke_over_both():
    """Cut in two by a knife, a piece has no floor between its halves: they keep all of it."""
    f = floor("plain_sheet")
    shape = max(f.shapes, key=lambda s: area_of(s).area)
    line = long_way(area_of(shape))
    way = (line[-1] - line[0]) / np.hypot(*(line[-1] - line[0]))
    across = line.mean(axis=0) + np.array([-way[1], way[0]]) * np.linspace(-200, 200, 9)[:, None]
    inside = shapely.intersection(shapely.LineString(across), area_of(shape).buffer(5.0))
    others = [s for s in f.shapes if s.number != shape.number]
    after = f.rub([shape, *others], np.array(inside.coords), 2.0, piece=False)
    halves = [s for s in after.shapes if s not in others]
    assert len(halves) == 2
    assert all(PARTED in after.seen[s.number].findings for s in halves)
    assert sum(area_of(s).area for s in halves) == pytest.approx(area_of(shape).area, abs=15.0)
    again = f.rub(list(after.shapes), line[2:5], 4.0, piece=True)
    (whole,) = (s for s in again.shapes if s not in others)
    assert is_right(whole, f.truth[f.shapes.index(shape)], f)


def test_a_slit_that_was_missed_is_opened_down_to_where_the_hand_ends():
    f = floor("plain_sheet")
    shape, dart = next(
        (s, d)
        for d in sorted(f.darts, key=lambda d: d.angle)
        for s in f.shapes
        if area_of(s).exterior.distance(shapely.Point(d.tip)) < 3
    )
    mouth = dart.tip - dart.way * dart.deep
    closed = spoiled(shape.model_copy(update={"darts": ()}), area_of(shape).buffer(9).buffer(-9))
    assert area_of(closed).contains(shapely.Point(dart.tip - dart.way * dart.deep / 2)), "it is gone"
    after = f.rub([closed], np.linspace(mouth - 4 * dart.way, dart.tip, 8), 1.0, piece=False)
    (mended,) = after.shapes
    tips = np.array([mended.outline[k] for k in mended.darts]) * FLIP
    assert min(np.hypot(*(tips - dart.tip).T)) < 2.0
    (slit,) = (s for s in after.seen[mended.number].slits if np.hypot(*(s.tip - dart.tip)) < 2.0)
    assert slit.deep == pytest.approx(dart.deep, abs=4.0)
    assert not any("not seen to the end" in f.what for f in after.seen[mended.number].findings), (
        "the hand has said where"
    )


def test_what_says_nothing_is_refused_in_words():
    f = floor("plain_sheet")
    card = f.ground.poses[0, :2]
    assert not any(area_of(s).distance(shapely.Point(card + (0, 90.0))) < 15 for s in f.shapes)
    for points, piece, words in (
        ([card], True, "on a card"),
        ([card + (0, 90.0)], False, "No outline runs there"),
        ([card + (0, 75.0), card + (0, 90.0)], True, "all over the floor"),
        ([[9e3, 9e3]], True, "outside the picture"),
    ):
        with pytest.raises(CraftError, match=words):
            f.rub(f.shapes, points, 4.0, piece)


@long
def test_a_brown_piece_on_brown_boards_is_found_by_one_stroke():
    """Nothing was seen of it alone. A card lies on its rim: what is beneath that no stroke can tell."""
    hard = scene(18, "boards", "brown", cards=6, slits=0, size=(1500, 1125), tilt=0.3, over=700.0, blur=0.4)
    trace = trace_picture(picture_of(hard))
    assert not trace.pieces
    truth = on_ground(hard, trace, hard.pieces[0].outline)
    middle = truth.mean(axis=0)
    stroke = Stroke(middle + np.linspace(-60, 60, 5)[:, None] * (0.0, 1.0), 10.0, True)
    (found,) = rub(Ground(trace.above, trace.view.poses, trace.side), (), stroke, {}, 0.1).shapes
    rms, worst = off_by(np.array(found.outline) * FLIP, truth)
    assert rms < 2.5
    assert worst < 13
    assert found.off > rms / 2, "and it says how unsure it is"


def test_a_plate_with_ten_slits_is_no_rag_and_print_on_a_floor_is():
    plate = np.zeros((400, 500), np.uint8)
    plate[40:360, 60:440] = 1
    for k in range(10):
        plate[40:150, 80 + 36 * k : 83 + 36 * k] = 0
    assert no_rags(plate) is plate
    print_ = np.asarray(np.random.default_rng(1).random((100, 125)) > 0.5, np.uint8).repeat(4, 0).repeat(4, 1)
    with pytest.raises(CraftError, match="all over the floor"):
        no_rags(print_)
