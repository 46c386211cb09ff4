"""The costume on its wearer as meshes to look at: parts of the body and pieces, by the region that they move with."""

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from vellumcut.core.body.segments import Side
from vellumcut.core.cast.armour import OUTER
from vellumcut.core.cast.picture import picture_mesh, picture_tube
from vellumcut.core.errors import CraftError
from vellumcut.core.flatten.mesh import panel_shape
from vellumcut.core.rig.costume import Costume, Worn
from vellumcut.core.rig.figure import Region, Seat
from vellumcut.core.worn.standing import standing_on

Array = NDArray[np.float64]
Faces = NDArray[np.int64]

BODY_ROWS, BODY_COLUMNS = 14, 27
SKIN_IN = 1.5
"""The body is drawn a little smaller, so that what lies on it is not drawn into it, mm."""


@dataclass(frozen=True, eq=False)
class FigurePart:
    """points: (n, 3) mm on the standing figure. faces: (m, 3), outward. piece: its number; 0 for the body. side: of the
    body."""

    region: Region
    points: Array
    faces: Faces
    piece: int = 0
    side: Side = "left"


def body_parts(costume: Costume) -> list[FigurePart]:
    """The body, its trunk cut at the waist."""
    out = []
    for (part, side), seat in costume.figure.seats.items():
        picture = picture_tube(seat.tube, BODY_ROWS, BODY_COLUMNS)
        places, points, faces = picture_mesh(picture, seat.tube)
        normal = seat.tube.frame(places[:, 0], places[:, 1])[1]
        made = seat.place(points - SKIN_IN * normal)
        turned = _outward(faces, seat)
        if part != "torso":
            out.append(FigurePart("neck" if part == "neck" else f"{side} {part}", made, turned, 0, side))
            continue
        above = made[turned].mean(axis=1)[:, 2] > costume.figure.waist
        out += [FigurePart("chest", made, turned[above]), FigurePart("hips", made, turned[~above])]
    return out


def piece_parts(costume: Costume) -> list[FigurePart]:
    """Every copy of every piece, its outer face, and of what stands on it."""
    return [part for piece in costume.pieces for side in piece.sides for part in _copies(costume, piece, side)]


def _copies(costume: Costume, piece: Worn, side: Side) -> Iterator[FigurePart]:
    seat = costume.seat(piece.part, side)
    if seat is None:
        return
    laid = piece.on(side)
    region = costume.region(piece, side)
    for ink, twin in zip(laid.inked.panels, laid.inked.twins, strict=True):
        try:
            points, faces = panel_shape(laid.inked.surface, ink, OUTER)
        except CraftError:
            continue
        turned = _outward(faces.astype(np.int64), seat)
        yield FigurePart(region, seat.place(points), turned, piece.key, side)
        if twin:
            yield FigurePart(region, seat.place(points * [-1.0, 1.0, 1.0]), turned[:, ::-1], piece.key, side)
    for stands in standing_on(costume, piece, side):
        yield FigurePart(region, seat.place(stands.points), _outward(stands.faces, seat), stands.shape.key, side)


def _outward(faces: Faces, seat: Seat) -> Faces:
    return np.asarray(faces[:, ::-1] if seat.mirrored else faces)
