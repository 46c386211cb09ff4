"""What holds the costume on: every piece seated on its wearer, its straps, loads and parts."""

from dataclasses import dataclass, replace

import numpy as np

from vellumcut.core.body.segments import Side
from vellumcut.core.cast.armour import OUTER
from vellumcut.core.design.making import with_changes
from vellumcut.core.errors import CraftError
from vellumcut.core.make.glue_choice import fixing_for
from vellumcut.core.make.job import Job
from vellumcut.core.make.weight import Weight, weigh
from vellumcut.core.rig.costume import Costume, Shape, Worn
from vellumcut.core.rig.figure import figure_of
from vellumcut.core.rig.fixing import Fixing
from vellumcut.core.rig.loads import Rest, rest_of
from vellumcut.core.rig.parts import RigPlan, plan_parts
from vellumcut.core.rig.rest_words import rest_words
from vellumcut.core.rig.straps import Strap, straps_of_piece
from vellumcut.core.worn.donning import Donning, check_donning
from vellumcut.core.worn.dressing import DressingStep, dressing_order
from vellumcut.core.worn.sliding import slides_of
from vellumcut.core.worn.standing import standing_count
from vellumcut.core.worn.wear import Parts
from vellumcut.formats.rigging.rig_sheet import RigPage, part_rows
from vellumcut.service.keeping.builds import Work, list_pieces, work_on
from vellumcut.service.kept import Kept
from vellumcut.service.pattern.patterns import ink_ahead, laid_ink, pattern_of
from vellumcut.store.database import Store


@dataclass(frozen=True, eq=False)
class PieceRig:
    """One piece's rig. plans: the parts for one copy, a drawn side each. straps: all, on both sides of the body."""

    costume: Costume
    piece: Worn
    straps: list[Strap]
    rests: dict[Side, Rest | None]
    plans: list[RigPlan]
    donning: list[Donning]
    weight: Weight


def works_of(work: Work) -> list[Work]:
    """Every piece of its costume as work; this one as it is worked on."""
    others = [
        replace(work, piece_id=m.piece_id, name=m.name, design=m.design)
        for m in work.costume
        if m.piece_id != work.piece_id
    ]
    return [work, *others]


def _dress(work: Work) -> Costume:
    worn, shapes = [], []
    for each in sorted(works_of(work), key=lambda w: w.piece_id):
        if each.design.solid is not None:
            shapes.append(Shape(each.piece_id, each.name, each.design))
            continue
        try:
            worn.append(Worn(each.piece_id, each.name, each.design, laid_ink(each)))
        except CraftError:
            continue
    return Costume(figure_of(work.readings, work.scanned), tuple(worn), shapes=tuple(shapes))


costume_of = Kept(_dress, lambda work: work.costume_key, 8, on_disk=False)
"""The costume on its wearer, weights unknown; pieces that cannot be laid are left out. Raises CraftError where the
trunk was not measured."""


def worn_by(work: Work) -> tuple[Costume, Worn]:
    """The costume and this piece of it. Raises CraftError with why where the piece cannot be laid on its wearer."""
    laid_ink(work)
    costume = costume_of(work)
    return costume, costume.piece(work.piece_id)


def _strap(work: Work, piece: int) -> list[Strap]:
    costume = costume_of(work)
    return straps_of_piece(costume, costume.piece(piece))


straps_in = Kept(_strap, lambda work, piece: f"{piece}|{work.costume_key}")
"""All straps of one piece of its costume, by its number. Raises CraftError."""


def _weigh(work: Work) -> Weight:
    made = {"schools": work.schools, "owned": work.owned}
    return weigh(Job(pattern_of(work), tuple(plans_of(work)), **made), work.shelf)  # type: ignore[arg-type]


weight_of = Kept(_weigh, lambda work: f"{work.piece_id}|{work.costume_key}|{work.shelf}|{work.schools}|{work.owned}")
"""All of a piece as it is worn, all copies. Raises CraftError when it has no pattern."""


def fixing_of(work: Work) -> Fixing:
    """How straps are fixed to a piece, by its build's schools, its own, and what the maker owns."""
    return fixing_for(with_changes(work.schools, work.design.making.schools), work.owned)


def plans_of(work: Work) -> list[RigPlan]:
    """Parts for one copy of each drawn side; no loads are worked out for them. None for a solid, which is joined to
    something. Raises CraftError."""
    if work.design.solid is not None:
        return []
    costume, piece = worn_by(work)
    return _plans(work, costume, piece, {})


def _plans(work: Work, costume: Costume, piece: Worn, rests: dict[Side, Rest | None]) -> list[RigPlan]:
    """For one copy of each drawn side, with what the costume's movement asks of its sliding plates."""
    straps, fixing = straps_in(work, piece.key), fixing_of(work)
    out = []
    for drawn in piece.inked:
        side = _of(piece, drawn)
        plan = plan_parts(costume, piece, drawn, [s for s in straps if s.side == side], rests.get(side), fixing)
        slides = slides_of(costume, piece, side)
        names = {d.key: d.name for d in piece.design.making.details}
        told = tuple(f"{names[x.detail][:1].upper()}{names[x.detail][1:]}: {x.words}" for x in slides)
        out.append(replace(plan, slides=slides, advice=(*plan.advice, *told)))
    return out


def _of(piece: Worn, side: Side) -> Side:
    """The side of the body that a drawing's straps are told for."""
    return side if side in piece.sides else piece.sides[0]


def rig_of(work: Work) -> PieceRig:
    """Everything about what holds a piece. Raises CraftError when it has no pattern."""
    pattern_of(work)
    costume, piece = worn_by(work)
    straps = straps_in(work, piece.key)
    rests = _rests(work, piece.key)
    plans = _plans(work, costume, piece, rests)
    donning = [_donned(work, piece.key, side) for side in piece.laid]
    return PieceRig(costume, piece, straps, rests, plans, donning, weight_of(work))


def _rest(work: Work, number: int) -> dict[Side, Rest | None]:
    """How each copy rests. What hangs on it is weighed too, and nothing else."""
    costume = costume_of(work)
    straps = [s for p in costume.pieces for s in straps_in(work, p.key)]
    near = {number} | {s.ends[0].piece for s in straps if s.ends[1].piece == number}
    works = {w.piece_id: w for w in works_of(work)}
    weighed = tuple(
        replace(p, weight=_weight(works[p.key]) + _stands(costume, p, works) if p.key in near else 0.0)
        for p in costume.pieces
    )
    whole = Costume(costume.figure, weighed)
    mine = whole.piece(number)
    return {side: rest_of(whole, mine, side, straps) for side in mine.sides}


_rests = Kept(_rest, lambda work, number: f"{number}|{work.costume_key}|{work.shelf}|{work.schools}|{work.owned}")


def _stands(costume: Costume, piece: Worn, works: dict[int, Work]) -> float:
    """g of what stands on all copies of a piece, however many of it are made."""
    out = 0.0
    for shape in costume.shapes:
        here, solid = standing_count(costume, piece, shape), shape.design.solid
        if here and solid:
            out += here * _weight(works[shape.key]) / solid.made
    return out


def _weight(work: Work) -> float:
    try:
        return weight_of(work).total
    except CraftError:
        return 0.0


@dataclass(frozen=True, eq=False)
class CostumeRig:
    """A whole costume with every piece's straps, by its number."""

    costume: Costume
    straps: dict[int, list[Strap]]
    dressing: list[DressingStep]

    @property
    def can_fail(self) -> Parts:
        """What of it can go wrong."""
        return Parts([s for rows in self.straps.values() for s in rows], self.costume.pieces)


def costume_in(store: Store, build: int) -> CostumeRig:
    """A build on its wearer. Raises CraftError when it has no piece, NotFound when it is not there."""
    pieces = list_pieces(store, build)
    if not pieces:
        raise CraftError("Nothing is in this costume yet: lay a piece on the figure", "pieces")
    return whole_rig(work_on(store, pieces[0].id))


def whole_rig(work: Work) -> CostumeRig:
    """The costume of a piece with all its straps, and in which order it is put on. Raises CraftError."""
    ink_ahead(works_of(work))
    costume = costume_of(work)
    straps_in.ahead([(work, p.key) for p in costume.pieces])
    _donned.ahead([(work, p.key, side) for p in costume.pieces for side in p.laid])
    straps = {p.key: straps_in(work, p.key) for p in costume.pieces}
    donning = {p.key: [_donned(work, p.key, side) for side in p.laid] for p in costume.pieces}
    return CostumeRig(costume, straps, dressing_order(costume, straps, donning))


def _don(work: Work, piece: int, side: Side) -> Donning:
    return check_donning(work.readings, costume_of(work).piece(piece).laid[side], side)


_donned = Kept(_don, lambda work, piece, side: f"{piece}|{side}|{work.costume_key}")


def rig_page(work: Work) -> RigPage:
    """A piece's rig for the sheet, as it is worn on its first side. Raises CraftError."""
    made = rig_of(work)
    piece, side = made.piece, made.piece.sides[0]
    laid, seat = piece.on(side), made.costume.seat(piece.part, side)
    if seat is None:
        raise CraftError(f"The {piece.part} was not measured", "measures")
    turns = [1.0, -1.0] if laid.whole and any(laid.inked.twins) else [1.0]
    outlines = [
        seat.place(laid.inked.surface.points(line.uv * [turn, 1.0], OUTER))
        for panel in laid.inked.panels
        for line in panel.outline
        for turn in turns
    ]
    anchors = [
        (a.name, seat.place(laid.inked.surface.points(np.array([a.uv]), OUTER))[0])
        for a in made.costume.anchors(piece, side)
    ]
    straps = [s.points for s in made.straps if s.side == side or laid.whole]
    told = [d.sentence for d in made.donning] + [x for plan in made.plans[:1] for x in plan.advice]
    told += [f"All copies weigh {made.weight.words}."]
    told += [rest_words(r, piece) for r in made.rests.values() if r is not None][:1]
    return RigPage(work.name, outlines, straps, anchors, list(part_rows(made.plans)), told)
