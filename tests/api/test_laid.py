"""Trims and rows with a shape: from the lines of a piece to steps, weight and the files that leave."""

import pytest

from tests.api.conftest import post, steps_of
from tests.api.test_bench import redesign

TRIM = {
    "key": "hem", "kind": "trim", "name": "hem trim",
    "shape": {"form": "border", "lines": ["hem"], "inset": 4, "width": 14, "foam": 5},
}  # fmt: skip
RIVETS = {
    "key": "rivets", "kind": "rivets", "name": "rivets", "size": 7,
    "shape": {"form": "row", "lines": ["neckline"], "inset": 10, "pitch": 22, "pack": 50},
}  # fmt: skip


@pytest.fixture
def chest(client, build) -> int:
    _, made, _ = build
    number = post(client, f"/api/builds/{made}/pieces", {"design": {"template": "breastplate"}})["id"]
    redesign(client, number, template="breastplate", making={"details": [TRIM, RIVETS]})
    return number


def laid(client, piece: int) -> dict[str, dict]:
    answer = client.get(f"/api/pieces/{piece}/laid")
    assert answer.status_code == 200, answer.text
    return {row["key"]: row for row in answer.json()["rows"]}


def test_what_is_laid_reads_the_same_everywhere(client, chest):
    rows = laid(client, chest)
    trim, rivets = rows["hem"], rows["rivets"]
    steps = steps_of(client, chest)
    assert f"{rivets['count']} x rivets" in steps["lay-on:rivets"]["title"]
    told = next(v["amount"] for v in steps["trim:hem"]["values"] if v["word"] == "of strip")
    assert told == pytest.approx(trim["length"], abs=0.01)
    assert rivets["packs"] == -(-(rivets["count"] + round(rivets["count"] / 10)) // 50)
    assert min(trim["minutes"], trim["grams"]) > 0
    shown = client.get(f"/api/pieces/{chest}/pattern").json()["panels"][0]["lines"]
    assert len([x for x in shown if x["name"].startswith("rivets")]) == rivets["count"]
    assert [x["name"] for x in shown if x["kind"] == "trim edge"] == ["hem trim"]
