"""Nothing that is sent in hurts: sizes, hosts, questions about files, and work that is stopped or left."""

import os
import subprocess
import sys
import threading
import time

import psutil
import pytest

from tests.api.conftest import READINGS, ended, post
from tests.depth import long
from tests.formats.habits import FRONT, SIDE, svg
from vellumcut.api.app import create_app
from vellumcut.core.errors import CraftError
from vellumcut.formats import workers
from vellumcut.service.body import traces
from vellumcut.service.jobs import start_job
from vellumcut.store.copies import KEPT, copy_database, list_copies
from vellumcut.store.database import DATABASE

VENTS = svg(f'<g id="Cut"><path d="{FRONT}"/><path d="{SIDE}"/></g><g id="Vents"><circle cx="50" cy="50" r="8"/></g>')


def test_a_layer_that_says_nothing_is_asked_after_and_what_is_left_out_is_listed(client, build):
    _, made, _ = build
    to = f"/api/builds/{made}/pattern-files"
    asked = client.post(to, params={"name": "Front.svg"}, content=VENTS)
    assert asked.status_code == 422
    assert [f["field"] for f in asked.json()["fields"]] == ["layers.Vents"]
    assert client.get(f"/api/builds/{made}").json()["pieces"][-1]["name"] != "Front"
    for said, holes, left in (("holes", 1, []), ("marks", 0, []), ("out", 0, ["1 line in “Vents”"])):
        answer = client.post(to, params={"name": "Front.svg", "layers": f"Vents={said}"}, content=VENTS)
        assert answer.status_code == 201, answer.text
        panels = answer.json()["design"]["flat"]["panels"]
        assert sum(len(p["holes"]) for p in panels) == holes
        assert answer.json()["left"] == left
    wrong = client.post(to, params={"name": "Front.svg", "layers": "Vents=gone"}, content=VENTS)
    assert "holes, marks, folds or out" in wrong.json()["detail"] or "panels, holes" in wrong.json()["detail"]


@pytest.mark.parametrize(
    ("route", "largest"),
    [
        ("/api/builds/1/traces?name=a.jpg", 40),
        ("/api/builds/1/pattern-files?name=a.svg", 40),
        pytest.param("/api/pattern-pages", 40, marks=long),
        pytest.param("/api/motifs?name=a.svg", 40, marks=long),
        ("/api/pieces/1/photographs", 20),
        ("/api/builds/from-file", 5),
        ("/api/wearers", 5),
    ],
)
def test_a_route_takes_as_much_as_its_reader_and_no_more(client, build, route, largest):
    under = client.post(route, content=b"no such file" + b" " * (largest * 1_000_000 - 50))
    assert under.status_code != 413, under.text
    over = client.post(route, content=b" " * (largest * 1_000_000 + 5))
    assert over.status_code == 413
    assert f"{largest} MB" in over.json()["detail"]


@pytest.mark.parametrize(
    ("headers", "status"),
    [
        ({"host": "127.0.0.1:8801@evil.example"}, 403),
        ({"host": "127.0.0.1.evil.example:80"}, 403),
        ({"host": "localhost:"}, 403),
        ({"origin": "https://127.0.0.1:8765"}, 403),
        ({"origin": "null"}, 403),
        ({"sec-fetch-site": "cross-site"}, 403),
        ({"sec-fetch-site": "same-site"}, 403),
        ({"sec-fetch-site": "same-origin", "origin": "http://127.0.0.1:8765"}, 200),
        ({"sec-fetch-site": "none"}, 200),
        ({}, 200),
    ],
)
def test_what_comes_from_elsewhere_is_refused_by_every_sign_of_it(client, build, headers, status):
    assert client.post("/api/undo", headers=headers).status_code == status
    if "origin" not in headers:
        assert client.get("/api/builds", headers=headers).status_code == status


def test_a_flat_piece_on_a_body_that_was_not_measured_says_so_everywhere(client):
    wearer = post(client, "/api/wearers", {"name": "Ode"})["id"]
    post(client, f"/api/wearers/{wearer}/measurement-sets", {**READINGS, "torso": None})
    made = post(client, "/api/builds", {"name": "Front only", "wearer_id": wearer})["id"]
    to = f"/api/builds/{made}/pattern-files"
    answer = client.post(to, params={"name": "a.svg", "layers": "Vents=holes"}, content=VENTS)
    piece = f"/api/pieces/{answer.json()['id']}"
    asks = [
        client.get(f"{piece}/rig"),
        client.get(f"{piece}/rig.csv"),
        client.get(f"{piece}/rig.pdf"),
        client.put(f"{piece}/anchors", json={"name": "x", "side": "left", "at": [0, 1, 2]}),
        client.post(f"{piece}/trims", json={"edge": "hem", "mm": 5}),
    ]
    assert {a.status_code for a in asks} == {422}
    assert {a.json()["detail"] for a in asks} == {"The torso has not been measured yet"}
    assert client.get(f"/api/builds/{made}/figure").status_code == 200


def test_the_copy_just_made_stays_whatever_the_clock_says(store, monkeypatch):
    made = []
    for k in range(KEPT):
        copied = copy_database(store.folder / DATABASE, store.folder, "daily")
        os.utime(copied, (1e9 + k, 1e9 + k))
        made.append(copied.name)
    monkeypatch.setattr("vellumcut.store.copies.time.strftime", lambda how: "2001-01-01 000000")
    newest = copy_database(store.folder / DATABASE, store.folder, "daily")
    kept = {c.name for c in list_copies(store.folder)}
    assert kept == {*made[1:], newest.name}


SILENT = """
import sys, time
from pathlib import Path
Path(sys.argv[1]).write_text(str(__import__("os").getpid()))
time.sleep(600)
"""


def test_a_worker_that_says_nothing_is_stopped_with_its_job(tmp_path, monkeypatch):
    (tmp_path / "silent_worker.py").write_text(SILENT)
    monkeypatch.setenv("PYTHONPATH", str(tmp_path))
    told = tmp_path / "pid"

    def work(job) -> None:
        with workers.worked("silent_worker", workers.Bounds(60, 60, 1 << 32), told, "", "file", job.report):
            pass

    job = start_job("Silent", work)
    until(lambda: told.exists() and told.read_text())
    worker = psutil.Process(int(told.read_text()))
    job.cancel()
    until(lambda: job.state == "cancelled")
    until(lambda: not worker.is_running() or worker.status() == psutil.STATUS_ZOMBIE)


def test_a_worker_that_never_ends_is_ended_by_the_clock(tmp_path, monkeypatch):
    (tmp_path / "silent_worker.py").write_text(SILENT)
    monkeypatch.setenv("PYTHONPATH", str(tmp_path))
    with (
        pytest.raises(CraftError, match="not read within 1 s"),
        workers.worked("silent_worker", workers.Bounds(60, 1, 1 << 32), tmp_path / "pid", "", "file"),
    ):
        pass


def until(done) -> None:
    """Waits, however slow the machine."""
    last = time.monotonic() + 120
    while not done():
        assert time.monotonic() < last, "it does not come"
        time.sleep(0.05)


def test_the_camera_stops_while_it_looks(client, build, monkeypatch):
    """Stopped in the middle of the picture: nothing is traced, nothing is kept."""
    begun = threading.Event()
    scene = traces.demo_scene

    def slow(seed):
        begun.set()
        return scene(seed)

    monkeypatch.setattr(traces, "demo_scene", slow)
    monkeypatch.setattr(traces, "trace_file", lambda *a, **k: pytest.fail("it went on"))
    _, made, _ = build
    job = post(client, f"/api/builds/{made}/camera", {"seed": 1}, 202)
    assert begun.wait(120)
    client.delete(f"/api/jobs/{job['id']}")
    assert ended(client, job)["state"] == "cancelled"
    assert client.get(f"/api/builds/{made}/traces").json() == []


def test_folders_of_a_killed_program_are_swept_and_those_of_a_living_one_stay(tmp_path, monkeypatch):
    monkeypatch.setattr("tempfile.tempdir", str(tmp_path))
    gone = subprocess.Popen([sys.executable, "-c", "pass"])
    gone.wait()
    left, own = tmp_path / f"vellumcut-work-{gone.pid}-abc", tmp_path / f"vellumcut-work-{os.getpid()}-abc"
    for folder in (left, own):
        folder.mkdir()
        (folder / "mesh.npz").write_bytes(b"x")
    workers.clear_left()
    assert not left.exists()
    assert own.exists()


def test_every_route_that_takes_a_file_says_how_large(store):
    """A body without a bound of its own is held to what a page sends."""
    schema = create_app(store).openapi()
    takers = [
        way
        for path in schema["paths"].values()
        for way in path.values()
        if "application/octet-stream" in way.get("requestBody", {}).get("content", {})
    ]
    assert len(takers) >= 9
    assert all(way["x-largest"] >= 5_000_000 for way in takers)


@pytest.mark.parametrize(
    ("written", "shown"),
    [
        ("Ode\x00 of\x1b[2J Harrow", "Ode of[2J Harrow"),
        ("first\nsecond\t third", "first second third"),
        ("\u202eelbisrever", "elbisrever"),
        ("می\u200cخواهم", "می\u200cخواهم"),
        ("\u200b \u2028", None),
    ],
)
def test_a_name_is_one_line_of_what_can_be_seen(client, written, shown):
    answer = client.post("/api/wearers", json={"name": written})
    assert answer.status_code == (422 if shown is None else 201)
    if shown is not None:
        assert answer.json()["name"] == shown
