"""Free edges that close on each other: lengths and gaps against the edges themselves, measured here."""

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from tests.bodies import measures, trunk
from tests.core.pieces_to_make import rig_for, worn
from tests.depth import often
from vellumcut.core.cast.armour import MIDDLE
from vellumcut.core.design.piece import PieceDesign
from vellumcut.core.design.rig import EdgeClosing
from vellumcut.core.ink.library.table import starter_design
from vellumcut.core.rig.closures.facing import SPANS, edges_of, facings_of
from vellumcut.core.rig.closures.facing_marks import facing_marks
from vellumcut.core.rig.closures.openings import CLOSINGS, openings_of
from vellumcut.core.rig.fixing import Fixing
from vellumcut.core.rig.lengths import TAIL, TURN_OVER
from vellumcut.core.rig.part import LACE_END
from vellumcut.core.rig.parts import plan_parts
from vellumcut.core.rig.straps import straps_of_piece
from vellumcut.core.worn.dressing import dressing_order

BED = 60.0


def closing(template: str, *rows: EdgeClosing, **more) -> PieceDesign:
    design = starter_design(template)
    return design.model_copy(update={"rig": design.rig.model_copy(update={"closings": rows}), **more})


def on_the_body(costume, key: int, name: str) -> np.ndarray:
    """An edge of a piece on the figure, finely, on the wearer's left."""
    piece = costume.piece(key)
    laid, seat = piece.on("left"), costume.seat(piece.part, "left")
    (uv, _), *_ = [e for e in edges_of(laid)[name] if e[0][:, 0].mean() > 0] or edges_of(laid)[name]
    steps = np.linspace(0, len(uv) - 1, 400)
    dense = np.stack([np.interp(steps, np.arange(len(uv)), uv[:, k]) for k in (0, 1)], axis=1)
    return seat.place(laid.inked.surface.points(dense, MIDDLE))


@given(st.floats(0.85, 1.25), st.floats(0, 40), st.sampled_from(sorted(SPANS)), st.sampled_from(["side", "shoulder"]))
@settings(max_examples=often(8), deadline=None)
def test_breast_and_back_close_as_long_as_their_edges_are_and_no_farther_than_it_spans(share, apart, kind, where):
    body = measures().model_copy(update={"torso": trunk(bust=940 * share, waist=760 * share, hip=980 * share)})
    row = EdgeClosing(edge=f"{where} edge", other=f"{where} edge", piece="backplate", kind=kind)
    costume = worn(closing("breastplate", row), closing("backplate", ease=3.0 + apart), readings=body)
    one, other = (on_the_body(costume, k, f"{where} edge") for k in (1, 2))
    gaps = np.linalg.norm(one[:, None] - other[None], axis=2).min(axis=1)
    (plan,) = facings_of(costume, costume.piece(1), "left")
    if gaps.max() > SPANS[kind] + 2:
        assert plan.problem or plan.gap <= SPANS[kind]
        assert not plan.problem or not plan.parts
    if gaps.max() < min(SPANS[kind] - 2, 4 * gaps.min() + 15):
        assert not plan.problem
        at = np.linalg.norm(one[:, None] - other[None], axis=2).argmin(axis=1)
        whole = np.linalg.norm(np.diff(one, axis=0), axis=1)
        beyond = whole[np.isin(at, (0, len(other) - 1))[1:]].sum()
        assert whole.sum() - beyond - 5.0 <= plan.length <= whole.sum() + 1.0
        assert plan.length == pytest.approx(whole.sum(), abs=5.0) or beyond > 5
        assert plan.gap == pytest.approx(gaps.max(), abs=2.0)
    if plan.problem:
        return
    assert plan.alike == 2, "left and right"
    (first, *_) = plan.parts
    assert first.count % 2 == 0
    if kind == "lacing":
        rows, wide = len(plan.at), plan.gap + 2 * CLOSINGS[kind].beside
        pitch = plan.at[1] - plan.at[0]
        lace = next(p for p in plan.parts if p.name.startswith("lace"))
        assert lace.length == pytest.approx(2 * (rows - 1) * np.hypot(wide, pitch) + wide + 2 * LACE_END, abs=0.1)
    if kind == "buckles":
        webbing = next(p for p in plan.parts if p.name.startswith("webbing"))
        assert webbing.length == pytest.approx(2 * BED + 2 * TURN_OVER + TAIL + plan.gap, abs=0.1)


def test_only_a_part_closes_and_straps_stay_beside_it():
    row = EdgeClosing(edge="side edge", other="side edge", piece="backplate", kind="zip", low=40, high=130)
    costume = worn(closing("breastplate", row), starter_design("backplate"))
    (plan,) = facings_of(costume, costume.piece(1), "left")
    assert (plan.low, plan.high) == (40, 130)
    piece = costume.piece(1)
    parts = plan_parts(costume, piece, "left", [], None, Fixing()).parts
    zips = [p for p in parts if "zip" in p.name]
    assert [(p.count, p.length) for p in zips] == [(2, 90)]
    assert "closed at its end" in zips[0].name
    assert costume.rig(piece).key == "shoulders and sides"


def test_what_cannot_close_is_said():
    rows = (
        EdgeClosing(edge="rim of the moon", other="hem", kind="zip"),
        EdgeClosing(edge="hem", other="neckline", kind="zip"),
        EdgeClosing(edge="hem", other="hem", piece="Cloak", kind="zip"),
    )
    costume = worn(closing("breastplate", *rows))
    lost, far, gone = facings_of(costume, costume.piece(1), "left")
    assert "no free edge “rim of the moon”" in lost.problem
    assert "zip closes up to 20 mm" in far.problem
    assert "Cloak is not in the costume" in gone.problem
    plan = rig_for(costume.piece(1).design)
    assert not [p for p in plan.parts if "zip" in p.name]
    assert all(f"{x.problem}." in plan.advice for x in (lost, far, gone)), "said on the rig sheet, too"
    row = EdgeClosing(edge="upper edge", other="lower edge", piece="rerebrace", kind="zip")
    apart = worn(closing("bracer", row, side="left"), closing("rerebrace", side="right"))
    (plan,) = facings_of(apart, apart.piece(1), "left")
    assert "rerebrace is not worn on the left" in plan.problem


@pytest.mark.parametrize("template", ["ridged greave", "breastplate", "backplate"])
def test_an_edge_closes_on_its_like_as_far_off_as_that_is_and_never_on_itself(template):
    row = EdgeClosing(edge="side edge", other="side edge", kind="lacing")
    costume = worn(closing(template, row))
    piece = costume.piece(1)
    (plan,) = facings_of(costume, piece, piece.sides[0])
    laid, seat = piece.on(piece.sides[0]), costume.seat(piece.part, piece.sides[0])
    drawn = [uv for uv, _ in edges_of(laid)["side edge"]]
    pair = drawn if len(drawn) == 2 else [drawn[0], drawn[0] * [-1.0, 1.0]]
    lines = [seat.place(laid.inked.surface.points(uv, MIDDLE)) for uv in pair]
    nearest = np.linalg.norm(lines[0][:, None] - lines[1][None], axis=2).min()
    assert nearest > 30
    if plan.problem:
        assert "closes up to 160 mm" in plan.problem
        assert f" {nearest:.0f} to " in plan.problem or abs(plan.gap - nearest) < 5
    else:
        assert plan.alike == 1
        assert nearest - 1 <= plan.gap <= 160


def dressed(costume, number=1):
    """The step of a piece in the order of dressing, the first piece's straps and all."""
    straps = {1: straps_of_piece(costume, costume.piece(1))}
    return next(s for s in dressing_order(costume, straps, {}) if s.piece == number)


@pytest.mark.parametrize("first", ["breastplate", "backplate"])
def test_what_joins_two_pieces_is_fastened_when_the_second_is_on(first):
    other = "backplate" if first == "breastplate" else "breastplate"
    row = EdgeClosing(edge="side edge", other="side edge", piece=other, kind="lacing")
    plain, laced = (worn(d, starter_design(other)) for d in (starter_design(first), closing(first, row)))
    held = sum(s.fastening not in ("tack", "sewn") for s in straps_of_piece(plain, plain.piece(1)))
    assert dressed(plain).minutes == dressed(laced).minutes == pytest.approx(1.0), "it is laid on, and waits"
    assert dressed(plain, 2).minutes == pytest.approx(1.0 + 0.5 * held)
    assert "Close it" not in dressed(laced).how
    assert f"Close it: lacing from the side edge to the side edge of {first}." in dressed(laced, 2).how
    assert dressed(laced, 2).why.startswith(f"lacing from the side edge to the side edge of {first} lies at the side")
    alone = worn(starter_design(first))
    own = sum(s.fastening not in ("tack", "sewn") for s in straps_of_piece(alone, alone.piece(1)))
    assert dressed(alone).minutes == pytest.approx(1.0 + 0.5 * own), "with nobody beside it what it has is its own"


def test_edges_and_seams_that_close_take_their_time_when_dressing_and_say_who():
    row = EdgeClosing(edge="side edge", other="side edge", piece="backplate", kind="zip", low=40, high=130)
    company = (starter_design("backplate"),)
    plain = dressed(worn(starter_design("breastplate"), *company), 2)
    zipped = dressed(worn(closing("breastplate", row), *company), 2)
    assert zipped.minutes - plain.minutes == pytest.approx(2 * 0.5), "a zip on each side, half a minute each"
    assert "Close it: zip from the side edge to the side edge of breastplate." in zipped.how
    assert "Close it" not in plain.how
    lace = EdgeClosing(edge="side edge", other="side edge", kind="lacing")
    calf, bare_calf = dressed(worn(closing("ridged greave", lace))), dressed(worn(starter_design("ridged greave")))
    assert calf.minutes - bare_calf.minutes == pytest.approx(3.0 * calf.copies), "a lace is drawn on each leg"
    assert calf.who == "helper"
    assert calf.why == "lacing from the side edge to its like on the other side lies behind, where the eye does not go"
    front = closing("breastplate", EdgeClosing(edge="side edge", other="side edge", piece="backplate", kind="lacing"))
    sides = dressed(worn(front, *company), 2)
    assert "behind the back" not in sides.why, "laced at the sides"
    seam = starter_design("faulds").model_copy(update={"sizes": {"front gap": 0, "back gap": 0}})
    shut = {"openings": ({"line": "joint-1", "kind": "snaps"},)}
    snapped = seam.model_validate(seam.model_dump() | {"rig": seam.rig.model_dump() | shut})
    one, other = worn(snapped), worn(seam)
    (plan,) = openings_of(one.piece(1).on("left"))
    fewer = sum(s.fastening not in ("tack", "sewn") for s in straps_of_piece(one, one.piece(1)))
    more = sum(s.fastening not in ("tack", "sewn") for s in straps_of_piece(other, other.piece(1)))
    assert dressed(one).minutes - dressed(other).minutes == pytest.approx(0.5 * (len(plan.at) + fewer - more))
    assert "Close it: snaps" in dressed(worn(snapped)).how


@given(st.floats(0.88, 1.2), st.floats(0, 30), st.sampled_from(["lacing", "snaps", "magnets"]))
@settings(max_examples=often(6), deadline=None)
def test_holes_lie_beside_both_edges_across_from_each_other_and_are_as_many_as_are_counted(share, apart, kind):
    """Distances in space between the middles of the rings, on pieces whose edges are placed by this test."""
    body = measures().model_copy(update={"torso": trunk(bust=940 * share, waist=760 * share, hip=980 * share)})
    row = EdgeClosing(edge="side edge", other="side edge", piece="backplate", kind=kind, low=20)
    costume = worn(closing("breastplate", row), closing("backplate", ease=3.0 + apart), readings=body)
    (plan,) = facings_of(costume, costume.piece(1), "left")
    assume(not plan.problem)
    middles = []
    for key in (1, 2):
        piece = costume.piece(key)
        laid, seat = piece.on("left"), costume.seat(piece.part, "left")
        marks = facing_marks(costume, piece, "left")
        copies = sum(len(m) * (2 if t else 1) for m, t in zip(marks, laid.inked.twins, strict=True))
        assert copies == 2 * (len(plan.at) + 1), "as many as the plan has, left and right, and where it begins"
        rings = {m.name: m.uv * [np.sign(m.uv[0, 0]), 1.0] for panel in marks for m in panel}
        assert f"{kind} begins" in rings
        middles.append(
            {
                n: seat.place(laid.inked.surface.points(uv[:-1], MIDDLE)).mean(axis=0)
                for n, uv in rings.items()
                if not n.endswith("begins")
            }
        )
        edge, beside = on_the_body(costume, key, "side edge"), CLOSINGS[kind].beside
        for place in middles[-1].values():
            assert np.linalg.norm(edge - place, axis=1).min() == pytest.approx(beside, rel=0.12), (
                "as at the edge itself"
            )
        heights = [float(place[2]) for place in middles[-1].values()]
        assert heights == sorted(heights), "told from the lower end"
    front, back = middles
    assert list(front) == list(back) == [f"{kind} {k}" for k in range(1, len(plan.at) + 1)]
    for name, place in front.items():
        assert np.linalg.norm(place - back[name]) <= plan.gap + 2 * CLOSINGS[kind].beside + 6.0
    if kind == "lacing":
        (counted,) = [p.count for p in plan.parts if p.name.startswith("eyelets")]
        assert counted == 2 * 2 * len(plan.at)


def test_an_edge_laced_to_its_like_is_pierced_on_both_sides_and_what_cannot_close_is_not():
    lace = EdgeClosing(edge="side edge", other="side edge", kind="lacing")
    far = EdgeClosing(edge="upper edge", other="lower edge", kind="snaps")
    costume = worn(closing("ridged greave", lace, far))
    piece = costume.piece(1)
    plan, none = facings_of(costume, piece, "left")
    assert none.problem
    marks = [m for panel in facing_marks(costume, piece, "left") for m in panel]
    assert {m.name for m in marks} == {f"lacing {k}" for k in range(1, len(plan.at) + 1)}
    (eyelets,) = [p.count for p in plan.parts if p.name.startswith("eyelets")]
    assert piece.on("left").inked.twins == (True,)
    assert eyelets == 2 * len(marks) == 2 * len(plan.at)


@pytest.mark.parametrize("side", ["left", "right", "both"])
def test_a_pair_is_pierced_for_what_closes_on_either_of_it(side):
    """Left and right are cut alike: what closes on the right one pierces the drawing of both, once."""
    row = EdgeClosing(edge="upper edge", other="lower edge", piece="rerebrace", kind="lacing", low=90, high=150)
    costume = worn(closing("bracer", row, side=side), closing("rerebrace"))
    worn_on = "right" if side == "right" else "left"
    (plan,) = facings_of(costume, costume.piece(1), worn_on)
    assert not plan.problem
    marks = [[m.name for panel in facing_marks(costume, costume.piece(k), worn_on) for m in panel] for k in (1, 2)]
    wanted = [*(f"lacing {k}" for k in range(1, len(plan.at) + 1)), "lacing begins", "lacing ends"]
    assert sorted(marks[0]) == sorted(marks[1]) == sorted(wanted)
    mate = costume.piece(2)
    assert [m.name for p in facing_marks(costume, mate, next(iter(mate.inked))) for m in p] == marks[1]


def test_a_trunk_piece_is_pierced_on_both_sides_for_a_pair_that_closes_on_it():
    row = EdgeClosing(edge="cap's front edge", other="armhole", piece="breastplate", kind="lacing")
    costume = worn(closing("pauldron", row), closing("breastplate"))
    (plan,) = facings_of(costume, costume.piece(1), "left")
    assert not plan.problem
    marks = [m for panel in facing_marks(costume, costume.piece(2), "left") for m in panel]
    sides = [float(np.sign(m.uv[0, 0])) for m in marks]
    assert sides.count(1.0) == sides.count(-1.0) == len(plan.at) > 1


@pytest.mark.parametrize(("edge", "other"), [("neck edge", "armhole"), ("cap's front edge", "armhole"),
    ("cap's back edge", "shoulder edge"), ("neck edge", "shoulder edge")])  # fmt: skip
def test_nothing_is_set_past_the_end_of_the_other_edge(edge, other):
    """A pauldron's rims against the ends of a breastplate's edges: every place has its own across from it."""
    row = EdgeClosing(edge=edge, other=other, piece="breastplate", kind="lacing")
    costume = worn(closing("pauldron", row), closing("breastplate"))
    (plan,) = facings_of(costume, costume.piece(1), "left")
    one, end = on_the_body(costume, 1, edge), on_the_body(costume, 2, other)
    nearest = np.linalg.norm(one[:, None] - end[None], axis=2)
    steps = np.linalg.norm(np.diff(one, axis=0), axis=1)
    across = ~np.isin(nearest.argmin(axis=1), (0, len(end) - 1))
    if plan.problem:
        assert steps[across[1:]].sum() < 40 or np.ptp(nearest.argmin(axis=1)[across]) < 200, "too short to close"
        return
    assert plan.length <= steps[across[1:]].sum() + 2 * 12.0
    rings = [m.uv[:-1].mean(axis=0) for panel in facing_marks(costume, costume.piece(2), "left") for m in panel
        if m.kind == "rivet" or not m.name.endswith(("begins", "ends"))]  # fmt: skip
    apart = np.linalg.norm(np.array(rings)[:, None] - np.array(rings)[None], axis=2)
    assert len(rings) == 2 * len(plan.at)
    assert apart[~np.eye(len(rings), dtype=bool)].min() > 0.02, "none on another"
