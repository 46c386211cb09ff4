"""A simulated body scanner: it sees a made-up body band by band, with noise, and misses what it cannot see."""

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from vellumcut.standins.made_up_body import BodyShape, made_up_body

Array = NDArray[np.float64]
Faces = NDArray[np.int64]

NOISE = 0.6
"""Standard deviation of a measured point, mm."""
BANDS = 24
HOLE_RADIUS = 26.0
HOLES = 7


@dataclass(frozen=True, eq=False)
class Frame:
    """One band the scanner has seen. share: how much of the body is seen so far. faces: new triangles (m, 3)."""

    share: float
    faces: Faces


@dataclass(frozen=True, eq=False)
class Session:
    """points: (n, 3) in metres, y up, as such devices give them. frames: what it sees, from the feet up."""

    points: Array
    frames: Iterator[Frame]


SHAPES: dict[str, BodyShape] = {
    "tall and lean": BodyShape(height=1810, girth=0.94, bust=0, shoulders=1.08, arm=42),
    "middling": BodyShape(height=1700, girth=1.0, bust=42, hips=1.04, arm=44),
    "broad and full": BodyShape(height=1640, girth=1.16, bust=66, belly=45, hips=1.08, arm=46),
}


def start_scan(shape: BodyShape, seed: int, size: float = 9.0) -> Session:
    """Begin to scan a made-up body. seed: of noise and holes, so that a scan can be made again."""
    luck = np.random.default_rng(seed)
    points, faces = made_up_body(shape, size)
    holes = points[luck.choice(len(points), HOLES)]
    radius = HOLE_RADIUS * luck.uniform(0.5, 1.0, HOLES)
    hidden = (np.linalg.norm(points[:, None] - holes[None], axis=2) < radius).any(axis=1)
    feet = points[:, 2] < 6.0
    seen = faces[~(hidden | feet)[faces].any(axis=1)]
    noisy = points + luck.normal(0.0, NOISE, points.shape)
    upright = np.stack([noisy[:, 0], noisy[:, 2], -noisy[:, 1]], axis=1) / 1000.0
    return Session(upright, _bands(points, seen))


def _bands(points: Array, faces: Faces) -> Iterator[Frame]:
    height = points[faces].mean(axis=1)[:, 2]
    edges = np.linspace(height.min(), height.max() + 1e-6, BANDS + 1)
    for k in range(BANDS):
        yield Frame((k + 1) / BANDS, faces[(height >= edges[k]) & (height < edges[k + 1])])
