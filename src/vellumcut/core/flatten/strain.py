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
    total, weight = np.zeros(count), np.zeros(count)
    for k in range(3):
        np.add.at(total, faces[:, k], signed * area)
        np.add.at(weight, faces[:, k], area)
    return np.asarray(total / weight)
