"""Margin notes: every number can show how it was made, every recommendation why."""

from dataclasses import dataclass, field
from typing import Literal

Level = Literal["stop", "look", "say"]
Kind = Literal["mm", "percent", "count", "degrees", "ratio", "minutes", "mm2", "grams"]


@dataclass(frozen=True)
class Value:
    """One figure in a formula. amount: in the unit of its kind (mm, %, pieces, degrees, 1, min, mm2, g)."""

    word: str
    amount: float
    kind: Kind = "mm"


@dataclass(frozen=True)
class Note:
    """A figure with its making.

    formula: text in which ``{0}``, ``{1}`` stand for ``values``, so the reader's unit can be used.
    reason: why it is so. change: what would change it. measured: what the finished panel really has.
    """

    title: str
    result: Value
    formula: str
    values: tuple[Value, ...]
    reason: str
    change: str = ""
    measured: Value | None = None
    about: str = ""


@dataclass(frozen=True)
class Finding:
    """Something to look at. place: where it leads, such as ``"design.gap"`` or a station's name."""

    level: Level
    message: str
    place: str = ""
    advice: str = ""
    values: tuple[Value, ...] = field(default=())
