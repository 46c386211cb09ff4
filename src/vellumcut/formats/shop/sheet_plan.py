"""Sheets on paper, reduced, to hang up beside the table: what lies where, in the order of the knife, and what is cut
first."""

import io
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import groupby
from math import ceil

import shapely
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from vellumcut.core.nest.shapes import NestSheet, Placed
from vellumcut.core.pattern.pages import MARGIN, PAPERS, PaperName
from vellumcut.core.units import format_length
from vellumcut.formats.pattern.pdf import FAINT, GRAPHITE, write_words

HEAD, ROW = 22.0, 6.0
PART_LINE, THIN = 0.35 * mm, 0.2 * mm
COLUMNS = 3
"""Of the list beneath the picture."""


@dataclass(frozen=True)
class ShownPart:
    """A part on the plan. words: behind its code in the list."""

    placed: Placed
    code: str
    words: str
    turned: bool


@dataclass(frozen=True)
class ShownSheet:
    """A sheet on the plan, its parts in the order of the knife. cuts: straight ones to make first, mm from its left."""

    title: str
    sheet: NestSheet
    parts: Sequence[ShownPart]
    cuts: Sequence[float]
    rest: shapely.Polygon | None
    behind: bool


def write_sheet_plan(name: str, sheets: Sequence[ShownSheet], paper: PaperName = "A4") -> bytes:
    """A page for each sheet, lying; longer lists go on over the page."""
    tall, wide = PAPERS[paper]
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=(wide * mm, tall * mm), pageCompression=1)
    canvas.setTitle(f"{name}: sheets")
    for sheet in sheets:
        _page(canvas, name, sheet, (wide, tall))
    if not sheets:
        write_words(canvas, MARGIN, tall - MARGIN - 6, f"{name}: nothing is laid on sheets yet", 16, True)
        canvas.showPage()
    canvas.save()
    return out.getvalue()


def scale_of(sheet: NestSheet, page: tuple[float, float]) -> float:
    """How small a sheet is drawn so that its list finds room beneath it; what it is reduced by has one decimal, so
    that the words on the page are true."""
    most = min((page[0] - 2 * MARGIN) / sheet.size[0], (page[1] - 2 * MARGIN - HEAD) * 0.62 / sheet.size[1])
    return 10 / ceil(10 / most)


def _page(canvas: Canvas, name: str, shown: ShownSheet, page: tuple[float, float]) -> None:
    scale = scale_of(shown.sheet, page)
    write_words(canvas, MARGIN, page[1] - MARGIN - 6, f"{name}: {shown.title}", 15, True)
    size = " x ".join(format_length(s) for s in shown.sheet.size)
    seen = "  Seen from the back, where you trace." if shown.behind else ""
    write_words(canvas, MARGIN, page[1] - MARGIN - 13, f"{size}, drawn 1 to {1 / scale:.1f}.{seen}", 10)
    foot = page[1] - MARGIN - HEAD - shown.sheet.size[1] * scale
    left, low, _, _ = shown.sheet.shape.bounds
    corner = (MARGIN - left * scale, foot - low * scale)
    _picture(canvas, shown, scale, corner)
    _list(canvas, shown, foot - 4, page)
    canvas.showPage()


def _picture(canvas: Canvas, shown: ShownSheet, scale: float, corner: tuple[float, float]) -> None:
    canvas.setStrokeColorRGB(*GRAPHITE)
    canvas.setLineWidth(PART_LINE)
    _ring(canvas, shown.sheet.shape.exterior, scale, corner)
    for number, part in enumerate(shown.parts, 1):
        shape = part.placed.shape
        canvas.setLineWidth(PART_LINE)
        canvas.setFillColorRGB(0.93, 0.9, 0.82) if part.turned else canvas.setFillColorRGB(1, 1, 1)
        _ring(canvas, shape.exterior, scale, corner, fill=True)
        for hole in shape.interiors:
            _ring(canvas, hole, scale, corner)
        x, y, radius = part.placed.widest
        size = max(4.5, min(9.0, radius * scale * 1.2))
        write_words(canvas, x * scale + corner[0], y * scale + corner[1] - size / 8, str(number), size, True, True)
    canvas.setLineWidth(THIN)
    canvas.setDash(3, 2)
    _, low, _, high = shown.sheet.shape.bounds
    for x in shown.cuts:
        at = (x * scale + corner[0]) * mm
        canvas.line(at, (low * scale + corner[1]) * mm, at, (high * scale + corner[1]) * mm)
    canvas.setDash()
    if shown.rest is not None:
        box = shown.rest.bounds
        words = f"rest {format_length(int(box[2] - box[0]))} x {format_length(int(box[3] - box[1]))}"
        middle = ((box[0] + box[2]) / 2 * scale + corner[0], (box[1] + box[3]) / 2 * scale + corner[1])
        write_words(canvas, *middle, words, 9, middle=True)


def _ring(
    canvas: Canvas, ring: shapely.LinearRing, scale: float, corner: tuple[float, float], fill: bool = False
) -> None:
    path = canvas.beginPath()
    points = shapely.get_coordinates(ring)[:-1] * scale + corner
    path.moveTo(points[0][0] * mm, points[0][1] * mm)
    for x, y in points[1:]:
        path.lineTo(x * mm, y * mm)
    path.close()
    canvas.drawPath(path, stroke=1, fill=int(fill))


def _list(canvas: Canvas, shown: ShownSheet, top: float, page: tuple[float, float]) -> None:
    if shown.cuts:
        told = ", ".join(format_length(round(x - shown.sheet.shape.bounds[0])) for x in shown.cuts)
        write_words(canvas, MARGIN, top - 3, f"First cut straight across at {told} from the left.", 10)
        top -= ROW
    wide = (page[0] - 2 * MARGIN) / COLUMNS
    x, y = MARGIN, top
    for numbers, code, words in _rows(shown.parts):
        y -= ROW
        if y < MARGIN:
            x, y = x + wide, top - ROW
        if x + wide > page[0]:
            canvas.showPage()
            top = page[1] - MARGIN
            x, y = MARGIN, top - ROW
        canvas.setStrokeColorRGB(*FAINT)
        canvas.setLineWidth(THIN)
        canvas.rect(x * mm, y * mm, 3.5 * mm, 3.5 * mm)
        write_words(canvas, x + 5, y + 0.6, f"{numbers}  {code}", 10, True)
        write_words(canvas, x + 36, y + 0.6, words[:36], 9)


def _rows(parts: Sequence[ShownPart]) -> Iterator[tuple[str, str, str]]:
    """Numbers, code and words; parts alike that follow each other are one row."""
    first = 1
    for (code, words), own in groupby(parts, key=lambda p: (p.code, p.words)):
        last = first + len(list(own)) - 1
        yield (str(first) if last == first else f"{first}-{last}"), code, words
        first = last + 1
