"""What a maker owns: protection, glue, tools and places. What is missing turns the plan to another way."""

from typing import Literal

from pydantic import Field, StrictBool

from vellumcut.core.body.readings import Decision

Protection = Literal["vapour mask", "particle mask", "goggles", "gloves"]
PROTECTION: tuple[Protection, ...] = ("vapour mask", "particle mask", "goggles", "gloves")
Kit = Literal[
    "contact cement", "hot-glue gun", "instant glue", "heat gun", "rotary tool", "airbrush", "spray cans",
    "booth", "ventilated room", "outdoors",
]  # fmt: skip
KIT: tuple[Kit, ...] = (
    "contact cement", "hot-glue gun", "instant glue", "heat gun", "rotary tool", "airbrush", "spray cans",
    "booth", "ventilated room", "outdoors",
)  # fmt: skip
USUAL_KIT: tuple[Kit, ...] = tuple(k for k in KIT if k not in ("booth", "airbrush"))


class Owned(Decision):
    """protection, kit: what is in the workshop. dry_days: whether a dry, mild, calm day is in sight for spraying."""

    protection: tuple[Protection, ...] = Field(default=PROTECTION, max_length=10)
    kit: tuple[Kit, ...] = Field(default=USUAL_KIT, max_length=20)
    dry_days: StrictBool = True

    @property
    def cements(self) -> bool:
        """Whether this maker can use contact cement without harm."""
        air = "ventilated room" in self.kit or "outdoors" in self.kit or "booth" in self.kit
        return "contact cement" in self.kit and "vapour mask" in self.protection and air

    @property
    def sprays(self) -> bool:
        """Whether there is a can, a mask, and a place where it may be used."""
        place = "booth" in self.kit or ("outdoors" in self.kit and self.dry_days)
        return "spray cans" in self.kit and "vapour mask" in self.protection and place

    def lacks(self, tools: tuple[str, ...], protection: tuple[str, ...], place: str) -> tuple[str, ...]:
        """What of it is not there, in words."""
        out: list[str] = [p for p in protection if p in PROTECTION and p not in self.protection]
        out += [t for t in tools if t in KIT and t not in self.kit]
        if place == "outdoors" and not ("booth" in self.kit or ("outdoors" in self.kit and self.dry_days)):
            out.append("a booth or a dry day")
        if place == "ventilated" and not {"ventilated room", "outdoors", "booth"} & set(self.kit):
            out.append("a ventilated place")
        return tuple(out)
