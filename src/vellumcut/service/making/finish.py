"""The finish of a piece: its stacks judged where they lie, its zones, masks and cards."""

from collections.abc import Collection
from dataclasses import dataclass

from vellumcut.core.design.piece import TemplateName
from vellumcut.core.finish.masks import Mask, mask_sheet
from vellumcut.core.finish.recipes import plain_finish
from vellumcut.core.finish.rules import Place, StackFinding, judge_stack
from vellumcut.core.finish.zones import PaintedZone, Zone, bending, painted_zones, zone_findings, zones_of
from vellumcut.core.make.job import Job, key_of
from vellumcut.core.make.steps.painting import laid_layers
from vellumcut.core.notes import Finding
from vellumcut.core.paces import Tempo
from vellumcut.core.pattern.laid_on.sums import as_laid
from vellumcut.core.pattern.pattern import PiecePattern
from vellumcut.service.keeping.builds import Work
from vellumcut.service.making import plans
from vellumcut.service.pattern.patterns import cutting_pattern


@dataclass(frozen=True)
class FinishView:
    """All of it. judged: what speaks against each finish, in the order of ``painted``."""

    job: Job
    painted: list[PaintedZone]
    judged: list[list[StackFinding]]
    zones: list[Zone]
    findings: list[Finding]
    bends: dict[int, str]


BACK_SHOWS: tuple[TemplateName, ...] = ("pauldron", "faulds", "tasset")
"""They hang free: who stands beside the wearer sees their inside."""


def view_finish(work: Work, tempo: Tempo, done: Collection[str] = ()) -> FinishView:
    """done: keys of steps that are. Raises CraftError when the piece has no pattern."""
    job = plans.job_of(work, tempo)
    judged = [judge_stack(p.finish.stack, _place(p, job, done)) for p in job.painted]
    found = zone_findings(job.pattern, work.design.making)
    return FinishView(job, job.painted, judged, zones_of(job.pattern), found, bending(job.pattern))


def _place(painted: PaintedZone, job: Job, done: Collection[str]) -> Place:
    """Where a finish goes, as its rules must know it. A magnet is in the way once it is glued in and a coat is still to
    come."""
    panels = {z.panel for z in painted.zones}
    there = [d for d in job.facts.making.details if not d.panels or panels & set(d.panels)]
    coats = (about for about, (finish, _) in laid_layers(job.facts).items() if finish == painted.finish)
    to_come = any(not any(k.endswith(f":{about}") for k in done) for about in coats)
    return Place(
        painted.bends,
        magnets=to_come and any(d.kind == "magnet" and key_of("magnet-in", d.key) in done for d in there),
        sprays=job.owned.sprays,
        back_shows=job.facts.template in BACK_SHOWS,
    )


def masks_of(work: Work, tempo: Tempo) -> list[Mask]:
    """Mask sheets from the outline that is cut. Raises CraftError for a pattern that cannot be."""
    pattern: PiecePattern = cutting_pattern(work)
    making = as_laid(work.design.making, pattern.laid)
    return mask_sheet(painted_zones(pattern, making, plain_finish(making, work.schools), tempo), making, pattern.laid)
