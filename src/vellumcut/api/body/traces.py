"""Photographs of cast pieces, traced."""

from dataclasses import asdict
from typing import Annotated, Literal

from fastapi import Query, Request
from fastapi.responses import FileResponse, Response

from vellumcut.api.body import trace_schemas as t
from vellumcut.api.body.schemas import JobOut
from vellumcut.api.deps import Id, StoreDep, routes, takes_file
from vellumcut.api.files import Scale, Unit, download
from vellumcut.api.schemas import PieceOut
from vellumcut.api.views import job_view, piece_view
from vellumcut.core.pattern.pages import PaperName
from vellumcut.core.trace.shapes import measures
from vellumcut.core.trace.view.judge import UNMEASURED
from vellumcut.core.words import SEEN
from vellumcut.formats.body.found import FoundFinding
from vellumcut.formats.body.marker_cards import write_marker_cards
from vellumcut.formats.body.outlines import write_outlines_dxf, write_outlines_svg
from vellumcut.formats.body.photographs import LARGEST_PHOTOGRAPH
from vellumcut.service.body import corrections, strokes, traces
from vellumcut.service.pattern import flats
from vellumcut.store.models import TracedPhotograph

router = routes("traces")


def _brief(row: TracedPhotograph) -> t.TraceBrief:
    return t.TraceBrief(
        id=row.id,
        build_id=row.build_id,
        name=row.name,
        taken_at=row.taken_at,
        pieces=len(row.shapes),
        bare=bool(row.found.get("bare")),
        over_floor=bool(row.floor),
    )


def _view(row: TracedPhotograph) -> t.TraceOut:
    found = row.found
    return t.TraceOut(
        **_brief(row).model_dump(),
        square=round(row.side / traces.card_side(1.0), 2),
        unmeasured=None if found.get("checked") else FoundFinding(**asdict(UNMEASURED)),
        above=found["above"],
        cards=found["cards"],
        cards_left_out=found["cards_left_out"],
        residual_mm=found["residual_mm"],
        findings=found["findings"],
        found=found["pieces"],
        shapes=list(traces.shapes_of(row)),
    )


@router.get("/marker-cards.pdf", response_class=Response)
def marker_cards(paper: PaperName = "A4", unit: Unit = "mm", scale: Scale = 1.0) -> Response:
    """The pages of cards to lay round what is photographed."""
    return download(write_marker_cards(paper, unit, scale), "Marker cards", "pdf", "application/pdf")


@router.get("/builds/{build}/traces")
def list_traces(store: StoreDep, build: Id) -> list[t.TraceListed]:
    rows = traces.list_traces(store, build)
    joins, floors = traces.joins_of(rows), traces.floors_of(rows)
    return [
        t.TraceListed(**_brief(row).model_dump(), joins=joins.get(row.id, []), floor=floors.get(row.id)) for row in rows
    ]


@router.post("/builds/{build}/traces", status_code=202, openapi_extra=takes_file(LARGEST_PHOTOGRAPH))
async def bring_in(
    store: StoreDep,
    build: Id,
    request: Request,
    name: Annotated[str, Query(min_length=1, max_length=200), SEEN],
    square: Annotated[float, Query(ge=50, le=200)] = 100.0,
    bare: bool = False,
    over: Annotated[int | None, Query(ge=1)] = None,
    checked: bool = False,
) -> JobOut:
    """Bring in a JPEG, PNG, WebP or HEIC photograph and trace it; the job's result is its number. bare: it shows the
    floor and its cards alone. over: the photograph of the floor beneath the pieces. checked: the square was
    measured."""
    brought = traces.Brought(name, square, bare, over, checked)
    return job_view(await traces.receive(store, build, brought, request.stream()))


@router.post("/builds/{build}/camera", status_code=202)
def use_camera(store: StoreDep, build: Id, body: t.CameraIn) -> JobOut:
    """Photograph a made-up cast with the simulated camera, and trace it; on a floor that is photographed first, if that
    is asked for."""
    if body.floor_first:
        return job_view(traces.photograph_made_up_floor(store, build, body.seed))
    return job_view(traces.photograph_made_up_cast(store, build, body.seed))


@router.get("/builds/{build}/objects")
def list_objects(store: StoreDep, build: Id) -> list[t.ObjectOut]:
    """Things to be fitted that were photographed for this build."""
    return [
        t.ObjectOut(
            name=s.name,
            trace=row.id,
            number=s.number,
            outline=list(s.outline),
            off=s.off,
            **dict(zip(("long", "wide", "round"), measures(s), strict=True)),
        )
        for row in traces.list_traces(store, build)
        for s in traces.shapes_of(row)
        if s.object
    ]


@router.post("/traces/joined", status_code=202)
def join(store: StoreDep, body: t.JoinIn) -> JobOut:
    """Join photographs of one ground that share cards, and trace what they show together; the job's result is its
    number."""
    return job_view(traces.join_traces(store, body.traces))


@router.get("/traces/{trace}")
def get_trace(store: StoreDep, trace: Id) -> t.TraceOut:
    return _view(traces.get_trace(store, trace))


@router.get("/traces/{trace}/picture", response_class=FileResponse)
def trace_picture(store: StoreDep, trace: Id) -> FileResponse:
    """The ground from above."""
    return FileResponse(traces.above_file(store, trace), media_type="image/jpeg")


@router.post("/traces/{trace}/acts")
def correct(store: StoreDep, trace: Id, body: t.ActIn) -> t.TraceOut:
    """Put one thing right on one outline."""
    return _view(corrections.correct(store, trace, body.act, corrections.What(**body.model_dump(exclude={"act"}))))


@router.post("/traces/{trace}/strokes")
def rub(store: StoreDep, trace: Id, body: t.StrokeIn) -> t.TraceOut:
    """Say what lies under a stroke; outlines follow."""
    return _view(strokes.rub_over(store, trace, body.points, body.wide, body.what == "piece"))


@router.post("/traces/{trace}/checked")
def check_size(store: StoreDep, trace: Id) -> t.TraceOut:
    """The cards' test square was measured, and it is as this was traced."""
    return _view(traces.check_size(store, trace))


@router.post("/traces/{trace}/again", status_code=202)
def trace_again(store: StoreDep, trace: Id, body: t.AgainIn) -> JobOut:
    """Trace it once more, with what the maker knows; the job's result is its number."""
    return job_view(traces.trace_again(store, trace, body.square, body.over, body.checked))


@router.delete("/traces/{trace}", status_code=204)
def remove_trace(store: StoreDep, trace: Id) -> None:
    traces.remove_trace(store, trace)


@router.get("/traces/{trace}/outlines.{format}", response_class=Response)
def outlines(store: StoreDep, trace: Id, format: Literal["svg", "dxf"]) -> Response:
    """All outlines at full size."""
    row = traces.get_trace(store, trace)
    shapes = traces.shapes_of(row)
    if format == "svg":
        return download(write_outlines_svg(shapes, row.name), row.name, "svg", "image/svg+xml")
    return download(write_outlines_dxf(shapes), row.name, "dxf", "image/vnd.dxf")


@router.post("/traces/{trace}/panels", status_code=201)
def make_panels(store: StoreDep, trace: Id, body: t.PanelsIn) -> PieceOut:
    """Make shapes the panels of a piece."""
    taken = body.grow, body.girth, body.station
    wanted = flats.FromTrace(tuple(body.shapes), body.piece, body.name, body.template, *taken)
    return piece_view(store, flats.panels_from_trace(store, trace, wanted))
