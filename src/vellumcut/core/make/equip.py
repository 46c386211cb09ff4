"""What must be at hand for a step, told by its cautions and its glue: protection, tools, and where it may be done."""

from dataclasses import replace

from vellumcut.core.make.owned import Kit, Protection
from vellumcut.core.make.step import Step

PROTECTION_AGAINST: dict[str, tuple[Protection, ...]] = {
    "solvents": ("vapour mask", "gloves"),
    "dust": ("particle mask", "goggles"),
    "heat": ("gloves",),
    "hot glue": ("gloves",),
}
"""By caution, as the cautions themselves say."""
TOOLS_OF: dict[str, tuple[Kit, ...]] = {"heat": ("heat gun",), "hot glue": ("hot-glue gun",)}


def equipped(step: Step) -> Step:
    """The step with all that it wants; what it names itself comes first."""
    tools, protection = list(step.tools), list(step.protection)
    for caution in step.cautions:
        tools += TOOLS_OF.get(caution, ())
        protection += PROTECTION_AGAINST.get(caution, ())
    if step.timer == "cement":
        tools.append("contact cement")
    airy = step.place == "indoors" and "solvents" in step.cautions
    return replace(
        step,
        tools=tuple(dict.fromkeys(tools)),
        protection=tuple(dict.fromkeys(protection)),
        place="ventilated" if airy else step.place,
    )
