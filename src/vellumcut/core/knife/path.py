"""The way of pen and knife over a sheet: what is drawn first, then each part, inner cuts before outer ones (shop rule
book, section 3)."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from itertools import pairwise
from typing import Literal

import numpy as np
import shapely
import shapely.ops
from numpy.typing import NDArray

from vellumcut.core.errors import CraftError
from vellumcut.core.flatten.curves import FlatEdge
from vellumcut.core.knife.setup import CutterSetup
from vellumcut.core.nest.shapes import NestSheet
from vellumcut.core.pattern.drawn import DrawnPanel
from vellumcut.core.units import format_length

Array = NDArray[np.float64]
Tool = Literal["pen", "knife"]

FINE, STEP = 0.01, 0.25
"""mm that a chord may lie off its curve, and between the points it is taken from."""
SHARP = 30.0
"""Degrees of turn from which a knife is lifted and set down anew; less it turns in the foam (est.)."""
TAB = (1.0, 3.0)
"""mm of foam left under a tab, and its length (est.): torn by hand, and its stub sanded off."""
CLEAR = 0.2
"""mm that an over-cut stops short of another part."""


@dataclass(frozen=True)
class Run:
    """From one setting down of a tool to its lifting. part: key of what it belongs to. points: (n, 2) mm on the bed.
    depths: (n - 1,) mm of each stretch. past: mm at its end that run over a corner."""

    tool: Tool
    part: str
    points: Array
    depths: Array
    past: float = 0.0


@dataclass(frozen=True)
class Corner:
    """Where a run ends. over: mm it runs past; wanted: what the blade asks for. The rest is left to a blade by hand,
    since a cut would go into a part or off the sheet."""

    part: str
    at: tuple[float, float]
    over: float
    wanted: float

    @property
    def short(self) -> bool:
        return self.over < self.wanted - 0.05


@dataclass(frozen=True)
class Program:
    """All runs over one sheet, in order. size: of the sheet, mm; it lies with its lower left corner on the origin."""

    size: tuple[float, float]
    thickness: float
    setup: CutterSetup
    runs: tuple[Run, ...]
    corners: tuple[Corner, ...]
    tabs: dict[str, int] = field(default_factory=dict)


def program_of(sheet: NestSheet, parts: Sequence[tuple[str, DrawnPanel]], setup: CutterSetup) -> Program:
    """parts: in the order of the knife, each with a key of its own, as they lie on the sheet. Raises CraftError where
    the machine would leave its bed or run into a clamp."""
    left, low, right, high = sheet.shape.bounds
    size = (right - left, high - low)
    if size[0] > setup.width or size[1] > setup.height:
        raise CraftError(
            f"The sheet is {_sides(*size)}, and the bed takes {_sides(setup.width, setup.height)}: cut it down along"
            " its first cuts, or nest on sheets of the bed's size",
            "sheet",
        )
    thickness = parts[0][1].layer.thickness if parts else 0.0
    ground = _Ground(sheet, parts)
    runs = [run for key, panel in parts for run in _drawn(key, panel, ground.move)]
    corners: list[Corner] = []
    tabs: dict[str, int] = {}
    for key, panel in parts:
        rings = [_line(ring) + ground.move for ring in panel.flat.cut_rings]
        for k, ring in enumerate([*rings[1:], rings[0]]):
            small = k == len(rings) - 1 and panel.flat.area < setup.tabs_below * 100
            made = list(_cut(key, ring, thickness, setup, ground, small))
            runs += [run for run, _ in made]
            corners += [corner for _, corner in made if corner is not None]
            if small:
                tabs[key] = 2
    _clear_of_clamps(runs, setup)
    return Program(size, thickness, setup, tuple(runs), tuple(corners), tabs)


class _Ground:
    """The sheet with its parts, for what an over-cut may not touch."""

    def __init__(self, sheet: NestSheet, parts: Sequence[tuple[str, DrawnPanel]]) -> None:
        left, low, _, _ = sheet.shape.bounds
        self.move = -np.array([left, low])
        self.shapes = [shapely.transform(panel.flat.shape, lambda p: p + self.move) for _, panel in parts]
        self.tree = shapely.STRtree(self.shapes)
        self.edge = shapely.transform(sheet.shape, lambda p: p + self.move).boundary

    def free(self, at: Array, way: Array, wanted: float) -> float:
        """mm that a cut may run on from a corner before it comes to a part or the sheet's edge."""
        if wanted <= 0:
            return 0.0
        line = shapely.LineString([at + 0.03 * way, at + (wanted + CLEAR) * way])
        near = [self.shapes[k].buffer(-FINE) for k in self.tree.query(line)]
        hits = [g for g in (shapely.intersection(line, o) for o in (*near, self.edge)) if not g.is_empty]
        far = min((float(shapely.distance(shapely.Point(at), g)) for g in hits), default=np.inf)
        return float(np.clip(far - CLEAR, 0.0, wanted))


def _line(ring: Sequence[FlatEdge]) -> Array:
    points = np.vstack([*(e.points(STEP)[:-1] for e in ring), ring[-1].points(STEP)[-1:]])
    return np.asarray(shapely.get_coordinates(shapely.LineString(points).simplify(FINE)))


def _drawn(key: str, panel: DrawnPanel, move: Array) -> Iterator[Run]:
    """What the pen draws: folds and scores among it, since how deep and when they are cut is told by how they are
    worked."""
    flat = panel.flat
    lines = [line for mark in flat.marks for line in mark.lines] + [x.points for x in flat.lines]
    for line in lines:
        inside = shapely.LineString(line).simplify(FINE).intersection(flat.shape)
        for one in shapely.get_parts(inside):
            if one.geom_type == "LineString" and one.length > STEP:
                points = shapely.get_coordinates(one) + move
                yield Run("pen", key, points, np.zeros(len(points) - 1))


def _cut(
    key: str, ring: Array, thickness: float, setup: CutterSetup, ground: _Ground, tabbed: bool
) -> Iterator[tuple[Run, Corner | None]]:
    """A ring in runs from corner to corner, pass by pass; the corner of each comes with the last pass."""
    closed = bool(np.allclose(ring[0], ring[-1], atol=FINE))
    wanted = setup.over_cut(thickness)
    stretches = list(_between_corners(_from_straight(ring)) if closed else _between_corners(ring))
    passes = setup.passes(thickness)
    for depth in passes:
        last = depth == passes[-1]
        for k, points in enumerate(stretches):
            if closed and k == len(stretches) - 1:
                line, over, corner = _closing(points, stretches[0], wanted), 0.0, None
            else:
                way = points[-1] - points[-2]
                way = way / np.linalg.norm(way)
                over = ground.free(points[-1], way, wanted)
                line = np.vstack([points, points[-1] + over * way]) if over > FINE else points
                corner = Corner(key, (float(points[-1][0]), float(points[-1][1])), over, wanted)
            line, depths = _tabbed(line, depth) if tabbed and last and _holds_tab(k, stretches) else (line, None)
            run = Run("knife", key, line, np.full(len(line) - 1, depth) if depths is None else depths, over)
            yield run, corner if last else None


def _from_straight(ring: Array) -> Array:
    """A closed ring that begins in the middle of its longest straight stretch."""
    k = int(np.argmax(np.linalg.norm(np.diff(ring, axis=0), axis=1)))
    middle = (ring[k] + ring[k + 1]) / 2
    return np.vstack([middle, ring[k + 1 : -1], ring[: k + 1], middle])


def _between_corners(line: Array) -> Iterator[Array]:
    """A line parted where it turns sharply."""
    steps = np.diff(line, axis=0)
    turn = np.degrees(np.arctan2(steps[:, 1], steps[:, 0]))
    turns = np.abs((np.diff(turn) + 180) % 360 - 180)
    cuts = [0, *(np.flatnonzero(turns > SHARP) + 1), len(line) - 1]
    for start, end in pairwise(cuts):
        yield line[start : end + 1]


def _closing(points: Array, first: Array, wanted: float) -> Array:
    """The last run of a ring, carried on over its own beginning by so much, so that the bottom closes, too."""
    ahead = shapely.LineString(first)
    on = shapely.get_coordinates(shapely.ops.substring(ahead, 0, min(wanted, ahead.length)))
    return np.vstack([points, on[1:]]) if len(on) > 1 else points


def _holds_tab(k: int, stretches: Sequence[Array]) -> bool:
    """Two tabs for a part: on its two longest runs, or both on the only one."""
    lengths = [float(np.linalg.norm(np.diff(s, axis=0), axis=1).sum()) for s in stretches]
    return k in sorted(range(len(lengths)), key=lambda i: -lengths[i])[:2]


def _tabbed(line: Array, depth: float) -> tuple[Array, Array]:
    """A run with a tab in its middle: there it is cut less deep."""
    whole = shapely.LineString(line)
    half = min(TAB[1], whole.length / 3) / 2
    ends = (whole.length / 2 - half, whole.length / 2 + half)
    pieces = [shapely.ops.substring(whole, a, b) for a, b in ((0, ends[0]), ends, (ends[1], whole.length))]
    points = [shapely.get_coordinates(p) for p in pieces]
    depths = [np.full(len(p) - 1, d) for p, d in zip(points, (depth, max(0.5, depth - TAB[0]), depth), strict=True)]
    return np.vstack([points[0], points[1][1:], points[2][1:]]), np.concatenate(depths)


def _clear_of_clamps(runs: Sequence[Run], setup: CutterSetup) -> None:
    for clamp in setup.clamps:
        box = shapely.box(clamp.x, clamp.y, clamp.x + clamp.width, clamp.y + clamp.height)
        for run in runs:
            if shapely.LineString(run.points).intersects(box):
                name = run.part.split("/")[1] if "/" in run.part else run.part
                raise CraftError(
                    f"{name} lies under the clamp {format_length(clamp.x)} from the left and"
                    f" {format_length(clamp.y)} from below: move the part or the clamp",
                    "clamps",
                )


def _sides(one: float, other: float) -> str:
    return f"{format_length(one)} x {format_length(other)}"
