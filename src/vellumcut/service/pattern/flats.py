"""Pieces whose panels came flat: made from traced shapes and from files, and fitted to their wearer."""

from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path

import numpy as np

from vellumcut.core.design.flat import FlatShape, FlatStroke, FlatText, FlatWork, Source
from vellumcut.core.design.piece import PieceDesign, TemplateName
from vellumcut.core.errors import CraftError
from vellumcut.core.ink.library.table import starter_design
from vellumcut.core.pattern.fit_flat import Fit, check_fit, fitted
from vellumcut.core.pattern.pattern import drawn_sides
from vellumcut.core.trace.shapes import lies_on
from vellumcut.formats.pattern.pattern_files import HowToRead, read_pattern_file
from vellumcut.service.body.traces import get_trace, shapes_of
from vellumcut.service.keeping.builds import Work, add_piece, change_piece, get_piece, work_for
from vellumcut.service.pattern.patterns import drawn_tube, girth_now, station_girths
from vellumcut.service.rows import design_of
from vellumcut.store.database import Store
from vellumcut.store.models import Piece


@dataclass(frozen=True)
class FromTrace:
    """shapes: their numbers. piece: to add them to; None: a new one of that name and template. station: where on the
    body they were taken; its girth is the wearer's there, unless one is given.
    """

    shapes: tuple[int, ...]
    piece: int | None
    name: str
    template: TemplateName
    grow: bool
    girth: float | None
    station: str = ""


def panels_from_trace(store: Store, trace: int, wanted: FromTrace) -> Piece:
    """Make shapes of a photograph the panels of a piece. Raises CraftError, NotFound."""
    row = get_trace(store, trace)
    shapes = [s for s in shapes_of(row) if s.number in wanted.shapes]
    if not shapes:
        raise CraftError("None of these shapes is in the photograph any more", "shapes")
    thing = next((s for s in shapes if s.object), None)
    if thing:
        raise CraftError(f"{thing.name} is an object to be fitted: it makes no panel", "shapes")
    for said in (
        row.found,
        *(p for p in row.found["pieces"] if any(s.number == p["number"] or lies_on(s, p["outline"]) for s in shapes)),
    ):
        stop = next((f for f in said["findings"] if f["weight"] == "stop"), None)
        if stop:
            raise CraftError(f"{stop['what']} {stop['do']}", "shapes")
    return panels_of(store, row.build_id, shapes, wanted, "tape")


def panels_of(store: Store, build: int, shapes: Sequence[FlatShape], wanted: FromTrace, source: Source) -> Piece:
    """Shapes as panels, after those that the piece has."""
    if wanted.piece is None:
        design = starter_design(wanted.template)
        girth = wanted.girth or _girth_at(work_for(store, build, design), wanted.station)
        taken = {"grow": wanted.grow, "girth": girth, "station": wanted.station}
        work = FlatWork.model_validate({"panels": _numbered(shapes, 0), "source": source, **taken})
        return add_piece(store, build, wanted.name, _with(design, work))
    design = design_of(get_piece(store, wanted.piece))
    if design.flat is None:
        raise CraftError(
            "That piece is worked out from the body; choose a piece of traced panels, or a new one", "piece"
        )
    last = max(p.number for p in design.flat.panels)
    more = design.flat.model_copy(update={"panels": (*design.flat.panels, *_numbered(shapes, last))})
    return change_piece(store, wanted.piece, None, _with(design, FlatWork.model_validate(more.model_dump())))


def _girth_at(work: Work, station: str) -> float | None:
    if not station:
        return None
    girths = dict(station_girths(work))
    if station not in girths:
        raise CraftError(
            f"This part of the body has no station {station}: choose one of {', '.join(girths)}", "station"
        )
    return round(girths[station], 1)


def _with(design: PieceDesign, work: FlatWork) -> PieceDesign:
    return PieceDesign.model_validate({**design.model_dump(), "flat": work.model_dump()})


def _numbered(shapes: Sequence[FlatShape], after: int) -> tuple[FlatShape, ...]:
    return tuple(at_zero(s).model_copy(update={"number": after + k}) for k, s in enumerate(shapes, 1))


def at_zero(shape: FlatShape) -> FlatShape:
    """A shape with its lower left corner at zero."""
    low = np.array(shape.outline).min(axis=0)

    def moved(points: Sequence[tuple[float, float]]) -> tuple[tuple[float, float], ...]:
        return tuple((round(x - float(low[0]), 3), round(y - float(low[1]), 3)) for x, y in points)

    return shape.model_copy(
        update={
            "outline": moved(shape.outline),
            "holes": tuple(moved(h) for h in shape.holes),
            "lines": tuple(FlatStroke(kind=x.kind, name=x.name, points=moved(x.points)) for x in shape.lines),
            "texts": tuple(FlatText(at=moved([x.at])[0], words=x.words) for x in shape.texts),
        }
    )


def panels_from_file(
    store: Store, build: int, path: Path, name: str, how: HowToRead, template: TemplateName
) -> tuple[Piece, tuple[str, ...]]:
    """A new piece of the panels of a pattern file, and what of the file is not in it, in words. Raises CraftError,
    NotFound."""
    read = read_pattern_file(path, name, how)
    title = name.rsplit(".", 1)[0][:120] or "Pattern"
    wanted = FromTrace((), None, title, template, False, None)
    return panels_of(store, build, read.shapes, wanted, "file"), read.left


def fit_of(work: Work, numbers: Sequence[int], share: float, ends: tuple[int, int] | None, along: bool) -> Fit:
    """Panels held against the wearer. Raises CraftError."""
    side, _ = drawn_sides(work.readings, work.design)[0]
    return check_fit(work.design, drawn_tube(work, side), numbers, share, ends, along)


def take_fit(store: Store, work: Work, numbers: Sequence[int], fit: Fit) -> Piece:
    """Keep the panels as they fit this wearer: as of now, so that only what changes later moves them."""
    if work.design.flat is None:
        raise CraftError("This piece is worked out from the body: it fits already", "piece")
    fits = fitted(work.design.flat, numbers, fit).model_copy(update={"girth": girth_now(work)})
    return change_piece(store, work.piece_id, None, _with(work.design, fits))
