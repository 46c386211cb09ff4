"""Mask sheets: outlines of zones, rivets, stencils and decals, to be cut from film by a knife or a cutter."""

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from vellumcut.core.design.making import Making
from vellumcut.core.finish.zones import PaintedZone
from vellumcut.core.pattern.laid_on.sums import PartSum

Array = NDArray[np.float64]

BETWEEN = 8.0
"""Space between masks on a sheet, mm: room for a knife."""
CIRCLE_STEPS = 96
MOST_CIRCLES = 400


@dataclass(frozen=True)
class Mask:
    """One outline to be cut. rings: closed, first point not repeated, (n, 2) mm. count: how many. turned: of these, how
    many lie face down, for the other half of the body."""

    name: str
    rings: tuple[Array, ...]
    count: int
    turned: int = 0


def mask_sheet(painted: list[PaintedZone], making: Making, laid: Mapping[str, PartSum]) -> list[Mask]:
    """All masks of a piece: each zone that is masked to a line, circles for rivets, stencils and decals. laid: what
    lies on it, which tells what of it is a mirror image."""
    turned = {key: own.turned for key, own in laid.items()}
    out = []
    for p in painted:
        if p.mask <= 0 or p.hand:
            continue
        for zone in p.zones:
            rings = [np.array(r.coords)[:-1] for r in (zone.shape.exterior, *zone.shape.interiors)]
            low = np.min(rings[0], axis=0)
            name = f"{p.finish.stack.name}, zone {zone.name}" + (f", {zone.side}" if zone.copies == 1 else "")
            out.append(Mask(name, tuple(r - low for r in rings), zone.copies, zone.copies // 2))
    for detail in making.detail_list("rivets", "gem"):
        if detail.motif:
            seat = tuple(np.array(r.points) for r in detail.motif)
            out.append(Mask(f"seat of {detail.name}", seat, detail.count, turned.get(detail.key, 0)))
        elif detail.size > 0:
            out.append(
                Mask(
                    f"{detail.name}, {detail.size:g} mm across", (circle(detail.size),), min(detail.count, MOST_CIRCLES)
                )
            )
    out += [
        Mask(f"{d.kind}: {d.name}", tuple(np.array(r.points) for r in d.motif), d.count, turned.get(d.key, 0))
        for d in making.detail_list("stencil", "decal")
        if d.motif
    ]
    return out


def circle(size: float) -> Array:
    """Points on a circle ``size`` mm across that touches both axes; its area is that of the circle."""
    turn = np.linspace(0, 2 * np.pi, CIRCLE_STEPS, endpoint=False)
    step = 2 * np.pi / CIRCLE_STEPS
    radius = size / 2 * np.sqrt(step / np.sin(step))
    return np.asarray(np.stack([np.cos(turn), np.sin(turn)], axis=1) * radius + size / 2)


def laid_out(masks: list[Mask], width: float = 600.0) -> list[tuple[str, tuple[Array, ...]]]:
    """Every copy of every mask in rows on one sheet ``width`` mm wide, y up; those for the other half turned over."""
    out: list[tuple[str, tuple[Array, ...]]] = []
    x = y = row = 0.0
    for mask in masks:
        size = np.ptp(mask.rings[0], axis=0)
        for n in range(mask.count):
            rings = mask.rings if n >= mask.turned else tuple(r * [-1, 1] + [size[0], 0] for r in mask.rings)
            if x > 0 and x + size[0] > width:
                x, y, row = 0.0, y + row + BETWEEN, 0.0
            out.append((mask.name, tuple(r + [x, y] for r in rings)))
            x, row = x + size[0] + BETWEEN, max(row, float(size[1]))
    return out


def cut_length(masks: list[Mask]) -> float:
    """Of all copies, mm."""
    return sum(float(shapely.LinearRing(r).length) * m.count for m in masks for r in m.rings)
