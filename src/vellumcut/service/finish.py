"""The finish of a piece: its stacks judged where they lie, its zones, masks and cards."""

from dataclasses import dataclass

from vellumcut.core.finish.masks import Mask, mask_sheet
from vellumcut.core.finish.recipes import plain_finish
from vellumcut.core.finish.rules import Place, StackFinding, judge_stack
from vellumcut.core.finish.zones import PaintedZone, Zone, bending, painted_zones, zone_findings, zones_of
from vellumcut.core.ink.design import PieceDesign, TemplateName
from vellumcut.core.layout.pattern import PiecePattern
from vellumcut.core.make.job import Job
from vellumcut.core.make.owned import Owned
from vellumcut.core.notes import Finding
from vellumcut.core.paces import Tempo
from vellumcut.service import plans
from vellumcut.service.builds import Work
from vellumcut.service.patterns import cutting_pattern


@dataclass(frozen=True)
class FinishView:
    """All of it. judged: what speaks against each finish, in the order of ``painted``."""

    job: Job
    painted: list[PaintedZone]
    judged: list[list[StackFinding]]
    zones: list[Zone]
    findings: list[Finding]
    bends: dict[int, str]


def view_finish(work: Work, tempo: Tempo) -> FinishView:
    """Raises CraftError when the piece has no pattern."""
    job = plans.job_of(work, tempo)
    judged = [judge_stack(p.finish.stack, place_of(p, work.design, work.owned)) for p in job.painted]
    found = zone_findings(job.pattern, work.design.making)
    return FinishView(job, job.painted, judged, zones_of(job.pattern), found, bending(job.pattern))


BACK_SHOWS: tuple[TemplateName, ...] = ("pauldron", "faulds", "tasset")
"""They hang free: who stands beside the wearer sees their inside."""


def place_of(painted: PaintedZone, design: PieceDesign, owned: Owned) -> Place:
    """Where a finish goes, as its rules must know it."""
    panels = {z.panel for z in painted.zones}

    def built_in(*kinds: str) -> bool:
        details = (d for d in design.making.details if d.kind in kinds)
        return any(not d.panels or panels & set(d.panels) for d in details)

    # Magnets have steps of their own that take them out before any spray; a magnet is in the way only where those are not.
    shows = design.template in BACK_SHOWS
    return Place(painted.bends, metal=built_in("built-in metal"), sprays=owned.sprays, back_shows=shows)


def masks_of(work: Work, tempo: Tempo) -> list[Mask]:
    """Mask sheets from the outline that is cut. Raises CraftError for a pattern that cannot be."""
    pattern: PiecePattern = cutting_pattern(work)
    making = work.design.making
    return mask_sheet(painted_zones(pattern, making, plain_finish(work.schools), tempo), making)
