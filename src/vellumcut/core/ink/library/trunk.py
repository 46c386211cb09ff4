"""Templates on the trunk: breastplate, backplate, shoulder extension, faulds, belt and bandolier."""

import numpy as np

from vellumcut.core.cast.trunk_tube import neck_side, shoulder_point
from vellumcut.core.design.sheet import Stroke
from vellumcut.core.ink.library.board import Board, Place, line, oval
from vellumcut.core.ink.lines import CLOSURE

CUP_TO_MIDDLE = 0.88
"""A cup stays this share of the way clear of the front centre, or left and right would cross."""
NECK, SHOULDER, BUST, UNDERBUST, WAIST, HIP = 6.0, 5.0, 3.0, 2.0, 1.0, 0.0


def _strap(board: Board, front: bool) -> tuple[Place, Place]:
    """Ends of the shoulder edge on the left: at the neck and at the shoulder point."""
    sign = -1.0 if front else 1.0
    over = board.round_by(5.5, 12.0) if board.choices.get("closure") == "shoulder" else 0.0
    inner = (neck_side(board.trunk) + sign * -over, board.up(NECK, -board.sizes["neck clearance"]))
    outer = (shoulder_point(board.trunk) + sign * -over, board.up(SHOULDER, board.sizes["shoulder inset"]))
    return inner, outer


def breastplate(board: Board) -> list[Stroke]:
    """Half a breastplate: neckline, shoulder, armhole, side, hem; cups, ridge or crossing folds on top."""
    size, look = board.sizes, board.choices["front"]
    inner, outer = _strap(board, True)
    side = 0.25 if board.choices["closure"] != "back" else 0.27
    low = board.up(WAIST, -size["below waist"])
    under = (side, board.up(board.underarm, -size["underarm drop"]))
    throat = (0.0, board.up(NECK, -size["neckline drop"]))
    hem = (0.0, board.up(WAIST, -size["below waist"] - size["hem point"]))
    middle_of_neckline = (inner[0] * 0.62, throat[1] + 0.35 * (inner[1] - throat[1]))
    out = [
        line("neckline", "outline", "neckline", throat, middle_of_neckline, inner),
        line("shoulder", "outline", "shoulder edge", inner, outer),
        line("armhole", "outline", "armhole", outer, *board.armhole(True, size["armhole clearance"]), under),
        line("side", "outline", "side edge", under, (side, (under[1] + low) / 2), (side, low)),
        line("hem", "outline", "hem", (side, low), (side * 0.5, (low + hem[1]) / 2), hem),
    ]
    middle = [throat, (0.0, board.up(BUST)), (0.0, board.up(WAIST)), hem]
    if look == "centre ridge":
        out.append(line("ridge", "seam", "centre ridge", *middle, lift=size["ridge height"], lift_width=70.0))
    else:
        out.append(line("centre", "centre line", "front centre", *middle))
    if look == "cups":
        across = min(size["cup radius"], CUP_TO_MIDDLE * board.trunk.apex[0] * float(board.tube.girth(BUST)))
        out.append(oval("cup", "seam", "cup", board, board.trunk.apex, across, across * 1.05))
        out += cup_darts(board, across)
    if look == "cross-fold":
        high = (outer[0] * 0.9, outer[1] - 0.25)
        out.append(
            line(
                "fold",
                "fold",
                "crossing fold",
                high,
                board.trunk.apex,
                (0.0, board.up(UNDERBUST)),
                lift=size["ridge height"],
                lift_width=35.0,
            )
        )
    return out


CUP_DARTS = ((-60.0, 0.86), (20.0, 0.8))
"""Where a cup's darts open, degrees from the wearer's left upwards, and how far to the apex they run: under the cup and
under the arm, where the eye does not go. A dome that is cut without darts has a rim much longer than the hole it is
set in; of the pairs that were tried these two leave the rim nearest to it."""


def cup_darts(board: Board, radius: float) -> list[Stroke]:
    """Darts that let a cup close: from its rim towards the apex."""
    u, v = board.trunk.apex
    mm = float(board.tube.mm(v))
    out = []
    for k, (degrees, reach) in enumerate(CUP_DARTS, start=1):
        way = (np.cos(np.radians(degrees)) * radius, np.sin(np.radians(degrees)) * radius * 1.05)
        ends: list[Place] = []
        for share in (1.0, 1.0 - reach):
            up = float(board.tube.along(mm + share * way[1]))
            ends.append((u + board.round_by(up, share * way[0]), up))
        out.append(line(f"cup-dart-{k}", "dart", f"cup dart {k}", *ends).model_copy(update={"curve": "straight"}))
    return out


def backplate(board: Board) -> list[Stroke]:
    """Half a backplate, to the middle of the back; an opening down it if it closes there."""
    size = board.sizes
    inner, outer = _strap(board, False)
    low = board.up(WAIST, -size["below waist"])
    under = (0.25, board.up(board.underarm, -size["underarm drop"]))
    middle = 0.5 - (board.round_by(BUST, size["opening"] / 2) if board.choices["closure"] == "back" else 0.0)
    nape = (middle, board.up(NECK, -size["neckline drop"]))
    tail = (middle, board.up(WAIST, -size["below waist"] - size["hem point"]))
    bend = (inner[0] + 0.5 * (middle - inner[0]), nape[1] + 0.2 * (inner[1] - nape[1]))
    down: list[Place] = [nape, (middle, board.up(BUST)), (middle, board.up(WAIST)), tail]
    out = [
        line("neckline", "outline", "neckline", inner, bend, nape),
        line("shoulder", "outline", "shoulder edge", inner, outer),
        line("armhole", "outline", "armhole", outer, *board.armhole(False, size["armhole clearance"]), under),
        line("side", "outline", "side edge", under, (0.25, (under[1] + low) / 2), (0.25, low)),
        line("hem", "outline", "hem", (0.25, low), ((0.25 + middle) / 2, (low + tail[1]) / 2), tail),
    ]
    if board.choices["closure"] == "back":
        return [*out, line("centre", "outline", "back opening", *down)]
    return [*out, line("centre", "centre line", "back centre", *down)]


def shoulder_extension(board: Board) -> list[Stroke]:
    """A plate from the left shoulder down over the chest."""
    size = board.sizes
    inner, outer = _strap(board, True)
    low = board.up(BUST, size["above bust"])
    arm = board.armhole(True, size["armhole clearance"])
    tip = (board.round_by(low, 40.0), low)
    beside_neck = (board.round_by(SHOULDER - 0.4, 62.0), SHOULDER - 0.4)
    return [
        line("shoulder", "outline", "shoulder edge", inner, outer),
        line("arm", "outline", "arm edge", outer, arm[0], arm[1]),
        line("lower", "outline", "lower edge", arm[1], (board.trunk.apex[0], low + 0.5 * (arm[1][1] - low) - 0.1), tip),
        line("inner", "outline", "inner edge", tip, beside_neck, inner),
    ]


def faulds(board: Board) -> list[Stroke]:
    """A shelf of plates round the hips, open in front and at the back, standing off along its lower edge."""
    size = board.sizes
    top, low = board.up(WAIST, -size["below waist"]), board.up(WAIST, -size["below waist"] - size["depth"])
    front, back = board.round_by(HIP, size["front gap"] / 2), 0.5 - board.round_by(HIP, size["back gap"] / 2)
    plates = max(1, round(size["plates"]))
    out = [
        line("top", "outline", "upper edge", (front, top), ((front + back) / 2, top), (back, top)),
        line(
            "low",
            "outline",
            "lower edge",
            (front, low),
            ((front + back) / 2, low),
            (back, low),
            lift=size["shelf"],
            lift_width=max(30.0, size["depth"]),
        ),
        line("front", "outline", "front edge", (front, top), (front, low)),
        line("back", "outline", "back edge", (back, top), (back, low)),
    ]
    for k in range(1, plates):
        u = front + (back - front) * k / plates
        out.append(line(f"joint-{k}", "seam", f"joint {k}", (u, top), (u, low)))
    return out


def belt(board: Board) -> list[Stroke]:
    """A band round the waist that closes at the left side or at the back."""
    half, dip, below = board.sizes["width"] / 2, board.sizes["front dip"], board.sizes["below waist"]
    start = {"back": -0.5, "left side": -0.75}[board.choices["closure"]]
    across = [start + k / 8 for k in range(9)]
    drop = [dip if abs(u) < 1e-6 else 0.0 for u in across]
    upper = [(u, board.up(WAIST, half - d - below)) for u, d in zip(across, drop, strict=True)]
    lower = [(u, board.up(WAIST, -half - d - below)) for u, d in zip(across, drop, strict=True)]
    return [
        line("upper", "outline", "upper edge", *upper),
        line("lower", "outline", "lower edge", *lower),
        line(CLOSURE, "seam", "closure", lower[0], upper[0]),
    ]


def bandolier(board: Board) -> list[Stroke]:
    """A band from the left shoulder across the chest to the right hip, the front half."""
    half = board.sizes["width"] / 2
    top, low = board.up(SHOULDER, 18.0), board.up(WAIST, -board.sizes["below waist"])
    u_top = (neck_side(board.trunk) + shoulder_point(board.trunk)) / 2
    path: list[Place] = [(u_top, top), (0.07, board.up(BUST, 30)), (-0.08, board.up(UNDERBUST)), (-0.25, low)]
    a, b = board.beside(path, half), board.beside(path, -half)
    return [
        line("upper", "outline", "upper edge", *a),
        line("lower", "outline", "lower edge", *b),
        line("shoulder-end", "outline", "shoulder end", a[0], b[0]),
        line("hip-end", "outline", "hip end", a[-1], b[-1]),
        line("pattern", "mark", "middle", *path),
    ]
