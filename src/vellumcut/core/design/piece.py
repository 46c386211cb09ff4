"""What a maker decides about one piece."""

from typing import Annotated, Literal

from pydantic import Field, StrictBool, model_validator

from vellumcut.core.body.readings import Decision
from vellumcut.core.design.flat import FlatWork
from vellumcut.core.design.foam import FoamKind, FoamWork, Layer, Layered, Role
from vellumcut.core.design.laps import Laps
from vellumcut.core.design.making import Making
from vellumcut.core.design.rig import RigDesign
from vellumcut.core.design.sheet import InkSheet, Key, Stroke
from vellumcut.core.design.solids import Solid
from vellumcut.core.units import Length

TemplateName = Literal[
    "bracer", "rerebrace", "greave", "cuisse", "breastplate", "backplate", "gorget", "pauldron", "shoulder extension",
    "segmented bracer", "segmented rerebrace", "faulds", "tasset", "poleyn", "ridged greave", "sabaton cap", "belt",
    "bandolier",
]  # fmt: skip
Closure = Literal["none", "lacing", "hook-and-loop", "buckles", "zip"]
Halves = Literal["usual", "alike", "as measured"]
"""usual: one half of a trunk turned over, limbs as each was measured. alike: one drawing, turned over.
as measured: both sides as the body is."""
PieceSide = Literal["left", "right", "both"]
MOST_FOAM = 25.0
"""All layers of a piece together, mm."""
DartEdges = Literal["square", "bevelled", "by fold"]
"""Two schools. Square: cut darts square and form the foam after closing; bevels only made puckers. Bevelled: everything
that meets at an angle, cups above all, for a tighter seam. By fold: square where the fold across the dart is under
about 20 degrees or the foam is 4 mm or less, bevelled above; the default, since each school is right there."""


class EndDesign(Decision):
    """One end of a limb piece. inset: from the end station into the piece, mm (negative reaches past it); None: usual.

    point: how far the tip stands out at the front centre, mm. flare: how far the rim stands off, mm.
    """

    shape: Literal["straight", "pointed"] = "straight"
    inset: Annotated[Length, Field(ge=-60, le=400)] | None = None
    point: Annotated[Length, Field(ge=0, le=120)] = 30.0
    flare: Annotated[Length, Field(ge=0, le=60)] = 0.0
    flare_length: Annotated[Length, Field(gt=0, le=200)] = 40.0

    @property
    def reach(self) -> float:
        """How far a pointed tip stands past the edge, mm."""
        return self.point if self.shape == "pointed" else 0.0


class PieceDesign(Decision):
    """A piece of armour. gap: opening at the back on the foam's middle layer, mm.

    ease: air between base layer and foam, mm; ease_at: what fitting has added (or taken) at a station, mm.
    padding: what is worn under it beyond the base layer, mm at a station, none at the others. over: names of pieces of
    the same part of the body that it lies over: it is patterned on their outer face. sizes, choices: the template's
    own, by name; what is not given has its usual value. ink: the piece's lines once the maker has drawn on them; None:
    as the template lays them. cuts: darts, splits and inserts added on the table, over whatever the ink is. One with
    the key of a dart that the template lays takes its place; without: keys of those that are not cut at all.
    true_seams: both sides of every seam, and both legs of every dart, are made equally long. halves: whether left and
    right are one drawing turned over, or drawn apart as the body is. layers: a stack in place of one sheet, from the
    inner face out; ``foam`` is then their sum, whatever was given. layered: see ``Layered``. role: what the foam has to
    do; None: the template's usual. flat: its panels, where they came flat, from a photograph or a file; the ink counts
    for nothing then. solid: what it is, where no cast gives it; its panels follow. laps: how its plates lie on each
    other. foam_work: how edges, folds and bends are worked. making: how it is put together and finished.
    """

    template: TemplateName
    side: PieceSide = "both"
    foam: Annotated[Length, Field(ge=0.5, le=MOST_FOAM)] = 6.0
    foam_kind: FoamKind = "armour"
    layers: Annotated[tuple[Layer, ...], Field(max_length=6)] = ()
    layered: Layered = "bent"
    role: Role | None = None
    base_layer: Annotated[Length, Field(ge=0, le=30)] = 1.5
    ease: Annotated[Length, Field(ge=0, le=60)] = 3.0
    ease_at: dict[str, Annotated[Length, Field(ge=-60, le=60)]] = Field(default_factory=dict)
    padding: dict[str, Annotated[Length, Field(ge=0, le=60)]] = Field(default_factory=dict)
    over: Annotated[tuple[Annotated[str, Field(min_length=1, max_length=120)], ...], Field(max_length=12)] = ()
    back: Literal["closed", "open"] = "open"
    closure: Closure = "none"
    gap: Annotated[Length, Field(ge=0, le=500)] | None = None
    lower: EndDesign = EndDesign()
    upper: EndDesign = EndDesign()
    drawn_face: Literal["outer", "inner"] = "outer"
    rig: RigDesign = RigDesign()
    sizes: Annotated[dict[str, Length], Field(max_length=20)] = Field(default_factory=dict)
    choices: Annotated[dict[str, str], Field(max_length=10)] = Field(default_factory=dict)
    ink: InkSheet | None = None
    cuts: Annotated[tuple[Stroke, ...], Field(max_length=60)] = ()
    without: Annotated[tuple[Key, ...], Field(max_length=60)] = ()
    true_seams: StrictBool = True
    halves: Halves = "usual"
    flat: FlatWork | None = None
    solid: Solid | None = None
    laps: Laps = Laps()
    foam_work: FoamWork = FoamWork()
    making: Making = Making()

    @property
    def came_flat(self) -> bool:
        """Whether its panels are not drawn on the body: they came flat, or are those of a solid."""
        return self.flat is not None or self.solid is not None

    @property
    def worn_as(self) -> TemplateName | None:
        """The template that it is worn as; None for a solid, which goes with one and hangs on something else."""
        return None if self.solid is not None else self.template

    @property
    def laid(self) -> FlatWork | None:
        """Its panels that came flat, where some of them were laid on the wearer."""
        return self.flat if self.flat is not None and self.flat.lies else None

    @model_validator(mode="after")
    def _one_or_the_other(self) -> "PieceDesign":
        if self.flat is not None and self.solid is not None:
            raise ValueError("A piece is a solid, or has panels that came flat: not both")
        return self

    @model_validator(mode="after")
    def _as_thick_as_its_layers(self) -> "PieceDesign":
        if self.layers:
            whole = sum(x.thickness for x in self.layers)
            if whole > MOST_FOAM:
                raise ValueError(f"The layers make {whole:g} mm; at most {MOST_FOAM:g} mm of foam can be patterned")
            object.__setattr__(self, "foam", whole)
        return self


USUAL_GAP: dict[Closure, float] = {"none": 40.0, "lacing": 20.0, "hook-and-loop": 12.0, "buckles": 15.0, "zip": 8.0}
"""Opening left for each closure, mm (est.): lacing draws in, a zip wants its teeth's width, bare straps a hand's
grip."""


def opening(design: PieceDesign) -> float:
    """Width of the opening at the back, mm. A closed back has none: its edges are glued face to face."""
    if design.back == "closed":
        return 0.0
    return USUAL_GAP[design.closure] if design.gap is None else design.gap
