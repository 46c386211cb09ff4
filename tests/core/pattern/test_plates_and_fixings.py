"""Plates on a base, punched rows, what keeps off anchors and holes, and parts by lot on every template."""

import itertools
import math
from dataclasses import replace

import numpy as np
import pytest
import shapely

from tests.bodies import WEARER, bare, limb, measures
from tests.core.pattern.test_laid_on import BASE, BELL, EASE, everything_on, piece_of, with_details
from tests.depth import mostly
from vellumcut.core.design.making import Detail, Making, MotifRing
from vellumcut.core.design.parts import Border, Damage, Plate, Row, Scales, Segments
from vellumcut.core.finish.masks import mask_sheet
from vellumcut.core.finish.zones import zones_of
from vellumcut.core.flatten.mesh import first_chart
from vellumcut.core.ink.library.table import TEMPLATES, starter_design
from vellumcut.core.ink.lines import InkLine
from vellumcut.core.make.job import Job
from vellumcut.core.make.order import build_steps
from vellumcut.core.parts.crossings import crossings_of
from vellumcut.core.parts.laid import laid_parts, lay_part
from vellumcut.core.parts.lines import ink_rings, lines_there
from vellumcut.core.parts.mends import mends_of
from vellumcut.core.parts.motif import motif_shape
from vellumcut.core.parts.row import spaced, strokes_of
from vellumcut.core.pattern.as_cut import as_cut
from vellumcut.core.pattern.labels import LETTER, SCALES, label_place
from vellumcut.core.pattern.laid_on.sums import as_laid, sum_of
from vellumcut.core.pattern.pattern import pattern_piece


def plates(**more) -> Detail:
    shape = Segments(**{"lines": ("lower edge",), "count": 6, **more})
    return Detail(key="s", kind="segments", name="plates", shape=shape)


def cone(low: float, high: float, tall: float, back="closed"):
    radii = [low + (high - low) * share for share in (0, 0.45, 1)]
    readings = measures(limb("forearm", (0, 0.45 * tall, tall), tuple(2 * math.pi * r for r in radii), (1.0,) * 3))
    return readings, bare(base_layer=BASE, ease=EASE, foam=4, back=back)


@pytest.mark.parametrize(("low", "high", "count", "overlap"), [(45, 45, 5, 0.0), (40, 52, 6, 8.0), (58, 36, 9, 5.0)])
def test_plates_on_a_sleeve_are_rings_of_its_cone(low, high, count, overlap):
    """By the slant height of the cone: how high each is, how long its rims are, and how far the next lies over it."""
    tall, foam = 220.0, 2.0
    readings, design = cone(low, high, tall)
    detail = plates(count=count, overlap=overlap, foam=foam)
    made = pattern_piece(readings, with_details(design, detail), "Sleeve", "Build", None)
    slope = math.atan((high - low) / tall)
    out = (BASE + EASE + 4 + foam / 2) * math.cos(slope)
    slant = tall / math.cos(slope)
    step = slant / count

    def radius(up: float) -> float:
        return low + out + up * math.sin(slope)

    (part,) = lay_part(next(iter(made.inked.values())), detail)
    assert len(part.segments) == count
    for k, plate in enumerate(part.segments):
        near, far = k * step - (overlap if k else 0.0), (k + 1) * step
        assert plate.high == pytest.approx(far - near, abs=0.2)
        wanted = math.pi * (radius(near) + radius(far)) * (far - near)
        assert plate.area == pytest.approx(wanted, rel=4e-3)
        ring = plate.outline[0]
        length = shapely.LinearRing(ring).length
        assert length == pytest.approx(2 * math.pi * (radius(near) + radius(far)) + 2 * (far - near), rel=3e-3)
        if not overlap or k == count - 1:
            assert not len(plate.covered)
        else:
            assert shapely.LineString(plate.covered).length == pytest.approx(
                2 * math.pi * radius(far - overlap), rel=3e-3
            )
    (base,) = as_cut(made).panels
    assert {b.words for b in base.beside} >= {f"plates {k}" for k in range(1, count + 1)}, "its base is numbered"
    assert len(zones_of(made)) == count, "what is hidden under the next plate is no zone to paint"
    own = made.laid["s"]
    assert own.count == 2 * count
    assert own.area == pytest.approx(2 * sum(p.area for p in part.segments))
    assert len(made.parts) == count
    lines = [len(p.flat.lines) for p in made.parts]
    assert lines == ([1] * (count - 1) + [0] if overlap else [0] * count), "the line the next one covers to is drawn"


def test_a_line_inside_is_no_end_to_begin_at():
    piece = piece_of(WEARER, starter_design("poleyn"))
    scaled = Detail(key="f", kind="scales", name="scales", shape=Scales(lines=("knee ridge",)))
    for detail in (plates(lines=("knee ridge",)), scaled):
        assert all("begins at an edge or a seam" in p.problem for p in lay_part(piece, detail))


@pytest.mark.parametrize("template", mostly(dict.fromkeys(["shoulder extension", *TEMPLATES]), 1))
def test_plates_cover_all_of_their_panel_whatever_its_outline(template):
    """Where a hollow reaches in, or the panel goes on behind the ends of its line: read on the panel's own chart."""
    piece = piece_of(WEARER, starter_design(template))
    for line in (x for x in lines_there(piece) if x.kind != "inked"):
        for part in lay_part(piece, plates(lines=(line.name,), count=5, overlap=2.0)):
            if part.problem:
                continue
            panel = next(p for p in piece.panels if p.number == part.panel)
            chart = first_chart(piece.surface, panel)
            rings = [np.vstack([chart.flat(x.uv)[:-1] for x in ring]) for ring in ink_rings(panel)]
            whole = shapely.Polygon(rings[0], rings[1:]).buffer(0)
            seen = shapely.union_all([shapely.Polygon(chart.flat(x.uv)).buffer(0.5) for _, x in part.marks])
            assert whole.difference(seen).area < 0.006 * whole.area, (line.name, part.panel)
            assert {s.number for s in part.segments} == {1, 2, 3, 4, 5}


def test_plates_too_narrow_to_cut_say_so_and_keep_nothing_from_being_cut():
    readings, design = cone(40, 45, 120.0)
    for detail in (plates(count=40), plates(count=12, overlap=30.0)):
        made = pattern_piece(readings, with_details(design, detail), "Sleeve", "Build", None)
        assert not made.parts
        assert "fewer of them" in made.laid["s"].problems[0]


def test_words_on_a_small_part_stay_off_its_edges_and_on_a_large_one_keep_their_size():
    crest = Detail(key="c", kind="emblem", name="crest", motif=(BELL,), shape=Plate(at=(0.06, 3.0), wide=60.0))
    design = with_details(starter_design("breastplate"), crest, plates(lines=("hem",), count=9))
    made = pattern_piece(WEARER, design, "Breastplate", "Moth-knight of the Low Tide", None)
    assert {label_place(p.flat, p.label).scale for p in made.panels} == {1.0}
    assert min(label_place(p.flat, p.label).scale for p in made.parts) < 0.9
    for part in made.parts:
        place = label_place(part.flat, part.label)
        words = (
            place.scale * np.array([-17.0, -30.0]),
            place.scale * np.array([LETTER * max(map(len, part.label.lines)), 10]),
        )
        box = shapely.box(*(np.array(place.at) + words[0]), *(np.array(place.at) + words[1]))
        lies_off = box.difference(part.flat.shape.buffer(0.5)).area / box.area
        assert lies_off < 0.06 or place.scale == SCALES[-1], (part.label.code, lies_off, place.scale)


@pytest.mark.parametrize("prongs", [1, 2, 4, 6])
def test_a_punch_is_struck_as_often_as_a_hand_would(prongs):
    """One prong in the last hole; the pitch is the punch's own, and what is over is left at both ends."""
    luck = np.random.default_rng(prongs)
    for _ in range(25):
        length, pitch = float(luck.uniform(5, 400)), float(luck.uniform(3, 9))
        at, even = spaced(length, Row(lines=("x",), pitch=pitch, prongs=prongs), False)
        assert even == pitch
        assert np.allclose(np.diff(at), pitch)
        assert at[0] == pytest.approx(length - at[-1])
        assert 0 <= at[0] < pitch
        done, struck = 0, 0
        while done < len(at):
            done = prongs if not struck else done + max(prongs - 1, 1)
            struck += 1
        assert strokes_of(len(at), prongs) == struck


def ring(u: float, v: float, half=0.012) -> np.ndarray:
    t = np.linspace(0, 2 * math.pi, 20)
    return np.column_stack([u + half * np.cos(t), v + 8 * half * np.sin(t)])


def test_what_goes_through_the_foam_or_is_fixed_inside_is_told_and_kept_clear_of():
    readings, design = cone(45, 45, 200.0)
    piece = piece_of(readings, design)
    row = Row(lines=("lower edge",), inset=12.0, pitch=20.0)
    rivets = Detail(key="r", kind="rivets", name="rivets", size=8.0, shape=row)
    (free,) = lay_part(piece, rivets)
    spots = np.array([line.uv.mean(axis=0) for _, line in free.marks])
    holes = tuple(InkLine("mark", f"eyelet {k}A", ring(*spots[k])) for k in (2, 5))
    bed = InkLine("mark", "anchor shoulder, bed", ring(*spots[9], half=0.02))
    cross = InkLine("mark", "anchor shoulder", ring(*spots[0]))
    held = replace(piece, fixings=((*holes, bed, cross, InkLine("mark", "opening begins", ring(*spots[1]))),))
    (crossing,) = crossings_of(held, lay_part(held, rivets))
    assert crossing.words == "2 eyelets and the anchor “shoulder” are under rivets on panel 1"
    assert len(crossing.rings) == 3
    clear = rivets.model_copy(update={"shape": row.model_copy(update={"clear": True})})
    (left,) = lay_part(held, clear)
    assert left.count == free.count - 3
    assert f"{left.count} in all, 3 left out over anchors and holes, " in sum_of([(left, 1)]).words
    assert crossings_of(held, [left]) == []
    base = crossings_of(held, lay_part(held, plates(count=3)))
    assert [(c.words, c.advice) for c in base] == [("2 eyelets are under plates on panel 1", "punch through both")]
    mended = next(d for d in mends_of(rivets, held.tube) if not crossings_of(held, lay_part(held, d)))
    assert mended.shape == clear.shape, "the least change comes first"


@pytest.mark.parametrize("seed", [0, 7])
def test_damage_is_thrown_the_same_again_and_keeps_off_edges_and_fixings(seed):
    shape = Damage(lines=("lower edge",), inset=7.0, wide=90.0, count=12, size=22.0, seed=seed)
    detail = Detail(key="d", kind="painted damage", name="claw marks", shape=shape)
    readings, design = cone(45, 45, 200.0, back="open")
    piece = piece_of(readings, design)
    (free,) = lay_part(piece, detail)
    bed = InkLine("mark", "anchor shoulder, bed", ring(*free.marks[3][1].uv.mean(axis=0), half=0.03))
    held = replace(piece, fixings=((bed,),))
    (part,) = lay_part(held, detail)
    assert [x.tolist() for x in free.hits] == [x.tolist() for x in lay_part(piece, detail)[0].hits]
    assert part.count == 12
    assert crossings_of(held, [part]) == []
    assert crossings_of(held, [free]), "thrown where nothing was fixed, one of them lies there"
    made = pattern_piece(readings, with_details(design, detail), "Sleeve", "Build", None)
    hits = [shapely.Polygon(x.points) for p in made.panels for x in p.flat.lines if x.name.startswith("claw marks")]
    assert len(hits) == 12
    assert min(made.panels[0].flat.shape.exterior.distance(h) for h in hits) > 6.5
    assert min(a.distance(b) for a, b in itertools.combinations(hits, 2)) > 2.5
    assert max(shapely.minimum_rotated_rectangle(h).length / 2 for h in hits) < 1.5 * 22
    other = detail.model_copy(update={"shape": shape.model_copy(update={"seed": seed + 1})})
    assert lay_part(piece, other)[0].hits[0].tolist() != free.hits[0].tolist()
    crowded = detail.model_copy(update={"shape": shape.model_copy(update={"count": 80, "wide": 12.0})})
    assert "of its 80 here" in lay_part(piece, crowded)[0].problem
    words = "24 cuts and dents, each 7 mm and more off every edge and seam."
    assert made.laid["d"].words == words
    step = next(s for s in build_steps(Job(as_cut(made), ())) if s.key == "paint-damage:d")
    assert step.how.endswith(words)


@pytest.mark.parametrize("way", ["real thread", "raised paint"])
def test_a_punch_is_told_to_who_sews_alone(way):
    shape = Row(lines=("lower edge",), inset=9.0, pitch=6.0, prongs=4)
    detail = Detail(key="t", kind="stitches", name="seam stitches", size=1.5, shape=shape)
    readings, design = cone(45, 45, 200.0, back="open")
    making = Making(details=(detail,), schools={"stitches": way})
    made = as_cut(pattern_piece(readings, design.model_copy(update={"making": making}), "Sleeve", "Build", None))
    (step,) = (s for s in build_steps(Job(made, ())) if s.key.endswith(":t"))
    assert ("strokes of the punch with 4 prongs" in step.how) == (way == "real thread")


def test_alike_plates_lie_at_all_their_places():
    shape = Plate(at=(0.06, 3.0), also=((0.1, 2.2), (0.065, 3.02)), wide=30.0)
    crest = Detail(key="c", kind="emblem", name="crest", motif=(BELL,), shape=shape)
    design = starter_design("breastplate")
    piece = piece_of(WEARER, design)
    parts = lay_part(piece, crest)
    assert [p.panel for p in parts] == [1, 1, 1]
    assert len({round(float(p.marks[0][1].uv[0, 1]), 3) for p in parts}) == 3
    (crossing,) = crossings_of(piece, parts)
    assert crossing.words == "Two of crest lie over each other on panel 1"
    ridged = design.model_copy(update={"choices": {"front": "centre ridge"}})
    twice = crest.model_copy(update={"shape": Plate(at=(0.06, 3.0), also=((-0.06, 3.0),), wide=30.0)})
    halves = piece_of(WEARER, ridged)
    one, other = lay_part(halves, twice)
    assert np.allclose(one.marks[0][1].uv, other.marks[0][1].uv), "both halves had one"
    assert crossings_of(halves, [one, other])
    made = pattern_piece(WEARER, with_details(design, crest), "Breastplate", "Build", None)
    assert made.laid["c"].plates == 3 * made.panels[0].copies


@pytest.mark.parametrize("kind", ["stencil", "decal"])
def test_a_painted_motif_is_cut_from_film_as_wide_as_it_is_laid(kind):
    detail = Detail(key="m", kind=kind, name="bell", motif=(BELL,), shape=Plate(at=(0.06, 3.0), wide=80.0))
    made = pattern_piece(WEARER, with_details(starter_design("breastplate"), detail), "Breastplate", "Build", None)
    own = made.laid["m"]
    assert (made.parts, own.area, own.sheet) == ((), 0.0, None)
    assert own.words == f"{made.panels[0].copies} to cut from film, 80 mm across."
    (cut,) = as_laid(Making(details=(detail,)), made.laid).details
    assert motif_shape(cut.motif).bounds == pytest.approx((0, 0, 80, 60))
    bell = next(m for m in mask_sheet([], Making(details=(cut,)), made.laid) if "bell" in m.name)
    assert (bell.count, bell.turned) == (own.plates, own.plates // 2 if made.panels[0].twin else 0)
    assert any(line.name == "bell" for p in made.panels for line in p.flat.lines), "its place is drawn"


def test_a_strangers_drawing_is_laid_or_refused_in_words_and_the_piece_is_cut_all_the_same():
    luck = np.random.default_rng(7)
    t = np.linspace(0, 2 * math.pi, 3000, endpoint=False)
    rings = {
        "crossing": ([(0, 0), (40, 40), (40, 0), (0, 40)],),
        "thousands": [(50 + 40 * math.cos(x) + luck.uniform(0, 0.5), 50 + 40 * math.sin(x)) for x in t],
        "within": ([(0, 0), (60, 0), (60, 60), (0, 60)], [(20, 20), (40, 20), (40, 40), (20, 40)]),
        "a hair": ([(0, 0), (60, 0), (60, 0.02), (0, 0.02)],),
        "twice": ([(0, 0), (30, 0), (30, 30)], [(0, 0), (30, 0), (30, 30)]),
    }
    for name, drawn in rings.items():
        motif = tuple(MotifRing(points=r) for r in (drawn if isinstance(drawn, tuple) else (drawn,)))
        shape = Plate(at=(0.06, 3.0), wide=50.0, layers=2, step=4.0)
        detail = Detail(key="m", kind="emblem", name=name, motif=motif, shape=shape)
        made = pattern_piece(WEARER, with_details(starter_design("breastplate"), detail), "Piece", "Build", None)
        own = made.laid["m"]
        assert made.panels
        assert own.problems or own.plates, name
        for part in made.parts:
            assert shapely.Polygon(part.flat.outline).is_valid
            assert max(np.ptp(part.flat.outline, axis=0)) <= 50.5


def later(readings):
    """The same wearer, grown."""
    grown = {n: s.model_copy(update={"girth": s.girth * 1.05}) for n, s in readings.torso.girths.items() if s.girth}
    limbs = tuple(
        x.model_copy(
            update={"stations": {n: s.model_copy(update={"girth": s.girth * 0.94}) for n, s in x.stations.items()}}
        )
        for x in readings.limbs
    )
    return readings.model_copy(update={"limbs": limbs, "torso": readings.torso.model_copy(update={"girths": grown})})


@pytest.mark.parametrize("drawn", mostly([(s, t) for s in range(3) for t in TEMPLATES], 4))
def test_nothing_crosses_unsaid_and_all_stays_on_its_panel(drawn):
    """Where two strips share ground on the flat panel, read there and not where the program looks, it is said."""
    seed, template = drawn
    luck = np.random.default_rng(1000 * seed + len(template))
    design = everything_on(template, luck)
    for readings in (WEARER, later(WEARER)):
        made = pattern_piece(readings, design, "Piece", "Build", None)
        strips = {d.name: d.key for d in design.making.details if isinstance(d.shape, Border)}
        for side, piece in made.inked.items():
            said = {frozenset(c.keys) for c in crossings_of(piece, laid_parts(piece))}
            for panel in (p for p in made.panels if p.side == side):
                rings = [(x.name, x.points) for x in panel.flat.lines if x.name in strips and len(x.points) > 3]
                closed = [(n, shapely.Polygon(r).buffer(0)) for n, r in rings if np.allclose(r[0], r[-1], atol=0.5)]
                for (a, one), (b, other) in itertools.combinations(closed, 2):
                    assert panel.flat.shape.buffer(1.0).contains(one), a
                    if a != b and one.intersection(other).area > 40.0:
                        assert frozenset((strips[a], strips[b])) in said, (panel.label.code, a, b)


def test_a_shape_goes_with_its_kind_alone():
    for kind, shape in (("segments", Border(lines=("x",))), ("trim", Segments(lines=("x",)))):
        with pytest.raises(ValueError, match="is a"):
            Detail(key="d", kind=kind, name="d", shape=shape)
