"""Panels of another build used again: its design drawn anew on this wearer, and of that the panels that are wanted."""

from collections.abc import Collection, Sequence

import numpy as np
import shapely

from vellumcut.core.design.flat import FlatEdgeKey, FlatMate, FlatShape, FlatStroke, FlatWork, places
from vellumcut.core.design.piece import PieceDesign
from vellumcut.core.errors import CraftError
from vellumcut.core.flatten.panel import FlatPanel
from vellumcut.core.ink.lines import opens
from vellumcut.core.pattern.drawn import DrawnPanel
from vellumcut.service.keeping.builds import add_piece, change_piece, get_piece, work_for
from vellumcut.service.pattern.patterns import pattern_of, station_girths
from vellumcut.service.rows import design_of
from vellumcut.store.database import Store
from vellumcut.store.models import Piece

AS_CUT = 0.01
"""mm within which an outline is kept with fewer points."""
KEPT = ("fold", "score", "trim edge", "layer cut", "paint line", "mark")
"""Kinds of lines that come along."""


def borrow(store: Store, build: int, source: int, numbers: Collection[int], into: int | None) -> Piece:
    """Panels of a piece of any build, as that design lies on this build's wearer: a new piece, or beside the panels of
    one that has such. numbers: of the panels; none: all of them. Raises CraftError, NotFound."""
    other = get_piece(store, source)
    design = design_of(other)
    work = work_for(store, build, design)
    panels = [p for p in pattern_of(work).panels if p.layer.number == 1 and (not numbers or p.flat.number in numbers)]
    if not panels:
        raise CraftError("None of these panels is in that piece now", "panels")
    own = design_of(get_piece(store, into)) if into is not None else None
    if own is not None and own.flat is None:
        raise CraftError("That piece is worked out from the body or from measures: choose one of panels, or a new one",
                         "into")  # fmt: skip
    before = own.flat if own is not None else None
    shapes, mates = _shapes(panels, max((p.number for p in before.panels), default=0) if before else 0)
    if own is not None and before is not None:
        more = {"panels": (*before.panels, *shapes), "mates": (*before.mates, *mates)}
        flat = FlatWork.model_validate(before.model_copy(update=more).model_dump())
        return change_piece(store, into or 0, None, _with(own, flat))
    station, girth = max(station_girths(work), key=lambda s: s[1])
    flat = FlatWork(panels=shapes, mates=mates, source="file", station=station, girth=round(girth, 1))
    return add_piece(store, build, f"{other.name}, its panels", _with(PieceDesign(
        template=design.template, side=design.side, foam=design.foam, foam_kind=design.foam_kind, layers=design.layers,
        base_layer=design.base_layer, ease=design.ease, back="closed",
    ), flat))  # fmt: skip


def _with(design: PieceDesign, flat: FlatWork) -> PieceDesign:
    return PieceDesign.model_validate({**design.model_dump(), "flat": flat.model_dump()})


def _shapes(panels: Sequence[DrawnPanel], after: int) -> tuple[tuple[FlatShape, ...], tuple[FlatMate, ...]]:
    """Numbered on from the panels that are there, with the seams between them."""
    shapes = []
    met: dict[str, list[FlatEdgeKey]] = {}
    for k, panel in enumerate(panels, after + 1):
        shapes.append(_shape(k, panel))
        for n, edge in enumerate(panel.flat.edges):
            if edge.kind == "seam" and edge.arc and not opens(edge.arc):
                met.setdefault(edge.arc, []).append(FlatEdgeKey(panel=k, edge=n))
    pairs = [keys for keys in met.values() if len(keys) == 2]
    return tuple(shapes), tuple(FlatMate(a=a, b=b) for a, b in pairs)


def _shape(number: int, panel: DrawnPanel) -> FlatShape:
    flat = panel.flat
    turned = not shapely.LinearRing(flat.outline).is_ccw
    if turned:
        raise CraftError(f"Panel {panel.label.code} is drawn from its inner face: show its outer one first", "panels")
    points: list[np.ndarray] = []
    corners: list[int] = []
    for edge in flat.edges:
        corners.append(sum(len(x) for x in points))
        line = np.array(shapely.LineString(edge.points()).simplify(AS_CUT).coords)
        points.append(line[:-1])
    low = flat.outline.min(axis=0)
    return FlatShape(
        number=number,
        name=panel.label.code,
        outline=places(np.vstack(points) - low),
        holes=tuple(places(_ring(h) - low) for h in flat.hole_rings),
        corners=tuple(corners),
        darts=tuple(corners[k] for k in _tips(flat)),
        lines=(
            FlatStroke(kind="centre line", points=places(_thin(flat.centre) - low)),
            *(FlatStroke(kind=x.kind, name=x.name[:80], points=places(_thin(x.points) - low))  # type: ignore[arg-type]
              for x in flat.lines if x.kind in KEPT),
        ),
        copies=1,
        mirrored=panel.copies > 1,
    )  # fmt: skip


def _tips(flat: FlatPanel) -> list[int]:
    """Edges that begin at the tip of a dart: the second of each pair of legs."""
    legs = [k for k, e in enumerate(flat.edges) if e.kind == "dart"]
    return legs[1::2]


def _thin(line: np.ndarray) -> np.ndarray:
    return np.array(shapely.LineString(line).simplify(AS_CUT).coords)[:2000]


def _ring(ring: np.ndarray) -> np.ndarray:
    thin = np.array(shapely.LinearRing(ring).simplify(AS_CUT).coords)[:-1]
    return thin if shapely.LinearRing(thin).is_ccw else thin[::-1]
