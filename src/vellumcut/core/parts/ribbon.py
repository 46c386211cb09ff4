"""The neighbourhood of a line on a panel, laid flat by itself at the depth of what is laid there.

What lies on a curved base is longer outside than inside: flattened at its own mid-depth, a strip of thickness s on an
outer face of curvature k comes out (1 + k s / 2) times as long (parts rule book, section 1), whatever the surface.
"""

import itertools
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
import shapely
from numpy.typing import NDArray
from scipy.spatial import cKDTree
from shapely.geometry.polygon import orient

from vellumcut.core.cast.armour import ArmourSurface
from vellumcut.core.errors import CraftError
from vellumcut.core.flatten.chart import Chart, unroll
from vellumcut.core.flatten.mesh import (
    CUT_SIZE,
    PanelMesh,
    Surface,
    face_middles,
    first_chart,
    mesh_on,
    on_faces,
    resample,
)
from vellumcut.core.flatten.outlines import corners_in
from vellumcut.core.flatten.solve import flatten_near
from vellumcut.core.ink.lines import InkLine, PanelInk
from vellumcut.core.parts.lines import Run, ink_rings

Array = NDArray[np.float64]

STEP = 1.0
"""mm between points of a line as it is read."""
FINE_SIZE, WIDE = 3.0, 25.0
"""Triangle edge for what is cut, mm: a strip is narrow. What is wider than this, mm, is meshed as a panel is."""
ROOM = 8.0
"""How far past what is laid the neighbourhood reaches, mm: the mesh needs more than the strip alone."""
REACHES = 20.0
"""mm in which it grows: a width that is dragged stays within one neighbourhood for a while."""
SAME = 2e-3
"""Of a turn, or of the way between two stations, within which two places are one."""
MEETS = 0.05
"""mm within which two panels meet along their seam."""
CORNER = 25.0
"""Degrees within a few mm from which a line has a corner."""


@dataclass(frozen=True, eq=False)
class Ribbon:
    """A line's neighbourhood, flat. line: (n, 2) mm, the panel on its left where it bounds it. region: all there is of
    the panel there. to_cut: parts of it are laid flat by themselves, as they are cut; else they stay as they lie."""

    run: Run
    line: Array
    region: shapely.Polygon
    mesh: PanelMesh
    flat: Array
    surface: Surface
    to_cut: bool = True

    def uv(self, points: Array) -> Array:
        """Points (k, 2) of the flat neighbourhood on the body, (k, 2) of (around, along); those beside it go on as the
        nearest of its faces does."""
        at, weights = on_faces(self.flat, self.mesh.rest.faces, points, self._near)
        return np.asarray(np.einsum("nk,nkd->nd", weights, self.mesh.uv[self.mesh.rest.faces[at]]))

    def along(self, points: Array) -> Array:
        """How far each point (n, 2) of a line lies along it on the surface, mm, (n,): flat, a wide neighbourhood on a
        ball is strained by some tenths of a per cent."""
        there = self.surface.points(self.uv(points))
        return np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(there, axis=0), axis=1))])

    def meets_itself(self, points: Array) -> bool:
        """Whether a line (n, 2) ends where it began, be it on the other side of a closed tube's seam."""
        first, last = self.uv(points[[0, -1]])
        return self.run.closed or (abs(abs(last[0] - first[0]) - 1.0) < SAME and abs(last[1] - first[1]) < SAME)

    def by_itself(self, part: shapely.Polygon) -> tuple[Array, ...]:
        """Rings of a part of the neighbourhood, (k, 2) mm, laid flat without the rest, as it is cut: narrow as it is,
        it takes no strain that its surroundings would give it. Raises CraftError."""
        return self.by_itself_with(part, np.zeros((0, 2)))[0]

    def by_itself_with(self, part: shapely.Polygon, line: Array) -> tuple[tuple[Array, ...], Array]:
        """As ``by_itself``, and a line (n, 2) that is drawn on the part. Raises CraftError."""
        if not self.to_cut:
            return tuple(np.asarray(shapely.get_coordinates(r))[:-1] for r in (part.exterior, *part.interiors)), line
        first = self.mesh.unroll
        rings = [
            first.flat(self.uv(dense(np.asarray(shapely.get_coordinates(r))))) for r in (part.exterior, *part.interiors)
        ]
        # A ring that touches itself comes apart there: the rest is no wider than its own corner.
        whole = max(shapely.get_parts(shapely.Polygon(rings[0], rings[1:]).buffer(0)), key=lambda g: g.area)
        size = CUT_SIZE if 2 * whole.area > WIDE * whole.length else FINE_SIZE
        ink, mesh, flat = _meshed(self.surface, first, orient(whole), self.run, size)
        drawn = mesh.carry(first.flat(self.uv(line)), flat)[0] if len(line) else line
        return tuple(_loops(ink, mesh, flat)), drawn

    @cached_property
    def _near(self) -> cKDTree:
        return face_middles(self.flat, self.mesh.rest.faces)


def reach_of(most: float) -> float:
    """How wide a neighbourhood something needs that goes ``most`` mm away from its line."""
    return float(np.ceil((most + ROOM) / REACHES) * REACHES)


def ribbon_of(surface: ArmourSurface, panel: PanelInk, run: Run, reach: float) -> Ribbon:
    """The neighbourhood of a run on a panel, laid flat on the surface's middle. reach: mm to each side of the line.

    Raises CraftError where it cannot be meshed.
    """
    first = first_chart(surface, panel)
    return laid_flat(surface, first, run, _ground(surface, first, panel), reach)


def ribbon_over(surface: ArmourSurface, panels: Sequence[tuple[PanelInk, bool]], run: Run, reach: float) -> Ribbon:
    """As ``ribbon_of``, on both sides of a seam. panels: all of the piece, and which have a mirror image on the
    body."""
    first = unroll(surface, run.uv)
    grounds = [
        _ground(surface, first, panel, mirrored, turns)
        for panel, twin in panels
        for mirrored in ((False, True) if twin else (False,))
        for turns in (-1, 0, 1)
    ]
    # Two panels meet along their seam to a rounding of their own.
    whole = shapely.unary_union([g.buffer(MEETS, join_style="mitre") for g in grounds]).buffer(
        -MEETS, join_style="mitre"
    )
    return laid_flat(surface, first, run, whole, reach)


def laid_flat(surface: Surface, first: Chart, run: Run, ground: shapely.Geometry, reach: float) -> Ribbon:
    """What of a ground on a chart lies within reach of a run, flattened on its surface. Raises CraftError."""
    line = first.flat(resample(surface, run.uv, STEP)[0])
    area = _near(ground, line, reach)
    ink, mesh, flat = _meshed(surface, first, area, run, CUT_SIZE)
    own, _ = mesh.carry(line, flat)
    outer, *holes = _loops(ink, mesh, flat)
    region = shapely.Polygon(outer, holes).buffer(0)
    if region.geom_type != "Polygon":
        region = max(region.geoms, key=lambda g: g.area)
    return Ribbon(run, own, region, mesh, flat, surface)


def _meshed(
    surface: Surface, first: Chart, area: shapely.Polygon, run: Run, size: float
) -> tuple[PanelInk, PanelMesh, Array]:
    """What lies within an area of the chart, meshed and laid flat."""
    centre = InkLine("centre line", "", run.uv)
    ink = PanelInk(0, _corner_to_corner(first, area.exterior), centre, True, _hole_lines(first, area))
    mesh = mesh_on(surface, first, ink, size)
    return ink, mesh, flatten_near(mesh.xyz, mesh.rest, mesh.chart, mesh.chart)


def _loops(ink: PanelInk, mesh: PanelMesh, flat: Array) -> list[Array]:
    """Its outline and its holes where they lie flat, first not repeated."""
    outer, holes = mesh.loops[: len(ink.outline)], mesh.loops[len(ink.outline) :]
    return [np.concatenate([flat[loop[:-1]] for loop in outer]), *(flat[loop[:-1]] for loop in holes)]


def dense(line: Array) -> Array:
    """A line (k, 2) mm with its own points and one a step between them."""
    arc = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(line, axis=0).T))])
    at = np.unique(np.concatenate([arc, np.arange(0.0, arc[-1], STEP)]))
    return np.stack([np.interp(at, arc, line[:, k]) for k in (0, 1)], axis=1)


def _ground(
    surface: ArmourSurface, first: Chart, panel: PanelInk, mirrored: bool = False, turns: int = 0
) -> shapely.Polygon:
    """A panel on a chart. mirrored: its mirror image on the body; turns: how often round the tube it is moved."""
    # Ink runs straight in (around, along) between its points, and bent on the chart.
    rings = (np.vstack([resample(surface, x.uv, STEP)[0][:-1] for x in ring]) for ring in ink_rings(panel))
    sign = np.array([-1.0 if mirrored else 1.0, 1.0])
    outer, *holes = (first.flat(ring * sign + [turns, 0.0]) for ring in rings)
    return shapely.Polygon(outer, holes).buffer(0)


def _near(ground: shapely.Geometry, line: Array, reach: float) -> shapely.Polygon:
    """What of the foam lies within reach of a line, on its chart."""
    path = shapely.LineString(line)
    found = shapely.intersection(ground, path.buffer(reach, join_style="mitre", cap_style="round"))
    rows = [g for g in shapely.get_parts(found) if g.geom_type == "Polygon" and g.area > 1.0]
    if not rows:
        raise CraftError("There is no foam beside that line to lay anything on", "making.details")
    return orient(max(rows, key=lambda g: g.buffer(0.5).intersection(path).length))


def panel_under(surface: ArmourSurface, panels: Sequence[PanelInk], at: tuple[float, ...]) -> tuple[int, bool] | None:
    """Which panel lies under a place (around, along) of the body, or under its mirror image, and whether it is that;
    None where there is no foam."""
    for sign in (1.0, -1.0):
        spot = np.array([[sign * at[0], at[1]]])
        for k, panel in enumerate(panels):
            first = unroll(surface, np.vstack([line.uv for line in panel.outline]))
            places = shapely.points([first.flat(spot + [turns, 0.0])[0] for turns in (-1, 0, 1)])
            if shapely.contains(_ground(surface, first, panel).buffer(MEETS), places).any():
                return k, sign < 0
    return None


def within_panel(surface: ArmourSurface, panel: PanelInk, ring: Array) -> list[Array]:
    """What of a closed line on the body, (k, 2) of (around, along), lies on a panel, each stretch (n, 2)."""
    first = unroll(surface, ring)
    out = []
    for turns in (-1, 0, 1):
        here = shapely.intersection(shapely.LineString(first.flat(ring)), _ground(surface, first, panel, turns=turns))
        parts = shapely.get_parts(shapely.get_parts(here))
        lines = [g for g in parts if g.geom_type == "LineString" and not g.is_empty]
        for part in shapely.get_parts(shapely.line_merge(shapely.MultiLineString(lines))):
            if part.length > 1.0:
                out.append(first.uv(np.asarray(part.coords)) - [turns, 0.0])
    return out


def _corner_to_corner(first: Chart, ring: shapely.LinearRing) -> tuple[InkLine, ...]:
    """A ring as lines that end at its corners: a mesh keeps corners and rounds off what lies between."""
    points = np.asarray(shapely.get_coordinates(ring.simplify(0.02)))[:-1]
    corners = corners_in(points, CORNER)
    if not len(corners):
        corners = np.array([0])
    points, corners = np.roll(points, -corners[0], axis=0), corners - corners[0]
    closed = np.vstack([points, points[:1]])
    ends = [*corners, len(points)]
    return tuple(InkLine("outline", "", first.uv(dense(closed[a : b + 1]))) for a, b in itertools.pairwise(ends))


def _hole_lines(first: Chart, area: shapely.Polygon) -> tuple[InkLine, ...]:
    return tuple(
        InkLine("outline", "", first.uv(dense(np.asarray(shapely.get_coordinates(r))))) for r in area.interiors
    )
