"""A triangle mesh of one panel on the armour surface."""

from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray
from scipy.spatial import Delaunay

from vellumcut.core.cast.armour import ArmourSurface
from vellumcut.core.errors import CraftError
from vellumcut.core.flatten.chart import Chart, fit_chart, unroll
from vellumcut.core.flatten.solve import RestShape, rest_shape
from vellumcut.core.ink.lines import InkLine, PanelInk

Array = NDArray[np.float64]
Index = NDArray[np.int32]

CUT_SIZE = 5.0
"""Triangle edge for cutting, mm: outlines of known surfaces are met within 0.1 mm."""
EDIT_SIZE = None
"""While editing the mesh is as coarse as still looks and measures right, whatever the panel's size."""
EDIT_FACES = 1100
EDIT_RANGE = (7.0, 16.0)


@dataclass(frozen=True)
class PanelMesh:
    """uv: (n, 2) in (around, along). chart: (n, 2) mm, a first unrolling. xyz: (n, 3) mm on the middle layer.

    rest: the true shapes of the faces, with sides measured along the surface, so a coarse mesh does not cut
    the curve short.
    loops: for each ink line of the outline its vertex indices in order, ends shared with its neighbours.
    steps: for each ink line the arc length on the surface at those vertices, mm.
    locator: the triangulation of ``chart``, to find where a point of the chart lies.
    """

    uv: Array
    chart: Array
    xyz: Array
    rest: RestShape
    loops: tuple[Index, ...]
    steps: tuple[Array, ...]
    locator: Delaunay
    unroll: Chart


def mesh_panel(surface: ArmourSurface, ink: PanelInk, size: float | None) -> PanelMesh:
    """Mesh the inside of a panel's outline with near-equilateral triangles of ``size`` mm. Raises CraftError."""
    rim, chart, locator, faces, first, loops, steps = _plane_mesh(surface, ink, size)
    uv = np.vstack([rim, first.uv(chart[len(rim) :])])
    xyz = surface.points(uv)
    rest = rest_shape(faces, _rest_lengths(surface, uv, xyz, faces))
    return PanelMesh(uv, chart, xyz, rest, loops, steps, locator, first)


SHAPE_SIZE = 12.0


def panel_shape(surface: ArmourSurface, ink: PanelInk, depth: float, size: float = SHAPE_SIZE) -> tuple[Array, Index]:
    """A panel as a mesh on the layer at ``depth``, to look at: vertices (n, 3) in mm and faces (m, 3)."""
    rim, chart, _, faces, first, _, _ = _plane_mesh(surface, ink, size)
    return surface.points(np.vstack([rim, first.uv(chart[len(rim) :])]), depth), faces


def _plane_mesh(
    surface: ArmourSurface, ink: PanelInk, size: float | None
) -> tuple[Array, Array, Delaunay, Index, Chart, tuple[Index, ...], tuple[Array, ...]]:
    outline = np.vstack([line.uv for line in ink.outline])
    first = _first_chart(surface, ink, outline)
    if size is None:
        area = shapely.Polygon(first.flat(outline)).area
        size = float(np.clip(np.sqrt(area / (np.sqrt(3) / 4) / EDIT_FACES), *EDIT_RANGE))
    for _ in range(4):
        rim, loops, steps = _sample_outline(surface, ink, size)
        rim_chart = first.flat(rim)
        inner_chart = _hexagonal_inside(rim_chart, size)
        chart = np.vstack([rim_chart, inner_chart])
        locator = Delaunay(chart)
        faces = _faces_inside(chart, locator, rim_chart)
        if _has_rim(faces, len(rim)):
            break
        size *= 0.7
    else:
        raise CraftError("The outline is too thin somewhere to be meshed; make the piece wider there", "design.gap")
    return rim, chart, locator, faces, first, loops, steps


def _first_chart(surface: ArmourSurface, ink: PanelInk, outline: Array) -> Chart:
    if ink.drawn:
        return unroll(surface, outline)
    ends = surface.tube.mm(np.array([outline[:, 1].min(), outline[:, 1].max()]))
    return fit_chart(surface, float(ends[0]), float(ends[1]))


def _sample_outline(
    surface: ArmourSurface, ink: PanelInk, size: float
) -> tuple[Array, tuple[Index, ...], tuple[Array, ...]]:
    points: list[Array] = []
    loops, steps, start = [], [], 0
    for line in ink.outline:
        uv, at = resample(surface, line, size)
        points.append(uv[:-1])
        loops.append(np.arange(start, start + len(uv), dtype=np.int32))
        steps.append(at)
        start += len(uv) - 1
    loops[-1][-1] = 0
    return np.vstack(points), tuple(loops), tuple(steps)


def resample(surface: ArmourSurface, line: InkLine, size: float) -> tuple[Array, Array]:
    """Points (n, 2) every ``size`` mm along a line on the middle layer, and their arc lengths in mm."""
    t = np.linspace(0, len(line.uv) - 1, 8 * (len(line.uv) - 1) + 1)
    fine = np.stack([np.interp(t, np.arange(len(line.uv)), line.uv[:, k]) for k in (0, 1)], axis=1)
    arc = np.concatenate([[0], np.cumsum(np.linalg.norm(np.diff(surface.points(fine), axis=0), axis=1))])
    at = np.linspace(0, arc[-1], max(3, round(arc[-1] / size) + 1))
    return np.stack([np.interp(at, arc, fine[:, k]) for k in (0, 1)], axis=1), at


def _hexagonal_inside(rim: Array, size: float) -> Array:
    inside = shapely.Polygon(rim).buffer(-0.6 * size)
    low, high = rim.min(axis=0), rim.max(axis=0)
    rows = np.arange(low[1], high[1], size * np.sqrt(3) / 2)
    half = np.ceil(max(abs(low[0]), abs(high[0])) / size)
    columns = np.arange(-half, half + 1) * size
    x = columns[None, :] + np.where(np.arange(len(rows)) % 2, 0.5 * size, 0.0)[:, None]
    grid = np.stack([x.ravel(), np.repeat(rows, len(columns))], axis=1)
    return np.asarray(grid[shapely.contains_xy(inside, grid[:, 0], grid[:, 1])])


def _faces_inside(chart: Array, locator: Delaunay, rim: Array) -> Index:
    triangles = locator.simplices
    centre = chart[triangles].mean(axis=1)
    a, b, c = (chart[triangles[:, k]] for k in range(3))
    doubled = (b[:, 0] - a[:, 0]) * (c[:, 1] - a[:, 1]) - (b[:, 1] - a[:, 1]) * (c[:, 0] - a[:, 0])
    keep = shapely.contains_xy(shapely.Polygon(rim), centre[:, 0], centre[:, 1]) & (np.abs(doubled) > 1e-6)
    turned = np.where((doubled < 0)[:, None], triangles[:, [0, 2, 1]], triangles)
    return np.ascontiguousarray(turned[keep], dtype=np.int32)


def _has_rim(faces: Index, count: int) -> bool:
    edges = np.sort(np.vstack([faces[:, [0, 1]], faces[:, [1, 2]], faces[:, [2, 0]]]), axis=1)
    single = {tuple(e) for e, n in zip(*np.unique(edges, axis=0, return_counts=True), strict=True) if n == 1}
    wanted = {(min(i, (i + 1) % count), max(i, (i + 1) % count)) for i in range(count)}
    return single == wanted


def _rest_lengths(surface: ArmourSurface, uv: Array, xyz: Array, faces: Index) -> Array:
    """Side lengths along the surface, from a side's chord L1 and its two half chords L2: (4 L2 - L1) / 3.

    Richardson's step takes the error from second to fourth order: 0.001 mm on 10 mm at 40 mm radius.
    """
    sides = np.stack([faces[:, [1, 2]], faces[:, [2, 0]], faces[:, [0, 1]]], axis=1).reshape(-1, 2)
    unique, back = np.unique(np.sort(sides, axis=1), axis=0, return_inverse=True)
    start, end = uv[unique[:, 0]], uv[unique[:, 1]]
    a, middle, b = xyz[unique[:, 0]], surface.points((start + end) / 2), xyz[unique[:, 1]]
    halves = np.linalg.norm(middle - a, axis=1) + np.linalg.norm(b - middle, axis=1)
    length = (4 * halves - np.linalg.norm(b - a, axis=1)) / 3
    return np.asarray(length[back].reshape(-1, 3))
