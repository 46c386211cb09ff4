"""Boxes, prisms, pouches, plates and strips closed again from their flat parts: facets folded up about their grooves.

Nothing here reads how the program built them: only outlines, which edges meet, and by how much each fold turns.
"""

import itertools

import numpy as np
import pytest
import shapely

from tests.core.pattern.closing import WITHIN, draws, edges_of, length, made, side
from vellumcut.core.design.solids import (
    Box,
    Cone,
    Dome,
    Finger,
    Hand,
    Pouch,
    SoleEdge,
    Star,
    Tail,
    TailPoint,
    ToeCap,
)  # fmt: skip
from vellumcut.core.errors import CraftError
from vellumcut.core.pattern.as_cut import as_cut
from vellumcut.core.pattern.solid_pattern import solid_pattern
from vellumcut.core.solids.piece import flat_of, known_of
from vellumcut.core.solids.words import STARTERS


def folded_up(shape, folds, foam):
    """Facets of a panel in space, (k, 3) mm each on the middle of the foam and on its inner face, folded about the
    bottom of each groove."""
    whole = shapely.Polygon(shape.outline)
    cuts = [np.array(x.points) for x in shape.lines]
    longer = [np.array([a + (a - b) * 0.01, b + (b - a) * 0.01]) for a, b in cuts]
    parts = [p for p in shapely.get_parts(shapely.polygonize(shapely.get_parts(
        shapely.unary_union([whole.exterior, *map(shapely.LineString, longer)])
    ))) if p.area > 5 and whole.buffer(0.5).contains(p.representative_point())]  # fmt: skip
    placed = {0: (np.eye(3), np.zeros(3))}
    queue = [0]
    for here in queue:
        for cut, fold in zip(cuts, folds, strict=True):
            line = shapely.LineString(cut)
            beside = [k for k, p in enumerate(parts) if line.interpolate(0.5, normalized=True).distance(p) < 0.05]
            to = next((k for k in beside if k != here), None)
            if here not in beside or to is None or to in placed:
                continue
            bottom = (fold.depth if fold.angle > 0 else foam - fold.depth) - foam / 2
            a, b = (np.array([*q, bottom]) for q in cut)
            axis = (b - a) / np.linalg.norm(b - a)
            centre = np.array([*parts[to].centroid.coords[0], a[2]])
            left = np.cross(axis, centre - a)[2] > 0
            angle = np.radians(-fold.angle if left else fold.angle)
            k = np.array([[0, -axis[2], axis[1]], [axis[2], 0, -axis[0]], [-axis[1], axis[0], 0]])
            turn = np.eye(3) + np.sin(angle) * k + (1 - np.cos(angle)) * k @ k
            base, move = placed[here]
            placed[to] = (base @ turn, base @ (a - turn @ a) + move)
            queue.append(to)
    assert len(placed) == len(parts)
    out = []
    for k, p in enumerate(parts):
        flat = np.array(p.exterior.coords)[:-1]
        out.append(tuple(
            np.column_stack([flat, np.full(len(flat), z)]) @ placed[k][0].T + placed[k][1] for z in (0.0, -foam / 2)
        ))  # fmt: skip
    return out


def test_a_box_of_one_sheet_folds_up_to_the_room_asked():
    for rng, foam, inside in draws(6):
        a, b, c = (float(rng.uniform(50, 300)) for _ in "abc")
        design = made(Box(wide=a, deep=b, high=c, inside=inside), foam)
        (shape,) = flat_of(design).panels
        facets = folded_up(shape, known_of(design).folds, foam)
        inner = [f[1] for f in facets]
        planes = [np.linalg.svd(p - p.mean(axis=0))[2][2] for p in inner]
        room = sorted(
            abs((q.mean(axis=0) - p.mean(axis=0)) @ n)
            for (p, n), (q, m) in itertools.combinations(zip(inner, planes, strict=True), 2)
            if abs(n @ m) > 0.999
        )
        took = 0.0 if inside else 2 * foam
        assert np.allclose(room, sorted([a - took, b - took]), atol=WITHIN)


def test_a_box_of_panels_has_each_as_large_as_its_middle_layer():
    for rng, foam, inside in draws(7):
        size = [float(rng.uniform(50, 300)) for _ in "abc"]
        design = made(Box(wide=size[0], deep=size[1], high=size[2], top="closed", folded=False, inside=inside), foam)
        middle = [s - 2 * side(inside, foam) for s in size]
        found = sorted(tuple(sorted(np.ptp(np.array(p.outline), axis=0))) for p in flat_of(design).panels)
        wanted = sorted(tuple(sorted(pair)) for pair in itertools.combinations(middle, 2) for _ in "12")
        assert np.allclose(found, wanted, atol=0.01)
    for panel in as_cut(solid_pattern(design, "box", "b")).panels:
        x, y = sorted(np.ptp(panel.flat.outline, axis=0))
        # What is traced is the outer face: the box's own outside.
        outer = sorted(s + foam * (2 if inside else 0) for s in size)
        assert min(abs(x - o) for o in outer) < 0.05
        assert min(abs(y - o) for o in outer) < 0.05


def test_prisms_and_pyramids_close_round_their_foot():
    for rng, foam, inside in draws(8):
        n, wide, high = int(rng.integers(3, 12)), float(rng.uniform(60, 250)), float(rng.uniform(40, 250))
        top = 0.0 if rng.random() < 0.5 else float(rng.uniform(40, 250))
        design = made(Cone(lower=wide, upper=top, high=high, sides=n, folded=False, inside=inside), foam)
        (shape,) = flat_of(design).panels
        assert shape.copies == n
        tilt = np.arctan2((wide - top) / 2, high)
        apothem = wide / 2 - side(inside, foam) * np.cos(tilt)
        feet = sorted(length(e) for e in edges_of(shape))
        assert min(abs(f - 2 * apothem * np.tan(np.pi / n)) for f in feet) < WITHIN
        fold = known_of(design).joints[0].fold.mean
        # Two walls that lean in by tilt, round a corner of 360/n: the angle between their normals.
        around = np.degrees(np.arccos(np.cos(tilt) ** 2 * np.cos(2 * np.pi / n) + np.sin(tilt) ** 2))
        assert abs(fold - around) < 0.05


def test_edges_that_meet_are_alike_and_ticks_meet_on_every_kind():
    for _, foam, inside in itertools.islice(draws(11), 2):
        for kind, solid in STARTERS.items():
            if kind in ("hand", "model"):
                continue
            design = made(solid.model_copy(update={"inside": inside}), foam)
            try:
                pattern = solid_pattern(design, kind, "b")
            except CraftError:
                assert kind in ("tail", "pouch")
                continue
            assert not any(p.flaws for p in pattern.panels), kind
            for joint in known_of(design).joints:
                sides = [
                    (e, [m.at for m in p.flat.marks if m.edge == e.name])
                    for p in pattern.panels for e in p.flat.edges if e.arc == joint.name
                ]  # fmt: skip
                (one, at), (two, over) = sides
                assert len(at) == len(over) > 0
                # Distances between ticks are the same on both, from whichever end.
                assert np.allclose(np.diff(at), -np.diff(over), atol=0.02), (kind, joint.name)
                assert abs(one.body_length - two.body_length) < max(0.2, 1.3 * foam), (kind, joint.name)


def test_a_pouch_takes_its_thing_and_not_a_larger_one():
    for foam in (2.0, 6.0, 10.0):
        design = made(Pouch(wide=78, high=160, deep=9), foam)
        shapes = {p.name: np.array(p.outline) for p in flat_of(design).panels}
        wide, high = np.ptp(shapes["front"], axis=0) - (foam, foam / 2)
        strip = min(np.ptp(shapes["strip round the sides"], axis=0))
        deep = strip - foam
        for room, thing in zip(sorted((wide, high, deep)), (9.0, 78.0, 160.0), strict=True):
            assert room >= thing + 2.9
            assert room < thing + 8 or (thing == 9 and room < 17)


def test_ticks_meet_where_one_edge_begins_before_the_other():
    """The strip of a pouch turns at its bottom about a groove 3.6 of 6 mm deep, its back is glued there at its middle:
    one edge begins 0.6 mm sooner, and the other goes on above to the fold of the flap."""
    pattern = solid_pattern(made(Pouch(wide=78, high=160, deep=9), 6.0), "pouch", "b")
    strip, back = (next(p.flat for p in pattern.panels if p.flat.number == n) for n in (2, 3))
    low = next(
        e.arc for e in strip.edges if e.arc and 80 < e.body_length < 100 and e.arc in {f.arc for f in back.edges}
    )

    def heights(panel, edge, past):
        """Of its ticks over the inner bottom, mm. past: how far its edge goes on below that."""
        order = [e.arc for e in panel.edges]
        up = order[order.index(edge.arc) - 1] == low
        at = np.array([m.at for m in panel.marks if m.edge == edge.name])
        return sorted((at if up else edge.body_length - at) - past)

    pairs = [(e, f) for e in strip.edges for f in back.edges if e.arc and e.arc == f.arc and e.body_length > 160]
    assert len(pairs) == 2
    for one, two in pairs:
        assert np.allclose(heights(strip, one, 3.6), heights(back, two, 3.0), atol=0.05)


def test_plates_of_a_hand_cover_its_joints_and_stay_apart():
    rng = np.random.default_rng(12)
    for _ in range(3):
        foam = float(rng.choice([2.0, 3.0, 4.0]))
        fingers = tuple(
            Finger(name=f"finger {k}", girth=float(rng.uniform(50, 70)), bones=tuple(rng.uniform(28, 50, 3)),
                   bend=float(rng.uniform(60, 90)))
            for k in range(4)
        )  # fmt: skip
        over = float(rng.uniform(2, 6))
        shapes = {p.name: np.array(p.outline) for p in flat_of(made(Hand(fingers=fingers, over=over), foam)).panels}
        for f in fingers:
            arc = (f.girth / 2 / np.pi + foam / 2) * np.radians(f.bend)
            for k, bone in enumerate(f.bones, 1):
                sides = np.ptp(shapes[f"{f.name} {k}"], axis=0)
                long = min(sides, key=lambda s: abs(s - bone - arc - over))
                assert abs(long - bone - arc - over) < 0.05
                assert long - bone - arc > 0  # at full bend it still lies over its neighbour
            assert all(arc + over < bone for bone in f.bones[:-1])  # stretched, it does not reach the next but one
    claw = made(Hand(fingers=(Finger(name="first", girth=60, bones=(40, 30), bend=60, claw=45),), back_long=0), 3.0)
    shape = next(p for p in flat_of(claw).panels if "claw" in p.name)
    sides = [e for e in edges_of(shape) if len(e) == 2]
    assert len(sides) == 2
    assert length(sides[0]) == pytest.approx(length(sides[1]))
    assert [{m.a.panel, m.b.panel} for m in flat_of(claw).mates] == [{shape.number}], "it is glued to a cone"
    with pytest.raises(CraftError, match="have to overlap"):
        flat_of(made(Hand(fingers=(Finger(name="stub", girth=90, bones=(20, 20), bend=100),)), 10))


def test_walls_round_an_outline_have_its_length_at_their_middle():
    for rng, foam, inside in itertools.islice(draws(13), 10):
        sole = SoleEdge(long=float(rng.uniform(240, 320)), ball=float(rng.uniform(85, 115)), inside=inside)
        (strip,) = flat_of(made(sole, foam)).panels
        a, b, long = sole.ball / 2, sole.heel / 2, sole.long - sole.ball / 2 - sole.heel / 2
        hull = shapely.Point(0, 0).buffer(b, quad_segs=400).union(shapely.Point(0, long).buffer(a, quad_segs=400))
        around = hull.convex_hull.length - 2 * np.pi * side(inside, foam)
        assert abs(np.ptp(np.array(strip.outline)[:, 0]) - around) < WITHIN
        cap = ToeCap(wide=float(rng.uniform(90, 120)), inside=inside)
        wall, top = flat_of(made(cap, foam)).panels
        assert np.ptp(np.array(top.outline)[:, 0]) == pytest.approx(cap.wide - 2 * side(inside, foam), abs=WITHIN)
        assert wall.name != top.name


def test_a_star_of_kites_closes_to_its_points_and_height():
    for rng, foam, inside in draws(14):
        n, outer = int(rng.integers(3, 9)), float(rng.uniform(60, 200))
        inner, high = outer * float(rng.uniform(0.35, 0.6)), float(rng.uniform(10, 60))
        design = made(Star(points=n, outer=outer, inner=inner, high=high, inside=inside), foam)
        panels = flat_of(design).panels
        kites = sum(p.copies for p in panels)
        ridge, hollow = np.hypot(outer, high), np.hypot(inner, high)
        turn = 2 * n * np.degrees(np.arccos(
            (ridge**2 + hollow**2 - (outer**2 + inner**2 - 2 * outer * inner * np.cos(np.pi / n))) / 2 / ridge / hollow
        ))  # fmt: skip
        assert (kites == 1) == (turn < 340)
        if kites > 1:
            # Both triangles of a kite lie at the angle that they have on the star, whatever the foam.
            assert kites == n
            fold = known_of(design).folds[0].angle
            assert fold > 0


def test_what_is_too_much_is_refused_in_words():
    with pytest.raises(CraftError, match="more of one of them"):
        flat_of(made(Dome(parts=24, count=5), 6.0))
    far = tuple(TailPoint(x=0, y=float(y), z=0, wide=60) for y in (0, 2000, 4000))
    with pytest.raises(CraftError, match="take them farther apart"):
        flat_of(made(Tail(points=far, pitch=20), 6.0))
