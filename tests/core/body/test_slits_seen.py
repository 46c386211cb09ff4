"""Slits, points and strokes of a piece seen from above, against the plane geometry they were cut by: pictures made
here, of plates by chance, blurred and noisy."""

from itertools import pairwise

import cv2
import numpy as np
import pytest
import shapely

from tests.depth import long, mostly, often
from vellumcut.core.trace.edges.bumps import without_bumps
from vellumcut.core.trace.edges.slits import followed
from vellumcut.core.trace.ink import inks_on
from vellumcut.core.trace.outline import Close, Palette, look_close, palette_of
from vellumcut.core.trace.piece import TracedPiece, traced_piece
from vellumcut.core.trace.view.rectify import FromAbove

PER = 0.35
"""mm a pixel."""
FINER = 6
SOFT = 0.38
"""mm of blur."""
WHITE, CLOTH = (0.62, 0.63, 0.6), (0.05, 0.075, 0.06)
BLACK, DUSK = (0.045, 0.045, 0.05), (0.075, 0.04, 0.042)
WOOD, JOINT = (0.3, 0.2, 0.12), (0.04, 0.036, 0.034)


def seen(area: shapely.Polygon, piece=WHITE, ground=CLOTH, ink=(), noise=0.004, seed=0, joints=()) -> TracedPiece:
    """The one piece of a picture from above. area: mm. ink: lines of a black pen, mm. noise: of light, one spread.
    joints: dark lines between the floor's boards, mm."""
    low, high = np.array(area.bounds[:2]) - 14, np.array(area.bounds[2:]) + 14
    size = np.ceil((high - low) / PER).astype(int)[::-1]

    def cover(shape: shapely.Polygon) -> np.ndarray:
        fine = np.zeros(size * FINER)
        for part in getattr(shape, "geoms", [shape]):
            fine += filled(tuple(fine.shape), (np.array(part.exterior.coords) - low) / PER * FINER - 0.5)
        return fine.reshape(size[0], FINER, size[1], FINER).mean(axis=(1, 3)).clip(0, 1)

    share = cover(area)[..., None]
    top = np.broadcast_to(np.array(piece), (*size, 3))
    if ink:
        pen = cover(shapely.union_all([shapely.LineString(x).buffer(0.7) for x in ink]))[..., None]
        top = top * (1 - 0.93 * pen)
    below = np.broadcast_to(np.array(ground), (*size, 3))
    if joints:
        drawn = np.zeros(size, np.float32)
        for x in joints:
            ends = ((np.array(x) - low) / PER * 16).astype(int).tolist()
            cv2.line(drawn, ends[0], ends[1], 1.0, round(2.2 / PER), shift=4)
        dark = drawn[..., None]
        below = below * (1 - dark) + dark * np.array(JOINT)
    light = cv2.GaussianBlur(share * top + (1 - share) * below, (0, 0), SOFT / PER)
    light = light + np.random.default_rng(seed).normal(0, noise, light.shape)
    encoded = np.where(light < 0.0031308, 12.92 * light, 1.055 * np.clip(light, 1e-6, 1) ** (1 / 2.4) - 0.055)
    picture = np.clip(encoded * 255 + 0.5, 0, 255).astype(np.uint8)
    above = FromAbove(picture, np.ones(picture.shape[:2], bool), low, PER)
    mask = np.asarray(share[..., 0] > 0.5, np.uint8)
    known = np.asarray(cv2.erode(1 - mask, np.ones((9, 9), np.uint8)))
    palette = palette_of(above, known)
    palette = Palette(palette.grounds, inks_on(above, mask), patterned=bool(joints))
    found = traced_piece(above, above, followed(look_close(above, mask, palette)), lambda _: 0.1, guessed=False)
    assert found is not None
    return found


def filled(size: tuple[int, int], ring: np.ndarray) -> np.ndarray:
    """Pixels whose middles lie inside a closed line, (n, 2) x and y: along each row, an odd number of crossings in."""
    crossed = np.zeros((size[0], size[1] + 1), np.uint8)
    for (x, y), (to_x, to_y) in pairwise(ring):
        rows = np.arange(np.ceil(min(y, to_y)), np.ceil(max(y, to_y)))
        at = np.ceil(x + (rows - y) * (to_x - x) / (to_y - y)) if len(rows) else rows
        np.add.at(crossed, (rows.astype(int), np.clip(at, 0, size[1]).astype(int)), 1)
    return np.add.accumulate(crossed, axis=1, dtype=np.uint8)[:, :-1] % 2


def slit(mouth: float, deep: float, angle: float) -> tuple[list[tuple[float, float]], np.ndarray]:
    """Corners of a slit in the lower edge of a plate, and its tip, mm; angle: degrees."""
    half = deep * np.tan(np.radians(angle / 2))
    return [(mouth - half, 0.0), (mouth, deep), (mouth + half, 0.0)], np.array([mouth, deep])


def plate(slits: list[tuple[float, float, float]]) -> tuple[shapely.Polygon, np.ndarray]:
    made = [slit(*s) for s in slits]
    corners = [(0.0, 0.0), *(c for s, _ in made for c in s), (220.0, 0.0), (212.0, 130.0), (8.0, 118.0)]
    return shapely.Polygon(corners), np.array([tip for _, tip in made])


def apart(found: TracedPiece, area: shapely.Polygon) -> float:
    """mm by which outline and truth part at most."""
    return float(
        shapely.Polygon(found.outline).exterior.segmentize(0.3).hausdorff_distance(area.exterior.segmentize(0.3))
    )


@pytest.mark.parametrize("seed", range(often(8)))
def test_each_slit_of_several_ends_where_it_was_cut(seed):
    """From 1.6 degrees up to 25, side by side: none is drawn where another one is."""
    luck = np.random.default_rng([seed, 1])
    angles = luck.permutation([luck.uniform(1.6, 3), luck.uniform(4, 9), luck.uniform(12, 25)])
    area, tips = plate([(x, luck.uniform(30, 70), a) for x, a in zip((45, 110, 175), angles, strict=True)])
    found = seen(area, seed=seed)
    assert len(found.slits) == 3
    for tip, angle in zip(tips, angles, strict=True):
        own = min(found.slits, key=lambda s: np.hypot(*(s.tip - tip)))
        assert np.hypot(*(own.tip - tip)) < 2.0, angle


def test_a_slit_opens_by_as_much_as_it_was_cut():
    """Between its legs, whole: near its tip alone wide ones used to be told 10 to 40 % narrower."""
    angles = (2.5, 6.0, 11.0, 18.0, 27.0)
    area, tips = plate([(30 + 40 * k, 45, angle) for k, angle in enumerate(angles)])
    found = seen(area)
    told = [min(found.slits, key=lambda s: np.hypot(*(s.tip - tip))).angle for tip in tips]
    assert np.allclose(told, angles, rtol=0.05, atol=0.2), told
    narrow, tips = plate([(110, 60, 1.3)])
    assert any("not seen to the end" in f.what for f in seen(narrow).findings), "below 1.5 degrees a tip is asked about"


@pytest.mark.parametrize("seed", range(often(6)))
def test_ink_that_runs_into_an_edge_over_a_dark_floor_is_no_slit(seed):
    luck = np.random.default_rng([seed, 2])
    area, tips = plate([(150.0, luck.uniform(40, 60), luck.uniform(8, 20))])
    lean = luck.uniform(-0.6, 0.6)
    # One mark across the rim, as for matching edges, one stroke across the slit itself.
    ink = [[(60 + lean * 9, 9), (60 - lean * 9, -9)], [(128, 18 + 8 * lean), (176, 26)]]
    found = seen(area, ink=ink, seed=seed)
    assert [float(np.hypot(*(s.tip - tips[0]))) < 2 for s in found.slits] == [True]
    assert apart(found, area) < 1.6


@pytest.mark.parametrize("angle", [16.0, 24.0, 38.0])
def test_a_sharp_point_is_as_long_as_it_was_cut_and_a_round_one_no_longer(angle):
    half = 90 * np.tan(np.radians(angle / 2))
    sharp = shapely.Polygon([(0, 0), (90, half), (170, half), (170, -half), (90, -half)])
    found = seen(sharp)
    assert float(np.min(found.outline[:, 0])) == pytest.approx(0.0, abs=0.8)
    round_ = sharp.buffer(-4).buffer(4)
    short = round_.bounds[0]
    assert short > 8
    assert float(np.min(seen(round_).outline[:, 0])) == pytest.approx(short, abs=0.5)


@pytest.mark.parametrize("seed", mostly(range(often(6)), 1))
def test_a_slit_that_no_outline_shows_is_read_or_asked_about_and_nothing_is_asked_of_whole_plates(seed):
    luck = np.random.default_rng([seed, 3])
    area, tips = plate([(luck.uniform(60, 160), luck.uniform(40, 60), luck.uniform(1.0, 1.6))])
    found = seen(area, BLACK, DUSK, noise=0.01, seed=seed)
    said = " ".join(f.what for f in found.findings)
    if found.slits:
        (own,) = found.slits
        assert abs(own.tip[0] - tips[0, 0]) < 1.5
        asked = "faint line" in said or "not seen to the end" in said
        assert asked or np.hypot(*(own.tip - tips[0])) < 4.0
    else:
        assert "like a narrow slit" in said
    whole = seen(plate([])[0], BLACK, DUSK, noise=0.01, seed=seed)
    assert not whole.slits
    assert not any("narrow slit" in f.what for f in whole.findings)


@long
def test_what_noise_would_hide_is_said():
    area, _ = plate([])
    quiet, loud = (seen(area, BLACK, DUSK, noise=n) for n in (0.004, 0.03))
    assert not any("would not be seen" in f.what for f in quiet.findings)
    assert any("would not be seen" in f.what for f in loud.findings)


def test_two_that_touch_are_asked_about_and_one_with_a_waist_is_not():
    one, other = shapely.box(0, 0, 90, 110), shapely.box(89.7, 104, 190, 220)
    assert any("two pieces" in f.what for f in seen(one.union(other)).findings)
    waist = shapely.Polygon([(0, 0), (120, 0), (80, 80), (120, 160), (0, 160), (40, 80)])
    assert not any("two pieces" in f.what for f in seen(waist).findings)


@long
def test_joints_of_boards_that_meet_an_edge_are_no_part_of_the_piece():
    """Black tape on boards whose joints are as dark, met at any angle: each used to jut out by 2.5 mm. One that meets a
    corner may stay."""
    plain = 0
    for seed in range(often(25)):
        luck = np.random.default_rng([seed, 7])
        area, _ = plate([])
        joints = [[(-14, y), (234, y + luck.uniform(-25, 25))] for y in luck.uniform(20, 100, 2)]
        joints += [[(x, -14), (x + luck.uniform(-60, 60), 150)] for x in luck.uniform(40, 180, 2)]
        plain += apart(seen(area, BLACK, WOOD, joints=joints, seed=seed), area) < 1.0
    assert plain >= 0.6 * often(25)


def straightened(*jut: tuple[float, float], told=()) -> float:
    """How far a plate's straight edge still juts out, mm, on a floor of the plate's own grey. told: by a hand."""
    corners = [(0, 0), *jut, (100, 0), (100, 60), (0, 60)]
    ring = shapely.get_coordinates(shapely.segmentize(shapely.LinearRing(corners), 0.5))[:-1]
    grey = np.full((300, 400), 0.4, np.float32)
    light = np.stack([grey] * 3, axis=-1)
    palette = Palette(light[0, :1], light[0, :0], patterned=True)
    close = Close(grey, light, palette, np.array([-10.0, -10.0]), PER, grey, grey)
    return -float(without_bumps(close, ring, *told)[:, 1].min())


def test_what_nothing_tells_from_the_floor_is_a_bump_unless_a_hand_has_said_it():
    """A tab; and a spike that holds nothing, there and back on one line, as a rim may run out along a joint."""
    tab = [(40, 0), (40, -3), (45, -3), (45, 0)]
    stroke = shapely.LineString([(42.5, -2), (42.5, 5)]).buffer(2.0)
    assert straightened(*tab) == 0
    assert straightened(*tab, told=[stroke]) == 3
    assert straightened((40, 0), (40, -3), (40, 0)) == 0


@long
def test_tabs_and_notches_that_were_cut_stay():
    """Small ones, on straight edges, where what is seen there says that they are cut."""
    notched = [(60, 0), (62.5, 3), (65, 0), (120, 0), (120, -3), (126, -3), (126, 0), (220, 0), (212, 130), (8, 118)]
    area = shapely.Polygon([(0, 0), *notched])
    for piece, ground in ((WHITE, CLOTH), (BLACK, WOOD), (DUSK, WHITE)):
        assert apart(seen(area, piece, ground), area) < 1.2
