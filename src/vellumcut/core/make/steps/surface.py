"""Steps that make seams and edges ready for paint: ground, filled, covered, or made a line of the design."""

from dataclasses import dataclass

from vellumcut.core.design.making import SeamWay
from vellumcut.core.make.job import Job
from vellumcut.core.make.quantities import Material
from vellumcut.core.make.spent import spent
from vellumcut.core.make.step import Inspection, Step
from vellumcut.core.make.steps.prepare import SEALED
from vellumcut.core.notes import Value
from vellumcut.core.paces import Tempo

GRIND_WIDTH = 40.0
"""What is sanded beside a seam, mm, both sides together."""
RIM_CORNERS = 8.0
"""What is sanded of a rim beside its edge, mm: both rounded corners (est.)."""
SAND_ROUNDS = 3
"""Coarse, middle and fine; on a seam the last one over its filler (making.md, section 5)."""
FILL_COATS, FILL_DRY = 3, 30.0
"""Flexible filler, with a wetted finger; minutes to dry between (est.)."""


def seam_minutes(way: SeamWay, length: float, tempo: Tempo) -> float:
    """What one way of ending a seam costs in minutes, hands on. length: mm."""
    if way == "covered":
        return tempo.minutes("cover", length)
    if way == "design":
        return tempo.minutes("line design", length)
    return SAND_ROUNDS * tempo.minutes("sand", length * GRIND_WIDTH) + FILL_COATS * tempo.minutes("fill", length)


@dataclass(frozen=True)
class SeamCost:
    """One seam or dart, how it ends up, and the minutes of each way."""

    name: str
    length: float
    way: SeamWay
    minutes: dict[SeamWay, float]


def seam_costs(job: Job) -> list[SeamCost]:
    """Every seam and dart with what each way would cost."""
    ways: tuple[SeamWay, ...] = ("ground", "covered", "design")
    out = []
    for name in job.facts.joints:
        length = job.joint_length(name)
        each = {w: seam_minutes(w, length, job.tempo) for w in ways}
        out.append(SeamCost(name, length, job.facts.surface(name), each))
    return out


def _sanded(job: Job) -> float:
    """What is sanded in one round, mm2: beside ground joints, and the rim with both its corners."""
    ground = job.joint_length(*job.facts.surfaced("ground"))
    return ground * GRIND_WIDTH + job.rim_length * (job.pattern.design.foam + RIM_CORNERS)


def smooth(job: Job, _: str) -> Step:
    """Area along ground joints and rim over a pace."""
    ground = job.facts.surfaced("ground")
    length = job.joint_length(*ground)
    area = _sanded(job)
    drum = "rotary tool" in job.facts.owned.kit
    how = "Grind the seam flush at low speed" if drum else "Sand the seam flush with a block"
    seam = f"{how}, fine pass after coarse. " if length else ""
    trims = (
        ", and every trim's edge with it"
        if job.facts.making.detail_list("trim", "spanning trim", "strip round")
        else ""
    )
    where = "seams and rim" if length else "the rim"
    cost = spent(job.tempo, (f"along {where} in {SAND_ROUNDS} rounds", "sand", SAND_ROUNDS * area))
    return Step(
        "smooth",
        "Smooth",
        seam + f"Sand the rim round{trims}. Clean the dust off.",
        cost.minutes,
        0,
        cost.formula,
        cost.values,
        (),
        ("dust",),
        "Every line a finger feels, paint will show.",
        work="sand",
        stage="smooth",
        measures=(Value("ground seams", length),) if length else (),
        inspection=Inspection(
            "Eyes shut: does a finger not feel the seam?", "Fill the place, let it dry, grind it again at low speed."
        )
        if length
        else None,
    )


def fill(job: Job, _: str) -> Step:
    """Length of ground seams over a pace, three coats."""
    length = job.joint_length(*job.facts.surfaced("ground"))
    cost = spent(job.tempo, (f"in {FILL_COATS} coats", "fill", FILL_COATS * length))
    return Step(
        "fill",
        "Fill the seams",
        "Flexible filler with a wetted finger, thin; each coat dry before the next, sanded after the last.",
        cost.minutes,
        FILL_DRY,
        cost.formula,
        cost.values,
        (Material("flexible filler", max(5.0, length / 1000 * 12 * FILL_COATS), "ml"),),
        (),
        "One thick coat shrinks and cracks; three thin ones stay level.",
        work="fill",
        stage="smooth",
        about="seam",
        coats=FILL_COATS,
        between=FILL_DRY,
    )


def cover(job: Job, _: str) -> Step:
    """Length of covered seams over a pace."""
    names = job.facts.surfaced("covered")
    length = job.joint_length(*names)
    cost = spent(job.tempo, ("of seam", "cover", length))
    chosen = job.glue("trim")
    return Step(
        "cover",
        "Cover seams with a strip",
        f"{', '.join(names)}: a 2 mm strip, shaped to the curve first, over the seam. {chosen.how}",
        cost.minutes,
        chosen.ready,
        cost.formula,
        cost.values,
        (Material("2 mm foam strip", length / 1000 * 1.1, "m"), chosen.material(2 * length * 15, length)),
        (chosen.caution,),
        "What is covered is neither smoothed nor filled: the strip is the edge that is seen.",
        timer=chosen.timer,
        work="cover",
        stage="smooth",
        about="seam",
        measures=(Value("covered seams", length),),
    )


def line_design(job: Job, _: str) -> Step:
    """Length of seams shown over a pace."""
    names = job.facts.surfaced("design")
    length = job.joint_length(*names)
    cost = spent(job.tempo, ("of seam", "line design", length))
    return Step(
        "line-design",
        "Make seams a line of the design",
        f"{', '.join(names)}: cut along the seam on both sides at a slant, open it with heat to one even groove.",
        cost.minutes,
        0,
        cost.formula,
        cost.values,
        (),
        ("blades", "heat"),
        "A seam that is meant looks better than one that is nearly hidden, and takes a tenth of the hours.",
        work="line design",
        stage="smooth",
        about="seam",
    )


def reseal(job: Job, _: str) -> Step:
    """Sanded area over the heat gun's pace."""
    area = _sanded(job)
    school = job.facts.schools.sealing
    whole = school == "once at the end"
    cost = spent(
        job.tempo,
        ("of face" if whole else "of sanded places", "seal", 2 * job.pattern.area if whole else area),
    )
    return Step(
        "reseal",
        "Heat-seal both faces" if whole else "Heat-seal what was sanded",
        "Pass the gun over it until matt turns slightly glossy. Keep it moving, and off glued edges.",
        cost.minutes,
        5,
        cost.formula,
        cost.values,
        (),
        ("heat",),
        "Sanding opens the cells again: they drink primer and stay rough.",
        work="seal",
        stage="smooth",
        inspection=SEALED,
    )


def burn(job: Job, _: str) -> Step:
    """By eye."""
    return Step(
        "burn",
        "Burn the damage in",
        "Outdoors with a respirator: cuts opened with the gun's tip, a soldering point drawn along them.",
        15,
        0,
        "15 min by eye",
        (),
        (),
        ("burning", "heat"),
        "Smoke of foam is toxic; burnt after priming it would also foul the paint.",
        work="weather",
        stage="smooth",
        place="outdoors",
        protection=("vapour mask",),
    )
