"""Whose turn it is: what a maker looks at is worked out first, and what nobody waits for any more is left.

A request that comes after another (the page says so: the steps of a piece whose outline was just edited) steps aside
between two stages of its work, and ends when its page has gone on to something else.
"""

import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from dataclasses import dataclass, field

LONGEST_ASIDE = 4.0
"""Seconds for which one steps aside at most: whoever works longer than this works at something that was begun apart."""
LOOKS_EVERY = 0.02


class Gone(Exception):
    """Nobody waits for this answer any more."""


@dataclass(frozen=True)
class Asked:
    """One question of a page. after: it can wait for what the maker looks at. gone: set when the page has gone on."""

    after: bool = False
    gone: threading.Event = field(default_factory=threading.Event)


ASKED: ContextVar[Asked] = ContextVar("asked")
"""What the thread works for; nothing on the command line and in jobs."""
_NOBODYS = Asked()
_guard = threading.Lock()
_at_work = 0


def asked() -> Asked:
    """What this thread works for."""
    return ASKED.get(_NOBODYS)


@contextmanager
def at_work() -> Iterator[None]:
    """A stage of work is being done here that a maker waits for; what comes after steps aside."""
    global _at_work  # noqa: PLW0603  one count for the process
    mine = not asked().after
    with _guard:
        _at_work += mine
    try:
        yield
    finally:
        with _guard:
            _at_work -= mine


def let_pass() -> None:
    """For what no page waits for at all: let everything go first that a maker waits for."""
    until = time.monotonic() + LONGEST_ASIDE
    while _at_work and time.monotonic() < until:
        time.sleep(LOOKS_EVERY)


def step_aside() -> None:
    """Let what a maker waits for be done first. Raises Gone when nobody waits for this."""
    me = asked()
    until = time.monotonic() + LONGEST_ASIDE
    while me.after and _at_work and time.monotonic() < until and not me.gone.is_set():
        time.sleep(LOOKS_EVERY)
    if me.gone.is_set():
        raise Gone
