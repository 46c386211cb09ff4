"""What a piece's rig is made of: straps grouped as they are cut, laces, zips, patches and buckles, counted."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from vellumcut.core.body.segments import Side
from vellumcut.core.cast.armour import INNER
from vellumcut.core.notes import Note, Value
from vellumcut.core.paces import Work
from vellumcut.core.rig.anchors import BED, at_its_line
from vellumcut.core.rig.closures.behind import CLOSED_BY, WHY_SO, bodice_parts, closed_by, closure_parts, why_not_closed
from vellumcut.core.rig.closures.facing import facings_of
from vellumcut.core.rig.closures.magnets import MagnetPlan, magnets_of
from vellumcut.core.rig.closures.openings import openings_of
from vellumcut.core.rig.costume import Costume, Worn
from vellumcut.core.rig.fixing import Fixing
from vellumcut.core.rig.laid import LaidPiece
from vellumcut.core.rig.lengths import HOOK_OVERLAP, SEW_ON, TAIL, TURN_OVER
from vellumcut.core.rig.loads import LEAST_PATCH, Rest
from vellumcut.core.rig.part import ANCHORED, STRIPPED, Slide, StrapPart, counted
from vellumcut.core.rig.rows import Fastening, Rig
from vellumcut.core.rig.straps import Strap

ALIKE = 3.0
"""Straps this near in length are cut alike, mm; an adjustable strap takes up more."""
LIGHT = 150.0
"""A sleeve up to this weight is held by elastic that is glued under a strip, g (est.)."""
LEAST_PULL = 500.0
"""Every strap is tugged when it is put on: no anchor is tried with less, g (est.)."""


@dataclass(frozen=True)
class RigPlan:
    """What holds one copy of a piece, on one side of the body. anchors: glued to its foam, those of other pieces'
    straps among them. slides: plates that slide behind its edges."""

    side: Side
    parts: tuple[StrapPart, ...]
    advice: tuple[str, ...]
    anchors: int = 0
    slides: tuple[Slide, ...] = ()


def _as_fixed(part: StrapPart, fixing: Fixing) -> StrapPart:
    """An eyelet as the maker's school sets it."""
    if part.set_by != "punch" or fixing.backed:
        return part
    return replace(part, stitches="in the bare foam: for cord and a light pull", glue="none")


def _too_long(laid: LaidPiece, straps: Sequence[Strap]) -> list[str]:
    """Said of a plate that hangs farther down than it is high."""
    high = float(laid.area.bounds[3] - laid.area.bounds[1])
    longest = max((s.standing for s in straps if s.row.lifts and s.fastening == "ring"), default=0.0)
    if longest <= high:
        return []
    return [
        f"It hangs {longest:.0f} mm below what holds it, and is {high:.0f} mm high: it will swing. Set the belt lower "
        "on the hips, or draw the plate higher."
    ]


STITCHES: dict[Fastening, str] = {
    "side-release buckle": "box stitch at each anchor, two rows across each turn-over",
    "ring": "two rows across the turn-over, box stitch at the anchor",
    "hook-and-loop": "stitched all round; hook side on what is worn, soft side on the foam",
    "sewn": "two rows at each end",
    "tack": "one row at each plate, the end free to slide",
    "snaps": "heads and sockets through a doubled end, a washer of vinyl behind each",
    "ratchet": "ladder strap riveted at one anchor, ratchet at the other, washers under all rivets",
    "hook": "two rows across the turn-over; the hook is sewn to the shoe",
}
WORDS: dict[Fastening, str] = {
    "side-release buckle": "side-release buckles",
    "ring": "rings",
    "snaps": "snaps, four parts each",
    "ratchet": "ratchets with ladder straps",
    "hook": "hooks, sewn on the shoe",
}
SET: tuple[Fastening, ...] = ("snaps", "ratchet")
"""What is riveted through foam and strap, not sewn."""


def way_words(rig: Rig, laid: LaidPiece) -> str:
    """What a rig is called on this piece: a lace or a zip takes the place of straps across an opening."""
    kind = closed_by(laid)
    if kind is None or not (rig.across or at_its_line(laid)):
        return rig.words
    lace = f"a {CLOSED_BY[kind]} along the opening"
    return rig.words.replace("straps across the opening", lace) if "straps across" in rig.words else lace


def way_why(rig: Rig, laid: LaidPiece) -> str:
    """Why one takes it, on this piece."""
    kind = closed_by(laid)
    return WHY_SO[kind] if kind and (rig == _only_across(rig) or at_its_line(laid)) else rig.why


def _only_across(rig: Rig) -> Rig | None:
    """The rig, if its straps across the opening are all it has: what takes their place takes its reason, too."""
    return rig if rig.across and not rig.straps else None


def _how_held(rig: Rig, laid: LaidPiece) -> list[str]:
    """What holds it, why so, and where that closes: of a shell that is shut behind, the seam that opens, if any."""
    if _only_across(rig) and laid.shut_behind:
        opened = ", ".join(plan.name for plan in openings_of(laid))
        return [f"It opens along the {opened}." if opened else "Closed all round: it is pulled on over hand or foot."]
    words = way_words(rig, laid)
    hidden = [f"Closes {rig.hides}, where the eye does not go."] if rig.hides else []
    return [f"{words[0].upper()}{words[1:]}. {way_why(rig, laid)}", *hidden]


def plan_parts(
    costume: Costume, piece: Worn, side: Side, straps: Sequence[Strap], rest: Rest | None, fixing: Fixing = Fixing()
) -> RigPlan:
    """All parts for one side of a piece. straps: of this piece and side. fixing: as the maker's schools have it."""
    laid = piece.on(side)
    openings = [part for plan in openings_of(laid) for part in plan.parts]
    facings = facings_of(costume, piece, side if side in piece.sides else piece.sides[0])
    openings += [part for plan in facings for part in plan.parts]
    strips = [_magnet_strip(x) for x in magnets_of(laid) if x.strip]
    rows = [*_strap_parts(piece, laid, straps, fixing), *closure_parts(laid, piece.design), *openings, *strips]
    place = f"{BED:.0f} mm x {piece.design.rig.webbing:.0f} mm inside"
    said = {ANCHORED: f"{place}: {fixing.how}", STRIPPED: f"{place}: {fixing.strip_how}"}
    parts = [_as_fixed(replace(p, glue=said.get(p.glue, p.glue)), fixing) for p in rows]
    rig = costume.rig(piece)
    if rig.laced:
        parts += bodice_parts(laid)
    advice = [*_how_held(rig, laid), *why_not_closed(laid), *(f"{x.problem}." for x in facings if x.problem)]
    advice += _too_long(laid, straps) if rig.hangs_free else []
    if any(s.material == "elastic" for s in straps):
        advice.append(
            f"Elastic lies {fixing.strip_how}: for light sleeves only, up to {LIGHT:.0f} g."
            if fixing.under_strip
            else "Elastic is sewn to webbing and the webbing is glued: glued itself it peels off."
        )
    advice += ["Heat-seal webbing ends."] if any(p.name.startswith("webbing") for p in parts) else []
    if any(p.glue not in ("none", "to the elastic") for p in parts):
        advice.append("Open sealed foam with a drum, crosses or scores before glue; mask the bed with tape.")
    if not parts and not rig.straps:
        advice.append(
            "Its straps are those of the piece that hangs on it."
            if rig.needs
            else "The glued seam closes it; two dabs of soft foam inside at the narrow end hold a slim piece."
        )
    if rest is not None and (most := rest.hardest) is not None:
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
    belt = [s for s in straps if s.row.one_belt]
    out = [_cut_row(piece, laid, g, fixing.under_strip) for g in groups if not g[0].row.one_belt]
    out += [_one_belt(laid, belt)] if belt else []
    on_foam = sum(e.piece > 0 for s in straps if s.material == "elastic" for e in s.ends)
    if on_foam and fixing.under_strip:
        out.append(_strips(on_foam))
    elif on_foam:
        ends = BED + SEW_ON
        note = Note(
            "Webbing ends",
            Value("cut length", ends),
            "{0} anchor + {1} under the elastic",
            (Value("anchor", BED), Value("sewn on", SEW_ON)),
            "Webbing does not stretch, so its glue holds.",
            about="strap",
        )
        out.append(StrapPart("webbing ends", on_foam, ends, (), note, "to the elastic", ANCHORED, 1))
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


def _one_belt(laid: LaidPiece, stretches: Sequence[Strap]) -> StrapPart:
    """The belt that its stretches are parts of: between them it runs on along the inside of the piece."""
    places = sorted((s.start_uv for s in stretches), key=lambda uv: abs(uv[0]))
    way = np.linspace(np.abs(places[0]), np.abs(places[-1]), 60)
    beneath = laid.inked.surface.points(way, INNER)
    along = 2 * float(np.linalg.norm(np.diff(beneath, axis=0), axis=1).sum())
    values = (
        *(Value(s.words, s.standing) for s in stretches),
        Value("breath, once for all of it", max(s.longest - s.standing for s in stretches)),
        Value("along the piece, both sides", along),
        Value("turned over 2 x", 2 * TURN_OVER),
        Value("tail", TAIL),
    )
    length = sum(v.amount for v in values)
    note = Note(
        "Hidden belt",
        Value("cut length", length),
        " + ".join(f"{{{k}}} {v.word}" for k, v in enumerate(values)),
        values,
        "One belt all round carries the piece; it is glued beneath it at every anchor.",
        about="strap",
    )
    stitches = STITCHES["side-release buckle"]
    return StrapPart("webbing, hidden belt, all round beneath it", 1, length, (), note, stitches, ANCHORED, 4, 2)


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
    glued = 1 if longest.row.tab else 2
    ends = glued if longest.material == "webbing" else 0
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
        name, plan.alike, long, (), note, "none", "cemented inside one edge, half its width showing", set_by="fasten"
    )
