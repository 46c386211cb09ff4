"""A solid as a piece: its panels as they come flat, and what is known of their seams, folds and bends."""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from pydantic import ValidationError

from vellumcut.core.design.flat import FlatEdgeKey, FlatMate, FlatShape, FlatStroke, FlatWork, places
from vellumcut.core.design.foam import FoldWork
from vellumcut.core.design.piece import PieceDesign
from vellumcut.core.design.solids import Solid
from vellumcut.core.errors import CraftError
from vellumcut.core.flatten.came_flat import mate_name
from vellumcut.core.foam.bends import PanelBend
from vellumcut.core.foam.folds import Fold
from vellumcut.core.foam.grooves import FoldCut
from vellumcut.core.foam.joints import Joint
from vellumcut.core.foam.stacks import layers_of, thickness_of
from vellumcut.core.laying.inked import line_key
from vellumcut.core.solids.flat_parts import FlatPart, Meeting
from vellumcut.core.solids.made import Made, made_of

NARROW = 60.0
"""Degrees that a slit opens by at its tip, flat, at most."""
FLAT_RADIUS = 1e5
"""mm: of what is not bent."""


@dataclass(frozen=True, eq=False)
class Known:
    """How a solid's foam is worked, from its own shape. Joints are named as its seams are."""

    joints: tuple[Joint, ...]
    folds: tuple[FoldCut, ...]
    bends: tuple[PanelBend, ...]


def flat_of(design: PieceDesign, layer: int = 1) -> FlatWork | None:
    """The panels of a piece that came flat, or of a solid; None for one that is drawn on the body. layer: which sheet
    of the stack, from the inner face. Raises CraftError for a solid that cannot be made."""
    if design.solid is None:
        return design.flat
    made, solid = made_solid(design, layer), design.solid
    try:
        return FlatWork(
            panels=tuple(shape_of(p, solid.count, solid.mirrored) for p in made.unfolded.parts),
            mates=tuple(_mate(m, any(p.strain for p in made.unfolded.parts)) for m in made.unfolded.meets),
            source="solid",
        )
    except ValidationError:
        words = "It has more panels, or more of one of them, than can be kept: take fewer of it, or fewer parts"
        raise CraftError(words, "design.solid") from None


def made_solid(design: PieceDesign, layer: int = 1) -> Made:
    """A solid in its foam. layer: as in ``flat_of``. Raises CraftError."""
    assert design.solid is not None
    stack = layers_of(design, 0)
    middle = stack[min(layer, len(stack)) - 1].middle
    return _made(design.solid, design.foam, middle, design.foam_work.folds)


@lru_cache(32)
def _made(solid: Solid, foam: float, middle: float, rows: tuple[FoldWork, ...]) -> Made:
    own = {x.key: x for x in rows}
    usual = {way: _turns_at(foam, FoldWork(key="fold"), way) for way in (1.0, -1.0)}
    made = made_of(solid, foam, middle, lambda _, fold: usual[float(np.sign(fold)) or 1.0])
    at: dict[int, float] = {}
    for part in made.unfolded.parts:
        for k, crease in enumerate(part.creases):
            if (row := own.get(line_key(part.number, k))) is not None:
                at |= dict.fromkeys(crease.sides, _turns_at(foam, row, crease.degrees))
    if not at:
        return made
    return made_of(solid, foam, middle, lambda side, fold: at.get(side, usual[float(np.sign(fold)) or 1.0]))


def _turns_at(foam: float, work: FoldWork, degrees: float) -> float:
    """Where a fold turns, mm out from the inner face: at the bottom of its groove, which closes as its walls turn about
    it; where nothing is cut, in the middle."""
    cut = FoldCut("", "", 1, 1.0, Fold(np.array([0.0, 1.0]), np.full(2, degrees)), foam, work)
    if work.way not in ("groove", "drum") or not cut.depth:
        return foam / 2
    return cut.depth if degrees > 0 else foam - cut.depth


def shape_of(part: FlatPart, count: int, mirrored: bool) -> FlatShape:
    """As a panel that came flat. count: how many of the solid are made."""
    starts = np.cumsum([0, *(len(s.points) - 1 for s in part.sides)])[:-1]
    return FlatShape(
        number=part.number,
        name=part.part.name,
        outline=places(part.outline),
        holes=tuple(places(h) for h in part.holes),
        corners=tuple(int(k) for k in starts),
        lines=tuple(
            FlatStroke(kind="fold", name=f"fold {k}", points=places(c.points)) for k, c in enumerate(part.creases, 1)
        ),
        copies=part.part.count * count,
        mirrored=mirrored or part.part.mirrored,
    )


def _mate(m: Meeting, true: bool) -> FlatMate:
    """true: its sides, which were laid with strain, are made quite equal on the table."""
    keys = (FlatEdgeKey(panel=n, edge=k) for n, k in (m.a, m.b))
    return FlatMate(a=next(keys), b=next(keys), true=true)


def known_of(design: PieceDesign) -> Known:
    """Raises CraftError."""
    assert design.solid is not None
    made = made_solid(design)
    work = flat_of(design)
    assert work is not None
    own = {x.name: x.fold for x in design.foam_work.seams}
    joints = []
    for k, (m, mate) in enumerate(zip(made.unfolded.meets, work.mates, strict=True)):
        name = mate_name(k, mate)
        fold = Fold(m.at, np.full(len(m.at), own[name])) if name in own else Fold(m.at, m.degrees)
        foam = thickness_of(design, m.a[0]), thickness_of(design, m.b[0])
        slit = _is_slit(made.unfolded.parts, m)
        ends = ("mouth", "tip") if slit else ("one end", "other end")
        told = ((m.a[0], m.b[0]), fold, foam, ends)
        joints.append(Joint("dart" if slit else "seam", name, *told, arc=name, asked=name in own))
    rows = {x.key: x for x in design.foam_work.folds}
    folds, bends = [], []
    for part in made.unfolded.parts:
        thick = thickness_of(design, part.number)
        for k, crease in enumerate(part.creases):
            key, long = line_key(part.number, k), float(np.hypot(*np.diff(crease.points, axis=0).T).sum())
            body = Fold(np.array([0.0, long]), np.full(2, crease.degrees))
            usual = FoldWork(key=key, way="groove")
            folds.append(FoldCut(key, f"fold {k + 1}", part.number, long, body, thick, rows.get(key, usual)))
        radius = part.tightest if np.isfinite(part.tightest) else FLAT_RADIUS
        layers = layers_of(design, part.number)
        alike, asked = design.layered == "alike", design.foam_work.panel(part.number)
        bends.append(PanelBend(part.number, radius, FLAT_RADIUS, radius, FLAT_RADIUS, part.turn, layers, alike, asked))
    return Known(tuple(joints), tuple(folds), tuple(bends))


def _is_slit(parts: tuple[FlatPart, ...], m: Meeting) -> bool:
    """Whether a seam runs to a point of its own panel, where the foam is nearly whole: its bevel runs out there."""
    part = parts[m.a[0] - 1]
    if m.a[0] != m.b[0] or m.b[1] != (m.a[1] + 1) % len(part.sides):
        return False
    one, two = part.sides[m.a[1]].points, part.sides[m.b[1]].points
    back, on = one[-2] - one[-1], two[1] - two[0]
    between = np.degrees(np.arctan2(on[0] * back[1] - on[1] * back[0], on @ back)) % 360
    return bool(360 - between < NARROW)


def free_ends(design: PieceDesign, layer: int = 1) -> dict[tuple[int, int], tuple[float, float]]:
    """How far each edge goes on past where it was measured, by panel and edge: see ``unfold.Side``."""
    made = made_solid(design, layer)
    return {(p.number, k): s.over for p in made.unfolded.parts for k, s in enumerate(p.sides)}
