"""Builds and pieces."""

from contextlib import suppress
from typing import Any

from fastapi import Request
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import JSONResponse, Response

from vellumcut.api import schemas as s
from vellumcut.api.body.schemas import CostumeIn, JobOut
from vellumcut.api.deps import Csv, Id, Seen, StoreDep, routes, takes_file
from vellumcut.api.views import build_view, piece_view
from vellumcut.formats.csv_table import write_csv
from vellumcut.formats.keeping.build_json import LARGEST_FILE, read_build, write_build
from vellumcut.formats.keeping.bundle import LARGEST_BUNDLE
from vellumcut.service.errors import NotFound
from vellumcut.service.keeping import builds, bundles
from vellumcut.store.database import Store
from vellumcut.store.models import Build

router = routes("builds")


def _one(store: Store, number: int) -> s.BuildOut:
    for build, wearer, pieces in builds.list_builds(store):
        if build.id == number:
            return build_view(store, build, wearer, pieces)
    raise NotFound(f"There is no build {number} here")


def _fields(body: s.BuildIn, without: set[str] | None = None) -> dict[str, Any]:
    fields = body.model_dump(exclude=without)
    return fields if body.schools is not None else {k: v for k, v in fields.items() if k != "schools"}


@router.get("/builds")
def list_builds(store: StoreDep) -> list[s.BuildOut]:
    there = []
    for row in builds.list_builds(store):
        with suppress(NotFound):  # taken away in another window, or by a backup that is brought back, meanwhile
            there.append(build_view(store, *row))
    return there


@router.post("/builds", status_code=201)
def add_build(store: StoreDep, body: s.BuildIn) -> s.BuildOut:
    return _one(store, builds.add_build(store, body.name, body.wearer_id, **_fields(body, {"name", "wearer_id"})).id)


@router.get("/builds/{build}")
def get_build(store: StoreDep, build: Id) -> s.BuildOut:
    return _one(store, build)


@router.put("/builds/{build}")
def change_build(store: StoreDep, build: Id, body: s.BuildIn, seen: Seen) -> s.BuildOut:
    builds.change_build(store, build, seen, **_fields(body))
    return _one(store, build)


@router.delete("/builds/{build}", status_code=204)
def remove_build(store: StoreDep, build: Id) -> None:
    builds.remove_build(store, build)


@router.post("/builds/{build}/pieces", status_code=201)
def add_piece(store: StoreDep, build: Id, body: s.PieceIn) -> s.PieceOut:
    return piece_view(store, builds.add_piece(store, build, body.name, body.design))


@router.post("/builds/{build}/costume", status_code=201)
def add_costume(store: StoreDep, build: Id, body: CostumeIn) -> s.BuildOut:
    """Lay a whole costume's pieces on the figure in one go; with no templates named, the usual ones."""
    builds.add_costume(store, build, body.templates or builds.STARTER)
    return _one(store, build)


@router.patch("/pieces/{piece}")
def change_piece(store: StoreDep, piece: Id, body: s.PieceChange, seen: Seen) -> s.PieceOut:
    return piece_view(store, builds.change_piece(store, piece, body.name, body.design, seen))


@router.delete("/pieces/{piece}", status_code=204)
def remove_piece(store: StoreDep, piece: Id) -> None:
    builds.remove_piece(store, piece)


@router.get("/builds/{build}/build.json", response_class=JSONResponse)
def export_build(store: StoreDep, build: Id) -> Response:
    return Response(write_build(builds.export_build(store, build)), media_type="application/json")


@router.post(
    "/builds/from-file",
    status_code=201,
    openapi_extra=takes_file(LARGEST_FILE, "application/json"),
)
async def import_build(store: StoreDep, request: Request) -> s.BroughtIn:
    """Bring in a build from a build file, and say what was here already."""
    content = b"".join([block async for block in request.stream()])
    return _brought(store, *await run_in_threadpool(lambda: bundles.bring_in_file(store, read_build(content))))


@router.post("/builds/{build}/bundle", status_code=202)
def pack_build(store: StoreDep, build: Id) -> JobOut:
    """Pack the build with its scans and everything drawn of it; the job's file is the bundle."""
    return JobOut.model_validate(bundles.pack_build(store, build))


@router.post(
    "/builds/from-bundle",
    status_code=201,
    openapi_extra=takes_file(LARGEST_BUNDLE),
)
async def import_bundle(store: StoreDep, request: Request) -> s.BroughtIn:
    """Bring in a build from a bundle, with its scans and history; all of it or nothing."""
    content = b"".join([block async for block in request.stream()])
    return _brought(store, *await run_in_threadpool(bundles.bring_in, store, content))


def _brought(store: Store, build: Build, told: list[str]) -> s.BroughtIn:
    return s.BroughtIn(**dict(_one(store, build.id)), told=told)


@router.get("/builds/{build}/pieces.csv", response_class=Csv)
def pieces_csv(store: StoreDep, build: Id) -> Csv:
    rows = [
        (
            p.name,
            p.design.solid.kind if p.design.solid else p.design.template,
            p.design.side,
            p.design.foam,
            p.design.closure,
            p.progress,
        )
        for p in _one(store, build).pieces
    ]
    return Csv(write_csv(("piece", "template", "side", "foam mm", "closure", "share done"), rows))
