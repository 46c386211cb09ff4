"""Safe-keeping: backups to take away and bring back, and the copies that are taken by themselves."""

import tempfile
import time
from pathlib import Path

from fastapi import Request
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import FileResponse
from starlette.background import BackgroundTask

from vellumcut.api.deps import StoreDep, routes, takes_file
from vellumcut.api.keeping.schemas import CopiesOut, CopyOut
from vellumcut.service.keeping import backups
from vellumcut.store.copies import list_copies
from vellumcut.store.files import SCRATCH

router = routes("keeping")


@router.get("/copies")
def copies(store: StoreDep) -> CopiesOut:
    """Copies taken by themselves, newest first, and where everything lies."""
    rows = [CopyOut.model_validate(c) for c in list_copies(store.folder)]
    return CopiesOut(folder=str(store.folder), copies=rows)


@router.post("/copies/{name}/restore", status_code=204)
def restore_copy(store: StoreDep, name: str) -> None:
    backups.restore_copy(store, name)


@router.get("/backup", response_class=FileResponse)
def backup(store: StoreDep) -> FileResponse:
    """Everything of every build in one archive."""
    folder = tempfile.TemporaryDirectory(prefix=SCRATCH, dir=store.folder)
    name = f"Vellumcut {time.strftime('%Y-%m-%d %H%M')}.zip"
    made = backups.write_backup(store.folder, Path(folder.name) / "backup.zip")
    return FileResponse(made, filename=name, media_type="application/zip", background=BackgroundTask(folder.cleanup))


@router.post(
    "/backup/restore",
    status_code=204,
    openapi_extra=takes_file(backups.LARGEST_BACKUP),
)
async def restore(store: StoreDep, request: Request) -> None:
    """Put a backup in the place of what is here; a damaged one changes nothing."""
    with tempfile.NamedTemporaryFile(prefix=SCRATCH, suffix=".zip", dir=store.folder) as file:
        async for block in request.stream():
            file.write(block)
        file.flush()
        await run_in_threadpool(backups.restore, store, Path(file.name))
