"""A shape in space laid flat part by part: outlines of one layer of its foam, what meets what, and how it folds
there."""

from collections.abc import Iterator, Sequence
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from vellumcut.core.solids.flat_parts import FlatPart, Meeting, Side, Unfolded
from vellumcut.core.solids.laid import CORNER, FOLDED, SAME, Hinge, Laid, curved_laid, curved_part, laid_part
from vellumcut.core.solids.shell import Shell

Array = NDArray[np.float64]
Faces = NDArray[np.int64]

GROWN_CORNER = 45.0
"""Degrees by which a model's panel turns at a corner: its seams run from triangle to triangle."""


def unfold(shell: Shell, foam: float, layer: float, hinge: Hinge) -> Unfolded:
    """Lay a shell flat. foam: of its walls, mm. layer: the one that is cut, mm out from the inner face. hinge: where
    folds turn. Raises ValueError for a part that does not lie flat."""
    corners = shell.offset(shell.depth_of(layer, foam))
    welded = shell.corner_groups(shell.joined)
    parts: list[FlatPart] = []
    loops, flats = [], []
    measured: dict[int, Array] = {}
    for k, (mine, (placed, creases, strain)) in enumerate(_each(shell, corners, (foam, layer), hinge)):
        rings = [(ring, _outline(ring, placed)) for ring in _rings(shell, mine, welded)]
        rings.sort(key=lambda r: -abs(_area(r[1])))
        loops.append(rings[0][0])
        flats.append(rings[0][1])
        measured.update({s: placed[s][2:] for s in rings[0][0]})
        holes = tuple(r[1] for r in rings[1:])
        tightest, turn = _bent(shell, mine, foam)
        parts.append(FlatPart(k + 1, shell.parts[k], (), holes, creases, tightest, turn, strain))
    runs = _runs(shell, loops, flats)
    made = tuple(
        replace(part, sides=tuple(_side(shell, loop, flat, run, measured) for run in own))
        for part, loop, flat, own in zip(parts, loops, flats, runs, strict=True)
    )
    return Unfolded(made, tuple(_meetings(shell, made)))


def _each(shell: Shell, corners: Array, depths: tuple[float, float], hinge: Hinge) -> Iterator[tuple[Faces, Laid]]:
    """Every part's faces, and how it lies. What curves both ways is laid by itself first, then once more with each of
    its seams half way between what both of its sides would like to be."""
    owned = [np.flatnonzero(shell.part == k) for k in range(len(shell.parts))]
    if not shell.grown:
        yield from ((mine, laid_part(shell, mine, corners, depths, hinge)) for mine in owned)
        return
    other = shell.halves[1]
    laid = [curved_part(shell, mine, corners) for mine in owned]
    long = np.zeros(3 * len(shell.faces))
    for mine, (flat, faces) in zip(owned, laid, strict=True):
        ends = flat.flat[np.stack([faces, np.roll(faces, -1, axis=1)], axis=2)]
        long[(mine[:, None] * 3 + np.arange(3)).ravel()] = np.linalg.norm(ends[:, :, 1] - ends[:, :, 0], axis=2).ravel()
    for mine, (flat, faces) in zip(owned, laid, strict=True):
        rows = (mine[:, None] * 3 + np.arange(3)).ravel()
        pairs = np.stack([faces, np.roll(faces, -1, axis=1)], axis=2).reshape(-1, 2)
        seam = (other[rows] >= 0) & ~shell.joined[rows]
        held = flat
        if seam.any():
            held = flat.rim_held(pairs[seam], _shared(shell, long, rows[seam]))
        yield mine, curved_laid(shell, mine, held, faces)


def _shared(shell: Shell, long: Array, sides: Faces) -> Array:
    """How long each side of a seam is to be: all that meet one other part grow alike, to half way between both."""
    there = shell.halves[1][sides]
    beyond = shell.part[there // 3]
    out = long[sides].copy()
    for part in np.unique(beyond):
        own = beyond == part
        out[own] *= (1 + long[there[own]].sum() / long[sides[own]].sum()) / 2
    return out


def _side(shell: Shell, loop: Sequence[int], flat: Array, run: tuple[int, int], measured: dict[int, Array]) -> Side:
    """run: from which to which place of the loop. measured: where the ends of its sides were measured, (2, 2) mm."""
    at = np.arange(run[0], run[1] + 1) % len(loop)
    sides, points = np.array([loop[k] for k in at[:-1]]), flat[at]
    first, last = (_unit(points[1] - points[0]), _unit(points[-1] - points[-2]))
    over = (
        float((measured[int(sides[0])][0] - points[0]) @ first),
        float((points[-1] - measured[int(sides[-1])][1]) @ last),
    )
    return Side(points, sides, shell.folds[sides], over)


def _unit(way: Array) -> Array:
    return np.asarray(way / max(float(np.hypot(*way)), 1e-12))


def _outline(ring: Sequence[int], placed: dict[int, Array]) -> Array:
    """(n, 2) mm: where every side of a ring begins. Sides of two facets, which a fold parts, meet where both are
    carried on to."""
    out = []
    for before, here in zip([ring[-1], *ring[:-1]], ring, strict=True):
        (a, b), (c, d) = placed[before][:2], placed[here][:2]
        one, two = b - a, d - c
        cross = float(one[0] * two[1] - one[1] * two[0])
        if np.hypot(*(b - c)) < SAME or abs(np.arctan2(cross, one @ two)) < np.radians(CORNER):
            out.append((b + c) / 2)
            continue
        share = float((c - a)[0] * two[1] - (c - a)[1] * two[0]) / cross
        out.append(a + share * one)
    return np.array(out)


def _rings(shell: Shell, mine: NDArray[np.int64], welded: NDArray[np.int64]) -> list[list[int]]:
    """Closed rows of a part's free and glued sides."""
    keys = welded.ravel()
    rows = [s for s in (mine[:, None] * 3 + np.arange(3)).ravel().tolist() if not shell.joined[s]]
    starts = {int(keys[s]): s for s in rows}
    if len(starts) < len(rows):
        raise ValueError("A part touches itself at a point")
    rings: list[list[int]] = []
    while starts:
        ring = [starts.pop(next(iter(starts)))]
        while (after := starts.pop(int(keys[_end(ring[-1])]), None)) is not None:
            ring.append(after)
        rings.append(ring)
    return rings


def _end(side: int) -> int:
    """The corner at which a side ends."""
    return side // 3 * 3 + (side % 3 + 1) % 3


def _area(ring: Array) -> float:
    x, y = ring.T
    return float((x * np.roll(y, -1) - np.roll(x, -1) * y).sum()) / 2


def _runs(shell: Shell, rings: list[list[int]], flats: list[Array]) -> list[list[tuple[int, int]]]:
    """Every part's outer ring parted at its corners, so that what is glued to one edge is one edge itself: from which
    to which place."""
    ends, other = shell.halves
    corner = GROWN_CORNER if shell.grown else CORNER
    where = {s: (p, k) for p, ring in enumerate(rings) for k, s in enumerate(ring)}
    breaks = [
        {k for k in range(len(ring)) if _is_corner(flat, k, corner) or _parts_here(other, rings, p, k, where)}
        for p, (ring, flat) in enumerate(zip(rings, flats, strict=True))
    ]
    changed = True
    while changed:
        changed = False
        for p, ring in enumerate(rings):
            if not breaks[p]:
                breaks[p].add(int(np.argmin(ends[ring, 0])))
                changed = True
            for k in list(breaks[p]):
                # A seam that parts here parts on its other side, too.
                for s, step in ((ring[k], 1), (ring[k - 1], 0)):
                    if (mate := where.get(int(other[s]))) is not None:
                        q, at = mate[0], (mate[1] + step) % len(rings[mate[0]])
                        changed |= at not in breaks[q]
                        breaks[q].add(at)
    places = [sorted(own) for own in breaks]
    return [list(zip(a, [*a[1:], a[0] + len(ring)], strict=True)) for a, ring in zip(places, rings, strict=True)]


def _is_corner(flat: Array, k: int, corner: float) -> bool:
    one, two = flat[k] - flat[k - 1], flat[(k + 1) % len(flat)] - flat[k]
    turn = np.degrees(np.arctan2(one[0] * two[1] - one[1] * two[0], one @ two))
    return bool(abs(turn) > corner)


def _parts_here(
    other: NDArray[np.int64], rings: list[list[int]], p: int, k: int, where: dict[int, tuple[int, int]]
) -> bool:
    """Whether an outline has another neighbour from a place on."""
    a, b = (where.get(int(other[rings[p][j]])) for j in (k - 1, k))
    if a is None or b is None:
        return a is not b
    return a[0] != b[0] or (b[1] + 1) % len(rings[b[0]]) != a[1]


def _meetings(shell: Shell, parts: Sequence[FlatPart]) -> list[Meeting]:
    other = shell.halves[1]
    by_first = {int(s.sides[0]): (p.number, k) for p in parts for k, s in enumerate(p.sides)}
    out, done = [], set()
    for p in parts:
        for k, own in enumerate(p.sides):
            last = int(other[own.sides[-1]])
            here, there = (p.number, k), by_first.get(last)
            if there is None or here in done:
                continue
            done |= {here, there}
            if here[0] == there[0] and there[1] == len(p.sides) - 1 and k == 0 and len(p.sides) > 2:
                here, there = there, here  # from the mouth of a slit to its tip
            side = p.sides[here[1]]
            at = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(side.points, axis=0).T))])
            middle = (at[1:] + at[:-1]) / 2
            fold = np.interp(at, middle, side.fold)
            out.append(Meeting(here, there, at, fold))
    return out


def _bent(shell: Shell, mine: NDArray[np.int64], foam: float) -> tuple[float, float]:
    """Radius of the tightest bend of a part's middle, mm, and radians that it turns by bending."""
    rows = (mine[:, None] * 3 + np.arange(3)).ravel()
    ends, other = shell.halves
    steps = rows[shell.joined[rows] & (np.abs(shell.folds[rows]) < max(shell.sharp, FOLDED)) & (rows < other[rows])]
    fold = np.radians(shell.folds[steps])
    bent = np.abs(fold) > 1e-4
    if not bent.any():
        return float("inf"), 0.0
    points = shell.vertices[shell.faces]
    area = np.linalg.norm(np.cross(points[:, 1] - points[:, 0], points[:, 2] - points[:, 0]), axis=1) / 2
    steps, fold = steps[bent], fold[bent]
    long = np.linalg.norm(shell.vertices[ends[steps, 1]] - shell.vertices[ends[steps, 0]], axis=1)
    wide = (area[steps // 3] + area[other[steps] // 3]) / np.maximum(long, 1e-9)
    curve = fold / np.maximum(wide, 1e-9)
    order = np.argsort(np.abs(curve))
    share = np.cumsum((wide * long)[order])
    worst = curve[order[int(np.searchsorted(share, 0.97 * share[-1]))]]
    middle = shell.depth_of(foam / 2, foam)
    return float(1 / worst + middle), float(np.abs(fold).sum())
