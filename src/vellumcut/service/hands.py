"""A second pair of hands: a process of our own, so that both cores work.

The helper is this process once more where that can be had, and else this Python with this module, which takes seconds
to begin. Tasks and results travel to it as pickles over its own pipes, and it ends when they close.
"""

import atexit
import contextlib
import importlib
import os
import pickle
import subprocess
import sys
import threading
from collections import deque
from collections.abc import Callable
from pathlib import Path
from typing import Any, BinaryIO, TypeVar

from vellumcut.core.errors import CraftError
from vellumcut.service import turns, twin
from vellumcut.service.packed import Grows, packed

In = TypeVar("In")
Out = TypeVar("Out")
WORTH_HELP = 3
"""Fewer tasks are not worth a helper that is not there yet."""
LOOKS_EVERY = 0.05
_POLITE = 5
"""By so much the helper gives way to the program and its page where the system knows niceness."""


class Lost(Exception):
    """The helper is gone, or could not be told."""


class Helper:
    """The other process. One task at a time; who comes meanwhile waits."""

    def __init__(self, data: Path | None) -> None:
        """data: the data folder whose kept results it shares."""
        if twin.can_be_made():
            self._process: subprocess.Popen[bytes] | twin.Twin = twin.Twin(lambda told, out: _help(data, told, out))
        else:
            command = [sys.executable, "-c", f"from {__name__} import main; main()", *([str(data)] if data else [])]
            self._process = subprocess.Popen(
                command, stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL
            )
        self.turn = threading.Lock()
        self.ready = threading.Event()
        threading.Thread(target=self._await_word, daemon=True).start()

    def _await_word(self) -> None:
        with self.turn, contextlib.suppress(Lost):
            self._hear()
            self.ready.set()

    def _hear(self) -> Any:
        assert self._process.stdout is not None
        try:
            return pickle.load(self._process.stdout)
        except (OSError, EOFError, pickle.PickleError) as error:
            self.end()
            raise Lost from error

    def do(self, act: Callable[..., Any], args: tuple[Any, ...]) -> Any:
        """``act`` on ``args``, while the turn is held. Raises what it raises as CraftError, or Lost."""
        assert self._process.stdin is not None
        try:
            # Whole before its first byte goes: the rest of half a task would be read as the next one.
            task = packed((act, args))
        except Grows as error:
            raise Lost from error
        try:
            self._process.stdin.write(task)
            self._process.stdin.flush()
        except (OSError, ValueError) as error:
            self.end()
            raise Lost from error
        said, what = self._hear()
        if said == "refused":
            raise CraftError(*what)
        if said == "failed":
            raise Lost(what)
        return what

    @property
    def alive(self) -> bool:
        """Whether it is there, ready or not."""
        return self._process.poll() is None

    def end(self) -> None:
        """Send it home."""
        with contextlib.suppress(OSError):
            self._process.kill()
        self._process.wait()


_guard = threading.Lock()
_helper: Helper | None = None
_data: Path | None = None
_cores = os.cpu_count() or 1


def share(data: Path | None) -> None:
    """The data folder whose kept results the helper is to share; one that was hired before goes home."""
    global _data  # noqa: PLW0603  one data folder is open at a time
    dismiss()
    _data = data


def hired() -> Helper | None:
    """The helper, hired if it is not there; None where there is no second core."""
    global _helper  # noqa: PLW0603  one helper for the process
    if _cores < 2 or hired_by:
        return None
    with _guard:
        if _helper is None or not _helper.alive:
            _helper = Helper(_data)
        return _helper


def dismiss() -> None:
    """Send the helper home."""
    global _helper  # noqa: PLW0603  one helper for the process
    with _guard:
        if _helper is not None:
            _helper.end()
        _helper = None


atexit.register(dismiss)
hired_by: list[str] = []
"""Not empty in the helper itself, which has no helper."""


def elsewhere(act: Callable[..., Out], *args: Any) -> tuple[Out] | None:
    """``act`` done by the helper; None when there is none that is ready. Raises CraftError, and Gone when nobody waits
    any more."""
    helper = hired()
    if helper is None:
        return None
    # One that is only just hired is waited for: done here, this would slow what a maker looks at.
    while not helper.ready.wait(LOOKS_EVERY):
        turns.step_aside()
        if not helper.alive:
            return None
    while not helper.turn.acquire(timeout=LOOKS_EVERY):
        turns.step_aside()
    try:
        turns.step_aside()
        return (helper.do(act, args),)
    except Lost:
        return None
    finally:
        helper.turn.release()


def done_together(act: Callable[[In], Out], tasks: list[In], report: Callable[[int], None]) -> list[Out]:
    """``act`` on every task, in their order. act: a function of a module. report: is told how many are done.

    The helper works from the far end, as soon as it is ready. What ``report`` or ``act`` raises ends the work.
    """
    left = deque(range(len(tasks)))
    found: dict[int, Out] = {}
    helper = hired() if len(tasks) >= WORTH_HELP else None
    other = _Other(helper, act, tasks, left, found) if helper else None
    try:
        while left:
            try:
                k = left.popleft()
            except IndexError:
                break
            report(len(found))
            found[k] = act(tasks[k])
        while other and other.is_alive():
            other.join(0.2)
            report(len(found))
    finally:
        left.clear()
    if other and other.error:
        raise other.error
    for k in (k for k in range(len(tasks)) if k not in found):
        found[k] = act(tasks[k])
    return [found[k] for k in range(len(tasks))]


class _Other(threading.Thread):
    """Hands tasks to the helper while there are some left."""

    def __init__(
        self, helper: Helper, act: Callable[..., Any], tasks: list[Any], left: deque[int], found: dict[int, Any]
    ) -> None:
        super().__init__(daemon=True)
        self.error: CraftError | None = None
        self._work = (helper, act, tasks, left, found)
        self.start()

    def run(self) -> None:
        helper, act, tasks, left, found = self._work
        while left and not helper.ready.wait(LOOKS_EVERY):
            if not helper.alive:
                return
        while left:
            with helper.turn:
                try:
                    k = left.pop()
                    found[k] = helper.do(act, (tasks[k],))
                except (IndexError, Lost):
                    return
                except CraftError as error:
                    self.error = error
                    left.clear()
                    return


def main() -> None:
    """Read tasks from standard input, write their results, until it closes."""
    out, sys.stdout = sys.stdout.buffer, sys.stderr  # a stray print must not get among the results
    _help(Path(sys.argv[1]) if len(sys.argv) > 1 else None, sys.stdin.buffer, out)


def _help(data: Path | None, told: BinaryIO, out: BinaryIO) -> None:
    hired_by.append("the program")
    if hasattr(os, "nice"):
        os.nice(_POLITE)
    for module in ("pattern.patterns", "pattern.regrade", "making.plans"):
        importlib.import_module(f"vellumcut.service.{module}")
    if data:
        importlib.import_module("vellumcut.service.kept").keep_on_disk(data)
    _say(out, ("ready", None))
    while True:
        try:
            act, args = pickle.load(told)
        except EOFError:
            return
        try:
            answer = ("made", act(*args))
        except CraftError as error:
            answer = ("refused", (error.message, error.field))
        except Exception as error:  # told to the program, which does the task itself and shows what is wrong
            answer = ("failed", repr(error))
        _say(out, answer)


def _say(out: BinaryIO, answer: tuple[str, Any]) -> None:
    out.write(packed(answer))
    out.flush()
