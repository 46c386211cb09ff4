"""A piece's foam: how its edges, folds and bends are worked, what it weighs, and what to do instead."""

from collections.abc import Iterator
from dataclasses import dataclass

from vellumcut.core.body.segments import Side
from vellumcut.core.design.foam import FoamKind, Role
from vellumcut.core.errors import CraftError
from vellumcut.core.foam.advice import Instead, SheetAdvice, advise_sheet, instead_of, role_of
from vellumcut.core.foam.bends import Kerfs, PanelBend, plan_kerfs
from vellumcut.core.foam.joints import Joint, joints_of
from vellumcut.core.foam.shelf import ShelfSheet, facts_of_sheet
from vellumcut.core.make.weight import foam_grams
from vellumcut.core.notes import Finding
from vellumcut.core.pattern.as_cut import crossings
from vellumcut.core.pattern.pattern import PiecePattern
from vellumcut.service.keeping.builds import Work, list_pieces, work_on
from vellumcut.service.pattern.patterns import laid_ink, pattern_of, quick_pattern
from vellumcut.store.database import Store


@dataclass(frozen=True)
class SheetUse:
    """Foam of one kind in a piece, all copies. area: m2. in_hand: m2 on the shelf. money: None while it has no
    price."""

    kind: FoamKind
    thickness: float
    area: float
    grams: float
    in_hand: float
    textured: bool
    money: float | None


@dataclass(frozen=True)
class BentPanel:
    """A panel's bend with the kerfs it is cut with, if any, and the ways to bend it otherwise."""

    side: Side
    bend: PanelBend
    kerfs: Kerfs | None
    instead: list[Instead]


@dataclass(frozen=True)
class PieceFoam:
    """All of a piece's foam. crossings: where its grooves cross."""

    pattern: PiecePattern
    sheets: list[SheetUse]
    bends: list[BentPanel]
    role: Role
    advice: SheetAdvice
    crossings: list[Finding]

    @property
    def grams(self) -> float:
        """Weight of its foam, all copies."""
        return sum(s.grams for s in self.sheets)


def foam_of(work: Work) -> PieceFoam:
    """Raises CraftError when the piece has no pattern."""
    pattern, shelf = quick_pattern(work), work.shelf
    role = role_of(work.design.worn_as, work.design.role)
    advice = advise_sheet(role, pattern.tightest, pattern.face_area, shelf)
    bends = list(_bends(pattern, shelf))
    return PieceFoam(pattern, sheets_of(pattern, shelf), bends, role, advice, crossings(pattern))


def sheets_of(pattern: PiecePattern, shelf: tuple[ShelfSheet, ...]) -> list[SheetUse]:
    """What foam a piece is made of, the most first."""
    out = []
    for (kind, thickness), use in sorted(pattern.foam.items(), key=lambda x: -x[1].area):
        facts = facts_of_sheet(kind, thickness, shelf)
        grams, money = foam_grams((kind, thickness), use, shelf), facts.cost(use.area)
        out.append(SheetUse(kind, thickness, use.area / 1e6, grams, facts.in_hand, facts.textured, money))
    return out


def _bends(pattern: PiecePattern, shelf: tuple[ShelfSheet, ...]) -> Iterator[BentPanel]:
    for side, piece in pattern.inked.items():
        for bend, panel in zip(pattern.bends[side], piece.panels, strict=True):
            own = [p for p in pattern.panels if (p.side, p.flat.number, p.layer.number) == (side, panel.number, 1)]
            area = sum(p.flat.area * p.copies for p in own)
            tall = max(float(p.flat.outline[:, 1].max() - p.flat.outline[:, 1].min()) * p.copies for p in own)
            kerfs = plan_kerfs(piece.surface, panel, bend) if bend.kerfed else None
            yield BentPanel(side, bend, kerfs, instead_of(bend, area, tall, shelf))


@dataclass(frozen=True)
class PieceWeight:
    """One piece in the costume's table. trouble: why it has no weight yet."""

    piece: int
    name: str
    grams: float
    trouble: str = ""


def weights_of(store: Store, build: int) -> list[PieceWeight]:
    """What every piece of a build weighs in foam."""
    out = []
    for piece in list_pieces(store, build):
        try:
            work = work_on(store, piece.id)
            grams = sum(s.grams for s in sheets_of(quick_pattern(work), work.shelf))
            out.append(PieceWeight(piece.id, piece.name, grams))
        except CraftError as error:
            out.append(PieceWeight(piece.id, piece.name, 0.0, error.message))
    return out


@dataclass(frozen=True)
class PieceFolds:
    """The joints of one piece of a costume. trouble: why it has none yet."""

    piece: int
    name: str
    joints: list[tuple[Side, Joint]]
    trouble: str = ""


def folds_of(store: Store, build: int) -> list[PieceFolds]:
    """Every seam and dart of a build with its fold and bevels; lays nothing flat."""
    out = []
    for piece in list_pieces(store, build):
        try:
            work = work_on(store, piece.id)
            if work.design.solid is not None:
                joints = [(side, j) for side, own in pattern_of(work).joints.items() for j in own]
            else:
                joints = [(side, j) for side, ink in laid_ink(work).items() for j in joints_of(ink, work.dart_edges)]
            out.append(PieceFolds(piece.id, piece.name, joints))
        except CraftError as error:
            out.append(PieceFolds(piece.id, piece.name, [], error.message))
    return out
