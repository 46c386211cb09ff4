"""Names of people all over the world: on paper as they are, in files as every system takes them."""

import io
import xml.etree.ElementTree as ET
import zipfile

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pypdf import PdfReader
from typer.testing import CliRunner

from tests.bodies import WEARER
from tests.depth import long
from vellumcut.cli import app
from vellumcut.core.cast.stations import build_tube
from vellumcut.core.flatten.mesh import EDIT_SIZE
from vellumcut.core.ink.library.table import starter_design
from vellumcut.core.ink.regions import read_ink
from vellumcut.core.ink.templates import ink_sheet
from vellumcut.core.pattern.pattern import pattern_piece
from vellumcut.formats.keeping.build_json import BuildFile, BuildPiece, BuildWearer, write_build
from vellumcut.formats.names import safe_name, safe_names
from vellumcut.formats.pattern.pdf import write_pdf
from vellumcut.formats.pattern.sheet_svg import write_sheet
from vellumcut.formats.pattern.svg import write_svg

FORBIDDEN = set('<>:"/\\|?*') | {chr(c) for c in range(32)}


@given(st.lists(st.text(min_size=1, max_size=120), unique=True, max_size=12))
def test_every_title_has_a_name_of_its_own_that_every_system_takes(titles):
    names = safe_names(titles)
    assert list(names) == titles
    assert len({n.casefold() for n in names.values()}) == len(titles)
    for name in names.values():
        assert name == name.strip()
        assert 0 < len(name.encode()) < 200
        assert not FORBIDDEN & set(name)
        assert not name.endswith((".", " "))


@pytest.mark.parametrize("device", ["CON", "nul", "Com1", "lpt9"])
def test_a_devices_name_is_not_left_as_it_is(device):
    assert safe_name(device).lower() != device.lower()


@pytest.mark.parametrize(
    "title",
    ["Przełęcz Łucznika", "Πανοπλία", "Кираса", "鎧の胸当て", "흉갑", "ชุดเกราะ" * 15, "Moth ⚔ knight"],
)
def test_letters_of_many_alphabets_are_on_the_pages(title):
    made = pattern_piece(WEARER, starter_design("bracer"), title, "Build", EDIT_SIZE)
    cover = PdfReader(io.BytesIO(write_pdf(made, "A4"))).pages[0].extract_text()
    assert title[:12] in cover.replace("\n", "")


def test_words_from_right_to_left_are_drawn_so_that_they_read():
    made = pattern_piece(WEARER, starter_design("bracer"), "שריון 7", "Build", EDIT_SIZE)
    drawn = PdfReader(io.BytesIO(write_pdf(made, "A4"))).pages[0].extract_text()
    # The reader puts what it finds drawn from right to left back into the order it is read in.
    assert "שריון" in drawn


@pytest.mark.parametrize("title", ["a\x00b\x1fc", "\ud800lone", "<&>\u202e", "\x85"])
def test_svg_is_well_formed_whatever_a_piece_is_called(title):
    design = starter_design("bracer")
    tube = build_tube(WEARER, "forearm", "left")
    sheet = ink_sheet(tube, design)
    for text in (
        write_sheet(tube, sheet, read_ink(tube, sheet), title),
        write_svg(pattern_piece(WEARER, design, title, "B", EDIT_SIZE)),
    ):
        ET.fromstring(text.encode())


@long
def test_two_pieces_whose_names_differ_in_forbidden_signs_alone_are_both_written(tmp_path):
    pieces = tuple(BuildPiece(template="bracer", name=n) for n in ("Left/1", "Left:1", "left 1"))
    build = BuildFile(name="B", wearer=BuildWearer(measurements=WEARER), pieces=pieces)
    (tmp_path / "build.json").write_text(write_build(build))
    done = CliRunner().invoke(
        app, ["pattern", str(tmp_path / "build.json"), "--out", str(tmp_path / "out"), "--format", "svg"]
    )
    assert done.exit_code == 0, done.output
    assert len({p.name.lower() for p in (tmp_path / "out").iterdir()}) == 3
    packed = tmp_path / "b.vellumcut.zip"
    assert CliRunner().invoke(app, ["bundle", str(tmp_path / "build.json"), "--out", str(packed)]).exit_code == 0
    with zipfile.ZipFile(packed) as zipped:
        assert sum(n.endswith("pattern.pdf") for n in zipped.namelist()) == 3
