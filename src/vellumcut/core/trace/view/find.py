"""Find marker cards in a picture, and their edges to a fraction of a pixel."""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from vellumcut.core.trace.view.cards import COUNT, dictionary

Array = NDArray[np.float64]
Picture = NDArray[np.uint8]
Light = NDArray[np.float32]


@dataclass(frozen=True, eq=False)
class Sighting:
    """A card in the picture. corners: (4, 2) pixels, from its own top left round by the right."""

    number: int
    corners: Array


def linear_table() -> Light:
    """Light of the 256 steps of a picture's curve (sRGB, IEC 61966-2-1)."""
    steps = np.arange(256, dtype=np.float64) / 255.0
    return np.where(steps <= 0.04045, steps / 12.92, ((steps + 0.055) / 1.055) ** 2.4).astype(np.float32)


def light_of(picture: Picture) -> Light:
    """(h, w) how much light came from each pixel, 0 to 1: edges lie half-way in light, not in the picture's numbers."""
    table = np.uint8(np.round(np.sqrt(linear_table()) * 255))  # its root: eight bits keep the dark end
    return np.asarray((cv2.cvtColor(cv2.LUT(picture, table), cv2.COLOR_RGB2GRAY).astype(np.float32) / 255.0) ** 2)


def sightings(picture: Picture) -> list[Sighting]:
    """Cards in the picture, the largest first; a number that is seen twice counts as none."""
    grey = cv2.cvtColor(picture, cv2.COLOR_RGB2GRAY)
    shrink = max(1.0, max(grey.shape) / 2400)
    small = cv2.resize(grey, None, fx=1 / shrink, fy=1 / shrink, interpolation=cv2.INTER_AREA)
    found = _detect(small)
    # Cards with a shadow's edge over them, or on a ground of flecks, are read where light is made even and flecks soft.
    known = {n for n, _ in found}
    soft = np.asarray(cv2.GaussianBlur(evenly_lit(small), (0, 0), FLECKS))
    found += [(n, c) for n, c in _detect(soft) if n not in known]
    corners = {n: (c + 0.5) * shrink - 0.5 for n, c in found}
    twice = {n for n, _ in found if sum(1 for m, _ in found if m == n) > 1}
    seen = [Sighting(n, c) for n, c in corners.items() if n < COUNT and n not in twice]
    return sorted(seen, key=lambda s: -cv2.contourArea(s.corners.astype(np.float32)))


SHADE, FLECKS = 12, 2.0
"""Pixels of the smaller picture over which light is made even, about a cell of a card, and flecks of a ground are
softened."""


def evenly_lit(grey: NDArray[np.uint8]) -> NDArray[np.uint8]:
    """A picture with each place held against the lightest and darkest that is near."""
    small = cv2.resize(grey, None, fx=0.25, fy=0.25, interpolation=cv2.INTER_AREA)
    near = np.ones((SHADE + 1, SHADE + 1), np.uint8)
    low, high = (
        cv2.resize(cv2.GaussianBlur(found, (0, 0), SHADE / 4), grey.shape[::-1]).astype(np.float32)
        for found in (cv2.erode(small, near), cv2.dilate(small, near))
    )
    return np.asarray(np.clip(255 * (grey - low) / np.maximum(high - low, 24), 0, 255), np.uint8)


def _detect(grey: NDArray[np.uint8]) -> list[tuple[int, Array]]:
    how = cv2.aruco.DetectorParameters()
    how.adaptiveThreshWinSizeMin, how.adaptiveThreshWinSizeMax, how.adaptiveThreshWinSizeStep = 9, 109, 20
    how.minMarkerPerimeterRate = 0.02
    how.cornerRefinementMethod = cv2.aruco.CORNER_REFINE_SUBPIX
    how.errorCorrectionRate = 0.3
    corners, numbers, _ = cv2.aruco.ArucoDetector(dictionary(), how).detectMarkers(grey)
    if numbers is None:
        return []
    return [(int(n), np.asarray(c, float).reshape(4, 2)) for n, c in zip(numbers.ravel(), corners, strict=True)]


TAPS = 25


@dataclass(frozen=True, eq=False)
class Profiles:
    """Light across edges. shift: (n,) pixels from where each was looked for to where it lies, along the way from dark
    to bright; NaN where there is none. width: (n,) pixels, the spread of the step. rise: (n,) of light.
    """

    shift: Array
    width: Array
    rise: Array


def across(light: Light, places: Array, ways: Array, reach: Array) -> Profiles:
    """Where light steps up. places, ways: (n, 2) pixels and unit vectors from dark to bright; reach: (n,) pixels."""
    steps = np.linspace(-1.0, 1.0, TAPS)
    at = places[:, None, :] + ways[:, None, :] * (reach[:, None] * steps)[..., None]
    seen = cv2.remap(
        light, at[..., 0].astype(np.float32), at[..., 1].astype(np.float32), cv2.INTER_LINEAR, borderValue=float("nan")
    ).astype(float)
    low, high = seen[:, :5].mean(axis=1), seen[:, -5:].mean(axis=1)
    rise = high - low
    level = (seen - low[:, None]) / np.where(np.abs(rise) > 1e-6, rise, 1e-6)[:, None]
    shift = _crossing(level) * reach
    slope = np.clip(np.gradient(level, axis=1), 0, None)
    middle = (slope * steps).sum(1) / np.maximum(slope.sum(1), 1e-9)
    spread = np.sqrt((slope * (steps - middle[:, None]) ** 2).sum(1) / np.maximum(slope.sum(1), 1e-9)) * reach
    bad = ~np.isfinite(rise) | (rise < 0.02)
    return Profiles(np.where(bad, np.nan, shift), np.where(bad, np.nan, spread), rise)


def _crossing(level: Array) -> Array:
    """Where each row of steps passes one half for good, -1 to 1; NaN where it does not, or more than once."""
    above = level > 0.5
    change = np.diff(above.astype(int), axis=1)
    once = (change == 1).sum(1) == 1
    k = np.argmax(change == 1, axis=1)
    rows = np.arange(len(level))
    a, b = level[rows, k], level[rows, k + 1]
    at = (k + (0.5 - a) / np.where(b > a, b - a, 1.0)) / (TAPS - 1) * 2 - 1
    return np.where(once & ~above[:, 0] & above[:, -1], at, np.nan)
