"""Ink as a maker draws it: strokes through a few points on the cast, kept by where they lie on the body."""

import itertools
from typing import Annotated, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, StrictBool

from vellumcut.core.body.readings import Decision
from vellumcut.core.units import Length, Number

Array = NDArray[np.float64]

StrokeKind = Literal[
    "outline", "seam", "dart", "fold", "score", "trim edge", "layer cut", "paint line", "centre line", "mark"
]
STROKE_KINDS: dict[StrokeKind, str] = {
    "outline": "where the foam ends",
    "seam": "where two panels are glued edge to edge",
    "dart": "a slit that closes, so the panel can curve",
    "fold": "a V-groove or crease inside a panel",
    "score": "a shallow cut that heat opens",
    "trim edge": "where a strip or border is laid",
    "layer cut": "cut through the outer layer only: a window where it closes, segments where it parts",
    "paint line": "where one finish ends and another begins",
    "centre line": "the middle, to stand the panel upright",
    "mark": "a pencil mark, nothing is cut",
}
CUTTING: tuple[StrokeKind, ...] = ("outline", "seam")
"""Kinds that bound panels."""
INSIDE: tuple[StrokeKind, ...] = ("fold", "score", "trim edge", "layer cut", "paint line", "mark")
"""Kinds that are drawn on panels and bound none."""
PER_SPAN = 12
"""Points drawn between two control points."""

Point = Annotated[tuple[Annotated[Number, Field(ge=-8, le=16)], ...], Field(min_length=2, max_length=2)]
"""(around, along)."""
Key = Annotated[str, Field(pattern=r"^[A-Za-z0-9_-]{1,40}$")]


class Stroke(Decision):
    """One line of ink. points: control points in (around, along), signed so that a mirror image is a negation.

    lift: how far the armour stands off there, mm, spread over lift_width mm to each side: a ridge, flare or keel.
    closed: the last point joins the first.
    """

    key: Key
    kind: StrokeKind
    name: Annotated[str, Field(max_length=60)] = ""
    points: Annotated[tuple[Point, ...], Field(min_length=2, max_length=60)]
    curve: Literal["smooth", "straight"] = "smooth"
    closed: StrictBool = False
    lift: Annotated[Length, Field(ge=0, le=120)] = 0.0
    lift_width: Annotated[Length, Field(ge=5, le=300)] = 40.0


class InkSheet(Decision):
    """All ink of a piece. symmetric: every stroke is also there mirrored at the front line; one half is kept.

    left_out: a point in each enclosed region that is no panel (a window, an eye hole), in (around, along).
    """

    strokes: Annotated[tuple[Stroke, ...], Field(max_length=300)] = ()
    symmetric: StrictBool = False
    left_out: Annotated[tuple[Point, ...], Field(max_length=50)] = ()


def mirror_stroke(stroke: Stroke) -> Stroke:
    """The mirror image at the front line; mirrored twice it is itself, to the last bit."""
    return stroke.model_copy(update={"points": tuple((-u, v) for u, v in stroke.points)})


def mirror_sheet(sheet: InkSheet) -> InkSheet:
    """Every stroke and left-out region mirrored at the front line."""
    return sheet.model_copy(
        update={
            "strokes": tuple(mirror_stroke(s) for s in sheet.strokes),
            "left_out": tuple((-u, v) for u, v in sheet.left_out),
        }
    )


def drawn_strokes(sheet: InkSheet) -> list[tuple[Stroke, bool]]:
    """Every stroke that is on the cast, with whether it is the mirror image of one that is kept."""
    out = [(s, False) for s in sheet.strokes]
    if sheet.symmetric:
        out += [(mirror_stroke(s), True) for s in sheet.strokes if not lies_on_middle(s)]
    return out


def lies_on_middle(stroke: Stroke) -> bool:
    """Whether a stroke is its own mirror image: all on the front line, or all on the back line."""
    return all(u % 0.5 == 0 for u, _ in stroke.points) and len({u for u, _ in stroke.points}) == 1


def stroke_line(stroke: Stroke) -> Array:
    """The stroke as a dense polyline (n, 2) in (around, along).

    Smooth strokes are uniform Catmull-Rom splines (Catmull and Rom, 1974): each piece depends on four
    neighbouring points, so bending one place leaves the rest alone; straight ones join their points.
    """
    p = np.array(stroke.points, dtype=float)
    if stroke.closed and len(p) > 2:
        p = np.vstack([p, p[:1]])
    t = np.linspace(0, 1, PER_SPAN, endpoint=False)[:, None]
    if stroke.curve == "straight" or len(p) == 2:
        pieces = [a + t * (b - a) for a, b in itertools.pairwise(p)]
    else:
        ring = stroke.closed and len(p) > 3
        before = p[-2] if ring else 2 * p[0] - p[1]
        after = p[1] if ring else 2 * p[-1] - p[-2]
        q = np.vstack([before, p, after])
        pieces = [_catmull_rom(q[k], q[k + 1], q[k + 2], q[k + 3], t) for k in range(len(p) - 1)]
    return np.vstack([*pieces, p[-1:]])


def _catmull_rom(a: Array, b: Array, c: Array, d: Array, t: Array) -> Array:
    return np.asarray(0.5 * (2 * b + (c - a) * t + (2 * a - 5 * b + 4 * c - d) * t**2 + (3 * b - 3 * c + d - a) * t**3))
