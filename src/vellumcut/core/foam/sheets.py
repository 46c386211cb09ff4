"""The sheet catalogue and what foam will give. Figures marked (est.) are engineering estimates."""

from dataclasses import dataclass

from vellumcut.core.errors import CraftError


@dataclass(frozen=True)
class Sheet:
    """A thickness as sold. inch: what inch users call it. kinds: in which foams it is sold."""

    thickness: float
    inch: str
    kinds: tuple[str, ...]
    use: str


CATALOGUE: tuple[Sheet, ...] = (
    Sheet(1, "", ("soft", "armour"), "fine detail, scales"),
    Sheet(2, "1/16", ("soft", "armour"), "details; base of segmented limbs"),
    Sheet(3, "1/8", ("soft", "armour"), "borders, light details"),
    Sheet(4, "", ("soft", "armour"), "light curved base, borders"),
    Sheet(5, "", ("soft", "armour"), "curved base"),
    Sheet(6, "1/4", ("soft", "armour"), "curved base, the usual choice for limbs"),
    Sheet(8, "", ("armour", "mat"), "chunky plates"),
    Sheet(10, "3/8", ("armour", "mat"), "chunky, flat, structural"),
    Sheet(12, "1/2", ("armour", "mat"), "structural, flat"),
)

KIND_WORDS = {
    "soft": "soft craft foam, about 45-60 kg/m3 (est.)",
    "armour": "armour-grade foam, about 90-130 kg/m3 (est.)",
    "mat": "floor mat with one textured face",
}


@dataclass(frozen=True)
class Allowance:
    """What a foam gives, per cent (est.): cold, comfortably warm, and at the limit."""

    cold: float
    stretch: float
    stretch_limit: float
    squeeze: float
    squeeze_limit: float


ALLOWANCES: dict[str, Allowance] = {
    "armour": Allowance(2.5, 5.0, 10.0, 3.0, 6.0),
    "soft": Allowance(3.0, 6.0, 12.0, 4.0, 8.0),
    "mat": Allowance(2.0, 4.0, 8.0, 2.5, 5.0),
}


def sheet_of(thickness: float) -> Sheet | None:
    """The catalogue sheet of this thickness, if it is sold."""
    return next((s for s in CATALOGUE if abs(s.thickness - thickness) < 0.05), None)


def stack_for(thickness: float) -> tuple[float, ...]:
    """Fewest catalogue sheets that stack up to a missing thickness. Raises CraftError when none do."""
    sold = [s.thickness for s in reversed(CATALOGUE)]
    best: tuple[float, ...] = ()
    for first in sold:
        for second in [x for x in sold if x <= first]:
            if abs(first + second - thickness) < 0.05 and not best:
                best = (first, second)
    if not best:
        raise CraftError(f"No one or two sheets make {thickness:g} mm; sheets come in whole millimetres", "design.foam")
    return best
