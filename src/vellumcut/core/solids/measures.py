"""The measures of every solid, as a maker is asked for them."""

from dataclasses import dataclass
from typing import Literal

from vellumcut.core.design.solids import SolidKind

Asked = Literal["length", "count", "degrees", "share", "choice", "yes", "outline", "points", "fingers", "seams"]


@dataclass(frozen=True)
class Measure:
    """field: of the solid. word: on the form. choices: values and words."""

    field: str
    word: str
    hint: str = ""
    asked: Asked = "length"
    choices: tuple[tuple[str, str], ...] = ()


_SIDES = Measure("sides", "Flat sides", "0 is round", "count")
_SEGMENTS = Measure("segments", "Segments", "more are smoother, with more seams", "count")
_OUTLINE = Measure("outline", "Of a thing you traced", "its outline takes the place of the measures below", "outline")
SHARED = (
    Measure("inside", "Measured", "where your measures were taken", "yes", (("true", "inside"), ("false", "outside"))),
    Measure("count", "How many", "", "count"),
    Measure("mirrored", "As many more, turned over", "a left and a right", "yes"),
)
MEASURES: dict[SolidKind, tuple[Measure, ...]] = {
    "cone": (
        Measure("lower", "Width of its lower end"),
        Measure("upper", "Width of its upper end", "0 is a point"),
        Measure("high", "Height"),
        Measure("deep", "Depth for width", "1 is round", "share"),
        Measure("lean", "Its upper end stands aside by"),
        Measure("slant", "Its upper end is cut aslant by", "", "degrees"),
        _SIDES,
        Measure("folded", "Flat sides in one sheet, with grooves", "else each by itself", "yes"),
        Measure("pieces", "Wall in so many pieces", "", "count"),
        Measure("cap", "Caps", "", "choice", (
            ("none", "none"), ("lower", "below"), ("upper", "above"), ("both", "both"),
        )),
        Measure("flange", "Flat rim round its lower end", "0: none"),
    ),
    "elbow": (
        Measure("wide", "Width, in the plane it turns in"),
        Measure("deep", "Width across that"),
        Measure("turn", "Turns by", "", "degrees"),
        Measure("radius", "Radius of its middle line"),
        Measure("straight", "Straight on at each end by"),
        _SEGMENTS,
        _SIDES,
    ),
    "dome": (
        Measure("wide", "Across"),
        Measure("whole", "A whole ball", "else half", "yes"),
        Measure("way", "Made of", "", "choice", (("gores", "gores"), ("rings", "rings, one over the other"))),
        Measure("parts", "How many of them", "more are rounder", "count"),
    ),
    "ring": (
        Measure("across", "Across, from middle to middle of its tube"),
        Measure("thick", "Width of its tube"),
        Measure("turn", "Degrees of the circle", "360 is whole", "degrees"),
        _SEGMENTS,
    ),
    "horn": (
        Measure("base", "Width of its base"),
        Measure("tip", "Width of its tip", "0 is a point"),
        Measure("long", "Length along its middle"),
        Measure("bend", "Bends by", "in all", "degrees"),
        Measure("curl", "Curls towards its tip", "0: the same all along", "share"),
        _SEGMENTS,
    ),
    "tail": (
        Measure("points", "Its middle line", "places and the width there, from where it is worn", "points"),
        Measure("way", "Made as", "", "choice", (
            ("tube", "one tube of segments"), ("tucked", "segments that tuck into each other"),
            ("hoops", "hoops under a skin"),
        )),
        Measure("pitch", "From hoop to hoop"),
        Measure("hoop", "Width of a hoop's foam"),
    ),
    "box": (
        Measure("wide", "Width"), Measure("deep", "Depth"), Measure("high", "Height"),
        Measure("top", "Top", "", "choice", (("open", "open"), ("closed", "closed"))),
        Measure("folded", "One sheet, with grooves", "else a panel for each face", "yes"),
    ),
    "star": (
        Measure("points", "Points", "", "count"),
        Measure("outer", "From its middle to a point"),
        Measure("inner", "From its middle to a hollow"),
        Measure("high", "Height of its middle"),
    ),
    "pouch": (
        Measure("wide", "Width of the thing"), Measure("high", "Height of the thing"),
        Measure("deep", "Thickness of the thing"), Measure("ease", "Ease on every side"),
        Measure("flap", "Flap hangs down in front by", "0: no flap"),
        Measure("belt", "Width of the belt", "0: no loops"), Measure("overlap", "Loops overlap by"),
    ),
    "holder": (
        _OUTLINE, Measure("wide", "Width of the blade"), Measure("high", "Length of the blade"),
        Measure("deep", "Thickness of the thing"), Measure("ease", "Ease round it"),
        Measure("mouth", "Stays free above"),
    ),
    "gauntlet": (
        Measure("wrist", "Half girth of the wrist"), Measure("cuff", "Half girth at the cuff's end"),
        Measure("long", "Length"), Measure("flare", "Flares by", "round half of it"),
        Measure("thumb", "Hollow for the thumb", "0: none"),
    ),
    "hand": (
        Measure("fingers", "Fingers", "", "fingers"), Measure("over", "Plates still overlap at full bend by"),
        Measure("back_long", "Plate on the back, length", "0: none"), Measure("back_wide", "Plate on the back, width"),
    ),
    "toe cap": (
        Measure("wide", "Width over the shoe"), Measure("long", "Length"), Measure("toe", "Height in front"),
        Measure("instep", "Height behind"), Measure("blunt", "Blunt", "0 round, 1 nearly square", "share"),
    ),
    "sole edge": (
        _OUTLINE, Measure("long", "Length of the sole"), Measure("ball", "Width at the ball"),
        Measure("heel", "Width at the heel"), Measure("high", "Height of the strip"),
    ),
    "shelf": (
        Measure("girth", "Girth at the hips", "with base layer and ease"),
        Measure("ratio", "Depth of the body for its width", "", "share"),
        Measure("front", "Depth in front"), Measure("side", "Depth at the sides"), Measure("back", "Depth behind"),
        Measure("fins", "Fins under it", "", "count"), Measure("drop", "Fins reach down by"),
        Measure("open_at", "Opens at", "", "choice", (
            ("back", "the back"), ("front", "the front"), ("sides", "both sides"),
        )),
    ),
    "fin": (
        Measure("long", "Length"), Measure("base", "Width at its base"),
        Measure("tip", "Width at its tip", "0: a point"),
        Measure("sweep", "Its tip stands back by"), Measure("core", "Core between its faces", "0: none"),
        Measure("rod", "Rod in the core", "0: none"),
    ),
    "model": (
        Measure("up", "Which way is up", "", "choice", (("z", "z"), ("y", "y"), ("x", "x"))),
        Measure("low", "Wanted from", "share of its height", "share"), Measure("high", "to", "1 is its top", "share"),
        Measure("tall", "Made so tall"), Measure("girth", "Made so far round", "0: as its height makes it"),
        Measure("girth_at", "measured at", "share of that height", "share"),
        Measure("panels", "In so many panels", "more ask less of the foam", "count"),
        Measure("seams", "Seams of your own", "", "seams"),
    ),
}  # fmt: skip
