"""A simulated heat probe: it looks at the face under the gun of a sheet that warms as a real one would, with noise."""

from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from vellumcut.core.design.foam import Face
from vellumcut.core.foam.coach import Act
from vellumcut.core.foam.heat import QUIET, STEP, Air, Slab

NOISE = 0.8
"""Standard deviation of a reading, degrees."""
FIERCER = 1.12
"""How much more this gun gives than the estimate: the coach must find out by reading the face."""


@dataclass
class HeatProbe:
    """A sheet under a gun. seed: of the noise."""

    slab: Slab
    air: Air
    seed: int = 1
    t: NDArray[np.float64] = field(init=False)

    def __post_init__(self) -> None:
        self.t = self.slab.start()
        self._luck = np.random.default_rng(self.seed)

    def look(self, seconds: float, act: Act, face: Face) -> float:
        """Let so many seconds pass while the maker does what is asked; the degrees that the probe then reads."""
        warm = Air(self.air.degrees, self.air.gives * FIERCER) if act == "heat" else QUIET
        step = self.slab.stepper(*((warm, QUIET) if face == "inner" else (QUIET, warm)))
        for _ in range(max(1, round(seconds / STEP))):
            self.t = step(self.t)
        seen = self.t[0 if face == "inner" else -1]
        return float(seen + self._luck.normal(0.0, NOISE))
