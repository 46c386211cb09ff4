"""What strain and curvature mean for the foam in hand, in a maker's words."""

from dataclasses import dataclass

import numpy as np

from vellumcut.core.cast.armour import MIDDLE, ArmourSurface
from vellumcut.core.errors import CraftError
from vellumcut.core.flatten.strain import StrainSummary
from vellumcut.core.foam.sheets import Allowance, sheet_of, stack_for
from vellumcut.core.notes import Finding, Value

BEND_COLD, BEND_WARM, BEND_LIMIT = 3.0, 10.0, 20.0
"""Outer-fibre strain t/(2R) foam takes cold, warm, and warm with spring-back allowed for, per cent (est.)."""

_AROUND = (
    (0.0625, "front"),
    (0.1875, "front outside"),
    (0.3125, "outside"),
    (0.4375, "back outside"),
    (0.5625, "back"),
    (0.6875, "back inside"),
    (0.8125, "inside"),
    (0.9375, "front inside"),
    (1.0, "front"),
)
"""Words for ``around`` on a left limb; the right limb is its mirror image, so the words hold there too."""


@dataclass(frozen=True)
class Verdict:
    """state: flat, warm, hard or split. sentence: for the heading. advice: what to do."""

    state: str
    sentence: str
    advice: str


OVERLAPS = Verdict(
    "split",
    "Needs a dart or a split: laid flat it lies over itself",
    "Run a dart to the fullest place, or split the panel there.",
)


def place_words(uv: tuple[float, float], stations: tuple[str, ...]) -> str:
    """ "at the back, between calf and knee" for (around, along)."""
    around, along = uv[0] % 1.0, uv[1]
    where = next(word for limit, word in _AROUND if around <= limit)
    low = int(np.clip(np.floor(along), 0, len(stations) - 2))
    share = along - low
    if share < 0.15:
        height = f"at the {stations[low]}"
    elif share > 0.85:
        height = f"at the {stations[low + 1]}"
    else:
        height = f"between {stations[low]} and {stations[low + 1]}"
    return f"{height}, {where}"


def judge_strain(strain: StrainSummary, give: Allowance, stations: tuple[str, ...]) -> Verdict:
    """Does the panel lie flat in this foam? Compares the 95th percentile with what the foam gives."""
    where = place_words(strain.worst_uv, stations)
    way = "stretch" if strain.worst_stretch else "squeeze"
    if strain.p95 <= give.cold:
        return Verdict("flat", "Lies flat", f"The foam closes on its own; most at {strain.worst:.1f} % {way} {where}.")
    if strain.stretch_p95 <= give.stretch and strain.squeeze_p95 <= give.squeeze:
        return Verdict(
            "warm",
            f"Lies flat with a warm stretch of {strain.p95:.1f} %",
            f"Warm the foam through and ease it {where}, where it must {way} by {strain.worst:.1f} %. "
            "A dart there would take the strain away.",
        )
    if strain.stretch_p95 <= give.stretch_limit and strain.squeeze_p95 <= give.squeeze_limit:
        return Verdict(
            "hard",
            f"Warm stretch of {strain.p95:.1f} %, near what foam gives",
            f"Warm it well and press it over a form {where}, or run a dart to that place from the nearest edge. "
            "A shorter piece or a wider opening asks less of the foam.",
        )
    return Verdict(
        "split",
        f"Needs darts or a split: {strain.p95:.1f} % is more than foam gives",
        f"The foam cannot close {where}. Run darts to that place, or split the panel there; "
        "until then shorten the piece or open the back wider.",
    )


def bend_findings(surface: ArmourSurface, low: float, high: float) -> list[Finding]:
    """Is the foam too thick for the tightest curve it wraps between two distances (mm) along the limb?"""
    z = np.linspace(low, high, 40)
    tight = surface.tube.tightest(z) + surface.offset_at(z, MIDDLE)
    radius = float(tight.min())
    strain = surface.thickness / (2 * radius) * 100
    values = (
        Value("foam", surface.thickness),
        Value("tightest radius", radius),
        Value("outer face", strain, "percent"),
    )
    if strain <= BEND_WARM:
        return []
    if strain <= BEND_LIMIT:
        words = "The foam bends tightly here: form it warm, past the wanted curve, and hold it till cold."
        return [Finding("say", words, "design.foam", "Thinner foam, or two thin layers, bends more easily.", values)]
    words = "The foam is too thick for the tightest curve: its outer face would tear or spring open."
    return [
        Finding("look", words, "design.foam", "Use thinner foam, two glued layers, or kerfs on the inside.", values)
    ]


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
