"""Scans of bodies that stand turned, are torn, rough or coarse: where ends are found, and what is said. The damage is
done here, to bodies by chance; what an unhurt, unturned scan of the same body gives is the measure."""

import numpy as np
import pytest
import trimesh
from scipy.spatial import cKDTree

from tests.depth import long, mostly, some
from vellumcut.core.body.measures import stations_of
from vellumcut.core.cast.halves import asymmetry_of_trunk
from vellumcut.core.cast.scanned.landmarks import Ends, propose_ends
from vellumcut.core.cast.scanned.mend import mended
from vellumcut.core.cast.scanned.mesh import BodyMesh, Stance, clean_mesh, turn
from vellumcut.core.cast.scanned.scan import ScanFit, fit_limb, limb_placement
from vellumcut.core.cast.scanned.scan_trunk import fit_trunk
from vellumcut.core.cast.scanned.stance import facing, guess_stance
from vellumcut.standins.made_up_body import BodyShape, made_up_body

PARTS = [
    ("torso", "left"),
    *((p, s) for p in ("forearm", "upper arm", "lower leg", "thigh") for s in ("left", "right")),
]
SOME = PARTS[0], PARTS[1], PARTS[6]


def by_chance(seed: int, triangle: float = 13.0) -> tuple[np.ndarray, np.ndarray]:
    luck = np.random.default_rng([seed, 12])
    shape = BodyShape(
        height=luck.uniform(1520, 1900), girth=luck.uniform(0.86, 1.2), bust=luck.uniform(0, 75),
        belly=luck.uniform(0, 80), shoulders=luck.uniform(0.9, 1.12), arm=luck.uniform(28, 58),
    )  # fmt: skip
    return made_up_body(shape, triangle)


def taken_in(points: np.ndarray, faces: np.ndarray) -> tuple[BodyMesh, Stance]:
    """As the service takes a scan in: cleaned, its stance guessed, upright, mended."""
    vertices, kept, said = clean_mesh(points, faces)
    stance = guess_stance(vertices, kept)
    upright = turn(vertices, stance)
    low, high = upright.min(axis=0), upright.max(axis=0)
    at = np.array([(low[0] + high[0]) / 2, 0.0, low[2]])
    return mended(BodyMesh(upright - at, kept, said)), stance


def places(ends: Ends) -> np.ndarray:
    return np.array([ends.low, ends.high, ends.front])


def fitted(mesh: BodyMesh, part: str, side: str) -> ScanFit:
    low, high, front = places(propose_ends(mesh, part, side))
    if part == "torso":
        return fit_trunk(mesh, low, high, front)
    span = float(np.linalg.norm(high - low))
    return fit_limb(mesh, limb_placement(low, high, front, side == "right"), span, stations_of(part))


def turned(points: np.ndarray, degrees: float) -> np.ndarray:
    c, s = np.cos(np.radians(degrees)), np.sin(np.radians(degrees))
    return points @ np.array([[c, -s, 0], [s, c, 0], [0, 0, 1]]).T


def larger_left(points: np.ndarray, share: float) -> np.ndarray:
    """A body whose trunk is so much wider and deeper on its left, growing from the middle line out."""
    high, x = points[:, 2].max(), points[:, 0]
    up = np.clip((points[:, 2] / high - 0.44) / 0.04, 0, 1) * np.clip((0.86 - points[:, 2] / high) / 0.04, 0, 1)
    side = np.clip(x / 60, 0, 1)
    more = 1 + share * up * side**2 * (3 - 2 * side)
    depth = np.median(points[up > 0.5, 1])
    return np.column_stack([x * more, depth + (points[:, 1] - depth) * more, points[:, 2]])


def truly_apart(points: np.ndarray, faces: np.ndarray) -> float:
    """mm from the left of the trunk between hip and breast to the mirror image of the right, at the farthest."""
    high, skin = points[:, 2].max(), trimesh.Trimesh(points, faces, process=False)
    other = trimesh.sample.sample_surface(skin, 400_000, seed=1)[0] * [-1.0, 1.0, 1.0]
    here = (
        (points[:, 2] > 0.5 * high) & (points[:, 2] < 0.72 * high) & (points[:, 0] > 0) & (points[:, 0] < 0.16 * high)
    )
    return float(np.percentile(cKDTree(other).query(points[here])[0], 99))


@pytest.mark.parametrize("seed", some(range(6), 2))
def test_a_half_that_is_wider_and_deeper_is_told_by_as_much_as_it_is(seed):
    points, faces = by_chance(seed)
    luck = np.random.default_rng(seed)
    grown = larger_left(points, luck.uniform(0.035, 0.07))
    mesh, _ = taken_in(turned(grown, luck.uniform(-12, 12)), faces)
    told = asymmetry_of_trunk(fitted(mesh, "torso", "left").tube)
    assert told.most == pytest.approx(truly_apart(grown, faces), rel=0.2)


@long
@pytest.mark.parametrize("seed", some(range(2)))
def test_a_turned_body_is_read_as_it_stands(seed):
    points, faces = by_chance(seed)
    luck = np.random.default_rng(seed)
    straight, as_read = taken_in(points, faces)
    assert as_read == Stance()
    plain = {part: places(propose_ends(straight, *part)) for part in PARTS}
    plane = fitted(straight, "torso", "left").place
    for degrees in (*luck.uniform(8, 45, 2) * luck.choice([-1, 1], 2), luck.uniform(50, 180)):
        mesh, stance = taken_in(turned(points, degrees), faces)
        axis = {"-y": 0, "x": 90, "y": 180, "-x": 270}[stance.front]
        assert abs((axis + stance.turned - degrees + 180) % 360 - 180) < 3
        for part, was in plain.items():
            now = places(propose_ends(mesh, *part))
            assert np.linalg.norm(now[:2] - was[:2], axis=1).max() < 15, part
            assert np.degrees(np.arccos(np.clip(now[2] @ was[2], -1, 1))) < 3, part
        middle = fitted(mesh, "torso", "left").place
        assert abs(middle.origin[0] - plane.origin[0]) < 0.3


def test_a_front_that_is_set_beside_the_body_is_said():
    points, faces = by_chance(3)
    assert facing(BodyMesh(points, faces)).degrees == pytest.approx(0, abs=1.0)
    assert facing(BodyMesh(turned(points, 31), faces)).degrees == pytest.approx(31, abs=1.0)
    limb = points[:, 2] < 0.3 * np.ptp(points[:, 2])
    assert facing(BodyMesh(points[limb], np.array([[0, 1, 2]]))) is None


def test_noise_is_evened_out_and_said():
    for seed, rough in ((0, 1.0), (1, 2.0)):
        points, faces = by_chance(seed)
        clean, _ = taken_in(points, faces)
        hurt, _ = taken_in(points + np.random.default_rng(seed).normal(0, rough, points.shape), faces)
        assert not clean.warnings
        assert any(f"rough by {rough:.0f}" in w or f"rough by {rough + 0.1:.1f}" in w for w in hurt.warnings)
        for part in SOME[1:]:
            girths = fitted(hurt, *part).tube.station_girths
            assert girths == pytest.approx(fitted(clean, *part).tube.station_girths, abs=6.0)


def test_large_triangles_are_no_noise():
    points, faces = by_chance(4, 25.0)
    mesh, _ = taken_in(points, faces)
    assert len(mesh.faces) < 10_000
    assert mesh.warnings == ()
    assert np.ptp(mesh.vertices, axis=0) == pytest.approx(np.ptp(points, axis=0))


@long
@pytest.mark.parametrize("where", some(["armpit", "crotch", "crown"]))
def test_a_hole_where_limbs_meet_is_closed_and_said(where):
    points, faces = by_chance(5)
    clean, _ = taken_in(points, faces)
    high = clean.height
    at = {"crotch": (0, 0, 0.47 * high), "armpit": (0.1 * high, 0, 0.74 * high), "crown": (0, 0, high)}[where]
    skin = points - [0, 0, points[:, 2].min()]
    middle = skin[np.linalg.norm(skin - at, axis=1).argmin()]
    for wide in (30.0, 60.0, 100.0):
        gone = np.linalg.norm(skin - middle, axis=1) < wide
        mesh, stance = taken_in(points, faces[~gone[faces].any(axis=1)])
        assert stance == Stance()
        assert mesh.height == pytest.approx(high, abs=32)
        assert any(("top of the head" if where == "crown" else "is closed flat") in w for w in mesh.warnings)
        for part in SOME:
            was, now = places(propose_ends(clean, *part)), places(propose_ends(mesh, *part))
            assert np.linalg.norm(now[:2] - was[:2], axis=1).max() < 45, (part, wide)
            if part != ("torso", "left"):
                close = {"forearm": 8.0, "lower leg": 3.0}[part[0]]
                girths = fitted(mesh, *part).tube.station_girths
                assert girths == pytest.approx(fitted(clean, *part).tube.station_girths, abs=close), (part, wide)


def test_a_hole_beside_the_crown_is_no_missing_head():
    points, faces = by_chance(7)
    clean, _ = taken_in(points, faces)
    skin = points - [0, 0, points[:, 2].min()]
    face = skin[np.linalg.norm(skin - [0, -200, 0.93 * clean.height], axis=1).argmin()]
    gone = np.linalg.norm(skin - face, axis=1) < 45
    mesh, _ = taken_in(points, faces[~gone[faces].any(axis=1)])
    assert mesh.height == clean.height
    assert [w for w in mesh.warnings if "closed flat" in w]
    assert not [w for w in mesh.warnings if "head" in w]


@pytest.mark.parametrize("seed", mostly([9, 6], 1))
def test_an_arm_cut_off_by_a_hole_is_said_and_its_absence_moves_nothing_else(seed):
    points, faces = by_chance(seed)
    clean, _ = taken_in(points, faces)
    skin = points - [0, 0, points[:, 2].min()]
    shoulder = skin[np.linalg.norm(skin - [0.1 * clean.height, 0, 0.76 * clean.height], axis=1).argmin()]
    gone = np.linalg.norm(skin - shoulder, axis=1) < 170
    mesh, stance = taken_in(points, faces[~gone[faces].any(axis=1)])
    assert stance == Stance()
    hips = [fitted(m, "torso", "left").tube.station_girths[:2] for m in (clean, mesh)]
    assert hips[1] == pytest.approx(hips[0], abs=3.0)
    assert any("as large as a limb" in w for w in mesh.warnings)
    for part in (("forearm", "right"), ("lower leg", "left")):
        girths = fitted(mesh, *part).tube.station_girths
        assert girths == pytest.approx(fitted(clean, *part).tube.station_girths, abs=3.0)
