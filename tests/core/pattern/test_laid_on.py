"""What is laid on a piece, against closed forms, counts by hand and what must hold on any body."""

import itertools
import math

import numpy as np
import pytest
import shapely

from tests.bodies import WEARER, bare, limb, measures
from tests.core.pattern.surfaces import Ball, Flatly
from tests.depth import mostly
from vellumcut.core.cast.halves import worn_tube
from vellumcut.core.design.making import Detail, Making, MotifRing
from vellumcut.core.design.parts import Border, Plate, Row, Scales
from vellumcut.core.design.piece import PieceDesign
from vellumcut.core.ink.library.table import TEMPLATES, starter_design
from vellumcut.core.ink.stage import ink_piece
from vellumcut.core.make.job import Job
from vellumcut.core.make.order import build_steps
from vellumcut.core.make.weight import detail_grams, weigh
from vellumcut.core.parts.border import strips_of
from vellumcut.core.parts.crossings import crossings_of
from vellumcut.core.parts.laid import lay_part
from vellumcut.core.parts.lines import Run, lines_there
from vellumcut.core.parts.profile import slit_angle, strips_from_sheet
from vellumcut.core.parts.ribbon import laid_flat
from vellumcut.core.parts.row import places_of, spaced
from vellumcut.core.pattern.as_cut import as_cut
from vellumcut.core.pattern.pattern import pattern_piece

BASE, EASE = 1.5, 3.0


def piece_of(readings, design, side="left"):
    return ink_piece(worn_tube(readings, TEMPLATES[design.template].part, side, design.halves), design)


def trim(*lines, **more) -> Detail:
    return Detail(key="t", kind="trim", name="trim", shape=Border(lines=lines, **more))


def with_details(design, *details) -> PieceDesign:
    return design.model_copy(update={"making": Making(details=details)})


class Sheet:
    """A plane."""

    def points(self, uv):
        return np.column_stack([uv, np.zeros(len(uv))])


def laid_along(surface, ground, line, within=False):
    closed = bool(np.allclose(line[0], line[-1]))
    return laid_flat(surface, Flatly(), Run("line", line, closed, within), ground, 60.0)


@pytest.mark.parametrize(("radius", "foam", "strip", "inset", "width"), [
    (30, 4, 2, 0, 10), (45, 6, 4, 8, 14), (60, 10, 8, 3, 20), (80, 2, 12, 25, 30),
])  # fmt: skip
def test_a_strip_round_a_cylinder_is_cut_for_its_own_middle(radius, foam, strip, inset, width):
    readings = measures(limb("forearm", (0, 100, 200), (2 * math.pi * radius,) * 3, (1.0,) * 3))
    design = bare(base_layer=BASE, ease=EASE, foam=foam, back="closed")
    (part,) = lay_part(piece_of(readings, design), trim("lower edge", inset=inset, width=width, foam=strip))
    (cut,) = part.strips
    wanted = 2 * math.pi * (radius + BASE + EASE + foam + strip / 2)
    assert (cut.cut, cut.short) == ("straight", False)
    assert cut.length == pytest.approx(wanted, abs=0.1)
    assert np.ptp(cut.outline[0], axis=0) == pytest.approx([wanted, width], abs=0.1)
    assert cut.area == pytest.approx(wanted * width, rel=1e-3)


@pytest.mark.parametrize(("low", "high", "tall"), [(40, 55, 250), (60, 42, 180), (35, 50, 120)])
def test_a_strip_round_a_cone_is_a_piece_of_its_sector(low, high, tall):
    radii = [low + (high - low) * share for share in (0, 0.45, 1)]
    readings = measures(limb("forearm", (0, 0.45 * tall, tall), tuple(2 * math.pi * r for r in radii), (1.0,) * 3))
    design = bare(base_layer=BASE, ease=EASE, foam=6, back="closed")
    inset, width, strip = 5.0, 16.0, 4.0
    (part,) = lay_part(piece_of(readings, design), trim("lower edge", inset=inset, width=width, foam=strip))
    slope = math.atan((high - low) / tall)
    out = BASE + EASE + 6 + strip / 2
    middle = 2 * math.pi * (low + out * math.cos(slope) + (inset + width / 2) * math.sin(slope))
    (cut,) = part.strips
    assert cut.length == pytest.approx(middle, abs=0.1)
    sector = (low + out * math.cos(slope)) / math.sin(slope) + inset + width / 2
    assert cut.tightest == pytest.approx(abs(sector), rel=0.1)
    ring = np.asarray(part.strips[0].footprint[0])
    assert abs(shapely.Polygon(ring).area - middle * width) < 0.002 * middle * width


@pytest.mark.parametrize(("radius", "latitude"), [(90, 0), (110, 25), (140, 50)])
def test_a_strip_round_a_ball_is_as_long_as_its_parallel(radius, latitude):
    inset, width, wide = 6.0, 12.0, math.radians(150)
    lat = math.radians(latitude)
    x = np.linspace(-wide / 2, wide / 2, 200) * radius
    line = np.column_stack([x, np.full(len(x), lat * radius)])
    ground = shapely.box(x[0], line[0, 1], x[-1], line[0, 1] + 45.0)
    (cut,) = strips_of(laid_along(Ball(radius), ground, line), Border(lines=("x",), inset=inset, width=width))
    parallel = wide * radius * math.cos(lat + (inset + width / 2) / radius)
    assert cut.length == pytest.approx(parallel, abs=0.1 + 0.0004 * parallel)


@pytest.mark.parametrize(("corners", "inset", "width"), [
    ([(0, 0), (220, 0), (220, 140), (0, 140)], 0, 15),
    ([(0, 0), (240, 0), (300, 150), (120, 260), (-40, 120)], 7, 12),
    ([(0, 0), (300, 0), (150, 220)], 4, 18),
])  # fmt: skip
def test_mitred_strips_close_round_a_polygon(corners, inset, width):
    """Each side's strip, by trigonometry alone: at distance d its side is shorter by d (tan a + tan b), a and b half of
    what its corners turn."""
    points = np.array([*corners, corners[0]], float)
    line = np.vstack([*(np.linspace(a, b, 200)[:-1] for a, b in itertools.pairwise(points)), points[:1]])
    strips = strips_of(
        laid_along(Sheet(), shapely.Polygon(points), line), Border(lines=("x",), inset=inset, width=width)
    )
    ways = np.diff(points, axis=0)
    angle = np.arctan2(ways[:, 1], ways[:, 0])
    turn = (np.roll(angle, -1) - angle + np.pi) % (2 * np.pi) - np.pi
    half = np.tan(turn / 2)
    ends = half + np.roll(half, 1)
    sides = [np.hypot(*ways.T) - d * ends for d in (inset, inset + width)]
    assert len(strips) == len(corners)
    found = sorted((*sorted(_long_sides(s.outline[0])), s.length) for s in strips)
    wanted = sorted((*sorted(pair), sum(pair) / 2) for pair in zip(*sides, strict=True))
    assert np.allclose(found, wanted, atol=0.1)
    feet = [shapely.Polygon(s.footprint[0]) for s in strips]
    over = sum(a.intersection(b).area for k, a in enumerate(feet) for b in feet[:k])
    whole = shapely.unary_union([f.buffer(0.05) for f in feet])
    assert over < 0.1 * width
    assert whole.geom_type == "Polygon"
    assert len(whole.interiors) == 1, "a closed ring, without a gap of a tenth of a mm"


def _long_sides(ring):
    """Its two long sides: a strip's lower and upper edge lie level."""
    low, high = ring[:, 1].min(), ring[:, 1].max()
    return [float(np.ptp(ring[np.isclose(ring[:, 1], y), 0])) for y in (low, high)]


@pytest.mark.parametrize("inset", [0.0, 9.0])
def test_a_strip_round_a_round_window_is_one_ring(inset):
    t = np.linspace(0, 2 * np.pi, 400)
    line = 60 * np.column_stack([np.cos(-t), np.sin(-t)])
    ground = shapely.box(-140, -140, 140, 140).difference(shapely.Polygon(line))
    (cut,) = strips_of(laid_along(Sheet(), ground, line), Border(lines=("x",), inset=inset, width=14.0))
    assert cut.cut == "curved"
    outer, inner = sorted((shapely.Polygon(r).area for r in cut.outline), reverse=True)
    assert math.sqrt(outer / math.pi) == pytest.approx(60 + inset + 14, abs=0.1)
    assert math.sqrt(inner / math.pi) == pytest.approx(60 + inset, abs=0.1)
    assert cut.length == pytest.approx(2 * math.pi * (60 + inset + 7), abs=0.4)


def test_what_bends_tighter_than_it_lies_on_edge_is_cut_as_a_curve():
    t = np.linspace(0, np.pi, 300)
    for radius, cut in ((70.0, "curved"), (125.0, "straight")):
        line = radius * np.column_stack([np.cos(-t), np.sin(-t)])
        ground = shapely.box(-radius - 60, -radius - 60, radius + 60, 0).difference(
            shapely.Point(0, 0).buffer(radius, 90)
        )
        (strip,) = strips_of(laid_along(Sheet(), ground, line), Border(lines=("x",), width=12.0))
        assert strip.cut == cut
        assert strip.tightest == pytest.approx(radius + 6, rel=0.05)


@pytest.mark.parametrize(("length", "pitch", "ends", "closed", "count"), [
    (100, 25, "at the ends", False, 5), (100, 25, "half a pitch", False, 4), (100, 25, "at the ends", True, 4),
    (110, 25, "half a pitch", False, 4), (115, 25, "half a pitch", False, 5), (7, 25, "half a pitch", False, 1),
])  # fmt: skip
def test_rows_come_out_even(length, pitch, ends, closed, count):
    at, even = spaced(length, Row(lines=("x",), pitch=pitch, ends=ends), closed)
    assert len(at) == count
    gaps = np.diff([*at, at[0] + length] if closed else at)
    assert np.allclose(gaps, even)
    rest = length - (at[-1] - at[0])
    assert rest == pytest.approx(even if closed or ends == "half a pitch" else 0.0)


@pytest.mark.parametrize("seed", mostly(range(8), 3))
def test_rivets_on_a_tapered_sleeve_are_counted_as_by_hand(seed):
    """Along its rims and up its closing edges, on the outer face: the lengths by a fine polyline through the body's own
    points, the count by laying off the pitch."""
    luck = np.random.default_rng(seed)
    girths = np.sort(luck.uniform(180, 420, 3))
    readings = measures(limb("forearm", (0, 120, 240), tuple(girths), (1.0,) * 3))
    back = luck.choice(["closed", "open"])
    design = bare(base_layer=BASE, ease=EASE, foam=5, back=str(back))
    piece = piece_of(readings, design)
    for line in piece.panels[0].outline:
        pitch = float(luck.uniform(9, 40))
        row = Row(lines=(line.name,), inset=0.0, pitch=pitch, ends=str(luck.choice(["at the ends", "half a pitch"])))
        (part,) = lay_part(piece, Detail(key="r", kind="rivets", name="rivets", size=6, shape=row))
        t = np.linspace(0, len(line.uv) - 1, 20 * len(line.uv))
        fine = np.column_stack([np.interp(t, np.arange(len(line.uv)), line.uv[:, k]) for k in (0, 1)])
        length = np.linalg.norm(np.diff(piece.surface.points(fine, 1.0), axis=0), axis=1).sum()
        assert part.length == pytest.approx(length, abs=0.15)
        laid_off = max(1, math.floor(length / pitch + 0.5))
        goes_round = back == "closed" and not line.name.startswith("closing")
        assert part.count == laid_off + (row.ends == "at the ends" and not goes_round)
        assert len(part.marks) == part.count


@pytest.mark.parametrize(("low", "high", "back"), [(36, 58, "closed"), (58, 36, "closed"), (45, 60, "open")])
def test_scales_on_a_tapered_sleeve_are_counted_as_by_hand(low, high, back):
    """Row by row, from the girth of a cone half way up each scale; a sleeve that grows takes more to a row."""
    tall, wide, tip, covered = 230.0, 24.0, 30.0, 0.4
    radii = [low + (high - low) * share for share in (0, 0.45, 1)]
    readings = measures(limb("forearm", (0, 0.45 * tall, tall), tuple(2 * math.pi * r for r in radii), (1.0,) * 3))
    design = bare(base_layer=BASE, ease=EASE, foam=5, back=back, gap=30)
    shape = Scales(lines=("lower edge",), wide=wide, high=tip, covered=covered, foam=2, pack=50)
    scales = Detail(key="s", kind="scales", name="scales", shape=shape)
    made = pattern_piece(readings, with_details(design, scales), "Sleeves", "Build", None)
    slope = math.atan((high - low) / tall)
    out = BASE + EASE + 5 + 1
    wanted, k = [], 0
    while (up := k * tip * (1 - covered) + tip / 2) < tall / math.cos(slope):
        # The opening is 30 mm on the middle of the foam, 3.5 mm farther in than the scales' own.
        radius = low + out * math.cos(slope) + up * math.sin(slope)
        inner = radius - 3.5 * math.cos(slope)
        length = 2 * math.pi * radius - (30 * radius / inner if back == "open" else 0.0)
        wanted.append(max(1, round(length / wide)) + (k % 2 if back == "open" else 0))
        k += 1
    (part,) = lay_part(next(iter(made.inked.values())), scales)
    assert [len(r.at) for r in part.rows] == wanted
    own = made.laid["s"]
    assert own.count == 2 * sum(wanted)
    assert f"row by row from the lower edge: {', '.join(map(str, wanted))} on each." in own.words
    assert own.packs == -(-(own.count + round(0.1 * own.count)) // 50)
    (cut,) = made.parts
    assert (cut.copies, cut.twin, cut.by_measure) == (own.count, False, ""), "a round outline is traced, not measured"
    assert own.glued == pytest.approx(0.4 * own.area), "only what the next row hides is cemented"
    assert np.ptp(cut.flat.outline, axis=0) == pytest.approx([24, 30], abs=0.1)


def test_a_triangular_trim_leaves_half_its_strip_only_where_one_is_over():
    border = Border(lines=("x",), width=12.0, foam=8.0, profile="triangular")
    assert slit_angle(border) == pytest.approx(33.69, abs=0.01)
    assert [strips_from_sheet(border, n, True) for n in (1, 2, 3)] == [(1, 1), (1, 0), (2, 1)]
    assert strips_from_sheet(border, 2, False) == (2, 0), "halves of a curved one bend unlike"
    made = pattern_piece(WEARER, with_details(bare("greave", back="open"), trim("lower edge", foam=8.0,
        profile="triangular")), "Greaves", "Build", None)  # fmt: skip
    (part,) = made.parts
    assert (part.copies, part.twin, made.laid["t"].strips["straight"]) == (1, False, 2)
    assert "slit corner to corner into 2" in part.label.count
    assert made.laid["t"].volume == pytest.approx(2 * part.flat.area * 8 / 2, rel=1e-6)


def test_what_is_said_of_a_profile_holds_for_these_strips():
    """Only a straight strip gives two triangles; what is bought is not cut from a sheet, nor brought to a profile."""
    border = Border(lines=("neckline",), width=12.0, foam=8.0, profile="triangular")
    detail = Detail(key="t", kind="trim", name="trim", shape=border)
    made = pattern_piece(WEARER, with_details(starter_design("breastplate"), detail), "Breastplate", "Build", None)
    (step,) = (s for s in build_steps(Job(made, ())) if s.key == "profile-detail:t")
    assert made.laid["t"].strips["straight"] == 0
    assert "Take each curved strip off" in step.how
    assert "two triangles" not in step.how
    bought = detail.model_copy(update={"shape": border.model_copy(update={"bought": 100.0})})
    made = pattern_piece(WEARER, with_details(starter_design("breastplate"), bought), "Breastplate", "Build", None)
    own = made.laid["t"]
    assert own.bars == math.ceil(own.length / 100)
    assert (made.parts, list(made.foam)) == ((), [("armour", 6.0)])
    assert not [s for s in build_steps(Job(made, ())) if s.key == "profile-detail:t"]
    assert f"{own.bars} bought" in next(s.how for s in build_steps(Job(made, ())) if s.key == "trim:t")


def test_ends_that_are_not_square_are_told_to_who_cuts_by_ruler():
    points = np.array([(0, 0), (300, 0), (150, 220), (0, 0)], float)
    line = np.vstack([*(np.linspace(a, b, 200)[:-1] for a, b in itertools.pairwise(points)), points[:1]])
    strips = strips_of(laid_along(Sheet(), shapely.Polygon(points), line), Border(lines=("x",), width=18.0))
    base = max(strips, key=lambda s: s.length)
    half = 90 - math.degrees(math.atan2(220, 150)) / 2
    assert sorted(base.ends) == pytest.approx([-half, half], abs=0.3)


def test_a_row_stays_on_the_foam_and_says_where_it_cannot():
    """A panel that narrows beside its line: the row is as long as there is foam at its inset."""
    ground = shapely.Polygon([(-100, 0), (100, 0), (60, 60), (-60, 60)])
    line = np.column_stack([np.linspace(-100, 100, 50), np.zeros(50)])
    (row,) = places_of(laid_along(Sheet(), ground, line), Row(lines=("x",), inset=30, pitch=20))
    assert row.length == pytest.approx(160, abs=0.2)
    assert ground.contains(shapely.MultiPoint(row.at))
    piece = piece_of(WEARER, bare("bracer"))
    near = Detail(key="r", kind="rivets", name="rivets", size=10, shape=Row(lines=("lower edge",), inset=2))
    (part,) = lay_part(piece, near)
    assert "set it 5 mm in at least" in part.problem


def test_a_strip_over_a_seam_is_one_and_shows_on_both_panels():
    spanning = Detail(key="s", kind="spanning trim", name="strip", shape=Border(lines=("joint 1",), width=24, foam=3))
    faulds = piece_of(WEARER, starter_design("faulds"))
    (part,) = lay_part(faulds, spanning)
    seam = next(x.length for x in lines_there(faulds) if x.name == "joint 1") / 2
    assert part.length == pytest.approx(seam, rel=0.02)
    assert {on for on, _ in part.marks} == {1, 2}
    ridge = spanning.model_copy(update={"shape": Border(lines=("shin ridge",), width=24, foam=3)})
    made = pattern_piece(WEARER, with_details(starter_design("ridged greave"), ridge), "Greaves", "Build", None)
    (strip,) = made.parts
    assert strip.copies == 2, "one a leg, though four halves are cut"
    assert made.laid["s"].length == pytest.approx(2 * strip.flat.area / 24, rel=0.01)


BELL = MotifRing(points=((0, 0), (40, 0), (40, 10), (25, 30), (15, 30), (0, 10)))


def crest(**more) -> Detail:
    shape = Plate(**{"at": (0.06, 3.0), "wide": 60.0, **more})
    return Detail(key="c", kind="emblem", name="crest", motif=(BELL,), shape=shape)


def test_a_crest_is_cut_as_it_was_drawn_layer_by_layer():
    design = with_details(starter_design("breastplate"), crest(layers=3, step=4.0, turn=30.0))
    made = pattern_piece(WEARER, design, "Breastplate", "Build", None)
    drawn = shapely.affinity.scale(shapely.Polygon(BELL.points), 1.5, 1.5)
    wanted = [drawn.buffer(-4.0 * k, join_style="mitre").area for k in range(3)]
    assert [p.flat.area for p in made.parts] == pytest.approx(wanted, rel=2e-3)
    assert np.ptp(made.parts[0].flat.outline, axis=0) == pytest.approx([60, 45], abs=0.1)
    assert [p.copies for p in made.parts] == [made.panels[0].copies] * 3
    assert made.laid["c"].area == pytest.approx(sum(wanted) * made.panels[0].copies, rel=2e-3)
    far = lay_part(next(iter(made.inked.values())), crest(wide=400.0))
    assert "past the foam" in far[0].problem
    few = lay_part(next(iter(made.inked.values())), crest(layers=6, step=8.0))
    assert "of its 6 layers" in few[0].problem
    off = lay_part(next(iter(made.inked.values())), crest(at=(0.5, 3.0)))
    assert "no foam under" in off[0].problem


def everything_on(template: str, luck: np.random.Generator) -> PieceDesign:
    """Some trims, rows and a crest on a template, by lot."""
    design = starter_design(template)
    lines = lines_there(piece_of(WEARER, design))
    details = []
    for k in range(5):
        line = lines[int(luck.integers(len(lines)))]
        inset, width = float(luck.uniform(0, 12)), float(luck.uniform(6, 20))
        if k % 2 and line.kind != "seam":
            shape = Row(lines=(line.name,), inset=inset + 4, pitch=float(luck.uniform(8, 40)))
            details.append(Detail(key=f"d{k}", kind="rivets", name=f"row {k}", size=6, shape=shape))
        else:
            kind = "spanning trim" if line.kind == "seam" else "trim"
            shape = Border(lines=(line.name,), inset=0.0 if kind != "trim" else inset, width=width, foam=3)
            details.append(Detail(key=f"d{k}", kind=kind, name=f"strip {k}", shape=shape))
    return with_details(design, *details)


@pytest.mark.parametrize("template", mostly(TEMPLATES, 5))
def test_whatever_is_laid_lies_on_its_panel_and_is_told_alike_everywhere(template):
    luck = np.random.default_rng(len(template))
    design = everything_on(template, luck)
    made = as_cut(pattern_piece(WEARER, design, "Piece", "Build", None))
    names = {d.name for d in design.making.details}
    for panel in made.panels:
        ground = panel.flat.shape.buffer(1.0)
        for line in panel.flat.lines:
            if line.name.rstrip("0123456789 ") in {n.rstrip("0123456789 ") for n in names}:
                assert ground.contains(shapely.LineString(line.points)), (panel.label.code, line.name)
    job = Job(made, ())
    steps = {s.key: s for s in build_steps(job)}
    for key, own in made.laid.items():
        detail = next(d for d in job.facts.making.details if d.key == key)
        strips = [p for p in made.parts if p.label.piece.endswith(f": {detail.name}")]
        assert sum(p.flat.area * p.copies for p in strips) == pytest.approx(own.area, rel=0.01, abs=1.0)
        assert (detail.count, detail.length) == ((own.count, 0.0) if own.count else (1, own.length))
        assert own.words in " ".join(s.how for s in steps.values() if s.key.endswith(f":{key}"))
        if not own.count:
            assert detail_grams(detail, job) == pytest.approx(own.area * 3 * 110e-6, rel=1e-3)
    used = sum(x.volume for x in made.foam.values()) * 110e-6
    assert weigh(job).foam == pytest.approx(used)
    assert used == pytest.approx(
        sum(p.flat.area * p.copies * p.layer.thickness for p in made.to_cut) * 110e-6, rel=1e-3
    )
    bare_again = pattern_piece(WEARER, starter_design(template), "Piece", "Build", None)
    assert not bare_again.parts
    assert not any(line.kind == "trim edge" for p in bare_again.panels for line in p.flat.lines)


def test_a_row_on_both_sides_of_a_line_is_two_rows():
    t = np.linspace(-100, 100, 50)
    ribbon = laid_along(Sheet(), shapely.box(-100, -60, 100, 60), np.column_stack([t, np.zeros(50)]), within=True)
    one, both = (places_of(ribbon, Row(lines=("x",), inset=12, pitch=20, both=b)) for b in (False, True))
    assert (len(one), len(both)) == (1, 2)
    assert sorted(round(float(p.at[0, 1])) for p in both) == [-12, 12]


def test_parts_that_lie_over_each_other_are_told_with_their_panel():
    piece = piece_of(WEARER, starter_design("breastplate"))
    hem, side = (
        Detail(key=n.replace(" ", "-"), kind="trim", name=n, shape=Border(lines=(line,), width=20.0))
        for n, line in (("hem trim", "hem"), ("side trim", "side edge"))
    )
    row = Detail(key="r", kind="rivets", name="rivets", shape=Row(lines=("hem",), inset=10.0))
    parts = [p for d in (hem, side, row) for p in lay_part(piece, d)]
    (crossing,) = crossings_of(piece, parts)
    assert set(crossing.keys) == {"hem-trim", "side-trim"}
    assert crossing.words == "hem trim and side trim lie over each other on panel 1"
    assert crossing.area == pytest.approx(2 * 20 * 20, rel=0.2), "both run into the corners that they share"
    moved = hem.model_copy(update={"shape": Border(lines=("hem",), inset=40.0, width=20.0)})
    apart = side.model_copy(update={"shape": Border(lines=("armhole",), width=20.0)})
    assert crossings_of(piece, [p for d in (moved, apart, row) for p in lay_part(piece, d)]) == []
