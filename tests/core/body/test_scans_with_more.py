"""Scans that hold more than a body: the floor it stands on, a wall, arms that lie against it, a shirt. Added here to
bodies by chance; what the body alone gives is the measure."""

import numpy as np
import pytest
import trimesh
from scipy.spatial import Delaunay, cKDTree

from tests.core.body.test_scans_as_they_come import by_chance, fitted, taken_in
from tests.depth import deep, mostly
from vellumcut.core.cast.scanned.floor import without_floors
from vellumcut.core.cast.scanned.mesh import clean_mesh
from vellumcut.core.errors import CraftError
from vellumcut.standins.made_up_body import BodyShape, made_up_body

PARTS = ("torso", "left"), ("lower leg", "right"), ("forearm", "left")
LEFT_OUT = "A floor or a wall was scanned with the body and is left out."


def sheet(radius: float, step: float, rough: float, seed: int) -> tuple[np.ndarray, np.ndarray]:
    """A round floor at height 0, as a scanner waves it."""
    luck = np.random.default_rng(seed)
    x, y = (a.ravel() for a in np.meshgrid(*[np.arange(-radius, radius, step)] * 2))
    flat = np.column_stack([x, y])[np.hypot(x, y) < radius]
    flat = flat + luck.uniform(-0.2, 0.2, flat.shape) * step
    return np.column_stack([flat, luck.normal(0, rough, len(flat))]), Delaunay(flat).simplices


def standing_apart(points, faces, seed):
    low = points[:, 2].min()
    floor, triangles = sheet(700.0, 9.0, 1.0, seed)
    return np.vstack([points, floor + [0, 0, low - 2]]), np.vstack([faces, triangles + len(points)])


def grown_together(points, faces, seed):
    """Soles cut away, their rims sewn to a floor with holes there: one skin, as scanners give it."""
    low, step = points[:, 2].min(), 14.0
    sole = points[:, 2] < low + 10
    body = faces[~sole[faces].all(axis=1)]
    floor, triangles = sheet(600.0, step, 1.0, seed)
    away = cKDTree(points[sole][:, :2]).query(floor[:, :2])[0]
    triangles = triangles[~(away < step)[triangles].any(axis=1)]
    used = np.unique(triangles)
    rim = np.unique(body[(points[body][:, :, 2] < low + 22).any(axis=1)])
    rim = rim[points[rim, 2] < low + 22]
    both = np.vstack([points, floor + [0, 0, low]])
    ids = np.concatenate([rim, used[away[used] < 2.6 * step] + len(points)])
    sewn = Delaunay(both[ids, :2]).simplices
    corners = both[ids, :2][sewn]
    longest = np.max([np.linalg.norm(corners[:, k] - corners[:, k - 1], axis=1) for k in range(3)], axis=0)
    mixed = (sewn >= len(rim)).sum(axis=1)
    sewn = ids[sewn[(mixed > 0) & (mixed < 3) & (longest < 45)]]
    return both, np.vstack([body, triangles + len(points), sewn])


def before_a_wall(points, faces, seed):
    wall, triangles = sheet(1100.0, 16.0, 1.5, seed)
    wall = wall[:, [0, 2, 1]] + [0, points[:, 1].max() + 40, 900]
    return np.vstack([points, wall]), np.vstack([faces, triangles + len(points)])


def in_a_corner(points, faces, seed):
    return before_a_wall(*grown_together(points, faces, seed), seed + 1)


@pytest.mark.parametrize("seed", mostly([0, 5, 7], 1))
@pytest.mark.parametrize("hurt", mostly([in_a_corner, grown_together, standing_apart, before_a_wall], 1))
def test_a_floor_or_a_wall_is_left_out_and_said(seed, hurt):
    points, faces = by_chance(seed)
    clean, as_read = taken_in(points, faces)
    mesh, stance = taken_in(*hurt(points, faces, seed))
    assert LEFT_OUT in mesh.warnings
    assert stance == as_read
    assert mesh.height == pytest.approx(clean.height, abs=2)
    for part in PARTS:
        girths = fitted(mesh, *part).tube.station_girths
        assert girths == pytest.approx(fitted(clean, *part).tube.station_girths, abs=1.0), part


def test_the_flat_ends_of_a_limb_are_no_floor_and_a_floor_alone_is_no_body():
    for radius, high in ((45.0, 250.0), (60.0, 120.0), (170.0, 420.0)):
        limb = trimesh.creation.cylinder(radius, high, sections=64).subdivide().subdivide()
        assert len(without_floors(np.array(limb.vertices), np.array(limb.faces))[1]) == len(limb.faces)
    for seed in range(3):
        points, faces = by_chance(seed)
        assert len(without_floors(points, faces)[1]) == len(faces)
    with pytest.raises(CraftError, match="a flat surface and no body"):
        clean_mesh(*sheet(500.0, 12.0, 1.0, 1))


@pytest.mark.parametrize("wide", [1200.0, 520.0, 380.0])
def test_a_small_floor_is_found_as_surely_as_a_large_one(wide):
    """Down to a tenth of the surface, whichever places the lot draws: the triangles come in another order each time."""
    points, faces = by_chance(2, 20.0)
    floor, triangles = sheet(wide, 20.0, 1.0, 3)
    both = np.vstack([points, floor + [0, 0, points[:, 2].min() - 2]])
    every = np.vstack([faces, triangles + len(points)])
    for seed in range(6):
        shuffled = np.random.default_rng(seed).permutation(every)
        assert len(without_floors(both, shuffled)[1]) == len(faces)


def with_arms(seed: int, degrees: float) -> tuple[np.ndarray, np.ndarray]:
    luck = np.random.default_rng([seed, 12])
    shape = BodyShape(
        height=luck.uniform(1520, 1900), girth=luck.uniform(0.86, 1.2), bust=luck.uniform(0, 75),
        belly=luck.uniform(0, 80), shoulders=luck.uniform(0.9, 1.12), arm=degrees,
    )  # fmt: skip
    return made_up_body(shape, 13.0)


@pytest.mark.parametrize("seed", mostly([0, 5, 3, 8], 1))
def test_arms_that_lie_against_the_trunk_are_said_where_its_girths_hold_them(seed):
    """Whatever of hip, waist, underbust and bust is off by over 3 mm is not silent, and what is free is not doubted."""
    free = fitted(taken_in(*with_arms(seed, 46.0))[0], "torso", "left")
    assert free.warnings == ()
    for degrees in (20.0, 12.0, 8.0, 5.0):
        mesh, _ = taken_in(*with_arms(seed, degrees))
        found = fitted(mesh, "torso", "left")
        off = np.abs(np.array(found.tube.station_girths) - np.array(free.tube.station_girths))[:4]
        assert off.max() < 3 or found.warnings, degrees
        words = " ".join(found.warnings)
        assert ("is not seen by itself" in words) == (off[0] > 100), degrees
        if degrees < 6:
            with pytest.raises(CraftError, match=r"No arm stands clear|too short"):
                fitted(mesh, "forearm", "left")


@pytest.mark.parametrize("seed", mostly([0, 3], 1))
@pytest.mark.parametrize(("thick", "hem"), [(8.0, 0.5), pytest.param(15.0, 0.56, marks=deep)])
def test_a_loose_shirt_is_said_by_its_hem(seed, thick, hem):
    points, faces = with_arms(seed, 40.0)
    rise = (points[:, 2] - points[:, 2].min()) / np.ptp(points[:, 2])
    worn = (rise > hem) & (rise < 0.83) & (np.abs(points[:, 0]) < 0.2 * np.ptp(points[:, 2]))
    folds = 1 + 0.4 * np.sin(points[:, 0] / 30 + points[:, 2] / 45)
    out = trimesh.Trimesh(points, faces, process=False).vertex_normals * (thick * folds * worn)[:, None]
    (said,) = [w for w in fitted(taken_in(points + out, faces)[0], "torso", "left").warnings if "a hem" in w]
    assert "Scan in tight ones" in said
