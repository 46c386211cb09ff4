"""Steps of paint: one for each layer of each finish, with its coats, waits, masks and checks."""

from collections.abc import Callable

from vellumcut.core.design.finish import Weathering, ZoneFinish
from vellumcut.core.finish.layers import LAYERS, Group, PlacedCoat, coats_of
from vellumcut.core.finish.recipes import WEATHERINGS, plain_finish
from vellumcut.core.finish.zones import PaintedZone
from vellumcut.core.make.job import Facts, Job
from vellumcut.core.make.quantities import Material, coating
from vellumcut.core.make.spent import spent
from vellumcut.core.make.step import Inspection, Place, Step
from vellumcut.core.notes import Value
from vellumcut.core.paces import Work

ASKED: dict[str, Inspection] = {
    "hard sealer": Inspection(
        "Is the sealer smooth as glass before filler primer?", "Wet-sand it and brush one more coat."
    ),
    "filler primer": Inspection("Do no pits show in raking light?", "Fill the pits, sand, one more coat there."),
    "gloss black": Inspection(
        "Does the black show your face like a mirror?", "Polish or wet-sand it, and one more wet coat."
    ),
    "metallic": Inspection(
        "From three steps away: is it even?", "One more thin coat over all of it, not over the patch."
    ),
    "acrylic wash": Inspection(
        "From three steps away: too muddy?", "Wipe back with a damp cloth while it is fresh; else dry brush over it."
    ),
    "dry brush": Inspection("From three steps away: too bright?", "Glaze it down with a thin wash."),
}


def finish_list(facts: Facts) -> list[ZoneFinish]:
    """A piece's finishes as they are decided; zones that nothing covers get plain paint."""
    own = list(facts.making.finishes)
    return own if any(not f.zones for f in own) else [*own, plain_finish(facts.making, facts.schools)]


def finish_name(finish: ZoneFinish) -> str:
    """What a finish is known by while others come and go: its first zone; all that no other covers is "rest"."""
    return finish.zones[0] if finish.zones else "rest"


def laid_layers(facts: Facts) -> dict[str, tuple[ZoneFinish, int]]:
    """Every layer by what its step is about, such as "rest.acrylic" or "1a.acrylic 2", in the order in which a stack is
    laid; with its finish and its number, from 1. A layer that is put between others renames none but its own kind.
    Vinyl that is a detail brings its own steps."""
    covered = bool(facts.making.detail_list("vinyl cover"))
    out: dict[str, tuple[ZoneFinish, int]] = {}
    for finish in finish_list(facts):
        kinds = [x.kind for x in finish.stack.layers]
        for k, kind in enumerate(kinds, 1):
            if covered and kind == "vinyl":
                continue
            nth = kinds[:k].count(kind)
            out[f"{finish_name(finish)}.{kind}{f' {nth}' if nth > 1 else ''}"] = (finish, k)
    return out


def group_of(finish: ZoneFinish, number: int) -> Group:
    """The group of a finish's layer."""
    return LAYERS[finish.stack.layers[number - 1].kind].group


def layers_with(group: Group) -> Callable[[Facts], tuple[str, ...]]:
    """What steps of layers of a group are about."""
    return lambda facts: tuple(about for about, row in laid_layers(facts).items() if group_of(*row) == group)


def _found(job: Job, about: str) -> tuple[ZoneFinish, PlacedCoat, PaintedZone | None, bool]:
    """A layer, the finish it is of, the zone that covers, and whether it is the last of its stack."""
    finish, k = laid_layers(job.facts)[about]
    coats = coats_of(finish.stack)
    return finish, coats[k - 1], next((p for p in job.painted if p.finish == finish), None), k == len(coats)


def coat(group: Group) -> Callable[[Job, str], Step]:
    """A maker of steps for layers of a group."""

    def make(job: Job, about: str) -> Step:
        finish, layer, zone, last = _found(job, about)
        one = len(finish_list(job.facts)) == 1
        area = (zone.area if zone else 0.0) * layer.faces
        by_hand = zone is not None and zone.hand and layer.layer.taped
        work: Work = "wet sand" if layer.kind.group == "prepare" else "hand paint" if by_hand else layer.work
        cost = spent(
            job.tempo,
            (f"in {layer.coats} coats" if layer.coats > 1 else "of face", work, area * layer.coats),
            ("sanded wet", "wet sand", area * sanding_rounds(layer)),
            ("of line to tape", "mask", zone.mask if zone and layer.layer.taped and not by_hand else 0.0),
            ("of line by hand", "cut in", zone.mask * layer.coats if zone and by_hand else 0.0),
        )
        where = "" if one else f"{finish.stack.name}: "
        place: Place = "outdoors" if layer.tool == "spray" else "ventilated" if layer.sprayed else "indoors"
        return Step(
            f"coat-{group}:{about}",
            f"{where}{layer.word}"[0].upper() + f"{where}{layer.word}"[1:],
            _how(layer, zone, by_hand),
            cost.minutes,
            # The last layer is what is worn: till then nothing rubs on it.
            max(layer.settle, layer.kind.wear) if last else layer.settle,
            cost.formula or "0 min",
            cost.values,
            _paint(layer, area),
            ("solvents",) if layer.sprayed or layer.kind.family in ("lacquer", "enamel", "oil", "resin") else (),
            _reason(layer),
            work=work,
            stage="paint",
            about="zone",
            place=place,
            tools=("spray cans",) if layer.tool == "spray" else ("airbrush",) if layer.tool == "airbrush" else (),
            protection=("vapour mask",) if layer.sprayed else (),
            coats=layer.coats,
            between=layer.recoat,
            inspection=ASKED.get(layer.kind.key),
            measures=(Value("area", area, "mm2"), Value("coats", layer.coats, "count")),
        )

    return make


def sanding_rounds(layer: PlacedCoat) -> int:
    """How often all of a layer is sanded wet: between its last coats, two or three times (making.md, section 5); a
    single coat once."""
    return min(3, max(1, layer.coats - 1)) if layer.kind.sand else 0


def _how(layer: PlacedCoat, zone: PaintedZone | None, by_hand: bool) -> str:
    tool = {"brush": "a brush", "spray": "the can", "airbrush": "an airbrush", "cloth": "a cloth"}[layer.tool]
    faces = {"outside": "outside", "inside": "inside", "both": "both faces"}[layer.layer.faces]
    parts = [
        f"With {tool}, {faces}, thin coats, each dry before the next." if layer.coats > 1 else f"With {tool}, {faces}."
    ]
    if layer.kind.key == "mirror chrome":
        parts = [f"With {tool}: two coats as mist, one a little fuller. Do not touch it till it is buffed."]
    if layer.kind.sand:
        parts.append(f"Sand it wet, {sanding_rounds(layer)} times over all of it, the last time before what follows.")
    if layer.layer.taped and zone is not None:
        parts.append(
            f"Paint to the line by hand: {zone.by_hand:.0f} min against {zone.masked:.0f} with tape."
            if by_hand
            else (
                f"Tape {zone.mask / 1000:.1f} m of line first, pressed down with a nail; pull it while the coat is "
                "soft."
            )
        )
    if layer.layer.note:
        parts.append(layer.layer.note)
    return " ".join(parts)


def _reason(layer: PlacedCoat) -> str:
    return {
        "prepare": "Nothing holds on a glossy face.",
        "primer": "A brittle coat cracks where a piece flexes: the first one must give.",
        "smooth": "Every pit shows in what comes over it.",
        "colour": "Paint comes after the test fit: a changed piece would be painted twice.",
        "metal": "Metal shows what lies beneath it.",
        "weather": "Stop before it turns to mud; look from three steps away.",
        "clear": "Hands, straps and weather wear bare paint off.",
    }[layer.kind.group]


def _paint(layer: PlacedCoat, area: float) -> tuple[Material, ...]:
    if layer.kind.cover > 1e6 or area <= 0:
        return ()
    return (coating(layer.word, area, layer.coats, layer.kind.cover),)


def painted(facts: Facts) -> bool:
    """Whether anything is put on it by brush, spray or cloth."""
    return bool(laid_layers(facts) or _weatherings(facts))


def ends_at_lines(facts: Facts) -> bool:
    """Whether any finish ends at a line within the piece."""
    return any(x.taped for f in finish_list(facts) for x in f.stack.layers)


LAST: Weathering = "wax points"


def weathered(facts: Facts) -> tuple[str, ...]:
    """ "rest.rust" for every weathering of every finish that lies under its clear."""
    return tuple(about for about in _weatherings(facts) if not about.endswith(f".{LAST}"))


def waxed(facts: Facts) -> tuple[str, ...]:
    """The same for wax, which comes last of all: nothing holds on it."""
    return tuple(about for about in _weatherings(facts) if about.endswith(f".{LAST}"))


def _weatherings(facts: Facts) -> list[str]:
    return [f"{finish_name(f)}.{w}" for f in finish_list(facts) for w in f.stack.weathering]


def weather(job: Job, about: str) -> Step:
    """Area over a pace."""
    name, _, key = about.partition(".")
    finish = next(f for f in finish_list(job.facts) if finish_name(f) == name)
    recipe = next(w for w in WEATHERINGS.values() if w.key == key)
    zone = next((p for p in job.painted if p.finish == finish), None)
    cost = spent(job.tempo, ("of face", "weather", zone.area if zone else 0.0))
    return Step(
        f"{'wax' if key == LAST else 'weather'}:{about}",
        recipe.word[0].upper() + recipe.word[1:],
        f"Where: {recipe.place}. {recipe.how} {recipe.stop}",
        cost.minutes,
        60,
        cost.formula,
        cost.values,
        (),
        (),
        "What is aged everywhere looks dirty; aged where hands and stones reach, it looks old.",
        work="weather",
        stage="paint",
        about="zone",
        inspection=Inspection(
            "From three steps away: enough, and not too much?", "Wipe back, or glaze it down with a thin wash."
        ),
    )


def tabs(job: Job, _: str) -> Step:
    """Minutes a part."""
    cost = spent(job.tempo, ("parts", "detail", job.pattern.copies))
    return Step(
        "tabs",
        "Something to hold each part by",
        f"A hang tab{' that is not on a seam' if job.facts.glued else ''}, or a stick in a cut edge"
        f"{', one end of the tube left open' if job.pattern.design.back == 'closed' and not job.facts.drawn else ''}. "
        "Mask every face that will be glued later.",
        cost.minutes,
        0,
        cost.formula,
        cost.values,
        (),
        (),
        "A part laid down wet has a mark; glue on paint holds the paint, not the part.",
        work="detail",
        stage="paint",
    )


def dust_primer(job: Job, _: str) -> Step:
    """Area over a pace, and the reference looked at once more."""
    cost = spent(job.tempo, ("of both faces", "dust", 2 * job.pattern.area))
    return Step(
        "dust-primer",
        "Dust off, and look once more",
        "Brush, damp cloth, dry. Hold the reference beside it: under paint nothing is changed any more.",
        cost.minutes,
        5,
        cost.formula,
        cost.values,
        (),
        ("dust",),
        "Paint on dust peels with the dust.",
        work="dust",
        stage="paint",
        checks=tuple(c.text for c in job.facts.making.checklist),
        inspection=Inspection(
            "Smooth to the finger, and like the reference?",
            "Put right what differs, sand and seal that place, dust off again.",
        ),
    )


def touch_up(job: Job, _: str) -> Step:
    """Length of masked lines over a pace."""
    mask = sum(p.mask for p in job.painted if not p.hand)
    cost = spent(job.tempo, ("of line", "cut in", mask))
    return Step(
        "touch-up",
        "Touch up the edges",
        "Overspray is certain: go along every line with a fine brush and each colour kept back.",
        cost.minutes,
        30,
        cost.formula,
        cost.values,
        (),
        (),
        "An eye that finds one crooked line looks for the next.",
        work="cut in",
        stage="paint",
    )
