"""The finish over HTTP: judged where it lies, known by its layers, taken away as cards and recipes."""

import io

import pypdf
import pytest
from fastapi.testclient import TestClient

from tests.api.conftest import mark, steps_of
from tests.api.test_bench import redesign, through
from vellumcut.api.app import create_app
from vellumcut.store.database import Store

BINARY = {"content-type": "application/octet-stream"}


def test_a_finish_is_judged_where_it_lies_and_leaves_as_a_card(client, build):
    _, _, piece = build
    layers = [{"kind": "hard sealer", "coats": 5}, {"kind": "filler primer"}, {"kind": "gloss black", "coats": 2}]
    wrong = {"name": "mirror", "layers": [*layers, {"kind": "mirror chrome"}, {"kind": "gloss clear"}]}
    redesign(client, piece, making={"finishes": [{"stack": wrong}]})
    view = client.get(f"/api/pieces/{piece}/finish").json()
    (finish,) = view["finishes"]
    assert [f["rule"] for f in finish["findings"] if f["at"] == 5] == ["clear over mirror"]
    assert {"clear over mirror", "brittle on bend"} <= {f["rule"] for f in finish["findings"] if f["hard"]}
    assert finish["bends"]
    assert finish["area"] == pytest.approx(sum(z["area"] for z in view["zones"]))
    keys = [k for k in steps_of(client, piece) if k.startswith("coat-")]
    assert keys == [
        "coat-smooth:rest.hard sealer", "coat-smooth:rest.filler primer", "coat-colour:rest.gloss black",
        "coat-metal:rest.mirror chrome", "coat-clear:rest.gloss clear",
    ]  # fmt: skip
    card = pypdf.PdfReader(io.BytesIO(client.get(f"/api/pieces/{piece}/finish-card.pdf").content))
    text = "".join(p.extract_text() for p in card.pages)
    assert "mirror chrome" in text
    assert "ml" in text
    assert client.get(f"/api/pieces/{piece}/masks.svg").json()["status"] == 422
    twice = {"finishes": [{"stack": wrong, "zones": ["1"]}, {"stack": wrong, "zones": ["1"]}]}
    refused = client.patch(f"/api/pieces/{piece}", json={"design": {"template": "bracer", "making": twice}})
    assert "Zone 1 has two finishes" in refused.text


def test_recipes_go_to_a_friend(client, tmp_path):
    mine = {
        "name": "sea bronze",
        "layers": [{"kind": "flexible primer"}, {"kind": "acrylic"}, {"kind": "flexible clear"}],
    }
    client.put("/api/recipes", json={"stacks": [mine]})
    assert any(r["own"] and r["key"] == "sea bronze" for r in client.get("/api/craft").json()["recipes"])
    book = client.get("/api/recipes").json()
    assert book["format"] == "vellumcut-recipes"
    other = Store(tmp_path / "friend")
    with TestClient(create_app(other), base_url="http://127.0.0.1:8765") as friend:
        own = {**mine, "layers": mine["layers"][:2]}
        friend.put("/api/recipes", json={"stacks": [own]})
        both = friend.post("/api/recipes/bring-in", json=book).json()
        assert [s["name"] for s in both["stacks"]] == ["sea bronze", "sea bronze 2"]
        assert len(friend.post("/api/recipes/bring-in", json=book).json()["stacks"]) == 2, "the same twice is one"
        assert friend.put("/api/recipes", json={"stacks": [mine, mine]}).status_code == 422
        assert friend.post("/api/recipes/bring-in", json={"format": "soup"}).status_code == 422
    other.close()


def test_a_layer_put_between_others_leaves_what_is_done_done(client, build):
    _, _, piece = build
    through(client, piece, "coat-colour:rest.acrylic")
    layers = [{"kind": k} for k in ("flexible primer", "filler primer", "acrylic", "acrylic", "flexible clear")]
    redesign(client, piece, making={"finishes": [{"stack": {"name": "two browns", "layers": layers}}]})
    steps = steps_of(client, piece)
    done = {k for k, s in steps.items() if s["state"] == "done" and k.startswith("coat-")}
    assert done == {"coat-primer:rest.flexible primer", "coat-colour:rest.acrylic"}
    assert "coat-colour:rest.acrylic 2" in steps
    band = {"stack": {"name": "band", "layers": layers[:3]}, "zones": ["1"]}
    redesign(client, piece, making={"finishes": [band]})
    assert client.get(f"/api/pieces/{piece}/steps").json()["wrong"], "a finish that covers nothing any more is told"


def test_a_magnet_that_is_in_is_in_the_way_of_spray(client, build):
    """Its steps take it out before the first coat; one glued in while a sprayed coat is still to come is told."""
    _, _, piece = build
    layers = [
        {"kind": "rubbery primer", "faces": "both"},
        {"kind": "acrylic"},
        {"kind": "satin clear", "tool": "brush"},
    ]
    making = {
        "finishes": [{"stack": {"name": "grey", "layers": layers}}],
        "details": [{"key": "m", "kind": "magnet", "name": "clasp", "count": 2}],
    }
    redesign(client, piece, making=making)

    def told() -> set[str]:
        (finish,) = client.get(f"/api/pieces/{piece}/finish").json()["finishes"]
        return {f["rule"] for f in finish["findings"] if f["hard"]}

    assert told() == set()
    through(client, piece, "magnet-in:m")
    assert told() == set(), "every coat is on"
    mark(client, piece, "coat-primer:rest.rubbery primer", done=False)
    assert told() == {"magnet"}
