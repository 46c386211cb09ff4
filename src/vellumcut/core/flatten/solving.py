"""From an inked panel to its mesh laid flat, each solve started from the nearest that is already solved."""

from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from vellumcut.core.cast.armour import ArmourSurface
from vellumcut.core.flatten.chart import Chart
from vellumcut.core.flatten.mesh import CUT_SIZE, EDIT_SIZE, PanelMesh, Surface, first_chart, mesh_on
from vellumcut.core.flatten.solve import face_strain, flatten_mesh, flatten_near
from vellumcut.core.flatten.strain import StrainSummary, recovered_strain, summarise
from vellumcut.core.ink.darts import without_darts
from vellumcut.core.ink.lines import PanelInk

Array = NDArray[np.float64]

ROUGH_FACES = 320
"""Enough faces to find where everything lies; the finer mesh starts from there."""


@dataclass(frozen=True)
class SolvedPanel:
    """A panel's mesh and where its vertices lie on the table, (n, 2) mm.

    rough: a mesh to try cuts on, with faces as wide as a bulge: there each face's own strain is nearer the truth than
    what is recovered from its neighbours.
    """

    ink: PanelInk
    mesh: PanelMesh
    flat: Array
    rough: bool = False

    @property
    def strain(self) -> Array:
        """(m, 2) stretch and squeeze of each face, shares."""
        if self.rough:
            return face_strain(self.mesh.rest.jacobians(self.flat))
        rest = self.mesh.rest
        return recovered_strain(rest.jacobians(self.flat), rest.faces, rest.area, len(self.flat))

    def summary(self) -> StrainSummary:
        """Strain figures of the panel, per cent."""
        return summarise(self.strain, self.mesh.rest.area, self.mesh.uv[self.mesh.rest.faces].mean(axis=1))


def solve_panel(surface: ArmourSurface, ink: PanelInk, size: float | None) -> SolvedPanel:
    """Flatten one panel on the middle layer of its foam. Raises CraftError.

    A plain shell starts from its sector. Any other starts from a rough mesh of itself without its darts: a slit that
    is cut into a flat panel opens by itself in a few rounds, and from further off creeps (tried, and seen).
    """
    first = first_chart(surface, ink)
    if not ink.drawn and not ink.darts:
        return _solve_shell(surface, first, ink, size)
    return solve_near(surface, first, ink, size, solve_rough(surface, first, ink))


def _solve_shell(surface: ArmourSurface, first: Chart, ink: PanelInk, size: float | None) -> SolvedPanel:
    mesh = mesh_on(surface, first, ink, size)
    return SolvedPanel(ink, mesh, flatten_mesh(mesh.xyz, mesh.rest, mesh.chart))


HARD = 6.5
"""A panel that asks more than this, per cent, is solved on the mesh it is cut from even while it is edited: there the
mesh to edit reads 0.93 of what is cut (seen on poleyns and backplates of eight bodies), half a point low from 7 per
cent on."""
ROUGHLY_HARD = 0.85 * HARD
"""The roughest mesh reads 0.7 to 0.8 of what is cut (seen on plain fronts of four bodies): over this, a panel is
hard."""


def solve_shown(surface: ArmourSurface, ink: PanelInk) -> SolvedPanel:
    """Flatten one panel as it is shown while it is edited: one that is hard as it will be cut. Raises CraftError.

    Where the roughest mesh tells already that it is hard, the mesh between is spared.
    """
    first = first_chart(surface, ink)
    if not ink.drawn and not ink.darts:
        shown = _solve_shell(surface, first, ink, EDIT_SIZE)
        return shown if shown.summary().p95 <= HARD else _solve_shell(surface, first, ink, CUT_SIZE)
    rough = solve_rough(surface, first, ink)
    if ink.darts or rough.summary().p95 <= ROUGHLY_HARD:
        shown = solve_near(surface, first, ink, EDIT_SIZE, rough)
        if shown.summary().p95 <= HARD:
            return shown
    return solve_near(surface, first, ink, CUT_SIZE, rough)


def solve_rough(surface: Surface, first: Chart, ink: PanelInk) -> SolvedPanel:
    """The panel without its darts on a coarse mesh. Raises CraftError."""
    whole = without_darts(ink)
    area = shapely.Polygon(first.flat(np.vstack([line.uv for line in ink.outline]))).area
    mesh = mesh_on(surface, first, whole, float(np.sqrt(area / (np.sqrt(3) / 4) / ROUGH_FACES)))
    return SolvedPanel(whole, mesh, flatten_near(mesh.xyz, mesh.rest, mesh.chart, mesh.chart))


def solve_near(surface: Surface, first: Chart, ink: PanelInk, size: float | None, near: SolvedPanel) -> SolvedPanel:
    """The panel flattened from a solved state of the same outline. Raises CraftError."""
    mesh = mesh_on(surface, first, ink, size)
    start, _ = near.mesh.carry(mesh.chart, near.flat)
    return SolvedPanel(ink, mesh, flatten_near(mesh.xyz, mesh.rest, start, mesh.chart))
