"""Limits on time and memory of a process that reads a stranger's file, by what the system offers.

Where the system has hard limits (Linux, macOS) it ends the process itself; elsewhere the process watches itself, which
a single long call into a library can outlast by seconds: the program's own patience by the clock then ends it.
"""

import os
import signal
import threading
import time

import psutil

TIME_UP, MEMORY_UP = 97, 98
"""How a process that watches itself ends."""
ENDED_BY_TIME = (TIME_UP, *(-getattr(signal, name) for name in ("SIGXCPU", "SIGKILL") if hasattr(signal, name)))
"""Codes of a process that computed for too long."""
LOOKS_EVERY = 0.2


def limit(seconds: int, memory: int) -> None:
    """Called by a worker before it reads anything. seconds: of computing. memory: bytes."""
    try:
        import resource  # noqa: PLC0415  not on every system

        resource.setrlimit(resource.RLIMIT_CPU, (seconds, seconds))
        resource.setrlimit(resource.RLIMIT_AS, (memory, memory))
    except (ImportError, ValueError, OSError):
        threading.Thread(target=_watch, args=(seconds, memory), daemon=True).start()


def _watch(seconds: int, memory: int) -> None:
    own = psutil.Process()
    while True:
        if time.process_time() > seconds:
            os._exit(TIME_UP)
        if own.memory_info().rss > memory:
            os._exit(MEMORY_UP)
        time.sleep(LOOKS_EVERY)


def environment() -> dict[str, str]:
    """For a process of ours: what it says is UTF-8 on every system."""
    return {**os.environ, "PYTHONUTF8": "1"}
