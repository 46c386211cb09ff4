"""Copies of pieces as points on the figure: what movement turns against each other."""

from dataclasses import dataclass, field, replace
from functools import cached_property

import numpy as np
import shapely
from numpy.typing import NDArray
from scipy.spatial import KDTree

from vellumcut.core.body.segments import Side
from vellumcut.core.cast.armour import INNER, OUTER, ArmourSurface
from vellumcut.core.rig.costume import Costume, Worn
from vellumcut.core.rig.figure import Seat
from vellumcut.core.rig.laid import LaidPiece
from vellumcut.core.worn.standing import Standing, standing_on

Array = NDArray[np.float64]

FACE, RIM, DEEP = 2.5, 1.2, 1.5
"""Distance of the points that stand for a shell: on its faces, along its rims and through its thickness, mm."""
NEAR_JOINT = 330.0
"""What lies further from a joint along the limb cannot meet what lies beyond it, mm."""


@dataclass(frozen=True, eq=False)
class Shell:
    """One copy of a piece as points on the figure, mm. faces: (n, 3) with uv (n, 2) and outward normals. rim: outer
    edge of its outline, (m, 3). stands: names of what stands on it; stood: its points, (k, 3), each of which of
    them."""

    piece: Worn
    side: Side
    seat: Seat
    faces: Array
    uv: Array
    normals: Array
    rim: Array
    stands: tuple[str, ...] = ()
    stood: Array = field(default_factory=lambda: np.zeros((0, 3)))
    of: NDArray[np.int64] = field(default_factory=lambda: np.zeros(0, np.int64))

    @property
    def laid(self) -> LaidPiece:
        """As it lies on its tube."""
        return self.piece.on(self.side)

    def at_shape(self, points: Array, where: Array) -> str:
        """Name of what stands on it at a place; nothing where that is the piece itself. points: (n, 3), the last of
        which are those of what stands on it, as it is turned."""
        at = int(np.linalg.norm(points - where, axis=1).argmin()) - (len(points) - len(self.stood))
        return self.stands[self.of[at]] if at >= 0 else ""

    @cached_property
    def tree(self) -> KDTree:
        """Of its points."""
        return KDTree(self.faces, compact_nodes=False, balanced_tree=False)

    @property
    def key(self) -> tuple[int, Side]:
        """The piece's number, and which copy."""
        return self.piece.key, self.side


def shell_of(costume: Costume, piece: Worn, side: Side, near: Array) -> Shell | None:
    """A copy of a piece as points, those near a joint (3,). None where its part of the body is not known, or none is
    near."""
    seat = costume.seat(piece.part, side)
    if seat is None:
        return None
    laid = piece.on(side)
    uv = _face_grid(laid)
    face = _Sheet.of(laid.inked.surface, uv)
    sheet = [seat.place(face.at(d)) for d in (INNER, OUTER)], [uv] * 2, [seat.turn(face.normals)] * 2
    shell = _near(piece, side, seat, near, *(np.vstack(rows) for rows in sheet))
    return shell and _with_standing(shell, standing_on(costume, piece, side))


def _with_standing(shell: Shell, standing: list[Standing]) -> Shell:
    """With what stands on it, as points on its outer face."""
    if not standing:
        return shell
    import trimesh.remesh  # noqa: PLC0415 - takes a second to load, and few costumes want it

    finer = trimesh.remesh.subdivide_to_size
    dots = [finer(s.points, s.faces, 2 * FACE)[0] for s in standing]  # type: ignore[no-untyped-call]
    of = np.repeat(np.arange(len(dots)), [len(d) for d in dots])
    return replace(shell, stands=tuple(s.shape.name for s in standing), stood=shell.seat.place(np.vstack(dots)), of=of)


def cut_shell(was: Shell, piece: Worn, near: Array) -> Shell | None:
    """As ``shell_of``, of a piece that something was cut off: what is left of its points, and its rims as they are
    now."""
    laid = piece.on(was.side)
    flat = laid.plane.flat(was.uv)
    shapely.prepare(laid.area)
    left = shapely.contains_xy(laid.area, flat[:, 0], flat[:, 1])
    shell = _near(piece, was.side, was.seat, near, was.faces[left], was.uv[left], was.normals[left])
    return shell and replace(shell, stands=was.stands, stood=was.stood, of=was.of)


def _near(piece: Worn, side: Side, seat: Seat, near: Array, faces: Array, uv: Array, normals: Array) -> Shell | None:
    """A shell of points on its faces and of its rims, those near a joint."""
    laid = piece.on(side)
    rim_uv = _rim(laid)
    rim = _Sheet.of(laid.inked.surface, rim_uv)
    depths = np.linspace(INNER, OUTER, max(2, round(piece.design.foam / DEEP) + 1))
    points = np.vstack([faces, *(seat.place(rim.at(float(d))) for d in depths)])
    kept = np.linalg.norm(points - near, axis=1) < NEAR_JOINT
    if not kept.any():
        return None
    places = np.vstack([uv, *([rim_uv] * len(depths))])
    ways = np.vstack([normals, *([seat.turn(rim.normals)] * len(depths))])
    return Shell(piece, side, seat, points[kept], places[kept], ways[kept], seat.place(rim.at(OUTER)))


@dataclass(frozen=True, eq=False)
class _Sheet:
    """Places of a sheet whose layers are all found from the innermost."""

    inner: Array
    normals: Array
    thickness: float

    @classmethod
    def of(cls, surface: ArmourSurface, uv: Array) -> "_Sheet":
        point, normal = surface.tube.frame(uv[:, 0], uv[:, 1])
        return cls(point + surface.offset(uv, INNER)[:, None] * normal, normal, surface.thickness)

    def at(self, depth: float) -> Array:
        """(n, 3) mm on the layer at a share of the thickness."""
        return np.asarray(self.inner + depth * self.thickness * self.normals)


def _face_grid(laid: LaidPiece) -> Array:
    low_x, low, high_x, high = laid.area.bounds
    x, y = (g.ravel() for g in np.meshgrid(np.arange(low_x, high_x, FACE), np.arange(low, high, FACE)))
    shapely.prepare(laid.area)
    inside = shapely.contains_xy(laid.area, x, y)
    return laid.plane.uv(np.stack([x[inside], y[inside]], axis=1))


def _rim(laid: LaidPiece) -> Array:
    rings = [r for p in shapely.get_parts(laid.area) for r in (p.exterior, *p.interiors)]
    flat = [shapely.get_coordinates(shapely.segmentize(r, RIM)) for r in rings if r.length > 40]
    return laid.plane.uv(np.vstack(flat))
