"""A strap through the air between two parts of the body: what moves with what, and how it is drawn tight."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from vellumcut.core.body.segments import BodyPart, Side
from vellumcut.core.rig.figure import Figure, Region, Turned, moved_by
from vellumcut.core.rig.geodesic import LEVELS, Path, Solid, taut_over

Array = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Air:
    """ends: (3,) mm on the standing figure, and the region that each moves with. faces: what it cannot run through, and
    the region that each moves with. through: what it begins with between its ends. levels: with how many nodes it is
    drawn tight."""

    ends: tuple[tuple[Array, Region], tuple[Array, Region]]
    faces: Sequence[tuple[Solid | None, Region]]
    through: Sequence[Array] = ()
    levels: Sequence[int] = LEVELS


def drawn_tight(figure: Figure, air: Air, turns: list[Turned]) -> Path:
    """The strap in a posture, its joints turned."""
    start, end = (moved_by(figure, region, turns, at[None])[0] for at, region in air.ends)
    faces = [_moved(figure, solid, region, turns) for solid, region in air.faces if solid is not None]
    return taut_over(start, end, faces, air.through, air.levels)


def _moved(figure: Figure, solid: Solid, region: Region, turns: list[Turned]) -> Solid:
    if not turns or not any(figure.joints[j].moves.get(region) for j, _, _ in turns):
        return solid
    origin = moved_by(figure, region, turns, np.zeros((1, 3)))
    normals = moved_by(figure, region, turns, solid.normals) - origin
    return Solid(moved_by(figure, region, turns, solid.points), normals)


def postures_of(part: BodyPart, far: BodyPart, side: Side) -> list[tuple[str, list[Turned]]]:
    """What stretches a strap between two parts of the body, in words and as turned joints."""
    if part in ("thigh", "knee", "lower leg") and far == "torso":
        return [("sit", [(f"{side} hip", "bend", 90.0), (f"{side} knee", "bend", 90.0)]),
            ("step back", [(f"{side} hip", "reach back", 20.0)])]  # fmt: skip
    if part in ("shoulder", "upper arm", "forearm"):
        return [("reach forward", [(f"{side} shoulder", "raise", 90.0)]),
            ("raise the arm sideways", [(f"{side} shoulder", "spread", 90.0)]),
                ("reach behind", [(f"{side} shoulder", "reach back", 40.0)])]  # fmt: skip
    return [("bend the knee", [(f"{side} knee", "bend", 90.0)])]
