"""Darts: tried while the hand moves one, and planned."""

from vellumcut.api.body import schemas as b
from vellumcut.api.deps import Id, StoreDep, routes
from vellumcut.api.pattern import schemas as q
from vellumcut.api.views import flat_view, job_view, points
from vellumcut.core.pattern.dart_advice import DartAdvice
from vellumcut.service.errors import NotFound
from vellumcut.service.jobs import job_of
from vellumcut.service.keeping import builds
from vellumcut.service.pattern import darts

router = routes("darts")


@router.post("/pieces/{piece}/panels/{number}/cuts/try")
def try_cuts(store: StoreDep, piece: Id, number: Id, body: q.CutsIn) -> q.FlatOut:
    """The panel as it would lie with these darts instead of its own, on a coarse mesh. Keeps nothing."""
    return flat_view(darts.try_cuts(builds.work_on(store, piece), number, body.cuts, body.side))


@router.post("/pieces/{piece}/panels/{number}/dart-plans", status_code=202)
def plan_darts(store: StoreDep, piece: Id, number: Id, body: q.PlanIn) -> b.JobOut:
    """Plan darts for one panel; its progress is the job's, and what comes of it is fetched under the job's number."""
    return job_view(
        darts.start_plan(builds.work_on(store, piece), number, body.no_go, body.most, body.side, body.thorough)
    )


@router.get("/dart-plans/{job}")
def dart_plans(job: Id) -> q.AdviceOut:
    """What a planning job found, once it is done."""
    found = job_of(job).result
    if not (isinstance(found, tuple) and isinstance(found[1], DartAdvice)):
        raise NotFound("This job has planned no darts, or not yet")
    number, advice = found
    return q.AdviceOut(
        kind=advice.kind,
        panel=number,
        before=advice.before,
        limit=advice.limit,
        words=advice.words,
        plans=[
            q.DartPlanOut(
                cuts=list(p.cuts),
                edges=list(p.edges),
                p95=p.p95,
                length=p.length,
                seen=p.seen,
                flat=flat_view(p.flat),
            )
            for p in advice.plans
        ],
        splits=[
            q.SplitOut(
                kind=x.kind,
                cuts=list(x.cuts),
                p95=x.p95,
                width=x.width,
                words=x.words,
                flat=flat_view(x.flat),
                lines=[points(line) for line in x.lines],
            )
            for x in advice.splits
        ],
    )
