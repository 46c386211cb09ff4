"""A suit re-graded: every piece on the newest measures against what it was cut to before."""

from dataclasses import dataclass, replace

from vellumcut.core.errors import CraftError
from vellumcut.core.ink.library.table import TEMPLATES
from vellumcut.core.pattern.pattern import PiecePattern
from vellumcut.core.pattern.regrade import PanelChange, compare_patterns
from vellumcut.core.pattern.strips import strips_pattern
from vellumcut.service.body.scans import scanned_tubes, scans_folder
from vellumcut.service.errors import NotFound
from vellumcut.service.hands import done_together
from vellumcut.service.jobs import Job, start_job
from vellumcut.service.keeping import builds
from vellumcut.service.keeping.builds import Work
from vellumcut.service.pattern.patterns import pattern_of
from vellumcut.service.rows import fetch, readings_of
from vellumcut.store.database import Store
from vellumcut.store.models import MeasurementSet


@dataclass(frozen=True, eq=False)
class PieceChange:
    """What became of a piece. strips: what is to be glued on, as panels. trouble: why it cannot be laid on one of the
    two bodies."""

    piece: int
    name: str
    panels: tuple[PanelChange, ...] = ()
    strips: PiecePattern | None = None
    trouble: str = ""


@dataclass(frozen=True, eq=False)
class Regrade:
    """since: the day of the measures that the suit was cut to."""

    since: str
    pieces: tuple[PieceChange, ...]


def start_regrade(store: Store, build: int, since: int) -> Job:
    """Compare every piece of a build as cut to an older set of measures with the newest; the result is a Regrade.

    Raises NotFound when the set is not this wearer's.
    """
    row, wearer = next(((b, w) for b, w, _ in builds.list_builds(store) if b.id == build), (None, None))
    if row is None or wearer is None:
        raise NotFound(f"There is no build {build} here")
    with store.read() as session:
        older = fetch(session, MeasurementSet, since)
        if older.wearer_id != wearer.id:
            raise NotFound(f"Set {since} is not {wearer.name}'s")
        before = readings_of(older)
    folder = scans_folder(store)

    def work(job: Job) -> Regrade:
        now = builds.works_on(store, build)
        scanned = scanned_tubes(folder, before)
        pairs = [(replace(new, readings=before, scanned=scanned), new) for new in now]

        def tell(done: int) -> None:
            job.report(done / max(1, len(now)), f"{done} of {len(now)} pieces held against the body")

        # Pieces of the trunk come first: then only one of two processes builds the trunk, which takes longest.
        order = sorted(range(len(pairs)), key=lambda k: TEMPLATES[pairs[k][1].design.template].part != "torso")
        changes = dict(zip(order, done_together(regrade_piece, [pairs[k] for k in order], tell), strict=True))
        return Regrade(f"{before.taken_on:%Y-%m-%d}", tuple(changes[k] for k in range(len(pairs))))

    return start_job(f"Re-grading {row.name}", work)


def regrade_piece(pair: tuple[Work, Work]) -> PieceChange:
    """One piece as it was cut held against the body as it is now: the work of then, and of now."""
    old, new = pair
    try:
        pattern = pattern_of(new)
        changes = compare_patterns(pattern_of(old), pattern)
    except CraftError as error:
        return PieceChange(new.piece_id, new.name, trouble=error.message)
    return PieceChange(new.piece_id, new.name, tuple(changes), strips_pattern(pattern, changes))
