"""One inked panel laid flat: outline, darts, centre line, registration marks and what the foam must give."""

from collections.abc import Callable
from dataclasses import dataclass, field, replace
from functools import cached_property

import numpy as np
import shapely
from numpy.typing import NDArray
from scipy.spatial import cKDTree

from vellumcut.core.cast.armour import ArmourSurface
from vellumcut.core.errors import CraftError
from vellumcut.core.flatten.curvature import gathered_curvature, saddle_share
from vellumcut.core.flatten.curves import FlatEdge, edge_from_vertices
from vellumcut.core.flatten.marks import Mark
from vellumcut.core.flatten.mesh import face_middles, on_faces
from vellumcut.core.flatten.slit import opening_angle
from vellumcut.core.flatten.solving import SolvedPanel, solve_panel
from vellumcut.core.flatten.strain import StrainSummary, vertex_strain
from vellumcut.core.ink.lines import DartInk, PanelInk

Array = NDArray[np.float64]


@dataclass(frozen=True)
class Seam:
    """Edges that meet. Lengths in mm: on the body, and of each side on the flat panels.

    arc: what they share. kind: seam, dart or opening. free: each side's length before the seam was trued. mirrored: it
    has one side here, which meets its own mirror image.
    """

    name: str
    on_body: float
    side_a: float
    side_b: float
    arc: str = ""
    kind: str = "seam"
    free: tuple[float, float] = (0.0, 0.0)
    marks: int = 0
    mirrored: bool = False

    @property
    def mismatch(self) -> float:
        """Difference of its sides, mm."""
        return abs(self.side_a - self.side_b)

    @property
    def free_mismatch(self) -> float:
        """The same before the seam was trued, mm."""
        return abs(self.free[0] - self.free[1])


@dataclass(frozen=True)
class FlatDart:
    """A dart that has opened. key: of its stroke. intake: width at the mouth, mm; below zero where its sides lie over
    each other. angle: between its legs; curvature: of the body gathered round it, None where that is not known; both in
    degrees.

    left, right: lengths of its legs, mm. tip, mouth: places on the flat panel, mm; tip_uv, mouth_uv: on the body.
    """

    key: str
    name: str
    intake: float
    angle: float
    curvature: float | None
    left: float
    right: float
    tip: Array
    mouth: Array
    tip_uv: Array
    mouth_uv: Array


@dataclass(frozen=True)
class FlatLine:
    """A line on a flat panel that bounds nothing. points: (k, 2) mm. key: of the stroke it was drawn with.
    words: what is done along it, for paper."""

    kind: str
    name: str
    points: Array
    key: str = ""
    words: str = ""

    @property
    def length(self) -> float:
        """mm."""
        return float(np.linalg.norm(np.diff(self.points, axis=0), axis=1).sum())


FOLD = "fold"
"""Kind of the edge along which the paper is folded: the foam has none there."""


@dataclass(frozen=True)
class FlatPanel:
    """A panel on the table, in mm, y up the limb. face: which face of the foam the drawing shows.

    edges: all round, the legs of darts among them. holes: edges of what is cut out of it.
    vertices: (n, 2). faces: (m, 3). strain: (n,) signed per cent. uv: (n, 2) where they lie on the body.
    centre: (k, 2) centre line. free_p95: what the foam had to give before seams were trued, per cent.
    saddle: share of the body's curvature inside it that is saddle-shaped, 0 to 1. lines: those inside it.
    """

    number: int
    face: str
    edges: tuple[FlatEdge, ...]
    centre: Array
    marks: tuple[Mark, ...]
    seams: tuple[Seam, ...]
    summary: StrainSummary
    vertices: Array
    faces: NDArray[np.int32]
    strain: Array
    holes: tuple[FlatEdge, ...] = ()
    darts: tuple[FlatDart, ...] = ()
    uv: Array = field(default_factory=lambda: np.zeros((0, 2)))
    free_p95: float = 0.0
    saddle: float = 0.0
    lines: tuple[FlatLine, ...] = ()

    @property
    def overlaps(self) -> bool:
        """Whether the flat panel lies over itself and cannot be cut in one."""
        return not self.shape.is_valid

    @cached_property
    def shape(self) -> shapely.Polygon:
        """The flat panel as a polygon with its holes, mm."""
        return shapely.Polygon(self.outline, self.hole_rings)

    @cached_property
    def outline(self) -> Array:
        """Closed outline as points about 1 mm apart, first not repeated, (k, 2)."""
        return np.vstack([e.points()[:-1] for e in self.edges])

    @property
    def rings(self) -> list[list[FlatEdge]]:
        """Edges in closed rings: the outline, then each hole."""
        out = [list(self.edges)]
        for edge in self.holes:
            ring = out[-1]
            if len(out) == 1 or np.allclose(ring[-1].knots[-1], ring[0].knots[0]):
                out.append([])
            out[-1].append(edge)
        return out

    @cached_property
    def hole_rings(self) -> list[Array]:
        """Closed lines round what is cut out, as points about 1 mm apart, first not repeated."""
        return [np.vstack([e.points()[:-1] for e in ring]) for ring in self.rings[1:]]

    @property
    def cut_rings(self) -> list[list[FlatEdge]]:
        """What the knife follows: the outline and each hole. All close, but for one that lies on a fold of the
        paper."""
        return [[e for e in ring if e.kind != FOLD] for ring in self.rings]

    @property
    def cut_lines(self) -> list[Array]:
        """The same as points about 1 mm apart, ends included, (k, 2) each."""
        return [np.vstack([*(e.points()[:-1] for e in ring), ring[-1].points()[-1:]]) for ring in self.cut_rings]

    @property
    def outline_length(self) -> float:
        """Length of the cut all round and round the holes, mm."""
        return sum(e.length for ring in self.cut_rings for e in ring)

    @property
    def area(self) -> float:
        """mm2."""
        return float(self.shape.area)

    def edge(self, name: str) -> FlatEdge:
        """The edge of that name. Raises StopIteration."""
        return next(e for e in self.edges if e.name == name)

    def carry(self, uv: Array) -> Array:
        """Where places of the body (n, 2) lie on the flat panel, (n, 2) mm; those beside it go with the nearest."""
        at, weights = on_faces(self.uv, self.faces, uv, self._near_uv)
        return np.asarray(np.einsum("nk,nkd->nd", weights, self.vertices[self.faces[at]]))

    @cached_property
    def _near_uv(self) -> cKDTree:
        return face_middles(self.uv, self.faces)

    def flip(self, points: Array) -> Array:
        """Where points of this panel, (..., 2) mm, lie on its mirror image."""
        width = self.outline[:, 0].min() + self.outline[:, 0].max()
        return np.asarray(points * [-1, 1] + [width, 0])

    def mirrored(self) -> "FlatPanel":
        """The twin for the other side, or the same panel seen on its other face. Twice is the panel itself."""
        return replace(self.carried_by(self.flip), faces=np.ascontiguousarray(self.faces[:, ::-1]))

    def carried_by(self, way: Callable[[Array], Array]) -> "FlatPanel":
        """The panel with everything drawn on it taken elsewhere, without a change of size. way: of points (..., 2)
        mm."""

        def taken(edges: tuple[FlatEdge, ...]) -> tuple[FlatEdge, ...]:
            return tuple(replace(e, knots=way(e.knots)) for e in edges)

        return replace(
            self,
            edges=taken(self.edges),
            holes=taken(self.holes),
            centre=way(self.centre),
            marks=tuple(replace(m, lines=way(m.lines)) for m in self.marks),
            darts=tuple(replace(d, tip=way(d.tip), mouth=way(d.mouth)) for d in self.darts),
            lines=tuple(replace(x, points=way(x.points)) for x in self.lines),
            vertices=way(self.vertices),
        )


def flatten_panel(surface: ArmourSurface, ink: PanelInk, size: float | None) -> FlatPanel:
    """Flatten one panel on the middle layer of its foam, drawn as its outer face. size: of the mesh, mm, or EDIT_SIZE.

    Raises CraftError when it cannot lie flat without folding or overlapping itself.
    """
    return draw_panel(solve_panel(surface, ink, size))


def draw_panel(solved: SolvedPanel) -> FlatPanel:
    """The panel's smooth edges, upright on the table; marks and seams come when panels are joined. Raises
    CraftError."""
    ink, mesh = solved.ink, solved.mesh
    carried, inside = mesh.carry(mesh.unroll.flat(ink.centre.uv), solved.flat)
    turn, corner = _upright(solved.flat, carried[inside])
    flat, centre = solved.flat @ turn - corner, carried[inside] @ turn - corner
    lines = (*ink.outline, *ink.holes)
    names = part_names(ink)
    edges = [
        edge_from_vertices(name, line.kind, flat[loop], at, mesh.uv[loop, 1], line.arc, line.forward)
        for name, line, loop, at in zip(names, lines, mesh.loops, mesh.steps, strict=True)
    ]
    legs = _legs(solved, flat)
    faces, area = mesh.rest.faces, mesh.rest.area
    count = len(ink.outline)
    panel = FlatPanel(
        number=ink.number,
        face="outer",
        edges=_with_legs(edges[:count], ink, legs),
        centre=centre,
        marks=(),
        seams=(),
        summary=solved.summary(),
        vertices=flat,
        faces=faces,
        strain=vertex_strain(solved.strain, faces, area, len(flat)),
        holes=tuple(edges[count:]),
        darts=_darts(solved, flat, legs),
        uv=mesh.uv,
        saddle=saddle_share(solved.mesh),
        lines=tuple(replace(x, points=x.points @ turn - corner) for x in _lines_inside(solved)),
    )
    if not ink.drawn and not ink.darts and panel.overlaps:
        raise CraftError("The flat panel overlaps itself; open the back wider or make the piece shorter", "design.gap")
    return panel


def part_names(ink: PanelInk) -> list[str]:
    """Names of the outline's lines and of those round holes; parts of a line that darts have parted are numbered."""
    return _told_apart([line.name for line in (*ink.outline, *ink.holes)], "part ")


def leg_names(ink: PanelInk) -> list[tuple[str, str]]:
    """Names of both legs of every dart; darts of one name are numbered."""
    return [(f"{n}, first leg", f"{n}, second leg") for n in _told_apart([d.name for d in ink.darts], "")]


def _told_apart(names: list[str], word: str) -> list[str]:
    return [n if names.count(n) == 1 else f"{n}, {word}{names[: k + 1].count(n)}" for k, n in enumerate(names)]


def dart_arc(dart: DartInk) -> str:
    """What the two legs of a dart share."""
    return leg_arc(dart.key)


def leg_arc(key: str) -> str:
    """The same, by the dart's key."""
    return f"dart {key}"


def _legs(solved: SolvedPanel, flat: Array) -> list[tuple[FlatEdge, FlatEdge]]:
    out = []
    for (first, second), dart, slit in zip(leg_names(solved.ink), solved.ink.darts, solved.mesh.slits, strict=True):
        along, arc = solved.mesh.uv[slit.left, 1], dart_arc(dart)
        back = slit.steps[-1] - slit.steps[::-1]
        out.append((
            edge_from_vertices(first, "dart", flat[slit.left], slit.steps, along, arc),
            edge_from_vertices(second, "dart", flat[slit.right[::-1]], back, along[::-1], arc, False),
        ))  # fmt: skip
    return out


def _with_legs(edges: list[FlatEdge], ink: PanelInk, legs: list[tuple[FlatEdge, FlatEdge]]) -> tuple[FlatEdge, ...]:
    out: list[FlatEdge] = []
    for k, edge in enumerate(edges):
        out.append(edge)
        for dart, pair in zip(ink.darts, legs, strict=True):
            if dart.after == k:
                out += pair
    return tuple(out)


def _darts(solved: SolvedPanel, flat: Array, legs: list[tuple[FlatEdge, FlatEdge]]) -> tuple[FlatDart, ...]:
    gathered = gathered_curvature(solved.mesh)
    out = []
    for k, (dart, slit) in enumerate(zip(solved.ink.darts, solved.mesh.slits, strict=True)):
        left, right = flat[slit.left], flat[slit.right]
        angle = opening_angle(left, right)
        intake = float(np.linalg.norm(left[0] - right[0])) * (1 if angle >= 0 else -1)
        mouth = (left[0] + right[0]) / 2
        a, b = legs[k]
        figures = (intake, float(np.degrees(angle)), float(np.degrees(gathered[k])), a.length, b.length)
        out.append(FlatDart(dart.key, dart.name, *figures, left[-1], mouth, dart.uv[-1], dart.uv[0]))
    return tuple(out)


TORN = 3.0
"""A line whose step is this many times longer on the table than on the chart runs over a dart, which opens there."""


def _lines_inside(solved: SolvedPanel) -> list[FlatLine]:
    """Where the panel's inner lines lie on the mesh laid flat; each ends at a dart and goes on behind it."""
    lines = solved.ink.inside
    if not lines:
        return []
    # All at once: a panel under scales has hundreds.
    everywhere = solved.mesh.unroll.flat(np.vstack([line.uv for line in lines]))
    carried, inside = solved.mesh.carry(everywhere, solved.flat)
    ends = np.cumsum([len(line.uv) for line in lines])[:-1]
    out = []
    parted = (np.split(x, ends) for x in (everywhere, carried, inside))
    for line, all_chart, all_flat, on in zip(lines, *parted, strict=True):
        chart, flat = all_chart[on], all_flat[on]
        steps = np.linalg.norm(np.diff(flat, axis=0), axis=1)
        torn = np.flatnonzero(steps > TORN * np.linalg.norm(np.diff(chart, axis=0), axis=1) + 1e-6) + 1
        out += [FlatLine(line.kind, line.name, part, line.key) for part in np.split(flat, torn) if len(part) > 1]
    return out


def _upright(flat: Array, centre: Array) -> tuple[Array, Array]:
    """A turn (2, 2) after which the centre line stands vertical, and the corner that then comes to zero, mm."""
    way = centre[-1] - centre[0]
    angle = np.arctan2(way[0], way[1])
    turn = np.array([[np.cos(angle), np.sin(angle)], [-np.sin(angle), np.cos(angle)]])
    return turn, (flat @ turn).min(axis=0)
