"""Magnets along a line of a piece: which seat, how many, where, and which pole up."""

from dataclasses import dataclass

import numpy as np

from vellumcut.core.design.rig import MagnetRow, Seat
from vellumcut.core.errors import CraftError
from vellumcut.core.foam.shelf import USUAL_DENSITY
from vellumcut.core.notes import Note, Value
from vellumcut.core.rig.closures.magnet_lines import MagnetLine, magnet_line
from vellumcut.core.rig.laid import LaidPiece
from vellumcut.core.rig.loads import MOVEMENT

HOLD: tuple[tuple[float, float, float], ...] = (
    (6, 2, 600), (8, 3, 1100), (10, 2, 1100), (10, 3, 1700), (12, 3, 2200), (15, 3, 3100), (20, 3, 4600), (20, 5, 7500),
)  # fmt: skip
"""Across and thick, mm, and what a couple face to face holds, g (est.): to be replaced by a pull test of the maker's
own."""
DERATED: tuple[tuple[float, float], ...] = ((0.0, 1.0), (1.0, 0.55), (2.0, 0.32), (3.0, 0.2), (4.0, 0.13), (6.0, 0.06))
"""Foam between two magnets, mm, and the share of the hold that is left through it (est.)."""
WASHER = 0.6
"""A steel washer opposite holds so much of what a second magnet would (est.)."""
SPACING, FROM_END = 120.0, 20.0
"""At most so far apart, and the end ones so far from the ends, mm (est.)."""
WALL = 2.0
"""A slot leaves so much foam over the magnet, both faces together, mm."""
STRIP_EDGE = 8.0
"""An underlap strip is two times the magnet and this wide, mm."""

SEATS: dict[Seat, str] = {
    "slot": "slot in the edge: edge to edge, the magnet thinner than the sheet by 2 mm",
    "front pocket": "pocket cut from the face: one layer, and the pull tries to take it out: rim first, then "
    "inwards, flooded with hot glue",
    "back pocket": "pocket cut from behind: the pull seats it, so it holds best",
    "sandwich": "in cloth or between thin squares, sewn all round",
    "underlap strip": "on a strip under a plain seam",
}
BETWEEN: dict[Seat, float] = {
    "slot": 0.0,
    "front pocket": 0.0,
    "back pocket": 2.0,
    "sandwich": 1.0,
    "underlap strip": 0.0,
}
"""Foam or cloth left between a couple by their seat, mm (est.)."""


@dataclass(frozen=True)
class MagnetPlan:
    """problem: why its row cannot be made as it is; then it has no magnets. couples: how many pairs along one line;
    alike: how many such lines the piece has. magnets, washers: to buy for one copy of the piece. at: mm along the line.
    poles: of this side's faces, by turns, so that it fits one way only. strip: length and width of an underlap strip,
    mm; None without."""

    row: MagnetRow
    seat: Seat
    couples: int
    magnets: int
    washers: int
    at: tuple[float, ...]
    poles: tuple[str, ...]
    strip: tuple[float, float] | None
    note: Note
    advice: tuple[str, ...]
    problem: str = ""
    alike: int = 1


def advised_seat(joint: str, foam: float, thick: float) -> Seat:
    """The seat for a joint: "edge to edge", "plate on plate", "one layer", "cloth" or "seam". foam, thick: of sheet and
    magnet, mm."""
    if joint == "edge to edge":
        return "slot" if thick <= foam - WALL else "underlap strip"
    rows: dict[str, Seat] = {
        "plate on plate": "back pocket",
        "one layer": "front pocket",
        "cloth": "sandwich",
        "seam": "underlap strip",
    }
    if joint not in rows:
        raise CraftError(f'"{joint}" is no joint of magnets; there are edge to edge, {", ".join(rows)}', "joint")
    return rows[joint]


def hold_of(size: float, thick: float) -> float:
    """What a couple face to face holds, g: of the next smaller in the table by its volume."""
    volume = size**2 * thick
    known = [(a * a * t, g) for a, t, g in HOLD]
    volumes, grams = (list(x) for x in zip(*sorted(known), strict=True))
    return float(np.interp(volume, volumes, grams))


def derated(foam: float) -> float:
    """Share of the hold that is left through so much foam, mm."""
    through, left = (list(x) for x in zip(*DERATED, strict=True))
    return float(np.interp(foam, through, left))


def plan_magnets(
    row: MagnetRow, line: MagnetLine, foam: float, weight: float, between: float | None = None
) -> MagnetPlan:
    """Magnets along a line. foam: of the sheet, mm. weight: what hangs on all lines alike, g. between: foam left in
    each couple, mm; None takes the seat's. Raises CraftError where an edge is too short for one; a line inside a panel
    is never."""
    length = line.length
    seat = row.seat or advised_seat("plate on plate" if line.within else "edge to edge", foam, row.thick)
    if line.within and seat == "slot":
        raise CraftError(f"The {row.edge} is no edge: a slot is cut into an edge; take a pocket", "magnets.seat")
    if seat == "slot" and row.thick > foam - WALL:
        raise CraftError(
            f"A magnet of {row.thick:g} mm does not go into the edge of {foam:g} mm foam: {foam - WALL:g} mm at most",
            "magnets.thick",
        )
    if length < 2 * FROM_END and not line.within:
        raise CraftError(f"The edge is {length:.0f} mm long; magnets need {2 * FROM_END:.0f} mm", "magnets.edge")
    gap = BETWEEN[seat] if between is None else between
    each = hold_of(row.size, row.thick) * derated(gap) * (WASHER if row.washers else 1.0)
    load = (row.load or weight) / line.alike
    by_load = int(np.ceil(load * MOVEMENT / each))
    between_ends = max(0.0, length - 2 * FROM_END)
    by_length = int(np.ceil(between_ends / SPACING)) + 1
    couples = max(1, by_load, by_length if length > 2 * FROM_END + row.size else 1)
    if couples > 1 and between_ends < (couples - 1) * row.size:
        raise CraftError(
            f"{couples} magnets side by side do not fit along {length:.0f} mm of the {row.edge}", "magnets"
        )
    at = tuple(float(x) for x in np.linspace(FROM_END, length - FROM_END, couples)) if couples > 1 else (length / 2,)
    note = Note(
        f"Magnets at the {row.edge}", Value("couples", couples, "count"),
        "larger of {0} x {1} / ({2} a couple x {3} through {4} of foam) and {5} / {6} + 1 along it",
        (Value("load", load, "grams"), Value("movement", MOVEMENT, "count"),
            Value("hold", each / derated(gap), "grams"), Value("left", derated(gap), "ratio"),
         Value("foam between", gap), Value("between the end ones", between_ends),
             Value("at most apart", SPACING)),
        "Foam between two magnets costs most of their hold; a row that is too wide apart gapes between.",
            "Thicker magnets, a better seat, less foam between.", about="magnet",
    )  # fmt: skip
    strip = (length, 2 * (row.size + STRIP_EDGE)) if seat == "underlap strip" else None
    poles = tuple("N" if k % 2 == 0 else "S" for k in range(couples))
    advice = (
        SEATS[seat][0].upper() + SEATS[seat][1:] + ".",
        "Cut and aligned dry before paint, out for the spray, glued after.",
        "Away from implants; a swallowed magnet is an emergency; they pinch.",
    )
    each_line = couples if row.washers else 2 * couples
    magnets, washers = each_line * line.alike, (couples if row.washers else 0) * line.alike
    return MagnetPlan(row, seat, couples, magnets, washers, at, poles, strip, note, advice, alike=line.alike)


def magnets_of(laid: LaidPiece) -> list[MagnetPlan]:
    """The magnets of every row along a piece's lines. What hangs on them, where it is not told, is estimated from the
    piece's own area. A row that cannot be made, or whose edge is gone from the ink, says so and takes nothing else with
    it."""
    foam = laid.design.foam
    grams = laid.area.area * foam * 1e-9 * USUAL_DENSITY[laid.design.foam_kind] * 1000
    return [_row_of(laid, row, foam, grams) for row in laid.design.rig.magnets]


def _row_of(laid: LaidPiece, row: MagnetRow, foam: float, grams: float) -> MagnetPlan:
    line = magnet_line(laid, row.edge)
    try:
        if line is None:
            raise CraftError(f'There is no line "{row.edge}" on this piece', "design.rig.magnets")
        return plan_magnets(row, line, foam, grams)
    except CraftError as error:
        none = Value("couples", 0, "count")
        note = Note(f"Magnets at the {row.edge}", none, "{0}", (none,), error.message, "Another size, seat or edge.",
            about="magnet")  # fmt: skip
        return MagnetPlan(row, row.seat or "slot", 0, 0, 0, (), (), None, note, (), error.message)
