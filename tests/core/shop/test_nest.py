"""Parts on sheets, measured by another hand: outlines as points, distances by a tree of points, insides by OpenCV; no
shapely but to hand the parts over."""

import itertools

import cv2
import numpy as np
import pytest
import shapely
from scipy.spatial import cKDTree

from tests.depth import DEEP
from vellumcut.core.nest.fill import Rules, fill, tables_of
from vellumcut.core.nest.leaves import first_cuts, knife_order, rest_of, troubles
from vellumcut.core.nest.plans import by_orders, too_large
from vellumcut.core.nest.search import Nest, first_order, first_plan, merit
from vellumcut.core.nest.shapes import FREE_TURNS, Form, NestPart, NestSheet, Placed
from vellumcut.service.shop.nest_worker import plan_told, searching

SEEDS = range(20 if DEEP else 4)


def crescent(lot, size):
    """An arc with thickness, like a collar."""
    turn = lot.uniform(0.6, 2.4)
    t = np.linspace(-turn, turn, 40)
    thick = size * lot.uniform(0.15, 0.45)
    return np.vstack([np.c_[np.cos(t), np.sin(t)] * size, (np.c_[np.cos(t), np.sin(t)] * (size - thick))[::-1]])


def plate(lot, size):
    """Four corners with bowed sides, like a greave."""
    w, h = size * lot.uniform(0.4, 1.0), size * lot.uniform(0.7, 1.6)
    corners = np.array([[0, 0], [w, lot.uniform(-0.1, 0.1) * h], [w * lot.uniform(0.7, 1.2), h], [0, h]])
    out = []
    for a, b in zip(corners, np.roll(corners, -1, axis=0), strict=True):
        s = np.linspace(0, 1, 15)[:-1, None]
        off = np.array([b[1] - a[1], a[0] - b[0]]) * lot.uniform(-0.12, 0.12)
        out.append(a + s * (b - a) + np.sin(np.pi * s) * off)
    return np.vstack(out)


def strip(lot, size):
    w, h = size * lot.uniform(1.5, 3.0), lot.uniform(8, 22)
    return np.array([[0, 0], [w, 0], [w, h], [0, h]], dtype=float)


def someones_parts(seed, many, size=(30.0, 170.0)):
    """The same twice, the same turned over, thin and thick, far from their origin."""
    lot = np.random.default_rng(seed)
    out = []
    while len(out) < many:
        make = (crescent, plate, plate, strip)[lot.integers(4)]
        ring = make(lot, float(np.exp(lot.uniform(*np.log(size))))) + lot.uniform(-500, 500, 2)
        for over in range(1 + int(lot.integers(2))):
            form = Form(shapely.Polygon(ring * [-1 if over else 1, 1]).buffer(0))
            out += [NestPart(f"p{len(out) + k}", form) for k in range(int(lot.integers(1, 3)))]
    return tuple(out[:many])


def sheets(many, wide=1000.0, tall=500.0, word="new"):
    return tuple(NestSheet(f"{word} {k + 1}", shapely.box(0, 0, wide, tall), owned=False) for k in range(many))


def laid_points(one: Placed) -> np.ndarray:
    """Its outline and holes half a millimetre apart, turned and moved with plain numbers."""
    rings = [one.part.form.shape.exterior, *one.part.form.shape.interiors]
    out = []
    for ring in rings:
        p = np.asarray(ring.coords)
        for a, b in itertools.pairwise(p):
            n = max(1, int(np.hypot(*(b - a)) / 0.5))
            out.append(a + np.linspace(0, 1, n, endpoint=False)[:, None] * (b - a))
    c, s = np.cos(np.radians(one.turn)), np.sin(np.radians(one.turn))
    return np.vstack(out) @ np.array([[c, s], [-s, c]]) + [one.x, one.y]


def in_ring(ring, at):
    return cv2.pointPolygonTest(ring.astype(np.float32).reshape(-1, 1, 2), (float(at[0]), float(at[1])), False) > 0


def measured(plan, nest):
    """Least distance between two parts of a sheet and to its edge, mm; negative where one lies on another."""
    between, edge = np.inf, np.inf
    for sheet in nest.sheets:
        own = [laid_points(p) for p in plan.placed if p.sheet == sheet.key]
        left, low, right, high = sheet.shape.bounds
        for points in own:
            edge = min(edge, *(points.min(0) - [left, low]), *([right, high] - points.max(0)))
        trees = [cKDTree(p) for p in own]
        for a in range(len(own)):
            for b in range(a):
                near = trees[a].query(own[b])[0].min()
                if in_ring(own[a], own[b][0]) or in_ring(own[b], own[a][0]):
                    near = -1.0
                between = min(between, near)
    return between, edge


@pytest.mark.parametrize("seed", SEEDS)
def test_nothing_lies_on_anything_and_all_is_there(seed):
    lot = np.random.default_rng(seed + 90)
    rules = Rules(float(lot.choice([1.5, 3.0, 5.0])), float(lot.choice([0.0, 3.0, 8.0])))
    nest = Nest(someones_parts(seed, 30), sheets(8), rules)
    plans = [first_plan(nest), *(c.plan for c in by_orders(nest, seed, "quick"))]
    for plan in plans[:: 1 if DEEP else 4]:
        assert sorted(p.part.key for p in plan.placed) == sorted(p.key for p in nest.parts)
        between, edge = measured(plan, nest)
        # Points half a millimetre apart read a crossing distance too large by less than a twentieth.
        assert between > rules.clearance - 0.01
        assert edge > rules.edge - 0.01
        assert not list(troubles(nest.sheets, plan, rules))
    assert {p.turn for p in plans[-1].placed} <= set(FREE_TURNS)


def by_rectangles(nest):
    """What parts as rectangles take, side by side in shelves: sheets with the share of the last."""
    wide, tall = nest.sheets[0].size
    gap, x, y, high, full = nest.rules.clearance, 0.0, 0.0, 0.0, 0
    boxes = sorted(((max(b[2] - b[0], b[3] - b[1]), min(b[2] - b[0], b[3] - b[1])) for b in
                    (p.form.shape.bounds for p in nest.parts)), key=lambda b: -b[1])  # fmt: skip
    for w, h in boxes:
        if y + h > tall:
            x, y, high = x + high, 0.0, 0.0
        if x + w > wide:
            full, x, y, high = full + 1, 0.0, 0.0, 0.0
        high, y = max(high, w + gap), y + h + gap
    return full + (x + high) / wide


@pytest.mark.parametrize("seed", SEEDS)
def test_the_search_is_better_than_the_first_answer_and_a_tenth_better_than_rectangles(seed):
    nest = Nest(someones_parts(seed + 40, 40), sheets(9))
    found = list(by_orders(nest, seed, "quick"))
    first, best = merit(nest, found[0].plan), min(merit(nest, c.plan) for c in found)
    assert best <= first
    assert best[2] < 0.9 * by_rectangles(nest)
    again = list(by_orders(nest, seed, "quick"))
    assert [merit(nest, c.plan) for c in again] == [merit(nest, c.plan) for c in found]


def by_engine(nest, seed):
    """The last plan of the strip engine, from a process of its own as the program runs it."""
    said = None
    with searching(nest, seed, "quick") as search:
        while search.running:
            way, told = search.next(120.0)
            said = told if way == "strip" and told is not None else said
    return plan_told(nest, said).plan


def test_the_strip_engine_lays_all_of_it_and_the_same_twice():
    nest = Nest(someones_parts(7, 24), sheets(8))
    plan = by_engine(nest, 3)
    assert sorted(p.part.key for p in plan.placed) == sorted(p.key for p in nest.parts)
    between, edge = measured(plan, nest)
    assert between > nest.rules.clearance - 0.01
    assert edge > nest.rules.edge - 0.01
    places = [sorted((p.part.key, p.sheet, p.turn, p.x, p.y) for p in x.placed) for x in (plan, by_engine(nest, 3))]
    assert places[0] == places[1]


def test_small_parts_lie_in_the_windows_of_large_ones():
    ring = Form(shapely.Point(0, 0).buffer(200).difference(shapely.Point(0, 0).buffer(170)))
    small = Form(shapely.box(0, 0, 90, 90))
    parts = (NestPart("ring", ring), *(NestPart(f"s{k}", small) for k in range(4)))
    nest = Nest(parts, sheets(2, 410, 410))
    plan = first_plan(nest)
    assert set(plan.used) == {"new 1"}
    assert not list(troubles(nest.sheets, plan, nest.rules))


def test_offcuts_come_first_and_their_outline_holds():
    corner = NestSheet(
        "offcut 1", shapely.Polygon([(0, 0), (300, 0), (300, 100), (100, 100), (100, 300), (0, 300)]), True
    )
    parts = tuple(NestPart(f"p{k}", Form(shapely.box(0, 0, 85, 190))) for k in range(3))
    nest = Nest(parts, (corner, *sheets(2)))
    plan = first_plan(nest)
    on = plan.on("offcut 1")
    assert len(on) == 2
    for one in on:
        points = laid_points(one)
        assert not ((points[:, 0] > 100 - 2.9) & (points[:, 1] > 100 - 2.9)).any()


def test_what_is_locked_stays_and_the_rest_goes_round_it():
    parts = someones_parts(3, 20)
    nest = Nest(parts[1:], sheets(4), Rules(), (Placed(parts[0], "new 1", 90.0, 700.0, 400.0, locked=True),))
    nest = Nest(nest.parts, nest.sheets, nest.rules, (_inside(nest.held[0]),))
    for candidate in by_orders(nest, 1, "quick"):
        kept = next(p for p in candidate.plan.placed if p.part.key == parts[0].key)
        assert kept == nest.held[0]
        assert measured(candidate.plan, nest)[0] > 3 - 0.01


def _inside(one):
    low = laid_points(one).min(0)
    return Placed(one.part, one.sheet, one.turn, one.x - low[0] + 400, one.y - low[1] + 60, True)


def test_untidy_and_impossible_parts_are_named_not_laid():
    giant = NestPart("giant", Form(shapely.box(0, 0, 1200, 600)))
    tall = NestPart("tall", Form(shapely.box(0, 0, 990, 20)))
    upright = NestPart("upright", Form(shapely.box(0, 0, 990, 20), (90.0,)))
    nest = Nest((giant, tall, upright), sheets(2))
    assert [p.key for p in too_large(nest)] == ["giant", "upright"]
    assert [p.key for p in first_plan(nest).left] == ["giant", "upright"]


def test_what_is_wrong_by_hand_is_told():
    square = Form(shapely.box(0, 0, 50, 50))
    at = [(10, 10), (40, 10), (120, 10), (171, 10), (990, 10)]
    placed = tuple(Placed(NestPart(f"p{k}", square), "new 1", 0.0, x, y) for k, (x, y) in enumerate(at))
    nest = Nest((), sheets(1), Rules(), placed)
    plan = fill((), tables_of(nest.sheets, nest.rules, placed))
    told = {t.parts: t.words for t in troubles(nest.sheets, plan, nest.rules)}
    assert set(told) == {("p0", "p1"), ("p2", "p3"), ("p4",)}
    assert "1.0 mm apart" in told["p2", "p3"]
    assert "20.0 cm2" in told["p4",]


@pytest.mark.parametrize("seed", SEEDS)
def test_straight_cuts_go_through_no_part_and_the_rest_is_empty(seed):
    sheet = sheets(1, 2000, 1000)[0]
    nest = Nest(someones_parts(seed + 11, 25), (sheet,))
    plan = first_plan(nest)
    points = [laid_points(p) for p in plan.placed]
    for x in first_cuts(sheet, plan.placed):
        assert not any(p[:, 0].min() < x < p[:, 0].max() for p in points)
    rest = rest_of(sheet, plan.placed, nest.rules)
    assert rest is not None
    left, low, right, high = rest.bounds
    every = np.vstack(points)
    assert not ((every > [left - 2.9, low - 2.9]) & (every < [right + 2.9, high + 2.9])).all(axis=1).any()
    order = knife_order(plan.placed)
    assert order[0].part.form.area < order[-1].part.form.area
    assert {p.part.key for p in order} == {p.key for p in first_order(nest.parts)}


def test_what_lies_in_a_hole_is_cut_before_what_is_round_it():
    ring = Form(shapely.Point(0, 0).buffer(150).difference(shapely.Point(0, 0).buffer(145)))
    disc = Form(shapely.Point(0, 0).buffer(130))
    dot = Form(shapely.Point(0, 0).buffer(5))
    placed = [Placed(NestPart(k, f), "new 1", 0.0, x, 200.0) for k, f, x in (
        ("ring", ring, 200.0), ("dot", dot, 600.0), ("disc", disc, 200.0))]  # fmt: skip
    assert ring.area < disc.area
    assert [p.part.key for p in knife_order(placed)] == ["disc", "dot", "ring"]
