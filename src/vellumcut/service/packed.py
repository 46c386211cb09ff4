"""Things as bytes, for another process or the disk, while others work with the same things."""

import pickle

TRIES = 5


class Grows(Exception):
    """It grew each time while it was read."""


def packed(thing: object) -> bytes:
    """A pickle of it. Raises Grows.

    A figure that another thread works out and keeps on one of its parts grows that part while it is read here: it is
    read again then, and by then the figure is there.
    """
    for _ in range(TRIES):
        try:
            return pickle.dumps(thing, pickle.HIGHEST_PROTOCOL)
        except RuntimeError:
            continue
    raise Grows
