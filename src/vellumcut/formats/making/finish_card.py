"""The finish card of a piece: its stacks as strips that build up, with what to do, how long to wait and how much to
buy."""

import io
from textwrap import wrap

from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from vellumcut.core.finish.layers import coats_of
from vellumcut.core.finish.recipes import WEATHERINGS, scraps_to_prepare
from vellumcut.core.finish.zones import PaintedZone
from vellumcut.core.make.quantities import coating
from vellumcut.core.pattern.pages import MARGIN, PAPERS, PaperName
from vellumcut.formats.pattern.pdf import GRAPHITE, THIN_LINE, write_words

ROW, SWATCH = 8.5, 26.0
MOST_LETTERS = 108
"""In a line of small print."""


def write_finish_card(name: str, painted: list[PaintedZone], paper: PaperName = "A4") -> bytes:
    """One page or more; every finish with its zones, layers, waits and millilitres."""
    width, height = PAPERS[paper]
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=(width * mm, height * mm), pageCompression=1)
    canvas.setTitle("Finish card")
    sheet = _Sheet(canvas, height)
    sheet.words(f"{name}: finish", 18, True)
    for zone in painted:
        _finish(sheet, zone)
    sheet.space(4)
    sheet.words("Scraps to prepare first", 12, True)
    for line in scraps_to_prepare([p.finish.stack for p in painted]):
        for part in wrap(line, MOST_LETTERS):
            sheet.words(part, 9)
    canvas.showPage()
    canvas.save()
    return out.getvalue()


class _Sheet:
    """A page that goes on on the next one."""

    def __init__(self, canvas: Canvas, height: float) -> None:
        self.canvas, self.height = canvas, height
        self.y = height - MARGIN

    def space(self, wanted: float) -> float:
        if self.y - wanted < MARGIN:
            self.canvas.showPage()
            self.y = self.height - MARGIN
        self.y -= wanted
        return self.y

    def words(self, text: str, size: float, bold: bool = False) -> None:
        write_words(self.canvas, MARGIN, self.space(size * 0.48 + 1), text, size, bold)


def _finish(sheet: _Sheet, painted: PaintedZone) -> None:
    stack = painted.finish.stack
    sheet.space(4)
    sheet.words(f"{stack.name}, on {stack.on}", 13, True)
    zones = ", ".join(dict.fromkeys(z.name for z in painted.zones))
    mask = f"; {painted.mask / 1000:.2f} m of line, {'by hand' if painted.hand else 'masked'}" if painted.mask else ""
    sheet.words(f"Zones {zones}: {painted.area / 1e6:.3f} m²{mask}", 9)
    if painted.bends:
        sheet.words(f"Bends: {painted.bends}. No brittle layer outside.", 9)
    for coat in coats_of(stack):
        y = sheet.space(ROW)
        sheet.canvas.setFillColor(coat.colour)
        sheet.canvas.setStrokeColorRGB(*GRAPHITE)
        sheet.canvas.setLineWidth(THIN_LINE)
        sheet.canvas.rect(MARGIN * mm, y * mm, min(SWATCH, 6 + 3 * coat.at) * mm, (ROW - 1) * mm, fill=1)
        x = MARGIN + SWATCH + 4
        write_words(sheet.canvas, x, y + 3.6, f"{coat.at}. {coat.word}", 10, bold=True)
        ml = coating("", painted.area * coat.faces, coat.coats, coat.kind.cover).amount if coat.kind.cover < 1e6 else 0
        told = [f"{coat.coats} coats" if coat.coats > 1 else "once", f"by {coat.tool}"]
        told += [f"{coat.recoat:.0f} min between"] if coat.coats > 1 else []
        told += [f"then {coat.settle / 60:.0f} h" if coat.settle >= 120 else f"then {coat.settle:.0f} min"]
        told += [f"{ml:.0f} ml"] if ml else []
        told += ["taped line"] if coat.layer.taped else []
        write_words(sheet.canvas, x, y, ", ".join(told), 8.5)
    for key in stack.weathering:
        recipe = WEATHERINGS[key]
        for part in wrap(f"{recipe.word}: {recipe.place}. {recipe.how} {recipe.stop}", MOST_LETTERS):
            sheet.words(part, 9)
