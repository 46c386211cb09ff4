"""How tightly panels bend, on tubes whose curves are known; layers, kerfs, and what is done instead."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.bodies import WEARER, bare, limb, measures
from tests.core.making.test_edges import Prism
from tests.depth import often
from vellumcut.core.cast.armour import ArmourSurface
from vellumcut.core.design.foam import FoamWork, Layer, PanelWork
from vellumcut.core.flatten.mesh import CUT_SIZE, EDIT_SIZE
from vellumcut.core.foam.advice import advise_sheet, instead_of
from vellumcut.core.foam.bends import curvatures, kerf_count, plan_kerfs, split_of, way_for
from vellumcut.core.foam.shelf import ShelfSheet, facts_of_sheet
from vellumcut.core.foam.stacks import asked_of_faces, layers_of
from vellumcut.core.ink.library.table import starter_design
from vellumcut.core.pattern.pattern import pattern_piece

GAP = 1.5 + 3.0


def tube_of(girth, high=220.0):
    return measures(limb("forearm", (0, high / 2, high), (girth,) * 3, (1.0, 1.0, 1.0)))


def pattern(readings, size=EDIT_SIZE, **changes):
    return pattern_piece(readings, bare("bracer", side="left", **changes), "P", "B", size)


@settings(max_examples=often(8), deadline=None)
@given(st.floats(200.0, 520.0), st.sampled_from([3.0, 6.0, 10.0]))
def test_a_cylinder_bends_by_its_own_radius_and_not_along(girth, foam):
    bend = pattern(tube_of(girth), foam=foam).bends["left"][0]
    radius = girth / (2 * np.pi) + GAP + foam / 2
    assert bend.across == pytest.approx(radius, rel=0.01)
    assert abs(bend.along) > 50 * radius
    assert bend.strain == pytest.approx(foam / (2 * radius) * 100, rel=0.01)
    assert bend.note.result.amount == pytest.approx(bend.strain)
    assert bend.note.values[0].amount / (2 * bend.note.values[1].amount) * 100 == pytest.approx(bend.strain)


def test_a_lifted_bump_and_a_saddle_are_told_apart_by_their_signs():
    """A ring of a torus, its outside a bulge both ways and its waist hollow along."""
    circle = np.linspace(-np.pi / 2, 1.5 * np.pi, 720, endpoint=False)
    ring = 100 * np.stack([np.cos(circle), np.sin(circle)], axis=1)
    z = np.linspace(0, 200, 201)
    for sign in (1.0, -1.0):
        radius = 100 + sign * (np.sqrt(250.0**2 - (z - 100) ** 2) - 250.0)
        body = Prism(ring, tuple(zip(z, radius / 100, strict=True)))
        surface = ArmourSurface(body, 0.0, 6.0, (0.0, 0.0))
        uv = np.stack([np.linspace(0.1, 0.4, 9), np.full(9, 0.5)], axis=1)
        across, along, one, two = curvatures(surface, uv, 8.0)
        # The sheet's middle lies 3 mm out from the ring.
        assert 1 / across == pytest.approx(np.full(9, 103.0), rel=0.01)
        assert 1 / along == pytest.approx(np.full(9, sign * 250.0), rel=0.05)
        assert (one >= two).all()


def test_layers_over_a_cylinder_differ_by_angle_times_their_distance():
    """Closed round a tube: the outer sheet is longer by a whole turn times what lies between the two middles."""
    for first, second in ((5.0, 5.0), (2.0, 6.0)):
        layers = (Layer(thickness=first), Layer(thickness=second))
        made = pattern(tube_of(300.0), CUT_SIZE, back="closed", layers=layers)
        assert made.design.foam == first + second
        inner, outer = made.panels
        assert [p.layer.letter for p in made.panels] == ["a", "b"]
        assert [p.label.code for p in made.panels] == ["BC 1a L", "BC 1b L"]
        wide = [p.flat.edge("lower edge").length for p in (inner, outer)]
        assert wide[1] - wide[0] == pytest.approx(2 * np.pi * (first + second) / 2, abs=0.1)
        assert wide[0] == pytest.approx(300.0 + 2 * np.pi * (GAP + first / 2), abs=0.1)
        alike = pattern(tube_of(300.0), CUT_SIZE, back="closed", layers=layers, layered="alike")
        one, two = (p.flat.edge("lower edge").length for p in alike.panels)
        assert one == pytest.approx(two) == pytest.approx(300.0 + 2 * np.pi * (GAP + (first + second) / 2), abs=0.1)


def test_layers_share_a_seam_and_each_is_glued_over_its_own_thickness():
    layers = (Layer(thickness=4), Layer(thickness=2))
    one, two = (pattern(tube_of(300.0), back="closed", layers=x) for x in ((), layers))
    assert two.joined_length == pytest.approx(one.joined_length, rel=0.01)
    glued = [sum(mm * layer.thickness for _, mm, layer in p.joined) for p in (one, two)]
    assert glued[0] == pytest.approx(6 * one.joined_length)
    assert glued[1] == pytest.approx(glued[0], rel=0.01)
    assert two.glued_area == pytest.approx(two.panels[0].flat.area, rel=0.1)


def test_one_panel_may_be_thicker_than_its_neighbour_and_each_is_cut_to_its_own_depth():
    work = FoamWork(panels=(PanelWork(panel=2, layers=(Layer(thickness=6), Layer(thickness=3))),))
    design = starter_design("faulds").model_copy(update={"side": "both", "foam_work": work})
    made = pattern_piece(WEARER, design, "P", "B", EDIT_SIZE)
    assert [(p.flat.number, p.layer.thickness) for p in made.panels][:3] == [(1, design.foam), (2, 6.0), (2, 3.0)]
    seam = next(j for j in made.joints["left"] if 2 in j.panels and j.foam[0] != j.foam[1])
    assert sorted(seam.foam) == sorted((design.foam, 9.0))
    alone = pattern_piece(WEARER, design.model_copy(update={"foam_work": FoamWork()}), "P", "B", EDIT_SIZE)
    assert len(made.panels) == len(alone.panels) + 1
    assert made.area > alone.area


@settings(max_examples=often(30), deadline=None)
@given(st.floats(0.3, 6.0), st.floats(2.0, 8.0), st.floats(0.5, 6.0))
def test_kerfs_close_exactly(turn, depth, width):
    count, exact = kerf_count(depth, width, turn)
    assert count * exact == pytest.approx(depth * turn)
    assert count == 1 or exact == pytest.approx(width, rel=0.5)


def test_kerfs_lie_where_the_panel_turns_and_are_drawn_from_edge_to_edge():
    work = FoamWork(panels=(PanelWork(panel=1, bend="kerf", kerf_width=2.0),))
    made = pattern(tube_of(260.0), foam=12.0, foam_work=work)
    (bend,), piece = made.bends["left"], made.inked["left"]
    kerfs = plan_kerfs(piece.surface, piece.panels[0], bend)
    assert kerfs.depth == pytest.approx(8.0)
    assert kerfs.count * kerfs.width == pytest.approx(kerfs.depth * bend.turn)
    assert kerfs.count * kerfs.closes == pytest.approx(np.degrees(bend.turn))
    # A tube with its opening at the back turns by what the opening leaves of the whole.
    radius = 260.0 / (2 * np.pi) + GAP + 6.0
    assert bend.turn == pytest.approx(2 * np.pi - 40.0 / radius, rel=0.03)
    (panel,) = made.panels
    drawn = [x for x in panel.flat.lines if x.kind == "kerf"]
    assert len(drawn) == kerfs.count
    tall = np.ptp(panel.flat.outline[:, 1])
    assert all(np.ptp(x.points[:, 1]) > 0.9 * tall for x in drawn)
    across = np.sort([x.points[:, 0].mean() for x in drawn])
    assert np.ptp(np.diff(across)) < 0.05 * np.diff(across).mean()  # even on an even tube


def test_foam_too_thick_for_a_slim_wrist_is_caught_and_what_else_costs_is_told():
    slim = measures(limb("forearm", (0, 110, 220), (138, 150, 160), (0.76, 0.9, 0.95)))
    made = pattern_piece(slim, bare("bracer", side="left", foam=12.0), "P", "B", EDIT_SIZE)
    (bend,) = made.bends["left"]
    assert bend.strain > 20
    assert any("too thick for its tightest curve" in f.message and f.level == "look" for f in made.findings)
    ways = {w.key: w for w in instead_of(bend, made.area, 220.0)}
    assert set(ways) == {"thinner", "laminate", "kerf"}
    assert [x.thickness for x in ways["laminate"].layers] == [6.0, 6.0]
    assert ways["laminate"].strain < 20
    assert ways["laminate"].cement == pytest.approx(made.area / 1e6 * 500)
    assert ways["thinner"].grams < 0
    assert ways["thinner"].strain <= 10
    assert ways["kerf"].minutes > 0
    assert all(w.money is None for w in ways.values())
    priced = tuple(ShelfSheet(kind="armour", thickness=t, price=20.0 + t, size=(1000, 1000)) for t in (2, 4, 5, 6, 12))
    paid = next(w for w in instead_of(bend, made.area, 220.0, priced) if w.key == "laminate").money
    assert paid == pytest.approx(made.area / 1e6 * (2 * 26.0 - 32.0))
    # Taken over, the laminate is what it said it would be.
    over = pattern_piece(slim, bare("bracer", side="left", layers=ways["laminate"].layers), "P", "B", EDIT_SIZE)
    assert over.bends["left"][0].strain == pytest.approx(ways["laminate"].strain, rel=0.02)
    assert not any("too thick" in f.message for f in over.findings)


def test_layers_curved_together_are_for_gentle_curves():
    layers = (Layer(thickness=4), Layer(thickness=4))
    tight = pattern(tube_of(260.0), layers=layers, layered="alike")
    assert any("gentle curves" in f.message for f in tight.findings)
    gentle = pattern(tube_of(900.0, 200.0), layers=layers, layered="alike")
    assert not any("gentle curves" in f.message for f in gentle.findings)
    stack = layers_of(bare("bracer", layers=layers), 1)
    assert asked_of_faces(stack, True, 100.0) == pytest.approx(4.0)
    assert asked_of_faces(stack, False, 100.0) == pytest.approx(4 / (2 * 98.0) * 100)


def test_a_seam_is_bent_at_its_bevel_and_not_in_its_foam():
    """A ridge down the middle of a breastplate is a joint: the panel beside it is no tighter than without it."""
    plain, ridged = (
        pattern_piece(WEARER, starter_design("breastplate").model_copy(update={"choices": c}), "P", "B", EDIT_SIZE)
        for c in ({}, {"front": "centre ridge"})
    )
    assert ridged.tightest > 0.7 * plain.tightest


def test_the_mildest_way_is_advised_and_sheets_by_their_role():
    assert [way_for(s, 12.0) for s in (1.0, 5.0, 15.0, 30.0, 60.0)] == ["cold", "warm", "past", "laminate", "kerf"]
    assert way_for(30.0, 1.0) == "kerf"
    assert split_of(12.0, "armour") == (6, 6)
    assert split_of(11.0, "armour") == (6, 5)
    assert advise_sheet("base", 120.0, 1e5).thickness == 6
    assert advise_sheet("base", 25.0, 1e5).thickness == 5
    assert "thinnest of its kind" in advise_sheet("structure", 20.0, 1e5).words
    assert advise_sheet("detail", 200.0, 1e5).kind == "soft"


def test_weight_is_area_times_thickness_times_density_and_the_shelf_counts_its_offcuts():
    own = ShelfSheet(kind="mat", thickness=10, density=100, size=(600, 600), sheets=2, offcuts=((300, 200),), price=9.0)
    facts = facts_of_sheet("mat", 10.0, (own,))
    assert facts.grams(360_000, 10.0) == pytest.approx(0.36 * 0.01 * 100 * 1000)
    assert facts.in_hand == pytest.approx(2 * 0.36 + 0.06)
    assert facts.cost(720_000) == pytest.approx(18.0)
    assert facts.textured
    assert not facts_of_sheet("armour", 10.0).textured
