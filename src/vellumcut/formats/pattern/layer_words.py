"""What the name of a layer says of its lines, whoever named it."""

import re
from collections.abc import Iterable
from typing import Literal

from vellumcut.core.design.flat import FlatKind
from vellumcut.core.errors import CraftError

Meaning = FlatKind | Literal["cut", "hole", "words", "out", ""]
"""cut: bounds a panel. hole: is cut out of one. words: holds words only. out: is no part of the pattern. "": the name
says nothing."""
Answer = Literal["panels", "holes", "marks", "folds", "out"]
"""What a maker may say of a layer."""
ANSWERED: dict[Answer, Meaning] = {
    "panels": "cut", "holes": "hole", "marks": "mark", "folds": "fold", "out": "out"
}  # fmt: skip

OWN: dict[str, Meaning] = {
    "cut": "cut", "fold": "fold", "score": "score", "trim edge": "trim edge", "layer cut": "layer cut",
    "paint line": "paint line", "centre line": "centre line", "seam marks": "mark", "mark": "mark", "label": "words",
}  # fmt: skip
"""Layers of our own files."""
_TOLD: tuple[tuple[str, Meaning], ...] = (
    (r"frames?|borders?|title ?block|guides?|guide ?lines?|construction|defpoints|dim(ension)?s?|grid|hatch(es|ing)?"
     r"|background|view ?ports?|images?|pictures?", "out"),
    (r"holes?|drill(s|ing)?|punch(es)?|cut ?outs?|(inner|inside|internal) cuts?", "hole"),
    (r"labels?|texts?|annotations?|notes?|words|lettering", "words"),
    (r"folds?|fold ?lines?|creases?|valley|mountain|bends?|bend ?lines?", "fold"),
    (r"scores?|score ?lines?|scoring|grooves?", "score"),
    (r"(centre|center) ?lines?|cent(re|er)|axis|grain|grain ?lines?", "centre line"),
    (r"marks?|notch(es)?|ticks?|engrav(e|ing)|registration|alignment|drawn?|pen", "mark"),
    (r"cuts?|cutting|cut ?lines?|cutting ?lines?|outlines?|contours?|panels?|patterns?|profiles?|perimeters?", "cut"),
)  # fmt: skip
_NOTHING = re.compile(
    r"|0|g|svg|group|layers?|default|(g|group|path|use|rect|polygon|polyline|circle|cls|st|s)[ _-]?[0-9]+"
    r"|.*(?=[0-9a-f]*[0-9])[0-9a-f]{6,}.*"
)
"""Names that programs give by themselves to what nobody put apart. A second layer was: its number is a name."""


def said_layers(lines: Iterable[str]) -> tuple[tuple[str, Answer], ...]:
    """What a maker says of layers, "name=panels" each. Raises CraftError."""
    out: list[tuple[str, Answer]] = []
    for line in filter(None, (line.strip() for line in lines)):
        name, _, said = line.rpartition("=")
        if said not in ANSWERED or not name:
            known = ", ".join(ANSWERED)
            raise CraftError(f"Say of each layer what it holds, as in “Vents=holes”: {known}", "layers")
        out.append((name, said))
    return tuple(out)


def plain(name: str) -> str:
    """A layer's name as it is compared: its case, and what stands between its words, tell nothing."""
    return " ".join(re.sub(r"[_\-.:/]+", " ", name).casefold().split())


def meaning(name: str) -> Meaning | None:
    """None: it is a name, and none that is known."""
    own = plain(name)
    if own in OWN:
        return OWN[own]
    if _NOTHING.fullmatch(own):
        return ""
    said = re.sub(r"[ ]?[0-9]+$", "", own)
    found = [what for words, what in _TOLD if re.search(rf"\b({words})\b", said)]
    # "Cut guides" may be either: it is asked after.
    return None if not found or (found[0] == "out" and len(found) > 1) else found[0]
