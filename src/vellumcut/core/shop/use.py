"""What a step takes of a thing, and what that is bought as."""

from dataclasses import dataclass

ONE_STUFF = ("webbing", "elastic", "lace", "acrylic", "metallic colour", "dry brush")
"""Bought as one, whatever it is cut for: told apart only by what is in quotes, its colour."""


@dataclass(frozen=True)
class Use:
    """So much of a thing in one step of one piece. done_at: when that was done. key: of the step; number: of the piece,
    0 for the costume."""

    name: str
    unit: str
    amount: float
    piece: str
    step: str
    done_at: float | None = None
    key: str = ""
    number: int = 0


def bought_as(name: str) -> str:
    """What a step's material is bought as."""
    stuff = next((s for s in ONE_STUFF if name.startswith(s)), None)
    if stuff is None:
        return name
    colour = name[name.index("“") :] if "“" in name else ""
    return f"{stuff} {colour}".strip()
