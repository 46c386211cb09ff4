"""Build steps that work the foam: bevels, grooves, scores, forming, layers; each made from the piece's own geometry."""

from vellumcut.core.design.foam import FoldWay
from vellumcut.core.foam.advice import CEMENT_COVER
from vellumcut.core.foam.bends import BEND_LIMIT, BEND_WARM, PanelBend, plan_kerfs
from vellumcut.core.foam.edges import free_words
from vellumcut.core.foam.grooves import WHY
from vellumcut.core.ink.lines import line_word
from vellumcut.core.make import quantities as use
from vellumcut.core.make.job import Job
from vellumcut.core.make.spent import spent
from vellumcut.core.make.step import Inspection, Step
from vellumcut.core.notes import Value

NOTHING_THROUGH = "Is nothing cut through?"
MOST_NAMED = 4
"""More joints than this are told by their number: the pages and the Foam page name each."""


def bevel(job: Job, _: str) -> Step:
    """Length of bevelled edge and of free rim, each over its pace."""
    rows, rim = job.bevelled, job.rim_length
    length = sum(edge for _, edge in rows)
    parts = [_bevels(job)] if rows else []
    if not rows and job.facts.glued:
        parts.append("Edges that will be glued stay square: none folds enough to be bevelled.")
    shaped = [f"{e.name}: {free_words(e)}" for e in job.pattern.design.foam_work.edges if e.shape == "angled"]
    if shaped:
        parts.append("Free edges: " + "; ".join(shaped) + ".")
    parts.append("Take the sharp corner off every other free edge, both faces, with a blade or a fine drum.")
    cost = spent(job.tempo, ("of free edge", "rim", rim), ("of bevel", "bevel", length))
    return Step(
        "bevel",
        "Bevel the edges" if rows else "Ease the rim",
        " ".join(parts),
        cost.minutes,
        0,
        cost.formula,
        cost.values,
        (use.blades(length, job.pattern.design.foam),) if rows else (),
        ("blades", "dust"),
        "A bevel closes the joint on its whole depth; taken off the wrong face it opens twice as wide. Paint holds "
        "on a "
        "curve and chips off a corner.",
        work="bevel" if rows else "rim",
        stage="cut",
        measures=(Value("bevelled edge", length),) if rows else (),
    )


def thin(job: Job, _: str) -> Step:
    """Length of thinned edges, and of what shall lie level with the foam, over a pace."""
    edges = [e for e in job.pattern.design.foam_work.edges if e.shape == "thinned"]
    known = {line_word(e.name) for e in edges}
    flush = [d for d in job.facts.making.details if d.flush and line_word(d.edge) not in known]
    length = sum(job.edge_length(name) for name in known) + sum(job.detail_length(d) for d in flush)
    said = [f"{e.name}: {free_words(e)}" for e in edges]
    said += [f"{d.edge or 'its place'}: down by the thickness of the {d.name}, as wide as it is" for d in flush]
    cost = spent(job.tempo, ("of edge", "thin", length))
    return Step(
        "thin",
        "Thin what trims lie in",
        "; ".join(said) + ". Draw the line first, then take it down with a drum or a flat blade.",
        cost.minutes,
        0,
        cost.formula,
        cost.values,
        (),
        ("dust",),
        "A trim that shall lie level needs its seat before it is glued on: later the drum would cut the trim too.",
        work="thin",
        stage="cut",
    )


def _bevels(job: Job) -> str:
    rows = job.bevelled
    if len(rows) > MOST_NAMED:
        faces = sorted({b.taken_off for j, _ in rows for b in j.bevel})
        return (
            f"Bevel {len(rows)} joints as the pattern says beside each edge, off the {' or '.join(faces)} face; "
            "never past "
            "the outline, which is the face that stays full."
        )
    said = "; ".join(f"{j.name}: {j.words[0].lower()}{j.words[1:].rstrip('.')}" for j, _ in rows)
    return f"{said[0].upper()}{said[1:]}. The outline is the face that stays full."


def open_score(job: Job, _: str) -> Step:
    """Length over a pace."""
    length = sum(edge for _, edge in job.folded("opened score"))
    cost = spent(job.tempo, ("of score", "score", length))
    return Step(
        "open-score",
        "Score, and open with heat",
        _each(job, "opened score") + " Do it before the part is cut out: the sheet holds it flat.",
        cost.minutes,
        0,
        cost.formula,
        cost.values,
        (),
        ("blades", "heat"),
        WHY["opened score"],
        work="score",
        stage="cut",
        about="fold",
    )


def late_score(job: Job, _: str) -> Step:
    """Length over a pace."""
    length = sum(edge for _, edge in job.folded("late score"))
    cost = spent(job.tempo, ("of score", "score", length))
    return Step(
        "late-score",
        "Score the formed part",
        _each(job, "late score"),
        cost.minutes,
        0,
        cost.formula,
        cost.values,
        (),
        ("blades",),
        WHY["late score"],
        work="score",
        stage="shape",
        about="fold",
        inspection=Inspection(NOTHING_THROUGH, "Close the cut from behind with a strip and cement, then fill it."),
    )


def groove(job: Job, _: str) -> Step:
    """Length of grooves, strips and kerfs over a pace."""
    rows = job.folded("groove", "drum", "set back")
    length, kerfs = sum(edge for _, edge in rows), job.kerf_length
    said = [_each(job, way, cut=True) for way in ("groove", "drum", "set back") if job.folded(way)]
    for side, piece in job.pattern.inked.items():
        for bend, panel in zip(job.pattern.bends[side], piece.panels, strict=True):
            if bend.kerfed:
                said.append(f"Panel {panel.number}: {plan_kerfs(piece.surface, panel, bend).words}")
    cost = spent(job.tempo, ("of groove", "groove", length), ("of kerf", "kerf", kerfs))
    return Step(
        "groove",
        "Cut the grooves" if rows else "Cut the kerfs",
        " ".join(said) + " The blade must never reach the far face.",
        cost.minutes,
        0,
        cost.formula,
        cost.values,
        (use.blades(2 * length + kerfs, job.pattern.design.foam),),
        ("blades", "dust"),
        "Grooves are cut while the foam is flat; then the panel is warmed to its curve, and only then is the groove "
        "shut.",
        work="groove" if rows else "kerf",
        stage="cut",
        about="fold",
        measures=(Value("grooves and kerfs", length + kerfs),),
        inspection=Inspection(NOTHING_THROUGH, "Close the cut from behind with a strip and cement, then fill it."),
    )


def _each(job: Job, way: FoldWay, cut: bool = False, panel: int | None = None) -> str:
    """What is done along each line that is worked so, each told once. cut: only while the foam is flat. panel: those on
    one panel; None: all."""
    told = {
        f"{c.name[0].upper()}{c.name[1:]}: {_small(c.cut_words if cut else c.how)}": None
        for c, _ in job.folded(way)
        if panel in (None, c.panel)
    }
    return " ".join(told)


def _small(words: str) -> str:
    return words[0].lower() + words[1:]


def shut(job: Job, _: str) -> Step:
    """Length over a pace."""
    length = sum(edge for _, edge in job.folded("groove"))
    cost = spent(job.tempo, ("of groove", "shut", length))
    chosen = job.glue("groove")
    return Step(
        "shut",
        "Glue the grooves shut",
        f"{chosen.how} Fold the panel over an edge and press from the middle out. "
        + " ".join(
            dict.fromkeys(f"{c.name[0].upper()}{c.name[1:]}: {_small(c.close_words)}" for c, _ in job.folded("groove"))
        ),
        cost.minutes,
        chosen.ready,
        cost.formula,
        cost.values,
        (chosen.material(2 * length * job.pattern.design.foam, length),),
        (chosen.caution,),
        "Shut after forming, a groove keeps the fold; shut before, the warm foam would pull it open. " + chosen.reason,
        work="shut",
        stage="shape",
        about="fold",
        timer=chosen.timer,
        inspection=Inspection(
            "Are all grooves shut on their whole depth?", "Open the place with heat, coat again, hold it till it bites."
        ),
    )


def laminate(key: str, job: Job) -> Step:
    """Area of layers on each other over a pace."""
    area, flat = job.pattern.glued_area, key == "stack"
    cost = spent(job.tempo, ("between layers", "laminate", area))
    chosen = job.glue("layers")
    how = (
        "Lay them on each other flat, from the middle out."
        if flat
        else "Warm each layer to its curve first; hold the inner layer bent, and roll the next one on from the "
        "middle out, "
        "marks on marks."
    )
    return Step(
        key,
        "Glue the layers flat" if flat else "Glue the layers while bent",
        f"{chosen.how} {how}",
        cost.minutes,
        chosen.ready,
        cost.formula,
        cost.values,
        (use.coating("contact cement", 2 * area, 1, CEMENT_COVER),)
        if chosen.timer
        else (chosen.material(2 * area, area / 40),),
        (chosen.caution,),
        "Curved together afterwards, its faces must give: right for gentle curves only."
        if flat
        else "Two sheets glued while bent keep the bend; each is cut to its own depth, so their ends meet.",
        work="laminate",
        stage="cut" if flat else "shape",
        timer=chosen.timer,
        measures=(Value("area between layers", area, "mm2"),),
    )


def form(job: Job, panel: str) -> Step:
    """Seconds a patch under the gun over the panel's patches, and minutes a part to shape it."""
    number, drawn = int(panel), job.facts.drawn
    copies, area = job.panel_copies(number), job.panel_area(number)
    patches = max(1.0, area / 100 / job.patch)
    under = job.heat.seconds / 60 if job.heat else 3.0
    hold = job.heat.hold / 60 if job.heat else 5.0
    shape = job.tempo.minutes("form", copies)
    one = len(job.facts.panels) == 1
    title = "Form to the limb" if not drawn else "Form the panel" if one else f"Form panel {number}"
    return Step(
        f"form:{panel}",
        title,
        _form_words(job, number),
        patches * under + shape,
        hold * copies,
        "{0} patches x {1} under the gun + {2} parts x {3}",
        (
            Value("patches", patches, "ratio"),
            Value("each", under, "minutes"),
            Value("parts", copies, "count"),
            Value("shape", job.tempo.pace("form"), "minutes"),
        ),
        (),
        ("heat", "burning"),
        "Foam that already has its curve does not pull its seam open."
        if job.facts.glued
        else "Foam that already has its curve does not pull at what holds it on.",
        timer="heat",
        work="form",
        stage="shape",
        about="panel",
        measures=(Value("panel", area, "mm2"),),
        inspection=Inspection(
            "Does it keep its curve when you let go, and are left and right alike?"
            if copies > 1
            else "Does it keep its curve when you let go?",
            "Warm it right through again, bend it past the curve, hold it till it is cold.",
        ),
    )


def _bends(job: Job, number: int) -> list[PanelBend]:
    """How the panel is bent, one for each side it is drawn on."""
    return [
        bend
        for side, piece in job.pattern.inked.items()
        for bend, ink in zip(job.pattern.bends[side], piece.panels, strict=True)
        if ink.number == number
    ]


def _form_words(job: Job, number: int) -> str:
    pattern, bends = job.pattern, _bends(job, number)
    worst = max(p.flat.summary.worst for p in pattern.panels if p.flat.number == number)
    bend = max((b.strain for b in bends), default=0.0)
    ease = f" Ease it where the pattern shows colour: it must give {worst:.1f} % there." if worst > 2.5 else ""
    past = ""
    if BEND_WARM < bend <= BEND_LIMIT and any(b.way == "past" for b in bends):
        past = " Bend past the wanted curve: it springs back."
    aids = list(dict.fromkeys(b.aid for b in bends))
    aid = f" {aids[0]}" if len(aids) == 1 else ""
    creased = _each(job, "crease", panel=number)
    crease = f" {creased}" if creased else ""
    heat = f" {job.heat.words}" if job.heat else " This gun does not warm it through safely: see the heat coach."
    tight = f" Its outer face stretches by {bend:.1f} % at the tightest place." if bend > 0.5 else ""
    how = "Warm the piece right through from both sides, roll it round the limb or a form of its girth."
    if job.facts.drawn:
        how = "Warm it right through from both sides, shape it over the cast or a form of its curve."
    if pattern.design.role == "detail":
        how = "Warm it and shape it to the curve of what it lies on, before it is glued there."
    return how + heat + tight + past + ease + crease + aid
