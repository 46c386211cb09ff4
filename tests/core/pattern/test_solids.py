"""Tubes, cones, domes and tails rolled up again from their flat parts: circles and waves fitted to their edges.

Nothing here reads how the program built them: only outlines, and which edges meet.
"""

import numpy as np
import shapely

from tests.core.pattern.closing import WITHIN, by_seam, circle, draws, edges_of, length, made, side
from vellumcut.core.design.solids import Cone, Dome, Elbow, Horn, Ring, Tail, TailPoint
from vellumcut.core.solids.piece import flat_of


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


def test_hoops_of_a_tail_stand_at_their_own_angles():
    """A tail in one plane: the lines along the outside and the inside of its bend tell how its hoops lean."""
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
        across, segments = thick * float(rng.uniform(2.5, 6)), int(rng.integers(5, 10))
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
