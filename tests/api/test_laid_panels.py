"""Panels of a pattern file laid on their wearer: foam, figure, rig and cut file follow, and one undo takes them up."""

import pytest

from tests.api.conftest import post
from tests.depth import long

HALF = "M{x0},210 L{x1},210 L{x2},0 L{x3},0 Z"


def pattern(wrist: float, elbow: float) -> str:
    """A bracer of two halves, as another program writes it."""
    ways = [HALF.format(x0=x, x1=x + wrist, x2=x + (wrist + elbow) / 2, x3=x - (elbow - wrist) / 2) for x in (60, 300)]
    inside = "".join(f'<path d="{w}" fill="none" stroke="black"/>' for w in ways)
    size = 'width="560mm" height="260mm" viewBox="0 0 560 260"'
    return f'<svg xmlns="http://www.w3.org/2000/svg" {size}><g id="panels">{inside}</g></svg>'


@pytest.fixture
def bracer(client, build):
    _, made, _ = build
    answer = client.post(
        f"/api/builds/{made}/pattern-files",
        params={"name": "bracer.svg", "template": "bracer", "layers": "panels=panels"},
        content=pattern(116, 158),
    )
    assert answer.status_code == 201, answer.text
    return answer.json()


def change(client, piece: dict, **flat) -> dict:
    design = {**piece["design"], "flat": {**piece["design"]["flat"], **flat}}
    answer = client.patch(f"/api/pieces/{piece['id']}", json={"design": design})
    assert answer.status_code == 200, answer.text
    return answer.json()


def mates(*pairs) -> list[dict]:
    return [{"a": {"panel": a, "edge": x}, "b": {"panel": b, "edge": y}, "name": ""} for (a, x), (b, y) in pairs]


@long
def test_panels_that_are_laid_down_are_worked_out_like_all_others_until_they_are_taken_up(client, build, bracer):
    to = f"/api/pieces/{bracer['id']}"
    before = client.get(f"{to}/pattern").json()
    assert {p["verdict"]["state"] for p in before["panels"]} == {"unknown"}
    assert not any(c["foam_panels"] for c in client.get(f"{to}/cast").json())
    table = client.get(f"{to}/flat").json()
    assert all(len(p["moved"]) == 2 for p in table["panels"])
    glued = change(client, bracer, mates=mates(((1, 1), (2, 3)), ((2, 1), (1, 3))))
    lies = [{"panel": 1, "at": [79, 120], "around": 0.0, "along": 1.0, "up": 0}]
    laid = change(client, glued, lies=lies)

    after = client.get(f"{to}/pattern").json()
    assert [p["number"] for p in after["panels"]] == [1, 2]
    assert "unknown" not in {p["verdict"]["state"] for p in after["panels"]}
    assert all(p["p95"] > 0 for p in after["panels"])
    cast = client.get(f"{to}/cast").json()
    assert all(set(c["foam_panels"]) == {1, 2} for c in cast)
    edges = client.get(f"{to}/foam").json()
    assert {j["name"] for j in edges["joints"]} == {"seam A", "seam B"}
    rig = client.get(f"{to}/rig").json()
    ring = next(d for d in rig["donning"] if d["passes"] is not None)
    assert ring["passes"] is False
    assert "let a seam open across it" in ring["sentence"]
    assert client.get(f"{to}/pattern.svg").status_code == 200
    assert client.get(f"{to}/rig.pdf").status_code == 200
    assert laid["design"]["flat"]["lies"][0]["panel"] == 1
    astray = change(client, laid, lies=[{**lies[0], "along": 9.0}])
    assert astray["design"]["flat"]["lies"][0]["along"] == 9.0
    still = client.get(f"{to}/pattern").json()
    assert {p["verdict"]["state"] for p in still["panels"]} == {"unknown"}, "they can be cut all the same"
    assert any("past the last measure where it was laid" in f["message"] for f in still["findings"])
    assert client.get(f"{to}/rig").status_code == 422
    steps = client.get(f"{to}/steps")
    assert (steps.status_code, "lay it farther in" in steps.text) == (422, True), "straps want a place to lie on"
    assert not any(c["foam_panels"] for c in client.get(f"{to}/cast").json()), "the body is there to lay them anew"
    for _ in range(2):
        post(client, "/api/undo", None, 200)
    assert {p["verdict"]["state"] for p in client.get(f"{to}/pattern").json()["panels"]} == {"unknown"}
