"""From a photograph to pieces in millimetres."""

from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from vellumcut.core.errors import CraftError
from vellumcut.core.trace.beneath import pieces_above
from vellumcut.core.trace.edges.slits import followed
from vellumcut.core.trace.floor import Floor, floor_under
from vellumcut.core.trace.ground import Mask, pieces_on
from vellumcut.core.trace.ink import inks_on
from vellumcut.core.trace.outline import BAND, Close, Palette, crop, look_close, palette_of
from vellumcut.core.trace.over import look_over
from vellumcut.core.trace.piece import TracedPiece, traced_piece
from vellumcut.core.trace.plain_floor import floor_between, unlike
from vellumcut.core.trace.settle import settled
from vellumcut.core.trace.sure import view_error
from vellumcut.core.trace.view.cards import SIDE
from vellumcut.core.trace.view.find import light_of, sightings
from vellumcut.core.trace.view.judge import Finding, judge_view
from vellumcut.core.trace.view.rectify import FromAbove, Picture, rectify
from vellumcut.core.trace.view.solve import View

Array = NDArray[np.float64]
Progress = Callable[[float, str], None]

SECOND_LOOK = 2.0
"""mm a pixel of the look for pieces that the first one missed on a plain floor."""


@dataclass(frozen=True, eq=False)
class Trace:
    """What one photograph shows. above: the ground from above. side: mm of the cards' black squares."""

    view: View
    above: FromAbove
    pieces: tuple[TracedPiece, ...]
    findings: tuple[Finding, ...]
    dropped: tuple[int, ...]
    side: float


NO_PIECE = Finding(
    "stop",
    "I see no piece on this ground.",
    "Rub over each piece in the picture, or lay them on a plain cloth of another colour.",
)

MAY_BE_MISSED = Finding(
    "look",
    "On a ground with a pattern a piece can be missed, or a part of the ground taken for one.",
    "Count the pieces: rub over one that is missing, and take away what is none.",
)


def trace_picture(
    picture: Picture,
    side: float = SIDE,
    progress: Progress = lambda share, words: None,
    shown: NDArray[np.bool_] | None = None,
    bare: Picture | None = None,
) -> Trace:
    """All pieces in a photograph, (h, w, 3) red first. side: mm of the black squares of its cards, as printed. shown:
    (h, w) where the picture shows ground, if not all over. bare: a photograph of the floor and its cards before the
    pieces were laid down.

    Raises CraftError where the picture cannot be used at all.
    """
    progress(0.02, "Looking for cards")
    light = light_of(picture)
    judged = judge_view(light, sightings(picture), side)
    view = judged.view
    progress(0.2, "Seeing it from above")
    above = rectify(picture, view.lens, view.poses, shown)
    progress(0.35, "Telling pieces from the ground")
    apart = _by_one(above, view, side) if bare is None else _by_two(above, view, side, bare, progress)
    said = [*judged.findings, *apart.said]
    pieces = []
    with ThreadPoolExecutor(2) as cores:
        made = cores.map(lambda mask: _pieces(view, apart, mask), apart.masks)
        for k in range(len(apart.masks)):
            progress(0.6 + 0.4 * k / len(apart.masks), f"Outlining piece {k + 1} of {len(apart.masks)}")
            pieces += next(made)
    if not pieces:
        said.append(NO_PIECE)
    elif apart.guessed:
        said.append(MAY_BE_MISSED)
    return Trace(view, above, tuple(as_read(pieces)), tuple(said), judged.dropped, side)


@dataclass(frozen=True, eq=False)
class _Apart:
    """Pieces told from the ground. above: where it is known. coarse: a first look; masks: pieces in it. floor: what
    lies beneath, if that is known. guessed: the ground has a pattern, and was not photographed first. said: of all."""

    above: FromAbove
    coarse: FromAbove
    masks: list[Mask]
    grounds: Palette
    floor: Floor | None
    guessed: bool = False
    said: tuple[Finding, ...] = ()


def _by_one(above: FromAbove, view: View, side: float) -> _Apart:
    coarse, known, masks = pieces_on(above, view.poses, side)
    grounds = palette_of(coarse, known)
    if grounds.patterned:
        return _Apart(above, coarse, masks, grounds, None, guessed=True)
    between = floor_between(above, coarse, masks, view.poses, side)
    # Held against each other: what only one of two looks finds is a piece as well.
    _, _, other, floor = pieces_above(above, between, view.poses, side, SECOND_LOOK)
    return _Apart(above, coarse, masks + unlike(coarse, other, masks), grounds, floor)


def _by_two(above: FromAbove, view: View, side: float, bare: Picture, progress: Progress) -> _Apart:
    """Raises CraftError."""
    floor, said = _beneath(above, view, bare, side)
    progress(0.5, "Telling pieces from the floor beneath")
    above = replace(above, seen=above.seen & floor.known)
    coarse, known, masks, floor = pieces_above(above, floor, view.poses, side)
    grounds = replace(palette_of(coarse, known), patterned=False)
    return _Apart(above, coarse, masks, grounds, floor, said=tuple(said))


def look_at_floor(picture: Picture, side: float = SIDE, progress: Progress = lambda share, words: None) -> Trace:
    """The floor and its cards before anything is laid on it: whether they will do. Raises CraftError."""
    progress(0.1, "Looking for cards")
    judged = judge_view(light_of(picture), sightings(picture), side)
    progress(0.6, "Seeing it from above")
    above = rectify(picture, judged.view.lens, judged.view.poses)
    return Trace(judged.view, above, (), judged.findings, judged.dropped, side)


def _beneath(above: FromAbove, view: View, bare: Picture, side: float) -> tuple[Floor, list[Finding]]:
    """The floor beneath a view from above, from a photograph of it, and what is to be said of that. Raises
    CraftError."""
    try:
        judged = judge_view(light_of(bare), sightings(bare), side)
    except CraftError as error:
        raise CraftError(f"The photograph of the floor: {error.message}", "ground") from None
    floor = floor_under(above, view, bare, judged.view, side)
    said = [replace(f, what=f"The photograph of the floor: {f.what}") for f in judged.findings]
    for number in floor.moved:
        said.append(
            Finding(
                "look",
                f"Card {number + 1} lies elsewhere in the photograph of the floor, and is not gone by there.",
                "Look whether it was pushed when the pieces were laid down.",
            )
        )
    return floor, said


def _pieces(view: View, apart: _Apart, mask: Mask) -> list[TracedPiece]:
    """What a rough mask holds: one piece, as a rule."""
    here, rough = crop(apart.above, apart.coarse, mask)
    palette = replace(apart.grounds, inks=inks_on(here, rough))
    floor = apart.floor
    under = floor.cropped(here) if floor is not None else None

    def look(view: FromAbove, mask: Mask, band: float = BAND) -> Close:
        if under is None:
            return look_close(view, mask, palette, band)
        return look_over(view, mask, palette, under.coarser(view), band)

    closes = (followed(look(here, part)) for part in settled(here, rough, look))
    made = (
        traced_piece(apart.above, here, close, lambda outline: view_error(view, outline), apart.guessed)
        for close in closes
    )
    return [piece for piece in made if piece is not None]


def as_read(pieces: list[TracedPiece]) -> list[TracedPiece]:
    """Pieces as a page is read: row by row from the top, each from the left."""
    rows: list[list[TracedPiece]] = []
    for piece in sorted(pieces, key=lambda p: float(p.outline[:, 1].mean())):
        middle, high = float(piece.outline[:, 1].mean()), float(np.ptp(piece.outline[:, 1]))
        if rows and middle < float(rows[-1][0].outline[:, 1].mean()) + 0.6 * high:
            rows[-1].append(piece)
        else:
            rows.append([piece])
    return [p for row in rows for p in sorted(row, key=lambda p: float(p.outline[:, 0].mean()))]
