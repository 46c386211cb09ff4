"""Panels that came flat, laid on the body: where every place of them lies, and what the foam gives for it."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from vellumcut.core.body.tube import BEYOND
from vellumcut.core.cast.armour import ArmourSurface
from vellumcut.core.design.flat import FlatLie, FlatMate
from vellumcut.core.errors import CraftError
from vellumcut.core.flatten.came_flat import Matched
from vellumcut.core.flatten.solve import RestShape, rest_shape
from vellumcut.core.flatten.strain import recovered_strain
from vellumcut.core.laying.settle import (
    GLUED,
    LAID,
    UPRIGHT,
    Sheets,
    Ties,
    joined_ties,
    least,
    side_holds,
    sides_of,
    spread,
)
from vellumcut.core.laying.start import rolled
from vellumcut.core.laying.table import TablePanel, on_table

Array = NDArray[np.float64]
Index = NDArray[np.int32]

UP = 40.0
"""How far from the point laid down the way up is looked at, mm."""
EVERY = 8.0
"""Steps along glued edges at which they are held on each other, mm."""
EASY = 0.02
"""Mean strain, a share, with which panels lie so well that no other guess of where they begin is tried."""
TURNED_OVER = 0.01
"""Share of a panel's faces that may lie turned over: more, and it does not lie there."""


@dataclass(frozen=True, eq=False)
class LaidPanel:
    """One panel on the body. places: (n, 2) of (around, along) for the mesh's vertices; around runs on past 1.
    rest: the true shapes of its faces there. All on a left limb's tube."""

    panel: TablePanel
    places: Array
    rest: RestShape

    @property
    def number(self) -> int:
        """Of the panel."""
        return self.panel.edged.shape.number

    @cached_property
    def strain(self) -> Array:
        """(m, 2) stretch and squeeze of each face, shares: what foam gives to lie here as it is cut."""
        flat = self.panel.mesh.chart
        return recovered_strain(self.rest.jacobians(flat), self.rest.faces, self.rest.area, len(flat))

    def edge(self, k: int) -> Array:
        """(around, along) along an edge as it is cut, (k, 2)."""
        return np.asarray(self.places[self.panel.edge(k)[0]])

    def on_body(self, points: Array) -> Array:
        """Points as they are cut (k, 2), mm, to (around, along)."""
        return self.panel.mesh.carry(self.panel.here(points), self.places)[0]

    def on_table(self, uv: Array) -> Array:
        """(around, along) (k, 2) to points as they are cut, mm; those beside the panel go with the nearest face, those
        a whole turn on or back are found, too."""
        places, faces = self.places, self.rest.faces[~_over(self.rest.faces, self.places)]
        origin = places[faces[:, 0]]
        sides = np.stack([places[faces[:, 1]] - origin, places[faces[:, 2]] - origin], axis=2)
        turns = np.arange(np.floor(places[:, 0].min()) - 1, np.ceil(places[:, 0].max()) + 2)
        tried = (uv[:, 0] % 1.0)[:, None] + turns
        near = np.stack([tried, np.broadcast_to(uv[:, 1:], tried.shape)], axis=2).reshape(-1, 1, 2)
        share = np.einsum("mij,kmj->kmi", np.linalg.inv(sides), near - origin[None])
        weights = np.concatenate([1 - share.sum(axis=2, keepdims=True), share], axis=2)
        inside = weights.min(axis=2).reshape(len(uv), -1)
        at = inside.argmax(axis=1)
        own = weights.reshape(len(uv), -1, 3)[np.arange(len(uv)), at]
        flat = np.einsum("kc,kcd->kd", own, self.panel.mesh.chart[faces[at % len(faces)]])
        return self.panel.here(flat)


def lay_panels(
    made: Matched, mates: Sequence[FlatMate], lies: Sequence[FlatLie], surface: ArmourSurface, turned: bool
) -> dict[int, LaidPanel]:
    """Those panels that the maker laid on the body, and all that are glued to them, by number. surface: on a left
    limb; its lengths are those of the foam's middle. turned: the panels are for a right one.

    What is asked of the foam is made least in the mean over all panels (lengths of the sides of a mesh as against those
    on the body, weighted by area); glued edges lie on each other, the point that was laid down stays. Raises CraftError
    where they do not lie there without folding over.
    """
    shapes = [edged for edged in made.panels.values() if not edged.shape.object]
    panels = {p.edged.shape.number: p for p in on_table(shapes, turned)}
    starts = rolled(surface, panels, lies, mates, made.factor)
    numbers = list(starts[0])
    if not numbers:
        return {}
    first, before = {}, 0
    for n in numbers:
        first[n] = before
        before += len(panels[n].mesh.chart)
    easy = EASY**2 * sum(float(panels[n].mesh.rest.area.sum()) for n in numbers)
    faces = np.concatenate([panels[n].mesh.rest.faces + first[n] for n in numbers])
    tries: list[tuple[int, float, Sheets, Array]] = []
    for start in starts:
        sheets = _sheets(surface, panels, first, start, mates, lies, made.factor)
        places = least(sheets, np.concatenate([start[n] for n in numbers]))
        over = int(_over(faces, places).sum())
        tries.append((over, float((sheets.misses(places) ** 2).sum()), sheets, places))
        if not over and tries[-1][1] < easy:
            break
    over, _, sheets, places = min(tries, key=lambda row: row[:2])
    even = spread(sheets, places)
    # Where the foam is asked far too much, strain that is spread may turn a face over.
    places = even if int(_over(faces, even).sum()) <= over else places
    return {n: _laid(panels[n], sheets, places, first[n]) for n in numbers}


def _sheets(
    surface: ArmourSurface,
    panels: Mapping[int, TablePanel],
    first: Mapping[int, int],
    start: Mapping[int, Array],
    mates: Sequence[FlatMate],
    lies: Sequence[FlatLie],
    factor: float,
) -> Sheets:
    sides, cut, hold, rounds, count = [], [], [], [], 0
    for n, before in first.items():
        mesh = panels[n].mesh
        faces = mesh.rest.faces
        pairs = np.unique(
            np.sort(np.concatenate([faces[:, [0, 1]], faces[:, [1, 2]], faces[:, [2, 0]]]), axis=1), axis=0
        )
        long = np.linalg.norm(mesh.chart[pairs[:, 0]] - mesh.chart[pairs[:, 1]], axis=1)
        own = sides_of(faces, pairs, len(mesh.chart))
        rounds.append(own + count)
        count += len(pairs)
        hold.append(side_holds(own, mesh.rest.area, long))
        sides.append(pairs + before)
        cut.append(long)
    turn = float(np.mean(surface.tube.station_girths))
    ties = [
        *(_glued(panels, first, start, m, turn) for m in mates if {m.a.panel, m.b.panel} <= set(first)),
        *(t for n in first for t in _closed_darts(panels[n], first[n])),
        *(t for x in lies if x.panel in first for t in _held(surface, panels[x.panel], first[x.panel], x, factor)),
    ]
    vertices = sum(len(panels[n].mesh.chart) for n in first)
    return Sheets(
        surface,
        np.concatenate(sides).astype(np.int32),
        np.concatenate(cut),
        np.concatenate(hold),
        np.concatenate(rounds),
        joined_ties(ties),
        vertices,
    )


def _glued(
    panels: Mapping[int, TablePanel], first: Mapping[int, int], start: Mapping[int, Array], mate: FlatMate, turn: float
) -> Ties:
    """Two edges on each other, a whole turn apart where they close round the body; one that is glued to its own mirror
    image on the middle line, in front or behind."""
    lines = [(panels[key.panel].edge(key.edge), key.panel) for key in (mate.a, mate.b)]
    long = np.mean([at[-1] for (_, at), _ in lines])
    shares = np.linspace(0.0, 1.0, max(3, round(long / EVERY) + 1))
    one, other = (_between(loop, at, shares[::-1] if k else shares) for k, ((loop, at), _) in enumerate(lines))
    a, b = ((start[n][v] * w[..., None]).sum(axis=1) for (v, w), (_, n) in zip((one, other), lines, strict=True))
    if mate.a == mate.b:
        middle = round(float(a[:, 0].mean()) / (turn / 2)) * turn / 2
        return _on_line(one, first[lines[0][1]], middle)
    apart = round(float((a - b)[:, 0].mean()) / turn) * turn
    return _apart(one, other, (first[lines[0][1]], first[lines[1][1]]), apart)


def _closed_darts(panel: TablePanel, before: int) -> list[Ties]:
    """Both legs of every dart on each other, from the tip on."""
    out = []
    for tip in panel.edged.tips:
        (in_loop, in_at), (out_loop, out_at) = panel.edge((tip - 1) % len(panel.edged.edges)), panel.edge(tip)
        shares = np.linspace(0.0, 1.0, max(3, round(float(out_at[-1]) / EVERY) + 1))
        legs = _between(in_loop[::-1], in_at[-1] - in_at[::-1], shares), _between(out_loop, out_at, shares)
        out.append(_apart(*legs, (before, before), 0.0))
    return out


def _between(loop: Index, at: Array, shares: Array) -> tuple[Index, Array]:
    """Which two vertices lie beside places along an edge, and their weights, (k, 2) each."""
    place = shares * at[-1]
    k = np.clip(np.searchsorted(at, place, side="right") - 1, 0, len(at) - 2)
    share = (place - at[k]) / np.maximum(at[k + 1] - at[k], 1e-9)
    return np.stack([loop[k], loop[k + 1]], axis=1).astype(np.int32), np.stack([1 - share, share], axis=1)


def _apart(one: tuple[Index, Array], other: tuple[Index, Array], before: tuple[int, int], around: float) -> Ties:
    count = len(one[0])
    rows = np.repeat(np.arange(count, dtype=np.int32), 2)
    return Ties(
        np.tile(rows, 2),
        np.concatenate([(one[0] + before[0]).ravel(), (other[0] + before[1]).ravel()]),
        np.concatenate([one[1].ravel(), -other[1].ravel()]),
        np.tile([around, 0.0], (count, 1)),
        np.full(count, GLUED),
        np.zeros(count, bool),
    )


def _on_line(one: tuple[Index, Array], before: int, around: float) -> Ties:
    count = len(one[0])
    return Ties(
        np.repeat(np.arange(count, dtype=np.int32), 2),
        (one[0] + before).ravel(),
        one[1].ravel(),
        np.tile([around, 0.0], (count, 1)),
        np.full(count, GLUED),
        np.ones(count, bool),
    )


def _held(surface: ArmourSurface, panel: TablePanel, before: int, lie: FlatLie, factor: float) -> list[Ties]:
    """The point that was laid down where it was, and a point above it above."""
    tube = surface.tube
    at = panel.here(np.array([lie.at]) * (factor, 1.0))
    angle = np.radians(-lie.up if panel.turned else lie.up)
    here, above = (_in_face(panel, p) for p in (at, at + UP * np.array([[np.sin(angle), np.cos(angle)]])))
    place = [lie.around * float(np.mean(tube.station_girths)), float(tube.mm(np.array([lie.along]))[0])]
    none = np.zeros(3, np.int32)
    fixed = Ties(none, here[0] + before, here[1], np.array([place]), np.array([LAID]), np.zeros(1, bool))
    upright = Ties(
        np.zeros(6, np.int32),
        np.concatenate([above[0], here[0]]) + before,
        np.concatenate([above[1], -here[1]]),
        np.zeros((1, 2)),
        np.array([UPRIGHT]),
        np.ones(1, bool),
    )
    return [fixed, upright]


def _in_face(panel: TablePanel, point: Array) -> tuple[Index, Array]:
    """The three vertices about a point (1, 2), or of the face nearest to it, and its weights among them."""
    mesh = panel.mesh
    faces = mesh.rest.faces
    corners = mesh.chart[faces]
    sides = np.stack([corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]], axis=2)
    two = np.einsum("mij,mj->mi", np.linalg.inv(sides), point - corners[:, 0])
    weights = np.concatenate([1 - two.sum(axis=1, keepdims=True), two], axis=1)
    best = int(weights.min(axis=1).argmax())
    return faces[best].astype(np.int32), weights[best]


def _over(faces: Index, places: Array) -> NDArray[np.bool_]:
    """Which faces lie turned over."""
    a, b, c = (places[faces[:, k]] for k in range(3))
    return np.asarray((b - a)[:, 0] * (c - a)[:, 1] - (b - a)[:, 1] * (c - a)[:, 0] <= 0)


def _laid(panel: TablePanel, sheets: Sheets, places: Array, before: int) -> LaidPanel:
    mesh = panel.mesh
    faces, count = mesh.rest.faces, len(mesh.chart)
    own = places[before : before + count]
    low, high = sheets.surface.tube.reach
    past = max(low - float(own[:, 1].min()), float(own[:, 1].max()) - high)
    if past > 0:
        raise CraftError(
            f"Panel {panel.edged.shape.number} reaches {past + BEYOND:.0f} mm past the last measure where it was laid; "
            f"the cast goes on for {BEYOND:.0f} mm: lay it farther in, or it belongs to another part of the body",
            "flat.lies",
        )
    if float(_over(faces, own).mean()) > TURNED_OVER:
        raise CraftError(
            f"Panel {panel.edged.shape.number} folds over itself where it was laid: lay it nearer to where it belongs, "
            "or check which way is up, which edges are glued and the measures",
            "flat.lies",
        )
    at = np.stack([faces[:, [1, 2]], faces[:, [2, 0]], faces[:, [0, 1]]], axis=1).reshape(-1, 2) + before
    around = replace(sheets, sides=at.astype(np.int32)).lengths(places)
    return LaidPanel(panel, sheets.uv(own), rest_shape(faces, around.reshape(-1, 3)))
