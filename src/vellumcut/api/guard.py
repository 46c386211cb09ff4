"""The machine's safety: only this machine's own pages may talk to the server, and nothing is too large."""

import errno
import json
import logging
import re
from collections.abc import Callable
from pathlib import Path

from starlette.types import ASGIApp, Message, Receive, Scope, Send

from vellumcut.store.database import StoreError
from vellumcut.store.journal import current_tab

log = logging.getLogger("vellumcut")

LARGEST_BODY = 5_000_000
"""Bytes of a request whose route takes no file."""
LOCAL_HOST = re.compile(r"(127\.0\.0\.1|localhost|\[::1\])(:[0-9]{1,5})?")
HEADERS = (
    (
        b"content-security-policy",
        b"default-src 'self'; script-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data: blob:; "
        b"font-src 'self' data:; connect-src 'self'; object-src 'none'; "
        b"base-uri 'none'; frame-ancestors 'none'; form-action 'self'",
    ),
    (b"x-content-type-options", b"nosniff"),
    (b"referrer-policy", b"no-referrer"),
)


class _TooLarge(Exception):
    pass


class Guard:
    """ASGI middleware: Host and Origin must be local, bodies bounded, answers carry the safety headers.

    largest: bytes that a route takes, by its method and path.
    """

    def __init__(self, app: ASGIApp, largest: Callable[[str, str], int]) -> None:
        self.app, self._largest = app, largest

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        headers = {k.decode("latin-1"): v.decode("latin-1") for k, v in scope["headers"]}
        limit = self._largest(scope["method"], scope["path"])
        if refusal := _refuse(scope["method"], scope["path"], headers, limit):
            await _answer(send, *refusal)
            return
        current_tab.set(headers.get("x-tab", "")[:40])
        answer = _Answer(send)
        try:
            await self.app(scope, _bounded(receive, limit), answer)
        except Exception as error:
            if answer.begun:
                raise
            await _answer(send, *_in_words(error, limit, f"{scope['method']} {scope['path']}"))


def _in_words(error: Exception, limit: int, what: str) -> tuple[int, str]:
    """Status and sentence for what nobody below has answered."""
    if isinstance(error, _TooLarge):
        return 413, _too_large(limit)
    if isinstance(error, StoreError):
        return 507, str(error)
    if isinstance(error, OSError) and error.errno in (errno.ENOSPC, errno.EDQUOT):
        return 507, "The disk is full: nothing was changed. Make room and do it again"
    if isinstance(error, FileNotFoundError) and error.filename and not Path(error.filename).parent.is_dir():
        return 507, f"{Path(error.filename).parent} was moved or deleted while Vellumcut runs. Put it back"
    log.exception("%s failed", what, exc_info=error)
    return 500, "Vellumcut made a mistake; nothing was changed. The log has the details"


def _too_large(limit: int) -> str:
    return f"The request is larger than {limit // 1_000_000} MB"


def _refuse(method: str, path: str, headers: dict[str, str], limit: int) -> tuple[int, str] | None:
    host = headers.get("host", "")
    if not LOCAL_HOST.fullmatch(host):
        return 403, "Vellumcut answers only on this machine, under 127.0.0.1 or localhost"
    origin = headers.get("origin")
    if origin and origin != f"http://{host}" and method not in ("GET", "HEAD"):
        return 403, "Another page may not change things here"
    # A browser tells where a request comes from even where it sends no origin; what a link leads to is a page of ours.
    if headers.get("sec-fetch-site") in ("cross-site", "same-site") and path.startswith("/api/"):
        return 403, "Another page may not read or change what is here"
    length = headers.get("content-length", "0")
    if not length.isdigit() or int(length) > limit:
        return 413, _too_large(limit)
    return None


def _bounded(receive: Receive, limit: int) -> Receive:
    taken = 0

    async def read() -> Message:
        nonlocal taken
        message = await receive()
        taken += len(message.get("body", b""))
        if taken > limit:
            raise _TooLarge
        return message

    return read


class _Answer:
    """Sends on, with the safety headers, and knows whether an answer has begun."""

    def __init__(self, send: Send) -> None:
        self._send = send
        self.begun = False

    async def __call__(self, message: Message) -> None:
        if message["type"] == "http.response.start":
            self.begun = True
            message["headers"] = [*message["headers"], *HEADERS]
        await self._send(message)


async def _answer(send: Send, status: int, detail: str) -> None:
    body = json.dumps(
        {"type": "about:blank", "title": "Refused", "status": status, "detail": detail, "fields": [], "questions": []}
    )
    head = [(b"content-type", b"application/problem+json"), (b"connection", b"close"), *HEADERS]
    await send({"type": "http.response.start", "status": status, "headers": head})
    await send({"type": "http.response.body", "body": body.encode()})
