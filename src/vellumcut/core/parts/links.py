"""Linked rings over a tapering area: how many columns each row takes, where they sit, and where columns are added."""

from dataclasses import dataclass
from math import ceil

import numpy as np
from numpy.typing import NDArray

from vellumcut.core.design.parts import Links
from vellumcut.core.errors import CraftError
from vellumcut.core.parts.ribbon import Ribbon
from vellumcut.core.parts.scales import NO_END, lines_across

Array = NDArray[np.float64]

MOST_ROWS, MOST = 400, 6000
"""Links on a panel: more are months of work, and a mistyped size."""
CLOSES = 0.25
"""A closed row may be tight by this share of a column: a linked sheet gives that much (est.)."""


@dataclass(frozen=True, eq=False)
class LinkRow:
    """One row, or what of it lies on one side of a gap. number: from the free end, the first 0. at: (n, 2) middles of
    its links on the flat neighbourhood. closed: its ends are linked to each other. length: of the row, mm."""

    number: int
    at: Array
    closed: bool
    length: float


def link_rows(ribbon: Ribbon, links: Links) -> list[LinkRow]:
    """Rows from the free end up; each takes its columns from its own length, so that a sleeve that grows has columns
    added (parts rule book, section 2). Raises CraftError."""
    if ribbon.run.within:
        raise CraftError(NO_END, "making.details")
    out: list[LinkRow] = []
    for k in range(links.rows or MOST_ROWS):
        lines = lines_across(ribbon, links.inset + (k + 0.5) * links.high)
        found = [r for points in lines if (r := _row(ribbon, links, points, k)) is not None]
        if not found:
            break
        out += found
        if sum(len(r.at) for r in out) > MOST:
            raise CraftError(
                f"More than {MOST:,} links on one panel: take larger ones, or fewer rows", "making.details"
            )
    return out


SHOULDER = 0.25
"""Where round an arm the shoulder point lies, of the way round from its front; the armpit is opposite."""


def under_cap(uv: Array, mm: Array, top: float, cap: float) -> NDArray[np.bool_]:
    """Which places (n, 2) of (around, along) of an arm lie under its cap curve: highest at the shoulder point, so many
    mm lower under the arm. mm: (n,) how high each lies; top: of the sleeve, mm."""
    return np.asarray(mm <= top - cap * (1 - np.cos(2 * np.pi * (uv[:, 0] - SHOULDER))) / 2)


def columns_of(length: float, wide: float, closed: bool) -> int:
    """How many columns a row so many mm long takes: round a sleeve they reach all round, on an open panel they stay
    on it."""
    return max(ceil(length / wide - CLOSES), 3) if closed else int(length / wide + 1e-9)


def strips_to_buy(links: int, strip: int) -> int:
    """Strips of so many links: what is cut off at the end of one row goes on in the next."""
    return ceil(links / strip) if strip else 0


def _row(ribbon: Ribbon, links: Links, points: Array, k: int) -> LinkRow | None:
    arc = ribbon.along(points)
    length, closed = float(arc[-1]), ribbon.meets_itself(points)
    count = columns_of(length, links.wide, closed)
    if not count:
        return None
    pitch = length / count
    at = np.stack([np.interp((np.arange(count) + 0.5) * pitch, arc, points[:, c]) for c in (0, 1)], axis=1)
    return LinkRow(k, at, closed, length)
