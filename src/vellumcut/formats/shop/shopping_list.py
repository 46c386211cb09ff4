"""What to buy on paper, shop by shop: a box to tick, and room for what was paid."""

import io
from collections.abc import Sequence

from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from vellumcut.core.pattern.pages import MARGIN, PAPERS, PaperName
from vellumcut.core.shop.supplies import Line, by_shop, told
from vellumcut.formats.pattern.pdf import GRAPHITE, THIN_LINE, write_words
from vellumcut.formats.shop.cut_list_card import room_for

ROW, BOX = 8.0, 4.5
PAID = 26.0
"""Width of the line on which what was paid is written, mm."""
MOST_LETTERS = 74


def write_shopping_list(name: str, lines: Sequence[Line], money: str, paper: PaperName = "A4") -> bytes:
    """One page or more. money: word of the maker's currency."""
    width, height = PAPERS[paper]
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=(width * mm, height * mm), pageCompression=1)
    canvas.setTitle("To buy")
    y = height - MARGIN - 6
    write_words(canvas, MARGIN, y, f"{name}: to buy", 18, True)
    for shop, own in by_shop(lines).items():
        y = room_for(canvas, y, 3 * ROW, height)
        sums = [x.cost for x in own if x.cost is not None]
        costs = f", about {sum(sums):.2f} {money}".rstrip() if sums else ""
        write_words(canvas, MARGIN, y - 1.2 * ROW, f"{shop or 'No shop yet'}{costs}", 13, True)
        y -= 1.5 * ROW
        for line in own:
            y = room_for(canvas, y, ROW, height) - ROW
            _row(canvas, y, width, line)
    canvas.showPage()
    canvas.save()
    return out.getvalue()


def _row(canvas: Canvas, y: float, width: float, line: Line) -> None:
    canvas.setStrokeColorRGB(*GRAPHITE)
    canvas.setLineWidth(THIN_LINE)
    canvas.rect(MARGIN * mm, y * mm, BOX * mm, BOX * mm)
    cost = f", {line.cost:.2f}" if line.cost is not None else ""
    words = f"{line.packs} x {told(line.pack)} {line.unit} {line.name}{cost}"
    write_words(
        canvas, MARGIN + BOX + 3, y + 0.8, words if len(words) <= MOST_LETTERS else f"{words[: MOST_LETTERS - 1]}…", 11
    )
    canvas.line((width - MARGIN - PAID) * mm, y * mm, (width - MARGIN) * mm, y * mm)
