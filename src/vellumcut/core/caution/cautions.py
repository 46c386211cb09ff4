"""Cautions and where they apply. Shown at the step; acknowledged once per build."""

from dataclasses import dataclass

STANDING_WORDS = (
    "These are the usual cautions. They do not replace the product's safety sheet, local rules, event rules "
    "or a qualified person."
)


@dataclass(frozen=True)
class Caution:
    key: str
    title: str
    rules: tuple[str, ...]


CAUTIONS: dict[str, Caution] = {
    c.key: c
    for c in (
        Caution(
            "wrapping",
            "Wrapping a body",
            (
                "Never tight round the neck, never over the face, never sticky tape on bare skin.",
                "Chest wraps must allow a full breath.",
                "Stop at numbness, tingling, dizziness or a change of colour.",
                "No more than 30 minutes in one tube (est.).",
                "A helper with blunt scissors within reach; cut away from the skin.",
                "With pregnancy, poor circulation, breathing trouble or panic: use a body form or measurements "
                "instead.",
            ),
        ),
        Caution(
            "blades",
            "Blades",
            (
                "Cut away from your hands, along a metal ruler.",
                "Use a fresh edge; a dull one slips.",
                "Cap it when it is down.",
            ),
        ),
        Caution(
            "heat",
            "Heat guns and irons",
            (
                "Gloves on, and a stand for the hot gun.",
                "Nothing flammable and no solvent fumes near it.",
                "Never heat foam in an oven used for food: fumes, and no control of the face.",
                "Watch it all the time.",
            ),
        ),
        Caution(
            "burning",
            "Scorched or burning foam",
            (
                "Smoke of burning foam is toxic: gun away as soon as the face shines, browns or shrinks.",
                "Branding or burning it on purpose: outdoors with a respirator, or not at all.",
            ),
        ),
        Caution(
            "hot glue",
            "Hot glue",
            (
                "It burns the skin and sticks to it: gloves, and cold water at hand.",
                "Never on a sleeve that is worn: use a padded stand-in.",
            ),
        ),
        Caution(
            "solvents",
            "Contact cement, sprays and resins",
            (
                "Outdoors or with forced ventilation.",
                "Organic-vapour respirator, not a dust mask. Gloves.",
                "No flames, sparks or pilot lights.",
                "Keep children and animals away until the fumes are gone.",
                "Read the product's own label and safety sheet; local rules go before these.",
            ),
        ),
        Caution(
            "dust",
            "Sanding and grinding",
            ("Particle respirator and goggles.", "Dust extraction.", "No gloves or loose hair near a spinning tool."),
        ),
        Caution(
            "wearing",
            "Wearing",
            (
                "Heat builds up: drink, and take timed breaks.",
                "Check sight lines and stairs.",
                "Know the event's prop rules; bring a handler.",
            ),
        ),
    )
}
