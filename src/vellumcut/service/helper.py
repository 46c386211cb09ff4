"""A second pair of hands: a list of like tasks shared with a process of our own, so that both cores work.

The helper is this Python with this module; task and result travel to it as pickles over its own pipes, and it ends
when they close. It takes seconds to begin, so it works from the list's far end while the first tasks are done here.
"""

import importlib
import os
import pickle
import subprocess
import sys
import threading
from collections import deque
from collections.abc import Callable
from typing import Any, TypeVar

In = TypeVar("In")
Out = TypeVar("Out")


WORTH_HELP = 5
"""Fewer tasks are done before a helper has put its gloves on."""


def done_together(act: Callable[[In], Out], tasks: list[In], report: Callable[[int], None]) -> list[Out]:
    """``act`` on every task, in their order. act: a function of a module. report: is told how many are done.

    What ``report`` or ``act`` raises ends the work and the helper.
    """
    left = deque(range(len(tasks)))
    found: dict[int, Out] = {}
    helper = _Helper(act, tasks, left, found) if len(tasks) >= WORTH_HELP and (os.cpu_count() or 1) > 1 else None
    try:
        while left:
            try:
                k = left.popleft()
            except IndexError:
                break
            report(len(found))
            found[k] = act(tasks[k])
        if helper:
            while helper.thread.is_alive():
                helper.thread.join(0.2)
                report(len(found))
            for k in helper.dropped:
                found[k] = act(tasks[k])
    finally:
        if helper:
            helper.process.kill()
            helper.process.wait()
    return [found[k] for k in range(len(tasks))]


class _Helper:
    def __init__(self, act: Callable[..., Any], tasks: list[Any], left: deque[int], found: dict[int, Any]) -> None:
        command = [sys.executable, "-m", __name__, act.__module__, act.__name__]
        self.process = subprocess.Popen(
            command, stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL
        )
        self.dropped: list[int] = []
        self._work = (tasks, left, found)
        self.thread = threading.Thread(target=self._share, daemon=True)
        self.thread.start()

    def _share(self) -> None:
        tasks, left, found = self._work
        assert self.process.stdin is not None
        assert self.process.stdout is not None
        while left:
            try:
                k = left.pop()
            except IndexError:
                return
            try:
                pickle.dump(tasks[k], self.process.stdin)
                self.process.stdin.flush()
                found[k] = pickle.load(self.process.stdout)
            except (OSError, EOFError, pickle.PickleError):
                self.dropped.append(k)
                return


def main() -> None:
    """Read tasks from standard input, write their results, until it closes."""
    out = sys.stdout.buffer
    sys.stdout = sys.stderr  # a stray print must not get among the results
    act = getattr(importlib.import_module(sys.argv[1]), sys.argv[2])
    while True:
        try:
            task = pickle.load(sys.stdin.buffer)
        except EOFError:
            return
        pickle.dump(act(task), out)
        out.flush()


if __name__ == "__main__":
    main()
