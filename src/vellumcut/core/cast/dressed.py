"""A body with something on it: padding, or the outer face of other pieces, that the next piece is patterned over."""

from collections.abc import Callable, Mapping
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from vellumcut.core.body.rings import RingTube
from vellumcut.core.body.splines import shape_preserving
from vellumcut.core.body.tube import TubeSurface
from vellumcut.core.errors import CraftError

Array = NDArray[np.float64]

COLUMNS, LEVEL_STEP = 160, 4.0
"""Grid of a tube of ovals once something lies on it: columns round, mm along."""
Heights = Callable[[Array], Array]
"""(n, 2) of (around, along) -> how far the skin is let out along its normal there, mm, (n,)."""


def dressed(tube: TubeSurface, heights: Heights) -> RingTube:
    """The tube let out along its normals. Places keep their (around, along): ink on it sits where it sat on the
    body."""
    base = tube if isinstance(tube, RingTube) else _as_rings(tube)
    rows, columns = base.grid.shape[:2]
    v, u = np.meshgrid(base.along(base.levels), np.arange(columns) / columns, indexing="ij")
    uv = np.stack([(u.ravel() + 0.5) % 1.0 - 0.5, v.ravel()], axis=1)
    normal = base.frame(uv[:, 0], uv[:, 1])[1].reshape(rows, columns, 3)
    out = heights(uv).reshape(rows, columns, 1)
    return replace(base, grid=base.grid + out * normal, sections=None)


def _as_rings(tube: TubeSurface) -> RingTube:
    low, high = tube.reach
    levels = np.unique(np.concatenate([np.linspace(low, high, max(12, round((high - low) / LEVEL_STEP))), tube.at]))
    grid = tube.frame((np.arange(COLUMNS) / COLUMNS)[None, :], tube.along(levels)[:, None])[0]
    return RingTube(tube.names, tube.at, levels, grid)


def padded(tube: TubeSurface, padding: Mapping[str, float]) -> Heights:
    """Padding by station, mm, evened along the body between them. Raises CraftError for a station it has not."""
    for name in padding:
        if name not in tube.names:
            raise CraftError(f'There is no station "{name}" here; there are {", ".join(tube.names)}', "design.padding")
    curve = shape_preserving(tube.at, tuple(padding.get(n, 0.0) for n in tube.names))

    def heights(uv: Array) -> Array:
        return np.asarray(curve(np.clip(tube.mm(uv[:, 1]), tube.at[0], tube.at[-1])))

    return heights
