"""DXF, record card, halves on the fold and strips, read back by independent libraries and measured."""

import io
import json

import ezdxf
import numpy as np
import pypdf
import pytest
import shapely
import svgelements
from ezdxf import path as dxf_path

from tests.bodies import TRUNK, WEARER, limb, measures
from tests.formats.test_build_file import EXAMPLE, changed, told
from vellumcut.core.flatten.mesh import CUT_SIZE
from vellumcut.core.ink.library.table import starter_design
from vellumcut.core.pattern.fold import on_the_fold
from vellumcut.core.pattern.pattern import pattern_piece
from vellumcut.core.pattern.regrade import compare_patterns
from vellumcut.core.pattern.strips import strips_pattern
from vellumcut.core.trace.view.cards import COUNT, cells
from vellumcut.core.units import parse_length
from vellumcut.formats.body.marker_cards import write_marker_cards
from vellumcut.formats.pattern.card import SCALES, write_card
from vellumcut.formats.pattern.dxf import write_dxf
from vellumcut.formats.pattern.pdf import write_pdf
from vellumcut.formats.pattern.svg import LAYERS, write_svg

CUPS = pattern_piece(
    WEARER.model_copy(update={"torso": TRUNK}),
    starter_design("breastplate").model_copy(update={"choices": {"front": "cups"}}),
    "Breastplate",
    "Build",
    CUT_SIZE,
)


def drawn(content: bytes):
    document = ezdxf.read(io.StringIO(content.decode()))
    assert not document.audit().has_errors
    return document


def test_dxf_is_in_millimetres_with_every_outline_and_hole_where_it_is():
    document = drawn(write_dxf(CUPS))
    assert document.units == ezdxf.units.MM
    assert set(LAYERS) <= {layer.dxf.name for layer in document.layers}
    curves = [e for e in document.modelspace() if e.dxf.layer == "cut"]
    lines = [shapely.LineString([(p.x, p.y) for p in dxf_path.make_path(e).flattening(0.01)]) for e in curves]
    faces = shapely.get_parts(shapely.polygonize([shapely.union_all(lines, grid_size=1e-4)]))
    whole = shapely.union_all(faces)
    cup, front = (p.flat for p in CUPS.panels)
    assert len(front.holes)
    wanted = cup.area + front.shape.area + sum(shapely.Polygon(r).area for r in front.hole_rings)
    assert whole.area == pytest.approx(wanted, rel=2e-4)
    assert sum(line.length for line in lines) == pytest.approx(cup.outline_length + front.outline_length, abs=2.0)
    ticks = [e for e in document.modelspace() if e.dxf.layer == "seam marks"]
    assert len(ticks) == sum(len(m.lines) for p in CUPS.panels for m in p.flat.marks)
    said = {e.dxf.text for e in document.modelspace() if e.dxf.layer == "label"}
    assert {"BP 1", "BP 2"} <= said


def test_the_card_holds_every_panel_at_a_round_scale_on_one_page():
    (page,) = pypdf.PdfReader(io.BytesIO(write_card(CUPS, "A4"))).pages
    words = page.extract_text()
    scale = float(words.split("card at 1 : ")[1].split(",")[0])
    assert scale in SCALES
    assert float(page.mediabox.width) * 25.4 / 72 == pytest.approx(297, abs=0.1)
    for panel in CUPS.panels:
        wide, high = np.ptp(panel.flat.outline, axis=0)
        assert f"{wide:.0f} x {high:.0f} mm" in words
        assert panel.label.code in words


def test_half_on_the_fold_needs_fewer_pages_and_says_so():
    back = pattern_piece(WEARER, starter_design("backplate"), "Backplate", "Build", CUT_SIZE)
    half = on_the_fold(back)
    whole_pages, half_pages = (pypdf.PdfReader(io.BytesIO(write_pdf(p, "A4"))).pages for p in (back, half))
    assert len(half_pages) < len(whole_pages)
    assert "cut on the fold" in "".join(p.extract_text() for p in half_pages)
    drawing = svgelements.SVG.parse(io.StringIO(write_svg(half)), ppi=25.4)
    (cut,) = [
        p for p in drawing.elements() if isinstance(p, svgelements.Path) and str(p.values.get("id")).endswith("outline")
    ]
    curves = [e for e in drawn(write_dxf(half)).modelspace() if e.dxf.layer == "cut"]
    lines = shapely.union_all([
        shapely.LineString([(p.x, p.y) for p in dxf_path.make_path(e).flattening(0.01)]) for e in curves
    ])  # fmt: skip
    # The knife does not go along the fold: half the whole cut, and open between the fold's two ends.
    for length in (cut.length(error=1e-6), lines.length):
        assert length == pytest.approx(back.panels[0].flat.outline_length / 2, rel=0.005)
    fold = float(np.linalg.norm(half.panels[0].flat.centre[0] - half.panels[0].flat.centre[-1]))
    assert abs(cut.first_point - cut.current_point) == pytest.approx(fold, abs=0.1)


def grown(by: float):
    forearm = limb("forearm", (0, 138, 240), (168 + by, 252 + by, 262 + by), (0.76, 0.93, 0.95), gate=240)
    return pattern_piece(measures(forearm), starter_design("bracer"), "Bracers", "Build", CUT_SIZE)


def test_a_strip_is_a_labelled_panel_as_large_as_what_is_missing():
    old, new = grown(0), grown(14)
    changes = compare_patterns(old, new)
    strips = strips_pattern(new, changes)
    (strip,) = strips.panels
    assert strip.flat.area == pytest.approx(new.panels[0].flat.area - old.panels[0].flat.area, rel=0.06)
    assert strip.label.code == "BC 1 L strip"
    assert changes[0].edge in strip.label.piece
    assert strip.copies == 2
    pages = pypdf.PdfReader(io.BytesIO(write_pdf(strips, "A4"))).pages
    assert "BC 1 L strip" in "".join(p.extract_text() for p in pages)
    assert strips_pattern(new, compare_patterns(new, new)) is None


def test_the_command_line_writes_every_format_and_regrades(tmp_path):
    old, new = tmp_path / "old.json", tmp_path / "new.json"
    old.write_text(EXAMPLE, encoding="utf-8")
    newer = json.loads(EXAMPLE)
    for reading in newer["wearer"]["measurements"]["limbs"][0]["stations"].values():
        reading["girth"] = parse_length(str(reading["girth"])) + 14
    new.write_text(json.dumps(newer), encoding="utf-8")
    done = told("pattern", str(old), "--out", str(tmp_path / "out"), "--format", "dxf,card", "--fold")
    assert done.exit_code == 0, done.output
    assert {p.suffix for p in (tmp_path / "out").iterdir()} == {".dxf", ".pdf"}
    done = told("regrade", str(old), str(new), "--out", str(tmp_path / "strips"))
    assert done.exit_code == 0, done.output
    assert "Glue a strip of" in done.stdout
    assert {p.suffix for p in (tmp_path / "strips").iterdir()} == {".svg", ".pdf"}
    (tmp_path / "bad.json").write_text(changed("foam_gives", [{"kind": "armour"}]), encoding="utf-8")
    assert told("regrade", str(old), str(tmp_path / "bad.json"), "--out", str(tmp_path / "x")).exit_code == 2


@pytest.mark.parametrize("paper", ["A4", "Letter"])
def test_marker_cards_are_printed_at_their_size_each_once(paper):
    """Rendered by the rules of PDF: every card's cells where its number says, the test square true."""
    pages = pypdf.PdfReader(io.BytesIO(write_marker_cards(paper))).pages
    assert len(pages) == 3
    seen = []
    for page in pages:
        boxes, colour = [], ()
        for operands, operator in pypdf.generic.ContentStream(page.get_contents(), page.pdf).operations:
            if operator == b"rg":
                colour = tuple(float(x) for x in operands)
            elif operator == b"re":
                boxes.append((colour, np.array([float(x) for x in operands]) * 25.4 / 72))
        assert any(b[2:] == pytest.approx([100, 100], abs=0.01) for _, b in boxes)
        for square in (b for c, b in boxes if c == (0, 0, 0) and b[2] == pytest.approx(60, abs=0.01)):
            read = np.zeros((6, 6), bool)
            for _, b in ((c, b) for c, b in boxes if c == (1, 1, 1) and b[2] == pytest.approx(10, abs=0.01)):
                column, row = (b[:2] - square[:2]) / 10
                if -0.5 < column < 5.5 and -0.5 < row < 5.5:
                    read[5 - round(row), round(column)] = True
            seen += [n for n in range(COUNT) if (cells(n) == read).all()]
    assert seen == list(range(COUNT))
