import math

import numpy as np
import pytest
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.depth import often
from vellumcut.core.body.ellipse import EllipticTube
from vellumcut.core.body.splines import shape_preserving

girth = st.floats(min_value=120, max_value=900)
ratio = st.floats(min_value=0.5, max_value=1.8)
step = st.floats(min_value=30, max_value=400)


@st.composite
def tubes(draw):
    a, b = draw(step), draw(step)
    return EllipticTube(
        ("low", "mid", "high"),
        (0.0, a, a + b),
        tuple(draw(st.tuples(girth, girth, girth))),
        tuple(draw(st.tuples(ratio, ratio, ratio))),
    )


@settings(max_examples=often(25), deadline=None)
@given(tubes())
def test_every_station_keeps_its_girth_as_an_independent_section_measures_it(tube):
    """The library cuts the tube's own fine mesh with a plane and measures the cut."""
    around, levels = np.linspace(0, 1, 361)[:-1], np.linspace(0, 2, 81)
    u, v = (g.ravel() for g in np.meshgrid(around, levels))
    rows, columns = np.meshgrid(np.arange(80), np.arange(360), indexing="ij")
    a, b = (rows * 360 + columns).ravel(), (rows * 360 + (columns + 1) % 360).ravel()
    faces = np.vstack([np.stack([a, b, b + 360], 1), np.stack([a, b + 360, a + 360], 1)])
    mesh = trimesh.Trimesh(tube.frame(u, v)[0], faces, process=False)
    for k, wanted in enumerate(tube.girths):
        z = min(max(tube.at[k], 1e-3), tube.at[-1] - 1e-3)
        section = mesh.section([0, 0, 1], [0, 0, z])
        assert section.length == pytest.approx(wanted, abs=max(0.1, wanted * 1e-3))
    assert tube.girth([0, 1, 2]) == pytest.approx(tube.girths, abs=1e-6)


@settings(max_examples=often(25), deadline=None)
@given(tubes(), st.floats(min_value=0, max_value=0.999), st.floats(min_value=0, max_value=2))
def test_around_runs_by_arc_length_from_the_front(tube, around, along):
    ring = tube.frame(np.linspace(0, around, 400), np.full(400, along))[0]
    length = np.linalg.norm(np.diff(ring, axis=0), axis=1).sum()
    assert length == pytest.approx(around * float(tube.girth(along)), rel=2e-3, abs=0.05)
    assert ring[0][0] == pytest.approx(0, abs=1e-9)
    assert ring[0][1] < 0


def test_left_of_the_wearer_comes_after_the_front():
    tube = EllipticTube(("a", "b"), (0, 100), (300, 300), (1, 1))
    assert tube.uv_to_xyz(np.array([[0.25, 0.5]]))[0] == pytest.approx([300 / (2 * math.pi), 0, 50], abs=1e-6)


def test_normals_stand_square_on_a_cone():
    tube = EllipticTube(
        ("a", "b", "c"), (0, 90, 200), tuple(2 * math.pi * (40 + 0.1 * z) for z in (0, 90, 200)), (1, 1, 1)
    )
    point, normal = tube.frame(np.linspace(0, 1, 12), np.linspace(0, 2, 12))
    out = point[:, :2] / np.linalg.norm(point[:, :2], axis=1, keepdims=True)
    slope = math.atan(0.1)
    assert (normal[:, :2] * out).sum(axis=1) == pytest.approx(np.full(12, math.cos(slope)), abs=1e-9)
    assert normal[:, 2] == pytest.approx(np.full(12, -math.sin(slope)), abs=1e-9)
    assert tube.area() == pytest.approx(math.pi * (40 + 60) * math.hypot(200, 20), rel=2e-5)


def test_closest_point_finds_its_own_place():
    tube = EllipticTube(("a", "b", "c"), (0, 140, 240), (168, 252, 262), (0.76, 0.93, 0.95))
    uv = np.array([[0.1, 0.3], [0.48, 1.2], [0.97, 1.9]])
    point, normal = tube.frame(uv[:, 0], uv[:, 1])
    assert tube.closest_uv(point + 4 * normal) == pytest.approx(uv, abs=2e-3)


@given(st.lists(st.floats(min_value=50, max_value=400), min_size=2, max_size=6))
def test_the_curve_makes_no_hill_that_the_stations_do_not_have(values):
    x = np.arange(len(values)) * 100.0
    fine = shape_preserving(x, values)(np.linspace(0, x[-1], 500))
    assert fine.max() <= max(values) * 1.016
    assert fine.min() >= min(values) - 0.016 * max(values)
