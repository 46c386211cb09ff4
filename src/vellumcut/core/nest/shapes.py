"""Parts and sheets of a nest as outlines, mm."""

from dataclasses import dataclass, field
from functools import cached_property, lru_cache

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import affinity

FREE_TURNS = tuple(range(0, 360, 45))
"""Degrees in which a part is tried where nothing holds it: more turns gain little and cost as much each."""
FINE = 0.15
"""mm by which an outline may be rounded outward before it is laid: a raw one of 2,000 points takes minutes."""
SMALLEST = 1.0
"""mm2: what is smaller is no part."""


Array = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Form:
    """An outline that is cut, with what is cut out of it, as it lies on the sheet before it is turned. turns: degrees
    in which it may be laid."""

    shape: shapely.Polygon
    turns: tuple[float, ...] = FREE_TURNS

    @cached_property
    def area(self) -> float:
        return float(self.shape.area)

    @cached_property
    def widest(self) -> tuple[shapely.Point, float]:
        """Where the largest circle lies in it, and its radius: there its name is written."""
        way = shapely.get_coordinates(shapely.maximum_inscribed_circle(self.shape, tolerance=1.0))
        return shapely.Point(way[0]), float(np.hypot(*(way[1] - way[0])))


@dataclass(frozen=True)
class NestPart:
    """One copy of an outline. key: its own, in this nest."""

    key: str
    form: Form = field(repr=False)


@dataclass(frozen=True)
class NestSheet:
    """A sheet to lay parts on. key: its own. offcut: a rest, used before whole ones. owned: it is there already."""

    key: str
    shape: shapely.Polygon = field(repr=False)
    offcut: bool = False
    owned: bool = True

    @cached_property
    def size(self) -> tuple[float, float]:
        """Along and across, mm."""
        left, low, right, high = self.shape.bounds
        return right - left, high - low


@dataclass(frozen=True)
class Placed:
    """Where a part lies: turned about the origin by degrees, then moved, mm. locked: where the maker put it."""

    part: NestPart
    sheet: str
    turn: float
    x: float
    y: float
    locked: bool = False

    @cached_property
    def shape(self) -> shapely.Polygon:
        return moved(turned(self.part.form.shape, self.turn), self.x, self.y)

    @property
    def widest(self) -> tuple[float, float, float]:
        """Where it is widest, and the radius there, mm."""
        at, radius = self.part.form.widest
        there = affinity.rotate(at, self.turn, origin=(0, 0))
        return float(there.x) + self.x, float(there.y) + self.y, radius


def turned(shape: shapely.Polygon, degrees: float) -> shapely.Polygon:
    """About the origin."""
    return affinity.rotate(shape, degrees, origin=(0, 0))


def moved(shape: shapely.Polygon, x: float, y: float) -> shapely.Polygon:
    """By so much to the right and up, mm."""
    by = np.array([x, y])
    out: shapely.Polygon = shapely.transform(shape, lambda points: points + by)
    return out


@lru_cache(maxsize=2048)
def _wide(form: Form, by: float) -> shapely.Polygon:
    return form.shape.buffer(by + FINE, quad_segs=8).simplify(FINE)


@lru_cache(maxsize=16384)
def grown(form: Form, turn: float, by: float) -> shapely.Polygon:
    """A form turned, with so much round it that two which do not meet are twice as far apart."""
    return turned(_wide(form, by), turn)


@lru_cache(maxsize=16384)
def reach_of(form: Form, turn: float, by: float) -> tuple[float, float, float, float]:
    """Left, low, right, high of a grown form, mm."""
    left, low, right, high = grown(form, turn, by).bounds
    return left, low, right, high


def sound(shape: shapely.Geometry) -> shapely.Polygon | None:
    """An outline that can be laid: the largest part of what an untidy one encloses; None where that is nothing."""
    whole = shapely.make_valid(shape) if not shape.is_valid else shape
    parts = [p for p in shapely.get_parts(whole, return_index=False) if isinstance(p, shapely.Polygon)]
    parts += [q for p in shapely.get_parts(whole) if not isinstance(p, shapely.Polygon) for q in shapely.get_parts(p)]
    solid = [p for p in parts if isinstance(p, shapely.Polygon) and p.area >= SMALLEST]
    return max(solid, key=lambda p: p.area) if solid else None
