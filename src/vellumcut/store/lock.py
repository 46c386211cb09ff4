"""One program at a time uses a data folder."""

import os
from collections.abc import Callable
from pathlib import Path

from filelock import FileLock, Timeout

LOCK = "in-use.lock"


def take_lock(folder: Path) -> Callable[[], None]:
    """Hold a folder until what is given back is called. Raises BlockingIOError when another program holds it, OSError.

    Where the system can lock the folder itself, that is done: a lock in a file of its own would be gone with the file.
    Elsewhere (Windows) a file that is held open cannot be taken away, so a file in the folder keeps the same promise.
    """
    try:
        import fcntl  # noqa: PLC0415  not on every system
    except ImportError:
        return _lock_file(folder)
    handle = os.open(folder, os.O_RDONLY)
    try:
        fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        os.close(handle)
        raise
    return lambda: os.close(handle)


def _lock_file(folder: Path) -> Callable[[], None]:
    lock = FileLock(folder / LOCK)
    try:
        lock.acquire(timeout=0)
    except Timeout:
        raise BlockingIOError from None
    return lock.release
