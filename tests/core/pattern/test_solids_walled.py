"""Walls round an outline, and flat rings, put together again by hand: each flat part is laid where it belongs in space
and held against the surface that was asked for."""

import itertools

import numpy as np
import pytest
import shapely
from shapely import affinity

from tests.core.pattern.closing import WITHIN, draws, edges_of, length, made, side
from vellumcut.core.design.solids import Fin, Gauntlet, Holder, Shelf, ToeCap
from vellumcut.core.solids.piece import flat_of

AIR = 1.0
"""mm that a holder leaves over each face of its thing, as it says."""
FINE = {"quad_segs": 200, "join_style": "round"}


def outline_of(shape):
    return shapely.Polygon(shape.outline)


def apart(one, other):
    """The farthest that two outlines lie from each other once their middles do not, mm."""
    a, b = (levelled(affinity.translate(g, -c.x, -c.y).simplify(0.001)) for g in (one, other) for c in [g.centroid])
    turned = (affinity.rotate(affinity.scale(a, sx), t, origin=(0, 0)) for sx in (1, -1) for t in (0, 90, 180, 270))
    return min(max(farthest(t, b), farthest(b, t)) for t in turned)


def levelled(shape):
    """Its longest straight side level."""
    steps = np.diff(shapely.get_coordinates(shape.exterior), axis=0)
    way = steps[np.hypot(*steps.T).argmax()]
    return affinity.rotate(shape, -np.degrees(np.arctan2(way[1], way[0])), origin=(0, 0))


def farthest(one, other):
    points = shapely.points(shapely.get_coordinates(one.exterior.segmentize(2.0)))
    return float(shapely.distance(points, other.exterior).max())


def toes(cap, by, behind=0.0):
    """Round the toes so far outside the measured face, from behind on."""
    angle = np.linspace(0, np.pi, 4001)
    power = 1 / (1 + 1.5 * cap.blunt)
    plan = np.stack([
        cap.wide / 2 * np.sign(np.cos(angle)) * np.abs(np.cos(angle)) ** power, cap.long * np.sin(angle) ** power,
    ], axis=1)  # fmt: skip
    back = np.vstack([plan[:1] - (0, 60), plan, plan[-1:] - (0, 60)])
    grown = shapely.Polygon(back).buffer(by, **FINE)
    box = grown.bounds
    return grown.intersection(shapely.box(box[0] - 1, behind, box[2] + 1, box[3] + 1))


def test_a_toe_caps_wall_and_top_meet_all_round_at_the_heights_asked():
    for rng, foam, inside in draws(31):
        cap = ToeCap(
            wide=float(rng.uniform(90, 130)), long=float(rng.uniform(100, 160)), toe=float(rng.uniform(40, 60)),
            instep=float(rng.uniform(60, 90)), blunt=float(rng.uniform(0, 0.6)), inside=inside,
        )  # fmt: skip
        wall, top = flat_of(made(cap, foam)).panels
        off, rise = side(inside, foam), (cap.toe - cap.instep) / cap.long
        plan = toes(cap, -off)
        # The top lies off by so much along its own normal, so its free edge goes forward; it is as long as it slopes.
        steep = np.hypot(1, rise)
        before = toes(cap, -off, off * rise / steep)
        assert apart(outline_of(top), affinity.scale(before, 1, steep)) < WITHIN, cap
        ring = np.array(wall.outline)
        around = plan.exterior.length - np.ptp([x for x, y in plan.exterior.coords if y < 1e-9])
        low = ring[ring[:, 1] < ring[:, 1].min() + 0.01]
        assert abs(np.ptp(low[:, 0]) - around) < WITHIN, cap
        # Rolled up round the toes, its upper edge lies on the top's middle everywhere.
        rim = np.array(plan.exterior.coords)[:-1]
        rim = np.roll(
            rim, -int(np.flatnonzero((rim[:, 1] < 1e-9) & (np.roll(rim, -1, axis=0)[:, 1] > 1e-9))[0]), axis=0
        )
        run = np.concatenate([[0], np.cumsum(np.hypot(*np.diff(rim, axis=0).T))])
        own = (ring[:, 0] >= low[:, 0].min()) & (ring[:, 0] <= low[:, 0].max())
        high = ring[own & (ring[:, 1] > ring[:, 1].min() + 10)]
        at = np.interp(high[:, 0] - low[:, 0].min(), run, rim[:, 1])
        asked = cap.instep + rise * at - off * steep
        assert np.abs(high[:, 1] - ring[:, 1].min() - asked).max() < WITHIN, cap


def test_a_holder_has_the_things_outline_on_both_sides_and_its_thickness_between():
    for rng, foam, inside in draws(32):
        w, h = float(rng.uniform(40, 90)), float(rng.uniform(120, 260))
        thing = shapely.Polygon([(0, h), (0, 0.4 * h), (0.5 * w, 0), (w, 0.55 * h), (w, h)])
        ease, deep = float(rng.uniform(1, 8)), float(rng.uniform(10, 50))
        holder = Holder(outline=tuple(thing.exterior.coords)[:-1], ease=ease, deep=deep, inside=inside)
        front, *walls = flat_of(made(holder, foam)).panels
        off = -side(inside, foam)
        how = FINE if inside else {"join_style": "mitre"}
        grown = thing.union(shapely.box(0, h - 1, w, h + 60)).buffer(ease, **how).buffer(off, **how)
        kept = grown.intersection(shapely.box(-99, -99, w + 99, h))
        assert apart(outline_of(front), kept) < WITHIN
        strips = [p for p in walls if "strip" in p.name]
        assert strips
        assert sum(p.copies for p in (front, *walls) if p not in strips) == 2
        around = kept.exterior.length - np.ptp([x for x, y in kept.exterior.coords if y > h - 1e-6])
        between = deep + 2 * AIR + 2 * off
        long = sum(outline_of(p).area * p.copies for p in strips) / between
        assert abs(long - around) < WITHIN, (long, around)
        for p in strips:
            box = shapely.get_coordinates(shapely.minimum_rotated_rectangle(outline_of(p)))
            assert min(abs(s - between) for s in np.hypot(*np.diff(box[:3], axis=0).T)) < WITHIN


def test_a_shelf_lies_round_the_body_and_stands_out_as_asked_on_fins_as_deep():
    for rng, foam, inside in draws(33):
        front, beside, back = (float(x) for x in rng.uniform(40, 160, 3))
        shelf = Shelf(
            girth=float(rng.uniform(700, 1300)), ratio=float(rng.uniform(0.6, 0.95)), front=front, side=beside,
            back=back, fins=int(rng.integers(4, 15)), inside=inside,
        )  # fmt: skip
        panels = flat_of(made(shelf, foam)).panels
        halves = [p for p in panels if "half" in p.name]
        laid = [outline_of(p) for p in halves for _ in range(p.copies)]
        assert len(laid) == 2
        # Both halves lie against the same straight line, one turned over: together they go round the body.
        whole = sum(min(length(e) for e in edges_of(p) if length(e) > 200) for p in halves for _ in range(p.copies))
        assert abs(whole - shelf.girth) < WITHIN
        ends = sorted(length(e) for e in edges_of(halves[0]) if length(e) < 170)
        assert ends == pytest.approx(sorted([front, back]), abs=WITHIN)
        fins = [p for p in panels if "fin" in p.name]
        assert sum(p.copies for p in fins) == shelf.fins
        deep = [float(np.ptp(np.array(p.outline)[:, 0])) for p in fins]
        for p in fins:
            assert float(np.ptp(np.array(p.outline)[:, 1])) == pytest.approx(shelf.drop, abs=WITHIN)
        least, most = min(front, beside, back), max(front, beside, back)
        assert least - WITHIN <= min(deep) <= max(deep) <= most + WITHIN


def test_a_gauntlets_rims_are_the_girths_asked_and_its_sides_close():
    for rng, foam, inside in draws(34):
        g = Gauntlet(
            wrist=float(rng.uniform(80, 110)), cuff=float(rng.uniform(130, 180)), flare=float(rng.uniform(0, 60)),
            long=float(rng.uniform(120, 260)), inside=inside,
        )  # fmt: skip
        panels = flat_of(made(g, foam)).panels
        assert sum(p.copies for p in panels) == 2
        rims, sides = [], []
        for p in panels:
            for e in edges_of(p):
                level = np.ptp(e[:, 1]) < 1e-6
                (rims if level else sides).extend([length(e)] * p.copies)
        # Each rim is bent half round on the middle of the foam: on the measured face it is half a girth.
        on_face = sorted(r + np.pi * side(inside, foam) for r in rims)
        asked = sorted([g.wrist] * 2 + [g.cuff + g.flare] * 2)
        assert on_face == pytest.approx(asked, abs=WITHIN)
        assert np.ptp(sides) < 0.2


def test_a_fins_faces_stand_on_its_base_and_its_core_is_hidden():
    for rng, foam, inside in itertools.islice(draws(35), 12):
        fin = Fin(long=float(rng.uniform(200, 400)), base=float(rng.uniform(90, 140)), inside=inside)
        face, core = flat_of(made(fin, foam)).panels
        corners = shapely.Polygon(
            [(0, 0), (fin.base, 0), (fin.sweep + (fin.base + fin.tip) / 2, fin.long),
             (fin.sweep + (fin.base - fin.tip) / 2, fin.long)]
        )  # fmt: skip
        assert apart(outline_of(face), corners) < WITHIN
        assert (face.copies, face.mirrored) == (1, True), "one, and one turned over"
        assert apart(outline_of(core), corners.buffer(-foam, join_style="mitre")) < WITHIN
