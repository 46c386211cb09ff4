"""A made-up body as a closed mesh: soft unions of simple solids, for the simulated scanner and for tests.

Each solid is a chain of elliptical cross-sections or a ball; they are joined by a smooth minimum of their
distances (Quilez, "Smooth minimum", 2013) and meshed by marching cubes (Lorensen and Cline, 1987).
"""

from collections.abc import Sequence
from dataclasses import dataclass

import igl
import numpy as np
from numpy.typing import NDArray
from scipy.interpolate import PchipInterpolator

Array = NDArray[np.float64]

BLEND, FINGER_BLEND = 26.0, 5.0
"""How softly the solids run into each other, mm; and fingers into the palm."""


@dataclass(frozen=True)
class BodyShape:
    """height, and factors on usual widths. bust: fullness, mm. arm: how far the arms hang from upright, degrees.

    hands: with fingers and thumbs, for which the mesh must be fine (6 mm); else mittens.
    """

    height: float = 1720.0
    girth: float = 1.0
    bust: float = 45.0
    belly: float = 0.0
    hips: float = 1.0
    shoulders: float = 1.0
    arm: float = 45.0
    hands: bool = False


def made_up_body(shape: BodyShape, size: float = 9.0) -> tuple[Array, NDArray[np.int64]]:
    """Vertices (n, 3) in mm, z up, facing -y, feet at 0, and triangles (m, 3). size: of the mesh, mm."""
    s = shape.height / 1720.0
    span = 520 * s + 460 * s * np.sin(np.radians(shape.arm))
    low, high = np.array([-span, -330 * s - 80, -40.0]), np.array([span, 330 * s, 1790 * s])
    counts = np.ceil((high - low) / size).astype(int) + 1
    axes = [low[k] + size * np.arange(counts[k]) for k in range(3)]
    field = np.full(counts, 1e3)
    for solid in _solids(shape, s):
        _blend_in(field, axes, *solid, BLEND)
    for finger in _fingers(shape, s) if shape.hands else ():
        _blend_in(field, axes, *finger, FINGER_BLEND)
    grid = np.stack(np.meshgrid(*axes, indexing="ij"), axis=-1).reshape(-1, 3, order="F")
    made = igl.marching_cubes(field.ravel(order="F"), grid, *(int(c) for c in counts), 0.0)
    points, faces = np.asarray(made[0], dtype=float), np.asarray(made[1], dtype=np.int64)
    corners = points[faces]
    volume = np.einsum("ij,ij->i", corners[:, 0], np.cross(corners[:, 1], corners[:, 2])).sum()
    return points, faces if volume > 0 else faces[:, ::-1]


def _solids(shape: BodyShape, s: float) -> list[tuple[Array, Array, Array]]:
    """Chains of (centres (n, 3), half sizes (n, 2) across and deep, depth direction (3,)), mm."""
    g, y = shape.girth * s, np.array([0.0, 1.0, 0.0])
    belly, hips, wide = shape.belly, shape.hips, shape.shoulders
    trunk = [
        (0, 10, 800, 150 * hips, 100 * hips), (0, 8, 900, 168 * hips, 118 * hips),
            (0, 5 - belly / 3, 985, 152 * hips, 108 + belly * 0.5),
        (0, 4 - belly / 2, 1065, 132, 98 + belly * 0.6), (0, 6 - belly / 4, 1150, 138, 104 + belly * 0.3),
            (0, 10, 1250, 152 * wide, 112),
        (0, 16, 1340, 158 * wide, 104), (0, 22, 1400, 150 * wide, 80), (0, 26, 1440, 90 * wide, 62),
    ]  # fmt: skip
    neck = [(0, 28, 1410, 74, 66), (0, 16, 1480, 56, 58), (0, 4, 1540, 58, 64)]
    head = [(0, -6, 1560, 62, 80), (0, -10, 1620, 78, 98), (0, -4, 1680, 66, 84), (0, 0, 1705, 36, 46)]
    out = [_chain(rows, s, g, y) for rows in (trunk, neck, head)]
    for side in (1, -1):
        root, way = _arm_line(shape, s, side)
        arm = [(-10, 52, 56), (60, 53, 58), (150, 47, 50), (225, 43, 44), (290, 40, 38), (350, 43, 40), (450, 34, 30),
            (530, 27, 21), (560, 29, 19), (620, 42, 17), *([(645, 41, 14)] if shape.hands else [(700, 33, 13), (735,
                20, 9)])]  # fmt: skip
        out.append(_limb(root, way, arm, s, g, y))
        leg_way = np.array([side * 0.055, 0.0, -1.0])
        hip = np.array([side * 88 * hips * s, 10 * s, 860 * s])
        leg = [(-30, 84 * hips, 90), (90, 88 * hips, 92), (250, 70, 76), (370, 57, 60), (420, 56, 60), (500, 55, 60),
            (560, 56, 62), (690, 42, 46), (775, 34, 40), (815, 35, 46)]  # fmt: skip
        out.append(_limb(hip, leg_way / np.linalg.norm(leg_way), leg, s, g, y))
        foot = [(side * 132, 40, 34, 30, 30), (side * 136, -20, 32, 38, 30), (side * 142, -90, 26, 44, 24),
            (side * 146, -150, 20, 36, 17)]  # fmt: skip
        out.append(_chain(foot, s, s, np.array([0.0, 0.0, 1.0])))
        if shape.bust > 0:
            centre = np.array([side * 80, -(50 + 0.5 * shape.bust), 1258.0]) * s
            size = (56 + 0.3 * shape.bust) * s
            out.append((np.array([centre, centre + [0, 0, 1.0]]), np.full((2, 2), size), y))
    return out


def _arm_line(shape: BodyShape, s: float, side: int) -> tuple[Array, Array]:
    """Root and direction of an arm."""
    tilt = np.radians(shape.arm)
    root = np.array([side * 158 * shape.shoulders * s, 20 * s, 1392 * s])
    return root, np.array([side * np.sin(tilt), 0.0, -np.cos(tilt)])


def _fingers(shape: BodyShape, s: float) -> list[tuple[Array, Array, Array]]:
    """Four fingers and a thumb on each palm, the thumb ahead."""
    out, y, g = [], np.array([0.0, 1.0, 0.0]), shape.girth * s
    for side in (1, -1):
        root, way = _arm_line(shape, s, side)
        across = np.cross(y, way)
        for k, (start, length, thick) in enumerate([(640, 80, 8.5), (648, 92, 9), (646, 88, 9), (636, 66, 8)]):
            base = root + way * start * s + across * (k - 1.5) * 21 * g
            spread = way + 0.12 * (k - 1.5) * across
            tip = base + spread * length * s
            out.append((np.array([base, (base + tip) / 2, tip]), np.full((3, 2), thick * g), y))
        base = root + way * 590 * s - across * 34 * g
        tip = base + (0.75 * way - 0.6 * across) * 62 * s
        out.append((np.array([base, (base + tip) / 2, tip]), np.full((3, 2), 10.0 * g), y))
    return out


def _chain(rows: Sequence[tuple[float, ...]], s: float, g: float, deep: Array) -> tuple[Array, Array, Array]:
    table = np.array(rows, dtype=float)
    return table[:, :3] * s, table[:, 3:] * g, deep


def _limb(
    root: Array, way: Array, rows: Sequence[tuple[float, ...]], s: float, g: float, deep: Array
) -> tuple[Array, Array, Array]:
    table = np.array(rows, dtype=float)
    return root + table[:, :1] * s * way, table[:, 1:] * g, deep


def _blend_in(field: Array, axes: list[Array], centres: Array, half: Array, deep: Array, soft: float) -> None:
    """Join one solid to the field, in the box it can reach."""
    far = half.max() + 2.5 * soft
    box = tuple(
        slice(*np.searchsorted(a, (centres[:, k].min() - far, centres[:, k].max() + far))) for k, a in enumerate(axes)
    )
    grid = np.stack(np.meshgrid(*(a[b] for a, b in zip(axes, box, strict=True)), indexing="ij"), axis=-1)
    solid = _distance(grid.reshape(-1, 3), centres, half, deep).reshape(grid.shape[:3])
    here = field[box]
    share = np.maximum(soft - np.abs(here - solid), 0.0) / soft
    field[box] = np.minimum(here, solid) - share**2 * soft / 4


def _distance(points: Array, centres: Array, half: Array, deep: Array) -> Array:
    """Near-distance to a chain of elliptical sections with rounded ends, mm, (n,)."""
    step = np.linalg.norm(np.diff(centres, axis=0), axis=1)
    at = np.concatenate([[0], np.cumsum(step)])
    way = (centres[-1] - centres[0]) / np.linalg.norm(centres[-1] - centres[0])
    along_centres = (centres - centres[0]) @ way
    t = np.clip((points - centres[0]) @ way, along_centres[0], along_centres[-1])
    place = np.interp(t, along_centres, at)
    middle = (
        PchipInterpolator(at, centres)(place)
        if len(at) > 2
        else centres[0] + (t / max(at[-1], 1e-9))[:, None] * (centres[-1] - centres[0])
    )
    size = PchipInterpolator(at, half)(place) if len(at) > 2 else np.broadcast_to(half[0], (len(points), 2))
    away = points - middle
    across = np.cross(deep, way)
    across /= np.linalg.norm(across)
    thick = np.cross(way, across)
    x, y, z = away @ across, away @ thick, away @ way
    a, b = size[:, 0], size[:, 1]
    end = np.sqrt(a * b)
    k0 = np.sqrt((x / a) ** 2 + (y / b) ** 2 + (z / end) ** 2)
    k1 = np.sqrt((x / a**2) ** 2 + (y / b**2) ** 2 + (z / end**2) ** 2)
    return np.asarray(np.where(k0 > 1e-9, k0 * (k0 - 1) / np.maximum(k1, 1e-12), -np.minimum(a, b)))
