"""How fast a maker works: one pace for each class of work, changed by hand or learned from the bench."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from statistics import median
from typing import Annotated, Literal

from pydantic import Field

from vellumcut.core.body.readings import Decision

Work = Literal[
    "print",
    "trace",
    "label",
    "cut",
    "score",
    "seal",
    "bevel",
    "groove",
    "kerf",
    "shut",
    "thin",
    "laminate",
    "form",
    "try on",
    "seam",
    "press",
    "rim",
    "sand",
    "fill",
    "cover",
    "line design",
    "dam",
    "bed",
    "sew",
    "stitch",
    "raised stitch",
    "punch",
    "fasten",
    "detail",
    "dust",
    "mask",
    "cut film",
    "texture",
    "link",
    "coat",
    "spray",
    "hand paint",
    "cut in",
    "wet sand",
    "weather",
    "check",
]
Per = Literal["mm", "m2", "piece"]


@dataclass(frozen=True)
class Pace:
    """usual: mm or m2 done in a minute, or minutes a piece. words: of what. spread: how many times quicker or slower
    another maker is with the same piece."""

    key: Work
    words: str
    per: Per
    usual: float
    spread: float = 1.4


PACES: dict[Work, Pace] = {
    p.key: p
    for p in (
        Pace("print", "printing and joining pages, a part", "piece", 4.0),
        Pace("trace", "tracing an outline", "mm", 600.0),
        Pace("label", "writing a part's label", "piece", 2.0),
        Pace("cut", "cutting out", "mm", 180.0),
        Pace("score", "scoring", "mm", 300.0),
        Pace("seal", "sealing with heat, one face", "m2", 0.015),
        Pace("bevel", "bevelling an edge", "mm", 100.0, 1.8),
        Pace("groove", "cutting a groove", "mm", 120.0),
        Pace("kerf", "cutting kerfs", "mm", 150.0),
        Pace("shut", "gluing a groove shut", "mm", 100.0),
        Pace("thin", "thinning an edge", "mm", 100.0),
        Pace("laminate", "laying sheets on each other", "m2", 0.01),
        Pace("form", "shaping a warm part", "piece", 10.0, 2.0),
        Pace("try on", "trying on in tape, a part", "piece", 8.0),
        Pace("seam", "brushing cement on an edge", "mm", 120.0),
        Pace("press", "pressing a seam", "mm", 120.0),
        Pace("rim", "rounding both corners of a rim", "mm", 80.0, 2.0),
        Pace("sand", "grinding and sanding, one round", "m2", 0.012, 2.0),
        Pace("fill", "filling a seam, one coat", "mm", 120.0),
        Pace("cover", "covering a seam with a strip", "mm", 60.0),
        Pace("line design", "cutting a seam sharp as a line", "mm", 100.0),
        Pace("dam", "a strip inside a seam", "mm", 120.0),
        Pace("bed", "opening a bed for an anchor", "piece", 3.0),
        Pace("sew", "sewing a strap end", "piece", 4.0),
        Pace("stitch", "stitching by hand, 25 stitches of 4 mm in 10 min", "mm", 10.0),
        Pace("raised stitch", "raised-paint stitches along a line", "mm", 60.0),
        Pace("punch", "punching and setting a hole", "piece", 1.0),
        Pace("fasten", "fitting a part of a closure", "piece", 3.0),
        Pace("link", "linking, a link", "piece", 0.3, 2.0),
        Pace("detail", "a small part by hand", "piece", 2.0),
        Pace("dust", "taking the dust off", "m2", 0.1),
        Pace("mask", "laying tape along a line", "mm", 60.0),
        Pace("cut film", "cutting a motif from film", "mm", 100.0, 2.0),
        Pace("texture", "warming a face and pressing a texture in", "m2", 0.006, 2.0),
        Pace("coat", "a coat by brush or cloth", "m2", 0.012, 1.6),
        Pace("spray", "a coat by spray or airbrush", "m2", 0.03, 1.6),
        Pace("hand paint", "a thin coat by hand", "m2", 0.006, 2.0),
        Pace("cut in", "painting to a line by hand", "mm", 90.0),
        Pace("wet sand", "sanding wet", "m2", 0.004, 2.0),
        Pace("weather", "weathering", "m2", 0.01, 2.5),
        Pace("check", "looking, asking, ticking", "piece", 3.0),
    )
}
"""All of them estimates."""
LEAST_TIMED = 5
"""Steps of a kind that were timed before it is said how this maker works: fewer are luck."""


class OwnPaces(Decision):
    """What the maker has typed, in the pace's own unit."""

    rows: dict[Work, Annotated[float, Field(gt=0, le=1e6, allow_inf_nan=False)]] = Field(default_factory=dict)


@dataclass(frozen=True)
class Timed:
    """One step that was timed. estimate, took: minutes; the estimate is the one before anything was learned."""

    work: Work
    estimate: float
    took: float


@dataclass(frozen=True)
class Tempo:
    """All paces as this maker works. learned: by class of work, how long it takes against the estimate."""

    own: Mapping[Work, float] = field(default_factory=dict)
    learned: Mapping[Work, float] = field(default_factory=dict)

    def pace(self, work: Work) -> float:
        """mm or m2 a minute, or minutes a piece, before anything learned."""
        return self.own.get(work, PACES[work].usual)

    def minutes(self, work: Work, amount: float) -> float:
        """amount: mm, mm2 or pieces, as the pace counts."""
        per, pace = PACES[work].per, self.pace(work)
        if per == "piece":
            return amount * pace
        return amount / pace if per == "mm" else amount / 1e6 / pace

    def factor(self, work: Work) -> float:
        """What an estimate is multiplied with; a pace that the maker typed is believed as it is."""
        return 1.0 if work in self.own else self.learned.get(work, 1.0)


def learned_from(timed: Sequence[Timed]) -> dict[Work, float]:
    """By class of work, the middle of took over estimate, where at least ``LEAST_TIMED`` were timed."""
    shares: dict[Work, list[float]] = {}
    for t in timed:
        if t.estimate > 0 and t.took > 0:
            shares.setdefault(t.work, []).append(t.took / t.estimate)
    return {work: median(rows) for work, rows in shares.items() if len(rows) >= LEAST_TIMED}
