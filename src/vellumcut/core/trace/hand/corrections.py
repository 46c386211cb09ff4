"""What a maker puts right on a traced outline, a gesture each. All lengths in mm, y up."""

from collections.abc import Sequence

import numpy as np
import shapely
import shapely.ops
from numpy.typing import NDArray
from scipy.ndimage import gaussian_filter1d

from vellumcut.core.design.flat import FlatKind, FlatShape, FlatStroke, places
from vellumcut.core.errors import CraftError
from vellumcut.core.trace.shapes import DENSE, with_corners

Array = NDArray[np.float64]

NEAR = 12.0
"""mm within which a touch means a corner or an edge."""
ROUNDING = 6.0
"""mm over which an edge is smoothed."""
GAP = 6.0
"""mm between two outlines that are joined across."""


def move_corner(shape: FlatShape, at: Array, to: Array) -> FlatShape:
    """The corner nearest to a place, moved; both edges that meet there follow, less and less to their other ends."""
    points, starts = np.array(shape.outline), _starts(shape)
    k = min(range(len(starts)), key=lambda i: float(np.hypot(*(points[starts[i]] - at))))
    if np.hypot(*(points[starts[k]] - at)) > NEAR:
        raise CraftError("There is no corner there; make one first", "at")
    shift = to - points[starts[k]]
    moved = points.copy()
    for ahead in (1, -1):
        other = starts[(k + ahead) % len(starts)]
        count = ((other - starts[k]) * ahead) % len(points) or len(points)
        index = (starts[k] + ahead * np.arange(count)) % len(points)
        share = 1 - _run(points[index]) / max(1e-9, float(_run(points[np.append(index, other)])[-1]))
        moved[index[1:]] += share[1:, None] * shift
    moved[starts[k]] += shift
    return _with(shape, moved, shape.corners, shape.darts)


def toggle_corner(shape: FlatShape, at: Array) -> FlatShape:
    """A corner where there is none near a place, none where there is one."""
    points, starts = np.array(shape.outline), _starts(shape)
    far = np.hypot(*(points - at).T)
    k = int(np.argmin(far))
    if far[k] > NEAR:
        raise CraftError("Touch the outline where the corner is to be", "at")
    near = [i for i in starts if np.hypot(*(points[i] - at)) < NEAR / 2]
    if near and len(starts) > 1:
        gone = min(near, key=lambda i: float(far[i]))
        return _with(shape, points, [c for c in shape.corners if c != gone], [d for d in shape.darts if d != gone])
    return _with(shape, points, sorted({*shape.corners, k}), shape.darts)


def straighten(shape: FlatShape, edge: int) -> FlatShape:
    """An edge drawn straight from corner to corner."""
    points, index = _edge(shape, edge)
    share = _run(points[index])
    points[index] = points[index[0]] + (share / share[-1])[:, None] * (points[index[-1]] - points[index[0]])
    return _with(shape, points, shape.corners, shape.darts)


def smooth(shape: FlatShape, edge: int) -> FlatShape:
    """An edge with its wander taken out, its ends kept."""
    points, index = _edge(shape, edge)
    span = points[index]
    step = float(_run(span)[-1]) / max(1, len(span) - 1)
    line = span[0] + np.linspace(0, 1, len(span))[:, None] * (span[-1] - span[0])
    # What stands off a straight line is smoothed, turned over at both ends, so that the ends stay.
    off = span - line
    full = np.concatenate([-off[:0:-1], off, -off[-2::-1]])
    soft = gaussian_filter1d(full, ROUNDING / max(step, 0.1), axis=0)[len(off) - 1 : 2 * len(off) - 1]
    points[index] = line + soft
    return _with(shape, points, shape.corners, shape.darts)


def symmetric(shape: FlatShape, keep: str = "left") -> FlatShape:
    """One half and its mirror image, about the centre line if one is inked, else about the middle of its width."""
    points = np.array(shape.outline)
    centre = next((np.array(x.points) for x in shape.lines if x.kind == "centre line"), None)
    low, high = points.min(axis=0), points.max(axis=0)
    a, b = (
        (centre[0], centre[-1])
        if centre is not None
        else (np.array([low[0] + high[0], 2 * low[1]]) / 2, np.array([low[0] + high[0], 2 * high[1]]) / 2)
    )
    if a[1] > b[1]:
        a, b = b, a
    way = (b - a) / np.hypot(*(b - a))
    left = np.array([-way[1], way[0]]) * (1.0 if keep == "left" else -1.0)
    far = 2 * float(np.hypot(*(high - low))) + 10
    half_plane = shapely.Polygon([a - far * way, a + far * way, a + far * (way + left), a + far * (left - way)])
    half = _largest(shapely.Polygon(points).buffer(0).intersection(half_plane))
    ring = np.array(shapely.get_coordinates(half))
    mirrored = ring - 2 * ((ring - a) @ left)[:, None] * left
    whole = _largest(shapely.union(half.buffer(0.01), shapely.Polygon(mirrored).buffer(0.01)).buffer(-0.01))
    return redrawn(shape, whole)


BOWED = 3.0
"""mm that an edge may leave a straight line and still be the middle of a piece, cut by hand."""


def unfold(shape: FlatShape, edge: int) -> FlatShape:
    """A half and its mirror image about one of its edges, which is its middle. Raises CraftError for an edge that is
    bowed, or with the shape on both of its sides."""
    points, index = _edge(shape, edge)
    a, b = points[index[0]], points[index[-1]]
    way = (b - a) / max(1e-9, float(np.hypot(*(b - a))))
    off = (points - a) @ np.array([-way[1], way[0]])
    if len(_starts(shape)) < 3 or np.abs(off[index]).max() > BOWED:
        far = f"{np.abs(off[index]).max():.1f} mm"
        raise CraftError(f"That edge is bowed by {far}: unfold about a straight one, or straighten it first", "edge")
    if off.min() < -BOWED:
        raise CraftError("It lies on both sides of that edge: unfold it about its middle", "edge")
    straight = straighten(shape, edge)
    half = shapely.Polygon(straight.outline)

    def over(line: Array) -> Array:
        aside = (np.asarray(line) - a) @ np.array([-way[1], way[0]])
        return np.asarray(line - 2 * aside[:, None] * np.array([-way[1], way[0]]))

    twin = shapely.transform(half, over)
    whole = _largest(shapely.union(half.buffer(0.01), twin.buffer(0.01)).buffer(-0.01))
    tips = over(np.array([shape.outline[k] for k in shape.darts]).reshape(-1, 2))
    middle = FlatStroke(kind="centre line", name="middle", points=places(np.array([a, b])))
    lines = [x for s in shape.lines for x in (s, s.model_copy(update={"points": places(over(np.array(s.points)))}))]
    holes = [h for own in shape.holes for h in (own, places(over(np.array(own))[::-1]))]
    more = {"lines": (middle, *lines), "holes": tuple(holes), "mirrored": False}
    return redrawn(straight.model_copy(update=more), whole, list(tips))


def pair(shape: FlatShape) -> FlatShape:
    """One is cut as it lies and one turned over; or one alone again."""
    return shape.model_copy(update={"mirrored": not shape.mirrored})


def as_object(shape: FlatShape) -> FlatShape:
    """A thing that is to be fitted, or a panel after all. Raises CraftError for a thing without a name: it is asked for
    by it."""
    if not shape.object and not shape.name.strip():
        raise CraftError("Name it first: an object is kept by its name", "name")
    return shape.model_copy(update={"object": not shape.object})


def cut(shape: FlatShape, line: Array, number: int) -> tuple[FlatShape, FlatShape]:
    """A shape parted along a line from edge to edge; the second gets the number. Raises CraftError where it parts
    nothing."""
    whole = shapely.Polygon(shape.outline).buffer(0)
    ends = line[-1] - line[0]
    reach = ends / max(1e-9, float(np.hypot(*ends))) * NEAR
    through = shapely.LineString(np.vstack([line[:1] - reach, line, line[-1:] + reach]))
    parts = sorted(
        (g for g in shapely.get_parts(shapely.ops.split(whole, through)) if g.area > 50.0), key=lambda g: -g.area
    )
    if len(parts) < 2:
        raise CraftError("The line does not run from edge to edge: draw it right across", "line")
    first, second = redrawn(shape, parts[0]), redrawn(shape, parts[1])
    return first, second.model_copy(update={"number": number, "name": ""})


def join(one: FlatShape, other: FlatShape) -> FlatShape:
    """Two outlines as one, across a gap that a shadow or a strip of tape has left. Raises CraftError where they are
    apart."""
    a, b = (shapely.Polygon(s.outline).buffer(0) for s in (one, other))
    if a.distance(b) > GAP:
        raise CraftError(f"They lie {a.distance(b):.0f} mm apart: only what touches is joined", "other")
    r = GAP / 2 + 0.1
    whole = shapely.union(a.buffer(r), b.buffer(r)).buffer(-r)
    return redrawn(
        one.model_copy(update={"lines": (*one.lines, *other.lines), "off": max(one.off, other.off)}), _largest(whole)
    )


def set_kind(shape: FlatShape, line: int, kind: FlatKind) -> FlatShape:
    """What a line on the shape stands for."""
    if line >= len(shape.lines):
        raise CraftError("There is no such line on it any more", "line")
    lines = [x.model_copy(update={"kind": kind}) if k == line else x for k, x in enumerate(shape.lines)]
    return shape.model_copy(update={"lines": tuple(lines)})


def turn(shape: FlatShape, degrees: float) -> FlatShape:
    """A shape turned about its middle, against the clock."""
    middle = np.array(shape.outline).mean(axis=0)
    c, s = np.cos(np.radians(degrees)), np.sin(np.radians(degrees))
    m = np.array([[c, s], [-s, c]])

    def turned(points: Sequence[tuple[float, float]]) -> tuple[tuple[float, float], ...]:
        return places((np.array(points) - middle) @ m + middle)

    lines = tuple(FlatStroke(kind=x.kind, name=x.name, points=turned(x.points)) for x in shape.lines)
    return shape.model_copy(
        update={"outline": turned(shape.outline), "holes": tuple(map(turned, shape.holes)), "lines": lines}
    )


def segments(shape: FlatShape, first: int) -> list[FlatShape]:
    """What lines of kind "segment" part a shape into, from the bottom up, numbered from ``first``; the shape itself
    stays what lies beneath. Raises CraftError where they part nothing."""
    whole = shapely.Polygon(shape.outline).buffer(0)
    parts = [whole]
    for stroke in (x for x in shape.lines if x.kind == "segment"):
        line = np.array(stroke.points)
        ends = (line[0] - line[min(4, len(line) - 1)], line[-1] - line[max(0, len(line) - 5)])
        reach = [w / max(1e-9, float(np.hypot(*w))) * NEAR for w in ends]
        through = shapely.LineString(np.vstack([line[:1] + reach[0], line, line[-1:] + reach[1]]))
        parts = [g for p in parts for g in shapely.get_parts(shapely.ops.split(p, through)) if g.area > 50.0]
    if len(parts) < 2:
        raise CraftError('No line of kind "segment" runs across it from edge to edge', "number")
    parts.sort(key=lambda g: (round(g.centroid.y / 8), g.centroid.x))
    bare = shape.model_copy(update={"lines": ()})
    return [
        redrawn(bare, g).model_copy(update={"number": first + k, "name": f"{shape.name} segment {k + 1}".strip()})
        for k, g in enumerate(parts)
    ]


def _starts(shape: FlatShape) -> list[int]:
    return sorted({*shape.corners, *shape.darts}) or [0]


def _run(points: Array) -> Array:
    return np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(points, axis=0).T))])


def _edge(shape: FlatShape, edge: int) -> tuple[Array, NDArray[np.int64]]:
    points, starts = np.array(shape.outline), _starts(shape)
    if edge >= len(starts):
        raise CraftError("There is no such edge any more", "edge")
    start, end = starts[edge], starts[(edge + 1) % len(starts)]
    count = (end - start) % len(points) or len(points)
    return points, (start + np.arange(count + 1)) % len(points)


def _with(shape: FlatShape, points: Array, corners: Sequence[int], darts: Sequence[int]) -> FlatShape:
    if not shapely.Polygon(points).is_valid:
        raise CraftError("The outline would cross itself", "outline")
    made = {**shape.model_dump(), "outline": places(points), "corners": tuple(corners), "darts": tuple(darts)}
    return FlatShape.model_validate(made)


def _largest(shape: shapely.Geometry) -> shapely.Polygon:
    parts = [g for g in shapely.get_parts(shape) if g.geom_type == "Polygon"]
    if not parts:
        raise CraftError("Nothing would be left of it", "outline")
    return max(parts, key=lambda g: float(g.area))


def _folds(dense: Array, tip: Array) -> bool:
    """Whether an outline still turns back at the tip of a dart: a slit that was opened further, or cut off, does
    not."""
    far = np.hypot(*(dense - tip).T)
    k = int(np.argmin(far))
    before, after = (dense[(k + way * round(3.0 / DENSE)) % len(dense)] - dense[k] for way in (-1, 1))
    return bool(far[k] < 1.0 and before @ after > 0.5 * np.hypot(*before) * np.hypot(*after))


SPECK = 20.0
"""mm2 of the smallest hole."""


def redrawn(shape: FlatShape, area: shapely.Polygon, more: Sequence[Array] = ()) -> FlatShape:
    """A shape with another outline: corners are found anew, tips of darts that lie on it stay tips, lines are cut to
    it. more: tips of darts, mm, that it has now."""
    ring = shapely.LinearRing(shapely.orient_polygons(area).exterior)
    dense = np.asarray(
        shapely.get_coordinates(shapely.line_interpolate_point(ring, np.arange(0.0, ring.length, DENSE)))
    )
    tips = [t for t in (*more, *(np.array(shape.outline[k]) for k in shape.darts)) if _folds(dense, t)]
    tips = [t for k, t in enumerate(tips) if all(np.hypot(*(t - u)) > NEAR / 2 for u in tips[:k])]
    outline, corners, darts = with_corners(dense, tips)
    kept = []
    for x in shape.lines:
        inside = shapely.intersection(shapely.LineString(x.points), area)
        for part in (g for g in shapely.get_parts(inside) if g.geom_type == "LineString" and g.length > 2.0):
            kept.append(FlatStroke(kind=x.kind, name=x.name, points=places(shapely.get_coordinates(part))))
    holes = tuple(h for h in shape.holes if area.contains(shapely.Polygon(h)))
    holes += tuple(places(np.array(r.coords)[:-1]) for r in area.interiors if shapely.Polygon(r).area > SPECK)
    made = {
        **shape.model_dump(),
        "outline": places(outline),
        "corners": corners,
        "darts": darts,
        "lines": kept,
        "holes": holes,
    }
    return FlatShape.model_validate(made)
