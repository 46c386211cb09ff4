"""Steps on paper: a table, and a sheet for the wall with boxes to tick."""

import io
from collections.abc import Collection, Iterator, Mapping, Sequence

from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from vellumcut.core.make.plan import PlannedPiece
from vellumcut.core.make.step import Step
from vellumcut.core.pattern.pages import MARGIN, PAPERS, PaperName
from vellumcut.formats.lettering import lettered
from vellumcut.formats.names import plain
from vellumcut.formats.pattern.pdf import FAINT, GRAPHITE, THIN_LINE, write_words

STEP_HEAD = (
    "step",
    "key",
    "after",
    "place",
    "hands-on minutes",
    "coats",
    "minutes between coats",
    "waiting minutes",
    "materials",
    "question",
    "why",
    "done",
)
BOX, HEAD = 4.2, 20.0
LINES = (8.4, 7.2, 6.2, 5.4, 4.8)
"""Heights of a row to choose from, mm: the largest at which all steps fit on one page."""


def step_rows(piece: PlannedPiece, done: Mapping[str, bool] | None = None) -> Iterator[tuple[object, ...]]:
    """The steps of a piece in the order of work, as rows under ``STEP_HEAD``."""
    for step in piece.ordered:
        yield (
            step.title,
            step.key,
            "; ".join(piece.steps[x.first].title for x in piece.needed(step.key)),
            step.place,
            round(step.hands_on, 1),
            step.coats,
            step.between,
            round(step.wait, 1),
            "; ".join(x.words for x in step.materials),
            step.inspection.question if step.inspection else "",
            step.reason,
            "yes" if done and done.get(step.key) else "",
        )


def write_bench_sheet(pieces: Sequence[PlannedPiece], done: Collection[str], paper: PaperName = "A4") -> bytes:
    """One page a piece; steps with several coats have a box for each. done: keys whose boxes are ticked."""
    width, height = PAPERS[paper]
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=(width * mm, height * mm), pageCompression=1)
    canvas.setTitle("Bench sheet")
    for piece in pieces:
        _page(canvas, piece, done, width, height)
        canvas.showPage()
    canvas.save()
    return out.getvalue()


def _page(canvas: Canvas, piece: PlannedPiece, done: Collection[str], width: float, height: float) -> None:
    write_words(canvas, MARGIN, height - MARGIN - 7, piece.name, 18, bold=True)
    minutes = sum(s.hands_on for s in piece.ordered)
    head = (
        f"{len(piece.steps)} steps, {minutes / 60:.1f} h of work. Tick a box for each coat; answer every question "
        "before its box."
    )
    write_words(canvas, MARGIN, height - MARGIN - 13, head, 9)
    room = height - 2 * MARGIN - HEAD
    wanted = sum(_lines(s) for s in piece.ordered)
    line = next((x for x in LINES if wanted * x <= room), room / wanted)
    y = height - MARGIN - HEAD
    for step in piece.ordered:
        y -= line * _lines(step)
        _row(canvas, step, y, line, width, step.key in done)


def _lines(step: Step) -> float:
    """Height of a step in rows: a question has a smaller one of its own."""
    return 1.7 if step.inspection else 1.0


def _row(canvas: Canvas, step: Step, y: float, line: float, width: float, done: bool) -> None:
    size = min(10.5, line * 1.75)
    canvas.setStrokeColorRGB(*FAINT)
    canvas.setLineWidth(THIN_LINE)
    canvas.line(MARGIN * mm, y * mm, (width - MARGIN) * mm, y * mm)
    top = y + line * (_lines(step) - 1)
    canvas.setStrokeColorRGB(*GRAPHITE)
    for n in range(step.coats):
        x = MARGIN + n * (BOX + 1.2)
        side = min(BOX, line - 1.2)
        canvas.rect(x * mm, (top + 0.6) * mm, side * mm, side * mm)
        if done:
            canvas.line(x * mm, (top + 0.6) * mm, (x + side) * mm, (top + 0.6 + side) * mm)
            canvas.line(x * mm, (top + 0.6 + side) * mm, (x + side) * mm, (top + 0.6) * mm)
    left = MARGIN + max(3, step.coats) * (BOX + 1.2) + 2
    right = width - MARGIN - 76
    write_words(canvas, left, top + 1.4, _fitted(canvas, step.title, size, right - left - 2), size, bold=True)
    write_words(canvas, right, top + 1.4, _fitted(canvas, _times(step), size - 2, 54), size - 2)
    place = "" if step.place == "indoors" else step.place
    write_words(canvas, width - MARGIN - 20, top + 1.4, place, size - 2)
    if step.inspection:
        words = _fitted(canvas, f"?  {step.inspection.question}", size - 1.5, width - MARGIN - left)
        write_words(canvas, left, y + 1.2, words, size - 1.5)


def _times(step: Step) -> str:
    """ "17 min; 2 coats 30 min apart; wait 4 h"."""
    told = [f"{step.hands_on:.0f} min"]
    told += [f"{step.coats} coats {_span(step.between)} apart"] if step.coats > 1 else []
    told += [f"wait {_span(step.wait)}"] if step.wait >= 5 else []
    return "; ".join(told)


def _span(minutes: float) -> str:
    return f"{minutes:.0f} min" if minutes < 120 else f"{minutes / 60:.0f} h"


def _fitted(canvas: Canvas, words: str, size: float, room: float) -> str:
    """The words, cut short where they would run into what stands beside them. room: mm."""
    text = plain(words)
    while text and sum(canvas.stringWidth(run, font, size) for font, run in lettered(text, True)) > room * mm:
        text = text[:-2].rstrip() + "…" if len(text) > 2 else ""
    return text
