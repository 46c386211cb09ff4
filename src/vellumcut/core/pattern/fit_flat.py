"""A pattern that was drawn for another body, held against this one: does it go round, and what would make it."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.polynomial import Polynomial
from numpy.typing import NDArray

from vellumcut.core.body.tube import TubeSurface
from vellumcut.core.design.flat import FlatShape, FlatStroke, FlatText, FlatWork, places
from vellumcut.core.design.piece import PieceDesign, opening
from vellumcut.core.errors import CraftError
from vellumcut.core.flatten.came_flat import moved_hole

Array = NDArray[np.float64]

MOST, LEAST = 1.6, 0.6
"""A pattern that would be stretched by more is not this piece, or lies the wrong way round."""
LEVELS = 7
"""Heights that are told between the stations."""
FINE = 2.0
"""mm from height to height at which a pattern is held against the body, and of its edges as they are moved."""
MOST_HEM = 0.3
"""Share of a panel's height that its lower or upper edge reaches over; where it would be more, it has no such edge."""
INSIDE = 1e-3
"""mm inside an end at which a level one is read."""
IN_FROM_END = 0.04
"""Share of a panel's height at an end without such an edge, in which it would be read as narrow."""


@dataclass(frozen=True)
class FitRow:
    """One height. word: of the station, or between which. up: mm from the pattern's lower end. was: mm that its panels
    go round there together; wants: body, ease and foam, without the gap; body: the girth alone."""

    word: str
    up: float
    was: float
    wants: float
    body: float

    @property
    def factor(self) -> float:
        return self.wants / max(self.was, 1e-6)


@dataclass(frozen=True, eq=False)
class Fit:
    """rows: from the lower end up, those that are told. height, length: mm of the pattern, and of the body from end to
    end. along: what it is stretched by along the limb. ups, factors: mm from the lower end, at every FINE of it, and
    how many times as wide it is wanted there."""

    rows: tuple[FitRow, ...]
    height: float
    length: float
    along: float
    ups: Array
    factors: Array

    @property
    def off(self) -> float:
        """How far it is off where it is off most, mm."""
        return max((abs(r.was - r.wants) for r in self.rows), default=0.0)


def check_fit(
    design: PieceDesign,
    tube: TubeSurface,
    numbers: Sequence[int],
    share: float = 1.0,
    ends: tuple[int, int] | None = None,
    along: bool = False,
) -> Fit:
    """Hold panels, bottom at the lower station, against a body. numbers: of the panels that make the round together.
    share: how much of the whole round they are. ends: index of the stations where the pattern begins and ends; None:
    the first and last. along: whether its length is to fit too. Raises CraftError.
    """
    shapes = _chosen(design.flat, numbers)
    first, last = ends or (0, len(tube.names) - 1)
    if not 0 <= first < last < len(tube.names):
        raise CraftError("The pattern has to begin at a lower station than it ends", "ends")
    height = max(float(np.ptp(np.array(s.outline)[:, 1])) for s in shapes)
    low, high = tube.at[first], tube.at[last]
    length = high - low
    stretch = length / height if along else 1.0
    if not LEAST < stretch < MOST:
        raise CraftError(
            f"It would have to be made {stretch:.2f} times as long: choose the stations where it ends", "ends"
        )
    stations = {float(tube.at[k] - low): tube.names[k] for k in range(first, last + 1)}
    lowest, highest = (x * stretch for x in _read_between(shapes, height))
    told = _levels(lowest, highest, list(stations))
    ups = np.unique([*told, *np.linspace(lowest, highest, 2 + int(height * stretch / FINE))])
    was = np.sum([_across(s, ups / stretch) for s in shapes], axis=0)
    body = share * np.asarray(tube.girth(tube.along(low + ups)))
    foam = 2 * np.pi * (design.base_layer + design.ease + design.foam / 2)
    wants = body + share * foam - (opening(design) if share == 1.0 else 0.0)
    at = [int(np.argmin(abs(ups - up))) for up in told]
    rows = [
        FitRow(stations.get(up, "between"), up / stretch, float(was[k]), float(wants[k]), float(body[k]))
        for up, k in zip(told, at, strict=True)
    ]
    worst = max(rows, key=lambda r: abs(np.log(max(r.factor, 1e-6))))
    if not LEAST < worst.factor < MOST:
        raise CraftError(
            f"{_where(worst)} its panels go {worst.was:.0f} mm round and {worst.wants:.0f} mm are wanted: choose the "
            "panels that make the round together, and how much of it they are",
            "panels",
        )
    return Fit(tuple(rows), height, length, stretch, ups / stretch, wants / np.maximum(was, 1e-6))


def _where(row: FitRow) -> str:
    return "Between two stations" if row.word == "between" else f"At the {row.word}"


APART = 5.0
"""mm by which a cast may go round more or less than the tape said before it is asked about."""


def disagreements(work: FlatWork, fit: Fit) -> list[str]:
    """Where a cast taken off the skin and the wearer's measures do not agree, at stations that were measured."""
    if work.source != "tape":
        return []
    out = []
    for row in fit.rows:
        off = row.was - row.body
        if row.word != "between" and abs(off) > APART:
            more = "more" if off > 0 else "less"
            out.append(
                f"At the {row.word} the cast goes {abs(off):.0f} mm {more} round than was measured: a mistaken "
                "measure, tape "
                f"that was {'pulled' if off > 0 else 'laid in folds'}, or "
                f"{'a piece too many' if off > 0 else 'a missing piece'}?"
            )
    return out


def _read_between(shapes: Sequence[FlatShape], height: float) -> tuple[float, float]:
    """Between which heights panels are read, mm from the lower end: to their very ends where those are edges."""
    hems = [_hems(s) for s in shapes]
    low = 0.0 if all(lower is not None for lower, _ in hems) else IN_FROM_END * height
    return low, height if all(upper is not None for _, upper in hems) else (1 - IN_FROM_END) * height


def _levels(low: float, high: float, stations: list[float]) -> list[float]:
    """Heights that are compared: the stations within the pattern, and places between them."""
    own = [s for s in stations if low <= s <= high]
    spread = [float(x) for x in np.linspace(low, high, LEVELS)]
    return sorted([*own, *(x for x in spread if all(abs(x - s) > (high - low) / (2 * LEVELS) for s in own))])


def _chosen(work: FlatWork | None, numbers: Sequence[int]) -> list[FlatShape]:
    shapes = [s for s in work.panels if s.number in numbers] if work else []
    if not shapes:
        raise CraftError("Choose the panels that make the round together", "panels")
    return shapes


def _across(shape: FlatShape, ups: Array) -> Array:
    """How wide a panel is at heights above its lower end, mm, (n,); what darts take out does not count. Where its lower
    or upper edge is not level, its sides are taken on as they run above or below it."""
    area = shapely.Polygon(shape.outline).buffer(0)
    left, low, right, high = area.bounds
    shapely.prepare(area)

    def wide(y: Array) -> Array:
        at = np.clip(y, low + INSIDE, high - INSIDE)
        ends = [[(left - 1, v), (right + 1, v)] for v in at]
        return np.asarray(shapely.length(shapely.intersection(area, shapely.linestrings(ends))))

    y = low + ups
    out = wide(y)
    lower, upper = _hems(shape)
    for edge, way in ((lower, 1.0), (upper, -1.0)):
        beyond = np.zeros(len(y), bool) if edge is None else (y - edge) * way < 0
        if edge is not None and beyond.any():
            near: Array = edge + way * np.array([0.5, 0.5 + 3 * FINE, 0.5 + 6 * FINE])
            out[beyond] = Polynomial.fit(near, wide(near), 2)(y[beyond])
    return np.where((y < low - FINE) | (y > high + FINE), 0.0, out)


def _hems(shape: FlatShape) -> tuple[float | None, float | None]:
    """Between which heights both sides of a panel stand, as in its outline: from the top of its lower edge to the
    bottom of its upper one. None where an end is no edge."""
    ring = np.array(shape.outline)
    low, high = float(ring[:, 1].min()), float(ring[:, 1].max())
    scaled = (ring - ring.min(axis=0)) / np.maximum(np.ptp(ring, axis=0), 1e-9)
    most = MOST_HEM * (high - low)
    # Counter-clockwise: along the lower edge from its left corner to its right one, along the upper one back.
    at = [int(np.hypot(*(scaled - corner).T).argmin()) for corner in ((0, 0), (1, 0), (1, 1), (0, 1))]
    lower = _run(ring, at[0], at[1])[:, 1].max()
    upper = _run(ring, at[2], at[3])[:, 1].min()
    return (float(lower) if lower - low <= most else None), (float(upper) if high - upper <= most else None)


def _run(ring: Array, first: int, last: int) -> Array:
    """Points of a ring from one to another."""
    end = last if last >= first else last + len(ring)
    return np.take(ring, range(first, end + 1), axis=0, mode="wrap")


def fitted(work: FlatWork, numbers: Sequence[int], fit: Fit) -> FlatWork:
    """The panels as wide at every height as they are wanted, each about its own middle: edges keep their character."""
    panels = tuple(_widened(s, fit.ups, fit.factors, fit.along) if s.number in numbers else s for s in work.panels)
    moves = {s.number: _widening(s, fit.ups, fit.factors, fit.along) for s in work.panels if s.number in numbers}
    lies = tuple(
        x.model_copy(update={"at": places(moves[x.panel](np.array([x.at])))[0]}) if x.panel in moves else x
        for x in work.lies
    )
    made = work.model_copy(update={"panels": panels, "lies": lies, "grow": False})
    return FlatWork.model_validate(made.model_dump())


def three_sizes(design: PieceDesign, number: int, step: float) -> PieceDesign:
    """One panel smaller, as it is, and larger, to be cut of paper and held against the body. step: share by which each
    differs. Foam, seams and copies are left out: it is an outline to look at. Raises CraftError.
    """
    (shape,) = _chosen(design.flat, [number])
    panels = [_at_factor(shape, k, f) for k, f in enumerate((1 - step, 1.0, 1 + step), 1)]
    work = FlatWork.model_validate({"panels": [p.model_dump() for p in panels], "source": "paper"})
    return PieceDesign.model_validate(
        {"template": design.template, "side": "right", "foam": design.foam, "flat": work.model_dump()}
    )


def _at_factor(shape: FlatShape, number: int, factor: float) -> FlatShape:
    flat, ups = np.array([factor, factor]), np.array([0.0, 1e6])
    name = f"{shape.name} at {factor * 100:.0f} %".strip()
    return _widened(shape, ups, flat, factor).model_copy(
        update={"number": number, "name": name[:80], "copies": 1, "mirrored": False}
    )


MOST_POINTS = 3500
"""Of an outline once its edges have points all along."""


def _widening(shape: FlatShape, ups: Array, factors: Array, along: float) -> Callable[[Array], Array]:
    """How places of a panel (n, 2) move as it is widened about its own middle and made as long."""
    outline = np.array(shape.outline)
    low = outline[:, 1].min()
    middle = (outline[:, 0].min() + outline[:, 0].max()) / 2

    def move(p: Array) -> Array:
        factor = np.interp(p[:, 1] - low, ups, factors)
        return np.column_stack([middle + (p[:, 0] - middle) * factor, low + (p[:, 1] - low) * along])

    return move


def _widened(shape: FlatShape, ups: Array, factors: Array, along: float) -> FlatShape:
    """Every edge is moved all along, not at its corners alone: a straight side becomes as round as the limb."""
    dense, at = _all_along(np.array(shape.outline))
    move = _widening(shape, ups, factors, along)

    def moved(p: Array) -> tuple[tuple[float, float], ...]:
        return places(move(p))

    made = {
        **shape.model_dump(),
        "outline": moved(dense),
        "corners": [at[k] for k in shape.corners],
        "darts": [at[k] for k in shape.darts],
        "holes": [places(moved_hole(_all_along(np.array(h), 400)[0], move)) for h in shape.holes],
        "lines": [
            FlatStroke(kind=x.kind, name=x.name, points=moved(_stepped(np.array(x.points)))).model_dump()
            for x in shape.lines
        ],
        "texts": [FlatText(at=moved(np.array([x.at]))[0], words=x.words).model_dump() for x in shape.texts],
    }
    return FlatShape.model_validate(made)


def _all_along(ring: Array, most: int = MOST_POINTS) -> tuple[Array, list[int]]:
    """A ring with points all along its sides, and where each of its own is among them."""
    steps = np.hypot(*(np.roll(ring, -1, axis=0) - ring).T)
    every = max(FINE, float(steps.sum()) / max(1, most - len(ring)))
    parts = np.maximum(1, np.ceil(steps / every).astype(int))
    rows = [
        a + np.linspace(0, 1, n, endpoint=False)[:, None] * (b - a)
        for a, b, n in zip(ring, np.roll(ring, -1, axis=0), parts, strict=True)
    ]
    return np.concatenate(rows), [0, *np.cumsum(parts)[:-1].tolist()]


def _stepped(line: Array) -> Array:
    """An open line with points all along it."""
    every = max(FINE, float(np.hypot(*np.diff(line, axis=0).T).sum()) / max(1, 1900 - len(line)))
    return np.asarray(shapely.get_coordinates(shapely.segmentize(shapely.LineString(line), every)))
