"""Bevels, unequal edges, layers and grooves as cut, rebuilt as solids by an independent library and folded shut."""

from dataclasses import replace

import manifold3d as solid
import numpy as np
import pytest
from hypothesis import assume, example, given, settings
from hypothesis import strategies as st

from tests.depth import often
from vellumcut.core.design.foam import EdgeWork, FoamWork, FoldWork
from vellumcut.core.flatten.curves import FlatEdge
from vellumcut.core.flatten.panel import FlatLine, FlatPanel
from vellumcut.core.flatten.strain import StrainSummary
from vellumcut.core.foam.bevels import SQUARE_BELOW
from vellumcut.core.foam.edges import EdgeCut, edge_cuts
from vellumcut.core.foam.folds import Fold
from vellumcut.core.foam.grooves import FoldCut, groove_width, worked_lines
from vellumcut.core.foam.joints import Joint
from vellumcut.core.foam.stacks import PlacedLayer, placed
from vellumcut.core.pattern.as_cut import traced

LONG, DEEP = 90.0, 60.0
NOTHING = StrainSummary(0.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0, (0.0, 0.0), False)


def plate(number, forward):
    """A flat panel whose right edge is the seam's, at x = 0; counter-clockwise."""
    corners = np.array([[-DEEP, 0.0], [0.0, 0.0], [0.0, LONG], [-DEEP, LONG], [-DEEP, 0.0]])
    edges = []
    for k, name in enumerate(("low", "meets", "high", "back")):
        knots = np.linspace(corners[k], corners[k + 1], 25)
        at = np.linspace(0, np.linalg.norm(corners[k + 1] - corners[k]), 25)
        kind, arc = ("seam", "s") if name == "meets" else ("outline", "")
        edges.append(FlatEdge(name, kind, knots, at, np.zeros(25), arc, forward))
    middle = np.array([[-DEEP / 2, 0.0], [-DEEP / 2, LONG]])
    faces = np.zeros((1, 3), dtype=np.int32)
    return FlatPanel(number, "outer", tuple(edges), middle, (), (), NOTHING, corners, faces, np.zeros(5))


def cut_solid(flat: FlatPanel, cut: EdgeCut, layer: PlacedLayer) -> solid.Manifold:
    """The sheet as the pages ask for it: along the outline, upright, then off at the bevel from the full-size face."""
    ring = solid.CrossSection([[e.knots[0].tolist() for e in flat.edges]])
    block = solid.Manifold.extrude(ring, layer.thickness).translate([0.0, 0.0, layer.low])
    lean = np.radians(float(cut.lean.mean()))
    x = float(flat.edge("meets").knots[:, 0].mean())
    down = cut.taken_off == "inner"
    full = layer.high if down else layer.low
    # What stays lies on the near side of a plane through the full-size edge that leans in by the bevel.
    normal = np.array([-np.cos(lean), 0.0, np.sin(lean) if down else -np.sin(lean)])
    return block.trim_by_plane(normal.tolist(), float(normal @ [x, 0.0, full]))


def stood_up(block: solid.Manifold, fold: float, middle: float, second: bool) -> solid.Manifold:
    """The sheet turned about the line on which the inner faces of both panels meet."""
    from_middle = middle * np.tan(np.radians(fold / 2))
    block = block.translate([from_middle, 0.0, 0.0]).rotate([0.0, -fold / 2, 0.0])
    return block.rotate([0.0, 0.0, 180.0]).translate([0.0, LONG, 0.0]) if second else block


def seam_corners(block: solid.Manifold) -> np.ndarray:
    """The solid's corners nearest the seam: those of the face that is glued. Along an edge a solid may have points
    too."""
    points = np.unique(np.array(block.to_mesh().vert_properties)[:, :3].round(3), axis=0)
    points = points[np.minimum(np.abs(points[:, 1]), np.abs(points[:, 1] - LONG)) < 0.01]
    return points[np.argsort(np.abs(points[:, 0]))[:4]]


@settings(max_examples=often(60), deadline=None)
@example(fold=100.0, way=-1, first=3.0, ratio=1.4, rank=0)
@given(
    fold=st.floats(SQUARE_BELOW, 110.0),
    way=st.sampled_from([1, -1]),
    first=st.sampled_from([3.0, 5.0, 6.0, 10.0]),
    ratio=st.sampled_from([1.0, 1.0, 0.7, 1.4]),
    rank=st.sampled_from([0, 1]),
)
def test_edges_cut_as_the_pages_say_meet_as_solids(fold, way, first, ratio, rank):
    """Ridge and valley, equal and unequal, one sheet and the upper of two: no overlap, no gap over 0.1 mm."""
    thick = (first, first * ratio)
    assume(ratio == 1.0 or rank == 0)
    flats = [plate(1, True), plate(2, False)]
    layers = [placed([(t, "armour")], False)[0] for t in thick]
    if rank:
        layers = [placed([(6.0, "armour"), (4.0, "armour")], False)[1]] * 2
        thick = (10.0, 10.0)
    told = Fold(np.linspace(0, LONG, 5), np.full(5, way * fold))
    joint = Joint("seam", "meets", (1, 2), told, thick, ("lower end", "upper end"), "s")
    cuts = edge_cuts(flats, layers, [joint], FoamWork())
    if ratio == 1.0:
        assert {c["meets"].taken_off for c in cuts} == {"inner" if way > 0 else "outer"}
    blocks = [
        stood_up(cut_solid(traced(f, c), c["meets"], x), way * fold, x.middle, n == 1)
        for n, (f, c, x) in enumerate(zip(flats, cuts, layers, strict=True))
    ]
    shared = blocks[0] ^ blocks[1]
    assert shared.volume() < 0.02 * LONG
    one, two = (seam_corners(b) for b in blocks)
    if thick[0] != thick[1] and np.isclose(*(c["meets"].lean[0] for c in cuts)):
        return  # too slight a fold to be cut from face to face: the thicker one stands out
    for corner in one:
        assert np.linalg.norm(two - corner, axis=1).min() < 0.1


@settings(max_examples=often(40), deadline=None)
@given(
    angle=st.floats(10.0, 74.0),
    foam=st.sampled_from([5.0, 6.0, 8.0, 10.0]),
    walls=st.sampled_from(["two sloping", "one upright"]),
    share=st.floats(0.5, 0.66),
)
def test_a_tight_groove_closes_as_a_solid(angle, foam, walls, share):
    """Both walls turn about the hinge until they touch: all along them, and without either entering the other."""
    work = FoldWork(key="f", angle=angle, walls=walls, depth=min(share * foam, foam - 1.0))
    body = Fold(np.array([0.0, LONG]), np.array([0.0, 0.0]))
    cut = FoldCut("f", "fold", 1, LONG, body, foam, work)
    assert cut.findings == ()
    left, right = cut.reach
    assert left + right == pytest.approx(groove_width(cut.depth, angle, walls))
    halves = []
    for sign, reach in ((-1.0, left), (1.0, right)):
        # The part of the sheet above the hinge, z from the apex up to the face that is cut.
        section = [[sign * 50.0, 0.0], [0.0, 0.0], [sign * reach, cut.depth], [sign * 50.0, cut.depth]]
        ring = solid.CrossSection([section if sign < 0 else section[::-1]], solid.FillRule.NonZero)
        halves.append(solid.Manifold.extrude(ring, LONG))
    shut = halves[1].rotate([0.0, 0.0, angle])
    assert (halves[0] ^ shut).volume() < 0.02 * LONG
    lips = [np.array([sign * reach, cut.depth]) for sign, reach in ((-1.0, left), (1.0, right))]
    turn = np.radians(angle)
    moved = np.array([[np.cos(turn), -np.sin(turn)], [np.sin(turn), np.cos(turn)]]) @ lips[1]
    if walls == "two sloping":
        assert np.linalg.norm(moved - lips[0]) < 0.1
    else:
        assert abs(np.cross(moved, lips[0])) / cut.depth < 0.1
    assert cut.hinge >= 1.0


def test_grooves_that_cross_are_told_and_from_both_faces_they_may_not_meet():
    lines = (
        FlatLine("fold", "long", np.array([[-30.0, 5.0], [-30.0, 85.0]]), "a"),
        FlatLine("fold", "across", np.array([[-55.0, 45.0], [-5.0, 45.0]]), "b"),
        FlatLine("mark", "pencil", np.array([[-50.0, 10.0], [-10.0, 80.0]]), "c"),
    )
    body = Fold(np.array([0.0, LONG]), np.zeros(2))

    def told(angle, depth):
        works = (FoldWork(key="a", angle=40.0, depth=4.0), FoldWork(key="b", angle=angle, depth=depth))
        cuts = [FoldCut(w.key, n, 1, LONG, body, 6.0, w) for w, n in zip(works, ("long", "across"), strict=True)]
        out, found = worked_lines(replace(plate(1, True), lines=lines), cuts)
        assert [x.kind for x in out].count("cut rim") == 4
        assert [x.name for x in out if x.kind == "mark"] == ["pencil"]
        return found

    (same,) = told(40.0, 2.0)
    assert same.level == "say"
    assert "cut the deeper one first; where they cross both are 4 mm deep, and 2 mm is left" in same.message
    (other,) = told(-40.0, 2.0)
    assert other.level == "stop"
    assert "together they take 6 of 6 mm" in other.message


def test_the_outline_goes_out_by_what_each_edge_says_and_corners_meet():
    told = Fold(np.linspace(0, LONG, 5), np.linspace(20.0, 60.0, 5))
    joint = Joint("seam", "meets", (1, 2), told, (6.0, 6.0), ("lower end", "upper end"), "s")
    layer = placed([(6.0, "armour")], False)[0]
    work = FoamWork(edges=(EdgeWork(name="back", shape="angled", angle=45.0),))
    cuts = edge_cuts([plate(1, True), plate(2, False)], [layer, layer], [joint], work)
    out = traced(plate(1, True), cuts[0]).edge("meets").knots
    wanted = 3.0 * np.tan(np.radians(np.interp(out[:, 1], [0, LONG], [20.0, 60.0]) / 2))
    assert out[:, 0] == pytest.approx(wanted, abs=0.05)
    # The other panel's edge runs the other way, and so do its stations.
    other = traced(plate(2, False), cuts[1]).edge("meets").knots
    assert other[::-1, 0] == pytest.approx(out[:, 0], abs=1e-6)
    shape = traced(plate(1, True), cuts[0])
    assert shape.edge("low").knots[-1] == pytest.approx(out[0])
    assert shape.edge("high").knots[0] == pytest.approx(out[-1])
    assert shape.edge("back").knots == pytest.approx(plate(1, True).edge("back").knots)
    assert cuts[0]["back"].words == "cut at 45°, off the inner face"
