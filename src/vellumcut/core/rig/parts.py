"""What a piece's rig is made of: straps grouped as they are cut, laces, zips, patches and buckles, counted."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from vellumcut.core.body.segments import Side
from vellumcut.core.design.piece import PieceDesign, opening
from vellumcut.core.notes import Note, Value
from vellumcut.core.paces import Work
from vellumcut.core.rig.anchors import BED, BODICE_EYELETS, EYELET_EVERY, EYELET_INSET, eyelet_places, laced_span
from vellumcut.core.rig.costume import Costume, Worn
from vellumcut.core.rig.fixing import BED_COATS, CLOTH_COATS, Fixing
from vellumcut.core.rig.laid import LaidPiece
from vellumcut.core.rig.loads import LEAST_PATCH, Rest
from vellumcut.core.rig.magnets import MagnetPlan, magnets_of
from vellumcut.core.rig.openings import openings_of
from vellumcut.core.rig.part import ANCHORED, LACE_END, STRIPPED, StrapPart, counted
from vellumcut.core.rig.recipes import Fastening, Rig
from vellumcut.core.rig.straps import HOOK_OVERLAP, SEW_ON, Strap

ALIKE = 3.0
"""Straps this near in length are cut alike, mm; an adjustable strap takes up more."""
LIGHT = 150.0
"""A sleeve up to this weight is held by elastic that is glued under a strip, g (est.)."""
LEAST_PULL = 500.0
"""Every strap is tugged when it is put on: no anchor is tried with less, g (est.)."""
ZIP_ENDS = 40.0
"""Zip sewn on at both ends, mm."""


@dataclass(frozen=True)
class RigPlan:
    """What holds one copy of a piece, on one side of the body. anchors: glued to its foam, those of other pieces'
    straps among them."""

    side: Side
    parts: tuple[StrapPart, ...]
    advice: tuple[str, ...]
    anchors: int = 0


STITCHES: dict[Fastening, str] = {
    "side-release buckle": "box stitch at each anchor, two rows across each turn-over",
    "ring": "two rows across the turn-over, box stitch at the anchor",
    "hook-and-loop": "stitched all round; hook side on what is worn, soft side on the foam",
    "sewn": "two rows at each end",
    "tack": "one row at each plate, the end free to slide",
    "snaps": "heads and sockets through a doubled end, a washer of vinyl behind each",
    "ratchet": "ladder strap riveted at one anchor, ratchet at the other, washers under all rivets",
}
WORDS: dict[Fastening, str] = {
    "side-release buckle": "side-release buckles",
    "ring": "rings",
    "snaps": "snaps, four parts each",
    "ratchet": "ratchets with ladder straps",
}
SET: tuple[Fastening, ...] = ("snaps", "ratchet")
"""What is riveted through foam and strap, not sewn."""


def way_words(rig: Rig, laid: LaidPiece) -> str:
    """What a rig is called on this piece: a lace or a zip takes the place of straps across an opening."""
    return (
        rig.words.replace("straps across", f"a {CLOSED_BY[laid.design.closure]} along")
        if laced_span(laid)
        else rig.words
    )


CLOSED_BY: dict[str, str] = {"lacing": "lace", "zip": "zip"}


def plan_parts(
    costume: Costume, piece: Worn, side: Side, straps: Sequence[Strap], rest: Rest | None, fixing: Fixing = Fixing()
) -> RigPlan:
    """All parts for one side of a piece. straps: of this piece and side. fixing: as the maker's schools have it."""
    laid = piece.on(side)
    openings = [part for plan in openings_of(laid) for part in plan.parts]
    strips = [_magnet_strip(x) for x in magnets_of(laid) if x.strip]
    rows = [*_strap_parts(piece, laid, straps, fixing), *_closure(laid, piece.design), *openings, *strips]
    place = f"{BED:.0f} mm x {piece.design.rig.webbing:.0f} mm inside"
    said = {ANCHORED: f"{place}: {fixing.how}", STRIPPED: f"{place}: {fixing.strip_how}"}
    parts = [replace(p, glue=said.get(p.glue, p.glue)) for p in rows]
    rig = costume.rig(piece)
    if rig.laced:
        parts += _bodice(laid)
    words = way_words(rig, laid)
    advice = [f"{words[0].upper()}{words[1:]}. {rig.why}"] + (
        [f"Closes {rig.hides}, where the eye does not go."] if rig.hides else []
    )
    if any(s.material == "elastic" for s in straps):
        advice.append(
            f"Elastic lies {fixing.strip_how}: for light sleeves only, up to {LIGHT:.0f} g."
            if fixing.under_strip
            else "Elastic is sewn to webbing and the webbing is glued: glued itself it peels off."
        )
    if parts:
        advice += [
            "Heat-seal webbing ends.",
            "Open sealed foam with a drum, crosses or scores before glue; mask the bed with tape.",
        ]
    elif not rig.straps:
        advice.append(
            "Its straps are those of the piece that hangs on it."
            if rig.needs
            else "The glued seam closes it; two dabs of soft foam inside at the narrow end hold a slim piece."
        )
    if rest is not None and rest.loads:
        most = max(rest.loads, key=lambda x: x.grams)
        advice.append(
            f"Pull test {fixing.when}: hang {max(most.moving, LEAST_PULL) / 1000:.1f} kg on the anchor {most.anchor} "
            "for a minute."
        )
    there = costume.anchors(piece, side if side in piece.sides else piece.sides[0])
    return RigPlan(side, tuple(parts), tuple(advice), sum(a.kind not in ("eyelet", "magnet") for a in there))


def _strap_parts(piece: Worn, laid: LaidPiece, straps: Sequence[Strap], fixing: Fixing) -> list[StrapPart]:
    groups: list[list[Strap]] = []
    for strap in sorted(straps, key=lambda s: (s.material, s.fastening, s.cut)):
        last = groups[-1][0] if groups else None
        like = last is not None and (last.material, last.fastening) == (strap.material, strap.fastening)
        if last is not None and like and (strap.cut - last.cut < ALIKE or strap.row.key == last.row.key):
            groups[-1].append(strap)
        else:
            groups.append([strap])
    out = [_cut_row(piece, laid, g, fixing.under_strip) for g in groups]
    elastics = [s for s in straps if s.material == "elastic"]
    if elastics and fixing.under_strip:
        out.append(_strips(2 * len(elastics)))
    elif elastics:
        ends = BED + SEW_ON
        note = Note(
            "Webbing ends",
            Value("cut length", ends),
            "{0} anchor + {1} under the elastic",
            (Value("anchor", BED), Value("sewn on", SEW_ON)),
            "Webbing does not stretch, so its glue holds.",
            about="strap",
        )
        out.append(StrapPart("webbing ends", 2 * len(elastics), ends, (), note, "to the elastic", ANCHORED, 1))
    for fastening, words in WORDS.items():
        count = sum(s.fastening == fastening for s in straps)
        if count:
            set_by: Work | None = "fasten" if fastening in SET else None
            out.append(counted(words, count, "One for each strap; sewn or riveted, not glued.", set_by))
    hooks = [s for s in straps if s.fastening == "hook-and-loop"]
    if hooks:
        wide = max(piece.design.rig.webbing, LEAST_PATCH / HOOK_OVERLAP)
        out.append(
            counted(
                f"pairs of hook-and-loop {HOOK_OVERLAP:.0f} x {wide:.0f} mm",
                len(hooks),
                "One for each strap: the soft side goes on the foam, so nothing scratches.",
                "fasten",
            )
        )
    return out


def _strips(count: int) -> StrapPart:
    """What lies over the ends of elastic that is not sewn to webbing."""
    note = Note(
        "Strips over elastic",
        Value("cut length", BED),
        "{0} anchor",
        (Value("anchor", BED),),
        "Foam holds foam; glue on elastic stiffens it and peels off.",
        about="strap",
    )
    return StrapPart("strips of 2 mm foam over elastic", count, BED, (), note, "not sewn", STRIPPED, 1)


def _cut_row(piece: Worn, laid: LaidPiece, group: Sequence[Strap], under: bool) -> StrapPart:
    longest = max(group, key=lambda s: s.cut)
    words = (
        longest.words
        if len({s.row.words for s in group}) == 1
        else "straps alike: " + ", ".join(dict.fromkeys(s.row.key for s in group))
    )
    if all(s.row.key.startswith("opening") for s in group):
        words = "all round" if piece.design.rig.run == "round" else "across the opening"
    floor = laid.area.bounds[1]
    at = tuple(sorted({round(_height(laid, s) - floor) for s in group}))
    glue = "none" if longest.material == "elastic" else ANCHORED
    name = words if longest.material in words else f"{longest.material}, {words}"
    ends = 2 if longest.material == "webbing" else 0
    riveted = longest.fastening in SET
    sewn = 0 if riveted or (under and longest.material == "elastic") else 2
    stitches = STITCHES[longest.fastening]
    return StrapPart(name, len(group), longest.cut, at, longest.note, stitches, glue, ends, sewn)


def _height(laid: LaidPiece, strap: Strap) -> float:
    return float(laid.inked.tube.mm(strap.start_uv[1]))


def _magnet_strip(plan: MagnetPlan) -> StrapPart:
    """What magnets under a plain seam sit on."""
    long, wide = plan.strip or (0.0, 0.0)
    note = Note(
        "Underlap strip",
        Value("cut length", long),
        "{0} edge",
        (Value("edge", long),),
        "Magnets under a plain seam sit on a strip of its length.",
        about="magnet",
    )
    name = f"underlap strip of 2 mm foam, {wide:.0f} mm wide, for magnets at the {plan.row.edge}"
    return StrapPart(
        name, 1, long, (), note, "none", "cemented inside one edge, half its width showing", set_by="fasten"
    )


def _closure(laid: LaidPiece, design: PieceDesign) -> list[StrapPart]:
    """The lace or zip of a shell that is open behind."""
    span = laced_span(laid)
    if span is None:
        return []
    length = span[1] - span[0]
    return _lacing(laid, design, length) if design.closure == "lacing" else _zip(length)


def _lacing(laid: LaidPiece, design: PieceDesign, length: float) -> list[StrapPart]:
    at = eyelet_places(length, EYELET_EVERY)
    surface, tube = laid.inked.surface, laid.inked.tube
    along = tube.along(laced_span(laid)[0] + np.array(at))  # type: ignore[index]
    middle, outer = surface.girth(along), surface.girth(along, 1.0)
    across = float((opening(design) * outer / middle).max()) + 2 * EYELET_INSET
    pitch = (length - 2 * EYELET_INSET) / (len(at) - 1)
    lace = 2 * float(np.hypot(across, pitch)) * (len(at) - 1) + across + 2 * LACE_END
    eyelets = Note(
        "Eyelets",
        Value("eyelets", 2 * len(at), "count"),
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
            Value("gaps", len(at) - 1, "count"),
            Value("diagonal", float(np.hypot(across, pitch))),
            Value("across", across),
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
            2 * len(at),
            0.0,
            at,
            eyelets,
            backing,
            f"cement the strip inside both closing edges, {CLOTH_COATS} coats on the cloth, {BED_COATS} on the foam",
            set_by="punch",
        ),
        StrapPart("lace", 1, lace, (), note, "heat-seal or whip both ends", "none"),
    ]


def _zip(length: float) -> list[StrapPart]:
    note = Note(
        "Zip",
        Value("cut length", length + ZIP_ENDS),
        "{0} closing edge + {1} to stitch at both ends",
        (Value("edge", length), Value("ends", ZIP_ENDS)),
        "An open-ended zip opens the whole back; it is shortened at the top only.",
        "The piece's length.",
        about="strap",
    )
    strips = Note(
        "Zip strips",
        Value("cut length", length),
        "{0} closing edge",
        (Value("edge", length),),
        "A zip is sewn to thin foam first, and the foam is cemented.",
        about="strap",
    )
    words = "sew each tape to its strip first"
    return [
        StrapPart("open-ended zip", 1, length + ZIP_ENDS, (), note, words, "none", sewn=2),
        StrapPart(
            "strips of 2 mm foam, 20 mm wide",
            2,
            length,
            (),
            strips,
            words,
            "cement the strips inside the closing edges",
            set_by="fasten",
        ),
    ]


def _bodice(laid: LaidPiece) -> list[StrapPart]:
    """Eyelets down both side edges, to a bodice that is laced to them."""
    _, low, _, high = laid.area.bounds
    length = (high - low) * 0.5
    at = eyelet_places(length, BODICE_EYELETS)
    note = Note(
        "Eyelets",
        Value("eyelets", 2 * len(at), "count"),
        "2 sides x ({0} side edge - 2 x {1} from the ends) / {2} apart + 1 each",
        (Value("edge", length), Value("from the ends", EYELET_INSET), Value("apart", BODICE_EYELETS)),
        "A row down each side carries evenly.",
        about="strap",
    )
    return [
        replace(
            counted("eyelets down both sides", 2 * len(at), ""),
            at=at,
            note=note,
            stitches="backed with fabric",
            set_by="punch",
        )
    ]
