"""Scans: brought in, turned upright, and fitted."""

from typing import Annotated

import numpy as np
from fastapi import Query, Request
from fastapi.responses import Response

from vellumcut.api.body import schemas as b
from vellumcut.api.deps import Id, StoreDep, routes, takes_file
from vellumcut.api.files import download
from vellumcut.api.views import job_view, points
from vellumcut.core.body.measures import ScanReading
from vellumcut.core.cast.picture import picture_mesh, picture_tube
from vellumcut.core.cast.scanned.mesh import BodyMesh, Stance
from vellumcut.core.cast.scanned.scan import ScanFit
from vellumcut.core.cast.stations import question_tube
from vellumcut.core.words import SEEN
from vellumcut.formats.body.mesh_files import LARGEST_SCAN
from vellumcut.service.body import scanner, scans
from vellumcut.service.errors import NotFound
from vellumcut.service.jobs import job_of
from vellumcut.standins.body_scanner import SHAPES
from vellumcut.store.models import Scan

router = routes("scans")

MOST_DRAWN = 60_000
"""Triangles sent to be drawn; more make a screen slow and show no more."""


def _view(scan: Scan) -> b.ScanOut:
    return b.ScanOut(
        id=scan.id, wearer_id=scan.wearer_id, name=scan.name, file=scan.file, taken_at=scan.taken_at,
        triangles=scan.triangles, warnings=scans.said_of(scan), **scan.stance,
    )  # fmt: skip


@router.get("/wearers/{wearer}/scans")
def list_scans(store: StoreDep, wearer: Id) -> list[b.ScanOut]:
    return [_view(s) for s in scans.list_scans(store, wearer)]


@router.post(
    "/wearers/{wearer}/scans",
    status_code=201,
    openapi_extra=takes_file(LARGEST_SCAN),
)
async def bring_in(
    store: StoreDep, wearer: Id, request: Request, name: Annotated[str, Query(min_length=1, max_length=200), SEEN]
) -> b.ScanOut:
    """Bring in an OBJ, STL, PLY or GLB file, sent as the body of the request; its name tells its kind."""
    return _view(await scans.receive(store, wearer, name, request.stream()))


@router.get("/scanner/bodies")
def scanner_bodies() -> list[str]:
    """The made-up bodies that the simulated scanner can see."""
    return list(SHAPES)


@router.post("/wearers/{wearer}/scanner", status_code=202)
def run_scanner(store: StoreDep, wearer: Id, body: b.ScannerIn) -> b.JobOut:
    """Scan a made-up body with the simulated scanner; the job's result is the scan's number."""
    return job_view(scanner.scan_made_up_body(store, wearer, body.shape, body.seed))


@router.get("/jobs/{job}")
def get_job(job: Id) -> b.JobOut:
    return job_view(job_of(job))


@router.get("/jobs/{job}/file", response_class=Response)
def job_file(job: Id) -> Response:
    """What a job made to take away, once it is done."""
    made = job_of(job)
    if made.file is None:
        raise NotFound("This job has made no file")
    return download(made.file, made.title, "vellumcut.zip", "application/zip")


@router.delete("/jobs/{job}", status_code=202)
def cancel_job(job: Id) -> b.JobOut:
    found = job_of(job)
    found.cancel()
    return job_view(found)


@router.put("/scans/{scan}/stance")
def set_stance(store: StoreDep, scan: Id, body: b.StanceIn) -> b.ScanOut:
    return _view(scans.set_stance(store, scan, Stance(**body.model_dump())))


@router.delete("/scans/{scan}", status_code=204)
def remove_scan(store: StoreDep, scan: Id) -> None:
    scans.remove_scan(store, scan)


@router.get("/scans/{scan}/mesh")
def scan_mesh(store: StoreDep, scan: Id) -> b.ScanMeshOut:
    mesh = scans.mesh_of(store, scans.get_scan(store, scan))
    drawn = _thinned(mesh)
    return b.ScanMeshOut(
        positions=points(drawn.vertices.ravel(), 1),
        triangles=drawn.faces.ravel().tolist(),
        height=mesh.height,
        size=points(np.ptp(mesh.vertices, axis=0), 1),
    )


def _thinned(mesh: BodyMesh) -> BodyMesh:
    """Corners joined on a growing grid until few enough triangles are left to draw."""
    cell = 4.0
    while len(mesh.faces) > MOST_DRAWN:
        key = np.floor(mesh.vertices / cell).astype(np.int64) @ np.array([1 << 42, 1 << 21, 1])
        _, first, same = np.unique(key, return_index=True, return_inverse=True)
        faces = same.ravel()[mesh.faces]
        kept = (faces[:, 0] != faces[:, 1]) & (faces[:, 1] != faces[:, 2]) & (faces[:, 2] != faces[:, 0])
        mesh = BodyMesh(mesh.vertices[first], faces[kept])
        cell *= 1.4
    return mesh


@router.post("/scans/{scan}/ends")
def propose(store: StoreDep, scan: Id, body: b.EndsIn) -> b.EndsOut:
    """Where a segment probably begins and ends, in the scan's upright mm."""
    found = scans.ends_of(store, scans.get_scan(store, scan), body.segment, body.side)
    return b.EndsOut(low=list(found.low), high=list(found.high), front=list(found.front), how=found.how)


@router.post("/scans/{scan}/middle")
def middle(store: StoreDep, scan: Id, body: b.TouchIn) -> b.MiddleOut:
    """The middle of the limb where its skin was touched, for an end point."""
    found = scans.middle_of(store, scans.get_scan(store, scan), np.array(body.at), np.array(body.way))
    return b.MiddleOut(at=points(found, 1))


@router.post("/scans/fit")
def fit(store: StoreDep, body: ScanReading) -> b.TubeFitOut:
    """Fit the tube that a reading describes, without keeping it; with how far it lies from the scan."""
    return _fit_view(body, scans.fit_reading(scans.scans_folder(store), body))


def _fit_view(reading: ScanReading, made: ScanFit) -> b.TubeFitOut:
    tube, back = made.tube, made.place.to_scan
    picture = picture_tube(tube)
    _, mesh, faces = picture_mesh(picture, tube)
    ring = np.linspace(0, 1, 73)
    few = made.residual.places[:: max(1, len(made.residual.places) // 4000)]
    miss = made.residual.miss[:: max(1, len(made.residual.miss) // 4000)]
    tape = tube.tape_girth(np.arange(len(tube.names), dtype=float))
    names = zip(tube.names, tube.at, tube.station_girths, tape, strict=True)
    return b.TubeFitOut(
        stations=[b.FitMeasureOut(station=n, at=at, girth=g, tape=float(t)) for n, at, g, t in names],
        verdict=made.verdict,
        mean=made.residual.mean,
        p95=made.residual.p95,
        worst=made.residual.worst,
        warnings=list(made.warnings),
        questions=question_tube(reading, tube),
        positions=points(back(mesh).ravel(), 1),
        triangles=(faces[:, ::-1] if made.place.mirrored else faces).ravel().tolist(),
        rings=[
            points(back(tube.uv_to_xyz(np.stack([ring, np.full(73, float(k))], axis=1))), 1)
            for k in range(len(tube.names))
        ],
        places=points(back(few).ravel(), 1),
        miss=points(miss, 3),
    )
