"""Hours of a piece or a costume: one sum, shown alike wherever hours are shown."""

from collections import defaultdict
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

from vellumcut.core.make.step import Step
from vellumcut.core.paces import PACES, Work

NAMED = 3
"""Classes of work that are named as where makers differ most."""
LEARNED_SPREAD = 1.15
"""What is left of the spread once this maker's own time was learned (est.)."""


@dataclass(frozen=True)
class Hours:
    """Minutes. hands: all of it; setup: of that, getting out and cleaning away. least, most: as other makers take for
    the same piece. widest: what they differ in most, in words."""

    hands: float
    setup: float
    least: float
    most: float
    widest: tuple[str, ...]

    def as_data(self) -> dict[str, Any]:
        """As files say it: minutes to a tenth, and the sentence."""
        told = {"minutes": self.hands, "setup_minutes": self.setup, "least": self.least, "most": self.most}
        return {k: round(v, 1) for k, v in told.items()} | {"words": self.words}

    @property
    def words(self) -> str:
        """ "7.7 h of hands: 5.2 h of work, 2.5 h getting out and cleaning away. Makers differ ..."."""
        if not self.hands:
            return "No work left."
        named = ", ".join(self.widest)
        return (
            f"{_h(self.hands)} of hands: {_h(self.hands - self.setup)} of work, {_h(self.setup)} getting out and "
            f"cleaning away. Makers take {_h(self.least)} to {_h(self.most)}; they differ most in: {named}. A first "
            "build takes about the longer. Measuring, wrapping and drawing are not in it."
        )


def _h(minutes: float) -> str:
    return f"{minutes / 60:.1f} h" if minutes < 1200 else f"{minutes / 60:.0f} h"


def hours_of(steps: Iterable[Step]) -> Hours:
    """All hours of some steps, as this maker works."""
    hands = setup = least = most = 0.0
    apart: defaultdict[Work, float] = defaultdict(float)
    for step in steps:
        spread = PACES[step.work].spread if step.factor == 1.0 else LEARNED_SPREAD
        own = step.hands_on
        hands, setup = hands + own, setup + step.setup * step.factor
        least, most = least + own / spread, most + own * spread
        apart[step.work] += own * spread - own / spread
    widest = sorted(apart, key=lambda work: -apart[work])[:NAMED]
    return Hours(hands, setup, least, most, tuple(PACES[w].words.split(",")[0] for w in widest))
