"""The dressing order as a table, and as a card to print for the helper."""

import io
from collections.abc import Iterator, Sequence
from textwrap import wrap

from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from vellumcut.core.pattern.pages import MARGIN, PAPERS, PaperName
from vellumcut.core.worn.dressing import DressingStep, whole_minutes
from vellumcut.formats.pattern.pdf import FAINT, THIN_LINE, write_words

DRESSING_HEAD = ("order", "piece", "copies", "how", "who", "why", "minutes", "out alone")
ROW, LINE = 8.5, 4.6
"""Height of a piece's own line, and of each line under it, mm."""


def dressing_rows(steps: Sequence[DressingStep]) -> Iterator[tuple[object, ...]]:
    """A row for each piece under DRESSING_HEAD."""
    for k, x in enumerate(steps, 1):
        yield k, x.name, x.copies, x.how, x.who, x.why, x.minutes, "yes" if x.out else "no"


def write_dressing_card(steps: Sequence[DressingStep], paper: PaperName = "A4") -> bytes:
    """What lies beneath first; taking off runs the other way. Goes on to another page where it must."""
    width, height = PAPERS[paper]
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=(width * mm, height * mm), pageCompression=1)
    canvas.setTitle("Dressing card")
    top = height - MARGIN
    write_words(canvas, MARGIN, top - 7, "Getting dressed", 20, bold=True)
    helped = [x for x in steps if x.who == "helper"]
    write_words(
        canvas,
        MARGIN,
        top - 14,
        f"{whole_minutes(steps):.0f} min (est.); a helper for {len(helped)} of {len(steps)}. Off again from the last "
        "to the first.",
        10,
    )
    y = top - 24
    for k, step in enumerate(steps, 1):
        told = wrap(step.how, 100) + wrap(
            f"{'Helper' if step.who == 'helper' else 'Alone'}: {step.why}. {step.minutes:g} min.", 100
        )
        if y - ROW - LINE * len(told) < MARGIN:
            canvas.showPage()
            y = top - 10
        canvas.setStrokeColorRGB(*FAINT)
        canvas.setLineWidth(THIN_LINE)
        canvas.line(MARGIN * mm, (y + 5.5) * mm, (width - MARGIN) * mm, (y + 5.5) * mm)
        write_words(canvas, MARGIN, y, f"{k}", 14, bold=True)
        copies = f", {step.copies} x" if step.copies > 1 else ""
        write_words(canvas, MARGIN + 12, y, f"{step.name}{copies}", 13, bold=True)
        write_words(canvas, width - MARGIN - 20, y, step.who, 11, bold=step.who == "helper")
        for line in told:
            y -= LINE
            write_words(canvas, MARGIN + 12, y, line, 9.5)
        y -= ROW
    canvas.showPage()
    canvas.save()
    return out.getvalue()
