"""The heat coach: told the degrees of a face again and again, it says what to do now."""

from dataclasses import dataclass, field
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from vellumcut.core.design.foam import Face
from vellumcut.core.foam.heat import (
    COLD,
    FACE_MOST,
    FORMING,
    LONGEST,
    QUIET,
    REST_TO,
    ROOM,
    SCORCH,
    SETTING,
    STEP,
    Air,
    Slab,
    cooling,
    middle,
)  # fmt: skip

Array = NDArray[np.float64]
Act = Literal["heat", "turn", "rest", "shape", "hold", "done"]
LONG_GAP = 10.0
"""A probe that was silent for longer, seconds, is no longer believed about what happened meanwhile."""
HELD = 1e5
"""W/m2K that stands for a face whose degrees are known."""

SAYS: dict[Act, str] = {
    "heat": "Keep the gun moving over the {face} face",
    "turn": "Gun away: turn it over",
    "rest": "Gun away: let the face rest",
    "shape": "Shape it now, a little past what you want",
    "hold": "Hold it still till it is cold",
    "done": "It keeps its shape: let go",
}


@dataclass
class Coach:
    """One sheet under the gun. air: what the gun gives by estimate, to foretell how long. faces: 1 or 2.

    The middle cannot be felt: it is worked out by conduction from the degrees that were read on the face.
    """

    slab: Slab
    air: Air
    faces: int = 2
    act: Act = "heat"
    face: Face = "outer"
    read_last: float = ROOM
    hottest: float = ROOM
    passed: float = 0.0
    t: Array = field(init=False)

    def __post_init__(self) -> None:
        self.t = self.slab.start()

    def read(self, seconds: float, degrees: float) -> None:
        """A reading of the face that the probe looks at, so many seconds after the one before."""
        left = min(seconds, LONG_GAP)
        steps = max(1, round(left / STEP))
        known = Air((self.read_last + degrees) / 2, HELD)
        ends = (known, QUIET) if self.face == "inner" else (QUIET, known)
        if left > 0:
            step = self.slab.stepper(*ends, left / steps, late=1.0)
            for _ in range(steps):
                self.t = step(self.t)
        self.read_last, self.passed = degrees, self.passed + seconds
        self.hottest = max(self.hottest, degrees)
        self._go_on()

    @property
    def _seen(self) -> int:
        """Where in the sheet the probe looks."""
        return 0 if self.face == "inner" else -1

    def _go_on(self) -> None:
        warm = middle(self.t) >= FORMING
        if self.act in ("heat", "rest", "turn") and warm:
            self.act = "shape"
        elif self.act == "heat" and self.read_last >= FACE_MOST:
            self.act = "rest" if self.faces == 1 else "turn"
        elif (self.act == "rest" and self.read_last <= REST_TO) or (self.act == "shape" and middle(self.t) < SETTING):
            self.act = "heat"
        elif self.act == "hold" and middle(self.t) <= COLD:
            self.act = "done"

    def turned(self) -> None:
        """The maker has turned the sheet over; the probe looks at the other face from now on."""
        self.face = "inner" if self.face == "outer" else "outer"
        self.read_last = float(self.t[self._seen])
        self.act = "rest" if self.read_last > REST_TO else "heat"

    def shaped(self) -> None:
        """The maker has it in shape and holds it."""
        self.act = "hold"

    @property
    def middle(self) -> float:
        """Degrees in the middle of the sheet, worked out."""
        return middle(self.t)

    @property
    def words(self) -> str:
        """What to do now."""
        if self.read_last >= SCORCH:
            return "Gun away at once: the face is scorching"
        return SAYS[self.act].format(face=self.face)

    @property
    def number(self) -> float:
        """Seconds of this that are left, foretold; 0 where it is the maker who decides."""
        if self.act == "shape":
            return cooling(self.slab, self.t, SETTING)
        if self.act == "hold":
            return cooling(self.slab, self.t, COLD)
        if self.act not in ("heat", "rest"):
            return 0.0
        at = self._seen
        air = self.air if self.act == "heat" else QUIET
        step = self.slab.stepper(*((air, QUIET) if self.face == "inner" else (QUIET, air)), 0.5)
        t, passed = self.t, 0.0
        while passed < LONGEST:
            over = t[at] >= FACE_MOST or middle(t) >= FORMING if self.act == "heat" else t[at] <= REST_TO
            if over:
                break
            t, passed = step(t), passed + 0.5
        return passed
