"""Two windows on one thing: both changes stand where they touch different parts, and a plain word says where not."""

import copy

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.api.conftest import READINGS, post
from vellumcut.service.errors import Overtaken
from vellumcut.service.keeping import builds
from vellumcut.service.merging import merged


def piece_of(client, made: int) -> dict:
    return client.get(f"/api/builds/{made}").json()["pieces"][0]


def change(client, path: str, body: dict, seen: dict, status: int = 200, tab: str = "") -> dict:
    send = client.patch if "pieces" in path else client.put
    answer = send(path, json=body, headers={"If-Match": f'"{seen["tag"]}"', "X-Tab": tab})
    assert answer.status_code == status, answer.text
    return answer.json()


def test_two_windows_that_change_different_parts_of_a_piece_both_keep_theirs(client, build):
    _, made, piece = build
    seen = piece_of(client, made)
    path = f"/api/pieces/{piece}"
    change(client, path, {"design": seen["design"] | {"foam": 8}}, seen)
    kept = change(client, path, {"design": seen["design"] | {"ease": 7}}, seen)
    assert (kept["design"]["foam"], kept["design"]["ease"]) == (8, 7)
    refused = change(client, path, {"design": seen["design"] | {"foam": 4}}, seen, 412)
    assert "foam" in refused["detail"]
    assert piece_of(client, made)["design"]["foam"] == 8
    # A second change from what this window was told goes on from there.
    again = change(client, path, {"design": kept["design"] | {"foam": 4}}, kept)
    assert again["design"]["foam"] == 4


def test_a_build_that_is_removed_while_builds_are_read_is_left_out(client, build, monkeypatch):
    _, made, _ = build
    other = post(client, "/api/builds", {"name": "Salt heron", "wearer_id": build[0]})["id"]
    rows = builds.list_builds

    def meanwhile(store):
        found = rows(store)
        builds.remove_build(store, made)
        return found

    monkeypatch.setattr(builds, "list_builds", meanwhile)
    answer = client.get("/api/builds")
    assert (answer.status_code, [b["id"] for b in answer.json()]) == (200, [other])


def test_strokes_of_one_sheet_are_told_apart(client, build):
    made = build[1]
    piece = post(client, f"/api/builds/{made}/pieces", {"design": {"template": "breastplate"}})["id"]
    sheet = client.get(f"/api/pieces/{piece}/ink").json()["sheet"]
    design = next(p for p in client.get(f"/api/builds/{made}").json()["pieces"] if p["id"] == piece)["design"]
    path = f"/api/pieces/{piece}"
    seen = client.patch(path, json={"design": design | {"ink": sheet}}).json()

    def moved(number: int) -> dict:
        mine = copy.deepcopy(seen["design"])
        mine["ink"]["strokes"][number]["points"][0][1] += 0.01
        return mine

    change(client, path, {"design": moved(0)}, seen)
    kept = change(client, path, {"design": moved(1)}, seen)["design"]["ink"]["strokes"]
    for number in (0, 1):
        assert kept[number] == moved(number)["ink"]["strokes"][number]
    change(client, path, {"design": moved(0) | {"foam": 2}}, seen)
    other = copy.deepcopy(seen["design"])
    other["ink"]["strokes"][0]["points"][0][1] -= 0.01
    change(client, path, {"design": other}, seen, 412)


def test_measures_wearers_and_builds_are_guarded_alike(client, build):
    wearer, made, _ = build
    (seen,) = client.get(f"/api/wearers/{wearer}/measurement-sets").json()
    path = f"/api/measurement-sets/{seen['id']}"
    change(client, path, seen["readings"] | {"note": "evening"}, seen)
    limbs = copy.deepcopy(seen["readings"])
    first = next(iter(limbs["limbs"][0]["stations"].values()))
    first["girth"] += 3
    both = change(client, path, limbs, seen)["readings"]
    assert both["note"] == "evening"
    assert both["limbs"] == limbs["limbs"]
    change(client, path, seen["readings"] | {"note": "morning"}, seen, 412)
    who = next(w for w in client.get("/api/wearers").json() if w["id"] == wearer)
    change(client, f"/api/wearers/{wearer}", {"name": "Perrin V.", "note": ""}, who)
    assert change(client, f"/api/wearers/{wearer}", {"name": who["name"], "note": "tall"}, who)["name"] == "Perrin V."
    costume = client.get(f"/api/builds/{made}").json()
    fields = {k: costume[k] for k in ("name", "wearer_id", "event_name", "event_on", "dart_edges")}
    change(client, f"/api/builds/{made}", fields | {"event_on": "2027-05-01"}, costume)
    assert change(client, f"/api/builds/{made}", fields | {"name": "Moth"}, costume)["event_on"] == "2027-05-01"
    change(client, f"/api/builds/{made}", fields | {"event_on": "2027-06-01"}, costume, 412)
    change(client, f"/api/builds/{made}", fields, {"tag": "never"}, 412)


def test_undo_says_whose_change_it_would_take_back(client, build):
    _, made, piece = build
    seen = piece_of(client, made)
    change(client, f"/api/pieces/{piece}", {"name": "Left"}, seen, tab="one")
    mine, other = ({"X-Tab": tab} for tab in ("one", "two"))
    assert client.get("/api/undo", headers=mine).json()["undo"]["elsewhere"] is False
    looked = client.get("/api/undo", headers=other).json()["undo"]
    assert (looked["words"], looked["elsewhere"]) == ("Change the piece", True)
    client.put("/api/wearers/1", json={"name": "Later", "note": ""}, headers=mine)
    late = client.post("/api/undo", params={"change": looked["id"]}, headers=other)
    assert late.status_code == 412
    assert "Change Later" in late.json()["detail"]
    assert client.get("/api/wearers").json()[0]["name"] == "Later"
    top = client.get("/api/undo", headers=other).json()["undo"]
    assert client.post("/api/undo", params={"change": top["id"]}, headers=other).status_code == 200


values = st.integers(0, 2)
things = st.fixed_dictionaries(
    {
        "a": values,
        "list": st.dictionaries(st.sampled_from("xyz"), values).map(
            lambda d: [{"key": k, "v": v} for k, v in d.items()]
        ),
    },
    optional={"b": values, "deep": st.fixed_dictionaries({"c": values, "d": values})},
)


def parts(thing: dict) -> dict:
    """Every part by its path."""
    out = {}
    for key, value in thing.items():
        if key == "list":
            out |= {("list", x["key"]): x["v"] for x in value}
        elif isinstance(value, dict):
            out |= {(key, k): v for k, v in value.items()}
        else:
            out[(key,)] = value
    return out


@given(things, things, things)
@settings(deadline=None)
def test_a_merge_keeps_every_part_that_either_changed_or_says_that_both_did(base, theirs, mine):
    b, t, m = parts(base), parts(theirs), parts(mine)
    both = [k for k in {*b, *t, *m} if t.get(k) != b.get(k) and m.get(k) != b.get(k) and t.get(k) != m.get(k)]
    try:
        kept = parts(merged(base, theirs, mine))
    except Overtaken:
        assert both
        return
    wanted = {k: m.get(k) if m.get(k) != b.get(k) else t.get(k) for k in {*b, *t, *m}}
    assert kept == {k: v for k, v in wanted.items() if v is not None}


@pytest.mark.parametrize("way", ["pieces", "wearers"])
def test_a_window_that_does_not_care_still_writes(client, build, way):
    wearer, _, piece = build
    if way == "pieces":
        assert client.patch(f"/api/pieces/{piece}", json={"name": "Plain"}).status_code == 200
    else:
        assert client.put(f"/api/wearers/{wearer}", json={"name": "Plain", "note": READINGS["note"]}).status_code == 200
