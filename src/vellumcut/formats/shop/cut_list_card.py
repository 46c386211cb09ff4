"""The cut list on paper: by sheet, a box to tick for every part that is cut."""

import io
from collections.abc import Sequence

from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from vellumcut.core.pattern.pages import MARGIN, PAPERS, PaperName
from vellumcut.core.shop.cut_list import CutRow, SheetSum
from vellumcut.core.units import format_length
from vellumcut.formats.pattern.pdf import GRAPHITE, THIN_LINE, write_words

ROW, BOX, GAP = 7.5, 4.0, 1.6
MOST_BOXES = 6
"""Boxes in a row; of what is cut more often a stack is ticked as one."""
WORDS = MARGIN + MOST_BOXES * (BOX + GAP) + 2
MOST_LETTERS = 88


def write_cut_list_card(
    name: str, rows: Sequence[CutRow], sheets: Sequence[SheetSum], paper: PaperName = "A4"
) -> bytes:
    """One page or more. rows: all outlines; sheets: what they are cut from, in the order in which they come."""
    width, height = PAPERS[paper]
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=(width * mm, height * mm), pageCompression=1)
    canvas.setTitle("Cut list")
    y = height - MARGIN - 6
    write_words(canvas, MARGIN, y, f"{name}: cut list", 18, True)
    for sheet in sheets:
        own = [r for r in rows if (r.kind, r.thickness) == (sheet.kind, sheet.thickness)]
        y = room_for(canvas, y, 3 * ROW, height)
        blades = f", {sheet.blades} fresh blade{'s' * (sheet.blades > 1)}" if sheet.blades else ""
        head = (
            f"{format_length(sheet.thickness)} {sheet.kind} foam: {sheet.parts} parts, {sheet.minutes:.0f} min{blades}"
        )
        write_words(canvas, MARGIN, y - ROW, head, 13, True)
        y -= 1.4 * ROW
        for row in own:
            y = room_for(canvas, y, ROW, height) - ROW
            _row(canvas, y, row)
    canvas.showPage()
    canvas.save()
    return out.getvalue()


def room_for(canvas: Canvas, y: float, wanted: float, height: float) -> float:
    """Where to go on, mm from below; on a new page where this one is full."""
    if y - wanted >= MARGIN:
        return y
    canvas.showPage()
    return height - MARGIN


def _row(canvas: Canvas, y: float, row: CutRow) -> None:
    canvas.setStrokeColorRGB(*GRAPHITE)
    canvas.setLineWidth(THIN_LINE)
    for k in range(row.count if row.count <= MOST_BOXES else 1):
        canvas.rect((MARGIN + k * (BOX + GAP)) * mm, y * mm, BOX * mm, BOX * mm)
    many = f"{row.as_drawn} + {row.turned} turned over" if row.turned else str(row.as_drawn)
    told = f"{row.code}: {row.name}, {many}" + (f"; by ruler {row.size}" if row.size else "")
    write_words(canvas, WORDS, y + 0.6, told if len(told) <= MOST_LETTERS else f"{told[: MOST_LETTERS - 1]}…", 10)
