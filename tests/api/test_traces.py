"""Traced photographs and panels that came flat, over HTTP: kept, put right, undone, and refused when they are no
pictures."""

import io
import json

import httpx
import numpy as np
import pytest
import shapely
from fastapi.testclient import TestClient
from PIL import Image

from tests.api.conftest import READINGS, ended, post
from tests.api.test_keeping import BINARY, packed
from tests.depth import deep, long
from vellumcut.api.app import create_app
from vellumcut.service.keeping.backups import write_backup
from vellumcut.standins.camera import jpeg
from vellumcut.standins.casts import before_it_was_laid, demo_scene, on_newspaper
from vellumcut.store.database import Store
from vellumcut.store.models import TracedPhotograph


def begun(answer: httpx.Response) -> dict:
    assert answer.status_code == 202, answer.text
    return answer.json()


def bring(client: httpx.Client, build: int, content: bytes, name: str = "floor.jpg") -> dict:
    return ended(client, begun(client.post(f"/api/builds/{build}/traces?name={name}", content=content)))


@pytest.fixture(scope="module")
def photograph() -> bytes:
    """Small, turned on its side and labelled by the camera as such."""
    made = Image.open(io.BytesIO(jpeg(demo_scene(1).with_shot(size=(1800, 1350)))))
    exif = Image.Exif()
    exif[0x0112] = 6
    exif[0x010F] = "a camera"
    out = io.BytesIO()
    made.rotate(90, expand=True).save(out, "JPEG", quality=93, exif=exif)
    return out.getvalue()


def act(client: httpx.Client, trace: int, status: int = 200, **what) -> dict:
    answer = client.post(f"/api/traces/{trace}/acts", json={"number": 1, **what})
    assert answer.status_code == status, answer.text
    return answer.json()


@long
def test_a_stroke_moves_outlines_and_is_undone(client, build, photograph):
    """A piece that was left out comes back by a stroke, with what is to be said of it; a stroke that says nothing is
    refused in words, and changes nothing."""
    _, number, _ = build
    trace = ended(client, begun(client.post(f"/api/builds/{number}/traces?name=a.jpg", content=photograph)))["result"]
    before = client.get(f"/api/traces/{trace}").json()
    middle = np.mean(before["shapes"][1]["outline"], axis=0)
    act(client, trace, number=2, act="drop")
    line = (middle + np.linspace(-50, 50, 6)[:, None] * (0.0, 1.0)).tolist()

    def rub(points: list, what: str, status: int = 200) -> dict:
        answer = client.post(f"/api/traces/{trace}/strokes", json={"what": what, "points": points, "wide": 9})
        assert answer.status_code == status, answer.text
        return answer.json()

    after = rub(line, "piece")
    (old,), (new,) = ([x for x in t["shapes"] if x["number"] == 2] for t in (before, after))
    one, two = (shapely.Polygon(x["outline"]) for x in (old, new))
    assert one.symmetric_difference(two).area < 0.01 * one.area
    told = {f["number"]: f for f in after["found"]}
    assert set(told) == {1, 2}
    assert 0 < told[2]["error_mm"]["rms"] < 1
    assert after["shapes"][0] == before["shapes"][0]
    card = before["cards"][0]["at"]
    assert "on a card" in rub([[card[0], -card[1]]], "piece", 422)["detail"]
    assert "No outline runs there" in rub([[card[0] + 80, -card[1]]], "floor", 422)["detail"]
    assert client.get(f"/api/traces/{trace}").json() == after
    assert "was not measured" in after["unmeasured"]["what"]
    assert client.post(f"/api/traces/{trace}/checked").json() == after | {"unmeasured": None}
    assert client.post("/api/undo").status_code == 200
    assert client.post("/api/undo").status_code == 200
    assert [s["number"] for s in client.get(f"/api/traces/{trace}").json()["shapes"]] == [1]


def test_a_photograph_is_kept_put_right_and_made_panels(client, build, photograph, store, tmp_path):
    _, number, _ = build
    job = bring(client, number, photograph)
    assert job["state"] == "done", job["words"]
    trace = client.get(f"/api/traces/{job['result']}").json()
    assert [len(s["corners"]) for s in trace["shapes"]] == [8, 4]
    assert all(f["error_mm"]["rms"] < 0.5 for f in trace["found"])
    kept = Image.open(next(store.folder.glob("traces/*.jpg")))
    assert not dict(kept.getexif()), "what the camera wrote beside it is dropped"
    assert kept.size == (1800, 1350), "turned as it was held"
    at = trace["shapes"][0]["outline"][trace["shapes"][0]["corners"][0]]
    act(client, trace["id"], act="object", status=422)
    act(client, trace["id"], act="name", words="gem")
    act(client, trace["id"], act="object")
    (gem,) = client.get(f"/api/builds/{number}/objects").json()
    assert gem["name"] == "gem"
    assert gem["long"] == pytest.approx(330, abs=12)
    answer = client.post(f"/api/traces/{trace['id']}/panels", json={"shapes": [1], "name": "x", "template": "bracer"})
    assert "gem is an object" in answer.text
    for _ in range(2):
        client.post("/api/undo")
    moved = act(client, trace["id"], act="move", at=at, to=[at[0] + 4, at[1]])
    assert moved["shapes"][0]["outline"] != trace["shapes"][0]["outline"]
    client.post("/api/undo")
    assert client.get(f"/api/traces/{trace['id']}").json()["shapes"] == trace["shapes"]
    act(client, trace["id"], act="straighten", edge=99, status=422)
    act(client, trace["id"], act="drop", number=9, status=422)
    wanted = {"shapes": [1, 2], "name": "Half", "template": "breastplate", "grow": True, "girth": "940"}
    piece = post(client, f"/api/traces/{trace['id']}/panels", wanted)
    assert [p["number"] for p in piece["design"]["flat"]["panels"]] == [1, 2]
    table = client.get(f"/api/pieces/{piece['id']}/flat").json()
    assert table["factor"] > 1.02
    for way in (
        "pattern",
        "steps",
        "foam",
        "finish",
        "pages",
        "rig",
        "pattern.pdf",
        "pattern.svg",
        "pattern.dxf",
        "pattern.json",
    ):
        assert client.get(f"/api/pieces/{piece['id']}/{way}").status_code == 200, way
    again = client.get(f"/api/builds/{number}/build.json").content
    other = client.post("/api/builds/from-file", content=again).json()
    assert other["pieces"][-1]["design"]["flat"] == piece["design"]["flat"]
    bundle = packed(client, number)
    elsewhere = Store(tmp_path / "elsewhere")
    with TestClient(create_app(elsewhere), base_url="http://127.0.0.1:8765") as there:
        came = there.post("/api/builds/from-bundle", content=bundle, headers=BINARY).json()
        (brief,) = there.get(f"/api/builds/{came['id']}/traces").json()
        assert there.get(f"/api/traces/{brief['id']}").json()["shapes"] == trace["shapes"]
        seen = there.get(f"/api/traces/{brief['id']}/picture").content
        assert seen == client.get(f"/api/traces/{trace['id']}/picture").content
        assert ended(there, begun(there.post(f"/api/traces/{brief['id']}/again", json={})))["state"] == "done"
    elsewhere.close()
    assert write_backup(store.folder, tmp_path / "all.zip").stat().st_size > len(photograph) / 2


def picture(**save) -> bytes:
    out = io.BytesIO()
    Image.fromarray(np.zeros((900, 1200, 3), np.uint8)).save(out, **save)
    return out.getvalue()


BOMB = b"\x89PNG\r\n\x1a\n\x00\x00\x00\rIHDR" + (60000).to_bytes(4, "big") * 2 + b"\x08\x02\x00\x00\x00" + b"\x00" * 40


@long
@pytest.mark.parametrize(
    ("content", "words"),
    [
        (picture(format="PNG"), "I see no card"),
        (picture(format="GIF"), "not a JPEG"),
        (b"GIF89a<script>alert(1)</script>", "not a JPEG"),
        (picture(format="JPEG")[:4000] + b"PK\x03\x04" + b"x" * 100, "no card|not a JPEG"),
        (BOMB, "million pixels|not a JPEG"),
        (b"%PDF-1.7 x", "not a JPEG"),
        (b"\x00\x00\x00\x18ftypheic" + b"\x00" * 400, "not a JPEG"),
    ],
    ids=["a picture of nothing", "a GIF", "script", "half a picture and an archive", "a bomb", "a PDF", "half a HEIC"],
)
def test_no_picture_no_trace_and_nothing_left_behind(client, build, store, content, words):
    _, number, _ = build
    job = bring(client, number, content)
    assert job["state"] == "failed"
    assert any(w in job["words"] for w in words.split("|")), job["words"]
    assert client.get(f"/api/builds/{number}/traces").json() == []
    left = [p for name in ("traces", "above") for p in (store.folder / name).glob("*")]
    assert left == []
    assert not list(store.folder.glob(".scratch-*"))


def test_an_upload_that_never_ends_is_cut_off(client, build):
    _, number, _ = build

    def endless():
        for _ in range(60):
            yield b"\xff" * 1_000_000

    answer = client.post(f"/api/builds/{number}/traces?name=a.jpg", content=endless())
    assert answer.status_code in (413, 422)


@long
def test_panels_follow_the_measure_they_were_taken_at_and_a_stopped_piece_makes_none(client, build, photograph, store):
    wearer, number, _ = build
    trace = bring(client, number, photograph)["result"]
    round_arm = {s["name"]: s["girth"] for s in client.get(f"/api/builds/{number}/stations?template=bracer").json()}
    wanted = {"shapes": [1], "name": "Arm", "template": "bracer", "grow": True, "station": "belly"}
    assert client.post(f"/api/traces/{trace}/panels", json=wanted | {"station": "knee"}).status_code == 422
    piece = post(client, f"/api/traces/{trace}/panels", wanted)
    assert piece["design"]["flat"]["girth"] == round_arm["belly"]

    def wide() -> float:
        (panel,) = client.get(f"/api/pieces/{piece['id']}/flat").json()["panels"]
        return float(np.ptp(np.concatenate([e["points"] for e in panel["edges"]])[:, 0]))

    was, old = wide(), client.get(f"/api/wearers/{wearer}/measurement-sets").json()[0]["id"]
    later = json.loads(json.dumps(READINGS))
    later["limbs"][0]["stations"]["belly"]["girth"] += 12
    post(client, f"/api/wearers/{wearer}/measurement-sets", later)
    now = {s["name"]: s["girth"] for s in client.get(f"/api/builds/{number}/stations?template=bracer").json()}
    assert now["belly"] > round_arm["belly"] + 5
    came = np.ptp(np.array(piece["design"]["flat"]["panels"][0]["outline"])[:, 0])
    assert wide() - was == pytest.approx(came * (now["belly"] / round_arm["belly"] - 1), abs=0.2)
    told = [n["message"] for n in client.get(f"/api/pieces/{piece['id']}/pattern").json()["findings"]]
    assert any("measures" in w for w in told), told
    answer = client.post(f"/api/pieces/{piece['id']}/fit", json={"panels": [1], "share": 0.6, "take": True})
    assert answer.status_code == 200, answer.text
    rows = answer.json()["rows"]
    assert client.get(f"/api/pieces/{piece['id']}/flat").json()["factor"] == 1.0, (
        "fitted to today's body, not once more"
    )
    again = client.post(f"/api/pieces/{piece['id']}/fit", json={"panels": [1], "share": 0.6}).json()["rows"]
    # A cast's torn ends are none that a width could be read at.
    assert [r["was"] for r in again[1:-1]] == [pytest.approx(r["wants"], abs=0.5) for r in rows[1:-1]]
    client.post("/api/undo")
    job = ended(client, begun(client.post(f"/api/builds/{number}/regrades", json={"since": old})))
    rows = client.get(f"/api/regrades/{job['id']}").json()["pieces"]
    (panel,) = next(p for p in rows if p["name"] == "Arm")["panels"]
    assert panel["state"] != "fits"
    assert panel["apart"] == pytest.approx((wide() - was) / 2, rel=0.3)

    with store.write("spoil") as session:
        row = session.get(TracedPhotograph, trace)
        row.found = row.found | {"findings": [{"weight": "stop", "what": "It shines.", "do": "Dim the lamp."}]}
    answer = client.post(f"/api/traces/{trace}/panels", json=wanted)
    assert answer.status_code == 422
    assert "Dim the lamp" in answer.text
    with store.write("spoil one piece of it only") as session:
        row = session.get(TracedPhotograph, trace)
        first, *rest = row.found["pieces"]
        stop = {"weight": "stop", "what": "It shines.", "do": "Dim the lamp."}
        row.found = row.found | {"findings": [], "pieces": [first | {"findings": [stop]}, *rest]}
    assert client.post(f"/api/traces/{trace}/panels", json=wanted | {"shapes": [2]}).status_code == 201
    box = np.array(client.get(f"/api/traces/{trace}").json()["shapes"][0]["outline"])
    middle = float(box[:, 1].mean())
    cut = act(
        client, trace, act="cut", at=[float(box[:, 0].min()) - 9, middle], to=[float(box[:, 0].max()) + 9, middle]
    )
    for number_of in sorted(s["number"] for s in cut["shapes"])[::2]:
        answer = client.post(f"/api/traces/{trace}/panels", json=wanted | {"shapes": [number_of]})
        assert answer.status_code == 422, "a part of what is stopped is stopped"


@deep  # The newspaper's journey and the command line's test go the same way in every run.
def test_a_floor_that_is_photographed_first_lies_beneath_what_is_photographed_on_it(client, build, tmp_path):
    """Newspaper: told from the pieces by its own photograph, which goes along in a bundle and may be taken away."""
    _, number, _ = build
    scene = on_newspaper(1).with_shot(size=(2000, 1500))
    path = f"/api/builds/{number}/traces"
    bare, pieces = (jpeg(s) for s in (before_it_was_laid(scene), scene))
    floor = ended(client, begun(client.post(f"{path}?name=floor.jpg&bare=true", content=bare)))["result"]
    alone = ended(client, begun(client.post(f"{path}?name=cast.jpg", content=pieces)))["result"]
    rows = {t["id"]: t for t in client.get(path).json()}
    assert rows[floor]["bare"]
    assert rows[floor]["joins"] == []
    assert rows[alone]["floor"] == floor
    assert any(
        "pattern" in f["what"] for p in client.get(f"/api/traces/{alone}").json()["found"] for f in p["findings"]
    )
    assert client.post(f"{path}?name=x.jpg&over={alone}", content=pieces).status_code == 422
    ended(client, begun(client.post(f"/api/traces/{alone}/again", json={"over": floor})))
    client.delete(f"/api/traces/{floor}")
    trace = client.get(f"/api/traces/{alone}").json()
    assert trace["over_floor"]
    assert len(trace["shapes"]) == 2
    for found, truth in zip(trace["found"], scene.pieces, strict=True):
        assert found["area_mm2"] == pytest.approx(shapely.Polygon(truth.outline).area, rel=0.004)
        assert not any("pattern" in f["what"] for f in found["findings"])
    elsewhere = Store(tmp_path / "elsewhere")
    with TestClient(create_app(elsewhere), base_url="http://127.0.0.1:8765") as there:
        came = there.post("/api/builds/from-bundle", content=packed(client, number), headers=BINARY).json()
        (brief,) = there.get(f"/api/builds/{came['id']}/traces").json()
        ended(there, begun(there.post(f"/api/traces/{brief['id']}/again", json={})))
        again = there.get(f"/api/traces/{brief['id']}").json()
        assert again["over_floor"], "the floor came along"
        assert again["found"][0]["area_mm2"] == pytest.approx(trace["found"][0]["area_mm2"], rel=0.001)
    elsewhere.close()
