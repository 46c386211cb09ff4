"""The cast, the armour over it and its ink as triangle meshes, for any program that reads them."""

from typing import Literal

import numpy as np
from numpy.typing import NDArray

from vellumcut.core.cast.armour import OUTER, ArmourSurface
from vellumcut.core.cast.picture import picture_mesh, picture_tube
from vellumcut.core.design.sheet import InkSheet, drawn_strokes, stroke_line
from vellumcut.core.flatten.mesh import panel_shape
from vellumcut.core.ink.lines import PanelInk

Array = NDArray[np.float64]
Faces = NDArray[np.int64]
Shape = Literal["body", "armour", "ink"]
SHAPES: tuple[Shape, ...] = ("body", "armour", "ink")

INK_RADIUS = 1.0
"""Of the round cord that an ink line becomes, mm: a marker's width."""
_SIDES = 6


def shape_mesh(
    surface: ArmourSurface, panels: list[tuple[Array, Faces]], sheet: InkSheet, what: Shape
) -> tuple[Array, Faces]:
    """Vertices (n, 3) in mm and triangles of the body's tube, the armour's panels, or the ink as thin cords."""
    if what == "body":
        picture = picture_tube(surface.tube, 121, 161)
        _, points, faces = picture_mesh(picture, surface.tube)
        used, packed = np.unique(faces, return_inverse=True)
        return points[used], packed.reshape(-1, 3)
    if what == "armour":
        return join_meshes(panels)
    cords = [_cord(surface.points(stroke_line(s), OUTER)) for s, _ in drawn_strokes(sheet)]
    return join_meshes(cords)


def armour_panels(surface: ArmourSurface, panels: list[PanelInk]) -> list[tuple[Array, Faces]]:
    """The outer face of every panel's ink as a mesh."""
    return [(v, f.astype(np.int64)) for v, f in (panel_shape(surface, ink, OUTER) for ink in panels)]


def join_meshes(parts: list[tuple[Array, Faces]]) -> tuple[Array, Faces]:
    """Several meshes as one."""
    if not parts:
        return np.zeros((0, 3)), np.zeros((0, 3), dtype=np.int64)
    starts = np.cumsum([0, *(len(v) for v, _ in parts[:-1])])
    return np.vstack([v for v, _ in parts]), np.vstack([f + s for (_, f), s in zip(parts, starts, strict=True)])


def _cord(line: Array) -> tuple[Array, Faces]:
    """A line (n, 3) as a thin six-sided tube."""
    way = np.gradient(line, axis=0)
    way /= np.maximum(np.linalg.norm(way, axis=1, keepdims=True), 1e-9)
    aside = np.cross(way, np.where(np.abs(way[:, 2:]) < 0.9, [[0.0, 0.0, 1.0]], [[1.0, 0.0, 0.0]]))
    aside /= np.linalg.norm(aside, axis=1, keepdims=True)
    up = np.cross(way, aside)
    turn = np.linspace(0, 2 * np.pi, _SIDES, endpoint=False)
    ring = np.cos(turn)[None, :, None] * aside[:, None] + np.sin(turn)[None, :, None] * up[:, None]
    points = (line[:, None] + INK_RADIUS * ring).reshape(-1, 3)
    i, k = (g.ravel() for g in np.meshgrid(np.arange(len(line) - 1), np.arange(_SIDES), indexing="ij"))
    a, b = i * _SIDES + k, i * _SIDES + (k + 1) % _SIDES
    return points, np.vstack([np.stack([a, b, b + _SIDES], axis=1), np.stack([a, b + _SIDES, a + _SIDES], axis=1)])
