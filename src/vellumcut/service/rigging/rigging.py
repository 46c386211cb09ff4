"""What a maker changes about rigs on the figure."""

import numpy as np

from vellumcut.core.body.segments import Side
from vellumcut.core.errors import CraftError
from vellumcut.core.rig.costume import Costume, Worn
from vellumcut.service.keeping import builds
from vellumcut.service.rigging.rigs import worn_by
from vellumcut.store.database import Store

EDGE = 8.0
"""An anchor stays this far inside the edge, mm."""


def move_anchor(store: Store, number: int, name: str, side: Side, at: tuple[float, ...] | None) -> None:
    """Set an anchor where it was dropped on the figure, mm; None puts it back. Raises CraftError for an anchor the
    piece has not."""
    work = builds.work_on(store, number)
    costume, piece = worn_by(work)
    anchor = next((a for a in costume.anchors(piece, side) if a.name == name), None)
    if anchor is None:
        known = ", ".join(a.name for a in costume.anchors(piece, side)) or "none"
        raise CraftError(f'{work.name} has no anchor "{name}"; it has {known}', "name")
    moved = dict(work.design.rig.moved)
    moved.pop(anchor.key, None)
    if at is not None:
        u, v = place_on(costume, piece, side, np.array(at))
        moved[anchor.key] = (-u if anchor.mirrored else u, v)
    rig = work.design.rig.model_copy(update={"moved": moved})
    builds.change_piece(store, number, None, work.design.model_copy(update={"rig": rig}))


def place_on(costume: Costume, piece: Worn, side: Side, at: np.ndarray) -> tuple[float, float]:
    """(around, along) on a piece nearest to a place on the figure, mm. Raises CraftError."""
    seat = costume.seat(piece.part, side)
    if seat is None:
        raise CraftError(f"The {piece.part} was not measured, so there is nothing to drop it on", "at")
    laid = piece.on(side)
    local = (at * ([-1.0, 1.0, 1.0] if seat.mirrored else [1.0, 1.0, 1.0]) - seat.origin) @ seat.axes.T
    u, v = laid.inked.tube.closest_uv(local[None])[0]
    return laid.nearest((float(u), float(v)), EDGE)
