"""Where what is laid on a piece lies over something that it should keep off: another part, an anchor, a hole."""

import itertools
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
import shapely
from numpy.typing import NDArray

from vellumcut.core.design.making import Detail
from vellumcut.core.design.parts import Plate
from vellumcut.core.flatten.chart import Chart
from vellumcut.core.ink.stage import InkedPiece
from vellumcut.core.parts.fixings import Fixed, fixed_on, told
from vellumcut.core.parts.laid import LaidPart

Array = NDArray[np.float64]

OVER = 12.0
"""mm2 that two parts may share unsaid: the rounding of their outlines."""
MOVE, PUNCH, MEND = "move one of them", "punch through both", "move it, or press “Mend it” on the table"
WITHIN = 0.99
"""Share of a plate that lies on another, from which it is a layer of that one."""
LESS = 0.95
"""Of the larger plate's area, above which the smaller is no layer of it but lies in its place."""
ON = 2.0
"""mm2 of an anchor or a hole from which something lies over it."""


@dataclass(frozen=True, eq=False)
class Crossing:
    """One place on a panel that is taken twice. keys: of the details that lie there. advice: what to do. area: mm2 that
    is shared; rings: where, closed lines (n, 2) of (around, along)."""

    keys: tuple[str, ...]
    words: str
    advice: str
    panel: int
    area: float
    rings: tuple[Array, ...]


def crossings_of(piece: InkedPiece, parts: Sequence[LaidPart], about: str = "") -> list[Crossing]:
    """Strips and plates that share ground with each other, and whatever lies on what is fixed to a panel. A row may sit
    on a strip, and anything on scales or segments: that is how they are worn. about: key of the one detail that is
    asked for; empty for all."""
    out: list[Crossing] = []
    wanted = [p for p in parts if not about or p.detail.key == about or p.strips or p.sheets]
    for at, panel in enumerate(piece.panels):
        chart, fixed = fixed_on(piece, at)
        grounds = _grounds(chart, wanted, panel.number)
        out += _shared(chart, grounds, panel.number)
        out += _fixed(chart, [g for g in grounds if g.detail.key == about or not about], fixed, panel.number)
    return [c for c in out if about in c.keys] if about else out


@dataclass(frozen=True, eq=False)
class _Ground:
    """What one detail covers on a panel. shapes: of each of its parts there; of rows and scales each by itself."""

    detail: Detail
    kind: Literal["laid", "row", "all over"]
    shapes: list[shapely.Geometry]


def _grounds(chart: Chart, parts: Sequence[LaidPart], panel: int) -> list[_Ground]:
    out: dict[str, _Ground] = {}
    for part in parts:
        rings = [line.uv for on, line in part.marks if on == panel and len(line.uv) > 2]
        if not rings:
            continue
        flat = np.split(chart.flat(np.vstack(rings)), np.cumsum([len(r) for r in rings])[:-1])
        shapes: list[shapely.Geometry] = [shapely.Polygon(r).buffer(0) for r in flat]
        kind: Literal["laid", "row", "all over"] = "all over" if part.rows or part.links or part.segments else "row"
        if (part.strips or part.sheets) and not part.links:
            # What lies within a hole of a plate does not lie on it.
            kind, shapes = "laid", [shapely.symmetric_difference_all(shapes)]
        out.setdefault(part.detail.key, _Ground(part.detail, kind, [])).shapes.extend(shapes)
    return list(out.values())


def _shared(chart: Chart, grounds: Sequence[_Ground], panel: int) -> Iterator[Crossing]:
    rows = [(g, shapely.union_all(g.shapes)) for g in grounds if g.kind == "laid"]
    for k, (a, one) in enumerate(rows):
        twice = shapely.union_all([x.intersection(y) for x, y in itertools.combinations(a.shapes, 2)])
        if twice.area > OVER:
            words = f"Two of {a.detail.name} lie over each other on panel {panel}"
            yield Crossing((a.detail.key,), words, MOVE, panel, float(twice.area), _rings(chart, twice))
        for b, other in rows[k + 1 :]:
            here = shapely.intersection(one, other)
            if here.area > OVER and not _lies_on((a.detail, one), (b.detail, other), here.area):
                words = f"{a.detail.name} and {b.detail.name} lie over each other on panel {panel}"
                yield Crossing((a.detail.key, b.detail.key), words, MOVE, panel, float(here.area), _rings(chart, here))


def _lies_on(one: tuple[Detail, shapely.Geometry], other: tuple[Detail, shapely.Geometry], shared: float) -> bool:
    """Whether one of two plates is a layer on the other: all of it lies within the outline of that, and leaves some of
    it to be seen."""
    small, large = sorted((one[1].area, other[1].area))
    plates = isinstance(one[0].shape, Plate) and isinstance(other[0].shape, Plate)
    return plates and shared > WITHIN * small and small < LESS * large


def _fixed(chart: Chart, grounds: Sequence[_Ground], fixed: Sequence[Fixed], panel: int) -> Iterator[Crossing]:
    """Scales and segments lie over all of a panel: of these only holes matter, which they would close."""
    for own in grounds:
        tree = shapely.STRtree(own.shapes)
        met = []
        for f in fixed:
            near = [own.shapes[k] for k in tree.query(f.ground)]
            here = shapely.intersection(shapely.union_all(near), f.ground)
            if here.area > ON and (f.through or own.kind != "all over"):
                met.append((f, here))
        if met:
            where = shapely.union_all([h for _, h in met])
            under = told([f.word for f, _ in met])
            be = "is" if len(met) == 1 else "are"
            words = f"{under[0].upper()}{under[1:]} {be} under {own.detail.name} on panel {panel}"
            yield Crossing(
                (own.detail.key,),
                words,
                PUNCH if own.kind == "all over" else MEND,
                panel,
                float(where.area),
                _rings(chart, where),
            )


def _rings(chart: Chart, shape: shapely.Geometry) -> tuple[Array, ...]:
    polygons = (g for g in shapely.get_parts(shape) if g.geom_type == "Polygon" and g.area > 0.5)
    return tuple(chart.uv(shapely.get_coordinates(shapely.segmentize(g.exterior, 2.0))) for g in polygons)
