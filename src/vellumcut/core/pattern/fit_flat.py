"""A pattern that was drawn for another body, held against this one: does it go round, and what would make it."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from vellumcut.core.body.tube import TubeSurface
from vellumcut.core.design.flat import FlatShape, FlatStroke, FlatText, FlatWork, places
from vellumcut.core.design.piece import PieceDesign, opening
from vellumcut.core.errors import CraftError

Array = NDArray[np.float64]

MOST, LEAST = 1.6, 0.6
"""A pattern that would be stretched by more is not this piece, or lies the wrong way round."""
LEVELS = 7
IN_FROM_END = 0.04
"""Share of a panel's height at its ends where an outline that is not level would be read as narrow."""


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


@dataclass(frozen=True)
class Fit:
    """rows: from the lower end up. height, length: mm of the pattern, and of the body from end to end. along: what it
    is stretched by along the limb."""

    rows: tuple[FitRow, ...]
    height: float
    length: float
    along: float


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
    rows = []
    heights = {float(tube.at[k] - low): tube.names[k] for k in range(first, last + 1)}
    for up in _levels(height * stretch, list(heights)):
        was = sum(_across(s, up / stretch) for s in shapes)
        body = float(tube.girth(tube.along(low + up)))
        foam = 2 * np.pi * (design.base_layer + design.ease + design.foam / 2)
        wants = share * (body + foam - (opening(design) if share == 1.0 else 0.0))
        word = heights.get(up, "between")
        rows.append(FitRow(word, up / stretch, was, wants, share * body))
    worst = max(rows, key=lambda r: abs(np.log(max(r.factor, 1e-6))))
    if not LEAST < worst.factor < MOST:
        raise CraftError(
            f"{_where(worst)} its panels go {worst.was:.0f} mm round and {worst.wants:.0f} mm are wanted: choose the "
            "panels that make the round together, and how much of it they are",
            "panels",
        )
    return Fit(tuple(rows), height, length, stretch)


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


def _levels(height: float, stations: list[float]) -> list[float]:
    """Heights that are compared: the stations within the pattern, and places between them."""
    low, high = IN_FROM_END * height, (1 - IN_FROM_END) * height
    own = [s for s in stations if low <= s <= high]
    spread = [float(x) for x in np.linspace(low, high, LEVELS)]
    return sorted([*own, *(x for x in spread if all(abs(x - s) > height / (2 * LEVELS) for s in own))])


def _chosen(work: FlatWork | None, numbers: Sequence[int]) -> list[FlatShape]:
    shapes = [s for s in work.panels if s.number in numbers] if work else []
    if not shapes:
        raise CraftError("Choose the panels that make the round together", "panels")
    return shapes


def _across(shape: FlatShape, up: float) -> float:
    """How wide a panel is at a height above its lower end, mm; what darts take out does not count."""
    area = shapely.Polygon(shape.outline).buffer(0)
    left, low, right, high = area.bounds
    y = low + up
    if not low < y < high:
        return 0.0
    return float(shapely.intersection(area, shapely.LineString([(left - 1, y), (right + 1, y)])).length)


def fitted(work: FlatWork, numbers: Sequence[int], fit: Fit) -> FlatWork:
    """The panels as wide at every height as they are wanted, each about its own middle: edges keep their character."""
    ups, factors = np.array([r.up for r in fit.rows]), np.array([r.factor for r in fit.rows])
    panels = tuple(_widened(s, ups, factors, fit.along) if s.number in numbers else s for s in work.panels)
    return FlatWork.model_validate({**work.model_dump(), "panels": [p.model_dump() for p in panels], "grow": False})


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


def _widened(shape: FlatShape, ups: Array, factors: Array, along: float) -> FlatShape:
    outline = np.array(shape.outline)
    low = outline[:, 1].min()
    middle = (outline[:, 0].min() + outline[:, 0].max()) / 2

    def moved(points: Sequence[tuple[float, float]]) -> tuple[tuple[float, float], ...]:
        p = np.array(points)
        factor = np.interp(p[:, 1] - low, ups, factors)
        return places(np.column_stack([middle + (p[:, 0] - middle) * factor, low + (p[:, 1] - low) * along]))

    made = {
        **shape.model_dump(),
        "outline": moved(shape.outline),
        "holes": [moved(h) for h in shape.holes],
        "lines": [FlatStroke(kind=x.kind, name=x.name, points=moved(x.points)).model_dump() for x in shape.lines],
        "texts": [FlatText(at=moved([x.at])[0], words=x.words).model_dump() for x in shape.texts],
    }
    return FlatShape.model_validate(made)
