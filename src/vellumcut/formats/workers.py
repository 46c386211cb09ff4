"""Processes that read a stranger's file: each has a limit on time and memory, says how far it is, and leaves nothing
behind."""

import os
import queue
import re
import shutil
import subprocess
import sys
import tempfile
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path

import psutil

from vellumcut.core.errors import CraftError
from vellumcut.formats.limits import ENDED_BY_TIME, environment, limit

Report = Callable[[float, str], None]
BAD_INPUT = 2
LOOKS_EVERY = 0.1
"""Seconds between two looks at a worker that says nothing, so that it can be stopped all the same."""
_LEFT = re.compile(r"vellumcut-work-(\d+)-.*")


@dataclass(frozen=True)
class Bounds:
    """What reading a file may take. seconds: of computing. patience: seconds by the clock. memory: bytes."""

    seconds: int
    patience: int
    memory: int

    def hold(self) -> None:
        """Called by a worker before it reads anything."""
        limit(self.seconds, self.memory)


def say(share: float, words: str) -> None:
    """Called by a worker: how far it is."""
    print(f"{share:.3f} {words}", flush=True)


@contextmanager
def worked(
    module: str, bounds: Bounds, source: Path, told: str, what: str, report: Report = lambda share, words: None
) -> Iterator[Path]:
    """Run a worker on a file; its folder of results while they are read. what: the file, in a word. report: called
    several times a second; may raise to stop it. Raises CraftError in plain words.
    """
    with tempfile.TemporaryDirectory(prefix=f"vellumcut-work-{os.getpid()}-") as folder:
        command = [sys.executable, "-m", module, str(source), folder, told]
        pipes = {"stdout": subprocess.PIPE, "stderr": subprocess.PIPE, "encoding": "utf-8"}
        with subprocess.Popen(command, env=environment(), **pipes) as process:  # type: ignore[call-overload]
            try:
                errors = _heard(process, bounds.patience, report)
            except BaseException:
                process.kill()
                raise
        if errors is None:
            raise CraftError(
                f"The {what} was not read within {bounds.patience} s; try again, or send a simpler one", "file"
            )
        if process.returncode in ENDED_BY_TIME:
            raise CraftError(f"Reading the {what} takes over {bounds.seconds} s; send a smaller or simpler one", "file")
        if process.returncode != 0:
            last = errors.strip().splitlines()[-1:] if process.returncode == BAD_INPUT else []
            raise CraftError(last[0] if last else f"The {what} is too large or too broken to be read", "file")
        yield Path(folder)


def _heard(process: "subprocess.Popen[str]", patience: int, report: Report) -> str | None:
    """Pass on what a worker says till it ends; its errors, or None when it had to be ended."""
    said: queue.SimpleQueue[str | None] = queue.SimpleQueue()
    complaints: list[str] = []

    def listen() -> None:
        for line in process.stdout or ():
            said.put(line)
        said.put(None)

    threads = [
        threading.Thread(target=listen, daemon=True),
        threading.Thread(
            target=lambda: complaints.append(process.stderr.read() if process.stderr else ""), daemon=True
        ),
    ]
    for thread in threads:
        thread.start()
    share, words, last = 0.0, "", time.monotonic() + patience
    while time.monotonic() < last:
        try:
            line = said.get(timeout=LOOKS_EVERY)
        except queue.Empty:
            line = ""
        if line is None:
            process.wait()
            threads[1].join()
            return complaints[0]
        if line:
            told, _, words = line.strip().partition(" ")
            share = float(told)
        report(share, words)
    process.kill()
    return None


def clear_left() -> None:
    """Throw away the folders of workers whose program was killed."""
    for path in Path(tempfile.gettempdir()).glob("vellumcut-work-*"):
        owner = _LEFT.fullmatch(path.name)
        if owner and not psutil.pid_exists(int(owner[1])):
            shutil.rmtree(path, ignore_errors=True)
