"""Straps, anchors, loads and magnets: lengths against another library's geodesics, rest against the sum of forces."""

import re

import igl
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.bodies import WEARER, limb, measures, trunk
from tests.core.pieces_to_make import rig_for, worn
from tests.core.rigging.bodies_worn import BODIES, everything
from tests.depth import DEEP, long, often, some
from vellumcut.core.cast.armour import INNER
from vellumcut.core.cast.dressed import dressed, padded
from vellumcut.core.cast.stations import build_tube
from vellumcut.core.design.piece import PieceDesign
from vellumcut.core.ink.laps import Laps, plate_edges
from vellumcut.core.ink.library.table import TEMPLATES, starter_design
from vellumcut.core.ink.stage import ink_piece
from vellumcut.core.ink.templates import armour_surface
from vellumcut.core.pattern.pattern import pattern_piece
from vellumcut.core.rig.anchors import anchor_marks
from vellumcut.core.rig.geodesic import Solid, shortest_on, taut_over
from vellumcut.core.rig.laid import LaidPiece
from vellumcut.core.rig.outside import lies_over
from vellumcut.core.rig.recipes import LIES_OVER, RIGS
from vellumcut.core.rig.stacking import unsaid_beneath
from vellumcut.core.rig.straps import path_on, straps_of_piece
from vellumcut.core.worn.trim import trimmed


def exact(outside, flat) -> float:
    """The shortest way over a mesh of the same surface between a path's ends, by libigl (Mitchell, Mount,
    Papadimitriou)."""
    low, high = flat.min(axis=0) - 70, flat.max(axis=0) + 70
    axes = []
    for k in (0, 1):
        even = np.linspace(low[k], high[k], max(9, int((high[k] - low[k]) / 7)))
        own = flat[[0, -1], k] if abs(flat[0, k] - flat[-1, k]) > 1 else flat[:1, k]
        axes.append(np.sort([*(x for x in even if np.abs(own - x).min() > 1), *own]))
    x, y = np.meshgrid(*axes)
    places = np.stack([x.ravel(), y.ravel()], axis=1)
    wide = len(axes[0])
    row, column = (g.ravel() for g in np.meshgrid(np.arange(len(axes[1]) - 1), np.arange(wide - 1), indexing="ij"))
    p = row * wide + column
    faces = np.vstack([np.stack([p, p + 1, p + wide + 1], axis=1), np.stack([p, p + wide + 1, p + wide], axis=1)])
    ends = [np.array([int(np.abs(places - flat[k]).sum(axis=1).argmin())]) for k in (0, -1)]
    none = np.array([], dtype=np.int64)
    return float(
        np.atleast_1d(igl.exact_geodesic(outside.place(places), faces.astype(np.int64), ends[0], none, ends[1], none))[
            0
        ]
    )


@pytest.mark.parametrize("body", some(BODIES))
def test_every_template_is_held_by_straps_as_long_as_another_library_says(body):
    costume = everything(body)
    for piece in costume.pieces:
        side = piece.sides[0]
        anchors = {a.name: a for a in costume.anchors(piece, side)}
        assert anchors, piece.name
        assert piece.on(side).covers(np.array([a.uv for a in anchors.values()])).all(), piece.name
        straps = [s for s in straps_of_piece(costume, piece) if s.side == side]
        assert straps or piece.name == "backplate"  # whose straps are the breastplate's
        for strap in straps:
            assert strap.cut > 0.6 * strap.longest
            assert strap.longest >= strap.standing > 10
            other = strap.ends[1].piece
            if not other or costume.piece(other).part != piece.part:
                continue
            mate = costume.piece(other)
            rank = max(LIES_OVER[p.design.template] for p in (piece, mate))
            outside = costume.outside(piece.part, side, rank, piece.design.base_layer)
            end = next(a for a in costume.anchors(mate, side) if a.name == strap.ends[1].anchor)
            path = path_on(outside, anchors[strap.ends[0].anchor].uv, end.uv, strap.row.through, piece.part == "torso")
            assert path.length == pytest.approx(strap.standing, abs=0.01)
            assert path.length == pytest.approx(exact(outside, path.flat), abs=3.0), (piece.name, strap.key)


@long
def test_left_and_right_are_cut_alike():
    costume = everything("usual")
    for piece in (p for p in costume.pieces if len(p.sides) == 2):
        cuts = {
            side: sorted(round(s.cut, 1) for s in straps_of_piece(costume, piece) if s.side == side)
            for side in piece.sides
        }
        assert cuts["left"] == pytest.approx(cuts["right"], abs=0.5), piece.name


@given(st.floats(20, 300), st.floats(-1.4, 1.4), st.floats(-0.9, 0.9), st.floats(0.1, 2.9))
@settings(max_examples=often(30), deadline=None)
def test_on_a_ball_and_a_cylinder_a_strap_is_as_long_as_the_closed_form(radius, low, high, turn):
    def ball(flat):
        lon, lat = flat.T / radius
        return radius * np.stack([np.cos(lat) * np.sin(lon), -np.cos(lat) * np.cos(lon), np.sin(lat)], axis=1)

    def cylinder(flat):
        return np.stack(
            [radius * np.sin(flat[:, 0] / radius), -radius * np.cos(flat[:, 0] / radius), flat[:, 1]], axis=1
        )

    start, end = np.array([0.0, low * 0.6]) * radius, np.array([turn, high]) * radius
    one, other = ball(start[None])[0], ball(end[None])[0]
    arc = radius * np.arccos(np.clip(one @ other / radius**2, -1, 1))
    assert shortest_on(ball, start, end).length == pytest.approx(arc, abs=0.5)
    assert shortest_on(cylinder, start, end).length == pytest.approx(np.linalg.norm(end - start), abs=0.5)


def test_a_line_through_the_air_lies_tight_over_a_ball():
    points = np.random.default_rng(4).normal(size=(60_000, 3))
    points /= np.linalg.norm(points, axis=1, keepdims=True)
    start, end = np.array([-150.0, 0.0, 20.0]), np.array([150.0, 10.0, 30.0])
    far = [np.linalg.norm(p) for p in (start, end)]
    wrapped = np.arccos(start @ end / far[0] / far[1]) - np.arccos(100 / far[0]) - np.arccos(100 / far[1])
    closed = sum(np.sqrt(f**2 - 100**2) for f in far) + 100 * wrapped
    assert taut_over(start, end, [Solid(100 * points, points)]).length == pytest.approx(closed, abs=0.5)
    free = taut_over(start + [0, 0, 200], end + [0, 0, 200], [Solid(100 * points, points)])
    assert free.length == pytest.approx(np.linalg.norm(end - start), abs=1e-3)


def test_every_figure_of_a_strap_follows_from_its_formula():
    costume = everything("usual")
    for piece in costume.pieces:
        for strap in straps_of_piece(costume, piece):
            signs = "".join(re.findall(r"\{\d+\}|[()+/]|1(?= \+ \{)", strap.note.formula))
            assert eval(signs.format(*(v.amount for v in strap.note.values))) == pytest.approx(strap.cut), (
                strap.note.formula
            )


def test_a_strap_round_the_trunk_is_long_enough_for_a_trunk_that_has_breathed_in():
    """Against the same strap on a body that is 3 % larger round."""
    plate = starter_design("breastplate")
    straps = {}
    for size in (1.0, 1.03):
        body = trunk(bust=940 * size, underbust=810 * size, waist=760 * size, hip=980 * size, neck=370 * size)
        costume = worn(plate, readings=measures().model_copy(update={"torso": body}))
        (straps[size],) = [s for s in straps_of_piece(costume, costume.pieces[0]) if s.row.key == "round"]
    usual = straps[1.0]
    breath = next(v.amount for v in usual.note.values if v.word == "a full breath")
    assert usual.standing + breath == pytest.approx(straps[1.03].standing, rel=0.01)
    assert usual.longest >= usual.standing + breath


@given(st.floats(650, 1100), st.floats(340, 420))
@settings(max_examples=often(6), deadline=None)
def test_what_a_body_grows_by_goes_into_what_adjusts_however_short(waist, calf):
    """Foam does not stretch: 3 % of the girth under a level strap, by the girths that were typed; two straps at one
    height, one on each side, take half of it each."""
    sizes = {"bust": 940, "underbust": 810, "waist": waist, "hip": max(980, 1.1 * waist), "neck": 370}
    leg = limb("lower leg", (0, 200, 325), (calf,) * 3, (1.0, 1.0, 1.0), gate=330)
    body = measures(leg).model_copy(update={"torso": trunk(**sizes)})
    belt = worn(starter_design("belt"), readings=body)
    (tab,) = straps_of_piece(belt, belt.pieces[0])
    assert tab.adjust == pytest.approx(0.03 * waist, rel=0.03)
    pair = worn(starter_design("breastplate"), starter_design("backplate"), readings=body)
    lower = [s for s in straps_of_piece(pair, pair.pieces[0]) if s.row.key == "side, lower"]
    assert len(lower) == 2
    assert 0.02 * waist < sum(s.longest - s.standing for s in lower) < 0.031 * max(waist, 810)
    greave = worn(starter_design("greave"), readings=body)
    for strap in straps_of_piece(greave, greave.pieces[0]):
        assert strap.longest - strap.standing == pytest.approx(0.03 * calf, rel=0.02)
    shoulder = [s for s in straps_of_piece(pair, pair.pieces[0]) if "shoulder" in s.words]
    assert all(s.posture == "standing" and s.adjust == 0 for s in shoulder)


def test_a_strap_through_the_air_runs_straight_past_an_armhole():
    """From a shoulder plate to a vest where no backplate is: nothing stands between, so it is hardly longer than the
    straight line; the arm, which the plate sits on, is not lifted into its way a second time."""
    costume = worn(starter_design("pauldron"), starter_design("breastplate"), readings=WEARER)
    straps = straps_of_piece(costume, costume.piece(1))
    back = [s for s in straps if s.words == "webbing to the back"]
    assert len(back) == 2
    for strap in back:
        straight = np.linalg.norm(strap.points[-1] - strap.points[0])
        assert straight <= strap.standing <= 1.05 * straight
        trunk_seat = costume.figure.seats["torso", "left"]
        skin = trunk_seat.tube.closest_uv((strap.points - trunk_seat.origin) @ trunk_seat.axes.T)
        at, out = (
            trunk_seat.place(trunk_seat.tube.frame(*skin.T)[0]),
            trunk_seat.turn(trunk_seat.tube.frame(*skin.T)[1]),
        )
        assert (((strap.points - at) * out).sum(axis=1) > -1.0).all()


@pytest.mark.parametrize("template", TEMPLATES)
def test_marks_lie_on_the_panels_and_move_with_their_anchor(template):
    costume = worn(
        starter_design(template).model_copy(update={"closure": "buckles"} if TEMPLATES[template].lay is None else {})
    )
    (piece,) = costume.pieces
    side = piece.sides[0]
    laid, anchors = piece.on(side), [a for a in costume.anchors(piece, piece.sides[0]) if a.own]
    rows = list(zip(laid.inked.panels, laid.inked.twins, strict=True))
    marks = [m for p, twin in rows for m in anchor_marks(laid, anchors, p, twin) if not m.name.endswith("bed")]
    turn = laid.plane.turn
    for a in anchors:
        at = laid.plane.flat(np.array([a.uv]))[0]
        near = []
        for sign in (1, -1) if any(laid.inked.twins) else (1,):
            away = np.array([np.abs(laid.plane.flat(m.uv).mean(axis=0) - at * [sign, 1]) for m in marks])
            away[:, 0] = np.minimum(away[:, 0] % turn, -away[:, 0] % turn)
            near.append(np.hypot(*away.T).min())
        # What lies on a mirrored panel is drawn on the panel it is the mirror image of.
        assert min(near) < 3.5, a.name


@long
def test_every_rig_of_the_table_can_be_had():
    for template, rigs in RIGS.items():
        for rig in rigs if DEEP else rigs[:1]:
            design = starter_design(template)
            company = [
                design.model_copy(update={"rig": design.rig.model_copy(update={"way": rig.key})}),
                *(starter_design(t) for t in rig.needs),
            ]
            costume = worn(*company)
            piece = costume.piece(1)
            assert costume.rig(piece).key == rig.key
            assert straps_of_piece(costume, piece) or rig.across or rig.needs
    assert set(RIGS) == set(TEMPLATES) == set(LIES_OVER)


@pytest.mark.parametrize("knee", ["left", "right", "both"])
def test_only_what_is_worn_on_one_side_is_tied_together(knee):
    """A right thigh with a knee on either side: tied where both are, and each held by itself where not."""
    thigh = starter_design("cuisse").model_copy(update={"side": "right"})
    cap = starter_design("poleyn").model_copy(update={"side": knee})
    costume = worn(thigh, cap, starter_design("belt"))
    straps = [s for p in costume.pieces for s in straps_of_piece(costume, p)]
    across = [s for s in straps if {e.piece for e in s.ends} == {1, 2}]
    assert all(s.side == "right" for s in across)
    assert bool(across) == (knee != "left")
    assert any(e.piece == 2 for s in straps for e in s.ends), "the knee is held"
    hung = [a for a in costume.anchors(costume.piece(1), "right") if not a.own and a.key.startswith("poleyn")]
    assert bool(hung) == (knee != "left")


def test_a_plate_over_another_lies_on_its_outer_face():
    """A cylinder: body + base 1.5 + ease 3 + foam 8, then the upper plate's own ease; beside the lower plate on the
    body."""
    round_ = measures(limb("thigh", (0, 130, 265), (2 * np.pi * 80,) * 3, (1.0,) * 3))
    tube = build_tube(round_, "thigh", "left")
    cuisse = LaidPiece(
        ink_piece(tube, PieceDesign(template="cuisse", foam=8, back="closed", lower={"inset": 120}, upper={"inset": 0}))
    )
    over = dressed(tube, lies_over(tube, (cuisse,), 1.5))
    upper = armour_surface(over, starter_design("tasset"))
    on_plate, beside = (float(upper.girth(over.along(z), INNER)[0]) for z in (200.0, 30.0))
    assert on_plate == pytest.approx(2 * np.pi * (80 + 1.5 + 3 + 8 + 3), abs=0.5)
    assert beside == pytest.approx(2 * np.pi * (80 + 1.5 + 3), abs=0.5)
    thick = dressed(tube, padded(tube, {"mid thigh": 12.0}))
    assert float(thick.girth(1.0)) == pytest.approx(2 * np.pi * 92, abs=0.5)
    assert float(thick.girth(0.0)) == pytest.approx(2 * np.pi * 80, abs=0.5)


@pytest.mark.parametrize("order", ["upper over lower", "lower over upper", "from the middle"])
def test_hidden_edges_of_plates_are_lengthened_by_what_was_asked(order):
    """A cylinder: every hidden plate is taller by the overlap, all round, and says where the next one reaches."""
    round_ = measures(limb("upper arm", (0, 110, 190), (2 * np.pi * 55,) * 3, (1.0,) * 3))
    plain = starter_design("segmented rerebrace").model_copy(update={"sizes": {"tip": 0.0}})
    tube = build_tube(round_, "upper arm", "left")
    apart, over = (
        ink_piece(tube, plain.model_copy(update={"laps": Laps(order=o, by=22.0)})) for o in ("edge to edge", order)
    )
    count = len(plate_edges(apart.panels))
    grown = [taller(tube, b) - taller(tube, a) for a, b in zip(apart.panels, over.panels, strict=True)]
    assert sum(grown) == pytest.approx(22 * count, abs=0.1)
    assert grown[
        {"upper over lower": -1, "lower over upper": 0, "from the middle": 1 if count > 2 else 0}[order]
    ] == pytest.approx(0 if order != "from the middle" else 22, abs=0.1)
    marks = [x for p in over.panels for x in p.inside if "next plate reaches here" in x.name]
    assert len(marks) == count
    flats = pattern_piece(
        round_, plain.model_copy(update={"laps": Laps(order=order, by=22.0)}), "Sleeve", "Build", 12.0
    )
    assert not [f for p in flats.panels for f in p.flaws]
    width = apart.surface.girth(1.0)[0] - 40
    before = pattern_piece(round_, plain, "Sleeve", "Build", 12.0)
    assert flats.area - before.area == pytest.approx(2 * count * 22 * width, rel=0.03)


def taller(tube, panel) -> float:
    along = tube.mm(np.concatenate([x.uv[:, 1] for x in panel.outline]))
    return float(along.max() - along.min())


def test_a_lace_has_as_many_eyelets_as_its_edge_asks():
    plan = rig_for(PieceDesign(template="greave", closure="lacing"))
    eyelets, lace = plan.parts
    assert eyelets.count == 2 * len(eyelets.at)
    assert np.diff(eyelets.at) == pytest.approx(np.diff(eyelets.at)[0])
    assert 25 <= np.diff(eyelets.at)[0] <= 40
    assert lace.length > 700


def test_what_covers_another_piece_is_told_until_it_is_patterned_over_it():
    plate, faulds, belt, tasset = (starter_design(t) for t in ("breastplate", "faulds", "belt", "tasset"))
    told = {
        p.name: [x.name for x in unsaid_beneath(c, p)] for c in [worn(plate, faulds, belt, tasset)] for p in c.pieces
    }
    assert told == {"breastplate": [], "faulds": ["breastplate"], "belt": ["breastplate", "faulds"], "tasset": []}
    over = faulds.model_copy(update={"over": ("breastplate",)}), belt.model_copy(update={"over": ("faulds",)})
    costume = worn(plate, *over)
    assert [unsaid_beneath(costume, p) for p in costume.pieces] == [[], [], []], (
        "what lies beneath the faulds is said by them"
    )
    short = trimmed(worn(faulds).pieces[0].on("left"), "upper edge", 45.0)
    (_, low) = worn(plate, short).pieces
    assert unsaid_beneath(worn(plate, short), low) == [], "edges that meet lie beside each other"
