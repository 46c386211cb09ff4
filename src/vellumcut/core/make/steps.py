"""Build steps of a piece, each made from the piece's own geometry."""

from vellumcut.core.body.segments import BodyPart
from vellumcut.core.layout.pattern import PiecePattern
from vellumcut.core.make import quantities as use
from vellumcut.core.make.glue import cement_window
from vellumcut.core.make.job import Job, Step
from vellumcut.core.make.quantities import Material
from vellumcut.core.notes import Value

CUT_PACE, TRACE_PACE, SEAM_PACE, RIM_PACE = 300.0, 900.0, 120.0, 400.0
"""mm of line worked in a minute: cutting, tracing, pressing a seam, rounding a rim (est.)."""
HEAT_PACE, SAND_PACE, BRUSH_PACE = 0.02, 0.012, 0.03
"""m2 of one face worked in a minute: sealing with heat, sanding, brushing or spraying a coat (est.)."""
CLAMP = 12 * 60.0


TRY_ON: dict[BodyPart, str] = {
    "torso": "Take a full breath, reach forward, sit down.",
    "neck": "Turn the head, and drop the chin.",
    "shoulder": "Lift the arm forward and to the side.",
    "knee": "Kneel, and take a stair.",
    "foot": "Walk, and rise on the toes.",
}
"""What the wearer does in a taped piece; on a limb the joints at both its ends are bent."""
BEND_JOINTS = "Bend the joint at each end."


def trace(job: Job) -> Step:
    """Outline length over a pace, and some minutes a part."""
    pattern = job.pattern
    face = (
        "the back of the foam, so the pattern lies mirrored"
        if pattern.design.drawn_face == "outer"
        else "the back, as drawn"
    )
    twins = sum(p.twin for p in pattern.panels)
    turn = "Trace once, turn the pattern over, trace again: one left, one right. " if twins else ""
    return Step(
        "trace",
        "Trace and label",
        f"Flatten a curled sheet with gentle heat. Trace on {face}. {turn}"
        "Write on every part at once: name, side, number, up arrow, foam.",
        pattern.cut_length / TRACE_PACE + 3 * pattern.copies,
        0,
        "{0} outline / {1} a minute + 3 min for each of {2} parts",
        (Value("outline", pattern.cut_length), Value("pace", TRACE_PACE), Value("parts", pattern.copies, "count")),
        (*_sheets(pattern), Material("marker", 1, "x")),
        (),
        "A part with no label, and two left parts, are the classic losses.",
    )


def _sheets(pattern: PiecePattern) -> list[Material]:
    """Foam to have ready, by sheet."""
    areas: dict[str, float] = {}
    for p in pattern.panels:
        name = f"{p.layer.thickness:g} mm {p.layer.kind} foam"
        areas[name] = areas.get(name, 0.0) + p.flat.area * p.copies
    return [Material(name, area / 1e6 * use.EDGE_WASTE, "m2") for name, area in areas.items()]


def cut(job: Job) -> Step:
    """Outline length over a pace; blades by thickness."""
    pattern = job.pattern
    thin = pattern.design.foam <= 2
    tool = (
        "Scissors do for foam this thin."
        if thin
        else "One pull with a sharp blade, upright; tip it up before tight inner corners."
    )
    return Step(
        "cut",
        "Cut out",
        f"{tool} Cut square along the outline, no bevel yet: it is the wider face of every edge. Cut the registration ticks as pencil marks, not as slits.",
        pattern.cut_length / CUT_PACE,
        0,
        "{0} outline / {1} a minute",
        (Value("outline", pattern.cut_length), Value("pace", CUT_PACE)),
        () if thin else (use.blades(pattern.cut_length, pattern.design.foam),),
        ("blades",),
        "A dull blade leaves ragged edges that will not glue: a fresh edge every few metres.",
    )


def heat_seal(job: Job) -> Step:
    """Both faces over a pace."""
    area = job.pattern.area
    return Step(
        "heat-seal",
        "Heat-seal both faces",
        "Pass the heat gun evenly over both faces until matt turns slightly glossy. Keep it moving.",
        2 * area / 1e6 / HEAT_PACE + 3,
        5,
        "2 faces x {0} / 0.02 m² a minute + 3 min to set up",
        (Value("area", area, "mm2"),),
        (),
        ("heat",),
        "Open cells drink paint and cement. Sealing closes them; anchors for straps are opened again later.",
    )


def dry_fit(job: Job) -> Step:
    """Minutes a part, taped on the wearer."""
    move = TRY_ON.get(job.facts.part, BEND_JOINTS)
    tape = "Tape its parts together and on to the wearer" if job.facts.drawn else "Tape it closed on the wearer"
    return Step(
        "dry-fit",
        "Dry fit with tape",
        f"{tape}, over the real base layer. {move} "
        "Write down where it is tight or loose: the Logbook turns that into a new pattern.",
        8 * job.pattern.copies,
        0,
        "{0} parts x 8 min",
        (Value("parts", job.pattern.copies, "count"),),
        (Material("low-tack tape", 1, "m"),),
        ("wearing",),
        "A wrong fit costs a strip of tape now and the whole piece after glue.",
    )


def glue(job: Job) -> Step:
    """Both edges of every joint over a pace, minutes an anchor; the cement waits its window."""
    window = cement_window(job.room)
    seam = job.pattern.joined_length
    what = []
    if job.facts.glued:
        what.append(f"Brush a thin coat of contact cement on both faces of {_joints(job)}.")
    if job.facts.strapped:
        what.append(
            "Open the foam under every anchor and strip with sandpaper. Brush cement on foam and cloth, two coats on the cloth."
        )
    edge = 2 * seam + job.backed_length
    formula, values = "{0} of edge / {1} a minute + 3 min", [Value("edge", edge), Value("pace", SEAM_PACE)]
    if job.strap_ends:
        formula = "{0} of edge / {1} a minute + 4 min for each of {2} anchors + 3 min"
        values.append(Value("anchors", job.strap_ends, "count"))
    return Step(
        "glue",
        "Cement",
        " ".join(what) + " Start the timer; do not press before it rings.",
        edge / SEAM_PACE + 4 * job.strap_ends + 3,
        window.ready / 60,
        formula,
        tuple(values),
        (use.cement(job.pattern.joined_area, job.patch_area),),
        ("solvents",),
        "Contact cement bonds only when both faces are dry to the touch, and then at once: no second try.",
        timer="cement",
    )


def _joints(job: Job) -> str:
    """What is glued, in words."""
    if not job.facts.drawn and job.facts.joins:
        return "the closing seam and the darts" if job.facts.darts else "the closing seam"
    if job.facts.joins:
        return "every seam and dart" if job.facts.darts else "every seam"
    return "every dart"


def close(job: Job) -> Step:
    """Pressing joints, or fitting the closure of a shell that opens."""
    return fasten(job) if job.facts.strapped else press("close", job)


def press(key: str, job: Job) -> Step:
    """Joint length over a pace; it holds at once."""
    length = job.pattern.joined_length
    first = "Darts first, then the seams. " if job.facts.darts and job.facts.joins else ""
    title = "Press the seams shut" if job.facts.joins else "Press the darts shut"
    return Step(
        key,
        title,
        f"{first}Line up the middle marks, press, work out to both ends tick by tick. Use the table to keep the faces level. "
        "It holds as soon as it is pressed: no clamp.",
        length / SEAM_PACE + 2,
        0,
        "{0} to press / {1} a minute + 2 min",
        (Value("joints", length), Value("pace", SEAM_PACE)),
        (),
        ("solvents",),
        "From the middle outward a small mismatch is shared by both ends. A plain butt seam is pressed and done.",
    )


def fasten(job: Job) -> Step:
    """Minutes a part of the closure, clamped overnight."""
    kind = job.pattern.design.closure
    parts = sum(p.count for rig in job.rigs for p in rig.parts) * max(1, job.pattern.copies // max(1, len(job.rigs)))
    names = {
        "none": "Press the webbing ends on; the elastic is sewn to them.",
        "lacing": "Cement the backing strips inside both edges, punch, set the eyelets.",
        "hook-and-loop": "Press the webbing on; put the soft patches on the other edge.",
        "buckles": "Press tongue and holder webbing on, the buckles already sewn in.",
        "zip": "Press the zip's foam strips inside the closing edges, zip closed while you do.",
    }
    return Step(
        "close",
        "Fit the closure",
        names[kind] + " Clamp overnight.",
        3.0 * parts + 5,
        CLAMP,
        "{0} parts x 3 min + 5 min",
        (Value("parts", parts, "count"),),
        (),
        ("solvents",),
        "Loaded joints rest overnight. Closures hide at the back, where the eye does not go.",
    )


def smooth(job: Job) -> Step:
    """Area along joints and rim over a pace."""
    length = job.pattern.joined_length
    area = length * 40 + job.rim_length * job.pattern.design.foam
    seam = (
        "Grind the seam flush at low speed, fill gaps with flexible filler in thin coats, fine pass after coarse. "
        if length
        else ""
    )
    return Step(
        "smooth",
        "Smooth",
        seam + "Sand the rim round. Pass heat over sanded places again: sanding opens the cells. Clean the dust off.",
        area / 1e6 / SAND_PACE + 5,
        30 if length else 0,
        "{0} along " + ("seams and rim" if length else "the rim") + " / 0.012 m² a minute + 5 min",
        (Value("area", area, "mm2"),),
        (Material("flexible filler", 20, "ml"),) if length else (),
        ("dust", "heat"),
        "Every line a finger feels, paint will show.",
    )


def line(job: Job) -> Step:
    """Joint length over a pace."""
    length = job.pattern.joined_length
    return Step(
        "line",
        "Line the joints inside",
        f"Lay a {use.SEAM_STRIP:.0f} mm fabric strip in adhesive over the inside of every joint; brush flexible sealer over it.",
        length / SEAM_PACE + 3,
        60,
        "{0} of joint / {1} a minute + 3 min",
        (Value("joints", length), Value("pace", SEAM_PACE)),
        (Material(f"fabric strip {use.SEAM_STRIP:.0f} mm wide", length / 1000, "m"),),
        ("solvents",),
        "Sweat and warmth loosen contact-cement seams over a long day.",
    )


def rig(job: Job) -> Step:
    """Minutes a sewn part."""
    parts = [p for plan in job.rigs for p in plan.parts]
    stitches = sum(p.count for p in parts if p.length)
    return Step(
        "rig",
        "Cut and sew the rigging",
        "Cut to the lengths on the Rig page, heat-seal the ends, sew.",
        4.0 * stitches + 5,
        0,
        "{0} pieces x 4 min + 5 min",
        (Value("pieces", stitches, "count"),),
        tuple(
            Material(p.name, p.count * max(p.length, 1) / (1000 if p.length else 1), "m" if p.length else "x")
            for p in parts
        ),
        (),
        "Anchors pull in line with the foam, near the edge that would lift.",
    )


def test_fit(job: Job) -> Step:
    """A quarter of an hour on the wearer."""
    held = "" if job.facts.strapped else "Tape it where its straps will hold it. "
    return Step(
        "test-fit",
        "Test fit with rigging" if job.facts.strapped else "Test fit",
        held + "Wear it for ten minutes: walk, sit, reach, take it off alone. Note every station as tight or loose.",
        15,
        0,
        "15 min on the wearer",
        (),
        (),
        ("wearing",),
        "Before paint, everything can still be changed.",
    )
