"""Written patterns, read back by independent libraries and measured in millimetres."""

import io
import math
import re

import ezdxf
import numpy as np
import pypdf
import pytest
import shapely
import svgelements

from tests.bodies import WEARER, bare, limb, measures
from vellumcut.core.design.piece import EndDesign
from vellumcut.core.errors import CraftError
from vellumcut.core.flatten.mesh import CUT_SIZE
from vellumcut.core.ink.library.table import starter_design
from vellumcut.core.pattern.fold import on_the_fold
from vellumcut.core.pattern.pages import MARGIN, PAPERS, check_scale, plan_pages
from vellumcut.core.pattern.pattern import pattern_piece
from vellumcut.formats.pattern.dxf import write_dxf
from vellumcut.formats.pattern.pdf import write_pdf
from vellumcut.formats.pattern.svg import LAYERS, write_svg

POINT = 25.4 / 72
GREAVE = pattern_piece(
    WEARER,
    starter_design("greave").model_copy(update={"upper": EndDesign(shape="pointed", point=40)}),
    "Greaves of Œłśé & <Sons>",
    "Build",
    CUT_SIZE,
)
APART = pattern_piece(
    measures(
        limb("forearm", (0, 138, 240), (168, 252, 262), side="left"),
        limb("forearm", (0, 138, 240), (172, 259, 270), side="right"),
    ),
    starter_design("bracer"),
    "Bracers",
    "Build",
    CUT_SIZE,
)


def strokes(page: pypdf.PageObject):
    """Every stroked path of a page: (line width, points in mm), following the transformation matrix."""
    matrix, width, stack, path, found = np.eye(3), 1.0, [], [], []
    rectangles = []
    for operands, operator in pypdf.generic.ContentStream(page.get_contents(), page.pdf).operations:
        values = [float(v) for v in operands] if operator in (b"cm", b"m", b"l", b"re", b"w") else []
        if operator == b"q":
            stack.append((matrix, width))
        elif operator == b"Q":
            matrix, width = stack.pop()
        elif operator == b"cm":
            a, b, c, d, e, f = values
            matrix = np.array([[a, b, 0], [c, d, 0], [e, f, 1]]) @ matrix
        elif operator == b"w":
            width = values[0]
        elif operator in (b"m", b"l"):
            if operator == b"m":
                path = []
                found.append((width, path))
            path.append((np.array([*values, 1]) @ matrix)[:2] * POINT)
        elif operator == b"re":
            x, y, w, h = values
            corners = [np.array([px, py, 1]) @ matrix for px, py in ((x, y), (x + w, y), (x + w, y + h), (x, y + h))]
            rectangles.append(np.array(corners)[:, :2] * POINT)
    return [(w, np.array(p)) for w, p in found if len(p) > 1], rectangles


def sides(rectangle):
    return [float(np.linalg.norm(rectangle[k] - rectangle[k - 1])) for k in range(4)]


@pytest.mark.parametrize(("unit", "side"), [("mm", 100.0), ("in", 101.6)])
@pytest.mark.parametrize("paper", list(PAPERS))
def test_the_test_square_is_true(paper, unit, side):
    reader = pypdf.PdfReader(io.BytesIO(write_pdf(GREAVE, paper, unit)))
    _, rectangles = strokes(reader.pages[0])
    assert any(sides(r) == pytest.approx([side] * 4, abs=0.01) for r in rectangles)
    box = reader.pages[0].mediabox
    assert (float(box.width) * POINT, float(box.height) * POINT) == pytest.approx(PAPERS[paper], abs=0.01)


def test_a_print_correction_scales_square_and_pattern_alike():
    reader = pypdf.PdfReader(io.BytesIO(write_pdf(GREAVE, "A4", scale=1.02)))
    _, rectangles = strokes(reader.pages[0])
    assert any(sides(r) == pytest.approx([102.0] * 4, abs=0.01) for r in rectangles)
    assert assembled(reader, GREAVE, "A4", 1.02).length == pytest.approx(GREAVE.panels[0].flat.outline_length, abs=0.2)


def assembled(reader, pattern, paper, scale=1.0, panel=0, thin=False):
    """Tape the pages together: cut lines moved to where the page's name says, shared strips trimmed from one of the
    two."""
    plan = plan_pages(pattern.panels[panel].flat.outline, paper, scale)
    code = pattern.panels[panel].label.code
    tiles = {t.name: t for t in plan.tiles}
    places = {(t.column, t.row) for t in plan.tiles}
    lines = []
    for page in reader.pages[1:]:
        text = page.extract_text()
        name = re.search(r"page (\w\d+)", text)
        if code not in text or name is None:
            continue
        tile = tiles[name.group(1)]
        left = tile.x + (12 if (tile.column - 1, tile.row) in places else 0)
        low = tile.y + (12 if (tile.column, tile.row + 1) in places else 0)
        kept = shapely.box(left, low, tile.x + plan.tile[0] + 0.01, tile.y + plan.tile[1] + 0.01)
        paths, _ = strokes(page)
        thickest = max(w for w, _ in paths)
        for width, points in paths:
            assert points.min() >= MARGIN - 0.01
            if (width < thickest) == thin:
                lines.append(shapely.LineString((points - MARGIN) / scale + [tile.x, tile.y]).intersection(kept))
    return shapely.MultiLineString([part for line in lines for part in shapely.get_parts(line) if part.length > 0])


@pytest.mark.parametrize("paper", list(PAPERS))
def test_the_outline_is_whole_across_page_joins(paper):
    reader = pypdf.PdfReader(io.BytesIO(write_pdf(GREAVE, paper)))
    plan = plan_pages(GREAVE.panels[0].flat.outline, paper)
    assert len(reader.pages) == 1 + len(plan.tiles)
    ring = shapely.LinearRing(GREAVE.panels[0].flat.outline)
    joined = assembled(reader, GREAVE, paper)
    assert shapely.hausdorff_distance(joined, ring) < 0.1
    assert joined.length == pytest.approx(ring.length, abs=0.2)
    assert ring.length == pytest.approx(GREAVE.panels[0].flat.outline_length, abs=0.05)


def test_panels_of_both_sides_are_printed():
    reader = pypdf.PdfReader(io.BytesIO(write_pdf(APART, "A4")))
    for k, panel in enumerate(APART.panels):
        assert assembled(reader, APART, "A4", panel=k).length == pytest.approx(panel.flat.outline_length, abs=0.2)
    cover = reader.pages[0].extract_text()
    assert "BC 1 L: cut 1, left" in cover
    assert "actual size, without scaling" in cover


def test_pages_with_nothing_on_them_are_left_out():
    thin = np.array([[0, 0], [600, 590], [600, 600], [590, 600], [0, 10]], dtype=float)
    plan = plan_pages(thin, "A4")
    assert len(plan.tiles) < plan.columns * plan.rows
    covered = shapely.union_all([shapely.box(t.x, t.y, t.x + plan.tile[0], t.y + plan.tile[1]) for t in plan.tiles])
    assert covered.buffer(0.001).contains(shapely.Polygon(thin))


def test_neighbouring_pages_share_their_strip():
    plan = plan_pages(GREAVE.panels[0].flat.outline, "A4")
    by_place = {(t.column, t.row): t for t in plan.tiles}
    for (column, row), tile in by_place.items():
        right = by_place.get((column + 1, row))
        if right:
            assert tile.x + plan.tile[0] - right.x == pytest.approx(12)


@pytest.mark.parametrize("pattern", [GREAVE, APART])
def test_svg_is_in_millimetres_with_named_layers(pattern):
    text = write_svg(pattern)
    drawing = svgelements.SVG.parse(io.StringIO(text), ppi=25.4)
    names = [g.values.get("class") for g in drawing.elements() if isinstance(g, svgelements.Group)]
    assert [n for n in names if n in LAYERS] == list(LAYERS)
    paths = {p.values["id"]: p for p in drawing.elements() if isinstance(p, svgelements.Path) and p.values.get("id")}
    for panel in pattern.panels:
        outline = paths[f"{panel.label.code} outline"]
        assert outline.length(error=1e-6) == pytest.approx(panel.flat.outline_length, abs=0.2)
        x0, y0, x1, y1 = outline.bbox()
        width, height = np.ptp(panel.flat.outline, axis=0)
        assert (x1 - x0, y1 - y0) == pytest.approx((width, height), abs=0.05)
        assert outline.first_point == outline.current_point
        ticks = sum(m.ticks for m in panel.flat.marks)
        assert len(list(paths[f"{panel.label.code} marks"].as_subpaths())) == ticks
    assert float(drawing.width) == pytest.approx(float(re.search(r'viewBox="0 0 ([\d.]+)', text).group(1)), abs=0.01)


def test_folds_inside_a_panel_leave_with_it():
    """A crease as long as the body's ridge, on its own layer of each format, and on the half that is cut on the
    fold."""
    for template, choices in (("ridged greave", {"ridge": "fold"}), ("breastplate", {"front": "cross-fold"})):
        design = starter_design(template).model_copy(update={"choices": choices})
        pattern = pattern_piece(WEARER, design, "P", "B", CUT_SIZE)
        (flat,) = (p.flat for p in pattern.panels)
        surface, (ink,) = pattern.inked["left"].surface, pattern.inked["left"].panels
        assert len(flat.lines) == len(ink.inside) > 0
        for line, on_body in zip(flat.lines, ink.inside, strict=True):
            far = np.linalg.norm(np.diff(surface.points(on_body.uv), axis=0), axis=1).sum()
            given = flat.summary.worst / 100 + 0.01
            assert shapely.LineString(line.points).length == pytest.approx(far, rel=given)
            assert flat.shape.buffer(0.5).contains(shapely.LineString(line.points))
        long = sum(shapely.LineString(x.points).length for x in flat.lines)
        drawing = svgelements.SVG.parse(io.StringIO(write_svg(pattern)), ppi=25.4)
        layer = next(
            g for g in drawing.select() if g.values.get("class") == "fold" and isinstance(g, svgelements.Group)
        )
        assert sum(p.length() for p in layer) == pytest.approx(long, abs=0.1)
        document = ezdxf.read(io.StringIO(write_dxf(pattern).decode()))
        found = document.modelspace().query('LWPOLYLINE[layer=="fold"]')
        assert sum(shapely.LineString(list(x.vertices())).length for x in found) == pytest.approx(long, abs=0.1)
        printed = assembled(pypdf.PdfReader(io.BytesIO(write_pdf(pattern, "A4"))), pattern, "A4", thin=True)
        for line in flat.lines:
            on_paper = printed.intersection(shapely.LineString(line.points).buffer(0.05)).length
            assert on_paper > 0.98 * shapely.LineString(line.points).length
        (half,) = (p.flat for p in on_the_fold(pattern).panels)
        assert sum(shapely.LineString(x.points).length for x in half.lines) >= long / 2 - 1
        assert half.shape.buffer(0.5).contains(shapely.MultiLineString([x.points for x in half.lines]))


def test_up_on_the_limb_is_up_in_the_drawing():
    tapered = pattern_piece(WEARER, bare(), "Bracers", "", CUT_SIZE)
    flat = tapered.panels[0].flat
    assert flat.edge("upper edge").points()[:, 1].mean() > flat.edge("lower edge").points()[:, 1].mean()
    drawing = svgelements.SVG.parse(io.StringIO(write_svg(tapered)), ppi=25.4)
    outline = next(
        p for p in drawing.elements() if isinstance(p, svgelements.Path) and "outline" in (p.values.get("id") or "")
    )
    points = np.array([outline.point(t) for t in np.linspace(0, 1, 800)])
    top, bottom = points[points[:, 1] < np.median(points[:, 1])], points[points[:, 1] >= np.median(points[:, 1])]
    assert np.ptp(top[:, 0]) > np.ptp(bottom[:, 0])


@pytest.mark.parametrize(
    ("measured", "good"), [(100.0, True), (100.4, True), (99.6, True), (100.6, False), (99.4, False), (97.0, False)]
)
def test_more_than_half_a_per_cent_off_is_said_and_corrected(measured, good):
    check = check_scale(measured)
    assert check.good is good
    assert measured * check.correction == pytest.approx(measured if good else 100.0)
    assert check_scale(4 * 25.4, "in").good


@pytest.mark.parametrize("measured", [0, 10, 4000, math.inf])
def test_a_square_that_is_no_square_is_questioned(measured):
    with pytest.raises(CraftError, match="too far off"):
        check_scale(measured)
    with pytest.raises(CraftError, match="print correction"):
        plan_pages(GREAVE.panels[0].flat.outline, "A4", 9.0)
