"""Files of strangers, odd requests and a machine that fails: a sentence every time, nothing taken out, nothing
stuck."""

import io
import json
import random
import struct
import threading
import time
import zipfile

import numpy as np
import pytest
from fastapi.testclient import TestClient
from PIL import Image
from typer.testing import CliRunner

from tests.api.conftest import READINGS, post
from tests.api.test_ink_and_scans import packed
from tests.api.test_keeping import BINARY
from tests.damage import damaged
from tests.depth import DEEP, long
from tests.pictures import picture
from vellumcut.api.app import create_app
from vellumcut.cli import app as commands
from vellumcut.core.errors import CraftError
from vellumcut.formats.body.mesh_files import read_mesh_file, write_mesh
from vellumcut.service import jobs
from vellumcut.service.pattern import patterns
from vellumcut.standins.made_up_body import BodyShape, made_up_body
from vellumcut.store import database
from vellumcut.store.database import Store, StoreError
from vellumcut.store.files import ARRIVING, Arriving

SCAN = {"segment": "forearm", "side": "left", "low": [0, 0, 0], "high": [0, 0, 240], "scan": "me.ply"}


def build_file(scan: str) -> dict:
    return {
        "name": "Stranger",
        "wearer": {"name": "Nobody", "measurements": READINGS | {"scans": [SCAN | {"scan": scan}]}},
        "pieces": [{"template": "bracer"}],
    }


@pytest.mark.parametrize(
    "path", ["/etc/passwd", "../secret.ply", "a/../../secret.ply", "C:\\x.obj", "..\\x.ply", "secret.txt", "/x/me.ply"]
)
def test_no_local_file_leaves_by_a_strangers_build(client, build, tmp_path, path):
    """In the app and on the command line: only meshes beside the build are taken along."""
    (tmp_path / "secret.ply").write_text("secret")
    refused = client.post("/api/builds/from-file", json=build_file(path))
    assert refused.status_code == 422
    assert "mesh file beside the build" in refused.json()["detail"]
    folder = tmp_path / "theirs"
    folder.mkdir()
    (folder / "build.json").write_text(json.dumps(build_file(path)))
    done = CliRunner().invoke(commands, ["bundle", str(folder / "build.json"), "--out", str(tmp_path / "out.zip")])
    assert done.exit_code == 2
    assert not (tmp_path / "out.zip").exists()


def test_what_is_called_a_mesh_is_read_before_it_is_taken_along(tmp_path):
    folder = tmp_path / "theirs"
    folder.mkdir()
    (tmp_path / "secret").write_text("root:x:0:0")
    (folder / "linked.ply").symlink_to(tmp_path / "secret")
    (folder / "text.ply").write_text("root:x:0:0")
    for name in ("linked.ply", "text.ply"):
        (folder / "build.json").write_text(json.dumps(build_file(name)))
        done = CliRunner().invoke(commands, ["bundle", str(folder / "build.json"), "--out", str(tmp_path / "out.zip")])
        assert done.exit_code == 2, done.output
        assert not (tmp_path / "out.zip").exists()


def test_damaged_bundles_are_refused_in_words_and_leave_nothing(client, build, store):
    whole, luck = packed(client, build[1]), random.Random(4)
    had = sorted(p.name for p in (store.folder / "scans").iterdir())
    for _ in range(60):
        answer = client.post("/api/builds/from-bundle", content=damaged(whole, luck), headers=BINARY)
        assert answer.status_code in (201, 422), answer.text
    assert sorted(p.name for p in (store.folder / "scans").iterdir()) == had
    for content, words in (
        (b"PK", "not a bundle"),
        (_zip({"build.json": b'{"name": ' + b"9" * 5000 + b"}"}), "digits"),
    ):
        answer = client.post("/api/builds/from-bundle", content=content, headers=BINARY)
        assert (answer.status_code, words in answer.json()["detail"]) == (422, True), answer.text


def _zip(files: dict[str, bytes]) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as zipped:
        for name, content in files.items():
            zipped.writestr(name, content)
    return out.getvalue()


HEAD = "taken on,part,side,measure,at mm,read mm,tool,strip mm,body mm,depth / width\n"


@pytest.mark.parametrize(
    ("table", "words"),
    [
        (HEAD + "2026-01-01,forearm,left,wrist,0,170,tape,0,170,wide\n", "depth over width"),
        (HEAD + "2026-01-01,forearm,left,wrist,0,170,caliper,0,170,\n", "measures with"),
        (HEAD + f'2026-01-01,forearm,left,"{"x" * 200_000}",0,170,tape,0,170,\n', "cannot be read after line"),
    ],
)
def test_a_table_that_cannot_be_read_is_refused_with_its_line(client, build, table, words):
    answer = client.post(f"/api/wearers/{build[0]}/measurements/from-csv", json={"text": table})
    assert answer.status_code == 422, answer.text
    assert words in answer.json()["detail"]


@pytest.mark.parametrize("ends", ["\n", "\r", "\r\n"])
@pytest.mark.parametrize("between", [",", ";", "\t"])
def test_tables_of_every_spreadsheet_are_read(client, build, ends, between):
    rows = [("2026-01-01", "forearm", "left", "wrist", "0", "170,5", "tape", "0", "", "0,76")]
    rows += [
        ("2026-01-01", "forearm", "left", n, at, g, "", "", "", "")
        for n, at, g in (("belly", "138", "252"), ("elbow", "240", "262"))
    ]
    cells = [HEAD.strip().split(","), *rows]
    text = ends.join(between.join(f'"{c}"' for c in row) for row in cells)
    (kept,) = post(client, f"/api/wearers/{build[0]}/measurements/from-csv", {"text": text})
    wrist = kept["readings"]["limbs"][0]["stations"]["wrist"]
    assert (wrist["girth"], wrist["ratio"]) == (170.5, 0.76)


@pytest.mark.parametrize(
    "path", ["/%00", "/" + "x" * 5000, "/assets/" + "y" * 300, "/%2e%2e/%2e%2e/etc/passwd", "/%ff"]
)
def test_odd_addresses_are_answered_with_the_safety_headers(client, path):
    answer = client.get(path)
    assert answer.status_code in (200, 404)
    assert "default-src 'self'" in answer.headers["content-security-policy"]
    assert b"root:" not in answer.content


def test_a_mistake_inside_is_told_with_the_safety_headers(client, build, monkeypatch):
    def broken(*_: object) -> None:
        raise RuntimeError("on purpose")

    client.patch(f"/api/pieces/{build[2]}", json={"design": {"template": "bracer", "ease": 4.32}})
    monkeypatch.setattr(patterns, "pattern_piece", broken)
    answer = client.get(f"/api/pieces/{build[2]}/pattern")
    assert answer.status_code == 500
    assert "nothing was changed" in answer.json()["detail"]
    assert "content-security-policy" in answer.headers


@long
def test_ends_of_a_body_that_lies_on_its_side_are_refused_in_words(client, build, tmp_path):
    points, faces = made_up_body(BodyShape(), 24.0)
    for k, turned in enumerate((points[:, [2, 0, 1]], points[:, [1, 2, 0]], -points)):
        content = write_mesh(turned, faces, "ply")
        scan = client.post(
            f"/api/wearers/{build[0]}/scans", params={"name": f"{k}.ply"}, content=content, headers=BINARY
        ).json()["id"]
        stances = (("x", "y"), ("z", "-y"), ("-y", "x"), ("-z", "y"))
        for up, front in stances if DEEP else stances[k : k + 1]:
            client.put(f"/api/scans/{scan}/stance", json={"unit": "mm", "up": up, "front": front})
            for segment in ("torso", "upper arm", "forearm", "thigh", "lower leg"):
                answer = client.post(f"/api/scans/{scan}/ends", json={"segment": segment, "side": "left"})
                assert answer.status_code in (200, 422), answer.text


@pytest.mark.parametrize("size", [1e30, 1e-6])
def test_a_scan_of_no_size_that_a_body_has_is_refused(client, build, size):
    points, faces = made_up_body(BodyShape(), 30.0)
    content = write_mesh(points / np.ptp(points[:, 2]) * size, faces, "obj")
    answer = client.post(f"/api/wearers/{build[0]}/scans", params={"name": "m.obj"}, content=content, headers=BINARY)
    assert answer.status_code == 422
    assert "in no unit" in answer.json()["detail"]


def glb(told: dict) -> bytes:
    text = json.dumps(told).encode()
    text += b" " * (-len(text) % 4)
    chunk = struct.pack("<I4s", len(text), b"JSON") + text
    return struct.pack("<4sII", b"glTF", 2, 12 + len(chunk)) + chunk


def nested(depth: int) -> dict:
    """Each node shows the next twice: two to the power of ``depth`` parts."""
    nodes = [{"children": [k + 1, k + 1]} for k in range(depth)] + [{"mesh": 0}]
    return {
        "accessors": [{"count": 3000}],
        "meshes": [{"primitives": [{"indices": 0}]}],
        "nodes": nodes,
        "scenes": [{"nodes": [0]}],
    }


@pytest.mark.parametrize(
    ("content", "words"),
    [
        (glb(nested(40)), "at most"),
        (glb(nested(2) | {"nodes": [{"children": [1]}, {"children": [0]}]}), "inside itself"),
        (glb({"nodes": "x"}), "is not a GLB"),
    ],
)
def test_meshes_that_grow_without_end_are_refused_before_they_grow(tmp_path, content, words):
    """One that is let grow runs into the worker's limit of time or memory, and that says other words."""
    path = tmp_path / "x.glb"
    path.write_bytes(content)
    with pytest.raises(CraftError, match=words):
        read_mesh_file(path)


def test_a_device_is_no_build_file(tmp_path):
    done = CliRunner().invoke(commands, ["check", "/dev/zero"])
    assert done.exit_code == 2
    assert "is not a file" in done.output


@pytest.mark.parametrize("port", ["0", "70000"])
def test_a_port_that_cannot_be_is_refused_before_anything_is_promised(port):
    done = CliRunner().invoke(commands, ["serve", "--port", port])
    assert done.exit_code == 2
    assert "Vellumcut is at" not in done.output


def test_a_very_wide_picture_leaves_the_one_that_lies_there(client, build, store):
    path = f"/api/pieces/{build[2]}/picture"
    first = client.post(path, params={"name": "a.png"}, content=picture(), headers=BINARY).json()
    wide = io.BytesIO()
    Image.new("RGB", (9000, 3)).save(wide, "PNG")
    answer = client.post(path, params={"name": "b.png"}, content=wide.getvalue(), headers=BINARY)
    assert (answer.status_code, "crop it" in answer.json()["detail"]) == (422, True)
    broken = client.post(path, params={"name": "c.png"}, content=picture()[:110] + b"\xff" * 200, headers=BINARY)
    assert (broken.status_code, "is broken" in broken.json()["detail"]) == (422, True)
    assert client.get(path).json() == first
    next((store.folder / "pictures").iterdir()).unlink()
    gone = client.get(f"/api/pictures/{first['id']}/file")
    assert (gone.status_code, "gone from the data folder" in gone.json()["detail"]) == (404, True)


def test_a_full_disk_is_told_and_leaves_nothing_behind(client, build, store, monkeypatch):
    def full(*_: object) -> None:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(Arriving, "complete", full)
    for path, content in (
        (f"/api/wearers/{build[0]}/scans", b"ply\n" * 99),
        (f"/api/pieces/{build[2]}/picture", picture()),
    ):
        answer = client.post(path, params={"name": "m.ply"}, content=content, headers=BINARY)
        assert (answer.status_code, "disk is full" in answer.json()["detail"]) == (507, True), answer.text
    monkeypatch.undo()
    with store.read() as session:
        pages = session.connection().exec_driver_sql("PRAGMA page_count").scalar()
    limit = database.event.listens_for(store.engine, "connect")
    limit(lambda connection, _: connection.execute(f"PRAGMA max_page_count={pages}"))
    store.engine.dispose()
    answers = [client.put("/api/wearers/1", json={"name": f"P{k}", "note": "x" * 1900}) for k in range(60)]
    assert {a.status_code for a in answers} <= {200, 507}
    assert answers[-1].status_code == 507
    assert "nothing was changed" in answers[-1].json()["detail"]
    assert not [p for name in ("scans", "pictures") for p in (store.folder / name).iterdir()]


def test_a_database_that_is_taken_away_is_noticed_at_the_next_change(client, build, store):
    moved = store.path.rename(store.path.with_name("elsewhere"))
    answer = client.put("/api/wearers/1", json={"name": "Lost", "note": ""})
    assert (answer.status_code, "moved or deleted" in answer.json()["detail"]) == (507, True)
    moved.rename(store.path)
    assert client.put("/api/wearers/1", json={"name": "Found", "note": ""}).status_code == 200


def test_a_folder_that_is_taken_away_is_told_and_not_made_anew(client, build, store):
    wearer = build[0]
    scan = glb({})
    moved = store.folder.rename(store.folder.with_name("elsewhere"))
    asked = {
        client.post(f"/api/wearers/{wearer}/scans?name=a.glb", content=scan).status_code,
        client.post(f"/api/pieces/{build[2]}/picture?name=a.png", content=picture()).status_code,
        client.put(f"/api/wearers/{wearer}", json={"name": "Lost", "note": ""}).status_code,
        client.get("/api/backup").status_code,
    }
    assert asked == {507}
    assert client.get("/api/builds").status_code == 200
    assert not store.folder.exists()
    moved.rename(store.folder)
    assert client.put(f"/api/wearers/{wearer}", json={"name": "Found", "note": ""}).status_code == 200


def test_no_second_server_whatever_is_deleted_in_the_folder(tmp_path):
    store = Store(tmp_path / "data")
    for path in (tmp_path / "data").glob("*.lock"):
        path.unlink()
    with pytest.raises(StoreError, match="already uses"):
        Store(tmp_path / "data")
    store.close()
    Store(tmp_path / "data").close()


def test_what_a_crash_leaves_is_finished_or_swept_at_the_next_start(tmp_path):
    content = write_mesh(*made_up_body(BodyShape(), 30.0), "ply")

    def bring(opened: Store) -> str:
        with TestClient(create_app(opened), base_url="http://127.0.0.1:8765") as there:
            wearer = post(there, "/api/wearers", {"name": "Perrin"})["id"]
            sent = there.post(f"/api/wearers/{wearer}/scans", params={"name": "m.ply"}, content=content, headers=BINARY)
            assert sent.status_code == 201, sent.text
            return sent.json()["file"]

    store = Store(tmp_path / "data")
    kept, folder = bring(store), store.folder / "scans"
    store.close()
    (folder / kept).rename(folder / f"{ARRIVING}1x1-{kept}")
    (folder / f"{ARRIVING}1x2-{'0' * 24}.ply").write_bytes(b"half")
    (folder / f"{ARRIVING}1x3.ply").write_bytes(b"less")
    (store.folder / ".scratch-1").mkdir()
    again = Store(store.folder)
    assert [p.name for p in folder.iterdir()] == [kept]
    assert (folder / kept).read_bytes() == content
    assert not (again.folder / ".scratch-1").exists()
    # One that a crash of the machine has cut short is written over when it is brought in once more.
    (folder / kept).write_bytes(content[:500])
    assert bring(again) == kept
    assert (folder / kept).read_bytes() == content
    again.close()


def test_a_pattern_first_asked_for_by_many_is_made_once(client, build, monkeypatch):
    made, plain = [], patterns.pattern_piece
    monkeypatch.setattr(patterns, "pattern_piece", lambda *a: (made.append(1), time.sleep(0.3), plain(*a))[-1])
    client.patch(f"/api/pieces/{build[2]}", json={"design": {"template": "bracer", "ease": 3.21}})
    answers = []
    ask = lambda: answers.append(client.get(f"/api/pieces/{build[2]}/pattern").status_code)  # noqa: E731
    threads = [threading.Thread(target=ask) for _ in range(10)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert answers == [200] * 10
    assert len(made) == 1


def test_ended_jobs_do_not_keep_their_files_in_memory():
    def work(job: jobs.Job) -> int:
        job.file = b"x" * 1000
        return 1

    started = [jobs.start_job("pack", work) for _ in range(6)]
    while any(j.state == "running" for j in started):
        time.sleep(0.01)
    assert sum(j.file is not None for j in started) <= 2 + 1


def test_few_jobs_work_at_once_the_others_wait_and_can_be_stopped_waiting(client):
    go, busy, most = threading.Event(), [], []

    def work(_: jobs.Job) -> None:
        busy.append(1)
        most.append(len(busy))
        go.wait()
        busy.pop()

    started: list[jobs.Job] = []

    def start_too_many() -> None:
        for _ in range(jobs.MOST_WAITING + 1):
            started.append(jobs.start_job("slow", work))

    with pytest.raises(CraftError, match="wait already"):
        start_too_many()
    while len(busy) < jobs.MOST_AT_ONCE or not any(j.words == "Waits for its turn" for j in started):
        time.sleep(0.01)
    waiting = next(j for j in started if j.words == "Waits for its turn")
    waiting.cancel()
    while waiting.state == "running":
        time.sleep(0.01)
    go.set()
    while any(j.state == "running" for j in started):
        time.sleep(0.01)
    assert {j.state for j in started if j is not waiting} == {"done"}
    assert waiting.state == "cancelled"
    assert max(most) == jobs.MOST_AT_ONCE
    assert client.post("/api/wearers/999/scanner", json={}).status_code == 404
