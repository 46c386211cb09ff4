"""A scanned body as a triangle mesh: its largest part, and how its own numbers are read."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import connected_components

from vellumcut.core.body.segments import AxisName, UnitName
from vellumcut.core.cast.scanned.floor import without_floors
from vellumcut.core.errors import CraftError

Array = NDArray[np.float64]
Faces = NDArray[np.int64]

UNIT_MM: dict[UnitName, float] = {"mm": 1.0, "m": 1000.0, "cm": 10.0, "in": 25.4}
SIZES = (15.0, 6000.0)
"""Between these lies the longest side of anything that is a body or a part of one, mm."""
BODY_HEIGHT = (1350.0, 2150.0)
LIMB_SIZE = (180.0, 1200.0)
"""Longest sides of a whole adult body, and of one limb or a trunk alone, mm."""
LEAST_FACES = 200
LOOSE_LIMB = 0.02
"""A part this large beside the largest may be a limb that a hole has cut off, as a share of the triangles."""
SECOND_BODY = 0.2
"""A second part this large beside the largest is another body, not dust, as a share of the triangles."""


@dataclass(frozen=True, eq=False)
class BodyMesh:
    """vertices: (n, 3) mm, z up, facing -y. faces: (m, 3). warnings: what was found while reading, in words."""

    vertices: Array
    faces: Faces
    warnings: tuple[str, ...] = ()

    @cached_property
    def corners(self) -> Array:
        """(m, 3, 3) mm, the corners of every triangle."""
        return self.vertices[self.faces]

    @property
    def whole(self) -> bool:
        """Whether it is as tall as a whole adult body, and no limb or trunk alone."""
        return BODY_HEIGHT[0] * 0.9 <= self.height <= BODY_HEIGHT[1] * 1.05

    @property
    def height(self) -> float:
        """From the lowest corner to the highest, mm."""
        return float(np.ptp(self.vertices[:, 2]))


@dataclass(frozen=True)
class Stance:
    """How a scan's own numbers are to be read: unit, which axis is up, which is the front. turned: degrees,
    counterclockwise from above, by which the body faces past that front."""

    unit: UnitName = "mm"
    up: AxisName = "z"
    front: AxisName = "-y"
    turned: float = 0.0


def clean_mesh(vertices: Array, faces: Faces) -> tuple[Array, Faces, tuple[str, ...]]:
    """Keep the largest connected part but a floor, join equal corners, drop empty triangles; say what was found.

    Raises CraftError when nothing is left that could be a body.
    """
    if len(faces) == 0:
        raise CraftError("The file holds no triangles; a cloud of points must be meshed first", "file")
    if not np.isfinite(vertices).all():
        raise CraftError("The file holds corners that are not finite numbers", "file")
    span = max(float(np.ptp(vertices, axis=0).max()), 1e-12)
    if not any(SIZES[0] <= span * mm <= SIZES[1] for mm in UNIT_MM.values()):
        raise CraftError(
            f"The mesh is {span:.3g} units large: in no unit, mm, cm, m or inches, is that a body or a limb", "file"
        )
    cell = ((vertices - vertices.min(axis=0)) / span * 1e6).round().astype(np.int64)
    _, first, same = np.unique(cell @ np.array([1 << 42, 1 << 21, 1]), return_index=True, return_inverse=True)
    faces = same.ravel()[faces]
    faces = faces[(faces[:, 0] != faces[:, 1]) & (faces[:, 1] != faces[:, 2]) & (faces[:, 2] != faces[:, 0])]
    if len(faces) < LEAST_FACES:
        raise CraftError(f"The file holds {len(faces)} triangles; a body needs {LEAST_FACES} or more", "file")
    vertices, faces, warnings = _standing(vertices[first], faces)
    keep, more = _largest(faces, len(vertices))
    faces = faces[keep]
    warnings += more
    used, packed = np.unique(faces, return_inverse=True)
    faces = packed.reshape(-1, 3).astype(np.int64)
    warnings += _surface_warnings(faces)
    return vertices[used], faces, tuple(warnings)


def _standing(vertices: Array, faces: Faces) -> tuple[Array, Faces, list[str]]:
    """What stands on a floor or before a wall, without these. Raises CraftError where there is nothing else."""
    lowered, rest = without_floors(vertices, faces)
    if len(rest) == len(faces):
        return vertices, faces, []
    if len(rest) < LEAST_FACES:
        raise CraftError("The file holds a flat surface and no body", "file")
    return lowered, rest, ["A floor or a wall was scanned with the body and is left out."]


def _largest(faces: Faces, count: int) -> tuple[NDArray[np.bool_], list[str]]:
    ones = np.ones(len(faces), dtype=np.int8)
    graph = coo_matrix((np.tile(ones, 2), (faces[:, [0, 1]].ravel("F"), faces[:, [1, 2]].ravel("F"))), (count, count))
    _, label = connected_components(graph, directed=False)
    sizes = np.bincount(label[faces[:, 0]])
    order = np.argsort(-sizes)
    said = []
    if len(order) > 1 and sizes[order[1]] > SECOND_BODY * sizes[order[0]]:
        said.append("The file holds more than one large body; the largest is kept.")
    elif len(order) > 1 and sizes[order[1]] > LOOSE_LIMB * sizes[order[0]]:
        said.append("A part as large as a limb hangs loose beside the body and is left out.")
    elif (sizes > 0).sum() > 1:
        said.append(f"{(sizes > 0).sum() - 1} loose bits beside the body are left out.")
    return label[faces[:, 0]] == order[0], said


def _surface_warnings(faces: Faces) -> list[str]:
    edges = np.vstack([faces[:, [0, 1]], faces[:, [1, 2]], faces[:, [2, 0]]])
    size = int(faces.max()) + 1
    ahead, back = edges[:, 0] * size + edges[:, 1], edges[:, 1] * size + edges[:, 0]
    _, same_way = np.unique(ahead, return_counts=True)
    _, shared = np.unique(np.minimum(ahead, back), return_counts=True)
    said = []
    open_edges = int((shared == 1).sum())
    if open_edges:
        said.append(f"The surface has holes ({open_edges} open edges); small ones are closed when the tube is fitted.")
    if int((same_way > 1).sum()) > open_edges + 0.001 * len(shared):
        said.append("Some triangles face the wrong way; that does not matter here.")
    return said


def _axis(name: AxisName) -> Array:
    way = np.zeros(3)
    way["xyz".index(name[-1])] = -1.0 if name.startswith("-") else 1.0
    return way


def turn(vertices: Array, stance: Stance) -> Array:
    """A scan's own numbers -> mm, z up, facing -y, feet at 0, middle at 0. Raises CraftError if up is front."""
    return (vertices @ rotation(stance).T) * UNIT_MM[stance.unit]


def rotation(stance: Stance) -> Array:
    """(3, 3) turn that takes the scan's up to +z and where its body faces to -y."""
    up, front = _axis(stance.up), _axis(stance.front)
    if abs(float(up @ front)) > 0.5:
        raise CraftError(f"Up and front cannot both lie along {stance.up[-1]}", "front")
    left = np.cross(up, -front) * -1.0
    cos, sin = np.cos(np.radians(stance.turned)), np.sin(np.radians(stance.turned))
    back = np.array([[cos, sin, 0.0], [-sin, cos, 0.0], [0.0, 0.0, 1.0]])
    return np.asarray(back @ np.stack([left, -front, up]))
