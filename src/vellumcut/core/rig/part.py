"""One thing of a rig to cut or to count."""

from dataclasses import dataclass

from vellumcut.core.notes import Note, Value
from vellumcut.core.paces import Work

ANCHORED, STRIPPED = "anchored", "stripped"
"""Stand for how webbing, and elastic under a strip, are fixed until the maker's schools are known: ``Fixing`` says
it."""
LACE_END = 350.0
"""Lace left at each end to tie and to open by, mm (est.)."""


@dataclass(frozen=True)
class StrapPart:
    """Something to cut or count, for one copy of the piece. length: cut length in mm, 0 for counted things. at: mm
    above the lower edge. ends: of webbing, that are glued to foam, for each. sewn: ends that are sewn, for each.
    set_by: the work that each is set into the foam by; None for what is only cut or sewn on."""

    name: str
    count: int
    length: float
    at: tuple[float, ...]
    note: Note
    stitches: str
    glue: str
    ends: int = 0
    sewn: int = 0
    set_by: Work | None = None


@dataclass(frozen=True)
class Slide:
    """A plate that slides behind an edge of the piece. detail: its key. opens: what the edge moves away by when its
    wearer leans, mm. reach: how far the plate lies behind the edge as one stands, mm; posture: what asks for it."""

    detail: str
    edge: str
    opens: float
    reach: float
    posture: str

    @property
    def words(self) -> str:
        """How far it reaches, and why."""
        return (
            f"{self.reach:.0f} mm of it lie behind the {self.edge}: when you {self.posture} that edge moves "
            f"{self.opens:.0f} mm away, and {self.reach - self.opens:.0f} mm stay covered."
        )


def counted(name: str, count: int, why: str, set_by: Work | None = None) -> StrapPart:
    """Things that are not cut, one for each strap."""
    note = Note(
        name.capitalize(),
        Value(name, count, "count"),
        "{0} straps",
        (Value("straps", count, "count"),),
        why,
        about="strap",
    )
    return StrapPart(name, count, 0.0, (), note, "sewn or riveted, not glued", "none", set_by=set_by)
