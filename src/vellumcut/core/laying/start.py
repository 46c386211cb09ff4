"""Where panels lie first: side by side as paper is taped together, then rolled round the body."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from vellumcut.core.cast.armour import ArmourSurface
from vellumcut.core.design.flat import FlatLie, FlatMate
from vellumcut.core.flatten.chart import fit_chart
from vellumcut.core.laying.table import TablePanel

Array = NDArray[np.float64]

SHARES = np.linspace(0.0, 1.0, 9)
LEVELS = 60
FITS = 4


@dataclass(frozen=True)
class Moved:
    """A turn (2, 2) and a move (2,), mm."""

    turn: Array
    by: Array

    def __call__(self, points: Array) -> Array:
        return np.asarray(points @ self.turn.T + self.by)


def rolled(
    surface: ArmourSurface, panels: dict[int, TablePanel], lies: Sequence[FlatLie], mates: Sequence[FlatMate],
    factor: float,
) -> list[dict[int, Array]]:  # fmt: skip
    """Where each panel's vertices may lie first, (n, 2) of mm around and mm along, by number; of those that are laid
    and of all that are glued to them, over any number of seams. More than one guess: a limb is nearly a cone, a trunk
    is none."""
    taped: dict[int, tuple[Moved, FlatLie]] = {
        lie.panel: (_laid(panels[lie.panel], lie, factor), lie) for lie in lies if lie.panel in panels
    }
    while pair := _next(panels, mates, taped):
        known, other, mate = pair
        move, lie = taped[known]
        taped[other] = move_to_fit(panels, mate, known, other, move), lie
    turn = np.array([float(np.mean(surface.tube.station_girths)), 1.0])
    flats = {n: move(panels[n].mesh.chart) for n, (move, _) in taped.items()}
    return [{n: roll(surface, flats[n], lie) * turn for n, (_, lie) in taped.items()} for roll in (_cone, _level)]


def _laid(panel: TablePanel, lie: FlatLie, factor: float) -> Moved:
    """Its point at zero, its way up upright."""
    at = panel.here(np.array([lie.at]) * (factor, 1.0))[0]
    angle = np.radians(-lie.up if panel.turned else lie.up)
    turn = np.array([[np.cos(angle), -np.sin(angle)], [np.sin(angle), np.cos(angle)]])
    return Moved(turn, -turn @ at)


def _next(
    panels: dict[int, TablePanel], mates: Sequence[FlatMate], taped: dict[int, tuple[Moved, FlatLie]]
) -> tuple[int, int, FlatMate] | None:
    """The longest seam from a panel that lies to one that does not."""
    found = [
        (float(panels[one].edge(mate.a.edge if one == mate.a.panel else mate.b.edge)[1][-1]), one, other, mate)
        for mate in mates
        for one, other in ((mate.a.panel, mate.b.panel), (mate.b.panel, mate.a.panel))
        if one in taped and other in panels and other not in taped
    ]
    return max(found, key=lambda row: row[0])[1:] if found else None


def move_to_fit(panels: dict[int, TablePanel], mate: FlatMate, known: int, other: int, move: Moved) -> Moved:
    """How a panel is moved so that its edge lies on that of one that lies already (Kabsch, 1976)."""
    mine, theirs = (mate.a, mate.b) if mate.a.panel == known else (mate.b, mate.a)
    there = move(_along(panels[known], mine.edge, SHARES))
    here = _along(panels[other], theirs.edge, SHARES[::-1])
    a, b = here - here.mean(axis=0), there - there.mean(axis=0)
    u, _, vt = np.linalg.svd(a.T @ b)
    flip = np.diag([1.0, np.sign(np.linalg.det(vt.T @ u.T))])
    turn = vt.T @ flip @ u.T
    return Moved(turn, there.mean(axis=0) - turn @ here.mean(axis=0))


def _along(panel: TablePanel, edge: int, shares: Array) -> Array:
    loop, at = panel.edge(edge)
    points = panel.mesh.chart[loop]
    return np.stack([np.interp(shares * at[-1], at, points[:, k]) for k in (0, 1)], axis=1)


def _level(surface: ArmourSurface, flat: Array, lie: FlatLie) -> Array:
    """Rolled up level by level from the point that was laid down, as a trunk is wrapped: (n, 2) mm."""
    tube = surface.tube
    mm = float(tube.mm(np.array([lie.along]))[0]) + flat[:, 1]
    levels = np.linspace(*tube.reach, LEVELS)
    girth = np.interp(mm, levels, surface.girth(tube.along(levels)))
    return np.stack([lie.around + flat[:, 0] / girth, mm], axis=1)


def _cone(surface: ArmourSurface, flat: Array, lie: FlatLie) -> Array:
    """Rolled up as a cone that fits the body there, from the point that was laid down: (n, 2) mm."""
    tube = surface.tube
    level = float(tube.mm(np.array([lie.along]))[0])
    ends = level + np.array([flat[:, 1].min(), flat[:, 1].max()])
    for _ in range(FITS):
        cone = fit_chart(surface, *(float(x) for x in np.clip(ends, *tube.reach)))
        here = flat + cone.flat(np.array([[0.0, lie.along]]))
        # A bent strip reaches less far up and down the cone than it does on the table.
        up = np.hypot(here[:, 0], here[:, 1] + cone.radius) * np.sign(cone.taper)
        ends = (
            level
            + np.array([up.min(), up.max()])
            - np.hypot(*(here - flat + [0.0, cone.radius])[0]) * np.sign(cone.taper)
        )
    uv = cone.uv(here)
    return np.stack([lie.around + uv[:, 0], tube.mm(uv[:, 1])], axis=1)
