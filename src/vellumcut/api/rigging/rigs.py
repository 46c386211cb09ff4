"""Rigs: what holds each piece on, on the figure and as parts to cut."""

from fastapi.responses import Response

from vellumcut.api import schemas as s
from vellumcut.api.deps import Csv, Id, StoreDep, routes
from vellumcut.api.files import download
from vellumcut.api.rigging import schemas as r
from vellumcut.api.rigging.views import figure_view, movement_view, rig_view
from vellumcut.api.views import piece_view
from vellumcut.core.pattern.pages import PaperName
from vellumcut.core.worn.wear import packing, pouch_for, repairs_for
from vellumcut.formats.csv_table import write_csv
from vellumcut.formats.rigging.dressing_card import DRESSING_HEAD, dressing_rows, write_dressing_card
from vellumcut.formats.rigging.rig_sheet import PART_HEAD, part_rows, write_rig_sheet
from vellumcut.service.keeping import builds
from vellumcut.service.rigging import movements, rigging, rigs

router = routes("rigs")


@router.get("/pieces/{piece}/rig")
def rig(store: StoreDep, piece: Id) -> r.RigOut:
    """How a piece is held on: straps, anchors, loads, parts, and how it is put on."""
    return rig_view(rigs.rig_of(builds.work_on(store, piece)))


@router.put("/pieces/{piece}/anchors")
def move_anchor(store: StoreDep, piece: Id, body: r.AnchorIn) -> r.RigOut:
    """Set an anchor on another place of its piece, or put it back."""
    rigging.move_anchor(store, piece, body.name, body.side, body.at)
    return rig(store, piece)


@router.get("/pieces/{piece}/rig.csv", response_class=Csv)
def rig_csv(store: StoreDep, piece: Id) -> Csv:
    return Csv(write_csv(PART_HEAD, part_rows(rigs.plans_of(builds.work_on(store, piece)))))


@router.get("/builds/{build}/figure")
def figure(store: StoreDep, build: Id) -> r.FigureOut:
    """The costume on its wearer, to look at and to move."""
    return figure_view(rigs.costume_in(store, build))


@router.get("/builds/{build}/wear")
def wear(store: StoreDep, build: Id) -> r.WearOut:
    """Repairs, the pouch for them, and how the costume travels."""
    made = rigs.costume_in(store, build)
    return r.WearOut(
        repairs=[r.RepairOut.model_validate(x) for x in repairs_for(made.can_fail)],
        pouch=[r.CarryOut(thing=thing, why=list(why)) for thing, why in pouch_for(made.can_fail)],
        packing=packing(made.costume, made.straps),
    )


@router.get("/builds/{build}/packing.csv", response_class=Csv)
def packing_csv(store: StoreDep, build: Id) -> Csv:
    made = rigs.costume_in(store, build)
    rows: list[tuple[str, str, str]] = [
        ("piece", p.name, "; ".join((*p.apart, *p.care))) for p in packing(made.costume, made.straps)
    ]
    rows += [("pouch", thing, "; ".join(why)) for thing, why in pouch_for(made.can_fail)]
    return Csv(write_csv(("kind", "what", "how or why"), rows))


@router.get("/builds/{build}/movements/{joint}")
def movement(store: StoreDep, build: Id, joint: str) -> r.MovementOut:
    """What meets and what opens when one joint turns."""
    return movement_view(joint, *movements.movement_in(store, build, joint))


@router.post("/pieces/{piece}/trims")
def take_trim(store: StoreDep, piece: Id, body: r.TrimIn) -> s.PieceOut:
    """Move one edge of a piece, as ink."""
    movements.take_trim(store, piece, body.edge, body.mm)
    return piece_view(store, builds.get_piece(store, piece))


@router.get("/pieces/{piece}/rig.pdf", response_class=Response)
def rig_pdf(store: StoreDep, piece: Id, paper: PaperName = "A4") -> Response:
    work = builds.work_on(store, piece)
    return download(write_rig_sheet([rigs.rig_page(work)], paper), f"{work.name} rig", "pdf", "application/pdf")


@router.get("/builds/{build}/dressing.pdf", response_class=Response)
def dressing_pdf(store: StoreDep, build: Id, paper: PaperName = "A4") -> Response:
    """A card for the helper."""
    made = rigs.costume_in(store, build)
    return download(write_dressing_card(made.dressing, paper), "Dressing card", "pdf", "application/pdf")


@router.get("/builds/{build}/dressing.csv", response_class=Csv)
def dressing_csv(store: StoreDep, build: Id) -> Csv:
    return Csv(write_csv(DRESSING_HEAD, dressing_rows(rigs.costume_in(store, build).dressing)))
