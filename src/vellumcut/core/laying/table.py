"""A panel on the table, meshed as any other panel is: what lies flat is a surface, too."""

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from vellumcut.core.flatten.came_flat import PUNCHED, EdgedShape
from vellumcut.core.flatten.mesh import PanelMesh, mesh_on
from vellumcut.core.ink.lines import InkLine, PanelInk

Array = NDArray[np.float64]

FACES = 1800
"""Triangles of all panels together, about: enough to read folds from, and solved within a second."""
SIZES = 6.0, 14.0
"""Triangle edge, mm."""


class _Table:
    """Its places are its points, and its first unrolling is itself."""

    def points(self, uv: Array) -> Array:
        return np.column_stack([uv, np.zeros(len(uv))])

    def flat(self, uv: Array) -> Array:
        return uv

    def uv(self, flat: Array) -> Array:
        return flat


@dataclass(frozen=True, eq=False)
class TablePanel:
    """A panel with its mesh, seen from its outer face as it lies on a left limb. ``mesh.chart``: (n, 2) mm, as cut.

    turned: whether it is the mirror image of what is cut. Then its edges run the other way round, last first.
    """

    edged: EdgedShape
    mesh: PanelMesh
    turned: bool

    def edge(self, k: int) -> tuple[NDArray[np.int32], Array]:
        """Vertices along an edge as it is cut, by its number there, (k,), and mm along it."""
        count = len(self.edged.edges)
        n = count - 1 - k if self.turned else k
        loop, at = self.mesh.loops[n], self.mesh.steps[n]
        return (loop[::-1], at[-1] - at[::-1]) if self.turned else (loop, at)

    def here(self, points: Array) -> Array:
        """Points as they are cut (k, 2), on this panel."""
        return points * [-1.0, 1.0] if self.turned else points


def on_table(shapes: list[EdgedShape], turned: bool) -> list[TablePanel]:
    """Panels with their meshes. turned: they are for a right limb, and lie mirrored on a left one. Raises CraftError
    for one that is too thin to be meshed."""
    area = sum(s.area for s in shapes)
    size = float(np.clip(np.sqrt(area / (np.sqrt(3) / 4) / FACES), *SIZES))
    return [_meshed(s, size, turned) for s in shapes]


def _meshed(edged: EdgedShape, size: float, turned: bool) -> TablePanel:
    seen = _mirrored(edged) if turned else edged
    holes = [h for h in seen.holes if float(np.ptp(h, axis=0).max()) > PUNCHED]
    ink = PanelInk(
        edged.shape.number,
        tuple(InkLine("outline", str(k), e) for k, e in enumerate(seen.edges)),
        InkLine("centre line", "up", seen.edges[0]),
        drawn=True,
        holes=tuple(InkLine("outline", "hole", np.vstack([h, h[:1]])[::-1]) for h in holes),
    )
    return TablePanel(edged, mesh_on(_Table(), _Table(), ink, size), turned)


def _mirrored(edged: EdgedShape) -> EdgedShape:
    edges = tuple((e * [-1.0, 1.0])[::-1] for e in reversed(edged.edges))
    return replace(edged, edges=edges, holes=tuple((h * [-1.0, 1.0])[::-1] for h in edged.holes))
