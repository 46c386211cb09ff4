"""A step: one thing to do, with all that a maker must know before doing it."""

from dataclasses import dataclass, field
from typing import Literal

from vellumcut.core.make.quantities import Material
from vellumcut.core.notes import Value
from vellumcut.core.paces import Work

Place = Literal["indoors", "ventilated", "outdoors"]
"""Outdoors, or a booth: where spray goes."""
Subject = Literal["panel", "seam", "dart", "fold", "detail", "anchor", "zone", "piece", "costume"]
Stage = Literal["prepare", "cut", "shape", "join", "smooth", "fit", "paint", "finish"]
STAGES: tuple[Stage, ...] = ("prepare", "cut", "shape", "join", "smooth", "fit", "paint", "finish")


@dataclass(frozen=True)
class Inspection:
    """A question that is answered when the step is done, and what is done if the answer is no."""

    question: str
    mend: str


@dataclass(frozen=True)
class Step:
    """One thing to do. key: its kind, a colon and what it is about. minutes: hands on, before anything learned; setup:
    of them, getting tools out and cleaning away. wait: before what follows, minutes. formula: how minutes were made.
    reason: also the mistake it guards against.

    coats: each a tick of its own, ``between`` minutes apart. work: class that its time is learned by. measures: figures
    that, once it is done, must not change unseen, mm or mm2.
    checks: of the reference, each to be ticked. factor: how this maker's time compares with ``minutes``. slower: how
    much longer cement takes on its surface than on foam.
    """

    key: str
    title: str
    how: str
    minutes: float
    wait: float
    formula: str
    values: tuple[Value, ...]
    materials: tuple[Material, ...]
    cautions: tuple[str, ...]
    reason: str
    timer: str = ""
    work: Work = "check"
    stage: Stage = "prepare"
    about: Subject = "piece"
    place: Place = "indoors"
    tools: tuple[str, ...] = ()
    protection: tuple[str, ...] = ()
    coats: int = 1
    between: float = 0.0
    inspection: Inspection | None = None
    checks: tuple[str, ...] = ()
    measures: tuple[Value, ...] = field(default=())
    factor: float = 1.0
    slower: float = 1.0
    setup: float = 0.0

    @property
    def kind(self) -> str:
        return self.key.partition(":")[0]

    @property
    def of(self) -> str:
        """What it is about: a panel's number, a seam's name; empty for the whole piece."""
        return self.key.partition(":")[2]

    @property
    def hands_on(self) -> float:
        """Minutes as this maker works."""
        return self.minutes * self.factor
