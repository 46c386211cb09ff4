"""What a maker decides about the foam of a piece: its layers, and how edges, folds and bends are worked."""

from collections.abc import Iterable
from typing import Annotated, Any, Literal

from pydantic import Field, model_validator

from vellumcut.core.body.readings import Decision
from vellumcut.core.design.sheet import Key
from vellumcut.core.units import Length, Number

FoamKind = Literal["armour", "soft", "mat"]
Face = Literal["inner", "outer"]
Role = Literal["base", "structure", "detail", "border"]
"""What a piece's foam has to do: follow the body, hold a shape, decorate, edge."""
Layered = Literal["bent", "alike"]
"""Two schools. Bent: each layer is cut to its own depth and glued on while it is bent; nothing is strained. Alike: all
are cut to the middle one, glued flat and curved together; right for gentle curves only, since the faces must give."""
BendWay = Literal["cold", "warm", "past", "kerf", "laminate"]
"""As it is; warm; warm and bent past the wanted curve; cut part through on the inside; two thin layers glued while
bent."""
EdgeShape = Literal["square", "rounded", "angled", "thinned"]
FoldWay = Literal["groove", "crease", "opened score", "late score", "set back", "drum"]
"""A wedge cut out and closed; folded by heat alone; half cut and opened by heat; cut after forming, left shut; a strip
cut out and set back deeper; a channel ground with a round drum."""
Walls = Literal["two sloping", "one upright"]

USUAL_KERF = 2.0
"""Width of a kerf, mm (est.): a blade twice along the line."""
Thickness = Annotated[Length, Field(ge=0.5, le=25)]
Angle = Annotated[Number, Field(ge=-150, le=150)]
EdgeName = Annotated[str, Field(min_length=1, max_length=120)]


class Layer(Decision):
    """One sheet of a stack."""

    thickness: Thickness
    kind: FoamKind = "armour"


class PanelWork(Decision):
    """One panel's own foam. layers: from the inner face out; empty takes the piece's. bend: the maker's way in place of
    the advised one. kerf_depth: of cuts that let it bend, mm; None: two thirds of the foam. kerf_width: of one cut, mm.
    """

    panel: Annotated[int, Field(ge=1, le=400, strict=True)]
    layers: Annotated[tuple[Layer, ...], Field(max_length=6)] = ()
    bend: BendWay | None = None
    kerf_depth: Annotated[Length, Field(gt=0, le=25)] | None = None
    kerf_width: Annotated[Length, Field(ge=0.5, le=10)] = USUAL_KERF

    @property
    def thickness(self) -> float:
        """Of all its own layers, mm."""
        return sum(x.thickness for x in self.layers)


class SeamWork(Decision):
    """A seam whose angle the maker gives, degrees, above zero a ridge: where no body tells it, or against it."""

    name: EdgeName
    fold: Angle


class EdgeWork(Decision):
    """How a free edge ends. angle: of an angled cut off square, degrees. face: the one that ends up shorter.
    width, left: how far in from the edge it is thinned and what is left of it there, mm."""

    name: EdgeName
    shape: EdgeShape = "rounded"
    angle: Annotated[Number, Field(ge=5, le=70)] = 45.0
    face: Face = "inner"
    width: Annotated[Length, Field(gt=0, le=60)] = 15.0
    left: Annotated[Length, Field(gt=0, le=25)] = 2.0


class FoldWork(Decision):
    """How a fold or score line is worked. key: of its stroke. angle: degrees, above zero a ridge; None: as the armour
    folds there. depth: mm; None: usual. overcut: how much wider than tight, mm, filled with hot glue.
    count, step: how many lines more run beside it, and their distance, mm. drum: its diameter, mm.
    width, gauge: of a strip that is set back, and of the sheet laid under its sides, mm.
    """

    key: Key
    way: FoldWay = "groove"
    angle: Angle | None = None
    depth: Annotated[Length, Field(gt=0, le=25)] | None = None
    walls: Walls = "two sloping"
    overcut: Annotated[Length, Field(ge=0, le=10)] = 0.0
    count: Annotated[int, Field(ge=0, le=20, strict=True)] = 0
    step: Annotated[Length, Field(ge=2, le=200)] = 15.0
    drum: Annotated[Length, Field(ge=2, le=60)] = 12.0
    width: Annotated[Length, Field(ge=1, le=60)] = 8.0
    gauge: Annotated[Length, Field(ge=0.5, le=12)] = 2.0


class Weave(Decision):
    """The pattern of a sheet with one textured face, kept over seams. pitch: from one row of it to the next, mm;
    beside: from column to column, mm; 0: as far. turn: the way it runs on its first panel, degrees to the left of
    upright. first: number of the panel it is laid on first."""

    pitch: Annotated[Length, Field(ge=1, le=500)]
    beside: Annotated[Length, Field(ge=0, le=500)] = 0.0
    turn: Annotated[Number, Field(ge=-180, le=180)] = 0.0
    first: Annotated[int, Field(ge=1, le=400, strict=True)] = 1

    @property
    def apart(self) -> float:
        """From column to column, mm."""
        return self.beside or self.pitch


class FoamWork(Decision):
    """All of it for one piece; what is not named is done as usual. weave: None where its sheet has no pattern."""

    seams: Annotated[tuple[SeamWork, ...], Field(max_length=200)] = ()
    edges: Annotated[tuple[EdgeWork, ...], Field(max_length=200)] = ()
    folds: Annotated[tuple[FoldWork, ...], Field(max_length=200)] = ()
    panels: Annotated[tuple[PanelWork, ...], Field(max_length=200)] = ()
    weave: Weave | None = None

    @model_validator(mode="after")
    def _each_once(self) -> "FoamWork":
        lists: tuple[Iterable[Any], ...] = (
            [x.name for x in self.seams], [x.name for x in self.edges], [x.key for x in self.folds],
            [x.panel for x in self.panels],
        )  # fmt: skip
        for named in lists:
            names = list(named)
            twice = next((n for n in names if names.count(n) > 1), None)
            if twice is not None:
                raise ValueError(f'"{twice}" is worked twice; give each seam, edge, fold and panel one row')
        return self

    def panel(self, number: int) -> PanelWork | None:
        """The row of a panel, if it has one."""
        return next((x for x in self.panels if x.panel == number), None)
