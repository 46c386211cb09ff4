"""The cut list of a piece and of a build, from the patterns that leave the program."""

from collections.abc import Sequence
from dataclasses import dataclass, field

from vellumcut.core.errors import CraftError
from vellumcut.core.flatten.mesh import CUT_SIZE
from vellumcut.core.paces import Tempo
from vellumcut.core.shop.cut_list import CutRow, SheetSum, cut_rows, sum_sheets, two_lefts
from vellumcut.service.keeping.builds import Work
from vellumcut.service.kept import Kept
from vellumcut.service.making.plans import tempo_key
from vellumcut.service.pattern.patterns import cutting_pattern, pattern_key


@dataclass(frozen=True)
class PieceCuts:
    """Everything that is cut for a piece. trouble: why nothing can be cut yet."""

    piece: int
    name: str
    rows: list[CutRow] = field(default_factory=list)
    trouble: str = ""


@dataclass(frozen=True)
class CutList:
    """All of a build. lefts: what speaks for a second left part."""

    pieces: list[PieceCuts]
    sheets: list[SheetSum]
    lefts: list[str]

    @property
    def rows(self) -> list[CutRow]:
        return [row for piece in self.pieces for row in piece.rows]


def _cuts(work: Work, tempo: Tempo) -> list[CutRow]:
    return cut_rows(cutting_pattern(work), tempo)


_kept = Kept(_cuts, lambda work, tempo: f"{pattern_key(work, CUT_SIZE)}|{tempo_key(tempo)}", 60)


def piece_cuts(work: Work, tempo: Tempo) -> PieceCuts:
    """What is cut for one piece, or why it cannot be cut yet."""
    try:
        return PieceCuts(work.piece_id, work.name, _kept(work, tempo))
    except CraftError as error:
        return PieceCuts(work.piece_id, work.name, trouble=error.message)


def cut_list(works: Sequence[Work], tempo: Tempo) -> CutList:
    """Of a whole build, piece by piece."""
    pieces = [piece_cuts(work, tempo) for work in works]
    rows = [row for piece in pieces for row in piece.rows]
    return CutList(pieces, sum_sheets(rows), two_lefts(rows, works[0].shelf if works else ()))
