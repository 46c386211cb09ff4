"""Curves through station readings that make no hills of their own."""

import numpy as np
from numpy.typing import ArrayLike, NDArray
from scipy.interpolate import CubicHermiteSpline, CubicSpline

Array = NDArray[np.float64]

PAST_A_TURN = 0.01
"""About how far a curve may go past a station that is its largest or smallest, as a share of the value there.

A tape seldom sits exactly on the fullest place; holding the slope to zero there makes a false, harder bulge.
"""


def shape_preserving(x: ArrayLike, y: ArrayLike) -> CubicHermiteSpline:
    """Cubic through the points that makes no hill the points do not have (but for PAST_A_TURN).

    Slopes of the smooth (twice differentiable) spline, held to three times the smaller neighbouring chord:
    Fritsch and Carlson, "Monotone piecewise cubic interpolation", 1980. At a turn a slope s over the next
    step h overshoots by about 4/27*s*h, which bounds s there.
    """
    x, y = np.asarray(x, dtype=float), np.asarray(y, dtype=float)
    step = np.diff(x)
    chord = np.diff(y) / step
    before, after = np.concatenate([chord[:1], chord]), np.concatenate([chord, chord[-1:]])
    slope = CubicSpline(x, y)(x, 1)
    turn = before * after <= 0
    longest = np.maximum(np.concatenate([step[:1], step]), np.concatenate([step, step[-1:]]))
    at_turn = np.where(before * after < 0, PAST_A_TURN * np.abs(y) * 27 / 4 / longest, 0.0)
    most = np.where(turn, at_turn, 3 * np.minimum(np.abs(before), np.abs(after)))
    held = np.clip(slope, -most, most)
    return CubicHermiteSpline(x, y, np.where(~turn & (held * before < 0), 0.0, held))


def linear_through(x: Array, y: Array, at: ArrayLike) -> Array:
    """Straight lines through points (n,) at growing x, read at ``at``; the first and last go on past the ends."""
    q = np.asarray(at, dtype=float)
    i = np.clip(np.searchsorted(x, q, side="right") - 1, 0, len(x) - 2)
    return np.asarray(y[i] + (y[i + 1] - y[i]) * (q - x[i]) / (x[i + 1] - x[i]))
