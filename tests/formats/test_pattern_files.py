"""Pattern files read back: our own within 0.1 mm with marks and names, and strangers' without harm."""

import io

import ezdxf
import numpy as np
import pytest
import shapely
from reportlab.pdfgen.canvas import Canvas

from tests.formats.test_patterns_read_back import APART, GREAVE
from vellumcut.core.errors import CraftError
from vellumcut.core.pattern.as_cut import as_cut
from vellumcut.core.pattern.pattern import PiecePattern
from vellumcut.formats.pattern.drawn_panels import panels_of
from vellumcut.formats.pattern.dxf import write_dxf
from vellumcut.formats.pattern.pattern_files import HowToRead, read_pattern_file
from vellumcut.formats.pattern.pdf import write_pdf
from vellumcut.formats.pattern.read_dxf import read_dxf
from vellumcut.formats.pattern.read_pdf import read_pdf
from vellumcut.formats.pattern.read_svg import read_svg
from vellumcut.formats.pattern.svg import write_svg

WAYS = {
    "svg": lambda p: panels_of(read_svg(write_svg(p).encode())).shapes,
    "dxf": lambda p: panels_of(read_dxf(write_dxf(p))).shapes,
    "pdf": lambda p: panels_of(read_pdf(write_pdf(p, "A4"))).shapes,
    "pdf, Letter": lambda p: panels_of(read_pdf(write_pdf(p, "Letter"))).shapes,
}


@pytest.mark.parametrize("way", WAYS)
@pytest.mark.parametrize("pattern", [as_cut(GREAVE), APART], ids=["a greave", "two bracers"])
def test_a_pattern_of_ours_comes_back_as_it_left(way, pattern: PiecePattern):
    shapes = WAYS[way](pattern)
    assert [s.name for s in shapes] == [p.label.code for p in pattern.panels]
    for shape, panel in zip(shapes, pattern.panels, strict=True):
        truth = np.vstack([e.points(0.05)[:-1] for e in panel.flat.edges])
        shift = np.array(shape.outline).min(0) - truth.min(0)
        a, b = shapely.LinearRing(shape.outline), shapely.LinearRing(truth + shift)
        assert shapely.hausdorff_distance(a, b) < 0.1
        assert len(panel.flat.hole_rings) == len(shape.holes)
        ticks = [line + shift for m in panel.flat.marks for line in m.lines]
        drawn = shapely.MultiLineString([x.points for x in shape.lines if x.kind == "mark"])
        for tick in ticks:
            assert drawn.distance(shapely.Point(tick.mean(0))) < 0.1
        wanted = len(ticks) + 1 + len(panel.flat.lines)
        assert len(shape.lines) == wanted, "all of it, and nothing that was for taping pages or for the label"


def written(tmp_path, name: str, content: bytes):
    path = tmp_path / name
    path.write_bytes(content)
    return path


SQUARE = (
    '<svg xmlns="http://www.w3.org/2000/svg" {size}><path d="M0 0 H{w} V{w} H0 Z"/><text x="9" y="9">7B</text></svg>'
)


def test_numbers_without_a_unit_are_asked_for(tmp_path):
    path = written(tmp_path, "a.svg", SQUARE.format(size="", w=4).encode())
    with pytest.raises(CraftError, match="millimetres or inches"):
        read_pattern_file(path, "a.svg")
    (shape,) = read_pattern_file(path, "a.svg", HowToRead("in")).shapes
    assert np.ptp(np.array(shape.outline), axis=0) == pytest.approx([101.6, 101.6])
    told = written(
        tmp_path, "b.svg", SQUARE.format(size='width="10cm" height="10cm" viewBox="0 0 50 50"', w=50).encode()
    )
    (shape,) = read_pattern_file(told, "b.svg").shapes
    assert np.ptp(np.array(shape.outline), axis=0) == pytest.approx([100, 100])
    assert [t.words for t in shape.texts] == ["7B"]


def test_a_drawing_of_loose_lines_and_arcs_is_closed_to_panels():
    document = ezdxf.new()
    document.header["$INSUNITS"] = 1
    space = document.modelspace()
    for a, b in (((0, 0), (8, 0)), ((8, 4), (0, 4)), ((0, 4), (0, 0))):
        space.add_line(a, b)
    space.add_arc((8, 2), 2, -90, 90)
    space.add_circle((3, 2), 0.5)
    space.add_line((1, 1), (6, 1))
    out = io.StringIO()
    document.write(out)
    (shape,) = panels_of(read_dxf(out.getvalue().encode())).shapes
    assert shapely.Polygon(shape.outline).area == pytest.approx((32 + 2 * np.pi) * 25.4**2, rel=1e-3)
    assert len(shape.holes) == 1
    assert len(shape.lines) == 1


def pdf(draw) -> bytes:
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=(600, 800))
    draw(canvas)
    canvas.save()
    return out.getvalue()


def test_a_strangers_pdf_is_read_at_full_size():
    def draw(canvas):
        canvas.translate(100, 100)
        canvas.scale(2, 2)
        canvas.rect(0, 0, 72, 144)
        canvas.drawString(20, 60, "Front 1")

    (shape,) = panels_of(read_pdf(pdf(draw))).shapes
    assert np.ptp(np.array(shape.outline), axis=0) == pytest.approx([50.8, 101.6], abs=0.01)
    assert shape.name == "Front 1"
    with pytest.raises(CraftError, match="no lines"):
        read_pdf(pdf(lambda canvas: canvas.drawString(20, 60, "words")))


BOMB = (
    b'<!DOCTYPE x [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;">]>'
    b'<svg xmlns="http://www.w3.org/2000/svg"><text>&b;</text></svg>'
)


@pytest.mark.parametrize(
    ("name", "content", "words"),
    [
        ("a.svg", BOMB, "entities"),
        ("a.svg", b"\x89PNG\r\n\x1a\n....", "not an SVG"),
        ("a.svg", b'<svg xmlns="http://www.w3.org/2000/svg" width="9mm"><path d="M0 0 L5 5"/></svg>', "No closed line"),
        ("a.dxf", b"%PDF-1.4 nonsense", "not a DXF|No closed line"),
        ("a.pdf", b"<svg/>", "not a PDF"),
        ("a.pdf", b"", "empty"),
        ("a.exe", b"MZ", "no pattern file"),
    ],
    ids=[
        "entities",
        "a picture",
        "nothing closed",
        "a PDF by another name",
        "an SVG by another name",
        "empty",
        "a program",
    ],
)
def test_bad_files_are_refused_in_a_sentence(tmp_path, name, content, words):
    with pytest.raises(CraftError, match=words):
        read_pattern_file(written(tmp_path, name, content), name, HowToRead("mm"))


def test_nothing_a_file_points_at_is_fetched(tmp_path):
    secret = written(tmp_path, "secret.svg", SQUARE.format(size='width="99mm"', w=99).encode())
    pointing = f"""<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" width="60mm"
    height="60mm"
      viewBox="0 0 60 60"><image xlink:href="file://{secret}" width="50" height="50"/><use xlink:href="{secret}#a"/>
      <path d="M0 0H50V50H0Z"/></svg>"""
    shapes = read_pattern_file(written(tmp_path, "p.svg", pointing.encode()), "p.svg").shapes
    assert [round(float(np.ptp(np.array(s.outline)[:, 0])), 3) for s in shapes] == [50.0]


MM = 72 / 25.4
TILE = np.array([180.0, 260.0])
LAP = 12.0


def tiled(outline: np.ndarray, columns: int, rows: int, marks: bool) -> bytes:
    """Another program's pages: the whole drawing as a form on each, cut off at a window with a frame; crosses at its
    corners."""
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=(210 * MM, 297 * MM))
    canvas.beginForm("all", 0, 0, 2000, 2000)
    path = canvas.beginPath()
    path.moveTo(*(outline[0] * MM))
    for p in outline[1:]:
        path.lineTo(*(p * MM))
    path.close()
    canvas.drawPath(path)
    canvas.line(60 * MM, 60 * MM, 320 * MM, 330 * MM)
    canvas.endForm()
    for row in range(rows):
        for column in range(columns):
            low = np.array([column, rows - 1 - row]) * (TILE - LAP)
            canvas.saveState()
            window = canvas.beginPath()
            window.rect(15 * MM, 15 * MM, *(TILE * MM))
            canvas.clipPath(window, stroke=1)
            canvas.translate(*((15 - low) * MM))
            canvas.doForm("all")
            canvas.restoreState()
            for x, y in (
                ((LAP / 2, LAP / 2), (LAP / 2, -LAP / 2), (-LAP / 2, LAP / 2), (-LAP / 2, -LAP / 2)) if marks else ()
            ):
                at = (15 + np.array([x, y]) % TILE) * MM
                canvas.line(at[0] - 12, at[1], at[0] + 12, at[1])
                canvas.line(at[0], at[1] - 12, at[0], at[1] + 12)
            canvas.drawString(20 * MM, 8 * MM, f"Sheet {row * columns + column + 1}")
            canvas.showPage()
    canvas.save()
    return out.getvalue()


@pytest.mark.parametrize("marks", [True, False])
@pytest.mark.parametrize(("columns", "rows"), [(3, 2), (2, 2), (1, 2)])
def test_a_strangers_pages_are_laid_by_their_crosses_or_by_hand(columns, rows, marks):
    turns = np.linspace(0, 2 * np.pi, 90, endpoint=False)
    high, wide = rows * (TILE[1] - LAP) / 2 - 15, columns * (TILE[0] - LAP) / 2 - 15
    outline = np.column_stack([np.cos(turns) * wide, np.sin(turns) * high * (1 + 0.1 * np.cos(3 * turns))]) * 0.9 + (
        wide + 10,
        high + 12,
    )
    content = tiled(outline, columns, rows, marks)
    places = (
        []
        if marks
        else [(c * (TILE[0] - LAP) + 0.1, -r * (TILE[1] - LAP)) for r in range(rows) for c in range(columns)]
    )
    (shape,) = panels_of(read_pdf(content, places)).shapes
    truth = shapely.Polygon(outline)
    found = shapely.Polygon(shape.outline)
    low, other = np.array(found.bounds[:2]), np.array(truth.bounds[:2])
    moved = shapely.transform(found, lambda p: p - low + other)
    limit = 0.05 if marks else 0.25
    assert shapely.hausdorff_distance(moved.exterior, truth.exterior) < limit
    if columns > 1:
        (line,) = shape.lines
        assert np.hypot(*np.subtract(line.points[-1], line.points[0])) == pytest.approx(np.hypot(260, 270), abs=1.0)


def test_pages_that_tell_nothing_stay_apart_until_they_are_laid():
    outline = np.array([[10.0, 10.0], [300.0, 10.0], [300.0, 200.0], [10.0, 200.0]])
    content = tiled(outline, 2, 1, marks=False)
    with pytest.raises(CraftError, match="join the pages"):
        panels_of(read_pdf(content))
    with pytest.raises(CraftError, match="2 pages, and 1 were laid"):
        read_pdf(content, [(0, 0)])
