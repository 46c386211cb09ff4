"""The bench over HTTP: what is refused, asked, timed and carried over."""

import io
import json
import zipfile

import pytest
from fastapi.testclient import TestClient
from PIL import Image

from tests.api.conftest import mark, post, steps_of
from tests.api.test_keeping import packed
from tests.core.making.test_steps import check_measures
from tests.depth import long
from vellumcut.api.app import create_app
from vellumcut.core.make.order import step_keys
from vellumcut.demo.scenario import load_demo
from vellumcut.service import clock
from vellumcut.service.making import plans
from vellumcut.store.database import Store
from vellumcut.store.models import StepTick

BINARY = {"content-type": "application/octet-stream"}


def redesign(client, piece, **change):
    answer = client.patch(f"/api/pieces/{piece}", json={"design": {"template": "bracer", **change}})
    assert answer.status_code == 200, answer.text


def through(client, piece: int, last: str) -> None:
    """Tick everything up to a step, in its order."""
    for key, step in steps_of(client, piece).items():
        if step["state"] != "done":
            answer = mark(client, piece, key, done=True)
            assert answer.status_code == 200, answer.text
        if key == last:
            return


def test_hard_rules_and_open_questions_refuse_a_tick(client, build):
    _, _, piece = build
    refused = mark(client, piece, "cut", done=True)
    assert refused.status_code == 422
    assert "“Trace and label” comes first." in refused.json()["detail"]
    open_question = client.put(f"/api/pieces/{piece}/steps", json={"key": "number", "done": True})
    assert open_question.json()["detail"] == "Answer first: Is the test square true?"
    assert mark(client, piece, "warm-flat", done=True).status_code == 200, "a soft rule refuses nothing"
    assert mark(client, piece, "number", done=True).status_code == 200
    assert steps_of(client, piece)["number"]["state"] == "done"


def test_a_no_opens_the_mend_and_holds_what_follows(client, build):
    _, _, piece = build
    assert mark(client, piece, "number", answer="no").status_code == 200
    now = steps_of(client, piece)
    assert now["number"]["state"] == "mend"
    assert "print again" in now["number"]["inspection"]["mend"]
    assert mark(client, piece, "cut-paper", done=True).status_code == 422
    mark(client, piece, "number", answer="mended")
    assert steps_of(client, piece)["number"]["state"] == "ready"
    mark(client, piece, "number", done=True)
    assert mark(client, piece, "cut-paper", done=True).status_code == 200


def test_the_reference_is_ticked_at_the_try_on_and_before_primer(client, build):
    _, _, piece = build
    redesign(client, piece, making={"checklist": [{"text": "ridge ends two fingers above the hem"}]})
    through(client, piece, "form:1")
    refused = mark(client, piece, "dry-fit", done=True)
    assert "ridge ends two fingers" in refused.json()["detail"]
    assert mark(client, piece, "dry-fit", part="c1").status_code == 200
    assert mark(client, piece, "dry-fit", done=True).status_code == 200
    assert steps_of(client, piece)["dust-primer"]["checks"] == ["ridge ends two fingers above the hem"]
    assert steps_of(client, piece)["dust-primer"]["checks_done"] == []


def test_coats_are_ticks_with_bells_of_their_own_that_outlive_a_restart(client, store, build, monkeypatch):
    _, _, piece = build
    through(client, piece, "dust-primer")
    now = clock.now()
    key = "coat-primer:rest.flexible primer"
    assert mark(client, piece, key, part="1").status_code == 200
    (bell,) = client.get("/api/timers").json()
    assert bell["label"].startswith("Coat 1 of 3: Brush-on flexible primer")
    assert bell["ready_in"] == pytest.approx(3600, abs=5)
    step = steps_of(client, piece)[key]
    assert (step["coats_done"], step["state"]) == (1, "waiting")
    monkeypatch.setattr(clock, "now", lambda: now - 7200)
    assert steps_of(client, piece)[key]["until"] == pytest.approx(3600, abs=5), "a clock set back ends no wait early"
    store.close()
    store.close = lambda: None
    again = Store(store.folder)
    with TestClient(create_app(again), base_url="http://127.0.0.1:8765") as back:
        monkeypatch.setattr(clock, "now", lambda: now + 3700)
        (bell,) = back.get("/api/timers").json()
        assert (bell["state"], bell["rings"]) == ("ready", True)
        back.post(f"/api/timers/{bell['id']}/heard")
        assert back.get("/api/timers").json() == []
        step = steps_of(back, piece)[key]
        assert (step["coats_done"], step["state"]) == (1, "ready")
        mark(back, piece, key, part="2")
        mark(back, piece, key, part="2")
        (bell,) = back.get("/api/timers").json()
        assert bell["label"].startswith("Coat 2 of 3"), "the same coat twice has one bell"
        mark(back, piece, key, part="3")
        assert steps_of(back, piece)[key]["state"] == "done", "the last coat is the step"
        assert steps_of(back, piece)["coat-colour:rest.acrylic"]["until"] == pytest.approx(4 * 3600, abs=200)
        mark(back, piece, key, part="3", part_done=False)
        assert steps_of(back, piece)[key]["state"] == "waiting"
    again.close()


def test_undo_takes_a_tick_with_its_bell_and_redo_brings_both(client, build):
    _, _, piece = build
    through(client, piece, "dust-primer")
    key = "coat-primer:rest.flexible primer"
    for part in ("1", "2"):
        mark(client, piece, key, part=part)
    assert [t["label"][:6] for t in client.get("/api/timers").json()] == ["Coat 2"]
    client.post("/api/undo")
    assert steps_of(client, piece)[key]["coats_done"] == 1
    assert [t["label"][:6] for t in client.get("/api/timers").json()] == ["Coat 1"], "the first coat dries on"
    client.post("/api/undo")
    assert client.get("/api/timers").json() == []
    client.post("/api/redo")
    (bell,) = client.get("/api/timers").json()
    assert bell["ready_in"] == pytest.approx(3600, abs=10), "counted from when the coat went on"


def test_timed_steps_teach_how_fast_this_maker_is(client, build):
    _, made, piece = build
    with pytest.MonkeyPatch.context() as patch:
        start = clock.now()
        mark(client, piece, "number", begin=True)
        patch.setattr(clock, "now", lambda: start + 240)
        mark(client, piece, "number", done=True)
    assert steps_of(client, piece)["number"]["took"] == pytest.approx(4, abs=0.2)
    others = [post(client, f"/api/builds/{made}/pieces", {"design": {"template": "bracer"}})["id"] for _ in range(4)]
    for other in others:
        estimate = steps_of(client, other)["number"]["estimate"]
        mark(client, other, "number", done=True, took=estimate * 0.5)
    fresh = post(client, f"/api/builds/{made}/pieces", {"design": {"template": "bracer"}})["id"]
    step = steps_of(client, fresh)["number"]
    assert step["minutes"] == pytest.approx(0.5 * step["estimate"])
    bench = client.get(f"/api/pieces/{fresh}/steps").json()
    assert bench["learned"][0]["words"] == "Your printing and joining pages, a part takes 50 % of the estimate."
    (pace,) = (p for p in client.get("/api/paces").json() if p["key"] == "print")
    assert (pace["timed"], pace["learned"]) == (5, 0.5)
    typed = client.put("/api/paces", json={"rows": {"print": 10}}).json()
    assert next(p for p in typed if p["key"] == "print")["own"] == 10
    told = steps_of(client, fresh)["number"]
    assert told["minutes"] - told["setup"] == pytest.approx(20)


def test_soft_rules_set_aside_and_own_orders_are_listed(client, build):
    _, _, piece = build
    redesign(
        client, piece, making={"set_aside": ["flat before tracing"], "own_order": [{"first": "close", "then": "cut"}]}
    )
    bench = client.get(f"/api/pieces/{piece}/steps").json()
    assert [r["key"] for r in bench["set_aside"]] == ["flat before tracing"]
    assert bench["trouble"][0].startswith("“Fit the closure” cannot come before “Cut out”")
    assert mark(client, piece, "number", done=True).status_code == 200
    unknown = client.patch(
        f"/api/pieces/{piece}", json={"design": {"template": "bracer", "making": {"schools": {"glue": "spit"}}}}
    )
    assert unknown.status_code == 422


def test_a_costume_has_steps_of_its_own(client, build):
    _, made, piece = build
    greave = post(client, f"/api/builds/{made}/pieces", {"design": {"template": "greave"}})["id"]
    costume = client.get(f"/api/builds/{made}/bench").json()
    assert [p["piece_id"] for p in costume["pieces"]] == [piece, greave]
    assert [s["key"] for s in costume["own"]] == ["trousers", "clear-away", "assemble", "last-weathering", "wear"]
    print_both = next(b for b in costume["batches"] if b["title"] == "Print and number")
    assert {i["piece"] for i in print_both["items"]} == {piece, greave}
    held = {(b["piece"], b["key"]) for b in costume["bound"]}
    assert {(greave, "dry-fit"), (0, "clear-away"), (0, "assemble")} <= held
    said = client.put(f"/api/builds/{made}/bench", json={"key": "trousers", "done": True}).json()
    assert said["own"][0]["state"] == "done"
    assert (greave, "dry-fit") not in {(b["piece"], b["key"]) for b in said["bound"]}
    assert client.post("/api/undo").status_code == 200
    assert client.get(f"/api/builds/{made}/bench").json()["own"][0]["state"] == "ready"
    assert client.put(f"/api/builds/{made}/bench", json={"key": "fly", "done": True}).status_code == 404


@long
def test_the_demo_costume_says_nothing_of_what_its_pieces_have_not(store):
    costume = plans.costume_bench(store, load_demo(store))
    assert len(costume.pieces) == 9
    assert not costume.unmade
    for bench in costume.pieces:
        made = bench.piece.steps
        check_measures(bench.job, {k: made[k] for k in step_keys(bench.piece.facts)})


def test_a_build_has_schools_and_a_piece_its_own(client, build):
    wearer, made, piece = build
    body = {"name": "Moth-knight", "wearer_id": wearer, "schools": {"seams": "covered", "primer": "sprayed"}}
    assert client.put(f"/api/builds/{made}", json=body).json()["schools"]["seams"] == "covered"
    assert (
        client.put(f"/api/builds/{made}", json={"name": "Moth", "wearer_id": wearer}).json()["schools"]["seams"]
        == "covered"
    )
    redesign(client, piece, back="closed")
    assert {"cover", "coat-primer:rest.rubbery primer"} <= set(steps_of(client, piece))
    redesign(client, piece, back="closed", making={"schools": {"seams": "design"}})
    assert "line-design" in steps_of(client, piece)
    assert client.get(f"/api/builds/{made}/build.json").json()["schools"]["seams"] == "covered"


def test_without_a_mask_it_is_hot_glue(client, build):
    _, _, piece = build
    redesign(client, piece, back="closed")
    assert "contact cement" in steps_of(client, piece)["seam:closing"]["how"]
    client.put("/api/owned", json={"protection": ["gloves"], "kit": ["hot-glue gun"], "dry_days": False})
    steps = steps_of(client, piece)
    assert "Hot glue in thin lines" in steps["seam:closing"]["how"]
    assert (
        "You have no vapour mask" in steps["seam:closing"]["reason"]
        or "none in the workshop" in steps["seam:closing"]["reason"]
    )
    assert "clay" in steps
    assert steps["seam:closing"]["timer"] == ""


def test_photographs_are_small_and_tell_no_place(client, build):
    _, _, piece = build
    picture = Image.effect_noise((3000, 2000), 60).convert("RGB")
    exif = Image.Exif()
    exif[0x0112] = 6
    exif[0x8825] = {1: "N", 2: (52.0, 30.0, 0.0)}
    out = io.BytesIO()
    picture.save(out, "JPEG", exif=exif)
    assert b"Exif" in out.getvalue()
    path = f"/api/pieces/{piece}/photographs"
    made = client.post(
        path, params={"step": "cut", "words": "how it looked"}, content=out.getvalue(), headers=BINARY
    ).json()
    kept = client.get(f"/api/photographs/{made['id']}/file").content
    assert b"Exif" not in kept
    shown = Image.open(io.BytesIO(kept))
    assert max(shown.size) == 1600
    assert shown.size[1] > shown.size[0], "it is turned as it was held"
    reference = client.post(
        path, params={"words": "second outfit, left"}, content=out.getvalue(), headers=BINARY
    ).json()
    assert (
        client.put(f"/api/photographs/{reference['id']}", json={"words": "first outfit"}).json()["words"]
        == "first outfit"
    )
    told = client.get(f"/api/pieces/{piece}/steps").json()["photographs"]
    assert [(p["step"], p["words"]) for p in told] == [("cut", "how it looked"), ("", "first outfit")]
    assert client.post(path, content=b"not a picture", headers=BINARY).status_code == 422
    client.delete(f"/api/photographs/{made['id']}")
    assert len(client.get(f"/api/pieces/{piece}/steps").json()["photographs"]) == 1


OLD = {"trace": 5.0, "cut": 6.0, "glue": 7.0, "close": 8.0, "smooth": 9.0}
NEW_COLUMNS = {"answer", "begun_at", "took", "note", "figures", "schools"}


def test_builds_and_bundles_of_before_keep_their_ticks(client, store, build, tmp_path):
    _, made, piece = build
    redesign(client, piece, back="closed")
    with store.write() as session:
        session.add_all(StepTick(piece_id=piece, step=k, done_at=at) for k, at in OLD.items())
    now = {k: s["done_at"] for k, s in steps_of(client, piece).items() if s["done_at"]}
    assert now == {
        "number": 5.0, "cut-paper": 5.0, "warm-flat": 5.0, "trace": 5.0, "cut": 6.0, "keep-pattern": 6.0,
        "dust-glue": 7.0, "seam:closing": 8.0, "smooth": 9.0, "fill": 9.0, "reseal": 9.0,
    }  # fmt: skip
    mark(client, piece, "seam:closing", note="a drop too much at the wrist")
    assert steps_of(client, piece)["seam:closing"]["done_at"] == 8.0, "a note undoes nothing"
    client.post("/api/undo")
    mark(client, piece, "fill", done=False)
    assert steps_of(client, piece)["fill"]["done_at"] is None, "what was carried over can be taken back"
    client.post("/api/undo")
    assert {k: s["done_at"] for k, s in steps_of(client, piece).items() if s["done_at"]} == now
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(packed(client, made))) as whole, zipfile.ZipFile(out, "w") as old:
        for name in whole.namelist():
            content = whole.read(name)
            if name == "history.json":
                rows = json.loads(content)
                for table in ("costume_tick", "bench_picture"):
                    rows.pop(table)
                rows["step_tick"] = [{k: v for k, v in r.items() if k not in NEW_COLUMNS} for r in rows["step_tick"]]
                rows["build"] = [{k: v for k, v in r.items() if k not in NEW_COLUMNS} for r in rows["build"]]
                for r in rows["piece"]:
                    r["design"].pop("making")
                content = json.dumps(rows).encode()
            if name == "build.json":
                told = json.loads(content)
                told.pop("schools")
                for p in told["pieces"]:
                    p.pop("making")
                content = json.dumps(told).encode()
            old.writestr(name, content)
    answer = client.post("/api/builds/from-bundle", content=out.getvalue(), headers=BINARY)
    assert answer.status_code == 201, answer.text
    back = answer.json()["pieces"][0]["id"]
    assert {k: s["done_at"] for k, s in steps_of(client, back).items() if s["done_at"]} == now


def test_what_changed_after_it_was_done_is_pointed_out(client, build):
    _, _, piece = build
    redesign(client, piece, back="closed")
    through(client, piece, "seam:closing")
    assert client.get(f"/api/pieces/{piece}/steps").json()["wrong"] == []
    redesign(client, piece, back="closed", foam=3)
    redesign(client, piece, back="closed", lower={"inset": 40})
    wrong = client.get(f"/api/pieces/{piece}/steps").json()["wrong"]
    assert any(
        w.startswith("“Glue the closing seam” was done; its edge is") and w.endswith("shorter now.") for w in wrong
    )
    assert steps_of(client, piece)["seam:closing"]["state"] == "done"
