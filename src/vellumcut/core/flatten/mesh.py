"""A triangle mesh of one panel on the armour surface."""

from dataclasses import dataclass
from typing import Protocol

import numpy as np
import shapely
from numpy.typing import NDArray
from scipy.spatial import Delaunay, cKDTree

from vellumcut.core.cast.armour import ArmourSurface
from vellumcut.core.errors import CraftError
from vellumcut.core.flatten.chart import Chart, fit_chart, unroll
from vellumcut.core.flatten.slit import cut_open
from vellumcut.core.flatten.solve import RestShape, rest_shape
from vellumcut.core.ink.lines import InkLine, PanelInk

Array = NDArray[np.float64]
Index = NDArray[np.int32]

CUT_SIZE = 5.0
"""Triangle edge for cutting, mm: outlines of known surfaces are met within 0.1 mm."""
EDIT_SIZE = None
"""While editing the mesh is as coarse as still looks and measures right, whatever the panel's size."""
QUICK_SIZE = 0.0
"""As to edit, and never finer, however hard the panel is: for the moment after a change, until it is laid as it is
shown."""
EDIT_FACES = 1100
EDIT_RANGE = (7.0, 12.0)


class Surface(Protocol):
    """What a panel lies on."""

    def points(self, uv: Array) -> Array:
        """(n, 2) of (around, along) -> (n, 3) mm."""
        ...


@dataclass(frozen=True)
class Slit:
    """A dart on the mesh. left, right: vertices of its legs from mouth to tip, the left one before it on the outline.

    steps: arc length on the surface at those vertices, mm.
    """

    left: Index
    right: Index
    steps: Array


@dataclass(frozen=True)
class PanelMesh:
    """uv: (n, 2) in (around, along). chart: (n, 2) mm, a first unrolling. xyz: (n, 3) mm on the middle layer.

    rest: the true shapes of the faces, with sides measured along the surface, so a coarse mesh does not cut
    the curve short.
    loops: for each ink line of the outline its vertex indices in order, ends shared with its neighbours; then for
    each line round a hole. steps: for each of them the arc length on the surface at those vertices, mm.
    slits: as many as the panel has darts. locator: the triangulation of ``chart``, to find where a point of the
    chart lies; corners: (t, 3) its triangles' vertices on this mesh, -1 where it has none.
    """

    uv: Array
    chart: Array
    xyz: Array
    rest: RestShape
    loops: tuple[Index, ...]
    steps: tuple[Array, ...]
    slits: tuple[Slit, ...]
    locator: Delaunay
    corners: Index
    unroll: Chart

    def carry(self, chart: Array, flat: Array) -> tuple[Array, Array]:
        """Take points of the chart (k, 2) with the mesh to its flat positions (n, 2); (k, 2), and which lie inside.

        Points outside go with the nearest face.
        """
        at = self.locator.find_simplex(chart)
        inside = (at >= 0) & (self.corners[at, 0] >= 0)
        if not inside.all():
            kept = np.flatnonzero(self.corners[:, 0] >= 0)
            middles = self.locator.points[self.locator.simplices[kept]].mean(axis=1)
            at = np.where(inside, at, kept[cKDTree(middles).query(chart)[1]])
        affine = self.locator.transform[at]
        two = np.einsum("nij,nj->ni", affine[:, :2], chart - affine[:, 2])
        weights = np.concatenate([two, 1 - two.sum(axis=1, keepdims=True)], axis=1)
        return np.asarray(np.einsum("nk,nkd->nd", weights, flat[self.corners[at]])), inside


def mesh_panel(surface: ArmourSurface, ink: PanelInk, size: float | None) -> PanelMesh:
    """Mesh the inside of a panel's outline with near-equilateral triangles of ``size`` mm. Raises CraftError."""
    return mesh_on(surface, first_chart(surface, ink), ink, size)


def mesh_on(surface: Surface, first: Chart, ink: PanelInk, size: float | None) -> PanelMesh:
    """As ``mesh_panel``, on any surface with a first unrolling of it. size: None lets the panel's area decide."""
    plane = _plane_mesh(surface, ink, first, size)
    faces, slits, origin = plane.faces, [], np.arange(len(plane.chart), dtype=np.int32)
    loops = list(plane.loops)
    for k, (path, steps) in enumerate(plane.paths):
        faces, doubles = cut_open(faces, path, len(origin))
        origin = np.concatenate([origin, path[:-1]])
        slits.append(Slit(path, np.append(doubles, path[-1]).astype(np.int32), steps))
        following = (ink.darts[k].after + 1) % len(ink.outline)
        loops[following] = np.append(doubles[:1], loops[following][1:]).astype(np.int32)
    uv, chart = plane.uv[origin], plane.chart[origin]
    xyz = surface.points(uv)
    rest = rest_shape(faces, _rest_lengths(surface, first, chart, xyz, faces))
    corners = np.full(plane.locator.simplices.shape, -1, dtype=np.int32)
    corners[plane.kept] = np.where(plane.turned[:, None], faces[:, [0, 2, 1]], faces)
    return PanelMesh(
        uv, chart, xyz, rest, tuple(loops), tuple(plane.steps), tuple(slits), plane.locator, corners, first
    )


SHAPE_SIZE = 12.0


def panel_shape(surface: ArmourSurface, ink: PanelInk, depth: float, size: float = SHAPE_SIZE) -> tuple[Array, Index]:
    """A panel as a mesh on the layer at ``depth``, to look at: vertices (n, 3) in mm and faces (m, 3)."""
    plane = _plane_mesh(surface, ink, first_chart(surface, ink), size)
    return surface.points(plane.uv, depth), plane.faces


@dataclass(frozen=True)
class _PlaneMesh:
    """A panel triangulated on its chart, darts not yet cut. paths: vertices and arc lengths of each dart."""

    uv: Array
    chart: Array
    locator: Delaunay
    faces: Index
    kept: NDArray[np.bool_]
    turned: NDArray[np.bool_]
    loops: tuple[Index, ...]
    steps: list[Array]
    paths: list[tuple[Index, Array]]


def _plane_mesh(surface: Surface, ink: PanelInk, first: Chart, size: float | None) -> _PlaneMesh:
    if size is None:
        area = shapely.Polygon(first.flat(np.vstack([line.uv for line in ink.outline]))).area
        size = float(np.clip(np.sqrt(area / (np.sqrt(3) / 4) / EDIT_FACES), *EDIT_RANGE))
    for _ in range(4):
        fixed = _fixed_points(surface, ink, size)
        shape = _shape(first, fixed)
        chart = first.flat(fixed.uv)
        lines = shapely.MultiLineString([chart[path] for path, _ in fixed.paths])
        inner = _hexagonal_inside(shape, lines, size)
        chart = np.vstack([chart, inner])
        locator = Delaunay(chart)
        faces, kept, turned = _faces_inside(chart, locator, shape)
        if _has_edges(faces, fixed):
            break
        size *= 0.7
    else:
        raise CraftError("The outline is too thin somewhere to be meshed; make the piece wider there", "design.gap")
    uv = np.vstack([fixed.uv, first.uv(inner)])
    return _PlaneMesh(uv, chart, locator, faces, kept, turned, fixed.loops, fixed.steps, fixed.paths)


def first_chart(surface: ArmourSurface, ink: PanelInk) -> Chart:
    """The unrolling that a panel of this kind is best started from."""
    outline = np.vstack([line.uv for line in ink.outline])
    if ink.drawn:
        return unroll(surface, outline)
    ends = surface.tube.mm(np.array([outline[:, 1].min(), outline[:, 1].max()]))
    return fit_chart(surface, float(ends[0]), float(ends[1]))


@dataclass(frozen=True)
class _Fixed:
    """Points that must be vertices. rings: the outline, then each hole, as vertex numbers, first not repeated."""

    uv: Array
    rings: list[Index]
    loops: tuple[Index, ...]
    steps: list[Array]
    paths: list[tuple[Index, Array]]


def _fixed_points(surface: Surface, ink: PanelInk, size: float) -> _Fixed:
    points: list[Array] = []
    loops: list[Index] = []
    steps: list[Array] = []
    rings: list[Index] = []
    count = 0
    for ring in (ink.outline, *_hole_rings(ink.holes)):
        begin = count
        for line in ring:
            uv, at = resample(surface, line.uv, size)
            points.append(uv[:-1])
            loops.append(np.arange(count, count + len(uv), dtype=np.int32))
            steps.append(at)
            count += len(uv) - 1
        loops[-1][-1] = begin
        rings.append(np.arange(begin, count, dtype=np.int32))
    paths: list[tuple[Index, Array]] = []
    for dart in ink.darts:
        uv, at = resample(surface, dart.uv, size)
        points.append(uv[1:])
        mouth = loops[dart.after][-1]
        paths.append((np.concatenate([[mouth], np.arange(count, count + len(uv) - 1)]).astype(np.int32), at))
        count += len(uv) - 1
    return _Fixed(np.vstack(points), rings, tuple(loops), steps, paths)


def _hole_rings(holes: tuple[InkLine, ...]) -> list[list[InkLine]]:
    """Lines round holes, gathered hole by hole: a ring ends where it began."""
    out: list[list[InkLine]] = []
    for line in holes:
        if not out or np.allclose(out[-1][-1].uv[-1], out[-1][0].uv[0]):
            out.append([])
        out[-1].append(line)
    return out


def _shape(first: Chart, fixed: _Fixed) -> shapely.Polygon:
    outer, *holes = (first.flat(fixed.uv[ring]) for ring in fixed.rings)
    return shapely.Polygon(outer, holes)


def resample(surface: Surface, line: Array, size: float) -> tuple[Array, Array]:
    """Points (n, 2) every ``size`` mm along a line (k, 2) on the middle layer, and their arc lengths in mm."""
    t = np.linspace(0, len(line) - 1, 8 * (len(line) - 1) + 1)
    fine = np.stack([np.interp(t, np.arange(len(line)), line[:, k]) for k in (0, 1)], axis=1)
    arc = np.concatenate([[0], np.cumsum(np.linalg.norm(np.diff(surface.points(fine), axis=0), axis=1))])
    at = np.linspace(0, arc[-1], max(3, round(arc[-1] / size) + 1))
    return np.stack([np.interp(at, arc, fine[:, k]) for k in (0, 1)], axis=1), at


def _hexagonal_inside(shape: shapely.Polygon, slits: shapely.MultiLineString, size: float) -> Array:
    inside = shape.buffer(-0.6 * size).difference(slits.buffer(0.6 * size))
    low, high = np.array(shape.bounds[:2]), np.array(shape.bounds[2:])
    rows = np.arange(low[1], high[1], size * np.sqrt(3) / 2)
    half = np.ceil(max(abs(low[0]), abs(high[0])) / size)
    columns = np.arange(-half, half + 1) * size
    x = columns[None, :] + np.where(np.arange(len(rows)) % 2, 0.5 * size, 0.0)[:, None]
    grid = np.stack([x.ravel(), np.repeat(rows, len(columns))], axis=1)
    return np.asarray(grid[shapely.contains_xy(inside, grid[:, 0], grid[:, 1])])


def _faces_inside(
    chart: Array, locator: Delaunay, shape: shapely.Polygon
) -> tuple[Index, NDArray[np.bool_], NDArray[np.bool_]]:
    """Counter-clockwise faces, which triangles they are, and which of those had to be turned."""
    triangles = locator.simplices
    centre = chart[triangles].mean(axis=1)
    a, b, c = (chart[triangles[:, k]] for k in range(3))
    doubled = (b[:, 0] - a[:, 0]) * (c[:, 1] - a[:, 1]) - (b[:, 1] - a[:, 1]) * (c[:, 0] - a[:, 0])
    keep = shapely.contains_xy(shape, centre[:, 0], centre[:, 1]) & (np.abs(doubled) > 1e-6)
    turned = doubled < 0
    faces = np.where(turned[:, None], triangles[:, [0, 2, 1]], triangles)
    return np.ascontiguousarray(faces[keep], dtype=np.int32), keep, turned[keep]


def _has_edges(faces: Index, fixed: _Fixed) -> bool:
    """Whether the mesh ends exactly at the rings, and every dart runs along its edges."""
    count = len(fixed.uv) + int(faces.max(initial=0)) + 1
    found = _edge_codes(np.concatenate([faces[:, [0, 1]], faces[:, [1, 2]], faces[:, [2, 0]]]), count)
    unique, counts = np.unique(found, return_counts=True)
    rims = _edge_codes(np.concatenate([np.stack([r, np.roll(r, -1)], axis=1) for r in fixed.rings]), count)
    single = unique[counts == 1]
    if len(single) != len(rims) or not np.isin(rims, single, assume_unique=True).all():
        return False
    paths = [np.stack([path[:-1], path[1:]], axis=1) for path, _ in fixed.paths]
    return not paths or bool(np.isin(_edge_codes(np.concatenate(paths), count), unique[counts == 2]).all())


def _edge_codes(ends: NDArray[np.int32], count: int) -> NDArray[np.int64]:
    """One number for each undirected edge (n, 2) of a mesh of fewer than ``count`` vertices."""
    wide = ends.astype(np.int64)
    return np.asarray(wide.min(axis=1) * count + wide.max(axis=1))


def _rest_lengths(surface: Surface, first: Chart, chart: Array, xyz: Array, faces: Index) -> Array:
    """Side lengths along the surface, from a side's chord L1 and its two half chords L2: (4 L2 - L1) / 3.

    Richardson's step takes the error from second to fourth order: 0.001 mm on 10 mm at 40 mm radius. A side's middle is
    taken on the chart, which is even in mm: by station coordinates it would lie aside wherever stations are unevenly
    spaced, and the side would read too long.
    """
    sides = np.stack([faces[:, [1, 2]], faces[:, [2, 0]], faces[:, [0, 1]]], axis=1).reshape(-1, 2)
    code, back = np.unique(_edge_codes(sides, len(chart)), return_inverse=True)
    one, two = np.divmod(code, len(chart))
    a, middle, b = xyz[one], surface.points(first.uv((chart[one] + chart[two]) / 2)), xyz[two]
    halves = np.linalg.norm(middle - a, axis=1) + np.linalg.norm(b - middle, axis=1)
    length = (4 * halves - np.linalg.norm(b - a, axis=1)) / 3
    return np.asarray(length[back].reshape(-1, 3))


def face_middles(places: Array, faces: Index) -> cKDTree:
    """The middles of a mesh's faces (m, 3) on its places (n, 2), to find those near a point."""
    return cKDTree(places[faces].mean(axis=1))


NEAR_FACES = 10
"""Faces whose middles lie nearest to a point, among which the one that holds it is looked for."""


def on_faces(places: Array, faces: Index, points: Array, middles: cKDTree) -> tuple[NDArray[np.intp], Array]:
    """The face that each point (k, 2) lies on, (k,), and its weights for the face's corners, (k, 3). A point beside the
    mesh goes with the face that it leaves least. No triangulation of the places would do: it fills their hollows with
    slivers from one end of an edge to the other."""
    near = np.atleast_2d(middles.query(points, k=min(NEAR_FACES, len(faces)))[1]).reshape(len(points), -1)
    a, b, c = (places[faces[near][..., k]] for k in range(3))
    one, two, to = b - a, c - a, points[:, None] - a
    area = one[..., 0] * two[..., 1] - one[..., 1] * two[..., 0]
    area = np.where(np.abs(area) < 1e-12, 1e-12, area)
    second = (to[..., 0] * two[..., 1] - to[..., 1] * two[..., 0]) / area
    third = (one[..., 0] * to[..., 1] - one[..., 1] * to[..., 0]) / area
    weights = np.stack([1 - second - third, second, third], axis=-1)
    best = weights.min(axis=-1).argmax(axis=-1)
    rows = np.arange(len(points))
    return np.asarray(near[rows, best]), np.asarray(weights[rows, best])
