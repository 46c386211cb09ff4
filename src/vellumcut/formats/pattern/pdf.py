"""Patterns as full-size pages: a cover with the test square and the page map, then only pages with something on
them."""

import io

import numpy as np
import shapely
from numpy.typing import NDArray
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from vellumcut.core.pattern.drawn import DrawnPanel
from vellumcut.core.pattern.labels import label_place
from vellumcut.core.pattern.pages import MARGIN, OVERLAP, PAPERS, TEST_SQUARE, PagePlan, PaperName, Tile, plan_pages
from vellumcut.core.pattern.pattern import PiecePattern
from vellumcut.formats.lettering import lettered
from vellumcut.formats.names import plain
from vellumcut.formats.pattern.dashes import DASHES

Array = NDArray[np.float64]

GRAPHITE, FAINT = (0.18, 0.17, 0.16), (0.62, 0.58, 0.52)
CUT_LINE, THIN_LINE = 0.4 * mm, 0.2 * mm
ARROW_LINE, CROSS_LINE = 0.25 * mm, 0.15 * mm
"""Of their own, so that a page that is read back tells them from the panel's lines."""
CROSS = 5.0
UP_ARROW = (np.array([[-14.0, -30.0], [-14.0, 10.0]]), np.array([[-17.0, 4.0], [-14.0, 10.0], [-11.0, 4.0]]))
"""Shaft and head beside the label, mm from its place."""


def write_pdf(pattern: PiecePattern, paper: PaperName, unit: str = "mm", scale: float = 1.0) -> bytes:
    """1:1 pages of all drawn panels. scale: print correction from the test square. Raises CraftError."""
    traced = [p for p in pattern.to_cut if not p.by_measure]
    plans = [(panel, plan_pages(panel.flat.outline, paper, scale)) for panel in traced]
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=tuple(v * mm for v in PAPERS[paper]), pageCompression=1)
    canvas.setTitle(f"{plain(pattern.name)}, full-size pattern")
    _cover(canvas, pattern, plans, paper, unit, scale)
    for parts in ruler_pages(pattern, paper):
        _ruler_page(canvas, parts, paper)
    for panel, plan in plans:
        for tile in plan.tiles:
            _page(canvas, panel, plan, tile)
    canvas.save()
    return out.getvalue()


def _cover(
    canvas: Canvas,
    pattern: PiecePattern,
    plans: list[tuple[DrawnPanel, PagePlan]],
    paper: PaperName,
    unit: str,
    scale: float,
) -> None:
    width, height = PAPERS[paper]
    canvas.setPageSize((width * mm, height * mm))
    y = height - MARGIN - 8
    write_words(canvas, MARGIN, y, pattern.name, 18, bold=True)
    for words in _cover_lines(plans, paper, scale):
        y -= 6
        write_words(canvas, MARGIN, y, words, 10)
    side = TEST_SQUARE[unit]
    y -= 10 + side * scale
    canvas.setLineWidth(THIN_LINE)
    canvas.setStrokeColorRGB(*GRAPHITE)
    canvas.rect(MARGIN * mm, y * mm, side * scale * mm, side * scale * mm)
    words = "100 mm" if unit == "mm" else "4 in"
    write_words(canvas, MARGIN + 4, y + side * scale - 8, f"Test square: {words}", 11, bold=True)
    write_words(canvas, MARGIN + 4, y + side * scale - 14, "Measure it before you cut. If it is not", 9)
    write_words(canvas, MARGIN + 4, y + side * scale - 19, "true, type what you measured on the Cut page.", 9)
    x = MARGIN
    y -= 10
    for panel, plan in plans:
        x += _page_map(canvas, panel, plan, x, y) + 10
    canvas.showPage()


LINE = 7.0
"""Between two lines of the list of what is cut by ruler, mm."""


def ruler_pages(pattern: PiecePattern, paper: PaperName) -> list[list[DrawnPanel]]:
    """What is cut by ruler and needs no full-size page: a list instead, so many to a page."""
    parts = [p for p in pattern.to_cut if p.by_measure]
    room = max(1, int((PAPERS[paper][1] - 2 * MARGIN - 4 * LINE) // (2 * LINE)))
    return [parts[k : k + room] for k in range(0, len(parts), room)]


def _ruler_page(canvas: Canvas, parts: list[DrawnPanel], paper: PaperName) -> None:
    width, height = PAPERS[paper]
    canvas.setPageSize((width * mm, height * mm))
    y = height - MARGIN - 8
    write_words(canvas, MARGIN, y, "Cut by ruler", 18, bold=True)
    for part in parts:
        y -= 2 * LINE
        write_words(canvas, MARGIN, y, f"{part.label.code}   {part.by_measure}", 11, bold=True)
        write_words(canvas, MARGIN, y - LINE + 1, f"{part.label.piece}; {part.label.count}; {part.label.foam}", 10)
    canvas.showPage()


def _cover_lines(plans: list[tuple[DrawnPanel, PagePlan]], paper: PaperName, scale: float) -> list[str]:
    pages = sum(len(plan.tiles) for _, plan in plans)
    lines = [plans[0][0].label.build] if plans else []
    lines += [f"{panel.label.code}: {panel.label.count}; {panel.label.foam}; {panel.label.face}" for panel, _ in plans]
    lines.append(f"{pages} pattern pages of {paper}. Print at actual size, without scaling or fitting to the page.")
    if scale != 1.0:
        lines.append(f"Drawn {100 * scale:.2f} % to undo what this printer does to it.")
    lines.append(f"Trim one margin, lay the crosses over each other, tape. Pages share {OVERLAP:g} mm.")
    return lines


def _page_map(canvas: Canvas, panel: DrawnPanel, plan: PagePlan, x: float, top: float) -> float:
    """Small picture of which page goes where, its upper left corner at (x, top) mm; returns its width in mm."""
    room = 60.0
    span = (plan.columns * plan.step[0] + OVERLAP, plan.rows * plan.step[1] + OVERLAP)
    small = min(room / span[0], room / span[1])
    low_x, low_y = plan.origin
    height = span[1] * small

    def place(px: float, py: float) -> tuple[float, float]:
        return (x + (px - low_x) * small) * mm, (top - height + (py - low_y) * small) * mm

    canvas.setStrokeColorRGB(*FAINT)
    for tile in plan.tiles:
        (x0, y0), (x1, y1) = place(tile.x, tile.y), place(tile.x + plan.tile[0], tile.y + plan.tile[1])
        canvas.rect(x0, y0, x1 - x0, y1 - y0)
        write_words(canvas, x0 / mm + 1.5, y1 / mm - 4.5, tile.name, 8)
    canvas.setStrokeColorRGB(*GRAPHITE)
    path = canvas.beginPath()
    for ring in (panel.flat.outline, *panel.flat.hole_rings):
        for k, point in enumerate(ring):
            (path.lineTo if k else path.moveTo)(*place(*point))
        path.close()
    canvas.drawPath(path)
    write_words(canvas, x, top - height - 5, panel.label.code, 9, bold=True)
    return span[0] * small


def _page(canvas: Canvas, panel: DrawnPanel, plan: PagePlan, tile: Tile) -> None:
    canvas.setPageSize((plan.paper[0] * mm, plan.paper[1] * mm))
    window = shapely.box(tile.x, tile.y, tile.x + plan.tile[0], tile.y + plan.tile[1])
    canvas.setStrokeColorRGB(*GRAPHITE)
    canvas.setLineWidth(CUT_LINE)
    draw_lines(canvas, panel.flat.cut_lines, window, plan, tile)
    canvas.setLineWidth(THIN_LINE)
    draw_lines(canvas, [line for mark in panel.flat.marks for line in mark.lines], window, plan, tile)
    canvas.setDash(6 * mm, 2 * mm)
    draw_lines(canvas, [panel.flat.centre], window, plan, tile)
    for inner in panel.flat.lines:
        canvas.setDash([float(x) * mm for x in DASHES[inner.kind].split()])
        draw_lines(canvas, [inner.points], window, plan, tile)
    canvas.setDash()
    for beside in panel.beside:
        if window.contains(shapely.Point(beside.at)):
            canvas.saveState()
            x, y = _on_page(beside.at, plan, tile)
            canvas.translate(x * mm, y * mm)
            canvas.rotate(beside.turn)
            write_words(canvas, 0.0, -0.8, beside.words, 7, middle=True)
            canvas.restoreState()
    _label(canvas, panel, window, plan, tile)
    _page_marks(canvas, panel, plan, tile)
    canvas.showPage()


def _on_page(point: tuple[float, float] | Array, plan: PagePlan, tile: Tile) -> tuple[float, float]:
    return MARGIN + (point[0] - tile.x) * plan.scale, MARGIN + (point[1] - tile.y) * plan.scale


def draw_lines(canvas: Canvas, lines: list[Array], window: shapely.Polygon, plan: PagePlan, tile: Tile) -> None:
    """Draw what of these lines lies in the page's window, cut off exactly at its border."""
    for line in lines:
        seen = shapely.line_merge(shapely.intersection(shapely.LineString(line), window))
        for part in shapely.get_parts(seen):
            if part.geom_type != "LineString":
                continue
            path = canvas.beginPath()
            for k, point in enumerate(shapely.get_coordinates(part)):
                x, y = _on_page(point, plan, tile)
                (path.lineTo if k else path.moveTo)(x * mm, y * mm)
            canvas.drawPath(path)


def _label(canvas: Canvas, panel: DrawnPanel, window: shapely.Polygon, plan: PagePlan, tile: Tile) -> None:
    place = label_place(panel.flat, panel.label)
    at, s = np.array(place.at), place.scale
    if not window.contains(shapely.Point(at)):
        return
    x, y = _on_page(at, plan, tile)
    canvas.setLineWidth(ARROW_LINE)
    draw_lines(canvas, [at + s * shaft for shaft in UP_ARROW], window, plan, tile)
    canvas.setLineWidth(THIN_LINE)
    write_words(canvas, x, y, panel.label.code, 26 * s, bold=True)
    for k, words in enumerate(panel.label.lines, 1):
        write_words(canvas, x, y - (5 * k + 1) * s, words, 9 * s)


def _page_marks(canvas: Canvas, panel: DrawnPanel, plan: PagePlan, tile: Tile) -> None:
    canvas.setStrokeColorRGB(*FAINT)
    canvas.setLineWidth(CROSS_LINE)
    for dx in (0.0, plan.step[0]) if plan.columns > 1 else ():
        for dy in (0.0, plan.step[1]) if plan.rows > 1 else (plan.tile[1] / 2,):
            _cross(canvas, *_on_page((tile.x + dx + OVERLAP / 2, tile.y + dy + OVERLAP / 2), plan, tile))
    if plan.columns == 1 and plan.rows > 1:
        for dy in (0.0, plan.step[1]):
            for dx in (plan.tile[0] * 0.25, plan.tile[0] * 0.75):
                _cross(canvas, *_on_page((tile.x + dx, tile.y + dy + OVERLAP / 2), plan, tile))
    name = f"{panel.label.code}   page {tile.name}   of {plan.columns} across, {plan.rows} down   {panel.label.piece}"
    write_words(canvas, MARGIN, MARGIN - 7, name, 8)


def _cross(canvas: Canvas, x: float, y: float) -> None:
    canvas.line((x - CROSS) * mm, y * mm, (x + CROSS) * mm, y * mm)
    canvas.line(x * mm, (y - CROSS) * mm, x * mm, (y + CROSS) * mm)
    canvas.circle(x * mm, y * mm, 2 * mm)


def write_words(
    canvas: Canvas, x: float, y: float, words: str, size: float, bold: bool = False, middle: bool = False
) -> None:
    """Words at (x, y) mm; middle: it is their middle that stands there, not their beginning."""
    canvas.setFillColorRGB(*GRAPHITE)
    wide = sum(canvas.stringWidth(run, font, size) for font, run in lettered(words, bold)) if middle else 0.0
    at = x * mm - wide / 2
    for font, run in lettered(words, bold):
        canvas.setFont(font, size)
        canvas.drawString(at, y * mm, run)
        at += canvas.stringWidth(run, font, size)
