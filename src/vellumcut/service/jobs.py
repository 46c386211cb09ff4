"""Work that takes more than a moment: a thread each, with a real fraction, and a word to stop."""

import itertools
import threading
import time
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any, Literal

from vellumcut.core.errors import CraftError
from vellumcut.service.errors import NotFound

State = Literal["running", "done", "failed", "cancelled"]
_KEPT, _KEPT_FILES = 50, 2
"""So many ended jobs are remembered, and of so many the file to take away, which may be large."""
MOST_AT_ONCE, MOST_WAITING = 2, 20
"""Each job holds meshes and files in memory and keeps a core busy: more at once would only make all of them slow."""


class Cancelled(Exception):
    """Raised inside a job when it was told to stop."""


@dataclass
class Job:
    """share: how much is done, 0 to 1. words: what it is doing, or why it failed. result: what it made. file: to take
    away. shown: what there is so far."""

    id: int
    title: str
    state: State = "running"
    share: float = 0.0
    words: str = ""
    result: Any = None
    file: bytes | None = None
    shown: Any = None
    _stop: threading.Event = field(default_factory=threading.Event, repr=False)

    def report(self, share: float, words: str) -> None:
        """Say how far it is. Raises Cancelled when it was told to stop."""
        if self._stop.is_set():
            raise Cancelled
        self.share, self.words = share, words

    def cancel(self) -> None:
        self._stop.set()


LOOKS_EVERY = 0.1
"""Seconds between two looks of one that waits, so that it can also be stopped."""
_jobs: dict[int, Job] = {}
_numbers = itertools.count(1)
_turns = threading.BoundedSemaphore(MOST_AT_ONCE)


def start_job(title: str, work: Callable[[Job], Any]) -> Job:
    """Run ``work`` in a thread when its turn comes; what it returns is the job's result. Raises CraftError when too
    many wait."""
    if sum(j.state == "running" for j in list(_jobs.values())) >= MOST_WAITING:
        raise CraftError(f"{MOST_WAITING} jobs are at work or wait already; stop some, or let them end")
    job = Job(next(_numbers), title)
    _jobs[job.id] = job
    for old in [n for n, j in _jobs.items() if j.state != "running"][:-_KEPT]:
        del _jobs[old]
    threading.Thread(target=_run, args=(job, work), daemon=True, name=f"job {job.id}").start()
    return job


def _run(job: Job, work: Callable[[Job], Any]) -> None:
    try:
        job.result = _in_turn(job, work)
        _forget_files()
        job.share, job.state = 1.0, "done"
    except Cancelled:
        job.state = "cancelled"
    except CraftError as error:
        job.words, job.state = error.message, "failed"
    except Exception as error:  # a job that dies must say so, whatever it died of
        job.words, job.state = f"It failed unexpectedly ({type(error).__name__})", "failed"


def _in_turn(job: Job, work: Callable[[Job], Any]) -> Any:
    while not _turns.acquire(blocking=False):
        job.report(0.0, "Waits for its turn")
        time.sleep(LOOKS_EVERY)
    try:
        job.report(0.0, "")
        return work(job)
    finally:
        _turns.release()


def _forget_files() -> None:
    for old in [j for j in list(_jobs.values()) if j.file is not None][:-_KEPT_FILES]:
        old.file = None


def job_of(number: int) -> Job:
    if number not in _jobs:
        raise NotFound(f"There is no job {number} here")
    return _jobs[number]
