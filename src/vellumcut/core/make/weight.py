"""What a piece weighs as it is worn: foam, paint, glue, what lies on it, what holds it and what is carried in it."""

import math
import re
from collections.abc import Callable
from dataclasses import dataclass

from vellumcut.core.design.foam import FoamKind
from vellumcut.core.design.making import Detail, DetailKind
from vellumcut.core.finish.layers import coats_of
from vellumcut.core.foam.shelf import ShelfSheet, facts_of_sheet
from vellumcut.core.make.job import Job
from vellumcut.core.make.order import build_steps
from vellumcut.core.parts.laid import SMALL
from vellumcut.core.pattern.laid_on.foam_use import FoamUse
from vellumcut.core.rig.part import StrapPart

WET, SOLID = 1200.0, 0.45
"""Of paint: grams a litre, and the share that stays when it is dry (est.)."""
DRY: dict[str, float] = {"contact cement": 0.2, "hot glue": 1.0, "instant glue": 1.0, "foam clay": 0.9,
    "flexible filler": 0.7}  # fmt: skip
"""Grams that stay of each ml or g (est.)."""
EACH: dict[DetailKind, float] = {"layer": 25, "segments": 12, "collar": 30, "emblem": 20, "sliding plate": 40,
    "buckle": 25, "hanging plate": 35, "built-in metal": 30, "holder": 30, "light cell": 45, "decal": 0.5,
    "texture": 0, "links": 0.8, "stencil": 0.5, "painted damage": 0.5,
    "ring cover": 5, "pivot": 3, "cord": 4, "support": 20, "pad": 8}  # fmt: skip
"""Grams of one of these, where the maker does not say (est.)."""
VINYL, ZIP = 350.0, 35.0
"""g/m2, and g/m (est.)."""
ALONG: dict[DetailKind, float] = {"trim": 8, "spanning trim": 8, "strip round": 8, "zip": ZIP}
"""Grams a metre; strips that have no shape yet are taken as 20 mm by 4 mm of foam (est.)."""
ROUND: dict[DetailKind, Callable[[float], float]] = {
    "rivets": lambda d: 0.1 * math.pi * d**3 / 12,
    "gem": lambda d: 1.2 * math.pi * d**3 / 12,
    "magnet": lambda d: 7.5 * 0.3 * math.pi * d**2 / 4,
}
"""Grams of one so many cm across: half balls of foam and of cast resin, a magnet 3 mm thick (est.)."""
RIGGED: tuple[tuple[str, float, float], ...] = (
    (r"^lace", 3.0, 0.0),
    (r"\bzip\b", ZIP, 0.0),
    (r"strip", 8.0, 1.0),
    (r"elastic", 15.0, 0.0),
    (r"webbing", 14.0, 0.0),
    (r"hook-and-loop", 25.0, 4.0),
    (r"side-release", 0.0, 14.0),
    (r"^rings", 0.0, 8.0),
    (r"^ratchet", 0.0, 45.0),
    (r"snaps", 0.0, 3.0),
    (r"magnets", 0.0, 5.0),
    (r"eyelets", 0.0, 0.5),
    (r"^hooks", 0.0, 0.0),
)
"""By a part's name, the first that fits: grams a metre, and of one that is not cut (est.; webbing 25 mm wide). Hooks
are on the shoe."""


@dataclass(frozen=True)
class Weight:
    """Grams of all copies, by what they are."""

    foam: float
    paint: float
    glue: float
    details: float
    rig: float

    @property
    def total(self) -> float:
        return self.foam + self.paint + self.glue + self.details + self.rig

    @property
    def words(self) -> str:
        """ "412 g: foam 260, paint 95, glue 12, straps 45"."""
        rows = (("foam", self.foam), ("paint", self.paint), ("glue", self.glue), ("what lies on it", self.details),
            ("straps and what closes it", self.rig))  # fmt: skip
        told = ", ".join(f"{word} {grams:.0f}" for word, grams in rows if grams >= 0.5)
        return f"{self.total:.0f} g: {told}"


def weigh(job: Job, shelf: tuple[ShelfSheet, ...] = ()) -> Weight:
    """All copies of a piece. shelf: the maker's own sheets, where they were weighed."""
    foam = sum(foam_grams(key, use, shelf) for key, use in job.pattern.foam.items())
    glue = sum(m.amount * DRY.get(m.name, 0.0) for step in build_steps(job) for m in step.materials)
    # What of its details is foam, cut to a shape, is in the foam already.
    details = sum(_besides_foam(d, job) for d in job.facts.making.details)
    rig = sum(part_grams(p, job.pattern.design.rig.webbing) for p in job.rig_parts) * job.alike
    return Weight(foam, _paint(job), glue, details, rig)


def _paint(job: Job) -> float:
    """Every coat on every face, dry."""
    rows = ((zone.area, coat) for zone in job.painted for coat in coats_of(zone.finish.stack) if coat.kind.cover < 1e6)
    return sum(area / 1e6 * c.faces * c.coats / c.kind.cover * WET * SOLID for area, c in rows)


def foam_grams(sheet: tuple[FoamKind, float], use: FoamUse, shelf: tuple[ShelfSheet, ...] = ()) -> float:
    """What stays in a piece of one kind of sheet."""
    return facts_of_sheet(*sheet, shelf).grams(use.volume, 1.0)


def _is_foam(detail: Detail, job: Job) -> bool:
    own = job.pattern.laid.get(detail.key)
    return own is not None and own.sheet is not None


def detail_grams(detail: Detail, job: Job, shelf: tuple[ShelfSheet, ...] = ()) -> float:
    """All there are of it. The maker's own word stands before any estimate, and its foam before what such things weigh
    a metre."""
    own = job.pattern.laid.get(detail.key)
    cut = own is not None and own.sheet is not None and not detail.weight
    foam = facts_of_sheet(*own.sheet, shelf).grams(own.volume, 1.0) if cut and own and own.sheet else 0.0
    return foam + _besides_foam(detail, job)


HELD: tuple[DetailKind, ...] = ("gem", "links")
"""Kinds whose foam only holds them."""


def _besides_foam(detail: Detail, job: Job) -> float:
    """What it weighs without the foam that is cut for it."""
    if detail.weight:
        return detail.weight * detail.count
    if _is_foam(detail, job) and detail.kind not in HELD:
        return 0.0
    if detail.kind in ROUND:
        return detail.count * ROUND[detail.kind]((detail.size or SMALL) / 10)
    if detail.kind == "vinyl cover":
        return sum(job.panel_area(n) for n in detail.panels or job.facts.panels) / 1e6 * VINYL
    metre = ALONG.get(detail.kind)
    return job.detail_length(detail) / 1000 * metre if metre else EACH.get(detail.kind, 0.0) * detail.count


def part_grams(part: StrapPart, wide: float) -> float:
    """One copy's. wide: its straps' width, mm."""
    row = next((r for r in RIGGED if re.search(r[0], part.name)), None)
    if row is None:
        return 0.0
    _, metre, one = row
    share = wide / 25.0 if part.name.startswith(("webbing", "elastic")) else 1.0
    return part.count * (part.length / 1000 * metre * share if part.length else one)
