"""Worn at the event: what was noted, how it is mended, what to carry, and how the costume travels."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import Field

from vellumcut.core.body.readings import Decision
from vellumcut.core.design.piece import PieceDesign
from vellumcut.core.rig.closures.behind import closed_by
from vellumcut.core.rig.closures.openings import openings_of
from vellumcut.core.rig.costume import Costume, Worn
from vellumcut.core.rig.straps import Strap
from vellumcut.core.units import Number

Mishap = Literal[
    "strap torn off", "hook-and-loop peeled", "elastic slack", "buckle broken", "lace broken", "magnet out",
        "seam opened", "too tight",
    "edge crushed", "paint chipped", "chrome chipped",
]  # fmt: skip
Line = Annotated[str, Field(max_length=300)]


class Wearing(Decision):
    """A day, or part of one, in the costume. hours: worn. happened: kinds of mishap."""

    hours: Annotated[Number, Field(gt=0, le=72)]
    weather: Literal["cool", "mild", "hot", "wet"] = "mild"
    hurt: Line = ""
    came_off: Line = ""
    broke: Line = ""
    happened: Annotated[tuple[Mishap, ...], Field(max_length=11)] = ()


class NotWorn(Decision):
    """A note that tells of no day in the costume."""


@dataclass(frozen=True)
class Parts:
    """What of a costume can go wrong: its straps, pieces and layers of finish."""

    straps: Sequence[Strap]
    pieces: Sequence[Worn]

    @property
    def designs(self) -> list[PieceDesign]:
        """Of its pieces."""
        return [p.design for p in self.pieces]

    @property
    def laced(self) -> bool:
        """Whether a lace closes something of it."""
        laid = [p.on(p.sides[0]) for p in self.pieces]
        return any(closed_by(x) == "lacing" or any(o.row.kind == "lacing" for o in openings_of(x)) for x in laid)

    @property
    def layers(self) -> set[str]:
        """Kinds of layers of its finishes."""
        return {x.kind for d in self.designs for f in d.making.finishes for x in f.stack.layers}


@dataclass(frozen=True)
class Repair:
    """pouch: what to carry for it. applies: whether the costume has what can fail so."""

    mishap: Mishap
    steps: tuple[str, ...]
    pouch: tuple[str, ...]
    applies: Callable[[Parts], bool] = lambda parts: True


def _fastened(kind: str) -> Callable[[Parts], bool]:
    return lambda parts: any(s.fastening == kind for s in parts.straps)


REPAIRS: tuple[Repair, ...] = (
    Repair("strap torn off", ("Peel what is left of the bed, open the foam anew past the old glue.",
        "Instant glue on the day; at home cement, cloth three times, clamped overnight, or a rivet through.",
            "A bigger bed, nearer the edge that lifted."),
           ("instant glue", "a square of webbing", "tape in the armour's colour"), lambda parts: bool(parts.straps)),
    Repair("hook-and-loop peeled", ("On the day: a safety pin from inside.",
        "Stitch it all round, on its own adhesive it never holds on foam."),
           ("safety pins", "hook-and-loop, 100 mm", "needle and strong thread"), _fastened("hook-and-loop")),
    Repair("elastic slack", ("Fold it over and pin it on the day.",
        "Sew in a new one: worn elastic has lost a third of its pull."),
           ("safety pins", "elastic, 500 mm"), lambda parts: any(s.material == "elastic" for s in parts.straps)),
    Repair("buckle broken", ("Tie the strap through the bar on the day.", "Sew in a new buckle, two rows."),
        ("spare side-release buckle",), _fastened("side-release buckle")),
    Repair("lace broken", ("Knot it at the eyelet, lace from the middle.",), ("spare lace",),
        lambda parts: parts.laced),
    Repair("magnet out", ("Check the pole before the glue.",
        "Hot glue over the rim; the pocket scored anew, a cloth square over it."),
            ("spare magnets, poles marked", "instant glue"),
           lambda parts: any(d.rig.magnets or d.making.detail_list("magnet") for d in parts.designs)),
    Repair("seam opened", ("Tape inside on the day: sweat and heat loosen cement.",
        "Clean, two coats, press, a cloth strip over it, sealed."),
            ("strong cloth tape", "small tube of contact cement")),
    Repair("too tight", ("Write down where and by how much in the logbook: the next pattern grows by it.",
        "A late dart the other way: cut, an insert glued in, a strip over both seams, reinforced inside first."), ()),
    Repair("edge crushed", ("Warm it from both sides, let it swell, roll it with a fingertip.",
        "Thin it back and bind it with a strip."), ()),
    Repair("paint chipped", ("Clean, a dab of flexible primer, a dab of colour, clear when dry.",),
        ("colour in a small jar", "a brush")),
    Repair("chrome chipped", ("A chrome pen, buffed when dry; no clear over it.",), ("chrome pen",),
        lambda parts: "mirror chrome" in parts.layers),
)  # fmt: skip
ALWAYS = ("blunt scissors", "water")
"""Carried whatever is worn: to get out in a hurry, and against the heat."""


def repairs_for(parts: Parts) -> list[Repair]:
    """Recipes for what can happen to this costume."""
    return [r for r in REPAIRS if r.applies(parts)]


def pouch_for(parts: Parts) -> list[tuple[str, tuple[str, ...]]]:
    """What to carry, and for what, each thing once."""
    out: dict[str, list[str]] = {}
    for repair in repairs_for(parts):
        for thing in repair.pouch:
            out.setdefault(thing, []).append(repair.mishap)
    return [(thing, tuple(why)) for thing, why in out.items()] + [(x, ("always",)) for x in ALWAYS]


@dataclass(frozen=True)
class Packed:
    """How one piece travels. apart: what opens or comes off. care: what it needs on the way."""

    piece: int
    name: str
    apart: tuple[str, ...]
    care: tuple[str, ...]


def packing(costume: Costume, straps: Mapping[int, Sequence[Strap]]) -> list[Packed]:
    """The costume as it is packed: what was put on last goes in last, large and stiff at the bottom."""
    rows = sorted(costume.pieces, key=lambda p: -p.on(p.sides[0]).area.area)
    return [_packed(costume, p, straps.get(p.key, ())) for p in rows]


def _packed(costume: Costume, piece: Worn, straps: Sequence[Strap]) -> Packed:
    names = {p.key: p.name for p in costume.pieces}
    apart = dict.fromkeys(
        f"open the {s.fastening} to {names.get(s.ends[1].piece, 'the ' + s.ends[1].anchor)}"
        for s in straps
        if s.ends[1].piece != piece.key
        and s.fastening in ("ring", "side-release buckle", "hook-and-loop", "snaps", "hook")
    )
    care = []
    if piece.design.choices.get("front") == "cups":
        care.append("stuff the cups, or a thermoplastic shell behind them: soft cups are crushed")
    if any(s.fastening == "hook-and-loop" for s in straps):
        care.append("cover the hooks: they scratch paint and tear cloth")
    if piece.design.rig.magnets:
        care.append("magnets apart from cards and from each other")
    if any(x.kind == "mirror chrome" for f in piece.design.making.finishes for x in f.stack.layers):
        care.append("wrapped alone in soft cloth: mirror metal takes every print")
    if piece.design.back == "open" and not piece.on(piece.sides[0]).whole:
        care.append("stuffed to its shape, or it springs flat in a warm car")
    return Packed(piece.key, piece.name, tuple(apart), tuple(care))
