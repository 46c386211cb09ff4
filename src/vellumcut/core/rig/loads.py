"""What each anchor carries: the piece at rest on its wearer, and what that asks of webbing, hook-and-loop and
rivets."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray
from scipy.optimize import linprog

from vellumcut.core.body.segments import Side
from vellumcut.core.cast.armour import INNER, MIDDLE
from vellumcut.core.notes import Note, Value
from vellumcut.core.rig.costume import Costume, Worn
from vellumcut.core.rig.laid import LaidPiece
from vellumcut.core.rig.straps import Strap, StrapEnd

Array = NDArray[np.float64]

MOVEMENT = 3.0
"""Walking and turning pull at an anchor with so many times the weight (est.)."""
FRICTION = 0.35
"""Of foam on cloth (est.)."""
ELASTIC = 5.0
"""An elastic at a stretch of 30 % pulls with so many g for each mm of its width (est.)."""
WRAPPED = np.pi
"""A strap drawn round half a limb presses it with so many times its pull (the belt's rule, to first order)."""
HOOK_AREA = 25.0 * 60.0 / 150.0
"""Hook-and-loop for each gram at least, mm2 (est.): 25 x 60 mm for 150 g."""
LEAST_PATCH = 25.0 * 60.0
RIVET = 400.0
"""A rivet through webbing and foam holds so much, g at three times the weight (est.)."""
TOUCHES = 70
"""Places at which a piece leans on the body in the sum."""
AT_REST = 0.01
"""Share of the weight that may be left over."""


@dataclass(frozen=True, eq=False)
class AnchorLoad:
    """piece: of whom. anchor, side: which. grams: at rest, the worst that friction allows. resting: in the way of
    resting that is shown. own: what an elastic pulls by itself, g. pull: unit vector of the strap. hook: mm2 of
    hook-and-loop it asks. rivets: how many would hold it."""

    piece: int
    anchor: str
    side: Side
    grams: float
    pull: Array
    resting: float = 0.0
    own: float = 0.0

    @property
    def moving(self) -> float:
        """Three times as much, and an elastic's own pull, g."""
        return self.grams * MOVEMENT + self.own

    @property
    def hook(self) -> float:
        """mm2 of hook-and-loop."""
        return max(LEAST_PATCH, self.moving * HOOK_AREA)

    @property
    def rivets(self) -> int:
        """Through webbing and foam, two at least: one turns."""
        return max(2, int(np.ceil(self.moving / RIVET)))


@dataclass(frozen=True, eq=False)
class Rest:
    """How one copy of a piece rests. left: forces and moments that nothing takes up, a share of the weight; way: where
    the piece then goes, unit vector. middle: its centre of mass, mm on the figure. leans: (n, 3) places at which it
    leans on the body, mm, and (n, 3) pushes of the body there, g. better: a place (around, along) where one more anchor
    would hold it. swings: how far a plate that hangs free swings from where it was cast, degrees."""

    piece: int
    side: Side
    weight: float
    carried: float
    middle: Array
    loads: tuple[AnchorLoad, ...]
    left: float
    way: Array
    leans: tuple[Array, Array]
    better: tuple[float, float] | None = None
    swings: float = 0.0

    @property
    def holds(self) -> bool:
        """Whether all of it is taken up."""
        return self.left <= AT_REST

    @property
    def hardest(self) -> AnchorLoad | None:
        """The anchor that is pulled hardest; of those that are pulled alike to a gram, the first."""
        most = max((x.grams for x in self.loads), default=0.0)
        return next((x for x in self.loads if x.grams > most - 1.0), None)


def face_points(laid: LaidPiece, count: int, depth: float) -> tuple[Array, Array, Array]:
    """About so many places spread evenly over a piece: (around, along), points and outward normals on its tube, mm."""
    low_x, low, high_x, high = laid.area.bounds
    step = max(4.0, np.sqrt(laid.area.area / count))
    x, y = (
        g.ravel() for g in np.meshgrid(np.arange(low_x + step / 2, high_x, step), np.arange(low + step / 2, high, step))
    )
    uv = laid.plane.uv(np.stack([x, y], axis=1))
    uv = uv[laid.covers(uv)]
    normal = laid.inked.tube.frame(uv[:, 0], uv[:, 1])[1]
    return uv, laid.inked.surface.points(uv, depth), normal


def rest_of(costume: Costume, piece: Worn, side: Side, straps: Sequence[Strap]) -> Rest | None:
    """How one copy of a piece rests, with what hangs on it. straps: of the whole costume, as far as they are known;
    None where its part of the body is not."""
    seat = costume.seat(piece.part, side)
    if seat is None:
        return None
    laid = piece.on(side)
    _, points, normals = face_points(laid, TOUCHES, INNER)
    places = seat.place(points)
    ways = seat.turn(normals)
    weight = piece.weight / max(1, piece.copies)
    middle = seat.place(face_points(laid, 400, MIDDLE)[1]).mean(axis=0)
    hung = _hung_weight(costume, piece, side, straps)
    down = np.array([0.0, 0.0, -1.0])
    load = [(middle, weight * down), *((e.at, g * down) for e, g in hung)]
    total = weight + sum(g for _, g in hung)
    pulls = _pulls(costume, piece, side, straps, {e.anchor for e, _ in hung})
    sum_ = _Sum(load, total, places, ways, middle)
    tension, left, way, pushes = _solve(sum_, pulls)
    swings, worst = 0.0, _worst(sum_, pulls, tension)
    lifting = [p for p in pulls if len(p) == 1]
    shares = _hanging(middle, [p[0].at for p in lifting]) if left > AT_REST and len(lifting) in (1, 2) else None
    if shares is not None:
        swings, left = float(np.degrees(np.arctan(left))), 0.0
        tension = np.array([total * shares[lifting.index(p)] if p in lifting else 0.0 for p in pulls])
        pushes = np.zeros_like(pushes)
        worst = tension
    own = _elastic(piece, straps)
    loads = tuple(
        AnchorLoad(piece.key, e.anchor, e.side, float(w), e.pull, float(t), own.get((e.anchor, e.side), 0.0)) for pull,
            w, t in zip(pulls, worst, tension, strict=True) for e in pull
    )  # fmt: skip
    better = None if left <= AT_REST else _better(costume, piece, side, sum_, pulls)
    return Rest(piece.key, side, weight, total - weight, middle, loads, left, way, (places, pushes), better, swings)


def _hanging(middle: Array, at: Sequence[Array]) -> tuple[float, ...] | None:
    """Shares of a plate's weight on one strap, or on two by the lever between them; None where it would turn over."""
    if len(at) == 1:
        return (1.0,)
    beam = (at[1] - at[0]) * [1.0, 1.0, 0.0]
    far = float((middle - at[0]) @ beam / max(float(beam @ beam), 1e-9))
    return (1 - far, far) if 0.0 <= far <= 1.0 else None


def _pulls(
    costume: Costume, piece: Worn, side: Side, straps: Sequence[Strap], hung: set[str]
) -> list[tuple[StrapEnd, ...]]:
    """Each strap that can hold a piece, by its ends on it: a strap pulls alike at both."""
    out = []
    for strap in straps:
        if not (piece.on(side).whole or strap.side == side):
            continue
        ends = tuple(e for e in strap.ends if e.piece == piece.key and e.anchor not in hung)
        if (ends and strap.fastening != "tack") or (ends and len(ends) == 1):
            out.append(ends)
    return out if out or piece.on(side).whole else _drawn_shut(costume, piece, side)


def _drawn_shut(costume: Costume, piece: Worn, side: Side) -> list[tuple[StrapEnd, ...]]:
    """A shell without straps is drawn shut along its closing edges, by a lace, a zip or its own glued seam: as so many
    straps from edge to edge."""
    laid, seat = piece.on(side), costume.seat(piece.part, side)
    out: list[tuple[StrapEnd, ...]] = []
    for y in (0.15, 0.5, 0.85):
        spots = [laid.spot(x, y, 6.0)[None] for x in (1.0, -1.0)]
        one, other = (seat.place(laid.inked.surface.points(uv, MIDDLE))[0] for uv in spots)  # type: ignore[union-attr]
        way = (other - one) / max(float(np.linalg.norm(other - one)), 1e-9)
        out.append(
            (
                StrapEnd(piece.key, "closing edge B", side, one, way),
                StrapEnd(piece.key, "closing edge A", side, other, -way),
            )
        )
    return out


def _hung_weight(costume: Costume, piece: Worn, side: Side, straps: Sequence[Strap]) -> list[tuple[StrapEnd, float]]:
    """What hangs on a piece by straps that lift: each hanging piece's weight, shared by its lifting straps."""
    out = []
    for strap in straps:
        if not strap.row.lifts or strap.ends[0].piece == piece.key or strap.ends[1].piece != piece.key:
            continue
        if piece.design.template in ("breastplate", "backplate") and costume.piece(
            strap.ends[0].piece
        ).design.template in ("breastplate", "backplate"):
            continue
        owner = costume.piece(strap.ends[0].piece)
        mates = [
            s
            for s in straps
            if s.row.lifts and s.ends[0].piece == owner.key and s.ends[1].piece != owner.key and s.side == strap.side
        ]
        if piece.on(side).whole or strap.side == side:
            out.append((strap.ends[1], owner.weight / max(1, owner.copies) / len(mates)))
    return out


ARM = 100.0
"""Moments are weighed against forces by this lever, mm."""


@dataclass(frozen=True, eq=False)
class _Sum:
    """load: places and forces. total: g. places, ways: where the piece leans and the way it is pushed."""

    load: list[tuple[Array, Array]]
    total: float
    places: Array
    ways: Array
    middle: Array

    def wrench(self, at: Array, force: Array) -> Array:
        """Forces and moments about the middle, (6, n), of forces (n, 3) at places (n, 3)."""
        return np.asarray(np.hstack([force, np.cross(at - self.middle, force) / ARM]).T)

    @cached_property
    def leaning(self) -> Array:
        """What each push of the body within the cone of friction does, (6, n)."""
        return np.hstack([self.wrench(self.places, self.ways + FRICTION * d) for d in _tangents(self.ways)])

    def drawn(self, pulls: Sequence[tuple[StrapEnd, ...]]) -> Array:
        """What each strap does when it pulls, (6, k)."""
        rows = [self.wrench(np.array([e.at for e in p]), np.array([e.pull for e in p])).sum(axis=1) for p in pulls]
        return np.array(rows).T if rows else np.zeros((6, 0))

    @property
    def asked(self) -> Array:
        """What has to be taken up, (6,), in shares of all weight."""
        at, force = (np.array([x[k] for x in self.load]) for k in (0, 1))
        return np.asarray(-self.wrench(at, force).sum(axis=1) / max(self.total, 1e-9))


def _solve(sum_: _Sum, pulls: Sequence[tuple[StrapEnd, ...]]) -> tuple[Array, float, Array, Array]:
    """Pull of each strap, g; what is left over as a share of all weight; its direction; and the body's pushes, g.

    A piece leans on the body within the cone of friction, and straps pull. Leaning presses no harder than the weight
    and what the straps draw round the body, or a stiff ring would hold itself up by squeezing. Of all ways of resting
    the one with the least of the hardest pull: a linear program (HiGHS).
    """
    leaning, strap = sum_.leaning, sum_.drawn(pulls)
    n, k = leaning.shape[1], strap.shape[1]
    equal = np.hstack([leaning, strap, np.eye(6), -np.eye(6), np.zeros((6, 1))])
    wrapped = [WRAPPED if len(p) == 2 else 1.0 for p in pulls]
    squeeze = np.concatenate([np.ones(n), -np.array(wrapped), np.zeros(13)])
    hardest = np.hstack([np.zeros((k, n)), np.eye(k), np.zeros((k, 12)), -np.ones((k, 1))])
    cost = np.concatenate([np.full(n, 1e-3), np.full(k, 0.05), np.full(12, 1e3), [1.0]])
    bound = np.concatenate([[1.0], np.zeros(k)])
    found = linprog(cost, A_ub=np.vstack([squeeze, hardest]), b_ub=bound, A_eq=equal, b_eq=sum_.asked, method="highs")
    gap = equal[:, : n + k] @ found.x[: n + k] - sum_.asked
    way = gap[:3] / max(float(np.linalg.norm(gap[:3])), 1e-9)
    pressed = found.x[:n].reshape(4, -1, 1) * np.stack([sum_.ways + FRICTION * d for d in _tangents(sum_.ways)])
    return found.x[n : n + k] * sum_.total, float(np.linalg.norm(gap)), way, pressed.sum(axis=0) * sum_.total


def _elastic(piece: Worn, straps: Sequence[Strap]) -> dict[tuple[str, Side], float]:
    """What elastics pull at a piece's anchors by themselves, g: nothing has to weigh on them."""
    own: dict[tuple[str, Side], float] = {}
    for strap in straps:
        if strap.material == "elastic":
            pull = ELASTIC * piece.design.rig.webbing * piece.design.rig.stretch / 0.3
            own |= {(e.anchor, e.side): pull for e in strap.ends if e.piece == piece.key}
    return own


def _worst(sum_: _Sum, pulls: Sequence[tuple[StrapEnd, ...]], least: Array) -> Array:
    """The most that each strap may have to hold, g: friction and the other straps may take less than in the kindest
    way of resting, whose pulls are ``least``. The body pushes no harder than it did there, and no strap carries more
    than all of the weight unless it has to. Where that has no answer, the kindest way's pulls stay."""
    n, k = sum_.leaning.shape[1], len(pulls)
    shares = least / max(sum_.total, 1e-9)
    pushed = 1.0 + sum(WRAPPED * t for p, t in zip(pulls, shares, strict=True) if len(p) == 2)
    equal = np.hstack([sum_.leaning, sum_.drawn(pulls)])
    squeeze = np.concatenate([np.ones(n), np.zeros(k)])[None]
    bounds = [*[(0.0, None)] * n, *((0.0, max(1.0, float(t) * 1.001)) for t in shares)]
    out = least.copy()
    for i in range(k):
        cost = np.zeros(n + k)
        cost[n + i] = -1.0
        found = linprog(
            cost, A_ub=squeeze, b_ub=[pushed * 1.001], A_eq=equal, b_eq=sum_.asked, bounds=bounds, method="highs"
        )
        if found.success:
            out[i] = max(out[i], float(found.x[n + i]) * sum_.total)
    return np.asarray(out)


def _tangents(ways: Array) -> tuple[Array, ...]:
    """Four directions of friction at each place, (n, 3) each."""
    across = np.cross(ways, [0.0, 0.0, 1.0])
    across /= np.maximum(np.linalg.norm(across, axis=1, keepdims=True), 1e-6)
    up = np.cross(across, ways)
    return up, -up, across, -across


def _better(
    costume: Costume, piece: Worn, side: Side, sum_: _Sum, pulls: list[tuple[StrapEnd, ...]]
) -> tuple[float, float] | None:
    """Where one more anchor, pulling up over the body, leaves least open."""
    laid, seat = piece.on(side), costume.seat(piece.part, side)
    best, least = None, np.inf
    for x in (-0.9, -0.5, 0.0, 0.5, 0.9):
        uv = laid.spot(x, 0.95, 18.0)
        at = seat.place(laid.inked.surface.points(uv[None], MIDDLE))[0]  # type: ignore[union-attr]
        end = StrapEnd(0, "tried", side, at, np.array([0.0, 0.0, 1.0]))
        left = _solve(sum_, [*pulls, (end,)])[1]
        if left < least:
            best, least = uv, left
    return None if best is None else (float(best[0]), float(best[1]))


def load_note(rest: Rest, load: AnchorLoad) -> Note:
    """How the load of one anchor was made."""
    return Note(
        f"Load at {load.anchor}", Value("load", load.moving, "grams"),
        "{0} at rest x {1} for movement + {4} of an elastic itself; the piece weighs {2} and carries {3}",
        (Value("at rest", load.grams, "grams"), Value("movement", MOVEMENT, "count"),
            Value("weight", rest.weight, "grams"), Value("hangs on it", rest.carried, "grams"),
            Value("elastic", load.own, "grams")),
        "The piece leans on the body, held by friction as far as something presses it there, and its straps pull. "
            "Friction may help or not: of all ways of resting the one in which this anchor holds most.",
        "Lighter foam, another anchor or one more strap.", about="load",
    )  # fmt: skip
