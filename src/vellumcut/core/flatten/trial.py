"""Trying cuts on a panel, quickly: what would a dart, a split or an insert do to what the foam must give?"""

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
import shapely
from numpy.typing import NDArray
from scipy.interpolate import RectBivariateSpline
from shapely.geometry import LineString, Point, Polygon

from vellumcut.core.cast.armour import ArmourSurface
from vellumcut.core.design.sheet import PER_SPAN
from vellumcut.core.errors import CraftError
from vellumcut.core.flatten.chart import Chart
from vellumcut.core.flatten.mesh import Surface, first_chart
from vellumcut.core.flatten.slit import angle_deficit, gapes, opening_angle
from vellumcut.core.flatten.solve import UNDISTORTED, symmetric_dirichlet
from vellumcut.core.flatten.solving import SolvedPanel, solve_near, solve_rough
from vellumcut.core.flatten.strain import weighted_percentile
from vellumcut.core.ink.darts import DartStroke, add_darts, without_darts
from vellumcut.core.ink.lines import MIRRORED, InkLine, PanelInk
from vellumcut.core.ink.plane import Plane, drawing_plane

Array = NDArray[np.float64]

TRIAL_FACES = 260
"""Faces of the mesh that cuts are tried on: it ranks them as the fine mesh does."""
CAREFUL_FACES = 640
PAST = 0.03
"""The grid goes on past the panel by this share: a chart's corner may lie a hair outside."""
SAMPLES = 96
"""Points of a panel's grid each way."""
LEAST_OPENING, LEAST_OF_SEVERAL = float(np.radians(2)), float(np.radians(6))
"""A slit that opens by less lets nothing out. Beside another it must do more: on a fine mesh it may open a little less,
and a slit that only shears is no dart."""


class Sampled:
    """A surface by a grid of its points over a panel: trials ask for thousands, and a spline is many times quicker.

    A crease of the surface is rounded over one step of the grid, which a trial's triangles are larger than.
    """

    def __init__(self, surface: Surface, outline: Array) -> None:
        """outline: (n, 2) of (around, along)."""
        self.surface = surface
        low, high = outline.min(axis=0), outline.max(axis=0)
        self.low, self.high = low - PAST * (high - low), high + PAST * (high - low)
        u, v = np.linspace(self.low, self.high, SAMPLES).T
        at = np.stack(np.meshgrid(u, v, indexing="ij"), axis=-1).reshape(-1, 2)
        grid = surface.points(at).reshape(SAMPLES, SAMPLES, 3)
        self.splines = [RectBivariateSpline(u, v, grid[..., k]) for k in range(3)]

    def points(self, uv: Array) -> Array:
        """(n, 2) of (around, along) -> (n, 3) mm."""
        if (uv < self.low - 1e-9).any() or (uv > self.high + 1e-9).any():
            return self.surface.points(uv)
        return np.stack([s.ev(uv[:, 0], uv[:, 1]) for s in self.splines], axis=1)


@dataclass(frozen=True)
class Dart:
    """A straight dart on the drawing plane, (2,) mm each."""

    mouth: Array
    tip: Array

    @property
    def length(self) -> float:
        """From mouth to tip, mm."""
        return float(np.linalg.norm(self.tip - self.mouth))

    def mirrored(self) -> "Dart":
        """Its mirror image, left for right."""
        return Dart(self.mouth * [-1, 1], self.tip * [-1, 1])


def all_open(legs: list[tuple[Array, Array]]) -> bool:
    """Whether every slit opens all along and far enough to be a dart. legs: of each, (n, 2) mm from mouth to tip."""
    least = LEAST_OPENING if len(legs) == 1 else LEAST_OF_SEVERAL
    return all(opening_angle(*pair) > least and gapes(*pair) for pair in legs)


@dataclass(frozen=True, eq=False)
class Tried:
    """What some darts do. energy: of distortion, 0 when none. p95: per cent. angles: that the darts open by,
    radians."""

    darts: tuple[Dart, ...]
    energy: float
    p95: float
    angles: tuple[float, ...]
    solved: SolvedPanel

    @property
    def opens(self) -> bool:
        """Whether every slit opens all along."""
        return all_open([(self.solved.flat[s.left], self.solved.flat[s.right]) for s in self.solved.mesh.slits])


@dataclass(frozen=True, eq=False)
class Trial:
    """A panel to try cuts on. mirror: it is its own mirror image, so darts come in pairs."""

    surface: Surface
    first: Chart
    plane: Plane
    ink: PanelInk
    mirror: bool = False
    faces: int = TRIAL_FACES

    @cached_property
    def careful(self) -> "Trial":
        """The same panel on a mesh fine enough to tell what is asked of the foam, not only which cut is better."""
        return replace(self, faces=CAREFUL_FACES)

    @cached_property
    def ring(self) -> Polygon:
        """The panel on the drawing plane, mm."""
        outer = np.vstack([self.plane.flat(line.uv)[:-1] for line in self.ink.outline])
        return Polygon(outer, [self.plane.flat(line.uv)[:-1] for line in self.ink.holes])

    @cached_property
    def edges(self) -> list[tuple[str, LineString]]:
        """The lines of its outline on the drawing plane, mm; mirror images by the name of what they mirror."""
        return [(line.name.removesuffix(MIRRORED), LineString(self.plane.flat(line.uv))) for line in self.ink.outline]

    def edges_of(self, darts: tuple[Dart, ...]) -> tuple[str, ...]:
        """Names of the edges that darts open on."""
        lines = [line for _, line in self.edges]
        nearest = (int(np.argmin(shapely.distance(lines, Point(d.mouth)))) for d in darts)
        return tuple(sorted(self.edges[k][0] for k in nearest))

    @cached_property
    def whole(self) -> SolvedPanel:
        """The panel without any dart, flat on a rough mesh. Raises CraftError."""
        return solve_rough(self.surface, self.first, self.ink)

    @cached_property
    def size(self) -> float:
        """Triangle edge of the mesh that cuts are tried on, mm."""
        area = Polygon(self.first.flat(np.vstack([line.uv for line in self.ink.outline]))).area
        return float(np.sqrt(area / (np.sqrt(3) / 4) / self.faces))

    @cached_property
    def undarted(self) -> Tried:
        """The panel with no dart in it."""
        return self._judge((), self.solve(self.bare))

    @cached_property
    def bare(self) -> PanelInk:
        """Its ink with no dart in it."""
        return without_darts(self.ink)

    def solve(self, ink: PanelInk) -> SolvedPanel:
        """The panel with darts of its ink laid flat on the mesh that cuts are tried on. Raises CraftError."""
        solved = solve_near(self.surface, self.first, ink, self.size, self.whole)
        return replace(solved, rough=self.faces < CAREFUL_FACES)

    def try_darts(self, darts: tuple[Dart, ...]) -> Tried | None:
        """The panel with these darts, on the rough mesh; None when they cannot be cut."""
        ink = self.with_darts(darts)
        if ink is None:
            return None
        try:
            return self._judge(darts, self.solve(ink))
        except CraftError:
            return None

    def with_darts(self, darts: tuple[Dart, ...]) -> PanelInk | None:
        """The panel's ink with these darts, and their mirror images; None when one of them cannot be cut."""
        both = [d for dart in darts for d in ((dart, dart.mirrored()) if self.mirror else (dart,))]
        strokes = [DartStroke(f"d{k}", "dart", self._drawn(d)) for k, d in enumerate(both)]
        ink, troubles = add_darts(self.plane, self.bare, strokes)
        return None if troubles or len(ink.darts) != len(both) else ink

    def _drawn(self, dart: Dart) -> LineString:
        """The dart as the stroke that it is kept as runs: straight in (around, along), on the plane a slight curve."""
        ends = self.plane.uv(np.stack([dart.mouth, dart.tip]))
        return LineString(self.plane.flat(ends[0] + np.linspace(0, 1, PER_SPAN + 1)[:, None] * (ends[1] - ends[0])))

    def _judge(self, darts: tuple[Dart, ...], solved: SolvedPanel) -> Tried:
        rest = solved.mesh.rest
        energy = symmetric_dirichlet(solved.flat, rest) - UNDISTORTED
        angles = tuple(opening_angle(solved.flat[s.left], solved.flat[s.right]) for s in solved.mesh.slits)
        most = solved.strain.max(axis=1) * 100
        return Tried(darts, energy, weighted_percentile(most, rest.area, 0.95), angles, solved)

    def try_parts(self, parts: list[Polygon]) -> float | None:
        """p95 in per cent of the part that asks most, each flattened alone; None when one cannot be."""
        try:
            solved = [self.part(part) for part in parts]
        except CraftError:
            return None
        return max(weighted_percentile(s.strain.max(axis=1) * 100, s.mesh.rest.area, 0.95) for s in solved)

    def part(self, polygon: Polygon) -> SolvedPanel:
        """A part of the panel, laid flat by itself on a rough mesh. Raises CraftError."""
        turned = shapely.geometry.polygon.orient(shapely.segmentize(polygon, self.size / 2))
        outline = InkLine("outline", "edge", self.plane.uv(shapely.get_coordinates(turned.exterior)))
        holes = tuple(InkLine("outline", "hole", self.plane.uv(shapely.get_coordinates(r))) for r in turned.interiors)
        ink = PanelInk(0, (outline,), self.ink.centre, True, holes)
        return replace(solve_rough(self.surface, self.first, ink), rough=True)

    def curvature(self) -> tuple[Array, Array]:
        """Inner vertices of the rough mesh on the drawing plane (n, 2) mm, and the curvature at each, radians."""
        mesh = self.whole.mesh
        rim = np.unique(np.concatenate(mesh.loops))
        deficit = angle_deficit(mesh.rest, len(mesh.xyz), rim)
        inner = np.setdiff1d(np.arange(len(mesh.xyz)), rim)
        return self.plane.flat(mesh.uv[inner]), deficit[inner]


def armour_trial(surface: ArmourSurface, ink: PanelInk, mirror: bool) -> Trial:
    """A panel of armour to try cuts on."""
    sampled = Sampled(surface, np.vstack([line.uv for line in ink.outline]))
    return Trial(sampled, first_chart(surface, ink), drawing_plane(surface.tube), ink, mirror)
