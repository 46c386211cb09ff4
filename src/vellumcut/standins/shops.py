"""Simulated shops: each has its own prices, packs, stock and ways, from a seed; some are late, some do not answer."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

Wanted = Sequence[tuple[str, str]]
"""Names and units of what is asked after."""

PRICES: tuple[tuple[str, float], ...] = (
    ("contact cement", 0.026), ("instant glue", 0.4), ("hot glue", 0.02), ("filler", 0.04), ("primer", 0.035),
    ("clear", 0.06), ("metallic", 0.16), ("acrylic", 0.08), ("wash", 0.09), ("webbing", 1.1), ("elastic", 1.4),
    ("lace", 0.9), ("buckle", 1.2), ("magnet", 0.9), ("eyelet", 0.08), ("snap", 0.2), ("blade", 0.35), ("tape", 0.2),
    ("sand", 0.7), ("cloth", 9.0), ("marker", 2.2), ("packs", 6.0), ("sheets", 24.0),
)  # fmt: skip
"""What one of a unit usually costs, by a word in its name or unit, in any money."""
OUT = 0.3
"""How often a thing is sold out."""
PACKS = (1, 2, 5, 10, 20, 25, 50, 60, 100, 250, 500, 750, 1000)


@dataclass(frozen=True)
class SimulatedShop:
    """carries: share of all things that it has. dear: times the usual price. days: until it is here, least and most.
    late: how often it is. silent: how often it does not answer."""

    name: str
    carries: float
    dear: float
    days: tuple[int, int]
    late: float
    silent: float

    def answer(self, wanted: Wanted, seed: int) -> list[dict[str, object]] | None:
        """What it has of it; None when nobody is there. The same seed, the same answer."""
        if np.random.default_rng([seed, *self.name.encode()]).random() < self.silent:
            return None
        rows = [self._row(name, unit) for name, unit in wanted]
        return [row for row in rows if row is not None]

    def _row(self, name: str, unit: str) -> dict[str, object] | None:
        lot = np.random.default_rng([*self.name.encode(), *name.encode(), *unit.encode()])
        if lot.random() > self.carries:
            return None
        one = next((price for word, price in PRICES if word in name or word == unit), 1.0)
        least = next((k for k, pack in enumerate(PACKS) if pack * one >= 5.0), len(PACKS) - 1)
        pack = 1 if unit in ("sheets", "packs") else PACKS[min(len(PACKS) - 1, least + int(lot.integers(0, 2)))]
        price = round(float(one * pack * self.dear * lot.uniform(0.85, 1.2)), 2)
        there = int(lot.integers(1, 8)) * int(lot.random() > OUT)
        return {
            "name": name, "unit": unit, "pack": float(pack), "price": price, "there": there,
            "days": int(lot.integers(self.days[0], self.days[1] + 1)), "late": bool(lot.random() < self.late),
        }  # fmt: skip


SHOPS = (
    SimulatedShop("Quayside Yard", 0.7, 0.9, (1, 3), 0.05, 0.02),
    SimulatedShop("The Narrow Haberdasher", 0.55, 1.1, (0, 1), 0.0, 0.1),
    SimulatedShop("Lantern Parcels", 0.9, 0.75, (5, 14), 0.35, 0.05),
)
