"""Scans of made-up bodies, seen from outside: residuals, girths by an independent library, broken meshes."""

import numpy as np
import pytest
import trimesh

from tests.depth import long, mostly, some
from vellumcut.core.cast.scanned.landmarks import propose_ends
from vellumcut.core.cast.scanned.mesh import BodyMesh, Stance, clean_mesh, turn
from vellumcut.core.cast.scanned.scan import fit_limb, limb_placement
from vellumcut.core.cast.scanned.scan_trunk import fit_trunk
from vellumcut.core.cast.scanned.stance import guess_stance, guess_unit
from vellumcut.core.errors import CraftError
from vellumcut.core.ink.library.table import starter_design
from vellumcut.core.ink.stage import read_piece_ink
from vellumcut.standins.body_scanner import SHAPES, start_scan
from vellumcut.standins.made_up_body import BodyShape, made_up_body

BODIES = {
    "woman": BodyShape(),
    "man": BodyShape(1830, 1.05, 0, 12, 0.95, 1.12),
    "heavy": BodyShape(1650, 1.22, 80, 85, 1.1, 1.0, 50),
    "slight, arms low": BodyShape(1580, 0.86, 20, 0, 0.95, 0.9, 28),
}


@pytest.fixture(params=list(BODIES), scope="module")
def body(request):
    """The body as a device gives it: metres, y up; read back by the program's own guesses."""
    points, faces = made_up_body(BODIES[request.param], 10.0)
    device = np.stack([points[:, 0], points[:, 2], -points[:, 1]], axis=1) / 1000
    vertices, faces, warnings = clean_mesh(device, faces)
    stance = guess_stance(vertices, faces, "y")
    assert stance == Stance("m", "y", "z")
    assert warnings == ()
    return BodyMesh(turn(vertices, stance), faces)


@pytest.mark.parametrize("segment", mostly(["forearm", "thigh", "upper arm", "lower leg"], 2))
@pytest.mark.parametrize("side", some(["left", "right"]))
def test_a_limb_is_fitted_within_a_millimetre(body, segment, side):
    ends = propose_ends(body, segment, side)
    low, high, ahead = (np.array(p) for p in (ends.low, ends.high, ends.front))
    place = limb_placement(low, high, ahead, side == "right")
    fit = fit_limb(body, place, float(np.linalg.norm(high - low)), ("a", "b", "c"))
    assert fit.residual.p95 < 1.0
    assert fit.residual.mean < 0.3
    free = fit.tube.at if not fit.warnings else fit.tube.at[:2]
    mesh = trimesh.Trimesh(body.vertices, body.faces, process=False)
    for k, at in enumerate(free):
        origin = place.to_scan(np.array([[0, 0, at]]))[0]
        ring = place.to_scan(fit.tube.uv_to_xyz(np.stack([np.linspace(0, 1, 50), np.full(50, float(k))], axis=1)))
        loops = mesh.section(place.axes[2], origin).discrete
        own = min(loops, key=lambda loop: np.linalg.norm(loop.mean(axis=0) - ring.mean(axis=0)))
        cut = np.linalg.norm(np.diff(own, axis=0), axis=1).sum()
        assert float(fit.tube.girth(k)) == pytest.approx(cut, abs=2.0)


def test_the_trunk_is_fitted_from_hip_to_bust(body):
    ends = propose_ends(body, "torso", "left")
    fit = fit_trunk(body, np.array(ends.low), np.array(ends.high), np.array(ends.front))
    assert fit.residual.p95 < 2.0
    mesh = trimesh.Trimesh(body.vertices, body.faces, process=False)
    for k in range(3):
        loops = mesh.section([0, 0, 1], fit.place.to_scan(np.array([[0, 0, fit.tube.at[k]]]))[0]).discrete
        own = max((x for x in loops if abs(x.mean(axis=0)[0]) < 60), key=len)
        assert float(fit.tube.girth(k)) == pytest.approx(np.linalg.norm(np.diff(own, axis=0), axis=1).sum(), abs=2.0)
    hip, waist, under, bust, armpit, shoulder, neck = fit.tube.at
    assert hip < waist < under < bust < armpit < shoulder < neck
    assert len(fit.tube.armhole) > 20


@long
def test_a_right_limb_is_its_left_twin(body):
    fits = {}
    for side in ("left", "right"):
        ends = propose_ends(body, "forearm", "left")
        flip = np.array([1.0 if side == "left" else -1.0, 1, 1])
        low, high, ahead = (np.array(p) * flip for p in (ends.low, ends.high, ends.front))
        mesh = BodyMesh(body.vertices * flip, body.faces)
        fits[side] = fit_limb(
            mesh, limb_placement(low, high, ahead, side == "right"), float(np.linalg.norm(high - low)), ("a", "b", "c")
        )
    assert fits["left"].tube.station_girths == pytest.approx(fits["right"].tube.station_girths, abs=0.05)
    assert np.allclose(fits["left"].tube.grid, fits["right"].tube.grid, atol=0.3)


def test_a_noisy_scan_with_holes_still_gives_a_tube():
    session = start_scan(SHAPES["middling"], 5)
    faces = np.vstack([f.faces for f in session.frames])
    vertices, faces, warnings = clean_mesh(session.points, faces)
    assert any("holes" in w for w in warnings)
    body = BodyMesh(turn(vertices, guess_stance(vertices, faces, "y")), faces)
    for segment in ("lower leg", "forearm"):
        ends = propose_ends(body, segment, "left")
        low, high, ahead = (np.array(p) for p in (ends.low, ends.high, ends.front))
        fit = fit_limb(
            body, limb_placement(low, high, ahead, False), float(np.linalg.norm(high - low)), ("a", "b", "c")
        )
        assert fit.residual.p95 < 1.5


def test_a_cylinder_and_a_cone_come_back_exactly():
    for top in (50.0, 38.0):
        z, t = np.meshgrid(np.linspace(-90, 390, 121), np.linspace(0, 2 * np.pi, 180, endpoint=False), indexing="ij")
        r = 50.0 + (top - 50.0) * np.clip(z / 300, -0.4, 1.4)
        points = np.stack([r * np.sin(t), -r * np.cos(t), z], axis=-1).reshape(-1, 3)
        i, k = (g.ravel() for g in np.meshgrid(np.arange(120), np.arange(180), indexing="ij"))
        a, b = i * 180 + k, i * 180 + (k + 1) % 180
        mesh = BodyMesh(points, np.vstack([np.stack([a, b, b + 180], 1), np.stack([a, b + 180, a + 180], 1)]))
        fit = fit_limb(
            mesh,
            limb_placement(np.zeros(3), np.array([0, 0, 300.0]), np.array([0, -1.0, 0]), False),
            300.0,
            ("a", "b", "c"),
            150.0,
        )
        assert fit.tube.girth([0, 1, 2]) == pytest.approx(
            [2 * np.pi * 50, np.pi * (50 + top), 2 * np.pi * top], abs=0.15
        )
        assert fit.residual.worst < 0.12


def test_units_and_turns_are_guessed_whatever_the_file_says():
    assert [guess_unit(h) for h in (1.72, 172, 1720, 67.7)] == ["m", "cm", "mm", "in"]
    points, faces = made_up_body(BodyShape(), 16.0)
    for order, sign, wanted in (([0, 1, 2], 1, ("z", "-y")), ([0, 2, 1], 1, ("y", "-z")), ([1, 0, 2], 1, ("z", "-x"))):
        found = guess_stance(points[:, order] * sign, faces)
        assert (found.up, found.front) == wanted
    with pytest.raises(CraftError, match="cannot both lie"):
        turn(points, Stance("mm", "y", "-y"))


def test_broken_meshes_are_cleaned_or_refused_in_words():
    points, faces = made_up_body(BodyShape(), 18.0)
    flipped = faces.copy()
    flipped[::7] = flipped[::7, ::-1]
    assert any("wrong way" in w for w in clean_mesh(points, flipped)[2])
    two = np.vstack([points, points + [2500, 0, 0]]), np.vstack([faces, faces + len(points)])
    _kept, kept_faces, said = clean_mesh(*two)
    assert len(kept_faces) == len(faces)
    assert any("more than one large body" in w for w in said)
    assert any("holes" in w for w in clean_mesh(points, faces[: len(faces) * 3 // 4])[2])
    soup = points[faces].reshape(-1, 3), np.arange(faces.size).reshape(-1, 3)
    assert len(clean_mesh(*soup)[0]) == len(points)
    for vertices, made, words in (
        (points, faces[:0], "no triangles"),
        (points, faces[:9], "a body needs"),
        (points * np.nan, faces, "not finite"),
    ):
        with pytest.raises(CraftError, match=words):
            clean_mesh(vertices, made)


def test_ends_that_are_no_limb_are_refused():
    points, faces = made_up_body(BodyShape(), 16.0)
    mesh = BodyMesh(points, faces)
    with pytest.raises(CraftError, match="mm apart"):
        limb_placement(np.zeros(3), np.array([0, 0, 5.0]), np.array([0, -1.0, 0]), False)
    with pytest.raises(CraftError, match="points along the limb"):
        limb_placement(np.zeros(3), np.array([0, 0, 200.0]), np.array([0, 0, 1.0]), False)
    with pytest.raises(CraftError, match="no closed ring"):
        fit_limb(
            mesh,
            limb_placement(np.array([900.0, 0, 0]), np.array([900.0, 0, 300]), np.array([0, -1.0, 0]), False),
            300.0,
            ("a", "b", "c"),
        )
    with pytest.raises(CraftError, match="trunk is"):
        fit_trunk(mesh, np.array([0, 0, 900.0]), np.array([0, 0, 950.0]), np.array([0, -1.0, 0]))


def scanned(shape: BodyShape, lower_neck=0.0):
    """The trunk of a made-up body, off its scan; the neck's point set lower than proposed, mm."""
    vertices, faces, _ = clean_mesh(*made_up_body(shape, 10.0))
    body = BodyMesh(vertices, faces)
    ends = propose_ends(body, "torso", "left")
    high = np.array(ends.high) - [0.0, 0.0, lower_neck]
    return fit_trunk(body, np.array(ends.low), high, np.array(ends.front)).tube


@long
@pytest.mark.parametrize("lower", [0.0, 25.0])
def test_a_neck_set_among_the_shoulders_is_found_above_them(lower):
    shape = BodyShape(1625, 1.22, 75, 48, 1.07, 0.94, 39)
    tube = scanned(shape, lower)
    (shoulder, *_), (neck, *_) = tube.uv_to_xyz(np.array([[0.25, 5.0], [0.25, 6.0]]))
    assert neck < 0.65 * shoulder
    assert float(tube.girth(6)) < 600
    # So a breastplate has straps, and can be planned.
    design = starter_design("breastplate").model_copy(update={"choices": {"front": "centre ridge"}})
    (region,) = read_piece_ink(tube, design).regions
    strap = next(line for line in region.ink.outline if line.name == "shoulder edge")
    steps = np.diff(tube.uv_to_xyz(strap.uv), axis=0)
    assert np.linalg.norm(steps, axis=1).sum() > 40
