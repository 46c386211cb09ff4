"""What strain and curvature mean for the foam in hand, in a maker's words."""

from dataclasses import dataclass
from typing import Literal, get_args

import numpy as np

from vellumcut.core.errors import CraftError
from vellumcut.core.flatten.flaws import Flaw
from vellumcut.core.flatten.panel import FlatPanel
from vellumcut.core.flatten.strain import StrainSummary
from vellumcut.core.foam.sheets import Allowance, sheet_of, stack_for
from vellumcut.core.notes import Finding

_LIMB = ("front", "front outside", "outside", "back outside", "back", "back inside", "inside", "front inside")
"""Words for ``around`` in eighths on a left limb; the right limb is its mirror image, so the words hold there too."""
_BETWEEN_FRONT, _BETWEEN_BACK = "between front and side", "between back and side"
_TRUNK = ("front", _BETWEEN_FRONT, "side", _BETWEEN_BACK, "back", _BETWEEN_BACK, "side", _BETWEEN_FRONT)


State = Literal["unknown", "flat", "warm", "hard", "split"]
"""Not worked out, since the panel came flat; closes on its own, warmed through, near the limit, not at all."""
STATES: tuple[State, ...] = get_args(State)


@dataclass(frozen=True)
class Verdict:
    """state: of the panel in its foam. sentence: for the heading. advice: what to do."""

    state: State
    sentence: str
    advice: str


SADDLE = 0.8
"""A panel with more of its curvature saddle-shaped has no bulge that a dart could let out (est.)."""
A_SHORTER_PIECE = " A shorter piece or a wider opening asks less."


def place_words(uv: tuple[float, float], stations: tuple[str, ...], trunk: bool = False) -> str:
    """ "between calf and knee, back" for (around, along). trunk: it has a front and sides, and no inside."""
    where = (_TRUNK if trunk else _LIMB)[round(uv[0] * 8) % 8]
    return f"{height_words(uv[1], stations)}, {where}"


def height_words(along: float, stations: tuple[str, ...]) -> str:
    """ "between calf and knee" for a station coordinate."""
    low = int(np.clip(np.floor(along), 0, len(stations) - 2))
    share = along - low
    if share < 0.15:
        return f"at the {stations[low]}"
    if share > 0.85:
        return f"at the {stations[low + 1]}"
    return f"between {stations[low]} and {stations[low + 1]}"


def strain_state(strain: StrainSummary, give: Allowance) -> State:
    """How a panel lies in a foam: closing on its own, warmed, near the limit, or not at all."""
    if strain.p95 <= give.cold:
        return "flat"
    if strain.stretch_p95 <= give.stretch and strain.squeeze_p95 <= give.squeeze:
        return "warm"
    if strain.stretch_p95 <= give.stretch_limit and strain.squeeze_p95 <= give.squeeze_limit:
        return "hard"
    return "split"


def judge_panel(flat: FlatPanel, give: Allowance, where: str, shell: bool, flaws: tuple[Flaw, ...] = ()) -> Verdict:
    """Does the panel lie flat in this foam? Compares 95th percentiles with what the foam gives.

    where: the worst place in words. shell: a plain one, set by its ends and opening. flaws: why it cannot be cut.
    """
    if flaws:
        first = flaws[0].words
        advice = "Run a dart to the fullest place, move the dart that is there, or split the panel at that place."
        return Verdict("split", f"Cannot be cut so: {first}", advice)
    strain = flat.summary
    state = strain_state(strain, give)
    if state == "flat":
        way = "stretch" if strain.worst_stretch else "squeeze"
        return Verdict("flat", "Lies flat", f"The foam closes on its own; most at {strain.worst:.1f} % {way} {where}.")
    squeezed = strain.squeeze_p95 / give.squeeze > strain.stretch_p95 / give.stretch
    way, asked = ("squeeze", strain.squeeze_p95) if squeezed else ("stretch", strain.stretch_p95)
    good = give.squeeze if squeezed else give.stretch
    other = "Another dart, or its tip moved there," if flat.darts else "A dart there"
    if flat.saddle > SADDLE:
        other = "A split there, or a wedge let in,"
    if state == "warm":
        return Verdict(
            "warm",
            f"Lies flat with a warm {way} of {asked:.1f} %",
            f"Warm the foam through and ease it most {where}. {other} would take that away.",
        )
    if state == "hard":
        return Verdict(
            "hard",
            f"Warm {way} of {asked:.1f} %, near what foam gives",
            f"More than the comfortable {good:g} %: warm it well and press it over a form, most {where}. "
            f"{other} asks less of the foam." + (A_SHORTER_PIECE if shell else ""),
        )
    if flat.saddle > SADDLE:
        return Verdict(
            "split",
            f"A saddle: split it or let in a wedge; {asked:.1f} % {way} is more than foam gives",
            f"The foam cannot close {where}, and a dart's sides would lie over each other there."
            + (A_SHORTER_PIECE if shell else ""),
        )
    return Verdict(
        "split",
        f"Needs {'more ' if flat.darts else ''}darts or a split: {asked:.1f} % {way} is more than foam gives",
        f"The foam cannot close {where}. Run a dart from an edge to the fullest place, or split the panel."
        + (A_SHORTER_PIECE if shell else ""),
    )


def judge_laid(flat: FlatPanel, give: Allowance, where: str, flaws: tuple[Flaw, ...] = ()) -> Verdict:
    """As ``judge_panel``, of a panel that was made elsewhere and laid on this body: where it does not follow the body,
    it need not be wrong, for many a pattern stands off on purpose."""
    if flaws:
        return judge_panel(flat, give, where, False, flaws)
    strain = flat.summary
    state = strain_state(strain, give)
    squeezed = strain.squeeze_p95 > strain.stretch_p95
    way, asked = ("squeeze", strain.squeeze_p95) if squeezed else ("stretch", strain.stretch_p95)
    if state == "flat":
        return Verdict("flat", "Lies on the body where it was laid", f"The foam gives {strain.worst:.1f} % at most.")
    if state == "warm":
        words = f"Lies on the body where it was laid, with a warm {way} of {asked:.1f} %"
        return Verdict("warm", words, f"Warm the foam through and ease it most {where}.")
    words = f"Does not follow the body where it was laid: that would {way} the foam by {asked:.1f} %"
    advice = (
        f"Most {where}. It may be made to stand off there, lie elsewhere than it was laid, or be made for another "
        "body: hold it on in paper first."
    )
    return Verdict("hard", words, advice)


def sheet_findings(thickness: float) -> list[Finding]:
    """Is foam of this thickness sold, or what stack makes it?"""
    if sheet_of(thickness):
        return []
    try:
        stack = " + ".join(f"{t:g}" for t in stack_for(thickness))
        words = f"{thickness:g} mm is not sold as one sheet: stack {stack} mm, glued while bent."
    except CraftError as problem:
        words = problem.message + "."
    return [Finding("look", words, "design.foam")]
