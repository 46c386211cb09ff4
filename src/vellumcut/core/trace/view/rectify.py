"""The ground as seen straight from above: a picture in millimetres."""

from collections.abc import Callable
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from vellumcut.core.trace.view.cards import CARD
from vellumcut.core.trace.view.lens import Lens

Array = NDArray[np.float64]
Picture = NDArray[np.uint8]

FINEST = 0.1
MOST = 12e6
"""Pixels of a picture from above."""
ROUND = 130.0
"""mm round the outermost cards that are looked at: what lies farther is measured too badly to be of use."""
GRID = 24
"""Pixels between places that are worked out; between them the view is straight."""


class InMm:
    """A picture of the ground at scale. corner: mm of its top left; per: mm a pixel."""

    corner: Array
    per: float

    def mm(self, pixels: Array) -> Array:
        return np.asarray(self.corner + (np.asarray(pixels, float) + 0.5) * self.per)

    def pixels(self, places: Array) -> Array:
        return np.asarray((np.asarray(places, float) - self.corner) / self.per - 0.5)


@dataclass(frozen=True, eq=False)
class FromAbove(InMm):
    """picture: (h, w, 3). seen: (h, w), where the photograph shows the ground. corner: mm of its top left. per: mm a
    pixel."""

    picture: Picture
    seen: NDArray[np.bool_]
    corner: Array
    per: float

    def coarser(self, per: float) -> "FromAbove":
        size = tuple(max(8, round(n * self.per / per)) for n in self.picture.shape[1::-1])
        per_x = self.picture.shape[1] * self.per / size[0]
        small = cv2.resize(self.picture, size, interpolation=cv2.INTER_AREA)
        seen = cv2.resize(self.seen.astype(np.uint8), size, interpolation=cv2.INTER_NEAREST) > 0
        return FromAbove(np.asarray(small), seen, self.corner, per_x)


def box_of(lens: Lens, poses: Array) -> tuple[Array, Array]:
    """Low and high corner of the ground that is worth looking at, mm: what the picture shows round its cards."""
    low, high = poses[:, :2].min(axis=0) - ROUND, poses[:, :2].max(axis=0) + ROUND
    w, h = lens.size
    t = np.linspace(0, 1, 20)[:, None]
    corners = np.array([[0, 0], [w - 1, 0], [w - 1, h - 1], [0, h - 1]], float)
    rim = np.vstack([corners[k] * (1 - t) + corners[(k + 1) % 4] * t for k in range(4)])
    shown = np.clip(lens.unproject(rim), low, high)
    return shown.min(axis=0), shown.max(axis=0)


def resolution(lens: Lens, poses: Array) -> float:
    """mm of ground that one pixel sees, at the cards' middle."""
    middle = poses[:, :2].mean(axis=0)
    steps = lens.project(middle + np.array([[0, 0], [1, 0], [0, 1]]))
    return float(1 / np.sqrt(abs(np.linalg.det(steps[1:] - steps[0]))))


def rectify(picture: Picture, lens: Lens, poses: Array, shown: NDArray[np.bool_] | None = None) -> FromAbove:
    """The ground from above, about as fine as the photograph shows it. shown: (h, w) where the picture shows ground;
    None: all over."""
    low, high = box_of(lens, poses)
    per = max(FINEST, resolution(lens, poses), float(np.sqrt(np.prod(high - low) / MOST)))
    size = np.ceil((high - low) / per).astype(int)
    where = places_of(lens.project, low, per, size)
    above = cv2.remap(picture, where[..., 0], where[..., 1], cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
    edge = np.array(lens.size, np.float32) - 2
    seen = np.asarray(((where >= 1) & (where <= edge)).all(axis=2))
    if shown is not None:
        seen &= cv2.remap(shown.astype(np.uint8), where[..., 0], where[..., 1], cv2.INTER_NEAREST) > 0
    return FromAbove(np.asarray(above), seen, low, per)


def places_of(
    project: Callable[[Array], Array], low: Array, per: float, size: NDArray[np.int64]
) -> NDArray[np.float32]:
    """(h, w, 2) pixel of the photograph for each pixel from above: worked out on a grid, which is a cell larger all
    round, and drawn out. cv2.resize puts the middle of a cell over the middle of the pixels it becomes.
    """
    cols, rows = (((np.arange(-1, n // GRID + 2)) + 0.5) * GRID - 0.5 for n in size)
    x, y = np.meshgrid(cols, rows)
    places = low + (np.column_stack([x.ravel(), y.ravel()]) + 0.5) * per
    sparse = project(places).astype(np.float32).reshape(*x.shape, 2)
    full = cv2.resize(sparse, None, fx=GRID, fy=GRID, interpolation=cv2.INTER_LINEAR)
    return np.ascontiguousarray(full[GRID : GRID + size[1], GRID : GRID + size[0]], np.float32)


def card_masks(above: FromAbove, poses: Array, side: float, margin: float) -> NDArray[np.uint8]:
    """Where cards lie, grown by a margin, mm; 255 there."""
    out = np.zeros(above.picture.shape[:2], np.uint8)
    reach = CARD * side / 60.0 / 2 + margin
    square = np.array([[-1, -1], [1, -1], [1, 1], [-1, 1]]) * reach
    for x, y, turn in poses:
        c, s = np.cos(turn), np.sin(turn)
        at = above.pixels(square @ np.array([[c, s], [-s, c]]) + (x, y))
        cv2.fillPoly(out, [np.round(at).astype(np.int32)], 255)
    return out
