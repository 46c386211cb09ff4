"""A piece as it lies on its part of the body: the area it covers, and places on it by where they are, not by name."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import LineString, Point, Polygon
from shapely.geometry.base import BaseGeometry

from vellumcut.core.cast.armour import MIDDLE
from vellumcut.core.cast.halves import WHOLE
from vellumcut.core.design.piece import PieceDesign
from vellumcut.core.ink.library.table import TEMPLATES
from vellumcut.core.ink.lines import PanelInk
from vellumcut.core.ink.plane import DrawingPlane, drawing_plane
from vellumcut.core.ink.stage import InkedPiece

Array = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class LaidPiece:
    """One drawn side of a piece, and how it lies on the unrolled body."""

    inked: InkedPiece

    @property
    def design(self) -> PieceDesign:
        """What was decided of it."""
        return self.inked.design

    @property
    def whole(self) -> bool:
        """Whether its part of the body is one for both sides."""
        return TEMPLATES[self.design.template].part in WHOLE

    @property
    def one_handed(self) -> bool:
        """Whether its wearer has one hand for it: the other is on the arm that wears it."""
        return TEMPLATES[self.design.template].part in ("forearm", "upper arm")

    @cached_property
    def plane(self) -> DrawingPlane:
        """Of its tube."""
        return drawing_plane(self.inked.tube)

    @cached_property
    def at_back(self) -> bool:
        """Whether it lies behind the side seams of the body."""
        off = np.abs(np.concatenate([ring_of(p)[:, 0] for p in self.inked.panels]))
        return self.whole and float(off.min()) > 0.1 and float(off.mean()) > 0.25

    @cached_property
    def area(self) -> BaseGeometry:
        """All it covers on the drawing plane, mm; mirror images of a pair among it, those behind the body beside
        theirs."""
        parts = []
        for panel, twin in zip(self.inked.panels, self.inked.twins, strict=True):
            flat = self.plane.flat(ring_of(panel))
            parts.append(_sound(flat))
            if twin:
                turned = flat * [-1.0, 1.0] + [self.plane.turn if self.at_back else 0.0, 0.0]
                parts.append(_sound(turned))
        return shapely.union_all([p.buffer(0.05) for p in parts])

    def spot(self, x: float, y: float, inset: float, left: bool = False) -> Array:
        """(around, along) of a place on it. x: from -1, its end on the wearer's right, to 1 on the left (on a limb, the
        way ``around`` runs). y: from 0, its lowest, to 1. inset: least distance from every edge, mm. left: on its left
        half."""
        area = self.area
        middle = self.plane.turn / 2 if self.at_back else 0.0
        low, floor, high, roof = area.bounds
        if left:
            half = (low, middle) if self.at_back else (middle, high)
            area = area.intersection(shapely.box(half[0], floor - 1, half[1], roof + 1))
        inner = area.buffer(-inset)
        while inner.is_empty and inset > 0.5:
            inset /= 2
            inner = area.buffer(-inset)
        low, floor, high, roof = inner.bounds
        level = floor + np.clip(y, 0.004, 0.996) * (roof - floor)
        seen = inner.intersection(LineString([(low - 1, level), (high + 1, level)]))
        left_x, _, right_x, _ = seen.bounds
        share = (1 - x) / 2 if self.at_back else (1 + x) / 2
        here = shapely.shortest_line(inner, Point(left_x + share * (right_x - left_x), level))
        return np.asarray(self.plane.uv(shapely.get_coordinates(here)[:1])[0])

    def nearest(self, uv: tuple[float, float], inset: float) -> tuple[float, float]:
        """The place on it, so far from every edge, mm, that lies nearest to another."""
        inner = self.area.buffer(-inset)
        ground = self.area if inner.is_empty else inner
        flat = self.plane.flat(np.array([uv]))[0]
        tries = [Point(flat + [k * self.plane.turn, 0.0]) for k in (-1, 0, 1)]
        here = min(tries, key=ground.distance)
        at = shapely.get_coordinates(shapely.shortest_line(ground, here))[:1]
        u, v = self.plane.uv(at)[0]
        return float(u), float(v)

    def covers(self, uv: Array) -> NDArray[np.bool_]:
        """Which of (n, 2) places of the body it lies on, (n,)."""
        flat, turn = self.plane.flat(uv), self.plane.turn
        shapely.prepare(self.area)
        return np.asarray(
            np.any([shapely.contains_xy(self.area, flat[:, 0] + k * turn, flat[:, 1]) for k in (-1, 0, 1)], axis=0)
        )

    @cached_property
    def gap_behind(self) -> tuple[float, float, float] | None:
        """Where it leaves the middle of the back free: from and to, mm on the plane, and how wide at most, mm of foam
        from edge to edge; None where it is shut there."""
        _, floor, _, roof = self.area.bounds
        levels = np.linspace(floor, roof, LEVELS + 2)[1:-1]
        around = (np.arange(COLUMNS) + 0.5) / COLUMNS
        half = COLUMNS // 2
        behind = self._on(around[half - 1 : half + 1], levels)[0]
        levels = levels[~behind.any(axis=1)]
        if len(levels) < LEAST_OPEN:
            return None
        on, points = self._on(around, levels)
        there = on.any(axis=1)
        levels, on, points = levels[there], on[there], points[there]
        wide = np.array([_free_about(row, line, half) for row, line in zip(on, points, strict=True)])
        # Where a neckline or a hem curves away, no edge is left to draw shut.
        edge = wide <= PARALLEL * np.median(wide) if len(wide) else np.zeros(0, bool)
        if edge.sum() < LEAST_OPEN:
            return None
        return float(levels[edge].min()), float(levels[edge].max()), float(wide[edge].max())

    @property
    def shut_behind(self) -> bool:
        """Whether nothing is open at the middle of its back. A plain shell's ends tell; ink is looked at."""
        return self.design.back == "closed" if self.inked.drawn is None else self.gap_behind is None

    def _on(self, around: Array, levels: Array) -> tuple[NDArray[np.bool_], Array]:
        """At (n,) places round it and (m,) levels, mm: what it covers, (m, n), and where that is, (m, n, 3) mm."""
        u, level = np.meshgrid(around, levels)
        uv = np.stack([u.ravel(), self.inked.tube.along(level.ravel())], axis=1)
        points = self.inked.surface.points(uv, MIDDLE)
        return self.covers(uv).reshape(u.shape), points.reshape(*u.shape, 3)


LEVELS, COLUMNS = 40, 360
"""Where a piece is looked at for what it leaves free behind: along it, and round it."""
LEAST_OPEN = 4
"""Of those levels, so many at least are open where it opens behind: a tip's notch is fewer."""
PARALLEL = 1.5
"""Edges that stand farther apart than this times the middle distance do not close on each other."""


def _free_about(on: NDArray[np.bool_], line: Array, at: int) -> float:
    """Length of the free run about a column, mm. line: (n, 3) mm."""
    left = next((k for k in range(at - 1, -1, -1) if on[k]), 0)
    right = next((k for k in range(at, len(on)) if on[k]), len(on) - 1)
    return float(np.linalg.norm(np.diff(line[left : right + 1], axis=0), axis=1).sum())


def ring_of(panel: PanelInk) -> Array:
    """The outline of a panel, (n, 2) of (around, along)."""
    return np.vstack([line.uv[:-1] for line in panel.outline])


def _sound(flat: Array) -> BaseGeometry:
    return shapely.make_valid(Polygon(flat))
