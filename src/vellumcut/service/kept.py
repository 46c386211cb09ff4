"""Results kept by what they were made from: made once however many ask, in memory, and on disk from start to start."""

import importlib
import pickle
import sys
import threading
import time
from collections import OrderedDict
from collections.abc import Callable
from concurrent.futures import Future, ThreadPoolExecutor
from contextlib import suppress
from pathlib import Path
from typing import Any, Generic, ParamSpec, TypeVar

from vellumcut.core.errors import CraftError
from vellumcut.service import hands, turns
from vellumcut.service.packed import Grows, packed
from vellumcut.store.results import Results

Args = ParamSpec("Args")
Made = TypeVar("Made")

_UNREADABLE = (pickle.PickleError, AttributeError, EOFError, ImportError, IndexError, TypeError, ValueError)
AFTERWARDS = 0.3
"""Seconds after which a result goes to disk: by then its page has it, which it would slow. The helper has no page."""
_writer = ThreadPoolExecutor(1, "keeps results")
_disk: Results | None = None


def keep_on_disk(data: Path | None) -> None:
    """From now on results are also kept in this data folder; None: in memory alone."""
    global _disk  # noqa: PLW0603  one data folder is open at a time
    _disk = Results(data) if data else None


class Kept(Generic[Args, Made]):
    """``make`` by what it is made from. make: a function of a module, whose arguments can be pickled. key: names what
    it is made from. held: how many of the newest stay in memory. on_disk: whether they outlive the program.

    Who asks while one is made waits for it; a failure is told to all who waited, and the next one tries again.
    """

    def __init__(
        self, make: Callable[Args, Made], key: Callable[Args, str], held: int = 256, on_disk: bool = True
    ) -> None:
        self._make, self._key, self._held, self._on_disk = make, key, held, on_disk
        self._made: OrderedDict[str, Future[Made]] = OrderedDict()
        self._guard = threading.Lock()
        self._shelf = f"{make.__module__.rpartition('.')[2]}{make.__qualname__}"

    def __call__(self, *args: Args.args, **kwargs: Args.kwargs) -> Made:
        """The result, made by the first who asks. Raises what ``make`` raises, and Gone."""
        key = self._key(*args, **kwargs)
        with self._guard:
            found = self._made.get(key)
            if found is None:
                mine: Future[Made] = Future()
                self._made[key] = mine
            else:
                self._made.move_to_end(key)
        if found is not None:
            return self._of_another(found, *args, **kwargs)
        try:
            made = self._from_disk(key)
            mine.set_result(self._new(key, *args, **kwargs) if made is None else made)
        except BaseException as error:
            with self._guard:
                self._made.pop(key, None)
            mine.set_exception(error)
            raise
        self._trim()
        return mine.result()

    def _of_another(self, found: Future[Made], *args: Args.args, **kwargs: Args.kwargs) -> Made:
        try:
            return found.result()
        except turns.Gone:  # who made it does not want it any more, and this one does
            return self(*args, **kwargs)

    def _new(self, key: str, *args: Args.args, **kwargs: Args.kwargs) -> Made:
        turns.step_aside()
        if turns.asked().after and not kwargs and (sent := hands.elsewhere(_made, self._address, args)):
            return sent[0]  # type: ignore[no-any-return]  # the helper keeps it on disk itself
        with turns.at_work():
            made = self._make(*args, **kwargs)
        if self._on_disk and _disk is not None:
            at = time.monotonic() + (0.0 if hands.hired_by else AFTERWARDS)
            _writer.submit(_write, _disk, self._shelf, key, made, at)
        return made

    @property
    def _address(self) -> tuple[str, str]:
        """Module and name, by which the helper finds its own copy of this."""
        module = self._make.__module__
        return module, next(name for name, value in vars(sys.modules[module]).items() if value is self)

    def ahead(self, rows: list[tuple[Any, ...]]) -> None:
        """Make what is not known yet of these, by their arguments, with both pairs of hands. One that cannot be made is
        left to who asks for it. Raises Gone."""
        mine: Any = self  # rows of arguments are beyond what types can say
        new = [args for args in rows if mine.known(*args) is None]
        tasks = [(self._address, args) for args in new]
        for args, made in zip(new, hands.done_together(_tried, tasks, lambda _: turns.step_aside()), strict=True):
            if made is not None:
                mine.put(made, *args)

    def _from_disk(self, key: str) -> Made | None:
        if not self._on_disk or _disk is None:
            return None
        content = _disk.read(self._shelf, key)
        try:
            return None if content is None else pickle.loads(content)
        except _UNREADABLE:
            return None

    def known(self, *args: Args.args, **kwargs: Args.kwargs) -> Made | None:
        """The result if it is made already, here or on disk, and did not fail."""
        key = self._key(*args, **kwargs)
        with self._guard:
            found = self._made.get(key)
        if found is not None:
            return found.result() if found.done() and found.exception() is None else None
        if (made := self._from_disk(key)) is not None:
            self._put(key, made)
        return made

    def put(self, result: Made, *args: Args.args, **kwargs: Args.kwargs) -> None:
        """A result that was made elsewhere."""
        self._put(self._key(*args, **kwargs), result)

    def _put(self, key: str, result: Made) -> None:
        done: Future[Made] = Future()
        done.set_result(result)
        with self._guard:
            self._made[key] = done
        self._trim()

    def _trim(self) -> None:
        with self._guard:
            for key in [k for k, f in self._made.items() if f.done()][: max(0, len(self._made) - self._held)]:
                del self._made[key]


def _made(address: tuple[str, str], args: tuple[Any, ...]) -> Any:
    module, name = address
    return getattr(importlib.import_module(module), name)(*args)


def _tried(task: tuple[tuple[str, str], tuple[Any, ...]]) -> Any:
    try:
        return _made(*task)
    except CraftError:
        return None


def _write(disk: Results, shelf: str, key: str, made: object, at: float) -> None:
    time.sleep(max(0.0, at - time.monotonic()))
    turns.let_pass()
    with suppress(Grows):
        disk.write(shelf, key, packed(made))
