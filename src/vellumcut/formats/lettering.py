"""Words on paper: which font has a letter, and which way it is written."""

import unicodedata
from collections.abc import Iterator
from functools import cache
from itertools import groupby
from pathlib import Path

from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont

from vellumcut.formats.names import plain

_FONTS = Path(__file__).parent / "fonts"
HAND, BOLD, *OTHERS = "Vellum", "Vellum-Bold", "wide", "eastern", "every"
"""The two of the program's own look; one with most alphabets, one with the signs of eastern Asia, and a plain one with
all."""


def register_fonts() -> None:
    """Make all of them known to the paper. Doing so twice changes nothing."""
    for name in (HAND, BOLD, *OTHERS):
        if name not in pdfmetrics.getRegisteredFontNames():
            pdfmetrics.registerFont(TTFont(name, _FONTS / f"{name}.ttf"))


def lettered(words: str, bold: bool) -> Iterator[tuple[str, str]]:
    """Stretches of words from left to right with the font that has their letters."""
    register_fonts()
    text = "".join(_as_read(list(run)) for _, run in groupby(plain(words), _runs_left))
    for font, run in groupby(text, lambda c: _font_of(c, bold)):
        yield font, "".join(run)


def _runs_left(letter: str) -> bool:
    return unicodedata.bidirectional(letter) in ("R", "AL")


def _as_read(letters: list[str]) -> str:
    return "".join(reversed(letters) if _runs_left(letters[0]) else letters)


@cache
def _font_of(letter: str, bold: bool) -> str:
    wanted = BOLD if bold else HAND
    for name in (wanted, *OTHERS):
        if ord(letter) in pdfmetrics.getFont(name).face.charToGlyph:
            return name
    return wanted
