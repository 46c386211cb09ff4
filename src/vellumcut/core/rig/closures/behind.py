"""What closes a piece behind: a lace or a zip along its edges, or eyelets to a bodice."""

from dataclasses import replace

import numpy as np

from vellumcut.core.design.piece import Closure, PieceDesign, opening
from vellumcut.core.notes import Note, Value
from vellumcut.core.rig.anchors import closing_edge, laced_span
from vellumcut.core.rig.closures.eyelets import BODICE_EYELETS, EYELET_EVERY, EYELET_INSET, eyelet_places
from vellumcut.core.rig.fixing import BED_COATS, CLOTH_COATS
from vellumcut.core.rig.laid import LaidPiece
from vellumcut.core.rig.part import LACE_END, StrapPart, counted

FARTHEST: dict[Closure, float] = {"lacing": 160.0, "zip": 20.0}
"""How far apart edges may be that it closes, mm (est.): a zip's nearly meet."""
ZIP_STRIPS = "strips of 2 mm foam, 20 mm wide"
ZIP_ENDS = 40.0
"""Zip sewn on at both ends, mm."""
CLOSED_BY: dict[Closure, str] = {"lacing": "lace", "zip": "zip"}
WHY_SO: dict[Closure, str] = {
    "lacing": "A lace draws its edges in evenly, and is drawn tight anew each time.",
    "zip": "A zip shuts in one pull; it neither gives nor adjusts.",
}
"""Why one closes a piece by it."""


def closure_parts(laid: LaidPiece, design: PieceDesign) -> list[StrapPart]:
    """The lace or zip of a shell that is open behind."""
    span = laced_span(laid)
    if span is not None:
        length = span[1] - span[0]
        return _lacing(laid, design, length, _plain_gap(laid)) if design.closure == "lacing" else _zip(length)
    edge = _edge_to_close(laid, design.closure)
    if edge is None:
        return []
    length, across = edge
    return _lacing(laid, design, length, across) if design.closure == "lacing" else _zip(length)


def closed_by(laid: LaidPiece) -> Closure | None:
    """The lace or the zip that closes a piece, where one can."""
    kind = laid.design.closure
    return kind if laced_span(laid) is not None or _edge_to_close(laid, kind) is not None else None


def _edge_to_close(laid: LaidPiece, kind: Closure) -> tuple[float, float] | None:
    """Length of a drawn piece's edges that a lace or a zip closes, and how far they are apart, mm."""
    edge = closing_edge(laid) if kind in CLOSED_BY else None
    return None if edge is None or edge[1] > FARTHEST[kind] else edge


def closings(laid: LaidPiece) -> tuple[Closure, ...]:
    """What can close a drawn piece beside its straps; nothing where its edges are too far apart, or glued."""
    edge = closing_edge(laid)
    fits: list[Closure] = [k for k in ("lacing", "zip") if edge is not None and edge[1] <= FARTHEST[k]]
    return ("none", *fits) if fits else ()


def why_not_closed(laid: LaidPiece) -> list[str]:
    """Said where a lace or a zip was chosen that cannot be."""
    kind = laid.design.closure
    if laid.inked.drawn is None or kind not in CLOSED_BY:
        return []
    edge = closing_edge(laid)
    if edge is None:
        return [f"A {CLOSED_BY[kind]} was chosen, but it leaves nothing open behind: open a seam by it instead."]
    if edge[1] <= FARTHEST[kind]:
        return []
    return [
        f"A {CLOSED_BY[kind]} was chosen, but its edges are {edge[1]:.0f} mm apart behind: it draws shut up to "
        f"{FARTHEST[kind]:.0f} mm. Straps hold it instead."
    ]


def _plain_gap(laid: LaidPiece) -> float:
    """The widest opening of a plain shell, outside the foam, mm."""
    surface, tube = laid.inked.surface, laid.inked.tube
    low, high = laid.inked.ends
    along = tube.along(np.linspace(low, high, 40))
    return float((opening(laid.design) * surface.girth(along, 1.0) / surface.girth(along)).max())


def _lacing(laid: LaidPiece, design: PieceDesign, length: float, gap: float) -> list[StrapPart]:
    """gap: from edge to edge, mm."""
    at = eyelet_places(length, EYELET_EVERY)
    across = gap + 2 * EYELET_INSET
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
            ZIP_STRIPS,
            2,
            length,
            (),
            strips,
            words,
            "cement the strips inside the closing edges",
            set_by="fasten",
        ),
    ]


def bodice_parts(laid: LaidPiece) -> list[StrapPart]:
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
