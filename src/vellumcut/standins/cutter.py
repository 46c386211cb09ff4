"""A simulated cutter: it reads knife code line by line, moves a pen or a knife over its bed and remembers what it cut.

It shares nothing with what writes the code but the page that describes it.
"""

from dataclasses import dataclass, field
from typing import Literal

import numpy as np
import shapely
from numpy.typing import NDArray

Array = NDArray[np.float64]

TRAVEL, PEN, KNIFE, LIFT, CHANGE = 250.0, 120.0, 60.0, 0.3, 4.0
"""mm/s with the tool up, drawing and cutting; s to set down or lift, and to change a tool."""
TEARS = 1.0
"""mm of foam that is left and still comes off by hand."""
INTO_BED = 0.5
"""mm that a knife may go below the sheet."""


class CutterStops(Exception):
    """The machine refuses to go on, and says at which line."""


@dataclass
class Cutter:
    """width, height: of its bed, mm."""

    width: float
    height: float
    sheet: tuple[float, float, float] = (0.0, 0.0, 0.0)
    tool: Literal["", "PEN", "KNIFE"] = ""
    at: tuple[float, float] = (0.0, 0.0)
    depth: float | None = None
    clock: float = 0.0
    ended: bool = False
    cuts: list[tuple[Array, float]] = field(default_factory=list)
    events: list[tuple[float, float, float, float]] = field(default_factory=lambda: [(0.0, 0.0, 0.0, -1.0)])
    """s, x, y, and what was done on the way there: -1 tool up, 0 drawn, else mm cut."""
    remarks: list[tuple[float, str]] = field(default_factory=list)
    """s, and what its display says from then on: remarks of the program."""

    def play(self, code: str, dry: bool = False, until: float | None = None) -> None:
        """Carry out a program. dry: the tool stays up. until: s after which the maker presses stop. Raises
        CutterStops."""
        for number, line in enumerate(code.splitlines(), 1):
            told, _, remark = line.partition(";")
            words = told.split()
            if not words:
                self.remarks.append((round(self.clock, 3), remark.strip()))
                continue
            try:
                self._obey(words, dry)
            except (ValueError, IndexError) as error:
                raise CutterStops(f"Line {number}, “{line.strip()[:60]}”: {error}") from None
            if until is not None and self.clock >= until:
                return
        if not self.ended:
            raise CutterStops("The program has no END")

    def _obey(self, words: list[str], dry: bool) -> None:
        order, rest = words[0], words[1:]
        if order == "UNIT" and rest == ["MM"]:
            return
        if order == "SHEET":
            self._take_sheet([float(w) for w in rest])
        elif order == "TOOL" and rest[0] in ("PEN", "KNIFE") and self.depth is None:
            self.tool = "PEN" if rest[0] == "PEN" else "KNIFE"
            self.clock += CHANGE
        elif order == "PAUSE":
            self._up()
        elif order == "MOVE":
            self._go(rest, dry, down=False)
        elif order == "LINE":
            self._go(rest, dry, down=True)
        elif order == "DOWN":
            self._down(float(rest[0]))
        elif order == "UP":
            self._up()
        elif order == "END":
            self._end()
        else:
            raise ValueError("not known, or not now")

    def _take_sheet(self, told: list[float]) -> None:
        if len(told) != 3 or not np.isfinite(told).all() or min(told) <= 0:
            raise ValueError("a sheet has three sizes")
        if told[0] > self.width or told[1] > self.height:
            raise ValueError("the sheet is larger than the bed")
        self.sheet = (told[0], told[1], told[2])

    def _down(self, depth: float) -> None:
        if not self.tool:
            raise ValueError("no tool is in")
        if not 0 <= depth <= self.sheet[2] + INTO_BED:
            raise ValueError("that would go into the bed")
        if (self.tool == "PEN") != (depth == 0):
            raise ValueError("a pen draws at 0, a knife cuts deeper")
        self.clock += LIFT
        self.depth = depth

    def _up(self) -> None:
        if self.depth is not None:
            self.clock += LIFT
        self.depth = None

    def _go(self, rest: list[str], dry: bool, down: bool) -> None:
        to = (float(rest[0]), float(rest[1]))
        if down != (self.depth is not None):
            raise ValueError("the tool is down" if self.depth is not None else "the tool is up")
        if not np.isfinite(to).all() or not (0 <= to[0] <= self.width and 0 <= to[1] <= self.height):
            raise ValueError("that is off the bed")
        if down and not (to[0] <= self.sheet[0] and to[1] <= self.sheet[1]):
            raise ValueError("that is off the sheet")
        far = float(np.hypot(to[0] - self.at[0], to[1] - self.at[1]))
        pace = TRAVEL if not down else PEN if self.tool == "PEN" else KNIFE
        self.clock += far / pace
        if down and self.tool == "KNIFE" and not dry:
            self.cuts.append((np.array([self.at, to]), self.depth or 0.0))
        shown = -1.0 if self.depth is None or dry else self.depth
        self.events.append((round(self.clock, 3), to[0], to[1], shown))
        self.at = to

    def _end(self) -> None:
        if self.at != (0.0, 0.0) or self.depth is not None:
            raise ValueError("the tool is not home")
        self.ended = True

    def fallen(self) -> list[shapely.Polygon]:
        """What comes off the sheet: outlines that are cut through, or but for what a hand tears."""
        through = [line for line, depth in self.cuts if depth >= self.sheet[2] - TEARS - 1e-6]
        if not through:
            return []
        lines = shapely.unary_union(shapely.set_precision(shapely.multilinestrings(np.array(through)), 1e-4))
        return [g for g in shapely.get_parts(shapely.polygonize([lines])) if g.area > 1.0]
