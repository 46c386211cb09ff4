"""Panels that came flat, laid on the body: where they come to lie, what is told of them, and what is cut."""

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.bodies import WEARER, limb, measures
from tests.depth import often
from vellumcut.core.cast.stations import build_tube
from vellumcut.core.design.flat import FlatEdgeKey, FlatLie, FlatMate, FlatShape, FlatWork, places
from vellumcut.core.design.foam import FoamWork, SeamWork
from vellumcut.core.design.piece import PieceDesign
from vellumcut.core.errors import CraftError
from vellumcut.core.laying.inked import lay_flat
from vellumcut.core.make.job import facts_of
from vellumcut.core.pattern.as_cut import as_cut
from vellumcut.core.pattern.flat_pattern import flat_pattern
from vellumcut.core.pattern.pattern import pattern_piece
from vellumcut.core.rig.anchors import anchors_of
from vellumcut.core.rig.laid import LaidPiece

OFF = 3.0 + 2.0 + 5.0 / 2
"""Base layer, ease and half the foam, mm."""


def design(work: FlatWork, template="bracer", **more) -> PieceDesign:
    own = {"template": template, "base_layer": 3.0, "ease": 2.0, "foam": 5.0, "side": "left"}
    return PieceDesign(**{**own, **more}, flat=work)


def shape(corners, number=1, every=6.0, darts=(), **more) -> FlatShape:
    dense = shapely.get_coordinates(shapely.segmentize(shapely.LinearRing(corners), every))[:-1]
    at = [int(np.argmin(np.hypot(*(dense - p).T))) for p in corners]
    return FlatShape(number=number, outline=places(dense), corners=tuple(at), darts=tuple(at[k] for k in darts), **more)


def round_limb(wrist: float, elbow: float):
    """A forearm that is round: a cone, as exactly as a tube can be, and its radii, mm, at mm along."""
    tube = build_tube(
        measures(limb("forearm", (0, 120, 240), (wrist, (wrist + elbow) / 2, elbow), (1.0, 1.0, 1.0))),
        "forearm",
        "left",
    )
    return tube, lambda mm: (wrist + (elbow - wrist) * mm / 240) / (2 * np.pi)


def laid(tube, work: FlatWork, side="left", **more):
    made = design(work, side=side, **more)
    piece = lay_flat(tube, made, work, side, 1.0)
    return piece, flat_pattern(made, "laid", "b", laid={side: piece})


def rolled(radius: float, at, on, up: float, points, side: str):
    """By hand: mm round a cylinder and along, of points of a sheet whose point ``at`` lies ``on`` it, turned."""
    angle = np.radians(up)
    p = np.array(points) - at
    x, y = p[:, 0] * np.cos(angle) - p[:, 1] * np.sin(angle), p[:, 0] * np.sin(angle) + p[:, 1] * np.cos(angle)
    return np.stack([on[0] + (x if side == "left" else -x) / (2 * np.pi * (radius + OFF)), on[1] + y], axis=1)


@given(
    girth=st.floats(180, 420), up=st.floats(-180, 180), around=st.floats(0, 1), side=st.sampled_from(["left", "right"])
)
@settings(max_examples=often(40), deadline=None)
def test_a_strip_on_a_cylinder_lies_where_rolling_it_up_by_hand_puts_it(girth, up, around, side):
    tube, radius = round_limb(girth, girth)
    corners = [(0, 0), (70, 0), (90, 60), (10, 75)]
    at = (35.0, 30.0)
    lie = FlatLie(panel=1, at=at, around=around, along=1.0, up=up)
    piece, made = laid(tube, FlatWork(panels=(shape(corners),), source="file", lies=(lie,)), side)
    got = piece.laid[1].on_body(np.array(corners, float))
    by_hand = rolled(radius(0), at, (around, 120.0), up, corners, side)
    off = np.stack([(got[:, 0] - by_hand[:, 0]) * girth, tube.mm(got[:, 1]) - by_hand[:, 1]], axis=1)
    assert np.abs(off).max() < 0.5
    assert made.panels[0].flat.summary.p95 < 0.06
    assert made.panels[0].verdict.state == "flat"
    assert np.abs(piece.laid[1].on_table(got) - corners).max() < 0.2


def sector(wrist: float, elbow: float, share: float, low: float, high: float, number: int) -> FlatShape:
    """A share of a cone's foam between two places along it, laid flat as geometry has it: a piece of a ring."""
    slope = (elbow - wrist) / (2 * np.pi) / 240
    lean = np.hypot(1, slope)
    apex = (wrist / (2 * np.pi)) / slope + OFF * lean / slope
    inner, outer = ((apex + mm) * lean for mm in (low, high))
    angle = 2 * np.pi * slope / lean * share
    t = np.linspace(-angle / 2, angle / 2, 30)
    below = np.stack([inner * np.sin(t), inner * np.cos(t)], axis=1)
    above = np.stack([outer * np.sin(t), outer * np.cos(t)], axis=1)[::-1]
    # Out from the apex the girth grows: up the arm.
    ring = np.concatenate([below, above])
    return FlatShape(number=number, outline=places(ring - ring.min(axis=0)), corners=(0, 29, 30, 59))


@given(wrist=st.floats(150, 220), more=st.floats(30, 110), around=st.floats(0, 1), count=st.integers(2, 4))
@settings(max_examples=often(25), deadline=None)
def test_sectors_of_a_cone_close_round_it_without_strain_and_without_a_fold(wrist, more, around, count):
    tube, _ = round_limb(wrist, wrist + more)
    low, high = 40.0, 190.0
    shapes = tuple(sector(wrist, wrist + more, 1 / count, low, high, n + 1) for n in range(count))
    keys = [(FlatEdgeKey(panel=n + 1, edge=1), FlatEdgeKey(panel=(n + 1) % count + 1, edge=3)) for n in range(count)]
    top = np.array(shapes[0].outline)
    at = (float(top[:, 0].mean()), float(top[15, 1]))  # the middle of its lower edge
    lie = FlatLie(panel=1, at=at, around=around, along=float(tube.along(np.array([low]))[0]))
    work = FlatWork(panels=shapes, mates=tuple(FlatMate(a=a, b=b) for a, b in keys), source="file", lies=(lie,))
    piece, made = laid(tube, work)
    assert len(piece.panels) == count
    for panel in made.panels:
        assert panel.flat.summary.p95 < 0.18, "0.16 on the steepest of these cones"
    ends = [tube.mm(piece.laid[n + 1].edge(k)[:, 1]) for n in range(count) for k in (0, 2)]
    assert np.allclose(np.concatenate(ends[::2]), low, atol=1.5)
    assert np.allclose(np.concatenate(ends[1::2]), high, atol=1.5)
    joints = made.joints["left"]
    assert len(joints) == count
    assert max(abs(j.fold.mean) for j in joints) < 1.0
    for arc in {e.arc for p in made.panels for e in p.flat.edges if e.arc}:
        both = [e.forward for p in made.panels for e in p.flat.edges if e.arc == arc]
        inked = [x.forward for p in piece.panels for x in p.outline if x.arc == arc]
        assert sorted(both) == sorted(inked) == [False, True], "two edges that are glued run against each other"
    for key_a, key_b in keys:
        one, other = piece.laid[key_a.panel].edge(key_a.edge), piece.laid[key_b.panel].edge(key_b.edge)[::-1]
        apart = (one - other) * [wrist, 1.0]
        apart[:, 0] -= np.round(apart[:, 0] / wrist) * wrist
        assert np.abs(apart).max() < 0.5
    assert LaidPiece(piece).shut_behind


@pytest.mark.parametrize("template", ["bracer", "cuisse", "greave"])
def test_a_panel_that_was_flattened_here_lies_down_where_it_came_from(template):
    """The way there and the way back share no code but the body: flattening against laying down."""
    own = PieceDesign(template=template)
    made = pattern_piece(WEARER, own, "x", "b", None)
    (flat,) = made.flats("left")
    outline = np.vstack([e.points(3.0)[:-1] for e in flat.edges])
    mid = int(np.argmin(np.hypot(*(flat.vertices - flat.vertices.mean(axis=0)).T)))
    near = np.argsort(np.abs(flat.uv[:, 0] - flat.uv[mid, 0]) + 0.05 * np.abs(flat.uv[:, 1] - flat.uv[mid, 1]))[:25]
    above = flat.vertices[near[np.argmax(flat.uv[near, 1])]] - flat.vertices[near[np.argmin(flat.uv[near, 1])]]
    lie = FlatLie(
        panel=1,
        at=places(flat.vertices[mid : mid + 1])[0],
        around=float(flat.uv[mid, 0]),
        along=float(flat.uv[mid, 1]),
        up=float(np.degrees(np.arctan2(*above))),
    )
    piece = made.inked["left"]
    work = FlatWork(panels=(FlatShape(number=1, outline=places(outline)),), source="file", lies=(lie,))
    again = lay_flat(piece.tube, own.model_copy(update={"flat": work}), work, "left", 1.0)
    off = again.laid[1].on_body(flat.vertices) - flat.uv
    mm = np.stack([off[:, 0] * float(np.mean(piece.tube.station_girths)), off[:, 1] * 100], axis=1)
    mm -= mm.mean(axis=0)  # how far the arrow was off turns it all a little
    assert np.sqrt((mm**2).mean()) < 6.0
    most = 100 * np.abs(again.laid[1].strain).max(axis=1)
    assert float(np.percentile(most, 95)) < 1.4 * flat.summary.p95 + 0.3


def test_what_does_not_follow_the_body_is_said_by_how_much():
    tube, _ = round_limb(200, 200)
    ring = 2 * np.pi * (200 / (2 * np.pi) + OFF)
    strip = shape([(0, 0), (0.92 * ring, 0), (0.92 * ring, 90), (0, 90)])
    keys = FlatMate(a=FlatEdgeKey(panel=1, edge=1), b=FlatEdgeKey(panel=1, edge=3), true=False)
    lie = FlatLie(panel=1, at=(0.46 * ring, 45), around=0.0, along=1.0)
    _, made = laid(tube, FlatWork(panels=(strip,), mates=(keys,), source="file", lies=(lie,)))
    (panel,) = made.panels
    assert panel.verdict.state == "hard"
    assert panel.flat.summary.stretch_p95 == pytest.approx(100 * (1 / 0.92 - 1), abs=0.6)
    assert f"stretch the foam by {panel.flat.summary.stretch_p95:.1f} %" in panel.verdict.sentence
    assert not any("not known" in f.message for f in made.findings)


def test_a_dart_is_held_against_the_curve_that_it_closes_over():
    """A dart on a cylinder makes a point where the body has none."""
    tube, _ = round_limb(260, 260)
    wedge = [(0, 0), (60, 0), (70, 50), (80, 0), (140, 0), (140, 110), (0, 110)]
    lie = FlatLie(panel=1, at=(70, 100), around=0.2, along=1.0)
    piece, made = laid(tube, FlatWork(panels=(shape(wedge, darts=(2,)),), source="file", lies=(lie,)))
    ((dart,),) = [p.flat.darts for p in made.panels]
    assert dart.angle == pytest.approx(np.degrees(2 * np.arctan(10 / 50)), abs=0.2)
    assert abs(dart.curvature) < 1.0
    said = [f.message for f in made.findings if "closes" in f.message]
    assert said == [
        f"Dart 1 of panel 1 closes {dart.angle:.0f}°, and the body curves by {dart.curvature:.0f}° round it."
    ]
    ((slit,),) = [p.darts for p in piece.panels]
    mouth = piece.panels[0].outline[slit.after].uv[-1]
    assert np.allclose(mouth, slit.uv[0])
    legs = [piece.laid[1].edge(k) for k in (1, 2)]
    assert np.abs((legs[0] - legs[1][::-1]) * [260, 120]).max() < 0.6


def test_folds_that_a_maker_gives_are_cut_and_anchors_lie_on_the_panels():
    tube, _ = round_limb(180, 250)
    shapes = tuple(sector(180, 250, 0.5, 40.0, 190.0, n) for n in (1, 2))
    keys = [FlatMate(a=FlatEdgeKey(panel=1, edge=1), b=FlatEdgeKey(panel=2, edge=3), name="outer seam")]
    at = (float(np.array(shapes[0].outline)[:, 0].mean()), 60.0)
    work = FlatWork(
        panels=shapes, mates=tuple(keys), source="file", lies=(FlatLie(panel=1, at=at, around=0.25, along=0.7),)
    )
    plain_piece, plain = laid(tube, work)
    folded = FoamWork(seams=(SeamWork(name="outer seam", fold=40.0),))
    _, bent = laid(tube, work, foam_work=folded)
    ((joint, _),) = [(j, 0) for j in bent.joints["left"] if j.name == "outer seam"]
    assert joint.fold.mean == pytest.approx(40.0)
    wider = [b.flat.area - a.flat.area for a, b in zip(as_cut(plain).panels, as_cut(bent).panels, strict=True)]
    seam = plain.panels[0].flat.seams[0].on_body
    # Half the fold on each side moves the full face out by half the foam times its tangent.
    assert wider == pytest.approx([seam * 2.5 * np.tan(np.radians(20))] * 2, rel=0.05)
    here = LaidPiece(plain_piece)
    for anchor in anchors_of(here, (), 1):
        at = [p.on_table(np.array([anchor.uv]))[0] for p in plain_piece.laid.values()]
        inside = [
            shapely.Polygon(np.array(s.outline)).buffer(0.5).contains(shapely.Point(x))
            for s, x in zip(shapes, at, strict=True)
        ]
        assert any(inside)


def test_a_panel_that_lies_nowhere_is_said_and_one_that_cannot_lie_there_is_refused():
    tube, _ = round_limb(200, 240)
    square = [(0, 0), (60, 0), (60, 60), (0, 60)]
    lie = FlatLie(panel=1, at=(30, 30), around=0.0, along=1.0)
    two = FlatWork(panels=(shape(square), shape(square, 2)), source="file", lies=(lie,))
    piece, made = laid(tube, two)
    assert [p.verdict.state for p in made.panels] == ["flat", "unknown"]
    assert any(f.message.startswith("Panel 2 lies nowhere on the body yet") for f in made.findings)
    assert made.in_sheets == {}
    assert facts_of(piece).panels == (1, 2), "what is to be made does not wait for what lies nowhere"
    long = shape([(0, 0), (60, 0), (60, 1500), (0, 1500)])
    with pytest.raises(CraftError, match=r"Panel 1 reaches \d+ mm past the last measure where it was laid"):
        laid(tube, FlatWork(panels=(long,), source="file", lies=(lie,)))
    with pytest.raises(ValueError, match="laid on the body that is not there"):
        FlatWork(panels=(shape(square),), lies=(lie.model_copy(update={"panel": 7}),))
