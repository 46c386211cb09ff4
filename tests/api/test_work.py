"""What the API does for a maker: patterns, versions, fittings, bench, undo."""

import random
import re
import time

import pytest

from tests.api.conftest import READINGS, mark, post, steps_of
from tests.depth import long, often
from vellumcut.formats.keeping.build_json import read_build
from vellumcut.service import clock
from vellumcut.store.models import Timer


def test_a_girth_typed_in_inches_reaches_the_pattern(client, build):
    wearer, _, piece = build
    before = client.get(f"/api/pieces/{piece}/pattern").json()
    kept = client.get(f"/api/wearers/{wearer}/measurement-sets").json()[0]
    kept["readings"]["limbs"][0]["stations"]["belly"]["girth"] = "10 1/4 in"
    assert client.put(f"/api/measurement-sets/{kept['id']}", json=kept["readings"]).status_code == 200
    after = client.get(f"/api/pieces/{piece}/pattern").json()
    belly = [
        next(n for n in p["notes"] if n["title"] == "Width at the belly")["result"]["amount"] for p in (before, after)
    ]
    assert belly[1] - belly[0] == pytest.approx(10.25 * 25.4 - 252, abs=0.1)


def test_unlikely_readings_wait_for_a_word_and_impossible_ones_are_refused(client, build):
    wearer, _, _ = build
    kept = client.get(f"/api/wearers/{wearer}/measurement-sets").json()[0]
    body = kept["readings"]
    body["limbs"][0]["stations"]["wrist"]["girth"] = 9000
    asked = client.put(f"/api/measurement-sets/{kept['id']}", json=body)
    assert asked.status_code == 422
    assert asked.headers["content-type"] == "application/problem+json"
    questions = asked.json()["questions"]
    assert "very large" in questions[0]["message"]
    assert client.get(f"/api/wearers/{wearer}/measurement-sets").json()[0] == kept | {
        "readings": READINGS | {"taken_on": "2026-11-02"}
    }
    body["confirmed"] = [q["key"] for q in questions]
    assert client.put(f"/api/measurement-sets/{kept['id']}", json=body).status_code == 200
    body["limbs"][0]["stations"]["elbow"]["at"] = 10
    refused = client.put(f"/api/measurement-sets/{kept['id']}", json=body)
    assert refused.status_code == 422
    assert refused.json()["questions"] == []
    assert "grow along the limb" in refused.json()["detail"]


def test_history_tells_each_measure_over_time(client, build):
    wearer, _, _ = build
    older = READINGS | {"taken_on": "2024-11-02", "limbs": [dict(READINGS["limbs"][0])]}
    older["limbs"][0] = older["limbs"][0] | {
        "stations": older["limbs"][0]["stations"] | {"belly": {"at": 138, "girth": 240}}
    }
    post(client, f"/api/wearers/{wearer}/measurement-sets", older)
    history = client.get(f"/api/wearers/{wearer}/history").json()
    belly = next(m for m in history["measures"] if m["station"] == "belly")
    assert (belly["dates"], belly["girths"]) == (["2024-11-02", "2026-11-02"], [240, 252])
    assert history["changes"][0]["message"] == "Belly grew by 12 mm"


def test_a_fitting_makes_a_new_version_and_the_old_one_can_be_laid_under_it(client, build):
    _, _, piece = build
    fit = post(
        client,
        f"/api/pieces/{piece}/fit-sessions",
        {"findings": [{"station": "belly", "feel": "tight", "by": "1/2 in"}]},
    )
    done = post(client, f"/api/fit-sessions/{fit['id']}/accept", status=200)
    assert done["accepted_version"] == 2
    versions = client.get(f"/api/pieces/{piece}/versions").json()
    assert [v["name"] for v in versions] == ["Before the fitting", "After the fitting"]
    assert versions[1]["ease_at"]["belly"] == pytest.approx(12.7 / 6.28319, abs=1e-3)
    overlay = client.get(f"/api/pieces/{piece}/versions/1/overlay", params={"against": 2}).json()
    assert 4 < overlay["apart"] < 9
    assert client.post(f"/api/fit-sessions/{fit['id']}/accept").status_code == 422
    client.post("/api/undo")
    assert client.get(f"/api/pieces/{piece}/fit-sessions").json()[0]["accepted_version"] is None
    assert len(client.get(f"/api/pieces/{piece}/versions").json()) == 2


def test_a_kept_version_is_printed_as_it_was_and_put_back(client, build):
    _, _, piece = build
    plain = client.get(f"/api/pieces/{piece}/pattern.svg").text
    post(client, f"/api/pieces/{piece}/versions", {"name": "Whole"})
    design = client.get("/api/builds/1").json()["pieces"][0]["design"]
    points = [[-0.49, 1.0], [0.49, 1.0]]
    split = {"key": "split-1", "kind": "seam", "name": "split 1", "points": points, "curve": "straight"}
    client.patch(f"/api/pieces/{piece}", json={"design": design | {"cuts": [split]}}).raise_for_status()
    now = client.get(f"/api/pieces/{piece}/pattern").json()
    assert (len(now["panels"]), now["changed_since"]) == (2, 1)
    # Numbers have changed, places have not: one of the two is the old panel, the other is new.
    overlay = client.get(f"/api/pieces/{piece}/versions/1/overlay").json()
    assert sorted(p["before"] for p in overlay["panels"]) == ["", "BC 1 L"]
    assert overlay["gone"] == []
    then = client.get(f"/api/pieces/{piece}/pattern.svg", params={"version": 1}).text
    assert then.count("<path") == plain.count("<path")
    assert re.findall(r' d="([^"]+)"', then) == re.findall(r' d="([^"]+)"', plain)
    for kind in ("pattern.pdf", "pattern.dxf", "card.pdf", "pattern.json"):
        assert client.get(f"/api/pieces/{piece}/{kind}", params={"version": 1}).status_code == 200
        assert client.get(f"/api/pieces/{piece}/{kind}", params={"version": 7}).status_code == 404
    assert client.post(f"/api/pieces/{piece}/versions/1/put-back").status_code == 204
    back = client.get(f"/api/pieces/{piece}/pattern").json()
    assert (len(back["panels"]), back["changed_since"]) == (1, None)
    post(client, "/api/undo", status=200)
    assert len(client.get(f"/api/pieces/{piece}/pattern").json()["panels"]) == 2
    assert len(client.get(f"/api/pieces/{piece}/versions").json()) == 1


def test_kept_versions_stay_as_they_were_when_the_body_changes(client, build):
    wearer, _, piece = build
    post(client, f"/api/pieces/{piece}/versions", {"name": "First"})
    assert client.get(f"/api/pieces/{piece}/pattern").json()["changed_since"] is None
    kept = client.get(f"/api/pieces/{piece}/versions/1/overlay").json()
    newer = READINGS | {"taken_on": "2028-11-02"}
    newer["limbs"] = [
        limb | {"stations": {k: r | {"girth": r["girth"] * 1.05} for k, r in limb["stations"].items()}}
        for limb in newer["limbs"]
    ]
    post(client, f"/api/wearers/{wearer}/measurement-sets", newer)
    later = client.get(f"/api/pieces/{piece}/versions/1/overlay").json()
    assert kept["apart"] < 0.01
    assert later["apart"] > 3
    area = [
        abs(sum(a[0] * b[1] - b[0] * a[1] for a, b in zip(old, old[1:] + old[:1], strict=True)))
        for old in (o["panels"][0]["old"] for o in (kept, later))
    ]
    assert area[0] == pytest.approx(area[1], rel=1e-4)
    assert client.get(f"/api/pieces/{piece}/pattern").json()["changed_since"] == 1


@long
def test_200_random_changes_and_200_undos_return_to_the_start_exactly(client, build):
    wearer, made, piece = build

    def everything():
        paths = [
            f"/api/builds/{made}",
            f"/api/wearers/{wearer}/measurement-sets",
            f"/api/builds/{made}/log-entries",
            "/api/wearers",
        ]
        return [client.get(p).json() for p in paths] + [
            {k: s["done_at"] is not None for k, s in steps_of(client, piece).items()}
        ]

    start, rng = everything(), random.Random(5)
    for _ in range(often(200)):
        kind = rng.randrange(5)
        if kind == 0:
            design = {"template": "bracer", "closure": "zip", "ease": rng.uniform(0, 9), "foam": rng.choice([2, 4, 6])}
            answer = client.patch(f"/api/pieces/{piece}", json={"design": design})
        elif kind == 1:
            answer = mark(client, piece, "number", done=rng.random() < 0.5)
        elif kind == 2:
            answer = client.post(f"/api/builds/{made}/log-entries", json={"text": f"note {rng.random()}"})
        elif kind == 3:
            answer = client.put(f"/api/wearers/{wearer}", json={"name": f"Perrin {rng.random()}"})
        else:
            answer = client.post(f"/api/wearers/{wearer}/measurement-sets", json=READINGS | {"note": str(rng.random())})
        assert answer.status_code < 300
    changed = everything()
    undone = 0
    while client.get("/api/undo").json()["undo"]["words"] and everything() != start:
        assert client.post("/api/undo").status_code == 200
        undone += 1
    assert undone > 0.7 * often(200)
    assert everything() == start
    for _ in range(undone):
        assert client.post("/api/redo").status_code == 200
    assert everything() == changed


def test_a_new_change_ends_what_could_be_redone(client, build):
    wearer, _, _ = build
    client.put(f"/api/wearers/{wearer}", json={"name": "One"})
    client.post("/api/undo")
    assert client.get("/api/undo").json()["redo"]["words"] == "Change One"
    client.put(f"/api/wearers/{wearer}", json={"name": "Two"})
    assert client.get("/api/undo").json()["redo"]["words"] == ""
    assert client.post("/api/redo").status_code == 404


def test_the_cement_timer_lives_in_the_database(client, build, store, monkeypatch):
    _, made, piece = build
    refused = client.post("/api/timers/cement", json={"piece_id": piece})
    assert refused.status_code == 422
    assert "caution" in refused.json()["detail"]
    client.put(f"/api/builds/{made}/cautions/solvents")
    begun = time.time()
    monkeypatch.setattr(clock, "now", lambda: begun)
    timer = post(client, "/api/timers/cement", {"piece_id": piece, "coat": "thin", "degrees": 20})
    assert timer["state"] == "running"
    assert timer["ready_in"] == pytest.approx(360, abs=2)
    for seconds, state, rings in (
        (300, "running", False),
        (361, "ready", True),
        (1600, "closing", True),
        (1861, "closed", True),
    ):
        monkeypatch.setattr(clock, "now", lambda s=seconds: begun + s)
        now = client.get("/api/timers").json()[0]
        assert (now["state"], now["rings"]) == (state, rings)
        if rings:
            heard = post(client, f"/api/timers/{timer['id']}/heard", status=200)
            assert (heard["state"], heard["rings"]) == (state, False)
    assert post(client, f"/api/timers/{timer['id']}/stop", status=200)["state"] == "stopped"
    assert client.get("/api/timers").json() == []
    with store.read() as session:
        assert session.get(Timer, timer["id"]).stopped_at == pytest.approx(begun + 1861)


def test_wrapping_warns_five_minutes_before_the_limit(client, build, monkeypatch):
    _, made, piece = build
    client.put(f"/api/builds/{made}/cautions/wrapping")
    post(client, "/api/timers/wrap", {"piece_id": piece, "label": "Left forearm"})
    begun = time.time()
    for seconds, state in ((1400, "running"), (1505, "closing"), (1801, "closed")):
        monkeypatch.setattr(clock, "now", lambda s=seconds: begun + s)
        assert client.get("/api/timers").json()[0]["state"] == state


@pytest.mark.parametrize("by", [-3600, 3600])
def test_a_wall_clock_that_is_set_does_not_move_a_timer(client, build, monkeypatch, by):
    _, made, piece = build
    client.put(f"/api/builds/{made}/cautions/solvents")
    begun = post(client, "/api/timers/cement", {"piece_id": piece, "coat": "normal"})
    wall = time.time
    monkeypatch.setattr(time, "time", lambda: wall() + by)
    (now,) = client.get("/api/timers").json()
    assert now["ready_in"] == pytest.approx(begun["ready_in"], abs=3)
    # Begun anew after the clock was set back: the timer is from the future, and nothing has passed.
    monkeypatch.setattr(clock, "now", lambda: wall() - 3600)
    (now,) = client.get("/api/timers").json()
    assert now["passed"] == 0
    assert now["ready_in"] == pytest.approx(begun["ready_in"], abs=3)


def test_progress_counts_ticked_steps(client, build):
    _, made, piece = build
    keys = list(steps_of(client, piece))
    for key in keys[:7]:
        assert mark(client, piece, key, done=True).status_code == 200
    assert client.get(f"/api/builds/{made}").json()["pieces"][0]["progress"] == pytest.approx(7 / len(keys))
    assert mark(client, piece, "levitate", done=True).status_code == 404


def test_a_build_goes_out_as_a_file_and_comes_back_the_same(client, build):
    _, made, piece = build
    text = client.get(f"/api/builds/{made}/build.json").json()
    back = post(client, "/api/builds/from-file", text)
    again = client.get(f"/api/builds/{back['id']}/build.json").json()
    assert again == text
    outlines = [
        client.get(f"/api/pieces/{p}/pattern").json()["panels"][0]["edges"] for p in (piece, back["pieces"][0]["id"])
    ]
    assert outlines[0] == outlines[1]


@pytest.mark.parametrize(
    "path",
    ["wearers/1/measurements.csv", "builds/1/pieces.csv", "builds/1/log.csv", "pieces/1/steps.csv", "pieces/1/rig.csv"],
)
def test_lists_leave_as_csv(client, build, path):
    answer = client.get(f"/api/{path}")
    assert answer.status_code == 200
    assert answer.headers["content-type"].startswith("text/csv")
    assert answer.text.count(",") > 0


def test_files_are_named_after_the_piece(client, build):
    _, _, piece = build
    client.patch(f"/api/pieces/{piece}", json={"name": 'Łuk "ö/\\'})
    for ending in ("pdf", "svg"):
        answer = client.get(f"/api/pieces/{piece}/pattern.{ending}")
        assert answer.status_code == 200
        assert "filename*=UTF-8''%C5%81uk" in answer.headers["content-disposition"]


def test_an_unmeasured_limb_says_so_everywhere(client, build):
    _, made, _ = build
    wearer = post(client, "/api/wearers", {"name": "New"})["id"]
    lone = post(client, "/api/builds", {"name": "Empty", "wearer_id": wearer})["id"]
    piece = post(client, f"/api/builds/{lone}/pieces", {"design": {"template": "greave"}})
    assert piece["progress"] is None
    assert "measured" in piece["trouble"]
    for part in ("pattern", "cast", "wrap", "pages", "steps", "rig", "pattern.pdf", "pattern.svg", "pattern.json"):
        answer = client.get(f"/api/pieces/{piece['id']}/{part}")
        assert answer.status_code == 422
        assert "measured" in answer.json()["detail"]
    assert made != lone


def test_what_a_scrap_gave_counts_in_every_verdict_and_goes_with_the_build(client, build):
    _, number, piece = build
    before = client.get(f"/api/pieces/{piece}/pattern").json()
    assert not before["allowance"]["measured"]
    design = client.get(f"/api/builds/{number}").json()["pieces"][0]["design"]
    row = {"kind": design["foam_kind"], "thickness": design["foam"]}
    row |= {"cold": 0.1, "stretch": 0.2, "stretch_limit": 0.3, "squeeze": 0.1, "squeeze_limit": 0.2}
    assert client.put("/api/foam-gives", json={"rows": [row, row]}).status_code == 422
    assert client.put("/api/foam-gives", json={"rows": [row | {"stretch": 0.05}]}).status_code == 422
    assert client.put("/api/foam-gives", json={"rows": [row]}).status_code == 200
    after = client.get(f"/api/pieces/{piece}/pattern").json()
    assert after["allowance"]["measured"]
    assert after["panels"][0]["verdict"]["state"] == "split"
    file = client.get(f"/api/builds/{number}/build.json").json()
    assert file["foam_gives"][0]["stretch_limit"] == 0.3
    client.post("/api/undo")
    assert client.get("/api/foam-gives").json() == {"rows": []}
    assert client.get(f"/api/pieces/{piece}/pattern").json()["panels"][0]["verdict"] == before["panels"][0]["verdict"]


def test_how_darts_are_cut_is_kept_with_the_build(client, build):
    wearer, number, _ = build
    assert client.get(f"/api/builds/{number}").json()["dart_edges"] == "by fold"
    body = {"name": "B", "wearer_id": wearer, "dart_edges": "bevelled"}
    assert client.put(f"/api/builds/{number}", json=body).json()["dart_edges"] == "bevelled"
    again = post(client, "/api/builds/from-file", client.get(f"/api/builds/{number}/build.json").json())
    assert again["dart_edges"] == "bevelled"
    assert client.put(f"/api/builds/{number}", json=body | {"dart_edges": "round"}).status_code == 422


def test_a_drawing_leaves_as_card_and_dxf_and_in_halves(client, build):
    _, _, piece = build
    for path, start in (("card.pdf", b"%PDF"), ("pattern.dxf", b"  0"), ("pattern.svg?fold=true", b"<?xml")):
        answer = client.get(f"/api/pieces/{piece}/{path}")
        assert answer.status_code == 200
        assert answer.content.startswith(start)
    assert client.get(f"/api/pieces/{piece}/pages", params={"fold": True}).json()["folds"]


def test_pieces_of_one_build_keep_names_of_their_own(client, build):
    _, number, piece = build
    design = {"template": "bracer", "closure": "lacing"}
    names = [post(client, f"/api/builds/{number}/pieces", {"design": design})["name"] for _ in range(2)]
    assert names == ["Bracer 2", "Bracer 3"]
    assert post(client, f"/api/builds/{number}/pieces", {"design": design, "name": "Left arm"})["name"] == "Left arm"
    refused = client.patch(f"/api/pieces/{piece}", json={"name": "Left arm"})
    assert refused.status_code == 422
    assert "Left arm" in refused.json()["detail"]
    assert client.patch(f"/api/pieces/{piece}", json={"name": "Bracer"}).status_code == 200
    # So the build file can be read again.
    text = client.get(f"/api/builds/{number}/build.json").text
    assert [p.title for p in read_build(text).pieces] == ["Bracer", "Bracer 2", "Bracer 3", "Left arm"]
