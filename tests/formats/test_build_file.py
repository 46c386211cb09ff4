"""BUILD.json: the documented example works, and bad files are refused in a sentence each."""

import csv
import io
import json
import re
import subprocess
import sys
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError
from typer.testing import CliRunner, Result

from tests.depth import often
from vellumcut.cli import app
from vellumcut.core.errors import CraftError
from vellumcut.formats.csv_table import write_csv
from vellumcut.formats.keeping.build_json import build_schema, read_build, write_build
from vellumcut.formats.problems import plain_problems

DOCS = Path(__file__).parents[2] / "docs" / "formats.md"
EXAMPLE = re.search(r"```json\n(.*?)```", DOCS.read_text(encoding="utf-8"), re.S).group(1)


def changed(path: str, value: object) -> str:
    data = json.loads(EXAMPLE)
    *way, last = path.split(".")
    at = data
    for step in way:
        at = at[int(step)] if isinstance(at, list) else at[step]
    at[int(last) if isinstance(at, list) else last] = value
    return json.dumps(data)


def told(*arguments: str) -> Result:
    """What a command answers, in this process: it need not load everything once more."""
    return CliRunner().invoke(app, list(arguments), catch_exceptions=False)


def run(*arguments: str) -> subprocess.CompletedProcess:
    return subprocess.run(
        [sys.executable, "-m", "vellumcut.cli", *arguments], capture_output=True, text=True, timeout=120, check=False
    )


def test_the_documented_example_is_read_and_survives_writing():
    build = read_build(EXAMPLE)
    assert [p.title for p in build.pieces] == ["Bracers", "Dress bracer, left"]
    assert build.wearer.measurements.limbs[0].stations["belly"].girth == pytest.approx(9.75 * 25.4)
    assert read_build(write_build(build)) == build


def test_the_command_line_makes_the_documented_example(tmp_path):
    file = tmp_path / "BUILD.json"
    file.write_text(EXAMPLE, encoding="utf-8")
    checked = told("check", str(file))
    assert checked.exit_code == 0, checked.output
    assert "2 pieces can be made" in checked.stdout
    done = run("pattern", str(file), "--out", str(tmp_path / "out"))
    assert done.returncode == 0, done.stderr
    names = {p.name for p in (tmp_path / "out").iterdir()}
    assert names == {
        f"{stem}.{ending}" for stem in ("Bracers", "Dress bracer_ left") for ending in ("svg", "pdf", "json")
    }
    data = json.loads((tmp_path / "out" / "Bracers.json").read_text(encoding="utf-8"))
    panel = data["panels"][0]
    assert panel["strain"]["p95"] < 2.5
    assert len(panel["outline"]) > 400
    assert {e["name"] for e in panel["edges"]} == {"lower edge", "upper edge", "closing edge A", "closing edge B"}
    one = told("pattern", str(file), "--out", str(tmp_path / "one"), "--piece", "Bracers", "--format", "svg")
    assert one.exit_code == 0
    assert [p.name for p in (tmp_path / "one").iterdir()] == ["Bracers.svg"]


def test_the_schema_is_printed_and_is_the_file_s_own():
    printed = json.loads(told("schema").stdout)
    assert printed == build_schema()
    assert printed["additionalProperties"] is False


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("{", "not valid JSON"),
        ("[" * 100_000, "too deeply"),
        ("null", "must be a group of fields"),
        (b"\xff\xfe\x00", "not text"),
        (changed("wearer.measurements.limbs.0.stations.wrist.girth", "wide"), "is not a length"),
        (changed("wearer.measurements.limbs.0.stations.wrist.girth", True), "not yes or no"),
        (changed("wearer.measurements.limbs.0.stations.wrist.girth", 1e99), "at most 20000"),
        (changed("wearer.measurements.limbs.0.stations.wrist.girth", -5), "at least 0"),
        (changed("pieces.0.template", "wing"), "must be one of"),
        (changed("pieces.0.colour", "red"), "not a field known here"),
        (changed("pieces.0.foam", 0), "at least 0.5"),
        (changed("wearer.measurements.taken_on", "yesterday"), "must be a date"),
        (changed("version", 2), "must be one of 1"),
        (changed("pieces", {}), "must be a list"),
        (EXAMPLE.replace('"foam": 6', '"foam": NaN'), "not a number that can be cut"),
    ],
)
def test_bad_files_are_refused_in_a_sentence(text, words):
    with pytest.raises((CraftError, ValidationError)) as refused:
        read_build(text)
    said = "; ".join(p.message for p in plain_problems(refused.value))
    assert words in said
    assert "Traceback" not in said
    assert len(said) < 400


@settings(max_examples=often(60), deadline=None)
@given(
    st.recursive(
        st.none() | st.booleans() | st.floats() | st.text(),
        lambda inner: st.lists(inner) | st.dictionaries(st.text(), inner),
    )
)
def test_any_json_is_refused_with_words(value):
    with pytest.raises((CraftError, ValidationError)) as refused:
        read_build(json.dumps(value))
    assert all(p.message for p in plain_problems(refused.value))


@pytest.mark.parametrize(
    ("arguments", "words"),
    [
        (["check", "missing.json"], "cannot be read"),
        (["pattern", "good.json", "--out", "out", "--format", "docx"], "not a list of svg, dxf, pdf, card, json"),
        (["pattern", "good.json", "--out", "out", "--piece", "Wings"], 'no piece "Wings"'),
        (["pattern", "good.json", "--out", "good.json/below"], "cannot be written"),
        (["check", "stopped.json"], "it needs 30 mm"),
    ],
)
def test_the_command_line_ends_with_2_and_a_sentence(arguments, words, tmp_path, monkeypatch):
    (tmp_path / "good.json").write_text(EXAMPLE, encoding="utf-8")
    (tmp_path / "stopped.json").write_text(changed("pieces.0.upper", {"inset": 229}), encoding="utf-8")
    monkeypatch.chdir(tmp_path)
    done = told(*arguments)
    assert done.exit_code == 2
    assert words in done.output


def test_csv_is_read_back_and_runs_no_formulas():
    text = write_csv(("a", "b"), [("x,y", 1.23456), ('say "hi"', None), ("=1+1", -2)])
    assert list(csv.reader(io.StringIO(text))) == [["a", "b"], ["x,y", "1.23"], ['say "hi"', ""], ["'=1+1", "-2"]]


def test_pieces_of_one_name_are_numbered():
    build = read_build(changed("pieces.1.name", "Bracers"))
    assert [p.title for p in build.pieces][:2] == ["Bracers", "Bracers 2"]
