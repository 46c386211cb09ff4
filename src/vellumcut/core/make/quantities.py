"""Counting jobs makers do by hand: blades, cement, primer and paint from the piece's own geometry."""

from collections.abc import Iterable
from dataclasses import dataclass

BLADE_LIFE = 4000.0
"""Cut in 6 mm foam before an edge tears, mm (est.)."""
SEAM_STRIP = 25.0
"""Width of the fabric strip over an inside seam, mm; makers use 20-30."""
EDGE_WASTE = 1.25
"""Share of foam bought for each share used before parts are nested (est.)."""


@dataclass(frozen=True)
class Material:
    """What a step uses up. amount in unit; words: how a shop list would say it."""

    name: str
    amount: float
    unit: str

    @property
    def words(self) -> str:
        amount = f"{self.amount:.0f}" if self.amount >= 10 else f"{self.amount:.1f}".removesuffix(".0")
        return f"{amount} {self.unit} {self.name}"


def in_all(steps: Iterable[Iterable[Material]]) -> list[Material]:
    """What all steps use up together, in the order in which it is first wanted; a tool is wanted once."""
    out: dict[tuple[str, str], float] = {}
    for material in (m for step in steps for m in step):
        key = (material.name, material.unit)
        once = material.name in TOOLS
        out[key] = max(out.get(key, 0.0), material.amount) if once else out.get(key, 0.0) + material.amount
    return [Material(name, amount, unit) for (name, unit), amount in out.items()]


TOOLS = ("marker",)
"""Wanted at several steps, bought once."""


def blades(cut_length: float, thickness: float) -> Material:
    """Fresh or re-honed edges for a cut of so many mm; thicker foam dulls an edge in proportion."""
    count = max(1, -(-cut_length * max(thickness, 2.0) / 6.0 // BLADE_LIFE))
    return Material("fresh blade edges", count, "x")


def coating(name: str, area: float, coats: int, cover: float) -> Material:
    """area: mm2 on all faces coated. cover: m2 per litre and coat."""
    return Material(name, max(1.0, area / 1e6 * coats / cover * 1000), "ml")
