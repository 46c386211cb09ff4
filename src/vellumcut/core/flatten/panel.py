"""One inked panel laid flat: outline, centre line, registration marks and what the foam must give."""

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
import shapely
from numpy.typing import NDArray

from vellumcut.core.cast.armour import ArmourSurface
from vellumcut.core.errors import CraftError
from vellumcut.core.flatten.curves import FlatEdge, edge_from_vertices
from vellumcut.core.flatten.marks import Mark, mark_edge, mark_seam
from vellumcut.core.flatten.mesh import PanelMesh, mesh_panel
from vellumcut.core.flatten.solve import face_strain, flatten_mesh
from vellumcut.core.flatten.strain import StrainSummary, summarise, vertex_strain
from vellumcut.core.ink.lines import InkLine, PanelInk

Array = NDArray[np.float64]

CLOSING = ("closing edge A", "closing edge B")


@dataclass(frozen=True)
class Seam:
    """Two edges that meet. Lengths in mm: on the body, and of each side on the flat panel."""

    name: str
    on_body: float
    side_a: float
    side_b: float

    @property
    def mismatch(self) -> float:
        return abs(self.side_a - self.side_b)


@dataclass(frozen=True)
class FlatPanel:
    """A panel on the table, in mm, y up the limb. face: which face of the foam the drawing shows.

    vertices: (n, 2). faces: (m, 3). strain: (n,) signed per cent. centre: (k, 2) centre line.
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

    @property
    def overlaps(self) -> bool:
        """Whether the flat panel lies over itself and cannot be cut in one."""
        return not shapely.Polygon(self.outline).is_valid

    @cached_property
    def outline(self) -> Array:
        """Closed outline as points about 1 mm apart, first not repeated, (k, 2)."""
        return np.vstack([e.points()[:-1] for e in self.edges])

    @property
    def outline_length(self) -> float:
        """Length of the cut all round, mm."""
        return sum(e.length for e in self.edges)

    @property
    def area(self) -> float:
        """mm2."""
        return float(shapely.Polygon(self.outline).area)

    def edge(self, name: str) -> FlatEdge:
        return next(e for e in self.edges if e.name == name)

    def mirrored(self) -> "FlatPanel":
        """The twin for the other side, or the same panel seen on its other face. Twice is the panel itself."""
        width = self.outline[:, 0].min() + self.outline[:, 0].max()

        def flip(points: Array) -> Array:
            return np.asarray(points * [-1, 1] + [width, 0])

        return replace(
            self,
            edges=tuple(replace(e, knots=flip(e.knots)) for e in self.edges),
            centre=flip(self.centre),
            marks=tuple(replace(m, lines=flip(m.lines)) for m in self.marks),
            vertices=flip(self.vertices),
            faces=np.ascontiguousarray(self.faces[:, ::-1]),
        )


def flatten_panel(surface: ArmourSurface, ink: PanelInk, size: float | None) -> FlatPanel:
    """Flatten one panel on the middle layer of its foam, drawn as its outer face. size: of the mesh, mm, or EDIT_SIZE.

    Raises CraftError when it cannot lie flat without folding or overlapping itself.
    """
    mesh = mesh_panel(surface, ink, size)
    flat = flatten_mesh(mesh.xyz, mesh.rest, mesh.chart, far=ink.drawn)
    flat, centre = _stand_upright(flat, _on_flat(mesh, flat, ink.centre))
    edges = tuple(
        edge_from_vertices(line.name, line.kind, flat[loop], at, mesh.uv[loop, 1], line.arc)
        for line, loop, at in zip(ink.outline, mesh.loops, mesh.steps, strict=True)
    )
    faces, area = mesh.rest.faces, mesh.rest.area
    strain = face_strain(mesh.rest.jacobians(flat))
    panel = FlatPanel(
        number=ink.number,
        face="outer",
        edges=edges,
        centre=centre,
        marks=() if ink.drawn else tuple(_marks(edges)),
        seams=() if ink.drawn else _seams(edges),
        summary=summarise(strain, area, mesh.uv[faces].mean(axis=1)),
        vertices=flat,
        faces=faces,
        strain=vertex_strain(strain, faces, area, len(flat)),
    )
    if not ink.drawn and panel.overlaps:
        raise CraftError("The flat panel overlaps itself; open the back wider or make the piece shorter", "design.gap")
    return panel


def _on_flat(mesh: PanelMesh, flat: Array, line: InkLine) -> Array:
    """Carry an ink line on to the flat panel by the triangles it crosses; (k, 2) mm."""
    chart = mesh.unroll.flat(line.uv)
    triangle = mesh.locator.find_simplex(chart)
    inside = triangle >= 0
    affine = mesh.locator.transform[triangle[inside]]
    two = np.einsum("nij,nj->ni", affine[:, :2], chart[inside] - affine[:, 2])
    weights = np.concatenate([two, 1 - two.sum(axis=1, keepdims=True)], axis=1)
    return np.asarray(np.einsum("nk,nkd->nd", weights, flat[mesh.locator.simplices[triangle[inside]]]))


def _stand_upright(flat: Array, centre: Array) -> tuple[Array, Array]:
    """Turn so the centre line stands vertical, then move to the positive quarter."""
    way = centre[-1] - centre[0]
    angle = np.arctan2(way[0], way[1])
    turn = np.array([[np.cos(angle), np.sin(angle)], [-np.sin(angle), np.cos(angle)]])
    turned, line = flat @ turn, centre @ turn
    corner = turned.min(axis=0)
    return turned - corner, line - corner


def _marks(edges: tuple[FlatEdge, ...]) -> list[Mark]:
    by_name = {e.name: e for e in edges}
    marks = mark_seam(by_name[CLOSING[1]], by_name[CLOSING[0]])
    for edge in edges:
        if edge.name in ("lower edge", "upper edge"):
            marks += mark_edge(edge, [edge.body_length / 2], [1])
    return marks


def _seams(edges: tuple[FlatEdge, ...]) -> tuple[Seam, ...]:
    a, b = (next(e for e in edges if e.name == name) for name in CLOSING)
    return (Seam("closing", (a.body_length + b.body_length) / 2, a.length, b.length),)


def join_panels(panels: list[FlatPanel]) -> list[FlatPanel]:
    """Pair the seams of drawn panels: equal marks on both sides, and each seam's lengths kept with one panel.

    A seam with one side here meets its own mirror image, which is cut by turning the pattern over.
    """
    sides: dict[str, list[tuple[int, FlatEdge]]] = {}
    for k, panel in enumerate(panels):
        for edge in panel.edges:
            if edge.kind == "seam":
                sides.setdefault(edge.arc, []).append((k, edge))
    marks: list[list[Mark]] = [list(p.marks) for p in panels]
    seams: list[list[Seam]] = [list(p.seams) for p in panels]
    for pair in sides.values():
        (first, a), (second, b) = pair[0], pair[-1]
        paired = mark_seam(a, b)
        marks[first] += list(paired[: len(paired) // 2])
        if len(pair) > 1:
            marks[second] += list(paired[len(paired) // 2 :])
        seams[first].append(Seam(a.name, (a.body_length + b.body_length) / 2, a.length, b.length))
    return [replace(p, marks=tuple(m), seams=tuple(s)) for p, m, s in zip(panels, marks, seams, strict=True)]
