"""Straps: where each runs over everything beneath it, and how long it is cut."""

from collections.abc import Iterable
from dataclasses import dataclass, replace
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from vellumcut.core.body.segments import BodyPart, Side
from vellumcut.core.body.torso import ARMPIT, NECK, SHOULDER
from vellumcut.core.body.tube import TubeSurface
from vellumcut.core.notes import Note, Value
from vellumcut.core.rig.air import Air, drawn_tight, postures_of
from vellumcut.core.rig.anchors import Anchor, landing_of, rows_of, stretch_at, worn_with
from vellumcut.core.rig.costume import Costume, Worn
from vellumcut.core.rig.figure import Region, Turned
from vellumcut.core.rig.geodesic import ROUND, Path, Solid, shortest_on
from vellumcut.core.rig.lengths import ADJUSTS, cut_length
from vellumcut.core.rig.outside import Outside
from vellumcut.core.rig.recipes import LIES_OVER
from vellumcut.core.rig.rows import Carried, Fastening, Material, StrapRow, Through

Array = NDArray[np.float64]

GROWS = 0.03
"""A trunk that has breathed in, or a limb whose muscles are tense, is this much larger round (est.). Foam does not
stretch: what the body grows by goes into what stretches or adjusts, however short that is (rigging.md, section 1)."""
FELT = 0.5
"""Less than this nobody cuts for, mm."""
ARMS_FORWARD = 35.0
"""A strap over the shoulder blades needs so much more when both arms reach forward, mm (est.)."""


@dataclass(frozen=True, eq=False)
class StrapEnd:
    """piece: number of the piece it is fixed to; 0: something worn that is no armour, named by ``anchor``. at: (3,) mm
    on the figure. pull: unit vector along which it pulls its piece."""

    piece: int
    anchor: str
    side: Side
    at: Array
    pull: Array


@dataclass(frozen=True, eq=False)
class Strap:
    """points: (n, 3) mm on the standing figure. standing, longest: of its path, mm; posture: that asks for the longest.
    cut: mm. ease: what it must let out and take in, mm. side: of the body. start_uv: (around, along) of
    its start on its piece."""

    key: str
    words: str
    side: Side
    row: StrapRow
    material: Material
    fastening: Fastening
    points: Array
    standing: float
    longest: float
    posture: str
    cut: float
    adjust: float
    ends: tuple[StrapEnd, StrapEnd]
    note: Note
    start_uv: tuple[float, float] = (0.0, 0.0)


def straps_of_piece(costume: Costume, piece: Worn) -> list[Strap]:
    """Every strap of a piece's own rig, on both sides of the body where it is worn on both."""
    rows = rows_of(piece.on(piece.sides[0]), costume.rig(piece))[1]
    out: list[Strap] = []
    for side in piece.sides:
        for row in rows:
            out += _both(costume, piece, side, row)
    return out


def _both(costume: Costume, piece: Worn, side: Side, row: StrapRow) -> Iterable[Strap]:
    """A strap, and its mirror image on a piece of both sides. One that joins a pair is there once."""
    own = [a for a in costume.anchors(piece, side) if a.own and a.key == row.start]
    for start in own:
        if row.cross and row.start == row.end and start.mirrored:
            continue
        made = _strap(costume, piece, side, row, start)
        if made is not None:
            yield replace(made, start_uv=start.uv)


def _strap(costume: Costume, piece: Worn, side: Side, row: StrapRow, start: Anchor) -> Strap | None:
    if isinstance(row.end, str):
        return _back_to_itself(costume, piece, side, row, start)
    body_side: Side = ("right" if start.mirrored else "left") if piece.on(side).whole else side
    near = [costume.piece(m.key) for m in worn_with(piece.mate, costume.mates)]
    there = [p.mate for p in near if p.on(p.sides[0]).whole or body_side in p.sides]
    found = landing_of(row.end, there)
    if found is None:
        return _to_carrier(costume, piece, side, row, start, row.end.worn, body_side) if row.end.worn else None
    mate = costume.piece(found[0].key)
    key = f"{piece.design.template}: {row.key}"
    landed = [a for a in costume.anchors(mate, body_side) if a.key == key]
    end = next((a for a in landed if a.mirrored == (body_side == "right" and mate.on("left").whole)), None)
    if end is None:
        return None
    if mate.part == piece.part:
        return _on_one(costume, piece, side, row, start, mate, end.uv, end.name)
    return _between(costume, piece, side, row, start, mate, end.uv, end.name, body_side)


def _back_to_itself(costume: Costume, piece: Worn, side: Side, row: StrapRow, start: Anchor) -> Strap | None:
    """A strap whose both ends are on one piece."""
    mirrored = start.mirrored != row.cross
    wanted = [a for a in costume.anchors(piece, side) if a.own and a.key == row.end]
    end = next((a for a in wanted if a.mirrored == mirrored), wanted[0] if wanted else None)
    if end is None:
        return None
    if row.through == "trunk":
        return _round_trunk(costume, piece, side, row, (start, end))
    return _on_one(costume, piece, side, row, start, piece, end.uv, end.name)


def _to_carrier(
    costume: Costume, piece: Worn, side: Side, row: StrapRow, start: Anchor, on: Carried, body_side: Side
) -> Strap | None:
    """A strap that ends on something worn that is no armour."""
    if on.at is not None:
        uv = (on.at[0] * (1 if body_side == "left" else -1), float(on.at[1]))
        return _between(costume, piece, side, row, start, None, uv, on.by, body_side)
    laid = piece.on(side)
    here = laid.plane.flat(np.array([start.uv]))[0]
    away = 1.0 if here[0] >= laid.area.centroid.x else -1.0
    there = here + [away * on.beyond[0] * stretch_at(laid, start.uv[1]), on.beyond[1]]
    u, v = laid.plane.uv(there[None])[0]
    return _on_one(costume, piece, side, row, start, None, (float(u), float(v)), on.by)


_TARGET: dict[Through, float | None] = {"near": None, "back": 0.5, "front": 0.0, "inside": 0.75}


def unwound(start: float, end: float, through: Through) -> float:
    """``around`` of a strap's end, whole turns added so that it is reached by the way it runs."""
    if through == "round":
        return start + 1.0
    target = _TARGET.get(through)

    def passes(e: float) -> bool:
        low, high = sorted((start, e))
        return target is None or any(low <= target + k <= high for k in (-2, -1, 0, 1, 2))

    ways = [end + k for k in (-2, -1, 0, 1, 2) if passes(end + k)]
    return min(ways, key=lambda e: abs(e - start))


def over_shoulder(start: tuple[float, float], end: tuple[float, float]) -> list[tuple[float, float]]:
    """Places a strap on the trunk passes that leaves the chest or the back over a shoulder and ends below the arms."""
    if start[1] < SHOULDER - 0.6 or end[1] > ARMPIT:
        return []
    sign = 1.0 if end[0] > start[0] else -1.0
    ridge = sign * 0.25 if abs(start[0]) < 0.25 else start[0] - sign * (abs(start[0]) - 0.25)
    return [(ridge, min(max(start[1], SHOULDER + 0.35), NECK - 0.3))]


def path_on(
    outside: Outside, start: tuple[float, float], end: tuple[float, float], through: Through, trunk: bool
) -> Path:
    """The geodesic on the outside of a part between two (around, along)."""
    goal = (unwound(start[0], end[0], through), end[1])
    way = np.array([start, *(over_shoulder(start, goal) if trunk else []), goal])
    flat = outside.plane.flat(way)
    return shortest_on(outside.place, flat[0], flat[-1], list(flat[1:-1]))


def _on_one(
    costume: Costume, piece: Worn, side: Side, row: StrapRow, start: Anchor, mate: Worn | None,
        uv: tuple[float, float], name: str
) -> Strap | None:  # fmt: skip
    """A strap whose both ends lie on one part of the body. mate: None: it ends on what is worn there, no armour."""
    seat = costume.seat(piece.part, side)
    if seat is None:
        return None
    trunk = piece.part == "torso"
    rank = max(LIES_OVER[p.design.template] for p in (piece, mate or piece))
    outside = costume.outside(piece.part, side, rank, piece.design.base_layer)
    path = path_on(outside, start.uv, uv, row.through, trunk)
    fine = seat.place(outside.place(path.flat))
    word = "a full breath" if trunk or piece.part == "neck" else "tense muscles"
    way = outside.plane.uv(path.flat)
    pairs = sum(a.own and a.key == row.start for a in costume.anchors(piece, side))
    grows = 0.0 if row.fastening == "tack" or mate is None else GROWS * _round_it(seat.tube, way, path, trunk)
    more = grows / 2 if pairs > 1 and not _crosses(way) else grows
    more = more if more > FELT else 0.0
    values = [Value(word, more)] if more else []
    blades = trunk and bool(((np.abs(way[:, 0] % 1.0 - 0.5) < 0.12) & (way[:, 1] > ARMPIT - 0.8)).any())
    if blades:
        more += ARMS_FORWARD
        values.append(Value("arms forward", ARMS_FORWARD))
    posture = "breathing in, arms forward" if blades else word if more else "standing"
    places = (StrapEnd(piece.key, start.name, side, fine[0], _way(fine)),
        StrapEnd(mate.key if mate else 0, name, side, fine[-1], _way(fine[::-1])))  # fmt: skip
    return _finished(piece, side, row, fine, path.length, path.length + more, posture, values, places)


def _round_it(tube: TubeSurface, way: Array, path: Path, trunk: bool) -> float:
    """Girth of the body under a strap, mm, by the share of the strap that runs round it: over a shoulder and straight
    up, nothing that grows round is bridged."""
    steps = np.diff(path.points, axis=0)
    long = np.linalg.norm(steps, axis=1)
    level = np.sqrt(np.maximum(long**2 - steps[:, 2] ** 2, 0.0))
    if trunk:
        level = level[way[1:, 1] <= ARMPIT]
    girth = float(tube.tape_girth(np.array([way[len(way) // 2, 1]]))[0])
    return girth * float(level.sum()) / max(float(long.sum()), 1e-9)


def _crosses(way: Array) -> bool:
    """Whether a strap goes over the middle of front or back: one that does not shares what the body grows by with its
    mirror image."""
    side = np.sin(2 * np.pi * way[:, 0])
    return bool(side.min() < -0.01 and side.max() > 0.01)


def _between(
    costume: Costume, piece: Worn, side: Side, row: StrapRow, start: Anchor, mate: Worn | None,
        uv: tuple[float, float], name: str, body_side: Side
) -> Strap | None:  # fmt: skip
    """A strap from one part of the body to another: taut over both, in every posture that stretches it."""
    far: BodyPart = mate.part if mate is not None else "torso"
    seat, other = costume.seat(piece.part, side), costume.seat(far, body_side)
    if seat is None or other is None:
        return None
    rank = LIES_OVER[piece.design.template]
    far_rank = LIES_OVER[mate.design.template] if mate is not None else 0
    base = piece.design.base_layer
    # Where a strap leaves the trunk for an arm, that arm is a face of its own: lifted here too, it would count twice.
    near = costume.outside(piece.part, side, rank, base, armless=True)
    away = costume.outside(far, body_side, far_rank, base, armless=True)
    start_at, end_at = seat.place(near.points(np.array([start.uv])))[0], other.place(away.points(np.array([uv])))[0]
    mine, its = costume.region(piece, side), _far_region(costume, mate, body_side)
    faces = ((costume.solid(piece.part, side, rank, base), mine), (costume.solid(far, body_side, far_rank, base), its))
    air = Air(((start_at, mine), (end_at, its)), faces, _way_round(other, away, row, uv, body_side))
    free = row.fastening == "tack" or costume.rig(piece).hangs_free
    tried = [] if free else postures_of(piece.part, far, side)
    far_end = (mate.key if mate else 0, name, body_side)
    return _in_postures(costume, piece, side, row, (start.name, far_end), air, tried)


def _in_postures(
    costume: Costume, piece: Worn, side: Side, row: StrapRow, names: tuple[str, tuple[int, str, Side]],
        air: Air, tried: list[tuple[str, list[Turned]]]
) -> Strap:  # fmt: skip
    """A strap through the air, in the posture that asks for most of it. names: of its start, and the piece, anchor and
    side of its end."""
    paths = {words: drawn_tight(costume.figure, air, turns) for words, turns in (("standing", []), *tried)}
    standing = paths["standing"]
    posture = max(paths, key=lambda w: paths[w].length)
    longest = paths[posture].length
    p = standing.points
    first, (key, last, far_side) = names
    places = (StrapEnd(piece.key, first, side, p[0], _way(p)), StrapEnd(key, last, far_side, p[-1], _way(p[::-1])))
    values = [Value(f"more when you {posture}", longest - standing.length)] if longest > standing.length else []
    return _finished(piece, side, row, p, standing.length, longest, posture, values, places)


def _round_trunk(costume: Costume, piece: Worn, side: Side, row: StrapRow, ends: tuple[Anchor, Anchor]) -> Strap | None:
    """A strap from the back of a sleeve round the trunk, under the far arm, and back to the sleeve's front."""
    seat, trunk = costume.seat(piece.part, side), costume.seat("torso", side)
    if seat is None or trunk is None:
        return None
    rank, base = LIES_OVER[piece.design.template], piece.design.base_layer
    near = costume.outside(piece.part, side, rank, base, armless=True)
    body = costume.outside("torso", side, rank, base, armless=True)
    places = seat.place(near.points(np.array([a.uv for a in ends])))
    sign = 1 if side == "left" else -1
    flat = body.plane.flat(np.array([(sign * u, v) for u, v in _ROUND]))
    line = np.vstack([np.linspace(a, b, 20) for a, b in pairwise(flat)])
    far: Side = "right" if side == "left" else "left"
    mine = costume.region(piece, side)
    faces: list[tuple[Solid | None, Region]] = [
        (costume.solid(piece.part, side, rank, base), mine),
        (costume.solid("torso", side, rank, base), "chest"),
        (costume.solid("upper arm", far, rank, base), f"{far} upper arm"),
    ]
    air = Air(((places[0], mine), (places[1], mine)), faces, list(trunk.place(body.place(line))), ROUND)
    tried = postures_of(piece.part, "torso", side)
    return _in_postures(costume, piece, side, row, (ends[0].name, (piece.key, ends[1].name, side)), air, tried)


def _far_region(costume: Costume, mate: Worn | None, side: Side) -> Region:
    return "hips" if mate is None else costume.region(mate, side)


def _way_round(seat: object, outside: Outside, row: StrapRow, uv: tuple[float, float], side: Side) -> list[Array]:
    """Places on the trunk that a strap passes on its way behind the back, mm on the figure."""
    if row.through != "back":
        return []
    sign = 1 if side == "left" else -1
    return list(seat.place(outside.points(np.array([(sign * u, v) for u, v in _BEHIND]))))  # type: ignore[attr-defined]


_BEHIND = ((0.33, SHOULDER - 0.5), (0.5, ARMPIT + 0.1), (0.7, ARMPIT - 0.4))
"""From the left shoulder behind the back and under the right arm: (around, station) on the trunk."""
_ROUND = (*_BEHIND[:2], (0.72, ARMPIT - 0.35), (0.8, ARMPIT - 0.35), (0.98, ARMPIT + 0.1), (1.17, SHOULDER - 0.5))
"""And on over the chest, back to the left shoulder."""


LEAVES = 40.0
"""Over so much of a strap its pull on the anchor is taken, mm: nearer it only follows the edge of the foam."""


def _way(points: Array) -> Array:
    """The direction in which a strap leaves its first point, unit (3,)."""
    arc = np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(points, axis=0), axis=1))])
    step = points[int(np.searchsorted(arc, min(LEAVES, arc[-1])))] - points[0]
    return np.asarray(step / max(float(np.linalg.norm(step)), 1e-9))


def _finished(
    piece: Worn, side: Side, row: StrapRow, points: Array, standing: float, longest: float, posture: str,
        more: list[Value], ends: tuple[StrapEnd, StrapEnd]
) -> Strap:  # fmt: skip
    note, cut = cut_length(piece, row, standing, more)
    adjust = longest - standing if row.fastening in ADJUSTS else 0.0
    return Strap(
        f"{row.key}|{ends[0].anchor}", row.words, side, row, row.material, row.fastening, points, standing, longest,
            posture, cut, adjust, ends, note,
    )  # fmt: skip
