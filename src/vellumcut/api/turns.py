"""What each request works for: told by the page, and dropped when the page has gone on."""

import asyncio
from collections.abc import Awaitable, Callable

from starlette.types import ASGIApp, Message, Receive, Scope, Send

from vellumcut.service.turns import ASKED, Asked, Gone

AFTER = (b"x-turn", b"after")
"""The header of a question that can wait for what the maker looks at."""
CLOSED_REQUEST = 499


class Turns:
    """ASGI middleware: while a question is worked on, its page is watched; one that has gone on is not worked for."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http" or scope["method"] != "GET":
            await self.app(scope, receive, send)
            return
        asked = Asked(after=AFTER in scope["headers"])
        ASKED.set(asked)
        messages: asyncio.Queue[Message] = asyncio.Queue()
        watch = asyncio.create_task(_watch(receive, messages.put, asked))
        try:
            await self.app(scope, messages.get, send)
        except Gone:
            await send({"type": "http.response.start", "status": CLOSED_REQUEST, "headers": []})
            await send({"type": "http.response.body", "body": b""})
        finally:
            watch.cancel()


async def _watch(receive: Receive, put: Callable[[Message], Awaitable[None]], asked: Asked) -> None:
    while True:
        message = await receive()
        if message["type"] == "http.disconnect":
            asked.gone.set()
        await put(message)
        if asked.gone.is_set():
            return
