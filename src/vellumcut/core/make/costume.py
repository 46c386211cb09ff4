"""Steps of the whole costume, and which piece waits for which."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

from vellumcut.core.design.piece import TemplateName
from vellumcut.core.make.step import Inspection, Step


@dataclass(frozen=True)
class CostumeStep:
    """applies: to which templates of the costume."""

    step: Step
    applies: Callable[[Sequence[TemplateName]], bool] = lambda templates: True


LEGS: tuple[TemplateName, ...] = ("cuisse", "poleyn", "greave", "ridged greave", "sabaton cap")
HIPS: tuple[TemplateName, ...] = ("tasset", "faulds")
SHOULDERS: tuple[TemplateName, ...] = ("pauldron", "shoulder extension")


def _plain(
    key: str, title: str, how: str, minutes: float, reason: str, stage: str, inspection: Inspection | None = None
) -> Step:
    return Step(
        key, title, how, minutes, 0, f"{minutes:g} min", (), (), ("wearing",) if inspection else (), reason,
        stage=stage, about="costume", inspection=inspection,  # type: ignore[arg-type]
    )  # fmt: skip


LAST_WEATHERING = "last-weathering"


def last_weathering(step: Step, mirrors: Sequence[str], count: int) -> Step:
    """The costume's last weathering as it may be done: never over mirror chrome, which any wash and clear dull.
    mirrors: names of pieces that end in it, of ``count``."""
    if not mirrors:
        return step
    if len(mirrors) == count:
        return replace(
            step,
            title="Look at all of it together",
            how="Mirror chrome is not weathered: wipe finger marks off with a soft cloth, mend scratches with a chrome "
            "pen.",
        )
    keep = f" Keep it off the mirror chrome of {', '.join(mirrors)}: cover that while you work."
    return replace(step, how=step.how + keep)


COSTUME: tuple[CostumeStep, ...] = (
    CostumeStep(
        _plain("trousers", "Have the trousers and shoes ready", "The very ones that are worn under the leg plates.", 5,
            "Leg plates fitted over bare legs do not close over trousers.", "prepare"),
        lambda templates: any(t in LEGS for t in templates),
    ),
    CostumeStep(
        _plain("clear-away", "Reuse or bin cast and paper", "Only when every pattern is put by.", 10,
            "A cast thrown away early is a wearer wrapped again.", "cut"),
    ),
    CostumeStep(
        _plain("assemble", "Assemble the costume",
            "Everything on the wearer in the order of dressing: trousers, legs, belt, hips, body, shoulders, arms.",
                40, "What fits alone may foul its neighbour.", "finish",
            Inspection("Leaning back, does the waist show no gap; do soles and toes clear the ground and plates not "
                "scrape?", "Note it in the Logbook, move the strap or trim the edge that fouls.")),
    ),
    CostumeStep(
        _plain(LAST_WEATHERING, "A last weathering over all of it",
            "Dust and wash across neighbouring plates while it is worn or on the stand. On a clear coat it only holds "
            "under one more thin one.", 40,
                "Pieces aged one by one look like pieces of several costumes.", "finish"),
        lambda templates: len(templates) > 1,
    ),
    CostumeStep(
        _plain("wear", "Wear it", "Half an hour: walk, bend, reach, sit, drink, and take it off alone.", 45,
            "At the event it is not the foam that fails.", "finish",
            Inspection("Half an hour worn: nothing came loose, and you could drink?",
                "Mend what came loose, and try again on another day.")),
    ),
)  # fmt: skip


@dataclass(frozen=True)
class Across:
    """One piece's step waits for another's. first, then: templates and a kind of step of each. soft, with its
    reason."""

    key: str
    first: tuple[TemplateName, ...]
    first_kind: str
    then: tuple[TemplateName, ...]
    then_kind: str
    reason: str


ACROSS: tuple[Across, ...] = (
    Across("hips after belt", ("belt",), "test-fit", HIPS, "test-fit",
        "Hip plates hang from the belt: it must be there to hang them on."),
    Across("shoulders after they move", ("breastplate", "backplate"), "test-fit", SHOULDERS, "test-fit",
        "Shoulders hang on what is worn beneath: only on that does wearing show whether the arm still lifts."),
    Across("collar over shoulders", ("breastplate",), "test-fit", ("gorget",), "test-fit",
        "A gorget lies on the breastplate: fitted before it, it stands off."),
)  # fmt: skip
