"""Pieces whose panels came flat: their edges, and how those meet."""

from pathlib import Path
from typing import Annotated, Literal

import numpy as np
from fastapi import Query, Request
from fastapi.responses import Response
from pydantic import Field, StrictBool, StrictInt

from vellumcut.api.deps import Id, StoreDep, routes, takes_file
from vellumcut.api.files import Scale, Unit, download
from vellumcut.api.schemas import In, Out, PieceOut
from vellumcut.api.uploads import read_upload
from vellumcut.api.views import piece_view
from vellumcut.core.design.flat import FlatMate, Place
from vellumcut.core.design.piece import TemplateName
from vellumcut.core.flatten.came_flat import EdgedShape, Matched, TruedMate
from vellumcut.core.ink.library.table import starter_design
from vellumcut.core.pattern.fit_flat import disagreements, three_sizes
from vellumcut.core.pattern.flat_pattern import flat_pattern, match_flat
from vellumcut.core.pattern.pages import PaperName
from vellumcut.core.pattern.pattern import drawn_sides
from vellumcut.core.units import Length, Number
from vellumcut.core.words import SEEN
from vellumcut.formats.pattern.layer_words import said_layers
from vellumcut.formats.pattern.pattern_files import LARGEST_PATTERN, HowToRead, read_pages_of, said_places
from vellumcut.formats.pattern.pdf import write_pdf
from vellumcut.service.keeping.builds import work_for, work_on
from vellumcut.service.pattern import flats
from vellumcut.service.pattern.borrowed import borrow
from vellumcut.service.pattern.patterns import drawn_tube, girth_now, station_girths

router = routes("flats")
Line = list[Place]


class FlatEdgeOut(Out):
    """points: mm, y up, panels side by side. came, length: mm before and after it was made to match. mate: the seam's
    name."""

    points: Line
    came: float
    length: float
    dart: bool
    mate: str


class FlatPanelOut(Out):
    """moved: by how much its places are shifted here, mm; less that, and x by the table's factor, they are as they
    came."""

    number: int
    moved: Place
    name: str
    edges: list[FlatEdgeOut]
    lines: list[Line]
    holes: list[Line]
    area: float
    off: float


class FlatMateOut(Out):
    """Two edges that are glued. came, now: lengths of both, mm; moved: the most that a corner was moved for it."""

    name: str
    mate: FlatMate
    came: Place
    now: Place
    moved: float


class FlatTableOut(Out):
    """factor: how many times as wide the panels are made than they came."""

    panels: list[FlatPanelOut]
    mates: list[FlatMateOut]
    factor: float


class PatternPageOut(Out):
    """size: mm. lines: mm, y up."""

    size: Place
    lines: list[Line]


class PatternPagesOut(Out):
    """ask: nothing in the pages says how they belong together."""

    pages: list[PatternPageOut]
    ask: bool


class PatternBroughtIn(PieceOut):
    """left: what of the file is not in the piece, in words."""

    left: list[str]


class CastStationOut(Out):
    """girth: mm round the wearer there."""

    name: str
    girth: float


BETWEEN = 40.0


class FlatFitIn(In):
    """panels: which make the round together; share: how much of it they are. low, high: stations where the pattern
    begins and ends, by their place; along: whether its length is to fit too. take: keep it so."""

    panels: Annotated[list[StrictInt], Field(min_length=1, max_length=200)]
    share: Annotated[Number, Field(ge=0.1, le=1)] = 1.0
    low: Annotated[StrictInt, Field(ge=0, le=40)] | None = None
    high: Annotated[StrictInt, Field(ge=0, le=40)] | None = None
    along: StrictBool = False
    take: StrictBool = False


class FlatFitRowOut(Out):
    word: str
    up: float
    was: float
    wants: float
    body: float


class FlatFitOut(Out):
    """stations: of the body, from the lower end. questions: where a cast and the measures do not agree. taken: whether
    the panels are kept so now."""

    rows: list[FlatFitRowOut]
    height: float
    length: float
    along: float
    stations: list[str]
    questions: list[str]
    taken: bool


@router.get("/pieces/{piece}/flat")
def flat_table(store: StoreDep, piece: Id) -> FlatTableOut:
    """The panels of a piece that came flat, with their edges made to match."""
    work = work_on(store, piece)
    made = match_flat(work.design, girth_now(work))
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


@router.post("/pieces/{piece}/fit")
def fit_panels(store: StoreDep, piece: Id, body: FlatFitIn) -> FlatFitOut:
    """Hold a pattern against its wearer: what it goes round, what is wanted, and, if told so, make it fit."""
    work = work_on(store, piece)
    ends = (body.low, body.high) if body.low is not None and body.high is not None else None
    made = flats.fit_of(work, body.panels, body.share, ends, body.along)
    if body.take:
        flats.take_fit(store, work, body.panels, made)
    rows = [
        FlatFitRowOut(
            word=r.word, up=round(r.up, 1), was=round(r.was, 1), wants=round(r.wants, 1), body=round(r.body, 1)
        )
        for r in made.rows
    ]
    side, _ = drawn_sides(work.readings, work.design)[0]
    return FlatFitOut(
        rows=rows, height=round(made.height, 1), length=round(made.length, 1), along=round(made.along, 4),
        stations=list(drawn_tube(work, side).names), taken=body.take,
        questions=disagreements(work.design.flat, made) if work.design.flat else [],
    )  # fmt: skip


@router.get("/pieces/{piece}/three-sizes.pdf", response_class=Response)
def three_sizes_pdf(
    store: StoreDep,
    piece: Id,
    panel: Annotated[int, Query(ge=1, le=200)],
    step: Annotated[float, Query(ge=0.01, le=0.2)] = 0.05,
    paper: PaperName = "A4",
    unit: Unit = "mm",
    scale: Scale = 1.0,
) -> Response:
    """One panel at three sizes, on paper, to be held against the body."""
    work = work_on(store, piece)
    made = flat_pattern(three_sizes(work.design, panel, step), f"{work.name}, three sizes", work.build)
    return download(write_pdf(made, paper, unit, scale), made.name, "pdf", "application/pdf")


@router.get("/builds/{build}/stations")
def stations(store: StoreDep, build: Id, template: TemplateName) -> list[CastStationOut]:
    """Where a cast of such a piece may have been taken, from its lower end, and what its wearer measures there."""
    rows = station_girths(work_for(store, build, starter_design(template)))
    return [CastStationOut(name=name, girth=round(girth, 1)) for name, girth in rows]


@router.post("/builds/{build}/pattern-files", status_code=201, openapi_extra=takes_file(LARGEST_PATTERN))
async def bring_in_pattern(
    store: StoreDep,
    build: Id,
    request: Request,
    name: Annotated[str, Query(min_length=1, max_length=200), SEEN],
    unit: Literal["", "mm", "cm", "in", "pt", "px"] = "",
    template: TemplateName = "breastplate",
    wide: Annotated[Annotated[Length, Field(ge=5, le=20_000)] | None, Query()] = None,
    places: Annotated[str, Query(max_length=8000)] = "",
    layers: Annotated[str, Query(max_length=8000)] = "",
) -> PatternBroughtIn:
    """Bring in an SVG, DXF or PDF pattern as a piece. unit: for a file that does not say what its numbers are; wide:
    what all its lines together measure across, in any unit, instead. places: mm by which each page is moved, "x,y;x,y".
    layers: what layers hold that are asked after, a line each, "name=panels", holes, marks, folds or out.
    """
    how = HowToRead(unit, wide or 0.0, said_places(filter(None, places.split(";"))), said_layers(layers.splitlines()))

    def read(path: Path) -> PatternBroughtIn:
        made, left = flats.panels_from_file(store, build, path, name, how, template)
        return PatternBroughtIn(**dict(piece_view(store, made)), left=list(left))

    return await read_upload(store, request, read)


class BorrowIn(In):
    """piece: of any build, whose panels are used again. panels: their numbers; none: all. into: a piece of panels that
    they come beside; None: a new one."""

    piece: StrictInt
    panels: Annotated[tuple[StrictInt, ...], Field(max_length=200)] = ()
    into: StrictInt | None = None


@router.post("/builds/{build}/borrowed", status_code=201)
def borrow_panels(store: StoreDep, build: Id, body: BorrowIn) -> PieceOut:
    """Panels of a piece of another build, drawn anew on this build's wearer."""
    return piece_view(store, borrow(store, build, body.piece, body.panels, body.into))


@router.post("/pattern-pages", openapi_extra=takes_file(LARGEST_PATTERN))
async def pages_of_pattern(store: StoreDep, request: Request) -> PatternPagesOut:
    """The pages of a PDF, to be laid together by hand where nothing in them says how. Nothing is kept."""
    return await read_upload(store, request, lambda path: PatternPagesOut.model_validate(read_pages_of(path)))


def _line(points: np.ndarray) -> Line:
    return [(round(float(x), 2), round(float(y), 2)) for x, y in points]


def _panel(edged: EdgedShape, made: Matched, move: np.ndarray) -> FlatPanelOut:
    number = edged.shape.number
    names = {key.edge: m.name for m in made.mates for key in (m.a, m.b) if key.panel == number}
    tips, count = edged.tips, len(edged.edges)
    came = made.came[number]
    return FlatPanelOut(
        number=number,
        moved=_line(move[None])[0],
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
