"""What a rig is made of: anchors and straps as rows, told by where they lie on a piece, and what they end on."""

from dataclasses import dataclass
from typing import Literal

from vellumcut.core.design.piece import TemplateName

AnchorKind = Literal["webbing", "tack", "eyelet", "magnet"]
Material = Literal["webbing", "elastic"]
Fastening = Literal["side-release buckle", "hook-and-loop", "ring", "sewn", "tack", "snaps", "ratchet", "hook"]
Through = Literal["near", "back", "front", "inside", "round", "trunk"]
"""Which way round a strap runs: the nearer, behind the body, before it, along the inside of an arm, all the way round,
or from an arm round the trunk under the far arm."""
Carrier = Literal["belt or vest", "vest", "own belt", "trousers", "shoe", "glove", "elastic across"]
"""What a piece may hang on that is no armour."""


@dataclass(frozen=True)
class Spot:
    """A place on a piece. x: -1 its end on the wearer's right, 1 on the left, of its left half where it has two. y: 0
    its lowest, 1 its highest. inset: least distance from its edges, mm."""

    x: float
    y: float
    inset: float = 20.0


@dataclass(frozen=True)
class AnchorRow:
    """pair: on a piece of both sides it is there on the left, and mirrored on the right."""

    key: str
    spot: Spot
    kind: AnchorKind = "webbing"
    pair: bool = False


@dataclass(frozen=True)
class Carried:
    """A place on something worn that is no armour. at: (around, station) on the trunk; None: beside the anchor itself.
    beyond: from there, away from the piece's middle round the body and upward, mm."""

    by: Carrier
    at: tuple[float, float] | None = None
    beyond: tuple[float, float] = (0.0, 0.0)


@dataclass(frozen=True)
class Landing:
    """Where a strap ends on another piece: the first of these templates that the costume has; on what is worn
    beneath, where it has none of them."""

    spots: tuple[tuple[TemplateName, Spot], ...] = ()
    worn: Carried | None = None


@dataclass(frozen=True)
class StrapRow:
    """start: key of an anchor. end: of another on the same piece, or a landing. cross: of a pair, it runs to the anchor
    on the other side. lifts: by it the piece hangs: it carries the load. one_belt: it is a stretch of one belt that
    runs on along the inside of its piece."""

    key: str
    words: str
    start: str
    end: str | Landing
    material: Material = "webbing"
    fastening: Fastening = "hook-and-loop"
    through: Through = "near"
    cross: bool = False
    lifts: bool = False
    one_belt: bool = False

    @property
    def tab(self) -> bool:
        """Whether only its start is glued: its end snaps or hooks on to something that is no armour."""
        return isinstance(self.end, Landing) and not self.end.spots and self.fastening in ("snaps", "hook")


@dataclass(frozen=True)
class Rig:
    """needs: templates that the costume must have. rows: straps at even heights across the opening of a limb shell are
    added where ``across`` is set. hides: where its closure does not catch the eye. paired: only for a piece that is
    worn on both sides."""

    key: str
    words: str
    why: str
    anchors: tuple[AnchorRow, ...] = ()
    straps: tuple[StrapRow, ...] = ()
    needs: tuple[TemplateName, ...] = ()
    across: bool = False
    laced: bool = False
    hides: str = ""
    paired: bool = False

    @property
    def hangs_free(self) -> bool:
        """Whether nothing goes round the limb: the plate swings when the wearer moves, and pulls no strap longer."""
        return bool(self.straps) and not self.across and all(isinstance(s.end, Landing) for s in self.straps)
