"""A trunk from its measures: what the tape said is what the tube gives, on any body, without folds."""

import numpy as np
import pytest
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.bodies import trunk
from tests.depth import often
from vellumcut.core.body.torso import TORSO_GIRTHS, TORSO_LENGTHS, check_torso, complete_torso, question_torso
from vellumcut.core.cast.picture import picture_mesh, picture_tube
from vellumcut.core.cast.trunk import build_trunk, ring_length
from vellumcut.core.cast.trunk_tube import shoulder_point, tape_lengths
from vellumcut.core.errors import CraftError

EXTREMES = {
    "full bust on small ribs": trunk(bust=1180, underbust=880, waist=840, hip=1120, neck=380),
    "heavy, round back": trunk(
        "round", {"back length": 470, "shoulder width": 455}, bust=1300, underbust=1240, waist=1420, hip=1330, neck=460
    ),
    "slight": trunk(
        "straight",
        {"back length": 375, "shoulder width": 345},
        bust=760,
        underbust=705,
        waist=590,
        hip=820,
        neck=305,
        armhole=350,
    ),
    "broad and lean": trunk(
        lengths={"back length": 480, "front length": 405, "shoulder width": 465},
        bust=1080,
        underbust=985,
        waist=820,
        hip=960,
        neck=410,
    ),
}


@pytest.fixture(params=list(EXTREMES), scope="module")
def body(request):
    sizes = complete_torso(EXTREMES[request.param])
    return sizes, build_trunk(sizes)


def test_every_girth_is_met_as_an_independent_section_measures_it(body):
    sizes, tube = body
    picture = picture_tube(tube, 301, 401)
    mesh = trimesh.Trimesh(*_solid(picture, tube), process=False)
    for name in ("hip", "waist", "underbust", "bust"):
        at = tube.at[tube.names.index(name)]
        loops = mesh.section([0, 0, 1], [0, 0, at + 1e-4]).discrete
        cut = max(np.linalg.norm(np.diff(loop, axis=0), axis=1).sum() for loop in loops)
        assert cut == pytest.approx(sizes.girths[name], abs=1.0), name
    neck = tube.frame(np.linspace(0, 1, 2000), np.full(2000, 6.0))[0]
    assert ring_length(neck) == pytest.approx(sizes.girths["neck"], abs=1.0)
    assert tube.polyline_length(tube.armhole, 20) == pytest.approx(sizes.girths["armhole"], abs=1.0)


def _solid(picture, tube):
    _, points, faces = picture_mesh(picture, tube)
    return points, faces


def test_every_length_is_met(body):
    sizes, tube = body
    wanted = [sizes.lengths[n] for n in ("back length", "front length", "bust point drop")]
    assert tape_lengths(tube) == pytest.approx(wanted, abs=3.0)
    points = [tube.frame(s * shoulder_point(tube), 5.0)[0] for s in (1, -1)]
    assert np.linalg.norm(points[0] - points[1]) == pytest.approx(sizes.lengths["shoulder width"], abs=3.0)
    u, v = tube.apex
    bust = [tube.frame(s * u, v)[0] for s in (1, -1)]
    assert np.linalg.norm(bust[0] - bust[1]) == pytest.approx(sizes.lengths["bust points apart"], abs=3.0)
    assert tube.at[4] - tube.at[1] <= sizes.lengths["waist to armpit"] * 1.1


def test_no_folds_and_no_spikes(body):
    """Every small face looks outward from the spine's side, and no two neighbours turn sharply to each other."""
    _, tube = body
    picture = picture_tube(tube, 121, 161)
    _, points, faces = picture_mesh(picture, tube)
    corner = points[faces]
    normal = np.cross(corner[:, 1] - corner[:, 0], corner[:, 2] - corner[:, 0])
    middle = corner.mean(axis=1)
    out = middle * [1.0, 1.0, 0.0]
    chest = middle[:, 2] < tube.at[4]
    assert ((normal * out).sum(axis=1) > 0)[chest].all()
    mesh = trimesh.Trimesh(points, faces, process=False)
    assert np.degrees(np.quantile(mesh.face_adjacency_angles, 0.999)) < 25
    assert np.degrees(mesh.face_adjacency_angles.max()) < 50
    assert np.allclose(tube.frame(0.13, 2.4)[0] * [-1, 1, 1], tube.frame(-0.13, 2.4)[0], atol=0.05)


size = st.floats(min_value=0.86, max_value=1.22)


@settings(max_examples=often(15), deadline=None)
@given(size, size, size, st.floats(min_value=1.0, max_value=1.3), st.sampled_from(["straight", "usual", "round"]))
def test_any_ordinary_trunk_can_be_built_from_a_partial_set(ribs, waist, hip, fullness, posture):
    reading = trunk(posture, underbust=800 * ribs, bust=800 * ribs * fullness, waist=760 * waist, hip=970 * hip)
    sizes = complete_torso(reading)
    tube = build_trunk(sizes)
    assert tube.girth([0, 1, 2, 3]) == pytest.approx(
        [sizes.girths[n] for n in ("hip", "waist", "underbust", "bust")], abs=1.0
    )
    assert set(sizes.guessed) == {*TORSO_GIRTHS, *TORSO_LENGTHS} - {"underbust", "bust", "waist", "hip"}


def test_a_flat_chest_has_no_bust_and_a_full_one_has():
    front = {}
    for name, bust in (("flat", 848), ("full", 1000)):
        tube = build_trunk(complete_torso(trunk(bust=bust, underbust=800, waist=760, hip=970)))
        u, v = tube.apex
        front[name] = tube.frame(0.0, v)[0][1] - tube.frame(u, v)[0][1]
    assert front["flat"] < 4
    assert front["full"] > 9


def test_what_contradicts_itself_is_refused_in_words():
    with pytest.raises(CraftError, match="one girth of the trunk"):
        complete_torso(trunk())
    with pytest.raises(CraftError, match="does not go with the other lengths"):
        build_trunk(
            complete_torso(trunk(lengths={"back length": 420, "front length": 180, "waist to armpit": 240}, bust=920))
        )
    with pytest.raises(CraftError, match="far larger than the bust"):
        check_torso(trunk(bust=800, underbust=1100))
    assert [q.field for q in question_torso(trunk(bust=95))] == ["torso.bust"]
