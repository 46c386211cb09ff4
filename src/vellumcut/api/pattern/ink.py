"""The ink screen's resources: the unrolled cast, strokes as they are read, and files of them."""

from typing import Annotated, Literal

import numpy as np
from fastapi import Query
from fastapi.responses import Response

from vellumcut.api.body import schemas as b
from vellumcut.api.deps import Id, StoreDep, routes
from vellumcut.api.files import download
from vellumcut.api.views import points
from vellumcut.core.body.segments import BodyPart, Side
from vellumcut.core.body.tube import TubeSurface
from vellumcut.core.cast.body_form import plan_padding
from vellumcut.core.cast.picture import picture_mesh, picture_tube
from vellumcut.core.design.sheet import InkSheet
from vellumcut.core.ink.library.table import TEMPLATES
from vellumcut.formats.body.mesh_files import MeshFormat, write_mesh
from vellumcut.formats.body.shapes import Shape
from vellumcut.formats.pattern.sheet_svg import write_sheet
from vellumcut.service.keeping import builds
from vellumcut.service.pattern import ink

router = routes("ink")


@router.get("/pieces/{piece}/sheet")
def sheet(store: StoreDep, piece: Id) -> b.CastSheetOut:
    work = builds.work_on(store, piece)
    return _sheet_view(ink.tube_of(work), TEMPLATES[work.design.template].part, ink.drawn_side(work))


@router.get("/measurement-sets/{number}/body")
def body(store: StoreDep, number: Id, part: BodyPart, side: Side = "left") -> b.CastSheetOut:
    """One part of the body as a set of measures gives it, what is missing filled in by proportion."""
    return _sheet_view(ink.tube_of_set(store, number, part, side), part, side)


def _sheet_view(tube: TubeSurface, part: BodyPart, side: Side) -> b.CastSheetOut:
    picture = picture_tube(tube)
    places, mesh, faces = picture_mesh(picture, tube)
    grid = picture.points.size // 3
    names = zip(tube.names, tube.at, tube.station_girths, strict=True)
    return b.CastSheetOut(
        part=part,
        side=side,
        levels=points(picture.levels),
        along=points(picture.along, 5),
        girths=points(picture.girths),
        around=points(picture.around, 5),
        points=points(mesh.ravel()),
        normals=points(picture.normals.ravel(), 4),
        triangles=faces.ravel().tolist(),
        rim=points(places[grid:], 4),
        stations=[b.SheetStation(name=n, mm=mm, girth=g) for n, mm, g in names],
        columns=[b.SheetColumn(name=n, points=points(c, 4)) for n, c in picture.columns.items()],
        holes=[points(h, 4) for h in picture.holes],
        reach=points(tube.along(np.array(tube.reach)), 4),
    )


def _ink_view(view: ink.InkView, own: bool) -> b.InkOut:
    positions, triangles = view.foam
    return b.InkOut(
        sheet=view.sheet,
        own=own,
        regions=[
            b.RegionOut(number=r.number, ring=points(r.ring, 4), area=r.area, inside=list(r.inside), twin=r.twin)
            for r in view.reading.regions
        ],
        problems=[
            b.InkProblemOut(kind=p.kind, message=p.message, at=list(p.at), strokes=list(p.strokes))
            for p in view.reading.problems
        ],
        foam_positions=points(positions.ravel(), 1),
        foam_triangles=triangles.ravel().tolist(),
    )


@router.get("/pieces/{piece}/ink")
def read_ink(store: StoreDep, piece: Id) -> b.InkOut:
    work = builds.work_on(store, piece)
    return _ink_view(ink.view_ink(work), work.design.ink is not None)


@router.post("/pieces/{piece}/ink/try")
def try_ink(store: StoreDep, piece: Id, body: InkSheet) -> b.InkOut:
    """Read strokes without keeping them: what they enclose while they are being drawn."""
    return _ink_view(ink.view_ink(builds.work_on(store, piece), body), True)


@router.get("/pieces/{piece}/sheet.svg", response_class=Response)
def sheet_svg(store: StoreDep, piece: Id) -> Response:
    work = builds.work_on(store, piece)
    view = ink.view_ink(work)
    return download(
        write_sheet(ink.tube_of(work), view.sheet, view.reading, work.name),
        f"{work.name} sheet",
        "svg",
        "image/svg+xml",
    )


_MEDIA: dict[MeshFormat, str] = {
    "obj": "model/obj",
    "stl": "model/stl",
    "ply": "application/octet-stream",
    "glb": "model/gltf-binary",
}


@router.get("/pieces/{piece}/shape.{kind}", response_class=Response)
def shape(
    store: StoreDep,
    piece: Id,
    kind: Literal["obj", "stl", "ply", "glb"],
    what: Annotated[Shape, Query()] = "armour",
) -> Response:
    """The body's tube, the armour over it or its ink as a mesh, in mm (GLB in metres, y up)."""
    work = builds.work_on(store, piece)
    return download(write_mesh(*ink.shape_of(work, what), kind), f"{work.name} {what}", kind, _MEDIA[kind])


@router.post("/pieces/{piece}/padding")
def padding(store: StoreDep, piece: Id, body: b.FormIn) -> b.PaddingPlanOut:
    """How a dress form, or a tape double's core, is padded to the wearer at this piece's stations."""
    work = builds.work_on(store, piece)
    return b.PaddingPlanOut.model_validate(plan_padding(ink.tube_of(work), body.girths, work.design.base_layer))
