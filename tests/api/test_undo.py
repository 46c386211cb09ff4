"""Undo that cannot jam: whatever still points at a row, every change can be taken back and done again."""

import json
import sqlite3

import pytest
import sqlalchemy as sa
from alembic import command
from alembic.config import Config

from tests.api.conftest import READINGS, post
from vellumcut.service.body.wearers import list_wearers
from vellumcut.service.keeping.settings import step_history
from vellumcut.store.database import MIGRATIONS, Store


def undo_all(client) -> int:
    count = 0
    while client.get("/api/undo").json()["undo"]["words"]:
        answer = client.post("/api/undo")
        assert answer.status_code == 200, answer.text
        count += 1
    return count


def point_at(client, what: str, build: int, piece: int) -> None:
    """Something that outlives an undo and points at the build or the piece."""
    if what == "caution":
        assert client.put(f"/api/builds/{build}/cautions/solvents").status_code < 300
    elif what == "timer":
        client.put(f"/api/builds/{build}/cautions/solvents")
        assert client.post("/api/timers/cement", json={"piece_id": piece}).status_code == 201
    else:
        post(client, f"/api/pieces/{piece}/versions", {"name": "Kept"})


@pytest.mark.parametrize("what", ["caution", "timer", "version"])
def test_undo_goes_back_to_the_start_whatever_points_at_what_it_takes_away(client, build, what):
    _, made, piece = build
    point_at(client, what, made, piece)
    assert undo_all(client) == 4
    assert client.get("/api/builds").json() == []
    assert client.get("/api/wearers").json() == []
    for _ in range(4):
        assert client.post("/api/redo").status_code == 200
    (kept,) = client.get("/api/builds").json()
    assert [p["id"] for p in kept["pieces"]] == [piece]
    if what == "version":
        assert [v["name"] for v in client.get(f"/api/pieces/{piece}/versions").json()] == ["Kept"]


def test_a_number_is_never_given_twice(client, build):
    wearer, made, piece = build
    client.post("/api/undo")
    again = post(client, f"/api/builds/{made}/pieces", {"design": {"template": "greave"}})
    assert again["id"] > piece
    assert client.patch(f"/api/pieces/{piece}", json={"name": "Stale"}).status_code == 404
    undo_all(client)
    assert post(client, "/api/wearers", {"name": "Second"})["id"] > wearer


def test_what_an_older_program_wrote_can_still_be_undone(tmp_path):
    folder = tmp_path / "data"
    folder.mkdir()
    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS))
    engine = sa.create_engine(f"sqlite:///{folder / 'vellumcut.sqlite3'}")
    with engine.begin() as connection:
        config.attributes["connection"] = connection
        command.upgrade(config, "0003")
        row = {"id": 1, "name": "Perrin", "note": "", "removed": False}
        connection.execute(sa.text("INSERT INTO wearer VALUES (1, 'Perrin', '', 0)"))
        rows = json.dumps([{"table": "wearer", "id": 1, "before": None, "after": row}])
        connection.execute(
            sa.text("INSERT INTO change (made_at, words, rows, undone) VALUES (1, 'Add Perrin', :rows, 0)"),
            {"rows": rows},
        )
    engine.dispose()
    store = Store(folder)
    assert step_history(store, undo=True) == "Add Perrin"
    assert list_wearers(store) == []
    step_history(store, undo=False)
    assert [w.name for w in list_wearers(store)] == ["Perrin"]
    store.close()
    with sqlite3.connect(folder / "vellumcut.sqlite3") as database:
        assert database.execute("SELECT removed FROM wearer").fetchall() == [(0,)]


def test_readings_of_a_set_taken_back_are_gone_and_come_again(client, build):
    wearer, *_ = build
    path = f"/api/wearers/{wearer}/measurement-sets"
    post(client, path, READINGS | {"note": "second"})
    client.post("/api/undo")
    assert [s["readings"]["note"] for s in client.get(path).json()] == [READINGS["note"]]
    client.post("/api/redo")
    assert len(client.get(path).json()) == 2
