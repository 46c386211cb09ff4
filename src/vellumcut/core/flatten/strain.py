"""Strain of a flat panel in foam terms: what the sheet must stretch or be squeezed to close on the body."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]


@dataclass(frozen=True)
class StrainSummary:
    """Area-weighted figures, all in per cent. worst_face: index of the face where most is asked.

    worst_uv: its (around, along); worst_stretch: whether it is stretched.
    """

    mean: float
    p95: float
    p99: float
    worst: float
    stretch_p95: float
    squeeze_p95: float
    worst_face: int
    worst_uv: tuple[float, float]
    worst_stretch: bool


def recovered_strain(jacobians: Array, faces: NDArray[np.int32], area: Array, count: int) -> Array:
    """(m, 2, 2) maps body -> flat -> (m, 2): what foam must stretch and be squeezed to close, shares >= 0.

    With singular values s: stretch 1/s - 1 where s < 1, squeeze 1 - 1/s where s > 1. A single face is flat, and what it
    misses of the surface's curve reads as strain. So the square of the map is averaged round every vertex, and a face
    takes the mean of its three: the error falls with the square of the mesh size, and a rough mesh tells nearly what
    the fine one does (Zienkiewicz and Zhu, "The superconvergent patch recovery", 1992). count: of vertices.
    """
    square = jacobians @ jacobians.transpose(0, 2, 1)
    a, b, c = (
        _round_vertices(square[:, i, j], faces, area, count)[faces].mean(axis=1) for i, j in ((0, 0), (0, 1), (1, 1))
    )
    middle, half = (a + c) / 2, np.hypot((a - c) / 2, b)
    most, least = np.sqrt(middle + half), np.sqrt(np.maximum(middle - half, 1e-9))
    return np.stack([np.maximum(1 / least - 1, 0.0), np.maximum(1 - 1 / most, 0.0)], axis=1)


def _round_vertices(values: Array, faces: NDArray[np.int32], area: Array, count: int) -> Array:
    """Mean of the faces' values (m,) round every vertex, by area, (count,)."""
    corners = faces.ravel()
    total = np.bincount(corners, np.repeat(values * area, 3), count)
    return np.asarray(total / np.maximum(np.bincount(corners, np.repeat(area, 3), count), 1e-12))


def weighted_percentile(values: Array, weights: Array, share: float) -> float:
    """Least value with at least ``share`` of the weight at or below it."""
    order = np.argsort(values)
    covered = np.cumsum(weights[order]) / weights.sum()
    return float(values[order][min(int(np.searchsorted(covered, share)), len(values) - 1)])


def summarise(strain: Array, area: Array, centre_uv: Array) -> StrainSummary:
    """strain: (m, 2) stretch and squeeze shares per face; area: (m,) mm2; centre_uv: (m, 2)."""
    most = strain.max(axis=1) * 100
    at = int(np.argmax(most))
    return StrainSummary(
        mean=float((most * area).sum() / area.sum()),
        p95=weighted_percentile(most, area, 0.95),
        p99=weighted_percentile(most, area, 0.99),
        worst=float(most[at]),
        stretch_p95=weighted_percentile(strain[:, 0] * 100, area, 0.95),
        squeeze_p95=weighted_percentile(strain[:, 1] * 100, area, 0.95),
        worst_face=at,
        worst_uv=(float(centre_uv[at, 0]), float(centre_uv[at, 1])),
        worst_stretch=bool(strain[at, 0] >= strain[at, 1]),
    )


def vertex_strain(strain: Array, faces: NDArray[np.int32], area: Array, count: int) -> Array:
    """Signed per cent at each vertex for the picture: stretch above zero, squeeze below, (count,)."""
    signed = np.where(strain[:, 0] >= strain[:, 1], strain[:, 0], -strain[:, 1]) * 100
    return _round_vertices(signed, faces, area, count)
