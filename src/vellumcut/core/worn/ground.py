"""What stands on the ground or on a chair: plates that scrape at every step, rings that stand up behind a sitting
wearer."""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from vellumcut.core.rig.costume import Costume
from vellumcut.core.rig.figure import Joint
from vellumcut.core.worn.movement import edge_near, kept_shell
from vellumcut.core.worn.shells import Shell

Array = NDArray[np.float64]

CLEAR = 6.0
"""So far off the ground nothing scrapes on a flat floor, mm (est.)."""
GIVES_IN = 10.0
"""A seat's cover and the flesh on it give way by so much, mm (est.)."""


@dataclass(frozen=True, eq=False)
class Scrape:
    """on: what a piece stands on. mm: by how much too low. edge: of the piece, that is lowest there. at: (3,) mm,
    standing."""

    on: Literal["ground", "chair"]
    piece: int
    side: str
    edge: str
    mm: float
    at: Array


def scrapes_of(costume: Costume, joint: Joint) -> list[Scrape]:
    """At an ankle, what comes too near to the ground; at a hip, what stands on the chair behind the thighs."""
    name = joint.key.split()[-1]
    side = joint.key.split()[0]
    if name == "ankle":
        level = costume.figure.ground + CLEAR
        return list(_below(costume, joint, (f"{side} foot", f"{side} lower leg"), level, "ground"))
    thigh = costume.figure.seats.get(("thigh", "left" if side == "left" else "right"))
    if name != "hip" or thigh is None:
        return []
    # Bent by a right angle the thigh lies level about the joint: its under side is where the seat is.
    under = float(thigh.tube.half_widths(np.array([thigh.tube.at[-1]]))[1][0])
    return list(_below(costume, joint, ("hips", "chest"), float(joint.at[2]) - under - GIVES_IN, "chair"))


def _below(
    costume: Costume, joint: Joint, regions: tuple[str, ...], level: float, on: Literal["ground", "chair"]
) -> Iterator[Scrape]:
    for piece in costume.pieces:
        for side in piece.sides:
            shell = kept_shell(costume, piece, side, joint) if costume.region(piece, side) in regions else None
            lowest = None if shell is None else _lowest(shell, joint, on)
            if shell is None or lowest is None or lowest[2] >= level:
                continue
            yield Scrape(on, piece.key, side, edge_near(shell, lowest), float(level - lowest[2]), lowest)


def _lowest(shell: Shell, joint: Joint, on: str) -> Array | None:
    """The lowest place of a piece; of one on a chair, behind the hip and on the joint's side."""
    points = shell.faces
    if on == "chair":
        points = points[(points[:, 1] > joint.at[1]) & (points[:, 0] * joint.at[0] >= 0)]
    return points[int(points[:, 2].argmin())] if len(points) else None
