"""What a maker decides about how a piece is made: schools, details that go on it, surface of its seams, order of
work."""

from collections.abc import Mapping
from typing import Annotated, Literal

from pydantic import Field, StrictBool, model_validator

from vellumcut.core.body.readings import Decision
from vellumcut.core.design.finish import ZoneFinish
from vellumcut.core.design.parts import PartShape, Plate
from vellumcut.core.design.sheet import Key
from vellumcut.core.units import Length, Number
from vellumcut.core.words import SEEN

GlueName = Literal["contact cement", "hot glue", "instant glue"]
SeamWay = Literal["ground", "covered", "design"]
StepKey = Annotated[str, Field(min_length=1, max_length=120)]


class Schools(Decision):
    """Where two makers do it in two ways, each with its usual one. See ``make.schools`` for what each means."""

    glue: Literal["by joint", "contact cement", "hot glue", "instant glue"] = "by joint"
    sealing: Literal["after cutting, and again", "after cutting", "as each part is ground", "once at the end"] = (
        "after cutting, and again"
    )
    curve: Literal["before seams", "after layers"] = "before seams"
    trims: Literal["one-panel ones first", "all after assembly"] = "one-panel ones first"
    rigging: Literal["temporary, then permanent", "before paint, masked"] = "temporary, then permanent"
    bed: Literal["by glue", "drum", "crosses opened by heat", "mesh of scores"] = "by glue"
    elastic: Literal["sewn to webbing", "glued under a strip"] = "sewn to webbing"
    eyelets: Literal["backed", "in bare foam"] = "backed"
    seams: SeamWay = "ground"
    primer: Literal["sprayed", "brushed"] = "brushed"
    stitches: Literal["raised paint", "real thread"] = "raised paint"
    damage: Literal["painted", "burnt"] = "painted"
    liner: Literal["none", "strips", "full", "bodice"] = "strips"
    rhythm: Literal["pieces", "stages"] = "pieces"


SchoolName = Literal[
    "glue",
    "sealing",
    "curve",
    "trims",
    "rigging",
    "bed",
    "elastic",
    "eyelets",
    "seams",
    "primer",
    "stitches",
    "damage",
    "liner",
    "rhythm",
]


def with_changes(base: Schools, changes: Mapping[SchoolName, str]) -> Schools:
    """A build's schools with what one piece does otherwise. Raises ValidationError for what is no school."""
    return Schools.model_validate({**base.model_dump(), **changes})


DetailKind = Literal[
    "trim",
    "spanning trim",
    "strip round",
    "layer",
    "segments",
    "collar",
    "emblem",
    "sliding plate",
    "gem",
    "magnet",
    "buckle",
    "hanging plate",
    "stitches",
    "vinyl cover",
    "decal",
    "rivets",
    "scales",
    "links",
    "built-in metal",
    "ring cover",
    "zip",
    "holder",
    "light cell",
    "pivot",
    "cord",
    "support",
    "pad",
    "texture",
    "stencil",
    "painted damage",
    "joined part",
]
SHAPED: dict[str, tuple[DetailKind, ...]] = {
    "border": ("trim", "spanning trim", "strip round"),
    "row": ("rivets", "gem", "stitches"),
    "plate": ("layer", "emblem", "sliding plate", "gem", "stencil", "decal", "joined part"),
    "scales": ("scales",),
    "links": ("links",),
    "cuff": ("collar",),
    "segments": ("segments",),
    "damage": ("painted damage",),
}
"""Which kinds of detail may have a shape of which form."""
FROM_FILM = ("stencil", "decal")
"""Kinds that are cut from film, not from foam."""
MotifPoint = Annotated[tuple[Annotated[Number, Field(ge=0, le=3000)], ...], Field(min_length=2, max_length=2)]
"""x and y, mm. Not a pair by its type: the page's compiler ends at pairs so deep in a design."""


class MotifRing(Decision):
    """A closed line, mm; the last point joins the first."""

    points: Annotated[tuple[MotifPoint, ...], Field(min_length=3, max_length=4000)]


class Detail(Decision):
    """Something that goes on a piece. length: of a strip or an edge, mm. size: across, mm, of round things such as
    rivets. weight: of one, g, with what is carried in it; 0: as such things usually weigh.

    shape: how it lies along lines of the piece; its length and count are then worked out, whatever was typed. None: as
    the maker wrote. motif: closed lines of what is cut from film, y up: what lies within an odd number of them is open,
    or is the decal. panels: numbers of those it lies on. edge: the free edge it is fixed to, whose length it then has.
    flush: it lies in level with the foam, so the edge beneath is thinned. apart: of another colour, painted by itself.
    covers: it hides what closes the piece. of: the piece of this costume that is joined here, by its foot.
    """

    key: Key
    kind: DetailKind
    name: Annotated[str, Field(min_length=1, max_length=80), SEEN]
    count: Annotated[int, Field(ge=1, le=2000, strict=True)] = 1
    length: Annotated[Length, Field(ge=0, le=20000)] = 0.0
    size: Annotated[Length, Field(ge=0, le=1000)] = 0.0
    weight: Annotated[Number, Field(ge=0, le=20000)] = 0.0
    panels: Annotated[tuple[Annotated[int, Field(ge=1, le=400, strict=True)], ...], Field(max_length=60)] = ()
    edge: Annotated[str, Field(max_length=120)] = ""
    motif: Annotated[tuple[MotifRing, ...], Field(max_length=400)] = ()
    shape: PartShape | None = None
    flush: StrictBool = False
    apart: StrictBool = False
    covers: StrictBool = False
    of: Annotated[str, Field(max_length=120)] = ""

    @model_validator(mode="after")
    def _shaped_as_its_kind(self) -> "Detail":
        if self.shape is not None and self.kind not in SHAPED[self.shape.form]:
            known = " or ".join(SHAPED[self.shape.form])
            raise ValueError(f"A {self.shape.form} is a {known}, not a {self.kind}")
        if self.shape is not None and self.shape.form == "plate" and not self.motif and not self.of:
            raise ValueError("A plate needs its outline: give it a drawing")
        if isinstance(self.shape, Plate):
            if (self.kind == "gem") != (self.shape.opening == "seat"):
                raise ValueError("A seat is cut for a gem or a casting, and a gem needs its seat")
            stands = self.kind == "joined part"
            if stands != (self.shape.opening == "foot") or stands != bool(self.of):
                raise ValueError("A joined part stands on its foot, and is a piece of this costume by its name")
            if self.kind in FROM_FILM and self.shape.opening != "none":
                raise ValueError("What is cut from film has the openings that are drawn in it")
        return self


class SeamSurface(Decision):
    """How one seam or dart ends up, and what it is glued with, where that is not as the school has it."""

    name: Annotated[str, Field(min_length=1, max_length=120)]
    way: SeamWay | None = None
    glue: GlueName | None = None


class OwnOrder(Decision):
    """The maker's own rule: ``first`` before ``then``, both kinds or keys of steps."""

    first: StepKey
    then: StepKey

    @model_validator(mode="after")
    def _two(self) -> "OwnOrder":
        if self.first == self.then:
            raise ValueError("A step cannot come before itself")
        return self


class ReferenceCheck(Decision):
    """A detail of the reference that the piece has to match."""

    text: Annotated[str, Field(min_length=1, max_length=200), SEEN]


class Making(Decision):
    """All of it for one piece; what is not named is done as the build does it.

    schools: what this piece does otherwise. set_aside: soft order rules that the maker does not keep. finishes: stacks
    and their zones; empty: plain paint.
    """

    schools: dict[SchoolName, Annotated[str, Field(max_length=40)]] = Field(default_factory=dict)
    details: Annotated[tuple[Detail, ...], Field(max_length=120)] = ()
    seams: Annotated[tuple[SeamSurface, ...], Field(max_length=200)] = ()
    set_aside: Annotated[tuple[StepKey, ...], Field(max_length=60)] = ()
    own_order: Annotated[tuple[OwnOrder, ...], Field(max_length=60)] = ()
    checklist: Annotated[tuple[ReferenceCheck, ...], Field(max_length=60)] = ()
    finishes: Annotated[tuple[ZoneFinish, ...], Field(max_length=12)] = ()

    @model_validator(mode="after")
    def _sound(self) -> "Making":
        with_changes(Schools(), self.schools)
        for words, names in (("detail", [d.key for d in self.details]), ("seam", [s.name for s in self.seams])):
            twice = next((n for n in names if names.count(n) > 1), None)
            if twice is not None:
                raise ValueError(f'The {words} "{twice}" is there twice; change the one there is')
        zones = [z for f in self.finishes for z in f.zones]
        twice = next((z for z in zones if zones.count(z) > 1), None)
        if twice is not None:
            raise ValueError(f"Zone {twice} has two finishes; give it one")
        return self

    def detail_list(self, *kinds: DetailKind) -> tuple[Detail, ...]:
        """Its details of some kinds."""
        return tuple(d for d in self.details if d.kind in kinds)
