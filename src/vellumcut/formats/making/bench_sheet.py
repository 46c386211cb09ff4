"""Steps on paper: a table, and a sheet for the wall with boxes to tick."""

import io
from collections.abc import Collection, Iterator, Mapping, Sequence
from dataclasses import dataclass

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
    "how",
    "after",
    "place",
    "minutes",
    "of them to set up and clean away",
    "coats",
    "minutes between coats",
    "waiting minutes",
    "materials",
    "question",
    "if no",
    "why",
    "done",
)
BOX, HEAD = 4.6, 20.0
TITLE, BODY = 11.0, 9.0
"""Size of a step's title and of how it is done, points: read at arm's length."""
LINE, GAP = 4.1, 3.0
"""From line to line, and between steps, mm."""


def step_rows(piece: PlannedPiece, done: Mapping[str, bool] | None = None) -> Iterator[tuple[object, ...]]:
    """The steps of a piece in the order of work, as rows under ``STEP_HEAD``."""
    for step in piece.ordered:
        yield (
            step.title,
            step.key,
            step.how,
            "; ".join(piece.steps[x.first].title for x in piece.needed(step.key)),
            step.place,
            round(step.hands_on, 1),
            round(step.setup * step.factor, 1),
            step.coats,
            step.between,
            round(step.wait, 1),
            "; ".join(x.words for x in step.materials),
            step.inspection.question if step.inspection else "",
            step.inspection.mend if step.inspection else "",
            step.reason,
            "yes" if done and done.get(step.key) else "",
        )


def write_bench_sheet(pieces: Sequence[PlannedPiece], done: Collection[str], paper: PaperName = "A4") -> bytes:
    """A piece begins on a page of its own; each step with how it is done, a box for each coat, and its question. done:
    keys whose boxes are ticked."""
    width, height = PAPERS[paper]
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=(width * mm, height * mm), pageCompression=1)
    canvas.setTitle("Bench sheet")
    for piece in pieces:
        _Sheet(canvas, piece, width, height).write(done)
    canvas.save()
    return out.getvalue()


@dataclass
class _Sheet:
    """The pages of one piece. y: where the next step begins, mm from below."""

    canvas: Canvas
    piece: PlannedPiece
    width: float
    height: float
    y: float = 0.0
    page: int = 0

    def write(self, done: Collection[str]) -> None:
        self._begin()
        for step in self.piece.ordered:
            lines = self._lines(step)
            if self.y - LINE * (len(lines) + 1) < MARGIN:
                self.canvas.showPage()
                self._begin()
            self._row(step, lines, step.key in done)
        self.canvas.showPage()

    def _begin(self) -> None:
        self.page += 1
        top = self.height - MARGIN
        more = f", page {self.page}" if self.page > 1 else ""
        write_words(self.canvas, MARGIN, top - 7, self.piece.name + more, 18, bold=True)
        head = f"{len(self.piece.steps)} steps. Tick a box for each coat; answer every question before its box. "
        room = (self.width - 2 * MARGIN) * mm
        lines = _wrapped(self.canvas, head + self.piece.hours.words, BODY, room, False)
        for n, words in enumerate(lines):
            write_words(self.canvas, MARGIN, top - 13 - n * LINE, words, BODY)
        self.y = top - HEAD - (len(lines) - 1) * LINE

    def _left(self, step: Step) -> float:
        return MARGIN + max(3, step.coats) * (BOX + 1.2) + 2

    def _lines(self, step: Step) -> list[tuple[str, bool]]:
        """How a step is done and what is asked, in lines that fit, the questions in bold."""
        room = (self.width - MARGIN - self._left(step)) * mm
        asked = step.inspection
        rows = [(step.how, False)]
        rows += [(f"?  {asked.question}  If not: {asked.mend}", True)] if asked else []
        return [(line, bold) for words, bold in rows for line in _wrapped(self.canvas, words, BODY, room, bold)]

    def _row(self, step: Step, lines: list[tuple[str, bool]], done: bool) -> None:
        canvas, left, right = self.canvas, self._left(step), self.width - MARGIN - 88
        canvas.setStrokeColorRGB(*FAINT)
        canvas.setLineWidth(THIN_LINE)
        canvas.line(MARGIN * mm, (self.y + 0.8) * mm, (self.width - MARGIN) * mm, (self.y + 0.8) * mm)
        self.y -= LINE
        canvas.setStrokeColorRGB(*GRAPHITE)
        for n in range(step.coats):
            x, y = MARGIN + n * (BOX + 1.2), self.y - 0.8
            canvas.rect(x * mm, y * mm, BOX * mm, BOX * mm)
            if done:
                canvas.line(x * mm, y * mm, (x + BOX) * mm, (y + BOX) * mm)
                canvas.line(x * mm, (y + BOX) * mm, (x + BOX) * mm, y * mm)
        write_words(canvas, left, self.y, _fitted(canvas, step.title, TITLE, right - left - 2), TITLE, bold=True)
        write_words(canvas, right, self.y, _fitted(canvas, _times(step), BODY, 66), BODY)
        place = "" if step.place == "indoors" else step.place
        write_words(canvas, self.width - MARGIN - 20, self.y, place, BODY)
        for words, bold in lines:
            self.y -= LINE
            write_words(canvas, left, self.y, words, BODY, bold=bold)
        self.y -= GAP


def _wrapped(canvas: Canvas, words: str, size: float, room: float, bold: bool) -> list[str]:
    """Words in lines no wider than ``room``, points."""
    out: list[str] = []
    for word in plain(words).split():
        longer = f"{out[-1]} {word}" if out else word
        fits = sum(canvas.stringWidth(run, font, size) for font, run in lettered(longer, bold)) <= room
        if out and fits:
            out[-1] = longer
        else:
            out.append(word)
    return out


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
