"""Files that are sent to be read at once and are not kept."""

import tempfile
from collections.abc import Callable
from pathlib import Path
from typing import TypeVar

from fastapi import Request
from fastapi.concurrency import run_in_threadpool

from vellumcut.core.errors import CraftError
from vellumcut.formats.pattern.pattern_files import LARGEST_PATTERN
from vellumcut.store.database import Store
from vellumcut.store.files import SCRATCH

T = TypeVar("T")


async def read_upload(store: Store, request: Request, read: Callable[[Path], T]) -> T:
    """What is read from an upload, which is gone afterwards. Raises CraftError."""
    content = bytearray()
    async for block in request.stream():
        content += block
        if len(content) > LARGEST_PATTERN:
            raise CraftError(f"The file is larger than {LARGEST_PATTERN // 1_000_000} MB", "file")

    def work() -> T:
        with tempfile.NamedTemporaryFile(prefix=SCRATCH, dir=store.folder) as file:
            file.write(content)
            file.flush()
            return read(Path(file.name))

    return await run_in_threadpool(work)
