import json
import shutil
import time
from pathlib import Path

import httpx
import pytest
from fastapi.testclient import TestClient

from tests.bodies import WEARER
from vellumcut.api.app import create_app
from vellumcut.store.database import DATABASE, Store


@pytest.fixture(scope="session")
def empty_database(tmp_path_factory) -> Path:
    """A database that has been through every migration, once for all tests."""
    folder = tmp_path_factory.mktemp("empty")
    Store(folder).close()
    return folder / DATABASE


@pytest.fixture
def store(tmp_path: Path, empty_database: Path):
    (tmp_path / "data").mkdir()
    shutil.copyfile(empty_database, tmp_path / "data" / DATABASE)
    opened = Store(tmp_path / "data")
    yield opened
    opened.close()


@pytest.fixture
def client(store):
    with TestClient(create_app(store), base_url="http://127.0.0.1:8765", raise_server_exceptions=False) as made:
        yield made


READINGS = json.loads(WEARER.model_dump_json())


def post(client: httpx.Client, path: str, body: dict | None = None, status: int = 201) -> dict:
    answer = client.post(path, json=body)
    assert answer.status_code == status, answer.text
    return answer.json()


def ended(client: httpx.Client, job: dict) -> dict:
    """The job when it has come to an end, however slow the machine; its share never falls."""
    shares, last = [], time.monotonic() + 300
    while time.monotonic() < last:
        now = client.get(f"/api/jobs/{job['id']}").json()
        shares.append(now["share"])
        if now["state"] != "running":
            assert shares == sorted(shares)
            return now
        time.sleep(0.05)
    raise AssertionError(f"still running: {now}")


def steps_of(client: httpx.Client, piece: int) -> dict[str, dict]:
    """The steps of a piece in the order of work, by key."""
    answer = client.get(f"/api/pieces/{piece}/steps")
    assert answer.status_code == 200, answer.text
    return {s["key"]: s for s in answer.json()["steps"]}


def mark(client: httpx.Client, piece: int, key: str, **said) -> httpx.Response:
    """Say something of a step: done=True also answers its question with yes."""
    yes = {"answer": "yes"} if said.get("done") and "answer" not in said else {}
    return client.put(f"/api/pieces/{piece}/steps", json={"key": key, **yes, **said})


@pytest.fixture
def build(client):
    return make_build(client)


def make_build(client: httpx.Client) -> tuple[int, int, int]:
    """A measured wearer with one pair of bracers; gives (wearer id, build id, piece id)."""
    wearer = post(client, "/api/wearers", {"name": "Perrin Vale"})["id"]
    post(client, f"/api/wearers/{wearer}/measurement-sets", READINGS)
    made = post(client, "/api/builds", {"name": "Moth-knight", "wearer_id": wearer})["id"]
    piece = post(client, f"/api/builds/{made}/pieces", {"design": {"template": "bracer", "closure": "lacing"}})["id"]
    return wearer, made, piece
