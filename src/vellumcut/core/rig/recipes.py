"""Which rig holds which piece: one row a rig, the usual first. A new piece's rig is a row here.

Places are told by where they lie on the piece, so that they hold for any body and for ink that a maker has redrawn.
"""

from vellumcut.core.body.torso import ARMPIT, SHOULDER, WAIST
from vellumcut.core.design.piece import TemplateName
from vellumcut.core.rig.rows import AnchorRow, Carried, Carrier, Fastening, Landing, Rig, Spot, StrapRow

_SHOULDER = AnchorRow("shoulder", Spot(0.0, 0.97, 22), pair=True)
_SIDE_HIGH = AnchorRow("side, upper", Spot(1.0, 0.5, 22), pair=True)
_SIDE_LOW = AnchorRow("side, lower", Spot(1.0, 0.12, 22), pair=True)
_TO_BACK = "backplate"


def _on(template: TemplateName, x: float, y: float, inset: float = 20.0) -> tuple[TemplateName, Spot]:
    return template, Spot(x, y, inset)


_CROSSED = (
    StrapRow("crossed", "strap over the shoulder to the other side", "shoulder", "side, lower", through="back",
        cross=True, lifts=True),
    StrapRow("round", "strap behind the back", "side, upper", "side, upper", fastening="side-release buckle",
        through="back", cross=True),
)  # fmt: skip
_CROSSED_FRONT = (
    StrapRow("crossed", "strap over the shoulder to the other side", "shoulder", "side, lower", through="front",
        cross=True, lifts=True),
    StrapRow("round", "strap over the chest", "side, upper", "side, upper", fastening="side-release buckle",
        through="front", cross=True),
)  # fmt: skip
_ENDS = (AnchorRow("end, left", Spot(1.0, 0.5, 20)), AnchorRow("end, right", Spot(-1.0, 0.5, 20)))


def _beneath(around: float, station: float, by: Carrier = "belt or vest") -> Carried:
    """A place of the trunk on what is worn beneath."""
    return Carried(by, (around, station))


def _tab(key: str, words: str, start: str, on: Carried, fastening: Fastening = "snaps") -> StrapRow:
    """A short strap to what is worn beneath, by which a piece hangs."""
    return StrapRow(key, words, start, Landing(worn=on), fastening=fastening, lifts=True)


def _closed_by(fastening: Fastening, words: str) -> tuple[StrapRow, ...]:
    return (StrapRow("closure", words, "end, left", "end, right", fastening=fastening, lifts=True),)


_SHELL = Rig("across", "straps across the opening",
    "A shell that is open behind is drawn shut by straps near both ends, where it would gape.",
             across=True, hides="behind the limb")  # fmt: skip
_ONE_ARM = Rig(
    "across the back", "elastic across the back, under the far arm",
    "A single sleeve slides down; a diagonal pull over the back keeps it taut.",
    anchors=(AnchorRow("top", Spot(0.25, 0.95, 20)),),
    straps=(StrapRow("over the back", "elastic across the back to the front", "top",
        Landing((), _beneath(0.82, ARMPIT - 0.4)),
        "elastic", "hook-and-loop", "back", lifts=True),),
    across=True, hides="behind the back",
)  # fmt: skip
_CAP = (
    AnchorRow("cap, front", Spot(-0.7, 0.9, 16)), AnchorRow("cap, upper front", Spot(-0.3, 0.96, 16)),
    AnchorRow("cap, middle", Spot(0.0, 0.97, 16)), AnchorRow("cap, upper back", Spot(0.3, 0.96, 16)),
    AnchorRow("cap, back", Spot(0.7, 0.9, 16)), AnchorRow("lowest, front", Spot(-0.8, 0.08, 16)),
    AnchorRow("lowest, middle", Spot(0.0, 0.05, 16)), AnchorRow("lowest, back", Spot(0.8, 0.08, 16)),
)  # fmt: skip
_PLATES = (
    *(StrapRow(f"plates, {x}", f"webbing inside the plates, {x}", f"cap, {x}", f"lowest, {x}", fastening="tack")
        for x in ("front", "middle", "back")),
    StrapRow("under the arm", "elastic under the arm", "lowest, front", "lowest, back", "elastic", "hook-and-loop",
        "inside"),
)  # fmt: skip
_GLOVE = Rig("glove", "straps across the opening, a tab with a snap to the glove",
    "A slim wrist lets it turn: a tab to the glove's cuff keeps it straight, and no skin shows between.",
    anchors=(AnchorRow("wrist", Spot(0.0, 0.06, 14)),),
    straps=(_tab("glove", "tab to the glove's cuff", "wrist", Carried("glove", beyond=(0.0, -30.0))),),
    across=True, hides="behind the arm")  # fmt: skip
_TOP = (AnchorRow("top, front", Spot(-0.1, 0.95, 18)), AnchorRow("top, back", Spot(0.95, 0.95, 18)))
_SLEEVE = (
    _SHELL,
    _ONE_ARM,
    Rig("back to itself", "an elastic round the trunk, back to the sleeve",
        "It leaves the sleeve behind, runs under the far arm and comes back in front: nothing else has to be worn.",
        anchors=_TOP,
        straps=(StrapRow("round the trunk", "elastic round the trunk, under the far arm", "top, back", "top, front",
            "elastic", "hook-and-loop", "trunk", lifts=True),),
        across=True, hides="under the far arm"),
    Rig("V", "two elastics in a V, one across to the other sleeve",
        "Two pulls at the upper edge keep it from turning; the other sleeve is what they pull against.",
        anchors=_TOP,
        straps=(StrapRow("across", "narrow elastic across, half of it, to that of the other sleeve", "top, back",
            Landing(worn=_beneath(0.5, SHOULDER - 0.4, "elastic across")), "elastic", "hook-and-loop", lifts=True),
                StrapRow("V", "wide elastic over the shoulder, sewn to that across in a V", "top, front",
                    Landing(worn=_beneath(0.42, SHOULDER - 0.3, "elastic across")), "elastic", "sewn", lifts=True)),
        across=True, hides="between the shoulder blades", paired=True),
    Rig("vest", "two tabs with snaps on a vest", "A vest carries it from the shoulder and keeps elastic off the neck.",
        anchors=_TOP,
        straps=(_tab("front", "tab to the vest, front", "top, front", _beneath(0.2, SHOULDER - 0.2, "vest")),
                _tab("back", "tab to the vest, back", "top, back", _beneath(0.31, SHOULDER - 0.2, "vest"))),
        across=True, hides="under the arm"),
)  # fmt: skip

RIGS: dict[TemplateName, tuple[Rig, ...]] = {
    "breastplate": (
        Rig("shoulders and sides", "shoulder straps and two buckles a side",
            "Breast and back hang on the shoulders; the sides only hold them together.",
            anchors=(_SHOULDER, _SIDE_HIGH, _SIDE_LOW),
            straps=(StrapRow("shoulder", "shoulder strap", "shoulder", Landing((_on("backplate", 0.0, 0.97, 22),)),
                lifts=True),
                    StrapRow("side, upper", "upper side strap", "side, upper",
                        Landing((_on("backplate", 1.0, 0.5, 22),)), fastening="side-release buckle"),
                    StrapRow("side, lower", "lower side strap", "side, lower",
                        Landing((_on("backplate", 1.0, 0.12, 22),)), fastening="side-release buckle")),
            needs=("backplate",), hides="under the arms"),
        Rig("crossed", "crossed back straps, hook-and-loop inside the front",
            "Crossed straps adjust best and cannot slide off a shoulder.",
            anchors=(_SHOULDER, _SIDE_HIGH, _SIDE_LOW), straps=_CROSSED, hides="on the back"),
        Rig("bodice", "eyelets and a cord on a fabric bodice",
            "The bodice carries it all round; nothing shows from behind.",
            anchors=(_SHOULDER, _SIDE_HIGH, _SIDE_LOW), straps=(StrapRow("shoulder", "tab on the bodice's shoulder",
                "shoulder", Landing((), _beneath(0.26, SHOULDER - 0.05)), fastening="sewn", lifts=True),),
            laced=True, hides="under the arms"),
    ),
    "backplate": (
        Rig("meets the breastplate", "takes the breastplate's straps",
            "Breast and back hang on each other over the shoulders.", needs=("breastplate",), hides="under the arms"),
        Rig("crossed", "crossed straps over the chest", "Crossed straps adjust best and cannot slide off a shoulder.",
            anchors=(_SHOULDER, _SIDE_HIGH, _SIDE_LOW), straps=_CROSSED_FRONT, hides="under the breastplate"),
    ),
    "gorget": (
        Rig("hook-and-loop", "hook-and-loop at the closure", "A collar has to open alone and in a hurry.", _ENDS,
            _closed_by("hook-and-loop", "tab over the closure"), hides="at the nape, under the hair"),
        Rig("buckle", "a small buckle at the closure", "Holds harder than hook-and-loop, and shows.", _ENDS,
            _closed_by("side-release buckle", "strap over the closure")),
        Rig("snaps", "snaps on a tab at the closure", "Flat and quick; they hold in steps, so the collar has to fit.",
            _ENDS, _closed_by("snaps", "tab over the closure"), hides="at the nape, under the hair"),
    ),
    "pauldron": (
        Rig("hung", "four webbings, two in front and two behind",
            "Hung at centre and sides the plates just touch and follow the arm.",
            anchors=_CAP, straps=(
                    StrapRow("front", "webbing to the chest", "cap, front",
                        Landing((_on("breastplate", 0.2, 0.88, 24),), _beneath(0.16, SHOULDER - 0.6)), fastening="ring",
                            lifts=True),
                    StrapRow("front, upper", "webbing to the chest, upper", "cap, upper front",
                        Landing((_on("breastplate", 0.3, 0.96, 18),), _beneath(0.23, SHOULDER - 0.1)), fastening="ring",
                            lifts=True),
                    StrapRow("back, upper", "webbing to the back, upper", "cap, upper back",
                        Landing((_on("backplate", 0.3, 0.96, 18),), _beneath(0.28, SHOULDER - 0.1)), fastening="ring",
                            lifts=True),
                    StrapRow("back", "webbing to the back", "cap, back",
                        Landing((_on("backplate", 0.2, 0.88, 24),), _beneath(0.34, SHOULDER - 0.6)), fastening="ring",
                            lifts=True),
                    *_PLATES),
            hides="under the plates"),
        Rig("vest", "four tabs with snaps on a vest, three webbings among its plates",
            "A vest carries shoulders where no breastplate does.", anchors=_CAP, straps=(
                    _tab("front", "tab to the vest, front", "cap, front", _beneath(0.16, SHOULDER - 0.6, "vest")),
                    _tab("front, upper", "tab to the vest, upper front", "cap, upper front",
                        _beneath(0.23, SHOULDER - 0.1, "vest")),
                    _tab("back, upper", "tab to the vest, upper back", "cap, upper back",
                        _beneath(0.28, SHOULDER - 0.1, "vest")),
                    _tab("back", "tab to the vest, back", "cap, back", _beneath(0.34, SHOULDER - 0.6, "vest")),
                    *_PLATES),
            hides="under the plates"),
    ),
    "shoulder extension": (
        Rig("over the shoulder", "a strap over the shoulder and one under the arm",
            "It lies on the chest: the strap over the shoulder carries, the other keeps it from swinging.",
            anchors=(AnchorRow("top", Spot(0.0, 0.95, 18)), AnchorRow("under the arm", Spot(0.8, 0.25, 18))),
            straps=(StrapRow("top", "strap over the shoulder", "top",
                Landing((_on("backplate", 0.1, 0.95, 20),), _beneath(0.3, SHOULDER - 0.2)), lifts=True),
                    StrapRow("under the arm", "strap under the arm", "under the arm",
                        Landing((_on("backplate", 0.9, 0.52, 22),), _beneath(0.4, ARMPIT - 0.5)), "elastic")),
            hides="under the arm"),
    ),
    "rerebrace": _SLEEVE,
    "segmented rerebrace": _SLEEVE,
    "bracer": (_SHELL, _GLOVE),
    "segmented bracer": (_SHELL, _GLOVE),
    "greave": (_SHELL,),
    "ridged greave": (
        Rig("behind the calf", "two straps behind the calf",
            "One under the knee carries on the calf, one over the ankle keeps it straight.",
            anchors=(AnchorRow("upper, outer", Spot(1.0, 0.68, 18)), AnchorRow("upper, inner", Spot(-1.0, 0.68, 18)),
                AnchorRow("lower, outer", Spot(1.0, 0.12, 18)), AnchorRow("lower, inner", Spot(-1.0, 0.12, 18))),
            straps=(StrapRow("upper", "strap under the knee", "upper, outer", "upper, inner", through="back",
                lifts=True), StrapRow("lower", "strap over the ankle", "lower, outer", "lower, inner", through="back")),
            hides="behind the calf"),
        Rig("buckles", "two buckled straps behind the calf", "Buckles hold harder than hook-and-loop, and show.",
            anchors=(AnchorRow("upper, outer", Spot(1.0, 0.68, 18)), AnchorRow("upper, inner", Spot(-1.0, 0.68, 18)),
                AnchorRow("lower, outer", Spot(1.0, 0.12, 18)), AnchorRow("lower, inner", Spot(-1.0, 0.12, 18))),
            straps=(StrapRow("upper", "strap under the knee", "upper, outer", "upper, inner",
                fastening="side-release buckle", through="back", lifts=True),
                    StrapRow("lower", "strap over the ankle", "lower, outer", "lower, inner",
                        fastening="side-release buckle", through="back"))),
    ),
    "cuisse": (
        Rig("hung on the belt", "two webbings to the belt, straps behind the thigh",
            "A thigh tapers downward: nothing but the belt keeps its plate up.",
            anchors=(AnchorRow("top, front", Spot(-0.15, 0.96, 18)), AnchorRow("top, outer", Spot(0.4, 0.96, 18))),
            straps=(StrapRow("front", "webbing to the belt, front", "top, front",
                Landing((_on("belt", -0.6, 0.3, 14), _on("faulds", -0.5, 0.9, 18)), _beneath(0.09, WAIST)),
                        fastening="ring",
                    lifts=True),
                    StrapRow("outer", "webbing to the belt, side", "top, outer",
                        Landing((_on("belt", 0.1, 0.3, 14), _on("faulds", 0.1, 0.9, 18)), _beneath(0.23, WAIST)),
                            fastening="ring", lifts=True)),
            across=True, hides="behind the thigh"),
        Rig("on the trousers", "two tabs with snaps on the trousers, straps behind the thigh",
            "Trousers with a belt carry a light plate.",
            anchors=(AnchorRow("top, front", Spot(-0.15, 0.96, 18)), AnchorRow("top, outer", Spot(0.4, 0.96, 18))),
            straps=(_tab("front", "tab to the trousers, front", "top, front", Carried("trousers", beyond=(0.0, 35.0))),
                    _tab("outer", "tab to the trousers, side", "top, outer", Carried("trousers", beyond=(0.0, 35.0)))),
            across=True, hides="behind the thigh"),
    ),
    "faulds": (
        Rig("hidden belt", "a belt low on the hips, at the shelf's outer edge",
            "Carried by a belt that is not seen it seems to float; straps hook in at its outer edge, in line with "
                "the pull.",
            anchors=(AnchorRow("front", Spot(-1.0, 0.85, 18), pair=True),
                AnchorRow("back", Spot(1.0, 0.85, 18), pair=True)),
            straps=(StrapRow("front", "hidden belt, its front stretch", "front", "front", "webbing",
                "side-release buckle", "front", cross=True, lifts=True, one_belt=True),
                    StrapRow("back", "hidden belt, its back stretch", "back", "back", "webbing", "sewn", "back",
                        cross=True, lifts=True, one_belt=True)),
            hides="under the breastplate's hem"),
    ),
    "tasset": (
        Rig("hung on the belt", "two hanging straps",
            "A plate on two straps swings with the thigh and does not twist.",
            anchors=(AnchorRow("upper, front", Spot(-0.75, 0.96, 16)), AnchorRow("upper, outer", Spot(0.75, 0.96, 16))),
            straps=(StrapRow("front", "hanging strap, front", "upper, front",
                Landing((_on("faulds", -0.6, 0.15, 18), _on("belt", -0.7, 0.3, 14)), _beneath(0.07, WAIST)),
                        fastening="ring",
                    lifts=True),
                    StrapRow("outer", "hanging strap, side", "upper, outer",
                        Landing((_on("faulds", 0.0, 0.15, 18), _on("belt", -0.1, 0.3, 14)), _beneath(0.19, WAIST)),
                            fastening="ring", lifts=True)),
            hides="behind the plate"),
    ),
    "poleyn": (
        Rig("elastic and tack", "elastic behind the knee, tacked on one edge",
            "Tacked on one edge it slides on the other when the knee bends.",
            anchors=(AnchorRow("inner", Spot(-1.0, 0.62, 14)), AnchorRow("outer", Spot(0.7, 0.62, 14)),
                AnchorRow("tack", Spot(0.0, 0.95, 14), "tack")),
            straps=(StrapRow("behind", "elastic behind the knee", "outer", "inner", "elastic", "hook-and-loop", "back"),
                    StrapRow("tack", "tack to the plate above or below", "tack",
                        Landing((_on("cuisse", 0.0, 0.03, 16), _on("greave", 0.0, 0.96, 16),
                            _on("ridged greave", 0.0, 0.96, 16))), fastening="tack", lifts=True)),
            hides="behind the knee"),
        Rig("floating", "two elastics behind the knee",
            "Floats on the knee; right where there is no plate above or below.",
            anchors=(AnchorRow("inner, upper", Spot(-1.0, 0.8, 14)), AnchorRow("outer, upper", Spot(0.8, 0.8, 14)),
                AnchorRow("inner, lower", Spot(-1.0, 0.25, 14)), AnchorRow("outer, lower", Spot(0.8, 0.25, 14))),
            straps=(StrapRow("above", "elastic above the knee's hollow", "outer, upper", "inner, upper", "elastic",
                "hook-and-loop", "back", lifts=True),
                    StrapRow("below", "elastic below it", "outer, lower", "inner, lower", "elastic", "hook-and-loop",
                        "back"))),
    ),
    "sabaton cap": (
        Rig("under the sole", "straps under the sole, before the heel",
            "A cap lifts at the toes; a strap before the heel holds it and does not scrape.",
            anchors=(AnchorRow("instep, outer", Spot(1.0, 0.85, 12)), AnchorRow("instep, inner", Spot(-1.0, 0.85, 12)),
                AnchorRow("ball, outer", Spot(1.0, 0.4, 12)), AnchorRow("ball, inner", Spot(-1.0, 0.4, 12))),
            straps=(StrapRow("instep", "strap under the arch", "instep, outer", "instep, inner", through="back",
                lifts=True), StrapRow("ball", "elastic round the ball", "ball, outer", "ball, inner", "elastic",
                    "sewn", "back")),
            hides="under the sole"),
        Rig("on the shoe", "loops on its rim to hooks on the shoe, elastic under the ball",
            "Hooks are sewn to the shoe once: the cap comes off for the stairs and goes back by feel.",
            anchors=(AnchorRow("rim, outer", Spot(1.0, 0.6, 12)), AnchorRow("rim, inner", Spot(-1.0, 0.6, 12)),
                AnchorRow("ball, outer", Spot(1.0, 0.3, 12)), AnchorRow("ball, inner", Spot(-1.0, 0.3, 12))),
            straps=(_tab("outer", "loop to a hook on the shoe, outer side", "rim, outer",
                        Carried("shoe", beyond=(28.0, 0.0)), "hook"),
                    _tab("inner", "loop to a hook on the shoe, inner side", "rim, inner",
                        Carried("shoe", beyond=(28.0, 0.0)), "hook"),
                    StrapRow("ball", "elastic round the ball", "ball, outer", "ball, inner", "elastic", "sewn",
                        "back")),
            hides="on the shoe"),
    ),
    "belt": (
        Rig("hook-and-loop", "hook-and-loop at the closure, one step of extra overlap",
            "A belt that is tight on the stand is loose on a walk: the extra overlap takes it up.", _ENDS,
                _closed_by("hook-and-loop", "tab over the closure"), hides="at the back"),
        Rig("buckle", "a buckle at the closure", "Holds what hangs on it; its holes adjust in steps.", _ENDS,
            _closed_by("side-release buckle", "strap over the closure")),
        Rig("loops", "loops on a belt of the wearer's own", "A bought belt carries and closes; the foam only shows.",
            anchors=(AnchorRow("loop, side", Spot(0.5, 0.25, 14), pair=True),
                AnchorRow("loop, front", Spot(0.15, 0.25, 14), pair=True)),
            straps=(_tab("side", "loop round the wearer's own belt, side", "loop, side",
                        Carried("own belt", beyond=(0.0, 45.0)), "sewn"),
                    _tab("front", "loop round the wearer's own belt, front", "loop, front",
                        Carried("own belt", beyond=(0.0, 45.0)), "sewn")),
            hides="behind the belt"),
        Rig("ratchet", "a ratchet at the closure",
            "Pulls a heavy belt tight tooth by tooth and lets go with one press.", _ENDS,
                _closed_by("ratchet", "ladder strap over the closure")),
    ),
    "bandolier": (
        Rig("over the back", "a strap over the back closes the loop",
            "One end is glued, the other adjusts: the loop carries what hangs on it over the far shoulder.",
            anchors=(AnchorRow("shoulder", Spot(0.0, 0.99, 16)), AnchorRow("hip", Spot(0.0, 0.01, 16))),
            straps=(StrapRow("back", "strap over the back", "shoulder", "hip", fastening="ring", through="back",
                lifts=True),), hides="on the back"),
    ),
}  # fmt: skip

LIES_OVER: dict[TemplateName, int] = {
    "cuisse": 1, "greave": 1, "ridged greave": 1, "bracer": 1, "segmented bracer": 1, "rerebrace": 1,
        "segmented rerebrace": 1,
    "sabaton cap": 1, "breastplate": 2, "backplate": 2, "poleyn": 2, "shoulder extension": 3, "gorget": 3, "faulds": 3,
    "tasset": 4, "belt": 4, "pauldron": 5, "bandolier": 6,
}  # fmt: skip
"""What lies over what: a strap of a piece runs over every piece of the same rank or below."""


def rigs_for(
    template: TemplateName, company: frozenset[TemplateName] | set[TemplateName], side: str = "both"
) -> tuple[Rig, ...]:
    """The rigs that can hold a piece in a costume of these templates, the usual first. side: where it is worn."""
    rows = (r for r in RIGS[template] if set(r.needs) <= set(company))
    return tuple(r for r in rows if side == "both" or not r.paired)


def chosen_rig(
    template: TemplateName, way: str, company: frozenset[TemplateName] | set[TemplateName], side: str = "both"
) -> Rig:
    """The maker's rig, or the usual one where it cannot be had here. side: where the piece is worn."""
    rows = rigs_for(template, company, side)
    return next((r for r in rows if r.key == way), rows[0])
