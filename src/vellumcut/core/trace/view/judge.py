"""Which cards can be believed, and whether a picture can be used at all."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from vellumcut.core.errors import CraftError
from vellumcut.core.trace.view.cards import FEWEST, SIDE
from vellumcut.core.trace.view.find import Light, Sighting
from vellumcut.core.trace.view.rectify import resolution
from vellumcut.core.trace.view.solve import View, solve

FLAT = 0.12
"""mm by which a card's edges may miss a flat square of its size: paper that lies flat stays under it, a card with one
edge up by 2 mm does not. (est.)"""
CLEARER = 2.0
"""How much better all cards must fit without a card for it to be the one at fault."""
SOFT = 0.55
"""mm over which a step from black to white is spread: above, edges are guessed rather than seen. (est.)"""

Weight = Literal["look", "stop"]


@dataclass(frozen=True)
class Finding:
    """What is to be said of a picture or piece. stop: it cannot be used so. do: what to do about it. lasts: it holds
    for a piece whatever a stroke puts right at one place of it."""

    weight: Weight
    what: str
    do: str
    lasts: bool = False

    @property
    def words(self) -> str:
        return f"{self.what} {self.do}"


UNMEASURED = Finding(
    "look",
    "The size of the printed cards was not measured.",
    "Measure the test square on their page: printed at 97 %, everything comes 3 % too large, and no picture shows it.",
)


@dataclass(frozen=True, eq=False)
class Judged:
    """A view, and what is to be said of it. dropped: numbers of cards that were not believed."""

    view: View
    findings: tuple[Finding, ...] = ()
    dropped: tuple[int, ...] = ()


def judge_view(light: Light, seen: Sequence[Sighting], side: float = SIDE) -> Judged:
    """The view from the cards that can be believed.

    Raises CraftError where they are too few, or where four do not agree and none can be told to be wrong.
    """
    _enough(len(seen))
    view = solve(light, seen, side)
    kept, dropped = list(seen), []
    while _worst(view) > FLAT:
        trials = [(_fit_of(v := solve(light, _without(kept, k), side)), k, v) for k in range(len(kept))]
        best, k, without = min(trials, key=lambda t: t[0])
        if best * CLEARER > _fit_of(view):
            break
        dropped.append(kept[k].number)
        kept = _without(kept, k)
        if len(kept) < FEWEST:
            raise CraftError(
                f"Card {dropped[-1] + 1} does not lie flat, or is not printed at the size of the others, and three "
                "cards are "
                "too few to go by. Press it flat, or lay another one, and photograph again.",
                "photograph",
            )
        view = without
    return Judged(view, tuple(_said(view, dropped)), tuple(dropped))


def _enough(count: int) -> None:
    if count < FEWEST:
        words = "no card" if count == 0 else "one card" if count == 1 else f"{['two', 'three'][count - 2]} cards"
        raise CraftError(
            f"I see {words} in this picture, and four are needed. Lay them flat round the piece, wholly in view and "
            "out of "
            "the shine of the lamp, and photograph again.",
            "photograph",
        )


def _without(seen: Sequence[Sighting], k: int) -> list[Sighting]:
    return [s for j, s in enumerate(seen) if j != k]


def _worst(view: View) -> float:
    return max(view.residual(k) for k in range(len(view.numbers)))


def _fit_of(view: View) -> float:
    return view.residual()


def _said(view: View, dropped: Sequence[int]) -> list[Finding]:
    out = []
    for number in dropped:
        out.append(
            Finding(
                "look",
                f"Card {number + 1} does not lie flat, or is not printed at the size of the others: it is left out.",
                "Press it flat if you photograph again.",
            )
        )
    if _worst(view) > FLAT:
        names = [str(view.numbers[k] + 1) for k in range(len(view.numbers)) if view.residual(k) > FLAT]
        out.append(
            Finding(
                "stop",
                f"The cards do not agree with each other by up to {_worst(view):.1f} mm (cards {', '.join(names)}).",
                "Press them flat, see that all come from prints of one size, and photograph again.",
            )
        )
    per = resolution(view.lens, view.poses)
    if view.blur * per > SOFT:
        out.append(
            Finding(
                "stop",
                f"The picture is not sharp: an edge is spread over {2.4 * view.blur * per:.1f} mm.",
                "Hold the telephone still, tap on the piece so that it focuses there, and photograph again.",
            )
        )
    return out
