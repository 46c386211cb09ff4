"""This process once more: what it has loaded need not be loaded again.

Only Linux copies a process with numerical libraries in it safely, and only while it has one thread: locks that another
thread holds would never be let go of in the copy.
"""

import os
import signal
import sys
import threading
from collections.abc import Callable
from typing import BinaryIO, NoReturn

Work = Callable[[BinaryIO, BinaryIO], None]
"""What a copy does with what it is told and what it answers to."""


def can_be_made() -> bool:
    """Whether this process can be copied as it is."""
    return sys.platform == "linux" and threading.active_count() == 1


class Twin:
    """A copy of this process that does some work and ends; as much of ``subprocess.Popen`` as is wanted of it."""

    def __init__(self, work: Work) -> None:
        reads, to_it = os.pipe()
        from_it, writes = os.pipe()
        self._guard = threading.Lock()
        self._ended = False
        self.pid = os.fork()
        if self.pid == 0:
            _be(work, reads, writes)
        os.close(reads)
        os.close(writes)
        self.stdin: BinaryIO = open(to_it, "wb")  # noqa: SIM115  open as long as this is
        self.stdout: BinaryIO = open(from_it, "rb")  # noqa: SIM115

    def poll(self) -> int | None:
        """0 when it has ended."""
        return self._look(os.WNOHANG)

    def wait(self) -> int | None:
        """Until it has ended."""
        return self._look(0)

    def kill(self) -> None:
        """End it at once. Raises OSError."""
        if self.poll() is None:
            os.kill(self.pid, signal.SIGKILL)

    def _look(self, options: int) -> int | None:
        with self._guard:
            if not self._ended:
                self._ended = os.waitpid(self.pid, options)[0] == self.pid
            return 0 if self._ended else None


def _be(work: Work, reads: int, writes: int) -> NoReturn:
    """Nothing of the first process is kept open: its files, ports and locks are its own."""
    try:
        signal.signal(signal.SIGINT, signal.SIG_IGN)  # it ends with the first, however that is ended
        signal.signal(signal.SIGTERM, signal.SIG_DFL)
        nowhere = os.open(os.devnull, os.O_RDWR)
        for made, usual in ((reads, 0), (writes, 1), (nowhere, 2)):
            os.dup2(made, usual)
        os.closerange(3, os.sysconf("SC_OPEN_MAX"))
        sys.stdout = sys.stderr  # a stray print must not get among the answers
        work(open(0, "rb", closefd=False), open(1, "wb", closefd=False))  # noqa: SIM115
    finally:
        os._exit(0)
