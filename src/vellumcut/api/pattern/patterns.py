"""Patterns: the flat panels, the cast, pages to print and files to take away."""

from dataclasses import replace
from typing import Annotated

from fastapi import Query
from fastapi.responses import JSONResponse, Response

from vellumcut.api import schemas as s
from vellumcut.api.deps import Id, StoreDep, routes
from vellumcut.api.files import Scale, Unit, download
from vellumcut.api.pattern import schemas as q
from vellumcut.api.views import cast_view, pattern_view, points
from vellumcut.core.cast.halves import asymmetry
from vellumcut.core.cast.wrap import WrapTube
from vellumcut.core.ink.library.table import TEMPLATES
from vellumcut.core.pattern.fold import is_own_mirror, on_the_fold
from vellumcut.core.pattern.pages import TEST_SQUARE, PaperName, check_scale, plan_pages
from vellumcut.core.pattern.pattern import PiecePattern
from vellumcut.formats.pattern.card import write_card
from vellumcut.formats.pattern.pattern_json import pattern_data
from vellumcut.formats.pattern.pdf import ruler_pages, write_pdf
from vellumcut.formats.pattern.svg import write_svg
from vellumcut.service.keeping import builds
from vellumcut.service.pattern import patterns, versions
from vellumcut.store.database import Store

router = routes("patterns")

Version = Annotated[int | None, Query(ge=1, le=2**62)]
"""Number of a kept version; None for the pattern as it is now."""


@router.get("/pieces/{piece}/pattern")
def pattern(store: StoreDep, piece: Id, quick: bool = False) -> q.PatternOut:
    """quick: at once, on coarser meshes where a panel is hard and without what is laid on it; its answer then is not
    settled, and is asked for again."""
    work = builds.work_on(store, piece)
    sides = asymmetry(work.readings, TEMPLATES[work.design.template].part, work.scanned)
    made = patterns.quick_pattern(work) if quick else patterns.pattern_of(work)
    return pattern_view(made, versions.changed_since(store, work), sides)


@router.get("/pieces/{piece}/cast")
def cast(store: StoreDep, piece: Id) -> list[s.CastOut]:
    work = builds.work_on(store, piece)
    return [cast_view(shown) for shown in patterns.casts_of(work)]


@router.get("/pieces/{piece}/wrap")
def wrap(store: StoreDep, piece: Id) -> list[WrapTube]:
    return patterns.wrap_of(builds.work_on(store, piece))


@router.get("/pieces/{piece}/pages")
def pages(
    store: StoreDep, piece: Id, paper: PaperName = "A4", unit: Unit = "mm", scale: Scale = 1.0, fold: bool = False
) -> s.PagesOut:
    made = _to_draw(store, piece, fold, None)
    plans = []
    for panel in (p for p in made.to_cut if not p.by_measure):
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
    lists = len(ruler_pages(made, paper))
    return s.PagesOut(
        pages=sum(len(p.tiles) for p in plans) + 1 + lists, plans=plans, square=TEST_SQUARE[unit], folds=folds
    )


@router.get("/pieces/{piece}/pattern.pdf", response_class=Response)
def pattern_pdf(
    store: StoreDep,
    piece: Id,
    paper: PaperName = "A4",
    unit: Unit = "mm",
    scale: Scale = 1.0,
    fold: bool = False,
    version: Version = None,
) -> Response:
    made = _to_draw(store, piece, fold, version)
    return download(write_pdf(made, paper, unit, scale), made.name, "pdf", "application/pdf")


@router.get("/pieces/{piece}/pattern.svg", response_class=Response)
def pattern_svg(store: StoreDep, piece: Id, fold: bool = False, version: Version = None) -> Response:
    made = _to_draw(store, piece, fold, version)
    return download(write_svg(made), made.name, "svg", "image/svg+xml")


@router.get("/pieces/{piece}/pattern.dxf", response_class=Response)
def pattern_dxf(store: StoreDep, piece: Id, fold: bool = False, version: Version = None) -> Response:
    from vellumcut.formats.pattern.dxf import write_dxf  # noqa: PLC0415 - slow to load, and only wanted here

    made = _to_draw(store, piece, fold, version)
    return download(write_dxf(made), made.name, "dxf", "image/vnd.dxf")


@router.get("/pieces/{piece}/card.pdf", response_class=Response)
def card_pdf(store: StoreDep, piece: Id, paper: PaperName = "A4", version: Version = None) -> Response:
    """All panels on one sheet at a reduced scale, to keep."""
    made = _to_draw(store, piece, False, version)
    return download(write_card(made, paper), f"{made.name} card", "pdf", "application/pdf")


def _to_draw(store: Store, piece: int, fold: bool, version: int | None) -> PiecePattern:
    """fold: half of every panel that is its own mirror image, to be cut on the fold. version: as it was kept, or
    now."""
    made = patterns.cutting_pattern(versions.work_at(store, piece, version))
    if version is not None:
        made = replace(made, name=f"{made.name}, version {version}")
    return on_the_fold(made) if fold else made


@router.get("/pieces/{piece}/pattern.json", response_class=JSONResponse)
def pattern_json(store: StoreDep, piece: Id, version: Version = None) -> JSONResponse:
    return JSONResponse(pattern_data(_to_draw(store, piece, False, version)))


@router.post("/scale-checks")
def scale_check(body: s.ScaleIn) -> s.ScaleOut:
    return s.ScaleOut.model_validate(check_scale(body.measured, body.unit))
