"""What a nest leaves: the rest of a sheet, first straight cuts, the order of the knife, and what is wrong with it."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import combinations

import numpy as np
import shapely

from vellumcut.core.nest.fill import Plan, Rules
from vellumcut.core.nest.shapes import NestSheet, Placed

USEFUL = (100.0, 25_000.0)
"""mm across and mm2 from which a rest is kept as an offcut (est.): from less only small parts come."""
HANDLED = 800.0
"""mm: a sheet on which one cuts by hand is parted into lengths of about so much first (est.)."""
TOUCH = 0.01
"""mm2 of two parts that lie on each other unsaid: the rounding of numbers."""


@dataclass(frozen=True)
class Trouble:
    """What is wrong with parts as they lie. parts: which."""

    parts: tuple[str, ...]
    words: str


def rest_of(sheet: NestSheet, placed: Sequence[Placed], rules: Rules) -> shapely.Polygon | None:
    """The largest rest of a sheet that one straight cut parts off, beside or above all that lies on it; None where
    nothing useful is left."""
    if not placed:
        return sheet.shape
    bounds = np.array([p.shape.bounds for p in placed])
    left, low, right, high = sheet.shape.bounds
    past, over = bounds[:, 2].max() + rules.clearance, bounds[:, 3].max() + rules.clearance
    rests = [
        sheet.shape.intersection(shapely.box(*box))
        for box in ((past, low, right, high), (left, over, right, high))
        if box[2] - box[0] >= USEFUL[0] and box[3] - box[1] >= USEFUL[0]
    ]
    whole = [g for r in rests for g in shapely.get_parts(r) if isinstance(g, shapely.Polygon) and g.area >= USEFUL[1]]
    return max(whole, key=lambda g: g.area) if whole else None


def first_cuts(sheet: NestSheet, placed: Sequence[Placed]) -> list[float]:
    """Where straight cuts across a long sheet go through no part, mm from its left, so that what is between can be
    handled; the fewest of them."""
    left, _, right, _ = sheet.shape.bounds
    spans = sorted((p.shape.bounds[0], p.shape.bounds[2]) for p in placed)
    gaps, reach = [], left
    for start, end in spans:
        if start > reach > left:
            gaps.append((reach + start) / 2)
        reach = max(reach, end)
    if spans and right - reach > 1.0:
        gaps.append(reach + min(1.5, (right - reach) / 2))
    cuts: list[float] = []
    at = left
    for k, gap in enumerate(gaps):
        later = gaps[k + 1] if k + 1 < len(gaps) else right
        if later - at > HANDLED or k + 1 == len(gaps):
            cuts.append(gap)
            at = gap
    return cuts


def knife_order(placed: Sequence[Placed]) -> list[Placed]:
    """What lies in a hole of another before that one; then small before large, so that a sheet holds while it is cut;
    its ends last."""
    middle = np.mean([p.shape.centroid.x for p in placed]) if placed else 0.0
    whole = [shapely.Polygon(p.shape.exterior) for p in placed]
    tree = shapely.STRtree(whole)
    within = {id(p): len(tree.query(w, predicate="within")) for p, w in zip(placed, whole, strict=True)}
    return sorted(
        placed,
        key=lambda p: (
            -within[id(p)], round(np.log2(max(p.part.form.area, 1.0))), abs(p.shape.centroid.x - middle)
        ),
    )  # fmt: skip


def troubles(sheets: Sequence[NestSheet], plan: Plan, rules: Rules) -> Iterator[Trouble]:
    """Parts that lie on each other, too near, or past the edge: by the outlines themselves, however they came there."""
    for sheet in sheets:
        own = plan.on(sheet.key)
        for one in own:
            out = one.shape.difference(sheet.shape).area
            if out > TOUCH:
                yield Trouble((one.part.key,), f"reaches {out / 100:.1f} cm2 past its sheet")
        tree = shapely.STRtree([p.shape for p in own])
        for a, b in combinations(range(len(own)), 2) if len(own) < 3 else _near(tree, own, rules.clearance):
            first, second = own[a], own[b]
            gap = first.shape.distance(second.shape)
            if gap <= 0 and first.shape.intersection(second.shape).area > TOUCH:
                yield Trouble((first.part.key, second.part.key), "lie on each other")
            elif gap < rules.clearance - TOUCH:
                yield Trouble(
                    (first.part.key, second.part.key), f"are {gap:.1f} mm apart, less than {rules.clearance:g} mm"
                )


def _near(tree: shapely.STRtree, own: Sequence[Placed], within: float) -> Iterator[tuple[int, int]]:
    pairs = tree.query([p.shape for p in own], predicate="dwithin", distance=within)
    yield from ((int(a), int(b)) for a, b in pairs.T if a < b)


def density(placed: Sequence[Placed], sheet: NestSheet, rest: shapely.Polygon | None) -> float:
    """Share of what is used of a sheet that becomes parts."""
    used = sheet.shape.area - (rest.area if rest is not None else 0.0)
    return sum(p.part.form.area for p in placed) / used if used > 0 else 0.0
