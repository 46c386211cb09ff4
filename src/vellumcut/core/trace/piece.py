"""A piece that is seen closely: its outline, slits and ink, how sure they are, and what is to be said of it."""

from collections.abc import Callable
from dataclasses import dataclass, replace

import cv2
import numpy as np
import shapely
from numpy.typing import NDArray

from vellumcut.core.trace.ground import RIM
from vellumcut.core.trace.ink import InkLine, ink_on
from vellumcut.core.trace.outline import Close, rims
from vellumcut.core.trace.points import to_points
from vellumcut.core.trace.slits import without_ink
from vellumcut.core.trace.sure import Sureness, sureness
from vellumcut.core.trace.thin import Thin, with_thin
from vellumcut.core.trace.tips import Slit, mouth_of, slits_of, to_tips
from vellumcut.core.trace.view.judge import Finding
from vellumcut.core.trace.view.rectify import FromAbove

Array = NDArray[np.float64]

STEP = 0.5
"""mm between points of an outline."""
SURE_ENOUGH = 1.0
"""mm that a piece may be off before its maker is told to photograph again."""


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
    outline, slits = evenly(thin.outline), slits + thin.slits
    sure = sureness(of_view(outline), close, outline, [s.off for s in slits])
    said = said_of(above, outline, sure) + said_of_thin(thin)
    said += said_of_tips(slits)
    if _may_be_two(outline):
        said.append(TWO_PIECES)
    if guessed:
        said.append(ON_A_PATTERN)
    hidden = _tips_under_ink(slits, ink)
    if hidden:
        sure = replace(sure, rms=float(np.hypot(sure.rms, TIP_ON_INK[0])), worst=max(sure.worst, TIP_ON_INK[1]))
        said.append(
            Finding(
                "look",
                f"Ink runs over the tip of {'a dart' if hidden == 1 else f'{hidden} darts'}.",
                "See whether it ends where the cast is cut, and drag it there if it does not.",
            )
        )
    return TracedPiece(outline, holes, slits, ink, sure, tuple(said))


def _known(outline: Array, slits: tuple[Slit, ...], ink: tuple[InkLine, ...]) -> shapely.Geometry:
    """Where slits lie and ink runs, mm."""
    darts = [shapely.LineString([s.tip, mouth_of(outline, s.tip)]) for s in slits]
    return shapely.union_all([*darts, *(shapely.LineString(x.points) for x in ink if len(x.points) > 1)])


HARD_TO_SEE = 0.3
"""mm across of the narrowest slit that would be seen, from which that is worth telling: as wide is a slit of one
degree, 30 mm deep, on the whole."""


def said_of_thin(thin: Thin) -> list[Finding]:
    out = []
    if len(thin.slits):
        few = f"{len(thin.slits)} narrow slits are" if len(thin.slits) > 1 else "A narrow slit is"
        out.append(
            Finding(
                "look",
                f"{few} read from a faint line alone.",
                "See whether a dart is cut there; rub it out with the piece's brush if none is.",
            )
        )
    if len(thin.asked):
        places = f"{len(thin.asked)} places" if len(thin.asked) > 1 else "one place"
        out.append(
            Finding(
                "look",
                f"Something like a narrow slit runs in from its edge at {places}.",
                "If a dart is cut there, rub along it with the floor's brush.",
            )
        )
    if thin.least > HARD_TO_SEE:
        out.append(
            Finding(
                "look",
                f"A slit narrower than {thin.least:.1f} mm would not be seen on it: piece and floor look too alike.",
                "Look whether all darts are there, or lay it on a ground of another colour.",
            )
        )
    return out


ON_A_PATTERN = Finding(
    "look",
    "It lies on a ground with a pattern, which one photograph does not tell from a piece for sure.",
    "Photograph the floor with its cards before the pieces are laid down, and bring that in as well.",
)


NECK, PART = 12.0, 0.12
"""mm across of a neck between parts of a piece, and what the lesser part is of the whole, from which they may be two
pieces that touch: panels narrower than that tear where they are glued."""
TWO_PIECES = Finding(
    "look",
    "It may be two pieces that touch.",
    "If they are two, rub between them with the floor's brush, or lay them apart and photograph again.",
)


LOOSE = 3.0
"""mm that a tip may be off along its slit before its maker is asked where it is."""


def said_of_tips(slits: tuple[Slit, ...]) -> list[Finding]:
    loose = [s.off for s in slits if s.off > LOOSE]
    if not loose:
        return []
    whose = f"The tips of {len(loose)} darts are" if len(loose) > 1 else "The tip of a dart is"
    return [
        Finding(
            "look",
            f"{whose} not seen to the end: up to {max(loose):.0f} mm more of it may be cut.",
            "Look at the cast, and drag the tip to where the cut ends.",
        )
    ]


def _may_be_two(outline: Array) -> bool:
    whole = shapely.Polygon(outline).buffer(0)
    parts = sorted(p.area for p in getattr(whole.buffer(-NECK / 2), "geoms", ()))
    return len(parts) > 1 and parts[-2] > PART * whole.area


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


def said_of(above: FromAbove, outline: Array, sure: Sureness) -> list[Finding]:
    """What is to be said of an outline, mm, y down."""
    out = []
    at = np.clip(np.round(above.pixels(outline)).astype(int), 0, np.array(above.picture.shape[1::-1]) - 1)
    reach = round((RIM + 2.5) / above.per)
    seen = np.asarray(cv2.erode(np.pad(above.seen.astype(np.uint8), 1), np.ones((2 * reach + 1,) * 2, np.uint8)))[
        1:-1, 1:-1
    ]
    if (seen[at[:, 1], at[:, 0]] == 0).any():
        out.append(
            Finding(
                "stop",
                "It runs out of the picture, or too near to its edge.",
                "Step back until all of it is in view, or take a second picture that shares two cards.",
            )
        )
    if sure.unsure:
        out.append(
            Finding(
                "look",
                f"Its edge cannot be seen well at {len(sure.unsure)} place{'s' if len(sure.unsure) > 1 else ''}.",
                "Look at what is marked, and draw it where it belongs; a shine or a ground of the same colour hides "
                "it.",
            )
        )
    if sure.rms > SURE_ENOUGH:
        out.append(
            Finding(
                "stop",
                f"It may be off by {sure.rms:.1f} mm on the whole.",
                "Lay the cards round it on all sides, and photograph again.",
            )
        )
    return out
