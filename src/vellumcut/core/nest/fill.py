"""One order of parts laid on sheets, each as far left and low as it goes (bottom-left fill): at once, and again with
other orders by the search."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from functools import lru_cache

import numpy as np
import shapely
from numpy.typing import NDArray

from vellumcut.core.nest.bits import CELL, Grid, Runs, runs_of
from vellumcut.core.nest.shapes import Form, NestPart, NestSheet, Placed, grown, moved, reach_of, turned

Orders = Sequence[NestPart]


@dataclass(frozen=True)
class Rules:
    """clearance: mm between two parts. edge: mm between a part and the edge of its sheet."""

    clearance: float = 3.0
    edge: float = 3.0


@dataclass
class Table:
    """A sheet while parts are laid on it. used: mm from its left to the last part on it."""

    sheet: NestSheet
    rules: Rules
    placed: list[Placed] = field(default_factory=list)
    used: float = 0.0
    _lying: NDArray[np.object_] = field(default_factory=lambda: np.empty(64, dtype=object))
    _bounds: NDArray[np.float64] = field(default_factory=lambda: np.empty((64, 4)))

    def __post_init__(self) -> None:
        half = self.rules.clearance / 2
        self.left = self.sheet.shape.bounds[0]
        # A grown part may come as near to the room's edge as the part itself to the sheet's.
        self.room = _room(self.sheet.shape, self.rules.edge - half)
        self.room_bounds = self.room.bounds
        self.plain = _plain(self.room)
        self.grid = Grid(self.room)

    def lay(self, part: NestPart) -> bool:
        """Lay a part where it reaches least far; whether it found room."""
        best: tuple[float, float, float, float, float] | None = None
        for turn in part.form.turns:
            found = self._best_at(part.form, turn, best[0] if best else None)
            if found and (best is None or found < best):
                best = found
        if best is None:
            return False
        _, _, turn, x, y = best
        self.put(Placed(part, self.sheet.key, turn, *self._close(part.form, turn, x, y)))
        return True

    def put(self, one: Placed) -> None:
        """It lies there."""
        wide = moved(grown(one.part.form, one.turn, self.rules.clearance / 2), one.x, one.y)
        shapely.prepare(wide)
        self.grid.take(wide)
        at = len(self.placed)
        if at == len(self._lying):
            self._lying = np.concatenate([self._lying, np.empty(at, dtype=object)])
            self._bounds = np.concatenate([self._bounds, np.empty((at, 4))])
        self._lying[at], self._bounds[at] = wide, wide.bounds
        self.placed.append(one)
        self.used = max(self.used, one.shape.bounds[2] - self.left)

    def lies_free(self, one: Placed) -> bool:
        """Whether a part may lie there."""
        return self._free(one.part.form, one.turn, one.x, one.y)

    def _best_at(self, form: Form, turn: float, reach: float | None) -> tuple[float, float, float, float, float] | None:
        """Farthest right and up it reaches, its turn and place; None where it finds no room nearer than the reach."""
        runs = _runs(form, turn, self.rules.clearance / 2)
        span = form_span(form, turn)
        before = self.grid.size[0] if reach is None else int((reach - self.grid.corner[0]) / CELL) + 1
        reached = int(self.used / CELL)
        near = min(before, reached + int(span / CELL) + 3)
        bits = self.grid.room_for(runs, near)
        found = self._first_true(form, turn, runs, bits)
        if found is None and near < before:
            found = self._first_true(form, turn, runs, self.grid.after(self.grid.room_for(runs, before), reached))
        return found

    def _first_true(
        self, form: Form, turn: float, runs: Runs, bits: int
    ) -> tuple[float, float, float, float, float] | None:
        """The first place of those the grid holds for free that is, by the outlines themselves."""
        span = form_span(form, turn)
        for column, cell in self.grid.places(bits):
            x = self.grid.corner[0] + column * CELL - runs.corner[0]
            y = self.grid.corner[1] + cell * CELL - runs.corner[1]
            for dx, dy in NUDGES:
                if self._free(form, turn, x + dx, y + dy):
                    return (x + dx + runs.corner[0] + span, y + dy + runs.corner[1], turn, x + dx, y + dy)
        return None

    def _free(self, form: Form, turn: float, x: float, y: float) -> bool:
        half = self.rules.clearance / 2
        left, low, right, high = reach_of(form, turn, half)
        left, low, right, high = left + x, low + y, right + x, high + y
        room = self.room_bounds
        if left < room[0] or low < room[1] or right > room[2] or high > room[3]:
            return False
        own = self._bounds[: len(self.placed)]
        near = (own[:, 0] < right) & (own[:, 1] < high) & (own[:, 2] > left) & (own[:, 3] > low)
        wide = None
        if near.any():
            wide = moved(grown(form, turn, half), x, y)
            if shapely.intersects(self._lying[: len(own)][near], wide).any():
                return False
        return self.plain or bool(self.room.covers(wide or moved(grown(form, turn, half), x, y)))

    def _close(self, form: Form, turn: float, x: float, y: float) -> tuple[float, float]:
        """Pushed to the left and down as far as it goes within a few cells."""
        step = 2 * CELL
        while step > 0.1:
            if self._free(form, turn, x - step, y):
                x -= step
            elif self._free(form, turn, x, y - step):
                y -= step
            else:
                step /= 2
        return x, y


NUDGES = ((0.0, 0.0), (CELL / 2, 0.0), (0.0, CELL / 2))
"""mm by which a place that is a little too tight is tried again."""


def _plain(room: shapely.Polygon) -> bool:
    """Whether a room is an upright rectangle."""
    return len(room.exterior.coords) == 5 and abs(room.area - room.envelope.area) < 1e-6


@lru_cache(maxsize=256)
def _room(sheet: shapely.Polygon, by: float) -> shapely.Polygon:
    room = sheet.buffer(-by, join_style="mitre")
    if not isinstance(room, shapely.Polygon):
        room = max(room.geoms, key=lambda p: p.area)
    shapely.prepare(room)
    return room


@lru_cache(maxsize=4096)
def _runs(form: Form, turn: float, by: float) -> Runs:
    return runs_of(grown(form, turn, by))


@lru_cache(maxsize=4096)
def form_span(form: Form, turn: float) -> float:
    """How far it reaches along a sheet, mm."""
    left, _, right, _ = turned(form.shape, turn).bounds
    return float(right - left)


def fits(part: NestPart, sheet: NestSheet, rules: Rules) -> bool:
    """Whether a part finds room on a sheet that is empty: on an upright one what it covers tells."""
    half = rules.clearance / 2
    room = _room(sheet.shape, rules.edge - half)
    if not _plain(room):
        return Table(sheet, rules).lay(part)
    left, low, right, high = room.bounds
    boxes = (reach_of(part.form, turn, half) for turn in part.form.turns)
    return any(b[2] - b[0] <= right - left and b[3] - b[1] <= high - low for b in boxes)


@dataclass(frozen=True)
class Plan:
    """Parts on sheets. placed: of all sheets. used: by sheet, mm from its left to the last part. left: parts that
    found no room."""

    placed: tuple[Placed, ...]
    used: Mapping[str, float]
    left: tuple[NestPart, ...]

    def on(self, sheet: str) -> list[Placed]:
        return [p for p in self.placed if p.sheet == sheet]


def tables_of(sheets: Iterable[NestSheet], rules: Rules, held: Iterable[Placed] = ()) -> list[Table]:
    """Sheets with what is locked on them."""
    tables = [Table(s, rules) for s in sheets]
    by_key = {t.sheet.key: t for t in tables}
    for one in held:
        if one.sheet in by_key:
            by_key[one.sheet].put(one)
    return tables


def fill(order: Orders, tables: Sequence[Table]) -> Plan:
    """Each part in turn on the first sheet that has room for it."""
    left, full = [], set[tuple[int, int]]()
    for part in order:
        for k, table in enumerate(tables):
            if (id(part.form), k) in full:
                continue
            if table.lay(part):
                break
            full.add((id(part.form), k))  # A sheet only fills up: its equal finds no room there, either.
        else:
            left.append(part)
    return plan_of(tables, left)


def plan_of(tables: Iterable[Table], left: Iterable[NestPart]) -> Plan:
    used = {t.sheet.key: t.used for t in tables if t.placed}
    return Plan(tuple(p for t in tables for p in t.placed), used, tuple(left))


def size_of(form: Form) -> float:
    """How hard a form is to place: what its hull covers, and its length."""
    hull = float(form.shape.convex_hull.area)
    left, low, right, high = form.shape.bounds
    return float(np.sqrt(hull) + 0.5 * max(right - left, high - low))
