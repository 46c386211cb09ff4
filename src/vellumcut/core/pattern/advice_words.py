"""What the dart planner found, in a maker's words."""

from collections.abc import Sequence
from typing import Protocol

from vellumcut.core.flatten.panel import FlatPanel
from vellumcut.core.foam.sheets import Allowance


class Planned(Protocol):
    """A plan that is told of. cuts: its strokes. p95: as it is cut; squeeze: of that, both per cent."""

    @property
    def cuts(self) -> Sequence[object]: ...
    @property
    def flat(self) -> FlatPanel: ...
    @property
    def p95(self) -> float: ...
    @property
    def squeeze(self) -> float: ...


class Parted(Protocol):
    """A split that is told of."""

    @property
    def p95(self) -> float: ...
    @property
    def words(self) -> str: ...


CUP = "Build the bulge as a cup of its own, or use softer or thinner foam."


def plan_words(
    kind: str, before: FlatPanel, plans: Sequence[Planned], splits: Sequence[Parted], give: Allowance
) -> str:
    """kind: as of the advice. before: the panel without a dart, as it is cut."""
    asks = before.summary.p95
    if kind == "none":
        words = f"No dart is wanted: it asks {asks:.1f} %, and this foam gives {give.stretch:g} % warm."
        return words + _squeezed(before.summary.squeeze_p95, give)
    if kind == "darts":
        best = plans[0]
        count = len(best.flat.darts)
        bring = "one dart brings" if count == 1 else f"{count} darts bring"
        reached = f"{bring} it to {best.p95:.1f} %.{_squeezed(best.squeeze, give)}"
        return f"It asks {asks:.1f} % and this foam gives {give.stretch:g} %: {reached}"
    if kind == "saddle":
        return (
            f"It asks {asks:.1f} %, but the surface is a saddle: a dart's sides would lie over each other. "
            "Split it, or slash it and let in a wedge."
        )
    least = min((p.p95 for p in plans), default=asks)
    reached = f"darts bring it to {least:.1f} %, and that is not enough" if plans else "no dart helps enough"
    return (
        f"It asks {asks:.1f} %, more than the {give.stretch:g} % this foam gives: {reached}. "
        f"{_instead(least, splits, give)}"
    )


def split_words(kind: str, p95: float, width: float) -> str:
    """width: of an insert at its mouth, mm."""
    if kind == "split":
        return f"Split along one line: the worst part then asks {p95:.1f} %."
    return f"Slash it and let in a wedge {width:.0f} mm wide at the edge: the worst part then asks {p95:.1f} %."


def _instead(least: float, splits: Sequence[Parted], give: Allowance) -> str:
    """What to do where darts are not enough. least: what is asked with the best of them, per cent."""
    split = splits[0] if splits and splits[0].p95 < least else None
    if split and split.p95 <= give.stretch:
        return split.words
    way = f"{split.words} " if split else ""
    if min(least, split.p95 if split else least) <= give.stretch_limit:
        return f"{way}Foam gives up to {give.stretch_limit:g} % if it is warmed well and pressed over a form. {CUP}"
    return f"{way}{CUP}"


def _squeezed(asked: float, give: Allowance) -> str:
    """Foam is squeezed less gladly than it is stretched: what is under the one limit may be over the other."""
    if asked <= give.squeeze:
        return ""
    return (
        f" It is squeezed by {asked:.1f} %, more than the comfortable {give.squeeze:g} %: "
        "warm it well and press it over a form, or draw a dart by hand."
    )
