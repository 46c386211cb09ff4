"""The time that timers run by: it goes on through sleep, and a wall clock that is set back or forth does not move
it."""

import time

_COUNTER = getattr(time, "CLOCK_BOOTTIME", time.CLOCK_MONOTONIC)
"""Where there is one, the counter that goes on while the machine sleeps: cement does too."""


def _counted() -> float:
    return time.clock_gettime(_COUNTER)


_BEGAN, _AT = time.time(), _counted()


def now() -> float:
    """Seconds since 1970 as the wall clock told when the program began, counted on from there."""
    return _BEGAN + _counted() - _AT
