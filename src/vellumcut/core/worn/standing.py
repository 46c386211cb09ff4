"""What stands on the pieces of a costume, such as a horn on a pauldron: where it is on its wearer."""

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from vellumcut.core.body.segments import Side
from vellumcut.core.cast.armour import OUTER
from vellumcut.core.design.parts import Plate
from vellumcut.core.errors import CraftError
from vellumcut.core.parts.laid import LaidPart, laid_parts
from vellumcut.core.rig.costume import Costume, Shape, Worn
from vellumcut.core.rig.laid import LaidPiece
from vellumcut.core.solids.joined import foot_of, outer_face

Array = NDArray[np.float64]
Faces = NDArray[np.int64]

NEARBY = 2.0
"""mm beside a place from which the way round and up is read there."""


@dataclass(frozen=True, eq=False)
class Standing:
    """A shape as it stands on a piece. points: (n, 3) mm of its outer face, on the piece's tube. faces: (m, 3),
    outward."""

    shape: Shape
    points: Array
    faces: Faces


def standing_on(costume: Costume, piece: Worn, side: Side) -> list[Standing]:
    """All that stands on one copy of a piece, mirror images among it. What does not lie on the foam, or cannot be made,
    is left out."""
    key = ("standing", piece.key, side)
    if key not in costume.kept:
        costume.kept[key] = list(_standing(costume, piece.on(side)))
    found: list[Standing] = costume.kept[key]  # type: ignore[assignment]
    return found


def standing_count(costume: Costume, piece: Worn, shape: Shape) -> int:
    """How many of a shape stand on all copies of a piece."""
    return sum(s.shape is shape for side in piece.sides for s in standing_on(costume, piece, side))


def _standing(costume: Costume, laid: LaidPiece) -> Iterator[Standing]:
    shapes = {s.name: s for s in costume.shapes}
    if not any(d.of in shapes for d in laid.design.making.details):
        return
    twins = {p.number for p, twin in zip(laid.inked.panels, laid.inked.twins, strict=True) if twin}
    places: dict[str, Iterator[tuple[float, ...]]] = {}
    for part in laid_parts(laid.inked):
        detail = part.detail
        if detail.of not in shapes or not isinstance(detail.shape, Plate):
            continue
        at = next(places.setdefault(detail.key, iter(detail.shape.places)))
        if not part.marks:
            continue
        try:
            made = _stood(laid, part, detail.shape, at, shapes[detail.of])
        except CraftError:
            continue
        yield from [made, _mirrored(made)] if part.panel in twins and not part.halved else [made]


def _stood(laid: LaidPiece, part: LaidPart, plate: Plate, at: tuple[float, ...], shape: Shape) -> Standing:
    """On the middle of its foot's height over the curved foam, its own way up turned as its foot is."""
    low_x, low_y, high_x, high_y = foot_of(shape.design).bounds
    points, faces = outer_face(shape.design)
    own = points - [(low_x + high_x) / 2, (low_y + high_y) / 2, points[:, 2].min()]
    here, axes = _frame(laid, (0.0, at[1]) if part.halved else at, plate.turn)
    ring = laid.inked.surface.points(np.vstack([line.uv for _, line in part.marks]), OUTER)
    return Standing(shape, own @ axes + here + float(((ring - here) @ axes[2]).mean()) * axes[2], faces)


def _frame(laid: LaidPiece, at: tuple[float, ...], turn: float) -> tuple[Array, Array]:
    """A place on the outer face, (3,) mm, and what lies to the right, up and outwards of it for a plate turned by so
    many degrees, (3, 3)."""
    u, v = at
    tube = laid.inked.tube
    low, high = tube.along(float(tube.mm(np.array([v]))[0]) + np.array([-NEARBY, NEARBY]))
    around = NEARBY / float(tube.girth(np.array([v]))[0])
    cross = np.array([[u, v], [u - around, v], [u + around, v], [u, low], [u, high]])
    here, left, beside, below, above = laid.inked.surface.points(cross, OUTER)
    out = np.cross(beside - left, above - below)
    out /= np.linalg.norm(out)
    rise = (above - below) - ((above - below) @ out) * out
    rise /= np.linalg.norm(rise)
    right = np.cross(rise, out)
    c, s = np.cos(np.radians(turn)), np.sin(np.radians(turn))
    return here, np.stack([c * right + s * rise, c * rise - s * right, out])


def _mirrored(made: Standing) -> Standing:
    return Standing(made.shape, made.points * [-1.0, 1.0, 1.0], made.faces[:, ::-1])
