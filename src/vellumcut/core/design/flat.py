"""Panels that were not flattened here but came flat: traced from a cast or a paper pattern, or read from a file."""

from typing import Annotated, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, StrictBool, StrictInt, WithJsonSchema, model_validator

from vellumcut.core.body.readings import Decision
from vellumcut.core.units import Length, Number
from vellumcut.core.words import SEEN

_Coordinate = Annotated[Number, Field(ge=-20_000, le=20_000)]
Place = Annotated[
    tuple[_Coordinate, _Coordinate],
    WithJsonSchema({"type": "array", "items": {"type": "number"}, "minItems": 2, "maxItems": 2}),
]
"""mm, y up."""


def places(points: NDArray[np.float64]) -> tuple[Place, ...]:
    """Points (n, 2), mm, as they are kept: to a thousandth."""
    return tuple((round(float(x), 3), round(float(y), 3)) for x, y in points)


Name = Annotated[str, Field(max_length=80), SEEN]
FlatKind = Literal["seam", "fold", "score", "trim edge", "layer cut", "paint line", "mark", "centre line", "segment"]
"""What a line inside a panel is. segment: where it is parted into pieces that lie on it, which stay one panel
beneath."""
Source = Literal["tape", "paper", "file", "solid"]


class FlatStroke(Decision):
    """A line on a panel that came flat."""

    kind: FlatKind = "mark"
    name: Name = ""
    points: Annotated[tuple[Place, ...], Field(min_length=2, max_length=2000)]


class FlatText(Decision):
    """Words that stand on a panel."""

    at: Place
    words: Name = ""


class FlatShape(Decision):
    """One panel. outline: closed, its first point not repeated, counter-clockwise. corners: index of points where edges
    begin. darts: index of tips; each is a corner. off: mm that its outline may be off, 0 where it was drawn. object: a
    thing to be fitted, such as a gem, a handle or a shoe's sole, and no panel.
    """

    number: Annotated[StrictInt, Field(ge=1, le=200)]
    name: Name = ""
    outline: Annotated[tuple[Place, ...], Field(min_length=3, max_length=4000)]
    holes: Annotated[
        tuple[Annotated[tuple[Place, ...], Field(min_length=3, max_length=2000)], ...], Field(max_length=400)
    ] = ()
    corners: Annotated[tuple[Annotated[StrictInt, Field(ge=0)], ...], Field(max_length=200)] = ()
    darts: Annotated[tuple[Annotated[StrictInt, Field(ge=0)], ...], Field(max_length=40)] = ()
    lines: Annotated[tuple[FlatStroke, ...], Field(max_length=200)] = ()
    texts: Annotated[tuple[FlatText, ...], Field(max_length=200)] = ()
    copies: Annotated[StrictInt, Field(ge=1, le=40)] = 1
    mirrored: StrictBool = False
    off: Annotated[Number, Field(ge=0, le=50)] = 0.0
    object: StrictBool = False

    @model_validator(mode="after")
    def _holds_its_corners(self) -> "FlatShape":
        if any(k >= len(self.outline) for k in (*self.corners, *self.darts)):
            raise ValueError("A corner lies beyond the outline's last point")
        x, y = np.array(self.outline).T
        if float((x * np.roll(y, -1) - np.roll(x, -1) * y).sum()) <= 0:
            raise ValueError("The outline has to run counter-clockwise and enclose something")
        return self


class FlatEdgeKey(Decision):
    """An edge: the one that begins at the panel's corner of that place in its list."""

    panel: Annotated[StrictInt, Field(ge=1, le=200)]
    edge: Annotated[StrictInt, Field(ge=0, le=200)]


class FlatMate(Decision):
    """Two edges that are glued to each other; each runs counter-clockwise round its own panel, so that they run against
    each other. true: both are made equally long."""

    a: FlatEdgeKey
    b: FlatEdgeKey
    name: Name = ""
    true: StrictBool = True


class FlatLie(Decision):
    """Where a panel lies on its wearer. at: a point of it, mm as it came. around, along: where on the body that lies,
    on a left limb. up: which way on the panel goes up the body there, degrees from its own up, clockwise as its outer
    face is seen.
    """

    panel: Annotated[StrictInt, Field(ge=1, le=200)]
    at: Place
    around: Annotated[Number, Field(ge=-1, le=2)]
    along: Annotated[Number, Field(ge=-2, le=40)]
    up: Annotated[Number, Field(ge=-360, le=360)] = 0.0


class FlatWork(Decision):
    """The flat panels of a piece. grow: they were taken off the skin, and are made larger for base layer, ease and half
    the foam. station, girth: where on the body they were taken, and mm round it then, for that and for other measures
    later. lies: panels that were laid on the body; what is glued to them lies there, too.
    """

    panels: Annotated[tuple[FlatShape, ...], Field(min_length=1, max_length=200)]
    mates: Annotated[tuple[FlatMate, ...], Field(max_length=200)] = ()
    source: Source = "tape"
    grow: StrictBool = False
    station: Name = ""
    girth: Annotated[Length, Field(ge=50, le=2500)] | None = None
    lies: Annotated[tuple[FlatLie, ...], Field(max_length=200)] = ()

    @model_validator(mode="after")
    def _mates_exist(self) -> "FlatWork":
        numbers = [p.number for p in self.panels]
        if len(set(numbers)) != len(numbers):
            raise ValueError("Two panels have one number")
        if not {lie.panel for lie in self.lies} <= set(numbers):
            raise ValueError("A panel was laid on the body that is not there")
        edges = {p.number: max(1, len(p.corners)) for p in self.panels}
        for mate in self.mates:
            for key in (mate.a, mate.b):
                if key.edge >= edges.get(key.panel, 0):
                    raise ValueError(f"Panel {key.panel} has no edge {key.edge + 1}")
        return self
