"""A piece that is seen closely: its outline, slits and ink, how sure they are, and what is to be said of it."""

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np
import shapely
from numpy.typing import NDArray

from vellumcut.core.trace.edges.bumps import without_bumps
from vellumcut.core.trace.edges.points import to_points
from vellumcut.core.trace.edges.slits import without_ink
from vellumcut.core.trace.edges.thin import with_thin
from vellumcut.core.trace.edges.tips import Slit, mouth_of, slits_of, to_tips
from vellumcut.core.trace.ink import InkLine, ink_on
from vellumcut.core.trace.outline import Close, rims
from vellumcut.core.trace.said import ON_A_PATTERN, ink_over, said_of, said_of_thin
from vellumcut.core.trace.sure import Sureness, sureness
from vellumcut.core.trace.view.judge import Finding
from vellumcut.core.trace.view.rectify import FromAbove

Array = NDArray[np.float64]

STEP = 0.5
"""mm between points of an outline."""


@dataclass(frozen=True, eq=False)
class TracedPiece:
    """outline: (n, 2) mm, x right, y down, the tips of its slits among its points; holes likewise. sure: how far it may
    be off. findings: what is to be said of it.
    """

    outline: Array
    holes: tuple[Array, ...]
    slits: tuple[Slit, ...]
    ink: tuple[InkLine, ...]
    sure: Sureness
    findings: tuple[Finding, ...]

    @property
    def area(self) -> float:
        """mm2."""
        return float(shapely.Polygon(self.outline, list(self.holes)).area)


def traced_piece(
    above: FromAbove, here: FromAbove, close: Close, of_view: Callable[[Array], float], guessed: bool
) -> TracedPiece | None:
    """What is read off a piece that is seen closely; None where no outline closes. above: all of the ground; here:
    about the piece. of_view: mm that the view adds to how far an outline may be off. guessed: its ground has a pattern,
    and is not known."""
    lines = rims(close, 40.0)
    if not lines:
        return None
    outline, tips = to_tips(close, without_ink(close, lines[0]))
    outline = evenly(to_points(close, evenly(outline)))
    whole = shapely.Polygon(outline).buffer(0)
    holes = tuple(evenly(h) for h in lines[1:] if whole.contains(shapely.Point(h.mean(axis=0))))
    slits = slits_of(outline, tips)
    ink = tuple(ink_on(here, np.asarray(close.share > 0.5, np.uint8)))
    thin = with_thin(close, outline, _known(outline, slits, ink))
    outline, slits = evenly(without_bumps(close, evenly(thin.outline))), slits + thin.slits
    sure = sureness(of_view(outline), close, outline, [s.off for s in slits])
    said = said_of(above, outline, sure, slits) + said_of_thin(thin)
    if guessed:
        said.append(ON_A_PATTERN)
    hidden = _tips_under_ink(slits, ink)
    if hidden:
        sure = replace(sure, rms=float(np.hypot(sure.rms, TIP_ON_INK[0])), worst=max(sure.worst, TIP_ON_INK[1]))
        said.append(ink_over(hidden))
    return TracedPiece(outline, holes, slits, ink, sure, tuple(said))


def _known(outline: Array, slits: tuple[Slit, ...], ink: tuple[InkLine, ...]) -> shapely.Geometry:
    """Where slits lie and ink runs, mm."""
    darts = [shapely.LineString([s.tip, mouth_of(outline, s.tip)]) for s in slits]
    return shapely.union_all([*darts, *(shapely.LineString(x.points) for x in ink if len(x.points) > 1)])


NEAR_TIP = 4.0
"""mm from the tip of a slit within which ink hides where it ends."""
TIP_ON_INK = 0.22, 5.0
"""mm that an outline may be off more on the whole, and anywhere, where ink hides the tip of a slit: a dart of 90 mm
that ends 6 mm early on a piece of 300 by 250 is 0.4 on the whole."""


def _tips_under_ink(slits: tuple[Slit, ...], ink: tuple[InkLine, ...]) -> int:
    """How many slits end where ink runs."""
    lines = [shapely.LineString(x.points) for x in ink if len(x.points) > 1]
    return sum(1 for s in slits if any(line.distance(shapely.Point(s.tip)) < NEAR_TIP for line in lines))


def evenly(outline: Array, step: float = STEP) -> Array:
    """A closed line with points about so far apart, mm; its own corners are kept."""
    ring = shapely.LinearRing(outline).simplify(0.04)
    return np.asarray(shapely.get_coordinates(shapely.segmentize(ring, step))[:-1])
