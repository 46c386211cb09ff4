"""Processes that read a stranger's file: each has a limit on time and memory, says how far it is, and leaves nothing
behind."""

import subprocess
import sys
import tempfile
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path

from vellumcut.core.errors import CraftError
from vellumcut.formats.limits import ENDED_BY_TIME, environment, limit

Report = Callable[[float, str], None]
MOST_SECONDS = 90
"""Of computing."""
PATIENCE = 240
"""Seconds by the clock."""
MOST_MEMORY = 6_000_000_000
BAD_INPUT = 2


def bounded() -> None:
    """Called by a worker before it reads anything."""
    limit(MOST_SECONDS, MOST_MEMORY)


def say(share: float, words: str) -> None:
    """Called by a worker: how far it is."""
    print(f"{share:.3f} {words}", flush=True)


@contextmanager
def worked(
    module: str, source: Path, told: str, what: str, report: Report = lambda share, words: None
) -> Iterator[Path]:
    """Run a worker on a file; its folder of results while they are read. what: the file, in a word. report: may raise
    to stop it. Raises CraftError in plain words.
    """
    with tempfile.TemporaryDirectory(prefix="vellumcut-work-") as folder:
        command = [sys.executable, "-m", module, str(source), folder, told]
        pipes = {"stdout": subprocess.PIPE, "stderr": subprocess.PIPE, "encoding": "utf-8"}
        with subprocess.Popen(command, env=environment(), **pipes) as process:  # type: ignore[call-overload]
            try:
                for line in process.stdout or ():
                    share, _, words = line.strip().partition(" ")
                    report(float(share), words)
                errors = process.stderr.read() if process.stderr else ""
                code = process.wait(PATIENCE)
            except BaseException:
                process.kill()
                raise
        if code in ENDED_BY_TIME:
            raise CraftError(f"Reading the {what} takes over {MOST_SECONDS} s; send a smaller or simpler one", "file")
        if code != 0:
            last = errors.strip().splitlines()[-1:] if code == BAD_INPUT else []
            raise CraftError(last[0] if last else f"The {what} is too large or too broken to be read", "file")
        yield Path(folder)
