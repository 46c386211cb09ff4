"""Reference pictures under the ink."""

from typing import Annotated

from fastapi import Query, Request
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import FileResponse

from vellumcut.api.body import schemas as b
from vellumcut.api.deps import Id, StoreDep, routes, takes_file
from vellumcut.core.words import SEEN
from vellumcut.service.pattern import pictures
from vellumcut.store.models import ReferencePicture

router = routes("pictures")


def _view(row: ReferencePicture) -> b.PictureOut:
    return b.PictureOut(
        id=row.id, piece_id=row.piece_id, name=row.name, size=row.size, placing=b.PicturePlacing(**row.placing)
    )


@router.get("/pieces/{piece}/picture")
def get_picture(store: StoreDep, piece: Id) -> b.PictureOut | None:
    row = pictures.picture_of(store, piece)
    return _view(row) if row else None


@router.post(
    "/pieces/{piece}/picture",
    status_code=201,
    openapi_extra=takes_file(pictures.LARGEST_PICTURE),
)
async def lay_picture(
    store: StoreDep, piece: Id, request: Request, name: Annotated[str, Query(min_length=1, max_length=200), SEEN]
) -> b.PictureOut:
    content = await pictures.read_upload(request.stream())
    return _view(await run_in_threadpool(pictures.keep_picture, store, piece, name, content))


@router.put("/pictures/{picture}")
def place_picture(store: StoreDep, picture: Id, body: b.PicturePlacing) -> b.PictureOut:
    return _view(pictures.place_picture(store, picture, body.model_dump()))


@router.delete("/pictures/{picture}", status_code=204)
def remove_picture(store: StoreDep, picture: Id) -> None:
    pictures.remove_picture(store, picture)


@router.get("/pictures/{picture}/file", response_class=FileResponse)
def picture_file(store: StoreDep, picture: Id) -> FileResponse:
    return FileResponse(pictures.picture_file(store, picture), media_type="image/jpeg")
