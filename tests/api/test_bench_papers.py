"""What leaves the bench: sheets for the wall and the table, and what the command line writes, read back."""

import csv
import io
import json
from contextlib import suppress

import pypdf

from tests.api.conftest import mark, post, steps_of
from tests.api.test_bench import redesign
from tests.formats.test_patterns_read_back import strokes
from vellumcut.cli import app


def test_sheets_for_the_wall_and_the_table(client, build):
    _, made, piece = build
    steps = steps_of(client, piece)
    mark(client, piece, "number", done=True)
    rows = client.get(f"/api/pieces/{piece}/steps.csv").text.splitlines()
    assert len(rows) == len(steps) + 1
    assert rows[0].startswith("step,key,how,after,place")
    assert rows[1].endswith(",yes")
    reader = pypdf.PdfReader(io.BytesIO(client.get(f"/api/pieces/{piece}/bench-sheet.pdf").content))
    assert sum(len(strokes(page)[1]) for page in reader.pages) == sum(s["coats"] for s in steps.values())
    text = " ".join(page.extract_text() for page in reader.pages)
    assert all(s["title"][:14] in text for s in steps.values())
    post(client, f"/api/builds/{made}/pieces", {"design": {"template": "greave"}})
    whole = client.get(f"/api/builds/{made}/bench-sheets.pdf").content
    begun = [p.extract_text().splitlines()[0] for p in pypdf.PdfReader(io.BytesIO(whole)).pages]
    assert len([b for b in begun if ", page" not in b]) == 2, "each piece begins on a page of its own"


def test_the_command_line_writes_the_bench(client, build, tmp_path, capsys):
    _, made, piece = build
    redesign(
        client,
        piece,
        back="closed",
        making={"details": [{"key": "r", "kind": "rivets", "name": "rivets", "size": 8, "count": 4}]},
    )
    (tmp_path / "build.json").write_text(client.get(f"/api/builds/{made}/build.json").text)
    with suppress(SystemExit):
        app(["steps", str(tmp_path / "build.json"), "--out", str(tmp_path / "out")])
    names = {p.name for p in (tmp_path / "out").iterdir()}
    title = client.get(f"/api/builds/{made}").json()["pieces"][0]["name"]
    assert {
        f"{title} steps.csv",
        f"{title} bench sheet.pdf",
        f"{title} finish.pdf",
        f"{title} masks.svg",
        "order.json",
    } <= names
    capsys.readouterr()
    with suppress(SystemExit):
        app(["check", str(tmp_path / "build.json")])
    assert "can be made" in capsys.readouterr().out
    told = json.loads((tmp_path / "build.json").read_text())
    told["pieces"][0]["making"]["finishes"] = [{"stack": {"name": "raw", "layers": [{"kind": "acrylic"}]}}]
    told["pieces"][0]["making"]["own_order"] = [{"first": "final-fit", "then": "cut"}]
    (tmp_path / "odd.json").write_text(json.dumps(told))
    with suppress(SystemExit):
        app(["check", str(tmp_path / "odd.json")])
    said = capsys.readouterr().out
    assert "raw: Acrylic goes straight on sealed foam" in said
    assert "cannot come before" in said
    order = json.loads((tmp_path / "out" / "order.json").read_text())
    (told,) = order["pieces"]
    assert [s["key"] for s in told["steps"]] == list(steps_of(client, piece))
    assert all(set(s["after"]) <= {x["key"] for x in told["steps"]} for s in told["steps"])
    assert order["schools"]["glue"] == "by joint"
    steps = steps_of(client, piece)
    assert {s["key"]: (s["how"], s["why"]) for s in told["steps"]} == {
        k: (s["how"], s["reason"]) for k, s in steps.items()
    }
    table = csv.DictReader((tmp_path / "out" / f"{title} steps.csv").open(newline=""))
    assert [row["how"] for row in table] == [s["how"] for s in told["steps"]]
    # The sheet for the wall, read back: how each step is done and what is asked, nothing past its margins.
    pages = pypdf.PdfReader(tmp_path / "out" / f"{title} bench sheet.pdf").pages
    words = " ".join(" ".join(p.extract_text() for p in pages).split())
    for step in told["steps"]:
        assert " ".join(step["how"].split()) in words, step["key"]
        assert step["question"] in words
        assert step["if_no"] in words
    lowest, widest = [], []
    for page in pages:
        page.extract_text(
            visitor_text=lambda text, cm, tm, font, size: (
                text.strip() and (lowest.append(tm[5] * cm[3] + cm[5]), widest.append(tm[4] * cm[0] + cm[4]))
            )
        )
    assert min(lowest) > 8 * 72 / 25.4
    assert max(widest) < 595
