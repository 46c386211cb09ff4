"""Evening out a scanned tube: a mesh has facets and noise, foam has neither.

What a facet leaves in a surface is small in millimetres and large in curvature, and offset, hollow and strain all live
on curvature. So a tube is smoothed as far as the budget of its residual allows, and hollows are read off the result.
"""

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray
from scipy.linalg import solveh_banded

from vellumcut.core.body.rings import grid_normals

Array = NDArray[np.float64]


def smooth_rings(levels: Array, grid: Array, scale: float) -> Array:
    """Rings (l, k, 3) mm at growing levels (l,) mm, evened round and along. scale: mm, see ``_round`` and ``_along``.

    Both are smoothing splines (Reinsch, "Smoothing by spline functions", 1967): they weigh the distance moved against
    the bend that is left, so a bend wider than a few scales stays where it is and a girth keeps its length, where an
    average over neighbours would draw every ring in.
    """
    return _along(levels, _round(grid, scale), scale)


def smooth_within(levels: Array, grid: Array, scales: Sequence[float], budget: float) -> Array:
    """As ``smooth_rings`` with the first of some scales, mm, falling, that moves 95 % of the surface by less than
    ``budget`` mm; the last where none does."""
    for scale in scales:
        smooth = smooth_rings(levels, grid, scale)
        if np.quantile(_moved(grid, smooth), 0.95) < budget:
            return smooth
    return smooth


def _round(grid: Array, scale: float) -> Array:
    """Each ring's waves damped by 1 / (1 + (2 pi scale / wave length)^4), the periodic smoothing spline."""
    girth = np.linalg.norm(np.roll(grid, -1, axis=1) - grid, axis=2).sum(axis=1)
    waves = np.arange(grid.shape[1] // 2 + 1)
    keep = 1 / (1 + (2 * np.pi * waves[None, :] * scale / girth[:, None]) ** 4)
    return np.fft.irfft(np.fft.rfft(grid, axis=1) * keep[..., None], grid.shape[1], axis=1)


def _along(levels: Array, grid: Array, scale: float) -> Array:
    """Each column as the curve that weighs distance against bend over unequal steps; its ends run free."""
    step = np.diff(levels)
    a, b = step[:-1], step[1:]
    bend = np.stack([2 / (a * (a + b)), -2 / (a * b), 2 / (b * (a + b))])
    weight = scale**4 * (a + b) / 2
    own = np.empty(len(levels))
    own[0], own[-1], own[1:-1] = step[0] / 2, step[-1] / 2, (a + b) / 2
    bands = np.zeros((3, len(levels)))
    bands[2] = own
    for i in range(3):
        for j in range(i, 3):
            bands[2 - (j - i), j : j + len(weight)] += weight * bend[i] * bend[j]
    flat = grid.reshape(len(levels), -1)
    return np.asarray(solveh_banded(bands, own[:, None] * flat).reshape(grid.shape))


def _moved(grid: Array, smooth: Array) -> Array:
    """How far each place of the rings has moved square to the surface, mm."""
    return np.asarray(np.abs(((smooth - grid) * grid_normals(smooth)).sum(axis=-1)))
