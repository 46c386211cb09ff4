"""A part that is larger than every sheet, named and split: its halves find room, meet along one seam of one length, and
carry its marks and steps."""

import numpy as np
import pytest
import shapely

from tests.api.conftest import post, steps_of
from tests.api.test_nest import lay
from tests.depth import some


def small_sheets(client, number, template, size, thickness=6, **design):
    shelf = {"rows": [{"kind": "armour", "thickness": thickness, "size": size, "sheets": 4}]}
    assert client.put("/api/foam-shelf", json=shelf).status_code == 200
    layers = [{"thickness": thickness}]
    piece = post(client, f"/api/builds/{number}/pieces", {"design": {"template": template, "layers": layers, **design}})
    made = lay(client, number, materials=[f"armour {thickness}"])
    return piece["id"], next(m for m in made["materials"] if m["key"] == f"armour {thickness}")


@pytest.mark.parametrize(
    ("template", "size", "side"),
    some([("tasset", [180, 150], "right"), ("cuisse", [260, 240], "both"), ("ridged greave", [240, 160], "left")]),
)
def test_what_is_too_large_is_split_and_its_halves_meet(client, build, template, size, side):
    _, number, _ = build
    piece, made = small_sheets(client, number, template, size, side=side, thickness=8)
    assert made["large"]
    before = client.get(f"/api/pieces/{piece}/pattern").json()
    area = sum(shapely.Polygon(_ring(p)).area for p in before["panels"])
    large = made["large"][0]
    path = f"/api/builds/{number}/nest/{made['key']}/split"
    done = client.post(path, params={"part": large["key"]})
    assert done.status_code == 200, done.text
    after = client.get(f"/api/pieces/{piece}/pattern").json()
    assert len(after["panels"]) > len(before["panels"])
    now = sum(shapely.Polygon(_ring(p)).area for p in after["panels"])
    assert now == pytest.approx(area, rel=0.02)
    sides = [e for p in after["panels"] for e in p["edges"] if "split" in e["name"]]
    one, other = (np.linalg.norm(np.diff(np.array(e["points"]), axis=0), axis=1).sum() for e in sides)
    assert one == pytest.approx(other, abs=0.3)
    seams = [s for p in after["panels"] for s in p["seams"] if "split" in s["name"]]
    assert len(seams) == 1
    assert all(s["marks"] > 0 for s in seams)
    words = [f"{s['title']} {s['how']}" for s in steps_of(client, piece).values()]
    assert any("split" in w for w in words), words
    said = done.json()["words"]
    for _ in range(4):
        again = lay(client, number, materials=[made["key"]])
        material = next(m for m in again["materials"] if m["key"] == made["key"])
        assert ("find room" in said) == (not material["large"])
        if not material["large"]:
            break
        again = client.post(path, params={"part": material["large"][0]["key"]})
        assert again.status_code == 200
        said = again.json()["words"]
    assert not material["large"]
    assert not material["left"]
    longest = max(np.ptp(np.array(p["outline"]), axis=0).max() for s in material["sheets"] for p in s["parts"])
    assert longest < max(size)
    assert client.post("/api/undo").status_code == 200


def _ring(panel):
    return np.vstack([np.array(e["points"])[:-1] for e in panel["edges"]])


def test_what_cannot_be_split_is_said(client, build):
    _, number, bracer = build
    made = lay(client, number)["materials"][0]
    path = f"/api/builds/{number}/nest/{made['key']}/split"
    assert client.post(path, params={"part": f"{bracer}/nothing/a1"}).status_code == 404
