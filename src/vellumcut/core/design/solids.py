"""What a maker decides of a part that no cast gives: what it is, and its few measures."""

from math import radians, tan
from typing import Annotated, Literal

from pydantic import Field, StrictBool, StrictInt, WithJsonSchema, model_validator

from vellumcut.core.body.readings import Decision
from vellumcut.core.design.flat import Place
from vellumcut.core.units import Length, Number
from vellumcut.core.words import SEEN

Span = Annotated[Length, Field(ge=5, le=3000)]
Small = Annotated[Length, Field(ge=0, le=1500)]
Degrees = Annotated[Number, Field(ge=-180, le=180)]
_At = Annotated[Number, Field(ge=-5000, le=5000)]
Spot = Annotated[
    tuple[_At, _At, _At],
    WithJsonSchema({"type": "array", "items": {"type": "number"}, "minItems": 3, "maxItems": 3}),
]
Outline = Annotated[tuple[Place, ...], Field(max_length=2000)]


class _Made(Decision):
    """inside: its measures are those of the inner face, which lies on the body or a thing; else of the outer one, which
    is seen. count: how many are made. mirrored: as many more, turned over."""

    inside: StrictBool = True
    count: Annotated[StrictInt, Field(ge=1, le=40)] = 1
    mirrored: StrictBool = False

    @property
    def made(self) -> int:
        """How many are made in all."""
        return self.count * (2 if self.mirrored else 1)


class Cone(_Made):
    """A cone, cylinder, prism, spike or pyramid, upright or slanted. lower, upper: widths of its ends, mm; upper 0 is a
    point. deep: how deep its lower end is for how wide, 1 is round. lean: how far its upper end stands aside, mm.
    slant: degrees that its upper end is cut off aslant. sides: flat ones; 0: round. pieces: that its wall is cut in.
    folded: flat sides are one sheet with grooves; else each is cut by itself. flange: width of a flat rim round its
    lower end, mm."""

    kind: Literal["cone"] = "cone"
    lower: Span = 120.0
    upper: Small = 80.0
    high: Span = 100.0
    deep: Annotated[Number, Field(ge=0.2, le=5)] = 1.0
    lean: Annotated[Length, Field(ge=-800, le=800)] = 0.0
    slant: Annotated[Number, Field(ge=-60, le=60)] = 0.0
    sides: Annotated[StrictInt, Field(ge=0, le=24)] = 0
    pieces: Annotated[StrictInt, Field(ge=1, le=6)] = 1
    folded: StrictBool = True
    cap: Literal["none", "lower", "upper", "both"] = "none"
    flange: Small = 0.0

    @model_validator(mode="after")
    def _stands(self) -> "Cone":
        if self.sides in (1, 2):
            raise ValueError("It has at least 3 flat sides, or is round: 0")
        if self.upper and self.upper < 5:
            raise ValueError("Its upper end is a point (0) or at least 5 mm wide")
        if not self.upper and (self.slant or self.cap in ("upper", "both")):
            raise ValueError("A point is not cut off aslant and has no cap")
        reach = max(self.upper / 2, 0) * abs(tan(radians(self.slant)))
        if reach >= 0.9 * self.high:
            raise ValueError("Cut off so much aslant, its upper end would meet the lower one: make it higher")
        return self


class Elbow(_Made):
    """A tube that turns. wide, deep: of the tube in the plane it turns in and across it, mm. turn: degrees. radius: of
    its middle line, mm. straight: at each end, mm."""

    kind: Literal["elbow"] = "elbow"
    wide: Span = 100.0
    deep: Span = 100.0
    turn: Annotated[Number, Field(ge=5, le=180)] = 90.0
    radius: Span = 120.0
    straight: Small = 0.0
    segments: Annotated[StrictInt, Field(ge=2, le=24)] = 5
    sides: Annotated[StrictInt, Field(ge=0, le=24)] = 0

    @model_validator(mode="after")
    def _turns(self) -> "Elbow":
        if self.radius <= self.wide / 2:
            raise ValueError("It turns tighter than half its own width: give a larger radius")
        if self.sides in (1, 2):
            raise ValueError("It has at least 3 flat sides, or is round: 0")
        return self


class Dome(_Made):
    """A dome or a ball. wide: across, mm. whole: a ball. way: gores from pole to rim, or rings one over the other.
    parts: how many of them."""

    kind: Literal["dome"] = "dome"
    wide: Span = 200.0
    whole: StrictBool = False
    way: Literal["gores", "rings"] = "gores"
    parts: Annotated[StrictInt, Field(ge=3, le=24)] = 8


class Ring(_Made):
    """A ring or rim of round section. across: from middle line to middle line, mm. thick: of its tube, mm. turn:
    degrees of the circle that it takes."""

    kind: Literal["ring"] = "ring"
    across: Span = 240.0
    thick: Span = 50.0
    turn: Annotated[Number, Field(ge=20, le=360)] = 360.0
    segments: Annotated[StrictInt, Field(ge=3, le=48)] = 12

    @model_validator(mode="after")
    def _open(self) -> "Ring":
        if self.across <= self.thick:
            raise ValueError("Its tube would close the middle: make it larger across, or thinner")
        return self


class Horn(_Made):
    """A horn or a tooth: a tapering tube that bends. base, tip: widths of its ends, mm; tip 0 is a point. long: along
    its middle, mm. bend: degrees in all. curl: how much more of the bend lies towards the tip, 0 even."""

    kind: Literal["horn"] = "horn"
    base: Span = 70.0
    tip: Small = 0.0
    long: Span = 260.0
    bend: Annotated[Number, Field(ge=0, le=540)] = 90.0
    curl: Annotated[Number, Field(ge=0, le=3)] = 0.5
    segments: Annotated[StrictInt, Field(ge=1, le=24)] = 6


class TailPoint(Decision):
    """A place of a tail's middle line, mm, and how wide it is there."""

    x: Annotated[Length, Field(ge=-5000, le=5000)]
    y: Annotated[Length, Field(ge=-5000, le=5000)]
    z: Annotated[Length, Field(ge=-5000, le=5000)]
    wide: Annotated[Length, Field(ge=5, le=1500)]


class Tail(_Made):
    """A tail, neck or hose: a curve in space with its width along it. pitch: mm from hoop to hoop. way: one tube in
    segments that are glued; segments that tuck into each other; hoops under a skin of cloth."""

    kind: Literal["tail"] = "tail"
    points: Annotated[tuple[TailPoint, ...], Field(min_length=2, max_length=40)] = (
        TailPoint(x=0, y=0, z=0, wide=160),
        TailPoint(x=0, y=160, z=-140, wide=130),
        TailPoint(x=60, y=380, z=-200, wide=90),
        TailPoint(x=160, y=560, z=-120, wide=40),
    )
    pitch: Annotated[Length, Field(ge=15, le=400)] = 60.0
    way: Literal["tube", "tucked", "hoops"] = "tube"
    hoop: Annotated[Length, Field(ge=5, le=200)] = 15.0


class Box(_Made):
    """A box. wide, deep, high: mm. top: closed, open, or a lid that is no part of it. folded: one sheet with grooves;
    else a panel for each face."""

    kind: Literal["box"] = "box"
    wide: Span = 120.0
    deep: Span = 80.0
    high: Span = 60.0
    top: Literal["closed", "open"] = "open"
    folded: StrictBool = True


class Star(_Made):
    """A star with a raised middle. points: how many. outer, inner: from the middle to a point and to a hollow, mm.
    high: of its middle, mm."""

    kind: Literal["star"] = "star"
    points: Annotated[StrictInt, Field(ge=3, le=16)] = 5
    outer: Span = 90.0
    inner: Span = 40.0
    high: Annotated[Length, Field(ge=2, le=800)] = 25.0

    @model_validator(mode="after")
    def _pointed(self) -> "Star":
        if self.inner >= self.outer:
            raise ValueError("Its hollows lie farther out than its points")
        return self


class Pouch(_Made):
    """A pouch for a thing that is held upright. wide, high, deep: of the thing, mm. ease: on every side of it, mm.
    flap: how far it hangs down in front, mm; 0: none. belt: width of the belt that it hangs on, mm; 0: no loops."""

    kind: Literal["pouch"] = "pouch"
    wide: Span = 78.0
    high: Span = 160.0
    deep: Annotated[Length, Field(ge=3, le=800)] = 9.0
    ease: Annotated[Length, Field(ge=0, le=40)] = 3.0
    flap: Small = 50.0
    belt: Annotated[Length, Field(ge=0, le=200)] = 40.0
    overlap: Annotated[Length, Field(ge=10, le=100)] = 30.0


class Holder(_Made):
    """A holster, sheath or holder to a thing's outline. outline: mm, counter-clockwise, its mouth upwards; empty: a
    blade
    of so long and so wide. ease: round it, mm. deep: how thick the thing is, mm. mouth: how much of its height stays
    free above, mm."""

    kind: Literal["holder"] = "holder"
    outline: Outline = ()
    wide: Span = 60.0
    high: Span = 200.0
    deep: Annotated[Length, Field(ge=3, le=400)] = 20.0
    ease: Annotated[Length, Field(ge=0, le=40)] = 3.0
    mouth: Small = 0.0


class Gauntlet(_Made):
    """The cuff of a gauntlet, from half girths: an upper and an under plate. wrist, cuff: half of the girth at the
    wrist
    and at the upper edge, mm. long: mm. flare: how far the upper edge stands out more, mm round half. thumb: how deep a
    hollow is cut for the thumb, mm."""

    kind: Literal["gauntlet"] = "gauntlet"
    wrist: Span = 95.0
    cuff: Span = 150.0
    long: Span = 180.0
    flare: Small = 30.0
    thumb: Small = 0.0


class Finger(Decision):
    """One finger. girth: round it, mm. bones: lengths from the knuckle on, mm. bend: degrees of each joint between two
    bones, and before the first."""

    name: Annotated[str, Field(min_length=1, max_length=40)]
    girth: Annotated[Length, Field(ge=25, le=200)]
    bones: Annotated[tuple[Annotated[Length, Field(ge=8, le=200)], ...], Field(min_length=1, max_length=4)]
    bend: Annotated[Number, Field(ge=10, le=130)] = 90.0
    claw: Annotated[Length, Field(ge=0, le=200)] = 0.0


class Hand(_Made):
    """Plates on the back of a glove. over: how far plates still overlap at full bend, mm. back: length and width of the
    plate on the back of the hand, mm; 0: none."""

    kind: Literal["hand"] = "hand"
    fingers: Annotated[tuple[Finger, ...], Field(min_length=1, max_length=10)] = (
        Finger(name="forefinger", girth=66, bones=(44, 26, 22)),
        Finger(name="middle finger", girth=67, bones=(48, 30, 23)),
        Finger(name="ring finger", girth=63, bones=(44, 28, 22)),
        Finger(name="little finger", girth=54, bones=(35, 24, 20), bend=75),
        Finger(name="thumb", girth=70, bones=(40, 30), bend=60),
    )
    over: Annotated[Length, Field(ge=1, le=30)] = 4.0
    back_long: Small = 80.0
    back_wide: Small = 85.0


class ToeCap(_Made):
    """A box over a shoe's toes. wide, long: of the shoe there, with what it needs to clear, mm. toe, instep: how high
    it is in front and behind, mm. blunt: 0 a half ellipse, 1 nearly square."""

    kind: Literal["toe cap"] = "toe cap"
    wide: Span = 110.0
    long: Span = 130.0
    toe: Span = 45.0
    instep: Span = 75.0
    blunt: Annotated[Number, Field(ge=0, le=1)] = 0.3


class SoleEdge(_Made):
    """A strip round the sole of a shoe. outline: of the sole, mm; empty: one of so long, so wide at the ball and at the
    heel. high: mm."""

    kind: Literal["sole edge"] = "sole edge"
    outline: Outline = ()
    long: Span = 280.0
    ball: Span = 100.0
    heel: Span = 70.0
    high: Annotated[Length, Field(ge=5, le=150)] = 30.0


class Shelf(_Made):
    """A shelf round the hips: a flat ring on fins. girth: round the body there, with base layer and ease, mm. ratio:
    how
    deep the body is for how wide. front, side, back: depth of the ring there, mm. fins: brackets under it. drop: how
    far they reach down, mm."""

    kind: Literal["shelf"] = "shelf"
    girth: Annotated[Length, Field(ge=300, le=2500)] = 950.0
    ratio: Annotated[Number, Field(ge=0.4, le=1.5)] = 0.72
    front: Annotated[Length, Field(ge=10, le=500)] = 70.0
    side: Annotated[Length, Field(ge=10, le=500)] = 110.0
    back: Annotated[Length, Field(ge=10, le=500)] = 90.0
    fins: Annotated[StrictInt, Field(ge=0, le=40)] = 10
    drop: Annotated[Length, Field(ge=10, le=400)] = 90.0
    open_at: Literal["back", "front", "sides"] = "back"


class Fin(_Made):
    """A fin, blade or wing on edge: two faces and a core. long, base, tip: mm. sweep: how far its tip stands back, mm.
    core: thickness of what lies between both faces, mm; 0: the faces lie on each other. rod: diameter of a rod or wire
    in its core, mm; 0: none."""

    kind: Literal["fin"] = "fin"
    long: Span = 320.0
    base: Span = 110.0
    tip: Small = 20.0
    sweep: Annotated[Length, Field(ge=-800, le=800)] = 60.0
    core: Annotated[Length, Field(ge=0, le=25)] = 5.0
    rod: Annotated[Length, Field(ge=0, le=20)] = 0.0


class Model(_Made):
    """A model from a mesh file. mesh: packed; empty: the made-up one that ships. up: which way of the file is up. low,
    high: between which shares of its height it is wanted. tall: how tall that part is made, mm. girth: how far round it
    is made at a share of that height, mm; 0: as the height makes it. panels: that it is parted into, at least. seams:
    drawn by the maker, by places on it at its size, mm."""

    kind: Literal["model"] = "model"
    mesh: Annotated[str, Field(max_length=400_000)] = ""
    file: Annotated[str, Field(max_length=120), SEEN] = ""
    up: Literal["x", "y", "z"] = "z"
    low: Annotated[Number, Field(ge=0, le=0.98)] = 0.0
    high: Annotated[Number, Field(ge=0.02, le=1)] = 1.0
    tall: Annotated[Length, Field(ge=10, le=2500)] = 230.0
    girth: Annotated[Length, Field(ge=0, le=3000)] = 0.0
    girth_at: Annotated[Number, Field(ge=0.01, le=0.99)] = 0.5
    panels: Annotated[StrictInt, Field(ge=1, le=40)] = 2
    seams: Annotated[
        tuple[Annotated[tuple[Spot, ...], Field(min_length=2, max_length=60)], ...], Field(max_length=60)
    ] = ()

    @model_validator(mode="after")
    def _has_a_part(self) -> "Model":
        if self.high - self.low < 0.02:
            raise ValueError("The part that is wanted begins above its own end")
        return self


Solid = Annotated[
    Cone | Elbow | Dome | Ring | Horn | Tail | Box | Star | Pouch | Holder | Gauntlet | Hand | ToeCap | SoleEdge
    | Shelf | Fin | Model,
    Field(discriminator="kind"),
]  # fmt: skip
SolidKind = Literal[
    "cone", "elbow", "dome", "ring", "horn", "tail", "box", "star", "pouch", "holder", "gauntlet", "hand", "toe cap",
    "sole edge", "shelf", "fin", "model",
]  # fmt: skip
