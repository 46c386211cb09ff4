"""Steps of straps and closures, of fitting and of wearing."""

from vellumcut.core.make.job import Job
from vellumcut.core.make.quantities import Material
from vellumcut.core.make.spent import spent
from vellumcut.core.make.step import Inspection, Step
from vellumcut.core.rig.anchors import BED
from vellumcut.core.rig.fixing import BED_COATS


def temporary(job: Job, _: str) -> Step:
    """Minutes a strap."""
    cost = spent(job.tempo, ("straps", "fasten", max(1, job.strap_ends // 2)))
    return Step(
        "temp-rig",
        "Strap it for a try",
        "Tape and scrap webbing where the straps will lie, at the lengths of the Rig page.",
        cost.minutes,
        0,
        cost.formula,
        cost.values,
        (Material("strong tape", 2, "m"),),
        (),
        "A temporary strap proves fit and movement while everything can still be changed.",
        work="fasten",
        stage="fit",
        about="anchor",
    )


def worn_fit(job: Job, _: str) -> Step:
    """Half an hour on the wearer."""
    held = "" if job.facts.strapped else "Tape it where its straps will hold it. "
    return Step(
        "test-fit",
        "Test fit with rigging" if job.facts.strapped else "Test fit",
        held + "Wear it for ten minutes: walk, sit, reach, take it off alone. Note every station as tight or loose.",
        30,
        0,
        "30 min on the wearer, with what is changed and tried again",
        (),
        (),
        ("wearing",),
        "Before paint, everything can still be changed.",
        work="try on",
        stage="fit",
        inspection=Inspection(
            "Ten minutes worn: nothing pinches, nothing gapes, it comes off alone?",
            "Ease it with heat, move the strap, or note it in the Logbook and cut that panel again.",
        ),
    )


def beds(job: Job, _: str) -> Step:
    """Minutes an anchor."""
    school = job.facts.schools.bed
    if school == "by glue":
        cements, drum = job.glue("anchor", "cloth").glue == "contact cement", "rotary tool" in job.facts.owned.kit
        school = "mesh of scores" if not cements else "drum" if drum else "crosses opened by heat"
    words = {
        "drum": "Grind the sealed face open with a fine drum, a few mm inside a line of tape.",
        "crosses opened by heat": "Cut crosses half a mm deep inside a line of tape, and open them with the gun.",
        "mesh of scores": "Score a mesh inside a line of tape: hot glue grips in the cuts.",
    }
    edge = job.backed_length / BED
    cost = spent(job.tempo, ("anchors", "bed", job.strap_ends), ("lengths along the edges", "bed", edge))
    return Step(
        "beds",
        "Open the beds of the anchors",
        words[school] + " The tape keeps glue off what is seen.",
        cost.minutes,
        0,
        cost.formula,
        cost.values,
        (),
        ("dust",) if school == "drum" else ("blades",),
        "A sealed or painted face does not hold what pulls at it.",
        work="bed",
        stage="fit",
        about="anchor",
    )


def rig(job: Job, _: str) -> Step:
    """Minutes a sewn part."""
    parts = [p for plan in job.rigs for p in plan.parts]
    cost = spent(
        job.tempo,
        ("pieces to cut", "label", sum(p.count for p in parts if p.length) * job.alike),
        ("ends to sew", "sew", sum(p.count * p.sewn for p in parts) * job.alike),
    )
    return Step(
        "rig",
        "Cut and sew the rigging",
        "Cut to the lengths on the Rig page, heat-seal the ends of webbing, sew what is sewn."
        if parts
        else "Nothing to cut: its straps are those of the piece that hangs on it. Have them ready.",
        cost.minutes,
        0,
        cost.formula,
        cost.values,
        tuple(
            Material(
                p.name, job.alike * p.count * max(p.length, 1) / (1000 if p.length else 1), "m" if p.length else "x"
            )
            for p in parts
        ),
        (),
        "Anchors pull in line with the foam, near the edge that would lift.",
        work="sew",
        stage="fit",
        about="anchor",
    )


def _closing_words(job: Job) -> str:
    """What is done to close it, by its kind and the maker's schools."""
    backed = job.facts.schools.eyelets == "backed"
    names = {
        "none": (
            "Press the webbing on at its marks, rings and buckles already sewn in."
            if job.facts.drawn
            else "Lay the elastic at its marks, a 2 mm strip over each end."
            if job.facts.schools.elastic == "glued under a strip"
            else "Press the webbing ends on; the elastic is sewn to them."
        ),
        "lacing": (
            "Then punch through it, and set the eyelets." if backed else "Punch, and set the eyelets in the bare foam."
        ),
        "hook-and-loop": "Press the webbing on; put the soft patches on the other edge.",
        "buckles": "Press the webbing on at its marks, the buckles already sewn in.",
        "zip": "Press the zip's foam strips inside the closing edges, zip closed while you do.",
    }
    return names[job.pattern.design.closure]


def _fixed(job: Job) -> str:
    """How its parts are glued, in the words of the rig sheet, each once."""
    told = (p.glue.rpartition("inside: ")[2] for plan in job.rigs for p in plan.parts if p.glue != "none")
    return " ".join(f"{x[0].upper()}{x[1:]}." for x in dict.fromkeys(told))


def close(job: Job, _: str) -> Step:
    """Minutes a part of the closure, clamped overnight where it is cemented."""
    kind = job.pattern.design.closure
    parts = [p for plan in job.rigs for p in plan.parts]
    holes = sum(p.count for p in parts if p.set_by == "punch") * job.alike
    others = sum(p.count for p in parts if p.set_by == "fasten") * job.alike
    backed = job.facts.schools.eyelets == "backed"
    chosen = job.glue("anchor", "cloth")
    cost = spent(
        job.tempo, ("ends", "fasten", job.strap_ends), ("other parts", "fasten", others), ("eyelets", "punch", holes)
    )
    glue = "" if kind == "lacing" and not backed else _fixed(job)
    questions = {
        "zip": "Does the zip slide over its whole length?",
        "hook-and-loop": "Does the hook-and-loop hold a strong pull?",
    }
    return Step(
        "close",
        "Fit the closure",
        f"{glue} {_closing_words(job)} {chosen.warning}".strip(),
        cost.minutes,
        chosen.clamp,
        cost.formula,
        cost.values,
        (chosen.material(job.patch_area * (1 + BED_COATS / chosen.coats), job.patch_area / 40),),
        (chosen.caution,),
        f"Loaded joints rest overnight. {chosen.reason}",
        timer=chosen.timer,
        work="fasten",
        stage="finish" if job.facts.schools.rigging == "temporary, then permanent" else "fit",
        about="anchor",
        inspection=Inspection(
            questions.get(kind, "Does every anchor hold a strong pull?"),
            "Peel it off, open the bed again, coat cloth three times, clamp it overnight.",
        ),
    )


def final_fit(job: Job, _: str) -> Step:
    """Twenty minutes on the wearer."""
    return Step(
        "final-fit",
        "Final fit",
        "Put it on alone, over the real base layer. Every strap at its mark; marks for the tails.",
        20,
        0,
        "20 min on the wearer",
        (),
        (),
        ("wearing",),
        "A belt that is tight on the stand is loose on a walk.",
        work="try on",
        stage="finish",
        inspection=Inspection(
            "Is it tight enough when worn, and free where you bend?",
            "Move the strap to the next mark; sew it anew if there is none.",
        ),
    )
