"""What comes before what: every rule of the order of work, hard or soft, with its reason. Found here and nowhere
else."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Literal

from vellumcut.core.design.making import SchoolName, Schools

Kinds = tuple[str, ...]
Same = Literal["piece", "about", "panel"]
"""Which steps a rule binds: any two of the piece, those about the same thing, or a seam and the panels it joins."""

GLUED: Kinds = ("dart", "cup", "seam", "collar")
JOINED: Kinds = (*GLUED, "surplus")
LAID_ON: Kinds = ("trim", "span-trim", "strip-round", "lay-on", "segments", "vinyl", "ring-cover", "holder")
COATS: Kinds = ("coat-prepare", "coat-primer", "coat-smooth", "coat-colour", "coat-metal", "coat-weather", "coat-clear")
FIRST_COAT: Kinds = ("coat-prepare", "coat-primer", "coat-smooth", "coat-colour", "coat-metal")
AFTER_CLEAR: Kinds = (
    "apart-join",
    "magnet-in",
    "stitch-thread",
    "cell",
    "pivot",
    "cord",
    "pad",
    "zip-first",
    "zip-slide",
    "zip-second",
    "bodice",
)
SMOOTHED: Kinds = ("smooth", "fill", "clay", "reseal", "burn", "line-design")
SHAPED: Kinds = ("bevel", "thin", "groove", "form", "late-score", "laminate", "shut")


@dataclass(frozen=True)
class OrderRule:
    """first before then, wherever a piece has both. hard: it cannot be set aside. schools: it holds only where the
    piece is made in these ways; empty: always."""

    key: str
    first: Kinds
    then: Kinds
    hard: bool
    reason: str
    same: Same = "piece"
    schools: Mapping[SchoolName, str] = field(default_factory=dict)

    def holds(self, schools: Schools) -> bool:
        return all(getattr(schools, name) == way for name, way in self.schools.items())


def _h(key: str, first: Kinds, then: Kinds, reason: str, same: Same = "piece", **schools: str) -> OrderRule:
    return OrderRule(key, first, then, True, reason, same, schools)  # type: ignore[arg-type]


def _s(key: str, first: Kinds, then: Kinds, reason: str, same: Same = "piece", **schools: str) -> OrderRule:
    return OrderRule(key, first, then, False, reason, same, schools)  # type: ignore[arg-type]


ORDER_RULES: tuple[OrderRule, ...] = (
    _h("number before apart", ("number",), ("cut-paper",), "Once it is apart, nothing tells which piece was which."),
    _h("paper before tracing", ("cut-paper",), ("trace",), "There is nothing to trace yet."),
    _s("flat before tracing", ("warm-flat",), ("trace",), "On a curled sheet an outline is traced too small."),
    _h("trace before cut", ("trace",), ("cut", "open-score"),
        "One left and one right are told apart at tracing, before the knife."),
    _s("open scores before cutting", ("open-score",), ("cut",),
        "The uncut sheet holds a scored part flat while heat opens it."),
    _h("scores before primer", ("open-score", "late-score"), FIRST_COAT,
        "A cut through primer tears it and shows bare foam."),
    _h("cut before work", ("cut",), ("keep-pattern", "heat-seal", "stack", "dry-fit", "profile-detail", "shape-detail",
        "leave-out", "magnet-pocket", "dust-glue", *SHAPED), "There is no part yet to work on."),
    _s("seal after cutting", ("heat-seal",), ("stack", *SHAPED), "A sealed face warms evenly and drinks no cement."),
    _h("grooves cut flat", ("groove",), ("form",), "In a curved sheet a knife runs too deep on one side."),
    _h("groove shut after forming", ("form",), ("shut", "late-score"), "Shut before, the warm foam pulls it open."),
    _s("bevel before forming", ("bevel",), ("form",),
        "A straight edge is bevelled along a ruler; a curved one by eye."),
    _h("thinned before its trim", ("thin",), ("trim", "span-trim"), "Later the drum would cut the trim as well."),
    _h("thinned before joining", ("thin",), (*GLUED, "dry-fit"), "The drum needs the edge free."),
    _s("bevels before joining", ("bevel",), (*GLUED, "dry-fit"), "Glued square, a folded joint opens twice as wide."),
    _h("bevels before glue", ("bevel",), GLUED, "A glued edge cannot be bevelled any more."),
    _s("curve before seams", ("form", "laminate", "shut", "late-score"), GLUED,
        "Foam that has its curve does not pull at its seam.", curve="before seams"),
    _s("layers before curve", ("stack",), ("form",), "Glued flat, they are curved together: gentle curves only.",
        curve="after layers"),
    _s("layers flat first", ("stack",), ("form",), "Layers that are cut alike are one sheet before they are curved."),
    _h("curve before layers", ("form",), ("laminate",), "Two sheets glued while bent keep the bend."),
    _h("taped before glue", ("dry-fit",), (*GLUED, "trim", "temp-rig"),
        "A wrong fit costs a strip of tape now and the whole piece after glue."),
    _h("formed before grinding", ("form", "laminate", "shut"), ("smooth", "beds"),
        "Warm foam rounds off what was ground before it took its curve."),
    _s("formed before try-on", ("form",), ("dry-fit",), "Flat foam taped round a body tells nothing."),
    _s("base curved before what lies on it", ("form", "laminate"), ("shape-detail", "trim"),
        "A strip that is glued on flat pulls when its panel takes its curve.", curve="before seams"),
    _s("one-panel trims first", ("trim",), GLUED, "On a flat panel a strip is laid in minutes.",
        trims="one-panel ones first"),
    _s("all trims after", JOINED, ("trim",), "One look at the whole before any of them.", trims="all after assembly"),
    _h("spanning trims after", GLUED, ("span-trim", "strip-round"), "Laid before, its two halves never meet."),
    _s("trims before grinding", ("trim", "span-trim", "strip-round", "cover"), ("smooth",),
        "All trim edges are ground flush and rounded in one go."),
    _h("profile before glue", ("profile-detail",), ("trim", "span-trim", "strip-round"),
        "Glued down, a strip's lower edges cannot be reached any more.", "about"),
    _s("profile before the strip is curved", ("profile-detail",), ("shape-detail",),
        "On a flat strip a blade and a block run true.", "about"),
    _s("details shaped first", ("shape-detail",), ("trim", "span-trim", "lay-on", "apart-join", "segments",
        "tape-segments", "collar", "apart-paint", "support"),
        "Glued on flat, a detail pulls itself off again.", "about"),
    _h("closure bed before its cover", ("closure-bed",),
        (*LAID_ON, "collar", "decal", "stitch-paint", "magnet-pocket", "mask-metal", *AFTER_CLEAR),
        "Under a detail, no hand reaches the closure any more.", "about"),
    _h("darts before their seams", ("dart",), ("seam", "cup"),
        "A seam goes round with its dart's mouth shut, or it has no length.", "panel"),
    _h("held on again after a part", ("cup",), ("sub-fit",), "There is nothing new yet to try on."),
    _h("tried on before the next part", ("sub-fit",), ("collar", "surplus", "test-fit"),
        "What is fitted next is fitted to what is there."),
    _s("tried on before the seams", ("sub-fit",), ("seam",), "In a closed piece a cup is not moved any more."),
    _s("cups before seams", ("cup",), ("seam",),
        "A cup is set into a flat opening; in a closed piece no hand gets behind it."),
    _s("collar after cups", ("cup",), ("collar",), "The cup moves the neckline that the collar is glued to."),
    _s("collar after seams", ("seam",), ("collar",), "The collar ties the shoulders of a piece that is closed."),
    _s("surplus last", GLUED, ("surplus",), "Trimmed before all is glued, the edge comes out too short."),
    _h("base before segments", GLUED, ("tape-segments",), "Segments are laid out on a closed base."),
    _h("segments traced first", ("tape-segments",), ("segments",),
        "The last one never fits when each is glued as it comes.", "about"),
    _s("covered is not smoothed", ("cover",), ("fill",),
        "What a strip covers need not be filled: lay it first and see what is left."),
    _h("dust before glue", ("dust-glue",), (*GLUED, "trim", "span-trim", "strip-round", "lay-on", "segments", "vinyl",
        "support"),
        "Glue on dust holds the dust."),
    _h("dust before anchors", ("dust-beds",), ("close",),
        "Glue on dust holds the dust, and an anchor is pulled at all day."),
    _h("beds before dusting", ("beds",), ("dust-beds",), "Opening a bed makes the dust."),
    _h("dust before primer", ("dust-primer",), FIRST_COAT, "Paint on dust peels with the dust."),
    _h("smooth before dust", (*SMOOTHED, *LAID_ON, "cover", "test-fit", "tabs"), ("dust-primer",),
        "Every one of them leaves dust or a finger's grease."),
    _h("joined before its support", GLUED, ("support",), "Its parts lie still when they are glued to each other."),
    _h("support before the fit", ("support",), ("test-fit",), "It is part of how the piece holds its shape."),
    _h("joined before grinding", JOINED, ("smooth", "clay", "fill", "line-design", "cover"),
        "There is no seam yet to grind."),
    _s("clay before grinding", ("clay",), ("smooth",), "Clay dries, then it is ground flush with the seam."),
    _s("grind before filling", ("smooth",), ("fill",), "Filler goes where the drum has shown a hollow."),
    _s("sealed again before primer", ("smooth", "fill", "line-design", "burn"), ("reseal",),
        "Sanding opens the cells again."),
    _h("seal before primer", ("heat-seal", "reseal"), FIRST_COAT, "Open cells drink primer and stay rough."),
    _s("burnt before sealing", ("smooth",), ("burn",), "Damage is burnt into a smooth piece, before it is sealed."),
    _h("burnt before primer", ("burn",), FIRST_COAT, "Burnt afterwards, paint burns too."),
    _s("beds after sealing", ("heat-seal", "reseal"), ("beds",), "A bed opened before would be sealed shut again."),
    _h("beds before straps", ("beds", "rig"), ("close",), "A sealed face does not hold what pulls at it."),
    _s("temporary straps before the fit", ("temp-rig",), ("test-fit",), "The straps are part of the fit.",
        rigging="temporary, then permanent"),
    _s("fit before sewing", ("test-fit",), ("rig",), "Strap lengths are proved by the fit.",
        rigging="temporary, then permanent"),
    _h("formed before the fit", ("form", "dry-fit"), ("test-fit",),
        "What is still flat or loose does not tell how it fits."),
    _s("dust when it is glued next", ("dry-fit", "thin", "groove"), ("dust-glue",),
        "Dusted earlier, it is dusty again."),
    _s("hold it when it fits", ("test-fit",), ("tabs", "mask-metal", "mask-seat", "magnet-out", "apart-paint"),
        "Before the fit it may still be changed."),
    _h("joined before the fit", GLUED, ("test-fit",), "A piece that is not closed does not tell how it fits."),
    _h("fit before paint", ("test-fit",), FIRST_COAT, "Before paint, everything can still be changed."),
    _s("permanent straps after clear", ("coat-clear", "coat-metal", "coat-colour", "touch-up"), ("close",),
        "Straps that are put on last stay clean.", rigging="temporary, then permanent"),
    _h("straps before paint", ("close",), (*FIRST_COAT, "test-fit", "tabs"),
        "Fixed first, they are masked with the rest.", rigging="before paint, masked"),
    _h("hold before paint", ("tabs",), FIRST_COAT,
        "A part laid down wet has a mark; a face that is glued later is masked now."),
    _h("mask metal first", ("mask-metal",), FIRST_COAT, "Overspray on metal does not come off."),
    _h("mask the seat first", ("mask-seat",), FIRST_COAT, "A seat that is painted has to be sanded bare again."),
    _h("pocket before magnet", ("magnet-pocket",), ("magnet-out",), "Aligned dry before anything is sprayed.", "about"),
    _h("magnets out before spray", ("magnet-out",), COATS, "Paint makes a magnet weaker."),
    _h("magnets in after spray", COATS, ("magnet-in",), "In last, pole as marked."),
    _h("apart after clear", COATS, AFTER_CLEAR,
        "What is of another colour is painted by itself and joined when both are hard."),
    _h("apart painted first", ("apart-paint",), ("apart-join",), "It goes on when its own paint is hard.", "about"),
    _s("trims before primer", LAID_ON, FIRST_COAT, "One primer over all hides the step between strip and panel."),
    _h("covered stays bare", ("vinyl", "cover", "ring-cover"), COATS,
        "What will be covered is neither smoothed nor painted."),
    _h("stitches before weathering", ("stitch-paint",), ("coat-weather", "weather"),
        "Weathering must settle round them."),
    _s("colour before stitches", ("coat-primer", "coat-colour"), ("stitch-paint",),
        "Stitches lie on the colour of the leather."),
    _h("scuffed before paint or glue", ("scuff",), ("vinyl", "decal", *COATS), "Nothing holds on a glossy back."),
    _h("vinyl after heat and grinding", ("heat-seal", "form", "shut", "laminate", *SMOOTHED), ("vinyl", "ring-cover"),
        "Heat shrinks vinyl, and a drum tears it."),
    _h("texture after grinding", ("smooth", "clay", "fill", "line-design", "burn"), ("texture",),
        "A drum takes the print off again."),
    _h("texture after heat", ("heat-seal", "form", "shut", "laminate", "reseal"), ("texture",),
        "Heat swells the print away."),
    _h("texture before paint", ("texture",), (*FIRST_COAT, "dust-primer"), "Paint and sealer take no print."),
    _h("film cut first", ("cut-stencil",), ("stencil", "decal", "age-decal"),
        "Cut on the piece the knife would go through the paint.", "about"),
    _s("stencil on its ground", ("coat-primer", "coat-colour", "coat-metal"), ("stencil", "paint-damage"),
        "It is painted on what shows round it."),
    _s("motif before weathering", ("stencil", "decal"), ("coat-weather", "weather", "paint-damage"),
        "What is old is worn with all that was painted on it."),
    _s("painted on before clear", ("stencil", "paint-damage"), ("coat-clear",), "Over the clear it rubs off."),
    _h("decals aged on their backing", ("age-decal",), ("decal",), "On the piece the knife would cut the paint.",
        "about"),
    _s("decals before clear", ("decal",), ("coat-clear",), "The clear holds their edges down."),
    _h("foam left out before the fold", ("leave-out",), ("ring-cover", *GLUED),
        "A fold on top of foam stands up as a bump."),
    _h("stiffener before cover", ("stiffen",), ("vinyl",), "Stretched vinyl bends a long middle hollow.", "about"),
    _h("gem before its seat", ("prop",), ("mask-seat", "lay-on"), "A seat is traced from what is set in it.", "about"),
    _h("foot before it is glued", ("fit-foot",), ("lay-on", "apart-join"), "Glued, a foot is cut no more.", "about"),
    _h("prop before holder", ("prop",), ("holder",), "A holder made to a guess holds nothing.", "about"),
    _h("zip side by side", ("zip-first",), ("zip-slide",), "Both at once never run parallel.", "about"),
    _s("zip slid first", ("zip-slide",), ("zip-second",), "A zip pressed open ends with one side longer.", "about"),
    _s("holder before the fit", ("holder",), ("test-fit",),
        "What is carried pulls at the piece: it is part of the fit."),
    _h("strip before what lies by it", ("cover",),
        ("span-trim", "strip-round", "lay-on", "tape-segments", "segments", "vinyl", "holder"),
        "A strip goes over its whole seam: a detail laid first stands in its way."),
    _h("bodice last", ("close", "dam"), ("bodice",), "Cloth that is sewn in early is painted, glued and sanded on."),
    _s("weathering after colour", ("coat-colour", "coat-metal"), ("weather",), "What is aged must be there."),
    _s("weathering before clear", ("weather",), ("coat-clear",),
        "The clear keeps what was aged; over it, it rubs off."),
    _h("wax last", (*COATS, "weather", "touch-up"), ("wax",), "Nothing holds on wax."),
    _s("touch up before clear", ("touch-up",), ("coat-clear",), "Under the clear it is all one."),
    _s("masks before touching up", ("coat-primer", "coat-colour", "coat-metal", "coat-weather"), ("touch-up",),
        "Overspray is certain: mend it when all colours are on."),
    _s("dam after primer", ("coat-primer",), ("dam",),
        "The outside is primed while the inside is still bare to hold it by."),
    _s("dam before straps", ("dam",), ("close",), "Straps lie over the strips, not under them.",
        rigging="temporary, then permanent"),
    _s("dam before paint", ("dam",), ("coat-colour", "coat-metal", "coat-clear"),
        "Adhesive on a finished face does not come off."),
    _h("final fit last", ("test-fit", *COATS, "wax", "weather", "close", *AFTER_CLEAR, "dam", "touch-up"),
        ("final-fit",), "It proves what is worn."),
)  # fmt: skip
"""Rules of making, in the order of work; a soft one may be set aside for a piece."""
BY_KEY: dict[str, OrderRule] = {r.key: r for r in ORDER_RULES}
