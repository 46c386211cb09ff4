"""The cut list over HTTP."""

from typing import Annotated

from fastapi import Response
from pydantic import Field

from vellumcut.api.deps import Id, StoreDep, routes
from vellumcut.api.files import download
from vellumcut.api.schemas import Out
from vellumcut.core.design.foam import FoamKind
from vellumcut.core.pattern.pages import PaperName
from vellumcut.formats.shop.cut_list_card import write_cut_list_card
from vellumcut.formats.shop.cut_list_csv import write_cut_list
from vellumcut.service.keeping import builds
from vellumcut.service.making import plans
from vellumcut.service.shop import cut_lists

router = routes("cut list")


class CutRowOut(Out):
    """One outline. as_drawn, turned: how many from the pattern as it lies, and turned over. Lengths of one, mm; minutes
    of all."""

    code: str
    name: str
    side: str
    face: str
    kind: FoamKind
    thickness: float
    as_drawn: int
    turned: int
    count: int
    outline: float
    inner: float
    bevel: float
    groove: float
    area: float
    minutes: float
    size: str
    tool: str


class PieceCutsOut(Out):
    piece: int
    name: str
    rows: list[CutRowOut]
    trouble: str


class SheetSumOut(Out):
    """All from one kind of sheet. area: mm2, nothing for what falls away."""

    kind: FoamKind
    thickness: float
    parts: int
    area: float
    outline: float
    minutes: float
    blades: int


class CutListOut(Out):
    """lefts: what speaks for a second left part."""

    pieces: list[PieceCutsOut]
    sheets: list[SheetSumOut]
    lefts: Annotated[list[str], Field(max_length=2000)]


@router.get("/builds/{build}/cut-list")
def cut_list(store: StoreDep, build: Id) -> CutListOut:
    """Every outline that is cut for the costume, piece by piece."""
    return CutListOut.model_validate(_made(store, build))


@router.get("/builds/{build}/cut-list.csv", response_class=Response)
def cut_list_csv(store: StoreDep, build: Id) -> Response:
    return download(write_cut_list(_made(store, build).rows).encode(), "Cut list", "csv", "text/csv")


@router.get("/builds/{build}/cut-list.pdf", response_class=Response)
def cut_list_pdf(store: StoreDep, build: Id, paper: PaperName = "A4") -> Response:
    """The cut list to print and tick."""
    works = builds.works_on(store, build)
    made = cut_lists.cut_list(works, plans.tempo_of(store))
    card = write_cut_list_card(works[0].build if works else "Costume", made.rows, made.sheets, paper)
    return download(card, "Cut list", "pdf", "application/pdf")


def _made(store: StoreDep, build: Id) -> cut_lists.CutList:
    return cut_lists.cut_list(builds.works_on(store, build), plans.tempo_of(store))
