"""The cut list: one row for each outline that is cut, of panels and of what is laid on them alike (shop rule book,
section 1). Sheets, knife, time and labels read from it."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from vellumcut.core.design.foam import FoamKind
from vellumcut.core.foam.shelf import ShelfSheet, facts_of_sheet
from vellumcut.core.make.quantities import BLADE_LIFE
from vellumcut.core.paces import Tempo
from vellumcut.core.pattern.drawn import DrawnPanel
from vellumcut.core.pattern.pattern import PiecePattern

SCISSORS = 2.0
"""Foam this thin is cut by scissors, mm."""
GROOVES = ("fold", "score", "cut rim", "kerf", "layer cut")
"""Lines inside a panel that a blade runs along."""


@dataclass(frozen=True)
class CutRow:
    """One outline. code: as on its label; name: of the piece and, of what is laid on it, of the part. as_drawn, turned:
    how many are cut from the pattern as it lies and turned over. Lengths of one copy, mm: outline, inner for what is
    cut out of it, bevel of edges that are not square, groove of what is cut into it. area: of one, mm2. size: in words,
    where it is cut by ruler. minutes: to cut them all out."""

    code: str
    name: str
    side: str
    face: str
    kind: FoamKind
    thickness: float
    as_drawn: int
    turned: int
    outline: float
    inner: float
    bevel: float
    groove: float
    area: float
    minutes: float
    size: str = ""

    @property
    def count(self) -> int:
        return self.as_drawn + self.turned

    @property
    def tool(self) -> str:
        return "scissors" if self.thickness <= SCISSORS else "knife"


@dataclass(frozen=True)
class SheetSum:
    """All that is cut from one kind of sheet. area: mm2, without what falls away between. blades: fresh edges."""

    kind: FoamKind
    thickness: float
    parts: int
    area: float
    outline: float
    minutes: float
    blades: int


def cut_rows(pattern: PiecePattern, tempo: Tempo) -> list[CutRow]:
    """Everything that is cut for a piece, from a pattern that is ready to leave (``as_cut``)."""
    return [_row(p, tempo) for p in pattern.to_cut]


def _row(p: DrawnPanel, tempo: Tempo) -> CutRow:
    flat = p.flat
    whole = flat.outline_length
    inner = sum(e.length for ring in flat.cut_rings[1:] for e in ring)
    turned = p.turned_copies
    square = {name for name, cut in p.edges.items() if cut.square}
    bevel = sum(e.length for e in (*flat.edges, *flat.holes) if e.name in p.edges and e.name not in square)
    return CutRow(
        p.label.code,
        p.label.piece,
        p.label.side,
        p.label.face,
        p.layer.kind,
        p.layer.thickness,
        p.copies - turned,
        turned,
        whole - inner,
        inner,
        bevel,
        sum(line.length for line in flat.lines if line.kind in GROOVES),
        flat.area,
        tempo.minutes("cut", whole * p.copies),
        p.by_measure,
    )


def sum_sheets(rows: Iterable[CutRow]) -> list[SheetSum]:
    """By sheet, the most foam first."""
    groups: dict[tuple[FoamKind, float], list[CutRow]] = {}
    for row in rows:
        groups.setdefault((row.kind, row.thickness), []).append(row)
    out = [_sum(kind, thickness, own) for (kind, thickness), own in groups.items()]
    return sorted(out, key=lambda s: -s.area)


def _sum(kind: FoamKind, thickness: float, rows: Sequence[CutRow]) -> SheetSum:
    length = sum((r.outline + r.inner) * r.count for r in rows)
    dulled = sum((r.outline + r.inner) * r.count * max(r.thickness, 2.0) / 6.0 for r in rows if r.tool == "knife")
    return SheetSum(
        kind,
        thickness,
        sum(r.count for r in rows),
        sum(r.area * r.count for r in rows),
        length,
        sum(r.minutes for r in rows),
        int(-(-dulled // BLADE_LIFE)),
    )


def two_lefts(rows: Sequence[CutRow], shelf: Sequence[ShelfSheet] = ()) -> list[str]:
    """What speaks for a second left part: pairs that do not come out even, and pairs on a sheet with one good face,
    which can be turned over on the pattern and never on the sheet."""
    out = []
    for row in rows:
        if row.turned and row.turned != row.as_drawn:
            out.append(f"{row.code}: {row.as_drawn} as drawn and {row.turned} turned over are no pairs")
        if row.turned and facts_of_sheet(row.kind, row.thickness, shelf).textured:
            out.append(
                f"{row.code}: this sheet has one good face. Turn the pattern over for its twin, never the sheet, "
                "or you cut two of one side"
            )
    return out
