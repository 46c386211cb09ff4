"""Plates that slide behind an edge at the waist: how far they reach, from what opens when the wearer leans back."""

import numpy as np

from vellumcut.core.body.segments import Side
from vellumcut.core.rig.closures.facing import edges_of
from vellumcut.core.rig.costume import Costume, Worn
from vellumcut.core.rig.figure import Joint
from vellumcut.core.rig.part import Slide
from vellumcut.core.worn.postures import turns_of
from vellumcut.core.worn.sweep import Hinge

POSTURE = "lean back"
"""In which a waist must show no gap (making.md, section 3). Arms, legs and backs bend too far for a plate that is
tacked at its corners (est.)."""
STAYS = 10.0
"""Of the plate that stays covered then, mm (est.): on most wearers it comes to the 25 to 50 mm that makers leave."""
TELLS = 5.0
"""An edge that rises by less does not open, mm."""


def slides_of(costume: Costume, piece: Worn, side: Side) -> tuple[Slide, ...]:
    """Every sliding plate of a piece of the chest whose edge moves away when the wearer leans back."""
    plates = [d for d in piece.design.making.details if d.kind == "sliding plate"]
    ((joint, motion, degrees),) = turns_of(POSTURE)
    turns = costume.figure.joints[joint].moves.get(costume.region(piece, side))
    if not plates or piece.part != "torso" or not turns:
        return ()
    edges = _edges(costume, piece, side)
    lowest = min(edges, key=lambda name: float(edges[name][:, 2].mean()), default="")
    out = []
    for plate in plates:
        edge = plate.edge if plate.edge in edges else lowest
        opens = _rise(costume.figure.joints[joint], motion, degrees, edges[edge]) if edge else 0.0
        if opens > TELLS:
            out.append(Slide(plate.key, edge, opens, opens + STAYS, POSTURE))
    return tuple(out)


def _edges(costume: Costume, piece: Worn, side: Side) -> dict[str, np.ndarray]:
    """Free edges by name, as points on the figure, (n, 3) mm."""
    laid, seat = piece.on(side), costume.seat(piece.part, side)
    if seat is None:
        return {}
    own = edges_of(laid)
    return {
        name: seat.place(laid.inked.surface.points(np.vstack([uv for uv, _ in rows]))) for name, rows in own.items()
    }


def _rise(joint: Joint, motion: str, degrees: float, edge: np.ndarray) -> float:
    """How far the edge rises at most, mm: what lies below the waist stays."""
    hinge = Hinge(joint.at, np.array(next(m.axis for m in joint.motions if m.key == motion)))
    return float((hinge.turned(edge, np.radians(degrees)) - edge)[:, 2].max())
