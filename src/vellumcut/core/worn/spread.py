"""How far a ring of foam that is open somewhere can be spread."""

import numpy as np
from scipy.optimize import brentq

FLAT = 0.9
"""Foam is never bent open further than to this share of flat: then its mouth is so much of its length (est.)."""


def bent_open(foam: float, gap: float, across: float, thickness: float) -> float:
    """How much the faces of a ring give when it is spread till ``across`` passes its mouth, per cent; all lengths mm.

    foam: length of the ring's middle, ``gap`` its opening. A bow bent evenly: its mouth is the chord of its arc.
    """
    if across <= gap:
        return 0.0
    if across > FLAT * foam:
        return float("inf")
    turn = 2 * brentq(lambda half: np.sin(half) / half - across / foam, 1e-6, np.pi)
    return float(max(0.0, 50 * thickness * (2 * np.pi / (foam + gap) - turn / foam)))
