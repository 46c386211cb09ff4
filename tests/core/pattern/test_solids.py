"""Solids closed again from their flat parts, by hand: circles and waves fitted to their edges, facets folded up.

Nothing here reads how the program built them: only outlines, which edges meet, and by how much each fold turns.
"""

import itertools

import numpy as np
import pytest
import shapely
from scipy.optimize import least_squares

from vellumcut.core.design.piece import PieceDesign
from vellumcut.core.design.solids import (
    Box, Cone, Dome, Elbow, Finger, Hand, Horn, Pouch, Ring, SoleEdge, Star, Tail, TailPoint, ToeCap,
)  # fmt: skip
from vellumcut.core.errors import CraftError
from vellumcut.core.pattern.as_cut import as_cut
from vellumcut.core.pattern.solid_pattern import solid_pattern
from vellumcut.core.solids.piece import flat_of, known_of
from vellumcut.core.solids.words import STARTERS

WITHIN = 0.3
SIZES = 50


def made(solid, foam, **more):
    return PieceDesign(template="belt", solid=solid, foam=foam, **more)


def edges_of(shape):
    ring = np.array(shape.outline)
    corners = [*shape.corners, shape.corners[0] + len(ring)]
    return [np.take(ring, range(a, b + 1), axis=0, mode="wrap") for a, b in itertools.pairwise(corners)]


def length(line):
    return float(np.hypot(*np.diff(line, axis=0).T).sum())


def by_seam(work, shape):
    """The edges at which a panel is glued to itself, and the rims between them, each from seam to seam."""
    edges = edges_of(shape)
    own = [k for m in work.mates if m.a.panel == m.b.panel == shape.number for k in (m.a.edge, m.b.edge)]
    a, b = sorted(own)
    rims = [edges[a + 1 : b], [*edges[b + 1 :], *edges[:a]]]
    return [edges[a], edges[b]], [np.vstack([rows[0][:1], *(e[1:] for e in rows)]) if rows else None for rows in rims]


def circle(points):
    """Middle and radius of the circle through points, by least squares."""
    start = [*points.mean(axis=0), np.ptp(points)]
    found = least_squares(lambda c: np.hypot(*(points - c[:2]).T) - c[2], start, x_scale="jac", xtol=1e-14, ftol=1e-14)
    return found.x[:2], abs(found.x[2])


def draws(seed):
    rng = np.random.default_rng(seed)
    for _ in range(SIZES):
        yield rng, float(rng.choice([2.0, 3.5, 6.0, 10.0, 12.0])), bool(rng.integers(2))


def side(inside, foam):
    """From the middle of a wall to the face that was measured, outwards."""
    return -foam / 2 if inside else foam / 2


def test_cylinders_and_cones_roll_up_to_the_widths_and_height_asked():
    for rng, foam, inside in draws(1):
        low, high = float(rng.uniform(40, 400)), float(rng.uniform(30, 400))
        top = low if rng.random() < 0.3 else float(rng.uniform(30, 400))
        (shape,) = flat_of(made(Cone(lower=low, upper=top, high=high, inside=inside), foam)).panels
        arcs = sorted((e for e in edges_of(shape) if len(e) > 20), key=length)
        wall, other = (e for e in edges_of(shape) if len(e) == 2)
        assert abs(length(wall) - length(other)) < 0.01
        if low == top:
            radii = [length(a) / 2 / np.pi for a in arcs]
        else:
            (inner, small), (outer, large) = (circle(a) for a in arcs)
            assert np.hypot(*(inner - outer)) < 0.2 + 1e-4 * large  # one middle: it is a sector of a ring
            angle = length(arcs[1]) / large
            assert abs(angle - length(arcs[0]) / small) < 2e-3
            radii = [r * angle / 2 / np.pi for r in (small, large)]
        tilt = np.arctan2(abs(low - top) / 2, high)
        for radius, wanted in zip(radii, sorted([low, top]), strict=True):
            assert abs(2 * (radius + side(inside, foam) * np.cos(tilt)) - wanted) < WITHIN
        assert abs(length(wall) - np.hypot(high, (low - top) / 2)) < WITHIN


def test_a_point_closes_to_a_spike_of_the_width_and_height_asked():
    for rng, foam, inside in draws(2):
        wide, high = float(rng.uniform(60, 300)), float(rng.uniform(40, 300))
        (shape,) = flat_of(made(Cone(lower=wide, upper=0, high=high, inside=inside), foam)).panels
        arc = next(e for e in edges_of(shape) if len(e) > 4)
        _, radius = circle(arc)
        turn, off = length(arc) / radius, side(inside, foam)
        half = np.arcsin(turn / 2 / np.pi)
        base = radius * np.sin(half)
        assert abs(2 * (base + off * np.cos(half)) - wide) < WITHIN
        assert abs(base / np.tan(half) + off / np.sin(half) - off * np.sin(half) - high) < WITHIN


def test_slanted_and_oval_walls_have_the_lengths_and_the_area_of_their_middle_layer():
    """The layer half the foam off the surface, by its own partial derivatives."""
    for rng, foam, inside in draws(3):
        low, top, high = (float(rng.uniform(60, 260)) for _ in "abc")
        deep, lean = float(rng.uniform(0.6, 1.6)), float(rng.uniform(-60, 60))
        pieces = int(rng.integers(1, 4))
        solid = Cone(lower=low, upper=top, high=high, deep=deep, lean=lean, pieces=pieces, inside=inside)
        panels = flat_of(made(solid, foam)).panels
        u, v = np.meshgrid(np.linspace(0, 2 * np.pi, 2881), np.linspace(0, 1, 41), indexing="ij")
        wide, slope = (low + (top - low) * v) / 2, (top - low) / 2
        point = np.stack([wide * np.cos(u) + lean * v, deep * wide * np.sin(u), high * v], axis=2)
        du = np.stack([-wide * np.sin(u), deep * wide * np.cos(u), 0 * u], axis=2)
        dv = np.stack([slope * np.cos(u) + lean, deep * slope * np.sin(u), high + 0 * u], axis=2)
        normal = np.cross(du, dv)
        middle = point - side(inside, foam) * normal / np.linalg.norm(normal, axis=2, keepdims=True)
        rims = [np.linalg.norm(np.diff(middle[:, k], axis=0), axis=1).sum() for k in (0, -1)]
        across = np.cross(middle[1:, 1:] - middle[:-1, :-1], middle[1:, :-1] - middle[:-1, 1:])
        area = np.linalg.norm(across, axis=2).sum() / 2
        drawn = sum(length(e) * p.copies for p in panels for e in edges_of(p) if len(e) > 4)
        assert abs(drawn - sum(rims)) < 2 * WITHIN
        assert abs(sum(shapely.Polygon(p.outline).area * p.copies for p in panels) / area - 1) < 2e-3


def test_an_elbow_turns_by_what_was_asked_at_planes_that_halve_each_bend():
    for rng, foam, inside in draws(4):
        wide, turn, segments = float(rng.uniform(50, 220)), float(rng.uniform(20, 170)), int(rng.integers(2, 8))
        bend = wide * float(rng.uniform(0.8, 2))
        solid = Elbow(wide=wide, deep=wide, turn=turn, radius=bend, segments=segments, inside=inside)
        radius, total, middle = wide / 2 - side(inside, foam), 0.0, 0.0
        work = flat_of(made(solid, foam))
        for shape in work.panels:
            (seam, _), rims = by_seam(work, shape)
            up = (seam[1] - seam[0]) / length(seam)
            heights = []
            for rim in rims:
                # Unrolled, an end cut aslant is a wave as high as the tube's radius times the slope.
                x, y = rim @ [up[1], -up[0]], rim @ up
                assert abs(np.ptp(x) - 2 * np.pi * radius) < WITHIN
                wave = np.stack([np.cos(x / radius), np.sin(x / radius), np.ones(len(x))], axis=1)
                found = np.linalg.lstsq(wave, y, rcond=None)[0]
                assert np.abs(wave @ found - y).max() < WITHIN
                heights.append(found[2])
                total += shape.copies * np.degrees(np.arctan(np.hypot(*found[:2]) / radius))
            middle += shape.copies * abs(heights[0] - heights[1])
        assert abs(total - turn) < 0.5
        step = np.radians(turn) / (segments - 1)
        assert abs(middle - 2 * (segments - 1) * bend * np.tan(step / 2)) < WITHIN * segments


def test_gores_close_to_the_ball_that_goes_in_or_round_it():
    for rng, foam, inside in draws(5):
        wide, gores, whole = float(rng.uniform(80, 400)), int(rng.integers(3, 17)), bool(rng.integers(2))
        (shape,) = flat_of(made(Dome(wide=wide, parts=gores, whole=whole, inside=inside), foam)).panels
        assert shape.copies == gores
        middle = wide / 2 - side(inside, foam) if inside else wide / 2 * 1.0 - foam / 2
        ring = np.array(shape.outline)
        # Bent along its middle line only: as wide as the polygon's side, as long as the line is.
        widths = np.ptp(ring[:, 0])
        apothem = widths / 2 / np.tan(np.pi / gores)
        measured = apothem + side(inside, foam)
        wanted = wide / 2 if inside else wide / 2 * np.cos(np.pi / gores)
        assert abs(measured - wanted) < WITHIN
        tall = np.ptp(ring[:, 1])
        angle = np.linspace(-np.pi / 2 if whole else 0, np.pi / 2, 20001)
        flat = 1.0 if inside else np.cos(np.pi / gores)
        round_it, up = wide / 2 * flat * np.cos(angle), wide / 2 * np.sin(angle)
        slope = np.stack([np.gradient(up), -np.gradient(round_it)], axis=1)
        slope /= np.linalg.norm(slope, axis=1, keepdims=True)
        line = np.stack([round_it, up], axis=1) - side(inside, foam) * slope
        assert abs(length(line) - tall) < WITHIN
        assert middle > 0


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
            assert min(abs(x - o) for o in outer) < 0.05 and min(abs(y - o) for o in outer) < 0.05


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


def test_hoops_of_a_tail_stand_at_their_own_angles():
    """A tail in one plane: the lines along the out- and the inside of its bend tell how its hoops lean to each other."""
    for rng, foam, inside in draws(9):
        bend, reach = np.radians(float(rng.uniform(10, 60))), float(rng.uniform(300, 900))
        wide, count = float(rng.uniform(60, 0.3 * reach)), int(rng.integers(3, 8))
        radius = reach / bend
        points = tuple(
            TailPoint(x=0, y=float(radius * np.sin(a)), z=float(radius * (1 - np.cos(a))), wide=wide)
            for a in np.linspace(0, bend, 15)
        )
        work = flat_of(made(Tail(points=points, pitch=reach / count, inside=inside), foam))
        assert sum(p.copies for p in work.panels) == count
        step, off = bend / count, -side(inside, foam)
        for shape in work.panels:
            _, rims = by_seam(work, shape)
            one, two = (shapely.LineString(r) for r in (rims[0], rims[1][::-1]))
            along = [
                one.interpolate(s, normalized=True).distance(two.interpolate(s, normalized=True)) for s in (0.25, 0.75)
            ]
            # Where two segments meet, their middles go on until they do; a free end is cut square.
            meets = (2 if shape.number not in (1, len(work.panels)) else 1) if count > 1 else 0
            more = meets * off * np.tan(step / 2)
            leans = 2 * np.arcsin((max(along) - more - min(along) - more) / 2 / wide)
            assert abs(np.degrees(leans - step)) < 0.5, shape.name


def test_a_ring_closes_round_and_a_horn_tapers_as_asked():
    for rng, foam, inside in draws(10):
        thick = float(rng.uniform(30, 90))
        across, segments = thick * float(rng.uniform(2.5, 6)), int(rng.integers(6, 20))
        panels = flat_of(made(Ring(across=across, thick=thick, segments=segments, inside=inside), foam)).panels
        assert sum(p.copies for p in panels) == segments
        for shape in panels:
            rims = sum(length(e) for e in edges_of(shape) if len(e) > 4)
            # In the plane of a hoop the middle lies off it by more where the wall leans to that plane.
            lean = np.pi / segments * np.abs(np.cos(np.linspace(0, 2 * np.pi, 721)))
            off = -side(inside, foam) * np.mean(1 / np.cos(lean))
            assert abs(rims / 2 - np.pi * (thick + 2 * off)) < 2 * WITHIN
        base, long = float(rng.uniform(50, 120)), float(rng.uniform(120, 400))
        horn = flat_of(made(Horn(base=base, long=long, bend=0, segments=1, inside=inside), foam)).panels[0]
        half = np.arctan2(base / 2, long)
        foot = max(length(e) for e in edges_of(horn) if len(e) > 4)
        assert abs(foot - 2 * np.pi * (base / 2 - side(inside, foam) * np.cos(half))) < WITHIN


def test_edges_that_meet_are_alike_and_ticks_meet_on_every_kind():
    for rng, foam, inside in itertools.islice(draws(11), 4):
        for kind, solid in STARTERS.items():
            if kind == "hand":
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
            assert rng is not None


def test_a_pouch_takes_its_thing_and_not_a_larger_one():
    for foam in (2.0, 6.0, 10.0):
        design = made(Pouch(wide=78, high=160, deep=9), foam)
        shapes = {p.name: np.array(p.outline) for p in flat_of(design).panels}
        wide, high = np.ptp(shapes["front"], axis=0) - (foam, foam / 2)
        strip = min(np.ptp(shapes["strip round the sides"], axis=0))
        deep = strip - foam
        for room, thing in zip(sorted((wide, high, deep)), (9.0, 78.0, 160.0), strict=True):
            assert room >= thing + 2.9
            assert room < thing + 8 or thing == 9 and room < 17


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
                long = max(np.ptp(shapes[f"{f.name} {k}"], axis=0)) if bone > 40 else np.ptp(shapes[f"{f.name} {k}"][:, 1])
                assert abs(long - bone - arc - over) < 0.05
                assert long - bone - arc > 0  # at full bend it still lies over its neighbour
            assert all(arc + over < bone for bone in f.bones[:-1])  # stretched, it does not reach the next but one
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
