"""Shapes that stand on pieces: where they are on the wearer, held against the piece's own face, and what they meet."""

import numpy as np
import pytest
import trimesh

from tests.core.rigging.test_movement import hinged
from vellumcut.core.cast.armour import OUTER
from vellumcut.core.design.making import Detail
from vellumcut.core.design.parts import Plate
from vellumcut.core.design.piece import PieceDesign
from vellumcut.core.design.solids import Cone, Gauntlet
from vellumcut.core.ink.stage import ink_piece
from vellumcut.core.rig.costume import Costume, Shape, Worn
from vellumcut.core.solids.joined import with_feet
from vellumcut.core.worn.movement import bind, with_cut
from vellumcut.core.worn.scene import piece_parts
from vellumcut.core.worn.standing import standing_on


def spiked(costume, wide, high, at, turn=0.0, lean=0.0):
    """The hinged tubes with a spike on the forearm's."""
    upper, lower = costume.pieces
    spike = PieceDesign(template="belt", solid=Cone(lower=wide, upper=0, high=high, lean=lean, inside=False), foam=4.0)
    plate = Plate(at=at, wide=wide, turn=turn, opening="foot")
    detail = Detail(key="d1", kind="joined part", name="spike", of="Spike", shape=plate)
    making = lower.design.making.model_copy(update={"details": (detail,)})
    design = with_feet(lower.design.model_copy(update={"making": making}), {"Spike": spike})
    piece = Worn(lower.key, lower.name, design, {"left": ink_piece(lower.on("left").inked.tube, design)})
    return Costume(costume.figure, (upper, piece), shapes=(Shape(9, "Spike", spike),)), piece


@pytest.mark.parametrize("seed", range(6))
def test_a_spike_stands_square_on_the_outer_face_with_its_own_height(seed):
    rng = np.random.default_rng(seed)
    radius, foam, ease = (float(x) for x in rng.uniform((40, 2, 0), (90, 10, 8)))
    wide, high = float(rng.uniform(20, 40)), float(rng.uniform(30, 120))
    u, v = float(rng.uniform(-0.4, 0.4)), float(rng.uniform(0.6, 1.4))
    turn, lean = float(rng.uniform(-180, 180)), float(rng.uniform(0, 20))
    costume, _, _ = hinged(radius, 40.0, foam, ease)
    costume, piece = spiked(costume, wide, high, (u, v), turn, lean)
    (stands,) = standing_on(costume, piece, "left")
    mesh = trimesh.Trimesh(stands.points, stands.faces, process=False)
    outer = radius + ease + foam
    out = np.linalg.norm(stands.points[:, :2], axis=1)
    tip = stands.points[out.argmax()]
    # On a plane across a cylinder: its rim hovers by no more than the arrow of its own width.
    sink = outer - np.sqrt(outer**2 - (wide / 2) ** 2)
    here = piece.on("left").inked.surface.points(np.array([[u, v]]), OUTER)[0]
    way = here * [1, 1, 0] / np.linalg.norm(here[:2])
    assert (tip - here) @ way == pytest.approx(high, abs=sink + 0.5)
    beside = (tip - here) - ((tip - here) @ way) * way
    assert np.linalg.norm(beside) == pytest.approx(lean, abs=0.5)
    # It leans to the right seen from outside, turned to the left with its foot.
    up = np.array([0.0, 0.0, 1.0])
    right = np.cross(up, way)
    if lean > 3:
        assert np.degrees(np.arctan2(beside @ up, beside @ right)) == pytest.approx(turn, abs=2.0)
    low = stands.points[((stands.points - here) @ way) < sink]
    assert np.linalg.norm(low - here, axis=1).max() == pytest.approx(wide / 2, abs=sink + 1.0)
    assert np.sign(mesh.face_normals @ way).mean() > 0  # a spike shows its outside
    shown = [p for p in piece_parts(costume) if p.piece == 9]
    assert [p.region for p in shown] == ["left forearm"]


@pytest.mark.parametrize(("high", "lean"), [(60.0, 80.0), (40.0, 60.0), (90.0, 70.0)])
def test_a_spike_that_leans_over_the_joint_meets_the_other_tube_first_and_is_named(high, lean):
    """Against points of the spike turned by a quarter of a degree at a time, until one is inside the upper tube."""
    plain, joint, motion = hinged(45.0, 50.0, 4.0, 0.0)
    upper, lower = plain.pieces
    bare = bind(plain, joint, motion, (lower, "left"), (upper, "left"), 1.0)
    assert bare.by == ("", "")
    costume, piece = spiked(plain, 24.0, high, (0.0, 1.8), 90.0, lean)
    (stands,) = standing_on(costume, piece, "left")
    placed = costume.seat("forearm", "left").place(stands.points)
    points = trimesh.sample.sample_surface(trimesh.Trimesh(placed, stands.faces), 20_000, seed=1)[0]
    points = np.vstack([points, placed])
    for angle in np.arange(0.0, 150.0, 0.25):
        c, s = np.cos(np.radians(angle)), np.sin(np.radians(angle))
        y, z = c * points[:, 1] + s * points[:, 2], c * points[:, 2] - s * points[:, 1]
        if ((np.hypot(points[:, 0], y) < 49.0) & (z > 50.0)).any():
            break
    found = bind(costume, joint, motion, (piece, "left"), (upper, "left"), 1.0)
    assert found.by == ("Spike", "")
    assert found.angle == pytest.approx(angle, abs=2.5)
    assert found.angle < bare.angle - 3
    cut = with_cut(costume, piece, joint)
    assert bind(cut, joint, motion, (piece, "left"), (upper, "left"), 1.0).angle == pytest.approx(found.angle, abs=0.1)


def test_what_no_longer_stands_there_is_left_out_and_the_rest_is_worn():
    """The shape of that name has become plates on a glove since its foot was drawn."""
    plain, _, _ = hinged(45.0, 50.0, 4.0, 0.0)
    costume, piece = spiked(plain, 24.0, 60.0, (0.0, 1.4))
    flat = PieceDesign(template="belt", solid=Gauntlet(), foam=4.0)
    changed = Costume(costume.figure, costume.pieces, shapes=(Shape(9, "Spike", flat),))
    assert standing_on(changed, piece, "left") == []
    assert {p.piece for p in piece_parts(changed)} == {p.key for p in costume.pieces}
