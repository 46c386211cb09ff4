"""Straps and closures: how many, where, how long to cut, where the stitches and the glue go."""

import re
from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from vellumcut.core.body.segments import Side
from vellumcut.core.cast.armour import MIDDLE, OUTER, ArmourSurface
from vellumcut.core.ink.design import Closure, PieceDesign, opening
from vellumcut.core.ink.templates import edge_places, is_inked
from vellumcut.core.notes import Note, Value

STRAP_EVERY = 90.0
"""Straps closer than this hold a shell without gaping between them, mm (est.)."""
FROM_EDGE = 25.0
"""Centre of the first and last strap from the ends, so they sit near the edge that would lift, mm."""
ANCHOR = 60.0
"""Webbing laid on foam to be glued, mm: a palm's width of cement (est.)."""
TURN_OVER = 30.0
"""Webbing turned back round a ring or buckle bar and stitched, mm."""
TAIL = 80.0
"""Webbing past the buckle to pull and adjust by, mm."""
SEW_ON = 25.0
"""Overlap of elastic on webbing for two rows of stitches, mm."""
HOOK_OVERLAP = 60.0
"""Hook-and-loop that meets, mm."""
ALIKE = 3.0
"""Straps this near in length are cut alike, mm; an adjustable strap takes up more."""
EYELET_EVERY = 25.0
EYELET_INSET = 12.0
LACE_END = 350.0
"""Lace left at each end to tie and to open by, mm (est.)."""


@dataclass(frozen=True)
class StrapPart:
    """Something to cut or count. length: cut length in mm, 0 for counted things. at: mm above the lower edge."""

    name: str
    count: int
    length: float
    at: tuple[float, ...]
    note: Note
    stitches: str
    glue: str


@dataclass(frozen=True)
class RigPlan:
    side: Side
    parts: tuple[StrapPart, ...]
    advice: tuple[str, ...]


@dataclass(frozen=True)
class _Span:
    """The opening at one strap, outside the foam, mm."""

    girth: float
    across: float
    middle: float


def plan_rig(surface: ArmourSurface, design: PieceDesign, side: Side) -> RigPlan:
    """What holds one piece on, from the girth outside its foam."""
    if is_inked(design):
        words = "Straps are counted for plain shells. On a drawn piece anchor them near the edge that would lift, in line with the pull."
        return RigPlan(side, (), (words, "Heat-seal webbing ends; sand the foam open before any glue."))
    low, high = edge_places(surface.tube, design)
    if design.back == "closed":
        words = "The glued seam closes it; nothing else is needed if the donning check passes."
        return RigPlan(side, (), (words, "A slim piece slips: two dabs of soft foam inside at the narrow end hold it."))
    places = strap_places(high - low)
    spans = [_span(surface, low + p, opening(design)) for p in places]
    parts = _RECIPES[design.closure](design, places, spans, high - low)
    advice = [
        "Heat-seal webbing ends.",
        "Sand or cross-hatch the foam open before any glue: a sealed face does not hold.",
    ]
    return RigPlan(side, tuple(parts), tuple(advice))


def _alike(parts: list[StrapPart]) -> list[StrapPart]:
    """One row for straps too alike to be told apart on the bench, at the longest of them."""
    if len(parts) < 2 or max(p.length for p in parts) - min(p.length for p in parts) > ALIKE:
        return parts
    longest = max(parts, key=lambda p: p.length)
    name = re.sub(r" \d+", "", longest.name)
    at = tuple(place for p in parts for place in p.at)
    note = replace(longest.note, title=re.sub(r" \d+$", "", longest.note.title))
    return [replace(longest, name=name, count=len(parts), at=at, note=note)]


def strap_places(length: float) -> list[float]:
    """Strap centres above the lower edge, mm: near both ends, and no gap over STRAP_EVERY."""
    inset = min(FROM_EDGE, length / 4)
    count = max(2, int(np.ceil((length - 2 * inset) / STRAP_EVERY)) + 1)
    return [float(p) for p in np.linspace(inset, length - inset, count)]


def _span(surface: ArmourSurface, z: float, gap: float) -> _Span:
    along = surface.tube.along(z)
    middle, outer = (float(surface.girth(along, depth)[0]) for depth in (MIDDLE, OUTER))
    return _Span(outer, gap * outer / middle, middle)


def _span_note(
    title: str, design: PieceDesign, span: _Span, result: float, extra: str, values: tuple[Value, ...]
) -> Note:
    """extra: the rest of the formula, in which ``{v0}``, ``{v1}`` stand for ``values``."""
    if design.rig.run == "round":
        start = "{0} all round outside the foam"
        first: tuple[Value, ...] = (Value("outside the foam", span.girth),)
    else:
        start = "{0} opening x {1} outside / {2} middle of the foam"
        first = (
            Value("opening", opening(design)),
            Value("girth outside the foam", span.girth),
            Value("girth of its middle", span.middle),
        )
    places = {f"v{k}": f"{{{len(first) + k}}}" for k in range(len(values))}
    return Note(
        title=title,
        result=Value("cut length", result),
        formula=start + extra.format(**places),
        values=first + values,
        reason="Straps lie outside the foam, where every girth is longer; measured on the body they come out short.",
        change="Thicker foam, more ease or a wider opening makes them longer.",
        about="strap",
    )


def _reach(design: PieceDesign, span: _Span) -> float:
    return span.girth if design.rig.run == "round" else span.across


def _buckles(design: PieceDesign, places: list[float], spans: list[_Span], length: float) -> list[StrapPart]:
    parts = []
    for k, (place, span) in enumerate(zip(places, spans, strict=True), 1):
        tongue = _reach(design, span) + ANCHOR + TAIL
        note = _span_note(
            f"Strap {k}",
            design,
            span,
            tongue,
            " + {v0} anchor + {v1} tail",
            (Value("anchor", ANCHOR), Value("tail", TAIL)),
        )
        parts.append(
            StrapPart(
                f"webbing {k}, tongue",
                1,
                tongue,
                (place,),
                note,
                "box stitch on a fabric-backed anchor",
                _anchor_words(design),
            )
        )
    parts = _alike(parts)
    holder = ANCHOR + 2 * TURN_OVER
    note = Note(
        "Buckle holder",
        Value("cut length", holder),
        "{0} anchor + 2 x {1} turned over the bar",
        (Value("anchor", ANCHOR), Value("turn-over", TURN_OVER)),
        "Buckles are sewn, not glued: the webbing goes round the bar and is stitched to itself.",
        about="strap",
    )
    stitches = f"two rows across the turn-over, {TURN_OVER:.0f} mm from the bar"
    parts.append(
        StrapPart("webbing, buckle holder", len(places), holder, tuple(places), note, stitches, _anchor_words(design))
    )
    parts.append(_counted("buckles", len(places), places, "One for each strap."))
    return parts


def _hook_and_loop(design: PieceDesign, places: list[float], spans: list[_Span], length: float) -> list[StrapPart]:
    parts = []
    for k, (place, span) in enumerate(zip(places, spans, strict=True), 1):
        strap = _reach(design, span) + ANCHOR + HOOK_OVERLAP
        note = _span_note(
            f"Strap {k}",
            design,
            span,
            strap,
            " + {v0} anchor + {v1} that meets",
            (Value("anchor", ANCHOR), Value("overlap", HOOK_OVERLAP)),
        )
        words = f"hook side on the last {HOOK_OVERLAP:.0f} mm, stitched all round"
        parts.append(StrapPart(f"webbing {k}", 1, strap, (place,), note, words, _anchor_words(design)))
    parts = _alike(parts)
    parts.append(
        _counted(
            f"soft-side patches {HOOK_OVERLAP:.0f} mm",
            len(places),
            places,
            "The soft side goes on the foam, so nothing scratches.",
        )
    )
    return parts


def _lacing(design: PieceDesign, places: list[float], spans: list[_Span], length: float) -> list[StrapPart]:
    rows = int((length - 2 * EYELET_INSET) // EYELET_EVERY) + 1
    pitch = (length - 2 * EYELET_INSET) / max(1, rows - 1)
    widest = max(s.across for s in spans) + 2 * EYELET_INSET
    diagonal = float(np.hypot(widest, pitch))
    lace = 2 * diagonal * (rows - 1) + widest + 2 * LACE_END
    at = tuple(EYELET_INSET + k * pitch for k in range(rows))
    eyelets = Note(
        "Eyelets",
        Value("eyelets", 2 * rows, "count"),
        "2 sides x ({0} closing edge - 2 x {1} from the ends) / {2} apart + 1 each",
        (Value("edge", length), Value("from the ends", EYELET_INSET), Value("apart", pitch)),
        f"Rows about {EYELET_EVERY:.0f} mm apart draw a foam edge in evenly.",
        "A longer piece.",
        about="strap",
    )
    note = Note(
        "Lace",
        Value("cut length", lace),
        "2 x {0} gaps x {1} diagonal + {2} first row + 2 x {3} to tie",
        (
            Value("gaps", rows - 1, "count"),
            Value("diagonal", diagonal),
            Value("across", widest),
            Value("ends", LACE_END),
        ),
        "Crossed lacing: each gap is crossed twice; the opening is measured outside the foam.",
        "A narrower opening.",
        about="strap",
    )
    backing = f"eyelets through a {2 * EYELET_INSET:.0f} mm strip of fabric or vinyl on the inside, never bare foam"
    return [
        StrapPart(
            "eyelets",
            2 * rows,
            0.0,
            at,
            eyelets,
            backing,
            "cement the strip inside both closing edges, two coats on the cloth",
        ),
        StrapPart("lace", 1, lace, (), note, "heat-seal or whip both ends", "none"),
    ]


def _zip(design: PieceDesign, places: list[float], spans: list[_Span], length: float) -> list[StrapPart]:
    note = Note(
        "Zip",
        Value("cut length", length + 40.0),
        "{0} closing edge + {1} to stitch at both ends",
        (Value("edge", length), Value("ends", 40.0)),
        "An open-ended zip opens the whole back.",
        "The piece's length.",
        about="strap",
    )
    words = "sew each tape to a 20 mm strip of 2 mm foam first"
    return [
        StrapPart("open-ended zip", 1, length + 40.0, (), note, words, "cement the strips inside the closing edges")
    ]


def _elastic(design: PieceDesign, places: list[float], spans: list[_Span], length: float) -> list[StrapPart]:
    parts = []
    for k, (place, span) in enumerate(zip(places, spans, strict=True), 1):
        bare = _reach(design, span)
        elastic = bare / (1 + design.rig.stretch) + 2 * SEW_ON
        note = _span_note(
            f"Elastic {k}",
            design,
            span,
            elastic,
            ", / (1 + {v0} stretch) + 2 x {v1} sewn on",
            (Value("stretch", design.rig.stretch, "ratio"), Value("sewn on", SEW_ON)),
        )
        words = f"sew {SEW_ON:.0f} mm on to webbing at both ends, two rows"
        parts.append(
            StrapPart(
                f"elastic {k}", 1, elastic, (place,), note, words, "never glue elastic to foam: stretching peels it off"
            )
        )
    parts = _alike(parts)
    ends = ANCHOR + SEW_ON
    note = Note(
        "Webbing ends",
        Value("cut length", ends),
        "{0} anchor + {1} under the elastic",
        (Value("anchor", ANCHOR), Value("sewn on", SEW_ON)),
        "Webbing does not stretch, so its glue holds.",
        about="strap",
    )
    parts.append(
        StrapPart("webbing ends", 2 * len(places), ends, tuple(places), note, "to the elastic", _anchor_words(design))
    )
    return parts


def _anchor_words(design: PieceDesign) -> str:
    return f"{ANCHOR:.0f} mm x {design.rig.webbing:.0f} mm inside: two coats on the webbing, one on opened foam; clamp overnight"


def _counted(name: str, count: int, places: list[float], why: str) -> StrapPart:
    note = Note(
        name.capitalize(),
        Value(name, count, "count"),
        "{0} straps",
        (Value("straps", len(places), "count"),),
        why,
        about="strap",
    )
    return StrapPart(name, count, 0.0, tuple(places), note, "sewn or riveted, not glued", "none")


_Recipe = Callable[[PieceDesign, list[float], list[_Span], float], list[StrapPart]]
_RECIPES: dict[Closure, _Recipe] = {
    "none": _elastic,
    "lacing": _lacing,
    "hook-and-loop": _hook_and_loop,
    "buckles": _buckles,
    "zip": _zip,
}
