"""The record card: all panels of a piece on one sheet at a reduced scale, with what they measure."""

import io

import numpy as np
from numpy.typing import NDArray
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from vellumcut.core.errors import CraftError
from vellumcut.core.pattern.drawn import DrawnPanel
from vellumcut.core.pattern.pages import MARGIN, PAPERS, PaperName
from vellumcut.core.pattern.pattern import PiecePattern
from vellumcut.core.units import format_length
from vellumcut.formats.names import plain
from vellumcut.formats.pattern.pdf import FAINT, GRAPHITE, THIN_LINE, write_words

Array = NDArray[np.float64]

SCALES = (2.0, 2.5, 3.0, 4.0, 5.0, 6.0, 8.0, 10.0, 12.0, 15.0, 20.0, 30.0)
"""How many millimetres of foam a millimetre of card stands for; round, so that a ruler still works."""
HEAD, LINE = 26.0, 4.6
BAR = 100.0
"""Length of the scale bar in the foam's millimetres."""


def write_card(pattern: PiecePattern, paper: PaperName = "A4") -> bytes:
    """One sheet of card, landscape. Raises CraftError when the panels fit at no scale."""
    high, wide = PAPERS[paper]
    table = (len(pattern.to_cut) + 1) * LINE + 4
    low, size = _extent(pattern)
    room = np.array([wide - 2 * MARGIN, high - 2 * MARGIN - HEAD - table])
    scale = next((s for s in SCALES if (size / s <= room).all()), None)
    if scale is None:
        raise CraftError("There are too many panels for one card; take a larger paper", "paper")
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=(wide * mm, high * mm), pageCompression=1)
    canvas.setTitle(f"{plain(pattern.name)}, record card")
    write_words(canvas, MARGIN, high - MARGIN - 7, pattern.name, 18, bold=True)
    build = pattern.panels[0].label.build if pattern.panels else ""
    write_words(canvas, MARGIN, high - MARGIN - 13, f"{build}   card at 1 : {scale:g}, not to cut foam by", 10)
    _bar(canvas, wide - MARGIN - BAR / scale, high - MARGIN - 7, scale)
    corner = np.array([MARGIN, MARGIN + table]) + (room - size / scale) / 2
    for panel in pattern.to_cut:
        _panel(canvas, panel, corner - low / scale, scale)
    _table(canvas, pattern, MARGIN + table - LINE)
    canvas.showPage()
    canvas.save()
    return out.getvalue()


def _extent(pattern: PiecePattern) -> tuple[Array, Array]:
    """Lower corner and size of all panels as they lie on the table, mm."""
    points = np.vstack([p.flat.outline + np.array(p.place) for p in pattern.to_cut])
    return points.min(axis=0), np.ptp(points, axis=0)


def _panel(canvas: Canvas, panel: DrawnPanel, move: Array, scale: float) -> None:
    place = np.array(panel.place)
    canvas.setStrokeColorRGB(*GRAPHITE)
    canvas.setLineWidth(0.3 * mm)
    path = canvas.beginPath()
    for line in panel.flat.cut_lines:
        for k, point in enumerate((line + place) / scale + move):
            (path.lineTo if k else path.moveTo)(*(point * mm))
    canvas.drawPath(path)
    canvas.setLineWidth(THIN_LINE)
    for line in (line for mark in panel.flat.marks for line in mark.lines):
        (x, y), (u, v) = (line + place) / scale + move
        canvas.line(x * mm, y * mm, u * mm, v * mm)
    at = (np.array(panel.flat.shape.representative_point().coords[0]) + place) / scale + move
    write_words(canvas, at[0] - 6, at[1] - 1.5, panel.label.code, 9, bold=True)


def _bar(canvas: Canvas, x: float, y: float, scale: float) -> None:
    canvas.setStrokeColorRGB(*FAINT)
    canvas.line(x * mm, y * mm, (x + BAR / scale) * mm, y * mm)
    for k in (0, 1):
        canvas.line((x + k * BAR / scale) * mm, (y - 1.5) * mm, (x + k * BAR / scale) * mm, (y + 1.5) * mm)
    write_words(canvas, x, y - 5, f"{format_length(BAR)} of foam", 8)


def _table(canvas: Canvas, pattern: PiecePattern, top: float) -> None:
    columns = (0.0, 22.0, 72.0, 112.0, 142.0, 170.0)
    heads = ("Panel", "How many", "Foam", "Wide x high", "Cut length", "Seams")
    rows = [heads, *(_row(p) for p in pattern.to_cut)]
    for k, row in enumerate(rows):
        for x, words in zip(columns, row, strict=True):
            write_words(canvas, MARGIN + x, top - k * LINE, words, 8, bold=k == 0)


def _row(panel: DrawnPanel) -> tuple[str, ...]:
    flat = panel.flat
    wide, high = np.ptp(flat.outline, axis=0)
    seams = "; ".join(f"{s.name} {s.on_body:.0f}" for s in flat.seams)
    size = f"{wide:.0f} x {high:.0f} mm"
    return (panel.label.code, panel.label.count, panel.label.foam, size, f"{flat.outline_length:.0f} mm", seams[:70])
