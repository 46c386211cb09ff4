"""Lines of a piece along which magnets can sit: its free edges and whatever is inked inside its panels; their marks."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from vellumcut.core.ink.lines import InkLine, PanelInk
from vellumcut.core.rig.closures.eyelets import step_across, true_rings
from vellumcut.core.rig.laid import LaidPiece

Array = NDArray[np.float64]

MAGNET_EDGE = 5.0
"""Foam left between a magnet and the edge it sits along, mm (est.)."""


@dataclass(frozen=True)
class MagnetLine:
    """length: on the middle layer, mm. within: inside a panel; else along a free edge. alike: how many of it the piece
    has, those of panels that are cut turned over among them."""

    length: float
    within: bool
    alike: int


def _lines(panel: PanelInk) -> Iterator[tuple[InkLine, bool]]:
    yield from ((x, False) for x in panel.outline if x.kind == "outline")
    yield from ((x, True) for x in panel.inside)


def magnet_line(laid: LaidPiece, name: str) -> MagnetLine | None:
    """The line of that name; None where the piece has none."""
    found = [
        (line, within, 2 if twin else 1)
        for panel, twin in zip(laid.inked.panels, laid.inked.twins, strict=True)
        for line, within in _lines(panel)
        if line.name == name
    ]
    if not found:
        return None
    line, within, alike = found[0]
    points = laid.inked.surface.points(line.uv)
    return MagnetLine(float(np.linalg.norm(np.diff(points, axis=0), axis=1).sum()), within, alike)


def magnet_line_names(laid: LaidPiece) -> tuple[str, ...]:
    """Names of free edges first, then of what is inked inside."""
    rows = [x for p in laid.inked.panels for x in _lines(p)]
    return tuple(dict.fromkeys(line.name for line, _ in sorted(rows, key=lambda r: r[1])))


def magnet_marks(
    laid: LaidPiece, name: str, size: float, at: Sequence[float], poles: Sequence[str], panel: PanelInk
) -> tuple[InkLine, ...]:
    """A ring for each magnet along a line of a panel, named by the pole that looks out. size: across, mm. at: mm along
    the line."""
    found = next(((x, within) for x, within in _lines(panel) if x.name == name), None)
    if found is None or not at:
        return ()
    line, within = found
    plane = laid.plane
    points = laid.inked.surface.points(line.uv)
    arc = np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(points, axis=0), axis=1))])
    flat = plane.flat(line.uv)
    inward = 0.0 if within else size / 2 + MAGNET_EDGE
    names: list[str] = []
    spots: list[Array] = []
    for number, (mm, pole) in enumerate(zip(at, poles, strict=True), 1):
        here = np.array([np.interp(mm, arc, flat[:, k]) for k in (0, 1)])
        ahead = np.array([np.interp(mm + 1, arc, flat[:, k]) - np.interp(mm - 1, arc, flat[:, k]) for k in (0, 1)])
        # Outlines run counter-clockwise: the panel lies on their left.
        spots.append(here + inward * step_across(laid, here, ahead))
        names.append(f"magnet {number}, {pole} outward")
    rings = true_rings(laid, np.array(spots), size)
    return tuple(InkLine("mark", n, plane.uv(r)) for n, r in zip(names, rings, strict=True))
