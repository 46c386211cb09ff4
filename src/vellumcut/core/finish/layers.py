"""The kinds of layer a finish is built of: usual coats, waits, cover, how far they flex, and what they are made
with."""

from dataclasses import dataclass
from typing import Literal

from vellumcut.core.design.finish import FinishLayer, LayerName, Stack, Tool
from vellumcut.core.paces import Work

Family = Literal["rubber", "water", "lacquer", "enamel", "oil", "marker", "resin", "wax", "film", "none"]
"""What a layer is thinned with or made of: what bears with what goes by it."""
Group = Literal["prepare", "primer", "smooth", "colour", "metal", "weather", "clear"]
HOUR, DAY = 60.0, 1440.0


@dataclass(frozen=True)
class LayerKind:
    """coats: least and most, the first is usual. recoat, settle: minutes to the next coat and to the next kind.

    tape: minutes till tape may lie on it; None: never. wear: minutes till it may be worn. flex: 0 brittle, 1 gives a
    little, 2 gives like the foam. gloss: 0 matt, 1 satin, 2 gloss, 3 mirror. cover: m2 a litre and coat. colour: as it
    is drawn where the maker names none. tools: the first is usual. sand: it is sanded smooth before what follows.
    """

    key: LayerName
    word: str
    group: Group
    family: Family
    coats: tuple[int, int]
    recoat: float
    settle: float
    tape: float | None
    wear: float
    flex: int
    gloss: int
    cover: float
    tools: tuple[Tool, ...]
    colour: str
    sand: bool = False

    @property
    def brittle(self) -> bool:
        """Whether it cracks where foam bends."""
        return self.flex == 0


LAYERS: dict[LayerName, LayerKind] = {
    k.key: k
    for k in (
        LayerKind("scuff", "scuff with fine paper", "prepare", "none", (1, 1), 0, 0, 0, 0, 2, 0, 1e9, ("cloth",),
            "#B9B4A8"),
        LayerKind("rubbery primer", "rubbery spray primer", "primer", "rubber", (2, 3), 30, 4 * HOUR, 4 * HOUR, DAY, 2,
            0, 5, ("spray",), "#26282B"),
        LayerKind("flexible primer", "brush-on flexible primer", "primer", "water", (3, 4), 60, 4 * HOUR, 4 * HOUR,
            DAY, 2, 0, 6, ("brush", "airbrush"), "#C9C4B8"),
        LayerKind("hard sealer", "brushed hard sealer", "smooth", "resin", (4, 6), 60, 12 * HOUR, 12 * HOUR, DAY, 0, 1,
            8, ("brush",), "#D8D2C2", sand=True),
        LayerKind("resin", "brushed resin", "smooth", "resin", (1, 4), 6 * HOUR, DAY, DAY, DAY, 0, 2, 3, ("brush",),
            "#D9C79A", sand=True),
        LayerKind("filler primer", "filler primer", "smooth", "lacquer", (1, 2), 30, 2 * HOUR, 4 * HOUR, DAY, 1, 0, 5,
            ("spray",), "#8E8F8C", sand=True),
        LayerKind("gloss black", "gloss black", "colour", "lacquer", (2, 3), 15, DAY, DAY, DAY, 1, 2, 9,
            ("spray", "airbrush"), "#101214"),
        LayerKind("mirror chrome", "mirror chrome", "metal", "lacquer", (3, 3), 15, DAY, None, 2 * DAY, 1, 3, 12,
            ("spray", "airbrush"), "#C4CBD1"),
        LayerKind("metallic", "metallic colour", "metal", "lacquer", (2, 3), 30, HOUR, 12 * HOUR, DAY, 1, 2, 9,
            ("spray", "airbrush"), "#9AA0A6"),
        LayerKind("acrylic", "acrylic", "colour", "water", (2, 8), 20, HOUR, 12 * HOUR, DAY, 2, 1, 9,
            ("brush", "airbrush"), "#7A5C3E"),
        LayerKind("enamel", "enamel", "colour", "enamel", (2, 2), 6 * HOUR, DAY, DAY, 2 * DAY, 1, 2, 10,
            ("brush", "spray"), "#5B2E2A"),
        LayerKind("marker", "paint marker lines", "colour", "marker", (1, 2), 20, 2 * HOUR, 12 * HOUR, DAY, 1, 1, 20,
            ("brush",), "#1B1B1E"),
        LayerKind("acrylic wash", "dark wash, acrylic", "weather", "water", (1, 2), HOUR, HOUR, 12 * HOUR, DAY, 2, 0,
            20, ("cloth", "brush"), "#3A2E24"),
        LayerKind("oil wash with drier", "dark wash, oil with drier", "weather", "oil", (1, 2), DAY, DAY, DAY, 2 * DAY,
            2, 0, 20, ("cloth", "brush"), "#33281F"),
        LayerKind("oil wash", "dark wash, oil", "weather", "oil", (1, 2), 3 * DAY, 3 * DAY, 3 * DAY, 4 * DAY, 2, 0, 20,
            ("cloth", "brush"), "#2D241C"),
        LayerKind("stitches", "raised-paint stitches", "colour", "water", (1, 1), 0, DAY, DAY, DAY, 2, 0, 1e9,
            ("brush",), "#C9B28A"),
        LayerKind("wax metal", "wax metal", "weather", "wax", (1, 3), 10, HOUR, None, DAY, 1, 2, 30, ("cloth",),
            "#B08D45"),
        LayerKind("dry brush", "dry brush", "weather", "water", (1, 3), 10, HOUR, 12 * HOUR, DAY, 2, 0, 30, ("brush",),
            "#D4D0C6"),
        LayerKind("decal", "decals", "colour", "film", (1, 1), 0, HOUR, None, DAY, 1, 1, 1e9, ("cloth",), "#E4DCC8"),
        LayerKind("vinyl", "vinyl cover", "colour", "film", (1, 1), 0, DAY, HOUR, DAY, 2, 1, 1e9, ("cloth",),
            "#4A2B22"),
        LayerKind("satin clear", "satin clear", "clear", "water", (1, 2), 2 * HOUR, 4 * HOUR, DAY, DAY, 1, 1, 9,
            ("spray", "brush", "airbrush"), "#E8E4DA"),
        LayerKind("matt clear", "matt clear", "clear", "water", (1, 2), 2 * HOUR, 4 * HOUR, DAY, DAY, 1, 0, 9,
            ("spray", "brush", "airbrush"), "#DEDAD0"),
        LayerKind("gloss clear", "gloss clear", "clear", "lacquer", (1, 3), 2 * HOUR, 4 * HOUR, DAY, DAY, 1, 2, 9,
            ("spray", "airbrush"), "#F0EEE8"),
        LayerKind("flexible clear", "flexible clear", "clear", "water", (2, 3), 2 * HOUR, 4 * HOUR, DAY, DAY, 2, 1, 9,
            ("brush", "spray"), "#E8E4DA"),
        LayerKind("transparent colour", "transparent colour", "colour", "lacquer", (1, 3), 20, 4 * HOUR, DAY, DAY, 1, 2,
            12, ("airbrush", "spray", "brush"), "#8E2430"),
        LayerKind("hammered metal", "hammered metal", "metal", "lacquer", (1, 2), 30, 4 * HOUR, DAY, DAY, 1, 1, 6,
            ("spray", "brush"), "#5C6168"),
        LayerKind("shoe polish", "shoe polish", "weather", "wax", (1, 2), 20, 12 * HOUR, None, DAY, 2, 1, 40,
            ("cloth", "brush"), "#3B2718"),
        LayerKind("floor polish", "floor polish", "clear", "water", (2, 4), 30, 4 * HOUR, DAY, DAY, 2, 1, 12,
            ("brush", "airbrush"), "#E9E6DC"),
        LayerKind("fabric marker", "fabric marker", "colour", "marker", (1, 2), 10, HOUR, 12 * HOUR, DAY, 2, 0, 25,
            ("brush",), "#25232B"),
        LayerKind("paint pen", "paint pen lines", "colour", "water", (1, 2), 20, HOUR, 12 * HOUR, DAY, 1, 1, 25,
            ("brush",), "#A51E1E"),
    )
}  # fmt: skip
"""All figures are engineering estimates, replaced by what the tin says; minutes."""


@dataclass(frozen=True)
class PlacedCoat:
    """A layer with its usual figures filled in. at: which of its stack, from 1. tape_next: tape is laid on it for the
    layer that follows. minutes for recoat and settle."""

    at: int
    layer: FinishLayer
    kind: LayerKind
    tape_next: bool = False

    @property
    def coats(self) -> int:
        return self.layer.coats or self.kind.coats[0]

    @property
    def recoat(self) -> float:
        return self.kind.recoat if self.layer.recoat is None else self.layer.recoat

    @property
    def settle(self) -> float:
        """Minutes before anything else may follow; before tape may lie on it, where that is next."""
        if self.layer.before_next is not None:
            return self.layer.before_next
        return max(self.kind.settle, self.kind.tape or 0.0) if self.tape_next else self.kind.settle

    @property
    def tool(self) -> Tool:
        return self.layer.tool or self.kind.tools[0]

    @property
    def sprayed(self) -> bool:
        return self.tool in ("spray", "airbrush")

    @property
    def work(self) -> Work:
        """The pace that a coat of it is told by."""
        return "spray" if self.sprayed else "coat"

    @property
    def faces(self) -> int:
        return 2 if self.layer.faces == "both" else 1

    @property
    def outside(self) -> bool:
        return self.layer.faces != "inside"

    @property
    def word(self) -> str:
        return f"{self.kind.word} “{self.layer.name}”" if self.layer.name else self.kind.word

    @property
    def colour(self) -> str:
        return self.layer.colour or self.kind.colour


def coats_of(stack: Stack) -> tuple[PlacedCoat, ...]:
    """All layers of a stack from the foam out."""
    taped = ([x.taped for x in stack.layers[1:]] + [False])[: len(stack.layers)]
    return tuple(
        PlacedCoat(n, layer, LAYERS[layer.kind], tape)
        for n, (layer, tape) in enumerate(zip(stack.layers, taped, strict=True), 1)
    )
