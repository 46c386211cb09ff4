"""Cuffs against cones and frames worked out by hand, links against a count of its own, windows and seats by area."""

import math

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely import affinity

from tests.bodies import WEARER
from tests.core.pattern.test_laid_on import BASE, EASE, Sheet, laid_along, piece_of, with_details
from tests.core.pattern.test_plates_and_fixings import cone
from tests.depth import mostly, often
from vellumcut.core.design.making import Detail, Making, MotifRing
from vellumcut.core.design.parts import Cuff, Links, Plate
from vellumcut.core.errors import CraftError
from vellumcut.core.finish.masks import mask_sheet
from vellumcut.core.ink.library.table import TEMPLATES, starter_design
from vellumcut.core.make.job import Job
from vellumcut.core.make.order import build_steps
from vellumcut.core.make.plan import plan_piece
from vellumcut.core.make.weight import detail_grams, weigh
from vellumcut.core.parts.crossings import crossings_of
from vellumcut.core.parts.cuff import cuffs_of
from vellumcut.core.parts.laid import laid_parts, lay_part
from vellumcut.core.parts.lines import lines_there
from vellumcut.core.pattern.as_cut import as_cut
from vellumcut.core.pattern.pattern import pattern_piece

FOAM = 4.0


def cuff(*lines, **more) -> Detail:
    return Detail(key="c", kind="collar", name="cuff", shape=Cuff(lines=lines, **{"over": 0, **more}))


def links(*lines, **more) -> Detail:
    return Detail(key="l", kind="links", name="mail", shape=Links(lines=lines, **more))


class Above(Sheet):
    """The same plane 5 mm higher."""

    def points(self, uv):
        return super().points(uv) + [0.0, 0.0, 5.0]


@given(low=st.floats(38, 60), high=st.floats(38, 60), flare=st.floats(-30, 90), tall=st.floats(10, 60),
       edge=st.sampled_from(["lower edge", "upper edge"]))  # fmt: skip
@settings(max_examples=often(25), deadline=None)
def test_a_cuff_on_a_sleeve_is_a_ring_of_another_cone(low, high, flare, tall, edge):
    """Its foot is as long as the sleeve's edge, its head goes round where its slope has led it; no strain."""
    length = 120.0
    readings, design = cone(low, high, length)
    piece = piece_of(readings, design)
    (part,) = lay_part(piece, cuff(edge, high=tall, flare=flare))
    slope = math.atan((high - low) / length) * (1 if edge == "upper edge" else -1)
    start = (high if edge == "upper edge" else low) + (BASE + EASE + FOAM / 2) * math.cos(slope)
    end = start + tall * math.sin(slope + math.radians(flare))
    assert not part.problem
    assert part.length == pytest.approx(2 * math.pi * start, rel=2e-3)
    heads = sum(float(np.linalg.norm(np.diff(c.head, axis=0), axis=1).sum()) for c in part.cuffs)
    assert heads == pytest.approx(2 * math.pi * end, rel=4e-3)
    assert sum(c.area for c in part.cuffs) == pytest.approx(math.pi * (start + end) * tall, rel=4e-3)
    for c in part.cuffs:
        n = len(c.foot)
        flat = np.linalg.norm(np.diff(c.outline[:n], axis=0), axis=1).sum()
        assert flat == pytest.approx(c.near, abs=0.05), "what is cut is as long as what it is glued to"
        assert shapely.Polygon(c.outline).is_valid


@pytest.mark.parametrize("corners", [3, 4, 5, 8])
@pytest.mark.parametrize("flare", [0.0, 35.0, 70.0])
@pytest.mark.parametrize("outside", [True, False])
def test_a_cuff_round_corners_is_mitred_so_that_its_sides_meet(corners, flare, outside):
    """On a plane frame with equal sides: trapezes, their long side from the angle by hand."""
    turn = np.linspace(0, 2 * math.pi, corners + 1)
    ring = 110 * np.stack([np.cos(turn), np.sin(turn)], axis=1)
    tall, side = 24.0, float(np.hypot(*(ring[1] - ring[0])))
    whole = shapely.Polygon(ring)
    ground = whole if outside else shapely.Polygon(180 * ring / 110, [ring[::-1]])
    line = ring if outside else ring[::-1]
    own = Cuff(lines=("edge",), high=tall, flare=flare, over=0)
    parts = cuffs_of(laid_along(Sheet(), ground, line), own, Above())
    assert len(parts) == corners
    grows = 2 * tall * math.cos(math.radians(flare)) * math.tan(math.pi / corners) * (1 if outside else -1)
    for part in parts:
        shape = shapely.Polygon(part.outline)
        assert shape.area == pytest.approx(tall * (side + grows / 2), rel=3e-3)
        assert np.ptp(part.outline[:, 0]) == pytest.approx(max(side, side + grows), abs=0.4)
        assert part.outline[:, 1].max() == pytest.approx(tall, abs=0.1)


@pytest.mark.parametrize("template", mostly(TEMPLATES, 3))
def test_a_cuff_on_any_edge_is_cut_as_it_is_told(template):
    """Every edge there is: cut, or said why not; its foot as long as the edge and what it is cut longer."""
    design = starter_design(template)
    piece = piece_of(WEARER, design)
    for line in (x for x in lines_there(piece) if x.kind == "edge"):
        for over in (0.0, 12.0):
            parts = lay_part(piece, cuff(line.name, high=25.0, flare=25.0, over=over))
            if any(p.problem for p in parts):
                continue
            glued = sum(c.near for p in parts for c in p.cuffs)
            assert glued == pytest.approx(line.length, rel=0.02, abs=6.0), line.name
            for c in (c for p in parts for c in p.cuffs):
                shape = shapely.Polygon(c.outline)
                assert shape.is_valid
                assert shape.buffer(0.01).area == pytest.approx(c.area, rel=0.01)
    made = pattern_piece(WEARER, with_details(design, cuff(line.name, high=25.0)), "Piece", "Build", None)
    own = made.laid["c"]
    cut = [q for q in made.parts if q.label.piece.endswith("cuff")]
    assert sum(q.flat.area * q.copies for q in cut) == pytest.approx(own.area, rel=2e-3)
    assert sum(q.copies for q in cut) == own.plates


@given(low=st.floats(34, 60), high=st.floats(34, 75), wide=st.floats(8, 24), tall=st.floats(8, 24))
@settings(max_examples=often(25), deadline=None)
def test_links_round_a_sleeve_take_their_columns_from_its_girth(low, high, wide, tall):
    """Counted by hand on the cone; a row never stands open by a column, and rows grow as the sleeve does."""
    length = 160.0
    readings, design = cone(low, high, length)
    (part,) = lay_part(piece_of(readings, design), links("lower edge", wide=wide, high=tall, edge=0))
    slope = math.atan((high - low) / length)
    out, slant = (BASE + EASE + FOAM) * math.cos(slope), length / math.cos(slope)
    assert len(part.links) == int(slant / tall + 0.5 + 0.02)
    for row in part.links:
        girth = 2 * math.pi * (low + out + (row.number + 0.5) * tall * math.sin(slope))
        assert row.length == pytest.approx(girth, rel=3e-3)
        if min(abs(girth / wide - 0.25 - k) for k in range(200)) > 0.02:
            assert len(row.at) == math.ceil(girth / wide - 0.25)
    counts = [len(r.at) for r in part.links]
    assert counts == sorted(counts, reverse=high < low)


def test_links_are_bought_in_strips_and_packs_and_weigh_what_they_are():
    readings, design = cone(40, 50, 160.0)
    detail = links("lower edge", wide=14, high=14, strip=25, pack=6, edge=16)
    made = pattern_piece(readings, with_details(design, detail), "Sleeve", "Build", None)
    own = made.laid["l"]
    assert own.link_strips == math.ceil(own.count / 25)
    assert own.packs == math.ceil((own.link_strips + round(0.1 * own.link_strips)) / 6)
    assert own.sheet == ("armour", 2.0)
    assert sum(own.strips.values()) == 4, "one outside and one inside, on two arms"
    assert own.area == pytest.approx(4 * 16 * 2 * math.pi * (40 + BASE + EASE + 4 + 1 + 8 * 10 / 160), rel=0.01)
    job = Job(as_cut(made), ())
    grams = detail_grams(next(d for d in job.facts.making.details if d.key == "l"), job)
    bare = Job(as_cut(pattern_piece(readings, design, "Sleeve", "Build", None)), ())
    grown = weigh(job).total - weigh(bare).total
    assert grown == pytest.approx(grams, rel=0.2), "in the weight of the piece once, with the glue of its strips"
    (step,) = (s for s in build_steps(job) if s.key == "lay-on:l")
    first = ", ".join(str(n) for n in own.to_a_row[0][:4])
    assert first in step.how
    assert f"{own.link_strips} strips of 25" in step.how


DROP = tuple((50 + 30 * math.cos(t) * (1 - 0.3 * math.sin(t)), 50 + 40 * math.sin(t)) for t in np.linspace(0, 6.2, 60))


def plate(opening, kind="emblem", **more) -> Detail:
    shape = Plate(at=(0.06, 3.0), wide=60.0, foam=4.0, opening=opening, **more)
    return Detail(key="w", kind=kind, name="drop", motif=(MotifRing(points=DROP),), shape=shape)


@pytest.mark.parametrize("rim", [5.0, 9.0, 14.0])
def test_a_window_leaves_its_rim_and_a_seat_lies_round_what_is_set_in_it(rim):
    drawn = shapely.Polygon(DROP)
    scale = 60.0 / (drawn.bounds[2] - drawn.bounds[0])
    drawn = affinity.scale(drawn, scale, scale)
    piece = piece_of(WEARER, starter_design("breastplate"))
    (window,) = lay_part(piece, plate("window", rim=rim))
    (seat,) = lay_part(piece, plate("seat", "gem", rim=rim))
    assert not window.problem
    assert not seat.problem
    (sheet,) = window.sheets
    ring = [shapely.LinearRing(r) for r in sheet.outlines[0]]
    assert shapely.Polygon(ring[0]).area == pytest.approx(drawn.area, rel=1e-3)
    assert ring[1].distance(ring[0]) == pytest.approx(rim, abs=0.05)
    (sheet,) = seat.sheets
    outer, inner = (shapely.Polygon(r) for r in sheet.outlines[0])
    assert np.ptp(np.array(inner.exterior.coords)[:, 0]) == pytest.approx(61.0, abs=0.05), "half a mm all round"
    assert shapely.LinearRing(outer.exterior).distance(shapely.LinearRing(inner.exterior)) == pytest.approx(
        rim - 0.5, abs=0.05
    )


def test_a_plate_that_lies_wholly_on_another_is_a_layer_of_it():
    """The two foams of an emblem: unsaid where the smaller lies within the larger, said where it hangs over, or is a
    copy that hides it."""
    lower = plate("none")
    for up, wide, said in ((0.0, 30.0, False), (0.35, 30.0, True), (0.0, 60.0, True)):
        shape = lower.shape.model_copy(update={"wide": wide, "foam": 2.0, "at": (0.06, 3.0 + up)})
        upper = lower.model_copy(update={"key": "u", "name": "upper drop", "shape": shape})
        piece = piece_of(WEARER, with_details(starter_design("breastplate"), lower, upper))
        met = [x for x in crossings_of(piece, laid_parts(piece)) if len(x.keys) == 2]
        assert bool(met) == said, (up, wide)


def test_links_of_a_sleeve_stop_under_its_cap():
    """By the curve itself: highest at the shoulder point, so many mm lower under the arm, lower rows untouched."""
    piece = piece_of(WEARER, starter_design("rerebrace"))
    (plain,) = lay_part(piece, links("lower edge", wide=10, high=10, edge=0))
    (capped,) = lay_part(piece, links("lower edge", wide=10, high=10, edge=0, cap=60.0))
    uv = np.vstack([line.uv.mean(axis=0) for _, line in capped.marks])
    high = piece.tube.mm(uv[:, 1])
    outside, inside = (np.abs((uv[:, 0] - side + 0.5) % 1.0 - 0.5) < 0.06 for side in (0.25, 0.75))
    assert high[outside].max() - high[inside].max() == pytest.approx(60.0, abs=12.0)
    assert 0 < capped.count < plain.count
    assert [len(r.at) for r in capped.links[:3]] == [len(r.at) for r in plain.links[:3]]
    (wrong,) = lay_part(piece_of(WEARER, starter_design("bracer")), links("lower edge", cap=60.0))
    assert "no shoulder" in wrong.problem


def test_a_rim_that_leaves_no_window_is_said_and_a_gem_needs_its_seat():
    piece = piece_of(WEARER, starter_design("breastplate"))
    (part,) = lay_part(piece, plate("window", rim=60.0))
    assert "no window" in part.problem
    for wrong in (("none", "gem"), ("seat", "emblem"), ("window", "decal")):
        with pytest.raises(ValueError, match=r"seat|film"):
            plate(*wrong)


def test_a_gem_with_a_rim_is_laid_masked_and_set_last():
    design = starter_design("breastplate")
    made = pattern_piece(WEARER, with_details(design, plate("seat", "gem")), "Plate", "Build", None)
    job = Job(as_cut(made), ())
    steps = plan_piece(job.facts).keys
    rows = [steps.index(f"{kind}:w") for kind in ("lay-on", "mask-seat", "apart-join")]
    assert rows == sorted(rows)
    (mask,) = (m for m in mask_sheet([], Making(details=job.facts.making.details), made.laid) if "seat" in m.name)
    assert np.ptp(mask.rings[0][:, 0]) == pytest.approx(60.0, abs=0.05), "as wide as the gem, not as its rim"


def test_a_cuff_does_not_go_on_from_a_line_inside():
    piece = piece_of(WEARER, starter_design("poleyn"))
    assert all("goes on from an edge" in p.problem for p in lay_part(piece, cuff("knee ridge")))
    spike = np.array([[0.0, 0.0], [120.0, 4.0], [0.0, 8.0], [-40.0, 4.0], [0.0, 0.0]])
    with pytest.raises(CraftError, match="too sharp"):
        cuffs_of(laid_along(Sheet(), shapely.Polygon(spike), spike), Cuff(lines=("edge",)), Above())
