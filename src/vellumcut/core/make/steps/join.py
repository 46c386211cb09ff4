"""Steps that put a piece together: taped try-on, darts, seams, cups, and what is done inside them."""

from vellumcut.core.body.segments import BodyPart
from vellumcut.core.ink.templates import CLOSING
from vellumcut.core.make.job import Job
from vellumcut.core.make.quantities import SEAM_STRIP, Material
from vellumcut.core.make.spent import spent
from vellumcut.core.make.step import Inspection, Step
from vellumcut.core.notes import Value

TRY_ON: dict[BodyPart, str] = {
    "torso": "Take a full breath, reach forward, sit down.",
    "neck": "Turn the head, and drop the chin.",
    "shoulder": "Lift the arm forward and to the side.",
    "knee": "Kneel, and take a stair.",
    "foot": "Walk, and rise on the toes.",
}
"""What the wearer does in a taped piece; on a limb the joints at both its ends are bent."""
FITS = 2
"""How often a taped piece goes on: once to see, once more after what was changed (making.md, section 5)."""
BEND_JOINTS = "Bend the joint at each end."
MEETS = Inspection(
    "Do the marks meet, and are both faces level?",
    "Warm the place, open it with a blade, coat both faces again, and press it from the middle mark out.",
)

ONE_OF_EACH = Inspection("Do the marks meet, both faces level, and is it one left and one right?", MEETS.mend)
"""Told apart at tracing, and again where two left halves would be glued."""


def dry_fit(job: Job, _: str) -> Step:
    """Minutes a part, taped on the wearer."""
    move = TRY_ON.get(job.facts.part, BEND_JOINTS)
    tape = "Tape its parts together and on to the wearer" if job.facts.drawn else "Tape it closed on the wearer"
    cost = spent(job.tempo, ("parts", "try on", job.pattern.copies), ("times on and off again", "try on", FITS))
    return Step(
        "dry-fit",
        "Dry fit with tape",
        f"{tape}, over the real base layer. {move} "
        "Write down where it is tight or loose: the Logbook turns that into a new pattern.",
        cost.minutes,
        0,
        cost.formula,
        cost.values,
        (Material("low-tack tape", 1, "m"),),
        ("wearing",),
        "A wrong fit costs a strip of tape now and the whole piece after glue.",
        work="try on",
        stage="shape",
        checks=tuple(c.text for c in job.facts.making.checklist),
        inspection=Inspection(
            "Does it fit where it is taped, and is it like the reference?",
            "Note in the Logbook where it is tight or loose, take the new pattern, and cut again what changed.",
        ),
    )


def dust_joints(job: Job, _: str) -> Step:
    """Area over a pace."""
    cost = spent(job.tempo, ("of face", "dust", job.pattern.area))
    return Step(
        "dust-glue",
        "Take the dust off",
        "Brush and a damp cloth over every face and edge that is glued next; let it dry.",
        cost.minutes,
        5,
        cost.formula,
        cost.values,
        (),
        ("dust",),
        "Glue on dust holds the dust.",
        work="dust",
        stage="join",
    )


def dust_beds(job: Job, _: str) -> Step:
    """Minutes an anchor."""
    cost = spent(job.tempo, ("anchors", "check", max(1, job.strap_ends) / 3))
    return Step(
        "dust-beds",
        "Take the dust off the beds",
        "Brush and a damp cloth over every bed, then the tape off its edge last of all.",
        cost.minutes,
        5,
        cost.formula,
        cost.values,
        (),
        ("dust",),
        "Glue on dust holds the dust, and here it is pulled at all day.",
        work="check",
        stage="fit",
        about="anchor",
    )


def _glued(job: Job, key: str, title: str, name: str, how: str, reason: str, kind: str, about: str) -> Step:
    length, area = job.joint_length(name), job.joint_area(name)
    chosen = job.glue("cup" if kind == "cup" else "dart" if kind == "dart" else "butt seam", "foam", name)
    cost = spent(job.tempo, ("of edge", "seam", 2 * length), ("to press", "press", length))
    strip = " A line of hot glue along the inside of it holds thin foam." if chosen.glue == "hot glue" else ""
    return Step(
        key,
        title,
        f"{chosen.how} {how}{strip} {chosen.warning}".strip(),
        cost.minutes,
        chosen.clamp,
        cost.formula,
        cost.values,
        (chosen.material(2 * area, length),),
        (chosen.caution,),
        f"{reason} {chosen.reason}",
        timer=chosen.timer,
        work="seam",
        stage="join",
        about="dart" if about == "dart" else "seam",
        measures=(Value("edge", length),),
        inspection=ONE_OF_EACH if job.facts.paired else MEETS,
    )


def dart(job: Job, name: str) -> Step:
    """Both legs over a pace, then pressed."""
    how = "Tip first, then tick by tick to the mouth."
    reason = "A dart that starts at its mouth runs out of leg at the tip."
    return _glued(job, f"dart:{name}", f"Close {_named(name, 'dart')}", name, how, reason, "dart", "dart")


def seam(job: Job, name: str) -> Step:
    """Both edges over a pace, then pressed."""
    how = (
        "Line up the middle marks, press, work out to both ends tick by tick. Use the table to keep the faces level. "
        "It holds as soon as it is pressed: no clamp."
    )
    slit = next((s.stays_open for s in job.facts.seams if s.name == name), None)
    if slit:
        how += (
            f" Leave it open from {slit[0]:.0f} mm to {slit[1]:.0f} mm above its lower end, a cloth patch behind "
            "each end of that."
        )
    reason = "From the middle outward a small mismatch is shared by both ends. A plain butt seam is pressed and done."
    return _glued(job, f"seam:{name}", f"Glue {_named(name, 'seam')}", name, how, reason, "butt seam", "seam")


def cup(job: Job, name: str) -> Step:
    """Rim and opening over a pace, then pressed."""
    how = (
        "Set the cup into its opening at its marks: top, bottom, both sides, then between them, a hand's width at "
        "a time."
    )
    reason = "A cup that is pressed round from one side ends with a fold at the other."
    step = _glued(job, f"cup:{name}", f"Set in {_named(name, 'cup')}", name, how, reason, "cup", "seam")
    return step


def sub_fit(job: Job, _: str) -> Step:
    """Some minutes on the wearer."""
    cost = spent(job.tempo, ("try", "try on", 1))
    return Step(
        "sub-fit",
        "Hold it on the wearer again",
        "With the cups in, tape it on over the real base layer: apex on apex, both at one height, room to breathe.",
        cost.minutes,
        0,
        cost.formula,
        cost.values,
        (),
        ("wearing",),
        "After each part that is glued in, the next one is fitted to what is there, not to what was drawn.",
        work="try on",
        stage="join",
        inspection=Inspection(
            "Do both cups sit alike and on the body?", "Warm the rim and ease it, or open it and set the cup in again."
        ),
    )


def _named(name: str, word: str) -> str:
    if name == CLOSING:
        return "the closing seam"
    return f"the {name}" if word in name else f"the {name} {word}"


def surplus(job: Job, _: str) -> Step:
    """Length of free edges that cups and collar leave over."""
    length = sum(job.joint_length(s.name) for s in job.facts.cups)
    length += sum(job.detail_length(d) for d in job.facts.making.detail_list("collar"))
    cost = spent(job.tempo, ("to trim", "cut", length))
    return Step(
        "surplus",
        "Trim what is left over",
        "Where cup, collar or hem stand past each other, draw the line anew on the glued piece and cut along it.",
        cost.minutes,
        0,
        cost.formula,
        cost.values,
        (),
        ("blades",),
        "Trimmed before all is glued, the edge comes out too short.",
        work="cut",
        stage="join",
        inspection=Inspection(
            "Folded in half, is it symmetric, and do both halves stand at one angle?",
            "Draw the shorter half's line on the other one and trim to it.",
        ),
    )


def clay(job: Job, _: str) -> Step:
    """Length of joints that hot glue leaves gaping and no strip covers."""
    length = job.joint_length(*job.facts.shown)
    cost = spent(job.tempo, ("of joint", "fill", length))
    return Step(
        "clay",
        "Fill the gaps with foam clay",
        f"Press foam clay into {_every_shown(job)} with a wet finger, level it, let it dry; then it sands like dense "
        "foam.",
        cost.minutes,
        24 * 60,
        cost.formula,
        cost.values,
        (Material("foam clay", length / 1000 * 8, "g"),),
        (),
        "Hot glue holds the faces a little apart, and paint shows every gap.",
        work="fill",
        stage="smooth",
        about="seam",
    )


def _every_shown(job: Job) -> str:
    shown = job.facts.shown
    return "every seam" if len(shown) == len(job.facts.joints) else ", ".join(shown)


def dam(job: Job, _: str) -> Step:
    """Joint length over a pace."""
    length, liner = job.joint_length(*job.facts.joints), job.facts.schools.liner
    area = job.pattern.face_area
    words = {
        "strips": f"Lay a {SEAM_STRIP:.0f} mm stretch-cloth strip in adhesive over the inside of every joint; brush "
        "sealer over it.",
        "full": "Line the whole inside with soft cloth on spray adhesive, from the middle out"
        + ("; brush sealer over the joints first." if length else "."),
        "bodice": f"Lay a {SEAM_STRIP:.0f} mm stretch-cloth strip in adhesive over the inside of every joint; the "
        "bodice is sewn over them when all paint is dry.",
        "none": "",
    }
    cost = spent(job.tempo, ("of joint", "dam", length), ("of lining", "laminate", area if liner == "full" else 0.0))
    cloth = Material(f"stretch cloth {SEAM_STRIP:.0f} mm wide", length / 1000, "m")
    if liner == "full":
        cloth = Material("soft lining cloth", area / 1e6 * 1.2, "m2")
    return Step(
        "dam",
        "Line the inside" if liner == "full" else "Line the joints inside",
        words[liner],
        cost.minutes,
        60,
        cost.formula,
        cost.values,
        (cloth,),
        ("solvents",),
        "Sweat and warmth loosen seams over a long day." if length else "Soft cloth spares the skin over a long day.",
        work="dam",
        stage="paint",
        about="seam",
        measures=(Value("joints", length),),
    )


def bodice(job: Job, _: str) -> Step:
    """The rim that it is sewn to, over the pace of a needle."""
    length = job.rim_length
    cost = spent(job.tempo, ("of rim", "stitch", length))
    return Step(
        "bodice",
        "Sew in the bodice",
        "When all paint is hard: pin the fabric bodice to its marks on the wearer, then sew it along the rim.",
        cost.minutes,
        0,
        cost.formula,
        cost.values,
        (Material("bodice of stretch fabric", 1, "x"),),
        (),
        "Cloth that is sewn in before paint is painted, glued and sanded on with the rest.",
        work="stitch",
        stage="finish",
        measures=(Value("rim", length),),
    )
