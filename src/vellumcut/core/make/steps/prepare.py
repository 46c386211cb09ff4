"""Steps from paper to cut parts."""

from vellumcut.core.make import quantities as use
from vellumcut.core.make.job import Job
from vellumcut.core.make.quantities import Material
from vellumcut.core.make.spent import spent
from vellumcut.core.make.step import Inspection, Step
from vellumcut.core.notes import Value
from vellumcut.core.pattern.pattern import PiecePattern

SEALED = Inspection("Is every face slightly glossy all over?", "Go over the matt places again, gun moving.")


def number(job: Job, _: str) -> Step:
    """Minutes a part."""
    parts = job.pattern.copies
    cost = spent(job.tempo, ("parts", "print", parts))
    marks = " ".join(f"{n}." for n in dict.fromkeys(p.label.code for p in job.pattern.panels))
    return Step(
        "number",
        "Number the parts, draw their marks",
        "Print the pages, measure the test square, join them. Check that every panel carries its name, number, up "
        "arrow and "
        f"marks before anything is cut apart, paper or cast: {marks}",
        cost.minutes,
        0,
        cost.formula,
        cost.values,
        (Material("marker", 1, "x"),),
        (),
        "Once a cast is cut apart, nothing tells which piece was which or where they met.",
        work="print",
        inspection=Inspection("Is the test square true?", "Type what it measures on the Cut page and print again."),
    )


def cut_paper(job: Job, _: str) -> Step:
    """Outline length over a pace."""
    length = sum(p.flat.outline_length for p in job.pattern.panels)
    cost = spent(job.tempo, ("of paper", "trace", length))
    return Step(
        "cut-paper",
        "Cut the pattern apart",
        "Cut along the outlines. Where a cast is the pattern, cut it along its ink and press each piece flat.",
        cost.minutes,
        0,
        cost.formula,
        cost.values,
        (),
        ("blades",),
        "A piece that does not lie flat here will not lie flat in foam.",
        work="trace",
        inspection=Inspection(
            "Does every piece lie flat, its darts open?" if job.facts.darts else "Does every piece lie flat?",
            "Cut a dart where it stands up, and draw the line into the ink.",
        ),
    )


def warm_flat(job: Job, _: str) -> Step:
    """Area over the pace of a heat gun."""
    area = job.pattern.area
    cost = spent(job.tempo, ("of sheet", "seal", area))
    return Step(
        "warm-flat",
        "Warm the sheet flat",
        "Unroll the sheet and warm its curled end, weigh it down till it is cold.",
        cost.minutes,
        5,
        cost.formula,
        cost.values,
        (),
        ("heat",),
        "On a curled sheet an outline is traced too small.",
        work="seal",
    )


def trace(job: Job, _: str) -> Step:
    """Outline length over a pace, and some minutes a part."""
    pattern = job.pattern
    face = (
        "the back of the foam, so the pattern lies mirrored"
        if pattern.design.drawn_face == "outer"
        else "the back, as drawn"
    )
    twins = job.facts.paired
    turn = "Trace once, turn the pattern over, trace again: one left, one right. " if twins else ""
    cost = spent(job.tempo, ("of outline", "trace", pattern.cut_length), ("parts to label", "label", pattern.copies))
    return Step(
        "trace",
        "Trace and label",
        f"Trace on {face}. {turn}Write on every part at once: name, side, number, up arrow, foam.",
        cost.minutes,
        0,
        cost.formula,
        cost.values,
        (*_sheets(pattern), Material("marker", 1, "x")),
        (),
        "A part with no label, and two left parts, are the classic losses.",
        work="trace",
        measures=(Value("outline", pattern.cut_length),),
        inspection=Inspection(
            "Is there one left and one right of each?",
            "Rub the second one out, turn the pattern over and trace it again.",
        )
        if twins
        else None,
    )


def _sheets(pattern: PiecePattern) -> list[Material]:
    """Foam to have ready, by sheet."""
    return [
        Material(f"{thickness:g} mm {kind} foam", foam.area / 1e6 * use.EDGE_WASTE, "m2")
        for (kind, thickness), foam in pattern.foam.items()
    ]


def cut(job: Job, _: str) -> Step:
    """Outline length over a pace; blades by thickness."""
    pattern = job.pattern
    thin = pattern.design.foam <= 2
    tool = (
        "Scissors do for foam this thin."
        if thin
        else "One pull with a sharp blade, upright; tip it up before tight inner corners."
    )
    cost = spent(job.tempo, ("of outline", "cut", pattern.cut_length))
    return Step(
        "cut",
        "Cut out",
        f"{tool} Cut square along the outline, no bevel yet: it is the wider face of every edge. Cut the "
        "registration ticks as pencil marks, not as slits.",
        cost.minutes,
        0,
        cost.formula,
        cost.values,
        () if thin else (use.blades(pattern.cut_length, pattern.design.foam),),
        ("blades",),
        "A dull blade leaves ragged edges that will not glue: a fresh edge every few metres.",
        work="cut",
        stage="cut",
        measures=(Value("outline", pattern.cut_length),),
    )


def heat_seal(job: Job, _: str) -> Step:
    """Both faces over a pace."""
    cost = spent(job.tempo, ("of both faces", "seal", 2 * job.pattern.area))
    return Step(
        "heat-seal",
        "Heat-seal both faces",
        "Pass the heat gun evenly over both faces until matt turns slightly glossy. Keep it moving.",
        cost.minutes,
        5,
        cost.formula,
        cost.values,
        (),
        ("heat",),
        "Open cells drink paint and cement. Sealing closes them; anchors for straps are opened again later.",
        work="seal",
        stage="cut",
        inspection=SEALED,
    )


def keep_pattern(job: Job, _: str) -> Step:
    """A few minutes."""
    return Step(
        "keep-pattern",
        "Put the pattern by",
        "Paper or cast pieces into one envelope with the piece's name and the date; keep the version on the Cut page.",
        3,
        0,
        "3 min",
        (),
        (),
        (),
        "A part that is spoilt later is traced again in a minute; without its pattern it begins at the cast.",
        stage="cut",
    )
