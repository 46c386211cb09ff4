"""What goes on a piece: which steps each kind of detail brings. A new kind is a row."""

from collections.abc import Callable
from dataclasses import replace

from vellumcut.core.design.making import Detail, DetailKind
from vellumcut.core.design.parts import Border, Plate, Row
from vellumcut.core.make.job import Facts, Job
from vellumcut.core.make.quantities import Material
from vellumcut.core.make.spent import spent
from vellumcut.core.make.step import Inspection, Step
from vellumcut.core.make.steps.detail_step import DetailStep
from vellumcut.core.notes import Value
from vellumcut.core.paces import PACES, Work
from vellumcut.core.parts.motif import motif_length, motif_shape
from vellumcut.core.parts.profile import profile_words


def _apart(facts: Facts, detail: Detail) -> bool:
    return detail.apart


def _with(facts: Facts, detail: Detail) -> bool:
    return not detail.apart


SHAPE = DetailStep(
    "shape-detail",
    "Shape {name}",
    "Warm it and lay it on its place till it is cold: it takes the curve of what it lies on.",
    "Glued on flat, it pulls itself off again.",
    "shape",
    cautions=("heat",),
)
PROFILE = DetailStep(
    "profile-detail",
    "Bring {name} to its profile",
    "{profile}",
    "Glued down, its lower edges cannot be reached any more.",
    "shape",
    cautions=("dust",),
    pace="rim",
    when=lambda facts, detail: isinstance(detail.shape, Border) and bool(profile_words(detail.shape)),
)
TACK = DetailStep(
    "apart-join",
    "Tack on {name}",
    "After the clear coat is hard, at its corners only, so that it slides: sand those places bare, glue, press.",
    "Glued all over, it cannot slide where the body bends.",
    "finish",
    "small part",
)
LAY_ON = DetailStep(
    "lay-on",
    "Lay on {name}",
    "Trace its outline on the base, cement inside it, both faces; middle first, outwards.",
    "Cement outside the outline shows through every paint.",
    "smooth",
    "layers",
    when=_with,
)
APART = DetailStep(
    "apart-paint",
    "Paint {name} by itself",
    "Its own stack, on a stick or a hang tab; mask the face that will be glued.",
    "A clean edge between two colours comes from two parts.",
    "paint",
    when=_apart,
)
JOIN = DetailStep(
    "apart-join",
    "Put on {name}",
    "After the clear coat is hard: sand its seat bare or pull its mask off, then glue.",
    "Glue on paint holds the paint, not the part.",
    "finish",
    "small part",
    when=_apart,
)

PAINT_APART = replace(
    APART,
    title="Paint {name} by itself",
    reason="It hangs on or slides under the piece: both are painted all round.",
    when=lambda facts, detail: True,
)

DETAIL_STEPS: dict[DetailKind, tuple[DetailStep, ...]] = {
    "trim": (PROFILE, SHAPE, DetailStep("trim", "Glue {name} on",
        "On its panel, along the line drawn for it: trace, cement inside, middle first, outwards.",
            "On a flat panel a strip is laid in minutes; on a closed piece it is a wrestle.", "shape", "trim"),),
    "spanning trim": (PROFILE, SHAPE, DetailStep("span-trim", "Glue {name} over the joint",
        "Over the closed seam, from its middle to both ends.",
            "A trim that spans a joint ties it; glued before, its two halves never meet.", "smooth", "trim"),),
    "strip round": (PROFILE, DetailStep("strip-round", "Run {name} round",
        "Leave it long, glue from the back round, and cut it where its ends meet.",
            "Cut to a computed length, foam that gave a little leaves a gap.", "smooth", "trim"),),
    "layer": (SHAPE, LAY_ON, APART, JOIN),
    "segments": (
        SHAPE,
        DetailStep("tape-segments", "Lay {name} out with rolled tape",
            "All of them on the closed base with rolled tape; move till they sit right, then trace each.",
                "The last one never fits when each is glued as it comes.", "smooth",
                    inspection=Inspection("Do they sit right from every side?", "Move them before anything is glued.")),
        DetailStep("segments", "Glue {name}", "One by one from the fixed end, inside its traced line.",
            "From the fixed end outwards, what is over ends where it can be trimmed.", "smooth", "trim"),
    ),
    "collar": (SHAPE, DetailStep("collar", "Glue the {name}",
        "Its middle to the middle of the edge it goes on from, then to both ends.",
            "From the middle outward, what is over ends where it can be cut.", "join", "butt seam",
                inspection=Inspection("Do the marks meet, and does it stand alike on both sides?",
                    "Warm the place, open it, coat again, press from the middle."))),
    "emblem": (SHAPE, LAY_ON, APART, JOIN),
    "sliding plate": (SHAPE, PAINT_APART, TACK),
    "gem": (
        DetailStep("prop", "Have {name} ready",
            "Bought, or cast early: a casting cures for days. Its seat is traced from it.",
                "A seat drawn to a guess shows a gap all round.", "smooth"),
        replace(LAY_ON, title="Lay on the rim of {name}", when=lambda facts, detail: isinstance(detail.shape, Plate)),
        DetailStep("mask-seat", "Mask the seat of {name}",
            "Trace the gem where it will sit, cover that place with tape cut to the line.",
                "Glue on paint holds the paint, not the gem.", "paint"),
        DetailStep("apart-join", "Set {name}", "After the clear coat is hard: pull the mask off its seat, then glue.",
            "Under primer a gem is a pebble; set last, it stays clear.", "finish", "small part"),
    ),
    "magnet": (
        DetailStep("magnet-pocket", "Cut pockets for {name}",
            "Cut the pocket, put the magnets in dry, mark the pole on part and plan.",
                "A magnet turned round pushes its plate off.", "smooth",
                    inspection=Inspection("Do they snap together with the right pole?",
                        "Turn one over and mark it anew.")),
        DetailStep("magnet-out", "Take {name} out", "Out before the first spray.",
            "Spray is drawn about by a magnet and leaves a halo over it.", "paint"),
        DetailStep("magnet-in", "Put {name} in",
            "After the clear coat, pole as marked: score the pocket, flood it, smear what comes out over the rim.",
                "Aligned once dry, glued once clean.", "finish", "magnet"),
    ),
    "buckle": (DetailStep("apart-join", "Fit {name}",
        "After the clear coat, through its slits; sewn, then glued behind.", "Paint in a buckle's hinge locks it.",
            "finish"),),
    "hanging plate": (SHAPE, PAINT_APART,
        DetailStep("apart-join", "Hang {name}", "Strap from the back; hang it on the wearer, not on the table.",
            "Plates hung on a table stand off on a body.", "finish",
                inspection=Inspection("Do hung plates just touch?", "Shorten or lengthen the strap by the gap."))),
    "stitches": (
        DetailStep("stitch-paint", "Raised stitches: {name}",
            "Dots of raised paint along the line, a template for their step.",
                "Weathering must settle round them, or they look stuck on.", "paint", when=lambda facts,
                    detail: facts.schools.stitches == "raised paint", wait=1440, pace="raised stitch"),
        DetailStep("stitch-thread", "Sew {name}", "Holes first, then thread, after the clear coat.",
            "Thread drinks paint and goes stiff.", "finish", when=lambda facts,
                detail: facts.schools.stitches == "real thread", pace="stitch"),
    ),
    "vinyl cover": (
        DetailStep("stiffen", "Stiffen behind {name}", "A stiffener behind a long unsupported middle.",
            "Stretched vinyl bends a long middle hollow.", "smooth"),
        DetailStep("scuff", "Scuff the vinyl for {name}", "Fine paper over the face that is glued or painted.",
            "Nothing holds on a glossy back.", "smooth", cautions=("dust",)),
        DetailStep("vinyl", "Cover with {name}",
            "Cement on both faces, twice its time; from the middle out, round the edge, slit at curves.",
                "From an edge it ends in a fold.", "smooth", "vinyl", laid=True),
    ),
    "texture": (DetailStep("texture", "Press {name} in",
        "Warm the face till it is soft, place by place, and press crumpled foil, a stamp or a wire brush into it; "
            "hold each till it is cold.",
            "Paint and sealer take no print, and heat that comes later swells it away.", "smooth", cautions=("heat",),
                pace="texture", laid=True,
                    inspection=Inspection("Does the print go on over seams and from place to place?",
                        "Warm the place again and press over its edge, turned a little.")),),
    "stencil": (
        DetailStep("cut-stencil", "Cut the stencil for {name}",
            "From film, by hand or by the cutter; what stands alone inside keeps its place on the carrier.",
                "Cut on the piece the knife would go through the paint.", "paint", pace="cut film", motif="cut"),
        DetailStep("stencil", "Paint {name} through its stencil",
            "From its middle out, edges pressed down; thin, nearly dry coats from straight above; film off while the "
                "last is tacky.",
                "A wet coat creeps under the film.", "paint", pace="hand paint", motif="painted",
                    inspection=Inspection("Is its edge sharp all round?",
                        "Let it dry, then cut in by a fine brush with the ground colour.")),
    ),
    "painted damage": (DetailStep("paint-damage", "Paint {name}",
        "The hollow dark first; then a fine light line along the edge that the light falls on; bare metal last, by "
            "sponge, where it would be hit.",
            "What is lit from above reads as a dent; dark alone reads as a smear.", "paint"),),
    "decal": (
        DetailStep("cut-stencil", "Cut {name} from film", "By hand or by the cutter, its carrier left whole.",
            "Cut on the piece the knife would go through the paint.", "paint", pace="cut film", motif="cut",
                when=lambda facts, detail: bool(detail.motif)),
        DetailStep("age-decal", "Age {name} on the backing", "Scratch and stain them while they lie on their backing.",
            "On the piece the knife would cut the paint.", "paint"),
        DetailStep("decal", "Lay {name}", "Scuff the place, lay from one side, press the air out.",
            "On glossy paint they lift at the corners.", "paint"),
    ),
    "rivets": (
        replace(LAY_ON, glue="small part",
            how="At its mark, pressed till it holds; those at the ends first, then between.",
            reason="Set by eye from one end, the last gap is never like the others."),
        APART, JOIN,
    ),
    "scales": (
        DetailStep("lay-on", "Glue {name} on",
            "From the free end up, row by row, each covering the one below; every second row shifted by half a scale. "
                "Cement only the upper part that the next row hides.",
                "From the top down, every row would have to be tucked under the last.", "smooth", "small part"),
        APART, JOIN,
    ),
    "links": (
        DetailStep("lay-on", "Link {name} and fix its edge",
            "Row by row from the free end, a column added where a row takes more than the one before, spread over the "
                "row; links crosswise, so that it bends. Its free end goes between two strips, glued to both.",
                "Linked sheet by sheet in the hand, a wrong row shows before anything hangs on it.", "smooth",
                    "small part", pace="link"),
        APART, JOIN,
    ),
    "built-in metal": (DetailStep("mask-metal", "Mask {name}", "Tape or film over all metal that has to be built in.",
        "Overspray on metal does not come off.", "paint"),),
    "ring cover": (
        DetailStep("leave-out", "Leave foam out for {name}",
            "Cut the foam back by its thickness where vinyl folds round the ring.",
                "A fold on top of foam stands up as a bump.", "shape"),
        DetailStep("ring-cover", "Fold {name} round", "Vinyl round the ring into the place left for it, glued behind.",
            "It must lie level.", "smooth", "vinyl"),
    ),
    "zip": (
        DetailStep("zip-first", "Press the first side of {name}", "One side of the zip on its strip, pressed.",
            "Both at once never run parallel.", "finish", "anchor", clamped=False),
        DetailStep("zip-slide", "Close {name} and slide it",
            "Close the zip and slide it at once, before the second side is pressed.",
                "A zip pressed open ends with one side longer.", "finish",
                    inspection=Inspection("Does the zip slide over its whole length?",
                        "Peel the first side at the place that binds and press it anew.")),
        DetailStep("zip-second", "Press the second side of {name}",
            "With the zip closed, so both sides lie as they will.", "The teeth set the distance.", "finish", "anchor"),
    ),
    "holder": (
        DetailStep("prop", "Have the prop for {name} ready", "The prop itself, painted, or a block of its size.",
            "A holder made to a guess holds nothing.", "smooth"),
        DetailStep("holder", "Make {name}", "Fit it to the prop, foam 3 mm wider, and glue it on its bed.",
            "It is pulled at all day.", "fit", "anchor"),
    ),
    "light cell": (DetailStep("cell", "Fit {name}", "Cell, switch and wires behind; a flap over the cell.",
        "A cell that cannot be reached ends the evening.", "finish",
            inspection=Inspection("Can the cell be changed while it is worn?",
                "Move the flap to where a hand reaches it.")),),
    "pivot": (DetailStep("pivot", "Set {name}",
        "Punch both plates at the marks, a washer on each side, and close the rivet only so far that they turn.",
            "A rivet closed hard is a seam: the plates tear out round it.", "finish",
                inspection=Inspection("Do the plates turn freely, and not wobble?",
                    "Drill it out and set a longer rivet, or put one more washer under it.")),),
    "cord": (DetailStep("cord", "Tie in {name}",
        "Pierce a tab on each part, melt the holes' rims, knot the cord through both with a finger's slack.",
            "When a rivet or a glued joint goes at the event, the cord still holds the part.", "finish"),),
    "support": (SHAPE, DetailStep("support", "Glue in {name}",
        "Inside, across the place that must keep its shape, its edges thinned so that nothing shows outside.",
            "A crease or a wide plate sinks in when it is worn warm.", "join", "layers")),
    "pad": (DetailStep("pad", "Lay in {name}",
        "Soft foam or pile inside where raw foam shows or a rim rests, glued last.",
            "Where it rests all day a bare rim rubs the skin, and shows grey.", "finish", "liner"),),
    "joined part": (
        DetailStep("fit-foot", "Fit the foot of {name}",
            "Stand it on its line; draw round it with a block as high as the widest gap beneath; cut to that line.",
                "A flat foot on a curve stands on two points.", "smooth"),
        DetailStep("lay-on", "Glue {name} on", "On its line, both faces of the foot; a strip round inside where a hand "
            "reaches.", "Drawn first, it stands where the figure had it.", "smooth", "small part", when=_with),
        APART, JOIN,
    ),
}  # fmt: skip
"""Every kind of detail and what it asks, from first to last."""
CLOSURE_BED = DetailStep(
    "closure-bed",
    "Bed for the closure under {name}",
    "Open the bed and fix what closes the piece before {name} hides it.",
    "Under a detail, no hand reaches it any more.",
    "smooth",
    "anchor",
    when=lambda facts, detail: detail.covers and facts.strapped,
)


def detail_kinds() -> tuple[str, ...]:
    """Kinds of step that details bring."""
    rows = [s.kind for steps in DETAIL_STEPS.values() for s in steps]
    return tuple(dict.fromkeys(["closure-bed", *rows]))


def details_with(kind: str) -> Callable[[Facts], tuple[str, ...]]:
    """Keys of the piece's details that bring a step of this kind."""

    def about(facts: Facts) -> tuple[str, ...]:
        return tuple(d.key for d in facts.making.details if any(s.kind == kind and s.when(facts, d) for s in _steps(d)))

    return about


def _steps(detail: Detail) -> tuple[DetailStep, ...]:
    return (CLOSURE_BED, *DETAIL_STEPS[detail.kind])


def make_detail(kind: str) -> Callable[[Job, str], Step]:
    """A maker of steps of this kind."""

    def make(job: Job, key: str) -> Step:
        detail = next(d for d in job.facts.making.details if d.key == key)
        row = next(s for s in _steps(detail) if s.kind == kind and s.when(job.facts, detail))
        amounts = _amounts(job, row, detail)
        rows = spent(job.tempo, *amounts)
        length, area = job.detail_length(detail), _laid_area(job, row, detail)
        chosen = job.glue(row.glue, "vinyl" if row.glue == "vinyl" else "foam") if row.glue else None
        name = f"{detail.count} x {detail.name}" if detail.count > 1 else detail.name
        slides = [x.words for x in job.rigs[0].slides if x.detail == key] if row is TACK and job.rigs else []
        own = job.pattern.laid.get(key)
        # A punch makes holes for thread; raised paint is set in dots.
        punched = isinstance(detail.shape, Row) and detail.shape.prongs and kind == "stitch-paint"
        laid = [own.words] if own and row.tells and not punched else []
        told = row.how.replace("{name}", detail.name).replace("{profile}", own.profile_words if own else "")
        how = " ".join([told, *slides, *laid])
        length = 0.0 if row.laid else length
        laid_on = own.glued if own and row is not TACK else 0.0
        glued = 2 * (area or laid_on or 15 * (length or 40.0 * detail.count))
        return Step(
            f"{kind}:{key}",
            row.title.replace("{name}", name),
            f"{chosen.how} {how} {chosen.warning}".strip() if chosen else how,
            rows.minutes,
            max(row.wait, chosen.clamp if chosen and row.clamped else 0.0),
            rows.formula,
            rows.values,
            (*_skin(detail, area), chosen.material(glued, glued / 30)) if chosen else (),
            (*row.cautions, *((chosen.caution,) if chosen else ())),
            row.reason + (f" {chosen.reason}" if chosen else ""),
            timer=chosen.timer if chosen else "",
            slower=chosen.slower if chosen else 1.0,
            work=row.pace or "detail",
            stage=row.stage,
            about="detail",
            inspection=row.inspection,
            measures=(Value("edge", length),) if length else (),
        )

    return make


def _laid_area(job: Job, row: DetailStep, detail: Detail) -> float:
    """Of the face that is laid over or pressed into, all copies, mm2."""
    return sum(job.panel_area(n) for n in detail.panels or job.facts.panels) if row.laid else 0.0


def _amounts(job: Job, row: DetailStep, detail: Detail) -> list[tuple[str, Work, float]]:
    """How much work it is: by its motif, its area, its length, or else by how many there are."""
    if detail.motif and row.motif == "cut":
        return [("of cut", row.pace or "cut", motif_length(detail.motif) * detail.count)]
    if detail.motif and row.motif == "painted":
        return [
            ("painted through it", row.pace or "coat", float(motif_shape(detail.motif).area) * detail.count),
            ("laid and taken off", "detail", detail.count),
        ]
    area = _laid_area(job, row, detail)
    if area and row.pace:
        return [("of face", row.pace, area)]
    if area:
        return [("of both faces, cement", "coat", 2 * area), ("of face laid", "laminate", area)]
    length = job.detail_length(detail) if (row.glue or row.pace) and not row.motif else 0.0
    long: list[tuple[str, Work, float]] = [("of strip" if row.glue else "of line", row.pace or "cover", length)]
    by_piece = row.pace if row.pace and PACES[row.pace].per == "piece" else "detail"
    return long if length else [("to do", by_piece, detail.count)]


TURNED = 1.25
"""Vinyl to buy for each face it covers: its turn-over, and what is cut away (est.)."""


def _skin(detail: Detail, area: float) -> tuple[Material, ...]:
    """The sheet that covers a face. area: mm2."""
    return (Material(f"stretch vinyl for {detail.name}", area / 1e6 * TURNED, "m2"),) if area else ()
