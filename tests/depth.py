"""How deep the tests look: a few examples of everything in ``make test``, all of them in ``make deep``."""

import os
from collections.abc import Iterable
from typing import TypeVar

import pytest

DEEP = bool(os.environ.get("VELLUMCUT_DEEP"))
SHARE = 5
"""``make test`` looks at so much less of what is drawn at random."""

deep = pytest.mark.deep
"""Looked at by ``make deep`` alone: longer than a quick suite bears, and what it sees, a quicker neighbour sees
first."""

long = pytest.mark.long
"""Left out of ``make test``, which stays quick; looked at by ``make long``, at every landing and in ``make deep``."""

Item = TypeVar("Item")


def often(times: int, least: int = 3) -> int:
    """So many examples in ``make deep``, a share of them otherwise, but no fewer than ``least``."""
    return times if DEEP else max(least, times // SHARE)


def mostly(items: Iterable[Item], kept: int) -> list[object]:
    """Parameters, of which all but the first few are left to ``make long``."""
    return [pytest.param(x, marks=() if k < kept else long) for k, x in enumerate(items)]


def some(items: Iterable[Item], kept: int = 1) -> list[object]:
    """Parameters, of which all but the first few are looked at by ``make deep`` alone."""
    rows = [x if isinstance(x, tuple) else (x,) for x in items]
    return [pytest.param(*row, marks=() if k < kept else deep) for k, row in enumerate(rows)]
