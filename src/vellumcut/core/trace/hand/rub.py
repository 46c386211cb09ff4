"""Shapes after a stroke, and what is now to be said of each that it changed."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import count

import numpy as np
import shapely
from numpy.typing import NDArray
from pydantic import ValidationError

from vellumcut.core.design.flat import FlatShape, places
from vellumcut.core.trace.edges.tips import Slit, Tip, slits_of
from vellumcut.core.trace.hand.corrections import redrawn
from vellumcut.core.trace.hand.look import all_over, drawn, part_of
from vellumcut.core.trace.hand.stroke import Ground, Stroke
from vellumcut.core.trace.hand.strokes import rubbed
from vellumcut.core.trace.ink import ink_on
from vellumcut.core.trace.outline import Close, Palette, opponent
from vellumcut.core.trace.piece import TracedPiece, evenly
from vellumcut.core.trace.said import ON_A_PATTERN, PARTED, said_of
from vellumcut.core.trace.shapes import strokes_of
from vellumcut.core.trace.sure import sureness
from vellumcut.core.trace.view.judge import Finding
from vellumcut.core.trace.view.rectify import FromAbove

Array = NDArray[np.float64]
FLIP = np.array([1.0, -1.0])
"""Shapes have y up, the picture has it down."""
ONE_TIP = 8.0
"""mm within which two tips are one slit's."""
MOST_INK = 60
"""Lines on one piece, the longest first."""
PEN = 1.8
"""mm, half of how wide a line of ink is with its blur: it is piece, however like the floor it looks."""


@dataclass(frozen=True, eq=False)
class Before:
    """What was known of a shape. of_view: mm that the view adds to how far it may be off. slits: as they were told.
    said: what was said of it."""

    of_view: float
    slits: tuple[Slit, ...] = ()
    said: tuple[Finding, ...] = ()


@dataclass(frozen=True, eq=False)
class After:
    """shapes: all there are now. seen: what is known of those that changed, by number. gone: numbers of those that were
    touched, whether they go on or not."""

    shapes: tuple[FlatShape, ...]
    seen: Mapping[int, TracedPiece]
    gone: tuple[int, ...]


def rub(
    ground: Ground, shapes: Sequence[FlatShape], stroke: Stroke, before: Mapping[int, Before], of_view: float
) -> After:
    """What a stroke makes of shapes. before: what was known of each that was traced; of_view: of what was not. Raises
    CraftError where the stroke says nothing new."""
    by_number = {s.number: s for s in shapes}
    areas = {n: shapely.Polygon(np.array(s.outline) * FLIP).buffer(0) for n, s in by_number.items()}
    lines = [np.array(x.points) * FLIP for s in shapes for x in s.lines]
    ink = shapely.union_all([shapely.LineString(x).buffer(PEN) for x in lines])
    made = rubbed(replace(ground, ink=ink), areas, stroke)
    known = [t for n in made.gone if n in before for t in _known(before[n].slits)]
    known = [t for t in known if all(np.hypot(*(t.at - u.at)) > ONE_TIP for u in made.tips)]
    touched = {n: by_number.pop(n) for n in made.gone}
    seen = {}
    free = count(max([*by_number, *touched], default=0) + 1)
    for goes_on_as, area in made.made:
        number = goes_on_as or next(free)
        tips = [t for t in (*made.tips, *known) if area.exterior.distance(shapely.Point(t.at)) < 1.0]
        try:
            base = touched.get(number) or _new(ground, area, number)
            shape = redrawn(base, _flipped(area), [t.at * FLIP for t in tips])
        except ValidationError:
            raise all_over() from None
        view = max([before[n].of_view for n in made.gone if n in before], default=of_view)
        ends = np.array([shape.outline[k] for k in shape.darts]).reshape(-1, 2) * FLIP
        tips = [t for t in tips if (np.hypot(*(ends - t.at).T) < 1.0).any()]
        said = [f for n in made.gone if n in before for f in before[n].said if f.lasts]
        said += [PARTED] if made.parted else []
        said += [ON_A_PATTERN] if made.palette.patterned and not made.gone and not ground.bare else []
        piece = _seen(ground.above, shape, tips, made.palette, view)
        piece = replace(piece, findings=tuple(dict.fromkeys([*piece.findings, *said])))
        seen[number] = piece
        by_number[number] = shape.model_copy(update={"off": round(piece.sure.rms, 3)})
    return After(tuple(by_number[n] for n in sorted(by_number)), seen, made.gone)


def _known(slits: Sequence[Slit]) -> list[Tip]:
    return [Tip(s.tip, np.zeros(2), s.off, s.angle) for s in slits]


def _flipped(area: shapely.Polygon) -> shapely.Polygon:
    return shapely.orient_polygons(shapely.transform(area, lambda points: points * FLIP))


def _new(ground: Ground, area: shapely.Polygon, number: int) -> FlatShape:
    """A piece that was missed, with its ink."""
    here = _about(ground.above, area)
    return FlatShape(
        number=number,
        outline=places(np.array(_flipped(shapely.box(*area.bounds)).exterior.coords)[:-1]),
        lines=strokes_of(ink_on(here, drawn(here, area))[:MOST_INK]),
    )


def _about(above: FromAbove, area: shapely.Geometry) -> FromAbove:
    return part_of(above, *(np.array(area.bounds).reshape(2, 2) + np.array([[-9.0], [9.0]])))


def _seen(above: FromAbove, shape: FlatShape, tips: list[Tip], palette: Palette, of_view: float) -> TracedPiece:
    """What is to be said of a shape, by what is seen along it."""
    outline = evenly(np.array(shape.outline) * FLIP)
    here = _about(above, shapely.Polygon(outline))
    nothing = np.zeros(here.picture.shape[:2], np.float32)
    close = Close(nothing, opponent(here.picture), palette, here.corner, here.per, nothing, nothing)
    slits = slits_of(outline, tips)
    sure = sureness(of_view, close, outline, [s.off for s in slits])
    holes = tuple(np.array(h) * FLIP for h in shape.holes)
    return TracedPiece(outline, holes, slits, (), sure, tuple(said_of(above, outline, sure, slits)))
