"""The wearer's body put together from its parts: where each tube sits, where the joints are and how far they turn.

Standing, arms hanging a little away from the sides. Places of joints follow from the measures by usual proportions
(est.): a tape does not find them.
"""

from collections.abc import Callable
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from vellumcut.core.body.measures import Measurements
from vellumcut.core.body.readings import StationReading
from vellumcut.core.body.segments import BodyPart, SegmentName, Side
from vellumcut.core.body.torso import ARMPIT, HIP, NECK, SHOULDER, TORSO_GIRTHS, WAIST, TorsoReading, complete_torso
from vellumcut.core.body.tube import TubeSurface
from vellumcut.core.cast.stations import NO_SCANS, Scanned, build_tube
from vellumcut.core.cast.trunk import build_trunk
from vellumcut.core.cast.trunk_tube import shoulder_point
from vellumcut.core.errors import CraftError

Array = NDArray[np.float64]

ABDUCTED = np.radians(18.0)
"""How far hanging arms stand away from the sides, so that they clear the trunk (est.)."""
IN_SHOULDER = 20.0
"""The shoulder's joint lies this far in from its point, and as far below it, mm (est.)."""
OVER_CREASE = 40.0
"""The lowest station of the upper arm lies two fingers over the elbow's crease, mm."""
BELOW_WRIST, BELOW_ANKLE = 15.0, 25.0
"""The joints of hand and foot lie this far below the narrowest places, mm (est.)."""
HIP_APART = 0.52
"""The hip joints are this share of the hips' width apart (est.)."""
HIP_OVER, CROTCH_BELOW = 20.0, 65.0
"""The hip's joint lies so far over the fullest seat, the highest station of a thigh so far below it, mm (est.)."""
OVER_KNEE, UNDER_KNEE = 100.0, 40.0
"""From the middle of the kneecap to the lowest station of the thigh and to the highest of the lower leg, mm (est.)."""
ANKLE_HEIGHT = 85.0
"""Of the ankle's station over the ground, mm (est.)."""

Region = str
"""A part of the body that moves as one, such as "left forearm", "chest" or "hips"."""
USUAL_TRUNK = TorsoReading(girths={"bust": StationReading(girth=TORSO_GIRTHS["bust"].usual)})
PAIRED: tuple[SegmentName, ...] = ("forearm", "upper arm", "shoulder", "foot", "lower leg", "knee", "thigh")


@dataclass(frozen=True, eq=False)
class Seat:
    """Where a tube sits. origin: (3,) mm. axes: (3, 3), rows are the tube's own left, back and up on the figure.
    mirrored: a right limb, modelled as a left one."""

    tube: TubeSurface
    origin: Array
    axes: Array
    mirrored: bool = False

    def place(self, points: Array) -> Array:
        """(n, 3) mm of the tube -> of the figure."""
        turned = points @ self.axes
        out = turned + self.origin
        return np.asarray(out * [-1.0, 1.0, 1.0] if self.mirrored else out)

    def turn(self, ways: Array) -> Array:
        """(n, 3) directions of the tube -> of the figure."""
        return self.place(ways) - self.place(np.zeros((1, 3)))


@dataclass(frozen=True)
class Motion:
    """One way a joint turns. axis: unit vector on the standing figure; turning is right-handed. reach: how far, degrees
    (est.)."""

    key: str
    words: str
    axis: tuple[float, float, float]
    reach: float


@dataclass(frozen=True, eq=False)
class Joint:
    """at: (3,) mm on the figure. moves: regions that turn with it, each with the share of the angle it follows."""

    key: str
    words: str
    at: Array
    motions: tuple[Motion, ...]
    moves: dict[Region, float]


@dataclass(frozen=True, eq=False)
class Figure:
    """seats: by part and side, those that are known. missing: parts that nobody measured. ground: z of it, mm."""

    seats: dict[tuple[BodyPart, Side], Seat]
    joints: dict[str, Joint]
    missing: tuple[BodyPart, ...]
    ground: float
    waist: float
    notes: tuple[str, ...] = field(default=())


Tubes = Callable[[BodyPart, Side], TubeSurface | None]


def figure_of(measures: Measurements, scanned: Scanned = NO_SCANS) -> Figure:
    """The body of a set of measures; where the trunk was not measured, a usual one stands in. Raises CraftError."""

    def tube(part: BodyPart, side: Side) -> TubeSurface | None:
        try:
            return build_tube(measures, part, side, scanned)
        except CraftError:
            return None

    measured = tube("torso", "left")
    trunk = build_trunk(complete_torso(USUAL_TRUNK)) if measured is None else measured
    seats: dict[tuple[BodyPart, Side], Seat] = {("torso", "left"): Seat(trunk, np.zeros(3), np.eye(3))}
    rings = {k: _ring(trunk, k) for k in (HIP, WAIST, ARMPIT, NECK)}
    neck_at = rings[NECK].mean(axis=0)
    neck = tube("neck", "left")
    if neck is not None:
        seats["neck", "left"] = Seat(neck, neck_at, np.eye(3))
    places: dict[str, Array] = {"waist": rings[WAIST].mean(axis=0), "neck": neck_at}
    for side in ("left", "right"):
        arm, at = _arm(trunk, rings[ARMPIT], lambda part, s=side: tube(part, s))  # type: ignore[misc]
        leg, low = _leg(rings[HIP], lambda part, s=side: tube(part, s))  # type: ignore[misc]
        for part, seat in (arm | leg).items():
            turned = Seat(seat.tube, seat.origin, seat.axes, side == "right")
            seats[part, side] = turned
        sign = np.array([-1.0 if side == "right" else 1.0, 1.0, 1.0])
        places |= {f"{side} {name}": p * sign for name, p in (at | low).items()}
    missing: tuple[BodyPart, ...] = tuple(
        p for p in ("neck", *PAIRED) if (p, "left") not in seats and (p, "right") not in seats
    )
    missing = missing if measured is not None else ("torso", *missing)
    return Figure(seats, _joints(places), missing, float(places["left ground"][2]), float(places["waist"][2]))


def _ring(tube: TubeSurface, station: float) -> Array:
    u = np.linspace(0, 1, 128, endpoint=False)
    return tube.frame(u, np.full(128, float(station)))[0]


def _hung(way: Array, ahead: Array) -> Array:
    """Axes of a limb that runs down along ``way`` (3,) with its front towards ``ahead``."""
    up = -way / np.linalg.norm(way)
    back = -(ahead - (ahead @ up) * up)
    back /= np.linalg.norm(back)
    return np.stack([np.cross(back, up), back, up])


AHEAD, OUTWARD = np.array([0.0, -1.0, 0.0]), np.array([1.0, 0.0, 0.0])
ARM_LENGTHS: dict[str, float] = {"upper arm": 190.0, "forearm": 235.0, "lower leg": 330.0, "thigh": 270.0}
"""Of segments that nobody measured, mm, to find the next joint."""


def _length(tube: TubeSurface | None, part: str) -> float:
    return tube.length if tube is not None else ARM_LENGTHS[part]


def _arm(trunk: TubeSurface, armpit: Array, tube: Callable[[BodyPart], TubeSurface | None]) -> tuple[dict[BodyPart,
    Seat], dict[str, Array]]:  # fmt: skip
    """The left arm's tubes and joints."""
    point = trunk.frame(np.array([shoulder_point(trunk)]), np.array([float(SHOULDER)]))[0][0]  # type: ignore[arg-type]
    way = np.array([np.sin(ABDUCTED), 0.0, -np.cos(ABDUCTED)])
    joint = point - np.array([IN_SHOULDER, 0.0, IN_SHOULDER])
    upper, fore, cap = tube("upper arm"), tube("forearm"), tube("shoulder")
    drop = max(30.0, float(joint[2] - armpit[:, 2].mean())) / np.cos(ABDUCTED)
    elbow = joint + way * (drop + _length(upper, "upper arm") + OVER_CREASE)
    wrist = elbow + way * _length(fore, "forearm")
    seats: dict[BodyPart, Seat] = {}
    if upper is not None:
        seats["upper arm"] = Seat(upper, elbow - way * OVER_CREASE, _hung(way, AHEAD))
    if fore is not None:
        # The back of the hand faces outward, palms to the thighs: see docs/decisions/0020.
        seats["forearm"] = Seat(fore, wrist, _hung(way, OUTWARD))
    if cap is not None:
        seats["shoulder"] = Seat(cap, point + way * cap.length - np.array([IN_SHOULDER / 2, 0, 0]), _hung(way, AHEAD))
    return seats, {"shoulder": joint, "elbow": elbow, "wrist": wrist + way * BELOW_WRIST}


def _leg(hip: Array, tube: Callable[[BodyPart], TubeSurface | None]) -> tuple[dict[BodyPart, Seat], dict[str, Array]]:
    """The left leg's tubes and joints."""
    half = float(np.ptp(hip[:, 0]) / 2)
    middle = hip.mean(axis=0)
    joint = np.array([HIP_APART * half, middle[1], middle[2] + HIP_OVER])
    thigh, knee, lower, foot = (tube(p) for p in ("thigh", "knee", "lower leg", "foot"))
    top = np.array([joint[0], middle[1], middle[2] - CROTCH_BELOW])
    kneecap = top - np.array([0.0, 0.0, _length(thigh, "thigh") + OVER_KNEE])
    ankle = kneecap - np.array([0.0, 0.0, UNDER_KNEE + _length(lower, "lower leg")])
    down = np.array([0.0, 0.0, -1.0])
    seats: dict[BodyPart, Seat] = {}
    if thigh is not None:
        seats["thigh"] = Seat(thigh, kneecap + [0.0, 0.0, OVER_KNEE], _hung(down, AHEAD))
    if knee is not None:
        seats["knee"] = Seat(knee, kneecap - [0.0, 0.0, float(knee.at[1])], _hung(down, AHEAD))
    if lower is not None:
        seats["lower leg"] = Seat(lower, ankle, _hung(down, AHEAD))
    ground = ankle[2] - ANKLE_HEIGHT
    if foot is not None:
        depth = float(foot.half_widths(np.array([foot.at[-1]]))[1][0])
        toes = np.array([joint[0], ankle[1] - foot.length - 20.0, ground + depth])
        seats["foot"] = Seat(foot, toes, np.array([[1.0, 0, 0], [0, 0, -1.0], [0, 1.0, 0]]))
    return seats, {
        "hip": joint, "knee": kneecap, "ankle": ankle - [0.0, 0.0, BELOW_ANKLE], "ground": np.array([0.0, 0.0, ground]),
    }  # fmt: skip


KNEE_SHARE, CAP_SHARE = 0.5, 1 / 3
"""A kneecap follows half of the knee's bend; the cap of a shoulder a third of the arm's, as the shoulder blade does
(est.)."""
_ARM, _LEG = ("upper arm", "forearm", "hand"), ("thigh", "knee", "lower leg", "foot")


def _joints(at: dict[str, Array]) -> dict[str, Joint]:
    """All joints. Ranges are usual ones of grown people without armour (est.)."""
    forward, backward = (-1.0, 0.0, 0.0), (1.0, 0.0, 0.0)
    upper = {"chest": 1.0, "neck": 1.0, "head": 1.0} | {
        f"{s} {p}": 1.0 for s in ("left", "right") for p in (*_ARM, "shoulder")
    }
    out = [
        Joint("neck", "neck", at["neck"], (
            Motion("nod", "chin to the chest", backward, 45), Motion("look up", "look up", forward, 45),
            Motion("turn", "look aside", (0.0, 0.0, 1.0), 70)), {"head": 1.0}),
        Joint("waist", "waist", at["waist"], (
            Motion("lean forward", "lean forward", backward, 60), Motion("lean back", "lean back", forward, 25),
            Motion("lean aside", "lean aside", (0.0, 1.0, 0.0), 25), Motion("twist", "twist", (0.0, 0.0, 1.0), 40)),
                upper),
    ]  # fmt: skip
    for side, sign in (("left", 1.0), ("right", -1.0)):
        aside = (0.0, -sign, 0.0)
        rows = (
            ("shoulder", (Motion("raise", "raise the arm in front", forward, 160),
                Motion("spread", "raise it sideways", aside, 150),
                          Motion("reach back", "reach behind", backward, 45)),
                              dict.fromkeys(_ARM, 1.0) | {"shoulder": CAP_SHARE}),
            ("elbow", (Motion("bend", "bend the elbow", forward, 140),), {"forearm": 1.0, "hand": 1.0}),
            ("wrist", (Motion("bend", "bend the wrist", aside, 60),), {"hand": 1.0}),
            ("hip", (Motion("bend", "lift the knee, sit", forward, 110), Motion("spread", "straddle", aside, 40),
                     Motion("reach back", "step back", backward, 25)), dict.fromkeys(_LEG, 1.0)),
            ("knee", (Motion("bend", "bend the knee", backward, 130),),
                {"knee": KNEE_SHARE, "lower leg": 1.0, "foot": 1.0}),
            ("ankle", (Motion("lift", "lift the toes", forward, 25), Motion("point", "point the toes", backward, 40)),
                {"foot": 1.0}),
        )  # fmt: skip
        for name, motions, moves in rows:
            turned = {f"{side} {p}": share for p, share in moves.items()}
            out.append(Joint(f"{side} {name}", f"{side} {name}", at[f"{side} {name}"], motions, turned))
    return {j.key: j for j in out}


def rotation(axis: tuple[float, float, float], radians: float) -> Array:
    """(3, 3), points as rows turn by ``p @ R.T`` (Rodrigues)."""
    k = np.array([[0, -axis[2], axis[1]], [axis[2], 0, -axis[0]], [-axis[1], axis[0], 0]])
    return np.asarray(np.eye(3) + np.sin(radians) * k + (1 - np.cos(radians)) * k @ k)


Turned = tuple[str, str, float]
"""Joint, motion, degrees."""


def moved_by(figure: Figure, region: Region, turns: list[Turned], points: Array) -> Array:
    """(n, 3) points of a region, mm, after joints have turned; those nearer the hand or foot turn first."""
    out = points
    for key, motion, degrees in sorted(turns, key=lambda t: -RANK[t[0].split()[-1]]):
        joint = figure.joints[key]
        share = joint.moves.get(region, 0.0)
        if share:
            turn = rotation(next(m.axis for m in joint.motions if m.key == motion), np.radians(degrees * share))
            out = (out - joint.at) @ turn.T + joint.at
    return out


RANK = {"waist": 0, "neck": 1, "shoulder": 1, "elbow": 2, "wrist": 3, "hip": 0, "knee": 1, "ankle": 2}
"""How far from the trunk's middle a joint is."""
