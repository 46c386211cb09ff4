"""The costume on its wearer: every piece seated on the figure, with the region of the body that it moves with."""

from dataclasses import dataclass, field
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from vellumcut.core.body.segments import BodyPart, Side
from vellumcut.core.cast.halves import WHOLE
from vellumcut.core.design.piece import PieceDesign
from vellumcut.core.errors import CraftError
from vellumcut.core.ink.library.table import TEMPLATES
from vellumcut.core.ink.stage import InkedPiece
from vellumcut.core.rig.anchors import Anchor, Mate, anchors_of, rig_of_design, sides_of
from vellumcut.core.rig.figure import Figure, Region, Seat
from vellumcut.core.rig.geodesic import Solid
from vellumcut.core.rig.laid import LaidPiece
from vellumcut.core.rig.outside import Outside
from vellumcut.core.rig.recipes import LIES_OVER
from vellumcut.core.rig.rows import Rig

Array = NDArray[np.float64]

FACE_STEP = 5.0
"""Distance of the points that stand for a face a strap may run over, mm."""


@dataclass(frozen=True, eq=False)
class Worn:
    """One piece of the costume. key: its number in the build. inked: its drawn sides. weight: of all its copies, g,
    where it is known."""

    key: int
    name: str
    design: PieceDesign
    inked: dict[Side, InkedPiece]
    weight: float = 0.0

    @property
    def part(self) -> BodyPart:
        """Of the body it covers."""
        return TEMPLATES[self.design.template].part

    @cached_property
    def laid(self) -> dict[Side, LaidPiece]:
        """Each drawn side with its area."""
        return {side: LaidPiece(piece) for side, piece in self.inked.items()}

    def on(self, side: Side) -> LaidPiece:
        """As it is drawn for a side of the body: its own drawing, or the one that is turned over."""
        return self.laid.get(side) or next(iter(self.laid.values()))

    @property
    def sides(self) -> tuple[Side, ...]:
        """Where it is worn; what lies on a part of both sides is worn once."""
        return ("left",) if self.on("left").whole else sides_of(self.design)

    @property
    def copies(self) -> int:
        """How many are worn."""
        return len(self.sides)

    @property
    def mate(self) -> Mate:
        """As rigs of other pieces see it."""
        return Mate(self.key, self.design.template, self.design.rig.way, self.design.side)


@dataclass(frozen=True, eq=False)
class Shape:
    """A piece without a cast, that stands on others. key: its number in the build."""

    key: int
    name: str
    design: PieceDesign


@dataclass(frozen=True, eq=False)
class Costume:
    """All pieces on the figure, and what may stand on them. kept: what was worked out of them, so that it is worked out
    once."""

    figure: Figure
    pieces: tuple[Worn, ...]
    kept: dict[object, object] = field(default_factory=dict, repr=False)
    shapes: tuple[Shape, ...] = ()

    @cached_property
    def mates(self) -> tuple[Mate, ...]:
        """Every piece as rigs see it."""
        return tuple(p.mate for p in self.pieces)

    def piece(self, key: int) -> Worn:
        """The piece of that number. Raises CraftError for one that could not be laid on this wearer."""
        found = next((p for p in self.pieces if p.key == key), None)
        if found is None:
            raise CraftError("The piece does not lie on this wearer yet")
        return found

    def rig(self, piece: Worn) -> Rig:
        """What holds a piece in this costume."""
        return rig_of_design(piece.design, self.mates)

    def anchors(self, piece: Worn, side: Side) -> list[Anchor]:
        """All anchors on one side of a piece."""
        key = ("anchors", piece.key, side)
        if key not in self.kept:
            self.kept[key] = anchors_of(piece.on(side), self.mates, piece.key)
        found: list[Anchor] = self.kept[key]  # type: ignore[assignment]
        return found

    def seat(self, part: BodyPart, side: Side) -> Seat | None:
        """Where a part of the body is, if it is known."""
        return self.figure.seats.get((part, "left" if part in WHOLE else side))

    def region(self, piece: Worn, side: Side) -> Region:
        """The part of the body a piece moves with: of the trunk, what it mostly lies on."""
        if piece.part == "neck":
            return "neck"
        if piece.part != "torso":
            return f"{side} {piece.part}"
        seat = self.figure.seats["torso", "left"]
        middle = np.array([[0.0, float(piece.on("left").area.centroid.y)]])
        place = piece.on("left").plane.uv(middle)
        return "chest" if seat.tube.uv_to_xyz(place)[0, 2] > self.figure.waist else "hips"

    def outside(self, part: BodyPart, side: Side, rank: int, base: float, armless: bool = False) -> Outside:
        """The outside of a part with all that lies on it up to a rank. base: base layer, mm. armless: of a trunk whose
        arms are parts of their own here."""
        side = "left" if part in WHOLE else side
        key = ("outside", part, side, rank, base, armless)
        if key not in self.kept:
            own = [p for p in self.pieces if p.part == part and side in p.sides]
            under = tuple(p.on(side) for p in own if LIES_OVER[p.design.template] <= rank)
            seat = self.seat(part, side)
            bare = [p for p in own if not (p.design.over or p.design.padding)]
            tube = bare[0].on(side).inked.tube if bare else seat.tube  # type: ignore[union-attr]
            self.kept[key] = Outside(tube, base, under, armless)
        found: Outside = self.kept[key]  # type: ignore[assignment]
        return found

    def solid(self, part: BodyPart, side: Side, rank: int, base: float) -> Solid | None:
        """The same as a face on the figure that nothing runs through, a trunk without its arms; None where the part is
        not known."""
        seat = self.seat(part, side)
        if seat is None:
            return None
        key = ("solid", part, side, rank, base)
        if key not in self.kept:
            out = self.outside(part, side, rank, base, armless=True)
            uv = _face_grid(out)
            points = seat.place(out.points(uv))
            _, normal = out.tube.frame(uv[:, 0], uv[:, 1])
            self.kept[key] = Solid(points, seat.turn(normal))
        found: Solid = self.kept[key]  # type: ignore[assignment]
        return found


def _face_grid(out: Outside) -> Array:
    low, high = out.tube.reach
    low, high = max(low, out.tube.at[0] - 40.0), min(high, out.tube.at[-1] + 40.0)
    rows = np.linspace(low, high, max(8, round((high - low) / FACE_STEP)))
    around = np.linspace(0, 1, max(24, round(out.plane.turn / FACE_STEP)), endpoint=False)
    v, u = (g.ravel() for g in np.meshgrid(out.tube.along(rows), around, indexing="ij"))
    return np.stack([u, v], axis=1)
