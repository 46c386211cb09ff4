"""The order in which a costume is put on: what lies beneath first, and who fastens what."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import TypeVar

from vellumcut.core.rig.closures.behind import closed_by
from vellumcut.core.rig.closures.facing import FacingPlan, facings_of
from vellumcut.core.rig.closures.openings import OpeningPlan, openings_of
from vellumcut.core.rig.costume import Costume, Worn
from vellumcut.core.rig.parts import WORDS
from vellumcut.core.rig.recipes import LIES_OVER
from vellumcut.core.rig.rows import Carrier
from vellumcut.core.rig.straps import Strap
from vellumcut.core.worn.donning import Donning

Held = TypeVar("Held")
LAY_ON, FASTEN, LACE = 1.0, 0.5, 3.0
"""Minutes to lay a piece on, for each strap, and to lace one (est.)."""
BEHIND = 60.0
"""A fastening that lies so far behind the middle of the trunk is out of the wearer's own reach, mm (est.)."""


@dataclass(frozen=True)
class DressingStep:
    """piece: its number. who: "alone" or "helper"; why: in words. out: whether the wearer gets out of it alone."""

    piece: int
    name: str
    copies: int
    how: str
    who: str
    why: str
    minutes: float
    out: bool


def dressing_order(
    costume: Costume, straps: Mapping[int, Sequence[Strap]], donning: Mapping[int, Sequence[Donning]]
) -> list[DressingStep]:
    """Every piece, what lies beneath first; of equals from the trunk out and from the ground up. What only hangs goes
    on after what it hangs on."""
    rows = sorted(costume.pieces, key=lambda p: (LIES_OVER[p.design.template], _inward(p), p.key))
    for piece in tuple(rows):
        held = _hangs_on(costume, piece, straps.get(piece.key, ()))
        last = max((k for k, p in enumerate(rows) if p.key in held), default=-1)
        if last > (at := rows.index(piece)):
            rows.insert(last, rows.pop(at))
    fastened = _once_worn(rows, [(p.key, s.ends[1].piece, s) for p in rows for s in straps.get(p.key, ())])
    shut = _once_worn(rows, [(p.key, x.mate, x) for p in rows for x in _shut(costume, p)])
    return [
        _step(costume, p, straps.get(p.key, ()), fastened[p.key], shut[p.key], donning.get(p.key, ())) for p in rows
    ]


def _once_worn(rows: Sequence[Worn], held: Sequence[tuple[int, int, Held]]) -> dict[int, list[Held]]:
    """What is fastened when each piece goes on: between two pieces nothing can be before both are worn. held: the piece
    that it is of, the one that it goes to, 0 if to none, and what it is."""
    worn = {p.key: k for k, p in enumerate(rows)}
    out: dict[int, list[Held]] = {p.key: [] for p in rows}
    for key, mate, it in held:
        out[max(key, mate, key=lambda k: worn.get(k, -1))].append(it)
    return out


def _hangs_on(costume: Costume, piece: Worn, straps: Sequence[Strap]) -> set[int]:
    """Numbers of the pieces that hold a plate up, where nothing of its own goes round the limb."""
    if piece.part == "torso" or not costume.rig(piece).hangs_free:
        return set()
    return {s.ends[1].piece for s in straps if s.ends[1].piece}


_FROM_THE_GROUND = ("foot", "lower leg", "knee", "thigh", "torso", "neck", "shoulder", "upper arm", "forearm")


def _inward(piece: Worn) -> int:
    """Legs while the wearer can still bend, then the trunk, arms last."""
    return _FROM_THE_GROUND.index(piece.part)


@dataclass(frozen=True)
class _Shut:
    """A seam that opens or edges that meet. words: which, by the number of the piece that goes on last. mate: number of
    the other piece, 0 if there is none. hides: where that lies. minutes: to shut it on one copy. alone: whether its
    wearer works it there."""

    words: Mapping[int, str]
    mate: int
    hides: str
    laced: bool
    minutes: float
    alone: bool


def _shut(costume: Costume, piece: Worn) -> list[_Shut]:
    """What is shut anew each time it is put on, beside straps: seams that open, and edges that close on each other."""
    side = piece.sides[0]
    out = [_one(o, {piece.key: o.words}, 0, 1) for o in openings_of(piece.on(side))]
    for f in facings_of(costume, piece, side):
        if not f.problem:
            words = {f.mate: f.words_on_the_other(piece.name), piece.key: f.words}
            out.append(_one(f, words, f.mate, f.alike))
    return out


def _one(plan: OpeningPlan | FacingPlan, words: Mapping[int, str], mate: int, times: int) -> _Shut:
    laced = plan.row.kind == "lacing"
    once = LACE if laced else FASTEN * max(1, len(plan.at))
    return _Shut(words, mate, plan.hides, laced, times * once, plan.alone)


def _step(
    costume: Costume, piece: Worn, straps: Sequence[Strap], held: Sequence[Strap], shut: Sequence[_Shut],
        donning: Sequence[Donning]
) -> DressingStep:  # fmt: skip
    """straps: of the piece itself; held, shut: what can be fastened and closed once it is on."""
    fastened = [s for s in held if s.fastening not in ("tack", "sewn")]
    behind = closed_by(piece.on(piece.sides[0])) == "lacing"
    laced = behind or any(x.laced for x in shut)
    once = LAY_ON + (LACE if behind else 0.0) + sum(x.minutes for x in shut)
    minutes = piece.copies * once + FASTEN * len(fastened)
    close = [f"Close it: {', '.join(x.words[piece.key] for x in shut)}."] if shut else []
    how = " ".join([*(d.sentence for d in donning[:1]), *_first(straps), *close])
    who, why = _who(costume, piece, fastened, laced, behind)
    far = [x for x in shut if not x.alone]
    if who == "alone" and far:
        who, why = "helper", f"{far[0].words[piece.key]} lies {far[0].hides}"
    easy = who == "alone" or (all(s.fastening in ("hook-and-loop", "ring") for s in fastened) and not laced)
    return DressingStep(
        piece.key,
        piece.name,
        piece.copies,
        how,
        who,
        why,
        round(minutes, 1),
        easy and all(d.passes is not False for d in donning),
    )


def _first(straps: Sequence[Strap]) -> list[str]:
    """What has to be worn before it, because it hangs on that."""
    on = dict.fromkeys(s.ends[1].anchor for s in straps if s.row.lifts and not s.ends[1].piece)
    return [f"It hangs on the {by}: that is worn first." for by in on if by != MEETS]


MEETS: Carrier = "elastic across"
"""What the other sleeve wears is no carrier of its own."""


def _who(costume: Costume, piece: Worn, fastened: Sequence[Strap], laced: bool, laced_behind: bool) -> tuple[str, str]:
    """Whether the wearer fastens it alone: by where its fastenings lie."""
    middle = costume.figure.joints["waist"].at[1]
    trunk = {p.key for p in costume.pieces if p.part in ("torso", "neck")}
    closes = [(s, s.points[0]) for s in fastened if s.ends[0].piece in trunk]
    closes += [(s, s.points[-1]) for s in fastened if s.ends[0].piece not in trunk and s.ends[1].anchor == MEETS]
    back = [s for s, at in closes if at[1] > middle + BEHIND]
    if back:
        return "helper", f"{back[0].words} closes behind the back"
    if laced_behind and piece.part in ("torso", "neck"):
        return "helper", "a lace is drawn tight behind the back"
    one_handed = piece.on(piece.sides[0]).one_handed
    if one_handed and laced:
        return "helper", "one hand cannot draw a lace tight on the other arm"
    if one_handed and any(s.fastening == "side-release buckle" for s in fastened):
        return "alone", "one-handed: click the buckles half shut before it goes on"
    if piece.part == "shoulder":
        hung = [s for s in fastened if s.row.lifts and s.side == piece.sides[0]]
        kinds = " and ".join(dict.fromkeys(WORDS.get(s.fastening, s.fastening).split(",")[0] for s in hung))
        return "helper", f"{len(hung)} {kinds} on one shoulder, behind the wearer's own sight"
    return "alone", "everything closes within reach"


def whole_minutes(steps: Sequence[DressingStep]) -> float:
    """Minutes for all of it (est.)."""
    return sum(s.minutes for s in steps)
