"""What must be at hand for a step, told by its cautions and its glue: protection, tools, where it may be done, and how
long it takes to get all that out and to clean it away."""

from dataclasses import replace

from vellumcut.core.make.owned import Kit, Protection
from vellumcut.core.make.step import Step
from vellumcut.core.notes import Value

PROTECTION_AGAINST: dict[str, tuple[Protection, ...]] = {
    "solvents": ("vapour mask", "gloves"),
    "dust": ("particle mask", "goggles"),
    "heat": ("gloves",),
    "hot glue": ("gloves",),
}
"""By caution, as the cautions themselves say."""
TOOLS_OF: dict[str, tuple[Kit, ...]] = {"heat": ("heat gun",), "hot glue": ("hot-glue gun",)}

SETUP: dict[str, float] = {
    "spray cans": 10.0,
    "airbrush": 15.0,
    "contact cement": 6.0,
    "hot-glue gun": 4.0,
    "heat gun": 3.0,
    "dust": 6.0,
    "blades": 3.0,
    "wearing": 10.0,
}
"""Minutes to get out and clean away, by tool or caution (est.): the place covered and aired for spray, brushes washed,
dust swept, the base layer put on and off. Makers forget them, and they are a third of the time (making.md, section
5)."""
SETUP_WORK: dict[str, float] = {"coat": 6.0, "hand paint": 6.0, "wet sand": 6.0, "weather": 6.0, "fill": 3.0,
    "sew": 8.0, "stitch": 4.0, "print": 4.0}  # fmt: skip
"""The same for work that no tool above tells of: brushes, a sewing machine, a printer."""


def setup_of(step: Step) -> float:
    """Minutes of getting out and cleaning away that a step takes: what takes longest of it, once for each coat."""
    told = [SETUP[x] for x in (*step.tools, *step.cautions) if x in SETUP]
    return max([*told, SETUP_WORK.get(step.work, 0.0)]) * step.coats


def equipped(step: Step) -> Step:
    """The step with all that it wants; what it names itself comes first."""
    tools, protection = list(step.tools), list(step.protection)
    for caution in step.cautions:
        tools += TOOLS_OF.get(caution, ())
        protection += PROTECTION_AGAINST.get(caution, ())
    if step.timer == "cement":
        tools.append("contact cement")
    airy = step.place == "indoors" and "solvents" in step.cautions
    ready = replace(
        step,
        tools=tuple(dict.fromkeys(tools)),
        protection=tuple(dict.fromkeys(protection)),
        place="ventilated" if airy else step.place,
    )
    return _with_setup(ready, setup_of(ready))


def _with_setup(step: Step, minutes: float) -> Step:
    if not minutes:
        return step
    at = len(step.values)
    told = f"{{{at}}} to get out and clean away"
    return replace(
        step,
        setup=minutes,
        minutes=step.minutes + minutes,
        formula=f"{step.formula} + {told}" if step.formula and step.formula != "0 min" else told,
        values=(*step.values, Value("setting up", minutes, "minutes")),
    )
