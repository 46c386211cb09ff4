"""Pieces cut out for a floor, and how they and the cards lie on it."""

from dataclasses import dataclass

import numpy as np
import shapely
import shapely.affinity

Luck = np.random.Generator


@dataclass(frozen=True, eq=False)
class Dart:
    """A slit: tip mm, way from its mouth to its tip, degrees between its legs."""

    tip: np.ndarray
    way: np.ndarray
    angle: float
    deep: float


@dataclass(frozen=True, eq=False)
class Cut:
    """A piece: its area, mm, y down, and its slits."""

    area: shapely.Polygon
    darts: tuple[Dart, ...]


def cut_piece(luck: Luck, long: float, slits: int) -> Cut:
    """A piece about the origin, so long: a gore, a shield, a strip or a plate."""
    kind = luck.choice(["gore", "shield", "strip", "plate"]) if long > 90 else luck.choice(["strip", "plate"])
    high = long * {"gore": 0.42, "shield": 0.75, "strip": 0.28, "plate": 0.6}[str(kind)]
    if kind == "gore":
        x = np.linspace(-0.5, 0.5, 60)
        top, low = np.cos(np.pi * x) ** 0.7 * 0.5, -(np.cos(np.pi * x) ** 1.2) * 0.5
        rim = np.vstack([np.column_stack([x, top + 0.03]), np.column_stack([x, low - 0.03])[::-1]])
    elif kind == "strip":
        x = np.linspace(-0.5, 0.5, 50)
        bow = 0.5 * np.sin(np.pi * (x + 0.5)) * luck.uniform(-0.6, 0.6)
        rim = np.vstack([np.column_stack([x, bow + 0.5]), np.column_stack([x, bow - 0.5])[::-1]])
    else:
        n = int(luck.integers(4, 8))
        angle = np.sort(luck.uniform(0, 2 * np.pi / n, n) * 0.7 + np.arange(n) * 2 * np.pi / n)
        corners = np.column_stack([np.cos(angle), np.sin(angle)]) * 0.5
        rim = np.array(shapely.Polygon(corners).buffer(0.06 if kind == "shield" else 0.015).exterior.coords)
    area = shapely.Polygon(rim * (long, high)).buffer(0)
    low = np.array(area.bounds[:2]) / 2 + np.array(area.bounds[2:]) / 2
    area = shapely.affinity.translate(area, *(-low))
    darts: list[Dart] = []
    rim = area.exterior
    for _ in range(slits):
        made = _slit(luck, area, rim, darts)
        if made is not None:
            area, dart = made
            darts.append(dart)
    return Cut(area, tuple(darts))


def _slit(
    luck: Luck, area: shapely.Polygon, ring: shapely.LinearRing, darts: list[Dart]
) -> tuple[shapely.Polygon, Dart] | None:
    """An area with one more slit from its rim, clear of those that it has."""
    whole = shapely.Polygon(ring)
    lying = [shapely.LineString([d.tip, d.tip - d.way * (d.deep + 8)]).buffer(12) for d in darts]
    for _ in range(30):
        at = luck.uniform(0, ring.length)
        mouth, beside = (np.array(ring.interpolate((at + d) % ring.length).coords[0]) for d in (0.0, 0.5))
        along = (beside - mouth) / np.hypot(*(beside - mouth))
        way = np.array([along[1], -along[0]])
        way = way if whole.contains(shapely.Point(mouth + 3 * way)) else -way
        lean = luck.uniform(-0.25, 0.25)
        way = np.array([way[0] * np.cos(lean) - way[1] * np.sin(lean), way[0] * np.sin(lean) + way[1] * np.cos(lean)])
        angle = float(np.exp(luck.uniform(np.log(1.0), np.log(30.0))))
        deep = float(luck.uniform(28, 75))
        tip = mouth + way * deep
        half = np.tan(np.radians(angle / 2)) * (deep + 8)
        aside = np.array([-way[1], way[0]]) * half
        wedge = shapely.Polygon([tip, mouth - way * 8 + aside, mouth - way * 8 - aside])
        left = area.difference(wedge)
        room = area.buffer(-14).contains(shapely.Point(tip)) and half < 20
        apart = all(wedge.distance(other) > 0 for other in lying)
        if room and apart and left.geom_type == "Polygon" and left.buffer(-5).geom_type == "Polygon":
            return left, Dart(tip, way, angle, deep)
    return None


def moved(cut: Cut, turn: float, x: float, y: float) -> Cut:
    c, s = np.cos(turn), np.sin(turn)
    matrix = np.array([[c, -s], [s, c]])
    area = shapely.affinity.affine_transform(cut.area, [c, -s, s, c, x, y])
    darts = tuple(Dart(matrix @ d.tip + (x, y), matrix @ d.way, d.angle, d.deep) for d in cut.darts)
    return Cut(area, darts)


def lay_out(luck: Luck, wide: float, high: float, count: int, touching: bool) -> tuple[list[Cut], list[np.ndarray]]:
    """Pieces and cards (x, y, turn), mm; pieces keep 8 mm apart, but for one pair if they are to touch."""
    cards = [
        np.array([x * wide, y * high, luck.uniform(0, 2 * np.pi)]) + luck.uniform(-8, 8, 3) * (1, 1, 0)
        for x, y in [(0.11, 0.13), (0.89, 0.14), (0.1, 0.86), (0.9, 0.87), (0.5, 0.1), (0.5, 0.9)][
            : 4 + int(count > 1) * 2
        ]
    ]
    barred = shapely.union_all([shapely.Point(c[:2]).buffer(76) for c in cards])
    room = shapely.box(42, 42, wide - 42, high - 42).difference(barred)
    lying: list[Cut] = []
    long = 330.0 if count == 1 else 620.0 / np.sqrt(count) * 0.8
    for _ in range(count):
        slits = int(luck.integers(0, 4)) if long > 120 else 0
        cut = cut_piece(luck, long * luck.uniform(0.75, 1.1), slits)
        for _try in range(300):
            there = moved(cut, luck.uniform(0, 2 * np.pi), *(np.array((wide, high)) * luck.uniform(0.12, 0.88, 2)))
            if count == 1:
                middle = np.array((wide, high)) / 2 + luck.uniform(-15, 15, 2)
                there = moved(cut, luck.uniform(-0.2, 0.2), *middle)
            if room.contains(there.area) and all(there.area.distance(o.area) > 8 for o in lying):
                lying.append(there)
                break
    if touching and len(lying) > 1:
        lying[1] = _pushed_up(lying[1], lying[0], room, lying[2:]) or lying[1]
    return lying, cards


def _pushed_up(cut: Cut, to: Cut, room: shapely.Geometry, rest: list[Cut]) -> Cut | None:
    """A piece slid until it lies against another."""
    way = np.array(to.area.centroid.coords[0]) - np.array(cut.area.centroid.coords[0])
    way /= np.hypot(*way)
    now = cut
    for _ in range(400):
        gap = now.area.distance(to.area)
        if gap < 0.05:
            break
        step = max(0.03, gap * 0.7) * way
        now = moved(now, 0.0, *step)
    fits = room.contains(now.area) and all(now.area.distance(o.area) > 4 for o in rest)
    return now if fits and not now.area.overlaps(to.area.buffer(-0.5)) else None
