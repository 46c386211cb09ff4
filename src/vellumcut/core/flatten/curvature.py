"""Gaussian curvature of a panel's mesh: how much of it each dart lets out, and how much of it is saddle-shaped."""

import numpy as np
import shapely
from numpy.typing import NDArray

from vellumcut.core.flatten.mesh import PanelMesh
from vellumcut.core.flatten.slit import angle_deficit

Array = NDArray[np.float64]


def gathered_curvature(mesh: PanelMesh) -> list[float]:
    """Curvature of the body that each dart lets out, radians: all that lies nearer to it than to the rim or another.

    By Gauss and Bonnet the angle that a dart opens by is close to it. What lies ``d`` past the tip of a dart of length
    ``l`` is let out in part, l / (l + 2 d) of it (fitted on cones with rounded tips; est.).
    """
    if not mesh.slits:
        return []
    deficit = inner_curvature(mesh)
    points = shapely.points(mesh.chart)
    lines = [shapely.LineString(mesh.chart[slit.left]) for slit in mesh.slits]
    rim = shapely.MultiLineString([mesh.chart[loop] for loop in mesh.loops])
    away = np.stack([*(shapely.distance(line, points) for line in lines), shapely.distance(rim, points)])
    nearest = away.argmin(axis=0)
    every = angle_deficit(mesh.rest, len(mesh.xyz), np.zeros(0, dtype=np.int32))
    out = []
    for k, (line, slit) in enumerate(zip(lines, mesh.slits, strict=True)):
        past = shapely.line_locate_point(line, points) > line.length - 1e-6
        weight = np.where(past, line.length / (line.length + 2 * away[k]), 1.0)
        on_slit = every[slit.left[1:-1]] + every[slit.right[1:-1]] - 2 * np.pi
        beside = float((deficit * weight)[nearest == k].sum())
        out.append(beside + float(on_slit.sum() + every[slit.left[-1]]))
    return out


def saddle_share(mesh: PanelMesh) -> float:
    """Share of a panel's curvature that is saddle-shaped, 0 to 1."""
    curved = inner_curvature(mesh)
    return float(-curved[curved < 0].sum() / max(np.abs(curved).sum(), 1e-9))


def inner_curvature(mesh: PanelMesh) -> Array:
    """Curvature gathered at each vertex, radians, (n,); none on edges and slits."""
    rims = np.unique(np.concatenate([*mesh.loops, *(np.append(s.left, s.right) for s in mesh.slits)]))
    return angle_deficit(mesh.rest, len(mesh.xyz), rims)
