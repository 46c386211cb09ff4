"""Patterns: the flat panels, the cast, pages to print and files to take away."""

from typing import Annotated

from fastapi import APIRouter, Query
from fastapi.responses import JSONResponse, Response

from vellumcut.api import pattern_schemas as q
from vellumcut.api import schemas as s
from vellumcut.api.deps import Id, StoreDep
from vellumcut.api.files import Scale, Unit, download
from vellumcut.api.views import cast_view, overlay_view, pattern_view, points
from vellumcut.core.cast.halves import asymmetry
from vellumcut.core.cast.wrap import WrapTube
from vellumcut.core.ink.library.table import TEMPLATES
from vellumcut.core.layout.fold import is_own_mirror, on_the_fold
from vellumcut.core.layout.pages import TEST_SQUARE, PaperName, check_scale, plan_pages
from vellumcut.core.layout.pattern import PiecePattern
from vellumcut.formats.card import write_card
from vellumcut.formats.dxf import write_dxf
from vellumcut.formats.pattern_json import pattern_data
from vellumcut.formats.pdf import write_pdf
from vellumcut.formats.svg import write_svg
from vellumcut.service import builds, patterns
from vellumcut.store.database import Store

router = APIRouter(tags=["patterns"])


def _changed_since(store: Store, work: builds.Work) -> int | None:
    """Number of the newest kept version if the pattern has changed since; None if it has not or none is kept."""
    kept = builds.list_versions(store, work.piece_id)
    if not kept:
        return None
    same = kept[-1].design == work.design.model_dump(mode="json") and kept[-1].readings == work.readings.model_dump(
        mode="json"
    )
    return None if same else kept[-1].number


@router.get("/pieces/{piece}/pattern")
def pattern(store: StoreDep, piece: Id) -> q.PatternOut:
    work = builds.work_on(store, piece)
    sides = asymmetry(work.readings, TEMPLATES[work.design.template].part, work.scanned)
    return pattern_view(patterns.pattern_of(work), _changed_since(store, work), sides)


@router.get("/pieces/{piece}/cast")
def cast(store: StoreDep, piece: Id) -> list[s.CastOut]:
    work = builds.work_on(store, piece)
    return [cast_view(*shown) for shown in patterns.casts_of(work)]


@router.get("/pieces/{piece}/wrap")
def wrap(store: StoreDep, piece: Id) -> list[WrapTube]:
    return patterns.wrap_of(builds.work_on(store, piece))


@router.get("/pieces/{piece}/pages")
def pages(
    store: StoreDep, piece: Id, paper: PaperName = "A4", unit: Unit = "mm", scale: Scale = 1.0, fold: bool = False
) -> s.PagesOut:
    made = _to_draw(store, piece, fold)
    plans = []
    for panel in made.panels:
        plan = plan_pages(panel.flat.outline, paper, scale)
        tiles = [s.TileOut.model_validate(t) for t in plan.tiles]
        plans.append(
            s.PagePlanOut(
                code=panel.label.code,
                paper=list(plan.paper),
                tile=list(plan.tile),
                columns=plan.columns,
                rows=plan.rows,
                origin=list(plan.origin),
                tiles=tiles,
                outline=points(panel.flat.outline[::2]),
            )
        )
    folds = any(is_own_mirror(p.flat) for p in made.panels) or fold
    return s.PagesOut(pages=sum(len(p.tiles) for p in plans) + 1, plans=plans, square=TEST_SQUARE[unit], folds=folds)


@router.get("/pieces/{piece}/pattern.pdf", response_class=Response)
def pattern_pdf(
    store: StoreDep, piece: Id, paper: PaperName = "A4", unit: Unit = "mm", scale: Scale = 1.0, fold: bool = False
) -> Response:
    made = _to_draw(store, piece, fold)
    return download(write_pdf(made, paper, unit, scale), made.name, "pdf", "application/pdf")


@router.get("/pieces/{piece}/pattern.svg", response_class=Response)
def pattern_svg(store: StoreDep, piece: Id, fold: bool = False) -> Response:
    made = _to_draw(store, piece, fold)
    return download(write_svg(made), made.name, "svg", "image/svg+xml")


@router.get("/pieces/{piece}/pattern.dxf", response_class=Response)
def pattern_dxf(store: StoreDep, piece: Id, fold: bool = False) -> Response:
    made = _to_draw(store, piece, fold)
    return download(write_dxf(made), made.name, "dxf", "image/vnd.dxf")


@router.get("/pieces/{piece}/card.pdf", response_class=Response)
def card_pdf(store: StoreDep, piece: Id, paper: PaperName = "A4") -> Response:
    """All panels on one sheet at a reduced scale, to keep."""
    made = patterns.cutting_pattern(builds.work_on(store, piece))
    return download(write_card(made, paper), f"{made.name} card", "pdf", "application/pdf")


def _to_draw(store: Store, piece: int, fold: bool) -> PiecePattern:
    """fold: half of every panel that is its own mirror image, to be cut on the fold."""
    made = patterns.cutting_pattern(builds.work_on(store, piece))
    return on_the_fold(made) if fold else made


@router.get("/pieces/{piece}/pattern.json", response_class=JSONResponse)
def pattern_json(store: StoreDep, piece: Id) -> JSONResponse:
    return JSONResponse(pattern_data(patterns.cutting_pattern(builds.work_on(store, piece))))


@router.post("/scale-checks")
def scale_check(body: s.ScaleIn) -> s.ScaleOut:
    return s.ScaleOut.model_validate(check_scale(body.measured, body.unit))


@router.get("/pieces/{piece}/versions")
def versions(store: StoreDep, piece: Id) -> list[s.VersionOut]:
    return [
        s.VersionOut(
            number=v.number,
            name=v.name,
            kept_at=v.kept_at,
            foam=v.design["foam"],
            ease=v.design["ease"],
            ease_at=v.design["ease_at"],
        )
        for v in builds.list_versions(store, piece)
    ]


@router.post("/pieces/{piece}/versions", status_code=201)
def keep_version(store: StoreDep, piece: Id, body: s.VersionIn) -> list[s.VersionOut]:
    builds.keep_now(store, piece, body.name)
    return versions(store, piece)


@router.get("/pieces/{piece}/versions/{number}/overlay")
def overlay(
    store: StoreDep, piece: Id, number: Id, against: Annotated[int | None, Query(ge=1, le=2**62)] = None
) -> s.OverlayOut:
    """The kept version under the pattern as it is now, or under a later version."""
    old = builds.work_at_version(store, piece, number)
    new = builds.work_on(store, piece) if against is None else builds.work_at_version(store, piece, against)
    kept = next(v for v in builds.list_versions(store, piece) if v.number == number)
    return overlay_view(number, kept.name, patterns.pattern_of(old), patterns.pattern_of(new))
