"""Seams that open: what is set along them, what is left to glue, and who gets in."""

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.interpolate import LinearNDInterpolator

from tests.bodies import WEARER
from tests.core.pieces_to_make import job_for, rig_for, worn
from tests.depth import often
from vellumcut.core.design.making import Detail, Making
from vellumcut.core.design.parts import Border
from vellumcut.core.design.rig import OpeningRow, RigDesign
from vellumcut.core.design.sheet import InkSheet, Stroke
from vellumcut.core.foam.joints import seam_lines
from vellumcut.core.ink.library.table import starter_design
from vellumcut.core.ink.lines import opens
from vellumcut.core.ink.stage import ink_piece
from vellumcut.core.make.order import build_steps
from vellumcut.core.pattern.pattern import pattern_piece
from vellumcut.core.rig.closures.openings import (
    CLOSINGS,
    SHORTEST,
    opening_marks,
    openings_of,
    places_along,
    seam_length,
    seams_to_open,
    where_it_lies,
    why_none_opens,
)
from vellumcut.core.worn.donning import GIVES, SLIDE, check_donning, rings_of, widest_gate
from vellumcut.core.worn.stiffened import laid_round

HOLED = [k for k, c in CLOSINGS.items() if c.beside]


def ring_piece(low: float, high: float, *rows: OpeningRow, template="bracer"):
    """A closed shell drawn by hand, with one seam along the inside of the limb."""
    around = [-0.5 + k / 8 for k in range(9)]

    def line(key, kind, *points):
        return Stroke(key=key, kind=kind, name=key, points=points)

    ink = InkSheet(
        strokes=(
            line("upper", "outline", *((u, high) for u in around)),
            line("lower", "outline", *((u, low) for u in around)),
            line("inner", "seam", (-0.5, low), (-0.5, high)),
        )
    )
    design = starter_design(template)
    return design.model_copy(update={"ink": ink, "rig": RigDesign(openings=rows)})


def laid_of(design):
    (piece,) = worn(design).pieces
    return piece.on(piece.sides[0])


@given(
    st.sampled_from(sorted(CLOSINGS)), st.floats(0.1, 0.5), st.floats(1.3, 1.8), st.floats(0, 0.3), st.floats(0.7, 1.0)
)
@settings(max_examples=often(25), deadline=None)
def test_an_opening_is_set_evenly_within_its_stretch(kind, low, high, start, end):
    plain = laid_of(ring_piece(low, high))
    long = seam_length(plain, seams_to_open(plain)["inner"])
    row = OpeningRow(line="inner", kind=kind, low=start * long, high=end * long)
    (plan,) = openings_of(laid_of(ring_piece(low, high, row)))
    closing, run = CLOSINGS[kind], plan.high - plan.low
    assert run == pytest.approx((end - start) * long)
    cut = {p.name: p for p in plan.parts}
    if closing.every:
        assert plan.low < min(plan.at)
        assert max(plan.at) < plan.high
        assert max(np.diff(plan.at), default=0) <= closing.every + 1e-6
        assert plan.at[0] - plan.low == pytest.approx(plan.high - plan.at[-1])
    else:
        assert any(p.length == pytest.approx(run) for p in cut.values())
    if kind == "lacing":
        assert cut["eyelets for the inner"].count == 2 * len(plan.at)
        lace = cut["lace for the inner"]
        rows, diagonal, across, ends = (v.amount for v in lace.note.values)
        assert lace.length == pytest.approx(2 * rows * diagonal + across + 2 * ends)
        assert diagonal == pytest.approx(np.hypot(across, max(np.diff(plan.at), default=0)))
        assert rows == len(plan.at) - 1


def test_a_seam_that_opens_all_along_is_glued_nowhere_and_in_part_all_the_same():
    glued = [x.name for x in job_for(ring_piece(0.3, 1.6)).facts.seams]
    whole = job_for(ring_piece(0.3, 1.6, OpeningRow(line="inner", kind="zip")))
    part = job_for(ring_piece(0.3, 1.6, OpeningRow(line="inner", kind="zip", high=90)))
    assert glued == ["inner"]
    assert whole.facts.seams == ()
    assert [x.name for x in part.facts.seams] == ["inner"]
    (plan,) = openings_of(laid_of(part.pattern.design))
    (step,) = [s for s in build_steps(part) if s.key == "seam:inner"]
    assert f"Leave it open from 0 mm to {plan.high:.0f} mm" in step.how
    assert not any("Leave it open" in s.how for s in build_steps(whole))
    assert any("zip" in p.name for p in rig_for(part.pattern.design).parts)
    assert {p.name for p in rig_for(ring_piece(0.3, 1.6)).parts}.isdisjoint(p.name for p in plan.parts)
    assert any(opens(x.arc) for p in laid_of(whole.pattern.design).inked.panels for x in p.outline)


@pytest.mark.parametrize("kind", HOLED)
def test_holes_sit_beside_both_edges_on_the_cut_panel(kind):
    """Measured on the flat panel that is cut, not on the plane they were drawn on."""
    design = ring_piece(0.3, 1.6, OpeningRow(line="inner", kind=kind))
    laid = laid_of(design)
    (plan,) = openings_of(laid)
    fixings = tuple(opening_marks(laid, plan, p) for p in laid.inked.panels)
    assert len(fixings[0]) == 2 * len(plan.at), "a hole on either edge for every place"
    (panel,) = pattern_piece(WEARER, design, "Piece", "Build", 10.0).panels
    (flat, *_) = [panel.flat] if hasattr(panel, "flat") else [panel]
    edges = [shapely.LineString(e.points()) for e in flat.edges if opens(e.arc)]
    assert len(edges) == 2
    turn = np.array([laid.plane.turn, 0.0])
    ways = [LinearNDInterpolator(laid.plane.flat(flat.uv) + k * turn, flat.vertices) for k in (-1, 0, 1)]
    for ring in fixings[0]:
        middle = laid.plane.flat(ring.uv)[:-1].mean(axis=0)
        spots = [w(middle)[0] for w in ways]
        (spot,) = [shapely.Point(x) for x in spots if np.isfinite(x).all()][:1]
        assert min(e.distance(spot) for e in edges) == pytest.approx(CLOSINGS[kind].beside, abs=1.0)


@given(st.floats(0.0, 0.5), st.floats(0.3, 0.95), st.booleans())
@settings(max_examples=often(25), deadline=None)
def test_a_slit_lets_in_what_its_mouth_gives_and_no_more(low, share, at_low):
    """Against a direct computation: ring by ring, the way of the hand and the arm below it, and what the slit gives
    there."""
    plain = laid_of(ring_piece(low, 1.7))
    long = seam_length(plain, seams_to_open(plain)["inner"])
    ends = {"high": share * long} if at_low else {"low": (1 - share) * long}
    slit = laid_of(ring_piece(low, 1.7, OpeningRow(line="inner", **ends)))
    shut = laid_of(ring_piece(low, 1.7, OpeningRow(line="inner", low=20, high=0.8 * long)))
    before, after = check_donning(WEARER, plain, "left"), check_donning(WEARER, slit, "left")
    assert check_donning(WEARER, shut, "left").sentence == before.sentence, "a slit closed at both ends gives nothing"
    rings, hand = rings_of(plain), widest_gate(WEARER, plain.design, "left")[0].girth
    bottom, top = (float(plain.inked.tube.mm(x)) for x in (low, 1.7))
    tip = bottom + share * (top - bottom) if at_low else top - share * (top - bottom)
    spare = [
        inside + GIVES * max(0.0, tip - z if at_low else z - tip) - max([hand, *rings.body[:k]]) - SLIDE
        for k, (z, inside) in enumerate(zip(rings.z, rings.inside, strict=True))
    ]
    if abs(min(spare)) > 3:
        assert after.passes == (min(spare) > 0)


def test_a_seam_that_opens_all_along_lets_the_limb_in_sideways():
    tight = ring_piece(0.0, 1.6)
    assert check_donning(WEARER, laid_of(tight), "left").passes is False
    opened = tight.model_copy(update={"rig": RigDesign(openings=(OpeningRow(line="inner", kind="snaps"),))})
    found = check_donning(WEARER, laid_of(opened), "left")
    assert found.passes
    assert "sideways at the inner" in found.sentence


@pytest.mark.parametrize(("low", "high"), [(50, 70), (0, 5), (900, 950), (60, 20), (900, None)])
def test_too_short_a_stretch_is_opened_so_far_that_something_goes_in(low, high):
    """As typed, or on a body whose seam is shorter now: the piece keeps its pattern."""
    (plan,) = openings_of(laid_of(ring_piece(0.3, 1.6, OpeningRow(line="inner", low=low, high=high))))
    assert plan.high - plan.low == pytest.approx(SHORTEST)
    assert 0 <= plan.low < plan.high <= plan.length + 1e-9


def test_a_seam_no_longer_there_is_passed_over():
    design = ring_piece(0.3, 1.6, OpeningRow(line="a seam rubbed out"))
    laid = laid_of(design)
    assert openings_of(laid) == []
    assert list(seam_lines(ink_piece(laid.inked.tube, design)))


def test_a_lace_in_front_is_drawn_by_its_wearer_but_not_on_an_arm():
    front, behind = (np.array([[u, 0.2], [u, 0.8]]) for u in (0.0, 0.5))
    for template, alone in (("breastplate", True), ("greave", True), ("bracer", False), ("rerebrace", False)):
        laid = laid_of(starter_design(template))
        assert where_it_lies(laid, front, CLOSINGS["lacing"])[1] is alone, template
        assert where_it_lies(laid, behind, CLOSINGS["lacing"])[1] is False
        assert where_it_lies(laid, front, CLOSINGS["zip"])[1] is True


@pytest.mark.parametrize(
    ("around", "where"),
    [(0.0, "in front"), (0.13, "in front"), (0.95, "in front"), (-1.1, "in front"), (0.15, "at the side"),
     (0.8, "at the side"), (-0.35, "at the side"), (1.2, "at the side"), (0.37, "behind"), (0.5, "behind"),
     (-0.45, "behind"), (0.62, "behind"), (1.5, "behind")],
)  # fmt: skip
def test_where_a_line_lies_is_told_however_often_it_was_counted_round(around, where):
    line = np.array([[around, 0.1], [around, 0.9]])
    for template in ("breastplate", "greave"):
        assert where_it_lies(laid_of(starter_design(template)), line, CLOSINGS["zip"])[0].startswith(where)


@pytest.mark.parametrize(
    ("template", "back", "said"),
    [
        ("breastplate", "open", "It has no seam."),
        ("pauldron", "open", "It has no seam."),
        ("bracer", "open", "It has no seam."),
        ("bracer", "closed", "makes it a tube"),
        ("belt", "open", "where it opens in any case"),
        ("gorget", "open", "where it opens in any case"),
        ("faulds", "open", ""),
        ("ridged greave", "open", ""),
    ],
)
def test_a_piece_whose_seams_cannot_open_says_why(template, back, said):
    laid = laid_of(starter_design(template).model_copy(update={"back": back}))
    assert said in why_none_opens(laid)
    assert (why_none_opens(laid) == "") == bool(seams_to_open(laid)) == (said == "")


@pytest.mark.parametrize("kind", CLOSINGS)
@given(st.floats(20, 900), st.floats(0, 1), st.floats(0, 1))
@settings(max_examples=often(30), deadline=None)
def test_what_is_set_along_an_opening_is_as_few_as_keep_their_distance(kind, length, one, other):
    """The first and last sit their own way from its ends, the rest evenly and no farther apart than the kind allows;
    where there is no room for two, one in the middle."""
    low, high = sorted((one * length, other * length))
    begins, ends, at = places_along(OpeningRow(line="x", kind=kind, low=low, high=high), length)
    closing, run = CLOSINGS[kind], ends - begins
    assert 0 <= begins <= ends <= length + 1e-9
    assert run >= min(SHORTEST, length) - 1e-9
    if not closing.every:
        assert at == ()
    elif run < 3 * closing.from_end:
        assert at == (pytest.approx(begins + run / 2),)
    else:
        assert at[0] - begins == pytest.approx(closing.from_end) == ends - at[-1]
        steps = np.diff(at)
        assert steps.max() <= closing.every + 1e-6
        assert np.ptp(steps) < 1e-6
        assert len(at) == 2 or (at[-1] - at[0]) / (len(at) - 2) > closing.every, "one fewer would be too far apart"


@pytest.mark.parametrize("thick", [2.0, 25.0])
def test_a_thick_border_all_round_is_said_to_stiffen_what_is_spread(thick):
    """Foam of 6 mm springs cold, with 25 mm on it no more; a thin border makes no such difference. Where it lies is
    read back by the levels that it covers."""
    border = Detail(key="b", kind="trim", name="rope border",
        shape=Border(lines=("lower edge",), inset=10, width=30, foam=thick))  # fmt: skip
    design = starter_design("bracer").model_copy(update={"back": "open", "gap": 8.0, "foam": 6.0})
    assert check_donning(WEARER, laid_of(design), "left").passes
    laid = laid_of(design.model_copy(update={"making": Making(details=(border,))}))
    low, high = laid.inked.ends
    z = np.linspace(low, high, 200)
    on_it, names = laid_round(laid.inked, z)
    covered = z[on_it == thick]
    assert set(names) == {"", "rope border"}
    assert [covered.min() - low, covered.max() - low] == pytest.approx([10, 40], abs=2.5)
    told = check_donning(WEARER, laid, "left")
    assert ("“rope border” stiffens it: spread so far its faces give by 9 %, by 2 % without." in told.sentence) == (
        thick == 25.0
    )
