"""Stacks to start from, and what weathering is done where and when to stop."""

from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import Field

from vellumcut.core.body.readings import Decision
from vellumcut.core.design.finish import FinishLayer, Stack, Weathering, ZoneFinish
from vellumcut.core.design.making import Making, Schools
from vellumcut.core.finish.layers import LAYERS

L = FinishLayer


@dataclass(frozen=True)
class Recipe:
    """key: its name on the screen. what: when to take it. rigid: the stack where nothing bends; giving: where it
    does."""

    key: str
    what: str
    rigid: Stack
    giving: Stack


def _both(key: str, what: str, layers: tuple[FinishLayer, ...], weathering: tuple[Weathering, ...] = ()) -> Recipe:
    stack = Stack(name=key, layers=layers, weathering=weathering)
    return Recipe(key, what, stack, stack)


PRIME = L(kind="flexible primer", faces="both")
CLEAR = L(kind="flexible clear")
PLAIN = Stack(name="plain colour", layers=(PRIME, L(kind="acrylic", name="base colour", faces="both"), CLEAR))
"""What a piece gets that nobody has decided about."""


BARE = ZoneFinish(stack=Stack(name="vinyl, as it is"))
"""Of a piece that is covered all over: vinyl is not primed, and has its colour."""


def plain_finish(making: Making, schools: Schools) -> ZoneFinish:
    """The finish of a piece that nobody has decided about: primer as the build does it, one colour, flexible clear;
    none where vinyl covers it all."""
    if any(not d.panels for d in making.detail_list("vinyl cover")):
        return BARE
    if schools.primer == "brushed":
        return ZoneFinish(stack=PLAIN)
    first = L(kind="rubbery primer", faces="both")
    return ZoneFinish(stack=PLAIN.model_copy(update={"layers": (first, *PLAIN.layers[1:])}))


RECIPES: tuple[Recipe, ...] = (
    Recipe("plain colour", "One colour that gives with the foam.", PLAIN, PLAIN),
    _both(
        "painted metal",
        "Metallic over black, darkened in its grooves; bears a clear.",
        (
            L(kind="rubbery primer", faces="both"),
            L(kind="metallic", name="steel", colour="#8E959B"),
            L(kind="acrylic wash"),
            L(kind="dry brush", name="bright steel", colour="#C9CFD4"),
            L(kind="satin clear", coats=2),
        ),
        ("dark edges", "wash in grooves"),
    ),
    Recipe(
        "mirror metal",
        "Chrome that you see yourself in: weeks of sanding, and no clear.",
        Stack(
            name="mirror metal",
            layers=(
                L(kind="hard sealer", coats=5),
                L(kind="filler primer"),
                L(kind="gloss black", coats=3),
                L(kind="mirror chrome"),
            ),
        ),
        Stack(
            name="mirror metal",
            layers=(
                PRIME,
                L(kind="filler primer"),
                L(kind="gloss black", coats=2),
                L(kind="mirror chrome"),
            ),
        ),
    ),
    _both(
        "warm gold",
        "Gold on a warm brown: even and flat.",
        (
            PRIME,
            L(kind="acrylic", name="warm brown", colour="#6B4423", faces="both"),
            L(kind="metallic", name="gold", colour="#B88A2E"),
            L(kind="acrylic wash"),
            L(kind="satin clear", coats=2),
        ),
        ("wash in grooves",),
    ),
    _both(
        "dark gold",
        "Gold on black, dusted from above: the shadow stays below.",
        (
            L(kind="rubbery primer", faces="both"),
            L(kind="gloss black"),
            L(kind="metallic", name="gold", colour="#A67C28", tool="airbrush"),
            L(kind="gloss clear", coats=2),
        ),
    ),
    _both(
        "leather look",
        "Browns over each other, stitches, dark wash, worn edges.",
        (
            PRIME,
            L(kind="acrylic", name="dark brown", colour="#3E2A1C", faces="both"),
            L(kind="acrylic", name="brown, stippled", colour="#6A452A"),
            L(kind="stitches"),
            L(kind="acrylic wash"),
            L(kind="dry brush", name="tan", colour="#B08A5E"),
            CLEAR,
        ),
        ("dark edges", "dry brush"),
    ),
    _both(
        "worn iron",
        "Dark metal with rust at its edges and bare points.",
        (
            L(kind="rubbery primer", faces="both"),
            L(kind="metallic", name="iron", colour="#5E6166"),
            L(kind="acrylic wash", name="red-brown", colour="#5A2E1B"),
            L(kind="dry brush", name="steel", colour="#A7ADB2"),
            L(kind="matt clear", coats=2),
        ),
        ("rust", "chips"),
    ),
    Recipe(
        "vinyl cover",
        "Stretch vinyl laid over and round the edges.",
        *(Stack(name="vinyl cover", layers=(L(kind="vinyl"), L(kind="stitches"))) for _ in range(2)),
    ),
)


class RecipeBook(Decision):
    """A maker's own recipes, as a file to give to a friend."""

    format: Literal["vellumcut-recipes"] = "vellumcut-recipes"
    version: Literal[1] = 1
    stacks: Annotated[tuple[Stack, ...], Field(max_length=200)] = ()


@dataclass(frozen=True)
class WeatheringRecipe:
    """Where it goes, how, and when to stop."""

    key: Weathering
    word: str
    place: str
    how: str
    stop: str


LOOK = "Look from three steps away"
WEATHERINGS: dict[Weathering, WeatheringRecipe] = {
    w.key: w
    for w in (
        WeatheringRecipe("dark edges", "darkened edges", "along every edge and step",
            "Dark brown or black, thinned, drawn along the edge and pulled in with a dry brush.",
                f"Stop while the middle is still clean. {LOOK}: if the outline reads, it is enough."),
        WeatheringRecipe("wash in grooves", "dark wash in grooves", "in grooves, round rivets and under trims",
            "One small section at a time: lay it on wet, wait a minute, wipe off across the groove.",
                f"Stop before it turns to mud. {LOOK}."),
        WeatheringRecipe("dry brush", "dry brush on edges", "on raised edges only",
            "Wipe the brush nearly clean, then flick it across the edge.",
                "Stop when the flat parts begin to take colour."),
        WeatheringRecipe("overlap soot", "matt black on overlaps", "where one plate slides under another",
            "Matt black dusted on to what lies beneath, before the plate goes on.",
                "Stop at the line that the upper plate reaches."),
        WeatheringRecipe("rust", "red-brown at edges and points",
            "at lower edges, rivets and points where water stands",
                "Red-brown stippled with a sponge, an orange point in its middle.",
                    f"Stop at a tenth of the face. {LOOK}."),
        WeatheringRecipe("wax points", "wax on high points", "on high points only",
            "Metal wax on a fingertip, rubbed out to nothing.",
                "Stop after the points: it comes last of all, nothing holds on it."),
        WeatheringRecipe("chips", "chips", "at corners and where things knock",
            "Dark blotches with a torn sponge, nearly covered with metal.",
                f"Stop at three sizes and no rows. {LOOK}."),
    )
}  # fmt: skip


def scraps_to_prepare(stacks: list[Stack]) -> list[str]:
    """Which scraps to prepare before any of it goes on the piece: one for each stack, and one for each risky pair."""
    out = []
    for stack in {s.name: s for s in stacks}.values():
        names = ", ".join(f"{n} {LAYERS[x.kind].word}" for n, x in enumerate(stack.layers, 1))
        out.append(f"{stack.name}: a scrap of the same foam, 10 x 15 cm, prepared as the piece is; in strips {names}.")
        if any(x.taped for x in stack.layers):
            out.append(f"{stack.name}: tape a second scrap at its tape time and pull it off.")
        if any(x.kind == "mirror chrome" for x in stack.layers):
            out.append(f"{stack.name}: a spoon or curved scrap in gloss black, to learn how thin the mist coats are.")
    return out
