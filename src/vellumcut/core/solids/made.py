"""Every kind of part without a cast: how it is built, laid flat, and what of it is alike."""

from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray

from vellumcut.core.design.solids import Pouch, Solid, SolidKind
from vellumcut.core.errors import CraftError
from vellumcut.core.solids import boxes, domes, plates, tubes
from vellumcut.core.solids.flat_parts import FlatPart, Meeting, Unfolded
from vellumcut.core.solids.laid import Hinge
from vellumcut.core.solids.models.model import model
from vellumcut.core.solids.shell import Shell
from vellumcut.core.solids.unfold import unfold

Array = NDArray[np.float64]

SHELLS: dict[SolidKind, Callable[[Any, float], Shell]] = {
    "cone": tubes.cone, "elbow": tubes.elbow, "dome": domes.dome, "ring": tubes.torus, "horn": tubes.horn,
    "tail": tubes.tail, "box": boxes.box, "star": boxes.star, "pouch": boxes.pouch, "holder": boxes.holder,
    "model": model, "toe cap": boxes.toe_cap, "sole edge": boxes.sole_edge,
}  # fmt: skip
PLATES: dict[SolidKind, Callable[[Any, float], tuple[list[FlatPart], plates.Picture]]] = {
    "gauntlet": plates.gauntlet, "hand": plates.hand, "shelf": plates.shelf, "fin": plates.fin,
}  # fmt: skip
MOST_COPIES = 40
SAME = 0.01
"""mm by which edges of parts that are alike may differ."""


@dataclass(frozen=True, eq=False)
class Made:
    """A solid in its foam. unfolded: flat, parts that are alike once. vertices, faces: of the face that was measured,
    to be seen, (n, 3) mm. part: (m,) number of the flat part that each face belongs to; 0: none."""

    unfolded: Unfolded
    vertices: Array
    faces: NDArray[np.int64]
    part: NDArray[np.int64]


@lru_cache(64)
def shell_of(solid: Solid, foam: float) -> Shell:
    """The face of it that was measured. foam: of its walls, mm. Raises CraftError."""
    try:
        return SHELLS[solid.kind](solid, foam)
    except ValueError as error:
        raise CraftError(str(error), "design.solid") from error


def made_of(solid: Solid, foam: float, layer: float, hinge: Hinge) -> Made:
    """Lay it flat. layer, hinge: see ``unfold``. Raises CraftError in a maker's words."""
    if solid.kind in PLATES:
        try:
            parts, (vertices, faces) = PLATES[solid.kind](solid, foam)
        except ValueError as error:
            raise CraftError(str(error), "design.solid") from error
        return Made(Unfolded(tuple(parts), plates.rolled(parts)), vertices, faces, np.zeros(len(faces), np.int64))
    shell = shell_of(solid, foam)
    try:
        flat = unfold(shell, foam, layer, hinge)
        if over := next((p for p in flat.parts if not shapely.Polygon(p.outline, p.holes).is_valid), None):
            raise ValueError(f"Laid flat, the {over.part.name} lies over itself: cut it in more pieces")
    except ValueError as error:
        raise CraftError(str(error), "design.solid") from error
    once, number = _once(flat)
    more = plates.loops(solid, len(once.parts) + 1) if isinstance(solid, Pouch) else []
    whole = replace(once, parts=(*once.parts, *more))
    return Made(
        whole, shell.vertices, shell.faces, np.array([number[k + 1] for k in range(len(shell.parts))])[shell.part]
    )


def _once(flat: Unfolded) -> tuple[Unfolded, dict[int, int]]:
    """Parts that are alike as one with a count, where all of them meet the same way; and which one stands for each."""
    alike = _alike(flat)
    met = {}
    for m in flat.meets:
        met[m.a], met[m.b] = m.b, m.a
    stands = {p.number: p.number for p in flat.parts}
    for group in alike:
        if len(group) <= MOST_COPIES and _meet_alike(group, met):
            stands |= dict.fromkeys(group, group[0])
    kept = sorted(set(stands.values()))
    number = {n: kept.index(stands[n]) + 1 for n in stands}
    counts = {n: sum(stands[m] == n for m in stands) for n in kept}
    parts = tuple(
        replace(p, number=number[p.number], part=_counted(p, counts[p.number])) for p in flat.parts if p.number in kept
    )
    meets: dict[frozenset[tuple[int, int]], Meeting] = {}
    for m in flat.meets:
        a, b = (number[m.a[0]], m.a[1]), (number[m.b[0]], m.b[1])
        meets.setdefault(frozenset((a, b)), replace(m, a=a, b=b))
    return Unfolded(parts, tuple(meets.values())), number


def _counted(part: FlatPart, count: int) -> Any:
    if count == 1:
        return part.part
    return replace(part.part, name=part.part.name.rsplit(" ", 1)[0], count=count * part.part.count)


def _alike(flat: Unfolded) -> list[list[int]]:
    """Numbers of parts of one outline, all edges in the same turn."""
    groups: list[list[FlatPart]] = []
    for p in flat.parts:
        for group in groups:
            if _same(group[0], p):
                group.append(p)
                break
        else:
            groups.append([p])
    return [[p.number for p in g] for g in groups if len(g) > 1]


def _same(one: FlatPart, two: FlatPart) -> bool:
    a, b = one.outline, two.outline
    if len(one.sides) != len(two.sides) or a.shape != b.shape or one.holes or two.holes:
        return False
    if len(one.creases) != len(two.creases):
        return False
    lengths = np.abs(
        np.linalg.norm(a - np.roll(a, 1, axis=0), axis=1) - np.linalg.norm(b - np.roll(b, 1, axis=0), axis=1)
    )
    middle = np.abs(np.linalg.norm(a - a.mean(axis=0), axis=1) - np.linalg.norm(b - b.mean(axis=0), axis=1))
    return bool(max(lengths.max(), middle.max()) < SAME)


def _meet_alike(group: list[int], met: dict[tuple[int, int], tuple[int, int]]) -> bool:
    """Whether every edge of every part of a group meets the same edge of the group, or none."""
    first = {k[1]: met[k][1] for k in met if k[0] == group[0] and met[k][0] in group}
    for n in group:
        own = {k: met[k] for k in met if k[0] == n}
        if any(other[0] not in group for other in own.values()):
            return False
        if {k[1]: other[1] for k, other in own.items()} != first:
            return False
    return True
