"""A dress form, or a tape double's core, padded to the wearer: how thick, station by station."""

import itertools
import math
from dataclasses import dataclass

from vellumcut.core.body.tube import TubeSurface
from vellumcut.core.notes import Note, Value

BATTING = 10.0
"""Thickness of one layer of batting as it lies, mm (est.)."""


@dataclass(frozen=True)
class Padding:
    """One station. thickness: mm all round; less than nothing where the form is too big. layers: of batting."""

    station: str
    form: float
    wearer: float
    thickness: float
    layers: int
    note: Note


@dataclass(frozen=True)
class PaddingPlan:
    """stuffing: volume between form and wearer, litres. too_big: stations where the form is wider than the wearer."""

    rows: tuple[Padding, ...]
    stuffing: float
    too_big: tuple[str, ...]


def plan_padding(tube: TubeSurface, form: dict[str, float], base_layer: float = 0.0) -> PaddingPlan:
    """Padding from a form's girths (mm, by station; missing stations are left out) to the wearer's tube.

    A tape double is the same sum with the girths of its core: a pole, a cushion, or none (0).
    """
    rows, areas = [], []
    for name, at, girth in zip(tube.names, tube.at, tube.station_girths, strict=True):
        if name not in form:
            continue
        wanted = girth + 2 * math.pi * base_layer
        thickness = (wanted - form[name]) / (2 * math.pi)
        note = Note(
            title=f"Padding at the {name}",
            result=Value("thickness", thickness),
            formula="({0} wearer - {1} form) / (2 x 3.1416)",
            values=(Value("wearer", wanted), Value("form", form[name])),
            reason="Padding of one thickness all round adds 2 pi times that thickness to a girth.",
            change="A smaller form takes more padding.",
            about=name,
        )
        rows.append(Padding(name, form[name], wanted, thickness, max(0, math.ceil(thickness / BATTING - 0.25)), note))
        areas.append((at, (wanted**2 - form[name] ** 2) / (4 * math.pi)))
    volume = sum((b_at - a_at) * (max(a, 0.0) + max(b, 0.0)) / 2 for (a_at, a), (b_at, b) in itertools.pairwise(areas))
    return PaddingPlan(tuple(rows), volume / 1e6, tuple(r.station for r in rows if r.thickness < -1.0))
