"""What a template draws with: the body's tube, the sizes that were set, and a few ways to find a place."""

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from vellumcut.core.body.tube import TubeSurface
from vellumcut.core.cast.trunk_tube import TrunkTube
from vellumcut.core.design.sheet import Stroke, StrokeKind
from vellumcut.core.errors import CraftError

Array = NDArray[np.float64]
Place = tuple[float, float]

TOP_OF_SHOULDER = 0.25


@dataclass(frozen=True)
class Size:
    """A length or count a template asks for. usual, least, most: mm, or pieces if ``count``.

    when: the choice, and its options, that use it; None where every look of the template does.
    """

    name: str
    usual: float
    least: float
    most: float
    how: str
    count: bool = False
    when: tuple[str, tuple[str, ...]] | None = None


@dataclass(frozen=True)
class Choice:
    name: str
    options: tuple[str, ...]
    how: str

    @property
    def usual(self) -> str:
        return self.options[0]


@dataclass(frozen=True)
class Board:
    """tube: the body. sizes, choices: every one the template has, filled with its usual where nothing was set."""

    tube: TubeSurface
    sizes: Mapping[str, float]
    choices: Mapping[str, str]

    def up(self, station: float | str, mm: float = 0.0) -> float:
        """Station coordinate ``mm`` above a station."""
        k = self.tube.names.index(station) if isinstance(station, str) else station
        return float(self.tube.along(self.tube.mm(k) + mm))

    def round_by(self, along: float, mm: float) -> float:
        """Share of the ring at ``along`` that ``mm`` of the body's girth is."""
        return float(mm / self.tube.girth(along))

    def beside(self, path: list[Place], mm: float) -> list[Place]:
        """A path moved ``mm`` to its left as it runs, on the unrolled body."""
        along = np.array([v for _, v in path])
        girth = self.tube.girth(along)
        flat = np.stack([np.array([u for u, _ in path]) * girth, self.tube.mm(along)], axis=1)
        way = np.gradient(flat, axis=0)
        way /= np.linalg.norm(way, axis=1, keepdims=True)
        moved = flat + mm * np.stack([-way[:, 1], way[:, 0]], axis=1)
        levels = self.tube.along(moved[:, 1])
        return [(float(x / g), float(v)) for x, g, v in zip(moved[:, 0], self.tube.girth(levels), levels, strict=True)]

    @property
    def trunk(self) -> TrunkTube:
        if not isinstance(self.tube, TrunkTube):
            raise CraftError("This template is drawn on a torso")
        return self.tube

    def armhole(self, front: bool, clearance: float) -> list[Place]:
        """The front or back half of the left armhole from the shoulder down to the side, moved into the piece."""
        curve = self.trunk.armhole
        middle = curve.mean(axis=0)
        inward = -1.0 if front else 1.0
        half = curve[(curve[:, 0] - middle[0]) * inward >= -1e-9]
        half = half[np.argsort(-half[:, 1])]
        pick = half[np.linspace(0, len(half) - 1, 5).round().astype(int)][1:-1]
        return [(float(u + inward * self.round_by(v, clearance)), float(v)) for u, v in pick]

    @property
    def underarm(self) -> float:
        """Station coordinate of the armhole's lowest place."""
        return float(self.trunk.armhole[:, 1].min())


def line(
    key: str,
    kind: StrokeKind,
    name: str,
    *points: Place,
    straight: bool = False,
    closed: bool = False,
    lift: float = 0.0,
    lift_width: float = 40.0,
) -> Stroke:
    """A stroke through places (around, along)."""
    return Stroke(
        key=key, kind=kind, name=name, points=tuple((round(u, 5), round(v, 5)) for u, v in points),
        curve="straight" if straight else "smooth", closed=closed, lift=lift, lift_width=lift_width,
    )  # fmt: skip


def oval(
    key: str, kind: StrokeKind, name: str, board: Board, centre: Place, across: float, tall: float, lift: float = 0.0
) -> Stroke:
    """A closed oval of half width and half height in mm on the body, about a place."""
    u, v = centre
    z = float(board.tube.mm(v))
    points = []
    for t in np.linspace(0, 2 * np.pi, 8, endpoint=False):
        along = float(board.tube.along(z + tall * np.sin(t)))
        points.append((u + board.round_by(along, across * np.cos(t)), along))
    return line(key, kind, name, *points, closed=True, lift=lift)
