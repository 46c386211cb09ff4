"""From a fitting to the next pattern: findings per station become changes of ease."""

import math
from typing import Annotated, Literal

from pydantic import Field

from vellumcut.core.body.readings import Decision
from vellumcut.core.design.piece import PieceDesign
from vellumcut.core.errors import CraftError
from vellumcut.core.ink.templates import segment_stations
from vellumcut.core.notes import Note, Value
from vellumcut.core.units import Length


class FitFinding(Decision):
    """What the wearer felt at one station. by: mm round the limb: the fold you can pinch, or the gap that will not
    close."""

    station: str
    feel: Literal["tight", "loose", "good"]
    by: Annotated[Length, Field(ge=0, le=300)] = 0.0


def ease_change(finding: FitFinding) -> float:
    """Change of the air gap in mm: n mm on the girth is n / (2 pi) on the radius; tight wants more."""
    sign = {"tight": 1.0, "loose": -1.0, "good": 0.0}[finding.feel]
    return sign * finding.by / (2 * math.pi)


def apply_fit(design: PieceDesign, findings: tuple[FitFinding, ...]) -> PieceDesign:
    """The design that answers a fitting. Raises CraftError for a station the piece has not."""
    known = segment_stations(design.template)
    change = dict(design.ease_at)
    for finding in findings:
        if finding.station not in known:
            raise CraftError(f'There is no station "{finding.station}" here; there are {", ".join(known)}', "findings")
        if delta := ease_change(finding):
            change[finding.station] = round(change.get(finding.station, 0.0) + delta, 3)
    return design.model_copy(update={"ease_at": change})


def fit_note(design: PieceDesign, finding: FitFinding) -> Note:
    """How one finding changes the ease at its station."""
    now = design.ease + design.ease_at.get(finding.station, 0.0)
    after = max(0.0, now + ease_change(finding))
    word = "+" if finding.feel == "tight" else "-"
    return Note(
        title=f"Ease at the {finding.station}",
        result=Value("new ease", after),
        formula="{0} now " + word + " {1} round the limb / (2 x 3.1416)",
        values=(Value("ease", now), Value(finding.feel, finding.by)),
        reason="What is missing round the limb is spread over the whole circle, so the gap grows by a sixth of it."
        if finding.feel == "tight"
        else "What can be pinched away round the limb comes off the gap all round, a sixth of it on each side.",
        change="Ease cannot go under nothing: then the foam lies on the base layer.",
        about=finding.station,
    )
