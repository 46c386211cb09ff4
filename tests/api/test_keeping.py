"""Nothing lost: backups and bundles hold everything, come back equal, and a damaged one changes nothing."""

import hashlib
import io
import json
import random
import shutil
import sqlite3
import threading
import zipfile
from pathlib import Path

import pytest
from fastapi.testclient import TestClient
from typer.testing import CliRunner

from tests.api.conftest import READINGS, make_build, mark, post
from tests.api.test_ink_and_scans import packed
from tests.damage import damaged
from tests.depth import long
from tests.pictures import picture
from vellumcut.api.app import create_app
from vellumcut.cli import app as commands
from vellumcut.formats.body.mesh_files import write_mesh
from vellumcut.service.keeping import backups
from vellumcut.standins.made_up_body import BodyShape, made_up_body
from vellumcut.store.copies import KEPT, copy_database, list_copies
from vellumcut.store.database import DATABASE, Store

BINARY = {"content-type": "application/octet-stream"}


@pytest.fixture(scope="module")
def full_data(tmp_path_factory):
    """A data folder with one of everything that can be kept, made once; and whose it is."""
    folder = tmp_path_factory.mktemp("full") / "data"
    store = Store(folder)
    with TestClient(create_app(store), base_url="http://127.0.0.1:8765") as client:
        numbers = one_of_everything(client)
    store.close()
    return folder, numbers


@pytest.fixture
def store(tmp_path, request):
    """As everywhere, or with one of everything where a test asks for it."""
    if "full" in request.fixturenames:
        shutil.copytree(request.getfixturevalue("full_data")[0], tmp_path / "data")
    opened = Store(tmp_path / "data")
    yield opened
    opened.close()


@pytest.fixture
def full(client, full_data):
    return full_data[1]


def one_of_everything(client) -> tuple[int, int, int]:
    wearer, made, piece = make_build(client)
    body = client.get(f"/api/builds/{made}").json()
    fields = {"name": body["name"], "wearer_id": wearer, "event_name": "Harbour fair", "event_on": "2027-05-01"}
    client.put(f"/api/builds/{made}", json=fields | {"dart_edges": "square"})
    scan = write_mesh(*made_up_body(BodyShape(), 24.0), "ply")
    client.post(f"/api/wearers/{wearer}/scans", params={"name": "me.ply"}, content=scan, headers=BINARY)
    post(client, f"/api/wearers/{wearer}/measurement-sets", READINGS | {"taken_on": "2026-01-05", "note": "older"})
    client.put(f"/api/wearers/{wearer}", json={"name": "Perrin Vale", "note": "left shoulder lower"})
    assert mark(client, piece, "number", done=True, took=4, note="two pages short").status_code == 200
    schools = {"seams": "covered", "liner": "none"}
    client.put(f"/api/builds/{made}", json=fields | {"dart_edges": "square", "schools": schools})
    client.post(f"/api/pieces/{piece}/photographs", params={"words": "left"}, content=picture(), headers=BINARY)
    client.post(f"/api/pieces/{piece}/photographs", params={"step": "number"}, content=picture(), headers=BINARY)
    client.put(f"/api/builds/{made}/bench", json={"key": "clear-away", "note": "not yet"})
    post(client, f"/api/pieces/{piece}/versions", {"name": "first"})
    post(client, f"/api/builds/{made}/log-entries", {"text": "cut it", "piece_id": piece})
    fit = {"findings": [{"station": "wrist", "off": 4.0}], "note": "loose"}
    client.post(f"/api/pieces/{piece}/fittings", json=fit)
    client.put(f"/api/builds/{made}/cautions/solvents")
    post(client, "/api/timers/cement", {"piece_id": piece})
    client.post(f"/api/pieces/{piece}/picture", params={"name": "sketch.png"}, content=picture(), headers=BINARY)
    client.put("/api/foam-gives", json={"rows": [{"kind": "armour", "thickness": 6, "stretch": 7, "squeeze": 4}]})
    return wearer, made, piece


def tables(database: Path) -> dict[str, list]:
    with sqlite3.connect(database) as opened:
        names = [r[0] for r in opened.execute("SELECT name FROM sqlite_master WHERE type = 'table' ORDER BY name")]
        return {n: sorted(map(repr, opened.execute(f"SELECT * FROM {n}"))) for n in names}


def files(folder: Path) -> dict[str, bytes]:
    return {f"{n}/{p.name}": p.read_bytes() for n in ("scans", "pictures") for p in (folder / n).iterdir()}


LOST_ENTRY = {"id": 1, "build_id": 99, "piece_id": None, "written_at": 1.0, "text": "", "removed": False}


def cut_of(client, piece: int) -> dict:
    return client.get(f"/api/pieces/{piece}/pattern.json").json()


def test_a_backup_taken_while_the_server_writes_comes_back_equal(client, full, store, tmp_path):
    wearer, _, piece = full
    stop = threading.Event()

    def scribble() -> None:
        while not stop.is_set():
            client.put(f"/api/wearers/{wearer}", json={"name": f"Perrin {random.random()}", "note": ""})

    (busy := threading.Thread(target=scribble)).start()
    archive = tmp_path / "all.zip"
    archive.write_bytes(client.get("/api/backup").content)
    stop.set()
    busy.join()
    with zipfile.ZipFile(archive) as zipped:
        (tmp_path / "then.sqlite3").write_bytes(zipped.read(DATABASE))
    pattern = cut_of(client, piece)
    done = CliRunner().invoke(commands, ["restore", str(archive), "--data", str(tmp_path / "empty")])
    assert done.exit_code == 0, done.output
    assert tables(tmp_path / "empty" / DATABASE) == tables(tmp_path / "then.sqlite3")
    assert files(tmp_path / "empty") == files(store.folder)
    opened = Store(tmp_path / "empty")
    with TestClient(create_app(opened), base_url="http://127.0.0.1:8765") as there:
        assert cut_of(there, piece) == pattern
    opened.close()


def test_what_is_lost_comes_back_in_the_running_server(client, full, store):
    _, made, _ = full
    archive = client.get("/api/backup").content
    before = client.get("/api/builds").json()
    client.delete(f"/api/builds/{made}")
    post(client, "/api/wearers", {"name": "Later"})
    assert client.post("/api/backup/restore", content=archive, headers=BINARY).status_code == 204
    assert client.get("/api/builds").json() == before
    assert [w["name"] for w in client.get("/api/wearers").json()] == ["Perrin Vale"]
    (copy,) = [c for c in client.get("/api/copies").json()["copies"] if c["why"] == "before a restore"]
    assert client.post(f"/api/copies/{copy['name']}/restore").status_code == 204
    assert client.get("/api/builds").json() == []
    assert {w["name"] for w in client.get("/api/wearers").json()} == {"Perrin Vale", "Later"}
    assert client.post("/api/copies/nothing/restore").status_code == 404
    assert client.post("/api/undo").status_code == 200


@pytest.mark.parametrize("seed", range(3))
def test_a_damaged_backup_changes_nothing(client, full, store, seed):
    whole, luck = client.get("/api/backup").content, random.Random(seed)
    before, had = client.get("/api/builds").json(), files(store.folder)
    for _ in range(12):
        answer = client.post("/api/backup/restore", content=damaged(whole, luck), headers=BINARY)
        # A changed byte of no meaning, such as a date in the archive, leaves the same data.
        assert answer.status_code in (204, 422), answer.text
        if answer.status_code == 422:
            assert "nothing was changed" in answer.json()["detail"]
        assert client.get("/api/builds").json() == before
        assert files(store.folder) == had
    assert not list(store.folder.glob(".scratch-*"))


def test_a_backup_of_strange_names_writes_nothing_outside(client, full, tmp_path):
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(client.get("/api/backup").content)) as whole, zipfile.ZipFile(out, "w") as odd:
        told = json.loads(whole.read("manifest.json"))
        told["files"]["scans/../../escaped.ply"] = told["files"][DATABASE]
        odd.writestr("manifest.json", json.dumps(told))
        odd.writestr(DATABASE, whole.read(DATABASE))
        odd.writestr("scans/../../escaped.ply", whole.read(DATABASE))
    assert client.post("/api/backup/restore", content=out.getvalue(), headers=BINARY).status_code == 422
    assert not list(tmp_path.rglob("escaped.ply"))


def test_a_strangers_backup_gives_no_file_of_this_machine_away(client, full, store, tmp_path):
    """Its rows may name any file: none but those in the folders is read, shown or packed."""
    (tmp_path / "secret.jpg").write_bytes(b"secret")
    archive = tmp_path / "odd.zip"
    with zipfile.ZipFile(io.BytesIO(client.get("/api/backup").content)) as whole:
        parts = {name: whole.read(name) for name in whole.namelist()}
    (tmp_path / "odd.sqlite3").write_bytes(parts[DATABASE])
    with sqlite3.connect(tmp_path / "odd.sqlite3") as database:
        for table in ("scan", "reference_picture"):
            database.execute(f"UPDATE {table} SET file = '../../secret.jpg'")
    parts[DATABASE] = (tmp_path / "odd.sqlite3").read_bytes()
    told = json.loads(parts["manifest.json"])
    told["files"][DATABASE] = hashlib.sha256(parts[DATABASE]).hexdigest()
    parts["manifest.json"] = json.dumps(told).encode()
    with zipfile.ZipFile(archive, "w") as odd:
        for name, content in parts.items():
            odd.writestr(name, content)
    assert client.post("/api/backup/restore", content=archive.read_bytes(), headers=BINARY).status_code == 204
    wearer, made, _ = full
    (scan,) = client.get(f"/api/wearers/{wearer}/scans").json()
    for path in ("/api/pictures/1/file", f"/api/scans/{scan['id']}/mesh"):
        answer = client.get(path)
        assert answer.status_code in (404, 422), answer.text
        assert b"secret" not in answer.content.replace(b"secret.jpg", b"")
    with zipfile.ZipFile(io.BytesIO(packed(client, made))) as bundle:
        assert not [n for n in bundle.namelist() if bundle.read(n) == b"secret"]


@pytest.mark.parametrize("name", ["scans/..", "scans/.hidden", "copies/x.ply", "scans/a/b.ply", "scans/"])
def test_a_backup_with_a_file_that_does_not_belong_is_refused(client, full, name):
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(client.get("/api/backup").content)) as whole, zipfile.ZipFile(out, "w") as odd:
        told = json.loads(whole.read("manifest.json"))
        told["files"][name] = told["files"][DATABASE]
        odd.writestr("manifest.json", json.dumps(told))
        odd.writestr(DATABASE, whole.read(DATABASE))
        odd.writestr(name, whole.read(DATABASE))
    answer = client.post("/api/backup/restore", content=out.getvalue(), headers=BINARY)
    assert (answer.status_code, "does not belong" in answer.json()["detail"]) == (422, True)


def test_a_folder_of_any_name_is_backed_up(tmp_path):
    folder = tmp_path / "mine #1 100% ?"
    Store(folder).close()
    backups.write_backup(folder, tmp_path / "all.zip")
    other = Store(tmp_path / "other ?x=1")
    backups.restore(other, tmp_path / "all.zip")
    backups.restore(other, tmp_path / "all.zip")
    assert len(list_copies(other.folder)) == 2
    other.close()


def everything(client, made: int) -> dict:
    """All that a maker sees of a build, but for numbers of rows and moments that go on."""
    body = client.get(f"/api/builds/{made}").json()
    wearer, out = body["wearer_id"], {"build": body}
    for name, path in {
        "sets": f"/api/wearers/{wearer}/measurement-sets",
        "scans": f"/api/wearers/{wearer}/scans",
        "log": f"/api/builds/{made}/log-entries",
        "cautions": f"/api/builds/{made}/cautions",
        "gives": "/api/foam-gives",
        "wearers": "/api/wearers",
        "timers": "/api/timers",
    }.items():
        out[name] = client.get(path).json()
    for piece in body["pieces"]:
        for what in ("versions", "fittings", "steps", "picture", "pattern.json"):
            out[f"{piece['name']} {what}"] = client.get(f"/api/pieces/{piece['id']}/{what}").json()
    text = json.dumps(out, sort_keys=True)
    return json.loads(text, object_hook=lambda d: {k: v for k, v in d.items() if k not in MOVES})


MOVES = {"id", "wearer_id", "build_id", "piece_id", "tag", "passed", "ready_in", "closes_in"}


def test_a_bundle_carries_everything_to_an_empty_folder(client, full, tmp_path):
    _, made, _ = full
    bundle, before = packed(client, made), everything(client, made)
    other = Store(tmp_path / "other")
    with TestClient(create_app(other), base_url="http://127.0.0.1:8765") as there:
        answer = there.post("/api/builds/from-bundle", content=bundle, headers=BINARY)
        assert answer.status_code == 201, answer.text
        assert everything(there, answer.json()["id"]) == before
        again = there.post("/api/builds/from-bundle", content=bundle, headers=BINARY).json()
        assert any("is here already; the build is theirs" in t for t in again["told"])
        assert len(there.get("/api/wearers").json()) == 1
        assert len(there.get(f"/api/wearers/{again['wearer_id']}/measurement-sets").json()) == 2
        assert len(there.get(f"/api/wearers/{again['wearer_id']}/scans").json()) == 1
        for _ in range(2):
            assert there.post("/api/undo").status_code == 200
        assert there.get("/api/builds").json() == []
    other.close()


def test_a_bundle_goes_without_what_was_taken_out(client, full):
    """A note and a timer of a piece that is gone stay, and point at none."""
    _, made, piece = full
    client.delete(f"/api/pieces/{piece}")
    answer = client.post("/api/builds/from-bundle", content=packed(client, made), headers=BINARY)
    assert answer.status_code == 201, answer.text
    assert answer.json()["pieces"] == []
    (entry,) = client.get(f"/api/builds/{answer.json()['id']}/log-entries").json()
    assert (entry["text"], entry["piece_id"]) == ("cut it", None)


@long
def test_a_bundle_with_a_history_that_is_none_is_refused_or_left_aside(client, full):
    _, made, _ = full
    bundle = packed(client, made)
    count = len(client.get("/api/builds").json())

    def changed(**rows) -> bytes:
        out = io.BytesIO()
        with zipfile.ZipFile(io.BytesIO(bundle)) as whole, zipfile.ZipFile(out, "w") as odd:
            for name in whole.namelist():
                content = whole.read(name)
                if name == "history.json":
                    content = json.dumps(json.loads(content) | rows).encode()
                odd.writestr(name, content)
        return out.getvalue()

    for rows, words in (
        ({"step_tick": [{"id": 1}]}, "not one that this program writes"),
        ({"log_entry": [LOST_ENTRY]}, "build_id"),
        ({"secrets": []}, "is not one"),
        ({"scan": [{"file": "../../secret.ply"}]}, "does not hold"),
        ({"reference_picture": ["x"]}, "does not hold"),
        ({"step_tick": [{}] * 30_000}, "more than"),
    ):  # fmt: skip
        refused = client.post("/api/builds/from-bundle", content=changed(**rows), headers=BINARY)
        assert refused.status_code == 422, rows
        assert words in refused.json()["detail"]
    assert len(client.get("/api/builds").json()) == count
    aside = client.post("/api/builds/from-bundle", content=changed(piece=[]), headers=BINARY).json()
    assert any("the file was taken" in t for t in aside["told"])
    assert len(aside["pieces"]) == 1


def test_a_copy_is_taken_each_day_and_the_newest_are_kept(tmp_path):
    store = Store(tmp_path / "data")
    with store.write():
        pass
    with store.write():
        pass
    assert [c.why for c in list_copies(store.folder)] == ["daily"]
    for day in range(1, 12):
        made = copy_database(store.path, store.folder, "daily")
        made.rename(made.with_name(f"daily 2020-01-{day:02} 000000.sqlite3"))
    copy_database(store.path, store.folder, "daily")
    kept = sorted(c.name for c in list_copies(store.folder))
    assert len(kept) == KEPT
    assert not any("2020-01-05" in name for name in kept)
    store.close()


def test_the_main_file_alone_holds_everything_once_the_server_has_ended(tmp_path):
    store = Store(tmp_path / "data")
    with TestClient(create_app(store), base_url="http://127.0.0.1:8765") as client:
        post(client, "/api/wearers", {"name": "Perrin"})
    store.close()
    alone = tmp_path / "alone.sqlite3"
    alone.write_bytes((tmp_path / "data" / DATABASE).read_bytes())
    assert len(tables(alone)["wearer"]) == 1


def test_backup_says_what_is_wrong(tmp_path):
    for arguments, words in (
        (["backup", str(tmp_path / "a.zip"), "--data", str(tmp_path / "none")], "no data folder"),
        (["restore", str(tmp_path / "none.zip"), "--data", str(tmp_path / "there")], "nothing was changed"),
    ):
        done = CliRunner().invoke(commands, arguments)
        assert done.exit_code == 2
        assert words in done.output
    store = Store(tmp_path / "there")
    backups.write_backup(store.folder, tmp_path / "made.zip")
    again = CliRunner().invoke(commands, ["backup", str(tmp_path / "made.zip"), "--data", str(store.folder)])
    assert "there already" in again.output
    busy = CliRunner().invoke(commands, ["restore", str(tmp_path / "made.zip"), "--data", str(store.folder)])
    assert busy.exit_code == 2
    assert "already uses" in busy.output
    store.close()


STRANGE = {
    "a trigger": "CREATE TRIGGER t AFTER UPDATE ON piece BEGIN DELETE FROM build; END",
    "a view": "CREATE VIEW v AS SELECT * FROM piece",
    "a table gone": "DROP TABLE log_entry",
    "a table renamed": "ALTER TABLE timer RENAME TO timers",
    "a column more": "ALTER TABLE build ADD COLUMN more TEXT",
    "a table more": "CREATE TABLE other (id INTEGER)",
    "an index gone": "DROP INDEX ix_piece_build_id",
    "JSON that is none": "UPDATE piece SET design = '{not json'",
    "a design that is none": 'UPDATE piece SET design = \'{"template": "no such"}\'',
    "readings that are none": "UPDATE measurement_set SET readings = '[]'",
    "words for a number": "UPDATE piece SET position = 'first'",
    "a date that is none": "UPDATE measurement_set SET taken_on = 'soon'",
    "a piece of no build": "UPDATE piece SET build_id = 999",
}


@pytest.mark.parametrize("what", STRANGE)
def test_a_backup_whose_database_is_not_ours_is_refused_in_words_and_changes_nothing(
    client, full, store, tmp_path, what
):
    """Its sums are right: only what it holds is wrong."""
    whole = client.get("/api/backup").content
    before = client.get("/api/builds").json()
    with zipfile.ZipFile(io.BytesIO(whole)) as zipped:
        files = {name: zipped.read(name) for name in zipped.namelist()}
    other = tmp_path / "other.sqlite3"
    other.write_bytes(files[DATABASE])
    database = sqlite3.connect(other)
    database.execute(STRANGE[what])
    database.commit()
    database.close()
    files[DATABASE] = other.read_bytes()
    told = json.loads(files[backups.MANIFEST])
    told["files"][DATABASE] = hashlib.sha256(files[DATABASE]).hexdigest()
    files[backups.MANIFEST] = json.dumps(told).encode()
    packed_anew = io.BytesIO()
    with zipfile.ZipFile(packed_anew, "w") as zipped:
        for name, content in files.items():
            zipped.writestr(name, content)
    answer = client.post("/api/backup/restore", content=packed_anew.getvalue(), headers=BINARY)
    assert answer.status_code == 422, what
    assert "nothing was changed" in answer.json()["detail"]
    assert client.get("/api/builds").json() == before
    assert client.post("/api/backup/restore", content=whole, headers=BINARY).status_code == 204
