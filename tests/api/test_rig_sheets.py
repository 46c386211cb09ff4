"""What one piece's rig says at the bench and on its sheet, and what another piece's rig pierces it for."""

import io

import pypdf
import pytest

from tests.api.conftest import post, steps_of
from tests.api.test_bench import redesign
from tests.api.test_rigs import rig
from tests.depth import long


@pytest.fixture
def torso(client, build):
    """Breastplate and backplate of one build: its id, and theirs by template."""
    _, made, _ = build
    parts = ("breastplate", "backplate")
    return made, {t: post(client, f"/api/builds/{made}/pieces", {"design": {"template": t}})["id"] for t in parts}


def test_a_sliding_plate_reaches_as_far_at_the_bench_as_on_the_rig_sheet(client, torso):
    """What leaning back opens is said once, wherever it is read."""
    piece = torso[1]["breastplate"]
    plate = {"key": "w", "kind": "sliding plate", "name": "waist plate", "apart": True}
    redesign(client, piece, template="breastplate", making={"details": [plate]})
    (told,) = [x for x in rig(client, piece)["plans"][0]["advice"] if x.startswith("Waist plate: ")]
    assert told.removeprefix("Waist plate: ") in steps_of(client, piece)["apart-join:w"]["how"]
    text = "".join(
        p.extract_text() for p in pypdf.PdfReader(io.BytesIO(client.get(f"/api/pieces/{piece}/rig.pdf").content)).pages
    )
    assert told[:30] in text


@long
def test_a_lace_between_two_pieces_is_pierced_on_both_as_often_as_the_rig_counts(client, torso):
    """The marks of the other piece follow what this one decides, on the pattern that is cut."""
    pieces = torso[1]

    def holes(name: str) -> int:
        made = client.get(f"/api/pieces/{pieces[name]}/pattern.json").json()
        return sum(x["name"].startswith("lacing ") for p in made["panels"] for x in p["lines"])

    assert holes("backplate") == 0
    names = {p["id"]: p["name"] for p in client.get(f"/api/builds/{torso[0]}").json()["pieces"]}
    row = {"edge": "side edge", "other": "side edge", "piece": names[pieces["backplate"]], "kind": "lacing"}
    redesign(client, pieces["breastplate"], template="breastplate", rig={"closings": [row]})
    (eyelets,) = [
        p["count"] for p in rig(client, pieces["breastplate"])["plans"][0]["parts"] if p["name"].startswith("eyelets")
    ]
    assert holes("breastplate") == holes("backplate") == eyelets / 2 > 0
    redesign(client, pieces["breastplate"], template="breastplate")
    assert holes("backplate") == holes("breastplate") == 0
