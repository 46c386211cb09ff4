"""Joints turned with armour on, and getting in and out: tubes against closed forms, pieces against a direct
computation."""

import numpy as np
import pytest
from hypothesis import HealthCheck, assume, given, settings
from hypothesis import strategies as st

from tests.bodies import EDGE_AT_STATION, WEARER, limb, measures, trunk
from tests.core.pieces_to_make import worn
from tests.depth import long, often, some
from vellumcut.core.body.ellipse import EllipticTube
from vellumcut.core.body.segments import SEGMENTS
from vellumcut.core.body.tube import TubeSurface
from vellumcut.core.cast.armour import INNER
from vellumcut.core.cast.stations import build_tube
from vellumcut.core.design.piece import PieceDesign
from vellumcut.core.design.sheet import InkSheet
from vellumcut.core.errors import CraftError
from vellumcut.core.ink.library.board import line
from vellumcut.core.ink.library.table import TEMPLATES, starter_design
from vellumcut.core.ink.stage import ink_piece
from vellumcut.core.rig.costume import Costume, Worn
from vellumcut.core.rig.figure import Figure, Joint, Motion, Seat, figure_of, moved_by
from vellumcut.core.rig.laid import LaidPiece
from vellumcut.core.worn.donning import HEAD, SHOULDERS, SLIDE, check_donning
from vellumcut.core.worn.ground import scrapes_of
from vellumcut.core.worn.movement import bind, binds_of, meets_at, with_cut
from vellumcut.core.worn.trim import trimmed

X = (-1.0, 0.0, 0.0)
SHELL = {"back": "closed", "lower": EDGE_AT_STATION, "upper": EDGE_AT_STATION, "base_layer": 0.0}


def hinged(radius: float, gap: float, foam: float, ease: float, reach: float = 150.0) -> tuple[Costume, Joint, Motion]:
    """Two straight tubes, rims ``gap`` mm above and below a hinge across their axis."""
    pieces, seats = [], {}
    for key, (template, part, at) in enumerate(
        (("rerebrace", "upper arm", gap), ("bracer", "forearm", -gap - 160.0)), 1
    ):
        names = tuple(s.name for s in SEGMENTS[part].stations)
        tube = EllipticTube(names, (0.0, 80.0, 160.0), (2 * np.pi * radius,) * 3, (1.0,) * 3)
        design = PieceDesign(template=template, side="left", foam=foam, ease=ease, **SHELL)
        pieces.append(Worn(key, template, design, {"left": ink_piece(tube, design)}))
        seats[part, "left"] = Seat(tube, np.array([0.0, 0.0, at]), np.eye(3))
    motion = Motion("bend", "bend", X, reach)
    joint = Joint("left elbow", "left elbow", np.zeros(3), (motion,), {"left forearm": 1.0})
    return Costume(Figure(seats, {"left elbow": joint}, (), 0.0, 0.0), tuple(pieces)), joint, motion


@given(st.floats(35, 110), st.floats(8, 60), st.floats(2, 12), st.floats(0, 12))
@settings(max_examples=often(25), deadline=None)
def test_two_hinged_tubes_meet_and_open_as_the_closed_form_says(radius, gap, foam, ease):
    """Outer radius R, rims d from the hinge: they meet at 2 atan(d / R); behind, the gap is a chord of the circle that
    the rim's far point runs on."""
    outer = radius + ease + foam
    expected = 2 * np.degrees(np.arctan(gap / outer))
    costume, joint, motion = hinged(radius, gap, foam, ease)
    upper, lower = costume.pieces
    found = bind(costume, joint, motion, (lower, "left"), (upper, "left"), 1.0)
    assert found.angle == pytest.approx(expected, abs=1.0)
    assert (found.edges[0], found.edges[1]) == ("upper edge", "lower edge")
    if 2 * gap <= 60:
        chord = 2 * np.hypot(outer, gap) * np.sin(np.radians(found.angle) / 2 + np.arctan(gap / outer))
        assert found.opening.after == pytest.approx(chord, abs=1.0)
        assert found.opening.before == pytest.approx(2 * gap, abs=1.0)


def test_tubes_that_are_far_enough_apart_never_meet():
    costume, joint, motion = hinged(50, 40, 6, 3, reach=60.0)
    (found,) = binds_of(costume, joint, motion)
    assert found.angle is None
    assert 2 * np.degrees(np.arctan(40 / 59)) > 60


@given(st.floats(40, 90), st.floats(6, 25), st.floats(20, 60))
@settings(max_examples=often(12), deadline=None)
def test_a_trimmed_edge_lets_the_joint_turn_as_far_as_was_asked(radius, gap, more):
    """Cutting one rim back by t: the circle of its corner must clear the other's; checked on the piece cut anew."""
    costume, joint, motion = hinged(radius, gap, 6, 3)
    upper, lower = costume.pieces
    design = trimmed(lower.on("left"), "upper edge", more)
    cut = Worn(2, "bracer", design, {"left": ink_piece(lower.on("left").inked.tube, design)})
    found = bind(Costume(costume.figure, (upper, cut)), joint, motion, (cut, "left"), (upper, "left"), 1.0)
    before = bind(costume, joint, motion, (lower, "left"), (upper, "left"), 1.0)
    assert found.angle is None or found.angle > before.angle + 2
    tried = meets_at(with_cut(costume, cut, joint), joint, motion, ((cut, "left"), (upper, "left")))
    assert tried == pytest.approx(np.inf if found.angle is None else found.angle, abs=0.6), (
        "a cut tried on what is left"
    )
    back = trimmed(LaidPiece(cut.on("left").inked), "upper edge", -more)
    assert back.upper.inset == pytest.approx(0.0, abs=0.02)


@pytest.mark.parametrize("template", TEMPLATES)
def test_every_edge_of_every_template_moves_by_as_much_as_was_asked(template):
    design = starter_design(template)
    side = "left"
    piece = ink_piece(build_tube(WEARER, TEMPLATES[template].part, side), design)
    laid = LaidPiece(piece)
    moved = 0
    for name in {x.name for p in piece.panels for x in p.outline if x.kind == "outline"}:
        if name.startswith("closing"):
            continue
        cut = LaidPiece(ink_piece(piece.tube, trimmed(laid, name, 12.0)))
        assert cut.area.area < laid.area.area + 1
        assert not {p.kind for p in cut.inked.problems} - {p.kind for p in piece.problems}, name
        moved += 1
    assert moved
    with pytest.raises(CraftError, match=r"no (free )?edge"):
        trimmed(laid, "rim of the moon", 5)


@long
def test_every_joint_of_a_full_costume_gives_an_answer():
    costume = worn(*(starter_design(t) for t in TEMPLATES), readings=WEARER)
    seen = {j.key: [b for m in j.motions for b in binds_of(costume, j, m)] for j in costume.figure.joints.values()}
    assert len(seen) == 14
    for key in ("waist", "left shoulder", "left elbow", "left hip", "left knee", "left ankle"):
        assert seen[key], key
    for joint in (costume.figure.joints[k] for k in ("waist", "left shoulder")):
        for b in seen[joint.key]:
            pair = tuple((costume.piece(key), side) for key, side in (b.moving, b.fixed))
            motion = next(m for m in joint.motions if m.key == b.motion)
            assert meets_at(costume, joint, motion, pair) == pytest.approx(np.inf if b.angle is None else b.angle)
    for left, right in ((k, k.replace("left", "right")) for k in seen if k.startswith("left")):
        one, other = ({(b.motion, b.moving[0], b.fixed[0]): b.angle for b in seen[k]} for k in (left, right))
        for pair in set(one) & set(other):
            if one[pair] is not None and other[pair] is not None and one[pair] > 1:
                assert one[pair] == pytest.approx(other[pair], abs=2.5), (left, pair)


def test_a_knee_that_is_lifted_and_bent_puts_the_foot_below_the_knee():
    figure = figure_of(WEARER)
    sit = [("left hip", "bend", 90.0), ("left knee", "bend", 90.0)]
    knee, ankle = (figure.joints[f"left {j}"].at[None] for j in ("knee", "ankle"))
    thigh = float(np.linalg.norm(knee - figure.joints["left hip"].at))
    there = moved_by(figure, "left thigh", sit, knee)[0]
    assert there == pytest.approx(figure.joints["left hip"].at + [0.0, -thigh, 0.0], abs=1e-6)
    foot = moved_by(figure, "left foot", sit, ankle)[0]
    assert foot[2] == pytest.approx(there[2] - float(knee[0, 2] - ankle[0, 2]), abs=1e-6)
    assert moved_by(figure, "right foot", sit, ankle) == pytest.approx(ankle)


ROOM = {"forearm": ("bracer", "hand"), "lower leg": ("greave", "heel"), "thigh": ("cuisse", None)}


@given(
    st.sampled_from(sorted(ROOM)), st.floats(150, 330), st.floats(1.0, 1.7), st.floats(0.8, 1.5), st.floats(170, 380),
    st.floats(0, 25), st.floats(2, 12), st.integers(0, 60),
)  # fmt: skip
@settings(max_examples=often(90), deadline=None, suppress_health_check=[HealthCheck.filter_too_much])
def test_a_closed_limb_piece_that_cannot_pass_is_never_called_wearable(part, low, belly, top, gate, ease, foam, inset):
    girths = (low, low * belly, low * belly * top)
    assume(girths[2] < 900)
    template, passed = ROOM[part]
    own = limb(part, (0, 120, 240), girths, gate=gate if passed else None)
    below = [limb("lower leg", (0, 200, 325), (220, 360, 340), gate=gate)] if part == "thigh" else []
    readings = measures(own, *below)
    design = PieceDesign(
        template=template, ease=ease, foam=foam, back="closed", lower={"inset": inset}, upper={"inset": 20}
    )
    tube = build_tube(readings, part, "left")
    laid = LaidPiece(ink_piece(tube, design))
    found = check_donning(readings, laid, "left")
    z = np.linspace(*laid.inked.ends, 200)
    inside = laid.inked.surface.girth(tube.along(z), INNER)
    way = np.concatenate([[0.0], np.maximum.accumulate(np.asarray(tube.girth(tube.along(z))))[:-1]])
    far = max(gate, 360.0) if part == "thigh" else gate
    if (inside < np.maximum(way, far)).any():
        assert found.passes is False
        assert found.needed > 0
    if found.passes:
        assert inside.min() >= far + SLIDE - 0.5


def ring(template: str, tube: TubeSurface) -> PieceDesign:
    """A belt or a collar whose closure is glued: a ring that does not open."""
    design = starter_design(template)
    sheet = ink_piece(tube, design).sheet
    strokes = tuple(s.model_copy(update={"key": "glued"}) if s.key == "closure" else s for s in sheet.strokes)
    return design.model_copy(update={"ink": sheet.model_copy(update={"strokes": strokes})})


@given(
    st.floats(600, 1200),
    st.floats(0.75, 1.35),
    st.floats(0.8, 1.3),
    st.floats(0, 60),
    st.sampled_from(["belt", "gorget"]),
)
@settings(max_examples=often(60), deadline=None)
def test_a_ring_on_trunk_or_neck_that_cannot_pass_is_never_called_wearable(waist, hips, chest, ease, template):
    readings = measures().model_copy(
        update={"torso": trunk(bust=waist * max(chest, 0.92), waist=waist, hip=waist * hips)}
    )
    try:
        tube = build_tube(readings, TEMPLATES[template].part, "left")
    except CraftError:
        assume(False)
    design = ring(template, tube).model_copy(update={"ease": ease})
    laid = LaidPiece(ink_piece(tube, design))
    found = check_donning(readings, laid, "left")
    _, low, _, high = laid.area.bounds
    z = np.linspace(low + 1, high - 1, 40)
    u = np.linspace(-0.5, 0.5, 500)
    inside = min(
        np.linalg.norm(
            np.diff(laid.inked.surface.points(np.stack([u, np.full(500, float(v))], axis=1), INNER), axis=0), axis=1
        ).sum()
        for v in tube.along(z)
    )
    if template == "gorget":
        cannot = inside < HEAD
    else:
        over_hips = inside < float(tube.tape_girth(0.0))
        over_shoulders = inside < max(HEAD, SHOULDERS * float(tube.tape_girth(3.0)))
        cannot = over_hips and over_shoulders
    if cannot:
        assert found.passes is False
        assert found.needed > 0
        assert "cannot pass" in found.sentence


@given(
    st.floats(180, 290),
    st.floats(0.8, 1.4),
    st.floats(0.75, 1.3),
    st.floats(0, 14),
    st.floats(5, 60),
    st.floats(25, 80),
)
@settings(max_examples=often(50), deadline=None)
def test_a_closed_boot_that_the_foot_cannot_pass_is_never_called_wearable(toes, ball, instep, ease, low, tall):
    """A band round the foot, glued shut: from the toes on it passes all that lies before it."""
    readings = measures(limb("foot", (0, 75, 155), (toes, toes * ball, toes * ball * instep)))
    tube = build_tube(readings, "foot", "left")
    levels = [float(tube.along(z)) for z in (low, min(low + tall, 150.0))]
    around = np.linspace(-0.5, 0.5, 9)
    edges = [line(f"e{k}", "outline", f"edge {k}", *((float(u), v) for u in around)) for k, v in enumerate(levels)]
    seam = line("glued", "seam", "seam", (-0.5, levels[0]), (-0.5, levels[1]))
    design = starter_design("sabaton cap").model_copy(update={"ink": InkSheet(strokes=(*edges, seam)), "ease": ease})
    laid = LaidPiece(ink_piece(tube, design))
    found = check_donning(readings, laid, "left")
    z = np.linspace(low + 0.5, min(low + tall, 150.0) - 0.5, 60)
    inside = laid.inked.surface.girth(tube.along(z), INNER)
    before = np.concatenate([[0.0], np.maximum.accumulate(np.asarray(tube.girth(tube.along(z))))[:-1]])
    if (inside < before).any():
        assert found.passes is False
        assert found.needed > 0
    if found.passes:
        assert (inside >= before).all()


@pytest.mark.parametrize("template", some([t for t in TEMPLATES if TEMPLATES[t].lay is not None], 2))
@given(share=st.floats(0.8, 1.25))
@settings(max_examples=often(10, least=2), deadline=None)
def test_what_opens_is_spread_by_as_much_as_the_body_is_wider(template, share):
    readings = measures().model_copy(update={"torso": trunk(bust=940 * share, waist=760 * share, hip=980 * share)})
    tube = build_tube(readings, TEMPLATES[template].part, "left")
    laid = LaidPiece(ink_piece(tube, starter_design(template)))
    found = check_donning(readings, laid, "left")
    assert found.passes
    expected = widest_want(tube, laid)
    assert found.needed == pytest.approx(expected if expected >= 1 else 0.0, abs=6.0)
    if found.needed:
        (note,) = found.notes
        across, gap = (v.amount for v in note.values)
        assert found.needed == pytest.approx(across - gap, abs=0.01)
        assert "spread its edges by" in found.sentence
    else:
        assert not found.notes
        assert "spread" not in found.sentence


def widest_want(tube: TubeSurface, laid: LaidPiece) -> float:
    """By how much the body is broader than what is free, at its worst, mm: read ring by ring, finer."""
    want, (_, low, _, high) = 0.0, laid.area.bounds
    around = (np.arange(4000) + 0.5) / 4000 - 0.5
    for z in np.linspace(low, high, 42)[1:-1]:
        row = np.stack([around, np.full(4000, float(tube.along(z)))], axis=1)
        on, ring = laid.covers(row), laid.inked.surface.points(row, INNER)
        step = np.linalg.norm(np.roll(ring, -1, axis=0) - ring, axis=1)
        runs = np.split(np.where(on, 0.0, step), np.flatnonzero(on)) if on.any() else [step]
        runs = [float(r.sum()) for r in runs]
        free = max([*runs[1:-1], runs[0] + runs[-1]]) if len(runs) > 1 else runs[0]
        across = 2 * float(np.min(tube.half_widths(np.array([z])))) + 2 * laid.design.base_layer
        want = max(want, across - free)
    return want


@given(st.sampled_from(["ridged greave", "faulds"]), st.floats(60, 160))
@settings(max_examples=often(12), deadline=None)
def test_what_hangs_too_low_stands_on_the_ground_or_the_chair_by_so_much(template, by):
    """Against the lowest point of the outline itself, and the level worked out here; cut back by that, it stands no
    more."""
    usual = worn(starter_design(template))
    (piece,) = usual.pieces
    hung = trimmed(piece.on("left"), "lower edge", -by)
    costume = worn(hung)
    (low,) = costume.pieces
    leg = template == "ridged greave"
    joint = costume.figure.joints["left ankle" if leg else "left hip"]
    thigh = costume.figure.seats["thigh", "left"].tube
    level = costume.figure.ground + 6 if leg else joint.at[2] - thigh.half_widths(np.array([thigh.length]))[1][0] - 10
    lines = [x.uv for p in low.on("left").inked.panels for x in p.outline]
    seat = costume.seat(low.part, "left")
    points = np.vstack([seat.place(low.on("left").inked.surface.points(x, d)) for x in lines for d in (0.0, 1.0)])
    lowest = float((points if leg else points[points[:, 1] > joint.at[1]])[:, 2].min())
    assert scrapes_of(usual, joint) == []
    found = scrapes_of(costume, joint)
    if abs(lowest - level) > 2:
        assert bool(found) == (lowest < level)
    for x in found:
        assert x.mm == pytest.approx(level - lowest, abs=2)
        assert x.edge == "lower edge"
        assert scrapes_of(worn(trimmed(low.on("left"), "lower edge", x.mm + 2)), joint) == []
