"""What the costume lets its wearer do, and what to cut off or add where it does not."""

from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from vellumcut.core.errors import CraftError
from vellumcut.core.ink.stage import ink_piece
from vellumcut.core.rig.costume import Costume, Worn
from vellumcut.core.rig.figure import Joint, Motion
from vellumcut.core.worn.ground import Scrape, scrapes_of
from vellumcut.core.worn.movement import Bind, Trim, binds_of, meets_at, trims_for, with_cut
from vellumcut.core.worn.postures import POSTURES, turns_of
from vellumcut.core.worn.trim import MOST, trimmed
from vellumcut.service.keeping import builds
from vellumcut.service.keeping.builds import Work
from vellumcut.service.kept import Kept
from vellumcut.service.pattern.patterns import laid_ink
from vellumcut.service.rigging.rigs import costume_of, worn_by
from vellumcut.store.database import Store

Kind = Literal["touches", "binds", "opens", "reaches", "free"]
SEEN_THROUGH = 15.0
"""A gap that grows by so much shows what is beneath, mm (est.)."""
MORE, TELLS = 1.5, 5.0
"""A cut that does not free the joint is made larger once by so much, if that is so many mm."""


@dataclass(frozen=True, eq=False)
class Moved:
    """One pair that a joint turns against each other. wanted: what postures ask of it, degrees, and posture: which."""

    found: Bind
    wanted: float
    posture: str
    trims: tuple[Trim, ...]

    @property
    def kind(self) -> Kind:
        """Whether they touch standing, bind before a posture is reached, open more than a hand sees through, meet only
        beyond it, or never meet."""
        found = self.found
        if found.touching:
            return "touches"
        if found.angle is not None and found.angle < self.wanted:
            return "binds"
        if found.opening is not None and found.opening.after > found.opening.before + SEEN_THROUGH:
            return "opens"
        return "free" if found.angle is None else "reaches"


@dataclass(frozen=True, eq=False)
class Stands:
    """What stands on the ground or on a chair, and the cut that ends it."""

    found: Scrape
    trims: tuple[Trim, ...]


@dataclass(frozen=True, eq=False)
class Turned:
    """All that is told of one joint."""

    pairs: list[Moved]
    stands: list[Stands]


def asked_of(joint: str, motion: str) -> tuple[float, str]:
    """The most that any posture asks of a joint's motion, degrees, and which."""
    rows = [(d, name) for name in POSTURES for j, m, d in turns_of(name) if (j, m) == (joint, motion)]
    return max(rows, default=(0.0, ""))


def movement_in(store: Store, build: int, joint: str) -> tuple[Costume, Turned]:
    """Every pair at one joint, and what stands on the ground or a chair. Raises CraftError for a joint there is not."""
    pieces = builds.list_pieces(store, build)
    if not pieces:
        raise CraftError("Nothing is in this costume yet: lay a piece on the figure", "pieces")
    work = builds.work_on(store, pieces[0].id)
    costume = costume_of(work)
    if joint not in costume.figure.joints:
        raise CraftError(f'There is no joint "{joint}"; there are {", ".join(costume.figure.joints)}', "joint")
    return costume, _turned(work, joint)


def _turn(work: Work, key: str) -> Turned:
    costume = costume_of(work)
    joint = costume.figure.joints[key]
    return Turned(_moved(costume, joint), [Stands(x, _raised(costume, joint, x)) for x in scrapes_of(costume, joint)])


_turned = Kept(_turn, lambda work, key: f"{key}|{work.costume_key}", 128)


def _raised(costume: Costume, joint: Joint, found: Scrape) -> tuple[Trim, ...]:
    """The cut along the edge that stands, tried on the costume."""
    trim = Trim(found.piece, found.edge, float(np.ceil(found.mm)))
    for mm in _tries(trim.mm):
        made = _with_trim(costume, joint, trim, mm) if mm <= MOST else None
        if made is not None and not any(x.piece == found.piece for x in scrapes_of(made, joint)):
            return (replace(trim, mm=mm),)
    return ()


def _moved(costume: Costume, joint: Joint) -> list[Moved]:
    out = []
    for motion in joint.motions:
        wanted, posture = asked_of(joint.key, motion.key)
        for found in binds_of(costume, joint, motion):
            short = found.angle is not None and 0.7 <= found.angle < wanted
            trims = _proved(costume, joint, motion, found, wanted) if short else []
            out.append(Moved(found, wanted, posture, tuple(trims)))
    return out


def _proved(costume: Costume, joint: Joint, motion: Motion, found: Bind, wanted: float) -> list[Trim]:
    """The least cut that was tried on the costume and lets the joint turn as far as wanted."""
    for trim in trims_for(costume, joint, motion, found, wanted):
        for mm in _tries(trim.mm):
            made = _with_trim(costume, joint, trim, mm) if mm <= MOST else None
            if made is None:
                break
            if _frees(made, joint, motion, found, wanted):
                return [replace(trim, mm=mm)]
    return []


def _tries(mm: float) -> list[float]:
    """Cuts to try: the least, and one that is larger by enough to tell."""
    more = float(np.ceil(mm * MORE))
    return [float(np.ceil(mm))] + ([more] if more - mm >= TELLS else [])


def _with_trim(costume: Costume, joint: Joint, trim: Trim, mm: float) -> Costume | None:
    piece = costume.piece(trim.piece)
    try:
        design = trimmed(next(iter(piece.laid.values())), trim.edge, mm)
        inked = {side: ink_piece(laid.inked.tube, design) for side, laid in piece.laid.items()}
    except CraftError:
        return None
    cut = Worn(piece.key, piece.name, design, inked, piece.weight)
    return with_cut(costume, cut, joint)


def _frees(costume: Costume, joint: Joint, motion: Motion, found: Bind, wanted: float) -> bool:
    pair = (costume.piece(found.moving[0]), found.moving[1]), (costume.piece(found.fixed[0]), found.fixed[1])
    return meets_at(costume, joint, motion, pair) >= wanted


def take_trim(store: Store, number: int, edge: str, mm: float) -> None:
    """Move one edge of a piece in by ``mm``, as ink; undone as any other change. Raises CraftError."""
    work = builds.work_on(store, number)
    _, piece = worn_by(work)
    design = trimmed(next(iter(piece.laid.values())), edge, mm)
    laid_ink(replace(work, design=design))
    builds.change_piece(store, number, None, design)
