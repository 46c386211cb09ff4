"""Results kept by what they were made from, and made once however many ask for them at the same time."""

import threading
from collections import OrderedDict
from collections.abc import Callable
from concurrent.futures import Future
from typing import Generic, TypeVar

Made = TypeVar("Made")


class Once(Generic[Made]):
    """The newest ``kept`` results by their key. Who asks while one is made waits for it; a failure is told to all who
    waited, and the next one tries again."""

    def __init__(self, kept: int) -> None:
        self._kept = kept
        self._made: OrderedDict[str, Future[Made]] = OrderedDict()
        self._guard = threading.Lock()

    def get(self, key: str, make: Callable[[], Made]) -> Made:
        """The result for a key, made by the first who asks. Raises what ``make`` raises."""
        with self._guard:
            found = self._made.get(key)
            if found is None:
                mine: Future[Made] = Future()
                self._made[key] = mine
            else:
                self._made.move_to_end(key)
        if found is not None:
            return found.result()
        try:
            mine.set_result(make())
        except BaseException as error:
            with self._guard:
                self._made.pop(key, None)
            mine.set_exception(error)
            raise
        self._trim()
        return mine.result()

    def known(self, key: str) -> Made | None:
        """The result for a key, if it is made already and did not fail."""
        with self._guard:
            found = self._made.get(key)
        return found.result() if found is not None and found.done() and found.exception() is None else None

    def put(self, key: str, result: Made) -> None:
        """A result that was made elsewhere."""
        done: Future[Made] = Future()
        done.set_result(result)
        with self._guard:
            self._made[key] = done
        self._trim()

    def _trim(self) -> None:
        with self._guard:
            for key in [k for k, f in self._made.items() if f.done()][: max(0, len(self._made) - self._kept)]:
                del self._made[key]
