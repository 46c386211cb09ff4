"""Templates on limbs, neck, shoulder, knee and foot."""

import numpy as np

from vellumcut.core.design.sheet import Stroke
from vellumcut.core.ink.library.board import Board, Place, line
from vellumcut.core.ink.lines import CLOSURE

OUTSIDE = 0.25
"""The left limb's outer side."""


def _band(board: Board, key: str, name: str, at: float, half: float, dip: float, middle: float = 0.0) -> Stroke:
    """A line across the limb at ``at`` mm, ``dip`` mm higher in its middle, ``half`` of a turn to each side."""
    tube = board.tube
    shares = np.linspace(-1, 1, 5)
    points = [(middle + float(s) * half, float(tube.along(at + dip * (1 - abs(float(s)))))) for s in shares]
    return line(key, "outline", name, *points)


def _segments(board: Board, word: str) -> list[Stroke]:
    """Bands up the limb from one point of interest in equal steps, with a closing edge to each side of the back."""
    size, tube = board.sizes, board.tube
    low, high = tube.at[0] + size["free below"], tube.at[-1] - size["free above"]
    count = max(2, round(size["segments"]))
    first = min(max(size["point of interest"], 0.0), (high - low) * 0.8)
    start = low + first if first else low
    levels = [low] if first else []
    levels += list(np.linspace(start, high, count + 1 - len(levels)))
    half = 0.5 - board.round_by(1.0, size["opening"] / 2)
    out = [
        _band(board, f"edge-{k}", f"{word} edge {k + 1}", float(z), half, size["tip"] if k > 0 else 0.0)
        for k, z in enumerate(levels)
    ]
    for key, sign in (("left", 1), ("right", -1)):
        points = [(sign * half, float(tube.along(z))) for z in levels]
        out.append(line(f"side-{key}", "outline", f"closing edge {'B' if sign > 0 else 'A'}", *points))
    top = levels[-1] + size["tip"]
    out.append(
        line("centre", "centre line", "front centre", (0.0, float(tube.along(low))), (0.0, float(tube.along(top))))
    )
    return out


def segmented_bracer(board: Board) -> list[Stroke]:
    return _segments(board, "segment")


def segmented_rerebrace(board: Board) -> list[Stroke]:
    return _segments(board, "segment")


def gorget(board: Board) -> list[Stroke]:
    """A collar: a band round the neck, flaring on to the shoulders, with its seam at the back or the side."""
    size = board.sizes
    start = {"back": -0.5, "side": -0.75}[board.choices["closure"]]
    around = [start + k / 8 for k in range(9)]
    upper = [(u, board.up("neck base", size["height"] - (size["front dip"] if abs(u) < 0.06 else 0.0))) for u in around]
    lower = [(u, board.up("neck base", -size["below neck base"])) for u in around]
    return [
        line("upper", "outline", "upper edge", *upper),
        line("lower", "outline", "lower edge", *lower, lift=size["flare"], lift_width=55.0),
        line(CLOSURE, "seam", "closure", lower[0], upper[0]),
        line(
            "centre",
            "centre line",
            "front centre",
            (0.0, board.up("neck base", -size["below neck base"])),
            (0.0, board.up("neck base", size["height"] - size["front dip"])),
        ),
    ]


def pauldron(board: Board) -> list[Stroke]:
    """A cap over the shoulder and lames down the arm, all about the outer side."""
    size, tube = board.sizes, board.tube
    lames = max(2, round(size["lames"]))
    low, cap = tube.at[0], tube.at[-1] - size["cap depth"]
    top = tube.at[-1] + size["over the top"]
    half = size["spread"] / 360.0
    levels = [float(z) for z in np.linspace(low, cap, lames + 1)]
    out = [
        _band(
            board,
            f"lame-{k}",
            f"lame edge {k + 1}",
            z,
            half * (0.86 + 0.14 * k / lames),
            -size["point"] if k == 0 else 0.0,
            OUTSIDE,
        )
        for k, z in enumerate(levels)
    ]
    for key, sign in (("front", -1), ("back", 1)):
        points: list[Place] = [
            (OUTSIDE + sign * half * (0.86 + 0.14 * k / lames), float(tube.along(z))) for k, z in enumerate(levels)
        ]
        out.append(line(f"{key}-edge", "outline", f"{key} edge", *points))
        tip = (OUTSIDE + sign * half * 0.55, float(tube.along(top)))
        out.append(
            line(
                f"{key}-cap",
                "outline",
                f"cap's {key} edge",
                points[-1],
                (OUTSIDE + sign * half * 0.95, float(tube.along((cap + top) / 2))),
                tip,
            )
        )
    ends = [(OUTSIDE + s * half * 0.55, float(tube.along(top))) for s in (-1, 1)]
    out.append(line("cap-top", "outline", "neck edge", ends[0], ends[1]))
    out.append(
        line(
            "ridge",
            "fold",
            "cap ridge",
            (OUTSIDE, float(tube.along(cap))),
            (OUTSIDE, float(tube.along(top))),
            lift=size["ridge height"],
            lift_width=45.0,
        )
    )
    return out


def tasset(board: Board) -> list[Stroke]:
    """A hanging plate on the outside front of the thigh."""
    size, tube = board.sizes, board.tube
    top = tube.at[-1] - size["below the top"]
    low = top - size["length"]
    middle = 0.12
    wide, narrow = board.round_by(2.0, size["width"] / 2), board.round_by(1.0, size["width"] * 0.4)
    at = tube.along
    return [
        line("top", "outline", "upper edge", (middle - wide, float(at(top))), (middle + wide, float(at(top)))),
        line("front", "outline", "front edge", (middle - wide, float(at(top))), (middle - narrow, float(at(low)))),
        line("side", "outline", "outer edge", (middle + wide, float(at(top))), (middle + narrow, float(at(low)))),
        line(
            "low",
            "outline",
            "lower edge",
            (middle - narrow, float(at(low))),
            (middle, float(at(low - size["point"]))),
            (middle + narrow, float(at(low))),
            straight=True,
        ),
        line("centre", "centre line", "centre", (middle, float(at(low))), (middle, float(at(top)))),
    ]


def poleyn(board: Board) -> list[Stroke]:
    """A cap over the knee with a fan on the outer side."""
    size, tube = board.sizes, board.tube
    z, at = float(tube.mm(1.0)), tube.along
    half = board.round_by(1.0, size["width"] / 2)
    low, high = z - size["height"] / 2, z + size["height"] / 2
    fan = half + board.round_by(1.0, size["fan"])

    def edge(key: str, name: str, *places: tuple[float, float]) -> Stroke:
        return line(key, "outline", name, *((u, float(at(mm))) for u, mm in places))

    ridge = [(u, float(at(z))) for u in (-half * 1.08, 0.0, fan * 1.02)]
    return [
        edge("upper", "upper edge", (-half, high - 15), (0.0, high), (half, high - 15)),
        edge("lower", "lower edge", (-half, low + 15), (0.0, low), (half, low + 15)),
        edge("inner", "inner edge", (-half, low + 15), (-half * 1.08, z), (-half, high - 15)),
        edge("outer", "fan", (half, low + 15), (fan, z - 30), (fan * 1.02, z), (fan, z + 30), (half, high - 15)),
        line("ridge", "fold", "knee ridge", *ridge, lift=size["ridge height"], lift_width=40.0),
    ]


def ridged_greave(board: Board) -> list[Stroke]:
    """A shin with a standing ridge down the front and an open back."""
    size, tube = board.sizes, board.tube
    low, high = tube.at[0] + size["free below"], tube.at[-1] - size["free above"]
    half = size["coverage"] / 360.0 / 2
    levels = [float(z) for z in np.linspace(low, high, 4)]
    at = tube.along
    down = [(0.0, float(at(high + size["knee point"]))), (0.0, float(at((low + high) / 2))), (0.0, float(at(low)))]
    return [
        line("side", "outline", "side edge", *[(half, float(at(z))) for z in levels]),
        line(
            "upper",
            "outline",
            "upper edge",
            (half, float(at(high))),
            (0.0, float(at(high + size["knee point"]))),
            straight=True,
        ),
        line("lower", "outline", "lower edge", (half, float(at(low))), (0.0, float(at(low)))),
        line(
            "ridge",
            "seam" if board.choices["ridge"] == "seam" else "fold",
            "shin ridge",
            *down,
            lift=size["ridge height"],
            lift_width=55.0,
        ),
    ]


def sabaton_cap(board: Board) -> list[Stroke]:
    """A cap over the instep and toes; the sole stays free."""
    size, tube = board.sizes, board.tube
    low, high = tube.at[0] + size["behind the toes"], tube.at[-1] - size["below the instep"]
    half = 0.5 - size["sole free"] / 360.0 / 2
    plates = max(1, round(size["plates"]))
    levels = [float(z) for z in np.linspace(low, high, plates + 1)]
    out = [
        _band(board, f"edge-{k}", f"plate edge {k + 1}", z, half, 0.0 if k else -size["toe point"])
        for k, z in enumerate(levels)
    ]
    for key, sign in (("outer", 1), ("inner", -1)):
        out.append(
            line(f"{key}-edge", "outline", f"{key} edge", *[(sign * half, float(tube.along(z))) for z in levels])
        )
    return out
