"""Parts of tracing, each against plain geometry: no photograph is wanted to see them right."""

from itertools import pairwise
from types import SimpleNamespace

import numpy as np
import pytest
import shapely
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from tests.depth import often
from vellumcut.core.design.flat import FlatShape, FlatStroke
from vellumcut.core.errors import CraftError
from vellumcut.core.trace.edges.slits import NARROW, Legs, legs_of, notches
from vellumcut.core.trace.hand.corrections import NEAR, segments, unfold
from vellumcut.core.trace.sure import _bulge, roughness
from vellumcut.core.trace.trace import as_read
from vellumcut.core.trace.view.join import BLACK, shown

EXAMPLES = settings(max_examples=often(100), deadline=None)
SLOPE = st.floats(-0.3, 0.3)


@EXAMPLES
@given(slopes=st.tuples(SLOPE, SLOPE), offsets=st.tuples(st.floats(-2, 2), st.floats(-2, 2)), ahead=st.floats(-40, 40))
def test_legs_meet_where_their_lines_cross(slopes, offsets, ahead):
    assume(abs(slopes[0] - slopes[1]) > 0.01)
    legs = Legs(slopes, offsets)
    one, other = (o + s * legs.meet for s, o in zip(slopes, offsets, strict=True))
    assert one == pytest.approx(other, abs=1e-9)
    low, high = sorted(o + s * ahead for s, o in zip(slopes, offsets, strict=True))
    places = np.array([low - 0.6, low - 0.4, (low + high) / 2, high + 0.4, high + 0.6])
    assert legs.between(np.full(5, ahead), places, 0.5).tolist() == [False, True, True, True, False]


def notched(half: float, deep: float, turn: float) -> tuple[np.ndarray, np.ndarray]:
    """A plate with one slit from its edge, every 0.4 mm, and the slit's tip; half: of its angle, radians."""
    mouth = deep * np.tan(half)
    corners = np.array([[-80, 0], [-mouth, 0], [0, deep], [mouth, 0], [80, 0], [80, 120], [-80, 120]], dtype=float)
    c, s = np.cos(turn), np.sin(turn)
    ring = shapely.LinearRing(corners @ np.array([[c, s], [-s, c]]))
    even = shapely.get_coordinates(shapely.segmentize(ring, 0.4))[:-1]
    return even, np.array([-s * deep, c * deep])


@EXAMPLES
@given(half=st.floats(2.0, 12.0), deep=st.floats(25.0, 70.0), turn=st.floats(0, 6.28), forward=st.booleans())
def test_a_slit_is_read_at_its_angle_to_its_tip(half, deep, turn, forward):
    outline, tip = notched(np.radians(half), deep, turn)
    outline = outline if forward else outline[::-1]
    (notch,) = notches(outline)
    assert np.hypot(*(notch.tip - tip)) < 0.5
    assert notch.way @ (tip / deep) == pytest.approx(1.0, abs=0.01)
    # It is followed, by steps of 2 mm, to where its sides are no longer near: in the slit, or out along the edge.
    leg, mouth = deep / np.cos(np.radians(half)), 2 * deep * np.tan(np.radians(half))
    wide = NARROW / (2 * np.sin(np.radians(half))) if mouth > NARROW else leg + (NARROW - mouth) / 2
    assert wide - 0.5 < notch.deep < wide + 2.5
    legs = legs_of(outline, notch, 1.5, 12.0)
    assert legs.opening == pytest.approx(2 * np.tan(np.radians(half)), rel=0.03)
    assert legs.meet == pytest.approx(0.0, abs=0.6)


@EXAMPLES
@given(
    rows=st.lists(st.integers(1, 4), min_size=1, max_size=4), seed=st.integers(0, 999), high=st.floats(60.0, 100.0)
)  # fmt: skip
def test_pieces_are_read_row_by_row_from_the_left(rows, seed, high):
    """Rows 1.3 times as far apart as the pieces are high, each piece up to a fifth of its height off its row."""
    luck, placed = np.random.default_rng(seed), []
    square = np.array([[0.0, 0.0], [50.0, 0.0], [50.0, high], [0.0, high]])
    for row, count in enumerate(rows):
        across = np.sort(luck.choice(6, count, replace=False)) * 70.0
        placed += [square + [x, row * 1.3 * high + luck.uniform(-0.2, 0.2) * high] for x in across]
    mixed = [SimpleNamespace(outline=placed[k]) for k in luck.permutation(len(placed))]
    assert [p.outline[0].tolist() for p in as_read(mixed)] == [p[0].tolist() for p in placed]


@EXAMPLES
@given(radius=st.floats(40.0, 200.0), first=st.integers(0, 359), long=st.integers(8, 90))
def test_a_stretch_bulges_by_the_rise_of_its_arc(radius, first, long):
    angles = np.radians(np.arange(360))
    circle = radius * np.column_stack([np.cos(angles), np.sin(angles)])
    rise = radius * (1 - np.cos(np.radians((long + 6) / 2)))  # three points more at either end
    assert _bulge(circle, (first, (first + long) % 360)) == pytest.approx(rise, abs=0.02 * radius * np.radians(1))


@EXAMPLES
@given(radius=st.floats(60.0, 160.0), wave=st.floats(0.05, 0.4), count=st.integers(80, 120))
def test_roughness_is_what_an_outline_wanders_about_itself(radius, wave, count):
    """A ripple on a circle, smoothed by s = 2 mm: exp(-2 (pi s / l)2) of it is left, and the circle shrinks by
    s2 / 2 r."""
    angles = np.linspace(0, 2 * np.pi, 2400, endpoint=False)
    ripple = radius + wave * np.sin(count * angles)
    outline = ripple[:, None] * np.column_stack([np.cos(angles), np.sin(angles)])
    left = np.exp(-2 * (np.pi * 2.0 / (2 * np.pi * radius / count)) ** 2)
    off = np.abs(wave * (1 - left) * np.sin(count * angles) + 2.0 / radius)
    assert roughness(outline) == pytest.approx(1.4826 * np.median(off), rel=0.08)


def test_a_joined_picture_shows_all_but_the_black_that_runs_in_from_its_rim():
    picture = np.full((60, 80, 3), 200, np.uint8)
    picture[:, :10] = BLACK - 1  # nowhere, from the left rim
    picture[20:30, 10:20] = 0  # and what hangs on it
    picture[40:50, 50:60] = 0  # a black thing on the ground
    picture[:5, 30:40] = BLACK  # dark ground at the rim
    picture[:5, 50:60] = (0, 0, BLACK)
    wanted = np.ones((60, 80), bool)
    wanted[:, :10] = wanted[20:30, 10:20] = False
    assert (shown(picture) == wanted).all()


@EXAMPLES
@given(
    cuts=st.lists(st.floats(30.0, 170.0), min_size=1, max_size=3), lean=st.floats(-0.08, 0.08),
    short=st.floats(0.0, 0.8 * NEAR), seed=st.integers(0, 99),
)  # fmt: skip
def test_lines_that_end_near_the_edge_part_a_shape_all_the_way(cuts, lean, short, seed):
    """Lines across a plate of 100 by 200 that stop short of both sides, drawn in any order and either way."""
    cuts = sorted(cuts)
    assume(all(b - a > 20 for a, b in pairwise(cuts)))
    luck = np.random.default_rng(seed)
    x = np.linspace(short, 100 - short, 9)
    drawn = [[(float(a), float(c + lean * (a - 50))) for a in x] for c in cuts]
    lines = [
        FlatStroke(kind="segment", points=tuple(drawn[k][:: luck.choice([-1, 1])])) for k in luck.permutation(len(cuts))
    ]
    whole = FlatShape(number=7, name="fold", outline=((0, 0), (100, 0), (100, 200), (0, 200)), lines=tuple(lines))
    made = segments(whole, 3)
    assert [(s.number, s.name) for s in made] == [(3 + k, f"fold segment {k + 1}") for k in range(len(cuts) + 1)]
    wanted = np.diff([0, *cuts, 200]) * 100.0
    assert [shapely.Polygon(s.outline).area for s in made] == pytest.approx(wanted.tolist(), rel=0.01)
    assert all(not s.lines for s in made)


def test_a_line_that_ends_in_the_middle_parts_nothing():
    half = FlatStroke(kind="segment", points=((0.0, 100.0), (40.0, 100.0)))
    square = ((0, 0), (100, 0), (100, 200), (0, 200))
    with pytest.raises(CraftError, match="from edge to edge"):
        segments(FlatShape(number=1, outline=square, lines=(half,)), 2)


@EXAMPLES
@given(
    high=st.floats(120.0, 400.0), wide=st.floats(60.0, 200.0), turn=st.floats(0.0, 360.0), bow=st.floats(0.0, 2.5),
    slit=st.floats(0.25, 0.75),
)  # fmt: skip
def test_a_half_unfolds_about_its_middle_to_a_whole_of_twice_its_area(high, wide, turn, bow, slit):
    """A half plate with a slit in its outer side, its middle cut by hand, lying any way: both sides mirror each other,
    with slit and ink on either, and a leg of the slit cannot be its middle."""
    up = np.linspace(0, 1, round(high / 3))[:, None]
    middle = up[::-1] * (0.0, high) + np.sin(np.pi * up[::-1]) * (-bow, 0.0)
    out = np.array([[wide, 0.0], [wide + 12, slit * high - 4], [wide - 30, slit * high], [wide + 12, slit * high + 4]])
    ring = np.vstack([middle, out, [[wide - 5.0, high]]])
    c, s = np.cos(np.radians(turn)), np.sin(np.radians(turn))
    matrix = np.array([[c, s], [-s, c]])
    places = [tuple(map(float, p)) for p in ring @ matrix]
    n = len(middle) - 1
    ink = FlatStroke(kind="fold", points=tuple(tuple(map(float, p)) for p in [[20, 20], [30, 60]] @ matrix))
    half = FlatShape(
        number=1, outline=tuple(places), corners=(0, n, n + 1, n + 2, n + 3, n + 4, n + 5), darts=(n + 3,),
        lines=(ink,), mirrored=True,
    )  # fmt: skip
    whole = unfold(half, 0)
    area = shapely.Polygon(ring @ matrix).area
    assert shapely.Polygon(whole.outline).area == pytest.approx(2 * area, rel=0.003, abs=2 * high * bow)
    assert (len(whole.darts), [x.kind for x in whole.lines]) == (2, ["centre line", "fold", "fold"])
    assert not whole.mirrored
    back = np.array(whole.outline) @ matrix.T * (-1.0, 1.0)
    assert shapely.hausdorff_distance(shapely.Polygon(back), shapely.Polygon(np.array(whole.outline) @ matrix.T)) < 0.5
    with pytest.raises(CraftError, match="both sides"):
        unfold(half, 3)


def test_a_bowed_edge_is_no_middle():
    arc = [(float(60 * np.sin(t)), float(200 * t / np.pi)) for t in np.linspace(np.pi, 0, 20)]
    with pytest.raises(CraftError, match="bowed by 5"):
        unfold(FlatShape(number=1, outline=(*arc, (120.0, 0.0), (120.0, 200.0)), corners=(0, 19, 20, 21)), 0)
