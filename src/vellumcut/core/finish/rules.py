"""What may lie on what: every rule of a finish stack with its reason and the way out."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from itertools import pairwise
from typing import Literal

from vellumcut.core.design.finish import LayerName, Stack
from vellumcut.core.finish.layers import PlacedCoat, coats_of

Weight = Literal["hard", "soft"]
GOLD = ("gold", "brass", "bronze")


@dataclass(frozen=True)
class Place:
    """Where a stack goes. bends: why this zone bends in wear, empty where it does not. magnets: some are glued in.

    sprays: whether this maker can spray at all: a booth, or outdoors with dry weather. back_shows: its inside is seen.
    """

    bends: str = ""
    magnets: bool = False
    sprays: bool = True
    back_shows: bool = False


@dataclass(frozen=True)
class StackFinding:
    """rule: its key. hard: it is refused, not only warned of. at: which layer, from 1; 0 is the whole stack."""

    rule: str
    hard: bool
    at: int
    words: str
    way_out: str


@dataclass(frozen=True)
class _Laid:
    coats: tuple[PlacedCoat, ...]
    stack: Stack
    place: Place
    pairs: list[tuple[PlacedCoat, PlacedCoat]] = field(default_factory=list)

    def below(self, coat: PlacedCoat, *kinds: LayerName) -> list[PlacedCoat]:
        return [c for c in self.coats[: coat.at - 1] if c.kind.key in kinds]


Found = Iterator[tuple[int, str]]


@dataclass(frozen=True)
class StackRule:
    """One rule. find: gives the layer's number and what is wrong there. way_out: what to do instead."""

    key: str
    weight: Weight
    reason: str
    way_out: str
    find: Callable[[_Laid], Found]


def judge_stack(stack: Stack, place: Place | None = None) -> list[StackFinding]:
    """All that speaks against a stack where it goes, hard ones first."""
    coats = coats_of(stack)
    laid = _Laid(coats, stack, place or Place(), list(pairwise(coats)))
    found = [
        StackFinding(rule.key, rule.weight == "hard", at, f"{words} {rule.reason}", rule.way_out)
        for rule in STACK_RULES
        for at, words in rule.find(laid)
    ]
    return sorted(found, key=lambda f: not f.hard)


def _up(words: str) -> str:
    return words[0].upper() + words[1:]


def _clear_over_mirror(s: _Laid) -> Found:
    for c in s.coats:
        if c.kind.group == "clear" and c.outside and s.below(c, "mirror chrome"):
            yield c.at, f"{_up(c.word)} lies over mirror chrome."


def _paint_over_mirror(s: _Laid) -> Found:
    for c in s.coats:
        shows = c.kind.key in ("decal", "transparent colour")
        if c.kind.group != "clear" and not shows and c.outside and s.below(c, "mirror chrome"):
            yield c.at, f"{_up(c.word)} lies over mirror chrome."


def _mirror_without_black(s: _Laid) -> Found:
    for c in s.coats:
        if c.kind.key == "mirror chrome" and (c.at == 1 or s.coats[c.at - 2].kind.key != "gloss black"):
            yield c.at, "Mirror chrome does not lie directly on gloss black."


def _mirror_on_rough(s: _Laid) -> Found:
    smooth: tuple[LayerName, ...] = ("hard sealer", "filler primer", "resin")
    for c in s.coats:
        if c.kind.key == "mirror chrome" and not s.below(c, *smooth):
            yield c.at, "Nothing beneath the mirror is sanded smooth."


def _brittle_on_bend(s: _Laid) -> Found:
    for c in s.coats:
        if s.place.bends and c.kind.brittle and c.outside:
            yield c.at, f"{_up(c.word)} is brittle, and this zone bends: {s.place.bends}."


def _stiff_on_bend(s: _Laid) -> Found:
    for c in s.coats:
        if (
            s.place.bends
            and c.kind.family == "lacquer"
            and c.kind.flex == 1
            and c.coats >= 3
            and c.kind.key != "mirror chrome"
        ):
            yield c.at, f"{c.coats} coats of {c.word} are stiff, and this zone bends: {s.place.bends}."


def _resin_on_foam(s: _Laid) -> Found:
    for c in s.coats:
        soft = s.stack.on in ("bare foam", "sealed foam", "vinyl", "woven sheet")
        if c.kind.key == "resin" and soft and c.outside and c.at == 1:
            yield c.at, f"Resin lies straight on {s.stack.on}."


def _untested(s: _Laid) -> Found:
    slow = ("enamel", "oil", "marker")
    for c in s.coats:
        if c.kind.family != "lacquer" or c.layer.tested:
            continue
        beneath = next((b for b in reversed(s.coats[: c.at - 1]) if b.kind.family in slow), None)
        if beneath is not None:
            yield c.at, f"{_up(c.word)} is lacquer over {beneath.word}."


def _bare(s: _Laid) -> Found:
    first = next((c for c in s.coats if c.outside), None)
    holds = ("primer", "smooth", "prepare")
    soft = s.stack.on in ("bare foam", "sealed foam", "woven sheet")
    if first and soft and first.kind.group not in holds and first.kind.key != "vinyl":
        yield first.at, f"{_up(first.word)} goes straight on {s.stack.on}."


def _unsealed(s: _Laid) -> Found:
    first = next((c for c in s.coats if c.outside), None)
    if first and s.stack.on == "bare foam" and first.kind.key == "filler primer":
        yield first.at, "Filler primer goes on bare foam."


def _glossy_back(s: _Laid) -> Found:
    if s.stack.on == "vinyl" and s.coats and s.coats[0].kind.key != "scuff":
        yield s.coats[0].at, f"{_up(s.coats[0].word)} goes on vinyl that is not scuffed."
    for low, high in s.pairs:
        if low.kind.key == "vinyl" and high.kind.key not in ("scuff", "stitches"):
            yield high.at, f"{_up(high.word)} goes on vinyl that is not scuffed."


def _printed_mirror(s: _Laid) -> Found:
    if s.stack.on == "printed part" and any(c.kind.key == "mirror chrome" for c in s.coats):
        for c in s.coats:
            if c.kind.group == "primer" or c.kind.key == "hard sealer":
                yield c.at, f"A printed part is given {c.word} first."


def _stitches_late(s: _Laid) -> Found:
    for c in s.coats:
        washes = [b for b in s.coats[: c.at - 1] if b.kind.group == "weather"]
        if c.kind.key == "stitches" and washes:
            yield c.at, f"Stitches come after {washes[0].word}."


def _wash_over_clear(s: _Laid) -> Found:
    for c in s.coats:
        clears = [b for b in s.coats[: c.at - 1] if b.kind.group == "clear" and b.outside]
        if c.kind.key == "stitches" and clears:
            yield c.at, f"Stitches come after {clears[0].word}."
        if c.kind.key in ("acrylic wash", "oil wash", "oil wash with drier", "dry brush") and clears:
            yield c.at, f"{_up(c.word)} comes after {clears[0].word}."


def _colour_over_weather(s: _Laid) -> Found:
    for c in s.coats:
        before = [b for b in s.coats[: c.at - 1] if b.kind.group == "weather"]
        flat = c.kind.key in (
            "acrylic",
            "metallic",
            "enamel",
            "gloss black",
            "rubbery primer",
            "flexible primer",
            "filler primer",
        )
        if flat and before and c.outside:
            yield c.at, f"{_up(c.word)} covers {before[0].word}."


def _tape_early(s: _Laid) -> Found:
    for low, high in s.pairs:
        if not high.layer.taped:
            continue
        if low.kind.tape is None:
            yield high.at, f"Tape for {high.word} would lie on {low.word}."
        elif low.layer.before_next is not None and low.layer.before_next < low.kind.tape:
            told = f"{low.layer.before_next:.0f} min", f"{low.kind.tape / 60:.0f} h"
            yield high.at, f"Tape for {high.word} lies on {low.word} after {told[0]}; it takes tape after {told[1]}."


def _hasty(s: _Laid) -> Found:
    for c in s.coats:
        if c.layer.recoat is not None and c.layer.recoat < c.kind.recoat / 2:
            yield c.at, f"{_up(c.word)} is coated again after {c.layer.recoat:.0f} min; {c.kind.recoat:.0f} are usual."
    for low, high in s.pairs:
        own = low.layer.before_next
        if own is not None and own < low.kind.settle / 2 and not high.layer.taped:
            yield high.at, f"{_up(high.word)} follows {low.word} after {own:.0f} min; {low.kind.settle:.0f} are usual."


def _unsanded(s: _Laid) -> Found:
    for low, high in s.pairs:
        own = low.layer.before_next
        if low.kind.key in ("hard sealer", "resin") and own is not None and own < low.kind.settle:
            yield (
                high.at,
                f"{_up(low.word)} is sanded after {own:.0f} min; it is hard after {low.kind.settle / 60:.0f} h.",
            )


def _kills_shine(s: _Laid) -> Found:
    for low, high in s.pairs:
        # Over rubbery black it is a way to leather (making.md, section 2): no fault.
        if low.kind.key == "gloss black" and high.kind.key == "matt clear" and high.outside:
            yield high.at, f"Matt clear lies on {low.word}."


def _gold_on_cold(s: _Laid) -> Found:
    for c in s.coats:
        golden = c.kind.key == "metallic" and any(g in c.layer.name.lower() for g in GOLD)
        base = [b for b in s.coats[: c.at - 1] if b.kind.group in ("colour", "metal") or b.kind.key == "rubbery primer"]
        if golden and not base:
            yield c.at, f"“{c.layer.name}” lies on no base colour."
        elif golden and _pale(base[-1].colour):
            yield c.at, f"“{c.layer.name}” lies on {base[-1].word}, which is nearly white."


PALE = 200
"""Every channel of a colour that is nearly white, of 255."""


def _pale(colour: str) -> bool:
    return min(int(colour[k : k + 2], 16) for k in (1, 3, 5)) >= PALE


def _wash_over_dry_brush(s: _Laid) -> Found:
    for c in s.coats:
        brushed = s.below(c, "dry brush", "wax metal")
        if c.kind.key in ("acrylic wash", "oil wash", "oil wash with drier") and brushed:
            yield c.at, f"{_up(c.word)} comes after {brushed[0].word}."


def _magnet(s: _Laid) -> Found:
    for c in s.coats:
        if s.place.magnets and c.sprayed and c.outside:
            yield c.at, f"{_up(c.word)} is sprayed over a magnet."
            return


def _one_face(s: _Laid) -> Found:
    for c in s.coats:
        if c.kind.key == "rubbery primer" and c.layer.faces != "both":
            yield c.at, "Rubbery primer goes on one face only."


def _back(s: _Laid) -> Found:
    coloured = [c for c in s.coats if c.kind.group in ("colour", "metal") and c.kind.family != "film"]
    # Rubbery primer is black, and leaves a back that is dark all over.
    dark = any(c.kind.key == "rubbery primer" and c.layer.faces == "both" for c in s.coats)
    if s.place.back_shows and coloured and not dark and all(c.layer.faces == "outside" for c in coloured):
        yield 0, "The back of this piece shows and gets no colour."


def _no_booth(s: _Laid) -> Found:
    for c in s.coats:
        if c.tool == "spray" and not s.place.sprays:
            yield c.at, f"{_up(c.word)} is sprayed, and there is no booth and no dry day for it."
            return


def _unprotected(s: _Laid) -> Found:
    last_colour = max((c.at for c in s.coats if c.kind.group in ("colour", "metal", "weather")), default=0)
    if any(c.kind.key == "vinyl" for c in s.coats):
        return
    film = {"decal", "mirror chrome", "wax metal", "shoe polish", "rubbery primer", "marker"}
    if last_colour and s.coats[last_colour - 1].kind.key not in film:
        sealed = any(c.kind.group == "clear" and c.at > last_colour for c in s.coats)
        if not sealed and not any(c.kind.key == "mirror chrome" for c in s.coats):
            yield last_colour, "Nothing lies over the last colour."


def _wax_under(s: _Laid) -> Found:
    for low, high in s.pairs:
        if low.kind.key == "wax metal" and high.kind.key != "wax metal":
            yield high.at, f"{_up(high.word)} lies on wax metal."


def _coats(s: _Laid) -> Found:
    for c in s.coats:
        least, most = c.kind.coats
        if not least <= c.coats <= max(most, least):
            yield c.at, f"{_up(c.word)} has {c.coats} coats; {least} to {most} are usual."


def _tool(s: _Laid) -> Found:
    for c in s.coats:
        if c.tool not in c.kind.tools:
            yield c.at, f"{_up(c.word)} is not put on with {'a ' if c.tool != 'spray' else ''}{c.tool}."


def _smooth_late(s: _Laid) -> Found:
    for c in s.coats:
        before = [b for b in s.coats[: c.at - 1] if b.kind.group in ("colour", "metal")]
        if c.kind.group == "smooth" and before and c.outside:
            yield c.at, f"{_up(c.word)} comes after {before[0].word}."


STACK_RULES: tuple[StackRule, ...] = (
    StackRule("clear over mirror", "hard", "Any clear turns a mirror grey.",
        "Leave it bare and wipe it with a soft cloth, or take a metallic colour, which bears a clear.",
            _clear_over_mirror),
    StackRule("paint over mirror", "soft", "Whatever lies on it, the shine is gone there.",
        "Weather beside the mirror, or take a metallic colour.", _paint_over_mirror),
    StackRule("mirror on black", "hard",
        "The mirror shows what is beneath it: only black that is itself a mirror makes chrome.",
            "Put gloss black directly beneath it, and wait till you see your face in it.", _mirror_without_black),
    StackRule("mirror on rough", "soft", "Every pit shows in a mirror.",
        "Hard sealer where it is rigid, filler primer where it gives, wet-sanded.", _mirror_on_rough),
    StackRule("brittle on bend", "hard", "It cracks the first time it is worn.",
        "Flexible or rubbery primer outside; a hard sealer is fine as a dam inside, or on a zone that is rigid.",
            _brittle_on_bend),
    StackRule("stiff on bend", "soft", "Thick lacquer crazes where it gives.", "Thin coats, as few as cover.",
        _stiff_on_bend),
    StackRule("resin on soft", "hard", "It soaks in, and the foam moves beneath it.",
        "Resin over thermoplastic, dense foam that is primed, or inside as a dam.", _resin_on_foam),
    StackRule("lacquer over slow paint", "hard", "Its solvent lifts what is still soft beneath.",
        "Coat a scrap of the same layers, and tick “tested on a scrap” when it has not wrinkled; or let a "
            "water-based clear part them.", _untested),
    StackRule("no primer", "hard", "It soaks into the cells and flakes off.",
        "Begin with a flexible or rubbery primer.", _bare),
    StackRule("unsealed", "soft", "Open cells drink it, and it stays rough.",
        "Seal the foam with heat, then a flexible primer.", _unsealed),
    StackRule("scuff", "hard", "Nothing holds on a glossy back.", "Scuff it with fine paper first.", _glossy_back),
    StackRule("printed mirror", "soft", "It has no cells to close: those layers only add thickness.",
        "Join the mirror stack at filler primer.", _printed_mirror),
    StackRule("stitches first", "hard", "Weathering must settle round them, or they look stuck on.",
        "Stitches, then the wash, then clear.", _stitches_late),
    StackRule("wash before clear", "soft", "A wash wants the tooth of bare paint, and the clear keeps it.",
        "Stitches, then the wash, then clear.", _wash_over_clear),
    StackRule("colour over weathering", "soft", "What was aged is hidden again.",
        "Put all colours on before the weathering.", _colour_over_weather),
    StackRule("tape time", "hard", "Tape lifts paint that is not yet hard.",
        "Wait its tape time, or paint this edge by hand.", _tape_early),
    StackRule("wait", "soft", "The layer beneath is still soft and wrinkles or stays tacky.",
        "Wait as long as the tin says for your room.", _hasty),
    StackRule("sand hard", "hard", "Paper clogs and drags while it is soft.",
        "Wait till it is hard, or till the tin says so.", _unsanded),
    StackRule("matt over black", "soft", "Matt over gloss black kills its shine.", "Satin or gloss clear, or none.",
        _kills_shine),
    StackRule("gold base", "soft", "Gold is thin: on grey it turns greenish.",
        "A warm brown beneath for flat gold, black where the shadow comes from below.", _gold_on_cold),
    StackRule("wash before dry brush", "soft", "It runs over the bright edges and dulls them.",
        "The wash first, then the edges.", _wash_over_dry_brush),
    StackRule("magnet", "hard", "Paint makes it weaker, and it tears the paint off.",
        "Take magnets out, spray, put them in again.", _magnet),
    StackRule("both faces", "soft", "The other face drinks damp, and thin foam curls.", "Both faces.", _one_face),
    StackRule("backs", "soft", "Bare foam shows grey in every picture.", "Set the base colour to both faces.", _back),
    StackRule("no booth", "soft", "Spray wants dry, mild, calm air for all coats and till it is tack-free.",
        "Brush-on primer, or an airbrush indoors with extraction.", _no_booth),
    StackRule("unprotected", "soft", "Hands, straps and weather wear bare paint off.",
        "A clear coat last, flexible where it bends.", _unprotected),
    StackRule("wax last", "hard", "Nothing holds on wax.", "Wax comes last, after clear.", _wax_under),
    StackRule("coats", "soft", "Too few show the foam, too many crack or run.", "The usual number, thin.", _coats),
    StackRule("tool", "soft", "It runs, or it comes out as dust.", "Take the tool it is made for.", _tool),
    StackRule("smooth first", "soft", "Sanding it would cut through the colour.",
        "Sealers and fillers before any colour.", _smooth_late),
)  # fmt: skip
"""Every rule of a finish, found here and nowhere else."""
