"""The outside of everything on one part of the body: what a strap lies on."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np
import shapely
import shapely.affinity
from numpy.typing import NDArray
from scipy.interpolate import RectBivariateSpline
from scipy.ndimage import gaussian_filter, grey_closing, grey_dilation

from vellumcut.core.body.tube import TubeSurface
from vellumcut.core.cast.armour import OUTER
from vellumcut.core.cast.dressed import Heights
from vellumcut.core.cast.trunk_tube import TrunkTube
from vellumcut.core.ink.plane import DrawingPlane, drawing_plane
from vellumcut.core.rig.laid import LaidPiece

Array = NDArray[np.float64]

ROWS, COLUMNS = 5.0, 128
"""Grid of heights: mm along, and columns round."""
SPANNED = 50.0
"""A strap drawn tight runs straight over gaps between foam edges that are no wider, mm (est.)."""
ARM = 90.0
"""An arm stands out of its armhole: a strap goes round it, not through, mm."""
BRIDGED = 14.0
"""A strap comes down from a foam edge to the body over about this much, mm (est.)."""


@dataclass(frozen=True, eq=False)
class Outside:
    """tube: of the body. base: base layer, mm. pieces: those that lie beneath, of this tube.
    armless: without the arms of a trunk."""

    tube: TubeSurface
    base: float
    pieces: tuple[LaidPiece, ...] = ()
    armless: bool = False

    @cached_property
    def plane(self) -> DrawingPlane:
        """Where lines on it are drawn."""
        return drawing_plane(self.tube)

    @cached_property
    def _heights(self) -> RectBivariateSpline | None:
        if not self.pieces and not isinstance(self.tube, TrunkTube):
            return None
        low, high = self.tube.reach
        z = np.linspace(low, high, max(16, round((high - low) / ROWS)))
        around = np.arange(COLUMNS) / COLUMNS
        v, u = (g.ravel() for g in np.meshgrid(self.tube.along(z), around, indexing="ij"))
        uv = np.stack([(u + 0.5) % 1.0 - 0.5, v], axis=1)
        height = np.full(len(uv), self.base)
        for piece in self.pieces:
            on = piece.covers(uv)
            height[on] = np.maximum(height[on], stands_off(piece, self.tube, uv[on], OUTER))
        if isinstance(self.tube, TrunkTube) and not self.armless:
            height[_arms(self.tube, uv)] += ARM
        grid = height.reshape(len(z), COLUMNS)
        step = np.array([z[1] - z[0], self.plane.turn / COLUMNS])
        grid = grey_closing(grid, [int(2 * round(SPANNED / s / 2) + 1) for s in step], mode=("nearest", "wrap"))
        cells = BRIDGED / step
        size = [int(2 * round(c / 2) + 1) for c in cells]
        wide = grey_dilation(grid, size, mode=("nearest", "wrap"))
        even = np.maximum(gaussian_filter(wide, cells / 3, mode=("nearest", "wrap")), self.base)
        column = np.arange(-3, COLUMNS + 4)
        return RectBivariateSpline(z, column / COLUMNS, even[:, column % COLUMNS])

    def height(self, uv: Array) -> Array:
        """How far it stands off the skin at (n, 2) of (around, along), mm, (n,)."""
        if self._heights is None:
            return np.full(len(uv), self.base)
        z = np.clip(self.tube.mm(uv[:, 1]), *self.tube.reach)
        return np.asarray(self._heights.ev(z, uv[:, 0] % 1.0))

    def points(self, uv: Array) -> Array:
        """(n, 2) of (around, along) -> (n, 3) in mm."""
        point, normal = self.tube.frame(uv[:, 0], uv[:, 1])
        return np.asarray(point + self.height(uv)[:, None] * normal)

    def place(self, flat: Array) -> Array:
        """(n, 2) mm on the drawing plane -> (n, 3) mm."""
        return self.points(self.plane.uv(flat))


def stands_off(piece: LaidPiece, tube: TubeSurface, uv: Array, depth: float) -> Array:
    """How far a layer of a piece stands off the bare body at (n, 2) of (around, along), mm, (n,): a piece that lies
    over others is laid on a body that has them on."""
    offset = piece.inked.surface.offset(uv, depth)
    if piece.inked.tube is tube:
        return offset
    point, normal = tube.frame(uv[:, 0], uv[:, 1])
    dressed = piece.inked.tube.frame(uv[:, 0], uv[:, 1])[0]
    return np.asarray(offset + ((dressed - point) * normal).sum(axis=1))


def lies_over(tube: TubeSurface, pieces: tuple[LaidPiece, ...], base: float) -> Heights:
    """What a piece with a base layer of ``base`` mm has to be laid out to, to lie on the outer face of others."""
    outside = Outside(tube, 0.0, pieces, armless=True)

    def heights(uv: Array) -> Array:
        return np.asarray(np.maximum(outside.height(uv) - base, 0.0))

    return heights


def _arms(tube: TrunkTube, uv: Array) -> NDArray[np.bool_]:
    """Which places (n, 2) lie in an armhole."""
    hole = shapely.affinity.scale(shapely.Polygon(tube.armhole), 0.82, 0.82)
    shapely.prepare(hole)
    return np.asarray(shapely.contains_xy(hole, np.abs(uv[:, 0]), uv[:, 1]))
