"""Whole bodies with hands, off a scan to cut panels: ends on joints, one surface with no pits, halves told truly."""

from datetime import date
from functools import cache

import numpy as np
import pytest
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.spatial import ConvexHull, KDTree

from tests.bodies import FOREARM
from tests.depth import long, mostly, often, some
from vellumcut.core.body.measures import Measurements, ScanReading, stations_of
from vellumcut.core.cast.halves import asymmetry
from vellumcut.core.cast.scanned.arm import find_arm
from vellumcut.core.cast.scanned.landmarks import propose_ends
from vellumcut.core.cast.scanned.mesh import BodyMesh, clean_mesh
from vellumcut.core.cast.scanned.mirror_plane import mirror_plane
from vellumcut.core.cast.scanned.scan import fit_limb, limb_placement
from vellumcut.core.cast.scanned.scan_trunk import fit_trunk
from vellumcut.core.cast.smoothing import smooth_rings
from vellumcut.core.cast.stations import build_tube, question_scans
from vellumcut.core.errors import CraftError
from vellumcut.core.flatten.mesh import CUT_SIZE, EDIT_SIZE
from vellumcut.core.ink.library.table import TEMPLATES, starter_design
from vellumcut.core.pattern.pattern import pattern_piece
from vellumcut.standins.made_up_body import BodyShape, made_up_body

SHAPES = {
    "woman": BodyShape(hands=True),
    "man, arms low": BodyShape(1810, 1.04, 0, 14, 0.96, 1.1, 33, True),
    "heavy, arms high": BodyShape(1640, 1.2, 74, 70, 1.08, 1.0, 57, True),
}
WRIST, ELBOW, ROOT = 540.0, 295.0, 1392.0
"""Where the made-up arm is narrowest and where its elbow is, mm from its root on a body of 1,720 mm."""
LIMBS = ("forearm", "upper arm", "lower leg", "thigh")


@pytest.fixture(params=list(SHAPES), scope="module")
def body(request):
    shape = SHAPES[request.param]
    vertices, faces, _ = clean_mesh(*made_up_body(shape, 9.0))
    return shape, BodyMesh(vertices, faces)


def along_the_arm(shape, place):
    s, tilt = shape.height / 1720, np.radians(shape.arm)
    root = np.array([158 * shape.shoulders * s, 20 * s, ROOT * s])
    return float((np.array(place) - root) @ [np.sin(tilt), 0, -np.cos(tilt)]) / s


@cache
def fitted(mesh, segment, side="left"):
    """Fitted once for all tests of a body: a mesh is told by its identity."""
    ends = propose_ends(mesh, segment, side)
    low, high, ahead = (np.array(p) for p in (ends.low, ends.high, ends.front))
    if segment == "torso":
        return fit_trunk(mesh, low, high, ahead), ends
    place = limb_placement(low, high, ahead, side == "right")
    return fit_limb(mesh, place, float(np.linalg.norm(high - low)), stations_of(segment)), ends


def read_off(mesh, *segments):
    """Measures that come from a scan alone, and its tubes."""
    readings, tubes = [], {}
    for segment in segments:
        fit, ends = fitted(mesh, segment)
        reading = ScanReading(segment=segment, scan="body.obj", low=ends.low, high=ends.high, ahead=ends.front)
        readings.append(reading)
        tubes[reading.key] = fit.tube
    return Measurements(taken_on=date(2026, 11, 2), scans=tuple(readings)), tubes


@pytest.mark.parametrize("side", mostly(["left", "right"], 1))
def test_an_arms_ends_are_its_joints_and_never_a_finger(body, side):
    shape, mesh = body
    flip = np.array([1.0 if side == "left" else -1.0, 1.0, 1.0])
    fore, upper = (propose_ends(mesh, s, side) for s in ("forearm", "upper arm"))
    at = [along_the_arm(shape, np.array(p) * flip) for p in (fore.low, fore.high, upper.low, upper.high)]
    assert at[0] == pytest.approx(WRIST, abs=30)
    assert at[1] == pytest.approx(ELBOW, abs=35)
    assert at[2] == pytest.approx(ELBOW - 22, abs=35)
    assert 20 < at[3] < 160
    arm = find_arm(mesh, side, 0.0)
    assert 120 < arm.girths[arm.wrist] < 250
    # The made-up hand is flat from front to back: the forearm's front is square to its plane, the way it is seen.
    assert fore.front[1] < -0.98


def distances(solid, places):
    """Of places (n, 3) from a mesh, by the library's own point and triangle: the nearest of the sixteen likeliest."""
    near = KDTree(solid.triangles_center).query(places, 16)[1]
    closest = trimesh.triangles.closest_point(solid.triangles[near.ravel()], np.repeat(places, 16, axis=0))
    return np.linalg.norm(closest.reshape(-1, 16, 3) - places[:, None], axis=2).min(axis=1)


@pytest.mark.parametrize("segment", mostly(["torso", *LIMBS], 2))
def test_a_scanned_tube_keeps_the_skin_and_the_girths_of_the_cut_body(body, segment):
    _, mesh = body
    fit, _ = fitted(mesh, segment)
    tube, limb = fit.tube, segment != "torso"
    top = tube.at[-1] if limb else tube.at[3]
    u, z = (g.ravel() for g in np.meshgrid(np.linspace(0, 1, 70, endpoint=False), np.linspace(0, top, 50)))
    places = fit.place.to_scan(tube.uv_to_xyz(np.stack([u, tube.along(z)], axis=1)))
    solid = trimesh.Trimesh(mesh.vertices, mesh.faces, process=False)
    away = distances(solid, places[::5])
    limit = 1.0 if limb else 2.0
    assert np.quantile(away, 0.95) < limit
    assert fit.residual.p95 == pytest.approx(np.quantile(away, 0.95), abs=0.45)
    for level in np.linspace(0, top, 6):
        origin = fit.place.to_scan(np.array([[0.0, 0.0, level]]))[0]
        ring = fit.place.to_scan(
            tube.uv_to_xyz(np.stack([np.linspace(0, 1, 40), np.full(40, tube.along(level))], axis=1))
        )
        loops = solid.section(fit.place.axes[2], origin).discrete
        own = min(loops, key=lambda loop: np.linalg.norm(loop.mean(axis=0) - ring.mean(axis=0)))
        assert float(tube.girth(tube.along(level))) == pytest.approx(
            np.linalg.norm(np.diff(own, axis=0), axis=1).sum(), abs=2.0
        )
        flat = fit.place.to_tube(own)[:, :2]
        assert float(tube.tape_girth(tube.along(level))) == pytest.approx(ConvexHull(flat).area, abs=2.0)


@pytest.mark.parametrize("share", mostly([1.04, 1.0, 1.08], 1))
def test_by_how_much_the_halves_of_a_body_differ_is_told(body, share):
    _, mesh = body
    points = mesh.vertices * np.where(mesh.vertices[:, :1] > 0, [[share, 1.0, 1.0]], 1.0)
    measures, tubes = read_off(BodyMesh(points + [17.0, 0, 0], mesh.faces), "torso")
    told = asymmetry(measures, "torso", tubes)
    tube = tubes["torso.both"]
    inside = (tube.levels > 0) & (tube.levels < tube.at[3])
    widest = float(np.ptp(tube.grid[inside][..., 0], axis=1).max()) / (1 + share)
    if share == 1.0:
        assert told.most < 0.3
    else:
        assert told.most == pytest.approx((share - 1) * widest, rel=0.2)


@settings(deadline=None, max_examples=often(6))
@given(st.floats(-20, 20), st.floats(-0.12, 0.12), st.floats(-0.04, 0.04))
def test_the_mirror_plane_of_a_turned_body_is_found(at, yaw, tilt):
    """An upright solid with a hollow back and a keel in front, moved, turned and leaned."""
    z, t = np.meshgrid(np.linspace(0, 500, 40), np.linspace(0, 2 * np.pi, 90, endpoint=False), indexing="ij")
    r = 1 + 0.06 * np.cos(t) ** 3 - 0.05 * np.exp(-(((t - np.pi) / 0.35) ** 2))
    x, y = 160 * r * np.sin(t), -110 * r * np.cos(t)
    points = np.stack(
        [x * np.cos(yaw) + y * np.sin(yaw) + at + tilt * z, y * np.cos(yaw) - x * np.sin(yaw), z], axis=-1
    )
    i, k = (g.ravel() for g in np.meshgrid(np.arange(39), np.arange(90), indexing="ij"))
    a, b = i * 90 + k, i * 90 + (k + 1) % 90
    faces = np.vstack([np.stack([a, b, b + 90], 1), np.stack([a, b + 90, a + 90], 1)])
    plane = mirror_plane(BodyMesh(points.reshape(-1, 3), faces), 0.0, 500.0)
    for level in (50.0, 450.0):
        assert plane.x(0.0, level) == pytest.approx(at + tilt * level, abs=1.5)
    assert plane.yaw == pytest.approx(np.tan(yaw), abs=0.02)


@settings(deadline=None, max_examples=often(20))
@given(st.floats(30, 120), st.floats(3, 10))
def test_smoothing_keeps_a_ring_its_girth_and_takes_a_ripple(radius, scale):
    levels, t = np.arange(0.0, 201.0, 4.0), np.linspace(0, 2 * np.pi, 160, endpoint=False)
    ripple = 0.4 * np.sin(2 * np.pi * levels / 9)[:, None] + 0.4 * np.sin(round(2 * np.pi * radius / 9) * t)[None]
    r = radius + ripple
    rings = np.stack([r * np.sin(t), -r * np.cos(t), np.broadcast_to(levels[:, None], r.shape)], axis=-1)
    even = smooth_rings(levels, rings, scale)
    out = np.hypot(even[..., 0], even[..., 1])[10:-10]
    assert out.mean() == pytest.approx(radius, abs=0.05 + radius * (scale / radius) ** 4)
    assert np.ptp(out) < 0.35 * np.ptp(r)
    assert np.allclose(even[..., 2], levels[:, None], atol=1e-6)


@long
@pytest.mark.parametrize(
    "template",
    some(
        [
            "ridged greave",
            "faulds",
            "bracer",
            "backplate",
            "cuisse",
            "segmented bracer",
            "greave",
            "breastplate",
            "poleyn",
        ],
        4,
    ),
)
def test_what_is_shown_of_a_scanned_piece_is_what_is_cut(body, template):
    _, mesh = body
    part = TEMPLATES[template].part
    measures, tubes = read_off(mesh, *(("lower leg", "thigh") if part == "knee" else (part,)))
    design = starter_design(template).model_copy(update={"side": "left"})
    if template == "cuisse" and tubes[f"{part}.both"].length < 110:
        pytest.skip("this made-up body has hardly a thigh")
    shown, cut = (pattern_piece(measures, design, "P", "B", size, tubes) for size in (EDIT_SIZE, CUT_SIZE))
    for rough, fine in zip(shown.panels, cut.panels, strict=True):
        assert rough.flat.summary.p95 == pytest.approx(fine.flat.summary.p95, abs=0.5)
        assert fine.flaws == ()
        if template in ("ridged greave", "faulds", "bracer"):
            assert fine.flat.summary.p95 < 2.5
    assert sum("hollow" in f.message for f in cut.findings) <= 1
    if template == "ridged greave":
        # The ridge is cut as long as it runs over the shin.
        ridge = [e for p in cut.panels for e in p.flat.edges if e.name.startswith("shin ridge")]
        piece = cut.inked["left"]
        line = next(x for x in piece.panels[0].outline if x.name.startswith("shin ridge"))
        run = np.linalg.norm(np.diff(piece.surface.points(line.uv), axis=0), axis=1).sum()
        assert ridge[0].length == pytest.approx(run, rel=0.01)


@long
def test_a_wholly_scanned_body_guesses_what_no_scan_shows(body):
    _, mesh = body
    measures, tubes = read_off(mesh, "upper arm", "lower leg", "thigh", "torso")
    for template in ("gorget", "pauldron", "poleyn", "sabaton cap"):
        made = pattern_piece(measures, starter_design(template), "P", "B", EDIT_SIZE, tubes)
        assert any("Guessed by proportion" in f.message for f in made.findings)
    knee, neck = (build_tube(measures, part, "left", tubes) for part in ("knee", "neck"))
    assert float(knee.girth(0)) == pytest.approx(0.98 * float(tubes["lower leg.both"].tape_girth(2)), abs=0.2)
    assert float(neck.girth(1)) == pytest.approx(1.01 * float(tubes["torso.both"].tape_girth(6)), abs=0.2)
    nothing = Measurements(taken_on=date(2026, 11, 2))
    with pytest.raises(CraftError, match="has not been measured"):
        build_tube(nothing, "knee", "left")


def test_one_scanned_arm_stands_for_the_other_until_that_is_measured(body):
    _, mesh = body
    fit, ends = fitted(mesh, "forearm")
    reading = ScanReading(segment="forearm", side="left", scan="b.obj", low=ends.low, high=ends.high, ahead=ends.front)
    measures = Measurements(taken_on=date(2026, 11, 2), scans=(reading,))
    pair = pattern_piece(measures, starter_design("bracer"), "P", "B", EDIT_SIZE, {reading.key: fit.tube})
    assert [(p.side, p.twin, p.copies) for p in pair.panels] == [("left", True, 2)]
    right = starter_design("bracer").model_copy(update={"side": "right"})
    alone = pattern_piece(measures, right, "P", "B", EDIT_SIZE, {reading.key: fit.tube})
    assert any("turned over" in f.message for f in alone.findings)
    taped = measures.model_copy(update={"limbs": (FOREARM.model_copy(update={"side": "right"}),)})
    assert build_tube(taped, "forearm", "right", {reading.key: fit.tube}) is not fit.tube


def test_a_wrist_off_a_scan_that_is_no_wrist_is_questioned(body):
    shape, mesh = body
    measures, tubes = read_off(mesh, "forearm")
    assert question_scans(measures, tubes) == []
    arm = find_arm(mesh, "left", 0.0)
    finger = mesh.vertices[mesh.vertices[:, 0].argmax()] - 0.012 * shape.height * arm.way(arm.elbow, arm.wrist)
    low, high = np.array(finger), arm.middles[arm.wrist]
    fit = fit_limb(
        mesh,
        limb_placement(low, high, np.array([0.0, -1.0, 0.0]), False),
        float(np.linalg.norm(high - low)),
        stations_of("forearm"),
    )
    (asked, *_) = question_scans(measures, {"forearm.both": fit.tube})
    assert "very small" in asked.message
    assert "Look where its ends sit" in asked.message
    assert (
        question_scans(
            measures.model_copy(
                update={"confirmed": tuple(q.key for q in question_scans(measures, {"forearm.both": fit.tube}))}
            ),
            {"forearm.both": fit.tube},
        )
        == []
    )
