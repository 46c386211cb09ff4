"""Re-grading: what of a suit still fits a body that has changed."""

from dataclasses import replace
from typing import Annotated, Literal

from fastapi.responses import Response
from pydantic import Field

from vellumcut.api.body import schemas as b
from vellumcut.api.deps import Id, StoreDep, routes
from vellumcut.api.files import Scale, Unit, download
from vellumcut.api.schemas import In, Out, Points
from vellumcut.api.views import job_view, points
from vellumcut.core.pattern.pages import PaperName
from vellumcut.core.pattern.pattern import PiecePattern
from vellumcut.core.pattern.regrade import PanelChange
from vellumcut.formats.pattern.pdf import write_pdf
from vellumcut.formats.pattern.svg import write_svg
from vellumcut.service.errors import NotFound
from vellumcut.service.jobs import job_of
from vellumcut.service.pattern.regrade import Regrade, start_regrade

router = routes("re-grade")


class RegradeIn(In):
    """since: the set of measures that the suit was cut to."""

    since: Annotated[int, Field(ge=1, le=2**62, strict=True)]


class PanelChangeOut(Out):
    """One panel, mm. width: of the strip, least, mean and most. strip: outline to add or take off."""

    code: str
    state: Literal["fits", "strip", "trim", "again"]
    words: str
    apart: float
    edge: str
    width: list[float]
    old: Points
    new: Points
    strip: Points | None


class PieceChangeOut(Out):
    piece: int
    name: str
    trouble: str
    panels: list[PanelChangeOut]


class RegradeOut(Out):
    since: str
    pieces: list[PieceChangeOut]


@router.post("/builds/{build}/regrades", status_code=202)
def regrade(store: StoreDep, build: Id, body: RegradeIn) -> b.JobOut:
    """Re-pattern every piece on the newest measures and compare; fetched under the job's number when done."""
    return job_view(start_regrade(store, build, body.since))


@router.get("/regrades/{job}")
def regraded(job: Id) -> RegradeOut:
    found = _done(job)
    return RegradeOut(
        since=found.since,
        pieces=[
            PieceChangeOut(piece=p.piece, name=p.name, trouble=p.trouble, panels=[_view(c) for c in p.panels])
            for p in found.pieces
        ],
    )


@router.get("/regrades/{job}/strips.svg", response_class=Response)
def strips_svg(job: Id) -> Response:
    """Every strip to be added, labelled, at full size."""
    return download(write_svg(_strips(job)), "Strips", "svg", "image/svg+xml")


@router.get("/regrades/{job}/strips.pdf", response_class=Response)
def strips_pdf(job: Id, paper: PaperName = "A4", unit: Unit = "mm", scale: Scale = 1.0) -> Response:
    """The same on pages to print."""
    return download(write_pdf(_strips(job), paper, unit, scale), "Strips", "pdf", "application/pdf")


def _strips(job: int) -> PiecePattern:
    found = [p.strips for p in _done(job).pieces if p.strips is not None]
    if not found:
        raise NotFound("No panel wants a strip")
    return replace(found[0], name="Strips", panels=tuple(panel for p in found for panel in p.panels))


def _done(job: int) -> Regrade:
    found = job_of(job).result
    if not isinstance(found, Regrade):
        raise NotFound("This job has re-graded nothing, or not yet")
    return found


def _view(change: PanelChange) -> PanelChangeOut:
    return PanelChangeOut(
        code=change.code,
        state=change.state,
        words=change.words,
        apart=change.apart,
        edge=change.edge,
        width=list(change.width),
        old=points(change.old[::2]),
        new=points(change.new[::2]),
        strip=None if change.strip is None else points(change.strip),
    )
