"""A hand that mends what was traced wrong: it sees what lay there, takes away what does not, and rubs over the worst of
what is not so, three strokes a piece at most."""

from dataclasses import replace

import numpy as np
import shapely

from tests.floors.laid import Dart
from tests.floors.score import darts_of
from tests.floors.taken import Taken
from vellumcut.core.errors import CraftError
from vellumcut.core.trace.hand.rub import FLIP, Before, rub
from vellumcut.core.trace.hand.stroke import Ground, Stroke
from vellumcut.core.trace.shapes import shape_of
from vellumcut.core.trace.trace import Trace

THINNEST = 1.2
"""mm, half of how wide a wrong place must be for the hand to see it."""


STROKES = 3
"""For each piece that lay there."""


def mended(scene: Taken, trace: Trace) -> Trace:
    """What was traced of a scene, after the hand."""
    truth = [shapely.Polygon(scene.place(trace, c.area.exterior.coords)) for c in scene.cuts]
    darts = [d for c in scene.cuts for d in darts_of(scene, trace, c)]
    pieces, luck = dict(enumerate(trace.pieces, 1)), np.random.default_rng(7)
    shapes = [shape_of(p, k) for k, p in pieces.items()]
    before = {k: Before(p.sure.view, p.slits, p.findings) for k, p in pieces.items()}
    lying = shapely.union_all(truth)
    shapes = [s for s in shapes if _area(s.outline).intersection(lying).area > 0.3 * _area(s.outline).area]
    for _ in range(STROKES * len(truth)):
        stroke = stroke_for(truth, [_area(s.outline) for s in shapes], darts, luck)
        if stroke is None:
            break
        try:
            after = rub(Ground(trace.above, trace.view.poses, trace.side), shapes, stroke, before, 0.1)
        except CraftError:
            continue
        shapes, pieces = list(after.shapes), pieces | dict(after.seen)
        before |= {k: Before(p.sure.view, p.slits, p.findings) for k, p in after.seen.items()}
    return replace(trace, pieces=tuple(pieces[s.number] for s in shapes))


def _area(outline: object) -> shapely.Polygon:
    return shapely.Polygon(np.array(outline) * FLIP).buffer(0)


def stroke_for(
    truth: list[shapely.Polygon], found: list[shapely.Polygon], darts: list[Dart], luck: np.random.Generator
) -> Stroke | None:
    """The next stroke of a hand that compares both, mm, y down; None where it sees nothing wrong."""
    pieces, outlines = shapely.union_all(truth), shapely.union_all(found)
    together = next((s for s in (_between(f, truth) for f in found) if s is not None), None)
    if together is not None:
        return together
    wrong = [(p, True) for p in _wide(pieces.difference(outlines))] + [
        (p, False) for p in _wide(outlines.difference(pieces))
    ]
    if not wrong:
        return next((down(d, luck) for d in darts if d.angle > 1.5 and lacks(d, found)), None)
    area, piece = max(wrong, key=lambda w: w[0].area)
    line, room = _along(area)
    line = line + luck.normal(scale=min(0.25 * room, 0.8), size=line.shape)
    return Stroke(line, float(np.clip(1.1 * room, 1.5, 10.0)), piece)


def lacks(dart: Dart, found: list[shapely.Polygon]) -> bool:
    """Whether a slit does not reach to within 3 mm of its tip."""
    before = shapely.Point(dart.tip - 3.0 * dart.way)
    return any(f.contains(before) and f.exterior.distance(before) > 0.6 for f in found)


def down(dart: Dart, luck: np.random.Generator) -> Stroke:
    line = dart.tip - np.linspace(dart.deep + 3.0, 0.5, 8)[:, None] * dart.way
    return Stroke(line + luck.normal(scale=0.15, size=line.shape), 0.8, False)


def _wide(area: shapely.Geometry) -> list[shapely.Polygon]:
    core = area.buffer(-THINNEST).buffer(THINNEST)
    return [p for p in shapely.get_parts(core) if p.area > 12.0]


def _along(area: shapely.Polygon) -> tuple[np.ndarray, float]:
    """A line through most of an area, and how far it stays from its rim, mm."""
    room = _room(area)
    inner = area.buffer(-0.45 * room)
    inner = max(shapely.get_parts(inner), key=lambda p: p.area)
    points = shapely.get_coordinates(shapely.segmentize(inner.exterior, 2.0))
    middle = points.mean(axis=0)
    way = np.linalg.svd(points - middle, full_matrices=False)[2][0]
    far = (points - middle) @ way
    steps = np.linspace(far.min(), far.max(), 9)
    line = []
    for a in steps:
        across = shapely.LineString([middle + a * way + s * np.array([-way[1], way[0]]) for s in (-900, 900)])
        parts = [p for p in shapely.get_parts(across.intersection(inner)) if p.length > 0]
        if parts:
            line.append(max(parts, key=lambda p: p.length).interpolate(0.5, normalized=True).coords[0])
    return np.array(line if len(line) > 1 else [middle, middle + way]), room


def _room(area: shapely.Polygon) -> float:
    low, high = 0.2, 400.0
    while high - low > 0.2:
        mid = (low + high) / 2
        low, high = (low, mid) if area.buffer(-mid).is_empty else (mid, high)
    return low


def _between(found: shapely.Polygon, truth: list[shapely.Polygon]) -> Stroke | None:
    """A line right across where two pieces were made one."""
    held = [t for t in truth if t.intersection(found).area > 0.5 * t.area]
    if len(held) < 2:
        return None
    a, b = sorted(held, key=lambda t: t.area)[:2]
    strip = a.buffer(4.0).intersection(b.buffer(4.0))
    if strip.is_empty:
        return None
    line, _ = _along(max(shapely.get_parts(strip), key=lambda p: p.area))
    way = (line[-1] - line[0]) / np.hypot(*(line[-1] - line[0]))
    gap = a.distance(b)
    return Stroke(
        np.vstack([line[:1] - 6 * way, line, line[-1:] + 6 * way]), float(np.clip(0.6 * gap, 0.8, 6.0)), False
    )
