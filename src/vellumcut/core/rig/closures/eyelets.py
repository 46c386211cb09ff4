"""Eyelets of a lace: how many, where along its edges, and their holes as they lie on the pattern."""

from collections.abc import Iterator, Sequence

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import LineString

from vellumcut.core.cast.armour import MIDDLE
from vellumcut.core.design.piece import opening
from vellumcut.core.ink.lines import InkLine, PanelInk
from vellumcut.core.rig.anchors import closing_edge, laced_span, opening_line, place_on, stretch_at
from vellumcut.core.rig.laid import LaidPiece, ring_of

Array = NDArray[np.float64]

EYELET = 5.0
"""Width of an eyelet's hole, mm."""
EYELET_EVERY = 25.0
"""Eyelets are set 25 to 40 mm apart; the nearer, the evener it draws, mm."""
BODICE_EYELETS = 32.0
EYELET_INSET = 12.0
"""From the edge to the middle of an eyelet, and from the ends of its edge, mm (rigging.md, section 2)."""


def eyelet_places(length: float, pitch: float) -> tuple[float, ...]:
    """Eyelets along a closing edge, mm from its lower end, EYELET_INSET from both."""
    rows = max(2, int((length - 2 * EYELET_INSET) // pitch) + 1)
    return tuple(float(z) for z in np.linspace(EYELET_INSET, length - EYELET_INSET, rows))


def true_rings(laid: LaidPiece, spots: Array, size: float) -> Array:
    """Rings (n, 21, 2) on the plane about (n, 2) places of it, that are round and ``size`` mm wide on the foam."""
    reach = np.array([[1.0, 0.0], [-1.0, 0.0], [0.0, 1.0], [0.0, -1.0]])
    around = laid.plane.uv((spots[:, None] + reach).reshape(-1, 2))
    p = laid.inked.surface.points(around).reshape(len(spots), 4, 3)
    steps = np.stack([p[:, 0] - p[:, 1], p[:, 2] - p[:, 3]], axis=2) / 2
    value, way = np.linalg.eigh(np.swapaxes(steps, 1, 2) @ steps)
    shrink = (way / np.sqrt(value)[:, None]) @ np.swapaxes(way, 1, 2)
    turn = np.linspace(0, 2 * np.pi, 21)
    circle = size / 2 * np.stack([np.cos(turn), np.sin(turn)], axis=1)
    return np.asarray(spots[:, None] + circle @ shrink)


def _as_ever(laid: LaidPiece, spots: Array) -> Array:
    """Eyelets of a plain shell, shaped by the girth of their level: kept patterns are cut again to the micrometre. On a
    limb, whose rings are near to circles, that is within 0.1 mm of round."""
    turn = np.linspace(0, 2 * np.pi, 21)
    wide = np.array([stretch_at(laid, float(v)) for v in laid.plane.uv(spots)[:, 1]])
    circle = EYELET / 2 * np.stack([np.cos(turn), np.sin(turn)], axis=1)
    return np.asarray(spots[:, None] + circle * np.stack([wide, np.ones(len(wide))], axis=1)[:, None])


def eyelet_marks(laid: LaidPiece, panel: PanelInk) -> tuple[InkLine, ...]:
    """A ring for each eyelet that lies on a panel of a piece that a lace closes."""
    ground = shapely.make_valid(shapely.Polygon(laid.plane.flat(ring_of(panel)))).buffer(-1.0)
    found = ((name, place_on(laid, ground, at)) for name, at in _spots(laid))
    rows = [(name, here) for name, here in found if here is not None]
    if not rows:
        return ()
    spots = np.array([here for _, here in rows])
    rings = _as_ever(laid, spots) if laced_span(laid) else true_rings(laid, spots, EYELET)
    return tuple(InkLine("mark", f"eyelet {n}", laid.plane.uv(r)) for (n, _), r in zip(rows, rings, strict=True))


def _spots(laid: LaidPiece) -> Iterator[tuple[str, Array]]:
    """Name and place on the plane of every eyelet: side by side from below."""
    span = laced_span(laid)
    if span is not None:
        surface, tube = laid.inked.surface, laid.inked.tube
        at = tube.along(span[0] + np.array(eyelet_places(span[1] - span[0], EYELET_EVERY)))
        left, right = surface.beside_gap(at, opening(laid.design) + 2 * EYELET_INSET)
        for name, column in (("B", left), ("A", right)):
            for k, uv in enumerate(zip(column, at, strict=True), 1):
                yield f"{k}{name}", laid.plane.flat(np.array([uv]))[0]
        return
    line = opening_line(laid)
    sides = [line, line] if line else _edges_behind(laid)
    for name, side, sign in zip("BA", sides, (1.0, -1.0), strict=False):
        yield from _along(laid, name, side, sign)


LEVELS = 60
"""Rows in which the edges of a piece are looked for along what it leaves open."""


def _edges_behind(laid: LaidPiece) -> list[list[Array]]:
    """The two edges between which a drawn piece is open behind, upward: that on the wearer's left, then the other."""
    gap = laid.gap_behind if laid.inked.drawn is not None else None
    if gap is None:
        return []
    turn, (low_x, _, high_x, _) = laid.plane.turn, laid.area.bounds
    left, right = [], []
    for level in np.linspace(gap[0], gap[1], LEVELS):
        seen = laid.area.intersection(LineString([(low_x - 1, level), (high_x + 1, level)]))
        from_back = shapely.get_coordinates(seen)[:, 0] % turn - turn / 2
        left.append((from_back[from_back < 0].max() + turn / 2, level))
        right.append((from_back[from_back > 0].min() + turn / 2, level))
    return [[laid.plane.uv(np.array(side))] for side in (left, right)]


def _along(laid: LaidPiece, name: str, side: Sequence[Array], sign: float) -> Iterator[tuple[str, Array]]:
    """Places beside an edge, EYELET_INSET from it. sign: 1 to the left of its way upward."""
    uv = np.vstack(side)
    flat = laid.plane.flat(uv)
    turns = np.round(np.diff(flat[:, 0], prepend=flat[0, 0]) / laid.plane.turn)
    flat[:, 0] -= laid.plane.turn * np.cumsum(turns)
    points = laid.inked.surface.points(uv, MIDDLE)
    arc = np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(points, axis=0), axis=1))])
    edge = closing_edge(laid)
    length = edge[0] if edge else float(arc[-1])
    for k, place in enumerate(eyelet_places(length, EYELET_EVERY), 1):
        mm = place * float(arc[-1]) / length
        here, ahead = (np.array([np.interp(x, arc, flat[:, c]) for c in (0, 1)]) for x in (mm, mm + 1.0))
        yield f"{k}{name}", here + sign * EYELET_INSET * step_across(laid, here, ahead - here)


def step_across(laid: LaidPiece, here: Array, way: Array) -> Array:
    """The step on the plane that is 1 mm of foam, square to a way, to its left."""
    p = laid.inked.surface.points(laid.plane.uv(here + np.array([[1.0, 0.0], [-1.0, 0.0], [0.0, 1.0], [0.0, -1.0]])))
    steps = np.stack([p[0] - p[1], p[2] - p[3]], axis=1) / 2
    metric = steps.T @ steps
    square = np.linalg.solve(metric, np.array([-way[1], way[0]]))
    return np.asarray(square / np.sqrt(square @ metric @ square))
