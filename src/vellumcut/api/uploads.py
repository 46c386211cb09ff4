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


async def read_upload(
    store: Store, request: Request, read: Callable[[Path], T], largest: int = LARGEST_PATTERN, ending: str = ""
) -> T:
    """What is read from an upload, which is gone afterwards. largest: bytes. ending: of the file's name, where that
    says what it is. Raises CraftError."""
    with tempfile.NamedTemporaryFile(prefix=SCRATCH, suffix=ending, dir=store.folder) as file:
        size = 0
        async for block in request.stream():
            size += len(block)
            if size > largest:
                raise CraftError(f"The file is larger than {largest // 1_000_000} MB", "file")
            file.write(block)
        file.flush()
        return await run_in_threadpool(read, Path(file.name))
