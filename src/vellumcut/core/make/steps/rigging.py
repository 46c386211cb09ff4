"""Steps of straps and closures, of fitting and of wearing."""

import re

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
    parts = job.rig_parts
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


CLOSING: tuple[tuple[str, str], ...] = (
    (r"\bzip\b", "Press the zip's foam strips on, zip closed while you do."),
    (r"over elastic$", "Lay the elastic at its marks, a 2 mm strip over each end."),
    (r"^webbing ends$", "Press the webbing ends on; the elastic is sewn to them."),
    (r"^webbing(?! ends)", "Press the webbing on at its marks, its hardware already sewn in."),
    (r"hook-and-loop", "The soft patches go on the foam, the hooks on the strap."),
    (r"^snaps", "Punch for the snaps, a washer behind each."),
    (r"^hooks", "Sew the hooks to the shoe where its loops reach them while it is worn."),
    (r"^ratchets", "Rivet ladder and ratchet, washers under all rivets."),
    (r"^couples of magnets", "Set the magnets pole by pole, each tried before the next."),
)
"""What is done with each thing that closes a piece, told by the part's name: said only where the part is there."""
ASKED: tuple[tuple[str, str], ...] = (
    (r"\bplates\b", "Do hung plates just touch, and does every anchor hold a strong pull?"),
    (r"\bzip\b", "Does the zip slide over its whole length?"),
    (r"hook-and-loop", "Does the hook-and-loop hold a strong pull?"),
)
"""What is asked of it, the first that fits."""


def _closing_words(job: Job) -> str:
    """What is done to close it, by what its rig is made of and the maker's schools."""
    told = [words for name, words in CLOSING if any(re.search(name, p.name) for p in job.rig_parts)]
    if any(p.set_by == "punch" for p in job.rig_parts):
        backed = job.facts.schools.eyelets == "backed"
        told.append("Punch through the strip and set the eyelets." if backed else "Punch, and set the eyelets.")
    if job.strap_ends and job.glue("anchor", "cloth").glue == "contact cement":
        told.append("When it is hard, brush sealer over the strap ends: sweat gets under bare webbing.")
    return " ".join(told)


def _fixed(job: Job) -> str:
    """How its parts are glued, in the words of the rig sheet, each once."""
    told = (p.glue.rpartition("inside: ")[2] for p in job.rig_parts if p.glue != "none")
    return " ".join(f"{x[0].upper()}{x[1:]}." for x in dict.fromkeys(told))


def close(job: Job, _: str) -> Step:
    """Minutes a part of the closure, clamped overnight where it is cemented."""
    holes = sum(p.count for p in job.rig_parts if p.set_by == "punch") * job.alike
    others = sum(p.count for p in job.rig_parts if p.set_by == "fasten") * job.alike
    chosen, area = job.glue("anchor", "cloth"), job.patch_area
    cost = spent(
        job.tempo, ("ends", "fasten", job.strap_ends), ("other parts", "fasten", others), ("eyelets", "punch", holes)
    )
    asked = (words for name, words in ASKED if any(re.search(name, p.name) for p in job.rig_parts))
    return Step(
        "close",
        "Fit the closure",
        f"{_fixed(job)} {_closing_words(job)} {chosen.warning if area else ''}".strip(),
        cost.minutes,
        chosen.clamp if area else 0.0,
        cost.formula,
        cost.values,
        (chosen.material(area * (1 + BED_COATS / chosen.coats), area / 40),) if area else (),
        (chosen.caution,) if area else (),
        f"Loaded joints rest overnight. {chosen.reason}" if area else "A lace draws evenly from hole to hole.",
        timer=chosen.timer if area else "",
        work="fasten",
        stage="finish" if job.facts.schools.rigging == "temporary, then permanent" else "fit",
        about="anchor",
        inspection=Inspection(
            next(asked, "Does every anchor hold a strong pull?" if area else "Does every eyelet hold a strong pull?"),
            "Peel it off, open the bed again, coat cloth three times, clamp it overnight."
            if area
            else "Set the next larger eyelet, with a strip behind it.",
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
