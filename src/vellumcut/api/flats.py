"""Pieces whose panels came flat: their edges, and how those meet."""

import numpy as np
from fastapi import APIRouter
from pydantic import BaseModel

from vellumcut.api.deps import Id, StoreDep
from vellumcut.core.flatten.came_flat import EdgedShape, Matched, TruedMate
from vellumcut.core.ink.flatwork import FlatMate, Place
from vellumcut.core.layout.flat_pattern import match_flat
from vellumcut.service.builds import work_on

router = APIRouter(tags=["flats"])
Line = list[Place]


class FlatEdgeOut(BaseModel):
    """points: mm, y up, panels side by side. came, length: mm before and after it was made to match. mate: the seam's name."""

    points: Line
    came: float
    length: float
    dart: bool
    mate: str


class FlatPanelOut(BaseModel):
    number: int
    name: str
    edges: list[FlatEdgeOut]
    lines: list[Line]
    holes: list[Line]
    area: float
    off: float


class FlatMateOut(BaseModel):
    """Two edges that are glued. came, now: lengths of both, mm; moved: the most that a corner was moved for it."""

    name: str
    mate: FlatMate
    came: Place
    now: Place
    moved: float


class FlatTableOut(BaseModel):
    """factor: how many times as wide the panels are made than they came."""

    panels: list[FlatPanelOut]
    mates: list[FlatMateOut]
    factor: float


BETWEEN = 40.0


@router.get("/pieces/{piece}/flat")
def flat_table(store: StoreDep, piece: Id) -> FlatTableOut:
    """The panels of a piece that came flat, with their edges made to match."""
    work = work_on(store, piece)
    made = match_flat(work.design)
    panels, x = [], 0.0
    for _, edged in sorted(made.panels.items()):
        points = np.concatenate(edged.edges)
        low, high = points.min(axis=0), points.max(axis=0)
        panels.append(_panel(edged, made, np.array([x, 0.0]) - low))
        x += float(high[0] - low[0]) + BETWEEN
    mates = work.design.flat.mates if work.design.flat else ()
    return FlatTableOut(
        panels=panels,
        mates=[_mate(m, own) for m, own in zip(made.mates, mates, strict=True)],
        factor=round(made.factor, 4),
    )


def _line(points: np.ndarray) -> Line:
    return [(round(float(x), 2), round(float(y), 2)) for x, y in points]


def _panel(edged: EdgedShape, made: Matched, move: np.ndarray) -> FlatPanelOut:
    number = edged.shape.number
    names = {key.edge: m.name for m in made.mates for key in (m.a, m.b) if key.panel == number}
    tips, count = edged.tips, len(edged.edges)
    came = made.came[number]
    return FlatPanelOut(
        number=number,
        name=edged.shape.name,
        edges=[
            FlatEdgeOut(
                points=_line(e + move),
                came=round(came[k], 2),
                length=round(float(np.hypot(*np.diff(e, axis=0).T).sum()), 2),
                dart=k in tips or (k + 1) % count in tips,
                mate=names.get(k, ""),
            )
            for k, e in enumerate(edged.edges)
        ],
        lines=[_line(p + move) for p in edged.lines],
        holes=[_line(h + move) for h in edged.holes],
        area=round(edged.area, 1),
        off=edged.shape.off,
    )


def _mate(made: TruedMate, own: FlatMate) -> FlatMateOut:
    round2 = (round(made.came[0], 2), round(made.came[1], 2)), (round(made.now[0], 2), round(made.now[1], 2))
    return FlatMateOut(name=made.name, mate=own, came=round2[0], now=round2[1], moved=round(made.moved, 2))
