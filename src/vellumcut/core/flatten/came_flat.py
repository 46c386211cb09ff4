"""Panels that came flat: their edges, made to match where they are glued, and made larger for the foam."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from string import ascii_uppercase

import numpy as np
import shapely
from numpy.typing import NDArray

from vellumcut.core.design.flat import FlatEdgeKey, FlatMate, FlatShape, FlatWork

Array = NDArray[np.float64]

SHORTEST = 0.1
"""mm: an edge that is shorter is none that could be made to match."""
CLOSE = 0.02
"""mm by which edges that are made equal may still differ."""
ROUNDS = 6
"""How often all are made equal in turn: one that changes moves the corners of its neighbours."""


@dataclass(frozen=True)
class TruedMate:
    """Two edges that meet. Lengths in mm as they came and as they are; moved: the most that a corner was moved for
    it."""

    name: str
    a: FlatEdgeKey
    b: FlatEdgeKey
    came: tuple[float, float]
    now: tuple[float, float]
    moved: float

    @property
    def apart(self) -> float:
        """mm by which they differed as they came."""
        return abs(self.came[0] - self.came[1])


@dataclass(frozen=True, eq=False)
class EdgedShape:
    """A panel as a ring of edges, (n, 2) mm each, the end of one the start of the next. tips: edges that begin at the
    tip of a dart. lines, holes: moved with it."""

    shape: FlatShape
    edges: tuple[Array, ...]
    tips: tuple[int, ...]
    lines: tuple[Array, ...]
    holes: tuple[Array, ...]

    @property
    def area(self) -> float:
        """mm2."""
        return float(shapely.Polygon(np.vstack([e[:-1] for e in self.edges]), list(self.holes)).area)


@dataclass(frozen=True, eq=False)
class Matched:
    """All panels of a piece, by number, their mates, and the darts' legs: panel, tip, lengths as they came and are.
    came: lengths of all edges before anything was made to match, mm, by panel.
    """

    panels: dict[int, EdgedShape]
    mates: tuple[TruedMate, ...]
    came: dict[int, list[float]]
    factor: float = 1.0
    legs: tuple[tuple[int, int, tuple[float, float], tuple[float, float]], ...] = field(default=())


def growth(girth: float, base: float, ease: float, middle: float, now: float | None = None) -> float:
    """How many times as far round foam lies whose middle is so many mm off the base layer than the skin did: (r + base
    +
    ease + t/2) / r (geometry notes, section 7). girth: mm round the skin as it was taken; now: as it is, where that
    changed."""
    then, radius = girth / (2 * np.pi), (now or girth) / (2 * np.pi)
    return float((radius + base + ease + middle) / then)


def regrown(girth: float, base: float, ease: float, middle: float, now: float) -> float:
    """How many times as wide panels become that were made for foam already, where the girth is another one now."""
    return growth(girth, base, ease, middle, now) / growth(girth, base, ease, middle)


def matched(work: FlatWork, factor: float = 1.0) -> Matched:
    """Panels with their edges made equal where they are glued. factor: how many times as wide they are made."""
    rings = {s.number: _edges(s, factor) for s in work.panels}
    tips = {s.number: tuple(k for k, c in enumerate(_corners(s)) if c in s.darts) for s in work.panels}
    before = {n: [_long(e) for e in ring] for n, ring in rings.items()}
    start = {n: [e.copy() for e in ring] for n, ring in rings.items()}
    for _ in range(ROUNDS):
        for mate in work.mates:
            if mate.true:
                _match(rings, mate)
        for number, places in tips.items():
            for tip in places:
                _match_legs(rings[number], tip)
    panels = {
        s.number: EdgedShape(
            s, tuple(rings[s.number]), tips[s.number],
            tuple(np.array(x.points) * (factor, 1.0) for x in s.lines),
            tuple(moved_hole(np.array(h), lambda p: p * (factor, 1.0)) for h in s.holes),
        )
        for s in work.panels
    }  # fmt: skip
    mates = tuple(_told(k, m, rings, before, start) for k, m in enumerate(work.mates))
    legs = tuple(
        (n, tip, (before[n][tip - 1], before[n][tip]), (_long(rings[n][tip - 1]), _long(rings[n][tip])))
        for n, places in tips.items()
        for tip in places
    )
    return Matched(panels, mates, before, factor, legs)


PUNCHED = 25.0
"""mm across up to which a hole is for a rivet, an eyelet or a snap: that is as large on any wearer."""


def moved_hole(ring: Array, move: Callable[[Array], Array]) -> Array:
    """A hole (n, 2) where its panel is made larger by moving its points: what is punched goes along in its own size,
    what is cut out grows with the panel."""
    if float(np.ptp(ring, axis=0).max()) > PUNCHED:
        return move(ring)
    middle = (ring.min(axis=0) + ring.max(axis=0))[None] / 2
    return np.asarray(ring + move(middle) - middle)


def mate_name(k: int, mate: FlatMate) -> str:
    """What a seam is called: as the maker says, or by letters in turn."""
    turn, letter = divmod(k, len(ascii_uppercase))
    return mate.name or f"seam {ascii_uppercase[letter]}{turn + 1 if turn else ''}"


def _corners(shape: FlatShape) -> tuple[int, ...]:
    return tuple(sorted(set(shape.corners) | set(shape.darts))) or (0,)


def _edges(shape: FlatShape, factor: float) -> list[Array]:
    points = np.array(shape.outline) * (factor, 1.0)
    starts = _corners(shape)
    out = []
    for k, start in enumerate(starts):
        end = starts[(k + 1) % len(starts)]
        last = end if end > start else end + len(points)
        out.append(np.take(points, range(start, last + 1), axis=0, mode="wrap"))
    return out


def _long(edge: Array) -> float:
    return float(np.hypot(*np.diff(edge, axis=0).T).sum())


def _match(rings: Mapping[int, list[Array]], mate: FlatMate) -> None:
    lengths = [_long(rings[key.panel][key.edge]) for key in (mate.a, mate.b)]
    if mate.a == mate.b or min(lengths) < SHORTEST:
        return
    for key in (mate.a, mate.b):
        _stretch(rings[key.panel], key.edge, sum(lengths) / 2, 0.5, 0.5)


def _match_legs(ring: list[Array], tip: int) -> None:
    """Both legs of a dart as long as each other: their mouths move, the tip stays."""
    if len(ring) < 3:
        return
    mean = (_long(ring[tip - 1]) + _long(ring[tip])) / 2
    _stretch(ring, (tip - 1) % len(ring), mean, 1.0, 0.0)
    _stretch(ring, tip, mean, 0.0, 1.0)


def _stretch(ring: list[Array], at: int, length: float, first: float, last: float) -> None:
    """Make an edge so long by moving its ends along themselves, by these shares; all between goes along evenly, and so
    does the neighbour at each end, less and less. Changes the ring."""
    for _ in range(8):
        edge = ring[at]
        more = length - _long(edge)
        if abs(more) < CLOSE / 4:
            return
        ends = [(edge[0] - edge[1]), (edge[-1] - edge[-2])]
        moves = [
            share * more * way / max(1e-9, float(np.hypot(*way)))
            for share, way in zip((first, last), ends, strict=True)
        ]
        t = _shares(edge)[:, None]
        ring[at] = edge + (1 - t) * moves[0] + t * moves[1]
        if len(ring) > 1:
            before, after = (at - 1) % len(ring), (at + 1) % len(ring)
            ring[before] = ring[before] + _shares(ring[before])[:, None] * moves[0]
            ring[after] = ring[after] + (1 - _shares(ring[after])[:, None]) * moves[1]


def _shares(edge: Array) -> Array:
    far = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(edge, axis=0).T))])
    return np.asarray(far / max(far[-1], 1e-9))


def _told(
    k: int,
    mate: FlatMate,
    rings: Mapping[int, Sequence[Array]],
    before: Mapping[int, Sequence[float]],
    start: Mapping[int, Sequence[Array]],
) -> TruedMate:
    keys = (mate.a, mate.b)
    now = [rings[key.panel][key.edge] for key in keys]
    moved = max(float(np.hypot(*(rings[key.panel][key.edge] - start[key.panel][key.edge]).T).max()) for key in keys)
    return TruedMate(
        mate_name(k, mate), mate.a, mate.b,
        (before[mate.a.panel][mate.a.edge], before[mate.b.panel][mate.b.edge]), (_long(now[0]), _long(now[1])), moved,
    )  # fmt: skip
