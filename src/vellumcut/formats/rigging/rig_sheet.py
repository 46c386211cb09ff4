"""Rigs as tables and on paper."""

import io
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from textwrap import wrap

import numpy as np
from numpy.typing import NDArray
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from vellumcut.core.pattern.pages import MARGIN, PAPERS, PaperName
from vellumcut.core.rig.parts import RigPlan
from vellumcut.formats.pattern.pdf import FAINT, GRAPHITE, THIN_LINE, write_words

Array = NDArray[np.float64]
STRAP = (0.62, 0.45, 0.16)

PART_HEAD = ("side", "part", "count", "cut length mm", "mm above lower edge", "stitches", "glue")
Row = tuple[str, str, int, float, str, str, str]


def part_rows(plans: Iterable[RigPlan]) -> Iterator[Row]:
    """A row for each part of a piece's rig."""
    for plan in plans:
        for p in plan.parts:
            at = "; ".join(f"{a:.0f}" for a in p.at)
            yield plan.side, p.name, p.count, round(p.length, 1), at, p.stitches, p.glue


@dataclass(frozen=True, eq=False)
class RigPage:
    """One piece on paper. outlines: its edges as lines (n, 3) mm on the figure. anchors: names and places. parts: rows
    under PART_HEAD. told: sentences above the table."""

    name: str
    outlines: Sequence[Array]
    straps: Sequence[Array]
    anchors: Sequence[tuple[str, Array]]
    parts: Sequence[Row]
    told: Sequence[str]


PICTURE = 105.0
"""Height of the pictures, mm."""
FRONT, BACK = 1.0, -1.0


def write_rig_sheet(pages: Sequence[RigPage], paper: PaperName = "A4") -> bytes:
    """One page a piece: front and back with anchors and straps, and every part with its cut length."""
    width, height = PAPERS[paper]
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=(width * mm, height * mm), pageCompression=1)
    canvas.setTitle("Rig sheet")
    for page in pages:
        write_words(canvas, MARGIN, height - MARGIN - 7, page.name, 18, bold=True)
        half = (width - 2 * MARGIN - 6) / 2
        for k, (view, word) in enumerate(((FRONT, "from the front"), (BACK, "from behind"))):
            left = MARGIN + k * (half + 6)
            write_words(canvas, left, height - MARGIN - 15, word, 9)
            _picture(canvas, page, view, (left, height - MARGIN - 17 - PICTURE, half, PICTURE))
        _table(canvas, page, height - MARGIN - 24 - PICTURE, width)
        canvas.showPage()
    canvas.save()
    return out.getvalue()


def _picture(canvas: Canvas, page: RigPage, view: float, box: tuple[float, float, float, float]) -> None:
    """The piece seen along the body's front; what lies behind is drawn faint."""
    lines = [*page.outlines, *page.straps]
    if not lines:
        return
    every = np.vstack(lines)
    flat = np.stack([view * every[:, 0], every[:, 2]], axis=1)
    low, high = flat.min(axis=0), flat.max(axis=0)
    scale = min((box[2] - 8) / max(high[0] - low[0], 1), (box[3] - 8) / max(high[1] - low[1], 1))
    origin = np.array([box[0] + box[2] / 2, box[1] + box[3] / 2]) - scale * (low + high) / 2
    middle = float(np.mean([every[:, 1].min(), every[:, 1].max()]))

    def put(p: Array) -> Array:
        return np.asarray(origin + scale * np.stack([view * p[:, 0], p[:, 2]], axis=1))

    for group, colour, wide in ((page.outlines, GRAPHITE, 0.9), (page.straps, STRAP, 2.2)):
        for line in group:
            near = (line[:, 1] - middle) * view <= 0
            at = put(line)
            for k in range(len(line) - 1):
                canvas.setStrokeColorRGB(*(colour if near[k] else FAINT))
                canvas.setLineWidth(wide if near[k] else wide * 0.5)
                canvas.line(*(at[k] * mm), *(at[k + 1] * mm))
    for number, (_, place) in enumerate(page.anchors, 1):
        if (place[1] - middle) * view <= 0:
            x, y = put(place[None])[0]
            canvas.setFillColorRGB(*GRAPHITE)
            canvas.circle(x * mm, y * mm, 1.1 * mm, fill=1)
            write_words(canvas, x + 1.6, y + 0.6, str(number), 8, bold=True)


def _table(canvas: Canvas, page: RigPage, top: float, width: float) -> None:
    y = top
    names = "; ".join(f"{k} {name}" for k, (name, _) in enumerate(page.anchors, 1))
    for words in (*page.told, f"Anchors: {names}" if names else ""):
        for line in wrap(words, 118):
            write_words(canvas, MARGIN, y, line, 9)
            y -= 4.4
    y -= 2
    for row in page.parts:
        canvas.setStrokeColorRGB(*FAINT)
        canvas.setLineWidth(THIN_LINE)
        canvas.line(MARGIN * mm, (y + 4.6) * mm, (width - MARGIN) * mm, (y + 4.6) * mm)
        length = f"{row[3]:.0f} mm" if row[3] else ""
        write_words(canvas, MARGIN, y, f"{row[2]} x", 10, bold=True)
        write_words(canvas, MARGIN + 12, y, row[1][:58], 10, bold=True)
        write_words(canvas, width - MARGIN - 24, y, length, 10, bold=True)
        for line in wrap("; ".join(x for x in (row[5], row[6]) if x != "none"), 110):
            y -= 4.2
            write_words(canvas, MARGIN + 12, y, line, 8.5)
        y -= 6.4
