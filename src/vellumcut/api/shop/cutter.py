"""The simulated cutter over HTTP: its setup, the program of a sheet, what it does with it and what it cut."""

from typing import Annotated

from fastapi import Query, Response

from vellumcut.api.deps import Id, StoreDep, routes
from vellumcut.api.files import download
from vellumcut.api.schemas import Out
from vellumcut.api.shop.nest import Name
from vellumcut.core.knife.held import ALLOWED
from vellumcut.core.knife.setup import CutterSetup
from vellumcut.service.keeping import settings
from vellumcut.service.shop import cutting

router = routes("cutter")


class HeldOut(Out):
    """worst: mm off its pattern; None where it was not cut free."""

    key: str
    code: str
    piece: str
    worst: float | None
    right: bool


class RemarkOut(Out):
    """at: s from which the machine's display says it."""

    at: float
    words: str


class PlayedOut(Out):
    """events: s, x, y and what was done on the way there: -1 tool up, 0 drawn, else mm cut. remarks: of the
    program, on its display. over_cut: mm the blade runs past a corner. left_by_hand: corners at which it
    cannot. tabs: small parts that are held by them. allowed: mm a part may be off."""

    size: list[float]
    thickness: float
    seconds: float
    stopped: bool
    events: list[list[float]]
    remarks: list[RemarkOut]
    parts: list[HeldOut]
    corners: int
    over_cut: float
    left_by_hand: int
    tabs: int
    allowed: float


@router.get("/cutter")
def read_cutter(store: StoreDep) -> CutterSetup:
    return settings.read_cutter(store)


@router.put("/cutter")
def write_cutter(store: StoreDep, body: CutterSetup) -> CutterSetup:
    return settings.write_cutter(store, body)


@router.get("/builds/{build}/nest/{material}/knife", response_class=Response)
def knife_code(store: StoreDep, build: Id, material: Name, sheet: Name) -> Response:
    """The program of a sheet, as the simulated cutter reads it."""
    made = cutting.program_for(store, build, material, sheet)
    return download(made.code.encode(), f"{material} {sheet}", "knife.txt", "text/plain")


@router.get("/builds/{build}/nest/{material}/play")
def play(
    store: StoreDep,
    build: Id,
    material: Name,
    sheet: Name,
    dry: bool = False,
    until: Annotated[float | None, Query(ge=0, le=1e6, allow_inf_nan=False)] = None,
) -> PlayedOut:
    """What the machine does with a sheet; until: s after which it was stopped."""
    return _view(cutting.play(cutting.program_for(store, build, material, sheet), dry, until))


def _view(played: cutting.Played) -> PlayedOut:
    made, machine = played.made, played.machine
    program = made.program
    held = []
    for part in played.parts:
        code, _, piece = made.names[part.key].partition(", ")
        held.append(HeldOut(key=part.key, code=code, piece=piece, worst=part.worst, right=part.right))
    return PlayedOut(
        size=list(program.size),
        thickness=program.thickness,
        seconds=machine.clock,
        stopped=played.stopped,
        events=[list(e) for e in machine.events],
        remarks=[RemarkOut(at=at, words=words) for at, words in machine.remarks],
        parts=held,
        corners=len(program.corners),
        over_cut=program.setup.over_cut(program.thickness),
        left_by_hand=sum(c.short for c in program.corners),
        tabs=len(program.tabs),
        allowed=ALLOWED,
    )
