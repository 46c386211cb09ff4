"""The bench as an answer."""

from vellumcut.api.making import schemas as m
from vellumcut.core.make.plan import PlannedPiece
from vellumcut.core.make.precedence import BY_KEY
from vellumcut.core.make.progress import StepState
from vellumcut.core.make.quantities import in_all
from vellumcut.core.make.step import Step
from vellumcut.core.make.steps.surface import seam_costs
from vellumcut.core.paces import PACES
from vellumcut.service.making import photographs
from vellumcut.service.making.plans import CostumeBench, PieceBench
from vellumcut.store.database import Store


def piece_bench(store: Store, bench: PieceBench) -> m.BenchOut:
    made = bench.piece
    whole, path = made.longest
    own = set(path)
    rows = [_step(s, bench.states[s.key], _links(made, s.key), made.depth[s.key], s.key in own) for s in made.ordered]
    used = dict.fromkeys(x.rule for x in made.plan.links if not x.hard and x.rule in BY_KEY)
    job = bench.job
    return m.BenchOut(
        piece_id=made.id,
        name=made.name,
        steps=rows,
        hours=m.HoursOut.model_validate(bench.hours),
        whole=whole,
        wrong=list(bench.wrong),
        gave_way=list(made.plan.gave_way),
        trouble=list(made.plan.trouble),
        soft=[m.RuleOut(key=k, reason=BY_KEY[k].reason, hard=False) for k in used],
        set_aside=[m.RuleOut(key=r.key, reason=r.reason, hard=False) for r in made.plan.set_aside],
        schools=made.facts.schools,
        learned=_learned(bench),
        photographs=[m.PhotographOut.model_validate(x) for x in photographs.photographs_of(store, made.id)],
        seams=seam_costs(job),
        materials=[x.words for x in in_all(s.materials for s in made.ordered)],
        edges=list(job.free_edges),
    )


def _learned(bench: PieceBench) -> list[m.LearnedOut]:
    out = []
    for work in dict.fromkeys(s.work for s in bench.piece.ordered):
        factor = bench.tempo.factor(work)
        if factor != 1.0:
            words = f"Your {PACES[work].words} takes {100 * factor:.0f} % of the estimate."
            out.append(m.LearnedOut(work=work, words=words, factor=factor))
    return out


def _links(made: PlannedPiece, key: str) -> list[m.StepLink]:
    return [
        m.StepLink(key=x.first, title=made.steps[x.first].title, rule=x.rule, hard=x.hard, reason=x.reason)
        for x in made.needed(key)
    ]


def _step(step: Step, state: StepState, before: list[m.StepLink], depth: int, longest: bool) -> m.StepOut:
    tick = state.tick
    checks = sorted(int(k[1:]) for k in tick.parts if k.startswith("c"))
    formula, values = step.formula, list(step.values)
    return m.StepOut(
        key=step.key,
        kind=step.kind,
        title=step.title,
        how=step.how,
        minutes=step.hands_on,
        estimate=step.minutes,
        setup=step.setup * step.factor,
        wait=step.wait,
        formula=formula,
        values=values,
        materials=[x.words for x in step.materials],
        cautions=list(step.cautions),
        reason=step.reason,
        timer=step.timer,
        work=step.work,
        stage=step.stage,
        about=step.about,
        place=step.place,
        tools=list(step.tools),
        protection=list(step.protection),
        coats=step.coats,
        between=step.between,
        inspection=step.inspection,
        checks=list(step.checks),
        state=state.state,
        until=state.until,
        before=before,
        coats_done=state.coats_done,
        checks_done=checks,
        lacks=list(state.lacks),
        done_at=tick.done_at,
        begun_at=tick.begun_at,
        took=tick.took,
        answer=tick.answer,
        note=tick.note,
        depth=depth,
        longest=longest,
    )


def costume_view(store: Store, bench: CostumeBench) -> m.CostumeBenchOut:
    return m.CostumeBenchOut(
        pieces=[piece_bench(store, b) for b in bench.pieces],
        hours=m.HoursOut.model_validate(bench.hours),
        own=[_step(s, state, [], k, True) for k, (s, state) in enumerate(bench.own)],
        bound=[m.BoundOut.model_validate(b) for b in bench.bound],
        batches=[
            m.BatchOut(
                title=b.title,
                place=b.place,
                items=[m.BatchItem(piece=p, key=k) for p, k in b.items],
                minutes=b.minutes,
            )
            for b in bench.batches
        ],
        unmade=[m.UnmadeOut(piece=p, name=n, trouble=t) for p, n, t in bench.unmade],
    )
