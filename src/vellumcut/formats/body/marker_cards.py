"""Pages of marker cards to cut out, each page with the test square and how the photograph is taken."""

import io

from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from vellumcut.core.pattern.pages import PAPERS, TEST_SQUARE, PaperName
from vellumcut.core.trace.view.cards import CARD, CELLS, COUNT, SIDE, cells
from vellumcut.formats.pattern.pdf import FAINT, GRAPHITE, THIN_LINE, write_words

A_PAGE = 4
EDGE = 8.0
"""mm of paper left free at the sides and at the top."""
GUIDE = (
    "Cut the cards out. Lay them flat round the pieces,",
    "one at each corner at least: loose, anywhere, none bent.",
    "Plain ground of another colour; every piece wholly in view.",
    "Light from the side, no flash, no shine on edge or card.",
    "Hold the telephone level above the middle, and still.",
)


def write_marker_cards(paper: PaperName, unit: str = "mm", scale: float = 1.0) -> bytes:
    """All cards, four on a page. scale: print correction from the test square."""
    out = io.BytesIO()
    size = PAPERS[paper]
    canvas = Canvas(out, pagesize=tuple(v * mm for v in size), pageCompression=1)
    canvas.setTitle("Marker cards")
    for first in range(0, COUNT, A_PAGE):
        _page(canvas, size, first, unit, scale)
        canvas.showPage()
    canvas.save()
    return out.getvalue()


def _page(canvas: Canvas, size: tuple[float, float], first: int, unit: str, scale: float) -> None:
    canvas.setPageSize(tuple(v * mm for v in size))
    pitch = CARD * scale + 3.0
    left = size[0] / 2 - pitch
    for k in range(A_PAGE):
        x, y = left + (k % 2) * pitch, size[1] - EDGE - (k // 2 + 1) * pitch
        _card(canvas, x + pitch / 2, y + pitch / 2, first + k, scale)
    side = TEST_SQUARE[unit] * scale
    low = size[1] - EDGE - 2 * pitch - 4.0 - side
    canvas.setStrokeColorRGB(*GRAPHITE)
    canvas.setLineWidth(THIN_LINE)
    canvas.rect(EDGE * mm, low * mm, side * mm, side * mm)
    words = "100 mm" if unit == "mm" else "4 in"
    write_words(canvas, EDGE + 4, low + side - 8, f"Test square: {words}", 11, bold=True)
    write_words(canvas, EDGE + 4, low + side - 14, "Measure it. If it is not true, type what", 9)
    write_words(canvas, EDGE + 4, low + side - 19, "you measured beside the photograph.", 9)
    x = EDGE + side + 5
    for k, line in enumerate(GUIDE):
        write_words(canvas, x, low + side - 8 - 6 * k, line, 8.5)
    _drawing(canvas, x + 4, low + 6)


def _card(canvas: Canvas, x: float, y: float, number: int, scale: float) -> None:
    """A card about (x, y) mm. Black cells are drawn as whole rows, so that no hairline shows between them."""
    canvas.setStrokeColorRGB(*FAINT)
    canvas.setLineWidth(THIN_LINE)
    half = CARD * scale / 2
    canvas.rect((x - half) * mm, (y - half) * mm, 2 * half * mm, 2 * half * mm)
    canvas.setFillColorRGB(0, 0, 0)
    cell = SIDE * scale / CELLS
    corner = (x - SIDE * scale / 2, y + SIDE * scale / 2)
    canvas.rect(corner[0] * mm, (corner[1] - SIDE * scale) * mm, SIDE * scale * mm, SIDE * scale * mm, stroke=0, fill=1)
    canvas.setFillColorRGB(1, 1, 1)
    for i, row in enumerate(cells(number)):
        for j, white in enumerate(row):
            if white:
                canvas.rect(
                    (corner[0] + j * cell) * mm,
                    (corner[1] - (i + 1) * cell) * mm,
                    cell * mm,
                    cell * mm,
                    stroke=0,
                    fill=1,
                )
    write_words(canvas, x - half + 1.5, y - half + 1.8, f"{number + 1}", 8)


def _drawing(canvas: Canvas, x: float, y: float) -> None:
    """A piece on the ground among four cards, seen from above."""
    canvas.setStrokeColorRGB(*GRAPHITE)
    canvas.setLineWidth(THIN_LINE)
    path = canvas.beginPath()
    path.moveTo((x + 22) * mm, (y + 12) * mm)
    for a in ((40, 8, 58, 8, 70, 14), (72, 28, 68, 42, 62, 50)):
        path.curveTo(*((v + (x if k % 2 == 0 else y)) * mm for k, v in enumerate(a)))
    for px, py in ((50, 50), (46, 32), (42, 50), (26, 48)):
        path.lineTo((x + px) * mm, (y + py) * mm)
    path.curveTo((x + 18) * mm, (y + 36) * mm, (x + 18) * mm, (y + 22) * mm, (x + 22) * mm, (y + 12) * mm)
    canvas.drawPath(path)
    for px, py, turn in ((6, 6, 12), (82, 5, -20), (5, 48, -8), (80, 50, 25)):
        canvas.saveState()
        canvas.translate((x + px) * mm, (y + py) * mm)
        canvas.rotate(turn)
        canvas.rect(-4.5 * mm, -4.5 * mm, 9 * mm, 9 * mm)
        canvas.setFillColorRGB(*GRAPHITE)
        canvas.rect(-3.2 * mm, -3.2 * mm, 6.4 * mm, 6.4 * mm, fill=1)
        canvas.restoreState()
