"""Known surfaces in their own unrolled millimetres, to flatten and to try darts on."""

from dataclasses import dataclass

import numpy as np

from vellumcut.core.ink.lines import DartInk, InkLine, PanelInk


@dataclass(frozen=True)
class Flatly:
    """A drawing plane, and a first unrolling, that is the surface's own coordinates in mm."""

    turn: float = 1e6

    def flat(self, uv):
        return uv

    def uv(self, flat):
        return flat


@dataclass(frozen=True)
class Cone:
    """x, y: mm from the apex, unrolled by pulling it flat. half: the half angle in radians. tip: radius of a ball that
    rounds it, touching the cone."""

    half: float
    tip: float = 0.0

    def points(self, uv):
        rho, phi = np.linalg.norm(uv, axis=1), np.arctan2(uv[:, 1], uv[:, 0])
        alpha = np.pi / 2 - self.half
        bend = self.tip * alpha
        on_ball = rho < bend
        angle = np.where(on_ball, rho / max(self.tip, 1e-9), alpha)
        r = np.where(on_ball, self.tip * np.sin(angle), self.tip * np.sin(alpha) + (rho - bend) * np.cos(alpha))
        z = np.where(
            on_ball, -self.tip * (1 - np.cos(angle)), -self.tip * (1 - np.cos(alpha)) - (rho - bend) * np.sin(alpha)
        )
        return np.stack([r * np.cos(phi), r * np.sin(phi), z], axis=1)

    @property
    def deficit(self):
        """Curvature in the tip, degrees."""
        return 360 * (1 - np.sin(self.half))


@dataclass(frozen=True)
class Ball:
    """x: longitude times radius, y: latitude times radius."""

    radius: float

    def points(self, uv):
        lon, lat = uv.T / self.radius
        return self.radius * np.stack([np.cos(lat) * np.cos(lon), np.cos(lat) * np.sin(lon), np.sin(lat)], axis=1)


@dataclass(frozen=True)
class Torus:
    """x: round the hole, y: round the tube, both mm; y = 0 is the inside, a saddle; outside it bulges."""

    big: float
    small: float
    inside: bool = True

    def points(self, uv):
        sign = -1 if self.inside else 1
        reach = self.big + sign * self.small
        a, b = uv[:, 0] / reach, uv[:, 1] / self.small
        r = self.big + sign * self.small * np.cos(b)
        return np.stack([r * np.cos(a), r * np.sin(a), self.small * np.sin(b)], axis=1)


def box(width, height, steps=40):
    """A rectangle's four edges, counter-clockwise, about the middle."""
    w, h = width / 2, height / 2
    corners = np.array([[-w, -h], [w, -h], [w, h], [-w, h], [-w, -h]])
    names = ("bottom", "right", "top", "left")
    lines = tuple(
        InkLine("outline", n, np.linspace(a, b, steps)) for n, a, b in zip(names, corners, corners[1:], strict=False)
    )
    return panel(lines)


def disc(radius):
    """A circle that begins and ends at angle 0."""
    t = np.linspace(0, 2 * np.pi, 181)
    return panel((InkLine("outline", "rim", radius * np.stack([np.cos(t), np.sin(t)], axis=1)),))


def panel(lines, darts=()):
    up = InkLine("centre line", "up", np.linspace([0.5, -20.0], [0.5, 20.0], 20))
    return PanelInk(1, lines, up, True, (), darts)


def slit(ink, mouth, tip):
    """The panel with one dart from the corner where its outline begins."""
    dart = DartInk("d", "dart", np.linspace(mouth, tip, 30), len(ink.outline) - 1)
    return panel(ink.outline, (dart,))
