"""What every router needs: the open store."""

from typing import Annotated

from fastapi import Depends, Path, Request

from vellumcut.store.database import Store


def _store(request: Request) -> Store:
    store: Store = request.app.state.store
    return store


StoreDep = Annotated[Store, Depends(_store)]
Id = Annotated[int, Path(ge=1, le=2**62)]
