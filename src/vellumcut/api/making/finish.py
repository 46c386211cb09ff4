"""Finish stacks, zones, masks; schools, paces and what is in the workshop."""

from pathlib import Path
from typing import Annotated, Literal

import numpy as np
from fastapi import Query, Request
from fastapi.responses import Response
from pydantic import Field

from vellumcut.api.deps import Id, StoreDep, routes, takes_file
from vellumcut.api.files import download
from vellumcut.api.making import schemas as m
from vellumcut.api.uploads import read_upload
from vellumcut.api.views import points
from vellumcut.core.design.finish import ZoneFinish
from vellumcut.core.finish.layers import LAYERS, coats_of
from vellumcut.core.finish.masks import cut_length, mask_sheet
from vellumcut.core.finish.recipes import RECIPES, WEATHERINGS, RecipeBook, scraps_to_prepare
from vellumcut.core.finish.rules import StackFinding
from vellumcut.core.finish.zones import PaintedZone
from vellumcut.core.make.owned import KIT, PROTECTION, Owned
from vellumcut.core.make.quantities import coating
from vellumcut.core.make.schools import SCHOOLS
from vellumcut.core.make.steps.details import DETAIL_STEPS
from vellumcut.core.paces import PACES, OwnPaces
from vellumcut.core.parts.motif import motif_length, motif_shape
from vellumcut.core.units import Length
from vellumcut.core.words import SEEN
from vellumcut.formats.making.finish_card import write_finish_card
from vellumcut.formats.making.masks import write_mask_dxf, write_mask_pdf, write_mask_svg
from vellumcut.formats.pattern.pattern_files import LARGEST_PATTERN, HowToRead, read_motif
from vellumcut.service.keeping import builds, settings
from vellumcut.service.making import finish, plans
from vellumcut.store.database import Store

router = routes("finish")


@router.get("/craft")
def craft(store: StoreDep) -> m.CraftOut:
    """Tables of making and finishing, with the maker's own recipes."""
    own = settings.read_recipes(store).stacks
    return m.CraftOut(
        schools=[m.SchoolOut(key=x.key, word=x.word, options=x.options) for x in SCHOOLS.values()],
        details=[m.DetailKindOut(key=k, steps=[x.kind for x in rows]) for k, rows in DETAIL_STEPS.items()],
        layers=[m.LayerKindOut.model_validate(x) for x in LAYERS.values()],
        recipes=[
            *(m.RecipeOut(key=r.key, what=r.what, rigid=r.rigid, giving=r.giving, own=False) for r in RECIPES),
            *(m.RecipeOut(key=x.name, what="Your own.", rigid=x, giving=x, own=True) for x in own),
        ],
        weatherings=[m.WeatheringOut.model_validate(w) for w in WEATHERINGS.values()],
        protection=list(PROTECTION),
        kit=list(KIT),
    )


@router.post("/motifs", openapi_extra=takes_file(LARGEST_PATTERN))
async def motif(
    store: StoreDep,
    request: Request,
    name: Annotated[str, Query(min_length=1, max_length=200), SEEN],
    wide: Annotated[Annotated[Length, Field(ge=5, le=1500)] | None, Query()] = None,
    unit: Literal["", "mm", "cm", "in", "pt", "px"] = "",
) -> m.MotifOut:
    """A drawing in SVG, DXF or PDF as closed lines that a stencil or a decal is cut by. wide: how wide it shall be.
    Nothing is kept."""

    def read(path: Path) -> m.MotifOut:
        rings = read_motif(path, name, HowToRead(unit, wide or 0.0))
        every = np.array([p for ring in rings for p in ring.points])
        across, high = every.max(axis=0)
        area = float(motif_shape(rings).area)
        return m.MotifOut(rings=list(rings), wide=across, high=high, area=area, length=motif_length(rings))

    return await read_upload(store, request, read)


@router.get("/pieces/{piece}/finish")
def get_finish(store: StoreDep, piece: Id) -> m.FinishOut:
    work = builds.work_on(store, piece)
    done = {k for k, x in plans.bench_of(store, piece).states.items() if x.done}
    view = finish.view_finish(work, plans.tempo_of(store), done)
    masks, own = mask_sheet(view.painted, view.job.facts.making, view.job.pattern.laid), work.design.making.finishes
    of = {z.name: n for n, p in enumerate(view.painted) for z in p.zones}
    return m.FinishOut(
        piece_id=piece,
        making=work.design.making,
        finishes=[_finish(p, found, own) for p, found in zip(view.painted, view.judged, strict=True)],
        zones=[
            m.ZoneOut(
                name=z.name,
                panel=z.panel,
                side=z.side,
                area=z.area,
                rings=[points(np.array(r.coords)[:-1], 1) for r in (z.shape.exterior, *z.shape.interiors)],
                finish=of[z.name],
                bends=view.bends.get(z.panel, ""),
            )
            for z in view.zones
        ],
        findings=view.findings,
        cards=scraps_to_prepare([p.finish.stack for p in view.painted]),
        masks=[f"{x.count} x {x.name}" for x in masks],
        mask_length=cut_length(masks),
    )


def _finish(painted: PaintedZone, found: list[StackFinding], own: tuple[ZoneFinish, ...]) -> m.FinishZoneOut:
    return m.FinishZoneOut(
        at=own.index(painted.finish) if painted.finish in own else -1,
        name=painted.finish.stack.name,
        stack=painted.finish.stack,
        zones=list(dict.fromkeys(z.name for z in painted.zones)),
        area=painted.area,
        mask=painted.mask,
        masked=painted.masked,
        by_hand=painted.by_hand,
        hand=painted.hand,
        bends=painted.bends,
        coats=[
            m.CoatOut(
                at=c.at,
                kind=c.kind.key,
                word=c.word,
                colour=c.colour,
                gloss=c.kind.gloss,
                coats=c.coats,
                recoat=c.recoat,
                settle=c.settle,
                tool=c.tool,
                ml=coating("", painted.area * c.faces, c.coats, c.kind.cover).amount if c.kind.cover < 1e6 else 0.0,
            )
            for c in coats_of(painted.finish.stack)
        ],
        findings=found,
    )


@router.get("/pieces/{piece}/masks.svg", response_class=Response)
def masks_svg(store: StoreDep, piece: Id) -> Response:
    work = builds.work_on(store, piece)
    made = write_mask_svg(finish.masks_of(work, plans.tempo_of(store)), f"{work.name}: masks")
    return download(made, f"{work.name} masks", "svg", "image/svg+xml")


@router.get("/pieces/{piece}/masks.dxf", response_class=Response)
def masks_dxf(store: StoreDep, piece: Id) -> Response:
    work = builds.work_on(store, piece)
    made = write_mask_dxf(finish.masks_of(work, plans.tempo_of(store)))
    return download(made, f"{work.name} masks", "dxf", "image/vnd.dxf")


@router.get("/pieces/{piece}/masks.pdf", response_class=Response)
def masks_pdf(store: StoreDep, piece: Id) -> Response:
    work, chosen = builds.work_on(store, piece), settings.read_settings(store)
    made = write_mask_pdf(finish.masks_of(work, plans.tempo_of(store)), work.name, chosen.paper, chosen.print_scale)
    return download(made, f"{work.name} masks", "pdf", "application/pdf")


@router.get("/pieces/{piece}/finish-card.pdf", response_class=Response)
def card(store: StoreDep, piece: Id) -> Response:
    work = builds.work_on(store, piece)
    view = finish.view_finish(work, plans.tempo_of(store))
    made = write_finish_card(work.name, view.painted, settings.read_settings(store).paper)
    return download(made, f"{work.name} finish", "pdf", "application/pdf")


@router.get("/owned")
def owned(store: StoreDep) -> Owned:
    return settings.read_owned(store)


@router.put("/owned")
def change_owned(store: StoreDep, body: Owned) -> Owned:
    return settings.write_owned(store, body)


@router.get("/paces")
def paces(store: StoreDep) -> list[m.PaceOut]:
    """Every class of work with its pace, and what timed steps have taught."""
    return _paces(store)


@router.put("/paces")
def change_paces(store: StoreDep, body: OwnPaces) -> list[m.PaceOut]:
    settings.write_paces(store, body)
    return _paces(store)


def _paces(store: Store) -> list[m.PaceOut]:
    tempo = plans.tempo_of(store)
    counts = plans.timed_counts(store)
    return [
        m.PaceOut(
            key=p.key,
            words=p.words,
            per=p.per,
            usual=p.usual,
            own=tempo.own.get(p.key),
            learned=tempo.learned.get(p.key),
            timed=counts.get(p.key, 0),
        )
        for p in PACES.values()
    ]


@router.get("/recipes")
def recipes(store: StoreDep) -> RecipeBook:
    """The maker's own recipes: the file to give to a friend."""
    return settings.read_recipes(store)


@router.put("/recipes")
def change_recipes(store: StoreDep, body: RecipeBook) -> RecipeBook:
    return settings.write_recipes(store, body)


@router.post("/recipes/bring-in")
def bring_in_recipes(store: StoreDep, body: RecipeBook) -> RecipeBook:
    """Take in a friend's recipes; where a name is taken, theirs is numbered."""
    return settings.add_recipes(store, body)
