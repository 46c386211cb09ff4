"""Panels settled on the body: as near as can be to the lengths they were cut in, glued edges on each other."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_matrix, diags, vstack
from scipy.sparse.linalg import splu

from vellumcut.core.body.tube import lengths
from vellumcut.core.cast.armour import ArmourSurface
from vellumcut.core.flatten.solve import EVEN_ROUNDS, STRAIN_FLOOR

Array = NDArray[np.float64]
Index = NDArray[np.int32]

ROUNDS = 60
STILL, ENOUGH = 0.03, 1e-5
"""A round in which no vertex moves farther, mm, or no more than this share is won is the last."""
FARTHEST = 20.0
"""No vertex moves farther in one round, mm."""
GLUED, LAID, UPRIGHT = 20.0, 8.0, 0.2
"""How hard a glued edge, the point that the maker laid down and the way up that was given are held to, against a
strain of 1 over 1 mm2. The way up hardly counts where seams or a cone say otherwise."""
STEP = 0.4
"""Of a numeric derivative, mm."""


@dataclass(frozen=True)
class Ties:
    """Weighted sums of vertices that have to come to a value, both ways alike. rows, vertices, weights: (k,) each;
    values: (r, 2) mm around and along; hold: (r,). only: (r,) 1 where the way along does not count."""

    rows: Index
    vertices: Index
    weights: Array
    values: Array
    hold: Array
    only: NDArray[np.bool_]


@dataclass(frozen=True, eq=False)
class Sheets:
    """All panels as one mesh. sides: (e, 2) vertices; cut: (e,) mm on the table; hold: (e,), the root of the area that
    each stands for over its length. rounds: (m, 3) sides round every face."""

    surface: ArmourSurface
    sides: Index
    cut: Array
    hold: Array
    rounds: Index
    ties: Ties
    count: int

    @cached_property
    def turn(self) -> float:
        """mm once round, of the plane on which places are told."""
        return float(np.mean(self.surface.tube.station_girths))

    def uv(self, places: Array) -> Array:
        """(n, 2) mm around and along -> (around, along)."""
        low, high = self.surface.tube.reach
        along = self.surface.tube.along(np.clip(places[:, 1], low, high))
        return np.stack([places[:, 0] / self.turn, along], axis=1)

    def on_body(self, places: Array) -> Array:
        """(n, 3) mm."""
        return self.surface.points(self.uv(places))

    def lengths(self, places: Array) -> Array:
        """Sides along the surface, (e,) mm: their chords, and what the body turns between their ends (an arc of angle
        ``a`` is a/2 / sin(a/2) times as long as its chord)."""
        return self._measured(places, self.on_body(places))[0]

    def _measured(self, places: Array, points: Array) -> tuple[Array, Array]:
        one, two = self.sides.T
        normal = self.surface.tube.frame(*self.uv(places).T)[1]
        half = np.arcsin(np.clip(lengths(normal[one] - normal[two]) / 2, 0.0, 0.9))
        arc = np.where(half > 1e-6, half / np.sin(np.maximum(half, 1e-6)), 1.0)
        return lengths(points[one] - points[two]) * arc, arc

    def misses(self, places: Array) -> Array:
        """What is minimised is the sum of its squares."""
        tied = self._tied @ places.ravel() - self._wanted
        return np.concatenate([self.hold * (self.lengths(places) - self.cut), tied])

    def round(self, places: Array, damp: float) -> Array:
        """One step of Gauss and Newton, damped (Levenberg and Marquardt), (n, 2) mm."""
        points = self.on_body(places)
        around = (self.on_body(places + [STEP, 0.0]) - points) / STEP
        along = (self.on_body(places + [0.0, STEP]) - points) / STEP
        length, arc = self._measured(places, points)
        one, two = self.sides.T
        way = (points[one] - points[two]) / np.maximum(lengths(points[one] - points[two]), 1e-9)[:, None]
        scale = (self.hold * arc)[:, None]
        parts = [sign * (way * d[v]).sum(axis=1) for sign, v in ((1, one), (-1, two)) for d in (around, along)]
        values = (np.stack(parts, axis=1) * scale).ravel()
        columns = np.stack([2 * one, 2 * one + 1, 2 * two, 2 * two + 1], axis=1).ravel()
        rows = np.repeat(np.arange(len(one)), 4)
        slopes = vstack([csr_matrix((values, (rows, columns)), (len(one), 2 * self.count)), self._tied])
        miss = np.concatenate([self.hold * (length - self.cut), self._tied @ places.ravel() - self._wanted])
        normal = (slopes.T @ slopes).tocsc()
        damped = normal + diags(damp * normal.diagonal() + 1e-9).tocsc()
        step = splu(damped).solve(-(slopes.T @ miss)).reshape(-1, 2)
        return np.asarray(step * min(1.0, FARTHEST / max(1e-9, float(np.abs(step).max()))))

    @cached_property
    def _tied(self) -> csr_matrix:
        t, r = self.ties, len(self.ties.values)
        held = self.ties.weights * t.hold[t.rows]
        both = [(2 * t.rows, 2 * t.vertices, held), (2 * t.rows + 1, 2 * t.vertices + 1, held * ~t.only[t.rows])]
        rows, columns, values = (np.concatenate(x) for x in zip(*both, strict=True))
        return csr_matrix((values, (rows, columns)), (2 * r, 2 * self.count))

    @cached_property
    def _wanted(self) -> Array:
        held = np.stack([self.ties.hold, self.ties.hold * ~self.ties.only], axis=1)
        return np.asarray((self.ties.values * held).ravel())


def least(sheets: Sheets, start: Array, rounds: int = ROUNDS) -> Array:
    """Places (n, 2), mm around and along, with the least strain in the mean, from where they nearly lie."""
    places, damp = start, 1e-3
    energy = float((sheets.misses(places) ** 2).sum())
    for _ in range(rounds):
        step = sheets.round(places, damp)
        tried = float((sheets.misses(places + step) ** 2).sum())
        if tried > energy:
            damp *= 8
            if damp > 1e4:
                break
            continue
        easy = energy - tried < ENOUGH * energy
        places, energy, damp = places + step, tried, max(damp / 4, 1e-9)
        if easy or float(np.abs(step).max()) < STILL:
            break
    return places


def spread(sheets: Sheets, places: Array) -> Array:
    """The same with the strain spread, as a flat panel's is: foam gives first where most is asked
    (docs/decisions/0004)."""
    weight = np.ones(len(sheets.rounds))
    faces = np.maximum(np.bincount(sheets.rounds.ravel(), minlength=len(sheets.sides)), 1)
    for _ in range(EVEN_ROUNDS):
        asked = np.abs(sheets.lengths(places) / sheets.cut - 1.0)[sheets.rounds].max(axis=1) + STRAIN_FLOOR
        weight = 0.5 * weight + 0.5 * np.clip(asked / asked.mean(), 0.1, 8.0) ** 3
        held = np.bincount(sheets.rounds.ravel(), np.repeat(weight, 3), len(sheets.sides)) / faces
        places = least(replace(sheets, hold=sheets.hold * np.sqrt(held)), places, 2)
    return places


def sides_of(faces: Index, sides: Index, count: int) -> Index:
    """Which sides (e, 2) of a mesh go round each of its faces (m, 3), (m, 3). count: of its vertices."""
    around = np.stack([faces[:, [1, 2]], faces[:, [2, 0]], faces[:, [0, 1]]], axis=1)
    codes, own = np.sort(around, axis=2) @ [count, 1], np.sort(sides, axis=1) @ [count, 1]
    order = np.argsort(own)
    return np.asarray(order[np.searchsorted(own[order], codes)], np.int32)


def side_holds(rounds: Index, area: Array, cut: Array) -> Array:
    """What each side of a mesh stands for: the root of a third of the area beside it, over its length. rounds: (m, 3)
    sides round every face."""
    beside = np.bincount(rounds.ravel(), np.repeat(area / 3, 3), len(cut))
    return np.asarray(np.sqrt(beside) / np.maximum(cut, 1e-6))


def joined_ties(ties: Sequence[Ties]) -> Ties:
    """All of them as one."""
    shift = np.cumsum([0, *(len(t.values) for t in ties)])
    return Ties(
        np.concatenate([t.rows + n for t, n in zip(ties, shift[:-1], strict=True)]).astype(np.int32),
        *(np.concatenate([getattr(t, x) for t in ties]) for x in ("vertices", "weights", "values", "hold", "only")),
    )
