"""Build steps that work the foam: bevels, grooves, scores, forming, layers; each made from the piece's own geometry."""

from vellumcut.core.foam.advice import CEMENT_COVER, KERF_PACE, LAMINATE_PACE
from vellumcut.core.foam.bends import BEND_LIMIT, BEND_WARM, plan_kerfs
from vellumcut.core.foam.edges import free_words
from vellumcut.core.foam.grooves import WHY
from vellumcut.core.ink.foamwork import FoldWay
from vellumcut.core.make import quantities as use
from vellumcut.core.make.job import Job, Step
from vellumcut.core.notes import Value

BEVEL_PACE, GROOVE_PACE, SCORE_PACE, RIM_PACE, SHUT_PACE = 150.0, 120.0, 300.0, 400.0, 100.0
"""mm worked in a minute: a bevel, a groove, a score, a rim rounded, a groove glued shut (est.)."""
MOST_NAMED = 4
"""More joints than this are told by their number: the pages and the Foam page name each."""


def bevel(job: Job) -> Step:
    """Length of bevelled edge and of free rim, each over its pace."""
    rows, rim = job.bevelled, job.rim_length
    length = sum(edge for _, edge in rows)
    parts = [_bevels(job)] if rows else []
    if not rows and job.facts.glued:
        parts.append("Edges that will be glued stay square: none folds enough to be bevelled.")
    shaped = [
        f"{e.name}: {free_words(e)}" for e in job.pattern.design.foam_work.edges if e.shape in ("angled", "thinned")
    ]
    if shaped:
        parts.append("Free edges: " + "; ".join(shaped) + ".")
    parts.append("Take the sharp corner off every other free edge, both faces, with a blade or a fine drum.")
    values = [Value("free edge", rim), Value("pace", RIM_PACE)]
    formula = "{0} free edge / {1} a minute + 2 min"
    if rows:
        formula += ", and {2} of bevel / {3} a minute"
        values += [Value("bevel", length), Value("pace", BEVEL_PACE)]
    return Step(
        "bevel",
        "Bevel the edges" if rows else "Ease the rim",
        " ".join(parts),
        length / BEVEL_PACE + rim / RIM_PACE + 2,
        0,
        formula,
        tuple(values),
        (use.blades(length, job.pattern.design.foam),) if rows else (),
        ("blades", "dust"),
        "A bevel closes the joint on its whole depth; taken off the wrong face it opens twice as wide. Paint holds on a "
        "curve and chips off a corner.",
    )


def _bevels(job: Job) -> str:
    rows = job.bevelled
    if len(rows) > MOST_NAMED:
        faces = sorted({b.taken_off for j, _ in rows for b in j.bevel})
        return (
            f"Bevel {len(rows)} joints as the pattern says beside each edge, off the {' or '.join(faces)} face; never past "
            "the outline, which is the face that stays full."
        )
    said = "; ".join(f"{j.name}: {j.words[0].lower()}{j.words[1:].rstrip('.')}" for j, _ in rows)
    return f"{said[0].upper()}{said[1:]}. The outline is the face that stays full."


def open_score(job: Job) -> Step:
    """Length over a pace."""
    length = sum(edge for _, edge in job.folded("opened score"))
    return Step(
        "open-score",
        "Score, and open with heat",
        _each(job, "opened score") + " Do it before the part is cut out: the sheet holds it flat.",
        length / SCORE_PACE + 3,
        0,
        "{0} of score / {1} a minute + 3 min",
        (Value("score", length), Value("pace", SCORE_PACE)),
        (),
        ("blades", "heat"),
        WHY["opened score"],
    )


def late_score(job: Job) -> Step:
    """Length over a pace."""
    length = sum(edge for _, edge in job.folded("late score"))
    return Step(
        "late-score",
        "Score the formed part",
        _each(job, "late score"),
        length / SCORE_PACE + 2,
        0,
        "{0} of score / {1} a minute + 2 min",
        (Value("score", length), Value("pace", SCORE_PACE)),
        (),
        ("blades",),
        WHY["late score"],
    )


def groove(job: Job) -> Step:
    """Length of grooves, strips and kerfs over a pace."""
    rows = job.folded("groove", "drum", "set back")
    length = sum(edge for _, edge in rows)
    said = [_each(job, way, cut=True) for way in ("groove", "drum", "set back") if job.folded(way)]
    kerfs = job.kerf_length
    for side, piece in job.pattern.inked.items():
        for bend, panel in zip(job.pattern.bends[side], piece.panels, strict=True):
            if bend.kerfed:
                said.append(f"Panel {panel.number}: {plan_kerfs(piece.surface, panel, bend).words}")
    title = "Cut the grooves" if rows else "Cut the kerfs"
    worked = [
        (word, mm, pace) for word, mm, pace in (("groove", length, GROOVE_PACE), ("kerf", kerfs, KERF_PACE)) if mm
    ]
    formula = (
        "".join(f"{{{2 * k}}} of {word} / {{{2 * k + 1}}} a minute + " for k, (word, _, _) in enumerate(worked))
        + "3 min"
    )
    values = [v for word, mm, pace in worked for v in (Value(word, mm), Value("pace", pace))]
    return Step(
        "groove",
        title,
        " ".join(said) + " The blade must never reach the far face.",
        length / GROOVE_PACE + kerfs / KERF_PACE + 3,
        0,
        formula,
        tuple(values),
        (use.blades(2 * length + kerfs, job.pattern.design.foam),),
        ("blades", "dust"),
        "Grooves are cut while the foam is flat; then the panel is warmed to its curve, and only then is the groove shut.",
    )


def _each(job: Job, way: FoldWay, cut: bool = False) -> str:
    """What is done along each line that is worked so, each told once. cut: only while the foam is flat."""
    told = {
        f"{c.name[0].upper()}{c.name[1:]}: {_small(c.cut_words if cut else c.how)}": None for c, _ in job.folded(way)
    }
    return " ".join(told)


def _small(words: str) -> str:
    return words[0].lower() + words[1:]


def shut(job: Job) -> Step:
    """Length over a pace."""
    length = sum(edge for _, edge in job.folded("groove"))
    return Step(
        "shut",
        "Glue the grooves shut",
        "Let cement dry to the touch, fold the panel over an edge and press from the middle out. "
        + " ".join(
            dict.fromkeys(f"{c.name[0].upper()}{c.name[1:]}: {_small(c.close_words)}" for c, _ in job.folded("groove"))
        ),
        length / SHUT_PACE + 3,
        10,
        "{0} of groove / {1} a minute + 3 min",
        (Value("groove", length), Value("pace", SHUT_PACE)),
        (use.coating("contact cement", 2 * length * job.pattern.design.foam, 1, CEMENT_COVER),),
        ("solvents", "hot glue"),
        "Shut after forming, a groove keeps the fold; shut before, the warm foam would pull it open.",
    )


def laminate(key: str, job: Job) -> Step:
    """Area of layers on each other over a pace."""
    area = job.pattern.glued_area
    flat = key == "stack"
    how = (
        "Cement both faces of every joint between layers, dry to the touch, and lay them on each other flat, from the middle out."
        if flat
        else "Warm each layer to its curve first. Cement both faces, dry to the touch; hold the inner layer bent, and roll the "
        "next one on from the middle out, marks on marks."
    )
    return Step(
        key,
        "Glue the layers flat" if flat else "Glue the layers while bent",
        how,
        area / 1e6 / LAMINATE_PACE + 4,
        10,
        "{0} between layers / 0.01 m² a minute + 4 min",
        (Value("area", area, "mm2"),),
        (use.coating("contact cement", 2 * area, 1, CEMENT_COVER),),
        ("solvents",),
        "Curved together afterwards, its faces must give: right for gentle curves only."
        if flat
        else "Two sheets glued while bent keep the bend; each is cut to its own depth, so their ends meet.",
    )


def form(job: Job) -> Step:
    """Seconds a patch under the gun over all patches, and minutes a part to shape it."""
    pattern = job.pattern
    worst = max(p.flat.summary.worst for p in pattern.panels)
    bend = max(b.strain for bends in pattern.bends.values() for b in bends)
    ways = {b.way for bends in pattern.bends.values() for b in bends}
    ease = f" Ease it where the pattern shows colour: it must give {worst:.1f} % there." if worst > 2.5 else ""
    past = " Bend past the wanted curve: it springs back." if BEND_WARM < bend <= BEND_LIMIT and "past" in ways else ""
    aids = list(dict.fromkeys(b.aid for bends in pattern.bends.values() for b in bends))
    aid = f" {aids[0]}" if len(aids) == 1 else ""
    crease = f" {_each(job, 'crease')}" if "crease" in job.facts.ways else ""
    heat = f" {job.heat.words}" if job.heat else " This gun does not warm it through safely: see the heat coach."
    if job.facts.drawn:
        title, how = (
            "Form the panels",
            "Warm each panel right through from both sides, shape it over the cast or a form of its curve.",
        )
    else:
        title, how = (
            "Form to the limb",
            "Warm the piece right through from both sides, roll it round the limb or a form of its girth.",
        )
    if pattern.design.role == "detail":
        how = "Warm it and shape it to the curve of what it lies on, before it is glued there."
    hold = job.heat.hold / 60 if job.heat else 5.0
    each = 2.0
    under = job.heat.seconds / 60 if job.heat else 3.0
    return Step(
        "form",
        title,
        how + heat + past + ease + crease + aid,
        job.patches * under + each * pattern.copies,
        hold * pattern.copies,
        "{0} patches x {1} under the gun + {2} parts x {3}; outer face bends by {4} at the tightest place",
        (
            Value("patches", job.patches, "ratio"),
            Value("each", under, "minutes"),
            Value("parts", pattern.copies, "count"),
            Value("shape", each, "minutes"),
            Value("bend", bend, "percent"),
        ),
        (),
        ("heat", "burning"),
        "Foam that already has its curve does not pull its seam open."
        if job.facts.glued
        else "Foam that already has its curve does not pull at what holds it on.",
        timer="heat",
    )
