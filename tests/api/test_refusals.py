"""Bad input, strangers and crashes: clear words, nothing lost."""

import json
import os
import random
import signal
import sqlite3
import subprocess
import sys
import time
from pathlib import Path

import httpx
import pytest
from alembic.script import ScriptDirectory

from tests.api.conftest import READINGS, post
from tests.depth import mostly
from tests.journeys.browser import free_port
from vellumcut.store.database import MIGRATIONS, Store, StoreError, known_revision


@pytest.mark.parametrize(
    ("body", "words"),
    [
        ({"design": {"template": "bracer", "foam": "thick"}}, "is not a length"),
        ({"design": {"template": "bracer", "foam": 1e300}}, "at most 25"),
        ({"design": {"template": "bracer", "foam": True}}, "not yes or no"),
        ({"design": {"template": "helmet"}}, "must be one of"),
        ({"design": {"template": "bracer", "wings": 2}}, "not a field known here"),
        ({"design": []}, "must be a group of fields"),
        ({"name": "x" * 500, "design": {"template": "bracer"}}, "at most 120"),
        ({"design": {"template": "bracer", "ease_at": {"wrist": "a lot"}}}, "is not a length"),
    ],
)
def test_wrong_fields_are_named_with_the_reason(client, build, body, words):
    _, made, _ = build
    before = client.get(f"/api/builds/{made}").json()
    answer = client.post(f"/api/builds/{made}/pieces", json=body)
    assert answer.status_code == 422
    assert words in answer.json()["detail"]
    assert answer.json()["fields"][0]["field"]
    assert client.get(f"/api/builds/{made}").json() == before


@pytest.mark.parametrize("raw", ["{", "", "NaN", '{"name": NaN}', '{"name": "a"', "\x00"])
def test_broken_json_is_said(client, build, raw):
    answer = client.post("/api/wearers", content=raw, headers={"content-type": "application/json"})
    assert answer.status_code in (400, 422)
    assert len(answer.json()["detail"]) > 10


def test_not_a_number_is_refused_in_readings(client, build):
    wearer, _, _ = build
    for word in ("NaN", "Infinity", "-Infinity", "1e999"):
        text = json.dumps(READINGS).replace("168.0", word)
        answer = client.post(
            f"/api/wearers/{wearer}/measurement-sets", content=text, headers={"content-type": "application/json"}
        )
        assert answer.status_code == 422, word
        assert "finite" in answer.json()["detail"]


@pytest.mark.parametrize("number", ["0", "-1", "999", "abc", str(10**30)])
def test_what_is_not_there_is_said(client, build, number):
    for path in (f"/api/builds/{number}", f"/api/pieces/{number}/pattern", f"/api/wearers/{number}/history"):
        answer = client.get(path)
        assert answer.status_code in (404, 422)
        assert answer.json()["detail"]


@pytest.mark.parametrize("places", ["1,2;3", "nan,1", "a,b", "1,2,3", "inf,2", "1;2"])
def test_how_far_a_page_is_moved_is_two_lengths(client, build, places):
    _, made, _ = build
    asked = {"name": "x.svg", "places": places}
    answer = client.post(f"/api/builds/{made}/pattern-files", params=asked, content=b"<svg/>")
    assert answer.status_code == 422
    assert "how far it is moved" in answer.json()["detail"]


def test_only_this_machine_s_own_pages_may_talk(client, build):
    assert client.get("/api/builds", headers={"host": "evil.example"}).status_code == 403
    assert client.post("/api/undo", headers={"origin": "http://evil.example"}).status_code == 403
    assert client.post("/api/undo", headers={"origin": "http://127.0.0.1:8765"}).status_code == 200
    assert client.post("/api/wearers", content=b" " * 6_000_000).status_code == 413
    page = client.get("/api/builds")
    assert "script-src 'self'" in page.headers["content-security-policy"]
    for path in ("/../../etc/passwd", "/..%2f..%2fetc/passwd", "/assets/../../pyproject.toml"):
        assert "root:" not in client.get(path).text
        assert "setuptools" not in client.get(path).text


def test_a_second_server_on_the_same_data_is_refused(store):
    with pytest.raises(StoreError, match="Another Vellumcut already uses"):
        Store(store.folder)
    done = subprocess.run(
        [sys.executable, "-m", "vellumcut.cli", "serve", "--port", str(free_port())],
        env={**os.environ, "VELLUMCUT_DATA": str(store.folder)},
        capture_output=True,
        text=True,
        timeout=60,
        check=False,
    )
    assert done.returncode == 2
    assert "Another Vellumcut already uses" in done.stderr
    assert "Traceback" not in done.stderr


def test_damaged_and_newer_databases_are_left_as_they_are(tmp_path):
    for folder, content in ((tmp_path / "damaged", b"this is no database" * 300), (tmp_path / "newer", None)):
        folder.mkdir()
        file = folder / "vellumcut.sqlite3"
        if content is None:
            Store(folder).close()
            with sqlite3.connect(file) as raw:
                raw.execute("UPDATE alembic_version SET version_num = '9999'")
        else:
            file.write_bytes(content)
        before = file.read_bytes()
        with pytest.raises(StoreError, match="left as it"):
            Store(folder)
        assert file.read_bytes() == before


def test_every_migration_is_named_by_its_revision_and_a_new_database_has_the_newest(tmp_path):
    """A database is known to be up to date by the names of the files alone."""
    script = ScriptDirectory(str(MIGRATIONS))
    assert all(Path(s.path).name.startswith(f"{s.revision}_") for s in script.walk_revisions())
    Store(tmp_path).close()
    with sqlite3.connect(tmp_path / "vellumcut.sqlite3") as raw:
        assert raw.execute("SELECT version_num FROM alembic_version").fetchall() == [(script.get_current_head(),)]
    assert known_revision(script.get_current_head())
    assert not known_revision("9999")


def test_a_copy_is_made_before_an_old_database_is_migrated(tmp_path):
    store = Store(tmp_path)
    store.close()
    with sqlite3.connect(tmp_path / "vellumcut.sqlite3") as raw:
        assert raw.execute("PRAGMA journal_mode").fetchone() == ("wal",)
        names = {row[0] for row in raw.execute("SELECT name FROM sqlite_master WHERE type = 'table'")}
    assert {"wearer", "measurement_set", "build", "piece", "piece_version", "timer", "fit_session", "change"} <= names
    with sqlite3.connect(tmp_path / "vellumcut.sqlite3") as raw:
        for later in ("traced_photograph", "sheet_layout"):
            raw.execute(f"DROP TABLE {later}")
        raw.execute("UPDATE alembic_version SET version_num = '0006'")
    Store(tmp_path).close()
    (copy,) = tmp_path.rglob("before-an-update *.sqlite3")
    with sqlite3.connect(copy) as raw:
        assert raw.execute("SELECT version_num FROM alembic_version").fetchone() == ("0006",)
    with sqlite3.connect(tmp_path / "vellumcut.sqlite3") as raw:
        assert raw.execute("SELECT version_num FROM alembic_version").fetchone() > ("0006",)


@pytest.mark.parametrize("run", mostly(range(3), 1))
def test_kill_minus_9_during_a_save_keeps_all_that_was_acknowledged(tmp_path: Path, run):
    """A real server in a process of its own is killed while it saves; every answered save must still be there."""
    port = free_port()
    environment = {**os.environ, "VELLUMCUT_DATA": str(tmp_path)}
    process = subprocess.Popen(
        [sys.executable, "-m", "vellumcut.cli", "serve", "--port", str(port)],
        env=environment,
        stdout=subprocess.DEVNULL,
    )
    acknowledged, address = [], f"http://127.0.0.1:{port}/api/wearers"
    try:
        with httpx.Client(timeout=5) as web:
            for _ in range(600):
                try:
                    web.get(address)
                    break
                except httpx.TransportError:
                    time.sleep(0.1)
            end = time.time() + random.Random(run).uniform(0.3, 1.2)
            number = 0
            while time.time() < end:
                number += 1
                acknowledged.append(post(web, address, {"name": f"Wearer {number}"})["name"])
            process.send_signal(signal.SIGKILL)
    finally:
        process.kill()
        process.wait()
    assert len(acknowledged) > 5
    store = Store(tmp_path)
    with store.read() as session:
        names = {row[0] for row in session.connection().exec_driver_sql("SELECT name FROM wearer")}
        assert session.connection().exec_driver_sql("PRAGMA integrity_check").scalar() == "ok"
    store.close()
    assert set(acknowledged) <= names
