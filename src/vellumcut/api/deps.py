"""What every router needs: its place in the program, and the open store."""

from typing import Annotated, Any

from fastapi import APIRouter, Depends, Header, Path, Request
from fastapi.responses import PlainTextResponse

from vellumcut.api.problems import ANSWERS
from vellumcut.store.database import Store


def routes(tag: str) -> APIRouter:
    """Routes that are complete as they are declared: the program takes them over without building them once more."""
    return APIRouter(prefix="/api", tags=[tag], responses=ANSWERS)


def _store(request: Request) -> Store:
    store: Store = request.app.state.store
    return store


class Csv(PlainTextResponse):
    """A list on its way to a spreadsheet."""

    media_type = "text/csv"


def _seen(if_match: Annotated[str | None, Header(max_length=100)] = None) -> str | None:
    return None if if_match is None or if_match == "*" else if_match.removeprefix("W/").strip('"')


Seen = Annotated[str | None, Depends(_seen)]
"""The tag of what a change began from (If-Match); the answers carry it as ``tag``."""
StoreDep = Annotated[Store, Depends(_store)]
Id = Annotated[int, Path(ge=1, le=2**62)]


LARGEST = "x-largest"
"""What a route says of the largest body that it takes, bytes."""


def takes_file(most: int, kind: str = "application/octet-stream") -> dict[str, Any]:
    """What the schema says of a route that reads its whole body as one file. most: bytes."""
    shape = {"type": "object", "title": "A build file"} if "json" in kind else {"type": "string", "format": "binary"}
    return {"requestBody": {"required": True, "content": {kind: {"schema": shape}}}, LARGEST: most}
