"""What is laid on a piece: its lines, what lies along them, and what a change would make of it."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from vellumcut.core.body.segments import Side
from vellumcut.core.design.making import Detail
from vellumcut.core.design.parts import lines_along
from vellumcut.core.errors import CraftError
from vellumcut.core.ink.lines import line_word
from vellumcut.core.ink.stage import InkedPiece
from vellumcut.core.make.weight import detail_grams
from vellumcut.core.paces import Tempo
from vellumcut.core.parts.crossings import PUNCH, crossings_of
from vellumcut.core.parts.laid import LaidPart, laid_parts, lay_part
from vellumcut.core.parts.lines import LineThere, lines_there
from vellumcut.core.parts.mends import mends_of
from vellumcut.core.pattern.drawn import DrawnPanel
from vellumcut.core.pattern.laid_on.panels import at_sizes
from vellumcut.core.pattern.laid_on.places import Shown, lines_on, shown_on
from vellumcut.core.pattern.laid_on.sums import PartSum, sum_of
from vellumcut.core.pattern.pattern import PiecePattern
from vellumcut.core.solids.joined import with_foot
from vellumcut.service.keeping.builds import Work
from vellumcut.service.making.plans import job_of, planned
from vellumcut.service.pattern.patterns import laid_ink, pattern_of

Array = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class LaidRow:
    """One detail with its figures and where it shows. worn: its lines on the first drawn
    side as it is worn, (n, 3) mm. crosses: what it lies over that it should not, and wrong: where. minutes, grams: None
    while it is only tried."""

    sum: PartSum
    shown: Sequence[Shown]
    worn: Sequence[Array] = ()
    crosses: tuple[str, ...] = ()
    wrong: Sequence[Shown] = ()
    minutes: float | None = None
    grams: float | None = None

    @property
    def fits(self) -> bool:
        """Whether all of it lies where it can."""
        return not self.crosses and not self.sum.problems and bool(self.shown)


@dataclass(frozen=True, eq=False)
class LineShown:
    """A line of the piece that something can be laid along, and where it shows on its flat panels."""

    line: LineThere
    shown: Sequence[Shown]


def lines_of(work: Work) -> list[LineShown]:
    """Lines of the piece along which something can be laid, over all drawn sides. Raises CraftError."""
    there: dict[str, LineThere] = {}
    for piece in _inked(work):
        for line in lines_there(piece):
            there.setdefault(line.name, line)
    panels = [p for p in pattern_of(work).panels if p.layer.number == p.layer.count]
    return [LineShown(line, [x for p in panels if (x := _line_on(p, line)).rings]) for line in there.values()]


def _line_on(panel: DrawnPanel, line: LineThere) -> Shown:
    flat = panel.flat
    edges = [e.points(2.0) for e in (*flat.edges, *flat.holes) if line_word(e.name) == line.name]
    inside = [x.points for x in flat.lines if line_word(x.name) == line.name and line.kind == "inked"]
    return Shown(panel.label.code, (*edges, *inside))


def laid_rows(work: Work, tempo: Tempo) -> list[LaidRow]:
    """All that has a shape, in the order the maker put it on. Raises CraftError."""
    shaped = [d for d in work.design.making.details if d.shape]
    if not shaped:
        return []
    job, steps = job_of(work, tempo), planned(work, tempo).steps
    out = []
    for detail in shaped:
        try:
            row = try_part(work, detail)
        except CraftError as error:
            row = LaidRow(PartSum(detail, problems=(error.message,)), ())
        own = next(d for d in job.facts.making.details if d.key == detail.key)
        minutes = sum(s.minutes for key, s in steps.items() if key.endswith(f":{detail.key}"))
        grams = detail_grams(own, job, work.shelf)
        out.append(replace(row, minutes=minutes, grams=grams))
    return out


def try_part(work: Work, detail: Detail, to_cut: bool = False) -> LaidRow:
    """One detail as it would lie, whether or not the piece has it. Keeps nothing. to_cut: its outlines are laid out as
    they are cut, which takes longer than a hand that drags it waits. Raises CraftError."""
    pieces = {m.name: m.design for m in work.costume}
    pattern, detail = pattern_of(work), with_foot(detail, pieces)
    stands = pieces[detail.of].solid if detail.of in pieces else None
    rows: list[tuple[LaidPart, int]] = []
    shown: list[Shown] = []
    worn: list[Array] = []
    crosses: list[str] = []
    wrong: list[Shown] = []
    for side, piece in laid_ink(work).items():
        panels = [p for p in pattern.panels if p.side == side]
        parts = _parts(piece, detail, to_cut)
        rows += [(part, part.copies(_copies(panels, part.panel))) for part in parts]
        shown += shown_on(panels, parts)
        others = [p for p in laid_parts(piece) if p.detail.key != detail.key]
        met = crossings_of(piece, [*parts, *others], detail.key)
        crosses += [f"{x.words}: {x.advice}" if x.advice == PUNCH else x.words for x in met]
        wrong += lines_on(panels, [(x.panel, ring) for x in met for ring in x.rings])
        worn = worn or [_mirrored(points, side) for part in parts for points in part.worn(piece)]
    if not rows:
        wanted = " or ".join(lines_along(detail.shape)) or "it"
        raise CraftError(f"The piece has no line called {wanted} now: choose another", "making.details")
    total = replace(sum_of(rows), made=stands.made if stands else 0)
    return LaidRow(total, shown, worn, tuple(dict.fromkeys(crosses)), wrong)


def mend_part(work: Work, detail: Detail) -> LaidRow:
    """The detail where it fits, as near as can be to where it was. Keeps nothing. Raises CraftError where no place is
    found."""
    tube = next(iter(laid_ink(work).values())).tube
    for other in mends_of(detail, tube):
        try:
            row = try_part(work, other)
        except CraftError:
            continue
        if row.fits and try_part(work, other, to_cut=True).fits:
            return row
    raise CraftError("No place near by was found where it fits: make it smaller, or lay it along another line", "shape")


def sizes_of(work: Work, key: str) -> PiecePattern:
    """A plate's outline at three sizes, as papers draw it. Raises CraftError."""
    pattern = pattern_of(work)
    for side, piece in laid_ink(work).items():
        panels = at_sizes(piece, [p for p in pattern.panels if p.side == side], work.design, key)
        return replace(pattern, panels=tuple(panels), inked={})
    raise CraftError("Nothing lies on this piece", "making.details")


def _parts(piece: InkedPiece, detail: Detail, to_cut: bool) -> tuple[LaidPart, ...]:
    """A detail on a piece: as it was laid for the pattern, where the piece has it just so."""
    if detail in piece.design.making.details:
        return tuple(p for p in laid_parts(piece) if p.detail == detail)
    return lay_part(piece, detail, to_cut)


def _mirrored(points: Array, side: Side) -> Array:
    """The tube is modelled as a left limb."""
    return points * [-1.0 if side == "right" else 1.0, 1.0, 1.0]


def _copies(panels: Sequence[DrawnPanel], number: int) -> int:
    return next((p.copies for p in panels if p.flat.number == number), 0)


def _inked(work: Work) -> Iterator[InkedPiece]:
    if work.design.came_flat and work.design.laid is None:
        raise CraftError("Lay its panels on the wearer first: what is laid on them follows the body", "design.flat")
    yield from laid_ink(work).values()
