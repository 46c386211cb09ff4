"""Where else a part could lie that does not fit where it is: nearest first, for one press that mends it."""

from collections.abc import Iterator

import numpy as np

from vellumcut.core.body.tube import TubeSurface
from vellumcut.core.design.making import Detail
from vellumcut.core.design.parts import Border, PartShape, Plate, Row

INSETS = (2.0, 4.0, 6.0, 9.0, 12.0, 16.0, 20.0, 25.0, 30.0, 40.0)
"""By how many mm a strip or a row is moved in, or out."""
FAR = (10.0, 20.0, 35.0, 55.0, 80.0)
"""By how many mm a plate is moved."""
WAYS = 8
SMALLER = (0.85, 0.7, 0.5)
"""How wide a plate is made, of what it was, where it fits nowhere near."""


def mends_of(detail: Detail, tube: TubeSurface) -> Iterator[Detail]:
    """The same detail elsewhere, or less of it, the least change first; none for what lies over all of a panel."""
    shape = detail.shape
    if isinstance(shape, Row):
        if not shape.clear:
            yield _with(detail, shape.model_copy(update={"clear": True}))
        yield from (_with(detail, s) for s in _moved_in(shape))
    elif isinstance(shape, Border):
        yield from (_with(detail, s) for s in _moved_in(shape))
    elif isinstance(shape, Plate):
        yield from (_with(detail, s) for s in _moved(shape, tube))


def _with(detail: Detail, shape: PartShape) -> Detail:
    return detail.model_copy(update={"shape": shape})


def _moved_in(shape: Border | Row) -> Iterator[Border | Row]:
    for by in INSETS:
        for inset in (shape.inset + by, shape.inset - by):
            if 0 <= inset <= 300:
                yield shape.model_copy(update={"inset": inset})


def _moved(plate: Plate, tube: TubeSurface) -> Iterator[Plate]:
    """Each of several plates keeps its way from the others."""
    v = plate.at[1]
    girth = float(tube.girth(np.array([v]))[0])
    low, high = tube.reach
    for far in FAR:
        for turn in np.arange(WAYS) * 2 * np.pi / WAYS:
            mm = np.clip(tube.mm(np.array([v])) + far * np.sin(turn), low, high)
            step = (far * np.cos(turn) / girth, float(tube.along(mm)[0]) - v)
            at, *also = ((a + step[0], b + step[1]) for a, b in plate.places)
            yield plate.model_copy(update={"at": at, "also": tuple(also)})
    yield from (plate.model_copy(update={"wide": max(plate.wide * share, 5.0)}) for share in SMALLER)
