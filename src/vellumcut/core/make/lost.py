"""Names that a maker gave and that mean nothing on the piece as it is now: said, so that nothing is lost in silence."""

from collections.abc import Iterator

from vellumcut.core.design.parts import lines_along
from vellumcut.core.ink.lines import line_word
from vellumcut.core.make.job import Job
from vellumcut.core.parts.crossings import crossings_of
from vellumcut.core.parts.laid import laid_parts
from vellumcut.core.rig.closures.openings import seams_to_open
from vellumcut.core.rig.laid import LaidPiece


def lost_names(job: Job) -> tuple[str, ...]:
    """Sentences on details, seams, edges and openings whose place is not there."""
    return tuple(dict.fromkeys(_lost(job)))


def _lost(job: Job) -> Iterator[str]:
    making, design = job.facts.making, job.pattern.design
    for detail in making.details:
        if detail.edge and line_word(detail.edge) not in job.free_edges:
            yield f"“{detail.name}” is fixed to “{detail.edge}”, and the piece has no such edge now: choose another."
        own = job.pattern.laid.get(detail.key)
        along = lines_along(detail.shape)
        if along and own is None and job.pattern.inked:
            lines = " or ".join(f"“{x}”" for x in along)
            yield f"“{detail.name}” runs along {lines}, and the piece has no such line now: choose another."
        if own is not None:
            yield from (f"{words}." for words in own.problems)
            if own.short:
                yield f"“{detail.name}” is narrower somewhere than you asked: the panel ends there."
        missing = [n for n in detail.panels if n not in job.facts.panels]
        if missing:
            yield f"“{detail.name}” lies on panel {missing[0]}, and there is no such panel now: choose another."
    for piece in job.pattern.inked.values():
        yield from (f"{x.words}: {x.advice}." for x in crossings_of(piece, laid_parts(piece)))
    for seam in making.seams:
        if seam.name not in job.facts.joints:
            yield f"You decided about the seam “{seam.name}”, and no seam is called so now: decide about it anew."
    for edge in design.foam_work.edges:
        if line_word(edge.name) not in job.free_edges:
            yield f"You shaped the edge “{edge.name}”, and the piece has no such edge now."
    yield from _closed(job)


def _closed(job: Job) -> Iterator[str]:
    """Openings along lines that part nothing."""
    rows = job.pattern.design.rig.openings
    there = {key for inked in job.pattern.inked.values() for key in seams_to_open(LaidPiece(inked))}
    for row in rows:
        if row.line not in there:
            yield f"An opening by {row.kind} was set along the line “{row.line}”, and that parts no panels now."
