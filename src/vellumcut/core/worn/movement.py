"""What moves: every joint of the wearer turned with the armour on it, where pieces meet, and what opens."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import TypeVar

import numpy as np
from numpy.typing import NDArray
from scipy.spatial import KDTree

from vellumcut.core.body.segments import Side
from vellumcut.core.cast.armour import MIDDLE
from vellumcut.core.ink.lines import MIRRORED
from vellumcut.core.rig.costume import Costume, Worn
from vellumcut.core.rig.figure import Joint, Motion
from vellumcut.core.rig.laid import LaidPiece
from vellumcut.core.worn.shells import FACE, Shell, cut_shell, shell_of
from vellumcut.core.worn.sweep import FINE, Hinge, Meeting, Opening, free_turn, meet, opened
from vellumcut.core.worn.trim import MOST

Array = NDArray[np.float64]

MARGIN = 15.0
"""Overlap that is left when a joint is turned as far as it goes, mm (est.)."""
FACING = 45.0
"""Rims that lie so much nearer to the other piece than the rest of it face it, mm."""
LAYERED = 25.0
"""Of two plates that lie over each other within this, mm, the stretch that does slides; it does not meet edge to
edge."""
SLIDING = {
    frozenset(x)
    for x in (
        ("knee", "lower leg"),
        ("knee", "thigh"),
        ("shoulder", "upper arm"),
        ("shoulder", "torso"),
        ("thigh", "torso"),
        ("torso",),
    )
}
"""Parts whose plates are made to lie over each other."""
MEANT_TO_MEET = 60.0
"""Plates further apart than this leave the joint open on purpose: nothing has to cover it, mm."""
HELD_OUT = (0.0, 5.0, 10.0, 15.0, 20.0, 25.0, 30.0, 40.0)
"""How much further out an arm is tried where it cannot hang for armour, degrees."""


@dataclass(frozen=True, eq=False)
class Bind:
    """Two pieces across a joint. angle: degrees at which they meet; None: not in the joint's reach. at: (3,) where, on
    the moving piece as it stands. edges: of the moving and the fixed piece, nearest to it. opening: what opens on the
    other side at ``reach``; overlap: what one has to reach under the other there, mm. held_out: how much further from
    the body the arm had to be held to begin with, degrees. by: what stands on the moving and on the fixed piece and
    meets there; nothing where it is the piece itself."""

    joint: str
    motion: str
    moving: tuple[int, Side]
    fixed: tuple[int, Side]
    reach: float
    angle: float | None
    at: Array
    edges: tuple[str, str]
    opening: Opening | None
    held_out: float = 0.0
    by: tuple[str, str] = ("", "")

    @property
    def touching(self) -> bool:
        """Whether they touch as the wearer stands, however the limb is held."""
        return self.angle is not None and self.angle < 0.7

    @property
    def overlap(self) -> float:
        """Arc that opens and a margin, mm."""
        return 0.0 if self.opening is None else self.opening.after + MARGIN


def binds_of(costume: Costume, joint: Joint, motion: Motion) -> list[Bind]:
    """Every pair of pieces that a joint's motion turns against each other."""
    return [b for m, f, share in _pairs(costume, joint) if (b := bind(costume, joint, motion, m, f, share)) is not None]


def _pairs(costume: Costume, joint: Joint) -> Iterator[tuple[tuple[Worn, Side], tuple[Worn, Side], float]]:
    """Copies on both sides of a joint that turn against each other, with the share of the angle between them. Only
    parts next to each other: what lies farther off moves with what lies between."""
    rows = [((p, s), joint.moves.get(costume.region(p, s), 0.0)) for p in costume.pieces for s in p.sides]
    for one, share in rows:
        for other, less in rows:
            if share - less > 0.05 and _near(costume, one, other, joint):
                yield one, other, share - less


_CHAIN = {
    "waist": ({"chest"}, {"hips"}),
    "neck": ({"head"}, {"neck", "chest"}),
    "shoulder": ({"upper arm", "shoulder"}, {"shoulder", "chest", "neck"}),
    "elbow": ({"forearm"}, {"upper arm"}),
    "wrist": ({"hand"}, {"forearm"}),
    "hip": ({"thigh"}, {"hips", "chest"}),
    "knee": ({"lower leg", "knee"}, {"knee", "thigh"}),
    "ankle": ({"foot"}, {"lower leg"}),
}
"""Which regions can meet at which joint."""


def _near(costume: Costume, one: tuple[Worn, Side], other: tuple[Worn, Side], joint: Joint) -> bool:
    moves, stays = _CHAIN[joint.key.split()[-1]]
    if (
        joint.key.split()[0] in ("left", "right")
        and not other[0].on(other[1]).whole
        and other[1] != joint.key.split()[0]
    ):
        return False
    a, b = (costume.region(*x).removeprefix("left ").removeprefix("right ") for x in (one, other))
    return a in moves and b in stays


def bind(
    costume: Costume, joint: Joint, motion: Motion, moving: tuple[Worn, Side], fixed: tuple[Worn, Side], share: float
) -> Bind | None:  # fmt: skip
    """One pair. None where no part of either is near the joint."""
    met = _met(costume, joint, motion, (moving, fixed), share)
    if met is None:
        return None
    m, f, found, out, by = met
    rims = _kept_of(costume, ("rims", m.key, f.key, joint.key), lambda: (facing(m, f), facing(f, m)))
    angle = float(np.degrees(found.angle) / share) if np.isfinite(found.angle) else None
    reach = np.radians(motion.reach * share)
    opening = opened(Hinge(joint.at, np.array(motion.axis)), *rims, min(reach, found.angle))
    if opening is not None and opening.before > MEANT_TO_MEET:
        opening = None
    where = found.at if angle is not None else (opening.at if opening else joint.at)
    edges = edge_near(m, where), edge_near(f, where)
    key = (moving[0].key, moving[1]), (fixed[0].key, fixed[1])
    return Bind(joint.key, motion.key, *key, motion.reach, angle, where, edges, opening, out, by)


Pair = tuple[tuple[Worn, Side], tuple[Worn, Side]]


def _met(
    costume: Costume, joint: Joint, motion: Motion, pair: Pair, share: float
) -> tuple[Shell, Shell, Meeting, float, tuple[str, str]] | None:
    """Where two copies meet, how much further out an arm was held so that it hangs clear to begin with, and what stands
    on either and meets there."""
    m, f = (kept_shell(costume, *x, joint) for x in pair)
    if m is None or f is None:
        return None
    free_m, free_f = _kept_of(costume, ("free", m.key, f.key, joint.key), lambda: edge_to_edge(m, f))
    hinge, reach = Hinge(joint.at, np.array(motion.axis)), np.radians(motion.reach * share)
    spread = next((x for x in joint.motions if x.key == "spread"), None) if joint.key.endswith("shoulder") else None
    aside = Hinge(joint.at, np.array(spread.axis)) if spread else None
    faces, fixed = np.vstack([m.faces[free_m], m.stood]), np.vstack([f.faces[free_f], f.stood])
    for out in HELD_OUT if aside else (0.0,):
        moving = aside.turned(faces, np.radians(out * share)) if aside else faces
        found = meet(hinge, moving, fixed, reach)
        if found.angle > TOUCHING:
            break
    by = ("", "")
    if np.isfinite(found.angle):
        there = hinge.turned(found.at[None], found.angle)[0]
        by = m.at_shape(moving, found.at), f.at_shape(fixed, there)
    return m, f, found, out, by


def meets_at(costume: Costume, joint: Joint, motion: Motion, pair: Pair) -> float:
    """Degrees at which two copies meet; infinite where they do not."""
    share = share_of(costume, joint, pair)
    met = _met(costume, joint, motion, pair, share)
    return np.inf if met is None else float(np.degrees(met[2].angle) / share)


TOUCHING = np.radians(0.5)
"""Shells that meet within less touch as the wearer stands."""


Made = TypeVar("Made")


def _kept_of(costume: Costume, key: tuple[object, ...], make: Callable[[], Made]) -> Made:
    """What was worked out of a costume before: shells, and what of two of them can meet, are the same for every
    motion."""
    if key not in costume.kept:
        costume.kept[key] = make()
    found: Made = costume.kept[key]  # type: ignore[assignment]
    return found


def kept_shell(costume: Costume, piece: Worn, side: Side, joint: Joint) -> Shell | None:
    """A copy's points near a joint, worked out once."""
    key = ("shell", piece.key, side, joint.key)
    return _kept_of(costume, key, lambda: shell_of(costume, piece, side, joint.at))


def with_cut(costume: Costume, cut: Worn, joint: Joint) -> Costume:
    """The costume with something cut off one piece. What was worked out of the others at a joint stands, and so does
    what is left of this one."""
    kept: dict[object, object] = {}
    for piece in costume.pieces:
        for side in piece.sides:
            was = costume.kept.get(("shell", piece.key, side, joint.key))
            if isinstance(was, Shell):
                kept["shell", piece.key, side, joint.key] = (
                    cut_shell(was, cut, joint.at) if piece.key == cut.key else was
                )
    return Costume(costume.figure, tuple(cut if p.key == cut.key else p for p in costume.pieces), kept, costume.shapes)


def edge_to_edge(m: Shell, f: Shell) -> tuple[NDArray[np.bool_], NDArray[np.bool_]]:
    """Points that can meet. The stretch where two plates lie over each other slides, and is not held against the
    other."""
    if frozenset((m.piece.part, f.piece.part)) not in SLIDING:
        return np.ones(len(m.faces), bool), np.ones(len(f.faces), bool)
    return ~_layered(m, f), ~_layered(f, m)


def _layered(one: Shell, other: Shell) -> NDArray[np.bool_]:
    """Points of a shell that lie over or under the other's face: what lies beside its rim is no layer."""
    away, near = other.tree.query(one.faces, distance_upper_bound=LAYERED)
    hit = np.isfinite(away)
    step = one.faces[hit] - other.faces[near[hit]]
    across = np.abs((step * other.normals[near[hit]]).sum(axis=1))
    out = np.zeros(len(one.faces), bool)
    out[hit] = (across > 0.9 * away[hit]) | (away[hit] < 2 * FACE)
    return out


def facing(one: Shell, other: Shell) -> Array:
    """The stretch of a piece's rim that faces another's, (n, 3)."""
    away = KDTree(other.rim).query(one.rim)[0]
    return np.asarray(one.rim[away < away.min() + FACING])


def edge_near(shell: Shell, at: Array) -> str:
    """Name of the free edge of a piece that lies nearest to a place on the figure."""
    best, least = "", np.inf
    for panel in shell.laid.inked.panels:
        for line in panel.outline:
            if line.kind != "outline":
                continue
            points = shell.seat.place(shell.laid.inked.surface.points(line.uv, MIDDLE))
            mirrored = (
                shell.seat.place(shell.laid.inked.surface.points(line.uv * [-1.0, 1.0], MIDDLE))
                if shell.laid.whole
                else points
            )
            away = min(float(np.linalg.norm(p - at, axis=1).min()) for p in (points, mirrored))
            if away < least:
                best, least = line.name, away
    return best.removesuffix(MIRRORED)


def free_at(
    costume: Costume,
    joint: Joint,
    motion: Motion,
    pair: tuple[tuple[Worn, Side], tuple[Worn, Side]],
    share: float,
    wanted: float,
) -> dict[str, tuple[Shell, Array]]:
    """Points of either piece that are in the way before a joint has turned by ``wanted`` degrees: as "moving" and
    "fixed",
    with the shell, (n, 2) of (around, along)."""
    m, f = (kept_shell(costume, *x, joint) for x in pair)
    if m is None or f is None:
        return {}
    axis = np.array(motion.axis)
    keep_m, keep_f = edge_to_edge(m, f)
    limit = np.radians(wanted * share)
    out = {}
    ways = (("moving", m, keep_m, f, keep_f, axis), ("fixed", f, keep_f, m, keep_m, -axis))
    for word, own, keep, other, others, turn in ways:
        hinge = Hinge(joint.at, turn)
        hit = free_turn(hinge, own.faces[keep], other.faces[others], 2 * FINE) < limit
        out[word] = (own, own.uv[keep][hit])
    return out


@dataclass(frozen=True, eq=False)
class Trim:
    """mm off one edge of a piece after which two pieces no longer meet before the wanted angle; below nothing: to
    add."""

    piece: int
    edge: str
    mm: float


SPARE = 3.0
"""Cut off beyond what just binds, mm."""


def trims_for(costume: Costume, joint: Joint, motion: Motion, found: Bind, wanted: float) -> list[Trim]:
    """What to cut off either piece so that a joint turns as far as wanted, the lesser first. Not proved: see
    ``proved_trim``."""
    pair = (costume.piece(found.moving[0]), found.moving[1]), (costume.piece(found.fixed[0]), found.fixed[1])
    share = share_of(costume, joint, pair)
    out = []
    for shell, uv in free_at(costume, joint, motion, pair, share, wanted).values():
        if not len(uv):
            continue
        edge, deep = _cut_back(shell, uv)
        if edge and deep + SPARE <= MOST:
            out.append(Trim(shell.piece.key, edge, deep + SPARE))
    return sorted(out, key=lambda t: t.mm)


def share_of(costume: Costume, joint: Joint, pair: tuple[tuple[Worn, Side], tuple[Worn, Side]]) -> float:
    """By how much of the joint's angle two copies turn against each other."""
    moving, fixed = (joint.moves.get(costume.region(*x), 0.0) for x in pair)
    return moving - fixed


def _cut_back(shell: Shell, uv: Array) -> tuple[str, float]:
    """The free edge that has to go back and by how much, mm, for every place to be cut off: of its edges the one that
    asks for least."""
    flat = shell.laid.plane.flat(uv * [1.0, 1.0])
    best, least = "", np.inf
    for name, line in _free_lines(shell.laid):
        level = np.ptp(line[:, 0]) >= np.ptp(line[:, 1])
        k = 1 if level else 0
        middle = float(np.mean(line[:, k]))
        rest = shell.laid.area.centroid.coords[0][k]
        order = np.argsort(line[:, 1 - k])
        beside = np.interp(flat[:, 1 - k], line[order, 1 - k], line[order, k])
        deep = float(((flat[:, k] - beside) * np.sign(rest - middle)).max())
        if 0 < deep < least:
            best, least = name, deep
    return best, least


def _free_lines(laid: LaidPiece) -> Iterator[tuple[str, Array]]:
    """Every free edge by its name, as a line on the plane, (n, 2) mm."""
    for panel, twin in zip(laid.inked.panels, laid.inked.twins, strict=True):
        for line in panel.outline:
            if line.kind == "outline":
                flat = laid.plane.flat(line.uv)
                yield line.name, flat
                if twin:
                    yield line.name, flat * [-1.0, 1.0]
