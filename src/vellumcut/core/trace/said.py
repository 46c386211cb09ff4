"""What is to be said of a piece that was traced: in words, with what to do."""

import cv2
import numpy as np
import shapely
from numpy.typing import NDArray

from vellumcut.core.trace.edges.thin import Thin
from vellumcut.core.trace.edges.tips import Slit
from vellumcut.core.trace.ground import RIM
from vellumcut.core.trace.sure import Sureness
from vellumcut.core.trace.view.judge import Finding
from vellumcut.core.trace.view.rectify import FromAbove

Array = NDArray[np.float64]

SURE_ENOUGH = 1.0
"""mm that a piece may be off before its maker is told to photograph again."""
LOOSE = 3.0
"""mm that a tip may be off along its slit before its maker is asked where it is."""
HARD_TO_SEE = 0.3
"""mm across of the narrowest slit that would be seen, from which that is worth telling: as wide is a slit of one
degree, 30 mm deep, on the whole."""
NECK, PART = 12.0, 0.12
"""mm across of a neck between parts of a piece, and what the lesser part is of the whole, from which they may be two
pieces that touch: panels narrower than that tear where they are glued."""

OUT_OF_VIEW = Finding(
    "stop",
    "It runs out of the picture, or too near to its edge.",
    "Step back until all of it is in view, or take a second picture that shares two cards.",
)
TWO_PIECES = Finding(
    "look",
    "It may be two pieces that touch.",
    "If they are two, rub between them with “This is floor”, or lay them apart and photograph again.",
)
ON_A_PATTERN = Finding(
    "look",
    "It lies on a ground with a pattern, which one photograph does not tell from a piece for sure.",
    "Photograph the floor with its cards before the pieces are laid down, and bring that in as well.",
    lasts=True,
)
PARTED = Finding(
    "look",
    "It was parted by hand: along that edge it is as true as the stroke.",
    "Draw the edge where it was cut, and rub open any dart that runs in from there.",
    lasts=True,
)


def said_of(above: FromAbove, outline: Array, sure: Sureness, slits: tuple[Slit, ...]) -> list[Finding]:
    """What is to be said of an outline, (n, 2) mm, y down, and of its slits."""
    out = []
    if _out_of_view(above, outline):
        out.append(OUT_OF_VIEW)
    if sure.unsure:
        places = _many(len(sure.unsure), "1 place", "places")
        what = f"Its edge cannot be seen well at {places}."
        do = "Look at what is marked, and draw it where it belongs; a shine or a ground of the same colour hides it."
        out.append(Finding("look", what, do))
    if sure.rms > SURE_ENOUGH:
        what = f"It may be off by {sure.rms:.1f} mm on the whole."
        out.append(Finding("stop", what, "Lay the cards round it on all sides, and photograph again."))
    loose = [s.off for s in slits if s.off > LOOSE]
    if loose:
        whose = _many(len(loose), "The tip of a dart is", "tips of darts are")
        what = f"{whose} not seen to the end: up to {max(loose):.0f} mm more may be cut."
        out.append(Finding("look", what, "Look at the cast, and drag the tip to where the cut ends."))
    if _may_be_two(outline):
        out.append(TWO_PIECES)
    return out


def said_of_thin(thin: Thin) -> list[Finding]:
    """What is to be said of slits that no outline shows."""
    out = []
    if thin.slits:
        what = f"{_many(len(thin.slits), 'A narrow slit is', 'narrow slits are')} read from a faint line alone."
        do = "See whether a dart is cut there; if none is, rub over it with “This is piece”."
        out.append(Finding("look", what, do))
    if len(thin.asked):
        where = _many(len(thin.asked), "one place", "places")
        what = f"Something like a narrow slit runs in from its edge at {where}."
        out.append(Finding("look", what, "If a dart is cut there, rub along it with “This is floor”."))
    if thin.least > HARD_TO_SEE:
        what = f"A slit narrower than {thin.least:.1f} mm would not be seen on it in this light and on this floor."
        do = "Look whether all darts are there, or lay it on a ground of another colour."
        out.append(Finding("look", what, do, lasts=True))
    return out


def ink_over(tips: int) -> Finding:
    """That ink hides where so many darts end."""
    what = f"Ink runs over the tip of {_many(tips, 'a dart', 'darts')}."
    return Finding("look", what, "See whether it ends where the cast is cut, and drag it there if it does not.")


def _many(count: int, one: str, more: str) -> str:
    return one if count == 1 else f"{count} {more}"


def _out_of_view(above: FromAbove, outline: Array) -> bool:
    at = np.clip(np.round(above.pixels(outline)).astype(int), 0, np.array(above.picture.shape[1::-1]) - 1)
    reach = round((RIM + 2.5) / above.per)
    low, high = at.min(axis=0), at.max(axis=0) + 2 * reach + 1
    about = np.pad(above.seen, reach)[low[1] : high[1], low[0] : high[0]].astype(np.uint8)
    seen = np.asarray(cv2.erode(about, np.ones((2 * reach + 1,) * 2, np.uint8)))[reach:-reach, reach:-reach]
    return bool((seen[at[:, 1] - low[1], at[:, 0] - low[0]] == 0).any())


def _may_be_two(outline: Array) -> bool:
    whole = shapely.Polygon(outline).buffer(0)
    parts = sorted(p.area for p in getattr(whole.buffer(-NECK / 2), "geoms", ()))
    return len(parts) > 1 and parts[-2] > PART * whole.area
