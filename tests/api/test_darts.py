"""Darts tried and planned, and a suit re-graded, over the API."""

import numpy as np
import pytest

from tests.api.conftest import READINGS, ended, post
from tests.bodies import trunk
from tests.depth import long

FULL = trunk(bust=1080, underbust=820, waist=760, hip=1010, neck=360).model_dump(mode="json")


@pytest.fixture
def front(client):
    """Half a breastplate over a full bust; gives (build id, piece id)."""
    wearer = post(client, "/api/wearers", {"name": "Ottoline Marrow"})["id"]
    post(client, f"/api/wearers/{wearer}/measurement-sets", {**READINGS, "torso": FULL})
    build = post(client, "/api/builds", {"name": "Reedwarden", "wearer_id": wearer})["id"]
    design = {"template": "breastplate", "choices": {"front": "centre ridge"}}
    return build, post(client, f"/api/builds/{build}/pieces", {"design": design})["id"]


def dart(mouth, tip, key="dart-1"):
    return {"key": key, "kind": "dart", "name": key.replace("-", " "), "points": [mouth, tip], "curve": "straight"}


def test_a_dart_that_is_tried_is_the_one_that_is_kept(client, front):
    _, piece = front
    (before,) = client.get(f"/api/pieces/{piece}/pattern").json()["panels"]
    side = next(e for e in before["edges"] if e["name"] == "armhole")
    vertex = np.linalg.norm(np.array(before["vertices"]) - side["points"][len(side["points"]) // 2], axis=1).argmin()
    cut = dart(before["uv"][vertex], [0.17, 3.1])
    tried = client.post(f"/api/pieces/{piece}/panels/1/cuts/try", json={"cuts": [cut]}).json()
    assert tried["p95"] < before["p95"]
    # Nothing is kept by trying.
    design = client.get("/api/builds/1").json()["pieces"][0]["design"]
    assert design["cuts"] == []
    kept = client.patch(f"/api/pieces/{piece}", json={"design": design | {"cuts": [cut]}})
    assert kept.status_code == 200
    (after,) = client.get(f"/api/pieces/{piece}/pattern").json()["panels"]
    (shown,), (made,) = tried["darts"], after["darts"]
    assert made["key"] == shown["key"] == "dart-1"
    assert made["intake"] == pytest.approx(shown["intake"], rel=0.12)
    assert after["p95"] == pytest.approx(tried["p95"], rel=0.12)


@pytest.mark.parametrize(
    ("mouth", "tip", "words"),
    [
        ([0.25, 3.2], [0.247, 3.2], "shorter than 15 mm"),
        ([0.1, 2.6], [0.14, 3.0], "reaches no edge"),
        ([0.0, 2.6], [0.26, 2.7], "runs from edge to edge"),
    ],
)
def test_a_dart_that_cannot_be_cut_is_refused_in_words(client, front, mouth, tip, words):
    answer = client.post(f"/api/pieces/{front[1]}/panels/1/cuts/try", json={"cuts": [dart(mouth, tip)]})
    assert answer.status_code == 422
    assert words in answer.json()["detail"]
    assert answer.json()["fields"][0]["field"] == "cuts"


def test_each_side_of_a_lopsided_wearer_has_its_own_panel(client):
    wearer = post(client, "/api/wearers", {"name": "Perrin Vale"})["id"]
    (arm,) = [x for x in READINGS["limbs"] if x["segment"] == "forearm"]
    fuller = {n: r | {"girth": r["girth"] * 1.12} for n, r in arm["stations"].items()}
    limbs = [arm | {"side": "left"}, arm | {"side": "right", "stations": fuller}]
    post(client, f"/api/wearers/{wearer}/measurement-sets", READINGS | {"limbs": limbs, "confirmed": []})
    build = post(client, "/api/builds", {"name": "Moth-knight", "wearer_id": wearer})["id"]
    design = {"template": "bracer", "closure": "lacing"}
    piece = post(client, f"/api/builds/{build}/pieces", {"design": design})["id"]
    panels = {p["side"]: p for p in client.get(f"/api/pieces/{piece}/pattern").json()["panels"]}
    assert panels["right"]["area"] > 1.05 * panels["left"]["area"]
    low = {s: min(e["points"][0][0] + p["place"][0] for e in p["edges"]) for s, p in panels.items()}
    assert low["right"] < low["left"]
    for side, panel in panels.items():
        body = {"cuts": [], "side": side}
        tried = client.post(f"/api/pieces/{piece}/panels/1/cuts/try", json=body).json()
        assert tried["area"] == pytest.approx(panel["area"], rel=0.01)
        # Seen from the same face: the front line of a right arm runs to the other hand.
        slopes = [np.polyfit(*np.array([[u, x] for (u, _), (x, _) in zip(f["uv"], f["vertices"], strict=True)]).T, 1)[0]
                  for f in (tried, panel)]  # fmt: skip
        assert np.sign(slopes[0]) == np.sign(slopes[1])
        assert (slopes[0] > 0) == (side == "left")
    single = post(client, f"/api/builds/{build}/pieces", {"design": design | {"side": "right"}})["id"]
    wrong = client.post(f"/api/pieces/{single}/panels/1/cuts/try", json={"cuts": [], "side": "left"})
    assert wrong.status_code == 404
    assert "no panel 1 on the left" in wrong.json()["detail"]


@long
def test_plans_are_made_by_a_job_that_can_be_stopped(client, front):
    _, piece = front
    job = post(client, f"/api/pieces/{piece}/panels/1/dart-plans", {}, 202)
    assert ended(client, job)["state"] == "done"
    advice = client.get(f"/api/dart-plans/{job['id']}").json()
    assert advice["kind"] == "darts"
    assert advice["plans"][0]["p95"] < advice["limit"] < advice["before"]
    assert "squeezed by" in advice["words"] or advice["plans"][0]["flat"]["squeeze_p95"] <= 3.0
    stopped = post(client, f"/api/pieces/{piece}/panels/1/dart-plans", {"most": 1}, 202)
    assert client.delete(f"/api/jobs/{stopped['id']}").status_code == 202
    assert ended(client, stopped)["state"] == "cancelled"
    assert client.get(f"/api/dart-plans/{stopped['id']}").status_code == 404
    assert client.post(f"/api/pieces/{piece}/panels/7/dart-plans", json={}).status_code == 404


def test_a_suit_is_held_against_a_body_that_has_grown(client, build):
    wearer, number, piece = build
    (older,) = client.get(f"/api/wearers/{wearer}/measurement-sets").json()
    grown = [
        x | {"stations": {n: r | {"girth": r["girth"] + 14} for n, r in x["stations"].items()}}
        for x in READINGS["limbs"]
    ]
    post(client, f"/api/wearers/{wearer}/measurement-sets", READINGS | {"limbs": grown, "taken_on": "2026-11-20"})
    post(client, f"/api/builds/{number}/pieces", {"design": {"template": "belt"}})
    job = post(client, f"/api/builds/{number}/regrades", {"since": older["id"]}, 202)
    assert ended(client, job)["state"] == "done"
    pieces = {p["piece"]: p for p in client.get(f"/api/regrades/{job['id']}").json()["pieces"]}
    (arm,) = pieces.pop(piece)["panels"]
    assert arm["state"] == "strip"
    assert arm["width"] == pytest.approx([14, 14, 14], abs=1.0)
    assert {c["state"] for p in pieces.values() for c in p["panels"]} == {"fits"}
    strips = client.get(f"/api/regrades/{job['id']}/strips.svg")
    assert strips.status_code == 200
    assert b"strip" in strips.content
    assert client.post(f"/api/builds/{number}/regrades", json={"since": 99}).status_code == 404
