"""Parts on sheets over HTTP: laid by a job, looked at, moved by hand, cut, taken away as files."""

from typing import Annotated, Literal

import shapely
from fastapi import Query, Response
from pydantic import Field

from vellumcut.api.body.schemas import JobOut
from vellumcut.api.deps import Id, StoreDep, routes
from vellumcut.api.files import download
from vellumcut.api.schemas import In, Out
from vellumcut.api.views import job_view
from vellumcut.core.design.foam import FoamKind
from vellumcut.core.nest.kept import KeptPlace
from vellumcut.core.nest.plans import Effort
from vellumcut.core.pattern.pages import PaperName
from vellumcut.formats.shop.sheet_files import write_sheet_dxf, write_sheet_svg
from vellumcut.formats.shop.sheet_plan import write_sheet_plan
from vellumcut.service.errors import NotFound
from vellumcut.service.jobs import job_of
from vellumcut.service.shop import layouts, splitting
from vellumcut.service.shop.layouts import Laid, Layout, Shown, ring_of
from vellumcut.service.shop.nests import SheetPlan, Tool

router = routes("nest")

Name = Annotated[str, Field(max_length=200)]
Ring = list[list[float]]


class PlacedOut(Out):
    """A part on a sheet. outline, holes: as it lies, mm from the sheet's corner, y up. widest: where the largest circle
    in it lies, and its radius."""

    key: str
    code: str
    piece: str
    turned: bool
    turn: float
    x: float
    y: float
    locked: bool
    outline: Ring
    holes: list[Ring]
    widest: list[float]


class NestSheetOut(Out):
    """rest: what one straight cut leaves, left, low, right, high. cuts: where straight cuts come first, mm. order: keys
    of its parts as the knife takes them. dense: share of what is used that becomes parts."""

    key: str
    outline: Ring
    offcut: bool
    owned: bool
    parts: list[PlacedOut]
    rest: list[float] | None
    cuts: list[float]
    order: list[str]
    dense: float


class LeftOut(Out):
    key: str
    code: str
    piece: str
    size: list[float]


class TroubleOut(Out):
    parts: list[str]
    words: str


class CutPartOut(Out):
    key: str
    code: str


class CutSheetOut(Out):
    """rest: width and height of what was left of it, mm."""

    sheet: str
    parts: list[CutPartOut]
    rest: list[float] | None


class MaterialOut(Out):
    """count: parts still to cut. whole: all of them. price: of a sheet. left: parts that have no place. large: parts
    that fit on no sheet."""

    key: str
    kind: FoamKind
    thickness: float
    count: int
    whole: int
    one_faced: bool
    price: float | None
    tool: Tool
    clearance: float
    laid: bool
    sheets: list[NestSheetOut]
    left: list[LeftOut]
    large: list[LeftOut]
    troubles: list[TroubleOut]
    to_buy: int
    cut: list[CutSheetOut]


class MissingOut(Out):
    piece: str
    why: str


class NestOut(Out):
    build: str
    materials: list[MaterialOut]
    missing: list[MissingOut]


class NestIn(In):
    """materials: which; none for all. seed: the same one gives the same plan."""

    materials: Annotated[tuple[Annotated[str, Field(max_length=40)], ...], Field(max_length=40)] = ()
    tool: Tool = "knife"
    effort: Effort = "usual"
    seed: Annotated[int, Field(ge=0, le=1_000_000, strict=True)] = 1


@router.get("/builds/{build}/nest")
def nest(store: StoreDep, build: Id) -> NestOut:
    """Every part of the costume on its sheet, as it was laid last."""
    return _view(layouts.layout_of(store, build))


@router.post("/builds/{build}/nest", status_code=202)
def lay(store: StoreDep, build: Id, body: NestIn) -> JobOut:
    """Lay the parts on sheets; the best so far is read under the job's number."""
    return job_view(layouts.start_nest(store, build, body.materials, body.tool, body.effort, body.seed))


@router.get("/nests/{job}")
def nest_so_far(job: Id) -> list[MaterialOut]:
    """The best plans of a job so far."""
    shown = job_of(job).shown
    if not isinstance(shown, Shown):
        raise NotFound("This job lays nothing on sheets, or not yet")
    return [_material(laid) for laid in list(shown.materials.values())]


@router.put("/builds/{build}/nest/{material}/part")
def move_part(store: StoreDep, build: Id, material: Name, body: KeptPlace) -> MaterialOut:
    """A part where the maker put it; locked, it stays there when the rest is laid anew."""
    layouts.move_part(store, build, material, body)
    return _material(layouts.layout_of(store, build).material(material))


class SplitOut(Out):
    """words: what was done."""

    words: str


@router.post("/builds/{build}/nest/{material}/split")
def split_part(store: StoreDep, build: Id, material: Name, part: Name) -> SplitOut:
    """A part that is larger than every sheet is split by a seam in its piece's design."""
    return SplitOut(words=splitting.split_part(store, build, material, part))


@router.post("/builds/{build}/nest/{material}/cut")
def cut_sheet(store: StoreDep, build: Id, material: Name, sheet: Name) -> NestOut:
    """A sheet is cut: it leaves the stock, and its rest is an offcut there."""
    layouts.cut_sheet(store, build, material, sheet)
    return _view(layouts.layout_of(store, build))


@router.post("/builds/{build}/nest/{material}/bought")
def buy_sheets(
    store: StoreDep, build: Id, material: Name, sheets: Annotated[int, Query(ge=1, le=40)] = 1
) -> MaterialOut:
    """Sheets to buy are there now, on the shelf, with the parts that lie on them."""
    layouts.buy_sheets(store, build, material, sheets)
    return _material(layouts.layout_of(store, build).material(material))


@router.get("/builds/{build}/nest/{material}/sheet", response_class=Response)
def sheet_file(
    store: StoreDep, build: Id, material: Name, sheet: Name, form: Literal["svg", "dxf"] = "svg"
) -> Response:
    """A sheet with all that is drawn on its parts, in true size."""
    layout = layouts.layout_of(store, build)
    own, parts = layouts.drawn_sheet(layout.material(material), sheet)
    name = f"{layout.build} {material} {sheet}"
    if form == "dxf":
        return download(write_sheet_dxf(own.sheet, parts), name, "dxf", "image/vnd.dxf")
    return download(write_sheet_svg(name, own.sheet, parts).encode(), name, "svg", "image/svg+xml")


@router.get("/builds/{build}/nest.pdf", response_class=Response)
def sheet_plan(store: StoreDep, build: Id, paper: PaperName = "A4") -> Response:
    """Every sheet reduced on paper, to hang up: what lies where, in the order of the knife."""
    layout = layouts.layout_of(store, build)
    shown = layouts.shown_sheets(layout)
    return download(write_sheet_plan(layout.build, shown, paper), f"{layout.build} sheets", "pdf", "application/pdf")


def _view(layout: Layout) -> NestOut:
    return NestOut(
        build=layout.build,
        materials=[_material(m) for m in layout.materials],
        missing=[MissingOut(piece=piece, why=why) for piece, why in layout.missing],
    )


def _material(laid: Laid) -> MaterialOut:
    material, plan = laid.material, laid.plan
    copies = {c.key: c for c in material.copies}

    def left(key: str) -> LeftOut:
        one = copies[key]
        a, b, c, d = one.form.shape.bounds
        return LeftOut(key=key, code=one.code, piece=one.piece, size=[c - a, d - b])

    return MaterialOut(
        key=material.key,
        kind=material.kind,
        thickness=material.thickness,
        count=len(material.copies),
        whole=laid.whole,
        one_faced=material.one_faced,
        price=material.price,
        tool=laid.tool,
        clearance=layouts.rules_of(laid.tool).clearance,
        laid=plan is not None,
        sheets=[_sheet(s, laid) for s in plan.sheets] if plan else [],
        left=[left(p.key) for p in plan.plan.left] if plan else [],
        large=[left(key) for key in layouts.large_parts(laid)],
        troubles=[TroubleOut(parts=list(t.parts), words=t.words) for t in plan.troubles] if plan else [],
        to_buy=plan.to_buy if plan else 0,
        cut=[CutSheetOut.model_validate(c) for c in laid.cut],
    )


def _sheet(own: SheetPlan, laid: Laid) -> NestSheetOut:
    copies = {c.key: c for c in laid.material.copies}
    return NestSheetOut(
        key=own.sheet.key,
        outline=ring_of(own.sheet.shape),
        offcut=own.sheet.offcut,
        owned=own.sheet.owned,
        parts=[
            PlacedOut(
                key=p.part.key,
                code=copies[p.part.key].code,
                piece=copies[p.part.key].piece,
                turned=copies[p.part.key].turned,
                turn=p.turn,
                x=p.x,
                y=p.y,
                locked=p.locked,
                outline=ring_of(p.shape),
                holes=[ring_of(shapely.Polygon(r)) for r in p.shape.interiors],
                widest=list(p.widest),
            )
            for p in own.placed
        ],
        rest=list(own.rest.bounds) if own.rest is not None else None,
        cuts=own.cuts,
        order=[p.part.key for p in own.order],
        dense=own.dense,
    )
