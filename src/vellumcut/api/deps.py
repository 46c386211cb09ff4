"""What every router needs: the open store."""

from typing import Annotated

from fastapi import Depends, Path, Request
from fastapi.responses import PlainTextResponse

from vellumcut.store.database import Store


def _store(request: Request) -> Store:
    store: Store = request.app.state.store
    return store


class Csv(PlainTextResponse):
    """A list on its way to a spreadsheet."""

    media_type = "text/csv"


StoreDep = Annotated[Store, Depends(_store)]
Id = Annotated[int, Path(ge=1, le=2**62)]
